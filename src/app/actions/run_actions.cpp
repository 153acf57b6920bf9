// Runs: made, turned round, copied, released to loose parts.
#include "app/actions/actions.h"
#include "app/dialogs/dialogs.h"
#include "app/state/checks.h"
#include "app/window/main_window.h"
#include "model/custom/custom.h"
#include "model/document/heap.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/release.h"
#include "model/edits/reverse.h"
#include "model/edits/run_edits.h"
#include "model/edits/stand_alone.h"
#include "model/evaluate/evaluate.h"
#include <tuple>

namespace vicinal {

Menu RunActions::menu() {
    Command newRunCommand{"newRun", tr("&New run\u2026"), tr("Set a part along a path"), QKeySequence("Ctrl+R"),
                          [this] { newRun(); }};
    newRunCommand.enabled = [this] { return !m_store->document().paths.empty(); };
    newRunCommand.whyNot = tr("Draw or bring in a path first");
    Command leaveOut{"leaveOut", tr("&Leave out or bring back"), tr("The selected places"), QKeySequence("Ctrl+L"),
                     [this] { vicinal::toggleLeftOut(*m_store); }};
    leaveOut.enabled = [this] { return !m_store->selection().places.empty(); };
    Menu released{tr("Release to loose &parts"), {}};
    const std::tuple<QString, const char*, QString> stays[] = {
        {tr("Its path is &kept"), "release.kept", tr("A heap of parts that no longer follow; the path stays")},
        {tr("Its path is &hidden"), "release.hidden", tr("The same; the path is no longer drawn")},
        {tr("Its path &goes"), "release.gone", tr("The same; the path is deleted unless something else uses it")}};
    for (int k = 0; const auto& [label, id, tip] : stays)
        released.rows.push_back(forRun({id, label, tip, {}, [this, path = k++] {
                                            if (const auto now = m_store->currentRun()) release(now->item->id, path);
                                        }}));
    return {tr("&Run"),
            {newRunCommand, leaveOut,
             forRun({"reverseRun",
                     tr("Start at the &other end"),
                     tr("The whole run the other way round: it counts and faces from the path's other end"),
                     {},
                     [this] { reverse(); }}),
             forRun({"standAlone",
                     tr("&Copy that stands alone"),
                     tr("The run once more with a path and parts of its own, which follow nothing"),
                     {},
                     [this] { standAlone(); }}),
             std::move(released)}};
}

void RunActions::reverse() {
    const auto now = m_store->currentRun();
    if (now && now->placed && !now->stale())
        m_store->edit(reversed(m_store->document(), *now), tr("Start at the other end"));
}

void RunActions::standAlone() {
    const auto now = m_store->currentRun();
    if (!now || !now->placed || now->problem) return;
    m_store->edit(withStandingAlone(m_store->document(), *now), tr("Copy that stands alone"));
    m_store->selectItem(Selection::Kind::Run, lastId(m_store->document()));
}

RunActions::RunActions(MainWindow& window) : Actions(window) {
    connect(&m_store->checks(), &Checks::changed, this, &RunActions::offerMend);
}

/// Once, with the first verdict of the run as it began.
void RunActions::offerMend() {
    const auto run = m_begun ? m_store->evaluation().run(m_begun) : nullptr;
    const auto checks = run && m_store->checks().current(*run) ? m_store->checks().of(m_begun) : nullptr;
    if (!checks || checks->verdict.mark == Mark::Open) return;
    m_begun = 0;
    if (checks->verdict.mark != Mark::Wrong) return;
    m_mending.run([d = m_store->document(), worked = m_store->sharedEvaluation(),
                   checks](Job& job) { return mendOf(d, worked, *checks, &job); },
                  [this, worked = m_store->sharedEvaluation(), checks](std::optional<std::optional<Mend>> found) {
                      if (!found || !*found || m_store->sharedEvaluation() != worked) return; // it is another by now
                      const QString does = m_store->say((*found)->says);
                      m_window.offer(
                          tr("%1: %2").arg(checks->run->item->name.c_str(), m_store->say(checks->verdict.text)), does,
                          [this, worked, does, next = (*found)->document] {
                              if (m_store->sharedEvaluation() != worked)
                                  return showMessage(tr("The document has changed since: nothing was done."));
                              m_store->edit(next, does);
                          });
                  });
}

void RunActions::newRun() {
    if (m_store->document().paths.empty())
        return showMessage(tr("There is no path yet. Draw one or bring one in, then make a run along it."));
    NewRunDialog dialog(*m_store, &m_window);
    if (dialog.exec() != QDialog::Accepted) return;
    Document d = m_store->document();
    Id part = 0;
    auto fresh = m_window.groups().parts.partFrom(dialog.fileWanted(), dialog.part(), &part);
    if (!fresh) return;
    if (!part) {
        d = with(d, std::move(*fresh));
        part = d.parts.back()->id;
    }
    if (!workedOut()) return;
    const auto worked = evaluate(d, m_store->sharedEvaluation());
    FirstRun first;
    if (auto set = withFirstRun(d, *worked, dialog.path(), part)) {
        first = std::move(set).value();
    } else { // it is there all the same, and says what is wrong
        RunItem run;
        run.name = tr("Run").toStdString() + " " + std::to_string(d.runs.size() + 1);
        run.colour = int(d.runs.size());
        run.path = dialog.path();
        run.part = part;
        first.document = with(d, std::move(run));
        first.run = lastId(first.document);
    }
    m_begun = first.run;
    m_store->edit(first.document, tr("New run"));
    m_store->selectItem(Selection::Kind::Run, first.run);
    QStringList says;
    for (const Words& w : first.says) says += m_store->say(w);
    if (!says.isEmpty()) showMessage(says.join(' '), false);
}

void RunActions::release(Id id, int path) {
    if (!workedOut()) return;
    const auto run = m_store->evaluation().run(id);
    if (!run) return;
    const auto d = released(m_store->document(), *run, PathStays(path));
    if (!d) return showMessage(m_store->say(d.problem().text));
    const Id heap = d->heaps.back()->id;
    const bool kept = path == 2 && d->path(run->item->path);
    m_store->edit(*d, tr("Release %1").arg(run->item->name.c_str()));
    m_store->selectItem(Selection::Kind::Heap, heap);
    showMessage(tr("%n loose part(s) follow nothing any more. Undo brings the run back.", nullptr,
                   int(m_store->document().heap(heap)->parts.size())) +
                    (kept ? " " + tr("The path stays: something else uses it.") : QString()),
                false);
}

} // namespace vicinal
