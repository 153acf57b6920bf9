// Writes the STEP parts of examples/. Run by scripts/make_demo.py; the results are committed.
#include "exchange/step_writer.h"
#include <cstdio>

int main(int argc, char** argv) {
    using namespace vicinal::test;
    const std::string folder = argc > 1 ? argv[1] : "examples";
    const bool good =
        writeBodies(folder + "/winch-link.step", winchLink()) && writeBodies(folder + "/fairlead.step", fairlead());
    if (!good) std::fprintf(stderr, "cannot write in %s\n", folder.c_str());
    return good ? 0 : 1;
}
