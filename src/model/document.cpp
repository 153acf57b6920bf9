#include "model/document.h"
#include <algorithm>

namespace vicinal {
namespace {

template<class T> std::shared_ptr<const T> find(const std::vector<std::shared_ptr<const T>>& items, Id id) {
    const auto it = std::find_if(items.begin(), items.end(), [&](const auto& i) { return i->id == id; });
    return it == items.end() ? nullptr : *it;
}

template<class T>
std::string freeName(const std::vector<std::shared_ptr<const T>>& items, const T& item, const char* fallback) {
    const auto taken = [&](const std::string& n) {
        return std::any_of(items.begin(), items.end(), [&](const auto& i) { return i->id != item.id && i->name == n; });
    };
    if (!item.name.empty() && !taken(item.name)) return item.name;
    const std::string stem = item.name.empty() ? fallback : item.name;
    for (int n = item.name.empty() ? 1 : 2;; ++n)
        if (std::string name = stem + " " + std::to_string(n); !taken(name)) return name;
}

template<class T> void put(std::vector<std::shared_ptr<const T>>& items, Id& nextId, T item, const char* fallback) {
    item.name = freeName(items, item, fallback);
    const auto it = std::find_if(items.begin(), items.end(), [&](const auto& i) { return i->id == item.id; });
    if (it != items.end()) {
        *it = std::make_shared<const T>(std::move(item));
        return;
    }
    if (item.id == 0) item.id = nextId;
    nextId = std::max(nextId, item.id + 1);
    items.push_back(std::make_shared<const T>(std::move(item)));
}

} // namespace

std::shared_ptr<const PathItem> Document::path(Id id) const { return find(paths, id); }
std::shared_ptr<const PartItem> Document::part(Id id) const { return find(parts, id); }
std::shared_ptr<const RunItem> Document::run(Id id) const { return find(runs, id); }

std::shared_ptr<const RunItem> Document::run(const std::string& name) const {
    const auto it = std::find_if(runs.begin(), runs.end(), [&](const auto& r) { return r->name == name; });
    return it == runs.end() ? nullptr : *it;
}

Document with(Document d, PathItem item) {
    put(d.paths, d.nextId, std::move(item), "Path");
    return d;
}
Document with(Document d, PartItem item) {
    put(d.parts, d.nextId, std::move(item), "Part");
    return d;
}
Document with(Document d, RunItem item) {
    std::sort(item.leftOut.begin(), item.leftOut.end());
    item.leftOut.erase(std::unique(item.leftOut.begin(), item.leftOut.end()), item.leftOut.end());
    put(d.runs, d.nextId, std::move(item), "Run");
    return d;
}

Document without(Document d, Id id) {
    const auto is = [&](const auto& i) { return i->id == id; };
    std::erase_if(d.paths, is);
    std::erase_if(d.parts, is);
    std::erase_if(d.runs, is);
    return d;
}

std::vector<std::string> usersOf(const Document& d, Id id) {
    std::vector<std::string> out;
    for (const auto& r : d.runs)
        if (r->path == id || r->part == id) out.push_back(r->name);
    for (const auto& p : d.paths) {
        const auto sources = sourcesOf(p->recipe);
        if (bodyOf(p->recipe) == id || std::find(sources.begin(), sources.end(), id) != sources.end())
            out.push_back(p->name);
    }
    return out;
}

bool follows(const Document& d, Id source, Id path) {
    std::vector<Id> todo{source}, seen;
    while (!todo.empty()) {
        const Id id = todo.back();
        todo.pop_back();
        if (id == path) return true;
        if (std::find(seen.begin(), seen.end(), id) != seen.end()) continue;
        seen.push_back(id);
        if (const auto p = d.path(id))
            for (Id s : sourcesOf(p->recipe)) todo.push_back(s);
    }
    return false;
}

} // namespace vicinal
