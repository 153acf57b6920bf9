#include "app/sheet/path/path_editor.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/sheet/path/points_model.h"
#include "app/sheet/path/recipe_editor.h"
#include "model/document/path_item.h"
#include <QCheckBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <QVBoxLayout>

namespace vicinal {

PathEditor::PathEditor(Store& store, const QString& name, QWidget* parent) : QWidget(parent), m_store(store) {
    setObjectName(name);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_facts = new QLabel;
    m_facts->setProperty("role", "muted");
    m_facts->setWordWrap(true);
    m_facts->setObjectName(name + ".facts");
    box->addWidget(m_facts);
    m_remarks = new QLabel;
    m_remarks->setObjectName(name + ".remarks");
    m_remarks->setProperty("role", "muted");
    m_remarks->setWordWrap(true);
    box->addWidget(m_remarks);
    m_recipe = new RecipeEditor(store, name + ".recipe");
    box->addWidget(m_recipe);
    m_unlock = new QPushButton(tr("Make it points"));
    m_unlock->setObjectName(name + ".asPoints");
    m_unlock->setToolTip(tr("Turns a curve of straight lines and arcs into points that can be moved one by one"));
    box->addWidget(m_unlock);
    buildPoints(name);
    box->addWidget(m_points);

    connectAll();
}

void PathEditor::buildPoints(const QString& name) {
    m_points = new QWidget;
    auto* inner = new QVBoxLayout(m_points);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(7);
    m_table = new QTableView;
    m_table->setModel(m_pointsModel = new PointsModel(m_store, this));
    m_table->setObjectName(name + ".points");
    m_table->setAccessibleName(tr("Points of the path"));
    m_table->setToolTip(
        tr("Type x, y, z with units or sums. The last column is smooth or corner: click to change it."));
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->verticalHeader()->setDefaultSectionSize(26);
    m_table->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setShowGrid(false);
    m_table->setFont(theme::font(12));
    inner->addWidget(m_table);
    m_error = new QLabel;
    m_error->setObjectName(name + ".error");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    m_error->hide();
    inner->addWidget(m_error);
    auto* row = new QHBoxLayout;
    m_insert = new QPushButton(tr("Insert after"));
    m_insert->setObjectName(name + ".insert");
    m_insert->setToolTip(tr("Insert a point half-way to the next one (or double-click on the path in the view)"));
    m_remove = new QPushButton(tr("Delete point"));
    m_remove->setObjectName(name + ".remove");
    m_remove->setToolTip(tr("Delete the selected point (Delete in the view)"));
    row->addWidget(m_insert);
    row->addWidget(m_remove);
    inner->addLayout(row);
    buildTools(name, inner);
    m_closed = new QCheckBox(tr("Closed"));
    m_closed->setObjectName(name + ".closed");
    m_closed->setToolTip(tr("Join the last point to the first"));
    inner->addWidget(m_closed);
    m_weld = new QPushButton;
    m_weld->setObjectName(name + ".weld");
    m_weld->setToolTip(tr("The last point becomes the first one and the path closes there"));
    inner->addWidget(m_weld);
    connect(m_weld, &QPushButton::clicked, this, [this] {
        if (const auto path = m_store.currentPath())
            m_store.change<PathItem>(path->item->id, tr("Weld the ends"), {}, [&](PathItem& i) {
                if (auto* p = std::get_if<PointsRecipe>(&i.recipe); p && p->points.size() > 3) {
                    p->points.front().in = p->points.back().in;
                    p->points.pop_back();
                    p->closed = true;
                }
            });
    });
    m_knotting = new Segmented(
        name + ".knotting", {tr("even curve"), tr("by distance")},
        {tr("Centripetal: no overshoot where points stand unevenly"), tr("Chord length: rounder between far points")});
    inner->addWidget(labelled(tr("Smooth points"), m_knotting));
}

/// What can be set of the point in hand.
void PathEditor::buildTools(const QString& name, QVBoxLayout* inner) {
    m_tools = new QWidget;
    auto* tools = new QVBoxLayout(m_tools);
    tools->setContentsMargins(0, 0, 0, 0);
    tools->setSpacing(7);
    m_leg = new Segmented(name + ".leg", {tr("plain"), tr("arc"), tr("handles")},
                          {tr("To the next point: straight between corners, else the smooth curve"),
                           tr("To the next point: an arc; drag its round mark to bend it"),
                           tr("To the next point: a curve with a handle at either end; drag their round marks")});
    tools->addWidget(labelled(tr("To next point"), m_leg));
    m_fillet = new ValueField(ValueField::Kind::Length, name + ".fillet", tr("Corner radius"),
                              tr("Rounds the corner between two straight legs; 0 keeps it sharp"));
    tools->addWidget(m_filletRow = labelled(tr("Corner radius"), m_fillet));
    m_soft = new ValueField(
        ValueField::Kind::Length, name + ".soft", tr("Soft drag"),
        tr("Neighbours within this length along the path follow a dragged point, less the farther they are; 0: none"));
    tools->addWidget(labelled(tr("Soft drag over"), m_soft));
    inner->addWidget(m_tools);
}

void PathEditor::connectAll() {
    connect(m_leg, &Segmented::picked, this, &PathEditor::setLeg);
    connect(m_fillet, &ValueField::changed, this, [this](std::optional<double> v, bool live) {
        if (v)
            changeSelected(tr("Corner radius"), live ? QString("fillet") : QString(),
                           [&](PathPoint& p) { p.fillet = std::max(0.0, *v); });
    });
    connect(m_fillet, &ValueField::finished, &m_store, &Store::seal);
    connect(m_soft, &ValueField::changed, this, [this](std::optional<double> v, bool) {
        if (v) m_store.setSoftReach(std::max(0.0, *v));
    });
    connect(m_unlock, &QPushButton::clicked, this, [this] {
        if (const auto path = m_store.currentPath())
            m_store.change<PathItem>(path->item->id, tr("Make it points"), {}, [&](PathItem& i) {
                if (const auto* curve = std::get_if<BroughtCurve>(&i.recipe))
                    if (auto points = asPoints(*curve)) i.recipe = std::move(*points);
            });
    });
    connect(m_pointsModel, &PointsModel::refused, this, [this](const QString& why) {
        m_error->setText(why);
        m_error->show();
    });
    connect(m_table, &QTableView::clicked, this, [this](const QModelIndex& at) {
        if (at.column() == PointsModel::Turn) m_pointsModel->toggle(at.row());
    });
    connect(m_table->selectionModel(), &QItemSelectionModel::selectionChanged, this, &PathEditor::selectRow);
    connect(m_insert, &QPushButton::clicked, this, &PathEditor::insertAfter);
    connect(m_remove, &QPushButton::clicked, this, &PathEditor::removePoint);
    connect(m_closed, &QCheckBox::clicked, this, [this](bool on) {
        if (const auto path = m_store.currentPath())
            m_store.change<PathItem>(path->item->id, on ? tr("Close the path") : tr("Open the path"), {},
                                     [&](PathItem& i) {
                                         if (auto* p = std::get_if<PointsRecipe>(&i.recipe)) p->closed = on;
                                     });
    });
    connect(m_knotting, &Segmented::picked, this, [this](int k) {
        if (const auto path = m_store.currentPath())
            m_store.change<PathItem>(path->item->id, tr("Curve between smooth points"), {}, [&](PathItem& i) {
                if (auto* p = std::get_if<PointsRecipe>(&i.recipe)) p->knotting = Knotting(k);
            });
    });
}

void PathEditor::refresh() {
    const auto path = m_store.currentPath();
    if (!path) {
        m_factsOn = 0;
        m_facts->setText(tr("No path."));
        m_points->hide();
        return;
    }
    const Unit unit = m_store.document().unit;
    askFacts(path);
    showFacts();
    QStringList remarks;
    for (const auto& r : path->remarks) remarks += m_store.say(r);
    m_remarks->setText(remarks.join("\n"));
    m_remarks->setVisible(!remarks.isEmpty());
    m_recipe->refresh();
    const auto* curve = std::get_if<BroughtCurve>(&path->item->recipe);
    m_unlock->setVisible(curve && asPoints(*curve));
    const auto* p = editablePoints(*path->item);
    m_points->setVisible(p != nullptr);
    if (!p) return;
    m_filling = true;
    const int n = int(p->points.size());
    m_pointsModel->refresh();
    m_table->setFixedHeight(std::min(n, 7) * 26 + m_table->horizontalHeader()->sizeHint().height() + 4);
    const int point = m_store.selection().point;
    if (point >= 0 && point < n) {
        if (m_table->currentIndex().row() != point || !m_table->selectionModel()->hasSelection())
            m_table->selectRow(point);
    } else {
        m_table->clearSelection();
    }
    showTools(*p);
    m_closed->setChecked(p->closed);
    const double gap = n > 3 ? (p->points.front().at - p->points.back().at).norm() : kFar;
    m_weld->setVisible(!p->closed && path->path && gap < 0.02 * path->path->length());
    m_weld->setText(tr("Weld the ends (%1 apart)").arg(lengthText(gap, unit)));
    m_knotting->setCurrent(int(p->knotting));
    m_remove->setEnabled(n > 2 && point >= 0);
    m_insert->setEnabled(point >= 0);
    m_error->hide();
    m_filling = false;
}

void PathEditor::askFacts(const std::shared_ptr<const PathResult>& path) {
    if (m_factsOf == path) return;
    m_factsOf = path;
    m_pathFacts.reset();
    if (!path->path) return m_factsWork.stop();
    m_factsWork.run([p = *path->path](Job&) { return factsOf(p); },
                    [this, path](std::optional<PathFacts> found) {
                        if (path != m_factsOf) return;
                        m_pathFacts = found;
                        showFacts();
                    });
}

void PathEditor::showFacts() {
    const auto path = m_factsOf;
    if (!path) return;
    if (path->problem) m_factsOn = 0;
    if (path->problem)
        return m_facts->setText("<span style='color:" + theme::brick().name() + "'>\u2715 " +
                                m_store.say(path->problem->text).toHtmlEscaped() + "</span>");
    // While those of another state are worked out what is told stays, so that it does not flicker in a drag.
    const bool same = m_factsOn == path->item->id;
    if (same && m_factsWork.running()) return;
    m_factsOn = path->item->id;
    QString facts = factsText(*path);
    if (const auto* curve = std::get_if<BroughtCurve>(&path->item->recipe))
        facts += tr(" Brought in from %1 and kept as drawn: %n piece(s).", nullptr, int(curve->segments.size()))
                     .arg(curve->source.c_str());
    m_facts->setText(facts);
}

QString PathEditor::factsText(const PathResult& path) const {
    if (!path.path) return {};
    const Unit unit = m_store.document().unit;
    const Path& p = *path.path;
    QString facts = tr("%1 long, %2").arg(lengthText(p.length(), unit), p.closed() ? tr("closed") : tr("open"));
    const int corners = int(p.corners().size());
    if (corners > 0) facts += tr(", %n corner(s)", nullptr, corners);
    if (p.steepest() > tolerance::rounding)
        facts += tr(", slope up to %1\u00b0").arg(std::asin(std::min(1.0, p.steepest())) / kDegree, 0, 'f', 2);
    else
        facts += tr(", level");
    if (!m_pathFacts) return facts + ".";
    if (std::isfinite(m_pathFacts->sharpest))
        facts += tr(", sharpest radius %1 at %2")
                     .arg(lengthText(m_pathFacts->sharpest, unit), lengthText(m_pathFacts->sharpestAt, unit));
    if (!m_pathFacts->planar) facts += tr(", not in one plane");
    if (m_pathFacts->crossings > 0) facts += tr(", crosses itself %n time(s)", nullptr, m_pathFacts->crossings);
    return facts + ".";
}

void PathEditor::showTools(const PointsRecipe& r) {
    const int at = m_store.selection().point, n = int(r.points.size());
    m_tools->setVisible(at >= 0);
    if (at < 0) return;
    const auto& q = r.points[size_t(at)];
    const bool last = !r.closed && at + 1 == n;
    m_leg->setEnabled(!last);
    const bool handles = q.out || r.points[size_t((at + 1) % n)].in;
    int leg = handles ? 2 : 0;
    if (q.via) leg = 1;
    m_leg->setCurrent(last ? 0 : leg);
    m_filletRow->setVisible(!q.smooth);
    m_fillet->setUnit(m_store.document().unit);
    m_fillet->setValue(q.fillet);
    const auto path = m_store.currentPath();
    m_fillet->setProblem(path && path->problem && path->problem->field == "radius" ? m_store.say(path->problem->text)
                                                                                   : QString());
    m_soft->setUnit(m_store.document().unit);
    m_soft->setValue(m_store.softReach());
}

void PathEditor::changeSelected(const QString& name, const QString& merge, const std::function<void(PathPoint&)>& how) {
    const auto path = m_store.currentPath();
    if (!path || m_store.selection().point < 0) return;
    auto all = m_store.selection().points;
    all.insert(m_store.selection().point);
    m_store.change<PathItem>(path->item->id, name, merge, [&](PathItem& i) {
        for (int k : all) how(std::get<PointsRecipe>(i.recipe).points[size_t(k)]);
    });
}

/// The leg after the selected point: plain, an arc, or a curve with handles; starts from what is there now.
void PathEditor::setLeg(int kind) {
    const auto path = m_store.currentPath();
    const auto* r = path ? editablePoints(*path->item) : nullptr;
    const int at = m_store.selection().point;
    if (!r || at < 0) return;
    const int next = (at + 1) % int(r->points.size());
    const Vec3 a = r->points[size_t(at)].at, b = r->points[size_t(next)].at;
    const QString names[] = {tr("Plain leg %1"), tr("Arc for leg %1"), tr("Handles for leg %1")};
    m_store.change<PathItem>(path->item->id, names[kind].arg(at + 1), {}, [&](PathItem& i) {
        auto& points = std::get<PointsRecipe>(i.recipe).points;
        auto &p = points[size_t(at)], &q = points[size_t(next)];
        p.via.reset();
        p.out.reset();
        q.in.reset();
        if (kind == 1) {
            const Vec3 side = Vec3::UnitZ().cross(b - a);
            p.via = (a + b) / 2 +
                    (side.norm() > tolerance::rounding ? Vec3(side * 0.2) : Vec3(0.2 * (b - a).norm() * Vec3::UnitX()));
        }
        if (kind == 2) {
            p.out = (b - a) / 3;
            q.in = (a - b) / 3;
            if (path->path && !path->problem) { // along the curve as it was
                p.out = (b - a).norm() / 3 * path->path->at(path->path->closest(a)).tangent;
                q.in = -(b - a).norm() / 3 * path->path->at(path->path->closest(b)).tangent;
            }
        }
    });
}

void PathEditor::insertAfter() {
    const auto path = m_store.currentPath();
    const auto* p = path ? editablePoints(*path->item) : nullptr;
    const int at = m_store.selection().point;
    if (!p || at < 0) return;
    const int n = int(p->points.size());
    Vec3 where;
    if (at + 1 < n || p->closed) {
        where = (p->points[at].at + p->points[(at + 1) % n].at) / 2;
        if (path->path && !path->problem) { // on the curve itself
            const double from = path->path->closest(p->points[at].at);
            double to = path->path->closest(p->points[(at + 1) % n].at);
            if (to <= from) to = path->path->length();
            where = path->path->at((from + to) / 2).point;
        }
    } else {
        where = p->points[at].at + (p->points[at].at - p->points[at - 1].at) / 2; // beyond the last point
    }
    m_store.change<PathItem>(path->item->id, tr("Insert point %1").arg(at + 2), {}, [&](PathItem& i) {
        auto& points = std::get<PointsRecipe>(i.recipe).points;
        PathPoint q{where, points[at].smooth};
        points[at].via.reset();
        points[at].out.reset();
        if (at + 1 < int(points.size())) points[at + 1].in.reset();
        points.insert(points.begin() + at + 1, q);
    });
    Selection s = m_store.selection();
    s.point = at + 1;
    m_store.select(s);
}

void PathEditor::removePoint() {
    const auto path = m_store.currentPath();
    const int at = m_store.selection().point;
    const auto* p = path ? editablePoints(*path->item) : nullptr;
    if (!p || at < 0 || p->points.size() <= 2) return;
    m_store.change<PathItem>(path->item->id, tr("Delete point %1").arg(at + 1), {}, [&](PathItem& i) {
        auto& points = std::get<PointsRecipe>(i.recipe).points;
        points.erase(points.begin() + at);
    });
}

void PathEditor::selectRow() {
    if (m_filling) return;
    const auto rows = m_table->selectionModel()->selectedRows();
    Selection s = m_store.selection();
    s.point = rows.isEmpty() ? -1 : rows.front().row();
    if (!s.points.count(s.point)) s.points.clear();
    m_store.select(s);
}

} // namespace vicinal
