#pragma once
#include "base/result.h"
#include <filesystem>
#include <string>

namespace vicinal {

/// What a journal or a kept copy says of its document.
struct JournalFacts {
    std::string file;      ///< the document's own file, an absolute name; empty when it has none yet
    std::string title;     ///< as the window calls it
    std::int64_t time = 0; ///< of the last entry, seconds since 1970; 0: not known
};
/// The text of about.json, and what can be read of one: a value of the wrong kind, or a relative file, is not there.
std::string toText(const JournalFacts&);
JournalFacts factsFrom(const std::string& text);

/// The old bytes of a file that is written in place, in a folder of their own "vicinal-kept-...": held by a lock while
/// the program writes, and never swept: when it dies meanwhile they are the only ones there are.
class KeptCopy {
public:
    static constexpr const char *kPrefix = "vicinal-kept-", *kCopy = "copy"; ///< of the folder; of the file in it
    /// `place`: the folder that holds all; the temporary folder when empty. Problem: it cannot be kept there.
    static Result<KeptCopy> of(const std::filesystem::path& file, const std::string& bytes,
                               const std::filesystem::path& place);
    KeptCopy(KeptCopy&&) noexcept;
    KeptCopy& operator=(KeptCopy&&) = delete;
    ~KeptCopy(); ///< lets go of it; it stays

    const std::filesystem::path& copy() const { return m_copy; } ///< the file with the old bytes
    void remove();                                               ///< the file is whole again

private:
    KeptCopy() = default;
    std::filesystem::path m_folder, m_copy;
    int m_lock = -1;
};

/// A lock file that nobody holds: -1 when it is held or not there. The caller closes what is returned.
int lockIfFree(const std::filesystem::path& lockFile, bool make);

} // namespace vicinal
