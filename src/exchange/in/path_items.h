#pragma once
#include "exchange/in/bring_in.h"
#include "model/document/path_item.h"

namespace vicinal {

/// Paths of a document from strands that were brought in: each named after its layer, else after the file; straight
/// legs become points that stay editable, everything else is kept as it is.
std::vector<PathItem> pathItems(const std::vector<Strand>&, const std::filesystem::path& file);

} // namespace vicinal
