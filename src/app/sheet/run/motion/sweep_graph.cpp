#include "app/sheet/run/motion/sweep_graph.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace vicinal {

SweepGraph::SweepGraph(const QString& name, QWidget* parent) : QWidget(parent) {
    setObjectName(name);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    hide();
}

void SweepGraph::show(std::vector<SweepStep> steps, Unit unit) {
    m_steps = std::move(steps);
    m_unit = unit;
    const auto any = [&](auto&& has) { return std::any_of(m_steps.begin(), m_steps.end(), has); };
    m_of = any([](const SweepStep& s) { return s.closing.has_value(); })           ? Of::Closing
           : any([](const SweepStep& s) { return s.swing > tolerance::rounding; }) ? Of::Swing
                                                                                   : Of::Turn;
    setAccessibleName(says());
    setVisible(m_steps.size() > 1);
    update();
}

void SweepGraph::clear() {
    m_steps.clear();
    hide();
}

double SweepGraph::valueOf(const SweepStep& s) const {
    if (s.problem) return std::nan("");
    if (m_of == Of::Closing) return s.closing.value_or(std::nan(""));
    return m_of == Of::Swing ? s.swing : s.turn;
}

QString SweepGraph::text(double v) const {
    if (m_of != Of::Closing) return QString::number(v / kDegree, 'f', 2) + QString::fromUtf8("\u00b0");
    return QString::number(v / millimetresPer(m_unit), 'f', m_unit == Unit::Millimetre ? 4 : 6) + " " + nameOf(m_unit);
}

const SweepStep* SweepGraph::worst() const {
    const SweepStep* out = nullptr;
    for (const SweepStep& s : m_steps) {
        if (s.problem) return &s; // it cannot stand there at all
        if (!out || std::abs(valueOf(s)) > std::abs(valueOf(*out))) out = &s;
    }
    return out;
}

QString SweepGraph::says() const {
    const SweepStep* w = worst();
    if (!w) return {};
    const QString at = lengthText(w->way, m_unit);
    if (w->problem) return tr("After %1 it cannot stand: %2").arg(at, QString::fromStdString(w->problem->text));
    switch (m_of) {
    case Of::Closing:
        return valueOf(*w) >= 0 ? tr("Loosest after %1: %2 are missing between the ends.").arg(at, text(valueOf(*w)))
                                : tr("Tightest after %1: the ends overlap by %2.").arg(at, text(-valueOf(*w)));
    case Of::Swing: return tr("After %1 what is under a vehicle turns by %2.").arg(at, text(valueOf(*w)));
    case Of::Turn: return tr("After %1 the sharpest joint turns by %2.").arg(at, text(valueOf(*w)));
    }
    return {};
}

void SweepGraph::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF r = QRectF(rect()).adjusted(1, 16, -1, -16);
    p.setPen(QPen(theme::line(), 1));
    p.setBrush(theme::field());
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    if (m_steps.size() < 2) return;
    double low = m_of == Of::Closing ? 0 : kFar, high = m_of == Of::Closing ? 0 : -kFar;
    for (const SweepStep& s : m_steps)
        if (const double v = valueOf(s); std::isfinite(v)) low = std::min(low, v), high = std::max(high, v);
    if (!(high >= low)) return;
    const double room = std::max(high - low, tolerance::rounding), whole = m_steps.back().way - m_steps.front().way;
    const auto at = [&](const SweepStep& s) {
        return QPointF(r.left() + 6 + (s.way - m_steps.front().way) / whole * (r.width() - 12),
                       r.bottom() - (valueOf(s) - low) / room * r.height());
    };
    if (m_of == Of::Closing) { // where it closes
        const double y = r.bottom() - (0 - low) / room * r.height();
        p.setPen(QPen(theme::muted(), 1, Qt::DashLine));
        p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    }
    QPolygonF line;
    p.setPen(QPen(theme::accent(), 1.6));
    p.setBrush(Qt::NoBrush);
    for (const SweepStep& s : m_steps) {
        if (std::isfinite(valueOf(s))) {
            line << at(s);
            continue;
        }
        p.drawPolyline(line);
        line.clear();
    }
    p.drawPolyline(line);
    if (const SweepStep* w = worst(); w && std::isfinite(valueOf(*w))) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme::ochre());
        p.drawEllipse(at(*w), 3.5, 3.5);
    }
    p.setFont(theme::font(10));
    p.setPen(theme::muted());
    const QRectF box = QRectF(rect()).adjusted(6, 2, -6, -2);
    p.drawText(box, Qt::AlignTop | Qt::AlignLeft, text(high));
    p.drawText(box, Qt::AlignBottom | Qt::AlignLeft, text(low));
    p.drawText(box, Qt::AlignBottom | Qt::AlignRight, lengthText(m_steps.back().way, m_unit));
    p.drawText(box, Qt::AlignTop | Qt::AlignRight,
               m_of == Of::Closing ? tr("closing over the way")
               : m_of == Of::Swing ? tr("turn under vehicles")
                                   : tr("sharpest joint"));
}

} // namespace vicinal
