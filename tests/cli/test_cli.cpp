// The command line as a user has it: output, errors in one line, exit codes.
#include "model/documents.h"
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

const QString kQuay = VICINAL_SOURCE "/examples/saltmarrow-quay.json";

} // namespace

class TestCli : public QObject {
    Q_OBJECT
private slots:
    void placesPrintsTheSchedule();
    void fitsMatchTheRun();
    void exportWritesEveryKind();
    void checkExitsOneWhenWrong();
    void badInputExitsTwoInOneLine_data();
    void badInputExitsTwoInOneLine();
};

void TestCli::placesPrintsTheSchedule() {
    const Ran all = run({"places", kQuay}), one = run({"places", kQuay, "--run", "Ramp balustrade"});
    QCOMPARE(all.code, 0);
    QVERIFY(all.error.isEmpty());
    QVERIFY(all.out.startsWith("run,place,part,station,x,y,z,heading,slope,roll,qw,qx,qy,qz,size\n"));
    const auto d = openDocument(kQuay.toStdString(), readMesh);
    const auto e = evaluate(*d);
    QCOMPARE(all.out.count('\n'), int(1 + e->runs[0]->places->count() + e->runs[1]->places->count()));
    QCOMPARE(one.out.count('\n'), int(1 + e->runs[0]->places->count()));
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
    QCOMPARE(run({"validate", kQuay}).out, QString("valid: 2 paths, 2 parts, 2 runs\n"));
}

void TestCli::checkExitsOneWhenWrong() {
    QCOMPARE(run({"check", kQuay}).code, 0);
    QTemporaryDir dir;
    std::string text = *readFile(kQuay.toStdString());
    const size_t at = text.find("\"leftOut\": []");
    text.replace(at, 13, "\"leftOut\": [9]");
    const Ran r = run({"check", QString::fromStdString(writeText(dir, "gate.json", text))});
    QCOMPARE(r.code, 1);
    QVERIFY2(r.out.contains("wrong: The clear gap is 217.") && r.out.contains("between places 8 and 10"),
             qPrintable(r.out));
}

void TestCli::badInputExitsTwoInOneLine_data() {
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("says");
    const QStringList places{"places", "FILE"}, validate{"validate", "FILE"};
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
    const QString file = QString::fromStdString(writeText(dir, "in.json", text.toStdString()));
    for (auto& a : arguments)
        if (a == "FILE") a = file;
    const Ran r = run(arguments);
    QCOMPARE(r.code, 2);
    QVERIFY(r.out.isEmpty());
    QVERIFY2(r.error.contains(says), qPrintable(r.error));
    QCOMPARE(r.error.trimmed().count('\n'), 0);
}

QTEST_APPLESS_MAIN(TestCli)
#include "test_cli.moc"
