// What passes between neighbours, and what falls on what.
#include "base/say.h"
#include "clearance/falling.h"
#include "clearance/opening.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/recipes/rail_shape.h"
#include "model/verdicts/pass.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

FallingBody fallingOf(const PosedBody& s, const RunResult& run, size_t place) {
    const Placement& all = *run.placed->laid;
    return {&s, all.frames[place], all.usedSlots[all.slot[place]].seated};
}

/// The middle line of a place at height 0 over its seat point, and how thick it is across.
Vec3 footOf(const Neighbours& n, bool first, double& thickness) {
    const RunResult& run = first ? *n.fromRun : *n.toRun;
    const size_t place = first ? n.from : n.to;
    const Placement& all = *run.placed->laid;
    const Frame& f = all.frames[place];
    const Box3& box = all.usedSlots[all.slot[place]].seated;
    thickness = std::max(thickness, box.sizes().y() * all.size[place]);
    return f.seat + all.size[place] * (f.axes.col(0) * box.center().x() + f.axes.col(1) * box.center().y());
}

/// What a place's part reaches over its seat, from its foot.
void heights(const RunResult& r, size_t k, double& low, double& high) {
    const Placement& l = *r.placed->laid;
    const Box3& box = l.usedSlots[l.slot[k]].seated;
    low = std::min(0.0, box.min().z() * l.size[k]);
    high = box.max().z() * l.size[k];
}

/// The rails of a run, and of its path.
std::vector<const PosedBody*> railsBeside(Pass& pass, const RunResult& run) {
    std::vector<const PosedBody*> rails;
    for (const auto& [id, body] : pass.of.bodies) {
        const auto* rail = std::get_if<RailAlong>(&body->item->shape);
        if (!rail || body->hidden || !body->instances) continue;
        const bool mine = rail->run == run.item->id || (body->path && body->path == run.path);
        if (mine)
            for (const PosedBody& s : pass.bodies(*body).all) rails.push_back(&s);
    }
    return rails;
}

/// What is asked between two neighbours; nothing where they stand in one place, or over one another.
std::optional<OpeningOrder> orderBetween(const RunResult& run, const Neighbours& n, const Check& check,
                                         const std::vector<const PosedBody*>& rails) {
    const Path& path = run.placed->path;
    OpeningOrder o;
    o.a = n.a;
    o.b = n.b;
    const RunResult& whose = n.fromRun ? *n.fromRun : *n.toRun;
    const size_t place = n.fromRun ? n.from : n.to;
    o.footA = n.a ? footOf(n, true, o.thickness) : path.at(0).point;
    o.footB = n.b ? footOf(n, false, o.thickness) : path.at(path.length()).point;
    const Frame& f = whose.placed->laid->frames[place];
    o.up = f.axes.col(2);
    if (n.fromRun && n.toRun) {
        const Vec3 both = o.up + n.toRun->placed->laid->frames[n.to].axes.col(2);
        if (both.norm() > tolerance::alike) o.up = both.normalized();
    }
    o.limit = check.most.value_or(0);
    o.from = check.from;
    o.to = check.to;
    if (o.from == 0 && o.to == 0) {
        heights(whose, place, o.from, o.to);
        if (n.fromRun && n.toRun) {
            double low, high;
            heights(*n.toRun, n.to, low, high);
            o.from = std::min(o.from, low);
            o.to = std::min(o.to, high);
        }
    }
    const Vec3 between = o.footB - o.footA;
    if (!(between.norm() > tolerance::length) || between.cross(o.up).norm() < tolerance::rounding * between.norm())
        return std::nullopt;
    if (between.dot(between - between.dot(o.up) * o.up) <= 0) return std::nullopt;
    // Rails that are anywhere near.
    Box3 gate;
    for (const Vec3& foot : {o.footA, o.footB})
        for (const double h : {o.from, o.to}) gate.extend(Vec3(foot + h * o.up));
    const Vec3 more = Vec3::Constant(o.thickness + between.norm());
    gate = Box3(gate.min() - more, gate.max() + more);
    for (const PosedBody* s : rails)
        if (gate.intersects(s->box())) o.more.push_back(s);
    return o;
}

/// Whether two pairs lie alike, with nothing else near: they have one answer.
bool alike(const OpeningOrder& x, const OpeningOrder& y) {
    if (!x.more.empty() || !y.more.empty() || !x.a || !x.b || !y.a || !y.b) return false;
    const auto bodies = [](const PosedBody& p, const PosedBody& q, const PosedBody& r, const PosedBody& s) {
        const Mat3 one = p.turn.transpose() * q.turn, two = r.turn.transpose() * s.turn;
        return p.body == r.body && q.body == s.body && std::abs(p.size - r.size) < tolerance::fine &&
               (one - two).cwiseAbs().maxCoeff() < 1e-10 &&
               (p.turn.transpose() * (q.at - p.at) - r.turn.transpose() * (s.at - r.at)).norm() < tolerance::length;
    };
    const bool upAlike = ((x.a->turn.transpose() * x.up) - (y.a->turn.transpose() * y.up)).norm() < 1e-10;
    return bodies(*x.a, *x.b, *y.a, *y.b) && upAlike && x.from == y.from && x.to == y.to;
}

} // namespace

void measureOpenings(Pass& pass, const RunResult& run, CheckResult& out) {
    const auto with = standingBetween(pass.of, run);
    const auto all = neighboursOf(pass, run, with, true);
    if (all.empty()) {
        out.cannot = "There are no places to pass between.";
        return;
    }
    const auto rails = railsBeside(pass, run);
    std::vector<OpeningOrder> orders;
    std::vector<size_t> which;
    for (size_t i = 0; i < all.size(); ++i) {
        auto o = orderBetween(run, all[i], out.check, rails);
        if (!o) continue;
        if (!(o->to > o->from)) {
            out.cannot = "The heights to look between are the same or the wrong way round: from " +
                         Words::length(o->from) + " to " + Words::length(o->to) + ".";
            return;
        }
        orders.push_back(std::move(*o));
        which.push_back(i);
    }
    std::vector<size_t> same(orders.size()); // that one's answer
    for (size_t i = 0; i < orders.size(); ++i)
        same[i] = i > 0 && alike(orders[i], orders[same[i - 1]]) ? same[i - 1] : i;
    for (const OpeningOrder& o : orders) { // trees, and facts, are made by one thread
        for (const PosedBody* s : {o.a, o.b})
            if (s) {
                treeOf(*s->body);
                out.error = std::max(out.error, 2 * pass.errorOf(*s));
            }
        for (const PosedBody* s : o.more) treeOf(*s->body);
    }
    std::vector<Opening> found(orders.size());
    const Stop* stop = pass.job ? &pass.job->stop : nullptr;
    inParallel(
        orders.size(),
        [&](size_t i) {
            if (same[i] == i) found[i] = widestOpening(orders[i], stop);
        },
        pass.job);
    for (size_t i = 0; i < orders.size(); ++i) {
        const Neighbours& n = all[which[i]];
        CheckedPlace p;
        p.place = n.place;
        p.other = n.other;
        p.item = n.item;
        const Opening& o = found[same[i]];
        p.value = o.diameter;
        p.a = o.centre; // the ball's middle; of those that lie alike, moved along
        if (same[i] != i) {
            const PosedBody &from = *orders[same[i]].a, &to = *orders[i].a;
            p.a = to.turn * (from.turn.transpose() * (o.centre - from.at) / (from.size * from.size)) + to.at;
        }
        p.b = p.a;
        out.error = std::max(out.error, o.error);
        out.places.push_back(p);
    }
}

void measureFalling(Pass& pass, const RunResult& run, CheckResult& out) {
    const auto all = neighboursOf(pass, run, {}, false);
    if (all.empty()) {
        out.cannot = "There are fewer than two places.";
        return;
    }
    for (const Neighbours& n : all) {
        treeOf(*n.a->body);
        treeOf(*n.b->body);
        out.error = std::max(out.error, pass.errorOf(*n.a) + pass.errorOf(*n.b));
    }
    std::vector<Fall> falls(all.size());
    const Stop* stop = pass.job ? &pass.job->stop : nullptr;
    inParallel(
        all.size(),
        [&](size_t i) {
            falls[i] = fallOn(fallingOf(*all[i].a, run, all[i].from), fallingOf(*all[i].b, run, all[i].to), stop);
        },
        pass.job);
    double aside = 0;
    int at = -1;
    for (size_t i = 0; i < all.size(); ++i) {
        CheckedPlace p;
        p.place = all[i].place;
        p.other = all[i].other;
        p.value = falls[i].hits ? falls[i].share : 0;
        p.a = p.b = falls[i].at;
        if (falls[i].hits && std::abs(falls[i].aside) > std::abs(aside)) {
            aside = falls[i].aside;
            at = int(i);
        }
        out.places.push_back(p);
    }
    if (at >= 0 && std::abs(aside) > 0.5) {
        Words w = "Farthest off the middle it pushes on place " + say::count(all[size_t(at)].other + 1) + ": " +
                  Words::length(std::round(std::abs(aside) * 100) / 100) + " to its ";
        w += aside > 0 ? "left." : "right.";
        out.remarks.push_back(w);
    }
}

} // namespace vicinal
