#include "app/strip/marks.h"
#include "app/controls/format.h"
#include "layout/spacing/rules.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include <QCoreApplication>
#include <algorithm>

namespace vicinal {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("vicinal::marks", text); }

/// What an exception does, in words.
QString said(const Exception& e, const RunResult& run, Unit unit) {
    QStringList out;
    if (e.out) out += tr("left out");
    if (e.part)
        for (const auto& p : run.parts)
            if (p && p->item->id == e.part) out += QString::fromStdString(p->item->name);
    const QString ways[] = {tr("%1 along"), tr("%1 across"), tr("%1 up")};
    for (int i = 0; i < 3; ++i)
        if (e.move[i] != 0) out += ways[i].arg(lengthText(e.move[i], unit));
    if (!e.turn.isZero(0)) out += tr("turned");
    if (e.size != 1) out += tr("size %1").arg(e.size, 0, 'g', 4);
    return out.join(", ");
}

} // namespace

std::vector<StripMark> marksOf(const RunResult& run, Unit unit) {
    std::vector<StripMark> out;
    if (!run.path || !run.path->path) return out;
    const Path& path = *run.path->path;
    for (const vicinal::Corner& c : path.corners())
        out.push_back(
            {StripMark::Corner, c.station, tr("corner"), tr("corner at %1").arg(lengthText(c.station, unit))});
    if (path.closed()) out.push_back({StripMark::Seam, 0, tr("seam"), tr("Here the closed path begins and ends.")});
    const Spacing& s = run.item->spacing;
    for (const auto& [at, word] : {std::pair{s.from, tr("from")}, {s.to, tr("to")}})
        if (at) out.push_back({StripMark::Stretch, *at, word, tr("%1 %2").arg(word, lengthText(*at, unit))});
    if (std::holds_alternative<AtTarget>(run.item->facing.nose) && run.item->facing.targetPath == 0)
        out.push_back({StripMark::Aim, path.closest(run.item->facing.target), tr("target"),
                       tr("Nearest to what the noses point at.")});
    if (run.placed) {
        const auto special = exceptionsOf(run);
        const Places& all = *run.placed;
        for (const auto& [place, e] : special) {
            if (size_t(place) >= std::min(all.laid->rowSize, all.count())) continue;
            const QString what = said(e, run, unit);
            out.push_back({e.out ? StripMark::LeftOut : StripMark::Special, all.stations()[size_t(place)],
                           QString::number(place + 1), tr("place %1: %2").arg(place + 1).arg(what), place});
        }
        for (int number : run.item->leftOut)
            if (number >= 1 && size_t(number) <= std::min(all.laid->rowSize, all.count()))
                out.push_back({StripMark::LeftOut, all.stations()[size_t(number) - 1], QString::number(number),
                               tr("place %1: left out").arg(number), number - 1});
        for (int k : all.laid->staleExceptions) {
            const Exception& e = run.item->exceptions[size_t(k)];
            const double at = std::clamp(e.station.value_or(path.length()), 0.0, path.length());
            out.push_back({StripMark::Lost, at, e.station ? tr("lost") : QString::number(e.place),
                           tr("An exception without its place (%1). The section of places drops or moves it.")
                               .arg(said(e, run, unit))});
        }
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const StripMark& a, const StripMark& b) { return a.station < b.station; });
    return out;
}

} // namespace vicinal
