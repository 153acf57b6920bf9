#pragma once
// What a run does, in a sentence: for its sheet, and for what is handed to those who have no Vicinal.
#include "base/quantity.h"
#include <functional>
#include <string>
#include <vector>

namespace vicinal {

struct RunResult;

/// What follows one another in a sentence.
struct SentencePiece {
    std::string text;
    std::string value; ///< which value of the run it tells, by the name of its field; empty: what joins them
};

/// Hands back words and phrases ("in %1 rows") in the language of whoever reads.
using Worded = std::function<std::string(const char*)>;

/// "Set Plank along Quay edge, every 120 mm...": all that a run is told, without a full stop. Lengths in `unit`.
std::vector<SentencePiece> sentenceOf(
    const RunResult&, Unit unit, const Worded& = [](const char* text) { return std::string(text); });

/// As plain text, with its full stop.
std::string plainSentence(const RunResult&, Unit);

} // namespace vicinal
