#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"

namespace vicinal::cli {

int sendOut(const std::string& file, const std::vector<std::string>& names, const std::string& to, double time) {
    const auto opened = open(file, time);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRunsAndHeaps(*opened->evaluation, names);
    if (!runs) return fail(runs.problem());
    if (const auto problem = notTheDocument(to, file)) return fail(*problem);
    if (const auto problem = vicinal::sendOut(*runs, to)) return fail(*problem);
    return 0;
}

int sendFilm(const std::string& file, const std::vector<std::string>& names, const std::string& to, long frames,
             double seconds) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto film = filmOf(opened->evaluation, names, frames, seconds);
    if (!film) return fail(film.problem());
    if (const auto problem = notTheDocument(to, file)) return fail(*problem);
    if (const auto problem = vicinal::sendOut(*film, to)) return fail(*problem);
    return 0;
}

} // namespace vicinal::cli
