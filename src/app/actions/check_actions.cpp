// The Check menu: go to what is wrong, compare, the check sheet.
#include "app/check_sheet/checks_dock.h"
#include "app/dialogs/ask.h"
#include "app/sheet/run_sheet.h"
#include "app/state/background.h"
#include "app/state/checks.h"
#include "app/window/main_window.h"
#include "clearance/check.h"
#include "exchange/check_sheet/check_sheet.h"
#include "model/document/run_item.h"
#include "model/file/files.h"
#include <QAction>
#include <QDate>
#include <QFileInfo>
#include <QMenuBar>

namespace vicinal {

void MainWindow::buildCheckMenu() {
    auto* check = menuBar()->addMenu(tr("&Check"));
    add(check, tr("&Go to the worst place"), "checkGo", QKeySequence("G"),
        tr("Of the run in hand, else of the first run that has one wrong"), [this] {
            Checks& checks = m_store->checks();
            const auto worstOf = [&](Id run) -> std::optional<Check> {
                const auto all = checks.of(run);
                const CheckResult* found = all ? checks.shown(*all) : nullptr;
                return found && found->worst ? std::optional(found->check) : std::nullopt;
            };
            if (const auto run = m_store->currentRun())
                if (const auto c = worstOf(run->item->id)) return checks.go(run->item->id, *c);
            for (const Mark mark : {Mark::Wrong, Mark::Doubtful})
                for (const auto& run : m_store->evaluation().runs)
                    if (checks.verdictOf(*run).mark == mark)
                        if (const auto c = worstOf(run->item->id)) return checks.go(run->item->id, *c);
            showMessage(checks.running() ? tr("The checks are still being worked out.")
                                         : tr("No check is wrong or doubtful."),
                        false);
        });
    add(check, tr("&Next wrong place"), "checkNext", QKeySequence("Shift+G"),
        tr("Of the check in hand: the next place along the run that breaks its limit"), [this] {
            const auto run = m_store->currentRun();
            const auto all = run ? m_store->checks().of(run->item->id) : nullptr;
            const CheckResult* r = all ? m_store->checks().shown(*all) : nullptr;
            if (!r) return showMessage(tr("No check is wrong or doubtful."), false);
            const auto& now = m_store->selection().places;
            const int from = now.empty() ? -1 : *now.begin();
            const CheckedPlace *next = nullptr, *first = nullptr;
            for (const CheckedPlace& p : r->places) {
                if (p.mark == Mark::Good) continue;
                if (!first || p.place < first->place) first = &p;
                if (p.place > from && (!next || p.place < next->place)) next = &p;
            }
            if (!next) next = first;
            if (next) m_store->checks().go(run->item->id, r->check, *next);
        });
    check->addSeparator();
    m_needsRun +=
        add(check, tr("&Checks of the run"), "checkList", {},
            tr("Its list in the run sheet: limits, verdicts, more checks"), [this] { m_sheet->goTo("checks"); });
    auto* fine = add(check, tr("Measure &finer"), "checkFine", {},
                     tr("Curved faces in four times as many pieces: takes longer, and is a sixteenth as far off"),
                     [this] { m_store->checks().setFine(!m_store->checks().fine()); });
    fine->setCheckable(true);
    check->addSeparator();
    add(check, tr("&Keep this state to compare"), "checkKeep", {},
        tr("What changes from now on is shown beside it in view, strip and check sheet"),
        [this] { m_store->checks().keep(); });
    auto* forget = add(check, tr("F&orget the state kept"), "checkForget", {}, tr("Ends comparing"),
                       [this] { m_store->checks().forget(); });
    forget->setEnabled(false);
    const auto refreshed = [this, forget, fine] {
        forget->setEnabled(m_store->checks().kept() != nullptr);
        fine->setChecked(m_store->checks().fine());
    };
    connect(&m_store->checks(), &Checks::shownChanged, this, refreshed);
    connect(&m_store->checks(), &Checks::workChanged, this, refreshed);
    check->addSeparator();
    auto* sheet = add(check, tr("Check &sheet"), "showChecks", QKeySequence("Ctrl+K"),
                      tr("Show or hide all runs with their checks as a table"),
                      [this] { m_checksDock->setVisible(!m_checksDock->isVisible()); });
    sheet->setCheckable(true);
    connect(m_checksDock, &QDockWidget::visibilityChanged, sheet,
            [this, sheet] { sheet->setChecked(!m_checksDock->isHidden()); });
    add(check, tr("Send out the check s&heet\u2026"), "sendChecks", {}, tr("As PDF or HTML, for whoever signs"),
        [this] { sendCheckSheet(); });
    connect(m_checksDock, &ChecksDock::sheetWanted, this, &MainWindow::sendCheckSheet);
}

void MainWindow::sendCheckSheet() {
    const QString name = QFileInfo(m_store->filePath()).completeBaseName();
    QString to = ask::saveFile(this, tr("Send out the check sheet"),
                               (name.isEmpty() ? m_store->title() : name) + tr(" checks") + ".pdf",
                               tr("PDF (*.pdf);;HTML (*.html)"));
    if (to.isEmpty()) return;
    if (QFileInfo(to).suffix().isEmpty()) to += ".pdf";
    CheckSheetFacts facts;
    facts.title = m_store->title().toStdString();
    facts.file = QFileInfo(m_store->filePath()).fileName().toStdString();
    facts.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    facts.unit = m_store->document().unit;
    // Worked out anew, so that no verdict is one of an earlier state.
    const auto evaluation = m_store->sharedEvaluation();
    const bool fine = m_store->checks().fine();
    const auto done = inBackground<Result<bool>>(
        this, tr("Making the check sheet\u2026"), [=, path = to.toStdString()](Job& job) -> Result<bool> {
            CheckMemory memory;
            CheckOrder order;
            order.fine = fine;
            const auto checked = vicinal::check(evaluation, memory, nullptr, order, &job);
            const auto bytes = checkSheetFile(path, *checked, facts, &job);
            if (!bytes) return bytes.problem();
            if (stopped(&job.stop)) return Problem{"Stopped.", ""};
            if (const auto problem = writeAtomically(path, *bytes)) return *problem;
            return true;
        });
    if (!done) return;
    if (*done)
        showMessage(tr("Written: %1").arg(to), false);
    else
        showMessage(m_store->say(done->problem().text));
}

} // namespace vicinal
