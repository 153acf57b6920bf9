// Files of levels, as others write them: ASCII grids, DXF by ezdxf, points, meshes; cut and flipped ones.
#include "exchange/in/levels.h"
#include "geometry/mesh/ground.h"
#include "made.h"
#include "model/documents.h"
#include "ran.h"
#include "suite.h"

namespace test_levels {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Ground groundOf(const LevelFile& file, double unit) {
    auto t = made(terrainOf(made(levelsAt(file, unit))));
    return Ground(std::make_shared<const Mesh>(std::move(t.mesh)), std::make_shared<const LazyTree>(), Mat3::Identity(),
                  Vec3::Zero());
}

const char* const kGrid =
    "ncols 4\r\nnrows 3\r\nxllcorner 100\r\nyllcorner 200\r\ncellsize 10\r\nNODATA_value -9999\r\n"
    "1 2 3 4\r\n5 6 7 8\r\n9 10 11 -9999\r\n";

} // namespace

class TestLevels : public QObject {
    Q_OBJECT
private slots:
    void gridsStandWhereTheySay();
    void dxfByAnotherWriter();
    void pointsAndMeshes();
    void surveysAreBroughtNearTheOrigin();
    void damagedOnesEndInAMessage();
};

void TestLevels::gridsStandWhereTheySay() {
    const QTemporaryDir dir;
    const auto file = made(readLevels(writeText(dir, "levels.asc", kGrid)));
    QCOMPARE(file.millimetresPerUnit, 0.0);
    QCOMPARE(file.data.points.size(), size_t(11));
    QCOMPARE(file.data.faces.size(), size_t(11)); // six squares of two, less the half beside the hole
    QVERIFY(!file.remarks.empty() && file.remarks[0].find("1 cells") == 0);
    const Ground ground = groundOf(file, 1000);
    // Rows go from north to south; levels are of the middles of cells.
    NEAR(ground.heightAt({105'000, 225'000, 0}).value_or(0), 1000, 1e-6);
    NEAR(ground.heightAt({135'000, 225'000, 0}).value_or(0), 4000, 1e-6);
    NEAR(ground.heightAt({105'000, 205'000, 0}).value_or(0), 9000, 1e-6);
    QVERIFY(!ground.heightAt({134'900, 205'100, 0})); // the cell without a level
    // By the middle of the lowest cell instead of its corner.
    std::string centred = kGrid;
    centred.replace(centred.find("xllcorner"), 9, "xllcenter");
    centred.replace(centred.find("yllcorner"), 9, "YLLCENTER");
    const Ground moved = groundOf(made(readLevels(writeText(dir, "centre.grd", centred))), 1000);
    NEAR(moved.heightAt({100'000, 200'000, 0}).value_or(0), 9000, 1e-6);
}

void TestLevels::dxfByAnotherWriter() {
    const QTemporaryDir dir;
    const QString points = dir.filePath("points.dxf"), faces = dir.filePath("faces.dxf");
    ran("/usr/bin/python3", {"-c", R"(
import ezdxf, sys
doc = ezdxf.new("R2010"); doc.header["$INSUNITS"] = 6; m = doc.modelspace()
for i in range(11):
    for k in range(11):
        m.add_point((i, k, 0.1 * i))
m.add_polyline3d([(0.5, -0.5, 5), (5.3, 5.1, 6), (10.5, 10.2, 7)])
m.add_line((-1, 12, 2), (12, 12, 3))
m.add_text("a remark")
doc.saveas(sys.argv[1])
doc = ezdxf.new("R2000"); doc.header["$INSUNITS"] = 4; m = doc.modelspace()
m.add_3dface([(0, 0, 1), (10, 0, 1), (10, 10, 2), (0, 10, 2)])
m.add_3dface([(10, 0, 1), (20, 0, 5), (10, 10, 2)])
m.add_point((5, 5, 99))
doc.saveas(sys.argv[2])
)",
                             points, faces});
    const auto file = made(readLevels(points.toStdString()));
    QCOMPARE(file.millimetresPerUnit, 1000.0);
    QCOMPARE(file.data.points.size(), size_t(121));
    QCOMPARE(file.data.breaks.size(), size_t(2));
    const Ground ground = groundOf(file, 1000);
    NEAR(ground.heightAt({5300, 5100, 0}).value_or(0), 6000, 1e-6); // a corner of the break line
    NEAR(ground.heightAt({2900, 2300, 0}).value_or(0), 5500, 1e-6); // half-way on it
    NEAR(ground.heightAt({8000, 1000, 0}).value_or(0), 800, 1e-6);
    const auto meshed = made(readLevels(faces.toStdString()));
    QCOMPARE(meshed.data.faces.size(), size_t(3));
    const Ground sheet = groundOf(meshed, 1);
    NEAR(sheet.heightAt({5, 5, 0}).value_or(0), 1.5, 1e-9);
    NEAR(sheet.heightAt({20, 0, 0}).value_or(0), 5, 1e-9);
    QVERIFY(!sheet.heightAt({19, 9, 0}));
    bool said = false;
    for (const auto& r : meshed.remarks) said = said || r.find("faces") != std::string::npos;
    QVERIFY(said); // that the point was passed over
}

void TestLevels::pointsAndMeshes() {
    const QTemporaryDir dir;
    const auto csv = made(readLevels(writeText(dir, "a.csv", "x;y;level\n0;0;1,5\n10;0;2\n0;10;3\n10;10;4\n")));
    NEAR(groundOf(csv, 10).heightAt({0, 0, 0}).value_or(0), 15, 1e-9);
    const auto mesh = made(readLevels(writeText(dir, "wedge.obj", wedgeObj())));
    NEAR(groundOf(mesh, 1).heightAt({0, 0, 0}).value_or(0), 30, 1e-4);
    QVERIFY(!readLevels(writeText(dir, "a.xls", "x")));
    QCOMPARE(levelsAt(csv, 0).problem().field, std::string("unit"));
    QCOMPARE(levelsAt(csv, std::nan("")).problem().field, std::string("unit"));
}

void TestLevels::surveysAreBroughtNearTheOrigin() {
    const QTemporaryDir dir;
    std::string text;
    for (int i = 0; i < 9; ++i)
        text += std::to_string(3'512'345.5 + i % 3) + "," + std::to_string(5'934'210.25 + i / 3) + ",12.5\n";
    const auto file = made(readLevels(writeText(dir, "survey.csv", text)));
    QCOMPARE(levelsAt(file, 1000).problem().field, std::string("unit")); // beyond what can be used
    const auto near = made(levelsAt(file, 1000, Vec3(3'512'345, 5'934'210, 0)));
    NEAR((near.points[0] - Vec3(500, 250, 12'500)).norm(), 0, 1e-3);
}

void TestLevels::damagedOnesEndInAMessage() {
    const QTemporaryDir dir;
    const std::string grid = kGrid;
    for (size_t cut = 0; cut < grid.size(); cut += 3) { // never a crash, never levels out of nothing
        const auto r = readLevels(writeText(dir, "cut.asc", grid.substr(0, cut)));
        if (r)
            QVERIFY(r->data.points.size() >= 8 && cut > grid.size() - 10);
        else
            QVERIFY2(r.problem().text.find("cut.asc") != std::string::npos, r.problem().text.c_str());
    }
    std::mt19937 random(3);
    for (int n = 0; n < 300; ++n) {
        std::string flipped = grid;
        for (int k = 0; k < 3; ++k) flipped[random() % flipped.size()] = char(32 + random() % 95);
        const auto r = readLevels(writeText(dir, "flip.asc", flipped));
        if (!r) continue;
        for (const auto& f : r->data.faces)
            for (auto i : f) QVERIFY(i < r->data.points.size());
        for (const Vec3& p : r->data.points) QVERIFY(p.allFinite());
    }
    for (const char* wrong : {"ncols 1\nnrows 2\ncellsize 1\n1 2\n", "ncols 1e9\nnrows 1e9\ncellsize 1\n1\n",
                              "ncols 2\nnrows 2\ncellsize 0\n1 2 3 4\n", "ncols 2.5\nnrows 2\ncellsize 1\n1 2 3 4 5\n",
                              "ncols 2\nnrows 2\ncellsize 1\n1 nan 3 4\n", "ncols two\n", ""})
        QVERIFY2(!readLevels(writeText(dir, "wrong.asc", wrong)), wrong);
    QVERIFY(!readLevels(dir.filePath("none.csv").toStdString()));
}

VICINAL_SUITE(TestLevels)

} // namespace test_levels
#include "test_levels.moc"
