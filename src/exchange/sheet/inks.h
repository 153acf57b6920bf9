#pragma once
// What templates and tapes are drawn with. Not for others.
#include "base/say.h"
#include "exchange/paper/template.h"
#include "geometry/path/path.h"

namespace vicinal {

inline constexpr double kBar = 100; ///< mm; a bar of the proof of scale

using Bounds = std::pair<Vec2, Vec2>;

inline void widen(Bounds& b, const Vec2& p) {
    b.first = b.first.cwiseMin(p);
    b.second = b.second.cwiseMax(p);
}
inline Bounds nothing() { return {Vec2::Constant(kFar), Vec2::Constant(-kFar)}; }
inline bool meets(const Bounds& a, const Bounds& b) {
    return a.first.x() <= b.second.x() && b.first.x() <= a.second.x() && a.first.y() <= b.second.y() &&
           b.first.y() <= a.second.y();
}
inline Bounds boundsOf(const Ink& ink) {
    Bounds out = nothing();
    for (const Segment& s : ink.pieces) {
        const Box3 b = vicinal::boundsOf(s);
        widen(out, b.min().head<2>());
        widen(out, b.max().head<2>());
    }
    return out;
}
/// Capitals are about seven tenths as wide as high.
inline Bounds boundsOf(const Label& l) {
    const double wide = 0.8 * l.height * double(l.text.size());
    const double from = -shareBefore(l.anchor) * wide;
    const Eigen::Rotation2Dd R(l.turn);
    Bounds out = nothing();
    for (double x : {from, from + wide})
        for (double y : {-0.3 * l.height, l.height}) widen(out, l.at + R * Vec2(x, y));
    return out;
}

/// A text cut to a width, mm, so that it stays in its field: by letters, not bytes.
inline std::string cutToWidth(const std::string& s, double height, double width) {
    const auto most = size_t(std::max(1.0, width / (0.62 * height)));
    size_t letters = 0;
    for (size_t at = 0; at < s.size(); ++at)
        if ((static_cast<unsigned char>(s[at]) & 0xC0) != 0x80 && ++letters > most) return s.substr(0, at) + "...";
    return s;
}

inline Ink line(const Vec2& a, const Vec2& b, const Pen& pen, const std::string& layer = "0") {
    return {{Line{Vec3(a.x(), a.y(), 0), Vec3(b.x(), b.y(), 0)}}, false, pen, {}, layer};
}
inline Ink box(const Vec2& a, const Vec2& b, const Pen& pen) {
    Ink out{{}, true, pen, {}, "0"};
    const Vec3 c[] = {{a.x(), a.y(), 0}, {b.x(), a.y(), 0}, {b.x(), b.y(), 0}, {a.x(), b.y(), 0}};
    for (int i = 0; i < 4; ++i) out.pieces.push_back(Line{c[i], c[(i + 1) % 4]});
    return out;
}

/// A path as it looks along the last row of `view` (rows right, up, towards who looks), from the world's origin: arcs
/// that are seen square on stay arcs.
std::vector<Segment> flattened(const Path&, const Mat3& view);

/// A bar that measures so far off cannot come from a print at full size.
inline std::optional<Problem> notFullSize(double measured, const char* key) {
    if (measured >= 90 && measured <= 110) return std::nullopt;
    return Problem{"A bar of 100 mm that measures " + say::mm(measured) +
                       " was not printed at full size: 90 to 110 mm can be corrected. Print at actual size first.",
                   key};
}

/// Cuts a drawing that is on paper scale already into the template's pages. Problem: too many, stopped.
std::optional<Problem> cutIntoPages(const TemplateOrder&, const Sheet& paper, Template&, const std::string& title,
                                    const Stop*);

} // namespace vicinal
