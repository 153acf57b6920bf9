// What moves, sent out: a model, poses, pictures.
#include "app/actions/actions.h"
#include "app/dialogs/ask.h"
#include "app/dialogs/motion_out_dialog.h"
#include "app/state/background.h"
#include "app/state/clock.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "exchange/out/moving_picture.h"
#include "exchange/out/send_out.h"
#include "model/file/files.h"
#include <QDir>
#include <QFileInfo>
#include <QProgressDialog>

namespace vicinal {

Command MotionActions::send() {
    Command out{"sendMotion", tr("Send out the &motion\u2026"), tr("A model that moves, poses by time, pictures"),
                QKeySequence("Ctrl+Shift+E"), [this] { sendMotion(); }};
    out.enabled = [this] { return m_view->clock().wanted(); };
    return out;
}

bool MotionActions::eachPicture(long count, double step, const std::function<bool(const QImage&, long)>& take) {
    Clock& clock = m_view->clock();
    const double before = clock.time();
    clock.setPlaying(false);
    QProgressDialog progress(tr("Making %1 pictures\u2026").arg(count), tr("Cancel"), 0, int(count), &m_window);
    progress.setObjectName("pictures");
    progress.setWindowModality(Qt::WindowModal);
    progress.setMinimumDuration(300);
    bool good = true;
    for (long k = 0; k < count && good; ++k) {
        progress.setValue(int(k)); // lets events through
        if (progress.wasCanceled()) good = false;
        if (!good) break;
        clock.setTime(step * double(k), true);
        good = take(m_view->picture(), k);
    }
    progress.setValue(int(count));
    clock.setTime(before);
    return good;
}

void MotionActions::sendMotion() {
    MotionOutDialog dialog(m_view->clock().period(), &m_window);
    if (dialog.exec() != QDialog::Accepted || !workedOut()) return;
    using Kind = MotionOutDialog::Kind;
    const Kind kind = dialog.kind();
    const QString extension = dialog.extension(), title = m_store->title().section('.', 0, 0);
    const long frames = dialog.frames();
    const double step = dialog.seconds() / double(frames - 1);
    QString path = kind == Kind::Pictures
                       ? ask::saveFile(&m_window, tr("A new folder for the pictures"), title + tr(" pictures"), {})
                       : ask::saveFile(&m_window, tr("Send out the motion"), title + "." + extension, "*." + extension);
    if (path.isEmpty()) return;
    if (kind != Kind::Pictures && QFileInfo(path).suffix().toLower() != extension) path += "." + extension;
    const auto done = [&] {
        showMessage(tr("%1 written: %2 times, %3 s.").arg(QFileInfo(path).fileName()).arg(frames).arg(dialog.seconds()),
                    false);
    };
    if (kind == Kind::Model || kind == Kind::Poses) {
        const auto problem = inBackground<std::optional<Problem>>(
            &m_window, tr("Writing %1\u2026").arg(QFileInfo(path).fileName()),
            [e = m_store->sharedEvaluation(), path, frames,
             seconds = dialog.seconds()](Job&) -> std::optional<Problem> {
                const auto film = filmOf(e, {}, frames, seconds);
                return film ? vicinal::sendOut(*film, path.toStdString()) : std::optional(film.problem());
            });
        if (!problem) return;
        return *problem ? showMessage(m_store->say((*problem)->text)) : done();
    }
    if (m_view->picture().isNull())
        return showMessage(tr("This screen cannot show OpenGL, so that there is nothing to take pictures of."));
    std::optional<Problem> wrong;
    if (kind == Kind::Film) {
        std::unique_ptr<MovingPicture> film;
        const bool whole = eachPicture(frames, step, [&](const QImage& picture, long) {
            const QImage plain = picture.convertToFormat(QImage::Format_RGB32);
            if (!film) film = std::make_unique<MovingPicture>(plain.width(), plain.height(), 1 / step);
            wrong = film->add(plain.constBits(), int(plain.bytesPerLine()));
            return !wrong;
        });
        if (!whole && !wrong) return showMessage(tr("Cancelled; nothing was written."));
        if (!wrong) {
            const auto bytes = film->finish();
            wrong = bytes ? writeAtomically(path.toStdString(), *bytes) : std::optional(bytes.problem());
        }
        return wrong ? showMessage(m_store->say(wrong->text)) : done();
    }
    sendPictures(path, frames, step, done);
}

/// A folder of its own, so that nothing of others is written over.
void MotionActions::sendPictures(const QString& path, long frames, double step, const std::function<void()>& done) {
    if (QDir folder(path); folder.exists() && !folder.isEmpty())
        return showMessage(tr("%1 holds files already. Choose a new folder.").arg(QFileInfo(path).fileName()));
    const bool made = !QDir(path).exists();
    if (!QDir().mkpath(path))
        return showMessage(
            tr("The folder %1 cannot be made there. Choose another place.").arg(QFileInfo(path).fileName()));
    std::optional<Problem> wrong;
    QStringList written;
    const bool whole = eachPicture(frames, step, [&](const QImage& picture, long k) {
        const QString name = QDir(path).filePath(QString("%1.png").arg(k + 1, 5, 10, QChar('0')));
        if (picture.convertToFormat(QImage::Format_RGB32).save(name)) return written += name, true;
        wrong = Problem{Words("Picture ") + std::to_string(k + 1) + " cannot be written there. Is there room?", ""};
        return false;
    });
    if (whole) return done();
    for (const QString& name : written) QFile::remove(name);
    if (made) QDir().rmdir(path);
    showMessage(wrong ? m_store->say(wrong->text) : tr("Cancelled; nothing was written."));
}

} // namespace vicinal
