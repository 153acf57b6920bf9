#pragma once
// What the yard does with any items, several at once, by their ids.
#include "model/document/document.h"
#include <optional>
#include <set>

namespace vicinal {

/// Runs, heaps, site bodies and paths hidden or shown. What is so already stays the same object.
Document withHidden(Document, const std::set<Id>&, bool hidden);
/// Only these are shown; a run's path with it.
Document showingOnly(Document, const std::set<Id>&);
Document showingAll(Document);
/// True when something is hidden.
bool hidesAnything(const Document&);

/// What is locked cannot be changed or deleted; it can be hidden, put elsewhere in the yard, and unlocked.
Document withLocked(Document, const std::set<Id>&, bool locked);
bool isLocked(const Document&, Id);
/// An edit that would change or delete what is locked. Nothing when `after` may come behind `before`.
std::optional<Problem> lockBroken(const Document& before, const Document& after);

/// The colour of runs, heaps and site bodies.
Document withColour(Document, const std::set<Id>&, int colour);
/// All of them deleted.
Document withoutAll(Document, const std::set<Id>&);
/// A copy of each, beside it in its folder; `made`: their ids, in the order of the originals'. What uses another one of
/// them uses its copy: a run copied together with its path follows the copied path.
Document copied(Document, const std::set<Id>&, std::vector<Id>* made = nullptr);
/// Moved in the document's order before an item of the same kind; 0: behind the last of its kind.
Document movedBefore(Document, const std::set<Id>&, Id before);
/// Put into a folder; 0: into none.
Document intoFolder(Document, const std::set<Id>&, Id folder);
/// What lies in a folder.
std::set<Id> inFolder(const Document&, Id folder);

} // namespace vicinal
