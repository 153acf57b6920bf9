#include "app/strip/strip.h"
#include "app/controls/theme.h"
#include "app/state/checks.h"
#include "model/document/run_item.h"
#include <QComboBox>
#include <QToolButton>

namespace vicinal {

constexpr double kLabels = StripScene::kLabels;

Strip::Strip(Store& store, QWidget* parent) : QWidget(parent), m_scene(store, *this), m_lanes(m_scene) {
    setObjectName("strip");
    setAccessibleName(tr("Strip: the path pulled straight"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_scene.showSelection = [this] { emit showSelection(); };
    m_fold = new QToolButton(this);
    m_fold->setObjectName("strip.fold");
    m_fold->setProperty("kind", "flat");
    m_fold->setArrowType(Qt::DownArrow);
    m_fold->setAccessibleName(tr("Fold the strip to its ruler"));
    m_fold->setFocusPolicy(Qt::NoFocus);
    m_fold->setGeometry(int(kLabels) - 26, 6, 22, 22);
    connect(m_fold, &QToolButton::clicked, this, [this] { setFolded(!m_folded); });
    m_choice = new QComboBox(this);
    m_choice->setObjectName("strip.run");
    m_choice->setToolTip(tr("Which run on this path is shown"));
    m_choice->setAccessibleName(tr("Run that is shown"));
    m_choice->setFont(theme::font(11));
    m_choice->resize(int(kLabels) - 12, 22);
    m_choice->hide();
    connect(m_choice, &QComboBox::activated, this, [this](int i) {
        m_scene.chosen = m_choice->itemData(i).toInt();
        refresh();
    });
    setFolded(false);
    connect(&store, &Store::documentChanged, this, &Strip::refresh);
    connect(&store, &Store::selectionChanged, this, &Strip::refresh);
    connect(&store.checks(), &Checks::changed, this, &Strip::refresh);
    connect(&store.checks(), &Checks::shownChanged, this, [this] { update(); });
}

QSize Strip::sizeHint() const { return {800, int(m_lanes.naturalHeight(m_folded))}; }

void Strip::setTall(bool tall) {
    m_tall = tall;
    setSizePolicy(QSizePolicy::Expanding, tall ? QSizePolicy::Expanding : QSizePolicy::Fixed);
    m_fold->setVisible(!tall);
    if (tall && m_folded) setFolded(false);
    refresh();
}

void Strip::setFolded(bool folded) {
    m_folded = folded;
    m_fold->setArrowType(folded ? Qt::UpArrow : Qt::DownArrow);
    m_fold->setToolTip(folded ? tr("Show places, gaps and tightness, too") : tr("Fold to the ruler"));
    refresh();
    setMinimumHeight(sizeHint().height());
    updateGeometry();
}

void Strip::addLane(const std::string& profile) {
    m_lanes.show({LaneKind::Changes, profile});
    refresh();
}

void Strip::showDrawn(std::optional<Path> path) {
    if (!path && !m_scene.drawn) return;
    m_scene.drawn = std::move(path);
    refresh();
}

double Strip::placesY() const { return laneOf({LaneKind::Places}).center().y(); }

/// Several runs on the selected path: the user chooses which is shown. What was shown last is remembered.
void Strip::refreshChoice() {
    const Selection& s = m_scene.store.selection();
    if (const auto shown = m_scene.run()) m_scene.chosen = shown->item->id;
    m_choice->clear();
    if (s.kind == Selection::Kind::Path && !m_scene.drawn)
        for (const auto& r : m_scene.store.evaluation().runs)
            if (r->item->path == s.id) m_choice->addItem(r->item->name.c_str(), r->item->id);
    const auto shown = m_scene.run();
    m_choice->setCurrentIndex(shown ? m_choice->findData(shown->item->id) : -1);
}

void Strip::refresh() {
    refreshChoice();
    if (m_lanes.refresh()) {
        setMinimumHeight(sizeHint().height());
        updateGeometry();
    }
    refit();
    prepare();
}

void Strip::prepare() {
    m_lanes.layOut(size(), m_folded, m_tall);
    m_choice->setVisible(!m_folded && m_choice->count() > 1);
    m_choice->move(6, int(laneOf({LaneKind::Places}).bottom()) - 24);
    if (m_shown)
        for (StripLane* l : m_lanes.shown())
            if (!l->rect.isEmpty()) l->prepare();
    update();
}

/// The map over the path that is shown: where it was, or the whole of another one.
void Strip::refit() {
    StripMap& map = m_scene.map;
    map.left = kLabels + 14;
    map.width = std::max(10.0, width() - kLabels - 28);
    const auto path = m_scene.path();
    if (!path) {
        m_shown = 0;
        return;
    }
    const Id shown = m_scene.drawn ? -1 : m_scene.pathId();
    const bool whole = m_shown != shown || map.perPixel * map.width >= m_shownLength * 1.0199;
    map.length = m_shownLength = path->length();
    m_shown = shown;
    whole ? map.showAll() : map.scroll(0);
}

void Strip::resizeEvent(QResizeEvent*) {
    m_scene.map.left = kLabels + 14;
    m_scene.map.width = std::max(10.0, width() - kLabels - 28);
    m_scene.map.showAll();
    refresh();
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme::paper());
    for (const StripLane* l : m_lanes.shown()) {
        const QRectF& r = l->rect;
        if (r.isEmpty()) continue;
        p.setPen(QPen(theme::line(), 1));
        p.drawLine(QPointF(0, r.bottom()), QPointF(width(), r.bottom()));
        p.setPen(theme::muted());
        p.setFont(theme::font(12));
        p.drawText(QRectF(14, r.top(), kLabels - 20, r.height()), Qt::AlignVCenter | Qt::AlignLeft, l->name());
    }
    p.setPen(QPen(theme::line(), 1));
    p.drawLine(QPointF(0, 0), QPointF(width(), 0));
    p.drawLine(QPointF(kLabels, 0), QPointF(kLabels, height()));
    p.setClipRect(QRectF(kLabels + 1, 0, width() - kLabels, height()));
    if (!m_shown) {
        p.setPen(theme::muted());
        p.drawText(laneOf({m_folded ? LaneKind::Station : LaneKind::Places}), Qt::AlignCenter,
                   tr("There is no path yet."));
        return;
    }
    for (const StripLane* l : m_lanes.shown())
        if (!l->rect.isEmpty()) {
            p.setRenderHint(QPainter::Antialiasing);
            l->paint(p);
        }
}

} // namespace vicinal
