#include "model/evaluate/motion/moving.h"
#include "base/numeric/solve.h"
#include "layout/along/bound_exceptions.h"
#include "layout/placement_input.h"
#include "layout/spacing/rule_kind.h"
#include "layout/stages.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/motion/timetable.h"
#include "model/evaluate/run_order.h"
#include "model/recipes/recipe.h"
#include <algorithm>
#include <cassert>
#include <cmath>

namespace vicinal {

namespace {

/// The rule with what is coupled together, its first place `first` mm from the start of what can be used.
Spacing togetherFrom(const RunResult& run, double first) {
    Spacing out = run.item->spacing;
    out.rule = kindOf(out).moving(out.rule, long(run.placed->laid->rowSize));
    out.insetStart = first;
    out.insetEnd = 0; // links and vehicles take up another length of the path elsewhere
    return out;
}

/// How far links or vehicles can go until the foremost one stands at the path's end: what is left in front of them is
/// about the step that is needed. `about`: as much as is left now.
double farthest(const RunResult& run, double first, double about) {
    const Path& path = *run.path->path;
    const PlacementInput order = orderOf(run);
    const Lineup lineup = lineupOf(path, order);
    const auto left = [&](double way) -> std::optional<double> {
        const auto solved = solveSpacing(path, togetherFrom(run, first + way), lineup);
        return solved ? std::optional(solved->leftOver) : std::nullopt;
    };
    double good = 0, step = about;
    for (int i = 0; i < 60 && step > 1e-7; ++i) {
        if (const auto rest = left(good + step)) {
            good += step;
            step = *rest;
        } else {
            step /= 2;
        }
    }
    // Round a bend on the way they may reach farther than before and behind it: as far as the first such spot.
    // Each look lays the whole chain: long ones, whose ends even out, are looked at less often.
    const int looks = int(std::clamp(20'000 / std::max<size_t>(1, run.placed->laid->rowSize), size_t(2), size_t(48)));
    for (int k = 1; k < looks; ++k) {
        const double near = good * (k - 1) / looks, far = good * k / looks;
        if (left(far)) continue;
        return halved(near, far, 40, [&](double way) { return bool(left(way)); }).first;
    }
    return good;
}

/// A rule that is made of places on the path - a list, keys, bays, steps by gap or straight across - would come out
/// otherwise further on, with another count even: its places move as one, as far from each other as they stand.
bool movesAsOne(const Spacing& s) { return s.bays != BayEdges::None || kindOf(s).movesAsOne(s); }

bool ownPitch(const RunItem& r) { return r.rows.rows > 1 && r.rows.keep == RowsKeep::Pitch; }

/// Rows with a pitch of their own are laid anew along their own paths: that is the same again, further on, only where
/// pitches are lengths of path and nothing is left over.
bool rowsMove(const RunItem& r, bool closed) {
    const Spacing& s = r.spacing;
    return !ownPitch(r) || (kindOf(s).rowsMove(closed) && s.bays == BayEdges::None &&
                            s.measure == Measure::CentreToCentre && s.along == Along::Path);
}

/// Those of the first row, rising.
std::vector<double> stationsOf(const RunResult& run) {
    const Placement& laid = *run.placed->laid;
    std::vector<double> out(laid.stations.begin(), laid.stations.begin() + long(std::min(laid.rowSize, laid.count())));
    for (size_t i = 1; i < out.size(); ++i)
        while (out[i] < out[i - 1]) out[i] += run.path->path->length();
    return out;
}

/// What is left over of an open path, and how much of that lies ahead of the run.
double spareOf(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    return kindOf(s).leftOver(s.rule) ? run.placed->laid->leftOver : 0;
}
double spareAhead(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    const LeftOver at = kindOf(s).leftOver(s.rule).value_or(LeftOver::AtEnd);
    if (at == LeftOver::AtStart) return 0;
    return spareOf(run) * (at == LeftOver::Both ? 0.5 : 1);
}

/// The last station of an open path from which parts on two points still reach their second one.
double lastFor(const RunResult& run) {
    const Path& path = *run.path->path;
    if (!std::holds_alternative<BetweenPins>(run.item->facing.nose)) return path.length();
    const Placement& laid = *run.placed->laid;
    double apart = 0, size = 0; // each may come to where sizes are largest
    for (const Key& k : run.item->changes.size.keys) size = std::max(size, k.value);
    for (size_t i = 0; i < laid.rowSize; ++i) size = std::max(size, laid.size[i]);
    for (size_t k = 0; k < std::min(run.placed->parts.size(), laid.usedSlots.size()); ++k) // asked in every frame
        if (const PlacedPart& part = run.placed->parts[k]; part.body)
            if (const auto pins = pinsOf(*part.body, part.seat))
                apart = std::max(apart, size * ((*pins)[1] - (*pins)[0]).norm());
    const Vec3 end = path.at(path.length()).point;
    const auto reaches = [&](double back) { return (path.at(path.length() - back).point - end).norm() >= apart; };
    double far = apart; // a chord is no longer than its arc
    while (far < path.length() && !reaches(far)) far += apart / 64;
    if (far >= path.length()) return path.length();
    const double near = std::max(0.0, far - apart / 64);
    return path.length() - halved(near, far, 60, [&](double back) { return !reaches(back); }).second;
}

} // namespace

WayRange wayRange(const RunResult& run) {
    assert(run.placed && run.path && run.path->path);
    const Spacing& s = run.item->spacing;
    const Path& path = *run.path->path;
    if (path.closed() && !s.from && !s.to) return {0, 0, path.length()};
    if (movesAsOne(s)) { // up to the ends of path or stretch
        const auto at = stationsOf(run);
        const double L = path.length(), from = s.from.value_or(0), to = s.to.value_or(L);
        double first = at.front(), last = at.back(), end = to;
        if (path.closed() && end <= from) end += L;
        if (path.closed() && first < from - tolerance::length) first += L, last += L;
        if (!path.closed()) end = std::min(end, lastFor(run));
        return {from - first, std::max(0.0, end - last), 0};
    }
    // Open: as far as the insets and what is left over allow.
    const double ahead = spareAhead(run);
    WayRange out{-(s.insetStart + spareOf(run) - ahead), s.insetEnd + ahead, 0};
    if (s.bays == BayEdges::None && kindOf(s).linked()) {
        double far = run.farthest->load();
        if (std::isnan(far)) run.farthest->store(far = farthest(run, -out.back, out.forward));
        out.forward = far;
    } else if (s.bays == BayEdges::None && !path.closed()) {
        out.forward = std::clamp(lastFor(run) - stationsOf(run).back(), 0.0, out.forward);
    }
    return out;
}

double speedOf(const RunResult& run) {
    const Motion& m = run.item->motion;
    if (!m.moves || !run.placed) return 0;
    return m.by == MotionBy::Speed ? m.speed : m.places * run.placed->laid->pitch;
}

namespace {

Timetable timetableOf(const RunResult& run, const WayRange& r) {
    const Path& path = *run.path->path;
    const double first = run.placed->stations().front(), L = path.length();
    const bool round = path.closed();
    const auto stationOf = [=](double way) {
        const double s = first + way;
        return round ? std::fmod(std::fmod(s, L) + L, L) : s;
    };
    const bool laps = r.lap > 0;
    return {run.item->motion, speedOf(run), laps ? 0 : r.back, laps ? r.lap : r.forward, L, round, stationOf};
}

/// The same as of a steady run, with times for lengths: what a pass takes for the room, how far in it a time is for the
/// way.
double wayByTimetable(const RunResult& run, const WayRange& r, double time) {
    const Timetable table = timetableOf(run, r);
    const double whole = table.whole(), start = table.timeAt(0), sense = speedOf(run) < 0 ? -1 : 1;
    const MotionWay kind = run.item->motion.way;
    if (!(whole > 0) || !std::isfinite(whole)) return 0;
    if (r.lap > 0) {
        double t = start + sense * time;
        if (kind == MotionWay::Once) t = std::clamp(t, start - whole, start + whole);
        if (kind == MotionWay::ToAndFro) t = start + sense * std::abs(std::remainder(time, 2 * whole));
        const double laps = std::floor(t / whole);
        return laps * r.lap + table.wayAt(t - laps * whole);
    }
    double t = start + sense * time;
    if (kind == MotionWay::Once) return table.wayAt(std::clamp(t, 0.0, whole));
    const double again = kind == MotionWay::Round ? whole : 2 * whole;
    t = std::fmod(t, again);
    if (t < 0) t += again;
    return table.wayAt(t <= whole ? t : 2 * whole - t);
}

} // namespace

double wayAt(const RunResult& run, double time) {
    const double v = speedOf(run);
    if (!(std::abs(v) > 0) || !std::isfinite(v) || !std::isfinite(time)) return 0;
    const WayRange r = wayRange(run);
    if (!steady(run.item->motion) && (r.lap > 0 || r.forward - r.back > tolerance::length))
        return wayByTimetable(run, r, time);
    const double way = v * time;
    const MotionWay kind = run.item->motion.way;
    if (r.lap > 0) {
        if (kind == MotionWay::Once) return std::clamp(way, -r.lap, r.lap);
        if (kind == MotionWay::Round) return way;
        const double lap = std::abs(std::remainder(way, 2 * r.lap)); // there and back
        return v < 0 ? -lap : lap;
    }
    const double room = r.forward - r.back;
    if (!(room > tolerance::length)) return 0;
    switch (kind) {
    case MotionWay::Once: return std::clamp(way, r.back, r.forward);
    case MotionWay::Round: { // from its start again
        double x = std::fmod(way - r.back, room);
        if (x < 0) x += room;
        return r.back + x;
    }
    case MotionWay::ToAndFro: break;
    }
    // A triangle between both ends that passes 0 at time 0 on its way forwards.
    double x = std::fmod(way - r.back, 2 * room);
    if (x < 0) x += 2 * room;
    return r.back + (x <= room ? x : 2 * room - x);
}

std::optional<double> timeOf(const RunResult& run, double way) {
    const double v = speedOf(run);
    if (!run.placed || run.problem || !(std::abs(v) > 0) || !std::isfinite(v)) return std::nullopt;
    const WayRange r = wayRange(run);
    if (r.lap > 0) {
        way = std::fmod(std::fmod(way, r.lap) + r.lap, r.lap);
        if (v < 0 && way > 0) way -= r.lap;
    } else if (way < r.back - tolerance::length || way > r.forward + tolerance::length) {
        return std::nullopt;
    }
    if (steady(run.item->motion)) {
        if (way * v >= 0) return way / v;
        // Behind where it begins: round by the other end, or back again.
        const double room = r.forward - r.back, there = v > 0 ? r.forward : -r.back;
        if (run.item->motion.way == MotionWay::Once) return std::nullopt;
        return (run.item->motion.way == MotionWay::Round ? room - std::abs(way) : 2 * there + std::abs(way)) /
               std::abs(v);
    }
    const Timetable table = timetableOf(run, r);
    const double whole = table.whole(), start = table.timeAt(0), sense = v < 0 ? -1 : 1;
    if (r.lap > 0) {
        const double lap = way < 0 ? -1 : 0;
        return sense * (lap * whole + table.timeAt(way - lap * r.lap) - start);
    }
    const double on = sense * (table.timeAt(way) - start);
    if (on >= 0) return on;
    if (run.item->motion.way == MotionWay::Once) return std::nullopt;
    return run.item->motion.way == MotionWay::Round ? on + whole : 2 * (v > 0 ? whole - start : start) - on;
}

double onceAlong(const RunResult& run) {
    const double v = std::abs(speedOf(run));
    if (!run.placed || run.problem || !(v > 0) || !std::isfinite(v)) return 0;
    const WayRange r = wayRange(run);
    const double way = r.lap > 0 ? r.lap : r.forward - r.back;
    const double once = steady(run.item->motion) || !(way > tolerance::length) ? way / v : timetableOf(run, r).whole();
    return once * (run.item->motion.way == MotionWay::ToAndFro ? 2 : 1);
}

namespace {

/// The spacing slid along: on a closed path by its slide, else within the room there is. What was left over at the
/// start or at both ends becomes part of the insets, so that the chain or the steps keep their count.
Spacing slidBy(const RunResult& run, double way) {
    const Spacing& s = run.item->spacing;
    Spacing out = s;
    const WayRange r = wayRange(run);
    // The same count all the way: round wheels a chain, too, is a hair longer in one phase than in another.
    if (!ownPitch(*run.item)) out.rule = kindOf(s).moving(s.rule, long(run.placed->laid->rowSize));
    if (movesAsOne(s)) {
        Listed list;
        list.at.clear();
        const auto at = stationsOf(run);
        const double start = r.lap > 0 ? 0 : std::clamp(way, r.back, r.forward) - r.back;
        for (const double v : at) list.at.push_back(start + (v - at.front()));
        out.rule = list;
        out.bays = BayEdges::None;
        out.bayRules.clear();
        out.measure = Measure::CentreToCentre;
        out.along = Along::Path;
        out.insetStart = out.insetEnd = 0;
        if (r.lap > 0) {
            out.slide = std::fmod(at.front() + way, r.lap);
            if (out.slide < 0) out.slide += r.lap;
        }
        return out;
    }
    if (r.lap > 0) {
        out.slide = std::fmod(s.slide + way, r.lap);
        if (out.slide < 0) out.slide += r.lap;
        return out;
    }
    way = std::clamp(way, r.back, r.forward);
    const double first = -r.back + way;
    if (kindOf(s).linked()) return togetherFrom(run, first);
    out.insetStart = first;
    out.insetEnd = std::max(0.0, s.insetEnd - way);
    return out;
}

} // namespace

Result<std::shared_ptr<const RunResult>> movedRun(const RunResult& run, double way) {
    assert(run.placed && !run.problem);
    auto out = std::make_shared<RunResult>(run);
    PlacementInput order = orderOf(run);
    if (!rowsMove(*run.item, run.path->path->closed()))
        return Problem{"Rows that keep a pitch of their own do not move with this rule: each would come out otherwise "
                       "further on. Keep them abreast, or let the run stand still.",
                       "moves"};
    if (movesAsOne(run.item->spacing)) {
        if (anyRule(run.item->spacing, &RuleKind::linked))
            return Problem{"Links in bays do not move: each bay ends where it does. Use no bays, or let the run stand "
                           "still.",
                           "moves"};
        // Each place takes its part along.
        const Placement& laid = *run.placed->laid;
        order.pattern = {};
        order.pattern.order.clear();
        for (size_t i = 0; i < std::min(laid.rowSize, laid.count()); ++i) order.pattern.order.push_back(laid.slot[i]);
        order.special = {};
    }
    // What is bound to a station goes on with the place that stood there.
    const Placement& still = *run.placed->laid;
    const RowStations row{std::span(still.stations).first(still.rowSize), still.pitch, run.path->path->length(),
                          still.closed};
    if (std::any_of(order.exceptions.begin(), order.exceptions.end(), [](const Exception& e) { return e.station; })) {
        std::vector<std::pair<size_t, const Exception*>> counted; // the place that spacing has counted with, if it did
        (void)lineupOf(*run.path->path, order, counted);
        std::vector<std::optional<size_t>> places;
        for (const Exception& e : order.exceptions) {
            const auto own =
                std::find_if(counted.begin(), counted.end(), [&](const auto& c) { return c.second == &e; });
            places.push_back(own != counted.end() ? std::optional(own->first) : placeOf(e, row));
        }
        for (size_t k = 0; k < places.size(); ++k)
            if (order.exceptions[k].station && places[k]) {
                order.exceptions[k].place = int(*places[k]) + 1;
                order.exceptions[k].station.reset();
            }
    }
    order.spacing = slidBy(run, way);
    auto laid = solvePlacement(*run.path->path, order);
    if (!laid) return laid.problem();
    // Of staggered rows the same ones have no room as at the start, in echoes, too: ends were kept clear of them there.
    const auto times = [](const Echo& e) {
        if (e.kind == EchoKind::None) return 1L;
        return e.kind == EchoKind::Mirrored ? 2L : std::max(1L, e.count);
    };
    const auto echoes = size_t(times(run.item->echoes.one) * times(run.item->echoes.two));
    for (const size_t i : run.placed->laid->noRoom) {
        Placement& moved = laid.value();
        if (std::find(moved.noRoom.begin(), moved.noRoom.end(), i) != moved.noRoom.end()) continue;
        moved.noRoom.push_back(i);
        for (size_t k = i; k < moved.count(); k += moved.count() / echoes) moved.out.push_back(k);
    }
    auto placed = std::make_shared<Placed>(*run.placed);
    static_cast<Places&>(*placed) =
        placesOf(std::make_shared<const Placement>(std::move(laid).value()), run.item->leftOut, *run.path->path);
    out->stand(placed);
    if (run.path->loop) {
        out->seats = seatsOn(run.path->recipe(), *run.path->loop, *run.path->path, *placed->laid);
        const auto& shape = std::get<ShapeRecipe>(run.path->recipe());
        const auto& loop = std::get<WheelShape>(shape.shape);
        const auto circles = circlesOf(loop);
        for (WheelSeat& s : out->seats) {
            const auto was = std::find_if(run.seats.begin(), run.seats.end(),
                                          [&](const WheelSeat& w) { return w.wheel == s.wheel; });
            if (was == run.seats.end() || !(circles[s.wheel].radius > 0)) continue;
            const double sense = circles[s.wheel].inside ? 1 : -1;
            if (const long teeth = loop.wheels[s.wheel].teeth; teeth > 0) {
                // A tooth a link; the same gaps, the nearest way round.
                const double tooth = 2 * kPi / double(teeth);
                const double turned = was->phase + sense * way / run.placed->laid->pitch * tooth;
                s.phase = turned + std::remainder(s.phase - turned, tooth);
            } else {
                s.phase = was->phase + sense * way / circles[s.wheel].radius;
            }
        }
    }
    return std::shared_ptr<const RunResult>(out);
}

std::vector<SweepStep> sweep(const RunResult& run, long steps, double way, Job* job) {
    assert(run.placed && !run.problem && steps >= 2);
    if (way == 0) way = run.placed->laid->pitch;
    std::vector<SweepStep> out;
    for (long k = 0; k < steps; ++k) {
        if (job && stopped(&job->stop)) break;
        SweepStep s;
        s.way = way * double(k) / double(steps - 1);
        const auto moved = movedRun(run, s.way);
        if (moved) {
            const Placement& laid = *(*moved)->placed->laid;
            s.closing = laid.closing;
            for (double t : laid.joints) s.turn = std::max(s.turn, t);
            for (double t : laid.swings) s.swing = std::max(s.swing, t);
        } else {
            s.problem = moved.problem();
        }
        out.push_back(std::move(s));
        if (job) job->progress = double(k + 1) / double(steps);
    }
    return out;
}

bool anythingMoves(const Evaluation& e) {
    return std::any_of(e.runs.begin(), e.runs.end(),
                       [](const auto& r) { return r->placed && !r->problem && speedOf(*r) != 0; });
}

std::shared_ptr<const Evaluation> atTime(const std::shared_ptr<const Evaluation>& now, double time,
                                         std::vector<Problem>* problems) {
    if (time == 0 || !anythingMoves(*now)) return now;
    auto out = std::make_shared<Evaluation>();
    out->paths = now->paths;
    out->parts = now->parts;
    out->heaps = now->heaps;
    for (const auto& run : now->runs) {
        out->runs.push_back(run);
        if (!run->placed || run->problem || speedOf(*run) == 0) continue;
        auto moved = movedRun(*run, wayAt(*run, time));
        if (moved)
            out->runs.back() = std::move(moved).value();
        else if (problems)
            problems->push_back(handedOn(run->item->name, moved.problem(), moved.problem().field.c_str()));
    }
    return out;
}

} // namespace vicinal
