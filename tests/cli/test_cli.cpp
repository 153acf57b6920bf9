// The command line as a user has it: output, errors in one line, exit codes.
#include "layout/spacing/rules.h"
#include "model/documents.h"
#include "suite.h"
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

namespace test_cli {

using namespace vicinal;
using namespace vicinal::test;

namespace {

struct Ran {
    int code = -1;
    QString out, error;
};

Ran run(const QStringList& arguments) {
    QProcess p;
    p.start(VICINAL_BIN "/vicinal-cli", arguments);
    p.waitForFinished(120'000);
    return {p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()};
}

/// A changed copy of the demo, with the file it names beside it.
QString quayWith(const QTemporaryDir& dir, const char* name, const std::string& text) {
    QFile::copy(VICINAL_SOURCE "/examples/fairlead.step", dir.filePath("fairlead.step"));
    return QString::fromStdString(writeText(dir, name, text));
}

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";

} // namespace

class TestCli : public QObject {
    Q_OBJECT
private slots:
    void placesPrintsTheSchedule();
    void fitsMatchTheRun();
    void exportWritesEveryKind();
    void pathPrintsWhatItIsLike();
    void partPrintsItsMeasures();
    void vehiclesTemplatesAndTapes();
    void deliveriesAreMadeByName();
    void packHoldsEverything();
    void setChangesDescribedValues();
    void setRefusesWhatCannotBe_data();
    void setRefusesWhatCannotBe();
    void aJobIsScriptedWithoutTheWindow();
    void checkExitsOneWhenWrong();
    void checksAsTextJsonAndSheet();
    void badInputExitsTwoInOneLine_data();
    void badInputExitsTwoInOneLine();
    void oneBadRunDoesNotHideTheOthers();
};

void TestCli::placesPrintsTheSchedule() {
    const Ran all = run({"places", kQuay}), one = run({"places", kQuay, "--run", "Ramp balustrade"});
    QCOMPARE(all.code, 0);
    QVERIFY(all.error.isEmpty());
    QVERIFY(all.out.startsWith("run,place,part,station,x,y,z,heading,slope,roll,qw,qx,qy,qz,size\n"));
    const auto d = openDocument(kQuay.toStdString(), readBody);
    const auto e = evaluate(*d);
    QCOMPARE(all.out.count('\n'), [&] {
        size_t rows = 1;
        for (const auto& r : e->runs) rows += r->placed->count();
        return int(rows);
    }());
    QCOMPARE(one.out.count('\n'), int(1 + e->runs[0]->placed->count()));
    const QStringList first = one.out.split('\n')[1].split(',');
    NEAR(first[3].toDouble(), 60, 1e-6); // the inset
    NEAR(first[10].toDouble(), std::cos(first[7].toDouble() * kDegree / 2),
         2e-6); // plumb: the quaternion is the heading's
    const Ran json = run({"places", kQuay, "--format", "json"});
    QVERIFY(json.out.startsWith("{"));
}

void TestCli::fitsMatchTheRun() {
    const Ran r = run({"fits", kQuay, "--run", "Ramp balustrade"});
    QCOMPARE(r.code, 0);
    const QStringList rows = r.out.trimmed().split('\n');
    QCOMPARE(rows.size(), 12);
    QCOMPARE(rows[1].split(',')[5], QString("yes")); // the nearest to what is wanted comes first
    QVERIFY(std::any_of(rows.begin(), rows.end(), [](const QString& row) { return row.contains(",over,"); }));
}

void TestCli::exportWritesEveryKind() {
    QTemporaryDir dir;
    for (const char* kind : {"csv", "json", "dxf", "glb"}) {
        const QString file = dir.filePath(QString("out.") + kind);
        const Ran r = run({"export", kQuay, "--to", file});
        QCOMPARE(r.code, 0);
        QVERIFY(r.out.isEmpty());
        QVERIFY(QFileInfo(file).size() > 1000);
    }
    QCOMPARE(run({"validate", kQuay}).out, QString("valid: 9 paths, 5 parts, 5 runs\n"));
}

void TestCli::pathPrintsWhatItIsLike() {
    const Ran loop = run({"path", kQuay, "--name", "Winch loop"});
    QCOMPARE(loop.code, 0);
    QVERIFY(loop.error.isEmpty());
    QVERIFY2(loop.out.contains("kind: wheels\n") && loop.out.contains("closed: yes\n"), qPrintable(loop.out));
    // The idler's 15 teeth at 25.4 are the sharpest bend.
    QVERIFY(loop.out.contains(QString("sharpest radius: %1").arg(25.4 / 2 / std::sin(kPi / 15), 0, 'f', 6)));
    QCOMPARE(loop.out.count("wheel: "), 3);
    const Ran at = run({"path", kQuay, "--name", "Mooring swag", "--at", "0", "--at", "1000"});
    QCOMPARE(at.code, 0);
    const QStringList rows = at.out.trimmed().split('\n');
    QCOMPARE(rows.size(), 3);
    const QStringList start = rows[1].split(',');
    NEAR(start[1].toDouble(), -3000, 1e-6);
    NEAR(start[3].toDouble(), 820, 1e-6);
    double dot = 0; // tangent and crown are square to each other
    for (int i = 0; i < 3; ++i) dot += start[4 + i].toDouble() * start[7 + i].toDouble();
    NEAR(dot, 0, 1e-5);
    const Ran none = run({"path", kQuay, "--name", "Nowhere"});
    QCOMPARE(none.code, 2);
    QVERIFY(none.error.contains("\"Ramp edge\""));
    QCOMPARE(run({"path", kQuay, "--name", "Ramp edge", "--at", "99999"}).code, 2);
}

void TestCli::partPrintsItsMeasures() {
    const Ran text = run({"part", kQuay, "--name", "Plank 145"});
    QCOMPARE(text.code, 0);
    for (const char* line :
         {"kind: plank", "length: 145.000000", "width: 1400.000000", "height: 28.000000", "left: 700.000000",
          "volume: 5684000.000000", "mass: 3.694600", "outline from crown: 203000.000000"})
        QVERIFY2(text.out.contains(line), line);
    // The same in JSON, read by another reader; the fairlead comes from STEP, drawn y-up and far off its origin.
    const Ran json = run({"part", kQuay, "--name", "Fairlead", "--format", "json"});
    QCOMPARE(json.code, 0);
    const auto j = QJsonDocument::fromJson(json.out.toUtf8()).object();
    QCOMPARE(j["body"].toString(), QString("solid"));
    NEAR(j["length"].toDouble(), 220, 1e-6);
    NEAR(j["up"].toDouble(), 125, 1e-6);
    NEAR(j["down"].toDouble(), 0, 1e-6);
    NEAR(j["mass"].toDouble(), j["volume"].toDouble() * 1e-9 * 7200, 1e-6);
    const auto holes = j["holes"].toArray();
    QCOMPARE(holes.size(), 4);
    NEAR(holes[0].toObject()["diameter"].toDouble(), 13, 1e-9);
    const Ran none = run({"part", kQuay, "--name", "Anchor"});
    QCOMPARE(none.code, 2);
    QVERIFY2(none.error.contains("Anchor") && none.error.count('\n') == 1, qPrintable(none.error));
}

/// The room vehicles take and their sweep; templates and tapes, with what cannot be.
void TestCli::vehiclesTemplatesAndTapes() {
    const QString drives = VICINAL_SOURCE "/examples/saltmarrow-drives.json";
    const Ran room = run({"throw", drives, "--run", "Cradle train"});
    QCOMPARE(room.code, 0);
    const QStringList rows = room.out.trimmed().split('\n');
    QVERIFY(rows.first() == "station,left,right" && rows.size() > 90);
    double widest = 0;
    for (const QString& row : rows.mid(1, rows.size() - 4))
        widest = std::max({widest, row.section(',', 1, 1).toDouble(), row.section(',', 2, 2).toDouble()});
    NEAR(rows[rows.size() - 2].section(',', 1, 1).toDouble(), widest, 2); // outside
    NEAR(rows.last().section(',', 1, 1).toDouble(), std::hypot(850 / std::sin(20 * kDegree), 230), 1e-3);
    QCOMPARE(run({"throw", drives, "--run", "Winch drive"}).code, 2);
    const Ran sweep = run({"sweep", drives, "--run", "Cradle train", "--whole", "--steps", "50"});
    QCOMPARE(sweep.code, 0);
    QVERIFY(sweep.out.startsWith("way,closing,turn,swing\n") && sweep.out.count('\n') == 52);
    QCOMPARE(run({"places", drives, "--run", "Cradle train"}).out.count(",Bogie,"), 4);
    QTemporaryDir dir;
    const QString pdf = dir.filePath("t.pdf");
    const Ran paper = run({"template", kQuay, "--run", "Drain cover holes", "--to", pdf, "paper=A3", "landscape=yes"});
    QVERIFY2(paper.code == 0 && paper.out.contains("page(s)"), qPrintable(paper.error));
    QFile file(pdf);
    QVERIFY(file.open(QIODevice::ReadOnly) && file.read(5) == "%PDF-");
    for (const char* wrong : {"paper=A9", "margin=wide", "no=thing", "barUp=50", "landscape"}) {
        const Ran r = run({"template", kQuay, "--run", "Drain cover holes", "--to", dir.filePath("x.pdf"), wrong});
        QVERIFY2(r.code == 2 && r.error.count('\n') == 1, wrong);
    }
    QVERIFY(!QFile::exists(dir.filePath("x.pdf")));
    QCOMPARE(run({"template", kQuay, "--to", dir.filePath("x.abc")}).code, 2);
    QCOMPARE(run({"template", kQuay, "--run", "Drain cover holes", "--to", dir.filePath("t.svg")}).code, 0);
    const Ran tape = run({"tape", drives, "--run", "Hauling belt", "--to", dir.filePath("belt.pdf"), "height=24"});
    QVERIFY2(tape.code == 0 && tape.out.contains("25 strip(s)"), qPrintable(tape.out + tape.error));
    QCOMPARE(run({"tape", drives, "--run", "Hauling belt", "--to", "/no/such/folder/belt.pdf"}).code, 2);
    // A part is put on bogies, by name.
    const QString on = dir.filePath("on.vicinal");
    QCOMPARE(
        run({"set", drives, "--part", "Bollard", "pinBack=-80,0,0", "pinFront=80,0,0", "underBack=Bogie", "--to", on})
            .code,
        0);
    QCOMPARE(run({"set", drives, "--part", "Bogie", "underBack=Boat cradle", "--to", dir.filePath("no.vicinal")}).code,
             2);
}

void TestCli::deliveriesAreMadeByName() {
    QTemporaryDir dir;
    const Ran list = run({"deliver", kQuay, "--list"});
    QVERIFY(list.code == 0 && list.out.contains("Ramp drawing,drawing,pdf,Ramp drawing.pdf\n"));
    const Ran all = run({"deliver", kQuay, "--to", dir.path()});
    QVERIFY2(all.code == 0, qPrintable(all.error));
    for (const char* name : {"Drain cover template.pdf", "Boardwalk cut list.ods", "Ramp drawing.pdf",
                             "Quay lights.step", "Quay in lines.svg"})
        QVERIFY2(QFile::exists(dir.filePath(name)), name);
    QVERIFY(all.out.contains("9 bodies of 1 part") && all.out.contains("remark: "));
    QCOMPARE(run({"deliver", kQuay, "--to", dir.filePath("one"), "--name", "Quay lights"}).code, 0);
    QCOMPARE(QDir(dir.filePath("one")).entryList(QDir::Files), QStringList{"Quay lights.step"});
    const Ran none = run({"deliver", kQuay, "--name", "No such"});
    QVERIFY(none.code == 2 && none.error.contains("There are: \"Drain cover template\"") &&
            none.error.count('\n') == 1);
    // Any kind of result by its word; keys are the document's own.
    const auto send = [&](const QString& as, const QString& file, const QStringList& more) {
        return run(QStringList{"send", kQuay, "--as", as, "--to", dir.filePath(file)} + more);
    };
    const Ran drawing = send("drawing", "d.dxf",
                             {"--what", "Quay lights", "--field", "Site=Saltmarrow Quay", "scale=50", "schedule=no"});
    QVERIFY2(drawing.code == 0 && drawing.out.contains("1 : 50") && QFile::exists(dir.filePath("d-2.dxf")),
             qPrintable(drawing.error + drawing.out));
    QCOMPARE(send("schedule", "s.csv", {"of=parts"}).code, 0);
    QCOMPARE(send("solids", "kit.stl", {"as=parts", "--what", "Ramp balustrade"}).code, 0);
    QVERIFY(QFile::exists(dir.filePath("kit-Baluster 20.stl")) && QFile::exists(dir.filePath("kit-poses.csv")));
    QCOMPARE(send("template", "t.pdf", {"of=parts", "--what", "Quay fairleads", "paper=A3"}).code, 0);
    for (const auto& [as, file, more] : {std::tuple<QString, QString, QStringList>{"nothing", "x.pdf", {}},
                                         {"drawing", "x.doc", {}},
                                         {"drawing", "x.pdf", {"scale=wide"}},
                                         {"drawing", "x.pdf", {"scale=1"}},
                                         {"drawing", "x.pdf", {"--what", "No such"}},
                                         {"drawing", "x.pdf", {"--field", "nothing"}},
                                         {"picture", "x.png", {}},
                                         {"solids", "no/such/folder/x.step", {}}}) {
        const Ran r = send(as, file, more);
        QVERIFY2(r.code == 2 && r.out.isEmpty() && r.error.count('\n') == 1,
                 qPrintable(as + " " + more.join(' ') + r.out));
    }
    QVERIFY(!QFile::exists(dir.filePath("x.pdf")));
    // Released, the parts stand where the places stood, and go out under the same name.
    const QString loose = dir.filePath("loose.vicinal");
    QCOMPARE(run({"release", kQuay, "--run", "Quay lights", "--path", "gone", "--to", loose}).out,
             QString("9 loose part(s)\n"));
    QCOMPARE(run({"send", loose, "--as", "schedule", "--to", dir.filePath("loose.csv"), "--what", "Quay lights"}).code,
             0);
    QFile csv(dir.filePath("loose.csv"));
    QVERIFY(csv.open(QIODevice::ReadOnly));
    const QStringList before = run({"places", kQuay, "--run", "Quay lights"}).out.split('\n'),
                      after = QString::fromUtf8(csv.readAll()).split('\n');
    QCOMPARE(after.size(), before.size());
    for (int k = 1; k + 1 < after.size(); ++k) QCOMPARE(after[k].section(',', 4), before[k].section(',', 4));
    QCOMPARE(run({"release", loose, "--run", "Quay lights"}).code, 2);
    QCOMPARE(run({"release", kQuay, "--run", "Quay lights", "--path", "burnt"}).code, 2);
}

void TestCli::packHoldsEverything() {
    QTemporaryDir dir;
    const QString packed = dir.filePath("quay.vicinal");
    QCOMPARE(run({"pack", kQuay, "--to", packed}).code, 0);
    const Ran a = run({"places", kQuay}), b = run({"places", packed});
    QCOMPARE(b.code, 0);
    QCOMPARE(a.out, b.out); // without the files beside it
    QCOMPARE(run({"pack", kQuay, "--to", dir.filePath("quay.txt")}).code, 2);
    QCOMPARE(run({"pack", kQuay, "--to", "/no/such/folder/quay.vicinal"}).code, 2);
}

void TestCli::setChangesDescribedValues() {
    QTemporaryDir dir;
    const QString to = dir.filePath("set.vicinal");
    const auto opened = [&] { return openDocument(to.toStdString(), readBody); };
    Ran r = run({"set", kQuay, "--run", "Ramp balustrade", "rule=step off", "pitch=1/8 m", "leftOver=both",
                 "gapAtMost=none", "crown=upright", "turn=0,0,90", "leftOut=3,5,3", "name=Rail posts", "--to", to});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    const auto d = opened();
    const auto posts = d->run("Rail posts");
    QVERIFY(posts);
    QVERIFY(posts->spacing->rule == SpacingRule(StepOff{125, LeftOver::Both}));
    QVERIFY(posts->spacing->kept == std::vector<SpacingRule>{EvenOut{120}}); // comes back when it is switched back
    QVERIFY(!posts->spacing->gapAtMost && std::holds_alternative<Upright>(posts->facing.crown));
    NEAR(posts->facing.turn.z(), kPi / 2, 1e-12);
    QCOMPARE(posts->leftOut, (std::vector<int>{3, 5}));
    NEAR(evaluate(*d)->run(posts->id)->placed->laid->pitch, 125, 1e-9);
    // Into the same file; a path's recipe and a part's maker.
    r = run({"set", to, "--path", "Lamp line", "distance=1 ft"});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    r = run({"set", to, "--part", "Plank 145", "width=95", "density=700"});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    const auto next = opened();
    for (const auto& p : next->paths)
        if (p->name == "Lamp line")
            NEAR(std::get<OffsetOf>(std::get<DerivedRecipe>(p->recipe).change).distance, 304.8, 1e-9);
    for (const auto& p : next->parts)
        if (p->name == "Plank 145") NEAR(std::get<Plank>(std::get<Maker>(p->shape)).width, 95, 0);
}

void TestCli::setRefusesWhatCannotBe_data() {
    QTest::addColumn<QStringList>("what");
    QTest::addColumn<QString>("says");
    const QString run = "Ramp balustrade";
    QTest::newRow("key") << QStringList{"--run", run, "pich=3"}
                         << "There are: name, path, part, rule, about, ends, measure";
    QTest::newRow("of another rule") << QStringList{"--run", run, "count=3"} << "no value \"count\"";
    QTest::newRow("word") << QStringList{"--run", run, "rule=even"} << "not one of step off, share out, even out";
    QTest::newRow("choice") << QStringList{"--run", run, "measure=gap"} << "not one of c/c, clear gap";
    QTest::newRow("number") << QStringList{"--run", run, "about=x"} << "about: ";
    QTest::newRow("reach") << QStringList{"--run", run, "about=1e300"} << "beyond 1000 km";
    QTest::newRow("cannot stand") << QStringList{"--run", run, "insetStart=99 m"} << "leave nothing of the path";
    QTest::newRow("name") << QStringList{"--run", "Nobody", "about=3"} << "There are: \"Ramp balustrade\"";
    QTest::newRow("path") << QStringList{"--run", run, "path=Moon"} << "nothing named \"Moon\"";
    QTest::newRow("both") << QStringList{"--run", run, "--path", "Lamp line", "about=3"}
                          << "one of --run, --path, --part and --body";
    QTest::newRow("no value") << QStringList{"--run", run, "about"} << "key=value";
    QTest::newRow("turn") << QStringList{"--run", run, "turn=1,2"} << "three values";
}

void TestCli::setRefusesWhatCannotBe() {
    QFETCH(QStringList, what);
    QFETCH(QString, says);
    QTemporaryDir dir;
    const QString to = dir.filePath("never.vicinal");
    const Ran r = run(QStringList{"set", kQuay} + what + QStringList{"--to", to});
    QCOMPARE(r.code, 2);
    QVERIFY2(r.error.contains(says) && r.error.count('\n') == 1, qPrintable(r.error));
    QVERIFY(!QFile::exists(to)); // nothing is saved
}

void TestCli::aJobIsScriptedWithoutTheWindow() {
    QTemporaryDir dir;
    const QString doc = dir.filePath("job.vicinal"), dxf = VICINAL_SOURCE "/examples/quay-paths.dxf";
    Ran r = run({"bring-in", dxf, "--to", doc, "--layer", "QUAY-EDGE", "--join", "1"});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    r = run({"bring-in", VICINAL_SOURCE "/examples/mooring-post.obj", "--to", doc, "--as-part", "--unit", "mm"});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    const auto d = openDocument(doc.toStdString(), readBody);
    QVERIFY(bool(d) && d->paths.size() == 1 && d->parts.size() == 1);
    QCOMPARE(QString::fromStdString(d->paths[0]->name), QString("QUAY-EDGE"));
    QVERIFY(run({"bring-in", dxf, "--to", doc, "--layer", "NOWHERE"}).error.contains("no curve on the layer"));
    QVERIFY(run({"bring-in", VICINAL_SOURCE "/examples/mooring-post.obj", "--to", doc, "--as-part"})
                .error.contains("--unit"));
    QVERIFY(run({"bring-in", dxf, "--to", dir.filePath("x.json")}).error.contains(".vicinal"));
    // A run is a few lines of JSON: everything else has its default.
    const QString hand = QString::fromStdString(writeText(dir, "hand.json", R"({"format": "vicinal", "version": 4,
        "paths": [{"id": 1, "name": "Edge", "points": [{"at": [0, 0, 0], "smooth": false}, {"at": [9000, 0, 0], "smooth": false}]}],
        "parts": [{"id": 2, "name": "Post", "shape": {"kind": "post"}}],
        "runs": [{"id": 3, "name": "Posts", "path": 1, "part": 2}]})"));
    r = run({"set", hand, "--run", "Posts", "rule=share out", "count=4", "--to", doc});
    QVERIFY2(r.code == 0, qPrintable(r.error));
    const QStringList rows = run({"places", doc}).out.trimmed().split('\n');
    QCOMPARE(rows.size(), 5);
    NEAR(rows[2].split(',')[3].toDouble(), 3000, 1e-6);
    QCOMPARE(run({"schema"}).code, 0);
}

void TestCli::checkExitsOneWhenWrong() {
    QCOMPARE(run({"check", kQuay}).code, 0);
    QTemporaryDir dir;
    std::string text = *readFile(kQuay.toStdString());
    const std::string colour = "\"colour\": 0,";
    text.insert(text.find(colour), "\"leftOut\": [9], ");
    const Ran r = run({"check", quayWith(dir, "gate.json", text)});
    QCOMPARE(r.code, 1);
    QVERIFY2(r.out.contains("wrong: The clear gap is 217.") && r.out.contains("between places 8 and 10"),
             qPrintable(r.out));
}

void TestCli::checksAsTextJsonAndSheet() {
    const QString file = VICINAL_SOURCE "/examples/saltmarrow-checks.json";
    const Ran text = run({"check", file});
    QCOMPARE(text.code, 1);
    QVERIFY2(text.out.contains("Quay lights: wrong") && text.out.contains("  Widest opening: good: "),
             qPrintable(text.out));
    const Ran json = run({"check", file, "--json", "--run", "Quay lights"});
    QCOMPARE(json.code, 1);
    const QJsonArray runs = QJsonDocument::fromJson(json.out.toUtf8())["runs"].toArray();
    QCOMPARE(runs.size(), 1);
    bool found = false;
    for (const auto& one : runs[0].toObject()["checks"].toArray()) {
        const QJsonObject c = one.toObject();
        if (c["against"].toString() != "Hut's door swing") continue;
        found = true;
        QVERIFY(c["verdict"].toString() == "wrong" && c["place"].toInt() == 5 && c["least"].toDouble() == 400);
        const auto at = [&](const char* key) {
            const auto p = c[key].toArray();
            return Vec3(p[0].toDouble(), p[1].toDouble(), p[2].toDouble());
        };
        QVERIFY(std::abs((at("from") - at("to")).norm() - c["value"].toDouble()) < 1e-6);
        QVERIFY(std::abs(c["value"].toDouble() - 350) < 1);
    }
    QVERIFY(found);
    QTemporaryDir dir;
    for (const QString name : {"sheet.pdf", "sheet.html"}) {
        QCOMPARE(run({"check", file, "--sheet", dir.filePath(name)}).code, 1);
        QVERIFY(QFile(dir.filePath(name)).size() > 20'000);
    }
    // The sheet speaks the document's unit and says what each run is told.
    QFile source(file), metres(dir.filePath("metres.json"));
    QVERIFY(source.open(QIODevice::ReadOnly) && metres.open(QIODevice::WriteOnly));
    QJsonObject document = QJsonDocument::fromJson(source.readAll()).object();
    document["shownIn"] = "m";
    metres.write(QJsonDocument(document).toJson());
    metres.close();
    QCOMPARE(run({"check", metres.fileName(), "--sheet", dir.filePath("metres.html")}).code, 1);
    QFile sheet(dir.filePath("metres.html"));
    QVERIFY(sheet.open(QIODevice::ReadOnly));
    QString words = sheet.readAll();
    words.remove(QRegularExpression("<svg.*</svg>", QRegularExpression::DotMatchesEverythingOption |
                                                        QRegularExpression::InvertedGreedinessOption));
    words.remove(QRegularExpression("<style>.*</style>", QRegularExpression::DotMatchesEverythingOption));
    QVERIFY2(words.contains("under the limit of 0.4 m") && words.contains("at most 0.099 m"), qPrintable(words));
    QVERIFY2(!words.contains(QRegularExpression("\\d mm")), qPrintable(words));
    for (const char* rule : {"Set Turned baluster along Sea ramp edge, ", "Set Quay light along Lights line, "})
        QVERIFY2(words.contains(rule), rule);
    for (const QStringList& bad :
         {QStringList{"check", file, "--sheet", dir.filePath("sheet.doc")},
          QStringList{"check", file, "--run", "Nobody"}, QStringList{"check", file, "--sheet", "/no/such/sheet.pdf"}}) {
        const Ran r = run(bad);
        QVERIFY2(r.code == 2 && !r.error.isEmpty() && r.error.count('\n') == 1, qPrintable(r.error));
    }
    // Limits are set as they are typed; what the run is asked anyway is not kept, what contradicts changes nothing.
    const QString kept = dir.filePath("kept.vicinal");
    const auto limit = [&](const QString& name, const QStringList& what) {
        return run(QStringList{"set", kept, "--run", name, "--check"} + what);
    };
    QCOMPARE(run({"pack", file, "--to", kept}).code, 0);
    QCOMPARE(run({"check", kept, "--run", "Quay lights"}).code, 1);
    QCOMPARE(limit("Quay lights", {"body", "--against", "Hut's door swing", "least=34 cm"}).code, 0);
    QCOMPARE(run({"check", kept, "--run", "Quay lights"}).code, 0);
    QCOMPARE(limit("Quay lights", {"body", "--against", "Hut", "least=9/2 m", "margin=20"}).code, 0); // a new one
    const QString lights = run({"check", kept, "--run", "Quay lights"}).out;
    QVERIFY2(lights.contains("Clear of Hut: wrong: ") && lights.contains("under the limit of 4500 mm"),
             qPrintable(lights));
    QCOMPARE(limit("Tally stones", {"reach", "least=90 %"}).code, 0);
    QVERIFY(run({"check", kept, "--run", "Tally stones"}).out.contains("under the limit of 90 %"));
    QCOMPARE(limit("Tally stones", {"reach", "on=no"}).code, 0);
    QVERIFY(run({"check", kept, "--run", "Tally stones"}).out.contains("Reach when falling: off"));
    QCOMPARE(limit("Mooring chain", {"joints", "most=1.2"}).code, 0);
    QVERIFY(run({"check", kept, "--run", "Mooring chain"}).out.contains("over the limit of 1.2\u00b0"));
    const auto bytes = [&] {
        QFile f(kept);
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
    };
    const QByteArray before = bytes();
    for (const auto& [what, says] :
         {std::pair<QStringList, QString>{{"nothing", "most=1"}, "There is no check \"nothing\". There are: \"gap\""},
          {{"gap", "weight=1"}, "It has: \"on\""},
          {{"touching", "least=200", "most=100"}, "contradict"},
          {{"gap", "least=wide"}, "wide"},
          {{"gap", "on=perhaps"}, "perhaps"},
          {{"opening", "least=1"}, "has no \"least\""},
          {{"body", "least=1"}, "Choose the body"},
          {{"body", "--against", "Nobody", "least=1"}, "no site body \"Nobody\""},
          {{"gap", "--against", "Hut", "least=1"}, "against nothing"}}) {
        const Ran r = limit("Quay lights", what);
        QVERIFY2(r.code == 2 && r.error.contains(says) && r.error.count('\n') == 1, qPrintable(r.error));
    }
    QCOMPARE(run({"set", kept, "--path", "Quay edge", "--check", "gap", "least=1"}).code, 2);
    QVERIFY(!before.isEmpty() && bytes() == before);
    // Finer, the balusters' gaps are no farther from the truth.
    const auto gap = [&](const QStringList& more) {
        const auto all = QJsonDocument::fromJson(
            run(QStringList{"check", file, "--json", "--run", "Ramp posts"} + more).out.toUtf8());
        return all["runs"][0]["checks"][0]["error"].toDouble();
    };
    QVERIFY(gap({}) > 0 && gap({"--fine"}) < gap({}) / 8);
}

void TestCli::badInputExitsTwoInOneLine_data() {
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("says");
    const QStringList places{"places", "FILE", "--run", "Ramp balustrade"}, validate{"validate", "FILE"};
    QTest::newRow("no file") << QStringList{"validate", "/no/such.vicinal"} << ""
                             << ""
                             << "There is no file";
    QTest::newRow("foreign") << validate << "\"vicinal\""
                             << "\"x\""
                             << "not a Vicinal document";
    QTest::newRow("pitch 0") << places << "\"about\": 120.0"
                             << "\"rule\": \"step off\", \"pitch\": 0"
                             << "above zero";
    QTest::newRow("count huge") << places << "\"about\": 120.0"
                                << "\"rule\": \"share out\", \"count\": 10000000"
                                << "the most is 1000000";
    QTest::newRow("insets") << places << "\"insetStart\": 60.0"
                            << "\"insetStart\": 8000"
                            << "leave nothing";
    QTest::newRow("no such run") << QStringList{"fits", "FILE", "--run", "Nope"} << ""
                                 << ""
                                 << "There is no run \"Nope\"";
    QTest::newRow("no command") << QStringList{} << ""
                                << ""
                                << "subcommand";
    QTest::newRow("bad format") << QStringList{"places", "FILE", "--format", "xml"} << ""
                                << ""
                                << "xml";
    QTest::newRow("bad target") << QStringList{"export", "FILE", "--to", "x.doc"} << ""
                                << ""
                                << ".glb";
    QTest::newRow("unwritable") << QStringList{"export", "FILE", "--to", "/nowhere/x.csv"} << ""
                                << ""
                                << "Choose another folder";
}

void TestCli::badInputExitsTwoInOneLine() {
    QFETCH(QStringList, arguments);
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, says);
    QTemporaryDir dir;
    QString text = QString::fromStdString(*readFile(kQuay.toStdString()));
    if (!from.isEmpty()) {
        QVERIFY(text.contains(from));
        text.replace(text.indexOf(from), from.size(), to);
    }
    const QString file = quayWith(dir, "in.json", text.toStdString());
    for (auto& a : arguments)
        if (a == "FILE") a = file;
    const Ran r = run(arguments);
    QCOMPARE(r.code, 2);
    QVERIFY(r.out.isEmpty());
    QVERIFY2(r.error.contains(says), qPrintable(r.error));
    QCOMPARE(r.error.trimmed().count('\n'), 0);
}

void TestCli::oneBadRunDoesNotHideTheOthers() {
    QTemporaryDir dir;
    QString text = QString::fromStdString(*readFile(kQuay.toStdString()));
    text.replace(text.indexOf("\"insetStart\": 60.0"), 18, "\"insetStart\": 8000");
    const QString file = quayWith(dir, "in.json", text.toStdString());
    const Ran all = run({"places", file}), whole = run({"places", kQuay});
    QCOMPARE(all.code, 1);
    QVERIFY2(all.error.contains("Ramp balustrade") && all.error.contains("leave nothing"), qPrintable(all.error));
    QStringList left;
    for (const QString& line : QString(whole.out).split('\n'))
        if (!line.startsWith("Ramp balustrade,")) left += line;
    QCOMPARE(QString(all.out), left.join('\n'));
}

VICINAL_SUITE(TestCli)

} // namespace test_cli
#include "test_cli.moc"
