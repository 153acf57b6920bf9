#pragma once
#include "exchange/out/send_out.h"
#include "model/delivery/delivery.h"

namespace vicinal {

/// What goes: everything of an evaluation, or what a delivery asks for.
struct ExportSet {
    Standings standing; ///< runs, heaps and site bodies that have bodies
    std::vector<std::shared_ptr<const PathResult>> paths;
    std::vector<Words> remarks; ///< what was asked for and cannot go
};
/// `what`: ids of runs, heaps and paths; none: everything that is not hidden. The path of a run that goes is not
/// among them unless it is asked for. Problem: nothing is left, or something that was asked for is wrong.
Result<ExportSet> exportSetOf(const Evaluation&, const std::vector<Id>& what);

/// The colour of a run, red, green, blue, 0 to 1: a quiet tone, as the view draws its parts.
std::array<double, 3> toneOf(int colour);

/// The same, and the wheels of their loops, with triangles no farther off curved faces than `within` mm, at the places'
/// sizes: for files of triangles. `within`: what the coarsest is off at most (a very large part is not made finer than
/// a two hundred thousandth of it). Bodies that were brought in as triangles stay as they are. Problem ("within"): more
/// triangles than a file should hold.
Result<Standings> meshedWithin(const Standings&, double& within, const Stop* = nullptr);

} // namespace vicinal
