#pragma once
#include "app/sheet/run/run_section.h"
#include "layout/along/changes.h"
#include <array>
#include <set>

class QLabel;
class QPushButton;

namespace vicinal {

/// The selected places: what is special about them, ways of selecting, and exceptions that lost their place.
class PlacesSection : public RunSection {
    Q_OBJECT
public:
    explicit PlacesSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
    QWidget* target(const QString& key) const override;

private:
    void buildSelect();
    void buildExceptions();
    void buildLost();
    void select(const std::set<int>&);
    /// Changes what is special about the selected places.
    void except(const QString& name, const QString& merge, const std::function<void(Exception&)>&);
    void refreshFacts(const RunResult&);
    void refreshExceptions(const RunResult&);
    void refreshLost(const RunResult&);

    QLabel *m_leftOut, *m_placeFacts, *m_lost;
    QPushButton *m_toggle, *m_bringBack, *m_forget, *m_reset, *m_resetAll, *m_drop, *m_moveHere;
    QWidget* m_special;
    QComboBox* m_part;
    std::array<ValueField*, 3> m_move, m_turn;
    ValueField* m_size;
    Segmented* m_bound;
    bool m_byStation = false; ///< how the next exception is bound
};

} // namespace vicinal
