#pragma once
#include "app/controls/value_rows.h"
#include "app/state/store.h"
#include "base/rule_words.h"
#include <QWidget>
#include <map>

class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace vicinal {

class Segmented;
class ValueField;

/// A section of the run sheet: rows for values that a run describes.
class RunSection : public QWidget {
    Q_OBJECT
public:
    explicit RunSection(Store&, QWidget* parent = nullptr);
    /// Shows a run.
    virtual void refresh(const RunResult&) = 0;
    /// What the section says when it is folded.
    virtual QString summary(const RunResult&) const = 0;
    /// What shows a value and takes the keyboard for it; null when nothing here does.
    virtual QWidget* target(const QString& key) const;

protected:
    /// Writes a value that describe() hands out into a run; `axis` of a turn; not a number: none.
    using Put = void (*)(RunItem&, const std::string& key, double value, int axis);
    /// Into one member of the run.
    template<auto Member> static void putInto(RunItem& r, const std::string& key, double value, int axis) {
        value_rows::setValue(r.*Member, key, value, axis);
    }
    void change(const QString& name, const QString& merge, const std::function<void(RunItem&)>&);
    /// The field or buttons of a value, named by its key; without a row yet.
    QWidget* makeControl(const ShownValue&, Put);
    /// A row of its own, kept under its key.
    void addRow(const ShownValue&, Put);
    /// A row for two values, kept under the first one's key.
    void addRow(const QString& label, const ShownValue&, const ShownValue&, Put);
    /// Buttons for the alternatives of a variant of rules.
    template<class Rules> void addRules(const QString& key, const QString& label, std::function<void(int)> picked) {
        QStringList words, tips;
        for (const RuleWords& w : wordsOfAll<Rules>())
            words += value_rows::word(w.label), tips += value_rows::word(w.tip);
        addChoice(key, label, words, tips, std::move(picked));
    }
    void addChoice(const QString& key, const QString& label, const QStringList& words, const QStringList& tips,
                   std::function<void(int)> picked);
    /// Puts values into their controls.
    void showValues(const std::vector<ShownValue>&);
    void showRow(const std::string& key, bool);
    ValueField* field(const std::string& key) const { return m_fields.at(key); }
    QWidget* makeItem(const ShownValue&);
    /// Four of them stand side by side in the sheet.
    static QPushButton* addSmallButton(QHBoxLayout*, const QString& text, const char* name, const QString& tip);
    /// A text field for a value that is set by its key (setTyped): what cannot be read is told below it.
    QWidget* makeText(const std::string& key, const QString& label, const QString& tip);
    void showText(const std::string& key, const QString&);
    /// Shows a run's problem at the visible field it belongs to; false when there is none here.
    bool showProblem(const std::optional<Problem>&);

    Store& m_store;
    QVBoxLayout* m_box;
    std::map<std::string, ValueField*> m_fields;
    std::map<std::string, Segmented*> m_choices;
    std::map<std::string, QWidget*> m_rows;
    struct Text {
        QLineEdit* edit;
        QLabel* error;
    };
    std::map<std::string, Text> m_texts;
    std::map<std::string, QComboBox*> m_items;
    std::map<std::string, QCheckBox*> m_flags;
};

} // namespace vicinal
