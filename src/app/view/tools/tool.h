#pragma once
#include <Qt>

class QContextMenuEvent;
class QKeyEvent;
class QMouseEvent;
class QPainter;

namespace vicinal {

/// What the pointer and the keys do in the view. The view hands every event to the tool in hand; a press that the tool
/// leaves alone looks round instead (turns or moves the view), and comes back as a click when nothing was dragged.
class ViewTool {
public:
    virtual ~ViewTool() = default;
    /// True: the drag that begins here is the tool's, up to `release`.
    virtual bool press(QMouseEvent*) { return false; }
    /// The pointer moved: during a drag of its own, else without a button.
    virtual void move(QMouseEvent*) {}
    virtual void release(QMouseEvent*) {}
    virtual void click(QMouseEvent*) {}
    virtual bool doubleClick(QMouseEvent*) { return false; } ///< true: taken, else it is a second press
    virtual bool key(QKeyEvent*) { return false; }           ///< true: taken
    virtual void keyUp(QKeyEvent*) {}
    virtual bool takesKeys() const { return false; } ///< keys that menus would take are the tool's
    virtual void menu(QContextMenuEvent*) {}
    virtual void leave() {}   ///< the pointer left the view
    virtual void putDown() {} ///< another tool is taken in hand
    virtual Qt::CursorShape cursor() const { return Qt::ArrowCursor; }
    virtual void paint(QPainter&) const {}
};

} // namespace vicinal
