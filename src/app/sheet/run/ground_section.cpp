#include "app/sheet/run/ground_section.h"
#include "app/controls/format.h"
#include "model/document/body_item.h"
#include "model/document/run_item.h"
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

namespace vicinal {

using value_rows::valuesOf;

GroundSection::GroundSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Feet{})) addRow(v, putInto<&RunItem::feet>);
    m_says = new QLabel;
    m_says->setObjectName("feet.says");
    m_says->setProperty("role", "muted");
    m_says->setWordWrap(true);
    m_box->addWidget(m_says);
}

void GroundSection::refresh(const RunResult& run) {
    const Feet& f = run.item->feet;
    for (const char* key : {"sunk", "feetBy"}) showRow(key, f.ground != 0);
    showRow("bayLevel", f.ground != 0 && f.by == FeetBy::Level);
    showValues(valuesOf(f));
    showProblem(run.problem);
    QString text;
    if (f.ground == 0) {
        text = tr("The places stand on the path. Choose a body to stand them on the ground instead.");
    } else if (run.placed && run.placed->laid->dropped && !run.problem) {
        const auto& by = run.placed->laid->dropped->by;
        const auto [low, high] = std::minmax_element(by.begin(), by.begin() + long(run.placed->count()));
        const Unit unit = m_store.document().unit;
        if (!by.empty() && *high <= 0)
            text = tr("Dropped by %1 (place %2) to %3 (place %4) under the path; the schedule lists each.")
                       .arg(lengthText(-*high, unit))
                       .arg(high - by.begin() + 1)
                       .arg(lengthText(-*low, unit))
                       .arg(low - by.begin() + 1);
        else if (!by.empty())
            text = tr("Raised by %1 (place %2) to %3 (place %4) off the path; the schedule lists each.")
                       .arg(lengthText(*low, unit))
                       .arg(low - by.begin() + 1)
                       .arg(lengthText(*high, unit))
                       .arg(high - by.begin() + 1);
        for (const Words& r : run.remarks) text += "\n" + QString::fromUtf8("\u25b2 ") + m_store.say(r);
    }
    m_says->setText(text);
    m_says->setVisible(!text.isEmpty());
}

QString GroundSection::summary(const RunResult& run) const {
    const Feet& f = run.item->feet;
    if (f.ground == 0) return tr("on the path");
    const auto body = m_store.document().body(f.ground);
    return tr("on %1").arg(body ? QString(body->name.c_str()) : tr("(deleted)")) +
           (f.by == FeetBy::Level ? " \u00b7 " + tr("level bays") : QString());
}

} // namespace vicinal
