#pragma once
#include "layout/places.h"
#include "layout/spacing/limits.h"

namespace vicinal {

/// Stations to pixels and back for the strip, and what each pixel column has to say. A plain value, tested without a
/// window.
struct StripMap {
    double length = 1;            ///< mm of the whole path
    double from = 0;              ///< station at the left edge of the lanes
    double perPixel = 1;          ///< mm
    double left = 0, width = 100; ///< pixels of the lanes

    double x(double station) const { return left + (station - from) / perPixel; }
    double station(double px) const { return from + (px - left) * perPixel; }
    /// Shows the whole path with a little room at both ends.
    void showAll();
    /// Zooms by `factor` round the pixel, never beyond the whole path.
    void zoom(double factor, double px);
    void scroll(double byPixels);
    /// Distance of ruler ticks: 1, 2 or 5 times a power of ten of the unit, labels at least `room` pixels apart.
    double tickStep(double unitMm, double room) const;

private:
    void clamp();
};

/// What one pixel column of the clear-gap lane shows: never better than the worst gap in it.
struct GapColumn {
    bool any = false;
    double least = 0, most = 0; ///< mm, of all gaps that touch the column
    int worst = -1;             ///< index of a gap beyond its limit, else of the smallest
    bool over = false, under = false;
};

/// How many places the strip shows: those of the first row, which stand at their stations for all others.
size_t firstRow(const Places&);

/// One entry per pixel from left to left + width.
std::vector<GapColumn> gapColumns(const StripMap&, const Places&, const SpacingLimits&);

/// Index of the place whose drawn extent is nearest to a pixel, within `reach` pixels; -1 when none is.
int placeAt(const StripMap&, const Places&, double px, double reach);

} // namespace vicinal
