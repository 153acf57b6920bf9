#include "app/view/motion_bar.h"
#include "app/controls/theme.h"
#include "app/state/clock.h"
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSlider>
#include <cmath>

namespace vicinal {

MotionBar::MotionBar(Clock& clock, QWidget* parent) : QWidget(parent), m_clock(clock) {
    setObjectName("motionBar");
    setAccessibleName(tr("Motion"));
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QString("#motionBar { background: %1; border: 1px solid %2; border-radius: 5px; }")
                      .arg(theme::paper().name(), theme::line().name()));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 6, 8, 6);
    row->setSpacing(6);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::NoFocus);
        row->addWidget(b);
        return b;
    };
    m_play = button({}, "motion.play", tr("Let the clock run, or stop it (Ctrl+Space)"));
    m_play->setMinimumWidth(64);
    auto* start = button(tr("To start"), "motion.start", tr("Time 0: as the document says"));
    m_slider = new QSlider(Qt::Horizontal);
    m_slider->setObjectName("motion.slider");
    m_slider->setAccessibleName(tr("Time"));
    m_slider->setToolTip(tr("Drag through once along the path"));
    m_slider->setRange(0, 1000);
    m_slider->setMinimumWidth(180);
    row->addWidget(m_slider, 1);
    m_time = new QLabel;
    m_time->setObjectName("motion.time");
    m_time->setMinimumWidth(70);
    row->addWidget(m_time);
    connect(m_play, &QPushButton::clicked, this, [this] { m_clock.setPlaying(!m_clock.playing()); });
    connect(start, &QPushButton::clicked, this, [this] {
        m_clock.setPlaying(false);
        m_clock.setTime(0);
    });
    connect(m_slider, &QSlider::sliderMoved, this, [this](int v) {
        m_clock.setPlaying(false);
        m_clock.setTime(v / 1000.0 * m_clock.period());
    });
    connect(m_slider, &QSlider::actionTriggered, this, [this](int action) { // keys and clicks beside the handle
        if (action == QAbstractSlider::SliderMove) return;
        m_clock.setPlaying(false);
        m_clock.setTime(m_slider->sliderPosition() / 1000.0 * m_clock.period());
    });
    connect(&clock, &Clock::changed, this, &MotionBar::refresh);
    connect(&clock, &Clock::moved, this, &MotionBar::showTime);
    refresh();
}

void MotionBar::place() {
    const QWidget* over = parentWidget();
    const int wide = std::min(460, over->width() - 24);
    setGeometry((over->width() - wide) / 2, over->height() - sizeHint().height() - 12, wide, sizeHint().height());
}

void MotionBar::refresh() {
    setVisible(m_clock.wanted());
    m_play->setText(m_clock.playing() ? tr("Pause") : tr("Play"));
    showTime();
    place();
}

void MotionBar::showTime() {
    const double period = m_clock.period(), t = std::fmod(m_clock.time(), period);
    const QSignalBlocker quiet(m_slider);
    if (!m_slider->isSliderDown()) m_slider->setValue(int(std::lround(1000 * (t < 0 ? t + period : t) / period)));
    m_time->setText(m_clock.problem().isEmpty() ? tr("%1 s").arg(m_clock.time(), 0, 'f', 2) : tr("cannot go on"));
    m_time->setToolTip(m_clock.problem());
}

} // namespace vicinal
