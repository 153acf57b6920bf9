#include "app/strip/strip.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "geometry/curves/edit.h"
#include <QComboBox>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QToolTip>
#include <cmath>

namespace vicinal {
namespace {

constexpr double kLabels = 118; // pixels of the column with the lanes' names
constexpr double kRuler = 34, kPlaces = 58, kGaps = 50, kBend = 40;

} // namespace

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
    m_choice->setGeometry(6, int(kRuler + kPlaces) - 24, int(kLabels) - 12, 22);
    m_choice->hide();
    connect(m_choice, &QComboBox::activated, this, [this](int i) {
        m_chosen = m_choice->itemData(i).toInt();
        refit();
        update();
    });
    setFolded(false);
    connect(&store, &Store::documentChanged, this, [this] { refit(), update(); });
    connect(&store, &Store::selectionChanged, this, [this] { refit(), update(); });
}

QSize Strip::sizeHint() const { return {800, int(m_folded ? kRuler : kRuler + kPlaces + kGaps + kBend) + 1}; }

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
    case Selection::Kind::None: break;
    }
    return first([&](const RunResult&) { return true; });
}

Id Strip::idOfPath() const {
    const Selection& s = m_store.selection();
    if (s.kind == Selection::Kind::Path) return s.id;
    const auto r = run();
    if (r) return r->item->path;
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
}

/// The selection as it is when its run is the one shown; else that run with nothing selected in it.
Selection Strip::selectionOf(const RunResult& run) const {
    Selection s = m_store.selection();
    if (s.kind != Selection::Kind::Run || s.id != run.item->id) s = {Selection::Kind::Run, run.item->id, {}, -1, {}};
    s.point = -1;
    return s;
}

QRectF Strip::lane(int index) const {
    const double tops[] = {0, kRuler, kRuler + kPlaces, kRuler + kPlaces + kGaps},
                 heights[] = {kRuler, kPlaces, kGaps, kBend};
    return {kLabels, tops[index], std::max(10.0, width() - kLabels), heights[index]};
}

double Strip::placesY() const { return lane(1).center().y(); }

void Strip::refit() {
    const auto path = this->path();
    m_map.left = kLabels + 14;
    m_map.width = std::max(10.0, width() - kLabels - 28);
    refreshChoice();
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

void Strip::paintRuler(QPainter& p) const {
    const QRectF r = lane(0);
    const Unit unit = m_store.document().unit;
    const bool metric = unit == Unit::Millimetre || unit == Unit::Centimetre || unit == Unit::Metre;
    // Long stretches read in metres or feet, short ones in the document's unit.
    double step = m_map.tickStep(1, 95);
    Unit shown = metric                                  ? (step >= 100 ? Unit::Metre : Unit::Millimetre)
                 : m_map.tickStep(25.4, 95) >= 12 * 25.4 ? Unit::Foot
                                                         : Unit::Inch;
    step = m_map.tickStep(millimetresPer(shown), 95);
    const int decimals = std::max(0, int(std::ceil(-std::log10(step / millimetresPer(shown)) - 1e-9)));
    p.setFont(theme::font(12));
    for (double s = std::ceil(std::max(0.0, m_map.from) / (step / 5)) * (step / 5); s <= m_map.length + 1e-9;
         s += step / 5) {
        const double x = m_map.x(s);
        if (x > r.right()) break;
        const bool main = std::abs(s / step - std::round(s / step)) < 1e-6;
        p.setPen(QPen(main ? theme::muted() : theme::line(), 1));
        p.drawLine(QPointF(x, r.bottom() - (main ? 12 : 5)), QPointF(x, r.bottom()));
        if (!main) continue;
        p.setPen(theme::ink());
        const QString text = QString::number(s / millimetresPer(shown), 'f', decimals) + " " + nameOf(shown);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
        p.drawText(QPointF(std::min(x + 4, r.right() - w - 2), r.top() + 16), text);
    }
}

void Strip::paintPlaces(QPainter& p, const RunResult& run) const {
    const Places& all = *run.placed;
    const QRectF r = lane(1).adjusted(0, 10, 0, -10);
    const bool stale = run.stale();
    const QColor plain = stale ? QColor("#c3c2bd") : QColor("#8095a0");
    const auto& selected = selectionOf(run).places;
    const Spacing& rule = run.item->spacing;
    if (!run.placed->path.closed()) { // what the insets keep empty
        p.fillRect(QRectF(QPointF(m_map.x(0), lane(1).top()), QPointF(m_map.x(rule.insetStart), lane(1).bottom())),
                   theme::accentTint());
        p.fillRect(QRectF(QPointF(m_map.x(m_map.length - rule.insetEnd), lane(1).top()),
                          QPointF(m_map.x(m_map.length), lane(1).bottom())),
                   theme::accentTint());
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    // Too many to tell apart: one column a pixel, painted once, with what is selected or left out winning.
    const bool dense = all.count() > 1 && all.laid->pitch / m_map.perPixel < 2;
    std::vector<char> columns(dense ? size_t(m_map.width) + 2 : 0);
    for (size_t i = 0; i < all.count(); ++i) {
        const Occupied& o = all.occupied(i);
        double a = m_map.x(all.stations()[i] - o.behind), b = m_map.x(all.stations()[i] + o.ahead);
        if (b < m_map.left - 20 || a > r.right()) continue;
        const bool isSelected = selected.count(int(i)) > 0, out = all.leftOut(i);
        if (dense) {
            const auto column = size_t(std::clamp(m_map.x(all.stations()[i]) - m_map.left, 0.0, m_map.width));
            columns[column] = std::max(columns[column], char(isSelected ? 3 : out ? 2 : 1));
            continue;
        }
        if (b - a < 2) b = a + 2;
        const QRectF bar(a, r.top(), b - a, r.height());
        if (out) {
            p.setPen(QPen(isSelected ? theme::accent() : theme::brick(), 1, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawRect(bar.adjusted(0, 0, -1, -1));
        } else {
            // Whole pixels, the last one left free: neighbours that touch stay countable, without a loose sliver.
            const double first = std::floor(a), last = std::max(first + 2, std::floor(b) - (b - a > 7 ? 1 : 0));
            p.fillRect(QRectF(first, r.top(), last - first, r.height()), isSelected ? theme::accent() : plain);
        }
    }
    for (size_t i = 0; i < columns.size(); ++i)
        if (columns[i])
            p.fillRect(QRectF(m_map.left + double(i), r.top(), 1, r.height()), columns[i] == 3   ? theme::accent()
                                                                               : columns[i] == 2 ? theme::brick()
                                                                                                 : plain);
    p.setRenderHint(QPainter::Antialiasing);
    if (!stale && !run.placed->path.closed()) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme::accent());
        for (double s : {rule.insetStart, m_map.length - rule.insetEnd}) {
            const QPointF c(m_map.x(s), lane(1).bottom() - 8);
            p.drawPolygon(QPolygonF{c, c + QPointF(5.5, 8), c + QPointF(-5.5, 8)});
        }
    }
}

void Strip::paintGaps(QPainter& p, const RunResult& run) const {
    const Spacing& rule = run.item->spacing;
    const QRectF r = lane(2).adjusted(0, 8, 0, -6);
    const auto columns = gapColumns(m_map, *run.placed, rule.gapAtLeast, rule.gapAtMost);
    double top = 0;
    for (const Gap& g : run.placed->gaps) top = std::max(top, g.clear());
    if (rule.gapAtMost) top = std::max(top, std::min(*rule.gapAtMost, top * 3 + 1));
    const int worst = tightestGap(*run.placed);
    top = std::max(top * 1.12, 1e-6);
    const auto height = [&](double v) { return std::clamp(v / top, 0.03, 1.0) * r.height(); };
    p.setRenderHint(QPainter::Antialiasing, false);
    const auto& selected = selectionOf(run).places;
    for (size_t i = 0; i < columns.size(); ++i) {
        const GapColumn& c = columns[i];
        if (!c.any) continue;
        const Gap& g = run.placed->gaps[c.worst];
        // Seen from afar a column is as tall as its largest gap when that is too large, else as its smallest.
        const double v = c.over ? c.most : c.least;
        QColor colour = run.stale() ? QColor("#d3d2cd") : c.over || c.under ? theme::brick() : theme::mossTint();
        if (!c.over && !c.under && selected.count(g.from) && !run.stale()) colour = theme::accent();
        p.fillRect(QRectF(m_map.left + double(i), r.bottom() - height(v), 1, height(v)), colour);
    }
    for (const auto& limit : {rule.gapAtMost, rule.gapAtLeast}) {
        if (!limit || *limit > top) continue;
        p.setPen(QPen(theme::brick(), 1, Qt::DashLine));
        const double y = r.bottom() - *limit / top * r.height();
        p.drawLine(QPointF(m_map.left, y), QPointF(m_map.x(m_map.length), y));
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (worst >= 0 && run.placed->gaps[worst].clear() < -tolerance::length) {
        p.setPen(theme::brick());
        p.setFont(theme::font(11, QFont::DemiBold));
        p.drawText(lane(2).adjusted(16, 2, -16, 0), Qt::AlignTop | Qt::AlignLeft, tr("\u2715 parts overlap"));
    }
}

/// How far the path bends away under a part as long as the run's: the mid-ordinate, length^2 * curvature / 8. Each
/// pixel shows the worst of its stretch.
void Strip::paintTightness(QPainter& p) {
    const auto path = this->path();
    if (!path) return;
    const auto run = this->run();
    const double part = run ? partLength(*run) : 0;
    if (!m_bendOf || m_bendOf->spans().data() != path->spans().data() ||
        m_bendMap != std::array{m_map.from, m_map.perPixel, m_map.width}) {
        m_bendOf = path;
        m_bendMap = {m_map.from, m_map.perPixel, m_map.width};
        const int n = int(m_map.width);
        std::vector<double> stations;
        for (int i = 0; i <= 2 * n; ++i)
            stations.push_back(std::clamp(m_map.station(m_map.left + i / 2.0), 0.0, m_map.length));
        const auto all = curvatures(*path, stations);
        m_bend.assign(size_t(n), 0);
        for (int i = 0; i < n; ++i)
            for (int k = 2 * i; k <= 2 * i + 2; ++k)
                m_bend[size_t(i)] = std::max(m_bend[size_t(i)], all[size_t(k)].norm());
    }
    const QRectF r = lane(3).adjusted(0, 18, 0, -1); // the text stands above
    double most = 0;
    size_t at = 0;
    for (size_t i = 0; i < m_bend.size(); ++i)
        if (m_bend[i] > most) most = m_bend[i], at = i;
    const Unit unit = m_store.document().unit;
    p.setFont(theme::font(11));
    if (most < 1e-9) {
        p.setPen(theme::muted());
        p.drawText(lane(3).adjusted(16, 0, -16, 0), Qt::AlignVCenter | Qt::AlignLeft, tr("straight"));
        return;
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    QColor fill = theme::ochre();
    fill.setAlpha(150);
    for (size_t i = 0; i < m_bend.size(); ++i) {
        const double x = m_map.left + double(i);
        if (m_map.station(x) < 0 || m_map.station(x) > m_map.length) continue;
        p.fillRect(QRectF(x, r.bottom() - m_bend[i] / most * r.height(), 1, m_bend[i] / most * r.height()), fill);
    }
    p.setRenderHint(QPainter::Antialiasing);
    const QString radius = tr("radius %1").arg(lengthText(1 / most, unit));
    const QString text = part > 0 ? tr("%1 off a part %2 long \u00b7 %3")
                                        .arg(lengthText(part * part * most / 8, unit), lengthText(part, unit), radius)
                                  : radius;
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text),
                 x = std::clamp(m_map.left + double(at) - w / 2, m_map.left, r.right() - w - 8);
    p.setPen(theme::ink());
    p.drawText(QPointF(x, lane(3).top() + 15), text);
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme::paper());
    const QString names[] = {tr("station"), tr("places"), tr("clear gap"), tr("tightness")};
    for (int i = 0; i < (m_folded ? 1 : 4); ++i) {
        p.setPen(QPen(theme::line(), 1));
        p.drawLine(QPointF(0, lane(i).bottom()), QPointF(width(), lane(i).bottom()));
        p.setPen(theme::muted());
        p.setFont(theme::font(12));
        p.drawText(QRectF(14, lane(i).top(), kLabels - 20, lane(i).height()), Qt::AlignVCenter | Qt::AlignLeft,
                   names[i]);
    }
    p.setPen(QPen(theme::line(), 1));
    p.drawLine(QPointF(0, 0), QPointF(width(), 0));
    p.drawLine(QPointF(kLabels, 0), QPointF(kLabels, height()));
    p.setClipRect(QRectF(kLabels + 1, 0, width() - kLabels, height()));
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_shown) {
        p.setPen(theme::muted());
        p.drawText(m_folded ? lane(0) : lane(1), Qt::AlignCenter, tr("There is no path yet."));
        return;
    }
    paintRuler(p);
    if (m_folded) return;
    paintTightness(p);
    const auto run = this->run();
    if (run && run->placed) {
        paintPlaces(p, *run);
        paintGaps(p, *run);
        if (m_drag == Drag::Band && m_dragged) {
            p.setPen(QPen(theme::accent(), 1));
            QColor fill = theme::accent();
            fill.setAlpha(36);
            p.setBrush(fill);
            p.drawRect(QRectF(QPointF(m_pressed.x(), lane(1).top() + 4), QPointF(m_last.x(), lane(1).bottom() - 4))
                           .normalized());
        }
    } else {
        p.setPen(theme::muted());
        p.drawText(QRectF(kLabels, kRuler, width() - kLabels, kPlaces), Qt::AlignCenter,
                   m_drawn ? tr("The path that is being drawn") : tr("No run follows this path yet."));
    }
}

Strip::Drag Strip::under(const QPointF& at) const {
    const auto run = this->run();
    if (m_folded) return Drag::Scroll;
    if (!run || !run->placed || run->stale() || !lane(1).adjusted(0, 0, 0, 2).contains(at))
        return at.y() < kRuler ? Drag::Scroll : Drag::None;
    if (!run->placed->path.closed() && at.y() > lane(1).bottom() - 11) {
        if (std::abs(at.x() - m_map.x(run->item->spacing.insetStart)) < 8) return Drag::InsetStart;
        if (std::abs(at.x() - m_map.x(m_map.length - run->item->spacing.insetEnd)) < 8) return Drag::InsetEnd;
    }
    return placeAt(m_map, *run->placed, at.x(), 3) >= 0 ? Drag::Slide : Drag::Band;
}

void Strip::mousePressEvent(QMouseEvent* e) {
    setFocus();
    if (e->button() != Qt::LeftButton && e->button() != Qt::MiddleButton) return;
    m_pressed = m_last = e->position();
    m_dragged = false;
    m_drag = e->button() == Qt::MiddleButton ? Drag::Scroll : under(e->position());
    ++m_dragNumber;
    if (const auto run = this->run()) {
        m_before = run->item->spacing;
        m_leftOverBefore = run->placed ? run->placed->laid->leftOver : 0;
    }
}

void Strip::mouseMoveEvent(QMouseEvent* e) {
    const QPointF at = e->position();
    if (m_drag == Drag::None) {
        const Drag d = under(at);
        setCursor(d == Drag::InsetStart || d == Drag::InsetEnd ? Qt::SizeHorCursor
                  : d == Drag::Slide                           ? Qt::PointingHandCursor
                                                               : Qt::ArrowCursor);
        return;
    }
    if ((at - m_pressed).manhattanLength() > 3) m_dragged = true;
    if (m_dragged) dragTo(at);
    m_last = at;
}

void Strip::dragTo(const QPointF& at) {
    if (m_drag == Drag::Scroll) {
        m_map.scroll(m_last.x() - at.x());
        return update();
    }
    if (m_drag == Drag::Band) return update();
    const auto run = this->run();
    if (!run || !run->path || !run->path->path) return;
    const Path& path = *run->path->path;
    const double round = std::pow(10, std::floor(std::log10(m_map.perPixel)));
    const double by = std::round((at.x() - m_pressed.x()) * m_map.perPixel / round) * round;
    const QString merge = QString("strip %1").arg(m_dragNumber);
    if (m_drag == Drag::Slide) {
        Stations now;
        now.leftOver = m_leftOverBefore;
        const Spacing next = slid(path, m_before, now, by);
        m_store.changeRun(run->item->id, tr("Slide the run"), merge, [&](RunItem& r) { r.spacing = next; });
    } else {
        const bool start = m_drag == Drag::InsetStart;
        const double room = path.length() - (start ? m_before.insetEnd : m_before.insetStart) - 1;
        const double inset = std::clamp(
            std::round(((start ? m_before.insetStart : m_before.insetEnd) + (start ? by : -by)) / round) * round, 0.0,
            std::max(0.0, room));
        m_store.changeRun(run->item->id, start ? tr("Inset at start") : tr("Inset at end"), merge,
                          [&](RunItem& r) { (start ? r.spacing.insetStart : r.spacing.insetEnd) = inset; });
    }
    const auto after = this->run();
    if (!after) return;
    const Unit unit = m_store.document().unit;
    const Spacing& s = after->item->spacing;
    QToolTip::showText(
        mapToGlobal(at.toPoint()) + QPoint(12, -34),
        path.closed()
            ? tr("slide %1").arg(lengthText(s.slide, unit))
            : tr("in at start %1, at end %2").arg(lengthText(s.insetStart, unit), lengthText(s.insetEnd, unit)),
        this);
}

void Strip::mouseReleaseEvent(QMouseEvent* e) {
    const Drag drag = m_drag;
    m_drag = Drag::None;
    if (drag == Drag::None) return;
    if (m_dragged && drag != Drag::Band) {
        m_store.seal();
        return;
    }
    const auto run = this->run();
    if (!run || !run->placed || (drag != Drag::Slide && drag != Drag::Band)) return;
    Selection s = selectionOf(*run);
    if (drag == Drag::Band && m_dragged) {
        if (!(e->modifiers() & Qt::ControlModifier)) s.places.clear();
        const double a = std::min(m_map.station(m_pressed.x()), m_map.station(e->position().x()));
        const double b = std::max(m_map.station(m_pressed.x()), m_map.station(e->position().x()));
        for (size_t i = 0; i < run->placed->count(); ++i)
            if (run->placed->stations()[i] >= a && run->placed->stations()[i] <= b) s.places.insert(int(i));
    } else {
        const int place = placeAt(m_map, *run->placed, e->position().x(), 6);
        if (place < 0)
            s.places.clear();
        else if (e->modifiers() & Qt::ControlModifier) {
            if (!s.places.erase(place)) s.places.insert(place);
        } else if ((e->modifiers() & Qt::ShiftModifier) && !s.places.empty()) {
            const int from = std::min(*s.places.begin(), place), to = std::max(*s.places.rbegin(), place);
            for (int i = from; i <= to; ++i) s.places.insert(i);
        } else
            s.places = {place};
    }
    m_store.select(s);
    update();
}

void Strip::wheelEvent(QWheelEvent* e) {
    if (e->modifiers() & Qt::ShiftModifier)
        m_map.scroll(-e->angleDelta().y() * 0.5 - e->angleDelta().x() * 0.5);
    else
        m_map.zoom(std::pow(0.9985, e->angleDelta().y()), e->position().x());
    update();
}

void Strip::keyPressEvent(QKeyEvent* e) {
    const auto run = this->run();
    const int step = e->key() == Qt::Key_Right ? 1 : e->key() == Qt::Key_Left ? -1 : 0;
    if (!run || !run->placed || step == 0 || run->placed->count() == 0) return QWidget::keyPressEvent(e);
    Selection s = selectionOf(*run);
    const int n = int(run->placed->count());
    const int from = s.places.empty() ? (step > 0 ? -1 : n) : step > 0 ? *s.places.rbegin() : *s.places.begin();
    const int to = std::clamp(from + step, 0, n - 1);
    if (!(e->modifiers() & Qt::ShiftModifier)) s.places.clear();
    s.places.insert(to);
    s.point = -1;
    m_store.select(s);
}

void Strip::contextMenuEvent(QContextMenuEvent* e) {
    const auto run = this->run();
    QMenu menu(this);
    if (run && run->placed && !run->stale()) {
        const int place = placeAt(m_map, *run->placed, e->pos().x(), 6);
        if (place >= 0 && !m_store.selection().places.count(place))
            m_store.select({Selection::Kind::Run, run->item->id, {place}, -1, {}});
        if (!m_store.selection().places.empty()) {
            const int first = place >= 0 ? place : *m_store.selection().places.begin();
            const bool out = run->placed->leftOut(first);
            menu.addAction(out ? tr("Bring back") : tr("Leave out"), this, [this, out] { m_store.setLeftOut(!out); });
            menu.addAction(tr("Go to it"), this, &Strip::showSelection);
            menu.addSeparator();
        }
    }
    menu.addAction(tr("Show the whole path"), this, [this] { m_map.showAll(), update(); });
    menu.exec(e->globalPos());
}

bool Strip::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        const auto run = this->run();
        const Unit unit = m_store.document().unit;
        QString text = tr("Click a place to select it, Ctrl or Shift for several; drag it to slide the run; drag a "
                          "triangle to change an inset. "
                          "The wheel zooms, Shift and the wheel scroll. Delete leaves out.");
        if (run && run->placed && lane(2).contains(help->pos())) {
            text = tr("Clear gap: the free length along the path from one part's front to the next one's back, for "
                      "parts as their boxes. Distances between true bodies are not measured here.");
            const auto columns =
                gapColumns(m_map, *run->placed, run->item->spacing.gapAtLeast, run->item->spacing.gapAtMost);
            const auto i = size_t(std::max(0.0, help->pos().x() - m_map.left));
            if (i < columns.size() && columns[i].any) {
                const Gap& g = run->placed->gaps[columns[i].worst];
                text = tr("clear gap %1 between places %2 and %3")
                           .arg(lengthText(g.clear(), unit))
                           .arg(g.from + 1)
                           .arg(g.to + 1) +
                       "\n" + text;
            }
        } else if (run && run->placed && lane(1).contains(help->pos())) {
            if (const int place = placeAt(m_map, *run->placed, help->pos().x(), 3); place >= 0)
                text =
                    tr("place %1 at station %2").arg(place + 1).arg(lengthText(run->placed->stations()[place], unit)) +
                    (run->placed->leftOut(place) ? tr(", left out") : QString()) + "\n" + text;
        }
        QToolTip::showText(help->globalPos(), "<p>" + text.toHtmlEscaped().replace("\n", "<br>") + "</p>", this);
        return true;
    }
    return QWidget::event(e);
}

} // namespace vicinal
