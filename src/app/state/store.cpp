#include "app/state/store.h"
#include "app/state/checks.h"
#include "app/state/journal_keeper.h"
#include "app/state/latest.h"
#include "exchange/in/bring_in.h"
#include "model/document/defects.h"
#include "model/document/heap.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/edits/yard_edits.h"
#include "model/file/document_file.h"
#include <QCoreApplication>
#include <QFileInfo>
#include <QSemaphore>
#include <QtConcurrentRun>

namespace vicinal {

namespace {

/// A document is known by it wherever the next program is started.
QString absolute(const QString& file) { return file.isEmpty() ? file : QFileInfo(file).absoluteFilePath(); }

struct Outcome {
    std::shared_ptr<const Evaluation> evaluation;
    QString problem;
};
/// Never throws, since nobody would hear that its answer is missing: what one item cannot do is that item's problem;
/// what is left is memory.
Outcome workOut(const Document& d, const std::shared_ptr<const Evaluation>& before, Job* job = nullptr) {
    try {
        return {evaluate(d, before, job), {}};
    } catch (const std::exception& e) {
        return {before, Store::tr("This cannot be worked out: %1. The last state is shown.").arg(e.what())};
    } catch (...) {
        return {before, Store::tr("This cannot be worked out: a library gave up. The last state is shown.")};
    }
}

} // namespace

Store::Store(QObject* parent)
    : QObject(parent), m_evaluation(evaluate(Document{})), m_journal(new JournalKeeper(*this)),
      m_checks(new Checks(*this)) {}

Store::~Store() = default;

double Store::workProgress() const {
    if (!m_work) return 0;
    return m_finishing && m_work->within > 0 ? m_work->within.load() : m_work->progress.load();
}

void Store::evaluated(std::shared_ptr<const Evaluation> result) {
    m_evaluation = std::move(result);
    trimSelection();
    emit documentChanged();
}

/// Works the newest document out on another thread, and waits for it as long as nobody sees that. Edits that come
/// meanwhile wait for one more round, whatever their number.
void Store::evaluateBehind() {
    if (m_running) {
        m_again = true;
        if (m_finishing && m_work) m_work->stop = true; // it is taken up again behind the edit
        return;
    }
    const bool finishing = std::exchange(m_finishing, false);
    m_running = true;
    m_again = false;
    const int generation = ++m_generation;
    const auto ready = std::make_shared<QSemaphore>();
    const auto job = std::make_shared<Job>();
    job->stop = std::exchange(m_stopNext, false);
    job->interactive = !finishing;
    auto future =
        QtConcurrent::run(&poolOf(Lane::Evaluation), [document = m_history.now(), before = m_evaluation, ready, job] {
            Outcome out = workOut(document, before, job.get());
            ready->release();
            return out;
        });
    const auto take = [this, generation, finishing](const Outcome& out) {
        if (generation != m_generation) return;
        m_running = false;
        m_work.reset();
        if (!(finishing && m_again)) evaluated(out.evaluation); // else ended by an edit
        if (!out.problem.isEmpty()) emit refused(out.problem);
        m_finishing = !m_again && m_evaluation->deferred();
        if (m_again || m_finishing) evaluateBehind();
    };
    m_finishing = finishing;
    if (ready->tryAcquire(1, finishing ? 0 : m_patience)) {
        take(future.result());
        return;
    }
    auto* watcher = new QFutureWatcher<Outcome>(this);
    connect(watcher, &QFutureWatcher<Outcome>::finished, this, [this, watcher, take] {
        watcher->deleteLater();
        take(watcher->result());
        emit workChanged();
    });
    watcher->setFuture(future);
    m_work = job;
    emit workChanged();
}

void Store::stopWork() {
    if (!m_work) return;
    m_work->stop = true;
    m_stopNext = m_again; // what was edited meanwhile is shown as it is, too
}

void Store::workOutAgain() {
    if (m_evaluation->cancelled()) evaluateBehind();
}

QString Store::say(const Words& words) const {
    const Unit unit = document().unit;
    const auto translated = [](const std::string& key) {
        return QCoreApplication::translate("Message", key.c_str()).toStdString();
    };
    return QString::fromStdString(words.in(millimetresPer(unit), nameOf(unit), translated));
}

void Store::edit(Document document, const QString& name, const QString& merge) {
    auto wrong = defectOf(document, &m_history.now());
    if (!wrong) wrong = lockBroken(m_history.now(), document);
    if (wrong) {
        emit refused(say(wrong->text));
        emit documentChanged(); // fields go back to what is there
        return;
    }
    m_history.push(std::move(document), name.toStdString(), merge.toStdString());
    m_journal->keep(); // however long it takes to work it out
    evaluateBehind();
}

void Store::seal() { m_history.seal(); }

void Store::undo() {
    if (!m_history.canUndo()) return;
    m_history.undo();
    m_journal->keep(); // however long it takes to work it out
    evaluateBehind();
}

void Store::redo() {
    if (!m_history.canRedo()) return;
    m_history.redo();
    m_journal->keep(); // however long it takes to work it out
    evaluateBehind();
}

void Store::goTo(int step) {
    if (step < 0 || size_t(step) >= m_history.size()) return;
    m_history.goTo(size_t(step));
    m_journal->keep(); // however long it takes to work it out
    evaluateBehind();
}

void Store::setSoftReach(double reach) {
    m_softReach = reach;
    emit selectionChanged();
}

void Store::select(Selection s) {
    if (s == m_selection) return;
    m_selection = std::move(s);
    trimSelection();
    emit selectionChanged();
}

/// What is selected must exist; a deleted item leaves nothing selected, a smaller run fewer places.
void Store::trimSelection() {
    const Document& d = document();
    Selection s = m_selection;
    const bool there =
        (s.kind == Selection::Kind::Run && d.run(s.id)) || (s.kind == Selection::Kind::Path && d.path(s.id)) ||
        (s.kind == Selection::Kind::Part && d.part(s.id)) || (s.kind == Selection::Kind::Heap && d.heap(s.id)) ||
        (s.kind == Selection::Kind::Body && d.body(s.id));
    if (!there) s = {};
    std::erase_if(s.also, [&](Id id) { return id == s.id || nameOf(d, id).empty(); });
    if (s.kind == Selection::Kind::Run) {
        const auto run = m_evaluation->run(s.id);
        const int n = run && run->placed ? int(run->placed->count()) : 0;
        std::erase_if(s.places, [&](int i) { return i < 0 || i >= n; });
    } else if (s.kind == Selection::Kind::Heap) {
        const int n = int(d.heap(s.id)->parts.size());
        std::erase_if(s.places, [&](int i) { return i < 0 || i >= n; });
    } else {
        s.places.clear();
    }
    const auto path = currentPath();
    const int points = path ? pointCount(path->item->recipe) : 0;
    if (s.point >= points) s.point = -1;
    std::erase_if(s.points, [&](int i) { return i < 0 || i >= points; });
    if (s == m_selection) return;
    m_selection = s;
    emit selectionChanged();
}

std::shared_ptr<const RunResult> Store::currentRun() const {
    if (m_selection.kind == Selection::Kind::Run) return m_evaluation->run(m_selection.id);
    return nullptr;
}

std::shared_ptr<const Standing> Store::currentStanding() const {
    const auto kind = m_selection.kind;
    const bool stands = kind == Selection::Kind::Run || kind == Selection::Kind::Heap || kind == Selection::Kind::Body;
    return stands ? m_evaluation->standing(m_selection.id) : nullptr;
}

std::shared_ptr<const HeapResult> heapInHand(const Store& store) {
    if (store.selection().kind == Selection::Kind::Heap) return store.evaluation().heap(store.selection().id);
    return nullptr;
}

std::shared_ptr<const BodyResult> Store::currentBody() const {
    if (m_selection.kind != Selection::Kind::Body) return nullptr;
    const auto it = m_evaluation->bodies.find(m_selection.id);
    return it == m_evaluation->bodies.end() ? nullptr : it->second;
}

std::shared_ptr<const PathResult> Store::currentPath() const {
    Id id = m_selection.kind == Selection::Kind::Path ? m_selection.id : 0;
    if (const auto run = currentRun(); run && !id) id = run->item->path;
    const auto it = m_evaluation->paths.find(id);
    return it == m_evaluation->paths.end() ? nullptr : it->second;
}

std::shared_ptr<const PartResult> Store::currentPart() const {
    Id id = m_selection.kind == Selection::Kind::Part ? m_selection.id : 0;
    if (const auto run = currentRun(); run && !id) id = run->item->part;
    const auto it = m_evaluation->parts.find(id);
    return it == m_evaluation->parts.end() ? nullptr : it->second;
}

QString Store::title() const {
    if (!m_file.isEmpty()) return QFileInfo(m_file).fileName();
    return m_title.isEmpty() ? tr("Untitled") : m_title;
}

Result<Store::Opened> Store::read(const std::filesystem::path& path, Job* job) {
    const auto stamp = stampOf(path); // before: a change while it is read is noticed
    auto d = openDocument(path, readBody);
    if (!d) return d.problem();
    auto evaluation = evaluate(*d, nullptr, job);
    return Opened{std::move(d).value(), std::move(evaluation), stamp};
}

void Store::take(Opened opened, const QString& file, const QString& name, bool recovered) {
    m_history = History(std::move(opened.document));
    if (recovered) m_history.markSaved(-1);
    ++m_generation;
    if (m_work) m_work->stop = true;
    m_work.reset();
    m_running = m_again = m_stopNext = false;
    emit workChanged();
    m_evaluation = std::move(opened.evaluation);
    m_selection = {};
    m_file = absolute(file);
    m_title = name;
    m_stamp = opened.stamp;
    m_journal->clear(); // of what was there before
    if (!document().runs.empty()) m_selection = {Selection::Kind::Run, document().runs.front()->id, {}, -1, {}};
    emit loaded();
    emit fileChanged();
    emit selectionChanged();
    emit documentChanged();
}

SaveOptions Store::saveOptions(const QString& path) const {
    SaveOptions out;
    if (path == m_file) out.known = m_stamp; // another file was asked about by the dialog that named it
    out.copies = vicinal::copiesPlace();
    return out;
}

void Store::wasSaved(const QString& path, long serial) {
    m_history.markSaved(serial);
    m_file = absolute(path);
    m_stamp = stampOf(path.toStdString());
    emit fileChanged();
}

void setLeftOut(Store& store, bool out) {
    const auto run = store.currentRun();
    const std::set<int> places = store.selection().places;
    if (!run || places.empty()) return;
    const int n = int(places.size());
    const QString name =
        out ? Store::tr("Leave out %n place(s)", nullptr, n) : Store::tr("Bring back %n place(s)", nullptr, n);
    store.change<RunItem>(run->item->id, name, {}, [&](RunItem& r) {
        for (int i : places) {
            std::erase(r.leftOut, i + 1);
            if (out) r.leftOut.push_back(i + 1);
        }
    });
}

void toggleLeftOut(Store& store) {
    const auto run = store.currentRun();
    if (!run || !run->placed) return;
    bool all = true;
    for (int i : store.selection().places) all = all && run->placed->leftOut(size_t(i));
    setLeftOut(store, !all);
}

} // namespace vicinal
