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

template<class V, class M> void describeMaker(V&& v, M& m) {
    using T = std::remove_cv_t<M>;
    if constexpr (std::is_same_v<T, RoundLink>) {
        v.length("bar", "Bar", "Diameter of the round bar", m.bar);
        v.length("insideLength", "Inside length", "Between the inner ends: the pitch of the chain", m.insideLength);
        v.length("insideWidth", "Inside width", "Between the straights", m.insideWidth);
        v.flag("studded", "Studded", "With a bar across the middle", m.studded);
        if (m.studded) v.length("stud", "Stud", "Diameter of the bar across the middle", m.stud);
    } else if constexpr (std::is_same_v<T, RollerLink>) {
        v.choice("plates", "Plates", "Inside with rollers, or outside with pins", m.kind, {"inner", "outer"});
        v.length("pitch", "Pitch", "Between the two joints", m.pitch);
        v.length("plateHeight", "Plate height", "Of the plates", m.plateHeight);
        v.length("plate", "Plate", "Thickness of one plate", m.plate);
        v.length("innerWidth", "Inner width", "Between the inner plates", m.innerWidth);
        v.length("roller", "Roller", "Its diameter", m.roller);
        v.length("pin", "Pin", "Its diameter", m.pin);
    } else if constexpr (std::is_same_v<T, TreadPlate>) {
        v.length("pitch", "Pitch", "Between the two hinges", m.pitch);
        v.length("width", "Width", "Across the belt", m.width);
        v.length("plate", "Plate", "Thickness of the plate", m.plate);
        v.length("eye", "Eye", "Outside diameter of the hinge eyes", m.eye);
        v.length("eyeHole", "Eye hole", "Diameter of the hinge pin", m.eyeHole);
        v.length("grouser", "Grouser", "Height of the rib above the plate; 0: none", m.grouser);
        v.length("grouserThickness", "Rib thickness", "Of the grouser, along the belt", m.grouserThickness);
    } else if constexpr (std::is_same_v<T, Baluster>) {
        v.choice("section", "Section", "Of the bar", m.section, {"square", "round", "turned"});
        v.length("width", m.section == Baluster::Section::Square ? "Width" : "Diameter", "Along the nose (x)", m.width);
        if (m.section == Baluster::Section::Square) v.length("depth", "Depth", "Across the path (y)", m.depth);
        v.length("height", "Height", "Along the crown (z), point included", m.height);
        v.choice("top", "Top", "Its upper end", m.top, {"flat", "pointed", "picket"});
        if (m.top != Baluster::Top::Flat) v.length("point", "Point", "Height of the point", m.point);
    } else if constexpr (std::is_same_v<T, Post>) {
        v.length("width", "Width", "Along the nose (x)", m.width);
        v.length("depth", "Depth", "Across the path (y)", m.depth);
        v.length("height", "Height", "Up to the cap", m.height);
        v.length("capOver", "Cap over", "How far the cap stands out", m.capOver);
        v.length("capThickness", "Cap thickness", "At its edge", m.capThickness);
        v.length("capRise", "Cap rise", "From the cap's edge to its point", m.capRise);
    } else if constexpr (std::is_same_v<T, Plank>) {
        v.length("length", "Length", "Across the path (y)", m.length);
        v.length("width", "Width", "Along the nose (x)", m.width);
        v.length("thickness", "Thickness", "Along the crown (z)", m.thickness);
    } else if constexpr (std::is_same_v<T, Sleeper>) {
        v.length("length", "Length", "Across the track", m.length);
        v.length("width", "Width", "Along the track", m.width);
        v.length("height", "Height", "From its foot to its top", m.height);
        v.length("gauge", "Gauge", "Between the inner edges of the rail heads", m.gauge);
        v.length("railHead", "Rail head", "Width of a rail's head: the seats are under the middle of the rails",
                 m.railHead);
        v.length("seatWidth", "Seat width", "Of each recess, across the track", m.seatWidth);
        v.length("seatDepth", "Seat depth", "Of each recess; 0: none", m.seatDepth);
    } else if constexpr (std::is_same_v<T, BollardLamp>) {
        v.length("height", "Height", "Over all", m.height);
        v.length("diameter", "Diameter", "Of the shaft and the head", m.diameter);
        v.length("foot", "Foot", "Diameter of the foot plate", m.foot);
        v.length("footThickness", "Foot plate", "Its thickness", m.footThickness);
        v.length("ring", "Lit ring", "Its height", m.ring);
    } else if constexpr (std::is_same_v<T, Tile>) {
        v.length("length", "Length", "Along the nose (x)", m.length);
        v.length("width", "Width", "Across the path (y)", m.width);
        v.length("thickness", "Thickness", "Along the crown (z)", m.thickness);
        v.length("radius", "Corner radius", "0 keeps the corners sharp", m.radius);
    } else if constexpr (std::is_same_v<T, SteppingStone>) {
        v.length("length", "Length", "About, along the nose", m.length);
        v.length("width", "Width", "About, across the path", m.width);
        v.length("thickness", "Thickness", "Along the crown", m.thickness);
        v.number("roughness", "Roughness", "Share of its size by which its edge wanders, 0 to 0.4", m.roughness);
        v.count("number", "Stone", "Another number is another stone", m.number);
    } else if constexpr (std::is_same_v<T, Arrow>) {
        v.length("length", "Length", "From tail to tip", m.length);
        v.length("width", "Width", "Of the head", m.width);
        v.length("shaft", "Shaft", "Width of the shaft", m.shaft);
        v.length("head", "Head", "Length of the head", m.head);
        v.length("thickness", "Thickness", "0: flat", m.thickness);
    } else if constexpr (std::is_same_v<T, Dash>) {
        v.length("length", "Length", "Along the path", m.length);
        v.length("width", "Width", "Across the path", m.width);
        v.length("thickness", "Thickness", "0: flat", m.thickness);
    } else if constexpr (std::is_same_v<T, Stitch>) {
        v.length("length", "Length", "Over its round ends", m.length);
        v.length("thread", "Thread", "Its diameter", m.thread);
    } else if constexpr (std::is_same_v<T, RoundHole>) {
        v.length("diameter", "Diameter", "Of the hole", m.diameter);
        v.length("depth", "Depth", "From the surface down", m.depth);
    } else if constexpr (std::is_same_v<T, SlotHole>) {
        v.length("length", "Length", "Over all, along the path", m.length);
        v.length("width", "Width", "Across; its ends are half circles", m.width);
        v.length("depth", "Depth", "From the surface down", m.depth);
    } else if constexpr (std::is_same_v<T, Notch>) {
        v.flag("pointed", "Pointed", "A V instead of a rectangle", m.pointed);
        v.length("width", "Width", "At the surface, along the path", m.width);
        v.length("depth", "Depth", "From the surface down", m.depth);
        v.length("length", "Length", "Across the path", m.length);
    } else if constexpr (std::is_same_v<T, Bracket>) {
        v.length("foot", "Foot", "Along the nose, from the outside of the bend", m.foot);
        v.length("leg", "Leg", "Up, from the outside of the bend", m.leg);
        v.length("width", "Width", "Across the path", m.width);
        v.length("thickness", "Thickness", "Of the plate", m.thickness);
        v.length("hole", "Hole", "Diameter of the two holes; 0: none", m.hole);
    } else if constexpr (std::is_same_v<T, PlainBox>) {
        v.length("length", "Length", "Along the nose (x)", m.length);
        v.length("width", "Width", "Across the path (y)", m.width);
        v.length("height", "Height", "Along the crown (z)", m.height);
    } else if constexpr (std::is_same_v<T, Cylinder>) {
        v.length("diameter", "Diameter", "Of the cylinder", m.diameter);
        v.length("height", "Height", "Along the crown (z)", m.height);
    } else if constexpr (std::is_same_v<T, Tube>) {
        v.length("diameter", "Diameter", "Outside", m.diameter);
        v.length("wall", "Wall", "Its thickness", m.wall);
        v.length("length", "Length", "Along the nose (x)", m.length);
    } else if constexpr (std::is_same_v<T, Sprocket>) {
        v.count("teeth", "Teeth", "How many", m.teeth);
        v.length("pitch", "Chain pitch", "Between the pins of the chain", m.pitch);
        v.length("roller", "Roller", "Diameter of the chain's rollers", m.roller);
        v.length("width", "Tooth width", "Of the toothed disc", m.width);
        v.length("bore", "Bore", "Diameter of the hole for the shaft; 0: none", m.bore);
        v.length("hub", "Hub", "Diameter of the hub; 0: none", m.hub);
        v.length("hubWidth", "Hub width", "Over all", m.hubWidth);
    } else if constexpr (std::is_same_v<T, Wedge>) {
        v.length("length", "Length", "Along the nose (x)", m.length);
        v.length("width", "Width", "Across (y)", m.width);
        v.length("height", "Height", "At its high end", m.height);
    } else if constexpr (std::is_same_v<T, Ramp>) {
        v.length("length", "Slope's length", "In plan, along the nose (x)", m.length);
        v.length("width", "Width", "Across (y)", m.width);
        v.length("rise", "Rise", "From its foot to the landing", m.rise);
        v.length("foot", "Foot", "Thickness where it begins; 0: a sharp edge", m.foot);
        v.length("landing", "Landing", "Level length at the top; 0: none", m.landing);
    } else {
        static_assert(std::is_same_v<T, RimWheel>);
        v.choice("rim", "Rim", "What holds the belt or rope sideways", m.rim, {"plain", "grooved", "flanged"});
        v.length("diameter", "Diameter", "That the belt or rope bears on", m.diameter);
        v.length("width", "Width", "Of the rim", m.width);
        if (m.rim != RimWheel::Rim::Plain) v.length("lip", "Lip", "How far groove or flange stands over it", m.lip);
        v.length("bore", "Bore", "Diameter of the hole for the shaft; 0: none", m.bore);
        v.length("hub", "Hub", "Diameter of the hub; 0: none", m.hub);
        v.length("hubWidth", "Hub width", "Over all", m.hubWidth);
    }
}

/// Hands every value of a maker to a visitor, see geometry/describe.h.
template<class V, class M> void describe(V&& v, M& maker) requires std::is_same_v<std::remove_cv_t<M>, Maker> {
    std::visit([&](auto& m) { describeMaker(v, m); }, maker);
}

} // namespace vicinal
