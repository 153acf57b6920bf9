#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include <QAbstractButton>
#include <QBoxLayout>
#include <QDialog>
#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QResizeEvent>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>

namespace vicinal {

Segmented::Segmented(const QString& name, const QStringList& labels, const QStringList& tips, int room)
    : m_group(new QButtonGroup(this)) {
    setObjectName(name);
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    // As wide as their words in bold, which a button that is down shows.
    const auto wordsOf = [&](int i) { return QFontMetrics(theme::font(13, QFont::Bold)).horizontalAdvance(labels[i]); };
    // As few lines as have room for all their words, with as many buttons on each.
    const int n = int(labels.size());
    const auto fits = [&](int each) {
        for (int from = 0; from < n; from += each) {
            int wide = -4;
            for (int i = from; i < std::min(n, from + each); ++i) wide += wordsOf(i) + 14;
            if (wide > room) return false;
        }
        return true;
    };
    int each = n;
    for (int lines = 1; room > 0 && lines <= n; ++lines)
        if (each = (n + lines - 1) / lines; fits(each)) break;
    QHBoxLayout* row = nullptr;
    for (int i = 0; i < labels.size(); ++i) {
        auto* b = new QPushButton(labels[i]);
        b->setCheckable(true);
        b->setObjectName(name + "." + QString::number(i));
        b->setToolTip(tips.value(i));
        b->setAccessibleName(labels[i]);
        b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        b->setStyleSheet("QPushButton { padding: 4px 2px; }");
        m_group->addButton(b, i);
        if (i % each == 0) {
            row = new QHBoxLayout;
            row->setSpacing(4);
            rows->addLayout(row);
        }
        const int words = wordsOf(i);
        b->setMinimumWidth(words + 10); // never cut
        row->addWidget(b, words + 22);
    }
    connect(m_group, &QButtonGroup::idClicked, this, [this](int index) {
        if (index == m_shown && !m_repeats) return; // it is so already: nothing to be undone
        m_shown = index;
        emit picked(index);
    });
}

void Segmented::setCurrent(int index) {
    if (auto* b = m_group->button(index)) b->setChecked(true), m_shown = index;
}

Section::Section(const QString& name, const QString& title, QWidget* parent) : QWidget(parent) {
    setObjectName("section." + name);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    auto* rule = new QFrame;
    rule->setProperty("role", "rule");
    all->addWidget(rule);
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(8, 5, 12, 5);
    m_head = new QToolButton;
    m_head->setProperty("kind", "flat");
    m_head->setObjectName("fold." + name);
    m_head->setText(title);
    m_head->setToolTip(tr("Fold or unfold \"%1\"").arg(title));
    m_head->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    m_head->setFont(theme::font(13, QFont::DemiBold));
    m_head->setIconSize({14, 14});
    m_summary = new QLabel;
    m_summary->setProperty("role", "muted");
    m_summary->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_summary->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_summary->installEventFilter(this);
    row->addWidget(m_head);
    row->addWidget(m_summary, 1);
    all->addWidget(head);
    m_body = new QWidget;
    m_layout = new QVBoxLayout(m_body);
    m_layout->setContentsMargins(12, 2, 12, 12);
    m_layout->setSpacing(7);
    all->addWidget(m_body);
    connect(m_head, &QToolButton::clicked, this, [this] { setOpen(!isOpen()); });
    setOpen(false);
}

bool Section::isOpen() const { return !m_body->isHidden(); }

void Section::setOpen(bool open) {
    m_body->setVisible(open);
    elide();
    m_head->setIcon(theme::icon(open ? "chevron-down" : "chevron-right"));
    if (open) emit opened();
}

void Section::setSummary(const QString& text) {
    m_text = text;
    elide();
}

void Section::elide() {
    m_summary->setText(isOpen() ? QString()
                                : m_summary->fontMetrics().elidedText(m_text, Qt::ElideRight, m_summary->width()));
}

void Section::resizeEvent(QResizeEvent*) { elide(); }

bool Section::eventFilter(QObject* o, QEvent* e) {
    if (o == m_summary && e->type() == QEvent::Resize) elide();
    if (o == m_summary && e->type() == QEvent::MouseButtonRelease) setOpen(true);
    return QWidget::eventFilter(o, e);
}

namespace {

class RowHeight : public QStyledItemDelegate {
public:
    RowHeight(QObject* parent, int height) : QStyledItemDelegate(parent), m_height(height) {}
    QSize sizeHint(const QStyleOptionViewItem& o, const QModelIndex& i) const override {
        return {QStyledItemDelegate::sizeHint(o, i).width(), m_height};
    }

private:
    int m_height;
};

} // namespace

void setRowHeight(QListWidget* list, int height) { list->setItemDelegate(new RowHeight(list, height)); }

QDialogButtonBox* dialogButtons(QDialog* dialog, const QString& ok, const QString& name) {
    auto* box = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto* accept = box->addButton(ok, QDialogButtonBox::AcceptRole);
    accept->setProperty("kind", "primary");
    accept->setObjectName(name);
    QObject::connect(box, &QDialogButtonBox::accepted, dialog, &QDialog::accept);
    QObject::connect(box, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    return box;
}

static QWidget* rowOf(const QString& text, std::initializer_list<QWidget*> fields) {
    auto* w = new QWidget;
    // A choice whose words need the width stands below its label.
    const auto* choice = qobject_cast<Segmented*>(*fields.begin());
    const bool wide = choice && choice->layout()->minimumSize().width() > 165;
    auto* row = new QBoxLayout(wide ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight, w);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(wide ? 1 : 6);
    auto* label = new QLabel(text);
    if (wide) {
        label->setBuddy(*fields.begin());
        row->addWidget(label);
        row->addWidget(*fields.begin());
        return w;
    }
    label->setFixedWidth(106);
    label->setWordWrap(true);
    label->setBuddy(*fields.begin());
    row->addWidget(label, 0, Qt::AlignTop);
    label->setMinimumHeight(28);
    label->setAlignment(Qt::AlignVCenter | Qt::AlignLeft);
    for (auto* f : fields) row->addWidget(f, 1, Qt::AlignTop);
    return w;
}

QWidget* labelled(const QString& label, QWidget* field) { return rowOf(label, {field}); }
QWidget* labelled(const QString& label, QWidget* first, QWidget* second) { return rowOf(label, {first, second}); }

} // namespace vicinal
