#include "parts/rails/pieces.h"
#include "parts/rails/sweep.h"
#include <array>
#include <cmath>
#include <map>

namespace vicinal {

std::vector<BarKind> kindsOf(const std::vector<RailBar>& bars) {
    std::vector<BarKind> out;
    std::map<std::array<long long, 7>, size_t> seen;
    for (size_t i = 0; i < bars.size(); ++i) {
        const RailBar& b = bars[i];
        const auto step = [](double v, double by) { return std::llround(v / by); };
        const double angle = 0.05 * kDegree;
        const std::array<long long, 7> key{step(b.length, 0.05),
                                           step(b.longest, 0.05),
                                           step(b.startPlan, angle),
                                           step(b.startSlope, angle),
                                           step(b.endPlan, angle),
                                           step(b.endSlope, angle),
                                           b.bent};
        const auto [at, fresh] = seen.try_emplace(key, out.size());
        if (fresh) out.push_back({b, {}});
        out[at->second].which.push_back(i);
    }
    return out;
}

RailPiece capOf(const RailPiece& piece, const RailCut& cut, bool atStart, double thick) {
    RailPiece plate = piece;
    plate.start = {-piece.axes.col(0), atStart ? cut.at - thick : cut.at, 0, 0};
    plate.end = {piece.axes.col(0), plate.start.at + thick, 0, 0};
    plate.length = plate.longest = thick;
    return plate;
}

BodyPtr piecesBody(const std::vector<RailPiece>& pieces, const RailFace& face, const Vec3& home) {
    Mesh mesh;
    const Loft loft(*face.mesh);
    std::vector<Vec3> rows;
    for (const RailPiece& p : pieces) {
        rows.clear();
        for (double share : {0.0, 1.0})
            for (const Vec3& q : face.mesh->points) rows.push_back(pointOn(p, q.head<2>(), share) - home);
        loft.add(mesh, rows, false);
    }
    for (const Vec3& p : mesh.points) mesh.box.extend(p);
    Body body;
    body.mesh = std::make_shared<const Mesh>(std::move(mesh));
    body.slow = true;
    body.solid = std::make_shared<const LazySolid>([pieces, face, home] { return piecesSolid(pieces, face, home); });
    return std::make_shared<const Body>(std::move(body));
}

} // namespace vicinal
