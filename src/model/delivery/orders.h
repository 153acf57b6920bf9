#pragma once
// What can be asked of each kind of result that is sent out. Lengths mm, angles rad; described once for the window, the
// document and the command line.
#include "base/describe.h"
#include "base/rule_words.h"
#include "base/vec.h"
#include <string>
#include <variant>

namespace vicinal {

enum class Paper { A4, A3, A2, Letter, Roll };

enum class TemplatePlane { Plan, Front, Side, Unrolled, Face };
enum class TemplateOf { Places, Parts };
enum class TemplateShows { Outlines, Holes, Marks };
struct TemplateOrder {
    TemplateOf of = TemplateOf::Places;
    TemplatePlane plane = TemplatePlane::Plan;
    Vec3 normal = Vec3::UnitZ(); ///< of TemplatePlane::Face: towards who looks at it; any length above 0
    TemplateShows shows = TemplateShows::Outlines;
    bool numbers = true, noses = true, paths = true;
    Paper paper = Paper::A4;
    bool landscape = false;
    double roll = 610;                   ///< mm, width of Paper::Roll; as long as it takes
    double margin = 8, overlap = 12;     ///< mm: what a printer leaves free; what neighbours share
    bool mirrored = false;               ///< for the underside
    double barAcross = 100, barUp = 100; ///< mm that the bars of an earlier print measured
    bool operator==(const TemplateOrder&) const = default;
    static constexpr RuleWords words{"template", "Template at full size", "PDF, SVG or DXF; sheets that can be glued",
                                     "", ""};
};
void describe(const ValueVisitor&, TemplateOrder&);

struct TapeOrder {
    Paper paper = Paper::A4; ///< not a roll
    bool landscape = true;
    double height = 18;              ///< mm, of a strip
    double margin = 8, overlap = 12; ///< mm; what a strip shares with the next
    double barAcross = 100;          ///< mm that the bar of an earlier print measured
    bool operator==(const TapeOrder&) const = default;
    static constexpr RuleWords words{"tape", "Marking tape", "Stations on strips at full size, PDF", "", ""};
};
void describe(const ValueVisitor&, TapeOrder&);

enum class DrawingPaper { A4, A3, A2, A1 };
enum class HiddenLines { Removed, Dashed };
struct DrawingOrder {
    bool plan = true, front = true, side = false, oblique = false, unrolled = false;
    double heading = 35 * kDegree, pitch = 30 * kDegree; ///< where the oblique view is seen from
    double scale = 0;                                    ///< 1 : scale; 0: the largest usual one that fits
    HiddenLines hidden = HiddenLines::Removed;
    bool pitches = true, running = true, gaps = false, insets = true, angles = true;
    bool numbers = true, paths = true, details = true, schedule = true;
    DrawingPaper paper = DrawingPaper::A3;
    bool landscape = true;
    bool operator==(const DrawingOrder&) const = default;
    static constexpr RuleWords words{"drawing", "Drawing", "Views, dimensions, schedule: PDF, SVG, DXF", "", ""};
};
void describe(const ValueVisitor&, DrawingOrder&);

enum class SolidsAs { Assembly, FileAPart, Fused };
struct SolidsOrder {
    SolidsAs as = SolidsAs::Assembly;
    bool paths = true;
    double within = 0.1; ///< mm that triangles may be off curved faces
    bool operator==(const SolidsOrder&) const = default;
    static constexpr RuleWords words{"solids", "Solids and meshes", "STEP, GLB, DXF, OBJ, STL, PLY, 3MF", "", ""};
};
void describe(const ValueVisitor&, SolidsOrder&);

enum class ScheduleOf { Places, Parts, Running, Bars, Webs };
struct ScheduleOrder {
    ScheduleOf of = ScheduleOf::Places;
    bool part = true, station = true, position = true, angles = true, turn = true, size = true, gap = false,
         raised = false;
    Vec3 origin = Vec3::Zero(); ///< of the shifted coordinates, mm
    double north = 0;           ///< rad; which way their y leads, clockwise from the document's y
    bool operator==(const ScheduleOrder&) const = default;
    static constexpr RuleWords words{"schedule", "Schedule and cut list", "CSV, JSON, ODS", "", ""};
};
void describe(const ValueVisitor&, ScheduleOrder&);

enum class PictureOf { View, Lines, Turntable };
struct PictureOrder {
    PictureOf of = PictureOf::View;
    double heading = 35 * kDegree, pitch = 30 * kDegree;
    bool parallel = false;
    long width = 1920, height = 1080; ///< pixels
    bool grid = false, handles = false, labels = false, background = true, soft = true;
    long frames = 36; ///< of a turntable
    bool operator==(const PictureOrder&) const = default;
    static constexpr RuleWords words{"picture", "Picture", "PNG, line picture as SVG, turntable", "", ""};
};
void describe(const ValueVisitor&, PictureOrder&);

/// False for values that have no effect with the other ones as they are.
bool counts(const TemplateOrder&, const std::string& key);
bool counts(const TapeOrder&, const std::string& key);
bool counts(const DrawingOrder&, const std::string& key);
bool counts(const SolidsOrder&, const std::string& key);
bool counts(const ScheduleOrder&, const std::string& key);
bool counts(const PictureOrder&, const std::string& key);

using SendOrder = std::variant<TemplateOrder, TapeOrder, DrawingOrder, SolidsOrder, ScheduleOrder, PictureOrder>;

} // namespace vicinal
