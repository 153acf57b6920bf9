#include "model/edits/yard_edits.h"
#include "base/text.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <map>
#include <unordered_map>

namespace vicinal {
namespace {

/// Hands every list of items to `use`.
template<class D, class Use> void eachList(D& d, Use&& use) {
    use(d.runs), use(d.heaps), use(d.bodies), use(d.paths), use(d.parts);
}

/// Changes the items that `change` (true when it did something to the copy) wants changed.
template<class List, class Change> void changeAll(List& items, Change&& change) {
    for (auto& item : items) {
        auto copy = *item;
        if (change(copy)) item = std::make_shared<const decltype(copy)>(std::move(copy));
    }
}

/// Puts `wanted(item)` into every item that is otherwise.
template<class Wanted> Document hiding(Document d, Wanted&& wanted) {
    const auto each = [&](auto& items) {
        for (auto& item : items) {
            const bool hidden = wanted(*item);
            if (item->hidden == hidden) continue;
            auto copy = *item;
            copy.hidden = hidden;
            item = std::make_shared<const decltype(copy)>(std::move(copy));
        }
    };
    each(d.runs), each(d.heaps), each(d.bodies), each(d.paths);
    return d;
}

} // namespace

Document withHidden(Document d, const std::set<Id>& ids, bool hidden) {
    return hiding(std::move(d), [&](const auto& item) { return ids.count(item.id) ? hidden : item.hidden; });
}

Document showingOnly(Document d, const std::set<Id>& ids) {
    std::set<Id> shown = ids;
    for (const auto& r : d.runs)
        if (ids.count(r->id)) shown.insert(r->path);
    return hiding(std::move(d), [&](const auto& item) { return !shown.count(item.id); });
}

Document showingAll(Document d) {
    return hiding(std::move(d), [](const auto&) { return false; });
}

bool hidesAnything(const Document& d) {
    const auto any = [](const auto& items) {
        return std::any_of(items.begin(), items.end(), [](const auto& i) { return i->hidden; });
    };
    return any(d.runs) || any(d.heaps) || any(d.bodies) || any(d.paths);
}

Document withLocked(Document d, const std::set<Id>& ids, bool locked) {
    eachList(d, [&](auto& items) {
        changeAll(items, [&](auto& item) {
            return ids.count(item.id) && item.locked != locked && (item.locked = locked, true);
        });
    });
    return d;
}

bool isLocked(const Document& d, Id id) {
    bool out = false;
    eachList(d, [&](const auto& items) {
        for (const auto& i : items) out = out || (i->id == id && i->locked);
    });
    return out;
}

std::optional<Problem> lockBroken(const Document& before, const Document& after) {
    std::optional<Problem> out;
    const auto look = [&](const auto& old, const auto& now) {
        if (out || old == now) return;
        for (size_t i = 0; i < old.size() && !out; ++i) {
            if (!old[i]->locked || (i < now.size() && now[i] == old[i])) continue;
            const auto found =
                std::find_if(now.begin(), now.end(), [&](const auto& item) { return item->id == old[i]->id; });
            if (found != now.end()) {
                const auto &a = *old[i], &b = **found;
                const bool moved = &a == &b;
                // Where the yard keeps it is no change of it: only these three then differ.
                bool kept = a.folder != b.folder || a.locked != b.locked;
                if constexpr (requires { a.hidden; }) kept = kept || a.hidden != b.hidden;
                if (moved || kept) continue;
            }
            out = Problem{"\"" + text::quoted(old[i]->name) + "\" is locked. Unlock it in the yard first.", "locked"};
        }
    };
    look(before.runs, after.runs), look(before.heaps, after.heaps), look(before.bodies, after.bodies);
    look(before.paths, after.paths), look(before.parts, after.parts);
    return out;
}

Document withColour(Document d, const std::set<Id>& ids, int colour) {
    const auto paint = [&](auto& item) {
        return ids.count(item.id) && item.colour != colour && (item.colour = colour, true);
    };
    changeAll(d.runs, paint), changeAll(d.heaps, paint), changeAll(d.bodies, paint);
    return d;
}

Document withoutAll(Document d, const std::set<Id>& ids) {
    for (Id id : ids) d = without(std::move(d), id);
    return d;
}

namespace {

/// Ids of copies in place of those of their originals.
struct Renamed {
    const std::unordered_map<Id, Id>& to;
    void operator()(Id& id) const {
        if (const auto it = to.find(id); it != to.end()) id = it->second;
    }
    void operator()(PathItem& p) const {
        if (auto* d = std::get_if<DerivedRecipe>(&p.recipe)) {
            (*this)(d->source);
            if (auto* laid = std::get_if<LaidOn>(&d->change)) (*this)(laid->body);
            if (auto* lifted = std::get_if<LiftedOver>(&d->change)) (*this)(lifted->other);
        }
        if (auto* j = std::get_if<JoinedRecipe>(&p.recipe))
            for (Id& member : j->members) (*this)(member);
        if (auto* e = std::get_if<EdgesRecipe>(&p.recipe)) (*this)(e->part);
        if (auto* s = std::get_if<ShapeRecipe>(&p.recipe))
            if (auto* w = std::get_if<WheelShape>(&s->shape))
                for (Wheel& wheel : w->wheels) (*this)(wheel.part);
    }
    void operator()(PartItem& p) const {
        for (Id& under : p.under) (*this)(under);
        if (auto* e = std::get_if<ExtrudedPath>(&p.shape)) (*this)(e->path);
        if (auto* all = std::get_if<Pieces>(&p.shape))
            for (Piece& piece : all->list) {
                if (auto* e = std::get_if<ExtrudedPath>(&piece.shape)) (*this)(e->path);
                if (auto* u = std::get_if<PartUse>(&piece.shape)) (*this)(u->part);
            }
    }
    void operator()(BodyItem& b) const { eachSource(b.shape, *this); }
    void operator()(HeapItem& h) const {
        for (Loose& l : h.parts) (*this)(l.part);
    }
    void operator()(RunItem& r) const {
        eachId(r, [this](Id& id, ItemKind) { (*this)(id); });
        for (Check& c : r.checks)
            for (Excuse& x : c.excused) (*this)(x.part), (*this)(x.otherPart); // that hold for these parts
    }
};

} // namespace

Document copied(Document d, const std::set<Id>& ids, std::vector<Id>* made) {
    std::unordered_map<Id, Id> to;
    Id next = d.nextId;
    for (Id id : ids) // in the order in which they are put in below
        if (!nameOf(d, id).empty() && !d.folder(id) && !d.delivery(id)) to[id] = 0;
    eachList(d, [&](const auto& items) {
        for (const auto& i : items)
            if (to.count(i->id)) to[i->id] = next++;
    });
    const Document from = d;
    eachList(from, [&](const auto& items) {
        for (const auto& i : items) {
            if (!to.count(i->id)) continue;
            auto copy = *i;
            copy.id = 0;
            copy.locked = false;
            if constexpr (requires { copy.colour; }) {
                if constexpr (std::is_same_v<decltype(copy), RunItem>) copy.colour = int(d.runs.size());
            }
            Renamed{to}(copy);
            d = with(std::move(d), std::move(copy));
        }
    });
    if (made)
        for (Id id : ids)
            if (to.count(id)) made->push_back(to[id]);
    return d;
}

Document movedBefore(Document d, const std::set<Id>& ids, Id before) {
    eachList(d, [&](auto& items) {
        const bool here = std::any_of(items.begin(), items.end(), [&](const auto& i) { return i->id == before; });
        if (before != 0 && !here) return;
        std::decay_t<decltype(items)> moved, out;
        for (const auto& i : items)
            if (ids.count(i->id) && i->id != before) moved.push_back(i);
        if (moved.empty()) return;
        for (const auto& i : items) {
            if (i->id == before) out.insert(out.end(), moved.begin(), moved.end());
            if (!ids.count(i->id) || i->id == before) out.push_back(i);
        }
        if (before == 0) out.insert(out.end(), moved.begin(), moved.end());
        items = std::move(out);
    });
    return d;
}

Document intoFolder(Document d, const std::set<Id>& ids, Id folder) {
    if (folder != 0 && !d.folder(folder)) return d;
    eachList(d, [&](auto& items) {
        changeAll(items, [&](auto& item) {
            return ids.count(item.id) && item.folder != folder && (item.folder = folder, true);
        });
    });
    return d;
}

std::set<Id> inFolder(const Document& d, Id folder) {
    std::set<Id> out;
    eachList(d, [&](const auto& items) {
        for (const auto& i : items)
            if (i->folder == folder) out.insert(i->id);
    });
    return out;
}

} // namespace vicinal
