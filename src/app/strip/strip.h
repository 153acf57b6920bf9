#pragma once
#include "app/state/store.h"
#include "app/strip/lanes/profile_lane.h"
#include "app/strip/marks.h"
#include "app/strip/silhouettes.h"
#include "app/strip/strip_map.h"
#include <QStringList>
#include <QWidget>
#include <array>
#include <set>

class QComboBox;
class QMenu;
class QToolButton;

namespace vicinal {

struct CheckResult;

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
    const StripMap& map() const { return m_map; }
    /// Middle of the place lane, for tests and guides.
    double placesY() const;
    /// The lane of a profile, added when it is not there: "pitches", "roll", "size", "across" or "up".
    void addLane(const std::string& profile);
    /// Where it stands; empty when it is not shown.
    QRectF laneOf(const std::string& profile) const { return lane(Lane{Lane::Changes, profile}); }
    QRectF throwLane() const { return lane(Lane::SweptEnvelope); }
    /// The lane of a check, by its word in files.
    QRectF checkLane(const std::string& check) const;
    QRectF marksLane() const { return lane(Lane::Marks); }
    /// Words of all lanes, from above.
    QStringList laneNames() const;

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
    enum class Drag { None, Scroll, Slide, InsetStart, InsetEnd, Band, Key, From, To };
    struct Lane {
        enum Kind { Station, Places, Gaps, Bays, Changes, Tightness, Marks, SweptEnvelope, Check } kind = Station;
        std::string profile; ///< of Changes; of Check: its key
        bool operator==(const Lane&) const = default;
        QString key() const { return QString::number(kind) + QString::fromStdString(profile); }
    };
    std::shared_ptr<const RunResult> run() const;
    std::optional<Path> path() const;
    Id idOfPath() const;
    Selection selectionOf(const RunResult&) const;
    void refreshChoice();
    void refit();
    void paintRuler(QPainter&) const;
    void paintPlaces(QPainter&, const RunResult&);
    void paintGaps(QPainter&, const RunResult&) const;
    void paintTightness(QPainter&);
    void paintBays(QPainter&, const RunResult&) const;
    void paintMarks(QPainter&) const;
    void paintThrow(QPainter&, const RunResult&) const;
    // strip_checks.cpp
    void paintCheck(QPainter&, const RunResult&, const Lane&) const;
    const CheckResult* checkOf(const Lane&) const;
    void addCheckLanes(std::vector<Lane>&) const;
    void pressCheck(const Lane&, const QPointF&, bool go);
    void paintKept(QPainter&, const RunResult&) const;
    /// True when the parts themselves were drawn: there is room for them.
    bool paintParts(QPainter&, const RunResult&);
    const StripMark* markAt(const QPointF&) const;
    void refreshMarks();
    double heightOf(Lane::Kind) const;
    static double naturalHeight(Lane::Kind);
    QString laneName(const Lane&) const;
    void refreshLanes();
    void moveLane(const Lane&, int by);
    void hideLane(const Lane&, bool);
    void remember() const;
    QRectF lane(Lane::Kind) const;
    QRectF lane(const Lane&) const;
    std::optional<Lane> laneAt(double y) const;
    std::optional<ProfileLane> profileLane(const Lane&) const;
    // strip_input.cpp
    void dragTo(const QPointF&);
    Drag under(const QPointF&) const;
    void changeProfile(const std::string&, const QString& step, const QString& merge,
                       const std::function<void(Profile&, double length)>&);
    void dragKey(const QPointF&);
    void laneMenu(QMenu&, const Lane&, const QPointF&);
    void placeMenu(QMenu&, const QPointF&);
    void stretchMenu(QMenu&, const QPointF&);
    double caught(double px) const; ///< the station there: a corner near by, else rounded as fine as a pixel
    void setStretch(const QString& step, const QString& merge, std::optional<double> from, std::optional<double> to);

    static constexpr double kLabels = 118; ///< pixels of the column with the lanes' names
    Store& m_store;
    StripMap m_map;
    std::vector<Lane> m_lanes;
    QStringList m_order, m_hidden;                    ///< keys of lanes
    std::set<std::pair<Id, std::string>> m_added;     ///< profiles without a key that are shown all the same
    std::optional<std::pair<Lane, size_t>> m_key;     ///< under the pointer, or dragged
    std::optional<std::pair<double, double>> m_range; ///< of the lane while a key is dragged
    std::optional<Path> m_bendOf;                     ///< what m_bend was worked out for
    std::array<double, 3> m_bendMap{};
    std::vector<double> m_bend; ///< curvature, 1/mm, the worst of each pixel
    Silhouettes m_silhouettes;
    std::vector<StripMark> m_marks; ///< of the run shown
    std::weak_ptr<const RunResult> m_marksOf;
    std::optional<Path> m_drawn;
    QToolButton* m_fold;
    QComboBox* m_choice;
    bool m_folded = false, m_tall = false;
    Id m_chosen = 0; ///< run that was shown last
    Id m_shown = 0;  ///< path; -1: the drawn one
    double m_shownLength = 0;
    Drag m_drag = Drag::None;
    QPointF m_pressed, m_last;
    bool m_dragged = false;
    int m_dragNumber = 0;
    std::shared_ptr<const RunItem> m_before;
    double m_leftOverBefore = 0;
};

} // namespace vicinal
