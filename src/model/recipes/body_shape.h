#pragma once
// What a site body is made of. Like a part's shape it stays editable; the body is always worked out from it anew.
#include "base/rule_words.h"
#include "geometry/terrain/terrain.h"
#include "model/recipes/cut_shape.h"
#include "model/recipes/part_shape.h"
#include "model/recipes/rail_shape.h"
#include "parts/cuts/webs.h"
#include "parts/makers/maker.h"
#include "parts/rails/pieces.h"

namespace vicinal {

/// A plate over a closed flat path, where that path is: square to its plane.
struct PlateOf {
    static constexpr const char* kKind = "plate";
    static constexpr const char* kNeeds[] = {"path"};
    Id path = 0;
    double thickness = 20;
    bool under = true; ///< under the path's plane: the path is its upper edge; else on it
    bool operator==(const PlateOf&) const = default;
};
void describe(const ValueVisitor&, PlateOf&);

/// Which side of its path a wall stands on, as one goes along.
enum class WallSide { Middle, Left, Right };
/// A wall raised along a path: plumb sides, its top so far above the path, its foot so far below.
struct WallAlong {
    static constexpr const char* kKind = "wall";
    static constexpr const char* kNeeds[] = {"path"};
    Id path = 0;
    double height = 1000, below = 0, thickness = 200;
    WallSide side = WallSide::Middle;
    bool operator==(const WallAlong&) const = default;
};
void describe(const ValueVisitor&, WallAlong&);

/// Ground from levels: points and break lines, joined by triangles; or a regular grid.
struct Levels {
    static constexpr const char* kKind = "levels";
    std::shared_ptr<const LevelData> data;   ///< mm; as it was brought in
    std::shared_ptr<const std::string> text; ///< the same as it is kept in the document, see levelsOf()
    std::string source;                      ///< file name it came from
    double thickness = 0;                    ///< mm, down to a level foot below the lowest point; 0: a sheet
    double longest = 0; ///< mm in plan; triangles at its border with a longer edge are no ground; 0: all are
    bool operator==(const Levels& o) const {
        return data == o.data && thickness == o.thickness && longest == o.longest;
    }
};
void describe(const ValueVisitor&, Levels&);

/// Ground that is made: a rectangle round its own origin, its long way along x.
enum class GroundForm { Slope, Terraces, Mound };
struct MadeGround {
    static constexpr const char* kKind = "made ground";
    GroundForm form = GroundForm::Slope;
    double length = 10'000, width = 6'000;
    double rise = 800;    ///< of the slope or all terraces together along x, or of the mound's top
    long steps = 3;       ///< terraces
    double bank = 300;    ///< in plan, of the bank between two terraces; 0: upright
    double radius = 2500; ///< of the mound's foot
    bool operator==(const MadeGround&) const = default;
};
void describe(const ValueVisitor&, MadeGround&);

/// Parts are made of the first three as well; of the others each has, beside its values, its word in files, kKind, and
/// which items it is made from, kNeeds: their keys, "a or b" where it is either.
using BodyShape =
    std::variant<Maker, Brought, FlatOutline, PlateOf, WallAlong, Levels, MadeGround, PartUse, RailAlong, CutBy>;
template<class S>
concept OfBodiesAlone = requires {
    S::kKind;
};
/// Hands one of each kind that only bodies have to `use`.
template<class Use> void eachBodyKind(Use&& use) {
    [&]<size_t... I>(std::index_sequence<I...>) {
        const auto one = [&]<class S>(const S& shape) {
            if constexpr (OfBodiesAlone<S>) use(shape);
        };
        (one(std::variant_alternative_t<I, BodyShape>()), ...);
    }
    (std::make_index_sequence<std::variant_size_v<BodyShape>>());
}
/// The keys of what a kind is made from.
template<class S> std::span<const char* const> needsOf(const S&) {
    if constexpr (requires { S::kNeeds; })
        return S::kNeeds;
    else
        return {};
}

/// Levels ready to be kept. Precondition: they are numbers.
Levels levelsOf(LevelData, std::string source);

/// Hands every id of what a shape is made from to `use`, as the member that holds it; also those that are 0.
template<class Shape, class Use> void eachSource(Shape& shape, Use&& use) {
    if (auto* p = std::get_if<PlateOf>(&shape)) use(p->path);
    if (auto* w = std::get_if<WallAlong>(&shape)) use(w->path);
    if (auto* u = std::get_if<PartUse>(&shape)) use(u->part);
    if (auto* r = std::get_if<RailAlong>(&shape)) {
        use(r->run);
        use(r->path);
        use(r->outline);
    }
    if (auto* c = std::get_if<CutBy>(&shape)) {
        use(c->of);
        use(c->part);
        use(c->run);
    }
}
/// Those that are not 0, each once.
std::vector<Id> sourcesOf(const BodyShape&);
/// Word for a shape's kind as in files ("box", "mesh", "plate", ...).
std::string kindOf(const BodyShape&);
/// True for what paths and feet are laid on as a matter of course.
inline bool isGround(const BodyShape& s) {
    return std::holds_alternative<Levels>(s) || std::holds_alternative<MadeGround>(s);
}

/// The body of a shape in its own axes, and where these stand: what follows a path has them on it.
struct BuiltBody {
    BodyPtr body;
    Vec3 home = Vec3::Zero();
    std::vector<Words> remarks{};           ///< what is worth saying, one sentence each
    std::vector<RailBar> bars{};            ///< of rails: their cut list
    std::shared_ptr<const CutReport> cut{}; ///< of what was cut
};
/// A shape that is made from a path or a part, or from nothing; `source`: that. Problem with `field` the key of the
/// value. What asks a run is built by those who know runs.
Result<BuiltBody> buildBody(const BodyShape&, const ShapeSource& source);

} // namespace vicinal
