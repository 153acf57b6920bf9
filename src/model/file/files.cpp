#include "model/file/files.h"
#include "base/say.h"
#include "base/text.h"
#include "model/file/kept_copy.h"
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <random>
#include <sys/file.h>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

namespace vicinal {
namespace {

namespace fs = std::filesystem;
constexpr std::uintmax_t kLargestFile = 1u << 30;
constexpr const char* kPrefix = ".vicinal-"; ///< of temporary files: then the process and a random number

std::string reason() { return std::strerror(errno); }
std::string shown(const fs::path& p) { return text::quoted(p.string()); }

class Handle {
public:
    explicit Handle(int fd) : m_fd(fd) {}
    ~Handle() { close(); }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    explicit operator bool() const { return m_fd >= 0; }
    int get() const { return m_fd; }
    int release() { return std::exchange(m_fd, -1); }
    /// Network file systems tell only here that they had no room.
    bool close() {
        const int fd = m_fd;
        m_fd = -1;
        return fd < 0 || ::close(fd) == 0;
    }

private:
    int m_fd;
};

bool writeAll(int fd, const std::string& bytes) {
    for (size_t done = 0; done < bytes.size();) {
        const ssize_t n = write(fd, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n == 0) errno = ENOSPC;
        if (n <= 0) return false;
        done += size_t(n);
    }
    return fsync(fd) == 0;
}

void syncFolder(const fs::path& folder) {
    const Handle f(open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (f) fsync(f.get()); // the new name is safe too
}

/// Short whatever the file's own name: that one may have 255 bytes already.
fs::path temporaryIn(const fs::path& folder) {
    std::random_device random;
    return folder / (kPrefix + std::to_string(getpid()) + "-" + std::to_string(random()) + ".part");
}

/// Takes away temporary files whose process is gone.
void sweep(const fs::path& folder) {
    std::error_code error;
    for (const auto& e : fs::directory_iterator(folder, error)) {
        const std::string name = e.path().filename().string();
        if (!name.starts_with(kPrefix) || !name.ends_with(".part")) continue;
        const long pid = std::strtol(name.c_str() + std::strlen(kPrefix), nullptr, 10);
        struct stat s {};
        if (pid > 0 && kill(pid_t(pid), 0) != 0 && errno == ESRCH && lstat(e.path().c_str(), &s) == 0 &&
            S_ISREG(s.st_mode) && s.st_uid == geteuid())
            unlink(e.path().c_str());
    }
}

Problem cannot(const char* what, const fs::path& path, const std::string& why) {
    return {Words("Cannot ") + what + " " + shown(path) + ": " + why + ". The old file is untouched.", ""};
}

Problem cancelled(const fs::path& path) {
    return {Words("Saving was cancelled; ") + shown(path) + " is as it was.", ""};
}

/// Over the old bytes, which are kept elsewhere meanwhile.
std::optional<Problem> writeInPlace(const fs::path& path, const std::string& bytes, const SaveOptions& options) {
    const auto old = readFile(path);
    if (!old) return old.problem();
    if (stopped(options.stop)) return cancelled(path);
    auto kept = KeptCopy::of(path, *old, options.copies);
    if (!kept) return cannot("write", path, kept.problem().text);
    Handle file(open(path.c_str(), O_WRONLY | O_CLOEXEC));
    if (!file) {
        const std::string why = reason();
        kept.value().remove();
        return cannot("write", path, why);
    }
    const auto put = [&](const std::string& what) {
        return lseek(file.get(), 0, SEEK_SET) == 0 && writeAll(file.get(), what) &&
               ftruncate(file.get(), off_t(what.size())) == 0 && fsync(file.get()) == 0;
    };
    if (put(bytes)) {
        kept.value().remove();
        return std::nullopt;
    }
    const std::string why = reason();
    if (!put(*old))
        return Problem{Words("Cannot write ") + shown(path) + ": " + why +
                           ". It is damaged now; the old file is kept as " + shown(kept->copy()) + ".",
                       ""};
    kept.value().remove();
    return cannot("write", path, why);
}

} // namespace

Result<ChangeLock> ChangeLock::of(const fs::path& path, double seconds) {
    const auto until = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
    while (true) {
        Handle file(open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
        struct stat held {
        }, there{};
        if (!file || fstat(file.get(), &held) != 0 || !S_ISREG(held.st_mode)) return ChangeLock(-1);
        if (flock(file.get(), LOCK_EX | LOCK_NB) == 0) {
            // Who held it may have put a new file in its place: that one counts.
            if (stat(path.c_str(), &there) == 0 && there.st_ino == held.st_ino && there.st_dev == held.st_dev)
                return ChangeLock(file.release());
            continue;
        }
        if (errno != EWOULDBLOCK && errno != EINTR) return ChangeLock(-1);
        if (std::chrono::steady_clock::now() >= until)
            return Problem{
                say::value(shown(path)) + " is being changed by another program. Try again when that is done.", ""};
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
}

ChangeLock::~ChangeLock() {
    if (m_fd >= 0) close(m_fd);
}

void keepGoingOnFileSignals() {
    std::signal(SIGXFSZ, SIG_IGN);
    std::signal(SIGPIPE, SIG_IGN);
}

Result<std::string> readFile(const fs::path& path) {
    std::error_code error;
    const auto status = fs::status(path, error);
    if (!fs::exists(status)) return Problem{Words("There is no file ") + shown(path) + ".", ""};
    if (!fs::is_regular_file(status)) return Problem{say::value(shown(path)) + " is not a file.", ""};
    const auto size = fs::file_size(path, error);
    if (!error && size > kLargestFile) return Problem{say::value(shown(path)) + " is larger than 1 GiB.", ""};
    const Handle file(open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (!file) return Problem{Words("Cannot read ") + shown(path) + ": " + reason() + ".", ""};
    struct stat s {};
    if (fstat(file.get(), &s) != 0 || !S_ISREG(s.st_mode))
        return Problem{say::value(shown(path)) + " is not a file.", ""};
    try {
        std::string bytes(size_t(s.st_size), '\0');
        size_t done = 0;
        while (done < bytes.size()) {
            const ssize_t n = read(file.get(), bytes.data() + done, bytes.size() - done);
            if (n < 0 && errno == EINTR) continue;
            if (n < 0) return Problem{Words("Cannot read ") + shown(path) + ": " + reason() + ".", ""};
            if (n == 0) break;
            done += size_t(n);
        }
        bytes.resize(done);
        return bytes;
    } catch (const std::bad_alloc&) {
        return Problem{say::value(shown(path)) + " needs more memory than there is.", ""};
    }
}

Result<std::string> readBelow(const fs::path& folder, const std::string& name) {
    const Problem refused{
        "The file names " + text::quoted(name) + ", which is not below its own folder. It is not read.", "file"};
    const fs::path relative(name);
    if (name.empty() || relative.is_absolute() || name.find('\0') != std::string::npos) return refused;
    for (const auto& part : relative)
        if (part == "..") return refused;
    std::error_code error;
    const fs::path base = fs::canonical(folder.empty() ? fs::path(".") : folder, error);
    if (error) return Problem{Words("There is no folder ") + shown(folder) + ".", ""};
    const fs::path target = fs::weakly_canonical(base / relative, error);
    if (error) return refused;
    const auto [at, end] = std::mismatch(base.begin(), base.end(), target.begin(), target.end());
    if (at != base.end()) return refused; // a link leads out
    return readFile(target);
}

std::optional<FileStamp> stampOf(const fs::path& path) {
    struct stat s {};
    if (stat(path.c_str(), &s) != 0) return std::nullopt;
    return FileStamp{s.st_dev, s.st_ino, std::uint64_t(s.st_size),
                     std::int64_t(s.st_mtim.tv_sec) * 1'000'000'000 + s.st_mtim.tv_nsec};
}

std::optional<Problem> writeAtomically(const fs::path& wanted, const std::string& bytes, const SaveOptions& options) {
    std::error_code error;
    fs::path path = wanted;
    if (fs::is_symlink(fs::symlink_status(path, error))) { // the link stays, what it leads to is written
        const fs::path target = fs::weakly_canonical(path, error);
        if (error) return Problem{say::value(shown(path)) + " is a link that leads nowhere. Choose another name.", ""};
        path = target;
    }
    const auto folder = path.has_parent_path() ? path.parent_path() : fs::path(".");
    struct stat old {};
    const bool exists = stat(path.c_str(), &old) == 0;
    if (exists && !S_ISREG(old.st_mode))
        return Problem{say::value(shown(path)) +
                           (S_ISDIR(old.st_mode) ? " is a folder" : " is a device or a pipe, not a file") +
                           ". Choose a name for a file.",
                       ""};
    if (path.filename().string().size() > 255)
        return Problem{Words("The name ") + shown(path.filename()) + " is longer than 255 bytes. Choose a shorter one.",
                       ""};
    if (exists && !options.evenIfReadOnly && (old.st_mode & 0222) == 0)
        return Problem{say::value(shown(path)) + " is read-only. It was not written.", "readOnly"};
    if (options.known && !options.evenIfChanged && exists && stampOf(path) != options.known)
        return Problem{say::value(shown(path)) +
                           " was changed by someone else since it was opened. It was not written.",
                       "changed"};
    sweep(folder);
    if (exists && old.st_nlink > 1) return writeInPlace(path, bytes, options); // a new file would part the names

    const fs::path temporary = temporaryIn(folder);
    Handle file(open(temporary.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666)); // the umask counts
    if (!file) {
        const int why = errno;
        if (exists && (why == EACCES || why == EROFS || why == EPERM)) return writeInPlace(path, bytes, options);
        errno = why;
        return Problem{
            Words("Cannot write in the folder ") + shown(folder) + ": " + reason() + ". Choose another folder.", ""};
    }
    const auto giveUp = [&](const char* what) {
        const std::string why = reason();
        file.close();
        unlink(temporary.c_str());
        return cannot(what, path, why);
    };
    if (exists) {
        if ((old.st_uid != geteuid() || old.st_gid != getegid()) &&
            fchown(file.get(), old.st_uid, old.st_gid) !=
                0) { // not ours to give away: written in place it stays theirs
            file.close();
            unlink(temporary.c_str());
            return writeInPlace(path, bytes, options);
        }
        if (fchmod(file.get(), old.st_mode & 07777) != 0) return giveUp("write");
    }
    if (!writeAll(file.get(), bytes)) return giveUp("write");
    if (!file.close()) return giveUp("write");
    if (stopped(options.stop)) {
        unlink(temporary.c_str());
        return cancelled(path);
    }
    if (rename(temporary.c_str(), path.c_str()) != 0) return giveUp("replace");
    syncFolder(folder);
    return std::nullopt;
}

} // namespace vicinal
