// Typed values: units, arithmetic, what is refused and how it is said.
#include "base/quantity.h"
#include "base/say.h"
#include "suite.h"
#include "support.h"

namespace test_quantity {

using namespace vicinal;

class TestQuantity : public QObject {
    Q_OBJECT
private slots:
    void unknownUnitsAreQuoted();
    void lengths_data();
    void lengths();
    void refusals_data();
    void refusals();
    void anglesAndCounts();
    void shownLengthsReadBack();
    void messagesTravelByTheirKeys();
};

/// What is written in the code is the message's key; lengths, names, counts and messages in messages are values, worded
/// in the unit and put where another language wants them.
void TestQuantity::messagesTravelByTheirKeys() {
    const Words inner = "The radius of " + say::mm(50.8) + " does not fit.";
    const Words w = Words("Path \"") + text::quoted("A%1") + "\", place " + say::count(7) + ": " + Words::whole(inner);
    QCOMPARE(std::string(w), std::string("Path \"A%1\", place 7: The radius of 50.8 mm does not fit."));
    QCOMPARE(w.key(), std::string("Path \"%1\", place %2: %3"));
    QCOMPARE(inner.key(), std::string("The radius of %1 does not fit."));
    QCOMPARE(w.in(25.4, "in"), std::string("Path \"A%1\", place 7: The radius of 2 in does not fit."));
    const Words::Translate other = [&](const std::string& key) {
        return key == w.key()       ? std::string("(%2) %3 - %1, 50 % %9")
               : key == inner.key() ? std::string("Radius %1?")
                                    : key;
    };
    QCOMPARE(w.in(25.4, "in", other), std::string("(7) Radius 2 in? - A%1, 50 % %9"));
    // Another one with other values has the same key; a string that was put together is a value as a whole.
    QCOMPARE((Words("Path \"") + std::string("B") + "\", place " + say::count(12) + ": " + Words::whole(w)).key(),
             w.key());
    QCOMPARE(Words(std::string("put together")).key(), std::string("%1"));
    // What is replaced becomes a value, in names, too; a longer number is another one, a length stays.
    Words point = Words("At point ") + say::count(2) + " of " + std::string("point 2 W") + ", not point " +
                  say::count(21) + ", is " + say::mm(2) + " off";
    point.replaceAll("point 2", "point 14");
    point.replaceAll("2 mm", "3 mm");
    QCOMPARE(std::string(point), std::string("At point 14 of point 14 W, not point 21, is 2 mm off"));
    QCOMPARE(point.key(), std::string("At %1 of %2, not point %3, is %4 off"));
    QCOMPARE(point.in(1000, "m"), std::string("At point 14 of point 14 W, not point 21, is 0.002 m off"));
}

void TestQuantity::lengths_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("unit");
    QTest::addColumn<double>("mm");
    const int mm = int(Unit::Millimetre), in = int(Unit::Inch), m = int(Unit::Metre);
    const std::tuple<const char*, int, double> rows[] = {{"2.4 m", mm, 2400},
                                                         {"3/4 in", mm, 19.05},
                                                         {"6ft 2in", mm, 6 * 304.8 + 2 * 25.4},
                                                         {"1200/7", mm, 1200.0 / 7},
                                                         {"120", m, 120000},
                                                         {"120", in, 3048},
                                                         {"6' 2\"", mm, 1879.6},
                                                         {"2 1/2 in", mm, 63.5},
                                                         {"(3 + 1/8) in", mm, 79.375},
                                                         {"2*60 mm + 5 cm", mm, 170},
                                                         {"-12", mm, -12},
                                                         {"1e3", mm, 1000},
                                                         {"1,5 m", mm, 1500},
                                                         {".5m", mm, 500},
                                                         {"10 m / 4", mm, 2500},
                                                         {"3 * 2 m", mm, 6000},
                                                         {"2 * (3 in)", mm, 152.4},
                                                         {"1 yd", mm, 914.4},
                                                         {"5 \u00d7 2 mm", mm, 10},
                                                         {"6ft2in", mm, 1879.6},
                                                         {"100 - 3/4", mm, 99.25},
                                                         {"+7", mm, 7},
                                                         {"1/8", in, 3.175},
                                                         {"0", mm, 0},
                                                         {"2 - -3", mm, 5}};
    for (const auto& [text, unit, value] : rows) QTest::newRow(text) << QString::fromUtf8(text) << unit << value;
}

void TestQuantity::lengths() {
    QFETCH(QString, text);
    QFETCH(int, unit);
    QFETCH(double, mm);
    const auto v = parseLength(text.toStdString(), Unit(unit));
    QVERIFY2(bool(v), v ? "" : v.problem().text.c_str());
    NEAR(*v, mm, 1e-9 * std::max(1.0, std::abs(mm)));
}

void TestQuantity::refusals_data() {
    QTest::addColumn<QString>("says");
    const std::pair<const char*, const char*> rows[] = {
        {"", "Nothing is typed"},      {"abc", "not a number"},    {"12 furlongs", "not a unit"},
        {"3 m * 2 m", "not a length"}, {"1/0", "divides by zero"}, {"6 ft 2", "no unit"},
        {"4 / 2 mm + 3", "no unit"},   {"(2", "bracket"},          {"2)", "not understood"},
        {"1.2.3", "decimal"},          {"1e999", "out of range"},  {"10 m / 4 m", "divided by a length"},
        {"5 mm m", "not understood"},  {"nan", "not a number"},    {"3 mmm", "not a unit"},
        {"2 +", "ends too early"}};
    for (const auto& [text, says] : rows) QTest::newRow(text) << QString(says);
}

void TestQuantity::refusals() {
    QFETCH(QString, says);
    const auto v = parseLength(QTest::currentDataTag(), Unit::Millimetre);
    QVERIFY2(!v, QTest::currentDataTag());
    QVERIFY2(v.problem().text.find(says.toStdString()) != std::string::npos, v.problem().text.c_str());
}

void TestQuantity::anglesAndCounts() {
    NEAR(*parseAngle("90"), kPi / 2, 1e-15);
    NEAR(*parseAngle("1/8 turn"), kPi / 4, 1e-15);
    NEAR(*parseAngle("0.5 rad"), 0.5, 1e-15);
    NEAR(*parseAngle("45\u00b0"), kPi / 4, 1e-15);
    QVERIFY(!parseAngle("3 mm"));
    QCOMPARE(*parseCount("6*10", 1, 100), 60L);
    QVERIFY(parseCount("2.5", 1, 100).problem().text.find("whole") != std::string::npos);
    QVERIFY(parseCount("101", 1, 100).problem().text.find("1 to 100") != std::string::npos);
    QVERIFY(!parseNumber(std::string(5000, '('))); // deep nesting is refused, not a crash
}

void TestQuantity::shownLengthsReadBack() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> value(-1e5, 1e5);
    for (Unit u : {Unit::Millimetre, Unit::Centimetre, Unit::Metre, Unit::Inch, Unit::Foot})
        for (int i = 0; i < 100; ++i) {
            const double mm = value(random);
            NEAR(*parseLength(formatLength(mm, u) + " " + nameOf(u), Unit::Metre), mm,
                 0.002); // half a step of the last decimal shown
        }
}

void TestQuantity::unknownUnitsAreQuoted() {
    for (const char* typed : {"3 furlongs + 2 mm", "furlongs", "2 mm + 7furlongs"}) {
        const auto r = parseLength(typed, Unit::Millimetre);
        QVERIFY(!r);
        if (std::string(typed) != "furlongs")
            QVERIFY2(r.problem().text.find("\"furlongs\"") != std::string::npos, r.problem().text.c_str());
    }
}

VICINAL_SUITE(TestQuantity)

} // namespace test_quantity
#include "test_quantity.moc"
