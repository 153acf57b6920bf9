#include "app/sheet/part/part_editor.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/value_field.h"
#include "app/sheet/part/pieces_editor.h"
#include "app/sheet/part/seat_fields.h"
#include "app/sheet/part/shape_values.h"
#include "base/ranges.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/evaluate/weights.h"
#include "parts/makers/maker.h"
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {

PartEditor::PartEditor(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName(name);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    const auto label = [&](const char* role, const QString& object) {
        auto* l = new QLabel;
        l->setProperty("role", role);
        l->setObjectName(object);
        l->setWordWrap(true);
        box->addWidget(l);
        return l;
    };
    m_facts = label("muted", name + ".facts");
    m_remarks = label("muted", name + ".remarks");
    m_rows = new ValueRows(store, name);
    box->addWidget(m_rows);
    connect(m_rows, &ValueRows::changed, this,
            [this](const QString& text, const std::string& key, double v, int, bool live) {
                if (!m_part) return;
                m_store.change<PartItem>(m_part->item->id, text,
                                         live ? QString("part %1 %2").arg(m_part->item->id).arg(key.c_str())
                                              : QString(),
                                         [&](PartItem& p) { setValueOfShape(p.shape, key, v); });
            });
    m_error = label("error", name + ".shapeError");
    m_pieces = new PiecesEditor(store, name + ".pieces");
    box->addWidget(m_pieces);
    connect(m_pieces, &PiecesEditor::pieceWanted, this, [this] {
        if (m_part) emit pieceWanted(m_part->item->id);
    });

    addSize(name, box);

    m_seat = new SeatFields(store, name);
    box->addWidget(m_seat);
    connect(m_seat, &SeatFields::viewWanted, this, [this] {
        if (m_part) emit seatWanted(m_part->item->id);
    });

    addDensity(name, box);
    m_measures = label("muted", name + ".measures");
    m_later = new QTimer(this); // exact measures of a solid take longer than a frame
    m_later->setSingleShot(true);
    m_later->setInterval(150);
    connect(m_later, &QTimer::timeout, this, &PartEditor::refreshMeasures);
}

void PartEditor::addDensity(const QString& name, QVBoxLayout* box) {
    m_density =
        new ValueField(ValueField::Kind::Number, name + ".density", tr("Density"),
                       tr("kg in a cubic metre, for the mass: steel 7850, oak 700, granite 2700. 0: not known"));
    m_density->setSuffix("kg/m\u00b3");
    m_density->setStep(10);
    box->addWidget(labelled(tr("Density"), m_density));
    connect(m_density, &ValueField::changed, this, [this](std::optional<double> v, bool live) {
        if (!v || !m_part) return;
        if (!ranges::kDensity.holds(*v))
            return m_density->setProblem(tr("Give a density from 0 to 1000000 kg/m\u00b3."));
        m_store.change<PartItem>(m_part->item->id, tr("Density"),
                                 live ? QString("density %1").arg(m_part->item->id) : QString(),
                                 [&](PartItem& p) { p.density = *v; });
    });
    connect(m_density, &ValueField::finished, &m_store, &Store::seal);
}

void PartEditor::addSize(const QString& name, QVBoxLayout* box) {
    m_factor = new ValueField(ValueField::Kind::Number, name + ".size", tr("Size"),
                              tr("The whole part larger or smaller by this factor, the same in all directions"));
    m_factor->setStep(0.1);
    box->addWidget(labelled(tr("Size, times"), m_factor));
    connect(m_factor, &ValueField::changed, this, [this](std::optional<double> v, bool live) {
        if (v) resize(*v, live);
    });
    connect(m_factor, &ValueField::finished, &m_store, &Store::seal);
    box->addWidget(new QLabel(tr("Length, width, height as seated")));
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const QString words[] = {tr("Length"), tr("Width"), tr("Height")};
    for (int i = 0; i < 3; ++i) {
        m_wanted[size_t(i)] = new ValueField(
            ValueField::Kind::Length, name + QString(".wanted%1").arg(i), words[i],
            tr("%1 as it is seated. Another one changes the size of the whole part in proportion.").arg(words[i]));
        row->addWidget(m_wanted[size_t(i)], 1, Qt::AlignTop);
        connect(m_wanted[size_t(i)], &ValueField::changed, this, [this, i](std::optional<double> v, bool live) {
            if (!v || !m_part || !m_part->seated) return;
            const double now = m_part->seated->sizes()[i];
            if (!(*v > 0)) return m_wanted[size_t(i)]->setProblem(tr("Give a length above 0."));
            if (!(now > 0)) return m_wanted[size_t(i)]->setProblem(tr("The part is flat this way."));
            resize(m_part->item->size * *v / now, live);
        });
        connect(m_wanted[size_t(i)], &ValueField::finished, &m_store, &Store::seal);
    }
    box->addLayout(row);
}

void PartEditor::resize(double factor, bool live) {
    if (!m_part) return;
    if (!ranges::kSize.holds(factor)) return m_factor->setProblem(tr("The size must be " VICINAL_SIZE_RANGE "."));
    m_store.edit(with(m_store.document(), resized(*m_part->item, factor)),
                 tr("Size of %1").arg(m_part->item->name.c_str()),
                 live ? QString("size %1").arg(m_part->item->id) : QString());
}

QString PartEditor::measures() const { return m_measures->text(); }

void PartEditor::show(const std::shared_ptr<const PartResult>& part) {
    const bool another = !part || !m_part || part->item->id != m_part->item->id;
    m_part = part;
    setEnabled(part != nullptr);
    if (!part) return;
    const Unit unit = m_store.document().unit;
    const PartItem& item = *part->item;
    QString facts;
    if (const auto* m = std::get_if<Maker>(&item.shape))
        facts = tr("Made here: %1, an exact solid").arg(kindOf(PartShape(*m)).c_str());
    else if (const auto* b = std::get_if<Brought>(&item.shape))
        facts =
            (part->body && part->body->solid ? tr("Exact solid from %1") : tr("Mesh from %1")).arg(b->source.c_str());
    else if (const auto* f = std::get_if<FlatOutline>(&item.shape))
        facts = tr("Outline from %1").arg(f->source.c_str());
    else if (const auto* e = std::get_if<ExtrudedPath>(&item.shape)) {
        const auto path = m_store.document().path(e->path);
        facts = tr("Raised from %1, and follows it").arg(path ? path->name.c_str() : tr("a path that was deleted"));
    } else
        facts = tr("%n piece(s) that move as one", nullptr, int(std::get<Pieces>(item.shape).list.size()));
    if (part->body && !part->body->solid)
        facts += (facts.isEmpty() ? QString() : QString("\n")) +
                 tr("%n triangle(s)", nullptr, int(part->mesh->triangles.size()));
    m_facts->setText(facts);
    QStringList remarks;
    if (part->body)
        for (const auto& r : part->body->report.remarks()) remarks += QString::fromUtf8("\u25b2 ") + r.c_str();
    m_remarks->setText(remarks.join('\n'));
    m_remarks->setVisible(!remarks.isEmpty());
    m_rows->show(QString::number(item.id) + kindOf(item.shape).c_str(), valuesOfShape(item.shape), part->problem);
    m_pieces->show(part);
    const auto& problem = part->problem;
    const bool seat = problem && (problem->field == "crown" || problem->field == "nose" ||
                                  problem->field == "seatPoint" || problem->field == "pins");
    const bool shape = problem && !seat && !m_rows->has(problem->field) && problem->field != "size" &&
                       problem->field.rfind("piece ", 0) != 0;
    m_error->setText(shape ? m_store.say(problem->text) : QString());
    m_error->setVisible(shape);
    m_factor->setValue(item.size);
    m_factor->setProblem(problem && problem->field == "size" ? m_store.say(problem->text) : QString());
    for (int i = 0; i < 3; ++i) {
        m_wanted[size_t(i)]->setUnit(unit);
        m_wanted[size_t(i)]->setValue(part->seated ? std::optional(part->seated->sizes()[i]) : std::nullopt);
        m_wanted[size_t(i)]->setProblem({});
        m_wanted[size_t(i)]->setEnabled(part->seated.has_value());
    }
    m_seat->show(part);
    m_density->setValue(item.density);
    m_density->setProblem({});
    if (another) m_measures->clear();
    m_later->start();
}

void PartEditor::showEvent(QShowEvent*) { m_later->start(); }

void PartEditor::refreshMeasures() {
    if (!isVisible()) return; // folded away: worked out when it is looked at
    if (!m_part || !m_part->body || m_part->problem) return m_measures->clear();
    const Unit unit = m_store.document().unit;
    const Measures m = measuresOf(*m_part->body, m_part->item->seat);
    const auto len = [&](double mm) { return lengthText(mm, unit, false); };
    QStringList lines;
    lines += tr("From the seat point: %1 before, %2 behind, %3 left, %4 right, %5 up, %6 down")
                 .arg(len(m.before), len(m.behind), len(m.left), len(m.right), len(m.up), lengthText(m.down, unit));
    if (m.volume > 0) {
        QString text = volumeText(m.volume);
        if (const auto kg = massOf(*m_part)) text += tr(", mass %1 kg").arg(QString::number(*kg, 'g', *kg < 1 ? 3 : 5));
        text += m.exact ? tr(" (exact)") : tr(" (of the triangles)");
        lines += text;
        if (!m.watertight) lines += tr("\u25b2 The mesh is open: its volume is not to be trusted.");
    } else {
        lines += tr("A sheet: it has no volume.");
    }
    m_measures->setText(lines.join('\n'));
}

} // namespace vicinal
