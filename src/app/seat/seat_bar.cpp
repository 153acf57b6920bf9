#include "app/seat/seat_bar.h"
#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include <QBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace vicinal {

SeatBar::SeatBar(QWidget* parent) : QWidget(parent) {
    setObjectName("seat.bar");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QString("#seat\\.bar { background: %1; border-bottom: 1px solid %2; }")
                      .arg(theme::paper().name(), theme::line().name()));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 7, 12, 7);
    all->setSpacing(6);
    buildTools(all);
    buildLikely(all);
}

void SeatBar::buildTools(QVBoxLayout* all) {
    m_top = new QBoxLayout(QBoxLayout::LeftToRight);
    m_top->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_tools = new Segmented(
        "seat.tool", {tr("Seat point"), tr("Nose"), tr("Crown"), tr("Pin 1"), tr("Pin 2"), tr("Line")},
        {tr("Click a mark of the part: it is put on the path there"),
         tr("Click a face, an edge or an axis: it faces along the path"),
         tr("Click a face, an edge or an axis: it points up"), tr("Click where the part meets the one behind it"),
         tr("Click where the part meets the one ahead of it"),
         tr("Click two marks: the line from the first to the second runs along the path")});
    m_tools->setMinimumHeight(28);
    m_top->addWidget(m_tools, 1);
    m_top->addLayout(row);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAccessibleName(text);
        row->addWidget(b);
        return b;
    };
    auto* nose =
        button(tr("Nose 90\u00b0"), "seat.turnNose", tr("The nose a quarter turn to the left, about the crown"));
    auto* crown =
        button(tr("Crown 90\u00b0"), "seat.turnCrown", tr("The crown a quarter turn to the right, about the nose"));
    auto* done = button(tr("Done"), "seat.done", tr("Back to the runs (Esc)"));
    done->setProperty("kind", "primary");
    all->addLayout(m_top);
    connect(m_tools, &Segmented::picked, this, &SeatBar::toolPicked);
    connect(nose, &QPushButton::clicked, this, [this] { emit turnWanted(true); });
    connect(crown, &QPushButton::clicked, this, [this] { emit turnWanted(false); });
    connect(done, &QPushButton::clicked, this, &SeatBar::done);
}

/// What is likely of this part, and how near its neighbours are drawn.
void SeatBar::buildLikely(QVBoxLayout* all) {
    m_below = new QBoxLayout(QBoxLayout::LeftToRight);
    m_below->setSpacing(6);
    auto* likely = new QWidget;
    likely->setMinimumHeight(28);
    m_likelyRow = new QHBoxLayout(likely);
    m_likelyRow->setContentsMargins(0, 0, 0, 0);
    m_likelyRow->setSpacing(6);
    auto* title = new QLabel(tr("Likely"));
    title->setProperty("role", "muted");
    m_busy = new QLabel(tr("looking for corners, edges and holes\u2026"));
    m_busy->setProperty("role", "muted");
    m_busy->setObjectName("seat.busy");
    m_likelyRow->addWidget(title);
    m_likelyRow->addWidget(m_busy);
    m_likelyRow->addStretch(1);
    m_near = new QPushButton(tr("Neighbours nearer"));
    m_near->setObjectName("seat.near");
    m_near->setCheckable(true);
    m_near->setToolTip(
        tr("Draws the neighbours close by instead of at the run's spacing, so that they can be compared"));
    connect(m_near, &QPushButton::clicked, this, &SeatBar::nearerChanged);
    m_below->addWidget(likely, 1);
    m_below->addWidget(m_near);
    all->addLayout(m_below);
}

void SeatBar::setTool(int tool) { m_tools->setCurrent(tool); }
void SeatBar::setBusy(bool busy) { m_busy->setVisible(busy); }
bool SeatBar::nearer() const { return m_near->isChecked(); }
void SeatBar::setNearer(bool on) { m_near->setChecked(on); }

void SeatBar::setLikely(const std::vector<Likely>& all) {
    while (m_likelyRow->count() > 3) { // title, busy and the room behind stay
        auto* item = m_likelyRow->takeAt(2);
        if (item->widget()) item->widget()->deleteLater(), item->widget()->hide();
        delete item;
    }
    for (size_t i = 0; i < all.size(); ++i) {
        auto* b = new QPushButton(all[i].now ? QString("\u2713 ") + all[i].text : all[i].text);
        b->setObjectName(QString("seat.likely.%1").arg(i));
        b->setToolTip(all[i].tip);
        b->setAccessibleName(all[i].text);
        connect(b, &QPushButton::clicked, this, [this, i] { emit likelyPicked(i); });
        m_likelyRow->insertWidget(2 + int(i), b);
    }
}

void SeatBar::place(int width) {
    ensurePolished();
    const auto direction = width < 660 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight;
    m_top->setDirection(direction);
    m_below->setDirection(direction);
    layout()->activate();
    setGeometry(0, 0, width, std::max(sizeHint().height(), minimumSizeHint().height()));
    raise();
}

} // namespace vicinal
