#pragma once
// Suites are linked into a few programs; each runs by the name of its file: `tests_core test_rules [slots...]`.
#include <QTest>
#include <map>
#include <string>

namespace vicinal::test {

using RunSuite = int (*)(int argc, char** argv);

/// Of this program, by the names of their files.
std::map<std::string, RunSuite>& suites();

/// Enters a suite under the name of the file it stands in.
struct Entered {
    Entered(const char* file, RunSuite);
};

} // namespace vicinal::test

/// Once a file, in the namespace that has the file's name, which keeps helpers of suites apart that are compiled
/// together.
#define VICINAL_SUITE(Class)                                                                                           \
    static const vicinal::test::Entered entered(__FILE__, [](int argc, char** argv) {                                  \
        Class suite;                                                                                                   \
        return QTest::qExec(&suite, argc, argv);                                                                       \
    });
