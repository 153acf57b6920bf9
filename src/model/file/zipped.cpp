#include "model/file/zipped.h"
#include <zip.h>

namespace vicinal {

Result<std::string> zipped(const std::vector<Packed>& files) {
    zip_error_t error;
    zip_error_init(&error);
    const auto cannot = [](const char* why) {
        return Problem{Words("Cannot pack the file: ") + std::string(why) + ".", ""};
    };
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (!target) return cannot(zip_error_strerror(&error));
    zip_source_keep(target);
    zip_t* zip = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    if (!zip) return cannot(zip_error_strerror(&error));
    for (const Packed& f : files) {
        zip_source_t* s = f.from.empty() ? zip_source_buffer(zip, f.bytes.data(), f.bytes.size(), 0)
                                         : zip_source_file(zip, f.from.c_str(), 0, -1);
        const auto index = zip_file_add(zip, f.name.c_str(), s, ZIP_FL_ENC_UTF_8);
        if (index < 0) continue;
        zip_file_set_mtime(zip, zip_uint64_t(index), 946684800, 0);
        if (f.stored) zip_set_file_compression(zip, zip_uint64_t(index), ZIP_CM_STORE, 0);
    }
    if (zip_close(zip) != 0) {
        const Problem p = cannot(zip_strerror(zip));
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
    return bytes;
}

} // namespace vicinal
