#include "app/seat/seat_view.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "app/seat/seat_bar.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include <QGuiApplication>
#include <QTimer>
#include <utility>

namespace vicinal {
SeatView::SeatView(Store& store, QWidget* parent)
    : QWidget(parent), m_store(store), m_stage(store), m_marks(this, [this] {
          rebuildProposals();
          moved();
      }) {
    setObjectName("seatView");
    setAccessibleName(tr("Seat of the part"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 180);
    if (QGuiApplication::platformName() != "offscreen") {
        m_canvas = new GlCanvas(this, "seat.canvas");
        m_canvas->paint = [this](SceneRenderer& r) {
            Box3 box;
            for (const Vec3& p : m_stage.corners(true)) box.extend(p);
            if (std::exchange(m_sceneDirty, false)) m_stage.draw(r);
            if (box.isEmpty()) box.extend(Vec3(0, 0, 0));
            const Vec3 grow = Vec3::Constant(box.diagonal().norm() + 1);
            r.draw(m_camera, Box3(box.min() - grow, box.max() + grow), false);
        };
    }
    m_overlay = new Overlay(this, "seat.overlay", [this](QPainter& p) { paintOver(p); });
    m_bar = new SeatBar(this);
    connect(m_bar, &SeatBar::toolPicked, this, [this](int k) { setTool(Tool(k)); });
    connect(m_bar, &SeatBar::turnWanted, this, [this](bool nose) {
        change(nose ? tr("Turn the nose") : tr("Turn the crown"),
               [nose](Seat& s) { s = nose ? noseTurned(s) : crownTurned(s); });
    });
    connect(m_bar, &SeatBar::done, this, &SeatView::leave);
    connect(m_bar, &SeatBar::nearerChanged, this, [this] {
        refresh();
        frame(false);
    });
    connect(m_bar, &SeatBar::likelyPicked, this, [this](size_t i) {
        if (i >= m_marks.proposals().size()) return;
        const Proposal taken = m_marks.proposals()[i];
        const QString name = wordsOf(taken, *m_stage.part().body, m_store.document().unit).first;
        change(tr("Seat: %1").arg(name.toLower()), [&](Seat& s) { s = taken.seat; });
    });
    m_settle = new QTimer(this); // which marks are hidden is worked out when the view has come to rest
    m_settle->setSingleShot(true);
    m_settle->setInterval(120);
    connect(m_settle, &QTimer::timeout, this, [this] {
        m_marks.sight(m_stage, m_camera);
        m_overlay->update();
    });
    connect(&store, &Store::documentChanged, this, &SeatView::refresh);
    connect(&store, &Store::selectionChanged, this, &SeatView::refresh);
    setTool(Tool::Point);
    hide();
}

SeatView::~SeatView() { delete m_canvas; }

void SeatView::open() {
    if (!m_store.currentPart()) return;
    m_open = true;
    m_framed = false;
    m_message.clear();
    setTool(Tool::Point);
    refresh();
    emit openChanged();
    setFocus();
}

void SeatView::leave() {
    if (!m_open) return;
    m_open = false;
    m_action = Action::None;
    emit openChanged();
}

void SeatView::setTool(Tool t) {
    m_tool = t;
    m_bar->setTool(int(t));
    m_hover.reset();
    m_cursor = -1;
    if (t != Tool::FirstPin && t != Tool::SecondPin) m_pinBegun = {};
    m_lineBegun.reset();
    m_overlay->update();
}

void SeatView::refresh() {
    if (!m_open) return;
    if (m_action == Action::None) m_hover.reset(); // what was under the pointer may have gone
    const auto part = m_store.currentPart();
    if (!part) return leave();
    const bool first = m_stage.take(part) || !m_stage.there();
    if (part->item->id != m_shown) {
        m_shown = part->item->id;
        m_framed = false;
        m_pinBegun = {};
    }
    if (m_stage.taken() && m_stage.part().item == part->item && !part->problem) {
        if (first) m_bar->setNearer(m_stage.spacing() > 3 * part->mesh->box.diagonal().norm());
        m_stage.setUp(m_bar->nearer());
    }
    if (m_stage.taken()) m_marks.lookAt(m_stage.part().body);
    rebuildProposals();
    m_sceneDirty = true;
    if (!m_framed && m_stage.there()) frame(false);
    moved();
}

void SeatView::setLook(int look) {
    m_look = std::clamp(look, 0, 3);
    m_camera.look(m_look);
    frame(false);
    emit lookChanged();
}

void SeatView::frame(bool neighbours) {
    if (!m_stage.there()) return;
    m_hover.reset();
    m_framed = m_untouched = true;
    std::vector<Vec3> points = m_stage.corners(neighbours);
    points.push_back(Vec3(0, 0, 0));
    if (!neighbours) { // with room for the arrows
        points.push_back(m_stage.tip(true));
        points.push_back(m_stage.tip(false));
        points.push_back(-0.8 * m_stage.tip(true));
    }
    m_camera.frame(points);
    // The bar covers the top of the view, the texts its foot.
    m_camera.zoom(m_camera.height / std::max(100.0, m_camera.height - m_bar->height() - 70), m_camera.width / 2,
                  m_camera.height / 2);
    m_camera.pan(0, (m_bar->height() - 70) / 2.0);
    moved();
}

void SeatView::moved() {
    if (m_canvas) m_canvas->update();
    m_settle->start();
    m_overlay->update();
}

void SeatView::rebuildProposals() {
    m_bar->setBusy(!ready());
    std::vector<SeatBar::Likely> likely;
    if (m_stage.taken()) {
        m_marks.propose(m_stage.part());
        for (const Proposal& p : m_marks.proposals()) {
            auto [text, tip] = wordsOf(p, *m_stage.part().body, m_store.document().unit);
            likely.push_back({text, tip, m_stage.part().item->seat == p.seat});
        }
    }
    m_bar->setLikely(likely);
    m_bar->place(width());
}

std::optional<QPointF> SeatView::pixelOf(const Vec3& p) const { return m_stage.pixelOf(m_camera, p); }

std::optional<QPointF> SeatView::arrowTip(bool nose) const {
    if (!m_stage.there()) return std::nullopt;
    const auto p = m_camera.project(m_stage.tip(nose));
    return p ? std::optional(QPointF(p->x(), p->y())) : std::nullopt;
}

} // namespace vicinal
