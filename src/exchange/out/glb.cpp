#include "exchange/out/send_out.h"
#include "model/evaluate/motion/moving.h"
#include <cstring>
#include <map>
#include <nlohmann/json.hpp>

// Written here and not by the mesh library: node translations stay double, names stay, and a place costs one line.
namespace vicinal {
namespace {

using Json = nlohmann::ordered_json;

/// z up, millimetres -> y up, metres.
Vec3 turned(const Vec3& v) { return Vec3(v.x(), v.z(), -v.y()); }

void append(std::string& bytes, const void* data, size_t n) { bytes.append(static_cast<const char*>(data), n); }

void appendWord(std::string& bytes, std::uint32_t v) { append(bytes, &v, 4); }

struct Buffers {
    std::string bytes;
    Json views = Json::array(), accessors = Json::array();

    int add(const std::string& data, int target, int componentType, size_t count, const char* type,
            const Json& bounds = {}) {
        while (bytes.size() % 4) bytes += '\0';
        views.push_back({{"buffer", 0}, {"byteOffset", bytes.size()}, {"byteLength", data.size()}});
        if (target) views.back()["target"] = target;
        bytes += data;
        Json a = {{"bufferView", views.size() - 1}, {"componentType", componentType}, {"count", count}, {"type", type}};
        for (const auto& [key, value] : bounds.items()) a[key] = value;
        accessors.push_back(a);
        return int(accessors.size()) - 1;
    }
};

/// Flat-shaded triangles from the seat point, in metres.
Json primitive(const Mesh& mesh, const Vec3& seat, int material, Buffers& buffers) {
    std::string positions, normals;
    float lo[3] = {1e30f, 1e30f, 1e30f}, hi[3] = {-1e30f, -1e30f, -1e30f};
    size_t count = 0;
    for (const auto& t : mesh.triangles) {
        const Vec3 a = mesh.points[t[0]], b = mesh.points[t[1]], c = mesh.points[t[2]];
        const Vec3 cross = (b - a).cross(c - a);
        if (cross.norm() < tolerance::fine) continue;
        const Vec3 n = turned(cross.normalized());
        for (const Vec3& p : {a, b, c}) {
            const Vec3 m = turned(p - seat) / 1000;
            for (int i = 0; i < 3; ++i) {
                const float v = float(m[i]), w = float(n[i]);
                lo[i] = std::min(lo[i], v);
                hi[i] = std::max(hi[i], v);
                append(positions, &v, 4);
                append(normals, &w, 4);
            }
            ++count;
        }
    }
    const int p = buffers.add(positions, 34962, 5126, count, "VEC3",
                              {{"min", {lo[0], lo[1], lo[2]}}, {"max", {hi[0], hi[1], hi[2]}}});
    const int n = buffers.add(normals, 34962, 5126, count, "VEC3");
    return {{"attributes", {{"POSITION", p}, {"NORMAL", n}}}, {"material", material}};
}

/// Where a node stands: metres and y up.
struct Stand {
    Vec3 at;
    Quat q;
};
Stand standOf(const Instances& all, size_t i) {
    const Frame& f = all.frame(i);
    return {turned(f.seat) / 1000, Quat(Mat3(f.axes * all.poses->usedSlots[all.slot(i)].turn))};
}

/// A node that moves: which body of what.
struct Moving {
    size_t node, of, body;
};

/// One animation: for every node its way and its turning, key by key.
Json animationOf(const Film& film, const std::vector<Moving>& nodes, Buffers& buffers) {
    const size_t n = film.frames.size();
    std::string times;
    for (size_t k = 0; k < n; ++k) {
        const auto t = float(film.step * double(k));
        append(times, &t, 4);
    }
    const int input =
        buffers.add(times, 0, 5126, n, "SCALAR", {{"min", {0.0f}}, {"max", {float(film.step * double(n - 1))}}});
    Json samplers = Json::array(), channels = Json::array();
    for (const Moving& m : nodes) {
        std::string ways, turns;
        const bool wheel = film.frames[0][m.of]->kind == Standing::Kind::Wheels;
        Quat before = Quat::Identity();
        for (size_t k = 0; k < n; ++k) {
            Stand s = standOf(*film.frames[k][m.of]->instances, m.body);
            if (k > 0 && s.q.dot(before) < 0) s.q.coeffs() *= -1; // the short way round
            before = s.q;
            const Vec3 v = turned(s.q.vec());
            for (double x : {s.at.x(), s.at.y(), s.at.z()}) {
                const auto f = float(x);
                append(ways, &f, 4);
            }
            for (double x : {v.x(), v.y(), v.z(), s.q.w()}) {
                const auto f = float(x);
                append(turns, &f, 4);
            }
        }
        for (const auto& [data, type, path] :
             {std::tuple{&ways, "VEC3", "translation"}, {&turns, "VEC4", "rotation"}}) {
            if (wheel && path == std::string("translation")) continue; // it turns where it stands
            samplers.push_back(
                {{"input", input}, {"output", buffers.add(*data, 0, 5126, n, type)}, {"interpolation", "LINEAR"}});
            channels.push_back({{"sampler", samplers.size() - 1}, {"target", {{"node", m.node}, {"path", path}}}});
        }
    }
    return {{"name", "Motion"}, {"samplers", samplers}, {"channels", channels}};
}

} // namespace

std::string glb(const Standings& own, const Film* film) {
    const Standings all = withWheels(own);
    std::vector<Moving> moving;
    Buffers buffers;
    Json nodes = Json::array(), meshes = Json::array(), materials = Json::array(), roots = Json::array();
    std::map<Id, int> meshOfPart;
    std::map<const Mesh*, int> meshOfWheel;
    const auto meshOf = [&](const PlacedPart& part) -> int& {
        return part.id != 0 ? meshOfPart.try_emplace(part.id, -1).first->second
                            : meshOfWheel.try_emplace(part.mesh.get(), -1).first->second;
    };
    const auto addMesh = [&](const std::string& name, const Mesh& mesh, const Vec3& origin) {
        const double grey = 0.35 + 0.12 * double(meshes.size() % 4);
        materials.push_back(
            {{"name", name},
             {"pbrMetallicRoughness",
              {{"baseColorFactor", {grey, grey, grey, 1.0}}, {"metallicFactor", 0.0}, {"roughnessFactor", 0.8}}}});
        meshes.push_back({{"name", name},
                          {"primitives", Json::array({primitive(mesh, origin, int(materials.size()) - 1, buffers)})}});
        return int(meshes.size()) - 1;
    };
    bool moves = false;
    for (size_t k = 0; k < all.size(); ++k) {
        const Standing& of = *all[k];
        const bool wheels = of.kind == Standing::Kind::Wheels; // they turn with the run before them
        if (!wheels) moves = film && of.asRun() && speedOf(*of.asRun()) != 0;
        for (const PlacedPart& part : *of.placedParts)
            if (int& mesh = meshOf(part); mesh < 0)
                mesh = addMesh(part.name, *part.mesh, seatPoint(part.seat, part.mesh->box));
        Json children = Json::array();
        of.eachInstance([&](const Instance& i) {
            const auto [at, q] = standOf(i.all, i.body);
            const Vec3 v = turned(q.vec());
            const std::string number = of.name + " " + std::to_string(i.place + 1);
            nodes.push_back({{"name", wheels  ? i.part.name
                                      : i.own ? number
                                              : number + " " + i.part.name},
                             {"mesh", meshOf(i.part)},
                             {"translation", {at.x(), at.y(), at.z()}},
                             {"rotation", {v.x(), v.y(), v.z(), q.w()}}});
            if (const double size = i.size(); size != 1) nodes.back()["scale"] = {size, size, size};
            if (moves) moving.push_back({nodes.size() - 1, k, i.body});
            children.push_back(nodes.size() - 1);
        });
        Json node = {{"name", of.name}};
        if (!children.empty()) node["children"] = children;
        nodes.push_back(node);
        roots.push_back(nodes.size() - 1);
    }
    Json animation;
    if (!moving.empty()) animation = animationOf(*film, moving, buffers);
    while (buffers.bytes.size() % 4) buffers.bytes += '\0';
    Json root = {{"asset", {{"version", "2.0"}, {"generator", "Vicinal"}}},
                 {"scene", 0},
                 {"scenes", {{{"name", "Vicinal"}, {"nodes", roots}}}},
                 {"nodes", nodes}};
    if (!animation.is_null()) root["animations"] = Json::array({animation});
    if (!meshes.empty()) {
        root["meshes"] = meshes;
        root["materials"] = materials;
        root["accessors"] = buffers.accessors;
        root["bufferViews"] = buffers.views;
        root["buffers"] = {{{"byteLength", buffers.bytes.size()}}};
    }
    std::string json = root.dump(-1, ' ', false, Json::error_handler_t::replace);
    while (json.size() % 4) json += ' ';
    std::string out = "glTF";
    appendWord(out, 2);
    appendWord(out, std::uint32_t(12 + 8 + json.size() + (meshes.empty() ? 0 : 8 + buffers.bytes.size())));
    appendWord(out, std::uint32_t(json.size()));
    out += "JSON" + json;
    if (!meshes.empty()) {
        appendWord(out, std::uint32_t(buffers.bytes.size()));
        out += std::string("BIN\0", 4) + buffers.bytes;
    }
    return out;
}

} // namespace vicinal
