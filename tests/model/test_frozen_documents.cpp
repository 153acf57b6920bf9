// The demo's documents, against what was said of them before: see frozen.h. All that is worked out, checked, edited,
// typed and refused; that it is right is for the other suites.
#include "base/describe.h"
#include "chance.h"
#include "documents.h"
#include "frozen.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/heap.h"
#include "model/edits/crossing_edits.h"
#include "model/edits/profile_edits.h"
#include "model/edits/release.h"
#include "model/edits/reverse.h"
#include "model/edits/run_edits.h"
#include "model/edits/stand_alone.h"
#include "model/edits/typed/bay_text.h"
#include "model/edits/typed/sequence_text.h"
#include "model/edits/typed/typed_items.h"
#include "model/edits/typed/typed_values.h"
#include "model/edits/yard_edits.h"
#include "model/verdicts/checked.h"
#include "model/verdicts/typed_check.h"
#include "suite.h"
#include "support.h"
#include "told.h"
#include <regex>

namespace test_frozen_documents {

using namespace vicinal;
using namespace vicinal::test;

namespace {

constexpr const char* kDemos[] = {"quay", "rules", "checks", "drives", "site"};

std::string demoFile(const std::string& name) { return VICINAL_SOURCE "/examples/saltmarrow-" + name + ".json"; }
Document demo(const std::string& name) {
    const auto d = openDocument(demoFile(name), readBody);
    if (!d) qFatal("%s", d.problem().text.c_str());
    return *d;
}

/// Nothing in it yet, ids and unit as there.
Document alone(const Document& d) {
    Document out;
    out.unit = d.unit, out.nextId = d.nextId;
    return out;
}

QStringList unlike(const char* name, const Digests& now) {
    QStringList out;
    for (const std::string& line : differences(name, now)) out << QString::fromStdString(line);
    for (const QString& line : out) qWarning("%s", qPrintable(line));
    return out;
}

/// All keys that can be typed for an item, by what it says of one that cannot.
template<class Item> std::vector<std::string> keysOf(Item item, const Document& d) {
    const auto p = setTyped(item, d, "no such key", "1");
    std::vector<std::string> out;
    if (!p) return out;
    std::string all = p->text.substr(p->text.rfind(": ") + 2);
    while (!all.empty() && all.back() == '.') all.pop_back();
    std::stringstream in(all);
    for (std::string one; std::getline(in, one, ',');) out.push_back(one.substr(one.find_first_not_of(' ')));
    return out;
}

/// Everything typed into every value of an item, a few of the texts each.
template<class Item>
void typed(Digests& now, const std::string& name, const Item& item, const Document& d, int which, int each = 9) {
    static const std::vector<std::string> texts{"1",
                                                "-3",
                                                "0",
                                                "none",
                                                "yes",
                                                "no",
                                                "12.5",
                                                "1 m",
                                                "2 in",
                                                "30",
                                                "1, 2, 3",
                                                "10,20",
                                                "1e9",
                                                "nan",
                                                "2:5, 400: 9",
                                                "0: 100, 2 m: 250",
                                                "step off",
                                                "share out 5",
                                                "carried",
                                                "path",
                                                "",
                                                "x",
                                                "1/2",
                                                "at 20 out",
                                                "2 out; 3 turn 0,0,90; 4 move 0,0,20 size 1.1",
                                                "0,0; 1 m,0 corner fillet 50; 2 m,0,300",
                                                "2: share out 5",
                                                "+x",
                                                "box 0,0,-1",
                                                "5, 7, 7, 2",
                                                "mirrored",
                                                "round"};
    Digest& digest = now[name];
    int k = which;
    for (const std::string& key : keysOf(item, d))
        for (int n = 0; n < each; ++n) {
            Item changed = item;
            const std::string& text = texts[size_t(k += 5) % texts.size()];
            if (const auto p = setTyped(changed, d, key, text)) {
                digest.say(key + p->text + p->field);
                continue;
            }
            if (const auto p = defectOf(changed)) digest.say(key + p->text + p->field);
            digest.say(key + toJson(with(alone(d), changed)));
        }
}

/// Whether each value has an effect as the others are.
template<class Ask> struct Effects : IgnoreValues {
    Digest& d;
    const Ask& ask;
    Effects(Digest& to, const Ask& counts) : d(to), ask(counts) {}
    void say(const char* key) const { d.say(key), d.add(double(ask(key))); }
    void length(const char* k, const char*, const char*, double) const { say(k); }
    void limit(const char* k, const char*, const char*, const std::optional<double>&) const { say(k); }
    void angle(const char* k, const char*, const char*, double) const { say(k); }
    void number(const char* k, const char*, const char*, double) const { say(k); }
    void count(const char* k, const char*, const char*, long) const { say(k); }
    void flag(const char* k, const char*, const char*, bool) const { say(k); }
    void point(const char* k, const char*, const char*, const Vec3&) const { say(k); }
    void direction(const char* k, const char*, const char*, const Vec3&) const { say(k); }
    void turn(const char* k, const char*, const char*, const Vec3&) const { say(k); }
    template<class E> void choice(const char* k, const char*, const char*, const E&, ChoiceWords) const { say(k); }
    void stations(const char* k, const char*, const char*, const std::vector<double>&) const { say(k); }
    void profile(const char* k, const char*, const char*, const Profile&, ProfileKind) const { say(k); }
    void item(const char* k, const char*, const char*, Id, ItemKind) const { say(k); }
};
template<class Values, class Ask> void effects(Digest& d, const Values& values, const Ask& counts) {
    describe(Effects<Ask>(d, counts), values);
}

/// What can be done to a run that is sound.
void edited(Digest& s, const Document& d, const std::shared_ptr<const Evaluation>& e, const RunResult& r, int n) {
    const auto put = [&](const RunItem& item) { s.say(toJson(with(alone(d), item))); };
    for (const PathStays stays : {PathStays::Kept, n % 2 ? PathStays::Hidden : PathStays::Gone}) {
        const auto out = released(d, r, stays);
        if (!out) {
            s.say(out.problem().text);
            continue;
        }
        s.say(toJson(*out));
        if (stays != PathStays::Kept) continue;
        const Id heap = lastId(*out);
        Mat3 R = Eigen::AngleAxisd(0.4, Vec3::UnitZ()).toRotationMatrix();
        if (const auto moved = movedLoose(*out, heap, {0, 2}, {5, 6, 7}, R, {100, 0, 0})) {
            const auto there = evaluate(*moved, e);
            for (const auto& h : there->heaps) tell(s, *h);
        }
        if (const auto fewer = withoutLoose(*out, heap, {1})) s.say(toJson(*fewer));
        if (const auto other = swappedLoose(*out, heap, {0, 1}, d.parts.back()->id)) s.say(toJson(*other));
    }
    s.say(toJson(reversed(d, r)));
    s.say(toJson(withStandingAlone(d, r)));
    const RunItem& own = *r.item;
    for (const bool closed : {false, true})
        effects(s, *own.spacing, [&](const char* key) { return counts(*own.spacing, key, closed); });
    effects(s, own.facing, [&](const char* key) { return counts(own.facing, key); });
    effects(s, own.motion, [&](const char* key) { return counts(own.motion, key); });
    effects(s, own.gives, [&](const char* key) { return counts(own.gives, key); });
    for (size_t of = 0; of < kChecks.size(); ++of) {
        const Check c = firstCheck(CheckKind(of), 7, r);
        s.say(limitsInWords(c).in(1, "mm")), s.add(double(c.other)), s.add(c.least.value_or(-1));
    }
    for (size_t rule = 0; rule < std::variant_size_v<SpacingRule>; ++rule) {
        RunItem item = *r.item;
        item.spacing = switchedFrom(r, rule);
        put(item);
    }
    RunItem counted = *r.item;
    takeCount(counted, 7);
    put(counted);
    for (const bool byStation : {false, true}) {
        put(excepted(r, {1, 3}, byStation, [](Exception& x) { x.move.z() += 5, x.size = 1.2; }));
        put(bound(r, {0, 1, 2, 3}, byStation));
    }
    for (const auto& places : {everyNth(r, 3, 2), breaking(r), onCorners(r), betweenStations(r, 500, 1500)})
        for (int i : places) s.add(double(i));
    for (const auto& [i, x] : exceptionsOf(r)) s.add(double(i)), s.add(x.move), s.add(exceptionAt(r, i).size);
    const double L = r.placed->path.length();
    for (const char* profile : kProfiles) {
        RunItem item = *r.item;
        Profile* p = profileOf(item, profile);
        if (!p) continue;
        emphasise(*p, 0.3 * L, 200, 1.4, L, r.placed->path.closed(), otherwiseOf(profile));
        const size_t key = addKey(*p, 0.62 * L, 3, L);
        addKey(*p, 0.1 * L, 2, L);
        moveKey(*p, key, 0.05 * L, 4, L);
        shiftKeys(*p, 0.5 * L, L);
        put(item);
        setStretching(*p, !p->stretches, L);
        for (size_t k = 0; k < p->keys.size(); ++k) s.add(stationOf(*p, k, L));
        removeKey(*p, 0);
        put(item);
    }
}

/// One of the numbers of something is none, or out of reach.
struct Bad : IgnoreValues {
    int which;
    double value;
    mutable int met = 0;
    Bad(int n, double v) : which(n), value(v) {}
    void length(const char*, const char*, const char*, double& v) const {
        if (met++ == which) v = value;
    }
    void number(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void angle(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void limit(const char*, const char*, const char*, std::optional<double>& v) const {
        if (met++ == which) v = value;
    }
    void point(const char* k, const char* l, const char* t, Vec3& v) const { length(k, l, t, v[1]); }
    void turn(const char* k, const char* l, const char* t, Vec3& v) const { length(k, l, t, v[2]); }
    void direction(const char* k, const char* l, const char* t, Vec3& v) const { length(k, l, t, v[0]); }
    void stations(const char*, const char*, const char*, std::vector<double>& v) const {
        if (met++ == which) v = {1, value};
    }
    void profile(const char*, const char*, const char*, Profile& v, ProfileKind) const {
        if (met++ == which) v.keys = {{0, 1}, {value, value}};
    }
};

} // namespace

class TestFrozenDocuments : public QObject {
    Q_OBJECT
private slots:
    void whatIsWorkedOut();
    void whatIsEdited();
    void whatIsTyped();
    void whatIsRefused();
    void whatIsMissing();
    void whatIsNoNumber();
    void whatIsByChance();
    void whatFollowsRuns();
    void whatIsJudged();
    void whatIsLifted();
};

void TestFrozenDocuments::whatIsWorkedOut() {
    Digests now;
    for (const std::string name : kDemos) {
        const auto e = evaluate(demo(name));
        tell(now, name, e);
        if (name == "site") continue; // its many cuts take long to check
        CheckMemory memory;
        CheckOrder few; // long chains take long
        for (const auto& r : e->runs)
            if (r->placed && r->placed->bodies() < 70) few.only.push_back(r->item->id);
        const auto all = check(e, memory, nullptr, few);
        for (const auto& [id, run] : all->runs) tell(now[name + ", checks of " + run->run->item->name], *run, *e);
    }
    // Everything asked of short runs, with limits of every sort.
    for (const std::string name : {"checks", "rules"}) {
        const Document d = demo(name);
        const auto e = evaluate(d);
        int n = 0;
        for (const auto& r : e->runs) {
            if (!r->placed || r->problem || r->placed->bodies() > 40 || ++n > 3) continue;
            for (int sort = 0; sort < 3; ++sort) {
                RunItem item = *r->item;
                item.checks.clear();
                if (sort == 1) item.leftOut = {2};
                for (size_t of = 0; of < kChecks.size(); ++of) {
                    Check c;
                    c.of = CheckKind(of);
                    if (c.of == CheckKind::OtherRun) c.other = sort ? d.runs[size_t(sort)]->id : 0;
                    if (c.of == CheckKind::SiteBody) c.other = d.bodies.empty() ? 9999 : d.bodies[0]->id;
                    if (sort == 1) c.least = 5, c.margin = 3, c.from = 500, c.to = 200;
                    if (sort == 2)
                        c.most = 0.3, c.from = 20, c.to = 400,
                        c.excused = {{2, 0, 0, 0, "it is so", "me", "2026-11-30"}};
                    item.checks.push_back(c);
                }
                CheckMemory memory;
                CheckOrder only;
                only.only = {item.id};
                const auto all = check(evaluate(with(d, item), e), memory, nullptr, only);
                tell(now[name + ", everything asked of " + item.name], *all->run(item.id), *all->of);
            }
        }
    }
    // Wheels that are parts of the document, seated off their own origin.
    {
        Document d;
        PartItem drum;
        drum.name = "Drum";
        drum.shape = Maker(Cylinder{300, 40});
        drum.seat.point = Vec3(7, -11, 20), drum.seat.nose = Axis::PlusY;
        d = with(d, drum);
        auto loop = *recipeOf("wheels");
        auto& wheels = std::get<WheelShape>(std::get<ShapeRecipe>(loop).shape).wheels;
        for (Wheel& w : wheels) w.body = WheelBody::Part, w.part = d.parts[0]->id;
        wheels[1].phase = 0.7;
        tell(now, "wheels of parts", evaluate(with(d, PathItem{0, "Loop", loop})));
    }
    const auto full = evaluate(fullDocument());
    tell(now, "full", full);
    QVERIFY(unlike("documents", now).isEmpty());
}

void TestFrozenDocuments::whatIsEdited() {
    Digests now;
    for (const std::string name : {"rules", "drives"}) {
        const Document d = demo(name);
        const auto e = evaluate(d);
        std::set<Id> some;
        int n = 0;
        for (const auto& r : e->runs) {
            if (++n % 3 == 0) some.insert(r->item->id);
            Digest& own = now[name + ", " + r->item->name];
            if (r->placed && !r->problem) edited(own, d, e, *r, n);
        }
        Digest& s = now[name + ", several"];
        for (const auto& p : d.paths)
            if (some.size() < 6) some.insert(p->id);
        std::vector<Id> made;
        const Document twice = copied(d, some, &made);
        s.say(toJson(twice));
        for (Id id : made) s.add(double(id));
        FolderItem folder;
        folder.name = "Folder";
        Document in = with(d, folder);
        in = intoFolder(in, some, lastId(in));
        s.say(toJson(in));
        for (Id id : inFolder(in, lastId(in))) s.add(double(id));
        s.say(toJson(withHidden(d, some, true))), s.say(toJson(showingOnly(d, some))),
            s.say(toJson(showingAll(withHidden(d, some, true))));
        s.say(toJson(withColour(d, some, 4))), s.say(toJson(withoutAll(d, some))),
            s.say(toJson(movedBefore(d, some, d.runs.front()->id)));
        s.say(toJson(movedBefore(d, some, 0))), s.add(double(hidesAnything(withHidden(d, some, true))));
        const Document locked = withLocked(d, some, true);
        s.say(toJson(locked));
        for (Id id : some) {
            s.add(double(isLocked(locked, id)));
            if (const auto p = lockBroken(locked, without(locked, id))) s.say(p->text);
            for (const std::string& user : usersOf(d, id)) s.say(user);
        }
        for (const auto& p : d.parts) {
            s.say(toJson(with(alone(d), resized(resized(*p, 1.5), 0.4))));
            s.say(toJson(replaced(d, p->id, d.parts.front()->id, p->id % 2)));
            for (const std::string& user : usersOf(d, p->id)) s.say(user);
        }
    }
    QVERIFY(unlike("edits", now).isEmpty());
}

void TestFrozenDocuments::whatIsTyped() {
    Digests now;
    for (const std::string name : kDemos) {
        const Document d = demo(name);
        int which = int(name.size());
        for (const auto& x : d.paths) typed(now, name + ", path " + x->name, *x, d, ++which);
        for (const auto& x : d.parts) typed(now, name + ", part " + x->name, *x, d, ++which);
        for (const auto& x : d.bodies) typed(now, name + ", body " + x->name, *x, d, ++which);
        for (const auto& x : d.runs) typed(now, name + ", run " + x->name, *x, d, ++which);
    }
    const Document rich = richDocument();
    for (const auto& x : rich.runs) typed(now, "rich, run " + x->name, *x, rich, 3);
    // Lists of things, whole and broken.
    Digest& lists = now["lists"];
    const Document quay = demo("quay");
    const std::string first = quay.parts[0]->name, path = quay.paths[1]->name;
    const auto put = [&](const auto& r, const std::function<void()>& use) {
        if (r)
            use();
        else
            lists.say(r.problem().text + "|" + r.problem().field);
    };
    const std::vector<std::string> words{
        "0,0; 1 m,0 corner fillet 50; 2 m,0,300 via 1.5 m,0,400; 3 m,0 before -100,0,0 after 200,0,0",
        "0,0 smooth; 5,5,5 corner",
        "0,0; 1,x",
        "1,2,3,4",
        "0,0 fillet",
        "0,0 corner 7; 1,1",
        "Drum at 0,0 radius 150; Motor at 700,0 teeth 17 outside body sprocket width 10",
        "Drum at 0,0 radius 150 inside; B at 700,0 diameter 90 phase 12 bore 20 hub 40",
        "Drum",
        "Drum at 0,0 teeth x",
        "Drum at 0,0 outside 3",
        first + " at 0,0,0; " + first + " at 0,0,900 turn 0,0,90 size 1.2 mirrored name Second",
        first + " mirrored yes",
        first + " size none",
        "Nobody at 0,0,0",
        "3 out; 7 part " + first + " turn 0,0,90",
        "at 1 m move 0,0,20 size 1.1; 2 size 0.5",
        "0 out",
        "at out",
        "3 out yes",
        "x",
        "",
        "none",
        "+x",
        "-z",
        "0.3,0,1",
        "0,0,0",
        "box 0,0,-1",
        "box 2,0,0",
        "box 1,1",
        "5,6,7",
        path,
        "\"" + path + "\", " + path,
        path + ",",
        "2 x " + first,
        first + " (3), " + first,
        "0 x " + first,
        first + " (x)",
        "2: share out 5; 4: step off 120",
        "1: even out 90; 1: 7",
        "3: graded 0: 100, 2 m: 250; 5: listed 20, 140; 6: pin to pin 12",
        "2: nothing",
        "x: 5",
        ": 5",
        "2 share out 5"};
    for (const std::string& text : words) {
        if (const auto r = parsePoints(text, Unit::Millimetre, text.size() % 2); true)
            put(r, [&] {
                for (const PathPoint& p : *r)
                    lists.add(p.at), lists.add(p.fillet), lists.add(double(p.smooth)),
                        lists.add(p.in.value_or(Vec3::Zero())), lists.add(p.out.value_or(Vec3::Zero())),
                        lists.add(p.via.value_or(Vec3::Zero()));
            });
        if (const auto r = parseWheels(text, Unit::Inch); true)
            put(r, [&] {
                for (const Wheel& w : *r)
                    lists.say(w.name), lists.add(w.radius), lists.add(double(w.teeth)), lists.add(double(w.inside)),
                        lists.add(w.width), lists.add(w.bore), lists.add(w.hub), lists.add(w.phase.value_or(-1)),
                        lists.add(double(w.body)), lists.add(w.centre.x()), lists.add(w.centre.y());
            });
        if (const auto r = parsePieces(text, quay); true)
            put(r, [&] {
                for (const Piece& p : *r)
                    lists.say(p.name), lists.add(p.at), lists.add(p.turn), lists.add(p.size),
                        lists.add(double(p.mirrored));
            });
        if (const auto r = parseExceptions(text, quay); true)
            put(r, [&] {
                for (const Exception& x : *r)
                    lists.add(x.move), lists.add(x.turn), lists.add(x.size), lists.add(double(x.place)),
                        lists.add(double(x.out)), lists.add(x.station.value_or(-1));
            });
        if (const auto r = parseDirection(text); true) put(r, [&] { lists.add(r->v); });
        if (const auto r = parseSeatPoint(text, Unit::Inch); true)
            put(r, [&] {
                if (const auto* at = std::get_if<Vec3>(&*r)) lists.add(*at);
                if (const auto* at = std::get_if<BoxPoint>(&*r)) lists.add(Vec3(at->x, at->y, at->z));
            });
        if (const auto r = parsePathNames(text, quay); true)
            put(r, [&] {
                for (Id id : *r) lists.add(double(id));
            });
        if (const auto r = parseSequence(text, quay); true) put(r, [&] { lists.say(sequenceText(*r, quay)); });
        if (const auto r = parseBayRules(text, Unit::Millimetre, StepOff{77}); true)
            put(r, [&] { lists.say(bayRulesText(*r, Unit::Inch)); });
    }
    // Limits of every kind of check.
    for (size_t of = 0; of < kChecks.size(); ++of)
        for (const Unit unit : {Unit::Millimetre, Unit::Inch})
            for (const char* key : {"least", "most", "margin", "on", "from", "to", "nothing"})
                for (const char* text :
                     {"none", "12", "1/2 in", "5 kg", "3 kg/m", "yes", "no", "-4", "x", "1e12", "50 %", "7 deg", ""}) {
                    Check c;
                    c.of = CheckKind(of);
                    Digest& d = now[std::string("check ") + kChecks[of].file];
                    if (const auto p = setTyped(c, unit, key, text)) d.say(p->text + p->field);
                    for (double v : {c.least.value_or(-99), c.most.value_or(-99), c.margin, double(c.on), c.from, c.to})
                        d.add(v);
                    if (const auto p = defectOf(c)) d.say(p->text + p->field);
                    d.say(limitsInWords(c).in(25.4, "in")), d.say(inWords(c, 2).in(1, "mm"));
                }
    QVERIFY(unlike("typed", now).isEmpty());
}

void TestFrozenDocuments::whatIsRefused() {
    Digests now;
    // A number, a word, a name of the file at a time is another one.
    const std::regex value(R"((-?\d+\.?\d*(e[-+]?\d+)?)|("[a-zA-Z ]+"(?!:))|true|false|null)");
    for (const std::string& text : {toJson(fullDocument()), toJson(richDocument())}) {
        std::vector<std::pair<size_t, size_t>> at;
        for (auto i = std::sregex_iterator(text.begin(), text.end(), value); i != std::sregex_iterator(); ++i)
            at.push_back({size_t(i->position()), size_t(i->length())});
        const std::vector<std::string> others{"-1",  "0",    "1e300", "\"x\"",      "null",
                                              "1.5", "true", "[]",    "3000000000", "-0.25"};
        Digest& s = now[at.size() > 2000 ? "full" : "rich"];
        s.add(double(at.size()));
        const size_t step = std::max<size_t>(1, at.size() / 1200);
        for (size_t k = 0; k < at.size(); k += step) {
            std::string broken = text;
            broken.replace(at[k].first, at[k].second, others[(k / step) % others.size()]);
            const auto d = fromJson(broken, {}, readBody);
            s.say(d ? toJson(*d) : d.problem().text + "|" + d.problem().field);
            if (!d) continue;
            if (const auto p = defectOf(*d)) s.say(p->text + p->field);
        }
    }
    QVERIFY(unlike("refused", now).isEmpty());
}

void TestFrozenDocuments::whatIsMissing() {
    // Each item taken out in turn: what the others say then.
    Digests now;
    for (const std::string name : kDemos) {
        const Document d = demo(name);
        const auto e = evaluate(d);
        std::vector<Id> all;
        for (const auto& x : d.paths) all.push_back(x->id);
        for (const auto& x : d.parts) all.push_back(x->id);
        for (const auto& x : d.bodies) all.push_back(x->id);
        for (const auto& x : d.runs) all.push_back(x->id);
        for (const Id id : all) {
            Digest& s = now[name + " without " + nameOf(d, id)];
            const auto then = evaluate(without(d, id), e);
            const auto put = [&](const auto& r) {
                if (r->problem) s.say(r->problem->text + "|" + r->problem->field);
                for (const Words& w : r->remarks) s.say(w.in(1, "mm"));
            };
            for (const auto& [i, r] : then->paths) put(r);
            for (const auto& [i, r] : then->bodies) put(r);
            for (const auto& [i, r] : then->parts)
                if (r->problem) s.say(r->problem->text + "|" + r->problem->field);
            for (const auto& r : then->runs) put(r), s.say(r->verdict.text.in(1, "mm")), s.add(double(r->verdict.mark));
        }
    }
    // Every change of every sort of path, also such that leave nothing or fall apart.
    const auto points = [](const std::vector<Vec3>& at, bool closed, bool smooth) {
        PointsRecipe r;
        r.closed = closed;
        for (const Vec3& p : at) r.points.push_back({p, smooth});
        return PathRecipe(r);
    };
    const std::map<std::string, PathRecipe> sources{
        {"narrow", points({{0, 0, 0},
                           {900, 0, 0},
                           {1200, 280, 0},
                           {1500, 0, 0},
                           {2400, 0, 0},
                           {2400, 900, 0},
                           {1500, 900, 0},
                           {1200, 620, 0},
                           {900, 900, 0},
                           {0, 900, 0}},
                          true, false)},
        {"straight up", points({{0, 0, 0}, {0, 0, 900}}, false, false)},
        {"eight",
         points({{0, 0, 0}, {700, 600, 30}, {1500, 0, 0}, {700, -500, 0}, {0, 600, 0}, {-600, 200, 20}}, true, true)},
        {"tiny", points({{0, 0, 0}, {0.4, 0.1, 0}}, false, false)},
        {"ellipse", *recipeOf("ellipse")},
        {"swag", *recipeOf("swag")}};
    for (const auto& [name, source] : sources)
        for (const char* kind : {"offset", "stretch", "backwards", "start moved", "mirrored", "projected", "resampled",
                                 "smoothed", "laid", "lifted"}) {
            Digest& s = now[name + ", " + kind];
            Document d = with(Document{}, PathItem{0, "Source", source});
            BodyItem ground;
            ground.name = "Ground";
            ground.shape = MadeGround{};
            d = with(d, ground);
            auto recipe = recipeOf(kind);
            auto& derived = std::get<DerivedRecipe>(*recipe);
            derived.source = d.paths[0]->id;
            if (auto* laid = std::get_if<LaidOn>(&derived.change)) laid->body = d.bodies[0]->id;
            for (const double by : {0.0, 170.0, -300.0, 5000.0}) {
                if (auto* o = std::get_if<OffsetOf>(&derived.change); o && by != 0) o->distance = by;
                if (auto* o = std::get_if<StretchOf>(&derived.change); o && by != 0) o->from = by, o->to = 2 * by;
                if (auto* o = std::get_if<StartMoved>(&derived.change); o && by != 0) o->station = by;
                const auto e = evaluate(with(d, PathItem{0, "Made", *recipe}));
                tell(s, *e->paths.rbegin()->second);
            }
        }
    // Walls and plates on each of them.
    for (const auto& [name, source] : sources)
        for (int k = 0; k < 3; ++k) {
            Document d = with(Document{}, PathItem{0, "Source", source});
            BodyItem body;
            body.name = "Body";
            WallAlong wall;
            wall.path = d.paths[0]->id;
            PlateOf plate;
            plate.path = d.paths[0]->id;
            if (k == 0) body.shape = wall;
            if (k == 1) wall.thickness = 35, wall.height = 700, body.shape = wall;
            if (k == 2) body.shape = plate;
            const auto e = evaluate(with(d, body));
            tell(now[name + ", bodies"], *e->bodies.begin()->second);
        }
    QVERIFY(unlike("missing", now).isEmpty());
}

void TestFrozenDocuments::whatIsNoNumber() {
    Digests now;
    const auto bad = [&](const std::string& name, const auto& item, const auto& described) {
        Digest& s = now[name];
        for (int k = 0; k < 60; ++k)
            for (const double v : {std::nan(""), 1e300}) {
                auto changed = item;
                const Bad one(k, v);
                described(one, changed);
                if (one.met <= k) return;
                const auto p = defectOf(changed);
                s.say(p ? p->text + "|" + p->field : "good");
            }
    };
    for (const std::string name : {"rules", "drives", "site"}) {
        const Document d = demo(name);
        for (const auto& x : d.paths)
            bad(name + ", " + x->name, *x, [](const Bad& b, PathItem& i) { describe(b, i.recipe); });
        for (const auto& x : d.parts)
            bad(name + ", " + x->name, *x, [](const Bad& b, PartItem& i) {
                if (auto* m = std::get_if<Maker>(&i.shape)) describe(b, *m);
                b.length("", "", "", i.size), b.length("", "", "", i.density);
                if (auto* at = std::get_if<Vec3>(&i.seat.point)) b.point("", "", "", *at);
            });
        for (const auto& x : d.bodies)
            bad(name + ", " + x->name, *x, [](const Bad& b, BodyItem& i) {
                describe(b, i);
                if (auto* m = std::get_if<Maker>(&i.shape)) describe(b, *m);
                if (auto* r = std::get_if<RailAlong>(&i.shape)) describe(b, *r);
                if (auto* w = std::get_if<WallAlong>(&i.shape)) describe(b, *w);
                if (auto* c = std::get_if<CutBy>(&i.shape)) describe(b, *c);
            });
        for (const auto& x : d.heaps)
            bad(name + ", " + x->name, *x, [](const Bad& b, HeapItem& i) {
                for (Loose& l : i.parts)
                    b.length("", "", "", l.size), b.point("", "", "", l.frame.seat),
                        b.length("", "", "", l.frame.axes(0, 1));
            });
        for (const auto& x : d.deliveries)
            bad(name + ", " + x->name, *x,
                [](const Bad& b, Delivery& i) { std::visit([&](auto& o) { describe(b, o); }, i.order); });
        for (const auto& x : d.runs)
            bad(name + ", " + x->name, *x, [](const Bad& b, RunItem& i) {
                describe(b, i.spacing), describe(b, i.facing), describe(b, i.changes), describe(b, i.uneven),
                    describe(b, i.rows);
                describe(b, i.echoes), describe(b, i.feet), describe(b, i.motion), describe(b, i.gives);
                i.checks.push_back({});
                Check& c = i.checks.back();
                b.limit("", "", "", c.least), b.limit("", "", "", c.most), b.length("", "", "", c.margin),
                    b.length("", "", "", c.to);
                i.exceptions.push_back({});
                Exception& e = i.exceptions.back();
                b.limit("", "", "", e.station), b.point("", "", "", e.move), b.turn("", "", "", e.turn),
                    b.length("", "", "", e.size);
                b.limit("", "", "", i.gives.least);
            });
    }
    QVERIFY(unlike("numbers", now).isEmpty());
}

void TestFrozenDocuments::whatIsByChance() {
    Digests now;
    const int one = qEnvironmentVariableIntValue("VICINAL_DOCUMENT");
    for (int seed = one ? one : 1; seed <= (one ? one : 240); ++seed) {
        const Document d = documentByChance(std::uint64_t(seed));
        const auto e = evaluate(d);
        const std::string name = std::to_string(seed), more = name + ", edits";
        Digests told;
        tell(told, name, e);
        Digest& all = now[name];
        for (const auto& [what, digest] : told) all.say(what), all.add(digest);
        CheckOrder few;
        for (const auto& r : e->runs)
            if (r->placed && r->placed->bodies() < 25) few.only.push_back(r->item->id);
        if (!few.only.empty()) {
            CheckMemory memory;
            const auto checked = check(e, memory, nullptr, few);
            for (const auto& [id, run] : checked->runs) tell(all, *run, *e);
        }
        now[more].say(toJson(d));
        std::set<Id> everything;
        for (Id id = 1; id < d.nextId; ++id) everything.insert(id);
        now[more].say(toJson(copied(d, everything)));
        if (d.parts.size() > 1)
            now[more].say(toJson(replaced(d, d.parts[0]->id, d.parts[1]->id, seed % 2 == 0))),
                now[more].say(toJson(movedBefore(d, {d.parts[1]->id}, d.parts[0]->id)));
        for (const auto& p : d.paths) now[more].say(toJson(withCrossingSwitched(d, p->id, 1 + seed % 2)));
        for (const auto& r : e->runs)
            if (r->placed && !r->problem && r->placed->bodies() < 100) edited(now[more], d, e, *r, seed);
        for (const auto& r : d.runs) typed(now, more, *r, d, seed, 2);
        for (const auto& b : d.bodies) typed(now, more, *b, d, seed, 2);
        for (const auto& p : d.paths) typed(now, more, *p, d, seed, 2);
        for (const auto& p : d.parts) typed(now, more, *p, d, seed, 2);
    }
    if (one)
        for (const auto& [what, digest] : now) qInfo("%s: %s", what.c_str(), digest.line().c_str());
    else
        QVERIFY(unlike("by_chance", now).isEmpty());
}

void TestFrozenDocuments::whatFollowsRuns() {
    // Rails along runs on paths of every sort, and plates and solids that runs are cut out of; most values another each
    // time.
    Digests now;
    const auto run = [](Id path, Id part, SpacingRule rule) {
        RunItem r;
        r.name = "Posts", r.path = path, r.part = part;
        r.spacing->rule = std::move(rule);
        return r;
    };
    const std::map<std::string, PathRecipe> paths{
        {"stair",
         PointsRecipe{{{{0, 0, 0}}, {{1500, 0, 0}}, {{3000, 300, 600}}, {{4200, 300, 600}}, {{4200, 1500, 900}}}}},
        {"bend",
         PointsRecipe{{{{0, 0, 0}, true}, {{1500, 600, 200}, true}, {{3000, 0, 500}, true}, {{4500, 900, 300}, true}}}},
        {"frame", *recipeOf("rectangle")},
        {"ring", *recipeOf("circle")}};
    for (const auto& [name, recipe] : paths) {
        Document d = with(Document{}, PathItem{0, "Path", recipe});
        d = with(d, PartItem{0, "Post", PlainBox{60, 60, 900}, {}});
        d = with(d, run(d.paths[0]->id, d.parts[0]->id, EvenOut{500}));
        const auto e = evaluate(d);
        for (int seed = 1; seed <= 36; ++seed) {
            Dice dice{std::uint64_t(seed)};
            RailAlong rail;
            rail.run = d.runs[0]->id;

            describe(Varied(dice, d, 4), rail);
            rail.run = d.runs[0]->id;
            if (rail.path != 0) rail.path = d.paths[0]->id;
            rail.style = RailStyle(seed % 2), rail.reach = RailReach(seed % 3 == 0 ? dice.of(3) : 0);
            rail.ends.start = RailEnd(dice.of(3)), rail.ends.end = RailEnd(dice.of(3));
            rail.count = std::min(rail.count, 3L);
            BodyItem body;
            body.name = "Rail", body.shape = rail;
            tell(now[name + ", rail " + std::to_string(seed)], *evaluate(with(d, body), e)->bodies.begin()->second);
        }
    }
    Document d = with(Document{}, PathItem{0, "Edge", *recipeOf("rectangle")});
    d = with(d, PathItem{0, "Line", PointsRecipe{{{{-250, -60, 0}}, {{100, 0, 0}}, {{300, 120, 0}}}}});
    const Id line = lastId(d);
    std::vector<Id> bodies, runs;
    for (const BodyShape& shape : {BodyShape(PlateOf{d.paths[0]->id, 12}), BodyShape(Maker(Tile{900, 600, 40, 20})),
                                   BodyShape(Maker(Cylinder{500, 60}))}) {
        BodyItem body;
        body.name = "Body", body.shape = shape, body.density = 7850;
        if (!std::holds_alternative<PlateOf>(shape)) body.at.z() = -40;
        d = with(d, body), bodies.push_back(lastId(d));
    }
    for (const Maker& maker : {Maker(RoundHole{20, 90}), Maker(SlotHole{60, 14, 30}), Maker(Notch{20, 30, 90}),
                               Maker(PlainBox{40, 30, 50}), Maker(Cylinder{30, 80})}) {
        d = with(d, PartItem{0, "Shape", maker, {}});
        RunItem r = run(line, lastId(d), ShareOut{4});
        if (runs.size() == 1) r.changes.size = {{{0, 0.6}, {400, 1.4}}};
        if (runs.size() == 2) r.facing.turn = {0, 0, 0.4};
        d = with(d, r), runs.push_back(lastId(d));
    }
    const auto e = evaluate(d);
    for (int seed = 1; seed <= 60; ++seed) {
        Dice dice{std::uint64_t(seed)};
        CutBy cut;
        describe(Varied(dice, d, 3), cut);
        cut.of = bodies[size_t(dice.of(int(bodies.size())))], cut.run = runs[size_t(dice.of(int(runs.size())))];
        cut.part = 0;
        if (dice.one(2)) cut.clearance = dice.in(-3, 6);
        if (dice.one(3)) cut.least = dice.in(2, 300);
        BodyItem body;
        body.name = "Cut", body.shape = cut;
        const auto there = evaluate(with(d, body), e);
        tell(now["cut " + std::to_string(seed)], *there->bodies.rbegin()->second);
    }
    QVERIFY(unlike("follows", now).isEmpty());
}

void TestFrozenDocuments::whatIsJudged() {
    // Runs of the demos with other rules, measures and limits: what the verdict says of them, and the table of counts.
    Digests now;
    for (const std::string name : {"rules", "drives"}) {
        const Document d = demo(name);
        const auto e = evaluate(d);
        for (const auto& r : e->runs) {
            if (!r->placed || r->problem || r->placed->bodies() > 250) continue;
            for (int seed = 1; seed <= 24; ++seed) {
                Dice dice{std::uint64_t(seed)};
                RunItem item = *r->item;
                Spacing& s = *item.spacing;
                if (seed % 2) s = switchedFrom(*r, size_t(dice.of(int(std::variant_size_v<SpacingRule>))));
                if (dice.one(3)) s.measure = Measure(dice.of(3)), s.along = Along(dice.of(2));
                if (dice.one(3)) s.ofLength = dice.in(0.7, 3);
                const double pitch = r->placed->laid->pitch;
                if (dice.one(4)) s.gapAtLeast = dice.in(0, pitch);
                if (dice.one(4)) s.gapAtMost = dice.in(0, pitch);
                if (dice.one(4)) s.pitchAtLeast = dice.in(0.8, 1.2) * pitch;
                if (dice.one(4)) s.pitchAtMost = dice.in(0.8, 1.2) * pitch;
                if (dice.one(4)) s.multiple = 2 + dice.of(2);
                if (dice.one(4)) s.bays = BayEdges(1 + dice.of(2)), s.bayStations = {700, 1900};
                if (auto* pins = std::get_if<PinToPin>(&s.rule); pins && dice.one(2)) pins->turn = dice.in(0, 0.4);
                if (auto* train = std::get_if<Coupled>(&s.rule); train && dice.one(2)) train->swing = dice.in(0, 0.4);
                if (dice.one(5)) item.leftOut = {3, 400};
                if (dice.one(6)) item.sequence.steps = {{item.part, 1, 1}, {d.parts[0]->id, 1, 1}};
                const auto now2 = evaluate(with(d, item), e)->run(item.id);
                Digest& digest = now[name + ", " + item.name];
                digest.say(now2->problem ? now2->problem->text : now2->verdict.text);
                digest.add(double(now2->verdict.mark)), digest.add(double(now2->verdict.place));
                for (int i : breaking(*now2)) digest.add(double(i));
                if (now2->problem) continue;
                if (const auto rows = fitsOf(*now2))
                    for (const Fit& f : *rows)
                        for (double v : {double(f.count), f.pitch, f.gapLeast, f.gapMost, f.leftOver, f.value,
                                         double(f.inUse + 2 * f.over + 4 * f.under)})
                            digest.add(v);
            }
        }
    }
    QVERIFY(unlike("judged", now).isEmpty());
}

void TestFrozenDocuments::whatIsLifted() {
    // Paths that cross themselves and one another, lifted; and runs that something gives way for.
    Digests now;
    for (int seed = 1; seed <= 60; ++seed) {
        Dice dice{std::uint64_t(seed)};
        PointsRecipe r;
        const int n = 5 + dice.of(3);
        for (int i = 0; i < n; ++i) // to and fro across its own middle
            r.points.push_back(
                {{dice.in(-500, 500), (i % 2 ? 1 : -1) * dice.in(150, 500), dice.one(3) ? 30.0 : 0.0}, seed % 3 > 0});
        r.closed = dice.one(3);
        Document d = with(Document{}, PathItem{0, "Crossing", r});
        d = with(d, PathItem{0, "Other", PointsRecipe{{{{-700, 30, 0}}, {{700, -40, 0}}}}});
        LiftedOver lifted;
        lifted.thickness = dice.in(5, 40), lifted.ease = dice.in(30, 250), lifted.top = OnTop(dice.of(3));
        if (dice.one(3)) lifted.switched = {1, 3};
        if (dice.one(4)) lifted.other = d.paths[1]->id;
        d = with(d, PathItem{0, "Lifted", DerivedRecipe{d.paths[0]->id, lifted}});
        const auto e = evaluate(d);
        tell(now["lifted " + std::to_string(seed)], *e->paths.rbegin()->second);
    }
    for (int seed = 1; seed <= 40; ++seed) {
        Dice dice{std::uint64_t(seed)};
        ShapeRecipe shape;
        shape.shape = dice.any<Shape>();
        Document d = with(Document{}, PathItem{0, "Path", shape});
        d = with(d, PathItem{0, "Rail", PointsRecipe{{{{700, -300, 0}}, {{760, 300, 0}}}}});
        d = with(d, dice.one(2) ? PartItem{0, "Link", RoundLink{}, {}} : PartItem{0, "Box", PlainBox{40, 20, 20}, {}});
        RunItem item;
        item.path = d.paths[0]->id, item.part = d.parts[0]->id;
        item.spacing->rule = std::holds_alternative<RoundLink>(std::get<Maker>(d.parts[0]->shape)) && dice.one(2)
                                 ? SpacingRule(PinToPin{})
                                 : SpacingRule(StepOff{dice.in(45, 90)});
        const bool wheels = std::holds_alternative<WheelShape>(shape.shape);
        item.gives.what = wheels ? Gives::Wheel : Gives::Value;
        item.gives.value = std::array{"radius", "length", "width", "height", "diameter", "rise"}[size_t(dice.of(6))];
        item.gives.wheel = 1 + dice.of(2), item.gives.moves = WheelMoves(dice.of(3)), item.gives.along = d.paths[1]->id;
        item.gives.heading = dice.in(-2, 2), item.gives.pivot = {dice.in(0, 500), 300, 0};
        if (dice.one(3)) item.gives.least = -30, item.gives.most = 200;
        if (dice.one(3)) item.gives.count = 30 + dice.of(40);
        d = with(d, item);
        const auto e = evaluate(d);
        tell(now["gives " + std::to_string(seed)], *e->paths.begin()->second);
        tell(now["gives " + std::to_string(seed)], *e->runs.front());
    }
    QVERIFY(unlike("lifted", now).isEmpty());
}

VICINAL_SUITE(TestFrozenDocuments)

} // namespace test_frozen_documents
#include "test_frozen_documents.moc"
