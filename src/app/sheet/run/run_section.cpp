#include "app/sheet/run/run_section.h"
#include "app/controls/controls.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include "model/document/run_item.h"
#include "model/edits/typed/typed_values.h"
#include <QAbstractButton>
#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
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
    if (const auto t = m_texts.find(key); t != m_texts.end()) return t->second.edit;
    if (const auto i = m_items.find(key); i != m_items.end()) return i->second;
    if (const auto c = m_choices.find(key); c != m_choices.end())
        return c->second->button(std::max(0, c->second->current()));
    return nullptr;
}

void RunSection::change(const QString& name, const QString& merge, const std::function<void(RunItem&)>& how) {
    if (const auto run = m_store.currentRun()) m_store.change<RunItem>(run->item->id, name, merge, how);
}

QWidget* RunSection::makeControl(const ShownValue& v, Put put) {
    const std::string key = v.key;
    const QString label = word(v.label);
    if (v.sort == ValueKind::Choice) {
        auto* s = value_rows::makeChoice("run." + QString(v.key), v);
        connect(s, &Segmented::picked, this,
                [=, this](int k) { change(label, {}, [&](RunItem& r) { put(r, key, k, 0); }); });
        m_choices[key] = s;
        return s;
    }
    if (v.text) return makeText(key, label, word(v.tip));
    if (v.sort == ValueKind::Item) return makeItem(v);
    if (v.sort == ValueKind::Flag) {
        auto* box = new QCheckBox(label);
        box->setObjectName("run." + QString(v.key));
        box->setToolTip(word(v.tip));
        connect(box, &QCheckBox::clicked, this,
                [=, this](bool on) { change(label, {}, [&](RunItem& r) { put(r, key, on, 0); }); });
        m_flags[key] = box;
        return box;
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
    if (v.sort == ValueKind::Point || v.sort == ValueKind::Direction) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(4);
        for (int axis = 0; axis < 3; ++axis) {
            const QString name("xyz"[axis]);
            QWidget* f = make(key + std::to_string(axis), label + " " + name, axis);
            static_cast<ValueField*>(f)->setSuffix(name);
            row->addWidget(f, 1, Qt::AlignTop);
        }
        return line;
    }
    if (v.sort != ValueKind::Turn) return make(key, label, 0);
    auto* all = new QWidget; // three rows: about nose, side and crown
    auto* rows = new QVBoxLayout(all);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(7);
    const QString about = label.endsWith(tr("about")) ? label : tr("%1 about").arg(label);
    const QString axes[] = {tr("%1 nose").arg(about), tr("%1 side").arg(about), tr("%1 crown").arg(about)};
    for (int axis = 0; axis < 3; ++axis)
        rows->addWidget(labelled(axes[axis], make(key + std::to_string(axis), axes[axis], axis)));
    return all;
}

QWidget* RunSection::makeText(const std::string& key, const QString& label, const QString& tip) {
    auto* all = new QWidget;
    auto* box = new QVBoxLayout(all);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(2);
    auto* edit = new QLineEdit;
    edit->setObjectName("edit." + QString::fromStdString(key));
    edit->setAccessibleName(label);
    edit->setToolTip(tip);
    auto* error = new QLabel;
    error->setObjectName("error." + QString::fromStdString(key));
    error->setProperty("role", "error");
    error->setWordWrap(true);
    error->hide();
    box->addWidget(edit);
    box->addWidget(error);
    connect(edit, &QLineEdit::editingFinished, this, [=, this] {
        const auto run = m_store.currentRun();
        if (!run || !edit->isModified()) return;
        RunItem next = *run->item;
        if (const auto wrong = setTyped(next, m_store.document(), key, edit->text().toStdString())) {
            QString text = m_store.say(wrong->text); // the key stands beside the field already
            const QString head = QString::fromStdString(key) + ": ";
            if (text.startsWith(head)) text.remove(0, head.size());
            error->setText(text);
            error->show();
            return;
        }
        edit->setModified(false);
        change(label, {}, [&](RunItem& r) { r = next; });
    });
    m_texts[key] = {edit, error};
    return all;
}

QWidget* RunSection::makeItem(const ShownValue& v) {
    auto* box = new QComboBox;
    const std::string key = v.key;
    const QString label = word(v.label);
    box->setObjectName("run." + QString(v.key));
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // a long name must not widen the sheet
    box->setAccessibleName(label);
    box->setToolTip(word(v.tip));
    connect(box, &QComboBox::activated, this, [=, this](int i) {
        const auto run = m_store.currentRun();
        if (!run) return;
        RunItem next = *run->item;
        const std::string name = box->itemData(i).toInt() == 0 ? std::string("none") : box->itemText(i).toStdString();
        if (!setTyped(next, m_store.document(), key, name)) change(label, {}, [&](RunItem& r) { r = next; });
    });
    m_items[key] = box;
    return box;
}

QPushButton* RunSection::addSmallButton(QHBoxLayout* line, const QString& text, const char* name, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setStyleSheet("QPushButton { padding: 4px 8px; }");
    line->addWidget(b);
    return b;
}

void RunSection::showText(const std::string& key, const QString& text) {
    const Text& t = m_texts.at(key);
    if (t.edit->hasFocus() && t.edit->isModified()) return; // being typed
    t.edit->setText(text);
    t.edit->setCursorPosition(0);
    t.edit->setModified(false);
    t.error->hide();
}

void RunSection::addRow(const ShownValue& v, Put put) {
    if (m_rows.count(v.key)) return; // rules may share a value
    QWidget* control = makeControl(v, put);
    const bool three = v.sort == ValueKind::Point || v.sort == ValueKind::Direction;
    if (three) { // their label stands above: they need the room
        auto* all = new QWidget;
        auto* box = new QVBoxLayout(all);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(1);
        box->addWidget(new QLabel(word(v.label)));
        box->addWidget(control);
        control = all;
    }
    const bool own = three || v.sort == ValueKind::Turn || v.sort == ValueKind::Flag; // has its label
    m_rows[v.key] = own ? control : labelled(word(v.label), control);
    m_box->addWidget(m_rows[v.key]);
}

void RunSection::addRow(const QString& label, const ShownValue& a, const ShownValue& b, Put put) {
    m_box->addWidget(m_rows[a.key] = labelled(label, makeControl(a, put), makeControl(b, put)));
}

void RunSection::addChoice(const QString& key, const QString& label, const QStringList& words, const QStringList& tips,
                           std::function<void(int)> picked) {
    auto* s = new Segmented("run." + key, words, tips, value_rows::kSheetRoom);
    m_choices[key.toStdString()] = s;
    QWidget* row = label.isEmpty() ? s : labelled(label, s);
    m_rows[key.toStdString()] = row;
    m_box->addWidget(row);
    connect(s, &Segmented::picked, this, std::move(picked));
}

void RunSection::showValues(const std::vector<ShownValue>& values) {
    const Unit unit = m_store.document().unit;
    for (const auto& v : values) {
        if (v.sort == ValueKind::Choice) {
            m_choices.at(v.key)->setCurrent(int(v.value.x()));
        } else if (v.sort == ValueKind::Turn || v.sort == ValueKind::Point || v.sort == ValueKind::Direction) {
            for (int i = 0; i < 3; ++i) {
                field(v.key + std::to_string(i))->setUnit(unit);
                field(v.key + std::to_string(i))->setValue(v.value[i]);
            }
        } else if (v.sort == ValueKind::Flag) {
            m_flags.at(v.key)->setChecked(v.value.x() != 0);
        } else if (v.text) {
            showText(v.key, QString::fromStdString(v.text(unit)));
        } else if (v.sort == ValueKind::Item) {
            QComboBox* box = m_items.at(v.key);
            value_rows::fillItemsOf(box, m_store.document(), v.kind, v.item, tr("none"));
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
    for (const auto& [key, t] : m_texts) {
        const bool mine = problem && problem->field == key && !t.edit->parentWidget()->isHidden();
        if (t.edit->hasFocus() && t.edit->isModified()) continue;
        if (mine) t.error->setText(m_store.say(problem->text));
        t.error->setVisible(mine);
        shown = shown || mine;
    }
    return shown;
}

} // namespace vicinal
