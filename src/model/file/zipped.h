#pragma once
#include "base/result.h"
#include <string>
#include <string_view>
#include <vector>

namespace vicinal {

/// A file of an archive. The bytes must outlive the call they are handed to.
struct Packed {
    std::string name;
    std::string_view bytes;
    bool stored = false; ///< as it is, not compressed
    std::string from{};  ///< a file that holds the bytes instead
};
/// A zip archive with these files in order; the same files give the same bytes.
Result<std::string> zipped(const std::vector<Packed>&);

} // namespace vicinal
