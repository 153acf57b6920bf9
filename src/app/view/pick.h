#pragma once
// What is under the pointer: places, faces, paths.
#include "app/view/viewport.h"

namespace vicinal {

/// A place of a run or heap, or a site body.
struct Pick {
    Id run = 0;
    int place = -1;
    int body = -1; ///< the place's own, or of what it stands on
};
/// What is under a pixel, nearest to the eye; nothing when there is none. face: where it was met.
std::optional<Pick> pickPlace(const Viewport&, const QPointF&, PickedFace* face = nullptr);
/// The station of a path nearest to a pixel; distance: in pixels.
double stationUnder(const Camera&, const QPointF&, const Path&, double* distance = nullptr);
/// What the view is turned about: the point under the pointer, on a part, else on the ground near what is there.
Vec3 pivotUnder(const Viewport&, const QPointF&);
/// Of the plane that is looked at.
Vec3 planeNormal(Viewport::Look);

} // namespace vicinal
