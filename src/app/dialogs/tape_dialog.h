#pragma once
#include "app/state/store.h"
#include "exchange/drawing/tape.h"
#include <QDialog>

class QLabel;
class QPushButton;

namespace vicinal {

class ValueRows;

/// One page as it will be printed, fitted into the room there is.
class SheetPreview : public QWidget {
public:
    explicit SheetPreview(const QString& name, QWidget* parent = nullptr);
    void show(std::optional<Sheet>);
    QSize sizeHint() const override { return {520, 400}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<Sheet> m_sheet;
};

/// A marking tape of the run in hand.
class TapeDialog : public QDialog {
    Q_OBJECT
public:
    /// Precondition: a run with places is in hand.
    TapeDialog(Store&, QWidget* parent);
    const std::vector<Sheet>& pages() const { return m_pages; }
    QString title() const;

private:
    void work();
    void turn(int by);

    Store& m_store;
    std::shared_ptr<const RunResult> m_run;
    TapeOrder m_order;
    std::vector<Sheet> m_pages;
    int m_page = 0;
    ValueRows* m_rows;
    SheetPreview* m_preview;
    QLabel* m_says;
    QPushButton *m_before, *m_next, *m_ok;
};

} // namespace vicinal
