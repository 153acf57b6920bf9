#include "model/file/journal.h"
#include <algorithm>
#include <ctime>
#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <random>
#include <sys/file.h>
#include <unistd.h>

namespace vicinal {
namespace {

namespace fs = std::filesystem;
constexpr const char* kDocument = "document.json";
constexpr const char* kFacts = "about.json";
constexpr const char* kLock = "lock";

} // namespace

Journal::Journal(fs::path place) : m_place(std::move(place)) {}

Journal::~Journal() {
    clear();
    if (m_lock >= 0) close(m_lock);
}

std::optional<Problem> Journal::open() {
    if (m_lock >= 0) return std::nullopt;
    std::error_code error;
    std::random_device random;
    const fs::path folder = m_place / (std::to_string(getpid()) + "-" + std::to_string(random()));
    fs::create_directories(folder / "assets", error);
    if (error) return Problem{"No journal can be kept in " + m_place.string() + ": " + error.message() + ".", ""};
    m_lock = ::open((folder / kLock).c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
    if (m_lock < 0 || flock(m_lock, LOCK_EX | LOCK_NB) != 0) {
        if (m_lock >= 0) close(m_lock);
        m_lock = -1;
        return Problem{"No journal can be kept in " + m_place.string() + ".", ""};
    }
    m_folder = folder;
    return std::nullopt;
}

std::optional<Problem> Journal::write(const Document& d, const JournalFacts& facts) {
    try {
        if (auto p = open()) return p;
        std::error_code error;
        for (const auto& [name, bytes] : assetsOf(d))
            if (!fs::exists(m_folder / name, error)) {
                fs::create_directories((m_folder / name).parent_path(), error);
                if (auto p = writeAtomically(m_folder / name, *bytes)) return p;
            }
        const nlohmann::ordered_json about = {{"file", facts.file},
                                              {"title", facts.title},
                                              {"time", facts.time ? facts.time : std::int64_t(std::time(nullptr))}};
        if (auto p = writeAtomically(m_folder / kFacts,
                                     about.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace)))
            return p;
        return writeAtomically(m_folder / kDocument, toJson(d));
    } catch (const std::exception& e) {
        return Problem{std::string("The journal cannot be kept: ") + e.what() + ".", ""};
    }
}

void Journal::clear() {
    if (m_lock < 0) return;
    std::error_code error;
    fs::remove(m_folder / kDocument, error); // first: without it the rest is nothing
    fs::remove_all(m_folder, error);
    close(m_lock);
    m_lock = -1;
}

std::vector<LeftJournal> leftJournals(const fs::path& place) {
    std::vector<LeftJournal> out;
    std::error_code error;
    for (const auto& e : fs::directory_iterator(place, error)) {
        if (!e.is_directory(error)) continue;
        const int lock = ::open((e.path() / kLock).c_str(), O_RDWR | O_CLOEXEC);
        if (lock < 0) continue; // being made just now, or not ours
        const bool free = flock(lock, LOCK_EX | LOCK_NB) == 0;
        close(lock);
        if (!free) continue;
        if (!fs::exists(e.path() / kDocument, error)) { // killed before its first entry was whole
            fs::remove_all(e.path(), error);
            continue;
        }
        LeftJournal left{e.path(), {}};
        if (const auto text = readFile(e.path() / kFacts)) {
            const auto j = nlohmann::ordered_json::parse(*text, nullptr, false);
            if (j.is_object()) {
                left.facts.file = j.value("file", "");
                left.facts.title = j.value("title", "");
                left.facts.time = j.value("time", std::int64_t(0));
            }
        }
        out.push_back(std::move(left));
    }
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.facts.time > b.facts.time; });
    return out;
}

Result<Document> openJournal(const LeftJournal& left, const BodyReader& body) {
    return openDocument(left.folder / kDocument, body);
}

void removeJournal(const LeftJournal& left) {
    std::error_code error;
    fs::remove_all(left.folder, error);
}

} // namespace vicinal
