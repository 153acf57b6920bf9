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
template<class T> T next(std::deque<T>& queue) {
    T answer = queue.front();
    queue.pop_front();
    return answer;
}

} // namespace

void answerFile(const QString& path) { files().push_back(path); }
void answerUnsaved(Unsaved u) { choices().push_back(u); }
void answerSaveAnyway(bool yes) { anyways().push_back(yes); }
void answerRecover(Recover r) { recoveries().push_back(r); }

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
    if (!recoveries().empty()) return next(recoveries());
    QMessageBox box(
        QMessageBox::NoIcon, QObject::tr("Work that was not saved"),
        QObject::tr("Vicinal ended before %1 was saved. Its last state, of %2, is still there.").arg(document, when),
        QMessageBox::NoButton, parent);
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

} // namespace vicinal::ask
