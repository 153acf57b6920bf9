// Everything that is made of paths and meshes, against what it was before: see frozen.h. Curves of the trade, drawn and
// random ones, each through everything that can be done with it.
#include "frozen.h"
#include "geometry/curves/crossings.h"
#include "geometry/curves/edit.h"
#include "geometry/curves/offset.h"
#include "geometry/curves/rails.h"
#include "geometry/curves/shapes.h"
#include "geometry/curves/snap.h"
#include "geometry/heights/laid.h"
#include "geometry/heights/lifted.h"
#include "geometry/mesh/distance.h"
#include "geometry/mesh/ground.h"
#include "geometry/mesh/ray.h"
#include "geometry/mesh/self_crossing.h"
#include "geometry/path/chain.h"
#include "geometry/path/spline.h"
#include "geometry/terrain/flat_triangles.h"
#include "geometry/terrain/terrain.h"
#include "geometry/wheels/hull.h"
#include "geometry/wheels/wheels.h"
#include "suite.h"
#include "support.h"

namespace test_frozen_shapes {

using namespace vicinal;
using namespace vicinal::test;

namespace {

void tell(Digest& d, const Path& p) {
    d.add(p.length());
    d.add(double(p.closed()));
    d.add(double(p.segments().size()));
    for (double f : {0.0, 0.137, 0.31, 0.5, 0.683, 0.91, 1.0}) {
        const Sample s = p.at(f * p.length(), true);
        d.add(s.point), d.add(s.tangent), d.add(s.carried);
    }
    for (const Corner& c : p.corners()) d.add(c.station), d.add(c.before), d.add(c.after);
    for (const SteepStretch& s : p.steepStretches())
        for (double v : {s.start, s.end, s.from, s.to}) d.add(v);
    d.add(p.steepest()), d.add(p.bounds().min()), d.add(p.bounds().max()), d.add(p.closingTwist());
    d.add(p.hull().min()), d.add(p.hull().max());
}
void tell(Digest& d, const std::vector<Segment>& s, bool closed) {
    if (s.empty()) return d.say("nothing");
    const auto p = Path::make(s, closed, 1);
    if (!p) return d.say(p.problem().text);
    tell(d, *p);
}
void tell(Digest& d, const std::vector<Vec3>& points) {
    d.add(double(points.size()));
    for (const Vec3& p : points) d.add(p);
}
template<class T> void tell(Digest& d, const Result<T>& r, const std::function<void(const T&)>& use) {
    if (r)
        use(*r);
    else
        d.say(r.problem().text + "|" + r.problem().field);
}
void tell(Digest& d, const Result<std::vector<Segment>>& r, bool closed) {
    tell<std::vector<Segment>>(d, r, [&](const auto& s) { tell(d, s, closed); });
}
void tell(Digest& d, const Mesh& m) {
    d.add(double(m.points.size())), d.add(double(m.triangles.size()));
    d.add(m.box.min()), d.add(m.box.max()), d.add(std::cbrt(volumeOf(m))), d.add(std::sqrt(areaOf(m))),
        d.add(centreOf(m));
    d.addAnyhow(m.points);
}

struct Named {
    std::string name;
    Result<Curve> curve;
};
std::vector<Named> curves() {
    std::vector<Named> out{{"circle", circle(731)},
                           {"ellipse", ellipse(900, 410)},
                           {"rectangle", rectangle(1200, 700, 90)},
                           {"sharp rectangle", rectangle(1200, 700, 0)},
                           {"too round rectangle", rectangle(1200, 700, 400)},
                           {"slot", slot(1500, 500)},
                           {"polygon", polygon(7, 800)},
                           {"no polygon", polygon(2, 800)},
                           {"helix", helix(500, 500, 2.4, 900, false)},
                           {"cone", helix(500, 200, 3.1, 700, true)},
                           {"spiral", helix(100, 600, 2.5, 0, false)},
                           {"swag", swag({0, 0, 1000}, {2000, 300, 1200}, SwagBy::Sag, 300)},
                           {"slack swag", swag({0, 0, 1000}, {2000, 300, 1200}, SwagBy::Slack, 80)},
                           {"no swag", swag({0, 0, 1000}, {0, 0, 1200}, SwagBy::Slack, 80)}};
    const std::vector<PolyPoint> legs{{{0, 0, 0}}, {{900, 0, 40}, 120}, {{1000, 700, 80}, 60}, {{200, 900, 0}}};
    out.push_back({"filleted", filleted(legs, false)});
    out.push_back({"filleted round", filleted(legs, true)});
    std::vector<PolyPoint> tight = legs;
    tight[1].radius = 2000;
    out.push_back({"filleted too much", filleted(tight, false)});
    for (unsigned seed : {1u, 2u, 3u, 4u}) {
        const auto p = randomPoints(seed, 6, seed % 2 ? 300 : 0);
        out.push_back({"spline " + std::to_string(seed), Curve{splineThrough(p), false}});
        std::vector<Segment> bent;
        for (size_t i = 0; i + 1 < p.size(); ++i) bent.push_back(Line{p[i], p[i + 1]});
        out.push_back({"legs " + std::to_string(seed), Curve{bent, false}});
    }
    out.push_back({"knot", Curve{knot().segments(), true}});
    std::vector<Vec3> eight; // crosses itself
    for (int i = 0; i < 16; ++i) {
        const double a = i * kPi / 8;
        eight.push_back({900 * std::sin(a), 500 * std::sin(2 * a), 40 * std::cos(a)});
    }
    out.push_back({"eight", Curve{splineThrough(eight, true), true}});
    out.push_back({"ellipse arc", Curve{{ellipseArc({10, 20, 30}, {700, 100, 0}, {-40, 280, 90}, 0.4, 4.9)}, false}});
    out.push_back({"straight up", Curve{{Line{{0, 0, 0}, {700, 0, 0}}, Line{{700, 0, 0}, {700, 0, 600}},
                                         Line{{700, 0, 600}, {700, 900, 650}}},
                                        false}});
    const std::vector<Vec3> rim{{0, 0, 0}, {600, 0, 0}, {600, 0, 500}, {0, 0, 500}};
    std::vector<Segment> upright; // steep across its seam
    for (size_t i = 0; i < 4; ++i) upright.push_back(Line{rim[(i + 1) % 4], rim[(i + 2) % 4]});
    out.push_back({"upright frame", Curve{upright, true}});
    std::vector<Vec3> hoop;
    for (int i = 0; i < 12; ++i)
        hoop.push_back({500 * std::sin(i * kPi / 6), 20 * std::sin(i * kPi / 3), 500 * std::cos(i * kPi / 6)});
    out.push_back({"upright hoop", Curve{splineThrough(hoop, true), true}});
    return out;
}

/// A sheet with hills, and a stair that hangs over.
Mesh hills() {
    LevelData levels;
    for (int i = 0; i < 14; ++i)
        for (int k = 0; k < 11; ++k)
            levels.points.push_back({-1500 + 280.0 * i + 31 * ((i * 7 + k * 3) % 5),
                                     -1500 + 300.0 * k + 27 * ((i * 3 + k * 5) % 4),
                                     130 * std::sin(0.7 * i) * std::cos(0.9 * k) - 200});
    levels.breaks = {{{-1200, -900, -150}, {0, 100, -90}, {1300, 400, -60}}};
    return terrainOf(levels)->mesh;
}

} // namespace

class TestFrozenShapes : public QObject {
    Q_OBJECT
private slots:
    void pathsAreAsTheyWere();
};

void TestFrozenShapes::pathsAreAsTheyWere() {
    Digests now;
    const auto hilly = std::make_shared<const Mesh>(hills());
    const Ground ground(hilly, std::make_shared<const LazyTree>(),
                        Eigen::AngleAxisd(0.3, Vec3::UnitZ()).toRotationMatrix(), Vec3(40, -70, 15));
    for (const auto& [name, curve] : curves()) {
        Digest& d = now[name];
        if (!curve) {
            d.say(curve.problem().text + "|" + curve.problem().field);
            continue;
        }
        const Path p = pathOf(curve->segments, curve->closed);
        const double L = p.length();
        tell(d, p);
        std::vector<double> some = evenly(L, 37);
        std::vector<Sample> samples(some.size());
        p.sample(some, true, samples);
        for (const Sample& s : samples) d.add(s.point), d.add(s.tangent), d.add(s.carried);
        for (const Vec3& q : {Vec3(100, 200, 300), Vec3(-700, 40, 0), Vec3(1500, -600, -50)}) d.add(p.closest(q));
        for (double f : {0.2, 0.77}) d.add(double(p.locate(f * L).span)), d.add(p.locate(f * L).t);
        tell(d, p.polyline(2));
        const PathFacts facts = factsOf(p);
        d.add(facts.normal), d.add(facts.middle), d.add(facts.sharpest), d.add(facts.sharpestAt);
        d.add(double(facts.planar)), d.add(double(facts.crossings));
        for (const Vec3& k : curvatures(p, some)) d.add(Vec3(1000 * k));

        Digest& e = now[name + ", edited"];
        for (const auto& [a, b] : {std::pair{0.2, 0.7}, {0.8, 0.3}, {-0.1, 0.4}, {0.6, 1.3}, {0.5, 0.5}})
            tell(e, stretchOf(p, a * L, b * L), false);
        tell(e, backwards(p), p.closed());
        tell(e, startMovedTo(p, 0.37 * L), true);
        tell(e, mirrored(p, {100, 0, 0}, Vec3(1, 2, 0.5).normalized()), p.closed());
        tell(e, projectedTo(p, {0, 0, 50}, Vec3(0.2, 0, 1).normalized()), p.closed());
        tell(e, projectedTo(p, {0, 0, 0}, Vec3::UnitX()), p.closed());
        tell(e, evenPoints(p, 17));
        tell(e, smoothedPoints(p, 60, 150, true));
        tell(e, smoothedPoints(p, 60, 90, false));
        tell(e, simplified(evenPoints(p, 80), 12));
        for (const Segment& s : p.segments()) {
            tell(e, cubicsNear(s, 0.05), false);
            const auto [a, b] = split(s, 0.4);
            e.add(endOf(a)), e.add(startOf(b)), e.add(endOf(b));
            e.add(startOf(moved(s, someRotation(), {1, 2, 3}, 1.5)));
        }
        const std::vector<Path> two{pathOf(*stretchOf(p, 0.1 * L, 0.4 * L)), pathOf(*stretchOf(p, 0.45 * L, 0.9 * L))};
        for (double gap : {1.0, 600.0})
            tell<Joined>(e, joined(two, gap), [&](const Joined& j) {
                tell(e, j.segments, j.closed);
                for (const Joint& t : j.joints)
                    for (double v : {double(t.before), double(t.after), t.gap, double(t.turned), double(t.bridged)})
                        e.add(v);
            });
        std::vector<Strand> strands;
        for (const Segment& s : p.segments()) strands.push_back({{strands.size() % 2 ? reversed(s) : s}, false, "a"});
        if (strands.size() < 40)
            for (const Strand& s : chainByEnds(strands, 0.5)) tell(e, s.segments, s.closed);

        Digest& o = now[name + ", beside"];
        for (const double by : {40.0, -40.0, 260.0, 5000.0})
            for (const CornerStyle style : {CornerStyle::Round, CornerStyle::Sharp})
                tell<Offset>(o, offsetOf(p, by, style), [&](const Offset& f) {
                    tell(o, f.curve.segments, f.curve.closed);
                    for (const auto& part : f.others) o.add(part.length), tell(o, part.segments, part.closed);
                    for (const auto& part : f.vanished) o.add(part.length);
                });
        for (const Crossing& c : crossingsInPlan(p.spans(), p.closed(), 5)) {
            for (double v : {double(c.a), double(c.b), c.ta, c.tb}) o.add(v);
            o.add(c.at);
        }
        const NearestSpan near(p.spans(), 3);
        for (const Vec3& q : {Vec3(100, 200, 0), Vec3(-700, 40, 0), Vec3(2500, -1600, 0)})
            o.add(near.distance(q, 1500));
        for (const Vec3& q :
             {Vec3(p.at(0.3 * L).point + Vec3(3, 2, 0)), Vec3(p.at(L).point + Vec3(1, -2, 1)), Vec3(37, 52, 0)}) {
            SnapQuery query;
            query.pointer = q, query.normal = Vec3::UnitZ(), query.from = Vec3(-400, -900, 0), query.gridStep = 25;
            query.away = [&](const Vec3& at) { return (at - q).norm(); };
            for (int k = 0; k < 9; ++k) { // the strongest off, one after the other
                const auto s = snapTo(query, std::span(&p, 1), evenPoints(p, 5));
                if (!s) break;
                o.say(nameOf(s->kind)), o.add(s->at);
                query.off.insert(s->kind);
            }
        }

        Digest& l = now[name + ", laid and lifted"];
        for (const LayOrder& order :
             {LayOrder{}, LayOrder{{0.1, 0.2, -1}, true, 0, 7}, LayOrder{-Vec3::UnitZ(), false, 20, 0}})
            tell<LaidPath>(l, laidOn(p, ground, order), [&](const LaidPath& on) {
                tell(l, on.segments, on.closed);
                for (const auto& [a, b] : on.bridged) l.add(a), l.add(b);
                for (double v :
                     {on.lostAtStart, on.lostAtEnd, double(on.upright), double(on.overhangs), on.off, on.offAt})
                    l.add(v);
            });
        const Path across = pathOf({Line{{-900, -200, 10}, {1900, 350, 25}}});
        for (const auto& [order, other] : {std::pair<LiftOrder, const Path*>{{}, nullptr},
                                           {{30, 60, OnTop::Earlier, {1}}, nullptr},
                                           {{25, 50, OnTop::Alternating, {}}, nullptr},
                                           {{20, 80, OnTop::Later, {2}}, &across}})
            tell<LiftedPath>(l, liftedOver(p, order, other), [&](const LiftedPath& up) {
                tell(l, up.segments, up.closed);
                for (const StrandCrossing& c : up.crossings) {
                    for (double v : {c.upper, c.lower, double(c.other), double(c.beneath), double(c.along), c.lift})
                        l.add(v);
                    l.add(c.at);
                }
                l.add(up.least), l.add(up.shortest), l.add(up.hairpins);
            });
    }

    Digest& w = now["wheels"];
    const std::vector<WheelCircle> wheels{
        {{0, 0}, 100}, {{700, 60}, 60}, {{900, 500}, 80}, {{420, 300}, 50, false}, {{100, 620}, 70}};
    const auto loop = [&](const Result<WheelLoop>& r) {
        tell<WheelLoop>(w, r, [&](const WheelLoop& l) {
            tell(w, l.curve.segments, l.curve.closed);
            w.add(l.length);
            for (const WheelContact& c : l.contacts)
                for (double v : {c.wrap, c.arrives, c.leaves, c.tangentAfter}) w.add(v);
            if (!l.hangs) return;
            for (double v :
                 {l.hangs->leaves, l.hangs->turn, l.hangs->length, l.hangs->slack, l.hangs->sag, l.hangs->curve.a})
                w.add(v);
            w.add(l.hangs->deepest.x()), w.add(l.hangs->above.y());
        });
    };
    for (const bool closed : {true, false})
        for (const bool crossed : {true, false}) {
            loop(loopRound(wheels, closed, crossed));
            for (size_t after : {0u, 1u, 2u, 3u, 4u})
                for (const auto& [by, amount] :
                     {std::pair{SwagBy::Sag, 12.0}, {SwagBy::Slack, 9.0}, {SwagBy::Sag, 4000.0}})
                    loop(
                        loopRound(wheels, closed, crossed, StrandHangs{after, Vec2(0.2, -1).normalized(), by, amount}));
        }
    for (size_t far = 0; far < wheels.size(); ++far) {
        auto other = wheels;
        other[far].radius = 380; // into its neighbours
        loop(loopRound(other, true, false));
        other[far].radius = 0;
        other[far].inside = !other[far].inside;
        loop(loopRound(other, true, true));
    }
    for (int round = 0; round < 20; ++round) {
        std::vector<WheelCircle> some;
        for (int k = 0; k < 8; ++k) {
            const double a = std::fmod(0.61803 * (round * 8 + k), 1), b = std::fmod(0.75488 * (round * 8 + k), 1);
            some.push_back({{2000 * a, 1500 * b}, 20 + 60 * std::fmod(a + b, 1), k % 3 > 0});
        }
        for (size_t i : hullOrder(some)) w.add(double(i));
        loop(loopRound(some, true, true));
    }
    for (long teeth : {9, 17, 40}) w.add(pitchRadius(teeth, 25.4));

    Digest& chained = now["chained"];
    for (int round = 0; round < 24; ++round) {
        std::vector<Strand> strands;
        const double gap = std::array{0.0, 0.3, 0.9, 3.0}[size_t(round % 4)];
        const auto line = [&](Vec3 a, Vec3 b, const char* layer = "a") {
            strands.push_back({{(round + strands.size()) % 2 ? Line{a, b} : Line{b, a}}, false, layer});
        };
        line({0, 0, 0}, {500, 0, 0}), line({500, gap, 0}, {500, 400, 0}),
            line({500, 400 + gap, 0}, {0, 400, 0}, round % 5 ? "a" : "b");
        if (round % 3) line({0, 400, 0}, {0, gap, 0});
        if (round % 7 == 2) line({500, 400, 0}, {900, 900, 0}); // three ends meet
        strands.push_back({{Arc{{2000, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 80, 2 * kPi}}, true, "a"});
        strands.push_back({{Line{{3000, 0, 0}, {3000.4, 0, 0}}, Line{{3000.4, 0, 0}, {3000, 0.2, 0}}},
                           false,
                           "a"}); // hardly anything
        std::rotate(strands.begin(), strands.begin() + round % 4, strands.end());
        for (const double tolerance : {0.5, 1.0})
            for (const Strand& s : chainByEnds(strands, tolerance, round % 2)) {
                chained.say(s.layer), chained.add(double(s.segments.size()));
                tell(chained, s.segments, s.closed);
            }
    }

    Digest& r = now["rails"];
    for (const unsigned seed : {5u, 6u, 7u})
        for (const RailJoint joint : {RailJoint::Mitred, RailJoint::Butted, RailJoint::Overlapping})
            for (const bool closed : {false, true}) {
                const auto places = randomPoints(seed, 6, 200);
                std::vector<Vec3> ups;
                if (seed == 6)
                    for (size_t i = 0; i < places.size(); ++i)
                        ups.push_back(Vec3(0.1 * double(i), 0.2, 1).normalized());
                RailSection section;
                section.points = {{-20, -15}, {20, -15}, {20, 15}, {-20, 15}};
                section.radius = seed == 7 ? 3 : 0;
                tell<std::vector<RailPiece>>(
                    r, straightRails(places, ups, section, {joint, seed == 5 ? 4.0 : 0, 30, closed}),
                    [&](const std::vector<RailPiece>& all) {
                        for (const RailPiece& p : all) {
                            r.add(p.from), r.add(p.axes);
                            for (const RailCut& c : {p.start, p.end})
                                r.add(c.normal), r.add(c.at), r.add(c.plan), r.add(c.slope);
                            r.add(p.length), r.add(p.longest), r.add(p.twist), r.add(pointOn(p, {11, -7}, 0.8));
                        }
                    });
            }

    Digest& m = now["meshes"];
    tell(m, *hilly);
    for (const double thickness : {0.0, 120.0})
        for (const double longest : {0.0, 500.0}) {
            LevelData levels;
            for (const Vec3& p : randomPoints(9, 40, 80)) levels.points.push_back({0.1 * p.x(), 3 * p.y(), p.z()});
            levels.points.push_back(levels.points[3] + Vec3(0, 0, 5)); // one over the other
            levels.breaks = {{{100, -300, 9}, {900, 200, 20}}, {{100, 300, 5}, {900, -250, 12}}};
            tell<Terrain>(m, terrainOf(levels, longest, thickness), [&](const Terrain& t) {
                tell(m, t.mesh);
                for (const Words& said : t.remarks) m.say(said.in(1, "mm"));
            });
        }
    const auto stepped = std::make_shared<const Mesh>(standing(*hilly, -600));
    tell(m, *stepped);
    Mesh rough = boxMesh(Box3(Vec3(0, 0, 0), Vec3(300, 200, 100)));
    rough.points.push_back(rough.points[0] + Vec3(1e-9, 0, 0));
    std::swap(rough.triangles[2][0], rough.triangles[2][1]);
    rough.triangles.push_back({0, 1, 1});
    rough.triangles[4][0] = rough.triangles[4][0] == 0 ? std::uint32_t(rough.points.size() - 1) : rough.triangles[4][0];
    MeshReport report;
    tell<Mesh>(m, cleaned(rough, &report), [&](const Mesh& c) { tell(m, c); });
    for (const std::string& said : report.remarks()) m.say(said);
    for (const Vec3& n : cornerNormals(*stepped)) m.add(n);
    for (const auto& e : featureEdges(*stepped)) m.add(double(e[0])), m.add(double(e[1]));
    tell(m, simplified(*stepped, 90, 20));
    bool closed = false;
    tell(m, edgeChain(*stepped, {-1500, -1500, -200}, true, Vec3::UnitZ(), &closed));
    tell(m, edgeChain(*stepped, {1500, 1300, -600}, false, Vec3::UnitZ(), &closed));
    m.add(double(closed));
    const MeshTree tree(stepped), sheet(hilly);
    const MeshTree box(std::make_shared<const Mesh>(boxMesh(Box3(Vec3(-150, -80, -40), Vec3(150, 80, 40)))));
    for (int i = 0; i < 40; ++i) {
        const Vec3 at(-1400 + 71.0 * i, 900 * std::sin(i), 60 * std::cos(2.0 * i) - 150),
            way = Vec3(std::cos(i), 0.3, -1).normalized();
        if (const auto h = tree.hit(at, way)) m.add(h->distance), m.add(double(h->triangle));
        if (const auto h = hitMesh(*stepped, at, way, 20)) m.add(h->distance);
        std::vector<MeshHit> hits;
        tree.hits(at, way, hits);
        double sum = double(hits.size());
        for (const MeshHit& h : hits) sum += h.distance;
        m.add(sum), m.add(double(tree.leaves(at, way).value_or(-9)));
        const auto n = tree.nearest(at);
        m.add(n.at), m.add(n.distance), m.add(tree.normalAt(n.at, n.triangle)), m.add(tree.flatNormal(n.triangle));
        m.add(tree.nearest(at, 90).distance < 90 ? tree.nearest(at, 90).distance : 90);
        m.add(tree.nearestFrom(at, std::uint32_t(i)).distance);
        m.add(double(inside(tree, at)));
        RelativePose lie{Eigen::AngleAxisd(0.2 * i, Vec3(1, 0.3, 0.1 * i).normalized()).toRotationMatrix(),
                         at + Vec3(0, 0, 4.0 * i), 1};
        const Distance a = distanceBetween(tree, box, lie);
        m.add(a.distance), m.add(double(a.crossing)), m.add(a.a), m.add(a.b);
        m.add(double(cross(sheet, box, lie)));
        m.add(distanceBetween(sheet, box, lie, 60).found() ? 1 : 0);
        if (const auto g = ground.along(at, way)) m.add(g->at), m.add(g->normal), m.add(double(g->overhangs));
        m.add(ground.heightAt(at).value_or(-1));
        m.add(ground.nearest(at).at);
    }
    m.add(double(runsThroughItself(tree).has_value()));
    Mesh two = boxMesh(Box3(Vec3(0, 0, 0), Vec3(300, 200, 100)));
    const Mesh other = boxMesh(Box3(Vec3(100, 50, 50), Vec3(340, 90, 250)));
    for (auto t : other.triangles) {
        for (auto& c : t) c += std::uint32_t(two.points.size());
        two.triangles.push_back(t);
    }
    two.points.insert(two.points.end(), other.points.begin(), other.points.end());
    m.add(double(runsThroughItself(MeshTree(std::make_shared<const Mesh>(two))).has_value()));
    std::vector<std::vector<Vec2>> rings(3);
    for (int i = 0; i < 20; ++i) {
        const Vec2 way(std::cos(i * kPi / 10), std::sin(i * kPi / 10));
        rings[0].push_back((300 + 20 * (i % 3)) * way), rings[1].push_back(Vec2(60, 40) + 90 * way);
        rings[2].push_back(Vec2(60, 40) + (20 + i % 2) * way);
    }
    for (const auto& t : trianglesInside(rings))
        for (std::uint32_t c : t) m.add(double(c));
    for (size_t i : convexHull(rings[0])) m.add(double(i));

    const auto changed = differences("shapes", now);
    for (const std::string& line : changed) qWarning("%s", line.c_str());
    QVERIFY(changed.empty());
}

VICINAL_SUITE(TestFrozenShapes)

} // namespace test_frozen_shapes
#include "test_frozen_shapes.moc"
