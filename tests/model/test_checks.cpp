// Checks of whole runs: against brute force, closed formulas, and themselves after edits.
#include "base/text.h"
#include "clearance/verdict.h"
#include "documents.h"
#include "layout/along/typed.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/defects.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/verdicts/checked.h"
#include "model/verdicts/sight.h"
#include "suite.h"
#include "support.h"
#include <random>
#include <set>

namespace test_checks {

using namespace vicinal;
using namespace vicinal::test;

namespace {

PathItem lineOf(const std::vector<Vec3>& points, bool smooth = true, bool closed = false) {
    PointsRecipe r;
    for (const Vec3& p : points) r.points.push_back({p, smooth});
    r.closed = closed;
    return {0, "Line", r};
}

/// A path 1, a part 2, a run 3.
struct Site {
    Document d;
    Id path = 0, part = 0, run = 0;
};
Site site(PathItem path, PartShape shape, const std::function<void(RunItem&)>& how = {}, double density = 0) {
    Site s;
    s.d = with(Document(), std::move(path));
    s.path = lastId(s.d);
    PartItem part;
    part.name = "Part";
    part.shape = std::move(shape);
    part.seat.point = BoxPoint{0, 0, -1};
    part.density = density;
    s.d = with(std::move(s.d), part);
    s.part = lastId(s.d);
    RunItem run;
    run.name = "Run";
    run.path = s.path;
    run.part = s.part;
    if (how) how(run);
    s.d = with(std::move(s.d), run);
    s.run = lastId(s.d);
    return s;
}
PartShape boxOf(double x, double y, double z) { return Maker(PlainBox{x, y, z}); }

/// The number of mm in front of a word of a remark; below zero: there is none.
double saidBefore(const std::string& text, const std::string& word) {
    const size_t at = text.find(" mm" + word);
    if (at == text.npos) return -1;
    const size_t from = text.rfind(' ', at - 1) + 1;
    return std::stod(text.substr(from, at - from));
}

Check asked(CheckKind of, std::optional<double> least, std::optional<double> most = {}, Id other = 0) {
    Check c;
    c.of = of;
    c.least = least;
    c.most = most;
    c.other = other;
    return c;
}
void ask(Site& s, const Check& c) {
    RunItem r = *s.d.run(s.run);
    std::erase_if(r.checks, [&](const Check& x) { return x.same(c); });
    r.checks.push_back(c);
    s.d = with(std::move(s.d), r);
}
std::shared_ptr<const Checked> checked(const Document& d, bool fine = false) {
    CheckMemory memory;
    CheckOrder order;
    order.fine = fine;
    return check(evaluate(d), memory, nullptr, order);
}
const CheckResult& of(const Checked& all, Id run, CheckKind kind, Id other = 0) {
    for (const CheckResult& r : all.run(run)->list)
        if (r.check.of == kind && r.check.other == other) return r;
    qFatal("no such check");
}
CheckResult only(Site s, const Check& c) {
    ask(s, c);
    return of(*checked(s.d), s.run, c.of, c.other);
}

/// All triangles of all bodies of a run or site body, place by place.
std::vector<std::vector<std::array<Vec3, 3>>> trianglesOf(const Standing& of) {
    std::vector<std::vector<std::array<Vec3, 3>>> out(of.count());
    of.eachInstance([&](const Instance& i) {
        if (!i.own) return;
        const Mat4 pose = i.pose();
        const Mesh& m = *i.part.mesh;
        for (const auto& t : m.triangles) {
            std::array<Vec3, 3> one;
            for (size_t k = 0; k < 3; ++k) one[k] = (pose * m.points[t[k]].homogeneous()).head<3>();
            out[i.body].push_back(one);
        }
    });
    return out;
}
double apartOf(const std::vector<std::array<Vec3, 3>>& a, const std::vector<std::array<Vec3, 3>>& b) {
    double best = 1e300;
    for (const auto& s : a)
        for (const auto& t : b) best = std::min(best, distanceBetween(s, t).distance);
    return best;
}

struct Random {
    std::mt19937 engine;
    double in(double a, double b) { return std::uniform_real_distribution<double>(a, b)(engine); }
    int of(int n) { return int(in(0, n - 1e-9)); }
};

Document randomDocument(Random& r) {
    std::vector<Vec3> points;
    const int n = 3 + r.of(4);
    for (int i = 0; i < n; ++i) points.push_back({400.0 * i, r.in(-300, 300), r.in(-80, 80)});
    Site s = site(lineOf(points, r.of(4) > 0), boxOf(r.in(20, 90), r.in(20, 160), r.in(10, 120)), [&](RunItem& run) {
        run.spacing->rule = ShareOut{4 + r.of(9)};
        if (r.of(2)) run.facing.crown = Upright{};
        if (r.of(3) == 0) run.changes.size = {{{0, 1}, {1000, r.in(0.5, 1.6)}}};
        if (r.of(3) == 0) run.rows = {2, 1, r.in(-180, 180), 0};
        if (r.of(4) == 0) run.echoes.one = {EchoKind::Mirrored, Vec3(0, 400, 0), Vec3(0, 1, 0), 2, 10, 0};
        if (r.of(4) == 0) run.leftOut = {2};
        run.checks = {asked(CheckKind::Itself, 60), asked(CheckKind::ClearGap, 0), asked(CheckKind::Touching, 0, 5)};
    });
    BodyItem post;
    post.name = "Post";
    post.shape = Maker(PlainBox{r.in(50, 300), r.in(50, 300), 400});
    post.at = {r.in(0, 1200), r.in(-200, 200), -200};
    post.turn = {0, 0, r.in(0, 3)};
    s.d = with(std::move(s.d), post);
    ask(s, asked(CheckKind::SiteBody, 150, {}, lastId(s.d)));
    return s.d;
}

bool sameResult(const CheckResult& a, const CheckResult& b) {
    // Of several that are as bad to the last digit either may be named.
    for (size_t i = 0; i < std::min(a.places.size(), b.places.size()); ++i)
        if (std::abs(a.places[i].value - b.places[i].value) > 1e-5)
            qWarning("place %zu: %.9g, %.9g; about %g", i, a.places[i].value, b.places[i].value, a.about);
    if (a.check != b.check || a.mark != b.mark || a.cannot.has_value() != b.cannot.has_value() ||
        a.broken != b.broken || std::abs(a.value.value_or(0) - b.value.value_or(0)) > 1e-5 ||
        a.places.size() != b.places.size())
        return false;
    for (size_t i = 0; i < a.places.size(); ++i)
        if (a.places[i].place != b.places[i].place || a.places[i].other != b.places[i].other ||
            std::abs(a.places[i].value - b.places[i].value) > 1e-5)
            return false;
    return true;
}

} // namespace

class TestChecks : public QObject {
    Q_OBJECT
private slots:
    void bruteForceOverRandomRuns();
    void editsAnswerAsAFreshStart();
    void whatIsGivenByWhatItIs();
    void theWorstIsOnItsOwnSideOfTheLimit();
    void bowAndCornerWhereLongForTheBend();
    void nearestUnderHalfOfTheGapIsSaid();
    void sagittaOnCircles();
    void humpsHollowsSlopesAndSteps();
    void cornersCut();
    void countsLengthsAndWeights();
    void openingsBetweenPostsAndAtTheEnds();
    void dominoesReachEachOther();
    void chainsAndTheirJoints();
    void whatOnePlaceIsMadeOf();
    void runsAndBodiesToKeepClear();
    void excusedOnesStayListed();
    void limitsThatCannotBe();
    void curvedFacesSayHowFarOff();
    void neighboursOnPinsAreChecked();
    void boxesThatOverlapAreNoVerdict();
    void bodiesThatAreOpenOrNotThere();
    void stoppedOnesAreTakenUpAgain();
    void theSideItIsSeenFrom();
};

void TestChecks::bruteForceOverRandomRuns() {
    Random random{std::mt19937(41)};
    int near = 0, crossed = 0;
    for (int round = 0; round < 200; ++round) {
        const Document d = randomDocument(random);
        const auto all = checked(d);
        const auto run = all->of->runs.front();
        if (!run->placed) continue;
        const auto own = trianglesOf(*run);
        std::set<std::pair<int, int>> neighbours;
        for (const Gap& g : run->placed->gaps) neighbours.insert(std::minmax(g.from, g.to));
        const CheckResult &gap = of(*all, run->item->id, CheckKind::ClearGap),
                          &self = of(*all, run->item->id, CheckKind::Itself);
        QCOMPARE(gap.places.size(), run->placed->gaps.size());
        for (const CheckedPlace& p : gap.places) {
            const double brute = apartOf(own[size_t(p.place)], own[size_t(p.other)]);
            if (p.value < 0) {
                ++crossed;
                QVERIFY(brute < 1e-9);
            } else
                QVERIFY2(std::abs(brute - p.value) < 1e-7, qPrintable(QString("%1 %2").arg(brute).arg(p.value)));
        }
        std::map<std::pair<int, int>, double> found;
        for (const CheckedPlace& p : self.places) found[std::minmax(p.place, p.other)] = p.value;
        for (int i = 0; i < int(own.size()); ++i)
            for (int k = i + 1; k < int(own.size()); ++k) {
                if (own[size_t(i)].empty() || own[size_t(k)].empty() || neighbours.count({i, k})) continue;
                const double brute = apartOf(own[size_t(i)], own[size_t(k)]);
                const auto at = found.find({i, k});
                if (brute < 60) {
                    ++near;
                    QVERIFY(at != found.end());
                    QVERIFY2(
                        at->second < 0 ? brute < 1e-9 : std::abs(at->second - brute) < 1e-7,
                        qPrintable(QString("%1: %2 %3: %4 %5").arg(round).arg(i).arg(k).arg(at->second).arg(brute)));
                } else
                    QVERIFY(at == found.end() || at->second < 61);
            }
        const auto site = all->of->standing().back();
        const auto post = trianglesOf(*site);
        const CheckResult& clear = of(*all, run->item->id, CheckKind::SiteBody, site->id);
        std::set<int> wrong, bruteWrong;
        for (const CheckedPlace& p : clear.places)
            if (p.mark == Mark::Wrong) wrong.insert(p.place);
        for (int i = 0; i < int(own.size()); ++i)
            if (!own[size_t(i)].empty() && apartOf(own[size_t(i)], post[0]) < 150 - 1e-6) bruteWrong.insert(i);
        QVERIFY(wrong == bruteWrong);
    }
    QVERIFY(near > 100 && crossed > 20);
}

void TestChecks::editsAnswerAsAFreshStart() {
    Random random{std::mt19937(43)};
    Document d = randomDocument(random);
    const Id body = d.bodies.front()->id;
    {
        Site s{d, 1, 2, d.runs.front()->id};
        for (const Check& c : {asked(CheckKind::Bow, {}, 5), asked(CheckKind::NoseSlope, {}, 0.1),
                               asked(CheckKind::Reach, 0.2), asked(CheckKind::Closing, {}, 1)})
            ask(s, c);
        d = s.d;
        RunItem second = *d.runs.front();
        second.id = 0;
        second.name = "Second";
        second.changes.across = {{{0, 140}}};
        second.checks = {asked(CheckKind::OtherRun, 30, {}, 0)};
        d = with(std::move(d), second);
    }
    CheckMemory memory;
    std::shared_ptr<const Evaluation> evaluation = evaluate(d);
    auto now = check(evaluation, memory);
    int kept = 0, compared = 0;
    for (int edit = 0; edit < 1000; ++edit) {
        RunItem run = *d.runs[size_t(random.of(2))];
        switch (random.of(7)) {
        case 0: {
            PathItem p = *d.paths.front();
            auto& points = std::get<PointsRecipe>(p.recipe).points;
            points[size_t(random.of(int(points.size())))].at +=
                Vec3(random.in(-40, 40), random.in(-40, 40), random.in(-10, 10));
            d = with(std::move(d), p);
            break;
        }
        case 1: run.spacing->rule = ShareOut{3 + random.of(10)}; break;
        case 2: {
            BodyItem b = *d.body(body);
            b.at.x() = random.in(0, 1200);
            d = with(std::move(d), b);
            break;
        }
        case 3: run.leftOut = {1 + random.of(3)}; break;
        case 4: run.facing.turn = {0, 0, random.in(-0.4, 0.4)}; break;
        case 5:
            if (!run.checks.empty()) {
                Check& c = run.checks[size_t(random.of(int(run.checks.size())))];
                random.of(2) ? void(c.on = !c.on) : void(c.least = random.in(0, 0.9));
            }
            break;
        default: {
            PartItem part = *d.parts.front();
            part.size = random.in(0.6, 1.5);
            d = with(std::move(d), part);
        }
        }
        d = with(std::move(d), run);
        evaluation = evaluate(d, evaluation);
        const auto before = now;
        CheckOrder order;
        order.interactive = edit % 3 == 0; // values of good places may lag; verdicts may not
        now = check(evaluation, memory, before, order);
        for (const auto& [id, all] : now->runs) kept += before->runs.at(id) == all;
        if (edit % 4) continue; // the answer after four edits holds all of them
        const auto fresh = checked(d);
        for (const auto& [id, all] : fresh->runs) {
            const auto& mine = now->runs.at(id)->list;
            QCOMPARE(mine.size(), all->list.size());
            for (size_t k = 0; k < mine.size(); ++k) {
                ++compared;
                if (order.interactive) {
                    QVERIFY(mine[k].mark == all->list[k].mark && mine[k].broken == all->list[k].broken &&
                            std::abs(mine[k].value.value_or(0) - all->list[k].value.value_or(0)) < 1e-5);
                    continue;
                }
                QVERIFY2(
                    sameResult(mine[k], all->list[k]),
                    qPrintable(QString("%1: %2 / %3").arg(edit).arg(mine[k].text.c_str(), all->list[k].text.c_str())));
            }
            QCOMPARE(int(now->runs.at(id)->verdict.mark), int(all->verdict.mark));
        }
    }
    QVERIFY(kept > 100 && compared > 1000);
}

void TestChecks::whatIsGivenByWhatItIs() {
    const auto kinds = [](const Site& s) {
        std::set<CheckKind> out;
        for (const Check& c : checksOf(*evaluate(s.d)->runs.front())) out.insert(c.of);
        return out;
    };
    const PathItem straight = lineOf({{0, 0, 0}, {2000, 0, 0}}, false);
    Baluster bar;
    const auto rail = site(straight, Maker(bar), [](RunItem& r) { r.spacing->gapAtMost = 99; });
    QVERIFY(kinds(rail) == (std::set{CheckKind::ClearGap, CheckKind::Opening, CheckKind::Itself}));
    const auto stones = site(straight, boxOf(300, 300, 60), [](RunItem& r) {
        r.spacing->measure = Measure::OfLength;
        r.spacing->ofLength = 1;
    });
    QVERIFY(kinds(stones).count(CheckKind::Touching) && !kinds(stones).count(CheckKind::Opening));
    const auto chain = site(straight, Maker(RoundLink{}), [](RunItem& r) { r.spacing->rule = PinToPin{}; });
    QVERIFY(kinds(chain) ==
            (std::set{CheckKind::JointTurns, CheckKind::PinsOff, CheckKind::Touching, CheckKind::Itself}));
    // One's own takes its place; switched off it stays listed; as given it is not kept.
    const auto run = evaluate(rail.d)->runs.front();
    Check c = *givenCheck(*run, asked(CheckKind::Opening, {}));
    QCOMPARE(*c.most, 99.0);
    c.most = 80;
    RunItem item = withCheck(*run->item, *run, c);
    QCOMPARE(item.checks.size(), size_t(1));
    c.most = 99;
    QVERIFY(withCheck(item, *run, c).checks.empty());
    const RunItem off = withoutCheck(*run->item, *run, c);
    QVERIFY(off.checks.size() == 1 && !off.checks.front().on);
    QVERIFY(
        withoutCheck(withCheck(*run->item, *run, asked(CheckKind::Weight, {}, 5)), *run, asked(CheckKind::Weight, {}))
            .checks.empty());
}

void TestChecks::theWorstIsOnItsOwnSideOfTheLimit() {
    // As deep but for a fraction of a micron, yet one keeps its limit and the other does not.
    const Site s = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(100, 30, 10), [](RunItem& r) {
        r.spacing->rule = Listed{{60, 159.90002, 259.79997}};
        r.checks = {asked(CheckKind::Touching, -0.1)};
    });
    const auto all = checked(s.d);
    const CheckResult c = of(*all, s.run, CheckKind::Touching);
    QVERIFY(c.mark == Mark::Wrong && c.broken == 1 && c.worst);
    QCOMPARE(c.worst->place, 1);
    QVERIFY(c.worst->mark == Mark::Wrong && std::abs(*c.value + 0.10005) < 1e-5);
}

void TestChecks::bowAndCornerWhereLongForTheBend() {
    const auto isAsked = [](const Site& s, CheckKind kind) {
        const auto run = evaluate(s.d)->runs.front();
        for (const Check& c : checksOf(*run))
            if (c.of == kind) return true;
        return false;
    };
    int longOnes = 0, shortOnes = 0;
    for (const double R : {200.0, 500.0, 3000.0, 40'000.0})
        for (const double length : {10.0, 40.0, 180.0, 600.0, 3000.0})
            for (const double turn : {0.0, 90.0, 180.0})
                for (const double size : {1.0, 0.5}) {
                    const double along = size * (turn == 90 ? 30 : length);
                    if (along > 3 * R) continue;
                    PathItem circle{0, "Circle", *recipeOf("circle")};
                    std::get<CircleShape>(std::get<ShapeRecipe>(circle.recipe).shape).radius = R;
                    const auto s = site(circle, boxOf(length, 30, 10), [&](RunItem& r) {
                        r.spacing->rule = ShareOut{3};
                        r.changes.size = {{{0, size}}};
                        r.facing.turn.z() = turn * kDegree;
                    });
                    const double bow = R * (1 - std::cos(along / (2 * R))), limit = std::max(0.5, along / 100);
                    if (std::abs(bow - limit) < 0.05 * limit) continue;
                    (bow > limit ? longOnes : shortOnes) += 1;
                    QVERIFY2(
                        isAsked(s, CheckKind::Bow) == (bow > limit),
                        qPrintable(QString("%1 on %2, turned %3, size %4").arg(length).arg(R).arg(turn).arg(size)));
                    QVERIFY(!isAsked(s, CheckKind::Corner));
                    if (bow > limit) QVERIFY(of(*checked(s.d), s.run, CheckKind::Bow).value); // and it is measured
                }
    QVERIFY(longOnes > 20 && shortOnes > 20);
    // A tight bend is one wherever the path begins, on its seam as well.
    for (const double tight : {20.0, 18'000.0})
        for (const double from : {0.0, 4000.0, -30.0}) {
            PointsRecipe field;
            field.closed = true;
            for (const Vec3& p : {Vec3(0, 0, 0), Vec3(40'000, 0, 0), Vec3(40'000, 40'000, 0), Vec3(0, 40'000, 0)})
                field.points.push_back({p, false});
            for (PathPoint& p : field.points) p.fillet = p.at.isZero() ? tight : 18'000;
            Site s = site(PathItem{0, "Field", field}, boxOf(400, 20, 20),
                          [](RunItem& r) { r.spacing->rule = ShareOut{200}; });
            const Path whole = *evaluate(s.d)->runs.front()->path->path;
            const double seam = whole.closest(Vec3::Zero()) + from + whole.length();
            s.d =
                with(s.d, PathItem{0, "From there",
                                   DerivedRecipe{s.d.paths.front()->id, StartMoved{std::fmod(seam, whole.length())}}});
            RunItem run = *s.d.run(s.run);
            run.path = lastId(s.d);
            s.d = with(s.d, run);
            QVERIFY(!evaluate(s.d)->runs.front()->problem);
            QCOMPARE(isAsked(s, CheckKind::Bow), tight == 20);
        }
    // Panels cut a corner, posts as far apart do not; neither is asked where no corner lies between two.
    const PathItem angle = lineOf({{0, 0, 0}, {330, 0, 0}, {330, 330, 0}}, false);
    const auto set = [&](double length, double pitch) {
        return site(angle, boxOf(length, 20, 20), [&](RunItem& r) { r.spacing->rule = StepOff{pitch}; });
    };
    QVERIFY(isAsked(set(200, 220), CheckKind::Corner) && !isAsked(set(20, 220), CheckKind::Corner));
    QVERIFY(!isAsked(set(100, 330), CheckKind::Corner) &&
            !isAsked(set(100, 110), CheckKind::Corner)); // one stands in it
    // A panel of three that is left out, or only beyond the bend, is not long for it.
    const auto before = site(angle, boxOf(100, 20, 20), [](RunItem& r) { r.spacing->rule = Listed{{60, 170, 270}}; });
    QVERIFY(!isAsked(before, CheckKind::Corner));
}

void TestChecks::nearestUnderHalfOfTheGapIsSaid() {
    // Plates of 20 across a bend of 300, 400 wide: their inner edges, at 100, are nearer by the angle between them.
    for (const double gap : {30.0, 60.0, 200.0}) {
        PathItem circle{0, "Circle", *recipeOf("circle")};
        std::get<CircleShape>(std::get<ShapeRecipe>(circle.recipe).shape).radius = 300;
        const auto s = site(circle, boxOf(20, 400, 10), [&](RunItem& r) {
            r.spacing->rule = ShareOut{int(2 * kPi * 300 / (20 + gap))};
            r.spacing->measure = Measure::ClearGap;
        });
        const auto all = checked(s.d);
        const CheckResult& r = of(*all, s.run, CheckKind::ClearGap);
        const auto& placed = *all->run(s.run)->run->placed;
        const double half = kPi / double(placed.count());
        const double nearest = 2 * (100 * std::sin(half) - 10 * std::cos(half)), along = placed.gaps[0].clear();
        QCOMPARE(r.remarks.empty(), !(nearest < along / 2));
        if (r.remarks.empty()) continue;
        QCOMPARE(r.remarks.size(), size_t(1));
        const std::string text = r.remarks.front().in(1, "mm");
        QVERIFY2(std::abs(saidBefore(text, "; the bodies") - along) < 0.006, text.c_str());
        if (nearest > 0)
            QVERIFY2(std::abs(saidBefore(text, ". So do " + std::to_string(placed.count() - 1)) - nearest) < 0.006,
                     text.c_str());
        else
            QVERIFY2(text.find("into one another") != text.npos, text.c_str());
    }
    // On a straight they agree, and nothing is said.
    const auto straight = site(lineOf({{0, 0, 0}, {2000, 0, 0}}, false), boxOf(20, 400, 10));
    QVERIFY(of(*checked(straight.d), straight.run, CheckKind::ClearGap).remarks.empty());
}

void TestChecks::sagittaOnCircles() {
    // A straight part of length 2h on a circle of radius R, tangent at its middle: R - sqrt(R^2 - h^2) at its ends; one
    // that stands as a chord on two pins: the same in its middle.
    for (const double R : {200.0, 500.0, 3000.0})
        for (const double h : {40.0, 90.0}) {
            PathItem circle{0, "Circle", *recipeOf("circle")};
            std::get<CircleShape>(std::get<ShapeRecipe>(circle.recipe).shape).radius = R;
            const auto s = site(circle, boxOf(2 * h, 20, 10), [](RunItem& r) { r.spacing->rule = ShareOut{5}; });
            const CheckResult r = only(s, asked(CheckKind::Bow, {}, 3));
            const double exact = R - std::sqrt(R * R - h * h);
            QVERIFY(r.value);
            QVERIFY2(std::abs(*r.value - exact) < 1e-6 * R, qPrintable(QString("%1 %2").arg(*r.value).arg(exact)));
            QCOMPARE(r.mark == Mark::Wrong, exact > 3);
            QCOMPARE(r.places.size(), size_t(5));
            // Across the path its width counts, and facing back changes nothing.
            for (const double turn : {90.0, 180.0}) {
                const auto turned = site(circle, boxOf(2 * h, 20, 10), [&](RunItem& run) {
                    run.spacing->rule = ShareOut{5};
                    run.facing.turn.z() = turn * kDegree;
                });
                const double reach = turn == 90 ? 10 : h;
                const CheckResult t = only(turned, asked(CheckKind::Bow, {}, 3));
                QVERIFY2(std::abs(*t.value - (R - std::sqrt(R * R - reach * reach))) < 1e-6 * R,
                         qPrintable(QString("%1 turned %2").arg(*t.value).arg(turn)));
                QVERIFY(t.remarks.empty() || t.remarks[0].find("right") == std::string::npos);
            }
            // The circle goes round to the left, and so do both ends; nothing of it is on the right.
            QCOMPARE(r.remarks.size(), size_t(1));
            QVERIFY2(saidBefore(r.remarks[0], " to the left") > 0 && r.remarks[0].find("right") == std::string::npos &&
                         std::abs(saidBefore(r.remarks[0], " to the left") - exact) < 0.006,
                     r.remarks[0].c_str());
        }
    // On two pins it is a chord: its middle leaves the curve on the one side, what is beyond the pins on the other.
    const double R = 900, pins = 60, half = 110;
    const auto onPins = [&](const PathItem& path, SpacingRule rule) {
        auto s = site(path, boxOf(2 * half, 20, 10), [&](RunItem& r) {
            r.spacing->rule = rule;
            if (!std::holds_alternative<Coupled>(rule)) r.facing.nose = BetweenPins{};
        });
        PartItem link = *s.d.part(s.part);
        link.seat.point = Vec3(0, 0, 0);
        link.seat.pins = Pins{Vec3(-pins, 0, 0), Vec3(pins, 0, 0)};
        s.d = with(std::move(s.d), link);
        return s;
    };
    PathItem circle{0, "Circle", *recipeOf("circle")};
    std::get<CircleShape>(std::get<ShapeRecipe>(circle.recipe).shape).radius = R;
    for (const SpacingRule& rule : {SpacingRule(PinToPin{9}), SpacingRule(ShareOut{7}), SpacingRule(Coupled{4})}) {
        const auto s = onPins(circle, rule);
        const CheckResult r = only(s, asked(CheckKind::Bow, {}, 3));
        const double middle = R - std::sqrt(R * R - pins * pins),
                     ends = std::sqrt(R * R - pins * pins) - std::sqrt(R * R - half * half);
        QCOMPARE(r.remarks.size(), size_t(1));
        QVERIFY2(std::abs(saidBefore(r.remarks[0], " to the right") - middle) < 0.006 &&
                     std::abs(saidBefore(r.remarks[0], " to the left") - ends) < 0.006,
                 r.remarks[0].c_str());
        QVERIFY(std::abs(*r.value - std::max(middle, ends)) < 1e-4);
        QVERIFY(std::abs(*only(s, asked(CheckKind::SeatOff, {}, 3)).value - middle) < 1e-6); // between the pins
    }
    // A car on bogies: their middles lie inside the bend already. One that is lifted and set aside bends no more.
    auto car = onPins(circle, Coupled{3});
    PartItem bogie = *car.d.part(car.part), body = bogie;
    bogie.id = 0;
    const double axles = 25;
    bogie.seat.pins = Pins{Vec3(-axles, 0, 0), Vec3(axles, 0, 0)};
    car.d = with(std::move(car.d), bogie);
    body.under = {lastId(car.d), lastId(car.d)};
    car.d = with(std::move(car.d), body);
    const double pivots = std::sqrt(R * R - axles * axles), line = std::sqrt(pivots * pivots - pins * pins);
    const CheckResult c = only(car, asked(CheckKind::Bow, {}, 3));
    QVERIFY2(std::abs(saidBefore(c.remarks[0], " to the right") - (R - line)) < 0.006 &&
                 std::abs(saidBefore(c.remarks[0], " to the left") - (line - std::sqrt(R * R - half * half))) < 0.006,
             c.remarks[0].c_str());
    for (const bool byPins : {false, true}) {
        auto lifted = byPins ? onPins(circle, ShareOut{5})
                             : site(circle, boxOf(2 * half, 20, 10), [](RunItem& r) { r.spacing->rule = ShareOut{5}; });
        const double before = *only(lifted, asked(CheckKind::Bow, {}, 3)).value;
        RunItem r = *lifted.d.run(lifted.run);
        r.changes.up = *parseProfile("40", Unit::Millimetre, ProfileKind::Length);
        lifted.d = with(std::move(lifted.d), r);
        QVERIFY(before > 1 && std::abs(*only(lifted, asked(CheckKind::Bow, {}, 3)).value - before) < 1e-6);
    }
    // The top lies between the steps where the pins are not in the middle.
    auto lame = onPins(circle, ShareOut{5});
    PartItem part = *lame.d.part(lame.part);
    part.shape = boxOf(2 * pins, 20, 10);
    part.seat.pins = Pins{Vec3(-pins, 0, 0), Vec3(43, 0, 0)};
    lame.d = with(std::move(lame.d), part);
    const double top = R - std::sqrt(R * R - 51.5 * 51.5);
    QVERIFY(std::abs(*only(lame, asked(CheckKind::Bow, {}, 3)).value - top) < 1e-6);
    // The link that goes round a corner cuts off the height of its triangle.
    const auto s = onPins(lineOf({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}}, false), PinToPin{});
    const double cut = 40 * std::sqrt(120.0 * 120 - 40 * 40) / 120;
    const CheckResult r = only(s, asked(CheckKind::Corner, {}, 10));
    QVERIFY2(std::abs(*r.value - cut) < 1e-6, qPrintable(QString::number(*r.value)));
}

void TestChecks::humpsHollowsSlopesAndSteps() {
    // Upright posts of height H square to a hump of radius R: tops spread, feet stay; on a hollow tops close up by
    // H / R of their distance.
    const double R = 4000, H = 900;
    for (const bool hollow : {false, true}) {
        std::vector<Vec3> points;
        for (int i = -6; i <= 6; ++i) {
            const double a = i * 0.04;
            points.push_back({R * std::sin(a), 0, (hollow ? -1 : 1) * R * std::cos(a)});
        }
        auto s = site(lineOf(points), boxOf(20, 20, H), [](RunItem& r) {
            r.spacing->rule = ShareOut{9};
            r.spacing->insetStart = r.spacing->insetEnd = 300;
            r.facing.crown = Upright{};
        });
        const CheckResult r = only(s, asked(CheckKind::Closing, {}, 10));
        const double chord =
            (evaluate(s.d)->runs.front()->placed->frame(4).seat - evaluate(s.d)->runs.front()->placed->frame(5).seat)
                .norm();
        QVERIFY2(hollow ? std::abs(*r.value - chord * H / R) < 0.02 * chord * H / R : *r.value < 1e-3,
                 qPrintable(QString::number(*r.value)));
    }
    const auto single = only(site(lineOf({{0, 0, 0}, {600, 0, 0}}, false), boxOf(9, 9, 9),
                                  [](RunItem& r) { r.spacing->rule = ShareOut{1}; }),
                             asked(CheckKind::Closing, {}, 10));
    QVERIFY(single.cannot && !single.value); // one alone closes up to nothing
    // Over a wall and back: what hangs there, or turns on the way, is said; a step in the same direction is nothing.
    const auto wall = [&](const Vec3& end, CrownRule crown) {
        const auto s =
            site(lineOf({{0, 0, 0}, {1000, 0, 0}, {1000, 0, 500}, end}, false), boxOf(20, 20, 20), [&](RunItem& r) {
                r.spacing->rule = ShareOut{25};
                r.facing.crown = crown;
            });
        return evaluate(s.d)->runs.front()->verdict;
    };
    const Verdict hung = wall({-1000, 0, 500}, Upright{});
    QVERIFY2(hung.mark == Mark::Doubtful && hung.place == 7, hung.text.c_str());
    QCOMPARE(std::string(hung.text.c_str()),
             std::string("The path goes straight up or down at 1000 mm: parts are carried "
                         "over there, and hang behind it."));
    for (const double y : {1000.0, -1000.0}) { // whichever way
        const Verdict turned = wall({1000, y, 500}, Upright{});
        QVERIFY2(turned.mark == Mark::Doubtful &&
                     turned.text.find("parts turn by 90\u00b0 on the way") != std::string::npos,
                 turned.text.c_str());
    }
    QCOMPARE(wall({2000, 0, 500}, Upright{}).mark, Mark::Good);
    // On pins and plumb they turn about these; hung on they do not.
    const auto linked = [&](const Vec3& end, CrownRule crown) {
        auto s =
            site(lineOf({{0, 0, 0}, {1000, 0, 0}, {1000, 0, 500}, end}, false), boxOf(20, 20, 20), [&](RunItem& r) {
                r.spacing->rule = ShareOut{25};
                r.spacing->insetEnd = 40;
                r.facing.nose = BetweenPins{};
                r.facing.crown = crown;
            });
        PartItem part = *s.d.parts[0];
        part.seat.pins = Pins{Vec3(-8, 0, 0), Vec3(8, 0, 0)};
        return evaluate(with(s.d, part))->runs.front()->verdict;
    };
    const Verdict round = linked({1000, 1000, 500}, Plumb{});
    QVERIFY2(round.mark == Mark::Doubtful && round.place >= 8 && round.place <= 10, round.text.c_str());
    QCOMPARE(std::string(round.text.c_str()),
             std::string("The path goes straight up or down at 1000 mm: parts turn by 90\u00b0 about the line of their "
                         "pins there. With the crown carried they do not."));
    QCOMPARE(linked({2000, 0, 500}, Plumb{}).mark, Mark::Good);
    QVERIFY(linked({1000, 1000, 500}, Carried{}).text.find("pins") == std::string::npos);
    // Behind a mirror whatever has no mirrored copy there is named, but for what is the same from both sides.
    const auto echoed = [&](double aside, Id copy) {
        auto s = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(20, 20, 20), [&](RunItem& r) {
            r.spacing->rule = ShareOut{4};
            r.echoes.one = {EchoKind::Mirrored, Vec3(0, 400, 0), Vec3(0, 1, 0), 2};
        });
        PartItem arm;
        arm.name = "Arm";
        arm.shape = boxOf(30, 12, 9);
        arm.seat.point = Vec3(0, aside, 0);
        s.d = with(s.d, arm);
        const Id other = s.d.parts.back()->id;
        RunItem run = *s.d.run(s.run);
        run.sequence.steps = {{run.part, 1}, {other, 1}};
        run.echoes.one.part = copy == 0 ? 0 : run.part;
        std::string said;
        const auto e = evaluate(with(s.d, run));
        for (const Words& w : e->runs.front()->remarks) said += w.in(1, "mm") + "\n";
        return said;
    };
    QCOMPARE(echoed(5, 1),
             std::string("Behind the mirror Arm stands as it is: only the run's own part has a mirrored copy "
                         "there.\n"));
    QCOMPARE(echoed(0, 1), std::string());
    QCOMPARE(echoed(5, 0), std::string());
    // Only what its own places do is said: before the wall nothing, behind it what hangs, with rows as well.
    const auto stretch = [&](double from, double to, const Vec3& end) {
        const auto s =
            site(lineOf({{0, 0, 0}, {1000, 0, 0}, {1000, 0, 500}, end}, false), boxOf(20, 20, 20), [&](RunItem& r) {
                r.spacing->rule = ShareOut{5};
                r.spacing->insetStart = from, r.spacing->insetEnd = to;
                r.rows = {2, 1, 40, 100};
                r.facing.crown = Upright{};
            });
        return evaluate(s.d)->runs.front()->verdict;
    };
    QCOMPARE(stretch(0, 2600, {-1000, 0, 500}).mark, Mark::Good);
    QCOMPARE(stretch(1600, 0, {-1000, 0, 500}).place, 0);
    QCOMPARE(stretch(1600, 0, {1000, 1000, 500}).mark, Mark::Good);
    QCOMPARE(wall({-1000, 0, 500}, Carried{}).mark, Mark::Good);
    const auto up = site(lineOf({{0, 0, 0}, {3000, 0, 300}}, false), boxOf(20, 20, 20), [](RunItem& r) {
        r.spacing->rule = ShareOut{4};
        r.facing.crown = Upright{};
    });
    const CheckResult slope = only(up, asked(CheckKind::NoseSlope, {}, 5 * kDegree));
    QVERIFY(std::abs(*slope.value - std::atan(0.1)) < 1e-9 && slope.mark == Mark::Wrong);
    QVERIFY(slope.text.find("5.71\u00b0") != std::string::npos);
    const CheckResult step = only(up, asked(CheckKind::StepUp, {}, 99));
    QVERIFY(std::abs(*step.value - 100) < 1e-9 && step.mark == Mark::Wrong && step.broken == 3);
    QCOMPARE(only(up, asked(CheckKind::StepUp, 50, 150)).mark, Mark::Good);
    QCOMPARE(only(up, asked(CheckKind::SeatOff, {}, 0.001)).mark, Mark::Good);
    auto nudged = up;
    RunItem run = *nudged.d.run(nudged.run);
    Exception e;
    e.place = 2;
    e.move = Vec3(0, 7, 0);
    run.exceptions = {e};
    nudged.d = with(std::move(nudged.d), run);
    const CheckResult seat = only(nudged, asked(CheckKind::SeatOff, {}, 5));
    QVERIFY(std::abs(*seat.value - 7) < 1e-9 && seat.worst->place == 1 && seat.mark == Mark::Wrong);
}

void TestChecks::cornersCut() {
    // 100 before and 100 behind a right corner: its point is 100 / sqrt 2 from the line between.
    const auto s = site(lineOf({{0, 0, 0}, {300, 0, 0}, {300, 300, 0}}, false), boxOf(20, 20, 20), [](RunItem& r) {
        r.spacing->rule = Listed{{0, 200, 400, 600}};
    });
    const CheckResult r = only(s, asked(CheckKind::Corner, {}, 50));
    QCOMPARE(r.places.size(), size_t(1));
    QVERIFY(std::abs(*r.value - 100 / std::sqrt(2.0)) < 1e-9);
    QVERIFY(r.worst->place == 1 && r.worst->other == 2 && r.mark == Mark::Wrong);
    QVERIFY(
        only(site(lineOf({{0, 0, 0}, {300, 0, 0}}, false), boxOf(20, 20, 20)), asked(CheckKind::Corner, {}, 5)).cannot);
    // All four corners of a closed path, the one at its seam, too.
    const auto round = site(lineOf({{0, 0, 0}, {300, 0, 0}, {300, 300, 0}, {0, 300, 0}}, false, true),
                            boxOf(20, 20, 20), [](RunItem& run) {
                                run.spacing->rule = ShareOut{12};
                                run.spacing->slide = 50;
                            });
    const CheckResult all = only(round, asked(CheckKind::Corner, {}, 30));
    QCOMPARE(all.places.size(), size_t(4));
    for (const CheckedPlace& p : all.places) QVERIFY(std::abs(p.value - 50 / std::sqrt(2.0)) < 1e-9);
}

void TestChecks::countsLengthsAndWeights() {
    const auto s = site(
        lineOf({{0, 0, 0}, {1050, 0, 0}}, false), boxOf(50, 20, 100),
        [](RunItem& r) {
            r.spacing->rule = StepOff{100};
            r.leftOut = {3};
        },
        7850);
    QCOMPARE(*only(s, asked(CheckKind::PlaceCount, 10, 12)).value, 10.0);
    QCOMPARE(only(s, asked(CheckKind::PlaceCount, 11)).mark, Mark::Wrong);
    QVERIFY(std::abs(*only(s, asked(CheckKind::TotalLength, {})).value - 1050) < 1e-9);
    const double each = 50 * 20 * 100 * 1e-9 * 7850;
    QVERIFY(std::abs(*only(s, asked(CheckKind::Weight, {}, 5)).value - 10 * each) < 1e-9);
    QVERIFY(std::abs(*only(s, asked(CheckKind::WeightPerMetre, {}, 5)).value - 10 * each / 1.05) < 1e-9);
    QVERIFY(std::abs(*only(s, asked(CheckKind::Remainder, {}, 10)).value - 50) < 1e-9);
    QCOMPARE(only(s, asked(CheckKind::Remainder, {}, 10)).mark, Mark::Wrong);
    // A stretch over the seam is as long as it is.
    const auto over = site(lineOf({{0, 0, 0}, {1000, 0, 0}, {1000, 1000, 0}, {0, 1000, 0}}, false, true),
                           boxOf(50, 20, 100), [](RunItem& r) {
                               r.spacing->rule = StepOff{100};
                               r.spacing->from = 3500;
                               r.spacing->to = 500;
                           });
    QCOMPARE(*only(over, asked(CheckKind::PlaceCount, 10, 12)).value, 11.0);
    QVERIFY(std::abs(*only(over, asked(CheckKind::TotalLength, {})).value - 1050) < 1e-9);
    // What it is measured against may be gone: that is said, and never good.
    const CheckResult gone = only(s, asked(CheckKind::SiteBody, 10, {}, 99)),
                      left = only(s, asked(CheckKind::OtherRun, 10, {}, 99));
    QVERIFY(gone.cannot && gone.text.find("The body it is to keep clear was deleted") != std::string::npos);
    QVERIFY(left.cannot && left.text.find("The run it is to keep clear was deleted") != std::string::npos);
    QVERIFY(gone.mark == Mark::Doubtful && left.mark == Mark::Doubtful && !gone.value && !left.value);
    const auto unknown = site(lineOf({{0, 0, 0}, {1050, 0, 0}}, false), boxOf(50, 20, 100));
    const CheckResult none = only(unknown, asked(CheckKind::Weight, {}, 5));
    QVERIFY(none.cannot && none.text.find("density") != std::string::npos && none.mark == Mark::Doubtful);
}

void TestChecks::openingsBetweenPostsAndAtTheEnds() {
    // Square bars 20 wide, 100 c/c, in bays between posts 60 wide that are another run.
    Site s = site(lineOf({{0, 0, 0}, {3000, 0, 0}}, false), boxOf(60, 60, 1000),
                  [](RunItem& r) { r.spacing->rule = ShareOut{3}; });
    PartItem bar;
    bar.name = "Bar";
    bar.shape = boxOf(20, 20, 900);
    bar.seat.point = BoxPoint{0, 0, -1};
    s.d = with(std::move(s.d), bar);
    RunItem bars;
    bars.name = "Bars";
    bars.path = s.path;
    bars.part = lastId(s.d);
    bars.spacing->rule = EvenOut{80};
    bars.spacing->measure = Measure::ClearGap;
    bars.spacing->bays = BayEdges::Run;
    bars.spacing->bayRun = s.run;
    bars.spacing->gapAtMost = 85;
    s.d = with(std::move(s.d), bars);
    const Id id = lastId(s.d);
    const auto all = checked(s.d);
    const auto run = all->of->run(id);
    const double gap = run->placed->gaps.front().clear();
    const CheckResult &opening = of(*all, id, CheckKind::Opening), &clear = of(*all, id, CheckKind::ClearGap);
    QVERIFY2(std::abs(*opening.value - gap) < 0.05, qPrintable(opening.text.c_str()));
    QVERIFY(opening.mark == Mark::Good && std::abs(*clear.value - gap) < 1e-9);
    size_t between = 0;
    for (const CheckedPlace& p : opening.places) { // the ball stands between its two, also of those that lie alike
        if (p.item != 0 || p.other < 0) continue;
        const Vec3 a = run->placed->frame(size_t(p.place)).seat, b = run->placed->frame(size_t(p.other)).seat;
        NEAR((p.a - (a + b) / 2).dot((b - a).normalized()), 0, 0.1);
        ++between;
    }
    QVERIFY(between > 3);
    QCOMPARE(clear.places.size(), size_t(run->placed->present) + 2); // the posts' faces, too
    // Without the posts the run ends 100 in: beside its ends there is more.
    RunItem alone = *s.d.run(id);
    alone.spacing->bays = BayEdges::None;
    alone.spacing->insetStart = alone.spacing->insetEnd = 150;
    Document d = without(with(s.d, alone), s.run);
    const auto free = checked(d);
    const CheckResult& ends = of(*free, id, CheckKind::Opening);
    QVERIFY(ends.mark == Mark::Wrong && ends.broken == 2);
    QVERIFY2(std::abs(*ends.value - 140) < 0.05, qPrintable(ends.text.c_str())); // up to the bar's face
    // A middle rail of this run closes the upper half: only what is under it counts.
    BodyItem rail;
    rail.name = "Rail";
    RailAlong along;
    along.run = id;
    along.section.form = RailForm::Flat;
    along.section.width = 20;
    along.section.depth = 20;
    along.height = 60;
    rail.shape = along;
    d = with(std::move(d), rail);
    RunItem low = *d.run(id);
    low.checks = {asked(CheckKind::Opening, {}, 85)};
    low.checks.front().from = 0;
    low.checks.front().to = 70;
    d = with(std::move(d), low);
    const auto under = checked(d);
    const CheckResult& below = of(*under, id, CheckKind::Opening);
    QVERIFY2(*below.value < 60.05 && *below.value > 45, qPrintable(below.text.c_str()));
}

void TestChecks::dominoesReachEachOther() {
    const double h = 48, t = 7;
    for (const double pitch : {20.0, 45.0, 60.0}) {
        const auto s = site(lineOf({{0, 0, 0}, {600, 0, 0}}, false), boxOf(t, 24, h),
                            [&](RunItem& r) { r.spacing->rule = StepOff{pitch}; });
        const CheckResult r = only(s, asked(CheckKind::Reach, 0.5));
        const double gap = pitch - t, exact = gap < h ? std::sqrt(h * h - gap * gap) / h : 0;
        QVERIFY2(std::abs(*r.value - exact) < 1e-3, qPrintable(QString::number(*r.value)));
        QCOMPARE(r.mark == Mark::Wrong, exact < 0.5);
        if (exact == 0) QVERIFY(r.text.find("misses") != std::string::npos);
    }
}

void TestChecks::chainsAndTheirJoints() {
    PathItem circle{0, "Circle", *recipeOf("circle")};
    std::get<CircleShape>(std::get<ShapeRecipe>(circle.recipe).shape).radius = 300;
    RollerLink link;
    const auto s = site(circle, Maker(link), [](RunItem& r) {
        r.spacing->rule = PinToPin{};
        r.facing.nose = BetweenPins{};
    });
    Site seated = s;
    PartItem part = *seated.d.parts.front();
    part.seat.point = Vec3(0, 0, 0);
    seated.d = with(std::move(seated.d), part);
    const CheckResult joints = only(seated, asked(CheckKind::JointTurns, {}, 2 * kDegree));
    QVERIFY(joints.value);
    // A chord p on radius R turns by 2 asin(p / 2R).
    QVERIFY(std::abs(joints.places[5].value - 2 * std::asin(link.pitch / 600)) < 1e-6);
    QCOMPARE(joints.mark, Mark::Wrong);
    // Where 74 links close they turn by a 74th of a turn each, and the run says so.
    PathItem closing = *seated.d.paths.front();
    std::get<CircleShape>(std::get<ShapeRecipe>(closing.recipe).shape).radius = link.pitch / (2 * std::sin(kPi / 74));
    const std::string verdict = evaluate(with(seated.d, closing))->runs.front()->verdict.text;
    QVERIFY2(verdict.find("by up to " + text::number(360. / 74, 2) + "\u00b0, at") != std::string::npos,
             verdict.c_str());
    QVERIFY(*only(seated, asked(CheckKind::PinsOff, {}, 0.01)).value < 1e-6);
    QVERIFY(only(site(lineOf({{0, 0, 0}, {600, 0, 0}}, false), boxOf(9, 9, 9)), asked(CheckKind::JointTurns, {}, 1))
                .cannot);
}

void TestChecks::whatOnePlaceIsMadeOf() {
    // A vehicle stands on its own bogies; those of the next are too near.
    const auto d = openDocument(VICINAL_SOURCE "/examples/saltmarrow-drives.json", readBody);
    QVERIFY(d);
    Site train{*d, 0, 0, 24};
    for (const auto& other : d->runs)
        if (other->id != 24) train.d = without(train.d, other->id); // not asked here
    RunItem three = *train.d.run(24);
    std::get<Coupled>(three.spacing->rule).count = 3;
    train.d = with(std::move(train.d), three);
    const CheckResult r = only(train, asked(CheckKind::Itself, 20000));
    QVERIFY2(!r.places.empty(), qPrintable(QString::fromStdString(r.text)));
    for (const CheckedPlace& p : r.places) QVERIFY(p.place != p.other);
}

void TestChecks::runsAndBodiesToKeepClear() {
    Site s = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(40, 40, 100),
                  [](RunItem& r) { r.spacing->rule = ShareOut{6}; });
    RunItem beside = *s.d.run(s.run);
    beside.id = 0;
    beside.name = "Beside";
    beside.changes.across = {{{0, 100}, {1000, 200}}};
    s.d = with(std::move(s.d), beside);
    const Id other = lastId(s.d);
    const CheckResult run = only(s, asked(CheckKind::OtherRun, 80, {}, other));
    QVERIFY(std::abs(*run.value - 60) < 1e-6 && run.mark == Mark::Wrong);
    QVERIFY(run.worst->place == 0 && run.worst->other == 0 && run.worst->item == other);
    QVERIFY(run.text.find("place 1 of \"Beside\"") != std::string::npos);
    QVERIFY(std::abs(*only(s, asked(CheckKind::OtherRun, 80)).value - 60) < 1e-6); // every other one
    BodyItem round;
    round.name = "Shed";
    round.shape = Maker(PlainBox{5000, 5000, 5000});
    round.at = {0, 0, -2500};
    s.d = with(std::move(s.d), round);
    const CheckResult in = only(s, asked(CheckKind::SiteBody, 10, {}, lastId(s.d))); // contains the whole run
    QVERIFY(in.mark == Mark::Wrong && in.broken == 6 && *in.value < -100);
    QVERIFY(only(s, asked(CheckKind::SiteBody, 10, {}, 999)).cannot);
}

void TestChecks::excusedOnesStayListed() {
    Site s = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(40, 40, 100), [](RunItem& r) {
        r.spacing->rule = Listed{{0, 100, 130, 300, 400, 430, 600}};
    });
    Check c = asked(CheckKind::ClearGap, 0);
    CheckResult r = only(s, c);
    QVERIFY(r.mark == Mark::Wrong && r.broken == 2 && r.excused == 0);
    const auto broken = [&] { // of both pairs that overlap, and of one that is left
        Site own = s;
        ask(own, c);
        return brokenPlaces(*checked(own.d)->run(own.run)).size();
    };
    QCOMPARE(broken(), size_t(4));
    excuse(c, *r.worst, "welded", "M. Tollan", "2026-11-27");
    const Excuse& first = c.excused.front();
    QCOMPARE(excuseInWords(first), "Excused: place " + std::to_string(first.place) + " with " +
                                       std::to_string(first.other) +
                                       ", welded; written down by M. Tollan on 2026-11-27.");
    QCOMPARE(excuseInWords({0, 5, 0, 0, "", "", ""}), std::string("Excused: any place with 5."));
    QCOMPARE(excuseInWords({0, 0, 7, 0, "tied", "", ""}), std::string("Excused: all of its kind, tied."));
    QCOMPARE(broken(), size_t(2));
    r = only(s, c);
    QVERIFY(r.mark == Mark::Wrong && r.broken == 2 && r.excused == 1);
    QVERIFY(r.worst->place != c.excused.front().place - 1);
    excuse(c, *r.worst, "", "", "");
    r = only(s, c);
    QVERIFY(r.mark == Mark::Good && r.excused == 2 && r.places.size() == 6);
    QVERIFY(r.text.find("2 are excused") != std::string::npos);
    for (Excuse& e : c.excused) std::swap(e.place, e.other); // either way round
    QCOMPARE(only(s, c).mark, Mark::Good);
    // All of a kind; and what is excused no longer there is said.
    Check kind = asked(CheckKind::ClearGap, 0);
    kind.excused = {{0, 0, s.part, s.part, "", "", ""}};
    QCOMPARE(only(s, kind).mark, Mark::Good);
    kind.excused = {{0, 0, s.part, 77, "", "", ""}};
    QCOMPARE(only(s, kind).mark, Mark::Wrong);
    kind.excused = {{90, 91, 0, 0, "", "", ""}};
    QVERIFY(!only(s, kind).remarks.empty());
    Check itself = asked(CheckKind::Itself, 0); // either of two
    for (const auto& [place, other, said] : {std::tuple{1, 7, false}, {1, 91, true}, {90, 1, true}}) {
        itself.excused = {{place, other, 0, 0, "", "", ""}};
        QCOMPARE(only(s, itself).remarks.empty(), !said);
    }
}

void TestChecks::limitsThatCannotBe() {
    const auto s = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(40, 40, 100));
    for (const Check& c : {asked(CheckKind::ClearGap, 9, 3), asked(CheckKind::SiteBody, -5, {}, 1),
                           asked(CheckKind::Weight, {}, -1), asked(CheckKind::SiteBody, 5)}) {
        QVERIFY(defectOf(c));
        const CheckResult r = only(s, c);
        QVERIFY(r.cannot && r.mark == Mark::Doubtful && !r.value);
    }
    Check heights = asked(CheckKind::Opening, {}, 99);
    heights.from = 500;
    heights.to = 400;
    QVERIFY(only(s, heights).cannot);
    // What is no number does not get in.
    RunItem run = *s.d.run(s.run);
    run.checks = {asked(CheckKind::ClearGap, std::nan(""))};
    QVERIFY(defectOf(run));
    run.checks = {asked(CheckKind::ClearGap, 1e300)};
    QVERIFY(defectOf(run));
    // A margin makes doubtful what is inside but near.
    Check near = asked(CheckKind::PlaceCount, {}, 12);
    near.margin = 5;
    const auto ten = site(lineOf({{0, 0, 0}, {1000, 0, 0}}, false), boxOf(40, 40, 100),
                          [](RunItem& r) { r.spacing->rule = ShareOut{10}; });
    QCOMPARE(only(ten, near).mark, Mark::Doubtful);
}

void TestChecks::curvedFacesSayHowFarOff() {
    Baluster round;
    round.section = Baluster::Section::Round;
    round.width = 40;
    const auto s =
        site(lineOf({{0, 0, 0}, {900, 0, 0}}, false), Maker(round), [](RunItem& r) { r.spacing->rule = StepOff{139}; });
    Site near = s, far = s;
    ask(near, asked(CheckKind::ClearGap, 99.05));
    ask(far, asked(CheckKind::ClearGap, 95));
    const auto coarse = of(*checked(near.d), near.run, CheckKind::ClearGap);
    const auto rough = of(*checked(far.d), far.run, CheckKind::ClearGap);
    QVERIFY(rough.mark == Mark::Good && rough.text.find("measure finer") == std::string::npos);
    QVERIFY(rough.error > 0.05 && std::abs(*rough.value - 99) <= rough.error);
    // Nearer to its limit than that it is measured finer by itself, and sure.
    QVERIFY(coarse.error < rough.error / 10 && std::abs(*coarse.value - 99) <= coarse.error);
    QVERIFY(coarse.mark == Mark::Wrong && coarse.text.find("measure finer") == std::string::npos);
    CheckMemory memory;
    CheckOrder order;
    const auto e = evaluate(near.d);
    const auto usual = check(e, memory, nullptr, order);
    order.fine = true;
    const auto finer = check(e, memory, usual, order), again = check(e, memory, finer, order);
    QVERIFY(!usual->run(near.run)->fine && finer->run(near.run)->fine); // measured anew, and then kept
    QVERIFY(finer->run(near.run) != usual->run(near.run) && again->run(near.run) == finer->run(near.run));
    order.fine = false;
    QVERIFY(check(e, memory, again, order)->run(near.run) != again->run(near.run));
    const auto fine = of(*finer, near.run, CheckKind::ClearGap);
    QVERIFY(fine.error < rough.error / 10 && std::abs(*fine.value - 99) <= fine.error);
    // What even that cannot tell is doubtful, and never good.
    for (const double limit : {98.9995, 99.0005}) {
        Site nearer = s;
        ask(nearer, asked(CheckKind::ClearGap, limit));
        const auto unsure = of(*checked(nearer.d), nearer.run, CheckKind::ClearGap);
        QVERIFY(unsure.mark == Mark::Doubtful && unsure.text.find("measure finer") != std::string::npos);
    }
    const auto flat = site(lineOf({{0, 0, 0}, {900, 0, 0}}, false), boxOf(40, 40, 90));
    QCOMPARE(of(*checked(flat.d), flat.run, CheckKind::ClearGap).error, 0.0);
}

void TestChecks::neighboursOnPinsAreChecked() {
    const auto linked = [](const PartShape& shape, std::optional<Pins> pins = {}) {
        auto s =
            site(lineOf({{0, 0, 0}, {2000, 0, 0}}, false), shape, [](RunItem& r) { r.spacing->rule = PinToPin{}; });
        if (!pins) return s;
        PartItem part = *s.d.parts.front();
        part.seat.point = Vec3(0, 0, 0);
        part.seat.pins = *pins;
        s.d = with(s.d, part);
        return s;
    };
    // Flat bars whose ends lie in one another 20 mm long and 10 thick: half their thickness deep.
    const auto flat = linked(boxOf(100, 30, 10), Pins{Vec3(-40, 0, 5), Vec3(40, 0, 5)});
    const auto all = checked(flat.d);
    const auto touching = of(*all, flat.run, CheckKind::Touching);
    QCOMPARE(touching.mark, Mark::Wrong);
    NEAR(*touching.value, -5, 1e-3);
    QCOMPARE(all->run(flat.run)->verdict.mark, Mark::Wrong);
    QVERIFY(all->of->runs.front()->verdict.text.find("gap") == std::string::npos); // joints, no gap
    // Links that are made for one another: round ones, turned about, with play; roller links, pins in their holes.
    auto round = linked(Maker(RoundLink{10, 30, 14}));
    RunItem turned = *round.d.run(round.run);
    turned.facing.turnStep = Vec3(kPi / 2, 0, 0);
    round.d = with(round.d, turned);
    PartItem link = *round.d.parts.front();
    link.seat.point = Vec3(0, 0, 0);
    round.d = with(round.d, link);
    const auto bears = of(*checked(round.d), round.run, CheckKind::Touching);
    QVERIFY2(bears.mark == Mark::Good && std::abs(*bears.value) < 0.1, bears.text.c_str());
    auto roller = linked(Maker(RollerLink{RollerLink::Kind::Inner}));
    roller.d = with(roller.d, PartItem{0, "Outer", Maker(RollerLink{RollerLink::Kind::Outer}), {}});
    PartItem outer = *roller.d.parts.back();
    outer.seat.point = Vec3(0, 0, 0);
    roller.d = with(roller.d, outer);
    RunItem run = *roller.d.run(roller.run);
    run.sequence.steps = {{run.part, 1, 1}, {outer.id, 1, 1}};
    roller.d = with(roller.d, run);
    const auto fits = of(*checked(roller.d), roller.run, CheckKind::Touching);
    QVERIFY2(fits.mark == Mark::Good && std::abs(*fits.value) < 0.02, fits.text.c_str());
    // Pins thicker than the holes they are in: as deep as that, by their radii.
    RollerLink thick{RollerLink::Kind::Outer};
    thick.pin = 8.5;
    outer.shape = Maker(thick);
    roller.d = with(roller.d, outer);
    const auto tight = of(*checked(roller.d), roller.run, CheckKind::Touching);
    QCOMPARE(tight.mark, Mark::Wrong);
    NEAR(*tight.value, -(8.5 - 7.92) / 2, 1e-9);
    QCOMPARE(tight.error, 0.0); // by the radii, not by triangles
}

void TestChecks::boxesThatOverlapAreNoVerdict() {
    // Steps: low in front, high behind. The next one's high half stands over this one's low half.
    Pieces steps;
    steps.list.push_back({"Low", PlainBox{100, 20, 10}, {50, 0, 0}, {0, 0, 0}, 1, false});
    steps.list.push_back({"High", PlainBox{100, 20, 10}, {-50, 0, 60}, {0, 0, 0}, 1, false});
    auto s = site(lineOf({{0, 0, 0}, {900, 0, 0}}, false), steps, [](RunItem& r) { r.spacing->rule = StepOff{120}; });
    const auto all = checked(s.d);
    QCOMPARE(all->of->runs.front()->verdict.mark, Mark::Wrong);
    QVERIFY(all->of->runs.front()->verdict.byBoxes);
    QCOMPARE(all->run(s.run)->verdict.mark, Mark::Good);
    QVERIFY(std::abs(*of(*all, s.run, CheckKind::ClearGap).value - 20) < 1e-9);
}

void TestChecks::bodiesThatAreOpenOrNotThere() {
    // A wedge without its bottom, set so that it runs into the next.
    const QTemporaryDir dir;
    const std::string text = wedgeObj();
    const size_t first = text.find("f ");
    const auto body = bodyOf(*readMesh(text.substr(0, first) + text.substr(text.find('\n', first) + 1), "obj", 1));
    PartShape shape = Brought{body, "wedge.obj", std::make_shared<const std::string>(text), "obj", 1, {}};
    auto s = site(lineOf({{0, 0, 0}, {900, 0, 0}}, false), shape, [](RunItem& r) { r.spacing->rule = StepOff{50}; });
    const CheckResult r = only(s, asked(CheckKind::ClearGap, 1));
    QVERIFY(r.mark == Mark::Wrong && !r.value && !r.remarks.empty());
    // No path: every check says why.
    Document d = without(s.d, s.path);
    const auto all = checked(d);
    for (const CheckResult& c : all->run(s.run)->list) QVERIFY(!c.check.on || c.cannot);
    QCOMPARE(all->run(s.run)->verdict.mark, Mark::Wrong);
    // Too many pairs: what it would take is said.
    auto heap = site(lineOf({{0, 0, 0}, {1, 0, 0}}, false), boxOf(40, 40, 40),
                     [](RunItem& run) { run.spacing->rule = ShareOut{4000}; });
    const CheckResult many = only(heap, asked(CheckKind::Itself, 100));
    QVERIFY(many.cannot && many.cannot->find("pairs") != std::string::npos);
    auto million = site(lineOf({{0, 0, 0}, {1e6, 0, 0}}, false), boxOf(4, 4, 4),
                        [](RunItem& run) { run.spacing->rule = ShareOut{1'000'000}; });
    const CheckResult gap = only(million, asked(CheckKind::ClearGap, 0));
    QVERIFY(gap.cannot && gap.cannot->find("1000000 bodies") != std::string::npos);
    QCOMPARE(*only(million, asked(CheckKind::PlaceCount, 1)).value, 1e6); // what needs no bodies is told
}

void TestChecks::stoppedOnesAreTakenUpAgain() {
    Random random{std::mt19937(3)};
    const Document d = randomDocument(random);
    CheckMemory memory;
    const auto evaluation = evaluate(d);
    Job job;
    job.stop = true;
    const auto stoppedOne = check(evaluation, memory, nullptr, {}, &job);
    QVERIFY(stoppedOne->runs.empty());
    const auto whole = check(evaluation, memory, stoppedOne);
    QVERIFY(whole->run(d.runs.front()->id)->list.size() > 3);
    // Stopped with a state before: that state stays, marked, and is worked out anew the next time.
    const auto kept = check(evaluate(with(d,
                                          [&] {
                                              RunItem r = *d.runs.front();
                                              r.spacing->rule = ShareOut{3};
                                              return r;
                                          }())),
                            memory, whole, {}, &job);
    QVERIFY(kept->run(d.runs.front()->id)->stopped);
    int told = 0;
    CheckOrder order;
    order.done = [&](std::shared_ptr<const RunChecks>) { ++told; };
    const auto again = check(evaluation, memory, kept, order);
    QVERIFY(!again->run(d.runs.front()->id)->stopped && told == 1);
    told = 0;
    QVERIFY(check(evaluation, memory, again, order)->run(d.runs.front()->id) == again->run(d.runs.front()->id) &&
            told == 0);
}

void TestChecks::theSideItIsSeenFrom() {
    Random random{std::mt19937(9)};
    for (int i = 0; i < 40; ++i) {
        const Document d = randomDocument(random);
        const auto all = checked(d);
        const auto run = all->of->runs.front();
        for (const CheckResult& r : all->run(run->item->id)->list) {
            if (!r.worst || (r.worst->a - r.worst->b).norm() < 1 || wordsOf(r.check.of).lane[0] == 0) continue;
            const Sight s = sightOf(*all->of, *run, r, *r.worst);
            QVERIFY(std::abs(s.toEye.norm() - 1) < 1e-9 && s.radius > 0);
            QVERIFY((s.at - (r.worst->a + r.worst->b) / 2).norm() < 1e-6);
            // The gap is not looked at end on.
            QVERIFY(std::abs(s.toEye.dot((r.worst->b - r.worst->a).normalized())) < 0.95);
        }
    }
    // What one does to the other is seen with both, what one does alone with all of it.
    const auto all = checked(*openDocument(VICINAL_SOURCE "/examples/saltmarrow-checks.json", readBody));
    int seen = 0;
    for (const auto& run : all->of->runs)
        for (const CheckResult& r : all->run(run->item->id)->list) {
            if (!r.worst || (r.check.of != CheckKind::Reach && r.check.of != CheckKind::PinsOff)) continue;
            const Sight s = sightOf(*all->of, *run, r, *r.worst);
            for (const int place : {r.worst->place, r.check.of == CheckKind::Reach ? r.worst->other : r.worst->place}) {
                const Placed& p = *run->placed;
                const Vec3 middle =
                    (p.pose(size_t(place)) * p.part(size_t(place)).mesh->box.center().homogeneous()).head<3>();
                const double half = p.part(size_t(place)).mesh->box.sizes().norm() / 2;
                QVERIFY2((middle - s.at).norm() < s.radius && s.radius >= half, wordsOf(r.check.of).file);
                ++seen;
            }
        }
    QCOMPARE(seen, 4);
}

VICINAL_SUITE(TestChecks)

} // namespace test_checks
#include "test_checks.moc"
