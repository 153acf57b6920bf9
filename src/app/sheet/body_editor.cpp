#include "app/sheet/body_editor.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/controls/value_rows.h"
#include "app/sheet/body_lists.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "model/evaluate/bodies/site.h"
#include "parts/makers/maker.h"
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {
namespace {

using value_rows::valuesOf;

/// What its fields show: the values of whatever it is made of.
std::vector<ShownValue> shapeValues(const BodyShape& shape) {
    return std::visit([](const auto& s) { return valuesOf(s); }, shape);
}

void setShapeValue(BodyShape& shape, const std::string& key, double v, int axis) {
    std::visit([&](auto& s) { value_rows::setValue(s, key, v, axis); }, shape);
}

} // namespace

BodyEditor::BodyEditor(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    const auto label = [&](const char* role, const char* name) {
        auto* l = new QLabel;
        l->setProperty("role", role);
        l->setObjectName(name);
        l->setWordWrap(true);
        box->addWidget(l);
        return l;
    };
    m_facts = label("muted", "body.facts");
    m_remarks = label("muted", "body.remarks");
    const auto rows = [&](const QString& name, auto&& set) {
        auto* r = new ValueRows(store, name);
        box->addWidget(r);
        connect(r, &ValueRows::changed, this,
                [this, name, set](const QString& text, const std::string& key, double v, int axis, bool live) {
                    change(text, live ? QString("%1 %2 %3").arg(name, key.c_str()).arg(axis) : QString(),
                           [&](BodyItem& b) { set(b, key, v, axis); });
                });
        return r;
    };
    m_shape = rows("body.shape", [](BodyItem& b, const std::string& key, double v, int axis) {
        setShapeValue(b.shape, key, v, axis);
    });
    m_error = label("error", "body.error");
    m_lists = new BodyLists(store);
    box->addWidget(m_lists);
    m_place = rows(
        "body", [](BodyItem& b, const std::string& key, double v, int axis) { value_rows::setValue(b, key, v, axis); });
    m_colour = new QComboBox;
    m_colour->setObjectName("body.colour");
    m_colour->setToolTip(tr("Bodies keep a quiet tone of it"));
    for (int k = 0; k < theme::kRunColours; ++k) {
        QPixmap dot(14, 14);
        dot.fill(theme::run(k));
        m_colour->addItem(QIcon(dot), tr("Colour %1").arg(k + 1));
    }
    box->addWidget(labelled(tr("Colour"), m_colour));
    connect(m_colour, &QComboBox::activated, this,
            [this](int k) { change(tr("Colour"), {}, [&](BodyItem& b) { b.colour = k; }); });
    m_locked = new QCheckBox(tr("Locked: it stays as it is"));
    m_locked->setObjectName("body.locked");
    m_locked->setToolTip(tr("It cannot be moved, changed or deleted until it is unlocked"));
    box->addWidget(m_locked);
    connect(m_locked, &QCheckBox::clicked, this, [this](bool on) {
        if (m_body)
            m_store.edit(withLocked(m_store.document(), {m_body->item->id}, on),
                         (on ? tr("Lock %1") : tr("Unlock %1")).arg(m_body->item->name.c_str()));
    });
    m_measures = label("muted", "body.measures");
    buildButtons(box);
    m_later = new QTimer(this); // exact measures of a solid take longer than a frame
    m_later->setSingleShot(true);
    m_later->setInterval(150);
    connect(m_later, &QTimer::timeout, this, &BodyEditor::measure);
}

void BodyEditor::buildButtons(QVBoxLayout* box) {
    auto* buttons = new QHBoxLayout;
    m_edge = new QPushButton(tr("Path along an edge"));
    m_edge->setObjectName("body.edge");
    m_edge->setToolTip(tr("Click near an edge of the body: the path follows it wherever the body goes"));
    connect(m_edge, &QPushButton::clicked, this, &BodyEditor::edgeWanted);
    m_lay = new QPushButton(tr("Lay a path on it"));
    m_lay->setObjectName("body.lay");
    m_lay->setToolTip(tr("A new path: the chosen one, dropped onto the body; it follows both"));
    m_paths = new QMenu(m_lay);
    m_paths->setObjectName("body.lay.paths");
    m_lay->setMenu(m_paths);
    connect(m_paths, &QMenu::aboutToShow, this, [this] {
        m_paths->clear();
        for (const auto& p : m_store.document().paths)
            if (!m_body || !follows(m_store.document(), p->id, m_body->item->id))
                m_paths->addAction(p->name.c_str(), this, [this, id = p->id] { emit layWanted(id); });
        if (m_paths->isEmpty()) m_paths->addAction(tr("(no path that could)"))->setEnabled(false);
    });
    m_cut = new QPushButton(tr("Cut it by"));
    m_cut->setObjectName("body.cut");
    m_cut->setToolTip(
        tr("A new body: this one with the parts of a run cut out of it, or raised on it; it follows both"));
    m_runs = new QMenu(m_cut);
    m_runs->setObjectName("body.cut.runs");
    m_cut->setMenu(m_runs);
    connect(m_runs, &QMenu::aboutToShow, this, [this] {
        m_runs->clear();
        for (const bool raise : {false, true}) {
            if (raise) m_runs->addSeparator();
            for (const auto& r : m_store.document().runs)
                if (!m_body || !follows(m_store.document(), m_body->item->id, r->id))
                    m_runs->addAction(raise ? tr("Raise %1 on it").arg(r->name.c_str()) : QString(r->name.c_str()),
                                      this, [this, id = r->id, raise] { emit cutWanted(id, raise); });
        }
        if (m_store.document().runs.empty()) m_runs->addAction(tr("(no run that could)"))->setEnabled(false);
    });
    buttons->addWidget(m_edge);
    buttons->addWidget(m_lay);
    buttons->addStretch();
    box->addLayout(buttons);
    auto* more = new QHBoxLayout;
    more->addWidget(m_cut);
    more->addStretch();
    box->addLayout(more);
}

void BodyEditor::change(const QString& label, const QString& merge, const std::function<void(BodyItem&)>& how) {
    if (m_body) m_store.change<BodyItem>(m_body->item->id, label, merge, how);
}

QString BodyEditor::facts(const BodyResult& body) const {
    const BodyShape& shape = body.item->shape;
    QString out;
    const auto path = [&] {
        return body.path ? QString(body.path->item->name.c_str()) : tr("a path that was deleted");
    };
    if (std::holds_alternative<Maker>(shape))
        out = tr("Made here: %1, an exact solid").arg(kindOf(shape).c_str());
    else if (const auto* b = std::get_if<Brought>(&shape))
        out = (body.body && body.body->solid ? tr("Exact solid from %1") : tr("Mesh from %1")).arg(b->source.c_str());
    else if (const auto* f = std::get_if<FlatOutline>(&shape))
        out = tr("Outline from %1").arg(f->source.c_str());
    else if (std::holds_alternative<PlateOf>(shape))
        out = tr("A plate that follows %1").arg(path());
    else if (std::holds_alternative<WallAlong>(shape))
        out = tr("A wall that follows %1").arg(path());
    else if (const auto* l = std::get_if<Levels>(&shape))
        out = tr("Ground from %1: %n level(s)", nullptr, l->data ? int(l->data->points.size()) : 0)
                  .arg(l->source.empty() ? tr("levels") : QString(l->source.c_str()));
    else if (std::holds_alternative<RailAlong>(shape))
        out = body.run    ? tr("Rails of the run %1, and follow it").arg(body.run->item->name.c_str())
              : body.path ? tr("Rails along %1").arg(path())
                          : tr("Rails of a run that was deleted");
    else if (std::holds_alternative<CutBy>(shape))
        out = (std::get<CutBy>(shape).does == CutDoes::Raise ? tr("%1 with %2 raised on it; it follows both")
                                                             : tr("%1, cut by %2; it follows both"))
                  .arg(body.of     ? QString(body.of->item->name.c_str())
                       : body.part ? QString(body.part->item->name.c_str())
                                   : tr("a body that was deleted"),
                       body.run ? QString(body.run->item->name.c_str()) : tr("a run that was deleted")) +
              (body.deferred ? tr("\nBeing cut; until then it is shown as it was") : QString());
    else if (std::holds_alternative<MadeGround>(shape))
        out = tr("Ground made here");
    else if (std::holds_alternative<PartUse>(shape))
        out = body.part ? tr("As the part %1, and follows it").arg(body.part->item->name.c_str())
                        : tr("Taken from a part that was deleted");
    else // a kind without a sentence of its own
        out = body.path ? tr("Made as %1 and follows %2").arg(kindOf(shape).c_str(), path())
                        : tr("Made as %1").arg(kindOf(shape).c_str());
    if (body.body && !body.body->solid)
        out += "\n" + tr("%n triangle(s)", nullptr, int(body.body->mesh->triangles.size()));
    return out;
}

void BodyEditor::show(const std::shared_ptr<const BodyResult>& body) {
    const bool another = !body || !m_body || m_body->item->id != body->item->id;
    m_body = body;
    if (!body) return;
    const BodyItem& item = *body->item;
    m_facts->setText(facts(*body));
    QStringList remarks;
    for (const Words& r : body->remarks) remarks += QString::fromUtf8("\u25b2 ") + m_store.say(r);
    if (body->body)
        for (const auto& r : body->body->report.remarks()) remarks += QString::fromUtf8("\u25b2 ") + r.c_str();
    m_remarks->setText(remarks.join('\n'));
    m_remarks->setVisible(!remarks.isEmpty());
    m_shape->show(QString::number(item.id) + kindOf(item.shape).c_str(), shapeValues(item.shape), body->problem);
    m_place->show("body", valuesOf(item), body->problem);
    if (auto* density = m_place->findChild<ValueField*>("field.body.density"))
        density->setSuffix(QString::fromUtf8("kg/m\u00b3"));
    const bool elsewhere = body->problem && !m_shape->has(body->problem->field) && !m_place->has(body->problem->field);
    m_error->setText(elsewhere ? m_store.say(body->problem->text) : QString());
    m_error->setVisible(elsewhere);
    m_colour->setCurrentIndex(((item.colour % theme::kRunColours) + theme::kRunColours) % theme::kRunColours);
    m_locked->setChecked(item.locked);
    for (QWidget* w : std::initializer_list<QWidget*>{m_shape, m_place, m_colour}) w->setEnabled(!item.locked);
    m_edge->setEnabled(body->body != nullptr);
    m_lay->setEnabled(body->body != nullptr);
    m_cut->setEnabled(body->body != nullptr);
    m_lists->show(*body);
    if (another) m_measures->clear();
    m_later->start();
}

void BodyEditor::showEvent(QShowEvent*) { m_later->start(); }

void BodyEditor::measure() {
    if (!isVisible()) return;
    if (!m_body || !m_body->body || m_body->problem) return m_measures->clear();
    const Unit unit = m_store.document().unit;
    const Box3& box = m_body->body->mesh->box;
    const Vec3 s = box.sizes();
    QStringList lines{
        tr("%1 long, %2 wide, %3 high in its own axes")
            .arg(lengthText(s.x(), unit, false), lengthText(s.y(), unit, false), lengthText(s.z(), unit))};
    if (const auto volume = enclosedVolume(*m_body, true)) {
        QString text = volumeText(*volume);
        if (const double kg = mass(*volume, m_body->item->density); kg > 0)
            text += tr(", mass %1 kg").arg(QString::number(kg, 'g', 5));
        lines +=
            text + (m_body->body->prism || (m_body->body->solid && !m_body->body->slow) ? tr(" (exact)")
                                                                                        : tr(" (of the triangles)"));
    } else {
        lines += tr("It encloses no volume: a sheet, or a mesh with open edges.");
    }
    m_measures->setText(lines.join('\n'));
}

} // namespace vicinal
