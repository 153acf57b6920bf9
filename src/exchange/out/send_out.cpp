#include "exchange/out/send_out.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/out/export_set.h"
#include "model/delivery/formats.h"
#include "model/delivery/orders.h"
#include "model/document/run_item.h"
#include "model/evaluate/motion/moving.h"
#include "model/file/document_file.h"
#include <algorithm>

namespace vicinal {

namespace {

template<class All> Result<All> chosen(const All& all, const std::vector<std::string>& names) {
    All out;
    if (names.empty()) out = all;
    for (const auto& name : names) {
        const auto it = std::find_if(all.begin(), all.end(), [&](const auto& r) { return r->name == name; });
        if (it == all.end()) {
            std::string text = "There is no run \"" + text::quoted(name) + "\". The document has:";
            for (const auto& r : all) { // many are not all told
                if (text.size() > 1000) return Problem{say::value(text) + "...", "run"};
                text += " \"" + text::quoted(r->name) + "\"";
            }
            return Problem{say::value(text) + ".", "run"};
        }
        out.push_back(*it);
    }
    if (out.empty()) return Problem{"The document has no run to send out. Make a run first.", "run"};
    for (const auto& r : out)
        if (r->problem)
            return Problem{
                "Run \"" + text::quoted(r->name) + "\" cannot be sent out: " + Words::whole(r->problem->text), "run"};
    std::erase_if(out, [](const auto& r) { return r->asHeap() && !r->instances; }); // empty ones
    return out;
}

Standings runsAndHeaps(const Evaluation& e) {
    Standings all(e.runs.begin(), e.runs.end());
    all.insert(all.end(), e.heaps.begin(), e.heaps.end());
    return all;
}

} // namespace

Result<Runs> chosenRuns(const Evaluation& e, const std::vector<std::string>& names) { return chosen(e.runs, names); }

Result<Standings> chosenRunsAndHeaps(const Evaluation& e, const std::vector<std::string>& names) {
    return chosen(runsAndHeaps(e), names);
}

Result<SoundRuns> soundRuns(const Evaluation& e) {
    if (e.runs.empty() && e.heaps.empty())
        return Problem{"The document has no run to send out. Make a run first.", "run"};
    SoundRuns out;
    for (const auto& s : runsAndHeaps(e))
        if (s->problem)
            out.problems.push_back(
                {"Run \"" + text::quoted(s->name) + "\" is left out: " + Words::whole(s->problem->text), "run"});
        else if (s->instances)
            out.runs.push_back(s);
    return out;
}

Result<Film> filmOf(const std::shared_ptr<const Evaluation>& e, const std::vector<std::string>& names, long frames,
                    double seconds) {
    constexpr long kMostFrames = 10'000;
    constexpr double kMostPoses = 4e6;
    const auto runs = chosenRuns(*e, names);
    if (!runs) return runs.problem();
    double longest = 0, places = 0;
    for (const auto& run : *runs) {
        longest = std::max(longest, onceAlong(*run));
        places += double(run->placed->count());
    }
    if (longest == 0) return Problem{"Nothing moves here. Let a run move along its path first.", "motion"};
    if (seconds == 0) seconds = longest;
    if (!(seconds > 0) || !(seconds < 1e6))
        return Problem{"The time is not one that can be used. Use seconds above 0.", "seconds"};
    if (frames < 2 || frames > kMostFrames || places * double(frames) > kMostPoses)
        return Problem{say::count(frames) + " frames cannot be: use 2 to " +
                           say::count(std::max(2L, std::min(kMostFrames, long(kMostPoses / std::max(1.0, places))))) +
                           ".",
                       "frames"};
    Film film;
    film.step = seconds / double(frames - 1);
    for (long k = 0; k < frames; ++k) {
        std::vector<Problem> problems;
        const auto then = atTime(e, film.step * double(k), &problems);
        if (!problems.empty())
            return Problem{"After " + say::number(film.step * double(k), 3) + " s: " + problems.front().text,
                           problems.front().field};
        Standings now;
        for (const auto& run : *runs) now.push_back(then->run(run->id));
        film.frames.push_back(withWheels(now));
    }
    return film;
}

std::optional<Problem> sendOut(const Film& film, const std::filesystem::path& path) {
    const std::string kind = text::lowered(path.extension().string());
    if (kind == ".csv") return writeAtomically(path, posesCsv(film));
    if (kind == ".glb") {
        double within = SolidsOrder().within;
        const auto first = meshedWithin(film.frames.front(), within);
        return first ? writeAtomically(path, glb(*first, &film)) : std::optional(first.problem());
    }
    return Problem{"\"" + text::quoted(path.filename().string()) + "\" cannot hold motion. Use " +
                       endingsFor(FormatUse::Film) + ".",
                   "file"};
}

std::optional<Problem> sendOut(const Standings& runs, const std::filesystem::path& path, const Stop* stop) {
    const std::string kind = text::lowered(path.extension().string());
    const auto write = [&](const std::string& bytes) -> std::optional<Problem> {
        if (stopped(stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
        return writeAtomically(path, bytes);
    };
    if (kind == ".csv") return write(scheduleCsv(runs));
    if (kind == ".json") return write(scheduleJson(runs));
    if (kind == ".dxf") {
        const auto bytes = dxf(runs);
        return bytes ? write(*bytes) : std::optional(bytes.problem());
    }
    if (kind == ".obj" || kind == ".stl" || kind == ".ply" || kind == ".glb") {
        double within = SolidsOrder().within;
        const auto fine = meshedWithin(runs, within, stop);
        if (!fine) return fine.problem();
        const auto bytes = kind == ".glb" ? Result<std::string>(glb(*fine)) : meshesOf(*fine, kind);
        return bytes ? write(*bytes) : std::optional(bytes.problem());
    }
    return Problem{"\"" + text::quoted(path.filename().string()) + "\" does not say what to write. Use " +
                       endingsFor(FormatUse::Export) + ".",
                   "file"};
}

} // namespace vicinal
