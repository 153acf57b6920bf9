// The values of every path recipe, in the order they are shown.
#include "model/recipes/recipe.h"

namespace vicinal {
namespace {

void hand(const ValueVisitor& v, CircleShape& shape) {
    v.length("radius", "Radius", "Radius of the circle", shape.radius);
}

void hand(const ValueVisitor& v, EllipseShape& shape) {
    v.length("radiusX", "Half along", "Half the ellipse's size along its x", shape.radiusX);
    v.length("radiusY", "Half across", "Half the ellipse's size along its y", shape.radiusY);
}

void hand(const ValueVisitor& v, RectangleShape& shape) {
    v.length("width", "Width", "Size along its x", shape.width);
    v.length("height", "Height", "Size along its y", shape.height);
    v.length("radius", "Corner radius", "0 keeps the corners sharp", shape.radius);
}

void hand(const ValueVisitor& v, SlotShape& shape) {
    v.length("length", "Length", "Over all", shape.length);
    v.length("width", "Width", "Of the slot; its ends are half circles", shape.width);
}

void hand(const ValueVisitor& v, PolygonShape& shape) {
    v.count("sides", "Sides", "3 to 1000", shape.sides);
    v.length("radius", "Radius", "To the corners", shape.radius);
}

void hand(const ValueVisitor& v, HelixShape& shape) {
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
}

void hand(const ValueVisitor& v, ArcShape& shape) {
    v.point("from", "From", "Start of the arc", shape.from);
    v.point("via", "Through", "A point on the arc", shape.via);
    v.point("to", "To", "End of the arc", shape.to);
}

void hand(const ValueVisitor& v, StraightShape& shape) {
    v.point("from", "From", "Start of the line", shape.from);
    v.length("length", "Length", "Of the line", shape.length);
    v.angle("heading", "Heading", "In plan, from x towards y", shape.heading);
    v.angle("slope", "Slope", "Upwards", shape.slope);
}

void hand(const ValueVisitor& v, SwagShape& shape) {
    v.point("from", "From", "One end", shape.from);
    v.point("to", "To", "The other end", shape.to);
    v.choice("by", "Given by", "How deep it hangs, or how much longer it is than the straight line", shape.by,
             {"sag", "slack"});
    v.length("amount", shape.by == SwagBy::Sag ? "Sag" : "Slack",
             shape.by == SwagBy::Sag ? "Greatest depth below the straight line" : "Length beyond the straight distance",
             shape.amount);
}

void hand(const ValueVisitor& v, WheelShape& shape) {
    v.length("chainPitch", "Chain pitch", "For wheels given by teeth", shape.chainPitch);
    v.length("roller", "Roller", "Diameter of the chain's rollers; 0: that of the standard", shape.roller);
    v.length("below", "Rims below", "How far rims without teeth lie below the line: half a belt or rope", shape.below);
    v.flag("closed", "Closed", "All the way round; else from the first wheel to the last", shape.closed);
    v.flag("crossed", "May cross", "Straights may cross each other", shape.crossed);
    v.count("hangs", "Hangs after wheel", "The strand after this wheel is longer than tight and hangs; 0: all tight",
            shape.hangs);
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
        constexpr const char* tip = "What the trade wants of a drive; remarked where it is not met; 0: no such wish";
        v.count("engagedAtLeast", "Engaged at least", tip, shape.engaged);
        v.count("teethAtLeast", "Teeth at least", tip, shape.teethLeast);
        v.count("pitchesAtLeast", "Pitches apart from", tip, shape.nearest);
        v.count("pitchesAtMost", "Pitches apart to", tip, shape.farthest);
    }
    v.wheels("wheels", shape.wheels);
}

void hand(const ValueVisitor&, BackwardsOf&) {}

void hand(const ValueVisitor& v, OffsetOf& c) {
    v.length("distance", "Distance", "To the left of the way it runs; to the right below zero", c.distance);
    v.choice("corners", "Corners", "On the outside of a corner", c.corners, {"round", "sharp"});
}

void hand(const ValueVisitor& v, StretchOf& c) {
    v.length("from", "From station", "Where the stretch starts", c.from);
    v.length("to", "To station", "Where it ends; on a closed path it may lead over the seam", c.to);
}

void hand(const ValueVisitor& v, StartMoved& c) {
    v.length("station", "Start at", "Station of the new start", c.station);
}

void hand(const ValueVisitor& v, MirroredAt& c) {
    v.point("point", "Mirror through", "A point of the upright mirror plane", c.point);
    v.angle("heading", "Mirror heading", "Of the mirror plane in plan, from x towards y", c.heading);
}

void hand(const ValueVisitor& v, ProjectedTo& c) {
    v.choice("plane", "Onto", "The plane it is dropped onto", c.plane, {"plan", "front", "side"});
    v.length("level", "Level", "Where that plane stands", c.level);
}

void hand(const ValueVisitor& v, Resampled& c) {
    v.flag("byCount", "By count", "A number of points instead of a distance", c.byCount);
    v.length("step", "About every", "Distance between points; made even", c.step);
    v.count("count", "Points", "How many, ends included", c.count);
    v.flag("smooth", "Smooth", "A curve through the points; else straight legs", c.smooth);
}

void hand(const ValueVisitor& v, SmoothedBy& c) {
    v.length("reach", "Reach", "Length over which bumps are evened out", c.reach);
    v.flag("keepEnds", "Keep the ends", "Ends stay where they are", c.keepEnds);
}

void hand(const ValueVisitor& v, LaidOn& c) {
    v.item("body", "Onto", "The site body it is laid on", c.body, ItemKind::Body);
    v.choice("as", "Lies", "All of it, or only its points", c.as,
             {{"surface", "all of it", "It follows the surface everywhere", ""},
              {"points", "its points", "Its points lie on the surface, with straight legs between", ""}});
    v.length("smooth", "Smooth within",
             "A smooth curve that keeps so near to the surface; 0: exactly on it, with its edges", c.smooth);
    v.length("above", "Above it", "Off the surface, against the direction", c.above);
    v.direction("along", "Dropped along", "Straight down is 0, 0, -1; its length does not matter", c.along);
}

void hand(const ValueVisitor& v, LiftedOver& c) {
    v.length("thickness", "Thickness", "That strands keep from one another, from middle to middle", c.thickness);
    v.length("ease", "Eased over", "Way from level to lifted, where there is so much", c.ease);
    v.choice("top", "On top", "Which strand lies over the other where they cross", c.top,
             {{"later", "later one", "The strand farther along the path: it was laid last", ""},
              {"earlier", "earlier one", "The strand nearer to the path's start", ""},
              {"alternating", "in turn", "Over, under, over, as one goes along the path", ""}});
    v.item("other", "And over", "A path that stays as it is; this one passes over it where they cross", c.other,
           ItemKind::Path);
}

void hand(const ValueVisitor&, PointsRecipe&) {}
void hand(const ValueVisitor&, BroughtCurve&) {}
void hand(const ValueVisitor& v, ShapeRecipe& r) {
    if (!std::holds_alternative<ArcShape>(r.shape) && !std::holds_alternative<StraightShape>(r.shape) &&
        !std::holds_alternative<SwagShape>(r.shape)) {
        v.point("at", "Middle at", "Where its own origin stands", r.at);
        v.choice("plane", "Plane", "The plane it lies in", r.plane, {"plan", "front", "side"});
        v.angle("turn", "Turn", "In its plane", r.turn);
        v.angle("tilt", "Tilt", "Out of its plane, about its own x", r.tilt);
    }
    std::visit([&](auto& s) { hand(v, s); }, r.shape);
}
void hand(const ValueVisitor& v, DerivedRecipe& r) {
    std::visit([&](auto& c) { hand(v, c); }, r.change);
}
void hand(const ValueVisitor& v, EdgesRecipe& r) {
    v.point("at", "Part stands at", "Where the part's own origin is put", r.at);
    v.angle("turn", "Turn", "About the vertical", r.turn);
    v.point("pick", "Edge near", "Shares of the part's box, 0 to 1: the edge nearest to this point", r.pick);
    v.flag("loop", "Whole loop", "All round the face beside the edge", r.loop);
    v.flag("smooth", "Smooth", "A curve through the corners; else straight legs", r.smooth);
}
void hand(const ValueVisitor& v, JoinedRecipe& r) {
    v.length("gap", "Join gaps up to", "Wider gaps are a problem; narrower ones are bridged", r.gap);
}

} // namespace

void describe(const ValueVisitor& v, PathRecipe& recipe) {
    std::visit([&](auto& r) { hand(v, r); }, recipe);
}

} // namespace vicinal
