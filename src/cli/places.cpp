#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"

namespace vicinal::cli {

int places(const std::string& file, const std::vector<std::string>& names, const std::string& format, double time) {
    const auto opened = open(file, time);
    if (!opened) return fail(opened.problem());
    if (!names.empty()) {
        const auto runs = chosenRuns(*opened->evaluation, names);
        if (!runs) return fail(runs.problem());
        return print(format == "json" ? scheduleJson(*runs) : scheduleCsv(*runs));
    }
    const auto sound = soundRuns(*opened->evaluation);
    if (!sound) return fail(sound.problem());
    if (sound->runs.empty()) return fail(sound->problems.front()); // nothing to print
    if (const int code = print(format == "json" ? scheduleJson(sound->runs) : scheduleCsv(sound->runs))) return code;
    for (const auto& p : sound->problems) fail(p);
    return sound->problems.empty() ? 0 : 1;
}

} // namespace vicinal::cli
