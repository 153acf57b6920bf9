// What a path is made from, in the sheet: crossings, the path it follows, members.
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_rows.h"
#include "app/sheet/path/recipe_editor.h"
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

/// Every crossing with what lies on top; switched here or by a click on its mark in the view.
void RecipeEditor::addCrossings() {
    m_body->layout()->addWidget(new QLabel(tr("Crossings")));
    auto* list = new QListWidget;
    list->setObjectName(m_name + ".crossings");
    list->setAccessibleName(tr("Crossings, in order along the path"));
    list->setToolTip(tr("What lies on top where strands cross; double-click or Enter switches, as does a click on the "
                        "mark in the view"));
    list->setFixedHeight(120);
    setRowHeight(list);
    m_body->layout()->addWidget(list);
    auto* button = new QPushButton(tr("Switch what is on top"));
    button->setObjectName(m_name + ".switch");
    button->setToolTip(tr("The other strand lies on top at the crossing in the list"));
    m_body->layout()->addWidget(button);
    static_cast<QVBoxLayout*>(m_body->layout())->setAlignment(button, Qt::AlignLeft);
    const auto turn = [this, list] {
        const auto path = m_store.currentPath();
        const int k = list->currentRow();
        if (path && k >= 0)
            m_store.edit(withCrossingSwitched(m_store.document(), path->item->id, k + 1),
                         tr("Switch crossing %1").arg(k + 1));
    };
    connect(button, &QPushButton::clicked, this, turn);
    connect(list, &QListWidget::itemActivated, this, turn);
    m_rows.push_back({list, [this, list, button](const PathResult& p) {
                          const Unit unit = m_store.document().unit;
                          const int current = std::max(0, list->currentRow());
                          list->clear();
                          for (size_t i = 0; i < p.crossings.size(); ++i) {
                              const StrandCrossing& c = p.crossings[i];
                              const QString over = longLengthText(c.upper, unit), under = longLengthText(c.lower, unit);
                              const QString words = c.beneath ? tr("%1 \u00b7 at %2 beneath the other path")
                                                    : c.other ? tr("%1 \u00b7 at %2 over the other path")
                                                    : c.along ? tr("%1 \u00b7 %2 along and over %3")
                                                              : tr("%1 \u00b7 %2 over %3");
                              QString line = words.arg(i + 1).arg(c.beneath ? under : over);
                              if (!c.other) line = line.arg(under);
                              list->addItem(line + " \u00b7 " + lengthText(c.lift, unit));
                          }
                          list->setCurrentRow(std::min(current, list->count() - 1));
                          button->setEnabled(list->count() > 0);
                      }});
}

void RecipeEditor::addSource() {
    auto* choice = new QComboBox;
    choice->setObjectName(m_name + ".source");
    choice->setToolTip(tr("The path this one is made from and follows"));
    m_body->layout()->addWidget(labelled(tr("Follows"), choice));
    auto* error = new QLabel;
    error->setProperty("role", "error");
    error->setWordWrap(true);
    error->setObjectName("error." + m_name + ".source");
    m_body->layout()->addWidget(error);
    connect(choice, &QComboBox::activated, this, [this, choice](int i) {
        const Id id = choice->itemData(i).toInt();
        change(tr("Follow %1").arg(choice->itemText(i)), {},
               [&](PathRecipe& r) { std::get<DerivedRecipe>(r).source = id; });
    });
    m_rows.push_back({choice, [this, choice, error](const PathResult& p) {
                          const Document& d = m_store.document();
                          const Id source = std::get<DerivedRecipe>(p.item->recipe).source;
                          choice->clear();
                          for (const auto& other : d.paths) // never one that follows this one
                              if (!follows(d, other->id, p.item->id)) choice->addItem(other->name.c_str(), other->id);
                          int at = choice->findData(source);
                          if (at < 0) choice->insertItem(at = 0, tr("(deleted)"), source);
                          choice->setCurrentIndex(at);
                          const bool wrong = p.problem && p.problem->field == "source";
                          error->setText(wrong ? m_store.say(p.problem->text) : QString());
                          error->setVisible(wrong);
                      }});
}

/// The path that goes on where the joined one ends; where several do, asked below the button.
void RecipeEditor::joinNext(QWidget* button, QLabel* said) {
    const auto path = m_store.currentPath();
    if (!path || !path->path) return;
    const auto& r = std::get<JoinedRecipe>(path->item->recipe);
    const auto touching = goingOn(m_store.evaluation(), r, *path->path);
    said->setVisible(touching.empty());
    said->setText(tr("No other open path ends within %1 of the end of this one.")
                      .arg(lengthText(r.gap, m_store.document().unit)));
    const auto join = [this](Id id) {
        const auto p = m_store.document().path(id);
        change(tr("Join %1").arg(p ? p->name.c_str() : ""), {},
               [&](PathRecipe& x) { std::get<JoinedRecipe>(x).members.push_back(id); });
    };
    if (touching.size() == 1) return join(touching[0]);
    if (touching.empty()) return;
    auto* menu = new QMenu(this); // the path branches here: the user says which way
    menu->setObjectName(m_name + ".which");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addSection(tr("%n path(s) go on here: which?", nullptr, int(touching.size())));
    for (Id id : touching) menu->addAction(m_store.document().path(id)->name.c_str(), this, [join, id] { join(id); });
    menu->popup(button->mapToGlobal(QPoint(0, button->height())));
}

void RecipeEditor::addMembers() {
    auto* list = new QListWidget;
    list->setObjectName(m_name + ".members");
    list->setAccessibleName(tr("Paths that are joined, in order"));
    list->setToolTip(tr("The paths in the order they are joined; each is turned so that the nearer ends meet"));
    list->setFixedHeight(92);
    setRowHeight(list);
    m_body->layout()->addWidget(list);
    auto* row = new QHBoxLayout;
    auto* add = new QComboBox;
    add->setObjectName(m_name + ".add");
    add->setToolTip(tr("Add a path to the end of the list"));
    auto* next = new QPushButton(tr("Next"));
    next->setObjectName(m_name + ".next");
    next->setToolTip(tr("Add the path that goes on where the joined one ends; where several do, asks which"));
    auto* up = new QPushButton(tr("Up"));
    up->setObjectName(m_name + ".up");
    up->setToolTip(tr("Move the selected path one up"));
    auto* out = new QPushButton(tr("Take out"));
    out->setObjectName(m_name + ".takeOut");
    out->setToolTip(tr("Take the selected path out of the list; the path itself stays"));
    row->addWidget(add, 1);
    row->addWidget(next);
    row->addWidget(up);
    row->addWidget(out);
    static_cast<QVBoxLayout*>(m_body->layout())->addLayout(row);
    connect(add, &QComboBox::activated, this, [this, add](int i) {
        const Id id = add->itemData(i).toInt();
        if (id > 0)
            change(tr("Join %1").arg(add->itemText(i)), {},
                   [&](PathRecipe& r) { std::get<JoinedRecipe>(r).members.push_back(id); });
    });
    auto* said = new QLabel;
    said->setObjectName(m_name + ".said");
    said->setProperty("role", "muted");
    said->setWordWrap(true);
    said->hide();
    m_body->layout()->addWidget(said);
    connect(next, &QPushButton::clicked, this, [this, next, said] { joinNext(next, said); });
    connect(up, &QPushButton::clicked, this, [this, list] {
        const int k = list->currentRow();
        if (k < 1) return;
        change(tr("Order of joined paths"), {}, [&](PathRecipe& r) {
            auto& m = std::get<JoinedRecipe>(r).members;
            std::swap(m[size_t(k)], m[size_t(k) - 1]);
        });
        list->setCurrentRow(k - 1);
    });
    connect(out, &QPushButton::clicked, this, [this, list] {
        const int k = list->currentRow();
        if (k < 0) return;
        change(tr("Take a path out"), {}, [&](PathRecipe& r) {
            auto& m = std::get<JoinedRecipe>(r).members;
            m.erase(m.begin() + k);
        });
    });
    m_rows.push_back({list, [this, list, add](const PathResult& p) {
                          const Document& d = m_store.document();
                          const auto& members = std::get<JoinedRecipe>(p.item->recipe).members;
                          const int current = list->currentRow();
                          list->clear();
                          for (Id id : members) list->addItem(d.path(id) ? d.path(id)->name.c_str() : tr("(deleted)"));
                          list->setCurrentRow(std::min(current, list->count() - 1));
                          add->clear();
                          add->addItem(tr("Add\u2026"), 0);
                          for (const auto& other : d.paths)
                              if (!follows(d, other->id, p.item->id)) add->addItem(other->name.c_str(), other->id);
                      }});
}

} // namespace vicinal
