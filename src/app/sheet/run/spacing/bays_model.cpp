#include "app/sheet/run/spacing/bays_model.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "model/document/run_item.h"
#include "model/edits/typed/bay_text.h"

namespace vicinal {

BaysModel::BaysModel(Store& store, QObject* parent) : QAbstractTableModel(parent), m_store(store) {}

void BaysModel::show(const RunResult& run) {
    std::vector<Row> rows;
    const Spacing& s = run.item->spacing;
    m_clear = s.measure == Measure::ClearGap;
    const Unit unit = m_store.document().unit;
    const auto add = [&](long number, const Bay& bay, bool there) {
        const SpacingRule* own = bayRule(s, number);
        rows.push_back(
            {number, bay, there, own != nullptr, own ? QString::fromStdString(ruleText(*own, unit)) : QString()});
    };
    if (run.placed && s.bays != BayEdges::None) {
        const auto& bays = run.placed->laid->bays;
        for (size_t i = 0; i < bays.size(); ++i) add(long(i) + 1, bays[i], true);
        for (const BayRule& own : s.bayRules)
            if (own.bay > long(bays.size())) add(own.bay, {}, false);
    }
    const bool same = rows.size() == m_rows.size();
    if (!same) beginResetModel();
    m_rows = std::move(rows);
    if (!same)
        endResetModel();
    else if (!m_rows.empty())
        emit dataChanged(index(0, 0), index(rowCount() - 1, Rule));
}

QString BaysModel::text(const Row& r, int column) const {
    const Unit unit = m_store.document().unit;
    if (!r.there && column != Number) return column == Rule ? r.rule : QString();
    switch (column) {
    case Number: return QString::number(r.number);
    case Length: return lengthText(r.bay.end - r.bay.start, unit, false);
    case Places: return QString::number(r.bay.count);
    case Pitch:
        return r.bay.problem || r.bay.count == 0 ? tr("\u2013")
                                                 : lengthText(m_clear ? r.bay.value : r.bay.pitch, unit, false);
    default: return r.own ? r.rule : tr("as the run");
    }
}

QVariant BaysModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || size_t(at.row()) >= m_rows.size()) return {};
    const Row& r = m_rows[size_t(at.row())];
    switch (role) {
    case Qt::DisplayRole: return text(r, at.column());
    case Qt::EditRole: return at.column() == Rule ? r.rule : text(r, at.column());
    case Qt::TextAlignmentRole:
        return QVariant((at.column() == Rule ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    case Qt::ForegroundRole:
        if (!r.there || r.bay.problem) return theme::brick();
        return at.column() == Rule && !r.own ? QVariant(theme::muted()) : QVariant();
    case Qt::ToolTipRole:
        if (!r.there) return tr("There is no bay %1 now. Its rule waits for it; Delete drops it.").arg(r.number);
        if (r.bay.problem) return m_store.say(r.bay.problem->text);
        if (at.column() == Rule)
            return tr("Type 5 for five places shared out, or a rule and its number: step off 120. Empty: as the run.");
        return {};
    default: return {};
    }
}

bool BaysModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    if (role != Qt::EditRole || at.column() != Rule) return false;
    if (value.toString().trimmed() == m_rows[size_t(at.row())].rule) return false; // left as it was
    emit typed(at.row(), value.toString());
    return true;
}

Qt::ItemFlags BaysModel::flags(const QModelIndex& at) const {
    const auto all = QAbstractTableModel::flags(at);
    return at.column() == Rule ? all | Qt::ItemIsEditable : all;
}

QVariant BaysModel::headerData(int section, Qt::Orientation way, int role) const {
    if (way == Qt::Vertical || role != Qt::DisplayRole) return {};
    const QString names[] = {tr("bay"), tr("long"), tr("places"), m_clear ? tr("gap along") : tr("c/c"), tr("rule")};
    return names[section];
}

} // namespace vicinal
