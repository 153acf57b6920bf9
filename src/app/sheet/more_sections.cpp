#include "app/sheet/more_sections.h"
#include "app/controls/controls.h"
#include "model/edits/sequence_text.h"
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;

namespace {

/// Writes a described value into one of a run's members.
template<auto Member> void put(RunItem& r, const std::string& key, double value, int axis) {
    value_rows::setValue(r.*Member, key, value, axis);
}

} // namespace

SequenceSection::SequenceSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    m_rows["sequence"] =
        labelled(tr("Parts"),
                 makeText("sequence", tr("Sequence"),
                          tr("Parts in the order they are set, with commas: Post, 5 x Baluster. Weights in brackets: "
                             "Grey slab (3), Red slab (1). Empty: the run's own part everywhere.")));
    m_box->addWidget(m_rows["sequence"]);
    for (const auto& v : valuesOf(Sequence{})) addRow(v, put<&RunItem::sequence>);
}

void SequenceSection::refresh(const RunResult& run) {
    const Sequence& s = run.item->sequence;
    showText("sequence", QString::fromStdString(sequenceText(s.steps, m_store.document())));
    m_texts.at("sequence").edit->setPlaceholderText(run.part ? QString(run.part->item->name.c_str()) : QString());
    showRow("byWeight", s.steps.size() > 1);
    showRow("sequenceSeed", s.byWeight && s.steps.size() > 1);
    showRow("everyPart", s.every > 0);
    showValues(valuesOf(s));
    showProblem(run.problem);
}

QString SequenceSection::summary(const RunResult& run) const {
    const Sequence& s = run.item->sequence;
    if (!s.steps.empty()) return QString::fromStdString(sequenceText(s.steps, m_store.document()));
    const bool special = s.first || s.last || s.corner || (s.nth && s.every > 0);
    return special ? tr("one part, others at special places") : tr("one part");
}

ChangesSection::ChangesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Changes{})) addRow(v, put<&RunItem::changes>);
    for (const auto& v : valuesOf(Unevenness{})) addRow(v, put<&RunItem::uneven>);
    auto* again = new QPushButton(tr("Another seed"));
    again->setObjectName("run.reroll");
    again->setToolTip(tr("Other random differences within the same bounds"));
    m_rows["reroll"] = again;
    m_box->addWidget(again);
    connect(again, &QPushButton::clicked, this, [this] {
        change(tr("Another seed"), {}, [](RunItem& r) { r.uneven.seed = r.uneven.seed % 1'000'000 + 1; });
    });
}

void ChangesSection::refresh(const RunResult& run) {
    showValues(valuesOf(run.item->changes));
    showValues(valuesOf(run.item->uneven));
    showRow("seed", !run.item->uneven.none());
    showRow("reroll", !run.item->uneven.none());
    showProblem(run.problem);
}

QString ChangesSection::summary(const RunResult& run) const {
    QStringList out;
    const Changes& c = run.item->changes;
    const std::pair<const Profile*, QString> all[] = {
        {&c.roll, tr("roll")}, {&c.size, tr("size")}, {&c.across, tr("across")}, {&c.up, tr("up")}};
    for (const auto& [p, name] : all)
        if (!p->empty()) out += name;
    if (!run.item->uneven.none()) out += tr("uneven");
    return out.isEmpty() ? tr("nothing changes") : out.join(" \u00b7 ");
}

RowsSection::RowsSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Rows{})) addRow(v, put<&RunItem::rows>);
    for (const auto& v : valuesOf(Echoes{})) addRow(v, put<&RunItem::echoes>);
}

void RowsSection::refresh(const RunResult& run) {
    const Rows& r = run.item->rows;
    showRow("rowsApart", r.rows > 1);
    showRow("tierHeight", r.tiers > 1);
    showRow("staggered", !r.none());
    const auto echo = [&](const Echo& e, const std::string& name, bool offered) {
        const bool any = offered && e.kind != EchoKind::None;
        showRow(name, offered);
        showRow(name + "At", any && e.kind != EchoKind::InLine);
        showRow(name + "Along", any);
        showRow(name + "Count", any && e.kind != EchoKind::Mirrored);
        showRow(name + "By", any && e.kind == EchoKind::InLine);
        showRow(name + "Angle", any && e.kind == EchoKind::Round);
    };
    echo(run.item->echoes.one, "echo", true);
    echo(run.item->echoes.two, "again", run.item->echoes.one.kind != EchoKind::None);
    showValues(valuesOf(r));
    showValues(valuesOf(run.item->echoes));
    showProblem(run.problem);
}

QString RowsSection::summary(const RunResult& run) const {
    QStringList out;
    const Rows& r = run.item->rows;
    if (r.rows > 1) out += tr("%1 rows").arg(r.rows);
    if (r.tiers > 1) out += tr("%1 tiers").arg(r.tiers);
    for (const Echo* e : {&run.item->echoes.one, &run.item->echoes.two})
        if (e->kind != EchoKind::None) out += value_rows::word(kEchoWords[int(e->kind)].phrase);
    return out.isEmpty() ? tr("once") : out.join(" \u00b7 ");
}

} // namespace vicinal
