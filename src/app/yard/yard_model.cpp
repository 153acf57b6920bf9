#include "app/yard/yard_model.h"
#include "app/controls/format.h"
#include "app/state/checks.h"
#include "model/document/body_item.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include <QMimeData>
#include <algorithm>

namespace vicinal {

YardModel::YardModel(Store& store, QObject* parent) : QAbstractListModel(parent), m_store(store) {}

int YardModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(m_rows.size()); }

/// Everything there is, a row each, in the order of lists.
std::vector<YardModel::Row> YardModel::itemsNow() const {
    std::vector<Row> rows;
    const Document& d = m_store.document();
    const Evaluation& e = m_store.evaluation();
    const Unit unit = d.unit;
    const auto put = [&](Row row, const auto& item) {
        row.locked = item.locked;
        row.folder = item.folder;
        if constexpr (requires { item.hidden; }) row.hidden = item.hidden;
        rows.push_back(std::move(row));
    };
    for (const auto& run : e.runs) {
        const Verdict verdict = m_store.checks().verdictOf(*run);
        const QString sub = (run->part ? QString(run->part->item->name.c_str()) : tr("no part")) + " \u00b7 " +
                            (run->path ? QString(run->path->item->name.c_str()) : tr("no path"));
        put({Kind::Run, run->item->id, run->item->name.c_str(), sub,
             QString::number(run->placed ? run->placed->present : 0), verdict.mark, run->item->colour,
             m_store.say(verdict.text)},
            *run->item);
    }
    for (const auto& heap : e.heaps)
        put({Kind::Heap, heap->id, heap->name.c_str(),
             heap->item->frozen ? tr("loose parts \u00b7 frozen") : tr("loose parts"), QString::number(heap->present()),
             heap->verdict.mark, heap->colour, m_store.say(heap->verdict.text)},
            *heap->item);
    for (const auto& b : d.bodies) {
        const auto found = e.bodies.find(b->id);
        if (found == e.bodies.end()) continue; // being worked out
        put({Kind::Body,
             b->id,
             b->name.c_str(),
             {},
             tr(kindOf(b->shape).c_str()),
             found->second->verdict.mark,
             b->colour,
             m_store.say(found->second->verdict.text)},
            *b);
    }
    for (const auto& p : d.paths) {
        const auto found = e.paths.find(p->id);
        if (found == e.paths.end()) continue;
        const auto& result = found->second;
        put({Kind::Path,
             p->id,
             p->name.c_str(),
             {},
             result->path ? longLengthText(result->path->length(), unit) : QString("\u2715"),
             result->problem ? Mark::Wrong : Mark::Good,
             0,
             result->problem ? m_store.say(result->problem->text) : QString()},
            *p);
    }
    std::map<Id, int> used; // once for all parts: lists follow every step of a drag
    for (const auto& heap : d.heaps)
        for (const Loose& l : heap->parts) ++used[l.part];
    for (const auto& run : e.runs)
        if (run->placed) used[run->item->part] += run->placed->present;
    for (const auto& p : d.parts) {
        const auto found = e.parts.find(p->id);
        if (found == e.parts.end()) continue;
        const auto& result = found->second;
        put({Kind::Part,
             p->id,
             p->name.c_str(),
             {},
             QString("\u00d7%1").arg(used[p->id]),
             result->problem ? Mark::Wrong : Mark::Good,
             0,
             result->problem ? m_store.say(result->problem->text) : QString()},
            *p);
    }
    return rows;
}

std::vector<YardModel::Row> YardModel::rowsNow() const {
    const auto items = itemsNow();
    const auto named = [&](const QString& name) { return name.contains(m_filter, Qt::CaseInsensitive); };
    std::vector<Row> rows;
    for (const auto& folder : m_store.document().folders) {
        const QString name = folder->name.c_str();
        std::vector<Row> inside;
        int all = 0;
        for (const Row& r : items) {
            if (r.folder != folder->id) continue;
            ++all;
            if (m_filter.isEmpty() || named(r.name) || named(name)) inside.push_back(r);
        }
        if (inside.empty() && !m_filter.isEmpty() && !named(name)) continue;
        rows.push_back({Kind::Folder,
                        folder->id,
                        name,
                        {},
                        QString::number(all),
                        Mark::Good,
                        0,
                        tr("A folder. Click the triangle to fold; drag items onto it")});
        if (!foldedFolder(folder->id) || !m_filter.isEmpty()) rows.insert(rows.end(), inside.begin(), inside.end());
    }
    struct ItemList {
        Kind kind;
        QString name, tip;
        bool always;
    };
    const ItemList lists[] = {{Kind::Run, tr("Runs"), tr("Click to fold, + to make a run"), true},
                              {Kind::Heap, tr("Heaps"), tr("Loose parts. Click to fold"), false},
                              {Kind::Body, tr("Site bodies"), tr("Click to fold, + for a new body"), true},
                              {Kind::Path, tr("Paths"), tr("Click to fold, + to draw a path"), true},
                              {Kind::Part, tr("Parts"), tr("Click to fold, + for a new part"), true}};
    for (const ItemList& list : lists) {
        int there = 0, shown = 0;
        const size_t head = rows.size();
        rows.push_back({Kind::Heading, Id(list.kind), list.name, {}, {}, Mark::Good, 0, list.tip});
        for (const Row& r : items) {
            if (r.kind != list.kind) continue;
            ++there;
            if (r.folder != 0 && m_store.document().folder(r.folder)) continue;
            if (!m_filter.isEmpty() && !named(r.name)) continue;
            ++shown;
            if (!folded(int(list.kind) - 1)) rows.push_back(r);
        }
        if (folded(int(list.kind) - 1)) rows[head].value = QString::number(shown);
        if (there == 0 && !list.always) rows.pop_back();
    }
    return rows;
}

void YardModel::refresh() {
    std::vector<Row> rows = rowsNow();
    const bool same = std::equal(rows.begin(), rows.end(), m_rows.begin(), m_rows.end(),
                                 [](const Row& a, const Row& b) { return a.kind == b.kind && a.id == b.id; });
    if (!same) {
        beginResetModel();
        m_rows = std::move(rows);
        endResetModel();
        return;
    }
    for (size_t i = 0; i < rows.size(); ++i) {
        if (rows[i] == m_rows[i]) continue;
        m_rows[i] = std::move(rows[i]);
        emit dataChanged(index(int(i)), index(int(i)));
    }
}

void YardModel::setFilter(const QString& filter) {
    m_filter = filter.trimmed();
    refresh();
}

void YardModel::fold(int list, bool on) {
    m_folded[size_t(list)] = on;
    refresh();
}

void YardModel::foldFolder(Id id, bool on) {
    on ? void(m_foldedFolders.insert(id)) : void(m_foldedFolders.erase(id));
    refresh();
}

QModelIndex YardModel::rowOf(Id id) const {
    for (size_t i = 0; i < m_rows.size(); ++i)
        if (m_rows[i].kind != Kind::Heading && m_rows[i].id == id) return index(int(i));
    return {};
}

void YardModel::setPicture(Id part, const QImage& image) {
    auto& [key, pixmap] = m_pictures[part];
    if (key == image.cacheKey()) return;
    key = image.cacheKey();
    pixmap = image.isNull() ? QPixmap() : QPixmap::fromImage(image);
    if (const auto row = rowOf(part); row.isValid()) emit dataChanged(row, row, {PictureRole});
}

QVariant YardModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || size_t(at.row()) >= m_rows.size()) return {};
    const Row& r = m_rows[size_t(at.row())];
    switch (role) {
    case Qt::DisplayRole:
    case Qt::EditRole: return r.name;
    case Qt::ToolTipRole: return r.tip;
    case KindRole: return int(r.kind);
    case IdRole: return r.id;
    case SubRole: return r.sub;
    case ValueRole: return r.value;
    case MarkRole: return int(r.mark);
    case ColourRole: return r.colour;
    case HiddenRole: return r.hidden;
    case LockedRole: return r.locked;
    case FolderRole: return r.folder;
    case PictureRole: {
        const auto found = m_pictures.find(r.id);
        return (r.kind == Kind::Part || r.kind == Kind::Body) && found != m_pictures.end()
                   ? QVariant(found->second.second)
                   : QVariant();
    }
    default: return {};
    }
}

bool YardModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    if (!at.isValid() || role != Qt::EditRole) return false;
    const Row row = m_rows[size_t(at.row())];
    const QString text = value.toString().trimmed();
    const std::string name = text.toStdString();
    if (name.empty() || text == row.name) return false; // the old name stays
    const QString step = tr("Rename to %1").arg(text);
    if (row.kind == Kind::Run) m_store.change<RunItem>(row.id, step, {}, [&](RunItem& r) { r.name = name; });
    if (row.kind == Kind::Heap) m_store.change<HeapItem>(row.id, step, {}, [&](HeapItem& h) { h.name = name; });
    if (row.kind == Kind::Body) m_store.change<BodyItem>(row.id, step, {}, [&](BodyItem& b) { b.name = name; });
    if (row.kind == Kind::Folder) m_store.edit(with(m_store.document(), FolderItem{row.id, name}), step);
    if (row.kind == Kind::Path) m_store.change<PathItem>(row.id, step, {}, [&](PathItem& p) { p.name = name; });
    if (row.kind == Kind::Part) m_store.change<PartItem>(row.id, step, {}, [&](PartItem& p) { p.name = name; });
    return true;
}

Qt::ItemFlags YardModel::flags(const QModelIndex& at) const {
    if (!at.isValid()) return Qt::ItemIsDropEnabled; // the empty end of the list
    const Kind kind = m_rows[size_t(at.row())].kind;
    if (kind == Kind::Heading) return Qt::ItemIsEnabled | Qt::ItemIsDropEnabled;
    const Qt::ItemFlags all = Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable;
    return kind == Kind::Folder ? all | Qt::ItemIsDropEnabled : all | Qt::ItemIsDragEnabled;
}

namespace {
const char* const kItems = "application/x-vicinal-items";
}

QStringList YardModel::mimeTypes() const { return {kItems}; }

QMimeData* YardModel::mimeData(const QModelIndexList& rows) const {
    QStringList ids;
    for (const QModelIndex& i : rows) {
        const Row& r = m_rows[size_t(i.row())];
        if (r.kind != Kind::Heading && r.kind != Kind::Folder) ids += QString::number(r.id);
    }
    auto* out = new QMimeData;
    out->setData(kItems, ids.join(' ').toLatin1());
    return out;
}

bool YardModel::canDropMimeData(const QMimeData* data, Qt::DropAction, int, int, const QModelIndex&) const {
    return data->hasFormat(kItems);
}

/// Onto a folder: into it. Between rows: before the one below, into the folder that this lies in. Onto a heading: out
/// of its folder.
bool YardModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex& onto) {
    std::set<Id> ids;
    for (const QByteArray& id : data->data(kItems).split(' ')) ids.insert(id.toInt());
    ids.erase(0);
    if (ids.empty()) return false;
    Document d = m_store.document();
    const Row* at = onto.isValid() ? &m_rows[size_t(onto.row())] : nullptr;
    if (at && at->kind == Kind::Folder) {
        d = intoFolder(std::move(d), ids, at->id);
    } else if (at && at->kind == Kind::Heading) {
        d = intoFolder(std::move(d), ids, 0);
    } else {
        const size_t below = row >= 0 ? size_t(row) : m_rows.size();
        const Row* next = below < m_rows.size() ? &m_rows[below] : nullptr;
        const Row* last = below > 0 && below <= m_rows.size() ? &m_rows[below - 1] : nullptr;
        // At the end of a folder it still lies in that, by what is above.
        const bool inside = next && next->kind != Kind::Heading && next->kind != Kind::Folder;
        const Id above = last && last->kind != Kind::Heading ? last->folder : 0, folder = inside ? next->folder : above;
        if (inside)
            d = movedBefore(std::move(d), ids, next->id);
        else if (last && last->kind != Kind::Folder)
            d = movedBefore(std::move(d), ids, 0);
        d = intoFolder(std::move(d), ids, folder);
    }
    const Document& now = m_store.document();
    if (d.runs == now.runs && d.heaps == now.heaps && d.bodies == now.bodies && d.paths == now.paths &&
        d.parts == now.parts)
        return false; // dropped where it was: nothing to undo
    m_store.edit(std::move(d), tr("Order of the yard"));
    return false; // the list follows the document: nothing is to be taken out of it
}

} // namespace vicinal
