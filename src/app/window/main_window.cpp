#include "app/window/main_window.h"
#include "app/check_sheet/checks_dock.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/schedule/schedule.h"
#include "app/seat/seat_view.h"
#include "app/sheet/run_sheet.h"
#include "app/state/checks.h"
#include "app/strip/strip.h"
#include "app/view/viewport.h"
#include "app/window/start_panel.h"
#include "app/yard/yard.h"
#include "layout/spacing/limits.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {
namespace {
/// Work behind is shown when it lasts longer than this, ms.
constexpr int kWorkShown = 400;

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
} // namespace

MainWindow::MainWindow() : m_store(new Store(this)) {
    setObjectName("mainWindow");
    static const QPointer<QObject> fields = [] {
        auto* filter = new UndoBehindFields(qApp);
        qApp->installEventFilter(filter);
        return filter;
    }();
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(960, 600);
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    auto* tools = new QWidget;
    auto* middle = buildMiddle();
    m_schedule = new ScheduleDock(*m_store, this);
    addDockWidget(Qt::BottomDockWidgetArea, m_schedule);
    m_schedule->hide();
    m_checksDock = new ChecksDock(*m_store, this);
    addDockWidget(Qt::BottomDockWidgetArea, m_checksDock);
    m_checksDock->hide();
    buildMenus();
    buildToolRow(tools);
    box->addWidget(tools);
    box->addWidget(middle, 1);
    m_strip = new Strip(*m_store);
    box->addWidget(m_strip);
    box->addWidget(buildStatus());
    setCentralWidget(page);
    m_view->setFocus();

    connect(m_strip, &Strip::showSelection, m_view, &Viewport::frameSelection);
    connect(m_view, &Viewport::failed, this, [this](const QString& text) { showMessage(text); });
    connect(m_view, &Viewport::lookChanged, this, &MainWindow::refresh);
    connect(m_view, &Viewport::drawingChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::documentChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::selectionChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::fileChanged, this, &MainWindow::refresh);
    connect(m_store, &Store::refused, this, [this](const QString& why) { showMessage(why); });
    m_start = new StartPanel(m_view);
    connect(m_start, &StartPanel::drawWanted, findChild<QAction*>("action.drawPath"), &QAction::trigger);
    connect(m_start, &StartPanel::bringInWanted, findChild<QAction*>("action.bringIn"), &QAction::trigger);
    connect(m_start, &StartPanel::demoWanted, this, [this] {
        if (mayLeave()) openDemo(StartPanel::demoFile(), tr("Saltmarrow Quay"));
    });
    connect(m_start, &StartPanel::openWanted, this, [this](const QString& file) {
        if (mayLeave()) openFile(file);
    });
    refresh();
}

void MainWindow::buildToolRow(QWidget* row) {
    row->setObjectName("toolRow");
    row->setStyleSheet(QString("#toolRow { background: %1; border-bottom: 1px solid %2; }")
                           .arg(theme::paper().name(), theme::line().name()));
    row->setFixedHeight(41);
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(10, 5, 10, 5);
    box->setSpacing(6);
    const auto button = [&](QAction* action, const QString& text, const QString& name) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(action->toolTip());
        b->setAccessibleName(action->text().remove('&').remove(QChar(0x2026)));
        b->setEnabled(action->isEnabled());
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        connect(action, &QAction::changed, b, [b, action] {
            b->setEnabled(action->isEnabled());
            b->setToolTip(action->toolTip());
        });
        box->addWidget(b);
        return b;
    };
    button(m_newRun, tr("+ New run"), "tool.newRun");
    button(findChild<QAction*>("action.drawPath"), tr("Draw path"), "tool.drawPath");
    button(findChild<QAction*>("action.bringIn"), tr("Bring in\u2026"), "tool.bringIn");
    box->addSpacing(14);
    button(m_undo, {}, "tool.undo")->setIcon(theme::icon("undo-2"));
    button(m_redo, {}, "tool.redo")->setIcon(theme::icon("redo-2"));
    box->addStretch(1);
    m_looks = new Segmented("tool.looks", {tr("3D"), tr("Plan"), tr("Front"), tr("Side")},
                            {tr("Look freely, in perspective (1)"), tr("Look from above (2)"),
                             tr("Look from the front (3)"), tr("Look from the side (4)")});
    m_looks->setFixedWidth(220);
    m_looks->setRepeats(true);
    connect(m_looks, &Segmented::picked, this,
            [this](int k) { m_seatView->isOpen() ? m_seatView->setLook(k) : m_view->setLook(Viewport::Look(k)); });
    box->addWidget(m_looks);
    button(findChild<QAction*>("action.wholeSite"), tr("Whole site"), "tool.wholeSite");
    box->addStretch(1);
    m_units = new Segmented("tool.units", {tr("mm"), tr("m"), tr("in")},
                            {tr("Show and type millimetres"), tr("Show and type metres"), tr("Show and type inches")});
    m_units->setFixedWidth(132);
    connect(m_units, &Segmented::picked, this, [this](int k) {
        const Unit units[] = {Unit::Millimetre, Unit::Metre, Unit::Inch};
        Document d = m_store->document();
        if (d.unit == units[k]) return;
        d.unit = units[k];
        m_store->edit(d, tr("Unit %1").arg(nameOf(units[k])));
    });
    box->addWidget(m_units);
    box->addSpacing(4);
    button(m_sendOut, tr("Send out\u2026"), "tool.sendOut")->setProperty("kind", "primary");
}

QWidget* MainWindow::buildMiddle() {
    auto* split = m_middle = new QSplitter(Qt::Horizontal);
    connect(split, &QSplitter::splitterMoved, this, &MainWindow::refreshPanels);
    split->setObjectName("middle");
    split->setHandleWidth(1);
    split->setStyleSheet(QString("QSplitter::handle { background: %1; }").arg(theme::line().name()));
    m_yard = new Yard(*m_store);
    m_yard->setMinimumWidth(170);
    auto* centre = new QWidget;
    auto* box = new QVBoxLayout(centre);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_messageBar = new QWidget;
    m_messageBar->setObjectName("messageBar");
    auto* row = new QHBoxLayout(m_messageBar);
    row->setContentsMargins(12, 6, 8, 6);
    m_message = new QLabel;
    m_message->setObjectName("message");
    m_message->setWordWrap(true);
    m_message->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* close = new QPushButton;
    close->setObjectName("message.close");
    close->setProperty("kind", "flat");
    close->setIcon(theme::icon("x"));
    close->setToolTip(tr("Close this message"));
    close->setAccessibleName(tr("Close this message"));
    connect(close, &QPushButton::clicked, this, &MainWindow::hideMessage);
    row->addWidget(m_message, 1);
    row->addWidget(close, 0, Qt::AlignTop);
    m_messageBar->hide();
    m_view = new Viewport(*m_store);
    box->addWidget(m_messageBar);
    box->addWidget(m_view, 1);
    m_seatView = new SeatView(*m_store);
    box->addWidget(m_seatView, 1);
    connect(m_seatView, &SeatView::openChanged, this, [this] {
        // What goes is hidden first: both at once would squeeze the view, which then shows another stretch.
        (m_seatView->isOpen() ? static_cast<QWidget*>(m_view) : m_seatView)->hide();
        m_strip->setVisible(!m_seatView->isOpen() && m_stripWanted); // a part has no stations: its room is for the part
        (m_seatView->isOpen() ? static_cast<QWidget*>(m_seatView) : m_view)->show();
        (m_seatView->isOpen() ? static_cast<QWidget*>(m_seatView) : m_view)->setFocus();
        refresh();
    });
    connect(m_seatView, &SeatView::lookChanged, this, &MainWindow::refresh);
    connect(m_view, &Viewport::previewChanged, this, [this] { m_strip->showDrawn(m_view->drawnPath()); });
    connect(m_view, &Viewport::drawingChanged, this, [this] {
        if (m_view->drawing()) m_seatView->leave(); // a path is drawn in the main view
    });
    m_sheet = new RunSheet(*m_store);
    m_sheet->setMinimumWidth(290);
    split->addWidget(m_yard);
    split->addWidget(centre);
    split->addWidget(m_sheet);
    split->setStretchFactor(1, 1);
    split->setSizes({kYardWidth, 726, kSheetWidth});
    split->setCollapsible(1, false);
    return split;
}

/// The strip in a window of its own, as tall as wanted; closing that puts it back.
void MainWindow::detachStrip(bool detach) {
    if (detach == (m_stripWindow != nullptr)) return;
    auto* page = qobject_cast<QVBoxLayout*>(centralWidget()->layout());
    if (detach) {
        m_stripWindow = new QDialog(this);
        m_stripWindow->setObjectName("stripWindow");
        m_stripWindow->setWindowTitle(tr("Strip"));
        auto* box = new QVBoxLayout(m_stripWindow);
        box->setContentsMargins(0, 0, 0, 0);
        page->removeWidget(m_strip);
        box->addWidget(m_strip);
        m_strip->setTall(true);
        m_stripWindow->resize(1100, 520);
        connect(m_stripWindow, &QDialog::finished, this, [this] { detachStrip(false); });
        m_stripWindow->show();
    } else {
        QDialog* window = std::exchange(m_stripWindow, nullptr);
        page->insertWidget(page->count() - 1, m_strip);
        m_strip->setTall(false);
        window->hide();
        window->deleteLater();
    }
    m_strip->setVisible(detach || (m_stripWanted && !m_seatView->isOpen()));
    findChild<QAction*>("action.detachStrip")->setChecked(detach);
}

QWidget* MainWindow::buildStatus() {
    auto* bar = new QWidget;
    bar->setObjectName("statusLine");
    bar->setStyleSheet(QString("#statusLine { background: %1; }").arg(theme::statusBar().name()));
    bar->setFixedHeight(25);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(12, 0, 12, 0);
    m_status = new QLabel;
    m_status->setObjectName("status");
    m_status->setFont(theme::font(12));
    m_statusHint = new QLabel;
    m_statusHint->setProperty("role", "muted");
    m_statusHint->setFont(theme::font(12));
    m_statusHint->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_statusHint->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_workBar = new QProgressBar;
    m_workBar->setObjectName("status.progress");
    m_workBar->setFixedSize(110, 8);
    m_workBar->setTextVisible(false);
    m_workButton = new QPushButton;
    m_workButton->setObjectName("status.work");
    m_workButton->setProperty("kind", "flat");
    m_workButton->setFont(theme::font(12));
    m_workButton->setCursor(Qt::PointingHandCursor);
    m_workButton->setFocusPolicy(Qt::NoFocus); // what is typed goes on where it was
    connect(m_workButton, &QPushButton::clicked, this, [this] {
        if (m_store->evaluating())
            m_store->stopWork();
        else if (m_store->checks().running())
            m_store->checks().stop();
        else
            m_store->evaluation().cancelled() ? m_store->workOutAgain() : m_store->checks().again();
    });
    m_workDelay = new QTimer(this);
    m_workDelay->setInterval(kWorkShown);
    connect(m_workDelay, &QTimer::timeout, this, [this] { showWork(true); });
    const auto changed = [this] {
        if (!m_store->evaluating() && !m_store->checks().running())
            showWork(false);
        else if (!m_workDelay->isActive())
            m_workDelay->start();
    };
    connect(m_store, &Store::workChanged, this, changed);
    connect(&m_store->checks(), &Checks::workChanged, this, changed);
    row->addWidget(m_status);
    row->addWidget(m_workBar);
    row->addWidget(m_workButton);
    row->addWidget(m_statusHint, 1);
    showWork(false);
    return bar;
}

/// What is worked out behind, once it takes long: how far it is and a way to end it; then what was left by that.
void MainWindow::showWork(bool running) {
    if (!running) m_workDelay->stop();
    const bool measuring = running && !m_store->evaluating();
    const bool unmeasured = !running && m_store->checks().stopped();
    const bool left = !running && (m_store->evaluation().cancelled() || unmeasured);
    const double progress = measuring ? m_store->checks().progress() : m_store->workProgress();
    m_workBar->setVisible(running);
    m_workButton->setVisible(running || left);
    m_workBar->setMaximum(progress > 0 ? 100 : 0); // unknown: only that it is at work
    m_workBar->setValue(int(progress * 100));
    m_workButton->setText(measuring    ? tr("Stop measuring")
                          : running    ? tr("Stop working it out")
                          : unmeasured ? tr("Measure what was stopped")
                                       : tr("Work out what was stopped"));
    m_workButton->setToolTip(measuring ? tr("The last verdicts stay")
                             : running ? tr("Keeps the last state; Undo takes the change back")
                                       : tr("Takes up again what was stopped before it was worked out"));
}

void MainWindow::showMessage(const QString& text, bool wrong) {
    m_message->setText((wrong ? QString("\u2715  ") : QString("\u2713  ")) + text);
    const QColor colour = wrong ? theme::brick() : theme::moss();
    m_messageBar->setStyleSheet(
        QString("#messageBar { background: %1; border-bottom: 1px solid %2; } #messageBar QLabel { color: %2; }")
            .arg(wrong ? "#fbefec" : "#eef4ea", colour.name()));
    m_messageBar->show();
}

void MainWindow::hideMessage() { m_messageBar->hide(); }
QString MainWindow::message() const { return m_messageBar->isHidden() ? QString() : m_message->text(); }

void MainWindow::refresh() {
    m_start->setVisible(m_store->document().paths.empty() && m_store->document().parts.empty() &&
                        m_store->document().bodies.empty() && !m_view->drawing());
    const History& h = m_store->history();
    m_undo->setEnabled(h.canUndo());
    m_undo->setText(h.canUndo() ? tr("&Undo: %1").arg(h.undoName().c_str()) : tr("&Undo"));
    m_undo->setToolTip(m_undo->text().remove('&') + " (Ctrl+Z)");
    m_redo->setEnabled(h.canRedo());
    m_redo->setText(h.canRedo() ? tr("&Redo: %1").arg(h.redoName().c_str()) : tr("&Redo"));
    m_redo->setToolTip(m_redo->text().remove('&') + " (Ctrl+Shift+Z)");
    m_newRun->setEnabled(!m_store->document().paths.empty());
    m_newRun->setToolTip(m_newRun->isEnabled() ? tr("Set a part along a path (Ctrl+R)")
                                               : tr("Draw or bring in a path first"));
    m_sendOut->setEnabled(!m_store->document().runs.empty() || !m_store->document().heaps.empty() ||
                          !m_store->document().bodies.empty());
    m_sendOut->setToolTip(m_sendOut->isEnabled() ? tr("Drawing, model or schedule (Ctrl+E)")
                                                 : tr("There is no run to send out yet"));
    m_template->setEnabled(m_sendOut->isEnabled());
    m_makeAll->setEnabled(!m_store->document().deliveries.empty());
    const auto inHand = m_store->currentRun();
    m_reverseRun->setEnabled(inHand && inHand->placed && !inHand->stale());
    m_tape->setEnabled(m_reverseRun->isEnabled());
    m_standAlone->setEnabled(m_reverseRun->isEnabled());
    for (auto* a : m_release) a->setEnabled(m_reverseRun->isEnabled());
    m_leaveOut->setEnabled(!m_store->selection().places.empty());
    m_looks->setCurrent(m_seatView->isOpen() ? m_seatView->look() : int(m_view->look()));
    m_parallel->setChecked(m_view->parallel());
    m_comb->setChecked(m_view->comb());
    for (auto* a : m_needsPath) a->setEnabled(m_store->currentPath() != nullptr);
    for (auto* a : m_needsRun) a->setEnabled(m_reverseRun->isEnabled());
    for (auto* a : m_needsPart) a->setEnabled(m_store->currentPart() != nullptr);
    for (auto* a : m_needsBody) a->setEnabled(m_store->currentBody() != nullptr);
    const int unitIndex = m_store->document().unit == Unit::Millimetre ? 0
                          : m_store->document().unit == Unit::Metre    ? 1
                          : m_store->document().unit == Unit::Inch     ? 2
                                                                       : -1;
    m_units->setCurrent(unitIndex);
    const QString state = m_store->filePath().isEmpty()
                              ? (m_store->saved() ? tr("not saved to a file") : tr("not saved"))
                          : m_store->saved() ? tr("saved")
                                             : tr("changed");
    m_fileLabel->setText(m_store->title() + " \u2014 " + state);
    m_fileLabel->adjustSize();
    menuBar()->setCornerWidget(m_fileLabel, Qt::TopRightCorner); // a new text may need more room
    setWindowTitle(m_store->title() + (m_store->saved() ? "" : " \u2022") + " \u2014 Vicinal");
    refreshStatus();
}

void MainWindow::refreshStatus() {
    const Unit unit = m_store->document().unit;
    const auto run = m_store->currentRun();
    QString text;
    const auto fact = [&](const QString& label, const QString& value, const QString& more = {}) {
        if (!text.isEmpty()) text += "&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;";
        text += label + (label.isEmpty() ? "" : " ") + "<b>" + value + "</b>" + more;
    };
    if (run && run->placed) {
        const Places& p = *run->placed;
        fact({}, QString::number(p.present),
             " " + tr("places") +
                 (p.present < int(p.count()) ? tr(", %1 left out").arg(p.count() - size_t(p.present)) : QString()));
        if (p.count() > 1) fact(tr("c/c"), lengthText(p.laid->pitch, unit));
        if (const int g = isLinked(run->item->spacing) ? -1 : tightestGap(p); g >= 0)
            fact(tr("least gap along"), lengthText(p.gaps[g].clear(), unit),
                 " " + tr("after %1").arg(p.gaps[g].from + 1));
        fact(tr("left over"), lengthText(p.laid->leftOver, unit));
        if (run->stale())
            text += "&nbsp;&nbsp;&nbsp;&nbsp;<span style='color:" + theme::brick().name() + "'>" +
                    tr("\u2715 the last result that worked") + "</span>";
    } else if (const auto body = m_store->currentBody(); body && body->body) {
        const Vec3 s = body->body->mesh->box.sizes();
        fact(tr("site body"),
             QString("%1 \u00d7 %2 \u00d7 %3")
                 .arg(lengthText(s.x(), unit, false), lengthText(s.y(), unit, false), lengthText(s.z(), unit)));
    } else if (const auto path = m_store->currentPath(); path && path->path) {
        fact(tr("path"), lengthText(path->path->length(), unit));
    } else {
        text = tr("%n run(s)", nullptr, int(m_store->document().runs.size())) + ", " +
               tr("%n path(s)", nullptr, int(m_store->document().paths.size()));
    }
    m_status->setText(text);
    QString hint = run ? tr("Drag a place in the strip to slide the run \u00b7 right-click a place to leave it out")
                       : tr("Drag to turn the view, wheel to zoom");
    if (m_seatView->isOpen())
        hint = tr("Click a mark \u00b7 drag an arrow onto a face, an edge or an axis \u00b7 drag turns, wheel zooms");
    if (m_view->drawing()) hint = tr("Type x, y, z, a length, or length at angle \u00b7 Alt lets go of all snaps");
    m_statusHint->setText(hint);
}

} // namespace vicinal
