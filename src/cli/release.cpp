#include "model/edits/release.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/document/heap.h"
#include "model/document/run_item.h"

namespace vicinal::cli {

int release(const std::string& file, const std::string& name, const std::string& path, const std::string& to) {
    const auto opened = openToChange(file);
    if (!opened) return fail(opened.problem());
    const auto item = named(opened->document.runs, name, file, "run");
    if (!item) return fail(item.problem());
    PathStays stays = path == "hidden" ? PathStays::Hidden : PathStays::Kept;
    if (path == "gone") stays = PathStays::Gone;
    const auto d = released(opened->document, *opened->evaluation->run((*item)->id), stays);
    if (!d) return fail(d.problem());
    if (const int code = save(*d, *opened, to)) return code;
    return print(std::to_string(d->heaps.back()->parts.size()) + " loose part(s)\n");
}

} // namespace vicinal::cli
