#pragma once
// Parts made by numbers. Every maker gives an exact solid whose own origin is the right seat point, whose nose is +x
// and whose crown is +z; links come with their pins. Sizes mm, angles radians.
#include "base/describe.h"
#include "layout/seat.h"
#include "parts/solid/solid.h"
#include <variant>

namespace vicinal {

/// Link of round bar: an oval in the x-y plane round the origin. Its pins are the inner ends, where its neighbours
/// bear: their distance is the inside length, the pitch of the trade.
struct RoundLink {
    double bar = 10, insideLength = 30, insideWidth = 14;
    bool studded = false;
    double stud = 7; ///< diameter of the bar across the middle
    bool operator==(const RoundLink&) const = default;
};
/// Link of a roller chain; it runs in the x-z plane. Inner: two plates with two rollers between; outer: two plates
/// outside those with two pins. Pins at +-pitch / 2.
struct RollerLink {
    enum class Kind { Inner, Outer } kind = Kind::Inner;
    double pitch = 25.4, plateHeight = 21, plate = 3, innerWidth = 17, roller = 15.88, pin = 7.92;
    bool operator==(const RollerLink&) const = default;
};
/// Plate of a belt: hinge eyes at +-pitch / 2 on the level of the origin, the front one in the middle third, the rear
/// ones outside; a grouser (rib) stands on it.
struct TreadPlate {
    double pitch = 120, width = 400, plate = 14, eye = 36, eyeHole = 18, grouser = 25, grouserThickness = 12;
    bool operator==(const TreadPlate&) const = default;
};
/// Upright bar; the origin is the middle of its foot.
struct Baluster {
    double width = 20, depth = 20, height = 900; ///< along the nose (x), across (y), up (z); round ones: width
    enum class Section { Square, Round, Turned } section = Section::Square;
    enum class Top { Flat, Pointed, Picket } top = Top::Flat;
    double point = 30; ///< height of the point at the top
    bool operator==(const Baluster&) const = default;
};
/// Square post with a cap that stands over and rises to a point.
struct Post {
    double width = 90, depth = 90, height = 1100, capOver = 15, capThickness = 20, capRise = 30;
    bool operator==(const Post&) const = default;
};
/// Board across the path: length across (y), width along the nose (x), thickness up (z); origin mid underside.
struct Plank {
    double length = 1200, width = 145, thickness = 28;
    bool operator==(const Plank&) const = default;
};
/// Sleeper across the track with two recessed seats for rails. The origin is mid track on the level of the seats.
struct Sleeper {
    double length = 2400, width = 240, height = 140, gauge = 1435, seatWidth = 150, seatDepth = 12, railHead = 65;
    bool operator==(const Sleeper&) const = default;
};
/// Low lamp: foot plate, shaft, lit ring, cap; the origin is the middle of its foot.
struct BollardLamp {
    double height = 900, diameter = 160, foot = 240, footThickness = 20, ring = 90;
    bool operator==(const BollardLamp&) const = default;
};
struct Tile {
    double length = 400, width = 400, thickness = 40, radius = 0; ///< along x, across y, up z; origin mid underside
    bool operator==(const Tile&) const = default;
};
/// Flat stone with a round irregular edge, the same for the same number; origin mid top.
struct SteppingStone {
    double length = 520, width = 420, thickness = 90, roughness = 0.12;
    long number = 1;
    bool operator==(const SteppingStone&) const = default;
};
/// Flat arrow that points along the nose; origin in its middle, underside.
struct Arrow {
    double length = 120, width = 60, shaft = 22, head = 50, thickness = 2;
    bool operator==(const Arrow&) const = default;
};
struct Dash {
    double length = 60, width = 6, thickness = 1; ///< along x, across y; origin mid underside
    bool operator==(const Dash&) const = default;
};
/// A stitch of thread: a bar with round ends along the nose; origin in its middle.
struct Stitch {
    double length = 6, thread = 1.2;
    bool operator==(const Stitch&) const = default;
};
/// Cutting shapes: what they would take away, from the surface (z = 0) down to their depth.
struct RoundHole {
    double diameter = 12, depth = 20;
    bool operator==(const RoundHole&) const = default;
};
struct SlotHole {
    double length = 40, width = 12, depth = 20; ///< over all, along the nose
    bool operator==(const SlotHole&) const = default;
};
struct Notch {
    double width = 12, depth = 20, length = 60; ///< along the nose, down, across
    bool pointed = false;                       ///< V instead of a rectangle
    bool operator==(const Notch&) const = default;
};
/// Bent plate: foot along the nose, leg up; holes in both. Origin at the outside of the bend, mid width.
struct Bracket {
    double foot = 60, leg = 80, width = 40, thickness = 5, hole = 9;
    bool operator==(const Bracket&) const = default;
};
struct PlainBox {
    double length = 100, width = 100, height = 100; ///< x, y, z; origin mid underside
    bool operator==(const PlainBox&) const = default;
};
struct Cylinder {
    double diameter = 60, height = 120; ///< upright; origin mid underside
    bool operator==(const Cylinder&) const = default;
};
struct Tube {
    double diameter = 60, wall = 4, length = 200; ///< along the nose; origin in its middle
    bool operator==(const Tube&) const = default;
};

/// A body that rises along the nose from nothing to its height; origin mid underside.
struct Wedge {
    double length = 600, width = 300, height = 200;
    bool operator==(const Wedge&) const = default;
};
/// A ramp: a foot of its own thickness, the slope, a level landing; origin mid underside of the foot's edge, so that it
/// rises ahead along the nose.
struct Ramp {
    double length = 2400, width = 1200, rise = 300, foot = 20, landing = 1200;
    bool operator==(const Ramp&) const = default;
};

/// Sprocket for roller chain; its axis is z, the middle of its width at z = 0, the middle of a gap on +x.
struct Sprocket {
    long teeth = 17;
    double pitch = 25.4, roller = 15.88;                   ///< of the chain
    double width = 15, bore = 25, hub = 60, hubWidth = 40; ///< hub 0: none; bore 0: none
    bool operator==(const Sprocket&) const = default;
};
/// Wheel, sheave or drum; its axis is z, the middle of its width at z = 0.
struct RimWheel {
    double diameter = 200; ///< that the belt or rope bears on
    double width = 40;     ///< of the rim
    enum class Rim { Plain, Grooved, Flanged } rim = Rim::Plain;
    double lip = 10; ///< how far groove or flange stands over it
    double bore = 25, hub = 60, hubWidth = 50;
    bool operator==(const RimWheel&) const = default;
};

using Maker = std::variant<RoundLink, RollerLink, TreadPlate, Baluster, Post, Plank, Sleeper, BollardLamp, Tile,
                           SteppingStone, Arrow, Dash, Stitch, RoundHole, SlotHole, Notch, Bracket, PlainBox, Cylinder,
                           Tube, Sprocket, RimWheel, Wedge, Ramp>;

/// What a maker gives.
struct Made {
    LazySolidPtr solid;
    std::shared_ptr<const Mesh> mesh; ///< `box` is exact
    std::optional<Pins> pins{};
    bool cuts = false; ///< says what is cut away
};
/// The exact solid and its triangles, these within a frame's time. Problem with `field` the key of the wrong value,
/// saying what works (the largest bar a link allows).
Result<Made> make(const Maker&);

/// Word for a maker's kind as in files ("round link"), and the maker of a word with its first values.
std::string kindOf(const Maker&);
std::optional<Maker> makerOf(const std::string& kind);

/// An entry of the part chooser: a maker with first values under a name.
struct MakerEntry {
    const char *group, *name, *tip;
    Maker maker;
};
std::span<const MakerEntry> makerEntries();

/// Largest bar of a link with this inside length and width: its neighbours' bars go through.
double largestBar(const RoundLink&);
/// The line a turned baluster is turned from, in the x-z plane from its foot's edge up: x is the radius.
Ring turnedProfile(const Baluster&);
/// Corners of the line a bollard lamp is turned from: radius, z.
std::vector<Vec2> lampProfile(const BollardLamp&);
/// The closed edge of a stepping stone in plan.
Ring stoneEdge(const SteppingStone&);

/// Hands every value of a maker to a visitor, see base/describe.h.
void describe(const ValueVisitor&, Maker&);

} // namespace vicinal
