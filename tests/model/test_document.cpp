// The document as a value: evaluation shares what did not change, history, files that survive and files that do not.
#include "exchange/out/send_out.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/delivery/formats.h"
#include "model/delivery/orders.h"
#include "model/document/history.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/file/json/schema.h"
#include "suite.h"
#include <QFile>
#include <QProcess>
#include <set>
#include <sys/stat.h>
#include <unistd.h>

namespace test_document {

using namespace vicinal;
using namespace vicinal::test;

class TestDocument : public QObject {
    Q_OBJECT
private slots:
    void namesAndIdsStayUnique();
    void evaluationSharesWhatDidNotChange();
    void lastGoodResultStays();
    void historyMergesADragAndForgetsTheUndone();
    void looseParts();
    void fileRoundTripIsExact();
    void bareJsonOpensWithItsAssets();
    void frozenFilesOfEveryVersion_data();
    void frozenFilesOfEveryVersion();
    void whatIsLeftOutTakesItsDefault();
    void rulesNotInUseKeepTheirNumbers();
    void schemaIsTheOneInTheDocs();
    void schemaAcceptsWhatIsWritten();
    void damagedFilesAreNamed_data();
    void damagedFilesAreNamed();
    void everyCutOffIsRefusedWithoutACrash();
    void savingFailsWithoutHarm();
    void whatAPictureLeavesOut();
    void formatsStandInOneTable();
    void deliveriesThatCannotBeAreNamed();
};

void TestDocument::namesAndIdsStayUnique() {
    Document d;
    for (int i = 0; i < 3; ++i) d = with(d, PartItem{0, "Post", Baluster{}, {}});
    QCOMPARE(d.parts[1]->name, std::string("Post 2"));
    QCOMPARE(d.parts[2]->name, std::string("Post 3"));
    d = without(d, 2);
    d = with(d, PathItem{});
    QCOMPARE(d.paths[0]->id, 4); // 2 is not used again
    QCOMPARE(d.paths[0]->name, std::string("Path 1"));
    for (const char* name : {"Fence", "Rail", "Steps"}) {
        RunItem run;
        run.name = name;
        run.path = 4;
        run.part = 1;
        d = with(d, run);
    }
    for (const char* name : {"Fence", "Rail", "Steps"}) QCOMPARE(d.run(std::string(name))->name, std::string(name));
    QVERIFY(!d.run(std::string("Gate")));
}

void TestDocument::evaluationSharesWhatDidNotChange() {
    const Document a = richDocument();
    const auto before = evaluate(a);
    QVERIFY(before->runs[0]->placed && before->runs[1]->placed && before->runs[2]->placed);
    RunItem r = *a.runs[1];
    r.spacing->rule = ShareOut{20, ShareEnds::HalfPitchIn};
    const Document b = with(a, r);
    const auto after = evaluate(b, before);
    QCOMPARE(after->runs[0], before->runs[0]); // the very same objects
    QCOMPARE(after->paths.at(1), before->paths.at(1));
    QVERIFY(after->runs[1] != before->runs[1]);
    QCOMPARE(after->runs[1]->placed->count(), size_t(20));
    QCOMPARE(before->runs[1]->placed->count(), size_t(8)); // the old value still says what it said
    QCOMPARE(b.paths[0].get(), a.paths[0].get());
    // A part's size changes its runs and nothing else.
    PartItem part = *a.parts[0];
    std::get<Baluster>(std::get<Maker>(part.shape)).width = 99;
    const auto resized = evaluate(with(a, part), before);
    QVERIFY(resized->runs[0] != before->runs[0]);
    QCOMPARE(resized->runs[1], before->runs[1]);
}

void TestDocument::lastGoodResultStays() {
    const Document a = richDocument();
    const auto good = evaluate(a);
    RunItem r = *a.runs[0];
    r.spacing->rule = StepOff{-1};
    const auto bad = evaluate(with(a, r), good);
    QVERIFY(bad->runs[0]->stale());
    QCOMPARE(bad->runs[0]->problem->field, std::string("pitch"));
    QCOMPARE(bad->runs[0]->placed, good->runs[0]->placed);
    const auto orphan = evaluate(without(a, 1), good);
    QCOMPARE(orphan->runs[0]->problem->field, std::string("path"));
    QVERIFY(orphan->runs[0]->placed);
    PathItem path = *a.paths[0];
    for (auto& p : std::get<PointsRecipe>(path.recipe).points) p.at = Vec3(1, 1, 1);
    const auto flat = evaluate(with(a, path), good);
    QVERIFY(flat->paths.at(1)->problem && flat->paths.at(1)->path);
    QVERIFY(flat->runs[0]->stale() && flat->runs[0]->placed);
}

void TestDocument::historyMergesADragAndForgetsTheUndone() {
    History h;
    const auto step = [&](const char* name, const char* merge = "") { h.push(with(h.now(), PathItem{}), name, merge); };
    step("first");
    step("drag", "d1");
    step("drag", "d1");
    step("drag", "d1");
    QCOMPARE(h.size(), size_t(3)); // empty, first, drag
    QCOMPARE(h.now().paths.size(), size_t(4));
    h.seal();
    step("drag", "d1");
    QCOMPARE(h.size(), size_t(4));
    h.markSaved();
    h.undo();
    QVERIFY(!h.saved());
    QCOMPARE(h.now().paths.size(), size_t(4));
    h.undo();
    QCOMPARE(h.now().paths.size(), size_t(1));
    QCOMPARE(h.redoName(), std::string("drag"));
    step("other");
    QVERIFY(!h.canRedo());
    QVERIFY(!h.saved());
    step("drag", "d2");
    h.undo();
    const size_t steps = h.size();
    h.goTo(steps - 1); // there and back again: what is dragged now is another drag
    step("drag", "d2");
    QCOMPARE(h.size(), steps + 1);
    h.goTo(0);
    QVERIFY(h.now().paths.empty());
    History only; // the first step of all is a drag, too
    for (int k = 0; k < 3; ++k) only.push(with(only.now(), PathItem{}), "drag", "d1");
    QCOMPARE(only.size(), size_t(2));
    QCOMPARE(only.now().paths.size(), size_t(3));
}

void TestDocument::looseParts() {
    Document d = with(Document(), PartItem{0, "Box", Maker(PlainBox{}), {}});
    d = with(d, PathItem{0, "Line", ShapeRecipe{}});
    RunItem run;
    run.path = 2, run.part = 1, run.name = "Run";
    d = with(d, run);
    HeapItem heap;
    heap.name = "Heap";
    for (int k = 0; k < 3; ++k) {
        Loose l;
        l.part = 1;
        l.frame.seat = Vec3(10 * k, 5, -k);
        l.frame.axes = Eigen::AngleAxisd(0.4 * k, Vec3(1, 2, 3).normalized()).toRotationMatrix();
        l.place = k + 4;
        heap.parts.push_back(l);
    }
    d = with(d, heap);
    const std::string text = toJson(d);
    const auto back = fromJson(text, {}, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QCOMPARE(back->heaps[0]->parts.size(), size_t(3));
    for (size_t k = 0; k < 3; ++k) {
        const Loose &a = back->heaps[0]->parts[k], &b = heap.parts[k];
        NEAR((a.frame.seat - b.frame.seat).norm() + (a.frame.axes - b.frame.axes).norm(), 0, 1e-12);
        QCOMPARE(a.place, b.place);
    }
    // What a file says wrong is named.
    const size_t last = text.rfind("\"turn\"");
    const size_t open = text.find('[', last), comma = text.find(',', open);
    const std::string number = text.substr(open, comma - open);
    for (const char* wrong : {"[2.0", "[0.0", "[-3.0"}) {
        std::string other = text;
        const auto r = fromJson(other.replace(open, number.size(), wrong), {}, readBody);
        QVERIFY2(!r && r.problem().text.find("needs a unit quaternion for \"turn\"") != std::string::npos,
                 r ? "read" : r.problem().text.c_str());
    }
    const size_t word = text.find(": \"", text.find("\"rule\"", text.find("\"runs\""))) + 3;
    std::string other = text;
    const auto unknown = fromJson(other.replace(word, other.find('"', word) - word, "nonsense"), {}, readBody);
    QVERIFY2(!unknown &&
                 unknown.problem().text.find(" has \"nonsense\" for \"rule\", which is not known") != std::string::npos,
             unknown ? "read" : unknown.problem().text.c_str());
}

void TestDocument::fileRoundTripIsExact() {
    QTemporaryDir dir;
    const Document d = richDocument();
    const std::string path = dir.filePath("all.vicinal").toStdString();
    QVERIFY(!saveDocument(d, path));
    const auto back = openDocument(path, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QCOMPARE(toJson(*back), toJson(d)); // every number to the last bit
    const auto a = evaluate(d), b = evaluate(*back);
    for (int i = 0; i < 3; ++i) {
        QCOMPARE(a->runs[i]->placed->stations(), b->runs[i]->placed->stations());
        for (size_t k = 0; k < a->runs[i]->placed->count(); ++k)
            QVERIFY(a->runs[i]->placed->pose(k) == b->runs[i]->placed->pose(k));
    }
    // The same document saves to the same bytes, and another reader of zip files sees the parts.
    const std::string again = dir.filePath("again.vicinal").toStdString();
    QVERIFY(!saveDocument(d, again));
    QCOMPARE(*readFile(path), *readFile(again));
    QProcess python;
    python.start("python3", {"-c",
                             "import zipfile,sys; z=zipfile.ZipFile(sys.argv[1]); print(z.testzip(), "
                             "sorted({n.split('/')[0] for n in z.namelist()}))",
                             QString::fromStdString(path)});
    QVERIFY(python.waitForFinished());
    QCOMPARE(QString(python.readAllStandardOutput()).trimmed(), QString("None ['assets', 'document.json']"));
}

void TestDocument::bareJsonOpensWithItsAssets() {
    QTemporaryDir dir;
    const Document d = richDocument();
    const std::string json = toJson(d), path = writeText(dir, "document.json", json);
    auto missing = openDocument(path, readBody);
    QVERIFY(!missing && missing.problem().text.find("which is missing") != std::string::npos);
    QDir(dir.path()).mkdir("assets");
    for (const auto& [name, bytes] : assetsOf(d)) writeText(dir, name.c_str(), *bytes);
    const auto back = openDocument(path, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QCOMPARE(toJson(*back), json);
    // Version 1 had the same points and curves; it is read and saved as today's.
    PathItem line;
    line.recipe = PointsRecipe{{{{0, 0, 0}}, {{100, 0, 0}, false}}, false, Knotting::Centripetal};
    const std::string now = toJson(with(Document{}, line));
    std::string old = now;
    old.replace(old.find("\"version\": 5"), 12, "\"version\": 1");
    const auto first = openDocument(writeText(dir, "first.json", old), readBody);
    QVERIFY2(bool(first), first ? "" : first.problem().text.c_str());
    QCOMPARE(toJson(*first), now);
}

void TestDocument::frozenFilesOfEveryVersion_data() {
    QTest::addColumn<QString>("file");
    for (const char* file : {"v1.json", "v2.json", "v3.vicinal", "v4.vicinal", "v5.vicinal"})
        QTest::newRow(file) << file;
}

/// Documents as earlier versions shipped or wrote them, with the places their program gave: the same to the last digit.
void TestDocument::frozenFilesOfEveryVersion() {
    QFETCH(QString, file);
    const std::string folder = VICINAL_SOURCE "/tests/model/frozen/";
    const auto d = openDocument(folder + file.toStdString(), readBody);
    QVERIFY2(bool(d), d ? "" : d.problem().text.c_str());
    const auto e = evaluate(*d);
    for (const auto& r : e->runs) QVERIFY2(!r->problem, r->problem ? r->problem->text.c_str() : "");
    QCOMPARE(scheduleCsv(asStanding(e->runs)),
             *readFile(folder + file.section('.', 0, 0).toStdString() + "-places.csv"));
    // Rules that were not in use are kept; "ends" was Share out's alone, the others had their places at the ends.
    for (const auto& r : d->runs) {
        const bool old = file < "v4";
        if (old) QCOMPARE(r->spacing->kept.size(), size_t(2));
        for (const SpacingRule& rule : r->spacing->kept)
            if (const auto* even = std::get_if<EvenOut>(&rule); even && old) QVERIFY(even->ends == ShareEnds::AtEnds);
    }
    // Saved as of today it is the same document.
    const auto again = fromJson(
        toJson(*d),
        [&](const std::string& name) -> std::optional<std::string> {
            for (const auto& [asset, bytes] : assetsOf(*d))
                if (asset == name) return *bytes;
            return std::nullopt;
        },
        readBody);
    QVERIFY2(bool(again), again ? "" : again.problem().text.c_str());
    QCOMPARE(toJson(*again), toJson(*d));
    for (size_t i = 0; i < d->runs.size(); ++i) QVERIFY(again->runs[i]->spacing == d->runs[i]->spacing);
}

void TestDocument::whatIsLeftOutTakesItsDefault() {
    const auto d = fromJson(R"({"format": "vicinal", "version": 4,
        "paths": [{"id": 1, "name": "Line", "points": [{"at": [0, 0, 0]}, {"at": [2000, 0, 0], "smooth": false}]},
                  {"id": 2, "name": "Ring", "recipe": {"kind": "circle"}}],
        "parts": [{"id": 7, "name": "Post", "shape": {"kind": "post", "height": 900}}],
        "runs": [{"id": 4, "name": "Fence", "path": 1, "part": 7},
                 {"id": 5, "name": "Steps", "path": 2, "part": 7, "spacing": {"rule": "step off", "pitch": 250}}]})",
                            nullptr, nullptr);
    QVERIFY2(bool(d), d ? "" : d.problem().text.c_str());
    QCOMPARE(d->nextId, 8);
    QVERIFY(d->unit == Unit::Millimetre);
    QVERIFY(d->runs[0]->spacing == Spacing{} && d->runs[0]->facing == Facing{} && d->runs[0]->leftOut.empty());
    QVERIFY(std::get<StepOff>(d->runs[1]->spacing->rule) == (StepOff{250}));
    const auto& post = std::get<Post>(std::get<Maker>(d->parts[0]->shape));
    QVERIFY(post == (Post{.height = 900}));
    QVERIFY(d->parts[0]->seat == (Seat{.point = Vec3(0, 0, 0)})); // where its maker seats it, as in the window
    const auto e = evaluate(*d);
    QCOMPARE(e->runs[0]->placed->count(), size_t(21));
    QCOMPARE(e->runs[1]->placed->count(), size_t(12));
    // In files of earlier versions a value that is missing is damage.
    const auto old = fromJson(R"({"format": "vicinal", "version": 3, "units": "mm", "shownIn": "mm", "nextId": 3,
        "paths": [{"id": 1, "name": "Line", "points": [{"at": [0, 0, 0]}, {"at": [2000, 0, 0]}]}], "parts": [], "runs": []})",
                              nullptr, nullptr);
    QVERIFY(!old);
}

void TestDocument::rulesNotInUseKeepTheirNumbers() {
    Spacing s;
    s.rule = StepOff{77, LeftOver::Both};
    const Spacing there = switched(s, 1);
    QVERIFY(std::holds_alternative<ShareOut>(there.rule) && there.kept.size() == 1);
    QVERIFY(switched(there, 0).rule == s.rule); // as it was left
    QVERIFY(switched(s, 0) == s);
    Document d = richDocument();
    RunItem r = *d.runs[0];
    r.spacing = switched(there, 2);
    QCOMPARE(r.spacing->kept.size(), size_t(2));
    d = with(d, r);
    const auto assets = [&](const std::string& wanted) -> std::optional<std::string> {
        for (const auto& [name, bytes] : assetsOf(d))
            if (name == wanted) return *bytes;
        return std::nullopt;
    };
    const auto back = fromJson(toJson(d), assets, readBody);
    QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
    QVERIFY(back->runs[0]->spacing == r.spacing);
    std::string twice = toJson(d);
    const size_t at = twice.find("\"rule\": \"step off\"");
    twice.replace(at, 18, "\"rule\": \"even out\""); // the one in use
    const auto bad = fromJson(twice, assets, readBody);
    QVERIFY(!bad && bad.problem().text.find("twice") != std::string::npos);
}

void TestDocument::schemaIsTheOneInTheDocs() {
    // vicinal-cli schema > docs/format/document.schema.json
    QCOMPARE(QString::fromStdString(documentSchema()),
             QString::fromStdString(*readFile(VICINAL_SOURCE "/docs/format/document.schema.json")));
}

void TestDocument::schemaAcceptsWhatIsWritten() {
    QTemporaryDir dir;
    const QString file = QString::fromStdString(writeText(dir, "document.json", toJson(richDocument())));
    const QString schema = VICINAL_SOURCE "/docs/format/document.schema.json";
    const auto check = [&](const QString& document) {
        QProcess python; // Debian's own Python: it has python3-jsonschema
        python.start("/usr/bin/python3",
                     {"-c",
                      "import json,sys,jsonschema; jsonschema.validate(json.load(open(sys.argv[1])), "
                      "json.load(open(sys.argv[2])))",
                      document, schema});
        python.waitForFinished();
        return python.exitCode() == 0;
    };
    QVERIFY(check(file));
    QVERIFY(check(VICINAL_SOURCE "/examples/saltmarrow-quay.json"));
    // The schema is no rubber stamp: a wrong word and a missing value are refused.
    std::string text = toJson(richDocument());
    text.replace(text.find("\"step off\""), 10, "\"step on\"");
    QVERIFY(!check(QString::fromStdString(writeText(dir, "wrong.json", text))));
}

void TestDocument::damagedFilesAreNamed_data() {
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("says");
    QTest::newRow("foreign") << "\"vicinal\""
                             << "\"other\""
                             << "not a Vicinal document";
    QTest::newRow("newer") << "\"version\": 5"
                           << "\"version\": 7"
                           << "newer Vicinal (format 7";
    QTest::newRow("word") << "\"plumb\""
                          << "\"plump\""
                          << "\"plump\" for \"crown\"";
    QTest::newRow("text for number") << "\"about\": 123.456"
                                     << "\"about\": \"x\""
                                     << "item 1 of \"runs\" needs a number for \"about\"";
    QTest::newRow("id twice") << "\"id\": 2"
                              << "\"id\": 1"
                              << "used twice";
    QTest::newRow("unit") << "\"shownIn\": \"in\""
                          << "\"shownIn\": \"el\""
                          << "not a unit";
    QTest::newRow("box point") << "\"box\": ["
                               << "\"box\": [-3, 0, 0], \"was\": ["
                               << "-1, 0 or 1";
    QTest::newRow("not JSON") << "{"
                              << "<"
                              << "not JSON";
}

void TestDocument::damagedFilesAreNamed() {
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, says);
    std::string text = toJson(richDocument());
    const size_t at = text.find(from.toStdString());
    QVERIFY(at != std::string::npos);
    text.replace(at, from.toStdString().size(), to.toStdString());
    const auto r = fromJson(
        text, [](const std::string&) { return wedgeObj(); }, readBody);
    QVERIFY(!r);
    QVERIFY2(r.problem().text.find(says.toStdString()) != std::string::npos, r.problem().text.c_str());
}

void TestDocument::everyCutOffIsRefusedWithoutACrash() {
    for (const auto& [open, close] : {std::pair{"{\"a\":", "}"}, {"[", "]"}}) { // deeper than any stack should go
        std::string deep = "1";
        for (int k = 0; k < 1'000; ++k) deep = open + std::move(deep) + close;
        const auto d = fromJson(deep, nullptr, nullptr);
        QVERIFY(!d && d.problem().text.find("nested deeper") != std::string::npos);
    }
    QTemporaryDir dir;
    const std::string path = dir.filePath("whole.vicinal").toStdString();
    QVERIFY(!saveDocument(richDocument(), path));
    const std::string whole = *readFile(path);
    for (size_t n = 0; n < whole.size(); n += 1 + whole.size() / 60) {
        const auto r = openDocument(writeText(dir, "cut.vicinal", whole.substr(0, n)), readBody);
        QVERIFY2(!r, qPrintable(QString("a file cut at %1 of %2 opened").arg(n).arg(whole.size())));
        QVERIFY(!r.problem().text.empty());
    }
    std::mt19937 random(1);
    for (int i = 0; i < 200; ++i) { // a flipped byte is refused or harmless, never a crash
        std::string bent = whole;
        bent[random() % bent.size()] ^= char(1 << (random() % 8));
        openDocument(writeText(dir, "bent.vicinal", bent), readBody);
    }
}

void TestDocument::savingFailsWithoutHarm() {
    QTemporaryDir dir;
    const std::string gone = dir.filePath("no/such/folder/x.vicinal").toStdString();
    const auto p = saveDocument(richDocument(), gone);
    QVERIFY(p && p->text.find("Choose another folder") != std::string::npos);
    // The target cannot be replaced: the old content and no litter stay.
    const QString folder = dir.filePath("target.vicinal");
    QDir(dir.path()).mkdir("target.vicinal");
    writeText(dir, "target.vicinal/inside", "x");
    QVERIFY(saveDocument(richDocument(), folder.toStdString()));
    QVERIFY(QFile::exists(folder + "/inside"));
    QCOMPARE(QDir(dir.path()).entryList(QDir::Files | QDir::Hidden).size(), 0);
    if (geteuid() != 0) { // root may write anywhere
        chmod(dir.path().toLocal8Bit(), 0500);
        QVERIFY(saveDocument(richDocument(), dir.filePath("y.vicinal").toStdString()));
        chmod(dir.path().toLocal8Bit(), 0700);
    }
}

/// Which values of a picture matter: lines have no ground, light or lens of their own, one picture no turns.
void TestDocument::whatAPictureLeavesOut() {
    for (const auto of : {PictureOf::View, PictureOf::Lines, PictureOf::Turntable}) {
        PictureOrder p;
        p.of = of;
        for (const char* key : {"grid", "background", "soft", "parallel"})
            QCOMPARE(counts(p, key), of != PictureOf::Lines);
        QCOMPARE(counts(p, "frames"), of == PictureOf::Turntable);
        for (const char* key : {"heading", "pitch", "width", "labels"}) QVERIFY(counts(p, key));
    }
}

void TestDocument::deliveriesThatCannotBeAreNamed() {
    Delivery delivery;
    delivery.name = "Sheet";
    delivery.order = TemplateOrder{};
    delivery.format = "pdf";
    delivery.what = {1};
    PathItem line;
    line.recipe = PointsRecipe{{{{0, 0, 0}}, {{100, 0, 0}, false}}, false, Knotting::Centripetal};
    const std::string whole = toJson(with(with(Document{}, line), delivery));
    QVERIFY(bool(fromJson(whole, nullptr, nullptr)));
    const size_t what = whole.find("\"what\""), first = whole.find('1', what);
    for (const char* id : {"0", "-3", "1.5", "\"1\"", "null", "99999999999"}) {
        std::string bad = whole;
        bad.replace(first, 1, id);
        const auto r = fromJson(bad, nullptr, nullptr);
        QVERIFY2(!r && r.problem().text.find("needs ids in \"what\"") != std::string::npos, id);
    }
    for (const auto& [from, to, says] : {std::tuple{"\"pdf\"", "\"png\"", "has \"png\" for \"format\""},
                                         {"\"template\"", "\"temple\"", "has \"temple\" for \"as\""}}) {
        std::string bad = whole;
        bad.replace(bad.find(from), std::string(from).size(), to);
        const auto r = fromJson(bad, nullptr, nullptr);
        QVERIFY2(!r && r.problem().text.find(says) != std::string::npos, r ? "read" : r.problem().text.c_str());
    }
    for (const char* fields : {R"([1, "a"])", R"(["a", 1])", R"(["a"])", R"(["a", "b", "c"])", R"("a")"}) {
        std::string bad = whole;
        bad.insert(what, std::string("\"fields\": [") + fields + "], ");
        const auto r = fromJson(bad, nullptr, nullptr);
        QVERIFY2(!r && r.problem().text.find("pairs of texts") != std::string::npos, fields);
    }
}

/// Each use offers every kind once, the usual one first; an ending belongs to one kind, whatever its letters.
void TestDocument::formatsStandInOneTable() {
    std::map<std::string, const Format*> of;
    for (int k = 0; k < kFormatUses; ++k) {
        const auto use = FormatUse(k);
        const auto words = formatsFor(use);
        QVERIFY(!words.empty());
        std::set<int> ranks;
        for (const char* word : words) {
            const Format* f = formatOf(word);
            QVERIFY(f && isFor(f, use) && std::string(f->endings[0]) == word);
            for (const auto& o : f->offers)
                if (o.use == use) ranks.insert(o.rank);
            for (const char* e : f->endings) {
                QVERIFY(of.try_emplace(e, f).first->second == f);
                QVERIFY(formatOfFile(std::string("quay/Sheet 1.") + e) == f);
                QVERIFY((" " + patternsFor({use}) + " ").find(std::string(" *.") + e + " ") != std::string::npos);
                QVERIFY(endingsFor(use).find(std::string(".") + e) != std::string::npos);
            }
        }
        QVERIFY(ranks.size() == words.size() && *ranks.begin() == 1 && *ranks.rbegin() == int(words.size()));
    }
    QVERIFY(formatOfFile("QUAY.STP") == formatOf("step"));
    for (const char* none : {"quay", "quay.", "quay.doc", "a.step/b", ""}) QVERIFY(!formatOfFile(none));
    QCOMPARE(endingsFor(FormatUse::Film), std::string(".glb or .csv"));
    QCOMPARE(labelsFor(FormatUse::ReadCurves), std::string("DXF, SVG, STEP or OBJ"));
    for (size_t i = 0; i < std::variant_size_v<SendOrder>; ++i) QVERIFY(!formatsOf(alternative<SendOrder>(i)).empty());
}

VICINAL_SUITE(TestDocument)

} // namespace test_document
#include "test_document.moc"
