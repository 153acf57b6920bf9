// Edits of runs that window and command line share: profiles, exceptions, sequences, switching rules; runs as sources.
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/profile_edits.h"
#include "model/edits/reverse.h"
#include "model/edits/run_edits.h"
#include "model/edits/stand_alone.h"
#include "model/edits/typed/bay_text.h"
#include "model/edits/typed/sequence_text.h"
#include "model/edits/typed/typed_items.h"
#include "model/edits/typed/typed_values.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/file/document_file.h"
#include "model/recipes/numbers.h"
#include "suite.h"
#include "support.h"

namespace test_run_edits {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// A straight fence of posts (run 4) with spindles (run 5) on one path of 4 m.
Document fence() {
    PathItem line;
    line.recipe = PointsRecipe{{{{0, 0, 0}, false}, {{4000, 0, 0}, false}}};
    Document d = with(Document(), line);
    d = with(d, PartItem{0, "Post", Maker(Baluster{.width = 80, .depth = 80}), {}});
    d = with(d, PartItem{0, "Spindle", Maker(Baluster{}), {}});
    RunItem posts;
    posts.name = "Posts";
    posts.path = 1;
    posts.part = 2;
    posts.spacing->rule = ShareOut{5};
    d = with(d, posts);
    RunItem spindles = posts;
    spindles.name = "Spindles";
    spindles.part = 3;
    spindles.spacing->rule = EvenOut{90};
    spindles.spacing->measure = Measure::ClearGap;
    spindles.spacing->bays = BayEdges::Run;
    spindles.spacing->bayRun = 4;
    return with(d, spindles);
}

Document changed(const Document& d, Id run, const std::function<void(RunItem&)>& how) {
    RunItem r = *d.run(run);
    how(r);
    return with(d, r);
}

} // namespace

class TestRunEdits : public QObject {
    Q_OBJECT
private slots:
    void nothingOfWhatIsNotThere();
    void keysAreKeptInOrder();
    void stretchingSaysTheSame();
    void aBumpLeavesTheRestAlone();
    void exceptionsAreMadeAndDropped();
    void sequencesReadBack();
    void switchingKeepsThePicture();
    void aCopyStandsAlone();
    void baysFollowTheOtherRun();
    void runsThatLeadToThemselvesAreToldSo();
    void everyKeyIsTyped();
    void rulesOfBaysReadBack();
    void aRunStartsAtTheOtherEnd();
    void nosesAimAtAPath();
};

void TestRunEdits::keysAreKeptInOrder() {
    std::mt19937 random(21);
    std::uniform_real_distribution<double> u(-0.2, 1.2);
    for (int k = 0; k < 300; ++k) {
        Profile p;
        p.stretches = k % 2;
        const double L = 3000;
        for (int n = 0; n < 40; ++n) {
            const double s = u(random) * L, v = u(random);
            const size_t before = p.keys.size();
            switch (n % 4) {
            case 0:
            case 1: {
                const size_t at = addKey(p, s, v, L);
                NEAR(stationOf(p, at, L), std::clamp(s, 0.0, L), 1e-2);
                NEAR(p.keys[at].value, v, 0);
                break;
            }
            case 2:
                if (before > 0) moveKey(p, size_t(n) % before, s, v, L);
                QCOMPARE(p.keys.size(), before);
                break;
            case 3:
                if (k % 3 == 0) shiftKeys(p, s - L / 2, L);
                if (k % 3 == 1 && before > 3) removeKey(p, 1);
                break;
            }
            const auto defect = defectOf(p, "");
            QVERIFY2(!defect, defect ? defect->text.c_str() : "");
            for (size_t i = 0; i < p.keys.size(); ++i)
                QVERIFY(stationOf(p, i, L) >= -1e-9 && stationOf(p, i, L) <= L + 1e-9);
        }
    }
}

void TestRunEdits::stretchingSaysTheSame() {
    Profile p{{{0, 1}, {500, 4}, {1500, -2}}, true};
    const Profile was = p;
    setStretching(p, true, 2000);
    const ProfileCurve a(was, 2000, false, 0), b(p, 2000, false, 0);
    for (double s = 0; s <= 2000; s += 50) NEAR(a.at(s), b.at(s), 1e-9);
    setStretching(p, false, 2000);
    for (size_t i = 0; i < 3; ++i) NEAR(p.keys[i].at, was.keys[i].at, 1e-9);
}

void TestRunEdits::aBumpLeavesTheRestAlone() {
    Profile p;
    emphasise(p, 1000, 400, 1.5, 3000, false, 1);
    const ProfileCurve c(p, 3000, false, 1);
    NEAR(c.at(1000), 1.5, 1e-12);
    for (double s : {0.0, 500.0, 800.0, 1200.0, 2500.0}) NEAR(c.at(s), 1, 1e-12);
    emphasise(p, 100, 400, 2, 3000, false, 1); // near an end
    NEAR(ProfileCurve(p, 3000, false, 1).at(100), 2, 1e-12);
    QVERIFY(!defectOf(p, ""));
}

void TestRunEdits::exceptionsAreMadeAndDropped() {
    const Document d = fence();
    const auto e = evaluate(d);
    const auto run = e->run(4);
    RunItem r = excepted(*run, {1, 3}, false, [](Exception& x) { x.move.z() = 5; });
    QCOMPARE(r.exceptions.size(), size_t(2));
    QVERIFY(r.exceptions[0].place == 2 && r.exceptions[1].place == 4);
    const auto next = evaluate(with(d, r), e);
    NEAR(next->run(4)->placed->frame(1).seat.z(), 5, 0);
    NEAR(next->run(4)->placed->frame(2).seat.z(), 0, 0);
    r = excepted(*next->run(4), {1}, false, [](Exception& x) { x.move.z() = 0; }); // plain again: dropped
    QCOMPARE(r.exceptions.size(), size_t(1));
    r = bound(*next->run(4), {1, 3}, true);
    NEAR(*r.exceptions[1].station, 3000, 1e-9);
    QCOMPARE(everyNth(*run, 2, 2), (std::set<int>{1, 3}));
    QCOMPARE(betweenStations(*run, 900, 3100), (std::set<int>{1, 2, 3}));
    QCOMPARE(breaking(*evaluate(changed(d, 4, [](RunItem& x) { x.spacing->gapAtMost = 900; }))->run(4)).size(),
             size_t(5));
    QVERIFY(breaking(*run).empty() && onCorners(*run).empty());
    // What is joined has no gap along: limits of one are no matter of it, whoever asks. Its pitch has limits.
    const Document chain = with(d, PartItem{0, "Link", RoundLink{}, {}});
    const Id link = lastId(chain);
    const auto limited = [&](std::optional<double> gap, std::optional<double> pitch) {
        return evaluate(changed(chain, 4,
                                [&](RunItem& x) {
                                    x.part = link, x.leftOut.clear();
                                    x.spacing->rule = PinToPin{12};
                                    x.spacing->gapAtLeast = gap, x.spacing->pitchAtLeast = pitch;
                                }))
            ->run(4);
    };
    const auto gaps = limited(5, {}), pitches = limited({}, 500);
    QVERIFY2(!gaps->problem && gaps->verdict.mark == Mark::Good, gaps->verdict.text.c_str());
    QVERIFY(breaking(*gaps).empty());
    QVERIFY(pitches->verdict.mark == Mark::Wrong && breaking(*pitches).size() == 12);
    const auto rows = fitsOf(*gaps);
    for (const Fit& f : *rows) QVERIFY(!f.under);
}

void TestRunEdits::sequencesReadBack() {
    Document d = fence();
    d = with(d, PartItem{0, "Lamp, tall (2)", Maker(BollardLamp{}), {}});
    const Id lamp = lastId(d);
    for (const std::vector<SequenceStep>& steps :
         {std::vector<SequenceStep>{{2, 1, 1}}, {{2, 1, 1}, {3, 5, 1}}, {{lamp, 3, 1}, {2, 1, 0.5}, {lamp, 1, 2}}}) {
        const auto back = parseSequence(sequenceText(steps, d), d);
        QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
        QVERIFY(*back == steps);
    }
    QVERIFY(parseSequence(" none ", d)->empty() && parseSequence("", d)->empty());
    QVERIFY(*parseSequence("Post,5 x Spindle", d) == (std::vector<SequenceStep>{{2, 1, 1}, {3, 5, 1}}));
    for (const char* bad : {"Nobody", "0 x Post", "20000 x Post", "Post (fish)", "2 x"})
        QVERIFY2(!parseSequence(bad, d), bad);
}

void TestRunEdits::switchingKeepsThePicture() {
    const Document d = fence();
    const auto pins = [](size_t k) {
        const SpacingRule rule = alternative<SpacingRule>(k);
        return std::holds_alternative<PinToPin>(rule) || std::holds_alternative<Coupled>(rule);
    };
    for (size_t from = 0; from < std::variant_size_v<SpacingRule>; ++from) {
        if (pins(from)) continue; // posts have none
        const Document start = changed(d, 4, [&](RunItem& r) {
            r.spacing->rule = alternative<SpacingRule>(from);
            if (auto* step = std::get_if<StepOff>(&r.spacing->rule)) step->pitch = 500; // comes out even
            if (auto* even = std::get_if<EvenOut>(&r.spacing->rule)) even->about = 480;
            if (auto* graded = std::get_if<Graded>(&r.spacing->rule)) graded->pitch = {{{0, 500}}};
            if (auto* listed = std::get_if<Listed>(&r.spacing->rule)) listed->at = {0, 1000, 2000, 3000, 4000};
        });
        const auto before = evaluate(start);
        const auto run = before->run(4);
        QVERIFY(run->placed && !run->problem);
        for (size_t to = 0; to < std::variant_size_v<SpacingRule>; ++to) {
            if (pins(to) || to == from) continue;
            const auto after = evaluate(changed(start, 4, [&](RunItem& r) { r.spacing = switchedFrom(*run, to); }));
            const auto& a = *run->placed;
            const auto& b = *after->run(4)->placed;
            QVERIFY2(a.count() == b.count(), qPrintable(QString("%1 to %2").arg(from).arg(to)));
            for (size_t i = 0; i < a.count(); ++i) NEAR(b.stations()[i], a.stations()[i], 1e-2);
        }
    }
}

/// The copy stands where the original does, on a path that followed another and gave way; what then changes in path,
/// source, part or bogie moves the original alone.
void TestRunEdits::aCopyStandsAlone() {
    auto d = openDocument(std::string(VICINAL_SOURCE) + "/examples/saltmarrow-drives.json", {});
    QVERIFY(bool(d));
    PathItem beside; // an offset of the slipway, for a second train
    beside.name = "Second track";
    DerivedRecipe offset;
    offset.source = 4;
    offset.change = OffsetOf{1800};
    beside.recipe = offset;
    Document doc = with(*d, beside);
    RunItem second = *doc.run(24);
    second.id = 0;
    second.path = lastId(doc);
    doc = with(doc, second);
    const Id train = lastId(doc);
    for (Id id : {train, Id(20), Id(25)}) {
        const auto e = evaluate(doc);
        const auto run = e->run(id);
        QVERIFY2(!run->problem, run->problem ? run->problem->text.c_str() : "");
        Document with = withStandingAlone(doc, *run);
        const Id alone = lastId(with);
        auto both = evaluate(with, e);
        const auto stands = [&](const RunResult& a, const RunResult& b) {
            if (a.problem || b.problem || a.placed->bodies() != b.placed->bodies()) return false;
            for (size_t i = 0; i < a.placed->bodies(); ++i)
                if ((a.placed->pose(i) - b.placed->pose(i)).norm() > 1e-6) return false;
            return true;
        };
        QVERIFY(stands(*both->run(id), *both->run(alone)));
        QVERIFY(both->run(alone)->item->path != run->item->path);
        for (const auto& part : both->run(alone)->parts)
            for (const auto& old : run->parts) QVERIFY(part->item->id != old->item->id);
        // Everything it was made from is changed.
        const auto before = both->run(alone);
        for (const auto& part : run->parts) {
            PartItem item = *part->item;
            item.size = 1.01;
            with = vicinal::with(with, item);
        }
        PathItem path = *with.path(id == train ? 4 : run->item->path);
        if (auto* points = std::get_if<PointsRecipe>(&path.recipe)) points->points[1].at.x() += 90;
        if (auto* shape = std::get_if<ShapeRecipe>(&path.recipe)) shape->at.x() += 90;
        with = vicinal::with(with, path);
        both = evaluate(with, both);
        QVERIFY(stands(*both->run(alone), *before));
        QVERIFY(!stands(*both->run(id), *before));
    }
}

void TestRunEdits::baysFollowTheOtherRun() {
    Document d = fence();
    auto e = evaluate(d);
    QCOMPARE(e->run(5)->placed->laid->bays.size(), size_t(4));
    const auto untouched = evaluate(changed(d, 4, [](RunItem& r) { r.colour = 3; }), e);
    QVERIFY(untouched->run(5)->problem == std::nullopt);
    d = changed(d, 4, [](RunItem& r) { r.spacing->rule = ShareOut{9}, r.leftOut = {3}; });
    e = evaluate(d, e);
    QCOMPARE(e->run(5)->placed->laid->bays.size(), size_t(7)); // a post that is left out ends no bay
    for (const Gap& g : e->run(5)->placed->gaps) NEAR(g.clear(), 90, 15);
    d = without(d, 4);
    e = evaluate(d, e);
    QVERIFY(e->run(5)->problem && e->run(5)->problem->field == "bayRun");
    QCOMPARE(e->run(5)->placed->laid->bays.size(), size_t(7)); // the last good state stays
    QCOMPARE(usersOf(fence(), 4), std::vector<std::string>{"Spindles"});
}

void TestRunEdits::runsThatLeadToThemselvesAreToldSo() {
    Document d = fence();
    const auto own = evaluate(changed(d, 5, [](RunItem& r) { r.spacing->bayRun = 5; }));
    QVERIFY(own->run(5)->problem->text.find("its own places") != std::string::npos);
    d = changed(d, 4, [](RunItem& r) { r.spacing->bays = BayEdges::Run, r.spacing->bayRun = 5; });
    const auto round = evaluate(d);
    for (Id id : {4, 5}) QVERIFY(round->run(id)->problem && !round->run(id)->placed);
    QVERIFY(round->run(4)->problem->text.find("circle") != std::string::npos ||
            round->run(5)->problem->text.find("circle") != std::string::npos);
}

void TestRunEdits::everyKeyIsTyped() {
    const Document d = fence();
    RunItem r = *d.run(5);
    const auto set = [&](const char* key, const char* text) {
        const auto p = setTyped(r, d, key, text);
        QVERIFY2(!p, p ? p->text.c_str() : "");
    };
    set("rule", "graded");
    set("pitches", "0: 90, 4 m: 120; smooth");
    set("measure", "of length");
    set("ofLength", "1.5");
    set("bays", "stations");
    set("bayStations", "1 m, 2.5 m");
    set("bayRun", "Posts");
    set("sequence", "Post, 2 x Spindle");
    set("everyPart", "Post");
    set("every", "4");
    set("roll", "0: 0, 2 m: 90");
    set("size", "1.25");
    set("echo", "round an axis");
    set("echoAlong", "0, 0, 1");
    set("echoAngle", "120");
    set("rows", "3");
    set("nose", "at target");
    set("target", "1 m, 2 m, 3 m");
    set("turnStep", "90, 0, 0");
    set("multiple", "2");
    set("bayRules", "3: step off 0.2 m; 1: share out 4");
    set("rowsKeep", "pitch");
    set("from", "0.5 m");
    const auto& graded = std::get<Graded>(r.spacing->rule);
    QVERIFY(graded.pitch.smooth && graded.pitch.keys[1].at == 4000 && r.spacing->ofLength == 1.5);
    QVERIFY(r.spacing->bayRun == 4 && r.spacing->bayStations == (std::vector<double>{1000, 2500}) &&
            *r.spacing->from == 500);
    QCOMPARE(bayRulesText(r.spacing->bayRules, Unit::Millimetre), std::string("1: share out 4; 3: step off 200"));
    QVERIFY(r.sequence.steps.size() == 2 && r.sequence.nth == 2 && r.sequence.every == 4 && r.rows.rows == 3);
    NEAR(r.changes.roll.keys[1].value, kPi / 2, 1e-12);
    NEAR(r.echoes.one.angle, 2 * kPi / 3, 1e-12);
    NEAR(r.facing.turnStep.x(), kPi / 2, 1e-12);
    // A turn has three values; a point of the plan may have two.
    QVERIFY(bool(parseExceptions("3 turn 0,90,0", d)));
    for (const char* few : {"3 turn 0,90", "3 turn 5", "3 turn 0,90,0,0"}) {
        const auto bad = parseExceptions(few, d);
        QVERIFY2(!bad && bad.problem().text.find("needs three values with commas between") != std::string::npos, few);
    }
    QVERIFY(bool(parsePoints("0,0; 1 m,0", Unit::Millimetre)) && !parsePoints("0; 1 m", Unit::Millimetre));
    QVERIFY(r.facing.target == Vec3(1000, 2000, 3000));
    const RunItem before = r;
    for (const auto& [key, text] : {std::pair{"bayRun", "Nobody"},
                                    {"roll", "0: loud"},
                                    {"sequence", "Nobody"},
                                    {"bayStations", "1 m, fish"},
                                    {"bayRules", "0: 5"},
                                    {"bayRules", "step off 5"},
                                    {"bayRules", "1: 5; 1: 6"},
                                    {"bayRules", "1: share out x"},
                                    {"rowsKeep", "calm"},
                                    {"echoAlong", "1, 2"},
                                    {"rows", "many"}})
        QVERIFY2(setTyped(r, d, key, text), key);
    QVERIFY(r.sequence == before.sequence && r.changes == before.changes && r.spacing == before.spacing);
}

void TestRunEdits::nosesAimAtAPath() {
    Document d = fence();
    PathItem wall;
    wall.recipe = PointsRecipe{{{{-1000, 2000, 0}, false}, {{9000, 2000, 500}, false}}};
    d = with(d, wall);
    const Id id = lastId(d);
    d = changed(d, 4, [&](RunItem& r) { r.facing.nose = AtTarget{}, r.facing.targetPath = id; });
    auto e = evaluate(d);
    QVERIFY(!e->run(4)->problem);
    const Path& path = *e->paths.at(id)->path;
    for (size_t i = 0; i < e->run(4)->placed->count(); ++i) {
        const Frame& f = e->run(4)->placed->frame(i);
        const Vec3 to = path.at(path.closest(f.seat)).point - f.seat;
        NEAR(f.axes.col(0).dot(to.normalized()), 1, 1e-12);
        NEAR(to.normalized().dot(Vec3(10000, 0, 500).normalized()), 0, 1e-7); // square to it
    }
    e = evaluate(without(d, id), e);
    QVERIFY(e->run(4)->problem && e->run(4)->problem->field == "targetPath" && e->run(4)->placed);
}

void TestRunEdits::rulesOfBaysReadBack() {
    const std::vector<BayRule> all{{1, ShareOut{7}},
                                   {2, StepOff{120.5}},
                                   {3, EvenOut{90}},
                                   {5, PinToPin{12}},
                                   {6, Graded{{{{0, 100}, {2000, 250}}, true}}},
                                   {9, Listed{{20, 140, 300}}}};
    for (Unit unit : {Unit::Millimetre, Unit::Metre, Unit::Inch}) {
        const auto back = parseBayRules(bayRulesText(all, unit), unit, EvenOut{});
        QVERIFY2(bool(back), back ? "" : back.problem().text.c_str());
        QCOMPARE(bayRulesText(*back, unit), bayRulesText(all, unit)); // as fine as it is written
        if (unit == Unit::Millimetre) QVERIFY(*back == all);
    }
    // What is not said is as in the run: its ends, what it leaves over.
    const SpacingRule run = StepOff{80, LeftOver::Both};
    QVERIFY(*parseRule("step off 60", Unit::Millimetre, run) == SpacingRule(StepOff{60, LeftOver::Both}));
    for (const char* none : {"share out -3", "share out 2000000"}) // no count of places: refused as it is typed
        QVERIFY(!parseRule(none, Unit::Millimetre, run));
    QVERIFY(*parseRule("5", Unit::Millimetre, EvenOut{1, ShareEnds::PitchIn}) ==
            SpacingRule(ShareOut{5, ShareEnds::PitchIn}));
    // In a document: the second of four bays by a rule of its own, the rest as they were; the rule waits for a lost
    // bay.
    const Document d = fence();
    const auto before = evaluate(d);
    const Document own = changed(d, 5, [](RunItem& r) { r.spacing = withBayRule(r.spacing, 2, ShareOut{3}); });
    const auto after = evaluate(own, before);
    const auto& was = before->run(5)->placed->laid->bays;
    const auto& now = after->run(5)->placed->laid->bays;
    QCOMPARE(now.size(), size_t(4));
    QCOMPARE(now[1].count, size_t(3));
    for (size_t i : {0u, 2u, 3u}) NEAR(now[i].value, was[i].value, 1e-12);
    const Document fewer = changed(own, 4, [](RunItem& r) { r.spacing->rule = ShareOut{2}; });
    QCOMPARE(evaluate(fewer, after)->run(5)->placed->laid->bays.size(), size_t(1));
    QCOMPARE(fewer.run(5)->spacing->bayRules.size(), size_t(1));
    QVERIFY(withBayRule(own.run(5)->spacing, 2, std::nullopt).bayRules.empty());
}

/// What stands where stays, numbered and faced from the other end; twice is as before.
void TestRunEdits::aRunStartsAtTheOtherEnd() {
    std::mt19937 random(8);
    for (int k = 0; k < 12; ++k) {
        const bool closed = k % 2;
        PathItem curve;
        PointsRecipe points;
        points.closed = closed;
        for (const Vec3& p : randomPoints(unsigned(k) + 3, 6, 1500)) points.points.push_back({p, k % 3 != 0});
        curve.recipe = points;
        Document d = with(Document(), curve);
        d = with(d, PartItem{0, "Post", Maker(Baluster{.width = 20, .depth = 20}), {}});
        RunItem run;
        run.path = 1;
        run.part = 2;
        const double L = evaluate(d)->paths.at(1)->path->length();
        run.spacing->rule =
            k % 4 < 2 ? SpacingRule(EvenOut{L / 37}) : SpacingRule(ShareOut{23, ShareEnds::HalfPitchIn});
        if (!closed) run.spacing->insetStart = L / 10, run.spacing->insetEnd = L / 50;
        if (closed) run.spacing->slide = L / 7;
        if (k % 5 == 4) run.spacing->from = L / 5, run.spacing->to = L / 2;
        run.changes.across = {{{L / 8, 10}, {L / 2, -30}}, true};
        run.changes.size = {{{0.1, 1}, {0.7, 2}}, false, true};
        run.leftOut = {3};
        run.exceptions.resize(2);
        run.exceptions[0].place = 5;
        run.exceptions[0].move = Vec3(3, 4, 5);
        run.exceptions[1].station = L * 0.4;
        run.exceptions[1].out = true;
        d = with(d, run);
        const auto before = evaluate(d);
        const Id id = lastId(d);
        const auto was = before->run(id);
        QVERIFY2(!was->problem, was->problem ? was->problem->text.c_str() : "");
        const Document turned = reversed(d, *was);
        const auto after = evaluate(turned, before);
        const auto now = after->run(id);
        QVERIFY2(!now->problem, now->problem ? now->problem->text.c_str() : "");
        QCOMPARE(now->placed->count(), was->placed->count());
        QCOMPARE(now->placed->present, was->placed->present);
        const size_t n = was->placed->count();
        for (size_t i = 0; i < n; ++i) {
            const size_t j = closed && !run.spacing->from ? (n - i) % n : n - 1 - i;
            NEAR((now->placed->frame(j).seat - was->placed->frame(i).seat).norm(), 0, 1e-5);
            NEAR(now->placed->frame(j).axes.col(0).dot(was->placed->frame(i).axes.col(0)), -1, 1e-6);
            QCOMPARE(now->placed->leftOut(j), was->placed->leftOut(i));
            NEAR(now->placed->laid->size[j], was->placed->laid->size[i], 1e-8);
        }
        const Document again = reversed(turned, *now);
        QCOMPARE(again.paths.size(), turned.paths.size());
        const RunItem &a = *again.run(id), &b = *d.run(id);
        QVERIFY(a.path == b.path && a.leftOut == b.leftOut);
        NEAR(a.exceptions[1].station.value(), b.exceptions[1].station.value(), 1e-9);
        NEAR(a.changes.across.keys[0].at, b.changes.across.keys[0].at, 1e-9);
        NEAR(a.spacing->insetStart, b.spacing->insetStart, 1e-9);
    }
}

/// A run that was never placed has no place that is special; a number that no recipe has is not set.
void TestRunEdits::nothingOfWhatIsNotThere() {
    RunResult bare;
    RunItem item;
    item.exceptions.resize(1);
    item.exceptions[0].place = 1, item.exceptions[0].out = true;
    bare.item = std::make_shared<const RunItem>(item);
    QVERIFY(exceptionsOf(bare).empty());
    PathRecipe ring = ShapeRecipe{CircleShape{500}};
    QVERIFY(!setNumber(ring, "nonsense", 0, 1) && !setNumber(ring, "radiu", 0, 1));
    QVERIFY(setNumber(ring, "radius", 0, 321));
    QCOMPARE(std::get<CircleShape>(std::get<ShapeRecipe>(ring).shape).radius, 321.0);
}

VICINAL_SUITE(TestRunEdits)

} // namespace test_run_edits
#include "test_run_edits.moc"
