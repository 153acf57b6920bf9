#include "chance.h"
#include "layout/spacing/rules.h"

namespace vicinal::test {

namespace {

template<class Item> Id anyOf(Dice& dice, const std::vector<std::shared_ptr<const Item>>& all) {
    return all.empty() ? 0 : all[size_t(dice.of(int(all.size())))]->id;
}

/// A closed flat path, where there is one.
Id closedOf(Dice& dice, const Document& d) {
    std::vector<Id> all;
    for (const auto& p : d.paths)
        if (const auto* s = std::get_if<ShapeRecipe>(&p->recipe); s && s->shape.index() < 5) all.push_back(p->id);
    return all.empty() || dice.one(5) ? anyOf(dice, d.paths) : all[size_t(dice.of(int(all.size())))];
}

Profile profileOf(Dice& dice, double least, double most) {
    Profile p;
    p.stretches = dice.one(3), p.smooth = dice.one(2);
    const int n = 1 + dice.of(3);
    for (int i = 0; i < n; ++i) p.keys.push_back({p.stretches ? 0.3 * i : 450.0 * i + 1, dice.in(least, most)});
    return p;
}

PointsRecipe drawnByChance(Dice& dice) {
    PointsRecipe r;
    const int n = 2 + dice.of(4), kind = dice.of(4);
    const bool flat = dice.one(2);
    for (int i = 0; i < n; ++i) {
        PathPoint p{{650.0 * i, dice.in(-350, 350), flat ? 0 : dice.in(-120, 120)}, kind == 1};
        if (kind == 2 && i > 0) p.fillet = dice.one(3) ? 0.6 : dice.in(20, 120);
        if (kind == 3 && i > 0 && dice.one(2)) p.via = p.at + Vec3(-300, dice.in(80, 200), 0);
        if (kind == 1 && dice.one(3)) p.out = Vec3(dice.in(50, 200), dice.in(-50, 50), 0);
        r.points.push_back(p);
    }
    if (kind == 0 && !flat && dice.one(2)) r.points[1].at = r.points[0].at + Vec3(0, 0, 350); // straight up at first
    if (n > 2 && kind != 3 && dice.one(3)) {                                                  // closed: round a middle
        for (int i = 0; i < n; ++i) {
            const double a = 2 * kPi * i / n, far = dice.in(600, 1200);
            r.points[size_t(i)].at = {far * std::cos(a), far * std::sin(a), r.points[size_t(i)].at.z()};
            r.points[size_t(i)].out = std::nullopt;
        }
        r.closed = true;
    }
    return r;
}

Brought broughtByChance(Dice& dice) {
    const std::string obj = wedgeObj(dice.in(0, 9));
    return {bodyOf(*readMesh(obj, "obj", 2)), "wedge.obj", std::make_shared<const std::string>(obj), "obj", 2, {}};
}

PathRecipe recipeByChance(Dice& dice, const Document& d) {
    auto out = dice.one(4) ? PathRecipe(drawnByChance(dice)) : dice.any<PathRecipe>();
    if (auto* r = std::get_if<PointsRecipe>(&out); r && r->points.empty()) *r = drawnByChance(dice);
    if (auto* r = std::get_if<ShapeRecipe>(&out)) r->shape = dice.any<Shape>();
    if (auto* r = std::get_if<DerivedRecipe>(&out)) {
        r->change = dice.any<Change>(), r->source = anyOf(dice, d.paths);
        if (auto* laid = std::get_if<LaidOn>(&r->change)) laid->body = anyOf(dice, d.bodies);
        if (auto* lifted = std::get_if<LiftedOver>(&r->change); lifted && dice.one(2)) lifted->switched = {1};
    }
    if (auto* r = std::get_if<JoinedRecipe>(&out))
        r->members = {anyOf(dice, d.paths), anyOf(dice, d.paths)}, r->gap = 1e5;
    if (auto* r = std::get_if<EdgesRecipe>(&out))
        r->part = dice.one(3) ? anyOf(dice, d.bodies) : anyOf(dice, d.parts),
        r->pick = {dice.in(0, 1), dice.in(0, 1), double(dice.of(2))};
    if (auto* r = std::get_if<BroughtCurve>(&out)) {
        const double bend = dice.in(100, 400);
        r->segments = {Line{{0, 0, 0}, {600, 0, 40}},
                       Bezier{{Vec3(600, 0, 40), Vec3(800, 0, 50), Vec3(900, bend, 60), Vec3(1300, bend, 0)}},
                       Arc{Vec3(1300, bend + 200, 0), -Vec3::UnitY(), Vec3::UnitX(), 200, dice.in(1, 3)}};
        if (dice.one(4))
            r->segments = {Helix{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitY(), 300, dice.in(200, 500), dice.in(2, 9), 700}};
        if (dice.one(4))
            r->segments = {
                Catenary{{0, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), dice.in(300, 900), -400, dice.in(300, 600)}};
        r->source = "curve.svg";
    }
    return out;
}

} // namespace

void Varied::length(const char*, const char*, const char*, double& v) const {
    if (mine()) v = v == 0 ? dice.in(dice.one(4) ? -40 : 0, 60) : v * dice.in(0.6, 1.5);
}
void Varied::limit(const char*, const char*, const char*, std::optional<double>& v) const {
    if (!mine()) return;
    if (dice.one(3))
        v = std::nullopt;
    else
        v = dice.in(5, 300);
}
void Varied::angle(const char*, const char*, const char*, double& v) const {
    if (mine()) v += dice.one(3) ? kPi / 2 : dice.in(-0.5, 0.5);
}
void Varied::number(const char*, const char*, const char*, double& v) const {
    if (mine()) v = v == 0 ? dice.in(0, 0.5) : v * dice.in(0.6, 1.5);
}
void Varied::count(const char*, const char*, const char*, long& v) const {
    if (mine()) v = v < 6 ? v + dice.of(3) : v * (2 + dice.of(3)) / 3;
}
void Varied::flag(const char*, const char*, const char*, bool& v) const {
    if (mine()) v = !v;
}
void Varied::point(const char*, const char*, const char*, Vec3& v) const {
    if (mine()) v += Vec3(dice.in(-200, 200), dice.in(-200, 200), dice.one(2) ? 0 : dice.in(-50, 50));
}
void Varied::direction(const char*, const char*, const char*, Vec3& v) const {
    if (mine()) v = dice.one(3) ? Vec3(Vec3::UnitZ()) : Vec3(dice.in(-1, 1), dice.in(-1, 1), dice.in(0.2, 1));
}
void Varied::turn(const char*, const char*, const char*, Vec3& v) const {
    if (mine()) v[dice.of(3)] += dice.one(2) ? kPi / 2 : dice.in(-0.4, 0.4);
}
void Varied::stations(const char*, const char*, const char*, std::vector<double>& v) const {
    if (!mine()) return;
    v = {dice.in(10, 100)};
    for (int n = dice.of(4); n > 0; --n) v.push_back(v.back() + dice.in(90, 400));
}
void Varied::profile(const char*, const char*, const char*, Profile& v, ProfileKind of) const {
    if (!mine()) return;
    const bool pitch = !v.empty() && of == ProfileKind::Length;
    v = pitch                       ? profileOf(dice, 110, 300)
        : of == ProfileKind::Length ? profileOf(dice, -70, 70)
        : of == ProfileKind::Angle  ? profileOf(dice, -0.7, 0.7)
                                    : profileOf(dice, 0.7, 1.5);
}
void Varied::item(const char*, const char*, const char*, Id& v, ItemKind of) const {
    if (!mine()) return;
    v = of == ItemKind::Run    ? anyOf(dice, d.runs)
        : of == ItemKind::Path ? anyOf(dice, d.paths)
        : of == ItemKind::Part ? anyOf(dice, d.parts)
                               : anyOf(dice, d.bodies);
    if (dice.one(12)) v = dice.one(2) ? 0 : 99'999;
}

PathItem pathByChance(Dice& dice, const Document& d) {
    PathItem out{0, "Path", recipeByChance(dice, d)};
    describe(Varied(dice, d, 6), out.recipe);
    if (auto* s = std::get_if<ShapeRecipe>(&out.recipe))
        if (auto* w = std::get_if<WheelShape>(&s->shape))
            for (Wheel& wheel : w->wheels) {
                if (dice.one(3)) wheel.body = WheelBody(dice.of(4)), wheel.part = anyOf(dice, d.parts);
                if (dice.one(3)) wheel.teeth = 15 + dice.of(20);
                if (dice.one(5)) wheel.phase = dice.in(0, 1);
            }
    return out;
}

PartItem partByChance(Dice& dice, const Document& d) {
    PartItem out;
    out.name = "Part " + std::to_string(d.parts.size() + 1);
    out.shape = dice.one(2) ? PartShape(Maker(PlainBox{dice.in(20, 90), dice.in(15, 70), dice.in(10, 120)}))
                            : dice.any<PartShape>();
    if (auto* m = std::get_if<Maker>(&out.shape)) {
        if (!std::holds_alternative<PlainBox>(*m) || dice.one(4)) *m = dice.any<Maker>();
        describe(Varied(dice, d, 6), *m);
    }
    if (auto* e = std::get_if<ExtrudedPath>(&out.shape)) e->path = closedOf(dice, d), e->height = dice.in(20, 90);
    if (auto* f = std::get_if<FlatOutline>(&out.shape)) {
        const double r = dice.in(15, 60);
        f->rings = std::make_shared<const std::vector<Ring>>(
            std::vector<Ring>{{Arc{Vec3(3, 2, 0), Vec3::UnitX(), Vec3::UnitY(), r, 2 * kPi}},
                              {Arc{Vec3(3, 2, 0), Vec3::UnitX(), -Vec3::UnitY(), r / 3, 2 * kPi}}});
        f->thickness = dice.one(4) ? 0 : dice.in(2, 30), f->source = "outline.dxf";
    }
    if (auto* b = std::get_if<Brought>(&out.shape)) *b = broughtByChance(dice);
    if (auto* p = std::get_if<Pieces>(&out.shape)) {
        p->list.push_back({"Foot", PlainBox{60, 60, 8}, {0, 0, 0}, {0, 0, 0}, 1, false});
        p->list.push_back({"Bar",
                           Cylinder{20, dice.in(50, 200)},
                           {dice.in(-9, 9), 0, 8},
                           {0, 0.1, 0},
                           dice.in(0.8, 1.2),
                           dice.one(2)});
        if (!d.parts.empty() && dice.one(2))
            p->list.push_back({"Top", PartUse{anyOf(dice, d.parts)}, {0, 0, 90}, {}, 0.5, dice.one(2)});
    }
    if (!dice.one(4)) {
        const double l = dice.in(20, 90);
        out.seat.pins = Pins{Vec3(-0.4 * l, 0, 5), Vec3(0.4 * l, 0, 5)};
        if (dice.one(3)) out.seat.hooks = Pins{Vec3(-0.6 * l, 0, 9), Vec3(0.6 * l, 0, 9)};
        if (dice.one(5)) out.under = {anyOf(dice, d.parts), anyOf(dice, d.parts)};
    }
    if (dice.one(3)) out.seat.point = Vec3(dice.in(-9, 9), dice.in(-5, 5), dice.in(0, 20));
    if (dice.one(3)) out.seat.point = BoxPoint{dice.of(3) - 1, dice.of(3) - 1, dice.of(3) - 1};
    if (dice.one(5)) out.seat.nose = Axis::PlusY;
    if (dice.one(4)) out.size = dice.in(0.5, 1.6);
    if (dice.one(2)) out.density = dice.in(400, 8000);
    return out;
}

BodyItem bodyByChance(Dice& dice, const Document& d) {
    BodyItem out;
    out.name = "Body";
    out.shape = dice.any<BodyShape>();
    if (d.runs.empty() && std::holds_alternative<CutBy>(out.shape)) out.shape = MadeGround{};
    const Varied varied(dice, d, 5);
    if (auto* m = std::get_if<Maker>(&out.shape)) *m = dice.any<Maker>(), describe(varied, *m);
    if (auto* l = std::get_if<Levels>(&out.shape)) {
        LevelData levels;
        for (int i = 0; i < 24; ++i)
            levels.points.push_back({dice.in(-1500, 3000), dice.in(-1500, 1500), dice.in(-60, 60)});
        if (dice.one(2)) levels.breaks = {{{-500, 10, 20}, {700, 100, 30}, {1500, 50, -20}}};
        *l = levelsOf(levels, "levels.csv");
    }
    if (auto* b = std::get_if<Brought>(&out.shape)) *b = broughtByChance(dice);
    if (auto* f = std::get_if<FlatOutline>(&out.shape))
        f->rings = std::make_shared<const std::vector<Ring>>(
            std::vector<Ring>{{Arc{Vec3(300, 0, 0), Vec3::UnitX(), Vec3::UnitY(), 900, 2 * kPi}}}),
        f->thickness = dice.in(5, 50);
    if (auto* c = std::get_if<CutBy>(&out.shape)) {
        if (dice.one(3))
            c->part = anyOf(dice, d.parts);
        else
            c->of = anyOf(dice, d.bodies);
        c->run = anyOf(dice, d.runs);
    }
    const VisitorFor<const Varied, false> to(varied);
    std::visit(
        [&]<class S>(S& s) {
            if constexpr (OfBodiesAlone<S> && !std::is_same_v<S, PartUse>) describe(to, s);
        },
        out.shape);
    eachSource(out.shape, [&](Id& id) {
        if (id != 0) return;
        if (std::holds_alternative<PlateOf>(out.shape)) {
            id = closedOf(dice, d);
            return;
        }
        auto* r = std::get_if<RailAlong>(&out.shape);
        if (std::holds_alternative<WallAlong>(out.shape) || (r && &id == &r->path && dice.one(4)))
            id = anyOf(dice, d.paths);
        else if (std::holds_alternative<PartUse>(out.shape))
            id = anyOf(dice, d.parts);
        else if (r && &id == &r->run)
            id = anyOf(dice, d.runs);
    });
    if (dice.one(3)) out.at = {dice.in(-300, 300), dice.in(-300, 300), dice.in(-50, 50)};
    if (dice.one(4)) out.turn = {0, dice.in(-0.1, 0.1), dice.in(-1, 1)};
    if (dice.one(5)) out.size = dice.in(0.6, 1.6);
    if (dice.one(2)) out.density = dice.in(400, 8000);
    return out;
}

HeapItem heapByChance(Dice& dice, const Document& d) {
    HeapItem out;
    out.name = "Heap";
    for (int n = 2 + dice.of(5); n > 0; --n) {
        Loose l;
        l.part = dice.one(12) ? 99'999 : anyOf(dice, d.parts);
        l.frame.seat = {dice.in(-500, 2000), dice.in(-500, 500), dice.in(0, 60)};
        l.frame.axes = Eigen::AngleAxisd(dice.in(-3, 3), Vec3(dice.in(-1, 1), 0.3, 1).normalized()).toRotationMatrix();
        if (dice.one(3)) l.size = dice.in(0.7, 1.3);
        if (dice.one(2)) l.place = n;
        out.parts.push_back(l);
    }
    return out;
}

void changedByChance(RunItem& r, Dice& dice, const Document& d) {
    const Varied varied(dice, d, 2), gently(dice, d, 5);
    Spacing& s = *r.spacing;
    switch (dice.of(17)) {
    case 0: s = switched(s, size_t(dice.of(int(std::variant_size_v<SpacingRule>)))); break;
    case 1: std::visit([&](auto& rule) { describe(varied, rule); }, s.rule); break;
    case 2: describeShared(gently, s); break;
    case 3:
        s.bays = BayEdges(dice.of(4)), s.bayRun = anyOf(dice, d.runs),
        s.bayStations = {dice.in(200, 500), dice.in(600, 1100)};
        if (dice.one(2)) s.bayRules = {{1 + dice.of(3), dice.any<SpacingRule>()}};
        break;
    case 4: r.facing.nose = dice.any<NoseRule>(), r.facing.target = {700, 3000, 500}; break;
    case 5:
        r.facing.crown = dice.any<CrownRule>();
        if (dice.one(2)) r.facing.surface = anyOf(dice, d.bodies);
        break;
    case 6: describe(gently, r.facing); break;
    case 7: describe(varied, r.changes); break;
    case 8: describe(gently, r.uneven); break;
    case 9:
        describe(varied, r.rows);
        r.rows.rows = std::min(r.rows.rows, 3L), r.rows.tiers = std::min(r.rows.tiers, 2L);
        break;
    case 10:
        describe(varied, r.echoes);
        r.echoes.one.count = std::min(r.echoes.one.count, 3L), r.echoes.two.count = std::min(r.echoes.two.count, 3L);
        break;
    case 11:
        r.sequence.steps.clear();
        for (int n = dice.of(3); n >= 0; --n)
            r.sequence.steps.push_back({anyOf(dice, d.parts), 1 + dice.of(2), dice.in(1, 3)});
        describe(gently, r.sequence);
        break;
    case 12: {
        Exception e;
        e.place = 1 + dice.of(6);
        if (dice.one(3)) e.station = dice.one(3) ? dice.in(0, 20) : dice.in(50, 900);
        describe(varied, e);
        r.exceptions.push_back(e);
        if (dice.one(2)) r.leftOut = {2, 5};
        break;
    }
    case 13:
        if (r.feet.ground == 0) r.feet.ground = anyOf(dice, d.bodies);
        describe(gently, r.feet);
        break;
    case 14:
        r.motion.moves = true;
        describe(varied, r.motion);
        break;
    case 15: {
        r.gives.what = Gives(dice.of(dice.one(3) ? 3 : 2));
        describe(gently, r.gives);
        const char* keys[] = {"diameter", "length", "width", "radius", "height", "point 2", "distance", "sag"};
        r.gives.value = keys[dice.of(int(std::size(keys)))];
        break;
    }
    default: {
        Check c;
        c.of = CheckKind(dice.of(int(kChecks.size())));
        c.other = c.of == CheckKind::OtherRun   ? anyOf(dice, d.runs)
                  : c.of == CheckKind::SiteBody ? anyOf(dice, d.bodies)
                                                : 0;
        if (dice.one(2)) c.least = dice.in(0, 50);
        if (dice.one(2)) c.most = dice.in(20, 400);
        if (dice.one(3)) c.margin = dice.in(0, 5);
        if (dice.one(4)) c.excused = {{1 + dice.of(4), 0, 0, 0, "it is so", "M. Tollan", "2026-11-30"}};
        std::erase_if(r.checks, [&](const Check& o) { return o.same(c); });
        r.checks.push_back(c);
    }
    }
}

RunItem runByChance(Dice& dice, const Document& d) {
    RunItem out;
    out.name = "Run";
    out.path = anyOf(dice, d.paths), out.part = anyOf(dice, d.parts);
    out.spacing->measure = Measure(dice.of(3)), out.spacing->ofLength = dice.in(1.05, 2.5);
    out.spacing->rule = dice.any<SpacingRule>();
    std::visit([&](auto& rule) { describe(Varied(dice, d, 2), rule); }, out.spacing->rule);
    for (int n = dice.of(6); n > 0; --n) changedByChance(out, dice, d);
    return out;
}

Document documentByChance(std::uint64_t seed) {
    Dice dice(seed);
    Document d;
    d.unit = dice.one(4) ? Unit::Inch : Unit::Millimetre;
    d = with(d, PathItem{0, "Drawn", drawnByChance(dice)});
    if (dice.one(2)) {
        ShapeRecipe shape;
        shape.shape = dice.any<Shape>();
        d = with(d, PathItem{0, "Shape", shape});
    }
    for (int n = 1 + dice.of(2); n > 0; --n) d = with(d, partByChance(dice, d));
    for (int n = 1 + dice.of(2); n > 0; --n) d = with(d, bodyByChance(dice, d));
    for (int n = 1 + dice.of(3); n > 0; --n) d = with(d, pathByChance(dice, d));
    for (int n = dice.of(2); n > 0; --n) d = with(d, partByChance(dice, d));
    for (int n = 1 + dice.of(2); n > 0; --n) d = with(d, runByChance(dice, d));
    for (int n = dice.of(3); n > 0; --n) d = with(d, bodyByChance(dice, d)); // some of them along runs
    if (dice.one(2)) d = with(d, runByChance(dice, d));
    if (dice.one(3)) d = with(d, heapByChance(dice, d));
    return d;
}

} // namespace vicinal::test
