#include "app/dialogs.h"
#include "app/controls.h"
#include <QButtonGroup>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

QDialogButtonBox* buttons(QDialog* dialog, const QString& ok, const QString& name) {
    auto* box = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto* accept = box->addButton(ok, QDialogButtonBox::AcceptRole);
    accept->setProperty("kind", "primary");
    accept->setObjectName(name);
    QObject::connect(box, &QDialogButtonBox::accepted, dialog, &QDialog::accept);
    QObject::connect(box, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    return box;
}

} // namespace

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
    m_part = new QComboBox;
    m_part->setObjectName("newRun.part");
    for (const auto& p : store.document().parts) m_part->addItem(p->name.c_str(), p->id);
    m_part->addItem(tr("a new baluster"), 0);
    m_part->addItem(tr("a new plank"), -1);
    if (store.selection().kind == Selection::Kind::Part)
        m_part->setCurrentIndex(m_part->findData(store.selection().id));
    box->addWidget(labelled(tr("Along"), m_path));
    box->addWidget(labelled(tr("Repeat"), m_part));
    box->addWidget(buttons(this, tr("Make the run"), "newRun.ok"));
    setMinimumWidth(380);
}

Id NewRunDialog::path() const { return m_path->currentData().toInt(); }
Id NewRunDialog::part() const { return m_part->currentData().toInt(); }

SendOutDialog::SendOutDialog(const Store& store, QWidget* parent) : QDialog(parent) {
    setObjectName("sendOut");
    setWindowTitle(tr("Send out"));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(7);
    const QStringList kinds[] = {
        {"dxf",
         tr("Drawing (DXF): a block per part seen from above, an insert per place, the path on its own layer; mm")},
        {"glb", tr("Model (GLB): a mesh per part, a node per place; metres, y up")},
        {"csv", tr("Setting-out schedule (CSV): station, position, angles of every place; mm and degrees")},
        {"json", tr("Setting-out schedule (JSON), every digit")}};
    auto* kindGroup = new QButtonGroup(this);
    for (const auto& k : kinds) {
        auto* b = new QRadioButton(k[1]);
        b->setObjectName("sendOut." + k[0]);
        b->setProperty("extension", k[0]);
        kindGroup->addButton(b);
        m_kinds += b;
        box->addWidget(b);
    }
    m_kinds[0]->setChecked(true);
    const auto run = store.currentRun();
    auto* all = new QRadioButton(tr("All runs"));
    all->setObjectName("sendOut.all");
    m_current = new QRadioButton(run ? tr("Only %1").arg(run->item->name.c_str()) : tr("Only the selected run"));
    m_current->setObjectName("sendOut.current");
    m_current->setEnabled(run != nullptr);
    all->setChecked(true);
    auto* runGroup = new QButtonGroup(this);
    runGroup->addButton(all);
    runGroup->addButton(m_current);
    box->addSpacing(6);
    box->addWidget(all);
    box->addWidget(m_current);
    box->addWidget(buttons(this, tr("Choose the file\u2026"), "sendOut.ok"));
}

QString SendOutDialog::extension() const {
    for (auto* b : m_kinds)
        if (b->isChecked()) return b->property("extension").toString();
    return "dxf";
}

bool SendOutDialog::onlyCurrent() const { return m_current->isChecked(); }

} // namespace vicinal
