#pragma once
// What the strip shows, a lane each. One more: a class in a file of its own, and its row in lane_list.cpp.
#include "app/strip/scene.h"
#include <QPainter>
#include <QRectF>
#include <memory>

namespace vicinal {

struct CheckResult;

/// Their numbers stand in the user's settings.
enum class LaneKind { Station, Places, Gaps, Bays, Changes, Tightness, Marks, SweptEnvelope, Check };
struct LaneId {
    LaneKind kind = LaneKind::Station;
    std::string of{}; ///< profile, or key of a check
    bool operator==(const LaneId&) const = default;
    QString key() const { return QString::number(int(kind)) + QString::fromStdString(of); }
};

/// One lane: what it shows, and what a pointer does in it. Kept while the strip is, so that it may keep what is dear.
class StripLane {
    Q_DECLARE_TR_FUNCTIONS(Strip)
public:
    StripLane(StripScene& scene, LaneId of) : id(std::move(of)), m_scene(scene), m_map(scene.map) {}
    virtual ~StripLane() = default;

    virtual QString name() const = 0;
    virtual double height() const = 0; ///< pixels, where there is no more room
    /// False: only when it was asked for.
    virtual bool wanted() const { return true; }
    /// Works out what paint() shows: called when the run, the map or the lane's rectangle is another.
    virtual void prepare() {}
    virtual void paint(QPainter&) const = 0;
    /// Words for what is under the pointer; `usual` is what is said elsewhere.
    virtual QString tip(const QPointF&, const QString& usual) const { return usual; }
    virtual Qt::CursorShape cursor(const QPointF&) const { return Qt::ArrowCursor; }
    /// The left button on it; true: what was taken moves with the pointer, from drag to drag until drop().
    virtual bool grab(const QPointF&) { return false; }
    virtual void drag(const QPointF&) {}
    /// `moved`: false after a mere click.
    virtual void drop(const QPointF&, bool /*moved*/, Qt::KeyboardModifiers) {}
    /// False: nothing is done by a double click there.
    virtual bool twice(const QPointF&) { return false; }
    virtual void menu(QMenu&, const QPointF&) {}

    const LaneId id;
    QRectF rect; ///< where it stands; empty: not shown

protected:
    StripScene& m_scene;
    const StripMap& m_map;
};

using LanePtr = std::unique_ptr<StripLane>;
LanePtr rulerLane(StripScene&, LaneId);
LanePtr placesLane(StripScene&, LaneId);
LanePtr gapsLane(StripScene&, LaneId);
LanePtr baysLane(StripScene&, LaneId);
LanePtr envelopeLane(StripScene&, LaneId);
LanePtr laneOfCheck(StripScene&, LaneId);
LanePtr laneOfProfile(StripScene&, LaneId);
LanePtr tightnessLane(StripScene&, LaneId);
LanePtr marksLane(StripScene&, LaneId);
/// Which there may be now.
std::vector<std::string> checksOnStrip(const StripScene&);
std::vector<std::string> profilesOnStrip(const StripScene&);

} // namespace vicinal
