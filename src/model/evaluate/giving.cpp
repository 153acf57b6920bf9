#include "model/evaluate/giving.h"
#include "base/numeric/root.h"
#include "base/say.h"
#include "base/text.h"
#include "layout/placement_input.h"
#include "layout/spacing/rule_kind.h"
#include <cmath>

namespace vicinal {

bool counts(const GiveWay& g, const std::string& key) {
    if (key == "gives") return true;
    if (g.what == Gives::Nothing) return false;
    if (key == "giveCount" || key == "giveAtLeast" || key == "giveAtMost") return true;
    const bool wheel = g.what == Gives::Wheel;
    if (key == "giveValue") return !wheel;
    if (key == "giveAxis")
        return !wheel && (g.value.starts_with("point") || g.value == "at" || g.value == "from" || g.value == "to" ||
                          g.value == "via" || g.value == "pick");
    if (key == "giveWheel" || key == "giveMoves") return wheel;
    if (key == "giveHeading") return wheel && g.moves == WheelMoves::Line;
    if (key == "givePivot") return wheel && g.moves == WheelMoves::Pivot;
    if (key == "giveAlong") return wheel && g.moves == WheelMoves::Path;
    return true;
}

Vec2 wheelAt(const GiveWay& g, const ShapeRecipe& shape, const Vec2& centre, double t, const Path* along) {
    switch (g.moves) {
    case WheelMoves::Line: return centre + t * Vec2(std::cos(g.heading), std::sin(g.heading));
    case WheelMoves::Pivot: {
        const Vec2 pivot = toPlane(shape, g.pivot);
        return pivot + Eigen::Rotation2Dd(t) * (centre - pivot);
    }
    case WheelMoves::Path: return along ? toPlane(shape, along->at(t).point) : centre;
    }
    return centre;
}

namespace {

/// One number that can be set, whatever it is of.
struct FreeValue {
    std::string name;
    ProfileKind of = ProfileKind::Length;
    double now = 0, least = 0, most = 0, step = 1;
    std::function<bool(PathRecipe&, double)> set;
    std::function<std::optional<Vec3>(const PathRecipe&)> spot; ///< where it is in space, if anywhere
    const char* field = "giveValue";
};

Words shown(double v, ProfileKind of) {
    switch (of) {
    case ProfileKind::Angle: return Words(say::number(v / kDegree, 4) + "\u00b0");
    case ProfileKind::Factor: return Words(say::number(v, 6));
    case ProfileKind::Length: break;
    }
    return Words::length(v, Words::Style::Decimals);
}

Result<FreeValue> knobOf(const GivingTo& to, double length) {
    const GiveWay& g = to.give;
    FreeValue k;
    if (g.what == Gives::Value) {
        const auto number = numberOf(to.recipe, g.value, g.axis);
        if (!number)
            return Problem{g.value.empty() ? Words("Choose the value that gives way.")
                                           : "This path has no value \"" + text::quoted(g.value) +
                                                 "\" that could give way. Choose another one.",
                           "giveValue"};
        k.name = number->label;
        if (number->key.find(' ') != std::string::npos) k.name += number->key.substr(number->key.find(' '));
        k.of = number->of;
        k.now = number->value;
        const double size = std::max(std::abs(k.now), k.of == ProfileKind::Length ? length / 100 : 0.01);
        if (k.of == ProfileKind::Angle) {
            k.least = k.now - kPi, k.most = k.now + kPi, k.step = 0.5 * kDegree;
        } else if (number->axis >= 0) {
            k.least = k.now - 5 * length, k.most = k.now + 5 * length, k.step = length / 500;
        } else { // what is above zero stays above zero
            k.least = k.now > 0 ? k.now / 50 : k.now - 50 * size;
            k.most = k.now + 50 * size;
            k.step = size / 100;
        }
        const std::string key = g.value;
        const long axis = g.axis;
        k.set = [=](PathRecipe& r, double v) { return setNumber(r, key, axis, v); };
        if (number->axis >= 0)
            k.spot = [=](const PathRecipe& r) -> std::optional<Vec3> {
                Vec3 at;
                for (int i = 0; i < 3; ++i) at[i] = numberOf(r, key, i)->value;
                return at;
            };
        return k;
    }
    const auto* shape = std::get_if<ShapeRecipe>(&to.recipe);
    const auto* loop = shape ? std::get_if<WheelShape>(&shape->shape) : nullptr;
    k.field = "giveWheel";
    if (!loop) return Problem{"This path is no loop round wheels, so that no wheel can move.", "giveWheel"};
    if (g.wheel < 1 || g.wheel > long(loop->wheels.size()))
        return Problem{"There is no wheel " + say::count(g.wheel) + ": the loop has " +
                           say::count(loop->wheels.size()) + ".",
                       "giveWheel"};
    const auto index = size_t(g.wheel - 1);
    const Vec2 centre = loop->wheels[index].centre;
    k.name = loop->wheels[index].name.empty() ? "wheel " + std::to_string(g.wheel) : loop->wheels[index].name;
    const Path* along = to.along;
    if (g.moves == WheelMoves::Path) {
        if (!along) return Problem{"Choose the path that the wheel's middle moves along.", "giveAlong"};
        k.now = along->closest(toSpace(*shape, centre));
        k.least = 0, k.most = along->length(), k.step = length / 1000;
    } else if (g.moves == WheelMoves::Pivot) {
        const double arm = (toPlane(*shape, g.pivot) - centre).norm();
        if (!(arm > tolerance::length))
            return Problem{"The pivot stands in the wheel's middle, so that turning moves nothing. Move it.",
                           "givePivot"};
        k.of = ProfileKind::Angle;
        k.least = -kPi, k.most = kPi, k.step = std::min(0.05, length / 1000 / arm);
    } else {
        k.least = -3 * length, k.most = 3 * length, k.step = length / 1000;
    }
    k.set = [index, g, centre, along](PathRecipe& r, double t) {
        auto& s = std::get<ShapeRecipe>(r);
        std::get<WheelShape>(s.shape).wheels[index].centre = wheelAt(g, s, centre, t, along);
        return true;
    };
    k.spot = [index](const PathRecipe& r) -> std::optional<Vec3> {
        const auto& s = std::get<ShapeRecipe>(r);
        return toSpace(s, std::get<WheelShape>(s.shape).wheels[index].centre);
    };
    return k;
}

} // namespace

Result<SolvedValue> seekGoal(const GivingTo& to, std::optional<long> wanted) {
    const auto present = to.build(to.recipe);
    const double length = present ? present->length() : 1000;
    auto knob = knobOf(to, length);
    if (!knob) return knob.problem();
    FreeValue& k = knob.value();
    if (to.give.least) k.least = *to.give.least;
    if (to.give.most) k.most = *to.give.most;
    if (!(k.least < k.most))
        return Problem{"The bounds leave nothing between " + shown(k.least, k.of) + " and " + shown(k.most, k.of) +
                           ". Swap or widen them.",
                       "giveAtLeast"};
    long count = wanted ? *wanted : to.give.count;
    if (count == 0) count = kindOf(to.order.spacing).count(to.order.spacing->rule);
    if (count == 0) {
        if (!present) return Problem{present.problem().text, "path"};
        const auto nearest = nearestCount(*present, to.order.spacing, lineupOf(*present, to.order));
        if (!nearest) return nearest.problem();
        count = *nearest;
    }
    if (present) { // a rule that nothing can give way for, a count that cannot be
        const auto e = excess(*present, to.order.spacing, lineupOf(*present, to.order), count);
        if (!e && e.problem().field == "links") // whatever gives way, such links do not close
            return Problem{e.problem().text, "giveCount"};
        if (!e && (e.problem().field != "giveCount" || count < 2)) return e.problem();
    }
    const auto missing = [&](double v) {
        PathRecipe r = to.recipe;
        if (!k.set(r, v)) return std::nan("");
        const auto path = to.build(r);
        if (!path) return std::nan("");
        const auto e = excess(*path, to.order.spacing, lineupOf(*path, to.order), count);
        return e ? *e : std::nan("");
    };
    RootWanted want{k.now, k.least, k.most, k.step};
    const RootFound found = nearestRoot(missing, want);
    SolvedValue out;
    out.recipe = to.recipe;
    out.name = k.name;
    out.of = k.of;
    out.before = k.now;
    out.after = found.at;
    out.error = found.value;
    out.count = count;
    out.tries = found.tries;
    if (k.spot) out.from = k.spot(out.recipe);
    k.set(out.recipe, found.at);
    if (k.spot) out.to = k.spot(out.recipe);
    if (found.exact) return out;
    return Problem{say::count(count) + " do not come out with any " + k.name + " from " + shown(k.least, k.of) +
                       " to " + shown(k.most, k.of) +
                       (found.any ? ": at " + shown(found.at, k.of) + ", the nearest, " +
                                        Words::length(std::abs(found.value), Words::Style::Decimals) +
                                        (found.value < 0 ? " are left over" : " are missing")
                                  : Words()) +
                       ". Widen the bounds, or take another count.",
                   to.give.least || to.give.most ? "giveAtLeast" : k.field};
}

} // namespace vicinal
