#pragma once
#include "app/render/scene_renderer.h"
#include "app/state/store.h"
#include "app/view/camera.h"
#include <map>
#include <set>

namespace vicinal {

class Clock;

/// The corners of the box of a part that stands there, added to `to`.
void addCorners(const Standing&, size_t body, std::vector<Vec3>& to);
/// What stands there, a batch a part; `colours`: one a body.
void addBatches(const Standing&, std::vector<QRgb> colours, std::vector<Batch>& to);
QColor siteTone(int colour); ///< of a site body

/// True for what is hidden and not worked on: neither drawn nor picked.
bool hides(const Store&, const Standing&);
bool hides(const Store&, const PathResult&);

/// What the view draws of the document: bodies in the colours of what is selected, broken and kept, and the grid.
class ViewScene {
public:
    ViewScene(Store& store, Clock& clock) : m_store(store), m_clock(clock) {}
    /// Brings the renderer up to date where something was said to be old. normal: of the plane that is looked at;
    /// reach: steps after which its grid has faded.
    void refresh(SceneRenderer&, const Camera&, const Vec3& normal, double reach);
    void bodiesChanged() { m_bodiesOld = true; }
    void gridChanged() { m_gridOld = true; }
    /// Without grid and other lines of help; says that both are old.
    void setPlain(bool);

    /// Points of all paths and places, enough to frame them, measured anew.
    void measure();
    const std::vector<Vec3>& points() const { return m_points; }
    const Box3& content() const { return m_content; } ///< their box; empty when there is nothing
    /// What is drawn, grid included; `more`: points besides.
    Box3 bounds(const Camera&, const std::vector<Vec3>& more) const;
    double gridStep() const { return m_gridStep; } ///< mm

    /// True when verdicts tint other places than are tinted now.
    bool tintsOthers() const;
    bool ghosts() const { return m_ghosts; } ///< a state that was kept is drawn

private:
    void rebuild(SceneRenderer&);
    void rebuildGrid(SceneRenderer&, const Camera&, const Vec3& normal, double reach);
    std::vector<QRgb> coloursOf(const Standing&);
    std::set<int> brokenPlaces(const RunResult&) const;
    void tintBroken(const RunResult&, std::vector<QRgb>&);
    void addGhosts(std::vector<Batch>&);

    Store& m_store;
    Clock& m_clock;
    Vec3 m_origin = Vec3::Zero();
    std::vector<Vec3> m_points;
    Box3 m_content;
    bool m_bodiesOld = true, m_gridOld = true, m_plain = false, m_ghosts = false;
    double m_gridStep = 100;
    std::map<Id, std::set<int>> m_tinted; ///< places that are drawn as breaking a limit, by run
};

} // namespace vicinal
