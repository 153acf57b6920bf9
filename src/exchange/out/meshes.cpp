// What stands there as triangles: OBJ, STL, PLY; mm, z up, every body where it stands.
#include "exchange/out/meshes.h"
#include "base/say.h"
#include "base/text.h"
#include <algorithm>
#include <cstring>

namespace vicinal {
namespace {

struct Counts {
    size_t points = 0, triangles = 0;
};
Counts countsOf(const std::vector<MeshAt>& all) {
    Counts out;
    for (const MeshAt& m : all) {
        out.points += m.mesh->points.size();
        out.triangles += m.mesh->triangles.size();
    }
    return out;
}
Vec3 at(const Mat4& pose, const Vec3& p) { return pose.topLeftCorner<3, 3>() * p + pose.topRightCorner<3, 1>(); }

template<class T> void append(std::string& out, const T& v) {
    char bytes[sizeof v];
    std::memcpy(bytes, &v, sizeof v);
    out.append(bytes, sizeof v);
}
void append(std::string& out, const Vec3& v) {
    for (int k = 0; k < 3; ++k) append(out, float(v[k]));
}

std::string oneLine(std::string s) {
    for (char& c : s)
        if (static_cast<unsigned char>(c) < 0x20) c = ' ';
    return s;
}

std::string objOf(const std::vector<MeshAt>& all) {
    std::string out = "# Vicinal; mm, z up\n";
    size_t base = 1;
    for (const auto& [name, mesh, pose, part] : all) {
        const Mesh& m = *mesh;
        out += "o " + oneLine(name) + "\n";
        for (const Vec3& p : m.points) {
            const Vec3 q = at(pose, p);
            out += "v " + text::fixed(q.x(), 6) + " " + text::fixed(q.y(), 6) + " " + text::fixed(q.z(), 6) + "\n";
        }
        for (const auto& t : m.triangles)
            out += "f " + std::to_string(base + t[0]) + " " + std::to_string(base + t[1]) + " " +
                   std::to_string(base + t[2]) + "\n";
        base += m.points.size();
    }
    return out;
}

std::string stlOf(const std::vector<MeshAt>& all) {
    std::string out = "Vicinal, binary STL; mm, z up";
    out.resize(80, ' ');
    const Counts n = countsOf(all);
    out.reserve(84 + 50 * n.triangles);
    append(out, std::uint32_t(n.triangles));
    for (const auto& [name, mesh, pose, part] : all) {
        const Mesh& m = *mesh;
        for (const auto& t : m.triangles) {
            const Vec3 a = at(pose, m.points[t[0]]), b = at(pose, m.points[t[1]]), c = at(pose, m.points[t[2]]);
            append(out, Vec3((b - a).cross(c - a).stableNormalized()));
            for (const Vec3& p : {a, b, c}) append(out, p);
            append(out, std::uint16_t(0));
        }
    }
    return out;
}

std::string plyOf(const std::vector<MeshAt>& all) {
    const Counts n = countsOf(all);
    std::string out = "ply\nformat binary_little_endian 1.0\ncomment Vicinal; mm, z up\nelement vertex " +
                      std::to_string(n.points) +
                      "\nproperty double x\nproperty double y\nproperty double z\nelement face " +
                      std::to_string(n.triangles) + "\nproperty list uchar int vertex_indices\nend_header\n";
    for (const auto& [name, mesh, pose, part] : all) {
        const Mesh& m = *mesh;
        for (const Vec3& p : m.points) {
            const Vec3 q = at(pose, p);
            for (int k = 0; k < 3; ++k) append(out, q[k]);
        }
    }
    std::int32_t base = 0;
    for (const auto& [name, mesh, pose, part] : all) {
        const Mesh& m = *mesh;
        for (const auto& t : m.triangles) {
            append(out, std::uint8_t(3));
            for (auto k : t) append(out, std::int32_t(base + std::int32_t(k)));
        }
        base += std::int32_t(m.points.size());
    }
    return out;
}

} // namespace

std::vector<MeshAt> bodiesOf(const Standings& all) {
    std::vector<MeshAt> out, wheels; // these last
    for (const auto& s : withWheels(all)) {
        const bool loop = s->kind == Standing::Kind::Wheels;
        s->eachInstance([&](const Instance& i) {
            const std::string under = i.own ? std::string() : " " + i.part.name;
            const std::string name = loop ? i.part.name : s->name + " " + std::to_string(i.place + 1) + under;
            // The parts are kept by whoever asks; those of wheels by nobody, but their meshes by the paths.
            (loop ? wheels : out).push_back({name, i.part.mesh.get(), i.pose(), i.part.name});
        });
    }
    std::ranges::move(wheels, std::back_inserter(out));
    return out;
}

Result<std::string> meshesOf(const std::vector<MeshAt>& all, const std::string& kind) {
    const Counts n = countsOf(all);
    if (n.triangles > kMostTrianglesOut)
        return Problem{"That makes " + say::number(double(n.triangles) / 1e6, 1) +
                           " million triangles, more than such a file holds in a sensible size. Send out fewer places, "
                           "allow triangles to be farther off, or use GLB, which has each part once.",
                       "file"};
    if (kind == ".obj") return objOf(all);
    return kind == ".stl" ? stlOf(all) : plyOf(all);
}

Result<std::string> meshesOf(const Standings& all, const std::string& kind) { return meshesOf(bodiesOf(all), kind); }

} // namespace vicinal
