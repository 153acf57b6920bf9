#pragma once

namespace vicinal {

using Id = int; ///< names one item of a document for ever; from 1, never used twice

} // namespace vicinal
