#include "exchange/lists/lists.h"
#include "base/text.h"
#include "clearance/verdict.h"
#include "exchange/lists/rows.h"
#include "layout/along/feet.h"
#include "layout/spacing/limits.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/weights.h"
#include "parts/cuts/webs.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace vicinal {
namespace {

const std::string kStart = "start", kEnd = "end", kSeam = "seam", kAll = "all";

List placesList(const ExportSet& goods, const ScheduleOrder& o) {
    List out;
    out.title = "Places";
    const auto add = [&](const char* name, const char* unit, bool isText = false, int decimals = 6) {
        out.columns.push_back({name, unit, isText, decimals});
    };
    add("run", "", true);
    add("place", "", false, 0);
    if (o.part) add("part", "", true);
    if (o.station) add("station", "mm");
    if (o.position)
        for (const char* c : {"x", "y", "z"}) add(c, "mm");
    if (o.angles)
        for (const char* c : {"heading", "slope", "roll"}) add(c, "deg");
    if (o.turn)
        for (const char* c : {"qw", "qx", "qy", "qz"}) add(c, "");
    if (o.size) add("size", "");
    if (o.gap) add("gap along", "mm");
    if (o.raised) add("raised", "mm");
    out.rows = [&goods, o, n = out.columns.size()](const auto& use) {
        const Quat turn(Eigen::AngleAxisd(o.north, Vec3::UnitZ()));
        const bool shifted = o.north != 0 || !o.origin.isZero();
        std::vector<Cell> cells(n);
        const Standing* last = nullptr;
        std::unordered_map<int, double> gaps;
        eachRow(goods.standing, [&](const Standing& of, const BodyRow& row) {
            const RunResult* run = of.asRun();
            if (o.gap && last != &of) {
                gaps.clear();
                if (run && !isLinked(run->item->spacing))
                    for (const Gap& g : run->placed->gaps) gaps[g.from] = g.clear();
            }
            last = &of;
            size_t k = 0;
            const auto number = [&](double v) { cells[k++] = {nullptr, v, false}; };
            cells[k++] = {&of.name, 0, false};
            cells[k++] = {nullptr, double(row.place), row.place == 0};
            if (o.part) cells[k++] = {row.part, 0, false};
            if (o.station) cells[k++] = {nullptr, row.station.value_or(0), !row.station};
            if (o.position) {
                const Vec3 at = shifted ? Vec3(turn * (row.at - o.origin)) : row.at;
                for (int i = 0; i < 3; ++i) number(at[i]);
            }
            if (o.angles) {
                double heading = row.angles.heading + o.north;
                if (shifted) heading = std::remainder(heading, 2 * kPi);
                for (double v : {heading, row.angles.slope, row.angles.roll}) number(v / kDegree);
            }
            if (o.turn) {
                Quat q = shifted ? turn * row.q : row.q;
                if (q.w() < 0) q.coeffs() *= -1;
                for (double v : {q.w(), q.x(), q.y(), q.z()}) number(v);
            }
            if (o.size) number(row.size);
            if (o.gap) {
                const auto g = row.body < of.count() ? gaps.find(int(row.body)) : gaps.end();
                cells[k++] = {nullptr, g == gaps.end() ? 0 : g->second, g == gaps.end()};
            }
            if (o.raised) {
                const Dropped* dropped = run ? run->placed->laid->dropped.get() : nullptr;
                cells[k++] = {nullptr, dropped ? dropped->by[row.body] : 0, !dropped};
            }
            return use(cells);
        });
    };
    return out;
}

List partsList(const ExportSet& goods) {
    List out;
    out.title = "Parts";
    out.columns = {{"part", "", true},          {"count", "", false, 0},
                   {"size", "", false, 6},      {"length", "mm", false, 3},
                   {"width", "mm", false, 3},   {"height", "mm", false, 3},
                   {"volume", "cm3", false, 3}, {"weight each", "kg", false, 3},
                   {"weight", "kg", false, 3},  {"length of all", "m", false, 3},
                   {"runs", "", true}};
    struct Entry {
        std::string name, runs;
        double size = 1;
        std::optional<double> each, volume; ///< kg, mm3; nothing: not known
        long count = 0;
        Measures m;
        const Standing* last = nullptr;
    };
    auto entries = std::make_shared<std::vector<Entry>>();
    std::map<std::pair<Id, long long>, size_t> known;
    for (const auto& of : goods.standing) {
        if (of->kind == Standing::Kind::Wheels) continue;
        of->eachInstance([&](const Instance& i) {
            const PlacedPart& part = i.part;
            const double size = i.size();
            const auto [it, fresh] = known.try_emplace({part.id, std::llround(size * 1e9)}, entries->size());
            if (fresh) {
                Entry e;
                e.name = part.name;
                e.size = size;
                e.m = measuresOf(*part.body, part.seat);
                e.volume = enclosedVolume(*part.body);
                if (const auto each = massEach(*of, part))
                    e.each = *each;
                else if (out.remarks.empty())
                    out.remarks.push_back(each.problem().text + " Its weight is left empty.");
                entries->push_back(std::move(e));
            }
            Entry& e = (*entries)[it->second];
            ++e.count;
            if (e.last != of.get()) {
                e.last = of.get();
                e.runs += (e.runs.empty() ? "" : ", ") + of->name;
            }
        });
    }
    out.rows = [entries](const auto& use) {
        const auto number = [](double v) { return Cell{nullptr, v, false}; };
        const Cell none{nullptr, 0, true};
        double count = 0, weight = 0, length = 0;
        bool weighed = true;
        for (const Entry& e : *entries) {
            const double k = e.size, each = e.each.value_or(0) * k * k * k, n = double(e.count);
            const bool heavy = e.each.has_value();
            const Cell cells[] = {{&e.name, 0, false},
                                  number(n),
                                  number(k),
                                  number(e.m.length() * k),
                                  number(e.m.width() * k),
                                  number(e.m.height() * k),
                                  e.volume ? number(*e.volume * k * k * k * 1e-3) : none,
                                  heavy ? number(each) : none,
                                  heavy ? number(each * n) : none,
                                  number(e.m.length() * k * n * 1e-3),
                                  {&e.runs, 0, false}};
            if (!use(cells)) return;
            count += n;
            weight += each * n;
            length += e.m.length() * k * n * 1e-3;
            weighed = weighed && heavy;
        }
        const Cell all[] = {
            {&kAll, 0, false}, number(count), none, none, none, none, none, none, weighed ? number(weight) : none,
            number(length),    none};
        use(all);
    };
    return out;
}

List runningList(const ExportSet& goods, const ScheduleOrder& o) {
    List out;
    out.title = "Running dimensions";
    out.columns = {{"run", "", true}, {"mark", "", true}};
    if (o.part) out.columns.push_back({"part", "", true});
    for (const char* c : {"station", "back", "front"}) out.columns.push_back({c, "mm", false, 3});
    if (o.gap) out.columns.push_back({"gap along", "mm", false, 3});
    out.rows = [&goods, o, n = out.columns.size()](const auto& use) {
        std::vector<Cell> cells(n);
        for (const auto& of : goods.standing) {
            const RunResult* run = of->asRun();
            if (!run) continue;
            const Placed& p = *run->placed;
            std::unordered_map<int, double> gaps;
            if (!isLinked(run->item->spacing))
                for (const Gap& g : p.gaps) gaps[g.from] = g.clear();
            const auto row = [&](const std::string& mark, const std::string* part, double station,
                                 std::optional<std::pair<double, double>> ends, std::optional<double> gap) {
                size_t k = 0;
                const auto number = [&](std::optional<double> v) { cells[k++] = {nullptr, v.value_or(0), !v}; };
                cells[k++] = {&run->item->name, 0, false};
                cells[k++] = {&mark, 0, false};
                if (o.part) cells[k++] = {part, 0, part == nullptr};
                number(station);
                number(ends ? std::optional(ends->first) : std::nullopt);
                number(ends ? std::optional(ends->second) : std::nullopt);
                if (o.gap) number(gap);
                return use(cells);
            };
            if (!row(kStart, nullptr, 0, {}, {})) return;
            const size_t first = std::min(p.laid->rowSize, p.count());
            for (size_t i = 0; i < first; ++i) {
                if (p.leftOut(i)) continue;
                const double s = p.stations()[i];
                const Occupied& w = p.occupied(i);
                const auto g = gaps.find(int(i));
                if (!row(std::to_string(i + 1), &p.part(i).name, s, std::pair(s - w.behind, s + w.ahead),
                         g == gaps.end() ? std::nullopt : std::optional(g->second)))
                    return;
            }
            if (!row(p.path.closed() ? kSeam : kEnd, nullptr, p.path.length(), {}, {})) return;
        }
    };
    return out;
}

List barsList(const ExportSet& goods) {
    List out;
    out.title = "Cut list";
    out.columns = {{"rail", "", true},
                   {"line", "", false, 0},
                   {"bar", "", false, 0},
                   {"length", "mm", false, 3},
                   {"over all", "mm", false, 3}};
    for (const char* c : {"start plan", "start slope", "end plan", "end slope", "twist"})
        out.columns.push_back({c, "deg", false, 3});
    out.columns.push_back({"bent", "", true});
    out.rows = [&goods](const auto& use) {
        static const std::string kYes = "bent", kNo = "straight";
        for (const auto& of : goods.standing) {
            const BodyResult* site = of->asBody();
            if (!site) continue;
            for (const RailBar& b : site->bars) {
                const auto number = [](double v) { return Cell{nullptr, v, false}; };
                const Cell cells[] = {{&site->name, 0, false},
                                      number(b.rail + 1),
                                      number(double(b.piece) + 1),
                                      number(b.length),
                                      number(b.longest),
                                      number(b.startPlan / kDegree),
                                      number(b.startSlope / kDegree),
                                      number(b.endPlan / kDegree),
                                      number(b.endSlope / kDegree),
                                      number(b.twist / kDegree),
                                      {b.bent ? &kYes : &kNo, 0, false}};
                if (!use(cells)) return;
            }
        }
    };
    return out;
}

List websList(const ExportSet& goods) {
    List out;
    out.title = "Webs";
    out.columns = {{"body", "", true}, {"place", "", false, 0}, {"to", "", true}, {"web", "mm", false, 3}};
    for (const char* c : {"x", "y", "z"}) out.columns.push_back({c, "mm", false, 3});
    out.rows = [&goods](const auto& use) {
        static const std::string kEdge = "edge";
        for (const auto& of : goods.standing) {
            const BodyResult* site = of->asBody();
            if (!site || !site->cut || !site->instances) continue;
            const Frame& stands = site->instances->frame(0);
            for (const Web& w : site->cut->webs) {
                const auto number = [](double v) { return Cell{nullptr, v, false}; };
                const std::string to = w.other == Web::kEdge ? kEdge : std::to_string(w.other + 1);
                const Vec3 at = stands.axes * site->cut->at((w.from + w.to) / 2) + stands.seat;
                const Cell cells[] = {{&site->name, 0, false}, number(double(w.hole) + 1),
                                      {&to, 0, false},         number(w.width),
                                      number(at.x()),          number(at.y()),
                                      number(at.z())};
                if (!use(cells)) return;
            }
        }
    };
    return out;
}

} // namespace

Result<List> listOf(const ExportSet& goods, const ScheduleOrder& order) {
    if (!inReach(order.origin) || !inReach(order.north))
        return Problem{"The origin or north is not a number. Type another value.", "origin"};
    if (goods.standing.empty()) return Problem{"A path alone has no places to list. Tick a run.", "of"};
    if (order.of == ScheduleOf::Parts) return partsList(goods);
    const auto anyOf = [&](auto&& has) { return std::ranges::any_of(goods.standing, has); };
    if (order.of == ScheduleOf::Bars) {
        if (!anyOf([](const auto& s) { return s->asBody() && !s->asBody()->bars.empty(); }))
            return Problem{"There are no rails among what goes. Tick one.", "of"};
        return barsList(goods);
    }
    if (order.of == ScheduleOf::Webs) {
        if (!anyOf([](const auto& s) { return s->asBody() && s->asBody()->cut && !s->asBody()->cut->webs.empty(); }))
            return Problem{"Nothing that goes is a plate with holes. Tick one.", "of"};
        return websList(goods);
    }
    if (order.of == ScheduleOf::Places) return placesList(goods, order);
    if (!anyOf([](const auto& s) { return s->asRun() != nullptr; }))
        return Problem{"Loose parts have no stations. Tick a run, or list the places.", "of"};
    return runningList(goods, order);
}

} // namespace vicinal
