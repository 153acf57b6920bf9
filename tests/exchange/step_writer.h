#pragma once
#include "parts/solid/solid.h"
#include <string>
#include <vector>

namespace vicinal::test {

/// Two STEP files by OpenCASCADE's own writer: one with free edges (a circle, one that is open by 0.05) and a wire, one
/// with a solid box 10 x 20 x 30.
void writeStep(const std::string& wires, const std::string& body);

struct NamedSolid {
    std::string name;
    SolidPtr solid;
};
/// Bodies with their names. `unit`: "MM", "INCH", "M". False when it cannot be written.
bool writeBodies(const std::string& file, const std::vector<NamedSolid>&, const char* unit = "MM");

/// The made-up STEP parts of examples/: a flat link with two pin holes, and a fairlead of two bodies drawn y-up. Both
/// lie far from their own origin and askew. Link: holes of diameter 16.2 mm, 76.2 mm apart.
std::vector<NamedSolid> winchLink();
std::vector<NamedSolid> fairlead();

/// The same body with every face and edge as a rational spline.
SolidPtr asRational(const SolidPtr&);

/// A plate with n x n holes, each a face of its own.
NamedSolid sieve(int n);

} // namespace vicinal::test
