// The demo's documents, against what was said of them before: see frozen.h. All that is worked out, checked, edited,
// typed and refused; that it is right is for the other suites.
#include "documents.h"
#include "frozen.h"
#include "layout/spacing/rules.h"
#include "model/checks/checked.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/heap.h"
#include "model/edits/profile_edits.h"
#include "model/edits/release.h"
#include "model/edits/reverse.h"
#include "model/edits/run_edits.h"
#include "model/edits/stand_alone.h"
#include "model/edits/typed/typed_values.h"
#include "model/edits/yard_edits.h"
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
template<class Item> void typed(Digests& now, const std::string& name, const Item& item, const Document& d, int which) {
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
        for (int n = 0; n < 9; ++n) {
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

} // namespace

class TestFrozenDocuments : public QObject {
    Q_OBJECT
private slots:
    void whatIsWorkedOut();
    void whatIsEdited();
    void whatIsTyped();
    void whatIsRefused();
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
            Digest& s = now[name + ", " + r->item->name];
            const auto put = [&](const RunItem& item) { s.say(toJson(with(alone(d), item))); };
            if (!r->placed || r->problem) continue;
            for (const PathStays stays : {PathStays::Kept, n % 2 ? PathStays::Hidden : PathStays::Gone}) {
                const auto out = released(d, *r, stays);
                if (!out) {
                    s.say(out.problem().text);
                    continue;
                }
                s.say(toJson(*out));
                if (stays != PathStays::Kept) continue;
                const Id heap = lastId(*out);
                Mat3 R = Eigen::AngleAxisd(0.4, Vec3::UnitZ()).toRotationMatrix();
                if (const auto moved = movedLoose(*out, heap, {0, 2}, {5, 6, 7}, R, {100, 0, 0}))
                    for (const auto& h : evaluate(*moved, e)->heaps) tell(s, *h);
                if (const auto fewer = withoutLoose(*out, heap, {1})) s.say(toJson(*fewer));
                if (const auto other = swappedLoose(*out, heap, {0, 1}, d.parts.back()->id)) s.say(toJson(*other));
            }
            s.say(toJson(reversed(d, *r)));
            s.say(toJson(withStandingAlone(d, *r)));
            for (size_t rule = 0; rule < std::variant_size_v<SpacingRule>; ++rule) {
                RunItem item = *r->item;
                item.spacing = switchedFrom(*r, rule);
                put(item);
            }
            if (r->part) {
                RunItem item = *r->item;
                item.spacing = firstSpacing(*r->part, r->placed->path);
                put(item);
            }
            RunItem counted = *r->item;
            takeCount(counted, 7);
            put(counted);
            for (const bool byStation : {false, true}) {
                put(excepted(*r, {1, 3}, byStation, [](Exception& x) { x.move.z() += 5, x.size = 1.2; }));
                put(bound(*r, {0, 1, 2, 3}, byStation));
            }
            for (const auto& places : {everyNth(*r, 3, 2), breaking(*r), onCorners(*r), betweenStations(*r, 500, 1500)})
                for (int i : places) s.add(double(i));
            for (const auto& [i, x] : exceptionsOf(*r)) s.add(double(i)), s.add(x.move), s.add(exceptionAt(*r, i).size);
            const double L = r->placed->path.length();
            for (const char* profile : kProfiles) {
                RunItem item = *r->item;
                Profile* p = profileOf(item, profile);
                if (!p) continue;
                emphasise(*p, 0.3 * L, 200, 1.4, L, r->placed->path.closed(), otherwiseOf(profile));
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
            s.say(toJson(with(d, resized(*p, 1.5))));
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
        const size_t step = std::max<size_t>(1, at.size() / 700);
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

VICINAL_SUITE(TestFrozenDocuments)

} // namespace test_frozen_documents
#include "test_frozen_documents.moc"
