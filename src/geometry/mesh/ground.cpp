#include "geometry/mesh/ground.h"
#include "base/vec.h"
#include <algorithm>

namespace vicinal {

const LazySurface::Kept& LazySurface::made() const {
    std::call_once(m_once, [&] {
        Made made = m_make();
        m_kept = {std::make_unique<const MeshTree>(std::move(made.mesh)), made.within};
    });
    return m_kept;
}

std::optional<Ground::Hit> Ground::along(const Vec3& point, const Vec3& direction) const {
    const Vec3 start = m_turn.transpose() * (point - m_at), d = m_turn.transpose() * direction;
    const MeshTree& t = tree();
    thread_local std::vector<MeshHit> all;
    all.clear();
    t.hits(start, d, all);
    // Sheets may face either way; of what is closed only the sides that face the line.
    const auto facing = [&](const MeshHit& h) { return t.flatNormal(h.triangle).dot(d) < 0; };
    const MeshHit* first = nullptr;
    for (const MeshHit& h : all)
        if (!first || h.distance < first->distance || (h.distance == first->distance && h.triangle < first->triangle))
            first = &h;
    if (!first) return std::nullopt;
    Hit out{m_turn * (start + first->distance * d) + m_at, Vec3::Zero(), first->triangle, false};
    out.normal = m_turn * t.normalAt(start + first->distance * d, first->triangle);
    if (out.normal.dot(direction) > 0) out.normal = -out.normal;
    const bool front = facing(*first);
    for (const MeshHit& h : all)
        if (h.distance > first->distance + tolerance::length && facing(h) == front) out.overhangs = true;
    return out;
}

std::optional<double> Ground::heightAt(const Vec3& point) const {
    if (const auto hit = along(point, -Vec3::UnitZ())) return hit->at.z();
    return std::nullopt;
}

Ground::Hit Ground::nearest(const Vec3& point) const {
    const auto near = tree().nearest(m_turn.transpose() * (point - m_at));
    return {m_turn * near.at + m_at, m_turn * tree().normalAt(near.at, near.triangle), near.triangle, false};
}

} // namespace vicinal
