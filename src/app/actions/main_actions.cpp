#include "app/dialogs/ask.h"
#include "app/dialogs/dialogs.h"
#include "app/seat/seat_view.h"
#include "app/sheet/run_sheet.h"
#include "app/state/background.h"
#include "app/strip/strip.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/window/start_panel.h"
#include "app/yard/yard.h"
#include "exchange/in/bring_in.h"
#include "exchange/out/send_out.h"
#include "model/document/path_item.h"
#include <QAction>
#include <QCloseEvent>
#include <QDateTime>
#include <QFileInfo>
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
    auto all = leftJournals(Store::journalPlace());
    for (const auto& place : {Store::copiesPlace(), std::filesystem::path(QDir::tempPath().toStdString())})
        for (auto& copy : leftCopies(place)) all.push_back(std::move(copy));
    for (const auto& left : all) {
        const QString name = left.facts.title.empty() ? tr("Untitled") : QString::fromStdString(left.facts.title);
        const QString when = QLocale().toString(QDateTime::fromSecsSinceEpoch(left.facts.time), QLocale::ShortFormat);
        switch (left.copy.empty() ? ask::recover(this, name, when)
                                  : ask::recoverCopy(this, QString::fromStdString(left.facts.file),
                                                     QString::fromStdString(left.copy.string()), when)) {
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
        // It is on disk again before the old one goes; on a full disk that one is the only copy.
        if (window->m_store->flushJournal()) removeJournal(left);
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

/// Delete means the smallest thing that is selected: places, then a point, then the item.
void MainWindow::removeSelected() {
    const Selection s = m_store->selection();
    if (s.kind == Selection::Kind::Heap && !s.places.empty()) return removeLoose();
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
    if (s.kind == Selection::Kind::Body || (s.kind != Selection::Kind::None && m_yard->hasFocus()))
        removeItems(s.items());
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
