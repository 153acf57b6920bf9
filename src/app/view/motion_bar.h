#pragma once
#include <QWidget>

class QLabel;
class QPushButton;
class QSlider;

namespace vicinal {

class Clock;

/// Shown over the view while some run moves: play and pause, back to the start, a slider through once along the path,
/// the time.
class MotionBar : public QWidget {
    Q_OBJECT
public:
    MotionBar(Clock&, QWidget* parent);
    /// Bottom and middle of the parent.
    void place();

private:
    void refresh();
    void showTime();
    Clock& m_clock;
    QPushButton* m_play;
    QSlider* m_slider;
    QLabel* m_time;
};

} // namespace vicinal
