// Files of every kind that comes in, whole, with single numbers made odd and cut off, against what came out of them
// before: see frozen.h. What a number or a message was is held; that it was right is for the other suites.
#include "exchange/in/bring_in.h"
#include "exchange/in/levels.h"
#include "exchange/in/path_items.h"
#include "frozen.h"
#include "model/documents.h"
#include "parts/body.h"
#include "suite.h"
#include <cctype>
#include <sstream>

namespace test_frozen_in {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// The texts of a DXF, written pair by pair.
class Dxf {
public:
    Dxf& pair(int code, const std::string& value) {
        m_out += std::to_string(code) + "\n" + value + "\n";
        return *this;
    }
    Dxf& pair(int code, double value) {
        std::ostringstream s;
        s << value;
        return pair(code, s.str());
    }
    Dxf& entity(const char* name, const char* layer) { return pair(0, name).pair(8, layer); }
    Dxf& at(int code, double x, double y, double z = 0) { return pair(code, x).pair(code + 10, y).pair(code + 20, z); }
    Dxf& section(const char* name) { return pair(0, "SECTION").pair(2, name); }
    Dxf& end() { return pair(0, "ENDSEC"); }
    std::string text() const { return m_out + "0\nEOF\n"; }

private:
    std::string m_out;
};

void shapes(Dxf& d, bool tilted) {
    const auto leaning = [&] {
        if (tilted) d.at(210, 0.01, 0.2, -0.97);
    };
    d.entity("LINE", "lines").at(10, 1, 2, 3).at(11, 40, 30, 5);
    d.entity("ARC", "arcs").at(10, 5, 6, 7).pair(40, 12).pair(50, 350).pair(51, 80), leaning();
    d.entity("ARC", "arcs").at(10, 5, 6, 7).pair(40, 9).pair(50, -400).pair(51, 1000), leaning();
    d.entity("CIRCLE", "circles").at(10, 7, 8).pair(40, 25), leaning();
    d.entity("ELLIPSE", "ellipses").at(10, 1, 2, 3).at(11, 30, 4).pair(40, 0.4).pair(41, 0.3).pair(42, 5), leaning();
    d.entity("ELLIPSE", "ellipses").at(10, 1, 2, 3).at(11, 0, 20).pair(40, 1).pair(41, 0).pair(42, 6.283185307179586);
    d.entity("LWPOLYLINE", "light").pair(90, 4).pair(70, tilted).pair(38, 12), leaning();
    for (int k = 0; k < 4; ++k)
        d.pair(10, k * 20 % 30).pair(20, k * 13 % 17).pair(42, std::array{0.0, 1.0, -0.4, 0.05}[size_t(k)]);
    d.entity("POLYLINE", "old").pair(66, 1).pair(70, tilted ? 0 : 8).at(10, 0, 0, 4);
    leaning();
    for (int k = 0; k < 4; ++k) d.entity("VERTEX", "old").at(10, k * 7, k * k, k).pair(42, k % 2 ? 0.6 : 0);
    d.entity("VERTEX", "old").at(10, 99, 99, 9).pair(70, 16);
    d.pair(0, "SEQEND");
    d.entity("POLYLINE", "mesh").pair(66, 1).pair(70, 16);
    d.entity("VERTEX", "mesh").at(10, 1, 2, 3);
    d.pair(0, "SEQEND");
    d.entity("SPLINE", "splines").pair(70, 8).pair(71, 3).pair(72, 9).pair(73, 5).pair(74, 0);
    for (double k : {0, 0, 0, 0, 1, 2, 2, 2, 2}) d.pair(40, k);
    for (int k = 0; k < 5; ++k) d.at(10, 15 * k, std::array{0, 20, 20, 0, 8}[size_t(k)], k);
    d.entity("SPLINE", "rational").pair(70, 12).pair(71, 2).pair(72, 6).pair(73, 3).pair(74, 0);
    for (double k : {0, 0, 0, 1, 1, 1}) d.pair(40, k);
    for (double w : {1.0, 0.7, 2.0}) d.pair(41, w);
    for (int k = 0; k < 3; ++k) d.at(10, 10 - 5 * k, 7 * k, 0);
    for (int closed = 0; closed < 2; ++closed) {
        d.entity("SPLINE", "fit").pair(70, closed + 8).pair(71, 3).pair(72, 0).pair(73, 0).pair(74, 4);
        if (tilted) d.at(12, 1, 0.2, 0.1).at(13, -0.3, 1, 0);
        for (int k = 0; k < 4; ++k) d.at(11, 10 * k, k % 2 * 8, k);
    }
    d.entity("SPLINE", "unsound").pair(70, 8).pair(71, 3).pair(72, 2).pair(73, 2).pair(74, 0).pair(40, 0).pair(40, 1);
    d.at(10, 0, 0).at(10, 1, 1);
    d.entity("POINT", "points").at(10, 3, 4, 5);
    d.entity("3DFACE", "faces").at(10, 0, 0, 1).at(11, 10, 0, 1).at(12, 10, 10, 2).at(13, 0, 10, 3);
    d.entity("3DFACE", "faces").at(10, 20, 0, 1).at(11, 30, 0, 1).at(12, 30, 10, 2).at(13, 30, 10, 2);
    d.entity("TEXT", "words").at(10, 0, 0).pair(40, 3).pair(1, "made up");
    d.entity("LINE", "paper").pair(67, 1).at(10, 0, 0).at(11, 1, 1);
    d.entity("LINE", "chain").at(10, 0, 0).at(11, 10, 0), d.entity("LINE", "chain").at(10, 10.004, 10).at(11, 10, 0);
    d.entity("LINE", "nothing").at(10, 2, 2).at(11, 2, 2);
}

std::string drawing(int insunits) {
    Dxf d;
    d.section("HEADER").pair(9, "$INSUNITS").pair(70, insunits).end();
    d.section("BLOCKS");
    d.pair(0, "BLOCK").pair(8, "0").pair(2, "POST").pair(70, 0).at(10, 2, 1, 0.5);
    d.entity("LINE", "0").at(10, 0, 0).at(11, 9, 4, 1);
    d.entity("ARC", "own").at(10, 3, 3).pair(40, 5).pair(50, 20).pair(51, 200);
    d.entity("LWPOLYLINE", "0").pair(90, 3).pair(70, 1);
    d.pair(10, 0).pair(20, 0).pair(42, 0.5).pair(10, 6).pair(20, 0).pair(10, 6).pair(20, 5);
    d.pair(0, "ENDBLK");
    d.pair(0, "BLOCK").pair(8, "0").pair(2, "PAIR").pair(70, 0).at(10, 0, 0);
    d.entity("INSERT", "0").pair(2, "POST").at(10, 10, 0).pair(50, 30);
    d.entity("INSERT", "inner").pair(2, "POST").at(10, -20, 5).pair(41, 2).pair(42, 2).pair(43, 2);
    d.pair(0, "ENDBLK").end();
    d.section("ENTITIES");
    shapes(d, insunits % 2);
    d.entity("INSERT", "posts").pair(2, "PAIR").at(10, 100, 50).pair(41, 1.5).pair(42, 1.5).pair(43, 1.5).pair(50, 70);
    d.entity("INSERT", "posts").pair(2, "POST").at(10, 300, 0).pair(41, -1);
    d.entity("INSERT", "oval").pair(2, "POST").at(10, 400, 0).pair(41, 3).pair(42, 1);
    d.entity("INSERT", "rows").pair(2, "POST").at(10, 0, 300).pair(50, 15);
    d.pair(70, 3).pair(71, 2).pair(44, 40).pair(45, 30);
    d.entity("INSERT", "leaning").pair(2, "POST").at(10, 5, 6, 7).at(210, 0, 1, 0);
    d.entity("INSERT", "many").pair(2, "POST").at(10, 5, 6, 7).pair(70, 400).pair(71, 400);
    d.entity("INSERT", "none").pair(2, "NOWHERE").at(10, 5, 6, 7);
    return d.end().text();
}

/// Every element, command, transform and unit that is read, and some that are not.
const std::string kSvg = *readFile(VICINAL_SOURCE "/tests/exchange/more_shapes.svg");

const char* const kGrid = "NCOLS 5\nnrows 4\nxllcorner 100.5\nyllcenter -20\ncellsize 2.5\nnodata_value -99\n"
                          "1 2 3 4 5\n2 3 -99 5 7\n+4 4.5 5e0 6 9\n1 1 2 3 -99\n";
const char* const kPoints = "# made up\nx;y;level\n0,5;1;2\n10;0,25;3\n\n \"7\";-9;+4,125\n5;5;6\n";
const char* const kFlatPoints = "\xef\xbb\xbf"
                                "1 2\n3 4.5\n  9   -2  \n";
const char* const kObj =
    "# made up\no one\nv 0 0 0\nv 10 0 0\nv 10 5 0\nv 0 5 1\nv 3 3 8\nf 1 2 3 4\nf 1 5 2\nf 2 5 3\n"
    "f 3 5 4\nf 4 5 1\nl 1 2 3 1\nl -1 -2\nl 5/1 4/2\n";
const char* const kPly =
    "ply\nformat ascii 1.0\nelement vertex 5\nproperty float x\nproperty float y\nproperty float z\n"
    "element face 4\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n12 0 0\n12 9 0\n"
    "0 9 0\n4 4 7\n3 0 1 4\n3 1 2 4\n3 2 3 4\n4 0 3 2 1\n";

std::string stl() {
    const Vec3 c[] = {{0, 0, 0}, {8, 0, 0}, {0, 6, 0}, {1, 1, 5}};
    std::ostringstream out;
    out << "solid made\n";
    for (const auto& f : {std::array{0, 2, 1}, std::array{0, 1, 3}, std::array{1, 2, 3}, std::array{2, 0, 3}}) {
        out << "facet normal 0 0 0\nouter loop\n";
        for (int k : f) out << "vertex " << c[k].x() << " " << c[k].y() << " " << c[k].z() << "\n";
        out << "endloop\nendfacet\n";
    }
    out << "endsolid made\n";
    return out.str();
}

/// A number of any size: one that would drown the others only says that it is large.
void put(Digest& d, double v) {
    std::abs(v) < 1e5 ? d.add(v) : d.say(v > 0 ? "large" : v < 0 ? "large below" : "none");
}
void put(Digest& d, const Vec3& v) {
    for (int i = 0; i < 3; ++i) put(d, v[i]);
}
/// A message with numbers of any size in it.
void put(Digest& d, const std::string& text) {
    std::string plain;
    for (char c : text) plain += std::isdigit(static_cast<unsigned char>(c)) ? char('A' + (c - '0')) : c;
    d.say(plain);
}
void tell(Digest& d, const std::vector<Strand>& strands) {
    d.add(double(strands.size()));
    for (const Strand& s : strands) {
        d.say(s.layer);
        d.add(double(s.closed) + 2 * double(s.segments.size()));
        for (const Segment& g : s.segments) {
            d.add(double(g.index()));
            put(d, startOf(g)), put(d, endOf(g)), put(d, endOf(split(g, 0.37).first));
        }
    }
}
void tell(Digest& d, Result<CurveFile> file) {
    if (!file) return put(d, file.problem().text + "|" + file.problem().field);
    put(d, file->millimetresPerUnit);
    tell(d, file->strands);
    for (const Vec3& p : file->points) put(d, p);
    for (const auto& f : file->faces)
        for (const Vec3& p : f) put(d, p);
    for (const auto& r : file->remarks) put(d, r);
    const auto paths = pathsOf(file.value(), 2, 0.02);
    if (!paths) return put(d, paths.problem().text + "|" + paths.problem().field);
    tell(d, *paths);
    for (const PathItem& p : pathItems(*paths, "Made up.dxf")) {
        d.say(p.name), d.add(double(p.recipe.index()));
        if (const auto* points = editablePoints(p)) d.add(double(points->points.size()) + double(points->closed));
    }
    put(d, file->remarks.empty() ? "" : file->remarks.back());
}
void tell(Digest& d, const Result<LevelFile>& file) {
    if (!file) return put(d, file.problem().text + "|" + file.problem().field);
    put(d, file->millimetresPerUnit);
    for (const auto& r : file->remarks) put(d, r);
    const auto at = levelsAt(*file, 10, {3, 4, 5});
    if (!at) return put(d, at.problem().text + "|" + at.problem().field);
    for (const Vec3& p : at->points) put(d, p);
    for (const auto& line : at->breaks)
        for (const Vec3& p : line) put(d, p);
    for (const auto& f : at->faces)
        for (auto i : f) d.add(double(i));
    put(d, Vec3(boxOf(*at).sizes()));
}
void tell(Digest& d, const Result<PartFile>& file) {
    if (!file) return put(d, file.problem().text + "|" + file.problem().field);
    put(d, file->millimetresPerUnit), d.say(file->unit);
    for (const auto& r : file->remarks) put(d, r);
    const auto shape = shapeOf(*file, 2.5, {}, 4);
    if (!shape) return put(d, shape.problem().text + "|" + shape.problem().field);
    const auto built = build(*shape);
    if (!built) return put(d, built.problem().text + "|" + built.problem().field);
    const Body& body = **built;
    put(d, body.mesh->box.min()), put(d, body.mesh->box.max());
    d.add(double(body.mesh->points.size())), d.add(double(body.mesh->triangles.size()));
    if (volumeOf(*body.mesh) < 1e12) d.add(std::cbrt(volumeOf(*body.mesh)));
}

/// The text with its n-th number another one; empty when there are not so many.
std::string withNumber(const std::string& text, size_t n, const std::string& by) {
    size_t met = 0;
    for (size_t i = 0; i < text.size();) {
        const bool starts = std::isdigit(static_cast<unsigned char>(text[i])) &&
                            (i == 0 || !std::isalnum(static_cast<unsigned char>(text[i - 1])));
        if (!starts) {
            ++i;
            continue;
        }
        size_t end = i;
        while (end < text.size() && (std::isdigit(static_cast<unsigned char>(text[end])) || text[end] == '.')) ++end;
        if (met++ == n) return text.substr(0, i) + by + text.substr(end);
        i = end;
    }
    return {};
}
const char* const kOdd[] = {"0", "-7", "2", "1e9", "1e300", "nan", "", "37.5", "99999999", "words"};

} // namespace

class TestFrozenIn : public QObject {
    Q_OBJECT
private slots:
    void whatComesInIsAsItWas();
    void oddFilesAreToldAsTheyWere();
};

void TestFrozenIn::whatComesInIsAsItWas() {
    const QTemporaryDir dir;
    Digests now;
    for (int unit = 0; unit < 24; ++unit) {
        const std::string file = writeText(dir, "drawing.dxf", drawing(unit));
        tell(now["DXF as curves"], readCurves(file));
        if (unit % 6) continue;
        tell(now["DXF as ground"], readLevels(file));
        tell(now["DXF as a part"], readPartFile(file));
    }
    const std::string svg = writeText(dir, "shapes.svg", kSvg);
    tell(now["SVG as curves"], readCurves(svg));
    tell(now["SVG as a part"], readPartFile(svg));
    tell(now["SVG of another"], readCurves(VICINAL_SOURCE "/tests/exchange/shapes.svg"));
    for (const char* how : {"xMinYMin meet", "xMidYMax", "none", "xMaxYMid slice"})
        for (const char* size : {"width=\"100\" height=\"90\"", "width=\"3in\"", "height=\"50mm\"", "width=\"90%\""}) {
            std::string other = kSvg;
            other.replace(other.find("xMinYMax slice"), 14, how);
            other.replace(other.find("width=\"210mm\" height=\"120mm\""), 28, size);
            tell(now["SVG of other sizes"], readCurves(writeText(dir, "other.svg", other)));
        }
    const std::pair<const char*, std::string> meshes[] = {{"a.obj", kObj}, {"a.ply", kPly}, {"a.stl", stl()}};
    for (const auto& [name, text] : meshes) {
        const std::string file = writeText(dir, name, text);
        tell(now[std::string("part ") + name], readPartFile(file));
        tell(now[std::string("ground ") + name], readLevels(file));
        for (const char* wrong : {"b.obj", "b.ply", "b.stl", "b.glb", "b.gltf", "b.step", "b.dxf", "b.svg", "b.xls"}) {
            const std::string other = writeText(dir, wrong, text); // under another's name
            tell(now[std::string("other names, part ") + name], readPartFile(other));
            tell(now[std::string("other names, curves ") + name], readCurves(other));
            tell(now[std::string("other names, ground ") + name], readLevels(other));
        }
    }
    for (const char* example : {"winch-link.step", "fairlead.step", "mooring-post.obj", "quay-paths.dxf"}) {
        const std::string file = VICINAL_SOURCE "/examples/" + std::string(example);
        tell(now[std::string("curves ") + example], readCurves(file));
        tell(now[std::string("part ") + example], readPartFile(file));
    }
    for (const auto& [name, text] :
         {std::pair<const char*, std::string>{"a.asc", kGrid}, {"a.csv", kPoints}, {"a.xyz", kFlatPoints}})
        tell(now[std::string("levels ") + name], readLevels(writeText(dir, name, text)));
    const auto changed = differences("in", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

void TestFrozenIn::oddFilesAreToldAsTheyWere() {
    const QTemporaryDir dir;
    Digests now;
    const std::pair<const char*, std::string> texts[] = {
        {"a.dxf", drawing(5)},  {"a.svg", kSvg}, {"a.asc", kGrid}, {"a.csv", kPoints},
        {"a.xyz", kFlatPoints}, {"a.obj", kObj}, {"a.ply", kPly},  {"a.stl", stl()}};
    for (const auto& [name, text] : texts) {
        const std::string ending = std::filesystem::path(name).extension();
        const auto read = [&](const std::string& odd, const std::string& how) {
            const std::string file = writeText(dir, name, odd);
            Digest& d = now[std::string(name) + ", " + how];
            if (ending == ".dxf" || ending == ".svg" || ending == ".obj") tell(d, readCurves(file));
            if (ending == ".asc" || ending == ".csv" || ending == ".xyz") tell(d, readLevels(file));
            if (ending == ".obj" || ending == ".ply" || ending == ".stl") tell(d, readPartFile(file));
            if (ending == ".csv" || ending == ".xyz")
                if (const auto points = readPoints(odd)) d.add(double(points->size()));
        };
        const bool child = ending == ".dxf" || ending == ".obj" || ending == ".ply" || ending == ".stl";
        for (size_t k = 0; k < (child ? 20u : 40u); ++k)
            read(text.substr(0, text.size() * k / (child ? 20 : 40)), "cut off");
        // Every number an odd one, or some of them where there are many.
        const size_t step = ending == ".dxf" ? 5 : ending == ".svg" ? 1 : child ? 3 : 1;
        for (size_t n = 0;; n += step) {
            const std::string odd = withNumber(text, n, kOdd[(n / step) % std::size(kOdd)]);
            if (odd.empty()) break;
            read(odd, "an odd number");
        }
    }
    const auto changed = differences("odd_in", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

VICINAL_SUITE(TestFrozenIn)

} // namespace test_frozen_in
#include "test_frozen_in.moc"
