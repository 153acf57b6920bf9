// What a mesh file would grow to, before a library makes it.
#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/readers.h"
#include "model/recipes/part_shape.h"
#include <algorithm>
#include <cstring>
#include <nlohmann/json.hpp>

namespace vicinal::here {
namespace {

using Json = nlohmann::json;

/// The scene's description: all of a .gltf, the first chunk of a .glb. Broken ones are null: the reader says why.
Json descriptionOf(const std::string& bytes, const std::string& extension) {
    if (extension == "gltf") return Json::parse(bytes, nullptr, false);
    const size_t size = wordAt(bytes, 12);
    if (bytes.size() < 20 || size > bytes.size() - 20) return nullptr;
    return Json::parse(bytes.begin() + 20, bytes.begin() + 20 + long(size), nullptr, false);
}

size_t numberIn(const Json& j, const char* key, size_t otherwise) {
    const auto found = j.find(key);
    return found != j.end() && found->is_number_unsigned() ? found->get<size_t>() : otherwise;
}

/// Goes through the nodes as the reader will: a node that hangs under several is made several times.
class Scene {
public:
    explicit Scene(const Json& j)
        : m_nodes(listOf(j, "nodes")), m_scenes(listOf(j, "scenes")), m_of(m_nodes.size(), kNotYet),
          m_all(m_nodes.size()) {
        const Json &meshes = listOf(j, "meshes"), &accessors = listOf(j, "accessors");
        for (const Json& mesh : meshes) {
            double sum = 0;
            for (const Json& p : listOf(mesh, "primitives")) {
                if (!p.is_object()) continue;
                const auto points = p.find("attributes");
                const size_t none = accessors.size(), by = numberIn(p, "indices",
                                                                    points != p.end() && points->is_object()
                                                                        ? numberIn(*points, "POSITION", none)
                                                                        : none);
                if (by < none && accessors[by].is_object()) sum += double(numberIn(accessors[by], "count", 0)) / 3;
            }
            m_meshes.push_back(sum);
        }
    }
    double triangles = 0, nodes = 0;
    bool circle = false, deep = false;

    void count() {
        for (size_t i = 0; i < m_nodes.size(); ++i) visit(i, 0);
        // The largest scene counts; without one, all that hangs under nothing.
        for (const Json& scene : m_scenes) total(listed(scene, "nodes"));
        if (!m_scenes.empty()) return;
        std::vector<bool> under(m_nodes.size());
        for (const Json& n : m_nodes)
            for (size_t c : listed(n, "children")) under[c] = true;
        std::vector<size_t> roots;
        for (size_t i = 0; i < m_nodes.size(); ++i)
            if (!under[i]) roots.push_back(i);
        total(roots);
    }

private:
    static constexpr int kNotYet = 0, kOpen = 1, kDone = 2;
    static constexpr size_t kDeepest = 1000; ///< the readers go down by calling themselves
    static const Json& listOf(const Json& j, const char* key) {
        static const Json none = Json::array();
        if (!j.is_object()) return none;
        const auto found = j.find(key);
        return found != j.end() && found->is_array() ? *found : none;
    }
    struct Below {
        double nodes = 0, triangles = 0;
        size_t deep = 0;
    };
    void total(const std::vector<size_t>& roots) {
        double nodesHere = 0, here = 0;
        for (size_t i : roots) nodesHere += m_all[i].nodes, here += m_all[i].triangles;
        nodes = std::max(nodes, nodesHere);
        triangles = std::max(triangles, here);
    }
    std::vector<size_t> listed(const Json& of, const char* key) const {
        std::vector<size_t> out;
        for (const Json& c : listOf(of, key))
            if (c.is_number_unsigned() && c.get<size_t>() < m_nodes.size()) out.push_back(c.get<size_t>());
        return out;
    }
    void visit(size_t i, size_t depth) {
        if (depth > kDeepest) {
            deep = true;
            return;
        }
        if (m_of[i] == kOpen) circle = true;
        if (m_of[i] != kNotYet) return;
        m_of[i] = kOpen;
        Below all{1, 0, 1};
        if (m_nodes[i].is_object())
            if (const size_t mesh = numberIn(m_nodes[i], "mesh", m_meshes.size()); mesh < m_meshes.size())
                all.triangles = m_meshes[mesh];
        for (size_t c : listed(m_nodes[i], "children")) {
            visit(c, depth + 1);
            all.nodes += m_all[c].nodes;
            all.triangles += m_all[c].triangles;
            all.deep = std::max(all.deep, m_all[c].deep + 1); // those listed first are known by now
        }
        if (all.deep > kDeepest) deep = true;
        m_all[i] = all;
        m_of[i] = kDone;
    }

    const Json &m_nodes, &m_scenes;
    std::vector<int> m_of;
    std::vector<double> m_meshes;
    std::vector<Below> m_all; ///< from this one down, itself too
};

} // namespace

std::uint32_t wordAt(const std::string& bytes, size_t at) {
    std::uint32_t v = 0;
    if (at + 4 <= bytes.size()) std::memcpy(&v, bytes.data() + at, 4);
    return v;
}

std::optional<Problem> tooMuch(const std::string& bytes, const std::string& extension) {
    if (extension != "gltf" && extension != "glb") return std::nullopt;
    const Json j = descriptionOf(bytes, extension);
    if (!j.is_object()) return std::nullopt;
    Scene scene(j);
    scene.count();
    const auto wrong = [](const std::string& what, const std::string& remedy) {
        return Problem{say::value(what) + " " + remedy, "file"};
    };
    if (scene.circle) return wrong("a node of the scene stands under itself.", "Save it anew where it was made.");
    if (scene.deep)
        return wrong("its nodes stand more than 1000 deep under one another.", "Join them where it was made.");
    constexpr double kMostNodes = 200'000;
    const auto about = [](double n) {
        if (n < 1e15) return text::number(n, 0);
        return std::string("more than 10^15");
    };
    if (scene.nodes > kMostNodes)
        return wrong("its nodes hang under several others, and make " + about(scene.nodes) + " together; the most is " +
                         text::number(kMostNodes, 0) + ".",
                     "Give every node one place, or join them where it was made.");
    if (scene.triangles > double(kMostTriangles))
        return wrong("all its nodes together make " + about(scene.triangles) + " triangles; the most is " +
                         std::to_string(kMostTriangles) + ".",
                     "Bring in one of its bodies, and repeat it here by a run.");
    return std::nullopt;
}

} // namespace vicinal::here
