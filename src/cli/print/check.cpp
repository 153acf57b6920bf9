#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/check_sheet/check_sheet.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/cuts.h"
#include "model/file/files.h"
#include <cstdio>
#include <ctime>
#include <filesystem>

namespace vicinal::cli {

namespace {

std::string today() {
    char text[16];
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    std::strftime(text, sizeof text, "%Y-%m-%d", &local);
    return text;
}

std::string inLines(const Checked& checked) {
    const char* words[] = {"good", "not measured", "doubtful", "wrong"};
    std::string out;
    for (const auto& run : checked.of->runs) {
        const RunChecks* all = checked.run(run->item->id);
        if (!all) continue;
        out += run->item->name + ": " + words[int(all->verdict.mark)] + ": " + all->verdict.text + "\n";
        for (const CheckResult& r : all->list) {
            out += "  " + titleOf(r.check, *checked.of) + ": ";
            if (!r.check.on) {
                out += "off\n";
                continue;
            }
            out += r.cannot ? "cannot be said" : words[int(r.mark)];
            out += ": " + r.text + "\n";
            for (const Words& w : r.remarks) out += "    " + w + "\n";
        }
    }
    return out;
}

} // namespace

int check(const CheckCommand& order) {
    const auto opened = open(order.file);
    if (!opened) return fail(opened.problem());
    CheckOrder asked;
    asked.fine = order.fine;
    for (const auto& name : order.runs) {
        const auto item = named(opened->document.runs, name, order.file, "run");
        if (!item) return fail(item.problem());
        asked.only.push_back((*item)->id);
    }
    CheckMemory memory;
    const auto checked = vicinal::check(opened->evaluation, memory, nullptr, asked);
    if (!order.sheet.empty()) {
        if (const auto problem = notTheDocument(order.sheet, order.file)) return fail(*problem);
        CheckSheetFacts facts;
        const std::filesystem::path path(order.file);
        facts.title = path.stem().string();
        facts.file = path.filename().string();
        facts.date = today();
        facts.unit = opened->document.unit;
        const auto bytes = checkSheetFile(order.sheet, *checked, facts);
        if (!bytes) return fail(bytes.problem());
        if (const auto problem = writeAtomically(order.sheet, *bytes)) return fail(*problem);
    }
    // What is no run's: plates that are cut, paths laid over themselves. Told on standard error beside JSON.
    bool failed = false;
    std::string others;
    const auto tell = [&](const std::string& name, const std::vector<Words>& broken) {
        for (const Words& w : broken) others += name + ": wrong: " + w + "\n";
        failed = failed || !broken.empty();
    };
    if (order.runs.empty()) {
        for (Id id : opened->evaluation->bodyOrder) {
            const auto& body = opened->evaluation->bodies.at(id);
            tell(body->item->name, brokenLimits(*body));
        }
        for (const auto& [id, path] : opened->evaluation->paths) tell(path->item->name, path->broken);
    }
    for (const auto& [id, all] : checked->runs) failed = failed || all->verdict.mark == Mark::Wrong;
    if (order.json && !others.empty()) std::fputs(others.c_str(), stderr);
    const int printed = print(order.json ? checksJson(*checked) : inLines(*checked) + others);
    return printed ? printed : int(failed);
}

} // namespace vicinal::cli
