// Spacing rules against arithmetic done by hand, and invariants over random paths.
#include "layout/rules.h"
#include "layout/spacing/rules.h"
#include "suite.h"

namespace test_spacing {

using namespace vicinal;
using namespace vicinal::test;

namespace {

const Box3 kBaluster(Vec3(-10, -10, 0), Vec3(10, 10, 1000));

/// A ramp whose slope changes all along, so that plumb parts take up a varying length of it.
Path ramp() { return spline({{0, 0, 0}, {2000, 100, 100}, {4000, 900, 700}, {5500, 2500, 800}, {7000, 2600, 1500}}); }

Occupancy occupancy(const Path& p, CrownRule crown = CrownRule(Plumb{})) {
    Facing f;
    f.crown = crown;
    return {p, f, Mat3::Identity(), kBaluster};
}

Result<Stations> solve(const Path& p, const Spacing& s) { return solveSpacing(p, s, occupancy(p)); }

std::string problem(const Path& p, const Spacing& s) {
    const auto r = solve(p, s);
    return r ? std::string() : r.problem().field + ": " + static_cast<const std::string&>(r.problem().text);
}

} // namespace

class TestSpacing : public QObject {
    Q_OBJECT
private slots:
    void stepOffCountsExactFits();
    void stepOffLeftOverGoesWhereToldTo();
    void shareOutEnds();
    void evenOutTakesTheNearestPitchWithinLimits();
    void evenOutSaysWhenNoCountFits();
    void clearGapIsEqualOnAVaryingSlope();
    void occupiedLengthIsWhereBoxesTouch();
    void closedPathsSlideAndWrap();
    void fitsAreAllSolved();
    void slidingKeepsThePitch();
    void impossibleRulesSayWhy_data();
    void impossibleRulesSayWhy();
    void oneAndTenMillion();
};

void TestSpacing::stepOffCountsExactFits() {
    for (double pitch : {0.1, 0.3, 1.0 / 3, 7.0, 99.9}) // products that are not exact in binary
        for (long n : {1L, 3L, 10L, 999L}) {
            const auto r = solve(straight(pitch * double(n)), stepOff(pitch));
            QVERIFY(bool(r));
            QCOMPARE(long(r->at.size()), n + 1);
            NEAR(r->leftOver, 0, 1e-9);
            const auto c = solve(roundPath(pitch * double(n)), stepOff(pitch));
            QCOMPARE(long(c->at.size()), n);
        }
}

void TestSpacing::stepOffLeftOverGoesWhereToldTo() {
    Spacing s = stepOff(300);
    s.insetStart = 50;
    s.insetEnd = 100; // usable 850: 3 places, 250 left
    const Path p = straight(1000);
    for (auto [where, first] :
         {std::pair{LeftOver::AtEnd, 50.0}, {LeftOver::AtStart, 300.0}, {LeftOver::Both, 175.0}}) {
        s.rule = StepOff{300, where};
        const auto r = solve(p, s);
        QCOMPARE(r->at.size(), size_t(3));
        NEAR(r->leftOver, 250, 1e-9);
        NEAR(r->at[0], first, 1e-9);
        NEAR(r->at[2], first + 600, 1e-9);
    }
}

void TestSpacing::shareOutEnds() {
    const Path p = straight(1200);
    Spacing s = shareOut(4);
    for (auto [ends, first, pitch] : {std::tuple{ShareEnds::AtEnds, 0.0, 400.0},
                                      {ShareEnds::HalfPitchIn, 150.0, 300.0},
                                      {ShareEnds::PitchIn, 240.0, 240.0}}) {
        s = shareOut(4, ends);
        const auto r = solve(p, s);
        NEAR(r->at.front(), first, 1e-9);
        NEAR(r->pitch, pitch, 1e-9);
        NEAR(r->at.back(), 1200 - first, 1e-9);
    }
    NEAR(solve(roundPath(1200), s)->pitch, 300, 1e-9);
}

void TestSpacing::evenOutTakesTheNearestPitchWithinLimits() {
    // The example of the design: 7.24 m, 60 in at both ends, about 120.
    const Path p = straight(7240);
    Spacing s = evenOut(120);
    s.insetStart = s.insetEnd = 60;
    QCOMPARE(solve(p, s)->at.size(), size_t(60)); // 120.678 is nearer to 120 than 118.667
    s.gapAtMost = 99;
    const auto r = solve(p, s);
    QCOMPARE(r->at.size(), size_t(61));
    NEAR(r->pitch, 7120.0 / 60, 1e-9);
    s.gapAtMost.reset();
    s.gapAtLeast = 150;
    const auto wide = solve(p, s);
    QCOMPARE(wide->at.size(), size_t(42)); // 7120/41 = 173.66 clear 153.66; 7120/42 = 169.52 clear 149.52
    // Whatever the numbers, no other count is nearer.
    std::mt19937 random(4);
    std::uniform_real_distribution<double> about(3, 3000);
    for (int i = 0; i < 300; ++i) {
        const double a = about(random);
        const auto one = solve(p, evenOut(a));
        const double n = double(one->at.size() - 1), off = std::abs(7240 / n - a);
        QVERIFY(off <= std::abs(7240 / (n + 1) - a) + 1e-9);
        QVERIFY(n == 1 || off <= std::abs(7240 / (n - 1) - a) + 1e-9);
    }
}

void TestSpacing::evenOutSaysWhenNoCountFits() {
    Spacing s = evenOut(400);
    s.gapAtMost = 400;
    s.gapAtLeast = 399; // pitches of 1000 mm: 1000, 500, 333: nothing between
    const auto text = problem(straight(1000), s);
    QVERIFY2(text.starts_with("gapAt") && text.find("No count keeps the gap along") != std::string::npos, text.c_str());
    QVERIFY2(text.find("480") != std::string::npos && text.find("313.333") != std::string::npos, text.c_str());
    const auto rows = fits(straight(1000), s, occupancy(straight(1000)));
    QVERIFY(bool(rows) && rows->size() >= 3); // the table still shows what is near
}

void TestSpacing::clearGapIsEqualOnAVaryingSlope() {
    const Path p = ramp();
    const Occupancy occ = occupancy(p);
    QVERIFY(!occ.constant());
    for (const SpacingRule& rule :
         {SpacingRule(StepOff{90}), SpacingRule(StepOff{90, LeftOver::AtStart}),
          SpacingRule(StepOff{90, LeftOver::Both}), SpacingRule(ShareOut{70}), SpacingRule(EvenOut{90})}) {
        const auto* steps = std::get_if<StepOff>(&rule);
        Spacing s;
        s.rule = rule;
        s.measure = Measure::ClearGap;
        const auto r = solveSpacing(p, s, occ);
        QVERIFY(bool(r));
        double gap = 90;
        for (size_t i = 1; i < r->at.size(); ++i) {
            const double g = r->at[i] - r->at[i - 1] - occ.at(r->at[i - 1]).ahead - occ.at(r->at[i]).behind;
            if (i == 1 && !steps) gap = g;
            NEAR(g, gap, 1e-7);
        }
        if (!steps || steps->leftOver == LeftOver::AtStart) NEAR(r->at.back(), p.length(), 1e-8);
        if (steps && steps->leftOver == LeftOver::Both) NEAR(r->at.front(), p.length() - r->at.back(), 1e-8);
    }
}

void TestSpacing::occupiedLengthIsWhereBoxesTouch() {
    // Oracle: separating axes of two equal boxes, one moved by d along the tangent; bisect for the touching d.
    std::mt19937 random(8);
    std::uniform_real_distribution<double> size(5, 300);
    const Path p = straight(10);
    for (int i = 0; i < 200; ++i) {
        const Box3 box(Vec3(-size(random), -size(random), -size(random)),
                       Vec3(size(random), size(random), size(random)));
        const Mat3 R = Quat::UnitRandom().toRotationMatrix();
        const Vec3 t = R * Quat::UnitRandom()._transformVector(Vec3::UnitX());
        const auto touching = [&](const Vec3& way) {
            const auto apart = [&](double d) {
                const Vec3 local = R.transpose() * (d * way);
                return (local.cwiseAbs().array() >= box.sizes().array()).any();
            };
            double lo = 0, hi = 1e6;
            for (int k = 0; k < 100; ++k) (apart((lo + hi) / 2) ? hi : lo) = (lo + hi) / 2;
            return hi;
        };
        Facing square, plumb, aimed;
        square.crown = Upright{};
        aimed.nose = AtTarget{};
        const auto taken = [&](const Facing& f) { return Occupancy(p, f, Mat3::Identity(), box).of(t, R).total(); };
        NEAR(taken(square), touching(t), 1e-6);
        // Plumb: neighbours stand beside each other, moved in plan only.
        if (std::hypot(t.x(), t.y()) > 0.1) NEAR(taken(plumb), touching(Vec3(t.x(), t.y(), 0)), 1e-6);
        // At a target neighbours are turned otherwise: what the corners reach along the path.
        double least = 1e300, most = -1e300;
        for (int c = 0; c < 8; ++c) {
            const double at = t.dot(R * box.corner(Box3::CornerType(c)));
            least = std::min(least, at);
            most = std::max(most, at);
        }
        NEAR(taken(aimed), most - least, 1e-9);
    }
}

void TestSpacing::closedPathsSlideAndWrap() {
    Spacing s = shareOut(10);
    s.slide = 950;
    s.insetStart = 400; // insets mean nothing on a closed path
    const auto r = solve(roundPath(1000), s);
    QCOMPARE(r->at.size(), size_t(10));
    NEAR(r->at[0], 950, 1e-9);
    NEAR(r->at[1], 50, 1e-9);
    s.slide = -50;
    NEAR(solve(roundPath(1000), s)->at[0], 950, 1e-9);
    NEAR(solve(roundPath(1000), stepOff(300))->leftOver, 100, 1e-9);
    // The same count and left over where equal gaps are stepped one by one: a loop that rises and falls, parts plumb.
    const Path p = knot();
    const Occupancy occ = occupancy(p);
    Spacing gaps = stepOff(90);
    gaps.measure = Measure::ClearGap;
    const auto stepped = solveSpacing(p, gaps, occ);
    for (size_t i = 1; i < stepped->at.size(); ++i)
        NEAR(stepped->at[i] - stepped->at[i - 1] - occ.at(stepped->at[i - 1]).ahead - occ.at(stepped->at[i]).behind, 90,
             1e-7);
    const double seam = p.length() - stepped->at.back() - occ.at(stepped->at.back()).ahead - occ.at(0).behind;
    NEAR(seam, 90 + stepped->leftOver, 1);
    QVERIFY(seam >= 90 - 1e-6 && seam < 90 + 115);
}

void TestSpacing::fitsAreAllSolved() {
    const Path p = ramp();
    Spacing s = evenOut(120);
    s.gapAtMost = 99;
    const Occupancy occ = occupancy(p);
    const auto rows = fits(p, s, occ);
    QVERIFY(bool(rows));
    QCOMPARE(rows->size(), size_t(11));
    QVERIFY(rows->front().inUse);
    QCOMPARE(rows->front().count, long(solveSpacing(p, s, occ)->at.size()));
    for (size_t i = 2; i < rows->size(); ++i) // behind it the nearest to what is wanted first
        QVERIFY(std::abs((*rows)[i].value - 120) >= std::abs((*rows)[i - 1].value - 120));
    for (const auto& row : *rows) {
        Spacing one = s;
        one.rule = ShareOut{row.count};
        const auto r = solveSpacing(p, one, occ);
        NEAR(r->pitch, row.pitch, 1e-9);
        double least = 1e9, most = 0;
        for (size_t i = 1; i < r->at.size(); ++i) {
            const double g = r->at[i] - r->at[i - 1] - occ.at(r->at[i - 1]).ahead - occ.at(r->at[i]).behind;
            least = std::min(least, g);
            most = std::max(most, g);
        }
        NEAR(row.gapLeast, least, 1e-7);
        NEAR(row.gapMost, most, 1e-7);
        QCOMPARE(row.over, most > 99 + 1e-6);
    }
}

void TestSpacing::slidingKeepsThePitch() {
    const Path p = straight(1000);
    Spacing s = evenOut(200);
    s.insetStart = 30;
    s.insetEnd = 70;
    const auto before = solve(p, s);
    for (double by : {-500.0, -20.0, 15.0, 500.0}) {
        const Spacing moved = slid(p, s, *before, by);
        const auto after = solve(p, moved);
        QCOMPARE(after->at.size(), before->at.size());
        NEAR(after->pitch, before->pitch, 1e-9);
        NEAR(after->at[0] - before->at[0], std::clamp(by, -30.0, 70.0), 1e-9);
    }
    Spacing step = stepOff(300); // 100 left over at the end: room to slide without losing a place
    const auto stepped = solve(p, step);
    for (double by : {40.0, 100.0, 170.0}) {
        const auto after = solve(p, slid(p, step, *stepped, by));
        QCOMPARE(after->at.size(), size_t(4));
        NEAR(after->at[0], std::min(by, 100.0), 1e-9);
    }
}

void TestSpacing::impossibleRulesSayWhy_data() {
    QTest::addColumn<int>("which");
    QTest::addColumn<QString>("start");
    QTest::addColumn<QString>("remedy");
    QTest::newRow("pitch 0") << 0 << "pitch: "
                             << "above zero";
    QTest::newRow("pitch negative") << 1 << "pitch: "
                                    << "above zero";
    QTest::newRow("pitch too long") << 2 << "pitch: "
                                    << "The longest that works is 1000 mm";
    QTest::newRow("insets too long") << 3 << "insetStart: "
                                     << "leave nothing";
    QTest::newRow("inset negative") << 4 << "insetEnd: "
                                    << "cannot be negative";
    QTest::newRow("count 0") << 5 << "count: "
                             << "at least 1";
    QTest::newRow("count huge") << 6 << "count: "
                                << "the most is 1000000";
    QTest::newRow("pitch tiny") << 7 << "pitch: "
                                << "the most is 1000000";
    QTest::newRow("about nan") << 8 << "about: "
                               << "not a number";
    QTest::newRow("about huge") << 9 << "about: "
                                << "The longest that works";
    QTest::newRow("limits crossed") << 10 << "gapAtLeast: "
                                    << "Swap them";
}

void TestSpacing::impossibleRulesSayWhy() {
    QFETCH(int, which);
    QFETCH(QString, start);
    QFETCH(QString, remedy);
    Spacing s;
    switch (which) {
    case 0: s = stepOff(0); break;
    case 1: s = stepOff(-5); break;
    case 2: s = stepOff(1001); break;
    case 3: s.insetStart = 700, s.insetEnd = 300; break;
    case 4: s.insetEnd = -1; break;
    case 5: s = shareOut(0); break;
    case 6: s = shareOut(10'000'000); break;
    case 7: s = stepOff(1e-5); break;
    case 8: s = evenOut(std::nan("")); break;
    case 9: s = evenOut(1e9); break;
    case 10: s.gapAtLeast = 20, s.gapAtMost = 10; break;
    }
    const auto text = QString::fromStdString(problem(straight(1000), s));
    QVERIFY2(text.startsWith(start), qPrintable(text));
    QVERIFY2(text.contains(remedy), qPrintable(text));
}

void TestSpacing::oneAndTenMillion() {
    const auto one = solve(straight(1000), shareOut(1));
    QVERIFY(bool(one));
    NEAR(one->at[0], 500, 1e-9);
    QCOMPARE(solve(straight(1000), shareOut(kMostPlaces))->at.size(), size_t(kMostPlaces));
}

VICINAL_SUITE(TestSpacing)

} // namespace test_spacing
#include "test_spacing.moc"
