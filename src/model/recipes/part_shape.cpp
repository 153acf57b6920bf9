#include "model/recipes/part_shape.h"
#include "base/ranges.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/edit.h"
#include "parts/makers/maker.h"

namespace vicinal {
namespace {

Result<BodyPtr> buildExtruded(const ExtrudedPath& e, const ShapeSource& source) {
    if (!source.path) return Problem{"The path it is extruded from is missing. Choose another one.", "path"};
    if (!(e.height > 0)) return Problem{"The height is " + say::mm(e.height) + "; use more than 0.", "height"};
    auto flat = flatRing(*source.path);
    if (!flat) return flat.problem();
    const auto solid = extruded(std::vector<Ring>{std::move(flat.value().ring)}, 0, e.height);
    if (!solid) return solid.problem();
    return bodyOf(*solid);
}

Result<BodyPtr> buildOutline(const FlatOutline& f) {
    if (!f.rings) return Problem{"The outline of this part is missing. Bring it in again.", "outline"};
    if (!std::isfinite(f.thickness) || f.thickness < 0 || f.thickness > 1e7)
        return Problem{"The part's thickness is " + say::mm(f.thickness) + "; use 0 (flat) to " + say::bound(1e7) + ".",
                       "thickness"};
    const auto solid = extruded(*f.rings, 0, f.thickness);
    if (!solid) return solid.problem();
    return bodyOf(*solid);
}

Result<BodyPtr> buildPiece(const PieceShape& shape, std::span<const ShapeSource>& sources) {
    const auto next = [&] {
        ShapeSource s = sources.empty() ? ShapeSource{} : sources.front();
        if (!sources.empty()) sources = sources.subspan(1);
        return s;
    };
    if (const auto* m = std::get_if<Maker>(&shape)) return bodyOf(make(*m));
    if (const auto* b = std::get_if<Brought>(&shape)) {
        if (!b->body) return Problem{"The body of this part is missing. Bring it in again.", "part"};
        return b->body;
    }
    if (const auto* f = std::get_if<FlatOutline>(&shape)) return buildOutline(*f);
    if (const auto* e = std::get_if<ExtrudedPath>(&shape)) return buildExtruded(*e, next());
    const auto s = next();
    if (!s.body) return Problem{"The part it uses was deleted. Choose another one, or take the piece out.", "part"};
    return s.body;
}

} // namespace

void describe(const ValueVisitor&, Brought&) {}

void describe(const ValueVisitor& v, FlatOutline& f) {
    v.length("thickness", "Thickness", "The outline is raised by it; 0: flat", f.thickness);
}

void describe(const ValueVisitor& v, ExtrudedPath& e) {
    v.item("path", "Path", "The closed flat path that is its outline; it follows it", e.path, ItemKind::Path);
    v.length("height", "Height", "The closed path is raised by it", e.height);
}

void describe(const ValueVisitor& v, PartUse& u) {
    v.item("part", "Part", "The part that it is taken from", u.part, ItemKind::Part);
}

Result<FlatRing> flatRing(const Path& path) {
    if (!path.closed())
        return Problem{"The path is open: only a closed one encloses a part. Close it, or choose another.", "path"};
    const PathPlane plane = planeOf(path);
    if (!plane.planar)
        return Problem{"The path is not flat: only a flat one can be extruded. Project it onto a plane first.", "path"};
    FlatRing out;
    // Into the path's plane: for a level path x and y stay what they are.
    Mat3& R = out.toPlane;
    R.row(2) = plane.normal;
    const Vec3 x = std::abs(plane.normal.x()) < 0.999 ? Vec3(Vec3::UnitX()) : Vec3(Vec3::UnitY());
    R.row(0) = (x - plane.normal * x.dot(plane.normal)).normalized();
    R.row(1) = Vec3(R.row(2)).cross(Vec3(R.row(0)));
    if (plane.normal.z() > 1 - tolerance::fine) R = Mat3::Identity();
    for (const auto& s : path.segments()) out.ring.push_back(moved(s, R, Vec3::Zero()));
    const auto flat = Path::make(out.ring, true, 1e-3);
    if (!flat) return flat.problem();
    out.middle = flat->bounds().center();
    for (auto& s : out.ring) s = moved(s, Mat3::Identity(), -out.middle);
    return out;
}

std::vector<Id> sourcesOf(const PartShape& shape) {
    if (const auto* e = std::get_if<ExtrudedPath>(&shape)) return {e->path};
    std::vector<Id> out;
    if (const auto* p = std::get_if<Pieces>(&shape))
        for (const auto& piece : p->list) {
            if (const auto* e = std::get_if<ExtrudedPath>(&piece.shape)) out.push_back(e->path);
            if (const auto* u = std::get_if<PartUse>(&piece.shape)) out.push_back(u->part);
        }
    return out;
}

Mat3 turnOf(const Piece& p) {
    const Mat3 R = (Eigen::AngleAxisd(p.turn.z(), Vec3::UnitZ()) * Eigen::AngleAxisd(p.turn.y(), Vec3::UnitY()) *
                    Eigen::AngleAxisd(p.turn.x(), Vec3::UnitX()))
                       .toRotationMatrix();
    // Quarter turns are exact: what is square stays square.
    Mat3 out = R;
    for (int i = 0; i < 9; ++i) {
        double& v = out.data()[i];
        if (std::abs(v) < 1e-15) v = 0;
        if (std::abs(std::abs(v) - 1) < 1e-15) v = std::copysign(1.0, v);
    }
    if (p.mirrored) out.col(1) = -out.col(1);
    return out;
}

Result<BodyPtr> build(const PartShape& shape, std::span<const ShapeSource> sources) {
    if (const auto* p = std::get_if<Pieces>(&shape)) {
        if (p->list.empty()) return Problem{"The part has no piece. Add one.", "pieces"};
        std::vector<BodyPtr> bodies;
        for (size_t i = 0; i < p->list.size(); ++i) {
            const Piece& piece = p->list[i];
            const auto wrong = [&](const Problem& q) {
                return Problem{"Piece " + say::count(i + 1) +
                                   (piece.name.empty() ? "" : " (" + text::quoted(piece.name) + ")") + ": " + q.text,
                               "piece " + say::count(i + 1) + "." + q.field};
            };
            auto body = buildPiece(piece.shape, sources);
            if (!body) return wrong(body.problem());
            if (!inReach(piece.at))
                return wrong(Problem{"its place is not a number or beyond " + say::bound(kLargest) + ".", "at"});
            if (!piece.turn.allFinite()) return wrong(Problem{"its turn is not a number. Type an angle.", "turn"});
            if (!ranges::kSize.holds(piece.size))
                return wrong(
                    Problem{"its size is " + say::number(piece.size, 6) + "; use 0.000001 to 1000000.", "size"});
            bodies.push_back(moved(*body, turnOf(piece), piece.at, piece.size));
        }
        size_t triangles = 0; // pieces of pieces multiply
        for (const auto& b : bodies) triangles += b->mesh->triangles.size();
        if (triangles > kMostTriangles)
            return Problem{"The pieces have " + say::count(triangles) + " triangles in all; the most is " +
                               say::count(kMostTriangles) + ". Take some out, or use simpler ones.",
                           "pieces"};
        return together(bodies);
    }
    const PieceShape one = std::visit(
        [](const auto& s) -> PieceShape {
            if constexpr (std::is_same_v<std::remove_cvref_t<decltype(s)>, Pieces>)
                return PartUse{};
            else
                return s;
        },
        shape);
    return buildPiece(one, sources);
}

PieceShape asPiece(const PartShape& shape, Id part) {
    return std::visit(
        [&](const auto& s) -> PieceShape {
            if constexpr (std::is_same_v<std::remove_cvref_t<decltype(s)>, Pieces>)
                return PartUse{part};
            else
                return s;
        },
        shape);
}

std::string kindOf(const PartShape& shape) {
    if (const auto* m = std::get_if<Maker>(&shape)) return kindOf(*m);
    if (const auto* b = std::get_if<Brought>(&shape))
        return b->extension == "step" || b->extension == "stp" ? "solid" : "mesh";
    if (std::holds_alternative<FlatOutline>(shape)) return "outline";
    if (std::holds_alternative<ExtrudedPath>(shape)) return "extruded path";
    return "pieces";
}

} // namespace vicinal
