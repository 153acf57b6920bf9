#pragma once
// Chains of links along a path. Not for others.
#include "layout/spacing/ruler.h"

namespace vicinal::spacing {

/// Pins from `first` on, unwrapped: `links` of them and one more, or as many as end before `end`; every link is `play`
/// longer than its pins are apart. Stops where there is no way on.
std::vector<double> chain(const Ruler&, double first, double end, long links, double play);

/// What counts are a multiple of: what is wished, and where links alternate all the way round the length of the
/// pattern.
long countsBy(const Ruler&);

/// That so many links cannot go all the way round, since they alternate.
std::optional<Problem> notWhole(const Ruler&, long count, const char* field);

/// What is missing, straight, mm, between the last pin of a chain all the way round and its first one; below zero they
/// overlap.
double closingOf(const Ruler&, double firstPin, double lastPin);

/// The play in each of `links` joints, mm, that makes the chain end just at the ruler's end; below zero the links are
/// pushed together. Not a number when none does.
double playFor(const Ruler&, long links);

/// How far each link turns from the one before, rad: at its first pin. On a closed chain all of them, else from the
/// second link on.
std::vector<double> jointTurns(const Path&, const std::vector<double>& from, const std::vector<double>& to,
                               bool closed);

} // namespace vicinal::spacing
