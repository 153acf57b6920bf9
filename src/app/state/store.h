#pragma once
#include "model/document/history.h"
#include "model/evaluate/evaluate.h"
#include "model/file/journal.h"
#include <QObject>
#include <QString>
#include <set>

namespace vicinal {

class Checks;
class JournalKeeper;

/// What is selected: one item, and within a run some places, within a path some point. One selection for yard, strip
/// and view.
struct Selection {
    enum class Kind { None, Run, Path, Part, Heap, Body };
    Kind kind = Kind::None;
    Id id = 0;
    std::set<int> places; ///< indices from 0; of a heap its loose parts
    int point = -1;       ///< index into the path's points, or into the wheels of a loop
    std::set<int> points; ///< further points of the path that are selected with it
    std::set<Id> also{};  ///< further items of any kind that are selected with this one, in the yard
    bool operator==(const Selection&) const = default;
    /// All items that are selected.
    std::set<Id> items() const {
        std::set<Id> out = also;
        if (kind != Kind::None) out.insert(id);
        return out;
    }
};

/// Null when there is none.
template<class T> std::shared_ptr<const T> itemOf(const Document& d, Id id) {
    if constexpr (std::is_same_v<T, PathItem>)
        return d.path(id);
    else if constexpr (std::is_same_v<T, PartItem>)
        return d.part(id);
    else if constexpr (std::is_same_v<T, HeapItem>)
        return d.heap(id);
    else if constexpr (std::is_same_v<T, BodyItem>)
        return d.body(id);
    else
        return d.run(id);
}

/// The open document with its history, evaluation, selection and file. Widgets read from here, and every change they
/// want is one edit() here.
class Store : public QObject {
    Q_OBJECT
public:
    explicit Store(QObject* parent = nullptr);
    ~Store() override;

    const Document& document() const { return m_history.now(); }
    /// What is worked out. Follows document() at once while that takes a few milliseconds; beyond that it is worked out
    /// in the background, the newest edit winning, and lags until documentChanged() comes.
    const Evaluation& evaluation() const { return *m_evaluation; }
    std::shared_ptr<const Evaluation> sharedEvaluation() const { return m_evaluation; }
    bool evaluating() const { return m_running; }
    /// How far the work behind is, 0 to 1; 0 where it cannot be said.
    double workProgress() const;
    /// Ends the work behind: what it did not reach keeps its last good state and says so.
    void stopWork();
    /// Takes up again what was stopped.
    void workOutAgain();
    /// Distances and limits, worked out behind.
    Checks& checks() const { return *m_checks; }
    const History& history() const { return m_history; }
    const Selection& selection() const { return m_selection; }

    /// One named step. `merge`: successive edits with the same text become one step, until seal().
    void edit(Document, const QString& name, const QString& merge = {});
    void seal();
    void undo();
    void redo();
    void goTo(int step);

    void select(Selection);
    void selectItem(Selection::Kind kind, Id id) { select({kind, id, {}, -1, {}}); }

    /// The run that is worked on: the selected one, or one that uses the selected path or part; null when there is
    /// none.
    std::shared_ptr<const RunResult> currentRun() const;
    /// The path that is worked on: the selected one or that of the current run.
    std::shared_ptr<const PathResult> currentPath() const;
    /// The part that is worked on: the selected one or that of the current run.
    std::shared_ptr<const PartResult> currentPart() const;

    /// What is selected, where it is a run, a heap or a site body; else null.
    std::shared_ptr<const Standing> currentStanding() const;
    /// The site body that is selected; null when there is none.
    std::shared_ptr<const BodyResult> currentBody() const;

    /// Length along the path over which neighbours follow a dragged point; 0: only the point itself.
    double softReach() const { return m_softReach; }
    void setSoftReach(double);

    /// A message of the core, its lengths in the document's unit.
    QString say(const Words&) const;

    QString filePath() const { return m_file; }
    QString title() const;
    bool saved() const { return m_history.saved(); }
    /// A document that was opened elsewhere (another thread), worked out already.
    struct Opened {
        Document document;
        std::shared_ptr<const Evaluation> evaluation;
        std::optional<FileStamp> stamp; ///< of its file
    };
    static Result<Opened> read(const std::filesystem::path&, Job* = nullptr);
    /// Takes it in place of what is there. `recovered`: it is the last state of a journal, so not saved.
    void take(Opened, const QString& path, const QString& title = {}, bool recovered = false);
    /// What is known of the file that save() would write over.
    SaveOptions saveOptions(const QString& path) const;
    /// The file was written with the document that had this serial in the history.
    void wasSaved(const QString& path, long serial);
    /// What is kept of unsaved work.
    JournalKeeper& journal() const { return *m_journal; }
    /// How long an edit is waited for before it is worked out behind, ms.
    /// Precondition: 0 or more.
    void setPatience(int ms) {
        assert(ms >= 0);
        m_patience = ms;
    }
    /// A copy of an item with a change, as one edit; nothing when there is no such item. T: RunItem, PathItem,
    /// PartItem, HeapItem, BodyItem.
    template<class T, class Change> void change(Id id, const QString& name, const QString& merge, Change&& change) {
        const auto item = itemOf<T>(document(), id);
        if (!item) return;
        T copy = *item;
        change(copy);
        edit(with(document(), std::move(copy)), name, merge);
    }

signals:
    /// An edit was not taken: the document stays as it was.
    void refused(const QString& why);
    void documentChanged();
    void workChanged(); ///< it began behind, or ended
    void selectionChanged();
    void fileChanged();
    void loaded(); ///< another document is there

private:
    void evaluateBehind();
    void evaluated(std::shared_ptr<const Evaluation>);
    void trimSelection();

    History m_history;
    std::shared_ptr<const Evaluation> m_evaluation;
    bool m_running = false, m_again = false, m_stopNext = false;
    bool m_finishing = false;    ///< what was left for later is being worked out: the next edit may end that
    std::shared_ptr<Job> m_work; ///< what is worked out behind
    int m_patience = 12;
    std::optional<FileStamp> m_stamp;
    JournalKeeper* m_journal = nullptr;
    Checks* m_checks = nullptr;
    int m_generation = 0; ///< results of an older one are dropped
    Selection m_selection;
    QString m_file, m_title;
    double m_softReach = 0;
};

/// The heap that is selected; null when there is none.
std::shared_ptr<const HeapResult> heapInHand(const Store&);
/// Leaves the selected places of the current run out or brings them back, as one edit.
void setLeftOut(Store&, bool out);
/// Brings them back when all of them are out already, else leaves them out.
void toggleLeftOut(Store&);

} // namespace vicinal
