// Files in: DXF written by ezdxf, CSV, meshes; and what is wrong with bad ones.
#include "exchange/step_writer.h"
#include "model/documents.h"
#include "suite.h"
#include <QProcess>

namespace test_bring_in {

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
g = msp.add_spline(fit_points=[(0,0,0),(10,10,0),(20,0,0),(30,10,5)], dxfattribs=on("AIMED")); g.dxf.start_tangent = (0, 3, 4); g.dxf.end_tangent = (2, 1, -2)
msp.add_point((1, 1)); msp.add_text("made up")
b = doc.blocks.new("POST"); b.add_line((0, 0), (9, 9)); msp.add_blockref("POST", (1, 1), dxfattribs=on("POSTS"))
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
    void dxfInsertsAreOpened();
    void svgKeepsEveryShape();
    void svgTakesWhatIsSound();
    void svgKnowsItsUnits();
    void objLines();
    void stepCurves();
    void readersStopWhenAsked();
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
                              "RATIONAL", "FIT", "AIMED", "CHAIN", "POSTS"})
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
    NEAR(length("POSTS"), 9 * std::sqrt(2.), 1e-9); // from its block, on the insert's layer
    NEAR((paths.at("POSTS").at(0).point - Vec3(10, 10, 0)).norm(), 0, 1e-9);
    NEAR(length("CHAIN"), 20 + 10 * kPi / 2, 1e-9);
    NEAR((paths.at("FIT").at(paths.at("FIT").length()).point - Vec3(300, 100, 50)).norm(), 0, 1e-6);
    const Path& aimed = paths.at("AIMED"); // as its ends are said to lead, upwards, too
    NEAR((aimed.at(0).tangent - Vec3(0, 0.6, 0.8)).norm(), 0, 1e-9);
    NEAR((aimed.at(aimed.length()).tangent - Vec3(2, 1, -2) / 3).norm(), 0, 1e-9);
    QVERIFY(paths.at("SPLINE").length() > 600); // the control polygon's end points at least
    std::string remarks;
    for (const auto& r : file->remarks) remarks += r + "\n";
    for (const char* what : {"1 points", "1 texts"}) QVERIFY2(remarks.find(what) != std::string::npos, remarks.c_str());
    // The splines stay splines.
    for (const auto& s : *strands)
        if (s.layer == "SPLINE" || s.layer == "RATIONAL" || s.layer == "ELLIPSE")
            QVERIFY(std::holds_alternative<Nurbs>(s.segments[0]));
}

void TestBringIn::dxfInsertsAreOpened() {
    // ezdxf opens the same inserts by its own code: points at even steps along every curve must be the same.
    QTemporaryDir dir;
    QVERIFY(python(dir, R"(
import ezdxf, sys, math
from ezdxf.disassemble import recursive_decompose, to_primitives
doc = ezdxf.new("R2000"); doc.header["$INSUNITS"] = 4; msp = doc.modelspace()
post = doc.blocks.new("POST", base_point=(2, 1))
post.add_line((0, 0), (9, 4)); post.add_arc((3, 3), 5, 20, 200); post.add_lwpolyline([(0, 0, 0.5), (6, 0, 0), (6, 5, 0)], format="xyb")
pair = doc.blocks.new("PAIR")
pair.add_blockref("POST", (10, 0), dxfattribs={"rotation": 30}); pair.add_blockref("POST", (-20, 5), dxfattribs={"xscale": 2, "yscale": 2, "zscale": 2})
msp.add_blockref("PAIR", (100, 50), dxfattribs={"rotation": 70, "xscale": 1.5, "yscale": 1.5, "zscale": 1.5})
msp.add_blockref("POST", (300, 0), dxfattribs={"xscale": -1})
oval = doc.blocks.new("OVAL"); oval.add_line((0, 0), (9, 4)); oval.add_arc((3, 3), 5, 20, 200)
msp.add_blockref("OVAL", (400, 0), dxfattribs={"xscale": 3, "yscale": 1})
msp.add_blockref("POST", (0, 300), dxfattribs={"column_count": 3, "row_count": 2, "column_spacing": 40, "row_spacing": 30, "rotation": 15})
msp.add_blockref("POST", (5, 6, 7), dxfattribs={"extrusion": (0, 1, 0)})
doc.saveas(sys.argv[1] + "/inserts.dxf")
out = open(sys.argv[1] + "/expected.txt", "w")
for p in to_primitives(recursive_decompose(msp), max_flattening_distance=1e-5):
    v = list(p.vertices()); 
    if v: print(sum(a.distance(b) for a, b in zip(v, v[1:])), *v[0], *v[-1], file=out)
)"));
    const auto file = readDxf(dir.filePath("inserts.dxf").toStdString());
    QVERIFY2(bool(file), file ? "" : file.problem().text.c_str());
    std::vector<std::array<double, 7>> expected;
    std::ifstream in(dir.filePath("expected.txt").toStdString());
    for (std::array<double, 7> row; in >> row[0] >> row[1] >> row[2] >> row[3] >> row[4] >> row[5] >> row[6];)
        expected.push_back(row);
    QCOMPARE(expected.size(), size_t(3 * (2 + 1 + 6 + 1) + 2));
    QCOMPARE(file->strands.size(), expected.size());
    for (const auto& s : file->strands) { // each strand is one of them, either way round
        const Path p = *Path::make(s.segments, s.closed, 1e-3);
        const Vec3 a = startOf(s.segments.front()), b = endOf(s.segments.back());
        bool found = false;
        for (const auto& e : expected) {
            const Vec3 ea(e[1], e[2], e[3]), eb(e[4], e[5], e[6]);
            const double ends = std::min((a - ea).norm() + (b - eb).norm(), (a - eb).norm() + (b - ea).norm());
            found = found || (ends < 1e-6 && std::abs(p.length() - e[0]) < 1e-3 * e[0]);
        }
        QVERIFY2(
            found,
            qPrintable(QString("%1 %2 to %3 %4, %5 long").arg(a.x()).arg(a.y()).arg(b.x()).arg(b.y()).arg(p.length())));
    }
}

void TestBringIn::svgKeepsEveryShape() {
    auto r = readSvg(VICINAL_SOURCE "/tests/exchange/shapes.svg");
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    NEAR(r->millimetresPerUnit, 1, 1e-9);
    std::map<std::string, std::vector<Path>> by;
    for (const auto& s : r->strands) by[s.layer].push_back(*Path::make(s.segments, s.closed, 1e-6));
    const auto length = [&](const char* layer, size_t i) { return by.at(layer).at(i).length(); };
    QCOMPARE(by.at("STRAIGHT").size(), size_t(4));
    NEAR(length("STRAIGHT", 0), 50 + 20 + 40 + 50, 1e-9);
    QVERIFY(by.at("STRAIGHT")[0].closed());
    NEAR(length("STRAIGHT", 1), 5, 1e-9);
    NEAR(length("STRAIGHT", 2), 11, 1e-9);
    NEAR(length("STRAIGHT", 3), 30 + 40 + 50, 1e-9);
    NEAR((by.at("CURVES")[0].at(0).point - Vec3(5, -5, 0)).norm(), 0, 1e-9); // y upwards
    NEAR((by.at("CURVES")[0].spans().back().point(1) - Vec3(65, -65, 0)).norm(), 0, 1e-9);
    QVERIFY(by.at("CURVES")[0].corners().empty()); // the shorthands go on smoothly
    NEAR(length("CURVES", 1), 25 * kPi, 1e-9);
    NEAR(by.at("CURVES")[1].at(12.5 * kPi).point.y(), -5 + 25, 1e-9); // sweep 1: over the top, as the standard draws it
    NEAR((by.at("CURVES")[2].spans().back().point(1) - Vec3(20, -20, 0)).norm(), 0, 1e-9);
    QVERIFY(length("CURVES", 2) > 2 * 45); // the long way round
    NEAR(length("SHAPES", 0), 20 * kPi, 1e-9);
    NEAR(length("SHAPES", 1), 4 * 30 * std::comp_ellint_2(std::sqrt(1 - 0.16)), 1e-8);
    NEAR(length("SHAPES", 2), 2 * (30 + 10) + 10 * kPi, 1e-9);
    NEAR(length("TURNED", 0), 100, 1e-9);
    NEAR((by.at("TURNED")[0].at(0).point - Vec3(0, -20, 0)).norm(), 0, 1e-9);
    QVERIFY(std::holds_alternative<Arc>(by.at("TURNED")[1].segments()[0]));          // a circle stays one
    NEAR(length("SQUASHED", 0), 4 * 20 * std::comp_ellint_2(std::sqrt(0.75)), 1e-8); // or becomes an ellipse
    QVERIFY(r->remarks.size() == 1 && r->remarks[0].find("\"text\" passed over") != std::string::npos);
}

void TestBringIn::svgTakesWhatIsSound() {
    QTemporaryDir dir;
    const auto r = readSvg(writeText(dir, "broken.svg",
                                     "<svg width='10mm' viewBox='0 0 10 10'>\n<path d='M0 0 L10 10 L nonsense'/>\n"
                                     "<path d='what'/>\n<g transform='spin(3)'><line x2='5'/></g>\n<circle "
                                     "r='-3'/>\n<rect width='5' height='4'/>\n</svg>"));
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    QCOMPARE(r->strands.size(), size_t(2));
    std::string all;
    for (const auto& x : r->remarks) all += x + "\n";
    for (const char* says : {"Line 2: the path data is broken", "Line 3: the path data cannot be read",
                             "Line 4: the transform", "Line 5: a circle has no radius"})
        QVERIFY2(all.find(says) != std::string::npos, all.c_str());
    const auto cut =
        readSvg(writeText(dir, "cut.svg", "<svg width='10mm' viewBox='0 0 10 10'><line x2='5'/><line x2='7"));
    QVERIFY2(cut && cut->strands.size() >= 1 && !cut->remarks.empty(), cut ? "" : cut.problem().text.c_str());
    QVERIFY(readSvg(writeText(dir, "no.svg", "<html/>")).problem().text.find("not an SVG") != std::string::npos);
    QVERIFY(readSvg(writeText(dir, "none.svg", "")).problem().text.find("not an SVG") != std::string::npos);
    QVERIFY(readSvg(writeText(dir, "bare.svg", "<svg><text>x</text></svg>")).problem().text.find("no path or shape") !=
            std::string::npos);
    QVERIFY(!readSvg(dir.filePath("missing.svg").toStdString()));
}

void TestBringIn::svgKnowsItsUnits() {
    QTemporaryDir dir;
    const auto unit = [&](const char* root) {
        return readSvg(writeText(dir, "u.svg", std::string("<svg ") + root + "><line x2='5'/></svg>"))
            ->millimetresPerUnit;
    };
    NEAR(unit("width='4in' viewBox='0 0 400 100'"), 0.254, 1e-12);
    NEAR(unit("width='96' height='96'"), 25.4 / 96, 1e-12);
    NEAR(unit("width='10cm' height='50mm' viewBox='0 0 200 100'"), 0.5, 1e-12);
    NEAR(unit("viewBox='0 0 10 10'"), 25.4 / 96, 1e-12);
    NEAR(unit("width='100%'"), 25.4 / 96, 1e-12);
}

void TestBringIn::objLines() {
    const auto r = readObjLines("v 0 0 0\nv 3 4 0\nv 3 4 12\nv 0 0 12\nl 1 2 3/1\nl -1 -4\n# l 9 9\n", "x.obj");
    QVERIFY(bool(r));
    QCOMPARE(r->strands.size(), size_t(2));
    NEAR(pathOf(r->strands[0].segments).length(), 17, 1e-12);
    NEAR(pathOf(r->strands[1].segments).length(), 12, 1e-12);
    QVERIFY(readObjLines("v 0 0 0\nl 1 2\n", "x.obj").problem().text.find("line 2") != std::string::npos);
    QVERIFY(readObjLines("v 0 zero 0\n", "x.obj").problem().text.find("line 1") != std::string::npos);
    QVERIFY(!readObjLines("v 0 0 0\nf 1 1 1\n", "x.obj"));
}

void TestBringIn::stepCurves() {
    QTemporaryDir dir;
    const std::string wires = dir.filePath("wires.step").toStdString(), body = dir.filePath("body.stp").toStdString();
    writeStep(wires, body);
    const auto r = readCurves(wires);
    QVERIFY2(bool(r), r ? "" : r.problem().text.c_str());
    NEAR(r->millimetresPerUnit, 1, 0);
    auto joined = r.value(); // the file holds the wire's edges one by one: they join by their ends
    const auto strands = pathsOf(joined, 1, 0.01);
    QVERIFY(strands && strands->size() == 3);
    QVERIFY(std::none_of(strands->begin(), strands->end(), [](const Strand& s) {
        return s.closed && std::abs((endOf(s.segments.back()) - startOf(s.segments.front())).norm()) > 1e-6;
    })); // what is open by 0.05 stays open
    std::vector<Path> p;
    for (const auto& s : *strands) p.push_back(*Path::make(s.segments, s.closed, 1e-4));
    std::sort(p.begin(), p.end(), [](const Path& a, const Path& b) { return a.length() < b.length(); });
    NEAR(p[0].length(), 5 * (2 * kPi - 0.01), 1e-6);
    QVERIFY(!p[0].closed() && p[1].closed());
    NEAR(p[1].length(), 40 * kPi, 1e-6); // a free circle
    QVERIFY(std::holds_alternative<Arc>(p[1].segments()[0]));
    NEAR(p[2].length(), 100 + 25 * kPi + 80, 1e-6); // a wire: line, half circle, line
    QCOMPARE(p[2].segments().size(), size_t(3));
    const auto b = readCurves(body); // a box: its twelve edges
    QVERIFY(bool(b));
    QCOMPARE(b->strands.size(), size_t(12));
    QVERIFY(b->remarks.size() == 1);
    double sum = 0;
    for (const auto& s : b->strands) sum += Path::make(s.segments, false)->length();
    NEAR(sum, 4 * (10 + 20 + 30), 1e-6);
    QVERIFY(readCurves(writeText(dir, "bad.step", "nothing of the kind")).problem().text.find("not a STEP file") !=
            std::string::npos);
    QVERIFY(!readCurves(dir.filePath("none.step").toStdString()));
    QVERIFY(readCurves(dir.filePath("x.doc").toStdString()).problem().text.find("Bring in DXF") != std::string::npos);
}

void TestBringIn::readersStopWhenAsked() {
    QTemporaryDir dir;
    QVERIFY(python(dir, kDrawing));
    const Stop stop = true;
    QCOMPARE(readDxf(dir.filePath("all.dxf").toStdString(), &stop).problem().text, cancelled().text);
    QCOMPARE(readSvg(writeText(dir, "s.svg", "<svg><line x2='5'/></svg>"), &stop).problem().text, cancelled().text);
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
                               << "1 point(s); at least two are needed";
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

VICINAL_SUITE(TestBringIn)

} // namespace test_bring_in
#include "test_bring_in.moc"
