// Lines seen from a side against rays cast from every edge; drawings read back by other programs.
#include "exchange/drawing/drawing.h"
#include "exchange/drawing/hidden.h"
#include "exchange/drawing/views.h"
#include "exchange/sheet/inks.h"
#include "exchange/sheet/writers.h"
#include "geometry/mesh/ray.h"
#include "layout/spacing/rules.h"
#include "made.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/release.h"
#include "model/file/document_file.h"
#include "parts/body.h"
#include "ran.h"
#include "suite.h"
#include "support.h"
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

namespace test_drawing {

using namespace vicinal;
using namespace vicinal::test;

namespace {

Mat4 pose(const Mat3& R, const Vec3& t) {
    Mat4 out = Mat4::Identity();
    out.topLeftCorner<3, 3>() = R;
    out.topRightCorner<3, 1>() = t;
    return out;
}

/// All lines of what is seen, in the picture.
std::vector<Segment> linesOf(const Seen& seen) {
    std::vector<Segment> out;
    for (const auto& s : seen.stands)
        for (const auto& strand : seen.parts[s.part].strands)
            for (const Segment& piece : strand)
                out.push_back(moved(piece, Eigen::AngleAxisd(s.angle, Vec3::UnitZ()).toRotationMatrix(),
                                    Vec3(s.at.x(), s.at.y(), 0)));
    for (const auto& own : seen.others)
        for (const auto& strand : own.visible) out.insert(out.end(), strand.begin(), strand.end());
    return out;
}

double away(const Vec2& p, const Segment& s, Vec2* along = nullptr) {
    if (const auto* a = std::get_if<Arc>(&s)) {
        const Vec2 d = p - a->centre.head<2>();
        const double turn = std::remainder(std::atan2(d.y(), d.x()) - std::atan2(a->xAxis.y(), a->xAxis.x()), 2 * kPi);
        double on = a->sweep > 0 ? turn : -turn;
        if (on < -1e-6) on += 2 * kPi;
        if (along) *along = Vec2(-d.y(), d.x()).normalized();
        return on <= std::abs(a->sweep) + 1e-6 ? std::abs(d.norm() - a->radius) : 1e300;
    }
    const auto& l = std::get<Line>(s);
    const Vec2 a = l.a.head<2>(), d = l.b.head<2>() - a;
    if (along) *along = d.normalized();
    const double t = std::clamp((p - a).dot(d) / d.squaredNorm(), 0.0, 1.0);
    return (p - a - t * d).norm();
}

std::shared_ptr<const Mesh> meshOfMaker(const Maker& m) { return made(bodyOf(make(m)))->mesh; }

} // namespace

class TestDrawing : public QObject {
    Q_OBJECT
private slots:
    void whatIsSeenIsWhatRaysReach();
    void roundThingsSeenSquareAreArcs();
    void equalPartsAreWorkedOutOnce();
    void aDrawingIsReadByOthers();
    void sizesAreDetailedApart();
    void dimensionsSayWhatIsThere();
    void rowsKnowHowFarTheirBodiesReach();
    void unrolledIsSeenFromTheRightSide();
    void whatCannotBeDrawnIsTold();
};

void TestDrawing::whatIsSeenIsWhatRaysReach() {
    std::mt19937 rng(7);
    std::uniform_real_distribution<double> u(-1, 1);
    long checked = 0, hiddenOnes = 0;
    for (int round = 0; round < 40; ++round) {
        std::vector<std::shared_ptr<const Mesh>> meshes;
        std::vector<MeshAt> bodies;
        const int n = 2 + round % 6;
        for (int k = 0; k < n; ++k) {
            // One part stands several times.
            if (k == 0 || k % 3 == 0)
                meshes.push_back(std::make_shared<const Mesh>(boxMesh(
                    Box3(Vec3(-30 - 20 * std::abs(u(rng)), -25, -15), Vec3(30, 20 + 20 * std::abs(u(rng)), 25)))));
            const Mat3 R = Eigen::AngleAxisd(3 * u(rng), Vec3(u(rng), u(rng), u(rng)).normalized()).toRotationMatrix();
            // In every other round they run into one another: then an edge is hidden where it is inside.
            const double apart = round % 2 ? 170 : 50;
            bodies.push_back({{}, meshes.back().get(), pose(R, Vec3(40 * u(rng), 40 * u(rng), apart * k))});
        }
        const Mat3 view = viewFrom(3 * u(rng), round % 4 == 0 ? kPi / 2 : 1.5 * u(rng));
        const auto lines = linesOf(seenLines(bodies, view, false));
        for (const MeshAt& b : bodies)
            for (const auto& e : featureEdges(*b.mesh)) {
                const auto at = [&](std::uint32_t i) {
                    return Vec3((b.pose * b.mesh->points[i].homogeneous()).head<3>());
                };
                const Vec3 from = at(e[0]), to = at(e[1]);
                const Vec2 along = (view * (to - from)).head<2>();
                if (along.norm() < 1) continue;
                for (double t : {0.13, 0.37, 0.61, 0.89}) {
                    const Vec3 p = from + t * (to - from), out = view.row(2).transpose();
                    // Rays a little to all sides: what they do not agree on is too near to a change.
                    int reached = 0;
                    for (int side = 0; side < 4; ++side) {
                        const Vec3 off = 0.02 * (side < 2 ? (side ? 1 : -1) * Vec3(view.row(0))
                                                          : (side == 2 ? 1 : -1) * Vec3(view.row(1)));
                        bool free = true;
                        for (const MeshAt& o : bodies) {
                            const Mat3 R = o.pose.topLeftCorner<3, 3>();
                            const Vec3 s = R.transpose() * (p + off + 0.05 * out - o.pose.topRightCorner<3, 1>());
                            free = free && !hitMesh(*o.mesh, s, R.transpose() * out, 0);
                        }
                        reached += free;
                    }
                    // On an outer edge one side is always free; it is hidden only where none is.
                    const bool visible = reached > 0;
                    const Vec2 q = (view * p).head<2>();
                    double nearest = 1e300, any = 1e300;
                    for (const Segment& s : lines) {
                        Vec2 d;
                        const double w = away(q, s, &d);
                        any = std::min(any, w);
                        if (std::abs(d.x() * along.y() - d.y() * along.x()) < 1e-3 * along.norm())
                            nearest = std::min(nearest, w);
                    }
                    if (visible && reached < 4) {
                        // Seen at least from one side: is it the edge itself, or only what is beside it?
                        bool self = true;
                        for (const MeshAt& o : bodies) {
                            const Mat3 R = o.pose.topLeftCorner<3, 3>();
                            const Vec3 s = R.transpose() * (p + 0.05 * out - o.pose.topRightCorner<3, 1>());
                            if (&o != &b) self = self && !hitMesh(*o.mesh, s, R.transpose() * out, 0);
                        }
                        // Another edge a hair beside it may be the outer one: a face seen from its edge.
                        if (!self || (nearest > 1e-3 && any < 0.05)) continue;
                    }
                    ++checked;
                    hiddenOnes += !visible;
                    if (visible != (nearest < 1e-3)) {
                        QFAIL(qPrintable(QString("round %1: point %2, %3 of an edge is %4 and %5 from a line")
                                             .arg(round)
                                             .arg(q.x())
                                             .arg(q.y())
                                             .arg(visible ? "seen" : "hidden")
                                             .arg(nearest)));
                    }
                }
            }
    }
    QVERIFY2(checked > 4000 && hiddenOnes > 1000, qPrintable(QString("%1 %2").arg(checked).arg(hiddenOnes)));
}

void TestDrawing::roundThingsSeenSquareAreArcs() {
    const auto hole = meshOfMaker(RoundHole{18, 20});
    const std::vector<MeshAt> one{{{}, hole.get(), pose(Mat3::Identity(), Vec3(100, 50, 0))}};
    const auto above = linesOf(seenLines(one, viewFrom(-kPi / 2, kPi / 2), false));
    QCOMPARE(above.size(), size_t(1));
    const Arc& a = std::get<Arc>(above[0]);
    QVERIFY(std::abs(a.radius - 9) < 1e-4 && std::abs(std::abs(a.sweep) - 2 * kPi) < 1e-9);
    QVERIFY((a.centre.head<2>() - Vec2(100, 50)).norm() < 1e-4);
    // From the side: two edges and two contours, a rectangle; half as high seen from 30 degrees, with two ellipses.
    const auto side = linesOf(seenLines(one, viewFrom(-kPi / 2, 0), false));
    double width = 0;
    for (const Segment& s : side) {
        QVERIFY(std::holds_alternative<Line>(s));
        width = std::max(width, (startOf(s) - endOf(s)).norm());
    }
    QVERIFY2(width > 20 - 1e-4, qPrintable(QString::number(width)));
    // Corners of a square lie on a circle, too, and are none.
    const Mesh cube = boxMesh(Box3(Vec3(-5, -5, 0), Vec3(5, 5, 10)));
    const auto square =
        linesOf(seenLines({{{}, &cube, pose(Mat3::Identity(), Vec3(1, 2, 3))}}, viewFrom(0.3, kPi / 2), false));
    QCOMPARE(square.size(), size_t(4));
    for (const Segment& s : square) QVERIFY(std::holds_alternative<Line>(s));
    // Two discs, the upper one smaller and off the middle: the lower circle is cut where it stands before it.
    const auto big = meshOfMaker(RoundHole{100, 10}), small = meshOfMaker(RoundHole{40, 10});
    const std::vector<MeshAt> two{{{}, big.get(), pose(Mat3::Identity(), Vec3(0, 0, 0))},
                                  {{}, small.get(), pose(Mat3::Identity(), Vec3(50, 0, 30))}};
    double open = 0;
    for (const Segment& s : linesOf(seenLines(two, viewFrom(-kPi / 2, kPi / 2), false)))
        if (const auto* arc = std::get_if<Arc>(&s); arc && std::abs(arc->radius - 50) < 1e-3)
            open += std::abs(arc->sweep);
    // The chord where circles of 50 and 20 meet at a distance of 50: cos of half the angle is (2 * 50^2 - 20^2) / (2 *
    // 50^2).
    const double covered = 2 * std::acos((2 * 2500.0 - 400) / 5000);
    QVERIFY2(std::abs(open - (2 * kPi - covered)) < 0.02,
             qPrintable(QString("%1 %2").arg(open).arg(2 * kPi - covered)));
}

void TestDrawing::equalPartsAreWorkedOutOnce() {
    const auto post = meshOfMaker(Maker(alternative<Maker>(0)));
    std::vector<MeshAt> row;
    for (int k = 0; k < 50; ++k)
        row.push_back(
            {{},
             post.get(),
             pose(Eigen::AngleAxisd(0.1 * k, Vec3::UnitZ()).toRotationMatrix(), Vec3(5000.0 * k, 40 * k, 0))});
    const Seen plan = seenLines(row, viewFrom(-kPi / 2, kPi / 2), false);
    QCOMPARE(plan.parts.size(), size_t(1)); // turned in the plane of the picture: alike
    QCOMPARE(plan.stands.size(), size_t(50));
    const Seen front = seenLines(row, viewFrom(-kPi / 2, 0), false);
    QCOMPARE(front.parts.size(), size_t(50));
    // Each by itself gives the same lines as all at once.
    for (size_t k : {0u, 17u, 49u}) {
        const auto alone = linesOf(seenLines({row[k]}, viewFrom(-kPi / 2, kPi / 2), false));
        for (const Segment& s : alone) {
            double nearest = 1e300;
            const Vec2 middle = ((startOf(s) + endOf(s)) / 2).head<2>();
            for (const Segment& o : linesOf(plan))
                nearest =
                    std::min(nearest, away(std::holds_alternative<Line>(s) ? middle : Vec2(startOf(s).head<2>()), o));
            QVERIFY(nearest < 1e-3);
        }
    }
}

namespace {

/// Round posts of 40 every 200 on a line that leads straight and then bends by 60 degrees (path 1, part 2, run 3).
Document posts(bool bent) {
    PathItem path;
    path.name = "Edge";
    PointsRecipe r{{{Vec3(0, 0, 0), false}, {Vec3(2000, 0, 0), false}}, false};
    if (bent) r.points.push_back({Vec3(2000 + 1000 * std::cos(kPi / 3), 1000 * std::sin(kPi / 3), 0), false});
    path.recipe = r;
    Document d = with(Document(), path);
    PartItem part;
    part.name = "Post";
    part.shape = Maker(Cylinder{40, 300});
    part.density = 1000;
    d = with(d, part);
    RunItem run;
    run.name = "Posts";
    run.path = 1;
    run.part = 2;
    StepOff rule;
    rule.pitch = 200;
    run.spacing->rule = rule;
    run.spacing->insetStart = 130;
    return with(d, run);
}
ExportSet goodsFor(const Document& d) { return made(exportSetOf(*evaluate(d), {})); }
QStringList wordsOf(const Sheet& s) {
    QStringList out;
    for (const Label& l : s.labels) out += QString::fromStdString(l.text);
    return out;
}

} // namespace

void TestDrawing::aDrawingIsReadByOthers() {
    DrawingOrder o;
    o.scale = 20;
    o.side = true;
    const ExportSet goods = goodsFor(posts(false));
    const Drawing drawing = made(drawingOf(goods, o, {{"Site", "Saltmarrow Quay"}}, "Posts on the edge"));
    QCOMPARE(drawing.scale, 20.0);
    QCOMPARE(drawing.sheets.size(), size_t(3)); // views, parts, schedule
    QTemporaryDir dir;
    write(dir.filePath("x.pdf"), made(pdfOf(drawing.sheets, "x")));
    const QByteArray text = ran("pdftotext", {"-layout", dir.filePath("x.pdf"), "-"});
    for (const char* word : {"Posts on the edge", "Saltmarrow Quay", "1 : 20", "sheet 1 of 3", "Front", "Plan", "Post",
                             "9 x 200 = 1800", "130", "10 pieces", "station mm"})
        QVERIFY2(text.contains(word), word);
    QVERIFY(ran("pdfinfo", {dir.filePath("x.pdf")}).contains("1190.55 x 841.89 pts (A3)"));
    write(dir.filePath("x.svg"), svgOf(drawing.sheets[0], "x"));
    ran("rsvg-convert", {dir.filePath("x.svg"), "-o", dir.filePath("x.png")});
    write(dir.filePath("x.dxf"), made(dxfOf(drawing.sheets[0])));
    const QByteArray told = ran("/usr/bin/python3", {"-c", R"py(
import sys, ezdxf
d = ezdxf.readfile(sys.argv[1]); a = d.audit()
m = d.modelspace()
inserts = [e for e in m if e.dxftype() == "INSERT"]
blocks = {i.dxf.name for i in inserts}
round_ = [e for b in blocks for e in d.blocks[b] if e.dxftype() in ("CIRCLE", "ARC")]
x = sorted(i.dxf.insert[0] for i in inserts if any(e.dxftype() == "CIRCLE" for e in d.blocks[i.dxf.name]))
print(len(a.errors), len(inserts), len(blocks), len(round_), max(e.dxf.radius for e in round_), (x[-1] - x[0]) * 20, sum(e.dxftype() == "TEXT" for e in m), "POSTS" in {l.dxf.name for l in d.layers})
)py",
                                                     dir.filePath("x.dxf")});
    const auto cells = told.simplified().split(' ');
    QCOMPARE(cells[0], QByteArray("0")); // the audit has nothing to say
    QCOMPARE(cells[1].toInt(), 20);      // ten in plan, ten in front; from the side one stands before nine
    QCOMPARE(cells[2].toInt(), 2);
    NEAR(cells[4].toDouble(), 20.0 / 20, 1e-5); // a circle stays a circle: radius 20 at 1 : 20
    NEAR(cells[5].toDouble(), 1800, 1e-3);
    QVERIFY(cells[6].toInt() > 20);
    QCOMPARE(cells[7], QByteArray("True"));
}

/// Another size is another part to make: drawn by itself, with its own count, dimensions and weight.
void TestDrawing::sizesAreDetailedApart() {
    Document d = posts(false);
    RunItem run = *d.run(3);
    for (int k : {2, 5}) run.exceptions.push_back({k, {}, false, 0, Vec3::Zero(), Vec3::Zero(), 1.5});
    d = with(d, run);
    DrawingOrder o;
    o.scale = 20;
    const Drawing drawing = made(drawingOf(goodsFor(d), o, {}, "Posts"));
    QCOMPARE(drawing.sheets.size(), size_t(3)); // views, parts, schedule
    const QStringList words = wordsOf(drawing.sheets[1]), listed = wordsOf(drawing.sheets[2]);
    const double each = kPi * 2 * 2 * 30 / 1000; // kg, of water
    const auto facts = [&](int count, double kg) {
        const QString start = QString("%1 pieces, %2 kg each").arg(count).arg(kg, 0, 'f', 2);
        return std::any_of(words.begin(), words.end(), [&](const QString& w) { return w.startsWith(start); });
    };
    QVERIFY2(words.contains("Post, size 1.5") && facts(8, each) && facts(2, each * 1.5 * 1.5 * 1.5),
             qPrintable(words.join(", ")));
    for (const char* length : {"40", "300", "60", "450"})
        QVERIFY2(words.contains(length), qPrintable(words.join(", ")));
    QVERIFY(listed.contains("size") && listed.count("1.5") == 2);
    QVERIFY(!wordsOf(made(drawingOf(goodsFor(posts(false)), o, {}, "Posts")).sheets[2]).contains("size"));
    // Whatever the paper, the schedule stays inside its frame.
    for (int paper = 0; paper < 4; ++paper)
        for (const bool across : {false, true}) {
            o.paper = DrawingPaper(paper);
            o.landscape = across;
            const Drawing sheets = made(drawingOf(goodsFor(d), o, {}, "Posts"));
            const Sheet& last = sheets.sheets.back();
            int rules = 0;
            for (const Ink& ink : last.inks) {
                if (ink.layer != "Schedule") continue;
                ++rules;
                for (const Segment& line : ink.pieces) {
                    const Box3 b = boundsOf(line);
                    QVERIFY2(b.min().x() >= 10 && b.max().x() <= last.width - 10,
                             qPrintable(QString("%1 %2 %3").arg(paper).arg(b.min().x()).arg(b.max().x())));
                }
            }
            QCOMPARE(rules, 1);
        }
}

void TestDrawing::dimensionsSayWhatIsThere() {
    DrawingOrder o;
    o.front = false;
    o.gaps = true;
    o.unrolled = true;
    o.details = o.schedule = false;
    const Document straight = posts(false);
    const auto run = evaluate(straight)->runs[0];
    const auto words = wordsOf(made(drawingOf(goodsFor(straight), o, {}, "x")).sheets[0]);
    QVERIFY(words.contains("gap along 9 x " + QString::number(run->placed->gaps[0].clear()))); // in plan and unrolled
    QVERIFY(words.contains("9 x 200 = 1800") && words.contains("130") && words.contains("70"));
    QVERIFY(words.contains("330") && words.contains("2000")); // stations: the second place, the path's end
    // Bent: the plan has the angle and no chain; what is unrolled has the chain, true along the path.
    const Document bent = posts(true);
    o.unrolled = false;
    const Drawing plan = made(drawingOf(goodsFor(bent), o, {}, "x"));
    QVERIFY(wordsOf(plan.sheets[0]).contains("120\u00b0") && !wordsOf(plan.sheets[0]).join(' ').contains(" x 200"));
    QVERIFY(plan.remarks.size() == 1 && plan.remarks[0].find("unrolled") != std::string::npos);
    o.unrolled = true;
    const Drawing both = made(drawingOf(goodsFor(bent), o, {}, "x"));
    QVERIFY(wordsOf(both.sheets[0]).contains("14 x 200 = 2800"));
    // What follows no path is not unrolled, and that is said.
    const Drawing loose = made(drawingOf(goodsFor(made(released(straight, *run, PathStays::Gone))), o, {}, "x"));
    QVERIFY(loose.remarks.size() == 1 && loose.remarks[0] == "Loose parts follow no path: there is nothing to unroll.");
    // No two figures of dimensions lie on one another, however crowded they are.
    for (double pitch : {200.0, 60.0, 45.0}) {
        Document d = bent;
        RunItem r = *d.runs[0];
        StepOff rule;
        rule.pitch = pitch;
        r.spacing->rule = rule;
        r.spacing->measure = Measure::CentreToCentre;
        d = with(d, r);
        const Sheet sheet = made(drawingOf(goodsFor(d), o, {}, "x")).sheets[0];
        std::vector<Bounds> boxes;
        for (const Label& l : sheet.labels)
            if (l.layer == "Dimensions") boxes.push_back(boundsOf(l));
        QVERIFY(boxes.size() > 5);
        size_t meeting = 0;
        for (size_t a = 0; a < boxes.size(); ++a)
            for (size_t b = a + 1; b < boxes.size(); ++b) meeting += meets(boxes[a], boxes[b]);
        QVERIFY2(meeting <= 1, qPrintable(QString::number(meeting))); // the path's end is always written
        for (const Label& l : sheet.labels) {                         // all on the paper
            const Bounds b = boundsOf(l);
            QVERIFY2(b.first.x() > 0 && b.first.y() > 0 && b.second.x() < sheet.width && b.second.y() < sheet.height,
                     l.text.c_str());
        }
    }
}

/// Dimensions stand beside what bodies reach to: told from the corners of their triangles, in every view.
void TestDrawing::rowsKnowHowFarTheirBodiesReach() {
    Document d = posts(false);
    PartItem part = *d.parts[0];
    part.shape = Maker(PlainBox{40, 70, 300});
    part.seat.point = Vec3(5, 12, 90); // more to one side than to the other
    d = with(d, part);
    DrawingOrder o;
    o.unrolled = true;
    const ExportSet goods = goodsFor(d);
    std::vector<Words> remarks;
    DrawnMeshes meshes(false);
    int seen = 0;
    for (const DrawnView& v : made(viewsOf(goods, o, remarks, meshes, nullptr)))
        for (const DrawnView::Row& row : v.rows) {
            ++seen;
            const Vec2 side(-row.along.y(), row.along.x());
            double low = 1e300, high = -1e300;
            for (const MeshAt& b : v.bodies)
                for (const auto& p : b.mesh->points) {
                    const Vec3 at = (b.pose * Vec3(p).homogeneous()).head<3>();
                    const double h = side.dot((v.axes * at).head<2>() - row.start);
                    low = std::min(low, h), high = std::max(high, h);
                }
            QVERIFY(high - low > 69);
            NEAR(row.low, low, 1e-3);
            NEAR(row.high, high, 1e-3);
        }
    QCOMPARE(seen, 3); // plan, front, unrolled
}

/// On a line along x what is pulled straight is the front view itself, whatever hand the part has.
void TestDrawing::unrolledIsSeenFromTheRightSide() {
    Document d = posts(false);
    PartItem part = *d.parts[0];
    Pieces pieces;
    pieces.list = {{"Foot", Maker(PlainBox{40, 30, 300}), Vec3(0, 0, 0), Vec3::Zero(), 1, false},
                   {"Arm", Maker(PlainBox{60, 20, 20}), Vec3(20, -40, 200), Vec3::Zero(), 1, false}};
    part.shape = pieces;
    part.seat.point = Vec3(0, 0, 0);
    d = with(d, part);
    DrawingOrder o;
    o.plan = false;
    o.unrolled = true;
    const ExportSet goods = goodsFor(d);
    std::vector<Words> remarks;
    DrawnMeshes meshes(false);
    const auto views = made(viewsOf(goods, o, remarks, meshes, nullptr));
    QCOMPARE(views.size(), size_t(2));
    const auto front = linesOf(views[0].seen), straight = linesOf(views[1].seen);
    QVERIFY(!front.empty());
    QCOMPARE(front.size(), straight.size());
    const Vec2 by = views[1].rows.at(0).start - views[0].rows.at(0).start;
    for (const Segment& s : front) {
        const Vec2 middle = ((startOf(s) + endOf(s)) / 2).head<2>() + by;
        double nearest = 1e300;
        for (const Segment& other : straight) nearest = std::min(nearest, away(middle, other));
        NEAR(nearest, 0, 2e-3);
    }
}

void TestDrawing::whatCannotBeDrawnIsTold() {
    const ExportSet goods = goodsFor(posts(false));
    const auto why = [&](const DrawingOrder& o) {
        const auto r = drawingOf(goods, o, {}, "x");
        return r ? std::string("fine") : r.problem().field;
    };
    DrawingOrder o;
    QCOMPARE(why(o), std::string("fine"));
    o.scale = 2;
    QCOMPARE(why(o), std::string("scale"));
    o.scale = std::nan("");
    QCOMPARE(why(o), std::string("scale"));
    o.scale = 0;
    o.plan = o.front = false;
    QCOMPARE(why(o), std::string("plan"));
    // Stopped half-way, it says so and gives nothing.
    Job job;
    job.stop = true;
    QVERIFY(!drawingOf(goods, DrawingOrder{}, {}, "x", &job));
    // A part that is hidden altogether: its lines are dashed where they are asked for.
    Document d = posts(false);
    PathItem front;
    front.recipe = PointsRecipe{{{Vec3(0, -500, -10), false}, {Vec3(2000, -500, -10), false}}, false};
    d = with(d, front);
    PartItem wall;
    PlainBox box;
    box.length = 6000, box.width = 20, box.height = 900;
    wall.shape = Maker(box);
    d = with(d, wall);
    RunItem run;
    run.path = d.paths.back()->id;
    run.part = d.parts.back()->id;
    run.spacing->rule = ShareOut{2};
    d = with(d, run);
    DrawingOrder f;
    f.plan = f.details = f.schedule = f.numbers = f.pitches = f.running = f.insets = f.paths = false;
    const auto inks = [&](HiddenLines how) {
        f.hidden = how;
        long dashed = 0, whole = 0;
        const Sheet s = expanded(made(drawingOf(goodsFor(d), f, {}, "x")).sheets[0]);
        for (const Ink& ink : s.inks)
            (ink.layer == "Hidden"  ? dashed
             : ink.layer == "Posts" ? whole
                                    : dashed) += ink.layer == "Hidden" || ink.layer == "Posts";
        return std::pair{dashed, whole};
    };
    QCOMPARE(inks(HiddenLines::Removed), (std::pair<long, long>(0, 0)));
    const auto [dashed, whole] = inks(HiddenLines::Dashed);
    QVERIFY(dashed >= 10 && whole == 0);
}

VICINAL_SUITE(TestDrawing)

} // namespace test_drawing
#include "test_drawing.moc"
