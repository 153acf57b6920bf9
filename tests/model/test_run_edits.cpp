// Edits of runs that window and command line share: profiles, exceptions, sequences, switching rules; runs as sources.
#include "model/edits/profile_edits.h"
#include "model/edits/run_edits.h"
#include "model/edits/sequence_text.h"
#include "model/edits/typed_values.h"
#include "support.h"

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
    posts.spacing.rule = ShareOut{5};
    d = with(d, posts);
    RunItem spindles = posts;
    spindles.name = "Spindles";
    spindles.part = 3;
    spindles.spacing.rule = EvenOut{90};
    spindles.spacing.measure = Measure::ClearGap;
    spindles.spacing.bays = BayEdges::Run;
    spindles.spacing.bayRun = 4;
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
    void keysAreKeptInOrder();
    void stretchingSaysTheSame();
    void aBumpLeavesTheRestAlone();
    void exceptionsAreMadeAndDropped();
    void sequencesReadBack();
    void switchingKeepsThePicture();
    void baysFollowTheOtherRun();
    void runsThatLeadToThemselvesAreToldSo();
    void everyKeyIsTyped();
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
    QCOMPARE(breaking(*evaluate(changed(d, 4, [](RunItem& x) { x.spacing.gapAtMost = 900; }))->run(4)).size(),
             size_t(5));
    QVERIFY(breaking(*run).empty() && onCorners(*run).empty());
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
    for (size_t from = 0; from < std::variant_size_v<SpacingRule>; ++from) {
        if (std::holds_alternative<PinToPin>(alternative<SpacingRule>(from))) continue; // posts have no pins
        const Document start = changed(d, 4, [&](RunItem& r) {
            r.spacing.rule = alternative<SpacingRule>(from);
            if (auto* step = std::get_if<StepOff>(&r.spacing.rule)) step->pitch = 500; // comes out even
            if (auto* even = std::get_if<EvenOut>(&r.spacing.rule)) even->about = 480;
            if (auto* graded = std::get_if<Graded>(&r.spacing.rule)) graded->pitch = {{{0, 500}}};
            if (auto* listed = std::get_if<Listed>(&r.spacing.rule)) listed->at = {0, 1000, 2000, 3000, 4000};
        });
        const auto before = evaluate(start);
        const auto run = before->run(4);
        QVERIFY(run->placed && !run->problem);
        for (size_t to = 0; to < std::variant_size_v<SpacingRule>; ++to) {
            if (std::holds_alternative<PinToPin>(alternative<SpacingRule>(to)) || to == from) continue;
            const auto after = evaluate(changed(start, 4, [&](RunItem& r) { r.spacing = switchedFrom(*run, to); }));
            const auto& a = *run->placed;
            const auto& b = *after->run(4)->placed;
            QVERIFY2(a.count() == b.count(), qPrintable(QString("%1 to %2").arg(from).arg(to)));
            for (size_t i = 0; i < a.count(); ++i) NEAR(b.stations()[i], a.stations()[i], 1e-2);
        }
    }
}

void TestRunEdits::baysFollowTheOtherRun() {
    Document d = fence();
    auto e = evaluate(d);
    QCOMPARE(e->run(5)->placed->laid->bays.size(), size_t(4));
    const auto untouched = evaluate(changed(d, 4, [](RunItem& r) { r.colour = 3; }), e);
    QVERIFY(untouched->run(5)->problem == std::nullopt);
    d = changed(d, 4, [](RunItem& r) { r.spacing.rule = ShareOut{9}, r.leftOut = {3}; });
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
    const auto own = evaluate(changed(d, 5, [](RunItem& r) { r.spacing.bayRun = 5; }));
    QVERIFY(own->run(5)->problem->text.find("its own places") != std::string::npos);
    d = changed(d, 4, [](RunItem& r) { r.spacing.bays = BayEdges::Run, r.spacing.bayRun = 5; });
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
    set("from", "0.5 m");
    const auto& graded = std::get<Graded>(r.spacing.rule);
    QVERIFY(graded.pitch.smooth && graded.pitch.keys[1].at == 4000 && r.spacing.ofLength == 1.5);
    QVERIFY(r.spacing.bayRun == 4 && r.spacing.bayStations == (std::vector<double>{1000, 2500}) &&
            *r.spacing.from == 500);
    QVERIFY(r.sequence.steps.size() == 2 && r.sequence.nth == 2 && r.sequence.every == 4 && r.rows.rows == 3);
    NEAR(r.changes.roll.keys[1].value, kPi / 2, 1e-12);
    NEAR(r.echoes.one.angle, 2 * kPi / 3, 1e-12);
    NEAR(r.facing.turnStep.x(), kPi / 2, 1e-12);
    QVERIFY(r.facing.target == Vec3(1000, 2000, 3000));
    const RunItem before = r;
    for (const auto& [key, text] : {std::pair{"bayRun", "Nobody"},
                                    {"roll", "0: loud"},
                                    {"sequence", "Nobody"},
                                    {"bayStations", "1 m, fish"},
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

QTEST_GUILESS_MAIN(TestRunEdits)
#include "test_run_edits.moc"
