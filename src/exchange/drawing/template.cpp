#include "exchange/drawing/template.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/edit.h"
#include "parts/solid/outline.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {

bool counts(const TemplateOrder& t, const std::string& key) {
    if (key == "roll") return t.paper == Paper::Roll;
    if (key == "landscape") return t.paper != Paper::Roll;
    return true;
}

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
using Bounds = std::pair<Vec2, Vec2>;

constexpr double kBar = 100, kCross = 100; ///< mm: of the proof of scale

void widen(Bounds& b, const Vec2& p) {
    b.first = b.first.cwiseMin(p);
    b.second = b.second.cwiseMax(p);
}
Bounds nothing() { return {Vec2::Constant(1e300), Vec2::Constant(-1e300)}; }
bool meets(const Bounds& a, const Bounds& b) {
    return a.first.x() <= b.second.x() && b.first.x() <= a.second.x() && a.first.y() <= b.second.y() &&
           b.first.y() <= a.second.y();
}
Bounds boundsOf(const Ink& ink) {
    Bounds out = nothing();
    for (const Segment& s : ink.pieces) {
        const Box3 b = vicinal::boundsOf(s);
        widen(out, b.min().head<2>());
        widen(out, b.max().head<2>());
    }
    return out;
}
/// Capitals are about seven tenths as wide as high.
Bounds boundsOf(const Label& l) {
    const double wide = 0.8 * l.height * double(l.text.size());
    const double from = l.anchor == Anchor::Left ? 0 : l.anchor == Anchor::Middle ? -wide / 2 : -wide;
    const Eigen::Rotation2Dd R(l.turn);
    Bounds out = nothing();
    for (double x : {from, from + wide})
        for (double y : {-0.3 * l.height, l.height}) widen(out, l.at + R * Vec2(x, y));
    return out;
}

Ink line(const Vec2& a, const Vec2& b, const Pen& pen, const std::string& layer = "0") {
    return {{Line{Vec3(a.x(), a.y(), 0), Vec3(b.x(), b.y(), 0)}}, false, pen, {}, layer};
}
Ink box(const Vec2& a, const Vec2& b, const Pen& pen) {
    Ink out{{}, true, pen, {}, "0"};
    const Vec3 c[] = {{a.x(), a.y(), 0}, {b.x(), a.y(), 0}, {b.x(), b.y(), 0}, {a.x(), b.y(), 0}};
    for (int i = 0; i < 4; ++i) out.pieces.push_back(Line{c[i], c[(i + 1) % 4]});
    return out;
}

/// Everything in the plane, uncut, mm of the real thing.
class Draw {
public:
    Draw(const TemplateOrder& order, Sheet& out, std::vector<Words>& remarks)
        : m_order(order), m_out(out), m_remarks(remarks) {
        const Plane planes[] = {Plane::Plan, Plane::Front, Plane::Side, Plane::Plan};
        m_axes = axesOf(planes[int(order.plane)]);
    }

    void run(const RunResult& r) {
        const Placed& p = *r.placed;
        m_run = &r;
        m_layer = r.item->name;
        for (size_t i = 0; i < p.bodies(); ++i)
            if (!p.leftOut(i)) place(p, i);
        if (m_order.paths && m_paths.insert({r.path->item->id, true}).second) path(r);
    }

private:
    bool unrolled() const { return m_order.plane == TemplatePlane::Unrolled; }

    /// World to paper, about a point: rows are the paper's x, y and the way out of it.
    struct View {
        Mat3 axes;
        Vec3 from, to;
        Vec3 of(const Vec3& p) const { return axes * (p - from) + to; }
    };
    View view(const Placed& p, size_t i) const {
        if (!unrolled()) return {m_axes.transpose(), Vec3::Zero(), Vec3::Zero()};
        const double s = i < p.count() ? p.stations()[i] : p.path.closest(p.frame(i).seat);
        const Sample at = p.path.at(s);
        Vec3 up = Vec3::UnitZ() - at.tangent * at.tangent.z();
        up = up.norm() > 1e-6 ? Vec3(up.normalized()) : anyNormal(at.tangent);
        Mat3 rows;
        rows.row(0) = at.tangent;
        rows.row(1) = up.cross(at.tangent);
        rows.row(2) = up;
        return {rows, at.point, Vec3(s, 0, 0)};
    }

    void place(const Placed& p, size_t i) {
        const View v = view(p, i);
        const Frame& f = p.frame(i);
        const double size = p.laid->size[i];
        const Vec3 seat = v.of(f.seat);
        if (m_order.shows != TemplateShows::Marks) outline(p, i, v, seat, size);
        if (i >= p.count()) return; // what a place stands on has no number
        const Pen fine{0.18, 0, {}};
        const Vec2 at = seat.head<2>();
        const double arm = m_order.shows == TemplateShows::Marks ? 5 : 2.5;
        m_out.inks.push_back(line(at - Vec2(arm, 0), at + Vec2(arm, 0), fine, m_layer));
        m_out.inks.push_back(line(at - Vec2(0, arm), at + Vec2(0, arm), fine, m_layer));
        if (m_order.noses) {
            const Vec2 nose = (v.axes * f.axes.col(0)).head<2>();
            if (nose.norm() > 1e-3) {
                const Vec2 d = nose.normalized(), tip = at + 11 * d, side(-d.y(), d.x());
                m_out.inks.push_back(line(at, tip, fine, m_layer));
                for (double k : {1.0, -1.0})
                    m_out.inks.push_back(line(tip, tip - 2.2 * d + k * 1.1 * side, fine, m_layer));
            }
        }
        if (m_order.numbers)
            m_out.labels.push_back(
                {at + Vec2(1.4, 1.4), std::to_string(i + 1), 2.2, Anchor::Left, 0, 0, false, m_layer});
    }

    void outline(const Placed& p, size_t i, const View& v, const Vec3& seat, double size) {
        const PlacedPart& part = p.part(i);
        const Frame& f = p.frame(i);
        const bool hole = isHole(p.laid->slot[i]);
        const auto shown = [&](bool cut) { return m_order.shows == TemplateShows::Outlines || hole || cut; };
        const Mat3 turn = v.axes * f.axes;               // frame axes on paper
        if (std::abs(std::abs(turn(2, 2)) - 1) < 1e-9) { // it lies flat on the paper: exact
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
        const Mat3 own = (turn * p.laid->usedSlots[p.laid->slot[i]].turn).transpose(); // paper to part axes
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
        const auto* maker = slot < m_run->parts.size() && m_run->parts[slot]
                                ? std::get_if<Maker>(&m_run->parts[slot]->item->shape)
                                : nullptr;
        return maker && (std::holds_alternative<RoundHole>(*maker) || std::holds_alternative<SlotHole>(*maker) ||
                         std::holds_alternative<Notch>(*maker));
    }

    void path(const RunResult& r) {
        const Path& p = r.placed->path;
        const Pen thin{0.13, 0.35, {4, 1.5, 1, 1.5}}, tick{0.13, 0.35, {}};
        Ink ink{{}, p.closed(), thin, {}, r.path->item->name};
        if (unrolled()) {
            ink = line({0, 0}, {p.length(), 0}, thin, r.path->item->name);
        } else {
            Mat3 flat = m_axes.transpose();
            flat.row(2).setZero();
            for (const Segment& s : p.segments()) {
                if (const auto* arc = std::get_if<Arc>(&s);
                    arc && std::abs(std::abs(arc->xAxis.cross(arc->yAxis).dot(m_axes.col(2))) - 1) < 1e-12) {
                    ink.pieces.push_back(moved(s, m_axes.transpose(), Vec3::Zero()));
                } else if (std::holds_alternative<Helix>(s) || std::holds_alternative<Catenary>(s)) {
                    for (const Segment& c : cubicsNear(s, 1e-4)) ink.pieces.push_back(mapped(c, flat, Vec3::Zero()));
                } else {
                    ink.pieces.push_back(mapped(s, flat, Vec3::Zero()));
                }
            }
        }
        m_out.inks.push_back(std::move(ink));
        for (double s = 0; s <= p.length() + 1e-6; s += 100) {
            const Sample at = p.at(std::min(s, p.length()));
            const View v = unrolled() ? View{Mat3::Identity(), Vec3::Zero(), Vec3::Zero()}
                                      : View{m_axes.transpose(), Vec3::Zero(), Vec3::Zero()};
            const Vec2 on = unrolled() ? Vec2(s, 0) : Vec2(v.of(at.point).head<2>());
            Vec2 d = unrolled() ? Vec2(1, 0) : Vec2((v.axes * at.tangent).head<2>());
            if (d.norm() < 1e-6) continue;
            d.normalize();
            const Vec2 side(-d.y(), d.x());
            const bool main = std::fmod(s + 1e-6, 500) < 1e-3;
            const double reach = main ? 3 : 1.5;
            m_out.inks.push_back(line(on - reach * side, on + reach * side, tick, r.path->item->name));
            if (main)
                m_out.labels.push_back({on - (reach + 3.2) * side, text::number(s / 1000, 1) + " m", 2, Anchor::Middle,
                                        std::atan2(d.y(), d.x()), 0.35, false, r.path->item->name});
        }
    }

    const TemplateOrder& m_order;
    Sheet& m_out;
    std::vector<Words>& m_remarks;
    const RunResult* m_run = nullptr;
    Mat3 m_axes;
    std::string m_layer;
    std::map<Id, bool> m_paths;
    std::map<Id, Flat> m_flat;
    bool m_askew = false;
};

std::string column(long c) {
    std::string out;
    for (++c; c > 0; c = (c - 1) / 26) out.insert(out.begin(), char('A' + (c - 1) % 26));
    return out;
}

/// The pages of a drawing that is on paper scale already.
class Cut {
public:
    Cut(const TemplateOrder& order, const Sheet& all, Template& out, const std::string& title)
        : m_order(order), m_all(all), m_out(out), m_title(title), m_k(kBar / order.barAcross, kBar / order.barUp) {
        m_page = paperSize(order);
        if (order.paper == Paper::Roll) m_page.y() = all.height + 2 * order.margin;
        m_tile = m_page - Vec2::Constant(2 * order.margin);
        m_step = m_tile - Vec2::Constant(order.overlap);
    }
    Vec2 step() const { return m_step; }

    std::optional<Problem> run(const Stop* stop) {
        const auto along = [&](double size, double tile, double step) {
            return std::max(1L, long(std::ceil((size - tile) / step - 1e-9)) + 1);
        };
        m_out.columns = along(m_all.width, m_tile.x(), m_step.x());
        m_out.rows = m_order.paper == Paper::Roll ? 1 : along(m_all.height, m_tile.y(), m_step.y());
        if (double(m_out.columns) * double(m_out.rows) > 1e6)
            return tooMany(double(m_out.columns) * double(m_out.rows));
        std::map<std::pair<long, long>, std::pair<std::vector<size_t>, std::vector<size_t>>> on;
        const auto each = [&](const Bounds& b, auto&& use) {
            for (long r = tileOf(b.first.y(), m_step.y(), m_tile.y(), m_out.rows); r < m_out.rows; ++r) {
                if (double(r) * m_step.y() > b.second.y()) break;
                for (long c = tileOf(b.first.x(), m_step.x(), m_tile.x(), m_out.columns); c < m_out.columns; ++c) {
                    if (double(c) * m_step.x() > b.second.x()) break;
                    if (meets(b, tile(c, r))) use(c, r);
                }
            }
        };
        for (size_t k = 0; k < m_all.inks.size(); ++k)
            eachPiece(m_all.inks[k], [&](const Bounds& b) {
                each(b, [&](long c, long r) {
                    auto& there = on[{r, c}].first;
                    if (there.empty() || there.back() != k) there.push_back(k);
                });
            });
        if (double(on.size()) > double(kMostPages)) return tooMany(double(on.size()));
        for (size_t k = 0; k < m_all.labels.size(); ++k)
            each(boundsOf(m_all.labels[k]), [&](long c, long r) {
                if (const auto found = on.find({r, c}); found != on.end()) found->second.second.push_back(k);
            });
        m_out.empty = m_out.columns * m_out.rows - long(on.size());
        for (long r = 0; r < m_out.rows; ++r)
            for (long c = 0; c < m_out.columns && m_out.tiles.size() < 20'000; ++c) {
                const auto t = tile(c, r);
                m_out.tiles.push_back(
                    {name(c, r), t.first.cwiseQuotient(m_k), t.second.cwiseQuotient(m_k), !on.count({r, c})});
                m_out.covers = m_out.covers.cwiseMax(m_out.tiles.back().to);
            }
        if (on.size() > 1) map(on);
        for (auto at = on.rbegin(); at != on.rend(); ++at) { // from the top row down
            if (stopped(stop)) return Problem{"The template was cancelled.", ""};
            page(at->first.second, at->first.first, at->second.first, at->second.second);
        }
        return std::nullopt;
    }

private:
    static long tileOf(double at, double step, double tile, long most) {
        return std::clamp(long(std::floor((at - tile) / step)), 0L, most - 1);
    }
    Bounds tile(long c, long r) const {
        const Vec2 from(double(c) * m_step.x(), double(r) * m_step.y());
        return {from, from + m_tile};
    }
    /// What ink takes up: its box, or where that is larger than a page boxes along it.
    template<class Use> void eachPiece(const Ink& ink, Use&& use) const {
        const Bounds all = boundsOf(ink);
        if ((all.second - all.first - m_tile).maxCoeff() < 0) return use(all);
        constexpr double kSag = 0.5;
        for (const Segment& s : ink.pieces) {
            const auto path = Path::make({s}, false);
            if (!path) continue;
            const auto points = path->polyline(kSag);
            for (size_t i = 0; i + 1 < points.size(); ++i) {
                // A long straight in steps of half a page.
                const Vec2 a = points[i].head<2>(), d = points[i + 1].head<2>() - a;
                const int n = std::max(1, int(std::ceil(d.norm() / (m_tile.minCoeff() / 2))));
                for (int k = 0; k < n; ++k) {
                    Bounds b = nothing();
                    widen(b, a + d * (double(k) / n));
                    widen(b, a + d * (double(k + 1) / n));
                    use({b.first - Vec2::Constant(kSag), b.second + Vec2::Constant(kSag)});
                }
            }
        }
    }
    std::string name(long c, long r) const { return column(c) + std::to_string(m_out.rows - r); }
    Problem tooMany(double pages) const {
        const char* papers[] = {"A4", "A3", "A2", "letter", "the roll"};
        return {"This takes " + text::number(pages, 0) + " pages of " + papers[int(m_order.paper)] + ", more than " +
                    std::to_string(kMostPages) + ". Take larger paper, fewer runs, or a stretch of the run.",
                "paper"};
    }

    void page(long c, long r, const std::vector<size_t>& inks, const std::vector<size_t>& labels) {
        Sheet s;
        s.name = name(c, r);
        s.width = m_page.x();
        s.height = m_page.y();
        const double m = m_order.margin;
        const Vec2 from = tile(c, r).first, by = Vec2::Constant(m) - from;
        s.clip = {Vec2::Constant(m), Vec2::Constant(m) + m_tile};
        const auto put = [&](Ink ink) {
            for (Segment& piece : ink.pieces) piece = moved(piece, Mat3::Identity(), Vec3(by.x(), by.y(), 0));
            s.inks.push_back(std::move(ink));
        };
        for (size_t k : inks) put(m_all.inks[k]);
        for (size_t k : labels) {
            Label l = m_all.labels[k];
            l.at += by;
            s.labels.push_back(std::move(l));
        }
        crosses(from, put);
        neighbours(c, r, from, put, s, by);
        proof(s);
        s.labels.push_back({{m_page.x() - m - 2, m_page.y() - m - 5},
                            m_title + " \u00b7 " + s.name + " of " + std::to_string(m_out.columns) + " x " +
                                std::to_string(m_out.rows) + " \u00b7 1:1" +
                                (m_order.mirrored ? " \u00b7 mirror image" : ""),
                            2.4,
                            Anchor::Right,
                            0,
                            0,
                            true,
                            "0"});
        m_out.pages.push_back(std::move(s));
    }

    /// Crosses of the drawing's own 100 mm grid, the same on all pages that show them.
    template<class Put> void crosses(const Vec2& from, Put&& put) const {
        const Pen pale{0.1, 0.6, {}};
        const Vec2 grid = kCross * m_k;
        for (double x = std::ceil(from.x() / grid.x()) * grid.x(); x <= from.x() + m_tile.x(); x += grid.x())
            for (double y = std::ceil(from.y() / grid.y()) * grid.y(); y <= from.y() + m_tile.y(); y += grid.y()) {
                put(line({x - 1.5, y}, {x + 1.5, y}, pale));
                put(line({x, y - 1.5}, {x, y + 1.5}, pale));
            }
    }

    /// Where pages meet: register marks on both, a line to cut along on one, the strip to glue on the other.
    template<class Put> void neighbours(long c, long r, const Vec2& from, Put&& put, Sheet& s, const Vec2& by) const {
        const Pen mark{0.2, 0.25, {}}, cut{0.13, 0.4, {2, 1.5}};
        const double half = m_order.overlap / 2;
        const auto registered = [&](const Vec2& at) {
            for (const Vec2& d : {Vec2(4, 0), Vec2(0, 4)}) put(line(at - d, at + d, mark));
            Ink ring{{Arc{Vec3(at.x(), at.y(), 0), Vec3::UnitX(), Vec3::UnitY(), 2, 2 * kPi}}, true, mark, {}, "0"};
            put(std::move(ring));
        };
        const auto say = [&](const Vec2& at, const std::string& text, double turn) {
            s.labels.push_back({at + by, text, 1.8, Anchor::Middle, turn, 0.4, false, "0"});
        };
        for (int axis = 0; axis < 2; ++axis) {
            const long k = axis == 0 ? c : r, most = axis == 0 ? m_out.columns : m_out.rows;
            const int other = 1 - axis;
            for (int side = 0; side < 2; ++side) { // before it, after it
                if (side == 0 ? k == 0 : k + 1 == most) continue;
                Vec2 at = from;
                at[axis] = double(side == 0 ? k : k + 1) * m_step[axis] + half;
                Vec2 end = at;
                end[other] = from[other] + m_tile[other];
                for (double share : {0.25, 0.75}) {
                    Vec2 m = at;
                    m[other] = from[other] + share * m_tile[other];
                    registered(m);
                }
                Vec2 middle = (at + end) / 2;
                const double turn = axis == 0 ? kPi / 2 : 0;
                const std::string with =
                    axis == 0 ? name(side == 0 ? c - 1 : c + 1, r) : name(c, side == 0 ? r - 1 : r + 1);
                if (side == 0) {
                    put(line(at, end, cut));
                    middle[axis] += axis == 0 ? 3 : 1.5;
                    say(middle, "cut \u00b7 lay on " + with, turn);
                } else {
                    middle[axis] += axis == 0 ? half - 1 : half - 3;
                    say(middle, "glue \u00b7 under " + with, turn);
                }
            }
        }
    }

    /// Two bars at right angles and what to do with them. They are part of the drawing: a correction moves their ends.
    void proof(Sheet& s) const {
        const Pen pen{0.25, 0, {}};
        const Vec2 at = Vec2::Constant(m_order.margin + m_order.overlap + 8); // clear of where pages meet
        const auto bar = [&](const Vec2& d, const Vec2& side, double length) {
            s.inks.push_back(line(at, at + length * d, pen));
            for (double k : {0.0, length})
                s.inks.push_back(line(at + k * d - 1.5 * side, at + k * d + 1.5 * side, pen));
        };
        bar({1, 0}, {0, 1}, kBar * m_k.x());
        bar({0, 1}, {1, 0}, kBar * m_k.y());
        s.labels.push_back({at + Vec2(4, 1.6), "This bar is 100 mm long, and so is the upright one.", 2, Anchor::Left,
                            0, 0, false, "0"});
        s.labels.push_back({at + Vec2(1, -3.6),
                            "Measure both before you cut. If not: print at actual size, or type what they measure.",
                            1.8, Anchor::Left, 0, 0, false, "0"});
        s.labels.push_back({at + Vec2(-1.6, 4), "100 mm", 2, Anchor::Left, kPi / 2, 0, false, "0"});
    }

    template<class On> void map(const On& on) {
        Sheet s;
        s.name = "map";
        s.width = m_order.paper == Paper::Roll ? 210 : m_page.x();
        s.height = m_order.paper == Paper::Roll ? 297 : m_page.y();
        const Vec2 whole(double(m_out.columns - 1) * m_step.x() + m_tile.x(),
                         double(m_out.rows - 1) * m_step.y() + m_tile.y());
        const double m = std::max(12.0, m_order.margin),
                     k = std::min((s.width - 2 * m) / whole.x(), (s.height - 2 * m - 34) / whole.y());
        const Vec3 by(m, m, 0);
        const Pen fine{0.1, 0.25, {}}, frame{0.15, 0, {}}, none{0.1, 0.7, {1, 1}};
        for (const Ink& ink : m_all.inks) {
            Ink small = ink;
            small.pen = fine;
            for (Segment& piece : small.pieces) piece = moved(piece, Mat3::Identity(), by, k);
            s.inks.push_back(std::move(small));
        }
        for (long r = 0; r < m_out.rows && m_out.rows * m_out.columns < 20'000; ++r)
            for (long c = 0; c < m_out.columns; ++c) {
                const bool there = on.count({r, c});
                const auto t = tile(c, r);
                const Vec2 a = k * t.first + by.head<2>(), b = k * t.second + by.head<2>();
                s.inks.push_back(box(a, b, there ? frame : none));
                if (there)
                    s.labels.push_back({(a + b) / 2, name(c, r), std::min(5.0, 0.2 * (b - a).minCoeff()),
                                        Anchor::Middle, 0, 0.1, true, "0"});
            }
        const double top = s.height - m;
        s.labels.push_back({{m, top - 6}, m_title, 5, Anchor::Left, 0, 0, true, "0"});
        s.labels.push_back({{m, top - 14},
                            "Template 1:1 on " + std::to_string(on.size()) + " pages, " +
                                text::number(m_all.width / m_k.x(), 1) + " x " +
                                text::number(m_all.height / m_k.y(), 1) + " mm." +
                                (m_out.empty > 0 ? " Pages that hold nothing are left out." : ""),
                            2.6,
                            Anchor::Left,
                            0,
                            0,
                            false,
                            "0"});
        s.labels.push_back(
            {{m, top - 20},
             "Cut along the dashed lines, lay the register marks on each other, glue. Measure the bars on every page.",
             2.6,
             Anchor::Left,
             0,
             0,
             false,
             "0"});
        m_out.pages.push_back(std::move(s));
    }

    const TemplateOrder& m_order;
    const Sheet& m_all;
    Template& m_out;
    const std::string& m_title;
    Vec2 m_k, m_page, m_tile, m_step;
};

std::optional<Problem> defectOf(const TemplateOrder& o) {
    for (const auto& [v, key] : {std::pair{o.barAcross, "barAcross"}, {o.barUp, "barUp"}})
        if (!(v >= 90 && v <= 110))
            return Problem{
                "A bar of 100 mm that measures " + mm(v) +
                    " was not printed at full size: 90 to 110 mm can be corrected. Print at actual size first.",
                key};
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

Result<Template> templateOf(const Runs& runs, const TemplateOrder& order, const std::string& title, const Stop* stop) {
    if (auto defect = defectOf(order)) return *defect;
    Template out;
    Sheet all;
    Draw draw(order, all, out.remarks);
    for (const auto& r : runs) {
        if (stopped(stop)) return Problem{"The template was cancelled.", ""};
        draw.run(*r);
    }
    if (all.inks.empty())
        return Problem{"There is nothing in this plane. Choose another one, or show outlines.", "shows"};
    if (order.mirrored) {
        const Mat3 mirror = Vec3(-1, 1, 1).asDiagonal();
        for (Ink& ink : all.inks)
            for (Segment& s : ink.pieces) s = mapped(s, mirror, Vec3::Zero());
        for (Label& l : all.labels) { // words stay to be read
            l.at.x() = -l.at.x();
            l.turn = -l.turn;
            l.anchor = l.anchor == Anchor::Left ? Anchor::Right : l.anchor == Anchor::Right ? Anchor::Left : l.anchor;
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
    Cut cut(order, paper, out, title);
    if (auto p = cut.run(stop)) return *p;
    return out;
}

} // namespace vicinal
