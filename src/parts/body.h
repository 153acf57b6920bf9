#pragma once
#include "geometry/mesh/tree.h"
#include "layout/seat.h"
#include "parts/solid/solid.h"
#include <mutex>
#include <span>

namespace vicinal {

struct Made;  // parts/makers/maker.h
struct Prism; // parts/cuts/prism.h

/// A part's shape as it is worked with: always triangles, and the exact solid where there is one. Part axes, mm.
/// The finer triangles that were asked for last. Safe from several threads.
struct KeptFine {
    mutable std::mutex mutex;
    mutable double asked = 0, within = 0;
    mutable std::shared_ptr<const Mesh> mesh;
};

struct Body {
    std::shared_ptr<const Mesh> mesh;
    LazySolidPtr solid;                   ///< null for meshes, and for pieces of which one is a mesh
    std::optional<Pins> pins{};           ///< as its maker gives them
    bool cuts = false;                    ///< says what is cut away
    bool slow = false;                    ///< its solid takes longer to build than one waits for in the window
    std::shared_ptr<const Prism> prism{}; ///< where it was made as one
    MeshReport report{};                  ///< of a mesh that was brought in
    double within = 0; ///< mm that the triangles are off the solid's faces at most, where that was asked for; else 0
    std::shared_ptr<const LazyTree> tree = std::make_shared<const LazyTree>(); ///< of the mesh: see treeOf()
    std::shared_ptr<const KeptFine> fine = std::make_shared<const KeptFine>(); ///< see fineMesh()
};
using BodyPtr = std::shared_ptr<const Body>;

/// The bounding tree of the body's triangles, made when it is first asked for.
inline const MeshTree& treeOf(const Body& b) { return b.tree->of(b.mesh); }

/// The exact solid; null where there is none.
inline SolidPtr solidOf(const Body& b) { return b.solid ? b.solid->get() : nullptr; }

/// Triangles no farther off the solid's faces than `within` mm, as meshWithin(); the body's own where its faces are
/// flat, or where there is no solid: then `within` becomes 0. Asked again alike they are the same object.
std::shared_ptr<const Mesh> fineMesh(const Body&, double& within);

/// A body of a solid: meshed. Problem when that fails.
Result<BodyPtr> bodyOf(SolidPtr);
/// What a maker made.
Result<BodyPtr> bodyOf(const Result<Made>&);
/// A body of a mesh.
BodyPtr bodyOf(std::shared_ptr<const Mesh>, MeshReport = {});

/// x -> k R x + t; R a rotation, or one with a mirroring (then triangles are turned over, too).
BodyPtr moved(const BodyPtr&, const Mat3& R, const Vec3& t, double k = 1);
/// Several as one. Exact when all are; pins: the first one's first and the last one's second, when both have some.
BodyPtr together(std::span<const BodyPtr>);

/// Pins of a seated part: picked ones, else its maker's.
std::optional<Pins> pinsOf(const Body&, const Seat&);

/// True extents in seat axes, from the seat point: exact for solids, of the triangles for meshes.
Box3 extents(const Body&, const Seat&);

/// Volume, mm^3 (0 for sheets), area, mm^2, and centre of volume: exact for solids.
double volumeOf(const Body&);
double areaOf(const Body&);
/// The same volume, and nothing where the body encloses none (sheets, open meshes): that is not known, and not 0.
/// `soon`: of the triangles where the solid takes long to build.
std::optional<double> enclosedVolume(const Body&, bool soon = false);
Vec3 centreOf(const Body&);

/// What a seated part measures. mm, mm^2, mm^3; seat axes.
struct Measures {
    double before = 0, behind = 0; ///< from the seat point along the nose, and against it
    double left = 0, right = 0, up = 0, down = 0;
    double volume = 0, area = 0;
    Vec3 centre = Vec3::Zero(); ///< of volume
    std::optional<double> pinDistance{};
    bool exact = false;     ///< from the solid; else from triangles
    bool watertight = true; ///< false: the volume is not to be trusted
    double length() const { return before + behind; }
    double width() const { return left + right; }
    double height() const { return up + down; }
};
/// Precondition: the seat has no defect.
Measures measuresOf(const Body&, const Seat&);
/// Mass, kg, of a volume (mm^3) at a density (kg/m^3).
inline double mass(double volume, double density) { return volume * 1e-9 * density; }

/// A round hole in a part: the cylinder between its two ends.
struct Hole {
    Vec3 centre, axis; ///< middle of its length; unit
    double radius = 0, depth = 0;
    double error = 0; ///< mm; farthest of its points from the fitted circle (0 for solids)
};
/// Solids: concave cylindrical faces, joined round the axis, that go at least half-way round. Meshes: smooth concave
/// strips of triangles whose points fit a circle within a fiftieth of its radius. Sorted by radius, then place.
std::vector<Hole> holesOf(const Body&);
/// All such round faces that go at least half-way round, shafts (`hole` false) as well.
struct RoundFace {
    Vec3 centre, axis; ///< middle of its length; unit
    double radius = 0, half = 0;
    bool hole = false;
};
std::vector<RoundFace> roundFacesOf(const Body&);

/// A place of a part that a seat or a pin can be put on, or that gives a direction.
struct Spot {
    enum class Kind { Corner, EdgeMiddle, FaceCentre, HoleAxis, ShaftAxis, VolumeCentre, BoxPoint } kind;
    Vec3 at;
    Vec3 direction = Vec3::Zero(); ///< of the edge, of the face outwards, of the axis; zero where there is none
    double size = 0;               ///< length of the edge, diameter of the hole or shaft; 0 where it says nothing
    double error = 0;              ///< mm, of a fit
};
/// All of them, at most `most` of a kind (the largest first, so that noise drops out).
std::vector<Spot> spotsOf(const Body&, size_t most = 2000);

/// A seat that is probably right, with the reason to show.
struct Proposal {
    enum class Kind { Foot, Middle, TwoHoles, OwnPins } kind;
    Seat seat;
};
/// The likely seats, best first: between its maker's pins; between the pins for parts with just two equal parallel
/// holes (nose along the line through them); middle of the foot for parts at least half as tall as long, middle for
/// flat ones, and then the other of these two. These two keep the nose and crown of the seat it has `now`. `holes`:
/// those of the body, when they are known already.
std::vector<Proposal> proposalsFor(const Body&, const Seat& now = {}, const std::vector<Hole>* holes = nullptr);

/// How far the part's own origin is from its box, in sizes of the box; above 1 worth a word.
double farOrigin(const Box3&);

} // namespace vicinal
