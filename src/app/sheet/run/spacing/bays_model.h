#pragma once
#include "app/state/store.h"
#include <QAbstractTableModel>

namespace vicinal {

/// The bays of a run, a row each: length, places, pitch, and the rule that it has of its own. Rules of bays that are
/// not there stand behind them.
class BaysModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit BaysModel(Store&, QObject* parent = nullptr);
    enum Column { Number, Length, Places, Pitch, Rule };

    void show(const RunResult&);
    long bay(int row) const { return m_rows[size_t(row)].number; }

    int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : int(m_rows.size()); }
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : 5; }
    QVariant data(const QModelIndex&, int role) const override;
    bool setData(const QModelIndex&, const QVariant&, int role) override;
    Qt::ItemFlags flags(const QModelIndex&) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;

signals:
    /// What was typed as the rule of a row's bay; empty: none of its own.
    void typed(int row, const QString& text);

private:
    struct Row {
        long number = 0;
        Bay bay{};
        bool there = true, own = false;
        QString rule;
    };
    QString text(const Row&, int column) const;
    Store& m_store;
    std::vector<Row> m_rows;
    bool m_clear = false; ///< measured by clear gap
};

} // namespace vicinal
