#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"
#include "model/document/run_item.h"
#include "model/evaluate/giving.h"
#include <nlohmann/json.hpp>

namespace vicinal::cli {

int solve(const std::string& file, const std::string& name, bool json) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto item = opened->document.run(name);
    if (!item) return fail(chosenRuns(*opened->evaluation, {name}).problem());
    const auto run = opened->evaluation->run(item->id);
    if (item->gives.what == Gives::Nothing)
        return fail({"Nothing gives way for this run. Set gives, and giveValue or giveWheel.", "gives"});
    if (run->problem) return fail(*run->problem);
    const SolvedValue& g = *run->path->gave;
    const double unit = g.of == ProfileKind::Angle ? kDegree : 1;
    const std::string from = text::exact(g.before / unit), to = text::exact(g.after / unit),
                      error = text::exact(g.error), count = std::to_string(g.count);
    if (json)
        return print("{\"gives\": " + nlohmann::json(g.name).dump() + ", \"from\": " + from + ", \"to\": " + to +
                     ", \"error\": " + error + ", \"count\": " + count + "}\n");
    return print("gives,from,to,error,count\n" + csvCell(g.name) + "," + from + "," + to + "," + error + "," + count +
                 "\n");
}

} // namespace vicinal::cli
