#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/document/part_item.h"
#include "model/evaluate/weights.h"
#include "parts/solid/outline.h"

namespace vicinal::cli {

int part(const std::string& file, const std::string& name, bool json) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto item = named(opened->document.parts, name, file, "part");
    if (!item) return fail(item.problem());
    const auto found = opened->evaluation->parts.at((*item)->id);
    if (found->problem)
        return fail({say::value(file) + ": part \"" + name + "\": " + Words::whole(found->problem->text), ""});
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
    const char* surface = m.watertight ? "mesh" : "open mesh";
    text("body", m.exact ? "solid" : surface);
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
    if (const auto kg = massOf(*found)) number("mass", *kg);
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

} // namespace vicinal::cli
