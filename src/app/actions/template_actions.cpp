// Templates at full size, sent out.
#include "app/dialogs/ask.h"
#include "app/dialogs/tape_dialog.h"
#include "app/dialogs/template_dialog.h"
#include "app/state/background.h"
#include "app/window/main_window.h"
#include "exchange/drawing/writers.h"
#include "model/file/files.h"
#include <QFileInfo>

namespace vicinal {

void MainWindow::sendTemplate() {
    if (!workedOut()) return;
    TemplateDialog dialog(*m_store, this);
    if (dialog.exec() != QDialog::Accepted || !dialog.made()) return;
    const QString extension = dialog.extension(), title = dialog.title();
    QString path = ask::saveFile(this, tr("Template at full size"), title + "." + extension, "*." + extension);
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().toLower() != extension) path += "." + extension;
    const auto problem = inBackground<std::optional<Problem>>(
        this, tr("Writing %1\u2026").arg(QFileInfo(path).fileName()),
        [made = dialog.made(), path, extension, title = title.toStdString()](Job& job) -> std::optional<Problem> {
            const auto bytes = extension == "pdf"   ? pdfOf(made->pages, title)
                               : extension == "svg" ? Result<std::string>(svgOf(made->whole, title))
                                                    : dxfOf(made->whole);
            if (!bytes) return bytes.problem();
            if (stopped(&job.stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
            return writeAtomically(path.toStdString(), *bytes);
        });
    if (!problem) return;
    if (*problem) return showMessage(m_store->say((*problem)->text));
    showMessage(
        extension == "pdf"
            ? tr("%1 written: %n page(s).", nullptr, int(dialog.made()->pages.size())).arg(QFileInfo(path).fileName())
            : tr("%1 written.").arg(QFileInfo(path).fileName()),
        false);
}

void MainWindow::sendTape() {
    if (!workedOut()) return;
    const auto run = m_store->currentRun();
    if (!run || !run->placed || run->problem)
        return showMessage(tr("Select a run that has places: its stations go on the tape."));
    TapeDialog dialog(*m_store, this);
    if (dialog.exec() != QDialog::Accepted || dialog.pages().empty()) return;
    QString path = ask::saveFile(this, tr("Marking tape"), dialog.title() + tr(" tape") + ".pdf", "*.pdf");
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().toLower() != "pdf") path += ".pdf";
    const auto problem = inBackground<std::optional<Problem>>(
        this, tr("Writing %1\u2026").arg(QFileInfo(path).fileName()),
        [pages = dialog.pages(), path, title = dialog.title().toStdString()](Job& job) -> std::optional<Problem> {
            const auto bytes = pdfOf(pages, title);
            if (!bytes) return bytes.problem();
            if (stopped(&job.stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
            return writeAtomically(path.toStdString(), *bytes);
        });
    if (!problem) return;
    if (*problem) return showMessage(m_store->say((*problem)->text));
    showMessage(tr("%1 written: %n page(s).", nullptr, int(dialog.pages().size())).arg(QFileInfo(path).fileName()),
                false);
}

} // namespace vicinal
