#include "app/state/journal_keeper.h"
#include <QFutureWatcher>
#include <QStandardPaths>
#include <QTimer>
#include <QtConcurrentRun>

namespace vicinal {

namespace {
constexpr int kJournalDelay = 400; ///< ms after an edit: with the writing it is on disk within a second
}

std::filesystem::path journalPlace() {
    return std::filesystem::path(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation).toStdString()) /
           "journal";
}
std::filesystem::path copiesPlace() { return journalPlace().parent_path() / "copies"; }

JournalKeeper::JournalKeeper(Store& store)
    : QObject(&store), m_store(store), m_journal(std::make_shared<Journal>(journalPlace())), m_timer(new QTimer(this)) {
    m_thread.setMaxThreadCount(1); // one after the other, in order
    m_timer->setSingleShot(true);
    m_timer->setInterval(kJournalDelay);
    connect(m_timer, &QTimer::timeout, this, &JournalKeeper::write);
    connect(&store, &Store::documentChanged, this, &JournalKeeper::keep);
    connect(&store, &Store::fileChanged, this, &JournalKeeper::keep);
}

JournalKeeper::~JournalKeeper() { m_work.waitForFinished(); }

void JournalKeeper::keep() {
    if (m_store.saved()) {
        m_timer->stop();
        clear();
    } else if (m_written != m_store.history().serial() && !m_timer->isActive()) {
        m_timer->start();
    }
}

void JournalKeeper::clear() {
    if (m_written < 0) return;
    m_written = -1;
    m_work = QtConcurrent::run(&m_thread, [journal = m_journal] {
        journal->clear();
        return QString();
    });
}

void JournalKeeper::write() {
    if (m_store.saved()) return;
    if (m_work.isRunning()) return m_timer->start(); // the one before is still on its way
    m_written = m_store.history().serial();
    JournalFacts facts{m_store.filePath().toStdString(), m_store.title().toStdString()};
    m_work = QtConcurrent::run(&m_thread, [journal = m_journal, document = m_store.document(), facts] {
        const auto problem = journal->write(document, facts);
        return problem ? QString::fromStdString(problem->text) : QString();
    });
    auto* watcher = new QFutureWatcher<QString>(this);
    connect(watcher, &QFutureWatcher<QString>::finished, this, [this, watcher] {
        watcher->deleteLater();
        if (const QString why = watcher->result(); !why.isEmpty() && !m_told) {
            m_told = true;
            emit m_store.refused(tr("Unsaved work cannot be kept for a restart: %1").arg(why));
        }
        keep(); // edits that came meanwhile
    });
    watcher->setFuture(m_work);
}

bool JournalKeeper::flush() {
    m_timer->stop();
    m_work.waitForFinished();
    write();
    m_work.waitForFinished();
    return m_work.resultCount() == 0 || m_work.result().isEmpty();
}

} // namespace vicinal
