#pragma once
// Small pictures of parts, drawn without OpenGL: for the yard, the chooser and the dialogs.
#include "app/controls/theme.h"
#include "geometry/mesh/mesh.h"
#include "layout/seat.h"
#include <QImage>
#include <map>
#include <memory>

namespace vicinal {

/// A parallel view: rows of `turn` are right, up and towards the viewer.
struct PictureView {
    Mat3 turn = Mat3::Identity();
    Vec3 centre = Vec3::Zero(); ///< in the middle of the picture
    double millimetresPerPixel = 1;
};
/// The mesh over a transparent ground. Hidden parts are hidden; edges are drawn where there are few enough of them.
QImage drawPart(const Mesh&, const PictureView&, const QSize& pixels, const QColor& tone = theme::steel());

/// A seated part from in front of its nose, a little from above, filling the picture. Very long ones are cut off, so
/// that their section can be told. Empty when the seat has a defect.
QImage partPicture(const Mesh&, const Seat&, const QSize& pixels, const QColor& tone = theme::steel());

/// Pictures that were drawn, kept while their mesh lives.
class PartPictures {
public:
    /// The picture of a mesh with this seat; drawn when there is none of this size yet.
    QImage of(const std::shared_ptr<const Mesh>&, const Seat&, const QSize&, const QColor& tone = theme::steel());

private:
    struct Kept {
        std::weak_ptr<const Mesh> mesh;
        Seat seat;
        QImage image;
    };
    std::map<const Mesh*, Kept> m_kept;
};

} // namespace vicinal
