#pragma once
#include "app/view/tools/tool.h"
#include "app/view/viewport.h"
#include "geometry/curves/snap.h"
#include "model/edits/pen.h"
#include <QCoreApplication>
#include <set>

namespace vicinal {

/// Draws a path: clicks on the ground (or the plane looked at) become its points until Enter, a click on the first
/// point, or Esc; strokes by hand; typed points.
class DrawTool : public ViewTool {
    Q_DECLARE_TR_FUNCTIONS(DrawTool)
public:
    explicit DrawTool(Viewport& view) : m_view(view), m_store(view.store()) {}

    void begin();
    void finish(bool closed);
    void cancel();
    /// What is being drawn, up to the pointer; nothing while that is no path.
    std::optional<Path> drawn() const;

    const PathPen& pen() const { return m_pen; }
    bool freehand() const { return m_freehand; }
    void setPen(PenMode, bool freehand = false); ///< `freehand`: strokes instead of clicks
    void setRadius(double);                      ///< of the next arc, mm
    /// Plane that is drawn on: where it stands along its normal.
    void setLevel(double);
    double level() const { return m_level; }
    /// Plane of a face, or none any more; takes the tool in hand again.
    void setFace(const std::optional<PickedFace>&);
    void setSnap(SnapKind, bool on);
    bool snaps(SnapKind k) const { return !m_snapOff.count(k); }
    const std::optional<Snap>& caught() const { return m_caught; }

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    void click(QMouseEvent*) override;
    bool key(QKeyEvent*) override;
    bool takesKeys() const override { return true; }
    void leave() override { m_pointer.reset(); }
    void putDown() override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }
    void paint(QPainter&) const override;
    void paintDrawn(QPainter&) const; ///< the path so far, without the pointer

private:
    void set(const Vec3&, const std::optional<Vec3>& handle = {});
    std::optional<Vec3> pointAt(const QPointF&, bool snap);
    Vec3 normal() const;
    Result<Vec3> typedPoint() const;
    void setTyped(const QString&);
    std::optional<Vec3> next() const;
    QString pointerText(const std::optional<Path>&) const;
    struct SiteSnaps {
        std::vector<std::shared_ptr<const Ground>> of;
        std::vector<Vec3> corners;
        std::vector<Path> edges;
    };
    const SiteSnaps& siteSnaps();
    void changed();

    Viewport& m_view;
    Store& m_store;
    PathPen m_pen;
    bool m_freehand = false;
    double m_level = 0;
    std::optional<PickedFace> m_face;
    std::set<SnapKind> m_snapOff;
    std::optional<Snap> m_caught;
    std::vector<Vec3> m_trace;                ///< of a stroke under way
    std::optional<Vec3> m_pull;               ///< where a point was set whose handle is pulled out
    std::optional<Vec3> m_pointer, m_atTyped; ///< under the pointer; as it is being typed
    QString m_typed;
    SiteSnaps m_site;
};

} // namespace vicinal
