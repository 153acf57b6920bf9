#include "model/document/document.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <unordered_map>
#include <unordered_set>

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
std::shared_ptr<const HeapItem> Document::heap(Id id) const { return find(heaps, id); }
std::shared_ptr<const BodyItem> Document::body(Id id) const { return find(bodies, id); }
std::shared_ptr<const FolderItem> Document::folder(Id id) const { return find(folders, id); }
std::shared_ptr<const Delivery> Document::delivery(Id id) const { return find(deliveries, id); }

std::shared_ptr<const RunItem> Document::run(const std::string& name) const {
    const auto it = std::find_if(runs.begin(), runs.end(), [&](const auto& r) { return r->name == name; });
    return it == runs.end() ? nullptr : *it;
}

Document with(Document d, PathItem item) {
    put(d.paths, d.nextId, std::move(item), "Path");
    return d;
}
Document with(Document d, std::vector<PathItem> items) {
    std::unordered_set<std::string> taken;
    for (const auto& p : d.paths) taken.insert(p->name);
    std::unordered_map<std::string, int> next; // by stem: ten thousand of one layer must not count from 2 each
    for (auto& item : items) {
        const bool unnamed = item.name.empty();
        const std::string stem = unnamed ? "Path" : item.name;
        if (unnamed || taken.contains(item.name)) {
            int& n = next.try_emplace(stem, unnamed ? 1 : 2).first->second;
            do item.name = stem + " " + std::to_string(n++);
            while (taken.contains(item.name));
        }
        taken.insert(item.name);
        item.id = d.nextId++;
        d.paths.push_back(std::make_shared<const PathItem>(std::move(item)));
    }
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

Document with(Document d, HeapItem item) {
    put(d.heaps, d.nextId, std::move(item), "Heap");
    return d;
}
Document with(Document d, BodyItem item) {
    put(d.bodies, d.nextId, std::move(item), "Body");
    return d;
}
Document with(Document d, FolderItem item) {
    put(d.folders, d.nextId, std::move(item), "Folder");
    return d;
}
Document with(Document d, Delivery item) {
    put(d.deliveries, d.nextId, std::move(item), "Delivery");
    return d;
}

Document without(Document d, Id id) {
    const auto is = [&](const auto& i) { return i->id == id; };
    std::erase_if(d.paths, is);
    std::erase_if(d.parts, is);
    std::erase_if(d.runs, is);
    std::erase_if(d.heaps, is);
    std::erase_if(d.bodies, is);
    if (d.folder(id)) { // what lay in it lies in none
        std::erase_if(d.folders, is);
        const auto out = [&](auto& items) {
            for (auto& item : items)
                if (item->folder == id) {
                    auto copy = *item;
                    copy.folder = 0;
                    item = std::make_shared<const decltype(copy)>(std::move(copy));
                }
        };
        out(d.paths), out(d.parts), out(d.runs), out(d.heaps), out(d.bodies);
    }
    std::erase_if(d.deliveries, is);
    for (auto& delivery : d.deliveries) {
        const auto asked = std::find(delivery->what.begin(), delivery->what.end(), id);
        if (asked == delivery->what.end() || delivery->what.size() == 1) continue; // none would be everything
        Delivery less = *delivery;
        std::erase(less.what, id);
        delivery = std::make_shared<const Delivery>(std::move(less));
    }
    return d;
}

namespace {

/// What an item is made from.
std::vector<Id> sourcesOfItem(const Document& d, Id id) {
    std::vector<Id> out;
    if (const auto p = d.path(id)) {
        out = sourcesOf(p->recipe);
        if (const Id body = bodyOf(p->recipe)) out.push_back(body);
    } else if (const auto q = d.part(id)) {
        out = sourcesOf(q->shape);
        for (Id under : q->under)
            if (under != 0) out.push_back(under);
    } else if (const auto b = d.body(id)) {
        out = sourcesOf(b->shape);
    } else if (const auto r = d.run(id)) {
        out = partsOf(*r);
        for (Id asked : {r->path, r->spacing->bayRun, r->facing.targetPath, r->facing.targetBody, r->facing.surface,
                         r->feet.ground})
            if (asked != 0) out.push_back(asked);
    }
    return out;
}

} // namespace

std::vector<Id> partsOf(const RunItem& r) {
    std::vector<Id> out{r.part};
    const auto add = [&](Id id) {
        if (id != 0 && std::find(out.begin(), out.end(), id) == out.end()) out.push_back(id);
    };
    for (const auto& s : r.sequence.steps) add(s.part);
    for (Id id : {r.sequence.first, r.sequence.last, r.sequence.corner, r.sequence.nth}) add(id);
    for (const auto& e : r.exceptions) add(e.part);
    for (const Echo* e : {&r.echoes.one, &r.echoes.two})
        if (e->kind == EchoKind::Mirrored) add(e->part);
    return out;
}

std::vector<Id> partsOf(const HeapItem& h) {
    std::vector<Id> out;
    std::unordered_set<Id> seen;
    for (const Loose& l : h.parts)
        if (seen.insert(l.part).second) out.push_back(l.part);
    return out;
}

std::vector<std::string> usersOf(const Document& d, Id id) {
    std::vector<std::string> out;
    for (const auto& r : d.runs) {
        bool uses = false;
        eachId(*r, [&](Id other, ItemKind) { uses = uses || other == id; });
        if (uses) out.push_back(r->name);
    }
    for (const auto& h : d.heaps)
        if (std::any_of(h->parts.begin(), h->parts.end(), [&](const Loose& l) { return l.part == id; }))
            out.push_back(h->name);
    const auto add = [&](const auto& items) {
        for (const auto& i : items) {
            const auto sources = sourcesOfItem(d, i->id);
            if (std::find(sources.begin(), sources.end(), id) != sources.end()) out.push_back(i->name);
        }
    };
    add(d.paths);
    add(d.parts);
    add(d.bodies);
    return out;
}

std::string nameOf(const Document& d, Id id) {
    std::string out;
    const auto look = [&](const auto& items) {
        for (const auto& item : items)
            if (item->id == id) out = item->name;
    };
    look(d.runs), look(d.heaps), look(d.bodies), look(d.paths), look(d.parts), look(d.folders), look(d.deliveries);
    return out;
}

bool follows(const Document& d, Id source, Id item) {
    std::vector<Id> todo{source};
    std::unordered_set<Id> seen;
    while (!todo.empty()) {
        const Id id = todo.back();
        todo.pop_back();
        if (id == item) return true;
        if (!seen.insert(id).second) continue;
        for (Id s : sourcesOfItem(d, id)) todo.push_back(s);
    }
    return false;
}

PartItem resized(PartItem part, double size) {
    const double k = size / part.size;
    part.size = size;
    if (auto* p = std::get_if<Vec3>(&part.seat.point)) *p *= k;
    for (auto* two : {&part.seat.pins, &part.seat.hooks})
        if (*two)
            for (Vec3& p : **two) p *= k;
    return part;
}

Document replaced(Document d, Id old, Id by, bool keepSeat) {
    const auto from = d.part(old), to = d.part(by);
    if (!from || !to) return d;
    const auto runs = d.runs;
    for (const auto& r : runs) {
        const auto uses = partsOf(*r);
        if (std::find(uses.begin(), uses.end(), old) == uses.end()) continue;
        RunItem run = *r;
        eachId(run, [&](Id& id, ItemKind kind) {
            if (kind == ItemKind::Part && id == old) id = by;
        });
        d = with(std::move(d), std::move(run));
    }
    const auto heaps = d.heaps;
    for (const auto& h : heaps) {
        if (h->frozen) continue;
        HeapItem heap = *h;
        bool any = false;
        for (Loose& l : heap.parts)
            if (l.part == old) l.part = by, any = true;
        if (any) d = with(std::move(d), std::move(heap));
    }
    const auto parts = d.parts;
    for (const auto& p : parts)
        if (std::find(p->under.begin(), p->under.end(), old) != p->under.end() && !follows(d, by, p->id)) {
            PartItem part = *p;
            for (Id& under : part.under) under = under == old ? by : under;
            d = with(std::move(d), std::move(part));
        }
    if (keepSeat) {
        PartItem part = *to;
        part.seat = from->seat;
        d = with(std::move(d), std::move(part));
    }
    return d;
}

} // namespace vicinal
