#pragma once
// How a path is made. Every recipe stays editable; a path is always worked out from it anew.
#include "base/describe.h"
#include "base/id.h"
#include "geometry/curves/edit.h"
#include "geometry/curves/offset.h"
#include "geometry/heights/lifted.h"
#include "geometry/mesh/ground.h"
#include "geometry/wheels/wheels.h"
#include "model/recipes/path_recipe.h"
#include <algorithm>
#include <string>
#include <variant>
#include <vector>

namespace vicinal {

struct PathPoint {
    Vec3 at;
    bool smooth = true;              ///< false: a corner
    double fillet = 0;               ///< mm; radius that rounds a corner between straight legs
    std::optional<Vec3> in{}, out{}; ///< handles of a spline, mm from the point: `in` towards the point before
    std::optional<Vec3> via{};       ///< the leg to the next point is the arc through this point
    bool operator==(const PathPoint&) const = default;
};

/// A path drawn or typed as points: straight legs between corners, a C2 spline through smooth points, arcs and legs
/// with handles where points say so.
struct PointsRecipe {
    std::vector<PathPoint> points;
    bool closed = false;
    Knotting knotting = Knotting::Centripetal;
};

/// A path kept as it was brought in.
struct BroughtCurve {
    std::vector<Segment> segments;
    bool closed = false;
    std::string source; ///< file name it came from
};

/// A plane a flat shape is drawn in; its own x, y are: plan x, y; front x, z; side y, z.
enum class Plane { Plan, Front, Side };
Mat3 axesOf(Plane); ///< columns: its x, y, normal

struct CircleShape {
    double radius = 500;
};
struct EllipseShape {
    double radiusX = 600, radiusY = 300;
};
struct RectangleShape {
    double width = 1200, height = 800, radius = 100;
};
struct SlotShape {
    double length = 1000, width = 300;
};
struct PolygonShape {
    long sides = 6;
    double radius = 500;
};
enum class HelixBy { Turns, Pitch };
struct HelixShape {
    double radius = 800, radiusTop = 800;
    HelixBy by = HelixBy::Turns;
    double turns = 2, pitch = 1200; ///< pitch: rise of one turn, mm
    double height = 2400;
    bool leftHanded = false;
};
struct ArcShape { ///< through three points in space
    Vec3 from = {0, 0, 0}, via = {500, 300, 0}, to = {1000, 0, 0};
};
struct StraightShape {
    Vec3 from = {0, 0, 0};
    double length = 1000, heading = 0, slope = 0; ///< radians
};
struct SwagShape {
    Vec3 from = {0, 0, 1000}, to = {3000, 0, 1000};
    SwagBy by = SwagBy::Sag;
    double amount = 400;
};
/// What a wheel of a loop shows as.
enum class WheelBody { None, Sprocket, Plain, Grooved, Drum, Part };
inline constexpr const char* kWheelBodies[] = {"none", "sprocket", "plain", "grooved", "drum", "part"}; ///< in files
/// One wheel of a loop, in the loop's plane.
struct Wheel {
    std::string name;
    Vec2 centre = {0, 0};
    double radius = 100; ///< mm, used when teeth is 0
    long teeth = 0;      ///< a sprocket: its pitch radius follows from the loop's chain pitch
    bool inside = true;
    WheelBody body = WheelBody::None;
    double width = 0, bore = 0, hub = 0; ///< mm; 0: as goes with the rest (no hub, a bore of an eighth)
    Id part = 0;                         ///< of WheelBody::Part: stands in the middle, its crown along the axis
    std::optional<double> phase{};       ///< rad about the axis, typed; nothing: as the chain wants it
    bool operator==(const Wheel&) const = default;
};
struct WheelShape {
    std::vector<Wheel> wheels = {{"Drum", {0, 0}, 150, 0, true}, {"Motor", {700, 0}, 70, 0, true}};
    double chainPitch = 25.4;
    double roller = 0; ///< of the chain; 0: that of the standard for this pitch
    double below = 0;  ///< how far the rims of wheels without teeth lie below the line: half a belt, half a rope
    long hangs = 0;    ///< the strand after this wheel, from 1, is longer than tight and hangs; 0: none does
    SwagBy hangsBy = SwagBy::Sag;
    double hang = 30; ///< mm
    /// What the trade wants of a drive, remarked where it is not met; 0: no such wish.
    long engaged = 6, teethLeast = 17; ///< teeth at least: that are engaged, that a sprocket has
    long nearest = 30, farthest = 50;  ///< centre distance of two sprockets, in pitches
    bool hasTeeth() const {
        return std::any_of(wheels.begin(), wheels.end(), [](const Wheel& w) { return w.teeth > 0; });
    }
    bool closed = true, crossed = false;
};
using Shape = std::variant<CircleShape, EllipseShape, RectangleShape, SlotShape, PolygonShape, HelixShape, ArcShape,
                           StraightShape, SwagShape, WheelShape>;

/// A shape of the trade, put somewhere. Shapes given by points in space use no placement.
struct ShapeRecipe {
    Shape shape;
    Vec3 at = {0, 0, 0};
    Plane plane = Plane::Plan;
    double turn = 0; ///< radians, about the plane's normal
    double tilt = 0; ///< radians, then about its own x: any plane
};

struct OffsetOf {
    double distance = 300; ///< to the left; to the right below zero
    CornerStyle corners = CornerStyle::Round;
};
struct StretchOf {
    double from = 0, to = 1000;
};
struct BackwardsOf {};
struct StartMoved {
    double station = 0;
};
struct MirroredAt {
    Vec3 point = {0, 0, 0};
    double heading = kPi / 2; ///< radians, of the upright mirror plane's line in plan
};
struct ProjectedTo {
    Plane plane = Plane::Plan;
    double level = 0; ///< mm, where the plane stands along its normal
};
struct Resampled {
    bool byCount = false;
    double step = 500;
    long count = 20;
    bool smooth = true;
};
struct SmoothedBy {
    double reach = 200; ///< mm along the path
    bool keepEnds = true;
};
/// How a path is laid on a body.
enum class LaidAs {
    Surface, ///< every point of it dropped: it follows the surface
    Points   ///< only its corners and points, with straight legs between
};
/// Placement on a site body: dropped plumb, or along a direction.
struct LaidOn {
    Id body = 0;
    LaidAs as = LaidAs::Surface;
    Vec3 along = {0, 0, -1};
    double smooth = 0; ///< mm; a smooth curve that keeps so near to the surface; 0: exactly on it
    double above = 0;  ///< mm off the surface, against the direction
};
/// Strands that cross lie over one another: a chain or rope laid over itself.
struct LiftedOver {
    double thickness = 20; ///< mm that strands keep from one another, middle to middle
    double ease = 150;     ///< mm of way from level to lifted, where there is room
    OnTop top = OnTop::Later;
    Id other = 0;                 ///< a path that stays as it is, and that this one passes over; 0: none
    std::vector<long> switched{}; ///< numbers of crossings, from 1, that are the other way round
};
using Change = std::variant<OffsetOf, StretchOf, BackwardsOf, StartMoved, MirroredAt, ProjectedTo, Resampled,
                            SmoothedBy, LaidOn, LiftedOver>;

/// A path that follows another one for ever.
struct DerivedRecipe {
    Id source = 0;
    Change change;
};
/// Several paths as one.
struct JoinedRecipe {
    std::vector<Id> members;
    double gap = 1; ///< mm
};

/// Edges of a part's body, put somewhere; follows the part. Or those of a site body, where that stands.
struct EdgesRecipe {
    Id part = 0;             ///< or site body
    Vec3 pick = {0.5, 0, 1}; ///< near the edge: shares of the part's box, 0 low side to 1 high side
    bool loop = true;        ///< the whole loop round the face beside it
    bool smooth = false;     ///< a curve through its corners instead of straight legs
    Vec3 at = {0, 0, 0};     ///< where the part's own origin stands
    double turn = 0;         ///< radians, about z
};

/// Paths a recipe is made from, in order.
std::vector<Id> sourcesOf(const PathRecipe&);

/// What a recipe gives.
struct Built {
    Path path;
    std::vector<Words> remarks;              ///< what was bridged, turned or left out, one sentence each
    std::vector<OffsetPart> lost;            ///< parts of an offset that are not the path, to be shown
    std::optional<WheelLoop> loop;           ///< contacts of a loop round wheels
    std::vector<StrandCrossing> crossings{}; ///< of a path lifted over itself
    std::vector<Words> broken{};             ///< those of the remarks that say a wish is not met: `check` fails
};
/// The curve of a recipe. `sources`: the paths of sourcesOf(), in that order. Problems as Path::make and those of the
/// shape; `field` is the key of the value that is wrong (describe()).
/// `body`: what bodyOf() names. Stopped: a problem, where the work can take long.
Result<Built> build(const PathRecipe&, std::span<const Path> sources = {}, const BodyAsked& body = {},
                    const Stop* = nullptr);

/// The recipe moved by x -> about + size R(turn about z) (x - about) + by. Problem for paths that follow others (they
/// move with those), and for upright shapes that would have to turn.
Result<PathRecipe> movedRecipe(const PathRecipe&, const Vec3& about, const Vec3& by, double turn, double size);

/// Circles of a loop round wheels, in its plane.
std::vector<WheelCircle> circlesOf(const WheelShape&);
/// Part or site body whose edges a recipe takes, or that it is laid on; 0: none.
Id bodyOf(const PathRecipe&);
/// Axes of a placed shape in space: columns its x, y, normal.
Mat3 frameOf(const ShapeRecipe&);
/// A point of a shape's plane in space, and back.
Vec3 toSpace(const ShapeRecipe&, const Vec2&);
Vec2 toPlane(const ShapeRecipe&, const Vec3&);

/// Word for a recipe's kind as in files ("circle", "offset"...).
std::string kindOf(const PathRecipe&);
/// A recipe of a kind with sensible first values; nothing for a word that is not known.
std::optional<PathRecipe> recipeOf(const std::string& kind);

/// True when the recipe's points can be edited one by one.
inline const PointsRecipe* editablePoints(const PathRecipe& r) { return std::get_if<PointsRecipe>(&r); }
/// How many points or wheels can be selected one by one.
int pointCount(const PathRecipe&);
/// A curve of straight lines and arcs as points; nothing when it has other pieces.
std::optional<PointsRecipe> asPoints(const BroughtCurve& curve);
/// The leg (index of the point before it) on which a station of the built path lies.
size_t legAt(const PointsRecipe&, const Path&, double station);

/// Hands every value of a recipe to `v`, in the order they are shown: v.length / angle / number / count / flag / choice
/// / point / wheels (key, label, tip, value). One list for files, fields and handles.
void describe(const ValueVisitor&, PathRecipe&);

} // namespace vicinal
