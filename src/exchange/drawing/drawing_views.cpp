#include "base/say.h"
#include "base/text.h"
#include "exchange/drawing/drawing.h"
#include "exchange/drawing/views.h"
#include "layout/spacing/limits.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

const Mesh* DrawnMeshes::of(const BodyPtr& body, const std::shared_ptr<const Mesh>& own) {
    if (!m_fine) return own.get();
    const auto [it, fresh] = m_known.try_emplace(body.get(), own);
    if (fresh)
        if (const SolidPtr solid = solidOf(*body))
            if (auto fine = fineMeshOf(*solid)) it->second = std::make_shared<const Mesh>(std::move(fine).value());
    return it->second.get();
}

namespace {

void widenBy(Bounds& b, const std::vector<Segment>& strand, const Vec2& at = Vec2::Zero(), double turn = 0) {
    const Mat3 R = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
    for (const Segment& s : strand) {
        const Box3 box = boundsOf(turn == 0 && at.isZero() ? s : moved(s, R, Vec3(at.x(), at.y(), 0)));
        widen(b, box.min().head<2>());
        widen(b, box.max().head<2>());
    }
}

/// Where a row's chains stand: on the side where less is in the way, below, or to the right of what leads up.
Vec2 sideOf(const DrawnView::Row& row) {
    const Vec2 left(-row.along.y(), row.along.x());
    const bool below = left.y() > tolerance::rounding || (std::abs(left.y()) <= tolerance::rounding && left.x() < 0);
    return below ? Vec2(-left) : left;
}

Vec2 onto(const Mat3& axes, const Vec3& p) { return (axes * p).head<2>(); }

/// The places of the first row that are there; of what follows no path, all of them.
template<class Use> void eachFirst(const Standing& of, Use&& use) {
    const RunResult* run = of.asRun();
    const size_t first = run ? std::min(run->placed->laid->rowSize, of.count()) : of.count();
    of.eachInstance([&](const Instance& i) {
        if (i.body >= first) return false;
        use(i);
        return true;
    });
}

/// A path that leads straight, square to where it is looked from.
std::optional<Vec3> straight(const Path& path) {
    if (path.closed()) return std::nullopt;
    const Vec3 d = (path.at(path.length()).point - path.at(0).point);
    if (std::abs(d.norm() - path.length()) > tolerance::alike * path.length()) return std::nullopt;
    return d / path.length();
}

void addBodies(DrawnView& v, const ExportSet& goods, DrawnMeshes& meshes) {
    std::map<Id, std::string> pathOf;
    for (const auto& of : withWheels(goods.standing)) {
        if (const RunResult* run = of->asRun(); run && run->path) pathOf[run->path->item->id] = run->path->item->name;
        const std::string& layer = of->kind == Standing::Kind::Wheels ? pathOf[of->id] : of->name;
        of->eachInstance([&](const Instance& i) {
            v.bodies.push_back({{}, meshes.of(i.part.body, i.part.mesh), i.pose()});
            v.layers.push_back(layer);
        });
    }
}

void addPath(DrawnView& v, Id id, const std::string& name, const Path& path) {
    if (v.pathNames.count(id)) return;
    v.pathNames[id] = name;
    v.paths.push_back({id, flattened(path, v.axes)});
    for (const Corner& c : path.corners()) {
        const Vec3 one = v.axes * -c.before, other = v.axes * c.after;
        if (std::abs(one.z()) > tolerance::alike || std::abs(other.z()) > tolerance::alike)
            continue; // not in true size
        const double angle = std::acos(std::clamp(one.dot(other), -1.0, 1.0));
        v.corners.push_back({onto(v.axes, path.at(c.station).point), one.head<2>(), other.head<2>(), angle});
    }
}

/// Rows of places that are seen in true length, and numbers.
void addRows(DrawnView& v, const ExportSet& goods) {
    for (const auto& of : goods.standing) {
        eachFirst(*of, [&](const Instance& i) {
            v.numbers.push_back({onto(v.axes, i.frame().seat), say::count(i.place + 1)});
        });
        const RunResult* r = of->asRun();
        if (!r) continue;
        const Placed& p = *r->placed;
        const auto d = straight(p.path);
        if (!d || std::abs((v.axes * *d).z()) > tolerance::alike) continue;
        DrawnView::Row row{r, onto(v.axes, p.path.at(0).point), onto(v.axes, *d), p.path.length(), {}, {}, 0, 0};
        eachFirst(*r, [&](const Instance& i) {
            row.at.push_back(p.stations()[i.body]);
            row.stations.push_back(p.stations()[i.body]);
        });
        if (row.at.empty()) continue;
        const Vec2 side(-row.along.y(), row.along.x());
        row.low = kFar;
        row.high = -kFar;
        r->eachInstance([&](const Instance& i) {
            const Box3& box = i.part.mesh->box;
            const Mat4 pose = i.pose();
            for (int c = 0; c < 8; ++c) {
                const double h =
                    (onto(v.axes, (pose * box.corner(Box3::CornerType(c)).homogeneous()).head<3>()) - row.start)
                        .dot(side);
                row.low = std::min(row.low, h);
                row.high = std::max(row.high, h);
            }
        });
        v.rows.push_back(std::move(row));
    }
}

/// Every run with a path pulled straight, one above the other: seen from above, or from its side where its parts stand.
DrawnView unrolled(const ExportSet& goods, DrawnMeshes& meshes) {
    DrawnView v;
    v.name = "Unrolled";
    v.unrolled = true;
    double top = 0;
    for (const auto& of : goods.standing) {
        const RunResult* r = of->asRun();
        if (!r) continue;
        const Placed& p = *r->placed;
        double high = 0, wide = 0;
        for (const PlacedPart& part : p.parts) {
            const Box3 box = seatedBox(part.seat, part.mesh->box);
            high = std::max(high, box.sizes().z());
            wide = std::max(wide, box.sizes().y());
        }
        const bool fromSide = high > wide;
        const size_t first = v.bodies.size();
        DrawnView::Row row{r, Vec2(0, 0), Vec2(1, 0), p.path.length(), {}, {}, kFar, -kFar};
        r->eachInstance([&](const Instance& i) {
            const double s = i.own ? p.stations()[i.body] : p.path.closest(i.frame().seat);
            const Sample at = p.path.at(s);
            Vec3 up = Vec3::UnitZ() - at.tangent * at.tangent.z();
            up = up.norm() > tolerance::alike ? Vec3(up.normalized()) : anyNormal(at.tangent);
            const Vec3 left = up.cross(at.tangent);
            Mat3 rows;
            rows.row(0) = at.tangent;
            rows.row(1) = fromSide ? up : left;
            rows.row(2) = fromSide ? Vec3(-left) : up;
            Mat4 M = Mat4::Identity();
            M.topLeftCorner<3, 3>() = rows;
            M.topRightCorner<3, 1>() = Vec3(s, 0, 0) - rows * at.point;
            v.bodies.push_back({{}, meshes.of(i.part.body, i.part.mesh), M * i.pose()});
            v.layers.push_back(r->name);
            const Box3& box = i.part.mesh->box;
            for (int c = 0; c < 8; ++c) {
                const double h = (v.bodies.back().pose * box.corner(Box3::CornerType(c)).homogeneous()).y();
                row.low = std::min(row.low, h);
                row.high = std::max(row.high, h);
            }
        });
        if (v.bodies.size() == first) continue;
        row.low = std::min(row.low, 0.0);
        row.high = std::max(row.high, 0.0);
        // Below the one before; room for its dimensions comes with the scale, so only real heights are stacked here.
        const double shift = top - row.high;
        for (size_t k = first; k < v.bodies.size(); ++k) v.bodies[k].pose(1, 3) += shift;
        row.start = {0, shift};
        top += row.low - row.high - 0.35 * std::max(row.high - row.low, 0.02 * row.length);
        eachFirst(*r, [&](const Instance& i) {
            const double s = p.stations()[i.body];
            row.at.push_back(s);
            row.stations.push_back(s);
            v.numbers.push_back({Vec2(s, shift), say::count(i.place + 1)});
        });
        v.pathNames[r->item->id] = r->path ? r->path->item->name : r->item->name;
        v.paths.push_back({r->item->id, {Line{Vec3(0, shift, 0), Vec3(row.length, shift, 0)}}});
        if (!row.at.empty()) v.rows.push_back(std::move(row));
    }
    return v;
}

} // namespace

DrawnMeshes meshesFor(const ExportSet& goods) {
    size_t bodies = 0;
    for (const auto& s : goods.standing) bodies += size_t(s->present());
    return DrawnMeshes(bodies <= kMostFine);
}

Result<std::vector<DrawnView>> viewsOf(const ExportSet& goods, const DrawingOrder& o, std::vector<Words>& remarks,
                                       DrawnMeshes& meshes, Job* job) {
    std::vector<DrawnView> out;
    const auto add = [&](bool wanted, const char* name, const Mat3& axes) {
        if (!wanted) return;
        DrawnView v;
        v.name = name;
        v.axes = axes;
        addBodies(v, goods, meshes);
        for (const auto& s : goods.standing)
            if (const RunResult* r = s->asRun(); r && r->path && o.paths)
                addPath(v, r->path->item->id, r->path->item->name, r->placed->path);
        for (const auto& p : goods.paths) addPath(v, p->item->id, p->item->name, *p->path);
        addRows(v, goods);
        out.push_back(std::move(v));
    };
    const auto seen = [](Plane p) { return Mat3(axesOf(p).transpose()); };
    add(o.front, "Front", seen(Plane::Front));
    add(o.side, "Side", seen(Plane::Side));
    add(o.plan, "Plan", seen(Plane::Plan));
    add(o.oblique, "Oblique", viewFrom(o.heading, o.pitch));
    if (o.oblique) { // nothing is in true size there
        out.back().rows.clear();
        out.back().corners.clear();
        out.back().numbers.clear();
    }
    if (o.unrolled) {
        out.push_back(unrolled(goods, meshes));
        if (out.back().bodies.empty()) {
            out.pop_back();
            remarks.push_back("Loose parts follow no path: there is nothing to unroll.");
        }
    }
    if (out.empty()) return Problem{"No view is asked for. Tick plan, front, side, oblique or unrolled.", "plan"};
    const double share = 0.9 / double(out.size());
    for (size_t k = 0; k < out.size(); ++k) {
        DrawnView& v = out[k];
        if (v.bodies.size() > kMostDrawn)
            return Problem{"A view of " + say::count(v.bodies.size()) + " bodies cannot be drawn; up to " +
                               say::count(kMostDrawn) + ". Send out fewer runs.",
                           "plan"};
        v.seen = seenLines(v.bodies, v.axes, o.hidden == HiddenLines::Dashed, job);
        if (job && stopped(&job->stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
        if (job) job->progress = share * double(k + 1);
        for (const auto& s : v.seen.stands)
            for (const auto& strand : v.seen.parts[s.part].strands) widenBy(v.bounds, strand, s.at, s.angle);
        for (const auto& own : v.seen.others)
            for (const auto* all : {&own.visible, &own.hidden})
                for (const auto& strand : *all) widenBy(v.bounds, strand);
        for (const auto& [id, pieces] : v.paths) widenBy(v.bounds, pieces);
        if (v.bounds.first.x() > v.bounds.second.x())
            return Problem{Words("There is nothing to see in the ") + v.name + " view.", "plan"};
        const bool dims = o.pitches || o.running || o.gaps || o.insets;
        // Each row that shares its side with another takes a set of chains of its own.
        std::map<std::pair<long, long>, int> beside;
        int most = 1;
        for (const DrawnView::Row& row : v.rows) {
            const Vec2 side = sideOf(row);
            most = std::max(most, ++beside[{std::lround(side.x() * 100), std::lround(side.y() * 100)}]);
        }
        v.room = !v.corners.empty() && o.angles ? 14 : 8;
        if (!v.rows.empty() && dims) v.room = 26 + 18 * (std::min(most, 3) - 1);
    }
    return out;
}

namespace {

/// One view, put on its sheet.
class ViewOnSheet {
public:
    ViewOnSheet(Sheet& sheet, const DrawnView& v, const DrawingOrder& o, double scale, const Vec2& at, Dimensions& dims)
        : m_sheet(sheet), m_v(v), m_o(o), m_scale(scale), m_k(1 / scale), m_at(at),
          m_by(at.x() - m_k * v.bounds.first.x(), at.y() - m_k * v.bounds.first.y(), 0), m_dims(dims) {}
    void lines() {
        std::vector<size_t> times(m_v.seen.parts.size(), 0);
        for (const auto& s : m_v.seen.stands) ++times[s.part];
        for (const auto& s : m_v.seen.stands) {
            const std::string& layer = m_v.layers[s.body];
            if (times[s.part] == 1) { // once: no block for it
                const Mat3 R = Eigen::AngleAxisd(s.angle, Vec3::UnitZ()).toRotationMatrix();
                for (auto strand : m_v.seen.parts[s.part].strands) {
                    for (Segment& piece : strand) piece = moved(piece, R, Vec3(s.at.x(), s.at.y(), 0));
                    put(strand, m_pen, layer);
                }
                continue;
            }
            const std::string block = m_v.name + " " + std::to_string(s.part + 1);
            auto& inks = m_sheet.blocks[block];
            if (inks.empty())
                for (const auto& strand : m_v.seen.parts[s.part].strands) {
                    Ink ink{{}, false, m_pen, {}, "0"};
                    for (const Segment& piece : strand)
                        ink.pieces.push_back(moved(piece, Mat3::Identity(), Vec3::Zero(), m_k));
                    inks.push_back(std::move(ink));
                }
            m_sheet.inserts.push_back({block, paper(s.at), s.angle, layer});
        }
        for (const auto& own : m_v.seen.others) {
            for (const auto& strand : own.visible) put(strand, m_pen, m_v.layers[own.body]);
            for (const auto& strand : own.hidden) put(strand, m_dashed, "Hidden");
        }
        if (m_o.paths || m_v.bodies.empty())
            for (const auto& [id, pieces] : m_v.paths) put(pieces, m_thin, m_v.pathNames.at(id));
    }
    /// Dimensions along a row.
    void row(const DrawnView::Row& row) {
        const Vec2 side = sideOf(row);
        const double reach = side.dot(Vec2(-row.along.y(), row.along.x())) < 0 ? -row.low : row.high;
        Dimensions::Row beside{paper(row.start + std::max(0.0, reach) * side), row.along, side,
                               m_o.numbers ? 8.0 : 6.0};
        // Along the paper's own lines, whichever way the rows run.
        const auto own = [&](const Vec2& d) {
            const double a = Vec2(-side.y(), side.x()).dot(beside.from),
                         b = a + m_k * row.length * Vec2(-side.y(), side.x()).dot(row.along);
            return Taken{d, d.dot(beside.from), std::min(a, b), std::max(a, b)};
        };
        const Taken here = own(side);
        for (const Taken& t : m_taken)
            if ((t.side - side).norm() < 1e-3 && t.from < here.to - 1 && here.from < t.to - 1 &&
                t.out < here.out + 200 && t.out + 1 > here.out + beside.clear - 7)
                beside.clear = std::max(beside.clear, t.out - here.out + 3);
        std::vector<double> on, lengths;
        for (double s : row.at) on.push_back(m_k * s);
        for (size_t i = 0; i + 1 < row.stations.size(); ++i) lengths.push_back(row.stations[i + 1] - row.stations[i]);
        gaps(row, beside);
        if (m_o.pitches)
            pitches(row, beside, on, lengths);
        else if (m_o.insets)
            insets(row, beside, on);
        if (m_o.running) {
            std::vector<double> whole = on, stations = row.stations;
            whole.push_back(m_k * row.length);
            stations.push_back(row.length);
            m_dims.running(beside, whole, stations);
        }
        m_taken.push_back({side, here.out + beside.clear, here.from, here.to});
    }
    void angles() {
        for (const auto& c : m_v.corners) m_dims.angle(paper(c.at), c.one, c.other, c.angle);
    }
    void numbers() {
        Bounds last = nothing();
        for (const auto& n : m_v.numbers) {
            const bool below =
                m_v.name == "Front" || m_v.name == "Side" || m_v.unrolled; // parts stand on their seats there
            Label l{paper(n.at) + (below ? Vec2(0, -2.6) : Vec2(0.7, 0.7)),
                    n.text,
                    1.7,
                    below ? Anchor::Middle : Anchor::Left,
                    0,
                    0.2,
                    false,
                    "Numbers"};
            const Bounds b = boundsOf(l);
            if (meets(b, last)) continue; // a row seen from its end
            last = b;
            m_sheet.labels.push_back(std::move(l));
        }
    }
    void title() {
        m_sheet.labels.push_back({m_at + Vec2(0, m_k * (m_v.bounds.second - m_v.bounds.first).y() + 3.5),
                                  m_v.name + "  1 : " + say::number(m_scale, 2), 3, Anchor::Left, 0, 0, true, "Frame"});
    }

private:
    /// Rows that lie beside one another on one side: the next one's chains stand outside those of the one before.
    struct Taken {
        Vec2 side;
        double out, from, to; ///< paper: how far out, and which stretch along
    };
    Vec2 paper(const Vec2& p) const { return m_k * p + m_by.head<2>(); }
    void put(const std::vector<Segment>& strand, const Pen& p, const std::string& layer) {
        Ink ink{{}, false, p, {}, layer};
        for (const Segment& s : strand) ink.pieces.push_back(moved(s, Mat3::Identity(), m_by, m_k));
        m_sheet.inks.push_back(std::move(ink));
    }
    void gaps(const DrawnView::Row& row, Dimensions::Row& beside) {
        const Placed& p = *row.run->placed;
        if (m_o.gaps && !isLinked(row.run->item->spacing)) {
            std::vector<Dimensions::Stretch> gaps;
            for (const Gap& g : p.gaps)
                if (size_t(g.from) < p.laid->rowSize && g.end <= row.length + tolerance::length)
                    gaps.push_back({m_k * std::min(g.start, g.end), m_k * std::max(g.start, g.end), g.clear()});
            m_dims.stretches(beside, gaps, "gap along ");
        }
    }
    void pitches(const DrawnView::Row& row, Dimensions::Row& beside, const std::vector<double>& on,
                 const std::vector<double>& lengths) {
        if (m_o.insets) { // in one line with the pitches
            std::vector<double> whole = on, all = lengths;
            if (row.stations.front() > 1e-3) {
                whole.insert(whole.begin(), 0.0);
                all.insert(all.begin(), row.stations.front());
            }
            if (row.length - row.stations.back() > 1e-3) {
                whole.push_back(m_k * row.length);
                all.push_back(row.length - row.stations.back());
            }
            m_dims.chain(beside, whole, all);
        } else {
            m_dims.chain(beside, on, lengths);
        }
    }
    void insets(const DrawnView::Row& row, Dimensions::Row& beside, const std::vector<double>& on) {
        std::vector<Dimensions::Stretch> ends;
        if (row.stations.front() > 1e-3) ends.push_back({0, on.front(), row.stations.front()});
        if (row.length - row.stations.back() > 1e-3)
            ends.push_back({on.back(), m_k * row.length, row.length - row.stations.back()});
        m_dims.stretches(beside, ends);
    }

    Sheet& m_sheet;
    const DrawnView& m_v;
    const DrawingOrder& m_o;
    const double m_scale, m_k; ///< 1 : m_scale; paper a mm
    const Vec2 m_at;
    const Vec3 m_by;
    Dimensions& m_dims;
    const Pen m_pen{0.25, 0, {}}, m_dashed{0.13, 0.3, {1.6, 0.8}}, m_thin{0.13, 0.25, {6, 1.2, 0.8, 1.2}};
    std::vector<Taken> m_taken;
};

} // namespace

void putView(Sheet& sheet, const DrawnView& v, const DrawingOrder& o, double scale, const Vec2& at, Dimensions& dims) {
    ViewOnSheet view(sheet, v, o, scale, at, dims);
    view.lines();
    for (const DrawnView::Row& row : v.rows) view.row(row);
    if (o.angles) view.angles();
    if (o.numbers) view.numbers();
    view.title();
}

} // namespace vicinal
