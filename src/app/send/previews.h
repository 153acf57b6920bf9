#pragma once
// How what is sent out will look.
#include "exchange/paper/template.h"
#include <QPainterPath>
#include <QWidget>

namespace vicinal {

/// The whole drawing with the pages it is cut into, as large as there is room.
class TemplatePreview : public QWidget {
    Q_OBJECT
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

/// One page as it will be printed, fitted into the room there is.
class SheetPreview : public QWidget {
    Q_OBJECT
public:
    explicit SheetPreview(const QString& name, QWidget* parent = nullptr);
    void show(std::optional<Sheet>);
    QSize sizeHint() const override { return {520, 400}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<Sheet> m_sheet;
};

/// A picture, fitted into the room there is.
class ImagePreview : public QWidget {
    Q_OBJECT
public:
    explicit ImagePreview(QWidget* parent = nullptr);
    void show(const QImage&);
    QSize sizeHint() const override { return {520, 400}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QImage m_image;
};

} // namespace vicinal
