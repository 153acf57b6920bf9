#pragma once
#include "base/quantity.h"
#include <QLineEdit>
#include <QWidget>
#include <optional>

class QLabel;

namespace vicinal {

/// A field for one value. Takes units and arithmetic, shows the unit, says below itself what is wrong with what was
/// typed, and changes live: by typing (Enter or leaving), by arrow keys (Shift ten times, Ctrl a tenth) and by dragging
/// its unit sideways.
class ValueField : public QWidget {
    Q_OBJECT
public:
    enum class Kind { Length, OptionalLength, Angle, Count, Number };
    ValueField(Kind, const QString& name, const QString& accessible, const QString& tip, QWidget* parent = nullptr);
    ~ValueField() override;

    void setUnit(Unit);
    /// Text behind the unit, such as "c/c".
    void setSuffix(const QString&);
    /// Shows a value (mm, radians or a count); does not emit. A field that is being typed in keeps its text.
    void setValue(std::optional<double>);
    std::optional<double> value() const { return m_value; }
    /// A problem that came from working the value out; empty text takes it away.
    void setProblem(const QString&);
    QString problem() const;
    QLineEdit* edit() const { return m_edit; }
    void setStep(double step) { m_step = step; }
    void setPlaceholder(const QString& text) { m_edit->setPlaceholderText(text); }

signals:
    /// A new valid value. `live`: more of the same gesture follows; finished() ends it.
    void changed(std::optional<double> value, bool live);
    void finished();

protected:
    bool eventFilter(QObject*, QEvent*) override;

private:
    void commit();
    Result<double> parsed(const std::string& typed) const;
    void step(double by, bool live);
    QString shown(std::optional<double>) const;
    void place();

    Kind m_kind;
    Unit m_unit = Unit::Millimetre;
    QString m_suffix;
    std::optional<double> m_value;
    double m_step = 1;
    QLineEdit* m_edit;
    QLabel* m_unitLabel;
    QLabel* m_error;
    QString m_typedError, m_ruleError;
    double m_dragFrom = 0;
    int m_dragX = 0;
    bool m_dragging = false;
};

} // namespace vicinal
