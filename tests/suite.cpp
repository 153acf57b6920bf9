#include "suite.h"
#ifdef VICINAL_TESTS_WINDOW
#include <QApplication>
#include <QSurfaceFormat>
#else
#include <QCoreApplication>
#endif
#include <cstdio>
#include <filesystem>

namespace vicinal::test {

std::map<std::string, RunSuite>& suites() {
    static std::map<std::string, RunSuite> all;
    return all;
}

Entered::Entered(const char* file, RunSuite run) {
    if (!suites().emplace(std::filesystem::path(file).stem().string(), run).second) qFatal("%s stands twice", file);
}

} // namespace vicinal::test

int main(int argc, char** argv) {
    const auto& all = vicinal::test::suites();
    const auto found = argc > 1 ? all.find(argv[1]) : all.end();
    if (found == all.end()) {
        std::fprintf(stderr, "usage: %s SUITE [what QtTest takes]; there are:\n", argv[0]);
        for (const auto& [name, run] : all) std::fprintf(stderr, "  %s\n", name.c_str());
        return 2;
    }
    // Everything behind the suite's name is QtTest's, its own name that of the program: settings lie under it.
    int rest = argc - 1;
#ifdef VICINAL_TESTS_WINDOW
    QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
    QSurfaceFormat plain; // four samples of every pixel cost the software renderer more than all else the suites do
    plain.setSamples(0);
    QSurfaceFormat::setDefaultFormat(plain);
    QApplication app(rest, argv + 1);
#else
    QCoreApplication app(rest, argv + 1);
#endif
    QCoreApplication::setApplicationName(QString::fromStdString(found->first));
    return found->second(rest, argv + 1);
}
