#include "cli/common.h"
#include "base/say.h"
#include "model/evaluate/motion/moving.h"
#include "model/file/document_file.h"
#include <cmath>
#include <cstdio>

namespace vicinal::cli {

int fail(const Problem& p) {
    std::fprintf(stderr, "vicinal-cli: %s\n", p.text.c_str());
    return 2;
}

Result<Opened> open(const std::string& file) {
    auto document = openDocument(file, readBody);
    if (!document) return Problem{say::value(file) + ": " + Words::whole(document.problem().text), ""};
    auto evaluation = evaluate(*document);
    return Opened{std::move(document).value(), std::move(evaluation)};
}

int print(const std::string& text) {
    if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size() || std::fflush(stdout) != 0)
        return fail({"Cannot write to standard output.", ""});
    return 0;
}

int save(const Document& d, const std::string& to, const SaveOptions& options) {
    if (!to.ends_with(".vicinal"))
        return fail({Words("The target must end in .vicinal, and ") + to + " does not.", ""});
    const auto problem = saveDocument(d, to, options);
    return problem ? fail(*problem) : 0;
}

int save(const Document& d, const OpenedToChange& opened, const std::string& to) {
    const bool own = to.empty() || notTheDocument(to, opened.file);
    return save(d, to.empty() ? opened.file : to, own ? SaveOptions{.known = opened.stamp} : SaveOptions{});
}

Result<OpenedToChange> openToChange(const std::string& file) {
    auto lock = ChangeLock::of(file);
    if (!lock) return lock.problem();
    const auto stamp = stampOf(file);
    auto opened = open(file);
    if (!opened) return opened.problem();
    return OpenedToChange{std::move(opened).value(), file, std::move(lock).value(), stamp};
}

Result<Opened> open(const std::string& file, double time) {
    auto opened = open(file);
    if (!opened || time == 0) return opened;
    if (!std::isfinite(time)) return Problem{"The time is not a number. Use seconds, as 2.5.", "time"};
    std::vector<Problem> problems;
    opened.value().evaluation = atTime(opened->evaluation, time, &problems);
    if (!problems.empty()) return problems.front();
    return opened;
}

} // namespace vicinal::cli
