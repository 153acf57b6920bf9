#include "app/render/gl_canvas.h"
#include "app/view/overlays/overlay.h"
#include <QPainter>

namespace vicinal {

void ViewOverlay::pill(QPainter& p, const QPointF& at, const QString& text, const QColor& border,
                       const QColor& ink) const {
    drawPill(p, m_view.rect(), at, text, border, ink);
}

std::vector<OverlayPtr> overlaysOf(const Viewport& view) {
    std::vector<OverlayPtr> out;
    for (const auto make :
         {otherPaths, wheelRims, lostParts, curvatureComb, hangingStrand, solvedWay, softReach, pathInHand, crossings,
          webs, checkInHand, sweptRoom, framesAndRibbon, leftOut, placeLabel, axes, infoLine})
        out.push_back(make(view));
    return out;
}

} // namespace vicinal
