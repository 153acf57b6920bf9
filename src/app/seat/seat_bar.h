#pragma once
#include <QWidget>
#include <vector>

class QBoxLayout;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace vicinal {

class Segmented;

/// The bar over the seat view: what a click takes, turns by ninety, what is likely of this part, neighbours.
class SeatBar : public QWidget {
    Q_OBJECT
public:
    explicit SeatBar(QWidget* parent);
    void setTool(int);
    /// What is likely: its words, its tip, whether it is so now.
    struct Likely {
        QString text, tip;
        bool now;
    };
    void setLikely(const std::vector<Likely>&);
    /// Marks are still looked for.
    void setBusy(bool);
    bool nearer() const;
    void setNearer(bool);
    /// Across the top of a view of that width; both rows become two where it is narrow.
    void place(int width);

signals:
    void toolPicked(int);
    void turnWanted(bool nose); ///< by a quarter turn
    void likelyPicked(size_t);
    void nearerChanged();
    void done();

private:
    void buildTools(QVBoxLayout*);
    void buildLikely(QVBoxLayout*);
    QHBoxLayout* m_likelyRow;
    QBoxLayout *m_top, *m_below;
    Segmented* m_tools;
    QLabel* m_busy;
    QPushButton* m_near;
};

} // namespace vicinal
