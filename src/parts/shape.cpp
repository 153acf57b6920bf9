#include "parts/shape.h"
#include "layout/text.h"
#include <cmath>
#include <polyclipping/clipper.hpp>

namespace vicinal {
namespace {

std::optional<Problem> checkSize(double v, const char* name, const char* field) {
    if (std::isfinite(v) && v >= 1e-3 && v <= 1e7) return std::nullopt;
    return Problem{std::string("The part's ") + name + " is " + text::number(v, 6) + " mm; use 0.001 mm to 10 km.",
                   field};
}

Result<std::shared_ptr<const Mesh>> box(double x, double y, double z) {
    return std::make_shared<const Mesh>(boxMesh(Box3(Vec3(-x / 2, -y / 2, 0), Vec3(x / 2, y / 2, z))));
}

} // namespace

Result<std::shared_ptr<const Mesh>> meshOf(const PartShape& shape) {
    if (const auto* b = std::get_if<Baluster>(&shape)) {
        if (auto p = checkSize(b->width, "width", "width")) return *p;
        if (auto p = checkSize(b->depth, "depth", "depth")) return *p;
        if (auto p = checkSize(b->height, "height", "height")) return *p;
        return box(b->width, b->depth, b->height);
    }
    if (const auto* b = std::get_if<Plank>(&shape)) {
        if (auto p = checkSize(b->length, "length", "length")) return *p;
        if (auto p = checkSize(b->width, "width", "width")) return *p;
        if (auto p = checkSize(b->thickness, "thickness", "thickness")) return *p;
        return box(b->width, b->length, b->thickness);
    }
    const auto& m = std::get<BroughtMesh>(shape);
    if (!m.mesh) return Problem{"The mesh of this part is missing. Bring it in again.", "part"};
    return m.mesh;
}

std::vector<std::vector<Vec2>> outlineFromAbove(const Mesh& mesh, const Seat& seat) {
    using namespace ClipperLib;
    const Mat3 R = seatRotation(seat);
    const Vec3 at = seatPoint(seat, mesh.box);
    const double grid = 1e-5; // mm; integers of Clipper
    std::vector<Vec2> flat;
    for (const auto& p : mesh.points) flat.push_back((R * (p - at)).head<2>());
    Clipper clipper;
    Path ring(3);
    for (const auto& t : mesh.triangles) {
        for (int i = 0; i < 3; ++i)
            ring[i] = IntPoint(cInt(std::llround(flat[t[i]].x() / grid)), cInt(std::llround(flat[t[i]].y() / grid)));
        if (Area(ring) == 0) continue;
        if (!Orientation(ring)) ReversePath(ring);
        clipper.AddPath(ring, ptSubject, true);
    }
    Paths rings;
    clipper.Execute(ctUnion, rings, pftNonZero, pftNonZero);
    // Rounding opens cracks between neighbours, or leaves them two that touch: grown and shrunk again they are one.
    for (const double by : {4.0, -4.0}) {
        ClipperOffset offset(20);
        offset.AddPaths(rings, jtMiter, etClosedPolygon);
        offset.Execute(rings, by);
    }
    CleanPolygons(rings, 6);
    std::vector<std::vector<Vec2>> out;
    for (const auto& r : rings) {
        if (r.size() < 3) continue;
        out.emplace_back();
        for (const auto& p : r) out.back().push_back(Vec2(double(p.X), double(p.Y)) * grid);
    }
    return out;
}

} // namespace vicinal
