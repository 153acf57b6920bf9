#include "app/sheet/run/places_section.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include "app/state/checks.h"
#include "base/ranges.h"
#include "layout/facing/facing.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

PlacesSection::PlacesSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    m_placeFacts = new QLabel;
    m_placeFacts->setObjectName("places.facts");
    m_placeFacts->setWordWrap(true);
    m_box->addWidget(m_placeFacts);
    buildSelect();
    m_toggle = new QPushButton;
    m_toggle->setObjectName("places.toggle");
    m_toggle->setToolTip(tr("Leave out the selected places, or bring them back (Delete)"));
    m_box->addWidget(m_toggle);
    buildExceptions();
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
    buildLost();
    connect(m_toggle, &QPushButton::clicked, this, [this] { vicinal::toggleLeftOut(m_store); });
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

void PlacesSection::select(const std::set<int>& places) {
    if (const auto run = m_store.currentRun()) m_store.select({Selection::Kind::Run, run->item->id, places, -1, {}});
}

void PlacesSection::buildSelect() {
    auto* button = new QPushButton(tr("Select"));
    button->setObjectName("places.select");
    button->setToolTip(tr("Select places by a rule"));
    auto* menu = new QMenu(button);
    button->setMenu(menu);
    const auto add = [&](const QString& text, const char* name, std::function<std::set<int>(const RunResult&)> which) {
        auto* a = menu->addAction(text);
        a->setObjectName(QString("select.") + name);
        connect(a, &QAction::triggered, this, [this, which] {
            const auto run = m_store.currentRun();
            if (run && run->placed) select(which(*run));
        });
    };
    const auto first = [this] { // from the first selected one on
        const auto& now = m_store.selection().places;
        return now.empty() ? 1L : long(*now.begin()) + 1;
    };
    add(tr("All"), "all", [](const RunResult& r) { return everyNth(r, 1, 1); });
    add(tr("Every second"), "second", [first](const RunResult& r) { return everyNth(r, 2, first()); });
    add(tr("Every third"), "third", [first](const RunResult& r) { return everyNth(r, 3, first()); });
    add(tr("Every n-th\u2026"), "nth", [this, first](const RunResult& r) {
        bool ok = false;
        const int n = QInputDialog::getInt(this, tr("Every n-th place"),
                                           tr("Select every so-many-th, from the first selected place on:"), 5, 1,
                                           1'000'000, 1, &ok);
        return ok ? everyNth(r, n, first()) : m_store.selection().places;
    });
    add(tr("Between the first and the last selected"), "between", [this](const RunResult& r) {
        const auto& now = m_store.selection().places;
        if (now.size() < 2) return now;
        const auto& s = r.placed->stations();
        return betweenStations(r, s[size_t(*now.begin())], s[size_t(*now.rbegin())]);
    });
    add(tr("On corners"), "corners", [](const RunResult& r) { return onCorners(r); });
    add(tr("That break a limit"), "breaking", [this](const RunResult& r) {
        std::set<int> all = breaking(r);
        if (const auto checked = m_store.checks().of(r.item->id); checked && checked->run.get() == &r)
            all.merge(brokenPlaces(*checked));
        return all;
    });
    m_box->addWidget(button);
}

void PlacesSection::buildExceptions() {
    m_special = new QWidget;
    auto* box = new QVBoxLayout(m_special);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_part = new QComboBox;
    m_part->setObjectName("place.part");
    m_part->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_part->setToolTip(tr("Another part on the selected places"));
    box->addWidget(labelled(tr("Part here"), m_part));
    connect(m_part, &QComboBox::activated, this, [this](int i) {
        const Id id = m_part->itemData(i).toInt();
        except(id ? tr("Another part here") : tr("The run's part here"), {}, [&](Exception& e) { e.part = id; });
    });
    const auto three = [&](const QString& label, const char* key, ValueField::Kind kind, const QStringList& names,
                           Vec3 Exception::*member, std::array<ValueField*, 3>& fields) {
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(4);
        for (int axis = 0; axis < 3; ++axis) {
            const QString says = label + " " + names[axis];
            auto* f = fields[size_t(axis)] = new ValueField(kind, QString("place.%1%2").arg(key).arg(axis), says, says);
            f->setSuffix(names[axis]);
            row->addWidget(f, 1, Qt::AlignTop);
            connect(f, &ValueField::changed, this, [=, this](std::optional<double> v, bool live) {
                if (v) except(says, live ? "place " + says : QString(), [&](Exception& e) { (e.*member)[axis] = *v; });
            });
            connect(f, &ValueField::finished, &m_store, &Store::seal);
        }
        box->addWidget(new QLabel(label));
        box->addWidget(line);
    };
    three(tr("Moved"), "move", ValueField::Kind::Length, {tr("along"), tr("across"), tr("up")}, &Exception::move,
          m_move);
    three(tr("Turned about"), "turn", ValueField::Kind::Angle, {tr("nose"), tr("side"), tr("crown")}, &Exception::turn,
          m_turn);
    m_size = new ValueField(ValueField::Kind::Number, "place.size", tr("Size here"),
                            tr("A factor on the size, about the seat point"));
    box->addWidget(labelled(tr("Size here"), m_size));
    connect(m_size, &ValueField::changed, this, [this](std::optional<double> v, bool live) {
        if (!v) return;
        if (!ranges::kSize.holds(*v)) return m_size->setProblem(tr("The size must be " VICINAL_SIZE_RANGE "."));
        m_size->setProblem({});
        except(tr("Size here"), live ? "place size" : QString(), [&](Exception& e) { e.size = *v; });
    });
    connect(m_size, &ValueField::finished, &m_store, &Store::seal);
    m_bound = new Segmented("place.bound", {tr("number"), tr("station")},
                            {tr("What is special stays with the place's number, whatever is before it"),
                             tr("What is special stays where it is on the path: with the nearest place")},
                            value_rows::kSheetRoom);
    box->addWidget(labelled(tr("Bound to its"), m_bound));
    connect(m_bound, &Segmented::picked, this, [this](int k) {
        m_byStation = k == 1;
        const auto run = m_store.currentRun();
        if (!run || !run->placed) return;
        const RunItem next = bound(*run, m_store.selection().places, m_byStation);
        if (next.exceptions != run->item->exceptions)
            change(m_byStation ? tr("Bound to its station") : tr("Bound to its number"), {},
                   [&](RunItem& r) { r = next; });
    });
    m_reset = new QPushButton(tr("As all others"));
    m_reset->setObjectName("place.reset");
    m_reset->setToolTip(tr("Takes back all that is special about the selected places"));
    box->addWidget(m_reset);
    connect(m_reset, &QPushButton::clicked, this, [this] {
        except(tr("As all others"), {}, [](Exception& e) {
            const Exception was = e;
            e = Exception();
            e.place = was.place;
            e.station = was.station;
        });
    });
    m_box->addWidget(m_special);
}

void PlacesSection::buildLost() {
    m_resetAll = new QPushButton(tr("Drop all exceptions"));
    m_resetAll->setObjectName("place.resetAll");
    m_box->addWidget(m_resetAll);
    connect(m_resetAll, &QPushButton::clicked, this,
            [this] { change(tr("Drop all exceptions"), {}, [](RunItem& r) { r.exceptions.clear(); }); });
    m_lost = new QLabel;
    m_lost->setObjectName("place.lost");
    m_lost->setWordWrap(true);
    m_box->addWidget(m_lost);
    m_drop = new QPushButton(tr("Drop those"));
    m_drop->setObjectName("place.drop");
    m_moveHere = new QPushButton(tr("Move the first one here"));
    m_moveHere->setObjectName("place.moveHere");
    m_moveHere->setToolTip(tr("What was special about the lost place is so about the selected one"));
    m_box->addWidget(m_drop);
    m_box->addWidget(m_moveHere);
    connect(m_drop, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        if (!run || !run->placed) return;
        const auto lost = run->placed->laid->staleExceptions;
        change(tr("Drop lost exceptions"), {}, [&](RunItem& r) {
            for (auto i = lost.rbegin(); i != lost.rend(); ++i) r.exceptions.erase(r.exceptions.begin() + *i);
        });
    });
    connect(m_moveHere, &QPushButton::clicked, this, [this] {
        const auto run = m_store.currentRun();
        const auto& places = m_store.selection().places;
        if (!run || !run->placed || places.empty() || run->placed->laid->staleExceptions.empty()) return;
        const size_t which = size_t(run->placed->laid->staleExceptions.front());
        const int place = int(run->placed->laid->original(size_t(*places.begin())));
        const double station = run->placed->stations()[size_t(place)];
        change(tr("Move an exception"), {}, [&](RunItem& r) {
            Exception& e = r.exceptions[which];
            e.place = place + 1;
            if (e.station) e.station = station;
        });
    });
}

void PlacesSection::except(const QString& name, const QString& merge, const std::function<void(Exception&)>& how) {
    const auto run = m_store.currentRun();
    if (!run || !run->placed || run->stale() || m_store.selection().places.empty()) return;
    const RunItem next = excepted(*run, m_store.selection().places, m_byStation, how);
    if (next.exceptions == run->item->exceptions) return;
    change(name, merge, [&](RunItem& r) { r = next; });
}

void PlacesSection::refresh(const RunResult& run) {
    const bool any = run.placed != nullptr;
    for (QWidget* w :
         {static_cast<QWidget*>(m_toggle), static_cast<QWidget*>(m_leftOut), static_cast<QWidget*>(m_bringBack),
          static_cast<QWidget*>(m_forget), m_special, static_cast<QWidget*>(m_lost), static_cast<QWidget*>(m_drop),
          static_cast<QWidget*>(m_moveHere), static_cast<QWidget*>(m_resetAll)})
        w->setVisible(any);
    if (!any) return m_placeFacts->setText(tr("No places yet."));
    refreshFacts(run);
    refreshExceptions(run);
    refreshLost(run);
}

void PlacesSection::refreshFacts(const RunResult& run) {
    const Unit unit = m_store.document().unit;
    const Places& p = *run.placed;
    const auto& selected = m_store.selection().places;
    if (selected.empty())
        m_placeFacts->setText(tr("Select places in the strip or the view to leave them out, swap or move them."));
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
    m_toggle->setEnabled(!run.stale());
    m_toggle->setText(all ? tr("Bring back") : tr("Leave out"));
    QStringList out;
    for (size_t k = 0; k < run.item->leftOut.size() && k < 40; ++k) out += QString::number(run.item->leftOut[k]);
    if (run.item->leftOut.size() > 40) out += tr("\u2026");
    QString text = out.isEmpty() ? tr("Nothing is left out.") : tr("Left out: %1").arg(out.join(", "));
    if (!p.staleLeftOut.empty())
        text += "\n" + tr("\u25b2 %n of them no longer there: fewer places at this count.", nullptr,
                          int(p.staleLeftOut.size()));
    m_leftOut->setText(text);
    m_bringBack->setVisible(!run.item->leftOut.empty());
    m_forget->setVisible(!p.staleLeftOut.empty());
}

void PlacesSection::refreshExceptions(const RunResult& run) {
    const auto& selected = m_store.selection().places;
    m_special->setVisible(!selected.empty());
    m_special->setEnabled(!run.stale());
    m_resetAll->setVisible(!run.item->exceptions.empty());
    if (selected.empty()) return;
    const Exception e = exceptionAt(run, *selected.begin());
    fillItems(m_part, m_store.document().parts, e.part, tr("(deleted)"), tr("as the run says"));
    for (size_t axis = 0; axis < 3; ++axis) {
        m_move[axis]->setUnit(m_store.document().unit);
        m_move[axis]->setValue(e.move[int(axis)]);
        m_turn[axis]->setValue(e.turn[int(axis)]);
    }
    m_size->setValue(e.size);
    m_size->setProblem({});
    m_bound->setCurrent(e.plain() ? m_byStation : e.station.has_value());
    m_reset->setEnabled(!e.plain());
}

void PlacesSection::refreshLost(const RunResult& run) {
    const auto& lost = run.placed->laid->staleExceptions;
    const bool any = !lost.empty() && !run.stale();
    m_lost->setVisible(any);
    m_drop->setVisible(any);
    m_moveHere->setVisible(any);
    m_moveHere->setEnabled(m_store.selection().places.size() == 1);
    if (!any) return;
    QStringList names;
    for (size_t k = 0; k < lost.size() && k < 12; ++k) {
        const Exception& e = run.item->exceptions[size_t(lost[k])];
        names += e.station ? tr("station %1").arg(lengthText(*e.station, m_store.document().unit))
                           : tr("place %1").arg(e.place);
    }
    if (lost.size() > 12) names += tr("\u2026");
    m_lost->setText(tr("\u25b2 No place any more: %1. What was special about them is kept.").arg(names.join(", ")));
}

QString PlacesSection::summary(const RunResult& run) const {
    if (!run.placed) return {};
    const Places& p = *run.placed;
    QString out = p.count() == size_t(p.present) ? tr("%1 places").arg(p.count())
                                                 : tr("%1 of %2 places").arg(p.present).arg(p.count());
    if (!run.item->exceptions.empty()) out += tr(" \u00b7 %1 special").arg(run.item->exceptions.size());
    return out;
}

QWidget* PlacesSection::target(const QString& key) const {
    return key == "leftOut" ? m_bringBack : RunSection::target(key);
}

} // namespace vicinal
