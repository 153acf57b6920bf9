#include "app/dialogs/ask.h"
#include <QFileDialog>
#include <QMessageBox>
#include <QPushButton>
#include <deque>

namespace vicinal::ask {
namespace {

std::deque<QString>& files() {
    static std::deque<QString> answers;
    return answers;
}
std::deque<Unsaved>& choices() {
    static std::deque<Unsaved> answers;
    return answers;
}
std::deque<bool>& anyways() {
    static std::deque<bool> answers;
    return answers;
}
std::deque<Recover>& recoveries() {
    static std::deque<Recover> answers;
    return answers;
}
std::deque<bool>& outsides() {
    static std::deque<bool> answers;
    return answers;
}
template<class T> T next(std::deque<T>& queue) {
    T answer = queue.front();
    queue.pop_front();
    return answer;
}

Recover recoverAs(QWidget* parent, const QString& title, const QString& text) {
    if (!recoveries().empty()) return next(recoveries());
    QMessageBox box(QMessageBox::NoIcon, title, text, QMessageBox::NoButton, parent);
    box.setObjectName("ask.recover");
    auto* open = box.addButton(QObject::tr("Open it"), QMessageBox::AcceptRole);
    auto* discard = box.addButton(QObject::tr("Throw it away"), QMessageBox::DestructiveRole);
    box.addButton(QObject::tr("Later"), QMessageBox::RejectRole);
    box.setDefaultButton(open);
    box.exec();
    return box.clickedButton() == open      ? Recover::Open
           : box.clickedButton() == discard ? Recover::Discard
                                            : Recover::Later;
}

} // namespace

void answerFile(const QString& path) { files().push_back(path); }
void answerUnsaved(Unsaved u) { choices().push_back(u); }
void answerSaveAnyway(bool yes) { anyways().push_back(yes); }
void answerRecover(Recover r) { recoveries().push_back(r); }
void answerDeliverOutside(bool yes) { outsides().push_back(yes); }

QString openFile(QWidget* parent, const QString& title, const QString& filter) {
    if (!files().empty()) return next(files());
    return QFileDialog::getOpenFileName(parent, title, {}, filter);
}

QString saveFile(QWidget* parent, const QString& title, const QString& suggestion, const QString& filter) {
    if (!files().empty()) return next(files());
    return QFileDialog::getSaveFileName(parent, title, suggestion, filter);
}

Unsaved unsaved(QWidget* parent, const QString& document) {
    if (!choices().empty()) return next(choices());
    QMessageBox box(QMessageBox::NoIcon, QObject::tr("Unsaved work"),
                    QObject::tr("%1 has changes that are not saved.").arg(document), QMessageBox::NoButton, parent);
    box.setObjectName("ask.unsaved");
    auto* save = box.addButton(QObject::tr("Save"), QMessageBox::AcceptRole);
    auto* discard = box.addButton(QObject::tr("Discard them"), QMessageBox::DestructiveRole);
    box.addButton(QObject::tr("Keep working"), QMessageBox::RejectRole);
    box.setDefaultButton(save);
    box.exec();
    return box.clickedButton() == save      ? Unsaved::Save
           : box.clickedButton() == discard ? Unsaved::Discard
                                            : Unsaved::Cancel;
}

bool saveAnyway(QWidget* parent, const QString& why) {
    if (!anyways().empty()) return next(anyways());
    QMessageBox box(QMessageBox::NoIcon, QObject::tr("Save anyway?"), why, QMessageBox::NoButton, parent);
    box.setObjectName("ask.saveAnyway");
    auto* write = box.addButton(QObject::tr("Write over it"), QMessageBox::DestructiveRole);
    auto* keep = box.addButton(QObject::tr("Leave it as it is"), QMessageBox::RejectRole);
    box.setDefaultButton(keep);
    box.exec();
    return box.clickedButton() == write;
}

Recover recover(QWidget* parent, const QString& document, const QString& when) {
    return recoverAs(
        parent, QObject::tr("Work that was not saved"),
        QObject::tr("Vicinal ended before %1 was saved. Its last state, of %2, is still there.").arg(document, when));
}

Recover recoverCopy(QWidget* parent, const QString& file, const QString& copy, const QString& when) {
    return recoverAs(
        parent, QObject::tr("A file that was being written"),
        QObject::tr("Vicinal ended while it wrote %1 in place. What that file held before is kept, of %2:\n"
                    "%3")
            .arg(file, when, copy));
}

bool deliverOutside(QWidget* parent, const QString& delivery, const QString& folder) {
    if (!outsides().empty()) return next(outsides());
    QMessageBox box(QMessageBox::NoIcon, QObject::tr("A folder elsewhere"),
                    QObject::tr("%1 goes to %2, which is not below the document's own folder. Write it there?")
                        .arg(delivery, folder),
                    QMessageBox::NoButton, parent);
    box.setObjectName("ask.outside");
    auto* yes = box.addButton(QObject::tr("Write it there"), QMessageBox::AcceptRole);
    box.setDefaultButton(box.addButton(QObject::tr("Leave it"), QMessageBox::RejectRole));
    box.exec();
    return box.clickedButton() == yes;
}

} // namespace vicinal::ask
