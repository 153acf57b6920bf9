// The command line as a user has it: output, errors in one line, exit codes.
#include "exchange/in/bring_in.h"
#include "layout/spacing/rules.h"
#include "model/delivery/delivery.h"
#include "model/documents.h"
#include "model/file/document_file.h"
#include "suite.h"
#include "support.h"
#include <QDir>
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
    void aDocumentIsMadeFromNothing();
    void nothingWrittenIsWrittenOver();
    void deliveriesStayBelowTheDocument();
    void whatIsNotKnownIsNoZero();
    void whatACutBreaksFails();
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
    // Where strands cross one of them is lifted off the other by the thickness.
    const QString site = VICINAL_SOURCE "/examples/saltmarrow-site.json";
    const Ran crossed = run({"path", site, "--name", "Heap line, lifted", "--crossings"});
    QCOMPARE(crossed.code, 0);
    QStringList all = crossed.out.trimmed().split('\n');
    QCOMPARE(all.takeFirst(), QString("crossing,upper,lower,x,y,z,lift,with"));
    QCOMPARE(all.size(), 4);
    const auto e = evaluate(*openDocument(site.toStdString(), readBody));
    for (const auto& [id, p] : e->paths) {
        if (p->item->name != "Heap line, laid") continue;
        for (int k = 0; k < all.size(); ++k) {
            const QStringList row = all[k].split(',');
            QCOMPARE(row[0].toInt(), k + 1);
            const double upper = row[1].toDouble(), lower = row[2].toDouble();
            const Vec3 a = p->path->at(upper).point, b = p->path->at(lower).point,
                       on(row[3].toDouble(), row[4].toDouble(), row[5].toDouble());
            NEAR((a + Vec3(0, 0, row[6].toDouble()) - on).norm(), 0, 0.01);
            QVERIFY((a - b).norm() < 46 && (on - b).norm() > 46 - 0.01);
            QCOMPARE(row[7], QString(k == 2 ? "itself along" : "itself"));
            QCOMPARE(upper > lower, k != 2); // the third is switched
        }
    }
    QCOMPARE(run({"path", kQuay, "--name", "Ramp edge", "--crossings"}).out.count('\n'), 1); // none
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
    // Points of a survey, in metres with decimal commas.
    const QString csv =
        QString::fromStdString(writeText(dir, "Bank line.csv", "x;y;z\n0,5;0;0\n4,5;0;0\n4,5;3;0\n0,5;3;0\n"));
    for (const bool round : {false, true}) {
        const QString to = dir.filePath(round ? "round.vicinal" : "legs.vicinal");
        r = run(QStringList{"bring-in", csv, "--to", to, "--unit", "m"} +
                (round ? QStringList{"--closed", "--smooth"} : QStringList{}));
        QVERIFY2(r.code == 0, qPrintable(r.error));
        const auto at = openDocument(to.toStdString(), readBody);
        QVERIFY(bool(at) && at->paths.size() == 1 && at->paths[0]->name == "Bank line");
        const double length = evaluate(*at)->paths.begin()->second->path->length();
        if (round) // through all corners of a rectangle: longer than it, within its outer circle
            QVERIFY(length > 14'000 && length < kPi * 5000 * 1.1);
        else
            QVERIFY(std::abs(length - 11'000) < 1e-9);
        QVERIFY(!QFile::exists(dir.filePath("none.vicinal")));
    }
    const QString none = dir.filePath("none.vicinal");
    QVERIFY(run({"bring-in", csv, "--to", none}).error.contains("--unit"));
    QVERIFY(run({"bring-in", csv, "--to", none, "--unit", "m", "--layer", "A"}).error.contains("leave --layer out"));
    QVERIFY(run({"bring-in", csv, "--to", none, "--unit", "m", "--as-part"}).error.contains("leave --as-part out"));
    QVERIFY(run({"bring-in", dxf, "--to", none, "--closed"}).error.contains("--closed is for points"));
    const QString odd = QString::fromStdString(writeText(dir, "odd.csv", "0,0\n1,x\n"));
    r = run({"bring-in", odd, "--to", none, "--unit", "m"});
    QVERIFY2(r.code == 2 && r.error.contains("odd.csv") && r.error.contains("ine 2"), qPrintable(r.error));
    QVERIFY(!QFile::exists(none));
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
    QVERIFY2(r.out.contains("wrong: The gap along is 217.") && r.out.contains("between places 8 and 10"),
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

void TestCli::aDocumentIsMadeFromNothing() {
    QTemporaryDir dir;
    const QString file = dir.filePath("new.vicinal");
    const auto ok = [&](const QStringList& arguments) {
        const Ran r = run(arguments);
        QVERIFY2(r.code == 0, qPrintable(arguments.join(' ') + ": " + r.error));
    };
    ok({"add", file, "--path", "Edge", "--unit", "m", "smooth=no", "points=0,0; 2,0 corner fillet 250 mm; 2,3,0.5"});
    ok({"add", file, "--path", "Bow", "points=0,0; 1,1,0 via 0.2,0.7,0; 2,0 before -0.5,0.5,0 after 0.5,-0.5,0; 4,0"});
    ok({"add", file, "--path", "Beside", "--kind", "offset", "source=Edge", "distance=300 mm"});
    ok({"add", file, "--path", "Both", "--kind", "joined", "members=Edge"});
    ok({"add", file, "--path", "Drive", "--kind", "wheels",
        "wheels=Drum at 0,0 radius 150 mm; Motor at 0.7,0 teeth 17 body sprocket width 10 mm bore 12 mm hub 31 mm"});
    {
        const auto d = openDocument(file.toStdString(), readBody);
        QVERIFY(bool(d));
        const auto& recipe = std::get<ShapeRecipe>(d->paths.back()->recipe);
        const Wheel& motor = std::get<WheelShape>(recipe.shape).wheels[1];
        NEAR(motor.width, 10, 1e-9);
        NEAR(motor.bore, 12, 1e-9);
        NEAR(motor.hub, 31, 1e-9);
        NEAR(motor.centre.x(), 700, 1e-9);
    }
    ok({"add", file, "--part", "Base", "--kind", "box", "length=120 mm", "width=80 mm", "height=20 mm",
        "density=2000"});
    ok({"add", file, "--part", "Pole", "--kind", "cylinder", "diameter=40 mm", "height=500 mm", "density=1000"});
    ok({"add", file, "--part", "Light", "--kind", "pieces",
        "pieces=Base; Pole at 0,0,20 mm turn 0,0,45 size 0.5 name \"The pole\"; Base at 1,0,0 mirrored"});
    ok({"add", file, "--folder", "Lights"});
    ok({"add", file, "--run", "Row", "path=Edge", "part=Light", "rule=share out", "count=7", "folder=Lights",
        "exceptions=3 out; 5 part Base turn 0,0,90; at 1 move 0,0,20 mm size 1.5"});
    QCOMPARE(run({"add", file, "--run", "Row", "path=Edge", "part=Base"}).out, QString("Row 2\n")); // a name of its own
    // What is typed is there: by the schedule, the measures, the file.
    const QStringList rows = run({"places", file, "--run", "Row"}).out.split('\n', Qt::SkipEmptyParts);
    QCOMPARE(rows.size(), 1 + 6);
    QVERIFY(rows[4].startsWith("Row,5,Base,"));
    const double length = 2000 - 250 + 250 * kPi / 2 - 250 + std::hypot(3000, 500); // flat corner nearly: by its plan
    NEAR(rows.back().section(',', 3, 3).toDouble(), length, 8);
    NEAR(rows.back().section(',', 6, 6).toDouble(), 500, 1e-6);
    const QString light = run({"part", file, "--name", "Light"}).out;
    const double kg = 2 * 0.12 * 0.08 * 0.02 * 2000 + kPi * 0.01 * 0.01 * 0.25 * 1000;
    NEAR(light.section("mass: ", 1).section('\n', 0, 0).toDouble(), kg, 1e-6);
    ok({"set", file, "--part", "Light", "seatPoint=box 0,0,1", "nose=+y", "crown=0,0,1"});
    QVERIFY(run({"part", file, "--name", "Light"}).out.contains("up: 0.000000"));
    ok({"set", file, "--path", "Edge", "closed=yes"});
    QVERIFY(run({"path", file, "--name", "Edge"}).out.contains("closed: yes"));
    // Locked is locked until it is unlocked.
    ok({"set", file, "--run", "Row", "locked=yes", "hidden=yes"});
    QVERIFY(run({"set", file, "--run", "Row", "count=9"}).error.contains("locked"));
    ok({"set", file, "--run", "Row", "locked=no"});
    ok({"set", file, "--run", "Row", "count=9", "exceptions=none"});
    QCOMPARE(run({"places", file, "--run", "Row"}).out.count("Row,"), 9);
    // Wrong things say which of a list, and change nothing.
    QFile before(file);
    QVERIFY(before.open(QIODevice::ReadOnly));
    const QByteArray bytes = before.readAll();
    for (const auto& [more, says] :
         {std::pair<QStringList, QString>{{"--path", "X", "points=0,0; 1 parsec,0"}, "number 2"},
          {{"--path", "X", "points=0,0; 1,0 corner 3"}, "stands alone"},
          {{"--path", "X", "--kind", "road"}, "There are: points, circle"},
          {{"--path", "X", "points=0,0"}, "point"},
          {{"--part", "X", "--kind", "lorry"}, "round link"},
          {{"--part", "X", "--kind", "pieces", "pieces=Nobody"}, "no part named"},
          {{"--run", "X", "path=Edge"}, "needs a part"},
          {{"--run", "X", "path=Edge", "part=Base", "exceptions=4"}, "nothing is said"},
          {{"--run", "X", "path=Edge", "part=Base", "exceptions=out"}, "by its number"},
          {{"--run", "X", "path=Edge", "part=Base", "folder=Attic"}, "nothing named"},
          {{"--run", "X", "--path", "Y"}, "Say one of"},
          {{"--folder", "F", "colour=3"}, "no values"}}) {
        const Ran r = run(QStringList{"add", file} + more);
        QVERIFY2(r.code == 2 && r.error.contains(says) && r.error.count('\n') == 1, qPrintable(r.error));
    }
    QFile after(file);
    QVERIFY(after.open(QIODevice::ReadOnly));
    QCOMPARE(after.readAll(), bytes);
}

void TestCli::nothingWrittenIsWrittenOver() {
    QTemporaryDir dir;
    const QString json = quayWith(dir, "quay.json", readFile(kQuay.toStdString()).value());
    const std::string bytes = *readFile(json.toStdString());
    QVERIFY(QFile::link(json, dir.filePath("link.json")));
    for (const QString& to : {json, dir.filePath("link.json"), dir.filePath("./quay.json")}) {
        const Ran r = run({"export", json, "--to", to});
        QVERIFY2(r.code == 2 && r.error.contains("is the document itself"), qPrintable(r.error));
    }
    QCOMPARE(*readFile(json.toStdString()), bytes);
    // Somebody else's file beside what is asked for by name.
    QVERIFY(QFile::link(dir.filePath("nowhere"), dir.filePath("spare")));
    QFile other(dir.filePath("kit-Baluster 20.stl"));
    QVERIFY(other.open(QIODevice::WriteOnly) && other.write("mine") == 4);
    other.close();
    const QStringList kit{"send",     json,     "--as",           "solids", "--to", dir.filePath("kit.stl"),
                          "as=parts", "--what", "Ramp balustrade"};
    const Ran refused = run(kit);
    QVERIFY2(refused.code == 2 && refused.error.contains("Move it away"), qPrintable(refused.error));
    QVERIFY(!QFile::exists(dir.filePath("kit-poses.csv")));
    QVERIFY(other.open(QIODevice::ReadOnly) && other.readAll() == "mine");
    other.remove();
    QCOMPARE(run(kit).code, 0);
    QCOMPARE(run(kit).code, 0); // its own files it does replace
    QVERIFY(run({"tape", json, "--run", "Quay lights", "--to", dir.filePath("tape.csv")}).code == 0);
    QFile tape(dir.filePath("tape.csv"));
    QVERIFY(tape.open(QIODevice::ReadOnly) && tape.readLine().startsWith("run,mark,part,station,back,front,gap along"));
    QVERIFY(run({"tape", json, "--run", "Quay lights", "--to", dir.filePath("tape.doc")}).code == 2);
    QCOMPARE(run({"template", json, "--to", dir.filePath("t.svg"), "--run", "Quay fairleads", "of=parts"}).code, 0);
}

void TestCli::deliveriesStayBelowTheDocument() {
    QTemporaryDir dir;
    QVERIFY(QDir(dir.path()).mkpath("site/out"));
    Document d = *openDocument(kQuay.toStdString(), readBody);
    d.deliveries.clear();
    const auto keep = [&](const char* name, const std::string& folder) {
        Delivery x;
        x.name = name;
        x.order = ScheduleOrder{};
        x.format = "csv";
        x.folder = folder;
        d = with(d, x);
    };
    const QString file = dir.filePath("site/quay.vicinal");
    const auto save = [&] { QVERIFY(!saveDocument(d, file.toStdString())); };
    QVERIFY(QFile::link(dir.path(), dir.filePath("site/way out")));
    for (const std::string folder : {"..", "out/../..", "/tmp", "way out"}) {
        d.deliveries.clear();
        keep("List", folder);
        save();
        const Ran r = run({"deliver", file});
        QVERIFY2(r.code == 2 && r.error.contains("not below the document's own folder"), folder.c_str());
    }
    QVERIFY(!QFile::exists(dir.filePath("List.csv")));
    QCOMPARE(run({"deliver", file, "--to", dir.filePath("site/out")}).code, 0); // named: allowed
    d.deliveries.clear();
    keep("List", "out");
    keep("Other", "");
    save();
    QCOMPARE(run({"deliver", file}).code, 0);
    QVERIFY(QFile::exists(dir.filePath("site/out/List.csv")) && QFile::exists(dir.filePath("site/Other.csv")));
    // Two that would write one file: neither is.
    auto twice = *d.deliveries[1];
    twice.name = "Lis?t"; // file systems do not take it
    auto same = *d.deliveries[0];
    same.id = d.nextId++;
    same.folder = "./out";
    d.deliveries.push_back(std::make_shared<const Delivery>(same));
    save();
    QVERIFY(QFile::remove(dir.filePath("site/out/List.csv")));
    const Ran r = run({"deliver", file});
    QVERIFY2(r.code == 2 && r.error.contains("would both write"), qPrintable(r.error));
    QVERIFY(!QFile::exists(dir.filePath("site/out/List.csv")));
    const Ran there = run({"deliver", file, "--to", dir.filePath("site/out")});
    QVERIFY2(there.code == 2 && there.error.contains("was written already"), qPrintable(there.error));
}

void TestCli::whatIsNotKnownIsNoZero() {
    QTemporaryDir dir;
    // An open body has neither volume nor weight; what has both says them in every list.
    const QString file =
        QString::fromStdString(writeText(dir, "d.json", R"({"format":"vicinal","version":5,"units":"mm",
        "shownIn":"mm","parts":[{"id":10,"name":"B","shape":{"kind":"box","length":100,"width":100,"height":100},
        "density":1000}],"bodies":[{"id":50,"name":"Twice","density":2400,"size":2,"shape":{"kind":"part","part":10}},
        {"id":51,"name":"No idea","shape":{"kind":"part","part":10}}]})"));
    std::string obj = "v 0 0 0\nv 100 0 0\nv 0 100 0\nv 0 0 100\nf 1 3 2\nf 1 2 4\nf 1 4 3\n"; // without its lid
    writeText(dir, "open.obj", obj);
    const QString with = dir.filePath("with.vicinal");
    QCOMPARE(run({"body", file, "--add", "file", "--from", dir.filePath("open.obj"), "--unit", "mm", "--name", "Open",
                  "density=7850", "--to", with})
                 .code,
             0);
    const QString listed = run({"body", with}).out;
    QVERIFY2(listed.contains("Twice,part,8000000.000000,19.200000,"), qPrintable(listed));
    QVERIFY2(listed.contains("Open,mesh,,,"), qPrintable(listed));
    QCOMPARE(run({"send", with, "--as", "schedule", "--to", dir.filePath("p.csv"), "of=parts"}).code, 0);
    QFile csv(dir.filePath("p.csv"));
    QVERIFY(csv.open(QIODevice::ReadOnly));
    const QString parts = QString::fromUtf8(csv.readAll());
    QVERIFY2(parts.contains("Twice,1,1.000000,200.000,200.000,200.000,8000.000,19.200,19.200,0.200,Twice"),
             qPrintable(parts));
    QVERIFY2(parts.contains("Open,1,1.000000,100.000,100.000,100.000,,,,0.100,Open"), qPrintable(parts));
    QVERIFY(parts.trimmed().split('\n').last().startsWith("all,3,,,,,,,,")); // a sum of what is not known is not known
}

void TestCli::whatACutBreaksFails() {
    QTemporaryDir dir;
    const QString file = dir.filePath("plate.vicinal");
    const auto ok = [&](const QStringList& a) {
        const Ran r = run(a);
        QVERIFY2(r.code == 0, qPrintable(r.error));
    };
    ok({"add", file, "--path", "Line", "points=-100,0,10; 100,0,10", "smooth=no"});
    ok({"add", file, "--part", "Hole", "--kind", "round hole", "diameter=20"});
    ok({"add", file, "--run", "Holes", "path=Line", "part=Hole", "rule=share out", "count=5"});
    ok({"body", file, "--add", "box", "--name", "Plate", "length=260", "width=60", "height=10"});
    ok({"body", file, "--add", "cut", "--name", "Cut", "--body", "Plate", "--run", "Holes", "least=15"});
    const Ran sound = run({"body", file, "--webs"});
    QVERIFY2(sound.code == 0 && sound.out.count("Cut,") == 5, qPrintable(sound.out + sound.error));
    QVERIFY(!run({"check", file}).out.contains("Cut: wrong"));
    ok({"set", file, "--body", "Cut", "least=25"});
    const Ran thin = run({"body", file, "--webs"});
    QVERIFY2(thin.code == 1 && thin.error.contains("less than 25 mm"), qPrintable(thin.error));
    const Ran checked = run({"check", file});
    QVERIFY2(checked.code == 1 && checked.out.contains("Cut: wrong: The least web is 20 mm"), qPrintable(checked.out));
    ok({"set", file, "--body", "Cut", "least=0"});
    ok({"set", file, "--path", "Line", "points=-100,25,10; 100,25,10"});
    const Ran over = run({"body", file, "--webs"});
    QVERIFY2(over.code == 1 && over.error.contains("over the edge"), qPrintable(over.error));
}

VICINAL_SUITE(TestCli)

} // namespace test_cli
#include "test_cli.moc"
