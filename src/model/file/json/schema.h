#pragma once
#include <string>

namespace vicinal {

/// The JSON schema of document.json in the version that is written: what stands around values from schema_frame.inc,
/// the values themselves, with their words and defaults, from describe().
std::string documentSchema();

} // namespace vicinal
