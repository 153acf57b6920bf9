#include "exchange/out/solids.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/out/meshes.h"
#include "exchange/out/xml.h"
#include "model/document/run_item.h"
#include "model/file/zipped.h"
#include "parts/makers/maker.h"
#include "parts/solid/unite.h"
#include <map>
#include <set>

namespace vicinal {
namespace {

/// 3MF of meshes: each mesh an object, each stand an item. Numbers as they are in the document: what reads them as
/// floats rounds them itself.
Result<std::string> threeMf(const std::vector<MeshAt>& all, const std::string& title) {
    std::map<const Mesh*, size_t> objects;
    std::string resources, build;
    const auto number = [](double v) { return text::number(v, 7); };
    for (const MeshAt& m : all) {
        const auto [it, fresh] = objects.try_emplace(m.mesh, objects.size() + 1);
        const std::string id = std::to_string(it->second);
        if (fresh) {
            if (resources.size() > (1u << 30))
                return Problem{"That makes more than a gigabyte of triangles. Send out fewer different parts.", "file"};
            // What encloses nothing is no "model" to be filled: the specification has "surface" for it.
            resources += "<object id=\"" + id + "\" type=\"" + (isClosed(*m.mesh) ? "model" : "surface") +
                         "\" name=\"" + xmlText(m.part.empty() ? m.name : m.part) + "\"><mesh><vertices>\n";
            for (const Vec3& p : m.mesh->points)
                resources +=
                    "<vertex x=\"" + number(p.x()) + "\" y=\"" + number(p.y()) + "\" z=\"" + number(p.z()) + "\"/>\n";
            resources += "</vertices><triangles>\n";
            for (const auto& t : m.mesh->triangles)
                resources += "<triangle v1=\"" + std::to_string(t[0]) + "\" v2=\"" + std::to_string(t[1]) + "\" v3=\"" +
                             std::to_string(t[2]) + "\"/>\n";
            resources += "</triangles></mesh></object>\n";
        }
        build += "<item objectid=\"" + id + "\" partnumber=\"" + xmlText(m.name) + "\" transform=\"";
        for (int c = 0; c < 4; ++c) // rows of the transposed matrix, the last one the shift
            for (int r = 0; r < 3; ++r)
                build += (c + r > 0 ? " " : "") + (c < 3 ? text::number(m.pose(r, c), 12) : number(m.pose(r, c)));
        build += "\"/>\n";
    }
    const std::string model =
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en-US\" "
        "xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\n<metadata name=\"Title\">" +
        xmlText(title) + "</metadata>\n<resources>\n" + resources + "</resources>\n<build>\n" + build +
        "</build>\n</model>\n";
    const std::string
        types =
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Types "
            "xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" "
            "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Default Extension=\"model\" "
            "ContentType=\"application/vnd.ms-package.3dmanufacturing-3dmodel+xml\"/></Types>",
        relations = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Relationships "
                    "xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship "
                    "Target=\"/3D/3dmodel.model\" Id=\"rel0\" "
                    "Type=\"http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel\"/></Relationships>";
    return zipped({{"[Content_Types].xml", types}, {"_rels/.rels", relations}, {"3D/3dmodel.model", model}});
}

} // namespace

Result<std::string> bodyFile(const BodyPtr& body, const std::string& name, const std::string& kind, Job* job,
                             int colour, const Mesh* mesh) {
    if (kind == "step") {
        StepScene scene;
        scene.name = name;
        scene.shapes.push_back({name, solidOf(*body), body->mesh, toneOf(colour)});
        scene.groups.push_back({name, {{0, Mat4::Identity(), name}}});
        return stepOf(scene, job);
    }
    const std::vector<MeshAt> all{{name, mesh ? mesh : body->mesh.get(), Mat4::Identity(), name}};
    return kind == "3mf" ? threeMf(all, name) : meshesOf(all, "." + kind);
}

Result<std::string> threeMfOf(const ExportSet& goods, const std::string& title) {
    return threeMf(bodiesOf(goods.standing), title);
}

Result<std::vector<OutFile>> filesByPart(const ExportSet& goods, const std::string& name, const std::string& kind,
                                         Job* job) {
    std::vector<OutFile> out;
    std::map<const Body*, std::string> files;
    std::set<std::string> taken;
    std::string poses = "file,part,run,place,size,m11,m12,m13,x,m21,m22,m23,y,m31,m32,m33,z\n";
    std::optional<Problem> problem;
    for (const auto& of : goods.standing) {
        if (of->kind == Standing::Kind::Wheels) continue;
        of->eachInstance([&](const Instance& i) {
            const PlacedPart& part = i.part;
            auto& file = files[part.body.get()];
            if (file.empty()) {
                if (job && stopped(&job->stop)) problem = kCancelled;
                if (problem) return false;
                Delivery own; // its name becomes a file's as any delivery's does
                own.format = kind;
                own.name = name + "-" + part.name;
                // Not by capitals alone either: some systems take them for one name.
                for (int n = 2; !taken.insert(text::lowered(fileNameOf(own))).second; ++n)
                    own.name = name + "-" + part.name + "-" + std::to_string(n);
                file = fileNameOf(own);
                auto bytes = bodyFile(part.body, part.name, kind, job, of->colour, part.mesh.get());
                if (!bytes) {
                    problem = bytes.problem();
                    return false;
                }
                out.push_back({file, std::move(bytes).value()});
            }
            const Mat4 pose = i.pose();
            poses += csvCell(file) + "," + csvCell(part.name) + "," + csvCell(of->name) + "," +
                     std::to_string(i.place + 1) + "," + text::fixed(i.size(), 6);
            for (int r = 0; r < 3; ++r)
                for (int c = 0; c < 4; ++c) poses += "," + text::fixed(pose(r, c), c < 3 ? 12 : 6);
            poses += "\n";
            return true;
        });
        if (problem) return *problem;
    }
    if (out.empty()) return Problem{"There is no part to write: a path alone has no bodies.", "as"};
    out.insert(out.begin(), {name + "-poses.csv", std::move(poses)}); // the one that names the others
    return out;
}

Result<BodyPtr> fusedOf(const ExportSet& goods, Job* job) {
    std::vector<SolidPtr> solids;
    std::optional<Problem> problem;
    for (const auto& of : goods.standing) {
        if (of->kind == Standing::Kind::Wheels) continue;
        of->eachInstance([&](const Instance& i) {
            const SolidPtr solid = solidOf(*i.part.body);
            if (solids.size() == kMostFused)
                problem = Problem{"More than " + say::count(kMostFused) +
                                      " bodies are not united: it would take hours. Send out fewer, or as they stand.",
                                  "as"};
            else if (!solid)
                problem = Problem{"Part \"" + text::quoted(i.part.name) +
                                      "\" has no exact solid, only triangles, and cannot be united. Send it out as it "
                                      "stands.",
                                  "as"};
            if (problem) return false;
            const double size = i.size();
            const Mat4 pose = i.pose();
            solids.push_back(moved(solid, pose.topLeftCorner<3, 3>() / size, pose.topRightCorner<3, 1>(), size));
            return true;
        });
        if (problem) return *problem;
    }
    if (solids.empty()) return Problem{"There is no body to unite.", "as"};
    if (job && stopped(&job->stop)) return kCancelled;
    const auto one = united(solids);
    if (!one) return one.problem();
    if (job && stopped(&job->stop)) return kCancelled;
    return bodyOf(*one);
}

} // namespace vicinal
