#pragma once
#include "app/view/tools/tool.h"
#include "app/view/viewport.h"
#include <QCoreApplication>

namespace vicinal {

/// The next click on a part asks for a path along the edge nearest to it (Viewport::edgePicked), or for its direction
/// (directionPicked), or for the face itself (facePicked); Esc gives up.
class EdgeTool : public ViewTool {
    Q_DECLARE_TR_FUNCTIONS(EdgeTool)
public:
    enum class Want { Path, Direction, Face };
    explicit EdgeTool(Viewport& view) : m_view(view) {}
    void want(Want w) { m_want = w; }
    void click(QMouseEvent*) override;
    bool key(QKeyEvent*) override;
    void putDown() override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }
    void paint(QPainter&) const override;

private:
    Viewport& m_view;
    Want m_want = Want::Path;
};

/// The next click on a part hands that face to the draw tool, which then draws on its plane; Esc gives up.
class FaceTool : public ViewTool {
    Q_DECLARE_TR_FUNCTIONS(FaceTool)
public:
    explicit FaceTool(Viewport& view) : m_view(view) {}
    void click(QMouseEvent*) override;
    bool key(QKeyEvent*) override;
    bool takesKeys() const override { return true; }
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }
    void paint(QPainter&) const override;

private:
    Viewport& m_view;
};

} // namespace vicinal
