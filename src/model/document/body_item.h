#pragma once
// Site bodies stand in the document beside runs, paths and parts: quay walls, huts, plates, the ground.
#include "base/describe.h"
#include "base/rule_words.h"
#include "model/recipes/body_shape.h"

namespace vicinal {

struct BodyItem {
    Id id = 0;
    std::string name;
    int colour = 0;          ///< index into the colours of runs
    bool hidden = false;     ///< as a run
    bool seeThrough = false; ///< drawn so that what is behind it shows
    BodyShape shape;
    Vec3 at = {0, 0, 0};   ///< mm it is moved by from where its shape puts it
    Vec3 turn = {0, 0, 0}; ///< radians about its own x, then y, then z; about its own origin
    double size = 1;       ///< factor on the shape, about its own origin
    double density = 0;    ///< kg/m^3; 0: not known
    bool locked = false;   ///< it cannot be changed or deleted
    Id folder = 0;         ///< that it lies in; 0: none
};
/// Where it stands; what its shape says is described with that.
void describe(const ValueVisitor&, BodyItem&);

/// A folder of the yard. Items say themselves which one they lie in.
struct FolderItem {
    Id id = 0;
    std::string name;
};

} // namespace vicinal
