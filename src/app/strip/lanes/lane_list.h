#pragma once
#include "app/strip/lanes/lane.h"
#include <QStringList>
#include <map>
#include <set>
#include <vector>

namespace vicinal {

/// The lanes from above: those there are now, in the order they were put in by hand, without those that were hidden.
/// Order and hidden ones are kept in the user's settings.
class LaneList {
public:
    explicit LaneList(StripScene&);
    /// Which there are now; true when they are others than before.
    bool refresh();
    /// Gives each its rectangle in a strip of that size. `tall`: they grow with it; `folded`: the ruler alone.
    void layOut(const QSizeF&, bool folded, bool tall);
    double naturalHeight(bool folded) const;
    const std::vector<StripLane*>& shown() const { return m_shown; }
    QRectF of(const LaneId&) const; ///< empty: not shown
    StripLane* at(double y) const;  ///< none: beyond them
    QStringList names() const;

    void move(const LaneId&, int by);
    void hide(const LaneId&);
    void show(const LaneId&); ///< for the run that is shown, though it has nothing for it
    /// Those that could be shown besides.
    std::vector<const StripLane*> offered() const;

private:
    StripLane& kept(const LaneId&);
    void remember() const;
    StripScene& m_scene;
    std::map<QString, LanePtr> m_all; ///< by key; none goes before the strip does
    std::vector<StripLane*> m_there, m_shown;
    QStringList m_order, m_hidden;
    std::set<std::pair<Id, QString>> m_added; ///< of a run, though they have nothing to show
};

} // namespace vicinal
