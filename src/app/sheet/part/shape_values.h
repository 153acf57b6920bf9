#pragma once
// The values of a part's shape or of a piece's, apart from pieces: what their fields show and set.
#include "app/controls/value_rows.h"
#include "model/recipes/part_shape.h"

namespace vicinal {

template<class Shape> std::vector<ShownValue> valuesOfShape(const Shape& shape) {
    if (const auto* m = std::get_if<Maker>(&shape)) return value_rows::valuesOf(*m);
    std::vector<ShownValue> out;
    const value_rows::Collector c(out);
    if (const auto* f = std::get_if<FlatOutline>(&shape))
        c.length("thickness", "Thickness", "The outline is raised by it; 0: flat", f->thickness);
    if (const auto* e = std::get_if<ExtrudedPath>(&shape))
        c.length("height", "Height", "The closed path is raised by it", e->height);
    return out;
}

template<class Shape> void setValueOfShape(Shape& shape, const std::string& key, double v) {
    if (auto* m = std::get_if<Maker>(&shape)) value_rows::setValue(*m, key, v, 0);
    if (auto* f = std::get_if<FlatOutline>(&shape)) f->thickness = v;
    if (auto* e = std::get_if<ExtrudedPath>(&shape)) e->height = v;
}

} // namespace vicinal
