#include "app/gl_canvas.h"
#include "app/theme.h"
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <QTimer>

namespace vicinal {

GlCanvas::GlCanvas(QWidget* parent, const QString& name) : QOpenGLWidget(parent) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setSamples(4);
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

} // namespace vicinal
