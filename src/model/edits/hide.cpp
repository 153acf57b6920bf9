#include "model/edits/hide.h"

namespace vicinal {
namespace {

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
    each(d.runs);
    each(d.heaps);
    each(d.paths);
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
        for (const auto& i : items)
            if (i->hidden) return true;
        return false;
    };
    return any(d.runs) || any(d.heaps) || any(d.paths);
}

} // namespace vicinal
