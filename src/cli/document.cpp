#include "base/say.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"

namespace vicinal::cli {

int pack(const std::string& file, const std::string& to) {
    const auto document = openDocument(file, readBody);
    if (!document) return fail({say::value(file) + ": " + Words::whole(document.problem().text), ""});
    return save(*document, to);
}

int validate(const std::string& file) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    for (const auto& [id, p] : opened->evaluation->paths)
        if (p->problem)
            return fail({say::value(file) + ": path \"" + p->item->name + "\": " + Words::whole(p->problem->text), ""});
    for (const auto& [id, p] : opened->evaluation->parts)
        if (p->problem)
            return fail({say::value(file) + ": part \"" + p->item->name + "\": " + Words::whole(p->problem->text), ""});
    for (const auto& r : opened->evaluation->runs)
        if (r->problem)
            return fail({say::value(file) + ": run \"" + r->item->name + "\": " + Words::whole(r->problem->text), ""});
    const Document& d = opened->document;
    return print("valid: " + std::to_string(d.paths.size()) + " paths, " + std::to_string(d.parts.size()) + " parts, " +
                 std::to_string(d.runs.size()) + " runs\n");
}

} // namespace vicinal::cli
