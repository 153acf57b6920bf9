#pragma once
#include <cstddef>
#include <utility>

namespace vicinal {

/// The shipped font as a file in memory: its regular or its bold weight (generated from assets/fonts).
std::pair<const unsigned char*, std::size_t> fontBytes(bool bold);

} // namespace vicinal
