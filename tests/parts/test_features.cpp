// What a seat can be put on: marks of every maker, of its solid and of its bare triangles, against the part itself.
#include "parts/body.h"
#include "parts/makers/maker.h"
#include "suite.h"
#include "support.h"
#include <map>
#include <set>

namespace test_features {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Distance from a point to a triangle (Ericson, "Real-time collision detection", 2005, 5.1.5).
double away(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = ab.dot(ap), d2 = ac.dot(ap);
    if (d1 <= 0 && d2 <= 0) return ap.norm();
    const Vec3 bp = p - b;
    const double d3 = ab.dot(bp), d4 = ac.dot(bp);
    if (d3 >= 0 && d4 <= d3) return bp.norm();
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return (ap - ab * d1 / (d1 - d3)).norm();
    const Vec3 cp = p - c;
    const double d5 = ab.dot(cp), d6 = ac.dot(cp);
    if (d6 >= 0 && d5 <= d6) return cp.norm();
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return (ap - ac * d2 / (d2 - d6)).norm();
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return (bp - (c - b) * (d4 - d3) / (d4 - d3 + d5 - d6)).norm();
    const double n = va + vb + vc;
    return (ap - ab * vb / n - ac * vc / n).norm();
}

double awayFrom(const Mesh& m, const Vec3& p) {
    double best = 1e300;
    for (const auto& t : m.triangles) best = std::min(best, away(p, m.points[t[0]], m.points[t[1]], m.points[t[2]]));
    return best;
}

/// How far the triangles may be off the true shape, as meshOf() promises.
double sag(const Mesh& m) {
    Vec3 s = m.box.sizes();
    std::sort(s.data(), s.data() + 3);
    return s[1] / 200 * 1.5 + 1e-6;
}

struct Shape {
    std::string name;
    BodyPtr body;
};

/// Every entry of the chooser, askew and off its origin, as a solid and as triangles alone.
std::vector<Shape> shapes() {
    std::vector<Shape> out;
    for (const auto& e : makerEntries()) {
        const BodyPtr body = moved(*bodyOf(make(e.maker)), someRotation(), Vec3(70, -20, 33));
        out.push_back({e.name, body});
        out.push_back({std::string(e.name) + ", triangles", std::make_shared<const Body>(Body{body->mesh, nullptr})});
    }
    return out;
}

} // namespace

class TestFeatures : public QObject {
    Q_OBJECT
private slots:
    void marksLieOnTheirPart();
    void holesAreWhereTheirWallsAre();
    void likelySeatsAreUsable();
    void feetLieUnderTheCrown();
    void marksMoveWithTheirPart();
    void noisyHolesSayHowNoisy();
    void farOriginsAreMeasured();
    void aRoundedEdgeIsNoHole();
};

void TestFeatures::marksLieOnTheirPart() {
    for (const auto& [name, body] : shapes()) {
        const Mesh& mesh = *body->mesh;
        const double off = sag(mesh);
        int boxPoints = 0, corners = 0, faces = 0, middles = 0;
        const auto spots = spotsOf(*body);
        for (size_t k = 1; k < spots.size(); ++k) // kind by kind, the largest first
            QVERIFY(spots[k - 1].kind != spots[k].kind ? spots[k - 1].kind < spots[k].kind
                                                       : spots[k - 1].size >= spots[k].size);
        for (const Spot& s : spots) {
            const auto told = [&](const char* what) {
                return QString("%1: %2 at %3, %4, %5")
                    .arg(name.c_str(), what)
                    .arg(s.at.x())
                    .arg(s.at.y())
                    .arg(s.at.z());
            };
            if (s.kind == Spot::Kind::FaceCentre || s.kind == Spot::Kind::HoleAxis) NEAR(s.direction.norm(), 1, 1e-12);
            QVERIFY(s.direction.isZero() || std::abs(s.direction.norm() - 1) < 1e-12); // a ball has none
            Box3 room = mesh.box;
            room.extend(Vec3(room.min() - Vec3::Constant(off)));
            room.extend(Vec3(room.max() + Vec3::Constant(off)));
            QVERIFY2(room.contains(s.at), qPrintable(told("outside its box")));
            switch (s.kind) {
            case Spot::Kind::Corner:
                ++corners;
                QVERIFY2(awayFrom(mesh, s.at) < off, qPrintable(told("corner")));
                break;
            case Spot::Kind::EdgeMiddle:
                QVERIFY2(s.size > 0 && awayFrom(mesh, s.at) < off, qPrintable(told("edge middle")));
                break;
            case Spot::Kind::FaceCentre: {
                ++faces;
                // Outwards: along its direction from a point on the face there is no part right away. A ring's centre
                // lies in its hole, so a triangle of the same plane answers for the face.
                bool found = false;
                for (const auto& t : mesh.triangles) {
                    const Vec3 &a = mesh.points[t[0]], &b = mesh.points[t[1]], &c = mesh.points[t[2]];
                    const Vec3 n = (b - a).cross(c - a).normalized();
                    found = found || (n.dot(s.direction) > 0.98 &&
                                      std::abs((s.at - a).dot(n)) < off + 0.02 * mesh.box.diagonal().norm());
                }
                QVERIFY2(found, qPrintable(told("face looks the wrong way")));
                break;
            }
            case Spot::Kind::VolumeCentre:
                ++middles;
                NEAR((s.at - centreOf(*body)).norm(), 0, 1e-9 * (1 + mesh.box.diagonal().norm()));
                break;
            case Spot::Kind::BoxPoint: ++boxPoints; break;
            case Spot::Kind::HoleAxis:
            case Spot::Kind::ShaftAxis: QVERIFY2(s.size > 0, qPrintable(told("axis"))); break;
            }
        }
        QCOMPARE(middles, 1);
        QVERIFY2(boxPoints >= 8 && boxPoints <= 27, name.c_str());
        QVERIFY2(corners + faces > 0, name.c_str());
    }
    // A box of triangles alone has its twelve edges, each with its length and direction.
    std::map<long, int> edges;
    for (const Spot& s : spotsOf(Body{(*bodyOf(make(PlainBox{30, 20, 10})))->mesh, nullptr}))
        if (s.kind == Spot::Kind::EdgeMiddle && !s.direction.isZero()) ++edges[std::lround(s.size)];
    QVERIFY((edges == std::map<long, int>{{10, 4}, {20, 4}, {30, 4}}));
}

void TestFeatures::holesAreWhereTheirWallsAre() {
    for (const auto& [name, body] : shapes())
        for (const Hole& h : holesOf(*body)) {
            QVERIFY(h.radius > 0 && h.depth > 0);
            NEAR(h.axis.norm(), 1, 1e-12);
            // Points of the wall: on the circle, within the depth, and more than half-way round it.
            int around = 0;
            const Vec3 u = h.axis.unitOrthogonal(), v = h.axis.cross(u);
            std::array<bool, 12> sectors{};
            for (const Vec3& p : body->mesh->points) {
                const Vec3 d = p - h.centre;
                const double along = d.dot(h.axis), r = (d - along * h.axis).norm();
                if (std::abs(r - h.radius) > 0.02 * h.radius + 1e-6 || std::abs(along) > h.depth / 2 * 1.001 + 1e-6)
                    continue;
                ++around;
                sectors[size_t((std::atan2(d.dot(v), d.dot(u)) + kPi) / (2 * kPi) * 11.999)] = true;
            }
            QVERIFY2(around >= 6, name.c_str());
            QVERIFY2(std::count(sectors.begin(), sectors.end(), true) >= 5, name.c_str());
            QVERIFY(body->solid ? h.error == 0 : h.error < 0.02 * h.radius);
        }
}

void TestFeatures::likelySeatsAreUsable() {
    for (const auto& [name, body] : shapes()) {
        const auto offers = proposalsFor(*body);
        QVERIFY2(offers.size() >= 2, name.c_str());
        std::set<int> kinds;
        for (const Proposal& p : offers) {
            QVERIFY2(!defectOf(p.seat), name.c_str());
            QVERIFY2(kinds.insert(int(p.kind)).second, name.c_str()); // each kind once
            const Measures m = measuresOf(*body, p.seat);
            const double size = body->mesh->box.diagonal().norm();
            if (p.kind == Proposal::Kind::Foot) NEAR(m.down, 0, 1e-6 * size);
            if (p.kind == Proposal::Kind::Foot || p.kind == Proposal::Kind::Middle) {
                NEAR(m.before, m.behind, 0.25 * size); // about the middle of its box
                NEAR(m.left, m.right, 0.25 * size);
            }
            if (p.kind == Proposal::Kind::OwnPins || p.kind == Proposal::Kind::TwoHoles) {
                const Pins pins = *pinsOf(*body, p.seat);
                const Vec3 line = (pins[1] - pins[0]).normalized();
                NEAR(line.dot(p.seat.nose.v), 1, 1e-9); // the second pin lies ahead
                NEAR((seatPoint(p.seat, body->mesh->box) - (pins[0] + pins[1]) / 2).norm(), 0, 1e-6);
            }
        }
    }
}

/// However a part is turned in its file: with its crown put right, its foot is under it.
void TestFeatures::feetLieUnderTheCrown() {
    const BodyPtr made = *bodyOf(make(Post{}));
    const double tall = measuresOf(*made, Seat{}).height();
    for (const Mat3& R : {Mat3(Eigen::AngleAxisd(kPi / 2, Vec3::UnitX()).toRotationMatrix()), someRotation(),
                          Mat3(Eigen::AngleAxisd(-kPi / 2, Vec3::UnitY()).toRotationMatrix())}) {
        const BodyPtr body = moved(made, R, Vec3(4000, 1, -9));
        Seat now;
        const auto axis = [](const Vec3& v) { // one of the six where it is but for rounding
            for (int k = 0; k < 6; ++k)
                if (directionOf(Axis{k}).dot(v) > 1 - 1e-12) return Direction(Axis{k});
            return Direction(v);
        };
        now.nose = axis(R.col(0));
        now.crown = axis(R.col(2));
        const auto offers = proposalsFor(*body, now);
        QVERIFY(offers[0].kind == Proposal::Kind::Foot);
        const Measures m = measuresOf(*body, offers[0].seat);
        NEAR(m.down, 0, 1e-6);
        NEAR(m.up, tall, 1e-6);
        NEAR(m.before, m.behind, 1e-6);
        NEAR(m.left, m.right, 1e-6);
        QVERIFY(std::holds_alternative<BoxPoint>(offers[0].seat.point) == axisOf(now.crown).has_value());
    }
}

void TestFeatures::marksMoveWithTheirPart() {
    const BodyPtr here = *bodyOf(make(Bracket{}));
    const Mat3 R = someRotation();
    const Vec3 t(900, -4000, 31);
    const BodyPtr there = moved(here, R, t, 2.5);
    const auto a = spotsOf(*here), b = spotsOf(*there);
    int compared = 0;
    for (const Spot& s : a) {
        if (s.kind == Spot::Kind::BoxPoint) continue; // of the part's own axes: not the same points
        const Vec3 at = 2.5 * (R * s.at) + t, d = R * s.direction;
        const bool found = std::any_of(b.begin(), b.end(), [&](const Spot& o) {
            return o.kind == s.kind && (o.at - at).norm() < 1e-6 && std::abs(o.size - 2.5 * s.size) < 1e-6 &&
                   (s.direction.isZero() || std::abs(std::abs(o.direction.dot(d)) - 1) < 1e-9);
        });
        QVERIFY2(found, qPrintable(QString("kind %1").arg(int(s.kind))));
        ++compared;
    }
    QVERIFY(compared > 30);
}

/// A drilled plate whose points are shaken: the fit finds the hole and says how well it fits.
void TestFeatures::noisyHolesSayHowNoisy() {
    std::mt19937 random(5);
    for (const double noise : {0.0, 0.01, 0.05}) {
        std::uniform_real_distribution<double> shake(-noise, noise);
        Mesh mesh = *(*bodyOf(make(Bracket{80, 60, 40, 5, 20})))->mesh;
        for (Vec3& p : mesh.points) p += Vec3(shake(random), shake(random), shake(random));
        const BodyPtr body = bodyOf(std::make_shared<const Mesh>(mesh));
        const auto holes = holesOf(*body);
        QVERIFY2(holes.size() == 2, qPrintable(QString("%1 holes at %2").arg(holes.size()).arg(noise)));
        for (const Hole& h : holes) {
            NEAR(h.radius, 10, 0.05 + 2 * noise);
            QVERIFY(h.error <= 0.02 * h.radius);
            QVERIFY2(h.error >= 0.3 * noise, qPrintable(QString::number(h.error)));
        }
    }
}

void TestFeatures::farOriginsAreMeasured() {
    NEAR(farOrigin(Box3(Vec3(-1, -1, 0), Vec3(1, 1, 2))), 0, 1e-12); // inside
    const double far = farOrigin(Box3(Vec3(1000, 0, 0), Vec3(1010, 10, 10)));
    QVERIFY(far > 50 && far < 110); // about a hundred times its size
    QVERIFY(farOrigin(Box3(Vec3(6, 0, 0), Vec3(16, 10, 10))) < 1);
}

/// Of a mesh: a wall that goes round by half or more is a hole, a hollow quarter is the round of an edge.
void TestFeatures::aRoundedEdgeIsNoHole() {
    constexpr int kSteps = 24;
    constexpr double kRadius = 30, kWidth = 80;
    for (const double sweep : {kPi / 2, 0.8 * kPi, kPi, 1.5 * kPi}) {
        // A block with a groove along z: its outline in plan, from the groove's start round and along the outside.
        std::vector<Vec2> outline;
        for (int i = 0; i <= kSteps; ++i) {
            const double a = -sweep / 2 + sweep * i / kSteps;
            outline.push_back(kRadius * Vec2(std::cos(a), std::sin(a)));
        }
        const Vec2 lip = outline.back();
        for (const Vec2& v :
             {Vec2(lip.x() - 1, kWidth), Vec2(kWidth, kWidth), Vec2(kWidth, -kWidth), Vec2(lip.x() - 1, -kWidth)})
            outline.push_back(v);
        Mesh mesh;
        const auto n = std::uint32_t(outline.size());
        for (double z : {0.0, 50.0})
            for (const Vec2& v : outline) mesh.points.push_back({v.x(), v.y(), z});
        for (std::uint32_t i = 0; i < n; ++i) {
            const std::uint32_t k = (i + 1) % n;
            mesh.triangles.push_back({i, i + n, k});
            mesh.triangles.push_back({k, i + n, k + n});
        }
        for (const Vec3& v : mesh.points) mesh.box.extend(v);
        const auto holes = holesOf(Body{std::make_shared<const Mesh>(mesh), nullptr});
        QCOMPARE(holes.size(), size_t(sweep > 0.99 * kPi));
        for (const Hole& h : holes) NEAR(h.radius, kRadius, 0.1);
    }
}

VICINAL_SUITE(TestFeatures)

} // namespace test_features
#include "test_features.moc"
