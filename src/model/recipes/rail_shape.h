#pragma once
// Rails: a section along a run's path, bent to it or straight from place to place.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "parts/rails/bent.h"

namespace vicinal {

enum class RailStyle { Bent, Straight };
enum class RailReach { Whole, Stations, Places };
enum class RailsApart { Up, Across };

struct RailAlong {
    Id run = 0;  ///< whose path it follows, and whose places straight pieces run between
    Id path = 0; ///< that it follows instead of a run's
    RailStyle style = RailStyle::Bent;
    RailProfile section;
    Id outline = 0; ///< the closed flat path that is the section of RailForm::Outline
    double height = 900, across = 0;
    long count = 1;
    double apart = 300; ///< mm, from one rail to the next
    RailsApart way = RailsApart::Up;
    bool banked = false; ///< height and section go by the run's crown and roll; else plumb
    RailReach reach = RailReach::Whole;
    double startInset = 0, endInset = 0; ///< of Whole
    double from = 0, to = 1000;          ///< of Stations
    long firstPlace = 1, lastPlace = 0;  ///< of Places; 0: the last one
    RailJoint joint = RailJoint::Mitred; ///< of straight pieces
    double gap = 0, overlap = 100;
    RailEnds ends;
};
bool operator==(const RailAlong&, const RailAlong&);

template<class V, Describes<RailAlong> R> void describe(V&& v, R& r) {
    v.item("run", "Of the run", "Whose path it follows, and between whose places straight pieces run", r.run,
           ItemOf::Run);
    if (r.run == 0) v.item("path", "Or along", "The path that it follows, where it is of no run", r.path, ItemOf::Path);
    v.choice("style", "Made", "Bent to the path, or cut straight", r.style,
             {{"bent", "bent", "One bar, bent to the path; mitred where the path has corners", "bent"},
              {"straight", "straight", "A bar from each place of the run to the next", "straight"}});
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
               r.outline, ItemOf::Path);
    } else {
        v.length("width", form == RailForm::Round ? "Diameter" : "Width", "Over all, across the rail", r.section.width);
        if (form == RailForm::Flat || form == RailForm::Angle)
            v.length("depth", "Depth", "Over all, upwards", r.section.depth);
        v.length("wall", form == RailForm::Angle ? "Legs thick" : "Wall",
                 form == RailForm::Angle ? "Thickness of both legs" : "Of a tube; 0: solid", r.section.wall);
    }
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

} // namespace vicinal
