#pragma once
// What goes out as STEP: shapes once, where they stand, and curves. Lengths mm.
#include "base/job.h"
#include "parts/body.h"
#include <array>
#include <string>
#include <vector>

namespace vicinal {

struct StepShape {
    std::string name;
    SolidPtr solid;                        ///< null: a shell of the mesh's triangles
    std::shared_ptr<const Mesh> mesh;      ///< where there is no solid
    std::array<double, 3> colour{0, 0, 0}; ///< red, green, blue, 0 to 1
};
struct StepInstance {
    std::size_t shape = 0;
    Mat4 pose = Mat4::Identity(); ///< rigid
    std::string name;
};
struct StepGroup {
    std::string name;
    std::vector<StepInstance> instances;
};
struct StepWire {
    std::string name;
    Ring segments;
};
struct StepScene {
    std::string name;
    std::vector<StepShape> shapes;
    std::vector<StepGroup> groups;
    std::vector<StepWire> wires;
};

/// Its shapes and wires as OpenCASCADE writes them, each as a product named "v<number>v" (shapes, then wires).
using StepBare = std::string;

/// The whole file (AP242): `bare` with the products named as they are called, a product for each group and one for all,
/// and an occurrence a place. Problem when `bare` is not such a file. Source: ISO 10303-44 (product structure) and -43
/// (item_defined_transformation) as AP242 uses them.
Result<std::string> assembled(const StepScene&, const StepBare& bare, const Stop* = nullptr);

} // namespace vicinal
