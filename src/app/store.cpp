#include "app/store.h"
#include "exchange/bring_in.h"
#include "model/defects.h"
#include "model/document_file.h"
#include <QElapsedTimer>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

namespace vicinal {

Store::Store(QObject* parent) : QObject(parent), m_evaluation(evaluate(Document{})) {}

void Store::refresh() {
    if (m_slow || m_running) return evaluateBehind();
    QElapsedTimer clock;
    clock.start();
    auto result = evaluate(m_history.now(), m_evaluation);
    evaluated(std::move(result), double(clock.nsecsElapsed()) * 1e-6);
}

void Store::evaluated(std::shared_ptr<const Evaluation> result, double milliseconds) {
    m_evaluation = std::move(result);
    size_t places = 0;
    for (const auto& r : m_evaluation->runs) places += r->places ? r->places->count() : 0;
    // More than half a frame: the next one behind. Few places never take that long; then the machine was busy.
    m_slow = milliseconds > 8 && places > 20'000;
    trimSelection();
    emit documentChanged();
}

/// Works the newest document out on another thread. Edits that come meanwhile wait for one more round, whatever their
/// number.
void Store::evaluateBehind() {
    if (m_running) {
        m_again = true;
        return;
    }
    m_running = true;
    m_again = false;
    const int generation = ++m_generation;
    using Outcome = std::pair<std::shared_ptr<const Evaluation>, double>;
    auto* watcher = new QFutureWatcher<Outcome>(this);
    connect(watcher, &QFutureWatcher<Outcome>::finished, this, [this, watcher, generation] {
        watcher->deleteLater();
        if (generation != m_generation) return;
        m_running = false;
        const auto [result, milliseconds] = watcher->result();
        evaluated(result, milliseconds);
        if (m_again) evaluateBehind();
    });
    watcher->setFuture(QtConcurrent::run([document = m_history.now(), before = m_evaluation] {
        QElapsedTimer clock;
        clock.start();
        auto result = evaluate(document, before);
        return Outcome{std::move(result), double(clock.nsecsElapsed()) * 1e-6};
    }));
}

void Store::settle() {
    if (!m_running) return;
    ++m_generation; // what is on its way is overtaken
    m_running = m_again = false;
    evaluated(evaluate(m_history.now(), m_evaluation), 100);
}

QString Store::say(const Words& words) const {
    const Unit unit = document().unit;
    return QString::fromStdString(words.in(millimetresPer(unit), nameOf(unit)));
}

void Store::edit(Document document, const QString& name, const QString& merge) {
    if (const auto wrong = defectOf(document, &m_history.now())) {
        emit refused(say(wrong->text));
        emit documentChanged(); // fields go back to what is there
        return;
    }
    m_history.push(std::move(document), name.toStdString(), merge.toStdString());
    refresh();
}

void Store::seal() { m_history.seal(); }

void Store::undo() {
    if (!m_history.canUndo()) return;
    m_history.undo();
    refresh();
}

void Store::redo() {
    if (!m_history.canRedo()) return;
    m_history.redo();
    refresh();
}

void Store::goTo(int step) {
    if (step < 0 || size_t(step) >= m_history.size()) return;
    m_history.goTo(size_t(step));
    refresh();
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
    const bool there = (s.kind == Selection::Kind::Run && d.run(s.id)) ||
                       (s.kind == Selection::Kind::Path && d.path(s.id)) ||
                       (s.kind == Selection::Kind::Part && d.part(s.id));
    if (!there) s = {};
    if (s.kind == Selection::Kind::Run) {
        const auto run = m_evaluation->run(s.id);
        const int n = run && run->places ? int(run->places->count()) : 0;
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

std::shared_ptr<const PathResult> Store::currentPath() const {
    const Id id = m_selection.kind == Selection::Kind::Path ? m_selection.id : 0;
    const auto run = currentRun();
    const auto it = m_evaluation->paths.find(id ? id : run ? run->item->path : 0);
    return it == m_evaluation->paths.end() ? nullptr : it->second;
}

std::shared_ptr<const PartResult> Store::currentPart() const {
    const Id id = m_selection.kind == Selection::Kind::Part ? m_selection.id : 0;
    const auto run = currentRun();
    const auto it = m_evaluation->parts.find(id ? id : run ? run->item->part : 0);
    return it == m_evaluation->parts.end() ? nullptr : it->second;
}

QString Store::title() const {
    if (!m_file.isEmpty()) return QFileInfo(m_file).fileName();
    return m_title.isEmpty() ? tr("Untitled") : m_title;
}

void Store::load(Document d, const QString& file) {
    m_history = History(std::move(d));
    ++m_generation;
    m_running = m_again = m_slow = false;
    m_evaluation = evaluate(m_history.now());
    m_selection = {};
    m_file = file;
    m_title.clear();
    if (!document().runs.empty()) m_selection = {Selection::Kind::Run, document().runs.front()->id, {}, -1, {}};
    emit loaded();
    emit fileChanged();
    emit selectionChanged();
    emit documentChanged();
}

void Store::newDocument() { load({}, {}); }

QString Store::open(const QString& path) {
    auto d = openDocument(path.toStdString(), readBody);
    if (!d) return QString::fromStdString(d.problem().text);
    load(std::move(d).value(), path);
    return {};
}

QString Store::openCopy(const QString& path, const QString& title) {
    if (const QString problem = open(path); !problem.isEmpty()) return problem;
    m_file.clear();
    m_title = title;
    emit fileChanged();
    return {};
}

QString Store::save(const QString& path) {
    if (const auto problem = saveDocument(document(), path.toStdString())) return QString::fromStdString(problem->text);
    m_history.markSaved();
    m_file = path;
    emit fileChanged();
    return {};
}

void Store::setLeftOut(bool out) {
    const auto run = currentRun();
    if (!run || m_selection.places.empty()) return;
    const int n = int(m_selection.places.size());
    const QString name = out ? tr("Leave out %n place(s)", nullptr, n) : tr("Bring back %n place(s)", nullptr, n);
    const std::set<int> places = m_selection.places;
    changeRun(run->item->id, name, {}, [&](RunItem& r) {
        for (int i : places) {
            std::erase(r.leftOut, i + 1);
            if (out) r.leftOut.push_back(i + 1);
        }
    });
}

void Store::toggleLeftOut() {
    const auto run = currentRun();
    if (!run || !run->places) return;
    const auto& left = run->places->leftOut;
    bool all = true;
    for (int i : m_selection.places) all = all && left[i];
    setLeftOut(!all);
}

} // namespace vicinal
