#pragma once
#include "geometry/mesh/tree.h"

namespace vicinal {

/// A body put somewhere, as a surface that paths, feet and crowns ask: x -> turn x + at.
class Ground {
public:
    Ground(std::shared_ptr<const Mesh> mesh, std::shared_ptr<const LazyTree> tree, const Mat3& turn, const Vec3& at)
        : m_mesh(std::move(mesh)), m_tree(std::move(tree)), m_turn(turn), m_at(at) {}

    struct Hit {
        Vec3 at, normal; ///< the normal smooth, as MeshTree::normalAt()
        std::uint32_t triangle;
        bool overhangs = false; ///< the line meets the surface again farther on: there is more of it below
    };
    /// Where the whole line through a point meets the surface first on its way along `direction` (unit): for straight
    /// down, the uppermost. Nothing where it misses. A closed body's underside is no overhang: only what faces against
    /// the direction counts.
    std::optional<Hit> along(const Vec3& point, const Vec3& direction) const;
    /// The same straight down, as a height: the quick way for many.
    std::optional<double> heightAt(const Vec3& point) const;
    /// The nearest point. Precondition: the mesh has triangles.
    Hit nearest(const Vec3& point) const;

    const MeshTree& tree() const { return m_tree->of(m_mesh); }
    const Mat3& turn() const { return m_turn; }
    const Vec3& origin() const { return m_at; }

private:
    std::shared_ptr<const Mesh> m_mesh;
    std::shared_ptr<const LazyTree> m_tree;
    Mat3 m_turn;
    Vec3 m_at;
};

} // namespace vicinal
