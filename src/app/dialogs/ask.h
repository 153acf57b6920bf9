#pragma once
#include <QString>
#include <QStringList>

class QWidget;

/// Every question that stops the user goes through here, so that tests can answer.
namespace vicinal::ask {

enum class Unsaved { Save, Discard, Cancel };

QString openFile(QWidget*, const QString& title, const QString& filter);
QString saveFile(QWidget*, const QString& title, const QString& suggestion, const QString& filter);
Unsaved unsaved(QWidget*, const QString& document);
/// Whether to write over a file that is read-only or was changed meanwhile; `why` says which.
bool saveAnyway(QWidget*, const QString& why);
/// What to do with work that a program that ended badly left behind.
enum class Recover { Open, Discard, Later };
Recover recover(QWidget*, const QString& document, const QString& when);
/// The same of the old bytes of a file that was being written in place; `file`: its whole name.
Recover recoverCopy(QWidget*, const QString& file, const QString& copy, const QString& when);
/// Whether a delivery may go where its document says, outside the document's own folder.
bool deliverOutside(QWidget*, const QString& delivery, const QString& folder);

/// Answers for the next questions, in order (tests). Files are paths; an empty one cancels.
void answerFile(const QString&);
void answerUnsaved(Unsaved);
void answerSaveAnyway(bool);
void answerRecover(Recover);
void answerDeliverOutside(bool);

} // namespace vicinal::ask
