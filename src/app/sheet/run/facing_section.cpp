#include "app/sheet/run/facing_section.h"
#include "app/controls/controls.h"
#include "model/document/run_item.h"
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;
using value_rows::word;

FacingSection::FacingSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    addRules<NoseRule>("nose", tr("Nose"), [this](int k) {
        change(tr("Nose"), {}, [&](RunItem& r) { r.facing.nose = alternative<NoseRule>(size_t(k)); });
    });
    addRules<CrownRule>("crown", tr("Crown"), [this](int k) {
        change(tr("Crown"), {}, [&](RunItem& r) { r.facing.crown = alternative<CrownRule>(size_t(k)); });
    });
    for (const auto& v : valuesOf(Facing{})) addRow(v, putInto<&RunItem::facing>);
    auto* pick = new QPushButton(tr("Take it from an edge"));
    pick->setObjectName("direction.pick");
    pick->setToolTip(tr("Click an edge of a part in the view: the direction is along it, upwards"));
    connect(pick, &QPushButton::clicked, this, &FacingSection::directionWanted);
    m_box->addWidget(m_pick = pick);
}

void FacingSection::refresh(const RunResult& run) {
    const Facing& f = run.item->facing;
    m_choices.at("nose")->setCurrent(int(f.nose.index()));
    m_choices.at("crown")->setCurrent(int(f.crown.index()));
    showRow("crown", counts(f, "crown"));
    for (const auto& v : valuesOf(f)) showRow(v.key, counts(f, v.key));
    showValues(valuesOf(f));
    m_pick->setVisible(counts(f, "direction"));
    showProblem(run.problem);
}

QString FacingSection::summary(const RunResult& run) const {
    const Facing& f = run.item->facing;
    QString line = word(wordsOf(f.nose).summary);
    if (std::holds_alternative<AlongPath>(f.nose)) line = word(wordsOf(f.crown).summary) + " \u00b7 " + line;
    if (!f.turn.isZero(0)) line += " \u00b7 " + tr("turned");
    return line;
}

} // namespace vicinal
