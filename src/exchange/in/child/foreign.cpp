#include "exchange/in/child/foreign.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/lockdown.h"
#include "exchange/in/child/readers.h"
#include "exchange/in/child/results.h"
#include "exchange/in/child/wire.h"
#include "model/file/document_file.h"
#include <cerrno>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>
#include <zlib.h>

extern char** environ;

namespace vicinal {
namespace {

constexpr int kOutput = 3; ///< file descriptor of the child's answers

// What the child sends: frames of a letter, a length and that many bytes.
constexpr char kProgress = 'P', kProblem = 'E', kResult = 'R';

struct Limits {
    rlim_t seconds; ///< of processor time
    rlim_t memory;  ///< bytes of address space
};
Limits limitsOf(const std::string& kind) {
    constexpr rlim_t gigabyte = 1u << 30;
    if (kind == "svg") return {10, gigabyte};
    if (kind == "dxf") return {60, 2 * gigabyte};
    if (kind == "mesh") return {120, 3 * gigabyte};
    if (kind == "body") return {60, 2 * gigabyte};
    return {900, 4 * gigabyte}; // large assemblies
}

bool send(char letter, std::string_view bytes) {
    std::string head(1, letter);
    wire::Writer w;
    w.value(std::uint64_t(bytes.size()));
    w.value(std::uint32_t(crc32(0, reinterpret_cast<const Bytef*>(bytes.data()), uInt(bytes.size()))));
    head += w.bytes;
    for (std::string_view part : {std::string_view(head), bytes})
        while (!part.empty()) {
            const ssize_t n = write(kOutput, part.data(), part.size());
            if (n < 0 && errno == EINTR) continue;
            if (n <= 0) return false;
            part.remove_prefix(size_t(n));
        }
    return true;
}

int refuse(const Problem& p) {
    wire::Writer w;
    w.text(p.field);
    w.text(p.text);
    return send(kProblem, w.bytes) ? 0 : 1;
}

/// Tells the parent how far it is, ten times a second.
class Reporter {
public:
    Progress progress = 0;
    Reporter()
        : m_thread([this] {
              double told = 0;
              while (!m_done) {
                  std::this_thread::sleep_for(std::chrono::milliseconds(100));
                  if (const double p = progress; p != told && !m_done) {
                      told = p;
                      wire::Writer w;
                      w.value(p);
                      send(kProgress, w.bytes);
                  }
              }
          }) {}
    ~Reporter() { stop(); }
    void stop() { // before the result is sent: frames must not mix
        m_done = true;
        if (m_thread.joinable()) m_thread.join();
    }

private:
    std::atomic<bool> m_done = false;
    std::thread m_thread;
};

} // namespace

int readForeignHere(const std::string& kind, const std::string& path, const std::string& name,
                    const std::string& extension, double unit) {
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    const Limits limits = limitsOf(kind);
    const rlimit time{limits.seconds, limits.seconds + 1}, none{0, 0};
    setrlimit(RLIMIT_CPU, &time);
#if !defined(__SANITIZE_ADDRESS__) // the sanitizer's shadow needs more address space than any limit
    const rlimit memory{limits.memory, limits.memory};
    setrlimit(RLIMIT_AS, &memory);
#endif
    setrlimit(RLIMIT_CORE, &none);
    if (const int quiet = open("/dev/null", O_RDWR); quiet >= 0) // libraries print
        for (int fd : {0, 1, 2}) dup2(quiet, fd);
    here::lockDown(here::MayOpen::ToRead); // where the kernel can
    try {
        Reporter reporter;
        wire::Writer out;
        std::optional<Problem> problem;
        const auto take = [&](auto&& result, auto&& use) {
            if (result)
                use(result.value());
            else
                problem = result.problem();
        };
        if (kind == "dxf") {
            take(here::readDxf(path, name), [&](const CurveFile& f) { wire::put(out, f); });
        } else if (kind == "svg") {
            take(readFile(path), [&](const std::string& bytes) {
                here::lockDown(here::MayOpen::Nothing);
                take(here::readSvg(bytes, name), [&](const CurveFile& f) { wire::put(out, f); });
            });
        } else if (kind == "step-curves") {
            take(here::readStepCurves(path, name), [&](const CurveFile& f) { wire::put(out, f); });
        } else if (kind == "step-bodies") {
            take(here::readStepBodies(path, name, nullptr, &reporter.progress), [&](const StepFile& f) {
                // Tried out here, where a crash costs nothing, before the window does the same.
                for (const auto& b : f.bodies)
                    if (const auto mesh = meshOf(*b.solid); !mesh) problem = mesh.problem();
                if (!problem) wire::put(out, f);
            });
        } else if (kind == "mesh") {
            MeshReport report;
            take(readFile(path), [&](const std::string& bytes) {
                here::lockDown(here::MayOpen::Nothing);
                take(here::readMesh(bytes, extension, unit, &report, nullptr, &reporter.progress),
                     [&](const std::shared_ptr<const Mesh>& m) { wire::put(out, *m, report); });
            });
        } else if (kind == "body") {
            take(readFile(path), [&](const std::string& bytes) {
                take(solidFromBinary(bytes), [&](const SolidPtr& s) {
                    if (const auto mesh = meshOf(*s); !mesh)
                        problem = mesh.problem();
                    else
                        out.text(toBinary(*s));
                });
            });
        } else {
            problem = Problem{"unknown kind", ""};
        }
        reporter.stop();
        if (problem) return refuse(*problem);
        return send(kResult, out.bytes) ? 0 : 1;
    } catch (const std::bad_alloc&) {
        return refuse({say::value(name) + " needs more than " + say::count(limits.memory >> 30) +
                           " GiB of memory to be read: it is damaged, or too large.",
                       "file"});
    } catch (const std::exception& e) {
        return refuse({say::value(name) + " cannot be read: " + text::reasonOf(e) + ".", "file"});
    }
}

namespace {

// ---- the parent

std::filesystem::path helper() {
    char own[4096];
    const auto n = readlink("/proc/self/exe", own, sizeof own - 1);
    return n > 0 ? std::filesystem::path(std::string(own, size_t(n))).parent_path() / "vicinal-cli"
                 : std::filesystem::path("vicinal-cli");
}

/// A child that is ended when this goes.
class Child {
public:
    pid_t pid = -1;
    int output = -1;
    ~Child() {
        if (output >= 0) close(output);
        if (pid > 0) {
            kill(pid, SIGKILL);
            wait();
        }
    }
    int wait() {
        int status = 0;
        while (pid > 0 && waitpid(pid, &status, 0) < 0 && errno == EINTR) {}
        pid = -1;
        return status;
    }
};

Problem endedBadly(int status, const std::string& name, const std::string& kind) {
    if (WIFSIGNALED(status) && (WTERMSIG(status) == SIGXCPU || WTERMSIG(status) == SIGKILL))
        return {say::value(name) + " takes longer than " + std::to_string(limitsOf(kind).seconds) +
                    " s to be read, or more memory than there is. It is damaged, or must be made simpler.",
                "file"};
    if (WIFSIGNALED(status))
        return {say::value(name) +
                    " is damaged: it brought its reader down. Get it again, or save it anew where it was made.",
                "file"};
    return {say::value(name) + " cannot be read: its reader ended without an answer.", "file"};
}

/// The bytes of the result a child sends.
Result<std::string> outcome(const std::string& kind, const std::string& path, const std::string& name,
                            const std::string& extension, double unit, const Stop* stop, Progress* progress,
                            int input = -1) {
    int ends[2];
    if (pipe2(ends, O_CLOEXEC) != 0)
        return Problem{Words("No reader can be started: ") + std::string(strerror(errno)) + ".", ""};
    Child child;
    child.output = ends[0];
    const std::string program = helper().string(), size = text::exact(unit);
    std::vector<std::string> words{program, "read-foreign", kind, path, name, extension, size};
    std::vector<char*> argv;
    for (auto& w : words) argv.push_back(w.data());
    argv.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    // Both are moved high first, so that neither stands in the other's way.
    const int high = fcntl(ends[1], F_DUPFD_CLOEXEC, 100),
              highInput = input < 0 ? -1 : fcntl(input, F_DUPFD_CLOEXEC, 100);
    posix_spawn_file_actions_adddup2(&actions, high, kOutput);
    if (input >= 0) posix_spawn_file_actions_adddup2(&actions, highInput, 4);
    const int failed = posix_spawn(&child.pid, program.c_str(), &actions, nullptr, argv.data(), environ);
    posix_spawn_file_actions_destroy(&actions);
    close(ends[1]);
    close(high);
    if (highInput >= 0) close(highInput);
    if (failed) {
        child.pid = -1;
        return Problem{Words("The reader for foreign files (") + program + ") cannot be started: " + strerror(failed) +
                           ". Install it again.",
                       "file"};
    }
    std::string got;
    char buffer[65536];
    // What only waits uses no processor time: three times as long by the clock, on a busy machine too.
    const rlim_t longest = 3 * limitsOf(kind).seconds;
    const auto until = std::chrono::steady_clock::now() + std::chrono::seconds(longest);
    while (true) {
        if (stop && *stop) return cancelled();
        if (std::chrono::steady_clock::now() > until)
            return Problem{say::value(name) + " takes longer than " + say::count(longest) +
                               " s to be read. It is damaged, or must be made simpler.",
                           "file"};
        pollfd p{child.output, POLLIN, 0};
        const int ready = poll(&p, 1, 50);
        if (ready < 0 && errno != EINTR) break;
        if (ready <= 0) continue;
        const ssize_t n = read(child.output, buffer, sizeof buffer);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) break;
        got.append(buffer, size_t(n));
        constexpr size_t kHead = 13;
        while (got.size() >= kHead) { // a whole frame?
            wire::Reader head(std::string_view(got).substr(1, 12));
            const auto length = head.value<std::uint64_t>();
            const auto sum = head.value<std::uint32_t>();
            if (length > (std::uint64_t(1) << 33)) return endedBadly(0, name, kind);
            if (got.size() - kHead < length) {
                got.reserve(kHead + length);
                break;
            }
            const char letter = got[0];
            std::string body = got.substr(kHead, length);
            got.erase(0, kHead + length);
            if (crc32(0, reinterpret_cast<const Bytef*>(body.data()), uInt(body.size())) != sum)
                return endedBadly(0, name, kind);
            if (letter == kResult) return body;
            try {
                wire::Reader r(body);
                if (letter == kProgress && progress) *progress = r.value<double>();
                if (letter == kProblem) {
                    std::string field = r.text();
                    return Problem{Words(r.text()), field}; // put together over there
                }
            } catch (const wire::Broken&) {
                return endedBadly(0, name, kind);
            }
        }
    }
    return endedBadly(child.wait(), name, kind);
}

/// A file in memory that a child can open.
class MemoryFile {
public:
    explicit MemoryFile(std::string_view bytes) : fd(memfd_create("vicinal", MFD_CLOEXEC)) {
        while (fd >= 0 && !bytes.empty()) {
            const ssize_t n = write(fd, bytes.data(), bytes.size());
            if (n < 0 && errno == EINTR) continue;
            if (n <= 0) {
                close(fd);
                fd = -1;
            } else
                bytes.remove_prefix(size_t(n));
        }
    }
    ~MemoryFile() {
        if (fd >= 0) close(fd);
    }
    int fd;
};
constexpr const char* kInput = "/proc/self/fd/4";

template<class From> auto decoded(const Result<std::string>& bytes, const std::string& name, From&& from)
    -> Result<decltype(from(std::declval<wire::Reader&>()))> {
    if (!bytes) return bytes.problem();
    try {
        wire::Reader r(*bytes);
        return from(r);
    } catch (const wire::Broken&) {
        return Problem{say::value(name) + " is damaged: what was read of it makes no sense.", "file"};
    } catch (const std::bad_alloc&) {
        return Problem{say::value(name) + " needs more memory than there is.", "file"};
    }
}

} // namespace

Result<CurveFile> readDxf(const std::filesystem::path& path, const Stop* stop) {
    const std::string name = text::quoted(path.filename().string());
    return decoded(outcome("dxf", path.string(), name, "", 1, stop, nullptr), name, wire::curvesFrom);
}

Result<CurveFile> readSvg(const std::filesystem::path& path, const Stop* stop) {
    const std::string name = text::quoted(path.filename().string());
    return decoded(outcome("svg", path.string(), name, "", 1, stop, nullptr), name, wire::curvesFrom);
}

Result<CurveFile> readStepCurves(const std::filesystem::path& path, const Stop* stop) {
    const std::string name = text::quoted(path.filename().string());
    return decoded(outcome("step-curves", path.string(), name, "", 1, stop, nullptr), name, wire::curvesFrom);
}

Result<StepFile> readStepBodies(const std::filesystem::path& path, const Stop* stop, Progress* progress) {
    const std::string name = text::quoted(path.filename().string());
    return decoded(outcome("step-bodies", path.string(), name, "", 1, stop, progress), name, wire::bodiesFrom);
}

Result<StepFile> readStepBytes(const std::string& bytes, const std::string& name, const Stop* stop) {
    const MemoryFile file(bytes);
    if (file.fd < 0) return Problem{say::value(name) + " needs more memory than there is.", "file"};
    return decoded(outcome("step-bodies", kInput, name, "", 1, stop, nullptr, file.fd), name, wire::bodiesFrom);
}

Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension, double unit,
                                             MeshReport* report, const Stop* stop, Progress* progress) {
    const std::string name = "The mesh";
    const MemoryFile file(bytes);
    if (file.fd < 0) return Problem{say::value(name) + " needs more memory than there is.", "file"};
    return decoded(outcome("mesh", kInput, name, extension, unit, stop, progress, file.fd), name,
                   [&](wire::Reader& r) { return std::make_shared<const Mesh>(wire::meshFrom(r, report)); });
}

Result<SolidPtr> readStoredSolid(const std::string& bytes, const Stop* stop) {
    const std::string name = "The stored body";
    const MemoryFile file(bytes);
    if (file.fd < 0) return Problem{say::value(name) + " needs more memory than there is.", "file"};
    return decoded(outcome("body", kInput, name, "", 1, stop, nullptr, file.fd), name, [](wire::Reader& r) {
        auto solid = solidFromBinary(r.text());
        r.end();
        if (!solid) throw wire::Broken{};
        return *solid;
    });
}

} // namespace vicinal
