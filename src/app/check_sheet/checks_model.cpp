#include "app/check_sheet/checks_model.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/sheet/run/checks/checks_section.h"
#include "clearance/check.h"
#include "model/document/run_item.h"
#include <QFont>

namespace vicinal {

ChecksModel::ChecksModel(Store& store, QObject* parent) : QAbstractTableModel(parent), m_store(store) { refresh(); }

int ChecksModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : int(m_rows.size()); }

void ChecksModel::refresh() {
    std::vector<Row> rows;
    for (const auto& run : m_store.evaluation().runs) {
        rows.push_back({run->item->id, -1});
        if (const auto all = m_store.checks().of(run->item->id))
            for (size_t k = 0; k < all->list.size(); ++k) rows.push_back({run->item->id, int(k)});
    }
    if (rows == m_rows) {
        if (!m_rows.empty()) emit dataChanged(index(0, 0), index(int(m_rows.size()) - 1, kColumns - 1));
        return;
    }
    beginResetModel();
    m_rows = std::move(rows);
    endResetModel();
}

const CheckResult* ChecksModel::result(int row) const {
    const Row& r = m_rows[size_t(row)];
    const auto all = m_store.checks().of(r.run);
    return all && r.check >= 0 && size_t(r.check) < all->list.size() ? &all->list[size_t(r.check)] : nullptr;
}

const CheckResult* ChecksModel::keptOf(Id run, const Check& c) const {
    const auto* kept = m_store.checks().kept();
    if (!kept) return nullptr;
    const auto found = kept->runs.find(run);
    if (found == kept->runs.end()) return nullptr;
    for (const CheckResult& r : found->second->list)
        if (r.check.same(c)) return &r;
    return nullptr;
}

QString ChecksModel::countOf(const RunResult& run) const {
    if (!run.placed) return tr("no places");
    const Placed& p = *run.placed;
    // Short, since it stands in a column of values.
    if (p.count() < 2) return tr("%n place(s)", nullptr, p.present);
    return tr("%1 at %2").arg(p.present).arg(lengthText(p.laid->pitch, m_store.document().unit));
}

QString ChecksModel::difference() const {
    const auto* kept = m_store.checks().kept();
    if (!kept) return {};
    int changed = 0, moved = 0, gone = 0, fresh = 0;
    for (const auto& run : m_store.evaluation().runs) {
        const auto then = kept->evaluation->run(run->item->id);
        if (!then) {
            ++fresh;
            continue;
        }
        if (then->placed == run->placed || !then->placed || !run->placed) continue;
        ++changed;
        const size_t n = std::min(then->placed->count(), run->placed->count());
        for (size_t i = 0; i < n; ++i)
            moved += (then->placed->pose(i) - run->placed->pose(i)).cwiseAbs().maxCoeff() > tolerance::length ||
                     then->placed->leftOut(i) != run->placed->leftOut(i);
        moved += int(std::max(then->placed->count(), run->placed->count()) - n);
    }
    for (const auto& then : kept->evaluation->runs) gone += m_store.evaluation().run(then->item->id) == nullptr;
    QString out = tr("Kept %1: ").arg(kept->when);
    if (!changed && !gone && !fresh) return out + tr("nothing has changed since.");
    QStringList parts;
    if (changed)
        parts += tr("%n run(s) changed", nullptr, changed) + tr(", %n place(s) stand elsewhere", nullptr, moved);
    if (fresh) parts += tr("%n new", nullptr, fresh);
    if (gone) parts += tr("%n gone", nullptr, gone);
    return out + parts.join(", ") + ".";
}

QVariant ChecksModel::headerData(int section, Qt::Orientation o, int role) const {
    if (o != Qt::Horizontal || role != Qt::DisplayRole) return {};
    const QString heads[] = {{}, tr("Run, check"), tr("Limits"), tr("Value"), tr("Was"), tr("Worst place")};
    return section < kColumns ? heads[section] : QVariant();
}

QVariant ChecksModel::data(const QModelIndex& i, int role) const {
    if (!i.isValid() || size_t(i.row()) >= m_rows.size()) return {};
    const Row& row = m_rows[size_t(i.row())];
    const auto run = m_store.evaluation().run(row.run);
    if (!run) return {};
    const auto* kept = m_store.checks().kept();
    if (row.check < 0) {
        const Verdict v = m_store.checks().verdictOf(*run);
        if (role == Qt::FontRole) return theme::font(12, QFont::DemiBold);
        if (role == Qt::ForegroundRole && i.column() == Sign) return theme::markColour(v.mark);
        if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
        switch (i.column()) {
        case Sign: return QString(signOf(v.mark));
        case Name: return QString::fromStdString(run->item->name);
        case Value: return countOf(*run);
        case Was: {
            const auto then = kept ? kept->evaluation->run(row.run) : nullptr;
            if (!kept) return QString();
            return then ? countOf(*then) : tr("new");
        }
        case Says: return m_store.say(v.text);
        default: return {};
        }
    }
    const CheckResult* r = result(i.row());
    if (!r) return {};
    const bool off = !r->check.on;
    const CheckResult* was = keptOf(row.run, r->check);
    if (role == Qt::ForegroundRole) {
        if (off) return theme::muted();
        if (i.column() == Sign || (i.column() == Value && r->mark != Mark::Good)) return theme::markColour(r->mark);
        return i.column() == Was ? theme::muted() : theme::ink();
    }
    if (role == Qt::TextAlignmentRole && (i.column() == Value || i.column() == Was))
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
    switch (i.column()) {
    case Sign: return off ? QString("\u2013") : QString(signOf(r->mark));
    case Name: return QString("    ") + QString::fromStdString(titleOf(r->check, m_store.evaluation()));
    case Limits: return m_store.say(limitsInWords(r->check));
    case Value:
        return off         ? tr("off")
               : r->value  ? m_store.say(inWords(r->check, *r->value))
               : r->cannot ? tr("cannot be said")
                           : tr("clear");
    case Was: return was && was->value ? m_store.say(inWords(was->check, *was->value)) : QString();
    case Says: return off ? QString() : m_store.say(r->text);
    default: return {};
    }
}

} // namespace vicinal
