#include "app/sheet/run/along/sequence_row.h"
#include "app/controls/theme.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

namespace vicinal {

SequenceRow::SequenceRow(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName("sequence.row");
    setAccessibleName(tr("Sequence of parts"));
    setToolTip(tr("The pattern to scale, once through. Click a part to take it in hand, drag it to move it."));
    setMinimumHeight(64);
}

double SequenceRow::lengthOf(Id part) const {
    const auto& parts = m_store.evaluation().parts;
    const auto found = parts.find(part);
    return found == parts.end() || !found->second->seated ? 100 : std::max(1.0, found->second->seated->sizes().x());
}

void SequenceRow::show(const RunResult& run) {
    m_steps = run.item->sequence.steps;
    if (m_steps.empty()) m_steps = {{run.item->part, 1, 1}};
    m_palette.clear();
    for (const auto& s : m_steps)
        if (std::find(m_palette.begin(), m_palette.end(), s.part) == m_palette.end()) m_palette.push_back(s.part);
    if (m_current >= int(m_steps.size())) m_current = -1;
    update();
}

void SequenceRow::setCurrent(int step) {
    if (step == m_current) return;
    m_current = step;
    update();
    emit currentChanged();
}

/// At most so many repeats of a step are drawn; the number beside says how many there are.
std::vector<SequenceRow::Chip> SequenceRow::chips() const {
    constexpr long kMost = 12;
    double whole = 0;
    size_t count = 0;
    for (const auto& s : m_steps) {
        whole += double(std::min(s.repeat, kMost)) * lengthOf(s.part);
        count += size_t(std::min(s.repeat, kMost));
    }
    const double gap = 3, room = width() - 4 - gap * double(count), least = 5;
    const double scale = std::max(0.0, room - least * double(count)) / std::max(whole, tolerance::rounding);
    std::vector<Chip> out;
    double x = 2;
    for (size_t i = 0; i < m_steps.size(); ++i)
        for (long k = 0; k < std::min(m_steps[i].repeat, kMost); ++k) {
            const double w = least + scale * lengthOf(m_steps[i].part);
            out.push_back({int(i), QRectF(x, 4, w, 32), m_steps[i].part});
            x += w + gap;
        }
    return out;
}

QPointF SequenceRow::chipOf(int step) const {
    for (const Chip& c : chips())
        if (c.step == step) return c.box.center();
    return {};
}

int SequenceRow::stepAt(const QPointF& at) const {
    int best = -1;
    double nearest = 1e9;
    for (const Chip& c : chips()) {
        const double away = std::max({0.0, c.box.left() - at.x(), at.x() - c.box.right()});
        if (away < nearest) nearest = away, best = c.step;
    }
    return best;
}

void SequenceRow::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(theme::font(11));
    const QFontMetricsF metrics(p.font());
    int labelled = -1;
    double free = 0;
    for (const Chip& c : chips()) {
        const auto at = std::find(m_palette.begin(), m_palette.end(), c.part) - m_palette.begin();
        QColor tone = theme::run(int(at));
        tone = QColor::fromHslF(tone.hslHueF(), tone.hslSaturationF() * 0.4f, 0.78f);
        const bool current = c.step == m_current;
        p.setPen(QPen(current ? theme::accent() : theme::muted(), current ? 2 : 1));
        p.setBrush(tone);
        p.drawRoundedRect(c.box, 2, 2);
        if (m_to == c.step && m_from >= 0 && m_to != m_from) { // where it would go
            p.setPen(QPen(theme::accent(), 2));
            const double x = m_to > m_from ? c.box.right() + 1 : c.box.left() - 1;
            p.drawLine(QPointF(x, 0), QPointF(x, 40));
        }
        if (c.step == labelled) continue;
        labelled = c.step;
        const auto& step = m_steps[size_t(c.step)];
        const auto part = m_store.document().part(step.part);
        QString text = part ? QString(part->name.c_str()) : tr("(deleted)");
        if (step.repeat > 1) text = tr("%1 \u00d7 %2").arg(step.repeat).arg(text);
        if (c.box.left() < free) continue;
        const QString words = metrics.elidedText(text, Qt::ElideRight, width() - c.box.left());
        p.setPen(current ? theme::accent() : theme::ink());
        p.drawText(QPointF(c.box.left(), 54), words);
        free = c.box.left() + metrics.horizontalAdvance(words) + 8;
    }
}

void SequenceRow::mousePressEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton) return;
    m_from = m_to = stepAt(e->position());
    setCurrent(m_from);
}

void SequenceRow::mouseMoveEvent(QMouseEvent* e) {
    if (m_from < 0) return;
    m_to = stepAt(e->position());
    update();
}

void SequenceRow::mouseReleaseEvent(QMouseEvent*) {
    const int from = std::exchange(m_from, -1), to = std::exchange(m_to, -1);
    update();
    if (from >= 0 && to >= 0 && from != to) emit moved(from, to);
}

} // namespace vicinal
