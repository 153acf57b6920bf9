#include "app/sheet/part/pieces_editor.h"
#include "app/controls/controls.h"
#include "app/sheet/part/shape_values.h"
#include "model/document/part_item.h"
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

std::vector<ShownValue> placeOf(const Piece& p) {
    return {
        {ValueKind::Point, "at", "Piece at", "Where the piece's own origin is, in the part's axes", p.at},
        {ValueKind::Turn, "turn", "Turned about", "Turned about the part's x, then y, then z", p.turn},
        {ValueKind::Number, "size", "Piece size", "Factor on this piece alone", Vec3(p.size, 0, 0)},
        {ValueKind::Flag, "mirrored", "Mirrored", "Left and right changed over (y)", Vec3(p.mirrored ? 1 : 0, 0, 0)}};
}

} // namespace

PiecesEditor::PiecesEditor(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_list = new QListWidget;
    m_list->setObjectName(name + ".list");
    m_list->setAccessibleName(tr("Pieces of the part"));
    m_list->setToolTip(tr("The rigid pieces that move as one; double-click renames"));
    setRowHeight(m_list);
    m_list->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    box->addWidget(m_list);
    auto* row = new QHBoxLayout;
    auto* add = new QPushButton(tr("Add a piece\u2026"));
    add->setObjectName(name + ".add");
    add->setToolTip(tr("A second piece that moves with the part: made here, from a file, or another part"));
    m_remove = new QPushButton(tr("Remove"));
    m_remove->setObjectName(name + ".remove");
    m_remove->setToolTip(tr("Take the selected piece out"));
    row->addWidget(add);
    row->addWidget(m_remove);
    row->addStretch();
    box->addLayout(row);
    m_uses = new QComboBox;
    m_uses->setObjectName(name + ".uses");
    m_uses->setToolTip(tr("The part this piece is, and follows"));
    m_usesRow = labelled(tr("Piece is"), m_uses);
    box->addWidget(m_usesRow);
    m_values = new ValueRows(store, name);
    m_place = new ValueRows(store, name);
    box->addWidget(m_values);
    box->addWidget(m_place);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setObjectName(name + ".error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    connect(add, &QPushButton::clicked, this, &PiecesEditor::pieceWanted);
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const int k = m_list->currentRow();
        if (!m_part || k < 0) return;
        m_store.change<PartItem>(m_part->item->id, tr("Remove a piece"), {}, [&](PartItem& p) {
            auto& list = std::get<Pieces>(p.shape).list;
            if (list.size() > 1) list.erase(list.begin() + k);
        });
    });
    connect(m_list, &QListWidget::currentRowChanged, this, [this] {
        if (!m_filling) refreshPiece();
    });
    connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (m_filling) return;
        const std::string text = item->text().trimmed().toStdString();
        m_list->setCurrentItem(item);
        change(tr("Rename a piece"), {}, [&](Piece& p) { p.name = text; });
    });
    connect(m_uses, &QComboBox::activated, this, [this](int k) {
        const Id id = m_uses->itemData(k).toInt();
        change(tr("Piece is %1").arg(m_uses->itemText(k)), {}, [&](Piece& p) { p.shape = PartUse{id}; });
    });
    const auto merge = [this](const std::string& key, bool live) {
        return live ? QString("piece %1 %2 %3").arg(m_part->item->id).arg(m_list->currentRow()).arg(key.c_str())
                    : QString();
    };
    connect(m_place, &ValueRows::changed, this,
            [this, merge](const QString& label, const std::string& key, double v, int axis, bool live) {
                change(label, merge(key, live), [&](Piece& p) {
                    if (key == "at") p.at[axis] = v;
                    if (key == "turn") p.turn[axis] = v;
                    if (key == "size") p.size = v;
                    if (key == "mirrored") p.mirrored = v != 0;
                });
            });
    connect(m_values, &ValueRows::changed, this,
            [this, merge](const QString& label, const std::string& key, double v, int, bool live) {
                change(label, merge(key, live), [&](Piece& p) { setValueOfShape(p.shape, key, v); });
            });
}

const Piece* PiecesEditor::current() const {
    const auto* pieces = m_part ? std::get_if<Pieces>(&m_part->item->shape) : nullptr;
    const int k = m_list->currentRow();
    return pieces && k >= 0 && k < int(pieces->list.size()) ? &pieces->list[size_t(k)] : nullptr;
}

void PiecesEditor::change(const QString& step, const QString& merge, const std::function<void(Piece&)>& how) {
    const int k = m_list->currentRow();
    if (!current()) return;
    m_store.change<PartItem>(m_part->item->id, step, merge,
                             [&](PartItem& p) { how(std::get<Pieces>(p.shape).list[size_t(k)]); });
}

void PiecesEditor::show(const std::shared_ptr<const PartResult>& part) {
    m_part = part;
    const auto* pieces = part ? std::get_if<Pieces>(&part->item->shape) : nullptr;
    for (QWidget* w : std::initializer_list<QWidget*>{m_list, m_remove}) w->setVisible(pieces != nullptr);
    m_filling = true;
    const int keep = part && m_shown == part->item->id ? m_list->currentRow() : 0;
    const int before = m_list->count();
    if (!pieces) m_list->clear();
    if (pieces) {
        m_list->clear();
        for (size_t i = 0; i < pieces->list.size(); ++i) {
            const Piece& p = pieces->list[i];
            auto* item = new QListWidgetItem(p.name.empty() ? tr("Piece %1").arg(i + 1) : QString(p.name.c_str()));
            item->setFlags(item->flags() | Qt::ItemIsEditable);
            m_list->addItem(item);
        }
        const bool added = m_shown == part->item->id && m_list->count() > before;
        m_list->setCurrentRow(added ? m_list->count() - 1 : std::clamp(keep, 0, m_list->count() - 1));
        m_list->setFixedHeight(std::min(m_list->count(), 5) * 24 + 8);
        m_remove->setEnabled(pieces->list.size() > 1);
    }
    m_shown = part ? part->item->id : 0;
    m_filling = false;
    refreshPiece();
}

void PiecesEditor::refreshPiece() {
    const Piece* p = current();
    m_usesRow->setVisible(p && std::holds_alternative<PartUse>(p->shape));
    m_error->hide();
    const QString of = p ? QString("%1 %2 %3").arg(m_shown).arg(m_list->currentRow()).arg(p->shape.index()) : QString();
    std::optional<Problem> problem = m_part ? m_part->problem : std::nullopt;
    const std::string prefix = "piece " + std::to_string(m_list->currentRow() + 1) + ".";
    const bool mine = problem && problem->field.starts_with(prefix);
    const bool other = problem && !mine && problem->field.starts_with("piece");
    if (mine) problem->field = problem->field.substr(prefix.size());
    m_place->show(of, p ? placeOf(*p) : std::vector<ShownValue>{}, mine ? problem : std::nullopt);
    m_values->show(of, p ? valuesOfShape(p->shape) : std::vector<ShownValue>{}, mine ? problem : std::nullopt);
    if (p && (other || (mine && !m_place->has(problem->field) && !m_values->has(problem->field)))) {
        m_error->setText(m_store.say(problem->text));
        m_error->show();
    }
    const auto* use = p ? std::get_if<PartUse>(&p->shape) : nullptr;
    if (!use) return;
    const Document& d = m_store.document();
    m_uses->clear();
    for (const auto& q : d.parts) // never one that is made from this one
        if (!follows(d, q->id, m_part->item->id)) m_uses->addItem(q->name.c_str(), q->id);
    int at = m_uses->findData(use->part);
    if (at < 0) {
        const auto q = d.part(use->part);
        m_uses->insertItem(at = 0, q ? QString(q->name.c_str()) : tr("(deleted)"), use->part);
    }
    m_uses->setCurrentIndex(at);
}

} // namespace vicinal
