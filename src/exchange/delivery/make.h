#pragma once
// Deliveries made: first what they will be, to be looked at, then the files.
#include "exchange/lists/lists.h"
#include "exchange/out/solids.h"
#include "exchange/paper/template.h"

namespace vicinal {

/// What a delivery will be.
struct Ready {
    Delivery delivery;
    std::shared_ptr<const Goods> goods;
    std::shared_ptr<const Template> paper; ///< of a template
    std::vector<Sheet> pages;              ///< of what is drawn; a line picture is one
    std::shared_ptr<const List> list;      ///< of schedules, and of a tape as a list
    std::vector<std::string> says;         ///< facts, one a line: size, scale, counts
    std::vector<Words> remarks;            ///< what the result cannot show as it is
};
/// Shaded pictures need the window: they are made there, and only told about here. Problem: nothing to send out, what
/// the kind of result refuses (`field` as described), stopped.
Result<Ready> readied(const Delivery&, const Evaluation&, Job* = nullptr);

/// True when the window must draw it.
bool needsWindow(const Delivery&);

/// The files, the main one first; their names are fileNameOf() and others beside it. Precondition: not needsWindow().
Result<std::vector<OutFile>> filesOf(const Ready&, Job* = nullptr);

/// Writes them into a folder, each as writeAtomically(), all of them made before the first is written. The folder is
/// made when it is not there, one level deep.
std::optional<Problem> writeFiles(const std::vector<OutFile>&, const std::filesystem::path& folder,
                                  const Stop* = nullptr);
/// Where a delivery of a document goes.
std::filesystem::path folderOf(const Delivery&, const std::filesystem::path& document);

} // namespace vicinal
