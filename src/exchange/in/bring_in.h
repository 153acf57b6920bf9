#pragma once
#include "base/job.h"
#include "base/result.h"
#include "geometry/path/chain.h"
#include "model/document/document.h"
#include "model/recipes/part_shape.h"
#include <filesystem>
#include <functional>

namespace vicinal {

// DXF, STEP and meshes are read in a child process with limits on memory and time (foreign.h); Stop ends it at once.

/// Curves of a file, in the file's own units.
struct CurveFile {
    std::vector<Strand> strands;
    double millimetresPerUnit = 0;    ///< from the file's header; 0 when it does not say: the user must
    std::vector<std::string> remarks; ///< what was passed over, in plain words
    // Of a DXF, outside blocks; for ground.
    std::vector<Vec3> points;
    std::vector<std::array<Vec3, 4>> faces; ///< those with three corners have the last one twice
};

/// What a reader gives that was stopped.
Problem cancelled();

/// Reads lines, arcs, circles, ellipses, polylines (lightweight, 2D and 3D, with bulges) and splines of a DXF, also
/// those in inserted blocks (nested, scaled, turned, in rows and columns); points and faces outside blocks. Problem:
/// unreadable, not a DXF, or none of these in it. A file that is cut off gives what is sound, with a remark.
Result<CurveFile> readDxf(const std::filesystem::path&, const Stop* = nullptr);

/// Reads the paths and basic shapes of an SVG with their transforms; y turned upwards. Units: from width and viewBox,
/// else 96 px an inch (said so). Circles and ellipses stay exact. Broken path data is taken up to its fault; faults and
/// what is passed over are remarks with their line. Problem: unreadable, not an SVG, or no curve in it.
Result<CurveFile> readSvg(const std::filesystem::path&, const Stop* = nullptr);

/// Lines ("l" statements) of an OBJ. Problem when there are none.
Result<CurveFile> readObjLines(const std::string& text, const std::string& name);

/// Wires and edges of a STEP file: free ones, or else the edges of its faces. In mm as the file says. The reader is a
/// plugin beside the program, loaded when first needed. Problem: not there, unreadable, or no edge in it.
Result<CurveFile> readStepCurves(const std::filesystem::path&, const Stop* = nullptr);

/// Any of these by the file's extension (.dxf .svg .obj .step .stp).
Result<CurveFile> readCurves(const std::filesystem::path&, const Stop* = nullptr);

/// Paths of a curve file in mm: scaled, chained by ends within `joinMm`. Each is checked by Path::make; those that fail
/// are left out with a remark. Problem when none is left.
Result<std::vector<Strand>> pathsOf(CurveFile&, double millimetresPerUnit, double joinMm);

/// Points of a CSV text: two or three numbers a line, separated by comma, semicolon, tab or space; one heading line and
/// lines starting with # are allowed; a decimal comma when the separator is not a comma. In the file's own units.
/// Problem with the line number when a value is not a number, or fewer than two points are there.
Result<std::vector<Vec3>> readPoints(const std::string& text);

/// A body of a STEP file.
struct StepBody {
    std::string name; ///< as the file says; numbered where it does not
    SolidPtr solid;   ///< mm
};
struct StepFile {
    std::vector<StepBody> bodies;
    std::string unit;                 ///< of length as the file says: "millimetre", "inch"...
    std::vector<std::string> remarks; ///< what was passed over
};

/// Solids (and closed or open shells where there are no solids) of a STEP file with their names, each as often as the
/// assembly places it. Problem: unreadable, cut off, of another kind, no body in it (field "body"), or cancelled.
Result<StepFile> readStepBodies(const std::filesystem::path&, const Stop* = nullptr, Progress* = nullptr);
/// The same from the bytes of a file.
Result<StepFile> readStepBytes(const std::string& bytes, const std::string& name, const Stop* = nullptr);

/// Mesh from the bytes of an OBJ, STL (text or binary), PLY, GLB or glTF (with its buffers inside), scaled to mm:
/// joined, turned, reported. The y-up axes of glTF become z-up. Vertices pass through single precision (the reader's):
/// far from the origin that costs digits, see lostDigits(). Problem: empty, cut off, of another kind than its name
/// says, without triangles, or cancelled.
Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension,
                                             double millimetresPerUnit, MeshReport* = nullptr, const Stop* = nullptr,
                                             Progress* = nullptr);

/// The rounding (mm) single precision costs a mesh at its distance from the origin.
double lostDigits(const Mesh&);

/// The kind a file is by its first bytes: "step", "glb", "gltf", "ply", "stl", "dxf", "svg", "obj"; empty when they do
/// not tell.
std::string kindByContent(const std::string& bytes);

/// The body of something that is stored in a document (a BodyReader): the ready one, or read from the file again.
Result<BodyPtr> readBody(const Brought&, const std::optional<std::string>& ready);

/// A file that holds a part, read but not yet scaled: what to ask the user is known from here.
struct PartFile {
    Brought brought;               ///< `body` at one mm a unit, of all bodies; null for outlines
    std::vector<StepBody> bodies;  ///< of a STEP file, to choose from
    std::vector<Strand> outlines;  ///< closed curves of a DXF or SVG, in file units
    double millimetresPerUnit = 0; ///< 0: the file does not say
    std::string unit;              ///< the word for it, where the file says
    std::vector<std::string> remarks;
};
/// Any part by the file's extension (.step .stp .obj .stl .ply .glb .gltf .dxf .svg).
Result<PartFile> readPartFile(const std::filesystem::path&, const Stop* = nullptr, Progress* = nullptr);

/// The shape of a part file at a unit. `chosen`: bodies of a STEP file (empty: all). `thickness`: of an outline, mm.
/// Outlines are put round the middle of their box. Problem as extruded().
Result<PartShape> shapeOf(const PartFile&, double millimetresPerUnit, std::vector<int> chosen = {},
                          double thickness = 0);

} // namespace vicinal
