#pragma once
// Deliveries made: first what they will be, to be looked at, then the files.
#include "exchange/lists/lists.h"
#include "exchange/out/solids.h"
#include "exchange/paper/template.h"

namespace vicinal {

/// What a delivery will be.
struct Ready {
    Delivery delivery;
    std::shared_ptr<const ExportSet> goods;
    std::shared_ptr<const Template> paper; ///< of a template
    std::vector<Sheet> pages;              ///< of what is drawn; a line picture is one
    std::shared_ptr<const List> list;      ///< of schedules, and of a tape as a list
    std::vector<std::string> says;         ///< facts, one a line: size, scale, counts
    std::vector<Words> remarks;            ///< what the result cannot show as it is
};
/// Shaded pictures need the window: they are made there, and only told about here. Problem: nothing to send out, what
/// the kind of result refuses (`field` as described), stopped.
Result<Ready> prepare(const Delivery&, const Evaluation&, Job* = nullptr);

/// True when the window must draw it.
bool needsWindow(const Delivery&);

/// The files, the main one first; their names are fileNameOf() and others beside it. Precondition: not needsWindow().
Result<std::vector<OutFile>> filesOf(const Ready&, Job* = nullptr);

/// What one command or click writes, so that nothing of it replaces another.
struct WrittenFiles {
    std::filesystem::path document{};           ///< what it is made from, never written over; empty: has no file yet
    std::vector<std::filesystem::path> files{}; ///< so far
};
/// Writes them into a folder, each as writeAtomically(), all of them made before the first is written. The folder is
/// made when it is not there, one level deep. Problem, before anything is written: one of them is the document, or was
/// written already; a file beside the main one is there although the main one is not, so it is somebody else's.
std::optional<Problem> writeFiles(const std::vector<OutFile>&, const std::filesystem::path& folder, WrittenFiles&,
                                  const Stop* = nullptr);
/// Problem when the target is the document itself, under whatever name.
std::optional<Problem> notTheDocument(const std::filesystem::path& target, const std::filesystem::path& document);
/// The first two of a document's deliveries that would write the same file into the same folder.
std::optional<Problem> sameFile(const std::vector<std::shared_ptr<const Delivery>>&);
/// Where a delivery of a document goes.
std::filesystem::path folderOf(const Delivery&, const std::filesystem::path& document);
/// False when that is not the document's own folder or one below it, also by a link: whoever wrote the document chose
/// it, and only who makes the delivery can allow it.
bool staysBelow(const std::filesystem::path& folder, const std::filesystem::path& document);

} // namespace vicinal
