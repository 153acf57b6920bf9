#pragma once
#include <string>
#include <vector>

namespace vicinal::cli {

/// Each command prints results alone on standard output and one-line errors on standard error. Exit codes: 0 done, 1 a
/// check failed, 2 an error.
int places(const std::string& file, const std::vector<std::string>& runs, const std::string& format, double time = 0);
/// Prints the cut list of the rails of those runs (all when none is named), or the webs of what is cut.
int barsOrWebs(const std::string& file, const std::vector<std::string>& runs, const std::string& format, bool webs);
int fits(const std::string& file, const std::string& run, bool json);
/// What gives way for a run: its name, from, to (mm, degrees or plain), what is still missing (mm), the count.
int solve(const std::string& file, const std::string& run, bool json);
/// A run in steps through one pitch: `way,closing,turn` (mm, mm, degrees), the worst of each last.
int sweep(const std::string& file, const std::string& run, long steps, bool whole);
/// The room that its vehicles take beside the path.
int throwBand(const std::string& file, const std::string& run);
/// What a path is like, or, with stations, its points, tangents and least-twisting crowns there; or the crossings of
/// one that is lifted over itself or another: 1 when its strands come nearer than the thickness.
int path(const std::string& file, const std::string& name, const std::vector<double>& stations, bool crossings);
/// A part's measures in seat axes (mm, mm^2, mm^3, kg) and its holes: centre, axis, diameter, depth, error of the fit.
int part(const std::string& file, const std::string& name, bool json);
/// A template at full size: PDF page by page, SVG or DXF uncut. `values`: key=value of the order.
int makeTemplate(const std::string& file, const std::vector<std::string>& runs, const std::string& to,
                 const std::vector<std::string>& values);
/// A marking tape of a run, PDF.
int makeTape(const std::string& file, const std::string& run, const std::string& to,
             const std::vector<std::string>& values);
/// Makes the deliveries that are kept in a document, all or those named, beside it or in a folder; `list` prints them
/// only.
int deliver(const std::string& file, const std::vector<std::string>& names, const std::string& to, bool list);
/// A result of any kind, as a delivery would be made.
struct SendOrderGiven {
    std::string file, to, as;        ///< `as`: its word
    std::vector<std::string> what;   ///< names of runs, heaps and paths; none: everything
    std::vector<std::string> values; ///< key=value of the order
    std::vector<std::string> fields; ///< name=text of a drawing's title block
    double time = 0;
};
int send(const SendOrderGiven&);
/// A run becomes a heap of loose parts; `path`: "kept", "hidden" or "gone". `to` empty: the file itself.
int release(const std::string& file, const std::string& run, const std::string& path, const std::string& to);
/// Opens a document and saves it as .vicinal, with all it needs inside.
int pack(const std::string& file, const std::string& to);
int validate(const std::string& file);
/// Every run's verdict and each of its checks; 1 when one is wrong. `sheet`: writes the check sheet, too.
struct CheckCommand {
    std::string file, sheet;
    std::vector<std::string> runs; ///< only these; none: all
    bool json = false, fine = false;
};
int check(const CheckCommand&);
int sendOut(const std::string& file, const std::vector<std::string>& runs, const std::string& to, double time = 0);
/// The same as it moves: so many frames over so many seconds (0: once along the path).
int sendFilm(const std::string& file, const std::vector<std::string>& runs, const std::string& to, long frames,
             double seconds);

/// Lists the site bodies (mm, mm^3, kg), or adds one: by a word for what it is made of, with its values.
struct BodyOrder {
    std::string file;
    std::string add; ///< "box"..., "plate", "wall", "part", "made ground", "levels", "file", "rail", "cut"; empty: list
    std::string name, path, part;    ///< what it is called; what it follows
    std::string run, body;           ///< whose rails they are, or that cuts; the body that is cut
    bool webs = false;               ///< list the least material beside each hole instead
    std::string from, unit;          ///< the file of levels or of a body
    std::vector<std::string> values; ///< key=value
    std::string to;                  ///< empty: the file itself
};
int body(const BodyOrder&);

/// Adds a path, a part, a run or a folder: exactly one of them is named. The document is made when it is not there.
struct AddOrder {
    std::string file, path, part, run, folder;
    std::string kind;                ///< of a path (points when empty) or a part, by its word in files
    std::string unit;                ///< of a new document
    std::vector<std::string> values; ///< key=value
    std::string to;                  ///< empty: the file itself
};
/// Prints the name it got. Saves nothing when a value is wrong or the item cannot be worked out.
int add(const AddOrder&);

/// Whose described values are set: exactly one of run, path, part and body.
struct SetOrder {
    std::string file, run, path, part, body;
    std::string check, against;      ///< of a run: one of its checks, by its word in files; the run or site body
    std::vector<std::string> values; ///< key=value
    std::string to;                  ///< empty: the file itself
};
/// Saves nothing when a value is wrong or the result cannot be worked out.
int set(const SetOrder&);

struct BringInOrder {
    std::string file, to;    ///< what is brought in; the document, made when it is not there
    std::string unit, layer; ///< empty: as the file says; all layers
    double join = 0;         ///< mm; ends closer than this are joined
    bool asPart = false;
    double thickness = 0;                ///< mm, of a part from an outline
    bool smooth = false, closed = false; ///< the path through the points of a .csv or .txt
};
int bringIn(const BringInOrder&);

/// The JSON schema of document.json.
int schema();

} // namespace vicinal::cli
