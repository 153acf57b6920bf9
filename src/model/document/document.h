#pragma once
// The document: items by name only. What is in one stands in path_item.h, part_item.h, run_item.h, body_item.h, heap.h
// and delivery.h, so that a change of rules or recipes is compiled where it is used.
#include "base/id.h"
#include "base/quantity.h"
#include <memory>
#include <string>
#include <vector>

namespace vicinal {

struct PathItem;
struct PartItem;
struct RunItem;
struct HeapItem;
struct BodyItem;
struct FolderItem;
struct Delivery;

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

} // namespace vicinal
