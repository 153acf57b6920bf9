#include "app/render/gl_canvas.h"
#include "app/controls/theme.h"
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <QPainter>
#include <QTimer>

namespace vicinal {

GlCanvas::GlCanvas(QWidget* parent, const QString& name) : QOpenGLWidget(parent) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    const int asked = QSurfaceFormat::defaultFormat().samples();
    format.setSamples(asked < 0 ? 4 : asked); // whoever draws only to be asked what is where, does with one
    format.setDepthBufferSize(24);
    setFormat(format);
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setObjectName(name);
}

GlCanvas::~GlCanvas() {
    makeCurrent();
    m_renderer.release();
    doneCurrent();
}

void GlCanvas::initializeGL() {
    QString why;
    m_ready = m_renderer.init(&why);
    m_renderer.setSky(theme::skyTop(), theme::skyBottom());
    if (!m_ready)
        QTimer::singleShot(0, this, [this, why] {
            hide();
            if (failed) failed(why);
        });
}

void GlCanvas::paintGL() {
    auto* f = context()->functions();
    f->glClearColor(0.94f, 0.93f, 0.91f, 1);
    f->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    if (!m_ready || !paint) return;
    paint(m_renderer);
    if (m_renderer.pending()) QTimer::singleShot(150, this, qOverload<>(&QWidget::update));
    if (m_first) {
        m_first = false;
        if (shown) QTimer::singleShot(0, this, [this] { shown(); });
    }
}

Overlay::Overlay(QWidget* parent, const QString& name, std::function<void(QPainter&)> paint)
    : QWidget(parent), m_paint(std::move(paint)) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setAttribute(Qt::WA_NoSystemBackground);
    setObjectName(name);
}

void Overlay::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    m_paint(p);
}

void drawPill(QPainter& p, const QRectF& room, const QPointF& at, const QString& text, const QColor& border,
              const QColor& ink) {
    p.setFont(theme::font(12));
    const QFontMetricsF metrics(p.font());
    const QString shown = metrics.elidedText(text, Qt::ElideRight, std::max(80.0, room.width() - 30));
    QRectF box(at, QSizeF(metrics.horizontalAdvance(shown) + 18, 25));
    const auto within = [](double v, double from, double to) { return std::clamp(v, from, std::max(from, to)); };
    box.moveLeft(within(box.left(), room.left() + 6, room.right() - box.width() - 6));
    box.moveTop(within(box.top(), room.top() + 6, room.bottom() - box.height() - 6));
    p.setPen(QPen(border, 1));
    p.setBrush(theme::paper());
    p.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    p.setPen(ink);
    p.drawText(box, Qt::AlignCenter, shown);
}

} // namespace vicinal
