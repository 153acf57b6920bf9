#include "layout/along/changes.h"
#include "layout/along/feet.h"

namespace vicinal {

void describe(const ValueVisitor& v, Changes& c) {
    v.profile("roll", "Roll", "Turn about the nose along the run: keys of station and angle", c.roll,
              ProfileKind::Angle);
    v.profile("size", "Size", "Size along the run, about the seat point: keys of station and factor", c.size,
              ProfileKind::Factor);
    v.profile("across", "Across", "Offset to the left of the path: one value, or keys of station and length", c.across,
              ProfileKind::Length);
    v.profile("up", "Up", "Offset along the crown: one value, or keys of station and length", c.up,
              ProfileKind::Length);
}

void describe(const ValueVisitor& v, Unevenness& u) {
    v.length("unevenAlong", "Uneven along", "Places are moved along the path by up to this, either way", u.along);
    v.length("unevenAcross", "Uneven across", "Places are moved across the path by up to this, either way", u.across);
    v.length("unevenUp", "Uneven up", "Places are raised or lowered by up to this", u.up);
    v.angle("unevenTurn", "Uneven turn", "Parts are turned about the crown by up to this, either way", u.turn);
    v.number("unevenSize", "Uneven size", "Parts are larger or smaller by up to this share of their size", u.size);
    v.count("seed", "Seed", "Another number gives other differences; the same one gives the same everywhere", u.seed);
}

void describe(const ValueVisitor& v, Sequence& s) {
    v.flag("byWeight", "By weight", "Chance chooses among the parts by their weights", s.byWeight);
    v.count("sequenceSeed", "Seed", "Another number gives another choice; the same one gives the same everywhere",
            s.seed);
    v.item("firstPart", "First", "Another part at the first place", s.first, ItemKind::Part);
    v.item("lastPart", "Last", "Another part at the last place", s.last, ItemKind::Part);
    v.item("cornerPart", "On corners", "Another part at places that stand on a corner", s.corner, ItemKind::Part);
    v.count("every", "Every", "Another part at every so-many-th place, from the first on; 0: nowhere", s.every);
    v.item("everyPart", "There", "The part at every so-many-th place", s.nth, ItemKind::Part);
}

void describe(const ValueVisitor& v, Rows& r) {
    v.count("rows", "Rows", "How many rows, to the left of the path", r.rows);
    v.length("rowsApart", "Rows apart", "From row to row; below zero to the right", r.apart);
    v.choice("rowsKeep", "Rows keep", "What rows beside the path keep where it bends", r.keep,
             {{"abreast", "abreast", "Every place stands beside its place of the first row", ""},
              {"pitch", "the pitch",
               "Every row is set along its own offset path, with its own length, at the pitch of the first row",
               "each at its own pitch"}});
    v.count("tiers", "Tiers", "How many tiers, one above the other", r.tiers);
    v.length("tierHeight", "Tier height", "From tier to tier along the crown", r.high);
    v.flag("staggered", "Staggered", "Every other row or tier stands half a pitch on", r.staggered);
}

void describe(const ValueVisitor& v, Echo& e, bool second) {
    v.choice(second ? "again" : "echo", second ? "Echo again" : "Echo", "The whole run once more, or several times",
             e.kind, kEchoWords);
    v.point(second ? "againAt" : "echoAt", "Echo at", "A point of the mirror or of the axis", e.at);
    v.direction(second ? "againAlong" : "echoAlong", "Echo along",
                "Square to the mirror, along the line, or along the axis; its length does not matter", e.along);
    v.count(second ? "againCount" : "echoCount", "Times", "How many in all, with the run itself", e.count);
    v.length(second ? "againBy" : "echoBy", "Echo by", "From one to the next in a line", e.by);
    v.angle(second ? "againAngle" : "echoAngle", "Echo turn", "From one to the next round the axis", e.angle);
    v.item(second ? "againPart" : "echoPart", "Copies are",
           "The part behind the mirror instead of the run's own: its mirrored copy, made in the yard; none: the same "
           "part, "
           "which stands there as in a mirror but is not mirrored itself",
           e.part, ItemKind::Part);
}

void describe(const ValueVisitor& v, Echoes& e) {
    describe(v, e.one, false);
    describe(v, e.two, true);
}

void describe(const ValueVisitor& v, Exception& e) {
    v.limit("station", "At station", "Bound to this station instead of a number", e.station);
    v.flag("out", "Left out", "No part stands there", e.out);
    v.item("part", "Part", "Another part there", e.part, ItemKind::Part);
    v.point("move", "Moved", "Moved along, across and up", e.move);
    v.turn("turn", "Turned", "Turned about nose, side and crown", e.turn);
    v.number("size", "Size", "Another size, about the seat point", e.size);
}

void describe(const ValueVisitor& v, Feet& f) {
    v.item("ground", "Ground", "The body that each place is dropped or raised onto, plumb; the path stays as it is",
           f.ground, ItemKind::Body);
    v.length("sunk", "Sunk by", "How deep the seat points are in the ground; below zero: how high above it", f.sunk);
    v.choice("feetBy", "Levels", "Each place by itself, or level in every bay and stepped at what ends it", f.by,
             {{"each", "each its own", "Every place stands on its own ground", "each on its own ground"},
              {"bay", "level bays", "All places of a bay stand at one level", "level in bays"}});
    v.choice("bayLevel", "At its ground's", "Which ground in a bay makes its level", f.level,
             {{"highest", "highest", "Nothing of the bay is under the ground", "highest"},
              {"middle", "middle", "Half-way between highest and lowest", "middle"},
              {"lowest", "lowest", "No gap under any place of the bay", "lowest"}});
}

} // namespace vicinal
