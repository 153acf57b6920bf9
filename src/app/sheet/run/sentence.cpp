#include "app/sheet/run/sentence.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include "layout/along/typed.h"
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
        } else if (v.sort == Sort::Stations) {
            text = link(v.key, v.list.size() > 4
                                   ? tr("%1 stations").arg(v.list.size())
                                   : QString::fromStdString(stationsText(v.list, unit)) + " " + nameOf(unit));
        } else if (v.sort == Sort::Profile && !v.profile.empty()) {
            const auto& keys = v.profile.keys;
            text = link(v.key, tr("%1 to %2 %3")
                                   .arg(QString::fromStdString(formatLength(keys.front().value, unit)),
                                        QString::fromStdString(formatLength(keys.back().value, unit)), nameOf(unit)));
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
    auto words = wordsIn(s, unit);
    if (s.measure == Measure::OfLength) // the rule's own number is not what is measured
        words["pitch"] = words["about"] = link("ofLength", QString("%1 %").arg(s.ofLength * 100, 0, 'g', 5));
    if (!words["along"].isEmpty() && counts(s, "along", closed)) words["measure"] += " " + words["along"];
    out += filled(value_rows::word(wordsOf(s.rule).phrase), words, closed);
    if (s.bays != BayEdges::None) out += ", " + words["bays"];
    if (s.bays != BayEdges::None && !s.bayRules.empty())
        out += ", " + link("bayRules", tr("%1 of them by a rule of its own").arg(s.bayRules.size()));
    if (run.item->gives.what != Gives::Nothing && run.path && run.path->gave)
        out += tr(", made even by the %1").arg(link("gives", QString::fromStdString(run.path->gave->name).toLower()));
    if (s.from || s.to)
        out += tr(", from %1 to %2")
                   .arg(length("from", s.from.value_or(0), unit),
                        s.to ? length("to", *s.to, unit) : link("to", tr("the end")));
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
    if (std::holds_alternative<PinToPin>(s.rule)) // whatever nose is chosen
        out += tr("; crown %1, noses through the pins").arg(link("crown", value_rows::word(wordsOf(f.crown).phrase)));
    else if (std::holds_alternative<AlongPath>(f.nose))
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
    const RunItem& r = *run.item;
    if (r.feet.ground != 0)
        out +=
            tr("; feet on %1")
                .arg(link("ground", run.bodies[2] ? QString(run.bodies[2]->item->name.c_str()) : tr("a missing body")));
    if (!r.sequence.steps.empty()) out += tr("; %1").arg(link("sequence", tr("in a sequence of parts")));
    if (!r.changes.none()) out += tr("; %1").arg(link("roll", tr("changing along the way")));
    if (!r.uneven.none()) out += tr("; %1").arg(link("unevenAlong", tr("a little uneven")));
    if (r.rows.rows > 1) out += tr("; in %1").arg(link("rows", tr("%1 rows").arg(r.rows.rows)));
    if (r.rows.tiers > 1) out += tr("; %1").arg(link("tiers", tr("%1 tiers high").arg(r.rows.tiers)));
    for (const auto& [echo, key] : {std::pair{&r.echoes.one, "echo"}, {&r.echoes.two, "again"}})
        if (echo->kind != EchoKind::None) out += "; " + link(key, value_rows::word(kEchoWords[int(echo->kind)].phrase));
    if (!run.item->leftOut.empty())
        out += tr("; %1 left out").arg(link("leftOut", QString::number(run.item->leftOut.size())));
    return "<div style='line-height:135%'>" + out + ".</div>";
}

} // namespace vicinal
