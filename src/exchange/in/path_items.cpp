#include "exchange/in/path_items.h"
#include "base/say.h"
#include "model/document/path_item.h"
#include "model/file/files.h"
#include <algorithm>
#include <cctype>

namespace vicinal {

std::vector<PathItem> pathItems(const std::vector<Strand>& strands, const std::filesystem::path& file) {
    std::vector<PathItem> out;
    for (const auto& s : strands) {
        PathItem item;
        item.name = s.layer.empty() || s.layer == "0" ? file.stem().string() : s.layer;
        BroughtCurve curve{s.segments, s.closed, file.filename().string()};
        if (auto points = asPoints(curve))
            item.recipe = std::move(*points);
        else
            item.recipe = std::move(curve);
        out.push_back(std::move(item));
    }
    return out;
}

bool isPointFile(const std::filesystem::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return char(std::tolower(c)); });
    return ending == ".csv" || ending == ".txt";
}

Result<std::vector<Vec3>> readPointFile(const std::filesystem::path& file) {
    const auto text = readFile(file);
    if (!text) return text.problem();
    auto points = readPoints(*text);
    if (!points)
        return Problem{say::value(file.filename().string()) + ": " + Words::whole(points.problem().text),
                       points.problem().field};
    return points;
}

PathItem pointsItem(const std::vector<Vec3>& points, double millimetresPerUnit, bool smooth, bool closed,
                    const std::filesystem::path& file) {
    PointsRecipe recipe;
    recipe.closed = closed;
    for (const Vec3& p : points) recipe.points.push_back({p * millimetresPerUnit, smooth});
    return {0, file.stem().string(), recipe};
}

} // namespace vicinal
