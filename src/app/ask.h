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

/// Answers for the next questions, in order (tests). Files are paths; an empty one cancels.
void answerFile(const QString&);
void answerUnsaved(Unsaved);

} // namespace vicinal::ask
