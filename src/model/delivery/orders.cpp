#include "model/delivery/orders.h"
#include "geometry/curves/edit.h"

namespace vicinal {

void describe(const ValueVisitor& v, TemplateOrder& t) {
    v.choice("of", "Of", "What is drawn", t.of,
             {{"places", "places", "Every place where it stands", ""},
              {"parts", "parts", "Each part once, side by side, with how many are needed", ""}});
    v.choice("plane", "Plane", "What the paper lies on", t.plane,
             {{"plan", "plan", "Seen from above", ""},
              {"front", "front", "Seen from the front", ""},
              {"side", "side", "Seen from the side", ""},
              {"unrolled", "unrolled", "Along the path pulled straight", ""},
              {"face", "face", "A face that is picked in the view, or any direction", ""}});
    v.direction("normal", "Out of it", "The direction that leads out of the face, to who looks at it", t.normal);
    v.choice("shows", "Shows", "What of each place is drawn", t.shows,
             {{"outlines", "outlines", "The outline of each part", ""},
              {"holes", "holes", "Only what is cut out of the parts, and parts that are holes", ""},
              {"marks", "marks", "Only a cross where each place is", ""}});
    v.flag("numbers", "Numbers", "The number of each place", t.numbers);
    v.flag("noses", "Noses", "A tick that shows which way each part faces", t.noses);
    v.flag("paths", "Path", "The path with its stations", t.paths);
    v.choice("paper", "Paper", "The size of a page", t.paper, {"A4", "A3", "A2", "letter", "roll"});
    v.flag("landscape", "Landscape", "The long side across", t.landscape);
    v.length("roll", "Roll width", "Of a roll; it is as long as it takes", t.roll);
    v.length("margin", "Margin", "What the printer leaves free at each side", t.margin);
    v.length("overlap", "Overlap", "What neighbouring pages share, to be glued", t.overlap);
    v.flag("mirrored", "Mirrored", "The mirror image, for the underside", t.mirrored);
    v.length("barAcross", "Bar across measured",
             "What the level bar of the last print measured; 100: nothing to correct", t.barAcross);
    v.length("barUp", "Bar up measured", "What the upright bar of the last print measured", t.barUp);
}

void describe(const ValueVisitor& v, TapeOrder& t) {
    v.choice("paper", "Paper", "The size of a page", t.paper, {"A4", "A3", "A2", "letter"});
    v.flag("landscape", "Landscape", "The long side across: longer strips", t.landscape);
    v.length("height", "Tape height", "Of a strip", t.height);
    v.length("margin", "Margin", "What the printer leaves free at each side", t.margin);
    v.length("overlap", "Overlap", "What a strip shares with the next one, to be glued", t.overlap);
    v.length("barAcross", "Bar measured", "What the bar of the last print measured; 100: nothing to correct",
             t.barAcross);
}

void describe(const ValueVisitor& v, DrawingOrder& t) {
    v.flag("plan", "Plan", "Seen from above", t.plan);
    v.flag("front", "Front", "Seen from the front", t.front);
    v.flag("side", "Side", "Seen from the side", t.side);
    v.flag("oblique", "Oblique", "Seen from any direction", t.oblique);
    v.flag("unrolled", "Unrolled", "Along the path pulled straight", t.unrolled);
    v.angle("heading", "From", "Which way round the oblique view is seen from", t.heading);
    v.angle("pitch", "From above", "How steeply the oblique view looks down", t.pitch);
    v.number("scale", "Scale 1 :", "0: the largest usual one that fits", t.scale);
    v.choice("hidden", "Hidden lines", "Edges that something stands before", t.hidden,
             {{"removed", "removed", "They are left out", ""}, {"dashed", "dashed", "They are drawn dashed", ""}});
    v.flag("pitches", "Pitch", "A chain of dimensions from place to place", t.pitches);
    v.flag("running", "Running", "Stations from the start", t.running);
    v.flag("gaps", "Gaps along", "A chain of the free lengths along the path", t.gaps);
    v.flag("insets", "Insets", "From the ends of the path to the first and last place", t.insets);
    v.flag("angles", "Angles", "At the corners of the path", t.angles);
    v.flag("numbers", "Numbers", "The number of each place", t.numbers);
    v.flag("paths", "Path", "The path as a dash-dotted line", t.paths);
    v.flag("details", "Parts", "Each part by itself with its size and how many there are", t.details);
    v.flag("schedule", "Schedule", "The table of places; what does not fit goes on sheets of its own", t.schedule);
    v.choice("paper", "Paper", "The size of a sheet", t.paper, {"A4", "A3", "A2", "A1"});
    v.flag("landscape", "Landscape", "The long side across", t.landscape);
}

void describe(const ValueVisitor& v, SolidsOrder& t) {
    v.choice("as", "As", "How the bodies are put into files", t.as,
             {{"assembly", "as it stands", "One file with everything where it stands", ""},
              {"parts", "a file a part", "Each part in a file of its own, and a list of where they stand", ""},
              {"fused", "fused", "All bodies united into one", ""}});
    v.flag("paths", "Paths", "The paths go along, where the file can hold curves", t.paths);
    v.length("within", "Triangles within", "How far triangles may be off curved faces, in files of triangles",
             t.within);
}

void describe(const ValueVisitor& v, ScheduleOrder& t) {
    v.choice("of", "List", "What its rows are", t.of,
             {{"places", "places", "Every place, to be set out", ""},
              {"parts", "parts", "Each part with count, length and weight: the cut list", ""},
              {"running", "running", "Running dimensions along each path: start, places, gaps, end", ""},
              {"bars", "bars", "Every bar of the rails, with its length and how both ends are cut", ""},
              {"webs", "webs", "The least material that is left beside each hole", ""}});
    v.flag("part", "Part", "A column with the part's name", t.part);
    v.flag("station", "Station", "A column with the station along the path", t.station);
    v.flag("position", "x, y, z", "Columns with the coordinates", t.position);
    v.flag("angles", "Angles", "Columns with heading, slope and roll", t.angles);
    v.flag("turn", "Quaternion", "Columns with the turn as a quaternion", t.turn);
    v.flag("size", "Size", "A column with the size factor", t.size);
    v.flag("gap", "Gap along", "A column with the free length along the path to the next place", t.gap);
    v.flag("raised", "Raised", "A column with how far feet on the ground are raised off the path", t.raised);
    v.point("origin", "Origin", "The point that coordinates are counted from", t.origin);
    v.angle("north", "North", "Which way their y leads, clockwise from the document's y", t.north);
}

void describe(const ValueVisitor& v, PictureOrder& t) {
    v.choice("of", "Of", "What kind of picture", t.of,
             {{"view", "shaded", "As the view shows it", ""},
              {"lines", "lines", "Edges alone, hidden ones left out", ""},
              {"turntable", "turntable", "One picture after the other, once round", ""}});
    v.angle("heading", "From", "Which way round it is seen from", t.heading);
    v.angle("pitch", "From above", "How steeply it is looked down on", t.pitch);
    v.flag("parallel", "Parallel", "Without perspective", t.parallel);
    v.count("width", "Width", "In pixels", t.width);
    v.count("height", "Height", "In pixels", t.height);
    v.flag("grid", "Grid", "With the ground's grid", t.grid);
    v.flag("handles", "Paths", "With paths and handles", t.handles);
    v.flag("labels", "Numbers", "With the number of each place", t.labels);
    v.flag("background", "Background", "Off: nothing behind the parts", t.background);
    v.flag("soft", "Soft light", "Shaded; off: flat colours with edges", t.soft);
    v.count("frames", "Pictures", "How many, once round", t.frames);
}

} // namespace vicinal
