// Random editing: hundreds of edits, good and bad, must leave undo, files and step-by-step evaluation in agreement.
#include "chance.h"
#include "layout/spacing/rules.h"
#include "model/document/defects.h"
#include "model/document/history.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "suite.h"
#include "support.h"

namespace test_editing {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A number of a run at a time is none, out of reach or below zero.
struct Spoiled : IgnoreValues {
    Dice& dice;
    explicit Spoiled(Dice& by) : dice(by) {}
    double bad() const { return std::array{double(NAN), 1e300, -9.0, 0.0}[size_t(dice.of(4))]; }
    void length(const char*, const char*, const char*, double& v) const {
        if (dice.one(3)) v = bad();
    }
    void number(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void limit(const char*, const char*, const char*, std::optional<double>& v) const {
        if (dice.one(3)) v = bad();
    }
    void count(const char*, const char*, const char*, long& v) const {
        if (dice.one(3)) v = dice.one(2) ? 20'000'000 : -1;
    }
    void item(const char*, const char*, const char*, Id& v, ItemKind) const {
        if (dice.one(3)) v = 99'999;
    }
};

template<class Item> const Item& oneOf(Dice& dice, const std::vector<std::shared_ptr<const Item>>& all) {
    return *all[size_t(dice.of(int(all.size())))];
}

/// One random edit, of everything there is; about one in eight asks for something that cannot be met.
Document randomEdit(const Document& d, Dice& dice) {
    const bool bad = dice.one(8);
    const int n = d.runs.empty() ? dice.of(9) : dice.of(18);
    switch (n) {
    case 0: {
        PathItem p = pathByChance(dice, d);
        if (bad) describe(Spoiled(dice), p.recipe);
        return with(d, p);
    }
    case 1: {
        PartItem p = partByChance(dice, d);
        if (auto* m = std::get_if<Maker>(&p.shape); m && bad) describe(Spoiled(dice), *m);
        return with(d, p);
    }
    case 2: {
        BodyItem b = bodyByChance(dice, d);
        if (bad) describe(Spoiled(dice), b);
        return with(d, b);
    }
    case 3: return dice.one(3) ? with(d, heapByChance(dice, d)) : d;
    case 4: // what is there already
        if (!d.paths.empty()) {
            PathItem p = oneOf(dice, d.paths);
            describe(Varied(dice, d, 5), p.recipe);
            if (auto* r = std::get_if<PointsRecipe>(&p.recipe); r && !r->points.empty())
                r->points[size_t(dice.of(int(r->points.size())))].at =
                    bad ? Vec3(NAN, 0, 0) : Vec3(dice.in(-900, 2000), dice.in(-900, 900), dice.in(-90, 90));
            return with(d, p);
        }
        return d;
    case 5:
        if (!d.parts.empty()) {
            PartItem p = oneOf(dice, d.parts);
            if (auto* m = std::get_if<Maker>(&p.shape)) describe(Varied(dice, d, 3), *m);
            p.size *= dice.in(0.8, 1.3);
            return with(d, p);
        }
        return d;
    case 6:
        if (!d.bodies.empty()) {
            BodyItem b = oneOf(dice, d.bodies);
            describe(Varied(dice, d, 3), b);
            return with(d, b);
        }
        return d;
    case 7: {
        std::vector<Id> all;
        for (const auto& x : d.paths) all.push_back(x->id);
        for (const auto& x : d.parts) all.push_back(x->id);
        for (const auto& x : d.bodies) all.push_back(x->id);
        for (const auto& x : d.runs) all.push_back(x->id);
        for (const auto& x : d.heaps) all.push_back(x->id);
        return all.size() > 11 || (bad && !all.empty()) ? without(d, all[size_t(dice.of(int(all.size())))]) : d;
    }
    case 8:
    case 9: return d.runs.size() < 8 ? with(d, runByChance(dice, d)) : d;
    default:
        if (d.runs.empty()) return d;
        RunItem r = oneOf(dice, d.runs);
        changedByChance(r, dice, d);
        if (bad) {
            const Spoiled spoiled(dice);
            switch (dice.of(7)) {
            case 0: std::visit([&](auto& rule) { describe(spoiled, rule); }, r.spacing->rule); break;
            case 1: describeShared(spoiled, *r.spacing); break;
            case 2: describe(spoiled, r.facing); break;
            case 3: describe(spoiled, r.rows); break;
            case 4: describe(spoiled, r.echoes); break;
            case 5: describe(spoiled, r.feet); break;
            default: r.spacing->bays = BayEdges::Run, r.spacing->bayRun = r.id; break; // between its own places
            }
        }
        return with(d, r);
    }
}

bool same(const std::optional<Problem>& a, const std::optional<Problem>& b) {
    return bool(a) == bool(b) && (!a || (a->text == b->text && a->field == b->field));
}

} // namespace

class TestEditing : public QObject {
    Q_OBJECT
private slots:
    void undoLeadsBackThroughTheSameDocuments();
    void stepByStepAgreesWithAllAtOnce();
    void everyDocumentSurvivesItsFile();
};

void TestEditing::undoLeadsBackThroughTheSameDocuments() {
    Dice dice(3);
    History h;
    std::vector<std::string> seen{toJson(h.now())};
    for (int i = 0; i < 300; ++i) {
        if (dice.one(4) && h.canUndo()) { // a walk back and forth, then perhaps another branch
            h.undo();
            QCOMPARE(toJson(h.now()), seen[h.index()]);
            if (dice.one(2)) {
                h.redo();
                QCOMPARE(toJson(h.now()), seen[h.index()]);
            }
            continue;
        }
        h.push(randomEdit(h.now(), dice), "edit " + std::to_string(i));
        seen.resize(h.index());
        seen.push_back(toJson(h.now()));
        QCOMPARE(h.size(), h.index() + 1);
    }
    while (h.canUndo()) {
        h.undo();
        QCOMPARE(toJson(h.now()), seen[h.index()]);
    }
    QCOMPARE(h.index(), size_t(0));
    while (h.canRedo()) h.redo();
    QCOMPARE(toJson(h.now()), seen.back());
}

void TestEditing::stepByStepAgreesWithAllAtOnce() {
    int good = 0, wrong = 0;
    for (unsigned seed = 1; seed <= 6; ++seed) {
        Dice dice(seed);
        Document d;
        std::shared_ptr<const Evaluation> kept;
        for (int i = 0; i < rounds(150); ++i) {
            const Document before = d;
            d = randomEdit(d, dice);
            if (kept && dice.one(3)) // what is wrong stays so whatever else is changed: now and then it goes
                for (const auto& r : kept->runs)
                    if (r->problem && d.run(r->item->id)) {
                        d = without(d, r->item->id);
                        break;
                    }
            kept = evaluate(d, kept);
            const auto fresh = evaluate(d);
            QCOMPARE(kept->runs.size(), d.runs.size());
            for (size_t k = 0; k < d.runs.size(); ++k) {
                const RunResult &a = *kept->runs[k], &b = *fresh->runs[k];
                QCOMPARE(a.item.get(), d.runs[k].get());
                if (!same(a.problem, b.problem))
                    QFAIL(qPrintable(QString("seed %1, step %2: \"%3\" or \"%4\"")
                                         .arg(seed)
                                         .arg(i)
                                         .arg(a.problem ? a.problem->text.c_str() : "")
                                         .arg(b.problem ? b.problem->text.c_str() : "")));
                ++(b.problem ? wrong : good);
                if (b.problem) {
                    QVERIFY(!b.problem->text.empty() && b.problem->text.back() == '.');
                    continue; // what is kept is the last good result: the fresh one has none
                }
                QVERIFY(a.placed->stations() == b.placed->stations());
                for (size_t n = 0; n < a.placed->count(); ++n) {
                    QVERIFY(a.placed->pose(n) == b.placed->pose(n));
                    QVERIFY(a.placed->pose(n).allFinite());
                }
                QCOMPARE(a.placed->present, b.placed->present);
                QCOMPARE(a.verdict.text, b.verdict.text);
                QCOMPARE(bool(a.sweeps), bool(b.sweeps));
                if (a.sweeps) QVERIFY(a.sweeps->left == b.sweeps->left && a.sweeps->right == b.sweeps->right);
                QCOMPARE(a.remarks.size(), b.remarks.size());
                for (size_t n = 0; n < a.remarks.size(); ++n) QCOMPARE(a.remarks[n], b.remarks[n]);
            }
            for (const auto& [id, path] : kept->paths) {
                const PathResult &a = *path, &b = *fresh->paths.at(id);
                QVERIFY(same(a.problem, b.problem));
                QVERIFY(same(a.cannotGive, b.cannotGive));
                QCOMPARE(bool(a.gave), bool(b.gave));
                if (a.gave) QCOMPARE(a.gave->after, b.gave->after);
                if (!b.problem) QCOMPARE(a.path->length(), b.path->length());
            }
            for (const auto& [id, part] : kept->parts) QVERIFY(same(part->problem, fresh->parts.at(id)->problem));
            for (const auto& [id, body] : kept->bodies) {
                const BodyResult &a = *body, &b = *fresh->bodies.at(id);
                QVERIFY(same(a.problem, b.problem));
                if (b.problem || !b.body) continue;
                QVERIFY(a.home == b.home && a.body->mesh->points == b.body->mesh->points);
                QCOMPARE(a.verdict.text, b.verdict.text);
            }
            QCOMPARE(kept->heaps.size(), fresh->heaps.size());
        }
    }
    QVERIFY2(good > rounds(150) / 2 && wrong > rounds(100) / 2,
             qPrintable(QString("%1, %2").arg(good).arg(wrong))); // both were really met
}

void TestEditing::everyDocumentSurvivesItsFile() {
    Dice dice(11);
    QTemporaryDir dir;
    const std::string file = dir.filePath("random.vicinal").toStdString();
    Document d;
    int saved = 0;
    for (int i = 0; i < rounds(60); ++i) {
        for (int k = 0; k < 4; ++k) {
            const Document next = randomEdit(d, dice);
            if (!defectOf(next)) d = next; // no file takes what is no number
        }
        if (const auto problem = saveDocument(d, file)) QFAIL(problem->text.c_str());
        const auto back = openDocument(file, readBody);
        QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
        QCOMPARE(toJson(*back), toJson(d));
        QCOMPARE(back->nextId, d.nextId);
        ++saved;
    }
    QCOMPARE(saved, rounds(60));
}

VICINAL_SUITE(TestEditing)

} // namespace test_editing
#include "test_editing.moc"
