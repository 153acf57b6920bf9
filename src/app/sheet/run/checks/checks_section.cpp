#include "app/sheet/run/checks/checks_section.h"
#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "layout/spacing/rules.h"
#include "model/document/body_item.h"
#include "model/document/run_item.h"
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace vicinal {

ChecksSection::ChecksSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    m_list = new QVBoxLayout;
    m_list->setContentsMargins(0, 0, 0, 0);
    m_list->setSpacing(2);
    m_box->addLayout(m_list);
    m_state = new QLabel;
    m_state->setObjectName("checks.state");
    m_state->setProperty("role", "muted");
    m_state->setWordWrap(true);
    m_box->addWidget(m_state);
    m_add = new QPushButton(tr("Add a check"));
    m_add->setObjectName("checks.add");
    m_add->setToolTip(tr("Distances, openings, curve, slope, counts, weight: with a limit of your own"));
    auto* menu = new QMenu(m_add);
    m_add->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, &ChecksSection::fillAdd);
    m_fine = new QPushButton(tr("Measure finer"));
    m_fine->setObjectName("checks.fine");
    m_fine->setCheckable(true);
    m_fine->setToolTip(tr("Curved faces in four times as many pieces: takes longer, and is a sixteenth as far off"));
    m_stop = new QPushButton(tr("Stop measuring"));
    m_stop->setObjectName("checks.stop");
    m_stop->setToolTip(tr("Ends what is measured; the last verdicts stay"));
    m_box->addWidget(m_add);
    m_box->addWidget(m_fine);
    m_box->addWidget(m_stop);
    connect(m_fine, &QPushButton::clicked, this, [this](bool on) { m_store.checks().setFine(on); });
    connect(m_stop, &QPushButton::clicked, this,
            [this] { m_store.checks().running() ? m_store.checks().stop() : m_store.checks().again(); });
    const auto again = [this] {
        if (const auto run = m_store.currentRun()) refreshRows(*run);
    };
    connect(&store.checks(), &Checks::changed, this, again);
    connect(&store.checks(), &Checks::shownChanged, this, again);
    connect(&store.checks(), &Checks::workChanged, this, again);
}

void ChecksSection::refresh(const RunResult& run) { refreshRows(run); }

void ChecksSection::refreshRows(const RunResult& run) {
    const auto all = m_store.checks().of(run.item->id);
    const auto wanted = checksOf(run);
    bool same = wanted.size() == m_checks.size();
    for (size_t i = 0; same && i < wanted.size(); ++i) same = m_checks[i]->question().same(wanted[i]);
    if (!same) {
        for (CheckRow* row : m_checks) {
            row->hide();
            row->deleteLater(); // one of them may be what is typed into
        }
        m_checks.clear();
        for (const Check& c : wanted) {
            auto* row = new CheckRow(m_store, c);
            m_list->addWidget(row);
            m_checks.push_back(row);
        }
    }
    const bool current = m_store.checks().current(run);
    const auto inHand = m_store.checks().inHand();
    for (size_t i = 0; i < wanted.size(); ++i) {
        const CheckResult* found = nullptr;
        if (all)
            for (const CheckResult& r : all->list)
                if (r.check.same(wanted[i])) found = &r;
        m_checks[i]->show(run, found, wanted[i], current);
        if (inHand && wanted[i].same(*inHand)) m_checks[i]->setOpen(true);
    }
    m_fine->setChecked(m_store.checks().fine());
    const bool running = m_store.checks().running();
    m_stop->setText(running ? tr("Stop measuring") : tr("Measure again"));
    m_stop->setVisible(running || (all && all->stopped));
    m_state->setText(running && !current   ? tr("Measuring\u2026")
                     : all && all->stopped ? tr("Stopped: the verdicts are of an earlier state.")
                                           : QString());
    m_state->setVisible(!m_state->text().isEmpty());
}

QString ChecksSection::summary(const RunResult& run) const {
    const auto all = m_store.checks().of(run.item->id);
    if (!all) return tr("measuring\u2026");
    int on = 0, wrong = 0, doubtful = 0;
    for (const CheckResult& r : all->list) {
        if (!r.check.on) continue;
        ++on;
        wrong += r.mark == Mark::Wrong;
        doubtful += r.mark == Mark::Doubtful;
    }
    if (wrong) return QString(signOf(Mark::Wrong)) + " " + tr("%1 of %2 wrong").arg(wrong).arg(on);
    if (doubtful) return QString(signOf(Mark::Doubtful)) + " " + tr("%1 of %2 doubtful").arg(doubtful).arg(on);
    if (!m_store.checks().current(run)) return signOf(Mark::Open); // of an earlier state
    return QString(signOf(Mark::Good)) + " " + tr("%n good", nullptr, on);
}

QWidget* ChecksSection::target(const QString& key) const { return key == "checks" ? m_add : nullptr; }

void ChecksSection::add(CheckKind of, Id other) {
    const auto run = m_store.currentRun();
    if (!run) return;
    const Check c = firstCheck(of, other, *run);
    m_store.change<RunItem>(run->item->id, tr("Check: %1").arg(tr(wordsOf(of).label)), {},
                            [&](RunItem& r) { r = withCheck(r, *run, c); });
    m_store.checks().takeInHand(c);
}

void ChecksSection::fillAdd() {
    QMenu* menu = m_add->menu();
    menu->clear();
    const auto run = m_store.currentRun();
    if (!run) return;
    const auto has = [&](CheckKind of, Id other) {
        Check c;
        c.of = of;
        c.other = other;
        for (const Check& x : checksOf(*run))
            if (x.same(c)) return true;
        return false;
    };
    for (size_t k = 0; k < kCheckKinds; ++k) {
        const CheckKind of = CheckKind(k);
        const QString label = tr(kChecks[k].label);
        if (kChecks[k].against != CheckAgainst::Nothing) {
            auto* sub = menu->addMenu(label);
            sub->menuAction()->setObjectName(QString("check.") + kChecks[k].file);
            const auto offer = [&](const QString& name, Id id) {
                if (has(of, id)) return;
                auto* a = sub->addAction(name);
                a->setObjectName(QString("check.%1.%2").arg(kChecks[k].file).arg(id));
                connect(a, &QAction::triggered, this, [this, of, id] { add(of, id); });
            };
            if (kChecks[k].against == CheckAgainst::Run) {
                offer(tr("every other run"), 0);
                for (const auto& r : m_store.document().runs)
                    if (r->id != run->item->id) offer(r->name.c_str(), r->id);
            } else
                for (const auto& b : m_store.document().bodies) offer(b->name.c_str(), b->id);
            sub->setEnabled(!sub->isEmpty());
            continue;
        }
        if (has(of, 0)) continue;
        auto* a = menu->addAction(label);
        a->setObjectName(QString("check.") + kChecks[k].file);
        a->setToolTip(tr(kChecks[k].tip));
        connect(a, &QAction::triggered, this, [this, of] { add(of, 0); });
    }
    menu->setToolTipsVisible(true);
}

} // namespace vicinal
