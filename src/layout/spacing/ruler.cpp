#include "layout/spacing/ruler.h"
#include "base/text.h"
#include <algorithm>
#include <cmath>

namespace vicinal::spacing {
namespace {

/// Every value is looked at, also those of rules that are not in use: they are kept and come back.
struct NumberCheck : IgnoreValues {
    std::optional<Problem>& wrong;
    explicit NumberCheck(std::optional<Problem>& p) : wrong(p) {}
    void length(const char* key, const char*, const char*, double v) const {
        if (!inReach(v) && !wrong)
            wrong = Problem{"This value is " + mm(v) + ". Use a length up to " + say::bound(kLargest) + ".", key};
    }
    void limit(const char* key, const char*, const char*, const std::optional<double>& v) const {
        if (v && !std::isfinite(*v) && !wrong)
            wrong = Problem{"This gap limit is not a number. Type a length or leave it empty.", key};
    }
};

std::optional<Problem> notANumber(const Spacing& s) {
    std::optional<Problem> wrong;
    describe(NumberCheck(wrong), s);
    for (const auto& rule : s.kept) std::visit([&](const auto& r) { describe(NumberCheck(wrong), r); }, rule);
    return wrong;
}

} // namespace

double Ruler::wrap(double s) const {
    const double L = path.length();
    if (!closed) return std::clamp(s, 0.0, L);
    s = std::fmod(s, L);
    if (s < 0) s += L;
    return L - s <= 10 * tolerance::station + 1e-14 * L ? 0 : s;
}

Problem tooMany(double wanted, const char* field) {
    return {"That makes " + text::number(wanted, 0) + " places; the most is " + text::number(double(kMostPlaces), 0) +
                ". Raise the spacing or split the run.",
            field};
}

Result<Ruler> rulerOf(const Path& path, const Spacing& rule, const Occupancy& part) {
    Ruler ruler{path, rule, part, 0, path.length(), path.closed()};
    if (auto p = notANumber(rule)) return *p;
    if (ruler.closed) {
        ruler.start = ruler.wrap(rule.slide);
        return ruler;
    }
    if (rule.insetStart < 0 || rule.insetEnd < 0)
        return Problem{
            "An inset cannot be negative: parts would stand beyond the path's end. Lengthen the path instead.",
            rule.insetStart < 0 ? "insetStart" : "insetEnd"};
    ruler.start = rule.insetStart;
    ruler.usable = path.length() - rule.insetStart - rule.insetEnd;
    if (ruler.usable < tolerance::length)
        return Problem{
            "The insets (" + mm(rule.insetStart) + " and " + mm(rule.insetEnd) + ") leave nothing of the path's " +
                mm(path.length()) + ". Together they must be shorter than that.",
            rule.insetStart >= path.length() || rule.insetStart >= rule.insetEnd ? "insetStart" : "insetEnd"};
    return ruler;
}

std::vector<double> stepped(const Ruler& ruler, double first, double gap, double end, size_t most,
                            std::vector<double> out) {
    GapWalk walk(ruler.part);
    out.assign(1, first);
    walk.start(first);
    while (out.size() < most) {
        const double to = walk.step(gap);
        if (!(to > out.back() + tolerance::length)) {
            out.resize(1);
            out.push_back(std::nan(""));
            return out;
        }
        if (to > end) break;
        out.push_back(to);
    }
    return out;
}

GapRange gapsOf(const Ruler& ruler, const Stations& st) {
    const size_t n = st.at.size();
    if (n < 2 && !ruler.closed) return {};
    if (ruler.part.constant()) {
        const double g = st.pitch - ruler.partLength();
        return {g, ruler.closed ? g + st.leftOver : g};
    }
    GapRange r{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
    const size_t m = ruler.closed ? n : n - 1;
    std::vector<double> wrapped = st.at;
    for (double& s : wrapped) s = ruler.wrap(s);
    const auto occupied = ruler.part.at(wrapped);
    for (size_t i = 0; i < m; ++i) {
        const size_t next = (i + 1) % n;
        const double step = st.at[next] + (next == 0 ? ruler.path.length() : 0) - st.at[i];
        const double g = step - occupied[i].ahead - occupied[next].behind;
        r.least = std::min(r.least, g);
        r.most = std::max(r.most, g);
    }
    return r;
}

bool over(const Spacing& r, const GapRange& g) { return r.gapAtMost && g.most > *r.gapAtMost + tolerance::length; }
bool under(const Spacing& r, const GapRange& g) { return r.gapAtLeast && g.least < *r.gapAtLeast - tolerance::length; }

} // namespace vicinal::spacing
