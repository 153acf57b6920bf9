#include "app/dialogs/dialogs.h"
#include "app/controls/controls.h"
#include "app/controls/value_field.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include <QButtonGroup>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

namespace vicinal {

NewRunDialog::NewRunDialog(const Store& store, QWidget* parent) : QDialog(parent) {
    setObjectName("newRun");
    setWindowTitle(tr("New run"));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(9);
    box->addWidget(new QLabel(tr("A run sets one part along one path.")));
    m_path = new QComboBox;
    m_path->setObjectName("newRun.path");
    for (const auto& p : store.document().paths) m_path->addItem(p->name.c_str(), p->id);
    if (const auto current = store.currentPath()) m_path->setCurrentIndex(m_path->findData(current->item->id));
    box->addWidget(labelled(tr("Along"), m_path));
    std::vector<Id> parts;
    for (const auto& p : store.document().parts) parts.push_back(p->id);
    m_part = new PartChooser(store, parts);
    if (store.selection().kind == Selection::Kind::Part) m_part->choose(store.selection().id);
    box->addWidget(m_part, 1);
    auto* row = dialogButtons(this, tr("Make the run"), "newRun.ok");
    box->addWidget(row);
    auto* ok = findChild<QPushButton*>("newRun.ok");
    connect(m_part, &PartChooser::changed, ok, [this, ok] { ok->setEnabled(part().has_value()); });
    connect(m_part, &PartChooser::taken, this, &QDialog::accept);
    connect(m_part, &PartChooser::fileWanted, this, [this] {
        m_file = true;
        accept();
    });
    resize(760, 560);
}

Id NewRunDialog::path() const { return m_path->currentData().toInt(); }
std::optional<PartChoice> NewRunDialog::part() const { return m_part->choice(); }

MoveDialog::MoveDialog(const PathItem& item, const Vec3& about, Unit unit, QWidget* parent)
    : QDialog(parent), m_before(item.recipe), m_recipe(item.recipe) {
    setObjectName("movePath");
    setWindowTitle(tr("Move, turn, size %1").arg(item.name.c_str()));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(8);
    const auto row = [&](const QString& label, const QString& name, ValueField*(&fields)[3], const Vec3& value,
                         const QString& tip) {
        box->addWidget(new QLabel(label));
        auto* line = new QHBoxLayout;
        for (int i = 0; i < 3; ++i) {
            fields[i] = new ValueField(ValueField::Kind::Length, name + "xyz"[i], label + " " + "xyz"[i], tip);
            fields[i]->setUnit(unit);
            fields[i]->setSuffix(QString("xyz"[i]));
            fields[i]->setValue(value[i]);
            line->addWidget(fields[i], 1, Qt::AlignTop);
            connect(fields[i], &ValueField::changed, this, &MoveDialog::tryIt);
        }
        box->addLayout(line);
    };
    row(tr("Move by"), "move.by.", m_by, Vec3::Zero(), tr("How far it is moved"));
    m_turn = new ValueField(ValueField::Kind::Angle, "move.turn", tr("Turn"),
                            tr("About the vertical through the point below, anticlockwise from above"));
    m_turn->setValue(0);
    box->addWidget(labelled(tr("Turn"), m_turn));
    m_size = new ValueField(ValueField::Kind::Number, "move.size", tr("Size"),
                            tr("A factor; the point below stays where it is"));
    m_size->setValue(1);
    box->addWidget(labelled(tr("Size, times"), m_size));
    row(tr("About"), "move.about.", m_about, about,
        tr("The point it is turned and sized about: the selected point, else the middle"));
    m_error = new QLabel;
    m_error->setObjectName("move.error");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    box->addWidget(dialogButtons(this, tr("Move"), "move.ok"));
    m_ok = findChild<QPushButton*>("move.ok");
    connect(m_turn, &ValueField::changed, this, &MoveDialog::tryIt);
    connect(m_size, &ValueField::changed, this, &MoveDialog::tryIt);
    resize(380, sizeHint().height());
    tryIt();
}

void MoveDialog::keyPressEvent(QKeyEvent* e) {
    if ((e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) && qobject_cast<QLineEdit*>(focusWidget())) return;
    QDialog::keyPressEvent(e);
}

void MoveDialog::tryIt() {
    const auto vec = [](ValueField* const(&f)[3]) {
        return Vec3(f[0]->value().value_or(0), f[1]->value().value_or(0), f[2]->value().value_or(0));
    };
    const auto r =
        movedRecipe(m_before, vec(m_about), vec(m_by), m_turn->value().value_or(0), m_size->value().value_or(1));
    if (r) m_recipe = *r;
    m_error->setText(r ? QString() : QString::fromStdString(r.problem().text));
    m_error->setVisible(!r);
    m_ok->setEnabled(bool(r));
}

} // namespace vicinal
