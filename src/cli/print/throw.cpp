#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"
#include "layout/vehicles/envelope.h"

namespace vicinal::cli {

int throwBand(const std::string& file, const std::string& name) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, {name});
    if (!runs) return fail(runs.problem());
    const RunResult& run = *runs->front();
    if (!run.sweeps)
        return fail({"\"" + text::quoted(name) + "\" has no vehicles: its rule is not \"coupled\".", "rule"});
    const SweptEnvelope& all = *run.sweeps;
    std::string out = "station,left,right\n";
    for (size_t i = 0; i < all.stations.size(); ++i)
        out += text::fixed(all.stations[i], 6) + "," + text::fixed(all.left[i], 6) + "," +
               text::fixed(all.right[i], 6) + "\n";
    const auto worst = [&](const char* what, const SweptEnvelope::Worst& w) {
        out += std::string(what) + "," + text::fixed(w.reach, 6) + "," + text::fixed(w.station, 6) + "\n";
    };
    worst("inside", all.inside);
    worst("outside", all.outside);
    out += "smallest radius," + text::fixed(passesBends(run), 6) + ",\n";
    return print(out);
}

} // namespace vicinal::cli
