// One fuzz target a reader, chosen by VICINAL_FUZZ when built. What crashes, hangs, leaks or runs out of memory is a
// find. Foreign kinds go through the reading child, as in the program: a crash there is its message here.
#include "base/quantity.h"
#include "exchange/in/child/foreign.h"
#include "exchange/in/child/readers.h"
#include "model/document/defects.h"
#include "model/file/document_file.h"
#include "model/recipes/part_shape.h"
#include <cstdint>
#include <cstdlib>
#include <fstream>
#include <unistd.h>

using namespace vicinal;

namespace {

/// A file in memory of the kind the reader wants.
std::string fileWith(const std::string& bytes, const char* extension) {
    static const std::string name = "/dev/shm/vicinal-fuzz-" + std::to_string(getpid());
    const std::string path = name + extension;
    std::ofstream(path, std::ios::binary | std::ios::trunc).write(bytes.data(), std::streamsize(bytes.size()));
    return path;
}

/// What a reader gives must hold what it promises.
[[maybe_unused]] void check(const Result<CurveFile>& r) {
    if (!r) return (void)(r.problem().text.empty() ? std::abort() : void());
    CurveFile f = *r;
    for (const auto& s : f.strands)
        for (const auto& x : s.segments)
            if (!defectOf(x).empty()) std::abort();
    (void)pathsOf(f, 1, 0.01);
}
[[maybe_unused]] void check(const Result<std::shared_ptr<const Mesh>>& r) {
    if (!r) return;
    for (const auto& t : (*r)->triangles)
        for (auto i : t)
            if (i >= (*r)->points.size()) std::abort();
}

void one(const std::string& bytes) {
    const std::string kind = VICINAL_FUZZ;
    if (kind == "document") {
        // No bodies are read here: the kinds they have are targets of their own.
        const BodyReader none = [](const Brought&, const std::optional<std::string>&) -> Result<BodyPtr> {
            return Problem{"none", ""};
        };
        const auto opened =
            bytes.starts_with("PK") ? openDocument(fileWith(bytes, ".vicinal"), none) : fromJson(bytes, {}, none);
        if (!opened) return;
        if (defectOf(*opened)) std::abort(); // nothing that could not be saved comes in
        const std::string text = toJson(*opened);
        const auto again = fromJson(text, {}, none);
        if (!again || toJson(*again) != text) std::abort();
    } else if (kind == "svg") {
        check(readSvg(fileWith(bytes, ".svg")));
    } else if (kind == "path-data") {
        std::string safe;
        for (char c : bytes)
            if (c != '"' && c != '<' && c != '&' && c != 0) safe += c;
        check(readSvg(
            fileWith("<svg width=\"10mm\" height=\"10mm\" viewBox=\"0 0 10 10\"><path transform=\"rotate(3)\" d=\"" +
                         safe + "\"/></svg>",
                     ".svg")));
    } else if (kind == "csv") {
        if (const auto points = readPoints(bytes))
            for (const auto& p : *points)
                if (!p.allFinite()) std::abort();
    } else if (kind == "obj-lines") {
        check(readObjLines(bytes, "fuzz.obj"));
    } else if (kind == "typed") {
        for (Unit u : {Unit::Millimetre, Unit::Inch})
            if (const auto v = parseLength(bytes, u); v && !std::isfinite(*v)) std::abort();
        (void)parseAngle(bytes);
        (void)parseNumber(bytes);
        (void)parseCount(bytes, 1, 100);
    } else if (kind == "dxf") {
        check(readDxf(fileWith(bytes, ".dxf")));
    } else {
        check(readMesh(bytes, kind, 1));
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, size_t size) {
    one(std::string(reinterpret_cast<const char*>(data), size));
    return 0;
}
