// Sheets of a drawing: layout, title block, parts, schedule.
#include "exchange/drawing/drawing.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/drawing/drawing_schedule.h"
#include "exchange/drawing/views.h"
#include "model/document/part_item.h"
#include "model/evaluate/weights.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace vicinal {
namespace {

constexpr double kScales[] = {0.1, 0.2, 0.5, 1,    2,    5,    10,  20,  25,  50, 100,
                              200, 250, 500, 1000, 2000, 5000, 1e4, 2e4, 5e4, 1e5};
constexpr double kMargin = 10, kTitleWidth = 180, kTitleRow = 6;
const Pen kFrame{0.5, 0, {}}, kRule{0.18, 0, {}}, kPale{0.1, 0.5, {}};

Vec2 sizeOf(const DrawingOrder& o) {
    const Vec2 sizes[] = {{210, 297}, {297, 420}, {420, 594}, {594, 841}};
    const Vec2 s = sizes[int(o.paper)];
    return o.landscape ? Vec2(s.y(), s.x()) : s;
}

class Sheets {
public:
    Sheets(const ExportSet& goods, const DrawingOrder& order,
           const std::vector<std::pair<std::string, std::string>>& fields, const std::string& title, Job* job)
        : m_goods(goods), m_order(order), m_fields(fields), m_title(title), m_job(job), m_size(sizeOf(order)),
          m_meshes(meshesFor(goods)) {
        m_titleHeight = 14 + kTitleRow * std::ceil(double(fields.size()) / 2);
    }

    Result<Drawing> run() {
        auto views = viewsOf(m_goods, m_order, m_out.remarks, m_meshes, m_job);
        if (!views) return views.problem();
        m_views = std::move(views).value();
        if (auto p = layOut()) return *p;
        Sheet first = sheet();
        Dimensions dims(first);
        for (size_t k = 0; k < m_views.size(); ++k) putView(first, m_views[k], m_order, m_out.scale, m_at[k], dims);
        if (dims.leftOut() > 0)
            m_out.remarks.push_back(say::count(dims.leftOut()) +
                                    " figures found no room and are left out. Use a larger scale or paper, or read "
                                    "them in the schedule.");
        bool truly = m_order.unrolled;
        for (const DrawnView& v : m_views) truly = truly || !v.rows.empty();
        if (!truly && (m_order.pitches || m_order.running || m_order.gaps))
            m_out.remarks.push_back(
                "No row of places is seen in true length: pitch and stations stand in the unrolled view. Tick it.");
        m_out.sheets.push_back(std::move(first));
        if (m_order.details) details();
        if (m_order.schedule) schedule();
        for (size_t k = 0; k < m_out.sheets.size(); ++k) titleBlock(m_out.sheets[k], k);
        return std::move(m_out);
    }

private:
    Sheet sheet() const {
        Sheet s;
        s.width = m_size.x();
        s.height = m_size.y();
        s.name = std::to_string(m_out.sheets.size() + 1);
        Ink frame = box(Vec2::Constant(kMargin), m_size - Vec2::Constant(kMargin), kFrame);
        frame.layer = "Frame";
        s.inks.push_back(std::move(frame));
        return s;
    }

    /// Where the views stand: front and side above plan and oblique, what is unrolled across below.
    std::optional<Problem> layOut() {
        const double fits = scaleThatFits();
        if (m_order.scale != 0 && !(m_order.scale >= 0.001 && m_order.scale <= 1e6))
            return Problem{"A scale of 1 : " + say::number(m_order.scale, 6) +
                               " is not believable. Type the number behind the colon, or 0.",
                           "scale"};
        if (fits == 0)
            return Problem{"This fits on no sheet at any usual scale. Send out fewer runs, or take larger paper.",
                           "paper"};
        m_out.scale = m_order.scale != 0 ? m_order.scale : fits;
        if (m_order.scale != 0 && !place(m_order.scale))
            return Problem{"At 1 : " + say::number(m_order.scale, 3) +
                               " the views do not fit. 1 : " + say::number(fits, 3) + " does, or larger paper.",
                           "scale"};
        place(m_out.scale);
        return std::nullopt;
    }
    double scaleThatFits() {
        for (double n : kScales)
            if (place(n)) return n;
        return 0;
    }
    bool place(double n) {
        // Columns and rows of a table; each as wide and high as its largest view.
        const auto spot = [](const DrawnView& v) -> std::pair<int, int> {
            return v.unrolled          ? std::pair{0, 2}
                   : v.name == "Front" ? std::pair{0, 0}
                   : v.name == "Side"  ? std::pair{1, 0}
                   : v.name == "Plan"  ? std::pair{0, 1}
                                       : std::pair{1, 1};
        };
        std::array<double, 2> wide{};
        std::array<double, 3> high{};
        double across = 0;
        const auto need = [&](const DrawnView& v) {
            return Vec2((v.bounds.second - v.bounds.first) / n + Vec2(2 * v.room, 2 * v.room + 6));
        };
        for (const DrawnView& v : m_views) {
            const auto [c, r] = spot(v);
            const Vec2 size = need(v);
            if (v.unrolled)
                across = std::max(across, size.x());
            else
                wide[size_t(c)] = std::max(wide[size_t(c)], size.x());
            high[size_t(r)] = std::max(high[size_t(r)], size.y());
        }
        const Vec2 room = m_size - Vec2(2 * kMargin, 2 * kMargin + m_titleHeight);
        if (wide[0] + wide[1] > room.x() || across > room.x() || high[0] + high[1] + high[2] > room.y()) return false;
        // What is left over goes between them.
        const double gapX = (room.x() - wide[0] - wide[1]) / (wide[1] > 0 && wide[0] > 0 ? 3 : 2);
        const int rows = int(high[0] > 0) + int(high[1] > 0) + int(high[2] > 0);
        const double gapY = (room.y() - high[0] - high[1] - high[2]) / (rows + 1);
        m_at.clear();
        for (const DrawnView& v : m_views) {
            const auto [c, r] = spot(v);
            const Vec2 own = (v.bounds.second - v.bounds.first) / n;
            double x = kMargin + gapX + (c == 1 && wide[0] > 0 ? wide[0] + gapX : 0),
                   width = v.unrolled ? 0 : wide[size_t(c)];
            if (v.unrolled) x = kMargin + (room.x() - own.x()) / 2;
            double top = m_size.y() - kMargin;
            for (int k = 0; k < r; ++k)
                if (high[size_t(k)] > 0) top -= high[size_t(k)] + gapY;
            top -= gapY;
            m_at.push_back({v.unrolled ? x : x + (width - own.x()) / 2,
                            top - high[size_t(r)] + (high[size_t(r)] - 6 - own.y()) / 2});
        }
        return true;
    }

    void titleBlock(Sheet& s, size_t number) const {
        const Vec2 to(m_size.x() - kMargin, kMargin + m_titleHeight),
            from(to.x() - std::min(kTitleWidth, m_size.x() - 2 * kMargin), kMargin);
        const auto rule = [&](const Vec2& a, const Vec2& b) { s.inks.push_back(line(a, b, kRule, "Frame")); };
        const auto say = [&](const Vec2& at, const std::string& what, double height, bool bold, double grey = 0) {
            s.labels.push_back({at, what, height, Anchor::Left, 0, grey, bold, "Frame"});
        };
        Ink frame = box(from, to, Pen{0.35, 0, {}});
        frame.layer = "Frame";
        s.inks.push_back(std::move(frame));
        const double wide = to.x() - from.x();
        say({from.x() + 3, to.y() - 6.5}, cutToWidth(m_title, 4, wide - 78), 4, true);
        say({to.x() - 72, to.y() - 6.5},
            (number == 0 ? "1 : " + text::number(m_out.scale, 3) + "   " : std::string()) + "mm   sheet " +
                std::to_string(number + 1) + " of " + std::to_string(m_out.sheets.size()),
            2.6, false);
        const double top = to.y() - 12;
        for (size_t k = 0; k < m_fields.size(); ++k) {
            const double x = from.x() + (k % 2) * wide / 2, y = top - kTitleRow * double(k / 2 + 1);
            if (k % 2 == 0) rule({from.x(), y + kTitleRow}, {to.x(), y + kTitleRow});
            say({x + 3, y + 1.9}, cutToWidth(m_fields[k].first, 1.9, 26), 1.9, false, 0.35);
            say({x + 32, y + 1.9}, cutToWidth(m_fields[k].second, 2.3, wide / 2 - 35), 2.3, false);
        }
        if (m_fields.size() > 1) rule({from.x() + wide / 2, top}, {from.x() + wide / 2, from.y()});
    }

    /// Each part from its crown and from its right side, with its size.
    void details() {
        struct Entry {
            const PlacedPart* part;
            const Standing* of;
            double size = 1; ///< other sizes are other parts to make
            long count = 0;
        };
        std::vector<Entry> parts;
        for (const auto& of : m_goods.standing)
            of->eachInstance([&](const Instance& i) {
                const double size = i.size();
                const auto known = std::find_if(parts.begin(), parts.end(), [&](const Entry& e) {
                    return e.part->id == i.part.id && std::abs(e.size - size) < tolerance::rounding;
                });
                (known == parts.end() ? parts.emplace_back(Entry{&i.part, of.get(), size}) : *known).count += 1;
            });
        const Vec2 cell(128, 82), room = m_size - Vec2(2 * kMargin, 2 * kMargin + m_titleHeight);
        const long columns = std::max(1L, long(room.x() / cell.x())), rows = std::max(1L, long(room.y() / cell.y()));
        Sheet s;
        long at = 0;
        for (const Entry& e : parts) {
            if (at == 0) s = sheet();
            const Vec2 corner(kMargin + cell.x() * double(at % columns),
                              m_size.y() - kMargin - cell.y() * double(at / columns + 1));
            detail(s, *e.part, *e.of, e.size, e.count, corner, cell);
            if (++at == columns * rows) {
                m_out.sheets.push_back(std::move(s));
                at = 0;
            }
        }
        if (at > 0) m_out.sheets.push_back(std::move(s));
    }

    /// A part as it is seen one way, in its own axes.
    struct DetailView {
        Seen seen;
        Bounds b;
        Vec2 size() const { return b.second - b.first; }
    };
    static DetailView seenFrom(const std::vector<MeshAt>& body, const Mat3& view) {
        DetailView out{seenLines(body, view, false), nothing()};

        for (const auto& st : out.seen.stands)
            for (const auto& strand : out.seen.parts[st.part].strands)
                for (const Segment& piece : strand) {
                    const Box3 box =
                        boundsOf(moved(piece, Eigen::AngleAxisd(st.angle, Vec3::UnitZ()).toRotationMatrix(),
                                       Vec3(st.at.x(), st.at.y(), 0)));
                    widen(out.b, box.min().head<2>());
                    widen(out.b, box.max().head<2>());
                }
        return out;
    }
    /// The scale, 1 : so much, at which two views fit a cell, and whether they stand beside one another: one above the
    /// other, or beside, whichever shows them larger.
    static std::pair<double, bool> scaleFor(const Vec2& a, const Vec2& b, const Vec2& cell) {
        const auto largest = [](auto&& fits) {
            for (double k : kScales)
                if (fits(k)) return k;
            return kScales[std::size(kScales) - 1];
        };
        const double stacked = largest([&](double k) {
            return std::max(a.x(), b.x()) / k <= cell.x() - 34 && (a.y() + b.y()) / k <= cell.y() - 46;
        });
        const double beside = largest([&](double k) {
            return (a.x() + b.x()) / k <= cell.x() - 54 && std::max(a.y(), b.y()) / k <= cell.y() - 34;
        });
        return {std::min(stacked, beside), beside < stacked};
    }
    static void putDetail(Sheet& s, const DetailView& v, const Vec3& by, double n) {
        for (const auto& st : v.seen.stands)
            for (const auto& strand : v.seen.parts[st.part].strands) {
                const Mat3 R = Eigen::AngleAxisd(st.angle, Vec3::UnitZ()).toRotationMatrix();
                Ink ink{{}, false, Pen{0.25, 0, {}}, {}, "Parts"};
                for (const Segment& piece : strand)
                    ink.pieces.push_back(
                        moved(moved(piece, R, Vec3(st.at.x(), st.at.y(), 0)), Mat3::Identity(), by, 1 / n));
                s.inks.push_back(std::move(ink));
            }
    }
    static void nameDetail(Sheet& s, const PlacedPart& part, const Standing& of, double size, long count, double n,
                           const Vec2& corner, const Vec2& cell) {
        std::string facts = std::to_string(count) + (count == 1 ? " piece" : " pieces");
        if (const auto each = massEach(of, part))
            facts += ", " + text::number(*each * size * size * size, 2) + " kg each";
        s.labels.push_back(
            {{corner.x() + 6, corner.y() + cell.y() - 8},
             cutToWidth(part.name + (std::abs(size - 1) < tolerance::rounding ? std::string()
                                                                              : ", size " + say::number(size, 4)),
                        3, cell.x() - 30),
             3,
             Anchor::Left,
             0,
             0,
             true,
             "Parts"});
        s.labels.push_back({{corner.x() + 6, corner.y() + cell.y() - 13},
                            say::value(facts) + "   1 : " + say::number(n, 3),
                            2.2,
                            Anchor::Left,
                            0,
                            0.2,
                            false,
                            "Parts"});
    }

    void detail(Sheet& s, const PlacedPart& part, const Standing& of, double size, long count, const Vec2& corner,
                const Vec2& cell) {
        const Slot seat = slotOf(part.seat, part.mesh->box);
        Mat4 pose = Mat4::Identity();
        pose.topLeftCorner<3, 3>() = seat.turn * size;
        pose.topRightCorner<3, 1>() = seat.origin * size;
        Mat3 crown = Mat3::Identity(), side;
        side << 1, 0, 0, 0, 0, 1, 0, -1, 0; // right: nose, up: crown, towards: right side
        DrawnMeshes fine(true);
        const std::vector<MeshAt> body{{{}, fine.of(part.body, part.mesh), pose}};
        const std::array<DetailView, 2> both{seenFrom(body, crown), seenFrom(body, side)};
        const auto [n, beside] = scaleFor(both[0].size(), both[1].size(), cell);
        Dimensions dims(s);
        Vec2 at = corner + Vec2(12, 14);
        for (size_t k = 0; k < 2; ++k) { // from the crown first, then from the side
            const Vec2 wide = (both[k].b.second - both[k].b.first) / n;
            const Vec3 by(at.x() - both[k].b.first.x() / n, at.y() - both[k].b.first.y() / n, 0);
            putDetail(s, both[k], by, n);
            Dimensions::Row below{at, {1, 0}, {0, -1}, 5}, right{at + Vec2(wide.x(), 0), {0, 1}, {1, 0}, 5};
            if (k == 0) dims.chain(below, {0, wide.x()}, {wide.x() * n});
            dims.chain(right, {0, wide.y()}, {wide.y() * n});
            at += beside ? Vec2(wide.x() + 24, 0) : Vec2(0, wide.y() + 8);
        }
        nameDetail(s, part, of, size, count, n, corner, cell);
        Ink frame = box(corner + Vec2(2, 2), corner + cell - Vec2(2, 2), kPale);
        frame.layer = "Parts";
        s.inks.push_back(std::move(frame));
    }

    void schedule() {
        const Vec2 room = m_size - Vec2(2 * kMargin + 6, 2 * kMargin + m_titleHeight + 8);
        if (!scheduleOn(m_out.sheets, m_goods, Vec2(kMargin + 3, m_size.y() - kMargin - 3), room,
                        [&] { return sheet(); }))
            m_out.remarks.push_back("The schedule ends after " + say::count(kMostListed) +
                                    " places. Send the whole one out as a list.");
    }

    const ExportSet& m_goods;
    const DrawingOrder& m_order;
    const std::vector<std::pair<std::string, std::string>>& m_fields;
    const std::string& m_title;
    Job* m_job;
    Vec2 m_size;
    double m_titleHeight;
    DrawnMeshes m_meshes;
    std::vector<DrawnView> m_views;
    std::vector<Vec2> m_at; ///< of each view, its lower left corner
    Drawing m_out;
};

} // namespace

Result<Drawing> drawingOf(const ExportSet& goods, const DrawingOrder& order,
                          const std::vector<std::pair<std::string, std::string>>& fields, const std::string& title,
                          Job* job) {
    return Sheets(goods, order, fields, title, job).run();
}

Result<Sheet> linePictureOf(const ExportSet& goods, const PictureOrder& order, Job* job) {
    if (order.width < 16 || order.height < 16 || order.width > 16384 || order.height > 16384)
        return Problem{"A picture of " + say::count(order.width) + " x " + say::count(order.height) +
                           " cannot be made: use 16 to 16384 pixels.",
                       "width"};
    DrawingOrder d;
    d.plan = d.front = false;
    d.oblique = true;
    d.heading = order.heading;
    d.pitch = order.pitch;
    d.pitches = d.running = d.insets = d.angles = false;
    d.numbers = order.labels;
    d.paths = order.handles;
    std::vector<Words> remarks;
    DrawnMeshes meshes = meshesFor(goods);
    auto views = viewsOf(goods, d, remarks, meshes, job);
    if (!views) return views.problem();
    DrawnView& v = views.value().front();
    if (order.labels)
        for (const auto& of : goods.standing)
            of->eachInstance([&](const Instance& i) {
                if (i.own) v.numbers.push_back({(v.axes * i.frame().seat).head<2>(), say::count(i.place + 1)});
            });
    Sheet s;
    s.name = "picture";
    constexpr double kPixel = 25.4 / 96; ///< mm; as files of lines count them
    s.width = kPixel * double(order.width);
    s.height = kPixel * double(order.height);
    const Vec2 size = (v.bounds.second - v.bounds.first).cwiseMax(tolerance::length),
               room(0.94 * s.width, 0.94 * s.height);
    const double scale = std::max(size.x() / room.x(), size.y() / room.y());
    Dimensions dims(s);
    putView(s, v, d, scale, (Vec2(s.width, s.height) - size / scale) / 2, dims);
    s.labels.pop_back();                                                            // the name of the view
    const double thick = kPixel * std::max(1.0, double(order.height) / 900) / 0.25; // pens are for paper
    const auto thicker = [&](Ink& ink) {
        ink.pen.width *= thick;
        for (double& d2 : ink.pen.dash) d2 *= thick;
    };
    for (Ink& ink : s.inks) thicker(ink);
    for (auto& [name, inks] : s.blocks)
        for (Ink& ink : inks) thicker(ink);
    for (Label& l : s.labels) l.height *= thick;
    return s;
}

} // namespace vicinal
