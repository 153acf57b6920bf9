#include "app/sheet/run/spacing/spacing_section.h"
#include "app/controls/controls.h"
#include "app/controls/format.h"
#include "app/controls/theme.h"
#include "app/controls/value_field.h"
#include "app/sheet/run/spacing/bays_section.h"
#include "app/sheet/run/spacing/fits_model.h"
#include "layout/spacing/rules.h"
#include "layout/vehicles/envelope.h"
#include "model/document/run_item.h"
#include "model/edits/run_edits.h"
#include "model/evaluate/giving.h"
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QStyle>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>

namespace vicinal {

using value_rows::valuesOf;
using value_rows::word;

namespace {

/// What all rules share, but for what the section of limits and bays holds.
std::vector<ShownValue> sharedValues(Spacing s) {
    auto out = value_rows::collected([&](const ValueVisitor& v) { describeShared(v, s); });
    std::erase_if(out, [](const ShownValue& v) { return inBays(v.key); });
    return out;
}

std::vector<ShownValue> ruleValues(const SpacingRule& rule) {
    return std::visit([](const auto& r) { return valuesOf(r); }, rule);
}

} // namespace

SpacingSection::SpacingSection(Store& store, QWidget* parent) : RunSection(store, parent) {
    addRules<SpacingRule>("rule", {}, [this](int k) { switchTo(k); });
    for (size_t i = 0; i < std::variant_size_v<SpacingRule>; ++i)
        for (const auto& v : ruleValues(alternative<SpacingRule>(i))) addRow(v, putInto<&RunItem::spacing>);
    // Ends of one thing share a row.
    const std::map<std::string, QString> pairs = {{"gapAtLeast", tr("Gap from / to")},
                                                  {"insetStart", tr("In at start / end")}};
    const auto shared = sharedValues(Spacing{});
    for (size_t i = 0; i < shared.size(); ++i) {
        const auto pair = pairs.find(shared[i].key);
        if (pair == pairs.end())
            addRow(shared[i], putInto<&RunItem::spacing>);
        else
            addRow(pair->second, shared[i], shared[i + 1], putInto<&RunItem::spacing>), ++i;
    }
    m_error = new QLabel;
    m_error->setObjectName("error.spacing");
    m_error->setProperty("role", "error");
    m_error->setWordWrap(true);
    m_box->addWidget(m_error);
    m_train = new QLabel;
    m_train->setObjectName("spacing.train");
    m_train->setWordWrap(true);
    m_box->addWidget(m_train);
    buildFits();
    m_fitsTimer = new QTimer(this);
    m_fitsTimer->setSingleShot(true);
    m_fitsTimer->setInterval(0);
    connect(m_fitsTimer, &QTimer::timeout, this, &SpacingSection::refreshFits);
}

void SpacingSection::switchTo(int rule) {
    const auto run = m_store.currentRun();
    if (!run) return;
    const Spacing next = switchedFrom(*run, size_t(rule));
    change(word(wordsOf(next.rule).label), {}, [&](RunItem& r) { r.spacing = next; });
}

void SpacingSection::buildFits() {
    m_fits = new QTableView;
    m_fits->setModel(m_fitsModel = new FitsModel(this));
    m_fits->setObjectName("fits");
    m_fits->setAccessibleName(tr("Fits: counts that work"));
    m_fits->setToolTip(
        tr("Counts around the best one, each worked out, the nearest to what is wanted first. Click one to take it, or "
           "go over them with the arrow keys: the view shows each, Enter takes it, Esc goes back."));
    m_fits->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_fits->verticalHeader()->hide();
    m_fits->verticalHeader()->setDefaultSectionSize(22);
    m_fits->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_fits->setSelectionMode(QAbstractItemView::SingleSelection);
    m_fits->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_fits->setFocusPolicy(Qt::StrongFocus);
    m_fits->setShowGrid(false);
    m_fits->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_fits->setFont(theme::font(12));
    m_box->addWidget(m_fits);
    connect(m_fits, &QTableView::clicked, this, [this](const QModelIndex& at) { takeFit(at.row()); });
    m_fits->installEventFilter(this);
}

void SpacingSection::refresh(const RunResult& run) {
    const Spacing& s = run.item->spacing;
    const bool closed = run.path && run.path->path && run.path->path->closed();
    m_choices.at("rule")->setCurrent(int(s.rule.index()));
    for (size_t i = 0; i < std::variant_size_v<SpacingRule>; ++i)
        for (const auto& v : ruleValues(alternative<SpacingRule>(i))) showRow(v.key, false);
    for (const auto& v : ruleValues(s.rule)) showRow(v.key, counts(s, v.key, closed));
    for (const auto& v : sharedValues(s)) showRow(v.key, counts(s, v.key, closed));
    const QString suffix = s.measure == Measure::ClearGap ? tr("gap") : tr("c/c");
    for (const auto& v : ruleValues(s.rule)) // a rule's own lengths count as it is measured
        if (v.sort == ValueKind::Length) field(v.key)->setSuffix(counts(s, "measure", closed) ? suffix : QString());
    showValues(ruleValues(s.rule));
    showValues(sharedValues(s));
    // A problem stands at its own field; one that has no visible field stands below them all.
    const bool placed = showProblem(run.problem);
    m_error->setText(run.problem && !placed ? m_store.say(run.problem->text) : QString());
    m_error->setVisible(run.problem && !placed);
    showTrain(run);
    m_fitsTimer->start(); // not within a drag's own event: the newest state is solved once
}

/// The bends that vehicles pass, and the room they take.
void SpacingSection::showTrain(const RunResult& run) {
    m_train->setVisible(run.sweeps && !run.problem);
    if (!run.sweeps || run.problem) return;
    const Unit unit = m_store.document().unit;
    const double least = passesBends(run);
    if (m_factsOf.lock() != run.path) { // crossings are looked for, too: behind, and not for every step of a value
        m_factsOf = run.path;
        m_facts.reset();
        m_factsWork.run([p = run.placed->path](Job&) { return factsOf(p); },
                        [this](std::optional<PathFacts> found) {
                            m_facts = found;
                            if (const auto shown = m_store.currentRun(); shown && shown->path == m_factsOf.lock())
                                showTrain(*shown);
                        });
    }
    if (!m_facts && m_factsWork.running() && m_trainOf == run.item->id) return; // it stays until they are there
    m_trainOf = run.item->id;
    const PathFacts facts = m_facts.value_or(PathFacts{});
    QString text = tr("Stands in bends down to a radius of %1").arg(longLengthText(least, unit));
    const bool tight = facts.sharpest < least * (1 - tolerance::rounding);
    if (std::isfinite(facts.sharpest))
        text += tight ? tr("; the path has one of %1 at %2.") : tr("; the sharpest of the path is %1 at %2.");
    else
        text += m_facts ? tr(".") : tr("; how sharply the path bends is not known yet.");
    if (std::isfinite(facts.sharpest))
        text = text.arg(longLengthText(facts.sharpest, unit), longLengthText(facts.sharpestAt, unit));
    double turn = 0;
    for (double t : run.placed->laid->swings) turn = std::max(turn, t);
    text += tr(" What is under them turns by %1\u00b0 now.").arg(turn / kDegree, 0, 'f', 2);
    const SweptEnvelope& all = *run.sweeps;
    const auto part = [&](const SweptEnvelope::Worst& w) {
        return QString::fromStdString(run.placed->parts[w.slot].name);
    };
    text += tr(" Farthest inside: %1, by %2 at %3; outside: %4, by %5 at %6.")
                .arg(lengthText(all.inside.reach, unit), part(all.inside), longLengthText(all.inside.station, unit),
                     lengthText(all.outside.reach, unit), part(all.outside), longLengthText(all.outside.station, unit));
    m_train->setProperty("role", tight ? "error" : "muted");
    m_train->style()->polish(m_train);
    m_train->setText(text);
}

QString SpacingSection::summary(const RunResult& run) const {
    QString line = word(wordsOf(run.item->spacing->rule).summary);
    if (run.placed && !run.stale())
        line += " \u00b7 " + tr("%1 places").arg(run.placed->count()) + " \u00b7 " +
                tr("c/c %1").arg(lengthText(run.placed->laid->pitch, m_store.document().unit));
    return line;
}

void SpacingSection::refreshFits() {
    const auto run = m_store.currentRun();
    if (!run) {
        m_fitsWork.stop();
        m_fitsOf.reset();
        m_fits->hide();
        return;
    }
    if (m_before) return;        // gone over: the rows stay as they are
    if (m_fitsOf == run) return; // being solved, or shown
    m_fitsOf = run;
    m_fitsWork.run([run](Job& job) { return fitsOf(*run, &job.stop); },
                   [this, run](std::optional<Result<std::vector<Fit>>> rows) {
                       if (m_fitsOf == run) showFits(rows ? *rows : Result<std::vector<Fit>>(Problem{}));
                   });
}

void SpacingSection::showFits(const Result<std::vector<Fit>>& rows) {
    m_fits->setVisible(bool(rows));
    if (!rows) return;
    const auto run = m_store.currentRun();
    const bool gives = run && run->path && run->path->giver && run->path->giver->id == run->item->id;
    std::optional<ProfileKind> given;
    if (gives) given = run->path->gave ? run->path->gave->of : ProfileKind::Length;
    m_fitsModel->show(*rows, m_store.document().unit, given);
    m_fits->setFixedHeight(22 * m_fitsModel->rowCount() + m_fits->horizontalHeader()->sizeHint().height() + 4);
}

void SpacingSection::takeFit(int row) {
    if (!m_store.currentRun() || row < 0 || row >= m_fitsModel->rowCount()) return;
    if (m_before) { // shown already
        m_before.reset();
        m_store.seal();
        return refreshFits();
    }
    const long count = m_fitsModel->count(row);
    change(tr("Take %1 places").arg(count), {}, [&](RunItem& r) { takeCount(r, count); });
}

void SpacingSection::tryFit(int row) {
    if (!m_store.currentRun() || row < 0 || row >= m_fitsModel->rowCount()) return;
    if (!m_before) {
        m_store.seal();
        m_before = m_store.history().index();
    }
    m_fits->selectRow(row);
    const long count = m_fitsModel->count(row);
    change(tr("Take %1 places").arg(count), "fits", [&](RunItem& r) { takeCount(r, count); });
}

void SpacingSection::leaveFits() {
    if (!m_before) return;
    const bool changed = m_store.history().index() > *m_before;
    m_before.reset();
    m_store.seal();
    if (changed) m_store.undo();
    refreshFits();
}

bool SpacingSection::eventFilter(QObject* on, QEvent* e) {
    if (on != m_fits) return RunSection::eventFilter(on, e);
    if (e->type() == QEvent::FocusOut) leaveFits();
    if (e->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(e)->key();
        const int now =
            m_fits->selectionModel()->hasSelection() && m_before ? m_fits->currentIndex().row() : m_fitsModel->inUse();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            tryFit(std::clamp(now + (key == Qt::Key_Down ? 1 : -1), 0, m_fitsModel->rowCount() - 1));
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            if (m_before) takeFit(now);
            return true;
        }
        if (key == Qt::Key_Escape && m_before) {
            leaveFits();
            return true;
        }
    }
    return RunSection::eventFilter(on, e);
}

} // namespace vicinal
