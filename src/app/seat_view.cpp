#include "app/seat_view.h"
#include "app/controls.h"
#include "app/format.h"
#include "app/gl_canvas.h"
#include "app/picking.h"
#include "app/seat_fields.h"
#include "app/theme.h"
#include <QFutureWatcher>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QtConcurrentRun>
#include <cmath>

namespace vicinal {
namespace {

class SeatOverlay : public QWidget {
public:
    SeatOverlay(QWidget* parent, std::function<void(QPainter&)> paint) : QWidget(parent), m_paint(std::move(paint)) {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAttribute(Qt::WA_NoSystemBackground);
        setObjectName("seat.overlay");
    }
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        m_paint(p);
    }

private:
    std::function<void(QPainter&)> m_paint;
};

double away(const QPointF& a, const QPointF& b) { return std::hypot(a.x() - b.x(), a.y() - b.y()); }

struct Looked {
    std::vector<Spot> spots;
    std::vector<Proposal> proposals;
};

} // namespace

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
            if (m_stub && m_part) {
                for (const Mat4& m : m_stub->places.poses)
                    for (int c = 0; c < 8; ++c)
                        box.extend(Vec3((m * m_part->mesh->box.corner(Box3::CornerType(c)).homogeneous()).head<3>()));
            }
            if (m_sceneDirty) build();
            if (box.isEmpty()) box.extend(Vec3(0, 0, 0));
            const Vec3 grow = Vec3::Constant(box.diagonal().norm() + 1);
            r.draw(m_camera, Box3(box.min() - grow, box.max() + grow), false);
        };
    }
    m_overlay = new SeatOverlay(this, [this](QPainter& p) { paintOver(p); });
    m_bar = new QWidget(this);
    m_bar->setObjectName("seat.bar");
    m_bar->setAttribute(Qt::WA_StyledBackground);
    m_bar->setStyleSheet(QString("#seat\\.bar { background: %1; border-bottom: 1px solid %2; }")
                             .arg(theme::paper().name(), theme::line().name()));
    auto* all = new QVBoxLayout(m_bar);
    all->setContentsMargins(12, 7, 12, 7);
    all->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_tools = new Segmented("seat.tool", {tr("Seat point"), tr("Nose"), tr("Crown"), tr("Pin 1"), tr("Pin 2")},
                            {tr("Click a mark of the part: it is put on the path there"),
                             tr("Click a face, an edge or an axis: it faces along the path"),
                             tr("Click a face, an edge or an axis: it points up"),
                             tr("Click where the part meets the one behind it"),
                             tr("Click where the part meets the one ahead of it")});
    row->addWidget(m_tools, 1);
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
    all->addLayout(row);
    m_likely = new QWidget;
    m_likelyRow = new QHBoxLayout(m_likely);
    m_likelyRow->setContentsMargins(0, 0, 0, 0);
    m_likelyRow->setSpacing(6);
    m_title = new QLabel(tr("Likely"));
    m_title->setProperty("role", "muted");
    m_busy = new QLabel(tr("looking for corners, edges and holes\u2026"));
    m_busy->setProperty("role", "muted");
    m_busy->setObjectName("seat.busy");
    m_likelyRow->addWidget(m_title);
    m_likelyRow->addWidget(m_busy);
    m_likelyRow->addStretch(1);
    m_near = new QPushButton(tr("Neighbours nearer"));
    m_near->setObjectName("seat.near");
    m_near->setCheckable(true);
    m_near->setToolTip(
        tr("Draws the neighbours close by instead of at the run's spacing, so that they can be compared"));
    m_likelyRow->addWidget(m_near);
    connect(m_near, &QPushButton::clicked, this, [this] {
        refresh();
        frame(false);
    });
    all->addWidget(m_likely);
    connect(m_tools, &Segmented::picked, this, [this](int k) { setTool(Tool(k)); });
    connect(nose, &QPushButton::clicked, this,
            [this] { change(tr("Turn the nose"), [](Seat& s) { s = noseTurned(s); }); });
    connect(crown, &QPushButton::clicked, this,
            [this] { change(tr("Turn the crown"), [](Seat& s) { s = crownTurned(s); }); });
    connect(done, &QPushButton::clicked, this, &SeatView::leave);
    m_settle = new QTimer(this); // which marks are hidden is worked out when the view has come to rest
    m_settle->setSingleShot(true);
    m_settle->setInterval(120);
    connect(m_settle, &QTimer::timeout, this, [this] {
        m_visible.assign(m_spots.size(), 1);
        const bool few = m_part && m_spots.size() * m_part->mesh->triangles.size() < 30'000'000;
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
        PlaceOrder order;
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
    m_spots.clear();
    m_visible.clear();
    m_proposals.clear();
    auto* watcher = new QFutureWatcher<Looked>(this);
    connect(watcher, &QFutureWatcher<Looked>::finished, this, [this, watcher, body = m_looking] {
        watcher->deleteLater();
        if (body != m_looking) return; // another one is being looked at by now
        m_looking.reset();
        m_lookedAt = body;
        Looked found = watcher->result();
        m_spots = std::move(found.spots);
        m_proposals = std::move(found.proposals);
        rebuildProposals();
        moved();
    });
    watcher->setFuture(QtConcurrent::run([body = m_looking] {
        return Looked{spotsOf(*body, 400), proposalsFor(*body)};
    }));
}

void SeatView::rebuildProposals() {
    m_busy->setVisible(!ready());
    while (m_likelyRow->count() > 4) {
        auto* item = m_likelyRow->takeAt(2);
        if (item->widget()) item->widget()->deleteLater(), item->widget()->hide();
        delete item;
    }
    if (!ready()) return;
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
            text = tr("Between two holes, %1").arg(apart);
            tip = tr("It has two equal holes: the seat half-way, pins in both, the nose along the line through them");
            break;
        case Proposal::Kind::OwnPins:
            text = tr("Between its pins, %1").arg(apart);
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
        return r.item->part == m_id && r.places && r.places->count() > 1 ? r.places->pitch : 0.0;
    };
    if (const auto run = m_store.currentRun())
        if (const double p = of(*run); p > 0) return p;
    for (const auto& r : m_store.evaluation().runs)
        if (const double p = of(*r); p > 0) return p;
    if (const auto pins = pinsOf(*m_part->body, m_part->item->seat))
        if (const double p = ((*pins)[1] - (*pins)[0]).norm(); p > 0) return p;
    return std::max(m_part->seated->sizes().x() * 1.25, m_part->mesh->box.diagonal().norm() * 0.05);
}

const Mat4& SeatView::pose() const { return m_stub->places.poses[Stub::kMiddle]; }
Vec3 SeatView::seatAt() const { return Vec3(0, 0, 0); }
double SeatView::reach() const { return m_part->mesh->box.diagonal().norm() / 2; }

void SeatView::build() {
    m_sceneDirty = false;
    std::vector<Batch> batches;
    std::vector<Mat4> middle, others;
    if (m_part && m_stub) {
        for (size_t i = 0; i < m_stub->places.count(); ++i)
            (i == Stub::kMiddle ? middle : others).push_back(m_stub->places.poses[i]);
        batches.push_back({m_part->mesh, middle, {theme::steel().rgba()}});
        batches.push_back({m_part->mesh, others, std::vector<QRgb>(others.size(), QColor("#dfe3e1").rgba())});
    }
    m_canvas->renderer().setScene(std::move(batches), Vec3(0, 0, 0));
    // A quiet ground a little below what is lowest, so that height can be told.
    std::vector<Vec3> ends;
    if (m_part && m_stub) {
        const double r = reach(), power = std::pow(10, std::floor(std::log10(r)));
        const double step = r < 2 * power ? power / 2 : r < 5 * power ? power : 2 * power;
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

void SeatView::setLook(int look) {
    const std::array<double, 4> yaws{-60 * kDegree, -kPi / 2, -kPi / 2, 0}, pitches{30 * kDegree, kPi / 2, 0, 0};
    m_look = std::clamp(look, 0, 3);
    m_camera.yaw = yaws[size_t(m_look)];
    m_camera.pitch = pitches[size_t(m_look)];
    m_camera.parallel = m_look != 0;
    frame(false);
    emit lookChanged();
}

void SeatView::frame(bool neighbours) {
    if (!m_part || !m_stub) return;
    m_hover.reset();
    m_framed = true;
    std::vector<Vec3> points;
    for (size_t i = 0; i < m_stub->places.count(); ++i) {
        if (!neighbours && i != Stub::kMiddle) continue;
        for (int c = 0; c < 8; ++c)
            points.push_back(
                (m_stub->places.poses[i] * m_part->mesh->box.corner(Box3::CornerType(c)).homogeneous()).head<3>());
    }
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
    const Mat3 R = seatToWorld(pose(), m_part->item->seat);
    const Vec3 d = R.col(nose ? 0 : 2);
    const Box3& s = *m_part->seated;
    const double out = nose ? std::max(s.max().x(), 0.0) : std::max(s.max().z(), 0.0);
    return seatAt() + d * (out + 0.35 * reach());
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

/// True when the part itself stands before a point.
bool SeatView::hidden(const Vec3& world) const {
    const auto at = m_camera.project(world);
    if (!at) return true;
    const auto [start, direction] = m_camera.ray(at->x(), at->y());
    const Mat3 R = pose().topLeftCorner<3, 3>();
    const Vec3 s = R.transpose() * (start - pose().topRightCorner<3, 1>()), d = R.transpose() * direction;
    const double there = (world - start).dot(direction);
    const auto hit = hitMesh(*m_part->mesh, s, d, m_camera.parallel ? -1e300 : 0);
    return hit && hit->distance < there - 2e-3 * reach() - 1.5 * m_camera.scale();
}

/// The mark under the pointer that suits, nearest first; for directions also the bare face.
std::optional<SeatView::Pick> SeatView::pickAt(const QPointF& at, bool directions) const {
    if (!m_part || !m_stub) return std::nullopt;
    std::vector<std::pair<double, size_t>> near;
    for (size_t i = 0; i < m_spots.size(); ++i) {
        const Spot& s = m_spots[i];
        if (directions && s.direction.isZero()) continue;
        const auto p = pixelOf(s.at);
        if (!p) continue;
        if (const double d = away(*p, at); d < 11) near.emplace_back(d, i);
    }
    std::sort(near.begin(), near.end());
    for (size_t k = 0; k < near.size() && k < 8; ++k) {
        const Spot& s = m_spots[near[k].second];
        const bool onSurface =
            s.kind == Spot::Kind::Corner || s.kind == Spot::Kind::EdgeMiddle || s.kind == Spot::Kind::FaceCentre;
        if (onSurface && hidden((pose() * s.at.homogeneous()).head<3>())) continue;
        return Pick{s, s.at, s.direction};
    }
    if (!directions) return std::nullopt;
    const auto [start, direction] = m_camera.ray(at.x(), at.y());
    const Mat3 R = pose().topLeftCorner<3, 3>();
    const Vec3 s = R.transpose() * (start - pose().topRightCorner<3, 1>()), d = R.transpose() * direction;
    const Mesh& mesh = *m_part->mesh;
    const auto hit = hitMesh(mesh, s, d, m_camera.parallel ? -1e300 : 0);
    if (!hit) return std::nullopt;
    const auto& t = mesh.triangles[hit->triangle];
    Vec3 n = (mesh.points[t[1]] - mesh.points[t[0]]).cross(mesh.points[t[2]] - mesh.points[t[0]]).normalized();
    if (n.dot(d) > 0) n = -n;
    for (const Spot& spot : m_spots) // to the last digit, where the face is known
        if (spot.kind == Spot::Kind::FaceCentre && spot.direction.dot(n) > 1 - 1e-9) n = spot.direction;
    for (int k = 0; k < 6; ++k)
        if (directionOf(Axis{k}).dot(n) > 1 - 1e-12) n = directionOf(Axis{k});
    return Pick{std::nullopt, s + hit->distance * d, n};
}

void SeatView::change(const QString& step, const std::function<void(Seat&)>& how) {
    m_message.clear();
    if (m_part) m_store.changePart(m_id, step, {}, [&](PartItem& p) { how(p.seat); });
    m_store.seal();
}

void SeatView::take(const Pick& pick, Tool tool) {
    switch (tool) {
    case Tool::Point: {
        // A point of the box stays one, and follows when the part is changed.
        std::variant<BoxPoint, Vec3> point = pick.at;
        const Box3& box = m_part->mesh->box;
        for (int k = 0; k < 27; ++k) {
            Seat s;
            s.point = BoxPoint{k % 3 - 1, k / 3 % 3 - 1, k / 9 - 1};
            if ((seatPoint(s, box) - pick.at).norm() < 1e-9 * (1 + box.diagonal().norm())) point = s.point;
        }
        return change(tr("Seat point"), [&](Seat& s) { s.point = point; });
    }
    case Tool::Nose: return takeDirection(pick.direction, true);
    case Tool::Crown: return takeDirection(pick.direction, false);
    case Tool::FirstPin: return takePin(pick.at, 0);
    case Tool::SecondPin: return takePin(pick.at, 1);
    }
}

/// Edges and axes have two senses: the one nearer to what is there now; the same once more turns it round.
void SeatView::takeDirection(const Vec3& direction, bool nose) {
    if (direction.isZero()) return;
    const Seat& now = m_part->item->seat;
    const Direction& old = nose ? now.nose : now.crown;
    Vec3 d = direction;
    const bool faces = m_hover && (!m_hover->spot || m_hover->spot->kind == Spot::Kind::FaceCentre);
    if (!faces && d.dot(old.v) < 0) d = -d;
    if (d.dot(old.v) > 1 - 1e-12) d = -d;
    Direction taken(d);
    for (int k = 0; k < 6; ++k)
        if (directionOf(Axis{k}).dot(taken.v) > 1 - 1e-12) taken = Axis{k};
    change(nose ? tr("Nose") : tr("Crown"), [&](Seat& s) {
        Direction& mine = nose ? s.nose : s.crown;
        Direction& other = nose ? s.crown : s.nose;
        if (std::abs(taken.v.dot(other.v)) > std::cos(kDegree)) other = mine; // gives way, so that one click is enough
        mine = taken;
    });
}

void SeatView::takePin(const Vec3& at, int which) {
    const auto have = pinsOf(*m_part->body, m_part->item->seat);
    m_pinBegun[size_t(which)] = at;
    const auto other = m_pinBegun[size_t(1 - which)] ? m_pinBegun[size_t(1 - which)]
                       : have                        ? std::optional((*have)[size_t(1 - which)])
                                                     : std::nullopt;
    const Tool next = which == 0 ? Tool::SecondPin : Tool::FirstPin;
    if (!other) { // the first of two: the other one is asked for
        const auto begun = m_pinBegun;
        setTool(next);
        m_pinBegun = begun;
        return say(which == 0 ? tr("Now click where it meets the part ahead of it (pin 2).")
                              : tr("Now click where it meets the part behind it (pin 1)."));
    }
    if ((*other - at).norm() < tolerance::length) {
        m_pinBegun[size_t(which)].reset();
        return say(tr("Both pins would be at the same point. Choose another one."));
    }
    const Pins pins = which == 0 ? Pins{at, *other} : Pins{*other, at};
    m_pinBegun = {};
    change(tr("Pin %1").arg(which + 1), [&](Seat& s) { s.pins = pins; });
    if (which == 0 && !have) setTool(Tool::SecondPin);
}

void SeatView::say(const QString& text) {
    m_message = text;
    m_overlay->update();
}

QString SeatView::words(const Pick& p) const {
    const Unit unit = m_store.document().unit;
    const auto at = [&](const Vec3& v) {
        return lengthText(v.x(), unit, false) + ", " + lengthText(v.y(), unit, false) + ", " + lengthText(v.z(), unit);
    };
    if (!p.spot) return tr("face, towards %1").arg(directionText(Direction(p.direction)));
    QString what;
    switch (p.spot->kind) {
    case Spot::Kind::Corner: what = tr("corner"); break;
    case Spot::Kind::EdgeMiddle: what = tr("edge middle, %1 long").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::FaceCentre: what = tr("face centre"); break;
    case Spot::Kind::HoleAxis: what = tr("hole \u2300 %1").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::ShaftAxis: what = tr("shaft \u2300 %1").arg(lengthText(p.spot->size, unit)); break;
    case Spot::Kind::VolumeCentre: what = tr("centre of volume"); break;
    case Spot::Kind::BoxPoint: what = tr("box point"); break;
    }
    if (p.spot->error > 1e-6) what += tr(", fits to %1").arg(lengthText(p.spot->error, unit));
    const bool direction =
        m_action == Action::Nose || m_action == Action::Crown || m_tool == Tool::Nose || m_tool == Tool::Crown;
    if (direction) return tr("%1 \u00b7 towards %2").arg(what, directionText(Direction(p.direction)));
    return tr("%1 \u00b7 at %2").arg(what, at(p.at));
}

QString SeatView::hoverText() const { return m_hover ? words(*m_hover) : QString(); }

// ---------------------------------------------------------------------------------------------------- mouse and keys

bool SeatView::event(QEvent* e) {
    if (e->type() == QEvent::ShortcutOverride) {
        const auto* k = static_cast<QKeyEvent*>(e);
        if (!(k->modifiers() & (Qt::ControlModifier | Qt::MetaModifier))) {
            e->accept(); // letters and digits mean this view while it is open
            return true;
        }
    }
    return QWidget::event(e);
}

void SeatView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    m_pressed = m_last = e->position();
    m_dragged = false;
    m_message.clear();
    if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && (e->modifiers() & Qt::AltModifier))) {
        m_action = Action::Pan;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    const auto nose = noseTip(), crown = crownTip();
    if (nose && away(*nose, e->position()) < 13)
        m_action = Action::Nose;
    else if (crown && away(*crown, e->position()) < 13)
        m_action = Action::Crown;
    else
        m_action = Action::Orbit;
}

void SeatView::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position(), by = at - m_last;
    m_last = at;
    if (m_action != Action::None && away(at, m_pressed) > 4) m_dragged = true;
    if (m_action == Action::Pan || (m_action == Action::Orbit && m_dragged)) {
        m_action == Action::Pan || m_look != 0 ? m_camera.pan(by.x(), by.y()) : m_camera.orbit(by.x(), by.y());
        m_hover.reset();
        return moved();
    }
    const bool directions =
        m_action == Action::Nose || m_action == Action::Crown || m_tool == Tool::Nose || m_tool == Tool::Crown;
    m_hover = pickAt(at, directions);
    const auto nose = noseTip(), crown = crownTip();
    const bool arrow = (nose && away(*nose, at) < 13) || (crown && away(*crown, at) < 13);
    setCursor(m_hover ? Qt::PointingHandCursor : arrow ? Qt::OpenHandCursor : Qt::ArrowCursor);
    m_overlay->update();
}

void SeatView::mouseReleaseEvent(QMouseEvent* e) {
    const Action action = m_action;
    m_action = Action::None;
    if (e->button() != Qt::LeftButton) return moved();
    if (action == Action::Nose || action == Action::Crown) {
        m_hover = pickAt(e->position(), true);
        if (!m_dragged)
            setTool(action == Action::Nose ? Tool::Nose : Tool::Crown);
        else if (m_hover)
            takeDirection(m_hover->direction, action == Action::Nose);
        else
            say(tr("Drop the arrow on a face, an edge or an axis of the part."));
        m_hover.reset();
        return moved();
    }
    if (action == Action::Orbit && !m_dragged) {
        const bool directions = m_tool == Tool::Nose || m_tool == Tool::Crown;
        m_hover = pickAt(e->position(), directions);
        if (m_hover) {
            const Pick pick = *m_hover;
            take(pick, m_tool);
        }
        m_hover.reset();
    }
    moved();
}

void SeatView::wheelEvent(QWheelEvent* e) {
    m_camera.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x(), e->position().y());
    moved();
}

void SeatView::leaveEvent(QEvent*) {
    m_hover.reset();
    m_overlay->update();
}

/// The keyboard's way over the marks: arrows go from one to the next, Enter takes it.
void SeatView::step(int by) {
    const bool directions = m_tool == Tool::Nose || m_tool == Tool::Crown;
    const int n = int(m_spots.size());
    for (int i = 1; i <= n; ++i) {
        const int at = ((m_cursor < 0 && by < 0 ? 0 : m_cursor) + by * i + 2 * n) % n;
        if (directions && m_spots[size_t(at)].direction.isZero()) continue;
        m_cursor = at;
        const Spot& s = m_spots[size_t(at)];
        m_hover = Pick{s, s.at, s.direction};
        break;
    }
    m_overlay->update();
}

void SeatView::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
    case Qt::Key_Escape:
        if (m_action != Action::None) {
            m_action = Action::None;
            m_hover.reset();
            return moved();
        }
        return leave();
    case Qt::Key_A: return frame(true);
    case Qt::Key_F: return frame(false);
    case Qt::Key_1: return setLook(0);
    case Qt::Key_2: return setLook(1);
    case Qt::Key_3: return setLook(2);
    case Qt::Key_4: return setLook(3);
    case Qt::Key_Right:
    case Qt::Key_Down: return step(1);
    case Qt::Key_Left:
    case Qt::Key_Up: return step(-1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_hover) {
            const Pick pick = *m_hover;
            take(pick, m_tool);
        }
        return;
    default: QWidget::keyPressEvent(e);
    }
}

// ------------------------------------------------------------------------------------------------------------ drawing

void SeatView::showEvent(QShowEvent*) {
    placeBar();
    if (m_part && m_stub) frame(false);
}

void SeatView::placeBar() {
    m_bar->ensurePolished();
    m_bar->layout()->activate();
    m_bar->setGeometry(0, 0, width(), std::max(m_bar->sizeHint().height(), m_bar->minimumSizeHint().height()));
    m_bar->raise();
}

void SeatView::resizeEvent(QResizeEvent* e) {
    if (m_canvas) m_canvas->setGeometry(rect());
    m_overlay->setGeometry(rect());
    placeBar();
    m_camera.width = e->size().width();
    m_camera.height = e->size().height();
    if (m_part && m_stub && (!e->oldSize().isValid() || !m_framed)) frame(false);
}

void SeatView::paintEvent(QPaintEvent*) {
    if (m_canvas && m_canvas->isVisible()) return;
    QPainter p(this);
    p.fillRect(rect(), theme::skyBottom());
}

void SeatView::paintArrow(QPainter& p, const Vec3& from, const Vec3& to, const QColor& colour, const QString& name,
                          bool hot) const {
    const auto a = m_camera.project(from), b = m_camera.project(to);
    if (!a || !b) return;
    const QPointF s(a->x(), a->y()), t(b->x(), b->y());
    p.setPen(QPen(colour, hot ? 3.2 : 2.2));
    p.drawLine(s, t);
    QPointF d = t - s;
    const double length = std::hypot(d.x(), d.y());
    d = length > 1 ? d / length : QPointF(0, -1);
    const QPointF n(-d.y(), d.x());
    p.setBrush(colour);
    p.setPen(Qt::NoPen);
    p.drawPolygon(QPolygonF{t + d * 8, t - d * 4 + n * 6, t - d * 4 - n * 6});
    p.setFont(theme::font(12, QFont::DemiBold));
    p.setPen(colour);
    p.drawText(QRectF(t + d * 14 + n * (n.y() < 0 ? 16 : -16) - QPointF(40, 10), QSizeF(80, 20)), Qt::AlignCenter,
               name);
}

void SeatView::paintMarks(QPainter& p) const {
    if (!ready()) return;
    const bool directions =
        m_tool == Tool::Nose || m_tool == Tool::Crown || m_action == Action::Nose || m_action == Action::Crown;
    for (size_t i = 0; i < m_spots.size(); ++i) {
        const Spot& s = m_spots[i];
        if (directions && s.direction.isZero()) continue;
        if (i < m_visible.size() && !m_visible[i]) continue;
        const auto at = pixelOf(s.at);
        if (!at) continue;
        // Where there are very many, only those near the pointer.
        if (m_spots.size() > 160 && away(*at, m_last) > 90) continue;
        QColor ink = theme::ink();
        ink.setAlpha(s.kind == Spot::Kind::BoxPoint ? 70 : 150);
        p.setPen(QPen(ink, 1));
        p.setBrush(QColor(255, 255, 255, 200));
        const QPointF c = *at;
        switch (s.kind) {
        case Spot::Kind::Corner: p.drawRect(QRectF(c - QPointF(2.5, 2.5), QSizeF(5, 5))); break;
        case Spot::Kind::EdgeMiddle:
            p.drawPolygon(
                QPolygonF{c + QPointF(0, -3.5), c + QPointF(3.5, 0), c + QPointF(0, 3.5), c + QPointF(-3.5, 0)});
            break;
        case Spot::Kind::FaceCentre: p.drawEllipse(c, 3, 3); break;
        case Spot::Kind::HoleAxis:
        case Spot::Kind::ShaftAxis:
            p.drawEllipse(c, 4.5, 4.5);
            p.drawLine(c - QPointF(7, 0), c + QPointF(7, 0));
            p.drawLine(c - QPointF(0, 7), c + QPointF(0, 7));
            break;
        case Spot::Kind::VolumeCentre:
            p.setBrush(ink);
            p.drawEllipse(c, 2.5, 2.5);
            break;
        case Spot::Kind::BoxPoint:
            p.drawLine(c - QPointF(2.5, 2.5), c + QPointF(2.5, 2.5));
            p.drawLine(c - QPointF(2.5, -2.5), c + QPointF(2.5, -2.5));
            break;
        }
    }
}

void SeatView::paintPins(QPainter& p) const {
    auto pins = pinsOf(*m_part->body, m_part->item->seat);
    std::array<std::optional<Vec3>, 2> shown = m_pinBegun;
    for (size_t k = 0; k < 2; ++k)
        if (!shown[k] && pins) shown[k] = (*pins)[k];
    std::array<std::optional<QPointF>, 2> at;
    for (size_t k = 0; k < 2; ++k)
        if (shown[k]) at[k] = pixelOf(*shown[k]);
    const QColor colour = theme::ochre();
    if (at[0] && at[1]) {
        p.setPen(QPen(colour, 1.4, Qt::DashLine));
        p.drawLine(*at[0], *at[1]);
        const QString text = lengthText((*shown[1] - *shown[0]).norm(), m_store.document().unit);
        const QPointF middle = (*at[0] + *at[1]) / 2;
        p.setFont(theme::font(12, QFont::DemiBold));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
        p.setPen(QPen(colour, 1));
        p.setBrush(theme::paper());
        const QRectF box(middle + QPointF(-w / 2, 12), QSizeF(w, 20));
        p.drawRoundedRect(box, 4, 4);
        p.setPen(colour);
        p.drawText(box, Qt::AlignCenter, text);
    }
    p.setFont(theme::font(11, QFont::Bold));
    for (size_t k = 0; k < 2; ++k) {
        if (!at[k]) continue;
        p.setPen(QPen(Qt::white, 1.4));
        p.setBrush(colour);
        p.drawEllipse(*at[k], 9, 9);
        p.drawText(QRectF(*at[k] - QPointF(9, 9), QSizeF(18, 18)), Qt::AlignCenter, QString::number(k + 1));
    }
}

void SeatView::paintOver(QPainter& p) {
    if (!m_part || !m_stub) { // there never was a good one
        const auto wrong = m_store.currentPart();
        p.setPen(theme::brick());
        p.setFont(theme::font(13));
        if (wrong && wrong->problem)
            p.drawText(rect().adjusted(40, m_bar->height(), -40, 0), Qt::AlignCenter | Qt::TextWordWrap,
                       QString("\u2715  ") + QString::fromStdString(wrong->problem->text));
        return;
    }
    const auto pill = [&](QPointF at, const QString& text, const QColor& border, const QColor& ink) {
        p.setFont(theme::font(12));
        const QFontMetricsF metrics(p.font());
        const QString shown = metrics.elidedText(text, Qt::ElideRight, std::max(80.0, width() - 30.0));
        QRectF box(at, QSizeF(metrics.horizontalAdvance(shown) + 18, 25));
        box.moveLeft(std::clamp(box.left(), 6.0, std::max(6.0, width() - box.width() - 6)));
        box.moveTop(
            std::clamp(box.top(), m_bar->height() + 6.0, std::max(m_bar->height() + 6.0, height() - box.height() - 6)));
        p.setPen(QPen(border, 1));
        p.setBrush(theme::paper());
        p.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
        p.setPen(ink);
        p.drawText(box, Qt::AlignCenter, shown);
    };
    // The stub.
    p.setPen(QPen(theme::accent(), 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    std::optional<Vec3> before;
    for (const Vec3& v : m_stub->path.polyline(m_stub->path.length() * 1e-4)) {
        const auto at = m_camera.project(v);
        if (at && before && std::abs(at->x()) < 1e5 && std::abs(at->y()) < 1e5)
            p.drawLine(QPointF(before->x(), before->y()), QPointF(at->x(), at->y()));
        before = at;
    }
    paintMarks(p);
    const bool noseHot = m_action == Action::Nose || m_tool == Tool::Nose,
               crownHot = m_action == Action::Crown || m_tool == Tool::Crown;
    paintArrow(p, seatAt(), tip(true), theme::accent(), tr("nose"), noseHot);
    paintArrow(p, seatAt(), tip(false), QColor("#4a62ad"), tr("crown"), crownHot);
    paintPins(p);
    if (const auto at = m_camera.project(seatAt())) {
        const QPointF c(at->x(), at->y());
        p.setPen(QPen(Qt::white, 4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, 6.5, 6.5);
        p.setPen(QPen(theme::accent(), 2.4));
        p.drawEllipse(c, 6.5, 6.5);
    }
    if ((m_action == Action::Nose || m_action == Action::Crown) && m_dragged)
        if (const auto a = m_camera.project(seatAt())) {
            p.setPen(QPen(m_action == Action::Nose ? theme::accent() : QColor("#4a62ad"), 1.6, Qt::DashLine));
            p.drawLine(QPointF(a->x(), a->y()), m_last);
        }
    if (m_hover) {
        const auto at = pixelOf(m_hover->at);
        if (at) {
            p.setPen(QPen(theme::accent(), 2));
            p.setBrush(theme::accentTint());
            p.drawEllipse(*at, 6, 6);
            if (!m_hover->direction.isZero() && (m_tool == Tool::Nose || m_tool == Tool::Crown ||
                                                 m_action == Action::Nose || m_action == Action::Crown))
                if (const auto to = pixelOf(m_hover->at + m_hover->direction * reach() * 0.4)) p.drawLine(*at, *to);
            pill(*at + QPointF(14, 14), words(*m_hover), theme::accent(), theme::accent());
        }
    }
    const Unit unit = m_store.document().unit;
    const Seat& seat = m_part->item->seat;
    const Box3& s = *m_part->seated;
    const auto len = [&](double v) { return lengthText(v, unit, false); };
    pill({12, height() - 62.0},
         tr("%1 before, %2 behind \u00b7 %3 left, %4 right \u00b7 %5 up, %6 down")
             .arg(len(s.max().x()), len(-s.min().x()), len(s.max().y()), len(-s.min().y()), len(s.max().z()),
                  lengthText(-s.min().z(), unit)),
         theme::line(), theme::ink());
    pill(
        {12, height() - 33.0},
        tr("nose %1 \u00b7 crown %2 \u00b7 %3 \u00b7 A shows all, F the part")
            .arg(directionText(seat.nose), directionText(seat.crown),
                 pitch() < spacing()
                     ? tr("neighbours drawn nearer, at %1 instead of %2").arg(len(pitch()), lengthText(spacing(), unit))
                     : tr("neighbours at %1").arg(lengthText(spacing(), unit))),
        theme::line(), theme::muted());
    const auto now = m_store.currentPart();
    QString message = m_message;
    if (now && now->problem) message = QString::fromStdString(now->problem->text);
    if (!message.isEmpty()) pill({12, m_bar->height() + 8.0}, message, theme::brick(), theme::brick());
}

} // namespace vicinal
