#include "app/sheet/run/bays_section.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include <QLabel>
#include <QVBoxLayout>
#include <set>

namespace vicinal {
namespace {

void put(RunItem& r, const std::string& key, double value, int axis) {
    value_rows::setValue(r.spacing, key, value, axis);
}

} // namespace

bool inBays(const std::string& key) {
    static const std::set<std::string> keys{"pitchAtLeast", "pitchAtMost", "multiple",    "from",
                                            "to",           "bays",        "bayStations", "bayRun"};
    return keys.count(key) > 0;
}

BaysSection::BaysSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    const std::map<std::string, QString> pairs = {{"pitchAtLeast", tr("Pitch from / to")},
                                                  {"from", tr("Stretch from / to")}};
    const auto all = values(Spacing{});
    for (size_t i = 0; i < all.size(); ++i) {
        const auto pair = pairs.find(all[i].key);
        if (pair == pairs.end())
            addRow(all[i], put);
        else
            addRow(pair->second, all[i], all[i + 1], put), ++i;
    }
    m_list = new QLabel;
    m_list->setObjectName("run.bayList");
    m_list->setWordWrap(true);
    m_list->setProperty("role", "muted");
    m_box->addWidget(m_list);
}

std::vector<ShownValue> BaysSection::values(const Spacing& s) {
    std::vector<ShownValue> out;
    describeShared(value_rows::Collector(out), s);
    std::erase_if(out, [](const ShownValue& v) { return !inBays(v.key); });
    return out;
}

void BaysSection::refresh(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    for (const auto& v : values(s)) showRow(v.key, counts(s, v.key, closed));
    showValues(values(s));
    showProblem(run.problem);
    QStringList lines;
    const Unit unit = m_store.document().unit;
    if (run.placed)
        for (size_t i = 0; i < run.placed->laid->bays.size(); ++i) {
            const Bay& bay = run.placed->laid->bays[i];
            if (i == 24) {
                lines += tr("\u2026 and %1 more").arg(run.placed->laid->bays.size() - i);
                break;
            }
            const QString line =
                bay.problem ? tr("bay %1, %2 long: %3")
                                  .arg(i + 1)
                                  .arg(lengthText(bay.end - bay.start, unit), m_store.say(bay.problem->text))
                            : tr("bay %1, %2 long: %3 at %4 %5")
                                  .arg(i + 1)
                                  .arg(lengthText(bay.end - bay.start, unit))
                                  .arg(bay.count)
                                  .arg(lengthText(s.measure == Measure::ClearGap ? bay.value : bay.pitch, unit),
                                       s.measure == Measure::ClearGap ? tr("clear") : tr("c/c"));
            lines += line;
        }
    m_list->setText(lines.join("\n"));
    m_list->setVisible(!lines.isEmpty());
}

QString BaysSection::summary(const RunResult& run) const {
    const Spacing& s = run.item->spacing;
    QStringList out;
    if (s.bays != BayEdges::None && run.placed) out += tr("%n bay(s)", nullptr, int(run.placed->laid->bays.size()));
    if (s.from || s.to) out += tr("a stretch");
    if (s.multiple > 1) out += tr("counts in %1s").arg(s.multiple);
    if (s.pitchAtLeast || s.pitchAtMost) out += tr("pitch limited");
    return out.isEmpty() ? tr("the whole path") : out.join(" \u00b7 ");
}

} // namespace vicinal
