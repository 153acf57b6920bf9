#pragma once
#include "base/quantity.h"
#include "base/vec.h"
#include <QString>

namespace vicinal {

/// Length for reading, "118.67 mm": mm to 2 decimals, other units as fine; trailing zeros kept so that columns align.
QString lengthText(double mm, Unit unit, bool withUnit = true);
/// Long lengths, "7.24 m", whatever the unit when it is metric; else in the unit.
QString longLengthText(double mm, Unit unit);
/// "x,y,z" typed by a user in `unit`, mm; two values keep z of `now`, one keeps nothing and is a problem.
Result<Vec3> parsePoint(const QString& text, Unit unit, const Vec3& now);

/// "Volume 12.5 cm\u00b3": cubic millimetres up to a thousand, then centimetres, then metres.
QString volumeText(double mm3);

} // namespace vicinal
