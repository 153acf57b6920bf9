// Part shapes against formulas, meshes that are repaired or refused, outlines seen from the crown, and verdicts.
#include "base/say.h"
#include "clearance/verdict.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include "parts/rails/bent.h"
#include "parts/rails/section.h"
#include "parts/solid/outline.h"
#include "suite.h"
#include "support.h"

namespace test_parts {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// An upright prism over a regular ring, radius r, `hole` of it left open in the middle: its formulas are all closed.
Mesh tube(double r, double hole, double height, int n) {
    Mesh m;
    for (int i = 0; i < n; ++i)
        for (double radius : {r, hole})
            for (double z : {0.0, height}) {
                const double a = i * 2 * kPi / n;
                m.points.push_back({radius * std::cos(a), radius * std::sin(a), z});
            }
    const auto at = [&](int i, int inside, int top) { return std::uint32_t(4 * (i % n) + 2 * inside + top); };
    const auto quad = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t d) {
        m.triangles.push_back({a, b, c});
        m.triangles.push_back({a, c, d});
    };
    for (int i = 0; i < n; ++i) {
        quad(at(i, 0, 0), at(i + 1, 0, 0), at(i + 1, 0, 1), at(i, 0, 1)); // outside
        quad(at(i + 1, 1, 0), at(i, 1, 0), at(i, 1, 1), at(i + 1, 1, 1)); // inside
        quad(at(i, 0, 1), at(i + 1, 0, 1), at(i + 1, 1, 1), at(i, 1, 1)); // top
        quad(at(i + 1, 0, 0), at(i, 0, 0), at(i, 1, 0), at(i + 1, 1, 0)); // bottom
    }
    return m;
}

double ringArea(double r, int n) { return n * r * r * std::sin(2 * kPi / n) / 2; }

double area(const std::vector<Vec2>& ring) {
    double sum = 0;
    for (size_t i = 0; i < ring.size(); ++i) {
        const Vec2 &a = ring[i], &b = ring[(i + 1) % ring.size()];
        sum += a.x() * b.y() - a.y() * b.x();
    }
    return sum / 2;
}

Mesh moved(Mesh m, const Mat3& R, const Vec3& by) {
    m.box = Box3();
    for (auto& p : m.points) m.box.extend(p = R * p + by);
    return m;
}

/// Each triangle with its own points, in another order: what an STL file holds.
Mesh loose(const Mesh& m, unsigned seed) {
    std::mt19937 random(seed);
    Mesh out;
    auto triangles = m.triangles;
    std::shuffle(triangles.begin(), triangles.end(), random);
    for (const auto& t : triangles) {
        const auto k = std::uint32_t(out.points.size());
        for (auto i : t) out.points.push_back(m.points[i]);
        out.triangles.push_back({k, k + 1, k + 2});
    }
    return out;
}

} // namespace

class TestParts : public QObject {
    Q_OBJECT
private slots:
    void returnsSayHowSharpTheyMayBe();
    void looseTrianglesAreJoined();
    void brokenMeshesAreRefused();
    void trianglesTheWrongWayRoundAreTurned();
    void volumeDoesNotDependOnWhereThePartIs();
    void featureEdgesAreThoseOneSees();
    void outlineIsWhatTheCrownSees();
    void verdictsNameTheWorstPlace();
};

void TestParts::looseTrianglesAreJoined() {
    const Mesh whole = tube(50, 30, 80, 40);
    const Mesh joined = *cleaned(loose(whole, 7));
    QCOMPARE(joined.points.size(), whole.points.size());
    QCOMPARE(joined.triangles.size(), whole.triangles.size());
    NEAR(volumeOf(joined), volumeOf(moved(whole, Mat3::Identity(), Vec3::Zero())), 1e-6);
    // Euler: a tube is a torus, so points - edges + faces = 0, and every edge has two faces.
    QCOMPARE(joined.points.size() + joined.triangles.size(), joined.triangles.size() * 3 / 2);
}

void TestParts::brokenMeshesAreRefused() {
    const auto says = [](Mesh m) { return cleaned(std::move(m)) ? std::string() : std::string("refused"); };
    Mesh m = tube(50, 30, 80, 8);
    QCOMPARE(says(m), std::string());
    Mesh none = m;
    none.triangles.clear();
    QVERIFY(cleaned(none).problem().text.find("no triangles") != std::string::npos);
    Mesh nan = m;
    nan.points[3].y() = NAN;
    QVERIFY(cleaned(nan).problem().text.find("not a number") != std::string::npos);
    Mesh outside = m;
    outside.triangles[2][1] = 5000;
    QVERIFY(cleaned(outside).problem().text.find("not there") != std::string::npos);
    Mesh flat = m;
    for (auto& p : flat.points) p = Vec3(1, 2, 3);
    QVERIFY(cleaned(flat).problem().text.find("without area") != std::string::npos);
    // A triangle that collapses is dropped, the others stay.
    Mesh one = m;
    one.triangles[0] = {0, 0, 1};
    QCOMPARE(cleaned(one)->triangles.size(), m.triangles.size() - 1);
}

void TestParts::trianglesTheWrongWayRoundAreTurned() {
    // Of a shell that is closed all face outwards; of an open one the larger part keeps the way it came.
    const Mesh whole = tube(50, 30, 80, 40);
    for (const bool open : {false, true})
        for (const size_t every : {2, 3, 7}) {
            Mesh m = whole;
            if (open) m.triangles.erase(m.triangles.begin(), m.triangles.begin() + 4);
            const size_t n = m.triangles.size();
            size_t turned = 0;
            for (const bool most : {false, true}) {
                Mesh mixed = m;
                turned = 0;
                for (size_t t = 0; t < n; ++t)
                    if ((t % every == 0) != most) {
                        std::swap(mixed.triangles[t][1], mixed.triangles[t][2]);
                        ++turned;
                    }
                MeshReport report;
                const Mesh clean = *cleaned(mixed, &report);
                const bool keeps = open && 2 * turned > n; // as most of them came: the other way round
                if (open && 2 * turned == n) continue;
                QCOMPARE(report.turned, keeps ? n - turned : turned);
                // Each one faces as it did in the whole, or all of them against it.
                Vec3 sum = Vec3::Zero(), was = Vec3::Zero();
                double facing = 0;
                for (size_t t = 0; t < n; ++t) {
                    const auto normal = [&](const Mesh& of) {
                        const auto& c = of.triangles[t];
                        return Vec3((of.points[c[1]] - of.points[c[0]]).cross(of.points[c[2]] - of.points[c[0]]));
                    };
                    facing += normal(clean).dot(normal(m)) > 0 ? 1 : -1;
                    sum += normal(clean), was += normal(m);
                }
                QCOMPARE(facing, keeps ? -double(n) : double(n));
                NEAR((sum - (keeps ? -1 : 1) * was).norm(), 0, 1e-6);
            }
        }
}

void TestParts::volumeDoesNotDependOnWhereThePartIs() {
    const double expected = (ringArea(50, 64) - ringArea(30, 64)) * 80;
    for (double far : {0., 1e6, 1e8}) {
        const Mesh m = *cleaned(moved(tube(50, 30, 80, 64), someRotation(), Vec3(far, -far, far / 2)));
        NEAR(volumeOf(m), expected, 1e-6 * expected + far * 1e-10 * 80 * 300);
    }
}

void TestParts::featureEdgesAreThoseOneSees() {
    QCOMPARE(featureEdges(boxMesh(Box3(Vec3(0, 0, 0), Vec3(1, 2, 3)))).size(), size_t(12));
    // 64 sides turn by under 6 degrees each: four rings show, no upright line. 8 sides turn by 45: they all show.
    QCOMPARE(featureEdges(*cleaned(tube(50, 30, 80, 64))).size(), size_t(4 * 64));
    QCOMPARE(featureEdges(*cleaned(tube(50, 30, 80, 8))).size(), size_t(4 * 8 + 2 * 8));
    // An open border is an edge whatever its angle.
    Mesh sheet;
    sheet.points = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}};
    sheet.triangles = {{0, 1, 2}, {0, 2, 3}};
    QCOMPARE(featureEdges(sheet).size(), size_t(4));
}

void TestParts::outlineIsWhatTheCrownSees() {
    const Mesh m = *cleaned(tube(50, 30, 80, 48));
    const auto rings = outlineFromAbove(m, Seat{BoxPoint{0, 0, 0}, Axis::PlusX, Axis::PlusZ});
    QCOMPARE(rings.size(), size_t(2));
    double sum = 0;
    for (const auto& r : rings) sum += area(r); // the hole counts backwards
    NEAR(sum, ringArea(50, 48) - ringArea(30, 48), 0.05);
    // Lying on its side it covers a rectangle: nose along the tube's axis.
    const auto side = outlineFromAbove(m, Seat{BoxPoint{0, 0, 0}, Axis::PlusZ, Axis::PlusX});
    QCOMPARE(side.size(), size_t(1));
    NEAR(area(side[0]), 80 * 100, 80 * 100 * (1 - std::cos(kPi / 48)) + 0.05);
    Box3 box;
    for (const auto& p : side[0]) box.extend(Vec3(p.x(), p.y(), 0));
    NEAR(box.sizes().x(), 80, 1e-3); // along the nose
    NEAR(box.center().norm(), 0, 1e-3);
    // The outline turns with the seat and not with where the part's own axes are.
    const Mesh far = *cleaned(moved(tube(50, 30, 80, 48), Mat3::Identity(), Vec3(1e6, 2e6, -3e6)));
    const auto again = outlineFromAbove(far, Seat{BoxPoint{0, 0, 0}, Axis::PlusX, Axis::PlusZ});
    QCOMPARE(again.size(), size_t(2));
    NEAR(area(again[0]) + area(again[1]), sum, 0.05);
}

void TestParts::verdictsNameTheWorstPlace() {
    Places p;
    Spacing limits;
    QCOMPARE(judgeGaps(p, limits).mark, Mark::Good); // nothing to measure
    const double clear[] = {90, 97, 60, 120, 95};
    double s = 0;
    for (int i = 0; i < 5; ++i) {
        p.gaps.push_back({i, i + 1, s + 10, s + 10 + clear[i]});
        s += clear[i] + 20;
    }
    QCOMPARE(tightestGap(p), 2);
    QCOMPARE(widestGap(p), 3);
    QCOMPARE(judgeGaps(p, limits).mark, Mark::Good);
    limits.gapAtMost = 99;
    auto v = judgeGaps(p, limits);
    QCOMPARE(v.mark, Mark::Wrong);
    QCOMPARE(v.place, 4);
    QVERIFY(v.text.find("120 mm between places 4 and 5") != std::string::npos);
    limits.gapAtMost = 120; // exactly at the limit is good
    QCOMPARE(judgeGaps(p, limits).mark, Mark::Good);
    limits.gapAtLeast = 60.001;
    v = judgeGaps(p, limits);
    QCOMPARE(v.place, 3);
    QVERIFY(v.text.find("under the limit") != std::string::npos);
    p.gaps[1].end = p.gaps[1].start - 0.5; // overlap is wrong without any limit
    v = judgeGaps(p, Spacing{});
    QCOMPARE(v.mark, Mark::Wrong);
    QVERIFY(v.text.find("overlap by 0.5 mm between places 2 and 3") != std::string::npos);
    p.gaps.erase(p.gaps.begin() + 1);
    p.staleLeftOut = {9};
    QCOMPARE(judgeGaps(p, Spacing{}).mark, Mark::Doubtful);
}

/// A return may bend as sharply as its section reaches towards the bend's middle, and no sharper: half its height up
/// and down, half its width to the sides, whichever way the rail runs.
void TestParts::returnsSayHowSharpTheyMayBe() {
    const auto face = railFace({RailForm::Flat, 44, 30, 0, 0}, nullptr);
    QVERIFY(bool(face));
    const double wide = 44, high = 30;
    for (const Vec3& way : {Vec3(1, 0, 0), Vec3(0, -1, 0), Vec3(3, 1, 0)}) {
        const Path line = pathOf({Line{{0, 0, 0}, 900 * way.normalized()}});
        for (const auto& [to, half] :
             {std::pair{RailReturn::Down, high / 2}, {RailReturn::Left, wide / 2}, {RailReturn::Right, wide / 2}})
            for (const bool start : {false, true}) {
                RailEnds ends;
                (start ? ends.start : ends.end) = RailEnd::Returned;
                ends.to = to;
                ends.leg = 50;
                ends.radius = half - 0.01;
                const auto sharp = bentRail(line, {}, *face, ends);
                QVERIFY(!sharp);
                QCOMPARE(sharp.problem().field, std::string("returnRadius"));
                const std::string most = "its inside needs more than " + say::mm(half) + ".";
                QVERIFY2(sharp.problem().text.find(most) != std::string::npos, sharp.problem().text.c_str());
                // As a solid: its section along the line, a quarter of a turn at that radius, and the leg (Pappus).
                ends.radius = half + 20;
                const auto rail = bentRail(line, {}, *face, ends);
                QVERIFY(bool(rail));
                const double bar = 900 + kPi / 2 * ends.radius + ends.leg;
                NEAR(rail->length, bar, 1e-6);
                NEAR(volumeOf(*rail->body), wide * high * bar, 1e-6 * wide * high * bar);
                NEAR(volumeOf(*rail->body->mesh), wide * high * bar, 1e-3 * wide * high * bar);
            }
    }
}

VICINAL_SUITE(TestParts)

} // namespace test_parts
#include "test_parts.moc"
