// True distances of bodies: against another library, closed formulas, brute force and a numeric minimiser.
#include "clearance/falling.h"
#include "clearance/opening.h"
#include "clearance/pairs.h"
#include "parts/makers/maker.h"
#include "suite.h"
#include "support.h"
#include <QTest>
#include <fcl/geometry/bvh/BVH_model.h>
#include <fcl/geometry/shape/box.h>
#include <fcl/narrowphase/distance.h>
#include <random>
#include <thread>

namespace test_near {

using namespace vicinal;
using namespace vicinal::test;

namespace {

struct Random {
    std::mt19937 engine;
    explicit Random(unsigned seed) : engine(seed) {}
    double in(double a, double b) { return std::uniform_real_distribution<double>(a, b)(engine); }
    Vec3 point(double r) { return {in(-r, r), in(-r, r), in(-r, r)}; }
    Mat3 turn() { return Eigen::Quaterniond::UnitRandom().toRotationMatrix(); }
    Mat3 turned() {
        const Vec3 axis = point(1).normalized();
        return Eigen::AngleAxisd(in(0, 2 * kPi), axis).toRotationMatrix();
    }
};

std::shared_ptr<const Mesh> shared(Mesh m) {
    Box3 box;
    for (const Vec3& p : m.points) box.extend(p);
    m.box = box;
    return std::make_shared<const Mesh>(std::move(m));
}
BodyPtr box(double x, double y, double z) {
    return bodyOf(shared(boxMesh(Box3(Vec3(-x, -y, -z) / 2, Vec3(x, y, z) / 2))));
}
/// A closed surface of revolution and more: around a ring of radius R, its section of radius r.
Mesh torus(double R, double r, int around, int across) {
    Mesh m;
    for (int i = 0; i < around; ++i)
        for (int k = 0; k < across; ++k) {
            const double a = 2 * kPi * i / around, b = 2 * kPi * k / across;
            m.points.push_back(
                {(R + r * std::cos(b)) * std::cos(a), (R + r * std::cos(b)) * std::sin(a), r * std::sin(b)});
        }
    const auto at = [&](int i, int k) { return std::uint32_t((i % around) * across + k % across); };
    for (int i = 0; i < around; ++i)
        for (int k = 0; k < across; ++k) {
            m.triangles.push_back({at(i, k), at(i + 1, k), at(i + 1, k + 1)});
            m.triangles.push_back({at(i, k), at(i + 1, k + 1), at(i, k + 1)});
        }
    return m;
}
/// A heap of triangles without any sense.
Mesh soup(Random& random, int n, double size) {
    Mesh m;
    for (int i = 0; i < n; ++i) {
        const Vec3 at = random.point(size);
        for (int k = 0; k < 3; ++k) m.points.push_back(at + random.point(size / 4));
        m.triangles.push_back({std::uint32_t(3 * i), std::uint32_t(3 * i + 1), std::uint32_t(3 * i + 2)});
    }
    return m;
}

using Model = fcl::BVHModel<fcl::OBBRSSd>;
std::shared_ptr<Model> modelOf(const Mesh& m) {
    auto out = std::make_shared<Model>();
    out->beginModel();
    std::vector<fcl::Triangle> all;
    for (const auto& t : m.triangles) all.emplace_back(t[0], t[1], t[2]);
    out->addSubModel(m.points, all);
    out->endModel();
    return out;
}
double byLibrary(const Mesh& a, const Mesh& b, const Mat3& turn, const Vec3& at) {
    Eigen::Isometry3d pose = Eigen::Isometry3d::Identity();
    pose.linear() = turn;
    pose.translation() = at;
    fcl::DistanceRequestd request;
    fcl::DistanceResultd result;
    const auto x = modelOf(a), y = modelOf(b);
    fcl::distance(x.get(), Eigen::Isometry3d::Identity(), y.get(), pose, request, result);
    return std::max(0.0, result.min_distance);
}

double bruteForce(const Mesh& a, const Mesh& b, const RelativePose& lie) {
    double best = 1e300;
    for (const auto& s : a.triangles)
        for (const auto& t : b.triangles) {
            std::array<Vec3, 3> p, q;
            for (size_t k = 0; k < 3; ++k) {
                p[k] = a.points[s[k]];
                q[k] = lie.turn * b.points[t[k]] + lie.at;
            }
            best = std::min(best, distanceBetween(p, q).distance);
        }
    return best;
}

PosedBody put(const BodyPtr& b, const Vec3& at, const Mat3& turn = Mat3::Identity(), double size = 1) {
    PosedBody s;
    s.body = b;
    s.turn = turn * size;
    s.at = at;
    s.size = size;
    return s;
}
PairValue between(const PosedBody& a, const PosedBody& b, double within = 1e300) {
    PairMemory memory;
    const std::pair<const PosedBody*, const PosedBody*> pair{&a, &b};
    return memory.measure({&pair, 1}, within).front();
}

BodyPtr bar(double width, double height, Baluster::Section section = Baluster::Section::Round) {
    Baluster b;
    b.width = b.depth = width;
    b.height = height;
    b.section = section;
    return bodyOf(make(Maker(b))).value();
}

} // namespace

class TestNear : public QObject {
    Q_OBJECT
private slots:
    void trianglesAgreeWithALibraryAndThemselves();
    void meshesAgreeWithALibrary();
    void boxesTurnedAnyWay();
    void depthsOfBoxesAgainstTheirFaces();
    void pinsInTheirHolesFit();
    void pinsBesideTheirHolesAreAsDeepAsTheyAreOff();
    void whatLiesOnItselfIsInsideOnce();
    void insideIsNotFar();
    void roundThingsByClosedForms();
    void linkedRings();
    void sizesMirrorsAndMotion();
    void whatIsFartherIsNotFound();
    void pairsByTheirBoxes();
    void whatLiesAlikeIsMeasuredOnce();
    void quickAnswersAreExactWhereItMatters();
    void stoppedAnswersAreNone();
    void openMeshesHaveNoDepth();
    void ballsBetweenBars();
    void ballsUnderARail();
    void dominoes();
};

void TestNear::trianglesAgreeWithALibraryAndThemselves() {
    Random random(3);
    int crossed = 0;
    for (int i = 0; i < 3000; ++i) {
        Mesh a = soup(random, 1, 1), b = soup(random, 1, 1);
        if (i % 2)
            for (Mesh* m : {&a, &b})
                for (Vec3& p : m->points) p = random.point(1);
        if (i % 5 == 0) b.points[2] = b.points[0] + 0.3 * (b.points[1] - b.points[0]); // no area
        const std::array<Vec3, 3> p{a.points[0], a.points[1], a.points[2]}, q{b.points[0], b.points[1], b.points[2]};
        const Distance one = distanceBetween(p, q), two = distanceBetween(q, p);
        QVERIFY(std::abs(one.distance - two.distance) < 1e-12);
        if (i % 20 == 1) { // the least trees there are
            const BodyPtr s = bodyOf(shared(a)), t = bodyOf(shared(b));
            const Distance trees = distanceBetween(treeOf(*s), treeOf(*t), RelativePose{}, 1e300, nullptr, nullptr);
            QVERIFY(trees.found() && trees.crossing == one.crossing);
            QVERIFY(std::abs(trees.distance - one.distance) < 1e-12);
        }
        QVERIFY(std::abs((one.a - one.b).norm() - one.distance) < 1e-9);
        crossed += one.crossing;
        // No sampled pair of points is nearer.
        double sampled = 1e300;
        for (int k = 0; k < 60; ++k) {
            const auto on = [&](const std::array<Vec3, 3>& t) {
                double u = random.in(0, 1), v = random.in(0, 1);
                if (u + v > 1) u = 1 - u, v = 1 - v;
                return Vec3(t[0] + u * (t[1] - t[0]) + v * (t[2] - t[0]));
            };
            sampled = std::min(sampled, (on(p) - on(q)).norm());
        }
        QVERIFY(one.distance <= sampled + 1e-12);
        if (i % 5 != 0) QVERIFY(std::abs(byLibrary(a, b, Mat3::Identity(), Vec3::Zero()) - one.distance) < 1e-7);
    }
    QVERIFY(crossed > 50);
}

void TestNear::meshesAgreeWithALibrary() {
    Random random(5);
    for (int i = 0; i < 60; ++i) {
        const Mesh a = i % 2 ? soup(random, 80, 10) : torus(10, 2, 24, 10), b = soup(random, 60, 8);
        const RelativePose lie{random.turned(), random.point(1) * 30, 1};
        const auto first = shared(a), second = shared(b);
        const MeshTree x(first), y(second);
        const Distance found = distanceBetween(x, y, lie);
        QVERIFY(std::abs(found.distance - bruteForce(a, b, lie)) < 1e-9);
        QVERIFY(std::abs(found.distance - byLibrary(a, b, lie.turn, lie.at)) < 1e-6);
        const Distance again = distanceBetween(x, y, lie, 1e300, &found);
        QVERIFY(std::abs(again.distance - found.distance) < 1e-12);
    }
}

void TestNear::boxesTurnedAnyWay() {
    Random random(7);
    int touching = 0;
    for (int i = 0; i < 400; ++i) {
        const Vec3 a(random.in(1, 20), random.in(1, 20), random.in(1, 20)),
            b(random.in(1, 20), random.in(1, 20), random.in(1, 20));
        const Mat3 turn = random.turned();
        const Vec3 at = random.point(30);
        const PairValue v =
            between(put(box(a.x(), a.y(), a.z()), Vec3::Zero()), put(box(b.x(), b.y(), b.z()), at, turn));
        fcl::Boxd x(a), y(b);
        Eigen::Isometry3d pose = Eigen::Isometry3d::Identity();
        pose.linear() = turn;
        pose.translation() = at;
        fcl::DistanceRequestd request;
        request.distance_tolerance = 1e-9;
        fcl::DistanceResultd result;
        fcl::distance(&x, Eigen::Isometry3d::Identity(), &y, pose, request, result);
        if (result.min_distance <= 0) {
            ++touching;
            QVERIFY(v.clear <= 0);
        } else
            QVERIFY2(std::abs(v.clear - result.min_distance) < 1e-5,
                     qPrintable(QString::number(v.clear - result.min_distance)));
    }
    QVERIFY(touching > 20);
}

void TestNear::depthsOfBoxesAgainstTheirFaces() {
    // Of a box the distance to its surface is known everywhere inside: the least half size less the way from the
    // middle. Asked on a fine net over the other one's faces, both ways round.
    Random random(11);
    int crossed = 0;
    constexpr int kNet = 40;
    for (int i = 0; i < 200; ++i) {
        const Vec3 a(random.in(2, 20), random.in(2, 20), random.in(2, 20)),
            b(random.in(2, 20), random.in(2, 20), random.in(2, 20));
        const double size = i % 3 == 0 ? random.in(0.5, 2) : 1;
        const Mat3 turn = random.turned();
        const Vec3 at = random.point(12);
        double most = 0, step = 0;
        const auto faces = [&](const Vec3& own, const Vec3& other, const Mat3& R, const Vec3& t, double k) {
            for (int axis = 0; axis < 3; ++axis)
                for (const double side : {-0.5, 0.5})
                    for (int u = 0; u <= kNet; ++u)
                        for (int v = 0; v <= kNet; ++v) {
                            Vec3 p = Vec3::Zero();
                            p[axis] = side * own[axis];
                            p[(axis + 1) % 3] = (double(u) / kNet - 0.5) * own[(axis + 1) % 3];
                            p[(axis + 2) % 3] = (double(v) / kNet - 0.5) * own[(axis + 2) % 3];
                            const Vec3 q = R * p + t; // in the other's axes
                            most = std::max(most, k * (other / 2 - q.cwiseAbs()).minCoeff());
                        }
            step = std::max(step, k * R.col(0).norm() * own.maxCoeff() / kNet);
        };
        faces(b, a, turn * size, at, 1);
        faces(a, b, turn.transpose() / size, -(turn.transpose() * at) / size, size);
        const BodyPtr first = box(a.x(), a.y(), a.z()), second = box(b.x(), b.y(), b.z());
        const PairValue v = between(put(first, Vec3::Zero()), put(second, at, turn, size));
        if (most <= 0) {
            QVERIFY(v.clear >= -step);
            continue;
        }
        ++crossed;
        const Depth depth = depthOf(treeOf(*first), treeOf(*second), {turn * size, at, size});
        QVERIFY(v.crossing && v.depthKnown && std::abs(v.clear + depth.by) < 1e-9);
        QVERIFY2(depth.by >= most - 1e-3 * (1 + most) && depth.by <= most + step,
                 qPrintable(QString("%1 %2").arg(depth.by).arg(most)));
        QVERIFY(depth.error <= 1e-3 * (1 + depth.by));
        QVERIFY(std::abs((depth.at - depth.to).norm() - depth.by) < 1e-6 * (1 + depth.by));
        const Depth other = depthOf(treeOf(*second), treeOf(*first),
                                    RelativePose{turn * size, at, size}.inverse()); // whichever comes first
        QVERIFY(std::abs(other.by * size - depth.by) < 2e-3 * (1 + depth.by));
    }
    QVERIFY(crossed > 40);
}

void TestNear::pinsInTheirHolesFit() {
    const auto solid = [](const Maker& m) { return bodyOf(make(m)).value(); };
    const auto depth = [&](const BodyPtr& a, const BodyPtr& b, const Vec3& at) {
        return between(put(a, {0, 0, 0}), put(b, at));
    };
    Tube tube;
    tube.diameter = 40;
    tube.wall = 10;
    tube.length = 60;
    Cylinder pin;
    pin.diameter = 20;
    pin.height = 90;
    const BodyPtr hole = solid(tube), bar = solid(pin);
    // The tube may lie anyhow: stand the pin in its bore by what both measure.
    const auto hollow = [&] {
        for (const RoundFace& r : roundFacesOf(*hole))
            if (r.hole) return r;
        qFatal("no bore");
    }();
    const auto shaft = [&] {
        for (const RoundFace& r : roundFacesOf(*bar))
            if (!r.hole) return r;
        qFatal("no shaft");
    }();
    NEAR(hollow.radius, 10, 1e-9);
    const Mat3 turn = Quat::FromTwoVectors(shaft.axis, hollow.axis).toRotationMatrix();
    const auto standing = [&](double aside, double size = 1) {
        const Vec3 across = hollow.axis.unitOrthogonal();
        return between(put(hole, Vec3::Zero()),
                       put(bar, hollow.centre - turn * shaft.centre * size + aside * across, turn, size));
    };
    QVERIFY(standing(0).clear >= -1e-9);              // fits, whatever its triangles do
    QVERIFY(standing(0, 0.98).clear > 0.1);           // with play: the distance between them
    NEAR(standing(0, 1.05).clear, -0.5, 0.01);        // by radii where it is too thick
    QVERIFY(standing(3).clear < -2.5);                // beside its axis it is no pin in a hole
    QVERIFY(depth(hole, hole, {0, 0, 0}).clear < -5); // one on the other: as deep as the wall is thick
    // Links of a roller chain: pins of one in the other, straight and bent, as its maker makes them.
    const BodyPtr inner = solid(RollerLink{RollerLink::Kind::Inner}),
                  outer = solid(RollerLink{RollerLink::Kind::Outer});
    for (const double bend : {0.0, 0.2, 0.7}) {
        const Mat3 R = Eigen::AngleAxisd(bend, Vec3::UnitY()).toRotationMatrix();
        const Vec3 joint(12.7, 0, 0);
        const PairValue v = between(put(inner, Vec3::Zero()), put(outer, joint + R * joint, R));
        QVERIFY2(v.clear > -0.02, qPrintable(QString("%1 bent by %2").arg(v.clear).arg(bend)));
        // Pushed 3 mm sideways their plates are in one another.
        QVERIFY(between(put(inner, Vec3::Zero()), put(outer, joint + R * joint + Vec3(0, 2, 0), R)).clear < -0.9);
    }
}

void TestNear::pinsBesideTheirHolesAreAsDeepAsTheyAreOff() {
    // Pin and bore of one radius: pulled along they are in one another by what they are off, and no plate's face, which
    // lies on the next one's, counts. The deepest point is one of a surface, and as far from the other's.
    const BodyPtr inner = bodyOf(make(Maker(RollerLink{RollerLink::Kind::Inner}))).value(),
                  outer = bodyOf(make(Maker(RollerLink{RollerLink::Kind::Outer}))).value();
    const MeshTree &a = treeOf(*inner), &b = treeOf(*outer);
    for (const double off : {0.01, -0.1}) { // half a minute under the sanitizers
        const bool turned = off < 0;
        const RelativePose lie{
            turned ? Mat3(Eigen::AngleAxisd(kPi, Vec3::UnitX())) : Mat3::Identity(), {25.4 + off, 0, 0}, 1};
        for (const Depth& d : {depthOf(a, b, lie), depthOf(b, a, lie.inverse())}) {
            const double by = std::abs(off);
            QVERIFY2(d.by <= by * (1 + 1e-6) && d.by + d.error >= by * (1 - 1e-3) && d.error < 0.01,
                     qPrintable(QString("%1 off: %2, at most %3 more").arg(off).arg(d.by).arg(d.error)));
            NEAR((d.at - d.to).norm(), d.by, 1e-6);
        }
        const Depth d = depthOf(a, b, lie);
        const Vec3 inB = lie.inverse().turn * (d.at - lie.at);
        NEAR(std::min(a.nearest(d.at).distance, b.nearest(inB).distance), 0, 1e-9);
    }
}

void TestNear::whatLiesOnItselfIsInsideOnce() {
    // A pin's and its hole's face lie on one another: a line through both enters and leaves. A hollow is not inside.
    Random random(29);
    const BodyPtr outer = bodyOf(make(Maker(RollerLink{RollerLink::Kind::Outer}))).value();
    const MeshTree& tree = treeOf(*outer);
    const double pin = 3.96, half = 8.5 + 3 + 3.75;
    for (int k = 0; k < 2000; ++k) {
        const Vec3 p(random.in(-25, 25), random.in(-18, 18), random.in(-12, 12));
        const double r = std::min(std::hypot(p.x() - 12.7, p.z()), std::hypot(p.x() + 12.7, p.z()));
        const double y = std::abs(p.y()), past = std::max(0.0, std::abs(p.x()) - 12.7);
        const bool plate = y > 11.5 && y < 14.5 && std::hypot(past, p.z()) < 10.5, bar = r < pin && y < half;
        if (tree.nearest(p).distance < 0.3) continue; // triangles of what is round
        QVERIFY2(inside(tree, p) == (plate || bar), qPrintable(QString("%1 %2 %3").arg(p.x()).arg(p.y()).arg(p.z())));
    }
    Mesh hollow = boxMesh(Box3(Vec3(-10, -10, -10), Vec3(10, 10, 10)));
    const Mesh in = boxMesh(Box3(Vec3(-4, -4, -4), Vec3(4, 4, 4)));
    for (const auto& t : in.triangles) hollow.triangles.push_back({t[0] + 8, t[2] + 8, t[1] + 8}); // faces inwards
    hollow.points.insert(hollow.points.end(), in.points.begin(), in.points.end());
    const auto clean = cleaned(hollow);
    QVERIFY(clean);
    NEAR(volumeOf(*clean), 8000 - 512, 1e-6);
    const MeshTree both(shared(*clean));
    QVERIFY(!inside(both, {1, 2, 3}) && inside(both, {7, 2, 3}));
    NEAR(between(put(bodyOf(shared(*clean)), {0, 0, 0}), put(box(2, 2, 2), {0, 0, 0})).clear, 3, 1e-9);
}

void TestNear::insideIsNotFar() {
    // Faces in one plane: no edge goes right through the other.
    for (const double shift : {0.0, 1.0, 4.0, 9.5, 10.0, 10.5}) {
        const PairValue v = between(put(box(10, 6, 4), Vec3::Zero()), put(box(10, 6, 4), Vec3(shift, 0, 0)));
        // The end of one in the other is no nearer to its surface than this; one on the other is as deep as it is high.
        const double deep = shift == 0 ? 4 : std::min({2.0, shift, 10 - shift});
        QVERIFY2(std::abs(v.clear - std::max(shift - 10, -deep)) < 1e-3, qPrintable(QString::number(v.clear)));
        QCOMPARE(v.crossing, shift < 10);
    }
    // One box in, on or beside another, flush with its faces in any way, both ways round, turned anyhow: it is in it
    // unless some face of it lies against the outside of one.
    Random random(31);
    Mesh shell = boxMesh(Box3(Vec3(-9, -8, -7), Vec3(9, 8, 7)));
    const Mesh hollow = boxMesh(Box3(Vec3(-5, -4, -3), Vec3(5, 4, 3)));
    for (const auto& t : hollow.triangles) shell.triangles.push_back({t[0] + 8, t[2] + 8, t[1] + 8}); // faces inwards
    shell.points.insert(shell.points.end(), hollow.points.begin(), hollow.points.end());
    const BodyPtr hollowed = bodyOf(shared(*cleaned(shell)));
    for (int n = 0; n < 256; ++n) {
        const Vec3 large(10, 8, 6);
        const double size = n >= 192 ? 1 : random.in(0.2, 0.9); // as large: all faces lie on one another
        Vec3 at;
        bool outside = false;
        for (int axis = 0, way = n; axis < 3; ++axis, way /= 4) {
            const double in = large[axis] * (1 - size) / 2, out = large[axis] * (1 + size) / 2;
            at[axis] = std::array{0.0, in, -in, way % 8 < 4 ? out : -out}[size_t(way % 4)];
            outside = outside || way % 4 == 3;
        }
        const Mat3 turn = random.turned();
        const auto first = put(box(10, 8, 6), Vec3(1, 2, 3), turn);
        const auto second = put(box(10, 8, 6), Vec3(1, 2, 3) + turn * at, turn, size);
        for (const PairValue& v : {between(first, second), between(second, first)}) {
            QVERIFY2(v.crossing == !outside, qPrintable(QString("%1 of size %2: %3").arg(n).arg(size).arg(v.clear)));
            if (outside)
                NEAR(v.clear, 0, 1e-6);
            else
                QVERIFY2(v.depthKnown && v.clear < -0.05 * size, qPrintable(QString("%1: %2").arg(n).arg(v.clear)));
        }
        if (outside) continue; // flush in a hollow it touches, and is in nothing
        const PairValue v = between(put(hollowed, Vec3(1, 2, 3), turn), second);
        QVERIFY2(!v.crossing, qPrintable(QString("%1 in a hollow").arg(n)));
    }
    // A peg that just fits its hole touches it all round.
    const PairValue peg = between(put(bodyOf(shared(torus(20, 10, 4, 4))), Vec3::Zero()),
                                  put(box(std::sqrt(200.0) - 1e-9, std::sqrt(200.0) - 1e-9, 0.5), Vec3::Zero(),
                                      Eigen::AngleAxisd(kPi / 4, Vec3::UnitZ()).toRotationMatrix()));
    QVERIFY(!peg.crossing && std::abs(peg.clear) < 1e-6);
    const PairValue v = between(put(box(100, 100, 100), Vec3::Zero()), put(box(10, 20, 30), Vec3(20, 0, 0)));
    QVERIFY(v.crossing);
    QVERIFY(std::abs(v.clear + 35) < 1e-4); // out by the near side: 50 - 20 + 5
    const PairValue ring =
        between(put(bodyOf(shared(torus(20, 3, 40, 16))), Vec3::Zero()), put(box(10, 10, 10), Vec3::Zero()));
    QVERIFY(!ring.crossing); // in the hole of a ring is not inside it
    QVERIFY(std::abs(ring.clear - (17 - std::sqrt(50.0))) < 0.2);
}

void TestNear::roundThingsByClosedForms() {
    PairMemory memory;
    const BodyPtr round = bar(20, 900), thick = bar(60, 900);
    const double error = memory.facts(round).error, thickError = memory.facts(thick).error;
    QVERIFY(error > 0.01 && error < 0.2 && thickError > error);
    // Two cylinders, turned about their own axes so that facets face each other anyhow.
    Random random(13);
    for (int i = 0; i < 50; ++i) {
        const double apart = random.in(45, 200), turn = random.in(0, kPi);
        const Mat3 z = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
        const PairValue v = between(put(round, Vec3::Zero(), z), put(thick, Vec3(apart, 0, 0)));
        QVERIFY(std::abs(v.clear - (apart - 40)) <= error + thickError + 1e-9);
        // Crossed at right angles and slanting: the axes' distance less both radii.
        const double lean = random.in(0.2, 1.2);
        const Mat3 x = Eigen::AngleAxisd(lean, Vec3::UnitX()).toRotationMatrix();
        const Vec3 middle = x * Vec3(0, 0, -450) + Vec3(apart, 0, 450);
        const PairValue w = between(put(round, Vec3::Zero(), z), put(round, middle, x * z));
        QVERIFY(std::abs(w.clear - (apart - 20)) <= 2 * error + 1e-9);
    }
    // Balls.
    Mesh ball;
    constexpr int n = 48;
    for (int i = 0; i <= n; ++i)
        for (int k = 0; k < 2 * n; ++k) {
            const double a = kPi * i / n, b = kPi * k / n;
            ball.points.push_back(15 * Vec3(std::sin(a) * std::cos(b), std::sin(a) * std::sin(b), std::cos(a)));
            if (i == n) continue;
            const auto at = [&](int x, int y) { return std::uint32_t(x * 2 * n + y % (2 * n)); };
            ball.triangles.push_back({at(i, k), at(i + 1, k), at(i + 1, k + 1)});
            ball.triangles.push_back({at(i, k), at(i + 1, k + 1), at(i, k + 1)});
        }
    const BodyPtr sphere = bodyOf(std::make_shared<const Mesh>(cleaned(ball).value()));
    for (int i = 0; i < 50; ++i) {
        const Vec3 at = random.point(1).normalized() * random.in(35, 90);
        const PairValue v = between(put(sphere, Vec3::Zero()), put(sphere, at, random.turned()));
        QVERIFY(v.clear >= at.norm() - 30 - 1e-9 && v.clear < at.norm() - 30 + 2 * 15 * (1 - std::cos(kPi / n)) + 1e-3);
    }
}

void TestNear::linkedRings() {
    // Exact: the distance of the rings' middle circles less both radii, by a numeric minimiser.
    Random random(17);
    const double R = 20, r = 4;
    const auto body = bodyOf(shared(torus(R, r, 160, 48)));
    for (int i = 0; i < rounds(12); ++i) {
        const Mat3 turn = Eigen::AngleAxisd(kPi / 2 + random.in(-0.4, 0.4), Vec3::UnitX()).toRotationMatrix();
        const Vec3 at(random.in(17, 23), random.in(-2, 2), random.in(-3, 3)); // linked: one through the other's hole
        double best = 1e300;
        const auto one = [&](double t) { return Vec3(R * std::cos(t), R * std::sin(t), 0); };
        const auto other = [&](double t) { return Vec3(turn * one(t) + at); };
        const auto nearest = [&](double t) { // of a point on the second to the first circle: closed form
            const Vec3 p = other(t);
            return std::hypot(std::hypot(p.x(), p.y()) - R, p.z());
        };
        for (int k = 0; k < 4000; ++k) {
            double a = 2 * kPi * (k - 1) / 4000, b = 2 * kPi * (k + 1) / 4000;
            if (nearest((a + b) / 2) > best + 0.1) continue;
            for (int s = 0; s < 60; ++s) {
                const double x = a + (b - a) / 3, y = b - (b - a) / 3;
                (nearest(x) < nearest(y) ? b : a) = nearest(x) < nearest(y) ? y : x;
            }
            best = std::min(best, nearest((a + b) / 2));
        }
        const double exact = best - 2 * r;
        const PairValue v = between(put(body, Vec3::Zero()), put(body, at, turn));
        if (exact < 0.1) {
            QVERIFY(v.clear < 0.3);
            continue;
        }
        // Facets stand inside the rings by R (1 - cos(pi / 160)) and r (1 - cos(pi / 48)) each at most.
        const double sagitta = 2 * ((R + r) * (1 - std::cos(kPi / 160)) + r * (1 - std::cos(kPi / 48)));
        QVERIFY2(v.clear > exact - sagitta && v.clear < exact + sagitta,
                 qPrintable(QString("%1 %2").arg(v.clear).arg(exact)));
    }
}

void TestNear::sizesMirrorsAndMotion() {
    Random random(19);
    const auto ring = bodyOf(shared(torus(20, 4, 40, 14)));
    const BodyPtr post = box(8, 14, 60);
    for (int i = 0; i < rounds(60); ++i) {
        PosedBody a = put(ring, random.point(50), random.turned(), random.in(0.4, 2)),
                  b = put(post, random.point(50), random.turned(), random.in(0.4, 2));
        if (i % 3 == 0) b.turn = b.turn * Vec3(-1, 1, 1).asDiagonal(); // mirrored
        const PairValue v = between(a, b), w = between(b, a);
        // Depths are told to a ten-thousandth, distances to rounding.
        QVERIFY(std::abs(v.clear - w.clear) < (v.crossing ? 2e-4 : 1e-6) * (1 + std::abs(v.clear)));
        QVERIFY(v.clear < 0 || std::abs((v.a - v.b).norm() - v.clear) < 1e-8);
        // By brute force in the world.
        Mesh one = *a.body->mesh, two = *b.body->mesh;
        for (Vec3& p : one.points) p = a.turn * p + a.at;
        for (Vec3& p : two.points) p = b.turn * p + b.at;
        const double brute = bruteForce(one, two, {});
        if (!v.crossing)
            QVERIFY(std::abs(brute - v.clear) < 1e-9 * (1 + brute));
        else
            QVERIFY(v.clear < 0);
        // The same after both are carried anywhere.
        const Mat3 turn = random.turned();
        const Vec3 at = random.point(1000);
        for (PosedBody* s : {&a, &b}) {
            s->turn = turn * s->turn;
            s->at = turn * s->at + at;
        }
        QVERIFY(std::abs(between(a, b).clear - v.clear) < 1e-5 * (1 + std::abs(v.clear)));
    }
}

void TestNear::whatIsFartherIsNotFound() {
    const PosedBody a = put(box(10, 10, 10), Vec3::Zero()), b = put(box(10, 10, 10), Vec3(30, 0, 0));
    QVERIFY(!between(a, b, 19.9).found());
    QVERIFY(between(a, b, 20.1).found());
    PairMemory memory; // asked again for more, it is looked for again
    const std::pair<const PosedBody*, const PosedBody*> pair{&a, &b};
    QVERIFY(!memory.measure({&pair, 1}, 5).front().found());
    QVERIFY(std::abs(memory.measure({&pair, 1}, 100).front().clear - 20) < 1e-12);
    QVERIFY(!memory.measure({&pair, 1}, 5).front().found());
}

void TestNear::pairsByTheirBoxes() {
    Random random(23);
    for (int round = 0; round < 30; ++round) {
        std::vector<Box3> a, b;
        for (int i = 0; i < 120; ++i) {
            const Vec3 at = random.point(round % 3 ? 100 : 2000),
                       half(random.in(0, 9), random.in(0, 9), random.in(0, 9));
            (i % 2 ? a : b).push_back(Box3(at - half, at + half));
        }
        if (round % 4 == 0) b.push_back(Box3(Vec3::Constant(-500), Vec3::Constant(500))); // one round many
        const double within = random.in(0, 15);
        for (const bool same : {false, true}) {
            const auto& other = same ? a : b;
            std::vector<std::pair<std::uint32_t, std::uint32_t>> brute;
            for (std::uint32_t i = 0; i < a.size(); ++i)
                for (std::uint32_t k = same ? i + 1 : 0; k < other.size(); ++k)
                    if (a[i].exteriorDistance(other[k]) <= within) brute.emplace_back(i, k);
            QVERIFY(pairsWithin(a, other, within).value() == brute);
        }
    }
    const std::vector<Box3> many(3000, Box3(Vec3::Zero(), Vec3::Ones()));
    QVERIFY(!pairsWithin(many, many, 1, 1000));
}

void TestNear::whatLiesAlikeIsMeasuredOnce() {
    const BodyPtr post = box(20, 20, 900);
    std::vector<PosedBody> row;
    for (int i = 0; i < 1000; ++i) {
        row.push_back(put(post, Vec3(120.0 * i, 0, 0)));
        row.back().place = i;
    }
    std::vector<std::pair<const PosedBody*, const PosedBody*>> pairs;
    for (size_t i = 0; i + 1 < row.size(); ++i) pairs.emplace_back(&row[i], &row[i + 1]);
    PairMemory memory;
    for (const PairValue& v : memory.measure(pairs, 1e300)) QVERIFY(std::abs(v.clear - 100) < 1e-9);
    QVERIFY(memory.measured() <= 4);
    row[500].at.x() += 3; // one moved: two pairs are asked again
    const size_t before = memory.measured();
    const auto values = memory.measure(pairs, 1e300);
    QCOMPARE(memory.measured() - before, size_t(2));
    QVERIFY(std::abs(values[499].clear - 103) < 1e-9 && std::abs(values[500].clear - 97) < 1e-9);
    QVERIFY(values[500].a.x() > 500 * 120 && values[10].a.x() < 11 * 120);
    // What is not asked for a while is forgotten, what is asked is not; nor is a body that is gone taken for another.
    const auto few = std::span(pairs).first(10);
    const auto asked = [&](std::span<const std::pair<const PosedBody*, const PosedBody*>> which) {
        for (const PairValue& v : memory.measure(which, 1e300)) QVERIFY(v.found());
    };
    for (int round = 0; round < 12; ++round) asked(few), memory.forgetUnused();
    size_t n = memory.measured();
    asked(few);
    QCOMPARE(memory.measured() - n, size_t(0));
    asked(pairs);
    QVERIFY(memory.measured() - n >= 1);
    n = memory.measured();
    for (size_t i = 0; i <= few.size(); ++i) row[i].body = box(20, 20, 900); // others of the same kind
    memory.forgetUnused();
    asked(few);
    QCOMPARE(memory.measured() - n, few.size());
}

void TestNear::quickAnswersAreExactWhereItMatters() {
    Random random(29);
    const auto ring = bodyOf(shared(torus(20, 4, 24, 10)));
    int left = 0, exact = 0;
    for (int round = 0; round < rounds(60); ++round) {
        std::vector<PosedBody> row;
        for (int i = 0; i < 40; ++i) {
            row.push_back(
                put(ring, Vec3(60.0 * i, random.in(-4, 4), random.in(-4, 4)), random.turned(), random.in(0.8, 1.1)));
            row.back().place = i;
        }
        const auto pairsOf = [](const std::vector<PosedBody>& all) {
            std::vector<std::pair<const PosedBody*, const PosedBody*>> out;
            for (size_t i = 0; i + 1 < all.size(); ++i) out.emplace_back(&all[i], &all[i + 1]);
            return out;
        };
        PairMemory memory;
        memory.measure(pairsOf(row), 1e300);
        const double size = std::pow(10.0, random.in(-3, 0.7));
        for (PosedBody& s : row) s.at += random.point(size);
        PairMemory::Approximate approximate;
        if (round % 3) approximate.least = random.in(5, 15);
        if (round % 3 != 1) approximate.most = random.in(20, 40);
        approximate.margin = random.in(0, 2);
        const auto about = memory.measure(pairsOf(row), 1e300, nullptr, &approximate);
        PairMemory fresh;
        const auto truth = fresh.measure(pairsOf(row), 1e300);
        const bool mostOnly = approximate.most && !approximate.least;
        double worst = 1e300, found = 1e300;
        for (size_t i = 0; i < truth.size(); ++i) {
            // What is told is true within what is told of it, and exact where a limit is near.
            const double v = truth[i].clear;
            QVERIFY(std::abs(about[i].clear - v) <= about[i].about + 1e-9);
            const bool near = (approximate.least && v < *approximate.least + approximate.margin) ||
                              (approximate.most && v > *approximate.most - approximate.margin);
            QVERIFY(!near || about[i].about == 0);
            ++(about[i].about > 0 ? left : exact);
            worst = std::min(worst, mostOnly ? -v : v);
            if (about[i].about == 0) found = std::min(found, mostOnly ? -about[i].clear : about[i].clear);
        }
        QVERIFY(std::abs(worst - found) < 1e-9); // the worst of all is among the exact ones
        for (const PairValue& v : memory.measure(pairsOf(row), 1e300)) QCOMPARE(v.about, 0.0); // all of it, when asked
    }
    QVERIFY(left > rounds(200) && exact > rounds(200));
}

void TestNear::stoppedAnswersAreNone() {
    // Ended anywhere in the middle, asked again: every answer is a whole one.
    Random random(31);
    const auto ring = bodyOf(shared(torus(20, 6, 60, 24)));
    std::vector<PosedBody> all;
    for (int i = 0; i < 60; ++i) {
        all.push_back(put(ring, random.point(40), random.turned()));
        all.back().place = i;
    }
    std::vector<std::pair<const PosedBody*, const PosedBody*>> pairs;
    for (size_t i = 0; i + 1 < all.size(); ++i) pairs.emplace_back(&all[i], &all[i + 1]);
    PairMemory fresh;
    const auto truth = fresh.measure(pairs, 1e300);
    int ended = 0;
    for (int round = 0; round < rounds(12); ++round) {
        PairMemory memory;
        Job job;
        std::thread other([&] { // after so many of them, give or take
            while (job.within.load() < round / double(rounds(12))) std::this_thread::yield();
            job.stop = true;
        });
        const auto half = memory.measure(pairs, 1e300, &job);
        job.within = 2;
        other.join();
        for (size_t i = 0; i < truth.size(); ++i) ended += !half[i].found();
        const auto whole = memory.measure(pairs, 1e300);
        for (size_t i = 0; i < truth.size(); ++i)
            QVERIFY2(std::abs(whole[i].clear - truth[i].clear) < 1e-6 && whole[i].crossing == truth[i].crossing,
                     qPrintable(QString("%1: %2 %3").arg(i).arg(whole[i].clear).arg(truth[i].clear)));
    }
    QVERIFY(ended > 0);
}

void TestNear::openMeshesHaveNoDepth() {
    Mesh sheet = boxMesh(Box3(Vec3::Zero(), Vec3(10, 10, 10)));
    sheet.triangles.pop_back();
    const BodyPtr open = bodyOf(shared(sheet));
    QVERIFY(!factsOf(*open).closed && factsOf(*box(1, 1, 1)).closed);
    const PairValue v = between(put(open, Vec3::Zero()), put(box(10, 10, 10), Vec3(8, 6, 4)));
    QVERIFY(v.crossing && !v.depthKnown && v.clear == 0);
    QVERIFY(std::abs(between(put(open, Vec3::Zero()), put(box(10, 10, 10), Vec3(25, 5, 5))).clear - 10) < 1e-12);
}

void TestNear::ballsBetweenBars() {
    const double r = 10;
    const BodyPtr round = bar(2 * r, 900);
    PairMemory memory;
    const double error = 2 * memory.facts(round).error;
    const auto order = [&](const PosedBody& a, const PosedBody& b, double from, double to) {
        OpeningOrder o;
        o.a = &a;
        o.b = &b;
        o.footA = a.at;
        o.footB = b.at;
        o.from = from;
        o.to = to;
        o.thickness = 2 * r;
        return o;
    };
    // Upright: the clear gap.
    {
        const PosedBody a = put(round, Vec3::Zero()), b = put(round, Vec3(119, 0, 0));
        const Opening o = widestOpening(order(a, b, 0, 900));
        QVERIFY2(std::abs(o.diameter - 99) <= error + o.error, qPrintable(QString::number(o.diameter)));
        QVERIFY(o.error < 0.05);
        // A range lower than the gap: the range.
        QVERIFY(std::abs(widestOpening(order(a, b, 100, 160)).diameter - 60) < 0.02);
    }
    // Both leaning alike: the distance square to them. On a slope: the same, the floor slanting.
    for (const double lean : {0.2, 0.5}) {
        const Mat3 turn = Eigen::AngleAxisd(lean, Vec3::UnitY()).toRotationMatrix();
        const PosedBody a = put(round, Vec3::Zero(), turn), b = put(round, Vec3(140, 0, 0), turn);
        OpeningOrder asked = order(a, b, 0, 700);
        asked.up = turn.col(2);
        const Opening o = widestOpening(asked);
        QVERIFY2(std::abs(o.diameter - (140 * std::cos(lean) - 2 * r)) <= error + o.error + 0.01,
                 qPrintable(QString::number(o.diameter)));
    }
    // Spread: from rho (1 + sin a) = (w/2 + H tan a) cos a - r, the ball under the ceiling H between two slanted bars.
    for (const double lean : {0.03, 0.06}) {
        const Mat3 right = Eigen::AngleAxisd(lean, Vec3::UnitY()).toRotationMatrix(),
                   left = Eigen::AngleAxisd(-lean, Vec3::UnitY()).toRotationMatrix();
        const PosedBody a = put(round, Vec3::Zero(), left), b = put(round, Vec3(119, 0, 0), right);
        const double H = 700;
        const double rho = ((119 / 2.0 + H * std::tan(lean)) * std::cos(lean) - r) / (1 + std::sin(lean));
        const Opening o = widestOpening(order(a, b, 0, H));
        QVERIFY2(std::abs(o.diameter - 2 * rho) <= error + o.error + 0.02,
                 qPrintable(QString("%1 %2").arg(o.diameter).arg(2 * rho)));
        QVERIFY(std::abs(o.centre.z() - (H - rho)) < 0.5);
    }
    // Skew bars, leaning across in opposite directions: nearest where they pass, no wider than their axes' distance
    // less the bars there, and never less than what fits straight through at their feet.
    {
        const Mat3 one = Eigen::AngleAxisd(0.15, Vec3::UnitX()).toRotationMatrix();
        const PosedBody a = put(round, Vec3::Zero(), one), b = put(round, Vec3(119, 0, 0), one.transpose());
        const Opening o = widestOpening(order(a, b, 0, 400));
        QVERIFY(o.diameter >= 99 - error - 0.1);
    }
    // The path's end is a wall.
    {
        const PosedBody b = put(round, Vec3(70, 0, 0));
        OpeningOrder o = order(b, b, 0, 900);
        o.a = nullptr;
        o.footA = Vec3::Zero();
        QVERIFY(std::abs(widestOpening(o).diameter - 60) <= error + 0.02);
    }
}

void TestNear::ballsUnderARail() {
    // Square posts 200 apart, a bar of 20 x 20 across at 80 to 100: below it 80, above it 150 up to the ceiling at 250.
    const BodyPtr post = box(40, 40, 600), rail = box(400, 20, 20);
    const PosedBody a = put(post, Vec3(0, 0, 300)), b = put(post, Vec3(240, 0, 300)), bar = put(rail, Vec3(120, 0, 90));
    OpeningOrder o;
    o.a = &a;
    o.b = &b;
    o.footA = Vec3::Zero();
    o.footB = Vec3(240, 0, 0);
    o.from = 0;
    o.to = 250;
    o.thickness = 40;
    o.more = {&bar};
    QVERIFY2(std::abs(widestOpening(o).diameter - 150) < 0.1, qPrintable(QString::number(widestOpening(o).diameter)));
    o.to = 100;
    QVERIFY(std::abs(widestOpening(o).diameter - 80) < 0.1);
    o.more.clear();
    o.to = 600;
    QVERIFY(std::abs(widestOpening(o).diameter - 200) < 0.1);
}

void TestNear::dominoes() {
    const double h = 48, t = 7;
    const BodyPtr stone = box(t, 24, h);
    const Box3 seated(Vec3(-t / 2, -12, 0), Vec3(t / 2, 12, h));
    for (const double gap : {5.0, 20.0, 40.0, 47.0, 49.0}) {
        const PosedBody a = put(stone, Vec3(0, 0, h / 2)), b = put(stone, Vec3(t + gap, 3, h / 2));
        FallingBody one{&a, {Mat3::Identity(), Vec3::Zero()}, seated},
            two{&b, {Mat3::Identity(), Vec3(t + gap, 3, 0)}, seated};
        const Fall fall = fallOn(one, two);
        QCOMPARE(fall.hits, gap < h);
        if (!fall.hits) continue;
        // Its upper front corner goes round its lower one: it meets the next at sqrt(h^2 - gap^2).
        QVERIFY2(std::abs(fall.share - std::sqrt(h * h - gap * gap) / h) < 1e-3,
                 qPrintable(QString::number(fall.share)));
        QVERIFY(std::abs(fall.angle - std::asin(gap / h)) < 1e-3);
        // The same with their seats half-way up, turned and moved: their own axes count, not those of the world.
        for (FallingBody* s : {&one, &two}) {
            s->frame.seat.z() += h / 2;
            s->seated = Box3(s->seated.min() - Vec3(0, 0, h / 2), s->seated.max() - Vec3(0, 0, h / 2));
        }
        const Mat3 R = someRotation();
        const Vec3 by(300, -70, 40);
        PosedBody c = a, e = b;
        for (PosedBody* s : {&c, &e}) s->at = R * s->at + by, s->turn = R * s->turn;
        FallingBody three = one, four = two;
        three.body = &c, four.body = &e;
        for (FallingBody* s : {&three, &four})
            s->frame.seat = R * s->frame.seat + by, s->frame.axes = R * s->frame.axes;
        const Fall turned = fallOn(three, four);
        QVERIFY(turned.hits && std::abs(turned.angle - fall.angle) < 1e-5 &&
                std::abs(turned.share - fall.share) < 1e-5);
        // Aside counts from the other's middle, wherever its seat is.
        FallingBody off = four;
        off.frame.seat -= off.frame.axes.col(1) * 9;
        off.seated = Box3(off.seated.min() + Vec3(0, 9, 0), off.seated.max() + Vec3(0, 9, 0));
        NEAR(fallOn(three, off).aside, turned.aside, 1e-5);
        QVERIFY(std::abs(turned.aside) < 12 + 1e-5);
    }
}

VICINAL_SUITE(TestNear)

} // namespace test_near
#include "test_near.moc"
