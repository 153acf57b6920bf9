#include "app/actions/actions.h"
#include "app/controls/rounding.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"

namespace vicinal {

Actions::Actions(MainWindow& window)
    : m_window(window), m_store(&window.store()), m_view(&window.view()), m_seatView(&window.seatView()) {}

void Actions::showMessage(const QString& text, bool wrong) const { m_window.showMessage(text, wrong); }
void Actions::hideMessage() const { m_window.hideMessage(); }
bool Actions::workedOut() const { return m_window.workedOut(); }

double Actions::roundSize() const { return toOneDigit(m_view->camera().scale() * m_view->height() / 4); }

bool Actions::pathInHand() const { return m_store->currentPath() != nullptr; }
bool Actions::partInHand() const { return m_store->currentPart() != nullptr; }
bool Actions::bodyInHand() const { return m_store->currentBody() != nullptr; }
bool Actions::runInHand() const {
    const auto run = m_store->currentRun();
    return run && run->placed && !run->stale();
}

Command Actions::forPath(Command c) const {
    return c.enabled = [this] { return pathInHand(); }, c;
}
Command Actions::forPart(Command c) const {
    return c.enabled = [this] { return partInHand(); }, c;
}
Command Actions::forBody(Command c) const {
    return c.enabled = [this] { return bodyInHand(); }, c;
}
Command Actions::forRun(Command c) const {
    return c.enabled = [this] { return runInHand(); }, c;
}

ActionGroups::ActionGroups(MainWindow& w)
    : files(w), edits(w), paths(w), comings(w), parts(w), site(w), runs(w), checks(w), sending(w), motion(w), view(w),
      help(w) {}

std::vector<Menu> ActionGroups::menus() {
    return {files.menu(), edits.menu(),  paths.menu(),   parts.menu(), site.menu(),
            runs.menu(),  checks.menu(), sending.menu(), view.menu(),  help.menu()};
}

} // namespace vicinal
