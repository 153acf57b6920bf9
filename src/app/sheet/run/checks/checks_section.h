#pragma once
#include "app/sheet/run/run_section.h"
#include "clearance/check.h"
#include "model/verdicts/checked.h"

class QPushButton;
class QToolButton;

namespace vicinal {

class CheckRow;

/// The run's checks: a row each with its verdict; unfolded, its limits, what it says, what is excused.
class ChecksSection : public RunSection {
    Q_OBJECT
public:
    explicit ChecksSection(Store&, QWidget* parent = nullptr);
    void refresh(const RunResult&) override;
    QString summary(const RunResult&) const override;
    QWidget* target(const QString& key) const override;

private:
    void refreshRows(const RunResult&);
    void add(CheckKind, Id other);
    void fillAdd();

    QVBoxLayout* m_list;
    std::vector<CheckRow*> m_checks;
    QPushButton *m_add, *m_fine, *m_stop;
    QLabel* m_state;
};

/// One check of the run in hand.
class CheckRow : public QWidget {
    Q_OBJECT
public:
    CheckRow(Store&, const Check& question, QWidget* parent = nullptr);
    void show(const RunResult&, const CheckResult*, const Check&, bool worked);
    const Check& question() const { return m_check; }
    void setOpen(bool);

private:
    void buildHead(const QString& name, QVBoxLayout*);
    void put(const QString& step, const QString& merge, const std::function<void(Check&)>&);
    void buildLimits(QVBoxLayout*);
    QWidget* limitField(const char* which, const QString& label, const QString& tip, std::optional<double> Check::*);
    QWidget* numberField(const char* which, const QString& label, const QString& tip,
                         std::optional<double> Check::*limit, double Check::*plain);
    QWidget* lengthField(const char* which, const QString& label, const QString& tip, double Check::*);
    void showLimits(const RunResult&);
    void askExcuse();
    void showExcuses();

    Store& m_store;
    Check m_check;
    bool m_open = false;
    std::optional<CheckedPlace> m_worst;
    QLabel *m_sign, *m_value, *m_text, *m_error;
    QPushButton* m_title;
    QToolButton* m_go;
    QWidget* m_body;
    QCheckBox* m_on;
    QPushButton *m_excuse, *m_drop;
    QComboBox* m_other = nullptr;
    QVBoxLayout* m_excuses;
    struct Limit {
        QString name;
        ValueField* field = nullptr; ///< of lengths
        QLineEdit* edit = nullptr;   ///< of anything else
        std::optional<double> Check::*optional = nullptr;
        double Check::*plain = nullptr;
    };
    std::vector<Limit> m_limits;
};

} // namespace vicinal
