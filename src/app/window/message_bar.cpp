#include "app/window/message_bar.h"
#include "app/controls/theme.h"
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <utility>

namespace vicinal {

MessageBar::MessageBar() : m_text(new QLabel), m_do(new QPushButton) {
    setObjectName("messageBar");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 8, 6);
    m_text->setObjectName("message");
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_do->setObjectName("message.do");
    connect(m_do, &QPushButton::clicked, this, [this] {
        hide();
        if (const auto does = std::exchange(m_does, nullptr)) does();
    });
    auto* close = new QPushButton;
    close->setObjectName("message.close");
    close->setProperty("kind", "flat");
    close->setIcon(theme::icon("x"));
    close->setToolTip(tr("Close this message"));
    close->setAccessibleName(tr("Close this message"));
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    row->addWidget(m_text, 1);
    row->addWidget(m_do, 0, Qt::AlignTop);
    row->addWidget(close, 0, Qt::AlignTop);
    hide();
}

void MessageBar::offer(const QString& text, bool wrong, const QString& button, std::function<void()> does) {
    show(text, wrong);
    m_does = std::move(does);
    m_do->setText(button);
    m_do->show();
}

void MessageBar::show(const QString& text, bool wrong) {
    m_does = nullptr;
    m_do->hide();
    m_text->setText((wrong ? QString("\u2715  ") : QString("\u2713  ")) + text);
    const QColor colour = wrong ? theme::brick() : theme::moss();
    setStyleSheet(
        QString("#messageBar { background: %1; border-bottom: 1px solid %2; } #messageBar QLabel { color: %2; }")
            .arg(wrong ? "#fbefec" : "#eef4ea", colour.name()));
    QWidget::show();
}

QString MessageBar::shown() const { return isHidden() ? QString() : m_text->text(); }

} // namespace vicinal
