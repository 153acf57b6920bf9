#include "app/sheet/run/motion/motion_section.h"
#include "app/controls/format.h"
#include "app/controls/value_field.h"
#include "app/sheet/run/motion/sweep_graph.h"
#include "app/state/background.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;

MotionSection::MotionSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    for (const auto& v : valuesOf(Motion{})) addRow(v, putInto<&RunItem::motion>);
    buildSweep();
}

void MotionSection::buildSweep() {
    m_sweep = new QWidget;
    auto* box = new QVBoxLayout(m_sweep);
    box->setContentsMargins(0, 2, 0, 0);
    box->setSpacing(6);
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        return addSmallButton(line, text, name, tip);
    };
    m_pitch =
        button(tr("Sweep a pitch"), "motion.sweepPitch",
               tr("Go through one pitch in 100 steps and find the worst: how a chain closes, how far joints turn"));
    m_path =
        button(tr("whole path"), "motion.sweepPath", tr("Go through the whole path in 400 steps and find the worst"));
    m_show = button(tr("Show it"), "motion.showWorst", tr("Set the clock to where the worst was found"));
    line->addStretch();
    box->addLayout(line);
    m_graph = new SweepGraph("motion.graph");
    box->addWidget(m_graph);
    m_says = new QLabel;
    m_says->setObjectName("motion.worst");
    m_says->setWordWrap(true);
    box->addWidget(m_says);
    m_box->addWidget(m_sweep);
    connect(m_pitch, &QPushButton::clicked, this, [this] { sweepOver(false); });
    connect(m_path, &QPushButton::clicked, this, [this] { sweepOver(true); });
    connect(m_show, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        const SweepStep* worst = m_graph->worst();
        if (!run || !worst) return;
        if (const auto t = timeOf(*run, worst->way)) emit timeWanted(*t);
    });
}

void MotionSection::sweepOver(bool path) {
    const auto run = m_store.currentRun();
    if (!run || !run->placed || run->problem) return;
    const auto all = inBackground<std::vector<SweepStep>>(
        this, tr("Sweeping\u2026"), [run, path](Job& job) -> std::vector<SweepStep> {
            if (!path) return sweep(*run, 101, 0, &job);
            const WayRange range = wayRange(*run); // a search of its own on an open path
            const double way = range.lap > 0 ? range.lap : range.forward;
            return way > tolerance::length ? sweep(*run, 401, way, &job) : std::vector<SweepStep>();
        });
    if (!all || m_store.currentRun() != run) return;
    m_swept = run;
    if (all->empty()) {
        m_graph->clear();
        m_says->setText(tr("There is no room on the path for it to move."));
        return m_says->show();
    }
    m_graph->show(*all, m_store.document().unit);
    showSweep();
}

void MotionSection::showSweep() {
    const auto run = m_store.currentRun();
    if (m_swept.lock() != run) m_graph->clear();
    const SweepStep* worst = m_graph->worst();
    const auto time = worst && run ? timeOf(*run, worst->way) : std::nullopt;
    m_says->setText(m_graph->says() + (time ? tr(" That is at %1 s.").arg(*time, 0, 'f', 2) : QString()));
    m_says->setVisible(worst);
    m_show->setVisible(time.has_value());
}

void MotionSection::refresh(const RunResult& run) {
    const Motion& m = run.item->motion;
    for (const auto& v : valuesOf(m)) showRow(v.key, counts(m, v.key));
    showValues(valuesOf(m));
    field("speed")->setSuffix(tr("a second"));
    showProblem(run.problem);
    // What a sweep looks at: chains and vehicles, where there is room to move.
    m_sweep->setVisible(isLinked(run.item->spacing) && run.placed && !run.problem);
    showSweep();
}

QString MotionSection::summary(const RunResult& run) const {
    const Motion& m = run.item->motion;
    if (!m.moves) return tr("stands");
    return m.by == MotionBy::Speed ? tr("%1 a second").arg(lengthText(m.speed, m_store.document().unit))
                                   : tr("%1 places a second").arg(m.places);
}

} // namespace vicinal
