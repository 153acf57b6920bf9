#include "model/file/journal.h"
#include "base/text.h"
#include <algorithm>
#include <random>
#include <sys/stat.h>
#include <unistd.h>

namespace vicinal {
namespace {

namespace fs = std::filesystem;
constexpr const char* kDocument = "document.json";
constexpr const char* kFacts = "about.json";
constexpr const char* kLock = "lock";

/// Folders that nobody holds; what is no kept copy is looked at in a folder of `journals` only.
std::vector<LeftJournal> leftIn(const fs::path& place, bool journals) {
    std::vector<LeftJournal> out;
    std::error_code error;
    for (const auto& e : fs::directory_iterator(place, error)) {
        const bool kept = e.path().filename().string().starts_with(KeptCopy::kPrefix);
        struct stat s {};
        if (!kept && !journals) continue;
        if (lstat(e.path().c_str(), &s) != 0 || !S_ISDIR(s.st_mode) || s.st_uid != geteuid()) continue;
        const int lock = lockIfFree(e.path() / kLock, false);
        if (lock < 0) continue; // being made just now, held, or not ours
        close(lock);
        LeftJournal left{e.path(), {}, {}};
        if (kept) {
            for (const auto& f : fs::directory_iterator(e.path(), error))
                if (f.path().stem() == KeptCopy::kCopy) left.copy = f.path();
            if (left.copy.empty()) continue; // killed before it was whole: the file itself was not touched yet
        } else if (!fs::exists(e.path() / kDocument, error)) { // killed before its first entry was whole
            fs::remove_all(e.path(), error);
            continue;
        }
        if (const auto text = readFile(e.path() / kFacts)) left.facts = factsFrom(*text);
        out.push_back(std::move(left));
    }
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.facts.time > b.facts.time; });
    return out;
}

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
    if (error)
        return Problem{Words("No journal can be kept in ") + m_place.string() + ": " + error.message() + ".", ""};
    m_lock = lockIfFree(folder / kLock, true);
    if (m_lock < 0) return Problem{Words("No journal can be kept in ") + m_place.string() + ".", ""};
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
        if (auto p = writeAtomically(m_folder / kFacts, toText(facts))) return p;
        return writeAtomically(m_folder / kDocument, toJson(d));
    } catch (const std::exception& e) {
        return Problem{Words("The journal cannot be kept: ") + text::reasonOf(e) + ".", ""};
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

std::vector<LeftJournal> leftJournals(const fs::path& place) { return leftIn(place, true); }

std::vector<LeftJournal> leftCopies(const fs::path& place) {
    auto out = leftIn(place, false);
    std::erase_if(out, [](const LeftJournal& l) { return l.copy.extension() != ".vicinal"; });
    return out;
}

Result<Document> openJournal(const LeftJournal& left, const BodyReader& body) {
    return openDocument(left.copy.empty() ? left.folder / kDocument : left.copy, body);
}

void removeJournal(const LeftJournal& left) {
    std::error_code error;
    fs::remove_all(left.folder, error);
}

} // namespace vicinal
