#pragma once
#include "model/file/document_file.h"
#include <memory>
#include <string>
#include <vector>

namespace vicinal {

/// What a journal says of its document.
struct JournalFacts {
    std::string file;      ///< the document's own file; empty when it has none yet
    std::string title;     ///< as the window calls it
    std::int64_t time = 0; ///< of the last entry, seconds since 1970
};

/// The last state of one window's document, kept on disk beside the settings while it is not saved: a folder with
/// document.json and its assets, held by a lock as long as the program lives. What a killed program leaves can be
/// opened at the next start. One thread at a time.
class Journal {
public:
    /// `place`: folder of all journals. Nothing is made before the first write.
    explicit Journal(std::filesystem::path place);
    ~Journal(); ///< takes the journal away: the program ends in order
    Journal(const Journal&) = delete;
    Journal& operator=(const Journal&) = delete;

    /// Writes the document; assets that are there already are not written again. Problem when the disk refuses.
    std::optional<Problem> write(const Document&, const JournalFacts&);
    /// There is nothing to keep: the document is saved, or is another one.
    void clear();

private:
    std::optional<Problem> open();
    std::filesystem::path m_place, m_folder;
    int m_lock = -1;
};

/// A journal that its program left behind.
struct LeftJournal {
    std::filesystem::path folder;
    JournalFacts facts;
};
/// All that are held by no living program and can be opened, newest first; empty and broken ones are swept.
std::vector<LeftJournal> leftJournals(const std::filesystem::path& place);
Result<Document> openJournal(const LeftJournal&, const BodyReader&);
void removeJournal(const LeftJournal&);

} // namespace vicinal
