#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"
#include "model/evaluate/motion/moving.h"
#include <cmath>

namespace vicinal::cli {

int sweep(const std::string& file, const std::string& name, long steps, bool whole) {
    if (steps < 2 || steps > 100'000) return fail({"Use 2 to 100000 steps.", "steps"});
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, {name});
    if (!runs) return fail(runs.problem());
    const WayRange range = wayRange(*runs->front());
    const double far = range.lap > 0 ? range.lap : range.forward;
    const auto all = vicinal::sweep(*runs->front(), steps, whole ? far : 0);
    std::string out = "way,closing,turn,swing\n";
    const auto line = [&](const std::string& lead, const SweepStep& s) {
        out += lead + text::fixed(s.way, 6) + "," + (s.closing ? text::exact(*s.closing) : "") + "," +
               text::fixed(s.turn / kDegree, 6) + "," + text::fixed(s.swing / kDegree, 6) + "\n";
    };
    const SweepStep* worst = &all.front();
    for (const SweepStep& s : all) {
        if (s.problem)
            return fail(
                {Words("At ") + text::number(s.way, 3) + " mm: " + Words::whole(s.problem->text), s.problem->field});
        line({}, s);
        const auto bad = [](const SweepStep& x) {
            return x.closing ? std::abs(*x.closing) : std::max(x.turn, x.swing);
        };
        if (bad(s) > bad(*worst)) worst = &s;
    }
    line("worst ", *worst);
    return print(out);
}

} // namespace vicinal::cli
