#include "model/evaluate/bodies/rails.h"
#include "base/say.h"
#include "base/text.h"
#include "geometry/curves/edit.h"
#include "geometry/curves/offset.h"
#include "layout/facing/facing.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/rail_range.h"
#include "model/recipes/body_shape.h"
#include "parts/makers/maker.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

constexpr size_t kMostBars = 100'000;

/// One rail of the item: how far aside and how high.
struct Beside {
    double across, height;
};

class Rails : private RailRange {
public:
    using RailRange::RailRange;

    Result<BuiltBody> build(const RailFace& face) {
        std::vector<BodyPtr> bodies;
        if (auto wrong = findRange()) return *wrong;
        for (long k = 0; k < m_rail.count; ++k) {
            const double by = m_rail.apart;
            const Beside at{m_rail.across + (m_rail.way == RailsApart::Across
                                                 ? by * (double(m_rail.count - 1) / 2 - double(k))
                                                 : 0),
                            m_rail.height + (m_rail.way == RailsApart::Up ? by * double(k) : 0)};
            auto made = m_rail.style == RailStyle::Bent ? bent(at, face, int(k)) : straight(at, face, int(k));
            if (!made) return made.problem();
            if (bodies.empty()) m_out.home = made->second;
            bodies.push_back(moved(made->first, Mat3::Identity(), made->second - m_out.home));
        }
        m_out.body = together(bodies);
        return std::move(m_out);
    }

private:
    using Made = Result<std::pair<BodyPtr, Vec3>>;

    /// The line of a bent rail, and what is up along it.
    Result<Path> lineOf(const Beside& at, RailUps& ups) {
        const double L = m_path.length();
        Result<Path> sub = m_path;
        if (!m_closed) {
            const double from = std::max(0.0, m_from), to = std::min(L, m_to);
            auto stretch = stretchOf(m_path, from, to);
            if (!stretch) return Problem{stretch.problem().text, "startInset"};
            auto all = std::move(stretch).value();
            if (m_from < 0) {
                const Vec3 a = startOf(all.front()), t = m_path.at(0).tangent;
                all.insert(all.begin(), Line{a + m_from * t, a});
            }
            if (m_to > L) {
                const Vec3 b = endOf(all.back()), t = m_path.spans().back().tangent(1, false);
                all.push_back(Line{b, b + (m_to - L) * t});
            }
            sub = Path::make(all, false);
            if (!sub) return sub.problem();
        }
        if (m_rail.banked) return pointsLine(*sub, at, ups, false);
        const Vec3 up(0, 0, at.height);
        std::vector<Segment> segments;
        bool closed = m_closed;
        if (at.across == 0) {
            segments = sub->segments();
        } else if (auto screws = screwsBeside(sub->segments(), at.across)) {
            segments = std::move(*screws);
        } else {
            auto beside = offsetOf(*sub, at.across, CornerStyle::Sharp);
            if (!beside)
                return Problem{"The rail cannot run so far beside the path: " + Words::whole(beside.problem().text),
                               "across"};
            // A path that lies over itself in plan, such as a stair's, has offsets that do, too.
            if (!beside->vanished.empty() || !beside->others.empty())
                if (auto line = pointsLine(*sub, at, ups, true)) return line;
            segments = std::move(beside.value().curve.segments);
            closed = beside->curve.closed;
            if (!beside->vanished.empty())
                m_out.remarks.push_back("The path bends sharper than the rail is far from it: there the rail cuts the "
                                        "bend off.");
        }
        for (Segment& s : segments) s = moved(s, Mat3::Identity(), up);
        return Path::make(segments, closed);
    }

    /// Screw lines about upright axes, which lie over themselves in plan: beside them are screw lines again. Nothing
    /// for any other path.
    static std::optional<std::vector<Segment>> screwsBeside(std::vector<Segment> all, double across) {
        for (Segment& s : all) {
            auto* h = std::get_if<Helix>(&s);
            if (!h || h->r0 != h->r1 || std::abs(h->xAxis.cross(h->yAxis).z()) < 1 - tolerance::fine)
                return std::nullopt;
            const double inwards = h->sweep * h->xAxis.cross(h->yAxis).z() > 0 ? across : -across;
            h->r0 -= inwards;
            h->r1 = h->r0;
            if (!(h->r0 > tolerance::length)) return std::nullopt;
        }
        return all;
    }

    /// Through points beside the path, by its own crowns. `forwards`: only where none leads back along the path.
    Result<Path> pointsLine(const Path& sub, const Beside& at, RailUps& ups, bool forwards) {
        std::vector<double> stations;
        for (const Span& s : sub.spans()) {
            const long pieces = s.kind == Span::Kind::Line && !turns()
                                    ? 1
                                    : std::clamp<long>(long(s.length / std::max(1.0, sub.length() / 100)), 4, 64);
            for (long k = 0; k < pieces; ++k) stations.push_back(s.start + s.length * double(k) / double(pieces));
        }
        if (!m_closed) stations.push_back(sub.length());
        std::vector<Vec3> points;
        const auto smooth = std::make_unique<bool[]>(stations.size());
        for (size_t i = 0; i < stations.size(); ++i) {
            double s = std::max(0.0, m_from) + stations[i] - (m_from < 0 ? -m_from : 0);
            if (m_closed) s = stations[i];
            if (m_path.closed() && s > m_path.length()) s -= m_path.length();
            const Mat3 R = facingAt(s);
            double wide = 1;
            smooth[i] = true;
            for (const Corner& c : sub.corners())
                if (std::abs(c.station - stations[i]) < tolerance::length * 10) {
                    smooth[i] = false;
                    wide = 1 / std::max(0.2, std::sqrt(std::max(0.0, (1 + c.before.dot(c.after)) / 2)));
                }
            points.push_back(sub.at(stations[i]).point + at.across * wide * R.col(1) + at.height * R.col(2));
            if (m_rail.banked) ups.ups.push_back(R.col(2));
            if (forwards && i > 0 && (points[i] - points[i - 1]).dot(sub.at(stations[i - 1]).tangent) <= 0)
                return Problem{"The path bends too sharply.", "across"};
        }
        auto line =
            Path::make(throughPoints(points, std::span<const bool>(smooth.get(), points.size()), m_closed), m_closed);
        if (!line) return Problem{line.problem().text, "across"};
        if (!m_rail.banked) return line;
        const auto& spans = line->spans();
        const bool each = spans.size() + (m_closed ? 0 : 1) == points.size();
        for (size_t i = 0; i < points.size(); ++i)
            ups.stations.push_back(!each              ? line->closest(points[i])
                                   : i < spans.size() ? spans[i].start
                                                      : line->length());
        if (m_closed) {
            ups.stations.push_back(line->length());
            ups.ups.push_back(ups.ups.front());
        }
        return line;
    }
    bool turns() const { return m_run && !m_run->item->changes.roll.empty(); }

    Made bent(const Beside& at, const RailFace& face, int rail) {
        RailUps ups;
        const auto line = lineOf(at, ups);
        if (!line) return line.problem();
        auto made = bentRail(*line, ups, face, m_rail.ends);
        if (!made) return made.problem();
        listBent(*line, ups, face, *made, rail);
        return std::pair{made->body, made->home};
    }

    /// Its bars: one, or one from corner to corner.
    void listBent(const Path& line, const RailUps& ups, const RailFace& face, const BentRail& made, int rail) {
        std::vector<double> cuts;
        const bool round = line.closed();
        for (const Corner& c : line.corners()) cuts.push_back(c.station);
        if (!round || cuts.empty()) {
            cuts.insert(cuts.begin(), 0);
            cuts.push_back(line.length());
        } else {
            cuts.push_back(cuts.front() + line.length());
        }
        const double more = made.length - line.length();
        const auto returned = [&](RailEnd e) { return !round && e == RailEnd::Returned; };
        const double each = more / std::max(1, int(returned(m_rail.ends.start)) + int(returned(m_rail.ends.end)));
        for (size_t i = 0; i + 1 < cuts.size() && m_out.bars.size() < kMostBars; ++i) {
            RailBar bar;
            bar.rail = rail;
            bar.piece = i;
            bar.length = cuts[i + 1] - cuts[i];
            bar.longest = bar.length;
            for (const Span& s : line.spans())
                bar.bent = bar.bent || (s.kind != Span::Kind::Line && s.start < cuts[i + 1] - tolerance::length &&
                                        s.start + s.length > cuts[i] + tolerance::length);
            if (i == 0 && returned(m_rail.ends.start)) bar.length += each, bar.longest += each, bar.bent = true;
            if (i + 2 == cuts.size() && returned(m_rail.ends.end))
                bar.length += each, bar.longest += each, bar.bent = true;
            for (const Corner& c : line.corners()) {
                for (const bool end : {false, true}) {
                    const double here = cuts[end ? i + 1 : i], off = std::abs(c.station - here);
                    if (std::min(off, std::abs(off - line.length())) > tolerance::length * 10) continue;
                    const Vec3 along = end ? c.before : c.after, up = ups.at(c.station, along), left = up.cross(along);
                    const Vec3 n = (c.before + c.after).normalized() * (end ? 1 : -1);
                    const double away = n.dot(along);
                    const Vec2 lean(-n.dot(left) / away, -n.dot(up) / away);
                    bar.longest += reachOf(face.hull, end ? lean : Vec2(-lean));
                    // As the cut of a straight piece: farther out on the right, and lower down.
                    (end ? bar.endPlan : bar.startPlan) = std::atan(n.dot(left) / std::abs(away));
                    (end ? bar.endSlope : bar.startSlope) = std::atan(n.dot(up) / std::abs(away));
                }
            }
            m_out.bars.push_back(bar);
        }
    }
    /// The nodes of straight pieces beside the seat points of the places, and the ups there.
    std::optional<Problem> nodesBeside(const Beside& at, bool round, std::vector<Vec3>& points,
                                       std::vector<Vec3>& ups) {
        std::vector<Vec3> seats;
        for (size_t i : m_nodes) {
            seats.push_back(m_places->frame(i).seat);
            ups.push_back(facingAt(m_places->stations()[i]).col(2));
        }
        const size_t n = seats.size();
        for (size_t i = 0; i < n; ++i) {
            std::vector<Vec3> lefts;
            const auto side = [&](size_t a, size_t b) {
                const Vec3 left = ups[i].cross(seats[b] - seats[a]);
                if (left.norm() > tolerance::length) lefts.push_back(left.normalized());
            };
            if (i > 0 || round) side((i + n - 1) % n, i);
            if (i + 1 < n || round) side(i, (i + 1) % n);
            Vec3 aside = Vec3::Zero();
            if (at.across != 0 && lefts.size() == 2) {
                const double both = 1 + lefts[0].dot(lefts[1]);
                if (both < 0.05)
                    return Problem{
                        "The run turns back at place " + say::count(m_nodes[i] + 1) +
                            ": a rail cannot run beside it there. Run it on the path, or between other places.",
                        "across"};
                aside = (lefts[0] + lefts[1]) / both;
            } else if (lefts.size() == 1) {
                aside = lefts[0];
            }
            points.push_back(seats[i] + at.across * aside + at.height * ups[i]);
        }
        return std::nullopt;
    }
    /// Set in at both ends, or returned there.
    std::optional<Problem> setEnds(std::vector<Vec3>& points, std::vector<Vec3>& ups) const {
        const auto returned = [&](RailEnd e) { return e == RailEnd::Returned; };
        const size_t n = points.size();
        if (m_rail.reach == RailReach::Whole) {
            const auto inset = [&](Vec3& end, const Vec3& next, double by,
                                   const char* field) -> std::optional<Problem> {
                const Vec3 d = next - end;
                if (by >= d.norm() - tolerance::length)
                    return Problem{"The end piece is " + say::mm(d.norm()) + " long. Set the rail in by less.", field};
                if (by != 0) end += by * d.normalized();
                return std::nullopt;
            };
            if (auto p = inset(points.front(), points[1], m_rail.startInset, "startInset")) return *p;
            if (auto p = inset(points.back(), points[n - 2], m_rail.endInset, "endInset")) return *p;
        }
        if (returned(m_rail.ends.start) || returned(m_rail.ends.end)) {
            if (!(m_rail.ends.leg >= 1e-3 && inReach(m_rail.ends.leg)))
                return Problem{"The return is " + say::mm(m_rail.ends.leg) + " long; use 0.001 mm or more.",
                               "returnLeg"};
            if (returned(m_rail.ends.end)) addReturn(points, ups, false);
            if (returned(m_rail.ends.start)) addReturn(points, ups, true);
        }
        return std::nullopt;
    }
    /// What the pieces are, for the cut list.
    void listBars(const std::vector<RailPiece>& pieces, int rail) {
        double twist = 0;
        for (size_t i = 0; i < pieces.size(); ++i) {
            const RailPiece& p = pieces[i];
            twist = std::max(twist, std::abs(p.twist));
            m_out.bars.push_back(
                {rail, i, p.length, p.longest, p.start.plan, p.start.slope, p.end.plan, p.end.slope, p.twist, false});
        }
        if (twist > 0.1 * kDegree && m_rail.joint == RailJoint::Mitred && m_rail.section.form != RailForm::Round)
            m_out.remarks.push_back("Where the rail bends in plan and slope at once the edges of two pieces miss each "
                                    "other: their sections are turned by up to " +
                                    say::value(text::fixed(twist / kDegree, 1)) + " degrees.");
    }
    Made straight(const Beside& at, const RailFace& face, int rail) {
        if (!m_run) return Problem{"Straight pieces run between the places of a run. Choose one, or bend it.", "run"};
        if (m_nodes.size() < 2)
            return Problem{Words("Straight pieces need two places of the run to run between; there ") +
                               std::string(m_nodes.size() == 1 ? "is one." : "are none."),
                           m_rail.reach == RailReach::Places     ? "firstPlace"
                           : m_rail.reach == RailReach::Stations ? "from"
                                                                 : "run"};
        const bool round = m_places->laid->closed && m_closed && m_nodes.size() > 2;
        std::vector<Vec3> ups, points;
        if (auto p = nodesBeside(at, round, points, ups)) return *p;
        if (!round)
            if (auto p = setEnds(points, ups)) return *p;
        RailOrder order{m_rail.joint, m_rail.gap, m_rail.overlap, round};
        const auto pieces = straightRails(points, ups, face.hull, order);
        if (!pieces) {
            Problem p = pieces.problem();
            if (p.field == "places" || p.field == "ups") p.field = "run";
            return p;
        }
        if (m_out.bars.size() + pieces->size() > kMostBars)
            return Problem{"That makes more than " + say::count(kMostBars) + " bars. Use fewer rails.", "count"};
        listBars(*pieces, rail);
        const Vec3 home = points.front();
        std::vector<BodyPtr> all{piecesBody(*pieces, face, home)};
        const auto cap = [&](const RailPiece& p, const RailCut& cut, bool start) -> std::optional<Problem> {
            const double thick = m_rail.ends.cap;
            if (!(thick >= 1e-3 && thick <= 1e6))
                return Problem{"The cap is " + say::mm(thick) + " thick; use 0.001 mm or more.", "cap"};
            RailFace full = face;
            full.mesh = face.full;
            full.rings.resize(1);
            all.push_back(piecesBody({capOf(p, cut, start, thick)}, full, home));
            return std::nullopt;
        };
        if (!round && m_rail.ends.start == RailEnd::Capped)
            if (auto wrong = cap(pieces->front(), pieces->front().start, true)) return *wrong;
        if (!round && m_rail.ends.end == RailEnd::Capped)
            if (auto wrong = cap(pieces->back(), pieces->back().end, false)) return *wrong;
        return std::pair{together(all), home};
    }

    /// One more place beyond an end.
    void addReturn(std::vector<Vec3>& points, std::vector<Vec3>& ups, bool atStart) const {
        const size_t n = points.size();
        const Vec3 along = (atStart ? Vec3(points[1] - points[0]) : Vec3(points[n - 1] - points[n - 2])).normalized();
        Vec3 up = atStart ? ups.front() : ups.back();
        up = (up - along * along.dot(up)).normalized();
        const Vec3 left = up.cross(along);
        const RailReturn to = m_rail.ends.to;
        const Vec3 d = to == RailReturn::Down   ? Vec3(-up)
                       : to == RailReturn::Up   ? up
                       : to == RailReturn::Left ? left
                                                : Vec3(-left);
        // The section keeps its way round the bend.
        const Vec3 out = atStart ? Vec3(-along) : along;
        Vec3 turned = to == RailReturn::Down ? out : up;
        if (to == RailReturn::Up) turned = -out;
        const Vec3 end = (atStart ? points.front() : points.back()) + m_rail.ends.leg * d;
        points.insert(atStart ? points.begin() : points.end(), end);
        ups.insert(atStart ? ups.begin() : ups.end(), turned);
    }

    BuiltBody m_out;
};

} // namespace

Result<BuiltBody> buildRail(const RailAlong& rail, const BodyResult& of) {
    if (rail.run != 0 && !of.run) return Problem{"The run that the rail is of was deleted. Choose another one.", "run"};
    if (!of.path || !of.path->path)
        return Problem{"Choose the run that the rail is of, or the path that it follows.", rail.run ? "run" : "path"};
    if (of.run && !of.run->placed) return Problem{"The run has no places yet.", "run"};
    if (!inReach(rail.height)) return Problem{"The height is not a number, or too large.", "height"};
    if (!inReach(rail.across)) return Problem{"How far aside is not a number, or too large.", "across"};
    if (rail.count < 1 || rail.count > 100) return Problem{"Use 1 to 100 rails.", "count"};
    if (rail.count > 1 && !(rail.apart >= 1e-3 && inReach(rail.apart)))
        return Problem{"The rails are " + say::mm(rail.apart) + " apart; use more than 0.", "apart"};
    std::optional<Ring> own;
    if (rail.section.form == RailForm::Outline && of.outline && of.outline->path) {
        auto flat = flatRing(*of.outline->path);
        if (!flat) return Problem{flat.problem().text, "outline"};
        own = std::move(flat.value().ring);
    }
    const auto face = railFace(rail.section, own ? &*own : nullptr);
    if (!face) return face.problem();
    return Rails(rail, of).build(*face);
}

} // namespace vicinal
