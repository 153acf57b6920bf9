#pragma once
#include "base/describe.h"
#include "base/quantity.h"
#include "layout/spacing/spacing.h"
#include <QAbstractTableModel>

namespace vicinal {

/// The counts that fit, a row each: places, pitch, clear gap, what is left over or what it breaks.
class FitsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    enum Column { Count, Pitch, Clear, LeftOver };

    /// `gives`: what the last column's numbers are where something gives way; else nothing.
    void show(std::vector<Fit>, Unit, std::optional<ProfileKind> gives = {});
    long count(int row) const { return m_fits[size_t(row)].count; }
    int inUse() const; ///< its row; -1 when the run has none of these counts

    int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : int(m_fits.size()); }
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : 4; }
    QVariant data(const QModelIndex&, int role) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;

private:
    QString text(const Fit&, int column) const;
    static QString word(const Fit&); ///< what is remarkable of a count; nothing of most
    bool links() const { return !m_fits.empty() && m_fits.front().closing.has_value(); }
    std::vector<Fit> m_fits;
    std::optional<ProfileKind> m_gives;
    Unit m_unit = Unit::Millimetre;
};

} // namespace vicinal
