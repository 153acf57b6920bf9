// Sums, tops and zeroes of functions whose answers are known.
#include "base/numeric/solve.h"
#include "suite.h"
#include "support.h"

namespace test_solve {

using namespace vicinal;

class TestSolve : public QObject {
    Q_OBJECT
private slots:
    void rulesAreExactToTheirDegree();
    void topsOfFunctions();
    void zeroesOfFunctions();
};

/// Of degree 2n - 1 and not of 2n: x^p over 0..2 is 2^(p + 1) / (p + 1).
template<int n> void exactTo() {
    for (int p = 0; p <= 2 * n; ++p) {
        const double sum = integral<n>([&](double x) { return std::pow(x, p); }, 0, 2);
        const double is = std::pow(2, p + 1) / (p + 1);
        QCOMPARE(std::abs(sum - is) < 1e-13 * is, p < 2 * n);
    }
}

void TestSolve::rulesAreExactToTheirDegree() {
    exactTo<2>(), exactTo<3>(), exactTo<5>(), exactTo<6>();
    NEAR((integral<10>([](double x) { return std::cos(x); }, -1, 2)), std::sin(2) + std::sin(1), 1e-15);
    NEAR((integral<10>([](double x) { return std::cos(x); }, 2, -1)), -std::sin(2) - std::sin(1), 1e-15);
    const auto& rule = GaussRule<7>::get();
    double all = 0;
    for (size_t i = 0; i < 7; ++i) {
        all += rule.w[i];
        NEAR(rule.x[i] + rule.x[6 - i], 0, 1e-15);
        QVERIFY(i == 0 || rule.x[i] < rule.x[i - 1]);
    }
    NEAR(all, 2, 1e-15);
}

void TestSolve::topsOfFunctions() {
    for (const double at : {-0.7, 0.1, 1.9}) {
        const auto f = [&](double x) { return 3 - (x - at) * (x - at); };
        NEAR(largest(-1, 2, f), at, 1e-5);
        NEAR(f(largest(-1, 2, f)), 3, 1e-10);
    }
    NEAR(largest(0, 5, [](double x) { return x; }), 5, 1e-5); // at an end
    NEAR(largest(0, 5, [](double x) { return -x; }), 0, 1e-5);
}

void TestSolve::zeroesOfFunctions() {
    for (const double root : {0.001, 0.5, 0.999, 7.3}) {
        int asked = 0;
        const auto f = [&](double x) { return ++asked, std::exp(x) - std::exp(root); };
        NEAR(risingRoot(f, 0, 8, 1e-12), root, 1e-11);
        QVERIFY(asked < 60);
    }
    NEAR(risingRoot([](double x) { return std::cbrt(x - 3); }, 0, 10, 1e-9), 3, 1e-9); // steep, and flat beyond
    NEAR(risingRoot([](double x) { return std::pow(x - 3, 5); }, 0, 10, 0), 3, 1e-2);  // flat
    NEAR(risingRoot([](double x) { return x < 4 ? -1. : 2.; }, 0, 10, 1e-9), 4, 1e-9); // a jump
    QCOMPARE(risingRoot([](double x) { return x + 1; }, 0, 10, 1e-9), 0.);             // beyond an end already
    QCOMPARE(risingRoot([](double x) { return x - 11; }, 0, 10, 1e-9), 10.);
    const auto [below, above] = halved(1, 2, 50, [](double x) { return x * x < 2; });
    QVERIFY(below * below < 2 && above * above >= 2 && above - below < 1e-14);
    QCOMPARE(halved(0, 8, 2, [](double x) { return x < 3; }), std::pair(2., 4.)); // as often as is said
    QCOMPARE(halved(8, 0, 2, [](double x) { return x > 3; }), std::pair(4., 2.)); // from either side
}

VICINAL_SUITE(TestSolve)

} // namespace test_solve
#include "test_solve.moc"
