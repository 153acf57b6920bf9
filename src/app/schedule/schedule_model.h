#pragma once
#include "app/state/store.h"
#include "layout/along/changes.h"
#include <QAbstractTableModel>
#include <map>

namespace vicinal {

/// The places of the run in hand, a row each: number, part, where it stands and how it faces, what is special about it.
/// Nothing is copied: a cell is worked out when it is asked for, so that 100,000 rows cost as much as those in sight.
class ScheduleModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit ScheduleModel(Store& store, QObject* parent = nullptr);
    enum Column {
        Place,
        Part,
        Station,
        X,
        Y,
        Z,
        Heading,
        Slope,
        Roll,
        Size,
        Gap,
        Along,
        Across,
        Up,
        There,
        Raised,
        Columns
    };

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : Columns; }
    QVariant data(const QModelIndex&, int role) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex&) const override;
    /// Part (by name), size, along, across, up and there: an exception of that place. What cannot be read changes
    /// nothing: `refused` says why.
    bool setData(const QModelIndex&, const QVariant&, int role) override;
    void sort(int column, Qt::SortOrder) override;

    void refresh();
    int placeOf(int row) const; ///< index from 0
    int rowOf(int place) const;
    /// Rows as text for a spreadsheet: tabs between, the heads first, numbers bare.
    QString textOf(const QModelIndexList& rows) const;

signals:
    void refused(const QString& why);

private:
    double number(size_t place, int column) const;
    QString text(size_t place, int column, bool bare) const;
    Store& m_store;
    std::shared_ptr<const RunResult> m_run;
    std::vector<int> m_order, m_rows;   ///< row -> place and back; empty: as they are
    std::map<int, Exception> m_special; ///< by the place in the first row; found once a result
    std::vector<float> m_gapAfter;      ///< not a number where there is none
    int m_sorted = -1;
    Qt::SortOrder m_way = Qt::AscendingOrder;
};

} // namespace vicinal
