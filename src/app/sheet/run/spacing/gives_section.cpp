#include "app/sheet/run/spacing/gives_section.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "base/text.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/giving.h"
#include <QComboBox>
#include <QCoreApplication>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;
using value_rows::word;

namespace {

QString numberText(double v, ProfileKind of, Unit unit) {
    if (of == ProfileKind::Angle) return QString::number(v / kDegree, 'f', 3) + QString::fromUtf8("\u00b0");
    return of == ProfileKind::Factor ? QString::number(v, 'g', 7) : lengthText(v, unit);
}

/// What is shown of a bound in its field, as it is typed.
QString boundText(const std::optional<double>& v, ProfileKind of, Unit unit) {
    if (!v) return {};
    return QString::fromStdString(of == ProfileKind::Angle    ? text::number(*v / kDegree, 6)
                                  : of == ProfileKind::Factor ? text::exact(*v)
                                                              : formatLength(*v, unit));
}

} // namespace

QString gaveText(const SolvedValue& g, Unit unit) {
    const QString name = QString::fromStdString(g.name);
    if (g.before == 0) // moved from where it stands
        return QString("%1 %2%3").arg(name, g.after < 0 ? "" : "+", numberText(g.after, g.of, unit));
    return QCoreApplication::translate("GivesSection", "%1 %2 to %3")
        .arg(name, numberText(g.before, g.of, unit), numberText(g.after, g.of, unit));
}

GivesSection::GivesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    const auto combo = [&](const char* key, const QString& label, const QString& tip) {
        auto* box = new QComboBox;
        box->setObjectName(QString("run.") + key);
        box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        box->setAccessibleName(label);
        box->setToolTip(tip);
        m_rows[key] = labelled(label, box);
        m_box->addWidget(m_rows[key]);
        return box;
    };
    for (const auto& v : valuesOf(GiveWay{})) {
        if (std::string(v.key) == "giveWheel") {
            m_wheel = combo("giveWheel", tr("Wheel"), tr("The wheel that moves"));
            continue;
        }
        if (std::string(v.key) == "giveAxis") // of the value chosen
            m_value = combo("giveValue", tr("Value"), tr("The number of the path that is found anew"));
        else
            addRow(v, putInto<&RunItem::gives>);
    }
    for (const auto& [key, label] :
         {std::pair{"giveAtLeast", tr("Not below")}, std::pair{"giveAtMost", tr("Not above")}}) {
        m_rows[key] =
            labelled(label, makeText(key, label, tr("A bound of what gives way; empty: as far as it is of any use")));
        m_box->addWidget(m_rows[key]);
    }
    m_gave = new QLabel;
    m_gave->setObjectName("run.gave");
    m_gave->setWordWrap(true);
    m_box->addWidget(m_gave);
    m_error = new QLabel;
    m_error->setObjectName("error.gives");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    m_box->addWidget(m_error);
    m_keep = new QPushButton(tr("Keep it, and let go"));
    m_keep->setObjectName("gives.keep");
    m_keep->setToolTip(tr("Writes the number found into the path; nothing gives way any more"));
    m_box->addWidget(m_keep);
    connect(m_keep, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        if (!run || !run->path || !run->path->gave) return;
        PathItem path = *run->path->item;
        path.recipe = run->path->gave->recipe;
        RunItem item = *run->item;
        item.gives.what = Gives::Nothing;
        m_store.edit(with(with(m_store.document(), path), item), tr("Keep what gave way"));
    });
    connect(m_wheel, &QComboBox::activated, this,
            [this](int i) { change(tr("Wheel that gives way"), {}, [&](RunItem& r) { r.gives.wheel = i + 1; }); });
    connect(m_value, &QComboBox::activated, this, [this](int i) {
        const QStringList parts = m_value->itemData(i).toString().split('|');
        change(tr("Value that gives way"), {}, [&](RunItem& r) {
            r.gives.value = parts.value(0).toStdString();
            r.gives.axis = std::max(0, parts.value(1).toInt());
            r.gives.least.reset(); // bounds were another number's
            r.gives.most.reset();
        });
    });
}

/// The numbers of the path's recipe and its wheels, to choose from.
void GivesSection::refreshChoices(const RunResult& run) {
    if (!run.path) return;
    const auto fill = [](QComboBox* box, const std::vector<std::pair<QString, QString>>& all, const QString& current) {
        bool same = box->count() == int(all.size());
        for (int i = 0; same && i < box->count(); ++i)
            same = box->itemText(i) == all[size_t(i)].first && box->itemData(i).toString() == all[size_t(i)].second;
        if (!same) {
            box->clear();
            for (const auto& [shown, stored] : all) box->addItem(shown, stored);
        }
        box->setCurrentIndex(box->findData(current));
    };
    const GiveWay& g = run.item->gives;
    std::vector<std::pair<QString, QString>> values, wheels;
    QString current;
    for (const auto& n : numbersOf(run.path->item->recipe)) {
        QString name = word(n.label);
        const QString key = QString::fromStdString(n.key);
        if (key.contains(' ')) name += " " + key.section(' ', 1);
        if (n.axis >= 0) name += QString(" ") + "xyz"[n.axis];
        const QString stored = QString("%1|%2").arg(key).arg(n.axis);
        values.emplace_back(name, stored);
        if (n.key == g.value && (n.axis < 0 || n.axis == g.axis)) current = stored;
    }
    fill(m_value, values, current);
    if (const auto* shape = std::get_if<ShapeRecipe>(&run.path->item->recipe))
        if (const auto* loop = std::get_if<WheelShape>(&shape->shape))
            for (size_t i = 0; i < loop->wheels.size(); ++i) {
                const QString name = QString::fromStdString(loop->wheels[i].name);
                wheels.emplace_back(name.isEmpty() ? tr("wheel %1").arg(i + 1) : name, QString::number(i + 1));
            }
    fill(m_wheel, wheels, QString::number(g.wheel));
    m_choices.at("gives")->button(int(Gives::Wheel))->setEnabled(!wheels.empty());
}

void GivesSection::refresh(const RunResult& run) {
    const GiveWay& g = run.item->gives;
    for (const char* key : {"giveCount", "giveWheel", "giveMoves", "giveHeading", "givePivot", "giveAlong", "giveValue",
                            "giveAtLeast", "giveAtMost"})
        showRow(key, counts(g, key));
    auto values = valuesOf(g);
    std::erase_if(values, [](const ShownValue& v) {
        return std::string(v.key) == "giveWheel" || std::string(v.key) == "giveAxis";
    });
    showValues(values);
    refreshChoices(run);
    const Unit unit = m_store.document().unit;
    ProfileKind of = g.what == Gives::Wheel && g.moves == WheelMoves::Pivot ? ProfileKind::Angle : ProfileKind::Length;
    if (g.what == Gives::Value && run.path)
        if (const auto n = numberOf(run.path->item->recipe, g.value, g.axis)) of = n->of;
    showText("giveAtLeast", boundText(g.least, of, unit));
    showText("giveAtMost", boundText(g.most, of, unit));
    const bool mine = run.path && run.path->gave && g.what != Gives::Nothing && !run.problem;
    m_gave->setVisible(mine);
    m_keep->setVisible(mine);
    if (mine) {
        const SolvedValue& gave = *run.path->gave;
        m_gave->setText(tr("%1: %2 come out exactly, to %3 mm")
                            .arg(gaveText(gave, unit))
                            .arg(gave.count)
                            .arg(std::abs(gave.error), 0, 'g', 1));
    }
    const bool placed = showProblem(run.problem);
    const bool own = run.problem && (run.problem->field.starts_with("give")) && !placed;
    m_error->setText(own ? m_store.say(run.problem->text) : QString());
    m_error->setVisible(own);
}

QString GivesSection::summary(const RunResult& run) const {
    if (run.item->gives.what == Gives::Nothing) return tr("nothing");
    if (run.path && run.path->gave && !run.problem) return gaveText(*run.path->gave, m_store.document().unit);
    return tr("no solution");
}

QWidget* GivesSection::target(const QString& key) const {
    if (key == "giveValue") return m_value;
    if (key == "giveWheel") return m_wheel;
    return RunSection::target(key);
}

} // namespace vicinal
