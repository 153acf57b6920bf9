#pragma once
#include <QStyledItemDelegate>

namespace vicinal {

/// Paints the rows of a YardModel: headings that fold, runs as cards, paths and parts as lines.
class YardPaint : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override;
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const override;
    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem&, const QModelIndex&) const override;
    void paint(QPainter*, const QStyleOptionViewItem&, const QModelIndex&) const override;

private:
    void paintHeading(QPainter&, const QRectF&, const QModelIndex&) const;
    void paintFolder(QPainter&, const QRectF&, const QModelIndex&, bool selected) const;
    void paintRun(QPainter&, const QRectF&, const QModelIndex&, bool selected) const;
    void paintLine(QPainter&, const QRectF&, const QModelIndex&, bool selected) const;
};

} // namespace vicinal
