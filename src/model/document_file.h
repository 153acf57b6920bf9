#pragma once
#include "model/document.h"
#include <filesystem>
#include <functional>

namespace vicinal {

/// Turns the bytes of something that was brought in into its body again (`body` itself is not looked at). The exchange
/// layer has one.
using BodyReader = std::function<Result<BodyPtr>(const Brought&)>;

/// The text of document.json (docs/format/): stable key order, millimetres, numbers that read back exactly.
std::string toJson(const Document&);

/// Reads document.json. `asset` gives the bytes of a file under assets/; it may be empty when the document has none.
/// Problems: not a Vicinal document, a newer version (refused), a missing or wrong value (says which).
using AssetSource = std::function<std::optional<std::string>(const std::string& name)>;
Result<Document> fromJson(const std::string& text, const AssetSource& asset, const BodyReader& body);

/// Opens a .vicinal file, or a bare document.json with its assets/ beside it.
Result<Document> openDocument(const std::filesystem::path&, const BodyReader&);

/// Saves as .vicinal, atomically: the old file stays whole until the new one is complete.
std::optional<Problem> saveDocument(const Document&, const std::filesystem::path&);

/// Writes bytes to a temporary file beside `path`, syncs it and renames it into place. Nothing is left behind on
/// failure.
std::optional<Problem> writeAtomically(const std::filesystem::path& path, const std::string& bytes);

/// The whole file. Problem with the reason when it cannot be read; files over 1 GiB are refused.
Result<std::string> readFile(const std::filesystem::path&);

} // namespace vicinal
