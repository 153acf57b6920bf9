#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/give_way.h"
#include "model/document/motion.h"
#include "model/document/run_item.h"

namespace vicinal {

void describe(const ValueVisitor& v, BodyItem& b) {
    v.point("at", "Moved by", "From where its shape puts it: its own origin, or the path it follows", b.at);
    v.turn("turn", "Turned about", "First about its own x, then y, then z, about its own origin", b.turn);
    v.number("size", "Size, times", "Larger or smaller by this factor, about its own origin", b.size);
    v.number("density", "Density", "kg in a cubic metre, for the mass; 0: not known", b.density);
    v.flag("seeThrough", "See-through", "Drawn so that what is behind it shows", b.seeThrough);
}

void describe(const ValueVisitor& v, Motion& m) {
    v.flag("moves", "Moves along", "The run moves along its path when the clock runs", m.moves);
    v.choice("motionBy", "Speed by", "What the speed is counted in", m.by,
             {{"speed", "length", "Length of path a second", ""}, {"places", "places", "Places a second", ""}});
    v.length("speed", "Speed", "Along the path, a second; below zero back", m.speed);
    v.number("placesASecond", "Places a second", "Below zero back", m.places);
    v.choice("motionWay", "At the end", "What happens where there is no way on", m.way,
             {{"round", "round", "On and on; on an open path from its start again", ""},
              {"to and fro", "to and fro", "Back again, and so on", ""},
              {"once", "once", "It stays there", ""}});
    v.profile("pace", "Pace along", "Share of the speed, by the station of the first place: 1 is all of it", m.pace,
              ProfileKind::Factor);
    v.stations("stops", "Stops at", "Stations of the first place at which the run stands for a while", m.stops);
    v.number("dwell", "For seconds", "How long it stands at each stop", m.dwell);
    v.length("ramp", "Slows over", "The way over which it slows down to a stop, and gets up to speed behind it",
             m.ramp);
}

void describe(const ValueVisitor& v, GiveWay& g) {
    v.choice("gives", "Gives way", "What changes so that nothing is left over and a chain closes", g.what,
             {{"nothing", "nothing", "The path stays as it is", ""},
              {"value", "a value", "One number of the path, found so that the count comes out exactly", "a value"},
              {"wheel", "a wheel", "One wheel of the loop, moved so that the count comes out exactly", "a wheel"}});
    v.count("giveCount", "Count", "How many places or links; 0: the count that comes nearest", g.count);
    v.choice("giveAxis", "Of the point", "Which of the point's numbers", g.axis, {"x", "y", "z"});
    v.count("giveWheel", "Wheel", "Its number in the loop, from 1", g.wheel);
    v.choice("giveMoves", "Moves", "What holds the wheel", g.moves,
             {{"line", "on a line", "Along a straight slot", ""},
              {"pivot", "on an arm", "On an arm about a pivot", ""},
              {"path", "along a path", "Its middle on another path", ""}});
    v.angle("giveHeading", "Slot heading", "Which way the slot leads, from the x of the loop's plane", g.heading);
    v.point("givePivot", "Pivot", "The point the arm turns about", g.pivot);
    v.item("giveAlong", "Path of the wheel", "The path that the wheel's middle moves along", g.along, ItemKind::Path);
}

namespace {

struct EachId : IgnoreValues {
    const std::function<void(Id&, ItemKind)>& use;
    explicit EachId(const std::function<void(Id&, ItemKind)>& to) : use(to) {}
    void item(const char*, const char*, const char*, Id& id, ItemKind kind) const { use(id, kind); }
};

} // namespace

void eachId(RunItem& r, const std::function<void(Id&, ItemKind)>& use) {
    const EachId each(use);
    use(r.path, ItemKind::Path), use(r.part, ItemKind::Part);
    describe(each, *r.spacing), describe(each, r.facing);
    eachRunGroup([&](const RunGroup&, auto member) { describe(each, r.*member); });
    for (SequenceStep& step : r.sequence.steps) use(step.part, ItemKind::Part);
    for (Exception& e : r.exceptions) describe(each, e);
    for (Check& c : r.checks)
        use(c.other, wordsOf(c.of).against == CheckAgainst::Body ? ItemKind::Body : ItemKind::Run);
}

void eachId(const RunItem& r, const std::function<void(Id, ItemKind)>& use) {
    RunItem copy = r; // describing takes what can be changed
    eachId(copy, std::function<void(Id&, ItemKind)>([&](Id& id, ItemKind kind) { use(id, kind); }));
}

} // namespace vicinal
