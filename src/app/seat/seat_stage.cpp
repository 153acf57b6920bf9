#include "app/seat/seat_stage.h"
#include "app/controls/rounding.h"
#include "app/controls/theme.h"
#include "app/render/scene_renderer.h"
#include "geometry/mesh/ray.h"
#include "layout/placement_input.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include <cmath>

namespace vicinal {

double away(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

bool SeatStage::take(const std::shared_ptr<const PartResult>& part) {
    const bool other = part->item->id != m_id;
    if (other) {
        m_id = part->item->id;
        m_part.reset();
        m_stub.reset();
    }
    if (part->body && part->seated && !part->problem) m_part = part;
    return other;
}

void SeatStage::setUp(bool nearer) {
    const double length = std::max(m_part->seated->sizes().x(), 0.2 * m_part->mesh->box.diagonal().norm());
    m_pitch = nearer ? std::min(spacing(), 1.6 * length) : spacing();
    PlacementInput order;
    order.seat = m_part->item->seat;
    order.partBox = m_part->mesh->box;
    order.seated = m_part->seated;
    if (const auto run = m_store.currentRun()) order.facing = run->item->facing;
    auto stub = stubOf(order, m_pitch);
    if (!stub) {
        order.facing = Facing{};
        stub = stubOf(order, m_pitch);
    }
    if (stub) m_stub = std::move(stub).value();
}

double SeatStage::spacing() const {
    const auto of = [&](const RunResult& r) {
        return r.item->part == m_id && r.placed && r.placed->count() > 1 ? r.placed->laid->pitch : 0.0;
    };
    if (const auto run = m_store.currentRun())
        if (const double p = of(*run); p > 0) return p;
    for (const auto& r : m_store.evaluation().runs)
        if (const double p = of(*r); p > 0) return p;
    if (const auto pins = pinsOf(*m_part->body, m_part->item->seat))
        if (const double p = ((*pins)[1] - (*pins)[0]).norm(); p > 0) return p;
    return std::max(m_part->seated->sizes().x() * 1.25, m_part->mesh->box.diagonal().norm() * 0.05);
}

void SeatStage::draw(SceneRenderer& renderer) const {
    std::vector<Batch> batches;
    if (there()) {
        std::vector<QRgb> colours(m_stub->places.count(), QColor("#dfe3e1").rgba());
        colours[Stub::kMiddle] = theme::steel().rgba();
        batches.push_back({m_part->mesh, [this](size_t i) { return m_stub->places.pose(i); }, std::move(colours)});
    }
    renderer.setScene(std::move(batches), Vec3(0, 0, 0));
    // A quiet ground a little below what is lowest, so that height can be told.
    std::vector<Vec3> ends;
    if (there()) {
        const double step = roundStep(reach() / 2);
        for (int i = -16; i <= 16; ++i)
            for (int k = -16; k < 16; k += 4) {
                ends.push_back(Vec3(i * step, k * step, 0));
                ends.push_back(Vec3(i * step, (k + 4) * step, 0));
                ends.push_back(Vec3(k * step, i * step, 0));
                ends.push_back(Vec3((k + 4) * step, i * step, 0));
            }
        renderer.setGrid(ends, theme::gridLine(), 14 * step);
    }
}

std::vector<Vec3> SeatStage::corners(bool neighbours) const {
    std::vector<Vec3> out;
    if (!there()) return out;
    for (size_t i = 0; i < m_stub->places.count(); ++i)
        if (neighbours || i == Stub::kMiddle) addCorners(m_stub->places.pose(i), m_part->mesh->box, out);
    return out;
}

Vec3 SeatStage::tip(bool nose) const {
    const Mat3& R = m_stub->places.frame(Stub::kMiddle).axes;
    const Vec3 d = R.col(nose ? 0 : 2);
    const Box3& s = *m_part->seated;
    const double out = nose ? std::max(s.max().x(), 0.0) : std::max(s.max().z(), 0.0);
    return d * (out + 0.35 * reach()); // the seat point is at the origin
}

std::optional<QPointF> SeatStage::pixelOf(const Camera& camera, const Vec3& p) const {
    if (!m_stub) return std::nullopt;
    const auto at = camera.project((pose() * p.homogeneous()).head<3>());
    return at ? std::optional(QPointF(at->x(), at->y())) : std::nullopt;
}

bool SeatStage::hides(const Camera& camera, const Vec3& world) const {
    const auto at = camera.project(world);
    if (!at) return true;
    const auto [start, direction] = camera.ray(at->x(), at->y());
    const Mat3 R = pose().topLeftCorner<3, 3>();
    const Vec3 s = R.transpose() * (start - pose().topRightCorner<3, 1>()), d = R.transpose() * direction;
    const double there = (world - start).dot(direction);
    const auto hit = hitMesh(*m_part->mesh, s, d, camera.parallel ? -kFar : 0);
    return hit && hit->distance < there - 2e-3 * reach() - 1.5 * camera.scale();
}

std::optional<SeatPick> SeatStage::pickAt(const Camera& camera, const std::vector<Spot>& spots, const QPointF& at,
                                          bool directions) const {
    if (!there()) return std::nullopt;
    std::vector<std::pair<double, size_t>> near;
    for (size_t i = 0; i < spots.size(); ++i) {
        const Spot& s = spots[i];
        if (directions && s.direction.isZero()) continue;
        const auto p = pixelOf(camera, s.at);
        if (!p) continue;
        if (const double d = away(*p, at); d < 11) near.emplace_back(d, i);
    }
    std::sort(near.begin(), near.end());
    for (size_t k = 0; k < near.size() && k < 8; ++k) {
        const Spot& s = spots[near[k].second];
        const bool onSurface =
            s.kind == Spot::Kind::Corner || s.kind == Spot::Kind::EdgeMiddle || s.kind == Spot::Kind::FaceCentre;
        if (onSurface && hides(camera, (pose() * s.at.homogeneous()).head<3>())) continue;
        return SeatPick{s, s.at, s.direction};
    }
    if (!directions) return std::nullopt;
    const auto [start, direction] = camera.ray(at.x(), at.y());
    const Mat3 R = pose().topLeftCorner<3, 3>();
    const Vec3 s = R.transpose() * (start - pose().topRightCorner<3, 1>()), d = R.transpose() * direction;
    const Mesh& mesh = *m_part->mesh;
    const auto hit = hitMesh(mesh, s, d, camera.parallel ? -kFar : 0);
    if (!hit) return std::nullopt;
    const auto& t = mesh.triangles[hit->triangle];
    Vec3 n = (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).normalized();
    if (n.dot(d) > 0) n = -n;
    for (const Spot& spot : spots) // to the last digit, where the face is known
        if (spot.kind == Spot::Kind::FaceCentre && spot.direction.dot(n) > 1 - tolerance::rounding) n = spot.direction;
    for (int k = 0; k < 6; ++k)
        if (directionOf(Axis{k}).dot(n) > 1 - tolerance::fine) n = directionOf(Axis{k});
    return SeatPick{std::nullopt, s + hit->distance * d, n};
}

} // namespace vicinal
