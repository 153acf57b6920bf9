#pragma once
// Exact bodies by OpenCASCADE, kept out of sight: who only passes them on needs none of its headers (those who do more
// include parts/solid/shape.h).
#include "geometry/mesh/mesh.h"
#include "geometry/path/segment.h"
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <string>

namespace vicinal {

/// An exact body in the part's own axes, mm: one solid, several, or a flat face. Immutable.
struct Solid;
using SolidPtr = std::shared_ptr<const Solid>;

/// A solid that is built when it is first asked for: some take longer than a frame, and most pictures need triangles
/// only. Safe from several threads.
class LazySolid {
public:
    explicit LazySolid(std::function<SolidPtr()> build) : m_build(std::move(build)) {}
    explicit LazySolid(SolidPtr ready) : m_solid(std::move(ready)) {}
    /// Null when it cannot be built.
    SolidPtr get() const;

private:
    mutable std::mutex m_mutex;
    mutable std::function<SolidPtr()> m_build;
    mutable SolidPtr m_solid;
};
using LazySolidPtr = std::shared_ptr<const LazySolid>;

/// Triangles of a solid, watertight where it is, and fine enough to look at and to place by: round things in about 22
/// pieces, no farther off than 1/200 of its second largest size. `box` is the exact one: `known`, or worked out (which
/// takes a tenth of a second for some). Problem when it cannot be meshed.
Result<Mesh> meshOf(const Solid&, const std::optional<Box3>& known = {});

/// Volume, mm^3 (0 for sheets), area, mm^2, and centre of volume (of area for sheets), exact to about 1e-9 whatever the
/// kind of its faces and edges.
struct SolidMeasures {
    double volume = 0, area = 0;
    Vec3 centre = Vec3::Zero();
};
SolidMeasures measuresOf(const Solid&);
double volumeOf(const Solid&);
double areaOf(const Solid&);
Vec3 centreOf(const Solid&);
/// The exact box of the solid turned by R and moved by t.
Box3 boxOf(const Solid&, const Mat3& R = Mat3::Identity(), const Vec3& t = Vec3::Zero());
int faceCount(const Solid&);
int solidCount(const Solid&);

/// x -> k R x + t; R a rotation, or one with a mirroring; k > 0.
SolidPtr moved(const SolidPtr&, const Mat3& R, const Vec3& t, double k = 1);
/// Several as one, side by side (nothing is fused).
SolidPtr together(std::span<const SolidPtr>);

/// Closed curve of an outline.
using Ring = std::vector<Segment>;

/// Lines and curves of one ring at most: its triangles take their square.
inline constexpr size_t kMostPieces = 5000;
/// A prism over rings in the x-y plane, from z = `from` to z = `to`; a flat face when they are the same. Rings inside
/// others are holes, those inside holes are bodies again. Problem ("outline"): a ring that is open, crosses itself or
/// another one (says where), or encloses nothing; ("height") when from > to.
Result<SolidPtr> extruded(std::span<const Ring> rings, double from, double to);

/// The bytes of a solid in OpenCASCADE's binary form, and back (for the document's cache of brought-in solids).
std::string toBinary(const Solid&);
Result<SolidPtr> solidFromBinary(const std::string&);

} // namespace vicinal
