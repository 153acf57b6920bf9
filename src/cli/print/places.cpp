#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/lists/lists.h"
#include "exchange/out/send_out.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/cuts.h"
#include "model/recipes/cut_shape.h"
#include "model/recipes/rail_shape.h"
#include <algorithm>
#include <cstdio>

namespace vicinal::cli {

int places(const std::string& file, const std::vector<std::string>& names, const std::string& format, double time) {
    const auto opened = open(file, time);
    if (!opened) return fail(opened.problem());
    if (!names.empty()) {
        const auto runs = chosenRunsAndHeaps(*opened->evaluation, names);
        if (!runs) return fail(runs.problem());
        return print(format == "json" ? scheduleJson(*runs) : scheduleCsv(*runs));
    }
    const auto sound = soundRuns(*opened->evaluation);
    if (!sound) return fail(sound.problem());
    if (sound->runs.empty() && !sound->problems.empty()) return fail(sound->problems.front()); // nothing to print
    if (const int code = print(format == "json" ? scheduleJson(sound->runs) : scheduleCsv(sound->runs))) return code;
    for (const auto& p : sound->problems) fail(p);
    return sound->problems.empty() ? 0 : 1;
}

int barsOrWebs(const std::string& file, const std::vector<std::string>& names, const std::string& format, bool webs) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    std::vector<Id> of;
    for (const std::string& name : names) {
        const auto run = opened->document.run(name);
        if (!run) return fail({"There is no run named \"" + text::quoted(name) + "\".", "run"});
        of.push_back(run->id);
    }
    ExportSet goods;
    int code = 0;
    std::vector<std::string> broken;
    for (const auto& item : opened->document.bodies) {
        const auto body = opened->evaluation->bodies.at(item->id);
        if (webs ? !std::holds_alternative<CutBy>(item->shape) : !std::holds_alternative<RailAlong>(item->shape))
            continue;
        const Id run = webs ? 0 : std::get<RailAlong>(item->shape).run;
        if (!of.empty() && std::find(of.begin(), of.end(), run) == of.end()) continue;
        if (body->problem)
            code = fail({say::value(item->name) + ": " + Words::whole(body->problem->text), body->problem->field});
        else
            goods.standing.push_back(body);
        if (webs)
            for (const Words& w : brokenLimits(*body)) broken.push_back(say::value(item->name) + ": " + w);
    }
    ScheduleOrder order;
    order.of = webs ? ScheduleOf::Webs : ScheduleOf::Bars;
    for (const auto& line : broken) std::fprintf(stderr, "vicinal-cli: %s\n", line.c_str());
    const auto list = listOf(goods, order);
    if (!list) return broken.empty() ? fail(list.problem()) : 1; // all cut over the edge: no webs to list
    const int printed = print(format == "json" ? jsonOf(*list) : csvOf(*list));
    if (printed || code) return printed ? printed : code;
    return int(!broken.empty());
}

} // namespace vicinal::cli
