#pragma once
#include "app/state/store.h"
#include "app/strip/strip_map.h"
#include <QWidget>
#include <array>

class QComboBox;
class QToolButton;

namespace vicinal {

/// The path pulled straight: ruler, places to scale, clear gaps against their limits. Selects, slides the run, drags
/// insets.
class Strip : public QWidget {
    Q_OBJECT
public:
    explicit Strip(Store& store, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// Only its ruler, or all lanes.
    void setFolded(bool);
    bool folded() const { return m_folded; }
    /// The path that is being drawn, shown instead of what is selected; nothing ends that.
    void showDrawn(std::optional<Path>);
    const StripMap& map() const { return m_map; }
    /// Middle of the place lane, for tests and guides.
    double placesY() const;

signals:
    void showSelection();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    bool event(QEvent*) override;

private:
    enum class Drag { None, Scroll, Slide, InsetStart, InsetEnd, Band };
    std::shared_ptr<const RunResult> run() const;
    std::optional<Path> path() const;
    Id idOfPath() const;
    Selection selectionOf(const RunResult&) const;
    void refreshChoice();
    void refit();
    void paintRuler(QPainter&) const;
    void paintPlaces(QPainter&, const RunResult&) const;
    void paintGaps(QPainter&, const RunResult&) const;
    void paintTightness(QPainter&);
    void dragTo(const QPointF&);
    Drag under(const QPointF&) const;
    QRectF lane(int index) const;

    Store& m_store;
    StripMap m_map;
    std::optional<Path> m_bendOf; ///< what m_bend was worked out for
    std::array<double, 3> m_bendMap{};
    std::vector<double> m_bend; ///< curvature, 1/mm, the worst of each pixel
    std::optional<Path> m_drawn;
    QToolButton* m_fold;
    QComboBox* m_choice;
    bool m_folded = false;
    Id m_chosen = 0; ///< run that was shown last
    Id m_shown = 0;  ///< path; -1: the drawn one
    double m_shownLength = 0;
    Drag m_drag = Drag::None;
    QPointF m_pressed, m_last;
    bool m_dragged = false;
    int m_dragNumber = 0;
    Spacing m_before;
    double m_leftOverBefore = 0;
};

} // namespace vicinal
