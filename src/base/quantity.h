#pragma once
#include "base/result.h"
#include <string>
#include <string_view>

namespace vicinal {

/// Units a length can be shown and typed in.
enum class Unit { Millimetre, Centimetre, Metre, Inch, Foot };

/// mm in one unit; its short name ("mm", "m", "in"...).
double millimetresPer(Unit);
const char* nameOf(Unit);

/// Unit of a short name, also "cm", "ft", `"` and `'`.
Result<Unit> unitNamed(std::string_view);

/// Reads a length typed by a user: numbers with units and arithmetic. The result is in mm.
///   2.4 m    3/4 in    2 1/2 in    6ft 2in    6' 2"    1200/7    (3 + 1/8) in    2*60 mm + 5 cm
/// A plain number counts in `unit`; a unit belongs to the whole quotient or product of plain numbers before it. Lengths
/// can be added, and multiplied or divided by plain numbers. Both a point and a comma without a group after it are
/// decimal signs. Problems say what is wrong and where.
Result<double> parseLength(std::string_view text, Unit unit);

/// Reads an angle: degrees when plain; deg, °, rad, turn, grad. The result is in radians.
Result<double> parseAngle(std::string_view text);

/// Reads a plain number with arithmetic; units are refused.
Result<double> parseNumber(std::string_view text);

/// Reads a whole number from `least` to `most`.
Result<long> parseCount(std::string_view text, long least, long most);

/// mm as text in `unit`, with decimals that suit the unit (mm 3, cm 4, m 6, in 4, ft 5) or `decimals`; no trailing
/// zeros.
std::string formatLength(double mm, Unit unit, int decimals = -1);

} // namespace vicinal
