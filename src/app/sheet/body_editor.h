#pragma once
#include "app/state/store.h"
#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QVBoxLayout;
class QMenu;
class QPushButton;
class QTimer;

namespace vicinal {

class BodyLists;
class ValueRows;

/// A site body: what it is made of, where it stands, how it is shown, what it measures.
class BodyEditor : public QWidget {
    Q_OBJECT
public:
    explicit BodyEditor(Store&, QWidget* parent = nullptr);
    /// Null: nothing to show.
    void show(const std::shared_ptr<const BodyResult>&);

signals:
    void edgeWanted();                  ///< a path along one of its edges
    void layWanted(Id path);            ///< a path that lies on it and follows both
    void cutWanted(Id run, bool raise); ///< a body that is this one, cut or raised on by a run

protected:
    void showEvent(QShowEvent*) override;

private:
    void buildButtons(QVBoxLayout*);
    QString facts(const BodyResult&) const;
    void measure();
    void change(const QString& label, const QString& merge, const std::function<void(BodyItem&)>&);

    Store& m_store;
    std::shared_ptr<const BodyResult> m_body;
    QLabel *m_facts, *m_remarks, *m_error, *m_measures;
    ValueRows *m_shape, *m_place;
    QComboBox* m_colour;
    QCheckBox* m_locked;
    BodyLists* m_lists;
    QPushButton *m_edge, *m_lay, *m_cut;
    QMenu *m_paths, *m_runs;
    QTimer* m_later;
};

} // namespace vicinal
