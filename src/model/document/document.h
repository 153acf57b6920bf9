#pragma once
#include "base/quantity.h"
#include "checks/check.h"
#include "layout/places.h"
#include "model/delivery/delivery.h"
#include "model/document/body_item.h"
#include "model/document/give_way.h"
#include "model/document/heap.h"
#include "model/document/motion.h"
#include "model/recipes/part_shape.h"
#include "model/recipes/recipe.h"
#include <memory>
#include <vector>

namespace vicinal {

struct PathItem {
    Id id = 0;
    std::string name;
    PathRecipe recipe;
    bool hidden = false; ///< not drawn unless it is worked on
    bool locked = false; ///< it cannot be changed or deleted
    Id folder = 0;       ///< of the yard that it lies in; 0: none
};

struct PartItem {
    Id id = 0;
    std::string name;
    PartShape shape;
    Seat seat;
    std::array<Id, 2> under{0, 0}; ///< the part that its back and its front pin stand on; 0: the path itself
    double size = 1;               ///< uniform factor on the shape; the seat is in the axes after it
    double density = 0;            ///< kg/m^3; 0: not known
    bool locked = false;
    Id folder = 0;
};

struct RunItem {
    Id id = 0;
    std::string name;
    int colour = 0; ///< index into the colours of runs
    Id path = 0, part = 0;
    Spacing spacing;
    Facing facing;
    std::vector<int> leftOut; ///< place numbers from 1, rising
    Sequence sequence;
    Changes changes;
    Unevenness uneven;
    std::vector<Exception> exceptions;
    Rows rows;
    Echoes echoes;
    GiveWay gives;
    Motion motion;
    bool hidden = false; ///< neither drawn nor picked unless it is worked on; it does not go out with everything
    Feet feet;
    std::vector<Check> checks{}; ///< that differ from what checksOf() gives it by itself; at most one a question
    bool locked = false;
    Id folder = 0;
};

/// A document is a value: items are shared between versions and never change.
struct Document {
    Unit unit = Unit::Millimetre; ///< for showing and typing; everything inside is mm
    std::vector<std::shared_ptr<const PathItem>> paths;
    std::vector<std::shared_ptr<const PartItem>> parts;
    std::vector<std::shared_ptr<const RunItem>> runs;
    std::vector<std::shared_ptr<const HeapItem>> heaps;
    std::vector<std::shared_ptr<const BodyItem>> bodies;
    std::vector<std::shared_ptr<const FolderItem>> folders;
    std::vector<std::shared_ptr<const Delivery>> deliveries;
    Id nextId = 1;

    std::shared_ptr<const PathItem> path(Id) const; ///< null when there is none
    std::shared_ptr<const PartItem> part(Id) const;
    std::shared_ptr<const RunItem> run(Id) const;
    std::shared_ptr<const RunItem> run(const std::string& name) const;
    std::shared_ptr<const HeapItem> heap(Id) const;
    std::shared_ptr<const BodyItem> body(Id) const;
    std::shared_ptr<const FolderItem> folder(Id) const;
    std::shared_ptr<const Delivery> delivery(Id) const;
};

/// The document with this item added (id 0: a new id is given) or put in place of the one with its id.
/// An empty or used name gets a number: "Path 2".
Document with(Document, PathItem);
/// Many new paths at once.
Document with(Document, std::vector<PathItem>);
Document with(Document, PartItem);
Document with(Document, RunItem);
Document with(Document, HeapItem);
Document with(Document, BodyItem);
Document with(Document, FolderItem);
Document with(Document, Delivery);
/// The document without the item. Runs that used a removed path or part stay and say so when evaluated; deliveries no
/// longer ask for it (one that asked for nothing else stays and says so when it is made).
Document without(Document, Id);

/// Id of the item added last.
inline Id lastId(const Document& d) { return d.nextId - 1; }

/// Names of the runs, heaps, bodies, paths and parts that use a path, part or body.
std::vector<std::string> usersOf(const Document&, Id used);
/// The name of any item; empty when there is none.
std::string nameOf(const Document&, Id);

/// True when `source` is `item` itself or is made from it (paths and parts, however many steps), so that `item` cannot
/// be made from `source`.
bool follows(const Document&, Id source, Id item);

/// The part at another size, its typed seat point and pins carried along.
PartItem resized(PartItem, double size);

/// Every run that uses `old` uses `by` instead. `keepSeat`: `by` gets the seat of `old`.
Document replaced(Document, Id old, Id by, bool keepSeat);

/// The parts that a run uses, its own first, each once; not what these stand on.
std::vector<Id> partsOf(const RunItem&);
/// Those of a heap, each once.
std::vector<Id> partsOf(const HeapItem&);

/// True when the recipe's points can be edited one by one.
inline const PointsRecipe* editablePoints(const PathItem& item) { return editablePoints(item.recipe); }

} // namespace vicinal
