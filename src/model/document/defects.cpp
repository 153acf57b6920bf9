#include "model/document/defects.h"
#include "base/ranges.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Looks at every number that describe() hands out; keeps the first value that is wrong.
struct ValueCheck : EachValue<ValueCheck> {
    std::string& wrong; ///< key
    std::string& label;
    ValueCheck(std::string& key, std::string& words) : wrong(key), label(words) {}
    void note(bool good, const char* key, const char* name) const {
        if (good || !wrong.empty()) return;
        wrong = key;
        label = name;
    }
    template<class T> void value(const ValueAbout& about, const T& v) const {
        if (about.kind == ValueKind::Stations || about.kind == ValueKind::Profile) return; // whose they are says more
        numbersIn(v, [&](double x, int) { note(inReach(x), about.key, about.label); });
    }
};

/// What a run says of itself as soon as it is worked out, where it is out of reach: here only that it is a number at
/// all, since no file can hold what is none.
struct NumberCheck : EachValue<NumberCheck> {
    const ValueCheck to;
    explicit NumberCheck(ValueCheck check) : to(check) {}
    template<class T> void value(const ValueAbout& about, const T& v) const {
        numbersIn(v, [&](double x, int) { to.note(std::isfinite(x), about.key, about.label); });
    }
};

Problem refusal(const std::string& item, const std::string& label, const std::string& key) {
    return {Words("\"") + item + "\": " + label + " is not a number, or beyond " + say::bound(kLargest) +
                ". Type another value.",
            key};
}

struct Looked {
    std::string key, label;
    ValueCheck visitor() { return {key, label}; }
    NumberCheck numbers() { return NumberCheck(visitor()); }
    void note(bool good, const char* k, const char* l) { visitor().note(good, k, l); }
};

void look(Looked& check, const PieceShape& shape) {
    std::visit([&](const auto& s) { describe(check.visitor(), s); }, shape);
    if (const auto* b = std::get_if<Brought>(&shape)) check.note(b->scale > 0 && inReach(b->scale), "unit", "Unit");
}

} // namespace

std::optional<Problem> defectOf(const PathItem& p) {
    Looked check;
    if (const auto* r = std::get_if<PointsRecipe>(&p.recipe)) {
        for (size_t i = 0; i < r->points.size(); ++i) {
            const PathPoint& q = r->points[i];
            const std::string name = "Point " + std::to_string(i + 1);
            const bool good = inReach(q.at) && inReach(q.fillet) && (!q.in || inReach(*q.in)) &&
                              (!q.out || inReach(*q.out)) && (!q.via || inReach(*q.via));
            check.note(good, "points", name.c_str());
        }
    } else if (const auto* c = std::get_if<BroughtCurve>(&p.recipe)) {
        for (const auto& s : c->segments)
            if (const auto why = defectOf(s); !why.empty() && check.key.empty())
                return Problem{"\"" + text::quoted(p.name) + "\": " + why + ".", "path"};
    } else {
        describe(check.visitor(), p.recipe);
    }
    if (check.key.empty()) return std::nullopt;
    return refusal(p.name, check.label, check.key);
}

std::optional<Problem> defectOf(const PartItem& p) {
    Looked check;
    if (const auto* pieces = std::get_if<Pieces>(&p.shape)) {
        for (const auto& piece : pieces->list) {
            look(check, piece.shape);
            check.note(inReach(piece.at), "at", "A piece's place");
            check.note(inReach(piece.turn), "turn", "A piece's turn");
            check.note(inReach(piece.size), "size", "A piece's size");
        }
    } else {
        look(check, asPiece(p.shape, 0));
    }
    if (const auto* point = std::get_if<Vec3>(&p.seat.point))
        check.note(inReach(*point), "seatPoint", "The seat point");
    check.note(inReach(p.seat.nose.v), "nose", "The nose");
    check.note(inReach(p.seat.crown.v), "crown", "The crown");
    if (p.seat.pins) check.note(inReach((*p.seat.pins)[0]) && inReach((*p.seat.pins)[1]), "pins", "A pin");
    if (p.seat.hooks)
        check.note(inReach((*p.seat.hooks)[0]) && inReach((*p.seat.hooks)[1]), "hooks", "A coupling point");
    check.note(inReach(p.size), "size", "The size");
    check.note(inReach(p.density), "density", "The density");
    if (check.key.empty()) return std::nullopt;
    return refusal(p.name, check.label, check.key);
}

std::optional<Problem> defectOf(const RunItem& r) {
    Looked check;
    const auto rule = [&](const SpacingRule& one) {
        std::visit([&](const auto& x) { describe(check.visitor(), x), describe(check.numbers(), x); }, one);
    };
    describe(check.visitor(), r.spacing);
    describe(check.numbers(), r.spacing);
    for (const auto& kept : r.spacing->kept) rule(kept);
    for (const auto& own : r.spacing->bayRules) rule(own.rule);
    describe(check.visitor(), r.facing);
    describe(check.visitor(), r.feet);
    describe(check.visitor(), r.gives);
    describe(check.visitor(), r.motion);
    eachRunGroup([&](const RunGroup&, auto member) { describe(check.numbers(), r.*member); });
    for (const SequenceStep& step : r.sequence.steps) check.note(std::isfinite(step.weight), "sequence", "A weight");
    for (const Exception& e : r.exceptions) describe(check.numbers(), e);
    for (const auto& bound : {r.gives.least, r.gives.most})
        check.note(!bound || inReach(*bound), "giveAtLeast", "A bound");
    for (const Check& c : r.checks) {
        const auto good = [](const std::optional<double>& v) { return !v || inReach(*v); };
        check.note(good(c.least) && good(c.most) && inReach(c.margin) && inReach(c.from) && inReach(c.to), "checks",
                   wordsOf(c.of).label);
    }
    if (check.key.empty()) return std::nullopt;
    return refusal(r.name, check.label, check.key);
}

std::optional<Problem> defectOf(const HeapItem& h) {
    for (const Loose& l : h.parts) {
        const bool rigid =
            l.frame.axes.allFinite() &&
            (l.frame.axes.transpose() * l.frame.axes - Mat3::Identity()).cwiseAbs().maxCoeff() < tolerance::alike &&
            l.frame.axes.determinant() > 0;
        if (!inReach(l.frame.seat) || !rigid || !ranges::kSize.holds(l.size))
            return refusal(h.name, "Where a loose part stands", "loose");
    }
    return std::nullopt;
}

std::optional<Problem> defectOf(const BodyItem& b) {
    Looked check;
    describe(check.visitor(), b);
    std::visit(
        [&](const auto& shape) {
            using S = std::decay_t<decltype(shape)>;
            if constexpr (std::is_constructible_v<PieceShape, S>)
                look(check, PieceShape(shape));
            else
                describe(check.visitor(), shape);
        },
        b.shape);
    if (check.key.empty()) return std::nullopt;
    return refusal(b.name, check.label, check.key);
}

std::optional<Problem> defectOf(const Delivery& d) {
    Looked check;
    std::visit([&](const auto& order) { describe(check.visitor(), order); }, d.order);
    if (d.fields.size() > kMostFields)
        return Problem{"\"" + text::quoted(d.name) + "\": a title block holds up to " + say::count(kMostFields) +
                           " fields. Take some out.",
                       "fields"};
    if (check.key.empty()) return std::nullopt;
    return refusal(d.name, check.label, check.key);
}

std::optional<Problem> defectOf(const Document& d, const Document* before) {
    const auto first = [](const auto& items, const auto* old) -> std::optional<Problem> {
        // By their place in the list: every edit of a drag comes through here, and changes one of thousands.
        for (size_t i = 0; i < items.size(); ++i)
            if (!old || i >= old->size() || (*old)[i] != items[i])
                if (auto p = defectOf(*items[i])) return p;
        return std::nullopt;
    };
    if (auto p = first(d.paths, before ? &before->paths : nullptr)) return p;
    if (auto p = first(d.parts, before ? &before->parts : nullptr)) return p;
    if (auto p = first(d.heaps, before ? &before->heaps : nullptr)) return p;
    if (auto p = first(d.bodies, before ? &before->bodies : nullptr)) return p;
    if (auto p = first(d.deliveries, before ? &before->deliveries : nullptr)) return p;
    return first(d.runs, before ? &before->runs : nullptr);
}

} // namespace vicinal
