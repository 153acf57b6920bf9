#pragma once
#include "app/state/store.h"
#include <QFuture>
#include <QThreadPool>

class QTimer;

namespace vicinal {

/// Folder of all journals, beside the settings.
std::filesystem::path journalPlace();
/// Folder of the copies that are kept while a file is written in place.
std::filesystem::path copiesPlace();

/// Writes what is not saved to the journal, on a thread of its own, soon after every edit; what is saved needs none.
class JournalKeeper : public QObject {
    Q_OBJECT
public:
    explicit JournalKeeper(Store&);
    ~JournalKeeper() override;
    /// After an edit: what is not saved is written soon.
    void keep();
    /// After what is being written, without waiting for it.
    void clear();
    /// Ends the wait for an entry that is on its way (before the program ends, and in tests). False: what is there now
    /// is not in it.
    bool flush();

private:
    void write();

    Store& m_store;
    std::shared_ptr<Journal> m_journal;
    QTimer* m_timer;
    QThreadPool m_thread;
    QFuture<QString> m_work; ///< the last that was begun
    long m_written = -1;     ///< serial of the step that the journal holds
    bool m_told = false;
};

} // namespace vicinal
