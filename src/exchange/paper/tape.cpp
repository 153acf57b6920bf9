#include "exchange/paper/tape.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/sheet/inks.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

using say::mm;

/// A strip of the tape, put on a page.
class Strip {
public:
    /// `at`: its lower left corner on the page; `from`, `to`: stations; `k`: mm of paper a mm of path.
    Strip(Sheet& s, const Vec2& at, double from, double to, double k, double height)
        : m_sheet(s), m_at(at), m_from(from), m_to(to), m_k(k), m_height(height) {}

    double x(double s) const { return m_at.x() + m_k * (s - m_from); }
    bool has(double s) const { return s >= m_from - tolerance::rounding && s <= m_to + tolerance::rounding; }
    void upright(double s, double low, double high, const Pen& pen) {
        if (has(s)) m_sheet.inks.push_back(line({x(s), m_at.y() + low}, {x(s), m_at.y() + high}, pen));
    }
    void label(double s, double y, const std::string& text, double height, double grey = 0, bool bold = false,
               Anchor anchor = Anchor::Middle) {
        if (has(s)) m_sheet.labels.push_back({{x(s), m_at.y() + y}, text, height, anchor, 0, grey, bold, "0"});
    }
    /// A stretch, as far as it is on this strip.
    void stretch(double a, double b, double low, double high, double fill) {
        a = std::max(a, m_from), b = std::min(b, m_to);
        if (!(b > a)) return;
        Ink ink = box({x(a), m_at.y() + low}, {x(b), m_at.y() + high}, {0.13, 0, {}});
        ink.fill = fill;
        m_sheet.inks.push_back(std::move(ink));
    }
    void along(double y, const Pen& pen) {
        m_sheet.inks.push_back(line({x(m_from), m_at.y() + y}, {x(m_to), m_at.y() + y}, pen));
    }
    double from() const { return m_from; }
    double to() const { return m_to; }
    double height() const { return m_height; }

private:
    Sheet& m_sheet;
    Vec2 m_at;
    double m_from, m_to, m_k, m_height;
};

/// One place on the tape; a run round a closed path may show its first ones again behind the seam.
struct OnTape {
    double station = 0, back = 0, front = 0;
    size_t place = 0;
    std::string part; ///< where it changes
};

void paint(Strip& t, const std::vector<OnTape>& spots, double length, bool closed) {
    const Pen fine{0.1, 0, {}}, edge{0.18, 0, {}}, pale{0.1, 0.5, {1.5, 1}};
    const double h = t.height();
    t.along(0, edge);
    t.along(h, edge);
    for (double s = std::ceil(t.from() / 10 - tolerance::rounding) * 10;
         s <= std::min(t.to(), length) + tolerance::rounding; s += 10) {
        const long ten = std::lround(s / 10);
        const double tick = ten % 5 == 0 ? 3 : 1.8;
        t.upright(s, 0, ten % 10 == 0 ? 4.5 : tick, fine);
        if (ten % 10 == 0) t.label(s + 0.8, 2.6, std::to_string(ten * 10), 1.6, 0.2, false, Anchor::Left);
    }
    for (size_t i = 0; i < spots.size(); ++i) {
        const OnTape& spot = spots[i];
        t.stretch(spot.back, spot.front, 5.2, h - 5, 0.88);
        t.upright(spot.station, 5.2, h, edge);
        if (spot.station < t.to() - 5 || t.to() > length - tolerance::length) // else the next strip says it
            t.label(spot.station + 0.8, h - 3.6, std::to_string(spot.place + 1), 2.2, 0, true, Anchor::Left);
        const double seen = std::min(spot.front, t.to()) - std::max(spot.back, t.from());
        if (!spot.part.empty() && seen > 1.1 * double(spot.part.size()))
            t.label((std::max(spot.back, t.from()) + std::min(spot.front, t.to())) / 2, 6.2, spot.part, 1.4, 0.25);
        if (i + 1 < spots.size() && spots[i + 1].back - spot.front > 9)
            t.label((spot.front + spots[i + 1].back) / 2, 7.4, text::number(spots[i + 1].back - spot.front, 1), 1.5,
                    0.4);
    }
    t.upright(0, 0, h, {0.4, 0, {}});
    t.label(0.8, h - 7.4, "start", 1.8, 0, true, Anchor::Left);
    t.upright(length, 0, h, {0.4, 0, {}});
    t.label(length - 0.8, h - 7.4, closed ? "seam: meets the start" : "end", 1.8, 0, true, Anchor::Right);
}

/// The places of the first row as they lie along the tape, rising.
std::vector<OnTape> spotsOf(const Placed& p) {
    const double L = p.path.length();
    std::vector<OnTape> spots;
    const Id none = 0;
    Id last = none;
    for (size_t i = 0; i < std::min(p.laid->rowSize, p.count()); ++i) {
        if (p.leftOut(i)) continue;
        const double s = p.stations()[i];
        OnTape spot{s, s - p.occupied(i).behind, s + p.occupied(i).ahead, i, {}};
        if (p.part(i).id != last) spot.part = p.part(i).name;
        last = p.part(i).id;
        spots.push_back(spot);
    }
    std::sort(spots.begin(), spots.end(), [](const OnTape& a, const OnTape& b) { return a.station < b.station; });
    if (p.path.closed() && !spots.empty()) { // what reaches over the seam is seen on both sides
        OnTape first = spots.front(), end = spots.back();
        first.station += L, first.back += L, first.front += L;
        end.station -= L, end.back -= L, end.front -= L;
        if (first.back < L) spots.push_back(first);
        if (end.front > 0) spots.insert(spots.begin(), end);
    }
    return spots;
}

/// A page with the bar that proves its scale, and its footer.
Sheet pageOf(const Vec2& page, const TapeOrder& o, double k, const std::string& number, const std::string& footer) {
    Sheet s;
    s.name = number;
    s.width = page.x();
    s.height = page.y();
    const Pen pen{0.25, 0, {}};
    const Vec2 at(o.margin + 2, o.margin + 3);
    const auto bar = [&](const Vec2& a, const Vec2& b) { s.inks.push_back(line(a, b, pen)); };
    bar(at, at + Vec2(100 * k, 0));
    for (double x : {0.0, 100 * k}) bar(at + Vec2(x, -1.5), at + Vec2(x, 1.5));
    s.labels.push_back(
        {at + Vec2(3, 1.2), "This bar is 100 mm long: measure it before you mark.", 2, Anchor::Left, 0, 0, false, "0"});
    s.labels.push_back({{page.x() - o.margin - 2, o.margin + 2}, footer, 2.2, Anchor::Right, 0, 0, true, "0"});
    return s;
}

} // namespace

Result<Tape> tapeOf(const RunResult& run, const TapeOrder& o) {
    TemplateOrder as;
    as.paper = o.paper;
    as.landscape = o.landscape;
    const Vec2 page = paperSize(as);
    if (auto p = notFullSize(o.barAcross, "barAcross")) return *p;
    if (!(o.height >= 12 && o.height <= 200))
        return Problem{"A tape is 12 to 200 mm high, not " + mm(o.height) + ".", "height"};
    const double wide = page.x() - 2 * o.margin, footer = 12;
    if (!(o.margin >= 0) || !(wide >= 110) || !(page.y() - 2 * o.margin - footer >= o.height))
        return Problem{"Between its margins the paper leaves " + mm(std::max(0.0, wide)) +
                           "; the bar of 100 mm needs 110 mm.",
                       "margin"};
    if (!(o.overlap >= 0 && 2 * o.overlap <= wide))
        return Problem{"An overlap of " + mm(o.overlap) + " is over half a strip. Use " + mm(wide / 2) + " or less.",
                       "overlap"};
    const Placed& p = *run.placed;
    const double L = p.path.length(), k = 100 / o.barAcross, step = (wide - o.overlap) / k, whole = wide / k;
    const auto strips = std::max(1L, long(std::ceil((L - whole) / step - tolerance::rounding)) + 1);
    const double each = o.height + 6;
    const auto onPage = std::max(1L, long((page.y() - 2 * o.margin - footer + 6) / each));
    const long pages = (strips + onPage - 1) / onPage;
    if (pages > kMostPages)
        return Problem{"This tape is " + mm(L) + " long and takes " + say::count(pages) + " pages, more than " +
                           say::count(kMostPages) + ". Take larger paper, or a run on a stretch of the path.",
                       "paper"};
    const std::vector<OnTape> spots = spotsOf(p);
    Tape out;
    out.strips = strips;
    out.length = L;
    const std::string title = run.item->name + " \u00b7 tape of " + text::number(L, 1) + " mm";
    for (long n = 0; n < strips; ++n) {
        if (n % onPage == 0) {
            const std::string number = std::to_string(n / onPage + 1);
            out.pages.push_back(
                pageOf(page, o, k, number,
                       say::value(title) + " \u00b7 page " + number + " of " + say::count(pages) + " \u00b7 1:1"));
        }
        Sheet& s = out.pages.back();
        const double from = double(n) * step, to = std::min(from + whole, L);
        Strip strip(s, {o.margin, page.y() - o.margin - o.height - double(n % onPage) * each}, from, to, k, o.height);
        paint(strip, spots, L, p.path.closed());
        const Pen cut{0.13, 0.4, {2, 1.5}};
        if (n > 0) {
            strip.upright(from + o.overlap / k / 2, 0, o.height, cut);
            strip.label(from + o.overlap / k / 2 + 0.8, o.height - 1.8,
                        "strip " + std::to_string(n + 1) + ": cut, lay on strip " + std::to_string(n), 1.3, 0.4, false,
                        Anchor::Left);
        }
        if (n + 1 < strips)
            strip.label(to - 0.8, o.height - 1.8, "strip " + std::to_string(n + 1) + ": glue", 1.3, 0.4, false,
                        Anchor::Right);
    }
    return out;
}

} // namespace vicinal
