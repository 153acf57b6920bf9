#include "app/schedule/schedule_model.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "base/ranges.h"
#include "layout/facing/facing.h"
#include "layout/spacing/limits.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace vicinal {

ScheduleModel::ScheduleModel(Store& store, QObject* parent) : QAbstractTableModel(parent), m_store(store) {}

int ScheduleModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !m_run || !m_run->placed ? 0 : int(m_run->placed->count());
}

void ScheduleModel::refresh() {
    const auto now = m_store.currentRun();
    if (now == m_run) return;
    const bool same =
        now && m_run && now->placed && m_run->placed && now->placed->count() == m_run->placed->count() && m_sorted < 0;
    if (!same) beginResetModel();
    m_run = now;
    m_special = m_run ? exceptionsOf(*m_run) : std::map<int, Exception>();
    m_gapAfter.assign(size_t(rowCount()), std::nanf(""));
    if (m_run && m_run->placed && !isLinked(m_run->item->spacing))
        for (const auto& g : m_run->placed->gaps) m_gapAfter[size_t(g.from)] = float(g.clear());
    if (m_sorted >= 0) sort(m_sorted, m_way);
    if (!same)
        endResetModel();
    else if (rowCount() > 0)
        emit dataChanged(index(0, 0), index(rowCount() - 1, Columns - 1));
}

int ScheduleModel::placeOf(int row) const { return m_order.empty() ? row : m_order[size_t(row)]; }
int ScheduleModel::rowOf(int place) const { return m_rows.empty() ? place : m_rows[size_t(place)]; }

double ScheduleModel::number(size_t i, int column) const {
    const Placed& p = *m_run->placed;
    switch (column) {
    case Place: return double(i) + 1;
    case Station: return p.stations()[i];
    case X:
    case Y:
    case Z: return p.frame(i).seat[column - X];
    case Size: return p.laid->size[i];
    case Gap: return double(m_gapAfter[i]);
    case There: return p.leftOut(i) ? 0 : 1;
    case Raised: return p.laid->dropped ? p.laid->dropped->by[i] : 0;
    case Heading:
    case Slope:
    case Roll: {
        const Angles a = anglesOf(p.frame(i).axes);
        if (column == Heading) return a.heading / kDegree;
        return (column == Slope ? a.slope : a.roll) / kDegree;
    }
    case Along:
    case Across:
    case Up: {
        const auto found = m_special.find(int(p.laid->original(i)));
        return found == m_special.end() ? 0 : found->second.move[column - Along];
    }
    default: return 0;
    }
}

QString ScheduleModel::text(size_t i, int column, bool bare) const {
    const Unit unit = m_store.document().unit;
    switch (column) {
    case Place: return QString::number(i + 1);
    case Part: return QString::fromStdString(m_run->placed->part(i).name);
    case Heading:
    case Slope:
    case Roll: return QString::number(number(i, column), 'f', 2) + (bare ? "" : QString::fromUtf8("\u00b0"));
    case Size: return QString::number(number(i, column), 'g', 6);
    case There:
        if (m_run->placed->leftOut(i)) return tr("left out");
        return bare ? tr("yes") : QString();
    case Gap: return std::isnan(m_gapAfter[i]) ? QString() : lengthText(number(i, column), unit, false);
    case Raised:
        if (!m_run->placed->laid->dropped) return {};
        return lengthText(number(i, column), unit, false);
    case Along:
    case Across:
    case Up:
        if (!bare && number(i, column) == 0) return {};
        [[fallthrough]];
    default: return lengthText(number(i, column), unit, false);
    }
}

QVariant ScheduleModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || !m_run || !m_run->placed || at.row() >= rowCount()) return {};
    const auto i = size_t(placeOf(at.row()));
    switch (role) {
    case Qt::DisplayRole: return text(i, at.column(), false);
    case Qt::EditRole:
        if (at.column() == There) return m_run->placed->leftOut(i) ? tr("no") : tr("yes");
        return text(i, at.column(), true);
    case Qt::TextAlignmentRole:
        return at.column() == Part || at.column() == There ? QVariant(Qt::AlignLeft | Qt::AlignVCenter)
                                                           : QVariant(Qt::AlignRight | Qt::AlignVCenter);
    case Qt::ForegroundRole:
        if (m_run->stale()) return theme::muted();
        return m_run->placed->leftOut(i) ? QVariant(theme::brick()) : QVariant();
    default: return {};
    }
}

QVariant ScheduleModel::headerData(int section, Qt::Orientation way, int role) const {
    if (role == Qt::TextAlignmentRole && way == Qt::Horizontal)
        return section == Part || section == There ? QVariant(Qt::AlignLeft | Qt::AlignVCenter)
                                                   : QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (way == Qt::Vertical || (role != Qt::DisplayRole && role != Qt::ToolTipRole)) return {};
    const QString names[] = {tr("place"),   tr("part"),  tr("station"), tr("x"),     tr("y"),         tr("z"),
                             tr("heading"), tr("slope"), tr("roll"),    tr("size"),  tr("gap along"), tr("along"),
                             tr("across"),  tr("up"),    tr("there"),   tr("raised")};
    if (role == Qt::DisplayRole) return names[section];
    if (section == Raised) return tr("How far feet on the ground raise the place off the path; dropped below zero");
    return section == Along || section == Across || section == Up
               ? tr("How far this place is moved from where the rule sets it; type to change it")
           : section == Part || section == Size || section == There ? tr("Type to make an exception of this place")
                                                                    : tr("Click to sort");
}

Qt::ItemFlags ScheduleModel::flags(const QModelIndex& at) const {
    auto flags = QAbstractTableModel::flags(at);
    const int c = at.column();
    if (m_run && !m_run->stale() && (c == Part || c == Size || (c >= Along && c <= There))) flags |= Qt::ItemIsEditable;
    return flags;
}

bool ScheduleModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    if (!at.isValid() || role != Qt::EditRole || !m_run || !m_run->placed || m_run->stale()) return false;
    const QString typed = value.toString().trimmed();
    if (typed == data(at, Qt::EditRole).toString()) return true;
    const int place = placeOf(at.row()), column = at.column();
    const auto refuse = [&](const QString& why) {
        emit refused(tr("Place %1: %2").arg(place + 1).arg(why));
        return false;
    };
    std::function<void(Exception&)> how;
    if (column == There) {
        const bool yes = typed.compare(tr("yes"), Qt::CaseInsensitive) == 0;
        if (!yes && typed.compare(tr("no"), Qt::CaseInsensitive) != 0) return refuse(tr("type yes or no."));
        m_store.select({Selection::Kind::Run, m_run->item->id, {place}, -1, {}});
        setLeftOut(m_store, !yes);
        return true;
    }
    if (column == Part) {
        Id part = 0;
        for (const auto& p : m_store.document().parts)
            if (p->name == typed.toStdString()) part = p->id;
        if (!part) return refuse(tr("there is no part named \"%1\".").arg(typed));
        how = [part](Exception& e) { e.part = part; };
    } else if (column == Size) {
        const auto v = parseNumber(typed.toStdString());
        if (!v) return refuse(m_store.say(v.problem().text));
        if (!ranges::kSize.holds(*v)) return refuse(tr("a size is " VICINAL_SIZE_RANGE "."));
        // What is typed is what it shall be in the end, with what the run's own size makes of it.
        const double now = number(size_t(place), Size), own = exceptionAt(*m_run, place).size;
        how = [=](Exception& e) { e.size = own * *v / now; };
    } else {
        const auto v = parseLength(typed.toStdString(), m_store.document().unit);
        if (!v) return refuse(m_store.say(v.problem().text));
        if (!inReach(*v)) return refuse(tr("that is beyond what can be used."));
        how = [=](Exception& e) { e.move[column - Along] = *v; };
    }
    const RunItem next = excepted(*m_run, {place}, false, how);
    m_store.change<RunItem>(m_run->item->id, tr("Place %1 in the schedule").arg(place + 1), {},
                            [&](RunItem& r) { r = next; });
    return true;
}

void ScheduleModel::sort(int column, Qt::SortOrder way) {
    m_sorted = column == Place && way == Qt::AscendingOrder ? -1 : column;
    m_way = way;
    emit layoutAboutToBeChanged();
    m_order.clear();
    m_rows.clear();
    if (m_sorted >= 0 && rowCount() > 0) {
        const size_t n = size_t(rowCount());
        m_order.resize(n);
        std::iota(m_order.begin(), m_order.end(), 0);
        if (column == Part) {
            std::stable_sort(m_order.begin(), m_order.end(), [&](int a, int b) {
                return m_run->placed->part(size_t(a)).name < m_run->placed->part(size_t(b)).name;
            });
        } else {
            std::vector<double> keys(n);
            for (size_t i = 0; i < n; ++i) {
                keys[i] = number(i, column);
                if (std::isnan(keys[i])) keys[i] = std::numeric_limits<double>::infinity();
            }
            std::stable_sort(m_order.begin(), m_order.end(),
                             [&](int a, int b) { return keys[size_t(a)] < keys[size_t(b)]; });
        }
        if (way == Qt::DescendingOrder) std::reverse(m_order.begin(), m_order.end());
        m_rows.resize(n);
        for (size_t i = 0; i < n; ++i) m_rows[size_t(m_order[i])] = int(i);
    }
    emit layoutChanged();
}

QString ScheduleModel::textOf(const QModelIndexList& rows) const {
    QString out;
    for (int c = 0; c < Columns; ++c)
        out += (c ? "\t" : "") + headerData(c, Qt::Horizontal, Qt::DisplayRole).toString();
    out += '\n';
    for (const QModelIndex& row : rows) {
        for (int c = 0; c < Columns; ++c) out += (c ? "\t" : "") + text(size_t(placeOf(row.row())), c, true);
        out += '\n';
    }
    return out;
}

} // namespace vicinal
