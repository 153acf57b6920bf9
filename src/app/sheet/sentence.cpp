#include "app/sheet/sentence.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include <QCoreApplication>

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

} // namespace

QString sentenceOf(const RunResult& run, Unit unit) {
    const Spacing& s = run.item->spacing;
    const Facing& f = run.item->facing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    const QString measure = link("measure", s.measure == Measure::ClearGap ? tr("clear") : tr("centre to centre"));
    QString out = tr("Set %1 along %2, ")
                      .arg(link("part", run.part ? QString(run.part->item->name.c_str()) : tr("a missing part")),
                           link("path", run.path ? QString(run.path->item->name.c_str()) : tr("a missing path")));
    switch (s.rule) {
    case SpacingRule::StepOff:
        out += tr("stepped off at %1 %2").arg(length("pitch", s.pitch, unit), measure);
        if (!closed) {
            const QString where[] = {tr("at the end"), tr("at the start"), tr("shared by both ends")};
            out += tr(", what is left over %1").arg(link("leftOver", where[int(s.leftOver)]));
        }
        break;
    case SpacingRule::ShareOut:
        out += tr("%1 shared out evenly").arg(link("count", tr("%1 places").arg(s.count)));
        if (!closed && s.ends != ShareEnds::AtEnds)
            out += ", " + link("ends", s.ends == ShareEnds::HalfPitchIn ? tr("half a pitch in from the ends")
                                                                        : tr("a pitch in from the ends"));
        break;
    case SpacingRule::EvenOut: out += tr("evened to about %1 %2").arg(length("about", s.about, unit), measure); break;
    }
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
    const QString crowns[] = {tr("plumb"), tr("upright"), tr("carried")};
    if (f.nose == NoseRule::AsDrawn)
        out += tr("; facing %1").arg(link("nose", tr("as drawn")));
    else
        out +=
            tr("; standing %1, nose %2").arg(link("crown", crowns[int(f.crown)]), link("nose", tr("along the path")));
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
