#pragma once
#include "geometry/mesh/ray.h"
#include <memory>
#include <mutex>

namespace vicinal {

/// The point of a triangle that is nearest. Source: Ericson, "Real-time collision detection", 2005, 5.1.5.
Vec3 nearestOnTriangle(const Vec3&, const std::array<Vec3, 3>&);

/// Boxes over the triangles of a mesh, so that a line asks few of them: the one bounding tree for picking, for what is
/// laid on a surface and for distances to it. Immutable; safe from several threads. Building takes O(n log n).
class MeshTree {
public:
    explicit MeshTree(std::shared_ptr<const Mesh>);

    const Mesh& mesh() const { return *m_mesh; }
    /// No other tree ever has the same.
    std::uint64_t id() const { return m_id; }
    /// As hitMesh().
    std::optional<MeshHit> hit(const Vec3& start, const Vec3& direction, double from = -kFar) const;
    /// All triangles that the whole line goes through, in no order: one for each triangle beside an edge that is hit.
    /// Those nearer than `least` may be missing.
    void hits(const Vec3& start, const Vec3& direction, std::vector<MeshHit>& to, double least = -kFar) const;
    /// How often a ray leaves the surface less how often it enters it, by the triangles' own sides; nothing where it
    /// comes so close to an edge, or meets a triangle so edge on, that rounding might count it twice or not at all.
    std::optional<int> leaves(const Vec3& start, const Vec3& direction) const;
    /// Every edge has its two triangles; asked once.
    bool closed() const;
    /// Triangles that may come into a rectangle as seen along a direction: `axes` are the rows that take points to that
    /// view.
    void inView(const Eigen::Matrix<double, 2, 3>& axes, const Vec2& low, const Vec2& high,
                std::vector<std::uint32_t>& to) const;

    struct Near {
        Vec3 at;
        std::uint32_t triangle;
        double distance;
    };
    /// The nearest point of all triangles. Precondition: there is one.
    Near nearest(const Vec3&) const;
    /// The same where it is nearer than `below`; else `below` or more is told for its distance.
    Near nearest(const Vec3&, double below) const;
    /// The same, quicker where a triangle is known that is likely near; one that is not there is no guess.
    Near nearestFrom(const Vec3&, std::uint32_t likely) const;

    /// The normal at a point of a triangle: smooth where the faces round it are bent less than 35 degrees, its own
    /// where not.
    Vec3 normalAt(const Vec3&, std::uint32_t triangle) const;
    /// The triangle's own.
    Vec3 flatNormal(std::uint32_t triangle) const;

    struct Node {
        Box3 box;
        std::uint32_t first, count; ///< leaves: triangles of order(); else the second child, the first is the next node
    };
    /// For what goes down two trees at once: the first node is the root; empty without triangles.
    const std::vector<Node>& nodes() const { return m_nodes; }
    const std::vector<std::uint32_t>& order() const { return m_order; }

    /// A box round the triangles of a node that lies as they do: flat on a patch of a face.
    struct Patch {
        Mat3 axes; ///< columns; the last one square to the patch
        Vec3 middle, half;
        bool plain = true; ///< along the axes
    };
    /// One a node, those of many triangles along the axes. Made when they are first asked for.
    const std::vector<Patch>& patches() const;

private:
    void nearest(const Vec3&, double& least, Near& best) const;
    void build(std::uint32_t first, std::uint32_t count, const std::vector<Vec3>& middles);
    template<class Use> void along(const Vec3& start, const Vec3& direction, double least, Use&& use) const;

    std::shared_ptr<const Mesh> m_mesh;
    std::uint64_t m_id;
    std::vector<Node> m_nodes;
    std::vector<std::uint32_t> m_order;
    double m_slack = 0; ///< boxes are so much larger for rays
    mutable std::once_flag m_asked;
    mutable bool m_closed = false;
    mutable std::once_flag m_smooth;
    mutable std::vector<Vec3> m_normals; ///< three a triangle, once they are asked for
    mutable std::once_flag m_patched;
    mutable std::vector<Patch> m_patches;
};

/// The tree of a mesh, made when it is first asked for. Safe from several threads.
class LazyTree {
public:
    const MeshTree& of(const std::shared_ptr<const Mesh>&) const;

private:
    mutable std::once_flag m_once;
    mutable std::unique_ptr<const MeshTree> m_tree;
};

} // namespace vicinal
