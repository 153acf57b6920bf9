#pragma once
// A delivery: what goes, as what, and into which file; kept in the document so that it can be made again.
#include "base/id.h"
#include "base/result.h"
#include "model/delivery/orders.h"
#include <span>
#include <utility>
#include <vector>

namespace vicinal {

struct Delivery {
    Id id = 0;
    std::string name;
    std::vector<Id> what; ///< runs, paths and heaps; none: everything, also what is added later
    SendOrder order;
    std::string format; ///< "pdf": its file's extension; one of formatsOf(order)
    std::string folder; ///< where it goes, from the document's own folder; empty: there
    /// Of a drawing's title block: what it says before the colon and behind it.
    std::vector<std::pair<std::string, std::string>> fields;
    bool operator==(const Delivery&) const = default;
};

/// The extensions that an order can be written with, the usual one first.
std::span<const char* const> formatsOf(const SendOrder&);

/// "Ramp drawing.pdf": its name without what file systems do not take.
std::string fileNameOf(const Delivery&);

inline constexpr std::size_t kMostFields = 12;

} // namespace vicinal
