#include "app/send/list_model.h"
#include "base/text.h"

namespace vicinal {

void ListModel::show(const List* list) {
    beginResetModel();
    m_heads.clear();
    m_texts.clear();
    m_rows.clear();
    if (list) {
        for (const ListColumn& c : list->columns) {
            m_heads.push_back(QString::fromStdString(c.unit.empty() ? c.name : c.name + " [" + c.unit + "]"));
            m_texts.push_back(c.isText);
        }
        list->rows([&](std::span<const Cell> row) {
            std::vector<QString> cells;
            for (size_t k = 0; k < row.size(); ++k)
                cells.push_back(
                    row[k].empty ? QString()
                    : list->columns[k].isText
                        ? QString::fromStdString(*row[k].text)
                        : QString::fromStdString(text::fixed(row[k].number, std::min(3, list->columns[k].decimals))));
            m_rows.push_back(std::move(cells));
            return int(m_rows.size()) < kMost;
        });
    }
    endResetModel();
}

QVariant ListModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid() || size_t(at.row()) >= m_rows.size()) return {};
    if (role == Qt::DisplayRole) return m_rows[size_t(at.row())][size_t(at.column())];
    if (role == Qt::TextAlignmentRole)
        return int((m_texts[size_t(at.column())] ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return {};
}

QVariant ListModel::headerData(int section, Qt::Orientation o, int role) const {
    if (role != Qt::DisplayRole) return {};
    if (o == Qt::Vertical) return section + 1;
    return size_t(section) < m_heads.size() ? m_heads[size_t(section)] : QString();
}

} // namespace vicinal
