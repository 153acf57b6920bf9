// The Check menu: go to what is wrong, compare, the check sheet.
#include "app/actions/actions.h"
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
#include <QDate>
#include <QFileInfo>

namespace vicinal {

Menu CheckActions::menu() {
    Checks& checks = m_store->checks();
    Command finer{"checkFine",
                  tr("Measure &finer"),
                  tr("Curved faces in four times as many pieces: takes longer, and is a sixteenth as far off"),
                  {},
                  [&checks] { checks.setFine(!checks.fine()); }};
    finer.checked = [&checks] { return checks.fine(); };
    Command forget{
        "checkForget", tr("F&orget the state kept"), tr("Ends comparing"), {}, [&checks] { checks.forget(); }};
    forget.enabled = [&checks] { return checks.kept() != nullptr; };
    Command sheet{"showChecks", tr("Check &sheet"), tr("Show or hide all runs with their checks as a table"),
                  QKeySequence("Ctrl+K"), [this] { m_window.checks().setVisible(!m_window.checks().isVisible()); }};
    sheet.checked = [this] { return !m_window.checks().isHidden(); };
    return {
        tr("&Check"),
        {Command{"checkGo", tr("&Go to the worst place"),
                 tr("Of the run in hand, else of the first run that has one wrong"), QKeySequence("G"),
                 [this] { goToWorst(); }},
         Command{"checkNext", tr("&Next wrong place"),
                 tr("Of the check in hand: the next place along the run that breaks its limit"),
                 QKeySequence("Shift+G"), [this] { goToNext(); }},
         MenuLine{},
         forRun({"checkList",
                 tr("&Checks of the run"),
                 tr("Its list in the run sheet: limits, verdicts, more checks"),
                 {},
                 [this] { m_window.sheet().goTo("checks"); }}),
         finer, MenuLine{},
         Command{"checkKeep",
                 tr("&Keep this state to compare"),
                 tr("What changes from now on is shown beside it in view, strip and check sheet"),
                 {},
                 [&checks] { checks.keep(); }},
         forget, MenuLine{}, sheet,
         Command{
             "sendChecks", tr("Send out the check s&heet\u2026"), tr("As PDF or HTML, for whoever signs"), {}, [this] {
                 sendCheckSheet();
             }}}};
}

void CheckActions::goToWorst() {
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
    showMessage(checks.running() ? tr("The checks are still being worked out.") : tr("No check is wrong or doubtful."),
                false);
}

void CheckActions::goToNext() {
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
}

void CheckActions::sendCheckSheet() {
    const QString name = QFileInfo(m_store->filePath()).completeBaseName();
    QString to = ask::saveFile(&m_window, tr("Send out the check sheet"),
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
        &m_window, tr("Making the check sheet\u2026"), [=, path = to.toStdString()](Job& job) -> Result<bool> {
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
