#pragma once
#include "app/seat/seat_marks.h"
#include "app/state/store.h"
#include "app/view/camera.h"
#include <QWidget>
#include <array>
#include <optional>

namespace vicinal {

class GlCanvas;
class SeatBar;

/// The seat of the part in hand, in place of the main view: the part alone and large on a stub of path, with ghosts of
/// its neighbours. Marks on it are clicked to put the seat point or a pin there; nose and crown are dragged onto a
/// face, an edge or an axis.
class SeatView : public QWidget {
    Q_OBJECT
public:
    explicit SeatView(Store& store, QWidget* parent = nullptr);
    ~SeatView() override;

    void open(); ///< for Store::currentPart()
    void leave();
    bool isOpen() const { return m_open; }

    /// The ways of looking of the main view: free, plan, front, side.
    void setLook(int);
    int look() const { return m_look; }
    void frame(bool neighbours);

    enum class Tool { Point, Nose, Crown, FirstPin, SecondPin, Line };
    void setTool(Tool);
    Tool tool() const { return m_tool; }

    /// True when the marks of the part in hand are known; they are looked for in the background.
    bool ready() const { return m_stage.taken() && m_marks.ready(m_stage.part().body); }
    const SeatMarks& marks() const { return m_marks; }
    /// Pixel of a point in the part's own axes; nothing when behind the eye.
    std::optional<QPointF> pixelOf(const Vec3& inPart) const;
    /// Pixel of an arrow's tip.
    std::optional<QPointF> arrowTip(bool nose) const;
    /// What a click there would take, in words; empty when nothing.
    QString hoverText() const;
    const Camera& camera() const { return m_camera; }

signals:
    void openChanged();
    void lookChanged();

protected:
    bool event(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void leaveEvent(QEvent*) override;

private:
    // seat_view.cpp
    void refresh();
    void rebuildProposals();
    void moved();
    // seat_view_input.cpp
    /// A direction is asked for, not a point.
    bool directions() const;
    void take(const SeatPick&, Tool);
    void takeDirection(const Vec3&, bool nose);
    void takePin(const Vec3&, int which);
    void takeLine(const Vec3&);
    void step(int by);
    void change(const QString& step, const std::function<void(Seat&)>&);
    void say(const QString&);
    // seat_view_paint.cpp
    void paintOver(QPainter&);
    void paintMarks(QPainter&) const;
    void paintPins(QPainter&) const;

    Store& m_store;
    GlCanvas* m_canvas = nullptr;
    QWidget* m_overlay;
    SeatBar* m_bar;
    SeatStage m_stage;
    SeatMarks m_marks;
    Camera m_camera;
    int m_look = 0;
    bool m_open = false, m_sceneDirty = true, m_framed = false;
    bool m_untouched = true; ///< nobody has moved the view since it was framed
    Tool m_tool = Tool::Point;
    Id m_shown = 0; ///< part
    std::array<std::optional<Vec3>, 2> m_pinBegun;
    std::optional<Vec3> m_lineBegun; ///< first of two points that the nose runs through
    std::optional<SeatPick> m_hover;
    int m_cursor = -1; ///< mark the keyboard is on
    enum class Action { None, Orbit, Pan, Nose, Crown } m_action = Action::None;
    QPointF m_pressed, m_last;
    bool m_dragged = false;
    QString m_message;
    class QTimer* m_settle;
};

} // namespace vicinal
