#include "app/dialogs/motion_out_dialog.h"
#include "app/controls/controls.h"
#include "app/controls/value_field.h"
#include "app/dialogs/dialogs.h"
#include <QButtonGroup>
#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QStyle>
#include <QVBoxLayout>
#include <cmath>

namespace vicinal {

namespace {

constexpr long kMostPictures = 5000;

} // namespace

MotionOutDialog::MotionOutDialog(double period, QWidget* parent) : QDialog(parent) {
    setObjectName("motionOut");
    setWindowTitle(tr("Send out the motion"));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 14, 16, 14);
    box->setSpacing(7);
    const std::pair<const char*, QString> kinds[] = {
        {"glb", tr("Model that moves (GLB): one animation, a channel per place and wheel")},
        {"csv", tr("Poses by time (CSV): every place at every time")},
        {"png", tr("Pictures (PNG): a folder with one a time, as the view shows it, without helper lines")},
        {"webp", tr("Moving picture (WebP): the same as one file that plays on and on")}};
    auto* group = new QButtonGroup(this);
    for (const auto& [name, text] : kinds) {
        auto* b = new QRadioButton(text);
        b->setObjectName(QString("motionOut.") + name);
        group->addButton(b);
        m_kinds.push_back(b);
        box->addWidget(b);
    }
    m_kinds[0]->setChecked(true);
    box->addSpacing(6);
    m_seconds = new ValueField(ValueField::Kind::Number, "motionOut.seconds", tr("Seconds"),
                               tr("From time 0 on; once along the path is %1 s").arg(period, 0, 'g', 6));
    m_seconds->setSuffix(tr("s"));
    m_seconds->setValue(std::ceil(period * 100) / 100);
    m_perSecond = new ValueField(ValueField::Kind::Number, "motionOut.perSecond", tr("A second"),
                                 tr("How many pictures or poses a second"));
    m_perSecond->setSuffix(tr("a second"));
    m_perSecond->setValue(24);
    box->addWidget(labelled(tr("Time"), m_seconds, m_perSecond));
    m_says = new QLabel;
    m_says->setObjectName("motionOut.says");
    m_says->setWordWrap(true);
    box->addWidget(m_says);
    auto* buttons = dialogButtons(this, tr("Choose the file\u2026"), "motionOut.ok");
    m_ok = buttons->findChild<QPushButton*>("motionOut.ok");
    box->addWidget(buttons);
    connect(group, &QButtonGroup::buttonClicked, this, &MotionOutDialog::refresh);
    for (ValueField* f : {m_seconds, m_perSecond}) connect(f, &ValueField::changed, this, &MotionOutDialog::refresh);
    refresh();
}

MotionOutDialog::Kind MotionOutDialog::kind() const {
    for (size_t k = 0; k < m_kinds.size(); ++k)
        if (m_kinds[k]->isChecked()) return Kind(k);
    return Kind::Model;
}
double MotionOutDialog::seconds() const { return m_seconds->value().value_or(0); }
double MotionOutDialog::perSecond() const { return m_perSecond->value().value_or(0); }
long MotionOutDialog::frames() const {
    const double n = seconds() * perSecond();
    return std::isfinite(n) && n < 1e7 ? std::max(1L, std::lround(n)) + 1 : 0;
}

QString MotionOutDialog::extension() const {
    const QString all[] = {"glb", "csv", "", "webp"};
    return all[int(kind())];
}

void MotionOutDialog::refresh() {
    const bool pictures = kind() == Kind::Pictures || kind() == Kind::Film;
    const long n = frames();
    const bool good = seconds() > 0 && perSecond() > 0 && n >= 2 && (!pictures || n <= kMostPictures);
    m_says->setProperty("role", good ? "muted" : "error");
    m_says->style()->polish(m_says);
    m_says->setText(!(seconds() > 0) || !(perSecond() > 0) ? tr("Type a time and how many a second, both above 0.")
                    : !good                                ? tr("That is more than %1 pictures. Use a shorter time, or "
                                                                                               "fewer a second.")
                                  .arg(kMostPictures)
                    : pictures ? tr("%1 pictures.").arg(n)
                               : tr("%1 times.").arg(n));
    m_ok->setText(kind() == Kind::Pictures ? tr("Choose the folder\u2026") : tr("Choose the file\u2026"));
    m_ok->setEnabled(good);
}

} // namespace vicinal
