#pragma once
#include <QWidget>

class QPushButton;

namespace vicinal {

class Segmented;
class ValueField;
class Viewport;

/// Shown over the view while a path is drawn: how the next leg goes, the plane, what points catch on, and the way out.
class DrawBar : public QWidget {
    Q_OBJECT
public:
    DrawBar(Viewport& view, QWidget* parent);
    void refresh();
    /// Top and middle of the view, never wider than it.
    void place();

private:
    Viewport& m_view;
    Segmented *m_mode, *m_plane;
    ValueField *m_radius, *m_level;
    QPushButton* m_snaps;
};

} // namespace vicinal
