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
        refresh(true); // places and items that are picked must be those of the document
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

void Clock::setTime(double seconds, bool now) {
    if (!std::isfinite(seconds) || (seconds == m_time && !(now && m_behind.running()))) return;
    m_time = seconds;
    refresh(now);
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

Clock::Moment Clock::momentOf(const std::shared_ptr<const Evaluation>& e, double time) {
    QElapsedTimer timer;
    timer.start();
    Moment out;
    out.at = atTime(e, time, &out.problems);
    out.took = timer.elapsed();
    return out;
}

void Clock::take(Moment m) {
    if (m_time != 0) m_slow = m.took >= m_patience;
    m_shown = std::move(m.at);
    m_problem = m.problems.empty() ? QString() : m_store.say(m.problems.front().text);
    emit moved();
}

void Clock::refresh(bool now) {
    if (now || !m_slow || m_time == 0) {
        m_behind.stop();
        return take(momentOf(m_store.sharedEvaluation(), m_time));
    }
    m_behind.run([e = m_store.sharedEvaluation(), time = m_time](Job&) { return momentOf(e, time); },
                 [this](std::optional<Moment> m) {
                     if (m) take(std::move(*m));
                 });
}

} // namespace vicinal
