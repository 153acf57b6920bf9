#include "model/file/json/document_json.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <nlohmann/json.hpp>
#include <set>

namespace vicinal {

Handing sharedBy(const Spacing& s) {
    return [&s](const ValueVisitor& v) { describeShared(v, const_cast<Spacing&>(s)); };
}

void putKept(Json& j, bool locked, Id folder) {
    if (locked) j["locked"] = true;
    if (folder != 0) j["folder"] = folder;
}

void readKept(const Json& j, const std::string& where, bool& locked, Id& folder) {
    if (j.contains("locked")) locked = JsonReader::yes(j, where, "locked");
    if (j.contains("folder")) folder = JsonReader::id(j, where, "folder");
}

namespace {

// 1 had only points and curves; 2 only balusters, planks and meshes; 3 held the numbers of all spacing rules side by
// side; 4 had three rules of spacing and nothing that changes along a run. All are read as they are. Since 4 a value
// that is left out takes its default.
constexpr int kVersion = 5;

constexpr const char* kKnottings[] = {"centripetal", "chord length"};

Json pathJson(const PathItem& p) {
    Json j = {{"id", p.id}, {"name", p.name}};
    if (p.hidden) j["hidden"] = true;
    putKept(j, p);
    if (const auto* r = std::get_if<PointsRecipe>(&p.recipe)) {
        j["closed"] = r->closed;
        j["knotting"] = kKnottings[int(r->knotting)];
        j["points"] = Json::array();
        for (const auto& q : r->points) {
            Json point = {{"at", vec(q.at)}, {"smooth", q.smooth}};
            if (q.fillet > 0) point["fillet"] = q.fillet;
            if (q.in) point["in"] = vec(*q.in);
            if (q.out) point["out"] = vec(*q.out);
            if (q.via) point["via"] = vec(*q.via);
            j["points"].push_back(std::move(point));
        }
    } else if (const auto* c = std::get_if<BroughtCurve>(&p.recipe)) {
        j["closed"] = c->closed;
        j["source"] = c->source;
        j["segments"] = Json::array();
        for (const auto& s : c->segments) j["segments"].push_back(segmentJson(s));
    } else {
        Json recipe = {{"kind", kindOf(p.recipe)}};
        if (const auto* d = std::get_if<DerivedRecipe>(&p.recipe)) {
            recipe["source"] = d->source;
            if (const auto* l = std::get_if<LiftedOver>(&d->change); l && !l->switched.empty())
                recipe["switched"] = l->switched;
        }
        if (const auto* m = std::get_if<JoinedRecipe>(&p.recipe)) recipe["members"] = m->members;
        if (const auto* e = std::get_if<EdgesRecipe>(&p.recipe)) recipe["part"] = e->part;
        writeValues(recipe, p.recipe);
        j["recipe"] = std::move(recipe);
    }
    return j;
}

template<class Rule> Json ruleJson(const Rule& rule) {
    Json j = {{"rule", wordsOf(rule).file}};
    std::visit([&](const auto& r) { writeValues(j, r); }, rule);
    return j;
}

Json runJson(const RunItem& r) {
    Json spacing = ruleJson(r.spacing->rule);
    writeValues(spacing, sharedBy(*r.spacing));
    for (const auto& rule : r.spacing->kept)
        if (rule.index() != r.spacing->rule.index()) spacing["kept"].push_back(ruleJson(rule));
    for (const auto& own : r.spacing->bayRules) {
        spacing["bayRules"].push_back(ruleJson(own.rule));
        spacing["bayRules"].back()["bay"] = own.bay;
    }
    Json facing = {{"nose", wordsOf(r.facing.nose).file}, {"crown", wordsOf(r.facing.crown).file}};
    writeValues(facing, r.facing);
    Json j = {{"id", r.id},     {"name", r.name},     {"colour", r.colour}, {"path", r.path},
              {"part", r.part}, {"spacing", spacing}, {"facing", facing},   {"leftOut", r.leftOut}};
    if (r.hidden) j["hidden"] = true;
    const auto put = [&](const char* key, const auto& described) { // what is as by default is left out
        if (described == std::decay_t<decltype(described)>()) return;
        writeValues(j[key] = Json::object(), described);
    };
    eachRunGroup([&](const RunGroup& g, auto member) { put(g.key, r.*member); });
    for (const auto& step : r.sequence.steps)
        j["sequence"]["steps"].push_back({{"part", step.part}, {"repeat", step.repeat}, {"weight", step.weight}});
    putKept(j, r);
    if (!r.gives.value.empty()) j["gives"]["giveValue"] = r.gives.value;
    if (r.gives.least) j["gives"]["giveAtLeast"] = *r.gives.least;
    if (r.gives.most) j["gives"]["giveAtMost"] = *r.gives.most;
    for (const auto& e : r.exceptions) {
        Json one = {{"place", e.place}};
        writeValues(one, e);
        j["exceptions"].push_back(std::move(one));
    }
    for (const Check& c : r.checks) j["checks"].push_back(checkJson(c));
    return j;
}

/// Reading throws Problem (caught at the top) so that every value can say where it stands.
struct Reader : JsonReader {
    const PartContext& parts;
    bool lenient() const { return parts.version >= 4; }
    bool leftOut(const Json& j, const char* key) const { return lenient() && j.is_object() && !j.contains(key); }
    template<class Rule>
    Rule rule(const Json& j, const std::string& where, const char* key, const Rule& otherwise) const {
        if (leftOut(j, key)) return otherwise;
        const std::string w = word(j, where, key);
        auto found = ruleNamed<Rule>(w);
        if (!found) fail(where, "has \"" + w + "\" for \"" + key + "\", which is not known");
        return *found;
    }

    PathItem path(const Json& j, const std::string& where) const {
        PathItem p;
        p.id = JsonReader::id(j, where, "id");
        p.name = word(j, where, "name");
        const auto yes = [&](const Json& from, const char* key, bool otherwise) {
            if (leftOut(from, key)) return otherwise;
            const Json& v = member(from, where, key);
            return v.is_boolean() && v.get<bool>();
        };
        if (j.contains("hidden")) p.hidden = yes(j, "hidden", false);
        readKept(j, where, p);
        if (j.contains("recipe")) {
            const Json& r = j["recipe"];
            const std::string kind = word(r, where, "kind");
            auto recipe = recipeOf(kind);
            if (!recipe || kind == "points" || kind == "curve")
                fail(where, "has a recipe \"" + kind + "\", which is not known");
            if (auto* d = std::get_if<DerivedRecipe>(&*recipe)) {
                d->source = JsonReader::id(r, where, "source");
                if (auto* l = std::get_if<LiftedOver>(&d->change); l && r.contains("switched"))
                    for (const auto& n : list(r, where, "switched")) {
                        if (!n.is_number_integer() || n.get<long>() < 1 || n.get<long>() > kLargestId)
                            fail(where, "needs numbers of crossings in \"switched\"");
                        l->switched.push_back(n.get<long>());
                    }
            }
            if (auto* e = std::get_if<EdgesRecipe>(&*recipe)) e->part = JsonReader::id(r, where, "part");
            if (auto* m = std::get_if<JoinedRecipe>(&*recipe))
                for (const auto& id : list(r, where, "members")) {
                    if (!id.is_number_integer()) fail(where, "needs whole numbers for \"members\"");
                    const auto member = id.get<long>();
                    if (member < 0 || member > kLargestId) fail(where, "has a number out of range in \"members\"");
                    m->members.push_back(int(member));
                }
            static constexpr const char* kLater[] = {"roller",       "below",          "hangs",        "hangsBy",
                                                     "hang",         "engagedAtLeast", "teethAtLeast", "pitchesAtLeast",
                                                     "pitchesAtMost"}; // of loops, behind version 3
            readValues(r, where, *recipe, {lenient(), {}, kLater});
            p.recipe = std::move(*recipe);
            return p;
        }
        const bool closed = yes(j, "closed", false);
        if (j.contains("points")) {
            PointsRecipe r;
            r.closed = closed;
            if (!leftOut(j, "knotting")) r.knotting = Knotting(choice(j, where, "knotting", kKnottings));
            for (const auto& q : list(j, where, "points")) {
                PathPoint point{vector(member(q, where, "at"), where), yes(q, "smooth", true)};
                if (q.contains("fillet")) point.fillet = number(q, where, "fillet");
                if (q.contains("in")) point.in = vector(q["in"], where);
                if (q.contains("out")) point.out = vector(q["out"], where);
                if (q.contains("via")) point.via = vector(q["via"], where);
                r.points.push_back(point);
            }
            p.recipe = std::move(r);
        } else {
            BroughtCurve c;
            c.closed = closed;
            if (!leftOut(j, "source")) c.source = word(j, where, "source");
            for (const auto& s : list(j, where, "segments")) c.segments.push_back(segmentFromJson(s, where));
            p.recipe = std::move(c);
        }
        return p;
    }

    /// What a run has besides spacing and facing.
    void groups(const Json& j, const std::string& where, RunItem& r) const {
        eachRunGroup([&](const RunGroup& g, auto member) {
            if (j.contains(g.key)) readValues(j[g.key], where, r.*member);
        });
        if (j.contains("sequence") && j["sequence"].contains("steps"))
            for (const auto& one : list(j["sequence"], where, "steps")) {
                SequenceStep step;
                step.part = JsonReader::id(one, where, "part");
                if (one.contains("repeat")) step.repeat = whole(one, where, "repeat");
                if (one.contains("weight")) step.weight = number(one, where, "weight");
                r.sequence.steps.push_back(step);
            }
        if (j.contains("hidden")) r.hidden = yes(j, where, "hidden");
        readKept(j, where, r);
        if (j.contains("gives")) {
            const Json& g = j["gives"];
            if (g.contains("giveValue")) r.gives.value = word(g, where, "giveValue");
            if (g.contains("giveAtLeast")) r.gives.least = number(g, where, "giveAtLeast");
            if (g.contains("giveAtMost")) r.gives.most = number(g, where, "giveAtMost");
        }
        if (j.contains("checks"))
            for (const auto& one : list(j, where, "checks")) {
                r.checks.push_back(checkFromJson(one, where));
                for (size_t k = 0; k + 1 < r.checks.size(); ++k)
                    if (r.checks[k].same(r.checks.back())) fail(where, "has a check twice");
            }
        if (!j.contains("exceptions")) return;
        for (const auto& one : list(j, where, "exceptions")) {
            Exception e;
            if (one.is_object() && one.contains("place")) e.place = JsonReader::id(one, where, "place");
            readValues(one, where, e);
            if (e.place == 0 && !e.station) fail(where, "has an exception without a place");
            r.exceptions.push_back(std::move(e));
        }
    }

    RunItem run(const Json& j, const std::string& where) const {
        RunItem r;
        r.id = JsonReader::id(j, where, "id");
        r.name = word(j, where, "name");
        if (!leftOut(j, "colour")) r.colour = JsonReader::id(j, where, "colour");
        r.path = JsonReader::id(j, where, "path");
        r.part = JsonReader::id(j, where, "part");
        static const Json nothing = Json::object();
        const Json& s = leftOut(j, "spacing") ? nothing : member(j, where, "spacing");
        r.spacing->rule = rule<SpacingRule>(s, where, "rule", Spacing{}.rule);
        // What the files before version 4 had, and had to have.
        static constexpr const char* kOld[] = {"pitch",      "leftOver", "count", "ends",   "about", "measure",
                                               "insetStart", "insetEnd", "slide", "corner", "turn"};
        MayMiss mayMiss{lenient(), {}, {}};
        if (!lenient()) mayMiss.since = kOld;
        const auto read = [&](const Json& from, auto& into) {
            std::visit([&](auto& rule) { readValues(from, where, rule, mayMiss); }, into);
        };
        read(s, r.spacing->rule);
        readValues(s, where, sharedBy(*r.spacing), mayMiss);
        if (!lenient()) { // the numbers of all rules stood side by side
            for (size_t i = 0; i < 3; ++i)
                if (i != r.spacing->rule.index()) read(s, r.spacing->kept.emplace_back(alternative<SpacingRule>(i)));
            const auto atEnds = [](SpacingRule& rule) { // "ends" was Share out's alone
                if (auto* even = std::get_if<EvenOut>(&rule)) even->ends = ShareEnds::AtEnds;
            };
            atEnds(r.spacing->rule);
            std::for_each(r.spacing->kept.begin(), r.spacing->kept.end(), atEnds);
        } else if (s.contains("kept")) {
            for (const auto& k : list(s, where, "kept")) {
                SpacingRule other = rule<SpacingRule>(k, where, "rule", Spacing{}.rule);
                const auto same = [&](const auto& x) { return x.index() == other.index(); };
                if (same(r.spacing->rule) || std::any_of(r.spacing->kept.begin(), r.spacing->kept.end(), same))
                    fail(where, "has a rule of spacing twice");
                read(k, other);
                r.spacing->kept.push_back(std::move(other));
            }
        }
        if (lenient() && s.contains("bayRules"))
            for (const auto& one : list(s, where, "bayRules")) {
                BayRule own;
                own.bay = whole(one, where, "bay");
                own.rule = rule<SpacingRule>(one, where, "rule", ShareOut{});
                read(one, own.rule);
                if (own.bay < 1 || bayRule(r.spacing, own.bay))
                    fail(where, "has a bay of 0 or one twice in \"bayRules\"");
                r.spacing->bayRules.push_back(std::move(own));
            }
        const Json& f = leftOut(j, "facing") ? nothing : member(j, where, "facing");
        r.facing.nose = rule<NoseRule>(f, where, "nose", {});
        r.facing.crown = rule<CrownRule>(f, where, "crown", {});
        readValues(f, where, r.facing, mayMiss);
        groups(j, where, r);
        if (leftOut(j, "leftOut")) return r;
        for (const auto& n : list(j, where, "leftOut")) {
            if (!n.is_number_integer()) fail(where, "needs whole numbers in \"leftOut\"");
            const auto number = n.get<long>();
            if (number < 1 || number > kLargestId) fail(where, "has a number out of range in \"leftOut\"");
            r.leftOut.push_back(int(number));
        }
        return r;
    }
};

} // namespace

std::string toJson(const Document& d) {
    Json paths = Json::array(), parts = Json::array(), runs = Json::array();
    for (const auto& p : d.paths) paths.push_back(pathJson(*p));
    for (const auto& p : d.parts) parts.push_back(partJson(*p));
    for (const auto& r : d.runs) runs.push_back(runJson(*r));
    Json out = {{"format", "vicinal"}, {"version", kVersion}, {"units", "mm"},  {"shownIn", nameOf(d.unit)},
                {"nextId", d.nextId},  {"paths", paths},      {"parts", parts}, {"runs", runs}};
    for (const auto& h : d.heaps) out["heaps"].push_back(heapJson(*h));
    for (const auto& b : d.bodies) out["bodies"].push_back(bodyJson(*b));
    for (const auto& f : d.folders) out["folders"].push_back(folderJson(*f));
    for (const auto& x : d.deliveries) out["deliveries"].push_back(deliveryJson(*x));
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

namespace {

/// What would cost memory or depth out of all proportion is told before it is taken apart.
std::optional<Problem> tooMuch(const std::string& text) {
    constexpr int kDeepest = 64;
    constexpr size_t kMostValues = 8'000'000;
    int depth = 0;
    size_t values = 0;
    bool inText = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inText) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                inText = false;
        } else if (c == '"') {
            inText = true;
        } else if (c == '[' || c == '{') {
            if (++depth > kDeepest)
                return Problem{"The document is damaged: its values are nested deeper than any Vicinal writes.", ""};
        } else if (c == ']' || c == '}') {
            --depth;
        } else if (c == ',' && ++values > kMostValues) {
            return Problem{"The document holds more than " + say::count(kMostValues) +
                               " values, more than can be opened. Split it.",
                           ""};
        }
    }
    return std::nullopt;
}

/// Where a text ends to be JSON.
Problem brokenAt(const std::string& text, size_t byte) {
    const std::string before = text.substr(0, std::min(text.size(), byte));
    const auto line = 1 + std::count(before.begin(), before.end(), '\n');
    return Problem{"The document is cut off or not JSON, in line " + say::count(line) + ", letter " +
                       say::count(before.size() - (before.rfind('\n') + 1)) + ".",
                   ""};
}

Result<Document> documentOf(const Json& j, const AssetSource& asset, const BodyReader& body) {
    if (!j.is_object() || !j.contains("format") || j["format"] != "vicinal")
        return Problem{"This is not a Vicinal document: it does not say \"format\": \"vicinal\".", ""};
    const long version = Reader::whole(j, "the document", "version");
    if (version > kVersion)
        return Problem{"This document was saved by a newer Vicinal (format " + say::count(version) +
                           "; this one reads up to " + say::count(kVersion) +
                           "). Open it there, or update this program.",
                       ""};
    const PartContext parts{asset, body, version};
    const Reader reader{{}, parts};
    Document d;
    if (!reader.leftOut(j, "shownIn")) {
        const auto unit = unitNamed(Reader::word(j, "the document", "shownIn"));
        if (!unit) return unit.problem();
        d.unit = *unit;
    }
    const bool counted = reader.leftOut(j, "nextId");
    d.nextId = counted ? Id(kLargestId) : Reader::id(j, "the document", "nextId");
    std::set<Id> ids;
    const auto each = [&](const char* key, auto&& add) {
        int n = 0;
        if (reader.leftOut(j, key)) return;
        for (const auto& item : Reader::list(j, "the document", key)) {
            const std::string where = "item " + std::to_string(++n) + " of \"" + key + "\"";
            const Id id = Reader::id(item, where, "id");
            if (id < 1 || id >= d.nextId || !ids.insert(id).second)
                Reader::fail(where, "has an id that is out of range or used twice");
            add(item, where);
        }
    };
    each("paths", [&](const Json& i, const std::string& w) {
        d.paths.push_back(std::make_shared<const PathItem>(reader.path(i, w)));
    });
    each("parts", [&](const Json& i, const std::string& w) {
        d.parts.push_back(std::make_shared<const PartItem>(partFromJson(i, w, parts)));
    });
    each("runs", [&](const Json& i, const std::string& w) {
        d.runs.push_back(std::make_shared<const RunItem>(reader.run(i, w)));
    });
    const auto eachOf = [&](const char* key, auto&& add) { // documents of before have none
        if (j.contains(key)) each(key, add);
    };
    eachOf("heaps", [&](const Json& i, const std::string& w) {
        d.heaps.push_back(std::make_shared<const HeapItem>(heapFromJson(i, w)));
    });
    eachOf("bodies", [&](const Json& i, const std::string& w) {
        d.bodies.push_back(std::make_shared<const BodyItem>(bodyFromJson(i, w, parts)));
    });
    eachOf("folders", [&](const Json& i, const std::string& w) {
        d.folders.push_back(std::make_shared<const FolderItem>(folderFromJson(i, w)));
    });
    eachOf("deliveries", [&](const Json& i, const std::string& w) {
        d.deliveries.push_back(std::make_shared<const Delivery>(deliveryFromJson(i, w)));
    });
    if (counted) d.nextId = ids.empty() ? 1 : *ids.rbegin() + 1;
    if (auto p = defectOf(d)) return Problem{"The file is damaged: " + p->text, p->field};
    return d;
}

} // namespace

Result<Document> fromJson(const std::string& text, const AssetSource& asset, const BodyReader& body) {
    if (auto p = tooMuch(text)) return *p;
    try {
        return documentOf(Json::parse(text), asset, body);
    } catch (const Problem& p) {
        return p;
    } catch (const Json::parse_error& e) {
        return brokenAt(text, size_t(e.byte));
    } catch (const Json::out_of_range& e) {
        const std::string what = e.what(); // only the number itself is of use
        const size_t from = what.find('\''), to = what.rfind('\'');
        return Problem{Words("The document holds a number that is too large") +
                           (from < to ? ": " + text::quoted(what.substr(from + 1, to - from - 1)) : std::string()) +
                           ".",
                       ""};
    } catch (const Json::exception&) {
        return Problem{"The document does not have the form of one: a value is of another kind than it should be.", ""};
    } catch (const std::bad_alloc&) {
        return Problem{"The document needs more memory than there is.", ""};
    } catch (const std::exception& e) {
        return Problem{Words("The document cannot be read: ") + text::reasonOf(e) + ".", ""};
    }
}

} // namespace vicinal
