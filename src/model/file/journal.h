#pragma once
#include "model/file/document_file.h"
#include "model/file/kept_copy.h"
#include <memory>
#include <string>
#include <vector>

namespace vicinal {

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

/// What a program that ended badly left behind: the last state of its document, or the old bytes of a file that it was
/// writing in place.
struct LeftJournal {
    std::filesystem::path folder;
    JournalFacts facts;
    std::filesystem::path copy{}; ///< of the old file; empty for a journal
};
/// All that are held by no living program, newest first. Journals that never had a whole entry are swept; kept copies
/// never are, and one that is odd hides none of the others.
std::vector<LeftJournal> leftJournals(const std::filesystem::path& place);
/// The kept copies of documents in a folder for all kinds of files (the temporary one), ours only.
std::vector<LeftJournal> leftCopies(const std::filesystem::path& place);
Result<Document> openJournal(const LeftJournal&, const BodyReader&);
void removeJournal(const LeftJournal&);

} // namespace vicinal
