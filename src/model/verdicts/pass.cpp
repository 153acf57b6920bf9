// Which bodies stand where, and which are neighbours.
#include "model/verdicts/pass.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <cmath>

namespace vicinal {

BodyPtr Pass::fineOf(const BodyPtr& body) {
    if (!body || !body->solid) return body;
    const auto found = memory.fine.find(body.get());
    if (found != memory.fine.end()) return found->second.second;
    BodyPtr out = body;
    // Four times as many pieces round a circle are a sixteenth as far off.
    double within = std::max(0.002, memory.pairs.facts(body).error / 16);
    if (const auto mesh = fineMesh(*body, within); mesh != body->mesh) {
        Body copy = *body;
        copy.within = within;
        copy.mesh = mesh;
        copy.tree = std::make_shared<const LazyTree>();
        out = std::make_shared<const Body>(std::move(copy));
    }
    memory.fine.emplace(body.get(), std::pair(body, out));
    return out;
}

const Bodies& Pass::bodies(const Standing& whose) {
    const auto found = m_bodies.find(&whose);
    if (found != m_bodies.end()) return found->second;
    Bodies out;
    out.ofPlace.assign(whose.count(), -1);
    std::vector<BodyPtr> parts;
    for (const PlacedPart& p : *whose.placedParts) parts.push_back(fine ? fineOf(p.body) : p.body);
    whose.eachInstance([&](const Instance& i) {
        const BodyPtr& body = parts[i.all.slot(i.body)];
        if (!body || body->mesh->triangles.empty()) {
            out.empty = true;
            return;
        }
        const Mat4 pose = i.pose();
        PosedBody s;
        s.body = body;
        s.turn = pose.topLeftCorner<3, 3>();
        s.at = pose.topRightCorner<3, 1>();
        s.size = std::cbrt(std::abs(s.turn.determinant()));
        s.place = int(i.place);
        s.part = i.part.id;
        if (i.own) out.ofPlace[i.body] = int(out.all.size());
        out.boxes.push_back(s.box());
        out.all.push_back(std::move(s));
    });
    return m_bodies.emplace(&whose, std::move(out)).first->second;
}

bool cutsOnly(const Standing& of) {
    return std::ranges::any_of(*of.placedParts, [](const PlacedPart& p) { return p.body && p.body->cuts; });
}

double Pass::errorOf(const PosedBody& s) { return memory.pairs.facts(s.body).error * s.size; }

std::vector<std::shared_ptr<const RunResult>> standingBetween(const Evaluation& of, const RunResult& run) {
    std::vector<std::shared_ptr<const RunResult>> out;
    const auto height = [](const RunResult& r) {
        double most = 0;
        for (const Slot& s : r.placed->laid->usedSlots) most = std::max(most, s.seated.sizes().z());
        return most;
    };
    for (const auto& other : of.runs) {
        if (other.get() == &run || !other->placed || other->path != run.path || !run.path) continue;
        if ((other->item->hidden && run.between != other) || cutsOnly(*other)) continue;
        if (height(*other) * 2 >= height(run)) out.push_back(other);
    }
    return out;
}

std::vector<Neighbours> neighboursOf(Pass& pass, const RunResult& run,
                                     const std::vector<std::shared_ptr<const RunResult>>& with, bool ends) {
    std::vector<Neighbours> out;
    const Placed& all = *run.placed;
    const Bodies& own = pass.bodies(run);
    const auto bodyOf = [](const Bodies& b, size_t place) -> const PosedBody* {
        const int i = place < b.ofPlace.size() ? b.ofPlace[place] : -1;
        return i < 0 ? nullptr : &b.all[size_t(i)];
    };
    if (with.empty()) {
        for (const Gap& g : all.gaps) {
            const PosedBody *a = bodyOf(own, size_t(g.from)), *b = bodyOf(own, size_t(g.to));
            if (g.from != g.to && a && b)
                out.push_back({a, b, g.from, g.to, 0, size_t(g.from), size_t(g.to), &run, &run});
        }
    } else {
        // Of the first row only: the others stand beside the path.
        struct Standee {
            double station;
            const RunResult* run;
            size_t place;
        };
        std::vector<Standee> posts;
        const auto add = [&](const RunResult& r) {
            const Placement& l = *r.placed->laid;
            for (size_t i = 0; i < std::min(l.rowSize, l.count()); ++i)
                if (bodyOf(pass.bodies(r), i)) posts.push_back({l.stations[i], &r, i});
        };
        add(run);
        for (const auto& r : with) add(*r);
        std::stable_sort(posts.begin(), posts.end(),
                         [](const auto& x, const auto& y) { return x.station < y.station; });
        const size_t n = posts.size();
        for (size_t i = 0; i + (all.path.closed() ? 0 : 1) < n && n > 1; ++i) {
            const Standee &x = posts[i], &y = posts[(i + 1) % n];
            if (x.run != &run && y.run != &run) continue;
            const bool mine = x.run == &run;
            const RunResult& other = mine ? *y.run : *x.run;
            out.push_back({bodyOf(pass.bodies(*x.run), x.place), bodyOf(pass.bodies(*y.run), y.place),
                           int(mine ? x.place : y.place), int(mine ? y.place : x.place),
                           &other == &run ? 0 : other.item->id, x.place, y.place, x.run, y.run});
        }
        if (ends && !all.path.closed() && n > 0) {
            const Standee &first = posts.front(), &last = posts.back();
            if (first.run == &run)
                out.insert(out.begin(), {nullptr, bodyOf(own, first.place), int(first.place), -1, 0, first.place,
                                         first.place, nullptr, &run});
            if (last.run == &run)
                out.push_back(
                    {bodyOf(own, last.place), nullptr, int(last.place), -1, 0, last.place, last.place, &run, nullptr});
        }
        return out;
    }
    if (ends && !all.path.closed() && all.count() > 0) {
        const size_t n = std::min(all.laid->rowSize, all.count());
        for (size_t i = 0; i < n; ++i)
            if (const PosedBody* b = bodyOf(own, i)) {
                out.insert(out.begin(), {nullptr, b, int(i), -1, 0, i, i, nullptr, &run});
                break;
            }
        for (size_t i = n; i-- > 0;)
            if (const PosedBody* a = bodyOf(own, i)) {
                out.push_back({a, nullptr, int(i), -1, 0, i, i, &run, nullptr});
                break;
            }
    }
    return out;
}

} // namespace vicinal
