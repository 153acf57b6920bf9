#pragma once
#include "app/state/latest.h"
#include "app/state/store.h"
#include "app/view/camera.h"
#include "layout/stub.h"
#include "parts/body.h"
#include <QWidget>
#include <array>
#include <optional>

class QBoxLayout;
class QHBoxLayout;
class QLabel;
class QVBoxLayout;

class QPushButton;

namespace vicinal {

class GlCanvas;
class Segmented;

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
    bool ready() const;
    const std::vector<Spot>& spots() const { return m_spots; }
    const std::vector<Proposal>& proposals() const { return m_proposals; }
    /// Pixel of a point in the part's own axes; nothing when behind the eye.
    std::optional<QPointF> pixelOf(const Vec3& inPart) const;
    /// Pixels of the arrows' tips.
    std::optional<QPointF> noseTip() const;
    std::optional<QPointF> crownTip() const;
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
    void buildBar();
    void buildLikely(QVBoxLayout*);
    struct Pick {
        std::optional<Spot> spot;
        Vec3 at;        ///< part axes
        Vec3 direction; ///< part axes; zero where there is none
    };
    // seat_view.cpp
    void build();
    void refresh();
    void findMarks();
    void rebuildProposals();
    void moved();
    double spacing() const;
    double pitch() const;
    Mat4 pose() const;
    double reach() const;
    std::vector<Vec3> corners(bool neighbours) const; ///< of the boxes of what is shown, world
    Vec3 tip(bool nose) const;
    // seat_view_input.cpp
    static double away(const QPointF&, const QPointF&); ///< pixels
    std::optional<Pick> pickAt(const QPointF&, bool directions) const;
    bool hidden(const Vec3& world) const;
    void take(const Pick&, Tool);
    void takeDirection(const Vec3&, bool nose);
    void takePin(const Vec3&, int which);
    void takeLine(const Vec3&);
    void step(int by);
    void change(const QString& step, const std::function<void(Seat&)>&);
    QString words(const Pick&) const;
    void say(const QString&);
    // seat_view_paint.cpp
    void placeBar();
    void paintOver(QPainter&);
    void paintArrow(QPainter&, const Vec3& from, const Vec3& to, const QColor&, const QString&, bool hot) const;
    void paintMarks(QPainter&) const;
    void paintPins(QPainter&) const;

    Store& m_store;
    GlCanvas* m_canvas = nullptr;
    QWidget *m_overlay, *m_bar;
    QHBoxLayout* m_likelyRow;
    QBoxLayout *m_top, *m_below;
    Segmented* m_tools;
    QLabel* m_busy;
    QPushButton* m_near;
    Camera m_camera;
    int m_look = 0;
    bool m_open = false, m_sceneDirty = true, m_framed = false;
    bool m_untouched = true; ///< nobody has moved the view since it was framed
    Tool m_tool = Tool::Point;
    std::shared_ptr<const PartResult> m_part; ///< the last good one
    Id m_id = 0;
    std::optional<Stub> m_stub;
    BodyPtr m_lookedAt; ///< whose marks are in m_spots
    BodyPtr m_looking;
    /// What is found on a body.
    struct Looked {
        std::vector<Spot> spots;
        std::vector<Hole> holes;
    };
    Latest<Looked> m_finding{Lane::Small, this};
    std::vector<Spot> m_spots;
    std::vector<Hole> m_holes;
    std::vector<Proposal> m_proposals;
    std::vector<char> m_visible; ///< of the spots, from where they are seen now
    std::array<std::optional<Vec3>, 2> m_pinBegun;
    std::optional<Vec3> m_lineBegun; ///< first of two points that the nose runs through
    std::optional<Pick> m_hover;
    int m_cursor = -1; ///< mark the keyboard is on
    enum class Action { None, Orbit, Pan, Nose, Crown } m_action = Action::None;
    QPointF m_pressed, m_last;
    bool m_dragged = false;
    QString m_message;
    class QTimer* m_settle;
};

} // namespace vicinal
