#include "base/say.h"
#include "base/text.h"
#include "exchange/in/bring_in.h"
#include "model/delivery/formats.h"
#include "model/file/document_file.h"
#include <charconv>
#include <cmath>
#include <sstream>

namespace vicinal {
Result<std::vector<Strand>> pathsOf(CurveFile& file, double unit, double joinMm) {
    if (!(unit > 0) || !std::isfinite(unit)) return Problem{"The unit of the file is not known. Choose one.", "unit"};
    if (file.strands.empty())
        return Problem{"The file has no line, arc, circle, ellipse, polyline or spline in it. Its points and faces can "
                       "be brought in as ground.",
                       "file"};
    std::vector<Strand> strands = file.strands;
    for (auto& s : strands)
        for (auto& seg : s.segments) seg = moved(seg, Mat3::Identity(), Vec3::Zero(), unit);
    std::vector<Strand> out;
    int lost = 0;
    std::string why;
    for (auto& s : chainByEnds(std::move(strands), std::max(joinMm, 0.0))) {
        if (const auto p = Path::make(s.segments, s.closed))
            out.push_back(std::move(s));
        else
            ++lost, why = p.problem().text;
    }
    if (out.empty()) return Problem{Words("None of the curves can be used as a path. ") + why, "file"};
    if (lost > 0) file.remarks.push_back(say::count(lost) + " curves cannot be used: " + why);
    return out;
}

Result<std::vector<Vec3>> readPoints(const std::string& text) {
    std::vector<Vec3> out;
    const char separator = text.find(';') != std::string::npos    ? ';'
                           : text.find('\t') != std::string::npos ? '\t'
                           : text.find(',') != std::string::npos  ? ','
                                                                  : ' ';
    size_t at = 0;
    int line = 0, rows = 0;
    while (at < text.size()) {
        size_t end = text.find('\n', at);
        if (end == std::string::npos) end = text.size();
        std::string row = text.substr(at, end - at);
        at = end + 1;
        ++line;
        if (line == 1 && row.starts_with("\xef\xbb\xbf")) row.erase(0, 3);
        while (!row.empty() && std::isspace(static_cast<unsigned char>(row.back()))) row.pop_back();
        while (!row.empty() && std::isspace(static_cast<unsigned char>(row.front()))) row.erase(0, 1);
        if (row.empty() || row[0] == '#') continue;
        ++rows;
        std::vector<double> numbers;
        std::string bad;
        size_t i = 0;
        while (i <= row.size()) {
            size_t e = row.find(separator, i);
            if (e == std::string::npos) e = row.size();
            std::string cell = row.substr(i, e - i);
            i = e + 1;
            std::erase_if(cell, [](unsigned char c) { return std::isspace(c) || c == '"'; });
            if (cell.empty() && separator == ' ') continue;
            if (separator != ',')
                for (char& c : cell)
                    if (c == ',') c = '.';
            if (cell.starts_with("+")) cell.erase(0, 1);
            double v = 0;
            const auto r = std::from_chars(cell.data(), cell.data() + cell.size(), v);
            if (r.ec != std::errc() || r.ptr != cell.data() + cell.size() || !std::isfinite(v)) {
                if (bad.empty()) bad = cell.empty() ? "an empty cell" : "\"" + text::quoted(cell) + "\"";
            }
            numbers.push_back(v);
        }
        if (!bad.empty()) {
            if (rows == 1 && bad.find_first_of("0123456789") == std::string::npos && bad != "\"nan\"" &&
                bad != "\"inf\"")
                continue; // a heading
            return Problem{"Line " + say::count(line) + ": " + bad +
                               " is not a number. A point is x, y and, if wanted, z.",
                           "file"};
        }
        if (numbers.size() < 2 || numbers.size() > 3)
            return Problem{"Line " + say::count(line) + " has " + say::count(numbers.size()) +
                               " value(s). A point is x, y and, if wanted, z.",
                           "file"};
        const Vec3 p(numbers[0], numbers[1], numbers.size() > 2 ? numbers[2] : 0);
        if (!inReach(p)) return Problem{"Line " + say::count(line) + ": a coordinate is beyond 1e9.", "file"};
        out.push_back(p);
    }
    if (out.size() < 2)
        return Problem{"The file has " + say::count(out.size()) + " point(s); at least two are needed.", "file"};
    return out;
}

Result<CurveFile> readObjLines(const std::string& text, const std::string& name) {
    std::vector<Vec3> points;
    CurveFile out;
    std::istringstream in(text);
    std::string row;
    for (long line = 1; std::getline(in, row); ++line) {
        std::istringstream cells(row);
        std::string word;
        cells >> word;
        if (word == "v") {
            Vec3 p;
            if (!(cells >> p.x() >> p.y() >> p.z()) || !finite(p))
                return Problem{say::value(name) + ", line " + say::count(line) + ": a point needs three numbers.",
                               "file"};
            if (!inReach(p))
                return Problem{say::value(name) + ", line " + say::count(line) + ": a coordinate is beyond 1e9.",
                               "file"};
            points.push_back(p);
        } else if (word == "l") {
            Strand s;
            std::optional<Vec3> before;
            std::string cell;
            while (cells >> cell) { // "7" or "7/3"
                long i = std::atol(cell.c_str());
                if (i < 0) i += long(points.size()) + 1;
                if (i < 1 || i > long(points.size()))
                    return Problem{say::value(name) + ", line " + say::count(line) + ": there is no point " +
                                       text::quoted(cell) + ".",
                                   "file"};
                const Vec3& p = points[size_t(i) - 1];
                if (before && (p - *before).norm() > 0) s.segments.push_back(Line{*before, p});
                before = p;
            }
            if (s.segments.size() > 1 &&
                (endOf(s.segments.back()) - startOf(s.segments.front())).norm() < tolerance::rounding)
                s.closed = true;
            if (!s.segments.empty()) out.strands.push_back(std::move(s));
        }
    }
    if (out.strands.empty()) return Problem{say::value(name) + " has no lines in it (\"l\" statements).", "file"};
    return out;
}

Result<CurveFile> readCurves(const std::filesystem::path& path, const Stop* stop) {
    const std::string extension = text::lowered(path.extension().string());
    if (extension == ".dxf") return readDxf(path, stop);
    if (extension == ".svg") return readSvg(path, stop);
    if (extension == ".step" || extension == ".stp") return readStepCurves(path, stop);
    if (extension == ".obj") {
        const auto text = readFile(path);
        if (!text) return text.problem();
        return readObjLines(*text, text::quoted(path.filename().string()));
    }
    return Problem{text::quoted(path.filename().string()) + " is of a kind that holds no curves here. Bring in " +
                       labelsFor(FormatUse::ReadCurves) + ", or points as CSV.",
                   "file"};
}

} // namespace vicinal
