// How to move about, and what this program is.
#include "app/actions/actions.h"
#include "app/window/main_window.h"
#include <QMessageBox>

namespace vicinal {

Menu HelpActions::menu() {
    return {tr("&Help"),
            {Command{"keys", tr("&Mouse and keys"), tr("How to move about"), QKeySequence::HelpContents,
                     [this] { show(tr("Mouse and keys"), mouseAndKeys()); }},
             Command{"about", tr("&About"), tr("Version and licences"), {}, [this] {
                         show(tr("About Vicinal"), about());
                     }}}};
}

void HelpActions::show(const QString& title, const QString& text) {
    QMessageBox box(&m_window);
    box.setWindowTitle(title);
    box.setText(text);
    box.exec();
}

QString HelpActions::mouseAndKeys() {
    return tr(
        "<p><b>View</b>: drag turns (or moves, in plan, front and side), middle button or Alt and drag "
        "moves, the wheel zooms to the pointer. "
        "A click selects a place; Ctrl adds, Shift takes all between. Drag a square to move a path "
        "point (Shift: up and down), a triangle to "
        "change an inset; type a value while dragging and press Enter for an exact one, or hold Ctrl to "
        "keep to x, y, z, the way the path runs or across it. Ctrl with the click selects several. "
        "Double-click on "
        "the path inserts a point.</p>"
        "<p><b>Seat of a part</b>: S opens it. Click a mark, or go over the marks with the arrow keys and "
        "press Enter; drag the nose or the crown onto a face, an edge or an axis.</p>"
        "<p><b>Strip</b>: drag a place to slide the run, a triangle to change an inset; drag across "
        "empty room to select; the wheel zooms. In the lane of a profile a double-click sets a key or types "
        "one; drag a key (Shift keeps its station, Ctrl its value). Right-click for lanes, keys and the "
        "stretch.</p>"
        "<p><b>Fields</b>: units and sums (2.4 m, 3/4 in, 1200/7); arrow keys step, Shift tenfold, Ctrl "
        "a tenth; drag the unit sideways.</p>"
        "<p><b>Keys</b>: 1 to 4 views, 0 the whole site, 5 to what is selected, P parallel, N frames and "
        "ribbon, Ctrl+T the schedule, G the worst place of a check, Shift+G the next one, Ctrl+K the check sheet, "
        "Delete leaves out. In the table of fits the arrow keys try, Enter "
        "takes, Esc goes back.</p>");
}

QString HelpActions::about() {
    return tr("<p><b>Vicinal</b> places rigid parts along a path.</p><p>Free software under the GNU General "
              "Public License, version 3 or later. "
              "Uses Qt, Eigen, OpenCASCADE, meshoptimizer, assimp, dxflib, Clipper, libzip, JSON for Modern C++ "
              "and CLI11; text in a "
              "Latin subset of Inter (OFL 1.1), icons by Lucide (ISC). "
              "THIRD-PARTY.md lists their licences.</p>");
}

} // namespace vicinal
