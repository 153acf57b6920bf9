// One function a maker says how its run is set; all of them together are the table of customs.
#include "model/custom/custom.h"
#include "base/say.h"
#include "clearance/check.h"
#include "geometry/curves/edit.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/site.h"
#include "parts/body.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Slack that links are taken to have in their joints, of their pitch: by so much a chain is drawn tight or let out so
/// that it closes.
constexpr double kPlay = 0.02;
/// Openings that a small child's head does not pass, mm: what balustrades are held to.
constexpr double kHead = 100;

/// Sets the run of a part along a path.
class Setter {
public:
    Setter(const Document& d, const Evaluation& worked, const PathResult& path, const PartResult& part)
        : m_d(d), m_worked(worked), m_path(path), m_part(part), m_length(path.path->length()),
          m_plane(planeOf(*path.path)) {
        m_size = part.seated->sizes();
        if (const auto pins = pinsOf(*part.body, part.item->seat)) m_pitch = ((*pins)[1] - (*pins)[0]).norm();
        m_run.path = path.item->id;
        m_run.part = part.item->id;
        m_run.colour = int(d.runs.size());
    }

    FirstRun made() {
        if (m_pitch > 0 && m_part.item->under != std::array<Id, 2>{0, 0}) {
            m_spacing.rule = Coupled{};
            m_run.facing.nose = BetweenPins{};
            m_run.facing.crown = Upright{};
        } else if (const auto* maker = std::get_if<Maker>(&m_part.item->shape)) {
            std::visit([&](const auto& m) { set(m); }, *maker);
        } else if (goesIn()) {
            linked();
            inItsPlane();
        } else {
            plain();
        }
        m_run.spacing = m_spacing;
        m_run.name = nounOf(*m_part.item) + " on " + m_path.item->name;
        FirstRun out;
        out.document = with(std::move(m_d), std::move(m_run));
        out.run = lastId(out.document);
        out.says = std::move(m_says);
        return out;
    }

private:
    // ---- what several have in common

    /// Whether links of this pitch make a chain of the path: not one fits, or more than anybody would look over.
    bool goesIn() const { return m_pitch > m_length / 20'000 && m_pitch < m_length; }
    double roundly(double v) const { return v >= 10 ? std::round(v) : v; }
    /// About so far apart, made even; a rule by step beside it, so that going over finds it. Never by the million.
    void even(double about, Measure measure = Measure::CentreToCentre, ShareEnds ends = ShareEnds::AtEnds) {
        const double taken = measure == Measure::ClearGap ? m_size.x() : 0;
        about = roundly(std::clamp(about, std::max(0.0, m_length / 20'000 - taken), m_length));
        m_spacing.rule = EvenOut{about, ends};
        m_spacing.measure = measure;
        m_spacing.kept = {StepOff{about}};
    }
    /// Nothing is known of it: clear of one another, and not more than can be looked over.
    void plain() { even(std::max({2 * m_size.x(), 100.0, m_length / 200})); }
    void ask(CheckKind of, std::optional<double> least, std::optional<double> most) {
        Check c;
        c.of = of;
        c.least = least;
        c.most = most;
        m_run.checks.push_back(c);
    }
    /// Pin to pin; all the way round the joints give what the chain lacks.
    void linked() {
        PinToPin rule;
        if (m_path.path->closed() && !loop()) {
            rule.play = kPlay * m_pitch;
            ask(CheckKind::PinsOff, {}, std::max(0.01, rule.play)); // so far joints that give are off it
        }
        m_spacing.rule = rule;
        m_run.facing.nose = BetweenPins{};
    }
    /// Crowns in the plane of the path, where it has one: chains bend in that plane alone.
    void inItsPlane() {
        Facing& f = m_run.facing;
        if (!m_plane.planar)
            f.crown = Carried{};
        else if (m_path.path->closed())
            f.crown = Outward{};
        else {
            f.crown = Given{};
            const Vec3 way = m_path.path->at(0).tangent;
            const Vec3 across = m_plane.normal.cross(way);
            f.direction = across.norm() > tolerance::alike ? Vec3(across.normalized()) : Vec3(Vec3::UnitZ());
        }
    }
    /// The gap along the path that leaves a gap between the inner ends of what lies across it, in the sharpest bend: by
    /// the angle that one takes there, (width + gap) / (radius - half its length). Where the bend is sharper than they
    /// are long no gap would do.
    double onBends(double gap) const {
        const double r = factsOf(*m_path.path).sharpest, inside = r - m_size.y() / 2;
        if (!(inside > r / 10) || !std::isfinite(r)) return gap;
        return std::ceil((m_size.x() + gap) * r / inside - m_size.x());
    }
    /// Side by side across the path; round wheels their upper side looks outward, as on a belt of slats.
    void slats(double gap) {
        if (loop()) m_run.facing.crown = Outward{};
        even(loop() ? gap : onBends(gap), Measure::ClearGap);
    }
    /// Flat things lie in the plane of their path.
    void flat() {
        if (!m_plane.planar || std::abs(m_plane.normal.z()) > 1 - tolerance::alike) {
            m_run.facing.crown = Upright{};
            return;
        }
        m_run.facing.crown = Given{};
        m_run.facing.direction = m_plane.normal;
    }
    const WheelShape* loop() const {
        const auto* recipe = std::get_if<ShapeRecipe>(&m_path.item->recipe);
        return recipe ? std::get_if<WheelShape>(&recipe->shape) : nullptr;
    }
    /// The wheels of the path's loop as these parts want them; then one of them gives way for a count that `by`
    /// divides. A loop that something else follows stays as it is.
    void onWheels(long by, const std::function<void(WheelShape&)>& fit) {
        if (!loop() || m_path.item->locked || !usersOf(m_d, m_path.item->id).empty()) return;
        PathItem path = *m_path.item;
        auto& recipe = std::get<ShapeRecipe>(path.recipe);
        auto& shape = std::get<WheelShape>(recipe.shape);
        const size_t said = m_says.size();
        fit(shape);
        const auto built = build(path.recipe);
        if (!built) { // wheels that would meet, say: the loop stays as it was drawn
            m_says.resize(said);
            return;
        }
        if (shape.closed && shape.wheels.size() > 1) {
            const Vec2 from = shape.wheels.front().centre, to = shape.wheels.back().centre, way = to - from;
            m_run.gives.what = Gives::Wheel;
            m_run.gives.wheel = long(shape.wheels.size());
            m_run.gives.moves = WheelMoves::Line;
            m_run.gives.heading = way.norm() > tolerance::length ? std::atan2(way.y(), way.x()) : 0;
            m_run.gives.count = std::max(1L, std::lround(built->path.length() / m_pitch / double(by))) * by;
            m_says.push_back("The last wheel of " + say::value(path.name) + " gives way, so that " +
                             say::count(size_t(m_run.gives.count)) + " close.");
        }
        m_d = with(std::move(m_d), std::move(path));
    }
    /// The other kind of link, one that is there or a new one.
    Id other(RollerLink link) {
        link.kind = link.kind == RollerLink::Kind::Inner ? RollerLink::Kind::Outer : RollerLink::Kind::Inner;
        for (const auto& p : m_d.parts)
            if (const auto* m = std::get_if<Maker>(&p->shape); m && *m == Maker(link) && p->size == m_part.item->size)
                return p->id;
        PartItem item = *m_part.item;
        item.id = 0;
        item.locked = false;
        item.shape = Maker(link);
        item.name = link.kind == RollerLink::Kind::Inner ? "Inner link" : "Outer link";
        m_d = with(std::move(m_d), std::move(item));
        const Id made = lastId(m_d);
        m_says.push_back(say::value(m_d.part(made)->name) + " was made beside it: they stand in turn.");
        return made;
    }
    /// The ground under the path's middle; 0: none.
    Id groundBelow() const {
        const Vec3 at = m_path.path->at(m_length / 2).point;
        for (const Id id : m_worked.bodyOrder) {
            const auto body = m_worked.bodies.at(id);
            if (!body->item->hidden && isGround(body->item->shape) && body->ground && body->ground->heightAt(at))
                return id;
        }
        return 0;
    }

    // ---- the table: one a maker

    void set(const RoundLink& link) {
        if (!goesIn()) return plain();
        linked();
        m_run.facing.crown = Carried{};
        m_run.facing.turnStep = Vec3(kPi / 2, 0, 0); // each lies across the one before
        m_run.facing.turnEvery = 2;
        if (m_path.path->closed()) m_spacing.multiple = 2;
        // In a bend the round bars bear beside their crown: as far as bars differ.
        const double bar = link.bar * m_part.item->size;
        ask(CheckKind::Touching, -std::max(std::min(0.1, m_size.x() / 200), 0.03 * bar), {});
        onWheels(2, [&](WheelShape& s) {
            s.below = std::max(s.below, link.insideWidth * m_part.item->size / 2);
            for (Wheel& w : s.wheels)
                if (w.body == WheelBody::None && w.teeth == 0) w.body = WheelBody::Grooved;
        });
    }
    void set(const RollerLink& link) {
        if (!goesIn()) return plain();
        linked();
        inItsPlane();
        const Id second = other(link);
        m_run.sequence.steps = {{m_run.part, 1, 1}, {second, 1, 1}};
        const double size = m_part.item->size;
        onWheels(2, [&](WheelShape& s) {
            s.chainPitch = link.pitch * size;
            s.roller = link.roller * size;
            for (Wheel& w : s.wheels) {
                if (w.teeth == 0 && w.body != WheelBody::Part) {
                    const double half = std::min(1.0, s.chainPitch / (2 * w.radius));
                    w.teeth = std::max(9L, std::lround(kPi / std::asin(half)));
                    if (w.body == WheelBody::None) w.body = WheelBody::Sprocket;
                }
            }
            m_says.push_back("The wheels of " + say::value(m_path.item->name) + " are sprockets for this chain.");
        });
    }
    void set(const TreadPlate& plate) {
        if (!goesIn()) return plain();
        linked();
        inItsPlane();
        onWheels(1, [&](WheelShape& s) {
            s.below = std::max(plate.eye / 2, plate.plate) * m_part.item->size;
            for (Wheel& w : s.wheels)
                if (w.body == WheelBody::None && w.teeth == 0) {
                    w.body = WheelBody::Drum;
                    if (w.width == 0) w.width = 0.9 * plate.width * m_part.item->size;
                }
            m_says.push_back("The wheels of " + say::value(m_path.item->name) + " are drums under these plates.");
        });
    }
    void set(const Baluster& m) {
        // Between necks it is wider than between the widest.
        double necks = 0;
        if (m.section == Baluster::Section::Turned) {
            double thin = m_size.x() / 2;
            for (const Segment& s : turnedProfile(m)) thin = std::min(thin, startOf(s).x() * m_part.item->size);
            necks = m_size.x() - 2 * thin;
        }
        const auto apart = [&](double wider) {
            const double gap = std::floor(std::max(kHead - wider, 1.0));
            even(gap, Measure::ClearGap);
            m_spacing.gapAtMost = gap;
            m_run.checks.clear();
            if (wider > 0) ask(CheckKind::Opening, {}, kHead);
        };
        apart(necks);
        for (const auto& r : m_worked.runs) { // between posts that stand there already
            if (!r->path || r->path->item->id != m_run.path || !r->part) continue;
            const auto* maker = std::get_if<Maker>(&r->part->item->shape);
            const auto* post = maker ? std::get_if<Post>(maker) : nullptr;
            if (!post) continue;
            apart(necks + post->capOver * r->part->item->size); // under its cap it is wider
            m_spacing.bays = BayEdges::Run;
            m_spacing.bayRun = r->item->id;
            std::get<EvenOut>(m_spacing.rule).ends = ShareEnds::PitchIn;
            break;
        }
    }
    void set(const Post&) {
        const double about = std::max(1500.0, 15 * m_size.x());
        even(about);
        // One at every corner, where these are corners of a fence and not of the ground.
        const auto& corners = m_path.path->corners();
        if (corners.empty()) return;
        const bool closed = m_path.path->closed();
        double before = closed ? corners.back().station - m_length : 0, least = m_length;
        for (const Corner& c : corners) least = std::min(least, c.station - before), before = c.station;
        if (!closed) least = std::min(least, m_length - before);
        if (least > about / 2) m_spacing.bays = BayEdges::Corners;
    }
    void set(const Plank&) { slats(6); }
    void set(const Tile&) { slats(5); }
    void set(const Sleeper&) {
        m_spacing.rule = StepOff{std::max(600.0, m_size.x() + onBends(0.5 * m_size.x()))};
        m_spacing.kept = {EvenOut{600}};
        m_run.facing.crown = Upright{};
    }
    void set(const BollardLamp&) {
        even(std::max(4000.0, 8 * m_size.x()), Measure::CentreToCentre, ShareEnds::HalfPitchIn);
    }
    void set(const SteppingStone&) {
        even(std::max(650.0, 1.25 * m_size.x()));
        m_run.feet.ground = groundBelow();
    }
    void set(const Arrow&) { even(4 * m_size.x(), Measure::CentreToCentre, ShareEnds::HalfPitchIn), flat(); }
    void set(const Dash&) { even(m_size.x(), Measure::ClearGap), flat(); }
    void set(const Stitch&) { even(m_size.x() / 2, Measure::ClearGap), flat(); }
    void set(const RoundHole&) { plain(), flat(); }
    void set(const SlotHole&) { plain(), flat(); }
    void set(const Notch&) { plain(), flat(); }
    void set(const auto&) { plain(); }

    Document m_d;
    const Evaluation& m_worked;
    const PathResult& m_path;
    const PartResult& m_part;
    RunItem m_run;
    Spacing m_spacing;
    double m_length, m_pitch = 0;
    PathPlane m_plane;
    Vec3 m_size = Vec3::Zero();
    std::vector<Words> m_says;
};

struct Nouns {
    const char* operator()(const RoundLink&) const { return "Chain"; }
    const char* operator()(const RollerLink&) const { return "Chain"; }
    const char* operator()(const TreadPlate&) const { return "Belt"; }
    const char* operator()(const Baluster&) const { return "Balusters"; }
    const char* operator()(const Post&) const { return "Posts"; }
    const char* operator()(const Plank&) const { return "Planks"; }
    const char* operator()(const Sleeper&) const { return "Sleepers"; }
    const char* operator()(const BollardLamp&) const { return "Lamps"; }
    const char* operator()(const Tile&) const { return "Tiles"; }
    const char* operator()(const SteppingStone&) const { return "Stepping stones"; }
    const char* operator()(const Arrow&) const { return "Arrows"; }
    const char* operator()(const Dash&) const { return "Dashes"; }
    const char* operator()(const Stitch&) const { return "Stitches"; }
    const char* operator()(const RoundHole&) const { return "Holes"; }
    const char* operator()(const SlotHole&) const { return "Slots"; }
    const char* operator()(const Notch&) const { return "Notches"; }
    const char* operator()(const auto&) const { return nullptr; }
};

} // namespace

std::string nounOf(const PartItem& part) {
    if (const auto* maker = std::get_if<Maker>(&part.shape))
        if (const char* noun = std::visit(Nouns(), *maker)) return noun;
    return part.name;
}

Result<FirstRun> withFirstRun(const Document& d, const Evaluation& worked, Id path, Id part) {
    const auto along = worked.paths.find(path);
    if (along == worked.paths.end() || !along->second->path)
        return Problem{"The path is missing or wrong. Choose another one, or mend it first.", "path"};
    const auto of = worked.parts.find(part);
    if (of == worked.parts.end() || !of->second->body || !of->second->seated)
        return Problem{"The part is missing or wrong. Choose another one, or mend it first.", "part"};
    return Setter(d, worked, *along->second, *of->second).made();
}

} // namespace vicinal
