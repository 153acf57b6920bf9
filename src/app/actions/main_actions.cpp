#include "app/controls/theme.h"
#include "app/dialogs/ask.h"
#include "app/dialogs/dialogs.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part_editor.h"
#include "app/sheet/run_sheet.h"
#include "app/state/background.h"
#include "app/strip/strip.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/window/start_panel.h"
#include "app/yard/yard.h"
#include "exchange/in/bring_in.h"
#include "exchange/out/send_out.h"
#include <QAction>
#include <QCloseEvent>
#include <QDateTime>
#include <QFileInfo>
#include <QLabel>
#include <QLocale>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QSettings>
#include <QSplitter>
#include <QTimer>
#include <QtConcurrentRun>

namespace vicinal {
namespace {

const QString kDocuments = QObject::tr("Vicinal documents (*.vicinal *.json)");

} // namespace

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
        {"smoothed", tr("Smoot&hed"), tr("Smoothed"), tr("With its bumps evened out")}};
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

    auto* run = menuBar()->addMenu(tr("&Run"));
    m_newRun = add(run, tr("&New run\u2026"), "newRun", QKeySequence("Ctrl+R"), tr("Set a part along a path"),
                   [this] { newRun(); });
    m_leaveOut = add(run, tr("&Leave out or bring back"), "leaveOut", QKeySequence("Ctrl+L"), tr("The selected places"),
                     [this] { m_store->toggleLeftOut(); });

    auto* output = menuBar()->addMenu(tr("&Output"));
    m_sendOut = add(output, tr("&Send out\u2026"), "sendOut", QKeySequence("Ctrl+E"), tr("Drawing, model or schedule"),
                    [this] { sendOut(); });

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
    add(view, tr("Window as at &first"), "resetWindow", {}, tr("Shows all panels with the widths they had at first"),
        [this] { resetWindow(); });

    auto* help = menuBar()->addMenu(tr("&Help"));
    add(help, tr("&Mouse and keys"), "keys", QKeySequence::HelpContents, tr("How to move about"), [this] {
        QMessageBox box(this);
        box.setWindowTitle(tr("Mouse and keys"));
        box.setText(
            tr("<p><b>View</b>: drag turns (or moves, in plan, front and side), middle button or Alt and drag "
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
               "empty room to select; the wheel zooms.</p>"
               "<p><b>Fields</b>: units and sums (2.4 m, 3/4 in, 1200/7); arrow keys step, Shift tenfold, Ctrl "
               "a tenth; drag the unit sideways.</p>"
               "<p><b>Keys</b>: 1 to 4 views, 0 the whole site, 5 to what is selected, P parallel, Delete leaves "
               "out.</p>"));
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
        const auto taken = m_store->document().part(edges.part);
        item.name = (tr("Edge of %1").arg(taken ? taken->name.c_str() : "")).toStdString();
        item.recipe = edges;
        const Document d = with(m_store->document(), std::move(item));
        m_store->edit(d, tr("Edge of a part"));
        m_store->selectItem(Selection::Kind::Path, d.paths.back()->id);
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
    connect(m_yard, &Yard::removeWanted, this, &MainWindow::removeItem);
    connect(m_yard, &Yard::copyWanted, this, &MainWindow::copyItem);
}

bool MainWindow::mayLeave() {
    if (m_store->saved()) return true;
    switch (ask::unsaved(this, m_store->title())) {
    case ask::Unsaved::Save: return save();
    case ask::Unsaved::Discard: return true;
    case ask::Unsaved::Cancel: break;
    }
    return false;
}

void MainWindow::newDocument() {
    if (!mayLeave()) return;
    hideMessage();
    m_store->newDocument();
}

void MainWindow::open() {
    if (!mayLeave()) return;
    const QString path = ask::openFile(this, tr("Open a document"), kDocuments);
    if (!path.isEmpty()) openFile(path);
}

bool MainWindow::openFile(const QString& path) {
    if (!load(path, path, {})) return false;
    hideMessage();
    remember(path);
    return true;
}

/// Reads and works out a document behind; the one that is there stays until that is done.
bool MainWindow::load(const QString& path, const QString& file, const QString& title) {
    auto opened =
        inBackground<Result<Store::Opened>>(this, tr("Opening %1\u2026").arg(QFileInfo(path).fileName()),
                                            [path](Job& job) { return Store::read(path.toStdString(), &job); });
    if (!opened) return false; // given up
    if (!*opened) {
        showMessage(m_store->say(opened->problem().text));
        return false;
    }
    if (file.isEmpty()) opened->value().stamp.reset();
    m_store->take(std::move(opened->value()), file, title);
    return true;
}

void MainWindow::offerJournals() {
    for (const auto& left : leftJournals(Store::journalPlace())) {
        const QString name = left.facts.title.empty() ? tr("Untitled") : QString::fromStdString(left.facts.title);
        const QString when = QLocale().toString(QDateTime::fromSecsSinceEpoch(left.facts.time), QLocale::ShortFormat);
        switch (ask::recover(this, name, when)) {
        case ask::Recover::Later: continue;
        case ask::Recover::Discard: removeJournal(left); continue;
        case ask::Recover::Open: break;
        }
        // This window, while nothing in it would be lost; else one of its own.
        MainWindow* window = this;
        if (!m_store->saved() || !m_store->document().paths.empty() || !m_store->document().parts.empty()) {
            window = new MainWindow;
            window->setAttribute(Qt::WA_DeleteOnClose);
            window->show();
        }
        auto opened = inBackground<Result<Store::Opened>>(window, tr("Opening %1\u2026").arg(name), [left](Job& job) {
            auto d = openJournal(left, readBody);
            if (!d) return Result<Store::Opened>(d.problem());
            auto evaluation = evaluate(*d, nullptr, &job);
            // What its file was like when it was edited is not known: saving asks when it is there.
            return Result<Store::Opened>(Store::Opened{std::move(d).value(), std::move(evaluation), FileStamp{}});
        });
        if (!opened) continue;
        if (!*opened) {
            window->showMessage(m_store->say(opened->problem().text));
            continue;
        }
        const QString file = QString::fromStdString(left.facts.file);
        window->m_store->take(std::move(opened->value()), file, file.isEmpty() ? name : QString(), true);
        window->m_store->flushJournal(); // it is on disk again before the old one goes
        removeJournal(left);
        window->showMessage(tr("This is %1 as it was on %2. It is not saved yet.").arg(name, when), false);
    }
}

bool MainWindow::openDemo(const QString& path, const QString& title) { return load(path, {}, title); }

bool MainWindow::save() {
    const QString path = m_store->filePath();
    if (path.isEmpty() || path.endsWith(".json", Qt::CaseInsensitive))
        return saveAs(); // a bare document.json is only read
    return saveTo(path);
}

bool MainWindow::saveTo(const QString& path) {
    SaveOptions options = m_store->saveOptions(path);
    while (true) {
        const long serial = m_store->history().serial();
        const auto problem =
            inBackground<std::optional<Problem>>(this, tr("Saving %1\u2026").arg(QFileInfo(path).fileName()),
                                                 [document = m_store->document(), path, options](Job& job) {
                                                     SaveOptions stoppable = options;
                                                     stoppable.stop = &job.stop;
                                                     return saveDocument(document, path.toStdString(), stoppable);
                                                 });
        if (!problem) return false; // given up: the old file stays
        if (!*problem) {
            m_store->wasSaved(path, serial);
            return true;
        }
        const bool changed = (*problem)->field == "changed", readOnly = (*problem)->field == "readOnly";
        if ((!changed && !readOnly) || !ask::saveAnyway(this, m_store->say((*problem)->text))) {
            showMessage(m_store->say((*problem)->text));
            return false;
        }
        options.evenIfChanged |= changed;
        options.evenIfReadOnly |= readOnly;
    }
}

bool MainWindow::saveAs() {
    QString suggestion = m_store->filePath().isEmpty() ? m_store->title() : m_store->filePath();
    if (!suggestion.endsWith(".vicinal")) suggestion = suggestion.section('.', 0, 0) + ".vicinal";
    QString path = ask::saveFile(this, tr("Save the document"), suggestion, tr("Vicinal documents (*.vicinal)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += ".vicinal";
    if (!saveTo(path)) return false;
    hideMessage();
    remember(path);
    return true;
}

void MainWindow::remember(const QString& file) {
    QSettings settings;
    QStringList list = settings.value("recent").toStringList();
    const QString absolute = QFileInfo(file).absoluteFilePath();
    list.removeAll(absolute);
    list.prepend(absolute);
    settings.setValue("recent", QStringList(list.mid(0, 8)));
    QTimer::singleShot(1500, this, [this] { // once it stands in the view; scaled and written behind
        if (const QImage image = picture(); !image.isNull())
            (void)QtConcurrent::run([file = m_store->filePath(), image] { StartPanel::keepPicture(file, image); });
    });
}

/// A picture of the document for the list of documents of late; null when it has no file or nothing is to be seen.
QImage MainWindow::picture() {
    if (m_store->filePath().isEmpty() || m_store->document().paths.empty() || m_view->isHidden()) return {};
    return m_view->grab().toImage();
}

void MainWindow::fillRecent() {
    m_recent->clear();
    for (const QString& path : QSettings().value("recent").toStringList()) {
        auto* action = m_recent->addAction(QFileInfo(path).fileName(), this, [this, path] {
            if (mayLeave()) openFile(path);
        });
        action->setToolTip(path);
        action->setEnabled(QFileInfo::exists(path));
    }
    if (m_recent->isEmpty()) m_recent->addAction(tr("(nothing yet)"))->setEnabled(false);
}

void MainWindow::fillHistory() {
    m_historyMenu->clear();
    const History& h = m_store->history();
    const int from = std::max(0, int(h.size()) - 30);
    for (int i = from; i < int(h.size()); ++i) {
        auto* action = m_historyMenu->addAction(i == 0 ? tr("As opened") : QString(h.nameAt(size_t(i)).c_str()), this,
                                                [this, i] { m_store->goTo(i); });
        action->setCheckable(true);
        action->setChecked(size_t(i) == h.index());
    }
}

/// The newest edit is worked out; false when the user did not wait for that.
bool MainWindow::workedOut() {
    Job job;
    return waitFor(this, tr("Working out the newest state\u2026"), job, [this] { return !m_store->evaluating(); });
}

void MainWindow::sendOut() {
    SendOutDialog dialog(*m_store, this);
    if (dialog.exec() != QDialog::Accepted) return;
    std::vector<std::string> names;
    if (dialog.onlyCurrent())
        if (const auto run = m_store->currentRun()) names.push_back(run->item->name);
    if (!workedOut()) return;
    const auto runs = chosenRuns(m_store->evaluation(), names);
    if (!runs) return showMessage(m_store->say(runs.problem().text));
    const QString extension = dialog.extension();
    QString path =
        ask::saveFile(this, tr("Send out"), m_store->title().section('.', 0, 0) + "." + extension, "*." + extension);
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().toLower() != extension) path += "." + extension;
    const auto problem = inBackground<std::optional<Problem>>(
        this, tr("Writing %1\u2026").arg(QFileInfo(path).fileName()),
        [runs = *runs, path](Job& job) { return vicinal::sendOut(runs, path.toStdString(), &job.stop); });
    if (!problem) return;
    if (*problem) return showMessage(m_store->say((*problem)->text));
    int places = 0;
    for (const auto& r : *runs) places += r->placed->present;
    showMessage(tr("%1 written: %2 places of %n run(s).", nullptr, int(runs->size()))
                    .arg(QFileInfo(path).fileName())
                    .arg(places),
                false);
}

/// Delete means the smallest thing that is selected: places, then a point, then the item.
void MainWindow::removeSelected() {
    const Selection s = m_store->selection();
    if (!s.places.empty()) return m_store->toggleLeftOut();
    const auto path = m_store->currentPath();
    const auto* points = path ? editablePoints(*path->item) : nullptr;
    if (s.point >= 0 && points) {
        auto all = s.points;
        all.insert(s.point);
        if (points->points.size() < all.size() + 2)
            return showMessage(tr("A path keeps at least two points. Delete the path itself instead."));
        const QString name =
            all.size() > 1 ? tr("Delete %1 points").arg(all.size()) : tr("Delete point %1").arg(s.point + 1);
        m_store->changePath(path->item->id, name, {}, [&](PathItem& p) {
            auto& list = std::get<PointsRecipe>(p.recipe).points;
            for (auto it = all.rbegin(); it != all.rend(); ++it) list.erase(list.begin() + *it);
        });
        return;
    }
    if (s.point >= 0 && path && pointCount(path->item->recipe) > 0) {
        if (pointCount(path->item->recipe) <= 2) return showMessage(tr("A loop keeps at least two wheels."));
        m_store->changePath(path->item->id, tr("Remove a wheel"), {}, [&](PathItem& p) {
            auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(p.recipe).shape).wheels;
            w.erase(w.begin() + s.point);
        });
        return;
    }
    if (s.kind != Selection::Kind::None && m_yard->hasFocus()) removeItem(s.id);
}

void MainWindow::closeEvent(QCloseEvent* e) {
    if (!mayLeave()) return e->ignore();
    StartPanel::keepPicture(m_store->filePath(), picture());
    rememberWindow();
    e->accept();
}

/// A panel dragged shut counts as hidden: the menu brings it back.
void MainWindow::showPanel(int which, bool shown) {
    if (which == 2) {
        m_stripWanted = shown;
        m_strip->setVisible(shown && !m_seatView->isOpen());
    } else {
        const int at = which == 0 ? 0 : 2;
        QList<int> sizes = m_middle->sizes();
        if (sizes[at] > 0 && !shown) m_panelWidths[which] = sizes[at];
        QWidget* panel = m_middle->widget(at);
        panel->setVisible(shown);
        if (shown) {
            sizes = m_middle->sizes();
            if (sizes[at] <= 0) {
                sizes[1] = std::max(100, sizes[1] - m_panelWidths[which]);
                sizes[at] = m_panelWidths[which];
                m_middle->setSizes(sizes);
            }
        }
    }
    refreshPanels();
}

void MainWindow::refreshPanels() {
    const QList<int> sizes = m_middle->sizes();
    m_panels[0]->setChecked(!m_yard->isHidden() && sizes[0] > 0);
    m_panels[1]->setChecked(!m_sheet->isHidden() && sizes[2] > 0);
    m_panels[2]->setChecked(m_stripWanted);
}

void MainWindow::resetWindow() {
    m_panelWidths = {kYardWidth, kSheetWidth};
    for (int i = 0; i < 3; ++i) showPanel(i, true);
    m_middle->setSizes({kYardWidth, std::max(100, m_middle->width() - kYardWidth - kSheetWidth), kSheetWidth});
    refreshPanels();
}

void MainWindow::rememberWindow() {
    QSettings settings;
    settings.setValue("window/middle", m_middle->saveState());
    settings.setValue("window/size", size());
    settings.setValue("window/hidden",
                      QStringList{QString::number(m_yard->isHidden()), QString::number(m_sheet->isHidden()),
                                  QString::number(!m_stripWanted)});
}

void MainWindow::restoreWindow() {
    const QSettings settings;
    const QSize size = settings.value("window/size").toSize();
    if (size.isValid()) resize(size.expandedTo(minimumSize()));
    m_middle->restoreState(settings.value("window/middle").toByteArray());
    const QStringList hidden = settings.value("window/hidden").toStringList();
    for (int i = 0; i < hidden.size() && i < 3; ++i)
        if (hidden[i] == "1") showPanel(i, false);
    refreshPanels();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".vicinal", Qt::CaseInsensitive) || path.endsWith(".json", Qt::CaseInsensitive)) {
            if (mayLeave()) openFile(path);
        } else if (!path.isEmpty()) {
            bringInFile(path);
        }
    }
}

} // namespace vicinal
