#include "exchange/out/send_out.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/evaluate/bodies/wheel_bodies.h"
#include "model/evaluate/moving.h"
#include <cstring>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

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
        if (cross.norm() < 1e-12) continue;
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
Stand standOf(const Placed& p, size_t i) {
    return {turned(p.frame(i).seat) / 1000, Quat(Mat3(p.frame(i).axes * p.laid->usedSlots[p.laid->slot[i]].turn))};
}
Stand standOf(const RunResult& run, const WheelPlaced& w) {
    const Mat4 pose = w.pose(phaseIn(run, w).value_or(0));
    return {turned(pose.topRightCorner<3, 1>()) / 1000, Quat(Mat3(pose.topLeftCorner<3, 3>()))};
}

/// A node that moves: of which run, and which place or wheel of it.
struct Moving {
    size_t node, run;
    bool wheel;
    size_t index;
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
        Quat before = Quat::Identity();
        for (size_t k = 0; k < n; ++k) {
            const RunResult& run = *film.frames[k][m.run];
            Stand s = m.wheel ? standOf(run, run.path->wheels[m.index]) : standOf(*run.placed, m.index);
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
            if (m.wheel && path == std::string("translation")) continue; // it turns where it stands
            samplers.push_back(
                {{"input", input}, {"output", buffers.add(*data, 0, 5126, n, type)}, {"interpolation", "LINEAR"}});
            channels.push_back({{"sampler", samplers.size() - 1}, {"target", {{"node", m.node}, {"path", path}}}});
        }
    }
    return {{"name", "Motion"}, {"samplers", samplers}, {"channels", channels}};
}

} // namespace

std::string glb(const Runs& runs, const Film* film) {
    std::vector<Moving> moving;
    Buffers buffers;
    Json nodes = Json::array(), meshes = Json::array(), materials = Json::array(), roots = Json::array();
    std::map<Id, int> meshOfPart;
    std::map<const Mesh*, int> meshOfWheel;
    std::set<Id> loops; // whose wheels stand already
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
    for (size_t r = 0; r < runs.size(); ++r) {
        const auto& run = runs[r];
        const bool moves = film && speedOf(*run) != 0;
        const Placed& p = *run->placed;
        for (const auto& part : p.parts) {
            if (meshOfPart.count(part.id)) continue;
            meshOfPart[part.id] = addMesh(part.name, *part.mesh, seatPoint(part.seat, part.mesh->box));
        }
        Json children = Json::array();
        for (size_t i = 0; i < p.bodies(); ++i) {
            if (p.leftOut(i)) continue;
            const auto [at, q] = standOf(p, i);
            const double size = p.laid->size[i];
            const Vec3 v = turned(q.vec());
            const std::string under = i < p.count() ? std::string() : " " + p.part(i).name;
            nodes.push_back({{"name", run->item->name + " " + std::to_string(p.placeOf(i) + 1) + under},
                             {"mesh", meshOfPart[p.part(i).id]},
                             {"translation", {at.x(), at.y(), at.z()}},
                             {"rotation", {v.x(), v.y(), v.z(), q.w()}}});
            if (size != 1) nodes.back()["scale"] = {size, size, size};
            if (moves) moving.push_back({nodes.size() - 1, r, false, i});
            children.push_back(nodes.size() - 1);
        }
        Json node = {{"name", run->item->name}};
        if (!children.empty()) node["children"] = children;
        nodes.push_back(node);
        roots.push_back(nodes.size() - 1);
        if (!run->path || run->path->wheels.empty() || !loops.insert(run->path->item->id).second) continue;
        Json wheels = Json::array();
        for (const WheelPlaced& w : run->path->wheels) { // turned as this run's chain wants them
            if (!meshOfWheel.count(w.mesh.get())) meshOfWheel[w.mesh.get()] = addMesh(w.name, *w.mesh, Vec3::Zero());
            const auto [at, q] = standOf(*run, w);
            const Vec3 v = turned(q.vec());
            nodes.push_back({{"name", w.name},
                             {"mesh", meshOfWheel[w.mesh.get()]},
                             {"translation", {at.x(), at.y(), at.z()}},
                             {"rotation", {v.x(), v.y(), v.z(), q.w()}}});
            wheels.push_back(nodes.size() - 1);
            if (moves) moving.push_back({nodes.size() - 1, r, true, size_t(&w - run->path->wheels.data())});
        }
        nodes.push_back({{"name", run->path->item->name + " wheels"}, {"children", wheels}});
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
