#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "app/sheet/run/spacing/gives_section.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/viewport.h"
#include "geometry/curves/edit.h"
#include "geometry/wheels/hull.h"
#include "layout/facing/facing.h"
#include "layout/spacing/limits.h"
#include "layout/vehicles/envelope.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include "model/recipes/cut_shape.h"
#include "parts/cuts/webs.h"
#include <QPainter>
#include <QPainterPath>

namespace vicinal {
namespace {} // namespace

void Viewport::pill(QPainter& p, const QPointF& at, const QString& text, const QColor& border,
                    const QColor& ink) const {
    drawPill(p, rect(), at, text, border, ink);
}

QString Viewport::infoText() const {
    const Unit unit = m_store.document().unit;
    if (const auto run = m_store.currentRun()) {
        if (!run->path || !run->placed || run->placed->count() == 0) return run->item->name.c_str();
        const auto& s = run->placed->stations();
        const auto [lo, hi] = std::minmax_element(s.begin(), s.end());
        const Unit u = unit == Unit::Millimetre ? Unit::Metre : unit;
        const auto number = [&](double mm) { return QString::number(mm / millimetresPer(u), 'f', 3); };
        return tr("%1 \u00b7 from %2 to %3 %4").arg(run->path->item->name.c_str(), number(*lo), number(*hi), nameOf(u));
    }
    if (const auto path = m_store.currentPath(); path && path->path)
        return tr("%1 \u00b7 %2 \u00b7 %3")
            .arg(path->item->name.c_str(), longLengthText(path->path->length(), unit),
                 path->path->closed() ? tr("closed") : tr("open"));
    return {};
}

void Viewport::paintPath(QPainter& p, const PathResult& result, const QColor& colour, double width) const {
    if (!result.path) return;
    const double sag = std::max(m_camera.scale() * 0.2, result.path->length() * 1e-6);
    QPainterPath line;
    bool pen = false;
    for (const Vec3& v : result.path->polyline(sag)) {
        const auto at = m_camera.project(v);
        if (!at || std::abs(at->x()) > 1e5 || std::abs(at->y()) > 1e5) {
            pen = false;
            continue;
        }
        if (pen)
            line.lineTo(pixel(*at));
        else
            line.moveTo(pixel(*at));
        pen = true;
    }
    QPen stroke(result.problem ? QColor("#a9aaa6") : colour, width, result.problem ? Qt::DashLine : Qt::SolidLine,
                Qt::RoundCap, Qt::RoundJoin);
    p.setPen(stroke);
    p.setBrush(Qt::NoBrush);
    p.drawPath(line);
}

/// Where a part is left out: a dashed outline round the room it had, wide enough to be seen on the thinnest one, so
/// that it does not look like a part that stands.
void Viewport::paintLeftOut(QPainter& p) const {
    int drawn = 0;
    for (const auto& run : shown().runs) {
        if (!run->placed || run->placed->present == int(run->placed->count()) || hides(*run)) continue;
        const bool current =
            m_store.selection().kind == Selection::Kind::Run && m_store.selection().id == run->item->id;
        for (size_t i = 0; i < run->placed->count() && drawn < 1000; ++i) {
            if (!run->placed->leftOut(i)) continue;
            std::vector<Vec3> corners;
            addCorners(*run, i, corners);
            std::vector<Vec2> points;
            for (const Vec3& c : corners)
                if (const auto at = m_camera.project(c); at && std::abs(at->x()) < 1e4 && std::abs(at->y()) < 1e4)
                    points.push_back(at->head<2>());
            if (points.size() < 8) continue;
            ++drawn;
            const bool selected = current && m_store.selection().places.count(int(i));
            QPainterPathStroker wider;
            wider.setWidth(7);
            wider.setJoinStyle(Qt::RoundJoin);
            QPainterPath hull;
            QPolygonF outline;
            for (size_t k : convexHull(points)) outline += {points[k].x(), points[k].y()};
            hull.addPolygon(outline);
            hull.closeSubpath();
            p.setPen(QPen(selected ? theme::accent() : theme::brick(), 1.3, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawPath(hull.united(wider.createStroke(hull)).simplified());
        }
    }
}

/// Teeth as long as the curvature, towards the outside of the bend: a bump or a kink is seen at once.
void Viewport::paintComb(QPainter& p, const Path& path) const {
    const int n = std::clamp(width() / 3, 60, 600);
    std::vector<double> stations;
    for (int i = 0; i <= n; ++i) stations.push_back(path.length() * i / n);
    const auto bend = curvatures(path, stations);
    double most = 0;
    for (const auto& k : bend) most = std::max(most, k.norm());
    if (!(most > 1e-12)) return;
    const double reach = m_camera.scale() * 70 / most; // the sharpest tooth is 70 pixels long
    QPainterPath tips;
    p.setPen(QPen(QColor(theme::ochre().red(), theme::ochre().green(), theme::ochre().blue(), 150), 1));
    bool pen = false;
    for (size_t i = 0; i < stations.size(); ++i) {
        const Vec3 at = path.at(stations[i]).point;
        const auto a = m_camera.project(at), b = m_camera.project(at - reach * bend[i]);
        if (!a || !b) {
            pen = false;
            continue;
        }
        p.drawLine(pixel(*a), pixel(*b));
        pen ? tips.lineTo(pixel(*b)) : tips.moveTo(pixel(*b));
        pen = true;
    }
    p.setPen(QPen(theme::ochre(), 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawPath(tips);
}

/// A ribbon from the path along its crown, with the roll of the run, and the axes of as many places as can be told
/// apart.
void Viewport::paintFrames(QPainter& p, const RunResult& run) const {
    const Placed& placed = *run.placed;
    const auto facing = resolved(run.item->facing, placed.path);
    if (!facing || placed.count() == 0) return;
    const double reach = 26 * m_camera.scale(), L = placed.path.length();
    Facing plain = *facing;
    plain.turn.setZero();
    if (!std::holds_alternative<AsDrawn>(plain.nose)) plain.nose = AlongPath{};
    const ProfileCurve roll(run.item->changes.roll, L, placed.path.closed(), 0);
    std::vector<double> stations;
    const int n = std::clamp(int(L / (4 * m_camera.scale())), 60, 600);
    for (int i = 0; i <= n; ++i) stations.push_back(L * i / n);
    std::vector<std::optional<std::pair<QPointF, QPointF>>> edges(stations.size());
    faceAt(placed.path, stations, plain, placed.laid->usedSlots[0].turn,
           [&](size_t i, const Vec3& at, const Vec3&, const Mat3& R) {
               const double r = roll.at(stations[i]);
               const Vec3 tip = at + reach * (std::cos(r) * R.col(2) - std::sin(r) * R.col(1));
               const auto a = m_camera.project(at), b = m_camera.project(tip);
               if (a && b) edges[i] = {pixel(*a), pixel(*b)};
           });
    QColor fill = theme::ochre();
    fill.setAlpha(46);
    QPen edge(theme::ochre(), 1);
    for (size_t i = 1; i < edges.size(); ++i) {
        if (!edges[i - 1] || !edges[i]) continue;
        p.setPen(Qt::NoPen);
        p.setBrush(fill);
        p.drawPolygon(QPolygonF{edges[i - 1]->first, edges[i]->first, edges[i]->second, edges[i - 1]->second});
        p.setPen(edge);
        p.drawLine(edges[i - 1]->second, edges[i]->second);
        if (i % 6 == 0) p.drawLine(edges[i]->first, edges[i]->second);
    }
    const size_t each = std::max<size_t>(1, placed.count() / 60);
    const std::pair<int, QColor> axes[] = {{0, theme::brick()}, {1, theme::moss()}, {2, QColor("#4a62ad")}};
    for (size_t i = 0; i < placed.count(); i += each) {
        const Frame& f = placed.frame(i);
        const auto from = m_camera.project(f.seat);
        if (!from) continue;
        for (const auto& [axis, colour] : axes)
            if (const auto to = m_camera.project(f.seat + 0.8 * reach * f.axes.col(axis))) {
                p.setPen(QPen(colour, 1.8));
                p.drawLine(pixel(*from), pixel(*to));
            }
    }
}

void Viewport::paintWheels(QPainter& p, const PathResult& path) const {
    const auto* recipe = std::get_if<ShapeRecipe>(&path.recipe()); // where they are now
    const auto* shape = recipe ? std::get_if<WheelShape>(&recipe->shape) : nullptr;
    if (!shape) return;
    const auto circles = circlesOf(*shape);
    p.setFont(theme::font(11, QFont::DemiBold));
    for (size_t i = 0; i < circles.size(); ++i) {
        const bool wrong = path.problem && path.problem->field == "wheel " + std::to_string(i + 1);
        QPolygonF rim;
        for (int k = 0; k < 96; ++k) {
            const double a = k * kPi / 48;
            if (const auto at = m_camera.project(
                    toSpace(*recipe, circles[i].centre + circles[i].radius * Vec2(std::cos(a), std::sin(a)))))
                rim << pixel(*at);
        }
        p.setPen(QPen(wrong ? theme::brick() : theme::muted(), wrong ? 2 : 1));
        const bool body =
            std::any_of(path.wheels.begin(), path.wheels.end(), [&](const WheelPlaced& w) { return w.wheel == i; });
        p.setBrush(body ? QBrush(Qt::NoBrush) : QBrush(QColor(214, 210, 197, 150)));
        if (!body || wrong) p.drawPolygon(rim);
        const auto middle = m_camera.project(toSpace(*recipe, circles[i].centre));
        if (!middle) continue;
        QString name = shape->wheels[i].name.c_str();
        if (shape->wheels[i].teeth > 0) name += QString(" %1").arg(shape->wheels[i].teeth);
        p.setPen(wrong ? theme::brick() : theme::ink());
        p.drawText(QRectF(pixel(*middle) + QPointF(-60, 8), QSizeF(120, 18)), Qt::AlignCenter, name);
    }
}

/// The room that vehicles sweep, as a band on the ground, with its worst reaches on both sides of a bend.
void Viewport::paintSwept(QPainter& p, const RunResult& run) const {
    const SweptEnvelope& all = *run.sweeps;
    const Path& path = run.placed->path;
    const auto beside = [&](double station, double to) -> std::optional<Vec3> { // to the left, level
        const Sample at = path.at(std::clamp(station, 0.0, path.length()));
        const Vec3 left(-at.tangent.y(), at.tangent.x(), 0);
        if (left.norm() < 1e-9) return std::nullopt;
        return m_camera.project(at.point + to * left.normalized());
    };
    QColor fill = theme::ochre();
    fill.setAlpha(48);
    QPainterPath left, right;
    std::optional<std::pair<QPointF, QPointF>> before;
    for (size_t i = 0; i < all.stations.size(); ++i) {
        const auto a = beside(all.stations[i], all.left[i]), b = beside(all.stations[i], -all.right[i]);
        if (!a || !b || all.left[i] + all.right[i] <= 0) {
            before.reset();
            continue;
        }
        const std::pair<QPointF, QPointF> now{pixel(*a), pixel(*b)};
        if (before) {
            p.setPen(Qt::NoPen);
            p.setBrush(fill);
            p.drawPolygon(QPolygonF{before->first, now.first, now.second, before->second});
            left.lineTo(now.first), right.lineTo(now.second);
        } else {
            left.moveTo(now.first), right.moveTo(now.second);
        }
        before = now;
    }
    p.setPen(QPen(theme::ochre(), 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawPath(left);
    p.drawPath(right);
    const Unit unit = m_store.document().unit;
    for (const auto& [worst, text] : {std::pair{&all.inside, tr("inside %1")}, {&all.outside, tr("outside %1")}}) {
        // On whichever side the band is as wide as that there.
        const size_t k =
            size_t(std::lower_bound(all.stations.begin(), all.stations.end(), worst->station) - all.stations.begin());
        const size_t i = std::min(k, all.stations.size() - 1);
        const double side = std::abs(all.left[i] - worst->reach) <= std::abs(all.right[i] - worst->reach) ? 1 : -1;
        const auto from = beside(worst->station, 0), to = beside(worst->station, side * worst->reach);
        if (!from || !to) continue;
        p.setPen(QPen(theme::ochre(), 1.4));
        p.drawLine(pixel(*from), pixel(*to));
        p.drawEllipse(pixel(*to), 2.5, 2.5);
        pill(p, pixel(*to) + QPointF(10, worst == &all.inside ? -26 : 6), text.arg(lengthText(worst->reach, unit)),
             theme::line(), theme::ink());
    }
}

/// How deep the strand that is not tight hangs, below the straight it would be.
void Viewport::paintHanging(QPainter& p, const PathResult& path) const {
    if (!path.loop || !path.loop->hangs || path.problem) return;
    const auto& shape = std::get<ShapeRecipe>(path.recipe());
    const auto from = m_camera.project(toSpace(shape, path.loop->hangs->above));
    const auto to = m_camera.project(toSpace(shape, path.loop->hangs->deepest));
    if (!from || !to) return;
    p.setPen(QPen(theme::accent(), 1.2, Qt::DashLine));
    p.drawLine(pixel(*from), pixel(*to));
    pill(p, pixel(*to) + QPointF(12, 8), tr("sag %1").arg(lengthText(path.loop->hangs->sag, m_store.document().unit)),
         theme::line(), theme::ink());
}

/// A bridge over every crossing, with its number; a click on it switches what is on top.
void Viewport::paintCrossings(QPainter& p, const PathResult& path) const {
    p.setFont(theme::font(11, QFont::DemiBold));
    for (size_t i = 0; i < path.crossings.size(); ++i) {
        const auto at = m_camera.project(path.crossings[i].at);
        if (!at) continue;
        const QPointF c = pixel(*at);
        p.setPen(QPen(theme::accent(), 1.6));
        p.setBrush(theme::paper());
        p.drawEllipse(c, 8, 8);
        p.drawText(QRectF(c.x() - 8, c.y() - 8, 16, 16), Qt::AlignCenter, QString::number(i + 1));
    }
}

/// The narrowest webs of what is cut, each where it is; the least with its width.
void Viewport::paintWebs(QPainter& p, const BodyResult& body) const {
    if (!body.cut || !body.ground || body.cut->webs.empty()) return;
    const auto* shape = std::get_if<CutBy>(&body.item->shape);
    const double least = shape ? shape->least : 0;
    constexpr size_t kShown = 12;
    const auto& webs = body.cut->webs;
    for (size_t i = std::min(webs.size(), least > 0 ? size_t(400) : kShown); i-- > 0;) {
        const Web& w = webs[i];
        const bool thin = least > 0 && w.width < least;
        if (!thin && i >= kShown) continue;
        const auto at = [&](const Vec2& q) {
            return m_camera.project(body.ground->turn() * body.cut->at(q) + body.ground->origin());
        };
        const auto from = at(w.from), to = at(w.to);
        if (!from || !to) continue;
        const QColor colour = thin ? theme::ochre() : theme::accent();
        const QPointF a = pixel(*from), b = pixel(*to);
        p.setPen(QPen(colour, thin ? 3 : 1.6));
        p.drawLine(a, b);
        p.setBrush(colour);
        p.setPen(Qt::NoPen);
        p.drawEllipse(a, 2, 2);
        p.drawEllipse(b, 2, 2);
        if (i == 0)
            pill(p, (a + b) / 2 + QPointF(12, -22),
                 tr("least web %1").arg(lengthText(w.width, m_store.document().unit)), colour, theme::ink());
    }
}

/// How far what gives way went: from where it stands in the document to where it came out.
void Viewport::paintGave(QPainter& p, const SolvedValue& gave) const {
    const QString text = gaveText(gave, m_store.document().unit);
    const auto from = gave.from ? m_camera.project(*gave.from) : std::nullopt;
    const auto to = gave.to ? m_camera.project(*gave.to) : std::nullopt;
    if (!from || !to) return pill(p, {12, 42}, text, theme::accent(), theme::accent());
    const QPointF a = pixel(*from), b = pixel(*to);
    const QPointF way = b - a;
    const double length = std::hypot(way.x(), way.y());
    p.setPen(QPen(theme::accent(), 1.4, Qt::DashLine));
    if (length > 1) { // the line it moves on, a little beyond both ends
        const QPointF d = way / length;
        p.drawLine(a - 24 * d, b + 24 * d);
        p.setPen(Qt::NoPen);
        p.setBrush(theme::accent());
        const QPointF side(-d.y(), d.x());
        p.drawPolygon(QPolygonF{b + 8 * d, b - 2 * d + 5 * side, b - 2 * d - 5 * side});
    }
    p.setPen(QPen(theme::accent(), 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(a, 3, 3);
    pill(p, b + QPointF(14, -40), text, theme::accent(), theme::accent());
}

/// How far a soft drag reaches: the stretch that follows, thinning out.
void Viewport::paintSoftReach(QPainter& p, const PathResult& path) const {
    const double reach = m_store.softReach();
    const auto* points = editablePoints(*path.item);
    const int index = m_store.selection().point;
    if (!(reach > 0) || !points || index < 0 || index >= int(points->points.size()) || !path.path) return;
    const double L = path.path->length(), s0 = path.path->closest(points->points[size_t(index)].at);
    for (int i = -40; i < 40; ++i) {
        double s = s0 + reach * (i + 0.5) / 40;
        if (path.path->closed())
            s = std::fmod(s + 2 * L, L);
        else if (s < 0 || s > L)
            continue;
        const double x = (i + 0.5) / 40, w = (1 - x * x) * (1 - x * x);
        if (const auto at = m_camera.project(path.path->at(s).point)) {
            QColor c = theme::accent();
            c.setAlphaF(float(0.45 * w));
            p.setPen(Qt::NoPen);
            p.setBrush(c);
            p.drawEllipse(pixel(*at), 2 + 6 * w, 2 + 6 * w);
        }
    }
}

void Viewport::paintPlaceLabel(QPainter& p) const {
    const auto run = m_store.currentRun();
    const auto& places = m_store.selection().places;
    if (!run || !run->placed || places.empty() || m_edit->dragging()) return;
    const Places& all = *run->placed;
    const int first = *places.begin();
    const auto at = m_camera.project(all.frame(size_t(first)).seat);
    if (!at) return;
    const Unit unit = m_store.document().unit;
    QString text = tr("place %1").arg(first + 1);
    if (places.size() > 1) text = tr("%1 places from %2").arg(places.size()).arg(first + 1);
    if (all.leftOut(size_t(first))) text += tr(" \u00b7 left out");
    if (all.count() > 1) text += tr(" \u00b7 c/c %1").arg(lengthText(all.laid->pitch, unit, false));
    for (const Gap& g : all.gaps)
        if (g.from == first && g.to != first && !isLinked(run->item->spacing))
            text += tr(" \u00b7 gap along %1").arg(lengthText(g.clear(), unit, false));
    pill(p, pixel(*at) + QPointF(14, 22), text, theme::accent(), theme::accent());
}

void Viewport::paintAxes(QPainter& p) const {
    const QPointF origin(46, height() - 44);
    const std::pair<Vec3, QColor> axes[] = {
        {Vec3::UnitX(), theme::brick()}, {Vec3::UnitY(), theme::moss()}, {Vec3::UnitZ(), QColor("#4a62ad")}};
    const char* names[] = {"x", "y", "z"};
    p.setFont(theme::font(12));
    for (int i = 0; i < 3; ++i) {
        const Vec3& axis = axes[i].first; // as the shifted lens shows it
        const QPointF d(axis.dot(m_camera.right()),
                        std::tan(m_camera.shift()) * axis.dot(m_camera.back()) - axis.dot(m_camera.up()));
        if (std::hypot(d.x(), d.y()) < 0.08) continue;
        p.setPen(QPen(axes[i].second, 1.6));
        p.drawLine(origin, origin + d * 28);
        p.drawText(QRectF(origin + d * 37 - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, names[i]);
    }
}

void Viewport::paintOverlay(QPainter& p) const {
    const auto current = m_store.currentPath();
    for (const auto& [id, path] : m_store.evaluation().paths)
        if (path != current && !hides(*path)) paintPath(p, *path, QColor(120, 130, 128, 120), 1.2);
    if (current) {
        paintWheels(p, *current);
        for (const auto& part : current->lost) // what the offset could not keep
            if (const auto lost = Path::make(part.segments, part.closed, 1e-3)) {
                PathResult grey;
                grey.path = *lost;
                grey.problem = Problem{};
                paintPath(p, grey, theme::muted(), 1.4);
            }
        if (m_comb && current->path) paintComb(p, *current->path);
        paintHanging(p, *current);
        if (current->gave) paintGave(p, *current->gave);
        paintSoftReach(p, *current);
        paintPath(p, *current, theme::accent(), 2.2);
        paintCrossings(p, *current);
    }
    if (const auto body = m_store.currentBody()) paintWebs(p, *body);
    if (const auto run = m_store.currentRun(); run && !drawing()) paintChecks(p, *run);
    if (const auto run = m_store.currentRun(); run && run->sweeps && run->placed && !run->stale()) paintSwept(p, *run);
    if (const auto run = m_store.currentRun(); m_frames && run && run->placed) paintFrames(p, *run);
    paintLeftOut(p);
    paintPlaceLabel(p);
    paintAxes(p);
    const QString info = infoText();
    if (m_tool == m_edit.get() && !info.isEmpty()) pill(p, {12, 10}, info, theme::line(), theme::ink());
    if (const auto run = m_store.currentRun(); run && run->problem && !drawing()) {
        const QString text = QString("\u2715  ") + m_store.say(run->problem->text);
        pill(p, {12, 42}, text, theme::brick(), theme::brick());
        if (run->placed)
            pill(p, {12, 73}, tr("Shown in grey: the last result that worked"), theme::line(), theme::muted());
    } else if (current && current->problem && !drawing()) {
        pill(p, {12, 42}, QString("\u2715  ") + m_store.say(current->problem->text), theme::brick(), theme::brick());
    }
    m_tool->paint(p);
}

} // namespace vicinal
