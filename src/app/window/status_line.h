#pragma once
#include <QWidget>

class QLabel;
class QProgressBar;
class QPushButton;
class QTimer;

namespace vicinal {

class SeatView;
class Store;
class Viewport;

/// The lowest line: what is in hand, in figures; what is worked out behind, with a way to end it; what the pointer
/// does here.
class StatusLine : public QWidget {
    Q_OBJECT
public:
    StatusLine(Store&, const Viewport&, const SeatView&);
    void refresh();

private:
    QString facts() const;
    QString hint() const;
    void showWork(bool running);

    Store& m_store;
    const Viewport& m_view;
    const SeatView& m_seatView;
    QLabel *m_facts, *m_hint;
    QProgressBar* m_workBar;
    QPushButton* m_workButton;
    QTimer* m_workDelay;
};

} // namespace vicinal
