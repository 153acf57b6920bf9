// Vehicles on pins and bogies, coupled to trains: against closed forms on circles, against the constraint integrated
// step by step, on any path in space, and where none can stand.
#include "layout/facing/facing.h"
#include "layout/placement_input.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "made.h"
#include "suite.h"
#include "support.h"

namespace test_vehicles {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Path circleOf(double r) { return pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), r, 2 * kPi}}, true); }

/// A box of a length and width, the seat at its own origin in the middle of its foot, pins at +-apart / 2.
PartOnRun box(double length, double width, double apart, std::array<int, 2> under = {-1, -1}) {
    PartOnRun p;
    p.seat.point = Vec3(0, 0, 0);
    p.box = Box3(Vec3(-length / 2, -width / 2, 0), Vec3(length / 2, width / 2, 900));
    if (apart > 0) p.pins = Pins{Vec3(-apart / 2, 0, 0), Vec3(apart / 2, 0, 0)};
    p.under = under;
    return p;
}

/// Slot 0 is what the run repeats.
PlacementInput orderOf(const std::vector<PartOnRun>& parts, Coupled rule) {
    PlacementInput o;
    o.seat = parts[0].seat;
    o.partBox = parts[0].box;
    o.pins = parts[0].pins;
    o.under = parts[0].under;
    o.others.assign(parts.begin() + 1, parts.end());
    o.spacing->rule = rule;
    o.facing.crown = Upright{};
    return o;
}

Vehicles vehiclesOn(const Path& path, const PlacementInput& o) {
    return vehiclesOf(path, o, made(resolved(o.facing, path)));
}

/// Where a point of a body is.
Vec3 pointOfBody(const Placement& laid, size_t body, const Vec3& at) {
    return (laid.pose(body) * at.homogeneous()).head<3>();
}

/// A straight, a quarter turn to the left, a straight, written by hand.
struct Bend {
    double straight, radius;
    Vec2 at(double s) const {
        if (s < straight) return {s, 0};
        const double a = (s - straight) / radius;
        if (a < kPi / 2) return {straight + radius * std::sin(a), radius * (1 - std::cos(a))};
        return {straight + radius, radius + s - straight - radius * kPi / 2};
    }
    Path path() const {
        return pathOf({Line{{0, 0, 0}, {straight, 0, 0}},
                       Arc{{straight, radius, 0}, -Vec3::UnitY(), Vec3::UnitX(), radius, kPi / 2},
                       Line{{straight + radius, radius, 0}, {straight + radius, radius + straight, 0}}});
    }
    /// The middle of a bogie whose back axle stands at s: its front axle by halving.
    Vec2 middle(double s, double wheelbase) const {
        double lo = s, hi = s + 2 * wheelbase;
        for (int i = 0; i < 200; ++i) {
            const double m = (lo + hi) / 2;
            ((at(m) - at(s)).norm() < wheelbase ? lo : hi) = m;
        }
        return (at(s) + at(lo)) / 2;
    }
};

} // namespace

class TestVehicles : public QObject {
    Q_OBJECT
private slots:
    void throwOnACircle();
    void bogiesRoundABendStepByStep();
    void trainsOnAnyPath();
    void nestedToAnyDepth();
    void theFirstWayOnIsTaken();
    void copiesCarryTheirBogies();
    void movedAndTurnedItStaysTheSame();
    void whatCannotStandSaysWhatWorks();
};

/// Centre throw and end throw, swing, and the smallest bend, on circles, with and without bogies.
void TestVehicles::throwOnACircle() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> u(0, 1);
    for (int round = 0; round < 40; ++round) {
        const double R = 8000 + 20000 * u(random), a = 3000 + 4000 * u(random), L = a * (1.2 + 0.6 * u(random)),
                     b = 800 + 2000 * u(random), c = round % 2 ? 600 + 1500 * u(random) : 0;
        const Path path = circleOf(R);
        PlacementInput o =
            orderOf(c > 0 ? std::vector{box(L, b, a, {1, 1}), box(c * 1.4, 700, c)} : std::vector{box(L, b, a)},
                    Coupled{1, 300, kPi});
        o.spacing->slide = 2 * kPi * R * u(random);
        const Placement laid = made(solvePlacement(path, o));
        QCOMPARE(laid.count(), size_t(1));
        QCOMPARE(laid.bodies(), size_t(c > 0 ? 3 : 1));
        const double pins = std::sqrt(R * R - c * c / 4), middle = std::sqrt(pins * pins - a * a / 4);
        NEAR(pointOfBody(laid, 0, {0, 0, 0}).norm(), middle, 1e-7);
        for (double side : {-1.0, 1.0}) NEAR(pointOfBody(laid, 0, {side * a / 2, 0, 0}).norm(), pins, 1e-7);
        const Vehicles all = vehiclesOn(path, o);
        std::vector<VehiclePose> below;
        const VehiclePose s = all.stand(0, laid.stations[0], &below);
        const double inside = R - middle + b / 2;
        const double outside = std::hypot(middle + b / 2, L / 2) - R;
        const EnvelopeAt at = envelopeAt(path, all, s, laid.usedSlots[0].seated);
        NEAR(at.inside(), inside, 1e-6);
        NEAR(at.outside(), outside, 1e-6);
        // The band over the whole path finds the same, all the way round.
        const std::vector<size_t> own{0};
        const SweptEnvelope swept = sweptEnvelope(path, all, own, laid.usedSlots);
        NEAR(swept.inside.reach, inside, 1e-6);
        NEAR(swept.outside.reach, outside, 1e-6);
        double widest = 0;
        for (size_t i = 0; i < swept.left.size(); ++i) {
            widest = std::max(widest, swept.left[i] + swept.right[i]);
            if (swept.stations[i] == swept.widestAt) NEAR(swept.widest, swept.left[i] + swept.right[i], 0);
        }
        NEAR(swept.widest, widest, 0);
        QVERIFY(widest > b && widest <= inside + outside + 0.1);
        for (double left : swept.left) NEAR(left, inside, 0.05); // the inside of the bend is on the left
        // Every station of a circle is like any other, just before and behind the seam, too.
        const auto [least, most] = std::minmax_element(swept.right.begin(), swept.right.end());
        NEAR(*least, *most, 1e-6);
        for (double right : swept.right) QVERIFY(right <= outside + 1e-6 && right > outside - 0.02 * b);
        if (c <= 0) continue;
        // Of the path it takes up what it is long, measured along itself, whatever the bend.
        NEAR(laid.occupied[0].total(), L, 1e-9);
        // So does its echo, also when that is moved or turned.
        PlacementInput echoed = o;
        echoed.echoes.one = {EchoKind::InLine, Vec3::Zero(), Vec3::UnitZ(), 2, 9000};
        echoed.exceptions = {{2, {}, false, 0, Vec3(0, 0, 10), Vec3(0, 0, 0.1)}};
        const Placement twice = made(solvePlacement(path, echoed));
        QCOMPARE(twice.count(), size_t(2));
        NEAR(twice.occupied[1].ahead, laid.occupied[0].ahead, 1e-9);
        NEAR(twice.occupied[1].behind, laid.occupied[0].behind, 1e-9);
        NEAR(laid.swings[0], std::asin(a / 2 / pins), 1e-9);
        // A bend in which the bogies turn just as far as they may is the smallest.
        NEAR(all.smallestRadius(0, laid.swings[0]), R, 1e-6);
    }
}

/// The constraint that the pivots stay as far apart as they are, integrated by Runge and Kutta from the straight on,
/// with the bogies' middles found by halving on a bend written by hand.
void TestVehicles::bogiesRoundABendStepByStep() {
    const Bend bend{9000, 6000};
    const double a = 3200, c = 1100;
    const Path path = bend.path();
    const PlacementInput o = orderOf({box(5000, 1600, a, {1, 1}), box(1500, 1500, c)}, Coupled{1, 300, kPi});
    const Vehicles all = vehiclesOn(path, o);
    const double h = 1e-3;
    const auto slope = [&](double rear, double front) {
        const auto Q = [&](double s) { return bend.middle(s, c); };
        const Vec2 d = Q(front) - Q(rear);
        const Vec2 vRear = (Q(rear + h) - Q(rear - h)) / (2 * h), vFront = (Q(front + h) - Q(front - h)) / (2 * h);
        return d.dot(vRear) / d.dot(vFront);
    };
    double rear = 1000, front = 1000 + a;
    const double step = 5;
    int compared = 0;
    while (front + c < path.length() - 200) {
        const double k1 = slope(rear, front), k2 = slope(rear + step / 2, front + step / 2 * k1),
                     k3 = slope(rear + step / 2, front + step / 2 * k2), k4 = slope(rear + step, front + step * k3);
        front += step / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
        rear += step;
        if (int(rear) % 500 != 0) continue;
        const VehiclePose s = all.stand(0, rear);
        QVERIFY(s.stands());
        const Vec2 back = bend.middle(rear, c), ahead = bend.middle(front, c);
        NEAR((s.back.head<2>() - back).norm(), 0, 1e-8);
        NEAR((s.front.head<2>() - ahead).norm(), 0, 2e-2); // of 20 m, by steps of 5 mm through kinks of the curvature
        NEAR((s.front - s.back).norm(), a, 1e-9);
        ++compared;
    }
    QVERIFY(compared > 20);
}

/// Different vehicles, with bogies and without, on curves in space: every axle on the path, every body rigid, every
/// coupling as long as asked, in order.
void TestVehicles::trainsOnAnyPath() {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(-1, 1);
        std::vector<Vec3> points;
        for (int i = 0; i < 14; ++i) points.push_back({i * 3000 + 400 * u(random), 700 * u(random), 90 * u(random)});
        const Path path = spline(points);
        std::vector<PartOnRun> parts{box(2600, 900, 1500, {3, 3}), box(1800, 900, 900), box(2200, 900, 1300, {3, -1}),
                                     box(500, 700, 320)};
        parts[1].seat.hooks = Pins{Vec3(-1000, 0, 90), Vec3(1050, 0, 90)};
        PlacementInput o = orderOf(parts, Coupled{7, 260 + 20.0 * seed, kPi});
        o.pattern.order = {0, 1, 2};
        o.spacing->insetStart = 300.0 * seed;
        const Placement laid = made(solvePlacement(path, o));
        QCOMPARE(laid.count(), size_t(7));
        const Vehicles all = vehiclesOn(path, o);
        const auto onPath = [&](const Vec3& p) { return (path.at(path.closest(p)).point - p).norm(); };
        NEAR(laid.stations[0], 300.0 * seed, 1e-9);
        size_t body = laid.count();
        std::vector<Vec3> frontHook(laid.count()), backHook(laid.count());
        for (size_t i = 0; i < laid.count(); ++i) {
            const size_t slot = laid.slot[i];
            const PartOnRun& part = parts[slot];
            if (i > 0) QVERIFY(laid.stations[i] > laid.stations[i - 1]);
            for (size_t k = 0; k < 2; ++k) {
                const Vec3 pin = pointOfBody(laid, i, (*part.pins)[k]);
                if (part.under[k] < 0) {
                    NEAR(onPath(pin), 0, 1e-7);
                    continue;
                }
                // The bogie: its own pins on the path, its middle at this pin.
                QCOMPARE(laid.placeOf(body), i);
                QCOMPARE(size_t(laid.slot[body]), size_t(part.under[k]));
                const Vec3 p = pointOfBody(laid, body, (*parts[3].pins)[0]),
                           q = pointOfBody(laid, body, (*parts[3].pins)[1]);
                NEAR(onPath(p), 0, 1e-7);
                NEAR(onPath(q), 0, 1e-7);
                NEAR(((p + q) / 2 - pin).norm(), 0, 1e-8);
                NEAR((q - p).norm(), 320, 1e-9);
                ++body;
            }
            const Gear& gear = all.gear(slot);
            const Frame& f = laid.frames[i];
            backHook[i] = f.seat + f.axes * gear.hooks[0];
            frontHook[i] = f.seat + f.axes * gear.hooks[1];
            NEAR((f.axes.transpose() * f.axes - Mat3::Identity()).norm(), 0, 1e-12);
        }
        QCOMPARE(body, laid.bodies());
        for (size_t i = 1; i < laid.count(); ++i)
            NEAR((backHook[i] - frontHook[i - 1]).norm(), 260 + 20.0 * seed, 1e-8);
    }
}

/// A vehicle on bogies on bogies: on a circle every level lies inside the one under it by the same law.
void TestVehicles::nestedToAnyDepth() {
    const double R = 15000;
    const Path path = circleOf(R);
    const PlacementInput o = orderOf(
        {box(9000, 2000, 6000, {1, 1}), box(3000, 1800, 2000, {2, 2}), box(1200, 1600, 900)}, Coupled{1, 300, kPi});
    const Placement laid = made(solvePlacement(path, o));
    QCOMPARE(laid.bodies(), size_t(1 + 2 + 4));
    const double axle = std::sqrt(R * R - 450 * 450), lower = std::sqrt(axle * axle - 1000 * 1000),
                 upper = std::sqrt(lower * lower - 3000.0 * 3000);
    NEAR(pointOfBody(laid, 0, {0, 0, 0}).norm(), upper, 1e-6);
    int at[2] = {0, 0};
    for (size_t i = 1; i < 7; ++i) {
        const bool low = laid.slot[i] == 2;
        NEAR(pointOfBody(laid, i, {0, 0, 0}).norm(), low ? axle : lower, 1e-6);
        ++at[low];
    }
    QCOMPARE(at[0], 2);
    QCOMPARE(at[1], 4);
    NEAR(laid.swings[0], std::max(std::asin(3000 / lower), std::asin(1000 / axle)), 1e-9);
}

/// Two strands beside each other: the front pin of a vehicle and the next vehicle are found along the path, not across.
void TestVehicles::theFirstWayOnIsTaken() {
    const double apart = 700;
    const Path path = pathOf({Line{{0, 0, 0}, {12000, 0, 0}},
                              Arc{{12000, apart / 2, 0}, -Vec3::UnitY(), Vec3::UnitX(), apart / 2, kPi},
                              Line{{12000, apart, 0}, {0, apart, 0}}});
    PlacementInput o = orderOf({box(1500, 300, 900, {1, 1}), box(300, 200, 160)}, Coupled{5, 250, kPi});
    const Placement laid = made(solvePlacement(path, o));
    for (size_t i = 0; i < laid.count(); ++i) {
        NEAR(laid.frames[i].seat.y(), 0, 1e-9); // all on the first strand
        if (i > 0) NEAR(laid.stations[i] - laid.stations[i - 1], 1500 + 250, 1e-8);
    }
    // Through the hairpin: in order, each pin within reach of its neighbours along the path.
    const double r = 2500;
    const Path wide = pathOf({Line{{0, 0, 0}, {12000, 0, 0}}, Arc{{12000, r, 0}, -Vec3::UnitY(), Vec3::UnitX(), r, kPi},
                              Line{{12000, 2 * r, 0}, {0, 2 * r, 0}}});
    o.spacing->insetStart = 9000;
    const Placement round = made(solvePlacement(wide, o));
    for (size_t i = 1; i < round.count(); ++i) {
        const double d = round.stations[i] - round.stations[i - 1];
        QVERIFY2(d > 1700 && d < 1900, qPrintable(QString::number(d)));
    }
}

void TestVehicles::copiesCarryTheirBogies() {
    const Path path = circleOf(9000);
    PlacementInput o = orderOf({box(2600, 900, 1500, {1, 1}), box(700, 800, 400)}, Coupled{3, 300, kPi});
    o.echoes.one.kind = EchoKind::Mirrored;
    o.echoes.one.at = Vec3(20000, 0, 0);
    o.echoes.one.along = Vec3::UnitX();
    o.echoes.two.kind = EchoKind::InLine;
    o.echoes.two.along = Vec3::UnitY();
    o.echoes.two.by = 30000;
    o.echoes.two.count = 2;
    const Placement laid = made(solvePlacement(path, o));
    QCOMPARE(laid.count(), size_t(12));
    QCOMPARE(laid.bodies(), size_t(36));
    // Every bogie's middle is at a pin of its own vehicle, on every copy, and stands level.
    for (size_t b = laid.count(); b < laid.bodies(); ++b) {
        const size_t place = laid.placeOf(b);
        const Vec3 middle = pointOfBody(laid, b, {0, 0, 0});
        const double back = (middle - pointOfBody(laid, place, {-750, 0, 0})).norm(),
                     front = (middle - pointOfBody(laid, place, {750, 0, 0})).norm();
        NEAR(std::min(back, front), 0, 1e-7);
        NEAR(laid.frames[b].axes(2, 2), 1, 1e-12);
        NEAR(laid.frames[b].axes.determinant(), 1, 1e-12);
    }
    // In the mirror a bogie turns to the other side.
    const auto yaw = [&](size_t body) {
        const Mat3 R = laid.frames[laid.placeOf(body)].axes.transpose() * laid.frames[body].axes;
        return std::atan2(R(1, 0), R(0, 0));
    };
    size_t first = laid.count(), mirrored = first;
    while (laid.placeOf(mirrored) != 3) ++mirrored;
    QVERIFY(std::abs(yaw(first)) > 0.05);
    NEAR(yaw(mirrored), -yaw(first), 1e-9);
    const Places places = placesOf(std::make_shared<const Placement>(laid), {2}, path);
    for (size_t b = 0; b < laid.bodies(); ++b) QCOMPARE(places.leftOut(b), laid.placeOf(b) == 1);
}

void TestVehicles::movedAndTurnedItStaysTheSame() {
    std::vector<Vec3> points;
    for (int i = 0; i < 9; ++i) points.push_back({i * 3000.0, 600.0 * (i % 3), 70.0 * (i % 4)});
    const Mat3 R = Eigen::AngleAxisd(1.1, Vec3::UnitZ()).toRotationMatrix();
    const Vec3 t(4000, -9000, 700);
    std::vector<Segment> other;
    for (const Segment& s : splineThrough(points)) other.push_back(moved(s, R, t));
    PlacementInput o = orderOf({box(2600, 900, 1500, {1, 1}), box(700, 800, 400)}, Coupled{0, 300, kPi});
    const Placement a = made(solvePlacement(spline(points), o)), b = made(solvePlacement(pathOf(other), o));
    QCOMPARE(a.count(), b.count());
    QVERIFY(a.count() > 4);
    for (size_t i = 0; i < a.bodies(); ++i) {
        NEAR((R * a.frames[i].seat + t - b.frames[i].seat).norm(), 0, 1e-6);
        NEAR((R * a.frames[i].axes - b.frames[i].axes).norm(), 0, 1e-9);
    }
    NEAR(a.leftOver, b.leftOver, 1e-6);
}

void TestVehicles::whatCannotStandSaysWhatWorks() {
    const Path line = pathOf({Line{{0, 0, 0}, {10000, 0, 0}}});
    const auto problem = [](const Path& path, const PlacementInput& o) {
        const auto laid = solvePlacement(path, o);
        return laid ? std::pair<std::string, std::string>{"fine", ""}
                    : std::pair<std::string, std::string>{laid.problem().field, laid.problem().text};
    };
    const auto train = [](Coupled rule) { return orderOf({box(2600, 900, 1500, {1, 1}), box(700, 800, 400)}, rule); };
    QCOMPARE(problem(line, train({2, 300, kPi})).first, std::string("fine"));
    QCOMPARE(problem(line, train({9, 300, kPi})).first, std::string("vehicles"));
    QVERIFY(QString::fromStdString(problem(line, train({9, 300, kPi})).second).contains("at most 3"));
    QCOMPARE(problem(line, train({-1, 300, kPi})).first, std::string("vehicles"));
    QCOMPARE(problem(line, train({1'000'000, 300, kPi})).first, std::string("vehicles"));
    const PlacementInput tiny = orderOf({box(1, 1, 0.5)}, {0, 0.1, kPi});
    QVERIFY(QString::fromStdString(problem(line, tiny).second).contains("Type how many"));
    QCOMPARE(problem(line, train({2, -1, kPi})).first, std::string("coupling"));
    QCOMPARE(problem(line, train({2, std::nan(""), kPi})).first, std::string("coupling"));
    QCOMPARE(problem(line, train({2, 300, 0})).first, std::string("swing"));
    PlacementInput o = orderOf({box(26000, 900, 15000)}, {1, 300, kPi});
    QCOMPARE(problem(line, o).first, std::string("rule")); // longer than the path
    o = orderOf({box(2600, 900, 0)}, {1, 300, kPi});
    QVERIFY(QString::fromStdString(problem(line, o).second).contains("no pins"));
    o = orderOf({box(2600, 900, 1500, {1, 1}), box(700, 800, 0)}, {1, 300, kPi});
    QCOMPARE(problem(line, o).first, std::string("under"));
    o = orderOf({box(2600, 900, 1500, {1, 1}), box(700, 800, 400, {0, 0})}, {1, 300, kPi});
    QCOMPARE(problem(line, o).first, std::string("under"));
    o = train({2, 300, kPi});
    o.spacing->bays = BayEdges::Stations;
    o.spacing->bayStations = {5000};
    QCOMPARE(problem(line, o).first, std::string("bays"));
    o = train({2, 300, kPi});
    o.spacing->rule = PinToPin{};
    QCOMPARE(problem(line, o).first, std::string("rule"));
    // Bodies that reach beyond their coupling points: what is said works, a little less does not.
    auto part = box(2600, 900, 1500);
    part.seat.hooks = Pins{Vec3(-1200, 0, 0), Vec3(1200, 0, 0)};
    const auto [field, text] = problem(line, orderOf({part}, {2, 150, kPi}));
    QCOMPARE(field, std::string("coupling"));
    QVERIFY2(QString::fromStdString(text).contains("Use 200 mm"), text.c_str());
    QCOMPARE(problem(line, orderOf({part}, {2, 200, kPi})).first, std::string("fine"));
    // Ends without a bar between them: on the straight they meet, in a bend that tightens they cannot.
    auto bare = box(2600, 900, 1000);
    bare.seat.hooks = Pins{Vec3(-1300, 0, 0), Vec3(1300, 0, 0)};
    QCOMPARE(problem(line, orderOf({bare}, {3, 0, kPi})).first, std::string("fine"));
    const Path s = pathOf({Arc{{0, 3000, 0}, -Vec3::UnitY(), Vec3::UnitX(), 3000, 1},
                           Arc{{6000 * std::sin(1), 3000 - 6000 * std::cos(1), 0},
                               Vec3(-std::sin(1), std::cos(1), 0),
                               Vec3(std::cos(1), std::sin(1), 0),
                               3000,
                               -1}});
    o = orderOf({bare}, {2, 0, kPi});
    o.spacing->insetStart = 1500;
    const auto bridge = problem(s, o);
    QCOMPARE(bridge.first, std::string("coupling"));
    QVERIFY2(QString::fromStdString(bridge.second).contains("swing apart"), bridge.second.c_str());
}

VICINAL_SUITE(TestVehicles)

} // namespace test_vehicles
#include "test_vehicles.moc"
