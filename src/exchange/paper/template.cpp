#include "exchange/paper/template.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/sheet/inks.h"
#include "geometry/curves/edit.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include "parts/solid/outline.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {

Vec2 paperSize(const TemplateOrder& t) {
    Vec2 size;
    switch (t.paper) {
    case Paper::A4: size = {210, 297}; break;
    case Paper::A3: size = {297, 420}; break;
    case Paper::A2: size = {420, 594}; break;
    case Paper::Letter: size = {215.9, 279.4}; break;
    case Paper::Roll: return {t.roll, 0};
    }
    return t.landscape ? Vec2(size.y(), size.x()) : size;
}

namespace {

using say::mm;
/// What is cut stands alone on the layer of its run or part: a machine is given that one. Crosses, noses, numbers and
/// names have another, paths with their ticks a third.
std::string marksOf(const std::string& name) { return "MARKS-" + name; }
std::string layerOfPath(const PathItem& p) { return "PATH-" + p.name; }

/// Everything in the plane, uncut, mm of the real thing.
class Draw {
public:
    Draw(const TemplateOrder& order, Sheet& out, std::vector<Words>& remarks)
        : m_order(order), m_out(out), m_remarks(remarks) {
        const Plane planes[] = {Plane::Plan, Plane::Front, Plane::Side, Plane::Plan};
        m_axes = order.plane == TemplatePlane::Face ? onFace(order.normal) : axesOf(planes[int(order.plane)]);
    }

    /// Paper on a face: level across, as it would be read by who stands before it.
    static Mat3 onFace(const Vec3& normal) {
        const Vec3 n = normal.normalized();
        const Vec3 level = Vec3::UnitZ().cross(n);
        Mat3 out;
        out.col(0) = level.norm() > tolerance::rounding ? Vec3(level.normalized()) : Vec3::UnitX();
        out.col(1) = n.cross(out.col(0));
        out.col(2) = n;
        return out;
    }

    /// Each part once, from its crown, side by side on shelves about as wide as they are high together.
    void parts(const Standings& standing) {
        struct Entry {
            const PlacedPart* part;
            Flat flat;
            double size = 1; ///< another size is cut along another line
            Bounds box = nothing();
            long count = 0;
            std::string called() const {
                return part->name +
                       (std::abs(size - 1) < tolerance::rounding ? std::string() : ", size " + text::number(size, 4));
            }
        };
        std::vector<Entry> all;
        for (const auto& of : standing)
            of->eachInstance([&](const Instance& i) {
                const PlacedPart& p = i.part;
                const double size = i.size();
                auto known = std::find_if(all.begin(), all.end(), [&](const Entry& e) {
                    return e.part->id == p.id && std::abs(e.size - size) < tolerance::rounding;
                });
                if (known == all.end()) {
                    known = all.insert(all.end(), Entry{&p, flatOf(p), size});
                    for (Ring& ring : known->flat.rings)
                        for (Segment& s : ring) s = moved(s, Mat3::Identity(), Vec3::Zero(), size);
                    for (size_t k = 0; k < known->flat.rings.size(); ++k)
                        for (const Segment& s : known->flat.rings[k]) {
                            const Box3 b = vicinal::boundsOf(s);
                            widen(known->box, b.min().head<2>());
                            widen(known->box, b.max().head<2>());
                        }
                }
                ++known->count;
            });
        std::erase_if(all, [](const Entry& e) { return e.flat.rings.empty(); });
        std::stable_sort(all.begin(), all.end(), [](const Entry& a, const Entry& b) {
            return (a.box.second - a.box.first).y() > (b.box.second - b.box.first).y();
        });
        constexpr double kApart = 14; ///< mm, with room for the name
        double area = 0, widest = 0;
        for (const Entry& e : all) {
            const Vec2 size = e.box.second - e.box.first + Vec2::Constant(kApart);
            area += size.x() * size.y();
            widest = std::max(widest, size.x());
        }
        const double shelf = std::max(widest, 1.2 * std::sqrt(area));
        Vec2 at(0, 0);
        double high = 0;
        for (const Entry& e : all) {
            const Vec2 size = e.box.second - e.box.first;
            if (at.x() > 0 && at.x() + size.x() > shelf) {
                at = Vec2(0, at.y() - high - kApart);
                high = 0;
            }
            high = std::max(high, size.y());
            const Vec3 by(at.x() - e.box.first.x(), at.y() - e.box.second.y(), 0);
            for (size_t k = 0; k < e.flat.rings.size(); ++k) {
                if (m_order.shows == TemplateShows::Holes && !e.flat.cut[k]) continue;
                if (m_order.shows == TemplateShows::Marks) continue;
                Ink ink{{}, true, Pen{}, {}, e.part->name};
                for (const Segment& s : e.flat.rings[k]) ink.pieces.push_back(moved(s, Mat3::Identity(), by));
                m_out.inks.push_back(std::move(ink));
            }
            const Vec2 seat = by.head<2>();
            for (const Vec2& d : {Vec2(2.5, 0), Vec2(0, 2.5)})
                m_out.inks.push_back(line(seat - d, seat + d, {0.18, 0, {}}, marksOf(e.part->name)));
            m_out.labels.push_back({{at.x(), at.y() - size.y() - 4.5},
                                    say::value(e.called()) + "  x " + say::count(e.count),
                                    2.6,
                                    Anchor::Left,
                                    0,
                                    0,
                                    true,
                                    marksOf(e.part->name)});
            at.x() += size.x() + kApart;
        }
    }

    void standing(const Standing& of) {
        const RunResult* run = of.asRun();
        m_run = run;
        m_parts = partResultsOf(of);
        m_layer = of.name;
        of.eachInstance([&](const Instance& i) { place(i); });
        if (m_order.paths && run && run->path && m_paths.insert({run->path->item->id, true}).second) path(*run);
    }

    /// A path by itself, unless it is drawn with its run. Pulled straight it says nothing.
    void alone(const PathResult& p) {
        if (unrolled() || !m_paths.insert({p.item->id, true}).second) return;
        m_out.inks.push_back(
            {flattened(*p.path, m_axes.transpose()), p.path->closed(), Pen{}, {}, layerOfPath(*p.item)});
    }

private:
    bool unrolled() const { return m_order.plane == TemplatePlane::Unrolled; }

    /// World to paper, about a point: rows are the paper's x, y and the way out of it.
    struct View {
        Mat3 axes;
        Vec3 from, to;
        Vec3 of(const Vec3& p) const { return axes * (p - from) + to; }
    };
    View view(const Instance& i) const {
        if (!unrolled() || !m_run) return {m_axes.transpose(), Vec3::Zero(), Vec3::Zero()};
        const Placed& p = *m_run->placed;
        const double s = i.own ? p.stations()[i.body] : p.path.closest(i.frame().seat);
        const Sample at = p.path.at(s);
        Vec3 up = Vec3::UnitZ() - at.tangent * at.tangent.z();
        up = up.norm() > tolerance::alike ? Vec3(up.normalized()) : anyNormal(at.tangent);
        Mat3 rows;
        rows.row(0) = at.tangent;
        rows.row(1) = up.cross(at.tangent);
        rows.row(2) = up;
        return {rows, at.point, Vec3(s, 0, 0)};
    }

    void place(const Instance& i) {
        const View v = view(i);
        const Frame& f = i.frame();
        const Vec3 seat = v.of(f.seat);
        if (m_order.shows != TemplateShows::Marks) outline(i, v, seat, i.size());
        if (!i.own) return; // what a place stands on has no number
        const Pen fine{0.18, 0, {}};
        const Vec2 at = seat.head<2>();
        const std::string marks = marksOf(m_layer);
        const double arm = m_order.shows == TemplateShows::Marks ? 5 : 2.5;
        m_out.inks.push_back(line(at - Vec2(arm, 0), at + Vec2(arm, 0), fine, marks));
        m_out.inks.push_back(line(at - Vec2(0, arm), at + Vec2(0, arm), fine, marks));
        if (m_order.noses) {
            const Vec2 nose = (v.axes * f.axes.col(0)).head<2>();
            if (nose.norm() > 1e-3) {
                const Vec2 d = nose.normalized(), tip = at + 11 * d, side(-d.y(), d.x());
                m_out.inks.push_back(line(at, tip, fine, marks));
                for (double k : {1.0, -1.0})
                    m_out.inks.push_back(line(tip, tip - 2.2 * d + k * 1.1 * side, fine, marks));
            }
        }
        if (m_order.numbers)
            m_out.labels.push_back(
                {at + Vec2(1.4, 1.4), say::count(i.place + 1), 2.2, Anchor::Left, 0, 0, false, marks});
    }

    void outline(const Instance& i, const View& v, const Vec3& seat, double size) {
        const PlacedPart& part = i.part;
        const Frame& f = i.frame();
        const bool hole = isHole(i.all.slot(i.body));
        const auto shown = [&](bool cut) { return m_order.shows == TemplateShows::Outlines || hole || cut; };
        const Mat3 turn = v.axes * f.axes;                              // frame axes on paper
        if (std::abs(std::abs(turn(2, 2)) - 1) < tolerance::rounding) { // it lies flat on the paper: exact
            const auto known = m_flat.find(part.id);
            const Flat& flat =
                known != m_flat.end() ? known->second : m_flat.emplace(part.id, flatOf(part)).first->second;
            for (size_t k = 0; k < flat.rings.size(); ++k) {
                if (!shown(flat.cut[k])) continue;
                Ink ink{{}, true, Pen{}, {}, m_layer};
                for (const Segment& s : flat.rings[k]) ink.pieces.push_back(moved(s, turn, seat, size));
                m_out.inks.push_back(std::move(ink));
            }
            return;
        }
        // Seen askew: the union of its triangles as they look from there.
        Seat look;
        look.point = seatPoint(part.seat, part.mesh->box);
        const Mat3 own = (turn * i.all.poses->usedSlots[i.all.slot(i.body)].turn).transpose(); // paper to part axes
        look.nose = Vec3(own.col(0));
        look.crown = Vec3(own.col(2));
        for (const auto& ring : outlineFromAbove(*part.mesh, look)) {
            double area = 0;
            for (size_t k = 0; k < ring.size(); ++k) {
                const Vec2 a = ring[k], b = ring[(k + 1) % ring.size()];
                area += a.x() * b.y() - a.y() * b.x();
            }
            if (!shown(area < 0)) continue;
            Ink ink{{}, true, Pen{}, {}, m_layer};
            for (size_t k = 0; k < ring.size(); ++k) {
                const Vec2 a = size * ring[k] + seat.head<2>(), b = size * ring[(k + 1) % ring.size()] + seat.head<2>();
                ink.pieces.push_back(Line{Vec3(a.x(), a.y(), 0), Vec3(b.x(), b.y(), 0)});
            }
            m_out.inks.push_back(std::move(ink));
        }
        if (!m_askew) {
            m_askew = true;
            m_remarks.push_back("Some places do not lie in this plane: they are drawn as they look from there, "
                                "shortened. Cut them by another plane.");
        }
    }

    struct Flat {
        std::vector<Ring> rings;
        std::vector<bool> cut; ///< what is cut out
    };
    static Flat flatOf(const PlacedPart& part) {
        Flat out;
        out.rings = outlineOf(*part.body, part.seat).rings;
        for (const Ring& ring : out.rings) {
            double area = 0;
            if (const auto path = Path::make(ring, true, 1e-3)) {
                const auto points = path->polyline(1e-2);
                for (size_t k = 0; k < points.size(); ++k) {
                    const Vec3 &a = points[k], &b = points[(k + 1) % points.size()];
                    area += a.x() * b.y() - a.y() * b.x();
                }
            }
            out.cut.push_back(area < 0);
        }
        return out;
    }
    /// A part that stands for what is cut out of something else.
    bool isHole(size_t slot) const {
        const auto* maker = m_parts && slot < m_parts->size() && (*m_parts)[slot]
                                ? std::get_if<Maker>(&(*m_parts)[slot]->item->shape)
                                : nullptr;
        return maker && (std::holds_alternative<RoundHole>(*maker) || std::holds_alternative<SlotHole>(*maker) ||
                         std::holds_alternative<Notch>(*maker));
    }

    void path(const RunResult& r) {
        const Path& p = r.placed->path;
        const std::string layer = layerOfPath(*r.path->item);
        const Pen thin{0.13, 0.35, {4, 1.5, 1, 1.5}}, tick{0.13, 0.35, {}};
        Ink ink{{}, p.closed(), thin, {}, layer};
        if (unrolled())
            ink = line({0, 0}, {p.length(), 0}, thin, layer);
        else
            ink.pieces = flattened(p, m_axes.transpose());
        m_out.inks.push_back(std::move(ink));
        for (double s = 0; s <= p.length() + tolerance::length; s += 100) {
            const Sample at = p.at(std::min(s, p.length()));
            const View v = unrolled() ? View{Mat3::Identity(), Vec3::Zero(), Vec3::Zero()}
                                      : View{m_axes.transpose(), Vec3::Zero(), Vec3::Zero()};
            const Vec2 on = unrolled() ? Vec2(s, 0) : Vec2(v.of(at.point).head<2>());
            Vec2 d = unrolled() ? Vec2(1, 0) : Vec2((v.axes * at.tangent).head<2>());
            if (d.norm() < tolerance::length) continue;
            d.normalize();
            const Vec2 side(-d.y(), d.x());
            const bool main = std::fmod(s + tolerance::length, 500) < 1e-3;
            const double reach = main ? 3 : 1.5;
            m_out.inks.push_back(line(on - reach * side, on + reach * side, tick, layer));
            if (main)
                m_out.labels.push_back({on - (reach + 3.2) * side, say::number(s / 1000, 1) + " m", 2, Anchor::Middle,
                                        std::atan2(d.y(), d.x()), 0.35, false, layer});
        }
    }

    const TemplateOrder& m_order;
    Sheet& m_out;
    std::vector<Words>& m_remarks;
    const RunResult* m_run = nullptr; ///< that is drawn; null for what follows no path
    const std::vector<std::shared_ptr<const PartResult>>* m_parts = nullptr;
    Mat3 m_axes;
    std::string m_layer;
    std::map<Id, bool> m_paths;
    std::map<Id, Flat> m_flat;
    bool m_askew = false;
};

/// Paths that are longer than all the pages there can be are known before anything is drawn.
std::optional<Problem> tooLong(const Standings& all, const std::vector<std::shared_ptr<const PathResult>>& lines,
                               const TemplateOrder& o) {
    constexpr double kMost = 2e6; // mm; far more than the most pages show
    const auto refuse = [&](const std::string& name, double length) -> std::optional<Problem> {
        if (length <= kMost) return std::nullopt;
        return Problem{"\"" + text::quoted(name) + "\" is " + say::mm(length) + " long, and a template shows up to " +
                           say::mm(kMost) + " of path. Leave paths out, take a stretch, or a drawing to scale.",
                       "paths"};
    };
    for (const auto& s : all)
        if (const RunResult* r = s->asRun(); r && r->path && r->placed)
            if (auto p = refuse(r->path->item->name, r->placed->path.length())) return p;
    for (const auto& line : lines)
        if (line->path && o.plane != TemplatePlane::Unrolled)
            if (auto p = refuse(line->item->name, line->path->length())) return p;
    return std::nullopt;
}

std::optional<Problem> defectOf(const TemplateOrder& o) {
    for (const auto& [v, key] : {std::pair{o.barAcross, "barAcross"}, {o.barUp, "barUp"}})
        if (auto p = notFullSize(v, key)) return p;
    if (o.plane == TemplatePlane::Face && !(o.normal.norm() > tolerance::rounding))
        return Problem{"The direction out of the face is nothing. Pick a face, or type one.", "normal"};
    if (!(o.margin >= 0 && o.margin <= 1000))
        return Problem{"The margin is " + mm(o.margin) + "; use 0 or more.", "margin"};
    if (!(o.overlap >= 0 && o.overlap <= 1000))
        return Problem{"The overlap is " + mm(o.overlap) + "; use 0 or more.", "overlap"};
    if (o.paper == Paper::Roll && !(o.roll >= 150 && o.roll <= 5000))
        return Problem{"The roll is " + mm(o.roll) + " wide; use 150 mm to 5 m.", "roll"};
    Vec2 tile = paperSize(o) - Vec2::Constant(2 * o.margin);
    if (o.paper == Paper::Roll) tile.y() = tile.x();
    if (tile.minCoeff() < 130)
        return Problem{"Between its margins the paper leaves " + mm(tile.minCoeff()) +
                           "; the proof of scale alone needs 130 mm.",
                       "margin"};
    if (2 * o.overlap > tile.minCoeff())
        return Problem{"An overlap of " + mm(o.overlap) + " is over half a page. Use " + mm(tile.minCoeff() / 2) +
                           " or less.",
                       "overlap"};
    return std::nullopt;
}

} // namespace

Result<Template> templateOf(const Standings& standing, const TemplateOrder& order, const std::string& title,
                            const Stop* stop, const std::vector<std::shared_ptr<const PathResult>>& lines) {
    if (auto defect = defectOf(order)) return *defect;
    Template out;
    Sheet all;
    Draw draw(order, all, out.remarks);
    if (order.of == TemplateOf::Parts) draw.parts(standing);
    if (order.of == TemplateOf::Places && order.paths)
        if (auto p = tooLong(standing, lines, order)) return *p;
    for (const auto& s : standing) {
        if (stopped(stop)) return Problem{"The template was cancelled.", ""};
        if (order.of == TemplateOf::Places) draw.standing(*s);
    }
    if (order.of == TemplateOf::Places)
        for (const auto& p : lines) draw.alone(*p);
    if (all.inks.empty())
        return Problem{"There is nothing in this plane. Choose another one, or show outlines.", "shows"};
    if (order.mirrored) {
        const Mat3 mirror = Vec3(-1, 1, 1).asDiagonal();
        for (Ink& ink : all.inks)
            for (Segment& s : ink.pieces) s = mapped(s, mirror, Vec3::Zero());
        for (Label& l : all.labels) { // words stay to be read
            l.at.x() = -l.at.x();
            l.turn = -l.turn;
            if (l.anchor != Anchor::Middle) l.anchor = l.anchor == Anchor::Left ? Anchor::Right : Anchor::Left;
        }
    }
    Bounds b = nothing();
    for (const Ink& ink : all.inks) {
        const Bounds own = boundsOf(ink);
        widen(b, own.first);
        widen(b, own.second);
    }
    constexpr double kRoom = 6;
    b.first -= Vec2::Constant(kRoom);
    b.second += Vec2::Constant(kRoom);
    out.origin = b.first;
    const auto shift = [&](Sheet& s, const Vec2& k) {
        Mat3 scale = Mat3::Identity();
        scale(0, 0) = k.x(), scale(1, 1) = k.y();
        const Vec3 by(-k.x() * b.first.x(), -k.y() * b.first.y(), 0);
        const bool same = k == Vec2(1, 1);
        for (Ink& ink : s.inks)
            for (Segment& piece : ink.pieces)
                piece = same ? moved(piece, Mat3::Identity(), by) : mapped(piece, scale, by);
        for (Label& l : s.labels) l.at = k.cwiseProduct(l.at - b.first);
        s.width = k.x() * (b.second - b.first).x();
        s.height = k.y() * (b.second - b.first).y();
    };
    Sheet paper = all;
    shift(all, {1, 1});
    out.whole = std::move(all);
    out.whole.name = title;
    shift(paper, {kBar / order.barAcross, kBar / order.barUp});
    if (auto p = cutIntoPages(order, paper, out, title, stop)) return *p;
    constexpr double kPdf = 14'400 * 25.4 / 72; // mm: pages beyond this came with PDF 1.6, as units of their own
    for (const Sheet& s : out.pages)
        if (std::max(s.width, s.height) > kPdf) {
            out.remarks.push_back("A page is " + mm(std::max(s.width, s.height)) +
                                  " long. Some programs show no more of a "
                                  "PDF page than " +
                                  mm(kPdf) +
                                  ": measure both ends of the print, or send it as SVG or "
                                  "DXF.");
            break;
        }
    return out;
}

} // namespace vicinal
