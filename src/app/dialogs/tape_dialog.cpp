#include "app/dialogs/tape_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include <QDialogButtonBox>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

namespace vicinal {

SheetPreview::SheetPreview(const QString& name, QWidget* parent) : QWidget(parent) {
    setObjectName(name);
    setAccessibleName(tr("Preview of a page"));
    setMinimumSize(360, 280);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void SheetPreview::show(std::optional<Sheet> sheet) {
    m_sheet = std::move(sheet);
    update();
}

void SheetPreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme::line());
    if (!m_sheet) return;
    const Sheet& s = *m_sheet;
    const double k = std::min((width() - 16) / s.width, (height() - 16) / s.height);
    p.translate((width() - k * s.width) / 2, (height() - k * s.height) / 2);
    p.scale(k, k);
    p.fillRect(QRectF(0, 0, s.width, s.height), Qt::white);
    const auto grey = [](double v) { return QColor::fromRgbF(float(v), float(v), float(v)); };
    for (const Ink& ink : s.inks) {
        QPainterPath way;
        for (const Segment& piece : ink.pieces) {
            const Vec3 from = startOf(piece);
            if (way.isEmpty()) way.moveTo(from.x(), s.height - from.y());
            const auto path = Path::make({piece}, false);
            if (!path) continue;
            for (const Vec3& at : path->polyline(0.1)) way.lineTo(at.x(), s.height - at.y());
        }
        if (ink.closed) way.closeSubpath();
        p.setPen(QPen(grey(ink.pen.grey), std::max(ink.pen.width, 0.6 / k)));
        p.setBrush(ink.fill ? QBrush(grey(*ink.fill)) : QBrush(Qt::NoBrush));
        p.drawPath(way);
    }
    for (const Label& l : s.labels) {
        QFont font = theme::font(10, l.bold ? QFont::DemiBold : QFont::Normal);
        font.setPixelSize(100); // drawn large and scaled down: small sizes are rounded
        const double scale = l.height / 0.727 / 100, wide = QFontMetricsF(font).horizontalAdvance(l.text.c_str());
        p.save();
        p.translate(l.at.x(), s.height - l.at.y());
        p.rotate(-l.turn / kDegree);
        p.scale(scale, scale);
        p.setFont(font);
        p.setPen(grey(l.grey));
        p.drawText(QPointF(l.anchor == Anchor::Left     ? 0
                           : l.anchor == Anchor::Middle ? -wide / 2
                                                        : -wide,
                           0),
                   QString::fromStdString(l.text));
        p.restore();
    }
}

TapeDialog::TapeDialog(Store& store, QWidget* parent) : QDialog(parent), m_store(store), m_run(store.currentRun()) {
    setObjectName("tape");
    setWindowTitle(tr("Marking tape of %1").arg(title()));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(16, 14, 16, 14);
    all->setSpacing(8);
    auto* sides = new QHBoxLayout;
    sides->setSpacing(14);
    auto* left = new QVBoxLayout;
    m_rows = new ValueRows(store, "tape");
    m_rows->setFixedWidth(330);
    left->addWidget(m_rows);
    left->addStretch();
    sides->addLayout(left);
    auto* right = new QVBoxLayout;
    m_preview = new SheetPreview("tape.preview");
    right->addWidget(m_preview, 1);
    auto* line = new QHBoxLayout;
    m_before = new QPushButton(tr("Before"));
    m_before->setObjectName("tape.before");
    m_before->setToolTip(tr("The page before this one"));
    m_next = new QPushButton(tr("Next"));
    m_next->setObjectName("tape.next");
    m_next->setToolTip(tr("The page after this one"));
    m_says = new QLabel;
    m_says->setObjectName("tape.says");
    m_says->setWordWrap(true);
    line->addWidget(m_before);
    line->addWidget(m_next);
    line->addWidget(m_says, 1);
    right->addLayout(line);
    sides->addLayout(right, 1);
    all->addLayout(sides, 1);
    auto* buttons = dialogButtons(this, tr("Choose the file\u2026"), "tape.ok");
    m_ok = buttons->findChild<QPushButton*>("tape.ok");
    all->addWidget(buttons);
    connect(m_rows, &ValueRows::changed, this,
            [this](const QString&, const std::string& key, double value, int axis, bool) {
                value_rows::setValue(m_order, key, value, axis);
                work();
            });
    connect(m_before, &QPushButton::clicked, this, [this] { turn(-1); });
    connect(m_next, &QPushButton::clicked, this, [this] { turn(1); });
    resize(980, 600);
    work();
}

QString TapeDialog::title() const { return QString::fromStdString(m_run->item->name); }

void TapeDialog::work() {
    auto tape = tapeOf(*m_run, m_order);
    m_rows->show({}, value_rows::valuesOf(m_order), tape ? std::nullopt : std::optional(tape.problem()));
    m_ok->setEnabled(bool(tape));
    m_says->setProperty("role", tape ? "muted" : "error");
    m_says->style()->polish(m_says);
    if (!tape) {
        m_says->setText(m_rows->has(tape.problem().field) ? QString() : m_store.say(tape.problem().text));
        m_pages.clear();
    } else {
        m_says->setText(tr("%1 on %n strip(s)", nullptr, int(tape->strips))
                            .arg(longLengthText(tape->length, m_store.document().unit)));
        m_pages = std::move(tape.value().pages);
    }
    turn(0);
}

void TapeDialog::turn(int by) {
    m_page = std::clamp(m_page + by, 0, std::max(0, int(m_pages.size()) - 1));
    m_preview->show(m_pages.empty() ? std::nullopt : std::optional(m_pages[size_t(m_page)]));
    m_before->setEnabled(m_page > 0);
    m_next->setEnabled(m_page + 1 < int(m_pages.size()));
}

} // namespace vicinal
