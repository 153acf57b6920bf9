#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "exchange/out/send_out.h"
#include "model/document/run_item.h"

namespace vicinal::cli {

int fits(const std::string& file, const std::string& name, bool json) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto run = opened->document.run(name);
    if (!run) return fail(chosenRuns(*opened->evaluation, {name}).problem());
    const auto rows = fitsOf(*opened->evaluation->run(run->id));
    if (!rows) return fail(rows.problem());
    std::string out = json ? "[" : "places,pitch,gap_least,gap_most,left_over,in_use,remark,closing,play,gives\n";
    for (size_t i = 0; i < rows->size(); ++i) {
        const Fit& f = (*rows)[i];
        const auto some = [&](const std::optional<double>& v, const char* none) { return v ? text::exact(*v) : none; };
        const char* remark = f.over ? "over" : "";
        if (f.under && !f.over) remark = "under";
        if (json)
            out += std::string(i ? "," : "") + "\n {\"places\": " + std::to_string(f.count) +
                   ", \"pitch\": " + text::exact(f.pitch) + ", \"gapLeast\": " + text::exact(f.gapLeast) +
                   ", \"gapMost\": " + text::exact(f.gapMost) + ", \"leftOver\": " + text::exact(f.leftOver) +
                   ", \"inUse\": " + (f.inUse ? "true" : "false") + ", \"remark\": \"" + remark +
                   "\", \"closing\": " + some(f.closing, "null") + ", \"play\": " + some(f.play, "null") +
                   ", \"gives\": " + some(f.gives, "null") + "}";
        else
            out += std::to_string(f.count) + "," + text::fixed(f.pitch, 6) + "," + text::fixed(f.gapLeast, 6) + "," +
                   text::fixed(f.gapMost, 6) + "," + text::fixed(f.leftOver, 6) + "," + (f.inUse ? "yes" : "no") + "," +
                   remark + "," + some(f.closing, "") + "," + some(f.play, "") + "," + some(f.gives, "") + "\n";
    }
    return print(json ? out + "\n]\n" : out);
}

} // namespace vicinal::cli
