#include "model/file/json/document_json.h"
#include <nlohmann/json.hpp>

namespace vicinal {

Json segmentJson(const Segment& s) {
    if (const auto* l = std::get_if<Line>(&s)) return {{"line", {vec(l->a), vec(l->b)}}};
    if (const auto* a = std::get_if<Arc>(&s))
        return {{"arc",
                 {{"centre", vec(a->centre)},
                  {"x", vec(a->xAxis)},
                  {"y", vec(a->yAxis)},
                  {"radius", a->radius},
                  {"sweep", a->sweep}}}};
    if (const auto* b = std::get_if<Bezier>(&s))
        return {{"bezier", {vec(b->p[0]), vec(b->p[1]), vec(b->p[2]), vec(b->p[3])}}};
    if (const auto* h = std::get_if<Helix>(&s))
        return {{"helix",
                 {{"centre", vec(h->centre)},
                  {"x", vec(h->xAxis)},
                  {"y", vec(h->yAxis)},
                  {"r0", h->r0},
                  {"r1", h->r1},
                  {"sweep", h->sweep},
                  {"rise", h->rise}}}};
    if (const auto* k = std::get_if<Catenary>(&s))
        return {{"catenary",
                 {{"low", vec(k->low)},
                  {"along", vec(k->along)},
                  {"up", vec(k->up)},
                  {"a", k->a},
                  {"from", k->s0},
                  {"to", k->s1}}}};
    const auto& c = std::get<Nurbs>(s);
    Json points = Json::array();
    for (const auto& p : c.points) points.push_back(vec(p));
    return {{"nurbs", {{"degree", c.degree}, {"knots", c.knots}, {"points", points}, {"weights", c.weights}}}};
}

Segment segmentFromJson(const Json& j, const std::string& where) {
    if (j.contains("line") && j["line"].is_array() && j["line"].size() == 2)
        return Line{JsonReader::vector(j["line"][0], where), JsonReader::vector(j["line"][1], where)};
    if (j.contains("bezier") && j["bezier"].is_array() && j["bezier"].size() == 4)
        return Bezier{{JsonReader::vector(j["bezier"][0], where), JsonReader::vector(j["bezier"][1], where),
                       JsonReader::vector(j["bezier"][2], where), JsonReader::vector(j["bezier"][3], where)}};
    if (j.contains("arc")) {
        const Json& a = j["arc"];
        return Arc{JsonReader::vector(JsonReader::member(a, where, "centre"), where),
                   JsonReader::vector(JsonReader::member(a, where, "x"), where),
                   JsonReader::vector(JsonReader::member(a, where, "y"), where), JsonReader::finite(a, where, "radius"),
                   JsonReader::finite(a, where, "sweep")};
    }
    if (j.contains("helix")) {
        const Json& h = j["helix"];
        return Helix{JsonReader::vector(JsonReader::member(h, where, "centre"), where),
                     JsonReader::vector(JsonReader::member(h, where, "x"), where),
                     JsonReader::vector(JsonReader::member(h, where, "y"), where),
                     JsonReader::finite(h, where, "r0"),
                     JsonReader::finite(h, where, "r1"),
                     JsonReader::finite(h, where, "sweep"),
                     JsonReader::finite(h, where, "rise")};
    }
    if (j.contains("catenary")) {
        const Json& k = j["catenary"];
        return Catenary{JsonReader::vector(JsonReader::member(k, where, "low"), where),
                        JsonReader::vector(JsonReader::member(k, where, "along"), where),
                        JsonReader::vector(JsonReader::member(k, where, "up"), where),
                        JsonReader::finite(k, where, "a"),
                        JsonReader::finite(k, where, "from"),
                        JsonReader::finite(k, where, "to")};
    }
    if (j.contains("nurbs")) {
        const Json& n = j["nurbs"];
        Nurbs c;
        c.degree = int(JsonReader::whole(n, where, "degree"));
        c.knots = JsonReader::numbers(JsonReader::member(n, where, "knots"), where);
        c.weights = JsonReader::numbers(JsonReader::member(n, where, "weights"), where);
        for (const auto& p : JsonReader::list(n, where, "points")) c.points.push_back(JsonReader::vector(p, where));
        return c;
    }
    JsonReader::fail(where, "has a piece of a kind that is not known");
}

} // namespace vicinal
