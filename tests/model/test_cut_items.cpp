// Bodies that runs cut and raise on: what follows what, which way is taken, what is said.
#include "documents.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/site.h"
#include "parts/body.h"
#include "parts/cuts/prism.h"
#include "suite.h"

namespace test_cut_items {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A plate 1000 x 400 x 20 with its top at z = 0 as body 1, a line over it as path 2, a hole as part 3, a run 4.
struct Site {
    Document d;
    Id plate = 0, path = 0, part = 0, run = 0, cut = 0;
};
template<class M> PartShape hole(M maker) { return Maker(maker); }

Site site(PartShape cutter, double pitch = 100, BodyShape target = Maker(PlainBox{1000, 400, 20})) {
    Site s;
    BodyItem plate;
    plate.name = "Plate";
    plate.shape = std::move(target);
    plate.at = {0, 0, -20};
    s.d = with(Document(), plate);
    s.plate = lastId(s.d);
    PointsRecipe r;
    for (const Vec3& p : {Vec3(-450, 0, 0), Vec3(450, 0, 0)}) r.points.push_back({p, false});
    s.d = with(std::move(s.d), PathItem{0, "Line", r});
    s.path = lastId(s.d);
    PartItem part;
    part.name = "Hole";
    part.shape = std::move(cutter);
    part.seat.point = Vec3(0, 0, 0);
    s.d = with(std::move(s.d), part);
    s.part = lastId(s.d);
    RunItem run;
    run.name = "Holes";
    run.path = s.path;
    run.part = s.part;
    run.spacing->rule = StepOff{pitch};
    s.d = with(std::move(s.d), run);
    s.run = lastId(s.d);
    return s;
}
Site cut(Site s, const std::function<void(CutBy&)>& how = {}) {
    CutBy c;
    c.of = s.plate;
    c.run = s.run;
    if (how) how(c);
    BodyItem b;
    b.name = "Cut plate";
    b.shape = c;
    b.density = 7850;
    s.d = with(std::move(s.d), b);
    s.cut = lastId(s.d);
    return s;
}
void change(Site& s, const std::function<void(RunItem&)>& how) {
    RunItem r = *s.d.run(s.run);
    how(r);
    s.d = with(std::move(s.d), r);
}
PartShape drill(double diameter) {
    Cylinder c;
    c.diameter = diameter;
    c.height = 30;
    return Maker(c);
}
double full() { return 1000.0 * 400 * 20; }
QString saidBy(const BodyResult& b) {
    QString out;
    for (const Words& w : b.remarks) out += QString::fromStdString(w) + "\n";
    return b.problem ? QString::fromStdString(b.problem->text) : out;
}

} // namespace

class TestCutItems : public QObject {
    Q_OBJECT
private slots:
    void aPlateLosesItsHolesWherever_data() {
        QTest::addColumn<Vec3>("turn");
        QTest::newRow("level") << Vec3(0, 0, 0);
        QTest::newRow("turned in plan") << Vec3(0, 0, 0.7);
    }
    void aPlateLosesItsHolesWherever() {
        QFETCH(Vec3, turn);
        Site s = site(drill(24));
        BodyItem plate = *s.d.body(s.plate);
        plate.turn = turn;
        s.d = with(std::move(s.d), plate);
        PathItem line = *s.d.path(s.path);
        for (auto& p : std::get<PointsRecipe>(line.recipe).points)
            p.at = Eigen::AngleAxisd(turn.z(), Vec3::UnitZ()) * p.at;
        s.d = with(std::move(s.d), line);
        s = cut(std::move(s));
        const auto e = evaluate(s.d);
        const auto b = e->bodies.at(s.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(b->cut && b->cut->flat);
        QCOMPARE(b->cut->tools, size_t(10));
        const double want = full() - 10 * kPi * 144 * 20;
        QVERIFY(std::abs(b->cut->before - full()) < 1e-3);
        QVERIFY(std::abs(b->cut->after - want) < 1e-3);
        QVERIFY(std::abs(volumeOf(*solidOf(*b->body)) - want) < 1e-2);
        QVERIFY(std::abs(*enclosedVolume(*b) - want) < 1e-3);
        // It stands where the plate stands.
        const auto of = e->bodies.at(s.plate);
        Box3 here, there;
        for (const auto& [from, box] : {std::pair{b, &here}, {of, &there}})
            for (const Vec3& p : from->body->mesh->points)
                box->extend(Vec3(from->ground->turn() * p + from->ground->origin()));
        QVERIFY((here.min() - there.min()).norm() < 1e-6 && (here.max() - there.max()).norm() < 1e-6);
        if (turn.isZero())
            QVERIFY(std::abs(b->cut->webs.front().width - 38) <
                    1e-9); // the last holes are 50 from the end, less a radius
    }

    void itFollowsPathPitchAndExceptions() {
        Site s = cut(site(drill(24)));
        auto e = evaluate(s.d);
        change(s, [](RunItem& r) { r.spacing->rule = StepOff{60}; });
        auto next = evaluate(s.d, e);
        QCOMPARE(next->bodies.at(s.cut)->cut->tools, size_t(16));
        QCOMPARE(next->bodies.at(s.plate), e->bodies.at(s.plate));
        change(s, [](RunItem& r) {
            r.spacing->rule = StepOff{100};
            r.leftOut = {2, 3};
            r.rows.rows = 3;
            r.rows.apart = 80;
            Exception x;
            x.place = 5;
            x.size = 2;
            Exception gone;
            gone.place = 7;
            gone.out = true;
            r.exceptions = {x, gone};
        });
        next = evaluate(s.d, next);
        const auto b = next->bodies.at(s.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QCOMPARE(b->cut->tools, size_t(30 - 2 - 3)); // the exception is one of each row
        double holes = 25 * kPi * 144;
        for (size_t i = 0; i < 30; ++i) // the larger one, in whatever rows it stands
            if (next->run(s.run)->placed->laid->size[i] == 2) holes += 3 * kPi * 144;
        QVERIFY(std::abs(b->cut->after - (full() - 20 * holes)) < 1e-3);
        // What does not touch it is the same object again.
        change(s, [](RunItem& r) { r.colour = 7; });
        QCOMPARE(evaluate(s.d, next)->bodies.at(s.cut)->body, b->body);
    }

    void clearanceSlotsAndNotches() {
        Site s = cut(site(Maker(PlainBox{60, 20, 20})), [](CutBy& c) { c.clearance = 1; });
        const auto b = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(std::abs(b->cut->after - (full() - 20 * 10 * 62.0 * 22)) < 1e-3);
        QCOMPARE(b->cut->overEdge.size(), size_t(0));
        // Moved half over the edge each takes half of itself away.
        PathItem p = *s.d.path(s.path);
        for (auto& point : std::get<PointsRecipe>(p.recipe).points) point.at.y() = 200;
        s.d = with(std::move(s.d), p);
        const auto edge = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY2(!edge->problem, qPrintable(saidBy(*edge)));
        QCOMPARE(edge->cut->overEdge.size(), size_t(10));
        QVERIFY(std::abs(edge->cut->after - (full() - 20 * 10 * 62.0 * 11)) < 1e-3);
        QVERIFY2(saidBy(*edge).contains("Places 1, 2, 3, 4 and 6 more cut over the edge."), qPrintable(saidBy(*edge)));
        for (const auto& [count, said] : {std::pair{1L, "Place 1 cuts over the edge."},
                                          {3L, "Places 1, 2, 3 cut over the edge."},
                                          {5L, "Places 1, 2, 3, 4 and 1 more cut over the edge."}}) {
            change(s, [&](RunItem& r) { r.spacing->rule = ShareOut{count, ShareEnds::PitchIn}; });
            const auto few = evaluate(s.d)->bodies.at(s.cut);
            QVERIFY2(saidBy(*few).contains(said), qPrintable(saidBy(*few)));
        }
    }

    void depthsSlantsAndRaising() {
        Site s = cut(site(drill(24)), [](CutBy& c) { c.depth = CutDepth::Deep, c.deep = 8; });
        auto b = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(!b->cut->flat);
        QVERIFY(std::abs(b->cut->after - (full() - 10 * kPi * 144 * 8)) < 1e-2);
        QCOMPARE(faceCount(*solidOf(*b->body)), 6 + 20);
        QCOMPARE(b->cut->webs.size(), size_t(10)); // pockets leave webs as holes do
        QVERIFY(std::abs(b->cut->webs.front().width - 38) < 1e-9);
        // Leaning holes are longer.
        Site t = cut(site(drill(24)));
        change(t, [](RunItem& r) { r.facing.turn.y() = 30 * kDegree; });
        b = evaluate(t.d)->bodies.at(t.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(!b->cut->flat);
        QVERIFY(std::abs(b->cut->after - (full() - 10 * kPi * 144 * 20 / std::cos(30 * kDegree))) < 1e-1);
        // Their webs go square to where they lead.
        QCOMPARE(b->cut->webs.size(), size_t(10));
        QVERIFY(std::abs(b->cut->webs.front().width - (100 * std::cos(30 * kDegree) - 24)) < 1e-9);
        // But square to the face they are not.
        Site f = t;
        BodyItem item = *f.d.body(f.cut);
        std::get<CutBy>(item.shape).way = CutWay::Face;
        f.d = with(std::move(f.d), item);
        b = evaluate(f.d)->bodies.at(f.cut);
        QVERIFY(b->cut && b->cut->flat);
        QVERIFY(std::abs(b->cut->after - (full() - 10 * kPi * 144 * 20)) < 1e-2);
        // Raised by a height, and as the part is.
        Site up =
            cut(site(drill(24)), [](CutBy& c) { c.does = CutDoes::Raise, c.depth = CutDepth::Deep, c.deep = 15; });
        b = evaluate(up.d)->bodies.at(up.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(std::abs(b->cut->after - (full() + 10 * kPi * 144 * 15)) < 1e-2);
        QCOMPARE(solidCount(*solidOf(*b->body)), 1);
        Site own = cut(site(drill(24)), [](CutBy& c) { c.does = CutDoes::Raise, c.depth = CutDepth::AsItIs; });
        b = evaluate(own.d)->bodies.at(own.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(std::abs(b->cut->after - (full() + 10 * kPi * 144 * 30)) < 1e-2);
    }

    /// Long work is left for later, with what is there; and is taken up.
    void slowCutsComeBehind() {
        Site s = cut(site(drill(24)), [](CutBy& c) { c.depth = CutDepth::Deep; });
        Job quick;
        quick.interactive = true;
        const auto first = evaluate(s.d, nullptr, &quick);
        QVERIFY(first->deferred());
        const auto b = first->bodies.at(s.cut);
        QVERIFY(!b->problem && b->body && !b->cut);
        QVERIFY(std::abs(volumeOf(*b->body) - full()) < 1);
        const auto whole = evaluate(s.d, first);
        QVERIFY(!whole->deferred());
        QVERIFY(whole->bodies.at(s.cut)->cut);
        change(s, [](RunItem& r) { r.spacing->rule = StepOff{90}; });
        const auto again = evaluate(s.d, whole, &quick);
        QVERIFY(again->deferred());
        QCOMPARE(again->bodies.at(s.cut)->body, whole->bodies.at(s.cut)->body); // as it was last
        Job stop;
        stop.stop = true;
        QVERIFY(evaluate(s.d, again, &stop)->cancelled());
        Site flat = cut(site(drill(24)));
        QVERIFY(!evaluate(flat.d, nullptr, &quick)->deferred());
    }

    void badInputIsRefusedAtItsField_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("field");
        QTest::newRow("misses") << 0 << "run";
        QTest::newRow("swallows") << 1 << "run";
        QTest::newRow("mesh, to a depth") << 2 << "of";
        QTest::newRow("raised through") << 3 << "depth";
        QTest::newRow("no depth") << 4 << "deep";
        QTest::newRow("clearance swallows the shape") << 5 << "clearance";
        QTest::newRow("nothing to cut") << 6 << "of";
        QTest::newRow("no run") << 7 << "run";
        QTest::newRow("round in a circle") << 8 << "";
        QTest::newRow("least web below zero") << 9 << "least";
    }
    void badInputIsRefusedAtItsField() {
        QFETCH(int, which);
        QFETCH(QString, field);
        Site s = site(which == 1 ? PartShape(Maker(PlainBox{3000, 3000, 10})) : drill(24), which == 1 ? 4000 : 100,
                      which == 2 ? BodyShape(MadeGround{GroundForm::Slope, 2000, 800, 100})
                                 : BodyShape(Maker(PlainBox{1000, 400, 20})));
        s = cut(std::move(s), [&](CutBy& c) {
            if (which == 2 || which == 4) c.depth = CutDepth::Deep;
            if (which == 3) c.does = CutDoes::Raise;
            if (which == 4) c.deep = 0;
            if (which == 5) c.clearance = -13;
            if (which == 6) c.of = 0;
            if (which == 7) c.run = 0;
            if (which == 9) c.least = -1;
        });
        if (which == 0) {
            BodyItem plate = *s.d.body(s.plate);
            plate.at.y() = 5000;
            s.d = with(std::move(s.d), plate);
        }
        if (which == 8) { // the run stands on a path that is laid on what it cuts
            LaidOn laid;
            laid.body = s.cut;
            PathItem p;
            p.name = "Laid";
            p.recipe = DerivedRecipe{s.path, laid};
            s.d = with(std::move(s.d), p);
            const Id on = lastId(s.d);
            change(s, [&](RunItem& r) { r.path = on; });
            QVERIFY(follows(s.d, s.cut, on));
            const auto e = evaluate(s.d);
            const auto b = e->bodies.at(s.cut);
            QVERIFY(b->problem.has_value());
            bool circle = b->problem->text.find("circle") != std::string::npos;
            for (const auto& [id, path] : e->paths)
                circle = circle || (path->problem && path->problem->text.find("circle") != std::string::npos);
            QVERIFY2(circle, b->problem->text.c_str());
            return;
        }
        const auto b = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY(b->problem.has_value());
        QVERIFY2(b->problem->field == field.toStdString(), (b->problem->field + ": " + b->problem->text).c_str());
    }

    void saysWhatIsDoubtful() {
        Site s = cut(site(drill(24), 30), [](CutBy& c) { c.least = 8; });
        auto b = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY2(saidBy(*b).contains("The least web is 6 mm"), qPrintable(saidBy(*b)));
        QVERIFY(b->verdict.mark == Mark::Doubtful);
        change(s, [](RunItem& r) { r.spacing->rule = StepOff{20}; });
        b = evaluate(s.d)->bodies.at(s.cut);
        QVERIFY2(saidBy(*b).contains("run into one another"), qPrintable(saidBy(*b)));
        // A part as what is cut, and chained cuts.
        Site two = cut(site(drill(24)));
        two.plate = two.cut;
        two = cut(std::move(two), [](CutBy& c) { c.clearance = 2; });
        b = evaluate(two.d)->bodies.at(two.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(std::abs(b->cut->after - (full() - 10 * kPi * 196 * 20)) < 1e-2);
        Site part = site(drill(24));
        PartItem plank;
        plank.shape = Maker(PlainBox{1000, 400, 20});
        part.d = with(std::move(part.d), plank);
        const Id id = lastId(part.d);
        part = cut(std::move(part), [&](CutBy& c) { c.of = 0, c.part = id; });
        b = evaluate(part.d)->bodies.at(part.cut);
        QVERIFY2(!b->problem, qPrintable(saidBy(*b)));
        QVERIFY(std::abs(b->cut->after - (full() - 10 * kPi * 144 * 20)) < 1e-2);
    }
};

VICINAL_SUITE(TestCutItems)

} // namespace test_cut_items
#include "test_cut_items.moc"
