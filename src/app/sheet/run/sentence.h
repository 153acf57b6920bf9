#pragma once
#include "app/state/store.h"

namespace vicinal {

/// The run as a sentence in rich text; every value is a link whose address is the field's name ("about",
/// "insetStart"...).
QString sentenceWithLinks(const RunResult&, Unit);

} // namespace vicinal
