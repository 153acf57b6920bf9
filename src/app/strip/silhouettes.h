#pragma once
#include "geometry/mesh/mesh.h"
#include "layout/places.h"
#include <QColor>
#include <QImage>
#include <QPointF>
#include <map>
#include <memory>
#include <tuple>

namespace vicinal {

/// Parts as they are seen square to the path, in plain colour: along the path to scale. Kept until another zoom.
class Silhouettes {
public:
    /// Scales, pixels per mm: along the path and up.
    struct Scale {
        double along = 1, up = 1;
    };
    /// A picture, and where its top left is from the seat point's pixel.
    struct Picture {
        QImage image;
        QPointF at;
    };
    /// `tangent`: of the path where the part stands.
    const Picture& of(const std::shared_ptr<const Mesh>&, const Slot&, const Frame&, double size, const Vec3& tangent,
                      const Scale&, const QColor&);
    /// Least and most height of a part over its seat point, mm, seen like that.
    static std::pair<double, double> heights(const Slot&, const Frame&, double size, const Vec3& tangent);

private:
    using Key = std::tuple<const Mesh*, std::array<long, 6>, long, double, double, unsigned>;
    std::map<Key, Picture> m_pictures;
};

} // namespace vicinal
