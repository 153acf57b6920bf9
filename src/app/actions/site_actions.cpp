// Site bodies: made, brought in, laid on; and what the yard does with several items.
#include "app/dialogs/ask.h"
#include "app/dialogs/ground_in_dialog.h"
#include "app/state/background.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/yard/yard.h"
#include "exchange/in/levels.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "parts/makers/maker.h"
#include <QAction>
#include <QFileInfo>
#include <QMenu>
#include <QMenuBar>
#include <cmath>

namespace vicinal {

void MainWindow::buildSiteMenu() {
    auto* menu = menuBar()->addMenu(tr("&Site"));
    add(menu, tr("&New body\u2026"), "newBody", {}, tr("A box, a ramp, a tube or anything else that can be made"),
        [this] { newBody(); });
    m_needsPath += add(menu, tr("&Wall along the path in hand"), "wall", {},
                       tr("Plumb sides, raised along the path; it follows"), [this] { bodyOfPath(true); });
    m_needsPath += add(menu, tr("&Plate of the path in hand"), "plate", {},
                       tr("A plate over the closed path; it follows"), [this] { bodyOfPath(false); });
    m_needsPart += add(menu, tr("From the p&art in hand"), "bodyOfPart", {},
                       tr("The part, once, as a body of the site; it follows the part"), [this] { bodyOfPart(); });
    add(menu, tr("&Bring in a body\u2026"), "bringInBody", {},
        tr("From STEP, OBJ, STL, PLY, glTF, DXF or SVG, at its own place in the file"), [this] { bringInBody(); });
    menu->addSeparator();
    auto* rails = menu->addMenu(tr("&Rails of the run in hand"));
    const std::tuple<QString, const char*, QString> kinds[] = {
        {tr("&Hand rail, bent"), "rail.bent",
         tr("A round tube over its posts, bent along the path; it follows the run")},
        {tr("&Middle rail, straight pieces"), "rail.straight",
         tr("A bar from each place to the next, mitred, with its cut list; it follows the run")},
        {tr("Two rails at a &gauge"), "rail.gauge", tr("Side by side under or over the places, as on sleepers")}};
    for (int k = 0; k < 3; ++k)
        m_needsRun += add(rails, std::get<0>(kinds[k]), std::get<1>(kinds[k]), {}, std::get<2>(kinds[k]),
                          [this, k] { railsOfRun(k); });
    m_needsRun += add(menu, tr("&Cut the body under the run in hand"), "cut", {},
                      tr("The parts of the run are holes in the body that it lies on; drag the path and they move"),
                      [this] { cutByRun(0, m_store->currentRun()->item->id, false); });
    m_needsRun += add(menu, tr("Ra&ise the run in hand on its body"), "raise", {},
                      tr("The parts of the run become bosses or tabs of the body that it lies on"),
                      [this] { cutByRun(0, m_store->currentRun()->item->id, true); });
    menu->addSeparator();
    auto* ground = menu->addMenu(tr("&Ground"));
    add(ground, tr("From &levels\u2026"), "bringInGround", {},
        tr("Points, break lines, faces, a grid or a mesh, joined by triangles"), [this] { bringInGround(); });
    const std::tuple<GroundForm, QString, const char*, QString> forms[] = {
        {GroundForm::Slope, tr("A &slope"), "ground.slope", tr("Rises evenly along its length")},
        {GroundForm::Terraces, tr("&Terraces"), "ground.terraces", tr("Level steps with banks between them")},
        {GroundForm::Mound, tr("A &mound"), "ground.mound", tr("A round hill on level ground")}};
    for (const auto& [form, label, name, tip] : forms)
        add(ground, label, name, {}, tip, [this, form = form] { makeGround(form); });
    m_needsPath += add(menu, tr("&Lay the path in hand on a body"), "derive.laid", {},
                       tr("A new path: this one dropped onto the ground or another body; it follows both"), [this] {
                           if (const auto path = m_store->currentPath()) layPath(path->item->id, 0);
                       });
    menu->addSeparator();
    m_needsBody += add(menu, tr("Path along an &edge of it"), "bodyEdge", {},
                       tr("Click near an edge: the path follows the body"), [this] { m_view->pickEdge(); });
}

double MainWindow::roundSize() const {
    const double scale = m_view->camera().scale() * m_view->height() / 4;
    const double power = std::pow(10, std::floor(std::log10(std::max(scale, 1e-3))));
    return std::max(1.0, std::round(scale / power)) * power;
}

void MainWindow::addBody(BodyItem item, const QString& step) {
    if (item.colour == 0) item.colour = int(m_store->document().bodies.size()) % 8;
    const Document d = with(m_store->document(), std::move(item));
    m_store->edit(d, step);
    m_store->selectItem(Selection::Kind::Body, d.bodies.back()->id);
}

void MainWindow::newBody() {
    PartDialog dialog(*m_store, tr("New site body"), tr("Make it"), {}, this);
    if (dialog.exec() != QDialog::Accepted) return;
    if (dialog.fileWanted()) return bringInBody();
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

void MainWindow::bodyOfPath(bool wall) {
    const auto path = m_store->currentPath();
    if (!path || !path->path) return;
    const QString name = path->item->name.c_str();
    const double size = path->path->bounds().diagonal().norm(),
                 power = std::pow(10, std::floor(std::log10(std::max(size / 50, 1e-3))));
    const double thin = std::max(1.0, std::round(size / 50 / power)) * power;
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

void MainWindow::bodyOfPart() {
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

void MainWindow::railsOfRun(int which) {
    const auto run = m_store->currentRun();
    if (!run || !run->placed) return;
    const QString name = run->item->name.c_str();
    // As high as its parts are, and as thick as suits that.
    Box3 box;
    for (const PlacedPart& p : run->placed->parts) box.extend(extents(*p.body, p.seat));
    const auto roundly = [](double v) {
        const double power = std::pow(10, std::floor(std::log10(std::max(v, 1e-3))));
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

Id MainWindow::nearestBody(const RunResult& run) const {
    Id best = 0;
    double least = 1e300;
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

void MainWindow::cutByRun(Id body, Id runId, bool raise) {
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

void MainWindow::makeGround(GroundForm form) {
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

void MainWindow::bringInBody() {
    const QString path = ask::openFile(this, tr("Bring in a body"),
                                       tr("Bodies (*.step *.stp *.obj *.stl *.ply *.glb *.gltf *.dxf *.svg)"));
    if (!path.isEmpty()) bringInBodyFile(path);
}

void MainWindow::bringInBodyFile(const QString& path) {
    bool site = true;
    auto part = partOf(path, false, nullptr, &site);
    if (!part) return;
    if (site) return bringInBodies(std::move(*part), path);
    addPart(std::move(*part), tr("Bring in %1").arg(QFileInfo(path).fileName()));
}

/// At their own place in the file.
void MainWindow::bringInBodies(PartItem part, const QString& path) {
    std::vector<PartItem> all = std::move(m_eachBody);
    m_eachBody.clear();
    if (all.empty()) all.push_back(std::move(part));
    Document d = m_store->document();
    Vec3 by = Vec3::Zero();
    if (std::exchange(m_inView, false)) { // the foot of all of them, where one looks
        Box3 box;
        for (const PartItem& one : all)
            if (const auto body = build(one.shape)) box.extend((*body)->mesh->box);
        const double step = roundSize() / 10;
        if (!box.isEmpty())
            by = Vec3((m_view->camera().target / step).array().round() * step) -
                 Vec3(box.center().x(), box.center().y(), box.min().z());
        by.z() = box.isEmpty() ? 0 : -box.min().z();
    }
    for (PartItem& one : all) {
        BodyItem item;
        item.name = one.name;
        item.colour = int(d.bodies.size()) % 8;
        item.at = by;
        std::visit(
            [&](auto& s) {
                if constexpr (std::is_constructible_v<BodyShape, std::decay_t<decltype(s)>>) item.shape = std::move(s);
            },
            one.shape);
        d = with(std::move(d), std::move(item));
    }
    const Id last = lastId(d);
    m_store->edit(std::move(d), tr("Bring in %1").arg(QFileInfo(path).fileName()));
    m_store->selectItem(Selection::Kind::Body, last);
    if (workedOut()) m_view->frameAll();
}

void MainWindow::bringInGround() {
    const QString path =
        ask::openFile(this, tr("Ground from levels"),
                      tr("Levels (*.csv *.txt *.xyz *.asc *.grd *.dxf *.obj *.stl *.ply *.glb *.gltf)"));
    if (!path.isEmpty()) bringInGroundFile(path);
}

void MainWindow::bringInGroundFile(const QString& path) {
    auto file =
        inBackground<Result<LevelFile>>(this, tr("Reading %1\u2026").arg(QFileInfo(path).fileName()), [path](Job& job) {
            return readLevels(path.toStdString(), &job.stop, &job.progress);
        });
    if (!file) return;
    if (!*file) return showMessage(m_store->say(file->problem().text));
    hideMessage();
    GroundInDialog dialog(std::move(*file).value(), path, m_store->document().unit, this);
    if (dialog.exec() != QDialog::Accepted) return;
    BodyItem item;
    item.name = QFileInfo(path).completeBaseName().toStdString();
    item.shape = dialog.levels();
    addBody(std::move(item), tr("Bring in %1").arg(QFileInfo(path).fileName()));
    if (workedOut()) m_view->frameAll();
}

void MainWindow::layPath(Id path, Id body) {
    const Document& d = m_store->document();
    const auto item = d.path(path);
    if (!item) return;
    if (!body) // the ground; else whatever body is there
        for (const auto& b : d.bodies)
            if (!follows(d, b->id, path) && (!body || (isGround(b->shape) && !isGround(d.body(body)->shape))))
                body = b->id;
    if (!body)
        return showMessage(
            tr("There is no body that %1 could be laid on. Make one, or bring in ground.").arg(item->name.c_str()));
    PathItem laid;
    laid.name = tr("%1, laid").arg(item->name.c_str()).toStdString();
    LaidOn how;
    how.body = body;
    laid.recipe = DerivedRecipe{path, how};
    const Document next = with(d, std::move(laid));
    m_store->edit(next, tr("Lay %1 on %2").arg(item->name.c_str(), d.body(body)->name.c_str()));
    m_store->selectItem(Selection::Kind::Path, next.paths.back()->id);
}

void MainWindow::removeItems(const std::set<Id>& ids) {
    const Document d = m_store->document();
    QStringList names, users;
    for (Id id : ids) {
        names += QString::fromStdString(nameOf(d, id));
        for (const auto& u : usersOf(d, id)) {
            const QString user = QString::fromStdString(u);
            const bool goes = std::any_of(ids.begin(), ids.end(), [&](Id other) { return nameOf(d, other) == u; });
            if (!goes && !users.contains(user)) users += user;
        }
    }
    if (ids.empty()) return;
    const QString what = names.size() == 1 ? names[0] : tr("%n items", nullptr, int(names.size()));
    const size_t step = m_store->history().index();
    m_store->edit(withoutAll(d, ids), tr("Delete %1").arg(what));
    if (m_store->history().index() == step || users.empty()) return; // something is locked
    showMessage(tr("%1 was used by %2: shown in grey until another is chosen. Undo brings it back.")
                    .arg(what, users.join(", ")));
}

void MainWindow::copyItems(const std::set<Id>& ids) {
    std::vector<Id> made;
    Document d = copied(m_store->document(), ids, &made);
    if (made.empty()) return;
    const Id first = made.front();
    Selection s;
    s.kind = d.run(first)    ? Selection::Kind::Run
             : d.heap(first) ? Selection::Kind::Heap
             : d.body(first) ? Selection::Kind::Body
             : d.path(first) ? Selection::Kind::Path
                             : Selection::Kind::Part;
    s.id = first;
    s.also = {made.begin() + 1, made.end()};
    m_store->edit(std::move(d), made.size() == 1 ? tr("Make a copy") : tr("Make %n copies", nullptr, int(made.size())));
    m_store->select(s);
}

} // namespace vicinal
