#include "exchange/bring_in.h"
#include <dlfcn.h>
#include <unistd.h>

namespace vicinal {
namespace {

/// Folder the program runs from; the plugin lies beside it, or in lib/vicinal next to bin when installed.
std::filesystem::path programFolder() {
    char here[4096];
    const auto n = readlink("/proc/self/exe", here, sizeof here - 1);
    return n > 0 ? std::filesystem::path(std::string(here, size_t(n))).parent_path() : std::filesystem::path();
}

} // namespace

Result<CurveFile> readStepCurves(const std::filesystem::path& path) {
    using Read = bool (*)(const char* file, CurveFile* out, std::string* why);
    static void* const plugin = [] { // its libraries cost every start 150 ms: only who needs it pays
        for (const auto& p : {programFolder() / "vicinal-step.so", programFolder() / "../lib/vicinal/vicinal-step.so"})
            if (void* h = dlopen(p.c_str(), RTLD_NOW | RTLD_LOCAL)) return h;
        return static_cast<void*>(nullptr);
    }();
    const auto read = plugin ? reinterpret_cast<Read>(dlsym(plugin, "vicinalReadStepCurves")) : nullptr;
    if (!read)
        return Problem{"The reader for STEP files (vicinal-step.so) is not beside the program. Install it again.",
                       "file"};
    CurveFile out;
    std::string why;
    if (!read(path.c_str(), &out, &why)) return Problem{path.filename().string() + ": " + why, "file"};
    return out;
}

} // namespace vicinal
