#include "app/yard/yard_model.h"
#include "app/controls/format.h"
#include <algorithm>

namespace vicinal {

YardModel::YardModel(Store& store, QObject* parent) : QAbstractListModel(parent), m_store(store) {}

int YardModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(m_rows.size()); }

std::vector<YardModel::Row> YardModel::rowsNow() const {
    std::vector<Row> rows;
    const Document& d = m_store.document();
    const Unit unit = d.unit;
    rows.push_back({Kind::Heading, 1, tr("Runs"), {}, {}, Mark::Good, 0, tr("Click to fold, + to make a run")});
    for (const auto& run : m_store.evaluation().runs) {
        const QString sub = (run->part ? QString(run->part->item->name.c_str()) : tr("no part")) + " \u00b7 " +
                            (run->path ? QString(run->path->item->name.c_str()) : tr("no path"));
        rows.push_back({Kind::Run, run->item->id, run->item->name.c_str(), sub,
                        QString::number(run->placed ? run->placed->present : 0), run->verdict.mark, run->item->colour,
                        m_store.say(run->verdict.text), run->item->hidden});
    }
    if (!m_store.evaluation().heaps.empty())
        rows.push_back({Kind::Heading, 4, tr("Heaps"), {}, {}, Mark::Good, 0, tr("Loose parts. Click to fold")});
    for (const auto& heap : m_store.evaluation().heaps)
        rows.push_back({Kind::Heap, heap->item->id, heap->item->name.c_str(),
                        heap->heap->frozen ? tr("loose parts \u00b7 frozen") : tr("loose parts"),
                        QString::number(heap->placed ? heap->placed->present : 0), heap->verdict.mark,
                        heap->item->colour, m_store.say(heap->verdict.text), heap->item->hidden});
    rows.push_back({Kind::Heading, 2, tr("Paths"), {}, {}, Mark::Good, 0, tr("Click to fold, + to draw a path")});
    for (const auto& p : d.paths) {
        const auto found = m_store.evaluation().paths.find(p->id);
        if (found == m_store.evaluation().paths.end()) continue; // being worked out
        const auto& result = found->second;
        rows.push_back({Kind::Path, p->id, p->name.c_str(), p->hidden ? tr("hidden") : QString(),
                        result->path ? longLengthText(result->path->length(), unit) : QString("\u2715"),
                        result->problem ? Mark::Wrong : Mark::Good, 0,
                        result->problem ? m_store.say(result->problem->text) : QString(), p->hidden});
    }
    rows.push_back({Kind::Heading, 3, tr("Parts"), {}, {}, Mark::Good, 0, tr("Click to fold, + for a new part")});
    std::map<Id, int> loose; // once for all parts: lists follow every step of a drag
    for (const auto& heap : d.heaps)
        for (const Loose& l : heap->parts) ++loose[l.part];
    for (const auto& p : d.parts) {
        int used = 0;
        for (const auto& run : m_store.evaluation().runs)
            if (run->item->part == p->id && run->placed) used += run->placed->present;
        if (const auto n = loose.find(p->id); n != loose.end()) used += n->second;
        const auto found = m_store.evaluation().parts.find(p->id);
        if (found == m_store.evaluation().parts.end()) continue;
        const auto& result = found->second;
        rows.push_back({Kind::Part,
                        p->id,
                        p->name.c_str(),
                        {},
                        QString("\u00d7%1").arg(used),
                        result->problem ? Mark::Wrong : Mark::Good,
                        0,
                        result->problem ? m_store.say(result->problem->text) : QString()});
    }
    if (!m_filter.isEmpty())
        std::erase_if(rows, [&](const Row& r) {
            return r.kind != Kind::Heading && !r.name.contains(m_filter, Qt::CaseInsensitive);
        });
    std::array<int, 5> counts{};
    for (const Row& r : rows) ++counts[size_t(r.kind)];
    for (Row& r : rows)
        if (r.kind == Kind::Heading && folded(r.id - 1)) r.value = QString::number(counts[size_t(r.id)]);
    std::erase_if(rows, [&](const Row& r) { return r.kind != Kind::Heading && folded(int(r.kind) - 1); });
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
    case PictureRole: {
        const auto found = m_pictures.find(r.id);
        return r.kind == Kind::Part && found != m_pictures.end() ? QVariant(found->second.second) : QVariant();
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
    if (row.kind == Kind::Run) m_store.changeRun(row.id, step, {}, [&](RunItem& r) { r.name = name; });
    if (row.kind == Kind::Heap) m_store.changeHeap(row.id, step, [&](HeapItem& h) { h.name = name; });
    if (row.kind == Kind::Path) m_store.changePath(row.id, step, {}, [&](PathItem& p) { p.name = name; });
    if (row.kind == Kind::Part) m_store.changePart(row.id, step, {}, [&](PartItem& p) { p.name = name; });
    return true;
}

Qt::ItemFlags YardModel::flags(const QModelIndex& at) const {
    if (!at.isValid()) return Qt::NoItemFlags;
    return m_rows[size_t(at.row())].kind == Kind::Heading
               ? Qt::ItemIsEnabled
               : Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable;
}

} // namespace vicinal
