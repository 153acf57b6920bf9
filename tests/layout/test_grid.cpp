// The grid: runs over everything a run can be told at once, by chance, so that every two values of different kinds meet
// many times. What must hold is measured again from the poses, by formulas of their own. VICINAL_GRID=200000 for more
// (with QTEST_FUNCTION_TIMEOUT=7200000).
#include "base/describe.h"
#include "frozen.h"
#include "layout/placement_input.h"
#include "layout/places.h"
#include "layout/rules.h"
#include "suite.h"
#include <array>
#include <functional>
#include <map>
#include <set>

namespace test_grid {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// One value of each kind, by number.
enum Kind {
    OfPath,
    OfRule,
    OfMeasure,
    OfAlong,
    OfLeftOver,
    OfInset,
    OfBays,
    OfNose,
    OfCrown,
    OfTurn,
    OfOffset,
    OfRows,
    OfEcho,
    OfSequence,
    OfSpecial,
    OfException,
    OfSize,
    kKinds
};
constexpr std::array<int, kKinds> kValues{14, 9, 3, 2, 3, 3, 3, 4, 5, 6, 3, 4, 3, 4, 5, 6, 2};
using Choice = std::array<int, kKinds>;

Path bent(double scale, const std::vector<Vec3>& corners, bool closed) {
    std::vector<Segment> out;
    for (size_t i = 0; i + (closed ? 0 : 1) < corners.size(); ++i)
        out.push_back(Line{scale * corners[i], scale * corners[(i + 1) % corners.size()]});
    return pathOf(out, closed);
}

/// All of them at a scale, moved and turned in plan: rules that know what is up must not care.
Path pathOfKind(int kind, double scale, double heading, const Vec3& by) {
    const Mat3 R = Eigen::AngleAxisd(heading, Vec3::UnitZ()).toRotationMatrix();
    const auto at = [&](const Vec3& p) { return Vec3(by + R * (scale * p)); };
    const Vec3 x = R.col(0), y = R.col(1);
    const auto legs = [&](std::vector<Vec3> p, bool closed) {
        for (Vec3& v : p) v = at(v);
        return bent(1, p, closed);
    };
    const auto smooth = [&](std::vector<Vec3> p, bool closed) {
        for (Vec3& v : p) v = at(v);
        return spline(p, closed);
    };
    switch (kind) {
    case 0: return legs({{0, 0, 0}, {4000, 0, 0}}, false);
    case 1: return legs({{0, 0, 0}, {3000, 0, 1400}}, false);
    case 2: return legs({{0, 0, 0}, {1500, 0, 0}, {1500, 1200, 300}, {3000, 1500, 300}}, false);
    case 3: return legs({{0, 0, 0}, {1600, 0, 0}, {1600, 1100, 0}, {0, 1100, 0}}, true);
    case 4: return pathOf({Arc{at({0, 0, 0}), x, y, scale * 700, 2 * kPi}}, true);
    case 5: return pathOf({Line{at({0, 0, 0}), at({1500, 0, 0})}, Arc{at({1500, 800, 0}), -y, x, scale * 800, 2.0}});
    case 6: return pathOf({Helix{at({0, 0, 0}), x, y, scale * 500, scale * 500, 6 * kPi, scale * 900}});
    case 7: return pathOf({Helix{at({0, 0, 0}), x, y, scale * 600, scale * 300, 4 * kPi, scale * 700}});
    case 8: return smooth({{0, 0, 0}, {900, 300, 80}, {1700, -200, 300}, {2600, 400, 200}, {3500, 0, 500}}, false);
    case 9:
        return smooth({{0, 0, 0}, {1200, 200, 0}, {1300, 500, 60}, {200, 520, 120}, {100, 900, 200}, {1500, 1000, 240}},
                      false);
    case 10: {
        std::vector<Vec3> ring;
        for (int i = 0; i < 12; ++i) {
            const double a = i * kPi / 6;
            ring.push_back({(900 + 120 * std::sin(3 * a)) * std::cos(a), 700 * std::sin(a), 140 * std::sin(2 * a)});
        }
        return smooth(ring, true);
    }
    case 11: return legs({{0, 0, 0}, {2000, 0, 0}, {30, 90, 0}, {2400, 300, 0}}, false); // there and back
    case 12:
        return smooth({{546, 0, 0},
                       {380, 75, 0},
                       {0, 106, 0},
                       {-380, 75, 0},
                       {-546, 0, 0},
                       {-380, -75, 0},
                       {0, -106, 0},
                       {380, -75, 0}},
                      true);
    default: return legs({{0, 0, 0}, {900, 0, 0}, {900, 0, 800}, {1800, 0, 900}}, false); // straight up in the middle
    }
}

struct Wanted {
    Choice choice{};
    std::uint64_t seed = 0;
    double scale = 1, heading = 0;
    Vec3 by = Vec3::Zero();

    Path path() const { return pathOfKind(choice[OfPath], scale, heading, by); }
    double number(std::uint64_t purpose, double least, double most) const {
        return least + (most - least) * chance(seed, 0, 100 + purpose);
    }
    double length(std::uint64_t purpose, double least, double most) const {
        return scale * number(purpose, least, most);
    }

    PlacementInput order(const Path& path) const {
        PlacementInput o;
        const Choice& c = choice;
        const auto box = [&](double l, double w, double h, double middle) {
            return Box3(scale * Vec3(-l / 2 + middle, -w / 2, 0), scale * Vec3(l / 2 + middle, w / 2, h));
        };
        const auto pins = [&](double apart) {
            return Pins{scale * Vec3(-apart / 2, 0, 10), scale * Vec3(apart / 2, 0, 10)};
        };
        o.partBox = box(40, 30, 60, 4);
        o.seat.point = Vec3(Vec3::Zero());
        o.pins = pins(30);
        const auto other = [&](double l, double h, double apart) {
            PartOnRun p;
            p.seat.point = Vec3(Vec3::Zero());
            p.box = box(l, 20, h, 0);
            p.pins = pins(apart);
            o.others.push_back(p);
        };
        if (c[OfSequence] > 0 || c[OfSpecial] > 0 || c[OfException] == 1 || c[OfException] == 2) {
            other(75, 25, 60);
            other(110, 90, 84);
        }
        if (c[OfSequence] == 1) o.pattern.order = {0, 1};
        if (c[OfSequence] == 2) o.pattern.order = {0, 0, 1};
        if (c[OfSequence] == 3) o.pattern.order = {0, 1}, o.pattern.weights = {2, 1}, o.pattern.seed = seed;
        switch (c[OfSpecial]) {
        case 1: o.special.first = 2; break;
        case 2: o.special.last = 2; break;
        case 3: o.special.corner = 2; break;
        case 4: o.special.nth = 2, o.special.every = 3; break;
        default: break;
        }
        Spacing& s = o.spacing;
        s.measure = Measure(c[OfMeasure]);
        s.along = Along(c[OfAlong]);
        const double pitch = s.measure == Measure::ClearGap ? length(1, 15, 90) : length(1, 130, 260);
        s.ofLength = number(2, 1.05, 2.5);
        const auto left = LeftOver(c[OfLeftOver]);
        const long count = 3 + long(chance(seed, 0, 3) * 9);
        const auto ends = ShareEnds(c[OfLeftOver]);
        const double k = s.measure == Measure::OfLength ? s.ofLength : pitch;
        switch (c[OfRule]) {
        case 0:
        case 1: s.rule = StepOff{pitch, left}; break;
        case 2: s.rule = ShareOut{count, ends}; break;
        case 3: s.rule = EvenOut{pitch, ends}; break;
        case 4: s.rule = PinToPin{0, left}; break;
        case 5: s.rule = Graded{Profile{{{0, k}, {1, 1.7 * k}}, false, true}, 0, left}; break;
        case 6: s.rule = Graded{Profile{{{0, k}, {0.4, 2 * k}, {1, 1.3 * k}}, true, true}, count, left}; break;
        case 7: s.rule = Listed{{scale * 20, scale * 260, scale * 300, scale * 900}}; break;
        default: s.rule = Coupled{3, length(4, 130, 200)}; break;
        }
        if (c[OfInset] == 1)
            s.insetStart = length(5, 0, 90), s.insetEnd = length(6, 0, 90), s.slide = length(7, -200, 900);
        if (c[OfInset] == 2) s.from = 0.12 * path.length(), s.to = 0.81 * path.length();
        if (c[OfBays] == 1) s.bays = BayEdges::Corners;
        if (c[OfBays] == 2) s.bays = BayEdges::Stations, s.bayStations = {0.3 * path.length(), 0.65 * path.length()};
        switch (c[OfNose]) {
        case 1: o.facing.nose = AsDrawn{}; break;
        case 2: o.facing.nose = BetweenPins{}; break;
        case 3: o.facing.nose = AtTarget{}; break;
        default: break;
        }
        o.facing.target =
            by + Eigen::AngleAxisd(heading, Vec3::UnitZ()).toRotationMatrix() * (scale * Vec3(700, 4100, 1300));
        switch (c[OfCrown]) {
        case 1: o.facing.crown = Upright{}; break;
        case 2: o.facing.crown = Carried{}; break;
        case 3: o.facing.crown = Outward{}; break;
        case 4: o.facing.crown = Given{}, o.facing.direction = Vec3(0, 0, 2); break;
        default: break;
        }
        switch (c[OfTurn]) {
        case 1: o.facing.turn = Vec3(0, 0, kPi / 2); break;
        case 2: o.facing.turn = Vec3(0.4, 0, 0); break;
        case 3: o.facing.backwards = true; break;
        case 4: o.facing.turnStep = Vec3(0, 0, kPi / 2), o.facing.turnEvery = 2; break;
        case 5: o.facing.turnStep = Vec3(kPi / 2, 0, 0); break;
        default: break;
        }
        if (c[OfOffset] > 0) o.changes.across = {{{0, length(8, -60, 60)}}}, o.changes.up = {{{0, length(9, -60, 60)}}};
        if (c[OfOffset] == 2) o.changes.roll = {{{0, 0}, {0.5 * path.length(), 0.7}, {path.length(), 0}}};
        if (c[OfRows] == 1) o.rows = {2, 1, scale * 90, scale * 100, false};
        if (c[OfRows] == 2) o.rows = {2, 2, scale * 90, scale * 200, true};
        if (c[OfRows] == 3) o.rows = {1, 2, scale * 90, scale * 200, true};
        if (c[OfEcho] == 1) o.echoes.one = {EchoKind::Mirrored, by, Vec3(1, 2, 0), 2};
        if (c[OfEcho] == 2) o.echoes.one = {EchoKind::Round, by, Vec3::UnitZ(), 3, 0, 0.9};
        Exception e;
        e.place = 2;
        switch (c[OfException]) {
        case 1: e.part = 2; break;                                   // another part (slot plus one), by number
        case 2: e.part = 3, e.station = 0.37 * path.length(); break; // and by station
        case 3: e.size = 1.6; break;
        case 4: e.turn = Vec3(0, 0, kPi / 2); break;
        case 5: e.move = scale * Vec3(3, 7, 11); break;
        default: break;
        }
        if (c[OfException] > 0) o.exceptions.push_back(e);
        if (c[OfSize] == 1) o.changes.size = {{{0, 0.8}, {0.7 * path.length(), 1.4}}};
        return o;
    }
    std::string said() const {
        std::string out = "seed " + std::to_string(seed) + " kinds";
        for (int v : choice) out += " " + std::to_string(v);
        return out;
    }
};

Wanted wanted(std::uint64_t seed) {
    Wanted w;
    w.seed = seed;
    for (int k = 0; k < kKinds; ++k) w.choice[size_t(k)] = int(chance(seed, std::uint64_t(k), 50) * kValues[size_t(k)]);
    // What is rare in the trade is rarer here, so that most runs are not refused for one thing.
    if (chance(seed, 1, 51) < 0.5) w.choice[OfBays] = 0;
    if (chance(seed, 2, 51) < 0.5) w.choice[OfNose] = 0;
    if (chance(seed, 3, 51) < 0.4) w.choice[OfCrown] = 0;
    return w;
}

/// What a box takes up ahead and behind of its seat, along `way`: by pushing an equal one until it is free.
Occupied pushed(const Box3& box, const Mat3& R, const Vec3& way) {
    Occupied out;
    double least = 1e300;
    for (int a = 0; a < 3; ++a) {
        const double c = way.dot(R.col(a));
        if (std::abs(c) < 1e-9) continue;
        const double need = (box.max()[a] - box.min()[a]) / std::abs(c);
        if (need >= least) continue;
        least = need;
        out = c > 0 ? Occupied{box.max()[a] / c, -box.min()[a] / c} : Occupied{box.min()[a] / c, -box.max()[a] / c};
    }
    return out;
}

/// The first station beyond s that is so far from it, straight across: none is passed unseen, since the distance never
/// changes by more than the station does. A corner that is just touched counts.
double firstSoFar(const Path& path, double s, double apart, double touch) {
    const auto far = [&](double v) { return (pointOn(path, v) - pointOn(path, s)).norm(); };
    const std::function<double(double, double, double, double)> within = [&](double a, double fa, double b, double fb) {
        if (std::max(fa, fb) + (b - a) / 2 < apart) return std::nan("");
        if (b - a < 1e-11 * std::max(1.0, b)) return fb < apart ? std::nan("") : b;
        const double m = (a + b) / 2, fm = far(m);
        const double first = within(a, fa, m, fm);
        return std::isnan(first) ? within(m, fm, b, fb) : first;
    };
    for (double a = s, fa = 0, step = apart / 16; a < s + 20 * apart;) {
        double b = a + step;
        for (const Corner& c : path.corners())
            if (c.station > a && c.station < b) b = c.station;
        const double fb = far(b);
        if (const double at = within(a, fa, b, fb); !std::isnan(at)) return at;
        if (std::abs(fb - apart) < touch && step > b - a) return b;
        a = b, fa = fb;
    }
    return std::nan("");
}

/// The part's length of the path at a place, from its pose alone; `straight`: of one between its pins their distance.
Occupied takenBy(const Path& path, const PlacementInput& o, const Placement& l, size_t i, double scale,
                 bool straight = false) {
    const PartOnRun part =
        i < l.count() && l.slot[i] > 0 ? o.others[l.slot[i] - 1] : PartOnRun{o.seat, o.partBox, {}, o.pins};
    const double k = l.size[i];
    const Box3 box(Vec3(k * part.box.min()), Vec3(k * part.box.max())); // seats are at the origin, unturned
    const Mat3 R = l.frames[i].axes;
    if (std::holds_alternative<BetweenPins>(o.facing.nose)) {
        const double apart = k * ((*part.pins)[1] - (*part.pins)[0]).norm(), s = l.stations[i];
        if (straight) return {apart / 2 + box.max().x(), -box.min().x() - apart / 2};
        // Where a strand only just comes so far, rounding says whether that counts: then as it was laid.
        double to = firstSoFar(path, s, apart - 1e-9 * scale, 1e-6 * scale);
        const double other = firstSoFar(path, s, apart + 1e-9 * scale, 1e-6 * scale);
        const double laid = s + l.occupied[i].ahead - (box.max().x() - apart / 2);
        if (std::abs(other - to) > 1e-3 * scale && std::abs(other - laid) < std::abs(to - laid)) to = other;
        return {to - s + box.max().x() - apart / 2, -box.min().x() - apart / 2};
    }
    Vec3 t = path.at(l.stations[i]).tangent;
    for (const Corner& c : path.corners()) // half-way between its legs
        if (std::abs(c.station - l.stations[i]) < 1e-6) t = (c.before.normalized() + c.after.normalized()).normalized();
    if (std::holds_alternative<AtTarget>(o.facing.nose) || std::holds_alternative<AsDrawn>(o.facing.nose)) {
        double least = 1e300, most = -1e300;
        for (int c = 0; c < 8; ++c) {
            const double at = t.dot(R * box.corner(Box3::CornerType(c)));
            least = std::min(least, at), most = std::max(most, at);
        }
        return {most, -least};
    }
    const double flat = std::hypot(t.x(), t.y());
    if (!std::holds_alternative<Plumb>(o.facing.crown) || flat < 0.02) return pushed(box, R, t);
    const Occupied plan = pushed(box, R, Vec3(t.x(), t.y(), 0) / flat);
    return {plan.ahead / flat, plan.behind / flat};
}

/// All that was laid, as one answer.
void tell(Digest& d, const Placement& l) {
    d.add(l.stations);
    for (size_t i = 0; i < l.bodies(); ++i) d.add(l.frames[i].seat), d.add(l.frames[i].axes);
    for (size_t i = 0; i < l.count(); ++i) {
        d.add(double(l.slot[i])), d.add(l.size[i]);
        d.add(l.occupied[i].ahead), d.add(l.occupied[i].behind);
    }
    for (double v : {l.pitch, l.leftOver, l.value, l.play, l.closing.value_or(-1)}) d.add(v);
    for (size_t v : {l.rowSize, l.originals(), l.out.size(), l.noRoom.size(), l.staleExceptions.size()})
        d.add(double(v));
    for (size_t v : l.out) d.add(double(v));
    d.add(l.joints), d.add(l.swings);
    for (const Bay& b : l.bays) d.add(b.start), d.add(b.end), d.add(double(b.count)), d.add(b.pitch), d.add(b.leftOver);
    if (l.uneven) d.add(l.uneven->least), d.add(l.uneven->most);
}

/// The keys of what is described.
struct Keys : IgnoreValues {
    std::vector<std::string>& to;
    explicit Keys(std::vector<std::string>& keys) : to(keys) {}
    void length(const char* k, const char*, const char*, double&) const { to.push_back(k); }
    void limit(const char* k, const char*, const char*, std::optional<double>&) const { to.push_back(k); }
    void angle(const char* k, const char*, const char*, double&) const { to.push_back(k); }
    void number(const char* k, const char*, const char*, double&) const { to.push_back(k); }
    void count(const char* k, const char*, const char*, long&) const { to.push_back(k); }
    void flag(const char* k, const char*, const char*, bool&) const { to.push_back(k); }
    void point(const char* k, const char*, const char*, Vec3&) const { to.push_back(k); }
    void direction(const char* k, const char*, const char*, Vec3&) const { to.push_back(k); }
    void turn(const char* k, const char*, const char*, Vec3&) const { to.push_back(k); }
    template<class E> void choice(const char* k, const char*, const char*, E&, ChoiceWords) const { to.push_back(k); }
    void stations(const char* k, const char*, const char*, std::vector<double>&) const { to.push_back(k); }
    void item(const char* k, const char*, const char*, Id&, ItemKind) const { to.push_back(k); }
};
/// Which values have an effect, of runs that differ.
void tellWhatCounts(Digest& d, PlacementInput o, bool closed) {
    Spacing spacing = o.spacing;
    std::vector<std::string> keys;
    describe(Keys(keys), spacing);
    for (const auto& k : keys) d.add(double(counts(spacing, k, closed)));
    keys.clear();
    describe(Keys(keys), o.facing);
    for (const auto& k : keys) d.add(double(counts(o.facing, k)));
    // Another rule, and the first again: with the numbers it had.
    for (size_t rule = 0; rule < std::variant_size_v<SpacingRule>; ++rule) {
        const Spacing other = switched(switched(spacing, rule), spacing.rule.index());
        d.add(double(other.kept.size())), d.add(double(other.rule == spacing.rule));
    }
}

} // namespace

class TestGrid : public QObject {
    Q_OBJECT
private slots:
    void everyTwoMeet();
    void whatIsAskedIsKept();
    void motionAndScaleChangeNothing();
    void one();

private:
    static int many() {
        const int n = qEnvironmentVariableIntValue("VICINAL_GRID");
        return n > 0 ? n : 5000;
    }
    QString wrong(const Wanted&, const Path&, const PlacementInput&, const Placement&);
};

void TestGrid::everyTwoMeet() {
    std::set<std::array<int, 4>> met;
    for (int n = 0; n < std::max(many(), 5000); ++n) { // few of them where a round is slow
        const Wanted w = wanted(std::uint64_t(n));
        for (int a = 0; a < kKinds; ++a)
            for (int b = a + 1; b < kKinds; ++b) met.insert({a, b, w.choice[size_t(a)], w.choice[size_t(b)]});
    }
    size_t all = 0;
    for (int a = 0; a < kKinds; ++a)
        for (int b = a + 1; b < kKinds; ++b) all += size_t(kValues[size_t(a)]) * size_t(kValues[size_t(b)]);
    QCOMPARE(met.size(), all);
}

/// What does not hold; empty when all does.
QString TestGrid::wrong(const Wanted& w, const Path& path, const PlacementInput& o, const Placement& l) {
    const double L = path.length(), near = 2e-6 * w.scale;
    const Spacing& s = o.spacing;
    const size_t n = l.originals();
    if (l.count() == 0) return "no place";
    for (size_t i = 0; i < l.bodies(); ++i)
        if (!l.pose(i).allFinite()) return QString("place %1 is not finite").arg(i);
    int wraps = 0;
    for (size_t i = 0; i < n; ++i) {
        if (!(l.stations[i] >= 0 && l.stations[i] <= L))
            return QString("station %1 is off the path").arg(l.stations[i]);
        if (i > 0 && !(l.stations[i] > l.stations[i - 1])) ++wraps;
    }
    if (wraps > (path.closed() ? 1 : 0)) return "stations do not rise";
    // Pins and noses.
    const bool moved = o.changes.across.keys.size() > 0 || w.choice[OfException] == 5;
    const bool pins = std::holds_alternative<BetweenPins>(o.facing.nose) || std::holds_alternative<PinToPin>(s.rule);
    for (size_t i = 0; i < n; ++i) {
        const bool special = w.choice[OfException] >= 3 && w.choice[OfException] <= 4;
        const bool turned = w.choice[OfTurn] == 1 || w.choice[OfTurn] == 4;
        if (pins && !moved && !turned && !special && !std::holds_alternative<Coupled>(s.rule)) {
            const Pins own = l.slot[i] > 0 ? *o.others[l.slot[i] - 1].pins : *o.pins;
            for (const Vec3& p : own) {
                const Vec3 at = (l.pose(i) * p.homogeneous()).head<3>();
                const double off = (path.at(path.closest(at)).point - at).norm();
                if (off > 20 * near) return QString("a pin of place %1 is %2 off the path").arg(i).arg(off);
            }
        }
        const bool straightOn = w.choice[OfTurn] == 0 && w.choice[OfOffset] < 2 && w.choice[OfException] != 4;
        if (std::holds_alternative<AtTarget>(o.facing.nose) && !std::holds_alternative<PinToPin>(s.rule) &&
            !std::holds_alternative<Coupled>(s.rule) && straightOn) {
            const size_t rows = w.choice[OfEcho] > 0 ? l.count() / (w.choice[OfEcho] == 1 ? 2 : 3) : l.count();
            for (size_t k = i; k < rows; k += n) {
                const Vec3 d = (o.facing.target - l.frames[k].seat).normalized();
                if ((d - l.frames[k].axes.col(0)).norm() > 1e-9) return QString("place %1 does not aim").arg(k);
            }
        }
    }
    // What the rule keeps, pair by pair, within bays where there are some.
    if (std::holds_alternative<PinToPin>(s.rule) || std::holds_alternative<Coupled>(s.rule)) return {};
    if (std::holds_alternative<Listed>(s.rule)) return {};
    const auto* step = std::get_if<StepOff>(&s.rule);
    const auto* graded = std::get_if<Graded>(&s.rule);
    const bool lengths = s.measure != Measure::CentreToCentre, shares = s.measure == Measure::OfLength;
    const bool straight = s.along == Along::Straight && !graded;
    const double close = shares ? std::max(near, 1e-5) / (20 * w.scale) : near; // of the numbers that are kept
    std::vector<double> stations(l.stations.begin(), l.stations.begin() + long(n));
    for (size_t i = 1; i < n; ++i)
        while (stations[i] < stations[i - 1]) stations[i] += L;
    const auto between = [&](size_t a, size_t b) {
        return takenBy(path, o, l, a, w.scale, straight).ahead + takenBy(path, o, l, b, w.scale, straight).behind;
    };
    const auto number = [&](size_t a, size_t b, double lap) {
        const double d = straight ? (path.at(l.stations[b]).point - path.at(l.stations[a]).point).norm()
                                  : stations[b] + lap - stations[a];
        return shares ? d / between(a, b) : lengths ? d - between(a, b) : d;
    };
    const bool share = std::holds_alternative<ShareOut>(s.rule) || std::holds_alternative<EvenOut>(s.rule);
    // Where a part's length jumps the gap may be wider, never narrower.
    const bool jumps = lengths && !path.corners().empty();
    const auto kept = [&](const std::vector<double>& numbers) -> QString {
        if (numbers.empty()) return {};
        const auto [least, most] = std::minmax_element(numbers.begin(), numbers.end());
        const double wanted = shares ? s.ofLength : step ? step->pitch : 0;
        if (step && *least < wanted - close) return QString("%1 is less than %2").arg(*least).arg(wanted);
        if (step && !jumps && *most > wanted + close) return QString("%1 is more than %2").arg(*most).arg(wanted);
        if (share && !l.uneven && *most - *least > close * std::max(1.0, shares ? *most : 1.0))
            return QString("%1 to %2 are not equal").arg(*least).arg(*most);
        if (share && l.uneven && l.bays.empty() && *most - *least < close / 100) return "equal, but said not to be";
        return {};
    };
    if (!l.bays.empty()) {
        size_t held = 0;
        for (const Bay& bay : l.bays) {
            std::vector<double> numbers;
            for (size_t i = bay.first - (bay.shared ? 1 : 0); i + 1 < bay.first + bay.count; ++i)
                numbers.push_back(number(i, i + 1, 0));
            held += bay.count;
            if (const QString why = kept(numbers); !why.isEmpty()) //
                return QString("bay from %1 to %2: ").arg(bay.start).arg(bay.end) + why;
            if (bay.count == 0) continue;
            const double off = std::fmod(bay.start, L) - std::fmod(stations[bay.first - (bay.shared ? 1 : 0)], L);
            if (std::abs(std::remainder(off, L)) > bay.end - bay.start + near)
                return "a bay's first place is not in it";
            const double used = stations[bay.first + bay.count - 1] - stations[bay.first - (bay.shared ? 1 : 0)];
            if (step && std::abs(bay.leftOver + used - (bay.end - bay.start)) > 10 * near)
                return QString("%1 left over of a bay of %2").arg(bay.leftOver).arg(bay.end - bay.start);
        }
        if (held != n) return QString("%1 places in bays, %2 in all").arg(held).arg(n);
        return {};
    }
    std::vector<double> numbers;
    for (size_t i = 0; i + 1 < n; ++i) numbers.push_back(number(i, i + 1, 0));
    if (share && l.closed && n > 1) numbers.push_back(number(n - 1, 0, L));
    if (const auto* out = std::get_if<ShareOut>(&s.rule); out && long(n) != out->count) return "another count";
    if (numbers.empty()) return {};
    if (const QString why = kept(numbers); !why.isEmpty()) return why;
    if (graded && n > 2 && !l.uneven) {
        // The integral of ds / p between neighbours: one, or the same everywhere with a count. By length p goes by what
        // both take up.
        const ProfileCurve curve(graded->pitch, L, path.closed(), 0);
        std::vector<double> all;
        for (size_t i = 0; i + 1 < n; ++i) {
            double sum = 0;
            const double length = lengths ? between(i, i + 1) : 0;
            const int steps = 400;
            for (int k = 0; k < steps; ++k) {
                const double at = stations[i] + (stations[i + 1] - stations[i]) * (k + 0.5) / steps;
                const double p = curve.at(std::fmod(at, L));
                sum += (stations[i + 1] - stations[i]) / steps / (shares ? p * length : p + length);
            }
            all.push_back(sum);
        }
        const auto [a, b] = std::minmax_element(all.begin(), all.end());
        if (!jumps && *b - *a > 2e-3 * std::max(1.0, *b))
            return QString("graded: %1 to %2 pitches from place to place").arg(*a).arg(*b);
        if (!jumps && graded->count == 0 && std::abs(*a - 1) > 2e-3)
            return QString("graded: %1 pitches a step").arg(*a);
    }
    // Left over at both ends is the same, at the start it is all there.
    if (!path.closed() && (step || (graded && graded->count == 0)) && !l.uneven) {
        const LeftOver where = step ? step->leftOver : graded->leftOver;
        const Usable u = usableOf(s, L);
        const double before = stations.front() - u.start, behind = u.end - stations.back();
        const double off = where == LeftOver::AtEnd ? before : where == LeftOver::AtStart ? behind : before - behind;
        const bool whole = (!lengths && s.along != Along::Straight) || w.choice[OfPath] == 0;
        if (whole && std::abs(off) > 10 * near)
            return QString("left over: %1 before, %2 behind").arg(before).arg(behind);
    }
    return {};
}

void TestGrid::whatIsAskedIsKept() {
    std::map<std::string, int> refused;
    Digests now;
    Placement before;
    int laid = 0, faults = 0;
    // That did not hold once, beyond those that are run each time.
    constexpr int kOnce[] = {26030, 52899, 60029, 61929, 108093, 114557, 129156, 139845, 142477, 155505};
    for (int k = 0; k < many() + int(std::size(kOnce)); ++k) {
        const int n = k < many() ? k : kOnce[k - many()];
        const Wanted w = wanted(std::uint64_t(n));
        const Path path = w.path();
        const PlacementInput o = w.order(path);
        const auto l = solvePlacement(path, o);
        if (k >= many()) {
            const QString why = l ? wrong(w, path, o, *l) : QString::fromStdString(l.problem().text);
            QVERIFY2(why.isEmpty(), qPrintable(why));
            continue;
        }
        Digest& d = now["path " + std::to_string(w.choice[OfPath]) + ", rule " + std::to_string(w.choice[OfRule])];
        if (!l) {
            QVERIFY2(!l.problem().text.empty(), w.said().c_str());
            ++refused[l.problem().field];
            d.say(l.problem().text);
            const Lineup lineup = lineupOf(path, o);
            if (const auto stations = solveSpacing(path, o.spacing, lineup);
                !stations && o.spacing->bays == BayEdges::None) {
                const auto rows = fits(path, o.spacing, lineup); // no other counts of what cannot be
                QVERIFY2(!rows && rows.problem().text == stations.problem().text, w.said().c_str());
            }
            continue;
        }
        ++laid;
        tell(d, *l);
        if (n % 10 == 0) tellWhatCounts(d, o, path.closed());
        if (n % 5 == 1) { // with the memory of another run it is the same
            const auto again = solvePlacement(path, o, std::move(before));
            Digest one, two;
            tell(one, *l);
            if (again) tell(two, *again);
            QVERIFY2(one.line() == two.line(), w.said().c_str());
            before = *l;
        }
        if (n % 5 == 0)
            if (const auto rows = fits(path, o.spacing, lineupOf(path, o)))
                for (const Fit& f : *rows)
                    for (double v :
                         {double(f.count), f.pitch, f.gapLeast, f.gapMost, f.leftOver, f.value, f.closing.value_or(-1),
                          f.play.value_or(-1), double(f.inUse + 2 * f.over + 4 * f.under)})
                        d.add(v);
        const QString why = wrong(w, path, o, *l);
        if (!why.isEmpty() && ++faults <= 40) qWarning("%s: %s", w.said().c_str(), qPrintable(why));
    }
    QVERIFY2(faults == 0, qPrintable(QString("%1 of %2 runs").arg(faults).arg(laid)));
    for (const auto& [field, times] : refused) qInfo("refused %d for %s", times, field.c_str());
    QVERIFY2(laid > many() / 2, qPrintable(QString("%1 of %2 were laid").arg(laid).arg(many())));
    if (many() != 5000) return;
    const auto changed = differences("grid", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

/// VICINAL_GRID_SEED=n: what that run is like, place by place.
void TestGrid::one() {
    if (!qEnvironmentVariableIsSet("VICINAL_GRID_SEED")) QSKIP("by hand: VICINAL_GRID_SEED=n");
    const Wanted w = wanted(std::uint64_t(qEnvironmentVariableIntValue("VICINAL_GRID_SEED")));
    const Path path = w.path();
    const PlacementInput o = w.order(path);
    const auto l = solvePlacement(path, o);
    QVERIFY2(bool(l), l ? "" : l.problem().text.c_str());
    for (size_t i = 0; i < l->originals(); ++i) {
        const Occupied t = takenBy(path, o, *l, i, w.scale);
        qInfo("%zu: at %.9f part %d size %.4f ahead %.4f behind %.4f (%.4f %.4f)", i + 1, l->stations[i],
              int(l->slot[i]), l->size[i], t.ahead, t.behind, l->occupied[i].ahead, l->occupied[i].behind);
    }
    for (size_t i = 0; i + 1 < l->originals(); ++i) {
        const Spacing& spacing = o.spacing;
        const bool straight = spacing.along == Along::Straight;
        const double d = straight ? (path.at(l->stations[i + 1]).point - path.at(l->stations[i]).point).norm()
                                  : std::fmod(l->stations[i + 1] - l->stations[i] + path.length(), path.length());
        const double length =
            takenBy(path, o, *l, i, w.scale, straight).ahead + takenBy(path, o, *l, i + 1, w.scale, straight).behind;
        qInfo("%zu to %zu: %.6f, gap %.6f, share %.12f", i + 1, i + 2, d, d - length, d / length);
    }
    qInfo("%s", w.said().c_str());
    qInfo("length %.4f, value %.4f, left over %.4f; %s", path.length(), l->value, l->leftOver,
          qPrintable(wrong(w, path, o, *l)));
}

void TestGrid::motionAndScaleChangeNothing() {
    int compared = 0, faults = 0;
    for (int n = 0; n < many() / 5; ++n) {
        Wanted w = wanted(std::uint64_t(n) + 1'000'000);
        w.choice[OfEcho] = 0;
        if (w.choice[OfPath] == 13 && w.choice[OfCrown] == 4)
            w.choice[OfCrown] = 0; // straight up there is no way to it
        const bool turns = !std::holds_alternative<AsDrawn>(w.order(w.path()).facing.nose);
        Wanted other = w;
        other.scale = 2.5;
        other.heading = turns ? 0.8 : 0;
        other.by = Vec3(2000, -700, 300);
        const Path a = w.path(), b = other.path();
        const auto la = solvePlacement(a, w.order(a)), lb = solvePlacement(b, other.order(b));
        const auto differ = [&](const QString& why) {
            if (++faults <= 20) qWarning("%s: %s", w.said().c_str(), qPrintable(why));
        };
        if (bool(la) != bool(lb)) {
            differ(QString::fromStdString("one is refused: " + (la ? lb : la).problem().text));
            continue;
        }
        if (!la) continue;
        if (la->uneven && lb->uneven && la->uneven->of == Stations::Uneven::Of::Last) continue; // told: there is none
        ++compared;
        if (la->count() != lb->count()) {
            differ(QString("%1 places and %2").arg(la->count()).arg(lb->count()));
            continue;
        }
        const Mat3 R = Eigen::AngleAxisd(other.heading, Vec3::UnitZ()).toRotationMatrix();
        for (size_t i = 0; i < la->count(); ++i) {
            const double off = (lb->frames[i].seat - other.by - 2.5 * (R * la->frames[i].seat)).norm();
            const double turn = (lb->frames[i].axes - R * la->frames[i].axes).norm();
            if (off < 1e-4 && turn < 1e-6) continue;
            differ(QString("place %1 is %2 off, turned %3").arg(i).arg(off).arg(turn));
            break;
        }
    }
    QVERIFY2(faults == 0, qPrintable(QString("%1 of %2 runs").arg(faults).arg(compared)));
    QVERIFY(compared > many() / 12);
}

VICINAL_SUITE(TestGrid)

} // namespace test_grid
#include "test_grid.moc"
