// Marks, worst places and sentences of checks; their words.
#include "base/say.h"
#include "base/text.h"
#include "model/document/run_item.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

double slackOf(CheckIn in) {
    if (in == CheckIn::Length) return tolerance::length;
    return in == CheckIn::Angle ? tolerance::angle : tolerance::rounding;
}

bool excuses(const Excuse& e, const RunResult& run, const Evaluation& of, const CheckedPlace& p) {
    const bool itself = p.item == 0;
    const auto matches = [&](int place, int other) {
        if (e.place != 0 && e.place != place + 1) return false;
        if (e.other != 0 && e.other != other + 1) return false;
        const auto against = itself ? nullptr : of.standing(p.item);
        const Id one = run.partIdAt(place), apart = against ? against->partIdAt(other) : 0;
        const Id two = itself ? run.partIdAt(other) : apart;
        if (e.part != 0 && e.part != one) return false;
        return e.otherPart == 0 || e.otherPart == two;
    };
    return matches(p.place, p.other) || (itself && p.other >= 0 && matches(p.other, p.place));
}

Words whereOf(const Check& c, const Evaluation& of, const CheckedPlace& p) {
    const auto number = [](int i) { return std::to_string(i + 1); };
    const CheckWhere where = wordsOf(c.of).where;
    if (where == CheckWhere::Wheel) return Words(" on wheel ") + number(p.place);
    if (where == CheckWhere::Run) return "";
    if (p.item != 0) {
        const auto other = of.standing(p.item);
        Words name = other ? Words("\"") + other->name + "\"" : Words("what is no longer there");
        if (other && other->kind == Standing::Kind::Run && p.other >= 0)
            name = Words("place ") + number(p.other) + " of " + name;
        return Words(" between place ") + number(p.place) + " and " + name;
    }
    if (c.of == CheckKind::Opening && p.other < 0)
        return Words(p.place == 0 ? " before place " : " beside place ") + number(p.place);
    if (p.other < 0) return Words(" at place ") + number(p.place);
    if (where == CheckWhere::Onto) return Words(" from place ") + number(p.place) + " onto " + number(p.other);
    return Words(" between places ") + number(p.place) + " and " + number(p.other);
}

/// How far off what was measured of a place may be.
double errorOf(const CheckResult& out, const CheckedPlace& p) {
    const CheckWords& words = wordsOf(out.check.of);
    const double whole = words.in == CheckIn::Length ? out.error : 0;
    return words.clearances ? p.error : whole;
}

constexpr double kUnknown = 1e300; // worse than whatever is known

/// How far beyond its limit a place is; whatever the limit where bodies cross: an unknown is never good.
double overLimit(const Check& c, const CheckedPlace& p) { return p.crosses ? kUnknown : beyond(c, p.value); }

/// How bad. Without a limit: the least of distances, the most of everything else.
double rankOf(const Check& c, const CheckedPlace& p) {
    if (p.crosses || c.least || c.most) return overLimit(c, p);
    const CheckWords& words = wordsOf(c.of);
    return words.clearances || words.fewIsBad ? -p.value : p.value;
}

/// The mark of a place by itself. `unsure`: a curved face's triangles may hide which side of the limit it is.
Mark markOf(const CheckResult& out, const CheckedPlace& p, bool& unsure) {
    const Check& c = out.check;
    const double by = overLimit(c, p), slack = slackOf(wordsOf(c.of).in);
    Mark mark = by > -c.margin && c.margin > 0 ? Mark::Doubtful : Mark::Good;
    if (by > slack) mark = Mark::Wrong;
    const bool touches = mark == Mark::Good && std::abs(by) <= slack; // right at its limit
    unsure = (c.least || c.most) && mark != Mark::Doubtful && std::abs(by) < errorOf(out, p) && !touches && !p.crosses;
    return unsure ? Mark::Doubtful : mark; // either way: neither good nor wrong is known
}

/// Marks every place, and the whole by the worst; counts what breaks it. The largest error of those that are not sure.
double markPlaces(const Evaluation& of, const RunResult& run, CheckResult& out) {
    double error = -1;
    for (CheckedPlace& p : out.places) {
        bool unsure = false;
        p.mark = markOf(out, p, unsure);
        if (unsure) error = std::max(error, errorOf(out, p));
        if (p.mark == Mark::Wrong) {
            ++out.broken;
            for (size_t k = 0; k < out.check.excused.size() && p.excuse < 0; ++k)
                if (excuses(out.check.excused[k], run, of, p)) p.excuse = int(k);
            if (p.excuse >= 0) {
                p.mark = Mark::Good;
                ++out.excused;
            }
        }
        if (p.excuse < 0) out.mark = std::max(out.mark, p.mark);
    }
    return error;
}

/// Of those that are as bad but for the last digits, which depend on who measured first, the first one; depths are
/// known less well than distances. Never one on the other side of the limit. Null: nothing is left that is not excused.
const CheckedPlace* worstOf(const CheckResult& out) {
    const CheckedPlace* worst = nullptr;
    double worstBy = -kUnknown;
    for (const CheckedPlace& p : out.places)
        if (const double by = rankOf(out.check, p); p.excuse < 0 && (!worst || by > worstBy)) worst = &p, worstBy = by;
    if (!worst || std::isnan(worstBy)) return worst;
    const bool depth = wordsOf(out.check.of).clearances && worst->value < 0;
    const double alike = depth ? 1e-4 : tolerance::rounding * std::max(1.0, std::abs(worstBy));
    return &*std::find_if(out.places.begin(), out.places.end(), [&, mark = worst->mark](const CheckedPlace& p) {
        return p.excuse < 0 && p.mark == mark && rankOf(out.check, p) >= worstBy - alike;
    });
}

/// Excuses for places that are no longer there are told.
void tellGone(const RunResult& run, CheckResult& out) {
    const Check& c = out.check;
    for (const Excuse& e : c.excused) {
        const auto gone = [&](int number) { return number != 0 && run.placed && size_t(number) > run.placed->count(); };
        if (gone(e.place) || (c.other == 0 && c.of == CheckKind::Itself && gone(e.other)))
            out.remarks.push_back("An excuse is for place " + say::count(e.place) + ", which is no longer there.");
    }
}

/// How many are excused; nothing when none is.
std::string excusedIn(const CheckResult& out) {
    if (out.excused == 0) return "";
    return " " + std::to_string(out.excused) + (out.excused == 1 ? " is" : " are") + " excused.";
}

/// Of a check that no place breaks or comes near.
Words nothingBreaks(const CheckResult& out) {
    const Check& c = out.check;
    if (!wordsOf(c.of).clearances || !out.places.empty()) return "Nothing else breaks it.";
    const Words far = inWords(c, c.least.value_or(0) + c.margin); // farther than was looked
    return c.of == CheckKind::Itself ? "Nothing comes nearer than " + far + "."
                                     : "Farther than " + far + " everywhere.";
}

/// What the worst place measures.
Words valueInWords(const Check& c, const CheckedPlace& worst) {
    const CheckWords& words = wordsOf(c.of);
    const Words into = "They run into one another";
    if (worst.crosses) return into;
    if (words.clearances && worst.value <= -0.005) // what is told as 0 mm touches
        return "They run " + inWords(c, -worst.value) + " into one another";
    if (words.clearances && worst.value == 0 && (worst.a - worst.b).norm() == 0 && worst.mark == Mark::Wrong)
        return into;
    return words.zero[0] != 0 && worst.value == 0 ? Words(words.zero) : inWords(c, worst.value);
}

/// What is said behind the worst place: its limit, how many others break it.
Words limitsBehind(const CheckResult& out, const CheckedPlace& worst) {
    const Check& c = out.check;
    const CheckWords& words = wordsOf(c.of);
    Words text;
    if (worst.crosses)
        text += "; how deep cannot be said, since a body is open or runs through itself";
    else if (out.limit && worst.mark == Mark::Wrong)
        text += (worst.value < *out.limit ? ", under the limit of " : ", over the limit of ") + inWords(c, *out.limit);
    else if (out.limit)
        text += ", " + limitsInWords(c);
    text += ".";
    if (out.broken - out.excused > 1) {
        text += " " + say::count(out.broken - out.excused);
        const char* plain = worst.other >= 0 ? "pairs" : "places";
        text += Words(" ") + (words.many[0] != 0 ? words.many : plain);
        text += " break it.";
    }
    return text;
}

} // namespace

double beyond(const Check& c, double v) {
    double worst = -kFar;
    if (c.least) worst = std::max(worst, *c.least - v);
    if (c.most) worst = std::max(worst, v - *c.most);
    return worst;
}

Words inWords(const Check& c, double v) {
    switch (wordsOf(c.of).in) {
    case CheckIn::Length: return Words::length(std::round(v * 100) / 100, Words::Style::Decimals);
    case CheckIn::Angle: return say::number(v / kDegree, 2) + "\u00b0";
    case CheckIn::Share: return say::number(v * 100, 1) + " %";
    case CheckIn::Count: return say::number(v, 0);
    case CheckIn::Mass: return say::number(v, v < 10 ? 3 : 1) + " kg";
    case CheckIn::MassPerMetre: return say::number(v, 2) + " kg/m";
    }
    return "";
}

Words limitsInWords(const Check& c) {
    // As typed, not as measured.
    const auto limit = [&](double v) {
        return wordsOf(c.of).in == CheckIn::Length ? Words::length(v, Words::Style::Decimals) : inWords(c, v);
    };
    if (c.least && c.most) return limit(*c.least) + " to " + limit(*c.most);
    if (c.least) return "at least " + limit(*c.least);
    if (c.most) return "at most " + limit(*c.most);
    return "no limit";
}

std::string titleOf(const Check& c, const Evaluation& of) {
    if (c.of == CheckKind::OtherRun && c.other == 0) return "Clear of other runs";
    if (wordsOf(c.of).against == CheckAgainst::Nothing) return wordsOf(c.of).label;
    const auto other = of.standing(c.other);
    return "Clear of " + (other ? other->name : std::string("what was deleted"));
}

Words ruleInWords(const Check& c) {
    Words out(wordsOf(c.of).tip);
    out += ".";
    if (c.of == CheckKind::Opening) {
        if (c.from == 0 && c.to == 0)
            out += " Over the bodies' whole height";
        else
            out += " From " + Words::length(c.from) + " to " + Words::length(c.to) + " over the seat points";
        out += ", also beside the first and last one; rails count.";
    }
    return out;
}

std::string excuseInWords(const Excuse& e) {
    std::string out = "Excused: ";
    if (e.place == 0 && e.other == 0)
        out += "all of its kind";
    else
        out += e.place ? "place " + std::to_string(e.place) : std::string("any place");
    if (e.other) out += " with " + std::to_string(e.other);
    if (!e.why.empty()) out += ", " + e.why;
    if (!e.by.empty()) out += "; written down by " + e.by;
    if (!e.on.empty()) out += " on " + e.on;
    return out + ".";
}

std::set<int> brokenPlaces(const RunChecks& all) {
    std::set<int> out;
    for (const CheckResult& r : all.list) {
        if (!r.check.on || r.cannot || wordsOf(r.check.of).lane[0] == 0) continue;
        for (const CheckedPlace& p : r.places) {
            if (p.mark != Mark::Wrong) continue;
            out.insert(p.place);
            if (p.item == 0 && p.other >= 0) out.insert(p.other);
        }
    }
    return out;
}

std::optional<Problem> defectOf(const Check& c) {
    const CheckWords& words = wordsOf(c.of);
    if (c.least && c.most && *c.least > *c.most)
        return Problem{"At least " + inWords(c, *c.least) + " and at most " + inWords(c, *c.most) +
                           " contradict: no value keeps both.",
                       "least"};
    for (const auto& [limit, field] : {std::pair{c.least, "least"}, {c.most, "most"}})
        if (limit && *limit < 0 && !words.belowZero)
            return Problem{say::value(std::string(words.label)) + ": a limit of " + inWords(c, *limit) +
                               " is below zero. Type zero or more.",
                           field};
    if (c.margin < 0) return Problem{"The margin is below zero. Type zero or more.", "margin"};
    if (words.against == CheckAgainst::Body && c.other == 0)
        return Problem{"Choose the body that is to be kept clear.", "other"};
    if (c.of == CheckKind::Opening && (c.from != 0 || c.to != 0) && !(c.to > c.from))
        return Problem{"The heights to look between are the wrong way round: from " + Words::length(c.from) + " to " +
                           Words::length(c.to) + ".",
                       "from"};
    return std::nullopt;
}

void judge(const Evaluation& of, const RunResult& run, CheckResult& out) {
    const Check& c = out.check;
    if (out.cannot) {
        out.mark = Mark::Doubtful;
        out.text = *out.cannot;
        return;
    }
    const double error = markPlaces(of, run, out);
    tellGone(run, out);
    const CheckedPlace* worst = worstOf(out);
    if (!worst) {
        out.text = nothingBreaks(out) + excusedIn(out);
        return;
    }
    out.worst = *worst;
    if (!worst->crosses) out.value = worst->value;
    if (c.least || c.most) {
        const bool under = c.least && (!c.most || *c.least - worst->value > worst->value - *c.most);
        out.limit = under ? c.least : c.most;
    }
    out.text = valueInWords(c, *worst) + whereOf(c, of, *worst) + limitsBehind(out, *worst) + excusedIn(out);
    if (error >= 0)
        out.text += " Curved faces are triangles here, up to " +
                    Words::length(std::ceil(error * 1000) / 1000, Words::Style::Decimals) + " off: measure finer.";
}

} // namespace vicinal
