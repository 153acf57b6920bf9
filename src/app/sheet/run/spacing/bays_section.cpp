#include "app/sheet/run/spacing/bays_section.h"
#include "app/controls/controls.h"
#include "app/controls/theme.h"
#include "app/sheet/run/spacing/bays_model.h"
#include "layout/spacing/rules.h"
#include "model/document/run_item.h"
#include "model/edits/typed/bay_text.h"
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QTableView>
#include <QVBoxLayout>
#include <set>

namespace vicinal {
bool inBays(const std::string& key) {
    static const std::set<std::string> keys{"pitchAtLeast", "pitchAtMost", "multiple",    "from",
                                            "to",           "bays",        "bayStations", "bayRun"};
    return keys.count(key) > 0;
}

BaysSection::BaysSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    const std::map<std::string, QString> pairs = {{"pitchAtLeast", tr("Pitch from / to")},
                                                  {"from", tr("Stretch from / to")}};
    const auto all = values(Spacing{});
    for (size_t i = 0; i < all.size(); ++i) {
        const auto pair = pairs.find(all[i].key);
        if (pair == pairs.end())
            addRow(all[i], putInto<&RunItem::spacing>);
        else
            addRow(pair->second, all[i], all[i + 1], putInto<&RunItem::spacing>), ++i;
    }
    buildTable();
    m_error = new QLabel;
    m_error->setObjectName("error.bayRules");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    m_box->addWidget(m_error);
}

void BaysSection::buildTable() {
    m_table = new QTableView;
    m_table->setModel(m_model = new BaysModel(m_store, this));
    m_table->setObjectName("run.bayList");
    m_table->setAccessibleName(tr("Bays"));
    m_table->setToolTip(
        tr("The bays of the run. A bay's rule can be typed: 5 for five places shared out, or a rule and "
           "its number, step off 120. Delete: as the run again."));
    auto* header = m_table->horizontalHeader();
    header->setSectionResizeMode(QHeaderView::ResizeToContents);
    header->setSectionResizeMode(BaysModel::Rule, QHeaderView::Stretch);
    header->setMinimumSectionSize(30);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(22);
    m_table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                             QAbstractItemView::AnyKeyPressed);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setShowGrid(false);
    m_table->setFont(theme::font(12));
    m_table->installEventFilter(this);
    m_box->addWidget(m_table);
    connect(m_model, &BaysModel::typed, this, &BaysSection::setRule);
}

void BaysSection::setRule(int row, const QString& text) {
    const auto run = m_store.currentRun();
    if (!run) return;
    const long bay = m_model->bay(row);
    std::optional<SpacingRule> rule;
    if (!text.trimmed().isEmpty()) {
        auto read = parseRule(text.toStdString(), m_store.document().unit, run->item->spacing->rule);
        if (!read) {
            m_error->setText(m_store.say(read.problem().text));
            m_error->show();
            return;
        }
        rule = std::move(read).value();
    }
    const Spacing next = withBayRule(run->item->spacing, bay, rule);
    if (next == run->item->spacing) return;
    change(rule ? tr("A rule for bay %1").arg(bay) : tr("Bay %1 as the run").arg(bay), {},
           [&](RunItem& r) { r.spacing = next; });
}

bool BaysSection::eventFilter(QObject* on, QEvent* e) {
    const bool pressed = e->type() == QEvent::KeyPress, asked = e->type() == QEvent::ShortcutOverride;
    if (on == m_table && (pressed || asked) && m_table->currentIndex().isValid()) {
        const int key = static_cast<QKeyEvent*>(e)->key();
        if (key == Qt::Key_Delete || key == Qt::Key_Backspace) {
            e->accept(); // no place is meant
            if (pressed) setRule(m_table->currentIndex().row(), {});
            return true;
        }
    }
    return RunSection::eventFilter(on, e);
}

QWidget* BaysSection::target(const QString& key) const { return key == "bayRules" ? m_table : RunSection::target(key); }

std::vector<ShownValue> BaysSection::values(Spacing s) {
    auto out = value_rows::collected([&](const ValueVisitor& v) { describeShared(v, s); });
    std::erase_if(out, [](const ShownValue& v) { return !inBays(v.key); });
    return out;
}

void BaysSection::refresh(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    for (const auto& v : values(s)) showRow(v.key, counts(s, v.key, closed));
    showValues(values(s));
    showProblem(run.problem);
    m_error->clear();
    m_error->hide();
    m_model->show(run);
    const int rows = m_model->rowCount();
    m_table->setVisible(rows > 0);
    m_table->setFixedHeight(22 * std::min(rows, 12) + m_table->horizontalHeader()->sizeHint().height() + 4);
}

QString BaysSection::summary(const RunResult& run) const {
    const Spacing& s = run.item->spacing;
    QStringList out;
    if (s.bays != BayEdges::None && run.placed) out += tr("%n bay(s)", nullptr, int(run.placed->laid->bays.size()));
    if (s.from || s.to) out += tr("a stretch");
    if (s.multiple > 1) out += tr("counts in %1s").arg(s.multiple);
    if (s.pitchAtLeast || s.pitchAtMost) out += tr("pitch limited");
    return out.isEmpty() ? tr("the whole path") : out.join(" \u00b7 ");
}

} // namespace vicinal
