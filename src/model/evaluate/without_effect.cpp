#include "model/evaluate/without_effect.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include "model/evaluate/motion/moving.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

void ofSpacing(const Spacing& s, bool closed, std::vector<Words>& out) {
    for (const auto& [value, key, name] :
         {std::tuple{s.insetStart, "insetStart", "In at start"}, std::tuple{s.insetEnd, "insetEnd", "In at end"}})
        if (value != 0 && !counts(s, key, closed))
            out.push_back(name + Words(": ") + say::mm(value) +
                          " has no effect: the path is closed and has no end to keep clear of. Give the run a stretch "
                          "from one station to another.");
    if (s.slide != 0 && !counts(s, "slide", closed))
        out.push_back("Slide: " + say::mm(s.slide) +
                      (closed ? " has no effect: the run has a stretch of its own. Move that."
                              : " has no effect: the path is open. Keep the start clear by that much instead."));
}

void ofStops(const RunResult& run, std::vector<Words>& out) {
    const Motion& m = run.item->motion;
    const double L = run.path->path->length(), first = run.placed->stations().front();
    const WayRange r = wayRange(run);
    double low = 0, high = L;
    if (r.lap <= 0) low = first + r.back, high = first + r.forward;
    std::vector<double> beyond;
    for (double s : m.stops) {
        const bool there = s >= low - tolerance::length && s <= high + tolerance::length;
        const bool overSeam = run.path->path->closed() && r.lap <= 0 && s + L <= high + tolerance::length;
        if (!there && !overSeam) beyond.push_back(s);
    }
    if (beyond.empty()) return;
    Words say = beyond.size() == 1 ? "The stop at " : "The stops at ";
    for (size_t i = 0; i < std::min(beyond.size(), size_t(3)); ++i) say += (i == 0 ? "" : ", ") + say::mm(beyond[i]);
    if (beyond.size() > 3) say += Words(" and ") + std::to_string(beyond.size() - 3) + " more";
    say += beyond.size() == 1 ? " is" : " are";
    out.push_back(say + " out of the way: its first place goes from " + say::mm(low) + " to " + say::mm(high) + ".");
}

void ofMotion(const RunResult& run, std::vector<Words>& out) {
    const Motion& m = run.item->motion;
    if (!m.moves) return;
    const double v = speedOf(run);
    if (std::isfinite(v) && v == 0) {
        out.push_back(m.by == MotionBy::Places && m.places != 0
                          ? "It moves by places a second, and its places have no pitch: it stands still."
                          : "It moves at a speed of 0: it stands still.");
        return;
    }
    if (const auto wrong = defectOf(m.pace, "pace"))
        out.push_back("Pace along has no effect: " + wrong->text);
    else if (std::any_of(m.pace.keys.begin(), m.pace.keys.end(), [](const Key& k) { return k.value < 0.01; }))
        out.push_back("Pace along goes below 0.01: no run goes slower than a hundredth of its speed but at stops. To "
                      "let it go back, type a speed below zero.");
    if (m.stops.empty()) return;
    if (!(m.dwell > 0))
        out.push_back("For seconds: " + say::number(m.dwell, 2) +
                      " has no effect: it slows down at its stops, but does "
                      "not stand there.");
    if (m.ramp < 0) out.push_back("Slows over: " + say::mm(m.ramp) + " has no effect: it stops at once.");
    ofStops(run, out);
}

} // namespace

std::vector<Words> withoutEffect(const RunResult& run) {
    std::vector<Words> out;
    ofSpacing(*run.item->spacing, run.path->path->closed(), out);
    if (run.placed->laid->rowSize > 0 && run.placed->count() > 0) ofMotion(run, out);
    return out;
}

} // namespace vicinal
