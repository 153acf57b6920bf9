#pragma once
// What is drawn over the parts in the view. One more: a class in a file of its own, and its row in overlaysOf().
#include "app/view/viewport.h"
#include <QCoreApplication>
#include <memory>
#include <vector>

namespace vicinal {

/// One thing that is drawn over the view, or nothing when there is nothing of it.
class ViewOverlay {
    Q_DECLARE_TR_FUNCTIONS(Viewport)
public:
    explicit ViewOverlay(const Viewport& view) : m_view(view), m_store(view.store()), m_camera(view.camera()) {}
    virtual ~ViewOverlay() = default;
    virtual void paint(QPainter&) const = 0;

protected:
    void pill(QPainter&, const QPointF& topLeft, const QString&, const QColor& border, const QColor& ink) const;
    const Viewport& m_view;
    const Store& m_store;
    const Camera& m_camera;
};

/// What is drawn over the path in hand; nothing without one.
class OverPath : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const final {
        if (const auto path = m_store.currentPath()) over(p, *path);
    }

private:
    virtual void over(QPainter&, const PathResult&) const = 0;
};

/// What is drawn over the run in hand; nothing before it has places.
class OverRun : public ViewOverlay {
public:
    using ViewOverlay::ViewOverlay;
    void paint(QPainter& p) const final {
        if (const auto run = m_store.currentRun(); run && run->placed) over(p, *run);
    }

private:
    virtual void over(QPainter&, const RunResult&) const = 0;
};

using OverlayPtr = std::unique_ptr<ViewOverlay>;

/// All of them, from the lowest up.
std::vector<OverlayPtr> overlaysOf(const Viewport&);

OverlayPtr otherPaths(const Viewport&);
OverlayPtr wheelRims(const Viewport&);
OverlayPtr lostParts(const Viewport&);
OverlayPtr curvatureComb(const Viewport&);
OverlayPtr hangingStrand(const Viewport&);
OverlayPtr solvedWay(const Viewport&);
OverlayPtr softReach(const Viewport&);
OverlayPtr pathInHand(const Viewport&);
OverlayPtr crossings(const Viewport&);
OverlayPtr webs(const Viewport&);
OverlayPtr checkInHand(const Viewport&);
OverlayPtr sweptRoom(const Viewport&);
OverlayPtr framesAndRibbon(const Viewport&);
OverlayPtr leftOut(const Viewport&);
OverlayPtr placeLabel(const Viewport&);
OverlayPtr axes(const Viewport&);
OverlayPtr infoLine(const Viewport&);

} // namespace vicinal
