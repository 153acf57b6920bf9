// Rails of runs: bent along the path or straight from place to place, as bodies and as cut lists.
#include "documents.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "model/evaluate/bodies/site.h"
#include "parts/body.h"
#include "suite.h"

namespace test_rail_items {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A document of one path with posts along it: path 1, part 2, run 3.
Document posts(PathRecipe recipe, SpacingRule rule = StepOff{500}) {
    Document d = with(Document(), PathItem{0, "Way", std::move(recipe)});
    PartItem post;
    post.shape = Maker(PlainBox{20, 20, 900});
    d = with(std::move(d), std::move(post));
    RunItem r;
    r.path = 1;
    r.part = 2;
    r.spacing->rule = std::move(rule);
    return with(std::move(d), std::move(r));
}
PathRecipe through(const std::vector<Vec3>& points, bool corners, bool closed = false) {
    PointsRecipe r;
    for (const Vec3& p : points) r.points.push_back({p, !corners});
    r.closed = closed;
    return r;
}
PathRecipe roundPath(double radius) {
    CircleShape c;
    c.radius = radius;
    return ShapeRecipe{c};
}

std::shared_ptr<const BodyResult> railIn(Document d, const RailAlong& rail) {
    BodyItem b;
    b.shape = rail;
    d = with(std::move(d), std::move(b));
    const Id id = lastId(d);
    return evaluate(d)->bodies.at(id);
}
RailAlong tube(double diameter, double wall = 0) {
    RailAlong r;
    r.run = 3;
    r.section.width = diameter;
    r.section.wall = wall;
    return r;
}
RailAlong flat(double w, double h) {
    RailAlong r = tube(w);
    r.section.form = RailForm::Flat;
    r.section.depth = h;
    return r;
}
double exactVolume(const BodyResult& b) {
    const auto solid = solidOf(*b.body);
    return solid ? volumeOf(*solid) : -1;
}

} // namespace

class TestRailItems : public QObject {
    Q_OBJECT
private slots:
    void aStraightTubeIsItsSectionTimesItsLength() {
        const auto b = railIn(posts(through({{0, 0, 0}, {4000, 0, 0}}, true)), tube(42, 3));
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        const double area = kPi * (21 * 21 - 18 * 18);
        QVERIFY(std::abs(exactVolume(*b) / (area * 4000) - 1) < 1e-9);
        QVERIFY(edgesOf(*b->body->mesh).edges.size() > 0);
        QCOMPARE(b->bars.size(), size_t(1));
        QVERIFY(std::abs(b->bars[0].length - 4000) < 1e-9);
        QVERIFY(!b->bars[0].bent);
        // It stands 900 above the path.
        const Box3 box = b->body->mesh->box;
        QVERIFY(std::abs(b->ground->origin().z() + box.center().z() - 900) < 1e-9);
    }

    void bentRailsKeepPappus_data() {
        QTest::addColumn<int>("which");
        const char* names[] = {"level circle", "level spline",   "rising spline",    "screw line",
                               "corners",      "arcs and lines", "corners that rise"};
        for (int i = 0; i < 7; ++i) QTest::newRow(names[i]) << i;
    }
    /// A section whose middle runs along a line, square to it, covers its area times the line's length.
    void bentRailsKeepPappus() {
        QFETCH(int, which);
        HelixShape h;
        h.radius = h.radiusTop = 2000;
        h.pitch = 800;
        h.turns = 2;
        const std::vector<Vec3> bends{{0, 0, 0}, {1500, 400, 0}, {3000, -200, 0}, {4200, 900, 0}};
        auto rising = bends;
        for (size_t i = 0; i < 4; ++i) rising[i].z() = 300 * double(i * i) / 2;
        PathRecipe recipe = which == 0   ? roundPath(1500)
                            : which == 1 ? through(bends, false)
                            : which == 2 ? through(rising, false)
                            : which == 3 ? PathRecipe(ShapeRecipe{h})
                            : which == 4 ? through(bends, true)
                            : which == 6 ? through({{0, 0, 0}, {2000, 0, 0}, {4000, 0, 900}}, true)
                                         : through(bends, true);
        if (which == 5)
            for (auto& p : std::get<PointsRecipe>(recipe).points) p.fillet = 200;
        for (const RailAlong& rail : {tube(42, 3), flat(60, 20)}) {
            const auto b = railIn(posts(recipe), rail);
            QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
            const double area = rail.section.wall > 0 ? kPi * (21 * 21 - 18 * 18) : 60 * 20;
            const double length = b->path->path->length();
            QVERIFY2(std::abs(exactVolume(*b) / (area * length) - 1) < 1e-4,
                     qPrintable(QString("%1 for %2").arg(exactVolume(*b), 0, 'g', 12).arg(area * length, 0, 'g', 12)));
            const double mesh = volumeOf(*b->body->mesh) / (area * length);
            QVERIFY2(mesh > 0.96 && mesh < 1.001, qPrintable(QString::number(mesh)));
            for (const MeshEdge& e : edgesOf(*b->body->mesh).edges) QCOMPARE(e.triangles, 2u);
            double all = 0;
            for (const RailBar& bar : b->bars) all += bar.length;
            QVERIFY(std::abs(all - length) < 1e-6);
        }
    }

    void twoRailsAtAGaugeRunOnCirclesOfTheirOwn() {
        RailAlong r = flat(60, 100);
        r.count = 2;
        r.apart = 760;
        r.way = RailsApart::Across;
        r.height = 50;
        const auto b = railIn(posts(roundPath(5000)), r);
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        QCOMPARE(b->bars.size(), size_t(2));
        QVERIFY(std::abs(b->bars[0].length - 2 * kPi * (5000 - 380)) < 1e-6); // the first is on the left: inside
        QVERIFY(std::abs(b->bars[1].length - 2 * kPi * (5000 + 380)) < 1e-6);
        QVERIFY(std::abs(exactVolume(*b) / (60 * 100 * 4 * kPi * 5000) - 1) < 1e-7);
        QCOMPARE(solidCount(*solidOf(*b->body)), 2);
    }

    void twoRailsOnAScrewLine() {
        HelixShape h;
        h.radius = h.radiusTop = 2000;
        h.pitch = 800;
        h.turns = 1.5;
        h.height = 1200;
        RailAlong r = flat(20, 40);
        r.count = 2;
        r.apart = 600;
        r.way = RailsApart::Across;
        const auto b = railIn(posts(ShapeRecipe{h}), r);
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        const double radii[] = {1700, 2300}; // the first on the left: inside
        for (size_t i = 0; i < 2; ++i) {
            const double want = 1.5 * std::hypot(2 * kPi * radii[i], 800);
            QVERIFY2(std::abs(b->bars[i].length - want) < 1e-6, qPrintable(QString::number(b->bars[i].length - want)));
        }
    }

    /// The same corners as a bent rail's and as places that straight pieces run between.
    void straightPiecesAndMitredBarsAgree() {
        const std::vector<Vec3> corners{{0, 0, 0}, {1000, 0, 0}, {2000, 800, 0}, {2000, 2000, 0}, {3500, 2500, 0}};
        Listed at;
        at.at.clear();
        double s = 0;
        for (size_t i = 0; i < corners.size(); ++i) {
            if (i > 0) s += (corners[i] - corners[i - 1]).norm();
            at.at.push_back(s);
        }
        RailAlong r = flat(50, 30);
        r.across = 120;
        const Document d = posts(through(corners, true), at);
        const auto bent = railIn(d, r);
        r.style = RailStyle::Straight;
        const auto cut = railIn(d, r);
        QVERIFY2(!bent->problem && !cut->problem, cut->problem ? cut->problem->text.c_str() : "bent");
        QCOMPARE(bent->bars.size(), size_t(4));
        QCOMPARE(cut->bars.size(), size_t(4));
        for (size_t i = 0; i < 4; ++i) {
            const RailBar &a = bent->bars[i], &b = cut->bars[i];
            for (const auto& [x, y] : {std::pair{a.length, b.length},
                                       {a.longest, b.longest},
                                       {a.startPlan, b.startPlan},
                                       {a.endPlan, b.endPlan},
                                       {a.startSlope, b.startSlope},
                                       {a.endSlope, b.endSlope}})
                QVERIFY2(std::abs(x - y) < 1e-6, qPrintable(QString("%1 %2 %3").arg(i).arg(x).arg(y)));
        }
        QVERIFY(std::abs(exactVolume(*bent) - exactVolume(*cut)) < 1e-3);
        QVERIFY(std::abs(volumeOf(*cut->body->mesh) - exactVolume(*cut)) < 1e-3);
        QVERIFY(std::abs(bent->bars[0].endPlan - std::atan2(800, 1000) / 2) < 1e-9); // half the turn to the left
    }

    void equalPiecesOfACircleAreOneKind() {
        RailAlong r = tube(40);
        r.style = RailStyle::Straight;
        r.across = 0;
        const auto b = railIn(posts(roundPath(2000), ShareOut{24}), r);
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        const auto kinds = kindsOf(b->bars);
        QCOMPARE(kinds.size(), size_t(1));
        QCOMPARE(kinds[0].which.size(), size_t(24));
        QVERIFY(std::abs(kinds[0].bar.length - 4000 * std::sin(kPi / 24)) < 1e-9);
        QVERIFY(std::abs(kinds[0].bar.endPlan - kPi / 24) < 1e-9);
        QVERIFY(std::abs(exactVolume(*b) / (kPi * 400 * 24 * kinds[0].bar.length) - 1) < 1e-9);
    }

    void barsThatDifferInOneCutAreTwoKinds() {
        RailBar bar{0, 0, 500, 510, 0.1, 0, 0.2, 0, 0, false};
        std::vector<RailBar> bars(12, bar);
        bars[3].endPlan += 0.01;
        bars[4].startSlope += 0.01;
        bars[5].length += 1;
        bars[6].bent = true;
        bars[7].rail = 4, bars[7].piece = 9; // the same bar elsewhere
        const auto kinds = kindsOf(bars);
        QCOMPARE(kinds.size(), size_t(5));
        QCOMPARE(kinds[0].which.size(), size_t(8));
    }

    void endsAreCappedAndReturned() {
        RailAlong r = tube(42, 3);
        const Document d = posts(through({{0, 0, 0}, {4000, 0, 0}}, true));
        const double plain = exactVolume(*railIn(d, r)), area = kPi * (21 * 21 - 18 * 18);
        r.ends.start = RailEnd::Capped;
        r.ends.cap = 4;
        const auto capped = railIn(d, r);
        QVERIFY(std::abs(exactVolume(*capped) - plain - kPi * 21 * 21 * 4) < 1e-3);
        QVERIFY(std::abs(capped->body->mesh->box.sizes().x() - 4004) < 1e-9);
        r.ends.start = RailEnd::Plain;
        r.ends.end = RailEnd::Returned;
        for (const RailReturn to : {RailReturn::Down, RailReturn::Up, RailReturn::Left, RailReturn::Right}) {
            r.ends.to = to;
            const auto b = railIn(d, r);
            QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
            const double more = kPi / 2 * r.ends.radius + r.ends.leg;
            QVERIFY(std::abs(exactVolume(*b) - plain - area * more) < 1e-2);
            QVERIFY(std::abs(b->bars[0].length - 4000 - more) < 1e-9);
            // It ends radius + leg away, that way.
            Box3 box = b->body->mesh->box;
            const int axis = to == RailReturn::Down || to == RailReturn::Up ? 2 : 1;
            const double low = box.min()[axis] + b->home[axis] - (axis == 2 ? 900 : 0),
                         high = box.max()[axis] + b->home[axis] - (axis == 2 ? 900 : 0);
            const bool below = to == RailReturn::Down || to == RailReturn::Right;
            QVERIFY2(std::abs((below ? -low : high) - r.ends.radius - r.ends.leg) < 1e-6,
                     qPrintable(QString("%1 %2 %3").arg(int(to)).arg(low).arg(high)));
        }
        // Straight ones are mitred there; whichever way, and at both ends.
        for (const RailReturn to : {RailReturn::Down, RailReturn::Up, RailReturn::Left, RailReturn::Right}) {
            RailAlong f = flat(50, 20);
            f.style = RailStyle::Straight;
            f.ends.start = f.ends.end = RailEnd::Returned;
            f.ends.to = to;
            const auto b = railIn(d, f);
            QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
            QCOMPARE(b->bars.size(), size_t(10));
            const double angle =
                to == RailReturn::Down || to == RailReturn::Up ? b->bars[0].endSlope : b->bars[0].endPlan;
            QVERIFY(std::abs(std::abs(angle) - kPi / 4) < 1e-9);
            QVERIFY(std::abs(exactVolume(*b) - 50 * 20 * (4000 + 200)) < 1e-3);
        }
    }

    void itRunsAsFarAsItIsTold() {
        const Document d = posts(through({{0, 0, 0}, {4000, 0, 0}}, true));
        RailAlong r = tube(40);
        const auto length = [&] { return railIn(d, r)->bars.at(0).length; };
        r.startInset = 100, r.endInset = -50;
        QVERIFY(std::abs(length() - 3950) < 1e-9);
        r.reach = RailReach::Stations;
        r.from = 1200, r.to = 1700;
        QVERIFY(std::abs(length() - 500) < 1e-9);
        r.reach = RailReach::Places;
        r.firstPlace = 2, r.lastPlace = 5;
        const auto bent = railIn(d, r);
        QVERIFY(std::abs(length() - 1500) < 1e-9);
        r.style = RailStyle::Straight;
        const auto b = railIn(d, r);
        QCOMPARE(b->bars.size(), size_t(3));
        r.reach = RailReach::Whole;
        r.startInset = 100;
        r.endInset = 0;
        QVERIFY(std::abs(length() - 400) < 1e-9);
    }

    /// Banked by a quarter turn the height goes sideways.
    void banksWithTheRunsRoll() {
        Document d = posts(through({{0, 0, 0}, {4000, 0, 0}}, true));
        RunItem r = *d.runs[0];
        r.facing.crown = Upright{};
        r.changes.roll.keys = {{0, 0}, {4000, kPi / 2}};
        d = with(std::move(d), r);
        RailAlong rail = flat(40, 10);
        rail.height = 500;
        rail.banked = true;
        const auto b = railIn(d, rail);
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        const Box3 box = b->body->mesh->box;
        QVERIFY(std::abs(box.max().z() + b->home.z() - 505) < 1);
        QVERIFY2(std::abs(box.min().y() + b->home.y() + 505) < 1,
                 qPrintable(QString::number(box.min().y() + b->home.y())));
        const double length = b->bars[0].length; // of a screw about the path: 500 times the turn aside
        QVERIFY2(std::abs(length - std::hypot(4000, 500 * kPi / 2)) < 0.5, qPrintable(QString::number(length)));
        QVERIFY(std::abs(exactVolume(*b) / (400 * length) - 1) < 1e-3);
    }

    void ownOutlinesFollowTheirPath() {
        Document d = posts(through({{0, 0, 0}, {4000, 0, 0}}, true));
        d = with(
            std::move(d),
            PathItem{0, "Section", through({{0, 0, 0}, {60, 0, 0}, {60, 20, 0}, {30, 45, 0}, {0, 20, 0}}, true, true)});
        RailAlong r = tube(40);
        r.section.form = RailForm::Outline;
        r.outline = lastId(d);
        const auto b = railIn(d, r);
        QVERIFY2(!b->problem, b->problem ? b->problem->text.c_str() : "");
        const double area = 60 * 20 + 60 * 25 / 2;
        QVERIFY(std::abs(exactVolume(*b) - area * 4000) < 1e-2);
        QVERIFY(std::abs(volumeOf(*b->body->mesh) - area * 4000) < 1e-2);
        r.section.turn = kPi / 2;
        QVERIFY(std::abs(railIn(d, r)->body->mesh->box.sizes().y() - 45) < 1e-9);
    }

    void badValuesAreRefusedAtTheirField_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("field");
        QTest::newRow("bend sharper than the section") << 0 << "width";
        QTest::newRow("wall thicker than the tube") << 1 << "wall";
        QTest::newRow("no width") << 2 << "width";
        QTest::newRow("not a number") << 3 << "height";
        QTest::newRow("inset beyond the path") << 4 << "startInset";
        QTest::newRow("place that is not there") << 5 << "lastPlace";
        QTest::newRow("return sharper than the section") << 6 << "returnRadius";
        QTest::newRow("no outline") << 7 << "outline";
        QTest::newRow("no run for straight pieces") << 8 << "run";
        QTest::newRow("nothing to follow") << 9 << "path";
        QTest::newRow("run that was deleted") << 10 << "run";
        QTest::newRow("posts at one point") << 11 << "run";
        QTest::newRow("too many rails") << 12 << "count";
        QTest::newRow("rails on one another") << 13 << "apart";
        QTest::newRow("too far aside") << 14 << "across";
        QTest::newRow("gap below zero") << 15 << "gap";
        QTest::newRow("station behind the path") << 16 << "to";
    }
    void badValuesAreRefusedAtTheirField() {
        QFETCH(int, which);
        QFETCH(QString, field);
        Document d = posts(which == 14  ? roundPath(500)
                           : which == 0 ? roundPath(15)
                                        : through({{0, 0, 0}, {4000, 0, 0}}, true),
                           which == 0 ? SpacingRule(StepOff{40}) : StepOff{500});
        RailAlong r = tube(42);
        switch (which) {
        case 1: r.section.wall = 21; break;
        case 2: r.section.width = 0; break;
        case 3: r.height = std::nan(""); break;
        case 4: r.startInset = 4000; break;
        case 5: r.reach = RailReach::Places, r.lastPlace = 100; break;
        case 6: r.ends.end = RailEnd::Returned, r.ends.radius = 20; break;
        case 7: r.section.form = RailForm::Outline; break;
        case 8: r.style = RailStyle::Straight, r.run = 0, r.path = 1; break;
        case 9: r.run = 0; break;
        case 10: r.run = 77; break;
        case 11: {
            RunItem run = *d.runs[0];
            Listed at;
            at.at = {1000, 1000};
            run.spacing->rule = at;
            d = with(std::move(d), run);
            r.style = RailStyle::Straight;
            break;
        }
        case 12: r.count = 101; break;
        case 13: r.count = 2, r.apart = 0; break;
        case 14: r.across = 500; break;
        case 15: r.style = RailStyle::Straight, r.gap = -1; break;
        case 16: r.reach = RailReach::Stations, r.to = 5000; break;
        }
        const auto b = railIn(d, r);
        QVERIFY(b->problem.has_value());
        QVERIFY2(b->problem->field == field.toStdString(), (b->problem->field + ": " + b->problem->text).c_str());
    }

    /// The last good rail stays; a circle by way of the run is refused in words.
    void followsItsRunAndKeepsTheLastGoodState() {
        Document d = posts(roundPath(3000));
        BodyItem b;
        b.shape = tube(42);
        d = with(std::move(d), b);
        const Id id = lastId(d);
        const auto first = evaluate(d);
        const auto recoloured = [&] {
            RunItem r = *d.runs[0];
            r.colour = 5;
            return with(d, r);
        }();
        const auto second = evaluate(recoloured, first);
        QCOMPARE(second->bodies.at(id)->body, first->bodies.at(id)->body); // nothing it asks has changed
        PathItem p = *d.paths[0];
        p.recipe = roundPath(10);
        const auto third = evaluate(with(recoloured, p), second);
        QVERIFY(third->bodies.at(id)->problem.has_value());
        QCOMPARE(third->bodies.at(id)->body, first->bodies.at(id)->body);
        QCOMPARE(third->bodies.at(id)->bars.size(), size_t(1));
        RunItem r = *d.runs[0];
        r.feet.ground = id; // posts that stand on their own rail
        const auto round = evaluate(with(d, r));
        QVERIFY(round->runs[0]->problem || round->bodies.at(id)->problem);
        QVERIFY(usersOf(d, 3) == std::vector<std::string>{d.bodies[0]->name});
        QVERIFY(follows(d, id, 1) && follows(d, id, 3));
        const Document two = copied(d, {3, id});
        QCOMPARE(std::get<RailAlong>(two.bodies.back()->shape).run, two.runs.back()->id);
    }
};

VICINAL_SUITE(TestRailItems)

} // namespace test_rail_items
#include "test_rail_items.moc"
