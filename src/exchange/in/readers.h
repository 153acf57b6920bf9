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
Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension,
                                             double millimetresPerUnit, MeshReport* = nullptr, const Stop* = nullptr,
                                             Progress* = nullptr);

} // namespace vicinal::here
