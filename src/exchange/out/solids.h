#pragma once
// Bodies as files: STEP, 3MF, a file a part, fused.
#include "exchange/out/export_set.h"
#include "exchange/step/scene.h"

namespace vicinal {

/// Each part once (one for each size), each place an occurrence in a group by run, wheels in groups by loop, paths as
/// wires. Problem: a part that STEP cannot hold.
Result<StepScene> stepSceneOf(const ExportSet&, const std::string& title, bool paths);
Result<std::string> stepOf(const StepScene&, Job* = nullptr);

/// 3MF (core specification 1.2), mm: an object a part, an item a place; sizes are in the items' transforms. What is
/// open goes as a surface.
Result<std::string> threeMfOf(const ExportSet&, const std::string& title);

/// A file by its name and bytes.
struct OutFile {
    std::string name, bytes;
};
/// Each part in a file of its own in its own axes, and NAME-poses.csv: where each stands, as rows of the pose's matrix.
/// `kind`: "step", "stl", "obj", "ply" or "3mf".
Result<std::vector<OutFile>> filesByPart(const ExportSet&, const std::string& name, const std::string& kind,
                                         Job* = nullptr);

/// All bodies united into one: exact. Problem: a part without an exact solid (which), more than kMostFused, none.
Result<BodyPtr> fusedOf(const ExportSet&, Job* = nullptr);
/// One body in its own axes, as a file of that kind. `mesh`: its triangles for files of them; null: its own.
Result<std::string> bodyFile(const BodyPtr&, const std::string& name, const std::string& kind, Job* = nullptr,
                             int colour = 0, const Mesh* mesh = nullptr);
inline constexpr std::size_t kMostFused = 2000;

} // namespace vicinal
