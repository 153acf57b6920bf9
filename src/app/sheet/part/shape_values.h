#pragma once
// The values of a part's shape or of a piece's, apart from pieces: what their fields show and set.
#include "app/controls/value_rows.h"
#include "model/recipes/part_shape.h"
#include "parts/makers/maker.h"

namespace vicinal {

/// What it is made from has rows of its own.
template<class Shape> std::vector<ShownValue> valuesOfShape(const Shape& shape) {
    auto out = std::visit(
        []<class S>(const S& s) -> std::vector<ShownValue> {
            if constexpr (std::is_same_v<S, Pieces>)
                return {};
            else
                return value_rows::valuesOf(s);
        },
        shape);
    std::erase_if(out, [](const ShownValue& v) { return v.sort == ValueKind::Item; });
    return out;
}

template<class Shape> void setValueOfShape(Shape& shape, const std::string& key, double v) {
    std::visit(
        [&]<class S>(S& s) {
            if constexpr (!std::is_same_v<S, Pieces>) value_rows::setValue(s, key, v, 0);
        },
        shape);
}

} // namespace vicinal
