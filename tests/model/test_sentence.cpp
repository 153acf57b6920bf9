// What a run does, as the sentence that its sheet shows and the check sheet prints.
#include "layout/spacing/rules.h"
#include "model/document/document.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/evaluate.h"
#include "model/words/sentence.h"
#include "suite.h"
#include "support.h"

namespace test_sentence {

using namespace vicinal;

namespace {

/// Planks along a path of 4 m, round or straight, and a run that is changed.
std::string said(bool closed, const std::function<void(RunItem&)>& change, Unit unit = Unit::Millimetre) {
    PathItem path;
    path.name = "Quay edge";
    path.recipe = PointsRecipe{{{{0, 0, 0}, false}, {{4000, 0, 0}, false}}};
    if (closed) std::get<PointsRecipe>(path.recipe).points.push_back({{0, 4000, 0}, false});
    std::get<PointsRecipe>(path.recipe).closed = closed;
    Document d = with(Document(), path);
    d = with(d, PartItem{0, "Plank", Maker(Baluster{}), {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    change(run);
    return plainSentence(*evaluate(with(d, run))->runs[0], unit);
}

} // namespace

class TestSentence : public QObject {
    Q_OBJECT
private slots:
    void rulesSayTheirValues();
    void unitsAreTheReaders();
    void wordsOfAnotherLanguage();
};

void TestSentence::rulesSayTheirValues() {
    const auto evened = [](RunItem& r) {
        r.spacing->rule = EvenOut{.about = 120};
        r.spacing->gapAtMost = 99;
    };
    QCOMPARE(QString::fromStdString(said(false, evened)),
             QString("Set Plank along Quay edge, evened to about 120 mm centre to centre with no gap along over 99 mm; "
                     "standing plumb, nose along the path."));
    const std::string halves = said(false, [&](RunItem& r) {
        evened(r);
        std::get<EvenOut>(r.spacing->rule).ends = ShareEnds::HalfPitchIn;
    });
    QVERIFY2(halves.find("centre to centre, half a pitch in from the ends with") != halves.npos, halves.c_str());
    // A closed path has no ends to speak of, and is slid instead.
    const std::string round = said(true, [&](RunItem& r) {
        evened(r);
        r.spacing->slide = 35;
        r.spacing->insetStart = 50;
    });
    QVERIFY2(round.find("ends") == round.npos && round.find("; slid by 35 mm;") != round.npos &&
                 round.find("50") == round.npos,
             round.c_str());
    const std::string many = said(false, [](RunItem& r) {
        r.spacing->rule = Listed{{120, 250.5, 400}};
        r.spacing->insetStart = 10;
        r.spacing->insetEnd = 20;
        r.facing.turn = Vec3(0, kPi / 2, -kPi / 6);
        r.rows.rows = 2;
        r.rows.tiers = 3;
        r.leftOut = {1};
        r.feet.ground = 9;
    });
    for (const char* part : {"at 120, 250.5, 400 mm", "10 mm in at the start and 20 mm at the end",
                             "turned 90\u00b0 about the side, -30\u00b0 about the crown", "in 2 rows; 3 tiers high",
                             "; 1 left out.", "feet on a missing body"})
        QVERIFY2(many.find(part) != many.npos, (many + " lacks: " + part).c_str());
    const std::string longList = said(false, [](RunItem& r) { r.spacing->rule = Listed{{1, 2, 3, 4, 5}}; });
    QVERIFY2(longList.find("at 5 stations;") != longList.npos, longList.c_str());
    const std::string chords = said(false, [&](RunItem& r) {
        r.spacing->rule = StepOff{.pitch = 300};
        r.spacing->along = Along::Straight;
        r.spacing->bays = BayEdges::Corners;
        r.spacing->bayRules = {{1, ShareOut{3}}};
    });
    for (const char* part :
         {"centre to centre straight across, ", ", in bays between the corners, ", "1 of them by a rule of its own"})
        QVERIFY2(chords.find(part) != chords.npos, (chords + " lacks: " + part).c_str());
    // No rule's phrase leaves a value open, on paths of either kind.
    for (size_t i = 0; i < std::variant_size_v<SpacingRule>; ++i)
        for (const bool closed : {false, true}) {
            const std::string text = said(closed, [&](RunItem& r) { r.spacing->rule = alternative<SpacingRule>(i); });
            QVERIFY2(text.find_first_of("{}[]%") == text.npos && text.find(", ;") == text.npos &&
                         text.find("  ") == text.npos,
                     text.c_str());
        }
}

void TestSentence::unitsAreTheReaders() {
    const auto pitch = [](RunItem& r) {
        r.spacing->rule = StepOff{.pitch = 508};
        r.spacing->from = 254;
    };
    const std::string inches = said(false, pitch, Unit::Inch);
    QVERIFY2(inches.find("stepped off at 20 in ") != inches.npos &&
                 inches.find("from 10 in to the end") != inches.npos && inches.find("mm") == inches.npos,
             inches.c_str());
    const std::string share = said(false, [&](RunItem& r) {
        pitch(r);
        r.spacing->measure = Measure::OfLength;
        r.spacing->ofLength = 0.125;
    });
    QVERIFY2(share.find("12.5 %") != share.npos && share.find("508") == share.npos, share.c_str());
}

void TestSentence::wordsOfAnotherLanguage() {
    PathItem path;
    path.name = "100 % edge";
    path.recipe = PointsRecipe{{{{0, 0, 0}, false}, {{4000, 0, 0}, false}}};
    Document d = with(Document(), path);
    d = with(d, PartItem{0, "Plank", Maker(Baluster{}), {}});
    RunItem run;
    run.path = 1;
    run.part = 2;
    run.rows.rows = 4;
    const auto all = evaluate(with(d, run));
    // Its order is another one, and each value keeps its name.
    const auto pieces = sentenceOf(*all->runs[0], Unit::Metre, [](const char* text) -> std::string {
        if (std::string(text) == "Set %1 along %2, ") return "100 % of %2: %1, ";
        if (std::string(text) == "%1 rows") return "rows, %1 of them";
        return text;
    });
    std::string text;
    std::map<std::string, std::string> told;
    for (const auto& p : pieces) {
        text += p.text;
        if (!p.value.empty()) told[p.value] = p.text;
    }
    QVERIFY2(text.find("100 % of 100 % edge: Plank, ") == 0, text.c_str());
    QCOMPARE(told["part"], std::string("Plank"));
    QCOMPARE(told["path"], std::string("100 % edge"));
    QCOMPARE(told["rows"], std::string("rows, 4 of them"));
}

VICINAL_SUITE(TestSentence)

} // namespace test_sentence
#include "test_sentence.moc"
