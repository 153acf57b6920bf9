#include "app/state/clock.h"
#include "model/evaluate/motion/moving.h"
#include <QTimer>
#include <algorithm>
#include <cmath>

namespace vicinal {

Clock::Clock(Store& store, QObject* parent)
    : QObject(parent), m_store(store), m_shown(store.sharedEvaluation()), m_timer(new QTimer(this)) {
    m_timer->setInterval(25);
    connect(m_timer, &QTimer::timeout, this, &Clock::tick);
    connect(&store, &Store::documentChanged, this, [this] {
        if (!wanted() && (m_time != 0 || playing())) {
            m_timer->stop();
            m_time = 0;
        }
        refresh();
        emit changed();
    });
    connect(&store, &Store::loaded, this, [this] {
        m_timer->stop();
        m_time = 0;
        refresh();
        emit changed();
    });
}

bool Clock::playing() const { return m_timer->isActive(); }
bool Clock::wanted() const { return anythingMoves(m_store.evaluation()); }

double Clock::period() const {
    double longest = 0;
    if (const auto run = m_store.currentRun()) longest = onceAlong(*run);
    if (longest == 0)
        for (const auto& run : m_store.evaluation().runs) longest = std::max(longest, onceAlong(*run));
    return std::clamp(longest, 0.1, 3600.0);
}

void Clock::setTime(double seconds) {
    if (!std::isfinite(seconds) || seconds == m_time) return;
    m_time = seconds;
    refresh();
}

void Clock::setPlaying(bool on) {
    if (on == playing()) return;
    if (on) {
        m_since.start();
        m_timer->start();
    } else {
        m_timer->stop();
    }
    emit changed();
}

void Clock::tick() { setTime(m_time + double(m_since.restart()) / 1000); }

void Clock::refresh() {
    std::vector<Problem> problems;
    m_shown = atTime(m_store.sharedEvaluation(), m_time, &problems);
    m_problem = problems.empty() ? QString() : m_store.say(problems.front().text);
    emit moved();
}

} // namespace vicinal
