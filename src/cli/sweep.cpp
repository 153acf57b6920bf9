#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"
#include "model/evaluate/moving.h"
#include <cmath>

namespace vicinal::cli {

int sweep(const std::string& file, const std::string& name, long steps) {
    if (steps < 2 || steps > 100'000) return fail({"Use 2 to 100000 steps.", "steps"});
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, {name});
    if (!runs) return fail(runs.problem());
    const auto all = vicinal::sweep(*runs->front(), steps);
    std::string out = "way,closing,turn\n";
    const auto line = [&](const std::string& lead, const SweepStep& s) {
        out += lead + text::fixed(s.way, 6) + "," + (s.closing ? text::exact(*s.closing) : "") + "," +
               text::fixed(s.turn / kDegree, 6) + "\n";
    };
    const SweepStep* worst = &all.front();
    for (const SweepStep& s : all) {
        if (s.problem) return fail({"At " + text::number(s.way, 3) + " mm: " + s.problem->text, s.problem->field});
        line({}, s);
        if (std::abs(s.closing.value_or(0)) > std::abs(worst->closing.value_or(0))) worst = &s;
    }
    line("worst ", *worst);
    return print(out);
}

} // namespace vicinal::cli
