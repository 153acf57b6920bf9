#pragma once
// Kinds of files, a row each. One more: its row, and its reader or writer.
#include <span>
#include <string>
#include <vector>

namespace vicinal {

/// What a kind of file can be for.
enum class FormatUse {
    ReadCurves,
    ReadPoints, ///< of a path
    ReadPart,
    ReadLevels,
    Paper, ///< templates and drawings
    Tape,
    Solids, ///< as they stand
    Bodies, ///< one body, or a file a part
    List,
    Shaded, ///< pictures
    Lines,  ///< line pictures
    Export, ///< runs by the ending of their file
    Film,   ///< what moves
};
inline constexpr int kFormatUses = 13;

struct Format {
    std::vector<const char*> endings; ///< without the dot, the usual one first: its word in documents
    const char* label;                ///< "STEP"
    /// Where it is offered, and as the how manieth, from 1; the first is taken unless another is asked for.
    struct Offer {
        FormatUse use;
        int rank;
    };
    std::vector<Offer> offers;
};

/// The kind by any of its endings, in small letters and without the dot; null when it is not known.
const Format* formatOf(const std::string& ending);
/// By a file's name, whatever its letters.
const Format* formatOfFile(const std::string& name);
/// Whether it is for that; a null one is for nothing.
bool isFor(const Format*, FormatUse);
/// Words of those for a use, as they are offered.
std::span<const char* const> formatsFor(FormatUse);
/// Their endings: ".step, .stp, .obj or .stl".
std::string endingsFor(FormatUse);
/// Their labels: "DXF, SVG or STEP".
std::string labelsFor(FormatUse);
/// Their endings as dialogs want them: "*.step *.stp *.obj".
std::string patternsFor(std::initializer_list<FormatUse>);

} // namespace vicinal
