#pragma once
#include "app/view/tools/handles.h"
#include "app/view/tools/tool.h"
#include "app/view/viewport.h"

class QMenu;

namespace vicinal {

struct Pick;

/// In hand when nothing else is: drags handles (Ctrl holds to a line, typed values), picks places and paths.
class EditTool : public ViewTool {
    Q_DECLARE_TR_FUNCTIONS(EditTool)
public:
    explicit EditTool(Viewport& view);
    bool dragging() const { return m_drag.has_value(); }
    /// Pixel of a handle by its name; nothing when it is not shown.
    std::optional<QPointF> handleAt(const QString& name) const;

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    void click(QMouseEvent*) override;
    bool doubleClick(QMouseEvent*) override;
    bool key(QKeyEvent*) override;
    void keyUp(QKeyEvent*) override;
    bool takesKeys() const override { return dragging(); }
    void menu(QContextMenuEvent*) override;
    void leave() override { m_hover.reset(); }
    Qt::CursorShape cursor() const override { return m_hover ? Qt::SizeAllCursor : Qt::ArrowCursor; }
    void paint(QPainter&) const override;

private:
    struct Guide {
        Vec3 direction;
        QString name;
    };
    // edit_tool.cpp
    QPointF shown(const Handle&, const Vec3& pixel) const;
    int crossingUnder(const QPointF&) const;
    std::optional<Handle> handleUnder(const QPointF&) const;
    void clickPlace(const Pick&, Qt::KeyboardModifiers);
    bool insertPointAt(const QPointF&);
    void keyMenu(QMenu&, const Handle&);
    void setKeyMenu(QMenu&, double station);
    // edit_drag.cpp
    std::vector<Guide> guides() const;
    std::optional<Guide> guideUnder(const QPointF&) const;
    double along(const Guide&, const QPointF&) const;
    void dragTo(const QPointF&, Qt::KeyboardModifiers);
    void dragKey(const QPointF&, Qt::KeyboardModifiers);
    void applyTyped();
    void endDrag();
    // edit_paint.cpp
    void paintHandle(QPainter&, const Handle&, const PointsRecipe*) const;
    void paintGuide(QPainter&) const;

    Viewport& m_view;
    Store& m_store;
    std::optional<HandleDrag> m_drag;
    int m_number = 0; ///< of the drag: its steps are one in the history
    QPointF m_last, m_first;
    QString m_typed;
    std::optional<Guide> m_guide; ///< the drag is held to
    bool m_mayGuide = false;      ///< Ctrl means that, not several at once
    bool m_ctrl = false;          ///< pressed during the drag
    bool m_moved = false;         ///< the pointer has left the handle, or a value was typed
    std::optional<Handle> m_hover;
};

} // namespace vicinal
