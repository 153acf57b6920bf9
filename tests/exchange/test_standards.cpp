// DXF and SVG as their standards say it, where that is easily got wrong; joining of ends; what a drawing must be for
// others to read it.
#include "base/text.h"
#include "exchange/in/bring_in.h"
#include "exchange/out/send_out.h"
#include "geometry/path/chain.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/documents.h"
#include "model/file/document_file.h"
#include "suite.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>

namespace test_standards {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A DXF of pairs: "0 LINE 8 A 10 0 ..." in words.
std::string dxfOf(const std::string& entities, const std::string& blocks = "", int unit = 4) {
    const auto pairs = [](const std::string& words) {
        std::string out;
        for (char c : words) out += c == ' ' ? '\n' : c;
        return out.empty() ? out : out + "\n";
    };
    return pairs("0 SECTION 2 HEADER 9 $INSUNITS 70 " + std::to_string(unit) + " 0 ENDSEC") +
           (blocks.empty() ? "" : pairs("0 SECTION 2 BLOCKS " + blocks + " 0 ENDSEC")) +
           pairs("0 SECTION 2 ENTITIES " + entities + " 0 ENDSEC 0 EOF");
}
CurveFile dxf(const std::string& entities, const std::string& blocks = "", int unit = 4) {
    QTemporaryDir dir;
    const auto r = readDxf(writeText(dir, "a.dxf", dxfOf(entities, blocks, unit)));
    if (!r) qFatal("%s", r.problem().text.c_str());
    return *r;
}
CurveFile svg(const std::string& inside,
              const std::string& root = "width=\"100mm\" height=\"100mm\" viewBox=\"0 0 100 100\"") {
    QTemporaryDir dir;
    const auto r = readSvg(writeText(dir, "a.svg", "<svg " + root + ">" + inside + "</svg>"));
    if (!r) qFatal("%s", r.problem().text.c_str());
    return *r;
}
bool remarks(const CurveFile& f, const char* what) {
    for (const auto& r : f.remarks)
        if (r.find(what) != std::string::npos) return true;
    return false;
}
Vec3 startOf(const Strand& s) { return vicinal::startOf(s.segments.front()); }
Vec3 endOf(const Strand& s) { return vicinal::endOf(s.segments.back()); }
#define AT(p, X, Y, Z) NEAR(((p)-Vec3(X, Y, Z)).norm(), 0, 1e-9)

} // namespace

class TestStandards : public QObject {
    Q_OBJECT
private slots:
    void dxfUnits();
    void dxfOldPolylinesKeepTheirHeight();
    void dxfFramesAreNoPoints();
    void dxfLayerZeroTakesTheOutermostInsert();
    void dxfPaperSpaceIsLeftOut();
    void dxfFitSplinesKeepTheirEndTangents();
    void dxfAnglesOfAnySize();
    void svgNestedDrawings_data();
    void svgNestedDrawings();
    void svgStylesAndHidden();
    void svgNegativeRadii();
    void joiningNeverLeadsThereAndBack();
    void joiningTakesManyEnds();
    void whatFuzzingFoundIsRefused();
    void aDrawingNeedsNoRepair();
    void namesAreNoFormulas();
};

void TestStandards::dxfUnits() {
    const std::pair<int, double> units[] = {{11, 1e-7},
                                            {12, 1e-6},
                                            {13, 1e-3},
                                            {14, 100},
                                            {15, 1e4},
                                            {16, 1e5},
                                            {17, 1e12},
                                            {18, 1.495978707e14},
                                            {21, 304.8006096012192}};
    for (const auto& [code, mm] : units)
        NEAR(dxf("0 LINE 8 A 10 0 20 0 30 0 11 1 21 0 31 0", "", code).millimetresPerUnit, mm, mm * 1e-12);
    NEAR(dxf("0 LINE 8 A 10 0 20 0 30 0 11 1 21 0 31 0", "", 19).millimetresPerUnit, 9.4607304725808e18, 1e6);
}

void TestStandards::dxfOldPolylinesKeepTheirHeight() {
    const auto f = dxf(
        "0 POLYLINE 8 A 66 1 10 0 20 0 30 250 70 0 0 VERTEX 8 A 10 0 20 0 30 0 0 VERTEX 8 A 10 50 20 0 30 0 0 SEQEND");
    AT(startOf(f.strands[0]), 0, 0, 250);
    AT(endOf(f.strands[0]), 50, 0, 250);
    // In three dimensions each point has its own.
    const auto g = dxf("0 POLYLINE 8 A 66 1 10 0 20 0 30 250 70 8 0 VERTEX 8 A 10 0 20 0 30 1 70 32 0 VERTEX 8 A 10 50 "
                       "20 0 30 2 70 32 0 SEQEND");
    AT(startOf(g.strands[0]), 0, 0, 1);
    AT(endOf(g.strands[0]), 50, 0, 2);
}

void TestStandards::dxfFramesAreNoPoints() {
    // A spline-fit polyline: three points of the curve (8) among its frame (16).
    const auto f = dxf(
        "0 POLYLINE 8 A 66 1 10 0 20 0 30 0 70 4 0 VERTEX 8 A 10 0 20 900 30 0 70 16 0 VERTEX 8 A 10 0 20 0 30 0 70 8 "
        "0 VERTEX 8 A 10 10 20 5 30 0 70 8 0 VERTEX 8 A 10 20 20 900 30 0 70 16 0 VERTEX 8 A 10 20 20 0 30 0 70 8 0 "
        "SEQEND");
    QCOMPARE(f.strands[0].segments.size(), size_t(2));
    NEAR(pathOf(f.strands[0].segments).bounds().max().y(), 5, 1e-9);
}

void TestStandards::dxfLayerZeroTakesTheOutermostInsert() {
    const std::string line = "0 LINE 8 0 10 0 20 0 30 0 11 1 21 0 31 0 ";
    const std::string blocks = "0 BLOCK 8 0 2 IN 70 0 10 0 20 0 30 0 " + line + "0 ENDBLK " +
                               "0 BLOCK 8 0 2 OUT 70 0 10 0 20 0 30 0 0 INSERT 8 0 2 IN 10 0 20 0 30 0 " +
                               "0 INSERT 8 OWN 2 IN 10 5 20 0 30 0 0 ENDBLK";
    const auto f = dxf("0 INSERT 8 PIER 2 OUT 10 100 20 0 30 0", blocks);
    QCOMPARE(f.strands.size(), size_t(2));
    QCOMPARE(f.strands[0].layer, std::string("PIER"));
    QCOMPARE(f.strands[1].layer, std::string("OWN"));
}

void TestStandards::dxfPaperSpaceIsLeftOut() {
    const auto f = dxf("0 LINE 67 1 8 FRAME 10 0 20 0 30 0 11 1 21 0 31 0 0 LINE 8 A 10 0 20 0 30 0 11 7 21 0 31 0 "
                       "0 LWPOLYLINE 67 1 8 FRAME 90 2 70 0 10 0 20 0 10 5 20 5");
    QCOMPARE(f.strands.size(), size_t(1));
    QVERIFY(remarks(f, "2 curves in paper space"));
}

void TestStandards::dxfFitSplinesKeepTheirEndTangents() {
    const auto f = dxf("0 SPLINE 8 A 70 8 71 3 72 0 73 0 74 3 12 0 22 1 32 0 13 0 23 -1 33 0 11 0 21 0 31 0 11 100 21 "
                       "40 31 0 11 200 21 0 31 0");
    const Path p = pathOf(f.strands[0].segments);
    NEAR((p.at(0).tangent - Vec3(0, 1, 0)).norm(), 0, 1e-9);
    NEAR((p.at(p.length()).tangent - Vec3(0, -1, 0)).norm(), 0, 1e-6);
    NEAR(p.closest(Vec3(100, 40, 0)) > 0 ? (p.at(p.closest(Vec3(100, 40, 0))).point - Vec3(100, 40, 0)).norm() : 1, 0,
         1e-6);
    // Its curvature does not jump in the middle.
    const auto& spans = p.spans();
    const Jet a = spans[0].jet(1), b = spans[1].jet(0);
    const auto curvature = [](const Jet& j) { return Vec3(j.d1.cross(j.d2) / std::pow(j.d1.norm(), 3)); };
    NEAR((curvature(a) - curvature(b)).norm(), 0, 1e-9);
}

void TestStandards::dxfAnglesOfAnySize() {
    const auto f = dxf("0 ARC 8 A 10 0 20 0 30 0 40 10 50 1e17 51 90 0 ARC 8 A 10 0 20 0 30 0 40 10 50 -350 51 100 "
                       "0 ELLIPSE 8 A 10 0 20 0 30 0 11 9 21 0 31 0 40 0.5 41 -1e15 42 1");
    QCOMPARE(f.strands.size(), size_t(3));
    NEAR(pathOf(f.strands[1].segments).length(), 10 * kPi / 2, 1e-9); // from 10 to 100 degrees
    AT(endOf(f.strands[0]), 0, 10, 0);
}

void TestStandards::svgNestedDrawings_data() {
    QTest::addColumn<QString>("how");
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("sx");
    QTest::addColumn<double>("sy");
    // A box of 20 x 10 in a place of 40 x 40 at (5, 6): by the standard's own formulas.
    QTest::newRow("default") << "" << 5.0 << 16.0 << 2.0 << 2.0;
    QTest::newRow("none") << "none" << 5.0 << 6.0 << 2.0 << 4.0;
    QTest::newRow("slice") << "xMidYMid slice" << -15.0 << 6.0 << 4.0 << 4.0;
    QTest::newRow("top left") << "xMinYMin meet" << 5.0 << 6.0 << 2.0 << 2.0;
    QTest::newRow("bottom right") << "xMaxYMax meet" << 5.0 << 26.0 << 2.0 << 2.0;
    QTest::newRow("right, slice") << "xMaxYMin slice" << -35.0 << 6.0 << 4.0 << 4.0;
}

void TestStandards::svgNestedDrawings() {
    QFETCH(QString, how);
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, sx);
    QFETCH(double, sy);
    const std::string fit = how.isEmpty() ? "" : " preserveAspectRatio=\"" + how.toStdString() + "\"";
    const auto f = svg("<svg x=\"5\" y=\"6\" width=\"40\" height=\"40\" viewBox=\"100 50 20 10\"" + fit +
                       "><line x1=\"100\" y1=\"50\" x2=\"120\" y2=\"60\"/></svg>");
    AT(startOf(f.strands[0]), x, -y, 0);
    AT(endOf(f.strands[0]), x + 20 * sx, -(y + 10 * sy), 0);
    // Without a viewBox it is only moved; percentages are of the drawing around it.
    const auto g = svg("<svg x=\"10%\" y=\"6\"><line x2=\"3\" y2=\"4\"/></svg>");
    AT(endOf(g.strands[0]), 13, -10, 0);
    // The outermost may be out of proportion, too.
    const auto h = svg("<line x2=\"10\" y2=\"10\"/>",
                       "width=\"20mm\" height=\"40mm\" viewBox=\"0 0 10 10\" preserveAspectRatio=\"none\"");
    AT(endOf(h.strands[0]) * h.millimetresPerUnit, 20, -40, 0);
}

void TestStandards::svgStylesAndHidden() {
    const auto f = svg("<g style=\"fill:none; transform: translate(10px, 0) rotate(90deg)\"><line x2=\"5\"/></g>"
                       "<line x2=\"1\" style=\"display:none\"/><g display=\"none\"><line x2=\"1\"/></g>"
                       "<line x2=\"7\" transform=\"translate(100)\" style=\"transform: rotate(0.25turn)\"/>"
                       "<style>path { transform: scale(2) }</style>");
    QCOMPARE(f.strands.size(), size_t(2));
    AT(endOf(f.strands[0]), 10, -5, 0);
    AT(endOf(f.strands[1]), 0, -7, 0); // the style goes before the attribute
    QVERIFY(remarks(f, "hidden line") && remarks(f, "hidden g") && remarks(f, "style sheet"));
    QVERIFY(remarks(svg("<line x2=\"1\"/><line x2=\"1\" style=\"transform: rotate(3em)\"/>"), "cannot be read"));
}

void TestStandards::svgNegativeRadii() {
    for (const char* d : {"M0 0 A-5-5 0 0 1 10 0", "M0,0a5 -5 0 0110 0", "M0 0 A 5,5,0,0,1,10,0"}) {
        const auto f = svg("<path d=\"" + std::string(d) + "\"/>");
        QVERIFY2(f.remarks.empty(), f.remarks.empty() ? "" : f.remarks[0].c_str());
        NEAR(pathOf(f.strands[0].segments).length(), 5 * kPi, 1e-6);
        AT(endOf(f.strands[0]), 10, 0, 0);
    }
    // Arcs below a unit are arcs.
    const auto small = svg("<path d=\"M0 0 A .5 .5 0 0 1 1 0\"/>");
    NEAR(pathOf(small.strands[0].segments).length(), kPi / 2, 1e-6);
    // Of another proportion than its drawing: by the standard's default all of it is in, at the smaller scale.
    const auto tall = svg("<line x2=\"10\" y2=\"10\"/>", "width=\"20mm\" height=\"40mm\" viewBox=\"0 0 10 10\"");
    const Vec3 way = (endOf(tall.strands[0]) - startOf(tall.strands[0])) * tall.millimetresPerUnit;
    NEAR((way - Vec3(20, -20, 0)).norm(), 0, 1e-6);
}

void TestStandards::joiningNeverLeadsThereAndBack() {
    // Pieces much shorter than what is joined: an open line stays one, whatever the order of its pieces.
    std::mt19937 random(5);
    for (int round = 0; round < 40; ++round) {
        std::vector<Strand> pieces;
        Vec3 at(0, 0, 0);
        for (int i = 0; i < 12; ++i) {
            const double length = i % 3 == 1 ? 0.2 : 40;
            const Vec3 to = at + Vec3(length, i % 2 ? 3 : -3, 0).normalized() * length;
            Strand s{{Line{at, to}}, false, "A"};
            pieces.push_back(random() % 2 ? reversed(s) : s);
            at = to;
        }
        std::shuffle(pieces.begin(), pieces.end(), random);
        const auto out = chainByEnds(pieces, 1.0);
        QCOMPARE(out.size(), size_t(1));
        QVERIFY(!out[0].closed);
        QCOMPARE(out[0].segments.size(), size_t(12));
    }
    const auto alone = chainByEnds({{{Line{{0, 0, 0}, {0.4, 0, 0}}}, false, ""}}, 1.0);
    QVERIFY(!alone[0].closed && alone[0].segments.size() == 1);
    // A small square is closed all the same, and a gap in a large ring is.
    const auto square = [](double a, double gap) {
        return std::vector<Strand>{{{Line{{0, 0, 0}, {a, 0, 0}}, Line{{a, 0, 0}, {a, a, 0}}, Line{{a, a, 0}, {0, a, 0}},
                                     Line{{0, a, 0}, {0, gap, 0}}},
                                    false,
                                    ""}};
    };
    QVERIFY(chainByEnds(square(0.3, 0), 1.0)[0].closed);
    const auto ring = chainByEnds(square(50, 0.7), 1.0);
    QVERIFY(ring[0].closed && ring[0].segments.size() == 5);
}

void TestStandards::joiningTakesManyEnds() {
    // n lines that all start in one point, and as many in a row. A way that is quadratic in them would run into the
    // test's time limit; how long it takes is measured in bench/paths.cpp.
    constexpr int n = 200'000;
    std::vector<Strand> star, row;
    for (int i = 0; i < n; ++i) {
        star.push_back({{Line{{0, 0, 0}, {std::cos(i * 0.1) * (i + 1), std::sin(i * 0.1) * (i + 1), 0}}}, false, ""});
        row.push_back({{Line{{double(i), 0, 5}, {i + 1.0, 0, 5}}}, false, ""});
    }
    std::reverse(row.begin(), row.end());
    QCOMPARE(chainByEnds(star, 0.01).size(), size_t(n)); // where there is a choice nothing is joined
    QCOMPARE(chainByEnds(row, 0.01).size(), size_t(1));
    std::vector<PathItem> items;
    for (int i = 0; i < n / 10; ++i)
        items.push_back({0, "KERB", BroughtCurve{{Line{{0, 0, 0}, {1, 0, 0}}}, false, ""}});
    const Document d = with(Document{}, std::move(items));
    QCOMPARE(d.paths.back()->name, "KERB " + std::to_string(n / 10));
}

void TestStandards::whatFuzzingFoundIsRefused() {
    int files = 0;
    for (const auto& e : std::filesystem::directory_iterator(VICINAL_SOURCE "/fuzz/found/obj-lines")) {
        const auto r = readObjLines(*readFile(e.path()), "found.obj");
        QVERIFY2(!r && r.problem().text.find("line 3") != std::string::npos, e.path().c_str());
        ++files;
    }
    QVERIFY(files > 0);
    QVERIFY(!readPoints("0,0\n1,2e9\n"));
    QVERIFY(bool(readPoints("0,0\n1,9e8\n")));
}

void TestStandards::aDrawingNeedsNoRepair() {
    QTemporaryDir dir;
    const auto quay = openDocument(VICINAL_SOURCE "/examples/saltmarrow-quay.json", readBody);
    QVERIFY(bool(quay));
    const auto file = dir.filePath("out.dxf");
    QVERIFY(!sendOut(*chosenRunsAndHeaps(*evaluate(*quay)), file.toStdString()));
    for (const QString& drawing : {file, QString(VICINAL_SOURCE "/examples/quay-paths.dxf")}) {
        QProcess p;
        p.start("/usr/bin/python3",
                {"-c", "import sys, ezdxf\na = ezdxf.readfile(sys.argv[1]).audit()\nprint(len(a.errors), len(a.fixes))",
                 drawing});
        QVERIFY(p.waitForFinished(60'000));
        QCOMPARE(QString(p.readAllStandardOutput()).trimmed(), QString("0 0"));
    }
}

void TestStandards::namesAreNoFormulas() {
    auto quay = *openDocument(VICINAL_SOURCE "/examples/saltmarrow-quay.json", readBody);
    const char* const names[] = {"=1+1", "+A1", "-2", "@SUM(A1)", "plain"};
    for (const char* name : names) {
        RunItem run = *quay.runs[0];
        run.name = name;
        const std::string csv = scheduleCsv(*chosenRunsAndHeaps(*evaluate(with(quay, run)), {name}));
        const std::string row = csv.substr(csv.find('\n') + 1);
        QVERIFY2(row.starts_with(std::string(name) == "plain" ? "plain," : std::string("'") + name),
                 row.substr(0, 40).c_str());
    }
    QCOMPARE(text::quoted(std::string(500, 'x')).size(), size_t(203));
    QCOMPARE(text::quoted("a\nb\x1b"), std::string("a\\x0ab\\x1b"));
}

VICINAL_SUITE(TestStandards)

} // namespace test_standards
#include "test_standards.moc"
