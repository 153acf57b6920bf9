#pragma once
#include "base/job.h"
#include "base/result.h"
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <utility>

namespace vicinal {

/// The whole file. Problem with the reason when it cannot be read; files over 1 GiB are refused, and whatever is no
/// regular file (a device, a pipe, a folder).
Result<std::string> readFile(const std::filesystem::path&);

/// A file that another one names, below `folder`: no absolute name, no "..", no link that leads out of the folder.
/// Problem when it is not there or not allowed.
Result<std::string> readBelow(const std::filesystem::path& folder, const std::string& name);

/// What a file was like when it was read, to see later whether somebody else changed it.
struct FileStamp {
    std::uint64_t device = 0, inode = 0, size = 0;
    std::int64_t changed = 0; ///< ns
    bool operator==(const FileStamp&) const = default;
};
std::optional<FileStamp> stampOf(const std::filesystem::path&);

struct SaveOptions {
    std::optional<FileStamp> known{}; ///< as it was opened or saved last; nothing: it is not looked at
    bool evenIfChanged = false, evenIfReadOnly = false;
    /// Where a copy of the old file is kept while a file is written in place (its folder cannot be written, or it has
    /// several names), see KeptCopy; the temporary folder when empty.
    std::filesystem::path copies{};
    const Stop* stop = nullptr; ///< set before the file is put in place: a problem, and it stays as it was
};
/// Writes a file so that at every moment the old or the new one is there whole: beside it, synced, then put in its
/// place. Its owner, mode and other names stay; of a link the target is written. New files get the umask's mode.
/// Problem, the file untouched: with field "readOnly" or "changed" when the user must be asked first; it is no regular
/// file; no room; no permission. Left-overs of killed programs in the folder are swept.
std::optional<Problem> writeAtomically(const std::filesystem::path& path, const std::string& bytes,
                                       const SaveOptions& = {});

/// A file that is read, changed and written by one program at a time. Two commands on one document: the second waits.
class ChangeLock {
public:
    /// Waits for up to `seconds`. Problem: another program still holds it. A file that is not there, or on a disk
    /// without locks, is not held: then its stamp must tell.
    static Result<ChangeLock> of(const std::filesystem::path&, double seconds = 10);
    ChangeLock(ChangeLock&& o) noexcept : m_fd(std::exchange(o.m_fd, -1)) {}
    ChangeLock& operator=(ChangeLock&&) = delete;
    ~ChangeLock();

private:
    explicit ChangeLock(int fd) : m_fd(fd) {}
    int m_fd;
};

/// A full disk, a file size limit or a closed pipe become errors to be told, instead of ending the program.
void keepGoingOnFileSignals();

} // namespace vicinal
