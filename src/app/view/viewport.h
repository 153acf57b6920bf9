#pragma once
#include "app/render/scene_renderer.h"
#include "app/state/store.h"
#include "app/view/camera.h"
#include "geometry/curves/snap.h"
#include "model/edits/pen.h"
#include <QWidget>

namespace vicinal {

/// The corners of the box of the part on a place, added to `to`.
void addCorners(const Placed&, size_t place, std::vector<Vec3>& to);

class DrawBar;
class GlCanvas;

/// The view in the middle: parts as instances, paths and handles over them, orbiting and picking, drawing a path.
class Viewport : public QWidget {
    Q_OBJECT
public:
    explicit Viewport(Store& store, QWidget* parent = nullptr);
    ~Viewport() override;

    enum class Look { Free, Plan, Front, Side };
    void setLook(Look);
    Look look() const { return m_look; }
    void setParallel(bool);
    /// Draws the curvature of the path in hand as teeth square to it.
    void setComb(bool);
    bool comb() const { return m_comb; }
    bool parallel() const { return m_camera.parallel; }
    void frameAll();
    void frameSelection();

    /// Clicks on the ground (or the plane looked at) become path points until Enter, a click on the first point, or
    /// Esc.
    void startDrawing();
    Unit unit() const { return m_store.document().unit; } ///< values are shown and typed in it
    /// What is being drawn, up to the pointer; nothing while that is no path.
    std::optional<Path> drawnPath() const;
    bool drawing() const { return m_drawing; }
    /// The pen a path is drawn with; `freehand`: strokes instead of clicks.
    const PathPen& pen() const { return m_pen; }
    bool freehand() const { return m_freehand; }
    void setPen(PenMode, bool freehand = false);
    void setPenRadius(double);
    /// Plane that is drawn on: where it stands along its normal; the next click on a part takes that face's plane.
    void setDrawLevel(double);
    double drawLevel() const { return m_drawLevel; }
    void pickDrawFace();
    bool picksFace() const { return m_pickFace; }
    void setSnap(SnapKind, bool on);
    bool snaps(SnapKind k) const { return !m_snapOff.count(k); }
    const std::optional<Snap>& caught() const { return m_caught; }
    void finishDrawing(bool closed);
    void cancelDrawing();

    /// The next click on a part asks for a path along the edge nearest to it (edgePicked); Esc gives up.
    void pickEdge();
    bool picksEdge() const { return m_pickEdge; }

    const Camera& camera() const { return m_camera; }
    /// Index of the place of run `id` under a pixel (nearest to the eye), with the run; nothing when there is none.
    struct Pick {
        Id run = 0;
        int place = -1;
    };
    struct Face {
        Vec3 at, normal;
    };
    std::optional<Pick> pickPlace(const QPointF&, Face* = nullptr) const;
    /// Pixel of a handle, for tests and guides: "point N", "inset start", "inset end". Nothing when it is not shown.
    std::optional<QPointF> handleAt(const QString& name) const;

signals:
    void lookChanged();
    void drawingChanged();
    void previewChanged(); ///< the path being drawn leads elsewhere, or is none any more
    void firstFrame();
    void failed(const QString&);
    void edgePicked(const EdgesRecipe&);
    void breakWanted(double station); ///< of the path in hand

protected:
    bool event(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;

private:
    struct Handle {
        enum class Kind { Point, Via, In, Out, Value, Wheel, InsetStart, InsetEnd } kind = Kind::Point;
        int index = 0; ///< of the point, the wheel, or the recipe's point values
        Vec3 at;
        bool operator==(const Handle& o) const { return kind == o.kind && index == o.index; }
    };

    // viewport.cpp
    void documentChanged();
    void rebuildScene();
    void rebuildGrid();
    Box3 contentBounds() const { return m_content; }
    void measureContent();
    Box3 drawnBounds() const;
    void moved(bool still = false);
    // viewport_overlay.cpp
    void paintOverlay(QPainter&) const;
    void paintPath(QPainter&, const PathResult&, const QColor&, double width) const;
    void paintHandles(QPainter&) const;
    void paintLeftOut(QPainter&) const;
    void paintDrawing(QPainter&) const;
    void paintAxes(QPainter&) const;
    void paintPlaceLabel(QPainter&) const;
    void pill(QPainter&, const QPointF& topLeft, const QString&, const QColor& border, const QColor& text) const;
    void paintComb(QPainter&, const Path&) const;
    void paintWheels(QPainter&, const PathResult&) const;
    void paintSoftReach(QPainter&, const PathResult&) const;
    QString infoText() const;
    // viewport_handles.cpp
    std::vector<Handle> handles() const;
    QString handleName(const Handle&) const;
    Vec3 dragNormal() const;
    void beginMove();
    void moveHandle(const Vec3& to);
    QString handleText() const;
    // viewport_input.cpp
    std::optional<Handle> handleUnder(const QPointF&) const;
    Vec3 planeNormal() const;
    // viewport_draw.cpp
    void drawPress(QMouseEvent*);
    bool drawMove(const QPointF&, Qt::KeyboardModifiers, Qt::MouseButtons); ///< true: nothing more to do
    void drawRelease(QMouseEvent*);
    bool drawKey(QKeyEvent*);
    void setPoint(const Vec3&, const std::optional<Vec3>& handle = {});
    std::optional<Vec3> drawPoint(const QPointF&, bool snap);
    Vec3 drawNormal() const;
    Result<Vec3> typedPoint() const;
    void setTyped(const QString&);
    std::optional<Vec3> nextPoint() const;
    void dragTo(const QPointF&, Qt::KeyboardModifiers);
    void applyTyped();
    void endDrag();
    double stationUnder(const QPointF&, const Path&, double* distance = nullptr) const;
    void clickPlace(const Pick&, Qt::KeyboardModifiers);
    void insertPointAt(const QPointF&);

    Store& m_store;
    GlCanvas* m_canvas = nullptr;
    QWidget* m_overlay = nullptr;
    QString m_noGl;
    Camera m_camera;
    Look m_look = Look::Free;
    Vec3 m_origin = Vec3::Zero();
    std::vector<Vec3> m_points; ///< enough points of paths and places to frame them
    Box3 m_content;             ///< of all paths and places; empty when there is nothing
    bool m_sceneDirty = true, m_gridDirty = true, m_framed = false, m_moving = false;
    double m_gridStep = 100;

    enum class Action { None, Orbit, Pan, Handle, Stroke, Pull };
    Action m_action = Action::None;
    QPointF m_pressed, m_last;
    bool m_dragged = false;
    Handle m_handle;
    Vec3 m_handleStart;
    std::optional<PathRecipe> m_recipeStart; ///< as it was when the drag began
    std::vector<double> m_pointStations;     ///< of its points then
    bool m_comb = false;
    struct Guide {
        Vec3 direction;
        QString name;
    };
    std::vector<Guide> guides() const;
    std::optional<Guide> guideUnder(const QPointF&) const;
    double along(const Guide&, const QPointF&) const;
    Vec3 pivotUnder(const QPointF&) const;
    std::optional<Guide> m_guide; ///< a drag is held to
    bool m_mayGuide = false;      ///< Ctrl means that, not several at once
    bool m_ctrl = false;          ///< pressed during the drag
    Vec3 m_guideTangent = Vec3::Zero(), m_pivot = Vec3::Zero();
    QString m_typed;
    int m_dragNumber = 0;
    size_t m_stepAtPress = 0; ///< of the history, when a handle was pressed
    std::optional<Handle> m_hover;
    std::optional<Pick> m_hoverPlace;

    bool m_previewed = false; ///< drawing when previewChanged() was said last
    bool m_drawing = false, m_freehand = false, m_pickFace = false, m_pickEdge = false;
    PathPen m_pen;
    double m_drawLevel = 0;
    std::optional<Face> m_drawFace; ///< the plane of a face that was picked
    std::set<SnapKind> m_snapOff;
    std::optional<Snap> m_caught;
    std::vector<Vec3> m_trace;                         ///< of a stroke under way
    std::optional<Vec3> m_pull;                        ///< where a point was set whose handle is pulled out
    std::optional<Vec3> m_drawPointer, m_typedPointer; ///< under the pointer; as it is being typed
    QString m_drawTyped;
    DrawBar* m_bar = nullptr;
    class QTimer* m_settle = nullptr;
};

} // namespace vicinal
