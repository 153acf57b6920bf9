#pragma once
// What stands somewhere, whatever put it there: it is drawn, picked, measured, weighed and sent out by this alone.
#include "base/id.h"
#include "clearance/verdict.h"
#include "layout/places.h"
#include "parts/body.h"
#include <memory>
#include <string>
#include <type_traits>
#include <vector>

namespace vicinal {

struct BodyResult; // model/evaluate/evaluate.h
struct HeapResult; // the same
struct PartResult; // the same
struct RunResult;  // the same

/// One of the parts that stand there, as it was when they were set.
struct PlacedPart {
    Id id = 0; ///< of a site body its own; 0: no item of the document
    std::string name;
    std::shared_ptr<const Mesh> mesh;
    BodyPtr body;
    Seat seat;
};

/// One body that stands there.
struct Instance {
    const Instances& all;
    const PlacedPart& part;
    size_t body;  ///< its index
    size_t place; ///< whose it is, from 0
    bool own;     ///< it is the place's own; else what that stands on

    double size() const { return all.size(body); }
    const Frame& frame() const { return all.frame(body); } ///< nose, side, crown and the seat point
    Mat4 pose() const { return all.pose(body); }           ///< part axes to world
};

/// A run, a heap, a site body, or the wheels of a loop.
struct Standing {
    enum class Kind { Run, Heap, SiteBody, Wheels };
    Kind kind = Kind::Run;
    Id id = 0; ///< of wheels: of their path
    std::string name;
    int colour = 0; ///< index into the colours of runs
    bool hidden = false;
    /// The last good ones when `problem` is set; null while there are none.
    std::shared_ptr<const Instances> instances;
    std::shared_ptr<const std::vector<PlacedPart>> placedParts; ///< as instances->poses->usedSlots
    std::optional<Problem> problem;
    bool cancelled = false; ///< the problem is that its work was stopped: the next evaluation tries again
    Verdict verdict;
    std::vector<Words> remarks; ///< what the trade says about it

    bool stale() const { return problem.has_value(); }
    size_t count() const { return instances ? instances->count() : 0; } ///< places
    int present() const { return instances ? instances->present : 0; }  ///< of these, that are there
    /// Precondition: there is such a body.
    const PlacedPart& partAt(size_t body) const { return (*placedParts)[instances->slot(body)]; }
    /// Of a place; 0 when there is no such place.
    Id partIdAt(int place) const { return place >= 0 && size_t(place) < count() ? partAt(size_t(place)).id : 0; }
    /// Calls use(const Instance&) for every body that is there, in order, until it says false (or says nothing).
    template<class Use> void eachInstance(Use&& use) const {
        const size_t n = instances ? instances->bodies() : 0;
        for (size_t i = 0; i < n; ++i) {
            if (instances->leftOut(i)) continue;
            const Instance one{*instances, partAt(i), i, instances->placeOf(i), i < instances->count()};
            if constexpr (std::is_same_v<decltype(use(one)), bool>) {
                if (!use(one)) return;
            } else {
                use(one);
            }
        }
    }

    /// Itself as what it is; else null.
    const RunResult* asRun() const;
    const HeapResult* asHeap() const;
    const BodyResult* asBody() const;
};
/// The parts that a run or a heap is made of; null for anything else.
const std::vector<std::shared_ptr<const PartResult>>* partResultsOf(const Standing&);
using Standings = std::vector<std::shared_ptr<const Standing>>;

} // namespace vicinal
