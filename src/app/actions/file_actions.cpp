// Documents: made, opened, saved, remembered; and what a bad end left behind.
#include "app/actions/actions.h"
#include "app/dialogs/ask.h"
#include "app/state/background.h"
#include "app/state/journal_keeper.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "app/window/start_panel.h"
#include "exchange/in/bring_in.h"
#include "model/document/path_item.h"
#include "model/evaluate/evaluate.h"
#include <QAction>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QLocale>
#include <QMenu>
#include <QSettings>
#include <QTimer>
#include <QtConcurrentRun>

namespace vicinal {
namespace {

const QString kDocuments = QObject::tr("Vicinal documents (*.vicinal *.json)");

} // namespace

Menu FileActions::menu() {
    return {tr("&File"),
            {Command{"new", tr("&New"), tr("Start an empty document"), QKeySequence::New, [this] { newDocument(); }},
             Command{"open", tr("&Open\u2026"), tr("Open a document"), QKeySequence::Open, [this] { open(); }},
             Menu{tr("Open &recent"), {}, [this](QMenu& m) { fillRecent(m); }}, MenuLine{},
             Command{"save", tr("&Save"), tr("Save the document"), QKeySequence::Save, [this] { save(); }},
             Command{"saveAs", tr("Save &as\u2026"), tr("Save under another name"), QKeySequence("Ctrl+Shift+S"),
                     [this] { saveAs(); }},
             MenuLine{},
             Command{"quit", tr("&Quit"), tr("Leave Vicinal"), QKeySequence("Ctrl+Q"), [this] { m_window.close(); }}}};
}

bool FileActions::mayLeave() {
    if (m_store->saved()) return true;
    switch (ask::unsaved(&m_window, m_store->title())) {
    case ask::Unsaved::Save: return save();
    case ask::Unsaved::Discard: return true;
    case ask::Unsaved::Cancel: break;
    }
    return false;
}

void FileActions::newDocument() {
    if (!mayLeave()) return;
    hideMessage();
    m_store->take({{}, evaluate(Document{}), {}}, {});
}

void FileActions::open() {
    if (!mayLeave()) return;
    const QString path = ask::openFile(&m_window, tr("Open a document"), kDocuments);
    if (!path.isEmpty()) openFile(path);
}

bool FileActions::openFile(const QString& path) {
    if (!load(path, path, {})) return false;
    hideMessage();
    remember(path);
    return true;
}

/// Reads and works out a document behind; the one that is there stays until that is done.
bool FileActions::load(const QString& path, const QString& file, const QString& title) {
    auto opened =
        inBackground<Result<Store::Opened>>(&m_window, tr("Opening %1\u2026").arg(QFileInfo(path).fileName()),
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

void FileActions::offerJournals() {
    auto all = leftJournals(journalPlace());
    for (const auto& place : {copiesPlace(), std::filesystem::path(QDir::tempPath().toStdString())})
        for (auto& copy : leftCopies(place)) all.push_back(std::move(copy));
    for (const auto& left : all) {
        const QString name = left.facts.title.empty() ? tr("Untitled") : QString::fromStdString(left.facts.title);
        const QString when = QLocale().toString(QDateTime::fromSecsSinceEpoch(left.facts.time), QLocale::ShortFormat);
        switch (left.copy.empty() ? ask::recover(&m_window, name, when)
                                  : ask::recoverCopy(&m_window, QString::fromStdString(left.facts.file),
                                                     QString::fromStdString(left.copy.string()), when)) {
        case ask::Recover::Later: continue;
        case ask::Recover::Discard: removeJournal(left); continue;
        case ask::Recover::Open: break;
        }
        // This window, while nothing in it would be lost; else one of its own.
        MainWindow* window = &m_window;
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
        window->store().take(std::move(opened->value()), file, file.isEmpty() ? name : QString(), true);
        // It is on disk again before the old one goes; on a full disk that one is the only copy.
        if (window->store().journal().flush()) removeJournal(left);
        window->showMessage(tr("This is %1 as it was on %2. It is not saved yet.").arg(name, when), false);
    }
}

bool FileActions::openDemo(const QString& path, const QString& title) { return load(path, {}, title); }

bool FileActions::save() {
    const QString path = m_store->filePath();
    if (path.isEmpty() || path.endsWith(".json", Qt::CaseInsensitive))
        return saveAs(); // a bare document.json is only read
    return saveTo(path);
}

bool FileActions::saveTo(const QString& path) {
    SaveOptions options = m_store->saveOptions(path);
    while (true) {
        const long serial = m_store->history().serial();
        const auto problem =
            inBackground<std::optional<Problem>>(&m_window, tr("Saving %1\u2026").arg(QFileInfo(path).fileName()),
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
        if ((!changed && !readOnly) || !ask::saveAnyway(&m_window, m_store->say((*problem)->text))) {
            showMessage(m_store->say((*problem)->text));
            return false;
        }
        options.evenIfChanged |= changed;
        options.evenIfReadOnly |= readOnly;
    }
}

bool FileActions::saveAs() {
    QString suggestion = m_store->filePath().isEmpty() ? m_store->title() : m_store->filePath();
    if (!suggestion.endsWith(".vicinal")) suggestion = suggestion.section('.', 0, 0) + ".vicinal";
    QString path = ask::saveFile(&m_window, tr("Save the document"), suggestion, tr("Vicinal documents (*.vicinal)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += ".vicinal";
    if (!saveTo(path)) return false;
    hideMessage();
    remember(path);
    return true;
}

void FileActions::remember(const QString& file) {
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
QImage FileActions::picture() {
    if (m_store->filePath().isEmpty() || m_store->document().paths.empty() || m_view->isHidden()) return {};
    return m_view->grab().toImage();
}

void FileActions::fillRecent(QMenu& menu) {
    menu.clear();
    for (const QString& path : QSettings().value("recent").toStringList()) {
        auto* action = menu.addAction(QFileInfo(path).fileName(), this, [this, path] {
            if (mayLeave()) openFile(path);
        });
        action->setToolTip(path);
        action->setEnabled(QFileInfo::exists(path));
    }
    if (menu.isEmpty()) menu.addAction(tr("(nothing yet)"))->setEnabled(false);
}

} // namespace vicinal
