#include "app/view/tools/draw_bar.h"
#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/view/toolbox.h"
#include "app/view/tools/draw_tool.h"
#include "app/view/viewport.h"
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace vicinal {

DrawBar::DrawBar(Viewport& view, QWidget* parent) : QWidget(parent), m_view(view) {
    setObjectName("drawBar");
    setAccessibleName(tr("How the path is drawn"));
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(QString("#drawBar { background: %1; border: 1px solid %2; border-radius: 5px; }")
                      .arg(theme::paper().name(), theme::line().name()));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(8, 8, 8, 8);
    box->setSpacing(6);
    m_mode = new Segmented(
        "draw.mode",
        {tr("smooth"), tr("straight"), tr("arc on"), tr("arc through"), tr("arc radius"), tr("handles"), tr("by hand")},
        {tr("A smooth curve through the points (C: smooth or straight)"), tr("Straight legs with corners"),
         tr("An arc that goes on in the direction the path ends in"), tr("An arc: click a point on it, then its end"),
         tr("An arc of the radius beside; below zero it bends to the other side"),
         tr("A curve with handles: press, pull the handle out, let go"),
         tr("Draw with the button held; as few points as will do are kept")});
    box->addWidget(m_mode);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_plane = new Segmented(
        "draw.plane", {tr("plan"), tr("front"), tr("side"), tr("face\u2026")},
        {tr("Draw on the ground or level with it"), tr("Draw on an upright plane, seen from the front"),
         tr("Draw on an upright plane, seen from the side"), tr("Click a face of a part: its plane is drawn on")});
    m_plane->setFixedWidth(236); // its words would be squeezed by the fields beside
    row->addWidget(m_plane);
    m_level = new ValueField(ValueField::Kind::Length, "draw.level", tr("Level"),
                             tr("Where the plane stands: its height, or how far behind the origin"));
    m_level->setFixedWidth(104);
    row->addWidget(m_level);
    m_radius = new ValueField(ValueField::Kind::Length, "draw.radius", tr("Radius"),
                              tr("Of the next arc; below zero it bends to the other side"));
    m_radius->setFixedWidth(104);
    m_radius->setSuffix(tr("r"));
    row->addWidget(m_radius);
    row->addStretch();
    m_snaps = new QPushButton(tr("Catches"));
    m_snaps->setObjectName("draw.snaps");
    m_snaps->setToolTip(tr("What the next point catches on; each can be switched off. Alt lets go of all."));
    auto* menu = new QMenu(m_snaps);
    for (int i = 0; i <= int(SnapKind::Grid); ++i) {
        auto* a = menu->addAction(tr(nameOf(SnapKind(i))));
        a->setObjectName(QString("snap.%1").arg(i));
        a->setCheckable(true);
        a->setChecked(true);
        connect(a, &QAction::toggled, this, [this, i](bool on) { m_view.tools().draw().setSnap(SnapKind(i), on); });
    }
    m_snaps->setMenu(menu);
    row->addWidget(m_snaps);
    const auto button = [&](const QString& text, const char* name, const QString& tip, auto&& act) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::NoFocus);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, act);
    };
    button(tr("Close"), "draw.close", tr("End with a leg back to the first point (click it, too)"),
           [this] { m_view.tools().draw().finish(true); });
    button(tr("Done"), "draw.done", tr("End here (Enter)"), [this] { m_view.tools().draw().finish(false); });
    box->addLayout(row);
    for (auto* b : findChildren<QPushButton*>()) b->setFocusPolicy(Qt::NoFocus); // keys stay with the view
    connect(m_mode, &Segmented::picked, this,
            [this](int k) { m_view.tools().draw().setPen(k == 6 ? PenMode::Smooth : PenMode(k), k == 6); });
    connect(m_plane, &Segmented::picked, this, [this](int k) {
        if (k == 3) return m_view.tools().pickDrawFace();
        m_view.setLook(Viewport::Look(int(Viewport::Look::Plan) + k));
    });
    connect(m_level, &ValueField::changed, this, [this](std::optional<double> v, bool) {
        if (v) m_view.tools().draw().setLevel(*v);
    });
    connect(m_radius, &ValueField::changed, this, [this](std::optional<double> v, bool) {
        if (v) m_view.tools().draw().setRadius(*v);
    });
    connect(m_level, &ValueField::finished, &m_view, [this] { m_view.setFocus(); });
    connect(m_radius, &ValueField::finished, &m_view, [this] { m_view.setFocus(); });
    connect(&m_view, &Viewport::drawingChanged, this, &DrawBar::refresh);
    connect(&m_view, &Viewport::lookChanged, this, &DrawBar::refresh);
}

void DrawBar::refresh() {
    setVisible(m_view.tools().drawing());
    if (!m_view.tools().drawing()) return;
    m_mode->setCurrent(m_view.tools().draw().freehand() ? 6 : int(m_view.tools().draw().pen().mode));
    m_plane->setCurrent(m_view.tools().picksFace()               ? 3
                        : m_view.look() == Viewport::Look::Front ? 1
                        : m_view.look() == Viewport::Look::Side  ? 2
                                                                 : 0);
    m_radius->setVisible(m_view.tools().draw().pen().mode == PenMode::ArcRadius);
    m_radius->setUnit(m_view.store().document().unit);
    m_level->setUnit(m_view.store().document().unit);
    m_radius->setValue(m_view.tools().draw().pen().radius);
    m_level->setValue(m_view.tools().draw().level());
    place();
}

void DrawBar::place() {
    adjustSize();
    const int w = std::min(std::max(sizeHint().width(), 560), parentWidget()->width() - 16);
    setGeometry((parentWidget()->width() - w) / 2, 42, w, sizeHint().height());
}

} // namespace vicinal
