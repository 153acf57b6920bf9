#include "app/sheet/path/recipe_editor.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include "app/sheet/path/wheel_body.h"
#include "model/document/path_item.h"
#include "model/edits/crossing_edits.h"
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QStyle>
#include <QTableWidget>
#include <QVBoxLayout>

namespace vicinal {
namespace {

const WheelShape* wheelsOf(const PathRecipe& r) {
    const auto* s = std::get_if<ShapeRecipe>(&r);
    return s ? std::get_if<WheelShape>(&s->shape) : nullptr;
}

} // namespace

RecipeEditor::RecipeEditor(Store& store, const QString& name, QWidget* parent)
    : QWidget(parent), m_store(store), m_name(name) {
    setObjectName(name);
    m_layout = new QVBoxLayout(this);
    m_layout->setContentsMargins(0, 0, 0, 0);
}

void RecipeEditor::change(const QString& name, const QString& merge, const std::function<void(PathRecipe&)>& how) {
    if (const auto path = m_store.currentPath())
        m_store.change<PathItem>(path->item->id, name, merge, [&](PathItem& p) { how(p.recipe); });
}

void RecipeEditor::changeWheels(const QString& name, const std::function<void(std::vector<Wheel>&)>& how) {
    change(name, {}, [&](PathRecipe& r) { how(std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).wheels); });
}

void RecipeEditor::refresh() {
    const auto path = m_store.currentPath();
    const bool mine = path && !std::holds_alternative<PointsRecipe>(path->item->recipe) &&
                      !std::holds_alternative<BroughtCurve>(path->item->recipe);
    setVisible(mine);
    if (!mine) return;
    const QString shape = QString::number(path->item->id) + kindOf(path->item->recipe).c_str();
    if (shape != m_shape) {
        m_shape = shape;
        rebuild(*path);
    }
    m_filling = true;
    for (const auto& row : m_rows) row.show(*path);
    m_filling = false;
}

void RecipeEditor::rebuild(const PathResult& path) {
    delete m_body;
    m_rows.clear();
    m_wheels = nullptr;
    m_body = new QWidget;
    auto* box = new QVBoxLayout(m_body);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(7);
    m_layout->addWidget(m_body);
    if (std::holds_alternative<DerivedRecipe>(path.item->recipe)) addSource();
    if (std::holds_alternative<JoinedRecipe>(path.item->recipe)) addMembers();
    auto* rows = new ValueRows(m_store, m_name);
    box->addWidget(rows);
    connect(rows, &ValueRows::changed, this,
            [this](const QString& label, const std::string& key, double value, int axis, bool live) {
                change(label, live ? QString("recipe ") + key.c_str() : QString(),
                       [&](PathRecipe& r) { value_rows::setValue(r, key, value, axis); });
            });
    m_rows.push_back({rows, [rows](const PathResult& p) {
                          auto values = value_rows::valuesOf(p.item->recipe);
                          // Which strand hangs is chosen by the wheels' names.
                          std::erase_if(values, [](const ShownValue& v) { return std::string(v.key) == "hangs"; });
                          const auto* loop = wheelsOf(p.item->recipe);
                          rows->show(loop && loop->hangs ? "hangs" : "", values, p.problem);
                      }});
    if (wheelsOf(path.item->recipe)) addWheels();
    if (liftedOf(*path.item)) addCrossings();
}

/// A wheel more, after the one at a place; at the end where there is none.
static void insertWheel(std::vector<Wheel>& w, int at) {
    const size_t i = at >= 0 && at < int(w.size()) ? size_t(at) : w.size() - 1;
    Wheel wheel;
    wheel.name = RecipeEditor::tr("Wheel %1").arg(w.size() + 1).toStdString();
    if (!w.empty()) { // half-way to the next one and outwards, so that the loop reaches it
        const Vec2 a = w[i].centre, b = w[(i + 1) % w.size()].centre, d = b - a;
        wheel.radius = 0.6 * std::min(w[i].radius, w[(i + 1) % w.size()].radius);
        wheel.centre = (a + b) / 2 + Vec2(d.y(), -d.x()) * (w.size() > 1 ? 0.4 : 0) +
                       (w.size() > 1 ? Vec2(0, 0) : Vec2(4 * w[i].radius, 0));
    }
    w.insert(w.begin() + long(std::min(i + 1, w.size())), wheel);
}

void RecipeEditor::addWheels() {
    auto* table = m_wheels = new QTableWidget(0, 6);
    table->setObjectName(m_name + ".wheels");
    table->setAccessibleName(tr("Wheels of the loop"));
    table->setToolTip(tr("Name, place, size and side of each wheel; what it wraps. A size is a radius, or teeth as "
                         "\"38 t\". Click the side to "
                         "change it."));
    table->setHorizontalHeaderLabels({tr("wheel"), tr("x"), tr("y"), tr("size"), tr("side"), tr("wrap")});
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(26);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setShowGrid(false);
    table->setFont(theme::font(11));
    m_body->layout()->addWidget(table);
    addHanging();
    m_wheelError = new QLabel;
    m_wheelError->setObjectName("error." + m_name + ".wheels");
    m_wheelError->setProperty("role", "error");
    m_wheelError->setWordWrap(true);
    m_body->layout()->addWidget(m_wheelError);
    auto* row = new QHBoxLayout;
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(m_name + "." + name);
        b->setToolTip(tip);
        row->addWidget(b);
        return b;
    };
    auto* add = button(tr("Add wheel"), "addWheel", tr("A wheel after the selected one"));
    auto* remove = button(tr("Remove"), "removeWheel", tr("Remove the selected wheel"));
    auto* order =
        button(tr("Order round"), "orderWheels", tr("Put the wheels in the order they lie round the outside"));
    static_cast<QVBoxLayout*>(m_body->layout())->addLayout(row);
    auto* body = new WheelBodyEditor(m_store, m_name);
    m_body->layout()->addWidget(body);
    m_rows.push_back({body, [body](const PathResult& p) { body->show(p); }});
    connect(table, &QTableWidget::cellChanged, this, &RecipeEditor::wheelTyped);
    connect(table, &QTableWidget::cellClicked, this, [this](int r, int column) {
        Selection s = m_store.selection();
        s.point = r;
        s.points.clear();
        m_store.select(s);
        if (column == 4)
            changeWheels(tr("Side of a wheel"), [&](auto& w) { w[size_t(r)].inside = !w[size_t(r)].inside; });
    });
    connect(add, &QPushButton::clicked, this, [this] {
        const int at = m_store.selection().point;
        changeWheels(tr("Add a wheel"), [&](std::vector<Wheel>& w) { insertWheel(w, at); });
    });
    connect(remove, &QPushButton::clicked, this, [this] {
        const int at = m_store.selection().point;
        changeWheels(tr("Remove a wheel"), [&](std::vector<Wheel>& w) {
            if (at >= 0 && at < int(w.size())) w.erase(w.begin() + at);
        });
    });
    connect(order, &QPushButton::clicked, this, [this] {
        change(tr("Order of the wheels"), {}, [&](PathRecipe& r) {
            auto& s = std::get<WheelShape>(std::get<ShapeRecipe>(r).shape);
            std::vector<Wheel> sorted;
            for (size_t i : hullOrder(circlesOf(s))) sorted.push_back(s.wheels[i]);
            s.wheels = std::move(sorted);
        });
    });
    m_rows.push_back({table, [this, remove](const PathResult& p) {
                          showWheels(p);
                          remove->setEnabled(m_wheels->rowCount() > 2 && m_store.selection().point >= 0);
                      }});
}

void RecipeEditor::showWheels(const PathResult& p) {
    const auto& shape = *wheelsOf(p.item->recipe);
    const Unit unit = m_store.document().unit;
    const auto circles = circlesOf(shape);
    const int n = int(shape.wheels.size());
    if (m_wheels->rowCount() != n) m_wheels->setRowCount(n);
    const int bad =
        p.problem && p.problem->field.starts_with("wheel ") ? std::atoi(p.problem->field.c_str() + 6) - 1 : -1;
    for (int r = 0; r < n; ++r) {
        const Wheel& w = shape.wheels[size_t(r)];
        const auto number = [&](double v) { return QString::fromStdString(formatLength(v, unit)); };
        QString wrap = tr("\u2013"), tip;
        if (p.loop && !p.problem && r < int(p.loop->contacts.size())) {
            const auto& c = p.loop->contacts[size_t(r)];
            wrap = QString::number(c.wrap / kDegree, 'f', 1) + "\u00b0";
            tip = tr("Wraps %1, then %2 straight. Radius %3.")
                      .arg(wrap, lengthText(c.tangentAfter, unit), lengthText(circles[size_t(r)].radius, unit));
        }
        const QString cells[] = {w.name.c_str(),
                                 number(w.centre.x()),
                                 number(w.centre.y()),
                                 w.teeth > 0 ? tr("%1 t").arg(w.teeth) : number(w.radius),
                                 w.inside ? tr("in") : tr("out"),
                                 wrap};
        for (int c = 0; c < 6; ++c) {
            auto* item = m_wheels->item(r, c);
            if (!item) {
                item = new QTableWidgetItem;
                m_wheels->setItem(r, c, item);
                item->setTextAlignment(c == 0 ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignRight | Qt::AlignVCenter);
                if (c > 3) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
            }
            if (item->text() != cells[c]) item->setText(cells[c]);
            item->setToolTip(tip);
            item->setForeground(r == bad ? theme::brick() : theme::ink());
        }
    }
    m_wheels->setFixedHeight(std::min(n, 9) * 26 + m_wheels->horizontalHeader()->sizeHint().height() + 4);
    const int at = m_store.selection().point;
    if (at >= 0 && at < n)
        m_wheels->selectRow(at);
    else
        m_wheels->clearSelection();
    const bool wrong = p.problem && (bad >= 0 || p.problem->field == "wheels");
    m_wheelError->setText(wrong ? m_store.say(p.problem->text) : QString());
    m_wheelError->setVisible(wrong);
}

/// Which strand is longer than tight, by the wheels it leads from and to.
void RecipeEditor::addHanging() {
    auto* choice = new QComboBox;
    choice->setObjectName(m_name + ".hangs");
    choice->setToolTip(tr("The strand that is longer than tight and hangs; all others stay straight"));
    m_body->layout()->addWidget(labelled(tr("Hangs"), choice));
    auto* said = new QLabel;
    said->setObjectName(m_name + ".hanging");
    said->setWordWrap(true);
    m_body->layout()->addWidget(said);
    connect(choice, &QComboBox::activated, this, [this](int strand) {
        change(strand ? tr("Let a strand hang") : tr("All strands tight"), {},
               [&](PathRecipe& r) { std::get<WheelShape>(std::get<ShapeRecipe>(r).shape).hangs = strand; });
    });
    m_rows.push_back({choice, [this, choice, said](const PathResult& p) {
                          const WheelShape& shape = *wheelsOf(p.item->recipe);
                          const int n = int(shape.wheels.size());
                          const auto name = [&](int i) {
                              const auto& own = shape.wheels[size_t(i % n)].name;
                              return own.empty() ? tr("wheel %1").arg(i % n + 1) : QString::fromStdString(own);
                          };
                          QStringList strands{tr("none: all are tight")};
                          for (int i = 0; i < (shape.closed ? n : n - 1); ++i)
                              strands << tr("%1 to %2").arg(name(i), name(i + 1));
                          choice->clear();
                          choice->addItems(strands);
                          choice->setCurrentIndex(shape.hangs < strands.size() ? int(shape.hangs) : -1);
                          const bool wrong = p.problem && p.problem->field == "hangs";
                          const auto* hangs = p.loop && p.loop->hangs && !p.problem ? &*p.loop->hangs : nullptr;
                          const Unit unit = m_store.document().unit;
                          said->setProperty("role", wrong ? "error" : "muted");
                          said->style()->polish(said);
                          said->setText(wrong   ? m_store.say(p.problem->text)
                                        : hangs ? tr("Sag %1; the loop is %2 longer than tight. For a number of "
                                                     "links let this value give way in the run.")
                                                      .arg(lengthText(hangs->sag, unit), lengthText(hangs->slack, unit))
                                                : QString());
                          said->setVisible(wrong || hangs);
                      }});
}

void RecipeEditor::wheelTyped(int row, int column) {
    if (m_filling || column > 3) return;
    const QString text = m_wheels->item(row, column)->text().trimmed();
    const Unit unit = m_store.document().unit;
    const auto refuse = [&](const std::string& why) {
        refresh(); // the last good value stays
        m_wheelError->setText(tr("Wheel %1: %2").arg(row + 1).arg(QString::fromStdString(why)));
        m_wheelError->show();
    };
    if (column == 0)
        return changeWheels(tr("Name of a wheel"), [&](auto& w) { w[size_t(row)].name = text.toStdString(); });
    if (column == 3 && text.endsWith('t') && !text.endsWith("ft")) {
        const auto teeth = parseCount(text.chopped(1).trimmed().toStdString(), 3, 10000);
        if (!teeth) return refuse(teeth.problem().text);
        return changeWheels(tr("Teeth of a wheel"), [&](auto& w) { w[size_t(row)].teeth = *teeth; });
    }
    const auto v = parseLength(text.toStdString(), unit);
    if (!v) return refuse(v.problem().text);
    if (column == 3)
        changeWheels(tr("Radius of a wheel"), [&](auto& w) { w[size_t(row)].radius = *v, w[size_t(row)].teeth = 0; });
    else
        changeWheels(tr("Move a wheel"), [&](auto& w) { w[size_t(row)].centre[column - 1] = *v; });
}

} // namespace vicinal
