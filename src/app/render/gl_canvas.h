#pragma once
#include "app/render/scene_renderer.h"
#include <QOpenGLWidget>
#include <functional>

namespace vicinal {

/// An OpenGL picture under a widget that handles all input itself. Hides itself where OpenGL 3.3 is not there.
class GlCanvas : public QOpenGLWidget {
public:
    GlCanvas(QWidget* parent, const QString& name);
    ~GlCanvas() override;
    SceneRenderer& renderer() { return m_renderer; }
    std::function<void(SceneRenderer&)> paint;  ///< draws a frame
    std::function<void(const QString&)> failed; ///< called later, with the reason
    std::function<void()> shown;                ///< called once, after the first frame

protected:
    void initializeGL() override;
    void paintGL() override;

private:
    SceneRenderer m_renderer;
    bool m_ready = false, m_first = true;
};

/// What is painted over such a picture; takes no mouse either.
class Overlay : public QWidget {
public:
    Overlay(QWidget* parent, const QString& name, std::function<void(QPainter&)> paint);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::function<void(QPainter&)> m_paint;
};

/// A line of text on a small plate with its top left corner at `at`, moved so that it stays within `room`.
void drawPill(QPainter&, const QRectF& room, const QPointF& at, const QString&, const QColor& border,
              const QColor& ink);

} // namespace vicinal
