#include "app/window/status_line.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/seat/seat_view.h"
#include "app/state/checks.h"
#include "app/state/store.h"
#include "app/view/toolbox.h"
#include "app/view/viewport.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>

namespace vicinal {
namespace {
/// Work behind is shown when it lasts longer than this, ms.
constexpr int kWorkShown = 400;

/// Facts side by side.
struct FactLine {
    QString text;
    void add(const QString& label, const QString& value, const QString& more = {}) {
        if (!text.isEmpty()) text += "&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;";
        text += label + (label.isEmpty() ? "" : " ") + "<b>" + value + "</b>" + more;
    }
};
} // namespace

StatusLine::StatusLine(Store& store, const Viewport& view, const SeatView& seat)
    : m_store(store), m_view(view), m_seatView(seat), m_facts(new QLabel), m_hint(new QLabel),
      m_workBar(new QProgressBar), m_workButton(new QPushButton), m_workDelay(new QTimer(this)) {
    setObjectName("statusLine");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QString("#statusLine { background: %1; }").arg(theme::statusBar().name()));
    setFixedHeight(25);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 0, 12, 0);
    m_facts->setObjectName("status");
    m_facts->setFont(theme::font(12));
    m_hint->setProperty("role", "muted");
    m_hint->setFont(theme::font(12));
    m_hint->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_hint->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_workBar->setObjectName("status.progress");
    m_workBar->setFixedSize(110, 8);
    m_workBar->setTextVisible(false);
    m_workButton->setObjectName("status.work");
    m_workButton->setProperty("kind", "flat");
    m_workButton->setFont(theme::font(12));
    m_workButton->setCursor(Qt::PointingHandCursor);
    m_workButton->setFocusPolicy(Qt::NoFocus); // what is typed goes on where it was
    connect(m_workButton, &QPushButton::clicked, this, [this] {
        if (m_store.evaluating())
            m_store.stopWork();
        else if (m_store.checks().running())
            m_store.checks().stop();
        else
            m_store.evaluation().cancelled() ? m_store.workOutAgain() : m_store.checks().again();
    });
    m_workDelay->setInterval(kWorkShown);
    connect(m_workDelay, &QTimer::timeout, this, [this] { showWork(true); });
    const auto changed = [this] {
        if (!m_store.evaluating() && !m_store.checks().running())
            showWork(false);
        else if (!m_workDelay->isActive())
            m_workDelay->start();
    };
    connect(&m_store, &Store::workChanged, this, changed);
    connect(&m_store.checks(), &Checks::workChanged, this, changed);
    row->addWidget(m_facts);
    row->addWidget(m_workBar);
    row->addWidget(m_workButton);
    row->addWidget(m_hint, 1);
    showWork(false);
}

/// What is worked out behind, once it takes long: how far it is and a way to end it; then what was left by that.
void StatusLine::showWork(bool running) {
    if (!running) m_workDelay->stop();
    const bool measuring = running && !m_store.evaluating();
    const bool unmeasured = !running && m_store.checks().stopped();
    const bool left = !running && (m_store.evaluation().cancelled() || unmeasured);
    const double progress = measuring ? m_store.checks().progress() : m_store.workProgress();
    m_workBar->setVisible(running);
    m_workButton->setVisible(running || left);
    m_workBar->setMaximum(progress > 0 ? 100 : 0); // unknown: only that it is at work
    m_workBar->setValue(int(progress * 100));
    m_workButton->setText(measuring    ? tr("Stop measuring")
                          : running    ? tr("Stop working it out")
                          : unmeasured ? tr("Measure what was stopped")
                                       : tr("Work out what was stopped"));
    m_workButton->setToolTip(measuring ? tr("The last verdicts stay")
                             : running ? tr("Keeps the last state; Undo takes the change back")
                                       : tr("Takes up again what was stopped before it was worked out"));
}

void StatusLine::refresh() {
    m_facts->setText(facts());
    m_hint->setText(hint());
}

QString StatusLine::facts() const {
    const Unit unit = m_store.document().unit;
    const auto run = m_store.currentRun();
    FactLine line;
    if (run && run->placed) {
        const Places& p = *run->placed;
        line.add({}, QString::number(p.present),
                 " " + tr("places") +
                     (p.present < int(p.count()) ? tr(", %1 left out").arg(p.count() - size_t(p.present)) : QString()));
        if (p.count() > 1) line.add(tr("c/c"), lengthText(p.laid->pitch, unit));
        if (const int g = isLinked(run->item->spacing) ? -1 : tightestGap(p); g >= 0)
            line.add(tr("least gap along"), lengthText(p.gaps[g].clear(), unit),
                     " " + tr("after %1").arg(p.gaps[g].from + 1));
        line.add(tr("left over"), lengthText(p.laid->leftOver, unit));
        if (run->stale())
            line.text += "&nbsp;&nbsp;&nbsp;&nbsp;<span style='color:" + theme::brick().name() + "'>" +
                         tr("\u2715 the last result that worked") + "</span>";
    } else if (const auto body = m_store.currentBody(); body && body->body) {
        const Vec3 s = body->body->mesh->box.sizes();
        line.add(tr("site body"),
                 QString("%1 \u00d7 %2 \u00d7 %3")
                     .arg(lengthText(s.x(), unit, false), lengthText(s.y(), unit, false), lengthText(s.z(), unit)));
    } else if (const auto path = m_store.currentPath(); path && path->path) {
        line.add(tr("path"), lengthText(path->path->length(), unit));
    } else {
        line.text = tr("%n run(s)", nullptr, int(m_store.document().runs.size())) + ", " +
                    tr("%n path(s)", nullptr, int(m_store.document().paths.size()));
    }
    return line.text;
}

QString StatusLine::hint() const {
    if (m_view.tools().drawing())
        return tr("Type x, y, z, a length, or length at angle \u00b7 Alt lets go of all snaps");
    if (m_seatView.isOpen())
        return tr("Click a mark \u00b7 drag an arrow onto a face, an edge or an axis \u00b7 drag turns, wheel zooms");
    if (m_store.currentRun())
        return tr("Drag a place in the strip to slide the run \u00b7 right-click a place to leave it out");
    return tr("Drag to turn the view, wheel to zoom");
}

} // namespace vicinal
