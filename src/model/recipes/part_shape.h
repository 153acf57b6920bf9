#pragma once
// What a part is made of. Like a path's recipe it stays editable; the body is always worked out from it anew.
#include "base/describe.h"
#include "base/id.h"
#include "geometry/path/path.h"
#include "parts/body.h"
#include "parts/makers/maker.h"
#include <string>
#include <variant>
#include <vector>

namespace vicinal {

/// A body that was brought in. The bytes are kept as they came.
struct Brought {
    BodyPtr body;                             ///< mm
    std::string source;                       ///< file name it came from
    std::shared_ptr<const std::string> bytes; ///< the file as it came
    std::string extension;                    ///< "step", "obj", "stl", "ply", "glb", "gltf"
    double scale = 1;                         ///< mm per file unit, as the user or the file said
    std::vector<int> chosen;                  ///< bodies taken of a file with several, from 0; empty: all
    bool operator==(const Brought& o) const { return body == o.body; }
};
void describe(const ValueVisitor&, Brought&); ///< no value of it is changed by itself

/// A flat outline that was brought in, in mm round its own origin: extruded upwards, or flat at 0.
struct FlatOutline {
    std::shared_ptr<const std::vector<Ring>> rings;
    double thickness = 0;
    std::string source;
    bool operator==(const FlatOutline& o) const { return rings == o.rings && thickness == o.thickness; }
};
void describe(const ValueVisitor&, FlatOutline&);

/// A closed flat path of the document, extruded; follows the path. Its own x, y lie in the path's plane round the
/// middle of the path's box, so that moving the path does not move the part.
struct ExtrudedPath {
    Id path = 0;
    double height = 50;
    bool operator==(const ExtrudedPath&) const = default;
};
void describe(const ValueVisitor&, ExtrudedPath&);

/// Another part of the document as a piece; follows that part. It comes as that part is, with its size.
struct PartUse {
    static constexpr const char* kKind = "part"; ///< in files
    static constexpr const char* kNeeds[] = {"part"};
    Id part = 0;
    bool operator==(const PartUse&) const = default;
};
void describe(const ValueVisitor&, PartUse&);

using PieceShape = std::variant<Maker, Brought, FlatOutline, ExtrudedPath, PartUse>;

/// One of the rigid pieces of a part: x -> at + size R x (mirrored first: y -> -y).
struct Piece {
    std::string name;
    PieceShape shape;
    Vec3 at = {0, 0, 0};
    Vec3 turn = {0, 0, 0}; ///< radians about the part's x, then y, then z
    double size = 1;
    bool mirrored = false;
    bool operator==(const Piece&) const = default;
};
/// A part of several pieces that move as one.
struct Pieces {
    std::vector<Piece> list;
    bool operator==(const Pieces&) const = default;
};

using PartShape = std::variant<Maker, Brought, FlatOutline, ExtrudedPath, Pieces>;

/// Parts and paths a shape is made from, in order, each as often as it is used.
std::vector<Id> sourcesOf(const PartShape&);

/// What a part's sources give, in the order of sourcesOf(): a body of a part, or a path.
struct ShapeSource {
    BodyPtr body;
    std::optional<Path> path;
};
/// A closed flat path in its own plane, round the middle of its box.
struct FlatRing {
    Ring ring;
    Mat3 toPlane = Mat3::Identity(); ///< rows: the plane's x, y, normal; for a level path those of the world
    Vec3 middle = Vec3::Zero();      ///< in the plane's axes
};
/// Problem ("path"): open, or not flat.
Result<FlatRing> flatRing(const Path&);

/// The body of a shape in part axes. Problem with `field` the key of a maker's value, "thickness", "height", "outline",
/// or "piece N" (from 1) followed by a point and the key.
Result<BodyPtr> build(const PartShape&, std::span<const ShapeSource> sources = {});

/// More triangles than this in one part are refused with a message.
inline constexpr size_t kMostTriangles = 5'000'000;

/// The pose of a piece: rotation (with the mirroring) and origin.
Mat3 turnOf(const Piece&);

/// A shape as a piece of another part.
PieceShape asPiece(const PartShape&, Id part);

/// Word for a shape's kind as in files ("round link", "mesh", "solid", "outline", "extruded path", "pieces").
std::string kindOf(const PartShape&);

} // namespace vicinal
