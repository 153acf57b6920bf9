#pragma once
// The readers that use foreign libraries, in this very process. Only the reading child (foreign.h) and tests call them:
// a file can crash such a library, or keep it busy for ever. Arguments and results as in bring_in.h.
#include "exchange/in/bring_in.h"

namespace vicinal::here {

Result<CurveFile> readDxf(const std::filesystem::path&, const std::string& name, const Stop* = nullptr);
/// Entities are not from elsewhere; what they grow to is bounded by the child's limits only.
Result<CurveFile> readSvg(const std::string& bytes, const std::string& name, const Stop* = nullptr);
Result<CurveFile> readStepCurves(const std::filesystem::path&, const std::string& name);
Result<StepFile> readStepBodies(const std::filesystem::path&, const std::string& name, const Stop* = nullptr,
                                Progress* = nullptr);
/// Four bytes, the lowest first; 0 where they are not there.
std::uint32_t wordAt(const std::string& bytes, size_t at);
/// Why a mesh file would grow beyond use, told before it does: nodes of a scene that multiply, or stand in a circle.
std::optional<Problem> tooMuch(const std::string& bytes, const std::string& extension);
/// A face has at most so many corners: cutting it into triangles takes their square.
inline constexpr unsigned kMostCorners = 10'000;
Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension,
                                             double millimetresPerUnit, MeshReport* = nullptr, const Stop* = nullptr,
                                             Progress* = nullptr);

} // namespace vicinal::here
