#pragma once
#include <QObject>
#include <array>

class QDialog;
class QSplitter;
class QVBoxLayout;
class QWidget;

namespace vicinal {

class Strip;

/// Yard, run sheet and strip: shown, hidden, as wide as they were; the strip also in a window of its own.
class Panels : public QObject {
    Q_OBJECT
public:
    enum Panel { Yard, Sheet, StripPanel };
    /// `middle`: the yard, what lies between, the sheet. `page`: holds the strip above its last row.
    Panels(QWidget* window, QSplitter* middle, Strip*, QVBoxLayout* page);
    /// Sizes as they are at first.
    void atFirst();
    bool shown(int panel) const;
    void show(int panel, bool shown);
    /// A part has no stations: while one is seated, the strip's room is for the part.
    void setSeating(bool);
    bool stripDetached() const { return m_stripWindow != nullptr; }
    void detachStrip(bool);
    void remember() const;
    void restore();

signals:
    void changed();

private:
    static constexpr int kYardWidth = 224, kCentreWidth = 726, kSheetWidth = 330; ///< at first
    QWidget* m_window;
    QSplitter* m_middle;
    Strip* m_strip;
    QVBoxLayout* m_page;
    QDialog* m_stripWindow = nullptr; ///< while the strip has one of its own
    std::array<int, 2> m_widths{kYardWidth, kSheetWidth};
    bool m_stripWanted = true, m_seating = false;
};

} // namespace vicinal
