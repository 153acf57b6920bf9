#pragma once
#include "layout/along/profile.h"
#include "layout/facing/facing.h"
#include "model/evaluate/evaluate.h"
#include "model/recipes/rail_shape.h"
#include <optional>

namespace vicinal {

/// How far a rail runs along its path, between which places, and which way is up there.
class RailRange {
public:
    RailRange(const RailAlong&, const BodyResult& of);

protected:
    /// How the path itself faces at a station: along, left, up.
    Mat3 facingAt(double station) const;
    /// The places of its first row that are there, in order; and the stretch of the path.
    std::optional<Problem> findRange();

    const RailAlong& m_rail;
    const Path& m_path;
    const RunResult* m_run;
    const Placed* m_places = nullptr;
    std::vector<size_t> m_nodes;
    double m_from = 0, m_to = 0;
    bool m_closed = false;

private:
    mutable std::optional<Facing> m_facing;
    mutable ProfileCurve m_roll;
};

} // namespace vicinal
