#pragma once
#include "exchange/in/bring_in.h"
#include "model/document/path_item.h"

namespace vicinal {

/// Paths of a document from strands that were brought in: each named after its layer, else after the file; straight
/// legs become points that stay editable, everything else is kept as it is.
std::vector<PathItem> pathItems(const std::vector<Strand>&, const std::filesystem::path& file);

/// True for files of points (.csv .txt): they give one path through all of them.
bool isPointFile(const std::filesystem::path&);
/// The points of such a file, in its units; problems name the file. As readPoints().
Result<std::vector<Vec3>> readPointFile(const std::filesystem::path&);
/// The path through points that were brought in, named after the file.
PathItem pointsItem(const std::vector<Vec3>&, double millimetresPerUnit, bool smooth, bool closed,
                    const std::filesystem::path& file);

} // namespace vicinal
