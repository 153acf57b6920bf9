#pragma once
#include "app/state/latest.h"
#include "app/state/store.h"
#include "geometry/curves/edit.h"
#include <QWidget>
#include <functional>

class QCheckBox;
class QLabel;
class QVBoxLayout;
class QPushButton;
class QTableView;

namespace vicinal {

struct PathPoint;
class PointsModel;
class RecipeEditor;
class Segmented;
class ValueField;

/// A path's facts and points: typed, inserted, deleted, corner or smooth, closed. Shows Store::currentPath().
class PathEditor : public QWidget {
    Q_OBJECT
public:
    /// `name` keeps object names of several editors apart.
    PathEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void refresh();

private:
    void buildPoints(const QString& name);
    void buildTools(const QString& name, QVBoxLayout*);
    void connectAll();
    void insertAfter();
    void removePoint();
    void selectRow();
    QString factsText(const PathResult&) const;
    /// Has them worked out behind, and shows them when they come.
    void askFacts(const std::shared_ptr<const PathResult>&);
    void showFacts();
    void showTools(const PointsRecipe&);
    void setLeg(int kind);
    /// One edit of the selected points.
    void changeSelected(const QString& name, const QString& merge, const std::function<void(PathPoint&)>& how);

    Store& m_store;
    QLabel* m_facts;
    QLabel* m_error;
    QTableView* m_table;
    PointsModel* m_pointsModel;
    QPushButton *m_insert, *m_remove;
    QCheckBox* m_closed;
    Segmented* m_knotting;
    QWidget* m_points;
    RecipeEditor* m_recipe;
    QWidget* m_tools; ///< for the selected point
    ValueField *m_fillet, *m_soft;
    QWidget* m_filletRow;
    Segmented* m_leg;
    QPushButton *m_unlock, *m_weld;
    QLabel* m_remarks;
    std::shared_ptr<const PathResult> m_factsOf; ///< what m_pathFacts are of, or will be
    std::optional<PathFacts> m_pathFacts;
    Id m_factsOn = 0; ///< path whose facts are told
    Latest<PathFacts> m_factsWork{Lane::Small, this};
    bool m_filling = false;
};

} // namespace vicinal
