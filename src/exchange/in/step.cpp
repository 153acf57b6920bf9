#include "exchange/in/readers.h"
#include "exchange/step/plugin.h"
#include "model/file/document_file.h"
#include <dlfcn.h>
#include <mutex>
#include <unistd.h>

namespace vicinal {
namespace {

/// Folder the program runs from; the plugin lies beside it, or in lib/vicinal next to bin when installed.
std::filesystem::path programFolder() {
    char here[4096];
    const auto n = readlink("/proc/self/exe", here, sizeof here - 1);
    return n > 0 ? std::filesystem::path(std::string(here, size_t(n))).parent_path() : std::filesystem::path();
}

template<class Function> Function* inPlugin(const char* name) {
    static void* const plugin = [] { // its libraries cost every start 150 ms: only who needs it pays
        for (const auto& p : {programFolder() / "vicinal-step.so", programFolder() / "../lib/vicinal/vicinal-step.so"})
            if (void* h = dlopen(p.c_str(), RTLD_NOW | RTLD_LOCAL)) return h;
        return static_cast<void*>(nullptr);
    }();
    return plugin ? reinterpret_cast<Function*>(dlsym(plugin, name)) : nullptr;
}

/// OpenCASCADE's readers keep state of their own: one at a time. A stopped one makes way when it notices.
std::mutex readerMutex;

const Problem kNotThere{"The reader for STEP files (vicinal-step.so) is not beside the program. Install it again.",
                        "file"};

/// What is wrong with a file before OpenCASCADE sees it: it says little, and reads cut-off files as far as they go.
std::optional<Problem> defectOf(const std::filesystem::path& path, const std::string& name) {
    const auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    if (bytes->empty()) return Problem{name + ": the file is empty.", "file"};
    if (bytes->find("ISO-10303-21;") == std::string::npos) {
        const std::string kind = kindByContent(*bytes);
        return Problem{name + ": this is not a STEP file" +
                           (kind.empty() ? "." : "; by its content it is " + kind + ". Rename it to ." + kind + "."),
                       "file"};
    }
    if (bytes->rfind("END-ISO-10303-21") == std::string::npos)
        return Problem{name + ": the file is cut off: its end (END-ISO-10303-21) is missing. Get it again.", "file"};
    return std::nullopt;
}

} // namespace

Result<CurveFile> here::readStepCurves(const std::filesystem::path& path, const std::string& name) {
    if (auto p = defectOf(path, name)) return *p;
    auto* const read = inPlugin<VicinalReadStepCurves>("vicinalReadStepCurves");
    if (!read) return kNotThere;
    const std::lock_guard lock(readerMutex);
    CurveFile out;
    std::string why;
    if (!read(path.c_str(), &out, &why)) return Problem{name + ": " + why, "file"};
    return out;
}

Result<StepFile> here::readStepBodies(const std::filesystem::path& path, const std::string& name, const Stop* stop,
                                      Progress* progress) {
    if (auto p = defectOf(path, name)) return *p;
    auto* const read = inPlugin<VicinalReadStepBodies>("vicinalReadStepBodies");
    if (!read) return kNotThere;
    const std::lock_guard lock(readerMutex);
    StepFile out;
    std::string why;
    if (!read(path.c_str(), &out, stop, progress, &why)) {
        if (stop && *stop) return cancelled();
        return Problem{name + ": " + why, why.starts_with(kNoBody) ? "body" : "file"};
    }
    return out;
}

} // namespace vicinal
