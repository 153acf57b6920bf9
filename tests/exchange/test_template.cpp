// Templates at full size, read back by other programs: PDF by poppler (text, pixels at 600 dpi), SVG by librsvg, DXF by
// ezdxf.
#include "exchange/paper/tape.h"
#include "exchange/paper/template.h"
#include "exchange/sheet/writers.h"
#include "geometry/path/span.h"
#include "layout/spacing/rules.h"
#include "made.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"
#include "parts/body.h"
#include "ran.h"
#include "suite.h"
#include "support.h"
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <set>

namespace test_template {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Round holes shared out round a circle in plan (path 1, part 2, run 3).
Document drain(double radius, long count, double hole = 18) {
    PathItem path;
    path.name = "Rim";
    path.recipe = ShapeRecipe{CircleShape{radius}};
    Document d = with(Document(), path);
    PartItem part;
    part.name = "Hole";
    part.shape = Maker(RoundHole{hole, 20});
    part.seat.point = Vec3(0, 0, 0);
    d = with(d, part);
    RunItem run;
    run.name = "Drain holes";
    run.path = 1;
    run.part = 2;
    run.spacing->rule = ShareOut{count};
    return with(d, run);
}
Standings runsOf(const Document& d) { return made(chosenRunsAndHeaps(*evaluate(d))); }

/// Grey pixels, rows from above.
struct Picture {
    int width = 0, height = 0;
    QByteArray grey;
    int at(int x, int y) const { return static_cast<unsigned char>(grey[qsizetype(y) * width + x]); }
    bool has(int x, int y) const { return x >= 0 && y >= 0 && x < width && y < height; }
};
Picture readPgm(const QString& file) {
    QFile f(file);
    if (!f.open(QIODevice::ReadOnly) || f.readLine().trimmed() != "P5") qFatal("no picture %s", qPrintable(file));
    const auto size = f.readLine().trimmed().split(' ');
    f.readLine();
    Picture out{size[0].toInt(), size[1].toInt(), f.readAll()};
    if (out.grey.size() != qsizetype(out.width) * out.height) qFatal("cut off: %s", qPrintable(file));
    return out;
}

/// A page of a PDF in grey at 600 dots an inch.
Picture pixels(const QString& pdf, int page, const QTemporaryDir& dir) {
    const QString to = dir.filePath(QString("page%1").arg(page));
    ran("pdftoppm",
        {"-r", "600", "-gray", "-f", QString::number(page), "-l", QString::number(page), "-singlefile", pdf, to});
    return readPgm(to + ".pgm");
}
constexpr double kDots = 600 / 25.4; ///< a millimetre

/// Ink in a window of the page (mm from the lower left corner): its middle.
Vec2 middleOfInk(const Picture& image, const Vec2& from, const Vec2& to) {
    double sum = 0;
    Vec2 out = Vec2::Zero();
    for (int y = int(image.height - to.y() * kDots); y < int(image.height - from.y() * kDots); ++y)
        for (int x = int(from.x() * kDots); x < int(to.x() * kDots); ++x) {
            const double ink = 255 - image.at(x, y);
            sum += ink;
            out += ink * Vec2((x + 0.5) / kDots, (image.height - y - 0.5) / kDots);
        }
    return out / sum;
}

} // namespace

class TestTemplate : public QObject {
    Q_OBJECT
private slots:
    void onePageMeasuresRight();
    void pagesMeet();
    void correctedAndMirrored();
    void uncutInOtherFiles();
    void whatIsCutStandsAlone();
    void askewUnrolledAndMarks();
    void whatCannotBeSaysWhy();
    void aTapeHasEveryStation();
    void facesPartsAndLines();
    void strips();
    void sizesAreCutApart();
};

/// Page box to the last digit, the bars and the holes measured in pixels, words as words.
void TestTemplate::onePageMeasuresRight() {
    const Document d = drain(60, 12);
    TemplateOrder order;
    order.numbers = order.noses = order.paths = false;
    order.shows = TemplateShows::Holes;
    const Template t = made(templateOf(runsOf(d), order, "Drain holes"));
    QCOMPARE(t.pages.size(), size_t(1));
    QVERIFY(t.columns == 1 && t.rows == 1 && t.empty == 0);
    QTemporaryDir dir;
    const QString file = dir.filePath("drain.pdf");
    const std::string bytes = made(pdfOf(t.pages, "Drain holes"));
    write(file, bytes);
    const QRegularExpression box("MediaBox \\[ 0 0 ([0-9.]+) ([0-9.]+) \\]");
    const auto found = box.match(QString::fromLatin1(bytes.data(), qsizetype(bytes.size())));
    QVERIFY(found.hasMatch());
    NEAR(found.captured(1).toDouble(), 210 * 72 / 25.4, 1e-4);
    NEAR(found.captured(2).toDouble(), 297 * 72 / 25.4, 1e-4);
    const QString text = ran("pdftotext", {"-layout", file, "-"});
    QVERIFY2(text.contains("This bar is 100 mm long") && text.contains("A1 of 1 x 1") && text.contains("Drain holes"),
             qPrintable(text));
    QVERIFY(ran("pdffonts", {file}).contains("yes")); // embedded
    const Picture page = pixels(file, 1, dir);
    NEAR(page.width, 210 * kDots, 1);
    // The level bar: its end ticks stand 100 mm apart, those of the upright one, too.
    const double m = order.margin + order.overlap + 8;
    const Vec2 left = middleOfInk(page, {m - 1, m + 0.5}, {m + 0.9, m + 1.4}),
               right = middleOfInk(page, {m + 99, m + 0.5}, {m + 101, m + 1.4});
    NEAR(right.x() - left.x(), 100, 0.1);
    const Vec2 low = middleOfInk(page, {m + 0.5, m - 1}, {m + 1.4, m + 0.4}),
               high = middleOfInk(page, {m + 0.5, m + 99}, {m + 1.4, m + 101});
    NEAR(high.y() - low.y(), 100, 0.1);
    // Every hole where it stands, and as wide.
    const auto run = evaluate(d)->run(3);
    int measured = 0;
    for (size_t i = 0; i < run->placed->count(); ++i) {
        const Vec2 at = run->placed->frame(i).seat.head<2>() - t.origin + Vec2::Constant(order.margin);
        if (at.x() < 42 && at.y() < 142) continue; // the bars stand there
        if (at.y() < 45) continue;
        ++measured;
        const Vec2 middle = middleOfInk(page, at - Vec2::Constant(10.5), at + Vec2::Constant(10.5));
        NEAR((middle - at).norm(), 0, 0.1);
        const Vec2 east = middleOfInk(page, at + Vec2(8, -0.3), at + Vec2(10, 0.3)),
                   west = middleOfInk(page, at + Vec2(-10, -0.3), at + Vec2(-8, 0.3));
        NEAR(east.x() - west.x(), 18, 0.1);
    }
    QVERIFY(measured > 4);
}

/// A large one on many pages: every hole on some page, whole, at the same spot of the drawing; register marks on both
/// pages that meet; empty pages left out; the map names them all.
void TestTemplate::pagesMeet() {
    const Document d = drain(900, 60, 30);
    TemplateOrder order;
    order.paper = Paper::A3;
    order.landscape = true;
    const Template t = made(templateOf(runsOf(d), order, "Large"));
    QVERIFY(t.columns > 3 && t.rows > 3 && t.empty > 0);
    QCOMPARE(long(t.pages.size()), t.columns * t.rows - t.empty + 1);
    const Vec2 size = paperSize(order), tile = size - Vec2::Constant(2 * order.margin),
               step = tile - Vec2::Constant(order.overlap);
    QVERIFY(size == Vec2(420, 297));
    std::map<std::string, Vec2> corner; // of a page in the drawing
    for (const auto& one : t.tiles) corner[one.name] = one.from;
    const auto run = evaluate(d)->run(3);
    std::set<size_t> whole;
    std::map<std::pair<long, long>, int> marks; // register marks, by where they are in the drawing
    for (const Sheet& page : t.pages) {
        QVERIFY(page.name == "map" || corner.count(page.name));
        if (page.name == "map") continue;
        QVERIFY(page.width == size.x() && page.height == size.y());
        int arcs = 0;
        for (const Ink& ink : page.inks)
            for (const Segment& s : ink.pieces) {
                const auto* a = std::get_if<Arc>(&s);
                if (!a) continue;
                const Vec2 at = a->centre.head<2>() - Vec2::Constant(order.margin) + corner[page.name];
                if (std::abs(a->radius - 2) < 1e-9) {
                    ++marks[{std::lround(at.x() * 1e4), std::lround(at.y() * 1e4)}];
                    continue;
                }
                if (std::abs(a->radius - 15) > 1e-9) continue;
                ++arcs;
                for (size_t i = 0; i < run->placed->count(); ++i) {
                    const Vec2 hole = run->placed->frame(i).seat.head<2>() - t.origin;
                    if ((hole - at).norm() > 1e-6) continue;
                    const Vec2 in = at - corner[page.name];
                    if (in.minCoeff() >= 15 && (tile - in).minCoeff() >= 15) whole.insert(i);
                }
            }
        QVERIFY(arcs > 0 || page.inks.size() > 10); // none of them is bare
    }
    QVERIFY(whole.size() > 40); // the rest lies on a joint
    size_t twice = 0;
    for (const auto& [at, n] : marks) {
        QVERIFY(n <= 2);
        twice += n == 2;
    }
    QVERIFY(twice > 10); // those beside a page that was left out stand alone
    NEAR(t.whole.width, 2 * 900 + 30 + 12, 1e-6);
    NEAR(step.x() * double(t.columns - 1) + tile.x(), t.covers.x(), 1e-9);
    QTemporaryDir dir;
    const QString file = dir.filePath("large.pdf");
    write(file, made(pdfOf(t.pages, "Large")));
    const QString text = ran("pdftotext", {"-raw", file, "-"});
    for (const Sheet& page : t.pages)
        if (page.name != "map") QVERIFY(text.contains(QString::fromStdString(page.name)));
    QVERIFY(text.count("This bar is 100 mm long") == int(t.pages.size()) - 1);
    QCOMPARE(QString(ran("pdfinfo", {file})).contains(QRegularExpression("Pages: +" + QString::number(t.pages.size()))),
             true);
}

/// What the bars measured makes the next print right in both directions: drawing and bars, never the page; mirrored
/// left is right, words stay to be read.
void TestTemplate::correctedAndMirrored() {
    const Document d = drain(60, 7);
    TemplateOrder order;
    order.paths = false;
    order.barAcross = 98.5;
    order.barUp = 101.25;
    const Template plain = made(templateOf(runsOf(d), {}, "x")), t = made(templateOf(runsOf(d), order, "x"));
    QCOMPARE(t.pages[0].width, 210.0);
    QCOMPARE(t.pages[0].height, 297.0);
    NEAR((t.origin - (-Vec2(60 + 9 + 6, 60 + 9 + 6))).norm(), 0, 20); // about the same corner
    double across = 0, up = 0;
    for (const Ink& ink : t.pages[0].inks)
        if (const auto* l = std::get_if<Line>(&ink.pieces[0]); l && ink.pieces.size() == 1 && ink.pen.width == 0.25) {
            const Vec3 v = l->b - l->a;
            across = std::max(across, std::abs(v.x())), up = std::max(up, std::abs(v.y()));
        }
    NEAR(across, 100 * 100 / 98.5, 1e-9);
    NEAR(up, 100 * 100 / 101.25, 1e-9);
    // The middle of a hole goes as the bars do.
    const auto boundsOfHole = [](const Sheet& s, int which) {
        int k = 0;
        for (const Ink& ink : s.inks)
            if (ink.closed && ink.pieces.size() <= 2 && !std::holds_alternative<Line>(ink.pieces[0]) && k++ == which) {
                Box3 all;
                for (const Segment& piece : ink.pieces) all.extend(boundsOf(piece));
                return std::pair<Vec2, Vec2>(all.min().head<2>(), all.max().head<2>());
            }
        qFatal("no hole %d", which);
    };
    const auto a0 = boundsOfHole(plain.pages[0], 0), a3 = boundsOfHole(plain.pages[0], 3),
               b0 = boundsOfHole(t.pages[0], 0), b3 = boundsOfHole(t.pages[0], 3);
    const Vec2 before = (a3.first + a3.second - a0.first - a0.second) / 2,
               after = (b3.first + b3.second - b0.first - b0.second) / 2;
    NEAR(after.x(), before.x() * 100 / 98.5, 1e-6);
    NEAR(after.y(), before.y() * 100 / 101.25, 1e-6);
    order = {};
    order.mirrored = true;
    const Template m = made(templateOf(runsOf(d), order, "x"));
    const auto c0 = boundsOfHole(m.pages[0], 0), c3 = boundsOfHole(m.pages[0], 3);
    const Vec2 other = (c3.first + c3.second - c0.first - c0.second) / 2;
    NEAR(other.x(), -before.x(), 1e-6);
    NEAR(other.y(), before.y(), 1e-6);
    QTemporaryDir dir;
    write(dir.filePath("m.pdf"), made(pdfOf(m.pages, "x")));
    QVERIFY(ran("pdftotext", {dir.filePath("m.pdf"), "-"}).contains("mirror image"));
}

/// The whole drawing as SVG and DXF: size in millimetres, arcs as arcs, text as text, a layer a run and a path.
void TestTemplate::uncutInOtherFiles() {
    const Document d = drain(200, 24, 20);
    const Template t = made(templateOf(runsOf(d), {}, "Drain <& holes>"));
    QTemporaryDir dir;
    const QString svg = dir.filePath("t.svg"), dxf = dir.filePath("t.dxf");
    write(svg, svgOf(t.whole, "Drain <& holes>"));
    write(dxf, made(dxfOf(t.whole)));
    ran("rsvg-convert", {"-d", "254", "-p", "254", "-o", dir.filePath("t.png"), svg}); // ten dots a millimetre
    ran("/usr/bin/python3",
        {"-c", "import sys; from PIL import Image; Image.open(sys.argv[1]).getchannel('A').save(sys.argv[2])",
         dir.filePath("t.png"), dir.filePath("t.pgm")});
    const Picture png = readPgm(dir.filePath("t.pgm")); // how opaque it is
    NEAR(png.width, 10 * t.whole.width, 1.5);
    NEAR(png.height, 10 * t.whole.height, 1.5);
    const auto run = evaluate(d)->run(3);
    const auto dark = [&](const Vec2& at) { // opaque ink near a point of the drawing
        const Vec2 p = at - t.origin;
        for (int dx = -2; dx <= 2; ++dx)
            for (int dy = -2; dy <= 2; ++dy) {
                const int x = int(10 * p.x()) + dx, y = int(png.height - 10 * p.y()) + dy;
                if (png.has(x, y) && png.at(x, y) > 100) return true;
            }
        return false;
    };
    for (size_t i = 0; i < run->placed->count(); ++i) {
        const Vec2 at = run->placed->frame(i).seat.head<2>();
        for (double a : {0.3, 1.9, 3.6, 5.1}) {
            QVERIFY(dark(at + 10 * Vec2(std::cos(a), std::sin(a))));
            QVERIFY(!dark(at + 8.8 * Vec2(std::cos(a), std::sin(a))) || std::abs(std::remainder(a, kPi / 2)) < 0.5);
        }
    }
    const QByteArray text = [&] {
        QFile f(svg);
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
    }();
    QCOMPARE(text.count("A 10 10"), 2 * 24);
    QVERIFY(text.contains(">24</text>") && text.contains("id=\"Drain holes\""));
    const auto read = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"(
import ezdxf, json, sys
doc = ezdxf.readfile(sys.argv[1])
assert not doc.audit().errors, doc.audit().errors
m = doc.modelspace()
print(json.dumps({"circles": [[c.dxf.center[0], c.dxf.center[1], c.dxf.radius, c.dxf.layer] for c in m.query("CIRCLE")],
                  "texts": [t.dxf.text for t in m.query("TEXT")], "layers": [l.dxf.name for l in doc.layers]}))
)",
                                                                       dxf}));
    const auto circles = read["circles"].toArray();
    std::vector<Vec2> found;
    for (const auto& c : circles)
        if (std::abs(c[2].toDouble() - 10) < 1e-9) found.push_back({c[0].toDouble(), c[1].toDouble()});
    QCOMPARE(found.size(), size_t(24));
    for (size_t i = 0; i < 24; ++i) {
        double least = 1e300;
        for (const Vec2& f : found)
            least = std::min(least, (f + t.origin - run->placed->frame(i).seat.head<2>()).norm());
        NEAR(least, 0, 1e-6);
    }
    QVERIFY(read["texts"].toArray().contains("24") && read["texts"].toArray().contains("0.5 m"));
    QVERIFY(read["layers"].toArray().contains("DRAIN_HOLES") && read["layers"].toArray().contains("PATH-RIM"));
}

/// What a machine cuts stands alone on its layer, whatever else is drawn: closed lines whose area times the thickness
/// is the body's volume, as another reader finds them.
void TestTemplate::whatIsCutStandsAlone() {
    const auto site = openDocument(VICINAL_SOURCE "/examples/saltmarrow-site.json", {});
    QVERIFY(bool(site));
    const auto e = evaluate(*site);
    int seen = 0;
    for (const auto& [id, body] : e->bodies) {
        if (!body->cut) continue;
        const Box3 box = body->body->mesh->box;
        TemplateOrder order;
        if (box.sizes().z() > 30) order.plane = TemplatePlane::Front; // the culvert's side stands
        for (const TemplateOf of : {TemplateOf::Places, TemplateOf::Parts}) {
            if (of == TemplateOf::Parts && order.plane == TemplatePlane::Front) continue; // seen from its crown
            order.of = of;
            order.noses = order.numbers = order.paths = true;
            const Template t = made(templateOf({body}, order, "x"));
            QTemporaryDir dir;
            const QString dxf = dir.filePath("t.dxf");
            write(dxf, made(dxfOf(t.whole)));
            const auto read = QJsonDocument::fromJson(ran("/usr/bin/python3", {"-c", R"(
import ezdxf, json, math, sys
layers = {}
for e in ezdxf.readfile(sys.argv[1]).modelspace():
    layers.setdefault(e.dxf.layer, []).append(e)
out = {}
for name, all in layers.items():
    kinds = sorted({e.dxftype() for e in all})
    pieces, area, loops = [], [], 0
    for e in all:
        if e.dxftype() == "LINE":
            a, b = e.dxf.start, e.dxf.end
            pieces.append(((a.x, a.y), (b.x, b.y), (a.x * b.y - b.x * a.y) / 2))
        elif e.dxftype() == "ARC":
            a, b, c, r = e.start_point, e.end_point, e.dxf.center, e.dxf.radius
            w = math.radians((e.dxf.end_angle - e.dxf.start_angle) % 360)
            pieces.append(((a.x, a.y), (b.x, b.y), (r * r * w + c.x * (b.y - a.y) - c.y * (b.x - a.x)) / 2))
        elif e.dxftype() == "CIRCLE":
            area.append(math.pi * e.dxf.radius ** 2)
    loose = 0
    while pieces:
        start, end, sum = pieces.pop()
        while math.dist(start, end) > 1e-6:
            for i, (a, b, s) in enumerate(pieces):
                if math.dist(a, end) < 1e-6 or math.dist(b, end) < 1e-6:
                    del pieces[i]
                    forward = math.dist(a, end) < 1e-6
                    end, sum = (b if forward else a), sum + (s if forward else -s)
                    break
            else:
                loose += 1
                break
        else:
            area.append(abs(sum))
    out[name] = {"kinds": kinds, "loose": loose, "area": 2 * max(area, default=0) - math.fsum(area)}
print(json.dumps(out))
)",
                                                                               dxf}))
                                  .object();
            QString own;
            for (const QString& layer : read.keys())
                if (!layer.startsWith("MARKS-") && !layer.startsWith("PATH-") && layer != "0") own += layer;
            const auto cut = read[own].toObject();
            QVERIFY2(!cut.isEmpty() && cut["loose"].toInt() == 0 && !cut["kinds"].toArray().contains("TEXT"),
                     qPrintable(read.keys().join(' ')));
            const double thick = order.plane == TemplatePlane::Front ? box.sizes().y() : box.sizes().z();
            const double volume = volumeOf(*body->body);
            NEAR(cut["area"].toDouble() * thick, volume, 1e-6 * volume);
            bool named = false;
            for (const QString& layer : read.keys())
                named = named || (layer.startsWith("MARKS-") && read[layer]["kinds"].toArray().contains("TEXT"));
            QVERIFY(named);
            ++seen;
        }
    }
    QVERIFY(seen >= 5);
}

/// Parts that do not lie in the plane are drawn as they look from there; unrolled every place stands at its station;
/// marks alone.
void TestTemplate::askewUnrolledAndMarks() {
    Document d = drain(120, 6);
    PathItem path = *d.path(1);
    auto& shape = std::get<ShapeRecipe>(path.recipe);
    shape.tilt = 60 * kDegree; // about its own x: circles become half as high
    d = with(d, path);
    RunItem r = *d.run(3);
    r.facing.crown = Outward{};
    r.facing.turn = Vec3(kPi / 2, 0, 0); // the hole's axis along the normal of the loop
    d = with(d, r);
    TemplateOrder order;
    order.numbers = order.noses = order.paths = false;
    const Template t = made(templateOf(runsOf(d), order, "x"));
    QCOMPARE(t.remarks.size(), size_t(1));
    for (const Ink& ink : t.whole.inks) {
        if (!ink.closed) continue;
        Vec2 low = Vec2::Constant(1e9), high = -low;
        for (const Segment& s : ink.pieces) {
            const Box3 b = boundsOf(s);
            low = low.cwiseMin(b.min().head<2>()), high = high.cwiseMax(b.max().head<2>());
        }
        NEAR((high - low).x(), 18, 0.1);
        // The hole's shape is a cylinder 20 deep: half its circle and what of its depth is seen.
        NEAR((high - low).y(), 18 * std::cos(60 * kDegree) + 20 * std::sin(60 * kDegree), 0.1);
    }
    order = {};
    order.plane = TemplatePlane::Unrolled;
    order.shows = TemplateShows::Marks;
    const Document round = drain(300, 9);
    const auto run = evaluate(round)->run(3);
    const Template u = made(templateOf(runsOf(round), order, "x"));
    for (size_t i = 0; i < run->placed->count(); ++i) {
        const std::string number = std::to_string(i + 1);
        const auto label = std::find_if(u.whole.labels.begin(), u.whole.labels.end(),
                                        [&](const Label& l) { return l.text == number; });
        QVERIFY(label != u.whole.labels.end());
        NEAR(label->at.x() + u.origin.x() - 1.4, run->placed->stations()[i], 1e-6);
        NEAR(label->at.y() + u.origin.y() - 1.4, 0, 1e-6);
    }
    NEAR(u.whole.width, 2 * kPi * 300 + 2 * 6, 12);
}

void TestTemplate::whatCannotBeSaysWhy() {
    const auto field = [](const Document& d, const std::function<void(TemplateOrder&)>& change) {
        TemplateOrder order;
        change(order);
        const auto t = templateOf(runsOf(d), order, "x");
        return t ? std::string("fine") : t.problem().field;
    };
    const Document d = drain(60, 7);
    QCOMPARE(field(d, [](auto& o) { o.barAcross = 50; }), std::string("barAcross"));
    QCOMPARE(field(d, [](auto& o) { o.barUp = std::nan(""); }), std::string("barUp"));
    QCOMPARE(field(d, [](auto& o) { o.margin = 100; }), std::string("margin"));
    QCOMPARE(field(d, [](auto& o) { o.margin = -1; }), std::string("margin"));
    QCOMPARE(field(d, [](auto& o) { o.overlap = 120; }), std::string("overlap"));
    QCOMPARE(field(d, [](auto& o) { o.paper = Paper::Roll, o.roll = 20; }), std::string("roll"));
    QCOMPARE(field(d, [](auto& o) { o.paper = Paper::Roll; }), std::string("fine"));
    // A path too long for the most pages is told before it is drawn; a strip longer than every program shows, behind.
    for (const double radius : {600.0, 900.0, 400'000.0}) {
        TemplateOrder o;
        o.paper = Paper::Roll;
        o.roll = 610;
        o.plane = TemplatePlane::Unrolled;
        o.paths = true;
        const auto t = templateOf(runsOf(drain(radius, 6)), o, "x");
        QCOMPARE(bool(t), radius < 1000);
        if (!t) {
            QCOMPARE(t.problem().field, std::string("paths"));
            continue;
        }
        QCOMPARE(t->pages.size(), size_t(1));
        QCOMPARE(t->remarks.size(), size_t(t->pages[0].width > 5080 || t->pages[0].height > 5080));
        QCOMPARE(t->remarks.empty(), 2 * kPi * radius < 4900);
    }
    // A kilometre: how many pages that takes.
    const auto far = templateOf(runsOf(drain(200'000, 20'000)), {}, "x");
    QVERIFY(!far && far.problem().field == "paper");
    QVERIFY2(far.problem().text.find("pages of A4") != std::string::npos, far.problem().text.c_str());
    // Nothing to show: balusters have no holes.
    Document post = d;
    PartItem part = *post.part(2);
    part.shape = Maker(Baluster{});
    post = with(post, part);
    TemplateOrder bare;
    bare.shows = TemplateShows::Holes;
    bare.paths = false;
    const auto only = templateOf(runsOf(post), bare, "x");
    QVERIFY(only); // its crosses are there
    // A script that the font has not.
    Document named = d;
    const auto t = made(templateOf(runsOf(named), {}, "\u6f22"));
    const auto pdf = pdfOf(t.pages, "x");
    QVERIFY(!pdf && pdf.problem().field == "name");
    QVERIFY(!pdfOf({}, "x"));
    Job job;
    job.stop = true;
    QVERIFY(!templateOf(runsOf(d), {}, "x", &job.stop));
}

/// Strips laid on each other by their overlap give the whole length: every place at its station, ticks every ten
/// millimetres, start and seam; measured in the printed pixels.
void TestTemplate::aTapeHasEveryStation() {
    const Document d = drain(150, 11, 30);
    const auto run = evaluate(d)->run(3);
    const double L = run->path->path->length();
    TapeOrder order;
    const Tape t = made(tapeOf(*run, order));
    NEAR(t.length, L, 1e-9);
    const double wide = 297 - 16, step = wide - order.overlap;
    QCOMPARE(t.strips, long(std::ceil((L - wide) / step)) + 1);
    QVERIFY(t.strips > 3 && t.pages.size() == 1);
    // Numbers stand beside their stations, on every strip that shows them.
    std::map<std::string, std::set<long>> found;
    for (const Sheet& page : t.pages)
        for (const Label& l : page.labels) {
            if (!l.bold || l.height != 2.2 || l.text.size() > 2) continue;
            const double fromTop = page.height - order.margin - l.at.y();
            const auto strip = long(fromTop / (order.height + 6));
            found[l.text].insert(std::lround((l.at.x() - 0.8 - order.margin + double(strip) * step) * 1000));
        }
    for (size_t i = 0; i < 11; ++i) {
        const auto& at = found[std::to_string(i + 1)];
        QVERIFY2(at.count(std::lround(run->placed->stations()[i] * 1000)), qPrintable(QString::number(i)));
        QVERIFY(at.size() <= 2); // once more behind the seam
    }
    QTemporaryDir dir;
    const QString file = dir.filePath("tape.pdf");
    write(file, made(pdfOf(t.pages, "tape")));
    const QString text = ran("pdftotext", {"-raw", file, "-"});
    QVERIFY(text.contains("start") && text.contains("seam: meets the start") && text.contains("lay on strip 1") &&
            text.contains("Hole"));
    const Picture page = pixels(file, 1, dir);
    // The ticks at 100 and 200 mm of the first strip.
    const double low = 210 - order.margin - order.height;
    const Vec2 a = middleOfInk(page, {order.margin + 99, low + 3.4}, {order.margin + 100.6, low + 4.2}),
               b = middleOfInk(page, {order.margin + 199, low + 3.4}, {order.margin + 200.6, low + 4.2});
    NEAR(b.x() - a.x(), 100, 0.1);
    const auto field = [&](const std::function<void(TapeOrder&)>& change) {
        TapeOrder bad;
        change(bad);
        const auto tape = tapeOf(*run, bad);
        return tape ? std::string("fine") : tape.problem().field;
    };
    QCOMPARE(field([](auto& o) { o.height = 3; }), std::string("height"));
    QCOMPARE(field([](auto& o) { o.margin = 140; }), std::string("margin"));
    QCOMPARE(field([](auto& o) { o.overlap = 200; }), std::string("overlap"));
    QCOMPARE(field([](auto& o) { o.barAcross = 12; }), std::string("barAcross"));
    const auto far = evaluate(drain(2'000'000, 40))->run(3);
    QVERIFY(tapeOf(*far, {}).problem().field == "paper");
}

void TestTemplate::facesPartsAndLines() {
    // The face of a known plane gives that plane's drawing, to the letter.
    const auto runs = runsOf(drain(300, 12));
    for (const auto& [plane, normal] : {std::pair{TemplatePlane::Plan, Vec3(0, 0, 2)},
                                        {TemplatePlane::Front, Vec3(0, -1, 0)},
                                        {TemplatePlane::Side, Vec3(7, 0, 0)}}) {
        TemplateOrder known, face;
        known.plane = plane;
        face.plane = TemplatePlane::Face;
        face.normal = normal;
        QCOMPARE(svgOf(made(templateOf(runs, face, "x")).whole, "x"),
                 svgOf(made(templateOf(runs, known, "x")).whole, "x"));
    }
    // A ring that stands askew: on its own plane every hole is a true circle at its true distance from the middle.
    Document d = drain(300, 12);
    PathItem path = *d.paths[0];
    auto& shape = std::get<ShapeRecipe>(path.recipe);
    shape.plane = Plane::Side;
    shape.turn = 30 * kDegree;
    d = with(d, path);
    RunItem run = *d.runs[0];
    run.facing.crown = alternative<CrownRule>(0);
    for (size_t k = 0; k < std::variant_size_v<CrownRule>; ++k)
        if (std::string(wordsOf(alternative<CrownRule>(k)).file) == "given")
            run.facing.crown = alternative<CrownRule>(k);
    const Vec3 normal = frameOf(shape).col(2);
    run.facing.direction = normal;
    d = with(d, run);
    TemplateOrder face;
    face.plane = TemplatePlane::Face;
    face.normal = normal;
    face.shows = TemplateShows::Holes;
    face.numbers = face.noses = face.paths = false;
    const Template t = made(templateOf(runsOf(d), face, "x"));
    std::vector<Vec2> centres;
    for (const Ink& ink : t.whole.inks)
        for (const Segment& s : ink.pieces)
            if (const auto* a = std::get_if<Arc>(&s); a && std::abs(std::abs(a->sweep) - 2 * kPi) < 1e-9) {
                NEAR(a->radius, 9, 1e-9);
                centres.push_back(a->centre.head<2>());
            }
    QCOMPARE(centres.size(), size_t(12));
    Vec2 middle = Vec2::Zero();
    for (const Vec2& c : centres) middle += c / 12;
    for (const Vec2& c : centres) NEAR((c - middle).norm(), 300, 1e-6);
    QVERIFY(t.remarks.empty());
    // Parts once each, side by side, with how many are needed; none lies on another.
    Document many = drain(300, 12);
    PartItem plate;
    plate.name = "Plate";
    plate.shape = Maker(PlainBox{});
    many = with(many, plate);
    RunItem other = *many.runs[0];
    other.id = 0;
    other.name = "Plates";
    other.part = many.parts.back()->id;
    other.spacing->rule = ShareOut{3};
    many = with(many, other);
    TemplateOrder parts;
    parts.of = TemplateOf::Parts;
    const Template kit = made(templateOf(runsOf(many), parts, "x"));
    QStringList names;
    for (const Label& l : kit.whole.labels) names += QString::fromStdString(l.text);
    QVERIFY2(names.contains("Hole  x 12") && names.contains("Plate  x 3"), qPrintable(names.join(", ")));
    std::map<std::string, Box3> boxes;
    for (const Ink& ink : kit.whole.inks)
        for (const Segment& s : ink.pieces) boxes[ink.layer].extend(boundsOf(s));
    QCOMPARE(boxes.size(), size_t(4)); // each with its marks
    QVERIFY(boxes["Hole"].intersection(boxes["Plate"]).isEmpty() ||
            boxes["Hole"].intersection(boxes["Plate"]).volume() == 0);
    // A path by itself is a line; the run's own is not drawn twice.
    const auto e = evaluate(d);
    const auto lines = std::vector<std::shared_ptr<const PathResult>>{e->paths.begin()->second};
    const auto count = [&](bool own, const auto& more) {
        TemplateOrder o = face;
        o.paths = own;
        long n = 0;
        for (const Ink& ink : made(templateOf(runsOf(d), o, "x", nullptr, more)).whole.inks)
            n += ink.layer == "PATH-Rim" && ink.closed;
        return n;
    };
    QCOMPARE(count(false, std::vector<std::shared_ptr<const PathResult>>{}), 0);
    QCOMPARE(count(false, lines), 1);
    QCOMPARE(count(true, lines), 1);
    // Pages come as they are read.
    TemplateOrder plain;
    const Template pages = made(templateOf(runs, plain, "x"));
    std::vector<std::string> order;
    for (const Sheet& s : pages.pages)
        if (s.name != "map") order.push_back(std::string(1, s.name.back()) + s.name.substr(0, s.name.size() - 1));
    QVERIFY(order.size() > 3 && std::is_sorted(order.begin(), order.end()));
}

/// On a roll a drawing wider than it is strips side by side, along whichever of its sides takes fewer: each as long as
/// the drawing, each with both bars, and laid on each other by their overlap every hole is on one of them whole.
void TestTemplate::strips() {
    Document d = drain(900, 60, 30);
    for (const double tall : {1.0, 0.4, 2.5}) {
        PathItem path = *d.path(1);
        if (tall != 1) path.recipe = ShapeRecipe{EllipseShape{900 / std::sqrt(tall), 900 * std::sqrt(tall)}};
        const Document it = with(d, path);
        TemplateOrder order;
        order.paper = Paper::Roll;
        order.roll = 610;
        order.paths = order.numbers = order.noses = false;
        const Template t = made(templateOf(runsOf(it), order, "Large"));
        const double wide = 610 - 2 * order.margin, step = wide - order.overlap,
                     across = std::min(t.whole.width, t.whole.height), along = std::max(t.whole.width, t.whole.height);
        const long n = long(std::ceil((across - wide) / step)) + 1;
        QVERIFY(n > 1);
        QCOMPARE(t.columns * t.rows, n);
        QCOMPARE(std::min(t.columns, t.rows), 1L);
        std::map<std::string, Vec2> corner;
        for (const auto& one : t.tiles) corner[one.name] = one.from;
        std::set<std::pair<long, long>> whole;
        long pages = 0;
        for (const Sheet& page : t.pages) {
            if (page.name == "map") continue;
            ++pages;
            NEAR(std::min(page.width, page.height), 610, 1e-9);
            NEAR(std::max(page.width, page.height), along + 2 * order.margin, 1e-6);
            QVERIFY(corner.count(page.name));
            int bars = 0, words = 0;
            for (const Label& l : page.labels) words += l.text.starts_with("This bar is 100 mm long");
            for (const Ink& ink : page.inks)
                for (const Segment& s : ink.pieces) {
                    if (const auto* l = std::get_if<Line>(&s); l && std::abs((l->b - l->a).norm() - 100) < 1e-9) {
                        ++bars;
                        for (const Vec3& end : {l->a, l->b})
                            QVERIFY(end.x() > 0 && end.y() > 0 && end.x() < page.width && end.y() < page.height);
                    }
                    const auto* a = std::get_if<Arc>(&s);
                    if (!a || std::abs(a->radius - 15) > 1e-9) continue;
                    const Vec2 at = a->centre.head<2>(), clear = Vec2::Constant(order.margin + 15);
                    if ((at - clear).minCoeff() < 0 || (Vec2(page.width, page.height) - clear - at).minCoeff() < 0)
                        continue;
                    const Vec2 in = at - Vec2::Constant(order.margin) + corner[page.name] + t.origin;
                    whole.insert({std::lround(in.x() * 1e3), std::lround(in.y() * 1e3)});
                }
            QCOMPARE(bars, 2);
            QCOMPARE(words, 1);
        }
        QCOMPARE(pages, n);
        const auto run = evaluate(it)->run(3);
        size_t found = 0;
        for (size_t i = 0; i < run->placed->count(); ++i) {
            const Vec3 at = run->placed->frame(i).seat;
            found += whole.count({std::lround(at.x() * 1e3), std::lround(at.y() * 1e3)});
        }
        QCOMPARE(whole.size(), found);
        QVERIFY2(found > 40, qPrintable(QString::number(found))); // the rest lies over a joint
    }
}

/// Every size of a part is cut along a line of its own, and counted by itself.
void TestTemplate::sizesAreCutApart() {
    Document d = drain(300, 12);
    RunItem run = *d.run(3);
    for (int k : {2, 5, 6}) run.exceptions.push_back({k, {}, false, 0, Vec3::Zero(), Vec3::Zero(), k == 6 ? 0.5 : 1.5});
    run.exceptions.push_back({9, {}, true});
    d = with(d, run);
    TemplateOrder parts;
    parts.of = TemplateOf::Parts;
    const Template kit = made(templateOf(runsOf(d), parts, "x"));
    QStringList names;
    for (const Label& l : kit.whole.labels) names += QString::fromStdString(l.text);
    for (const char* name : {"Hole  x 8", "Hole, size 1.5  x 2", "Hole, size 0.5  x 1"})
        QVERIFY2(names.contains(name), qPrintable(names.join(", ")));
    std::multiset<long> radii;
    for (const Ink& ink : kit.whole.inks)
        for (const Segment& s : ink.pieces)
            if (const auto* a = std::get_if<Arc>(&s)) radii.insert(std::lround(a->radius * 1e6));
    QCOMPARE(radii, (std::multiset<long>{4'500'000, 9'000'000, 13'500'000}));
}

VICINAL_SUITE(TestTemplate)

} // namespace test_template
#include "test_template.moc"
