#pragma once
#include "app/view/viewport.h"

class QPainter;

namespace vicinal {

/// A path as the view sees it; pale and dashed when it has a problem.
void paintPath(QPainter&, const Camera&, const PathResult&, const QColor&, double width);
/// A text on a rounded ground, moved so that it stays in the view.
void paintPill(QPainter&, const Viewport&, const QPointF& topLeft, const QString&, const QColor& border,
               const QColor& text);

} // namespace vicinal
