#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/readers.h"
#include <assimp/IOSystem.hpp>
#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

namespace vicinal {
namespace {

class Watch : public Assimp::ProgressHandler {
public:
    Watch(const Stop* stop, Progress* progress) : m_stop(stop), m_progress(progress) {}
    bool Update(float share) override {
        if (m_progress && share >= 0) *m_progress = 0.7 * double(share);
        return !(m_stop && *m_stop);
    }

private:
    const Stop* m_stop;
    Progress* m_progress;
};

/// The file is in memory, and there is no other one: a name inside it, of a buffer, a material or a picture, is never
/// opened, wherever it leads.
class Alone : public Assimp::IOSystem {
public:
    explicit Alone(std::vector<std::string>& asked) : m_asked(&asked) {}
    bool Exists(const char* name) const override {
        m_asked->emplace_back(name);
        return false;
    }
    char getOsSeparator() const override { return '/'; }
    Assimp::IOStream* Open(const char* name, const char*) override {
        m_asked->emplace_back(name);
        return nullptr;
    }
    void Close(Assimp::IOStream*) override {}

private:
    std::vector<std::string>* m_asked;
};

void collect(const aiScene& scene, const aiNode& node, const aiMatrix4x4& above, const Mat3& axes, double scale,
             Mesh& out) {
    const aiMatrix4x4 m = above * node.mTransformation;
    const bool over = m.Determinant() < 0; // a mirroring node
    for (unsigned k = 0; k < node.mNumMeshes; ++k) {
        const aiMesh& mesh = *scene.mMeshes[node.mMeshes[k]];
        const auto first = std::uint32_t(out.points.size());
        for (unsigned i = 0; i < mesh.mNumVertices; ++i) {
            const aiVector3D v = m * mesh.mVertices[i];
            out.points.push_back(axes * Vec3(v.x, v.y, v.z) * scale);
        }
        for (unsigned i = 0; i < mesh.mNumFaces; ++i)
            if (const aiFace& f = mesh.mFaces[i]; f.mNumIndices == 3)
                out.triangles.push_back(
                    {first + f.mIndices[0], first + f.mIndices[over ? 2 : 1], first + f.mIndices[over ? 1 : 2]});
    }
    for (unsigned k = 0; k < node.mNumChildren; ++k) collect(scene, *node.mChildren[k], m, axes, scale, out);
}

unsigned mostCorners(const aiScene& scene) {
    unsigned most = 0;
    for (unsigned k = 0; k < scene.mNumMeshes; ++k)
        for (unsigned i = 0; i < scene.mMeshes[k]->mNumFaces; ++i)
            most = std::max(most, scene.mMeshes[k]->mFaces[i].mNumIndices);
    return most;
}

/// What is wrong before the reader sees it: it says little, and takes cut-off files as far as they go.
std::optional<Problem> defectOf(const std::string& bytes, const std::string& extension) {
    const auto cut = [](const std::string& what) {
        return Problem{Words("the file is cut off: ") + what + ". Get it again.", "file"};
    };
    if (bytes.empty()) return Problem{"the file is empty. Get it again.", "file"};
    const std::string kind = kindByContent(bytes);
    const bool gltf = extension == "gltf" || extension == "glb";
    if (!kind.empty() && kind != extension && !(kind == "gltf" && gltf) && !(kind == "obj" && extension != "stl"))
        return Problem{Words("by its content this is a file of the kind .") + kind + ", not ." + extension +
                           ". Rename it and bring it in again.",
                       "file"};
    if (extension == "glb" && here::wordAt(bytes, 8) > bytes.size())
        return cut("it says " + std::to_string(here::wordAt(bytes, 8)) + " bytes and holds " +
                   std::to_string(bytes.size()));
    const bool text = bytes.starts_with("solid") && bytes.find("facet") != std::string::npos;
    if (extension == "stl" && text && bytes.rfind("endsolid") == std::string::npos)
        return cut("its end (endsolid) is missing");
    if (extension == "stl" && !text) {
        if (bytes.size() < 84) return cut("it is shorter than its heading");
        const std::uint64_t n = here::wordAt(bytes, 80), holds = (bytes.size() - 84) / 50;
        if (holds < n) return cut("it says " + std::to_string(n) + " triangles and holds " + std::to_string(holds));
    }
    if (extension == "ply") {
        const size_t end = bytes.find("end_header"), v = bytes.find("element vertex"), f = bytes.find("element face");
        if (end == std::string::npos) return cut("its heading has no end");
        const auto number = [&](size_t at, size_t skip) {
            return at == std::string::npos ? 0ul : std::strtoul(bytes.c_str() + at + skip, nullptr, 10);
        };
        const size_t vertices = number(v, 14), faces = number(f, 12);
        if (bytes.find("format ascii") < end) {
            const size_t lines =
                size_t(std::count(bytes.begin() + long(end), bytes.end(), '\n')) + (bytes.back() == '\n' ? 0 : 1);
            if (lines < vertices + faces + 1)
                return cut("it says " + std::to_string(vertices + faces) + " lines and holds " +
                           std::to_string(lines - 1));
        } else if (bytes.size() - end < vertices * 12 + faces * 4)
            return cut("it says " + std::to_string(vertices) + " points and is too short for them");
    }
    return std::nullopt;
}

} // namespace

std::string kindByContent(const std::string& bytes) {
    const std::string head = bytes.substr(0, 2000);
    const auto first = head.find_first_not_of(" \t\r\n\xef\xbb\xbf");
    if (first == std::string::npos) return {};
    const std::string_view text = std::string_view(head).substr(first);
    if (text.starts_with("ISO-10303-21")) return "step";
    if (head.starts_with("glTF")) return "glb";
    if (text.starts_with("ply\n") || text.starts_with("ply\r")) return "ply";
    if (text.starts_with("solid") && bytes.find("facet", first) < 4000) return "stl";
    if (text.starts_with("{") && head.find("\"asset\"") != std::string::npos) return "gltf";
    if (text.find("<svg") != std::string_view::npos) return "svg";
    if (text.starts_with("0\n") || text.starts_with("0\r\n") || text.starts_with("999")) {
        if (text.find("SECTION") != std::string_view::npos) return "dxf";
    }
    if (bytes.size() >= 84 && bytes.size() == 84 + std::uint64_t(here::wordAt(bytes, 80)) * 50) return "stl";
    for (const char* line : {"v ", "o ", "mtllib "}) // after comments
        if (text.starts_with(line) ||
            (text.starts_with("#") && text.find(std::string("\n") + line) != std::string_view::npos))
            return "obj";
    return {};
}

Result<std::shared_ptr<const Mesh>> here::readMesh(const std::string& bytes, const std::string& extension, double unit,
                                                   MeshReport* report, const Stop* stop, Progress* progress) {
    if (!(unit > 0) || !std::isfinite(unit)) return Problem{"The unit of the file is not known. Choose one.", "unit"};
    if (extension != "obj" && extension != "stl" && extension != "ply" && extension != "glb" && extension != "gltf")
        return Problem{Words("Meshes are read from .obj, .stl, .ply, .glb and .gltf, not from .") + extension + ".",
                       "file"};
    if (auto p = defectOf(bytes, extension)) return *p;
    if (auto p = here::tooMuch(bytes, extension)) return *p;
    Assimp::Importer importer;
    importer.SetProgressHandler(new Watch(stop, progress)); // the importer deletes it
    std::vector<std::string> asked;
    importer.SetIOHandler(new Alone(asked)); // the importer deletes it
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    const aiScene* scene = importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, extension.c_str());
    if (stop && *stop) return cancelled();
    if (const unsigned most = scene ? mostCorners(*scene) : 0; most > here::kMostCorners)
        return Problem{"it has a face of " + say::count(most) + " corners; the most is " +
                           say::count(here::kMostCorners) +
                           ". Save it as triangles, or bring its outline in as curves (DXF, SVG).",
                       "file"};
    if (scene) scene = importer.ApplyPostProcessing(aiProcess_Triangulate | aiProcess_SortByPType);
    if (stop && *stop) return cancelled();
    if ((!scene || !scene->mRootNode) && (extension == "glb" || extension == "gltf") && !asked.empty())
        return Problem{"its shape stands in another file, " + text::quoted(asked.front()) +
                           ", and only the one you choose is read. Save it as one file (.glb) and bring that in.",
                       "file"};
    if (!scene || !scene->mRootNode) {
        const std::string why = importer.GetErrorString();
        return Problem{why.find("No meshes") != std::string::npos || why.empty()
                           ? "The mesh has no triangles. Bring in a file with faces, not only points or lines."
                           : "The mesh cannot be read: " + text::quoted(why) + ".",
                       "file"};
    }
    Mat3 axes = Mat3::Identity();
    if (extension == "glb" || extension == "gltf") axes << 1, 0, 0, 0, 0, -1, 0, 1, 0; // their y is up
    Mesh mesh;
    collect(*scene, *scene->mRootNode, aiMatrix4x4(), axes, unit, mesh);
    if (progress) *progress = 0.8;
    auto clean = cleaned(std::move(mesh), report);
    if (progress) *progress = 1;
    if (!clean) return Problem{clean.problem().text, "file"};
    return std::make_shared<const Mesh>(std::move(clean).value());
}

double lostDigits(const Mesh& mesh) {
    return std::max(mesh.box.min().cwiseAbs().maxCoeff(), mesh.box.max().cwiseAbs().maxCoeff()) / (1 << 24);
}

} // namespace vicinal
