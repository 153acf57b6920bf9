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
    static constexpr const char* kKind = "rail"; ///< in files
    static constexpr const char* kNeeds[] = {"run or path"};
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

void describe(const ValueVisitor&, RailAlong&);

} // namespace vicinal
