#pragma once
// What is seen of bodies from one side: edges and contours, without what something stands before. Own work for many
// equal parts: the lines of a part are found once for all that are turned alike, and a body that nothing stands before
// is drawn from there.
#include "base/job.h"
#include "exchange/out/meshes.h"
#include "geometry/path/segment.h"

namespace vicinal {

/// World to picture: rows right, up, towards who looks.
Mat3 viewFrom(double heading, double pitch);

/// Lines of one part as seen, from its own origin, in the picture's axes; x, y in mm.
struct SeenPart {
    std::vector<std::vector<Segment>> strands; ///< lines and arcs that hang together
};
struct Seen {
    std::vector<SeenPart> parts;
    /// Bodies that nothing stands before: a part, where its origin is, turned by `angle` (rad).
    struct Stand {
        size_t body, part;
        Vec2 at;
        double angle;
    };
    std::vector<Stand> stands;
    /// The others, each with lines of its own in the picture, visible and (where asked for) hidden.
    struct Own {
        size_t body;
        std::vector<std::vector<Segment>> visible, hidden;
    };
    std::vector<Own> others;
};
/// Edges where faces meet at more than 20 degrees, borders, and contours of round faces; to about a thousandth of a
/// millimetre of the triangles, which are as exact as meshOf() says. Circles seen square on become arcs. Where bodies
/// run into each other no line is drawn. Stopped: what is there so far.
Seen seenLines(const std::vector<MeshAt>&, const Mat3& view, bool withHidden, Job* = nullptr);

} // namespace vicinal
