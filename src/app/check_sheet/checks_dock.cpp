#include "app/check_sheet/checks_dock.h"
#include "app/check_sheet/checks_model.h"
#include "app/controls/theme.h"
#include "exchange/check_sheet/check_sheet.h"
#include "model/document/run_item.h"
#include <QCheckBox>
#include <QFutureWatcher>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QTableView>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace vicinal {

/// A small sheet of ink.
class SheetPicture : public QWidget {
public:
    explicit SheetPicture(QWidget* parent) : QWidget(parent) {
        setObjectName("checks.picture");
        setFixedSize(232, 144);
    }
    void show(Sheet s) {
        m_sheet = std::move(s);
        update();
    }
    bool empty() const { return m_sheet.inks.empty(); }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.fillRect(rect(), theme::field());
        p.setPen(QPen(theme::line(), 1));
        p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
        if (m_sheet.inks.empty()) {
            p.setPen(theme::muted());
            p.drawText(rect(), Qt::AlignCenter, tr("Choose a check"));
            return;
        }
        const double k = std::min(width() / m_sheet.width, height() / m_sheet.height);
        p.translate((width() - k * m_sheet.width) / 2, 0);
        for (const Ink& ink : m_sheet.inks) {
            const bool strong = ink.pen.width > 0.4;
            p.setPen(QPen(strong ? theme::accent() : theme::muted(), strong ? 2 : 0.8));
            for (const Segment& s : ink.pieces) {
                const Vec3 from = startOf(s), to = endOf(s); // it holds chords only
                p.drawLine(QPointF(from.x() * k, height() - from.y() * k), QPointF(to.x() * k, height() - to.y() * k));
            }
        }
    }

private:
    Sheet m_sheet;
};

ChecksDock::ChecksDock(Store& store, QWidget* parent) : QDockWidget(tr("Check sheet"), parent), m_store(store) {
    setObjectName("checks");
    auto* body = new QWidget;
    auto* box = new QHBoxLayout(body);
    box->setContentsMargins(0, 0, 10, 8);
    box->setSpacing(10);
    m_model = new ChecksModel(store, this);
    m_table = new QTableView;
    m_table->setObjectName("checks.table");
    m_table->setAccessibleName(tr("Checks of all runs"));
    m_table->setToolTip(tr("Double-click or Enter goes to the worst place"));
    m_table->setModel(m_model);
    m_table->setShowGrid(false);
    m_table->setFont(theme::font(12));
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_table->verticalHeader()->setDefaultSectionSize(23);
    m_table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->horizontalHeader()->setStretchLastSection(true);
    const int widths[] = {28, 190, 130, 150, 150};
    for (int k = 0; k < 5; ++k) m_table->horizontalHeader()->resizeSection(k, widths[k]);
    m_table->setColumnHidden(ChecksModel::Was, true);
    m_table->setWordWrap(false);
    m_table->installEventFilter(this);
    box->addWidget(m_table, 1);
    auto* side = new QVBoxLayout;
    side->setSpacing(6);
    m_picture = new SheetPicture(body);
    side->addWidget(m_picture);
    m_difference = new QLabel;
    m_difference->setObjectName("checks.difference");
    m_difference->setWordWrap(true);
    m_difference->setFixedWidth(232);
    m_difference->setProperty("role", "muted");
    side->addWidget(m_difference);
    const auto button = [&](const QString& text, const char* name, const QString& tip) {
        auto* b = new QPushButton(text);
        b->setObjectName(QString("checks.") + name);
        b->setToolTip(tip);
        return b;
    };
    m_keep = button(tr("Keep this state"), "keep",
                    tr("To compare with: what changes from now on is shown in view, strip and here"));
    m_forget = button(tr("Forget"), "forget", tr("The state that was kept"));
    m_ghost = new QCheckBox(tr("Show it"));
    m_ghost->setToolTip(tr("The state that was kept, in view and strip beside the present one"));
    m_ghost->setObjectName("checks.ghost");
    m_fine = button(tr("Measure finer"), "finer", tr("Curved faces in four times as many pieces, for all runs"));
    m_fine->setCheckable(true);
    auto* send = button(tr("Send out\u2026"), "send", tr("The check sheet as PDF or HTML"));
    auto* row = new QHBoxLayout;
    row->addWidget(m_keep, 1);
    row->addWidget(m_forget);
    row->addWidget(m_ghost);
    side->addLayout(row);
    auto* last = new QHBoxLayout;
    last->addWidget(m_fine, 1);
    last->addWidget(send, 1);
    side->addLayout(last);
    side->addStretch();
    box->addLayout(side);
    setWidget(body);
    Checks& checks = store.checks();
    connect(m_keep, &QPushButton::clicked, &checks, &Checks::keep);
    connect(m_forget, &QPushButton::clicked, &checks, &Checks::forget);
    connect(m_ghost, &QCheckBox::clicked, &checks, &Checks::showGhost);
    connect(m_fine, &QPushButton::clicked, &checks, &Checks::setFine);
    connect(send, &QPushButton::clicked, this, &ChecksDock::sheetWanted);
    connect(m_table, &QTableView::doubleClicked, this, [this](const QModelIndex& i) { go(i.row()); });
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this, &ChecksDock::showPicture);
    connect(&checks, &Checks::changed, this, &ChecksDock::refresh);
    connect(&checks, &Checks::shownChanged, this, &ChecksDock::refresh);
    connect(&store, &Store::documentChanged, this, &ChecksDock::refresh);
}

void ChecksDock::showEvent(QShowEvent* e) {
    QDockWidget::showEvent(e);
    refresh();
}

void ChecksDock::refresh() {
    if (!isVisible()) return; // costs nothing while nobody looks
    m_model->refresh();
    const auto* kept = m_store.checks().kept();
    m_table->setColumnHidden(ChecksModel::Was, !kept);
    m_difference->setText(m_model->difference());
    m_difference->setVisible(kept != nullptr);
    m_forget->setVisible(kept != nullptr);
    m_ghost->setVisible(kept != nullptr);
    m_ghost->setChecked(kept && kept->ghost);
    m_keep->setText(kept ? tr("Keep anew") : tr("Keep this state"));
    m_fine->setChecked(m_store.checks().fine());
    if (const auto inHand = m_store.checks().inHand();
        inHand && m_store.currentRun()) // its row, whoever took it in hand
        for (int row = 0; row < m_model->rowCount(); ++row)
            if (const CheckResult* r = m_model->result(row);
                r && m_model->row(row).run == m_store.currentRun()->item->id && r->check.same(*inHand) &&
                m_table->currentIndex().row() != row)
                m_table->setCurrentIndex(m_model->index(row, ChecksModel::Name));
    showPicture();
}

/// Drawn behind, since many triangles take a while; the row that was chosen last wins.
void ChecksDock::showPicture() {
    const int row = m_table->currentIndex().row();
    const CheckResult* r = row >= 0 && row < m_model->rowCount() ? m_model->result(row) : nullptr;
    const auto run = r ? m_store.evaluation().run(m_model->row(row).run) : nullptr;
    const auto all = run ? m_store.checks().of(run->item->id) : nullptr;
    const size_t check = r ? size_t(r - all->list.data()) : 0;
    if (m_pictured.lock() == all && all && m_picturedCheck == check) return;
    if (m_drawing) m_drawing->stop = true;
    m_pictured = all;
    m_picturedCheck = check;
    if (!r || all->run != run || !r->check.on) return m_picture->show({});
    const auto job = m_drawing = std::make_shared<Job>();
    auto* watcher = new QFutureWatcher<Sheet>(this);
    connect(watcher, &QFutureWatcher<Sheet>::finished, this, [this, watcher, job] {
        watcher->deleteLater();
        if (job == m_drawing) m_picture->show(watcher->result());
    });
    watcher->setFuture(QtConcurrent::run([of = m_store.sharedEvaluation(), all, run, check, job]() -> Sheet {
        try {
            return checkPicture(*of, *run, all->list[check], job.get());
        } catch (...) {
            return {}; // no picture is no harm
        }
    }));
}

void ChecksDock::go(int row) {
    if (row < 0 || row >= m_model->rowCount()) return;
    const ChecksModel::Row r = m_model->row(row);
    if (const CheckResult* found = m_model->result(row))
        m_store.checks().go(r.run, found->check);
    else
        m_store.selectItem(Selection::Kind::Run, r.run);
}

bool ChecksDock::eventFilter(QObject* o, QEvent* e) {
    if (o == m_table && e->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(e)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            go(m_table->currentIndex().row());
            return true;
        }
    }
    return QDockWidget::eventFilter(o, e);
}

} // namespace vicinal
