// The menus: what each entry is called and what it asks for.
#include "app/controls/theme.h"
#include "app/schedule/schedule.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/part_editor.h"
#include "app/sheet/run_sheet.h"
#include "app/state/clock.h"
#include "app/view/tools/draw_tool.h"
#include "app/window/main_window.h"
#include "app/yard/yard.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/reverse.h"
#include "model/edits/stand_alone.h"
#include <QAction>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>

namespace vicinal {

QAction* MainWindow::add(QMenu* menu, const QString& text, const QString& name, const QKeySequence& key,
                         const QString& tip, std::function<void()> run) {
    auto* action = menu->addAction(text);
    action->setObjectName("action." + name);
    action->setShortcut(key);
    action->setToolTip(key.isEmpty() ? tip : tip + " (" + key.toString(QKeySequence::NativeText) + ")");
    action->setStatusTip(tip);
    connect(action, &QAction::triggered, this, [run] { run(); });
    return action;
}

void MainWindow::buildMenus() {
    auto* name = new QLabel(tr("Vicinal"));
    name->setFont(theme::font(14, QFont::Bold));
    name->setStyleSheet(QString("color: %1; padding: 2px 6px 0 12px;").arg(theme::accent().name()));
    menuBar()->setCornerWidget(name, Qt::TopLeftCorner);
    m_fileLabel = new QLabel;
    m_fileLabel->setObjectName("fileLabel");
    m_fileLabel->setProperty("role", "muted");
    m_fileLabel->setContentsMargins(0, 6, 12, 0);
    menuBar()->setCornerWidget(m_fileLabel, Qt::TopRightCorner);

    auto* file = menuBar()->addMenu(tr("&File"));
    add(file, tr("&New"), "new", QKeySequence::New, tr("Start an empty document"), [this] { newDocument(); });
    add(file, tr("&Open\u2026"), "open", QKeySequence::Open, tr("Open a document"), [this] { open(); });
    m_recent = file->addMenu(tr("Open &recent"));
    connect(m_recent, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
    file->addSeparator();
    add(file, tr("&Save"), "save", QKeySequence::Save, tr("Save the document"), [this] { save(); });
    add(file, tr("Save &as\u2026"), "saveAs", QKeySequence("Ctrl+Shift+S"), tr("Save under another name"),
        [this] { saveAs(); });
    file->addSeparator();
    add(file, tr("&Quit"), "quit", QKeySequence("Ctrl+Q"), tr("Leave Vicinal"), [this] { close(); });

    auto* edit = menuBar()->addMenu(tr("&Edit"));
    m_undo = add(edit, tr("&Undo"), "undo", QKeySequence("Ctrl+Z"), tr("Take back the last step"),
                 [this] { m_store->undo(); });
    m_redo = add(edit, tr("&Redo"), "redo", QKeySequence("Ctrl+Shift+Z"), tr("Do the step again"),
                 [this] { m_store->redo(); });
    m_historyMenu = edit->addMenu(tr("&History"));
    connect(m_historyMenu, &QMenu::aboutToShow, this, &MainWindow::fillHistory);
    edit->addSeparator();
    add(edit, tr("&Delete"), "delete", QKeySequence::Delete,
        tr("Leave out the selected places, or delete the selected point"), [this] { removeSelected(); });

    auto* path = menuBar()->addMenu(tr("&Path"));
    add(path, tr("&Draw a path"), "drawPath", QKeySequence("Ctrl+D"), tr("Click points on the ground"),
        [this] { m_view->draw().begin(); });
    add(path, tr("&Bring in\u2026"), "bringIn", QKeySequence("Ctrl+I"),
        tr("Paths from DXF, SVG, STEP, OBJ lines or CSV; a part from STEP, OBJ, STL, PLY, glTF, DXF or SVG"),
        [this] { bringIn(); });

    auto* shapes = path->addMenu(tr("&Shape"));
    const std::tuple<const char*, QString, QString> kinds[] = {
        {"circle", tr("&Circle"), tr("By radius")},
        {"ellipse", tr("&Ellipse"), tr("By its two half sizes")},
        {"rectangle", tr("&Rectangle"), tr("With a corner radius")},
        {"slot", tr("&Slot"), tr("Two half circles and two straights")},
        {"polygon", tr("&Polygon"), tr("Regular, by sides and radius")},
        {"arc", tr("&Arc"), tr("Through three points")},
        {"straight", tr("S&traight line"), tr("By length and direction")},
        {"helix", tr("&Helix or spiral"), tr("By radii, turns and height")},
        {"swag", tr("S&wag"), tr("A chain that hangs between two points, by sag or slack")}};
    for (const auto& [kind, label, tip] : kinds)
        add(shapes, label, QString("shape.") + kind, {}, tip,
            [this, k = std::string(kind), label = label] { newPath(k, QString(label).remove('&')); });
    add(path, tr("&Loop round wheels"), "shape.wheels", {}, tr("A closed path round wheels or sprockets"),
        [this] { newPath("wheels", tr("Loop")); });
    add(path, tr("Edges of a p&art\u2026"), "shape.edges", {},
        tr("Click a part near an edge: a path along it, or round its face"), [this] {
            m_seatView->leave();
            m_view->pickEdge();
        });
    path->addSeparator();
    const std::tuple<const char*, QString, QString, QString> changes[] = {
        {"offset", tr("&Offset\u2026"), tr("Offset"),
         tr("A line at a constant distance beside the path in hand; follows it")},
        {"stretch", tr("S&tretch"), tr("Stretch"), tr("The part of the path in hand between two stations; follows it")},
        {"backwards", tr("Back&wards"), tr("Backwards"), tr("The path in hand the other way round; follows it")},
        {"start moved", tr("Start &elsewhere"), tr("Start"), tr("A closed path with its start at another station")},
        {"mirrored", tr("&Mirrored copy"), tr("Mirrored"), tr("The path in hand in an upright mirror; follows it")},
        {"projected", tr("&Projected"), tr("Projected"), tr("The path in hand dropped onto a plane; follows it")},
        {"resampled", tr("Resam&pled"), tr("Resampled"), tr("Through points at even steps along the path in hand")},
        {"smoothed", tr("Smoot&hed"), tr("Smoothed"), tr("With its bumps evened out")},
        {"lifted", tr("Lifted over its cro&ssings"), tr("Lifted"),
         tr("Where strands cross one lies over the other: chain or rope laid over itself. Lay it on the ground "
            "first, and its lowest strand lies there")}};
    for (const auto& [kind, label, short_, tip] : changes)
        m_needsPath += add(path, QString(label).remove(QChar(0x2026)), QString("derive.") + QString(kind).remove(' '),
                           {}, tip, [this, k = std::string(kind), s = short_] { newPath(k, s); });
    m_needsPath +=
        add(path, tr("&Joined with\u2026"), "derive.joined", {},
            tr("Several paths as one; starts with the path in hand"), [this] { newPath("joined", tr("Joined")); });
    path->addSeparator();
    m_needsPath += add(path, tr("Mo&ve, turn, size\u2026"), "movePath", QKeySequence("Ctrl+M"),
                       tr("The whole path in hand, about a point, with numbers"), [this] { movePath(); });
    m_needsPath += add(path, tr("&Break at the selected point"), "breakPath", {},
                       tr("Makes two paths of the points before and after"), [this] { breakPath(); });

    buildPartMenu();
    buildSiteMenu();

    auto* run = menuBar()->addMenu(tr("&Run"));
    m_newRun = add(run, tr("&New run\u2026"), "newRun", QKeySequence("Ctrl+R"), tr("Set a part along a path"),
                   [this] { newRun(); });
    m_leaveOut = add(run, tr("&Leave out or bring back"), "leaveOut", QKeySequence("Ctrl+L"), tr("The selected places"),
                     [this] { m_store->toggleLeftOut(); });

    m_reverseRun = add(run, tr("Start at the &other end"), "reverseRun", {},
                       tr("The whole run the other way round: it counts and faces from the path's other end"), [this] {
                           const auto now = m_store->currentRun();
                           if (now && now->placed && !now->stale())
                               m_store->edit(reversed(m_store->document(), *now), tr("Start at the other end"));
                       });

    m_standAlone = add(run, tr("&Copy that stands alone"), "standAlone", {},
                       tr("The run once more with a path and parts of its own, which follow nothing"), [this] {
                           const auto now = m_store->currentRun();
                           if (!now || !now->placed || now->problem) return;
                           m_store->edit(withStandingAlone(m_store->document(), *now), tr("Copy that stands alone"));
                           m_store->selectItem(Selection::Kind::Run, lastId(m_store->document()));
                       });

    auto* release = run->addMenu(tr("Release to loose &parts"));
    const std::tuple<QString, const char*, QString> stays[] = {
        {tr("Its path is &kept"), "release.kept", tr("A heap of parts that no longer follow; the path stays")},
        {tr("Its path is &hidden"), "release.hidden", tr("The same; the path is no longer drawn")},
        {tr("Its path &goes"), "release.gone", tr("The same; the path is deleted unless something else uses it")}};
    for (int k = 0; k < 3; ++k)
        m_release[k] = add(release, std::get<0>(stays[k]), std::get<1>(stays[k]), {}, std::get<2>(stays[k]), [this, k] {
            if (const auto now = m_store->currentRun()) this->release(now->item->id, k);
        });

    buildCheckMenu();

    auto* output = menuBar()->addMenu(tr("&Output"));
    m_sendOut = add(output, tr("&Send out\u2026"), "sendOut", QKeySequence("Ctrl+E"),
                    tr("Templates, tapes, drawings, solids, lists, pictures"), [this] { send(); });
    m_makeAll = add(output, tr("&Make all deliveries again"), "makeAll", QKeySequence("Ctrl+Shift+D"),
                    tr("Every delivery that is kept in the document, as it is now"), [this] { makeDeliveries(); });
    m_sendMotion = add(output, tr("Send out the &motion\u2026"), "sendMotion", QKeySequence("Ctrl+Shift+E"),
                       tr("A model that moves, poses by time, pictures"), [this] { sendMotion(); });

    m_template = add(output, tr("&Template at full size\u2026"), "template", QKeySequence("Ctrl+Shift+P"),
                     tr("On paper 1:1, over as many pages as it takes, with proof of scale"), [this] { send(0); });
    m_tape = add(output, tr("Marking ta&pe\u2026"), "tape", {},
                 tr("The stations of the run in hand at full size, on strips to lay along the real thing"),
                 [this] { send(1); });

    auto* view = menuBar()->addMenu(tr("&View"));
    const std::pair<QString, QString> looks[] = {
        {tr("&3D"), "3d"}, {tr("&Plan"), "plan"}, {tr("&Front"), "front"}, {tr("&Side"), "side"}};
    for (int i = 0; i < 4; ++i)
        add(view, looks[i].first, looks[i].second, QKeySequence(QString::number(i + 1)), tr("Look this way"),
            [this, i] { m_seatView->isOpen() ? m_seatView->setLook(i) : m_view->setLook(Viewport::Look(i)); });
    view->addSeparator();
    m_parallel = add(view, tr("Pa&rallel"), "parallel", QKeySequence("P"), tr("Parallel instead of perspective"),
                     [this] { m_view->setParallel(!m_view->parallel()); });
    m_parallel->setCheckable(true);
    add(view, tr("&Whole site"), "wholeSite", QKeySequence("0"), tr("Everything there is"),
        [this] { m_seatView->isOpen() ? m_seatView->frame(true) : m_view->frameAll(); });
    add(view, tr("&Go to it"), "goToIt", QKeySequence("5"), tr("To what is selected"),
        [this] { m_seatView->isOpen() ? m_seatView->frame(false) : m_view->frameSelection(); });

    m_comb =
        add(view, tr("&Curvature comb"), "comb", QKeySequence("K"),
            tr("Teeth that show how sharply the path in hand bends"), [this] { m_view->setComb(!m_view->comb()); });
    m_comb->setCheckable(true);
    auto* frames = add(view, tr("Fr&ames and ribbon"), "frames", QKeySequence("N"),
                       tr("Nose, side and crown at places of the run, and a ribbon that shows its roll"),
                       [this] { m_view->setFrames(!m_view->frames()); });
    frames->setCheckable(true);
    m_playMotion = add(view, tr("Pl&ay motion"), "playMotion", QKeySequence("Ctrl+Space"),
                       tr("Lets runs that move go along their paths; the document stays at time 0"),
                       [this] { m_view->clock().setPlaying(!m_view->clock().playing()); });
    connect(&m_view->clock(), &Clock::changed, this, [this] {
        m_playMotion->setEnabled(m_view->clock().wanted());
        m_sendMotion->setEnabled(m_view->clock().wanted());
        m_playMotion->setText(m_view->clock().playing() ? tr("P&ause motion") : tr("Pl&ay motion"));
    });
    m_playMotion->setEnabled(false);
    view->addSeparator();
    const std::tuple<QString, QString, QString> panels[] = {
        {tr("&Yard"), "showYard", tr("Show or hide the list of runs, paths and parts on the left")},
        {tr("Run &sheet"), "showSheet", tr("Show or hide the rules on the right")},
        {tr("Str&ip"), "showStrip", tr("Show or hide the path pulled straight at the bottom")}};
    for (int i = 0; i < 3; ++i) {
        const auto& [label, panel, tip] = panels[i];
        m_panels[i] = add(view, label, panel, {}, tip, [this, i] { showPanel(i, m_panels[i]->isChecked()); });
        m_panels[i]->setCheckable(true);
        m_panels[i]->setChecked(true);
    }
    add(view, tr("Strip in a &window"), "detachStrip", {}, tr("The strip in a window of its own, as tall as wanted"),
        [this] { detachStrip(!m_stripWindow); })
        ->setCheckable(true);
    auto* schedule = add(view, tr("S&chedule"), "showSchedule", QKeySequence("Ctrl+T"),
                         tr("Show or hide the places of the run as a table"),
                         [this] { m_schedule->setVisible(!m_schedule->isVisible()); });
    schedule->setCheckable(true);
    connect(m_schedule, &QDockWidget::visibilityChanged, schedule,
            [this, schedule] { schedule->setChecked(!m_schedule->isHidden()); });
    add(view, tr("Window as at &first"), "resetWindow", {}, tr("Shows all panels with the widths they had at first"),
        [this] { resetWindow(); });

    auto* help = menuBar()->addMenu(tr("&Help"));
    add(help, tr("&Mouse and keys"), "keys", QKeySequence::HelpContents, tr("How to move about"), [this] {
        QMessageBox box(this);
        box.setWindowTitle(tr("Mouse and keys"));
        box.setText(tr(
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
            "takes, Esc goes back.</p>"));
        box.exec();
    });
    add(help, tr("&About"), "about", {}, tr("Version and licences"), [this] {
        QMessageBox box(this);
        box.setWindowTitle(tr("About Vicinal"));
        box.setText(
            tr("<p><b>Vicinal</b> places rigid parts along a path.</p><p>Free software under the GNU General "
               "Public License, version 3 or later. "
               "Uses Qt, Eigen, OpenCASCADE, meshoptimizer, assimp, dxflib, Clipper, libzip, JSON for Modern C++ "
               "and CLI11; text in a "
               "Latin subset of Inter (OFL 1.1), icons by Lucide (ISC). "
               "THIRD-PARTY.md lists their licences.</p>"));
        box.exec();
    });

    connect(m_view, &Viewport::breakWanted, this, &MainWindow::breakAt);
    connect(m_view, &Viewport::edgePicked, this, [this](const EdgesRecipe& edges) {
        PathItem item;
        item.name = tr("Edge of %1").arg(QString::fromStdString(nameOf(m_store->document(), edges.part))).toStdString();
        item.recipe = edges;
        const Document d = with(m_store->document(), std::move(item));
        m_store->edit(d, tr("Edge of a part"));
        m_store->selectItem(Selection::Kind::Path, d.paths.back()->id);
    });
    connect(m_sheet, &RunSheet::directionWanted, m_view, &Viewport::pickDirection);
    connect(m_sheet, &RunSheet::timeWanted, this, [this](double seconds) {
        m_view->clock().setPlaying(false);
        m_view->clock().setTime(seconds);
    });
    connect(m_view, &Viewport::directionPicked, this, [this](const Vec3& direction) {
        if (const auto now = m_store->currentRun())
            m_store->changeRun(now->item->id, tr("Direction of an edge"), {},
                               [&](RunItem& r) { r.facing.direction = direction; });
    });
    connect(m_yard, &Yard::newRunWanted, this, &MainWindow::newRun);
    connect(m_sheet, &RunSheet::newRunWanted, this, &MainWindow::newRun);
    connect(m_yard, &Yard::newPathWanted, this, [this] { m_view->draw().begin(); });
    connect(m_yard, &Yard::newPartWanted, this, &MainWindow::newPart);
    connect(m_yard, &Yard::seatWanted, this, &MainWindow::editSeat);
    connect(m_yard, &Yard::replaceWanted, this, &MainWindow::replacePart);
    connect(m_yard, &Yard::mirrorWanted, this, &MainWindow::mirrorPart);
    connect(&m_sheet->part(), &PartEditor::seatWanted, this, &MainWindow::editSeat);
    connect(&m_sheet->part(), &PartEditor::pieceWanted, this, &MainWindow::addPiece);
    connect(m_yard, &Yard::removeWanted, this, &MainWindow::removeItems);
    connect(m_yard, &Yard::copyWanted, this, &MainWindow::copyItems);
    connect(m_yard, &Yard::newBodyWanted, this, &MainWindow::newBody);
    connect(m_sheet, &RunSheet::edgeWanted, m_view, &Viewport::pickEdge);
    connect(m_sheet, &RunSheet::layWanted, this, [this](Id laid) { layPath(laid, m_store->selection().id); });
    connect(m_sheet, &RunSheet::cutWanted, this,
            [this](Id by, bool raise) { cutByRun(m_store->selection().id, by, raise); });
    connect(m_yard, &Yard::releaseWanted, this, &MainWindow::release);
    connect(m_view, &Viewport::removeWanted, this, &MainWindow::removeSelected);
}

} // namespace vicinal
