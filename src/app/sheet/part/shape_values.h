#pragma once
// The values of a part's shape or of a piece's, apart from pieces: what their fields show and set.
#include "app/controls/value_rows.h"
#include "model/recipes/part_shape.h"
#include "parts/makers/maker.h"

namespace vicinal {

template<class Shape> std::vector<ShownValue> valuesOfShape(Shape shape) {
    return value_rows::collected([&](const ValueVisitor& v) {
        if (auto* m = std::get_if<Maker>(&shape)) describe(v, *m);
        if (auto* f = std::get_if<FlatOutline>(&shape))
            v.length("thickness", "Thickness", "The outline is raised by it; 0: flat", f->thickness);
        if (auto* e = std::get_if<ExtrudedPath>(&shape))
            v.length("height", "Height", "The closed path is raised by it", e->height);
    });
}

template<class Shape> void setValueOfShape(Shape& shape, const std::string& key, double v) {
    if (auto* m = std::get_if<Maker>(&shape)) value_rows::setValue(*m, key, v, 0);
    if (auto* f = std::get_if<FlatOutline>(&shape)) f->thickness = v;
    if (auto* e = std::get_if<ExtrudedPath>(&shape)) e->height = v;
}

} // namespace vicinal
