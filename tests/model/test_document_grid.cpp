// The grid over documents: paths of every recipe, drawn ones, and such that follow others, with runs that are told
// everything at once, by chance. What the whole program says of one thing must be one thing: the table of counts, the
// places, the checks, the file, the run in motion, moved and the other way round. VICINAL_DOCUMENTS=n for more,
// VICINAL_DOCUMENT=seed for one.
#include "chance.h"
#include "documents.h"
#include "layout/spacing/rules.h"
#include "model/edits/reverse.h"
#include "model/evaluate/motion/moving.h"
#include "model/verdicts/checked.h"
#include "suite.h"
#include "support.h"
#include "told.h"
#include <array>
#include <map>
#include <set>

namespace test_document_grid {

using namespace vicinal;
using namespace vicinal::test;

namespace {

constexpr std::array kRecipes{"circle", "ellipse", "rectangle", "slot", "polygon",
                              "helix",  "arc",     "straight",  "swag", "wheels"};
constexpr std::array kChanges{"offset",    "stretch",   "backwards", "start moved", "mirrored",
                              "projected", "resampled", "smoothed",  "lifted"};
constexpr int kDrawn = 6;
constexpr int kPaths = int(kRecipes.size() + kChanges.size()) + kDrawn;

struct Made {
    Document d;
    Id path = 0, run = 0;
    int kind = 0;         ///< of the path
    bool inWorld = false; ///< something of it is bound to the world: it does not move with its path
    bool follows = false; ///< its path follows another one
    std::string said;
};

PathItem drawn(Dice& dice, int kind) {
    PointsRecipe r;
    const int n = 3 + dice.of(4);
    for (int i = 0; i < n; ++i) {
        PathPoint p{{700.0 * i, dice.in(-350, 350), kind % 2 ? dice.in(-150, 150) : 0}, kind < 3};
        if (kind == 4 && i > 0 && i + 1 < n) p.fillet = dice.in(20, 120);
        r.points.push_back(p);
    }
    if (kind == 2 || kind == 5) { // closed: round a middle
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n, far = dice.in(700, 1300);
            r.points[size_t(i)].at = {far * std::cos(a), far * std::sin(a), kind == 2 ? dice.in(-100, 100) : 0};
        }
        r.closed = true;
    }
    return {0, "Drawn", r};
}

Made made(std::uint64_t seed) {
    Dice dice(seed);
    Made out;
    out.kind = dice.of(kPaths);
    Document d;
    if (out.kind < int(kRecipes.size())) {
        d = with(d, PathItem{0, "Shape", *recipeOf(kRecipes[size_t(out.kind)])});
        out.path = lastId(d);
    } else if (out.kind < int(kRecipes.size() + kChanges.size())) {
        d = with(d, dice.one(2) ? drawn(dice, dice.of(kDrawn))
                                : PathItem{0, "Shape", *recipeOf(dice.one(2) ? "ellipse" : "helix")});
        const Id source = lastId(d);
        auto recipe = recipeOf(kChanges[size_t(out.kind) - kRecipes.size()]);
        std::get<DerivedRecipe>(*recipe).source = source;
        d = with(d, PathItem{0, "Follows", *recipe});
        out.path = lastId(d);
        out.follows = true;
    } else {
        d = with(d, drawn(dice, out.kind - int(kRecipes.size() + kChanges.size())));
        out.path = lastId(d);
    }
    std::array<Id, 3> parts{};
    for (int i = 0; i < 3; ++i) {
        PartItem p;
        p.name = "Part";
        const double l = dice.in(20, 90);
        p.shape = Maker(PlainBox{l, dice.in(15, 70), dice.in(10, 120)});
        p.seat.point = BoxPoint{dice.of(3) - 1, 0, -1};
        p.seat.pins = Pins{Vec3(-0.4 * l, 0, 5), Vec3(0.4 * l, 0, 5)};
        d = with(d, p);
        parts[size_t(i)] = lastId(d);
    }
    RunItem run;
    run.name = "Run";
    run.path = out.path;
    run.part = parts[0];
    Spacing& s = *run.spacing;
    s.measure = Measure(dice.of(3));
    s.along = dice.one(3) ? Along::Straight : Along::Path;
    s.ofLength = dice.in(1.05, 2.5);
    const double pitch = s.measure == Measure::ClearGap ? dice.in(15, 120) : dice.in(120, 300);
    const auto left = LeftOver(dice.of(3));
    const auto ends = ShareEnds(dice.of(3));
    const long count = 3 + dice.of(10);
    const double k = s.measure == Measure::OfLength ? s.ofLength : pitch;
    switch (dice.of(8)) {
    case 0:
    case 1: s.rule = StepOff{pitch, left}; break;
    case 2: s.rule = ShareOut{count, ends}; break;
    case 3: s.rule = EvenOut{pitch, ends}; break;
    case 4: s.rule = PinToPin{0, left}; break;
    case 5: s.rule = Graded{Profile{{{0, k}, {1, 1.7 * k}}, false, true}, dice.one(2) ? count : 0, left}; break;
    case 6: s.rule = Listed{{20, 260, 300, 700}}; break;
    default: s.rule = Coupled{3, dice.in(80, 200)}; break;
    }
    if (dice.one(3)) s.insetStart = dice.in(0, 90), s.insetEnd = dice.in(0, 90);
    if (dice.one(3)) s.slide = dice.in(-200, 900);
    if (dice.one(5)) s.from = dice.in(50, 300), s.to = dice.in(700, 1000);
    if (dice.one(6)) s.bays = dice.one(2) ? BayEdges::Corners : BayEdges::Stations, s.bayStations = {400, 900};
    switch (dice.of(6)) {
    case 0: run.facing.nose = BetweenPins{}; break;
    case 1: run.facing.nose = AsDrawn{}, out.inWorld = true; break;
    case 2: run.facing.nose = AtTarget{}, run.facing.target = {700, 4100, 900}, out.inWorld = true; break;
    default: break;
    }
    switch (dice.of(6)) {
    case 0: run.facing.crown = Upright{}; break;
    case 1: run.facing.crown = Carried{}; break;
    case 2: run.facing.crown = Outward{}; break;
    case 3: run.facing.crown = Given{}, run.facing.direction = Vec3(0, 0, 1); break;
    default: break;
    }
    if (dice.one(4)) run.facing.turn = Vec3(0, 0, kPi / 2);
    if (dice.one(6)) run.facing.backwards = true;
    if (dice.one(6)) run.facing.turnStep = Vec3(kPi / 2, 0, 0), run.facing.turnEvery = 2;
    if (dice.one(4)) run.changes.across = {{{0, dice.in(-60, 60)}}};
    if (dice.one(6)) run.changes.size = {{{0, 0.8}, {900, 1.4}}};
    if (dice.one(6)) run.changes.roll = {{{0, 0}, {500, 0.5}}};
    if (dice.one(4))
        run.rows = {2, 1, dice.in(90, 160), 100, dice.one(2), dice.one(2) ? RowsKeep::Pitch : RowsKeep::Abreast};
    if (dice.one(6)) run.rows = {1, 2, 100, dice.in(130, 200), dice.one(2)};
    if (dice.one(6)) run.echoes.one = {EchoKind::Mirrored, Vec3(0, 2500, 0), Vec3(0, 1, 0), 2}, out.inWorld = true;
    if (dice.one(6)) run.echoes.one = {EchoKind::InLine, Vec3::Zero(), Vec3(0, 0, 1), 3, dice.in(300, 500)};
    if (run.echoes.one.kind == EchoKind::Mirrored) out.inWorld = true;
    switch (dice.of(6)) {
    case 0: run.sequence.steps = {{parts[0], 1, 1}, {parts[1], 2, 1}}; break;
    case 1:
        run.sequence.steps = {{parts[0], 1, 2}, {parts[1], 1, 1}};
        run.sequence.byWeight = true;
        run.sequence.seed = long(seed % 1000);
        break;
    case 2: run.sequence.first = parts[1], run.sequence.last = parts[2]; break;
    case 3: run.sequence.corner = parts[2], run.sequence.nth = parts[1], run.sequence.every = 3; break;
    default: break;
    }
    if (dice.one(4)) run.leftOut = {2, 5};
    if (dice.one(4)) {
        Exception e;
        e.place = 3;
        if (dice.one(3)) e.station = 450;
        switch (dice.of(5)) {
        case 0: e.part = parts[2]; break;
        case 1: e.size = 1.5; break;
        case 2: e.move = {3, 20, 11}; break;
        case 3: e.turn = {0, 0, 0.7}; break;
        default: e.out = true; break;
        }
        run.exceptions = {e};
    }
    if (dice.one(6)) run.uneven = {4, 3, 2, 0.05, 0, 7};
    run.motion.moves = dice.one(2);
    run.motion.speed = dice.in(-300, 300);
    run.motion.way = MotionWay(dice.of(3));
    if (dice.one(3)) run.motion.stops = {300, 700}, run.motion.dwell = 2;
    if (out.inWorld && std::holds_alternative<Outward>(run.facing.crown)) run.facing.crown = Plumb{};
    out.d = with(d, run);
    out.run = lastId(out.d);
    out.said = "seed " + std::to_string(seed) + ", path kind " + std::to_string(out.kind) + ", rule " +
               std::to_string(s.rule.index());
    return out;
}

double farthest(const RunResult& a, const RunResult& b) {
    if (!a.placed || !b.placed || a.placed->bodies() != b.placed->bodies()) return 1e300;
    double out = 0;
    for (size_t i = 0; i < a.placed->bodies(); ++i) {
        if (a.placed->leftOut(i) != b.placed->leftOut(i)) return 1e200;
        if (!a.placed->leftOut(i)) out = std::max(out, (a.placed->pose(i) - b.placed->pose(i)).cwiseAbs().maxCoeff());
    }
    return out;
}

/// Two boxes as they stand run into one another by more than `deep`: no axis of fifteen parts them.
bool into(const Box3& a, const Mat4& A, const Box3& b, const Mat4& B, double deep) {
    std::array<Vec3, 8> p, q;
    for (int c = 0; c < 8; ++c) {
        p[size_t(c)] = (A * a.corner(Box3::CornerType(c)).homogeneous()).head<3>();
        q[size_t(c)] = (B * b.corner(Box3::CornerType(c)).homogeneous()).head<3>();
    }
    std::vector<Vec3> axes;
    for (int k = 0; k < 3; ++k) {
        axes.push_back(A.block<3, 1>(0, k));
        axes.push_back(B.block<3, 1>(0, k));
        for (int m = 0; m < 3; ++m) axes.push_back(A.block<3, 1>(0, k).cross(B.block<3, 1>(0, m)));
    }
    for (Vec3 n : axes) {
        if (n.norm() < 1e-6) continue;
        n.normalize();
        double a0 = 1e300, a1 = -1e300, b0 = 1e300, b1 = -1e300;
        for (const Vec3& v : p) a0 = std::min(a0, v.dot(n)), a1 = std::max(a1, v.dot(n));
        for (const Vec3& v : q) b0 = std::min(b0, v.dot(n)), b1 = std::max(b1, v.dot(n));
        if (a1 - b0 < deep || b1 - a0 < deep) return false;
    }
    return true;
}

} // namespace

class TestDocumentGrid : public QObject {
    Q_OBJECT
private slots:
    void allSayTheSame();

private:
    QString wrong(const Made&, const RunResult&, const std::shared_ptr<const Evaluation>&);
    QString fitsAgree(const Made&, const RunResult&);
    QString motionAgrees(const RunResult&);
    QString checksAgree(const Made&, const RunResult&, const std::shared_ptr<const Evaluation>&);
    QString editsAgree(const Made&, const RunResult&);
    std::map<std::string, int> m_seen;
};

QString TestDocumentGrid::fitsAgree(const Made& m, const RunResult& run) {
    const auto rows = fitsOf(run);
    if (!rows) return {};
    const Placement& l = *run.placed->laid;
    int used = 0;
    for (const Fit& f : *rows) {
        if (f.inUse) {
            ++used;
            if (f.count != long(l.rowSize))
                return QString("fits say %1 in use, there are %2").arg(f.count).arg(l.rowSize);
            if (std::abs(f.leftOver - l.leftOver) > 1e-6)
                return QString("fits leave %1 over, the run %2").arg(f.leftOver).arg(l.leftOver);
            if (!l.uneven && std::abs(f.pitch - l.pitch) > 1e-6 * std::max(1.0, l.pitch))
                return QString("fits have a pitch of %1, the run %2").arg(f.pitch).arg(l.pitch);
        }
    }
    if (used > 1) return "several fits in use";
    m_seen["fits"] += used;
    // Another row, taken: what it promised.
    RunItem item = *m.d.run(m.run);
    auto* share = std::get_if<ShareOut>(&item.spacing->rule);
    if (!share) return {};
    const Fit& other = (*rows)[size_t(share->count) % rows->size()];
    share->count = other.count;
    const auto e = evaluate(with(m.d, item));
    const auto taken = e->run(m.run);
    if (taken->problem && taken->problem->text.rfind("Row ", 0) == 0) return {}; // that is no matter of the rule
    if (taken->problem) return "a fit that is offered is refused: " + QString::fromStdString(taken->problem->text);
    const Placement& t = *taken->placed->laid;
    if (long(t.rowSize) != other.count) return QString("a fit of %1 gives %2").arg(other.count).arg(t.rowSize);
    if (!t.uneven && std::abs(other.pitch - t.pitch) > 1e-6 * std::max(1.0, t.pitch))
        return QString("a fit of pitch %1 gives %2").arg(other.pitch).arg(t.pitch);
    ++m_seen["fits taken"];
    return {};
}

QString TestDocumentGrid::motionAgrees(const RunResult& run) {
    const auto still = movedRun(run, 0);
    if (!still) {
        ++m_seen["does not move"];
        return still.problem().text.empty() ? "it does not move, and does not say why" : "";
    }
    if (const double d = farthest(**still, run); d > 1e-6) return QString("moved by nothing it is %1 off").arg(d);
    const WayRange r = wayRange(run);
    if (r.lap > 0) {
        const auto round = movedRun(run, r.lap);
        if (!round) return "it does not come round: " + QString::fromStdString(round.problem().text);
        if (const double d = farthest(**round, run); d > 1e-5) return QString("once round it is %1 off").arg(d);
    }
    for (const double share : {0.31, 0.77}) {
        const double way = r.lap > 0 ? share * r.lap : r.back + share * (r.forward - r.back);
        const auto there = movedRun(run, way);
        if (!there && run.item->rows.rows > 1 && there.problem().text.rfind("Row ", 0) == 0) {
            ++m_seen["rows that cross a bend on the way"];
            continue;
        }
        if (!there) return QString("at %1 it is refused: ").arg(way) + QString::fromStdString(there.problem().text);
        const Placed& p = *(*there)->placed;
        if (p.laid->rowSize != run.placed->laid->rowSize)
            return QString("at %1 of %2 to %3 it has %4 places, not %5")
                .arg(way)
                .arg(r.back)
                .arg(r.forward)
                .arg(p.laid->rowSize)
                .arg(run.placed->laid->rowSize);
        for (size_t i = 0; i < p.bodies(); ++i)
            if (!p.pose(i).allFinite()) return QString("at %1 place %2 is not finite").arg(way).arg(i);
    }
    if (run.item->motion.moves)
        for (const double t : {0.4, 3.0, 60.0})
            if (!std::isfinite(wayAt(run, t))) return QString("no way at %1 s").arg(t);
    ++m_seen["moved"];
    return {};
}

QString TestDocumentGrid::checksAgree(const Made& m, const RunResult& run, const std::shared_ptr<const Evaluation>& e) {
    const Placed& p = *run.placed;
    if (p.bodies() > 60) return {};
    Document d = m.d;
    RunItem item = *d.run(m.run);
    Check count;
    count.of = CheckKind::PlaceCount;
    item.checks = {count};
    d = with(d, item);
    CheckMemory memory;
    const auto all = check(evaluate(d), memory);
    const RunChecks& own = *all->run(m.run);
    bool itself = false, gaps = false;
    for (const CheckResult& c : own.list) {
        if (c.check.of == CheckKind::PlaceCount && c.value.value_or(-1) != double(p.present))
            return QString("the check counts %1, there are %2").arg(c.value.value_or(-1)).arg(p.present);
        gaps = gaps || ((c.check.of == CheckKind::ClearGap || c.check.of == CheckKind::Touching) && c.check.on);
        itself = itself || (c.check.of == CheckKind::Itself && c.check.on);
    }
    int there = 0;
    for (size_t i = 0; i < p.count(); ++i) there += !p.leftOut(i);
    if (there != p.present) return QString("%1 of %2 are there").arg(there).arg(p.present);
    if (!itself || !gaps) return {};
    for (size_t i = 0; i < p.bodies(); ++i)
        for (size_t k = i + 1; k < p.bodies(); ++k) {
            if (p.leftOut(i) || p.leftOut(k)) continue;
            if (!into(p.part(i).mesh->box, p.pose(i), p.part(k).mesh->box, p.pose(k), 1)) continue;
            ++m_seen["crossed"];
            if (own.verdict.mark != Mark::Wrong && own.verdict.mark != Mark::Doubtful)
                return QString("places %1 and %2 run into one another, and it is good: %3")
                    .arg(i + 1)
                    .arg(k + 1)
                    .arg(QString::fromStdString(own.verdict.text));
            return {};
        }
    if (own.verdict.mark == Mark::Good) ++m_seen["good"];
    Q_UNUSED(e);
    return {};
}

QString TestDocumentGrid::editsAgree(const Made& m, const RunResult& run) {
    // Through the file.
    const auto back = fromJson(toJson(m.d), {}, readBody);
    if (!back) return "the file is not read: " + QString::fromStdString(back.problem().text);
    const auto e = evaluate(*back);
    if (const double d = farthest(*e->run(m.run), run); d > 1e-9)
        return QString("through the file it is %1 off").arg(d);
    // Twice the other way round.
    const Document once = reversed(m.d, run);
    const auto turned = evaluate(once);
    // With another count from the other end a number is another spot.
    const auto r = turned->run(m.run);
    const bool counted = run.item->leftOut.empty() && run.item->exceptions.empty();
    if (r->placed && !r->problem && (counted || r->placed->count() == run.placed->count())) {
        const Document twice = reversed(once, *r);
        const auto again = evaluate(twice);
        if (const double d = farthest(*again->run(m.run), run); d > 1e-5)
            return QString("twice the other way round it is %1 off").arg(d);
        ++m_seen["reversed"];
    }
    // Moved and turned about z with its path.
    if (m.inWorld || m.follows) return {};
    PathItem path = *m.d.path(m.path);
    const Vec3 about(100, 200, 0), by(-370, 850, 120);
    const auto recipe = movedRecipe(path.recipe, about, by, 0.7, 1);
    if (!recipe) return {};
    path.recipe = *recipe;
    RunItem item = *m.d.run(m.run);
    Mat4 T = Mat4::Identity();
    T.topLeftCorner<3, 3>() = Eigen::AngleAxisd(0.7, Vec3::UnitZ()).toRotationMatrix();
    T.topRightCorner<3, 1>() = about + by - T.topLeftCorner<3, 3>() * about;
    const auto moved = evaluate(with(with(m.d, path), item));
    const auto now = moved->run(m.run);
    if (!now->placed || now->problem) return "moved with its path it is refused";
    double off = now->placed->bodies() == run.placed->bodies() ? 0 : 1e300;
    for (size_t i = 0; off < 1e300 && i < run.placed->bodies(); ++i)
        if (now->placed->leftOut(i) != run.placed->leftOut(i))
            off = 1e200;
        else if (!run.placed->leftOut(i))
            off = std::max(off, (now->placed->pose(i) - T * run.placed->pose(i)).cwiseAbs().maxCoeff());
    if (off > 1e-5) return QString("moved with its path it is %1 off").arg(off);
    ++m_seen["moved with its path"];
    return {};
}

QString TestDocumentGrid::wrong(const Made& m, const RunResult& run, const std::shared_ptr<const Evaluation>& e) {
    const Placed& p = *run.placed;
    const double L = p.path.length();
    for (size_t i = 0; i < p.bodies(); ++i)
        if (!p.pose(i).allFinite()) return QString("place %1 is not finite").arg(i);
    for (size_t i = 0; i < p.laid->rowSize; ++i)
        if (!(p.stations()[i] >= -1e-9 && p.stations()[i] <= L + 1e-9))
            return QString("place %1 is off the path").arg(i);
    for (const QString& what : {fitsAgree(m, run), motionAgrees(run), checksAgree(m, run, e), editsAgree(m, run)})
        if (!what.isEmpty()) return what;
    return {};
}

void TestDocumentGrid::allSayTheSame() {
    const auto number = [](const char* name, int otherwise) {
        const int n = qEnvironmentVariableIntValue(name);
        return n > 0 ? n : otherwise;
    };
    const int one = number("VICINAL_DOCUMENT", 0), many = one ? one + 1 : number("VICINAL_DOCUMENTS", 400);
    int sound = 0, faults = 0;
    std::map<std::string, int> refused;
    Digests now;
    std::set<int> kinds;
    for (int n = one; n < many; ++n) {
        const Made m = made(std::uint64_t(n));
        if (qEnvironmentVariableIsSet("SAY")) fprintf(stderr, "%d\n", n);
        const auto e = evaluate(m.d);
        const auto run = e->run(m.run);
        if (n < 400) {
            Digest& d = now["path " + std::to_string(m.kind) + ", rule " +
                            std::to_string(m.d.run(m.run)->spacing->rule.index())];
            tell(d, *e->paths.at(m.path)), tell(d, *run);
        }
        if (run->problem) {
            QVERIFY2(!run->problem->text.empty(), m.said.c_str());
            ++refused[run->problem->text.substr(0, 40)];
            continue;
        }
        ++sound;
        kinds.insert(m.kind);
        const QString what = wrong(m, *run, e);
        if (what.isEmpty()) continue;
        if (++faults <= 25) qWarning("%s: %s", m.said.c_str(), qPrintable(what));
        if (one) qWarning("%s", toJson(Document(with(Document(m.d), *m.d.run(m.run)))).c_str());
    }
    if (one || many > 400) {
        for (const auto& [why, count] : refused) qInfo("%d refused: %s", count, why.c_str());
        for (const auto& [what, count] : m_seen) qInfo("%d %s", count, what.c_str());
    }
    QCOMPARE(faults, 0);
    if (one) return;
    QVERIFY2(sound * 2 > many, qPrintable(QString::number(sound)));
    QCOMPARE(int(kinds.size()), kPaths);
    for (const char* what : {"fits", "fits taken", "moved", "crossed", "good", "reversed", "moved with its path"})
        QVERIFY2(m_seen[what] > 8, what);
    if (many < 400) return;
    const auto changed = differences("documents_grid", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

VICINAL_SUITE(TestDocumentGrid)

} // namespace test_document_grid
#include "test_document_grid.moc"
