// Rows, tiers and echoes of a laid row.
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/offset.h"
#include "layout/spacing/rule_kind.h"
#include "layout/stages.h"
#include <algorithm>
#include <cmath>
#include <cstring>

namespace vicinal {
namespace {

/// Numbers of the run's own path as the same places are found along a row beside it.
class OnRow {
public:
    OnRow(const Path& path, const Path& row) : m_path(path), m_row(row) {}
    double operator()(double station) const { return m_row.closest(m_path.at(station).point); }
    void move(std::optional<double>& v) const {
        if (v) v = (*this)(*v);
    }
    void move(std::vector<double>& all) const {
        for (double& v : all)
            if (v >= 0 && v <= m_path.length()) v = (*this)(v);
        std::sort(all.begin(), all.end());
    }
    void move(Profile& p) const {
        if (p.stretches || p.keys.size() < 2) return;
        for (Key& k : p.keys) k.at = (*this)(k.at);
        std::sort(p.keys.begin(), p.keys.end(), [](const Key& a, const Key& b) { return a.at < b.at; });
        const auto near = [](const Key& a, const Key& b) { return b.at - a.at < 1e-3; };
        p.keys.erase(std::unique(p.keys.begin(), p.keys.end(), near), p.keys.end());
    }

private:
    const Path &m_path, &m_row;
};

class Multiply {
public:
    Multiply(const Path& path, const PlacementInput& order, const Facing& facing, Placement& out)
        : m_path(path), m_order(order), m_facing(facing), m_out(out), m_n(out.count()) {}

    std::optional<Problem> run() {
        if (!m_order.rows.none())
            if (auto p = m_order.rows.keep == RowsKeep::Pitch && m_order.rows.rows > 1 ? ownRows() : rows()) return p;
        return echoes();
    }

    /// Where on the path each place of what run() made belongs, with the path's own frame there, echoes of it echoed.
    std::vector<Frame> bases() const {
        std::vector<Frame> out(m_out.count());
        const size_t originals = std::max<size_t>(1, m_out.originals()),
                     echoed = size_t(m_order.echoes.one.times()) * size_t(m_order.echoes.two.times());
        const size_t each = m_out.count() / echoed; // rows and tiers of one of them
        if (m_out.ownRows.empty())
            plain(m_path, std::span(m_out.stations).first(std::min(originals, each)), out);
        else
            for (const auto& row : m_out.ownRows)
                plain(row.path ? *row.path : m_path, std::span(m_out.stations).subspan(row.first, row.count),
                      std::span(out).subspan(row.first, row.count));
        for (size_t from = originals; from + originals <= each; from += originals)
            if (m_order.rows.staggered && m_out.ownRows.empty())
                plain(m_path, std::span(m_out.stations).subspan(from, originals),
                      std::span(out).subspan(from, originals));
            else
                std::copy_n(out.begin(), originals, out.begin() + long(from));
        size_t all = each;
        for (const Echo* e : {&m_order.echoes.one, &m_order.echoes.two}) {
            const auto times = size_t(e->times());
            const Vec3 d = e->along.normalized();
            for (size_t k = 1; k < times; ++k)
                for (size_t i = 0; i < all; ++i) out[k * all + i] = this->echoed(out[i], *e, d, double(k));
            all *= times;
        }
        return out;
    }

private:
    std::optional<Problem> tooMany(double times, const char* field) const {
        if (double(m_out.count()) * times <= double(kMostPlaces)) return std::nullopt;
        return tooManyPlaces(field);
    }
    static Problem tooManyPlaces(const char* field) {
        return {"That makes more than a million places. Use fewer rows or echoes.", field};
    }

    /// The places from `from` on once more, every frame changed by `change(frame, place)`.
    template<class Change> void again(size_t from, size_t count, Change&& change) {
        const auto grow = [&](auto& column) {
            if (column.same()) return;
            for (size_t i = 0; i < count; ++i) column.add(column[from + i]);
        };
        for (size_t i = 0; i < count; ++i) {
            m_out.stations.push_back(m_out.stations[from + i]);
            m_out.frames.push_back(change(m_out.frames[from + i], i));
        }
        grow(m_out.slot);
        grow(m_out.size);
        grow(m_out.occupied);
        const size_t outs = m_out.out.size();
        for (size_t k = 0; k < outs; ++k)
            if (m_out.out[k] >= from && m_out.out[k] < from + count)
                m_out.out.push_back(m_out.out[k] - from + m_out.stations.size() - count);
    }

    std::optional<Problem> rows() {
        const Rows& r = m_order.rows;
        if (auto p = tooMany(double(r.rows) * double(r.tiers), r.tiers > r.rows ? "tiers" : "rows")) return p;
        m_out.stations.reserve(m_n * size_t(r.rows * r.tiers));
        m_out.frames.reserve(m_out.stations.capacity());
        // Offsets go by the frames before anything turned them: the path's own side and crown.
        std::vector<Frame> path(m_n), half;
        plain(m_path, std::span(m_out.stations).first(m_n), path);
        Halfway between;
        if (r.staggered) {
            between = halfway(0, m_n, m_path, true);
            half.resize(m_n);
            plain(m_path, between.at, half);
        }
        for (long t = 0; t < r.tiers; ++t)
            for (long k = 0; k < r.rows; ++k) {
                if (t == 0 && k == 0) continue;
                const bool shift = r.staggered && (t + k) % 2 == 1;
                again(0, m_n, [&](Frame f, size_t i) {
                    return beside(f, path[i], shift ? half[i] : path[i], double(k) * r.apart, double(t) * r.high);
                });
                const size_t from = m_out.stations.size() - m_n;
                if (auto p = crossing(from, k, shift ? half : path)) return p;
                if (auto p = unaimed(from, m_n)) return p;
                if (shift) stand(between, from);
            }
        return std::nullopt;
    }

    /// Where every other row stands: half-way to the next place (or back to the one before); from the last place half
    /// of the last step on, if that is still on the path. What is not has no room.
    struct Halfway {
        std::vector<double> at;
        std::vector<size_t> noRoom;
    };
    Halfway halfway(size_t from, size_t count, const Path& path, bool on) const {
        const auto all = std::span(m_out.stations).subspan(from, count);
        const double L = path.length();
        const bool round = path.closed();
        const auto step = [&](size_t i) { // to the next one
            const double d = all[(i + 1) % count] - all[i];
            return d > 0 || !round ? d : d + L;
        };
        const Usable room = usableOf(m_order.spacing, L);
        // A stretch of a closed path may go over the seam.
        const bool open = !round || m_order.spacing->from || m_order.spacing->to;
        const auto beyond = [&](double s) {
            if (!open) return false;
            double end = room.end, at = s;
            if (round && end < room.start) end += L;
            if (round && at < room.start - tolerance::length) at += L;
            return at > end + tolerance::length || at < room.start - tolerance::length;
        };
        Halfway out;
        for (size_t i = 0; i < count; ++i) {
            const bool last = on ? i + 1 == count : i == 0, neighbour = m_out.closed || !last;
            double d = m_out.pitch;
            if (count > 1) {
                size_t gap =
                    on ? i : (i + count - 1) % count; // to the neighbour on that side; an end has the other one's
                if (last && !neighbour) gap = on ? i - 1 : 0;
                d = step(gap);
            }
            const double to = all[i] + (on ? d : -d) / 2;
            const bool fits = neighbour || (count > 1 && !beyond(to));
            out.at.push_back(wrapped(path, fits ? to : all[i]));
            if (!fits) out.noRoom.push_back(i);
        }
        return out;
    }
    /// The places from `from` on stand there; those without room are left out.
    void stand(const Halfway& between, size_t from) {
        std::copy(between.at.begin(), between.at.end(), m_out.stations.begin() + long(from));
        for (size_t i : between.noRoom) {
            m_out.out.push_back(from + i);
            m_out.noRoom.push_back(from + i);
        }
    }
    /// A place that stands at what it is to be aimed at.
    std::optional<Problem> unaimed(size_t from, size_t count) const {
        if (!vicinal::aims(m_order, m_facing)) return std::nullopt;
        for (size_t i = from; i < from + count; ++i)
            if (!((aimOf(m_facing, m_out.frames[i].seat) - m_out.frames[i].seat).norm() > tolerance::length))
                return atTarget(m_facing, i);
        return std::nullopt;
    }
    /// What stands at `from` as it stands there, moved to `to` and beside it.
    Frame beside(Frame f, const Frame& from, const Frame& to, double across, double up) const {
        const Vec3 moved = from.axes.transpose() * (f.seat - from.seat);
        // What is turned is turned against the path, or against what the nose is aimed at from where it stands.
        const bool aims = vicinal::aims(m_order, m_facing), drawn = std::holds_alternative<AsDrawn>(m_facing.nose);
        const auto own = [&](const Vec3& seat, const Mat3& path) {
            if (!aims) return path;
            const Vec3 d = aimOf(m_facing, seat) - seat;
            return d.norm() > tolerance::length ? aimed(d.normalized(), path) : path;
        };
        const Mat3 turn = own(f.seat, from.axes).transpose() * f.axes;
        f.seat = to.seat + to.axes * (moved + Vec3(0, across, up));
        if (!drawn) f.axes = own(f.seat, to.axes) * turn;
        return f;
    }
    /// A row on the inside of a bend gets shorter; beyond the bend's centre it would run backwards.
    std::optional<Problem> crossing(size_t from, long row, const std::vector<Frame>& path) const {
        for (size_t i = 0; row > 0 && i + 1 < m_n; ++i) {
            const Vec3 nose = path[i].axes.col(0);
            const double along = nose.dot(path[i + 1].seat - path[i].seat);
            const double here = nose.dot(m_out.frames[from + i + 1].seat - m_out.frames[from + i].seat);
            if (!(along > tolerance::length) || here > -tolerance::length) continue; // one point is not backwards
            // What remains of the pitch falls evenly with the distance: where it would be nothing.
            const double most = std::abs(m_order.rows.apart) * along / (along - here);
            return Problem{"Row " + say::count(row + 1) + " crosses the inside of the bend at place " +
                               say::count(i + 1) + ": it would run backwards there. Set the rows less than " +
                               Words::length(most, Words::Style::Decimals) + " apart, or to the other side.",
                           "rowsApart"};
        }
        return std::nullopt;
    }
    static double wrapped(const Path& path, double s) {
        if (!path.closed()) return std::clamp(s, 0.0, path.length());
        if (s < 0) return s + path.length();
        return s >= path.length() ? s - path.length() : s;
    }
    /// A path's own frames at these stations.
    void plain(const Path& path, std::span<const double> s, std::span<Frame> out) const {
        const Facing along = pathFacing(m_facing);
        sweeps(s, [&](size_t first, std::span<const double> rising) {
            faceAt(path, rising, along, m_out.usedSlots[0].turn,
                   [&](size_t i, const Vec3& p, const Vec3&, const Mat3& R) {
                       out[first + i] = {R, p};
                   });
        });
    }

    /// The line that row k stands on.
    Result<Path> rowPath(long k) const {
        const std::string which = "Row " + std::to_string(k + 1);
        auto offset = offsetOf(m_path, double(k) * m_order.rows.apart, CornerStyle::Round);
        if (!offset) return Problem{say::value(which) + ": " + Words::whole(offset.problem().text), "rowsApart"};
        if (!offset->others.empty())
            return Problem{say::value(which) + " falls apart into " + say::count(offset->others.size() + 1) +
                               " pieces where the path comes too near to itself. Set the rows closer, or to the other "
                               "side.",
                           "rowsApart"};
        return Path::make(offset->curve.segments, offset->curve.closed);
    }

    /// What the run asks for, said for such a row: the pitch stays, the count is the row's own.
    PlacementInput orderOn(const Path& row, long k) const {
        PlacementInput o = m_order;
        o.rows = {};
        o.echoes = {};
        o.feet = {}; // it is dropped with all the others
        o.ground.reset();
        o.exceptions.clear();
        for (Exception e : m_order.exceptions)
            if (!e.station && e.place > int(m_out.count())) {
                e.place -= int(m_out.count());
                o.exceptions.push_back(e);
            }
        const OnRow on(m_path, row);
        Spacing& s = o.spacing;
        s.rule = kindOf(s).onRow(s.rule, m_out.value);
        if (Profile* keys = kindOf(s).keys(s.rule)) on.move(*keys);
        on.move(s.from);
        on.move(s.to);
        on.move(s.bayStations);
        const bool round = row.closed() && !s.from && !s.to;
        if (round) s.slide = on(s.slide);
        if (m_order.rows.staggered && k % 2 == 1) {
            const double half = m_out.pitch / 2;
            if (round) {
                s.slide = wrapped(row, s.slide + half);
            } else {
                s.insetStart += half;
                if (kindOf(s).keepsEnd()) s.insetEnd += half;
            }
        }
        for (Profile* p : {&o.changes.roll, &o.changes.size, &o.changes.across, &o.changes.up}) on.move(*p);
        return o;
    }

    template<class T> void append(Column<T>& to, const Column<T>& more, size_t have, size_t count) {
        if (to.same() && more.same() && !std::memcmp(&to[0], &more[0], sizeof(T))) return;
        spread(to, have);
        for (size_t i = 0; i < count; ++i) to.add(more[i]);
    }

    /// Every row along its own offset path, then the tiers above all of them.
    std::optional<Problem> ownRows() {
        const Rows& r = m_order.rows;
        if (m_order.spacing->bays == BayEdges::Run)
            return Problem{"Rows cannot keep their own pitch between another run's places, which stand in the first "
                           "row. Keep the rows abreast.",
                           "rowsKeep"};
        if (!std::holds_alternative<Plumb>(m_facing.crown) && !std::holds_alternative<Upright>(m_facing.crown))
            return Problem{"Rows keep their own pitch only beside parts that stand plumb or upright. Keep the rows "
                           "abreast, or take another crown.",
                           "rowsKeep"};
        if (kindOf(m_order.spacing).vehicles())
            return Problem{"Vehicles beside each other run on paths of their own. Let another run follow an offset of "
                           "this path, or keep the rows abreast.",
                           "rowsKeep"};
        if (auto p = tooMany(double(r.rows) * double(r.tiers), r.tiers > r.rows ? "tiers" : "rows")) return p;
        // What tiers are raised by: the paths' own frames, and half a pitch on where every other tier stands there.
        std::vector<Frame> path, half;
        Halfway between;
        const auto raise = [&](const Path& on, size_t from, size_t count, bool forward) {
            if (r.tiers == 1) return;
            path.resize(from + count);
            plain(on, std::span(m_out.stations).subspan(from, count), std::span(path).subspan(from));
            if (!r.staggered) return;
            half.resize(from + count);
            const Halfway here = halfway(from, count, on, forward);
            plain(on, here.at, std::span(half).subspan(from));
            between.at.insert(between.at.end(), here.at.begin(), here.at.end());
            for (size_t i : here.noRoom) between.noRoom.push_back(from + i);
        };
        raise(m_path, 0, m_n, true);
        m_out.ownRows = {{0, m_n, m_path.length(), nullptr}};
        for (long k = 1; k < r.rows; ++k) {
            auto row = rowPath(k);
            if (!row) return row.problem();
            const auto laid = solvePlacement(*row, orderOn(*row, k));
            if (!laid)
                return Problem{"Row " + say::count(k + 1) + ": " + Words::whole(laid.problem().text),
                               laid.problem().field};
            const size_t have = m_out.count(), n = laid->count();
            if (have + n > size_t(kMostPlaces)) return tooManyPlaces("rows");
            append(m_out.slot, laid->slot, have, n);
            append(m_out.size, laid->size, have, n);
            append(m_out.occupied, laid->occupied, have, n);
            m_out.stations.insert(m_out.stations.end(), laid->stations.begin(), laid->stations.end());
            m_out.frames.insert(m_out.frames.end(), laid->frames.begin(), laid->frames.end());
            for (size_t i : laid->out) m_out.out.push_back(have + i);
            m_out.ownRows.push_back({have, n, row->length(), std::make_shared<const Path>(*row)});
            raise(*row, have, n, k % 2 == 0);
        }
        const size_t all = m_out.count();
        if (auto p = tooMany(double(r.tiers), "tiers")) return p;
        std::erase_if(m_out.staleExceptions, [&](int k) {
            const Exception& e = m_order.exceptions[size_t(k)];
            return !e.station && e.place >= 1 && e.place <= int(all);
        });
        for (long t = 1; t < r.tiers; ++t) {
            const bool shift = r.staggered && t % 2 == 1;
            again(0, all, [&](const Frame& f, size_t i) {
                return beside(f, path[i], shift ? half[i] : path[i], 0, double(t) * r.high);
            });
            if (auto p = unaimed(m_out.count() - all, all)) return p;
            if (shift) stand(between, m_out.count() - all);
        }
        return std::nullopt;
    }

    std::optional<Problem> echoes() {
        for (const auto& [echo, key] :
             {std::pair{&m_order.echoes.one, "echoCount"}, {&m_order.echoes.two, "againCount"}}) {
            const long times = echo->times();
            if (auto p = tooMany(double(times), key)) return p;
            const size_t all = m_out.count();
            const Vec3 d = echo->along.normalized();
            for (long k = 1; k < times; ++k)
                again(0, all, [&](const Frame& f, size_t) { return echoed(f, *echo, d, double(k)); });
            if (echo->kind == EchoKind::Mirrored && echo->part > 0) {
                spread(m_out.slot, m_out.count());
                for (size_t i = all; i < m_out.count(); ++i)
                    if (m_out.slot[i] == 0) m_out.slot.at(i) = std::uint16_t(echo->part - 1);
            }
        }
        return std::nullopt;
    }
    static Frame echoed(const Frame& f, const Echo& e, const Vec3& d, double k) {
        Frame out = f;
        switch (e.kind) {
        case EchoKind::InLine: out.seat += k * e.by * d; break;
        case EchoKind::Round: {
            const Mat3 R = Eigen::AngleAxisd(std::remainder(k * e.angle, 2 * kPi), d).toRotationMatrix();
            out.seat = e.at + R * (f.seat - e.at);
            out.axes = R * f.axes;
            break;
        }
        case EchoKind::Mirrored: // nose and crown as in the mirror; the part itself is not turned inside out
            out.seat = f.seat - 2 * d * d.dot(f.seat - e.at);
            out.axes.col(0) = f.axes.col(0) - 2 * d * d.dot(f.axes.col(0));
            out.axes.col(2) = f.axes.col(2) - 2 * d * d.dot(f.axes.col(2));
            out.axes.col(1) = out.axes.col(2).cross(out.axes.col(0));
            break;
        case EchoKind::None: break;
        }
        return out;
    }

    const Path& m_path;
    const PlacementInput& m_order;
    const Facing& m_facing;
    Placement& m_out;
    size_t m_n;
};

} // namespace

std::vector<Frame> basesOf(const Path& path, const PlacementInput& order, const Facing& facing, Placement& laid) {
    return Multiply(path, order, facing, laid).bases();
}

std::optional<Problem> multiply(const Path& path, const PlacementInput& order, const Facing& facing, Placement& out) {
    return Multiply(path, order, facing, out).run();
}

} // namespace vicinal
