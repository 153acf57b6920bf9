#pragma once
#include "model/evaluate/evaluate.h"
#include <filesystem>

namespace vicinal {

/// The columns of the setting-out schedule, in order.
inline constexpr const char* kScheduleColumns = "run,place,part,station,x,y,z,heading,slope,roll,qw,qx,qy,qz,size";

using Runs = std::vector<std::shared_ptr<const RunResult>>;
inline Standings asStanding(const Runs& runs) { return {runs.begin(), runs.end()}; }

/// The runs to send out: all, or those named. Problem when one is not there, or has nothing sound to send.
Result<Runs> chosenRuns(const Evaluation&, const std::vector<std::string>& names = {});
/// The same with heaps, where loose parts can go, too.
Result<Standings> chosenRunsAndHeaps(const Evaluation&, const std::vector<std::string>& names = {});

/// Those of all runs and heaps that have something sound to send, and what is wrong with the others. Problem when there
/// is no run.
struct SoundRuns {
    Standings runs;
    std::vector<Problem> problems;
};
Result<SoundRuns> soundRuns(const Evaluation&);

/// A cell of a CSV, in quotes where it needs them. A name that a table program would take for a formula is led by an
/// apostrophe, which it takes for text.
std::string csvCell(std::string);
/// Setting-out schedule, mm and degrees; the quaternion turns part axes after seating. CSV: 6 decimals, LF, quoted
/// names.
std::string scheduleCsv(const Standings&);
/// The same as a JSON object {"units", "angles", "places": [...]}, numbers with 17 significant digits.
std::string scheduleJson(const Standings&);

/// Runs, with wheels that turn with them, at equal steps of time, the first at time 0.
struct Film {
    std::vector<Standings> frames;
    double step = 0; ///< s
};
/// What moves, as it moves: `frames` of them over `seconds`, ends included; seconds 0: until the slowest has gone once
/// along. Problem: nothing moves, a count that cannot be, a run that cannot go on (which, and when).
Result<Film> filmOf(const std::shared_ptr<const Evaluation>&, const std::vector<std::string>& names, long frames,
                    double seconds);
/// `time,` and then the columns of the schedule: all places in every frame.
std::string posesCsv(const Film&);

/// Binary glTF 2.0: metres, y up; one mesh per part (origin at its seat point), one node per place under a node per
/// run, and one per wheel that shows. With a film one animation, a channel for every node that moves.
std::string glb(const Standings&, const Film* = nullptr);

/// Everything that stands there as triangles, mm, z up: ".obj" (an object each), ".stl" (binary), ".ply" (binary,
/// doubles). Problem: more than kMostTrianglesOut.
Result<std::string> meshesOf(const Standings&, const std::string& kind);
inline constexpr size_t kMostTrianglesOut = 20'000'000;

/// DXF (text, release AC1015): a block per part with its outline seen from its crown, one insert per place turned as
/// it stands, each path on a layer of its own.
Result<std::string> dxf(const Standings&);

/// Writes a file of the kind its extension says (.csv, .json, .dxf, .glb, .obj, .stl, .ply),
/// atomically.
/// Stopped before the file is put in place: a problem, and the old file stays.
std::optional<Problem> sendOut(const Standings&, const std::filesystem::path&, const Stop* = nullptr);
/// A film as .glb or .csv.
std::optional<Problem> sendOut(const Film&, const std::filesystem::path&);

} // namespace vicinal
