#include "model/recipes/numbers.h"

namespace vicinal {
namespace {

struct Collect : IgnoreValues {
    std::vector<RecipeNumber>& out;
    explicit Collect(std::vector<RecipeNumber>& o) : out(o) {}
    void add(const char* k, const char* l, ProfileKind of, double v) const { out.push_back({k, l, of, -1, v}); }
    void length(const char* k, const char* l, const char*, double v) const { add(k, l, ProfileKind::Length, v); }
    void angle(const char* k, const char* l, const char*, double v) const { add(k, l, ProfileKind::Angle, v); }
    void number(const char* k, const char* l, const char*, double v) const { add(k, l, ProfileKind::Factor, v); }
    void point(const char* k, const char* l, const char*, const Vec3& v) const {
        for (int i = 0; i < 3; ++i) out.push_back({k, l, ProfileKind::Length, i, v[i]});
    }
};

struct Put : IgnoreValues {
    const std::string& key;
    long axis;
    double value;
    bool& found;
    Put(const std::string& k, long a, double v, bool& f) : key(k), axis(a), value(v), found(f) {}
    void put(const char* k, double& v) const {
        if (key == k) v = value, found = true;
    }
    void length(const char* k, const char*, const char*, double& v) const { put(k, v); }
    void angle(const char* k, const char*, const char*, double& v) const { put(k, v); }
    void number(const char* k, const char*, const char*, double& v) const { put(k, v); }
    void point(const char* k, const char*, const char*, Vec3& v) const {
        if (axis >= 0 && axis < 3) put(k, v[axis]);
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
    describe(Collect(out), recipe);
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
    describe(Put(key, axis, value, found), recipe);
    return found;
}

} // namespace vicinal
