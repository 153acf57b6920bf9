// Strands that hang between wheels: against a string of masses in balance, against what the curve itself says, and
// where none can hang.
#include "geometry/wheels/wheels.h"
#include "made.h"
#include "suite.h"
#include "support.h"
#include <QRegularExpression>

namespace test_slack {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Links of equal weight hinged at their ends, in balance: the pull along each is as much as the level pull and the
/// weight that hangs below ask for. Knows nothing of cosh: it adds up links. Starts on the first wheel as its tangent.
struct Masses {
    StrandEnd from, to;
    double length;
    int count = 500;

    struct End {
        Vec2 at, way;
    };
    Vec2 start(double slope) const { // of travel towards +x, wheel to the left where its radius is above zero
        const Vec2 d = Vec2(1, slope).normalized();
        return from.centre - from.radius * Vec2(-d.y(), d.x());
    }
    End hang(double pull, double slope) const {
        Vec2 p = start(slope), d(1, slope);
        for (int i = 0; i < count; ++i) {
            d = Vec2(pull, pull * slope + (i + 0.5)).normalized(); // weight of the links below the middle of this one
            p += length / count * d;
        }
        return {p, Vec2(pull, pull * slope + count).normalized()};
    }
    /// What the end lacks of being a tangent of the second wheel.
    Vec2 miss(double pull, double slope) const {
        const End e = hang(pull, slope);
        return e.at - (to.centre - to.radius * Vec2(-e.way.y(), e.way.x()));
    }
    /// The level pull, in weights of a link, and the first slope, found from a flat start by Newton's steps.
    std::pair<double, double> balance(double pull, double slope) const {
        for (int i = 0; i < 80; ++i) {
            const Vec2 f = miss(pull, slope);
            const double h = 1e-6;
            Eigen::Matrix2d J;
            J.col(0) = (miss(pull * (1 + h), slope) - f) / (pull * h);
            J.col(1) = (miss(pull, slope + h) - f) / h;
            Vec2 step = J.colPivHouseholderQr().solve(f);
            const double k = std::min({1.0, 0.3 * pull / std::abs(step.x()), 0.3 / std::abs(step.y())});
            pull -= k * step.x(), slope -= k * step.y();
            if (f.norm() < 1e-10 * length) break;
        }
        return {pull, slope};
    }
};

/// Direction of travel of the tight tangent between directed circles.
double tightAngle(const StrandEnd& a, const StrandEnd& b) {
    const Vec2 d = b.centre - a.centre;
    return std::atan2(d.y(), d.x()) - std::asin((b.radius - a.radius) / d.norm());
}

std::vector<WheelCircle> threeWheels() { return {{{0, 0}, 120, true}, {{900, 60}, 60, true}, {{420, 380}, 40, true}}; }

} // namespace

class TestSlack : public QObject {
    Q_OBJECT
private slots:
    void hangsAsMassesDo();
    void touchesItsWheelsAndKeepsItsNumbers();
    void loopsWithAStrandThatHangs();
    void whatCannotHangSaysWhatWorks();
};

/// 500 masses hinged on both circles, any sides and heights: the same sag, to what cutting a curve in 500 costs.
void TestSlack::hangsAsMassesDo() {
    std::mt19937 random(41);
    std::uniform_real_distribution<double> u(0, 1);
    int compared = 0;
    for (int round = 0; round < 60; ++round) {
        const double r0 = 150 * (2 * u(random) - 1), r1 = 150 * (2 * u(random) - 1);
        const StrandEnd a{{0, 0}, r0}, b{{700 + 500 * u(random), 500 * (u(random) - 0.5)}, r1};
        const double t = tightAngle(a, b);
        const double straight = std::sqrt((b.centre - a.centre).squaredNorm() - (r1 - r0) * (r1 - r0));
        const auto s = slackStrand(a, b, t, {0, -1}, SwagBy::Sag, straight * (0.01 + 0.2 * u(random)));
        if (!s) continue; // a wheel in the hollow that is larger than it
        const Masses masses{a, b, s->length};
        const auto [pull, slope] = masses.balance(s->curve.a / s->length * masses.count, std::tan(s->leaves));
        QVERIFY(masses.miss(pull, slope).norm() < 1e-8 * s->length);
        // Its greatest depth below the tight tangent.
        const Vec2 way(std::cos(t), std::sin(t)), on = a.centre - r0 * Vec2(-way.y(), way.x());
        double sag = 0;
        Vec2 p = masses.start(slope);
        for (int i = 0; i < masses.count; ++i) {
            p += masses.length / masses.count * Vec2(pull, pull * slope + (i + 0.5)).normalized();
            sag = std::max(sag, on.y() + (p.x() - on.x()) * std::tan(t) - p.y());
        }
        NEAR(sag, s->sag, 2e-4 * s->sag);
        ++compared;
    }
    QVERIFY2(compared > 40, qPrintable(QString::number(compared)));
}

void TestSlack::touchesItsWheelsAndKeepsItsNumbers() {
    std::mt19937 random(42);
    std::uniform_real_distribution<double> u(0, 1);
    for (int round = 0; round < 200; ++round) {
        const double r0 = 100 * (2 * u(random) - 1), r1 = 100 * (2 * u(random) - 1), lean = 2 * kPi * u(random);
        const Vec2 down(std::sin(lean), -std::cos(lean)); // the whole picture turned
        const auto turned = [&](double x, double y) { return Vec2(Eigen::Rotation2Dd(lean) * Vec2(x, y)); };
        // Either way along the level.
        const double way = round % 2 ? 1 : -1;
        const StrandEnd a{turned(5, 7), r0}, b{turned(5 + way * (600 + 500 * u(random)), 300 * u(random)), r1};
        const double t = tightAngle(a, b);
        const bool bySag = round % 3 == 0;
        const double amount = std::pow(10, -4 + 6 * u(random));
        const auto s = slackStrand(a, b, t, down, bySag ? SwagBy::Sag : SwagBy::Slack, amount);
        if (!s) continue;
        NEAR(bySag ? s->sag : s->slack, amount, 1e-9 * amount + 2e-11 * s->length);
        const Path p = made(Path::make(std::vector<Segment>{s->curve}, false));
        NEAR(p.length(), s->length, 1e-9 * s->length);
        // Both ends lie on their circles, square to the radius.
        for (const auto& [end, circle] : {std::pair{0.0, &a}, {p.length(), &b}}) {
            const Sample at = p.at(end);
            const Vec2 radius = at.point.head<2>() - circle->centre;
            // A chain that is nearly tight has its lowest point far away, which costs digits.
            NEAR(radius.norm(), std::abs(circle->radius), 1e-9 + 4e-15 * (s->curve.low - at.point).norm());
            NEAR(radius.dot(at.tangent.head<2>()), 0, 1e-8 * s->length);
            const double side = at.tangent.x() * radius.y() - at.tangent.y() * radius.x();
            if (std::abs(circle->radius) > 1e-3) QVERIFY((side < 0) == (circle->radius > 0));
        }
        // The directions it says are those it has, and it hangs down.
        NEAR(std::remainder(s->leaves - std::atan2(p.at(0).tangent.y(), p.at(0).tangent.x()), 2 * kPi), 0, 1e-9);
        const Vec3 last = p.at(p.length()).tangent;
        NEAR(std::remainder(s->leaves + s->turn - std::atan2(last.y(), last.x()), 2 * kPi), 0, 1e-9);
        QVERIFY((s->deepest - s->above).dot(down) > 0);
        NEAR((s->deepest - p.at(p.closest(Vec3(s->deepest.x(), s->deepest.y(), 0))).point.head<2>()).norm(), 0, 1e-6);
    }
}

/// Every strand of a loop in turn: the loop stays smooth and closed, grows by the slack and by what wraps otherwise,
/// and tends to the tight one as the slack goes to nothing.
void TestSlack::loopsWithAStrandThatHangs() {
    const auto wheels = threeWheels();
    const WheelLoop tight = made(loopRound(wheels, true, false));
    for (size_t k = 0; k < 3; ++k) {
        double before = 1e300;
        for (double sag : {40.0, 4.0, 0.4}) {
            const WheelLoop loop = made(loopRound(wheels, true, false, StrandHangs{k, {0, -1}, SwagBy::Sag, sag}));
            const Path p = made(Path::make(loop.curve.segments, true));
            QVERIFY(p.corners().empty());
            NEAR(p.length(), loop.length, 1e-9 * loop.length);
            NEAR(loop.hangs->sag, sag, 1e-8);
            double sum = 0;
            for (size_t i = 0; i < 3; ++i) {
                sum += loop.contacts[i].wrap * wheels[i].radius + loop.contacts[i].tangentAfter;
                if (i != k && i != (k + 1) % 3) NEAR(loop.contacts[i].wrap, tight.contacts[i].wrap, 1e-12);
            }
            NEAR(sum, loop.length, 1e-9);
            // Upper strands wrap more where they hang, lower ones less; both are longer than tight.
            NEAR(loop.length - tight.length, loop.hangs->slack, 1e-9);
            QVERIFY(loop.hangs->slack > 0);
            QVERIFY(loop.length - tight.length < before / 20); // as the square of the sag
            before = loop.length - tight.length;
        }
    }
}

void TestSlack::whatCannotHangSaysWhatWorks() {
    const auto wheels = threeWheels();
    const auto with = [&](size_t after, double amount, Vec2 down = {0, -1}) {
        return loopRound(wheels, true, false, StrandHangs{after, down, SwagBy::Sag, amount});
    };
    const auto field = [](const Result<WheelLoop>& r) { return r ? std::string("fine") : r.problem().field; };
    for (double bad : {0.0, -3.0, std::nan(""), HUGE_VAL, 1e9}) QCOMPARE(field(with(0, bad)), std::string("hang"));
    QCOMPARE(field(with(7, 10)), std::string("hangs"));
    QCOMPARE(field(with(1, 20,
                        {std::cos(tightAngle({wheels[1].centre, 60}, {wheels[2].centre, 40})),
                         std::sin(tightAngle({wheels[1].centre, 60}, {wheels[2].centre, 40}))})),
             std::string("hang")); // it stands plumb
    // An upper strand falls on the lower ones, or on a wheel: the most that is said works, a little more does not.
    for (size_t k : {1, 2}) {
        const auto deep = with(k, 600);
        QCOMPARE(field(deep), std::string("hang"));
        const QString text = QString::fromStdString(deep.problem().text);
        const QRegularExpression number("([0-9.]+) mm works");
        const auto found = number.match(text);
        QVERIFY2(found.hasMatch(), qPrintable(text));
        const double most = found.captured(1).toDouble();
        QVERIFY(most > 1 && most < 600);
        QCOMPARE(field(with(k, 0.99 * most)), std::string("fine"));
        QCOMPARE(field(with(k, 1.02 * most)), std::string("hang"));
    }
}

VICINAL_SUITE(TestSlack)

} // namespace test_slack
#include "test_slack.moc"
