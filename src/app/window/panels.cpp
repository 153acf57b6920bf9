#include "app/window/panels.h"
#include "app/strip/strip.h"
#include <QDialog>
#include <QSettings>
#include <QSplitter>
#include <QVBoxLayout>
#include <utility>

namespace vicinal {
namespace {
int placeOf(int panel) { return panel == Panels::Yard ? 0 : 2; } // in the splitter
} // namespace

Panels::Panels(QWidget* window, QSplitter* middle, Strip* strip, QVBoxLayout* page)
    : QObject(window), m_window(window), m_middle(middle), m_strip(strip), m_page(page) {
    connect(middle, &QSplitter::splitterMoved, this, &Panels::changed);
    m_middle->setSizes({kYardWidth, kCentreWidth, kSheetWidth});
}

bool Panels::shown(int panel) const {
    if (panel == StripPanel) return m_stripWanted;
    // A panel dragged shut counts as hidden: the menu brings it back.
    return !m_middle->widget(placeOf(panel))->isHidden() && m_middle->sizes()[placeOf(panel)] > 0;
}

void Panels::show(int panel, bool shown) {
    if (panel == StripPanel) {
        m_stripWanted = shown;
        m_strip->setVisible(stripDetached() || (shown && !m_seating));
    } else {
        const int at = placeOf(panel);
        QList<int> sizes = m_middle->sizes();
        int& width = m_widths[size_t(panel)];
        if (sizes[at] > 0 && !shown) width = sizes[at];
        m_middle->widget(at)->setVisible(shown);
        sizes = m_middle->sizes();
        if (shown && sizes[at] <= 0) {
            sizes[1] = std::max(100, sizes[1] - width);
            sizes[at] = width;
            m_middle->setSizes(sizes);
        }
    }
    emit changed();
}

void Panels::setSeating(bool seating) {
    m_seating = seating;
    show(StripPanel, m_stripWanted);
}

/// Closing its window puts the strip back.
void Panels::detachStrip(bool detach) {
    if (detach == stripDetached()) return;
    if (detach) {
        m_stripWindow = new QDialog(m_window);
        m_stripWindow->setObjectName("stripWindow");
        m_stripWindow->setWindowTitle(tr("Strip"));
        auto* box = new QVBoxLayout(m_stripWindow);
        box->setContentsMargins(0, 0, 0, 0);
        m_page->removeWidget(m_strip);
        box->addWidget(m_strip);
        m_strip->setTall(true);
        m_stripWindow->resize(1100, 520);
        connect(m_stripWindow, &QDialog::finished, this, [this] { detachStrip(false); });
        m_stripWindow->show();
    } else {
        QDialog* window = std::exchange(m_stripWindow, nullptr);
        m_page->insertWidget(m_page->count() - 1, m_strip);
        m_strip->setTall(false);
        window->hide();
        window->deleteLater();
    }
    show(StripPanel, m_stripWanted);
}

void Panels::atFirst() {
    m_widths = {kYardWidth, kSheetWidth};
    for (int panel : {Yard, Sheet, StripPanel}) show(panel, true);
    m_middle->setSizes({kYardWidth, std::max(100, m_middle->width() - kYardWidth - kSheetWidth), kSheetWidth});
    emit changed();
}

void Panels::remember() const {
    QSettings settings;
    settings.setValue("window/middle", m_middle->saveState());
    settings.setValue("window/size", m_window->size());
    settings.setValue("window/hidden",
                      QStringList{QString::number(m_middle->widget(0)->isHidden()),
                                  QString::number(m_middle->widget(2)->isHidden()), QString::number(!m_stripWanted)});
}

void Panels::restore() {
    const QSettings settings;
    const QSize size = settings.value("window/size").toSize();
    if (size.isValid()) m_window->resize(size.expandedTo(m_window->minimumSize()));
    m_middle->restoreState(settings.value("window/middle").toByteArray());
    const QStringList hidden = settings.value("window/hidden").toStringList();
    for (int i = 0; i < hidden.size() && i < 3; ++i)
        if (hidden[i] == "1") show(i, false);
    emit changed();
}

} // namespace vicinal
