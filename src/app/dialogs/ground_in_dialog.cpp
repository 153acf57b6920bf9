#include "app/dialogs/ground_in_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/state/background.h"
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace vicinal {

GroundInDialog::GroundInDialog(LevelFile file, const QString& path, Unit shownIn, QWidget* parent)
    : QDialog(parent), m_file(std::move(file)), m_name(QFileInfo(path).fileName()), m_shownIn(shownIn),
      m_box(boxOf(m_file.data)) {
    setObjectName("groundIn");
    setWindowTitle(tr("Ground from %1").arg(m_name));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(9);
    auto* facts = new QLabel;
    facts->setObjectName("groundIn.facts");
    facts->setWordWrap(true);
    QStringList lines;
    const LevelData& d = m_file.data;
    if (!d.faces.empty())
        lines += tr("%n triangle(s), as they are in the file.", nullptr, int(d.faces.size()));
    else
        lines += tr("%n level(s)", nullptr, int(d.points.size())) +
                 (d.breaks.empty() ? QString() : tr(" and %n break line(s)", nullptr, int(d.breaks.size()))) +
                 tr(", to be joined by triangles.");
    for (size_t i = 0; i < m_file.remarks.size() && i < 6; ++i)
        lines += QString::fromUtf8("\u25b2 ") + QString::fromStdString(m_file.remarks[i]);
    facts->setText(lines.join('\n'));
    box->addWidget(facts);
    m_unit = unitChoice("groundIn.unit", false, m_file.millimetresPerUnit);
    box->addWidget(labelled(tr("One unit is"), m_unit));
    m_near = new QCheckBox(tr("Put its low corner at the origin"));
    m_near->setObjectName("groundIn.near");
    m_near->setToolTip(tr("Levels of a survey lie far from the origin; heights stay as they are"));
    // What lies much farther away than it is large is in the axes of a survey.
    m_near->setChecked(m_box.center().head<2>().norm() > 20 * m_box.sizes().head<2>().norm());
    box->addWidget(m_near);
    m_size = new QLabel;
    m_size->setObjectName("groundIn.size");
    m_size->setWordWrap(true);
    box->addWidget(m_size);
    m_error = new QLabel;
    m_error->setObjectName("groundIn.error");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    box->addWidget(m_error);
    box->addStretch();
    auto* buttons = dialogButtons(this, tr("Bring in"), "groundIn.ok");
    m_ok = buttons->findChild<QPushButton*>("groundIn.ok");
    box->addWidget(buttons);
    connect(m_unit, &QComboBox::currentIndexChanged, this, &GroundInDialog::refresh);
    connect(m_near, &QCheckBox::clicked, this, &GroundInDialog::refresh);
    resize(440, 300);
    refresh();
}

Vec3 GroundInDialog::origin() const {
    if (!m_near->isChecked()) return Vec3::Zero();
    return {std::floor(m_box.min().x()), std::floor(m_box.min().y()), 0}; // whole units, to be found again
}

void GroundInDialog::refresh() {
    const double unit = m_unit->currentData().toDouble();
    QString error;
    if (!(unit > 0)) error = tr("Choose the unit: the file does not say it.");
    m_size->clear();
    if (unit > 0 && !m_box.isEmpty()) {
        const Vec3 s = m_box.sizes() * unit, low = (m_box.min() - origin()) * unit;
        m_size->setText(tr("%1 long, %2 wide, heights from %3 to %4, its low corner at %5, %6")
                            .arg(longLengthText(s.x(), m_shownIn), longLengthText(s.y(), m_shownIn),
                                 longLengthText(low.z(), m_shownIn), longLengthText(low.z() + s.z(), m_shownIn),
                                 longLengthText(low.x(), m_shownIn), longLengthText(low.y(), m_shownIn)));
    }
    m_error->setText(error);
    m_error->setVisible(!error.isEmpty());
    m_ok->setEnabled(error.isEmpty());
}

void GroundInDialog::accept() {
    auto made = levelsAt(m_file, m_unit->currentData().toDouble(), origin());
    if (!made) {
        m_error->setText(QString::fromStdString(made.problem().text));
        m_error->show();
        return;
    }
    m_levels = levelsOf(std::move(made).value(), m_name.toStdString());
    QDialog::accept();
}

} // namespace vicinal
