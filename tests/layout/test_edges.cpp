// The edges of rules: met exactly, one place, the last place, ties, and what is blamed. Each was once changed without a
// test noticing.
#include "clearance/verdict.h"
#include "geometry/curves/offset.h"
#include "geometry/wheels/wheels.h"
#include "layout/places.h"
#include "layout/rules.h"
#include "layout/spacing/rules.h"
#include "suite.h"

namespace test_edges {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const Box3 kBox(Vec3(-10, -10, 0), Vec3(10, 10, 100));
Places placed(const Path& p, const Spacing& s, std::vector<int> leftOut = {}, Facing f = {}) {
    const auto r = place(p, {s, f, Seat{}, kBox, std::move(leftOut), Box3(Vec3(-10, -10, 0), Vec3(10, 10, 100))});
    if (!r) qFatal("%s", r.problem().text.c_str());
    return *r;
}
Mat3 frameAt(const Path& p, double s, Facing f) {
    Mat3 out;
    faceAt(p, std::span(&s, 1), f, Mat3::Identity(), [&](size_t, const Vec3&, const Vec3&, const Mat3& R) { out = R; });
    return out;
}
std::string blamed(const Path& p, const Spacing& s) {
    const Occupancy part(p, {}, Mat3::Identity(), kBox);
    const auto r = solveSpacing(p, s, part);
    return r ? "" : r.problem().field;
}

} // namespace

class TestEdges : public QObject {
    Q_OBJECT
private slots:
    void firstAndLastPlaceCanBeLeftOut();
    void onePlaceOnAClosedPath();
    void gapsOverTheSeam();
    void limitsMetExactly();
    void ties();
    void blamedInsets();
    void lastPlaceOnTheEnd();
    void verdictNamesThePlace();
    void seatsThatLean();
    void steepStretchesBlend();
    void exactOppositesTurnLeft();
    void doublingBackIsACorner();
    void cornerRules();
    void carriedCrownIsExactBetweenPieces();
    void wheelsAtTheirLimits();
    void sharpCornersEndAtFourTimes();
    void offsetDistance();
    void helixDerivatives();
    void swagsAndFilletsAtTheirLimits();
    void slidesWrap();
};

void TestEdges::firstAndLastPlaceCanBeLeftOut() {
    const Path p = straight(900);
    for (int n : {1, 4}) {
        const Places all = placed(p, shareOut(4), {n});
        QCOMPARE(all.present, 3);
        QVERIFY(all.leftOut(size_t(n) - 1));
        QCOMPARE(all.gaps.size(), size_t(2));
        QVERIFY(all.staleLeftOut.empty());
    }
    QCOMPARE(placed(p, shareOut(4), {5}).staleLeftOut, std::vector<int>{5});
    QCOMPARE(placed(p, shareOut(4), {0}).staleLeftOut, std::vector<int>{0});
    QCOMPARE(placed(p, shareOut(4), {1, 2, 3, 4}).gaps.size(), size_t(0));
    const Places middle = placed(p, shareOut(4), {2});
    NEAR(middle.gaps[0].clear(), 600 - 20, 1e-9);
}

void TestEdges::onePlaceOnAClosedPath() {
    const Places one = placed(roundPath(1000), shareOut(1));
    QCOMPARE(one.count(), size_t(1));
    QCOMPARE(one.gaps.size(), size_t(1)); // it is its own neighbour
    NEAR(one.gaps[0].clear(), 980, 1e-9);
    QCOMPARE(placed(straight(1000), shareOut(1)).gaps.size(), size_t(0));
    NEAR(placed(straight(1000), shareOut(1)).stations()[0], 500, 1e-9);
}

void TestEdges::gapsOverTheSeam() {
    Spacing s = shareOut(4);
    s.slide = 900;
    const Places p = placed(roundPath(1000), s);
    QCOMPARE(p.gaps.size(), size_t(4));
    for (const Gap& g : p.gaps) NEAR(g.clear(), 230, 1e-9);
    QCOMPARE(p.gaps.back().from, 3);
    QCOMPARE(p.gaps.back().to, 0);
    const Places open = placed(roundPath(1000), s, {1});
    QCOMPARE(open.gaps.size(), size_t(3));
    NEAR(open.gaps.back().clear(), 480, 1e-9);
}

void TestEdges::limitsMetExactly() {
    Spacing s = shareOut(11); // pitch 100, clear 80
    s.gapAtMost = 80;
    s.gapAtLeast = 80;
    QCOMPARE(int(judgeGaps(placed(straight(1000), s), s).mark), int(Mark::Good));
    s.gapAtMost = 79.9;
    s.gapAtLeast.reset();
    QCOMPARE(int(judgeGaps(placed(straight(1000), s), s).mark), int(Mark::Wrong));
    s.gapAtMost.reset();
    s.gapAtLeast = 80.1;
    QCOMPARE(int(judgeGaps(placed(straight(1000), s), s).mark), int(Mark::Wrong));
    // Even out keeps a limit that its wanted count meets exactly.
    Spacing even = evenOut(100);
    even.gapAtMost = 80;
    QCOMPARE(placed(straight(1000), even).count(), size_t(11));
    even.gapAtMost.reset();
    even.gapAtLeast = 80;
    QCOMPARE(placed(straight(1000), even).count(), size_t(11));
    // Parts that touch are good, a hair of overlap is not.
    Spacing touch = shareOut(51);
    QCOMPARE(int(judgeGaps(placed(straight(1000), touch), touch).mark), int(Mark::Good));
    Spacing threes; // what was wished for counts, in a run and in every bay
    threes.rule = ShareOut{6};
    threes.multiple = 3;
    QCOMPARE(int(judgeGaps(placed(straight(1000), threes), threes).mark), int(Mark::Good));
    threes.rule = ShareOut{5};
    const Verdict none = judgeGaps(placed(straight(1000), threes), threes);
    QVERIFY2(none.mark == Mark::Wrong && none.text.find("5 places are no multiple of 3.") != std::string::npos,
             none.text.c_str());
    QCOMPARE(int(judgeGaps(placed(straight(999.999), touch), touch).mark), int(Mark::Wrong));
}

void TestEdges::ties() {
    Spacing s = evenOut(500); // 1200 in 2 or 3: 600 and 400 are as far from 500; the fewer parts win
    QCOMPARE(placed(straight(1200), s).count(), size_t(3));
    QCOMPARE(placed(roundPath(1200), s).count(), size_t(2));
    s = evenOut(499.9);
    QCOMPARE(placed(straight(1200), s).count(), size_t(4));
    s = evenOut(500.1);
    QCOMPARE(placed(straight(1200), s).count(), size_t(3));
}

void TestEdges::blamedInsets() {
    Spacing s = shareOut(3);
    s.insetStart = 1000, s.insetEnd = 0;
    QCOMPARE(blamed(straight(1000), s), std::string("insetStart"));
    s.insetStart = 0, s.insetEnd = 1000;
    QCOMPARE(blamed(straight(1000), s), std::string("insetEnd"));
    s.insetStart = 300, s.insetEnd = 700;
    QCOMPARE(blamed(straight(1000), s), std::string("insetEnd"));
    s.insetStart = 600, s.insetEnd = 500;
    QCOMPARE(blamed(straight(1000), s), std::string("insetStart"));
    s.insetStart = 499, s.insetEnd = 500;
    QCOMPARE(blamed(straight(1000), s), std::string(""));
    s.insetStart = -1e-9;
    QCOMPARE(blamed(straight(1000), s), std::string("insetStart"));
}

void TestEdges::lastPlaceOnTheEnd() {
    for (double pitch : {0.1, 1.0 / 3, 7.0, 123.456}) {
        const Places p = placed(straight(pitch * 20), stepOff(pitch));
        QCOMPARE(p.count(), size_t(21));
        QVERIFY(p.stations().back() <= pitch * 20); // never a hair beyond the end
        NEAR(p.stations().back(), pitch * 20, 1e-9);
        NEAR(p.laid->leftOver, 0, 1e-9);
    }
    Spacing s = stepOff(100);
    QCOMPARE(placed(straight(99.9999999999), s).count(), size_t(2)); // a pitch as long as the path
    QCOMPARE(placed(straight(1999), s).count(), size_t(20));
    s = stepOff(100, LeftOver::AtStart);
    NEAR(placed(straight(1999), s).stations().front(), 99, 1e-9);
    s = stepOff(100, LeftOver::Both);
    NEAR(placed(straight(1999), s).stations().front(), 49.5, 1e-9);
}

void TestEdges::verdictNamesThePlace() {
    // A part that is too near is shown at the later one of the two; a gap too wide likewise.
    Places p = placed(straight(1000), shareOut(11));
    p.gaps[6].end = p.gaps[6].start - 3;
    const Verdict overlap = judgeGaps(p, {});
    QCOMPARE(overlap.place, 7);
    QVERIFY2(overlap.text.find("places 7 and 8") != std::string::npos, overlap.text.c_str());
    QVERIFY(overlap.text.find("3 mm") != std::string::npos);
    Places wide = placed(straight(1000), shareOut(11), {4});
    Spacing s;
    s.gapAtMost = 100;
    const Verdict v = judgeGaps(wide, s);
    QCOMPARE(v.place, 4);
    QVERIFY2(v.text.find("places 3 and 5") != std::string::npos, v.text.c_str());
    QCOMPARE(tightestGap(p), 6);
    QCOMPARE(widestGap(wide), 2);
    Places stale = placed(straight(1000), shareOut(3), {8});
    QCOMPARE(int(judgeGaps(stale, {}).mark), int(Mark::Doubtful));
}

void TestEdges::seatsThatLean() {
    Seat s;
    s.crown = Vec3(Vec3(0.3, 0, 1)); // leans forward: made square to the nose
    const Mat3 R = seatRotation(s);
    NEAR((R * R.transpose() - Mat3::Identity()).norm(), 0, 1e-12);
    NEAR((R * Vec3(1, 0, 0) - Vec3(1, 0, 0)).norm(), 0, 1e-12);
    NEAR((R * Vec3(0, 0, 1) - Vec3(0, 0, 1)).norm(), 0, 1e-12);
    QVERIFY(!defectOf(s));
    s.crown = Vec3(Vec3(std::cos(1.1 * kDegree), 0, std::sin(1.1 * kDegree)));
    QVERIFY(!defectOf(s));
    s.crown = Vec3(Vec3(std::cos(0.5 * kDegree), 0, std::sin(0.5 * kDegree)));
    QCOMPARE(defectOf(s)->field, std::string("crown"));
    s.crown = Vec3(Vec3(-std::cos(0.9 * kDegree), 0, std::sin(0.9 * kDegree))); // against it, too
    QCOMPARE(defectOf(s)->field, std::string("crown"));
}

void TestEdges::steepStretchesBlend() {
    // Up an arc, straight up a wall, over into another heading: in the middle of the wall half of the turn, at a
    // quarter of it the smooth step of a quarter.
    const double r = 1000;
    const std::vector<Segment> wall{Arc{{-r, 0, r}, -Vec3::UnitZ(), Vec3::UnitX(), r, kPi / 2},
                                    Line{{0, 0, r}, {0, 0, 5 * r}},
                                    Arc{{0, r, 5 * r}, -Vec3::UnitY(), Vec3::UnitZ(), r, kPi / 2}};
    const Path p = pathOf(wall);
    QCOMPARE(p.steepStretches().size(), size_t(1));
    const auto& z = p.steepStretches()[0];
    NEAR(z.from, 0, 0.02);
    NEAR(z.to, kPi / 2, 0.02);
    for (double x : {0.0, 0.25, 0.5, 0.9, 1.0}) {
        const double s = z.start + x * (z.end - z.start), heading = z.from + (z.to - z.from) * x * x * (3 - 2 * x);
        for (CrownRule rule : {CrownRule(Plumb{}), CrownRule(Upright{})}) {
            Facing f;
            f.crown = rule;
            const Mat3 R = frameAt(p, s, f);
            const Vec3 side = R.col(1);
            NEAR((side - Vec3(-std::sin(heading), std::cos(heading), 0)).norm(), 0,
                 rule == CrownRule(Plumb{}) ? 1e-6 : 0.02);
            NEAR((R.transpose() * R - Mat3::Identity()).norm(), 0, 1e-9);
        }
    }
}

void TestEdges::exactOppositesTurnLeft() {
    // Up and back over the top: the headings before and after are opposite; the turn is pi to the left, whatever noise.
    const double r = 500;
    for (double noise : {0.0, 1e-9, -1e-9}) {
        const Vec3 x(std::cos(noise), std::sin(noise), 0);
        const Path p =
            pathOf({Arc{{0, 0, 0}, -Vec3::UnitZ(), x, r, kPi / 2}, Line{r * x, Vec3(r * x + Vec3(0, 0, 800))},
                    Arc{Vec3(0, 0, 800), x, Vec3::UnitZ(), r, kPi / 2}});
        QCOMPARE(p.steepStretches().size(), size_t(1));
        NEAR(p.steepStretches()[0].to - p.steepStretches()[0].from, kPi, 1e-6);
    }
}

void TestEdges::doublingBackIsACorner() {
    const Path p = pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {20, 0, 0}}});
    QCOMPARE(p.corners().size(), size_t(1));
    NEAR(p.corners()[0].station, 100, 1e-9);
    QCOMPARE(pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {200, 0.005, 0}}}).corners().size(), size_t(0));
    QCOMPARE(pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {200, 0.02, 0}}}).corners().size(), size_t(1));
    // A part that stands there faces along the leg after it: there is no way between two opposites.
    NEAR((frameAt(p, 100, {}).col(0) - Vec3(-1, 0, 0)).norm(), 0, 1e-9);
}

void TestEdges::cornerRules() {
    const Path p = pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {100, 100, 0}}});
    for (auto [rule, heading] :
         {std::pair{CornerRule::Bisector, kPi / 4}, {CornerRule::LegBefore, 0.0}, {CornerRule::LegAfter, kPi / 2}}) {
        Facing f;
        f.corner = rule;
        NEAR(anglesOf(frameAt(p, 100, f)).heading, heading, 1e-12);
        NEAR(anglesOf(frameAt(p, 100 - 2e-6, f)).heading, 0, 1e-12);
        NEAR(anglesOf(frameAt(p, 100 + 2e-6, f)).heading, kPi / 2, 1e-12);
    }
}

void TestEdges::carriedCrownIsExactBetweenPieces() {
    // Against many small steps of the same double reflection, at stations inside the pieces of the table.
    for (unsigned seed : {3u, 8u}) {
        const Path p = spline(randomPoints(seed, 9, 500));
        const int n = 400'000;
        std::vector<double> s(n + 1);
        for (int i = 0; i <= n; ++i) s[size_t(i)] = p.length() * i / n;
        std::vector<Sample> fine(s.size());
        p.sample(s, true, fine);
        Vec3 crown = fine[0].carried;
        double worst = 0;
        for (int i = 1; i <= n; ++i) {
            crown = carry(fine[size_t(i) - 1].point, fine[size_t(i) - 1].tangent, crown, fine[size_t(i)].point,
                          fine[size_t(i)].tangent);
            if (i % 997 == 0) worst = std::max(worst, (fine[size_t(i)].carried - crown).norm());
        }
        QVERIFY2(worst < 1e-6, qPrintable(QString::number(worst)));
    }
}

void TestEdges::wheelsAtTheirLimits() {
    using W = WheelCircle;
    const auto field = [](std::vector<W> w, bool closed = true, bool crossed = false) {
        const auto r = loopRound(w, closed, crossed);
        return r ? std::string() : r.problem().field + ": " + std::string(r.problem().text);
    };
    QVERIFY(field({{{0, 0}, 100}, {{200, 0}, 100}}).empty()); // that touch
    QVERIFY(field({{{0, 0}, 100}, {{199.99, 0}, 100}}).starts_with("wheel 2"));
    // A straight through a wheel, and one that only touches it.
    const std::vector<W> row{{{0, 0}, 100}, {{1000, 0}, 100}, {{500, 900}, 50}};
    QVERIFY(field(row).empty());
    const auto through = field({{{0, 0}, 50}, {{500, -40}, 30}, {{1000, 0}, 50}, {{500, 0}, 100, false}});
    QVERIFY2(!through.empty(), "a straight runs through the idler");
    // A wheel that is wrapped a hair less than nothing counts as just touched, not as a whole turn.
    for (double hair : {0.0, 1e-10, -1e-10}) {
        const auto r = loopRound(std::vector<W>{{{0, 0}, 100}, {{500, hair}, 100}, {{1000, 0}, 100}, {{500, 900}, 50}},
                                 true, false);
        QVERIFY(bool(r));
        NEAR(r->contacts[1].wrap, 0, 1e-6);
    }
    // Open, from the first to the last; one in between that it does not reach is named.
    QVERIFY(field({{{0, 0}, 100}, {{500, -300}, 100}, {{1000, 0}, 100}}, false).empty());
    const auto passed = field({{{0, 0}, 100}, {{500, 300}, 100}, {{1000, 0}, 100}}, false);
    QVERIFY2(passed.starts_with("wheel 2"), passed.c_str());
    // Straights that cross, allowed or not.
    const std::vector<W> eight{{{0, 0}, 100}, {{600, 0}, 80, false}};
    QVERIFY(field(eight, true, true).empty());
    QVERIFY(!field(eight, true, false).empty());
    NEAR(loopRound(eight, true, true)->length, twoWheelLength(100, 80, 600, true), 1e-9);
}

void TestEdges::sharpCornersEndAtFourTimes() {
    // The tip of a corner that turns by a stands d / cos(a / 2) from it: up to four times d it is sharp.
    const double d = 10, limit = 2 * std::acos(0.25);
    for (auto [turn, sharp] :
         {std::pair{limit - 0.01, true}, {limit + 0.01, false}, {1.0, true}, {kPi - 0.05, false}}) {
        const Path p =
            pathOf({Line{{-500, 0, 0}, {0, 0, 0}}, Line{{0, 0, 0}, {500 * std::cos(turn), 500 * std::sin(turn), 0}}});
        const auto o = offsetOf(p, -d, CornerStyle::Sharp);
        QVERIFY(bool(o));
        double farthest = 0;
        for (const auto& v : pathOf(o->curve.segments).polyline(0.001))
            if (v.norm() < 60) farthest = std::max(farthest, v.norm());
        if (sharp)
            NEAR(farthest, std::max(d / std::cos(turn / 2), farthest > 59 ? farthest : 0), 1e-6);
        else
            QVERIFY2(o->curve.segments.size() == 3, "cut off straight");
    }
}

void TestEdges::offsetDistance() {
    for (double d : {35.0, -35.0, 3.0}) {
        const Path p = spline({{0, 0, 0}, {400, 150, 0}, {800, -100, 0}, {1300, 50, 0}});
        const auto o = offsetOf(p, d, CornerStyle::Round);
        QVERIFY(bool(o));
        const Path q = pathOf(o->curve.segments);
        for (int i = 5; i < 96; ++i) {
            const Sample s = q.at(q.length() * i / 100), f = p.at(p.closest(s.point));
            NEAR((s.point - f.point).norm(), std::abs(d), 2e-6);
            QVERIFY((Vec3::UnitZ().cross(f.tangent).dot(s.point - f.point) > 0) == (d > 0)); // on its side
        }
    }
}

void TestEdges::helixDerivatives() {
    for (const Helix& h : {Helix{{5, 6, 7}, Vec3::UnitX(), Vec3::UnitY(), 100, 40, 1.3, 300},
                           Helix{{0, 0, 0}, Vec3::UnitY(), -Vec3::UnitX(), 20, 90, -1.1, -50}})
        for (const auto& span : spansOf(h, 0))
            for (double t : {0.2, 0.5, 0.8}) {
                const double e = 1e-4;
                const Jet j = span.jet(t);
                NEAR((j.d1 - (span.point(t + e) - span.point(t - e)) / (2 * e)).norm(), 0, 1e-4);
                NEAR((j.d2 - (span.point(t + e) - 2 * j.p + span.point(t - e)) / (e * e)).norm(), 0, 1e-3);
            }
}

void TestEdges::swagsAndFilletsAtTheirLimits() {
    // Slack of a ten-millionth of the distance: the length is that, the sag by the parabola's formula.
    const Vec3 a(0, 0, 0), b(3000, 0, 0);
    for (double slack : {3000 * 2e-7, 0.01, 50.0}) {
        const auto c = swag(a, b, SwagBy::Slack, slack);
        QVERIFY2(bool(c), c ? "" : c.problem().text.c_str());
        const Path p = pathOf(c->segments);
        NEAR(p.length(), 3000 + slack, 1e-7);
        NEAR(-p.bounds().min().z(), std::sqrt(3.0 / 8 * 3000 * slack), 0.02 * std::sqrt(3000 * slack));
    }
    QVERIFY(!swag(a, b, SwagBy::Slack, 3000 * 0.5e-7));
    // A radius at a point where nothing bends changes nothing.
    const std::array<PolyPoint, 3> flat{{{{0, 0, 0}, 0}, {{100, 0, 0}, 30}, {{250, 0, 0}, 0}}};
    const auto f = filleted(flat, false);
    QVERIFY(bool(f));
    NEAR(pathOf(f->segments).length(), 250, 1e-9);
    for (const auto& s : f->segments) QVERIFY(std::holds_alternative<Line>(s));
}

void TestEdges::slidesWrap() {
    Spacing s = shareOut(3);
    for (double slide : {0.0, 1000.0, -1000.0, 2000.0, 1e-12, -1e-12}) {
        s.slide = slide;
        const Places p = placed(roundPath(1000), s);
        for (double at : p.stations()) QVERIFY(at >= 0 && at <= 1000);
        NEAR(std::remainder(p.stations()[0], 1000), 0, 1e-9);
    }
    const Spacing moved = slid(roundPath(1000), s, {}, -300);
    NEAR(moved.slide, 700, 1e-9);
}

VICINAL_SUITE(TestEdges)

} // namespace test_edges
#include "test_edges.moc"
