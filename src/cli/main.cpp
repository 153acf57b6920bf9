#include "base/text.h"
#include "cli/commands.h"
#include "exchange/in/child/foreign.h"
#include "model/file/files.h"
#include <CLI/CLI.hpp>

namespace {

int run(int argc, char** argv) {
    using namespace vicinal;
    CLI::App app{"Vicinal without a window: the places, fits and files of a document."};
    app.require_subcommand(1);
    std::string file, run, to, format = "csv";
    std::vector<std::string> runs;
    int code = 0;

    auto* places = app.add_subcommand("places", "Print the setting-out schedule (mm, degrees)");
    places->add_option("file", file, "A .vicinal document")->required();
    places->add_option("--run", runs, "Only this run (may be given several times)")->allow_extra_args(false);
    places->add_option("--format", format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    double time = 0;
    places->add_option("--time", time, "As they stand after so many seconds of motion");
    bool rails = false;
    places->add_flag("--rails", rails, "The cut list of the rails instead: every bar, and how its ends are cut");
    places->callback(
        [&] { code = rails ? cli::barsOrWebs(file, runs, format, false) : cli::places(file, runs, format, time); });

    auto* fits = app.add_subcommand("fits", "Print the counts that work for a run");
    fits->add_option("file", file, "A .vicinal document")->required();
    fits->add_option("--run", run, "The run")->required();
    fits->add_option("--format", format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    fits->callback([&] { code = cli::fits(file, run, format == "json"); });

    auto* solve = app.add_subcommand("solve", "Print what gives way for a run: from, to, error (mm, degrees)");
    solve->add_option("file", file, "A .vicinal document")->required();
    solve->add_option("--run", run, "The run")->required();
    solve->add_option("--format", format, "csv or json")->check(CLI::IsMember({"csv", "json"}));
    solve->callback([&] { code = cli::solve(file, run, format == "json"); });

    long steps = 100;
    auto* sweep = app.add_subcommand("sweep", "Go through one pitch of a run and print how it closes on the way");
    sweep->add_option("file", file, "A .vicinal document")->required();
    sweep->add_option("--run", run, "The run")->required();
    sweep->add_option("--steps", steps, "How many");
    bool whole = false;
    sweep->add_flag("--whole", whole, "The whole path instead of one pitch");
    sweep->callback([&] { code = cli::sweep(file, run, steps, whole); });

    auto* band = app.add_subcommand("throw", "Print the room that a run's vehicles take beside their path (mm)");
    band->add_option("file", file, "A .vicinal document")->required();
    band->add_option("--run", run, "The run")->required();
    band->callback([&] { code = cli::throwBand(file, run); });

    std::vector<std::string> wishes;
    std::string target;
    auto* paper =
        app.add_subcommand("template", "Write a template at full size: .pdf page by page, .svg or .dxf uncut");
    paper->add_option("file", file, "A .vicinal document")->required();
    paper->add_option("--to", target, "The file")->required();
    paper->add_option("--run", runs, "Only this run (may be given several times)")->allow_extra_args(false);
    paper->add_option("values", wishes,
                      "key=value: plane, shows, paper, landscape, margin, overlap, mirrored, barAcross...");
    paper->callback([&] { code = cli::makeTemplate(file, runs, target, wishes); });

    auto* tape =
        app.add_subcommand("tape", "Write a marking tape of a run: its stations at full size on strips (.pdf)");
    tape->add_option("file", file, "A .vicinal document")->required();
    tape->add_option("--run", run, "The run")->required();
    tape->add_option("--to", target, "The file")->required();
    tape->add_option("values", wishes, "key=value: paper, landscape, height, margin, overlap, barAcross");
    tape->callback([&] { code = cli::makeTape(file, run, target, wishes); });

    cli::SendOrderGiven given;
    auto* send = app.add_subcommand("send", "Write a template, tape, drawing, solids, schedule or line picture");
    send->add_option("file", given.file, "A .vicinal document")->required();
    send->add_option("--as", given.as, "template, tape, drawing, solids, schedule or picture")->required();
    send->add_option("--to", given.to, "The file; its extension says the format")->required();
    send->add_option("--what", given.what, "Only this run, heap, site body or path (may be given several times)")
        ->allow_extra_args(false);
    send->add_option("--field", given.fields, "name=text in a drawing's title block (several times)")
        ->allow_extra_args(false);
    send->add_option("--time", given.time, "As it stands after so many seconds of motion");
    send->add_option("values", given.values, "key=value of what is asked for, as in document.json");
    send->callback([&] { code = cli::send(given); });

    auto* deliver = app.add_subcommand("deliver", "Make the deliveries that are kept in a document");
    deliver->add_option("file", file, "A .vicinal document")->required();
    deliver->add_option("--name", runs, "Only this one (may be given several times)")->allow_extra_args(false);
    deliver->add_option("--to", target, "A folder; else beside the document");
    bool listed = false;
    deliver->add_flag("--list", listed, "Print their names, kinds and files only");
    deliver->callback([&] { code = cli::deliver(file, runs, target, listed); });

    std::string stays = "kept";
    auto* release = app.add_subcommand("release", "Turn a run into a heap of loose parts that follow nothing");
    release->add_option("file", file, "A .vicinal document")->required();
    release->add_option("--run", run, "The run")->required();
    release->add_option("--path", stays, "What becomes of its path: kept, hidden or gone")
        ->check(CLI::IsMember({"kept", "hidden", "gone"}));
    release->add_option("--to", to, "Target: .vicinal; else the file itself");
    release->callback([&] { code = cli::release(file, run, stays, to); });

    std::vector<double> stations;
    auto* path =
        app.add_subcommand("path", "Print a path's length, ends and sharpest radius, or its frame at stations");
    path->add_option("file", file, "A .vicinal document")->required();
    path->add_option("--name", run, "The path")->required();
    path->add_option("--at", stations, "Station in mm (may be given several times)")->allow_extra_args(false);
    bool crossings = false;
    path->add_flag("--crossings", crossings, "List where its strands cross, of a path lifted over itself or another");
    path->callback([&] { code = cli::path(file, run, stations, crossings); });

    auto* part = app.add_subcommand("part", "Print a part's measures in seat axes, and its holes");
    part->add_option("file", file, "A .vicinal document")->required();
    part->add_option("--name", run, "The part")->required();
    part->add_option("--format", format, "text or json")->check(CLI::IsMember({"text", "json"}));
    part->callback([&] { code = cli::part(file, run, format == "json"); });

    cli::BodyOrder site;
    auto* body = app.add_subcommand("body", "List the site bodies, or add one");
    body->add_option("file", site.file, "A .vicinal document")->required();
    body->add_option("--add", site.add,
                     "What it is made of: plate, wall, part, made ground, levels, file, or box, ramp, cylinder...");
    body->add_option("--name", site.name, "What it is called");
    body->add_option("--path", site.path, "The path that a plate or wall follows");
    body->add_option("--part", site.part, "The part that it is taken from");
    body->add_option("--run", site.run, "The run whose rails they are, or that cuts");
    body->add_option("--body", site.body, "The body that is cut");
    body->add_flag("--webs", site.webs, "List the least material beside each hole of what is cut");
    body->add_option("--from", site.from, "The file of levels or of a body");
    body->add_option("--unit", site.unit, "Unit of that file: mm, cm, m, in, ft");
    body->add_option("values", site.values, "key=value, as in document.json: at, turn, size, thickness, height...");
    body->add_option("--to", site.to, "Target: .vicinal; else the file itself");
    body->callback([&] { code = cli::body(site); });

    auto* pack = app.add_subcommand("pack", "Put a document.json and the files it names into one .vicinal");
    pack->add_option("file", file, "A document.json, or a .vicinal document")->required();
    pack->add_option("--to", to, "Target: .vicinal")->required();
    pack->callback([&] { code = cli::pack(file, to); });

    auto* validate = app.add_subcommand("validate", "Open a document and work everything out");
    validate->add_option("file", file, "A .vicinal document")->required();
    validate->callback([&] { code = cli::validate(file); });

    auto* check = app.add_subcommand("check", "Print each run's verdict and checks; exit 1 when one is wrong");
    cli::CheckCommand checks;
    check->add_option("file", checks.file, "A .vicinal document")->required();
    check->add_option("--run", checks.runs, "Only this run (may be given several times)")->allow_extra_args(false);
    check->add_flag("--json", checks.json, "As JSON: every check with value, limit, worst place");
    check->add_flag("--fine", checks.fine, "Curved faces in four times as many pieces");
    check->add_option("--sheet", checks.sheet, "Also write the check sheet: .pdf or .html");
    check->callback([&] { code = cli::check(checks); });

    auto* out = app.add_subcommand("export", "Write a schedule, drawing or model");
    out->add_option("file", file, "A .vicinal document")->required();
    out->add_option("--to", to, "Target: .csv, .json, .dxf, .glb, .obj, .stl or .ply")->required();
    out->add_option("--run", runs, "Only this run (may be given several times)")->allow_extra_args(false);
    out->add_option("--time", time, "As it stands after so many seconds of motion");
    long frames = 0;
    double seconds = 0;
    out->add_option("--frames", frames,
                    "As it moves: so many frames, as .glb with an animation or .csv of poses by time");
    out->add_option("--seconds", seconds, "Of motion; else until the slowest run has gone once along");
    out->callback([&] {
        code = frames != 0 ? cli::sendFilm(file, runs, to, frames, seconds) : cli::sendOut(file, runs, to, time);
    });

    cli::AddOrder fresh;
    auto* add = app.add_subcommand("add", "Add a path, a part, a run or a folder to a document");
    add->add_option("file", fresh.file, "A .vicinal document; made when it is not there")->required();
    add->add_option("--path", fresh.path, "A path of this name");
    add->add_option("--part", fresh.part, "A part of this name");
    add->add_option("--run", fresh.run, "A run of this name (path=NAME part=NAME)");
    add->add_option("--folder", fresh.folder, "A folder of this name");
    add->add_option("--kind", fresh.kind, "What it is made of: points, circle, helix...; round link, box, pieces...");
    add->add_option("--unit", fresh.unit, "Unit of a new document: mm, cm, m, in, ft");
    add->add_option("values", fresh.values, "key=value, as of set");
    add->add_option("--to", fresh.to, "Target: .vicinal; else the file itself");
    add->callback([&] { code = cli::add(fresh); });

    cli::SetOrder order;
    auto* set = app.add_subcommand("set", "Change described values of a run, a path, a part or a site body");
    set->add_option("file", order.file, "A .vicinal document")->required();
    set->add_option("values", order.values,
                    "key=value, as in document.json; lengths as typed (1/2 m), angles in degrees")
        ->required();
    set->add_option("--run", order.run, "Of this run");
    set->add_option("--path", order.path, "Of this path");
    set->add_option("--part", order.part, "Of this part");
    set->add_option("--body", order.body, "Of this site body");
    set->add_option("--check", order.check,
                    "Of the run: a check (\"gap\", \"opening\", ...): least, most, margin, on, from, to");
    set->add_option("--against", order.against, "The run or site body that the check is against");
    set->add_option("--to", order.to, "Target: .vicinal; else the file itself");
    set->callback([&] { code = cli::set(order); });

    cli::BringInOrder bring;
    auto* in = app.add_subcommand("bring-in", "Bring curves in as paths, or a body or outline as a part");
    in->add_option("file", bring.file,
                   "Curves: .dxf .svg .obj .step; points: .csv .txt; parts: these and .stl .ply .glb .gltf")
        ->required();
    in->add_option("--to", bring.to, "The document (.vicinal); made when it is not there")->required();
    in->add_option("--unit", bring.unit, "Unit of the file: mm, cm, m, in, ft");
    in->add_option("--layer", bring.layer, "Only this layer");
    in->add_option("--join", bring.join, "Ends closer than this are joined, mm")->check(CLI::NonNegativeNumber);
    in->add_flag("--as-part", bring.asPart, "As a part");
    in->add_option("--thickness", bring.thickness, "Of a part from an outline, mm")->check(CLI::NonNegativeNumber);
    in->add_flag("--smooth", bring.smooth, "A smooth path through the points of a .csv or .txt; else straight legs");
    in->add_flag("--closed", bring.closed, "Back to its first point");
    in->callback([&] { code = cli::bringIn(bring); });

    auto* schema = app.add_subcommand("schema", "Print the JSON schema of document.json");
    schema->callback([&] { code = cli::schema(); });

    try {
        app.parse(argc, argv);
    } catch (const CLI::CallForHelp& e) {
        return app.exit(e);
    } catch (const CLI::ParseError& e) {
        const std::string what = e.what();
        std::fprintf(stderr, "vicinal-cli: %s\n", text::quoted(what.substr(0, what.find('\n'))).c_str());
        return 2;
    }
    return code;
}

} // namespace

int main(int argc, char** argv) {
    using namespace vicinal;
    keepGoingOnFileSignals();
    if (argc == 7 &&
        std::string(argv[1]) == "read-foreign") // this very program as reading child, see exchange/in/child/foreign.h
        return readForeignHere(argv[2], argv[3], argv[4], argv[5], std::strtod(argv[6], nullptr));
    try {
        return run(argc, argv);
    } catch (const std::bad_alloc&) {
        std::fputs("vicinal-cli: There is not enough memory for this.\n", stderr);
    } catch (const std::exception& e) {
        std::fprintf(stderr, "vicinal-cli: %s\n", text::reasonOf(e).c_str());
    } catch (...) {
        std::fputs("vicinal-cli: This cannot be done: a library gave up without a reason.\n", stderr);
    }
    return 2;
}
