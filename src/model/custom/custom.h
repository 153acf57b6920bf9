#pragma once
// How the trade sets a part along a path: what a first run is given, and what it brings along.
#include "model/document/document.h"
#include "model/verdicts/checked.h"

namespace vicinal {

/// A run that begins, in its document.
struct FirstRun {
    Document document;
    Id run = 0;
    std::vector<Words> says; ///< what was made or changed beside the run itself, one sentence each
};
/// A new run of this part along this path as it is usually set: rule, measure, ends, nose and crown, turns, sequence,
/// limits, feet, what gives way. Links bring their second kind, and turn wheels of a loop into sprockets that fit them.
/// `worked`: the document worked out. Problem: path or part is missing or wrong ("path", "part").
Result<FirstRun> withFirstRun(const Document&, const Evaluation& worked, Id path, Id part);

/// What one click does about a run that is wrong as it begins.
struct Mend {
    Words says; ///< what it does: "Leave out the 4 places that run into another"
    Document document;
};
/// The first of a few ways that leaves nothing wrong with this run: what runs into another is left out, corners that
/// links cannot go round are rounded, a chain that bends in one plane goes along the path's plan. Each is worked out
/// and checked. Nothing where the run is not wrong, or none of them helps.
std::optional<Mend> mendOf(const Document&, const std::shared_ptr<const Evaluation>& worked, const RunChecks&,
                           Job* = nullptr);

/// What a part is in the name of its run: "Chain", "Balusters"; the part's own name where it is of no maker.
std::string nounOf(const PartItem&);

} // namespace vicinal
