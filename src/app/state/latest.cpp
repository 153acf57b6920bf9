#include "app/state/latest.h"
#include <QCoreApplication>

namespace vicinal {

QThreadPool& poolOf(Lane lane) {
    // Of the application: it waits for them, and a later one in the same program has its own.
    static const char* const kNames[] = {"lane evaluation", "lane checks", "lane small"};
    static constexpr QThread::Priority kPriorities[] = {QThread::InheritPriority, QThread::LowPriority,
                                                        QThread::LowestPriority};
    const QString name = kNames[int(lane)];
    auto* pool = qApp->findChild<QThreadPool*>(name, Qt::FindDirectChildrenOnly);
    if (!pool) {
        pool = new QThreadPool(qApp);
        pool->setObjectName(name);
        pool->setMaxThreadCount(lane == Lane::Small ? 2 : 1); // what cannot be stopped at once holds up one of two
        pool->setThreadPriority(kPriorities[int(lane)]);
    }
    return *pool;
}

} // namespace vicinal
