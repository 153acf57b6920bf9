#include "app/sheet/run/along/changes_section.h"
#include "model/document/run_item.h"
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;

ChangesSection::ChangesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Changes{})) addRow(v, putInto<&RunItem::changes>);
    for (const auto& v : valuesOf(Unevenness{})) addRow(v, putInto<&RunItem::uneven>);
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

} // namespace vicinal
