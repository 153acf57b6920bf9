#include "exchange/bring_in.h"
#include "layout/text.h"
#include "model/document_file.h"
#include <assimp/Importer.hpp>
#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>

namespace vicinal {
namespace {

void collect(const aiScene& scene, const aiNode& node, const aiMatrix4x4& above, double scale, Mesh& out) {
    const aiMatrix4x4 m = above * node.mTransformation;
    for (unsigned k = 0; k < node.mNumMeshes; ++k) {
        const aiMesh& mesh = *scene.mMeshes[node.mMeshes[k]];
        const auto first = std::uint32_t(out.points.size());
        for (unsigned i = 0; i < mesh.mNumVertices; ++i) {
            const aiVector3D v = m * mesh.mVertices[i];
            out.points.push_back(Vec3(v.x, v.y, v.z) * scale);
        }
        for (unsigned i = 0; i < mesh.mNumFaces; ++i)
            if (const aiFace& f = mesh.mFaces[i]; f.mNumIndices == 3)
                out.triangles.push_back({first + f.mIndices[0], first + f.mIndices[1], first + f.mIndices[2]});
    }
    for (unsigned k = 0; k < node.mNumChildren; ++k) collect(scene, *node.mChildren[k], m, scale, out);
}

} // namespace

Result<std::shared_ptr<const Mesh>> readMesh(const std::string& bytes, const std::string& extension, double unit) {
    if (!(unit > 0) || !std::isfinite(unit)) return Problem{"The unit of the file is not known. Choose one.", "unit"};
    if (extension != "obj" && extension != "stl" && extension != "ply")
        return Problem{"Meshes are read from .obj, .stl and .ply, not from ." + extension + ".", "file"};
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    const aiScene* scene = importer.ReadFileFromMemory(
        bytes.data(), bytes.size(), aiProcess_Triangulate | aiProcess_SortByPType, extension.c_str());
    if (!scene || !scene->mRootNode) {
        const std::string why = importer.GetErrorString();
        return Problem{why.find("No meshes") != std::string::npos || why.empty()
                           ? "The mesh has no triangles. Bring in a file with faces, not only points or lines."
                           : "The mesh cannot be read: " + why + ".",
                       "file"};
    }
    Mesh mesh;
    collect(*scene, *scene->mRootNode, aiMatrix4x4(), unit, mesh);
    auto clean = cleaned(std::move(mesh));
    if (!clean) return Problem{clean.problem().text, "file"};
    return std::make_shared<const Mesh>(std::move(clean).value());
}

double lostDigits(const Mesh& mesh) {
    return std::max(mesh.box.min().cwiseAbs().maxCoeff(), mesh.box.max().cwiseAbs().maxCoeff()) / (1 << 24);
}

Result<PartItem> bringInPart(const std::filesystem::path& path, double unit) {
    auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    std::string extension = path.extension().string();
    if (!extension.empty()) extension.erase(0, 1);
    for (char& c : extension) c = char(std::tolower(static_cast<unsigned char>(c)));
    auto mesh = readMesh(*bytes, extension, unit);
    if (!mesh) return Problem{path.filename().string() + ": " + mesh.problem().text, mesh.problem().field};
    PartItem item;
    item.name = path.stem().string();
    item.shape = BroughtMesh{*mesh, path.filename().string(),
                             std::make_shared<const std::string>(std::move(bytes).value()), extension, unit};
    return item;
}

} // namespace vicinal
