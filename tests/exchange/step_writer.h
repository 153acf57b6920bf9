#pragma once
#include <string>

namespace vicinal::test {

/// Writes, by OpenCASCADE, a file with a free circle (radius 20) and a wire of line 100, half circle 25 and line 80;
/// and one with a box 10 x 20 x 30.
void writeStep(const std::string& wires, const std::string& body);

} // namespace vicinal::test
