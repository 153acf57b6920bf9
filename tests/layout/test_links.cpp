// Chains of links: regular polygons, sprockets, play, joints; against closed forms and by what must not matter.
#include "base/numeric/root.h"
#include "clearance/verdict.h"
#include "geometry/wheels/wheels.h"
#include "layout/placement_input.h"
#include "layout/places.h"
#include "layout/rules.h"
#include "layout/spacing/rules.h"
#include "suite.h"

namespace test_links {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Links of these pin distances, in turn.
PlacementInput links(std::vector<double> pins, PinToPin rule = {}) {
    PlacementInput o;
    const auto part = [](double d) {
        return PartOnRun{
            {}, Box3(Vec3(-d / 2 - 3, -4, -4), Vec3(d / 2 + 3, 4, 4)), {}, Pins{Vec3(-d / 2, 0, 0), Vec3(d / 2, 0, 0)}};
    };
    const PartOnRun own = part(pins[0]);
    o.partBox = own.box;
    o.pins = own.pins;
    for (size_t k = 1; k < pins.size(); ++k) o.others.push_back(part(pins[k]));
    o.pattern.order.clear();
    for (size_t k = 0; k < pins.size(); ++k) o.pattern.order.push_back(std::uint16_t(k));
    o.spacing->rule = rule;
    o.facing.crown = Carried{};
    return o;
}

Places placed(const Path& p, const PlacementInput& o) {
    auto r = place(p, o);
    if (!r) qFatal("%s", r.problem().text.c_str());
    return *r;
}

Path ring(double radius) { return pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), radius, 2 * kPi}}, true); }

Path loop(const std::vector<WheelCircle>& wheels) {
    const auto made = loopRound(wheels, true, false);
    if (!made) qFatal("%s", made.problem().text.c_str());
    return pathOf(made->curve.segments, true);
}

/// Pins of a placed run in space: back and front of every link.
std::pair<Vec3, Vec3> pinsOf(const Places& p, const PlacementInput& o, size_t i) {
    const Pins pins = p.laid->slot[i] == 0 ? *o.pins : *o.others[p.laid->slot[i] - 1u].pins;
    const Mat4 m = p.pose(i);
    const auto at = [&](const Vec3& v) { return Vec3(m.topLeftCorner<3, 3>() * v + m.topRightCorner<3, 1>()); };
    return {at(pins[0]), at(pins[1])};
}

} // namespace

class TestLinks : public QObject {
    Q_OBJECT
private slots:
    void polygonsCloseOnTheirCircle();
    void equalSprocketsCloseExactly();
    void pinsSitOnThePitchCircle();
    void closingIsOneThing();
    void playClosesTheChain();
    void openChainsReachTheEnd();
    void alternatingLinksCountInPairs();
    void jointsTellHowFarTheyTurn();
    void nothingDependsOnHowThePathWasCut();
    void excessIsWhatIsLeft();
    void rootsAreTheNearest();
    void whatCannotBeIsSaid();
};

/// n links of pin distance p close on a circle of radius p / (2 sin(pi / n)).
void TestLinks::polygonsCloseOnTheirCircle() {
    for (int n : {3, 4, 7, 24, 86, 500}) {
        const double p = 25.4, r = p / (2 * std::sin(kPi / n));
        const Path path = ring(r);
        const PlacementInput o = links({p}, {n});
        const Places all = placed(path, o);
        QCOMPARE(all.count(), size_t(n));
        NEAR(*all.laid->closing, 0, 1e-9);
        for (size_t i = 0; i < all.count(); ++i) {
            const auto [a, b] = pinsOf(all, o, i);
            const auto [c, d] = pinsOf(all, o, (i + 1) % all.count());
            NEAR((b - c).norm(), 0, 1e-9);
            NEAR(a.norm(), r, 1e-9);
            NEAR(std::atan2(a.y(), a.x()) - std::remainder(2 * kPi * double(i) / n, 2 * kPi), 0,
                 std::abs(std::abs(std::atan2(a.y(), a.x())) - kPi) < 1e-6 ? 10 : 1e-9);
        }
        for (double turn : all.laid->joints) NEAR(turn, 2 * kPi / n, 1e-9);
        QCOMPARE(all.laid->joints.size(), size_t(n));
    }
}

/// Two sprockets of z teeth, k pitches apart, take z + 2k links without any error.
void TestLinks::equalSprocketsCloseExactly() {
    for (long z : {12L, 18L, 24L, 38L})
        for (long k : {10L, 30L, 50L}) {
            const double p = 12.7, r = pitchRadius(z, p);
            if (double(k) * p < 2.1 * r) continue; // no room for both
            // With an even z both half circles hold whole links, the first pin where the chain reaches a wheel.
            const Path path = loop({{{0, 0}, r, true}, {{double(k) * p, 0}, r, true}});
            const Places all = placed(path, links({p}, {z + 2 * k}));
            NEAR(*all.laid->closing, 0, 1e-9);
            QCOMPARE(placed(path, links({p})).count(), size_t(z + 2 * k));
            // Unequal ones: the textbook's count is good to a fraction of a link.
            const long z2 = z + 15;
            const double c = double(k) * p, r2 = pitchRadius(z2, p);
            if (c < (r + r2) * 1.2) continue;
            const Path two = loop({{{0, 0}, r, true}, {{c, 0}, r2, true}});
            const double book = 2 * c / p + double(z + z2) / 2 + std::pow(double(z2 - z) / (2 * kPi), 2) * p / c;
            const Lineup lineup = lineupOf(two, links({p}));
            Spacing s;
            s.rule = PinToPin{};
            const long n = *nearestCount(two, s, lineup);
            QVERIFY(std::abs(double(n) - *excess(two, s, lineup, n) / p - book) < 0.25);
        }
}

/// What is missing is one thing, straight, in the table of counts as in what stands; links that alternate close in
/// whole patterns only, whatever gives way.
void TestLinks::closingIsOneThing() {
    const Path path = ring(500);
    for (long n : {27L, 29L, 31L, 33L}) {
        PlacementInput o = links({100}, {n});
        const auto rows = fits(path, o.spacing, lineupOf(path, o));
        QVERIFY(bool(rows));
        const double chord = *placed(path, o).laid->closing;
        const double turn = 2 * kPi - double(n) * 2 * std::asin(0.1);
        NEAR(chord, (turn > 0 ? 1 : -1) * 1000 * std::abs(std::sin(turn / 2)), 1e-8);
        for (const Fit& f : *rows)
            if (f.inUse) NEAR(*f.closing, chord, 1e-9);
    }
    PlacementInput two = links({100, 100});
    const auto odd = excess(path, two.spacing, lineupOf(path, two), 31);
    QVERIFY(!odd);
    QVERIFY2(odd.problem().text.find("30 or 32") != std::string::npos, odd.problem().text.c_str());
    QVERIFY(bool(excess(path, two.spacing, lineupOf(path, two), 32)));
}

/// Links round sprockets whose line is the pitch circle: pins on it at equal angles, whatever comes between.
void TestLinks::pinsSitOnThePitchCircle() {
    const double p = 25.4;
    const std::vector<std::pair<long, Vec2>> wheels{{38, {0, 0}}, {17, {480, -30}}, {15, {260, 240}}};
    std::vector<WheelCircle> circles;
    for (const auto& [z, c] : wheels) circles.push_back({c, pitchRadius(z, p), true});
    const auto made = loopRound(circles, true, false);
    QVERIFY(bool(made));
    const Path path = pathOf(made->curve.segments, true);
    const Places all = placed(path, links({p}));
    for (size_t w = 0; w < wheels.size(); ++w) {
        double before = std::nan(""); // angle of the pin before
        int engaged = 0;
        const auto& contact = made->contacts[w];
        for (size_t i = 0; i < all.count(); ++i) {
            double s = all.stations()[i];
            if (contact.arrives > contact.leaves && s < contact.arrives) s += path.length();
            const double leaves = contact.leaves + (contact.arrives > contact.leaves ? path.length() : 0);
            if (s < contact.arrives || s > leaves) {
                before = std::nan("");
                continue;
            }
            const Vec3 at = path.at(all.stations()[i]).point;
            const Vec2 d = at.head<2>() - circles[w].centre;
            NEAR(d.norm(), circles[w].radius, 1e-9);
            const double angle = std::atan2(d.y(), d.x());
            if (!std::isnan(before))
                NEAR(std::remainder(angle - before - 2 * kPi / double(wheels[w].first), 2 * kPi), 0, 1e-9);
            before = angle;
            ++engaged;
        }
        QVERIFY(engaged >= 2);
    }
}

void TestLinks::playClosesTheChain() {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        // A loop in space without hairpins.
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(-1, 1);
        std::vector<Vec3> points;
        for (int k = 0; k < 9; ++k) {
            const double a = 2 * kPi * k / 9, r = 1000 + 250 * u(random);
            points.push_back({r * std::cos(a), r * std::sin(a), 200 * u(random)});
        }
        const Path path = spline(points, true);
        const double p = path.length() / 90.3;
        PlacementInput o = links({p}, {0, LeftOver::AtEnd, p / 50});
        const Places all = placed(path, o);
        const double play = all.laid->play;
        QVERIFY(play != 0 && std::abs(play) <= p / 50);
        NEAR(*all.laid->closing, 0, 1e-9);
        // Every joint has the same play, shared by both its links, which lie on the line through their stations.
        const size_t n = all.count();
        for (size_t i = 0; i < n; ++i) {
            const auto [a, b] = pinsOf(all, o, i);
            const Vec3 from = path.at(all.stations()[i]).point, to = path.at(all.stations()[(i + 1) % n]).point;
            NEAR((b - a).norm(), p, 1e-9);
            NEAR((to - from).norm(), p + play, 1e-8);
            NEAR((a - from).norm(), std::abs(play) / 2, 1e-8);
            NEAR((b - to).norm(), std::abs(play) / 2, 1e-8);
        }
        // Too little play: it stays open, and says by how much.
        std::get<PinToPin>(o.spacing->rule) = {long(n), LeftOver::AtEnd, std::abs(play) / 2};
        const Places open = placed(path, o);
        QCOMPARE(open.laid->play, 0.0);
        QVERIFY(std::abs(*open.laid->closing) > 1e-3);
        // The table tells the same play for that count.
        const auto rows = fits(path, o.spacing, lineupOf(path, o));
        QVERIFY(bool(rows));
        const auto row = std::find_if(rows->begin(), rows->end(), [&](const Fit& f) { return f.count == long(n); });
        QVERIFY(row != rows->end() && row->inUse);
        NEAR(*row->play, play, 1e-9);
        for (const Fit& f : *rows) // more links need less room each
            if (f.play) QVERIFY((f.count > row->count) == (*f.play < *row->play) || f.count == row->count);
    }
}

void TestLinks::openChainsReachTheEnd() {
    const Path path = spline(randomPoints(4, 6, 600));
    const double p = path.length() / 40.4;
    const PlacementInput o = links({p, 1.5 * p}, {0, LeftOver::AtEnd, p / 10});
    const Places all = placed(path, o);
    const auto [first, a] = pinsOf(all, o, 0);
    const auto [b, last] = pinsOf(all, o, all.count() - 1);
    const double half = std::abs(all.laid->play) / 2;
    QVERIFY(half > 0);
    NEAR((first - path.at(0).point).norm(), half, 1e-8);
    NEAR((last - path.at(path.length()).point).norm(), half, 1e-8);
    NEAR(all.laid->leftOver, 0, 1e-9);
    QCOMPARE(all.laid->joints.size(), all.count() - 1);
}

void TestLinks::alternatingLinksCountInPairs() {
    const Path path = ring(300);
    PlacementInput o = links({20, 25});
    QVERIFY(placed(path, o).count() % 2 == 0); // inner meets outer at the seam
    std::get<PinToPin>(o.spacing->rule).count = 41;
    const auto odd = place(path, o);
    QCOMPARE(odd.problem().field, std::string("links"));
    QVERIFY(odd.problem().text.find("40 or 42") != std::string::npos);
    o.spacing->multiple = 3; // both wishes
    std::get<PinToPin>(o.spacing->rule).count = 0;
    QCOMPARE(placed(path, o).count() % 6, size_t(0));
    const auto rows = fits(path, o.spacing, lineupOf(path, o));
    for (const Fit& f : *rows) QCOMPARE(f.count % 6, 0L);
}

void TestLinks::jointsTellHowFarTheyTurn() {
    // Round a right corner: one link before, one behind, the joint near it turns; on a straight none does.
    const Path corner = pathOf({Line{{0, 0, 0}, {100, 0, 0}}, Line{{100, 0, 0}, {100, 100, 0}}});
    const Places all = placed(corner, links({20}));
    const auto& turns = all.laid->joints;
    NEAR(turns[0], 0, 1e-9);
    NEAR(turns[4], kPi / 2, 1e-9); // the fifth link ends on the corner
    const Places between = placed(corner, links({30}));
    // One link cuts the corner: it turns twice, together by the corner.
    double sum = 0;
    for (double t : between.laid->joints) sum += t;
    NEAR(sum, kPi / 2, 1e-9);
    QVERIFY(*std::max_element(between.laid->joints.begin(), between.laid->joints.end()) < kPi / 2 - 0.1);
    // The verdict names the place whose link turns most from the one before; of a closed chain that may be the first.
    const auto place = [](const Places& p) {
        size_t sharpest = 0;
        double most = -1;
        for (size_t i = p.laid->closed ? 0 : 1; i < p.count(); ++i) {
            const Vec3 x = p.frame((i + p.count() - 1) % p.count()).axes.col(0), next = p.frame(i).axes.col(0);
            if (const double turn = std::acos(std::clamp(x.dot(next), -1.0, 1.0)); turn > most + 1e-7)
                most = turn, sharpest = i;
        }
        return sharpest + 1;
    };
    const Path drop = pathOf(
        {Line{{0, 0, 0}, {1520, 0, 0}}, Line{{1520, 0, 0}, {1520, 1140, 0}}, Line{{1520, 1140, 0}, {0, 0, 0}}}, true);
    for (const Places& p : {all, between, placed(drop, links({38}))}) {
        Spacing chain;
        chain.rule = PinToPin{};
        const Verdict v = judgeGaps(p, chain);
        QVERIFY2(v.text.find("at place " + std::to_string(place(p)) + ".") != std::string::npos,
                 (v.text + " not " + std::to_string(place(p))).c_str());
    }
}

/// Moved, turned, cut into other pieces, run the other way round: the same chain.
void TestLinks::nothingDependsOnHowThePathWasCut() {
    const double p = 31.7;
    for (unsigned seed = 3; seed < 9; ++seed) {
        const std::vector<WheelCircle> wheels{
            {{0, 0}, 150. + seed, true}, {{700, 20. * seed}, 80, true}, {{300, 500}, 60, true}};
        const auto made = loopRound(wheels, true, false);
        const Path path = pathOf(made->curve.segments, true);
        const PlacementInput o = links({p}, {60});
        const double closing = *placed(path, o).laid->closing;
        std::vector<Segment> halves;
        for (const Segment& s : made->curve.segments) {
            if (const auto* a = std::get_if<Arc>(&s); a && a->sweep > 0.1) {
                const double half = a->sweep / 2;
                halves.push_back(Arc{a->centre, a->xAxis, a->yAxis, a->radius, half});
                halves.push_back(Arc{a->centre, std::cos(half) * a->xAxis + std::sin(half) * a->yAxis,
                                     std::cos(half) * a->yAxis - std::sin(half) * a->xAxis, a->radius, half});
            } else if (const auto* l = std::get_if<Line>(&s)) {
                const Vec3 m = l->a + 0.3 * (l->b - l->a);
                halves.push_back(Line{l->a, m});
                halves.push_back(Line{m, l->b});
            } else {
                halves.push_back(s);
            }
        }
        NEAR(*placed(pathOf(halves, true), o).laid->closing, closing, 1e-8);
        const Mat3 R =
            (Eigen::AngleAxisd(0.7, Vec3::UnitX()) * Eigen::AngleAxisd(seed, Vec3::UnitZ())).toRotationMatrix();
        std::vector<Segment> turned;
        for (const Segment& s : made->curve.segments) turned.push_back(moved(s, R, Vec3(1e4, -2e4, 3e3)));
        NEAR(*placed(pathOf(turned, true), o).laid->closing, closing, 1e-7);
    }
}

/// Open runs: what they leave over; closed ones: how far a count reaches beyond once round.
void TestLinks::excessIsWhatIsLeft() {
    for (unsigned seed = 1; seed < 8; ++seed) {
        const Path path = spline(randomPoints(seed, 6, 500));
        const double L = path.length();
        for (int kind = 0; kind < 4; ++kind) {
            PlacementInput o = links({L / 33.3});
            Spacing& s = o.spacing;
            s.insetStart = L / 30;
            if (kind == 1) s.rule = StepOff{L / 21.7};
            if (kind == 2) s.rule = StepOff{L / 40}, s.measure = Measure::ClearGap, o.facing.crown = Plumb{};
            if (kind == 3) s.rule = Graded{{{{0, L / 30}, {L, L / 20}}, seed % 2 == 0}, 0};
            const Lineup lineup = lineupOf(path, o);
            const auto now = solveSpacing(path, s, lineup);
            QVERIFY(bool(now));
            const auto e = excess(path, s, lineup, long(now->at.size()));
            QVERIFY2(bool(e), e ? "" : e.problem().text.c_str());
            if (kind < 3) NEAR(*e, -now->leftOver, 1e-7);
            if (kind == 3) QVERIFY(*e <= 1e-9 && *e > -L / 19);
            const long nearest = *nearestCount(path, s, lineup);
            QVERIFY(std::abs(*excess(path, s, lineup, nearest)) <= std::abs(*e) + 1e-9);
            // Of all counts there are none comes nearer.
            long best = 0;
            for (long n = 2; n < 60; ++n)
                if (const auto x = excess(path, s, lineup, n);
                    x && (best == 0 || std::abs(*x) < std::abs(*excess(path, s, lineup, best))))
                    best = n;
            QCOMPARE(nearest, best);
        }
    }
    Spacing shared = shareOut(5);
    const Path p = straight(100);
    QCOMPARE(excess(p, shared, lineupOf(p, links({3})), 5).problem().field, std::string("rule"));
}

/// The search against a fine scan: functions with many roots, poles, gaps and jumps.
void TestLinks::rootsAreTheNearest() {
    std::mt19937 random(12);
    std::uniform_real_distribution<double> u(0, 1);
    for (int k = 0; k < 400; ++k) {
        const double a = 1 + 3 * u(random), b = u(random) * 6, c = u(random) - 0.5, hole = 4 * u(random) - 2;
        const int kind = k % 4;
        const auto f = [&](double x) {
            if (kind == 1 && std::abs(x - hole) < 0.3) return std::nan("");
            double v = std::sin(a * x + b) + 0.2 * x + c;
            if (kind == 2) v += x > hole ? 3 : -3; // a jump through zero is no root
            if (kind == 3) v = (x - hole) * (x - hole) - 0.04 * a;
            return v;
        };
        RootWanted want{0, -5, 5, 0.02};
        const RootFound r = nearestRoot(f, want);
        double nearest = 1e9;
        for (double x = -5; x < 5; x += 1e-3) {
            const double p = f(x), q = f(x + 1e-3);
            if (!std::isnan(p) && !std::isnan(q) && (p > 0) != (q > 0) && std::abs(q - p) < 1)
                nearest = std::min(nearest, std::abs(x));
        }
        if (nearest > 100) { // none: it says so, with the best there is
            QVERIFY(!r.exact);
            continue;
        }
        QVERIFY2(r.exact, qPrintable(QString("%1 of kind %2").arg(k).arg(kind)));
        QVERIFY(std::abs(f(r.at)) <= 1e-9);
        QVERIFY2(std::abs(r.at) <= nearest * 1.3 + 0.3,
                 qPrintable(QString("%1: %2 for %3").arg(k).arg(r.at).arg(nearest)));
    }
}

void TestLinks::whatCannotBeIsSaid() {
    const auto field = [](const Path& p, const PlacementInput& o) {
        const auto r = place(p, o);
        return r ? std::string("placed") : r.problem().field;
    };
    QCOMPARE(field(ring(3), links({25.4})), std::string("rule")); // pins farther apart than the loop
    QCOMPARE(field(ring(300), links({0})), std::string("rule"));  // two pins at one point
    PlacementInput none = links({20});
    none.pins.reset();
    QCOMPARE(field(ring(300), none), std::string("rule"));
    QCOMPARE(field(ring(300), links({20}, {-4})), std::string("links"));
    QCOMPARE(field(ring(300), links({20}, {500})), std::string("links"));
    QCOMPARE(field(ring(300), links({20}, {0, LeftOver::AtEnd, -1})), std::string("play"));
    QCOMPARE(field(ring(300), links({20}, {0, LeftOver::AtEnd, 0, 0})), std::string("jointTurn"));
    QCOMPARE(field(ring(300), links({20}, {0, LeftOver::AtEnd, std::nan(""), 1})), std::string("play"));
}

VICINAL_SUITE(TestLinks)

} // namespace test_links
#include "test_links.moc"
