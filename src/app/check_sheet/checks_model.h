#pragma once
#include "app/state/checks.h"
#include <QAbstractTableModel>

namespace vicinal {

/// All checks of the document: a row for each run, then its checks; what they were in the state that was kept.
class ChecksModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Sign, Name, Limits, Value, Was, Says, kColumns };
    explicit ChecksModel(Store&, QObject* parent = nullptr);
    int rowCount(const QModelIndex& = {}) const override;
    int columnCount(const QModelIndex& = {}) const override { return kColumns; }
    QVariant data(const QModelIndex&, int role) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;
    void refresh();
    /// Of a row; `check` below 0: the run itself.
    struct Row {
        Id run = 0;
        int check = -1;
        bool operator==(const Row&) const = default;
    };
    const Row& row(int i) const { return m_rows[size_t(i)]; }
    const CheckResult* result(int row) const;
    /// What changed since the state that was kept, in a sentence; empty when nothing is kept.
    QString difference() const;

private:
    const CheckResult* keptOf(Id run, const Check&) const;
    QString countOf(const RunResult&) const;
    Store& m_store;
    std::vector<Row> m_rows;
};

} // namespace vicinal
