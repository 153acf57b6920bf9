#include "app/schedule/schedule.h"
#include "app/controls/theme.h"
#include "app/schedule/schedule_model.h"
#include "model/document/run_item.h"
#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QTableView>
#include <QVBoxLayout>

namespace vicinal {

ScheduleDock::ScheduleDock(Store& store, QWidget* parent) : QDockWidget(tr("Schedule"), parent), m_store(store) {
    setObjectName("schedule");
    auto* body = new QWidget;
    auto* box = new QVBoxLayout(body);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(0);
    m_model = new ScheduleModel(store, this);
    m_table = new QTableView;
    m_table->setObjectName("schedule.table");
    m_table->setAccessibleName(tr("Schedule: the places of the run"));
    m_table->setToolTip(
        tr("Click a head to sort; type into part, size, along, across, up or there to make an exception; "
           "Ctrl+C copies the selected rows for a spreadsheet."));
    m_table->setModel(m_model);
    m_table->setSortingEnabled(true);
    m_table->horizontalHeader()->setSortIndicator(ScheduleModel::Place, Qt::AscendingOrder);
    m_table->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_table->horizontalHeader()->setDefaultSectionSize(82);
    m_table->horizontalHeader()->resizeSection(ScheduleModel::Place, 56);
    m_table->horizontalHeader()->resizeSection(ScheduleModel::Part, 130);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_table->verticalHeader()->setDefaultSectionSize(23);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_table->setShowGrid(false);
    m_table->setAlternatingRowColors(true);
    m_table->setFont(theme::font(12));
    m_table->installEventFilter(this);
    box->addWidget(m_table, 1);
    m_error = new QLabel;
    m_error->setObjectName("schedule.error");
    m_error->setProperty("role", "error");
    m_error->setContentsMargins(12, 4, 12, 4);
    m_error->hide();
    box->addWidget(m_error);
    setWidget(body);
    connect(m_model, &ScheduleModel::refused, this, [this](const QString& why) {
        m_error->setText(why);
        m_error->show();
    });
    connect(m_table->selectionModel(), &QItemSelectionModel::selectionChanged, this, &ScheduleDock::lead);
    connect(&store, &Store::documentChanged, this, &ScheduleDock::refresh);
    connect(&store, &Store::selectionChanged, this, &ScheduleDock::refresh);
}

void ScheduleDock::showEvent(QShowEvent* e) {
    QDockWidget::showEvent(e);
    refresh();
    QMetaObject::invokeMethod(this, &ScheduleDock::refresh, Qt::QueuedConnection); // where rows are is known then
}

void ScheduleDock::refresh() {
    if (!isVisible()) return; // costs nothing while nobody looks
    m_following = true;
    m_error->hide();
    m_model->refresh();
    const auto run = m_store.currentRun();
    setWindowTitle(run ? tr("Schedule of %1").arg(run->item->name.c_str()) : tr("Schedule: choose a run"));
    follow();
    m_following = false;
}

/// The rows of the selected places. Many rows are told as ranges: one by one would take long.
void ScheduleDock::follow() {
    const auto& places = m_store.selection().places;
    std::vector<int> rows;
    for (int p : places)
        if (p < m_model->rowCount()) rows.push_back(m_model->rowOf(p));
    std::sort(rows.begin(), rows.end());
    QItemSelection wanted;
    for (size_t i = 0; i < rows.size();) {
        size_t k = i;
        while (k + 1 < rows.size() && rows[k + 1] == rows[k] + 1) ++k;
        wanted.select(m_model->index(rows[i], 0), m_model->index(rows[k], ScheduleModel::Columns - 1));
        i = k + 1;
    }
    m_table->selectionModel()->select(wanted, QItemSelectionModel::ClearAndSelect);
    if (!rows.empty() && !m_table->hasFocus()) m_table->scrollTo(m_model->index(rows.front(), 0));
}

void ScheduleDock::lead() {
    const auto run = m_store.currentRun();
    if (m_following || !run) return;
    Selection s{Selection::Kind::Run, run->item->id, {}, -1, {}};
    for (const auto& range : m_table->selectionModel()->selection())
        for (int row = range.top(); row <= range.bottom(); ++row) s.places.insert(m_model->placeOf(row));
    m_store.select(s);
}

bool ScheduleDock::eventFilter(QObject* on, QEvent* e) {
    if (e->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(e)->matches(QKeySequence::Copy)) e->accept();
    if (e->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(e)->matches(QKeySequence::Copy)) {
        auto rows = m_table->selectionModel()->selectedRows();
        std::sort(rows.begin(), rows.end(), [](const auto& a, const auto& b) { return a.row() < b.row(); });
        if (!rows.isEmpty()) QGuiApplication::clipboard()->setText(m_model->textOf(rows));
        return true;
    }
    return QDockWidget::eventFilter(on, e);
}

} // namespace vicinal
