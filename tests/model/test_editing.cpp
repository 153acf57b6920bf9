// Random editing: hundreds of edits, good and bad, must leave undo, files and step-by-step evaluation in agreement.
#include "layout/spacing/rules.h"
#include "model/document/history.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "suite.h"

namespace test_editing {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// One random edit; about one in six asks for something that cannot be met.
Document randomEdit(const Document& d, std::mt19937& random) {
    const auto number = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    const auto pick = [&](int n) { return int(random() % unsigned(n)); };
    const bool bad = pick(6) == 0;
    switch (pick(9)) {
    case 0: {
        PathItem p;
        auto& r = std::get<PointsRecipe>(p.recipe);
        const int n = bad ? pick(2) : 2 + pick(6);
        for (int i = 0; i < n; ++i) r.points.push_back({{number(-9e3, 9e3), number(-9e3, 9e3), number(-900, 900)}});
        r.closed = n > 2 && pick(2);
        return with(d, p);
    }
    case 1:
        if (pick(2)) return with(d, PartItem{0, "", Plank{number(1, 2000), bad ? -1 : number(1, 300), 28}, {}});
        return with(d, PartItem{0, "", Baluster{bad ? NAN : number(1, 60), 20, 900}, {Vec3(number(-9, 9), 0, 0)}});
    case 2: {
        RunItem r;
        if (!d.paths.empty()) r.path = d.paths[pick(int(d.paths.size()))]->id;
        if (!d.parts.empty()) r.part = d.parts[pick(int(d.parts.size()))]->id;
        r.spacing->rule = alternative<SpacingRule>(size_t(pick(3)));
        return with(d, r);
    }
    case 3:
        if (d.paths.empty()) break;
        if (auto p = *d.paths[pick(int(d.paths.size()))]; auto* r = std::get_if<PointsRecipe>(&p.recipe)) {
            if (r->points.empty()) break;
            auto& point = r->points[pick(int(r->points.size()))];
            point.at = bad ? Vec3(NAN, 0, 0) : Vec3(number(-9e3, 9e3), number(-9e3, 9e3), number(-900, 900));
            point.smooth = pick(3);
            return with(d, p);
        }
        break;
    case 4: {
        std::vector<Id> all;
        for (const auto& x : d.paths) all.push_back(x->id);
        for (const auto& x : d.parts) all.push_back(x->id);
        for (const auto& x : d.runs) all.push_back(x->id);
        return all.size() > 9 || (bad && !all.empty()) ? without(d, all[pick(int(all.size()))]) : d;
    }
    default:
        if (d.runs.empty()) break;
        RunItem r = *d.runs[pick(int(d.runs.size()))];
        switch (pick(14)) {
        case 0: r.spacing->rule = StepOff{bad ? -number(0, 9) : number(20, 900)}; break;
        case 1: r.spacing->rule = ShareOut{bad ? pick(2) * 20'000'000L : 2 + pick(90)}; break;
        case 2: r.spacing->insetStart = bad ? 1e6 : number(0, 90); break;
        case 3: r.facing.crown = alternative<CrownRule>(size_t(pick(5))); break;
        case 4: r.spacing = switched(r.spacing, size_t(pick(6))), r.spacing->measure = Measure(pick(3)); break;
        case 5: r.leftOut = {1 + pick(5), 7 + pick(200)}; break;
        case 6: // bays, also between a run's own places or in a circle
            r.spacing->bays = BayEdges(pick(4));
            r.spacing->bayRun = bad ? r.id : d.runs[size_t(pick(int(d.runs.size())))]->id;
            r.spacing->bayStations = {number(0, 900), bad ? 1e7 : number(0, 900)};
            break;
        case 7:
            r.spacing->rule = Graded{{{{0, bad ? 0 : number(20, 90)}, {900, number(20, 90)}}, pick(2) == 0}, pick(9)};
            break;
        case 8: r.spacing->rule = Listed{{0, number(1, 90), bad ? 1.0 : number(100, 190)}, pick(2) == 0}; break;
        case 9:
            r.changes.size = {{{0, bad ? -1.0 : 1.0}, {500, number(1, 3)}}};
            r.changes.roll = {{{number(0, 50), number(-3, 3)}}, true};
            break;
        case 10:
            r.sequence.steps = {{r.part, 1 + pick(3), 1}, {bad ? Id(99'999) : r.part, 1, 2}};
            r.sequence.byWeight = pick(2) == 0;
            break;
        case 11:
            r.exceptions = {{1 + pick(9), {}, pick(2) == 0, bad ? Id(99'999) : r.part, Vec3(1, 2, 3)},
                            {0, number(0, 2000), false, 0, Vec3(0, 5, 0)}};
            break;
        case 12: r.rows = {bad ? 0 : 1 + pick(3), 1 + pick(2), 100, 50, pick(2) == 0}; break;
        case 13:
            r.echoes.one.kind = EchoKind(pick(4));
            r.echoes.one.count = bad ? 5'000'000 : 2 + pick(2);
            r.spacing->from = pick(2) ? std::optional(number(0, 300)) : std::nullopt;
            break;
        }
        return with(d, r);
    }
    return d;
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
    std::mt19937 random(3);
    History h;
    std::vector<std::string> seen{toJson(h.now())};
    for (int i = 0; i < 300; ++i) {
        if (random() % 4 == 0 && h.canUndo()) { // a walk back and forth, then perhaps another branch
            h.undo();
            QCOMPARE(toJson(h.now()), seen[h.index()]);
            if (random() % 2) {
                h.redo();
                QCOMPARE(toJson(h.now()), seen[h.index()]);
            }
            continue;
        }
        h.push(randomEdit(h.now(), random), "edit " + std::to_string(i));
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
    for (unsigned seed = 1; seed <= 5; ++seed) {
        std::mt19937 random(seed);
        Document d;
        std::shared_ptr<const Evaluation> kept;
        for (int i = 0; i < 150; ++i) {
            const Document before = d;
            d = randomEdit(d, random);
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
            }
            for (const auto& [id, path] : kept->paths) QVERIFY(same(path->problem, fresh->paths.at(id)->problem));
        }
    }
    QVERIFY(good > 300 && wrong > 100); // both kinds were really met
}

void TestEditing::everyDocumentSurvivesItsFile() {
    std::mt19937 random(11);
    QTemporaryDir dir;
    const std::string file = dir.filePath("random.vicinal").toStdString();
    Document d;
    int saved = 0;
    for (int i = 0; i < 60; ++i) {
        for (int k = 0; k < 4; ++k) {
            const Document next = randomEdit(d, random);
            const std::string text = toJson(next); // JSON has no NaN: such a document is not one to be saved
            if (text.find("null") == std::string::npos) d = next;
        }
        if (const auto problem = saveDocument(d, file)) QFAIL(problem->text.c_str());
        const auto back = openDocument(file, readBody);
        QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
        QCOMPARE(toJson(*back), toJson(d));
        QCOMPARE(back->nextId, d.nextId);
        ++saved;
    }
    QCOMPARE(saved, 60);
}

VICINAL_SUITE(TestEditing)

} // namespace test_editing
#include "test_editing.moc"
