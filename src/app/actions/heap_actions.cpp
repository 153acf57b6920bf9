// Runs released to loose parts.
#include "app/window/main_window.h"
#include "model/document/heap.h"
#include "model/document/run_item.h"
#include "model/edits/release.h"

namespace vicinal {

void MainWindow::release(Id id, int path) {
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

void MainWindow::removeLoose() {
    const Selection s = m_store->selection();
    const auto d = withoutLoose(m_store->document(), s.id, s.places);
    if (!d) return showMessage(m_store->say(d.problem().text));
    m_store->edit(*d, tr("Delete %n loose part(s)", nullptr, int(s.places.size())));
}

} // namespace vicinal
