#pragma once
// Values of SVG as its attributes and style sheets write them.
#include <optional>
#include <string>
#include <vector>

struct _xmlNode; // of libxml2, as it calls itself

namespace vicinal::svgin {

/// How a viewBox is fitted into a viewport (preserveAspectRatio): scale and shift along x and y.
struct BoxFit {
    double sx = 1, sy = 1, tx = 0, ty = 0;
};

BoxFit fitted(const std::vector<double>& box, double width, double height, const std::string& how);

std::string attribute(_xmlNode* n, const char* name);
/// A length in user units (px); mm, cm, in, pt, pc, Q at 96 px an inch. Nothing for percentages and words.
std::optional<double> length(const std::string& text);
std::vector<double> numbers(const std::string& text);
/// Value of a property in a style attribute ("display: none; transform: ..."); empty when it is not there.
std::string styled(_xmlNode* n, const std::string& property);
/// A transform as style sheets write it ("rotate(30deg) translate(2mm, 1px)") as the attribute has it. Nothing when it
/// uses a unit or a function the attribute does not know.
std::optional<std::string> asAttribute(const std::string& css);
/// Arc radii below zero count as their size (Scalable Vector Graphics 2, 9.5.1); the grammar here refuses them.
std::string withoutNegativeRadii(const std::string& d);

} // namespace vicinal::svgin
