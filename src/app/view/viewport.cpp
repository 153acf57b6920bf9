#include "app/view/viewport.h"
#include "app/controls/rounding.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "app/state/checks.h"
#include "app/state/clock.h"
#include "app/view/motion_bar.h"
#include "app/view/overlays/overlay.h"
#include "app/view/tools/draw_bar.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/tools/edit_tool.h"
#include "app/view/tools/look_tool.h"
#include "app/view/tools/pick_tools.h"
#include "model/document/body_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/recipes/body_shape.h"
#include "model/verdicts/sight.h"
#include <QGuiApplication>
#include <QPainter>
#include <QResizeEvent>
#include <QTimer>
#include <cmath>
#include <utility>

namespace vicinal {

Viewport::Viewport(Store& store, QWidget* parent)
    : QWidget(parent), m_store(store), m_lookRound(std::make_unique<LookTool>(*this)),
      m_edit(std::make_unique<EditTool>(*this)), m_draw(std::make_unique<DrawTool>(*this)),
      m_edge(std::make_unique<EdgeTool>(*this)), m_face(std::make_unique<FaceTool>(*this)), m_tool(m_edit.get()) {
    setObjectName("view");
    setAccessibleName(tr("View"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 180);
    if (QGuiApplication::platformName() == "offscreen")
        m_noGl = tr("This screen cannot show OpenGL, so parts are not drawn. Everything else works.");
    else {
        m_canvas = new GlCanvas(this, "view.canvas");
        m_canvas->failed = [this](const QString& why) {
            m_noGl = why;
            update();
        };
        m_canvas->shown = [this] { emit firstFrame(); };
        m_canvas->paint = [this](SceneRenderer& renderer) {
            if (m_sceneDirty) rebuildScene();
            if (m_gridDirty) rebuildGrid();
            renderer.draw(m_camera, drawnBounds(), m_moving);
        };
    }
    m_overlays = overlaysOf(*this);
    m_overlay = new Overlay(this, "view.overlay", [this](QPainter& p) { paintOverlay(p); });
    m_bar = new DrawBar(*this, this);
    m_bar->hide();
    m_clock = new Clock(store, this);
    m_motion = new MotionBar(*m_clock, this);
    connect(m_clock, &Clock::moved, this, [this] {
        m_sceneDirty = true;
        moved(!m_clock->playing());
    });
    m_settle = new QTimer(this);
    m_settle->setSingleShot(true);
    m_settle->setInterval(180);
    connect(m_settle, &QTimer::timeout, this, [this] { moved(true); });
    connect(&store, &Store::documentChanged, this, &Viewport::documentChanged);
    connect(&store, &Store::selectionChanged, this, [this] {
        m_sceneDirty = true;
        moved(true);
    });
    connect(&store, &Store::loaded, this, [this] { m_framed = false; });
    connect(&store.checks(), &Checks::changed, this, &Viewport::checked);
    connect(&store.checks(), &Checks::shownChanged, this, [this] { // a state that was kept may be drawn
        m_sceneDirty = m_sceneDirty || m_store.checks().kept() || m_ghosts;
        moved(!m_moving);
    });
    connect(&store.checks(), &Checks::goWanted, this, [this](const CheckResult& r, const CheckedPlace& place) {
        if (const auto run = m_store.currentRun()) lookAt(sightOf(m_store.evaluation(), *run, r, place));
    });
}

Viewport::~Viewport() { delete m_canvas; }

const Evaluation& Viewport::shown() const { return m_clock->shown(); }

bool Viewport::hides(const Standing& s) const { return s.hidden && m_store.selection().id != s.id; }
bool Viewport::hides(const PathResult& p) const { return p.item->hidden && m_store.currentPath().get() != &p; }

void Viewport::documentChanged() {
    m_sceneDirty = true;
    m_bar->refresh(); // the unit may be another
    measureContent();
    if (!m_framed && (!m_store.document().paths.empty() || !m_store.document().bodies.empty())) frameAll();
    moved(true);
}

void addBatches(const Standing& of, std::vector<QRgb> colours, std::vector<Batch>& to) {
    const auto& parts = *of.placedParts;
    const auto all = of.instances; // kept as long as it is drawn
    if (parts.size() == 1) {
        to.push_back({parts[0].mesh, [all](size_t i) { return all->pose(i); }, std::move(colours)});
        return;
    }
    for (size_t slot = 0; slot < parts.size(); ++slot) {
        std::vector<size_t> which;
        std::vector<QRgb> tones;
        for (size_t i = 0; i < all->bodies(); ++i)
            if (all->slot(i) == slot) which.push_back(i), tones.push_back(colours[i]);
        to.push_back({parts[slot].mesh, [all, which = std::move(which)](size_t i) { return all->pose(which[i]); },
                      std::move(tones)});
    }
}

void addCorners(const Standing& of, size_t body, std::vector<Vec3>& to) {
    addCorners(of.instances->pose(body), of.partAt(body).mesh->box, to);
}

void Viewport::moved(bool still) {
    if (drawing() || m_previewed) {
        m_previewed = drawing();
        emit previewChanged();
    }
    m_moving = !still;
    if (!still) m_settle->start();
    if (m_canvas) m_canvas->update();
    m_overlay->update();
}

void Viewport::cameraMoved() {
    m_gridDirty = true;
    moved();
}

void Viewport::repaintOverlay() { m_overlay->update(); }

/// Site bodies are quieter than parts: stone with a breath of their colour.
QColor siteTone(int colour) {
    const QColor c = theme::run(colour);
    return QColor::fromHslF(c.hslHueF(), c.hslSaturationF() * 0.12f, 0.74f);
}

void Viewport::rebuildScene() {
    m_sceneDirty = false;
    m_tinted.clear();
    const Box3 bounds = contentBounds();
    if (!bounds.isEmpty()) m_origin = bounds.center();
    std::vector<Batch> batches;
    const Selection& selection = m_store.selection();
    for (const auto& of : shown().standing()) {
        if (!of->instances || hides(*of)) continue;
        const Instances& all = *of->instances;
        const RunResult* run = of->asRun();
        const BodyResult* site = of->asBody();
        const bool current = selection.id == of->id && !site &&
                             (selection.kind == Selection::Kind::Run || selection.kind == Selection::Kind::Heap);
        const bool body = site && selection.items().count(of->id);
        QColor base = theme::run(of->colour);
        // Parts keep a quiet tone of their run's colour, so that what is selected stands out.
        base = QColor::fromHslF(base.hslHueF(), base.hslSaturationF() * 0.22f, 0.62f);
        if (site) base = siteTone(of->colour);
        if (body) base = theme::accentTint();
        if (run && selection.kind == Selection::Kind::Part && selection.id == run->item->part) { // in hand
            const QColor a = theme::accent();
            const auto mix = [](int x, int y) { return (65 * x + 35 * y) / 100; };
            base = QColor(mix(base.red(), a.red()), mix(base.green(), a.green()), mix(base.blue(), a.blue()));
        }
        if (run && run->stale()) base = QColor("#c3c2bd");
        if (site && site->item->seeThrough) base.setAlpha(90);
        std::vector<QRgb> colours(all.bodies(), base.rgba());
        for (size_t i = 0; i < colours.size(); ++i)
            if (all.leftOut(i)) colours[i] = (theme::brick().rgb() & 0xffffff);
        if (run) tintBroken(*run, colours);
        if (current) {
            const auto pick = [&](size_t i) {
                colours[i] = all.leftOut(i) && !run ? 0
                             : all.leftOut(i)       ? (theme::accent().rgb() & 0xffffff)
                                                    : theme::accent().rgba();
            };
            for (int i : selection.places)
                if (size_t(i) < colours.size()) pick(size_t(i));
            for (size_t i = all.count(); i < all.bodies(); ++i) // what a place stands on goes with it
                if (selection.places.count(int(all.placeOf(i)))) pick(i);
        }
        addBatches(*of, std::move(colours), batches);
        if (site) batches.back().ground = isGround(site->item->shape);
    }
    for (const auto& [id, path] : m_store.evaluation().paths) {
        if (path->wheels.empty() || hides(*path)) continue;
        const auto wheels = wheelsOf(shown(), *path);
        std::vector<QRgb> colours(path->wheels.size(), QColor(path->problem ? "#c3c2bd" : "#cfcbbd").rgba());
        if (m_store.currentPath() == path && !path->problem)
            for (size_t i = 0; i < colours.size(); ++i)
                if (m_store.selection().point == int(path->wheels[i].wheel)) colours[i] = theme::accentTint().rgba();
        addBatches(*wheels, std::move(colours), batches);
    }
    addGhosts(batches);
    m_canvas->renderer().setScene(std::move(batches), m_origin);
    m_gridDirty = true;
}

QImage Viewport::picture() {
    if (!m_canvas || !m_noGl.isEmpty()) return {};
    m_plain = m_gridDirty = m_sceneDirty = true;
    const bool moving = std::exchange(m_moving, false);
    const QImage out = m_canvas->grabFramebuffer();
    m_plain = false;
    m_moving = moving;
    m_gridDirty = true;
    return out;
}

void Viewport::rebuildGrid() {
    m_gridDirty = false;
    if (m_plain) return m_canvas->renderer().setGrid({}, theme::gridLine(), 1);
    // Lines at 1, 2 or 5 times a power of ten, about 90 pixels apart, in the plane that is looked at.
    m_gridStep = roundStep(m_camera.scale() * 90);
    const Vec3 n = planeNormal();
    const Vec3 a = n.z() > 0.5 || n.y() < -0.5 ? Vec3::UnitX() : Vec3::UnitY();
    const Vec3 b = n.cross(a);
    const Vec3 foot = m_camera.target - n * m_camera.target.dot(n);
    const double ca = std::round(foot.dot(a) / m_gridStep), cb = std::round(foot.dot(b) / m_gridStep);
    std::vector<Vec3> ends;
    const int count = 40;
    for (int i = -count; i <= count; ++i) {
        for (int k = -count; k < count; k += 10) { // in pieces, so that the fading shows
            ends.push_back(a * (ca + i) * m_gridStep + b * (cb + k) * m_gridStep);
            ends.push_back(a * (ca + i) * m_gridStep + b * (cb + k + 10) * m_gridStep);
            ends.push_back(b * (cb + i) * m_gridStep + a * (ca + k) * m_gridStep);
            ends.push_back(b * (cb + i) * m_gridStep + a * (ca + k + 10) * m_gridStep);
        }
    }
    m_canvas->renderer().setGrid(ends, theme::gridLine(), m_gridStep * (m_look == Look::Free ? 26 : 40));
}

void Viewport::measureContent() {
    m_points.clear();
    for (const auto& [id, p] : m_store.evaluation().paths)
        if (p->path && !p->item->hidden)
            for (const Vec3& v : p->path->polyline(p->path->length() / 300)) m_points.push_back(v);
    for (const auto& of : m_store.evaluation().standing()) {
        if (!of->instances || of->hidden) continue;
        const size_t step = std::max<size_t>(1, of->count() / 200);
        for (size_t i = 0; i < of->count(); i += step) addCorners(*of, i, m_points);
    }
    m_content = Box3();
    for (const Vec3& v : m_points) m_content.extend(v);
}

Box3 Viewport::drawnBounds() const {
    Box3 box = contentBounds();
    if (box.isEmpty()) box.extend(m_camera.target);
    const Vec3 reach = Vec3::Constant(m_gridStep * 20);
    box.extend(Vec3(m_camera.target - Vec3(reach.x(), reach.y(), 0)));
    box.extend(Vec3(m_camera.target + Vec3(reach.x(), reach.y(), 0)));
    if (drawing())
        for (const auto& p : m_draw->pen().points) box.extend(p.at);
    const Vec3 margin = box.diagonal() * 0.02 + Vec3::Constant(1);
    return Box3(box.min() - margin, box.max() + margin);
}

void Viewport::setLook(Look look) {
    if (picksFace()) m_draw->setFace(std::nullopt); // a plane was chosen instead
    m_look = look;
    m_camera.look(int(look));
    frameAll();
    emit lookChanged();
}

void Viewport::setParallel(bool on) {
    m_camera.parallel = on;
    m_gridDirty = true;
    moved(true);
    emit lookChanged();
}

void Viewport::setComb(bool on) {
    m_comb = on;
    moved(true);
}

void Viewport::setFrames(bool on) {
    m_frames = on;
    moved(true);
}

void Viewport::frameAll() {
    m_framed = true;
    m_camera.frame(m_points);
    m_gridDirty = true;
    moved(true);
}

void Viewport::frameSelection() {
    std::vector<Vec3> points;
    const Selection& s = m_store.selection();
    if (const auto of = m_store.currentStanding(); of && of->instances) {
        if (s.places.empty())
            for (size_t i = 0; i < of->count(); ++i) addCorners(*of, i, points);
        else
            for (int i : s.places) addCorners(*of, size_t(i), points);
    } else if (s.kind == Selection::Kind::Part) { // where it stands
        for (const auto& r : m_store.evaluation().runs) {
            if (!r->placed) continue;
            for (size_t i = 0; i < r->placed->count(); ++i)
                if (r->placed->part(i).id == s.id) addCorners(*r, i, points);
        }
    } else if (const auto path = m_store.currentPath(); path && path->path) {
        points = path->path->polyline(path->path->length() / 300);
    }
    if (points.empty()) return frameAll();
    m_camera.frame(points);
    m_gridDirty = true;
    moved(true);
}

void Viewport::resizeEvent(QResizeEvent* e) {
    if (m_canvas) m_canvas->setGeometry(rect());
    m_overlay->setGeometry(rect());
    m_bar->place();
    m_motion->place();
    m_camera.width = e->size().width();
    m_camera.height = e->size().height();
    if (!e->oldSize().isValid() || e->oldSize().width() < 50) frameAll();
}

void Viewport::paintEvent(QPaintEvent*) {
    if (m_canvas && m_noGl.isEmpty()) return;
    QPainter p(this);
    QLinearGradient sky(0, 0, 0, height());
    sky.setColorAt(0, theme::skyTop());
    sky.setColorAt(1, theme::skyBottom());
    p.fillRect(rect(), sky);
    p.setPen(theme::muted());
    p.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap, m_noGl);
}

} // namespace vicinal
