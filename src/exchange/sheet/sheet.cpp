#include "exchange/sheet/sheet.h"
#include "exchange/sheet/inks.h"
#include "geometry/curves/edit.h"

namespace vicinal {

Sheet expanded(const Sheet& s) {
    Sheet out = s;
    out.blocks.clear();
    out.inserts.clear();
    for (const Insert& i : s.inserts) {
        const auto block = s.blocks.find(i.block);
        if (block == s.blocks.end()) continue;
        const Mat3 R = Eigen::AngleAxisd(i.turn, Vec3::UnitZ()).toRotationMatrix();
        for (Ink ink : block->second) {
            for (Segment& piece : ink.pieces) piece = moved(piece, R, Vec3(i.at.x(), i.at.y(), 0));
            ink.layer = i.layer;
            out.inks.push_back(std::move(ink));
        }
    }
    return out;
}

std::vector<Segment> flattened(const Path& path, const Mat3& view) {
    std::vector<Segment> out;
    Mat3 flat = view;
    flat.row(2).setZero();
    for (const Segment& s : path.segments()) {
        const auto* arc = std::get_if<Arc>(&s);
        if (arc && std::abs(std::abs((view * arc->xAxis.cross(arc->yAxis)).z()) - 1) < tolerance::fine) {
            out.push_back(moved(s, view, Vec3::Zero()));
        } else if (std::holds_alternative<Helix>(s) || std::holds_alternative<Catenary>(s)) {
            for (const Segment& c : cubicsNear(s, 1e-4)) out.push_back(mapped(c, flat, Vec3::Zero()));
        } else {
            out.push_back(mapped(s, flat, Vec3::Zero()));
        }
    }
    return out;
}

} // namespace vicinal
