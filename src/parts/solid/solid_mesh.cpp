// Triangles of a solid.
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/crossings.h"
#include "geometry/curves/edit.h"
#include "parts/solid/fine.h"
#include "parts/solid/shape.h"
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Trsf.hxx>
#include <sstream>

namespace vicinal {

namespace {

void addTriangles(const TopoDS_Shape& shape, Mesh& mesh) {
    for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
        const TopoDS_Face& face = TopoDS::Face(f.Current());
        TopLoc_Location where;
        const Handle(Poly_Triangulation) t = BRep_Tool::Triangulation(face, where);
        if (t.IsNull()) continue;
        const gp_Trsf move = where.Transformation();
        const auto first = std::uint32_t(mesh.points.size());
        for (int i = 1; i <= t->NbNodes(); ++i) mesh.points.push_back(occ::vec(t->Node(i).Transformed(move).XYZ()));
        const bool turned = (face.Orientation() == TopAbs_REVERSED) != move.IsNegative();
        for (int i = 1; i <= t->NbTriangles(); ++i) {
            int a, b, c;
            t->Triangle(i).Get(a, b, c);
            if (turned) std::swap(b, c);
            mesh.triangles.push_back(
                {first + std::uint32_t(a) - 1, first + std::uint32_t(b) - 1, first + std::uint32_t(c) - 1});
        }
    }
}

} // namespace

namespace {

/// `finer`: so many times as many pieces round a circle; or `within` mm of the faces.
Result<Mesh> meshed(const Solid& solid, const std::optional<Box3>& known, double finer, double* within = nullptr) {
    try {
        const Box3 box = known ? *known : boxOf(solid);
        if (box.isEmpty()) return Problem{"The body has no size.", "part"};
        Vec3 sizes = box.sizes();
        std::sort(sizes.data(), sizes.data() + 3);
        // Triangles are kept inside the shape: a copy of its topology takes them, since the solid is shared and
        // constant.
        const TopoDS_Shape shape = BRepBuilderAPI_Copy(solid.shape, false, false).Shape();
        if (within) *within = std::max(*within, sizes[2] / 200'000);
        const double off = within ? *within : std::max(sizes[1] / 200, sizes[2] / 20000);
        BRepMesh_IncrementalMesh(shape, off, false, 30 * kDegree / finer, within != nullptr); // then on all processors
        // One solid after the other: those that touch must not grow together where their points happen to meet.
        std::vector<Mesh> pieces;
        const auto add = [&](const TopoDS_Shape& s) {
            pieces.emplace_back();
            addTriangles(s, pieces.back());
        };
        for (TopExp_Explorer s(shape, TopAbs_SOLID); s.More(); s.Next()) add(s.Current());
        TopoDS_Compound sheets;
        BRep_Builder builder;
        builder.MakeCompound(sheets);
        for (TopExp_Explorer f(shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next()) builder.Add(sheets, f.Current());
        add(sheets);
        Mesh out;
        std::optional<Problem> why;
        for (auto& m : pieces) {
            if (m.triangles.empty()) continue;
            const auto clean = cleaned(std::move(m));
            if (!clean) {
                why = clean.problem();
                continue;
            }
            const auto first = std::uint32_t(out.points.size());
            out.points.insert(out.points.end(), clean->points.begin(), clean->points.end());
            for (auto t : clean->triangles) {
                for (auto& i : t) i += first;
                out.triangles.push_back(t);
            }
        }
        if (out.triangles.empty())
            return why ? *why : Problem{"The body has no faces that can be turned into triangles.", "part"};
        out.box = box;
        return out;
    } catch (const Standard_Failure& f) {
        return Problem{Words("The body cannot be turned into triangles: ") + f.GetMessageString() + ".", "part"};
    }
}

} // namespace

Result<Mesh> meshOf(const Solid& solid, const std::optional<Box3>& known) { return meshed(solid, known, 1); }

Result<Mesh> fineMeshOf(const Solid& solid) { return meshed(solid, {}, 4); }

Result<Mesh> meshWithin(const Solid& solid, double& within) { return meshed(solid, {}, 1, &within); }

} // namespace vicinal
