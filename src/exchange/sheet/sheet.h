#pragma once
// Ink on paper, whatever file it ends in. Lengths mm, origin at the lower left corner, y up.
#include "geometry/path/segment.h"
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace vicinal {

/// How a line is drawn.
struct Pen {
    double width = 0.25;        ///< mm
    double grey = 0;            ///< 0 ink .. 1 paper
    std::vector<double> dash{}; ///< mm on, off, ...; none: whole
    bool operator==(const Pen&) const = default;
};

/// Lines and curves that hang together, in the plane of the sheet (z is not looked at).
struct Ink {
    std::vector<Segment> pieces;
    bool closed = false;
    Pen pen{};
    std::optional<double> fill{}; ///< grey of what it encloses; 1 covers what lies beneath, where a file can
    std::string layer = "0";      ///< where the file has layers
};

enum class Anchor { Left, Middle, Right };
/// Of a text's width, what lies before the point it stands at.
inline double shareBefore(Anchor a) {
    if (a == Anchor::Middle) return 0.5;
    return a == Anchor::Left ? 0 : 1;
}
/// One line of text.
struct Label {
    Vec2 at = Vec2::Zero(); ///< on the base line
    std::string text;       ///< UTF-8
    double height = 3;      ///< mm, of capitals
    Anchor anchor = Anchor::Left;
    double turn = 0; ///< rad, counter-clockwise
    double grey = 0;
    bool bold = false;
    std::string layer = "0";
};

/// A block put somewhere.
struct Insert {
    std::string block;
    Vec2 at = Vec2::Zero();
    double turn = 0; ///< rad, counter-clockwise
    std::string layer = "0";
};

struct Sheet {
    std::string name; ///< "B3"
    double width = 210, height = 297;
    std::vector<Ink> inks;
    std::vector<Label> labels;
    /// What stands there several times, about its own origin; a DXF keeps it so.
    std::map<std::string, std::vector<Ink>> blocks{};
    std::vector<Insert> inserts{};
    /// Ink is only drawn in there; empty: everywhere. Labels always are.
    std::optional<std::pair<Vec2, Vec2>> clip{};
};

/// The same with every insert as ink.
Sheet expanded(const Sheet&);

} // namespace vicinal
