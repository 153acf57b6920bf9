#include "app/sheet/heap_editor.h"
#include "app/controls/controls.h"
#include "app/controls/item_choice.h"
#include "app/controls/value_field.h"
#include "model/document/heap.h"
#include "model/edits/release.h"
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

HeapEditor::HeapEditor(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(7);
    m_says = new QLabel;
    m_says->setObjectName("heap.says");
    m_says->setProperty("role", "muted");
    m_says->setWordWrap(true);
    all->addWidget(m_says);
    m_chosen = new QWidget;
    auto* box = new QVBoxLayout(m_chosen);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    const QString axes[] = {tr("x"), tr("y"), tr("z")};
    for (int k = 0; k < 3; ++k) {
        auto* f = m_at[size_t(k)] =
            new ValueField(ValueField::Kind::Length, QString("heap.at.%1").arg(k), tr("Seat point, %1").arg(axes[k]),
                           tr("Where it stands; of several the middle"));
        box->addWidget(labelled(tr("Stands at %1").arg(axes[k]), f));
        connect(f, &ValueField::changed, this, [this, k](std::optional<double> v, bool live) {
            if (v) move(k, *v, live);
        });
        connect(f, &ValueField::finished, this, [this] { m_store.seal(); });
    }
    for (int k = 0; k < 3; ++k) {
        auto* f = m_turn[size_t(k)] = new ValueField(
            ValueField::Kind::Angle, QString("heap.turn.%1").arg(k), tr("Turn about %1").arg(axes[k]),
            tr("Turns what is selected by this angle about their middle, the axis through it along %1").arg(axes[k]));
        box->addWidget(labelled(tr("Turn about %1").arg(axes[k]), f));
        connect(f, &ValueField::changed, this, [this, k](std::optional<double> v, bool live) {
            if (v && !live && *v != 0) turn(k, *v);
        });
    }
    m_part = new QComboBox;
    m_part->setObjectName("heap.part");
    m_part->setToolTip(tr("The part that stands there"));
    box->addWidget(labelled(tr("Part"), m_part));
    connect(m_part, &QComboBox::activated, this, [this](int i) {
        take(swappedLoose(m_store.document(), m_heap, m_store.selection().places, m_part->itemData(i).toInt()),
             tr("Swap for %1").arg(m_part->itemText(i)));
    });
    m_remove = new QPushButton(tr("Delete what is selected"));
    m_remove->setObjectName("heap.remove");
    m_remove->setToolTip(tr("Takes the selected loose parts out (Delete)"));
    box->addWidget(m_remove, 0, Qt::AlignLeft);
    connect(m_remove, &QPushButton::clicked, this, [this] {
        take(withoutLoose(m_store.document(), m_heap, m_store.selection().places), tr("Delete loose parts"));
    });
    all->addWidget(m_chosen);
    m_frozen = new QCheckBox(tr("Frozen: the parts stay as they are"));
    m_frozen->setObjectName("heap.frozen");
    all->addWidget(m_frozen);
    connect(m_frozen, &QCheckBox::clicked, this, [this](bool on) {
        m_store.change<HeapItem>(m_heap, on ? tr("Freeze") : tr("Thaw"), {}, [&](HeapItem& h) { h.frozen = on; });
    });
}

void HeapEditor::show(const std::shared_ptr<const HeapResult>& heap) {
    if (!heap) return;
    const HeapItem& item = *heap->item;
    m_heap = item.id;
    const auto& chosen = m_store.selection().places;
    QString text = tr("%n loose part(s) that follow nothing.", nullptr, int(item.parts.size()));
    if (heap->problem) text += "\n" + m_store.say(heap->problem->text);
    if (chosen.size() == 1) {
        const Loose& l = item.parts[size_t(*chosen.begin())];
        text += "\n" + (l.place ? tr("Part %1 is selected; it was place %2.").arg(*chosen.begin() + 1).arg(l.place)
                                : tr("Part %1 is selected.").arg(*chosen.begin() + 1));
    } else if (chosen.empty()) {
        text += "\n" + tr("Click one in the view to move, turn, swap or delete it; Ctrl adds.");
    } else {
        text += "\n" + tr("%n are selected.", nullptr, int(chosen.size()));
    }
    m_says->setText(text);
    m_chosen->setVisible(!chosen.empty());
    m_chosen->setEnabled(!item.frozen);
    m_frozen->setChecked(item.frozen);
    if (chosen.empty()) return;
    m_middle = Vec3::Zero();
    for (int i : chosen) m_middle += item.parts[size_t(i)].frame.seat / double(chosen.size());
    for (int k = 0; k < 3; ++k) {
        m_at[size_t(k)]->setUnit(m_store.document().unit);
        m_at[size_t(k)]->setValue(m_middle[k]);
        m_turn[size_t(k)]->setValue(0);
    }
    fillItems(m_part, m_store.document().parts, item.parts[size_t(*chosen.begin())].part, tr("(deleted)"));
}

void HeapEditor::move(int axis, double to, bool live) {
    Vec3 by = Vec3::Zero();
    by[axis] = to - m_middle[axis];
    take(movedLoose(m_store.document(), m_heap, m_store.selection().places, by), tr("Move loose parts"),
         live ? QString("heap move %1").arg(axis) : QString());
}

void HeapEditor::turn(int axis, double by) {
    const Mat3 R = Eigen::AngleAxisd(by, Vec3::Unit(axis)).toRotationMatrix();
    take(movedLoose(m_store.document(), m_heap, m_store.selection().places, Vec3::Zero(), R, m_middle),
         tr("Turn loose parts"));
}

void HeapEditor::take(const Result<Document>& changed, const QString& step, const QString& merge) {
    if (changed)
        m_store.edit(*changed, step, merge);
    else
        emit m_store.refused(m_store.say(changed.problem().text));
}

} // namespace vicinal
