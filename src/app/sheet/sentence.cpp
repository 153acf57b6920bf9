#include "app/sheet/sentence.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include <QCoreApplication>
#include <QRegularExpression>
#include <map>

namespace vicinal {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("Sentence", text); }

QString link(const QString& field, const QString& text) {
    return QString("<a href='%1' style='color:%2; font-weight:600; text-decoration:underline'>%3</a>")
        .arg(field, theme::accent().name(), text.toHtmlEscaped());
}

QString length(const QString& field, double mm, Unit unit) {
    return link(field, QString::fromStdString(formatLength(mm, unit)) + " " + nameOf(unit));
}

/// The values of spacing as words of the sentence, by key; empty where the sentence leaves them out.
std::map<QString, QString> wordsIn(const Spacing& s, Unit unit) {
    using Sort = ShownValue::Sort;
    std::map<QString, QString> out;
    for (const auto& v : value_rows::valuesOf(s)) {
        QString& text = out[v.key];
        if (v.sort == Sort::Choice) {
            const char* phrase = v.words[size_t(v.value.x())].phrase;
            if (*phrase) text = link(v.key, value_rows::word(phrase));
        } else if (v.sort == Sort::Count) {
            text = link(v.key, QString::number(long(v.value.x())) + " " + value_rows::word(v.label).toLower());
        } else if (v.sort == Sort::Length) {
            text = length(v.key, v.value.x(), unit);
        }
    }
    return out;
}

/// A rule's phrase with its values; a part in [open:...] stands only on open paths, and only when it says something.
QString filled(QString phrase, const std::map<QString, QString>& values, bool closed) {
    static const QRegularExpression part("\\[open:([^\\]]*)\\]"), value("\\{(\\w+)\\}");
    for (auto m = part.match(phrase); m.hasMatch(); m = part.match(phrase)) {
        bool says = !closed;
        for (auto i = value.globalMatch(m.captured(1)); i.hasNext();) {
            const QString key = i.next().captured(1);
            says = says && !values.at(key).isEmpty();
        }
        phrase.replace(m.capturedStart(), m.capturedLength(), says ? m.captured(1) : QString());
    }
    for (auto m = value.match(phrase); m.hasMatch(); m = value.match(phrase))
        phrase.replace(m.capturedStart(), m.capturedLength(), values.at(m.captured(1)));
    return phrase;
}

} // namespace

QString sentenceOf(const RunResult& run, Unit unit) {
    const Spacing& s = run.item->spacing;
    const Facing& f = run.item->facing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    QString out = tr("Set %1 along %2, ")
                      .arg(link("part", run.part ? QString(run.part->item->name.c_str()) : tr("a missing part")),
                           link("path", run.path ? QString(run.path->item->name.c_str()) : tr("a missing path")));
    out += filled(value_rows::word(wordsOf(s.rule).phrase), wordsIn(s, unit), closed);
    if (s.gapAtMost && s.gapAtLeast)
        out += tr(" with clear gaps of %1 to %2")
                   .arg(length("gapAtLeast", *s.gapAtLeast, unit), length("gapAtMost", *s.gapAtMost, unit));
    else if (s.gapAtMost)
        out += tr(" with no clear gap over %1").arg(length("gapAtMost", *s.gapAtMost, unit));
    else if (s.gapAtLeast)
        out += tr(" with no clear gap under %1").arg(length("gapAtLeast", *s.gapAtLeast, unit));
    if (closed) {
        if (s.slide != 0) out += tr("; slid by %1").arg(length("slide", s.slide, unit));
    } else if (s.insetStart == s.insetEnd) {
        if (s.insetStart != 0) out += tr("; %1 in at both ends").arg(length("insetStart", s.insetStart, unit));
    } else {
        out += tr("; %1 in at the start and %2 at the end")
                   .arg(length("insetStart", s.insetStart, unit), length("insetEnd", s.insetEnd, unit));
    }
    const QString nose = link("nose", value_rows::word(wordsOf(f.nose).phrase));
    if (std::holds_alternative<AlongPath>(f.nose))
        out += tr("; standing %1, nose %2").arg(link("crown", value_rows::word(wordsOf(f.crown).phrase)), nose);
    else
        out += tr("; facing %1").arg(nose);
    if (!f.turn.isZero(0)) {
        QStringList turns;
        const QString axes[] = {tr("nose"), tr("side"), tr("crown")};
        for (int i = 0; i < 3; ++i)
            if (f.turn[i] != 0) turns += tr("%1\u00b0 about the %2").arg(f.turn[i] / kDegree, 0, 'g', 6).arg(axes[i]);
        out += tr(", turned %1").arg(link("turn0", turns.join(", ")));
    }
    if (!run.item->leftOut.empty())
        out += tr("; %1 left out").arg(link("leftOut", QString::number(run.item->leftOut.size())));
    return "<div style='line-height:135%'>" + out + ".</div>";
}

} // namespace vicinal
