#include "exchange/drawing/drawing_schedule.h"
#include "base/text.h"
#include "exchange/drawing/drawing.h"
#include "exchange/lists/lists.h"
#include "exchange/sheet/inks.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr double kRow = 4.2, kGap = 8, kCapitals = 1.8, kLetters = 32, kFigures = 17, kCount = 12; // mm
const std::string kOnSchedule = "Schedule";

bool sizesDiffer(const ExportSet& goods) {
    bool any = false;
    for (const auto& of : goods.standing)
        of->eachInstance(
            [&](const Instance& i) { return !(any = any || std::abs(i.size() - 1) >= tolerance::rounding); });
    return any;
}
std::string written(const ListColumn& c, const Cell& cell, double width) {
    if (c.isText) return cutToWidth(*cell.text, kCapitals, width);
    if (c.unit.empty()) return text::number(cell.number, 4); // counts, sizes
    return text::fixed(cell.number, 2);
}

/// Columns of a list, as wide as they may be.
class Columns {
public:
    Columns(const std::vector<ListColumn>& columns, double room) : m_columns(columns) {
        for (const ListColumn& c : columns) {
            const double figures = c.decimals == 0 ? kCount : kFigures;
            m_widths.push_back(c.isText ? kLetters : figures);
            m_wide += m_widths.back();
        }
        narrow(true, 0.6, room); // names are cut off, figures never
        narrow(false, 0, room);
    }
    double wide() const { return m_wide; }

    void head(Sheet& s, const Vec2& corner) const {
        const auto name = [](const ListColumn& c) { return c.unit.empty() ? c.name : c.name + " " + c.unit; };
        double x = corner.x();
        for (size_t k = 0; k < m_columns.size(); ++k, x += m_widths[k - 1])
            put(s, k, {x, corner.y() - 3}, name(m_columns[k]), true);
        s.inks.push_back(line(corner - Vec2(0, kRow), corner + Vec2(m_wide, -kRow), {0.18, 0, {}}, kOnSchedule));
    }
    void row(Sheet& s, const Vec2& at, std::span<const Cell> cells) const {
        double x = at.x();
        for (size_t k = 0; k < cells.size(); ++k, x += m_widths[k - 1])
            if (!cells[k].empty) put(s, k, {x, at.y()}, written(m_columns[k], cells[k], m_widths[k] - 3), false);
    }

private:
    /// On small paper: texts or all, to no less than a share of what they have.
    void narrow(bool textOnly, double least, double room) {
        const auto is = [&](size_t k) { return !textOnly || m_columns[k].isText; };
        double all = 0;
        for (size_t k = 0; k < m_widths.size(); ++k) all += is(k) ? m_widths[k] : 0;
        const double by = std::clamp(1 - (m_wide - room) / all, least, 1.0);
        for (size_t k = 0; k < m_widths.size(); ++k) m_widths[k] *= is(k) ? by : 1;
        m_wide -= (1 - by) * all;
    }
    void put(Sheet& s, size_t k, const Vec2& at, std::string text, bool bold) const {
        const bool left = m_columns[k].isText;
        s.labels.push_back({left ? at : Vec2(at.x() + m_widths[k] - 2, at.y()), std::move(text), kCapitals,
                            left ? Anchor::Left : Anchor::Right, 0, 0, bold, kOnSchedule});
    }

    const std::vector<ListColumn>& m_columns;
    std::vector<double> m_widths;
    double m_wide = 0;
};

} // namespace

bool scheduleOn(std::vector<Sheet>& out, const ExportSet& goods, const Vec2& from, const Vec2& room,
                const std::function<Sheet()>& fresh) {
    ScheduleOrder order;
    order.turn = false;
    order.size = sizesDiffer(goods);
    const auto list = listOf(goods, order);
    if (!list) return true;
    const Columns columns(list->columns, room.x());
    const double step = columns.wide() + kGap;
    const long across = std::max(1L, long((room.x() + kGap) / step)), rows = std::max(1L, long(room.y() / kRow) - 1);
    Sheet s;
    long at = 0;
    size_t listed = 0;
    list->rows([&](std::span<const Cell> cells) {
        if (++listed > kMostListed) return false;
        if (at == 0) s = fresh();
        const Vec2 corner(from.x() + double(at / rows) * step, from.y());
        if (at % rows == 0) columns.head(s, corner);
        columns.row(s, {corner.x(), corner.y() - kRow * double(at % rows + 2) + 1.2}, cells);
        if (++at == rows * across) {
            out.push_back(std::move(s));
            at = 0;
        }
        return true;
    });
    if (at > 0) out.push_back(std::move(s));
    return listed <= kMostListed;
}

} // namespace vicinal
