#pragma once
#include "exchange/lists/lists.h"
#include <QAbstractTableModel>

namespace vicinal {

/// The first rows of a list, to be looked at.
class ListModel : public QAbstractTableModel {
public:
    using QAbstractTableModel::QAbstractTableModel;
    static constexpr int kMost = 500;
    void show(const List* list);
    int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : int(m_rows.size()); }
    int columnCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : int(m_heads.size());
    }
    QVariant data(const QModelIndex&, int role) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;

private:
    std::vector<QString> m_heads;
    std::vector<bool> m_texts;
    std::vector<std::vector<QString>> m_rows;
};

} // namespace vicinal
