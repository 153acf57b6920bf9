#include "app/seat/seat_view.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/rounding.h"
#include "app/controls/theme.h"
#include "app/render/gl_canvas.h"
#include "model/document/part_item.h"
#include "model/document/run_item.h"
#include <QBoxLayout>
#include <QGuiApplication>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <cmath>

namespace vicinal {
SeatView::SeatView(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName("seatView");
    setAccessibleName(tr("Seat of the part"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 180);
    if (QGuiApplication::platformName() != "offscreen") {
        m_canvas = new GlCanvas(this, "seat.canvas");
        m_canvas->paint = [this](SceneRenderer& r) {
            Box3 box;
            for (const Vec3& p : corners(true)) box.extend(p);
            if (m_sceneDirty) build();
            if (box.isEmpty()) box.extend(Vec3(0, 0, 0));
            const Vec3 grow = Vec3::Constant(box.diagonal().norm() + 1);
            r.draw(m_camera, Box3(box.min() - grow, box.max() + grow), false);
        };
    }
    m_overlay = new Overlay(this, "seat.overlay", [this](QPainter& p) { paintOver(p); });
    buildBar();
    m_settle = new QTimer(this); // which marks are hidden is worked out when the view has come to rest
    m_settle->setSingleShot(true);
    m_settle->setInterval(120);
    connect(m_settle, &QTimer::timeout, this, [this] {
        m_visible.assign(m_spots.size(), 1);
        const bool few = m_part && m_stub && m_spots.size() * m_part->mesh->triangles.size() < 30'000'000;
        for (size_t i = 0; few && i < m_spots.size(); ++i) {
            const auto kind = m_spots[i].kind;
            if (kind == Spot::Kind::Corner || kind == Spot::Kind::EdgeMiddle || kind == Spot::Kind::FaceCentre)
                m_visible[i] = !hidden((pose() * m_spots[i].at.homogeneous()).head<3>());
        }
        m_overlay->update();
    });
    connect(&store, &Store::documentChanged, this, &SeatView::refresh);
    connect(&store, &Store::selectionChanged, this, &SeatView::refresh);
    setTool(Tool::Point);
    hide();
}

void SeatView::buildBar() {
    m_bar = new QWidget(this);
    m_bar->setObjectName("seat.bar");
    m_bar->setAttribute(Qt::WA_StyledBackground);
    m_bar->setStyleSheet(QString("#seat\\.bar { background: %1; border-bottom: 1px solid %2; }")
                             .arg(theme::paper().name(), theme::line().name()));
    auto* all = new QVBoxLayout(m_bar);
    all->setContentsMargins(12, 7, 12, 7);
    all->setSpacing(6);
    // Both rows become two where the view is narrow.
    m_top = new QBoxLayout(QBoxLayout::LeftToRight);
    m_top->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_tools = new Segmented(
        "seat.tool", {tr("Seat point"), tr("Nose"), tr("Crown"), tr("Pin 1"), tr("Pin 2"), tr("Line")},
        {tr("Click a mark of the part: it is put on the path there"),
         tr("Click a face, an edge or an axis: it faces along the path"),
         tr("Click a face, an edge or an axis: it points up"), tr("Click where the part meets the one behind it"),
         tr("Click where the part meets the one ahead of it"),
         tr("Click two marks: the line from the first to the second runs along the path")});
    m_tools->setMinimumHeight(28);
    m_top->addWidget(m_tools, 1);
    m_top->addLayout(row);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setAccessibleName(text);
        row->addWidget(b);
        return b;
    };
    auto* nose =
        button(tr("Nose 90\u00b0"), "seat.turnNose", tr("The nose a quarter turn to the left, about the crown"));
    auto* crown =
        button(tr("Crown 90\u00b0"), "seat.turnCrown", tr("The crown a quarter turn to the right, about the nose"));
    auto* done = button(tr("Done"), "seat.done", tr("Back to the runs (Esc)"));
    done->setProperty("kind", "primary");
    all->addLayout(m_top);
    buildLikely(all);
    connect(m_tools, &Segmented::picked, this, [this](int k) { setTool(Tool(k)); });
    connect(nose, &QPushButton::clicked, this,
            [this] { change(tr("Turn the nose"), [](Seat& s) { s = noseTurned(s); }); });
    connect(crown, &QPushButton::clicked, this,
            [this] { change(tr("Turn the crown"), [](Seat& s) { s = crownTurned(s); }); });
    connect(done, &QPushButton::clicked, this, &SeatView::leave);
}

/// What is likely of this part, and how near its neighbours are drawn.
void SeatView::buildLikely(QVBoxLayout* all) {
    m_below = new QBoxLayout(QBoxLayout::LeftToRight);
    m_below->setSpacing(6);
    auto* likely = new QWidget;
    likely->setMinimumHeight(28);
    m_likelyRow = new QHBoxLayout(likely);
    m_likelyRow->setContentsMargins(0, 0, 0, 0);
    m_likelyRow->setSpacing(6);
    auto* title = new QLabel(tr("Likely"));
    title->setProperty("role", "muted");
    m_busy = new QLabel(tr("looking for corners, edges and holes\u2026"));
    m_busy->setProperty("role", "muted");
    m_busy->setObjectName("seat.busy");
    m_likelyRow->addWidget(title);
    m_likelyRow->addWidget(m_busy);
    m_likelyRow->addStretch(1);
    m_near = new QPushButton(tr("Neighbours nearer"));
    m_near->setObjectName("seat.near");
    m_near->setCheckable(true);
    m_near->setToolTip(
        tr("Draws the neighbours close by instead of at the run's spacing, so that they can be compared"));
    connect(m_near, &QPushButton::clicked, this, [this] {
        refresh();
        frame(false);
    });
    m_below->addWidget(likely, 1);
    m_below->addWidget(m_near);
    all->addLayout(m_below);
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
    m_tools->setCurrent(int(t));
    m_hover.reset();
    m_cursor = -1;
    if (t != Tool::FirstPin && t != Tool::SecondPin) m_pinBegun = {};
    m_lineBegun.reset();
    m_overlay->update();
}

bool SeatView::ready() const { return m_part && m_lookedAt == m_part->body; }

void SeatView::refresh() {
    if (!m_open) return;
    if (m_action == Action::None) m_hover.reset(); // what was under the pointer may have gone
    const auto part = m_store.currentPart();
    if (!part) return leave();
    if (part->item->id != m_id) {
        m_id = part->item->id;
        m_framed = false;
        m_part.reset();
        m_stub.reset();
        m_pinBegun = {};
    }
    if (part->body && part->seated && !part->problem) {
        const bool first = !m_part;
        m_part = part;
        if (first) m_near->setChecked(spacing() > 3 * part->mesh->box.diagonal().norm());
        PlacementInput order;
        order.seat = part->item->seat;
        order.partBox = part->mesh->box;
        order.seated = part->seated;
        if (const auto run = m_store.currentRun()) order.facing = run->item->facing;
        auto stub = stubOf(order, pitch());
        if (!stub) {
            order.facing = Facing{};
            stub = stubOf(order, pitch());
        }
        if (stub) m_stub = std::move(stub).value();
    }
    if (m_part && m_part->body != m_lookedAt && m_part->body != m_looking) findMarks();
    rebuildProposals();
    m_sceneDirty = true;
    if (!m_framed && m_part && m_stub) frame(false);
    moved();
}

/// Marks and likely seats, on another thread: a large mesh takes a while.
void SeatView::findMarks() {
    m_looking = m_part->body;
    m_lookedAt.reset(); // its marks go now, so that coming back to it looks again
    m_spots.clear();
    m_visible.clear();
    m_proposals.clear();
    m_finding.run(
        [body = m_looking](Job& job) {
            Looked out{spotsOf(*body, 400), {}};
            if (!stopped(&job.stop)) out.holes = holesOf(*body);
            return out;
        },
        [this, body = m_looking](std::optional<Looked> found) {
            if (body != m_looking) return; // another one is being looked at by now
            m_looking.reset();
            m_lookedAt = body;
            if (found) m_spots = std::move(found->spots), m_holes = std::move(found->holes);
            rebuildProposals();
            moved();
        });
}

void SeatView::rebuildProposals() {
    m_busy->setVisible(!ready());
    while (m_likelyRow->count() > 3) {
        auto* item = m_likelyRow->takeAt(2);
        if (item->widget()) item->widget()->deleteLater(), item->widget()->hide();
        delete item;
    }
    if (!ready()) return;
    m_proposals = proposalsFor(*m_part->body, m_part->item->seat, &m_holes);
    const Unit unit = m_store.document().unit;
    int at = 2;
    for (size_t i = 0; i < m_proposals.size(); ++i) {
        const Proposal& p = m_proposals[i];
        const auto pins = pinsOf(*m_part->body, p.seat);
        const QString apart = pins ? lengthText(((*pins)[1] - (*pins)[0]).norm(), unit) : QString();
        QString text, tip;
        switch (p.kind) {
        case Proposal::Kind::Foot:
            text = tr("Foot centre"), tip = tr("It stands on the path by the middle of its foot");
            break;
        case Proposal::Kind::Middle: text = tr("Middle"), tip = tr("The path runs through its middle"); break;
        case Proposal::Kind::TwoHoles:
            text = tr("Two holes %1").arg(apart);
            tip = tr("It has two equal holes: the seat half-way, pins in both, the nose along the line through them");
            break;
        case Proposal::Kind::OwnPins:
            text = tr("Own pins %1").arg(apart);
            tip = tr("As its maker gives them");
            break;
        }
        const bool now = m_part->item->seat == p.seat;
        auto* b = new QPushButton(now ? QString("\u2713 ") + text : text);
        b->setObjectName(QString("seat.likely.%1").arg(i));
        b->setToolTip(tip);
        b->setAccessibleName(text);
        connect(b, &QPushButton::clicked, this, [this, seat = p.seat, text] {
            change(tr("Seat: %1").arg(text.toLower()), [&](Seat& s) { s = seat; });
        });
        m_likelyRow->insertWidget(at++, b);
    }
    placeBar();
}

/// What the ghosts stand apart: the spacing, or less of it when that is far more than the part is long.
double SeatView::pitch() const {
    const double length = std::max(m_part->seated->sizes().x(), 0.2 * m_part->mesh->box.diagonal().norm());
    return m_near->isChecked() ? std::min(spacing(), 1.6 * length) : spacing();
}

/// The pitch of the run in hand, else of the first that uses the part; else the pins' or a little more than the part.
double SeatView::spacing() const {
    const auto of = [&](const RunResult& r) {
        return r.item->part == m_id && r.placed && r.placed->count() > 1 ? r.placed->laid->pitch : 0.0;
    };
    if (const auto run = m_store.currentRun())
        if (const double p = of(*run); p > 0) return p;
    for (const auto& r : m_store.evaluation().runs)
        if (const double p = of(*r); p > 0) return p;
    if (const auto pins = pinsOf(*m_part->body, m_part->item->seat))
        if (const double p = ((*pins)[1] - (*pins)[0]).norm(); p > 0) return p;
    return std::max(m_part->seated->sizes().x() * 1.25, m_part->mesh->box.diagonal().norm() * 0.05);
}

Mat4 SeatView::pose() const { return m_stub->places.pose(Stub::kMiddle); }
double SeatView::reach() const { return m_part->mesh->box.diagonal().norm() / 2; }

void SeatView::build() {
    m_sceneDirty = false;
    std::vector<Batch> batches;
    if (m_part && m_stub) {
        std::vector<QRgb> colours(m_stub->places.count(), QColor("#dfe3e1").rgba());
        colours[Stub::kMiddle] = theme::steel().rgba();
        batches.push_back({m_part->mesh, [this](size_t i) { return m_stub->places.pose(i); }, std::move(colours)});
    }
    m_canvas->renderer().setScene(std::move(batches), Vec3(0, 0, 0));
    // A quiet ground a little below what is lowest, so that height can be told.
    std::vector<Vec3> ends;
    if (m_part && m_stub) {
        const double step = roundStep(reach() / 2);
        for (int i = -16; i <= 16; ++i)
            for (int k = -16; k < 16; k += 4) {
                ends.push_back(Vec3(i * step, k * step, 0));
                ends.push_back(Vec3(i * step, (k + 4) * step, 0));
                ends.push_back(Vec3(k * step, i * step, 0));
                ends.push_back(Vec3((k + 4) * step, i * step, 0));
            }
        m_canvas->renderer().setGrid(ends, theme::gridLine(), 14 * step);
    }
}

std::vector<Vec3> SeatView::corners(bool neighbours) const {
    std::vector<Vec3> out;
    if (!m_part || !m_stub) return out;
    for (size_t i = 0; i < m_stub->places.count(); ++i)
        if (neighbours || i == Stub::kMiddle) addCorners(m_stub->places.pose(i), m_part->mesh->box, out);
    return out;
}

void SeatView::setLook(int look) {
    m_look = std::clamp(look, 0, 3);
    m_camera.look(m_look);
    frame(false);
    emit lookChanged();
}

void SeatView::frame(bool neighbours) {
    if (!m_part || !m_stub) return;
    m_hover.reset();
    m_framed = m_untouched = true;
    std::vector<Vec3> points = corners(neighbours);
    points.push_back(Vec3(0, 0, 0));
    if (!neighbours) { // with room for the arrows
        points.push_back(tip(true));
        points.push_back(tip(false));
        points.push_back(-0.8 * tip(true));
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

std::optional<QPointF> SeatView::pixelOf(const Vec3& p) const {
    if (!m_stub) return std::nullopt;
    const auto at = m_camera.project((pose() * p.homogeneous()).head<3>());
    return at ? std::optional(QPointF(at->x(), at->y())) : std::nullopt;
}

/// Tips of the arrows, world: the stub runs along +x through the origin, and so do the nose and its crown.
Vec3 SeatView::tip(bool nose) const {
    const Mat3& R = m_stub->places.frame(Stub::kMiddle).axes;
    const Vec3 d = R.col(nose ? 0 : 2);
    const Box3& s = *m_part->seated;
    const double out = nose ? std::max(s.max().x(), 0.0) : std::max(s.max().z(), 0.0);
    return d * (out + 0.35 * reach()); // the seat point is at the origin
}

std::optional<QPointF> SeatView::noseTip() const {
    if (!m_part || !m_stub) return std::nullopt;
    const auto p = m_camera.project(tip(true));
    return p ? std::optional(QPointF(p->x(), p->y())) : std::nullopt;
}

std::optional<QPointF> SeatView::crownTip() const {
    if (!m_part || !m_stub) return std::nullopt;
    const auto p = m_camera.project(tip(false));
    return p ? std::optional(QPointF(p->x(), p->y())) : std::nullopt;
}

} // namespace vicinal
