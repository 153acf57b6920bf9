#include "base/say.h"
#include "base/text.h"
#include "geometry/path/path.h"
#include "parts/makers/build.h"
#include "parts/makers/sprocket.h"
#include <Standard_Failure.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>

namespace vicinal {
namespace {

/// Every length must be a sensible size; those named here may be nothing.
struct CheckSizes : IgnoreValues {
    std::vector<const char*> mayBeZero;
    std::optional<Problem>* problem;
    void refuse(const char* key, const Words& text) const {
        if (!*problem) *problem = Problem{text, key};
    }
    void length(const char* key, const char* label, const char*, double v) const {
        const bool zero =
            std::any_of(mayBeZero.begin(), mayBeZero.end(), [&](const char* k) { return std::string(k) == key; });
        if (std::isfinite(v) && v <= 1e7 && (v >= 1e-3 || (zero && v == 0))) return;
        std::string name(label);
        name[0] = char(std::tolower(static_cast<unsigned char>(name[0])));
        refuse(key, Words("The part's ") + name + " is " + say::mm(v) + "; use " + say::mm(0.001) + " to " +
                        say::bound(1e7) + (zero ? ", or 0 for none." : "."));
    }
    void number(const char* key, const char* label, const char*, double v) const {
        if (!std::isfinite(v) || v < 0 || v > 0.4)
            refuse(key, say::value(std::string(label)) + " is " + say::number(v, 6) + "; use 0 to 0.4.");
    }
};

/// How the sizes of a kind must go together, each with a sentence that says what works; the first that does not counts.
class Limits {
public:
    std::optional<Problem> found;
    void operator()(const RoundLink& m) {
        limit(m.insideLength < m.insideWidth, "insideLength",
              "The inside length is " + mm(m.insideLength) + ", shorter than the inside width. Use at least " +
                  mm(m.insideWidth) + ".");
        limit(m.studded && m.stud >= m.insideLength, "stud",
              "The stud is " + mm(m.stud) + " thick and fills the link. Use less than " + mm(m.insideLength) + ".");
        const double most = largestBar(m);
        limit(m.bar > most * (1 + tolerance::fine), "bar",
              "A bar of " + mm(m.bar) +
                  " is too thick: the next link does not pass through. The largest for this link is " + mm(most) + ".");
    }
    void operator()(const RollerLink& m) {
        limit(m.pin >= m.roller, "pin", "The pin must be thinner than the roller (" + mm(m.roller) + ").");
        limit(m.pin >= m.plateHeight, "pin",
              "The pin must be thinner than the plates are high (" + mm(m.plateHeight) + ").");
        limit(m.roller > m.pitch, "roller",
              "Rollers of " + mm(m.roller) + " overlap at a pitch of " + mm(m.pitch) + ". Use at most the pitch.");
    }
    void operator()(const TreadPlate& m) {
        limit(m.eyeHole >= m.eye, "eyeHole", "The eye's hole must be smaller than the eye (" + mm(m.eye) + ").");
        limit(m.plate >= m.eye, "plate", "The plate must be thinner than the eye (" + mm(m.eye) + ").");
        const double room = m.pitch - 1.1 * m.eye;
        limit(room <= 0.05 * m.eye, "pitch",
              "At a pitch of " + mm(m.pitch) + " there is no plate between the eyes. Use more than " +
                  mm(1.15 * m.eye) + ".");
        limit(m.width < 0.6 * m.eye, "width",
              "The plate is too narrow for its three eyes. Use at least " + mm(0.6 * m.eye) + ".");
        limit(m.grouser > 0 && m.grouserThickness > room, "grouserThickness",
              "The rib is wider than the plate between the eyes. Use at most " + mm(room) + ".");
    }
    void operator()(const Baluster& m) {
        limit(m.top != Baluster::Top::Flat && m.point >= m.height, "point",
              "The point is higher than the whole bar. Use less than " + mm(m.height) + ".");
        limit(m.top == Baluster::Top::Picket && m.section != Baluster::Section::Square, "top",
              "A picket's point needs a square section. Choose a square section or a pointed top.");
    }
    void operator()(const Sleeper& m) {
        const double reach = (m.gauge + m.railHead + m.seatWidth);
        limit(m.seatDepth > 0 && reach > m.length, "length",
              "The rail seats reach past the sleeper's ends. Use a length of at least " + mm(reach) + ".");
        limit(m.seatDepth > 0 && m.seatWidth >= m.gauge + m.railHead, "seatWidth",
              "The two rail seats run into each other. Use less than " + mm(m.gauge + m.railHead) + ".");
        limit(m.seatDepth >= m.height, "seatDepth",
              "The rail seats are as deep as the sleeper is high. Use less than " + mm(m.height) + ".");
    }
    void operator()(const BollardLamp& m) {
        limit(m.foot < m.diameter, "foot", "The foot must be at least as wide as the lamp (" + mm(m.diameter) + ").");
        const double most = m.height - m.footThickness;
        limit(m.ring >= 0.9 * most, "ring", "The lit ring leaves no shaft. Use less than " + mm(0.9 * most) + ".");
        limit(most <= 0, "footThickness", "The foot plate is as high as the lamp. Use less than " + mm(m.height) + ".");
    }
    void operator()(const Tile& m) {
        const double most = std::min(m.length, m.width) / 2;
        limit(m.radius > most, "radius", "The corner radius is too large. Use at most " + mm(most) + ".");
    }
    void operator()(const Arrow& m) {
        limit(m.head >= m.length, "head", "The head is as long as the arrow. Use less than " + mm(m.length) + ".");
        limit(m.shaft >= m.width, "shaft", "The shaft is as wide as the head. Use less than " + mm(m.width) + ".");
    }
    void operator()(const Stitch& m) {
        limit(m.length < m.thread, "length",
              "The stitch is shorter than its thread is thick. Use at least " + mm(m.thread) + ".");
    }
    void operator()(const SlotHole& m) {
        limit(m.length < m.width, "length", "The slot is shorter than wide. Use at least " + mm(m.width) + ".");
    }
    void operator()(const Bracket& m) {
        const double least = std::min(m.foot, m.leg);
        limit(m.thickness >= least, "thickness",
              "The plate is thicker than its shorter leg. Use less than " + mm(least) + ".");
        const double most = std::min(least - m.thickness, m.width);
        limit(m.hole >= most, "hole", "The holes do not fit into the legs. Use less than " + mm(most) + ".");
    }
    void operator()(const Tube& m) {
        limit(m.wall >= m.diameter / 2, "wall",
              "The wall fills the tube. Use less than " + mm(m.diameter / 2) + ", or a cylinder.");
    }
    void operator()(const Sprocket& m) {
        limit(m.teeth < 5 || m.teeth > 400, "teeth", "A sprocket has 5 to 400 teeth.");
        if (wrong()) return;
        limit(m.roller >= m.pitch, "roller", "Rollers touch each other. Use less than " + mm(m.pitch) + ".");
        if (wrong()) return;
        if (const auto teeth = toothedRing(m.teeth, m.pitch, m.roller); !teeth) return refuse(teeth.problem());
        const double root = toothForm(m.teeth, m.pitch, m.roller).rootDiameter;
        limit(m.hub > 0 && m.hub >= root, "hub", "The hub reaches into the teeth. Use less than " + mm(root) + ".");
        const double most = m.hub > 0 ? m.hub : root;
        limit(m.bore >= most, "bore", "The bore leaves nothing round it. Use less than " + mm(most) + ".");
        limit(m.hub > 0 && m.hubWidth < m.width, "hubWidth",
              "The hub is as wide as the teeth at least: " + mm(m.width) + ".");
    }
    void operator()(const RimWheel& m) {
        limit(m.hub > 0 && m.hub >= m.diameter, "hub",
              "The hub reaches the rim. Use less than " + mm(m.diameter) + ".");
        const double most = m.hub > 0 ? m.hub : m.diameter;
        limit(m.bore >= most, "bore", "The bore leaves nothing round it. Use less than " + mm(most) + ".");
        limit(m.rim == RimWheel::Rim::Grooved && m.lip >= m.width, "lip",
              "The groove is as deep as the rim is wide. Use less than " + mm(m.width) + ".");
        limit(m.hub > 0 && m.hubWidth < m.width, "hubWidth",
              "The hub is as wide as the rim at least: " + mm(m.width) + ".");
    }
    template<class Other> void operator()(const Other&) {} // nothing but sizes

private:
    static Words mm(double v) { return say::mm(v); }
    bool wrong() const { return found.has_value(); }
    void refuse(Problem p) {
        if (!found) found = std::move(p);
    }
    void limit(bool wrong, const char* field, const Words& text) {
        if (wrong) refuse(Problem{text, field});
    }
};

std::optional<Problem> defectOf(const Maker& maker) {
    std::optional<Problem> p;
    CheckSizes check;
    check.mayBeZero = {"grouser", "capOver", "capRise", "seatDepth", "radius", "hole"};
    if (std::holds_alternative<Arrow>(maker) || std::holds_alternative<Dash>(maker)) check.mayBeZero = {"thickness"};
    if (std::holds_alternative<Tile>(maker)) check.mayBeZero = {"radius"};
    if (std::holds_alternative<Sprocket>(maker) || std::holds_alternative<RimWheel>(maker))
        check.mayBeZero = {"bore", "hub", "hubWidth"};
    if (std::holds_alternative<Ramp>(maker)) check.mayBeZero = {"foot", "landing"};
    check.problem = &p;
    describe(check, maker);
    if (p) return p;
    Limits limits;
    std::visit(limits, maker);
    return limits.found;
}

TopoDS_Shape shapeOf(const Maker& maker) {
    using namespace build;
    return std::visit(
        [](const auto& m) -> TopoDS_Shape {
            using T = std::remove_cvref_t<decltype(m)>;
            if constexpr (std::is_same_v<T, RoundLink>) return roundLink(m);
            if constexpr (std::is_same_v<T, RollerLink>) return rollerLink(m);
            if constexpr (std::is_same_v<T, TreadPlate>) return treadPlate(m);
            if constexpr (std::is_same_v<T, Baluster>) return baluster(m);
            if constexpr (std::is_same_v<T, Post>) return post(m);
            if constexpr (std::is_same_v<T, Plank>) return slab(plan().rectangle(m.width, m.length, 0), 0, m.thickness);
            if constexpr (std::is_same_v<T, Sleeper>) return sleeper(m);
            if constexpr (std::is_same_v<T, BollardLamp>) return turned(turnedLine(m), Vec3::UnitZ());
            if constexpr (std::is_same_v<T, Tile>)
                return slab(plan().rectangle(m.length, m.width, m.radius), 0, m.thickness);
            if constexpr (std::is_same_v<T, SteppingStone>) return steppingStone(m);
            if constexpr (std::is_same_v<T, Arrow>) {
                const double x = m.length / 2, n = x - m.head, s = m.shaft / 2, w = m.width / 2;
                return slab(plan().polygon({{-x, -s}, {n, -s}, {n, -w}, {x, 0}, {n, w}, {n, s}, {-x, s}}), 0,
                            m.thickness);
            }
            if constexpr (std::is_same_v<T, Dash>) return slab(plan().rectangle(m.length, m.width, 0), 0, m.thickness);
            if constexpr (std::is_same_v<T, Stitch>) return turned(turnedLine(m), Vec3::UnitX());
            if constexpr (std::is_same_v<T, RoundHole>) return cylinder(m.diameter, -m.depth, 0);
            if constexpr (std::is_same_v<T, SlotHole>) return slab(plan().slot(m.length, m.width), -m.depth, 0);
            if constexpr (std::is_same_v<T, Notch>) return notch(m);
            if constexpr (std::is_same_v<T, Bracket>) return bracket(m);
            if constexpr (std::is_same_v<T, PlainBox>) return slab(plan().rectangle(m.length, m.width, 0), 0, m.height);
            if constexpr (std::is_same_v<T, Cylinder>) return cylinder(m.diameter, 0, m.height);
            if constexpr (std::is_same_v<T, Tube>) return tube(m);
            if constexpr (std::is_same_v<T, Sprocket>) return sprocket(m);
            if constexpr (std::is_same_v<T, RimWheel>) return rimWheel(m);
            if constexpr (std::is_same_v<T, Wedge>) {
                const double x = m.length / 2;
                return upright({{-x, 0}, {x, 0}, {x, m.height}}, m.width);
            }
            if constexpr (std::is_same_v<T, Ramp>) {
                std::vector<Vec2> line{{0, 0}, {m.length + m.landing, 0}, {m.length + m.landing, m.foot + m.rise}};
                if (m.landing > 0) line.push_back({m.length, m.foot + m.rise});
                if (m.foot > 0) line.push_back({0, m.foot});
                return upright(line, m.width);
            }
        },
        maker);
}

const char* const kKinds[] = {"round link", "roller link",  "tread plate", "baluster",       "post",    "plank",
                              "sleeper",    "bollard lamp", "tile",        "stepping stone", "arrow",   "dash",
                              "stitch",     "round hole",   "slot",        "notch",          "bracket", "box",
                              "cylinder",   "tube",         "sprocket",    "wheel",          "wedge",   "ramp"};
static_assert(std::size(kKinds) == std::variant_size_v<Maker>);

template<size_t I = 0> std::optional<Maker> makerNumber(size_t i) {
    if constexpr (I < std::variant_size_v<Maker>)
        return i == I ? std::optional<Maker>(Maker(std::in_place_index<I>)) : makerNumber<I + 1>(i);
    else
        return std::nullopt;
}

} // namespace

double largestBar(const RoundLink& m) {
    const double half = m.studded ? (m.insideLength - m.stud) / 2 : m.insideLength / 2;
    return std::max(0.0, std::min(m.insideWidth, half));
}

Result<Made> make(const Maker& maker) {
    if (auto p = defectOf(maker)) return *p;
    const auto failed = [&](const std::string& why) {
        return Problem{Words("The ") + kindOf(maker) + " cannot be made with these dimensions (" + why +
                           "). Change one of them.",
                       ""};
    };
    try {
        Made out;
        const auto lazily = [&] {
            out.solid = std::make_shared<const LazySolid>(
                [maker] { return std::make_shared<const Solid>(Solid{shapeOf(maker)}); });
        };
        const auto turned = [&](const Ring& line, const Vec3& axis) {
            auto mesh = std::make_shared<Mesh>(build::turnedMesh(line, axis, 24));
            const Box3 flat = Path::make(line, false)->bounds(); // x and y are the radius of a line turned about z or x
            const double r = axis.x() > 0.5 ? flat.max().y() : flat.max().x();
            Vec3 lo = Vec3::Constant(-r), hi = Vec3::Constant(r);
            const int along = axis.x() > 0.5 ? 0 : 2;
            lo[along] = flat.min()[along], hi[along] = flat.max()[along];
            mesh->box = Box3(lo, hi);
            out.mesh = mesh;
            lazily();
        };
        const auto plain = [&](double x, double y, double from, double to) {
            out.mesh = std::make_shared<const Mesh>(boxMesh(Box3(Vec3(-x / 2, -y / 2, from), Vec3(x / 2, y / 2, to))));
            lazily();
        };
        // Some solids take longer than a frame, and most of a box's time goes into finding its twelve triangles: these
        // give their triangles by themselves.
        const auto* bar = std::get_if<Baluster>(&maker);
        if (const auto* m = std::get_if<RoundLink>(&maker)) {
            out.mesh = std::make_shared<const Mesh>(build::roundLinkMesh(*m));
            lazily();
        } else if (const auto* p1 = std::get_if<Plank>(&maker)) {
            plain(p1->width, p1->length, 0, p1->thickness);
        } else if (const auto* p2 = std::get_if<PlainBox>(&maker)) {
            plain(p2->length, p2->width, 0, p2->height);
        } else if (bar && bar->section == Baluster::Section::Square && bar->top == Baluster::Top::Flat) {
            plain(bar->width, bar->depth, 0, bar->height);
        } else if (bar && bar->section != Baluster::Section::Square) {
            turned(build::turnedLine(*bar), Vec3::UnitZ());
        } else if (const auto* l = std::get_if<BollardLamp>(&maker)) {
            turned(build::turnedLine(*l), Vec3::UnitZ());
        } else if (const auto* s = std::get_if<Stitch>(&maker)) {
            turned(build::turnedLine(*s), Vec3::UnitX());
        } else {
            const auto* tread = std::get_if<TreadPlate>(&maker);
            const auto* stone = std::get_if<SteppingStone>(&maker);
            const auto ready = std::make_shared<const Solid>(
                Solid{tread ? occ::compound(build::treadPieces(*tread)) : shapeOf(maker)});
            std::optional<Box3> box;
            if (stone) {
                box = Path::make(stoneEdge(*stone), true)->bounds();
                box->extend(Vec3(box->min().x(), box->min().y(), -stone->thickness));
            }
            auto mesh = meshOf(*ready, box);
            if (!mesh) return failed(mesh.problem().text);
            out.mesh = std::make_shared<const Mesh>(std::move(mesh).value());
            if (tread)
                lazily();
            else
                out.solid = std::make_shared<const LazySolid>(ready);
        }
        const auto pins = [&](double pitch) { out.pins = Pins{Vec3(-pitch / 2, 0, 0), Vec3(pitch / 2, 0, 0)}; };
        if (const auto* m = std::get_if<RoundLink>(&maker)) pins(m->insideLength);
        if (const auto* m = std::get_if<RollerLink>(&maker)) pins(m->pitch);
        if (const auto* m = std::get_if<TreadPlate>(&maker)) pins(m->pitch);
        out.cuts = std::holds_alternative<RoundHole>(maker) || std::holds_alternative<SlotHole>(maker) ||
                   std::holds_alternative<Notch>(maker);
        return out;
    } catch (const Standard_Failure& f) {
        return failed(f.GetMessageString());
    }
}

std::string kindOf(const Maker& m) { return kKinds[m.index()]; }

std::optional<Maker> makerOf(const std::string& kind) {
    for (size_t i = 0; i < std::size(kKinds); ++i)
        if (kind == kKinds[i]) return makerNumber(i);
    return std::nullopt;
}

std::span<const MakerEntry> makerEntries() {
    using B = Baluster;
    static const std::vector<MakerEntry> entries{
        {"Links", "Chain link", "Round bar, oval", RoundLink{}},
        {"Links", "Studded link", "Round bar with a bar across the middle", RoundLink{10, 40, 16, true, 7}},
        {"Links", "Roller link, inner", "Two plates with two rollers", RollerLink{}},
        {"Links", "Roller link, outer", "Two plates with two pins", RollerLink{RollerLink::Kind::Outer}},
        {"Links", "Tread plate", "Belt plate with hinge eyes and a rib", TreadPlate{}},
        {"Rails and posts", "Baluster", "Square bar", B{}},
        {"Rails and posts", "Round baluster", "Round bar", B{20, 20, 900, B::Section::Round}},
        {"Rails and posts", "Turned baluster", "With a vase and a bead", B{56, 56, 900, B::Section::Turned}},
        {"Rails and posts", "Picket", "Board with a pointed top",
         B{80, 20, 1000, B::Section::Square, B::Top::Picket, 50}},
        {"Rails and posts", "Post with cap", "Square, the cap stands over", Post{}},
        {"Rails and posts", "Bollard lamp", "Low lamp with a lit ring", BollardLamp{}},
        {"Rails and posts", "Bracket", "Bent plate with two holes", Bracket{}},
        {"Ground and track", "Plank", "Board across the path", Plank{}},
        {"Ground and track", "Sleeper", "With seats for two rails at a gauge", Sleeper{}},
        {"Ground and track", "Tile", "Slab with square or round corners", Tile{}},
        {"Ground and track", "Stepping stone", "Flat and irregular", SteppingStone{}},
        {"Marks", "Arrow", "Flat, points along the path", Arrow{}},
        {"Marks", "Dash", "Flat strip along the path", Dash{}},
        {"Marks", "Stitch", "Thread with round ends", Stitch{}},
        {"Cutting shapes", "Hole", "Round", RoundHole{}},
        {"Cutting shapes", "Slot", "Round ends, along the path", SlotHole{}},
        {"Cutting shapes", "Notch", "Rectangle or V across the path", Notch{}},
        {"Plain bodies", "Box", "Length, width, height", PlainBox{}},
        {"Plain bodies", "Cylinder", "Upright", Cylinder{}},
        {"Plain bodies", "Tube", "Along the path", Tube{}},
        {"Plain bodies", "Wedge", "Rises along the path", Wedge{}},
        {"Plain bodies", "Ramp", "Slope with a landing", Ramp{}},
        {"Wheels", "Sprocket", "Teeth for roller chain", Sprocket{}},
        {"Wheels", "Wheel", "Plain rim", RimWheel{}},
        {"Wheels", "Sheave", "Grooved rim for a rope", RimWheel{200, 30, RimWheel::Rim::Grooved}},
        {"Wheels", "Drum", "Flanged", RimWheel{240, 120, RimWheel::Rim::Flanged, 20, 30, 80, 130}}};
    return entries;
}

} // namespace vicinal
