#include "cli/common.h"
#include "model/evaluate/moving.h"
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
    if (!document) return Problem{file + ": " + document.problem().text, ""};
    auto evaluation = evaluate(*document);
    return Opened{std::move(document).value(), std::move(evaluation)};
}

int print(const std::string& text) {
    if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size() || std::fflush(stdout) != 0)
        return fail({"Cannot write to standard output.", ""});
    return 0;
}

int save(const Document& d, const std::string& to) {
    if (!to.ends_with(".vicinal")) return fail({"The target must end in .vicinal, and " + to + " does not.", ""});
    const auto problem = saveDocument(d, to);
    return problem ? fail(*problem) : 0;
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
