#pragma once
#include "app/state/store.h"
#include <QAbstractTableModel>

namespace vicinal {

/// The points of a path that can be edited one by one: x, y, z as typed lengths, smooth or corner.
class PointsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit PointsModel(Store& store, QObject* parent = nullptr) : QAbstractTableModel(parent), m_store(store) {}
    enum Column { X, Y, Z, Turn };

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : 4; }
    QVariant data(const QModelIndex&, int role) const override;
    QVariant headerData(int section, Qt::Orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex&) const override;
    /// Moves the point, as a step of the history. What cannot be read changes nothing: `refused` says why.
    bool setData(const QModelIndex&, const QVariant&, int role) override;
    void toggle(int row); ///< smooth or corner

    /// Takes up the points of Store::currentPath().
    void refresh();

signals:
    void refused(const QString& why);

private:
    const PointsRecipe* recipe() const;
    Store& m_store;
    std::shared_ptr<const PathResult> m_path; ///< whose points are shown
};

} // namespace vicinal
