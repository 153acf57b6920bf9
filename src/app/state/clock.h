#pragma once
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
    void setTime(double seconds);
    void setPlaying(bool);
    /// Everything as it stands now.
    const Evaluation& shown() const { return *m_shown; }
    /// Why some run cannot go where it should be; empty where all can.
    QString problem() const { return m_problem; }

signals:
    void moved();   ///< another time, or other places at it
    void changed(); ///< playing or not, or whether anything moves

private:
    void refresh();
    void tick();
    Store& m_store;
    double m_time = 0;
    std::shared_ptr<const Evaluation> m_shown;
    QString m_problem;
    QTimer* m_timer;
    QElapsedTimer m_since; ///< the last tick
};

} // namespace vicinal
