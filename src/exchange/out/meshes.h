#pragma once
#include "exchange/out/send_out.h"

namespace vicinal {

/// A mesh where it stands. It must outlive this.
struct MeshAt {
    std::string name;
    const Mesh* mesh;
    Mat4 pose; ///< sizes allowed
};
/// All bodies that are there, wheels of the loops last.
std::vector<MeshAt> bodiesOf(const Runs&);

/// As meshesOf(Runs).
Result<std::string> meshesOf(const std::vector<MeshAt>&, const std::string& kind);

} // namespace vicinal
