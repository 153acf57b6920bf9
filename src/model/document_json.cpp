#include "model/document_file.h"
#include <nlohmann/json.hpp>
#include <set>

namespace vicinal {
namespace {

using Json = nlohmann::ordered_json;
constexpr int kVersion = 2; // 1 had only points and curves; it reads as it is

// Words of the file, in the order of their enumerations.
constexpr const char* kAxes[] = {"+x", "-x", "+y", "-y", "+z", "-z"};
constexpr const char* kRules[] = {"step off", "share out", "even out"};
constexpr const char* kMeasures[] = {"c/c", "clear gap"};
constexpr const char* kLeftOver[] = {"end", "start", "both"};
constexpr const char* kEnds[] = {"at ends", "half a pitch in", "a pitch in"};
constexpr const char* kNoses[] = {"along", "as drawn"};
constexpr const char* kCrowns[] = {"plumb", "upright", "carried"};
constexpr const char* kCorners[] = {"bisector", "leg before", "leg after"};
constexpr const char* kKnottings[] = {"centripetal", "chord length"};

Json vec(const Vec3& v) { return Json::array({v.x(), v.y(), v.z()}); }

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

/// Writes what describe() hands out.
struct Writer {
    Json& j;
    void length(const char* key, const char*, const char*, double v) const { j[key] = v; }
    void angle(const char* key, const char*, const char*, double v) const { j[key] = v; }
    void number(const char* key, const char*, const char*, double v) const { j[key] = v; }
    void count(const char* key, const char*, const char*, long v) const { j[key] = v; }
    void flag(const char* key, const char*, const char*, bool v) const { j[key] = v; }
    void point(const char* key, const char*, const char*, const Vec3& v) const { j[key] = vec(v); }
    template<class E>
    void choice(const char* key, const char*, const char*, E v, std::initializer_list<const char*> words) const {
        j[key] = words.begin()[int(v)];
    }
    void wheels(const char* key, const std::vector<Wheel>& wheels) const {
        j[key] = Json::array();
        for (const auto& w : wheels)
            j[key].push_back({{"name", w.name},
                              {"centre", {w.centre.x(), w.centre.y()}},
                              {"radius", w.radius},
                              {"teeth", w.teeth},
                              {"inside", w.inside}});
    }
};

Json pathJson(const PathItem& p) {
    Json j = {{"id", p.id}, {"name", p.name}};
    if (const auto* r = std::get_if<PointsRecipe>(&p.recipe)) {
        j["closed"] = r->closed;
        j["knotting"] = kKnottings[int(r->knotting)];
        j["points"] = Json::array();
        for (const auto& q : r->points) {
            Json point = {{"at", vec(q.at)}, {"smooth", q.smooth}};
            if (q.fillet > 0) point["fillet"] = q.fillet;
            if (q.in) point["in"] = vec(*q.in);
            if (q.out) point["out"] = vec(*q.out);
            if (q.via) point["via"] = vec(*q.via);
            j["points"].push_back(std::move(point));
        }
    } else if (const auto* c = std::get_if<BroughtCurve>(&p.recipe)) {
        j["closed"] = c->closed;
        j["source"] = c->source;
        j["segments"] = Json::array();
        for (const auto& s : c->segments) j["segments"].push_back(segmentJson(s));
    } else {
        Json recipe = {{"kind", kindOf(p.recipe)}};
        if (const auto* d = std::get_if<DerivedRecipe>(&p.recipe)) recipe["source"] = d->source;
        if (const auto* m = std::get_if<JoinedRecipe>(&p.recipe)) recipe["members"] = m->members;
        if (const auto* e = std::get_if<EdgesRecipe>(&p.recipe)) recipe["part"] = e->part;
        describe(Writer{recipe}, p.recipe);
        j["recipe"] = std::move(recipe);
    }
    return j;
}

std::string assetName(const BroughtMesh& m) {
    std::uint64_t h = 1469598103934665603ull; // FNV-1a: a name by content, not a seal
    for (unsigned char c : *m.bytes) h = (h ^ c) * 1099511628211ull;
    char name[32];
    std::snprintf(name, sizeof name, "%016llx", static_cast<unsigned long long>(h));
    return std::string("assets/") + name + "." + m.extension;
}

Json partJson(const PartItem& p) {
    Json shape;
    if (const auto* b = std::get_if<Baluster>(&p.shape))
        shape = {{"kind", "baluster"}, {"width", b->width}, {"depth", b->depth}, {"height", b->height}};
    else if (const auto* k = std::get_if<Plank>(&p.shape))
        shape = {{"kind", "plank"}, {"length", k->length}, {"width", k->width}, {"thickness", k->thickness}};
    else {
        const auto& m = std::get<BroughtMesh>(p.shape);
        shape = {{"kind", "mesh"}, {"asset", assetName(m)}, {"source", m.source}, {"scale", m.scale}};
    }
    Json point;
    if (const auto* b = std::get_if<BoxPoint>(&p.seat.point))
        point = {{"box", {b->x, b->y, b->z}}};
    else
        point = {{"at", vec(std::get<Vec3>(p.seat.point))}};
    return {{"id", p.id},
            {"name", p.name},
            {"shape", shape},
            {"seat", {{"point", point}, {"nose", kAxes[int(p.seat.nose)]}, {"crown", kAxes[int(p.seat.crown)]}}}};
}

Json runJson(const RunItem& r) {
    const Spacing& s = r.spacing;
    Json spacing = {{"rule", kRules[int(s.rule)]},
                    {"measure", kMeasures[int(s.measure)]},
                    {"pitch", s.pitch},
                    {"leftOver", kLeftOver[int(s.leftOver)]},
                    {"count", s.count},
                    {"ends", kEnds[int(s.ends)]},
                    {"about", s.about},
                    {"insetStart", s.insetStart},
                    {"insetEnd", s.insetEnd},
                    {"slide", s.slide}};
    if (s.gapAtLeast) spacing["gapAtLeast"] = *s.gapAtLeast;
    if (s.gapAtMost) spacing["gapAtMost"] = *s.gapAtMost;
    return {{"id", r.id},
            {"name", r.name},
            {"colour", r.colour},
            {"path", r.path},
            {"part", r.part},
            {"spacing", spacing},
            {"facing",
             {{"nose", kNoses[int(r.facing.nose)]},
              {"crown", kCrowns[int(r.facing.crown)]},
              {"corner", kCorners[int(r.facing.corner)]},
              {"turn", vec(r.facing.turn)}}},
            {"leftOut", r.leftOut}};
}

/// Reading throws Problem (caught at the top) so that every value can say where it stands.
struct Reader {
    const AssetSource& asset;
    const MeshReader& mesh;

    [[noreturn]] static void fail(const std::string& where, const std::string& what) {
        throw Problem{"The file is damaged: " + where + " " + what + ".", ""};
    }
    static const Json& member(const Json& j, const std::string& where, const char* key) {
        if (!j.is_object() || !j.contains(key)) fail(where, std::string("has no \"") + key + "\"");
        return j.at(key);
    }
    static double number(const Json& j, const std::string& where, const char* key) {
        const Json& v = member(j, where, key);
        if (!v.is_number() || !std::isfinite(v.get<double>()))
            fail(where, std::string("needs a number for \"") + key + "\"");
        return v.get<double>();
    }
    static long whole(const Json& j, const std::string& where, const char* key) {
        const Json& v = member(j, where, key);
        if (!v.is_number_integer()) fail(where, std::string("needs a whole number for \"") + key + "\"");
        return v.get<long>();
    }
    static std::string word(const Json& j, const std::string& where, const char* key) {
        const Json& v = member(j, where, key);
        if (!v.is_string()) fail(where, std::string("needs a text for \"") + key + "\"");
        return v.get<std::string>();
    }
    template<size_t N>
    static int choice(const Json& j, const std::string& where, const char* key, const char* const (&words)[N]) {
        const std::string w = word(j, where, key);
        for (size_t i = 0; i < N; ++i)
            if (w == words[i]) return int(i);
        fail(where, "has \"" + w + "\" for \"" + key + "\", which is not known");
    }
    static Vec3 vector(const Json& j, const std::string& where) {
        if (!j.is_array() || j.size() != 3) fail(where, "needs three numbers for a point");
        Vec3 v;
        for (int i = 0; i < 3; ++i) {
            if (!j[i].is_number()) fail(where, "needs three numbers for a point");
            v[i] = j[i].get<double>();
        }
        return v;
    }
    static std::vector<double> numbers(const Json& j, const std::string& where) {
        if (!j.is_array()) fail(where, "needs a list of numbers");
        std::vector<double> out;
        for (const auto& v : j) {
            if (!v.is_number()) fail(where, "needs a list of numbers");
            out.push_back(v.get<double>());
        }
        return out;
    }
    static const Json& list(const Json& j, const std::string& where, const char* key) {
        const Json& v = member(j, where, key);
        if (!v.is_array()) fail(where, std::string("needs a list for \"") + key + "\"");
        return v;
    }

    static Segment segment(const Json& j, const std::string& where) {
        if (j.contains("line") && j["line"].is_array() && j["line"].size() == 2)
            return Line{vector(j["line"][0], where), vector(j["line"][1], where)};
        if (j.contains("bezier") && j["bezier"].is_array() && j["bezier"].size() == 4)
            return Bezier{{vector(j["bezier"][0], where), vector(j["bezier"][1], where), vector(j["bezier"][2], where),
                           vector(j["bezier"][3], where)}};
        if (j.contains("arc")) {
            const Json& a = j["arc"];
            return Arc{vector(member(a, where, "centre"), where), vector(member(a, where, "x"), where),
                       vector(member(a, where, "y"), where), number(a, where, "radius"), number(a, where, "sweep")};
        }
        if (j.contains("helix")) {
            const Json& h = j["helix"];
            return Helix{vector(member(h, where, "centre"), where),
                         vector(member(h, where, "x"), where),
                         vector(member(h, where, "y"), where),
                         number(h, where, "r0"),
                         number(h, where, "r1"),
                         number(h, where, "sweep"),
                         number(h, where, "rise")};
        }
        if (j.contains("catenary")) {
            const Json& k = j["catenary"];
            return Catenary{vector(member(k, where, "low"), where),
                            vector(member(k, where, "along"), where),
                            vector(member(k, where, "up"), where),
                            number(k, where, "a"),
                            number(k, where, "from"),
                            number(k, where, "to")};
        }
        if (j.contains("nurbs")) {
            const Json& n = j["nurbs"];
            Nurbs c;
            c.degree = int(whole(n, where, "degree"));
            c.knots = numbers(member(n, where, "knots"), where);
            c.weights = numbers(member(n, where, "weights"), where);
            for (const auto& p : list(n, where, "points")) c.points.push_back(vector(p, where));
            return c;
        }
        fail(where, "has a piece of a kind that is not known");
    }

    /// Reads what describe() hands out.
    struct Values {
        const Json& j;
        const std::string& where;
        void length(const char* key, const char*, const char*, double& v) const { v = number(j, where, key); }
        void angle(const char* key, const char*, const char*, double& v) const { v = number(j, where, key); }
        void number(const char* key, const char*, const char*, double& v) const { v = number(j, where, key); }
        static double number(const Json& o, const std::string& w, const char* key) { return Reader::number(o, w, key); }
        void count(const char* key, const char*, const char*, long& v) const { v = whole(j, where, key); }
        void flag(const char* key, const char*, const char*, bool& v) const {
            const Json& b = member(j, where, key);
            if (!b.is_boolean()) fail(where, std::string("needs true or false for \"") + key + "\"");
            v = b.get<bool>();
        }
        void point(const char* key, const char*, const char*, Vec3& v) const {
            v = vector(member(j, where, key), where);
        }
        template<class E>
        void choice(const char* key, const char*, const char*, E& v, std::initializer_list<const char*> words) const {
            const std::string w = word(j, where, key);
            for (size_t i = 0; i < words.size(); ++i)
                if (w == words.begin()[i]) {
                    v = E(i);
                    return;
                }
            fail(where, "has \"" + w + "\" for \"" + key + "\", which is not known");
        }
        void wheels(const char* key, std::vector<Wheel>& out) const {
            out.clear();
            for (const auto& w : list(j, where, key)) {
                Wheel wheel;
                wheel.name = word(w, where, "name");
                const auto c = numbers(member(w, where, "centre"), where);
                if (c.size() != 2) fail(where, "needs two numbers for a wheel's centre");
                wheel.centre = {c[0], c[1]};
                wheel.radius = number(w, where, "radius");
                wheel.teeth = whole(w, where, "teeth");
                wheel.inside = member(w, where, "inside").is_boolean() && w["inside"].get<bool>();
                out.push_back(std::move(wheel));
            }
        }
    };

    PathItem path(const Json& j, const std::string& where) const {
        PathItem p;
        p.id = int(whole(j, where, "id"));
        p.name = word(j, where, "name");
        if (j.contains("recipe")) {
            const Json& r = j["recipe"];
            const std::string kind = word(r, where, "kind");
            auto recipe = recipeOf(kind);
            if (!recipe || kind == "points" || kind == "curve")
                fail(where, "has a recipe \"" + kind + "\", which is not known");
            if (auto* d = std::get_if<DerivedRecipe>(&*recipe)) d->source = int(whole(r, where, "source"));
            if (auto* e = std::get_if<EdgesRecipe>(&*recipe)) e->part = int(whole(r, where, "part"));
            if (auto* m = std::get_if<JoinedRecipe>(&*recipe))
                for (const auto& id : list(r, where, "members")) {
                    if (!id.is_number_integer()) fail(where, "needs whole numbers for \"members\"");
                    m->members.push_back(id.get<int>());
                }
            describe(Values{r, where}, *recipe);
            p.recipe = std::move(*recipe);
            return p;
        }
        const bool closed = member(j, where, "closed").is_boolean() && j["closed"].get<bool>();
        if (j.contains("points")) {
            PointsRecipe r;
            r.closed = closed;
            r.knotting = Knotting(choice(j, where, "knotting", kKnottings));
            for (const auto& q : list(j, where, "points")) {
                const Json& smooth = member(q, where, "smooth");
                PathPoint point{vector(member(q, where, "at"), where), smooth.is_boolean() && smooth.get<bool>()};
                if (q.contains("fillet")) point.fillet = number(q, where, "fillet");
                if (q.contains("in")) point.in = vector(q["in"], where);
                if (q.contains("out")) point.out = vector(q["out"], where);
                if (q.contains("via")) point.via = vector(q["via"], where);
                r.points.push_back(point);
            }
            p.recipe = std::move(r);
        } else {
            BroughtCurve c;
            c.closed = closed;
            c.source = word(j, where, "source");
            for (const auto& s : list(j, where, "segments")) c.segments.push_back(segment(s, where));
            p.recipe = std::move(c);
        }
        return p;
    }

    PartItem part(const Json& j, const std::string& where) const {
        PartItem p;
        p.id = int(whole(j, where, "id"));
        p.name = word(j, where, "name");
        const Json& shape = member(j, where, "shape");
        const std::string kind = word(shape, where, "kind");
        if (kind == "baluster")
            p.shape =
                Baluster{number(shape, where, "width"), number(shape, where, "depth"), number(shape, where, "height")};
        else if (kind == "plank")
            p.shape =
                Plank{number(shape, where, "length"), number(shape, where, "width"), number(shape, where, "thickness")};
        else if (kind == "mesh") {
            BroughtMesh m;
            const std::string name = word(shape, where, "asset");
            m.source = word(shape, where, "source");
            m.scale = number(shape, where, "scale");
            m.extension = name.substr(name.find_last_of('.') + 1);
            const auto bytes = asset ? asset(name) : std::nullopt;
            if (!bytes) fail(where, "needs the file " + name + ", which is missing");
            m.bytes = std::make_shared<const std::string>(*bytes);
            if (!mesh) fail(where, "holds a mesh, and no reader for meshes was given");
            auto read = mesh(*bytes, m.extension, m.scale);
            if (!read) fail(where, "has a mesh that cannot be read: " + read.problem().text);
            m.mesh = *read;
            p.shape = std::move(m);
        } else
            fail(where, "has a shape \"" + kind + "\", which is not known");
        const Json& seat = member(j, where, "seat");
        const Json& point = member(seat, where, "point");
        if (point.contains("box")) {
            const Vec3 b = vector(point["box"], where);
            for (int i = 0; i < 3; ++i)
                if (b[i] != -1 && b[i] != 0 && b[i] != 1) fail(where, "has a box point that is not -1, 0 or 1");
            p.seat.point = BoxPoint{int(b.x()), int(b.y()), int(b.z())};
        } else
            p.seat.point = vector(member(point, where, "at"), where);
        p.seat.nose = Axis(choice(seat, where, "nose", kAxes));
        p.seat.crown = Axis(choice(seat, where, "crown", kAxes));
        return p;
    }

    RunItem run(const Json& j, const std::string& where) const {
        RunItem r;
        r.id = int(whole(j, where, "id"));
        r.name = word(j, where, "name");
        r.colour = int(whole(j, where, "colour"));
        r.path = int(whole(j, where, "path"));
        r.part = int(whole(j, where, "part"));
        const Json& s = member(j, where, "spacing");
        Spacing& o = r.spacing;
        o.rule = SpacingRule(choice(s, where, "rule", kRules));
        o.measure = Measure(choice(s, where, "measure", kMeasures));
        o.pitch = number(s, where, "pitch");
        o.leftOver = LeftOver(choice(s, where, "leftOver", kLeftOver));
        o.count = whole(s, where, "count");
        o.ends = ShareEnds(choice(s, where, "ends", kEnds));
        o.about = number(s, where, "about");
        o.insetStart = number(s, where, "insetStart");
        o.insetEnd = number(s, where, "insetEnd");
        o.slide = number(s, where, "slide");
        if (s.contains("gapAtLeast")) o.gapAtLeast = number(s, where, "gapAtLeast");
        if (s.contains("gapAtMost")) o.gapAtMost = number(s, where, "gapAtMost");
        const Json& f = member(j, where, "facing");
        r.facing = {NoseRule(choice(f, where, "nose", kNoses)), CrownRule(choice(f, where, "crown", kCrowns)),
                    CornerRule(choice(f, where, "corner", kCorners)), vector(member(f, where, "turn"), where)};
        for (const auto& n : list(j, where, "leftOut")) {
            if (!n.is_number_integer()) fail(where, "needs whole numbers in \"leftOut\"");
            r.leftOut.push_back(n.get<int>());
        }
        return r;
    }
};

} // namespace

std::string toJson(const Document& d) {
    Json paths = Json::array(), parts = Json::array(), runs = Json::array();
    for (const auto& p : d.paths) paths.push_back(pathJson(*p));
    for (const auto& p : d.parts) parts.push_back(partJson(*p));
    for (const auto& r : d.runs) runs.push_back(runJson(*r));
    const Json out = {{"format", "vicinal"}, {"version", kVersion}, {"units", "mm"},  {"shownIn", nameOf(d.unit)},
                      {"nextId", d.nextId},  {"paths", paths},      {"parts", parts}, {"runs", runs}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Document> fromJson(const std::string& text, const AssetSource& asset, const MeshReader& mesh) {
    try {
        const Json j = Json::parse(text);
        if (!j.is_object() || !j.contains("format") || j["format"] != "vicinal")
            return Problem{"This is not a Vicinal document: it does not say \"format\": \"vicinal\".", ""};
        const long version = Reader::whole(j, "the document", "version");
        if (version > kVersion)
            return Problem{"This document was saved by a newer Vicinal (format " + std::to_string(version) +
                               "; this one reads up to " + std::to_string(kVersion) +
                               "). Open it there, or update this program.",
                           ""};
        const Reader reader{asset, mesh};
        Document d;
        const auto unit = unitNamed(Reader::word(j, "the document", "shownIn"));
        if (!unit) return unit.problem();
        d.unit = *unit;
        d.nextId = int(Reader::whole(j, "the document", "nextId"));
        std::set<Id> ids;
        const auto each = [&](const char* key, auto&& add) {
            int n = 0;
            for (const auto& item : Reader::list(j, "the document", key)) {
                const std::string where = "item " + std::to_string(++n) + " of \"" + key + "\"";
                const Id id = int(Reader::whole(item, where, "id"));
                if (id < 1 || id >= d.nextId || !ids.insert(id).second)
                    Reader::fail(where, "has an id that is out of range or used twice");
                add(item, where);
            }
        };
        each("paths", [&](const Json& i, const std::string& w) {
            d.paths.push_back(std::make_shared<const PathItem>(reader.path(i, w)));
        });
        each("parts", [&](const Json& i, const std::string& w) {
            d.parts.push_back(std::make_shared<const PartItem>(reader.part(i, w)));
        });
        each("runs", [&](const Json& i, const std::string& w) {
            d.runs.push_back(std::make_shared<const RunItem>(reader.run(i, w)));
        });
        return d;
    } catch (const Problem& p) {
        return p;
    } catch (const Json::exception& e) {
        return Problem{std::string("The document is cut off or not JSON: ") + e.what() + ".", ""};
    }
}

std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> assetsOf(const Document& d) {
    std::vector<std::pair<std::string, std::shared_ptr<const std::string>>> out;
    for (const auto& p : d.parts)
        if (const auto* m = std::get_if<BroughtMesh>(&p->shape); m && m->bytes) {
            const std::string name = assetName(*m);
            if (std::none_of(out.begin(), out.end(), [&](const auto& a) { return a.first == name; }))
                out.emplace_back(name, m->bytes);
        }
    return out;
}

} // namespace vicinal
