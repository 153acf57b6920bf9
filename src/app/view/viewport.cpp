#include "app/view/viewport.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "app/state/checks.h"
#include "app/state/clock.h"
#include "app/view/motion_bar.h"
#include "app/view/overlays/overlay.h"
#include "app/view/pick.h"
#include "app/view/picture.h"
#include "app/view/toolbox.h"
#include "app/view/tools/draw_bar.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/tools/tool.h"
#include "app/view/view_scene.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/verdicts/sight.h"
#include <QGuiApplication>
#include <QPainter>
#include <QResizeEvent>
#include <QTimer>
#include <cmath>
#include <utility>

namespace vicinal {

Viewport::Viewport(Store& store, QWidget* parent)
    : QWidget(parent), m_store(store), m_tools(std::make_unique<Toolbox>(*this)), m_clock(new Clock(store, this)),
      m_scene(std::make_unique<ViewScene>(store, *m_clock)) {
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
            m_scene->refresh(renderer, m_camera, planeNormal(m_look), m_look == Look::Free ? 26 : 40);
            std::vector<Vec3> drawn;
            if (m_tools->drawing())
                for (const auto& p : m_tools->draw().pen().points) drawn.push_back(p.at);
            renderer.draw(m_camera, m_scene->bounds(m_camera, drawn), m_moving);
        };
    }
    m_overlays = overlaysOf(*this);
    m_overlay = new Overlay(this, "view.overlay", [this](QPainter& p) {
        for (const auto& overlay : m_overlays) overlay->paint(p);
        m_tools->inHand().paint(p);
    });
    m_bar = new DrawBar(*this, this);
    m_bar->hide();
    m_motion = new MotionBar(*m_clock, this);
    connect(m_clock, &Clock::moved, this, [this] {
        m_scene->bodiesChanged();
        moved(!m_clock->playing());
    });
    m_settle = new QTimer(this);
    m_settle->setSingleShot(true);
    m_settle->setInterval(180);
    connect(m_settle, &QTimer::timeout, this, [this] { moved(true); });
    connect(&store, &Store::documentChanged, this, &Viewport::documentChanged);
    connect(&store, &Store::selectionChanged, this, [this] {
        m_scene->bodiesChanged();
        moved(true);
    });
    connect(&store, &Store::loaded, this, [this] { m_framed = false; });
    connect(&store.checks(), &Checks::changed, this, [this] { // verdicts came
        if (!m_scene->tintsOthers()) return repaintOverlay();
        m_scene->bodiesChanged();
        moved(!m_moving);
    });
    connect(&store.checks(), &Checks::shownChanged, this, [this] { // a state that was kept may be drawn
        if (m_store.checks().kept() || m_scene->ghosts()) m_scene->bodiesChanged();
        moved(!m_moving);
    });
    connect(&store.checks(), &Checks::goWanted, this, [this](const CheckResult& r, const CheckedPlace& place) {
        if (const auto run = m_store.currentRun()) lookAt(sightOf(m_store.evaluation(), *run, r, place));
    });
}

Viewport::~Viewport() { delete m_canvas; }

const Evaluation& Viewport::shown() const { return m_clock->shown(); }

void Viewport::documentChanged() {
    m_scene->bodiesChanged();
    m_bar->refresh(); // the unit may be another
    m_scene->measure();
    if (!m_framed && (!m_store.document().paths.empty() || !m_store.document().bodies.empty())) frameAll();
    moved(true);
}

void Viewport::moved(bool still) {
    if (m_tools->drawing() || m_previewed) {
        m_previewed = m_tools->drawing();
        emit previewChanged();
    }
    m_moving = !still;
    if (!still) m_settle->start();
    if (m_canvas) m_canvas->update();
    m_overlay->update();
}

void Viewport::cameraMoved() {
    m_scene->gridChanged();
    moved();
}

void Viewport::repaintOverlay() { m_overlay->update(); }

QImage Viewport::picture() {
    if (!m_canvas || !m_noGl.isEmpty()) return {};
    m_scene->setPlain(true);
    const bool moving = std::exchange(m_moving, false);
    const QImage out = m_canvas->grabFramebuffer();
    m_scene->setPlain(false);
    m_moving = moving;
    return out;
}

void Viewport::setLook(Look look) {
    if (m_tools->picksFace()) m_tools->draw().setFace(std::nullopt); // a plane was chosen instead
    m_look = look;
    m_camera.look(int(look));
    frameAll();
    emit lookChanged();
}

void Viewport::setParallel(bool on) {
    m_camera.parallel = on;
    m_scene->gridChanged();
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

void Viewport::lookAt(const Sight& sight) {
    m_look = Look::Free;
    m_camera.parallel = false;
    const Vec3 way = sight.toEye.normalized();
    m_camera.yaw = std::atan2(way.y(), way.x());
    m_camera.pitch = std::clamp(std::asin(std::clamp(way.z(), -1.0, 1.0)), -89 * kDegree, 89 * kDegree);
    m_camera.target = sight.at;
    m_camera.distance = std::max(20.0, 1.15 * sight.radius / std::tan(Camera::kFieldOfView / 2));
    m_framed = true;
    m_scene->gridChanged();
    moved(true);
    emit lookChanged();
}

QImage Viewport::pictureOf(const Delivery& d, const PictureOrder& order, QSize size, double turned) {
    if (!m_canvas || !m_noGl.isEmpty()) return {};
    const QImage out = vicinal::pictureOf(*m_canvas, shown(), d, order, size, turned);
    m_scene->bodiesChanged(); // the view's own scene comes back
    m_scene->gridChanged();
    m_canvas->update();
    return out;
}

void Viewport::frameAll() {
    m_framed = true;
    m_camera.frame(m_scene->points());
    m_scene->gridChanged();
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
    m_scene->gridChanged();
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
