// Clear gaps where a part's length along the path varies, against a solver of our own here that knows no table: it
// walks in small steps over exact occupancies.
#include "layout/facing/facing.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include "layout/spacing/walk/lineup.h"
#include "layout/spacing/walk/occupancy.h"
#include "suite.h"
#include "support.h"

namespace test_clear_gap {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Straight legs of random slope: the occupancy jumps at every corner.
Path legs(unsigned seed, int n, double least = 700, double most = 3000, double slope = 1.0) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> length(least, most), rise(-slope, slope), turn(-0.6, 0.6);
    std::vector<Segment> out;
    Vec3 at(0, 0, 0);
    double heading = 0;
    for (int i = 0; i < n; ++i) {
        heading += turn(random);
        const double s = rise(random);
        const Vec3 to = at + length(random) * Vec3(std::cos(heading), std::sin(heading), s).normalized();
        out.push_back(Line{at, to});
        at = to;
    }
    return pathOf(out);
}

Occupancy plumb(const Path& p, const Box3& box) { return {p, {}, Mat3::Identity(), box}; }
const Box3 kBoard(Vec3(-50, -5, 0), Vec3(50, 5, 2000));

double gapBetween(const Occupancy& occ, double a, double b) { return b - a - occ.at(a).ahead - occ.at(b).behind; }
std::pair<double, double> gapRange(const Occupancy& occ, const std::vector<double>& at) {
    double least = 1e300, most = -1e300;
    for (size_t i = 1; i < at.size(); ++i) {
        const double g = gapBetween(occ, at[i - 1], at[i]);
        least = std::min(least, g);
        most = std::max(most, g);
    }
    return {least, most};
}

/// Front of place n (from 0) stepped off at a gap, the slow way; infinite once it is past the end.
double bruteReach(const Occupancy& occ, double gap, int steps) {
    const double L = occ.path().length();
    double s = 0;
    for (int i = 0; i < steps; ++i) {
        const double F = s + occ.at(s).ahead + gap;
        double a = s, b = s;
        while (b < L && b - occ.at(b).behind < F) a = b, b = std::min(L, b + 9);
        if (b - occ.at(b).behind < F) return std::numeric_limits<double>::infinity();
        for (int k = 0; k < 45; ++k) ((a + b) / 2 - occ.at((a + b) / 2).behind < F ? a : b) = (a + b) / 2;
        s = b;
    }
    return s + occ.at(s).ahead;
}
/// The gap that makes `count` places come out, and whether there is one.
std::pair<double, bool> bruteGap(const Occupancy& occ, int count) {
    const double L = occ.path().length(), back = L - occ.at(L).behind;
    double lo = -60, hi = 2 * L;
    const auto miss = [&](double g) { return bruteReach(occ, g, count - 2) + g - back; };
    for (int k = 0; k < 45; ++k) (miss((lo + hi) / 2) < 0 ? lo : hi) = (lo + hi) / 2;
    return {(lo + hi) / 2, std::abs(miss(lo)) < 1e-6};
}

Spacing byGap(SpacingRule rule) {
    Spacing s;
    s.rule = rule;
    s.measure = Measure::ClearGap;
    return s;
}

} // namespace

class TestClearGap : public QObject {
    Q_OBJECT
private slots:
    void theCountOfTheReport();
    void evenOutAgreesWithBruteForce();
    void limitsAgreeWithBruteForce();
    void whatCannotBeEqualIsSaidAndSpread();
    void leftOverToBothIsEven();
    void steppedGapsAreExactOnEveryProfile();
    void tableAgreesWithTheExactOne();
    void closedLoopsWithCorners();
    void theWalkKnowsCorners();
    void fitsBeginAtTheLeastCount();
    void straightAcrossAndByLengthSlopesAndSizesCount();
    void aPitchInIsTheSameAtBothEnds();
};

void TestClearGap::theCountOfTheReport() {
    const Path p =
        pathOf({Line{{0, 0, 0}, {1000, 0, 0}}, Line{{1000, 0, 0}, {15142.135623730952, 0, 14142.13562373095}}});
    const auto r = solveSpacing(p, byGap(EvenOut{20}), plumb(p, kBoard));
    QVERIFY(bool(r));
    QCOMPARE(r->at.size(), size_t(133));
    const auto [least, most] = gapRange(plumb(p, kBoard), r->at);
    NEAR(least, 20.34, 0.01);
    NEAR(most, 20.34, 0.01);
}

void TestClearGap::evenOutAgreesWithBruteForce() {
    int solved = 0;
    for (unsigned seed = 0; seed < unsigned(rounds(24)); ++seed) {
        const bool curved = seed % 4 == 3;
        const Path p = curved ? spline(randomPoints(seed, 8, 500)) : legs(seed, 2 + int(seed % 5));
        const Occupancy occ = plumb(p, kBoard);
        const double about = 15 + 11 * (seed % 7);
        const auto r = solveSpacing(p, byGap(EvenOut{about}), occ);
        QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
        const int n = int(r->at.size());
        NEAR(r->at.front(), 0, 1e-9);
        NEAR(r->at.back(), p.length(), 1e-9);
        const auto [mine, exists] = bruteGap(occ, n);
        const double off = std::abs(mine - about);
        for (int other : {n - 2, n - 1, n + 1, n + 2}) {
            if (other < 2) continue;
            const auto [gap, there] = bruteGap(occ, other);
            if (exists && there)
                QVERIFY2(off <= std::abs(gap - about) + 1e-6,
                         qPrintable(QString("seed %1: %2 places %3, but %4 give %5")
                                        .arg(seed)
                                        .arg(n)
                                        .arg(mine)
                                        .arg(other)
                                        .arg(gap)));
        }
        const auto [least, most] = gapRange(occ, r->at);
        if (!r->uneven) {
            NEAR(most - least, 0, 1e-6);
            ++solved;
        }
    }
    QVERIFY2(solved >= rounds(15), qPrintable(QString::number(solved)));
}

void TestClearGap::limitsAgreeWithBruteForce() {
    for (unsigned seed = 100; seed < 115; ++seed) {
        const Path p = legs(seed, 3);
        const Occupancy occ = plumb(p, kBoard);
        Spacing s = byGap(EvenOut{20});
        (seed % 2 ? s.gapAtMost : s.gapAtLeast) = seed % 2 ? 12.0 : 35.0;
        const auto r = solveSpacing(p, s, occ);
        QVERIFY(bool(r));
        const auto [least, most] = gapRange(occ, r->at);
        QVERIFY(seed % 2 ? most <= 12 + 1e-6 : least >= 35 - 1e-6);
        // One fewer (or more) would be nearer, and breaks the limit.
        const auto next = solveSpacing(p, byGap(ShareOut{long(r->at.size()) + (seed % 2 ? -1 : 1)}), occ);
        const auto [l2, m2] = gapRange(occ, next->at);
        QVERIFY2(seed % 2 ? m2 > 12 : l2 < 35, qPrintable(QString("seed %1").arg(seed)));
    }
}

void TestClearGap::whatCannotBeEqualIsSaidAndSpread() {
    int uneven = 0;
    for (unsigned seed = 0; seed < 60; ++seed) {
        const Path p = legs(seed, 4, 300, 900, 2.5); // few places and sharp changes: often no equal gap exists
        const Occupancy occ = plumb(p, kBoard);
        for (long count = 4; count < 9; ++count) {
            const auto r = solveSpacing(p, byGap(ShareOut{count}), occ);
            QVERIFY(bool(r));
            QCOMPARE(long(r->at.size()), count);
            const auto [least, most] = gapRange(occ, r->at);
            if (most - least <= 1e-6) {
                QVERIFY(!r->uneven);
                continue;
            }
            ++uneven;
            QVERIFY2(r->uneven,
                     qPrintable(QString("seed %1 count %2: %3 to %4").arg(seed).arg(count).arg(least).arg(most)));
            NEAR(r->uneven->least, least, 1e-9);
            NEAR(r->uneven->most, most, 1e-9);
            // Spread: no single place moved a little makes the widest difference smaller.
            for (size_t i = 1; i + 1 < r->at.size(); ++i)
                for (double d : {-3.0, -1.0, -0.1, 0.1, 1.0, 3.0}) {
                    auto moved = r->at;
                    moved[i] += d;
                    const auto [l, m] = gapRange(occ, moved);
                    QVERIFY2(m - l >= most - least - 1e-6,
                             qPrintable(QString("seed %1 count %2: place %3 moved by %4 is better")
                                            .arg(seed)
                                            .arg(count)
                                            .arg(i + 1)
                                            .arg(d)));
                }
        }
    }
    QVERIFY2(uneven > 3, qPrintable(QString::number(uneven)));
}

void TestClearGap::leftOverToBothIsEven() {
    int even = 0;
    for (unsigned seed = 0; seed < 40; ++seed) {
        const Path p = seed % 2 ? spline(randomPoints(seed, 7, 500)) : legs(seed, 3);
        const Occupancy occ = plumb(p, kBoard);
        Spacing s = byGap(StepOff{73, LeftOver::Both});
        const auto r = solveSpacing(p, s, occ);
        QVERIFY(bool(r));
        QVERIFY(r->at.front() >= 0 && r->at.back() <= p.length() + 1e-6);
        NEAR(r->leftOver, p.length() - r->at.back() + r->at.front(), 1e-9);
        const double off = std::abs(r->at.front() - (p.length() - r->at.back()));
        even += off < 1e-6;
        if (off < 1e-6) continue;
        // A corner is in the way: then no first station does it, whatever is tried.
        s.rule = StepOff{73};
        const double room = r->leftOver;
        for (int i = 0; i < 400; ++i) {
            s.insetStart = room * i / 400;
            const auto other = solveSpacing(p, s, occ);
            if (other->at.size() != r->at.size()) continue;
            QVERIFY2(
                std::abs(other->at.front() - (p.length() - other->at.back())) > off - room / 100,
                qPrintable(
                    QString("seed %1: first at %2 is better than %3").arg(seed).arg(s.insetStart).arg(r->at.front())));
        }
    }
    QVERIFY2(even >= 30, qPrintable(QString::number(even)));
}

void TestClearGap::steppedGapsAreExactOnEveryProfile() {
    for (unsigned seed = 0; seed < 30; ++seed) {
        const Path p = seed % 2 ? spline(randomPoints(seed, 9, 700)) : legs(seed, 6);
        const Box3 box(Vec3(-20 - 10 * int(seed % 3), -5, seed % 5 ? 0 : -700), Vec3(60, 5, 900));
        const Occupancy occ = plumb(p, box);
        const auto r = solveSpacing(p, byGap(StepOff{40}), occ);
        QVERIFY2(bool(r), r ? "" : qPrintable(QString("seed %1: ").arg(seed) + r.problem().text.c_str()));
        for (size_t i = 1; i < r->at.size(); ++i) {
            const double g = gapBetween(occ, r->at[i - 1], r->at[i]);
            QVERIFY2(g >= 40 - 1e-6, qPrintable(QString("seed %1 gap %2 of %3").arg(seed).arg(i).arg(g)));
            if (g < 40 + 1e-6) continue;
            // Wider only where a place a hair earlier would be too near: the occupancy jumps there.
            QVERIFY(gapBetween(occ, r->at[i - 1], r->at[i] - 4e-6) < 40 + 1e-5);
        }
    }
}

void TestClearGap::tableAgreesWithTheExactOne() {
    for (unsigned seed = 0; seed < unsigned(rounds(8)); ++seed) {
        const Path p = seed % 2 ? spline(randomPoints(seed, 9, 900)) : knot();
        const Occupancy occ = plumb(p, Box3(Vec3(-30, -300, -100), Vec3(45, 20, 60 + 100 * seed)));
        GapWalk walk(occ);
        double least = 1e9, most = 0;
        for (int i = 0; i < 2000; ++i) {
            const double s = p.length() * (i + 0.37) / 2000;
            const Occupied exact = occ.at(s), table = walk.start(s);
            least = std::min(least, exact.total());
            most = std::max(most, exact.total());
            NEAR(table.ahead, exact.ahead, 1e-8);
            NEAR(table.behind, exact.behind, 1e-8);
        }
        QVERIFY(occ.mean() > least && occ.mean() < most);
    }
    // Up an arc, up a wall and over into another heading: a plumb part turns on the wall alone, from its first
    // millimetre to its last one.
    const double r = 1000;
    const Path wall =
        pathOf({Arc{{-r, 0, r}, -Vec3::UnitZ(), Vec3::UnitX(), r, kPi / 2}, Line{{0, 0, r}, {0, 0, 5 * r}},
                Arc{{0, r, 5 * r}, -Vec3::UnitY(), Vec3::UnitZ(), r, kPi / 2}});
    const Occupancy occ = plumb(wall, Box3(Vec3(-300, -20, 0), Vec3(200, 40, 90)));
    GapWalk walk(occ);
    for (const auto& z : wall.steepStretches())
        for (double at : {z.start, z.end})
            for (double d = -3; d <= 3; d += 0.06) {
                const Occupied exact = occ.at(at + d), table = walk.start(at + d);
                NEAR(table.ahead, exact.ahead, 1e-8);
                NEAR(table.behind, exact.behind, 1e-8);
            }
}

void TestClearGap::closedLoopsWithCorners() {
    // Loops of straight legs that rise and fall, their seam a corner: every gap over the seam, too.
    int even = 0;
    for (unsigned seed = 0; seed < 20; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> radius(900, 1600), height(-500, 500);
        const int n = 3 + int(seed % 4);
        std::vector<Vec3> at;
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n, r = radius(random);
            at.push_back({r * std::cos(a), r * std::sin(a), height(random)});
        }
        std::vector<Segment> sides;
        for (int i = 0; i < n; ++i) sides.push_back(Line{at[size_t(i)], at[size_t((i + 1) % n)]});
        const Path p = pathOf(sides, true);
        QCOMPARE(p.corners().size(), size_t(n));
        const Occupancy occ = plumb(p, kBoard);
        Spacing s = byGap(EvenOut{60});
        s.slide = seed % 3 ? 137.0 : 0.0;
        const auto r = solveSpacing(p, s, occ);
        QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
        auto stations = r->at;
        for (size_t i = 1; i < stations.size(); ++i) QVERIFY(stations[i] >= 0 && stations[i] <= p.length());
        double least = 1e300, most = -1e300;
        for (size_t i = 0; i < stations.size(); ++i) {
            const double a = stations[i], b = stations[(i + 1) % stations.size()];
            const double g = b - a + (b <= a ? p.length() : 0) - occ.at(a).ahead - occ.at(b).behind;
            least = std::min(least, g);
            most = std::max(most, g);
        }
        even += most - least < 1e-6;
        QVERIFY2(most - least < 1e-6 || r->uneven,
                 qPrintable(QString("seed %1: %2 to %3").arg(seed).arg(least).arg(most)));
        // No other count is nearer: its mean gap is what is free, shared.
        const auto mean = [&](long count) {
            const auto shared = solveSpacing(
                p,
                [&] {
                    Spacing q = s;
                    q.rule = ShareOut{count};
                    return q;
                }(),
                occ);
            double free = p.length();
            for (double x : shared->at) free -= occ.at(x).total();
            return free / double(count);
        };
        const long count = long(stations.size());
        const double off = std::abs(mean(count) - 60);
        QVERIFY2(off <= std::abs(mean(count + 1) - 60) + 2 && (count == 1 || off <= std::abs(mean(count - 1) - 60) + 2),
                 qPrintable(QString("seed %1: %2 places, mean %3").arg(seed).arg(count).arg(mean(count))));
        QVERIFY(count > 10);
    }
    QVERIFY2(even >= 10, qPrintable(QString::number(even)));
}

void TestClearGap::theWalkKnowsCorners() {
    for (CornerRule rule : {CornerRule::Bisector, CornerRule::LegBefore, CornerRule::LegAfter}) {
        Facing f;
        f.corner = rule;
        const Path p = legs(3, 5);
        const Occupancy occ(p, f, Mat3::Identity(), kBoard);
        GapWalk walk(occ);
        for (const auto& c : p.corners())
            for (double d : {-1e-3, -1e-5, -5e-7, 0.0, 5e-7, 1e-5, 1e-3}) {
                const Occupied exact = occ.at(c.station + d), table = walk.start(c.station + d);
                NEAR(table.ahead, exact.ahead, 1e-8);
                NEAR(table.behind, exact.behind, 1e-8);
            }
        // On a closed path the seam is one as well, from either side of it.
        const Path ring = pathOf(
            {Line{{0, 0, 0}, {900, 0, 200}}, Line{{900, 0, 200}, {400, 700, -100}}, Line{{400, 700, -100}, {0, 0, 0}}},
            true);
        const Occupancy round(ring, f, Mat3::Identity(), kBoard);
        GapWalk lap(round);
        NEAR(lap.start(0).ahead, round.at(0).ahead, 1e-9);
        NEAR(lap.start(ring.length()).ahead, round.at(0).ahead, 1e-9);
        NEAR(lap.start(2 * ring.length()).ahead, round.at(0).ahead, 1e-9);
        for (double s : {150.0, 1234.0, ring.length() - 40}) // any lap takes up what the first one does
            for (int n : {-1, 1, 3}) NEAR(lap.start(s + n * ring.length()).behind, round.at(s).behind, 1e-8);
    }
    // Many laps in one step: the same as in many.
    const Path ring = knot();
    const Occupancy occ = plumb(ring, kBoard);
    for (double gap : {3.4 * ring.length(), 1000.7 * ring.length()}) {
        GapWalk walk(occ);
        walk.start(55);
        const double front = walk.front(), to = walk.step(gap);
        const double at = std::fmod(to, ring.length());
        NEAR(to - occ.at(at).behind - front, gap, 1e-5);
        QVERIFY(to > 55 + gap && to < 55 + gap + 500);
    }
}

void TestClearGap::fitsBeginAtTheLeastCount() {
    const Path p = legs(4, 3);
    const Occupancy occ = plumb(p, kBoard);
    for (auto [rule, least] : {std::pair{SpacingRule(ShareOut{2}), 1L}, {SpacingRule(EvenOut{p.length()}), 2L}}) {
        const Spacing s = byGap(rule);
        const auto rows = fits(p, s, occ);
        QVERIFY2(bool(rows), rows ? "" : rows.problem().text.c_str());
        QCOMPARE(
            std::min_element(rows->begin(), rows->end(), [](auto& a, auto& b) { return a.count < b.count; })->count,
            least);
        int used = 0;
        for (const auto& row : *rows) used += row.inUse;
        QCOMPARE(used, 1);
    }
}

/// On a straight slope straight across is along the path, and what a plumb part takes up is its length over the cosine,
/// as large as it is there: all of it in closed form.
void TestClearGap::straightAcrossAndByLengthSlopesAndSizesCount() {
    const Path p = pathOf({Line{{0, 0, 0}, {3000, 0, 900}}});
    const double L = p.length(), half = 50 * L / 3000;
    for (const double grows : {0.0, 4e-4, -2e-4}) {
        const Profile sizes{{{0, 1.2}, {L, 1.2 + grows * L}}};
        const Occupancy occ(p, {}, Mat3::Identity(), kBoard, ProfileCurve(sizes, L, false, 1));
        for (const Along along : {Along::Path, Along::Straight})
            for (const Measure measure : {Measure::ClearGap, Measure::OfLength}) {
                Spacing s;
                s.rule = StepOff{30};
                s.measure = measure;
                s.along = along;
                s.ofLength = 1.25;
                const auto r = solveSpacing(p, s, occ);
                QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
                QVERIFY(r->at.size() > 10);
                // next - here = gap + half (k(here) + k(next)), or the share of what stands behind the gap.
                const double gap = measure == Measure::ClearGap ? 30 : 0, share = gap > 0 ? half : 1.25 * half;
                double at = 0;
                for (size_t i = 0; i < r->at.size(); ++i) {
                    NEAR(r->at[i], at, 1e-7);
                    at = (at + gap + share * (2.4 + grows * at)) / (1 - share * grows);
                }
                s.rule = ShareOut{9};
                const auto shared = solveSpacing(p, s, occ);
                QVERIFY2(bool(shared) && !shared->uneven, shared ? "" : shared.problem().text.c_str());
                for (size_t i = 1; i < 9; ++i) {
                    const double length = half * (2.4 + grows * (shared->at[i - 1] + shared->at[i]));
                    const double d = shared->at[i] - shared->at[i - 1];
                    NEAR(measure == Measure::ClearGap ? d - length : d / length, shared->value, 1e-6);
                }
                NEAR(shared->at.back(), L, 1e-9);
            }
    }
    // Where its length jumps a share may not come out: it is told.
    const Path bent = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}, Line{{1000, 0, 0}, {1300, 0, 1200}}});
    int told = 0;
    for (long n = 8; n < 20; ++n) {
        Spacing s;
        s.rule = ShareOut{n};
        s.measure = Measure::OfLength;
        const auto r = solveSpacing(bent, s, plumb(bent, kBoard));
        QVERIFY(bool(r));
        double least = 1e300, most = 0;
        for (size_t i = 1; i < r->at.size(); ++i) {
            const Occupancy occ = plumb(bent, kBoard);
            const double share = (r->at[i] - r->at[i - 1]) / (occ.at(r->at[i - 1]).ahead + occ.at(r->at[i]).behind);
            least = std::min(least, share), most = std::max(most, share);
        }
        QCOMPARE(most - least > 1e-6, r->uneven.has_value());
        if (!r->uneven) continue;
        ++told;
        QCOMPARE(int(r->uneven->of), int(Stations::Uneven::Of::Shares));
        NEAR(r->uneven->least, least, 1e-6);
        NEAR(r->uneven->most, most, 1e-6);
    }
    QVERIFY(told > 0);
}

void TestClearGap::aPitchInIsTheSameAtBothEnds() {
    const Path p = pathOf({Line{{0, 0, 0}, {1000, 0, 0}}});
    const Occupancy slab(p, {}, Mat3::Identity(), kBoard),
        stub(p, {}, Mat3::Identity(), Box3(Vec3(-20, -5, 0), Vec3(40, 5, 9)));
    for (const ShareEnds ends : {ShareEnds::HalfPitchIn, ShareEnds::PitchIn})
        for (const Along along : {Along::Path, Along::Straight}) {
            Spacing s;
            s.rule = ShareOut{6, ends};
            s.measure = Measure::OfLength;
            s.along = along;
            const auto r = solveSpacing(p, s, Lineup({slab, stub}, Pattern{{0, 1}}));
            QVERIFY(bool(r));
            const double lead = ends == ShareEnds::PitchIn ? 1 : 0.5;
            // Slab and stub in turn: 100 and 60 long, 70 and 90 from seat to seat.
            const double share = 1000 / (lead * (100 + 60) + 70 + 90 + 70 + 90 + 70);
            NEAR(r->value, share, 1e-9);
            NEAR(r->at.front(), lead * share * 100, 1e-7);
            NEAR(1000 - r->at.back(), lead * share * 60, 1e-7);
        }
}

VICINAL_SUITE(TestClearGap)

} // namespace test_clear_gap
#include "test_clear_gap.moc"
