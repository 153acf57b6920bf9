// Whole paths: made with first values, moved, broken, laid on bodies.
#include "app/actions/actions.h"
#include "app/controls/rounding.h"
#include "app/dialogs/dialogs.h"
#include "app/seat/seat_view.h"
#include "app/view/toolbox.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include <cmath>
#include <tuple>

namespace vicinal {

Menu PathActions::menu() {
    Menu menu{tr("&Path"),
              {Command{"drawPath", tr("&Draw a path"), tr("Click points on the ground"), QKeySequence("Ctrl+D"),
                       [this] { m_view->tools().draw().begin(); }},
               m_window.groups().comings.paths(), shapes(),
               Command{"shape.wheels",
                       tr("&Loop round wheels"),
                       tr("A closed path round wheels or sprockets"),
                       {},
                       [this] { newPath("wheels", tr("Loop")); }},
               Command{"shape.edges",
                       tr("Edges of a p&art\u2026"),
                       tr("Click a part near an edge: a path along it, or round its face"),
                       {},
                       [this] {
                           m_seatView->leave();
                           m_view->tools().pickEdge();
                       }},
               MenuLine{}}};
    for (MenuRow& row : derived()) menu.rows.push_back(std::move(row));
    menu.rows.insert(menu.rows.end(), {MenuLine{},
                                       forPath({"movePath", tr("Mo&ve, turn, size\u2026"),
                                                tr("The whole path in hand, about a point, with numbers"),
                                                QKeySequence("Ctrl+M"), [this] { movePath(); }}),
                                       forPath({"breakPath",
                                                tr("&Break at the selected point"),
                                                tr("Makes two paths of the points before and after"),
                                                {},
                                                [this] { breakPath(); }})});
    return menu;
}

Menu PathActions::shapes() {
    Menu menu{tr("&Shape"), {}};
    const std::tuple<const char*, const char*, QString, QString> kinds[] = {
        {"circle", "shape.circle", tr("&Circle"), tr("By radius")},
        {"ellipse", "shape.ellipse", tr("&Ellipse"), tr("By its two half sizes")},
        {"rectangle", "shape.rectangle", tr("&Rectangle"), tr("With a corner radius")},
        {"slot", "shape.slot", tr("&Slot"), tr("Two half circles and two straights")},
        {"polygon", "shape.polygon", tr("&Polygon"), tr("Regular, by sides and radius")},
        {"arc", "shape.arc", tr("&Arc"), tr("Through three points")},
        {"straight", "shape.straight", tr("S&traight line"), tr("By length and direction")},
        {"helix", "shape.helix", tr("&Helix or spiral"), tr("By radii, turns and height")},
        {"swag", "shape.swag", tr("S&wag"), tr("A chain that hangs between two points, by sag or slack")}};
    for (const auto& [kind, id, label, tip] : kinds)
        menu.rows.push_back(
            Command{id, label, tip, {}, [this, k = kind, l = label] { newPath(k, QString(l).remove('&')); }});
    return menu;
}

/// What is made from the path in hand and follows it.
std::vector<MenuRow> PathActions::derived() {
    const std::tuple<const char*, const char*, QString, QString, QString> changes[] = {
        {"offset", "derive.offset", tr("&Offset"), tr("Offset"),
         tr("A line at a constant distance beside the path in hand; follows it")},
        {"stretch", "derive.stretch", tr("S&tretch"), tr("Stretch"),
         tr("The part of the path in hand between two stations; follows it")},
        {"backwards", "derive.backwards", tr("Back&wards"), tr("Backwards"),
         tr("The path in hand the other way round; follows it")},
        {"start moved", "derive.startmoved", tr("Start &elsewhere"), tr("Start"),
         tr("A closed path with its start at another station")},
        {"mirrored", "derive.mirrored", tr("&Mirrored copy"), tr("Mirrored"),
         tr("The path in hand in an upright mirror; follows it")},
        {"projected", "derive.projected", tr("&Projected"), tr("Projected"),
         tr("The path in hand dropped onto a plane; follows it")},
        {"resampled", "derive.resampled", tr("Resam&pled"), tr("Resampled"),
         tr("Through points at even steps along the path in hand")},
        {"smoothed", "derive.smoothed", tr("Smoot&hed"), tr("Smoothed"), tr("With its bumps evened out")},
        {"lifted", "derive.lifted", tr("Lifted over its cro&ssings"), tr("Lifted"),
         tr("Where strands cross one lies over the other: chain or rope laid over itself. Lay it on the ground "
            "first, and its lowest strand lies there")},
        {"joined", "derive.joined", tr("&Joined with\u2026"), tr("Joined"),
         tr("Several paths as one; starts with the path in hand")}};
    std::vector<MenuRow> rows;
    for (const auto& [kind, id, label, name, tip] : changes)
        rows.push_back(forPath({id, label, tip, {}, [this, k = kind, n = name] { newPath(k, n); }}));
    return rows;
}

/// A path of a kind with first values that suit what is there: derived ones follow the path in hand, shapes stand in
/// the middle of the view.
void PathActions::newPath(const std::string& kind, const QString& name) {
    auto recipe = *recipeOf(kind);
    const auto current = m_store->currentPath();
    const double size = roundSize(), power = powerBelow(size);
    const auto rounded = [&](const Vec3& v) { return Vec3((v / power).array().round() * power); };
    /// One digit, of the value's own size: never nothing.
    const auto round = [](double v) {
        const double p = std::pow(10, std::floor(std::log10(std::max(v, 1e-2))));
        return std::max(1e-2, std::round(v / p) * p);
    };
    PathItem item;
    item.name = name.toStdString();
    if (auto* s = std::get_if<ShapeRecipe>(&recipe)) {
        Vec3 at = m_view->camera().target;
        at.z() = 0;
        s->at = rounded(at);
        if (auto* x = std::get_if<CircleShape>(&s->shape)) x->radius = size;
        if (auto* x = std::get_if<EllipseShape>(&s->shape)) x->radiusX = size, x->radiusY = size / 2;
        if (auto* x = std::get_if<RectangleShape>(&s->shape))
            x->width = 2 * size, x->height = 1.2 * size, x->radius = size / 10;
        if (auto* x = std::get_if<SlotShape>(&s->shape)) x->length = 2 * size, x->width = size / 2;
        if (auto* x = std::get_if<PolygonShape>(&s->shape)) x->radius = size;
        if (auto* x = std::get_if<HelixShape>(&s->shape)) x->radius = x->radiusTop = size / 2, x->height = size;
        if (auto* x = std::get_if<ArcShape>(&s->shape))
            x->from = s->at - Vec3(size, 0, 0), x->via = s->at + Vec3(0, size / 2, 0), x->to = s->at + Vec3(size, 0, 0);
        if (auto* x = std::get_if<StraightShape>(&s->shape)) x->from = s->at - Vec3(size, 0, 0), x->length = 2 * size;
        if (auto* x = std::get_if<SwagShape>(&s->shape))
            x->from = s->at + Vec3(-size, 0, size), x->to = s->at + Vec3(size, 0, size), x->amount = size / 3;
        if (auto* x = std::get_if<WheelShape>(&s->shape)) {
            if (m_view->look() == Viewport::Look::Front) s->plane = Plane::Front;
            if (m_view->look() == Viewport::Look::Side) s->plane = Plane::Side;
            x->wheels[0].radius = size / 3;
            x->wheels[1] = {x->wheels[1].name, {1.5 * size, 0}, size / 6, 0, true};
        }
    } else {
        if (!current || !current->path)
            return showMessage(tr("Select a path first; the new one is made from it and follows it."));
        const double L = current->path->length();
        item.name = (QString(current->item->name.c_str()) + ", " + name.toLower()).toStdString();
        if (auto* d = std::get_if<DerivedRecipe>(&recipe)) {
            d->source = current->item->id;
            if (auto* x = std::get_if<OffsetOf>(&d->change))
                x->distance = round(L / 20); // of the path's own size, however far the view is
            if (auto* x = std::get_if<StretchOf>(&d->change)) x->from = 0, x->to = L / 2;
            if (auto* x = std::get_if<StartMoved>(&d->change)) x->station = L / 4;
            if (auto* x = std::get_if<MirroredAt>(&d->change)) x->point = rounded(current->path->at(0).point);
            if (auto* x = std::get_if<Resampled>(&d->change)) x->step = L / 20;
            if (auto* x = std::get_if<SmoothedBy>(&d->change)) x->reach = L / 20;
            if (auto* x = std::get_if<LiftedOver>(&d->change)) x->thickness = round(L / 400), x->ease = round(L / 50);
            if (kind == "start moved" && !current->path->closed())
                return showMessage(
                    tr("%1 is open: only a closed path can start elsewhere. Take a stretch of it instead.")
                        .arg(current->item->name.c_str()));
        } else if (auto* j = std::get_if<JoinedRecipe>(&recipe)) {
            j->members = {current->item->id};
        }
    }
    item.recipe = recipe;
    const Document d = with(m_store->document(), std::move(item));
    m_store->edit(d, tr("New %1").arg(name.toLower()));
    m_store->selectItem(Selection::Kind::Path, d.paths.back()->id);
}

void PathActions::movePath() {
    const auto path = m_store->currentPath();
    if (!path) return;
    Vec3 about = path->path ? path->path->bounds().center() : Vec3(Vec3::Zero());
    if (const auto* r = editablePoints(*path->item); r && m_store->selection().point >= 0)
        about = r->points[size_t(m_store->selection().point)].at;
    MoveDialog dialog(*path->item, about, m_store->document().unit, &m_window);
    if (dialog.exec() != QDialog::Accepted) return;
    m_store->change<PathItem>(path->item->id, tr("Move %1").arg(path->item->name.c_str()), {},
                              [&](PathItem& p) { p.recipe = dialog.recipe(); });
}

/// Two paths of one at the selected point. Runs keep the first; nothing vanishes.
void PathActions::breakPath() {
    const auto path = m_store->currentPath();
    const auto* r = path ? editablePoints(*path->item) : nullptr;
    const int at = m_store->selection().point;
    if (!r || at < 0) return showMessage(tr("Select a point of a drawn path first; the path is broken there."));
    breakAtPoint(*r, at);
}

/// The same between two points: the path gets a point there first, in the same step.
void PathActions::breakAt(double station) {
    const auto path = m_store->currentPath();
    const auto* r = path ? editablePoints(*path->item) : nullptr;
    if (!r || !path->path || path->problem) return;
    PointsRecipe with = *r;
    const size_t leg = legAt(*r, *path->path, station);
    PathPoint point{path->path->at(station).point,
                    with.points[leg].smooth || with.points[(leg + 1) % with.points.size()].smooth};
    for (int i : {int(leg), int(leg) + 1}) // on one of its points: that one
        if (const int k = i % int(with.points.size());
            (with.points[size_t(k)].at - point.at).norm() < tolerance::length)
            return breakAtPoint(with, k);
    with.points[leg].via.reset();
    with.points[leg].out.reset();
    with.points[(leg + 1) % with.points.size()].in.reset();
    with.points.insert(with.points.begin() + long(leg) + 1, point);
    breakAtPoint(with, int(leg) + 1);
}

void PathActions::breakAtPoint(PointsRecipe recipe, int at) {
    const auto path = m_store->currentPath();
    const int n = int(recipe.points.size());
    if (recipe.closed) { // opened, starting and ending at the point
        std::rotate(recipe.points.begin(), recipe.points.begin() + at, recipe.points.end());
        recipe.points.push_back(recipe.points.front());
        recipe.closed = false;
        m_store->change<PathItem>(path->item->id, tr("Open at point %1").arg(at + 1), {},
                                  [&](PathItem& i) { i.recipe = recipe; });
        return;
    }
    if (at == 0 || at + 1 == n)
        return showMessage(tr("The path ends at this point already. Choose one between its ends."));
    PathItem first = *path->item, second = *path->item;
    PointsRecipe a = recipe, b = recipe;
    a.points.erase(a.points.begin() + at + 1, a.points.end());
    b.points.erase(b.points.begin(), b.points.begin() + at);
    first.recipe = a;
    second.recipe = b;
    second.id = 0;
    Document d = with(m_store->document(), first);
    d = with(d, second);
    m_store->edit(d, tr("Break at point %1").arg(at + 1));
}

void PathActions::layPath(Id path, Id body) {
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

void PathActions::takeEdge(const EdgesRecipe& edges) {
    PathItem item;
    item.name = tr("Edge of %1").arg(QString::fromStdString(nameOf(m_store->document(), edges.part))).toStdString();
    item.recipe = edges;
    const Document d = with(m_store->document(), std::move(item));
    m_store->edit(d, tr("Edge of a part"));
    m_store->selectItem(Selection::Kind::Path, d.paths.back()->id);
}

} // namespace vicinal
