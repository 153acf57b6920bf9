#include "layout/spacing/spacing.h"
#include "model/recipes/body_shape.h"
#include "model/recipes/cut_shape.h"
#include "model/recipes/rail_shape.h"

namespace vicinal {

void describe(const ValueVisitor& v, PlateOf& p) {
    v.item("path", "Outline", "The closed flat path that it follows", p.path, ItemKind::Path);
    v.length("thickness", "Thickness", "Square to the path's plane", p.thickness);
    v.flag("under", "Under the path", "The path is its upper edge; else it stands on it", p.under);
}

void describe(const ValueVisitor& v, WallAlong& w) {
    v.item("path", "Along", "The path that it follows", w.path, ItemKind::Path);
    v.length("height", "Height", "Of its top above the path", w.height);
    v.length("below", "Below", "How far its foot is under the path", w.below);
    v.length("thickness", "Thickness", "In plan, square to the path", w.thickness);
    v.choice("side", "Stands", "Where its sides are, as one goes along the path", w.side,
             {{"middle", "in the middle", "Half its thickness on either side of the path", "in the middle"},
              {"left", "to the left", "The path is its right side", "to the left"},
              {"right", "to the right", "The path is its left side", "to the right"}});
}

void describe(const ValueVisitor& v, Levels& l) {
    v.length("longest", "Longest edge",
             "Triangles at its border that have a longer edge are left out, so that bays of the outline stay open; 0: "
             "none",
             l.longest);
    v.length("thickness", "Solid down to",
             "A body down to a level foot so far below its lowest point; 0: a sheet without thickness", l.thickness);
}

void describe(const ValueVisitor& v, MadeGround& g) {
    v.choice("form", "Form", "What the ground is like", g.form,
             {{"slope", "slope", "Rises evenly along its length", "slope"},
              {"terraces", "terraces", "Level steps with banks between them", "terraces"},
              {"mound", "mound", "A round hill on level ground", "mound"}});
    v.length("length", "Length", "In plan, along x", g.length);
    v.length("width", "Width", "In plan, along y", g.width);
    v.length("rise", "Rise", "From its low to its high end, or to the mound's top", g.rise);
    if (g.form == GroundForm::Terraces) {
        v.count("steps", "Terraces", "How many levels", g.steps);
        v.length("bank", "Banks", "Length in plan of the slope between two terraces; 0: upright", g.bank);
    }
    if (g.form == GroundForm::Mound) v.length("radius", "Radius", "Of the mound's foot", g.radius);
}

/// What is run along.
static void describeSection(const ValueVisitor& v, RailAlong& r) {
    v.choice(
        "form", "Section", "What is run along", r.section.form,
        {{"round", "round", "A round bar or tube", "round"},
         {"square", "square", "A square bar or tube", "square"},
         {"flat", "flat", "A flat bar, or a tube that is not square", "flat"},
         {"angle", "angle", "Two legs, the heel at the right foot", "angle"},
         {"outline", "own outline", "A closed flat path of the document: drawn, or from DXF or SVG", "own outline"}});
    const RailForm form = r.section.form;
    if (form == RailForm::Outline) {
        v.item("outline", "Outline", "The closed flat path that is its section, round its middle; it follows it",
               r.outline, ItemKind::Path);
    } else {
        v.length("width", form == RailForm::Round ? "Diameter" : "Width", "Over all, across the rail", r.section.width);
        if (form == RailForm::Flat || form == RailForm::Angle)
            v.length("depth", "Depth", "Over all, upwards", r.section.depth);
        v.length("wall", form == RailForm::Angle ? "Legs thick" : "Wall",
                 form == RailForm::Angle ? "Thickness of both legs" : "Of a tube; 0: solid", r.section.wall);
    }
}

/// How far along.
static void describeReach(const ValueVisitor& v, RailAlong& r) {
    v.choice("reach", "Runs", "How far along", r.reach,
             {{"whole", "whole", "From end to end, less what it is set in by", ""},
              {"stations", "stations", "Of the path", "between stations"},
              {"places", "places", "Of the run, by their numbers", "between places"}});
    if (r.reach == RailReach::Whole) {
        v.length("startInset", "Set in, start", "It begins so far behind the path's start; below zero: it runs past it",
                 r.startInset);
        v.length("endInset", "Set in, end", "It ends so far before the path's end; below zero: it runs past it",
                 r.endInset);
    } else if (r.reach == RailReach::Stations) {
        v.length("from", "From station", "Of the path", r.from);
        v.length("to", "To station", "Of the path", r.to);
    } else {
        v.count("firstPlace", "From place", "Its number", r.firstPlace);
        v.count("lastPlace", "To place", "Its number; 0: the last one", r.lastPlace);
    }
}

static void describeEnds(const ValueVisitor& v, RailAlong& r) {
    const ChoiceWord ends[] = {
        {"plain", "plain", "Cut square", ""},
        {"capped", "capped", "Closed by a plate as large as the section", "capped"},
        {"returned", "returned", "Turned round towards a wall, a post or the ground", "returned"}};
    v.choice("startEnd", "Start", "How it ends there", r.ends.start, ends);
    v.choice("endEnd", "End", "How it ends there", r.ends.end, ends);
    const auto any = [&](RailEnd e) { return r.ends.start == e || r.ends.end == e; };
    if (any(RailEnd::Capped)) v.length("cap", "Caps thick", "Thickness of the plates", r.ends.cap);
    if (any(RailEnd::Returned)) {
        v.choice("returnTo", "Returned", "Which way, seen along the rail", r.ends.to,
                 {{"down", "down", "Towards the ground", ""},
                  {"up", "up", "", "up"},
                  {"left", "left", "", "left"},
                  {"right", "right", "", "right"}});
        if (r.style == RailStyle::Bent)
            v.length("returnRadius", "Bend radius", "Of the middle of the return's bend", r.ends.radius);
        v.length("returnLeg", "Returned by", "How long it goes on that way", r.ends.leg);
    }
}

void describe(const ValueVisitor& v, RailAlong& r) {
    v.item("run", "Of the run", "Whose path it follows, and between whose places straight pieces run", r.run,
           ItemKind::Run);
    if (r.run == 0)
        v.item("path", "Or along", "The path that it follows, where it is of no run", r.path, ItemKind::Path);
    v.choice("style", "Made", "Bent to the path, or cut straight", r.style,
             {{"bent", "bent", "One bar, bent to the path; mitred where the path has corners", "bent"},
              {"straight", "straight", "A bar from each place of the run to the next", "straight"}});
    describeSection(v, r);
    v.angle("sectionTurn", "Section turned", "The section about the rail, its top to the left", r.section.turn);
    v.length("height", "Height", "Of its middle above the path, or above the seat points of the run's places",
             r.height);
    v.length("across", "To the left", "Of its middle from the path, seen along it; below zero to the right", r.across);
    v.count("count", "Rails", "How many, alike", r.count);
    if (r.count > 1) {
        v.length("apart", "Apart", "From the middle of one to the middle of the next", r.apart);
        v.choice("way", "Set", "How they lie", r.way,
                 {{"up", "above", "One above the other; the first is the lowest", "above one another"},
                  {"across", "beside", "Side by side; their middle is where one alone would be: two rails at a gauge",
                   "side by side"}});
    }
    v.flag("banked", "Banked", "Height and section lean with the run's crowns and roll; else they are plumb", r.banked);
    describeReach(v, r);
    if (r.style == RailStyle::Straight) {
        v.choice("joint", "Joints", "How two pieces meet at a place", r.joint,
                 {{"mitred", "mitred", "Both cut in the plane that halves the angle", "mitred"},
                  {"butted", "butted", "Both cut square, as long as they can be", "butted"},
                  {"overlapping", "overlapping", "Both cut square and run on past the place, one above the other",
                   "overlapping"}});
        if (r.joint == RailJoint::Overlapping)
            v.length("overlap", "Past the place", "How far each piece runs on", r.overlap);
        else
            v.length("gap", "Gap", "Between two pieces", r.gap);
    }
    describeEnds(v, r);
}

void describe(const ValueVisitor& v, CutBy& c) {
    v.item("of", "Body", "That is cut or raised on; it stays as it is, hide it to see this one alone", c.of,
           ItemKind::Body);
    if (c.of == 0) v.item("part", "Or part", "That is cut, where it is no body", c.part, ItemKind::Part);
    v.item("run", "By the run", "Whose parts are the cutting shapes, wherever it has a place", c.run, ItemKind::Run);
    v.choice("does", "Does", "Take away or put on", c.does,
             {{"cut", "cut away", "The shapes are taken out of the body", "cut away"},
              {"raise", "raise", "The shapes stand on the body and become one with it", "raised"}});
    v.choice(
        "depth", "How far", "Where the shapes begin and end", c.depth,
        {{"through", "through", "The outline of each part, through the whole body", "through"},
         {"deep", "to a depth", "The outline of each part, from its seat point down; raised: up", "to a depth"},
         {"as it is", "as the part is", "The part itself as it stands there, whatever its shape", "as the part is"}});
    if (c.depth == CutDepth::Deep)
        v.length("deep", c.does == CutDoes::Cut ? "Depth" : "Height",
                 "From the seat point, against the crown; raised: along it", c.deep);
    if (c.depth != CutDepth::AsItIs) {
        v.choice("way", "Along", "Which way it is cut", c.way,
                 {{"crown", "each crown", "Along the crown of each place", ""},
                  {"face", "the face", "Square to the body's own face where the place is nearest to it",
                   "square to the face"}});
        v.length("clearance", "Clearance", "The shapes are larger by it all round; below zero: smaller", c.clearance);
    }
    if (c.does == CutDoes::Cut)
        v.length("least", "Least web", "Webs that are narrower are marked; 0: none is", c.least);
}

} // namespace vicinal
