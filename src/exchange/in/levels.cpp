#include "exchange/in/levels.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/in/bring_in.h"
#include "model/delivery/formats.h"
#include "model/file/files.h"
#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>

namespace vicinal {
namespace {

constexpr size_t kMostCells = 20'000'000;

/// Reads words and numbers of a text, and knows the line.
class Scanner {
public:
    explicit Scanner(const std::string& text) : m_at(text.data()), m_end(m_at + text.size()) {}
    std::string_view word() {
        while (m_at < m_end && std::isspace(static_cast<unsigned char>(*m_at))) m_line += *m_at++ == '\n';
        const char* from = m_at;
        while (m_at < m_end && !std::isspace(static_cast<unsigned char>(*m_at))) ++m_at;
        return {from, size_t(m_at - from)};
    }
    long line() const { return m_line; }

private:
    const char *m_at, *m_end;
    long m_line = 1;
};

std::optional<double> numberOf(std::string_view word) {
    double v = 0;
    if (!word.empty() && word.front() == '+') word.remove_prefix(1);
    const auto [at, error] = std::from_chars(word.data(), word.data() + word.size(), v);
    if (error != std::errc() || at != word.data() + word.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

Problem wrongAt(const std::string& name, long line, const std::string& what, const std::string& remedy) {
    return {say::value(name) + ", line " + std::to_string(line) + ": " + what + " " + remedy, "file"};
}

Result<LevelFile> readGrid(const std::string& text, const std::string& name, const Stop* stop, Progress* progress) {
    Scanner scan(text);
    std::map<std::string, double> head;
    std::string_view word;
    const auto wrong = [&](const std::string& what, const std::string& remedy) {
        return wrongAt(name, scan.line(), what, remedy);
    };
    for (word = scan.word(); !word.empty() && std::isalpha(static_cast<unsigned char>(word.front()));
         word = scan.word()) {
        std::string key(word);
        std::transform(key.begin(), key.end(), key.begin(), [](unsigned char c) { return char(std::tolower(c)); });
        if (key == "nan") break;
        const auto v = numberOf(scan.word());
        if (!v) return wrong("\"" + text::quoted(key) + "\" has no number.", "Export the grid again.");
        head[key] = *v;
    }
    for (const char* key : {"ncols", "nrows", "cellsize"})
        if (!head.count(key))
            return wrong("the grid does not say its \"" + std::string(key) + "\".",
                         "A grid of levels begins with ncols, nrows, xllcorner, yllcorner and cellsize.");
    const double columns = head["ncols"], rows = head["nrows"], cell = head["cellsize"];
    if (!(columns >= 2 && rows >= 2 && columns == std::floor(columns) && rows == std::floor(rows)))
        return wrong("a grid needs at least two columns and two rows.", "Export a larger piece.");
    if (columns * rows > double(kMostCells))
        return wrong("the grid has more than " + std::to_string(kMostCells) + " levels.", "Export a coarser one.");
    if (!(cell > 0)) return wrong("the cells have no size.", "Export the grid again.");
    // Levels are of the middles of cells; a corner is half a cell outside the first middle.
    const double x0 = head.count("xllcenter") ? head["xllcenter"] : head["xllcorner"] + cell / 2;
    const double y0 = head.count("yllcenter") ? head["yllcenter"] : head["yllcorner"] + cell / 2;
    const bool gaps = head.count("nodata_value");
    const double none = gaps ? head["nodata_value"] : 0;
    const auto nx = size_t(columns), ny = size_t(rows);
    LevelFile out;
    std::vector<std::uint32_t> number(nx * ny, 0xffffffff);
    size_t left = 0;
    for (size_t r = 0; r < ny; ++r) {
        if (stopped(stop)) return cancelled();
        if (progress) *progress = double(r) / double(ny);
        for (size_t c = 0; c < nx; ++c) {
            const auto v = numberOf(word);
            if (word.empty())
                return wrong("the grid is cut off: " + std::to_string(r * nx + c) + " of " + std::to_string(nx * ny) +
                                 " levels are there.",
                             "Get the file again.");
            if (!v) return wrong("\"" + text::quoted(std::string(word)) + "\" is no number.", "Export the grid again.");
            word = scan.word();
            if (gaps && *v == none) {
                ++left;
                continue;
            }
            number[r * nx + c] = std::uint32_t(out.data.points.size());
            out.data.points.push_back({x0 + double(c) * cell, y0 + double(ny - 1 - r) * cell, *v});
        }
    }
    if (!word.empty()) out.remarks.push_back("There are more levels than columns and rows: the rest was passed over.");
    if (left > 0) out.remarks.push_back(say::count(left) + " cells have no level: the ground has holes there.");
    const auto triangle = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
        if (a != 0xffffffff && b != 0xffffffff && c != 0xffffffff) out.data.faces.push_back({a, b, c});
    };
    for (size_t r = 0; r + 1 < ny; ++r)
        for (size_t c = 0; c + 1 < nx; ++c) {
            const auto nw = number[r * nx + c], ne = number[r * nx + c + 1], sw = number[(r + 1) * nx + c],
                       se = number[(r + 1) * nx + c + 1];
            if (nw == 0xffffffff || se == 0xffffffff) { // round a hole the other halves
                triangle(sw, se, ne);
                triangle(sw, ne, nw);
            } else {
                triangle(sw, se, nw);
                triangle(se, ne, nw);
            }
        }
    if (out.data.faces.empty()) return wrong("no four cells beside each other have levels.", "Export another piece.");
    return out;
}

LevelFile fromCurves(CurveFile file) {
    LevelFile out;
    out.millimetresPerUnit = file.millimetresPerUnit;
    out.remarks = std::move(file.remarks);
    std::erase_if(out.remarks, [](const std::string& r) { // as paths, not as ground
        return r.ends_with(" points passed over.") || r.ends_with(" faces passed over.");
    });
    if (!file.faces.empty()) {
        for (const auto& f : file.faces) {
            const auto n = std::uint32_t(out.data.points.size());
            const bool three = (f[2] - f[3]).norm() == 0;
            for (size_t k = 0; k < (three ? 3u : 4u); ++k) out.data.points.push_back(f[k]);
            out.data.faces.push_back({n, n + 1, n + 2});
            if (!three) out.data.faces.push_back({n, n + 2, n + 3});
        }
        if (!file.points.empty() || !file.strands.empty())
            out.remarks.emplace_back("It has faces: they are the ground, and its points and lines were passed over.");
        return out;
    }
    out.data.points = std::move(file.points);
    for (const auto& s : file.strands) {
        const auto path = Path::make(s.segments, s.closed, 1e-3);
        if (!path) continue;
        auto line = path->polyline(path->length() * 1e-2);
        out.data.breaks.push_back(std::move(line));
    }
    return out;
}

Result<LevelFile> fromMesh(const std::string& bytes, const std::string& extension, const Stop* stop,
                           Progress* progress) {
    MeshReport report;
    const auto mesh = readMesh(bytes, extension, 1, &report, stop, progress);
    if (!mesh) return mesh.problem();
    LevelFile out;
    if (extension == "glb" || extension == "gltf") out.millimetresPerUnit = 1000; // as the format says
    out.data.points = (*mesh)->points;
    out.data.faces = (*mesh)->triangles;
    out.remarks = report.remarks();
    return out;
}

} // namespace

Result<LevelFile> readLevels(const std::filesystem::path& path, const Stop* stop, Progress* progress) {
    std::string extension = path.extension().string();
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    const std::string name = path.filename().string();
    if (extension == ".dxf") {
        auto file = readDxf(path, stop);
        if (!file) return file.problem();
        return fromCurves(std::move(file).value());
    }
    const auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    if (extension == ".asc" || extension == ".grd") return readGrid(*bytes, name, stop, progress);
    for (const char* mesh : {".obj", ".stl", ".ply", ".glb", ".gltf"})
        if (extension == mesh) return fromMesh(*bytes, extension.substr(1), stop, progress);
    if (extension == ".csv" || extension == ".txt" || extension == ".xyz") {
        auto points = readPoints(*bytes);
        if (!points) return Problem{say::value(name) + ": " + Words::whole(points.problem().text), "file"};
        LevelFile out;
        out.data.points = std::move(points).value();
        return out;
    }
    return Problem{say::value(name) + " is no file of levels that can be read. Use " +
                       labelsFor(FormatUse::ReadLevels) + ".",
                   "file"};
}

Box3 boxOf(const LevelData& data) {
    Box3 box;
    for (const Vec3& p : data.points) box.extend(p);
    for (const auto& line : data.breaks)
        for (const Vec3& p : line) box.extend(p);
    return box;
}

Result<LevelData> levelsAt(const LevelFile& file, double unit, const Vec3& origin) {
    if (!(unit > 0) || !std::isfinite(unit)) return Problem{"The unit of the file is not known. Choose one.", "unit"};
    LevelData out = file.data;
    const auto scale = [&](std::vector<Vec3>& all) {
        for (Vec3& p : all) p = (p - origin) * unit;
    };
    scale(out.points);
    for (auto& line : out.breaks) scale(line);
    const auto wild = [](const std::vector<Vec3>& all) {
        return std::any_of(all.begin(), all.end(), [](const Vec3& p) { return !inReach(p); });
    };
    if (wild(out.points) || std::any_of(out.breaks.begin(), out.breaks.end(), wild))
        return Problem{"At this unit the levels lie farther away than can be used. Choose another unit, or move them "
                       "nearer to the origin before saving the file.",
                       "unit"};
    return out;
}

} // namespace vicinal
