#include "app/controls/value_rows.h"
#include "app/controls/controls.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include <QApplication>
#include <QCheckBox>
#include <QCoreApplication>
#include <QLabel>
#include <QVBoxLayout>
#include <array>

namespace vicinal {
namespace {

/// Takes all values of something.
struct Collector : EachValue<Collector> {
    std::vector<ShownValue>& out;
    explicit Collector(std::vector<ShownValue>& o) : out(o) {}
    ShownValue& add(const ValueAbout& about, const Vec3& v) const {
        return out.emplace_back(ShownValue{about.kind, about.key, about.label, about.tip, v});
    }
    template<class T>
    requires std::is_arithmetic_v<T>
    void value(const ValueAbout& about, const T& v) const { add(about, Vec3(double(v), 0, 0)); }
    void value(const ValueAbout& about, const Vec3& v) const { add(about, v); }
    void value(const ValueAbout& about, const std::optional<double>& v) const {
        add(about, Vec3(v.value_or(0), 0, 0)).none = !v;
    }
    void value(const ValueAbout& about, const Id& id) const {
        ShownValue& shown = add(about, Vec3::Zero());
        shown.item = id;
        shown.kind = about.item;
    }
    /// Whatever is typed as text.
    template<class T>
    requires(!std::is_arithmetic_v<T>) void value(const ValueAbout& about, const T& v) const {
        if constexpr (requires { typedText(about, v, Unit()); })
            add(about, Vec3::Zero()).text = [about, v](Unit unit) { return typedText(about, v, unit); };
    }
    void chosen(const ValueAbout& about, const int& v, ChoiceWords words) const {
        ShownValue& shown = add(about, Vec3(v, 0, 0));
        for (const ChoiceWord& w : words) shown.words.push_back(w);
    }
};

/// Puts one value back.
struct Setter : EachValue<Setter> {
    const std::string& key;
    double v; ///< not a number: none
    int axis;
    Setter(const std::string& k, double value, int a) : key(k), v(value), axis(a) {}
    template<class T> void value(const ValueAbout& about, T& x) const {
        if (key != about.key) return;
        if constexpr (std::is_same_v<T, std::optional<double>>)
            x = std::isnan(v) ? std::nullopt : std::optional(v);
        else if constexpr (std::is_same_v<T, Vec3>)
            x[axis] = v;
        else if constexpr (std::is_same_v<T, bool>)
            x = v != 0;
        else if constexpr (std::is_arithmetic_v<T>)
            x = T(v);
    }
    void chosen(const ValueAbout& about, int& x, ChoiceWords) const {
        if (key == about.key) x = int(v);
    }
};

} // namespace

std::vector<ShownValue> value_rows::collected(const Handing& hand) {
    std::vector<ShownValue> out;
    const Collector collector(out);
    hand(VisitorFor<const Collector, true>(collector));
    return out;
}

void value_rows::put(const Handing& hand, const std::string& key, double value, int axis) {
    const Setter setter(key, value, axis);
    hand(VisitorFor<const Setter, false>(setter));
}

QString value_rows::word(const char* text) { return QCoreApplication::translate("Recipe", text); }

Segmented* value_rows::makeChoice(const QString& name, const ShownValue& v) {
    QStringList words, tips;
    for (const ChoiceWord& w : v.words) words += word(w.screen), tips += word(*w.tip ? w.tip : v.tip);
    return new Segmented(name, words, tips, kSheetRoom);
}

ValueField* value_rows::makeField(const QString& name, const QString& label, const ShownValue& v) {
    const auto kind = [&] {
        switch (v.sort) {
        case ValueKind::Limit: return ValueField::Kind::OptionalLength;
        case ValueKind::Angle:
        case ValueKind::Turn: return ValueField::Kind::Angle;
        case ValueKind::Count: return ValueField::Kind::Count;
        case ValueKind::Number:
        case ValueKind::Direction: return ValueField::Kind::Number;
        default: return ValueField::Kind::Length;
        }
    };
    auto* f = new ValueField(kind(), name, label, word(v.tip));
    if (v.sort == ValueKind::Limit) f->setPlaceholder(QCoreApplication::translate("Recipe", "none"));
    return f;
}

void value_rows::fillItemsOf(QComboBox* box, const Document& d, ItemKind kind, Id current, const QString& none) {
    const QString missing = QCoreApplication::translate("Recipe", "(deleted)");
    const auto fill = [&](const auto& items) { fillItems(box, items, current, missing, none); };
    switch (kind) {
    case ItemKind::Run: fill(d.runs); break;
    case ItemKind::Path: fill(d.paths); break;
    case ItemKind::Part: fill(d.parts); break;
    case ItemKind::Body: fill(d.bodies); break;
    }
}

ValueRows::ValueRows(Store& store, const QString& name, QWidget* parent)
    : QWidget(parent), m_store(store), m_name(name) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
}

void ValueRows::show(const QString& of, const std::vector<ShownValue>& values, const std::optional<Problem>& problem) {
    QString shape = of;
    for (const auto& v : values) shape += QString(" ") + v.label;
    if (shape != m_of) {
        m_of = shape;
        m_rows.clear();
        QString inHand;
        if (m_body) { // the field that was typed into is one of them, and still at work
            QWidget* focus = m_body->isAncestorOf(QApplication::focusWidget()) ? QApplication::focusWidget() : nullptr;
            while (focus && focus != m_body && focus->objectName().isEmpty()) focus = focus->parentWidget();
            if (focus && focus != m_body) inHand = focus->objectName();
            m_body->hide();
            m_body->setParent(nullptr);
            m_body->deleteLater();
        }
        m_body = new QWidget;
        auto* box = new QVBoxLayout(m_body);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(7);
        for (const auto& v : values) m_rows.emplace_back(v.key, add(v, box));
        layout()->addWidget(m_body);
        if (!inHand.isEmpty())
            if (auto* again = m_body->findChild<QWidget*>(inHand)) again->setFocus();
    }
    setVisible(!values.empty());
    for (size_t i = 0; i < values.size(); ++i)
        m_rows[i].second(values[i],
                         problem && problem->field == values[i].key ? m_store.say(problem->text) : QString());
}

bool ValueRows::has(const std::string& key) const {
    return std::any_of(m_rows.begin(), m_rows.end(), [&](const auto& r) { return r.first == key; });
}

std::function<void(double, int, bool)> ValueRows::setterOf(const ShownValue& v) {
    return [this, key = std::string(v.key), label = value_rows::word(v.label)](double value, int axis, bool live) {
        emit changed(label, key, value, axis, live);
    };
}

ValueRows::Show ValueRows::add(const ShownValue& v, QVBoxLayout* box) {
    const QString name = m_name + "." + v.key, label = value_rows::word(v.label), tip = value_rows::word(v.tip);
    const auto set = setterOf(v);
    switch (v.sort) {
    case ValueKind::Flag: {
        auto* b = new QCheckBox(label);
        b->setObjectName(name);
        b->setToolTip(tip);
        box->addWidget(b);
        connect(b, &QCheckBox::clicked, this, [set](bool on) { set(on, 0, false); });
        return [b](const ShownValue& x, const QString&) { b->setChecked(x.value.x() != 0); };
    }
    case ValueKind::Choice: {
        auto* s = value_rows::makeChoice(name, v);
        box->addWidget(labelled(label, s));
        connect(s, &Segmented::picked, this, [set](int k) { set(k, 0, false); });
        return [s](const ShownValue& x, const QString&) { s->setCurrent(int(x.value.x())); };
    }
    case ValueKind::Point:
    case ValueKind::Direction:
    case ValueKind::Turn: return addThree(v, box);
    case ValueKind::Item: return addItem(v, box);
    default: break;
    }
    auto* f = value_rows::makeField(name, label, v);
    box->addWidget(labelled(label, f));
    connect(f, &ValueField::changed, this, [set](std::optional<double> x, bool live) {
        if (x) set(*x, 0, live);
    });
    connect(f, &ValueField::finished, &m_store, &Store::seal);
    return [this, f](const ShownValue& x, const QString& problem) {
        f->setUnit(m_store.document().unit);
        f->setValue(x.value.x());
        f->setProblem(problem);
    };
}

ValueRows::Show ValueRows::addItem(const ShownValue& v, QVBoxLayout* box) {
    const QString name = m_name + "." + v.key, label = value_rows::word(v.label), tip = value_rows::word(v.tip);
    const auto set = setterOf(v);
    auto* items = new QComboBox;
    items->setObjectName(name);
    items->setAccessibleName(label);
    items->setToolTip(tip);
    box->addWidget(labelled(label, items));
    connect(items, &QComboBox::activated, this, [set, items](int i) { set(items->itemData(i).toInt(), 0, false); });
    auto* error = new QLabel;
    error->setProperty("role", "error");
    error->setWordWrap(true);
    box->addWidget(error);
    return [this, items, error](const ShownValue& x, const QString& problem) {
        const QString none = QCoreApplication::translate("Recipe", "none");
        value_rows::fillItemsOf(items, m_store.document(), x.kind, x.item, none);
        error->setText(problem);
        error->setVisible(!problem.isEmpty());
    };
}

ValueRows::Show ValueRows::addThree(const ShownValue& v, QVBoxLayout* box) {
    const QString name = m_name + "." + v.key, label = value_rows::word(v.label);
    const auto set = setterOf(v);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    std::array<ValueField*, 3> fields;
    for (int axis = 0; axis < 3; ++axis) {
        auto* f = fields[size_t(axis)] = value_rows::makeField(name + "." + "xyz"[axis], label + " " + "xyz"[axis], v);
        f->setSuffix(QString("xyz"[axis]));
        line->addWidget(f, 1, Qt::AlignTop);
        connect(f, &ValueField::changed, this, [set, axis](std::optional<double> x, bool live) {
            if (x) set(*x, axis, live);
        });
        connect(f, &ValueField::finished, &m_store, &Store::seal);
    }
    box->addWidget(new QLabel(label));
    box->addLayout(line);
    return [this, fields](const ShownValue& x, const QString& problem) {
        for (int axis = 0; axis < 3; ++axis) {
            fields[size_t(axis)]->setUnit(m_store.document().unit);
            fields[size_t(axis)]->setValue(x.value[axis]);
        }
        fields[0]->setProblem(problem);
    };
}

} // namespace vicinal
