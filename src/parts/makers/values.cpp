// The values of every maker, in the order they are shown.
#include "parts/makers/maker.h"

namespace vicinal {
namespace {

void hand(const ValueVisitor& v, RoundLink& m) {
    v.length("bar", "Bar", "Diameter of the round bar", m.bar);
    v.length("insideLength", "Inside length", "Between the inner ends: the pitch of the chain", m.insideLength);
    v.length("insideWidth", "Inside width", "Between the straights", m.insideWidth);
    v.flag("studded", "Studded", "With a bar across the middle", m.studded);
    if (m.studded) v.length("stud", "Stud", "Diameter of the bar across the middle", m.stud);
}

void hand(const ValueVisitor& v, RollerLink& m) {
    v.choice("plates", "Plates", "Inside with rollers, or outside with pins", m.kind, {"inner", "outer"});
    v.length("pitch", "Pitch", "Between the two joints", m.pitch);
    v.length("plateHeight", "Plate height", "Of the plates", m.plateHeight);
    v.length("plate", "Plate", "Thickness of one plate", m.plate);
    v.length("innerWidth", "Inner width", "Between the inner plates", m.innerWidth);
    v.length("roller", "Roller", "Its diameter", m.roller);
    v.length("pin", "Pin", "Its diameter", m.pin);
}

void hand(const ValueVisitor& v, TreadPlate& m) {
    v.length("pitch", "Pitch", "Between the two hinges", m.pitch);
    v.length("width", "Width", "Across the belt", m.width);
    v.length("plate", "Plate", "Thickness of the plate", m.plate);
    v.length("eye", "Eye", "Outside diameter of the hinge eyes", m.eye);
    v.length("eyeHole", "Eye hole", "Diameter of the hinge pin", m.eyeHole);
    v.length("grouser", "Grouser", "Height of the rib above the plate; 0: none", m.grouser);
    v.length("grouserThickness", "Rib thickness", "Of the grouser, along the belt", m.grouserThickness);
}

void hand(const ValueVisitor& v, Baluster& m) {
    v.choice("section", "Section", "Of the bar", m.section, {"square", "round", "turned"});
    v.length("width", m.section == Baluster::Section::Square ? "Width" : "Diameter", "Along the nose (x)", m.width);
    if (m.section == Baluster::Section::Square) v.length("depth", "Depth", "Across the path (y)", m.depth);
    v.length("height", "Height", "Along the crown (z), point included", m.height);
    v.choice("top", "Top", "Its upper end", m.top, {"flat", "pointed", "picket"});
    if (m.top != Baluster::Top::Flat) v.length("point", "Point", "Height of the point", m.point);
}

void hand(const ValueVisitor& v, Post& m) {
    v.length("width", "Width", "Along the nose (x)", m.width);
    v.length("depth", "Depth", "Across the path (y)", m.depth);
    v.length("height", "Height", "Up to the cap", m.height);
    v.length("capOver", "Cap over", "How far the cap stands out", m.capOver);
    v.length("capThickness", "Cap thickness", "At its edge", m.capThickness);
    v.length("capRise", "Cap rise", "From the cap's edge to its point", m.capRise);
}

void hand(const ValueVisitor& v, Plank& m) {
    v.length("length", "Length", "Across the path (y)", m.length);
    v.length("width", "Width", "Along the nose (x)", m.width);
    v.length("thickness", "Thickness", "Along the crown (z)", m.thickness);
}

void hand(const ValueVisitor& v, Sleeper& m) {
    v.length("length", "Length", "Across the track", m.length);
    v.length("width", "Width", "Along the track", m.width);
    v.length("height", "Height", "From its foot to its top", m.height);
    v.length("gauge", "Gauge", "Between the inner edges of the rail heads", m.gauge);
    v.length("railHead", "Rail head", "Width of a rail's head: the seats are under the middle of the rails",
             m.railHead);
    v.length("seatWidth", "Seat width", "Of each recess, across the track", m.seatWidth);
    v.length("seatDepth", "Seat depth", "Of each recess; 0: none", m.seatDepth);
}

void hand(const ValueVisitor& v, BollardLamp& m) {
    v.length("height", "Height", "Over all", m.height);
    v.length("diameter", "Diameter", "Of the shaft and the head", m.diameter);
    v.length("foot", "Foot", "Diameter of the foot plate", m.foot);
    v.length("footThickness", "Foot plate", "Its thickness", m.footThickness);
    v.length("ring", "Lit ring", "Its height", m.ring);
}

void hand(const ValueVisitor& v, Tile& m) {
    v.length("length", "Length", "Along the nose (x)", m.length);
    v.length("width", "Width", "Across the path (y)", m.width);
    v.length("thickness", "Thickness", "Along the crown (z)", m.thickness);
    v.length("radius", "Corner radius", "0 keeps the corners sharp", m.radius);
}

void hand(const ValueVisitor& v, SteppingStone& m) {
    v.length("length", "Length", "About, along the nose", m.length);
    v.length("width", "Width", "About, across the path", m.width);
    v.length("thickness", "Thickness", "Along the crown", m.thickness);
    v.number("roughness", "Roughness", "Share of its size by which its edge wanders, 0 to 0.4", m.roughness);
    v.count("number", "Stone", "Another number is another stone", m.number);
}

void hand(const ValueVisitor& v, Arrow& m) {
    v.length("length", "Length", "From tail to tip", m.length);
    v.length("width", "Width", "Of the head", m.width);
    v.length("shaft", "Shaft", "Width of the shaft", m.shaft);
    v.length("head", "Head", "Length of the head", m.head);
    v.length("thickness", "Thickness", "0: flat", m.thickness);
}

void hand(const ValueVisitor& v, Dash& m) {
    v.length("length", "Length", "Along the path", m.length);
    v.length("width", "Width", "Across the path", m.width);
    v.length("thickness", "Thickness", "0: flat", m.thickness);
}

void hand(const ValueVisitor& v, Stitch& m) {
    v.length("length", "Length", "Over its round ends", m.length);
    v.length("thread", "Thread", "Its diameter", m.thread);
}

void hand(const ValueVisitor& v, RoundHole& m) {
    v.length("diameter", "Diameter", "Of the hole", m.diameter);
    v.length("depth", "Depth", "From the surface down", m.depth);
}

void hand(const ValueVisitor& v, SlotHole& m) {
    v.length("length", "Length", "Over all, along the path", m.length);
    v.length("width", "Width", "Across; its ends are half circles", m.width);
    v.length("depth", "Depth", "From the surface down", m.depth);
}

void hand(const ValueVisitor& v, Notch& m) {
    v.flag("pointed", "Pointed", "A V instead of a rectangle", m.pointed);
    v.length("width", "Width", "At the surface, along the path", m.width);
    v.length("depth", "Depth", "From the surface down", m.depth);
    v.length("length", "Length", "Across the path", m.length);
}

void hand(const ValueVisitor& v, Bracket& m) {
    v.length("foot", "Foot", "Along the nose, from the outside of the bend", m.foot);
    v.length("leg", "Leg", "Up, from the outside of the bend", m.leg);
    v.length("width", "Width", "Across the path", m.width);
    v.length("thickness", "Thickness", "Of the plate", m.thickness);
    v.length("hole", "Hole", "Diameter of the two holes; 0: none", m.hole);
}

void hand(const ValueVisitor& v, PlainBox& m) {
    v.length("length", "Length", "Along the nose (x)", m.length);
    v.length("width", "Width", "Across the path (y)", m.width);
    v.length("height", "Height", "Along the crown (z)", m.height);
}

void hand(const ValueVisitor& v, Cylinder& m) {
    v.length("diameter", "Diameter", "Of the cylinder", m.diameter);
    v.length("height", "Height", "Along the crown (z)", m.height);
}

void hand(const ValueVisitor& v, Tube& m) {
    v.length("diameter", "Diameter", "Outside", m.diameter);
    v.length("wall", "Wall", "Its thickness", m.wall);
    v.length("length", "Length", "Along the nose (x)", m.length);
}

void hand(const ValueVisitor& v, Sprocket& m) {
    v.count("teeth", "Teeth", "How many", m.teeth);
    v.length("pitch", "Chain pitch", "Between the pins of the chain", m.pitch);
    v.length("roller", "Roller", "Diameter of the chain's rollers", m.roller);
    v.length("width", "Tooth width", "Of the toothed disc", m.width);
    v.length("bore", "Bore", "Diameter of the hole for the shaft; 0: none", m.bore);
    v.length("hub", "Hub", "Diameter of the hub; 0: none", m.hub);
    v.length("hubWidth", "Hub width", "Over all", m.hubWidth);
}

void hand(const ValueVisitor& v, Wedge& m) {
    v.length("length", "Length", "Along the nose (x)", m.length);
    v.length("width", "Width", "Across (y)", m.width);
    v.length("height", "Height", "At its high end", m.height);
}

void hand(const ValueVisitor& v, Ramp& m) {
    v.length("length", "Slope's length", "In plan, along the nose (x)", m.length);
    v.length("width", "Width", "Across (y)", m.width);
    v.length("rise", "Rise", "From its foot to the landing", m.rise);
    v.length("foot", "Foot", "Thickness where it begins; 0: a sharp edge", m.foot);
    v.length("landing", "Landing", "Level length at the top; 0: none", m.landing);
}

void hand(const ValueVisitor& v, RimWheel& m) {
    v.choice("rim", "Rim", "What holds the belt or rope sideways", m.rim, {"plain", "grooved", "flanged"});
    v.length("diameter", "Diameter", "That the belt or rope bears on", m.diameter);
    v.length("width", "Width", "Of the rim", m.width);
    if (m.rim != RimWheel::Rim::Plain) v.length("lip", "Lip", "How far groove or flange stands over it", m.lip);
    v.length("bore", "Bore", "Diameter of the hole for the shaft; 0: none", m.bore);
    v.length("hub", "Hub", "Diameter of the hub; 0: none", m.hub);
    v.length("hubWidth", "Hub width", "Over all", m.hubWidth);
}

} // namespace

void describe(const ValueVisitor& v, Maker& maker) {
    std::visit([&](auto& m) { hand(v, m); }, maker);
}

} // namespace vicinal
