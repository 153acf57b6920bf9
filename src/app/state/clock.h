#pragma once
#include "app/state/latest.h"
#include "app/state/store.h"
#include <QElapsedTimer>

class QTimer;

namespace vicinal {

/// The time at which the view shows runs that move. It changes nothing in the document, whose state is time 0.
class Clock : public QObject {
    Q_OBJECT
public:
    explicit Clock(Store&, QObject* parent = nullptr);
    double time() const { return m_time; }
    bool playing() const;
    /// Some run moves.
    bool wanted() const;
    /// Time until the run in hand (else the first that moves) has gone once along its path, s.
    double period() const;
    /// What stands then follows at once while that takes a few milliseconds; beyond that behind, the newest time
    /// winning, and comes with moved(). now: it is waited for (a picture is taken of it).
    void setTime(double seconds, bool now = false);
    void setPlaying(bool);
    /// Everything as it stands now.
    const Evaluation& shown() const { return *m_shown; }
    /// Why some run cannot go where it should be; empty where all can.
    QString problem() const { return m_problem; }
    /// How long it may take on the window's thread, ms. Precondition: 0 or more.
    void setPatience(int ms) { m_patience = ms; }

signals:
    void moved();   ///< another time, or other places at it
    void changed(); ///< playing or not, or whether anything moves

private:
    struct Moment {
        std::shared_ptr<const Evaluation> at;
        std::vector<Problem> problems;
        qint64 took = 0; ///< ms
    };
    static Moment momentOf(const std::shared_ptr<const Evaluation>&, double time);
    void take(Moment);
    void refresh(bool now = false);
    void tick();
    Store& m_store;
    double m_time = 0;
    std::shared_ptr<const Evaluation> m_shown;
    QString m_problem;
    QTimer* m_timer;
    QElapsedTimer m_since; ///< the last tick
    Latest<Moment> m_behind{Lane::Small, this};
    int m_patience = 8;
    bool m_slow = false; ///< the last moment took longer than that
};

} // namespace vicinal
