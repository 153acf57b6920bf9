#include "exchange/paper/template.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "cli/set_all.h"
#include "exchange/lists/lists.h"
#include "exchange/paper/tape.h"
#include "exchange/sheet/writers.h"
#include "model/file/files.h"

namespace vicinal::cli {
int makeTemplate(const std::string& file, const std::vector<std::string>& names, const std::string& to,
                 const std::vector<std::string>& values) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, names);
    if (!runs) return fail(runs.problem());
    TemplateOrder order;
    if (auto p = setAll(order, opened->document, values)) return fail(*p);
    const std::filesystem::path path(to);
    const std::string kind = text::lowered(path.extension().string());
    if (auto p = notTheDocument(path, file)) return fail(*p);
    const std::string title = names.size() == 1 ? names.front() : std::filesystem::path(file).stem().string();
    const auto made = templateOf(asStanding(*runs), order, title);
    if (!made) return fail(made.problem());
    if (kind == ".svg") {
        if (auto p = writeAtomically(path, svgOf(made->whole, title))) return fail(*p);
    } else if (kind == ".pdf" || kind == ".dxf") {
        const auto bytes = kind == ".pdf" ? pdfOf(made->pages, title) : dxfOf(made->whole);
        if (!bytes) return fail(bytes.problem());
        if (auto p = writeAtomically(path, *bytes)) return fail(*p);
    } else {
        return fail({Words("\"") + path.filename().string() + "\" does not say what to write. Use .pdf, .svg or .dxf.",
                     "file"});
    }
    std::string said;
    for (const Words& w : made->remarks) said += "remark: " + w + "\n";
    return print(said + (kind == ".pdf" ? std::to_string(made->pages.size()) + " page(s), " +
                                              std::to_string(made->empty) + " empty one(s) left out\n"
                                        : "1 drawing\n"));
}

int makeTape(const std::string& file, const std::string& name, const std::string& to,
             const std::vector<std::string>& values) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, {name});
    if (!runs) return fail(runs.problem());
    if (auto p = notTheDocument(to, file)) return fail(*p);
    TapeOrder order;
    if (auto p = setAll(order, opened->document, values)) return fail(*p);
    const auto tape = tapeOf(*runs->front(), order);
    if (!tape) return fail(tape.problem());
    const std::string kind = text::lowered(std::filesystem::path(to).extension().string());
    if (kind != ".pdf" && kind != ".csv")
        return fail(
            {Words("\"") + to + "\" does not say what to write. Use .pdf, or .csv for the stations as a list.", "to"});
    Result<std::string> bytes = kind == ".pdf" ? pdfOf(tape->pages, name) : Result<std::string>(std::string());
    if (kind == ".csv") {
        ScheduleOrder running;
        running.of = ScheduleOf::Running;
        running.gap = true;
        ExportSet goods;
        goods.standing = asStanding(*runs);
        const auto list = listOf(goods, running);
        if (!list) return fail(list.problem());
        bytes = csvOf(*list);
    }
    if (!bytes) return fail(bytes.problem());
    if (auto p = writeAtomically(to, *bytes)) return fail(*p);
    if (kind == ".csv") return print("1 list\n");
    return print(std::to_string(tape->pages.size()) + " page(s), " + std::to_string(tape->strips) + " strip(s)\n");
}

} // namespace vicinal::cli
