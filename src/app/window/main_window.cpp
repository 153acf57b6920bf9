#include "app/window/main_window.h"
#include "app/actions/actions.h"
#include "app/check_sheet/checks_dock.h"
#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include "app/schedule/schedule.h"
#include "app/seat/seat_view.h"
#include "app/sheet/part/part_editor.h"
#include "app/sheet/run_sheet.h"
#include "app/state/background.h"
#include "app/state/checks.h"
#include "app/state/clock.h"
#include "app/strip/strip.h"
#include "app/view/toolbox.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/viewport.h"
#include "app/window/message_bar.h"
#include "app/window/panels.h"
#include "app/window/start_panel.h"
#include "app/window/status_line.h"
#include "app/yard/yard.h"
#include "model/document/run_item.h"
#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QMimeData>
#include <QPointer>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>
#include <iterator>

namespace vicinal {
namespace {

/// A field that has been taken has nothing of its own to undo: Ctrl+Z in it is the document's.
class UndoBehindFields : public QObject {
public:
    using QObject::QObject;
    bool eventFilter(QObject* object, QEvent* e) override {
        if (e->type() != QEvent::ShortcutOverride) return false;
        const auto* edit = qobject_cast<QLineEdit*>(object);
        auto* key = static_cast<QKeyEvent*>(e);
        if (!edit || edit->isModified() || !(key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)))
            return false;
        e->ignore();
        return true;
    }
};

constexpr Unit kUnits[] = {Unit::Millimetre, Unit::Metre, Unit::Inch}; // of the tool row

} // namespace

MainWindow::MainWindow()
    : m_store(new Store(this)), m_yard(new Yard(*m_store)), m_view(new Viewport(*m_store)),
      m_seatView(new SeatView(*m_store)), m_sheet(new RunSheet(*m_store)), m_strip(new Strip(*m_store)),
      m_schedule(new ScheduleDock(*m_store, this)), m_checksDock(new ChecksDock(*m_store, this)) {
    setObjectName("mainWindow");
    static const QPointer<QObject> fields = [] {
        auto* filter = new UndoBehindFields(qApp);
        qApp->installEventFilter(filter);
        return filter;
    }();
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(960, 600);
    for (QDockWidget* dock : {static_cast<QDockWidget*>(m_schedule), static_cast<QDockWidget*>(m_checksDock)}) {
        addDockWidget(Qt::BottomDockWidgetArea, dock);
        dock->hide();
    }
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    auto* middle = new QSplitter(Qt::Horizontal);
    middle->setObjectName("middle");
    middle->setHandleWidth(1);
    middle->setStyleSheet(QString("QSplitter::handle { background: %1; }").arg(theme::line().name()));
    m_yard->setMinimumWidth(170);
    m_sheet->setMinimumWidth(290);
    for (QWidget* panel : {static_cast<QWidget*>(m_yard), buildCentre(), static_cast<QWidget*>(m_sheet)})
        middle->addWidget(panel);
    middle->setStretchFactor(1, 1);
    middle->setCollapsible(1, false);
    m_panels = new Panels(this, middle, m_strip, box);
    m_groups = std::make_unique<ActionGroups>(*this);
    buildMenuBar();
    auto* tools = new QWidget;
    buildToolRow(tools);
    m_status = new StatusLine(*m_store, *m_view, *m_seatView);
    box->addWidget(tools);
    box->addWidget(middle, 1);
    box->addWidget(m_strip);
    box->addWidget(m_status);
    setCentralWidget(page);
    m_view->setFocus();
    connectStart();
    connectPanels();
    refresh();
}

MainWindow::~MainWindow() {
    delete m_commands; // what goes after this may still tell that it is hidden: no row is asked any more
}

void MainWindow::buildMenuBar() {
    auto* name = new QLabel(tr("Vicinal"));
    name->setFont(theme::font(14, QFont::Bold));
    name->setStyleSheet(QString("color: %1; padding: 2px 6px 0 12px;").arg(theme::accent().name()));
    menuBar()->setCornerWidget(name, Qt::TopLeftCorner);
    m_fileLabel = new QLabel;
    m_fileLabel->setObjectName("fileLabel");
    m_fileLabel->setProperty("role", "muted");
    m_fileLabel->setContentsMargins(0, 6, 12, 0);
    menuBar()->setCornerWidget(m_fileLabel, Qt::TopRightCorner);
    m_commands = new Commands(this);
    for (const Menu& menu : m_groups->menus()) m_commands->add(menuBar(), menu);
}

/// The button of a command, named "tool.<command>".
void MainWindow::addButton(QHBoxLayout* row, const QString& command, const QString& text, const char* icon) {
    QAction* action = m_commands->action(command);
    auto* b = new QPushButton(text);
    b->setObjectName("tool." + command);
    if (icon) b->setIcon(theme::icon(icon));
    const auto follow = [b, action] {
        b->setEnabled(action->isEnabled());
        b->setToolTip(action->toolTip());
    };
    b->setAccessibleName(action->text().remove('&').remove(QChar(0x2026)));
    connect(b, &QPushButton::clicked, action, &QAction::trigger);
    connect(action, &QAction::changed, b, follow);
    follow();
    row->addWidget(b);
}

void MainWindow::buildToolRow(QWidget* row) {
    row->setObjectName("toolRow");
    row->setStyleSheet(QString("#toolRow { background: %1; border-bottom: 1px solid %2; }")
                           .arg(theme::paper().name(), theme::line().name()));
    row->setFixedHeight(41);
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(10, 5, 10, 5);
    box->setSpacing(6);
    addButton(box, "newRun", tr("+ New run"));
    addButton(box, "drawPath", tr("Draw path"));
    addButton(box, "bringIn", tr("Bring in\u2026"));
    box->addSpacing(14);
    addButton(box, "undo", {}, "undo-2");
    addButton(box, "redo", {}, "redo-2");
    box->addStretch(1);
    m_looks = new Segmented("tool.looks", {tr("3D"), tr("Plan"), tr("Front"), tr("Side")},
                            {tr("Look freely, in perspective (1)"), tr("Look from above (2)"),
                             tr("Look from the front (3)"), tr("Look from the side (4)")});
    m_looks->setFixedWidth(220);
    m_looks->setRepeats(true);
    connect(m_looks, &Segmented::picked, this,
            [this](int k) { m_seatView->isOpen() ? m_seatView->setLook(k) : m_view->setLook(Viewport::Look(k)); });
    box->addWidget(m_looks);
    addButton(box, "wholeSite", tr("Whole site"));
    box->addStretch(1);
    m_units = new Segmented("tool.units", {tr("mm"), tr("m"), tr("in")},
                            {tr("Show and type millimetres"), tr("Show and type metres"), tr("Show and type inches")});
    m_units->setFixedWidth(132);
    connect(m_units, &Segmented::picked, this, [this](int k) {
        Document d = m_store->document();
        if (d.unit == kUnits[k]) return;
        d.unit = kUnits[k];
        m_store->edit(d, tr("Unit %1").arg(nameOf(kUnits[k])));
    });
    box->addWidget(m_units);
    box->addSpacing(4);
    addButton(box, "sendOut", tr("Send out\u2026"));
    box->itemAt(box->count() - 1)->widget()->setProperty("kind", "primary");
}

/// The view, and in its place the seat view while a part is seated; messages above.
QWidget* MainWindow::buildCentre() {
    auto* centre = new QWidget;
    auto* box = new QVBoxLayout(centre);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_message = new MessageBar;
    box->addWidget(m_message);
    box->addWidget(m_view, 1);
    box->addWidget(m_seatView, 1);
    connect(m_seatView, &SeatView::openChanged, this, [this] {
        QWidget *comes = m_seatView, *goes = m_view;
        if (!m_seatView->isOpen()) std::swap(comes, goes);
        goes->hide(); // first: both at once would squeeze the view, which then shows another stretch
        m_panels->setSeating(m_seatView->isOpen());
        comes->show();
        comes->setFocus();
        refresh();
    });
    return centre;
}

void MainWindow::connectStart() {
    m_start = new StartPanel(m_view);
    connect(m_start, &StartPanel::drawWanted, m_commands->action("drawPath"), &QAction::trigger);
    connect(m_start, &StartPanel::bringInWanted, m_commands->action("bringIn"), &QAction::trigger);
    connect(m_start, &StartPanel::demoWanted, this, [this] {
        if (m_groups->files.mayLeave()) openDemo(StartPanel::demoFile(), tr("Saltmarrow Quay"));
    });
    connect(m_start, &StartPanel::openWanted, this, [this](const QString& file) {
        if (m_groups->files.mayLeave()) openFile(file);
    });
}

/// What panels and views ask for, done by the group it belongs to.
void MainWindow::connectPanels() {
    ActionGroups& to = *m_groups;
    connect(m_yard, &Yard::newRunWanted, &to.runs, &RunActions::newRun);
    connect(m_yard, &Yard::newPathWanted, this, [this] { m_view->tools().draw().begin(); });
    connect(m_yard, &Yard::newPartWanted, &to.parts, &PartActions::newPart);
    connect(m_yard, &Yard::newBodyWanted, &to.site, &SiteActions::newBody);
    connect(m_yard, &Yard::seatWanted, &to.parts, &PartActions::editSeat);
    connect(m_yard, &Yard::replaceWanted, &to.parts, &PartActions::replacePart);
    connect(m_yard, &Yard::mirrorWanted, &to.parts, &PartActions::mirrorPart);
    connect(m_yard, &Yard::removeWanted, &to.edits, &EditActions::removeItems);
    connect(m_yard, &Yard::copyWanted, &to.edits, &EditActions::copyItems);
    connect(m_yard, &Yard::releaseWanted, &to.runs, &RunActions::release);

    connect(&m_sheet->part(), &PartEditor::seatWanted, &to.parts, &PartActions::editSeat);
    connect(&m_sheet->part(), &PartEditor::pieceWanted, &to.parts, &PartActions::addPiece);
    connect(m_sheet, &RunSheet::newRunWanted, &to.runs, &RunActions::newRun);
    connect(m_sheet, &RunSheet::directionWanted, this, [this] { m_view->tools().pickDirection(); });
    connect(m_sheet, &RunSheet::edgeWanted, this, [this] { m_view->tools().pickEdge(); });
    connect(m_sheet, &RunSheet::timeWanted, this, [this](double seconds) {
        m_view->clock().setPlaying(false);
        m_view->clock().setTime(seconds);
    });
    connect(m_sheet, &RunSheet::layWanted, this,
            [this](Id laid) { m_groups->paths.layPath(laid, m_store->selection().id); });
    connect(m_sheet, &RunSheet::cutWanted, this,
            [this](Id by, bool raise) { m_groups->site.cutByRun(m_store->selection().id, by, raise); });

    connect(m_view, &Viewport::breakWanted, &to.paths, &PathActions::breakAt);
    connect(m_view, &Viewport::edgePicked, &to.paths, &PathActions::takeEdge);
    connect(m_view, &Viewport::removeWanted, &to.edits, &EditActions::removeSelected);
    connect(m_view, &Viewport::directionPicked, this, [this](const Vec3& direction) {
        if (const auto now = m_store->currentRun())
            m_store->change<RunItem>(now->item->id, tr("Direction of an edge"), {},
                                     [&](RunItem& r) { r.facing.direction = direction; });
    });
    connect(m_view, &Viewport::previewChanged, this, [this] { m_strip->showDrawn(m_view->tools().drawnPath()); });
    connect(m_view, &Viewport::drawingChanged, this, [this] {
        if (m_view->tools().drawing()) m_seatView->leave(); // a path is drawn in the main view
    });
    connect(m_view, &Viewport::failed, this, [this](const QString& text) { showMessage(text); });
    connect(m_strip, &Strip::showSelection, m_view, &Viewport::frameSelection);
    connect(m_checksDock, &ChecksDock::sheetWanted, &to.checks, &CheckActions::sendCheckSheet);
    connect(m_store, &Store::refused, this, [this](const QString& why) { showMessage(why); });

    connect(m_store, &Store::documentChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::selectionChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::fileChanged, this, &MainWindow::refresh);
    connect(m_view, &Viewport::lookChanged, this, &MainWindow::refresh);
    connect(m_view, &Viewport::drawingChanged, this, &MainWindow::refresh);
    connect(m_seatView, &SeatView::lookChanged, this, &MainWindow::refresh);
    connect(m_panels, &Panels::changed, m_commands, &Commands::refresh);
    connect(m_schedule, &QDockWidget::visibilityChanged, m_commands, &Commands::refresh);
    connect(m_checksDock, &QDockWidget::visibilityChanged, m_commands, &Commands::refresh);
    connect(&m_view->clock(), &Clock::changed, m_commands, &Commands::refresh);
    connect(&m_store->checks(), &Checks::shownChanged, m_commands, &Commands::refresh);
    connect(&m_store->checks(), &Checks::workChanged, m_commands, &Commands::refresh);
}

void MainWindow::showMessage(const QString& text, bool wrong) { m_message->show(text, wrong); }
void MainWindow::offer(const QString& text, const QString& button, std::function<void()> does) {
    m_message->offer(text, true, button, std::move(does));
}
void MainWindow::hideMessage() { m_message->hide(); }
QString MainWindow::message() const { return m_message->shown(); }
bool MainWindow::openFile(const QString& path) { return m_groups->files.openFile(path); }
bool MainWindow::openDemo(const QString& path, const QString& title) { return m_groups->files.openDemo(path, title); }
void MainWindow::offerJournals() { m_groups->files.offerJournals(); }
void MainWindow::restoreWindow() { m_panels->restore(); }

bool MainWindow::workedOut() {
    Job job;
    return waitFor(this, tr("Working out the newest state\u2026"), job, [this] { return !m_store->evaluating(); });
}

void MainWindow::refresh() {
    m_start->setVisible(m_store->document().paths.empty() && m_store->document().parts.empty() &&
                        m_store->document().bodies.empty() && !m_view->tools().drawing());
    m_commands->refresh();
    m_looks->setCurrent(m_seatView->isOpen() ? m_seatView->look() : int(m_view->look()));
    const auto unit = std::find(std::begin(kUnits), std::end(kUnits), m_store->document().unit);
    m_units->setCurrent(unit == std::end(kUnits) ? -1 : int(unit - std::begin(kUnits)));
    refreshTitle();
    m_status->refresh();
}

void MainWindow::refreshTitle() {
    const bool file = !m_store->filePath().isEmpty(), saved = m_store->saved();
    QString state = saved ? tr("not saved to a file") : tr("not saved");
    if (file) state = saved ? tr("saved") : tr("changed");
    m_fileLabel->setText(m_store->title() + " \u2014 " + state);
    m_fileLabel->adjustSize();
    menuBar()->setCornerWidget(m_fileLabel, Qt::TopRightCorner); // a new text may need more room
    setWindowTitle(m_store->title() + (saved ? "" : " \u2022") + " \u2014 Vicinal");
}

void MainWindow::closeEvent(QCloseEvent* e) {
    if (!m_groups->files.mayLeave()) return e->ignore();
    StartPanel::keepPicture(m_store->filePath(), m_groups->files.picture());
    m_panels->remember();
    e->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* e) {
    for (const QUrl& url : e->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".vicinal", Qt::CaseInsensitive) || path.endsWith(".json", Qt::CaseInsensitive)) {
            if (m_groups->files.mayLeave()) openFile(path);
        } else if (!path.isEmpty()) {
            m_groups->comings.bringInFile(path);
        }
    }
}

} // namespace vicinal
