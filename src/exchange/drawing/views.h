#pragma once
// The views of a drawing. Not for others.
#include "exchange/drawing/dimensions.h"
#include "exchange/drawing/hidden.h"
#include "exchange/out/export_set.h"
#include "parts/solid/fine.h"

namespace vicinal {

/// What bodies are drawn from: their own triangles, or finer ones of their exact solids where they are few.
class DrawnMeshes {
public:
    explicit DrawnMeshes(bool fine) : m_fine(fine) {}
    const Mesh* of(const BodyPtr&, const std::shared_ptr<const Mesh>& own);

private:
    bool m_fine;
    std::map<const Body*, std::shared_ptr<const Mesh>> m_known;
};
inline constexpr size_t kMostFine = 150; ///< bodies of a view

/// A view before it is put on paper: what is seen, in real millimetres of the picture.
struct DrawnView {
    std::string name;
    Mat3 axes = Mat3::Identity(); ///< rows right, up, towards who looks
    bool unrolled = false;
    std::vector<MeshAt> bodies;
    std::vector<std::string> layers; ///< of each body
    Seen seen;
    Bounds bounds = nothing();
    /// A straight row of places that is seen in true length: dimensions stand beside it.
    struct Row {
        const RunResult* run;
        Vec2 start, along;            ///< of the path on the picture
        double length = 0;            ///< of the path
        std::vector<double> at;       ///< places along it, from `start`
        std::vector<double> stations; ///< of them along the whole path
        double low = 0, high = 0;     ///< what the bodies reach to, square to it
    };
    std::vector<Row> rows;
    std::vector<std::pair<Id, std::vector<Segment>>> paths; ///< by the path's id, with its layer in `pathNames`
    std::map<Id, std::string> pathNames;
    struct Corner {
        Vec2 at, one, other; ///< directions away from it
        double angle;        ///< true one, rad
    };
    std::vector<Corner> corners;
    struct Number {
        Vec2 at;
        std::string text;
    };
    std::vector<Number> numbers;
    double room = 8; ///< paper mm kept clear around it for dimensions
};

/// All views that the order asks for. Problem as of drawingOf().
Result<std::vector<DrawnView>> viewsOf(const ExportSet&, const DrawingOrder&, std::vector<Words>& remarks, DrawnMeshes&,
                                       Job*);
/// Fine ones for goods that are few. They must outlive the views.
DrawnMeshes meshesFor(const ExportSet&);

/// Puts a view on a sheet at 1 : scale with the picture's point `bounds.first` at `at`.
void putView(Sheet&, const DrawnView&, const DrawingOrder&, double scale, const Vec2& at, Dimensions&);

} // namespace vicinal
