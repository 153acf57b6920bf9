#include "exchange/out/export_set.h"
#include "base/say.h"
#include "base/text.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <algorithm>
#include <map>

namespace vicinal {

Result<ExportSet> exportSetOf(const Evaluation& e, const std::vector<Id>& what) {
    ExportSet out;
    const bool all = what.empty();
    const auto wanted = [&](Id id) { return all || std::find(what.begin(), what.end(), id) != what.end(); };
    for (const auto& s : e.standing()) {
        if (!wanted(s->id) || (all && s->hidden)) continue;
        if (s->present() > 0 && (!s->problem || s->asHeap())) {
            out.standing.push_back(s);
            continue;
        }
        const Words why = s->problem ? s->problem->text : Words("It has no places.");
        if (!all) return Problem{"\"" + text::quoted(s->name) + "\" cannot be sent out: " + why, "what"};
        out.remarks.push_back("\"" + text::quoted(s->name) + "\" is left out: " + why);
    }
    for (const auto& [id, p] : e.paths) {
        if (!wanted(id) || (all && p->item->hidden)) continue;
        if (p->path && !p->problem)
            out.paths.push_back(p);
        else if (!all)
            return Problem{"Path \"" + text::quoted(p->item->name) +
                               "\" cannot be sent out: " + (p->problem ? p->problem->text : Words("it is not there.")),
                           "what"};
    }
    if (out.standing.empty() && out.paths.empty())
        return Problem{all ? "The document has nothing that could be sent out. Make a run first."
                           : "What this delivery asks for is not in the document any more. Tick something else.",
                       "what"};
    return out;
}

namespace {

/// With these parts instead of its own; a run's `placed` keeps those it has.
std::shared_ptr<const Standing> withParts(const Standing& of, std::shared_ptr<const std::vector<PlacedPart>> parts) {
    const auto copy = [&](const auto& whole) -> std::shared_ptr<const Standing> {
        auto out = std::make_shared<std::remove_cvref_t<decltype(whole)>>(whole);
        out->placedParts = std::move(parts);
        return out;
    };
    switch (of.kind) {
    case Standing::Kind::Run: return copy(*of.asRun());
    case Standing::Kind::Heap: return copy(*of.asHeap());
    case Standing::Kind::SiteBody: return copy(*of.asBody());
    case Standing::Kind::Wheels: break;
    }
    return copy(of);
}

} // namespace

Result<Standings> meshedWithin(const Standings& own, double& within, const Stop* stop) {
    if (!(within >= 1e-4 && within <= 1000))
        return Problem{"Triangles cannot keep within " + say::mm(within) + "; use 0.0001 mm to 1 m.", "within"};
    constexpr size_t kMost = 20'000'000; // triangles of all parts together
    const Standings all = withWheels(own);
    std::map<const Body*, double> largest;
    for (const auto& s : all)
        s->eachInstance([&](const Instance& i) {
            double& size = largest[i.part.body.get()];
            size = std::max(size, i.size());
        });
    std::map<const Body*, std::shared_ptr<const Mesh>> fine;
    double worst = within;
    size_t triangles = 0;
    std::optional<Problem> problem;
    const auto of = [&](const BodyPtr& body, const std::shared_ptr<const Mesh>& asIs) {
        if (!body || problem) return asIs;
        const auto [it, fresh] = fine.try_emplace(body.get(), asIs);
        if (!fresh) return it->second;
        const auto found = largest.find(body.get());
        const double size = found == largest.end() || found->second <= 0 ? 1 : found->second;
        if (stopped(stop)) problem = Problem{"Sending out was cancelled; the file is as it was.", ""};
        if (problem) return asIs;
        double off = within / size;
        const auto mesh = fineMesh(*body, off);
        if (off == 0) return asIs; // flat faces are triangles exactly
        worst = std::max(worst, off * size);
        triangles += mesh->triangles.size();
        if (triangles > kMost)
            problem = Problem{"Within " + say::mm(within) + " that makes more than " + say::count(kMost / 1'000'000) +
                                  " million triangles. Allow more, or send out fewer parts.",
                              "within"};
        return it->second = mesh;
    };
    Standings out;
    for (const auto& one : all) {
        auto parts = std::make_shared<std::vector<PlacedPart>>(*one->placedParts);
        for (PlacedPart& part : *parts) part.mesh = of(part.body, part.mesh);
        out.push_back(withParts(*one, std::move(parts)));
    }
    if (problem) return *problem;
    within = worst;
    return out;
}

std::array<double, 3> toneOf(int colour) {
    static constexpr std::array<double, 3> kTones[] = {{0.54, 0.70, 0.68}, {0.69, 0.63, 0.55}, {0.59, 0.63, 0.73},
                                                       {0.69, 0.59, 0.66}, {0.64, 0.68, 0.58}, {0.72, 0.61, 0.56},
                                                       {0.57, 0.66, 0.72}, {0.66, 0.66, 0.60}};
    return kTones[size_t(((colour % 8) + 8) % 8)];
}

} // namespace vicinal
