#pragma once
#include "exchange/out/send_out.h"

namespace vicinal {

/// Of work that was stopped before anything was written.
inline const Problem kCancelled{"Sending out was cancelled; the file is as it was.", ""};

/// A mesh where it stands. It must outlive this.
struct MeshAt {
    std::string name;
    const Mesh* mesh;
    Mat4 pose;          ///< sizes allowed
    std::string part{}; ///< whose mesh it is
};
/// All bodies that are there, wheels of the loops last.
std::vector<MeshAt> bodiesOf(const Standings&);

/// As meshesOf(Standings).
Result<std::string> meshesOf(const std::vector<MeshAt>&, const std::string& kind);

} // namespace vicinal
