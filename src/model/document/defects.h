#pragma once
#include "base/result.h"
#include "model/document/document.h"
#include <optional>

namespace vicinal {

/// What must not enter a document: a value that is not a number, or a length beyond kLargest. The field is the value's
/// key, the text names item, value and remedy. Rules that merely cannot be met are no defects: they are problems of the
/// evaluation.
std::optional<Problem> defectOf(const PathItem&);
std::optional<Problem> defectOf(const PartItem&);
std::optional<Problem> defectOf(const RunItem&);
std::optional<Problem> defectOf(const HeapItem&);
std::optional<Problem> defectOf(const BodyItem&);
std::optional<Problem> defectOf(const Delivery&);
/// The first one; items that stand in `before` at the same place are not looked at again.
std::optional<Problem> defectOf(const Document&, const Document* before = nullptr);

} // namespace vicinal
