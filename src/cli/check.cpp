#include "cli/commands.h"
#include "cli/common.h"

namespace vicinal::cli {

int check(const std::string& file) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    std::string out;
    bool failed = false;
    for (const auto& r : opened->evaluation->runs) {
        const char* words[] = {"good", "doubtful", "wrong"};
        out += r->item->name + ": " + words[int(r->verdict.mark)] + ": " + r->verdict.text + "\n";
        failed = failed || r->verdict.mark == Mark::Wrong;
    }
    const int printed = print(out);
    return printed ? printed : failed ? 1 : 0;
}

} // namespace vicinal::cli
