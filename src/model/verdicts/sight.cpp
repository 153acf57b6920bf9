#include "model/verdicts/sight.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

Box3 boxOf(const Standing& of, size_t body) {
    const Mat4 pose = of.instances->pose(body);
    const Box3& own = of.partAt(body).mesh->box;
    const Vec3 middle = (pose * own.center().homogeneous()).head<3>(),
               half = pose.topLeftCorner<3, 3>().cwiseAbs() * (own.sizes() / 2);
    return {middle - half, middle + half};
}

/// Something stands between the point and whoever looks.
bool hidden(const std::vector<NearBody>& bodies, const Vec3& at, const Vec3& way, double skip) {
    for (const NearBody& n : bodies) {
        const Mat4 back = n.of->instances->pose(n.body).inverse();
        const Mat3 turn = back.topLeftCorner<3, 3>();
        const Vec3 from = (back * (at + skip * way).homogeneous()).head<3>();
        if (treeOf(*n.of->partAt(n.body).body).hit(from, turn * way, 0)) return true;
    }
    return false;
}

} // namespace

std::vector<NearBody> bodiesNear(const Evaluation& of, const Vec3& at, double radius, size_t most) {
    struct Found {
        double away;
        NearBody body;
    };
    std::vector<Found> all;
    for (const auto& s : of.standing()) {
        if (s->hidden) continue;
        s->eachInstance([&](const Instance& i) {
            if (!i.part.mesh || i.part.body->cuts) return;
            const double away = boxOf(*s, i.body).exteriorDistance(at);
            if (away <= radius) all.push_back({away, {s, i.body}});
        });
    }
    std::stable_sort(all.begin(), all.end(), [](const Found& a, const Found& b) { return a.away < b.away; });
    std::vector<NearBody> out;
    for (size_t i = 0; i < std::min(most, all.size()); ++i) out.push_back(all[i].body);
    return out;
}

Sight sightOf(const Evaluation& of, const RunResult& run, const CheckResult& check, const CheckedPlace& p) {
    Sight out;
    if (!run.placed || run.placed->bodies() == 0) return out;
    const Placed& all = *run.placed;
    const size_t place = size_t(std::clamp(p.place, 0, int(all.bodies()) - 1));
    Box3 body = boxOf(run, place);
    const Frame& f = all.frame(place);
    const bool ball = check.check.of == CheckKind::Opening;
    const bool points = (p.a - p.b).norm() > 0;
    // What one does to the other is seen with both.
    if (!points && !ball && p.item == 0 && p.other >= 0 && size_t(p.other) < all.bodies())
        body.extend(boxOf(run, size_t(p.other)));
    out.at = ball || points ? Vec3((p.a + p.b) / 2) : Vec3(body.center());
    const double apart = ball ? p.value : (p.a - p.b).norm();
    out.radius = std::max(apart * 1.5, (points || ball ? 0.35 : 0.6) * body.sizes().norm());
    if (points && !ball && p.other < 0)
        out.radius = std::max(out.radius, 0.5 * body.sizes().norm()); // of one alone: all of it
    else if (points && !ball)
        out.radius = std::max(2 * apart, std::min(out.radius, 0.25 * body.sizes().norm() + 3 * apart));
    const Vec3 nose = f.axes.col(0), side = f.axes.col(1), crown = f.axes.col(2);
    // A little from above and from ahead, so that depth is seen.
    std::vector<Vec3> ways{-side + 0.35 * crown + 0.2 * nose,
                           side + 0.35 * crown + 0.2 * nose,
                           crown - 0.3 * side,
                           crown + 0.3 * side,
                           -side - 0.3 * crown,
                           side - 0.3 * crown,
                           -nose + 0.4 * crown,
                           nose + 0.4 * crown};
    const Vec3 line = p.b - p.a;
    const auto near = bodiesNear(of, out.at, out.radius * 4, 40);
    double best = -kFar;
    for (size_t i = 0; i < ways.size(); ++i) {
        Vec3 way = ways[i].normalized();
        if (ball && i > 1) break; // through the opening
        double score = -0.08 * double(i);
        if (way.z() < -0.2) score -= 0.3;
        if (line.norm() > tolerance::rounding) score += way.cross(line.normalized()).norm(); // seen in true length
        if (hidden(near, out.at, way, ball ? p.value * 0.6 : 1e-3 + apart * 0.5)) score -= 0.6;
        if (score > best) best = score, out.toEye = way;
    }
    return out;
}

} // namespace vicinal
