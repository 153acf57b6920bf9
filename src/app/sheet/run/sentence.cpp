#include "app/sheet/run/sentence.h"
#include "app/controls/theme.h"
#include "model/words/sentence.h"
#include <QCoreApplication>

namespace vicinal {

QString sentenceWithLinks(const RunResult& run, Unit unit) {
    const Worded worded = [](const char* text) { return QCoreApplication::translate("Sentence", text).toStdString(); };
    QString out;
    for (const SentencePiece& p : sentenceOf(run, unit, worded)) {
        const QString text = QString::fromStdString(p.text).toHtmlEscaped();
        out += p.value.empty()
                   ? text
                   : QString("<a href='%1' style='color:%2; font-weight:600; text-decoration:underline'>%3</a>")
                         .arg(QString::fromStdString(p.value), theme::accent().name(), text);
    }
    return "<div style='line-height:135%'>" + out + ".</div>";
}

} // namespace vicinal
