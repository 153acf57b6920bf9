#include "told.h"
#include "layout/vehicles/envelope.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include "model/evaluate/motion/moving.h"
#include "model/evaluate/weights.h"
#include "model/verdicts/checked.h"
#include "model/words/sentence.h"
#include "parts/cuts/webs.h"
#include "parts/rails/pieces.h"
#include <cctype>
#include <cmath>

namespace vicinal::test {

namespace {

void tell(Digest& d, const std::optional<Problem>& p) {
    if (p) d.say(p->text + "|" + p->field);
}
void tell(Digest& d, const std::vector<Words>& all) {
    for (const Words& w : all) d.say(w.in(1, "mm")), d.say(w.in(25.4, "in"));
}
void tell(Digest& d, const Mesh& m) {
    d.add(double(m.points.size())), d.add(double(m.triangles.size())), d.add(m.box.min()), d.add(m.box.max());
    d.add(std::cbrt(volumeOf(m))), d.add(std::sqrt(areaOf(m)));
    d.addAnyhow(m.points);
}
void tell(Digest& d, const Instances& all) {
    for (size_t i = 0; i < all.bodies(); ++i) {
        d.add(all.frame(i).seat), d.add(all.frame(i).axes), d.add(double(all.leftOut(i)));
        d.add(Vec3(all.pose(i).topRightCorner<3, 1>())), d.add(double(all.slot(i))), d.add(all.size(i));
    }
}
void tell(Digest& d, const Placed& p) {
    d.add(p.path.length()), d.add(double(p.path.closed()));
    d.add(p.stations());
    tell(d, static_cast<const Instances&>(p));
    for (size_t i = 0; i < p.count(); ++i) d.add(p.occupied(i).ahead), d.add(p.occupied(i).behind);
    for (const Gap& g : p.gaps)
        for (double v : {double(g.from), double(g.to), g.start, g.end}) d.add(v);
    const Placement& l = *p.laid;
    for (double v :
         {double(p.present), l.pitch, l.leftOver, l.value, l.play, l.closing.value_or(-1), double(l.rowSize)})
        d.add(v);
    for (int v : p.staleLeftOut) d.add(double(v));
    for (int v : l.staleExceptions) d.add(double(v));
    for (size_t v : l.out) d.add(double(v));
    for (size_t v : l.noRoom) d.add(double(v));
    d.add(l.joints), d.add(l.swings);
    for (const Bay& b : l.bays) {
        for (double v :
             {b.start, b.end, double(b.first), double(b.count), b.faceStart, b.faceEnd, b.pitch, b.value, b.leftOver})
            d.add(v);
        tell(d, b.problem);
    }
    if (l.uneven) d.add(l.uneven->least), d.add(l.uneven->most);
    for (const auto& row : l.ownRows) d.add(double(row.first)), d.add(double(row.count)), d.add(row.length);
}
void tell(Digest& d, const std::vector<RailBar>& bars) {
    for (const RailBar& b : bars)
        for (double v : {double(b.rail), double(b.piece), b.length, b.longest, b.startPlan, b.startSlope, b.endPlan,
                         b.endSlope, b.twist, double(b.bent)})
            d.add(v);
    for (const BarKind& k : kindsOf(bars)) d.add(double(k.which.size())), d.add(k.bar.length);
}

void verdictOf(Digest& d, const Standing& s) {
    tell(d, s.problem);
    tell(d, s.remarks);
    d.say(s.verdict.text.in(1, "mm")), d.say(s.verdict.text.in(25.4, "in"));
    d.add(double(s.verdict.mark)), d.add(double(s.verdict.place)), d.add(double(s.verdict.byBoxes));
}
void partsOf(Digest& d, const Standing& s) {
    for (const PlacedPart& p : *s.placedParts) {
        d.say(p.name);
        if (const auto kg = massEach(s, p))
            d.add(*kg);
        else
            d.say(kg.problem().text);
    }
}
/// Where it stands, of what follows no path; as numbers of a run that has none.
void tellLoose(Digest& d, const Standing& s) {
    d.say(s.name), d.add(double(s.colour)), d.add(double(s.hidden));
    if (!s.instances) return;
    const size_t n = s.count();
    d.add(1), d.add(0), d.add(std::vector<double>(n, 0.0));
    tell(d, *s.instances);
    for (size_t i = 0; i < 2 * n; ++i) d.add(0);
    for (double v : {double(s.present()), 0.0, 0.0, 0.0, 0.0, -1.0, double(n)}) d.add(v);
    d.add(std::vector<double>()), d.add(std::vector<double>());
    partsOf(d, s);
}

} // namespace

void tell(Digest& d, const HeapResult& h) {
    verdictOf(d, h);
    tell(d, std::vector<RailBar>());
    tellLoose(d, h);
}

void tell(Digest& d, const RunResult& r) {
    verdictOf(d, r);
    for (const WheelSeat& s : r.seats)
        for (double v : {double(s.wheel), s.wrap, double(s.engaged), s.phase, s.error}) d.add(v);
    tell(d, std::vector<RailBar>());
    if (r.sweeps) {
        d.add(r.sweeps->stations), d.add(r.sweeps->left), d.add(r.sweeps->right);
        for (double v : {r.sweeps->inside.reach, r.sweeps->inside.station, r.sweeps->outside.reach,
                         r.sweeps->outside.station, r.sweeps->widest, r.sweeps->widestAt})
            d.add(v);
    }
    if (r.item) d.say(r.item->name), d.add(double(r.item->colour)), d.add(double(r.item->hidden));
    if (!r.placed) return;
    tell(d, *r.placed);
    partsOf(d, r);
    if (r.problem) return;
    if (const auto rows = fitsOf(r))
        for (const Fit& f : *rows)
            for (double v :
                 {double(f.count), f.pitch, f.gapLeast, f.gapMost, f.leftOver, f.value, f.closing.value_or(-1),
                  f.play.value_or(-1), f.gives.value_or(-1), double(f.inUse + 2 * f.over + 4 * f.under)})
                d.add(v);
    else
        d.say(rows.problem().text);
    d.add(passesBends(r)), d.add(partLength(r));
    for (const Unit unit : {Unit::Millimetre, Unit::Inch}) d.say(plainSentence(r, unit));
    const WayRange range = wayRange(r);
    for (double v : {range.back, range.forward, range.lap, speedOf(r), onceAlong(r)}) d.add(v);
    if (r.item->motion.moves)
        for (double t : {0.0, 0.7, 3.1, 12.0, -2.0, 400.0}) d.add(wayAt(r, t)), d.add(timeOf(r, 30 * t).value_or(-1));
    for (double share : {0.17, 0.83, -0.4}) {
        const auto there =
            movedRun(r, range.lap > 0 ? share * range.lap : range.back + share * (range.forward - range.back));
        if (!there) {
            d.say(there.problem().text);
            continue;
        }
        tell(d, *(*there)->placed);
    }
    if (r.placed->bodies() < 200)
        for (const SweepStep& s : sweep(r, 4)) {
            for (double v : {s.way, s.closing.value_or(-1), s.turn, s.swing}) d.add(v);
            tell(d, s.problem);
        }
}

void tell(Digest& d, const PathResult& p) {
    tell(d, p.problem);
    tell(d, p.remarks), tell(d, p.broken);
    for (const OffsetPart& o : p.lost) d.add(o.length);
    for (const StrandCrossing& c : p.crossings) d.add(c.upper), d.add(c.lower), d.add(c.lift), d.add(c.at);
    if (p.gave)
        d.say(p.gave->name), d.add(p.gave->before), d.add(p.gave->after), d.add(p.gave->error),
            d.add(double(p.gave->count)), d.add(double(p.gave->of)), d.add(p.gave->from.value_or(Vec3(-1, -1, -1))),
            d.add(p.gave->to.value_or(Vec3(-1, -1, -1)));
    tell(d, p.cannotGive);
    for (const WheelPlaced& w : p.wheels) {
        d.say(w.name), d.add(w.axes), d.add(w.centre), d.add(Vec3(w.pose(0.3).topRightCorner<3, 1>()));
        if (w.mesh) tell(d, *w.mesh);
    }
    if (p.loop)
        for (const WheelContact& c : p.loop->contacts)
            for (double v : {c.wrap, c.arrives, c.leaves, c.tangentAfter}) d.add(v);
    if (!p.path) return;
    d.add(p.path->length()), d.add(double(p.path->closed())), d.add(p.path->bounds().max());
    for (double f : {0.0, 0.21, 0.5, 0.77, 1.0}) {
        const Sample s = p.path->at(f * p.path->length(), true);
        d.add(s.point), d.add(s.tangent), d.add(s.carried);
    }
}

void tell(Digest& d, const PartResult& p) {
    tell(d, p.problem);
    if (const auto kg = massOf(p))
        d.add(*kg);
    else
        d.say(kg.problem().text);
    if (p.seated) d.add(p.seated->min()), d.add(p.seated->max());
    if (p.mesh) tell(d, *p.mesh);
}

void tell(Digest& d, const BodyResult& b) {
    tell(d, b.problem);
    tell(d, b.remarks);
    d.add(b.home), d.add(double(b.deferred));
    if (b.body) tell(d, *b.body->mesh);
    if (b.ground) d.add(b.ground->turn()), d.add(b.ground->origin());
    verdictOf(d, b);
    tell(d, b.bars);
    if (b.cut) {
        for (const Web& w : b.cut->webs)
            d.add(double(w.hole)), d.add(w.width), d.add(b.cut->at(w.from)), d.add(b.cut->at(w.to));
        for (size_t i : b.cut->missed) d.add(double(i));
        for (size_t i : b.cut->overEdge) d.add(double(i));
        for (const auto& [one, other] : b.cut->together) d.add(double(one)), d.add(double(other));
        d.add(double(b.cut->tools)), d.add(std::cbrt(b.cut->before)), d.add(std::cbrt(b.cut->after)), d.add(b.cut->top);
        d.add(double(b.cut->flat));
    }
    tellLoose(d, b);
}

void tell(Digest& d, const RunChecks& run, const Evaluation& e) {
    d.add(double(run.verdict.mark));
    for (int i : brokenPlaces(run)) d.add(double(i));
    for (const CheckResult& c : run.list) {
        // Depths are known to what is said of them; within that it is chance.
        const bool deep = c.worst && c.worst->value < 0;
        std::string text = c.text.in(1, "mm");
        if (deep) std::erase_if(text, [](char ch) { return std::isdigit(static_cast<unsigned char>(ch)); });
        d.say(titleOf(c.check, e)), d.say(text), d.say(ruleInWords(c.check).in(1, "mm"));
        d.say(limitsInWords(c.check).in(1, "mm"));
        for (double v : {double(c.check.on), double(c.mark), c.limit.value_or(-1), double(c.unrefined),
                         double(c.broken), double(c.excused), double(c.places.size())})
            d.add(v);
        if (!deep) d.say(c.text.in(25.4, "in")), d.add(c.value.value_or(-1)), d.add(c.error), d.add(c.about);
        if (c.cannot) d.say(c.cannot->in(1, "mm"));
        tell(d, c.remarks);
        const auto place = [&](const CheckedPlace& p) {
            for (double v : {double(p.place), double(p.other), double(p.item), double(p.crosses), double(p.mark),
                             double(p.excuse)})
                d.add(v);
            if (p.value >= 0) d.add(p.value), d.add(p.error);
        };
        if (c.worst && !deep) place(*c.worst);
        for (const CheckedPlace& p : c.places) place(p);
        for (const Excuse& x : c.check.excused) d.say(excuseInWords(x));
    }
}

void tell(Digests& now, const std::string& name, const std::shared_ptr<const Evaluation>& e) {
    for (const auto& [id, p] : e->paths) {
        Digest& d = now[name + ", path " + p->item->name];
        tell(d, *p);
        if (const auto wheels = wheelsOf(*e, *p)) {
            tellLoose(d, *wheels);
            for (const PlacedPart& part : *wheels->placedParts) tell(d, *part.mesh);
        }
    }
    for (const auto& [id, p] : e->parts) tell(now[name + ", part " + p->item->name], *p);
    for (const auto& [id, b] : e->bodies) tell(now[name + ", body " + b->item->name], *b);
    for (const auto& r : e->runs) tell(now[name + ", run " + r->item->name], *r);
    for (const auto& r : e->heaps) tell(now[name + ", heap " + r->name], *r);
    if (!anythingMoves(*e)) return;
    Digest& d = now[name + ", later"];
    for (double t : {0.5, 7.0}) {
        std::vector<Problem> problems;
        const auto then = atTime(e, t, &problems);
        for (const Problem& p : problems) d.say(p.text);
        for (const auto& r : then->runs)
            if (r->placed)
                for (size_t i = 0; i < r->placed->bodies(); ++i) d.add(r->placed->frame(i).seat);
    }
}

} // namespace vicinal::test
