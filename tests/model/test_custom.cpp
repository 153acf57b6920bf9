// What a first run is given: every maker on every kind of path, checked as the window would.
#include "documents.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/custom/custom.h"
#include "model/verdicts/checked.h"
#include "suite.h"
#include "support.h"

namespace test_custom {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Path 1 of a kind; a mound of ground under everything is body 2 where it is asked for.
Document quayWith(const std::string& kind) {
    Document d;
    PathItem path;
    path.name = "Path";
    ShapeRecipe shape;
    if (kind == "straight")
        shape.shape = StraightShape{{0, 0, 0}, 4000, 0.3, 0};
    else if (kind == "circle")
        shape.shape = CircleShape{1500};
    else if (kind == "rectangle")
        shape.shape = RectangleShape{3000, 2000};
    else if (kind == "wheels")
        shape.shape = WheelShape{{{"Drum", {0, 0}, 400, 0, true}, {"Motor", {1600, 0}, 250, 0, true}}};
    path.recipe = shape;
    if (kind == "spline") {
        PointsRecipe points;
        for (const Vec3& at : {Vec3(0, 0, 0), Vec3(1500, 450, 150), Vec3(3200, -200, 450), Vec3(5000, 400, 350)})
            points.points.push_back({at, true});
        path.recipe = points;
    }
    if (kind == "ground") {
        path.recipe = ShapeRecipe{StraightShape{{-3000, 0, 3000}, 6000, 0, 0}};
        d = with(d, path);
        BodyItem ground;
        ground.name = "Mound";
        ground.shape = MadeGround{GroundForm::Mound, 16'000, 12'000, 500, 3, 300, 4500};
        d = with(d, ground);
        path.id = 0;
        path.name = "Laid";
        LaidOn on;
        on.body = 2;
        path.recipe = DerivedRecipe{1, on};
    }
    return with(d, path);
}

struct Begun {
    Document document;
    std::shared_ptr<const Evaluation> worked;
    Id run = 0;
    std::vector<std::string> says;
    std::shared_ptr<const Checked> checked;
    const RunChecks& checks() const { return *checked->run(run); }
    const RunItem& item() const { return *worked->run(run)->item; }
};

Begun begun(Document d, Id run) {
    Begun out{std::move(d), nullptr, run, {}, nullptr};
    out.worked = evaluate(out.document);
    CheckMemory memory;
    out.checked = check(out.worked, memory);
    return out;
}

/// The first run of a part along the last path of a document.
Begun firstRunOf(Document d, const Maker& maker, const char* name = "Part") {
    const Id path = d.paths.back()->id;
    PartItem part;
    part.name = name;
    part.shape = maker;
    part.seat.point = Vec3(0, 0, 0);
    d = with(d, part);
    const auto first = withFirstRun(d, *evaluate(d), path, lastId(d));
    if (!first) throw std::runtime_error(Words::whole(first.problem().text));
    Begun out = begun(first->document, first->run);
    for (const Words& w : first->says) out.says.push_back(Words::whole(w));
    return out;
}

} // namespace

class TestCustom : public QObject {
    Q_OBJECT
private slots:
    void noFirstRunIsRed_data();
    void noFirstRunIsRed();
    void chainsAreChains();
    void loopsFitTheirLinks();
    void balustersStandBetweenPosts();
    void whatIsMissingIsSaid();
};

void TestCustom::noFirstRunIsRed_data() {
    QTest::addColumn<QString>("kind");
    for (const char* kind : {"straight", "circle", "spline", "rectangle", "wheels", "ground"})
        QTest::newRow(kind) << kind;
}

/// Or one click mends it; what that leaves is looked at by itself.
void TestCustom::noFirstRunIsRed() {
    QFETCH(QString, kind);
    for (const MakerEntry& entry : makerEntries()) {
        const Begun first = firstRunOf(quayWith(kind.toStdString()), entry.maker, entry.name);
        const auto told = [&](const Begun& of) {
            const auto run = of.worked->run(of.run);
            const Words& text = run->problem ? run->problem->text : of.checks().verdict.text;
            return QString("%1: %2").arg(entry.name, Words::whole(text).c_str());
        };
        QVERIFY2(!first.worked->run(first.run)->problem, qPrintable(told(first)));
        QVERIFY2(first.worked->run(first.run)->placed->count() > 0, entry.name);
        const auto mend = mendOf(first.document, first.worked, first.checks());
        if (first.checks().verdict.mark != Mark::Wrong) {
            QVERIFY2(!mend, entry.name);
            continue;
        }
        qInfo("%s | %s", qPrintable(told(first)), mend ? Words::whole(mend->says).c_str() : "NOTHING MENDS IT");
        QVERIFY2(mend, qPrintable(told(first)));
        const Begun after = begun(mend->document, first.run);
        QVERIFY2(after.checks().verdict.mark != Mark::Wrong, qPrintable(told(after)));
    }
}

/// Each link a quarter turn about the line of its pins from the one before, all the way round; measured from the poses.
void TestCustom::chainsAreChains() {
    for (const bool studded : {false, true})
        for (const char* kind : {"straight", "circle", "spline"}) {
            RoundLink link;
            link.studded = studded;
            if (studded) link.insideLength = 40;
            const Begun first = firstRunOf(quayWith(kind), link, "Link");
            const auto run = first.worked->run(first.run);
            QCOMPARE(first.item().name, std::string("Chain on Path"));
            const Placed& p = *run->placed;
            const size_t n = p.count();
            if (run->path->path->closed()) QVERIFY(n % 2 == 0);
            for (size_t i = 0; i < n; ++i) {
                const size_t next = i + 1 < n ? i + 1 : 0;
                if (next == 0 && !run->path->path->closed()) break;
                const Mat3 a = p.pose(i).block<3, 3>(0, 0), b = p.pose(next).block<3, 3>(0, 0);
                QVERIFY(std::abs(a.col(2).dot(b.col(2))) < 0.06); // crowns are square, but for the bend
                const Vec3 front = p.pose(i).block<3, 1>(0, 3) + a.col(0) * link.insideLength / 2;
                const Vec3 back = p.pose(next).block<3, 1>(0, 3) - b.col(0) * link.insideLength / 2;
                QVERIFY((front - back).norm() < 0.021 * link.insideLength);
            }
        }
}

void TestCustom::loopsFitTheirLinks() {
    RollerLink link;
    link.kind = RollerLink::Kind::Outer;
    const Begun first = firstRunOf(quayWith("wheels"), link, "Outer link");
    const auto run = first.worked->run(first.run);
    const auto& shape = std::get<WheelShape>(std::get<ShapeRecipe>(first.document.paths.front()->recipe).shape);
    QCOMPARE(shape.chainPitch, link.pitch);
    QCOMPARE(shape.roller, link.roller);
    for (const auto& [wheel, radius] : {std::pair{0, 400.0}, {1, 250.0}}) { // r = p / (2 sin(pi / n))
        const long n = shape.wheels[size_t(wheel)].teeth;
        const auto off = [&](long teeth) {
            return std::abs(link.pitch / (2 * std::sin(kPi / double(teeth))) - radius);
        };
        QVERIFY(off(n) <= off(n - 1) && off(n) <= off(n + 1));
        QCOMPARE(shape.wheels[size_t(wheel)].body, WheelBody::Sprocket);
    }
    QCOMPARE(run->placed->count() % 2, size_t(0));
    QVERIFY(run->path->gave && std::abs(*run->placed->laid->closing) < 1e-3);
    QCOMPARE(first.document.parts.size(), size_t(2)); // the inner link came along
    QCOMPARE(first.says.size(), size_t(3));
    const auto& inner = std::get<RollerLink>(std::get<Maker>(first.document.parts.back()->shape));
    QCOMPARE(inner.kind, RollerLink::Kind::Inner);
    QVERIFY(run->placed->part(0).id != run->placed->part(1).id && run->placed->part(0).id == run->placed->part(2).id);
    // Once more: the partner is there already, and the loop, which a chain follows, stays as it is.
    const auto again =
        withFirstRun(first.document, *first.worked, first.document.paths.front()->id, run->part->item->id);
    QVERIFY(again && again->says.empty());
    QCOMPARE(again->document.parts.size(), size_t(2));
    QVERIFY(again->document.paths == first.document.paths);
    QVERIFY(again->document.run(again->run)->gives.what == Gives::Nothing);
    // Sprockets for this chain would not stand beside one another there: the loop stays as it was drawn.
    PathItem tight;
    tight.recipe = ShapeRecipe{WheelShape{{{"A", {0, 0}, 10, 0, true}, {"B", {30, 0}, 10, 0, true}}}};
    const Document small = with(Document(), tight);
    const Begun kept = firstRunOf(small, link, "Outer link");
    QCOMPARE(kept.says.size(), size_t(1)); // of the second link
    QVERIFY(kept.document.paths == small.paths && kept.item().gives.what == Gives::Nothing);
    link.pitch = 9000; // longer than the way round: no chain, but something to look at
    const Begun huge = firstRunOf(quayWith("wheels"), link, "Huge");
    QVERIFY(!isLinked(huge.item().spacing) && !huge.worked->run(huge.run)->problem);
}

void TestCustom::balustersStandBetweenPosts() {
    PathItem fence;
    fence.name = "Fence";
    fence.recipe = ShapeRecipe{RectangleShape{6000, 4000, 0}};
    const Begun posts = firstRunOf(with(Document(), fence), Post{}, "Post");
    const Document d = posts.document;
    QCOMPARE(posts.worked->paths.begin()->second->path->corners().size(), size_t(4));
    QVERIFY(posts.worked->run(posts.run)->placed->count() >= 8); // one in each corner among them
    const Path& path = *posts.worked->paths.begin()->second->path;
    for (const Corner& c : path.corners()) {
        double nearest = 1e9;
        for (double s : posts.worked->run(posts.run)->placed->stations())
            nearest = std::min(nearest, std::abs(s - c.station));
        QVERIFY(nearest < 1e-6);
    }
    // A leg that is too short for a bay, be it the last: corners of that kind are not of a fence.
    PointsRecipe points;
    for (const Vec3& at : {Vec3(0, 0, 0), Vec3(5000, 0, 0), Vec3(5000, 300, 0)}) points.points.push_back({at, false});
    PathItem bent;
    bent.recipe = points;
    const Begun few = firstRunOf(with(Document(), bent), Post{}, "Post");
    QVERIFY(few.item().spacing->bays == BayEdges::None && few.checks().verdict.mark == Mark::Good);
    for (const MakerEntry& entry : makerEntries()) {
        if (!std::holds_alternative<Baluster>(entry.maker)) continue;
        const Begun bars = firstRunOf(d, entry.maker, entry.name);
        QCOMPARE(bars.item().spacing->bayRun, posts.run);
        QVERIFY2(bars.checks().verdict.mark == Mark::Good, Words::whole(bars.checks().verdict.text).c_str());
        QVERIFY(bars.worked->run(bars.run)->placed->laid->bays.size() >= 8);
    }
}

void TestCustom::whatIsMissingIsSaid() {
    Document d = quayWith("straight");
    d = with(d, PartItem{0, "Box", Maker(PlainBox{}), {}});
    const auto worked = evaluate(d);
    QCOMPARE(withFirstRun(d, *worked, 99, lastId(d)).problem().field, std::string("path"));
    QCOMPARE(withFirstRun(d, *worked, d.paths.front()->id, 99).problem().field, std::string("part"));
}

VICINAL_SUITE(TestCustom)

} // namespace test_custom
#include "test_custom.moc"
