#pragma once
#include "app/view/tools/tool.h"
#include "base/vec.h"
#include <QPointF>

namespace vicinal {

class Viewport;

/// Looks round: turns the view about what is under the pointer, or moves it. A drawing view is only moved.
class LookTool : public ViewTool {
public:
    explicit LookTool(Viewport& view) : m_view(view) {}
    bool press(QMouseEvent*) override; ///< always takes it
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;

private:
    Viewport& m_view;
    bool m_pan = false;
    QPointF m_last;
    Vec3 m_pivot = Vec3::Zero();
};

} // namespace vicinal
