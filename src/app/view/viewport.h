#pragma once
#include "app/state/store.h"
#include "app/view/camera.h"
#include <QWidget>
#include <memory>

namespace vicinal {

/// What Camera::project() gives, as a painter takes it.
inline QPointF pixel(const Vec3& p) { return {p.x(), p.y()}; }

class Clock;
struct CheckResult;
struct Delivery;
struct SolvedValue;
struct PictureOrder;
struct Sight;
class DrawBar;
class MotionBar;
class GlCanvas;
class Toolbox;
class ViewScene;

/// Where a body was picked, and which way its face looks there.
struct PickedFace {
    Vec3 at, normal;
};

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

    Toolbox& tools() const { return *m_tools; }
    const ViewScene& scene() const { return *m_scene; }

    // Motion
    Clock& clock() { return *m_clock; }
    /// What is seen at the clock's time, without grid, paths, handles and words; empty where nothing can be drawn.
    QImage picture();
    /// What a delivery asks for, from where its order says, turned by an angle (rad) more; empty where nothing can be
    /// drawn. Sizes in pixels.
    QImage pictureOf(const Delivery&, const PictureOrder&, QSize, double turned = 0);
    /// What is drawn and picked: everything at the clock's time.
    const Evaluation& shown() const;

    // For the tools
    Store& store() const { return m_store; }
    Camera& camera() { return m_camera; }
    const Camera& camera() const { return m_camera; }
    bool settled() const { return !m_moving; } ///< the picture is drawn in full
    /// `still`: the picture is drawn in full; while it moves it is drawn lighter and made good a moment later.
    void moved(bool still = false);
    void cameraMoved();
    void repaintOverlay();

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
    void documentChanged();

    Store& m_store;
    GlCanvas* m_canvas = nullptr;
    QWidget* m_overlay = nullptr;
    std::vector<std::unique_ptr<class ViewOverlay>> m_overlays;
    QString m_noGl;
    Camera m_camera;
    Look m_look = Look::Free;
    bool m_framed = false, m_moving = false;
    std::unique_ptr<Toolbox> m_tools;
    Clock* m_clock = nullptr;
    std::unique_ptr<ViewScene> m_scene;
    bool m_comb = false, m_frames = false;
    bool m_previewed = false; ///< drawing when previewChanged() was said last
    DrawBar* m_bar = nullptr;
    MotionBar* m_motion = nullptr;
    class QTimer* m_settle = nullptr;
};

} // namespace vicinal
