#include "app/state/checks.h"
#include "app/state/latest.h"
#include "clearance/check.h"
#include "model/document/run_item.h"
#include <QCoreApplication>
#include <QDateTime>
#include <QFutureWatcher>
#include <QLocale>
#include <QPointer>
#include <QtConcurrentRun>

namespace vicinal {

namespace {
constexpr int kPatience = 200; ///< ms that work may take before an edit ends it
}

Checks::Checks(Store& store) : QObject(&store), m_store(store) {
    connect(&store, &Store::documentChanged, this, &Checks::start);
    connect(&store, &Store::loaded, this, [this] {
        ++m_generation; // what is being worked out is of another document
        if (m_job) m_job->stop = true;
        m_runs.clear();
        m_before.reset();
        m_inHand.reset();
        m_kept.reset();
        emit shownChanged();
        emit changed();
    });
    connect(&store, &Store::selectionChanged, this, [this] {
        if (m_inHand) takeInHand(std::nullopt);
    });
}

Checks::~Checks() {
    if (m_job) m_job->stop = true;
}

std::shared_ptr<const RunChecks> Checks::of(Id run) const {
    const auto found = m_runs.find(run);
    return found == m_runs.end() ? nullptr : found->second;
}

bool Checks::current(const RunResult& run) const {
    const auto all = of(run.item->id);
    return all && all->run.get() == &run && !all->stopped;
}

Verdict Checks::verdictOf(const RunResult& run) const {
    const auto all = of(run.item->id);
    if (all && all->run.get() == &run) return all->verdict;
    Verdict open = run.verdict; // what the rule says; its bodies are not measured yet
    if (open.mark == Mark::Good) open = {Mark::Open, Words(tr("Being measured.").toStdString()), -1};
    return open;
}

double Checks::progress() const { return m_job ? m_job->progress.load() : 0; }

void Checks::stop() {
    if (!m_job) return;
    m_job->stop = true;
    m_again = false;
    m_stopped = true;
}

void Checks::again() { start(); }

void Checks::setFine(bool fine) {
    if (m_fine == fine) return;
    m_fine = fine;
    start();
}

void Checks::takeInHand(std::optional<Check> c) {
    m_inHand = std::move(c);
    emit shownChanged();
}

const CheckResult* Checks::shown(const RunChecks& all) const {
    const CheckResult* worst = nullptr;
    for (const CheckResult& r : all.list) {
        if (!r.check.on || r.cannot) continue;
        if (m_inHand && r.check.same(*m_inHand)) return &r;
        if (r.worst && r.mark != Mark::Good && (!worst || r.mark > worst->mark)) worst = &r;
    }
    return worst;
}

void Checks::go(Id run, const Check& c, std::optional<CheckedPlace> place) {
    const auto all = of(run);
    if (!all) return;
    for (const CheckResult& r : all->list) {
        if (!r.check.same(c)) continue;
        if (!place) place = r.worst;
        if (!place) return;
        Selection s{Selection::Kind::Run, run, {}, -1, {}};
        if (wordsOf(c.of).lane[0] != 0) {
            s.places.insert(place->place);
            if (place->other >= 0 && place->item == 0) s.places.insert(place->other);
        }
        m_store.select(s);
        takeInHand(c);
        emit goWanted(r, *place);
        return;
    }
}

void Checks::take(const std::shared_ptr<const RunChecks>& all, int generation) {
    if (generation != m_generation) return; // of a document that is gone
    m_runs[all->run->item->id] = all;
    if (std::exchange(m_tells, true)) return; // runs that come together are told together
    QMetaObject::invokeMethod(
        this,
        [this] {
            m_tells = false;
            emit changed();
        },
        Qt::QueuedConnection);
}

void Checks::start() {
    if (m_job) {
        m_again = true;
        m_exact = false;
        if (m_since.elapsed() > kPatience)
            m_job->stop = true; // what is short is let go on, so that a drag sees verdicts
        return;
    }
    m_again = m_stopped = false;
    const int generation = ++m_generation;
    const auto job = m_job = std::make_shared<Job>();
    m_since.start();
    CheckOrder order;
    order.fine = m_fine;
    order.interactive = !std::exchange(m_exact, false);
    if (m_store.selection().kind == Selection::Kind::Run) order.first = m_store.selection().id;
    // Whoever is gone when it is done is not told.
    const QPointer<Checks> self(this);
    order.done = [self, generation](std::shared_ptr<const RunChecks> all) {
        QMetaObject::invokeMethod(
            qApp,
            [self, generation, all] {
                if (self) self->take(all, generation);
            },
            Qt::QueuedConnection);
    };
    auto* watcher = new QFutureWatcher<std::shared_ptr<const Checked>>(this);
    connect(watcher, &QFutureWatcher<std::shared_ptr<const Checked>>::finished, this, [this, watcher, generation] {
        watcher->deleteLater();
        const auto done = watcher->result();
        m_job.reset();
        if (done && generation == m_generation) {
            m_before = done;
            std::map<Id, std::shared_ptr<const RunChecks>> runs = done->runs;
            if (m_again) // ended by an edit: what is known is shown on
                for (const auto& [id, all] : m_runs) runs.try_emplace(id, all);
            m_runs = std::move(runs);
        }
        emit changed();
        if (!m_again && done && !m_stopped) // verdicts stand; the values that were left as they were follow
            m_exact = std::any_of(m_runs.begin(), m_runs.end(), [](const auto& r) { return r.second->approximate; });
        if (m_again || m_exact)
            start();
        else
            emit workChanged();
    });
    watcher->setFuture(QtConcurrent::run(&poolOf(Lane::Checks),
                                         [of = m_store.sharedEvaluation(), memory = m_memory, before = m_before, order,
                                          job]() -> std::shared_ptr<const Checked> {
                                             try {
                                                 return check(of, *memory, before, order, job.get());
                                             } catch (...) {
                                                 return nullptr; // memory; every check catches its own
                                             }
                                         }));
    emit workChanged();
}

void Checks::keep() {
    m_kept = Kept{QLocale().toString(QDateTime::currentDateTime(), "yyyy-MM-dd HH:mm"), m_store.sharedEvaluation(),
                  m_runs, true};
    emit shownChanged();
}

void Checks::forget() {
    m_kept.reset();
    emit shownChanged();
}

void Checks::showGhost(bool show) {
    if (!m_kept) return;
    m_kept->ghost = show;
    emit shownChanged();
}

} // namespace vicinal
