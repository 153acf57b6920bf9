#pragma once
#include "app/strip/lanes/lane_list.h"
#include "app/strip/scene.h"
#include <QStringList>
#include <QWidget>

class QComboBox;
class QToolButton;

namespace vicinal {

/// The path pulled straight, in lanes: ruler, places to scale, clear gaps against their limits, bays, profiles with
/// their keys, tightness. Selects, slides the run, drags insets and keys. Lanes are ordered and hidden by hand.
class Strip : public QWidget {
    Q_OBJECT
public:
    explicit Strip(Store& store, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// In a window of its own its lanes grow with it.
    void setTall(bool);
    /// Only its ruler, or all lanes.
    void setFolded(bool);
    bool folded() const { return m_folded; }
    /// The path that is being drawn, shown instead of what is selected; nothing ends that.
    void showDrawn(std::optional<Path>);
    const StripMap& map() const { return m_scene.map; }
    /// Middle of the place lane, for tests and guides.
    double placesY() const;
    /// The lane of a profile, added when it is not there: "pitches", "roll", "size", "across" or "up".
    void addLane(const std::string& profile);
    /// Where a lane stands; empty when it is not shown.
    QRectF laneOf(const LaneId& id) const { return m_lanes.of(id); }
    QRectF laneOf(const std::string& profile) const { return laneOf({LaneKind::Changes, profile}); }
    /// Words of all lanes, from above.
    QStringList laneNames() const { return m_lanes.names(); }

signals:
    void showSelection();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    bool event(QEvent*) override;

private:
    void refreshChoice();
    /// Lanes, map and what they show, after anything has changed.
    void refresh();
    /// What the lanes show where they and the map are, once more.
    void prepare();
    void refit();
    void laneMenu(QMenu&, const StripLane&);

    StripScene m_scene;
    LaneList m_lanes;
    QToolButton* m_fold;
    QComboBox* m_choice;
    bool m_folded = false, m_tall = false;
    Id m_shown = 0; ///< path; -1: the drawn one
    double m_shownLength = 0;
    enum class Drag { None, Map, Lane } m_drag = Drag::None;
    StripLane* m_held = nullptr; ///< lane that is dragged in
    QPointF m_pressed, m_last;
    bool m_moved = false;
};

} // namespace vicinal
