#pragma once
#include "app/state/store.h"
#include <QAbstractListModel>
#include <QPixmap>
#include <array>
#include <map>
#include <set>

namespace vicinal {

/// What the document holds: folders with whatever lies in them, then lists that fold: runs with their verdict, heaps
/// and site bodies where there are some, paths, parts. Rows of a folded list are not there; its heading shows how many
/// they are. Rows can be dragged: before another one of their kind, into a folder, out of it.
class YardModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role {
        KindRole = Qt::UserRole,
        IdRole,
        SubRole,
        ValueRole,
        MarkRole,
        ColourRole,
        PictureRole,
        HiddenRole,
        LockedRole,
        FolderRole ///< the folder that a row lies in; 0: none
    };
    enum class Kind { Heading, Run, Path, Part, Heap, Body, Folder }; ///< the id of a heading: that of its kind

    explicit YardModel(Store& store, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex&, int role) const override;
    bool setData(const QModelIndex&, const QVariant& name, int role) override; ///< renames, as a step of the history
    Qt::ItemFlags flags(const QModelIndex&) const override;

    /// Takes up what the document holds now; rows that stay keep their index.
    void refresh();
    /// Only names that have this in them, whatever their case; empty: all.
    void setFilter(const QString&);
    void fold(int list, bool); ///< 0 runs, 1 paths, 2 parts, 3 heaps, 4 site bodies
    bool folded(int list) const { return m_folded[size_t(list)]; }
    void foldFolder(Id, bool);
    bool foldedFolder(Id id) const { return m_foldedFolders.count(id) > 0; }

    Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList&) const override;
    bool canDropMimeData(const QMimeData*, Qt::DropAction, int row, int column, const QModelIndex&) const override;
    bool dropMimeData(const QMimeData*, Qt::DropAction, int row, int column, const QModelIndex&) override;
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
        bool hidden = false, locked = false;
        Id folder = 0;
        bool operator==(const Row&) const = default;
    };
    std::vector<Row> itemsNow() const;
    std::vector<Row> rowsNow() const;
    Store& m_store;
    std::vector<Row> m_rows;
    std::map<Id, std::pair<qint64, QPixmap>> m_pictures; ///< with the key of the image each was made from
    std::array<bool, 5> m_folded{};
    std::set<Id> m_foldedFolders;
    QString m_filter;
};

} // namespace vicinal
