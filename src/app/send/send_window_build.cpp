// The columns of the window that sends out.
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include "app/send/list_model.h"
#include "app/send/previews.h"
#include "app/send/send_window.h"
#include "model/document/run_item.h"
#include <QButtonGroup>
#include <QCheckBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStyle>
#include <QTableView>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {
namespace {

QLabel* heading(const QString& text) {
    auto* l = new QLabel(text.toUpper());
    l->setFont(theme::font(11, QFont::DemiBold));
    l->setStyleSheet(QString("color: %1; padding-top: 6px;").arg(theme::muted().name()));
    return l;
}

/// A kind of result: its name, and below what it can be.
class KindButton : public QPushButton {
public:
    KindButton(const QString& name, const QString& more) : m_name(name), m_more(more) {
        setCheckable(true);
        setStyleSheet("min-height: 40px; max-height: 40px;"); // two lines, where the theme has one
        setAccessibleName(name);
        setAccessibleDescription(more);
    }

protected:
    void paintEvent(QPaintEvent* e) override {
        QPushButton::paintEvent(e);
        QPainter p(this);
        const QRect room = rect().adjusted(11, 5, -8, -5);
        p.setFont(theme::font(13, QFont::DemiBold));
        p.setPen(isChecked() ? theme::accent() : theme::ink());
        p.drawText(room, Qt::AlignTop | Qt::AlignLeft, m_name);
        p.setFont(theme::font(12));
        p.setPen(theme::muted());
        p.drawText(room, Qt::AlignBottom | Qt::AlignLeft, m_more);
    }

private:
    QString m_name, m_more;
};

} // namespace

QWidget* SendWindow::buildLeft() {
    auto* left = new QWidget;
    left->setFixedWidth(236);
    auto* box = new QVBoxLayout(left);
    box->setContentsMargins(14, 10, 12, 12);
    box->setSpacing(6);
    box->addWidget(heading(tr("What goes")));
    m_everything = new QCheckBox(tr("Everything"));
    m_everything->setObjectName("send.everything");
    m_everything->setToolTip(tr("All runs, heaps, site bodies and paths that are not hidden, and what comes later"));
    box->addWidget(m_everything);
    m_what = new QListWidget;
    m_what->setObjectName("send.what");
    m_what->setAccessibleName(tr("What goes"));
    box->addWidget(m_what, 3);
    box->addWidget(heading(tr("Deliveries kept")));
    m_deliveries = new QListWidget;
    m_deliveries->setObjectName("send.deliveries");
    m_deliveries->setAccessibleName(tr("Deliveries that are kept in the document"));
    m_deliveries->setWordWrap(true);
    box->addWidget(m_deliveries, 2);
    m_makeAll = new QPushButton(tr("Make all again"));
    m_makeAll->setObjectName("send.makeAll");
    m_makeAll->setToolTip(tr("Writes every delivery that is kept, beside the document (Ctrl+Shift+D in the window)"));
    m_remove = new QPushButton(tr("Delete this delivery"));
    m_remove->setObjectName("send.remove");
    box->addWidget(m_makeAll);
    box->addWidget(m_remove);
    connect(m_everything, &QCheckBox::clicked, this, [this](bool on) {
        m_now.what.clear();
        if (!on) { // what it stands for now, to be unticked one by one
            for (const auto& s : m_store.evaluation().standing()) m_now.what.push_back(s->id);
        }
        fillWhat();
        changed();
    });
    connect(m_what, &QListWidget::itemChanged, this, &SendWindow::takeWhat);
    connect(m_deliveries, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item && !m_filling) load(item->data(kItemId).toInt());
    });
    connect(m_makeAll, &QPushButton::clicked, this, &SendWindow::makeAllWanted);
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const auto d = m_store.document().delivery(m_now.id);
        if (!d) return;
        m_now.id = 0;
        m_store.edit(without(m_store.document(), d->id), tr("Delete delivery %1").arg(d->name.c_str()));
        refreshDeliveries();
    });
    return left;
}

QWidget* SendWindow::buildMiddle() {
    auto* middle = new QWidget;
    middle->setObjectName("send.middle");
    auto* box = new QVBoxLayout(middle);
    box->setContentsMargins(12, 10, 12, 12);
    box->setSpacing(6);
    box->addWidget(heading(tr("As")));
    m_kinds = new QButtonGroup(this);
    const auto words = wordsOfAll<SendOrder>();
    for (size_t k = 0; k < words.size(); ++k) {
        auto* b = new KindButton(tr(words[k].label), tr(words[k].tip));
        b->setObjectName(QString("send.kind.") + words[k].file);
        m_kinds->addButton(b, int(k));
        box->addWidget(b);
    }
    connect(m_kinds, &QButtonGroup::idClicked, this, &SendWindow::setKind);
    m_name = new QLineEdit;
    m_name->setObjectName("send.name");
    m_name->setAccessibleName(tr("Called"));
    m_name->setToolTip(tr("What it is called; also the file's name"));
    box->addSpacing(4);
    box->addWidget(labelled(tr("Called"), m_name));
    connect(m_name, &QLineEdit::textEdited, this, [this](const QString& text) {
        m_now.name = text.trimmed().isEmpty() ? "Delivery" : text.trimmed().toStdString();
        changed();
    });
    m_folder = new QLineEdit;
    m_folder->setObjectName("send.folder");
    m_folder->setAccessibleName(tr("Kept in"));
    m_folder->setPlaceholderText(tr("beside the document"));
    m_folder->setToolTip(tr("Where it goes when it is made again: a folder, from the document's own"));
    box->addWidget(labelled(tr("Kept in"), m_folder));
    connect(m_folder, &QLineEdit::textEdited, this, [this](const QString& text) {
        m_now.folder = text.trimmed().toStdString();
        changed();
    });
    m_formatPlace = new QVBoxLayout;
    m_formatPlace->setContentsMargins(0, 0, 0, 0);
    box->addLayout(m_formatPlace);
    m_rows = new ValueRows(m_store, "send");
    box->addWidget(m_rows);
    connect(m_rows, &ValueRows::changed, this,
            [this](const QString&, const std::string& key, double value, int axis, bool) {
                std::visit([&](auto& o) { value_rows::setValue(o, key, value, axis); }, m_now.order);
                changed();
            });
    m_face = new QPushButton(tr("Pick a face in the view\u2026"));
    m_face->setObjectName("send.face");
    box->addWidget(m_face, 0, Qt::AlignLeft);
    connect(m_face, &QPushButton::clicked, this, &SendWindow::faceWanted);
    m_fieldsBox = new QWidget;
    auto* fields = new QVBoxLayout(m_fieldsBox);
    fields->setContentsMargins(0, 4, 0, 0);
    fields->addWidget(new QLabel(tr("Title block: name and text of your own fields")));
    m_fields = new QTableWidget(6, 2);
    m_fields->setObjectName("send.fields");
    m_fields->setAccessibleName(tr("Title block"));
    m_fields->setHorizontalHeaderLabels({tr("Field"), tr("Says")});
    m_fields->horizontalHeader()->setStretchLastSection(true);
    m_fields->verticalHeader()->hide();
    m_fields->setFixedHeight(150);
    fields->addWidget(m_fields);
    box->addWidget(m_fieldsBox);
    connect(m_fields, &QTableWidget::cellChanged, this, [this] { takeFields(); });
    box->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(middle);
    scroll->setFixedWidth(350);
    return scroll;
}

QWidget* SendWindow::buildRight() {
    auto* right = new QWidget;
    right->setObjectName("send.right");
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(14, 10, 14, 10);
    auto* top = new QHBoxLayout;
    m_size = new QLabel;
    m_size->setObjectName("send.size");
    m_size->setWordWrap(true);
    top->addWidget(m_size, 1);
    m_before = new QPushButton("\u2039");
    m_before->setObjectName("send.before");
    m_before->setAccessibleName(tr("The page before"));
    m_before->setToolTip(tr("The page before"));
    m_next = new QPushButton("\u203a");
    m_next->setObjectName("send.next");
    m_next->setAccessibleName(tr("The next page"));
    m_next->setToolTip(tr("The next page"));
    m_pageOf = new QLabel;
    m_pageOf->setProperty("role", "muted");
    for (auto* b : {m_before, m_next}) b->setFixedWidth(30);
    top->addWidget(m_before);
    top->addWidget(m_pageOf);
    top->addWidget(m_next);
    box->addLayout(top);
    m_stack = new QStackedWidget;
    m_stack->addWidget(m_template = new TemplatePreview);
    m_stack->addWidget(m_sheet = new SheetPreview("send.sheet"));
    m_table = new QTableView;
    m_table->setObjectName("send.table");
    m_table->setAccessibleName(tr("The first rows of the list"));
    m_table->setModel(m_list = new ListModel(this));
    m_stack->addWidget(m_table);
    m_stack->addWidget(m_image = new ImagePreview);
    box->addWidget(m_stack, 1);
    connect(m_before, &QPushButton::clicked, this, [this] { turn(-1); });
    connect(m_next, &QPushButton::clicked, this, [this] { turn(1); });
    return right;
}

QWidget* SendWindow::buildFoot() {
    auto* foot = new QWidget;
    foot->setObjectName("send.foot");
    auto* box = new QHBoxLayout(foot);
    box->setContentsMargins(14, 8, 14, 10);
    box->setSpacing(8);
    m_says = new QLabel;
    m_says->setObjectName("send.says");
    m_says->setWordWrap(true);
    box->addWidget(m_says, 1);
    const auto button = [&](const QString& text, const QString& name) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        box->addWidget(b);
        return b;
    };
    m_copy = button(tr("Copy"), "send.copy");
    m_copy->setToolTip(tr("The picture to the clipboard"));
    auto* close = button(tr("Close"), "send.close");
    m_keep = button(tr("Keep as delivery"), "send.keep");
    m_keep->setToolTip(tr("Kept in the document, to be made again"));
    m_keepNew = button(tr("Keep as another"), "send.keepNew");
    m_write = button(tr("Write\u2026"), "send.write");
    m_write->setProperty("kind", "primary");
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_keep, &QPushButton::clicked, this, [this] { keep(false); });
    connect(m_keepNew, &QPushButton::clicked, this, [this] { keep(true); });
    connect(m_write, &QPushButton::clicked, this, &SendWindow::writeWanted);
    connect(m_copy, &QPushButton::clicked, this, [this] {
        const QImage all = m_picture(m_now, QSize());
        if (!all.isNull()) emit copyWanted(all);
    });
    return foot;
}

} // namespace vicinal
