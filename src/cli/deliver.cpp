#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "cli/set_all.h"
#include "exchange/delivery/make.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>

namespace vicinal::cli {
namespace {

/// Makes one delivery into a folder and prints what was written.
std::optional<Problem> make(const Delivery& d, const Evaluation& e, const std::filesystem::path& folder,
                            WrittenFiles& written, std::string& printed) {
    if (needsWindow(d))
        return Problem{Words("\"") + d.name +
                           "\" is a shaded picture, which the window draws. Make it there, or ask for lines.",
                       "of"};
    const auto ready = prepare(d, e);
    if (!ready) return ready.problem();
    const auto files = filesOf(*ready);
    if (!files) return files.problem();
    if (auto p = writeFiles(*files, folder, written)) return p;
    for (const OutFile& f : *files) printed += (folder / f.name).string() + "\n";
    std::string facts;
    for (const auto& s : ready->says) facts += (facts.empty() ? "" : "; ") + s;
    printed += "  " + facts + "\n";
    for (const Words& w : ready->remarks) printed += "  remark: " + w + "\n";
    return std::nullopt;
}

} // namespace

int deliver(const std::string& file, const std::vector<std::string>& names, const std::string& to, bool list) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const Document& d = opened->document;
    std::vector<std::shared_ptr<const Delivery>> all = d.deliveries;
    if (!names.empty()) {
        all.clear();
        for (const auto& name : names) {
            const auto found = named(d.deliveries, name, file, "delivery");
            if (!found) return fail(found.problem());
            all.push_back(*found);
        }
    }
    std::string printed;
    if (list) {
        for (const auto& x : all)
            printed += x->name + "," + wordsOf(x->order).file + "," + x->format + "," + fileNameOf(*x) + "\n";
        return print(printed);
    }
    if (all.empty()) return fail({say::value(file) + ": no delivery is kept in this document.", "delivery"});
    if (to.empty()) {
        if (const auto same = sameFile(all)) return fail(*same);
        for (const auto& x : all)
            if (const auto folder = folderOf(*x, file); !staysBelow(folder, file))
                return fail({Words("\"") + x->name + "\" goes to \"" + text::quoted(folder.string()) +
                                 "\", which is not below the document's own folder. Name a folder with --to.",
                             "folder"});
    }
    WrittenFiles written{file};
    for (const auto& x : all) {
        const auto folder = to.empty() ? folderOf(*x, file) : std::filesystem::path(to);
        if (auto p = make(*x, *opened->evaluation, folder, written, printed))
            return print(printed), fail(*p); // what was made before stays, and is told
    }
    return print(printed);
}

int send(const SendOrderGiven& given) {
    const auto opened = open(given.file, given.time);
    if (!opened) return fail(opened.problem());
    Delivery d;
    const std::filesystem::path path(given.to);
    d.name = path.stem().string();
    d.format = path.extension().string();
    if (!d.format.empty()) d.format = text::lowered(d.format.substr(1));
    auto order = ruleNamed<SendOrder>(given.as);
    if (!order) {
        std::string known;
        for (const auto& w : wordsOfAll<SendOrder>()) known += (known.empty() ? "" : ", ") + std::string(w.file);
        return fail({Words("--as \"") + given.as + "\" is not known. There are: " + known + ".", "as"});
    }
    d.order = std::move(*order);
    for (const auto& name : given.what) {
        Id id = 0;
        for (const auto& r : opened->document.runs) id = r->name == name ? r->id : id;
        for (const auto& h : opened->document.heaps) id = h->name == name ? h->id : id;
        for (const auto& b : opened->document.bodies)
            if (id == 0 && b->name == name) id = b->id;
        for (const auto& p : opened->document.paths)
            if (id == 0 && p->name == name) id = p->id;
        if (id == 0)
            return fail(
                {say::value(given.file) + ": there is no run, heap, site body or path \"" + text::quoted(name) + "\".",
                 "what"});
        d.what.push_back(id);
    }
    if (auto wrong = std::visit([&](auto& o) { return setAll(o, opened->document, given.values); }, d.order))
        return fail(*wrong);
    for (const std::string& one : given.fields) {
        const size_t eq = one.find('=');
        if (eq == std::string::npos) return fail({Words("\"") + one + "\" is no name=text.", "fields"});
        d.fields.emplace_back(one.substr(0, eq), one.substr(eq + 1));
    }
    std::string printed;
    WrittenFiles written{given.file};
    if (auto p = make(d, *opened->evaluation, path.parent_path(), written, printed)) return fail(*p);
    return print(printed);
}

} // namespace vicinal::cli
