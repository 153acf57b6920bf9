#include "app/sheet/path/wheel_body.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "parts/makers/maker.h"
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {
namespace {

const WheelShape& loopOf(const PathRecipe& r) { return std::get<WheelShape>(std::get<ShapeRecipe>(r).shape); }

} // namespace

WheelBodyEditor::WheelBodyEditor(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_title = new QLabel;
    box->addWidget(m_title);
    const auto combo = [&](const char* key, const QString& accessible, const QString& tip) {
        auto* c = new QComboBox;
        c->setObjectName(name + "." + key);
        c->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        c->setAccessibleName(accessible);
        c->setToolTip(tip);
        return c;
    };
    m_body = combo("wheelBody", tr("Shows as"), tr("What stands in the view, and goes out, for this wheel"));
    m_body->addItems({tr("nothing"), tr("sprocket"), tr("plain wheel"), tr("grooved wheel"), tr("drum"), tr("a part")});
    box->addWidget(labelled(tr("Shows as"), m_body));
    m_part =
        combo("wheelPart", tr("Part"), tr("A part of the document: stands in the middle, its crown along the axis"));
    box->addWidget(m_partRow = labelled(tr("Part"), m_part));
    const auto field = [&](const char* key, const QString& label, const QString& tip, double Wheel::*member) {
        auto* f = new ValueField(ValueField::Kind::Length, name + "." + key, label, tip);
        connect(f, &ValueField::changed, this, [=, this](std::optional<double> v, bool live) {
            change(label, live ? QString("wheel ") + key : QString(), [&](Wheel& w) { w.*member = v.value_or(0); });
        });
        connect(f, &ValueField::finished, &m_store, &Store::seal);
        return f;
    };
    m_width = field("wheelWidth", tr("Width"), tr("Of the teeth or the rim; 0: as goes with the rest"), &Wheel::width);
    m_bore = field("wheelBore", tr("Bore"), tr("Of the hole for the shaft; 0: as goes with the rest"), &Wheel::bore);
    m_hub = field("wheelHub", tr("Hub"), tr("Diameter of the hub; 0: none"), &Wheel::hub);
    m_sizes = new QWidget;
    auto* sizes = new QVBoxLayout(m_sizes);
    sizes->setContentsMargins(0, 0, 0, 0);
    sizes->setSpacing(7);
    sizes->addWidget(labelled(tr("Width, bore"), m_width, m_bore));
    sizes->addWidget(labelled(tr("Hub"), m_hub));
    box->addWidget(m_sizes);
    m_phase = new ValueField(ValueField::Kind::Angle, name + ".wheelPhase", tr("Turned by"),
                             tr("About its axis; empty: so that teeth and rollers meet"));
    m_phase->setPlaceholder(tr("as the chain wants"));
    connect(m_phase, &ValueField::changed, this, [this](std::optional<double> v, bool live) {
        change(tr("Turn of a wheel"), live ? QString("wheel phase") : QString(), [&](Wheel& w) { w.phase = v; });
    });
    connect(m_phase, &ValueField::finished, &m_store, &Store::seal);
    box->addWidget(m_phaseRow = labelled(tr("Turned by"), m_phase));
    m_all = new QPushButton(tr("The same for all wheels"));
    m_all->setObjectName(name + ".wheelBodyAll");
    m_all->setToolTip(tr("All wheels show as this one does; those without teeth as plain wheels instead of sprockets"));
    box->addWidget(m_all);
    m_seats = new QLabel;
    m_seats->setObjectName(name + ".seats");
    m_seats->setWordWrap(true);
    m_seats->setProperty("role", "muted");
    box->addWidget(m_seats);
    connect(m_body, &QComboBox::activated, this, [this](int i) {
        const Id first = m_store.document().parts.empty() ? 0 : m_store.document().parts.front()->id;
        change(tr("What a wheel shows as"), {}, [&](Wheel& w) {
            w.body = WheelBody(i);
            if (w.body == WheelBody::Part && w.part == 0) w.part = first;
        });
    });
    connect(m_part, &QComboBox::activated, this, [this](int i) {
        change(tr("Part of a wheel"), {}, [&](Wheel& w) { w.part = m_part->itemData(i).toInt(); });
    });
    connect(m_all, &QPushButton::clicked, this, [this] {
        const auto path = m_store.currentPath();
        if (!path) return;
        const Wheel like = loopOf(path->item->recipe).wheels[inHand(loopOf(path->item->recipe))];
        m_store.change<PathItem>(path->item->id, tr("All wheels alike"), {}, [&](PathItem& p) {
            for (Wheel& w : std::get<WheelShape>(std::get<ShapeRecipe>(p.recipe).shape).wheels) {
                w.body = like.body == WheelBody::Sprocket && w.teeth <= 0 ? WheelBody::Plain : like.body;
                w.width = like.width;
                w.part = like.part;
            }
        });
    });
}

size_t WheelBodyEditor::inHand(const WheelShape& loop) const {
    const int at = m_store.selection().point;
    return at >= 0 && at < int(loop.wheels.size()) ? size_t(at) : 0;
}

void WheelBodyEditor::change(const QString& name, const QString& merge, const std::function<void(Wheel&)>& how) {
    const auto path = m_store.currentPath();
    if (!path) return;
    m_store.change<PathItem>(path->item->id, name, merge, [&](PathItem& p) {
        auto& loop = std::get<WheelShape>(std::get<ShapeRecipe>(p.recipe).shape);
        if (!loop.wheels.empty()) how(loop.wheels[inHand(loop)]);
    });
}

void WheelBodyEditor::show(const PathResult& path) {
    const WheelShape& loop = loopOf(path.item->recipe);
    if (loop.wheels.empty()) return;
    const size_t at = inHand(loop);
    const Wheel& w = loop.wheels[at];
    const Unit unit = m_store.document().unit;
    const auto called = [&](size_t i) {
        return loop.wheels[i].name.empty() ? tr("wheel %1").arg(i + 1) : QString::fromStdString(loop.wheels[i].name);
    };
    m_title->setText(tr("<b>%1</b>").arg(called(at).toHtmlEscaped()));
    m_body->setCurrentIndex(int(w.body));
    m_partRow->setVisible(w.body == WheelBody::Part);
    m_sizes->setVisible(w.body != WheelBody::None && w.body != WheelBody::Part);
    m_phaseRow->setVisible(w.body != WheelBody::None);
    m_all->setVisible(loop.wheels.size() > 1);
    fillItems(m_part, m_store.document().parts, w.part, tr("(deleted)"));
    for (const auto& [f, v] : {std::pair{m_width, w.width}, {m_bore, w.bore}, {m_hub, w.hub}}) {
        f->setUnit(unit);
        f->setValue(v);
    }
    m_phase->setValue(w.phase);
    QStringList lines;
    for (const auto& run : m_store.evaluation().runs) {
        if (run->path.get() != &path || run->seats.empty()) continue;
        for (const WheelSeat& s : run->seats) {
            if (s.wheel >= loop.wheels.size()) continue;
            QString line = tr("%1: wraps %2\u00b0, %n pin(s) on it", nullptr, int(s.engaged))
                               .arg(called(s.wheel))
                               .arg(s.wrap / kDegree, 0, 'f', 1);
            if (loop.wheels[s.wheel].teeth > 0)
                line += tr(", turned %1\u00b0, rollers %2 mm off their seats")
                            .arg(s.phase / kDegree, 0, 'f', 3)
                            .arg(s.error, 0, 'f', 4);
            lines += line;
        }
        for (const Words& r : run->remarks) lines += m_store.say(r);
        break;
    }
    m_seats->setText(lines.join("\n"));
    m_seats->setVisible(!lines.isEmpty());
}

} // namespace vicinal
