#include "app/yard/yard.h"
#include "app/yard/yard_model.h"
#include "app/yard/yard_paint.h"
#include "model/edits/hide.h"
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QTimer>

namespace vicinal {

using Kind = YardModel::Kind;

namespace {

Kind kindOf(const QModelIndex& i) { return Kind(i.data(YardModel::KindRole).toInt()); }
Id idOf(const QModelIndex& i) { return i.data(YardModel::IdRole).toInt(); }

} // namespace

Yard::Yard(Store& store, QWidget* parent) : QListView(parent), m_store(store), m_model(new YardModel(store, this)) {
    setObjectName("yard");
    setAccessibleName(tr("Yard: runs, paths and parts"));
    setModel(m_model);
    setItemDelegate(new YardPaint(this));
    setStyleSheet("QListView { background: transparent; border: none; }");
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
    setToolTip(tr("Runs with their verdict, paths, parts. Double-click or F2 renames; right-click for more."));
    m_filter = new QLineEdit(this);
    m_filter->setObjectName("yard.filter");
    m_filter->setAccessibleName(tr("Filter by name"));
    m_filter->setPlaceholderText(tr("Filter by name"));
    m_filter->setToolTip(tr("Lists only what has this in its name"));
    m_filter->setClearButtonEnabled(true);
    connect(m_filter, &QLineEdit::textChanged, this, [this](const QString& text) {
        m_model->setFilter(text);
        refresh();
    });
    setViewportMargins(0, 36, 0, 0);
    m_later = new QTimer(this); // pictures wait until a gesture is over
    m_later->setSingleShot(true);
    m_later->setInterval(120);
    connect(m_later, &QTimer::timeout, this, &Yard::drawPictures);
    connect(&store, &Store::documentChanged, this, &Yard::refresh);
    connect(&store, &Store::documentChanged, m_later, qOverload<>(&QTimer::start));
    connect(&store, &Store::selectionChanged, this, &Yard::refresh);
    refresh();
}

void Yard::currentChanged(const QModelIndex& now, const QModelIndex& before) {
    QListView::currentChanged(now, before);
    if (m_following || !now.isValid() || kindOf(now) == Kind::Heading) return;
    const Selection::Kind kinds[] = {Selection::Kind::None, Selection::Kind::Run, Selection::Kind::Path,
                                     Selection::Kind::Part, Selection::Kind::Heap};
    m_store.selectItem(kinds[int(kindOf(now))], idOf(now));
}

void Yard::resizeEvent(QResizeEvent* e) {
    QListView::resizeEvent(e);
    m_filter->setGeometry(8, 6, std::max(40, viewport()->width() - 16), 28);
}

void Yard::drawPictures() {
    for (const auto& [id, part] : m_store.evaluation().parts)
        if (part->mesh) m_model->setPicture(id, m_pictures.of(part->mesh, part->item->seat, QSize(64, 52)));
}

QModelIndex Yard::rowOf(Id id) const { return m_model->rowOf(id); }

void Yard::refresh() {
    m_following = true;
    m_model->refresh();
    const Selection& s = m_store.selection();
    const QModelIndex current = s.kind == Selection::Kind::None ? QModelIndex() : m_model->rowOf(s.id);
    if (current != currentIndex()) setCurrentIndex(current);
    if (!current.isValid()) clearSelection();
    m_following = false;
}

void Yard::fold(int list, bool folded) {
    m_model->fold(list, folded);
    refresh();
}

void Yard::mousePressEvent(QMouseEvent* e) {
    const QModelIndex at = indexAt(e->position().toPoint());
    if (at.isValid() && kindOf(at) == Kind::Heading) {
        if (e->button() != Qt::LeftButton) return;
        const int list = idOf(at) - 1;
        if (e->position().x() <= viewport()->width() - 34)
            fold(list, !m_model->folded(list));
        else if (list == 0)
            emit newRunWanted();
        else if (list == 1)
            emit newPathWanted();
        else if (list == 2)
            emit newPartWanted();
        return;
    }
    if (!at.isValid()) return m_store.select({});
    // A click on what is current already still drops the selected places.
    if (at == currentIndex() && e->button() == Qt::LeftButton) {
        Selection s = m_store.selection();
        s.places.clear();
        s.point = -1;
        m_store.select(s);
    }
    QListView::mousePressEvent(e);
}

void Yard::contextMenuEvent(QContextMenuEvent* e) {
    const QModelIndex at = indexAt(e->pos());
    if (!at.isValid() || kindOf(at) == Kind::Heading) return;
    const Id id = idOf(at);
    QMenu menu(this);
    menu.addAction(tr("Rename"), this, [this, at] { edit(at); });
    menu.addAction(tr("Make a copy"), this, [this, id] { emit copyWanted(id); });
    if (kindOf(at) == Kind::Part) {
        menu.addAction(tr("Make a mirrored copy"), this, [this, id] { emit mirrorWanted(id); });
        menu.addAction(tr("Replace in all runs\u2026"), this, [this, id] { emit replaceWanted(id); });
        menu.addAction(tr("Seat it in the view\u2026"), this, [this, id] { emit seatWanted(id); });
    }
    if (kindOf(at) != Kind::Part) {
        const bool hidden = at.data(YardModel::HiddenRole).toBool();
        const QString name = at.data(Qt::DisplayRole).toString();
        menu.addAction(hidden ? tr("Show") : tr("Hide"), this, [this, id, hidden, name] {
            m_store.edit(withHidden(m_store.document(), {id}, !hidden),
                         (hidden ? tr("Show %1") : tr("Hide %1")).arg(name));
        });
        menu.addAction(tr("Show only this"), this, [this, id, name] {
            m_store.edit(showingOnly(m_store.document(), {id}), tr("Show only %1").arg(name));
        });
        if (hidesAnything(m_store.document()))
            menu.addAction(tr("Show everything"), this,
                           [this] { m_store.edit(showingAll(m_store.document()), tr("Show everything")); });
    }
    if (kindOf(at) == Kind::Run) {
        auto* release = menu.addMenu(tr("Release to loose parts"));
        const QString stays[] = {tr("Its path is kept"), tr("Its path is hidden"), tr("Its path goes")};
        for (int k = 0; k < 3; ++k) release->addAction(stays[k], this, [this, id, k] { emit releaseWanted(id, k); });
    }
    menu.addAction(tr("Delete"), this, [this, id] { emit removeWanted(id); });
    menu.exec(e->globalPos());
}

} // namespace vicinal
