#pragma once
#include "model/document/document.h"
#include <set>

namespace vicinal {

/// Runs, heaps and paths by their ids, hidden or shown. What is so already stays the same object.
Document withHidden(Document, const std::set<Id>&, bool hidden);
/// Only these are shown; a run's path with it.
Document showingOnly(Document, const std::set<Id>&);
Document showingAll(Document);
/// True when something is hidden.
bool hidesAnything(const Document&);

} // namespace vicinal
