#include "app/part_editor.h"
#include "app/controls.h"
#include "app/format.h"
#include "app/value_field.h"
#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>

namespace vicinal {

PartEditor::PartEditor(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName(name);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_facts = new QLabel;
    m_facts->setProperty("role", "muted");
    m_facts->setWordWrap(true);
    box->addWidget(m_facts);
    for (int i = 0; i < 3; ++i) {
        m_size[i] = new ValueField(ValueField::Kind::Length, name + QString(".size%1").arg(i),
                                   tr("Dimension %1").arg(i + 1), tr("A dimension of the part"));
        m_sizeRow[i] = labelled(tr("Size"), m_size[i]);
        m_sizeLabel[i] = m_sizeRow[i]->findChild<QLabel*>();
        box->addWidget(m_sizeRow[i]);
        connect(m_size[i], &ValueField::changed, this, [this, i](std::optional<double> v, bool live) {
            if (v) setDimension(i, *v, live);
        });
        connect(m_size[i], &ValueField::finished, &m_store, &Store::seal);
    }
    m_seatKind = new Segmented(name + ".seat", {tr("box point"), tr("typed")},
                               {tr("The seat is one of the 27 points of the part's box"),
                                tr("The seat is a point typed in the part's own axes")});
    box->addWidget(labelled(tr("Seat point"), m_seatKind));
    m_boxRows = new QWidget;
    auto* rows = new QVBoxLayout(m_boxRows);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    const char* axes[] = {"x", "y", "z"};
    const QStringList words[] = {{tr("low"), tr("middle"), tr("high")},
                                 {tr("low"), tr("middle"), tr("high")},
                                 {tr("foot"), tr("middle"), tr("top")}};
    for (int i = 0; i < 3; ++i) {
        m_box[i] = new Segmented(name + ".box" + axes[i], words[i],
                                 {tr("The low side of the part along its %1").arg(axes[i]),
                                  tr("The middle of the part along its %1").arg(axes[i]),
                                  tr("The high side of the part along its %1").arg(axes[i])});
        rows->addWidget(labelled(tr("   along %1").arg(axes[i]), m_box[i]));
        connect(m_box[i], &Segmented::picked, this, [this, i](int k) {
            if (!m_part) return;
            m_store.changePart(m_part->item->id, tr("Seat point"), {}, [&](PartItem& p) {
                BoxPoint b =
                    std::holds_alternative<BoxPoint>(p.seat.point) ? std::get<BoxPoint>(p.seat.point) : BoxPoint{};
                (i == 0 ? b.x : i == 1 ? b.y : b.z) = k - 1;
                p.seat.point = b;
            });
        });
    }
    box->addWidget(m_boxRows);
    m_typedRow = new QWidget;
    auto* typed = new QVBoxLayout(m_typedRow);
    typed->setContentsMargins(0, 0, 0, 0);
    typed->setSpacing(4);
    for (int i = 0; i < 3; ++i) {
        m_at[i] = new ValueField(ValueField::Kind::Length, name + ".at" + axes[i], tr("Seat %1").arg(axes[i]),
                                 tr("Seat point in the part's own axes, %1").arg(axes[i]));
        typed->addWidget(labelled(tr("   %1").arg(axes[i]), m_at[i]));
        connect(m_at[i], &ValueField::changed, this, [this, i](std::optional<double> v, bool live) {
            if (!v || !m_part || !m_part->mesh) return;
            Vec3 at = seatPoint(m_part->item->seat, m_part->mesh->box);
            at[i] = *v;
            setSeatPoint(at, live);
        });
        connect(m_at[i], &ValueField::finished, &m_store, &Store::seal);
    }
    box->addWidget(m_typedRow);
    connect(m_seatKind, &Segmented::picked, this, [this](int k) {
        if (!m_part || !m_part->mesh) return;
        m_store.changePart(m_part->item->id, tr("Seat point"), {}, [&](PartItem& p) {
            if (k == 1)
                p.seat.point = seatPoint(p.seat, m_part->mesh->box); // starts where it was
            else
                p.seat.point = BoxPoint{};
        });
    });
    const QStringList directions{"+x", "\u2212x", "+y", "\u2212y", "+z", "\u2212z"};
    m_nose = new QComboBox;
    m_nose->setObjectName(name + ".nose");
    m_nose->addItems(directions);
    m_nose->setToolTip(tr("Which of the part's own directions faces along the path"));
    m_crown = new QComboBox;
    m_crown->setObjectName(name + ".crown");
    m_crown->addItems(directions);
    m_crown->setToolTip(tr("Which of the part's own directions points up"));
    box->addWidget(labelled(tr("Nose, crown"), m_nose, m_crown));
    m_seatError = new QLabel;
    m_seatError->setProperty("role", "error");
    m_seatError->setObjectName(name + ".error");
    m_seatError->setWordWrap(true);
    m_seatError->hide();
    box->addWidget(m_seatError);
    connect(m_nose, &QComboBox::activated, this, [this](int k) {
        if (m_part)
            m_store.changePart(m_part->item->id, tr("Nose"), {}, [&](PartItem& p) {
                // A crown on the nose's own axis gives way to the old nose, so that one click is enough.
                if (int(p.seat.crown) / 2 == k / 2) p.seat.crown = p.seat.nose;
                p.seat.nose = Axis(k);
            });
    });
    connect(m_crown, &QComboBox::activated, this, [this](int k) {
        if (m_part)
            m_store.changePart(m_part->item->id, tr("Crown"), {}, [&](PartItem& p) {
                if (int(p.seat.nose) / 2 == k / 2) p.seat.nose = p.seat.crown;
                p.seat.crown = Axis(k);
            });
    });
}

int PartEditor::dimensions() const {
    return m_part && std::holds_alternative<BroughtMesh>(m_part->item->shape) ? 0 : 3;
}

QPair<QString, QString> PartEditor::dimension(int i) const {
    if (std::holds_alternative<Baluster>(m_part->item->shape))
        return QList<QPair<QString, QString>>{{tr("Width"), tr("Along the nose (x)")},
                                              {tr("Depth"), tr("Across the path (y)")},
                                              {tr("Height"), tr("Along the crown (z)")}}[i];
    return QList<QPair<QString, QString>>{{tr("Length"), tr("Across the path (y)")},
                                          {tr("Width"), tr("Along the nose (x)")},
                                          {tr("Thickness"), tr("Along the crown (z)")}}[i];
}

double PartEditor::dimensionValue(int i) const {
    if (const auto* b = std::get_if<Baluster>(&m_part->item->shape))
        return i == 0 ? b->width : i == 1 ? b->depth : b->height;
    const auto& k = std::get<Plank>(m_part->item->shape);
    return i == 0 ? k.length : i == 1 ? k.width : k.thickness;
}

void PartEditor::setDimension(int i, double mm, bool live) {
    if (!m_part) return;
    m_store.changePart(m_part->item->id, dimension(i).first,
                       live ? QString("part %1 %2").arg(m_part->item->id).arg(i) : QString(), [&](PartItem& p) {
                           if (auto* b = std::get_if<Baluster>(&p.shape))
                               (i == 0 ? b->width : i == 1 ? b->depth : b->height) = mm;
                           else if (auto* k = std::get_if<Plank>(&p.shape))
                               (i == 0 ? k->length : i == 1 ? k->width : k->thickness) = mm;
                       });
}

void PartEditor::setSeatPoint(const Vec3& at, bool live) {
    m_store.changePart(m_part->item->id, tr("Seat point"), live ? QString("seat %1").arg(m_part->item->id) : QString(),
                       [&](PartItem& p) { p.seat.point = at; });
}

void PartEditor::show(const std::shared_ptr<const PartResult>& part) {
    m_part = part;
    setEnabled(part != nullptr);
    if (!part) return;
    const Unit unit = m_store.document().unit;
    const auto* brought = std::get_if<BroughtMesh>(&part->item->shape);
    QString facts;
    if (part->mesh) {
        const Vec3 s = part->mesh->box.sizes();
        facts = tr("%1 \u00d7 %2 \u00d7 %3")
                    .arg(lengthText(s.x(), unit, false), lengthText(s.y(), unit, false), lengthText(s.z(), unit));
        if (brought)
            facts += tr(". Mesh of %n triangle(s)", nullptr, int(part->mesh->triangles.size())) +
                     tr(" from %1").arg(brought->source.c_str());
    }
    m_facts->setText(facts);
    for (int i = 0; i < 3; ++i) {
        m_sizeRow[i]->setVisible(i < dimensions());
        if (i >= dimensions()) continue;
        const auto [label, tip] = dimension(i);
        m_sizeLabel[i]->setText(label);
        m_size[i]->edit()->setAccessibleName(label);
        m_size[i]->setUnit(unit);
        m_size[i]->setValue(dimensionValue(i));
        const bool mine = part->problem && part->problem->field == std::string(label.toLower().toStdString());
        m_size[i]->setProblem(mine ? QString::fromStdString(part->problem->text) : QString());
    }
    const auto* b = std::get_if<BoxPoint>(&part->item->seat.point);
    m_seatKind->setCurrent(b ? 0 : 1);
    m_boxRows->setVisible(b != nullptr);
    m_typedRow->setVisible(b == nullptr);
    if (b) {
        m_box[0]->setCurrent(b->x + 1);
        m_box[1]->setCurrent(b->y + 1);
        m_box[2]->setCurrent(b->z + 1);
    } else {
        for (int i = 0; i < 3; ++i) {
            m_at[i]->setUnit(unit);
            m_at[i]->setValue(std::get<Vec3>(part->item->seat.point)[i]);
        }
    }
    m_nose->setCurrentIndex(int(part->item->seat.nose));
    m_crown->setCurrentIndex(int(part->item->seat.crown));
    const bool seat = part->problem && (part->problem->field == "crown" || part->problem->field == "seatPoint" ||
                                        part->problem->field == "part");
    m_seatError->setVisible(seat);
    if (seat) m_seatError->setText(QString::fromStdString(part->problem->text));
}

} // namespace vicinal
