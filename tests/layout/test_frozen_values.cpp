// What layout and makers say of themselves and of what they are asked: keys, labels and tips of every value, messages
// for odd ones, lists as they are typed; against what they were before, see frozen.h.
#include "base/describe.h"
#include "frozen.h"
#include "layout/along/feet.h"
#include "layout/along/typed.h"
#include "layout/placement_input.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "parts/body.h"
#include "parts/makers/maker.h"
#include "suite.h"
#include "support.h"
#include <array>
#include <limits>

namespace test_frozen_values {

using namespace vicinal;
using namespace vicinal::test;

namespace {

constexpr double kNan = std::numeric_limits<double>::quiet_NaN();

/// All that is told of every value.
struct Told : IgnoreValues {
    Digest& d;
    explicit Told(Digest& to) : d(to) {}
    void say(const char* kind, const char* k, const char* l, const char* t) const {
        d.say(std::string(kind) + "|" + k + "|" + l + "|" + t);
    }
    void length(const char* k, const char* l, const char* t, double& v) const { say("length", k, l, t), d.add(v); }
    void limit(const char* k, const char* l, const char* t, std::optional<double>& v) const {
        say("limit", k, l, t), d.add(v.value_or(-1));
    }
    void angle(const char* k, const char* l, const char* t, double& v) const { say("angle", k, l, t), d.add(v); }
    void number(const char* k, const char* l, const char* t, double& v) const { say("number", k, l, t), d.add(v); }
    void count(const char* k, const char* l, const char* t, long& v) const { say("count", k, l, t), d.add(double(v)); }
    void flag(const char* k, const char* l, const char* t, bool& v) const { say("flag", k, l, t), d.add(double(v)); }
    void point(const char* k, const char* l, const char* t, Vec3& v) const { say("point", k, l, t), d.add(v); }
    void direction(const char* k, const char* l, const char* t, Vec3& v) const { say("direction", k, l, t), d.add(v); }
    void turn(const char* k, const char* l, const char* t, Vec3& v) const { say("turn", k, l, t), d.add(v); }
    template<class E> void choice(const char* k, const char* l, const char* t, E& v, ChoiceWords words) const {
        say("choice", k, l, t), d.add(double(v));
        for (const ChoiceWord& w : words) d.say(std::string(w.file) + "|" + w.screen + "|" + w.tip + "|" + w.phrase);
    }
    void stations(const char* k, const char* l, const char* t, std::vector<double>&) const { say("stations", k, l, t); }
    void profile(const char* k, const char* l, const char* t, Profile&, ProfileKind of) const {
        say("profile", k, l, t), d.add(double(of));
    }
    void item(const char* k, const char* l, const char* t, Id&, ItemKind of) const {
        say("item", k, l, t), d.add(double(of));
    }
};

/// One of the values an odd one; how odd by a number from 0.
struct Odd : IgnoreValues {
    int which, how;
    mutable int met = 0;
    Odd(int value, int n) : which(value), how(n) {}
    static constexpr int kHow = 6;
    bool mine() const { return met++ == which; }
    double odd() const { return std::array{kNan, 0.0, -7.0, 2e9, 1e300, 333.3}[size_t(how)]; }
    void length(const char*, const char*, const char*, double& v) const {
        if (mine()) v = odd();
    }
    void limit(const char*, const char*, const char*, std::optional<double>& v) const {
        if (mine()) v = odd();
    }
    void angle(const char*, const char*, const char*, double& v) const {
        if (mine()) v = odd();
    }
    void number(const char*, const char*, const char*, double& v) const {
        if (mine()) v = odd();
    }
    void count(const char*, const char*, const char*, long& v) const {
        if (mine()) v = std::array{-1L, 0L, 1L, 2'000'000'000L, 7L, 1'000'001L}[size_t(how)];
    }
    void flag(const char*, const char*, const char*, bool& v) const {
        if (mine()) v = !v;
    }
    void point(const char*, const char*, const char*, Vec3& v) const {
        if (mine()) v = Vec3(odd(), 1, 0);
    }
    void direction(const char*, const char*, const char*, Vec3& v) const {
        if (mine()) v = how == 1 ? Vec3(0, 0, 0) : Vec3(0, odd(), 1);
    }
    void turn(const char*, const char*, const char*, Vec3& v) const {
        if (mine()) v = Vec3(0, 0, odd());
    }
    template<class E> void choice(const char*, const char*, const char*, E& v, ChoiceWords words) const {
        if (mine()) v = E((int(v) + how + 1) % int(words.size()));
    }
    void stations(const char*, const char*, const char*, std::vector<double>& v) const {
        if (mine()) v = {20, odd(), 400};
    }
    void profile(const char*, const char*, const char*, Profile& v, ProfileKind) const {
        if (!mine()) return;
        const std::array<Profile, kHow> all{Profile{{{0, kNan}}},
                                            Profile{{{0, 1}, {0, 2}}},
                                            Profile{{{500, 1.5}, {100, 2}}},
                                            Profile{{{0, 1}, {3e9, 2}}},
                                            Profile{{{-0.5, 1}, {1.5, 2}}, true, true},
                                            Profile{{{0, 1.2}, {400, 0.7}, {900, 1.4}}, true}};
        v = all[size_t(how)];
    }
};

/// What is laid, in short, or why not.
void tell(Digest& d, const Result<Placement>& l) {
    if (!l) return d.say(l.problem().text + "|" + l.problem().field);
    d.add(double(l->count()));
    for (size_t i = 0; i < l->bodies(); i += 1 + l->bodies() / 20) d.add(l->frames[i].seat), d.add(l->frames[i].axes);
    for (double v : {l->pitch, l->leftOver, l->value, l->play}) d.add(std::abs(v) < 1e6 ? v : -1);
    for (size_t i : l->noRoom) d.add(double(i));
    for (int k : l->staleExceptions) d.add(double(k));
}

PlacementInput plain() {
    PlacementInput o;
    o.partBox = Box3(Vec3(-20, -15, 0), Vec3(24, 15, 60));
    o.seat.point = Vec3(Vec3::Zero());
    o.pins = Pins{Vec3(-15, 0, 10), Vec3(15, 0, 10)};
    Spacing& s = o.spacing;
    s.rule = StepOff{130};
    return o;
}

const std::vector<Path>& paths() {
    static const std::vector<Path> all{pathOf({Line{{0, 0, 0}, {900, 0, 0}}, Line{{900, 0, 0}, {1100, 700, 150}}}),
                                       pathOf({Arc{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 300, 2 * kPi}}, true)};
    return all;
}

/// Every value of what an order holds, odd in every way. `part(o)`: what is changed in it.
template<class Part> void oddly(Digest& d, const PlacementInput& base, Part&& part) {
    for (int how = 0; how < Odd::kHow; ++how)
        for (int value = 0, known = 1; value < known; ++value) {
            PlacementInput o = base;
            const Odd odd(value, how);
            part(odd, o);
            known = odd.met;
            tell(d, solvePlacement(paths()[size_t(how + value) % 2], o));
        }
}

} // namespace

class TestFrozenValues : public QObject {
    Q_OBJECT
private slots:
    void valuesAndWhatIsSaidOfThem();
};

void TestFrozenValues::valuesAndWhatIsSaidOfThem() {
    Digests now;
    const std::vector<SpacingRule> rules{StepOff{}, ShareOut{}, EvenOut{}, PinToPin{}, Graded{}, Listed{}, Coupled{}};
    for (const SpacingRule& rule : rules)
        for (const Measure measure : {Measure::CentreToCentre, Measure::ClearGap, Measure::OfLength}) {
            PlacementInput o = plain();
            Spacing& s = o.spacing;
            s = switched(s, rule.index());
            s.measure = measure;
            s.bays = BayEdges(int(measure) % 3); // some with bays
            const std::string name = "rule " + std::to_string(rule.index());
            describe(Told(now[name]), s);
            oddly(now[name], o, [](const Odd& odd, PlacementInput& x) {
                Spacing& spacing = x.spacing;
                describe(odd, spacing);
            });
            for (const Path& p : paths()) {
                const auto rows = fits(p, s, lineupOf(p, o));
                if (!rows) now[name].say(rows.problem().text + "|" + rows.problem().field);
                for (long n : {-1L, 0L, 1L, 5L, 9L, 2'000'000L})
                    if (const auto e = excess(p, s, lineupOf(p, o), n))
                        now[name].add(*e);
                    else
                        now[name].say(e.problem().text + "|" + e.problem().field);
                if (const auto n = nearestCount(p, s, lineupOf(p, o)))
                    now[name].add(double(*n));
                else
                    now[name].say(n.problem().text + "|" + n.problem().field);
            }
        }
    const std::vector<NoseRule> noses{AlongPath{}, AsDrawn{}, BetweenPins{}, AtTarget{}};
    const std::vector<CrownRule> crowns{Plumb{}, Upright{}, Carried{}, Outward{}, Given{}, OffSurface{}};
    for (size_t n = 0; n < noses.size(); ++n)
        for (size_t c = 0; c < crowns.size(); ++c) {
            PlacementInput o = plain();
            o.facing.nose = noses[n];
            o.facing.crown = crowns[c];
            Digest& d = now["facing"];
            describe(Told(d), o.facing);
            if ((n + c) % 3 == 0) oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.facing); });
        }
    {
        Digest& d = now["along"];
        PlacementInput o = plain();
        o.rows = {2, 2, 90, 100, false};
        o.echoes.one = {EchoKind::Round, Vec3(0, 500, 0), Vec3::UnitZ(), 3, 0, 0.9};
        o.echoes.two = {EchoKind::Mirrored, Vec3(0, -100, 0), Vec3::UnitY(), 2};
        o.uneven = {3, 2, 1, 0.1, 0.05, 7};
        o.exceptions = {Exception{2, {}, false, 0, Vec3(1, 2, 3), Vec3(0.1, 0, 0), 1.2},
                        Exception{0, 300.0, false, 0, Vec3(0, 5, 0), Vec3::Zero(), 1}, Exception{70, {}, true}};
        describe(Told(d), o.changes), describe(Told(d), o.uneven), describe(Told(d), o.rows);
        describe(Told(d), o.echoes), describe(Told(d), o.exceptions[0]), describe(Told(d), o.feet);
        Sequence sequence;
        describe(Told(d), sequence);
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.changes); });
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.uneven); });
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.rows); });
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.echoes); });
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.exceptions[0]); });
        oddly(d, o, [](const Odd& odd, PlacementInput& x) { describe(odd, x.feet); });
    }
    {
        Digest& d = now["coupled"];
        const Path bend =
            pathOf({Line{{0, 0, 0}, {900, 0, 0}}, Arc{{900, 250, 0}, -Vec3::UnitY(), Vec3::UnitX(), 250, kPi / 2},
                    Line{{1150, 250, 0}, {1150, 1500, 60}}});
        for (const double gap : {-200.0, -5.0, 0.0, 0.001, 8.0, 30.0, 120.0, 5000.0, kNan})
            for (const long count : {-1L, 0L, 4L, 300L})
                for (int bogies = 0; bogies < 3; ++bogies) {
                    PlacementInput o = plain();
                    o.partBox = Box3(Vec3(-90, -30, 0), Vec3(90, 30, 80));
                    o.pins = Pins{Vec3(-60, 0, 20), Vec3(60, 0, 20)};
                    Spacing& s = o.spacing;
                    s.rule = Coupled{count, gap};
                    if (bogies > 0) {
                        PartOnRun bogie;
                        bogie.seat.point = Vec3(Vec3::Zero());
                        bogie.box = Box3(Vec3(-20, -20, 0), Vec3(20, 20, 20));
                        bogie.pins = Pins{Vec3(-14, 0, 0), Vec3(14, 0, 0)};
                        o.others.push_back(bogie);
                        o.under = bogies == 1 ? std::array{1, 1} : std::array{-1, 1};
                    }
                    for (const Path* p : {&bend, &paths()[0], &paths()[1]}) {
                        const auto l = solvePlacement(*p, o);
                        tell(d, l);
                        if (l) d.add(l->swings);
                        const auto facing = resolved(o.facing, *p);
                        if (!facing || count != 4) continue;
                        const Vehicles all = vehiclesOf(*p, o, *facing);
                        for (double at : {0.0, 333.0, 905.0}) {
                            std::vector<VehiclePose> below;
                            const VehiclePose stood = all.stand(0, at, &below);
                            d.add(stood.first), d.add(stood.stands() ? stood.last : -1), d.add(double(below.size()));
                            if (!stood.stands()) continue;
                            d.add(stood.middle()), d.add(all.frame(stood).axes), d.add(all.swing(stood, below));
                            const EnvelopeAt t = envelopeAt(*p, all, stood, o.partBox);
                            for (double v : {t.left, t.right, t.leftStation, t.rightStation, t.bend}) d.add(v);
                        }
                        for (double swing : {0.0, 0.05, 0.4}) d.add(all.smallestRadius(0, swing));
                    }
                }
    }
    {
        Digest& d = now["typed"];
        const char* texts[] = {"",
                               "none",
                               "120, 260 mm, 0.4 m",
                               " 1 ft 2 in ,3/8 in",
                               "0: 100, 5 m: 250; smooth",
                               "0: 1, 25 %: 2, 1: 3; share, smooth",
                               "0: 1; 1: 2",
                               "7",
                               "7; share",
                               "5, 6",
                               "a",
                               "1: b",
                               "1: 2: 3",
                               "1,,2",
                               ", 1",
                               "1e300",
                               "0: nan",
                               "50 %: 3; share",
                               "-5: 2",
                               "3: 1, 2: 1"};
        for (const char* text : texts)
            for (const Unit unit : {Unit::Millimetre, Unit::Metre, Unit::Inch}) {
                const auto stations = parseStations(text, unit);
                if (stations)
                    d.add(*stations), d.say(stationsText(*stations, unit));
                else
                    d.say(stations.problem().text + "|" + stations.problem().field);
                for (const ProfileKind of : {ProfileKind::Length, ProfileKind::Angle, ProfileKind::Factor}) {
                    const auto profile = parseProfile(text, unit, of);
                    if (!profile) {
                        d.say(profile.problem().text + "|" + profile.problem().field);
                        continue;
                    }
                    for (const Key& k : profile->keys) d.add(k.at), d.add(k.value);
                    d.add(double(profile->smooth) + 2 * double(profile->stretches));
                    d.say(profileText(*profile, unit, of));
                    if (const auto p = defectOf(*profile, "field")) {
                        d.say(p->text);
                        continue;
                    }
                    for (const bool closed : {false, true}) {
                        const ProfileCurve curve(*profile, 1000, closed, 1.5);
                        for (double at = 0; at <= 1000; at += 125) d.add(curve.at(at));
                        d.add(curve.least()), d.add(double(curve.constant()));
                    }
                }
            }
    }
    for (const auto& entry : makerEntries()) {
        Digest& d = now[std::string("maker ") + entry.name];
        Maker first = entry.maker;
        describe(Told(d), first);
        for (int how = 0; how < Odd::kHow; ++how)
            for (int value = 0, known = 1; value < known; ++value) {
                Maker maker = entry.maker;
                const Odd odd(value, how);
                describe(odd, maker);
                known = odd.met;
                const auto made = make(maker);
                if (!made) {
                    d.say(made.problem().text + "|" + made.problem().field);
                    continue;
                }
                const Box3& box = (*bodyOf(made))->mesh->box;
                d.add(box.min()), d.add(box.max());
            }
    }
    const auto changed = differences("values", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

VICINAL_SUITE(TestFrozenValues)

} // namespace test_frozen_values
#include "test_frozen_values.moc"
