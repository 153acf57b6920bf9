#include "app/state/background.h"
#include <QComboBox>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QProgressDialog>
#include <QThread>

namespace vicinal {

bool waitFor(QWidget* parent, const QString& text, Job& job, const std::function<bool()>& finished) {
    QElapsedTimer waited;
    waited.start();
    std::unique_ptr<QProgressDialog> box;
    while (!finished()) {
        if (!box && waited.elapsed() > 400) {
            box = std::make_unique<QProgressDialog>(text, QObject::tr("Cancel"), 0, 0, parent);
            box->setObjectName("progress");
            box->setWindowModality(Qt::WindowModal);
            box->setMinimumWidth(360);
            box->setAutoReset(false);
            box->setAutoClose(false);
            box->show();
        }
        if (!box) // painting and what other threads report go on; clicks wait, since nothing shields the window yet
            QCoreApplication::processEvents(QEventLoop::ExcludeUserInputEvents, 5);
        else {
            if (job.progress > 0) { // readers that cannot say how far they are only show that they are at work
                box->setMaximum(100);
                box->setValue(std::min(99, int(job.progress * 100)));
            }
            QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
            if (box->wasCanceled()) {
                job.stop = true;
                return false;
            }
        }
        QThread::msleep(2);
    }
    return true;
}

QComboBox* unitChoice(const QString& name, bool pixels, double known) {
    auto* box = new QComboBox;
    box->setObjectName(name);
    box->setAccessibleName(QObject::tr("Unit of the file"));
    box->setToolTip(QObject::tr("What one unit of the file is"));
    const std::pair<QString, double> units[] = {{QObject::tr("choose the unit\u2026"), 0},
                                                {QObject::tr("millimetres"), 1},
                                                {QObject::tr("centimetres"), 10},
                                                {QObject::tr("metres"), 1000},
                                                {QObject::tr("inches"), 25.4},
                                                {QObject::tr("feet"), 304.8}};
    for (const auto& [text, mm] : units) box->addItem(text, mm);
    if (pixels) {
        box->addItem(QObject::tr("pixels, 96 to the inch"), 25.4 / 96);
        box->addItem(QObject::tr("points, 72 to the inch"), 25.4 / 72);
    }
    if (known > 0) { // the file says so itself
        int at = -1;
        for (int i = 1; i < box->count() && at < 0; ++i)
            if (std::abs(box->itemData(i).toDouble() - known) < tolerance::rounding) at = i;
        if (at < 0) {
            box->addItem(QObject::tr("as the file says: %1 mm").arg(known, 0, 'g', 8), known);
            at = box->count() - 1;
        }
        box->setCurrentIndex(at);
    }
    return box;
}

} // namespace vicinal
