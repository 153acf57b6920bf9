#include "exchange/drawing/dimensions.h"
#include "base/text.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr const char* kLayer = "Dimensions";
constexpr double kFigure = 2.2, kChainLine = 6.5; ///< mm; height of figures, from one line of dimensions to the next
const Pen kThin{0.13, 0, {}}, kExtension{0.1, 0.45, {}};

std::string figures(double mm) { return text::number(mm, 1); }

/// Text that is not upside down.
double upright(const Vec2& along) {
    double turn = std::atan2(along.y(), along.x());
    if (turn > kPi / 2 + tolerance::alike) turn -= kPi;
    if (turn <= -kPi / 2 + tolerance::alike) turn += kPi;
    return turn;
}

} // namespace

bool Dimensions::label(Label l, bool evenIfTaken) {
    const Bounds b = boundsOf(l);
    if (!evenIfTaken && std::any_of(m_taken.begin(), m_taken.end(), [&](const Bounds& t) { return meets(t, b); })) {
        ++m_leftOut;
        return false;
    }
    m_taken.push_back(b);
    m_out.labels.push_back(std::move(l));
    return true;
}

void Dimensions::tick(const Vec2& at, const Vec2& along) {
    const Vec2 d = Eigen::Rotation2Dd(kPi / 4) * along;
    m_out.inks.push_back(line(at - 1.1 * d, at + 1.1 * d, Pen{0.25, 0, {}}, kLayer));
}

/// Above the line in the middle; where the room is too small, beyond it, then one step higher.
void Dimensions::text(const Vec2& middle, const Vec2& along, const Vec2& side, const std::string& what, double room) {
    const double turn = upright(along), wide = 0.62 * kFigure * double(what.size());
    const Vec2 up = Eigen::Rotation2Dd(turn) * Vec2(0, 1);
    std::vector<Vec2> tries;
    if (wide <= room) tries.push_back(middle + 0.8 * up);
    for (double k : {1.0, 2.0})
        tries.push_back(middle + (0.8 + k * 1.25 * kFigure) * (up.dot(side) > 0 ? up : -up) -
                        (up.dot(side) > 0 ? Vec2(0, 0) : Vec2(0.9 * kFigure * up)));
    for (const Vec2& at : tries) {
        Label l{at, what, kFigure, Anchor::Middle, turn, 0, false, kLayer};
        Bounds b = boundsOf(l);
        if (std::any_of(m_taken.begin(), m_taken.end(), [&](const Bounds& t) { return meets(t, b); })) continue;
        m_taken.push_back(b);
        Ink cover{{}, true, {0.01, 1, {}}, 1.0, kLayer}; // extension lines do not run through figures
        const Vec2 half(0.31 * kFigure * double(what.size()) + 0.5, 0.62 * kFigure);
        const Eigen::Rotation2Dd R(turn);
        const Vec2 c = at + R * Vec2(0, 0.5 * kFigure);
        Vec2 before = c + R * Vec2(-half.x(), -half.y());
        for (const Vec2& d : {Vec2(half.x(), -half.y()), half, Vec2(-half.x(), half.y()), Vec2(-half)}) {
            const Vec2 next = c + R * d;
            cover.pieces.push_back(Line{Vec3(before.x(), before.y(), 0), Vec3(next.x(), next.y(), 0)});
            before = next;
        }
        m_out.inks.push_back(std::move(cover));
        m_out.labels.push_back(std::move(l));
        return;
    }
    ++m_leftOut;
}

void Dimensions::chain(Row& row, const std::vector<double>& at, const std::vector<double>& lengths,
                       const std::string& prefix) {
    if (at.size() < 2 || lengths.size() + 1 != at.size()) return;
    const Vec2 base = row.from + row.clear * row.side;
    const auto on = [&](double p) { return Vec2(base + p * row.along); };
    m_out.inks.push_back(line(on(at.front()), on(at.back()), kThin, kLayer));
    for (double p : at) {
        m_out.inks.push_back(line(row.from + p * row.along + 2 * row.side, on(p) + 1.2 * row.side, kExtension, kLayer));
        tick(on(p), row.along);
    }
    for (size_t i = 0; i < lengths.size();) {
        size_t j = i + 1;
        while (j < lengths.size() && std::abs(lengths[j] - lengths[i]) < 0.05) ++j;
        const size_t n = j - i;
        if (n < 3) j = i + 1;
        double sum = 0;
        for (size_t k = i; k < j; ++k) sum += lengths[k];
        const std::string what =
            prefix +
            (n < 3 ? figures(lengths[i]) : std::to_string(n) + " x " + figures(lengths[i]) + " = " + figures(sum));
        text((on(at[i]) + on(at[j])) / 2, row.along, row.side, what, at[j] - at[i]);
        i = j;
    }
    row.clear += kChainLine;
}

void Dimensions::stretches(Row& row, const std::vector<Stretch>& all, const std::string& prefix) {
    if (all.empty()) return;
    const Vec2 base = row.from + row.clear * row.side;
    const auto on = [&](double p) { return Vec2(base + p * row.along); };
    bool same = true;
    for (const Stretch& s : all) {
        same = same && std::abs(s.length - all[0].length) < 0.05;
        m_out.inks.push_back(line(on(s.from), on(s.to), kThin, kLayer));
        for (double p : {s.from, s.to}) {
            m_out.inks.push_back(
                line(row.from + p * row.along + 2 * row.side, on(p) + 1.2 * row.side, kExtension, kLayer));
            tick(on(p), row.along);
        }
    }
    if (same && all.size() > 2)
        text((on(all.front().from) + on(all.back().to)) / 2, row.along, row.side,
             prefix + std::to_string(all.size()) + " x " + figures(all[0].length), 1e9);
    else
        for (const Stretch& s : all)
            text((on(s.from) + on(s.to)) / 2, row.along, row.side, prefix + figures(s.length), s.to - s.from);
    row.clear += kChainLine;
}

void Dimensions::running(Row& row, const std::vector<double>& at, const std::vector<double>& stations) {
    if (at.empty()) return;
    const Vec2 base = row.from + row.clear * row.side;
    const auto on = [&](double p) { return Vec2(base + p * row.along); };
    m_out.inks.push_back(line(on(0), on(at.back()), kThin, kLayer));
    Ink origin{
        {Arc{Vec3(on(0).x(), on(0).y(), 0), Vec3::UnitX(), Vec3::UnitY(), 0.8, 2 * kPi}}, true, kThin, {}, kLayer};
    m_out.inks.push_back(std::move(origin));
    const double turn = upright(row.side), step = 1.5 * kFigure;
    const bool away = (Eigen::Rotation2Dd(turn) * Vec2(1, 0)).dot(row.side) > 0;
    double longest = 0, last = -kFar;
    const double lead =
        row.clear > 8.5 ? row.clear - kChainLine + 1.2 : 2; // from the chain above it, where there is one
    for (size_t i = 0; i < at.size(); ++i) {
        const Vec2 p = on(at[i]);
        m_out.inks.push_back(line(row.from + at[i] * row.along + lead * row.side, p, kExtension, kLayer));
        m_out.inks.push_back(line(p - 0.8 * row.side, p + 0.8 * row.side, kThin, kLayer));
        const bool end = i + 1 == at.size();
        if (!end && (at[i] - last < step || at.back() - at[i] < step)) {
            ++m_leftOut;
            continue;
        }
        last = at[i];
        const std::string what = figures(stations[i]);
        const Vec2 sideways = Eigen::Rotation2Dd(turn) * Vec2(0, 1);
        Label l{p + 1.4 * row.side - 0.5 * kFigure * sideways,
                what,
                kFigure,
                away ? Anchor::Left : Anchor::Right,
                turn,
                0,
                false,
                kLayer};
        longest = std::max(longest, 0.62 * kFigure * double(what.size()));
        label(std::move(l), end);
    }
    row.clear += kChainLine + longest;
}

void Dimensions::angle(const Vec2& at, const Vec2& one, const Vec2& other, double value) {
    const double from = std::atan2(one.y(), one.x());
    double sweep = std::remainder(std::atan2(other.y(), other.x()) - from, 2 * kPi);
    if (std::abs(sweep) < tolerance::alike) return;
    const double r = 7;
    const Vec2 middle = Eigen::Rotation2Dd(from + sweep / 2) * Vec2(1, 0);
    Label l{at + (r + 4.5) * middle - Vec2(0, kFigure / 2),
            text::number(value / kDegree, 1) + "\u00b0",
            kFigure,
            Anchor::Middle,
            0,
            0,
            false,
            kLayer};
    if (!label(std::move(l))) return;
    Arc a;
    a.centre = {at.x(), at.y(), 0};
    a.xAxis = {std::cos(from), std::sin(from), 0};
    a.yAxis = {-std::sin(from), std::cos(from), 0};
    a.radius = r;
    a.sweep = sweep;
    m_out.inks.push_back({{a}, false, kThin, {}, kLayer});
}

} // namespace vicinal
