#pragma once
#include "app/state/store.h"
#include "app/strip/strip_map.h"
#include "model/edits/profile_edits.h"
#include <QCoreApplication>
#include <functional>

class QMenu;
class QWidget;

namespace vicinal {

/// What the strip shows and what its lanes do to it: which run on which path, where its stations are.
class StripScene {
    Q_DECLARE_TR_FUNCTIONS(Strip)
public:
    static constexpr double kLabels = 118; ///< pixels of the column with the lanes' names

    StripScene(Store& s, QWidget& strip) : store(s), widget(strip) {}
    /// The run that is shown: the selected one; one on the selected path; one of the selected part; else the last one.
    std::shared_ptr<const RunResult> run() const;
    std::shared_ptr<const RunResult> placedRun() const; ///< run() when it has places
    std::optional<Path> path() const;
    Id pathId() const;
    /// The selection as it is when its run is the one shown; else that run with nothing selected in it.
    Selection selectionOf(const RunResult&) const;
    Unit unit() const { return store.document().unit; }

    double round() const; ///< mm, a power of ten: as fine as a pixel
    /// The station at a pixel: a corner near by, else rounded.
    double caught(double px) const;
    double clamped(double px) const; ///< the station there, on the path
    void setStretch(const QString& step, const QString& merge, std::optional<double> from, std::optional<double> to);
    void changeProfile(const std::string& name, const QString& step, const QString& merge,
                       const std::function<void(Profile&, double length)>& how);
    /// Beside the pointer, while something is dragged.
    void tell(const QPointF& at, const QString& text) const;

    /// What can be done with the stretch, and with the places, at a pixel.
    void stretchMenu(QMenu&, const QPointF& at);
    void placeMenu(QMenu&, const QPointF& at);

    Store& store;
    QWidget& widget;
    StripMap map;
    std::optional<Path> drawn; ///< being drawn, shown instead of what is selected
    Id chosen = 0;             ///< run that was shown last
    int drags = 0;             ///< so that one drag is one step
    std::function<void()> showSelection = [] {};
};

} // namespace vicinal
