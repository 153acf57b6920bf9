#include "model/file/kept_copy.h"
#include "model/file/files.h"
#include <ctime>
#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <random>
#include <sys/file.h>
#include <unistd.h>

namespace vicinal {

namespace fs = std::filesystem;

std::string toText(const JournalFacts& f) {
    const nlohmann::ordered_json about = {
        {"file", f.file}, {"title", f.title}, {"time", f.time ? f.time : std::int64_t(std::time(nullptr))}};
    return about.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

JournalFacts factsFrom(const std::string& text) {
    JournalFacts out;
    const auto j = nlohmann::ordered_json::parse(text, nullptr, false);
    if (!j.is_object()) return out;
    const auto word = [&](const char* key) {
        const auto it = j.find(key);
        return it != j.end() && it->is_string() ? it->get<std::string>() : std::string();
    };
    out.file = word("file");
    if (!fs::path(out.file).is_absolute()) out.file.clear(); // of a folder that nobody knows any more
    out.title = word("title");
    if (const auto it = j.find("time"); it != j.end() && it->is_number_integer()) out.time = it->get<std::int64_t>();
    return out;
}

int lockIfFree(const fs::path& file, bool make) {
    const int lock = ::open(file.c_str(), O_RDWR | O_CLOEXEC | (make ? O_CREAT : 0), 0600);
    if (lock < 0) return -1;
    if (flock(lock, LOCK_EX | LOCK_NB) == 0) return lock;
    close(lock);
    return -1;
}

Result<KeptCopy> KeptCopy::of(const fs::path& file, const std::string& bytes, const fs::path& place) {
    std::error_code error;
    std::random_device random;
    const fs::path base = place.empty() ? fs::temp_directory_path(error) : place;
    KeptCopy out;
    out.m_folder = base / (kPrefix + std::to_string(getpid()) + "-" + std::to_string(random()));
    out.m_copy = out.m_folder / (kCopy + file.extension().string());
    fs::create_directories(base, error);
    if (!fs::create_directory(out.m_folder, error) || error)
        return Problem{Words("No copy of the old file can be kept in ") + base.string() + ": " + error.message() + ".",
                       ""};
    fs::permissions(out.m_folder, fs::perms::owner_all, error); // what others may not read stays so
    out.m_lock = lockIfFree(out.m_folder / "lock", true);
    const fs::path whole = fs::absolute(file, error);
    auto problem = out.m_lock < 0 ? std::optional(Problem{Words("No lock can be had in ") + base.string() + ".", ""})
                                  : writeAtomically(out.m_copy, bytes);
    if (!problem)
        problem = writeAtomically(out.m_folder / "about.json", toText({whole.string(), file.filename().string(), 0}));
    if (!problem) return out;
    out.remove();
    return *problem;
}

KeptCopy::KeptCopy(KeptCopy&& o) noexcept
    : m_folder(std::move(o.m_folder)), m_copy(std::move(o.m_copy)), m_lock(std::exchange(o.m_lock, -1)) {}

KeptCopy::~KeptCopy() {
    if (m_lock >= 0) close(m_lock);
}

void KeptCopy::remove() {
    std::error_code error;
    fs::remove_all(m_folder, error);
    if (m_lock >= 0) close(m_lock);
    m_lock = -1;
}

} // namespace vicinal
