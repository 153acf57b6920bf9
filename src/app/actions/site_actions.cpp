// Site bodies: made, raised along paths, cut, railed.
#include "app/actions/actions.h"
#include "app/controls/rounding.h"
#include "app/dialogs/dialogs.h"
#include "app/dialogs/part_chooser.h"
#include "app/view/toolbox.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "parts/makers/maker.h"
#include <cmath>
#include <tuple>

namespace vicinal {

Menu SiteActions::menu() {
    Menu rails{tr("&Rails of the run in hand"), {}};
    const std::tuple<QString, const char*, QString> kinds[] = {
        {tr("&Hand rail, bent"), "rail.bent",
         tr("A round tube over its posts, bent along the path; it follows the run")},
        {tr("&Middle rail, straight pieces"), "rail.straight",
         tr("A bar from each place to the next, mitred, with its cut list; it follows the run")},
        {tr("Two rails at a &gauge"), "rail.gauge", tr("Side by side under or over the places, as on sleepers")}};
    for (int k = 0; const auto& [label, id, tip] : kinds)
        rails.rows.push_back(forRun({id, label, tip, {}, [this, which = k++] { railsOfRun(which); }}));

    Menu ground{tr("&Ground"), {m_window.groups().comings.ground()}};
    const std::tuple<GroundForm, QString, const char*, QString> forms[] = {
        {GroundForm::Slope, tr("A &slope"), "ground.slope", tr("Rises evenly along its length")},
        {GroundForm::Terraces, tr("&Terraces"), "ground.terraces", tr("Level steps with banks between them")},
        {GroundForm::Mound, tr("A &mound"), "ground.mound", tr("A round hill on level ground")}};
    for (const auto& [form, label, id, tip] : forms)
        ground.rows.push_back(Command{id, label, tip, {}, [this, f = form] { makeGround(f); }});

    return {tr("&Site"),
            {Command{"newBody",
                     tr("&New body\u2026"),
                     tr("A box, a ramp, a tube or anything else that can be made"),
                     {},
                     [this] { newBody(); }},
             forPath({"wall",
                      tr("&Wall along the path in hand"),
                      tr("Plumb sides, raised along the path; it follows"),
                      {},
                      [this] { bodyOfPath(true); }}),
             forPath({"plate",
                      tr("&Plate of the path in hand"),
                      tr("A plate over the closed path; it follows"),
                      {},
                      [this] { bodyOfPath(false); }}),
             forPart({"bodyOfPart",
                      tr("From the p&art in hand"),
                      tr("The part, once, as a body of the site; it follows the part"),
                      {},
                      [this] { bodyOfPart(); }}),
             m_window.groups().comings.body(), MenuLine{}, std::move(rails),
             forRun({"cut",
                     tr("&Cut the body under the run in hand"),
                     tr("The parts of the run are holes in the body that it lies on; drag the path and they move"),
                     {},
                     [this] { cutByRun(0, m_store->currentRun()->item->id, false); }}),
             forRun({"raise",
                     tr("Ra&ise the run in hand on its body"),
                     tr("The parts of the run become bosses or tabs of the body that it lies on"),
                     {},
                     [this] { cutByRun(0, m_store->currentRun()->item->id, true); }}),
             MenuLine{}, std::move(ground),
             forPath({"derive.laid",
                      tr("&Lay the path in hand on a body"),
                      tr("A new path: this one dropped onto the ground or another body; it follows both"),
                      {},
                      [this] {
                          if (const auto path = m_store->currentPath())
                              m_window.groups().paths.layPath(path->item->id, 0);
                      }}),
             MenuLine{},
             forBody({"bodyEdge",
                      tr("Path along an &edge of it"),
                      tr("Click near an edge: the path follows the body"),
                      {},
                      [this] { m_view->tools().pickEdge(); }})}};
}

void SiteActions::addBody(BodyItem item, const QString& step) {
    if (item.colour == 0) item.colour = int(m_store->document().bodies.size()) % 8;
    const Document d = with(m_store->document(), std::move(item));
    m_store->edit(d, step);
    m_store->selectItem(Selection::Kind::Body, d.bodies.back()->id);
}

void SiteActions::newBody() {
    PartDialog dialog(*m_store, tr("New site body"), tr("Make it"), {}, &m_window);
    if (dialog.exec() != QDialog::Accepted) return;
    if (dialog.fileWanted()) return m_window.groups().comings.bringInBody();
    const auto choice = dialog.choice();
    if (!choice) return;
    const auto& made = std::get<NewMaker>(*choice);
    BodyItem item;
    item.name = made.name.toStdString();
    item.shape = made.maker;
    const double size = roundSize();
    // Where one looks, on the ground; plain ones as large as suits what is seen.
    item.at = (m_view->camera().target / (size / 10)).array().round() * (size / 10);
    item.at.z() = 0;
    if (auto* b = std::get_if<Maker>(&item.shape)) {
        if (auto* x = std::get_if<PlainBox>(b)) *x = {size, size / 2, size / 2};
        if (auto* x = std::get_if<Cylinder>(b)) *x = {size / 2, size / 2};
        if (auto* x = std::get_if<Wedge>(b)) *x = {size, size / 2, size / 4};
    }
    addBody(std::move(item), tr("New site body"));
}

void SiteActions::bodyOfPath(bool wall) {
    const auto path = m_store->currentPath();
    if (!path || !path->path) return;
    const QString name = path->item->name.c_str();
    const double thin = toOneDigit(path->path->bounds().diagonal().norm() / 50);
    BodyItem item;
    if (wall) {
        item.name = tr("Wall along %1").arg(name).toStdString();
        item.shape = WallAlong{path->item->id, 4 * thin, 0, thin, WallSide::Middle};
    } else {
        if (!path->path->closed())
            return showMessage(tr("%1 is open. Only a closed path outlines a plate; a wall stands on any.").arg(name));
        item.name = tr("Plate of %1").arg(name).toStdString();
        item.shape = PlateOf{path->item->id, thin, true};
    }
    addBody(std::move(item), (wall ? tr("Wall along %1") : tr("Plate of %1")).arg(name));
}

void SiteActions::bodyOfPart() {
    const auto part = m_store->currentPart();
    if (!part) return;
    BodyItem item;
    item.name = part->item->name;
    item.shape = PartUse{part->item->id};
    item.density = part->item->density;
    item.at = m_view->camera().target;
    item.at.z() = 0;
    const double step = roundSize() / 10;
    item.at = (item.at / step).array().round() * step;
    addBody(std::move(item), tr("Site body from %1").arg(part->item->name.c_str()));
}

void SiteActions::railsOfRun(int which) {
    const auto run = m_store->currentRun();
    if (!run || !run->placed) return;
    const QString name = run->item->name.c_str();
    // As high as its parts are, and as thick as suits that.
    Box3 box;
    for (const PlacedPart& p : run->placed->parts) box.extend(extents(*p.body, p.seat));
    const auto roundly = [](double v) {
        const double power = powerBelow(v);
        return std::max(1e-3, std::round(v / power * 2) / 2 * power);
    };
    const double high = std::max(box.max().z(), 1.0), wide = std::max(box.sizes().y(), 1.0);
    RailAlong rail;
    rail.run = run->item->id;
    BodyItem item;
    if (which == 2) {
        rail.section.form = RailForm::Flat;
        rail.section.width = roundly(wide / 30);
        rail.section.depth = 2 * rail.section.width;
        rail.count = 2;
        rail.way = RailsApart::Across;
        rail.apart = roundly(wide * 0.6);
        double seat = box.max().z();
        if (const auto* maker = std::get_if<Maker>(&run->part->item->shape))
            if (const auto* s = std::get_if<Sleeper>(maker)) { // into its own rail seats
                rail.section.width = s->railHead;
                rail.section.depth = 1.5 * s->railHead;
                rail.apart = s->gauge + s->railHead;
                seat -= s->seatDepth;
            }
        rail.height = seat + rail.section.depth / 2;
        item.name = tr("Rails on %1").arg(name).toStdString();
    } else {
        rail.section.width = roundly(std::max(high, wide / 3) / 25);
        rail.section.wall = which == 0 ? roundly(rail.section.width / 12) : 0;
        rail.style = which == 0 ? RailStyle::Bent : RailStyle::Straight;
        rail.height = which == 0 ? high + rail.section.width / 2 : roundly(high / 2);
        item.name = (which == 0 ? tr("Hand rail of %1") : tr("Middle rail of %1")).arg(name).toStdString();
    }
    rail.ends.radius = 2 * rail.section.width;
    rail.ends.leg = rail.section.width;
    rail.overlap = rail.section.width;
    rail.apart = which == 2 ? rail.apart : roundly(high / 4);
    item.shape = rail;
    addBody(std::move(item), tr("Rails of %1").arg(name));
}

Id SiteActions::nearestBody(const RunResult& run) const {
    Id best = 0;
    double least = kFar;
    for (const auto& [id, body] : m_store->evaluation().bodies) {
        if (!body->ground || body->item->hidden || isGround(body->item->shape)) continue;
        double off = 0;
        size_t n = 0;
        for (size_t i = 0; i < run.placed->count(); i += std::max<size_t>(1, run.placed->count() / 20), ++n) {
            const Vec3 p = run.placed->frame(i).seat;
            off += (body->ground->nearest(p).at - p).norm();
        }
        if (n > 0 && off / double(n) < least) least = off / double(n), best = id;
    }
    return best;
}

void SiteActions::cutByRun(Id body, Id runId, bool raise) {
    const auto run = m_store->evaluation().run(runId);
    if (!run || !run->placed) return;
    if (!body) body = nearestBody(*run);
    const Document& d = m_store->document();
    const auto of = d.body(body);
    if (!of)
        return showMessage(tr("There is no body that %1 could cut. Make one, such as a plate, or bring one in.")
                               .arg(run->item->name.c_str()));
    CutBy cut;
    cut.of = body;
    cut.run = runId;
    if (raise) {
        cut.does = CutDoes::Raise;
        cut.depth = CutDepth::Deep;
        Box3 box;
        for (const PlacedPart& p : run->placed->parts) box.extend(extents(*p.body, p.seat));
        cut.deep = std::max(1.0, box.max().z());
    }
    BodyItem item;
    item.name = (raise ? tr("%1, raised") : tr("%1, cut")).arg(of->name.c_str()).toStdString();
    item.shape = cut;
    item.colour = of->colour;
    item.density = of->density;
    // What it is made from would stand in the same place.
    BodyItem before = *of;
    before.hidden = of->hidden || !of->locked;
    RunItem tools = *run->item;
    tools.hidden = tools.hidden || !tools.locked;
    Document next = with(with(with(d, before), tools), item);
    const Id made = lastId(next);
    m_store->edit(std::move(next),
                  (raise ? tr("Raise %1 on %2") : tr("Cut by %1: %2")).arg(run->item->name.c_str(), of->name.c_str()));
    m_store->selectItem(Selection::Kind::Body, made);
}

void SiteActions::makeGround(GroundForm form) {
    MadeGround g;
    g.form = form;
    const double size = roundSize();
    g.length = 5 * size;
    g.width = 3 * size;
    g.rise = size / 2;
    g.bank = size / 4;
    g.radius = size;
    BodyItem item;
    item.name = tr("Ground").toStdString();
    item.shape = g;
    item.at = (m_view->camera().target / (size / 10)).array().round() * (size / 10);
    item.at.z() = 0;
    addBody(std::move(item), tr("Make ground"));
    m_view->frameAll();
}

} // namespace vicinal
