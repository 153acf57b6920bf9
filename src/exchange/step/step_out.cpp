// Runs and paths as a STEP scene: each part once, each place an occurrence.
#include "base/say.h"
#include "base/text.h"
#include "exchange/out/solids.h"
#include "exchange/step/load.h"
#include "model/document/path_item.h"
#include "model/file/files.h"
#include <cmath>
#include <filesystem>
#include <map>
#include <unistd.h>

namespace vicinal {
namespace {

constexpr size_t kMostFacets = 20'000; ///< of a part without an exact solid

/// Shapes by body and size: an occurrence of a STEP file is rigid.
class Shapes {
public:
    explicit Shapes(StepScene& scene) : m_scene(scene) {}
    Result<size_t> of(const BodyPtr& body, const std::string& name, double size, int colour) {
        const auto [it, fresh] = m_known.try_emplace({body.get(), size}, m_scene.shapes.size());
        if (!fresh) return it->second;
        StepShape s;
        s.name = size == 1 ? name : name + " x" + text::number(size, 4);
        s.colour = toneOf(colour);
        const BodyPtr sized = size == 1 ? body : moved(body, Mat3::Identity(), Vec3::Zero(), size);
        s.solid = solidOf(*sized);
        s.mesh = sized->mesh;
        if (!s.solid && s.mesh->triangles.size() > kMostFacets)
            return Problem{"Part \"" + text::quoted(name) + "\" has no exact solid, only " +
                               say::count(s.mesh->triangles.size()) +
                               " triangles: too many plane faces for STEP. Send out a GLB, or use a simpler part.",
                           "file"};
        m_scene.shapes.push_back(std::move(s));
        return it->second;
    }

private:
    StepScene& m_scene;
    std::map<std::pair<const Body*, double>, size_t> m_known;
};

Mat4 rigid(const Mat4& pose, double size) {
    Mat4 out = pose;
    out.topLeftCorner<3, 3>() /= size;
    return out;
}

} // namespace

Result<StepScene> stepSceneOf(const ExportSet& goods, const std::string& title, bool paths) {
    StepScene scene;
    scene.name = title;
    Shapes shapes(scene);
    for (const auto& s : withWheels(goods.standing)) {
        StepGroup group{s->name, {}};
        std::optional<Problem> problem;
        s->eachInstance([&](const Instance& i) {
            const auto shape = shapes.of(i.part.body, i.part.name, i.size(), s->colour);
            if (!shape) {
                problem = shape.problem();
                return false;
            }
            const std::string number = s->name + " " + std::to_string(i.place + 1);
            group.instances.push_back({*shape, rigid(i.pose(), i.size()),
                                       s->kind == Standing::Kind::Wheels ? i.part.name
                                       : i.own                           ? number
                                                                         : number + " " + i.part.name});
            return true;
        });
        if (problem) return *problem;
        scene.groups.push_back(std::move(group));
    }
    if (paths)
        for (const auto& p : goods.paths) scene.wires.push_back({p->item->name, p->path->segments()});
    return scene;
}

Result<std::string> stepOf(const StepScene& scene, Job* job) {
    auto* const write = inStepPlugin<VicinalWriteStepShapes>("vicinalWriteStepShapes");
    if (!write)
        return Problem{"The writer for STEP files (vicinal-step.so) is not beside the program. Install it again.",
                       "file"};
    std::string name = (std::filesystem::temp_directory_path() / "vicinal-XXXXXX").string();
    const int handle = mkstemp(name.data());
    if (handle < 0) return Problem{"Cannot write a temporary file. Make room in the temporary folder.", "file"};
    close(handle);
    std::string why;
    bool written = false;
    {
        const std::lock_guard lock(stepMutex());
        written = write(&scene, name.c_str(), &why);
    }
    auto bare = written ? readFile(name) : Result<std::string>(Problem{Words("STEP: ") + why, "file"});
    unlink(name.c_str());
    if (!bare) return bare.problem();
    if (job) job->progress = 0.5;
    return assembled(scene, *bare, job ? &job->stop : nullptr);
}

} // namespace vicinal
