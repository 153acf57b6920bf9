#pragma once
// Work done behind the window, in lanes: what must come first never waits behind what comes last.
#include "base/job.h"
#include <QFutureWatcher>
#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <QtConcurrentRun>
#include <functional>
#include <memory>
#include <optional>

namespace vicinal {

enum class Lane {
    Evaluation, ///< the document as it is: a thread of its own, before all others
    Checks,     ///< verdicts
    Small,      ///< fits, marks of a seat: what somebody looks at who may already look elsewhere
    Previews    ///< what is sent out, as it will look: seconds of work that nothing small waits behind
};
QThreadPool& poolOf(Lane);

/// One kind of work of which only the newest counts: what is under way is stopped, and of all that come meanwhile only
/// the last one begins.
template<class T> class Latest {
public:
    using Work = std::function<T(Job&)>;                ///< must own all it uses, and heed the job's stop
    using Take = std::function<void(std::optional<T>)>; ///< nothing where the work gave up by an exception

    /// `owner`: on its thread results are taken; none is when it is gone.
    Latest(Lane lane, QObject* owner) : m_lane(lane), m_owner(owner) {}
    ~Latest() { stop(); }
    Latest(const Latest&) = delete;
    Latest& operator=(const Latest&) = delete;

    void run(Work work, Take take) {
        if (m_job) {
            m_job->stop = true;
            m_next = Ask{std::move(work), std::move(take)};
            return;
        }
        begin({std::move(work), std::move(take)});
    }
    /// Nothing of what was asked for is taken any more.
    void stop() {
        m_next.reset();
        m_dropped = true;
        if (m_job) m_job->stop = true;
    }
    bool running() const { return m_job != nullptr; }

private:
    struct Ask {
        Work work;
        Take take;
    };
    void begin(Ask ask) {
        m_dropped = false;
        m_job = std::make_shared<Job>();
        auto* watcher = new QFutureWatcher<std::shared_ptr<std::optional<T>>>(m_owner);
        QObject::connect(watcher, &QFutureWatcherBase::finished, m_owner,
                         [this, watcher, alive = std::weak_ptr<int>(m_alive), take = std::move(ask.take)] {
                             watcher->deleteLater();
                             if (alive.expired()) return;
                             m_job.reset();
                             if (m_next) return begin(*std::exchange(m_next, std::nullopt));
                             if (!m_dropped) take(std::move(*watcher->result()));
                         });
        watcher->setFuture(QtConcurrent::run(&poolOf(m_lane), [work = std::move(ask.work), job = m_job] {
            auto out = std::make_shared<std::optional<T>>();
            try {
                *out = work(*job);
            } catch (...) { // no memory: there is nothing to show
            }
            return out;
        }));
    }

    Lane m_lane;
    QObject* m_owner;
    std::shared_ptr<Job> m_job;
    std::optional<Ask> m_next;
    bool m_dropped = false;
    std::shared_ptr<int> m_alive = std::make_shared<int>(0);
};

} // namespace vicinal
