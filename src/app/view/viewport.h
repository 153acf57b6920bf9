#pragma once
#include "app/render/scene_renderer.h"
#include "app/state/store.h"
#include "app/view/camera.h"
#include <QWidget>
#include <map>
#include <memory>
#include <set>

namespace vicinal {

/// The corners of the box of a part that stands there, added to `to`.
void addCorners(const Standing&, size_t body, std::vector<Vec3>& to);

/// What stands there, a batch a part; `colours`: one a body.
void addBatches(const Standing&, std::vector<QRgb> colours, std::vector<Batch>& to);

QColor siteTone(int colour); ///< of a site body

/// What Camera::project() gives, as a painter takes it.
inline QPointF pixel(const Vec3& p) { return {p.x(), p.y()}; }

class Clock;
struct CheckResult;
struct Delivery;
struct SolvedValue;
struct PictureOrder;
struct Sight;
class DrawBar;
class DrawTool;
class EdgeTool;
class EditTool;
class FaceTool;
class MotionBar;
class GlCanvas;
class LookTool;
class ViewTool;

/// The view in the middle: parts as instances, paths and what the tool in hand shows over them. Pointer and keys go to
/// that tool (app/view/tools).
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
    /// Draws nose, side and crown at places of the run in hand, and a ribbon along its path that shows the roll.
    void setFrames(bool);
    bool frames() const { return m_frames; }
    bool parallel() const { return m_camera.parallel; }
    void frameAll();
    /// Turns and moves so that a place a check names is seen best.
    void lookAt(const Sight&);
    void frameSelection();

    // Tools
    /// Takes a tool in hand; nullptr: the edit tool.
    void takeUp(ViewTool*);
    EditTool& edit() { return *m_edit; }
    const EditTool& edit() const { return *m_edit; }
    DrawTool& draw() { return *m_draw; }
    void pickDirection(); ///< the direction of the edge that is clicked next (directionPicked)
    void pickEdge();      ///< a path along the edge of the part that is clicked next (edgePicked)
    void pickDrawFace();  ///< while drawing: the plane of the face that is clicked next
    void pickFace();      ///< the normal of the face that is clicked next (facePicked, or pickGivenUp)
    bool edits() const;   ///< the edit tool is in hand
    bool picksEdge() const;
    bool picksFace() const;
    bool drawing() const; ///< a path is being drawn, or the face to draw it on picked
    std::optional<Path> drawnPath() const;

    // Motion
    Clock& clock() { return *m_clock; }
    /// What is seen at the clock's time, without grid, paths, handles and words; empty where nothing can be drawn.
    QImage picture();
    /// What a delivery asks for, from where its order says, turned by an angle (rad) more; empty where nothing can be
    /// drawn. Sizes in pixels.
    QImage pictureOf(const Delivery&, const PictureOrder&, QSize, double turned = 0);
    /// What is drawn and picked: everything at the clock's time.
    const Evaluation& shown() const;
    /// True for what is hidden and not worked on: neither drawn nor picked.
    bool hides(const Standing&) const;
    bool hides(const PathResult&) const;

    // For the tools
    Store& store() const { return m_store; }
    Camera& camera() { return m_camera; }
    const Camera& camera() const { return m_camera; }
    bool settled() const { return !m_moving; } ///< the picture is drawn in full
    bool dragged() const { return m_dragged; } ///< the pointer has left where it was pressed
    Vec3 planeNormal() const;                  ///< of the plane that is looked at
    double gridStep() const { return m_gridStep; }
    /// `still`: the picture is drawn in full; while it moves it is drawn lighter and made good a moment later.
    void moved(bool still = false);
    void cameraMoved();
    void repaintOverlay();
    Vec3 pivotUnder(const QPointF&) const;
    double stationUnder(const QPointF&, const Path&, double* distance = nullptr) const;
    void paintPath(QPainter&, const PathResult&, const QColor&, double width) const;
    void pill(QPainter&, const QPointF& topLeft, const QString&, const QColor& border, const QColor& text) const;

    /// Index of the place of run `id` under a pixel (nearest to the eye), with the run; nothing when there is none.
    struct Pick {
        Id run = 0;
        int place = -1;
        int body = -1; ///< the place's own, or of what it stands on
    };
    struct Face {
        Vec3 at, normal;
    };
    std::optional<Pick> pickPlace(const QPointF&, Face* = nullptr) const;

signals:
    void lookChanged();
    void drawingChanged();
    void previewChanged(); ///< the path being drawn leads elsewhere, or is none any more
    void firstFrame();
    void failed(const QString&);
    void edgePicked(const EdgesRecipe&);
    void directionPicked(const Vec3&);
    void facePicked(const Vec3& normal);
    void pickGivenUp();
    void breakWanted(double station); ///< of the path in hand
    void removeWanted();              ///< of what is selected

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
    struct PictureScene;
    PictureScene sceneOf(const Delivery&, const PictureOrder&) const;
    QImage drawnScene(std::vector<Batch>, const Camera&, Box3 bounds, const PictureOrder&, QSize);
    // viewport.cpp
    void documentChanged();
    void rebuildScene();
    void rebuildGrid();
    Box3 contentBounds() const { return m_content; }
    void measureContent();
    Box3 drawnBounds() const;
    // viewport_overlay.cpp
    void paintOverlay(QPainter&) const;
    // viewport_checks.cpp
    void tintBroken(const RunResult&, std::vector<QRgb>&);
    std::set<int> brokenPlaces(const RunResult&) const;
    void checked();
    void addGhosts(std::vector<Batch>&);

    Store& m_store;
    GlCanvas* m_canvas = nullptr;
    QWidget* m_overlay = nullptr;
    std::vector<std::unique_ptr<class ViewOverlay>> m_overlays;
    QString m_noGl;
    Camera m_camera;
    Look m_look = Look::Free;
    Vec3 m_origin = Vec3::Zero();
    std::vector<Vec3> m_points; ///< enough points of paths and places to frame them
    Box3 m_content;             ///< of all paths and places; empty when there is nothing
    bool m_sceneDirty = true, m_gridDirty = true, m_framed = false, m_moving = false;
    double m_gridStep = 100;
    std::map<Id, std::set<int>> m_tinted; ///< places that are drawn as breaking a limit, by run
    bool m_ghosts = false;                ///< a state that was kept is drawn

    std::unique_ptr<LookTool> m_lookRound;
    std::unique_ptr<EditTool> m_edit;
    std::unique_ptr<DrawTool> m_draw;
    std::unique_ptr<EdgeTool> m_edge;
    std::unique_ptr<FaceTool> m_face;
    ViewTool* m_tool = nullptr; ///< in hand
    ViewTool* m_held = nullptr; ///< whose drag it is
    QPointF m_pressed;
    bool m_dragged = false;
    bool m_comb = false, m_frames = false;
    bool m_previewed = false; ///< drawing when previewChanged() was said last
    DrawBar* m_bar = nullptr;
    Clock* m_clock = nullptr;
    bool m_plain = false; ///< without helper lines
    MotionBar* m_motion = nullptr;
    class QTimer* m_settle = nullptr;
};

} // namespace vicinal
