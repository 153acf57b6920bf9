#include "app/ask.h"
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
template<class T> T next(std::deque<T>& queue) {
    T answer = queue.front();
    queue.pop_front();
    return answer;
}

} // namespace

void answerFile(const QString& path) { files().push_back(path); }
void answerUnsaved(Unsaved u) { choices().push_back(u); }

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

} // namespace vicinal::ask
