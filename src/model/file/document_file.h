#pragma once
#include "model/document/document.h"
#include "model/file/files.h"
#include "parts/body.h"
#include <filesystem>
#include <functional>

namespace vicinal {

struct Brought;

/// Turns the bytes of something that was brought in into its body again (`body` itself is not looked at). `ready`: the
/// solid as it was stored beside them, not to be trusted. The exchange layer has one.
using BodyReader = std::function<Result<BodyPtr>(const Brought&, const std::optional<std::string>& ready)>;

/// The text of document.json (docs/format/): stable key order, millimetres, numbers that read back exactly.
std::string toJson(const Document&);

/// Reads document.json. `asset` gives the bytes of a file under assets/; it may be empty when the document has none.
/// Problems: not a Vicinal document, a newer version (refused), a missing or wrong value (says which).
using AssetSource = std::function<std::optional<std::string>(const std::string& name)>;
Result<Document> fromJson(const std::string& text, const AssetSource& asset, const BodyReader& body);

/// Opens a .vicinal file, or a bare document.json with its assets/ beside it.
Result<Document> openDocument(const std::filesystem::path&, const BodyReader&);

/// The bytes of a .vicinal. Problem (field of the value) when a value in it is not a number or beyond all sizes: what
/// could not be opened again is never written.
Result<std::string> packed(const Document&);

/// Saves as .vicinal, see writeAtomically().
std::optional<Problem> saveDocument(const Document&, const std::filesystem::path&, const SaveOptions& = {});

/// Files that stand beside a document's JSON: names below "assets/", and bytes.
std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> assetsOf(const Document&);

} // namespace vicinal
