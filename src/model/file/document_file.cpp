#include "model/file/document_file.h"
#include "base/say.h"
#include "base/text.h"
#include "model/document/defects.h"
#include "model/file/zipped.h"
#include <cstring>
#include <zip.h>

namespace vicinal {

namespace {

/// Unpacked, all entries together: what a small archive may not grow to.
constexpr zip_uint64_t kLargestUnpacked = 512u << 20;

struct ZipCloser {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

/// An entry's bytes; nothing when it is not there. `left`: how much may still be unpacked. Throws Problem when the
/// entry is damaged: the library compares checksums only when it is read to its end, so one byte more is asked for.
std::optional<std::string> entry(zip_t* zip, const std::string& name, zip_uint64_t& left) {
    zip_stat_t stat;
    if (zip_stat(zip, name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE)) return std::nullopt;
    if (stat.size > left) throw Problem{"it unpacks to more than " + say::count(kLargestUnpacked >> 20) + " MiB", ""};
    left -= stat.size;
    zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
    if (!file) return std::nullopt;
    std::string bytes(stat.size + 1, '\0');
    zip_uint64_t done = 0;
    zip_int64_t n = 0;
    while (done < bytes.size() && (n = zip_fread(file, bytes.data() + done, bytes.size() - done)) > 0)
        done += zip_uint64_t(n);
    zip_fclose(file);
    if (n < 0 || done != stat.size)
        throw Problem{"\"" + text::quoted(name) + "\" in it does not match its checksum", ""};
    bytes.resize(stat.size);
    return bytes;
}

} // namespace

Result<Document> openDocument(const std::filesystem::path& path, const BodyReader& body) {
    const std::string name = text::quoted(path.filename().string());
    try {
        auto bytes = readFile(path);
        if (!bytes) return bytes.problem();
        if (bytes->starts_with("{") || path.extension() == ".json")
            return fromJson(
                *bytes,
                [&](const std::string& asset) -> std::optional<std::string> {
                    auto file = readBelow(path.parent_path(), asset);
                    return file ? std::optional(std::move(file).value()) : std::nullopt;
                },
                body);
        zip_error_t error;
        zip_error_init(&error);
        zip_source_t* source = zip_source_buffer_create(bytes->data(), bytes->size(), 0, &error);
        Zip zip(source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr);
        if (!zip) {
            if (source) zip_source_free(source);
            return Problem{say::value(name) +
                               " is not a Vicinal document, or it is cut off: " + zip_error_strerror(&error) + ".",
                           ""};
        }
        zip_uint64_t left = kLargestUnpacked;
        const auto json = entry(zip.get(), "document.json", left);
        if (!json)
            return Problem{say::value(name) + " is not a Vicinal document: it holds no readable document.json.", ""};
        return fromJson(
            *json, [&](const std::string& asset) { return entry(zip.get(), asset, left); }, body);
    } catch (const Problem& p) {
        return Problem{say::value(name) + " is damaged: " + p.text + ". Get it again, or open an earlier copy.",
                       p.field};
    } catch (const std::bad_alloc&) {
        return Problem{say::value(name) + " needs more memory than there is.", ""};
    } catch (const std::exception& e) {
        return Problem{say::value(name) + " cannot be opened: " + text::reasonOf(e) + ".", ""};
    }
}

Result<std::string> packed(const Document& d) {
    if (auto p = defectOf(d)) return *p;
    const std::string json = toJson(d);
    const auto assets = assetsOf(d); // must outlive the archive
    std::vector<Packed> files{{"document.json", json}};
    for (const auto& [name, bytes] : assets) files.push_back({name, *bytes});
    return zipped(files);
}

std::optional<Problem> saveDocument(const Document& d, const std::filesystem::path& path, const SaveOptions& options) {
    try {
        const auto bytes = packed(d);
        if (!bytes) return bytes.problem();
        return writeAtomically(path, *bytes, options);
    } catch (const std::bad_alloc&) {
        return Problem{"There is not enough memory to save the document. The old file is untouched.", ""};
    } catch (const std::exception& e) {
        return Problem{Words("The document cannot be saved: ") + text::reasonOf(e) + ". The old file is untouched.",
                       ""};
    }
}

} // namespace vicinal
