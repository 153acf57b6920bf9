#pragma once
// Teeth of a sprocket for roller chain.
#include "parts/makers/maker.h"

namespace vicinal {

/// The numbers of a tooth gap, mm and radians.
struct ToothForm {
    double pitchDiameter = 0, rootDiameter = 0, tipDiameter = 0;
    double seatRadius = 0; ///< of the arc a roller sits in
    double seatAngle = 0;  ///< over which it sits
    double flankRadius = 0;
};
/// Half-way between the smallest and the largest gap that the standard allows.
/// Source: ISO 606:2015, 5.2 "tooth form": d = p / sin(pi/z); df = d - d1; da from d + p (1 - 1.6/z) - d1 to
/// d + 1.25 p - d1; ri from 0.505 d1 to 0.505 d1 + 0.069 d1^(1/3); alpha from 140 to 120 degrees less 90 / z; re from
/// 0.12 d1 (z + 2) to 0.008 d1 (z^2 + 180). Precondition: teeth >= 5, pitch and roller above zero.
ToothForm toothForm(long teeth, double pitch, double roller);

/// All round, counter-clockwise, in plan about the origin, the middle of a gap on +x. Arcs alone. A tooth whose flanks
/// meet below the tip circle ends where they meet. Problem ("roller"): rollers so large that gaps run into each other.
Result<Ring> toothedRing(long teeth, double pitch, double roller);

/// Roller diameter of the standard's chain of this pitch; nothing for other pitches. Source: ISO 606, table 1.
std::optional<double> standardRoller(double pitch);

} // namespace vicinal
