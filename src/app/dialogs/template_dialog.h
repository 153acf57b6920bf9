#pragma once
#include "app/state/store.h"
#include "exchange/drawing/template.h"
#include <QDialog>
#include <QPainterPath>

class QButtonGroup;
class QLabel;
class QPushButton;
class QRadioButton;
class QTimer;

namespace vicinal {

class ValueRows;

/// The whole drawing with the pages it is cut into, as large as there is room.
class TemplatePreview : public QWidget {
public:
    explicit TemplatePreview(QWidget* parent = nullptr);
    /// Null: nothing to show.
    void show(std::shared_ptr<const Template>);
    QSize sizeHint() const override { return {460, 460}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::shared_ptr<const Template> m_template;
    QPainterPath m_lines;
};

/// A template at full size: what is drawn, on which paper, and how it looks before it is written.
class TemplateDialog : public QDialog {
    Q_OBJECT
public:
    TemplateDialog(Store&, QWidget* parent);
    ~TemplateDialog() override;
    /// "pdf", "svg" or "dxf".
    QString extension() const;
    const std::shared_ptr<const Template>& made() const { return m_made; }
    QString title() const;

private:
    void showValues(const std::optional<Problem>&);
    void work();
    void shown(const Result<std::shared_ptr<const Template>>&);

    Store& m_store;
    TemplateOrder m_order;
    std::shared_ptr<const Template> m_made;
    std::shared_ptr<Job> m_job; ///< of the newest one that is worked out
    ValueRows* m_rows;
    QRadioButton* m_current;
    QButtonGroup* m_kinds;
    TemplatePreview* m_preview;
    QLabel* m_says;
    QPushButton* m_ok;
    QTimer* m_soon;
};

} // namespace vicinal
