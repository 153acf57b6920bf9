#include "model/document_file.h"
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>
#include <zip.h>

namespace vicinal {

std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> assetsOf(const Document&); // part_json.cpp

namespace {

constexpr std::uintmax_t kLargestFile = 1u << 30;

struct ZipCloser {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

std::optional<std::string> entry(zip_t* zip, const std::string& name) {
    zip_stat_t stat;
    if (zip_stat(zip, name.c_str(), 0, &stat) != 0 || stat.size > kLargestFile) return std::nullopt;
    zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
    if (!file) return std::nullopt;
    std::string bytes(stat.size, '\0');
    const auto n = zip_fread(file, bytes.data(), stat.size);
    zip_fclose(file);
    if (n != zip_int64_t(stat.size)) return std::nullopt;
    return bytes;
}

std::string reason() { return std::strerror(errno); }

} // namespace

Result<std::string> readFile(const std::filesystem::path& path) {
    std::error_code error;
    const auto status = std::filesystem::status(path, error);
    if (!std::filesystem::exists(status)) return Problem{"There is no file " + path.string() + ".", ""};
    if (!std::filesystem::is_regular_file(status)) return Problem{path.string() + " is not a file.", ""};
    if (std::filesystem::file_size(path, error) > kLargestFile)
        return Problem{path.string() + " is larger than 1 GiB.", ""};
    std::ifstream in(path, std::ios::binary);
    std::string bytes((std::istreambuf_iterator<char>(in)), std::istreambuf_iterator<char>());
    if (!in.good() && !in.eof()) return Problem{"Cannot read " + path.string() + ": " + reason() + ".", ""};
    return bytes;
}

std::optional<Problem> writeAtomically(const std::filesystem::path& path, const std::string& bytes) {
    const auto folder = path.has_parent_path() ? path.parent_path() : std::filesystem::path(".");
    std::string pattern = (folder / ("." + path.filename().string() + ".XXXXXX")).string();
    const int file = mkstemp(pattern.data());
    if (file < 0)
        return Problem{"Cannot write in the folder " + folder.string() + ": " + reason() + ". Choose another folder.",
                       ""};
    const auto giveUp = [&](const char* what) {
        const std::string why = reason();
        close(file);
        unlink(pattern.c_str());
        return Problem{
            std::string("Cannot ") + what + " " + path.string() + ": " + why + ". The old file is untouched.", ""};
    };
    for (size_t done = 0; done < bytes.size();) {
        const ssize_t n = write(file, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return giveUp("write");
        done += size_t(n);
    }
    struct stat old {};
    fchmod(file, stat(path.c_str(), &old) == 0 ? old.st_mode & 0777 : 0644);
    if (fsync(file) != 0) return giveUp("write");
    if (rename(pattern.c_str(), path.c_str()) != 0) return giveUp("replace");
    close(file);
    if (const int f = open(folder.c_str(), O_RDONLY | O_DIRECTORY); f >= 0) {
        fsync(f); // the new name is safe too
        close(f);
    }
    return std::nullopt;
}

Result<Document> openDocument(const std::filesystem::path& path, const BodyReader& body) {
    auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    if (bytes->starts_with("{") || path.extension() == ".json")
        return fromJson(
            *bytes,
            [&](const std::string& name) -> std::optional<std::string> {
                if (name.find("..") != std::string::npos) return std::nullopt; // assets stay beside the document
                const auto file = readFile(path.parent_path() / name);
                return file ? std::optional(*file) : std::nullopt;
            },
            body);
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes->data(), bytes->size(), 0, &error);
    Zip zip(source ? zip_open_from_source(source, ZIP_RDONLY, &error) : nullptr);
    if (!zip) {
        if (source) zip_source_free(source);
        return Problem{path.filename().string() +
                           " is not a Vicinal document, or it is cut off: " + zip_error_strerror(&error) + ".",
                       ""};
    }
    const auto json = entry(zip.get(), "document.json");
    if (!json)
        return Problem{path.filename().string() + " is not a Vicinal document: it holds no readable document.json.",
                       ""};
    return fromJson(
        *json, [&](const std::string& name) { return entry(zip.get(), name); }, body);
}

std::optional<Problem> saveDocument(const Document& d, const std::filesystem::path& path) {
    const std::string json = toJson(d);
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (!target) return Problem{"Cannot pack the document: " + std::string(zip_error_strerror(&error)) + ".", ""};
    zip_source_keep(target);
    zip_t* zip = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    if (!zip) return Problem{"Cannot pack the document: " + std::string(zip_error_strerror(&error)) + ".", ""};
    const auto assets = assetsOf(d); // must outlive zip_close
    const auto add = [&](const std::string& name, const std::string& bytes) {
        zip_source_t* s = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
        const auto index = zip_file_add(zip, name.c_str(), s, ZIP_FL_ENC_UTF_8);
        if (index >= 0)
            zip_file_set_mtime(zip, zip_uint64_t(index), 946684800, 0); // the same document gives the same bytes
    };
    add("document.json", json);
    for (const auto& [name, bytes] : assets) add(name, *bytes);
    if (zip_close(zip) != 0) {
        const Problem p{"Cannot pack the document: " + std::string(zip_strerror(zip)) + ".", ""};
        zip_discard(zip);
        zip_source_free(target);
        return p;
    }
    zip_stat_t stat;
    zip_source_stat(target, &stat);
    std::string bytes(stat.size, '\0');
    zip_source_open(target);
    zip_source_read(target, bytes.data(), bytes.size());
    zip_source_close(target);
    zip_source_free(target);
    return writeAtomically(path, bytes);
}

} // namespace vicinal
