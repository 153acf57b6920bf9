#include "base/text.h"
#include "exchange/lists/rows.h"
#include "model/document/run_item.h"
#include <nlohmann/json.hpp>

namespace vicinal {
std::string csvCell(std::string s) {
    if (!s.empty() && std::string("=+-@\t\r").find(s[0]) != std::string::npos) s.insert(0, "'");
    if (s.find_first_of(",\"\n\r") == std::string::npos) return s;
    std::string out = "\"";
    for (char c : s) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

namespace {

/// One line a place, each led by `lead`.
void addLines(std::string& out, const Standings& runs, const std::string& lead) {
    eachRow(runs, [&](const Standing& of, const BodyRow& r) {
        out += lead + csvCell(of.name) + "," + (r.place ? std::to_string(r.place) : "") + "," + csvCell(*r.part) + "," +
               (r.station ? text::fixed(*r.station, 6) : "");
        for (double v : {r.at.x(), r.at.y(), r.at.z(), r.angles.heading / kDegree, r.angles.slope / kDegree,
                         r.angles.roll / kDegree, r.q.w(), r.q.x(), r.q.y(), r.q.z(), r.size})
            out += "," + text::fixed(v, 6);
        out += "\n";
        return true;
    });
}

} // namespace

std::string scheduleCsv(const Standings& runs) {
    std::string out(kScheduleColumns);
    out += "\n";
    addLines(out, runs, {});
    return out;
}

std::string posesCsv(const Film& film) {
    std::string out = "time,";
    out += kScheduleColumns;
    out += "\n";
    for (size_t k = 0; k < film.frames.size(); ++k)
        addLines(out, film.frames[k], text::fixed(film.step * double(k), 6) + ",");
    return out;
}

std::string scheduleJson(const Standings& runs) {
    using Json = nlohmann::ordered_json;
    Json places = Json::array();
    eachRow(runs, [&](const Standing& of, const BodyRow& r) {
        places.push_back({{"run", of.name},
                          {"place", r.place ? Json(r.place) : Json()},
                          {"part", *r.part},
                          {"station", r.station ? Json(*r.station) : Json()},
                          {"x", r.at.x()},
                          {"y", r.at.y()},
                          {"z", r.at.z()},
                          {"heading", r.angles.heading / kDegree},
                          {"slope", r.angles.slope / kDegree},
                          {"roll", r.angles.roll / kDegree},
                          {"qw", r.q.w()},
                          {"qx", r.q.x()},
                          {"qy", r.q.y()},
                          {"qz", r.q.z()},
                          {"size", r.size}});
        return true;
    });
    const Json out = {{"units", "mm"}, {"angles", "degrees"}, {"places", places}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace vicinal
