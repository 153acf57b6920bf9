#pragma once
#include "app/state/store.h"
#include "model/recipes/recipe.h"
#include <QWidget>
#include <functional>

class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace vicinal {

/// The values of a path's recipe: fields of a shape or a derived path, the path it follows, wheels of a loop, members
/// of a joined path. Shows Store::currentPath(); hidden for paths drawn or brought in.
class RecipeEditor : public QWidget {
    Q_OBJECT
public:
    RecipeEditor(Store& store, const QString& name, QWidget* parent = nullptr);
    void refresh();

private:
    struct Row {
        QWidget* widget;
        std::function<void(const PathResult&)> show;
    };
    void rebuild(const PathResult&);
    void addSource();
    void addWheels();
    void showWheels(const PathResult&);
    void addHanging();
    void addMembers();
    void joinNext(QWidget* button, QLabel* said);
    void addCrossings();
    void wheelTyped(int row, int column);
    /// One edit of the recipe; `merge` as Store::edit.
    void change(const QString& name, const QString& merge, const std::function<void(PathRecipe&)>& how);
    void changeWheels(const QString& name, const std::function<void(std::vector<Wheel>&)>& how);

    Store& m_store;
    QString m_name, m_shape; ///< what the rows were built for
    QVBoxLayout* m_layout;
    QWidget* m_body = nullptr;
    std::vector<Row> m_rows;
    QTableWidget* m_wheels = nullptr;
    QLabel* m_wheelError = nullptr;
    bool m_filling = false;
};

} // namespace vicinal
