#include "exchange/in/child/results.h"

namespace vicinal::wire {
namespace {

void put(Writer& w, const Segment& s) {
    w.value(std::uint8_t(s.index()));
    std::visit(
        [&](const auto& x) {
            using T = std::remove_cvref_t<decltype(x)>;
            const auto vec = [&](const Vec3& v) { w.value(v.x()), w.value(v.y()), w.value(v.z()); };
            if constexpr (std::is_same_v<T, Line>) {
                vec(x.a), vec(x.b);
            } else if constexpr (std::is_same_v<T, Arc>) {
                vec(x.centre), vec(x.xAxis), vec(x.yAxis), w.value(x.radius), w.value(x.sweep);
            } else if constexpr (std::is_same_v<T, Bezier>) {
                for (const auto& p : x.p) vec(p);
            } else if constexpr (std::is_same_v<T, Nurbs>) {
                w.value(std::int32_t(x.degree)), w.block(x.knots), w.block(x.points), w.block(x.weights);
            } else if constexpr (std::is_same_v<T, Helix>) {
                vec(x.centre), vec(x.xAxis), vec(x.yAxis);
                for (double v : {x.r0, x.r1, x.sweep, x.rise}) w.value(v);
            } else {
                vec(x.low), vec(x.along), vec(x.up);
                for (double v : {x.a, x.s0, x.s1}) w.value(v);
            }
        },
        s);
}

Segment segmentFrom(Reader& r) {
    const auto num = [&] { return r.value<double>(); };
    const auto vec = [&] {
        const double x = num(), y = num(), z = num();
        return Vec3(x, y, z);
    };
    Segment out;
    switch (r.value<std::uint8_t>()) {
    case 0: {
        const Vec3 a = vec(), b = vec();
        out = Line{a, b};
        break;
    }
    case 1: {
        Arc a;
        a.centre = vec(), a.xAxis = vec(), a.yAxis = vec(), a.radius = num(), a.sweep = num();
        out = a;
        break;
    }
    case 2: {
        Bezier b;
        for (auto& p : b.p) p = vec();
        out = b;
        break;
    }
    case 3: {
        Nurbs n;
        n.degree = r.value<std::int32_t>(), n.knots = r.block<double>(), n.points = r.block<Vec3>();
        n.weights = r.block<double>();
        out = std::move(n);
        break;
    }
    case 4: {
        Helix h;
        h.centre = vec(), h.xAxis = vec(), h.yAxis = vec();
        h.r0 = num(), h.r1 = num(), h.sweep = num(), h.rise = num();
        out = h;
        break;
    }
    case 5: {
        Catenary c;
        c.low = vec(), c.along = vec(), c.up = vec(), c.a = num(), c.s0 = num(), c.s1 = num();
        out = c;
        break;
    }
    default: throw Broken{};
    }
    return out;
}

void put(Writer& w, const std::vector<std::string>& list) {
    w.value(std::uint64_t(list.size()));
    for (const auto& s : list) w.text(s);
}
std::vector<std::string> textsFrom(Reader& r) {
    std::vector<std::string> out(r.count(8));
    for (auto& s : out) s = r.text();
    return out;
}

} // namespace

void put(Writer& w, const CurveFile& f) {
    w.value(f.millimetresPerUnit);
    put(w, f.remarks);
    w.value(std::uint64_t(f.strands.size()));
    for (const auto& s : f.strands) {
        w.value(s.closed);
        w.text(s.layer);
        w.value(std::uint64_t(s.segments.size()));
        for (const auto& x : s.segments) put(w, x);
    }
    const auto points = [&](const Vec3* from, size_t n) {
        w.value(std::uint64_t(n));
        for (size_t i = 0; i < n; ++i)
            for (int k = 0; k < 3; ++k) w.value(from[i][k]);
    };
    points(f.points.data(), f.points.size());
    static_assert(sizeof(std::array<Vec3, 4>) == 4 * sizeof(Vec3));
    points(f.faces.empty() ? nullptr : f.faces[0].data(), 4 * f.faces.size());
}
CurveFile curvesFrom(Reader& r) {
    CurveFile f;
    f.millimetresPerUnit = r.value<double>();
    f.remarks = textsFrom(r);
    f.strands.resize(r.count(17));
    for (auto& s : f.strands) {
        s.closed = r.value<bool>();
        s.layer = r.text();
        const size_t n = r.count(1);
        s.segments.reserve(n);
        for (size_t i = 0; i < n; ++i) s.segments.push_back(segmentFrom(r));
    }
    const auto points = [&] {
        std::vector<Vec3> out(r.count(24));
        for (Vec3& p : out)
            for (int k = 0; k < 3; ++k) p[k] = r.value<double>();
        return out;
    };
    f.points = points();
    const auto corners = points();
    for (size_t i = 0; i + 3 < corners.size(); i += 4)
        f.faces.push_back({corners[i], corners[i + 1], corners[i + 2], corners[i + 3]});
    r.end();
    return f;
}

void put(Writer& w, const StepFile& f) {
    w.text(f.unit);
    put(w, f.remarks);
    w.value(std::uint64_t(f.bodies.size()));
    for (const auto& b : f.bodies) {
        w.text(b.name);
        w.text(toBinary(*b.solid));
    }
}
StepFile bodiesFrom(Reader& r) {
    StepFile f;
    f.unit = r.text();
    f.remarks = textsFrom(r);
    const size_t n = r.count(16);
    for (size_t i = 0; i < n; ++i) {
        std::string name = r.text();
        auto solid = solidFromBinary(r.text());
        if (!solid) throw Broken{};
        f.bodies.push_back({std::move(name), *solid});
    }
    r.end();
    return f;
}

void put(Writer& w, const Mesh& m, const MeshReport& report) {
    w.value(report);
    w.block(m.points);
    w.block(m.triangles);
}
Mesh meshFrom(Reader& r, MeshReport* report) {
    const auto found = r.value<MeshReport>();
    if (report) *report = found;
    Mesh m;
    m.points = r.block<Vec3>();
    m.triangles = r.block<std::array<std::uint32_t, 3>>();
    r.end();
    for (const auto& t : m.triangles)
        for (auto i : t) {
            if (i >= m.points.size() || !m.points[i].allFinite()) throw Broken{};
            m.box.extend(m.points[i]);
        }
    return m;
}

} // namespace vicinal::wire
