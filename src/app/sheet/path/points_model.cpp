#include "app/sheet/path/points_model.h"
#include "app/controls/format.h"
#include "model/document/path_item.h"

namespace vicinal {

const PointsRecipe* PointsModel::recipe() const { return m_path ? editablePoints(*m_path->item) : nullptr; }

int PointsModel::rowCount(const QModelIndex& parent) const {
    const auto* r = recipe();
    return parent.isValid() || !r ? 0 : int(r->points.size());
}

void PointsModel::refresh() {
    const auto now = m_store.currentPath();
    const auto* next = now ? editablePoints(*now->item) : nullptr;
    if (rowCount() != (next ? int(next->points.size()) : 0)) {
        beginResetModel();
        m_path = now;
        endResetModel();
        return;
    }
    m_path = now; // another unit changes the words, too
    if (rowCount() > 0) emit dataChanged(index(0, X), index(rowCount() - 1, Turn));
}

QVariant PointsModel::data(const QModelIndex& at, int role) const {
    const auto* r = recipe();
    if (!r || !at.isValid() || size_t(at.row()) >= r->points.size()) return {};
    const PathPoint& p = r->points[size_t(at.row())];
    if (role == Qt::TextAlignmentRole)
        return at.column() == Turn ? QVariant(Qt::AlignCenter) : QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    if (at.column() == Turn) return p.smooth ? tr("smooth") : tr("corner");
    const Unit unit = m_store.document().unit;
    return QString::fromStdString(formatLength(p.at[at.column()], unit, unit == Unit::Millimetre ? 2 : -1));
}

QVariant PointsModel::headerData(int section, Qt::Orientation way, int role) const {
    if (role != Qt::DisplayRole) return {};
    if (way == Qt::Vertical) return section + 1;
    return section < Turn ? QString("xyz"[section]) : tr("point");
}

Qt::ItemFlags PointsModel::flags(const QModelIndex& at) const {
    const auto flags = QAbstractTableModel::flags(at);
    return at.column() < Turn ? flags | Qt::ItemIsEditable : flags;
}

bool PointsModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    const auto* r = recipe();
    if (!r || !at.isValid() || role != Qt::EditRole || at.column() >= Turn) return false;
    const QString text = value.toString().trimmed();
    if (text == data(at, Qt::EditRole).toString()) return true; // untouched: a rounded word moves nothing
    const int row = at.row(), column = at.column();
    const auto v = parseLength(text.toStdString(), m_store.document().unit);
    if (!v || !inReach(*v)) {
        emit refused(tr("Point %1, %2: %3")
                         .arg(row + 1)
                         .arg(QString("xyz"[column]))
                         .arg(v ? m_store.say("beyond " + Words::length(kLargest, Words::Style::Bound) + ".")
                                : m_store.say(v.problem().text)));
        return false;
    }
    m_store.change<PathItem>(m_path->item->id, tr("Move point %1").arg(row + 1), {}, [&](PathItem& i) {
        std::get<PointsRecipe>(i.recipe).points[size_t(row)].at[column] = *v;
    });
    return true;
}

void PointsModel::toggle(int row) {
    const auto* r = recipe();
    if (!r || size_t(row) >= r->points.size()) return;
    const bool smooth = r->points[size_t(row)].smooth;
    m_store.change<PathItem>(
        m_path->item->id, smooth ? tr("Corner at point %1").arg(row + 1) : tr("Smooth at point %1").arg(row + 1), {},
        [&](PathItem& i) { std::get<PointsRecipe>(i.recipe).points[size_t(row)].smooth = !smooth; });
}

} // namespace vicinal
