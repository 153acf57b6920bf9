#pragma once
// Works a document out, each item behind what it is made from. Not for others.
#include "base/text.h"
#include "model/document/body_item.h"
#include "model/document/part_item.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/evaluate.h"
#include <new>
#include <unordered_map>
#include <unordered_set>

namespace vicinal {

/// What a library throws, or no memory, is a problem of the one item it concerns.
template<class T, class Make> Result<T> guarded(Make&& make) {
    try {
        return make();
    } catch (const std::bad_alloc&) {
        return Problem{"There is not enough memory for this. Make it simpler, or use fewer places.", ""};
    } catch (const std::exception& e) {
        return Problem{Words("This cannot be worked out: ") + text::reasonOf(e) + ".", ""};
    } catch (...) { // OpenCASCADE's failures are no standard exceptions
        return Problem{"This cannot be worked out: the modelling library gave up. Change a value a little.", ""};
    }
}

/// The evaluation as a job: how far it is, and whether it was stopped.
class Work {
public:
    Work(Job* job, size_t items) : m_job(job), m_items(items) {}
    void step() {
        if (m_job) m_job->progress = double(++m_done) / double(m_items);
    }
    /// Of the item that is being worked out, 0 to 1.
    Progress* within() const { return m_job ? &m_job->within : nullptr; }
    /// What takes long is left for later.
    bool interactive() const { return m_job && m_job->interactive; }
    const Stop* stop() const { return m_job ? &m_job->stop : nullptr; }

    /// Works an item out, unless the job was stopped before or meanwhile: then that is its problem.
    template<class Item, class Make> void run(Item& out, Make&& make) const {
        if (!stopped(stop())) make();
        if (!stopped(stop())) return;
        out.cancelled = true;
        out.problem = Problem{"This was stopped before it was worked out; the last state is shown. Work it out again, "
                              "or undo the change.",
                              ""};
    }

private:
    Job* m_job;
    size_t m_items, m_done = 0;
};

/// Paths, parts and runs in the order their sources ask for, each once; a circle of sources is a problem of all in it.
/// Without recursion: a chain of sources may be as long as the document.
class Graph {
public:
    Graph(const Document& doc, const Evaluation* before, Evaluation& out, Work& work)
        : m_before(before), m_out(out), m_work(work) {
        for (const auto& p : doc.paths) m_pathItems[p->id] = p;
        for (const auto& p : doc.parts) m_partItems[p->id] = p;
        for (const auto& b : doc.bodies) m_bodyItems[b->id] = b;
        for (const auto& r : doc.runs) {
            m_runItems[r->id] = r;
            if (r->gives.what != Gives::Nothing) m_givers.try_emplace(r->path, r); // the first one has its way
        }
        if (before)
            for (const auto& r : before->runs) m_runsBefore[r->item->id] = r;
    }

    /// Works out an item and all it is made from.
    void workOut(Id id);

    const std::shared_ptr<const RunResult>& run(Id id) const { return m_runs.at(id); }

private:
    struct Frame {
        Id id;
        std::vector<Id> sources;
        size_t next = 0;
        std::optional<Problem> circle{};
    };

    bool exists(Id id) const;
    bool done(Id id) const;
    void open(Id id);

    /// The bodies that a run asks; without one of their own its crowns stand off what its path lies on, else off what
    /// its feet stand on.
    std::array<Id, 3> bodiesOf(const RunItem& r) const;
    template<class Map> static typename Map::mapped_type lookUp(const Map& map, Id id) {
        const auto it = map.find(id);
        return it == map.end() ? nullptr : it->second;
    }
    std::string nameOf(Id id) const;

    const char* kindOf(Id) const;
    const char* verbOf(Id from, Id to) const; ///< in a sentence
    /// The problem of a source that is being worked out already.
    Problem circleTo(Id source, Id from) const;

    void finishPath(const Frame& frame);
    void finishPart(const Frame& frame);
    void finishBody(const Frame& frame);
    void finishRun(const Frame& frame);

    static bool movesAlong(const RunItem& r);
    /// What gives way does so for the same reasons.
    static bool givesTheSame(const PathResult& a, const PathResult& b);

    void makePath(PathResult& out, const std::optional<Problem>& circle, const PathResult* old) const;

    /// Finds the number that gives way, if one does.
    void giveWayIn(PathResult& out, const std::vector<Path>& paths) const;

    static void makePart(PartResult& out, const std::vector<ShapeSource>& sources, const PartResult* old);

    static bool alike(const Body& a, const Body& b);

    const Evaluation* m_before;
    Evaluation& m_out;
    Work& m_work;
    std::unordered_map<Id, std::shared_ptr<const PathItem>> m_pathItems;
    std::unordered_map<Id, std::shared_ptr<const PartItem>> m_partItems;
    std::unordered_map<Id, std::shared_ptr<const BodyItem>> m_bodyItems;
    std::unordered_map<Id, std::shared_ptr<const RunItem>> m_runItems;
    std::unordered_map<Id, std::shared_ptr<const RunItem>> m_givers; ///< by the path that gives way
    std::unordered_map<Id, std::shared_ptr<const RunResult>> m_runsBefore, m_runs;
    std::vector<Frame> m_stack;
    std::unordered_set<Id> m_open; ///< what stands on the stack
};

} // namespace vicinal
