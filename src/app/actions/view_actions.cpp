// How one looks, what is drawn besides, and which panels are shown.
#include "app/actions/actions.h"
#include "app/schedule/schedule.h"
#include "app/seat/seat_view.h"
#include "app/state/clock.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/window/panels.h"
#include <tuple>

namespace vicinal {

Menu ViewActions::menu() {
    Menu menu{tr("&View"), {}};
    const std::tuple<QString, const char*, const char*> looks[] = {
        {tr("&3D"), "3d", "1"}, {tr("&Plan"), "plan", "2"}, {tr("&Front"), "front", "3"}, {tr("&Side"), "side", "4"}};
    for (int k = 0; const auto& [label, id, key] : looks)
        menu.rows.push_back(Command{id, label, tr("Look this way"), QKeySequence(key), [this, look = k++] {
                                        m_seatView->isOpen() ? m_seatView->setLook(look)
                                                             : m_view->setLook(Viewport::Look(look));
                                    }});
    Command parallel{"parallel", tr("Pa&rallel"), tr("Parallel instead of perspective"), QKeySequence("P"),
                     [this] { m_view->setParallel(!m_view->parallel()); }};
    parallel.checked = [this] { return m_view->parallel(); };
    Command comb{"comb", tr("&Curvature comb"), tr("Teeth that show how sharply the path in hand bends"),
                 QKeySequence("K"), [this] { m_view->setComb(!m_view->comb()); }};
    comb.checked = [this] { return m_view->comb(); };
    Command frames{"frames", tr("Fr&ames and ribbon"),
                   tr("Nose, side and crown at places of the run, and a ribbon that shows its roll"), QKeySequence("N"),
                   [this] { m_view->setFrames(!m_view->frames()); }};
    frames.checked = [this] { return m_view->frames(); };
    Command play{"playMotion", tr("Pl&ay motion"),
                 tr("Lets runs that move go along their paths; the document stays at time 0"),
                 QKeySequence("Ctrl+Space"), [this] { m_view->clock().setPlaying(!m_view->clock().playing()); }};
    play.enabled = [this] { return m_view->clock().wanted(); };
    play.says = [this] { return m_view->clock().playing() ? tr("P&ause motion") : tr("Pl&ay motion"); };
    menu.rows.insert(menu.rows.end(),
                     {MenuLine{}, parallel,
                      Command{"wholeSite", tr("&Whole site"), tr("Everything there is"), QKeySequence("0"),
                              [this] { m_seatView->isOpen() ? m_seatView->frame(true) : m_view->frameAll(); }},
                      Command{"goToIt", tr("&Go to it"), tr("To what is selected"), QKeySequence("5"),
                              [this] { m_seatView->isOpen() ? m_seatView->frame(false) : m_view->frameSelection(); }},
                      comb, frames, play, MenuLine{}});
    for (MenuRow& row : panels()) menu.rows.push_back(std::move(row));
    return menu;
}

std::vector<MenuRow> ViewActions::panels() {
    std::vector<MenuRow> rows;
    const std::tuple<int, QString, const char*, QString> kinds[] = {
        {Panels::Yard, tr("&Yard"), "showYard", tr("Show or hide the list of runs, paths and parts on the left")},
        {Panels::Sheet, tr("Run &sheet"), "showSheet", tr("Show or hide the rules on the right")},
        {Panels::StripPanel, tr("Str&ip"), "showStrip", tr("Show or hide the path pulled straight at the bottom")}};
    for (const auto& [panel, label, id, tip] : kinds) {
        Command command{
            id, label, tip, {}, [this, p = panel] { m_window.panels().show(p, !m_window.panels().shown(p)); }};
        command.checked = [this, p = panel] { return m_window.panels().shown(p); };
        rows.push_back(std::move(command));
    }
    Command detach{
        "detachStrip", tr("Strip in a &window"), tr("The strip in a window of its own, as tall as wanted"), {}, [this] {
            m_window.panels().detachStrip(!m_window.panels().stripDetached());
        }};
    detach.checked = [this] { return m_window.panels().stripDetached(); };
    Command schedule{"showSchedule", tr("S&chedule"), tr("Show or hide the places of the run as a table"),
                     QKeySequence("Ctrl+T"),
                     [this] { m_window.schedule().setVisible(!m_window.schedule().isVisible()); }};
    schedule.checked = [this] { return !m_window.schedule().isHidden(); };
    rows.insert(rows.end(), {detach, schedule,
                             Command{"resetWindow",
                                     tr("Window as at &first"),
                                     tr("Shows all panels with the widths they had at first"),
                                     {},
                                     [this] { m_window.panels().atFirst(); }}});
    return rows;
}

} // namespace vicinal
