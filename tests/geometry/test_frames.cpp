// Frames: least twist against the helix's torsion, seams, motion, reversal; headings that never flip.
#include "layout/facing/facing.h"
#include "suite.h"
#include "support.h"

namespace test_frames {

using namespace vicinal;
using namespace vicinal::test;

namespace {

std::vector<Mat3> frames(const Path& path, const std::vector<double>& s, CrownRule crown) {
    std::vector<Mat3> out(s.size());
    Facing f;
    f.crown = crown;
    faceAt(path, s, f, Mat3::Identity(), [&](size_t i, const Vec3&, const Vec3&, const Mat3& R) { out[i] = R; });
    return out;
}

/// Cubic Hermite pieces through the helix (r cos a, r sin a, c a); 360 a turn leave an error far below the test's.
Path helix(double r, double c, double turns) {
    const int n = int(360 * turns);
    const double h = 2 * kPi * turns / n;
    const auto p = [&](double a) { return Vec3(r * std::cos(a), r * std::sin(a), c * a); };
    const auto d = [&](double a) { return Vec3(-r * std::sin(a), r * std::cos(a), c); };
    std::vector<Segment> out;
    for (int i = 0; i < n; ++i)
        out.push_back(
            Bezier{{p(i * h), p(i * h) + d(i * h) * h / 3, p((i + 1) * h) - d((i + 1) * h) * h / 3, p((i + 1) * h)}});
    return pathOf(out);
}

} // namespace

class TestFrames : public QObject {
    Q_OBJECT
private slots:
    void framesAreRotations();
    void helixTwistMatchesTorsion();
    void closedPathMeetsItself();
    void motionMovesFrames();
    void reversalMirrorsFrames();
    void overTheTopNeverFlips();
    void uprightPassesVerticalsAsCarriedDoes();
    void verticalStretchesKeepTheHeading();
    void cornersFaceAsTheRuleSays();
    void anglesRebuildTheRotation();
};

void TestFrames::framesAreRotations() {
    const Path path = knot();
    const auto s = evenly(path.length(), 501);
    for (CrownRule rule : {CrownRule(Plumb{}), CrownRule(Upright{}), CrownRule(Carried{})}) {
        const auto F = frames(path, s, rule);
        for (size_t i = 0; i < s.size(); ++i) {
            NEAR((F[i].transpose() * F[i] - Mat3::Identity()).norm(), 0, 1e-12);
            NEAR(F[i].determinant(), 1, 1e-12);
            const Vec3 t = path.at(s[i]).tangent;
            if (rule == CrownRule(Plumb{})) {
                NEAR((F[i].col(2) - Vec3::UnitZ()).norm(), 0, 1e-15);
                NEAR(F[i].col(0).cross(Vec3(t.x(), t.y(), 0).normalized()).norm(), 0, 1e-9);
            } else {
                NEAR((F[i].col(0) - t).norm(), 0, 1e-9);
            }
            if (rule == CrownRule(Upright{})) NEAR(F[i](2, 1), 0, 1e-12); // the side is level
        }
    }
}

void TestFrames::helixTwistMatchesTorsion() {
    // Seen from the Frenet frame, the least-twisting frame turns back by the torsion: d(angle)/ds = -tau, tau =
    // c/(r^2+c^2).
    const double r = 400, c = 130, turns = 3;
    const Path path = helix(r, c, turns);
    const double rate = std::hypot(r, c), tau = c / (r * r + c * c);
    NEAR(path.length(), 2 * kPi * turns * rate, 1e-5);
    const auto s = evenly(path.length(), 97);
    const auto F = frames(path, s, CrownRule(Carried{}));
    double start = 0;
    for (size_t i = 0; i < s.size(); ++i) {
        const double a = s[i] / rate;
        const Vec3 normal(-std::cos(a), -std::sin(a), 0), t = Vec3(-r * std::sin(a), r * std::cos(a), c) / rate;
        const Vec3 binormal = t.cross(normal), crown = F[i].col(2);
        const double angle = std::atan2(crown.dot(binormal), crown.dot(normal));
        if (i == 0) start = angle;
        NEAR(std::remainder(angle - start + tau * s[i], 2 * kPi), 0, 1e-6);
    }
}

void TestFrames::closedPathMeetsItself() {
    const Path path = knot();
    QVERIFY(std::abs(path.closingTwist()) > 0.05); // otherwise this shows nothing
    const double L = path.length(), e = 1e-4;
    const auto F = frames(path, {0, e, L - e, L}, CrownRule(Carried{}));
    NEAR((F[0] - F[3]).norm(), 0, 1e-9);
    NEAR((F[1] - F[2]).norm(), 0, 1e-5); // continuous across the seam: 2e at the rate of the curve
    // Spread evenly: the twist per length is the same everywhere. Compare with the untwisted frame of the open copy.
    const auto s = evenly(L, 41);
    const auto closed = frames(path, s, CrownRule(Carried{}));
    std::vector<Segment> open;
    for (const auto& span : path.spans()) {
        const Vec3 p0 = span.c0, p3 = span.point(1);
        open.push_back(Bezier{{p0, p0 + span.jet(0).d1 / 3, p3 - span.jet(1).d1 / 3, p3}});
    }
    const auto plain = frames(pathOf(open), s, CrownRule(Carried{}));
    for (size_t i = 0; i < s.size(); ++i) {
        const Vec3 t = plain[i].col(0), a = plain[i].col(2), b = closed[i].col(2);
        NEAR(std::atan2(t.dot(a.cross(b)), a.dot(b)), std::remainder(-path.closingTwist() * s[i] / L, 2 * kPi), 1e-7);
    }
}

void TestFrames::motionMovesFrames() {
    const auto segments = splineThrough(randomPoints(21, 9));
    const Mat3 R = someRotation();
    std::vector<Segment> moved;
    for (const auto& s : segments) moved.push_back(vicinal::moved(s, R, Vec3(3000, -2000, 777)));
    const Path a = pathOf(segments), b = pathOf(moved);
    NEAR(a.length(), b.length(), 1e-9);
    const auto s = evenly(a.length() - 1e-8, 101);
    const auto A = frames(a, s, CrownRule(Carried{})), B = frames(b, s, CrownRule(Carried{}));
    // The start crown is chosen by the vertical; what must agree is how it is carried from there.
    const Mat3 toA = A[0].transpose() * R.transpose() * B[0];
    for (size_t i = 0; i < s.size(); ++i) {
        NEAR((b.at(s[i]).point - (R * a.at(s[i]).point + Vec3(3000, -2000, 777))).norm(), 0, 1e-8);
        NEAR((R * A[i] * toA - B[i]).norm(), 0, 1e-7);
    }
}

void TestFrames::reversalMirrorsFrames() {
    auto segments = splineThrough(randomPoints(22, 9));
    const Path there = pathOf(segments);
    std::reverse(segments.begin(), segments.end());
    for (auto& s : segments) s = reversed(s);
    const Path back = pathOf(segments);
    const double L = there.length();
    NEAR(back.length(), L, 1e-9);
    const auto s = evenly(L, 101);
    for (CrownRule rule : {CrownRule(Plumb{}), CrownRule(Upright{})}) {
        std::vector<double> r;
        for (size_t i = s.size(); i-- > 0;) r.push_back(std::clamp(back.length() - s[i], 0.0, back.length()));
        const auto A = frames(there, s, rule), B = frames(back, r, rule);
        const Mat3 half = Vec3(-1, -1, 1).asDiagonal(); // half a turn about the crown
        for (size_t i = 0; i < s.size(); ++i) NEAR((A[i] * half - B[s.size() - 1 - i]).norm(), 0, 1e-8);
    }
}

void TestFrames::overTheTopNeverFlips() {
    // A vertical loop: the tangent passes through vertical twice.
    const Path loop = pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), 500, 2 * kPi}}, true);
    const auto s = evenly(loop.length() - 1e-6, 20'001);
    for (CrownRule rule : {CrownRule(Plumb{}), CrownRule(Upright{}), CrownRule(Carried{})}) {
        const auto F = frames(loop, s, rule);
        double jump = 0;
        for (size_t i = 1; i < s.size(); ++i) jump = std::max(jump, (F[i] - F[i - 1]).norm());
        QVERIFY2(jump < 0.1, qPrintable(QString("rule %1 jumps by %2").arg(int(rule.index())).arg(jump)));
    }
    const auto F = frames(loop, {0, loop.length() / 4, loop.length() / 2, loop.length() * 3 / 4}, CrownRule(Carried{}));
    NEAR(F[1].col(2).dot(F[3].col(2)), -1, 1e-9); // upside down on the other side, as a belt is
}

void TestFrames::uprightPassesVerticalsAsCarriedDoes() {
    // Level, once round a loop, level: inwards all the way, so that it hangs at the top, and stands behind.
    const double r = 500;
    std::vector<Segment> segments{Line{{-800, 0, 0}, {0, 0, 0}},
                                  Arc{{0, 0, r}, -Vec3::UnitZ(), Vec3::UnitX(), r, 2 * kPi},
                                  Line{{0, 0, 0}, {700, 0, 0}}};
    const Path loop = pathOf(segments);
    const auto s = evenly(loop.length(), 4001);
    const auto F = frames(loop, s, Upright{}), C = frames(loop, s, Carried{});
    for (size_t i = 0; i < s.size(); ++i) NEAR((F[i] - C[i]).norm(), 0, 1e-6);
    const auto top = frames(loop, {0, 800 + kPi * r, loop.length()}, Upright{});
    for (int k = 0; k < 3; ++k) NEAR(top[size_t(k)](2, 2), k == 1 ? -1 : 1, 1e-9);
    const Passages passages(loop);
    QCOMPARE(passages.all().size(), size_t(2));
    QVERIFY(!passages.all()[0].hung && passages.all()[0].hangs && passages.all()[1].hung && !passages.all()[1].hangs);
    // Backwards the same crowns, and a closed loop that starts anywhere, also in the middle of a vertical.
    std::reverse(segments.begin(), segments.end());
    for (auto& x : segments) x = reversed(x);
    std::vector<double> mirrored;
    for (double x : s) mirrored.push_back(loop.length() - x);
    std::reverse(mirrored.begin(), mirrored.end());
    const auto B = frames(pathOf(segments), mirrored, Upright{});
    for (size_t i = 0; i < s.size(); ++i) NEAR((F[i].col(2) - B[s.size() - 1 - i].col(2)).norm(), 0, 1e-6);
    for (double start : {0.0, 0.3, kPi / 2, 2.0, 3.9}) {
        const Vec3 x(std::cos(start), 0, std::sin(start)), y(-std::sin(start), 0, std::cos(start));
        const Path closed = pathOf({Arc{Vec3::Zero(), x, y, r, 2 * kPi}}, true);
        const auto at = evenly(closed.length() - 1e-6, 1001);
        const auto R = frames(closed, at, Upright{});
        const double way = R[0].col(2).dot(closed.at(0).point) / r;
        NEAR(std::abs(way), 1, 1e-6);
        for (size_t i = 0; i < at.size(); ++i) NEAR(R[i].col(2).dot(closed.at(at[i]).point), way * r, 1e-3);
    }
    // Whatever way it goes on behind a wall: what is left to turn there is a right angle at most.
    for (int k = -12; k <= 12; ++k) {
        const double h = k * kPi / 12;
        const Path wall = pathOf({Line{{-300, 0, 0}, {0, 0, 0}}, Line{{0, 0, 0}, {0, 0, 400}},
                                  Line{{0, 0, 400}, {300 * std::cos(h), 300 * std::sin(h), 400}}});
        const auto G = frames(wall, {100, 300.001, 500, 699.999, 900}, Upright{});
        const double turn = std::acos(std::clamp(G[1].col(2).dot(G[3].col(2)), -1.0, 1.0)), left = std::abs(h);
        NEAR(turn, std::min(left, kPi - left), 1e-3);
        NEAR(std::acos(std::clamp(G[1].col(2).dot(G[2].col(2)), -1.0, 1.0)), turn / 2, 1e-3);
        NEAR(G[0](2, 2), 1, 1e-12);
        NEAR(G[4](2, 2), left > kPi / 2 + 1e-5 ? -1 : 1, 1e-12);
        for (const Mat3& R : G) NEAR((R.transpose() * R - Mat3::Identity()).norm(), 0, 1e-9);
    }
    // Round a triangle up a wall and back over it, a crown that is carried comes back hanging: it turns over on the
    // wall.
    const Path flag = pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {100, 0, 200}},
                              Line{{100, 0, 200}, {-50, 0, 200}}, Line{{-50, 0, 200}, {0, 0, 0}}},
                             true);
    for (double x : {10.0, 90.0, 310.0, 440.0, 480.0, 600.0}) QVERIFY(frames(flag, {x}, Upright{})[0](2, 2) > 0.1);
    const auto over = frames(flag, {100.001, 200, 299.999}, Upright{});
    NEAR((over[0].col(2) + Vec3::UnitX()).norm(), 0, 1e-3);
    NEAR(std::abs(over[1].col(2).y()), 1, 1e-6);
    NEAR((over[2].col(2) - Vec3::UnitX()).norm(), 0, 1e-3);
}

void TestFrames::verticalStretchesKeepTheHeading() {
    // Level, then straight up, then level in another direction.
    const Path path =
        pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {100, 0, 300}}, Line{{100, 0, 300}, {100, 100, 300}}});
    const auto F = frames(path, {50, 101, 250, 399, 450}, CrownRule(Plumb{}));
    NEAR(F[0](0, 0), 1, 1e-12);
    NEAR(F[1](0, 0), 1, 1e-3);              // still the old heading
    NEAR(F[2](0, 0), std::sqrt(0.5), 1e-9); // half-way between the two
    NEAR(F[3](1, 0), 1, 1e-3);              // nearly the new one
    NEAR(F[4](1, 0), 1, 1e-12);
    const Path pole = pathOf({Line{{5, 5, 0}, {5, 5, 2000}}});
    for (CrownRule rule : {CrownRule(Plumb{}), CrownRule(Upright{}), CrownRule(Carried{})})
        for (const auto& R : frames(pole, {0, 700, 2000}, rule)) {
            QVERIFY(R.allFinite());
            NEAR(R.determinant(), 1, 1e-12);
        }
}

void TestFrames::cornersFaceAsTheRuleSays() {
    const Path path = pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {100, 100, 0}}});
    QCOMPARE(path.corners().size(), size_t(1));
    Facing f;
    for (auto [rule, x, y] : {std::tuple{CornerRule::Bisector, std::sqrt(0.5), std::sqrt(0.5)},
                              {CornerRule::LegBefore, 1.0, 0.0},
                              {CornerRule::LegAfter, 0.0, 1.0}})
        for (CrownRule crown : {CrownRule(Plumb{}), CrownRule(Upright{}), CrownRule(Carried{})}) {
            f.corner = rule;
            f.crown = crown;
            const double s = 100;
            faceAt(path, std::span(&s, 1), f, Mat3::Identity(), [&](size_t, const Vec3&, const Vec3&, const Mat3& R) {
                NEAR((R.col(0) - Vec3(x, y, 0)).norm(), 0, 1e-12);
                NEAR((R.col(2) - Vec3::UnitZ()).norm(), 0, 1e-12);
            });
        }
}

void TestFrames::anglesRebuildTheRotation() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> angle(-3, 3);
    for (int i = 0; i < 200; ++i) {
        const Mat3 R = Quat::UnitRandom().toRotationMatrix();
        const Angles a = anglesOf(R);
        const Mat3 again = (Eigen::AngleAxisd(a.heading, Vec3::UnitZ()) * Eigen::AngleAxisd(-a.slope, Vec3::UnitY()) *
                            Eigen::AngleAxisd(a.roll, Vec3::UnitX()))
                               .toRotationMatrix();
        NEAR((again - R).norm(), 0, 1e-12);
    }
}

VICINAL_SUITE(TestFrames)

} // namespace test_frames
#include "test_frames.moc"
