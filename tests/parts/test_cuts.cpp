// Cutting plates and bodies: areas, volumes, webs, against closed formulas, OpenCASCADE's booleans and brute force.
#include "geometry/path/path.h"
#include "parts/cuts/flat_cut.h"
#include "parts/cuts/prism.h"
#include "parts/cuts/solid_cut.h"
#include "parts/cuts/webs.h"
#include "parts/makers/maker.h"
#include "parts/solid/outline.h"
#include "suite.h"
#include "support.h"

namespace test_cuts {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Ring circleRing(double x, double y, double r, bool back = false) {
    return {Arc{{x, y, 0}, Vec3::UnitX(), Vec3::UnitY(), r, back ? -2 * kPi : 2 * kPi}};
}
Ring polygonRing(const std::vector<Vec2>& corners) {
    Ring out;
    for (size_t i = 0; i < corners.size(); ++i) {
        const Vec2 &a = corners[i], &b = corners[(i + 1) % corners.size()];
        out.push_back(Line{{a.x(), a.y(), 0}, {b.x(), b.y(), 0}});
    }
    return out;
}
Ring box(double x0, double y0, double x1, double y1) { return polygonRing({{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}); }
/// A slot with round ends, turned.
Ring slot(double x, double y, double length, double r, double turn) {
    Ring out{
        Line{{-length / 2, -r, 0}, {length / 2, -r, 0}}, Arc{{length / 2, 0, 0}, -Vec3::UnitY(), Vec3::UnitX(), r, kPi},
        Line{{length / 2, r, 0}, {-length / 2, r, 0}}, Arc{{-length / 2, 0, 0}, Vec3::UnitY(), -Vec3::UnitX(), r, kPi}};
    const Mat3 R = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
    for (Segment& s : out) s = moved(s, R, Vec3(x, y, 0));
    return out;
}
/// A closed spline round (x, y).
Ring blob(std::mt19937& rng, double x, double y, double r) {
    std::uniform_real_distribution<double> off(0.6, 1.4);
    std::vector<Vec3> points;
    for (int k = 0; k < 7; ++k) {
        const double a = 2 * kPi * k / 7, d = r * off(rng);
        points.push_back({x + d * std::cos(a), y + d * std::sin(a), 0});
    }
    const bool smooth[7] = {true, true, true, true, true, true, true};
    return throughPoints(points, smooth, true);
}
double areaLeft(const FlatCut& c) {
    double out = 0;
    for (const Ring& r : c.rings) out += areaOf(r);
    return out;
}

} // namespace

class TestCuts : public QObject {
    Q_OBJECT
private slots:
    void areasOfRings() {
        QVERIFY(std::abs(areaOf(circleRing(300, -20, 25)) - kPi * 625) < 1e-9);
        QVERIFY(std::abs(areaOf(circleRing(300, -20, 25, true)) + kPi * 625) < 1e-9);
        QVERIFY(std::abs(areaOf(slot(10, 20, 50, 6, 0.7)) - (50 * 12 + kPi * 36)) < 1e-9);
        const Ring ellipse{ellipseArc({5, 6, 0}, {30, 10, 0}, {-5, 15, 0}, 0, 2 * kPi)};
        QVERIFY(std::abs(areaOf(ellipse) - kPi * (30 * 15 + 10 * 5)) < 1e-6);
    }

    void holesThatTouchNothingStayAsTheyAre() {
        const std::vector<Ring> plate{box(0, 0, 1000, 600)};
        std::vector<Ring> tools;
        for (int i = 0; i < 30; ++i)
            for (int k = 0; k < 18; ++k) tools.push_back(circleRing(25 + 32.0 * i, 25 + 32.0 * k, 12, (i + k) % 2));
        tools.push_back(circleRing(2000, 300, 12));
        const auto cut = cutFlat(plate, tools);
        QVERIFY(bool(cut));
        QCOMPARE(cut->missed, std::vector<size_t>{540});
        QCOMPARE(cut->whole.size(), size_t(540));
        QVERIFY(std::abs(areaLeft(*cut) - (600'000 - 540 * kPi * 144)) < 1e-6);
        const BodyPtr body = bodyOf(Prism{cut->rings, Mat3::Identity(), -10, 0});
        for (const MeshEdge& e : edgesOf(*body->mesh).edges) QCOMPARE(e.triangles, 2u);
        const auto solid = solidOf(*body);
        QVERIFY(solid != nullptr);
        QVERIFY(std::abs(volumeOf(*solid) / (10 * areaLeft(*cut)) - 1) < 1e-9);
        QCOMPARE(faceCount(*solid), 6 + 540);
        const Outline seen = outlineOf(*body, Seat());
        QVERIFY(seen.exact);
        QCOMPARE(seen.rings.size(), size_t(541));
        QVERIFY(std::abs(seen.area - areaLeft(*cut)) < 1e-6);
        for (const Ring& r : seen.rings)
            if (r.size() == 1) QVERIFY(std::holds_alternative<Arc>(r[0])); // true arcs for cutting machines
    }

    void halfHolesAndLensesByClosedForm() {
        const std::vector<Ring> plate{box(0, 0, 400, 200)};
        {
            const Ring tools[] = {circleRing(100, 0, 30), circleRing(0, 200, 20), circleRing(400, 100, 30)};
            const auto cut = cutFlat(plate, tools);
            QVERIFY(bool(cut));
            QCOMPARE(cut->overEdge, (std::vector<size_t>{0, 1, 2}));
            QVERIFY(std::abs(areaLeft(*cut) - (80'000 - kPi * 450 - kPi * 100 - kPi * 450)) < 1e-6);
        }
        {
            const Ring tools[] = {circleRing(100, 100, 30), circleRing(140, 100, 30)};
            const auto cut = cutFlat(plate, tools);
            QVERIFY(bool(cut));
            const double lens = 2 * 900 * std::acos(20.0 / 30) - 20 * std::sqrt(4 * 900 - 40.0 * 40);
            QVERIFY(std::abs(areaLeft(*cut) - (80'000 - 2 * kPi * 900 + lens)) < 1e-6);
            QCOMPARE(cut->together, (std::vector<std::pair<size_t, size_t>>{{0, 1}}));
            QCOMPARE(cut->rings.size(), size_t(2));
        }
        { // slots whose circles overlap touch nothing: each is a hole as it is
            std::vector<Ring> tools;
            for (int i = 0; i < 8; ++i) tools.push_back(slot(60 + 40.0 * i, 100, 100, 8, kPi / 2));
            tools.push_back(slot(200, 2, 60, 8, 0)); // but this one is over the edge
            const auto cut = cutFlat(plate, tools);
            QVERIFY(bool(cut));
            QCOMPARE(cut->whole.size(), size_t(8));
            QCOMPARE(cut->overEdge, std::vector<size_t>{8});
            for (size_t i = 0; i < 8; ++i) QVERIFY(std::abs(areaOf(cut->rings[i]) + 100 * 16 + kPi * 64) < 1e-9);
        }
        { // one within the other; the same twice
            const Ring tools[] = {circleRing(100, 100, 30), circleRing(105, 100, 10), circleRing(300, 100, 15),
                                  circleRing(300, 100, 15)};
            const auto cut = cutFlat(plate, tools);
            QVERIFY(bool(cut));
            QVERIFY2(std::abs(areaLeft(*cut) - (80'000 - kPi * 900 - kPi * 225)) < 1e-6,
                     qPrintable(QString::number(areaLeft(*cut), 'g', 12)));
        }
    }

    /// Between an arc and its chord it is inside, however the arc is cut into pieces.
    void holesInTheBulgeOfAnArc() {
        const std::vector<Ring> half{
            Ring{Arc{Vec3::Zero(), -Vec3::UnitY(), Vec3::UnitX(), 100, kPi}, Line{{0, 100, 0}, {0, -100, 0}}}};
        std::vector<Ring> tools;
        for (double a : {-70.0, -45.0, -20.0, 20.0, 45.0, 70.0})
            tools.push_back(circleRing(94 * std::cos(a * kDegree), 94 * std::sin(a * kDegree), 2));
        tools.push_back(circleRing(-5, 0, 2));
        const auto cut = cutFlat(half, tools);
        QVERIFY(bool(cut));
        QCOMPARE(cut->missed, std::vector<size_t>{6});
        QVERIFY(std::abs(areaLeft(*cut) - (kPi * 5000 - 6 * kPi * 4)) < 1e-6);
        // Inside the circle, but not between its chord and its arc.
        const std::vector<Ring> segment{
            Ring{Arc{Vec3::Zero(), Vec3::UnitX(), Vec3::UnitY(), 100, kPi / 2}, Line{{0, 100, 0}, {100, 0, 0}}}};
        const Ring two[] = {circleRing(60, 60, 4), circleRing(20, 20, 4)};
        const auto part = cutFlat(segment, two);
        QVERIFY(bool(part));
        QCOMPARE(part->missed, std::vector<size_t>{1});
        QVERIFY(std::abs(areaLeft(*part) - (kPi * 2500 - 5000 - kPi * 16)) < 1e-6);
    }

    void edgesThatLieOnOneAnother() {
        const std::vector<Ring> plate{box(0, 0, 400, 200)};
        const auto left = [&](std::vector<Ring> tools) {
            const auto cut = cutFlat(plate, tools);
            if (!cut) return -1.0;
            return areaLeft(*cut);
        };
        QVERIFY(std::abs(left({box(100, 0, 150, 50)}) - 77'500) < 1e-6);  // a notch flush with the edge
        QVERIFY(std::abs(left({box(100, -50, 150, 0)}) - 80'000) < 1e-6); // touches along the edge, outside
        QVERIFY(std::abs(left({box(100, 50, 150, 80), box(150, 50, 180, 80)}) - 77'600) < 1e-6); // side by side
        QVERIFY(std::abs(left({box(100, 50, 150, 80), box(100, 50, 150, 90)}) - 78'000) < 1e-6); // on three edges
        QVERIFY(std::abs(left({box(0, 0, 50, 50), box(350, 150, 400, 200)}) - 75'000) < 1e-6);   // corners
        QVERIFY(std::abs(left({circleRing(100, 30, 30)}) - (80'000 - kPi * 900)) < 1e-6);        // touches at a point
        QVERIFY(std::abs(left({circleRing(100, -30, 30)}) - 80'000) < 1e-6);
        QVERIFY(std::abs(left({box(-10, 90, 410, 110)}) - 72'000) < 1e-6); // two pieces
        const Ring all[] = {box(-1, -1, 401, 201)};
        const auto none = cutFlat(plate, all);
        QVERIFY(!none);
        QCOMPARE(none.problem().field, std::string("run"));
        const Ring same[] = {box(0, 0, 400, 200)};
        QVERIFY(!cutFlat(plate, same));
    }

    /// Random holes, slots and free curves over plates with holes: the area is OpenCASCADE's.
    void randomCutsAgreeWithTrueBooleans() {
        std::mt19937 rng(20261127);
        const auto real = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(rng); };
        for (int round = 0; round < 40; ++round) {
            std::vector<Ring> plate{round % 3 == 0 ? circleRing(200, 150, 180)
                                    : round % 3 == 1
                                        ? box(0, 0, 400, 300)
                                        : polygonRing({{0, 0}, {400, 20}, {360, 300}, {200, 180}, {30, 280}})};
            plate.push_back(round % 2 ? circleRing(200, 130, 40) : slot(200, 120, 60, 20, 0.3));
            std::vector<Ring> tools;
            const int count = 3 + round % 12;
            for (int i = 0; i < count; ++i) {
                const double x = real(-20, 420), y = real(-20, 320), r = real(8, 45);
                switch (rng() % 4) {
                case 0: tools.push_back(circleRing(x, y, r, rng() % 2)); break;
                case 1: tools.push_back(slot(x, y, 2 * r, r / 2, real(0, kPi))); break;
                case 2: tools.push_back(polygonRing({{x, y}, {x + r, y + r / 3}, {x + r / 2, y + 1.4 * r}})); break;
                default: tools.push_back(blob(rng, x, y, r));
                }
            }
            const auto cut = cutFlat(plate, tools);
            QVERIFY2(bool(cut), cut ? "" : cut.problem().text.c_str());
            const auto before = extruded(plate, 0, 7);
            QVERIFY(bool(before));
            std::vector<Tool> solids;
            for (const Ring& t : tools) {
                const auto solid = extruded(std::span(&t, 1), -3, 11);
                QVERIFY(bool(solid));
                solids.push_back({*solid});
            }
            const auto body = bodyOf(*before);
            std::vector<size_t> missed;
            const auto oracle = cutSolid(**body, solids, false, missed);
            QVERIFY(bool(oracle));
            const double own = 7 * areaLeft(*cut), theirs = volumeOf(**oracle);
            QVERIFY2(
                std::abs(own - theirs) < 1e-5 * theirs,
                qPrintable(QString("round %1: %2 for %3").arg(round).arg(own, 0, 'g', 12).arg(theirs, 0, 'g', 12)));
            const auto names = [](const std::vector<size_t>& all) {
                QString out;
                for (size_t i : all) out += QString(" %1").arg(i);
                return out;
            };
            // One that lies in others takes nothing away by itself: OpenCASCADE calls that missed, too.
            for (size_t k = 0; k < tools.size(); ++k) {
                const bool ours = std::count(cut->missed.begin(), cut->missed.end(), k),
                           theirs_ = std::count(missed.begin(), missed.end(), k);
                const bool in = std::any_of(cut->together.begin(), cut->together.end(),
                                            [&](const auto& p) { return p.first == k || p.second == k; });
                QVERIFY2(ours == theirs_ || (theirs_ && in),
                         qPrintable(QString("round %1:").arg(round) + names(cut->missed) + " for" + names(missed)));
            }
            // What is left closes up, does not cross itself, and makes a body.
            const BodyPtr left = bodyOf(Prism{cut->rings, Mat3::Identity(), 0, 7});
            QVERIFY(std::abs(volumeOf(*left->mesh) / own - 1) < 0.01);
            const auto solid = solidOf(*left);
            QVERIFY(solid != nullptr);
            QVERIFY(std::abs(volumeOf(*solid) - own) < 1e-6 * own);
        }
    }

    void prismsAreFoundWhereverTheyStand() {
        const Mat3 R = Eigen::AngleAxisd(0.8, Vec3(1, 2, 3).normalized()).toRotationMatrix();
        const Ring rings[] = {box(0, 0, 300, 100), circleRing(50, 50, 20), slot(200, 50, 40, 10, 0.4)};
        const auto solid = extruded(rings, 5, 17);
        QVERIFY(bool(solid));
        const auto body = bodyOf(moved(*solid, R, {100, 200, 300}));
        const auto prism = prismOf(**body);
        QVERIFY(prism.has_value());
        QCOMPARE(prism->rings.size(), size_t(3));
        QVERIFY(std::abs(prism->to - prism->from - 12) < 1e-9);
        QVERIFY(std::abs(areaInside(prism->rings) - (30'000 - kPi * 400 - 40 * 20 - kPi * 100)) < 1e-6);
        QVERIFY(std::abs(std::abs(prism->axes.col(2).dot(R.col(2))) - 1) < 1e-9);
        const BodyPtr again = bodyOf(*prism);
        for (int k = 0; k < 3; ++k) {
            QVERIFY(std::abs(again->mesh->box.min()[k] - (*body)->mesh->box.min()[k]) < 0.5);
            QVERIFY(std::abs(again->mesh->box.max()[k] - (*body)->mesh->box.max()[k]) < 0.5);
        }
        // Moved and made larger it is still one.
        const BodyPtr larger = moved(again, R, {10, 20, 30}, 2);
        QVERIFY(larger->prism != nullptr);
        QVERIFY(std::abs(areaInside(larger->prism->rings) * (larger->prism->to - larger->prism->from) /
                             (8 * 12 * areaInside(prism->rings)) -
                         1) < 1e-9);
        const BodyPtr fresh = bodyOf(*larger->prism);
        QVERIFY((fresh->mesh->box.min() - larger->mesh->box.min()).norm() < 1e-6);
        // No prism: rounded all over, or stepped.
        const auto ball = bodyOf(moved(*solid, R, Vec3::Zero()));
        std::vector<size_t> missed;
        const Tool step[] = {{ToolPrism{std::make_shared<const std::vector<Ring>>(1, circleRing(0, 0, 5)), R,
                                        R * Vec3(20, 20, 17), 1, -4, 10}}};
        const auto stepped = cutSolid(**ball, step, false, missed);
        QVERIFY(bool(stepped) && missed.empty());
        QVERIFY(!prismOf(**stepped));
    }

    /// One hole has no area to share out, holes in a line hardly more: it ends, with the nearest edge or neighbour.
    void websOfFewHoles() {
        const std::vector<Ring> edge{box(0, 0, 800, 600)};
        for (const double r : {0.5, 10.0, 200.0}) {
            const auto one = websOf(std::vector<Ring>{circleRing(300, 220, r, false)}, edge);
            QCOMPARE(one.size(), size_t(1));
            QVERIFY(std::abs(one[0].width - (220 - r)) < 1e-9);
            QCOMPARE(one[0].other, Web::kEdge);
        }
        for (const size_t n : {2, 3, 9}) {
            std::vector<Ring> line;
            for (size_t i = 0; i < n; ++i) line.push_back(circleRing(100 + 60 * double(i), 300, 20, false));
            const auto webs = websOf(line, edge);
            QCOMPARE(webs.size(), n);
            for (const Web& w : webs) QVERIFY(std::abs(w.width - 20) < 1e-9);
        }
        // The edge in a thousand small pieces, far away.
        std::vector<Vec2> far;
        for (int i = 0; i < 1000; ++i)
            far.push_back(1e5 * Vec2(std::cos(2 * kPi * i / 1000), std::sin(2 * kPi * i / 1000)));
        const auto lone = websOf(std::vector<Ring>{circleRing(0, 0, 1, false)}, std::vector<Ring>{polygonRing(far)});
        QVERIFY(std::abs(lone[0].width - (1e5 * std::cos(kPi / 1000) - 1)) < 1e-3);
    }
    void websAgainstBruteForce() {
        std::mt19937 rng(7);
        const auto real = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(rng); };
        for (int round = 0; round < 8; ++round) {
            std::vector<Ring> holes, edge{box(-60, -60, 860, 660)};
            if (round % 2) edge = {slot(400, 300, 500, 420, 0)};
            for (int i = 0; i < 8; ++i)
                for (int k = 0; k < 6; ++k) {
                    const double x = 100 * i + real(0, 30), y = 100 * k + real(0, 30);
                    switch (round % 4 == 3 ? 3 : rng() % 3) {
                    case 0: holes.push_back(circleRing(x + 20, y + 20, real(5, 30), rng() % 2)); break;
                    case 1: holes.push_back(slot(x + 20, y + 20, real(5, 30), real(4, 15), real(0, kPi))); break;
                    case 2: holes.push_back(box(x, y, x + real(10, 50), y + real(10, 50))); break;
                    default: holes.push_back(blob(rng, x + 20, y + 20, 20));
                    }
                }
            std::vector<std::vector<Vec2>> lines;
            for (const Ring& h : holes) lines.push_back(cornersOf(h, 1e-3));
            std::vector<Vec2> border = cornersOf(edge[0], 1e-3);
            const auto toSegment = [](const Vec2& p, const Vec2& a, const Vec2& b) {
                const double t = std::clamp((p - a).dot(b - a) / (b - a).squaredNorm(), 0.0, 1.0);
                return (a + t * (b - a) - p).norm();
            };
            const auto between = [&](const std::vector<Vec2>& a, const std::vector<Vec2>& b) {
                double out = 1e300;
                for (int turn = 0; turn < 2; ++turn) {
                    const auto &x = turn ? b : a, &y = turn ? a : b;
                    for (const Vec2& p : x)
                        for (size_t k = 0; k < y.size(); ++k)
                            out = std::min(out, toSegment(p, y[k], y[(k + 1) % y.size()]));
                }
                return out;
            };
            const auto webs = websOf(holes, edge);
            QCOMPARE(webs.size(), holes.size());
            for (size_t i = 1; i < webs.size(); ++i) QVERIFY(webs[i - 1].width <= webs[i].width);
            for (size_t w = 0; w < webs.size(); w += 11) {
                const size_t i = webs[w].hole;
                double best = between(lines[i], border);
                for (size_t k = 0; k < holes.size(); ++k)
                    if (k != i) best = std::min(best, between(lines[i], lines[k]));
                QVERIFY2(
                    std::abs(webs[w].width - best) < 3e-3,
                    qPrintable(QString("round %1 hole %2: %3 for %4").arg(round).arg(i).arg(webs[w].width).arg(best)));
                QVERIFY(std::abs((webs[w].to - webs[w].from).norm() - webs[w].width) < 1e-9);
            }
        }
        const Ring two[] = {circleRing(0, 0, 10), circleRing(50, 0, 15)};
        const auto webs = websOf(two, {});
        QVERIFY(std::abs(webs[0].width - 25) < 1e-12 && std::abs(webs[1].width - 25) < 1e-12);
    }

    void trueBooleansCutAndRaise() {
        const Ring rings[] = {box(0, 0, 200, 100)};
        const auto body = bodyOf(*extruded(rings, 0, 20));
        const auto ring = std::make_shared<const std::vector<Ring>>(1, circleRing(0, 0, 8));
        const Mat3 slanted = Eigen::AngleAxisd(30 * kDegree, Vec3::UnitY()).toRotationMatrix();
        std::vector<Tool> tools{{ToolPrism{ring, slanted, {60, 50, 20}, 1, -200, 200}},
                                {ToolPrism{ring, Mat3::Identity(), {140, 50, 20}, 1, -5, 10}},
                                {ToolPrism{ring, Mat3::Identity(), {500, 50, 20}, 1, -5, 10}}};
        std::vector<size_t> missed;
        const auto cut = cutSolid(**body, tools, false, missed);
        QVERIFY(bool(cut));
        QCOMPARE(missed, std::vector<size_t>{2});
        const double slant = kPi * 64 * 20 / std::cos(30 * kDegree), pocket = kPi * 64 * 5;
        QVERIFY2(std::abs(volumeOf(**cut) - (400'000 - slant - pocket)) < 1e-3,
                 qPrintable(QString::number(volumeOf(**cut), 'f', 4)));
        tools.resize(2);
        tools.erase(tools.begin());
        std::get<ToolPrism>(tools[0].shape).from = 0;
        missed.clear();
        const auto raised = cutSolid(**body, tools, true, missed);
        QVERIFY(bool(raised));
        QVERIFY(std::abs(volumeOf(**raised) - (400'000 + kPi * 64 * 10)) < 1e-3);
        QCOMPARE(solidCount(*solidOf(**raised)), 1);
        Stop stop = true;
        QVERIFY(!cutSolid(**body, tools, true, missed, &stop));
    }
};

VICINAL_SUITE(TestCuts)

} // namespace test_cuts
#include "test_cuts.moc"
