#pragma once
// Lists of things with several values each, as they are typed on the command line: a semicolon between things; of each
// first what it is, then words with their values. Names that hold such words or commas stand in quotes. Lengths and
// angles as everywhere they are typed. Problems with `field` the list's key.
#include "layout/along/changes.h"
#include "layout/seat.h"
#include "model/document/document.h"
#include "model/recipes/part_shape.h"
#include "model/recipes/recipe.h"

namespace vicinal {

/// Points of a path: "0,0; 1 m,0 corner fillet 50; 2 m,0,300 via 1.5 m,0,400; 3 m,0 before -100,0,0 after 200,0,0".
/// X,Y or X,Y,Z; "corner" or "smooth" (the usual), "fillet" radius, "via" a point of the arc to the next point,
/// "before" and "after" its handles, from the point.
Result<std::vector<PathPoint>> parsePoints(const std::string&, Unit, bool smooth = true);
/// Wheels of a loop: "Drum at 0,0 radius 150; Motor at 700,0 teeth 17 outside body sprocket width 10".
Result<std::vector<Wheel>> parseWheels(const std::string&, Unit);
/// Pieces of a part, each a part of the document: "Post at 0,0,0; Arm at 0,0,900 turn 0,0,90 size 1.2 mirrored name
/// Second".
Result<std::vector<Piece>> parsePieces(const std::string&, const Document&);
/// Exceptions of a run by number or station: "3 out; 7 part Post turn 0,0,90; at 1 m move 0,0,20 size 1.1".
Result<std::vector<Exception>> parseExceptions(const std::string&, const Document&);
/// One of a part's own directions ("+x", "-z"), or three plain numbers.
Result<Direction> parseDirection(const std::string&);
/// "box 0,0,-1" (each -1 low, 0 middle, 1 high), or a point in the part's own axes.
Result<std::variant<BoxPoint, Vec3>> parseSeatPoint(const std::string&, Unit);
/// Names with commas between; names that hold commas in quotes.
Result<std::vector<Id>> parsePathNames(const std::string&, const Document&);

} // namespace vicinal
