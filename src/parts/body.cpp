#include "parts/body.h"
#include "parts/cuts/prism.h"
#include "parts/makers/maker.h"
#include "parts/solid/fine.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

Result<BodyPtr> bodyOf(SolidPtr solid) {
    auto mesh = meshOf(*solid);
    if (!mesh) return mesh.problem();
    auto out = std::make_shared<Body>();
    out->mesh = std::make_shared<const Mesh>(std::move(mesh).value());
    out->solid = std::make_shared<const LazySolid>(std::move(solid));
    return BodyPtr(out);
}

Result<BodyPtr> bodyOf(const Result<Made>& made) {
    if (!made) return made.problem();
    auto out = std::make_shared<Body>();
    out->mesh = made->mesh;
    out->solid = made->solid;
    out->pins = made->pins;
    out->cuts = made->cuts;
    return BodyPtr(out);
}

BodyPtr bodyOf(std::shared_ptr<const Mesh> mesh, MeshReport report) {
    auto out = std::make_shared<Body>();
    out->mesh = std::move(mesh);
    out->report = report;
    return out;
}

BodyPtr moved(const BodyPtr& body, const Mat3& R, const Vec3& t, double k) {
    if (R.isIdentity(0) && t.isZero(0) && k == 1) return body;
    auto out = std::make_shared<Body>(*body);
    out->tree = std::make_shared<const LazyTree>();
    Mesh mesh;
    mesh.points.reserve(body->mesh->points.size());
    for (const Vec3& p : body->mesh->points) mesh.points.push_back(k * (R * p) + t);
    mesh.triangles = body->mesh->triangles;
    if (R.determinant() < 0)
        for (auto& c : mesh.triangles) std::swap(c[1], c[2]);
    // A box turned by quarter turns stays exact; else the solid tells.
    const bool quarters = (R.array().abs() < 1e-15 || (R.array().abs() - 1).abs() < 1e-15).all();
    if (body->solid)
        out->solid = std::make_shared<const LazySolid>([from = body->solid, R, t, k]() -> SolidPtr {
            const auto solid = from->get();
            return solid ? moved(solid, R, t, k) : nullptr;
        });
    SolidPtr solid;
    if (quarters) {
        for (const Vec3& corner : {body->mesh->box.min(), body->mesh->box.max()})
            mesh.box.extend(Vec3(k * (R * corner) + t));
    } else if (body->solid && (solid = out->solid->get())) {
        mesh.box = boxOf(*solid);
    } else {
        for (const auto& c : mesh.triangles)
            for (auto i : c) mesh.box.extend(mesh.points[i]);
    }
    out->mesh = std::make_shared<const Mesh>(std::move(mesh));
    if (out->prism && R.determinant() > 0) {
        Prism p = *out->prism;
        p.axes = R * p.axes;
        const Vec3 by = p.axes.transpose() * t;
        for (Ring& ring : p.rings)
            for (Segment& s : ring) s = moved(s, Mat3::Identity(), Vec3(by.x(), by.y(), 0), k);
        p.from = k * p.from + by.z();
        p.to = k * p.to + by.z();
        out->prism = std::make_shared<const Prism>(std::move(p));
    } else {
        out->prism = nullptr;
    }
    if (out->pins)
        for (Vec3& p : *out->pins) p = k * (R * p) + t;
    return out;
}

BodyPtr together(std::span<const BodyPtr> all) {
    if (all.size() == 1) return all[0];
    auto out = std::make_shared<Body>();
    Mesh mesh;
    std::vector<LazySolidPtr> solids;
    out->cuts = !all.empty();
    for (const auto& b : all) {
        const auto first = std::uint32_t(mesh.points.size());
        mesh.points.insert(mesh.points.end(), b->mesh->points.begin(), b->mesh->points.end());
        for (auto t : b->mesh->triangles) {
            for (auto& i : t) i += first;
            mesh.triangles.push_back(t);
        }
        mesh.box.extend(b->mesh->box);
        if (b->solid) solids.push_back(b->solid);
        out->cuts &= b->cuts;
        out->slow = out->slow || b->slow;
        out->report.open += b->report.open;
        out->report.nonManifold += b->report.nonManifold;
    }
    if (solids.size() == all.size())
        out->solid = std::make_shared<const LazySolid>([solids]() -> SolidPtr {
            std::vector<SolidPtr> ready;
            for (const auto& s : solids)
                if (auto solid = s->get())
                    ready.push_back(std::move(solid));
                else
                    return nullptr;
            return together(ready);
        });
    if (!all.empty() && all.front()->pins && all.back()->pins)
        out->pins = Pins{(*all.front()->pins)[0], (*all.back()->pins)[1]};
    out->mesh = std::make_shared<const Mesh>(std::move(mesh));
    return out;
}

std::optional<Pins> pinsOf(const Body& body, const Seat& seat) { return seat.pins ? seat.pins : body.pins; }

Box3 extents(const Body& body, const Seat& seat) {
    const Mat3 R = seatRotation(seat);
    const Vec3 at = seatPoint(seat, body.mesh->box);
    if (axisOf(seat.nose) && axisOf(seat.crown)) return seatedBox(seat, body.mesh->box);
    if (const auto solid = solidOf(body)) return boxOf(*solid, R, -(R * at));
    Box3 out;
    for (const auto& t : body.mesh->triangles)
        for (auto i : t) out.extend(Vec3(R * (body.mesh->points[i] - at)));
    return out;
}

double volumeOf(const Body& b) {
    const auto solid = solidOf(b);
    return solid ? volumeOf(*solid) : std::abs(volumeOf(*b.mesh));
}
double areaOf(const Body& b) {
    const auto solid = solidOf(b);
    return solid ? areaOf(*solid) : areaOf(*b.mesh);
}
Vec3 centreOf(const Body& b) {
    const auto solid = solidOf(b);
    return solid ? centreOf(*solid) : centreOf(*b.mesh);
}

std::shared_ptr<const Mesh> fineMesh(const Body& b, double& within) {
    const std::scoped_lock lock(b.fine->mutex);
    const KeptFine& kept = *b.fine;
    if (!kept.mesh || kept.asked != within) {
        kept.asked = within;
        kept.within = 0;
        kept.mesh = b.mesh;
        double used = within;
        if (const auto solid = solidOf(b); solid && isCurved(*solid)) {
            if (auto mesh = meshWithin(*solid, used)) {
                kept.mesh = std::make_shared<const Mesh>(std::move(mesh).value());
                kept.within = used;
            } else { // its own are as meshOf() makes them, and that is said
                Vec3 sizes = b.mesh->box.sizes();
                std::sort(sizes.data(), sizes.data() + 3);
                kept.within = std::max(sizes[1] / 200, sizes[2] / 20000);
            }
        }
    }
    within = kept.within;
    return kept.mesh;
}

std::optional<double> enclosedVolume(const Body& b, bool soon) {
    if (const auto& p = b.prism) return areaInside(p->rings) * (p->to - p->from);
    if (soon && b.slow) return volumeOf(*b.mesh);
    if (!b.solid && !isClosed(*b.mesh)) return std::nullopt;
    const double v = volumeOf(b);
    return v > 0 ? std::optional(v) : std::nullopt;
}

Measures measuresOf(const Body& body, const Seat& seat) {
    Measures out;
    const Box3 box = extents(body, seat);
    out.before = box.max().x();
    out.behind = -box.min().x();
    out.left = box.max().y();
    out.right = -box.min().y();
    out.up = box.max().z();
    out.down = -box.min().z();
    Vec3 centre;
    if (const auto solid = solidOf(body)) {
        const SolidMeasures m = measuresOf(*solid);
        out.volume = m.volume, out.area = m.area, centre = m.centre;
    } else {
        out.volume = volumeOf(body), out.area = areaOf(body), centre = centreOf(body);
    }
    out.centre = seatRotation(seat) * (centre - seatPoint(seat, body.mesh->box));
    if (const auto pins = pinsOf(body, seat)) out.pinDistance = ((*pins)[1] - (*pins)[0]).norm();
    out.exact = solidOf(body) != nullptr;
    out.watertight = body.report.watertight();
    return out;
}

double farOrigin(const Box3& box) {
    if (box.isEmpty()) return 0;
    const double size = box.sizes().maxCoeff();
    return size > 0 ? box.exteriorDistance(Vec3(Vec3::Zero())) / size : 0;
}

namespace {

/// Exactly along an axis where it is one but for rounding.
Direction tidy(const Vec3& v) {
    for (int i = 0; i < 3; ++i)
        if (std::abs(v[i]) > 1 - tolerance::fine) return Direction(Axis(2 * i + (v[i] < 0)));
    return Direction(v);
}

/// As a link made here sits; nothing when its pins are in one place.
std::optional<Seat> onPins(const Pins& pins) {
    Seat own;
    own.point = Vec3((pins[0] + pins[1]) / 2);
    const Vec3 d = pins[1] - pins[0];
    if (!(d.norm() > 1e-3)) return std::nullopt;
    own.nose = tidy(d.normalized());
    own.crown = std::abs(own.nose.v.z()) < 0.9 ? Direction(Axis::PlusZ) : Direction(Axis::PlusX);
    return own;
}

/// Just two equal, parallel holes, those that are farthest apart: the part is a link. More of them are bolt holes.
std::pair<const Hole*, const Hole*> twoHoles(const std::vector<Hole>& found) {
    const auto equal = [](const Hole& a, const Hole& b) {
        return std::abs(a.radius - b.radius) <= 0.01 * a.radius + tolerance::length &&
               a.axis.cross(b.axis).norm() <= 0.01;
    };
    double farthest = 0;
    const Hole *first = nullptr, *second = nullptr;
    for (size_t i = 0; i < found.size() && found.size() <= 400; ++i) {
        const Hole& a = found[i];
        const Hole* other = nullptr;
        int others = 0;
        for (size_t k = 0; k < found.size(); ++k)
            if (k != i && equal(a, found[k])) {
                Vec3 d = found[k].centre - a.centre;
                d -= a.axis * d.dot(a.axis);
                if (d.norm() > 2 * a.radius) ++others, other = &found[k];
            }
        if (others != 1) continue;
        const Vec3 d = other->centre - a.centre;
        const double apart = (d - a.axis * d.dot(a.axis)).norm();
        if (apart > farthest + tolerance::length) farthest = apart, first = &a, second = other;
    }
    return {first, second};
}

/// Seated on two holes; its crown as near to `upright` as it can.
Seat onHoles(const std::pair<const Hole*, const Hole*>& two, const Box3& box, const Vec3& upright) {
    const Vec3 axis = two.first->axis;
    // Both pins in the middle of the part along the axis, so that a link of several plates sits on its middle.
    const auto level = [&](const Vec3& c) { return Vec3(c + axis * (box.center() - c).dot(axis)); };
    Vec3 a = level(two.first->centre), b = level(two.second->centre);
    Vec3 d = (b - a).normalized();
    if (d[int(std::max_element(d.data(), d.data() + 3, [](double x, double y) { return std::abs(x) < std::abs(y); }) -
              d.data())] < 0)
        std::swap(a, b), d = -d;
    Vec3 crown = d.cross(axis).normalized();
    if (crown.dot(upright + 0.1 * upright.unitOrthogonal()) < 0) crown = -crown;
    Seat seat;
    seat.point = Vec3((a + b) / 2);
    seat.nose = tidy(d);
    seat.crown = tidy(crown);
    seat.pins = Pins{a, b};
    return seat;
}

} // namespace

std::vector<Proposal> proposalsFor(const Body& body, const Seat& now, const std::vector<Hole>* known) {
    std::vector<Proposal> out;
    const Box3& box = body.mesh->box;
    const bool sound = !defectOf(now);
    const auto add = [&](Proposal::Kind kind, Seat seat) {
        for (const auto& p : out)
            if (p.kind == kind || p.seat == seat) return;
        out.push_back({kind, std::move(seat)});
    };
    if (body.pins) {
        if (const auto own = onPins(*body.pins)) add(Proposal::Kind::OwnPins, *own);
    } else {
        const auto found = known ? *known : holesOf(body);
        const auto two = twoHoles(found);
        if (two.first) add(Proposal::Kind::TwoHoles, onHoles(two, box, sound ? now.crown.v : Vec3(Vec3::UnitZ())));
    }
    Seat foot, middle;
    if (sound) foot.nose = middle.nose = now.nose, foot.crown = middle.crown = now.crown;
    Vec3 size;
    const auto nose = axisOf(foot.nose), crown = axisOf(foot.crown);
    if (nose && crown) { // points of the box: they follow when the part is changed
        BoxPoint low{0, 0, 0};
        low[int(*crown) / 2] = int(*crown) % 2 == 0 ? -1 : 1;
        foot.point = low;
        middle.point = BoxPoint{0, 0, 0};
        size = (seatRotation(foot) * box.sizes()).cwiseAbs();
    } else {
        const Mat3 R = seatRotation(foot);
        foot.point = Vec3(0, 0, 0);
        const Box3 turned = extents(body, foot);
        const Vec3 c = turned.center();
        size = turned.sizes();
        foot.point = Vec3(R.transpose() * Vec3(c.x(), c.y(), turned.min().z()));
        middle.point = Vec3(R.transpose() * c);
    }
    const double level = std::max(size.x(), size.y());
    if (size.z() >= 0.5 * level) {
        add(Proposal::Kind::Foot, foot);
        add(Proposal::Kind::Middle, middle);
    } else {
        add(Proposal::Kind::Middle, middle);
        add(Proposal::Kind::Foot, foot);
    }
    return out;
}

} // namespace vicinal
