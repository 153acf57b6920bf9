#pragma once
// How a path is made. Every recipe stays editable; a path is always worked out from it anew.
#include "base/describe.h"
#include "base/id.h"
#include "geometry/curves/edit.h"
#include "geometry/curves/lifted.h"
#include "geometry/curves/offset.h"
#include "geometry/curves/wheels.h"
#include "geometry/mesh/ground.h"
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
/// Laid on a site body: dropped plumb, or along a direction.
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

using PathRecipe = std::variant<PointsRecipe, BroughtCurve, ShapeRecipe, DerivedRecipe, JoinedRecipe, EdgesRecipe>;

/// Paths a recipe is made from, in order.
std::vector<Id> sourcesOf(const PathRecipe&);

/// What a recipe gives.
struct Built {
    Path path;
    std::vector<Words> remarks;              ///< what was bridged, turned or left out, one sentence each
    std::vector<OffsetPart> lost;            ///< parts of an offset that are not the path, to be shown
    std::optional<WheelLoop> loop;           ///< contacts of a loop round wheels
    std::vector<StrandCrossing> crossings{}; ///< of a path lifted over itself
};
/// The part or body that a recipe asks.
struct BodyAsked {
    std::shared_ptr<const Mesh> mesh{};     ///< in its own axes
    std::shared_ptr<const Ground> ground{}; ///< of a site body: where it stands
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
/// / point / wheels (key, label, tip, value). One list for files, fields and handles. R is a recipe or a const one.
template<class V, class R> void describe(V&& v, R& recipe);

template<class V, class S> void describeShape(V&& v, S& shape) {
    using T = std::remove_cv_t<S>;
    if constexpr (std::is_same_v<T, CircleShape>) {
        v.length("radius", "Radius", "Radius of the circle", shape.radius);
    } else if constexpr (std::is_same_v<T, EllipseShape>) {
        v.length("radiusX", "Half along", "Half the ellipse's size along its x", shape.radiusX);
        v.length("radiusY", "Half across", "Half the ellipse's size along its y", shape.radiusY);
    } else if constexpr (std::is_same_v<T, RectangleShape>) {
        v.length("width", "Width", "Size along its x", shape.width);
        v.length("height", "Height", "Size along its y", shape.height);
        v.length("radius", "Corner radius", "0 keeps the corners sharp", shape.radius);
    } else if constexpr (std::is_same_v<T, SlotShape>) {
        v.length("length", "Length", "Over all", shape.length);
        v.length("width", "Width", "Of the slot; its ends are half circles", shape.width);
    } else if constexpr (std::is_same_v<T, PolygonShape>) {
        v.count("sides", "Sides", "3 to 1000", shape.sides);
        v.length("radius", "Radius", "To the corners", shape.radius);
    } else if constexpr (std::is_same_v<T, HelixShape>) {
        v.length("radius", "Radius", "At the start", shape.radius);
        v.length("radiusTop", "Radius at top", "At the end; another one makes a cone or, without height, a spiral",
                 shape.radiusTop);
        v.choice("by", "Given by", "How often it turns, or how far it rises in one turn", shape.by, {"turns", "pitch"});
        if (shape.by == HelixBy::Turns)
            v.number("turns", "Turns", "Times round, also in parts", shape.turns);
        else
            v.length("pitch", "Pitch", "Rise of one turn", shape.pitch);
        v.length("height", "Height", "Whole rise", shape.height);
        v.flag("leftHanded", "Left-handed", "Turns clockwise as it rises, seen from above", shape.leftHanded);
    } else if constexpr (std::is_same_v<T, ArcShape>) {
        v.point("from", "From", "Start of the arc", shape.from);
        v.point("via", "Through", "A point on the arc", shape.via);
        v.point("to", "To", "End of the arc", shape.to);
    } else if constexpr (std::is_same_v<T, StraightShape>) {
        v.point("from", "From", "Start of the line", shape.from);
        v.length("length", "Length", "Of the line", shape.length);
        v.angle("heading", "Heading", "In plan, from x towards y", shape.heading);
        v.angle("slope", "Slope", "Upwards", shape.slope);
    } else if constexpr (std::is_same_v<T, SwagShape>) {
        v.point("from", "From", "One end", shape.from);
        v.point("to", "To", "The other end", shape.to);
        v.choice("by", "Given by", "How deep it hangs, or how much longer it is than the straight line", shape.by,
                 {"sag", "slack"});
        v.length("amount", shape.by == SwagBy::Sag ? "Sag" : "Slack",
                 shape.by == SwagBy::Sag ? "Greatest depth below the straight line"
                                         : "Length beyond the straight distance",
                 shape.amount);
    } else {
        v.length("chainPitch", "Chain pitch", "For wheels given by teeth", shape.chainPitch);
        v.length("roller", "Roller", "Diameter of the chain's rollers; 0: that of the standard", shape.roller);
        v.length("below", "Rims below", "How far rims without teeth lie below the line: half a belt or rope",
                 shape.below);
        v.flag("closed", "Closed", "All the way round; else from the first wheel to the last", shape.closed);
        v.flag("crossed", "May cross", "Straights may cross each other", shape.crossed);
        v.count("hangs", "Hangs after wheel",
                "The strand after this wheel is longer than tight and hangs; 0: all tight", shape.hangs);
        if (shape.hangs != 0) {
            v.choice("hangsBy", "Hangs by", "How deep it hangs, or how much longer the loop is for it", shape.hangsBy,
                     {"sag", "slack"});
            v.length("hang", shape.hangsBy == SwagBy::Sag ? "Sag" : "Slack",
                     shape.hangsBy == SwagBy::Sag
                         ? "Greatest depth below the straight, plumb. To make a number of links close, let it give way"
                         : "What the loop is longer than tight. To make a number of links close, let it give way",
                     shape.hang);
        }
        if (shape.hasTeeth()) {
            constexpr const char* tip =
                "What the trade wants of a drive; remarked where it is not met; 0: no such wish";
            v.count("engagedAtLeast", "Engaged at least", tip, shape.engaged);
            v.count("teethAtLeast", "Teeth at least", tip, shape.teethLeast);
            v.count("pitchesAtLeast", "Pitches apart from", tip, shape.nearest);
            v.count("pitchesAtMost", "Pitches apart to", tip, shape.farthest);
        }
        v.wheels("wheels", shape.wheels);
    }
}

template<class V, class S> void describeChange(V&& v, S& c) {
    using T = std::remove_cv_t<S>;
    if constexpr (std::is_same_v<T, OffsetOf>) {
        v.length("distance", "Distance", "To the left of the way it runs; to the right below zero", c.distance);
        v.choice("corners", "Corners", "On the outside of a corner", c.corners, {"round", "sharp"});
    } else if constexpr (std::is_same_v<T, StretchOf>) {
        v.length("from", "From station", "Where the stretch starts", c.from);
        v.length("to", "To station", "Where it ends; on a closed path it may lead over the seam", c.to);
    } else if constexpr (std::is_same_v<T, StartMoved>) {
        v.length("station", "Start at", "Station of the new start", c.station);
    } else if constexpr (std::is_same_v<T, MirroredAt>) {
        v.point("point", "Mirror through", "A point of the upright mirror plane", c.point);
        v.angle("heading", "Mirror heading", "Of the mirror plane in plan, from x towards y", c.heading);
    } else if constexpr (std::is_same_v<T, ProjectedTo>) {
        v.choice("plane", "Onto", "The plane it is dropped onto", c.plane, {"plan", "front", "side"});
        v.length("level", "Level", "Where that plane stands", c.level);
    } else if constexpr (std::is_same_v<T, Resampled>) {
        v.flag("byCount", "By count", "A number of points instead of a distance", c.byCount);
        v.length("step", "About every", "Distance between points; made even", c.step);
        v.count("count", "Points", "How many, ends included", c.count);
        v.flag("smooth", "Smooth", "A curve through the points; else straight legs", c.smooth);
    } else if constexpr (std::is_same_v<T, SmoothedBy>) {
        v.length("reach", "Reach", "Length over which bumps are evened out", c.reach);
        v.flag("keepEnds", "Keep the ends", "Ends stay where they are", c.keepEnds);
    } else if constexpr (std::is_same_v<T, LaidOn>) {
        v.item("body", "Onto", "The site body it is laid on", c.body, ItemOf::Body);
        v.choice("as", "Lies", "All of it, or only its points", c.as,
                 {{"surface", "all of it", "It follows the surface everywhere", ""},
                  {"points", "its points", "Its points lie on the surface, with straight legs between", ""}});
        v.length("smooth", "Smooth within",
                 "A smooth curve that keeps so near to the surface; 0: exactly on it, with its edges", c.smooth);
        v.length("above", "Above it", "Off the surface, against the direction", c.above);
        v.direction("along", "Dropped along", "Straight down is 0, 0, -1; its length does not matter", c.along);
    } else if constexpr (std::is_same_v<T, LiftedOver>) {
        v.length("thickness", "Thickness", "That strands keep from one another, from middle to middle", c.thickness);
        v.length("ease", "Eased over", "Way from level to lifted, where there is so much", c.ease);
        v.choice("top", "On top", "Which strand lies over the other where they cross", c.top,
                 {{"later", "later one", "The strand farther along the path: it was laid last", ""},
                  {"earlier", "earlier one", "The strand nearer to the path's start", ""},
                  {"alternating", "in turn", "Over, under, over, as one goes along the path", ""}});
        v.item("other", "And over", "A path that stays as it is; this one passes over it where they cross", c.other,
               ItemOf::Path);
    }
}

template<class V, class R> void describe(V&& v, R& recipe) {
    std::visit(
        [&](auto& r) {
            using T = std::remove_cvref_t<decltype(r)>;
            if constexpr (std::is_same_v<T, ShapeRecipe>) {
                if (!std::holds_alternative<ArcShape>(r.shape) && !std::holds_alternative<StraightShape>(r.shape) &&
                    !std::holds_alternative<SwagShape>(r.shape)) {
                    v.point("at", "Middle at", "Where its own origin stands", r.at);
                    v.choice("plane", "Plane", "The plane it lies in", r.plane, {"plan", "front", "side"});
                    v.angle("turn", "Turn", "In its plane", r.turn);
                    v.angle("tilt", "Tilt", "Out of its plane, about its own x", r.tilt);
                }
                std::visit([&](auto& s) { describeShape(v, s); }, r.shape);
            } else if constexpr (std::is_same_v<T, DerivedRecipe>) {
                std::visit([&](auto& c) { describeChange(v, c); }, r.change);
            } else if constexpr (std::is_same_v<T, EdgesRecipe>) {
                v.point("at", "Part stands at", "Where the part's own origin is put", r.at);
                v.angle("turn", "Turn", "About the vertical", r.turn);
                v.point("pick", "Edge near", "Shares of the part's box, 0 to 1: the edge nearest to this point",
                        r.pick);
                v.flag("loop", "Whole loop", "All round the face beside the edge", r.loop);
                v.flag("smooth", "Smooth", "A curve through the corners; else straight legs", r.smooth);
            } else if constexpr (std::is_same_v<T, JoinedRecipe>) {
                v.length("gap", "Join gaps up to", "Wider gaps are a problem; narrower ones are bridged", r.gap);
            }
        },
        recipe);
}

} // namespace vicinal
