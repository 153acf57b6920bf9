#pragma once
#include "app/state/store.h"
#include <QAbstractListModel>
#include <QPixmap>
#include <array>
#include <map>

namespace vicinal {

/// What the document holds, in lists that fold: runs with their verdict, heaps where there are some, paths, parts. Rows
/// of a folded list are not there; its heading shows how many they are.
class YardModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role { KindRole = Qt::UserRole, IdRole, SubRole, ValueRole, MarkRole, ColourRole, PictureRole, HiddenRole };
    enum class Kind { Heading, Run, Path, Part, Heap }; ///< the id of a heading: that of its kind

    explicit YardModel(Store& store, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex&, int role) const override;
    bool setData(const QModelIndex&, const QVariant& name, int role) override; ///< renames, as a step of the history
    Qt::ItemFlags flags(const QModelIndex&) const override;

    /// Takes up what the document holds now; rows that stay keep their index.
    void refresh();
    /// Only names that have this in them, whatever their case; empty: all.
    void setFilter(const QString&);
    void fold(int list, bool); ///< 0 runs, 1 paths, 2 parts, 3 heaps
    bool folded(int list) const { return m_folded[size_t(list)]; }
    /// Not valid when there is none or its list is folded.
    QModelIndex rowOf(Id id) const;
    void setPicture(Id part, const QImage&);

private:
    struct Row {
        Kind kind;
        Id id;
        QString name, sub, value;
        Mark mark;
        int colour;
        QString tip;
        bool hidden = false;
        bool operator==(const Row&) const = default;
    };
    std::vector<Row> rowsNow() const;
    Store& m_store;
    std::vector<Row> m_rows;
    std::map<Id, std::pair<qint64, QPixmap>> m_pictures; ///< with the key of the image each was made from
    std::array<bool, 4> m_folded{};
    QString m_filter;
};

} // namespace vicinal
