// Everything that is made of bodies, against what it was before: see frozen.h. Every maker with other sizes than its
// first ones, seated askew, cut, railed, and held near one another.
#include "base/describe.h"
#include "clearance/depth.h"
#include "clearance/falling.h"
#include "clearance/opening.h"
#include "clearance/pairs.h"
#include "frozen.h"
#include "parts/body.h"
#include "parts/cuts/flat_cut.h"
#include "parts/cuts/prism.h"
#include "parts/cuts/solid_cut.h"
#include "parts/cuts/webs.h"
#include "parts/makers/maker.h"
#include "parts/makers/sprocket.h"
#include "parts/rails/bent.h"
#include "parts/rails/pieces.h"
#include "parts/solid/outline.h"
#include "parts/solid/solid.h"
#include "suite.h"
#include "support.h"

namespace test_frozen_parts {

using namespace vicinal;
using namespace vicinal::test;

namespace {

/// Every value of a maker another one, by a number.
struct Other : IgnoreValues {
    int which;
    mutable int met = 0;
    explicit Other(int n) : which(n) {}
    void length(const char*, const char*, const char*, double& v) const {
        ++met;
        v = v > 0 ? v * (1 + 0.013 * ((met * 5 + which * 3) % 7 - 3)) : which % 2 ? 3.5 : v;
    }
    void number(const char* k, const char* l, const char* t, double& v) const { length(k, l, t, v); }
    void count(const char*, const char*, const char*, long& v) const { v += which; }
    void flag(const char*, const char*, const char*, bool& v) const { v = which % 2 ? !v : v; }
    template<class E> void choice(const char*, const char*, const char*, E& v, ChoiceWords words) const {
        v = E((int(v) + which) % int(words.size()));
    }
};

void tell(Digest& d, const Mesh& m) {
    d.add(double(m.points.size())), d.add(double(m.triangles.size()));
    d.add(m.box.min()), d.add(m.box.max());
    d.add(std::cbrt(volumeOf(m))), d.add(std::sqrt(areaOf(m))), d.add(centreOf(m));
    d.addAnyhow(m.points);
}
void tell(Digest& d, const Ring& r) {
    std::vector<Vec3> corners;
    for (const Segment& s : r) corners.push_back(startOf(s));
    d.add(std::cbrt(areaOf(r))), d.addAnyhow(corners);
}
void tell(Digest& d, const Body& b, const Seat& seat) {
    tell(d, *b.mesh);
    d.add(double(b.cuts) + 2 * double(b.slow));
    if (const auto pins = pinsOf(b, seat)) d.add((*pins)[0]), d.add((*pins)[1]);
    const Box3 e = extents(b, seat);
    d.add(e.min()), d.add(e.max());
    const Measures m = measuresOf(b, seat);
    for (double v : {m.before, m.behind, m.left, m.right, m.up, m.down, std::cbrt(m.volume), std::sqrt(m.area),
                     m.pinDistance.value_or(-1), double(m.exact), double(m.watertight)})
        d.add(v);
    d.add(m.centre);
    d.add(enclosedVolume(b) ? std::cbrt(*enclosedVolume(b)) : -1), d.add(farOrigin(b.mesh->box));
    std::vector<Vec3> marks;
    for (const Hole& h : holesOf(b))
        marks.insert(marks.end(), {h.centre, h.axis.cwiseAbs(), Vec3(h.radius, h.depth, h.error)});
    d.addAnyhow(marks), marks.clear();
    for (const RoundFace& r : roundFacesOf(b))
        marks.insert(marks.end(), {r.centre, r.axis.cwiseAbs(), Vec3(r.radius, r.half, double(r.hole))});
    d.addAnyhow(marks), marks.clear();
    for (const Spot& s : spotsOf(b))
        marks.insert(marks.end(), {s.at, s.direction, Vec3(double(s.kind), s.size, s.error)});
    d.addAnyhow(marks);
    for (const Proposal& p : proposalsFor(b, seat)) {
        d.add(double(p.kind)), d.add(p.seat.nose.v), d.add(p.seat.crown.v);
        if (const auto* at = std::get_if<Vec3>(&p.seat.point)) d.add(*at);
    }
    const TriangleFacts facts = factsOf(b);
    d.add(facts.error), d.add(double(facts.closed));
}

Seat askew() {
    Seat s;
    s.nose = Vec3(1, 0.4, 0.1);
    s.crown = Vec3(0.1, -0.2, 1);
    s.point = Vec3(7, -3, 11);
    return s;
}

Ring roundRing(double x, double y, double r) { return {Arc{{x, y, 0}, Vec3::UnitX(), Vec3::UnitY(), r, 2 * kPi}}; }
Ring corners(const std::vector<Vec2>& c) {
    Ring out;
    for (size_t i = 0; i < c.size(); ++i) {
        const Vec2 &a = c[i], &b = c[(i + 1) % c.size()];
        out.push_back(Line{{a.x(), a.y(), 0}, {b.x(), b.y(), 0}});
    }
    return out;
}
Ring loose(int seed, double x, double y, double r) { // smooth, of no kind
    std::vector<Vec3> p;
    for (int k = 0; k < 7; ++k) {
        const double a = 2 * kPi * k / 7, far = r * (1 + 0.3 * std::sin(3.0 * k + seed));
        p.push_back({x + far * std::cos(a), y + far * std::sin(a), 0});
    }
    return splineThrough(p, true);
}
const Seat kPlain{};
/// 0 to 1, anything.
double chance01(int a, int b) { return std::fmod(0.5 + 0.61803 * a + 0.75488 * b + 0.01 * a * b, 1); }

} // namespace

class TestFrozenParts : public QObject {
    Q_OBJECT
private slots:
    void bodiesAreAsTheyWere();
};

void TestFrozenParts::bodiesAreAsTheyWere() {
    Digests now;
    std::map<std::string, BodyPtr> bodies;
    for (const auto& entry : makerEntries())
        for (int which = 1; which < 3; ++which) {
            Maker maker = entry.maker;
            describe(Other(which), maker);
            Digest& d = now[std::string("maker ") + entry.name];
            const auto made = make(maker);
            if (!made) {
                d.say(made.problem().text + "|" + made.problem().field);
                continue;
            }
            const BodyPtr b = *bodyOf(made);
            bodies.emplace(entry.name, b);
            tell(d, *b, which == 1 ? askew() : kPlain);
            if (which != 1) continue;
            const SolidPtr s = solidOf(*b);
            d.add(double(faceCount(*s))), d.add(double(solidCount(*s))), d.add(std::cbrt(volumeOf(*s)));
            d.add(std::sqrt(areaOf(*s))), d.add(boxOf(*s, someRotation(), {1, 2, 3}).max());
            const Outline o = outlineOf(*b, askew(), bodies.size() % 2 ? Look::Crown : Look::Side);
            d.add(std::sqrt(o.area)), d.add(double(o.exact));
            for (const Ring& r : o.rings) tell(d, r);
            double within = b->mesh->box.sizes().maxCoeff() / 300;
            if (const auto fine = fineMesh(*b, within)) d.add(double(fine->triangles.size())), d.add(within);
            Mat3 flip = someRotation();
            flip.col(1) *= -1;
            tell(d, *moved(b, flip, {30, 20, 10}, 1.3), kPlain);
            tell(d, *bodyOf(b->mesh), askew()); // its triangles alone
            if (const auto p = prismOf(*b)) {
                d.add(p->axes), d.add(p->from), d.add(p->to), d.add(std::sqrt(areaInside(p->rings)));
                tell(d, *bodyOf(*p), kPlain);
            }
        }
    for (long teeth = 6; teeth < 40; teeth += 7) {
        Sprocket s;
        s.teeth = teeth;
        if (const auto made = make(Maker(s))) tell(now["sprockets"], *made->mesh);
    }
    {
        Digest& d = now["several"];
        std::vector<BodyPtr> all;
        for (const char* name : {"Box", "Cylinder", "Tube"})
            for (const auto& [of, b] : bodies)
                if (of.find(name) != std::string::npos)
                    all.push_back(moved(b, someRotation(), Vec3(40.0 * double(all.size()), 0, 0)));
        d.add(double(all.size()));
        tell(d, *together(all), kPlain);
    }

    {
        Digest& d = now["flat cuts"];
        const std::vector<std::vector<Ring>> plates{
            {corners({{0, 0}, {600, 0}, {600, 400}, {0, 400}})},
            {corners({{0, 0}, {600, 0}, {500, 400}, {-80, 380}}), roundRing(200, 200, 60)},
            {loose(3, 300, 200, 260)}};
        for (const auto& plate : plates)
            for (int round = 0; round < 6; ++round) {
                std::vector<Ring> tools;
                for (int i = 0; i < 9; ++i) {
                    const double x = 620 * chance01(round, i), y = 420 * chance01(round, i + 50),
                                 r = 12 + 60 * chance01(round, i + 90);
                    tools.push_back(i % 3 == 0   ? roundRing(x, y, r)
                                    : i % 3 == 1 ? corners({{x, y}, {x + r, y + 5}, {x + 0.7 * r, y + r}})
                                                 : loose(i, x, y, r));
                }
                tools.push_back(roundRing(600, 0, 30));                               // at the corner
                tools.push_back(corners({{100, 0}, {160, 0}, {160, 40}, {100, 40}})); // along the edge
                const auto left = cutFlat(plate, tools);
                if (!left) {
                    d.say(left.problem().text);
                    continue;
                }
                for (const Ring& r : left->rings) tell(d, r);
                for (const auto& list : {left->missed, left->overEdge, left->whole})
                    for (size_t i : list) d.add(double(i));
                for (const auto& [a, b] : left->together) d.add(double(a)), d.add(double(b));
                std::vector<Ring> whole;
                for (size_t i : left->whole) whole.push_back(tools[i]);
                for (const Web& w : websOf(whole, plate)) {
                    d.add(double(w.hole)), d.add(w.other == Web::kEdge ? -1 : double(w.other)), d.add(w.width);
                    d.add(w.from.x()), d.add(w.to.y());
                }
                if (const auto solid = extruded(left->rings, -3, 9)) d.add(std::cbrt(volumeOf(**solid)));
            }
    }
    {
        // Outlines run either way round, each of them for itself.
        Digest& d = now["extruded"];
        const auto back = [](const Ring& r) {
            Ring out;
            for (size_t k = r.size(); k-- > 0;) out.push_back(reversed(r[k]));
            return out;
        };
        for (int way = 0; way < 8; ++way) {
            const Ring outer = corners({{0, 0}, {600, 0}, {500, 400}, {-80, 380}}), hole = roundRing(200, 200, 60),
                       other = loose(4, 380, 200, 70);
            const std::vector<Ring> rings{way & 1 ? back(outer) : outer, way & 2 ? back(hole) : hole,
                                          way & 4 ? back(other) : other};
            const auto solid = extruded(rings, -3, way % 3 ? 9 : -3);
            if (!solid) {
                d.say(solid.problem().text);
                continue;
            }
            d.add(std::cbrt(volumeOf(**solid))), d.add(std::sqrt(areaOf(**solid))), d.add(areaInside(rings) / 1000);
            if (const auto b = bodyOf(*solid)) tell(d, **b, kPlain);
        }
    }
    {
        Digest& d = now["solid cuts"];
        bool raise = false;
        for (const auto& [name, b] : bodies) {
            raise = !raise;
            if (b->slow || b->mesh->box.sizes().minCoeff() <= 0) continue;
            const Vec3 size = b->mesh->box.sizes(), middle = b->mesh->box.center();
            const double r = size.minCoeff() / 5;
            std::vector<Tool> tools;
            tools.push_back({ToolPrism{std::make_shared<const std::vector<Ring>>(std::vector<Ring>{roundRing(0, 0, r)}),
                                       Eigen::AngleAxisd(0.3, Vec3::UnitX()).toRotationMatrix(), middle, 1.1,
                                       -2 * size.z(), 2 * size.z()}});
            tools.push_back({ToolPrism{
                std::make_shared<const std::vector<Ring>>(std::vector<Ring>{corners({{0, 0}, {r, 0}, {0, r}})}),
                Mat3::Identity(), Vec3(b->mesh->box.max() + Vec3(900, 0, 0)), 1, 0, 5}});
            std::vector<size_t> missed;
            const auto cut = cutSolid(*b, tools, raise, missed);
            if (!cut) {
                d.say(name + cut.problem().text);
                continue;
            }
            d.add(std::cbrt(volumeOf(**cut))), d.add(std::sqrt(areaOf(**cut)));
            for (size_t i : missed) d.add(double(i));
        }
    }
    {
        Digest& d = now["rails"];
        const Path bend =
            pathOf({Line{{0, 0, 0}, {900, 0, 120}}, Arc{{900, 600, 120}, -Vec3::UnitY(), Vec3::UnitX(), 600, 1.2}});
        const Path sharp =
            pathOf({Line{{0, 0, 0}, {300, 0, 0}}, Arc{{300, 18, 0}, -Vec3::UnitY(), Vec3::UnitX(), 18, 1.9}});
        const Path mitred = pathOf({Line{{0, 0, 0}, {700, 0, 0}}, Line{{700, 0, 0}, {1000, 500, 200}},
                                    Line{{1000, 500, 200}, {1000, 1300, 200}}});
        const Ring own = loose(2, 0, 0, 25);
        for (const RailForm form :
             {RailForm::Round, RailForm::Square, RailForm::Flat, RailForm::Angle, RailForm::Outline})
            for (const double wall : {0.0, 4.0}) {
                const auto face = railFace({form, 44, 30, wall, 0.2}, form == RailForm::Outline ? &own : nullptr);
                if (!face) {
                    d.say(face.problem().text + "|" + face.problem().field);
                    continue;
                }
                tell(d, *face->mesh);
                for (double a : {0.0, 1.0, 2.5}) d.add(reachOf(face->hull, {std::cos(a), std::sin(a)}));
                for (const Path* line : {&bend, &mitred, &sharp})
                    for (const auto& ends :
                         {RailEnds{}, RailEnds{RailEnd::Capped, RailEnd::Returned, 5, RailReturn::Down, 90, 60},
                          RailEnds{RailEnd::Returned, RailEnd::Capped, 3, RailReturn::Left, 70, 40}}) {
                        RailUps ups;
                        if (wall > 0) ups = {{0, 500, 1300}, {Vec3(0, 0.1, 1), Vec3(0.1, 0.3, 1), Vec3(0, 0, 1)}};
                        const auto rail = bentRail(*line, ups, *face, ends);
                        if (!rail) {
                            d.say(rail.problem().text + "|" + rail.problem().field);
                            continue;
                        }
                        tell(d, *rail->body->mesh);
                        d.add(rail->home), d.add(rail->length), d.add(double(rail->mitred));
                    }
                const auto places = randomPoints(8, 5, 150);
                const auto pieces =
                    straightRails(places, {}, face->hull,
                                  {form == RailForm::Flat ? RailJoint::Overlapping : RailJoint::Mitred, 3, 20});
                if (pieces) tell(d, *piecesBody(*pieces, *face, places[0])->mesh);
            }
    }
    {
        Digest& d = now["near one another"];
        std::vector<BodyPtr> all;
        for (const auto& [name, b] : bodies)
            if (b->mesh->triangles.size() < 3000) all.push_back(b);
        std::vector<PosedBody> standing;
        for (size_t i = 0; i < all.size(); ++i) {
            PosedBody s;
            s.body = all[i];
            s.size = 100 / all[i]->mesh->box.sizes().maxCoeff(); // all alike
            const Mat3 R = Eigen::AngleAxisd(0.4 * double(i), Vec3(1, 0.3, 0.7).normalized()).toRotationMatrix();
            s.turn = s.size * R;
            s.at = Vec3(62.0 * double(i), 9 * std::sin(double(i)), 6 * std::cos(double(i))) -
                   s.turn * s.body->mesh->box.center();
            s.place = int(i);
            standing.push_back(s);
        }
        std::vector<std::pair<const PosedBody*, const PosedBody*>> pairs;
        std::vector<Box3> boxes;
        for (const PosedBody& s : standing) boxes.push_back(s.box());
        const auto within = *pairsWithin(boxes, boxes, 70);
        for (const auto& [a, b] : within) pairs.push_back({&standing[a], &standing[b]});
        d.add(double(pairs.size()));
        PairMemory memory;
        const auto first = memory.measure(pairs, 90);
        for (PosedBody& s : standing) s.at += Vec3(0.01 * (s.place % 3), 0, 0.02 * (s.place % 2));
        PairMemory::Approximate approximate;
        approximate.least = 5;
        for (const auto& values : {first, memory.measure(pairs, 90, nullptr, &approximate), memory.measure(pairs, 90)})
            for (const PairValue& v : values) {
                d.add(v.found() ? v.clear : -999);
                for (double x : {double(v.crossing), double(v.depthKnown), v.error, double(v.exact), v.about}) d.add(x);
            }
        for (const PosedBody& s : standing) d.add(double(memory.sound(s.body)));
        for (const auto& [a, b] : pairs) {
            const RelativePose lie = relativePose(*a, *b);
            const MeshTree &ta = treeOf(*a->body), &tb = treeOf(*b->body);
            if (!ta.closed() || !tb.closed()) continue;
            const Depth deep = depthOf(ta, tb, lie);
            d.add(deep.by / a->body->mesh->box.sizes().maxCoeff());
            d.add(double(overlapping(ta, tb, lie)));
            if (!cross(ta, tb, lie)) d.add(double(contained(ta, tb, lie)));
        }
    }
    {
        Digest& d = now["pins in holes"];
        const BodyPtr link = *bodyOf(make(Maker(RollerLink{})));
        RollerLink outer;
        outer.kind = RollerLink::Kind::Outer;
        const BodyPtr other = *bodyOf(make(Maker(outer)));
        for (const double by : {25.4, 25.41, 25.3, 20.0})
            for (const double turn : {0.0, 0.4}) {
                const RelativePose lie{Eigen::AngleAxisd(turn, Vec3::UnitY()).toRotationMatrix(), Vec3(by, 0, 0), 1};
                const Fits f = fitsOf(roundFacesOf(*link), roundFacesOf(*other), lie, 0.05);
                d.add(double(f.spared.size())), d.add(f.tight);
                for (const Spared& s : f.spared) d.add(s.point), d.add(s.axis), d.add(s.radius), d.add(s.half);
                d.add(depthOf(treeOf(*link), treeOf(*other), lie, f.spared).by);
            }
    }
    {
        Digest& d = now["openings and falls"];
        std::vector<BodyPtr> posts;
        for (const auto& [name, b] : bodies)
            if (b->mesh->box.sizes().z() > 2 * b->mesh->box.sizes().x() && b->mesh->triangles.size() < 3000)
                posts.push_back(b);
        d.add(double(posts.size()));
        const BodyPtr bar = *bodyOf(make(Maker(PlainBox{2000, 20, 20})));
        for (const BodyPtr& a : posts)
            for (const double lean : {0.0, 0.07}) {
                const double h = a->mesh->box.max().z(), w = a->mesh->box.sizes().x();
                PosedBody one{a}, two{a, 1.1 * Eigen::AngleAxisd(lean, Vec3::UnitY()).toRotationMatrix(),
                                      Vec3(3 * w, 0.2 * w, 0.05 * h), 1.1, 1};
                PosedBody rail{bar, Mat3::Identity(), Vec3(0, 0, 0.4 * h), 1, 2};
                OpeningOrder o;
                o.a = &one, o.b = &two;
                o.footB = two.at;
                o.from = 0.05 * h, o.to = 0.9 * h, o.thickness = a->mesh->box.sizes().y();
                for (const bool railed : {false, true}) {
                    o.more.clear();
                    if (railed) o.more = {&rail};
                    const Opening open = widestOpening(o);
                    d.add(open.diameter), d.add(open.error), d.add(open.centre);
                }
                o.b = nullptr, o.limit = 1.4 * w;
                d.add(widestOpening(o).diameter);
                const FallingBody falling{&one, {Mat3::Identity(), one.at}, a->mesh->box};
                const FallingBody there{&two, {Mat3(two.turn / two.size), two.at}, a->mesh->box};
                const Fall f = fallOn(falling, there);
                for (double v : {double(f.hits), f.angle, f.share, f.aside}) d.add(v);
            }
    }

    const auto changed = differences("parts", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

VICINAL_SUITE(TestFrozenParts)

} // namespace test_frozen_parts
#include "test_frozen_parts.moc"
