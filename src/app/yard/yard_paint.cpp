#include "app/yard/yard_paint.h"
#include "app/controls/theme.h"
#include "app/yard/yard_model.h"
#include <QLineEdit>
#include <QPainter>
#include <QPainterPath>
#include <array>

namespace vicinal {
namespace {

using YardRole = YardModel::Role;
using YardKind = YardModel::Kind;

constexpr double kIndent = 14; ///< of what lies in a folder

/// A triangle that points down over an open list, right at a folded one.
void paintFold(QPainter& p, const QPointF& at, bool open) {
    QPolygonF sign;
    for (const QPointF& q : open ? std::array{QPointF(-4, -2), QPointF(4, -2), QPointF(0, 3)}
                                 : std::array{QPointF(-2, -4), QPointF(-2, 4), QPointF(3, 0)})
        sign += at + q;
    p.setPen(Qt::NoPen);
    p.setBrush(theme::muted());
    p.drawPolygon(sign);
}

/// A padlock, ten pixels high.
void paintLock(QPainter& p, const QPointF& at) {
    p.setPen(QPen(theme::muted(), 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawArc(QRectF(at.x() - 2.5, at.y() - 5, 5, 7), 0, 180 * 16);
    p.setPen(Qt::NoPen);
    p.setBrush(theme::muted());
    p.drawRoundedRect(QRectF(at.x() - 4, at.y() - 1, 8, 6), 1, 1);
}

} // namespace

QSize YardPaint::sizeHint(const QStyleOptionViewItem&, const QModelIndex& i) const {
    const int heights[] = {32, 52, 25, 30, 52, 30, 30};
    return {180, heights[i.data(YardRole::KindRole).toInt()]};
}

QWidget* YardPaint::createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const {
    auto* edit = new QLineEdit(parent);
    edit->setObjectName("yard.rename");
    return edit;
}

void YardPaint::updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& o, const QModelIndex&) const {
    editor->setGeometry(o.rect.adjusted(14, 2, -8, o.rect.height() > 40 ? -22 : 0));
}

void YardPaint::paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& i) const {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF rect = QRectF(o.rect).adjusted(i.data(YardRole::FolderRole).toInt() != 0 ? kIndent : 0, 0, 0, 0);
    const auto kind = YardKind(i.data(YardRole::KindRole).toInt());
    const bool selected = o.state & QStyle::State_Selected;
    if (kind == YardKind::Heading)
        paintHeading(*p, rect, i);
    else if (kind == YardKind::Folder)
        paintFolder(*p, rect, i, selected);
    else if (kind == YardKind::Run || kind == YardKind::Heap)
        paintRun(*p, rect, i, selected);
    else
        paintLine(*p, rect, i, selected);
    p->restore();
}

void YardPaint::paintHeading(QPainter& p, const QRectF& r, const QModelIndex& i) const {
    const QString name = i.data(Qt::DisplayRole).toString();
    QFont f = theme::font(11, QFont::DemiBold);
    f.setLetterSpacing(QFont::AbsoluteSpacing, 0.8);
    p.setFont(f);
    p.setPen(theme::muted());
    const QString count = i.data(YardRole::ValueRole).toString(); // of a folded list
    p.drawText(r.adjusted(24, 8, -30, 0), Qt::AlignVCenter,
               count.isEmpty() ? name.toUpper() : name.toUpper() + "  " + count);
    const QPointF fold(r.left() + 14, r.center().y() + 4);
    paintFold(p, fold, count.isEmpty());
    if (i.data(YardRole::IdRole).toInt() == int(YardKind::Heap)) return; // a heap is made by releasing a run
    p.setPen(QPen(theme::accent(), 1.6));
    const QPointF c(r.right() - 17, r.center().y() + 4);
    p.drawLine(c - QPointF(4, 0), c + QPointF(4, 0));
    p.drawLine(c - QPointF(0, 4), c + QPointF(0, 4));
}

void YardPaint::paintFolder(QPainter& p, const QRectF& r, const QModelIndex& i, bool selected) const {
    if (selected) {
        QPainterPath shape;
        shape.addRoundedRect(r.adjusted(8, 2, -8, -2), 5, 5);
        p.fillPath(shape, theme::accentTint());
    }
    const auto* model = static_cast<const YardModel*>(i.model());
    paintFold(p, {r.left() + 16, r.center().y()}, !model->foldedFolder(i.data(YardRole::IdRole).toInt()));
    const QRectF box(r.left() + 27, r.center().y() - 5, 15, 11);
    QPainterPath shape(QPointF(box.left(), box.top() - 2.5));
    shape.lineTo(box.left() + 6, box.top() - 2.5);
    shape.lineTo(box.left() + 8, box.top());
    shape.lineTo(box.topRight());
    shape.lineTo(box.bottomRight());
    shape.lineTo(box.bottomLeft());
    shape.closeSubpath();
    p.setPen(QPen(theme::muted(), 1.3));
    p.setBrush(theme::field());
    p.drawPath(shape);
    const QString value = i.data(YardRole::ValueRole).toString();
    p.setFont(theme::font(13));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(value);
    p.setPen(theme::muted());
    p.drawText(QRectF(r.right() - w - 14, r.top(), w + 2, r.height()), Qt::AlignVCenter, value);
    p.setFont(theme::font(13, QFont::DemiBold));
    p.setPen(theme::ink());
    p.drawText(
        QRectF(r.left() + 50, r.top(), r.width() - w - 70, r.height()), Qt::AlignVCenter,
        QFontMetricsF(p.font()).elidedText(i.data(Qt::DisplayRole).toString(), Qt::ElideRight, r.width() - w - 70));
}

void YardPaint::paintRun(QPainter& p, const QRectF& r, const QModelIndex& i, bool selected) const {
    const QString name = i.data(Qt::DisplayRole).toString();
    const QRectF card = r.adjusted(8, 2.5, -8, -2.5);
    QPainterPath shape;
    shape.addRoundedRect(card, 5, 5);
    p.fillPath(shape, selected ? theme::accentTint() : theme::field());
    p.setClipPath(shape);
    p.fillRect(QRectF(card.left(), card.top(), 4, card.height()), theme::run(i.data(YardRole::ColourRole).toInt()));
    p.setClipping(false);
    p.setPen(QPen(selected ? theme::accent() : theme::line(), 1));
    p.drawPath(shape);
    const auto mark = Mark(i.data(YardRole::MarkRole).toInt());
    const QString value = QString(signOf(mark)) + " " + i.data(YardRole::ValueRole).toString();
    p.setFont(theme::font(13));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(value);
    p.setPen(theme::markColour(mark));
    p.drawText(QRectF(card.right() - w - 10, card.top() + 5, w + 2, 20), Qt::AlignVCenter, value);
    if (i.data(YardRole::LockedRole).toBool()) paintLock(p, {card.right() - 15, card.top() + 33});
    const bool hidden = i.data(YardRole::HiddenRole).toBool();
    p.setFont(theme::font(13, QFont::DemiBold));
    p.setPen(hidden ? theme::muted() : theme::ink());
    p.drawText(QRectF(card.left() + 12, card.top() + 5, card.width() - w - 30, 20), Qt::AlignVCenter,
               QFontMetricsF(p.font()).elidedText(name, Qt::ElideRight, card.width() - w - 30));
    p.setFont(theme::font(12));
    p.setPen(theme::muted());
    p.drawText(QRectF(card.left() + 12, card.top() + 24, card.width() - 22, 18), Qt::AlignVCenter,
               QFontMetricsF(p.font()).elidedText(
                   (hidden ? QObject::tr("hidden \u00b7 ") : QString()) + i.data(YardRole::SubRole).toString(),
                   Qt::ElideRight, card.width() - 22 - (i.data(YardRole::LockedRole).toBool() ? 14 : 0)));
}

void YardPaint::paintLine(QPainter& p, const QRectF& r, const QModelIndex& i, bool selected) const {
    const QString name = i.data(Qt::DisplayRole).toString();
    const auto kind = YardKind(i.data(YardRole::KindRole).toInt());
    if (selected) {
        QPainterPath shape;
        shape.addRoundedRect(r.adjusted(8, 1, -8, -1), 5, 5);
        p.fillPath(shape, theme::accentTint());
    }
    const QColor c = i.data(YardRole::MarkRole).toInt() == int(Mark::Wrong) ? theme::brick() : theme::muted();
    p.setPen(QPen(c, 1.6));
    const QPointF m(r.left() + 24, r.center().y());
    if (kind == YardKind::Path) {
        QPainterPath curve(m + QPointF(-9, 3));
        curve.cubicTo(m + QPointF(-3, -9), m + QPointF(2, 9), m + QPointF(9, -3));
        p.setBrush(Qt::NoBrush);
        p.drawPath(curve);
    } else {
        const auto picture = i.data(YardRole::PictureRole).value<QPixmap>();
        if (picture.isNull()) {
            p.setBrush(QColor("#c9cfcd"));
            p.drawRect(QRectF(m - QPointF(4.5, 6), QSizeF(9, 12)));
        } else {
            p.drawPixmap(QRectF(m - QPointF(16, 13), QSizeF(32, 26)), picture, picture.rect());
        }
    }
    const bool hidden = i.data(YardRole::HiddenRole).toBool(), locked = i.data(YardRole::LockedRole).toBool();
    QString value = i.data(YardRole::ValueRole).toString();
    if (hidden) value = QObject::tr("hidden");
    p.setFont(theme::font(13));
    const double own = QFontMetricsF(p.font()).horizontalAdvance(value), w = own + (locked ? 15 : 0);
    p.setPen(theme::muted());
    p.drawText(QRectF(r.right() - w - 14, r.top(), own + 2, r.height()), Qt::AlignVCenter, value);
    if (locked) paintLock(p, {r.right() - 18, r.center().y()});
    p.setPen(hidden ? theme::muted() : theme::ink());
    p.drawText(QRectF(r.left() + 42, r.top(), r.width() - w - 62, r.height()), Qt::AlignVCenter,
               QFontMetricsF(p.font()).elidedText(name, Qt::ElideRight, r.width() - w - 62));
}

} // namespace vicinal
