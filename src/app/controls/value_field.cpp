#include "app/controls/value_field.h"
#include "base/text.h"
#include "base/vec.h"
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QStyle>
#include <QVBoxLayout>

namespace vicinal {

ValueField::ValueField(Kind kind, const QString& name, const QString& accessible, const QString& tip, QWidget* parent)
    : QWidget(parent), m_kind(kind) {
    setObjectName("field." + name);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(2);
    m_edit = new QLineEdit;
    m_edit->setObjectName("edit." + name);
    m_edit->setAccessibleName(accessible);
    m_edit->setToolTip(tip + (kind == Kind::Count
                                  ? tr("\nArrow keys step it; Shift by ten.")
                                  : tr("\nTakes units and sums: 2.4 m, 3/4 in, 1200/7. Arrow keys step it (Shift "
                                       "tenfold, Ctrl a tenth); drag the unit sideways to change it live.")));
    m_unitLabel = new QLabel(m_edit);
    m_unitLabel->setProperty("role", "muted");
    m_unitLabel->setCursor(Qt::SizeHorCursor);
    m_unitLabel->setObjectName("unit." + name);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    m_error->setObjectName("error." + name);
    m_error->hide();
    box->addWidget(m_edit);
    box->addWidget(m_error);
    m_edit->installEventFilter(this);
    m_unitLabel->installEventFilter(this);
    connect(m_edit, &QLineEdit::editingFinished, this, &ValueField::commit);
    setFocusProxy(m_edit);
    setUnit(Unit::Millimetre);
}

ValueField::~ValueField() {
    // The line edit outlives this part of the field and may lose the keyboard then: nobody is there to hear it.
    for (QObject* child : {static_cast<QObject*>(m_edit), static_cast<QObject*>(m_unitLabel)}) {
        child->removeEventFilter(this);
        child->disconnect(this);
    }
}

void ValueField::setUnit(Unit unit) {
    m_unit = unit;
    place();
    if (!m_edit->hasFocus() || !m_edit->isModified()) m_edit->setText(shown(m_value));
}

void ValueField::setSuffix(const QString& suffix) {
    m_suffix = suffix;
    place();
}

void ValueField::place() {
    QString unit = m_kind == Kind::Angle                             ? QString("\u00b0")
                   : m_kind == Kind::Count || m_kind == Kind::Number ? QString()
                                                                     : QString(nameOf(m_unit));
    if (!m_suffix.isEmpty()) unit += (unit.isEmpty() ? "" : " ") + m_suffix;
    m_unitLabel->setText(unit);
    m_unitLabel->adjustSize();
    const int w = m_unitLabel->width();
    m_unitLabel->move(m_edit->width() - w - 9, (m_edit->height() - m_unitLabel->height()) / 2);
    m_edit->setTextMargins(0, 0, w + 4, 0);
}

QString ValueField::shown(std::optional<double> v) const {
    if (!v) return {};
    switch (m_kind) {
    case Kind::Angle: return QString::fromStdString(text::number(*v / kDegree, 4));
    case Kind::Count: return QString::number(long(*v));
    case Kind::Number: return QString::fromStdString(text::number(*v, 6));
    default: return QString::fromStdString(formatLength(*v, m_unit));
    }
}

void ValueField::setValue(std::optional<double> v) {
    m_value = v;
    if (m_edit->hasFocus() && m_edit->isModified()) return;
    if (m_edit->text() != shown(v)) m_edit->setText(shown(v));
    if (!m_typedError.isEmpty() && !m_edit->hasFocus()) {
        m_typedError.clear();
        setProblem(m_ruleError);
    }
}

void ValueField::setProblem(const QString& text) {
    m_ruleError = text;
    const QString all = !m_typedError.isEmpty() ? m_typedError : m_ruleError;
    m_error->setText(all);
    m_error->setVisible(!all.isEmpty());
    m_edit->setProperty("wrong", !all.isEmpty());
    m_edit->style()->unpolish(m_edit);
    m_edit->style()->polish(m_edit);
}

QString ValueField::problem() const { return m_error->isHidden() ? QString() : m_error->text(); }

Result<double> ValueField::parsed(const std::string& typed) const {
    switch (m_kind) {
    case Kind::Angle: return parseAngle(typed);
    case Kind::Number: return parseNumber(typed);
    case Kind::Count: {
        const auto n = parseCount(typed, -1'000'000'000, 1'000'000'000);
        if (!n) return n.problem();
        return double(*n);
    }
    case Kind::Length:
    case Kind::OptionalLength: break;
    }
    return parseLength(typed, m_unit);
}

void ValueField::commit() {
    if (!m_edit->isModified()) return;
    const std::string typed = m_edit->text().trimmed().toStdString();
    std::optional<double> v;
    QString wrong;
    if (!(typed.empty() && m_kind == Kind::OptionalLength)) {
        const auto read = parsed(typed);
        if (read)
            v = *read;
        else
            wrong = QString::fromStdString(read.problem().text);
    }
    m_typedError = wrong;
    setProblem(m_ruleError);
    if (!wrong.isEmpty()) return; // the text stays for mending; the document keeps its last good value
    m_edit->setModified(false);
    m_value = v;
    m_edit->setText(shown(v));
    emit changed(v, false);
    emit finished();
}

void ValueField::step(double by, bool live) {
    const double unit = m_kind == Kind::Angle                          ? kDegree
                        : m_kind == Kind::Count                        ? 1
                        : m_kind == Kind::Number                       ? 0.25
                        : m_unit == Unit::Inch || m_unit == Unit::Foot ? 25.4 / 8
                                                                       : m_step;
    double v = m_value.value_or(0) + by * unit;
    if (m_kind == Kind::Count) v = std::round(v);
    if (!(m_kind == Kind::Angle)) v = std::round(v * 1e6) / 1e6;
    m_typedError.clear();
    m_edit->setModified(false);
    m_value = v;
    m_edit->setText(shown(v));
    emit changed(v, live);
}

bool ValueField::eventFilter(QObject* watched, QEvent* e) {
    if (watched == m_edit) {
        if (e->type() == QEvent::Resize) place();
        if (e->type() == QEvent::KeyPress) {
            const auto* key = static_cast<QKeyEvent*>(e);
            const double scale = key->modifiers() & Qt::ShiftModifier                              ? 10
                                 : key->modifiers() & Qt::ControlModifier && m_kind != Kind::Count ? 0.1
                                                                                                   : 1;
            if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
                if (m_edit->isModified()) commit();
                if (m_edit->isModified()) return true; // what is typed cannot be read
                step(key->key() == Qt::Key_Up ? scale : -scale, true);
                return true;
            }
            if (key->key() == Qt::Key_Escape && m_edit->isModified()) {
                m_edit->setModified(false);
                m_edit->setText(shown(m_value));
                m_typedError.clear();
                setProblem(m_ruleError);
                return true;
            }
        }
        if (e->type() == QEvent::KeyRelease && !static_cast<QKeyEvent*>(e)->isAutoRepeat()) {
            const int key = static_cast<QKeyEvent*>(e)->key();
            if (key == Qt::Key_Up || key == Qt::Key_Down) emit finished();
        }
    } else if (watched == m_unitLabel) {
        const auto* mouse = dynamic_cast<QMouseEvent*>(e);
        if (mouse && e->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton) {
            m_dragging = true;
            m_dragFrom = m_value.value_or(0);
            m_dragX = int(mouse->globalPosition().x());
            m_edit->setFocus();
            return true;
        }
        if (mouse && e->type() == QEvent::MouseMove && m_dragging) {
            const double steps = std::round((mouse->globalPosition().x() - m_dragX) / 3);
            m_value = m_dragFrom;
            step(steps, true);
            return true;
        }
        if (e->type() == QEvent::MouseButtonRelease && m_dragging) {
            m_dragging = false;
            emit finished();
            return true;
        }
    }
    return QWidget::eventFilter(watched, e);
}

} // namespace vicinal
