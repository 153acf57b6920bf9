#include "app/sheet/places_section.h"
#include "app/controls/format.h"
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

PlacesSection::PlacesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    m_placeFacts = new QLabel;
    m_placeFacts->setObjectName("places.facts");
    m_placeFacts->setWordWrap(true);
    m_box->addWidget(m_placeFacts);
    m_toggle = new QPushButton;
    m_toggle->setObjectName("places.toggle");
    m_toggle->setToolTip(tr("Leave out the selected places, or bring them back (Delete)"));
    m_box->addWidget(m_toggle);
    m_leftOut = new QLabel;
    m_leftOut->setObjectName("places.leftOut");
    m_leftOut->setProperty("role", "muted");
    m_leftOut->setWordWrap(true);
    m_box->addWidget(m_leftOut);
    m_bringBack = new QPushButton(tr("Bring all back"));
    m_bringBack->setObjectName("places.bringAllBack");
    m_bringBack->setToolTip(tr("Bring back every place that was left out"));
    m_box->addWidget(m_bringBack);
    m_forget = new QPushButton(tr("Forget those that no longer exist"));
    m_forget->setObjectName("places.forget");
    m_box->addWidget(m_forget);
    connect(m_toggle, &QPushButton::clicked, &m_store, &Store::toggleLeftOut);
    connect(m_bringBack, &QPushButton::clicked, this,
            [this] { change(tr("Bring all back"), {}, [](RunItem& r) { r.leftOut.clear(); }); });
    connect(m_forget, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        if (!run || !run->placed) return;
        const auto stale = run->placed->staleLeftOut;
        change(tr("Forget left-out places"), {}, [&](RunItem& r) {
            for (int n : stale) std::erase(r.leftOut, n);
        });
    });
}

void PlacesSection::refresh(const RunResult& run) {
    if (!run.placed) {
        m_placeFacts->setText(tr("No places yet."));
        for (QWidget* w : {static_cast<QWidget*>(m_toggle), static_cast<QWidget*>(m_leftOut),
                           static_cast<QWidget*>(m_bringBack), static_cast<QWidget*>(m_forget)})
            w->hide();
        return;
    }
    const Unit unit = m_store.document().unit;
    const Places& p = *run.placed;
    const auto& selected = m_store.selection().places;
    const bool stale = run.stale();
    if (selected.empty())
        m_placeFacts->setText(tr("Select places in the strip or the view to leave them out."));
    else if (selected.size() == 1) {
        const int i = *selected.begin();
        const Angles a = anglesOf(p.frame(size_t(i)).axes);
        m_placeFacts->setText(tr("Place %1 at station %2: heading %3\u00b0, slope %4\u00b0, roll %5\u00b0%6")
                                  .arg(i + 1)
                                  .arg(lengthText(p.stations()[size_t(i)], unit))
                                  .arg(a.heading / kDegree, 0, 'f', 2)
                                  .arg(a.slope / kDegree, 0, 'f', 2)
                                  .arg(a.roll / kDegree, 0, 'f', 2)
                                  .arg(p.leftOut(size_t(i)) ? tr(" (left out)") : QString()));
    } else
        m_placeFacts->setText(tr("%n place(s) selected", nullptr, int(selected.size())));
    bool all = !selected.empty();
    for (int i : selected) all = all && p.leftOut(size_t(i));
    m_toggle->setVisible(!selected.empty());
    m_toggle->setEnabled(!stale);
    m_toggle->setText(all ? tr("Bring back") : tr("Leave out"));
    QStringList out;
    for (size_t k = 0; k < run.item->leftOut.size() && k < 40; ++k) out += QString::number(run.item->leftOut[k]);
    if (run.item->leftOut.size() > 40) out += tr("\u2026");
    QString text = out.isEmpty() ? tr("Nothing is left out.") : tr("Left out: %1").arg(out.join(", "));
    if (!p.staleLeftOut.empty())
        text += "\n" + tr("\u25b2 %n of them no longer there: fewer places at this count.", nullptr,
                          int(p.staleLeftOut.size()));
    m_leftOut->setText(text);
    m_leftOut->show();
    m_bringBack->setVisible(!run.item->leftOut.empty());
    m_forget->setVisible(!p.staleLeftOut.empty());
}

QString PlacesSection::summary(const RunResult& run) const {
    if (!run.placed) return {};
    const Places& p = *run.placed;
    return p.count() == size_t(p.present) ? tr("%1 places").arg(p.count())
                                          : tr("%1 of %2 places").arg(p.present).arg(p.count());
}

QWidget* PlacesSection::target(const QString& key) const {
    return key == "leftOut" ? m_bringBack : RunSection::target(key);
}

} // namespace vicinal
