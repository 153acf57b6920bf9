#include "cli/commands.h"
#include "base/text.h"
#include "exchange/in/bring_in.h"
#include "exchange/out/send_out.h"
#include "model/file/document_file.h"
#include "parts/solid/outline.h"
#include <cmath>
#include <cstdio>

namespace vicinal::cli {
namespace {

int fail(const Problem& p) {
    std::fprintf(stderr, "vicinal-cli: %s\n", p.text.c_str());
    return 2;
}

struct Opened {
    Document document;
    std::shared_ptr<const Evaluation> evaluation;
};

Result<Opened> open(const std::string& file) {
    auto document = openDocument(file, readBody);
    if (!document) return Problem{file + ": " + document.problem().text, ""};
    auto evaluation = evaluate(*document);
    return Opened{std::move(document).value(), std::move(evaluation)};
}

int print(const std::string& text) {
    if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size() || std::fflush(stdout) != 0)
        return fail({"Cannot write to standard output.", ""});
    return 0;
}

} // namespace

int places(const std::string& file, const std::vector<std::string>& names, const std::string& format) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    if (!names.empty()) {
        const auto runs = chosenRuns(*opened->evaluation, names);
        if (!runs) return fail(runs.problem());
        return print(format == "json" ? scheduleJson(*runs) : scheduleCsv(*runs));
    }
    const auto sound = soundRuns(*opened->evaluation);
    if (!sound) return fail(sound.problem());
    if (sound->runs.empty()) return fail(sound->problems.front()); // nothing to print
    if (const int code = print(format == "json" ? scheduleJson(sound->runs) : scheduleCsv(sound->runs))) return code;
    for (const auto& p : sound->problems) fail(p);
    return sound->problems.empty() ? 0 : 1;
}

int fits(const std::string& file, const std::string& name, bool json) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto run = opened->document.run(name);
    if (!run) return fail(chosenRuns(*opened->evaluation, {name}).problem());
    const auto rows = fitsOf(*opened->evaluation->run(run->id));
    if (!rows) return fail(rows.problem());
    std::string out = json ? "[" : "places,pitch,gap_least,gap_most,left_over,in_use,remark\n";
    for (size_t i = 0; i < rows->size(); ++i) {
        const Fit& f = (*rows)[i];
        const char* remark = f.over ? "over" : f.under ? "under" : "";
        if (json)
            out += std::string(i ? "," : "") + "\n {\"places\": " + std::to_string(f.count) +
                   ", \"pitch\": " + text::exact(f.pitch) + ", \"gapLeast\": " + text::exact(f.gapLeast) +
                   ", \"gapMost\": " + text::exact(f.gapMost) + ", \"leftOver\": " + text::exact(f.leftOver) +
                   ", \"inUse\": " + (f.inUse ? "true" : "false") + ", \"remark\": \"" + remark + "\"}";
        else
            out += std::to_string(f.count) + "," + text::fixed(f.pitch, 6) + "," + text::fixed(f.gapLeast, 6) + "," +
                   text::fixed(f.gapMost, 6) + "," + text::fixed(f.leftOver, 6) + "," + (f.inUse ? "yes" : "no") + "," +
                   remark + "\n";
    }
    return print(json ? out + "\n]\n" : out);
}

int pack(const std::string& file, const std::string& to) {
    if (!to.ends_with(".vicinal")) return fail({"The target must end in .vicinal, and " + to + " does not.", ""});
    const auto document = openDocument(file, readBody);
    if (!document) return fail({file + ": " + document.problem().text, ""});
    const auto problem = saveDocument(*document, to);
    return problem ? fail(*problem) : 0;
}

int validate(const std::string& file) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    for (const auto& [id, p] : opened->evaluation->paths)
        if (p->problem) return fail({file + ": path \"" + p->item->name + "\": " + p->problem->text, ""});
    for (const auto& [id, p] : opened->evaluation->parts)
        if (p->problem) return fail({file + ": part \"" + p->item->name + "\": " + p->problem->text, ""});
    for (const auto& r : opened->evaluation->runs)
        if (r->problem) return fail({file + ": run \"" + r->item->name + "\": " + r->problem->text, ""});
    const Document& d = opened->document;
    return print("valid: " + std::to_string(d.paths.size()) + " paths, " + std::to_string(d.parts.size()) + " parts, " +
                 std::to_string(d.runs.size()) + " runs\n");
}

int path(const std::string& file, const std::string& name, const std::vector<double>& at) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const PathResult* found = nullptr;
    std::string names;
    for (const auto& item : opened->document.paths) {
        if (item->name == name) found = opened->evaluation->paths.at(item->id).get();
        names += (names.empty() ? "\"" : ", \"") + item->name + "\"";
    }
    if (!found) return fail({file + ": there is no path \"" + name + "\". There are: " + names + ".", ""});
    if (found->problem) return fail({file + ": path \"" + name + "\": " + found->problem->text, ""});
    const Path& p = *found->path;
    const auto point = [](const Vec3& v) {
        return text::fixed(v.x(), 6) + "," + text::fixed(v.y(), 6) + "," + text::fixed(v.z(), 6);
    };
    std::string out;
    if (at.empty()) {
        const PathFacts facts = factsOf(p);
        out += "path: " + name + "\nkind: " + kindOf(found->item->recipe) + "\nlength: " + text::fixed(p.length(), 6) +
               "\nclosed: " + (p.closed() ? "yes" : "no") + "\nstart: " + point(p.at(0).point) +
               "\nend: " + point(p.spans().back().point(1)) + "\ncorners: " + std::to_string(p.corners().size());
        out += "\nsharpest radius: " + (std::isfinite(facts.sharpest)
                                            ? text::fixed(facts.sharpest, 6) + " at " + text::fixed(facts.sharpestAt, 6)
                                            : std::string("none"));
        out += std::string("\nplanar: ") + (facts.planar ? "yes" : "no") +
               "\nself-crossings: " + std::to_string(facts.crossings) + "\n";
        if (found->loop)
            for (size_t i = 0; i < found->loop->contacts.size(); ++i) {
                const auto& c = found->loop->contacts[i];
                const auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(found->item->recipe).shape).wheels[i];
                out += "wheel: " + w.name + ", wrap " + text::fixed(c.wrap / kDegree, 6) + ", straight after " +
                       text::fixed(c.tangentAfter, 6) + "\n";
            }
        for (const auto& r : found->remarks) out += "remark: " + r + "\n";
        return print(out);
    }
    out = "station,x,y,z,tx,ty,tz,cx,cy,cz\n"; // tangent and carried crown
    for (double s : at) {
        if (!(s >= -tolerance::length && s <= p.length() + tolerance::length))
            return fail({"Station " + text::number(s, 6) + " is beyond the path, which is " +
                             text::number(p.length(), 6) + " mm long.",
                         ""});
        const Sample x = p.at(s, true);
        out += text::fixed(s, 6) + "," + point(x.point) + "," + point(x.tangent) + "," + point(x.carried) + "\n";
    }
    return print(out);
}

int part(const std::string& file, const std::string& name, bool json) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const PartResult* found = nullptr;
    std::string names;
    for (const auto& item : opened->document.parts) {
        if (item->name == name) found = opened->evaluation->parts.at(item->id).get();
        names += (names.empty() ? "\"" : ", \"") + item->name + "\"";
    }
    if (!found) return fail({file + ": there is no part \"" + name + "\". There are: " + names + ".", ""});
    if (found->problem) return fail({file + ": part \"" + name + "\": " + found->problem->text, ""});
    const Body& body = *found->body;
    const Seat& seat = found->item->seat;
    const Measures m = measuresOf(body, seat);
    const Outline crown = outlineOf(body, seat, Look::Crown), side = outlineOf(body, seat, Look::Side);
    const Mat3 R = seatRotation(seat);
    const Vec3 at = seatPoint(seat, body.mesh->box);
    // One list for both forms: key, value; texts are quoted in JSON.
    struct Row {
        std::string key, value;
        bool quoted = false;
    };
    std::vector<Row> rows;
    const auto text = [&](const char* key, const std::string& value) { rows.push_back({key, value, true}); };
    const auto number = [&](const char* key, double v) {
        rows.push_back({key, json ? text::exact(v) : text::fixed(v, 6), false});
    };
    const auto point = [&](const char* key, const Vec3& v) {
        const auto one = [&](double x) { return json ? text::exact(x) : text::fixed(x, 6); };
        const std::string all = one(v.x()) + "," + one(v.y()) + "," + one(v.z());
        rows.push_back({key, json ? "[" + all + "]" : all, false});
    };
    text("part", name);
    text("kind", kindOf(found->item->shape));
    text("body", m.exact ? "solid" : m.watertight ? "mesh" : "open mesh");
    number("length", m.length());
    number("width", m.width());
    number("height", m.height());
    number("before", m.before);
    number("behind", m.behind);
    number("left", m.left);
    number("right", m.right);
    number("up", m.up);
    number("down", m.down);
    if (m.pinDistance) number("pin distance", *m.pinDistance);
    number("volume", m.volume);
    number("area", m.area);
    if (found->item->density > 0) number("mass", mass(m.volume, found->item->density));
    point("centre", m.centre);
    number("outline from crown", crown.area);
    number("outline from side", side.area);
    point("seat point", at);
    for (const auto& h : holesOf(body)) {
        const Vec3 c = R * (h.centre - at), a = R * h.axis;
        const auto one = [&](double x) { return json ? text::exact(x) : text::fixed(x, 6); };
        const double v[] = {c.x(), c.y(), c.z(), a.x(), a.y(), a.z(), 2 * h.radius, h.depth, h.error};
        std::string all;
        for (double x : v) all += (all.empty() ? "" : ",") + one(x);
        if (json)
            all = "{\"centre\": [" + one(v[0]) + "," + one(v[1]) + "," + one(v[2]) + "], \"axis\": [" + one(v[3]) +
                  "," + one(v[4]) + "," + one(v[5]) + "], \"diameter\": " + one(v[6]) + ", \"depth\": " + one(v[7]) +
                  ", \"error\": " + one(v[8]) + "}";
        rows.push_back({"hole", all, false});
    }
    std::string out = json ? "{" : "";
    std::string holes;
    for (const auto& r : rows) {
        if (!json) {
            out += r.key + ": " + r.value + "\n";
            continue;
        }
        if (r.key == "hole") {
            holes += (holes.empty() ? "" : ",\n  ") + r.value;
            continue;
        }
        std::string value;
        for (char c : r.value) value += r.quoted && (c == '"' || c == '\\') ? std::string("\\") + c : std::string(1, c);
        out += (out.size() > 1 ? ",\n \"" : "\n \"") + r.key + "\": " + (r.quoted ? "\"" + value + "\"" : value);
    }
    return print(json ? out + ",\n \"holes\": [" + holes + "]\n}\n" : out);
}

int check(const std::string& file) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    std::string out;
    bool failed = false;
    for (const auto& r : opened->evaluation->runs) {
        const char* words[] = {"good", "doubtful", "wrong"};
        out += r->item->name + ": " + words[int(r->verdict.mark)] + ": " + r->verdict.text + "\n";
        failed = failed || r->verdict.mark == Mark::Wrong;
    }
    const int printed = print(out);
    return printed ? printed : failed ? 1 : 0;
}

int sendOut(const std::string& file, const std::vector<std::string>& names, const std::string& to) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto runs = chosenRuns(*opened->evaluation, names);
    if (!runs) return fail(runs.problem());
    if (const auto problem = vicinal::sendOut(*runs, to)) return fail(*problem);
    return 0;
}

} // namespace vicinal::cli
