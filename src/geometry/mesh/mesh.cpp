#include "geometry/mesh/mesh.h"
#include "base/say.h"
#include "geometry/mesh/ray.h"
#include <algorithm>
#include <map>
#include <meshoptimizer.h>

namespace vicinal {
namespace {

/// Numbers points so that those in the same cell of the tolerance grid get the same number.
class PointIndex {
public:
    PointIndex(const Vec3& origin, size_t expected) : m_origin(origin) {
        size_t size = 64;
        while (size < expected * 2) size *= 2;
        m_slots.assign(size, ~0u);
    }
    std::uint32_t of(const Vec3& p, std::vector<Vec3>& points) {
        // The box corner is the grid's origin, so far-off meshes keep their digits.
        const Vec3 d = (p - m_origin) / tolerance::length;
        if (!(d.cwiseAbs().maxCoeff() < 9e18)) {
            points.push_back(p);
            m_keys.push_back({});
            return std::uint32_t(points.size() - 1);
        }
        const std::array<std::int64_t, 3> key{std::llround(d.x()), std::llround(d.y()), std::llround(d.z())};
        std::uint64_t h = 0;
        for (auto k : key) {
            h = (h ^ std::uint64_t(k)) * 0x9e3779b97f4a7c15ull;
            h ^= h >> 29;
        }
        for (size_t i = h & (m_slots.size() - 1);; i = (i + 1) & (m_slots.size() - 1)) {
            if (m_slots[i] == ~0u) {
                m_slots[i] = std::uint32_t(points.size());
                points.push_back(p);
                m_keys.push_back(key);
                return m_slots[i];
            }
            if (m_keys[m_slots[i]] == key) return m_slots[i];
        }
    }

private:
    Vec3 m_origin;
    std::vector<std::uint32_t> m_slots;
    std::vector<std::array<std::int64_t, 3>> m_keys;
};

/// Turns triangles so that neighbours agree, and closed shells so that they face outwards.
class Shells {
public:
    Shells(Mesh& mesh, MeshReport& report)
        : m_mesh(mesh), m_report(report), m_n(mesh.triangles.size()), m_beside(m_n, {~0u, ~0u, ~0u}),
          m_openShell(m_n, 0), m_seen(m_n, 0), m_turn(m_n, 0) {}
    void orient() {
        findNeighbours();
        for (std::uint32_t seed = 0; seed < m_n; ++seed)
            if (!m_seen[seed]) shellFrom(seed);
        faceOutwards();
    }

private:
    struct Closed {
        std::vector<std::uint32_t> triangles;
        Box3 box;
        bool inward;
    };
    void findNeighbours() {
        const MeshEdges all = edgesOf(m_mesh);
        const auto corner = [&](std::uint32_t t, std::uint32_t a, std::uint32_t b) {
            for (int i = 0; i < 3; ++i) {
                const auto p = m_mesh.triangles[t][size_t(i)], q = m_mesh.triangles[t][size_t((i + 1) % 3)];
                if ((p == a && q == b) || (p == b && q == a)) return i;
            }
            return 0;
        };
        for (const auto& e : all.edges) {
            if (e.triangles == 1) ++m_report.open, m_openShell[all.triangles[e.first]] = 1;
            if (e.triangles > 2) {
                ++m_report.nonManifold;
                for (std::uint32_t k = 0; k < e.triangles; ++k) m_openShell[all.triangles[e.first + k]] = 1;
            }
            if (e.triangles != 2) continue;
            const auto s = all.triangles[e.first], t = all.triangles[e.first + 1];
            m_beside[s][size_t(corner(s, e.a, e.b))] = t;
            m_beside[t][size_t(corner(t, e.a, e.b))] = s;
        }
    }
    void face(const std::vector<std::uint32_t>& of, bool over) {
        for (const auto t : of)
            if ((m_turn[t] != 0) != over) {
                std::swap(m_mesh.triangles[t][1], m_mesh.triangles[t][2]);
                ++m_report.turned;
            }
    }
    /// Whether a triangle runs from a to b, as it is stored.
    bool runs(std::uint32_t t, std::uint32_t a, std::uint32_t b) const {
        for (size_t i = 0; i < 3; ++i)
            if (m_mesh.triangles[t][i] == a && m_mesh.triangles[t][(i + 1) % 3] == b) return true;
        return false;
    }
    /// All that hangs together with a triangle; an open one is turned the way its larger part came.
    void shellFrom(std::uint32_t seed) {
        std::vector<std::uint32_t> shell(1, seed);
        m_seen[seed] = 1;
        bool open = false;
        for (size_t k = 0; k < shell.size(); ++k) {
            const auto t = shell[k];
            open |= m_openShell[t] != 0;
            for (size_t i = 0; i < 3; ++i) {
                const auto o = m_beside[t][i];
                if (o == ~0u || m_seen[o]) continue;
                m_seen[o] = 1;
                const auto a = m_mesh.triangles[t][i], b = m_mesh.triangles[t][(i + 1) % 3];
                m_turn[o] = char(m_turn[t] ^ (runs(o, a, b) ? 1 : 0));
                shell.push_back(o);
            }
        }
        double volume = 0;
        const Vec3 origin = m_mesh.points[m_mesh.triangles[seed][0]];
        size_t turned = 0;
        for (const auto t : shell) {
            const auto& c = m_mesh.triangles[t];
            const double v =
                (m_mesh.points[c[0]] - origin).dot((m_mesh.points[c[1]] - origin).cross(m_mesh.points[c[2]] - origin));
            volume += m_turn[t] ? -v : v;
            turned += size_t(m_turn[t]);
        }
        if (open) return face(shell, turned * 2 > shell.size());
        Closed c{shell, {}, volume < 0};
        for (const auto t : shell)
            for (const auto i : m_mesh.triangles[t]) c.box.extend(m_mesh.points[i]);
        m_closed.push_back(std::move(c));
    }
    bool within(const Vec3& p, const Closed& other) const {
        const Vec3 way = Vec3(0.5773, 0.6011, 0.5525).normalized();
        if (!other.box.contains(p)) return false;
        bool odd = false;
        for (const auto t : other.triangles) {
            const auto& c = m_mesh.triangles[t];
            const auto hit = hitTriangle(p, way, m_mesh.points[c[0]], m_mesh.points[c[1]], m_mesh.points[c[2]]);
            odd ^= hit && *hit > 0;
        }
        return odd;
    }
    /// A closed shell faces outwards; one that faces inwards and lies in another one is a hollow, and stays.
    void faceOutwards() {
        double asked = 0;
        for (const Closed& c : m_closed) {
            bool hollow = false;
            if (c.inward)
                for (const Closed& other : m_closed) {
                    if (&other == &c || !other.box.contains(c.box)) continue;
                    if ((asked += double(other.triangles.size())) > 1e8) break; // thousands of shells: as if alone
                    hollow ^= within(m_mesh.points[m_mesh.triangles[c.triangles.front()][0]], other);
                }
            face(c.triangles, c.inward && !hollow);
        }
    }

    Mesh& m_mesh;
    MeshReport& m_report;
    size_t m_n;
    std::vector<std::array<std::uint32_t, 3>> m_beside; ///< neighbour over the edge from corner i
    std::vector<char> m_openShell, m_seen, m_turn;
    std::vector<Closed> m_closed;
};

} // namespace

std::vector<std::string> MeshReport::remarks() const {
    std::vector<std::string> out;
    const auto say = [&](size_t n, const char* one, const char* many, const std::string& then) {
        if (n > 0) out.push_back((n == 1 ? std::string("1 ") + one : say::count(n) + " " + many) + then);
    };
    say(open, "edge is open", "edges are open",
        ": the mesh does not enclose a volume; its volume is not to be trusted.");
    say(nonManifold, "edge has", "edges have", " more than two triangles: faces lie inside the body or on each other.");
    say(turned, "triangle faced", "triangles faced", " the wrong way and was turned over.");
    say(dropped, "triangle without area was", "triangles without area were", " left out.");
    return out;
}

Result<Mesh> cleaned(Mesh in, MeshReport* report) {
    MeshReport own;
    MeshReport& r = report ? *report : own;
    r = {};
    if (in.triangles.empty())
        return Problem{"The mesh has no triangles. Bring in a file with faces, not only points or lines.", "part"};
    Box3 all;
    for (const auto& t : in.triangles)
        for (auto i : t) {
            if (i >= in.points.size())
                return Problem{"A triangle of the mesh refers to a point that is not there.", "part"};
            if (!finite(in.points[i])) return Problem{"The mesh has a coordinate that is not a number.", "part"};
            all.extend(in.points[i]);
        }
    PointIndex known(all.min(), in.points.size());
    std::vector<std::uint32_t> to(in.points.size(), ~0u);
    Mesh out;
    out.triangles.reserve(in.triangles.size());
    size_t used = 0;
    const auto index = [&](std::uint32_t i) {
        if (to[i] == ~0u) to[i] = known.of(in.points[i], out.points), ++used;
        return to[i];
    };
    for (const auto& t : in.triangles) {
        const std::array<std::uint32_t, 3> n{index(t[0]), index(t[1]), index(t[2])};
        if (n[0] == n[1] || n[1] == n[2] || n[2] == n[0]) {
            ++r.dropped;
            continue;
        }
        out.triangles.push_back(n);
        for (auto i : n) out.box.extend(out.points[i]);
    }
    r.joined = used - out.points.size();
    if (out.triangles.empty())
        return Problem{"All triangles of the mesh are without area. Check the units and the file.", "part"};
    Shells(out, r).orient();
    return out;
}

Mesh simplified(const Mesh& mesh, size_t triangles, double error) {
    std::vector<float> points; // from the middle: the library works in single precision
    const Vec3 centre = mesh.box.center();
    points.reserve(mesh.points.size() * 3);
    for (const Vec3& p : mesh.points)
        for (int i = 0; i < 3; ++i) points.push_back(float(p[i] - centre[i]));
    std::vector<unsigned> from, to(mesh.triangles.size() * 3);
    from.reserve(mesh.triangles.size() * 3);
    for (const auto& t : mesh.triangles) from.insert(from.end(), t.begin(), t.end());
    const double size = mesh.box.sizes().maxCoeff();
    const float share = size > 0 ? float(error / size) : 1e-2f;
    size_t n = meshopt_simplify(to.data(), from.data(), from.size(), points.data(), mesh.points.size(), 12,
                                triangles * 3, share, 0, nullptr);
    if (n > triangles * 6) // holds on to its seams: here a rough likeness is enough
        n = meshopt_simplifySloppy(to.data(), from.data(), from.size(), points.data(), mesh.points.size(), 12,
                                   triangles * 3, share * 4, nullptr);
    Mesh out;
    std::vector<std::uint32_t> index(mesh.points.size(), ~0u);
    for (size_t i = 0; i + 2 < n; i += 3) {
        std::array<std::uint32_t, 3> t{};
        for (size_t k = 0; k < 3; ++k) {
            auto& at = index[to[i + k]];
            if (at == ~0u) at = std::uint32_t(out.points.size()), out.points.push_back(mesh.points[to[i + k]]);
            t[k] = at;
        }
        out.triangles.push_back(t);
    }
    out.box = mesh.box;
    return out;
}

Mesh boxMesh(const Box3& box) {
    Mesh m;
    m.box = box;
    for (int i = 0; i < 8; ++i) m.points.push_back(box.corner(Box3::CornerType(i)));
    m.triangles = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                   {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
    return m;
}

double volumeOf(const Mesh& mesh) {
    double sum = 0;
    const Vec3 o = mesh.box.min();
    for (const auto& t : mesh.triangles)
        sum += (mesh.points[t[0]] - o).dot((mesh.points[t[1]] - o).cross(mesh.points[t[2]] - o)) / 6;
    return sum;
}

double areaOf(const Mesh& mesh) {
    double sum = 0;
    for (const auto& t : mesh.triangles)
        sum += (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).norm() / 2;
    return sum;
}

Vec3 centreOf(const Mesh& mesh) {
    const Vec3 o = mesh.box.center(), sizes = mesh.box.sizes();
    Vec3 solid = Vec3::Zero(), sheet = Vec3::Zero();
    double volume = 0, area = 0;
    for (const auto& t : mesh.triangles) {
        const Vec3 a = mesh.points[t[0]] - o, b = mesh.points[t[1]] - o, c = mesh.points[t[2]] - o;
        const double v = a.dot(b.cross(c)) / 6, s = (b - a).cross(c - a).norm() / 2;
        solid += v * (a + b + c) / 4;
        sheet += s * (a + b + c) / 3;
        volume += v;
        area += s;
    }
    if (std::abs(volume) > tolerance::rounding * std::pow(sizes.maxCoeff(), 3)) return o + solid / volume;
    return area > 0 ? Vec3(o + sheet / area) : o;
}

bool isClosed(const Mesh& mesh) {
    const auto edges = edgesOf(mesh).edges;
    return !edges.empty() &&
           std::all_of(edges.begin(), edges.end(), [](const MeshEdge& e) { return e.triangles == 2; });
}

} // namespace vicinal
