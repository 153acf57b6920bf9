#pragma once
// Dimensions on a sheet, in paper millimetres, that keep clear of one another.
#include "exchange/sheet/inks.h"

namespace vicinal {

class Dimensions {
public:
    explicit Dimensions(Sheet& to) : m_out(to) {}

    /// A straight row of points: where it begins on paper, which way it leads (unit), to which side the dimensions
    /// stand (unit, square to it), and how far from the row the first of them does.
    struct Row {
        Vec2 from, along, side;
        double clear = 8;
    };
    /// A chain: positions along the row on paper (rising) with the real lengths between them, in mm. Neighbours that
    /// are equal are written as one, "12 x 150 = 1800". `prefix`: before each. Takes up a line of the row.
    void chain(Row&, const std::vector<double>& at, const std::vector<double>& lengths, const std::string& prefix = {});
    /// Single stretches that do not hang together: from, to on paper, and the real length.
    struct Stretch {
        double from, to, length;
    };
    void stretches(Row&, const std::vector<Stretch>&, const std::string& prefix = {});
    /// Stations from the row's start: where on paper, and the real station. What would stand on one another is left
    /// out, the last never.
    void running(Row&, const std::vector<double>& at, const std::vector<double>& stations);
    /// An angle between two directions (unit) at a point, rad.
    void angle(const Vec2& at, const Vec2& one, const Vec2& other, double value);
    /// A label, where there is room; false when there is none.
    bool label(Label, bool evenIfTaken = false);

    size_t leftOut() const { return m_leftOut; } ///< texts for which there was no room

private:
    void tick(const Vec2& at, const Vec2& along);
    void text(const Vec2& middle, const Vec2& along, const Vec2& side, const std::string&, double room);
    Sheet& m_out;
    std::vector<Bounds> m_taken;
    size_t m_leftOut = 0;
};

} // namespace vicinal
