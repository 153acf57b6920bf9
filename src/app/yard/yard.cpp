#include "app/yard/yard.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QStyledItemDelegate>
#include <QTimer>
#include <array>

namespace vicinal {
namespace {

enum Role { KindRole = Qt::UserRole, IdRole, SubRole, ValueRole, MarkRole, ColourRole, PictureRole, PictureKeyRole };
enum RowKind { Heading, RunRow, PathRow, PartRow };

QString sign(Mark m) { return m == Mark::Good ? "\u2713" : m == Mark::Doubtful ? "\u25b2" : "\u2715"; }
QColor tone(Mark m) { return m == Mark::Good ? theme::moss() : m == Mark::Doubtful ? theme::ochre() : theme::brick(); }

class Painter : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& i) const override {
        const int heights[] = {32, 52, 25, 30};
        return {180, heights[i.data(KindRole).toInt()]};
    }
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const override {
        auto* edit = new QLineEdit(parent);
        edit->setObjectName("yard.rename");
        return edit;
    }
    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& o, const QModelIndex&) const override {
        editor->setGeometry(o.rect.adjusted(14, 2, -8, o.rect.height() > 40 ? -22 : 0));
    }
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& i) const override {
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRectF r = o.rect;
        const auto kind = RowKind(i.data(KindRole).toInt());
        const bool selected = o.state & QStyle::State_Selected;
        const QString name = i.data(Qt::DisplayRole).toString();
        if (kind == Heading) {
            QFont f = theme::font(11, QFont::DemiBold);
            f.setLetterSpacing(QFont::AbsoluteSpacing, 0.8);
            p->setFont(f);
            p->setPen(theme::muted());
            const QString count = i.data(ValueRole).toString(); // of a folded list
            p->drawText(r.adjusted(24, 8, -30, 0), Qt::AlignVCenter,
                        count.isEmpty() ? name.toUpper() : name.toUpper() + "  " + count);
            const QPointF fold(r.left() + 14, r.center().y() + 4);
            QPolygonF sign; // points down over an open list, right at a folded one
            for (const QPointF& q : count.isEmpty() ? std::array{QPointF(-4, -2), QPointF(4, -2), QPointF(0, 3)}
                                                    : std::array{QPointF(-2, -4), QPointF(-2, 4), QPointF(3, 0)})
                sign += fold + q;
            p->setPen(Qt::NoPen);
            p->setBrush(theme::muted());
            p->drawPolygon(sign);
            p->setPen(QPen(theme::accent(), 1.6));
            const QPointF c(r.right() - 17, r.center().y() + 4);
            p->drawLine(c - QPointF(4, 0), c + QPointF(4, 0));
            p->drawLine(c - QPointF(0, 4), c + QPointF(0, 4));
        } else if (kind == RunRow) {
            const QRectF card = r.adjusted(8, 2.5, -8, -2.5);
            QPainterPath shape;
            shape.addRoundedRect(card, 5, 5);
            p->fillPath(shape, selected ? theme::accentTint() : theme::field());
            p->setClipPath(shape);
            p->fillRect(QRectF(card.left(), card.top(), 4, card.height()), theme::run(i.data(ColourRole).toInt()));
            p->setClipping(false);
            p->setPen(QPen(selected ? theme::accent() : theme::line(), 1));
            p->drawPath(shape);
            const auto mark = Mark(i.data(MarkRole).toInt());
            const QString value = sign(mark) + " " + i.data(ValueRole).toString();
            p->setFont(theme::font(13));
            const double w = QFontMetricsF(p->font()).horizontalAdvance(value);
            p->setPen(tone(mark));
            p->drawText(QRectF(card.right() - w - 10, card.top() + 5, w + 2, 20), Qt::AlignVCenter, value);
            p->setFont(theme::font(13, QFont::DemiBold));
            p->setPen(theme::ink());
            p->drawText(QRectF(card.left() + 12, card.top() + 5, card.width() - w - 30, 20), Qt::AlignVCenter,
                        QFontMetricsF(p->font()).elidedText(name, Qt::ElideRight, card.width() - w - 30));
            p->setFont(theme::font(12));
            p->setPen(theme::muted());
            p->drawText(
                QRectF(card.left() + 12, card.top() + 24, card.width() - 22, 18), Qt::AlignVCenter,
                QFontMetricsF(p->font()).elidedText(i.data(SubRole).toString(), Qt::ElideRight, card.width() - 22));
        } else {
            if (selected) {
                QPainterPath shape;
                shape.addRoundedRect(r.adjusted(8, 1, -8, -1), 5, 5);
                p->fillPath(shape, theme::accentTint());
            }
            const QColor c = i.data(MarkRole).toInt() == int(Mark::Wrong) ? theme::brick() : theme::muted();
            p->setPen(QPen(c, 1.6));
            const QPointF m(r.left() + 24, r.center().y());
            if (kind == PathRow) {
                QPainterPath curve(m + QPointF(-9, 3));
                curve.cubicTo(m + QPointF(-3, -9), m + QPointF(2, 9), m + QPointF(9, -3));
                p->setBrush(Qt::NoBrush);
                p->drawPath(curve);
            } else {
                const auto picture = i.data(PictureRole).value<QPixmap>();
                if (picture.isNull()) {
                    p->setBrush(QColor("#c9cfcd"));
                    p->drawRect(QRectF(m - QPointF(4.5, 6), QSizeF(9, 12)));
                } else {
                    p->drawPixmap(QRectF(m - QPointF(16, 13), QSizeF(32, 26)), picture, picture.rect());
                }
            }
            const QString value = i.data(ValueRole).toString();
            p->setFont(theme::font(13));
            const double w = QFontMetricsF(p->font()).horizontalAdvance(value);
            p->setPen(theme::muted());
            p->drawText(QRectF(r.right() - w - 14, r.top(), w + 2, r.height()), Qt::AlignVCenter, value);
            p->setPen(theme::ink());
            p->drawText(QRectF(r.left() + 42, r.top(), r.width() - w - 62, r.height()), Qt::AlignVCenter,
                        QFontMetricsF(p->font()).elidedText(name, Qt::ElideRight, r.width() - w - 62));
        }
        p->restore();
    }
};

} // namespace

Yard::Yard(Store& store, QWidget* parent) : QListWidget(parent), m_store(store) {
    setObjectName("yard");
    setAccessibleName(tr("Yard: runs, paths and parts"));
    setItemDelegate(new Painter(this));
    setStyleSheet("QListWidget { background: transparent; border: none; }");
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
    setToolTip(tr("Runs with their verdict, paths, parts. Double-click or F2 renames; right-click for more."));
    m_later = new QTimer(this); // pictures wait until a gesture is over
    m_later->setSingleShot(true);
    m_later->setInterval(120);
    connect(m_later, &QTimer::timeout, this, &Yard::drawPictures);
    connect(&store, &Store::documentChanged, this, &Yard::refresh);
    connect(&store, &Store::documentChanged, m_later, qOverload<>(&QTimer::start));
    connect(&store, &Store::selectionChanged, this, &Yard::refresh);
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (m_filling || !item || item->data(KindRole).toInt() == Heading) return;
        const Selection::Kind kinds[] = {Selection::Kind::None, Selection::Kind::Run, Selection::Kind::Path,
                                         Selection::Kind::Part};
        m_store.selectItem(kinds[item->data(KindRole).toInt()], item->data(IdRole).toInt());
    });
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (m_filling) return;
        const std::string name = item->text().trimmed().toStdString();
        const Id id = item->data(IdRole).toInt();
        const QString step = tr("Rename to %1").arg(item->text().trimmed());
        if (name.empty()) return QMetaObject::invokeMethod(this, &Yard::refresh, Qt::QueuedConnection), void();
        if (item->data(KindRole).toInt() == RunRow)
            m_store.changeRun(id, step, {}, [&](RunItem& r) { r.name = name; });
        else if (item->data(KindRole).toInt() == PathRow)
            m_store.changePath(id, step, {}, [&](PathItem& p) { p.name = name; });
        else
            m_store.changePart(id, step, {}, [&](PartItem& p) { p.name = name; });
    });
    refresh();
}

void Yard::drawPictures() {
    if (state() == EditingState) return m_later->start(); // a new picture would take away what is being typed
    m_filling = true;
    for (int i = 0; i < count(); ++i) {
        if (item(i)->data(KindRole).toInt() != PartRow) continue;
        const auto found = m_store.evaluation().parts.find(item(i)->data(IdRole).toInt());
        if (found == m_store.evaluation().parts.end() || !found->second->mesh) continue;
        const QImage image = m_pictures.of(found->second->mesh, found->second->item->seat, QSize(64, 52));
        if (item(i)->data(PictureKeyRole).toLongLong() == image.cacheKey()) continue;
        item(i)->setData(PictureKeyRole, image.cacheKey());
        item(i)->setData(PictureRole, image.isNull() ? QVariant() : QVariant(QPixmap::fromImage(image)));
    }
    m_filling = false;
}

QListWidgetItem* Yard::rowOf(Id id) const {
    for (int i = 0; i < count(); ++i)
        if (item(i)->data(KindRole).toInt() != Heading && item(i)->data(IdRole).toInt() == id) return item(i);
    return nullptr;
}

void Yard::refresh() {
    m_filling = true;
    struct Row {
        RowKind kind;
        Id id;
        QString name, sub, value;
        Mark mark;
        int colour;
        QString tip;
    };
    std::vector<Row> rows;
    const Document& d = m_store.document();
    const Unit unit = d.unit;
    rows.push_back({Heading, 1, tr("Runs"), {}, {}, Mark::Good, 0, tr("Click to fold, + to make a run")});
    for (const auto& run : m_store.evaluation().runs) {
        const QString sub = (run->part ? QString(run->part->item->name.c_str()) : tr("no part")) + " \u00b7 " +
                            (run->path ? QString(run->path->item->name.c_str()) : tr("no path"));
        rows.push_back({RunRow, run->item->id, run->item->name.c_str(), sub,
                        QString::number(run->placed ? run->placed->present : 0), run->verdict.mark, run->item->colour,
                        m_store.say(run->verdict.text)});
    }
    rows.push_back({Heading, 2, tr("Paths"), {}, {}, Mark::Good, 0, tr("Click to fold, + to draw a path")});
    for (const auto& p : d.paths) {
        const auto found = m_store.evaluation().paths.find(p->id);
        if (found == m_store.evaluation().paths.end()) continue; // being worked out
        const auto& result = found->second;
        rows.push_back({PathRow,
                        p->id,
                        p->name.c_str(),
                        {},
                        result->path ? longLengthText(result->path->length(), unit) : QString("\u2715"),
                        result->problem ? Mark::Wrong : Mark::Good,
                        0,
                        result->problem ? m_store.say(result->problem->text) : QString()});
    }
    rows.push_back({Heading, 3, tr("Parts"), {}, {}, Mark::Good, 0, tr("Click to fold, + for a new part")});
    for (const auto& p : d.parts) {
        int used = 0;
        for (const auto& run : m_store.evaluation().runs)
            if (run->item->part == p->id && run->placed) used += run->placed->present;
        const auto found = m_store.evaluation().parts.find(p->id);
        if (found == m_store.evaluation().parts.end()) continue;
        const auto& result = found->second;
        rows.push_back({PartRow,
                        p->id,
                        p->name.c_str(),
                        {},
                        QString("\u00d7%1").arg(used),
                        result->problem ? Mark::Wrong : Mark::Good,
                        0,
                        result->problem ? m_store.say(result->problem->text) : QString()});
    }
    const auto listOf = [](RowKind k) { return k == RunRow ? 0 : k == PathRow ? 1 : 2; };
    std::array<int, 3> counts{};
    for (const Row& r : rows)
        if (r.kind != Heading) ++counts[size_t(listOf(r.kind))];
    for (Row& r : rows)
        if (r.kind == Heading && m_folded[size_t(r.id) - 1]) r.value = QString::number(counts[size_t(r.id) - 1]);
    while (count() > int(rows.size())) delete takeItem(count() - 1);
    while (count() < int(rows.size())) addItem(new QListWidgetItem);
    int current = -1;
    for (int i = 0; i < count(); ++i) {
        const Row& r = rows[i];
        QListWidgetItem* it = item(i);
        const auto set = [&](int role, const QVariant& v) {
            if (it->data(role) != v) it->setData(role, v);
        };
        set(KindRole, int(r.kind));
        set(IdRole, r.id);
        set(Qt::DisplayRole, r.name);
        set(SubRole, r.sub);
        set(ValueRole, r.value);
        set(MarkRole, int(r.mark));
        set(ColourRole, r.colour);
        if (r.kind != PartRow) set(PictureRole, QVariant()), set(PictureKeyRole, QVariant());
        set(Qt::ToolTipRole, r.tip);
        const Qt::ItemFlags flags =
            r.kind == Heading ? Qt::ItemIsEnabled : Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable;
        if (it->flags() != flags) it->setFlags(flags);
        it->setHidden(r.kind != Heading && m_folded[size_t(listOf(r.kind))]);
        if (r.kind != Heading && r.id == m_store.selection().id && m_store.selection().kind != Selection::Kind::None)
            current = i;
    }
    if (current != currentRow()) setCurrentRow(current);
    if (current < 0) clearSelection();
    m_filling = false;
}

void Yard::fold(int list, bool folded) {
    m_folded[size_t(list)] = folded;
    refresh();
}

void Yard::mousePressEvent(QMouseEvent* e) {
    const auto* it = itemAt(e->position().toPoint());
    if (it && it->data(KindRole).toInt() == Heading) {
        if (e->position().x() > viewport()->width() - 34 && e->button() == Qt::LeftButton) {
            if (it->data(IdRole).toInt() == 1)
                emit newRunWanted();
            else if (it->data(IdRole).toInt() == 2)
                emit newPathWanted();
            else
                emit newPartWanted();
        } else if (e->button() == Qt::LeftButton) {
            fold(it->data(IdRole).toInt() - 1, !m_folded[size_t(it->data(IdRole).toInt()) - 1]);
        }
        return;
    }
    if (!it) return m_store.select({});
    // A click on what is current already still drops the selected places.
    if (it == currentItem() && e->button() == Qt::LeftButton) {
        Selection s = m_store.selection();
        s.places.clear();
        s.point = -1;
        m_store.select(s);
    }
    QListWidget::mousePressEvent(e);
}

void Yard::contextMenuEvent(QContextMenuEvent* e) {
    auto* it = itemAt(e->pos());
    if (!it || it->data(KindRole).toInt() == Heading) return;
    const Id id = it->data(IdRole).toInt();
    QMenu menu(this);
    menu.addAction(tr("Rename"), this, [this, it] { editItem(it); });
    menu.addAction(tr("Make a copy"), this, [this, id] { emit copyWanted(id); });
    if (it->data(KindRole).toInt() == PartRow) {
        menu.addAction(tr("Make a mirrored copy"), this, [this, id] { emit mirrorWanted(id); });
        menu.addAction(tr("Replace in all runs\u2026"), this, [this, id] { emit replaceWanted(id); });
        menu.addAction(tr("Seat it in the view\u2026"), this, [this, id] { emit seatWanted(id); });
    }
    menu.addAction(tr("Delete"), this, [this, id] { emit removeWanted(id); });
    menu.exec(e->globalPos());
}

} // namespace vicinal
