// What scripts/kill_test.py kills: a program that saves, or that keeps a journal, as fast as it can.
//   kill_victim save FILE | journal PLACE | check-save FILE | check-journal PLACE
// The checks exit 0 when what is left opens and is one of the states that were saved, 3 when nothing was saved yet.
#include "exchange/in/bring_in.h"
#include "model/document/path_item.h"
#include "model/documents.h"
#include "model/file/journal.h"
#include <cstdio>

using namespace vicinal;

namespace {

Document state(int n) {
    Document d;
    std::vector<PathItem> items;
    for (int i = 0; i <= n % 200; ++i) items.push_back({0, "path", ShapeRecipe{CircleShape{100.0 + n}}});
    return with(std::move(d), std::move(items));
}
/// Every state has as many paths as its radius says: half of one and half of another does not.
bool sound(const Document& d) {
    if (d.paths.empty()) return false;
    const int n = int(std::get<CircleShape>(std::get<ShapeRecipe>(d.paths[0]->recipe).shape).radius) - 100;
    return toJson(d) == toJson(state(n));
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 3) return 2;
    const std::string mode = argv[1], where = argv[2];
    if (mode == "save")
        for (int n = 0;; ++n)
            if (saveDocument(state(n), where)) return 1;
    if (mode == "journal") {
        Journal journal(where);
        for (int n = 0;; ++n)
            if (journal.write(state(n), {where, "victim"})) return 1;
    }
    if (mode == "check-save") {
        if (!std::filesystem::exists(where)) return 3;
        const auto d = openDocument(where, readBody);
        if (!d) return std::fprintf(stderr, "%s\n", d.problem().text.c_str()), 1;
        return sound(*d) ? 0 : 1;
    }
    const auto left = leftJournals(where);
    if (left.empty()) return 3;
    for (const auto& l : left) {
        const auto d = openJournal(l, readBody);
        if (!d) return std::fprintf(stderr, "%s\n", d.problem().text.c_str()), 1;
        if (!sound(*d)) return 1;
        removeJournal(l);
    }
    return 0;
}
