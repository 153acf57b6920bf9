#include "app/sheet/part/seat_fields.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include "model/document/part_item.h"
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

const QStringList kDirections{"+x", "\u2212x", "+y", "\u2212y", "+z", "\u2212z"};

/// Parallel within the degree that a seat refuses.
bool parallel(const Direction& a, const Direction& b) { return std::abs(a.v.dot(b.v)) > std::cos(kDegree); }

} // namespace

QString directionText(const Direction& d) {
    if (const auto a = axisOf(d)) return kDirections[int(*a)];
    QStringList numbers;
    for (int i = 0; i < 3; ++i) numbers += QString::number(d.v[i] == 0 ? 0 : d.v[i], 'f', 3);
    return numbers.join(", ");
}

SeatFields::SeatFields(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* box = m_rows = new QVBoxLayout(this);
    box->setContentsMargins(0, 6, 0, 0);
    box->setSpacing(7);
    auto* look = new QPushButton(tr("Seat it in the view\u2026"));
    look->setObjectName(name + ".seatView");
    look->setToolTip(
        tr("The part alone with a piece of path through it: click where it sits, drag its nose and crown"));
    box->addWidget(look);
    connect(look, &QPushButton::clicked, this, &SeatFields::viewWanted);
    addPoint(name);
    addDirections(name);
    addPins(name);
    addStand(name);
    m_error = new QLabel;
    m_error->setProperty("role", "error");
    m_error->setObjectName(name + ".error");
    m_error->setWordWrap(true);
    m_error->hide();
    box->addWidget(m_error);
}

void SeatFields::addPins(const QString& name) {
    m_pinsRow = new QWidget;
    auto* pins = new QHBoxLayout(m_pinsRow);
    pins->setContentsMargins(0, 0, 0, 0);
    m_pins = new QLabel;
    m_pins->setObjectName(name + ".pins");
    m_pins->setMinimumHeight(28);
    m_ownPins = new QPushButton(tr("Let go"));
    m_ownPins->setObjectName(name + ".ownPins");
    m_ownPins->setToolTip(tr("Forget the picked pins; a link made here has its own again"));
    m_pins->setWordWrap(true);
    pins->addWidget(m_pins, 1);
    pins->addWidget(m_ownPins);
    m_rows->addWidget(labelled(tr("Pins"), m_pinsRow));
    connect(m_ownPins, &QPushButton::clicked, this,
            [this] { change(tr("Let go of the pins"), {}, [](Seat& s) { s.pins.reset(); }); });
}

/// Nose and crown, chosen or turned.
void SeatFields::addDirections(const QString& name) {
    m_nose = new QComboBox;
    m_nose->setObjectName(name + ".nose");
    m_nose->setAccessibleName(tr("Nose"));
    m_nose->setToolTip(tr("Which of the part's own directions faces along the path"));
    m_crown = new QComboBox;
    m_crown->setObjectName(name + ".crown");
    m_crown->setAccessibleName(tr("Crown"));
    m_crown->setToolTip(tr("Which of the part's own directions points up"));
    for (QComboBox* direction : {m_nose, m_crown}) // three numbers must not widen the sheet
        direction->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_rows->addWidget(labelled(tr("Nose, crown"), m_nose, m_crown));
    auto* turns = new QWidget;
    auto* line = new QHBoxLayout(turns);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    auto* turnNose = new QPushButton(tr("Nose 90\u00b0"));
    turnNose->setObjectName(name + ".turnNose");
    turnNose->setToolTip(tr("The nose a quarter turn to the left, about the crown"));
    auto* turnCrown = new QPushButton(tr("Crown 90\u00b0"));
    turnCrown->setObjectName(name + ".turnCrown");
    turnCrown->setToolTip(tr("The crown a quarter turn to the right, about the nose"));
    line->addWidget(turnNose);
    line->addWidget(turnCrown);
    m_rows->addWidget(labelled(tr("Turn by"), turns));
    connect(turnNose, &QPushButton::clicked, this,
            [this] { change(tr("Turn the nose"), {}, [](Seat& s) { s = noseTurned(s); }); });
    connect(turnCrown, &QPushButton::clicked, this,
            [this] { change(tr("Turn the crown"), {}, [](Seat& s) { s = crownTurned(s); }); });
    // A direction on the other's own axis takes that one's place, so that one click is enough.
    connect(m_nose, &QComboBox::activated, this, [this](int k) {
        if (k > 5) return;
        change(tr("Nose"), {}, [&](Seat& s) {
            const Direction now(Axis{k});
            if (parallel(now, s.crown)) s.crown = s.nose;
            s.nose = now;
        });
    });
    connect(m_crown, &QComboBox::activated, this, [this](int k) {
        if (k > 5) return;
        change(tr("Crown"), {}, [&](Seat& s) {
            const Direction now(Axis{k});
            if (parallel(now, s.nose)) s.nose = s.crown;
            s.crown = now;
        });
    });
}

void SeatFields::addPoint(const QString& name) {
    m_kind = new Segmented(name + ".seat", {tr("own origin"), tr("box point"), tr("typed")},
                           {tr("The seat is the part's own origin"),
                            tr("The seat is one of the 27 points of the part's box"),
                            tr("The seat is a point typed in the part's own axes, or one picked in the view")});
    m_rows->addWidget(labelled(tr("Seat point"), m_kind));
    m_boxRows = new QWidget;
    auto* rows = new QVBoxLayout(m_boxRows);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    const char* axes[] = {"x", "y", "z"};
    const QStringList words[] = {{tr("low"), tr("middle"), tr("high")},
                                 {tr("low"), tr("middle"), tr("high")},
                                 {tr("foot"), tr("middle"), tr("top")}};
    for (int i = 0; i < 3; ++i) {
        m_box[size_t(i)] = new Segmented(name + ".box" + axes[i], words[i],
                                         {tr("The low side of the part along its %1").arg(axes[i]),
                                          tr("The middle of the part along its %1").arg(axes[i]),
                                          tr("The high side of the part along its %1").arg(axes[i])});
        rows->addWidget(labelled(tr("   along %1").arg(axes[i]), m_box[size_t(i)]));
        connect(m_box[size_t(i)], &Segmented::picked, this, [this, i](int k) {
            change(tr("Seat point"), {}, [&](Seat& s) {
                BoxPoint b = std::holds_alternative<BoxPoint>(s.point) ? std::get<BoxPoint>(s.point) : BoxPoint{};
                b[i] = k - 1;
                s.point = b;
            });
        });
    }
    m_rows->addWidget(m_boxRows);
    m_typedRow = new QWidget;
    auto* typed = new QHBoxLayout(m_typedRow);
    typed->setContentsMargins(0, 0, 0, 0);
    typed->setSpacing(4);
    for (int i = 0; i < 3; ++i) {
        m_at[size_t(i)] = new ValueField(ValueField::Kind::Length, name + ".at" + axes[i], tr("Seat %1").arg(axes[i]),
                                         tr("Seat point in the part's own axes, %1").arg(axes[i]));
        m_at[size_t(i)]->setSuffix(axes[i]);
        typed->addWidget(m_at[size_t(i)], 1, Qt::AlignTop);
        connect(m_at[size_t(i)], &ValueField::changed, this, [this, i](std::optional<double> v, bool live) {
            if (!v || !m_part || !m_part->mesh) return;
            Vec3 at = seatPoint(m_part->item->seat, m_part->mesh->box);
            at[i] = *v;
            change(tr("Seat point"), live ? QString("seat %1").arg(m_part->item->id) : QString(),
                   [&](Seat& s) { s.point = at; });
        });
        connect(m_at[size_t(i)], &ValueField::finished, &m_store, &Store::seal);
    }
    m_rows->addWidget(m_typedRow);
    connect(m_kind, &Segmented::picked, this, [this](int k) {
        if (!m_part || !m_part->mesh) return;
        change(tr("Seat point"), {}, [&](Seat& s) {
            if (k == 0)
                s.point = Vec3(0, 0, 0);
            else if (k == 1)
                s.point = BoxPoint{};
            else
                s.point = seatPoint(s, m_part->mesh->box); // starts where it was
        });
    });
}

/// What the pins stand on: the path, or other parts (bogies); and how far beyond them it is coupled.
void SeatFields::addStand(const QString& name) {
    m_underRow = new QWidget;
    auto* under = new QHBoxLayout(m_underRow);
    under->setContentsMargins(0, 0, 0, 0);
    under->setSpacing(4);
    m_hooksRow = new QWidget;
    auto* hooks = new QVBoxLayout(m_hooksRow); // side by side they would be wider than the sheet
    hooks->setContentsMargins(0, 0, 0, 0);
    hooks->setSpacing(4);
    const QString sides[] = {tr("back"), tr("front")};
    for (size_t k = 0; k < 2; ++k) {
        m_under[k] = new QComboBox;
        m_under[k]->setObjectName(name + (k ? ".underFront" : ".underBack"));
        m_under[k]->setAccessibleName(tr("The %1 pin stands on").arg(sides[k]));
        m_under[k]->setToolTip(tr("What the %1 pin stands on: the path itself, or in the middle between the pins of "
                                  "another part, as a vehicle on its bogie")
                                   .arg(sides[k]));
        m_under[k]->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        m_under[k]->setMinimumContentsLength(7);
        m_under[k]->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        under->addWidget(m_under[k], 1);
        connect(m_under[k], &QComboBox::activated, this, [this, k](int i) {
            const Id id = m_under[k]->itemData(i).toInt();
            if (m_part)
                m_store.change<PartItem>(m_part->item->id, tr("What a pin stands on"), {},
                                         [&](PartItem& p) { p.under[k] = id; });
        });
        m_hooks[k] = new ValueField(ValueField::Kind::Length, name + (k ? ".hookFront" : ".hookBack"),
                                    tr("Coupled beyond the %1 pin").arg(sides[k]),
                                    tr("How far beyond its %1 pin a vehicle is coupled, along its nose").arg(sides[k]));
        m_hooks[k]->setSuffix(sides[k]);
        hooks->addWidget(m_hooks[k]);
        connect(m_hooks[k], &ValueField::changed, this, [this, k](std::optional<double> v, bool live) {
            const auto pins = m_part && m_part->body ? pinsOf(*m_part->body, m_part->item->seat) : std::nullopt;
            if (!v || !pins) return;
            const Vec3 nose = ((*pins)[1] - (*pins)[0]).normalized();
            const double beyond[] = {k == 0 ? *v : m_hooks[0]->value().value_or(0),
                                     k == 1 ? *v : m_hooks[1]->value().value_or(0)};
            change(tr("Coupling"), live ? QString("hook %1").arg(m_part->item->id) : QString(), [&](Seat& s) {
                s.hooks = Pins{Vec3((*pins)[0] - beyond[0] * nose), Vec3((*pins)[1] + beyond[1] * nose)};
            });
        });
        connect(m_hooks[k], &ValueField::finished, &m_store, &Store::seal);
    }
    m_ownHooks = new QPushButton(tr("Ends"));
    m_ownHooks->setObjectName(name + ".ownHooks");
    m_ownHooks->setToolTip(tr("It is coupled at its ends again"));
    hooks->addWidget(m_ownHooks, 0, Qt::AlignLeft);
    connect(m_ownHooks, &QPushButton::clicked, this,
            [this] { change(tr("Coupled at its ends"), {}, [](Seat& s) { s.hooks.reset(); }); });
    m_rows->addWidget(labelled(tr("Pins on"), m_underRow));
    m_rows->addWidget(labelled(tr("Coupled"), m_hooksRow));
}

void SeatFields::showStand(const PartResult& part, const std::optional<Pins>& pins) {
    const PartItem& item = *part.item;
    m_underRow->parentWidget()->setVisible(pins.has_value());
    m_hooksRow->parentWidget()->setVisible(pins.has_value());
    if (!pins) return;
    auto others = m_store.document().parts; // none that stands on this one
    std::erase_if(others, [&](const auto& p) { return follows(m_store.document(), p->id, item.id); });
    for (size_t k = 0; k < 2; ++k) fillItems(m_under[k], others, item.under[k], tr("(deleted)"), tr("the path"));
    const Vec3 nose = ((*pins)[1] - (*pins)[0]).normalized();
    Pins hooks = *pins;
    if (item.seat.hooks) {
        hooks = *item.seat.hooks;
    } else if (part.seated && part.mesh) { // the middles of its ends
        const Mat3 R = seatRotation(item.seat);
        const Vec3 at = seatPoint(item.seat, part.mesh->box);
        for (size_t k = 0; k < 2; ++k) {
            Vec3 seated = R * ((*pins)[k] - at);
            seated.x() = k ? part.seated->max().x() : part.seated->min().x();
            hooks[k] = R.transpose() * seated + at;
        }
    }
    for (size_t k = 0; k < 2; ++k) {
        m_hooks[k]->setUnit(m_store.document().unit);
        m_hooks[k]->setValue((k ? 1 : -1) * (hooks[k] - (*pins)[k]).dot(nose));
    }
    m_ownHooks->setVisible(item.seat.hooks.has_value());
}

void SeatFields::change(const QString& step, const QString& merge, const std::function<void(Seat&)>& how) {
    if (m_part) m_store.change<PartItem>(m_part->item->id, step, merge, [&](PartItem& p) { how(p.seat); });
}

void SeatFields::show(const std::shared_ptr<const PartResult>& part) {
    m_part = part;
    if (!part) return;
    const Unit unit = m_store.document().unit;
    const Seat& seat = part->item->seat;
    const auto* b = std::get_if<BoxPoint>(&seat.point);
    const auto* v = std::get_if<Vec3>(&seat.point);
    const int typed = v && *v != Vec3(0, 0, 0) ? 2 : 0;
    m_kind->setCurrent(b ? 1 : typed);
    m_boxRows->setVisible(b != nullptr);
    m_typedRow->setVisible(v && m_kind->current() == 2);
    if (b) {
        m_box[0]->setCurrent(b->x + 1);
        m_box[1]->setCurrent(b->y + 1);
        m_box[2]->setCurrent(b->z + 1);
    } else {
        for (int i = 0; i < 3; ++i) {
            m_at[size_t(i)]->setUnit(unit);
            m_at[size_t(i)]->setValue((*v)[i]);
        }
    }
    const auto fill = [](QComboBox* box, const Direction& d) {
        const auto axis = axisOf(d);
        QStringList words = kDirections;
        if (!axis) words += directionText(d);
        if (box->count() != words.size() || box->itemText(box->count() - 1) != words.back()) {
            box->clear();
            box->addItems(words);
        }
        box->setCurrentIndex(axis ? int(*axis) : 6);
    };
    fill(m_nose, seat.nose);
    fill(m_crown, seat.crown);
    const auto pins = part->body ? pinsOf(*part->body, seat) : seat.pins;
    m_pins->setText(!pins ? tr("none")
                          : lengthText(((*pins)[1] - (*pins)[0]).norm(), unit) +
                                (seat.pins ? tr(" apart, picked") : tr(" apart, its own")));
    m_ownPins->setVisible(seat.pins.has_value());
    if (!part->problem || part->problem->field == "under") showStand(*part, pins);
    const auto& problem = part->problem;
    const bool wrong = problem && (problem->field == "crown" || problem->field == "nose" ||
                                   problem->field == "seatPoint" || problem->field == "pins" ||
                                   problem->field == "hooks" || problem->field == "under" || problem->field == "part");
    m_error->setVisible(wrong);
    if (wrong) m_error->setText(m_store.say(problem->text));
}

} // namespace vicinal
