#include "layout/facing/rules.h"
#include "geometry/curves/edit.h"

namespace vicinal {

void describe(const ValueVisitor& v, Facing& f) {
    v.choice("corner", "On a corner", "Which way a part faces that stands exactly on a corner", f.corner,
             {{"bisector", "between", "A part exactly on a corner faces between the two legs", ""},
              {"leg before", "leg before", "A part exactly on a corner faces along the leg before it", "leg before"},
              {"leg after", "leg after", "A part exactly on a corner faces along the leg after it", "leg after"}});
    v.turn("turn", "Turn about",
           "Extra turn of every part, right-handed; first about the nose, then the side, then the crown", f.turn);
    v.turn("turnStep", "Turn further about", "Each place is turned on by this from the one before", f.turnStep);
    v.count("turnEvery", "Again after", "Places after which the turning on starts again; 0: it goes on", f.turnEvery);
    v.flag("backwards", "Backwards", "The parts look back along the path", f.backwards);
    v.point("target", "Target", "The point at which all noses point", f.target);
    v.item("targetPath", "Or a path", "All noses point at the nearest point of this path instead", f.targetPath,
           ItemKind::Path);
    v.item("targetBody", "Or a body", "All noses point at the nearest point of this site body instead", f.targetBody,
           ItemKind::Body);
    v.item("surface", "Surface", "The site body that the crowns stand off", f.surface, ItemKind::Body);
    v.direction("direction", "Direction", "The direction the crowns lean to; its length does not matter", f.direction);
}

} // namespace vicinal
