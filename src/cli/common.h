#pragma once
// What the commands share.
#include "base/say.h"
#include "base/text.h"
#include "exchange/delivery/make.h"
#include "exchange/in/bring_in.h"
#include "model/evaluate/evaluate.h"
#include "model/file/files.h"

namespace vicinal::cli {

/// One line on standard error; exit code 2.
int fail(const Problem&);
/// On standard output; 0, or fail() when it cannot be written.
int print(const std::string&);

struct Opened {
    Document document;
    std::shared_ptr<const Evaluation> evaluation;
};
Result<Opened> open(const std::string& file);
/// A document that is changed: held until it is saved, so that no change of two commands is lost.
struct OpenedToChange : Opened {
    std::string file;
    ChangeLock lock;
    std::optional<FileStamp> stamp{};
};
Result<OpenedToChange> openToChange(const std::string& file);
/// The same as it stands after so many seconds of motion. Problem: no number, or a run that cannot go there.
Result<Opened> open(const std::string& file, double time);

/// Saves a changed document, into its own file when `to` is empty or the same one; exit code. Refused when that was
/// changed meanwhile.
int save(const Document&, const OpenedToChange&, const std::string& to);
/// Saves a document as a new one; exit code.
int save(const Document&, const std::string& to, const SaveOptions& = {});

/// Hands key and text of each to `take`; the first problem.
template<class Take> std::optional<Problem> eachValue(const std::vector<std::string>& values, const Take& take) {
    for (const auto& value : values) {
        const size_t at = value.find('=');
        if (at == std::string::npos || at == 0)
            return Problem{"\"" + text::quoted(value) + "\" is not of the form key=value.", ""};
        if (auto problem = take(value.substr(0, at), value.substr(at + 1))) return problem;
    }
    return std::nullopt;
}

/// The item of a name, or a problem that lists the names there are. `what`: "path", "part", "run".
template<class Items> Result<typename Items::value_type> named(const Items& items, const std::string& name,
                                                               const std::string& file, const char* what) {
    std::string names;
    for (const auto& item : items) {
        if (item->name == name) return item;
        if (names.size() < 1000) names += (names.empty() ? "\"" : ", \"") + item->name + "\"";
    }
    return Problem{say::value(file) + ": there is no " + what + " \"" + name +
                       "\". There are: " + (names.empty() ? "none" : names) + ".",
                   what};
}

} // namespace vicinal::cli
