#pragma once
#include "app/state/store.h"
#include <QWidget>
#include <array>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace vicinal {

class ValueField;

/// The loose parts of a heap: where the selected ones stand and how they are turned, which part they are, freezing.
class HeapEditor : public QWidget {
    Q_OBJECT
public:
    explicit HeapEditor(Store&, QWidget* parent = nullptr);
    /// Null: nothing to show.
    void show(const std::shared_ptr<const HeapResult>&);

private:
    void move(int axis, double to, bool live);
    void turn(int axis, double by);
    /// The change as a step of the history, or why it cannot be.
    void take(const Result<Document>&, const QString& step, const QString& merge = {});

    Store& m_store;
    Id m_heap = 0;
    Vec3 m_middle = Vec3::Zero(); ///< of the selected ones' seat points
    QLabel* m_says;
    std::array<ValueField*, 3> m_at, m_turn;
    QComboBox* m_part;
    QPushButton* m_remove;
    QCheckBox* m_frozen;
    QWidget* m_chosen;
};

} // namespace vicinal
