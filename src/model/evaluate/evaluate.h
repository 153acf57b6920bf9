#pragma once
#include "base/job.h"
#include "clearance/verdict.h"
#include "geometry/curves/offset.h"
#include "geometry/heights/lifted.h"
#include "geometry/wheels/wheels.h"
#include "model/document/document.h"
#include "model/evaluate/standing.h"
#include "model/recipes/path_recipe.h"
#include "parts/rails/pieces.h"
#include <atomic>
#include <cmath>
#include <map>

namespace vicinal {

struct CutReport;      // parts/cuts/webs.h
struct SolvedValue;    // model/evaluate/giving.h
struct JoinedRecipe;   // model/recipes/recipe.h
struct PlacementInput; // layout/placement_input.h
struct SweptEnvelope;  // layout/vehicles/envelope.h
struct WheelPlaced;    // model/evaluate/bodies/wheel_bodies.h
struct WheelSeat;      // the same

struct PathResult;
struct PartResult;

/// A site body as it stands: its one place.
struct BodyResult : Standing {
    BodyResult() { kind = Kind::SiteBody; }
    std::shared_ptr<const BodyItem> item;
    std::shared_ptr<const PathResult> path;    ///< that it follows; null when it follows none
    std::shared_ptr<const PartResult> part;    ///< that it is taken from
    std::shared_ptr<const RunResult> run;      ///< that it is made by
    std::shared_ptr<const PathResult> outline; ///< of its section
    std::shared_ptr<const BodyResult> of;      ///< that is cut
    /// The last good ones when `problem` is set; may be null.
    BodyPtr shape;                        ///< before its own size
    BodyPtr body;                         ///< in its own axes, with its size
    Vec3 home = Vec3::Zero();             ///< where its shape puts its own origin
    std::shared_ptr<const Ground> ground; ///< the body as it stands, as the surface that is drawn
    std::shared_ptr<const Ground> exact;  ///< the same for what stands and lies on it: curved faces within 0.01 mm
    std::shared_ptr<const LazySurface> surface; ///< of that one
    bool deferred = false;     ///< it is left for later, and shown as it was last: the next evaluation takes it up
    std::vector<RailBar> bars; ///< of a rail
    std::shared_ptr<const CutReport> cut; ///< of what is cut; else null
};

/// Loose parts: a place each. Those whose part is missing or wrong are left out, which is its problem.
struct HeapResult : Standing {
    HeapResult() { kind = Kind::Heap; }
    std::shared_ptr<const HeapItem> item;
    std::vector<std::shared_ptr<const PartResult>> parts; ///< as partsOf(); null where missing
};

struct PathResult {
    std::shared_ptr<const PathItem> item;
    std::optional<Path> path; ///< the last good one when `problem` is set; nothing when there never was one
    std::optional<Problem> problem;
    bool cancelled = false; ///< the problem is that its work was stopped: the next evaluation tries again
    std::vector<std::shared_ptr<const PathResult>> sources; ///< those it was made from; null where one is missing
    BodyAsked body;                                         ///< the part or site body that its recipe asks
    std::optional<Problem> bodyProblem;                     ///< of that site body, by its name
    std::vector<Words> remarks, broken;                     ///< as Built
    std::vector<OffsetPart> lost;
    std::optional<WheelLoop> loop;         ///< the last good one
    std::vector<StrandCrossing> crossings; ///< as Built
    /// A run for which something of this path gives way, the parts it needs for that, what gave, or why nothing could:
    /// then the path is as its recipe says.
    std::shared_ptr<const RunItem> giver;
    std::vector<std::shared_ptr<const PartResult>> giverParts;
    std::shared_ptr<const PathResult> giverAlong; ///< what a wheel moves along
    std::shared_ptr<const SolvedValue> gave;      ///< null when nothing did
    std::optional<Problem> cannotGive;
    std::vector<std::shared_ptr<const PartResult>> wheelParts; ///< that its wheels show as; null where one is missing
    std::vector<WheelPlaced> wheels;                           ///< those that show as bodies
    /// Of the path as it is.
    const PathRecipe& recipe() const;
};

struct PartResult {
    std::shared_ptr<const PartItem> item;
    BodyPtr body;                     ///< the last good one when `problem` is set; may be null
    BodyPtr shape;                    ///< the same before the part's own size
    std::shared_ptr<const Mesh> mesh; ///< of the body
    std::optional<Box3> seated;       ///< true extents in seat axes; nothing while the seat is wrong
    std::optional<Problem> problem;
    bool cancelled = false;                               ///< as of a path
    std::vector<std::shared_ptr<const PartResult>> parts; ///< used as pieces; null where one is missing
    std::vector<std::shared_ptr<const PathResult>> paths; ///< that are extruded
    std::vector<std::shared_ptr<const PartResult>> under; ///< what its pins stand on, as PartItem::under; null where
                                                          ///< that is the path, or missing
};

/// The places of a run with all they were made from. Shared and immutable.
struct Placed : Places {
    Path path;
    std::vector<PlacedPart> parts; ///< as laid->usedSlots

    const PlacedPart& part(size_t place) const { return parts[laid->slot[place]]; }
};

struct RunResult : Standing {
    std::shared_ptr<const RunItem> item;
    std::shared_ptr<const PathResult> path; ///< null when the document has no such path
    std::shared_ptr<const PartResult> part;
    /// All it uses, as partsOf(), then what these stand on: the slots; null where missing.
    std::vector<std::shared_ptr<const PartResult>> parts;
    std::shared_ptr<const PathResult> aim;    ///< the path its noses point at, if any
    std::shared_ptr<const RunResult> between; ///< the run whose places its bays lie between, if any
    /// Bodies that it asks, null where it asks none or one is missing: aimed at, crowns stand off, feet stand on.
    std::array<std::shared_ptr<const BodyResult>, 3> asked{};
    std::shared_ptr<const Placed> placed;        ///< its instances with all else: set by stand()
    std::vector<WheelSeat> seats;                ///< of a chain round wheels
    std::shared_ptr<const SweptEnvelope> sweeps; ///< the room its vehicles take; null for other runs
    /// How far what is coupled can go on along an open path, mm: not a number until wayRange() has been asked.
    std::shared_ptr<std::atomic<double>> farthest = std::make_shared<std::atomic<double>>(std::nan(""));
    void stand(std::shared_ptr<const Placed>); ///< there, or (null) nowhere
};

/// Everything a document says, worked out. Shared and immutable like the document.
struct Evaluation {
    std::map<Id, std::shared_ptr<const PathResult>> paths;
    std::map<Id, std::shared_ptr<const PartResult>> parts;
    std::vector<std::shared_ptr<const RunResult>> runs; ///< in the document's order
    std::vector<std::shared_ptr<const HeapResult>> heaps;
    std::map<Id, std::shared_ptr<const BodyResult>> bodies;
    std::vector<Id> bodyOrder;                      ///< their ids in the document's order
    std::vector<std::shared_ptr<const void>> order; ///< all of these, each behind what it is made from

    Evaluation() = default;
    Evaluation(const Evaluation&) = delete;
    Evaluation& operator=(const Evaluation&) = delete;
    ~Evaluation();

    std::shared_ptr<const RunResult> run(Id) const;
    std::shared_ptr<const HeapResult> heap(Id) const;
    /// Runs, heaps and site bodies: all that has bodies.
    Standings standing() const;
    /// The one of these with that id; null when there is none.
    std::shared_ptr<const Standing> standing(Id) const;
    bool cancelled() const; ///< something in it was stopped
    bool deferred() const;  ///< something in it was left for later
};

/// Works out what changed since `before` (may be null) and shares the rest: an item that is the same object, with the
/// same inputs, keeps its result. Pure: the same arguments give the same answer on any thread. Stopped: what was not
/// reached keeps its last good state and says so.
std::shared_ptr<const Evaluation> evaluate(const Document&, const std::shared_ptr<const Evaluation>& before = nullptr,
                                           Job* = nullptr);

/// Open paths, not members yet, that have an end within the joined recipe's gap of the end of `joined` (the path it
/// gives).
std::vector<Id> goingOn(const Evaluation&, const JoinedRecipe&, const Path& joined);

/// The wheels of a run's loop that show as bodies, in the loop's order, turned as typed, else as its chain wants them;
/// null when there are none.
std::shared_ptr<const Standing> wheelsOf(const RunResult&);
/// The same of a path, turned as the first run on it that has a chain wants them.
std::shared_ptr<const Standing> wheelsOf(const Evaluation&, const PathResult&);
/// The wheels of each loop behind the first of these that follows it, unless they are there already.
Standings withWheels(const Standings&);

/// What gives way for a run with another count, worked out anew. Problem when nothing gives, or nothing can.
Result<SolvedValue> solvedValueFor(const RunResult&, long count, const Stop* = nullptr);

/// The order of a run as the layout layer takes it. Precondition: path and parts are there and have no problem.
PlacementInput orderOf(const RunResult&);

/// The smallest radius of a bend, mm, that all vehicles of a coupled run can stand in with what is under them turning
/// as far as the rule lets it; 0 for other runs.
double passesBends(const RunResult&);

/// The table of counts for a run. Problem when its path or part is missing or wrong.
Result<std::vector<Fit>> fitsOf(const RunResult&, const Stop* = nullptr);

/// Length, mm, of path a run's part takes up at the path's start; 0 when it cannot be placed.
double partLength(const RunResult&);

} // namespace vicinal
