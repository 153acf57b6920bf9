#include "app/yard/yard.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "app/yard/yard_model.h"
#include "app/yard/yard_paint.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/edits/yard_edits.h"
#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QTimer>
#include <algorithm>

namespace vicinal {

using Kind = YardModel::Kind;

namespace {

Kind kindOf(const QModelIndex& i) { return Kind(i.data(YardModel::KindRole).toInt()); }
Id idOf(const QModelIndex& i) { return i.data(YardModel::IdRole).toInt(); }

} // namespace

Yard::Yard(Store& store, QWidget* parent) : QListView(parent), m_store(store), m_model(new YardModel(store, this)) {
    setObjectName("yard");
    setAccessibleName(tr("Yard: runs, site bodies, paths and parts"));
    setModel(m_model);
    setItemDelegate(new YardPaint(this));
    setStyleSheet("QListView { background: transparent; border: none; }");
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setDragDropMode(QAbstractItemView::DragDrop);
    setDefaultDropAction(Qt::MoveAction);
    setDropIndicatorShown(true);
    setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
    setToolTip(tr("Runs with their verdict, site bodies, paths, parts. Double-click or F2 renames; drag puts in order; "
                  "Ctrl and Shift select several; right-click for more."));
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
    connect(&store.checks(), &Checks::changed, this, &Yard::refresh);
    connect(&store, &Store::documentChanged, m_later, qOverload<>(&QTimer::start));
    connect(&store, &Store::selectionChanged, this, &Yard::refresh);
    refresh();
}

std::set<Id> Yard::selectedItems() const {
    std::set<Id> out;
    for (const QModelIndex& i : selectionModel()->selectedIndexes()) out.insert(idOf(i));
    return out;
}

void Yard::selectionChanged(const QItemSelection& on, const QItemSelection& off) {
    QListView::selectionChanged(on, off);
    if (!m_following) lead();
}

/// The row clicked last is what is worked on; what is selected with it is for the menu.
void Yard::lead() {
    const Selection::Kind kinds[] = {Selection::Kind::None, Selection::Kind::Run,  Selection::Kind::Path,
                                     Selection::Kind::Part, Selection::Kind::Heap, Selection::Kind::Body,
                                     Selection::Kind::None};
    QModelIndex now = currentIndex();
    const auto rows = selectionModel()->selectedIndexes();
    if (!rows.contains(now)) now = rows.isEmpty() ? QModelIndex() : rows.front();
    if (!now.isValid() || kindOf(now) == Kind::Heading) return;
    Selection s;
    s.kind = kinds[int(kindOf(now))];
    s.id = s.kind == Selection::Kind::None ? 0 : idOf(now);
    s.also = selectedItems();
    if (s.kind == Selection::Kind::None) s.also.clear(); // a folder is none of the document's things
    s.also.erase(s.id);
    const Selection& before = m_store.selection();
    if (before.kind == s.kind && before.id == s.id) { // its places stay selected
        Selection same = before;
        same.also = s.also;
        s = same;
    }
    m_store.select(s);
}

void Yard::resizeEvent(QResizeEvent* e) {
    QListView::resizeEvent(e);
    m_filter->setGeometry(8, 6, std::max(40, viewport()->width() - 16), 28);
}

void Yard::drawPictures() {
    const QSize size(64, 52);
    for (const auto& [id, part] : m_store.evaluation().parts)
        if (part->mesh) m_model->setPicture(id, m_pictures.of(part->mesh, part->item->seat, size));
    for (const auto& [id, body] : m_store.evaluation().bodies)
        if (body->body) m_model->setPicture(id, m_pictures.of(body->body->mesh, Seat{}, size));
}

QModelIndex Yard::rowOf(Id id) const { return m_model->rowOf(id); }

void Yard::refresh() {
    m_following = true;
    const QModelIndex before = currentIndex();
    const Id folder = before.isValid() && kindOf(before) == Kind::Folder ? idOf(before) : 0;
    m_model->refresh();
    const Selection& s = m_store.selection();
    const QModelIndex current = s.kind == Selection::Kind::None ? m_model->rowOf(folder) : m_model->rowOf(s.id);
    std::set<Id> wanted = s.items();
    if (current.isValid()) wanted.insert(idOf(current));
    if (current != currentIndex() || wanted != selectedItems()) {
        if (!current.isValid()) clearSelection();
        selectionModel()->setCurrentIndex(current, QItemSelectionModel::ClearAndSelect);
        for (Id id : s.also)
            if (const auto row = m_model->rowOf(id); row.isValid())
                selectionModel()->select(row, QItemSelectionModel::Select);
        if (current.isValid()) scrollTo(current);
    }
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
        if (e->position().x() <= viewport()->width() - 34) return fold(list, !m_model->folded(list));
        switch (Kind(idOf(at))) {
        case Kind::Run: emit newRunWanted(); break;
        case Kind::Path: emit newPathWanted(); break;
        case Kind::Part: emit newPartWanted(); break;
        case Kind::Body: emit newBodyWanted(); break;
        default: break;
        }
        return;
    }
    if (at.isValid() && kindOf(at) == Kind::Folder && e->button() == Qt::LeftButton && e->position().x() < 26) {
        m_model->foldFolder(idOf(at), !m_model->foldedFolder(idOf(at)));
        return refresh();
    }
    if (!at.isValid()) return m_store.select({});
    // The menu is for all that is selected, when it is asked for there.
    if (e->button() == Qt::RightButton && selectionModel()->isSelected(at)) return;
    // A click on what is current already still drops the selected places.
    if (at == currentIndex() && e->button() == Qt::LeftButton && e->modifiers() == Qt::NoModifier) {
        Selection s = m_store.selection();
        s.places.clear();
        s.point = -1;
        m_store.select(s);
    }
    QListView::mousePressEvent(e);
}

/// Folders to put items into, and a new one.
void Yard::folderMenu(QMenu& menu, const std::set<Id>& ids) {
    auto* into = menu.addMenu(tr("Put into a folder"));
    for (const auto& f : m_store.document().folders)
        into->addAction(QString(f->name.c_str()), this, [this, ids, id = f->id, name = QString(f->name.c_str())] {
            m_store.edit(intoFolder(m_store.document(), ids, id), tr("Into %1").arg(name));
        });
    into->addAction(tr("A new folder"), this, [this, ids] {
        Document d = with(m_store.document(), FolderItem{0, tr("Folder").toStdString()});
        const Id folder = lastId(d);
        m_store.edit(intoFolder(std::move(d), ids, folder), tr("Into a new folder"));
        edit(m_model->rowOf(folder)); // it asks for its name
    });
    into->addAction(tr("None"), this,
                    [this, ids] { m_store.edit(intoFolder(m_store.document(), ids, 0), tr("Out of the folder")); });
}

/// What can be done with all of these at once.
void Yard::fillMenu(QMenu& menu, const QModelIndex& at, const std::set<Id>& ids) {
    const Document& d = m_store.document();
    const QString name =
        ids.size() == 1 ? QString::fromStdString(nameOf(d, *ids.begin())) : tr("%n items", nullptr, int(ids.size()));
    menu.addAction(tr("Make a copy"), this, [this, ids] { emit copyWanted(ids); });
    const auto any = [&](auto&& is) { return std::any_of(ids.begin(), ids.end(), is); };
    const bool hideable = any([&](Id id) { return !d.part(id); });
    if (hideable) {
        const bool hidden = at.data(YardModel::HiddenRole).toBool();
        menu.addAction(hidden ? tr("Show") : tr("Hide"), this, [this, ids, hidden, name] {
            m_store.edit(withHidden(m_store.document(), ids, !hidden),
                         (hidden ? tr("Show %1") : tr("Hide %1")).arg(name));
        });
        menu.addAction(ids.size() == 1 ? tr("Show only this") : tr("Show only these"), this, [this, ids, name] {
            m_store.edit(showingOnly(m_store.document(), ids), tr("Show only %1").arg(name));
        });
        if (hidesAnything(d))
            menu.addAction(tr("Show everything"), this,
                           [this] { m_store.edit(showingAll(m_store.document()), tr("Show everything")); });
    }
    const bool locked = at.data(YardModel::LockedRole).toBool();
    menu.addAction(locked ? tr("Unlock") : tr("Lock"), this, [this, ids, locked, name] {
        m_store.edit(withLocked(m_store.document(), ids, !locked),
                     (locked ? tr("Unlock %1") : tr("Lock %1")).arg(name));
    });
    if (any([&](Id id) { return d.run(id) || d.heap(id) || d.body(id); })) {
        auto* colours = menu.addMenu(tr("Colour"));
        for (int k = 0; k < theme::kRunColours; ++k) {
            QPixmap dot(14, 14);
            dot.fill(theme::run(k));
            colours->addAction(QIcon(dot), tr("Colour %1").arg(k + 1), this, [this, ids, k, name] {
                m_store.edit(withColour(m_store.document(), ids, k), tr("Colour of %1").arg(name));
            });
        }
    }
    folderMenu(menu, ids);
}

void Yard::contextMenuEvent(QContextMenuEvent* e) {
    const QModelIndex at = indexAt(e->pos());
    if (!at.isValid() || kindOf(at) == Kind::Heading) return;
    const Id id = idOf(at);
    QMenu menu(this);
    menu.addAction(tr("Rename"), this, [this, id] { edit(m_model->rowOf(id)); });
    if (kindOf(at) == Kind::Folder) {
        const auto inside = inFolder(m_store.document(), id);
        if (!inside.empty()) fillMenu(menu, m_model->rowOf(*inside.begin()), inside);
        menu.addAction(tr("Take the folder away, keep what is in it"), this,
                       [this, id] { m_store.edit(without(m_store.document(), id), tr("Take a folder away")); });
        if (!inside.empty())
            menu.addAction(tr("Delete all that is in it"), this, [this, inside] { emit removeWanted(inside); });
        menu.exec(e->globalPos());
        return;
    }
    std::set<Id> ids = selectedItems();
    if (!ids.count(id)) ids = {id};
    if (kindOf(at) == Kind::Part && ids.size() == 1) {
        menu.addAction(tr("Make a mirrored copy"), this, [this, id] { emit mirrorWanted(id); });
        menu.addAction(tr("Replace in all runs\u2026"), this, [this, id] { emit replaceWanted(id); });
        menu.addAction(tr("Seat it in the view\u2026"), this, [this, id] { emit seatWanted(id); });
    }
    fillMenu(menu, at, ids);
    if (kindOf(at) == Kind::Run && ids.size() == 1) {
        auto* release = menu.addMenu(tr("Release to loose parts"));
        const QString stays[] = {tr("Its path is kept"), tr("Its path is hidden"), tr("Its path goes")};
        for (int k = 0; k < 3; ++k) release->addAction(stays[k], this, [this, id, k] { emit releaseWanted(id, k); });
    }
    menu.addAction(tr("Delete"), this, [this, ids] { emit removeWanted(ids); });
    menu.exec(e->globalPos());
}

} // namespace vicinal
