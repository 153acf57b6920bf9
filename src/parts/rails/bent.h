#pragma once
// Rails that follow a curve: the section run along it, square to it, mitred at its corners.
#include "geometry/path/path.h"
#include "parts/body.h"
#include "parts/rails/section.h"

namespace vicinal {

/// What is up for a rail along its line; without any it is as near to plumb as it goes.
struct RailUps {
    std::vector<double> stations{}; ///< rising
    std::vector<Vec3> ups{};
    Vec3 at(double station, const Vec3& tangent) const; ///< unit, square to the tangent
};

enum class RailEnd {
    Plain,   ///< cut square
    Capped,  ///< and closed by a plate as large as the section
    Returned ///< bent round towards a wall or a post
};
enum class RailReturn { Down, Up, Left, Right };

/// How a rail ends.
struct RailEnds {
    RailEnd start = RailEnd::Plain, end = RailEnd::Plain;
    double cap = 3; ///< mm, thickness of the plates
    RailReturn to = RailReturn::Down;
    double radius = 80, leg = 100; ///< mm, of a return: of the bend's middle, and straight on behind it
};

/// The body, and how long the bar is that it is bent from (along its line, returns included; caps apart).
struct BentRail {
    BodyPtr body; ///< round `home`; its solid is built when it is asked for
    Vec3 home = Vec3::Zero();
    double length = 0;
    bool mitred = false; ///< the line has corners: it is several bars
};

/// Triangles as fine as of other bodies. The solid: exact for lines and arcs that are level and rails that are not
/// banked, else by OpenCASCADE's pipe along the line as it is, guided by what is up.
/// Problem ("width"): a bend sharper than the section reaches, with where and how sharp; ("returnRadius").
Result<BentRail> bentRail(const Path& line, const RailUps&, const RailFace&, const RailEnds&);

} // namespace vicinal
