#include "exchange/in/path_items.h"
#include "model/document/path_item.h"

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

} // namespace vicinal
