// Sending out: the window for it, writing, and everything that is kept made again.
#include "app/actions/actions.h"
#include "app/dialogs/ask.h"
#include "app/send/send_window.h"
#include "app/state/background.h"
#include "app/view/toolbox.h"
#include "app/view/viewport.h"
#include "app/window/main_window.h"
#include "model/document/run_item.h"
#include <QBuffer>
#include <QClipboard>
#include <QDir>
#include <QEventLoop>
#include <QFileInfo>
#include <QGuiApplication>
#include <QProgressDialog>

namespace vicinal {
namespace {

std::string pngOf(const QImage& image) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes.toStdString();
}

} // namespace

bool SendActions::anything() const {
    const Document& d = m_store->document();
    return !d.runs.empty() || !d.heaps.empty() || !d.bodies.empty();
}

Menu SendActions::menu() {
    Command sendOut{"sendOut", tr("&Send out\u2026"), tr("Templates, tapes, drawings, solids, lists, pictures"),
                    QKeySequence("Ctrl+E"), [this] { send(); }};
    sendOut.enabled = [this] { return anything(); };
    sendOut.whyNot = tr("There is no run to send out yet");
    Command all{"makeAll", tr("&Make all deliveries again"),
                tr("Every delivery that is kept in the document, as it is now"), QKeySequence("Ctrl+Shift+D"),
                [this] { makeDeliveries(); }};
    all.enabled = [this] { return !m_store->document().deliveries.empty(); };
    Command paper{"template", tr("&Template at full size\u2026"),
                  tr("On paper 1:1, over as many pages as it takes, with proof of scale"), QKeySequence("Ctrl+Shift+P"),
                  [this] { send(0); }};
    paper.enabled = sendOut.enabled;
    return {tr("&Output"),
            {sendOut, all, m_window.groups().motion.send(), paper,
             forRun({"tape",
                     tr("Marking ta&pe\u2026"),
                     tr("The stations of the run in hand at full size, on strips to lay along the real thing"),
                     {},
                     [this] { send(1); }})}};
}

/// What a picture order shows; no size: as it asks for.
QImage SendActions::pictureFor(const Delivery& d, QSize most) {
    PictureOrder order;
    if (const auto* own = std::get_if<PictureOrder>(&d.order)) {
        order = *own;
    } else { // solids are looked at from where the view stands
        order.heading = m_view->camera().yaw;
        order.pitch = m_view->camera().pitch;
    }
    QSize size(int(std::clamp(order.width, 16L, 16384L)), int(std::clamp(order.height, 16L, 16384L)));
    if (most.isValid()) {
        if (!std::holds_alternative<PictureOrder>(d.order)) size = most;
        size = size.scaled(most, Qt::KeepAspectRatio).expandedTo(QSize(16, 16));
    }
    return m_view->pictureOf(d, order, size);
}

/// The pictures of a delivery as files; nothing with a reason when they cannot be drawn.
std::optional<std::vector<OutFile>> SendActions::picturesOf(const Delivery& d, QString* why) {
    const auto& order = std::get<PictureOrder>(d.order);
    const QSize size(int(order.width), int(order.height));
    const QString none = tr("A picture of this size cannot be drawn here. Use a smaller one.");
    std::vector<OutFile> out;
    const std::string name = fileNameOf(d);
    if (order.of != PictureOf::Turntable) {
        const QImage image = m_view->pictureOf(d, order, size);
        if (image.isNull()) return *why = none, std::nullopt;
        out.push_back({name, pngOf(image)});
        return out;
    }
    QProgressDialog progress(tr("Making %1 pictures\u2026").arg(order.frames), tr("Cancel"), 0, int(order.frames),
                             &m_window);
    progress.setObjectName("pictures");
    progress.setWindowModality(Qt::WindowModal);
    progress.setMinimumDuration(300);
    const std::string stem = name.substr(0, name.size() - d.format.size() - 1);
    for (long k = 0; k < order.frames; ++k) {
        progress.setValue(int(k));
        if (progress.wasCanceled())
            return *why = tr("Sending out was cancelled; no picture was written."), std::nullopt;
        const QImage image = m_view->pictureOf(d, order, size, 2 * kPi * double(k) / double(order.frames));
        if (image.isNull()) return *why = none, std::nullopt;
        const std::string number = QString::number(k + 1).rightJustified(4, '0').toStdString();
        out.push_back({stem + "-" + number + "." + d.format, pngOf(image)});
    }
    progress.setValue(int(order.frames));
    return out;
}

/// Makes a delivery and writes it into a folder. What was written, or nothing: then a message says why.
std::optional<QStringList> SendActions::writeDelivery(const Delivery& d, const QString& folder, WrittenFiles& written,
                                                      std::shared_ptr<const Ready> known) {
    if (known && !(known->delivery == d)) known = nullptr; // another name is another title
    std::optional<std::vector<OutFile>> pictures;
    if (needsWindow(d)) {
        QString why;
        pictures = picturesOf(d, &why);
        if (!pictures) {
            showMessage(why);
            return std::nullopt;
        }
    }
    struct Written {
        QStringList names;
        std::optional<Problem> problem;
        Written() = default;
        Written(Problem p) : problem(std::move(p)) {}
    };
    const auto done =
        inBackground<Written>(&m_window, tr("Writing %1\u2026").arg(QString::fromStdString(fileNameOf(d))),
                              [d, e = m_store->sharedEvaluation(), folder = folder.toStdString(), pictures, known,
                               &written](Job& job) -> Written {
                                  std::vector<OutFile> files;
                                  if (pictures) {
                                      files = *pictures;
                                  } else {
                                      auto ready = known;
                                      if (!ready) {
                                          auto worked = prepare(d, *e, &job);
                                          if (!worked) return worked.problem();
                                          ready = std::make_shared<const Ready>(std::move(worked).value());
                                      }
                                      auto made = filesOf(*ready, &job);
                                      if (!made) return made.problem();
                                      files = std::move(made).value();
                                  }
                                  Written out;
                                  out.problem = writeFiles(files, folder, written, &job.stop);
                                  for (const auto& f : files) out.names += QString::fromStdString(f.name);
                                  return out;
                              });
    if (!done) return std::nullopt; // given up
    if (done->problem) {
        showMessage(QString::fromStdString(d.name) + ": " + m_store->say(done->problem->text));
        return std::nullopt;
    }
    if (d.id != 0) m_made[d.id] = {QDateTime::currentDateTime(), m_store->sharedEvaluation(), d};
    return done->names;
}

void SendActions::send(int kind) {
    if (!workedOut()) return;
    SendWindow window(
        *m_store, m_made, [this](const Delivery& d, QSize most) { return pictureFor(d, most); }, &m_window);
    window.lookFrom(m_view->camera().yaw, m_view->camera().pitch);
    if (kind >= 0) window.setKind(kind);
    // A tape is of one run; templates and lists start with the one in hand, too.
    const auto inHand = m_store->currentStanding();
    if (inHand && inHand->instances && !inHand->problem && !inHand->asBody() && kind >= 0 && kind <= 1)
        window.setWhat({inHand->id});
    connect(&window, &SendWindow::writeWanted, &window, [&] { sendFrom(window); });
    connect(&window, &SendWindow::makeAllWanted, &window, [&] {
        makeDeliveries();
        window.refreshDeliveries();
    });
    connect(&window, &SendWindow::copyWanted, &window, [this](const QImage& image) {
        QGuiApplication::clipboard()->setImage(image);
        showMessage(tr("The picture is on the clipboard."), false);
    });
    bool pick = false;
    connect(&window, &SendWindow::faceWanted, &window, [&] {
        pick = true;
        window.hide();
    });
    do {
        pick = false;
        window.exec();
        if (!pick) break;
        QEventLoop wait; // until a face is clicked, or that is given up
        connect(m_view, &Viewport::facePicked, &wait, [&](const Vec3& normal) {
            window.setFace(normal);
            wait.quit();
        });
        connect(m_view, &Viewport::pickGivenUp, &wait, &QEventLoop::quit);
        m_view->tools().pickFace();
        wait.exec();
    } while (true);
}

void SendActions::makeDeliveries() {
    if (!workedOut()) return;
    const auto& all = m_store->document().deliveries;
    if (all.empty()) return showMessage(tr("No delivery is kept yet. Keep one in the window that sends out."));
    QString folder;
    if (m_store->filePath().isEmpty()) { // they go beside the document, and it has no place yet
        const QString path = ask::saveFile(&m_window, tr("A folder for the deliveries"), tr("deliveries"), {});
        if (path.isEmpty()) return;
        QDir().mkpath(path);
        folder = path;
    }
    if (const auto same = sameFile(all)) return showMessage(m_store->say(same->text));
    QStringList written;
    const std::filesystem::path file = m_store->filePath().toStdString();
    WrittenFiles files{file};
    for (const auto& d : std::vector(all)) {
        QString to = folder;
        if (to.isEmpty()) {
            const auto own = folderOf(*d, file);
            to = QString::fromStdString(own.string());
            if (!staysBelow(own, file) && !ask::deliverOutside(&m_window, QString::fromStdString(d->name), to))
                continue;
        }
        const auto names = writeDelivery(*d, to, files);
        if (!names) return; // the message says which, and why
        written += names->front();
    }
    if (written.isEmpty()) return showMessage(tr("Nothing was written."), false);
    showMessage(tr("%n deliver(ies) made again: %1.", nullptr, int(written.size())).arg(written.join(", ")), false);
}

/// What the window has set, written where one says; then the window is done with.
void SendActions::sendFrom(SendWindow& window) {
    Delivery d = window.delivery();
    const QString before = m_store->filePath().isEmpty()
                               ? QString()
                               : QString::fromStdString(folderOf(d, m_store->filePath().toStdString()).string()) + "/";
    const QString extension = QString::fromStdString(d.format);
    QString path =
        ask::saveFile(&window, tr("Send out"), before + QString::fromStdString(fileNameOf(d)), "*." + extension);
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().toLower() != extension) path += "." + extension;
    d.name = QFileInfo(path).completeBaseName().toStdString();
    WrittenFiles files{m_store->filePath().toStdString()};
    const auto written = writeDelivery(d, QFileInfo(path).absolutePath(), files, window.ready());
    if (!written) return window.reject(); // the message stands in the window behind
    showMessage(written->size() == 1
                    ? tr("%1 written.").arg(written->front())
                    : tr("%1 and %n more file(s) written.", nullptr, int(written->size()) - 1).arg(written->front()),
                false);
    window.accept();
}

} // namespace vicinal
