#pragma once
// How what is sent out will look.
#include "app/state/latest.h"
#include "exchange/paper/template.h"
#include <QPainterPath>
#include <QWidget>

namespace vicinal {

/// The whole drawing with the pages it is cut into, as large as there is room.
class TemplatePreview : public QWidget {
    Q_OBJECT
public:
    explicit TemplatePreview(QWidget* parent = nullptr);
    /// Null: nothing to show. Its lines are made behind; until then the last one stands.
    void show(std::shared_ptr<const Template>);
    bool drawn() const { return !m_work.running(); } ///< what was shown last
    QSize sizeHint() const override { return {460, 460}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::shared_ptr<const Template> m_template;
    QPainterPath m_lines;
    Latest<QPainterPath> m_work{Lane::Previews, this};
};

/// A page ready to be painted: its lines as ways of the screen, mm, y downwards.
struct PagePicture {
    struct Way {
        QPainterPath lines;
        double width = 0, grey = 0;
        std::optional<double> fill;
    };
    double width = 0, height = 0;
    std::vector<Way> ways;
    std::vector<Label> labels;
    std::optional<QRectF> clip; ///< of the ways
};
PagePicture pictureOf(const Sheet&);

/// One page as it will be printed, fitted into the room there is.
class SheetPreview : public QWidget {
    Q_OBJECT
public:
    explicit SheetPreview(const QString& name, QWidget* parent = nullptr);
    /// Null: nothing to show. Its lines are made behind; until then the last page stands.
    void show(std::shared_ptr<const Sheet>);
    bool drawn() const { return !m_work.running(); } ///< what was shown last
    const std::optional<PagePicture>& picture() const { return m_picture; }
    QSize sizeHint() const override { return {520, 400}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<PagePicture> m_picture;
    Latest<PagePicture> m_work{Lane::Previews, this};
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
