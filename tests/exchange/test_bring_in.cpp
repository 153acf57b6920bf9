// Files in: DXF written by ezdxf, CSV, meshes; and what is wrong with bad ones.
#include "model/documents.h"
#include <QProcess>

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Runs a piece of Python with Debian's own interpreter (ezdxf lives there); the folder is argv[1].
bool python(const QTemporaryDir& dir, const QString& code) {
    QProcess p;
    p.start("/usr/bin/python3", {"-c", code, dir.path()});
    p.waitForFinished(60'000);
    if (p.exitCode() != 0) qWarning() << p.readAllStandardError();
    return p.exitCode() == 0;
}

const char* kDrawing = R"(
import ezdxf, sys, math
doc = ezdxf.new("R2000"); doc.header["$INSUNITS"] = 5
msp = doc.modelspace()
def on(l): return {"layer": l}
msp.add_line((0, 0, 0), (30, 40, 0), dxfattribs=on("LINE"))
msp.add_arc((0, 0, 5), 10, 350, 80, dxfattribs=on("ARC"))
msp.add_circle((7, 8), 25, dxfattribs=on("CIRCLE"))
msp.add_arc((3, 4, 5), 10, 0, 90, dxfattribs={"layer": "TILTED", "extrusion": (0, 1, 0)})
msp.add_ellipse((1, 2, 3), (30, 0, 0), 0.4, 0, 2 * math.pi, dxfattribs=on("ELLIPSE"))
msp.add_lwpolyline([(0, 0, 0, 0, 1), (20, 0, 0, 0, 0), (20, 30, 0, 0, 0)], dxfattribs={"layer": "LWOPEN", "elevation": 12})
msp.add_lwpolyline([(0, 0, -0.4142135623730951), (10, 10, 0), (10, 0, 0)], format="xyb", close=True, dxfattribs=on("LWCLOSED"))
msp.add_polyline3d([(0, 0, 0), (10, 0, 10), (10, 20, 30)], dxfattribs=on("POLY3D"))
s = msp.add_spline(dxfattribs=on("SPLINE")); s.control_points = [(0,0,0),(10,20,0),(30,20,5),(40,0,0),(60,0,0)]; s.dxf.degree = 3; s.knots = [0,0,0,0,1,2,2,2,2]
r = msp.add_rational_spline([(10,0,0),(10,10,0),(0,10,0)], [1, math.sqrt(0.5), 1], degree=2, dxfattribs=on("RATIONAL"))
msp.add_spline(fit_points=[(0,0,0),(10,10,0),(20,0,0),(30,10,5)], dxfattribs=on("FIT"))
msp.add_point((1, 1)); msp.add_text("made up")
b = doc.blocks.new("POST"); b.add_line((0, 0), (9, 9)); msp.add_blockref("POST", (1, 1))
msp.add_line((0,0,0),(10,0,0), dxfattribs=on("CHAIN")); msp.add_line((10,10,0),(10,0,0), dxfattribs=on("CHAIN"))
msp.add_arc((10, 20), 10, 270, 0, dxfattribs=on("CHAIN"))
doc.saveas(sys.argv[1] + "/all.dxf")
empty = ezdxf.new("R2000"); empty.modelspace().add_text("nothing"); empty.saveas(sys.argv[1] + "/empty.dxf")
)";

} // namespace

class TestBringIn : public QObject {
    Q_OBJECT
private slots:
    void dxfKeepsEveryCurve();
    void endsAreChained();
    void branchesAreNotGuessed();
    void badDxfIsNamed();
    void csv_data();
    void csv();
    void badCsvIsNamed_data();
    void badCsvIsNamed();
    void meshesScaleAndClean();
    void badMeshesAreNamed();
};

void TestBringIn::dxfKeepsEveryCurve() {
    QTemporaryDir dir;
    QVERIFY(python(dir, kDrawing));
    auto file = readDxf(dir.filePath("all.dxf").toStdString());
    QVERIFY2(bool(file), file ? "" : file.problem().text.c_str());
    NEAR(file->millimetresPerUnit, 10, 0);
    const auto strands = pathsOf(file.value(), 10, 0.01);
    QVERIFY(bool(strands));
    std::map<std::string, Path> paths;
    for (const auto& s : *strands) paths.emplace(s.layer, *Path::make(s.segments, s.closed));
    for (const char* layer : {"LINE", "ARC", "CIRCLE", "TILTED", "ELLIPSE", "LWOPEN", "LWCLOSED", "POLY3D", "SPLINE",
                              "RATIONAL", "FIT", "CHAIN"})
        QVERIFY2(paths.count(layer), layer);
    const auto length = [&](const char* layer) { return paths.at(layer).length() / 10; };
    NEAR(length("LINE"), 50, 1e-9);
    NEAR(length("ARC"), 10 * kPi / 2, 1e-9);
    NEAR(paths.at("ARC").at(0).point.z(), 50, 1e-9);
    NEAR((paths.at("ARC").at(0).point - Vec3(100 * std::cos(-10 * kDegree), 100 * std::sin(-10 * kDegree), 50)).norm(),
         0, 1e-9);
    NEAR(length("CIRCLE"), 50 * kPi, 1e-9);
    QVERIFY(paths.at("CIRCLE").closed());
    // In the plane of (0,1,0) the own x axis is world -x and the own y axis world z (arbitrary axis rule).
    NEAR((paths.at("TILTED").at(0).point - 10 * Vec3(-3 - 10, 5, 4)).norm(), 0, 1e-6);
    NEAR((paths.at("TILTED").at(paths.at("TILTED").length()).point - 10 * Vec3(-3, 5, 14)).norm(), 0, 1e-6);
    NEAR(length("ELLIPSE"), 4 * 30 * std::comp_ellint_2(std::sqrt(1 - 0.16)), 1e-8);
    QVERIFY(paths.at("ELLIPSE").closed());
    NEAR(length("LWOPEN"), 10 * kPi + 30, 1e-9);
    NEAR(paths.at("LWOPEN").at(50 * kPi).point.y(), -100,
         1e-6); // bulge 1: a half circle to the right of the chord's left
    NEAR(paths.at("LWOPEN").at(0).point.z(), 120, 1e-9);
    NEAR(length("LWCLOSED"), 10 * kPi / 2 + 20, 1e-9);
    NEAR(length("POLY3D"), std::sqrt(200.0) + std::sqrt(800.0), 1e-9);
    NEAR(length("RATIONAL"), 10 * kPi / 2, 1e-9);
    NEAR(length("CHAIN"), 20 + 10 * kPi / 2, 1e-9);
    NEAR((paths.at("FIT").at(paths.at("FIT").length()).point - Vec3(300, 100, 50)).norm(), 0, 1e-6);
    QVERIFY(paths.at("SPLINE").length() > 600); // the control polygon's end points at least
    std::string remarks;
    for (const auto& r : file->remarks) remarks += r + "\n";
    for (const char* what : {"1 block inserts", "1 points", "1 texts"})
        QVERIFY2(remarks.find(what) != std::string::npos, remarks.c_str());
    // The splines stay splines.
    for (const auto& s : *strands)
        if (s.layer == "SPLINE" || s.layer == "RATIONAL" || s.layer == "ELLIPSE")
            QVERIFY(std::holds_alternative<Nurbs>(s.segments[0]));
}

void TestBringIn::endsAreChained() {
    std::vector<Strand> loose;
    const std::vector<Vec3> p{{0, 0, 0}, {100, 0, 0}, {100, 100, 0}, {0, 100, 0}};
    for (int i : {2, 0, 3, 1}) {
        Line l{p[i], p[(i + 1) % 4]};
        if (i % 2) std::swap(l.a, l.b);
        if (i == 1) l.a += Vec3(0.05, 0, 0); // a gap of 0.05 mm
        loose.push_back({{l}, false, ""});
    }
    const auto tight = chainByEnds(loose, 0.01);
    QCOMPARE(tight.size(), size_t(1));
    QVERIFY(!tight[0].closed);
    const auto joined = chainByEnds(loose, 0.1);
    QCOMPARE(joined.size(), size_t(1));
    QVERIFY(joined[0].closed);
    const auto path = Path::make(joined[0].segments, true);
    QVERIFY(bool(path));
    NEAR(path->length(), 400, 0.2);
}

void TestBringIn::branchesAreNotGuessed() {
    const Vec3 o(0, 0, 0);
    std::vector<Strand> star;
    for (const Vec3& v : {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(-1, -1, 0)}) star.push_back({{Line{o, v}}, false, ""});
    QCOMPARE(chainByEnds(star, 0.1).size(), size_t(3));
}

void TestBringIn::badDxfIsNamed() {
    QTemporaryDir dir;
    QVERIFY(python(dir, kDrawing));
    const auto says = [&](const std::string& path, const char* text) {
        const auto r = readDxf(path);
        QVERIFY2(!r && r.problem().text.find(text) != std::string::npos, r ? "read" : r.problem().text.c_str());
    };
    says(dir.filePath("empty.dxf").toStdString(), "has no line, arc");
    says(dir.filePath("none.dxf").toStdString(), "There is no file");
    says(writeText(dir, "words.dxf", "this is not a drawing\n"), "not a text DXF");
    const std::string whole = *readFile(dir.filePath("all.dxf").toStdString());
    const size_t entities = whole.rfind("ENTITIES");
    const auto half = readDxf(writeText(dir, "half.dxf", whole.substr(0, entities + (whole.size() - entities) / 3)));
    QVERIFY(bool(half)); // what is sound is taken, and it says so
    QVERIFY(half->remarks.front().find("cut off") != std::string::npos);
    for (size_t n = 0; n < whole.size(); n += whole.size() / 40)
        readDxf(writeText(dir, "cut.dxf", whole.substr(0, n))); // no crash
}

void TestBringIn::csv_data() {
    QTest::addColumn<QString>("text");
    QTest::newRow("comma") << "1,2,3\n4.5,5,6\n";
    QTest::newRow("heading, crlf") << "x,y,z\r\n1,2,3\r\n4.5,5,6\r\n";
    QTest::newRow("semicolon, decimal comma") << "Ost;Nord;H\xc3\xb6he\n1;2;3\n4,5;5;6";
    QTest::newRow("spaces") << "# survey\n1 2 3\n\n  4.5   5  6\n";
    QTest::newRow("tabs") << "1\t2\t3\n4.5\t5\t6\n";
    QTest::newRow("byte order mark, quotes, plus") << "\xef\xbb\xbf\"x\",\"y\",\"z\"\n1,+2,3\n4.5,5,6\n";
}

void TestBringIn::csv() {
    QFETCH(QString, text);
    const auto p = readPoints(text.toStdString());
    QVERIFY2(bool(p), p ? "" : p.problem().text.c_str());
    QCOMPARE(p->size(), size_t(2));
    NEAR(((*p)[1] - Vec3(4.5, 5, 6)).norm(), 0, 0);
}

void TestBringIn::badCsvIsNamed_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    QTest::newRow("words") << "1,2\nfish,3\n"
                           << "Line 2: \"fish\" is not a number";
    QTest::newRow("nan") << "1,2\n3,nan\n"
                         << "Line 2: \"nan\" is not a number";
    QTest::newRow("infinite") << "inf,2\n3,4\n"
                              << "Line 1: \"inf\"";
    QTest::newRow("one point") << "1,2,3\n"
                               << "1 point(s); a path needs at least two";
    QTest::newRow("empty") << ""
                           << "0 point(s)";
    QTest::newRow("four columns") << "1,2,3,4\n1,2,3,4\n"
                                  << "Line 1 has 4 value(s)";
    QTest::newRow("empty cell") << "1,2\n3,,5\n"
                                << "Line 2: an empty cell";
}

void TestBringIn::badCsvIsNamed() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto p = readPoints(text.toStdString());
    QVERIFY(!p);
    QVERIFY2(p.problem().text.find(says.toStdString()) != std::string::npos, p.problem().text.c_str());
}

void TestBringIn::meshesScaleAndClean() {
    const auto obj = readMesh(wedgeObj(), "obj", 25.4);
    QVERIFY(bool(obj));
    NEAR((*obj)->box.sizes().x(), 60 * 25.4, 1e-3);
    QCOMPARE((*obj)->points.size(), size_t(8));
    QCOMPARE((*obj)->triangles.size(), size_t(12));
    const double volume =
        60 * (40 * 30 + 10 * 10 + 4 * 25 * 20) / 6.0; // prismatoid: both ends and four times the middle
    NEAR(volumeOf(**obj), volume * std::pow(25.4, 3), volume * std::pow(25.4, 3) * 0.02);
    const auto stl = readMesh(
        "solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 10 0 0\nvertex 0 10 0\nendloop\nendfacet\n"
        "facet normal 0 0 1\nouter loop\nvertex 10 0 0\nvertex 10 10 0\nvertex 0 10 0\nendloop\nendfacet\nendsolid s\n",
        "stl", 1);
    QVERIFY2(bool(stl), stl ? "" : stl.problem().text.c_str());
    QCOMPARE((*stl)->points.size(), size_t(4)); // joined
    const auto ply = readMesh("ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty "
                              "float z\nelement face 1\n"
                              "property list uchar int vertex_index\nend_header\n0 0 0\n5 0 0\n0 7 0\n3 0 1 2\n",
                              "ply", 1);
    QVERIFY2(bool(ply), ply ? "" : ply.problem().text.c_str());
    NEAR((*ply)->box.sizes().y(), 7, 1e-6);
}

void TestBringIn::badMeshesAreNamed() {
    const auto says = [](const Result<std::shared_ptr<const Mesh>>& r, const char* text) {
        QVERIFY2(!r && r.problem().text.find(text) != std::string::npos, r ? "read" : r.problem().text.c_str());
    };
    says(readMesh("v 0 0 0\nv 1 0 0\nv 0 1 0\n", "obj", 1), "mesh");
    says(readMesh("v 0 0 0\nv 1 0 0\nl 1 2\n", "obj", 1), "triangles");
    says(readMesh("v 0 0 0\nv 0 0 0\nv 0 0 0\nf 1 2 3\n", "obj", 1), "without area");
    says(readMesh("rubbish", "stl", 1), "");
    says(readMesh(wedgeObj(), "obj", 0), "unit");
    says(readMesh(wedgeObj(), "xyz", 1), ".xyz");
    Mesh bad;
    bad.points = {{0, 0, 0}, {1, 0, 0}, {0, std::nan(""), 0}};
    bad.triangles = {{0, 1, 2}};
    QVERIFY(!cleaned(bad));
    bad.triangles = {{0, 1, 9}};
    QVERIFY(cleaned(bad).problem().text.find("not there") != std::string::npos);
    // A kilometre away single precision costs a sixteenth of a millimetre, and the program can say so.
    const auto far = readMesh(wedgeObj(1e6), "obj", 1);
    QVERIFY(bool(far));
    NEAR(lostDigits(**far), 0.06, 0.01);
}

QTEST_APPLESS_MAIN(TestBringIn)
#include "test_bring_in.moc"
