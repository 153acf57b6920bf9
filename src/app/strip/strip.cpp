#include "app/strip/strip.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/dialogs/profile_keys.h"
#include "app/state/checks.h"
#include "layout/along/changes.h"
#include "layout/vehicles/envelope.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include <QComboBox>
#include <QSettings>
#include <QToolButton>

namespace vicinal {
Strip::Strip(Store& store, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName("strip");
    setAccessibleName(tr("Strip: the path pulled straight"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
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
    m_choice->setGeometry(6, int(heightOf(Lane::Station) + heightOf(Lane::Places)) - 24, int(kLabels) - 12, 22);
    m_choice->hide();
    connect(m_choice, &QComboBox::activated, this, [this](int i) {
        m_chosen = m_choice->itemData(i).toInt();
        refit();
        update();
    });
    const QSettings settings;
    m_order = settings.value("strip/order").toStringList();
    m_hidden = settings.value("strip/hidden").toStringList();
    setFolded(false);
    connect(&store, &Store::documentChanged, this, [this] { refit(), update(); });
    connect(&store, &Store::selectionChanged, this, [this] { refit(), update(); });
    connect(&store.checks(), &Checks::changed, this, [this] { refit(), update(); });
    connect(&store.checks(), &Checks::shownChanged, this, [this] { update(); });
}

QSize Strip::sizeHint() const {
    double height = 1;
    for (const Lane& l : m_lanes)
        if (!m_folded || l.kind == Lane::Station) height += naturalHeight(l.kind);
    return {800, int(height)};
}

void Strip::setTall(bool tall) {
    m_tall = tall;
    setSizePolicy(QSizePolicy::Expanding, tall ? QSizePolicy::Expanding : QSizePolicy::Fixed);
    m_fold->setVisible(!tall);
    if (tall && m_folded) setFolded(false);
    refit();
    update();
}

double Strip::heightOf(Lane::Kind kind) const {
    const double natural = naturalHeight(kind);
    if (!m_tall || kind == Lane::Station) return natural;
    double all = 0;
    for (const Lane& l : m_lanes) all += l.kind == Lane::Station ? 0 : naturalHeight(l.kind);
    return natural * std::max(1.0, (height() - naturalHeight(Lane::Station) - 1) / std::max(all, 1.0));
}

double Strip::naturalHeight(Lane::Kind kind) {
    switch (kind) {
    case Lane::Station: return 34;
    case Lane::Places: return 58;
    case Lane::Gaps: return 50;
    case Lane::Tightness: return 40;
    case Lane::Bays: return 26;
    case Lane::Changes: return 56;
    case Lane::Marks: return 24;
    case Lane::SweptEnvelope: return 52;
    case Lane::Check: return 30;
    }
    return 0;
}

QString Strip::laneName(const Lane& l) const {
    switch (l.kind) {
    case Lane::Station: return tr("station");
    case Lane::Places: return tr("places");
    case Lane::Gaps: return tr("gap along");
    case Lane::Tightness: return tr("tightness");
    case Lane::Bays: return tr("bays");
    case Lane::Marks: return tr("marks");
    case Lane::SweptEnvelope: return tr("swept width");
    case Lane::Check: {
        const CheckResult* r = checkOf(l);
        if (!r) { // not measured yet
            const auto of = checkNamed(l.profile);
            return of ? tr(wordsOf(*of).lane) : QString();
        }
        if (r->check.other == 0) return tr(wordsOf(r->check.of).lane);
        const auto other = m_store.evaluation().standing(r->check.other);
        const QString name = other ? QString::fromStdString(other->name) : tr("deleted");
        return QFontMetricsF(theme::font(12)).elidedText(tr("to %1").arg(name), Qt::ElideRight, kLabels - 22);
    }
    case Lane::Changes: break;
    }
    return profile_keys::title(l.profile);
}

/// Which lanes there are: those that always stand, bays where there are some, profiles that have keys or were asked
/// for, in the order they were put in by hand; without those that were hidden.
void Strip::refreshLanes() {
    std::vector<Lane> all{{Lane::Station, {}}, {Lane::Places, {}}, {Lane::Gaps, {}}};
    const auto shown = run();
    if (shown && shown->placed && !shown->placed->laid->bays.empty()) all.push_back({Lane::Bays, {}});
    if (shown && shown->sweeps) all.push_back({Lane::SweptEnvelope, {}});
    addCheckLanes(all);
    if (shown)
        for (const char* name : kProfiles) {
            const Profile* p = profileOf(*shown->item, name);
            if (p && (!p->empty() || m_added.count({shown->item->id, name}))) all.push_back({Lane::Changes, name});
        }
    all.push_back({Lane::Tightness, {}});
    refreshMarks();
    if (!m_marks.empty()) all.push_back({Lane::Marks, {}});
    const auto rank = [&](const Lane& l) {
        const int at = int(m_order.indexOf(l.key()));
        return at < 0 ? 1000 : at;
    };
    std::stable_sort(all.begin() + 1, all.end(), [&](const Lane& a, const Lane& b) { return rank(a) < rank(b); });
    std::erase_if(all, [&](const Lane& l) { return m_hidden.contains(l.key()); });
    if (all == m_lanes) return;
    m_lanes = std::move(all);
    setMinimumHeight(sizeHint().height());
    updateGeometry();
}

void Strip::moveLane(const Lane& which, int by) {
    QStringList order;
    for (const Lane& l : m_lanes)
        if (l.kind != Lane::Station) order += l.key();
    const int at = int(order.indexOf(which.key()));
    if (at < 0) return;
    order.move(at, std::clamp(at + by, 0, int(order.size()) - 1));
    m_order = order;
    refit();
    update();
    remember();
}

void Strip::hideLane(const Lane& which, bool hide) {
    hide ? m_hidden.append(which.key()) : void(m_hidden.removeAll(which.key()));
    refit();
    update();
    remember();
}

void Strip::remember() const {
    QSettings settings;
    settings.setValue("strip/order", m_order);
    settings.setValue("strip/hidden", m_hidden);
}

void Strip::addLane(const std::string& profile) {
    if (const auto shown = run()) m_added.insert({shown->item->id, profile});
    hideLane({Lane::Changes, profile}, false);
}

void Strip::setFolded(bool folded) {
    m_folded = folded;
    m_fold->setArrowType(folded ? Qt::UpArrow : Qt::DownArrow);
    m_fold->setToolTip(folded ? tr("Show places, gaps and tightness, too") : tr("Fold to the ruler"));
    setMinimumHeight(sizeHint().height());
    updateGeometry();
    refit();
    update();
}

void Strip::showDrawn(std::optional<Path> path) {
    if (!path && !m_drawn) return;
    m_drawn = std::move(path);
    refit();
    update();
}

/// The run that is shown: the selected one; one on the selected path; one of the selected part; else the last one.
std::shared_ptr<const RunResult> Strip::run() const {
    if (m_drawn) return nullptr;
    const Selection& s = m_store.selection();
    const auto& runs = m_store.evaluation().runs;
    const auto first = [&](auto&& fits) -> std::shared_ptr<const RunResult> {
        std::shared_ptr<const RunResult> found;
        for (const auto& r : runs)
            if (fits(*r) && (!found || r->item->id == m_chosen)) found = r;
        return found;
    };
    switch (s.kind) {
    case Selection::Kind::Run: return m_store.evaluation().run(s.id);
    case Selection::Kind::Path: return first([&](const RunResult& r) { return r.item->path == s.id; });
    case Selection::Kind::Part:
        if (auto r = first([&](const RunResult& x) { return x.item->part == s.id; })) return r;
        break;
    case Selection::Kind::Body:
        if (const auto body = m_store.currentBody()) { // rails and cuts: the run they follow, or their path alone
            if (body->run) return m_store.evaluation().run(body->run->item->id);
            if (body->path) return first([&](const RunResult& r) { return r.item->path == body->path->item->id; });
        }
        break;
    case Selection::Kind::Heap:
    case Selection::Kind::None: break;
    }
    return first([&](const RunResult&) { return true; });
}

Id Strip::idOfPath() const {
    const Selection& s = m_store.selection();
    if (s.kind == Selection::Kind::Path) return s.id;
    const auto r = run();
    if (r) return r->item->path;
    if (const auto body = m_store.currentBody(); body && body->path) return body->path->item->id;
    return m_store.document().paths.empty() ? 0 : m_store.document().paths.front()->id;
}

std::optional<Path> Strip::path() const {
    if (m_drawn) return m_drawn;
    const auto it = m_store.evaluation().paths.find(idOfPath());
    return it == m_store.evaluation().paths.end() ? std::nullopt : it->second->path;
}

/// Several runs on the selected path: the user chooses which is shown. What was shown last is remembered.
void Strip::refreshChoice() {
    const Selection& s = m_store.selection();
    if (const auto shown = run()) m_chosen = shown->item->id;
    m_choice->clear();
    if (s.kind == Selection::Kind::Path && !m_drawn)
        for (const auto& r : m_store.evaluation().runs)
            if (r->item->path == s.id) m_choice->addItem(r->item->name.c_str(), r->item->id);
    const auto shown = run();
    m_choice->setCurrentIndex(shown ? m_choice->findData(shown->item->id) : -1);
    m_choice->setVisible(!m_folded && m_choice->count() > 1);
    m_choice->move(6, int(lane(Lane::Places).bottom()) - 24);
}

/// The selection as it is when its run is the one shown; else that run with nothing selected in it.
Selection Strip::selectionOf(const RunResult& run) const {
    Selection s = m_store.selection();
    if (s.kind != Selection::Kind::Run || s.id != run.item->id) s = {Selection::Kind::Run, run.item->id, {}, -1, {}};
    s.point = -1;
    return s;
}

QRectF Strip::lane(Lane::Kind kind) const { return lane(Lane{kind, {}}); }

QRectF Strip::lane(const Lane& which) const {
    double top = 0;
    for (const Lane& l : m_lanes) {
        if (m_folded && l.kind != Lane::Station) continue;
        const double height = heightOf(l.kind);
        if (l == which) return {kLabels, top, std::max(10.0, width() - kLabels), height};
        top += height;
    }
    return {}; // not shown
}

/// The lane under a pixel's height; nothing beyond them.
std::optional<Strip::Lane> Strip::laneAt(double y) const {
    for (const Lane& l : m_lanes)
        if (const QRectF r = lane(l); y >= r.top() && y < r.bottom()) return l;
    return std::nullopt;
}

double Strip::placesY() const { return lane(Lane::Places).center().y(); }

void Strip::refit() {
    const auto path = this->path();
    m_map.left = kLabels + 14;
    m_map.width = std::max(10.0, width() - kLabels - 28);
    refreshChoice();
    refreshLanes();
    if (!path) {
        m_shown = 0;
        return;
    }
    const Id shown = m_drawn ? -1 : idOfPath();
    const bool whole = m_shown != shown || m_map.perPixel * m_map.width >= m_shownLength * 1.0199;
    m_map.length = path->length();
    m_shownLength = m_map.length;
    m_shown = shown;
    if (whole)
        m_map.showAll();
    else
        m_map.scroll(0);
}

void Strip::resizeEvent(QResizeEvent*) {
    m_map.left = kLabels + 14;
    m_map.width = std::max(10.0, width() - kLabels - 28);
    m_map.showAll();
    refit();
}

} // namespace vicinal
