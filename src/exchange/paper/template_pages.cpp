// A drawing cut into pages that meet, with the proof of scale.
#include "base/say.h"
#include "base/text.h"
#include "exchange/sheet/inks.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {
namespace {

constexpr double kCross = 100; ///< mm; of the grid
constexpr double kProof = 8;   ///< mm; of the bars from where pages meet

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
        if (order.paper == Paper::Roll) onRoll();
        m_tile = m_page - Vec2::Constant(2 * order.margin);
        m_step = m_tile - Vec2::Constant(order.overlap);
    }
    Vec2 step() const { return m_step; }

    std::optional<Problem> run(const Stop* stop) {
        const auto along = [&](double size, double tile, double step) {
            return std::max(1L, long(std::ceil((size - tile) / step - tolerance::rounding)) + 1);
        };
        m_out.columns = along(m_all.width, m_tile.x(), m_step.x());
        m_out.rows = along(m_all.height, m_tile.y(), m_step.y());
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
        std::vector<std::pair<long, long>> order; // as they are read: from the top row down, from the left
        for (const auto& [at, what] : on) order.push_back({-at.first, at.second});
        std::sort(order.begin(), order.end());
        for (const auto& [up, c] : order) {
            if (stopped(stop)) return Problem{"The template was cancelled.", ""};
            const auto& what = on.at({-up, c});
            page(c, -up, what.first, what.second);
        }
        return std::nullopt;
    }

private:
    /// Strips of the roll run along the drawing's length where that takes fewer of them, else up it. Each is as long as
    /// the drawing, and long enough for both bars.
    void onRoll() {
        const double wide = m_page.x() - 2 * m_order.margin, step = wide - m_order.overlap;
        const auto strips = [&](double across) {
            return std::max(0.0, std::ceil((across - wide) / step - tolerance::rounding));
        };
        const auto length = [&](double all, double k) {
            return std::max(all, kBar * k + m_order.overlap + kProof + 4) + 2 * m_order.margin;
        };
        if (strips(m_all.height) < strips(m_all.width))
            m_page = Vec2(length(m_all.width, m_k.x()), m_page.x());
        else
            m_page.y() = length(m_all.height, m_k.y());
    }
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
        return {Words("This takes ") + text::number(pages, 0) + " pages of " + papers[int(m_order.paper)] +
                    ", more than " + std::to_string(kMostPages) +
                    ". Take larger paper, fewer runs, a stretch of the run, or a drawing to scale.",
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
        corner(s, c > 0, r > 0);
        proof(s);
        s.labels.push_back({{m_page.x() - m - 2, m_page.y() - m - 5},
                            say::value(m_title) + " \u00b7 " + s.name + " of " + say::count(m_out.columns) + " x " +
                                say::count(m_out.rows) + " \u00b7 1:1" +
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
                const long next = k + 2 * side - 1;
                const std::string with = axis == 0 ? name(next, r) : name(c, next);
                if (side == 0) {
                    put(line(at, end, cut));
                    middle[axis] += axis == 0 ? 3 : 1.5;
                    say(middle, "cut or fold back \u00b7 lay on " + with, turn);
                } else {
                    middle[axis] += axis == 0 ? half - 1 : half - 3;
                    say(middle, "glue \u00b7 under " + with, turn);
                }
            }
        }
    }

    /// Where the cuts of two sides cross, a corner to be cut off first: then the page beneath is not hidden by a flap.
    void corner(Sheet& s, bool left, bool low) const {
        if (!left || !low || m_order.overlap < 2) return;
        const Vec2 at = Vec2::Constant(m_order.margin);
        const double k = m_order.overlap;
        s.inks.push_back(line(at + Vec2(k, 0), at + Vec2(0, k), {0.2, 0.25, {1, 0.8}}));
        s.labels.push_back({at + Vec2(0.8, 0.8), "off", 1.4, Anchor::Left, 0, 0.4, false, "0"});
    }

    /// Two bars at right angles and what to do with them. They are part of the drawing: a correction moves their ends.
    void proof(Sheet& s) const {
        const Pen pen{0.25, 0, {}};
        const Vec2 at = Vec2::Constant(m_order.margin + m_order.overlap + kProof); // clear of where pages meet
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
            const Bounds b = boundsOf(ink);
            if (k * (b.second - b.first).maxCoeff() < 0.5) continue; // marks that nobody could tell there
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
                            "Template 1:1 on " + say::count(on.size()) + " pages, " +
                                say::number(m_all.width / m_k.x(), 1) + " x " + say::number(m_all.height / m_k.y(), 1) +
                                " mm." + (m_out.empty > 0 ? " Pages that hold nothing are left out." : ""),
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

} // namespace

std::optional<Problem> cutIntoPages(const TemplateOrder& order, const Sheet& paper, Template& out,
                                    const std::string& title, const Stop* stop) {
    return Cut(order, paper, out, title).run(stop);
}

} // namespace vicinal
