#include "base/text.h"
#include "cli/commands.h"
#include "exchange/in/child/foreign.h"
#include "model/file/files.h"
#include <CLI/CLI.hpp>

namespace {

using namespace vicinal;

/// All commands, and what is asked of them.
class CommandLine {
public:
    CommandLine() {
        m_app.require_subcommand(1);
        addPrinting();
        addWriting();
        addChanging();
    }
    int run(int argc, char** argv) {
        try {
            m_app.parse(argc, argv);
        } catch (const CLI::CallForHelp& e) {
            return m_app.exit(e);
        } catch (const CLI::ParseError& e) {
            const std::string what = e.what();
            std::fprintf(stderr, "vicinal-cli: %s\n", text::quoted(what.substr(0, what.find('\n'))).c_str());
            return 2;
        }
        return m_code;
    }

private:
    void addPrinting();
    void addWriting();
    void addChanging();

    CLI::App m_app{"Vicinal without a window: the places, fits and files of a document."};
    std::string m_file, m_run, m_to, m_format = "csv";
    std::vector<std::string> m_runs;
    int m_code = 0;
    double m_time = 0;
    bool m_rails = false;
    long m_steps = 100;
    bool m_whole = false;
    std::vector<std::string> m_wishes;
    std::string m_target;
    cli::SendOrderGiven m_given;
    bool m_listed = false;
    std::string m_stays = "kept";
    std::vector<double> m_stations;
    bool m_crossings = false;
    cli::BodyOrder m_site;
    cli::CheckCommand m_checks;
    long m_frames = 0;
    double m_seconds = 0;
    cli::AddOrder m_fresh;
    cli::SetOrder m_order;
    cli::BringInOrder m_bring;
};

/// What only looks.
void CommandLine::addPrinting() {
    auto* places = m_app.add_subcommand("places", "Print the setting-out schedule (mm, degrees)");
    places->add_option("file", m_file, "A .vicinal document")->required();
    places->add_option("--run", m_runs, "Only this run (may be given several times)")->allow_extra_args(false);
    places->add_option("--format", m_format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    places->add_option("--time", m_time, "As they stand after so many seconds of motion");
    places->add_flag("--rails", m_rails, "The cut list of the rails instead: every bar, and how its ends are cut");
    places->callback([this] {
        m_code =
            m_rails ? cli::barsOrWebs(m_file, m_runs, m_format, false) : cli::places(m_file, m_runs, m_format, m_time);
    });

    auto* fits = m_app.add_subcommand("fits", "Print the counts that work for a run");
    fits->add_option("file", m_file, "A .vicinal document")->required();
    fits->add_option("--run", m_run, "The run")->required();
    fits->add_option("--format", m_format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    fits->callback([this] { m_code = cli::fits(m_file, m_run, m_format == "json"); });

    auto* solve = m_app.add_subcommand("solve", "Print what gives way for a run: from, to, error (mm, degrees)");
    solve->add_option("file", m_file, "A .vicinal document")->required();
    solve->add_option("--run", m_run, "The run")->required();
    solve->add_option("--format", m_format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    solve->callback([this] { m_code = cli::solve(m_file, m_run, m_format == "json"); });

    auto* sweep = m_app.add_subcommand("sweep", "Go through one pitch of a run and print how it closes on the way");
    sweep->add_option("file", m_file, "A .vicinal document")->required();
    sweep->add_option("--run", m_run, "The run")->required();
    sweep->add_option("--steps", m_steps, "How many");
    sweep->add_flag("--whole", m_whole, "The whole path instead of one pitch");
    sweep->callback([this] { m_code = cli::sweep(m_file, m_run, m_steps, m_whole); });

    auto* band = m_app.add_subcommand("throw", "Print the room that a run's vehicles take beside their path (mm)");
    band->add_option("file", m_file, "A .vicinal document")->required();
    band->add_option("--run", m_run, "The run")->required();
    band->callback([this] { m_code = cli::throwBand(m_file, m_run); });

    auto* path =
        m_app.add_subcommand("path", "Print a path's length, ends and sharpest radius, or its frame at stations");
    path->add_option("file", m_file, "A .vicinal document")->required();
    path->add_option("--name", m_run, "The path")->required();
    path->add_option("--at", m_stations, "Station in mm (may be given several times)")->allow_extra_args(false);
    path->add_flag("--crossings", m_crossings, "List where its strands cross, of a path lifted over itself or another");
    path->callback([this] { m_code = cli::path(m_file, m_run, m_stations, m_crossings); });

    auto* part = m_app.add_subcommand("part", "Print a part's measures in seat axes, and its holes");
    part->add_option("file", m_file, "A .vicinal document")->required();
    part->add_option("--name", m_run, "The part")->required();
    part->add_option("--format", m_format, "text or json")->check(CLI::IsMember({"text", "json"}));
    part->callback([this] { m_code = cli::part(m_file, m_run, m_format == "json"); });

    auto* check = m_app.add_subcommand("check", "Print each run's verdict and checks; exit 1 when one is wrong");
    check->add_option("file", m_checks.file, "A .vicinal document")->required();
    check->add_option("--run", m_checks.runs, "Only this run (may be given several times)")->allow_extra_args(false);
    check->add_flag("--json", m_checks.json, "As JSON: every check with value, limit, worst place");
    check->add_flag("--fine", m_checks.fine, "Curved faces in four times as many pieces");
    check->add_option("--sheet", m_checks.sheet, "Also write the check sheet: .pdf or .html");
    check->callback([this] { m_code = cli::check(m_checks); });

    auto* validate = m_app.add_subcommand("validate", "Open a document and work everything out");
    validate->add_option("file", m_file, "A .vicinal document")->required();
    validate->callback([this] { m_code = cli::validate(m_file); });

    auto* schema = m_app.add_subcommand("schema", "Print the JSON schema of document.json");
    schema->callback([this] { m_code = cli::schema(); });
}

/// What writes files beside the document.
void CommandLine::addWriting() {
    auto* paper =
        m_app.add_subcommand("template", "Write a template at full size: .pdf page by page, .svg or .dxf uncut");
    paper->add_option("file", m_file, "A .vicinal document")->required();
    paper->add_option("--to", m_target, "The file")->required();
    paper->add_option("--run", m_runs, "Only this run (may be given several times)")->allow_extra_args(false);
    paper->add_option("values", m_wishes,
                      "key=value: plane, shows, paper, landscape, margin, overlap, mirrored, barAcross...");
    paper->callback([this] { m_code = cli::makeTemplate(m_file, m_runs, m_target, m_wishes); });

    auto* tape =
        m_app.add_subcommand("tape", "Write a marking tape of a run: its stations at full size on strips (.pdf)");
    tape->add_option("file", m_file, "A .vicinal document")->required();
    tape->add_option("--run", m_run, "The run")->required();
    tape->add_option("--to", m_target, "The file")->required();
    tape->add_option("values", m_wishes, "key=value: paper, landscape, height, margin, overlap, barAcross");
    tape->callback([this] { m_code = cli::makeTape(m_file, m_run, m_target, m_wishes); });

    auto* send = m_app.add_subcommand("send", "Write a template, tape, drawing, solids, schedule or line picture");
    send->add_option("file", m_given.file, "A .vicinal document")->required();
    send->add_option("--as", m_given.as, "template, tape, drawing, solids, schedule or picture")->required();
    send->add_option("--to", m_given.to, "The file; its extension says the format")->required();
    send->add_option("--what", m_given.what, "Only this run, heap, site body or path (may be given several times)")
        ->allow_extra_args(false);
    send->add_option("--field", m_given.fields, "name=text in a drawing's title block (several times)")
        ->allow_extra_args(false);
    send->add_option("--time", m_given.time, "As it stands after so many seconds of motion");
    send->add_option("values", m_given.values, "key=value of what is asked for, as in document.json");
    send->callback([this] { m_code = cli::send(m_given); });

    auto* deliver = m_app.add_subcommand("deliver", "Make the deliveries that are kept in a document");
    deliver->add_option("file", m_file, "A .vicinal document")->required();
    deliver->add_option("--name", m_runs, "Only this one (may be given several times)")->allow_extra_args(false);
    deliver->add_option("--to", m_target, "A folder; else beside the document");
    deliver->add_flag("--list", m_listed, "Print their names, kinds and files only");
    deliver->callback([this] { m_code = cli::deliver(m_file, m_runs, m_target, m_listed); });

    auto* out = m_app.add_subcommand("export", "Write a schedule, drawing or model");
    out->add_option("file", m_file, "A .vicinal document")->required();
    out->add_option("--to", m_to, "Target: .csv, .json, .dxf, .glb, .obj, .stl or .ply")->required();
    out->add_option("--run", m_runs, "Only this run (may be given several times)")->allow_extra_args(false);
    out->add_option("--time", m_time, "As it stands after so many seconds of motion");
    out->add_option("--frames", m_frames,
                    "As it moves: so many frames, as .glb with an animation or .csv of poses by time");
    out->add_option("--seconds", m_seconds, "Of motion; else until the slowest run has gone once along");
    out->callback([this] {
        m_code = m_frames != 0 ? cli::sendFilm(m_file, m_runs, m_to, m_frames, m_seconds)
                               : cli::sendOut(m_file, m_runs, m_to, m_time);
    });

    auto* pack = m_app.add_subcommand("pack", "Put a document.json and the files it names into one .vicinal");
    pack->add_option("file", m_file, "A document.json, or a .vicinal document")->required();
    pack->add_option("--to", m_to, "Target: .vicinal")->required();
    pack->callback([this] { m_code = cli::pack(m_file, m_to); });
}

/// What changes the document.
void CommandLine::addChanging() {
    auto* release = m_app.add_subcommand("release", "Turn a run into a heap of loose parts that follow nothing");
    release->add_option("file", m_file, "A .vicinal document")->required();
    release->add_option("--run", m_run, "The run")->required();
    release->add_option("--path", m_stays, "What becomes of its path: kept, hidden or gone")
        ->check(CLI::IsMember({"kept", "hidden", "gone"}));
    release->add_option("--to", m_to, "Target: .vicinal; else the file itself");
    release->callback([this] { m_code = cli::release(m_file, m_run, m_stays, m_to); });

    auto* body = m_app.add_subcommand("body", "List the site bodies, or add one");
    body->add_option("file", m_site.file, "A .vicinal document")->required();
    body->add_option("--add", m_site.add,
                     "What it is made of: plate, wall, part, made ground, levels, file, or box, ramp, cylinder...");
    body->add_option("--name", m_site.name, "What it is called");
    body->add_option("--path", m_site.path, "The path that a plate or wall follows");
    body->add_option("--part", m_site.part, "The part that it is taken from");
    body->add_option("--run", m_site.run, "The run whose rails they are, or that cuts");
    body->add_option("--body", m_site.body, "The body that is cut");
    body->add_flag("--webs", m_site.webs, "List the least material beside each hole of what is cut");
    body->add_option("--from", m_site.from, "The file of levels or of a body");
    body->add_option("--unit", m_site.unit, "Unit of that file: mm, cm, m, in, ft");
    body->add_option("values", m_site.values, "key=value, as in document.json: at, turn, size, thickness, height...");
    body->add_option("--to", m_site.to, "Target: .vicinal; else the file itself");
    body->callback([this] { m_code = cli::body(m_site); });

    auto* add = m_app.add_subcommand("add", "Add a path, a part, a run or a folder to a document");
    add->add_option("file", m_fresh.file, "A .vicinal document; made when it is not there")->required();
    add->add_option("--path", m_fresh.path, "A path of this name");
    add->add_option("--part", m_fresh.part, "A part of this name");
    add->add_option("--run", m_fresh.run, "A run of this name (path=NAME part=NAME)");
    add->add_option("--folder", m_fresh.folder, "A folder of this name");
    add->add_option("--kind", m_fresh.kind, "What it is made of: points, circle, helix...; round link, box, pieces...");
    add->add_option("--unit", m_fresh.unit, "Unit of a new document: mm, cm, m, in, ft");
    add->add_option("values", m_fresh.values, "key=value, as of set");
    add->add_option("--to", m_fresh.to, "Target: .vicinal; else the file itself");
    add->callback([this] { m_code = cli::add(m_fresh); });

    auto* set = m_app.add_subcommand("set", "Change described values of a run, a path, a part or a site body");
    set->add_option("file", m_order.file, "A .vicinal document")->required();
    set->add_option("values", m_order.values,
                    "key=value, as in document.json; lengths as typed (1/2 m), angles in degrees")
        ->required();
    set->add_option("--run", m_order.run, "Of this run");
    set->add_option("--path", m_order.path, "Of this path");
    set->add_option("--part", m_order.part, "Of this part");
    set->add_option("--body", m_order.body, "Of this site body");
    set->add_option("--check", m_order.check,
                    "Of the run: a check (\"gap\", \"opening\", ...): least, most, margin, on, from, to");
    set->add_option("--against", m_order.against, "The run or site body that the check is against");
    set->add_option("--to", m_order.to, "Target: .vicinal; else the file itself");
    set->callback([this] { m_code = cli::set(m_order); });

    auto* in = m_app.add_subcommand("bring-in", "Bring curves in as paths, or a body or outline as a part");
    in->add_option("file", m_bring.file,
                   "Curves: .dxf .svg .obj .step; points: .csv .txt; parts: these and .stl .ply .glb .gltf")
        ->required();
    in->add_option("--to", m_bring.to, "The document (.vicinal); made when it is not there")->required();
    in->add_option("--unit", m_bring.unit, "Unit of the file: mm, cm, m, in, ft");
    in->add_option("--layer", m_bring.layer, "Only this layer");
    in->add_option("--join", m_bring.join, "Ends closer than this are joined, mm")->check(CLI::NonNegativeNumber);
    in->add_flag("--as-part", m_bring.asPart, "As a part");
    in->add_option("--thickness", m_bring.thickness, "Of a part from an outline, mm")->check(CLI::NonNegativeNumber);
    in->add_flag("--smooth", m_bring.smooth, "A smooth path through the points of a .csv or .txt; else straight legs");
    in->add_flag("--closed", m_bring.closed, "Back to its first point");
    in->callback([this] { m_code = cli::bringIn(m_bring); });
}

} // namespace

int main(int argc, char** argv) {
    using namespace vicinal;
    keepGoingOnFileSignals();
    if (argc == 7 &&
        std::string(argv[1]) == "read-foreign") // this very program as reading child, see exchange/in/child/foreign.h
        return readForeignHere(argv[2], argv[3], argv[4], argv[5], std::strtod(argv[6], nullptr));
    try {
        return CommandLine().run(argc, argv);
    } catch (const std::bad_alloc&) {
        std::fputs("vicinal-cli: There is not enough memory for this.\n", stderr);
    } catch (const std::exception& e) {
        std::fprintf(stderr, "vicinal-cli: %s\n", text::reasonOf(e).c_str());
    } catch (...) {
        std::fputs("vicinal-cli: This cannot be done: a library gave up without a reason.\n", stderr);
    }
    return 2;
}
