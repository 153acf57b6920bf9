// Every maker against closed formulas; seats, holes, measures and outlines against what they must be however the part's
// own axes lie.
#include "geometry/path/path.h"
#include "parts/makers/maker.h"
#include "parts/makers/sprocket.h"
#include "parts/solid/outline.h"
#include "suite.h"
#include "support.h"
#include <map>
#include <regex>

namespace test_makers {

using namespace vicinal;
using namespace vicinal::test;

namespace {

BodyPtr bodyOf(const Maker& m) {
    auto body = vicinal::bodyOf(make(m));
    if (!body) qFatal("%s", body.problem().text.c_str());
    return *body;
}

double circleArea(double d) { return kPi * d * d / 4; }

/// A turning about a random axis, seeded.
Mat3 anyTurn(unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> n;
    return Quat(n(random), n(random), n(random), n(random)).normalized().toRotationMatrix();
}

/// A seat carried along when the part is moved by x -> R x + t.
Seat moved(const Seat& s, const Box3& box, const Mat3& R, const Vec3& t) {
    Seat out;
    out.point = Vec3(R * seatPoint(s, box) + t);
    out.nose = Vec3(R * s.nose.v);
    out.crown = Vec3(R * s.crown.v);
    if (s.pins) out.pins = Pins{Vec3(R * (*s.pins)[0] + t), Vec3(R * (*s.pins)[1] + t)};
    return out;
}

/// Area by Green's formula over a fine polyline, with Richardson's step: independent of the faces' areas.
double areaOf(const std::vector<Ring>& rings) {
    double sum = 0;
    for (const auto& r : rings) {
        const auto path = Path::make(r, true);
        if (!path) qFatal("%s", path.problem().text.c_str());
        // Gauss points on each span: x dy - y dx.
        static const double x[] = {-0.9602898564975363, -0.7966664774136267, -0.5255324099163290, -0.1834346424956498},
                            w[] = {0.1012285362903763, 0.2223810344533745, 0.3137066458778873, 0.3626837833783620};
        for (const auto& s : path->spans())
            for (int piece = 0; piece < 16; ++piece)
                for (int i = 0; i < 8; ++i) {
                    const double u = (i < 4 ? x[i] : -x[7 - i]), t = (piece + (u + 1) / 2) / 16, h = 1e-6;
                    const Vec3 p = s.point(t), d = (s.point(t + h) - s.point(t - h)) / (2 * h);
                    sum += (p.x() * d.y() - p.y() * d.x()) / 2 * w[i < 4 ? i : 7 - i] / 32;
                }
    }
    return sum;
}

} // namespace

class TestMakers : public QObject {
    Q_OBJECT
private slots:
    void volumesAndBoxesFollowFormulas_data();
    void volumesAndBoxesFollowFormulas();
    void rollersSitInTheirGaps();
    void allMakersGiveSoundBodies_data();
    void allMakersGiveSoundBodies();
    void wrongDimensionsSayWhatWorks();
    void theLimitSaidIsTheLimit();
    void seatsDoNotDependOnThePartsOwnAxes();
    void holesAreFoundOnSolidsAndMeshes();
    void linksAreProposedTheirPins();
    void outlinesFollowFormulas();
    void extrudedOutlines();
    void badOutlinesAreRefused();
    void piecesAndMirrorsKeepTheirVolume();
    void simplifiedCopiesStayNear();
};

void TestMakers::volumesAndBoxesFollowFormulas_data() {
    QTest::addColumn<Maker>("maker");
    QTest::addColumn<double>("volume");
    QTest::addColumn<Box3>("box");
    const auto box = [](double x, double y, double z0, double z1, double x0 = NAN) {
        return Box3(Vec3(std::isnan(x0) ? -x / 2 : x0, -y / 2, z0), Vec3(std::isnan(x0) ? x / 2 : x0 + x, y / 2, z1));
    };
    const auto row = [](const char* name, const Maker& m, double volume, const Box3& b) {
        QTest::newRow(name) << m << volume << b;
    };
    // Pappus: the bar's section times the length of its middle line.
    const auto link = [](double d, double L, double w) { return circleArea(d) * (2 * (L - w) + kPi * (w + d)); };
    row("link", RoundLink{10, 34, 15}, link(10, 34, 15), box(54, 35, -5, 5));
    row("round ring", RoundLink{8, 20, 20}, link(8, 20, 20), box(36, 36, -4, 4));
    { // The stud: a bar from middle line to middle line less what lies inside the bars (numerically, over its section).
        const double d = 12, L = 60, w = 24, s = 8, R = (w + d) / 2;
        double stud = 0;
        const int n = 200000;
        for (int i = 0; i < n; ++i) {
            const double z = s / 2 * (2 * (i + 0.5) / n - 1); // height in the section; the bar's face stands at y(z)
            stud += 2 * std::sqrt(s * s / 4 - z * z) * 2 * (R - std::sqrt(d * d / 4 - z * z)) * s / n;
        }
        row("studded link", RoundLink{d, L, w, true, s}, link(d, L, w) + stud, box(84, 48, -6, 6));
    }
    {
        const double p = 19.05, h = 18, t = 2.4, W = 11.7, r = 11.9, pin = 5.9;
        const double plate = (circleArea(h) + p * h - 2 * circleArea(pin)) * t;
        row("inner link", RollerLink{RollerLink::Kind::Inner, p, h, t, W, r, pin},
            2 * plate + 2 * (circleArea(r) - circleArea(pin)) * W, box(p + h, W + 2 * t, -h / 2, h / 2));
        row("outer link", RollerLink{RollerLink::Kind::Outer, p, h, t, W, r, pin},
            2 * plate + 2 * circleArea(pin) * (W + 4.5 * t), box(p + h, W + 4.5 * t, -h / 2, h / 2));
    }
    {
        const double p = 150, w = 320, t = 16, e = 40, hole = 20, g = 30, gt = 14, c = 0.05 * e, re = e / 2;
        const double slab = (p - e - 2 * c) * t * w;
        const double cosine = std::sqrt(re * re - t * t / 4), a = std::asin(t / e);
        const double behind = a * re * re - cosine * t / 2; // of the eye's circle, behind the plate's end
        const double tab = t * (re + c - cosine) + (circleArea(e) - behind) - circleArea(hole);
        row("tread plate", TreadPlate{p, w, t, e, hole, g, gt}, slab + tab * (w - 2 * c) + g * gt * w,
            box(p + e, w, -e / 2, t / 2 + g));
    }
    using B = Baluster;
    row("square", B{18, 24, 875}, 18. * 24 * 875, box(18, 24, 0, 875));
    row("square, pointed", B{18, 24, 875, B::Section::Square, B::Top::Pointed, 60}, 18. * 24 * (815 + 20),
        box(18, 24, 0, 875));
    row("picket", B{80, 20, 1000, B::Section::Square, B::Top::Picket, 50}, 80. * 20 * 975, box(80, 20, 0, 1000));
    row("round", B{22, 1, 900, B::Section::Round}, circleArea(22) * 900, box(22, 22, 0, 900));
    row("round, pointed", B{22, 1, 900, B::Section::Round, B::Top::Pointed, 30}, circleArea(22) * (870 + 10),
        box(22, 22, 0, 900));
    { // Turned: the integral of pi r^2 dz along its line, by Simpson's rule on each piece.
        const B turned{56, 1, 900, B::Section::Turned};
        double v = 0, widest = 0;
        for (const auto& s : turnedProfile(turned)) {
            const auto path = *Path::make({s}, false);
            const int n = 20000;
            double z = startOf(s).z(), r = startOf(s).x();
            for (int i = 1; i <= n; ++i) { // cones between close points
                const Vec3 p = path.at(path.length() * i / n).point;
                v += kPi * (p.z() - z) * (r * r + r * p.x() + p.x() * p.x()) / 3;
                z = p.z(), r = p.x(), widest = std::max(widest, r);
            }
        }
        row("turned", turned, v, box(2 * widest, 2 * widest, 0, 900));
    }
    row("post", Post{90, 70, 1100, 15, 20, 30}, 90. * 70 * 1100 + 120. * 100 * 20 + 120. * 100 * 30 / 3,
        box(120, 100, 0, 1150));
    row("plank", Plank{1350, 142, 27}, 1350. * 142 * 27, box(142, 1350, 0, 27));
    row("sleeper", Sleeper{2400, 240, 140, 1435, 150, 12, 65}, 240 * (2400. * 140 - 2 * 150 * 12),
        box(240, 2400, -128, 12));
    { // cones, stacked
        const BollardLamp lamp;
        double v = 0;
        const auto p = lampProfile(lamp);
        for (size_t i = 1; i < p.size(); ++i)
            v += kPi * (p[i].y() - p[i - 1].y()) *
                 (p[i].x() * p[i].x() + p[i].x() * p[i - 1].x() + p[i - 1].x() * p[i - 1].x()) / 3;
        row("lamp", lamp, v, box(240, 240, 0, 900));
    }
    row("tile", Tile{400, 300, 40, 25}, (400. * 300 - (4 - kPi) * 625) * 40, box(400, 300, 0, 40));
    row("arrow", Arrow{120, 60, 22, 50, 2}, (70. * 22 + 60 * 50 / 2.) * 2, box(120, 60, 0, 2));
    row("flat arrow", Arrow{120, 60, 22, 50, 0}, 0, box(120, 60, 0, 0));
    row("dash", Dash{60, 6, 1}, 360, box(60, 6, 0, 1));
    row("stitch", Stitch{6, 1.2}, circleArea(1.2) * 4.8 + kPi * 1.2 * 1.2 * 1.2 / 6, box(6, 1.2, -0.6, 0.6));
    row("hole", RoundHole{12, 20}, circleArea(12) * 20, box(12, 12, -20, 0));
    row("slot", SlotHole{40, 12, 20}, (circleArea(12) + 28 * 12) * 20, box(40, 12, -20, 0));
    row("notch", Notch{12, 20, 60}, 12. * 20 * 60, box(12, 60, -20, 0));
    row("V notch", Notch{12, 20, 60, true}, 12. * 20 * 60 / 2, box(12, 60, -20, 0));
    row("bracket", Bracket{60, 80, 40, 5, 9}, 40. * 5 * 135 - 2 * circleArea(9) * 5, box(60, 40, 0, 80, 0));
    row("box", PlainBox{10, 20, 30}, 6000, box(10, 20, 0, 30));
    row("cylinder", Cylinder{60, 120}, circleArea(60) * 120, box(60, 60, 0, 120));
    row("tube", Tube{60, 4, 200}, (circleArea(60) - circleArea(52)) * 200, box(200, 60, -30, 30));
    { // a multiple of four teeth: gaps on all four axes, tips between them; the outline's area by Green's formula
        const Sprocket s{20, 25.4, 15.88, 14, 30, 90, 40};
        double reach = 0;
        const auto ring = *toothedRing(20, 25.4, 15.88);
        for (const auto& segment : ring) reach = std::max(reach, Path::make({segment}, false)->bounds().max().x());
        row("sprocket", s, (areaOf({ring}) - circleArea(30)) * 14 + (circleArea(90) - circleArea(30)) * 26,
            box(2 * reach, 2 * reach, -20, 20));
    }
    row("wheel", RimWheel{200, 40, RimWheel::Rim::Plain, 10, 25, 60, 50},
        (circleArea(200) - circleArea(25)) * 40 + (circleArea(60) - circleArea(25)) * 10, box(200, 200, -25, 25));
    { // the groove: two cones of its flanks over the flat bottom
        const double w = 30, lip = 10, r = 100, flat = w / 5, one = (w - flat) / 2;
        const double frustum = kPi * one * (r * r + r * (r + lip) + (r + lip) * (r + lip)) / 3;
        row("sheave", RimWheel{200, 30, RimWheel::Rim::Grooved, 10, 0, 0, 0}, 2 * frustum + circleArea(200) * flat,
            box(220, 220, -15, 15));
    }
    row("drum", RimWheel{240, 120, RimWheel::Rim::Flanged, 20, 30, 0, 0},
        circleArea(240) * 120 - circleArea(30) * 120 + 2 * 20 * (circleArea(280) - circleArea(240)),
        box(280, 280, -60, 60));
}

/// Every size of the standard: rollers in neighbouring gaps touch their seats and nothing else, teeth stand between
/// them, and a tooth more is a tooth more.
void TestMakers::rollersSitInTheirGaps() {
    for (const auto& [p, d1] : {std::pair{9.525, 6.35}, {12.7, 8.51}, {25.4, 15.88}, {38.1, 25.4}})
        for (long z : {9L, 11L, 17L, 25L, 38L, 76L, 150L}) {
            NEAR(*standardRoller(p), d1, 0);
            const ToothForm f = toothForm(z, p, d1);
            const auto ring = toothedRing(z, p, d1);
            QVERIFY2(bool(ring), qPrintable(QString("%1 %2").arg(p).arg(z)));
            const auto outline = Path::make(*ring, true);
            QVERIFY2(bool(outline), outline ? "" : outline.problem().text.c_str());
            double least = 1e9, most = 0;
            const auto polyline = outline->polyline(1e-3);
            for (const Vec3& v : polyline) least = std::min(least, v.norm()), most = std::max(most, v.norm());
            NEAR(least, f.pitchDiameter / 2 - f.seatRadius, 2e-3);
            QVERIFY(most <= f.tipDiameter / 2 + 1e-9 && most > f.pitchDiameter / 2);
            for (long k = 0; k < z; k += std::max(1L, z / 5)) {
                const double a = 2 * kPi * double(k) / double(z);
                const Vec3 roller(f.pitchDiameter / 2 * std::cos(a), f.pitchDiameter / 2 * std::sin(a), 0);
                double clear = 1e9;
                for (const Vec3& v : polyline) clear = std::min(clear, (v - roller).norm());
                QVERIFY(clear >= d1 / 2);
                NEAR(clear, f.seatRadius, 2e-3); // the seat is the nearest there is
            }
            // Symmetric about every gap and every tooth.
            const double half = kPi / double(z);
            for (double u : {0.2, 0.5, 0.9}) {
                const Vec3 v = outline->at(u * outline->length()).point;
                const Vec3 mirrored(v.x(), -v.y(), 0), turned = Eigen::AngleAxisd(2 * half, Vec3::UnitZ()) * v;
                for (const Vec3& other : {mirrored, turned})
                    NEAR((outline->at(outline->closest(other)).point - other).norm(), 0, 1e-6);
            }
        }
    QCOMPARE(toothedRing(12, 25.4, 30).problem().field, std::string("roller"));
    QVERIFY(!standardRoller(20));
}

void TestMakers::volumesAndBoxesFollowFormulas() {
    QFETCH(Maker, maker);
    QFETCH(double, volume);
    QFETCH(Box3, box);
    const auto made = make(maker);
    QVERIFY2(bool(made), made ? "" : made.problem().text.c_str());
    const auto solid = made->solid->get();
    QVERIFY(solid != nullptr);
    NEAR(volumeOf(*solid), volume, 5e-8 * volume + 1e-9);
    const Box3 is = boxOf(*solid);
    NEAR((is.min() - box.min()).norm(), 0, 1e-5);
    NEAR((is.max() - box.max()).norm(), 0, 1e-5);
    // The triangles are near it: inside convex parts, outside in holes.
    const auto body = bodyOf(maker);
    NEAR(volumeOf(*body->mesh), volume, 0.035 * volume + 1e-9);
    NEAR((body->mesh->box.min() - is.min()).norm(), 0, 1e-5);
    NEAR((body->mesh->box.max() - is.max()).norm(), 0, 1e-5);
}

void TestMakers::allMakersGiveSoundBodies_data() {
    QTest::addColumn<int>("entry");
    for (int i = 0; i < int(makerEntries().size()); ++i) QTest::newRow(makerEntries()[size_t(i)].name) << i;
}

void TestMakers::allMakersGiveSoundBodies() {
    QFETCH(int, entry);
    const Maker& m = makerEntries()[size_t(entry)].maker;
    QCOMPARE(makerOf(kindOf(m))->index(), m.index());
    QElapsedTimer clock;
    clock.start();
    const auto body = bodyOf(m);
    qInfo("%s: %zu triangles, %.1f ms", makerEntries()[size_t(entry)].name, body->mesh->triangles.size(),
          double(clock.nsecsElapsed()) * 1e-6);
    for (const auto& e : edgesOf(*body->mesh).edges) QCOMPARE(e.triangles, 2u); // watertight
    QVERIFY(volumeOf(*body->mesh) > 0);                                         // and faces outwards
    QVERIFY(volumeOf(*body) > 0);
    // Its own origin is its seat: on the box's middle across, so that a part never lands beside its path.
    NEAR(body->mesh->box.center().y(), 0, std::holds_alternative<SteppingStone>(m) ? 60 : 1e-6);
    if (body->pins) NEAR(((*body->pins)[0] + (*body->pins)[1]).norm(), 0, 1e-9);
}

void TestMakers::wrongDimensionsSayWhatWorks() {
    const auto refused = [](const Maker& m, const char* field, const char* says) {
        const auto r = make(m);
        if (r) return qWarning("%s was not refused", field), false;
        if (r.problem().field != field) return qWarning("%s", r.problem().field.c_str()), false;
        if (r.problem().text.find(says) == std::string::npos) return qWarning("%s", r.problem().text.c_str()), false;
        return true;
    };
    QVERIFY(refused(RoundLink{16, 40, 15}, "bar", "15 mm"));   // the next link passes its width
    QVERIFY(refused(RoundLink{18, 35, 20}, "bar", "17.5 mm")); // two bars pass its length
    QVERIFY(refused(RoundLink{10, 24, 14, true, 8}, "bar", "8 mm"));
    QVERIFY(bool(make(RoundLink{15, 40, 15})) && bool(make(RoundLink{17.5, 35, 20})));
    QVERIFY(refused(RoundLink{5, 12, 14}, "insideLength", "14 mm"));
    QVERIFY(refused(RollerLink{RollerLink::Kind::Inner, 12, 12, 2, 8, 13, 5}, "roller", "overlap"));
    QVERIFY(refused(TreadPlate{40}, "pitch", "no plate"));
    QVERIFY(refused(Baluster{20, 20, 30, Baluster::Section::Round, Baluster::Top::Pointed, 30}, "point", "30 mm"));
    QVERIFY(refused(Sleeper{1600}, "length", "1650 mm"));
    QVERIFY(refused(Tile{400, 300, 40, 151}, "radius", "150 mm"));
    QVERIFY(refused(Tube{60, 30, 100}, "wall", "30 mm"));
    QVERIFY(refused(Sprocket{4}, "teeth", "5 to 400"));
    QVERIFY(refused(Sprocket{17, 25.4, 26}, "roller", "25.4 mm"));
    QVERIFY(refused(Sprocket{17, 25.4, 15.88, 15, 25, 200, 40}, "hub", "teeth"));
    QVERIFY(refused(RimWheel{100, 40, RimWheel::Rim::Plain, 0, 120, 0, 0}, "bore", "100 mm"));
    QVERIFY(refused(SteppingStone{500, 400, 90, 0.7}, "roughness", "0.4"));
    // No value of any maker may be nothing, negative, not a number or endless without being told so by its name.
    struct Spoil : IgnoreValues {
        int* at;
        double value;
        std::string* key;
        void length(const char* k, const char*, const char*, double& v) const {
            if ((*at)-- == 0) v = value, *key = k;
        }
    };
    int tried = 0;
    for (const auto& entry : makerEntries())
        for (double value : {-3., double(NAN), double(INFINITY), 1e12})
            for (int i = 0; i < 12; ++i) {
                Maker m = entry.maker;
                int at = i;
                std::string key;
                Spoil spoil;
                spoil.at = &at;
                spoil.value = value;
                spoil.key = &key;
                describe(spoil, m);
                if (key.empty()) continue;
                const auto r = make(m);
                QVERIFY2(!r && r.problem().field == key, (std::string(entry.name) + " " + key).c_str());
                ++tried;
            }
    QVERIFY(tried > 300);
}

/// Two sizes of every maker made smaller and larger: where that is refused with a length as its limit, the field is
/// wrong up to that length and right beyond it.
void TestMakers::theLimitSaidIsTheLimit() {
    struct Size : IgnoreValues {
        int* at;
        std::string key; // or by name
        double *factor, *set;
        std::string* named;
        void length(const char* k, const char*, const char*, double& v) const {
            if (key.empty() ? (*at)-- != 0 : key != k) return;
            *named = k;
            if (factor) v *= *factor;
            if (set) std::swap(v, *set);
        }
    };
    const auto scaled = [](Maker& m, int at, double factor) {
        std::string named;
        describe(Size{{}, &at, "", &factor, nullptr, &named}, m);
        return !named.empty();
    };
    const auto with = [](Maker m, const std::string& field, double value) {
        std::string named;
        double set = value;
        describe(Size{{}, nullptr, field, nullptr, &set, &named}, m);
        return std::pair(m, set); // and what it was
    };
    const std::regex length("([0-9][0-9,]*(?:\\.[0-9]+)?) mm[^0-9]*$");
    const auto bare = [](const std::string& text) { return std::regex_replace(text, std::regex("[0-9.,]"), ""); };
    std::map<std::string, int> limits; // and how often they were met: a solid is built at each
    for (const auto& entry : makerEntries())
        for (int i = 0; i < 12; ++i)
            for (int k = 0; k <= i; ++k)
                for (double first : {0.2, 6.})
                    for (double second : {0.25, 5.}) {
                        Maker m = entry.maker;
                        if (!scaled(m, i, first) || !scaled(m, k, second)) continue;
                        const auto r = make(m);
                        std::smatch found;
                        if (r) continue;
                        const std::string text = r.problem().text, field = r.problem().field;
                        if (!std::regex_search(text, found, length)) continue;
                        if (++limits[std::string(entry.name) + " " + field] > 2) continue;
                        const std::string name = std::string(entry.name) + " " + field + ": " + text;
                        const double limit = std::stod(std::regex_replace(found[1].str(), std::regex(","), ""));
                        const double is = with(m, field, limit).second, side = is < limit ? 1 : -1;
                        const auto still = [&](double value) {
                            const auto now = make(with(m, field, value).first);
                            return !now && now.problem().field == field && bare(now.problem().text) == bare(text);
                        };
                        QVERIFY2(std::abs(is - limit) < 0.01 || !make(with(m, field, limit - side * 0.01).first),
                                 name.c_str());
                        QVERIFY2(!still(limit + side * 0.01), name.c_str());
                    }
    QVERIFY(limits.size() >= 40);
}

void TestMakers::seatsDoNotDependOnThePartsOwnAxes() {
    // The same part with its origin a kilometre off and turned anyhow measures the same in seat axes.
    for (const Maker& maker : {Maker(RoundLink{10, 34, 15, true, 6}), Maker(TreadPlate{}), Maker(Bracket{}),
                               Maker(Baluster{30, 30, 900, Baluster::Section::Turned})}) {
        const auto body = bodyOf(maker);
        Seat seat{Vec3(3, -2, 5), Vec3(Vec3(1, 2, 0.5).normalized()), Axis::PlusZ};
        if (body->pins) seat.pins = body->pins;
        const Measures a = measuresOf(*body, seat);
        const Outline shadow = outlineOf(*body, seat);
        for (unsigned seed = 1; seed <= 3; ++seed) {
            const Mat3 R = anyTurn(seed);
            const Vec3 t(1e6, -2e5, 3e4);
            const auto far = vicinal::moved(body, R, t);
            const Seat its = moved(seat, body->mesh->box, R, t);
            QVERIFY(!defectOf(its));
            const Measures b = measuresOf(*far, its);
            for (const auto& [x, y] : {std::pair(a.before, b.before),
                                       {a.behind, b.behind},
                                       {a.left, b.left},
                                       {a.right, b.right},
                                       {a.up, b.up},
                                       {a.down, b.down},
                                       {a.pinDistance.value_or(0), b.pinDistance.value_or(0)}})
                NEAR(x, y, 2e-5);
            NEAR(a.volume, b.volume, 1e-6 * a.volume);
            NEAR((a.centre - b.centre).norm(), 0, 1e-5);
            NEAR(outlineOf(*far, its).area, shadow.area, 2e-3 * shadow.area);
            QVERIFY(farOrigin(far->mesh->box) > 100);
        }
        QVERIFY(farOrigin(body->mesh->box) < 1);
        // As triangles the same within their fineness.
        const auto mesh = vicinal::bodyOf(body->mesh);
        const Measures m = measuresOf(*mesh, seat);
        NEAR(m.before, a.before, 0.01 * a.length());
        NEAR(m.volume, a.volume, 0.04 * a.volume);
        QVERIFY(a.exact && !m.exact);
    }
    QVERIFY(defectOf(Seat{BoxPoint{}, Axis::PlusX, Vec3(1, 0.001, 0)})->field == "crown");
    QVERIFY(defectOf(Seat{BoxPoint{}, Vec3(0, 0, 0)})->field == "nose");
    QVERIFY(defectOf(Seat{BoxPoint{}, Axis::PlusX, Axis::PlusZ, Pins{Vec3(1, 2, 3), Vec3(1, 2, 3)}})->field == "pins");
    QVERIFY(!defectOf(Seat{BoxPoint{}, Axis::PlusX, Vec3(0.4, 0, 1)})); // leans: made square
    Seat turned = noseTurned(Seat{});
    QVERIFY(axisOf(turned.nose) == Axis::PlusY && axisOf(turned.crown) == Axis::PlusZ);
    turned = crownTurned(Seat{});
    QVERIFY(axisOf(turned.nose) == Axis::PlusX && axisOf(turned.crown) == Axis::MinusY);
}

void TestMakers::holesAreFoundOnSolidsAndMeshes() {
    const Bracket bracket{60, 80, 40, 5, 9};
    const RollerLink link;
    for (const bool solid : {true, false}) {
        auto body = bodyOf(bracket);
        const Mat3 R = anyTurn(5);
        body = vicinal::moved(body, R, Vec3(500, 20, -7));
        if (!solid) body = vicinal::bodyOf(body->mesh);
        auto holes = holesOf(*body);
        QCOMPARE(holes.size(), size_t(2));
        for (const Vec3& at : {Vec3(32.5, 0, 2.5), Vec3(2.5, 0, 42.5)}) {
            const Vec3 want = R * at + Vec3(500, 20, -7);
            const auto it = std::min_element(holes.begin(), holes.end(), [&](const Hole& a, const Hole& b) {
                return (a.centre - want).norm() < (b.centre - want).norm();
            });
            NEAR((it->centre - want).norm(), 0, 1e-6);
            NEAR(it->radius, 4.5, 1e-7);
            NEAR(it->depth, 5, 1e-6);
            NEAR(it->error, 0, 1e-7);
        }
        // A roller link has a hole through each plate and roller at either end: all on two axes.
        body = bodyOf(link);
        if (!solid) body = vicinal::bodyOf(body->mesh);
        holes = holesOf(*body);
        QVERIFY(holes.size() >= 2);
        for (const auto& h : holes) {
            NEAR(std::abs(h.centre.x()), 12.7, 1e-6);
            NEAR(h.radius, 3.96, 1e-6);
            NEAR(std::abs(h.axis.y()), 1, 1e-9);
        }
        QVERIFY(holesOf(*bodyOf(Cylinder{})).empty()); // a shaft is none
        // Spots: the centre of a hole is offered, and a corner of the box, and the middle of an edge.
        body = bodyOf(bracket);
        if (!solid) body = vicinal::bodyOf(body->mesh);
        const auto spots = spotsOf(*body);
        const auto offered = [&](Spot::Kind kind, const Vec3& at) {
            return std::any_of(spots.begin(), spots.end(),
                               [&](const Spot& s) { return s.kind == kind && (s.at - at).norm() < 1e-5; });
        };
        QVERIFY(offered(Spot::Kind::HoleAxis, {32.5, 0, 2.5}));
        QVERIFY(offered(Spot::Kind::HoleAxis, {32.5, 0, 0}));
        QVERIFY(offered(Spot::Kind::Corner, {60, -20, 0}));
        QVERIFY(offered(Spot::Kind::EdgeMiddle, {60, 0, 0}));
        QVERIFY(offered(Spot::Kind::FaceCentre, {60, 0, 2.5}));
        QVERIFY(offered(Spot::Kind::BoxPoint, {30, 0, 40}));
    }
    // A mesh circle that is not one: an oval hole is refused, a slightly bent one reports its error.
    auto mesh = std::make_shared<Mesh>(*bodyOf(Tube{60, 10, 30})->mesh);
    for (auto& p : mesh->points) p.y() *= 1.01;
    const auto bent = holesOf(*vicinal::bodyOf(mesh));
    QCOMPARE(bent.size(), size_t(1));
    QVERIFY(bent[0].error > 0.05 && bent[0].error < 0.15); // half of the 1 % of the radius 20 of either side
    for (auto& p : mesh->points) p.y() *= 1.2;
    QVERIFY(holesOf(*vicinal::bodyOf(mesh)).empty());
}

void TestMakers::linksAreProposedTheirPins() {
    // A link that came from elsewhere: no pins known, far from the origin, turned about z.
    const auto made = bodyOf(RollerLink{RollerLink::Kind::Inner, 19.05, 18, 2.4, 11.7, 11.9, 5.9});
    const Mat3 R = Eigen::AngleAxisd(0.7, Vec3::UnitZ()).toRotationMatrix();
    for (const bool solid : {true, false}) {
        Body strange = *vicinal::moved(made, R, Vec3(4000, 300, 20));
        strange.pins.reset();
        if (!solid) strange.solid = nullptr;
        const auto offers = proposalsFor(strange);
        QVERIFY(offers.front().kind == Proposal::Kind::TwoHoles);
        const Seat& s = offers.front().seat;
        QVERIFY(!defectOf(s));
        NEAR((seatPoint(s, strange.mesh->box) - Vec3(4000, 300, 20)).norm(), 0, 1e-6);
        NEAR(((*s.pins)[1] - (*s.pins)[0]).norm(), 19.05, 1e-6);
        NEAR(std::abs((R.transpose() * s.nose.v).x()), 1, 1e-9);
        NEAR(s.crown.v.z(), 1, 1e-9);
    }
    QVERIFY(proposalsFor(*bodyOf(Baluster{})).front().kind == Proposal::Kind::Foot);
    QVERIFY(proposalsFor(*bodyOf(Plank{})).front().kind == Proposal::Kind::Middle);
    QVERIFY(proposalsFor(*bodyOf(RoundLink{})).front().kind == Proposal::Kind::OwnPins);
}

void TestMakers::outlinesFollowFormulas() {
    const auto check = [](const char* name, const Maker& m, Look look, double area, size_t rings,
                          const Seat& seat = Seat{Vec3(0, 0, 0)}) {
        const auto body = bodyOf(m);
        const Outline o = outlineOf(*body, seat, look);
        qInfo("%s: exact %d, %zu rings", name, int(o.exact), o.rings.size());
        Body mesh = *body;
        mesh.solid = nullptr;
        const Outline rough = outlineOf(mesh, seat, look);
        bool ok = o.exact && o.rings.size() == rings && std::abs(o.area - area) < 1e-5 * area &&
                  std::abs(areaOf(o.rings) - area) < 1e-4 * area && std::abs(rough.area - area) < 0.025 * area &&
                  !rough.exact && rough.rings.size() == rings;
        if (!ok)
            qWarning("%s: area %.9g (rings %.9g, triangles %.9g), wanted %.9g; %zu rings (triangles %zu)", name, o.area,
                     areaOf(o.rings), rough.area, area, o.rings.size(), rough.rings.size());
        return ok;
    };
    const double d = 10, L = 34, w = 15;
    QVERIFY(check("link", RoundLink{d, L, w}, Look::Crown, circleArea(w + 2 * d) - circleArea(w) + 2 * (L - w) * d, 2));
    QVERIFY(check("link from its side", RoundLink{d, L, w}, Look::Side, circleArea(d) + (L + d) * d, 1));
    QVERIFY(check("inner link", RollerLink{}, Look::Side, circleArea(21) + 25.4 * 21 - 2 * circleArea(7.92), 3));
    QVERIFY(check("box", PlainBox{10, 20, 30}, Look::Crown, 200, 1));
    QVERIFY(check("cylinder", Cylinder{60, 120}, Look::Crown, circleArea(60), 1));
    QVERIFY(check("cylinder from its side", Cylinder{60, 120}, Look::Side, 60. * 120, 1));
    QVERIFY(check("tube", Tube{60, 4, 200}, Look::Crown, 60. * 200, 1));
    QVERIFY(check("tube along", Tube{60, 4, 200}, Look::Crown, circleArea(60) - circleArea(52), 2,
                  Seat{Vec3(0, 0, 0), Axis::PlusZ, Axis::PlusX}));
    QVERIFY(check("tile", Tile{400, 300, 40, 25}, Look::Crown, 400. * 300 - (4 - kPi) * 625, 1));
    QVERIFY(check("post", Post{90, 70, 1100, 15, 20, 30}, Look::Crown, 120. * 100, 1));
    QVERIFY(check("post from its side", Post{90, 70, 1100, 15, 20, 30}, Look::Side,
                  90. * 1100 + 120 * 20 + 120 * 30 / 2., 1));
    QVERIFY(check("arrow", Arrow{}, Look::Crown, 70. * 22 + 60 * 50 / 2., 1));
    QVERIFY(check("flat arrow", Arrow{120, 60, 22, 50, 0}, Look::Crown, 70. * 22 + 60 * 50 / 2., 1));
    QVERIFY(check("bracket", Bracket{60, 80, 40, 5, 9}, Look::Crown, 60. * 40 - circleArea(9), 2));
    { // rings are lines and arcs: what a cutter wants
        const Outline o = outlineOf(*bodyOf(RoundLink{d, L, w}), Seat{Vec3(0, 0, 0)}, Look::Crown);
        for (const auto& r : o.rings) QCOMPARE(r.size(), size_t(4));
        const Outline tube = outlineOf(*bodyOf(Tube{60, 4, 200}), Seat{Vec3(0, 0, 0)}, Look::Crown);
        QCOMPARE(tube.rings[0].size(), size_t(4)); // its round ends are seen from their side
    }
}

void TestMakers::extrudedOutlines() {
    const Ring outer{Arc{Vec3::Zero(), Vec3::UnitX(), Vec3::UnitY(), 50, 2 * kPi}};
    const auto hole = [](double x, double y, double r, double way) {
        return Ring{Arc{Vec3(x, y, 0), Vec3::UnitX(), Vec3::UnitY(), r, way * 2 * kPi}};
    };
    // A disc with two holes, whichever way they run, and an island in one of them.
    const std::vector<Ring> rings{hole(20, 0, 12, 1), outer, hole(-20, 0, 12, -1), hole(20, 0, 5, -1)};
    const auto s = extruded(rings, 2, 10);
    QVERIFY2(bool(s), s ? "" : s.problem().text.c_str());
    NEAR(volumeOf(**s), 8 * kPi * (2500 - 2 * 144 + 25), 1e-5);
    QCOMPARE(solidCount(**s), 2);
    const auto flat = extruded(rings, 0, 0);
    QVERIFY(bool(flat));
    NEAR(vicinal::areaOf(**flat), kPi * (2500 - 2 * 144 + 25), 1e-6);
    NEAR(volumeOf(**flat), 0, 0);
    const auto back = solidFromBinary(toBinary(**s));
    QVERIFY(bool(back));
    NEAR(volumeOf(**back), volumeOf(**s), 1e-9);
    QVERIFY(!solidFromBinary(toBinary(**s).substr(0, 300)));
    QVERIFY(!solidFromBinary(""));
    // Splines keep their exact area: a closed one against Green's formula.
    std::vector<Vec3> p;
    for (int i = 0; i < 7; ++i)
        p.push_back(Vec3((100 + 10 * (i % 3)) * std::cos(i * 2 * kPi / 7), 80 * std::sin(i * 2 * kPi / 7), 0));
    const bool soft[7] = {true, true, true, true, true, true, true};
    const Ring round = throughPoints(p, soft, true);
    const auto stone = extruded(std::vector<Ring>{round}, 0, 3);
    QVERIFY(bool(stone));
    NEAR(volumeOf(**stone), 3 * areaOf({round}), 1e-5 * volumeOf(**stone));
    // Many pieces: half circles on a ring of corners, with as many straight ones in the hole.
    constexpr int kMany = 240;
    Ring scallops, teeth;
    const auto corner = [](int i, double r) {
        return Vec3(r * std::cos(2 * kPi * i / kMany), r * std::sin(2 * kPi * i / kMany), 0);
    };
    for (int i = 0; i < kMany; ++i) {
        const Vec3 a = corner(i, 500), b = corner(i + 1, 500), x = (a - b).normalized();
        scallops.push_back(Arc{(a + b) / 2, x, Vec3(-x.y(), x.x(), 0), (b - a).norm() / 2, (i % 2 ? 1 : -1) * kPi});
        teeth.push_back(Line{corner(i, i % 2 ? 200 : 250), corner(i + 1, i % 2 ? 250 : 200)});
    }
    const std::vector<Ring> wheel{scallops, teeth};
    const auto many = extruded(wheel, 0, 4);
    QVERIFY2(bool(many), many ? "" : many.problem().text.c_str());
    const double sine = std::sin(2 * kPi / kMany); // as many half circles outwards as inwards
    NEAR(volumeOf(**many), 4 * kMany * (500.0 * 500 - 200 * 250) / 2 * sine, 1e-2);
    QCOMPARE(solidCount(**many), 1);
    const auto again = solidFromBinary(toBinary(**many));
    QVERIFY(bool(again));
    NEAR(volumeOf(**again), volumeOf(**many), 1e-9);
    Ring endless;
    for (int i = 0; i < 5001; ++i)
        endless.push_back(
            Line{Vec3(500 * std::cos(2 * kPi * i / 5001), 500 * std::sin(2 * kPi * i / 5001), 0),
                 Vec3(500 * std::cos(2 * kPi * (i + 1) / 5001), 500 * std::sin(2 * kPi * (i + 1) / 5001), 0)});
    const auto refused = extruded(std::vector<Ring>{endless}, 0, 4);
    QVERIFY(!refused && refused.problem().text.find("has 5001 pieces; the most is 5000") != std::string::npos);
}

void TestMakers::badOutlinesAreRefused() {
    const auto says = [](const std::vector<Ring>& rings, double from, double to) {
        const auto r = extruded(rings, from, to);
        return r ? Words() : r.problem().text;
    };
    const auto line = [](std::initializer_list<Vec3> p) {
        Ring out;
        for (size_t i = 0; i < p.size(); ++i) out.push_back(Line{p.begin()[i], p.begin()[(i + 1) % p.size()]});
        return out;
    };
    const Ring bow = line({{0, 0, 0}, {10, 10, 0}, {10, 0, 0}, {0, 10, 0}});
    QVERIFY(says({bow}, 0, 5).find("crosses itself at x 5 mm, y 5 mm") != std::string::npos);
    const Ring a = line({{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}}),
               b = line({{5, 5, 0}, {15, 5, 0}, {15, 15, 0}, {5, 15, 0}});
    QVERIFY(says({a, b}, 0, 5).find("Two outlines cross") != std::string::npos);
    QVERIFY(says({}, 0, 5).find("no closed outline") != std::string::npos);
    QVERIFY(says({line({{0, 0, 0}, {10, 0, 0}})}, 0, 5).find("encloses nothing") != std::string::npos);
    QVERIFY(says({a}, 5, 0).find("height") != std::string::npos);
    QVERIFY(says({a}, 0, NAN).find("height") != std::string::npos);
    QVERIFY(says({a}, 0, 5).empty());
}

void TestMakers::piecesAndMirrorsKeepTheirVolume() {
    const auto link = bodyOf(RoundLink{10, 34, 15});
    const Mat3 quarter = Eigen::AngleAxisd(kPi / 2, Vec3::UnitX()).toRotationMatrix();
    const auto next = vicinal::moved(link, quarter, Vec3(34, 0, 0));
    const std::vector<BodyPtr> alone{link};
    QCOMPARE(together(alone), link);
    const auto pair = together(std::vector<BodyPtr>{link, next});
    QVERIFY(pair->solid && pair->pins);
    NEAR(((*pair->pins)[1] - (*pair->pins)[0]).norm(), 68, 1e-9); // two pitches: one unit of chain
    NEAR(volumeOf(*pair), 2 * volumeOf(*link), 1e-6);
    NEAR(pair->mesh->box.sizes().x(), 88, 1e-6);
    const Mat3 mirror = Vec3(1, -1, 1).asDiagonal();
    const auto bracket = bodyOf(Bracket{});
    const auto twin = vicinal::moved(bracket, mirror, Vec3(0, 100, 0), 1.5);
    NEAR(volumeOf(*twin), 1.5 * 1.5 * 1.5 * volumeOf(*bracket), 1e-6 * volumeOf(*twin));
    QVERIFY(volumeOf(*twin->mesh) > 0); // still faces outwards
    NEAR(twin->mesh->box.center().y(), 100, 1e-6);
    QVERIFY(!together(std::vector<BodyPtr>{link, vicinal::bodyOf(next->mesh)})->solid); // one mesh makes all a mesh
}

void TestMakers::simplifiedCopiesStayNear() {
    const auto body = bodyOf(Baluster{56, 56, 900, Baluster::Section::Turned});
    const Mesh& fine = *body->mesh;
    const Mesh coarse = simplified(fine, fine.triangles.size() / 4, 5);
    QVERIFY(coarse.triangles.size() < fine.triangles.size() / 2);
    QVERIFY(!coarse.triangles.empty());
    for (const Vec3& p : coarse.points) QVERIFY(fine.box.exteriorDistance(p) < 1e-6);
    NEAR(volumeOf(coarse), volumeOf(fine), 0.15 * volumeOf(fine));
    // Corner normals: a cylinder's side points straight out, its lid straight up.
    const auto round = bodyOf(Cylinder{60, 120});
    const auto normals = cornerNormals(*round->mesh);
    for (size_t t = 0; t < round->mesh->triangles.size(); ++t)
        for (size_t i = 0; i < 3; ++i) {
            const Vec3 n = normals[3 * t + i];
            Vec3 p = round->mesh->points[round->mesh->triangles[t][i]];
            p.z() = 0;
            NEAR(n.norm(), 1, 1e-12);
            QVERIFY(std::abs(n.z()) > 0.999 || n.dot(p.normalized()) > 0.999);
        }
}

VICINAL_SUITE(TestMakers)

} // namespace test_makers
#include "test_makers.moc"
