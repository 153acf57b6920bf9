#include "app/sheet/run_section.h"
#include "app/controls/controls.h"
#include "app/controls/value_field.h"
#include <QAbstractButton>
#include <QLineEdit>
#include <QVBoxLayout>
#include <limits>

namespace vicinal {

using value_rows::word;

RunSection::RunSection(Store& store, QWidget* parent) : QWidget(parent), m_store(store), m_box(new QVBoxLayout(this)) {
    m_box->setContentsMargins(0, 0, 0, 0);
    m_box->setSpacing(7);
}

QWidget* RunSection::target(const QString& name) const {
    const std::string key = name.toStdString();
    if (const auto f = m_fields.find(key); f != m_fields.end()) return f->second->edit();
    if (const auto c = m_choices.find(key); c != m_choices.end())
        return c->second->button(std::max(0, c->second->current()));
    return nullptr;
}

void RunSection::change(const QString& name, const QString& merge, const std::function<void(RunItem&)>& how) {
    if (const auto run = m_store.currentRun()) m_store.changeRun(run->item->id, name, merge, how);
}

QWidget* RunSection::makeControl(const ShownValue& v, Put put) {
    using Sort = ShownValue::Sort;
    const std::string key = v.key;
    const QString label = word(v.label);
    if (v.sort == Sort::Choice) {
        auto* s = value_rows::makeChoice("run." + QString(v.key), v);
        connect(s, &Segmented::picked, this,
                [=, this](int k) { change(label, {}, [&](RunItem& r) { put(r, key, k, 0); }); });
        m_choices[key] = s;
        return s;
    }
    const auto make = [&](const std::string& name, const QString& says, int axis) {
        auto* f = value_rows::makeField(QString::fromStdString(name), says, v);
        connect(f, &ValueField::changed, this, [=, this](std::optional<double> x, bool live) {
            change(says, live ? QString::fromStdString("field " + name) : QString(),
                   [&](RunItem& r) { put(r, key, x.value_or(std::numeric_limits<double>::quiet_NaN()), axis); });
        });
        connect(f, &ValueField::finished, &m_store, &Store::seal);
        m_fields[name] = f;
        return f;
    };
    if (v.sort != Sort::Turn) return make(key, label, 0);
    auto* all = new QWidget; // three rows: about nose, side and crown
    auto* rows = new QVBoxLayout(all);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(7);
    const QString axes[] = {tr("%1 nose").arg(label), tr("%1 side").arg(label), tr("%1 crown").arg(label)};
    for (int axis = 0; axis < 3; ++axis)
        rows->addWidget(labelled(axes[axis], make(key + std::to_string(axis), axes[axis], axis)));
    return all;
}

void RunSection::addRow(const ShownValue& v, Put put) {
    QWidget* control = makeControl(v, put);
    m_rows[v.key] = v.sort == ShownValue::Sort::Turn ? control : labelled(word(v.label), control);
    m_box->addWidget(m_rows[v.key]);
}

void RunSection::addRow(const QString& label, const ShownValue& a, const ShownValue& b, Put put) {
    m_box->addWidget(m_rows[a.key] = labelled(label, makeControl(a, put), makeControl(b, put)));
}

void RunSection::addChoice(const QString& key, const QString& label, const QStringList& words, const QStringList& tips,
                           std::function<void(int)> picked) {
    auto* s = new Segmented("run." + key, words, tips);
    m_choices[key.toStdString()] = s;
    QWidget* row = label.isEmpty() ? s : labelled(label, s);
    m_rows[key.toStdString()] = row;
    m_box->addWidget(row);
    connect(s, &Segmented::picked, this, std::move(picked));
}

void RunSection::showValues(const std::vector<ShownValue>& values) {
    const Unit unit = m_store.document().unit;
    for (const auto& v : values) {
        if (v.sort == ShownValue::Sort::Choice) {
            m_choices.at(v.key)->setCurrent(int(v.value.x()));
        } else if (v.sort == ShownValue::Sort::Turn) {
            for (int i = 0; i < 3; ++i) field(v.key + std::to_string(i))->setValue(v.value[i]);
        } else {
            field(v.key)->setUnit(unit);
            field(v.key)->setValue(v.none ? std::nullopt : std::optional(v.value.x()));
        }
    }
}

void RunSection::showRow(const std::string& key, bool visible) {
    if (const auto row = m_rows.find(key); row != m_rows.end()) row->second->setVisible(visible);
}

bool RunSection::showProblem(const std::optional<Problem>& problem) {
    bool shown = false;
    for (const auto& [key, f] : m_fields) {
        const bool mine =
            problem && (problem->field == key || problem->field + "0" == key) && !f->parentWidget()->isHidden();
        f->setProblem(mine ? m_store.say(problem->text) : QString());
        shown = shown || mine;
    }
    return shown;
}

} // namespace vicinal
