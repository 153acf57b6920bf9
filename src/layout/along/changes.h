#pragma once
// What changes along a run besides its spacing: profiles, unevenness, sequence, rows, echoes, exceptions. Each is
// described once.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "base/vec.h"
#include "layout/along/profile.h"
#include <cstdint>

namespace vicinal {

/// Profiles along the run. An empty one changes nothing.
struct Changes {
    Profile roll{};   ///< radians about the nose
    Profile size{};   ///< factor, about the seat point
    Profile across{}; ///< mm to the side of the path
    Profile up{};     ///< mm along the crown
    bool operator==(const Changes&) const = default;
    bool none() const { return roll.empty() && size.empty() && across.empty() && up.empty(); }
};
template<class V, Describes<Changes> C> void describe(V&& v, C& c) {
    v.profile("roll", "Roll", "Turn about the nose along the run: keys of station and angle", c.roll, ProfileOf::Angle);
    v.profile("size", "Size", "Size along the run, about the seat point: keys of station and factor", c.size,
              ProfileOf::Factor);
    v.profile("across", "Across", "Offset to the left of the path: one value, or keys of station and length", c.across,
              ProfileOf::Length);
    v.profile("up", "Up", "Offset along the crown: one value, or keys of station and length", c.up, ProfileOf::Length);
}

/// Random differences within bounds, the same on every machine for the same seed.
struct Unevenness {
    double along = 0, across = 0, up = 0; ///< mm to either side
    double turn = 0;                      ///< radians to either side, about the crown
    double size = 0;                      ///< share of the size, to either side
    long seed = 1;
    bool operator==(const Unevenness&) const = default;
    bool none() const { return along == 0 && across == 0 && up == 0 && turn == 0 && size == 0; }
};
template<class V, Describes<Unevenness> U> void describe(V&& v, U& u) {
    v.length("unevenAlong", "Uneven along", "Places are moved along the path by up to this, either way", u.along);
    v.length("unevenAcross", "Uneven across", "Places are moved across the path by up to this, either way", u.across);
    v.length("unevenUp", "Uneven up", "Places are raised or lowered by up to this", u.up);
    v.angle("unevenTurn", "Uneven turn", "Parts are turned about the crown by up to this, either way", u.turn);
    v.number("unevenSize", "Uneven size", "Parts are larger or smaller by up to this share of their size", u.size);
    v.count("seed", "Seed", "Another number gives other differences; the same one gives the same everywhere", u.seed);
}

/// Which part stands where.
struct SequenceStep {
    Id part = 0;
    long repeat = 1;
    double weight = 1; ///< when chance chooses
    bool operator==(const SequenceStep&) const = default;
};
struct Sequence {
    std::vector<SequenceStep> steps{}; ///< none: the run's part everywhere
    bool byWeight = false;             ///< chance chooses by the weights instead
    long seed = 1;
    Id first = 0, last = 0, corner = 0, nth = 0; ///< other parts at special places; 0: none
    long every = 0;                              ///< nth stands at every so-many-th place, counted from the first
    bool operator==(const Sequence&) const = default;
};
/// Besides the steps themselves.
template<class V, Describes<Sequence> S> void describe(V&& v, S& s) {
    v.flag("byWeight", "By weight", "Chance chooses among the parts by their weights", s.byWeight);
    v.count("sequenceSeed", "Seed", "Another number gives another choice; the same one gives the same everywhere",
            s.seed);
    v.item("firstPart", "First", "Another part at the first place", s.first, ItemOf::Part);
    v.item("lastPart", "Last", "Another part at the last place", s.last, ItemOf::Part);
    v.item("cornerPart", "On corners", "Another part at places that stand on a corner", s.corner, ItemOf::Part);
    v.count("every", "Every", "Another part at every so-many-th place, from the first on; 0: nowhere", s.every);
    v.item("everyPart", "There", "The part at every so-many-th place", s.nth, ItemOf::Part);
}

/// How the places of further rows are found.
enum class RowsKeep {
    Abreast, ///< each beside its place of the first row
    Pitch,   ///< the rule anew along the offset path, which has a length of its own, at the first row's pitch
};
/// Rows beside and tiers above, each place's own neighbours.
struct Rows {
    long rows = 1, tiers = 1;
    double apart = 100, high = 100; ///< mm between rows (to the left) and tiers (along the crown)
    bool staggered = false;         ///< every other row or tier is half a pitch on
    RowsKeep keep = RowsKeep::Abreast;
    bool operator==(const Rows&) const = default;
    bool none() const { return rows == 1 && tiers == 1; }
};
template<class V, Describes<Rows> R> void describe(V&& v, R& r) {
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

/// The whole run again: mirrored, in a line, or round an axis.
enum class EchoKind { None, Mirrored, InLine, Round };
struct Echo {
    EchoKind kind = EchoKind::None;
    Vec3 at = Vec3::Zero();     ///< a point of the mirror or the axis
    Vec3 along = Vec3::UnitX(); ///< square to the mirror; of the line; of the axis
    long count = 2;             ///< in all, with the run itself; mirrored: always 2
    double by = 1000;           ///< mm from one to the next, in a line
    double angle = kPi / 2;     ///< from one to the next, round an axis
    bool operator==(const Echo&) const = default;
};
inline constexpr ChoiceWord kEchoWords[] = {
    {"none", "none", "The run stands once", ""},
    {"mirrored", "mirrored", "Again on the other side of a mirror", "mirrored"},
    {"in a line", "in line", "Again and again in a line", "echoed in a line"},
    {"round an axis", "round", "Again and again round an axis", "echoed round an axis"}};
/// `second`: the echo of the echo has words of its own.
template<class V, Describes<Echo> E> void describe(V&& v, E& e, bool second) {
    v.choice(second ? "again" : "echo", second ? "Echo again" : "Echo", "The whole run once more, or several times",
             e.kind, kEchoWords);
    v.point(second ? "againAt" : "echoAt", "Echo at", "A point of the mirror or of the axis", e.at);
    v.direction(second ? "againAlong" : "echoAlong", "Echo along",
                "Square to the mirror, along the line, or along the axis; its length does not matter", e.along);
    v.count(second ? "againCount" : "echoCount", "Times", "How many in all, with the run itself", e.count);
    v.length(second ? "againBy" : "echoBy", "Echo by", "From one to the next in a line", e.by);
    v.angle(second ? "againAngle" : "echoAngle", "Echo turn", "From one to the next round the axis", e.angle);
}
struct Echoes {
    Echo one{}, two{};
    bool operator==(const Echoes&) const = default;
    bool none() const { return one.kind == EchoKind::None && two.kind == EchoKind::None; }
};
template<class V, Describes<Echoes> E> void describe(V&& v, E& e) {
    describe(v, e.one, false);
    describe(v, e.two, true);
}

/// What is special about one place. It is bound to the place's number, or to where it stood.
struct Exception {
    int place = 0;                   ///< from 1
    std::optional<double> station{}; ///< bound to this instead, mm: the nearest place within half a pitch
    bool out = false;
    Id part = 0;              ///< another part; 0: the one it has anyway
    Vec3 move = Vec3::Zero(); ///< mm along, across, up
    Vec3 turn = Vec3::Zero(); ///< radians about nose, side, crown
    double size = 1;
    bool operator==(const Exception&) const = default;
    bool plain() const { return !out && part == 0 && move.isZero(0) && turn.isZero(0) && size == 1; }
};
template<class V, Describes<Exception> E> void describe(V&& v, E& e) {
    v.limit("station", "At station", "Bound to this station instead of a number", e.station);
    v.flag("out", "Left out", "No part stands there", e.out);
    v.item("part", "Part", "Another part there", e.part, ItemOf::Part);
    v.point("move", "Moved", "Moved along, across and up", e.move);
    v.turn("turn", "Turned", "Turned about nose, side and crown", e.turn);
    v.number("size", "Size", "Another size, about the seat point", e.size);
}

} // namespace vicinal
