#include "app/dialogs/part_chooser.h"
#include "app/controls/controls.h"
#include "app/render/part_picture.h"
#include "model/document/part_item.h"
#include "parts/makers/maker.h"
#include <QCheckBox>
#include <QCoreApplication>
#include <QDialogButtonBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

const QSize kPartPicture(84, 72);
enum ChoiceRole { KindRole = Qt::UserRole, NumberRole, GroupRole, TipRole };
enum class ChoiceKind { InDocument, Made };

QString word(const char* text) { return QCoreApplication::translate("Makers", text); }

/// What is cut away is drawn in another tone than what is there.
QColor toneOf(bool cuts) { return cuts ? QColor("#c79a8f") : theme::steel(); }

/// Pictures of the makers' first values: drawn once, on first use.
QIcon pictureOf(size_t entry) {
    static std::map<size_t, QIcon> drawn;
    QIcon& icon = drawn[entry];
    if (icon.isNull())
        if (const auto made = make(makerEntries()[entry].maker)) {
            Seat seat;
            seat.point = Vec3(0, 0, 0);
            icon = QPixmap::fromImage(partPicture(*made->mesh, seat, kPartPicture, toneOf(made->cuts)));
        }
    return icon;
}

} // namespace

PartChooser::PartChooser(const Store& store, const std::vector<Id>& offered, QWidget* parent) : QWidget(parent) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    m_search = new QLineEdit;
    m_search->setObjectName("chooser.search");
    m_search->setAccessibleName(tr("Look for a part"));
    m_search->setPlaceholderText(tr("Look for a part: link, post, hole\u2026"));
    m_search->setToolTip(tr("Shows only parts with this word in their name, kind or description"));
    m_search->setClearButtonEnabled(true);
    box->addWidget(m_search);
    auto* row = new QHBoxLayout;
    m_groups = new QListWidget;
    m_groups->setObjectName("chooser.groups");
    m_groups->setAccessibleName(tr("Kinds of parts"));
    m_groups->setToolTip(tr("Show only this kind"));
    m_groups->setFixedWidth(150);
    setRowHeight(m_groups);
    m_grid = new QListWidget;
    m_grid->setObjectName("chooser.grid");
    m_grid->setAccessibleName(tr("Parts"));
    m_grid->setToolTip(tr("Click to choose; double-click to take it at once"));
    m_grid->setViewMode(QListView::IconMode);
    m_grid->setIconSize(kPartPicture);
    m_grid->setGridSize(QSize(108, 112));
    m_grid->setMovement(QListView::Static);
    m_grid->setResizeMode(QListView::Adjust);
    m_grid->setWordWrap(true);
    m_grid->setUniformItemSizes(true);
    row->addWidget(m_groups);
    row->addWidget(m_grid, 1);
    box->addLayout(row, 1);
    auto* below = new QHBoxLayout;
    m_tip = new QLabel;
    m_tip->setObjectName("chooser.tip");
    m_tip->setProperty("role", "muted");
    auto* file = new QPushButton(tr("From a file\u2026"));
    file->setObjectName("chooser.file");
    file->setToolTip(tr("A part from STEP, OBJ, STL, PLY, glTF, or an outline from DXF or SVG"));
    below->addWidget(m_tip, 1);
    below->addWidget(file);
    box->addLayout(below);

    fill(store, offered);
    connect(m_groups, &QListWidget::currentRowChanged, this, &PartChooser::filter);
    connect(m_search, &QLineEdit::textChanged, this, &PartChooser::filter);
    connect(m_grid, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        m_tip->setText(item ? item->text() + ": " + item->data(TipRole).toString() : QString());
        emit changed();
    });
    connect(m_grid, &QListWidget::itemActivated, this, &PartChooser::taken);
    connect(file, &QPushButton::clicked, this, &PartChooser::fileWanted);
    m_groups->setCurrentRow(0);
    m_grid->setCurrentRow(0);
}

void PartChooser::fill(const Store& store, const std::vector<Id>& offered) {
    const auto add = [&](const QString& name, const QIcon& icon, ChoiceKind kind, int number, const QString& group,
                         const QString& tip) {
        auto* item = new QListWidgetItem(icon, name);
        item->setData(KindRole, int(kind));
        item->setData(NumberRole, number);
        item->setData(GroupRole, group);
        item->setData(TipRole, tip);
        item->setToolTip(tip);
        item->setSizeHint(QSize(106, 108));
        m_grid->addItem(item);
    };
    const QString mine = tr("In this document");
    m_groups->addItem(tr("All"));
    if (!offered.empty()) m_groups->addItem(mine);
    for (Id id : offered) {
        const auto item = store.document().part(id);
        const auto found = store.evaluation().parts.find(id);
        if (!item) continue;
        QIcon icon;
        static PartPictures pictures; // a large mesh takes a third of a second
        if (found != store.evaluation().parts.end() && found->second->mesh)
            icon = QPixmap::fromImage(
                pictures.of(found->second->mesh, item->seat, kPartPicture, toneOf(found->second->body->cuts)));
        add(item->name.c_str(), icon, ChoiceKind::InDocument, id, mine, tr("Part of this document"));
    }
    const auto entries = makerEntries();
    for (size_t i = 0; i < entries.size(); ++i) {
        const QString group = word(entries[i].group);
        if (m_groups->findItems(group, Qt::MatchExactly).isEmpty()) m_groups->addItem(group);
        add(word(entries[i].name), pictureOf(i), ChoiceKind::Made, int(i), group, word(entries[i].tip));
    }
}

void PartChooser::choose(Id part) {
    for (int i = 0; i < m_grid->count(); ++i)
        if (m_grid->item(i)->data(KindRole).toInt() == int(ChoiceKind::InDocument) &&
            m_grid->item(i)->data(NumberRole).toInt() == part)
            m_grid->setCurrentRow(i);
}

void PartChooser::filter() {
    const QString group = m_groups->currentRow() > 0 ? m_groups->currentItem()->text() : QString();
    const QString text = m_search->text().trimmed();
    QListWidgetItem* first = nullptr;
    for (int i = 0; i < m_grid->count(); ++i) {
        auto* item = m_grid->item(i);
        const QString all =
            item->text() + " " + item->data(TipRole).toString() + " " + item->data(GroupRole).toString();
        const bool shown = (group.isEmpty() || item->data(GroupRole).toString() == group) &&
                           (text.isEmpty() || all.contains(text, Qt::CaseInsensitive));
        item->setHidden(!shown);
        if (shown && !first) first = item;
    }
    if (!m_grid->currentItem() || m_grid->currentItem()->isHidden()) m_grid->setCurrentItem(first);
    if (!first) {
        m_grid->setCurrentItem(nullptr);
        m_tip->setText(tr("Nothing of that name. Another word, or a file?"));
    }
    emit changed();
}

std::optional<PartChoice> PartChooser::choice() const {
    const auto* item = m_grid->currentItem();
    if (!item || item->isHidden()) return std::nullopt;
    const int number = item->data(NumberRole).toInt();
    if (item->data(KindRole).toInt() == int(ChoiceKind::InDocument)) return PartChoice(Id(number));
    return PartChoice(NewMaker{item->text(), makerEntries()[size_t(number)].maker});
}

PartDialog::PartDialog(const Store& store, const QString& title, const QString& verb, const std::vector<Id>& offered,
                       QWidget* parent)
    : QDialog(parent) {
    setObjectName("partDialog");
    setWindowTitle(title);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(9);
    m_chooser = new PartChooser(store, offered);
    box->addWidget(m_chooser, 1);
    m_keep = new QCheckBox(tr("Keep the seat of the part that is replaced"));
    m_keep->setObjectName("partDialog.keepSeat");
    m_keep->setToolTip(tr("Its seat point, nose and crown go over to the new part"));
    m_keep->setChecked(true);
    m_keep->hide();
    box->addWidget(m_keep);
    auto* buttons = dialogButtons(this, verb, "partDialog.ok");
    auto* ok = buttons->findChild<QPushButton*>("partDialog.ok");
    box->addWidget(buttons);
    connect(m_chooser, &PartChooser::changed, ok, [this, ok] { ok->setEnabled(choice().has_value()); });
    connect(m_chooser, &PartChooser::taken, this, &QDialog::accept);
    connect(m_chooser, &PartChooser::fileWanted, this, [this] {
        m_file = true;
        accept();
    });
    resize(760, 540);
}

void PartDialog::askSeat() { m_keep->show(); }
bool PartDialog::keepSeat() const { return m_keep->isVisibleTo(this) && m_keep->isChecked(); }

} // namespace vicinal
