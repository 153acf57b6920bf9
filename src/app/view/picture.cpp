#include "app/view/picture.h"
#include "app/controls/rounding.h"
#include "app/controls/theme.h"
#include "app/view/view_scene.h"
#include "model/delivery/delivery.h"
#include "model/delivery/orders.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/recipes/body_shape.h"
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions>
#include <QPainter>

namespace vicinal {

namespace {

bool wanted(const Delivery& d, Id id) {
    return d.what.empty() || std::find(d.what.begin(), d.what.end(), id) != d.what.end();
}

void paintNumbers(QPainter& p, const Camera& camera, const Standings& all) {
    p.setFont(theme::font(std::max(11, int(camera.height / 70))));
    const QFontMetricsF metrics(p.font());
    p.setPen(theme::ink());
    std::vector<QRectF> taken;
    for (const auto& of : all) {
        if (of->asBody()) continue;
        of->eachInstance([&](const Instance& i) {
            if (!i.own || taken.size() >= 2000) return false;
            const auto at = camera.project(i.frame().seat);
            if (!at) return true;
            const QString text = QString::number(i.place + 1);
            const QRectF box(at->x() + 4, at->y() - metrics.height(), metrics.horizontalAdvance(text),
                             metrics.height());
            if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& t) { return t.intersects(box); }))
                return true;
            taken.push_back(box);
            p.drawText(box, text);
            return true;
        });
    }
}

/// Moved out to the room a turntable takes from every side, so that it does not breathe.
std::vector<Vec3> allRound(const std::vector<Vec3>& points) {
    Box3 box;
    for (const Vec3& p : points) box.extend(p);
    const double r = Vec2(box.sizes().x(), box.sizes().y()).norm() / 2;
    const Vec3 c = box.center();
    std::vector<Vec3> out;
    for (int k = 0; k < 24; ++k)
        for (double z : {box.min().z(), box.max().z()})
            out.push_back({c.x() + r * std::cos(k * kPi / 12), c.y() + r * std::sin(k * kPi / 12), z});
    return out;
}

/// Lines of a ground grid, a step apart.
std::vector<Vec3> gridRound(const Vec3& middle, double step, double ground) {
    const double cx = std::round(middle.x() / step), cy = std::round(middle.y() / step);
    std::vector<Vec3> grid;
    for (int i = -20; i <= 20; ++i)
        for (int k = -20; k < 20; k += 5) {
            grid.push_back({(cx + i) * step, (cy + k) * step, ground});
            grid.push_back({(cx + i) * step, (cy + k + 5) * step, ground});
            grid.push_back({(cx + k) * step, (cy + i) * step, ground});
            grid.push_back({(cx + k + 5) * step, (cy + i) * step, ground});
        }
    return grid;
}

QColor toneIn(const Standing& of, const PictureOrder& order) {
    if (of.kind == Standing::Kind::Wheels) return QColor("#cfcbbd");
    if (const BodyResult* site = of.asBody()) {
        QColor tone = siteTone(of.colour);
        if (site->item->seeThrough) tone.setAlpha(90);
        return tone;
    }
    const QColor base = theme::run(of.colour);
    return QColor::fromHslF(base.hslHueF(), base.hslSaturationF() * (order.soft ? 0.22f : 0.4f), 0.62f);
}

/// What a picture shows: bodies, paths, and the points that must lie in it.
struct PictureScene {
    Standings all;
    std::vector<Batch> batches;
    std::vector<Vec3> points;
    std::vector<std::vector<Vec3>> lines;
};

PictureScene sceneOf(const Evaluation& shown, const Delivery& d, const PictureOrder& order) {
    PictureScene out;
    for (const auto& of : shown.standing())
        if (wanted(d, of->id) && !(d.what.empty() && of->hidden) && of->present() > 0) out.all.push_back(of);
    for (const auto& of : withWheels(out.all)) {
        const BodyResult* site = of->asBody();
        const Instances& placed = *of->instances;
        std::vector<QRgb> colours(placed.bodies(), toneIn(*of, order).rgba());
        for (size_t i = 0; i < colours.size(); ++i)
            if (placed.leftOut(i)) colours[i] = 0;
        addBatches(*of, std::move(colours), out.batches);
        if (site) out.batches.back().ground = isGround(site->item->shape);
        const size_t step = std::max<size_t>(1, placed.count() / 400);
        for (size_t i = 0; i < placed.count(); i += step)
            if (!placed.leftOut(i)) addCorners(*of, i, out.points);
    }
    for (const auto& [id, path] : shown.paths) {
        const bool own =
            std::ranges::any_of(out.all, [&](const auto& s) { return s->asRun() && s->asRun()->path == path; });
        const bool asked = !d.what.empty() && wanted(d, id); // also when it is hidden else
        if (!path->path || (path->item->hidden && !asked) || !(d.what.empty() || own || asked)) continue;
        if (!order.handles && !out.all.empty()) continue;
        out.lines.push_back(path->path->polyline(path->path->length() / 2000));
        out.points.insert(out.points.end(), out.lines.back().begin(), out.lines.back().end());
    }
    return out;
}

/// Into a picture of its own; null where that cannot be had.
QImage drawnScene(GlCanvas& canvas, std::vector<Batch> batches, const Camera& camera, Box3 bounds,
                  const PictureOrder& order, QSize size) {
    canvas.makeCurrent();
    QOpenGLFramebufferObjectFormat format;
    format.setSamples(4);
    format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
    QOpenGLFramebufferObject target(size, format);
    if (!target.isValid() || !target.bind()) {
        canvas.doneCurrent();
        return {};
    }
    auto* gl = QOpenGLContext::currentContext()->functions();
    gl->glViewport(0, 0, size.width(), size.height());
    gl->glClearColor(0, 0, 0, 0);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    SceneRenderer& renderer = canvas.renderer();
    const Vec3 middle = bounds.center();
    renderer.setScene(std::move(batches), middle);
    if (order.grid) {
        const double step = roundStep(camera.scale() * size.height() / 8), ground = std::min(0.0, bounds.min().z());
        bounds.extend(Vec3(middle.x() - 20 * step, middle.y() - 20 * step, ground));
        bounds.extend(Vec3(middle.x() + 20 * step, middle.y() + 20 * step, ground));
        renderer.setGrid(gridRound(middle, step, ground), theme::gridLine(), 14 * step);
    } else {
        renderer.setGrid({}, theme::gridLine(), 1);
    }
    renderer.setLook(order.background, order.soft);
    renderer.draw(camera, bounds, false);
    renderer.setLook(true, true);
    target.release();
    QImage out = target.toImage();
    canvas.doneCurrent();
    return out;
}

} // namespace

QImage pictureOf(GlCanvas& canvas, const Evaluation& all, const Delivery& d, const PictureOrder& order, QSize size,
                 double turned) {
    if (!canvas.isValid() || size.isEmpty()) return {};
    PictureScene scene = sceneOf(all, d, order);
    std::vector<Vec3>& points = scene.points;
    if (points.empty()) return {};
    Camera camera;
    camera.width = size.width();
    camera.height = size.height();
    camera.yaw = order.heading + turned;
    camera.pitch = std::clamp(order.pitch, -89 * kDegree, 89 * kDegree);
    camera.parallel = order.parallel;
    if (order.of == PictureOf::Turntable) points = allRound(points);
    camera.frame(points);
    Box3 bounds;
    for (const Vec3& p : points) bounds.extend(p);
    bounds = Box3(bounds.min() - bounds.diagonal() * 0.1 - Vec3::Constant(1),
                  bounds.max() + bounds.diagonal() * 0.1 + Vec3::Constant(1));
    QImage out = drawnScene(canvas, std::move(scene.batches), camera, bounds, order, size);
    if (out.isNull()) return {};
    if (order.background) out = out.convertToFormat(QImage::Format_RGB32);
    if (!scene.lines.empty() || order.labels) {
        QPainter p(&out);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(theme::accent(), std::max(1.5, size.height() / 500.0)));
        for (const auto& line : scene.lines) {
            QPolygonF shown;
            for (const Vec3& v : line)
                if (const auto at = camera.project(v)) shown += QPointF(at->x(), at->y());
            p.drawPolyline(shown);
        }
        if (order.labels) paintNumbers(p, camera, scene.all);
    }
    return out;
}

} // namespace vicinal
