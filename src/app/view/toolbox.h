#pragma once
#include "geometry/path/path.h"
#include <QPointF>
#include <memory>
#include <optional>

class QMouseEvent;

namespace vicinal {

class DrawTool;
class EdgeTool;
class EditTool;
class FaceTool;
class LookTool;
class ViewTool;
class Viewport;

/// The tools of the view (app/view/tools), which of them is in hand, and which a drag belongs to.
class Toolbox {
public:
    explicit Toolbox(Viewport&);
    ~Toolbox();
    /// Takes a tool in hand; nullptr: the edit tool.
    void takeUp(ViewTool*);
    ViewTool& inHand() const { return *m_inHand; }
    EditTool& edit() const { return *m_edit; }
    DrawTool& draw() const { return *m_draw; }
    void pickDirection(); ///< the direction of the edge that is clicked next (Viewport::directionPicked)
    void pickEdge();      ///< a path along the edge of the part that is clicked next (edgePicked)
    void pickDrawFace();  ///< while drawing: the plane of the face that is clicked next
    void pickFace();      ///< the normal of the face that is clicked next (facePicked, or pickGivenUp)
    bool edits() const;   ///< the edit tool is in hand
    bool picksEdge() const;
    bool picksFace() const;
    bool drawing() const; ///< a path is being drawn, or the face to draw it on picked
    std::optional<Path> drawnPath() const;

    // The pointer, on its way to the tool
    void press(QMouseEvent*);
    void move(QMouseEvent*);
    void release(QMouseEvent*);
    bool dragged() const { return m_dragged; } ///< the pointer has left where it was pressed

private:
    Viewport& m_view;
    std::unique_ptr<LookTool> m_lookRound;
    std::unique_ptr<EditTool> m_edit;
    std::unique_ptr<DrawTool> m_draw;
    std::unique_ptr<EdgeTool> m_edge;
    std::unique_ptr<FaceTool> m_face;
    ViewTool* m_inHand = nullptr;
    ViewTool* m_held = nullptr; ///< whose drag it is
    QPointF m_pressed;
    bool m_dragged = false;
};

} // namespace vicinal
