#include "app/state/latest.h"
#include <QCoreApplication>

namespace vicinal {

QThreadPool& poolOf(Lane lane) {
    // Of the application: it waits for them, and a later one in the same program has its own.
    static const char* const kNames[] = {"lane evaluation", "lane checks", "lane small", "lane previews"};
    static constexpr QThread::Priority kPriorities[] = {QThread::InheritPriority, QThread::LowPriority,
                                                        QThread::LowestPriority, QThread::LowestPriority};
    const QString name = kNames[int(lane)];
    auto* pool = qApp->findChild<QThreadPool*>(name, Qt::FindDirectChildrenOnly);
    if (!pool) {
        pool = new QThreadPool(qApp);
        pool->setObjectName(name);
        // What cannot be stopped at once holds up one of two.
        pool->setMaxThreadCount(lane == Lane::Small || lane == Lane::Previews ? 2 : 1);
        pool->setThreadPriority(kPriorities[int(lane)]);
    }
    return *pool;
}

} // namespace vicinal
