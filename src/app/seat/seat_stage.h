#pragma once
#include "app/state/store.h"
#include "app/view/camera.h"
#include "layout/stub.h"
#include "parts/body.h"
#include <QPointF>
#include <optional>

namespace vicinal {

class SceneRenderer;

/// What a click on the part would take.
struct SeatPick {
    std::optional<Spot> spot; ///< none: the bare face
    Vec3 at;                  ///< part axes
    Vec3 direction;           ///< part axes; zero where there is none
};

/// The part in hand on its stub of path with ghosts of its neighbours, and what of it is where in a camera.
class SeatStage {
public:
    explicit SeatStage(Store& store) : m_store(store) {}
    /// Takes the part as it is now; of one with a problem the last good one stays. True: another part than before.
    bool take(const std::shared_ptr<const PartResult>&);
    /// Sets it up as its seat and the run in hand say. nearer: neighbours close by.
    void setUp(bool nearer);
    bool there() const { return m_part && m_stub; }
    bool taken() const { return m_part != nullptr; }
    Id id() const { return m_id; }

    // Preconditions from here on: taken(), for what hangs on the stub there().
    const PartResult& part() const { return *m_part; }
    const Stub& stub() const { return *m_stub; }
    /// The pitch of the run in hand, else of the first that uses the part; else the pins' or a little more than the
    /// part.
    double spacing() const;
    double pitch() const { return m_pitch; } ///< what the ghosts stand apart
    Mat4 pose() const { return m_stub->places.pose(Stub::kMiddle); }
    double reach() const { return m_part->mesh->box.diagonal().norm() / 2; }
    /// The part, its ghosts and a quiet ground, so that height can be told.
    void draw(SceneRenderer&) const;
    /// Of the boxes of what is shown, world; empty when nothing is there.
    std::vector<Vec3> corners(bool neighbours) const;
    /// Tips of the arrows, world: the stub runs along +x through the origin, and so do the nose and its crown.
    Vec3 tip(bool nose) const;
    /// Pixel of a point in the part's own axes; nothing when behind the eye or nothing is there.
    std::optional<QPointF> pixelOf(const Camera&, const Vec3& inPart) const;
    /// True when the part itself stands before a point.
    bool hides(const Camera&, const Vec3& world) const;
    /// The mark under the pointer that suits, nearest first; for directions also the bare face.
    std::optional<SeatPick> pickAt(const Camera&, const std::vector<Spot>&, const QPointF&, bool directions) const;

private:
    Store& m_store;
    std::shared_ptr<const PartResult> m_part; ///< the last good one
    Id m_id = 0;
    std::optional<Stub> m_stub;
    double m_pitch = 0;
};

/// Pixels.
double away(const QPointF&, const QPointF&);

} // namespace vicinal
