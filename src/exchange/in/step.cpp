#include "base/say.h"
#include "exchange/in/child/readers.h"
#include "exchange/step/load.h"
#include "model/file/document_file.h"

namespace vicinal {
namespace {

const Problem kNotThere{"The reader for STEP files (vicinal-step.so) is not beside the program. Install it again.",
                        "file"};

/// What is wrong with a file before OpenCASCADE sees it: it says little, and reads cut-off files as far as they go.
std::optional<Problem> defectOf(const std::filesystem::path& path, const std::string& name) {
    const auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    if (bytes->empty()) return Problem{say::value(name) + ": the file is empty.", "file"};
    if (bytes->find("ISO-10303-21;") == std::string::npos) {
        const std::string kind = kindByContent(*bytes);
        return Problem{say::value(name) + ": this is not a STEP file" +
                           (kind.empty() ? "." : "; by its content it is " + kind + ". Rename it to ." + kind + "."),
                       "file"};
    }
    if (bytes->rfind("END-ISO-10303-21") == std::string::npos)
        return Problem{say::value(name) + ": the file is cut off: its end (END-ISO-10303-21) is missing. Get it again.",
                       "file"};
    return std::nullopt;
}

} // namespace

Result<CurveFile> here::readStepCurves(const std::filesystem::path& path, const std::string& name) {
    if (auto p = defectOf(path, name)) return *p;
    auto* const read = inStepPlugin<VicinalReadStepCurves>("vicinalReadStepCurves");
    if (!read) return kNotThere;
    const std::lock_guard lock(stepMutex());
    CurveFile out;
    std::string why;
    if (!read(path.c_str(), &out, &why)) return Problem{say::value(name) + ": " + why, "file"};
    return out;
}

Result<StepFile> here::readStepBodies(const std::filesystem::path& path, const std::string& name, const Stop* stop,
                                      Progress* progress) {
    if (auto p = defectOf(path, name)) return *p;
    auto* const read = inStepPlugin<VicinalReadStepBodies>("vicinalReadStepBodies");
    if (!read) return kNotThere;
    const std::lock_guard lock(stepMutex());
    StepFile out;
    std::string why;
    if (!read(path.c_str(), &out, stop, progress, &why)) {
        if (stop && *stop) return cancelled();
        return Problem{say::value(name) + ": " + why, why.starts_with(kNoBody) ? "body" : "file"};
    }
    return out;
}

} // namespace vicinal
