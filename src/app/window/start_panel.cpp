#include "app/window/start_panel.h"
#include "app/controls/theme.h"
#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QEvent>
#include <QFileInfo>
#include <QImage>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

constexpr int kMostRecent = 4;
constexpr QSize kDemoPicture(150, 94);

} // namespace

StartPanel::StartPanel(QWidget* view) : QWidget(view) {
    setObjectName("start");
    auto* box = new QVBoxLayout(this);
    box->setSpacing(10);
    auto* title = new QLabel(tr("Start with a path"));
    title->setFont(theme::font(18, QFont::DemiBold));
    title->setAlignment(Qt::AlignHCenter);
    box->addWidget(title);
    auto* hint = new QLabel(tr("Then make a run: take a part and say how it is spaced."));
    hint->setProperty("role", "muted");
    hint->setAlignment(Qt::AlignHCenter);
    box->addWidget(hint);
    auto* row = new QHBoxLayout;
    row->addStretch();
    const auto add = [&](const QString& text, const QString& name, const QString& tip, void (StartPanel::*wanted)()) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, wanted);
        return b;
    };
    add(tr("Draw a path"), "start.draw", tr("Click points on the ground (Ctrl+D)"), &StartPanel::drawWanted)
        ->setProperty("kind", "primary");
    add(tr("Bring in\u2026"), "start.bringIn", tr("Curves or points of a file: DXF, SVG, STEP, CSV (Ctrl+I)"),
        &StartPanel::bringInWanted);
    auto* demo = add(tr("Open the demo"), "start.demo", tr("Saltmarrow Quay: runs of every kind to try things on"),
                     &StartPanel::demoWanted);
    demo->setVisible(!demoFile().isEmpty());
    row->addStretch();
    box->addLayout(row);
    m_recentTitle = new QLabel(tr("Documents of late"));
    m_recentTitle->setProperty("role", "muted");
    m_recentTitle->setAlignment(Qt::AlignHCenter);
    m_recentTitle->setContentsMargins(0, 18, 0, 0);
    box->addWidget(m_recentTitle);
    m_recent = new QHBoxLayout;
    m_recent->setSpacing(10);
    box->addLayout(m_recent);
    view->installEventFilter(this);
}

void StartPanel::showRecent(const QStringList& files) {
    while (auto* item = m_recent->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    m_recent->addStretch();
    int shown = 0;
    for (const QString& file : files) {
        if (shown == kMostRecent || !QFileInfo::exists(file)) continue;
        auto* b = new QToolButton;
        b->setObjectName(QString("start.recent.%1").arg(shown++));
        b->setToolTip(file);
        b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        b->setIconSize(kDemoPicture);
        QPixmap picture(pictureOf(file));
        if (picture.isNull()) {
            picture = QPixmap(kDemoPicture);
            picture.fill(theme::paper());
        }
        b->setIcon(QIcon(picture));
        connect(b, &QToolButton::clicked, this, [this, file] { emit openWanted(file); });
        m_recent->addWidget(b);
        b->ensurePolished(); // only now it has the font it is drawn in
        b->setText(
            b->fontMetrics().elidedText(QFileInfo(file).completeBaseName(), Qt::ElideMiddle, kDemoPicture.width() - 8));
    }
    m_recent->addStretch();
    place();
}

QString StartPanel::pictureOf(const QString& file) {
    const QByteArray name =
        QCryptographicHash::hash(QFileInfo(file).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1);
    return QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + "/pictures/" + name.toHex() + ".png";
}

void StartPanel::keepPicture(const QString& file, const QImage& image) {
    const QString to = pictureOf(file);
    if (image.isNull() || !QDir().mkpath(QFileInfo(to).path())) return; // only a picture: nothing is lost
    const QImage scaled = image.scaled(kDemoPicture * 2, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
    scaled
        .copy(QRect(
            QPoint((scaled.width() - 2 * kDemoPicture.width()) / 2, (scaled.height() - 2 * kDemoPicture.height()) / 2),
            kDemoPicture * 2))
        .save(to);
    // Pictures of documents that fell out of the list are not kept for ever.
    const auto all = QDir(QFileInfo(to).path()).entryInfoList({"*.png"}, QDir::Files, QDir::Time);
    for (int i = 24; i < all.size(); ++i) QFile::remove(all[i].absoluteFilePath());
}

QString StartPanel::demoFile() {
    for (const char* place : {"/saltmarrow-quay.vicinal", "/../share/vicinal/saltmarrow-quay.vicinal"})
        if (const QString file = QCoreApplication::applicationDirPath() + place; QFileInfo::exists(file)) return file;
    return {};
}

bool StartPanel::eventFilter(QObject* o, QEvent* e) {
    if (o == parent() && e->type() == QEvent::Resize && isVisible()) place();
    return QWidget::eventFilter(o, e);
}

/// Only now: a window that opens a document at once never looks for the others.
void StartPanel::showEvent(QShowEvent*) { showRecent(QSettings().value("recent").toStringList()); }

void StartPanel::place() {
    // What has no room is left out rather than cut off: pictures where the view is low, then the oldest documents.
    const auto recent = findChildren<QToolButton*>();
    const auto needs = [this] { // a layout within one does not hear that what stands in it is shown or hidden
        m_recent->invalidate();
        layout()->invalidate();
        return sizeHint();
    };
    for (auto* b : recent) b->hide();
    const QSize room = (parentWidget()->size() - QSize(24, 24)).expandedTo({needs().width(), 0});
    const auto put = [&](Qt::ToolButtonStyle style) {
        for (auto* b : recent) b->setToolButtonStyle(style), b->show();
        for (qsizetype n = recent.size(); n > 0 && needs().width() > room.width();) recent[--n]->hide();
        return needs().height() <= room.height();
    };
    m_recentTitle->setVisible(!recent.isEmpty());
    if (!put(Qt::ToolButtonTextUnderIcon) && !put(Qt::ToolButtonTextOnly)) {
        m_recentTitle->hide();
        for (auto* b : recent) b->hide();
        needs();
    }
    adjustSize();
    const QWidget* view = parentWidget();
    const int free = view->height() - height();
    move((view->width() - width()) / 2, std::max(free / 2 - 30, std::min(40, free / 2)));
    raise();
}

} // namespace vicinal
