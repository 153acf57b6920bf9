#pragma once
#include "app/state/store.h"
#include "layout/along/changes.h"
#include <QWidget>

namespace vicinal {

/// The sequence of a run as chips in a row, each as long as its part on the scale of all: the pattern as it will stand.
/// A click takes a chip in hand, a drag moves it.
class SequenceRow : public QWidget {
    Q_OBJECT
public:
    explicit SequenceRow(Store& store, QWidget* parent = nullptr);
    void show(const RunResult&);
    int current() const { return m_current; } ///< step in hand; -1: none
    void setCurrent(int);
    QSize sizeHint() const override { return {280, 64}; }
    QSize minimumSizeHint() const override { return {120, 64}; }
    /// Middle of a step's first chip, for tests and guides.
    QPointF chipOf(int step) const;

signals:
    void currentChanged();
    void moved(int from, int to);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    struct Chip {
        int step;
        QRectF box;
        Id part;
    };
    std::vector<Chip> chips() const;
    int stepAt(const QPointF&) const;
    double lengthOf(Id part) const;
    Store& m_store;
    std::vector<SequenceStep> m_steps;
    std::vector<Id> m_palette; ///< parts in the order they come, for their colours
    int m_current = -1, m_from = -1, m_to = -1;
};

} // namespace vicinal
