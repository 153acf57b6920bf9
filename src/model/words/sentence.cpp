#include "model/words/sentence.h"
#include "layout/along/typed.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/evaluate.h"
#include "model/evaluate/giving.h"
#include <algorithm>
#include <cstdio>
#include <map>

namespace vicinal {
namespace {

using Said = std::vector<SentencePiece>;

void join(Said& to, const Said& more) { to.insert(to.end(), more.begin(), more.end()); }

std::string number(double v, int digits) {
    char text[32];
    std::snprintf(text, sizeof text, "%.*g", digits, v);
    return text;
}

std::string lowered(std::string text) {
    for (char& c : text)
        if (c >= 'A' && c <= 'Z') c = char(c - 'A' + 'a');
    return text;
}

struct Sentence {
    Unit unit;
    const Worded& worded;
    Said out{};

    SentencePiece length(const std::string& value, double mm) const {
        return {formatLength(mm, unit) + " " + nameOf(unit), value};
    }
    SentencePiece phrase(const std::string& value, const char* text) const { return {worded(text), value}; }

    /// A phrase with the pieces in place of %1, %2...
    Said with(const char* text, std::initializer_list<SentencePiece> values) const {
        Said all;
        const std::string whole = worded(text);
        size_t from = 0;
        for (size_t at = whole.find('%'); at != whole.npos; at = whole.find('%', at + 1)) {
            const size_t which = at + 1 < whole.size() ? size_t(whole[at + 1] - '1') : values.size();
            if (which >= values.size()) continue; // a per cent sign
            if (at > from) all.push_back({whole.substr(from, at - from), ""});
            all.push_back(values.begin()[which]);
            from = at + 2;
        }
        if (from < whole.size()) all.push_back({whole.substr(from), ""});
        return all;
    }
    /// The same as one piece: what is in it tells one value together.
    std::string text(const char* phrase, std::initializer_list<std::string> values) const {
        std::string all = worded(phrase);
        int i = 0;
        for (const std::string& v : values) {
            const std::string mark = "%" + std::to_string(++i);
            if (const size_t at = all.find(mark); at != all.npos) all.replace(at, mark.size(), v);
        }
        return all;
    }
    void say(const char* phrase, std::initializer_list<SentencePiece> values = {}) { join(out, with(phrase, values)); }
};

/// The values of spacing as pieces, by key; none where the sentence leaves them out.
struct SpacingPieces : IgnoreValues {
    const Sentence& s;
    std::map<std::string, Said>& out;
    SpacingPieces(const Sentence& sentence, std::map<std::string, Said>& to) : s(sentence), out(to) {}

    void put(const char* key, const std::string& text) const { out[key] = {{text, key}}; }
    void length(const char* k, const char*, const char*, double v) const { out[k] = {s.length(k, v)}; }
    void count(const char* k, const char* label, const char*, long v) const {
        put(k, std::to_string(v) + " " + lowered(s.worded(label)));
    }
    template<class E> void choice(const char* k, const char*, const char*, E v, ChoiceWords words) const {
        const char* phrase = words.begin()[size_t(v)].phrase;
        if (*phrase) put(k, s.worded(phrase));
    }
    void stations(const char* k, const char*, const char*, const std::vector<double>& v) const {
        put(k, v.size() > 4 ? s.text("%1 stations", {std::to_string(v.size())})
                            : stationsText(v, s.unit) + " " + nameOf(s.unit));
    }
    void profile(const char* k, const char*, const char*, const Profile& p, ProfileKind) const {
        if (p.empty()) return;
        put(k, s.text("%1 to %2 %3", {formatLength(p.keys.front().value, s.unit),
                                      formatLength(p.keys.back().value, s.unit), nameOf(s.unit)}));
    }
};

/// A rule's phrase with its values; a part in [open:...] stands only on open paths, and only when it says something.
Said filled(const std::string& phrase, const std::map<std::string, Said>& values, bool closed) {
    static const Said none;
    const auto of = [&](const std::string& key) -> const Said& {
        const auto found = values.find(key);
        return found == values.end() ? none : found->second;
    };
    Said out;
    const auto plain = [&](const std::string& text) {
        if (!text.empty()) out.push_back({text, ""});
    };
    for (size_t at = 0; at < phrase.size();) {
        const size_t next = phrase.find_first_of("{[", at);
        plain(phrase.substr(at, next - at));
        if (next == phrase.npos) break;
        const size_t end = phrase.find(phrase[next] == '{' ? '}' : ']', next);
        if (end == phrase.npos) break;
        const std::string in = phrase.substr(next + 1, end - next - 1);
        if (phrase[next] == '{') {
            join(out, of(in));
        } else if (const size_t colon = in.find(':'); !closed && colon != in.npos) {
            const std::string part = in.substr(colon + 1);
            bool says = true;
            for (size_t open = part.find('{'); open != part.npos; open = part.find('{', open + 1))
                says = says && !of(part.substr(open + 1, part.find('}', open) - open - 1)).empty();
            if (says) join(out, filled(part, values, closed));
        }
        at = end + 1;
    }
    return out;
}

void sayWhere(Sentence& to, const RunResult& run, bool closed) {
    const Spacing& s = run.item->spacing;
    if (s.from || s.to)
        to.say(", from %1 to %2", {to.length("from", s.from.value_or(0)),
                                   s.to ? to.length("to", *s.to) : SentencePiece{to.worded("the end"), "to"}});
    if (s.gapAtMost && s.gapAtLeast)
        to.say(" with gaps along of %1 to %2",
               {to.length("gapAtLeast", *s.gapAtLeast), to.length("gapAtMost", *s.gapAtMost)});
    else if (s.gapAtMost)
        to.say(" with no gap along over %1", {to.length("gapAtMost", *s.gapAtMost)});
    else if (s.gapAtLeast)
        to.say(" with no gap along under %1", {to.length("gapAtLeast", *s.gapAtLeast)});
    if (closed) {
        if (s.slide != 0) to.say("; slid by %1", {to.length("slide", s.slide)});
    } else if (s.insetStart == s.insetEnd) {
        if (s.insetStart != 0) to.say("; %1 in at both ends", {to.length("insetStart", s.insetStart)});
    } else {
        to.say("; %1 in at the start and %2 at the end",
               {to.length("insetStart", s.insetStart), to.length("insetEnd", s.insetEnd)});
    }
}

void sayFacing(Sentence& to, const RunItem& run) {
    const Facing& f = run.facing;
    const SentencePiece nose = to.phrase("nose", wordsOf(f.nose).phrase);
    const SentencePiece crown = to.phrase("crown", wordsOf(f.crown).phrase);
    if (const RuleKind& kind = kindOf(run.spacing); kind.linked() && !kind.vehicles()) // whatever nose is chosen
        to.say("; crown %1, noses through the pins", {crown});
    else if (std::holds_alternative<AlongPath>(f.nose))
        to.say("; standing %1, nose %2", {crown, nose});
    else
        to.say("; facing %1", {nose});
    if (f.turn.isZero(0)) return;
    std::string turns;
    const char* const axes[] = {"nose", "side", "crown"};
    for (int i = 0; i < 3; ++i) {
        if (f.turn[i] == 0) continue;
        if (!turns.empty()) turns += ", ";
        turns += to.text("%1\u00b0 about the %2", {number(f.turn[i] / kDegree, 6), to.worded(axes[i])});
    }
    to.say(", turned %1", {{turns, "turn0"}});
}

void sayMore(Sentence& to, const RunResult& run) {
    const RunItem& r = *run.item;
    if (r.feet.ground != 0)
        to.say("; feet on %1", {{run.asked[2] ? run.asked[2]->item->name : to.worded("a missing body"), "ground"}});
    const auto also = [&](const char* value, const std::string& text) { join(to.out, {{"; ", ""}, {text, value}}); };
    if (!r.sequence.steps.empty()) also("sequence", to.worded("in a sequence of parts"));
    if (!r.changes.none()) also("roll", to.worded("changing along the way"));
    if (!r.uneven.none()) also("unevenAlong", to.worded("a little uneven"));
    if (r.rows.rows > 1) to.say("; in %1", {{to.text("%1 rows", {std::to_string(r.rows.rows)}), "rows"}});
    if (r.rows.tiers > 1) also("tiers", to.text("%1 tiers high", {std::to_string(r.rows.tiers)}));
    for (const auto& [echo, key] : {std::pair{&r.echoes.one, "echo"}, {&r.echoes.two, "again"}})
        if (echo->kind != EchoKind::None) {
            std::string text = to.worded(kEchoWords[size_t(echo->kind)].phrase);
            for (const auto& part : run.parts)
                if (echo->kind == EchoKind::Mirrored && part && part->item->id == echo->part)
                    text = to.text("mirrored, as %1", {part->item->name});
            also(key, text);
        }
    if (!r.leftOut.empty()) to.say("; %1 left out", {{std::to_string(r.leftOut.size()), "leftOut"}});
}

} // namespace

std::vector<SentencePiece> sentenceOf(const RunResult& run, Unit unit, const Worded& worded) {
    Sentence to{unit, worded};
    const Spacing& s = run.item->spacing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    to.say("Set %1 along %2, ", {{run.part ? run.part->item->name : worded("a missing part"), "part"},
                                 {run.path ? run.path->item->name : worded("a missing path"), "path"}});
    std::map<std::string, Said> values;
    describe(SpacingPieces(to, values), s);
    if (s.measure == Measure::OfLength) // the rule's own number is not what is measured
        values["pitch"] = values["about"] = {{number(s.ofLength * 100, 5) + " %", "ofLength"}};
    if (!values["along"].empty() && counts(s, "along", closed)) {
        values["measure"].push_back({" ", ""});
        join(values["measure"], values["along"]);
    }
    join(to.out, filled(worded(wordsOf(s.rule).phrase), values, closed));
    if (s.bays != BayEdges::None) {
        to.say(", ");
        join(to.out, values["bays"]);
    }
    if (s.bays != BayEdges::None && !s.bayRules.empty())
        join(to.out, {{", ", ""},
                      {to.text("%1 of them by a rule of its own", {std::to_string(s.bayRules.size())}), "bayRules"}});
    if (run.item->gives.what != Gives::Nothing && run.path && run.path->gave)
        to.say(", made even by the %1", {{lowered(run.path->gave->name), "gives"}});
    sayWhere(to, run, closed);
    sayFacing(to, *run.item);
    sayMore(to, run);
    return std::move(to.out);
}

std::string plainSentence(const RunResult& run, Unit unit) {
    std::string out;
    for (const SentencePiece& p : sentenceOf(run, unit)) out += p.text;
    return out + ".";
}

} // namespace vicinal
