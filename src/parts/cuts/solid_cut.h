#pragma once
// Cutting and raising bodies with OpenCASCADE: all tools at once.
#include "base/job.h"
#include "parts/body.h"

namespace vicinal {

/// A solid along a direction: an outline (in the plane of `axes`, from its `at`), from `from` to `to` along the third.
struct ToolPrism {
    std::shared_ptr<const std::vector<Ring>> rings;
    Mat3 axes;
    Vec3 at;
    double size = 1;
    double from = 0, to = 0;
};
/// A tool: an outline raised, or a solid as it stands.
struct Tool {
    std::variant<ToolPrism, SolidPtr> shape;
    Mat3 turn = Mat3::Identity(); ///< of the solid: x -> size turn x + at
    Vec3 at = Vec3::Zero();
    double size = 1;
};

/// The body without the tools, or with them (`raise`). Which tools touched nothing is told in `missed`.
/// Problem: no exact body ("of"), nothing left or nothing touched ("run"), OpenCASCADE cannot.
Result<BodyPtr> cutSolid(const Body&, std::span<const Tool>, bool raise, std::vector<size_t>& missed,
                         const Stop* = nullptr, Progress* = nullptr);

} // namespace vicinal
