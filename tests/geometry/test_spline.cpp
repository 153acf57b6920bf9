// The interpolating spline: passes through its points, C2 in its own parameter, corners break it.
#include "geometry/path/spline.h"
#include "suite.h"
#include "support.h"

namespace test_spline {

using namespace vicinal;
using namespace vicinal::test;

class TestSpline : public QObject {
    Q_OBJECT
private slots:
    void passesThroughPointsWithContinuousCurvature_data();
    void passesThroughPointsWithContinuousCurvature();
    void cornersBreakIt();
    void closedWithACornerStartsAtTheFirstPoint();
    void repeatedPointsCountOnce();
    void straightRowStaysStraight();
    void clampedLeavesAndArrivesAsAsked();
};

void TestSpline::passesThroughPointsWithContinuousCurvature_data() {
    QTest::addColumn<bool>("closed");
    QTest::addColumn<int>("knotting");
    for (int k : {0, 1}) {
        QTest::addRow("open %d", k) << false << k;
        QTest::addRow("closed %d", k) << true << k;
    }
}

void TestSpline::passesThroughPointsWithContinuousCurvature() {
    QFETCH(bool, closed);
    QFETCH(int, knotting);
    const auto p = randomPoints(31, 12);
    bool smooth[12];
    std::fill_n(smooth, 12, true);
    const auto segments = throughPoints(p, smooth, closed, Knotting(knotting));
    QCOMPARE(segments.size(), closed ? p.size() : p.size() - 1);
    const auto step = [&](size_t i) {
        const double d = (p[(i + 1) % p.size()] - p[i]).norm();
        return knotting == 0 ? std::sqrt(d) : d;
    };
    for (size_t i = 0; i < segments.size(); ++i) {
        const auto& b = std::get<Bezier>(segments[i]).p;
        NEAR((b[0] - p[i]).norm(), 0, 1e-9);
        NEAR((b[3] - p[(i + 1) % p.size()]).norm(), 0, 1e-9);
        if (!closed && i == 0) {
            NEAR((b[0] - 2 * b[1] + b[2]).norm(), 0, 1e-9 * b[3].norm()); // natural end: no curvature
            continue;
        }
        const size_t j = (i + segments.size() - 1) % segments.size();
        const auto& a = std::get<Bezier>(segments[j]).p;
        const double ha = step(j), hb = step(i);
        NEAR(((a[3] - a[2]) / ha - (b[1] - b[0]) / hb).norm(), 0, 1e-9);
        NEAR(((a[3] - 2 * a[2] + a[1]) / (ha * ha) - (b[2] - 2 * b[1] + b[0]) / (hb * hb)).norm(), 0, 1e-9);
    }
}

void TestSpline::cornersBreakIt() {
    const std::vector<Vec3> p{{0, 0, 0}, {100, 50, 0}, {200, 0, 0}, {300, 0, 0}, {300, 100, 0}};
    const bool smooth[5] = {true, true, false, false, true};
    const auto segments = throughPoints(p, smooth, false);
    QCOMPARE(segments.size(), size_t(4));
    QVERIFY(std::holds_alternative<Bezier>(segments[0]) && std::holds_alternative<Bezier>(segments[1]));
    QVERIFY(std::holds_alternative<Line>(segments[2]) && std::holds_alternative<Line>(segments[3]));
    const Path path = pathOf(segments);
    QCOMPARE(path.corners().size(), size_t(2));
}

void TestSpline::closedWithACornerStartsAtTheFirstPoint() {
    const std::vector<Vec3> p{{0, 0, 0}, {100, 80, 0}, {250, 0, 0}, {120, -90, 0}};
    for (int corner = 0; corner < 4; ++corner) {
        bool smooth[4];
        for (int i = 0; i < 4; ++i) smooth[i] = i != corner;
        const Path path = pathOf(throughPoints(p, smooth, true), true);
        NEAR((path.at(0).point - p[0]).norm(), 0, 1e-9);
        QCOMPARE(path.corners().size(), size_t(1));
        NEAR((path.at(path.corners()[0].station).point - p[corner]).norm(), 0, 1e-6);
    }
}

void TestSpline::repeatedPointsCountOnce() {
    const std::vector<Vec3> p{{0, 0, 0}, {0, 0, 0}, {100, 80, 0}, {100, 80, 1e-9}, {250, 0, 0}, {0, 0, 0}};
    bool smooth[6];
    std::fill_n(smooth, 6, true);
    QCOMPARE(throughPoints(p, smooth, true).size(), size_t(3));
    const std::vector<Vec3> same(4, Vec3(1, 2, 3));
    QVERIFY(throughPoints(same, std::span<const bool>(smooth, 4), false).empty());
}

void TestSpline::straightRowStaysStraight() {
    std::vector<Vec3> p;
    for (double x : {0., 3., 10., 200., 210., 900.}) p.push_back(someRotation() * Vec3(x, 0, 0));
    const Path path = spline(p);
    NEAR(path.length(), 900, 1e-9);
}

/// Through fit points with a direction at its ends: it passes through all, bends without a jump, and leaves and arrives
/// as asked; where nothing is asked it ends without curvature.
void TestSpline::clampedLeavesAndArrivesAsAsked() {
    const std::vector<Vec3> points{{0, 0, 0}, {300, 80, 0}, {500, -60, 40}, {900, 100, 10}};
    const Vec3 leave(0, 3, 1), arrive(2, 0, -1);
    for (int which = 0; which < 4; ++which) {
        std::optional<Vec3> start, end;
        if (which & 1) start = leave;
        if (which & 2) end = arrive;
        const auto segments = throughPointsClamped(points, start, end);
        QCOMPARE(segments.size(), size_t(3));
        const Path path = pathOf(segments);
        for (size_t i = 0; i < 3; ++i) {
            NEAR((startOf(segments[i]) - points[i]).norm(), 0, 1e-9);
            NEAR((endOf(segments[i]) - points[i + 1]).norm(), 0, 1e-9);
        }
        QVERIFY(path.corners().empty());
        const Vec3 first = path.at(0).tangent, last = path.at(path.length()).tangent;
        if (start) NEAR((first - leave.normalized()).norm(), 0, 1e-9);
        if (end) NEAR((last - arrive.normalized()).norm(), 0, 1e-9);
        const Span &a = path.spans().front(), &b = path.spans().back();
        if (!start) NEAR(a.jet(0).d2.norm(), 0, 1e-6);
        if (!end) NEAR(b.jet(1).d2.norm(), 0, 1e-6);
        QVERIFY(!start || (first - pathOf(throughPointsClamped(points, {}, end)).at(0).tangent).norm() > 0.1);
    }
    const std::vector<Vec3> one{{1, 2, 3}, {1, 2, 3}};
    QVERIFY(throughPointsClamped(one, {}, {}).empty());
}

VICINAL_SUITE(TestSpline)

} // namespace test_spline
#include "test_spline.moc"
