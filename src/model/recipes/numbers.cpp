#include "model/recipes/numbers.h"

namespace vicinal {
namespace {

/// What a number of a value is, where one number of it can be chosen and changed.
std::optional<ProfileKind> sortOf(ValueKind kind) {
    switch (kind) {
    case ValueKind::Length:
    case ValueKind::Point: return ProfileKind::Length;
    case ValueKind::Angle: return ProfileKind::Angle;
    case ValueKind::Number: return ProfileKind::Factor;
    default: return std::nullopt;
    }
}

/// Hands out the numbers that can be changed: use(about, kind, axis of a point or -1, number).
template<class Use> struct Changeable : EachValue<Changeable<Use>> {
    const Use& use;
    explicit Changeable(const Use& u) : use(u) {}
    template<class T> void value(const ValueAbout& about, T& v) const {
        if (const auto of = sortOf(about.kind))
            numbersIn(v, [&](auto& x, int i) { use(about, *of, about.kind == ValueKind::Point ? i : -1, x); });
    }
};

/// "point 3" is the third one; nothing for other words.
std::optional<size_t> indexIn(const std::string& key, const char* word, size_t most) {
    const std::string head = std::string(word) + " ";
    if (!key.starts_with(head) || key.size() > head.size() + 7) return std::nullopt;
    size_t n = 0;
    for (char c : key.substr(head.size())) {
        if (c < '0' || c > '9') return std::nullopt;
        n = 10 * n + size_t(c - '0');
    }
    return n >= 1 && n <= most ? std::optional(n - 1) : std::nullopt;
}

} // namespace

std::vector<RecipeNumber> numbersOf(const PathRecipe& recipe) {
    std::vector<RecipeNumber> out;
    if (const auto* points = editablePoints(recipe)) {
        for (size_t i = 0; i < points->points.size(); ++i) {
            const auto& p = points->points[i];
            const std::string number = std::to_string(i + 1);
            for (int k = 0; k < 3; ++k) out.push_back({"point " + number, "Point", ProfileKind::Length, k, p.at[k]});
            if (p.fillet > 0) out.push_back({"fillet " + number, "Fillet", ProfileKind::Length, -1, p.fillet});
        }
        return out;
    }
    const auto collect = [&](const ValueAbout& about, ProfileKind of, int axis, double v) {
        out.push_back({about.key, about.label, of, axis, v});
    };
    describe(Changeable(collect), recipe);
    return out;
}

std::optional<RecipeNumber> numberOf(const PathRecipe& recipe, const std::string& key, long axis) {
    for (const auto& n : numbersOf(recipe))
        if (n.key == key && (n.axis < 0 || n.axis == axis)) return n;
    return std::nullopt;
}

bool setNumber(PathRecipe& recipe, const std::string& key, long axis, double value) {
    if (auto* points = std::get_if<PointsRecipe>(&recipe)) {
        const size_t n = points->points.size();
        if (const auto i = indexIn(key, "point", n); i && axis >= 0 && axis < 3)
            return points->points[*i].at[axis] = value, true;
        if (const auto i = indexIn(key, "fillet", n)) return points->points[*i].fillet = value, true;
        return false;
    }
    bool found = false;
    const auto put = [&](const ValueAbout& about, ProfileKind, int own, double& v) {
        if (key == about.key && (own < 0 || own == axis)) v = value, found = true;
    };
    describe(Changeable(put), recipe);
    return found;
}

} // namespace vicinal
