#pragma once
#include "geometry/mesh/tree.h"
#include <functional>

namespace vicinal {

/// A surface that is made when it is first asked: finer than what is drawn, where that is not near enough. Safe from
/// several threads.
class LazySurface {
public:
    struct Made {
        std::shared_ptr<const Mesh> mesh;
        double within = 0; ///< mm that it may be off the true surface
    };
    explicit LazySurface(std::function<Made()> make) : m_make(std::move(make)) {}
    const MeshTree& tree() const { return *made().tree; }
    double within() const { return made().within; }

private:
    struct Kept {
        std::unique_ptr<const MeshTree> tree;
        double within = 0;
    };
    const Kept& made() const;
    std::function<Made()> m_make;
    mutable std::once_flag m_once;
    mutable Kept m_kept;
};

/// A body put somewhere, as a surface that paths, feet and crowns ask: x -> turn x + at.
class Ground {
public:
    Ground(std::shared_ptr<const Mesh> mesh, std::shared_ptr<const LazyTree> tree, const Mat3& turn, const Vec3& at)
        : m_mesh(std::move(mesh)), m_tree(std::move(tree)), m_turn(turn), m_at(at) {}

    Ground(std::shared_ptr<const LazySurface> surface, const Mat3& turn, const Vec3& at)
        : m_surface(std::move(surface)), m_turn(turn), m_at(at) {}

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

    const MeshTree& tree() const { return m_surface ? m_surface->tree() : m_tree->of(m_mesh); }
    /// mm that the surface may be off the true one; 0: exact, or as the body was brought in.
    double within() const { return m_surface ? m_surface->within() : 0; }
    const Mat3& turn() const { return m_turn; }
    const Vec3& origin() const { return m_at; }

private:
    std::shared_ptr<const Mesh> m_mesh;
    std::shared_ptr<const LazyTree> m_tree;
    std::shared_ptr<const LazySurface> m_surface;
    Mat3 m_turn;
    Vec3 m_at;
};

} // namespace vicinal
