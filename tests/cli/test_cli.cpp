// The command line as a user has it: output, errors in one line, exit codes.
#include "model/documents.h"
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

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
    void packHoldsEverything();
    void checkExitsOneWhenWrong();
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
    QCOMPARE(rows.size(), 6);
    QCOMPARE(rows[3].split(',')[5], QString("yes"));
    QVERIFY(rows[1].endsWith(",over"));
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

void TestCli::checkExitsOneWhenWrong() {
    QCOMPARE(run({"check", kQuay}).code, 0);
    QTemporaryDir dir;
    std::string text = *readFile(kQuay.toStdString());
    const size_t at = text.find("\"leftOut\": []");
    text.replace(at, 13, "\"leftOut\": [9]");
    const Ran r = run({"check", quayWith(dir, "gate.json", text)});
    QCOMPARE(r.code, 1);
    QVERIFY2(r.out.contains("wrong: The clear gap is 217.") && r.out.contains("between places 8 and 10"),
             qPrintable(r.out));
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
    QTest::newRow("pitch 0") << places << "\"rule\": \"even out\""
                             << "\"rule\": \"step off\", \"pitch\": 0, \"x\": \"\""
                             << "above zero";
    QTest::newRow("count huge") << places << "\"rule\": \"even out\""
                                << "\"rule\": \"share out\""
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
        if (QString(QTest::currentDataTag()) == "count huge")
            text.replace(text.indexOf("\"count\": 12"), 11, "\"count\": 10000000");
        if (QString(QTest::currentDataTag()) == "pitch 0")
            text.replace(text.indexOf("\"pitch\": 120.0"), 14, "\"pitch\": 0");
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

QTEST_APPLESS_MAIN(TestCli)
#include "test_cli.moc"
