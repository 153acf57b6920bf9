#include "base/say.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/common.h"
#include "model/document/path_item.h"
#include <cstdio>

namespace vicinal::cli {

int path(const std::string& file, const std::string& name, const std::vector<double>& at, bool crossings) {
    const auto opened = open(file);
    if (!opened) return fail(opened.problem());
    const auto item = named(opened->document.paths, name, file, "path");
    if (!item) return fail(item.problem());
    const auto found = opened->evaluation->paths.at((*item)->id);
    if (found->problem)
        return fail({say::value(file) + ": path \"" + name + "\": " + Words::whole(found->problem->text), ""});
    const Path& p = *found->path;
    const auto point = [](const Vec3& v) {
        return text::fixed(v.x(), 6) + "," + text::fixed(v.y(), 6) + "," + text::fixed(v.z(), 6);
    };
    std::string out;
    if (crossings) {
        out = "crossing,upper,lower,x,y,z,lift,with\n";
        for (size_t k = 0; k < found->crossings.size(); ++k) {
            const StrandCrossing& c = found->crossings[k];
            const char* other = c.beneath ? "another path above" : "another path below";
            out += std::to_string(k + 1) + "," + text::fixed(c.upper, 6) + "," + text::fixed(c.lower, 6) + "," +
                   point(c.at) + "," + text::fixed(c.lift, 6) + "," + (c.other ? other : "itself") +
                   (c.along ? " along" : "") + "\n";
        }
        for (const auto& w : found->broken) std::fprintf(stderr, "vicinal-cli: %s: %s\n", name.c_str(), w.c_str());
        const int printed = print(out);
        return printed ? printed : int(!found->broken.empty());
    }
    if (at.empty()) {
        const PathFacts facts = factsOf(p);
        out += "path: " + name + "\nkind: " + kindOf(found->item->recipe) + "\nlength: " + text::fixed(p.length(), 6) +
               "\nclosed: " + (p.closed() ? "yes" : "no") + "\nstart: " + point(p.at(0).point) +
               "\nend: " + point(p.spans().back().point(1)) + "\ncorners: " + std::to_string(p.corners().size());
        out += "\nsharpest radius: " + (std::isfinite(facts.sharpest)
                                            ? text::fixed(facts.sharpest, 6) + " at " + text::fixed(facts.sharpestAt, 6)
                                            : std::string("none"));
        out += std::string("\nplanar: ") + (facts.planar ? "yes" : "no") +
               "\nself-crossings: " + std::to_string(facts.crossings) + "\n";
        if (found->loop)
            for (size_t i = 0; i < found->loop->contacts.size(); ++i) {
                const auto& c = found->loop->contacts[i];
                const auto& w = std::get<WheelShape>(std::get<ShapeRecipe>(found->item->recipe).shape).wheels[i];
                out += "wheel: " + w.name + ", wrap " + text::fixed(c.wrap / kDegree, 6) + ", straight after " +
                       text::fixed(c.tangentAfter, 6) + "\n";
            }
        if (found->loop && found->loop->hangs)
            out += "hanging strand: sag " + text::fixed(found->loop->hangs->sag, 6) + ", slack " +
                   text::fixed(found->loop->hangs->slack, 6) + "\n";
        for (const auto& r : found->remarks) out += "remark: " + r + "\n";
        return print(out);
    }
    out = "station,x,y,z,tx,ty,tz,cx,cy,cz\n"; // tangent and carried crown
    for (double s : at) {
        if (!(s >= -tolerance::length && s <= p.length() + tolerance::length))
            return fail({"Station " + say::number(s, 6) + " is beyond the path, which is " +
                             say::number(p.length(), 6) + " mm long.",
                         ""});
        const Sample x = p.at(s, true);
        out += text::fixed(s, 6) + "," + point(x.point) + "," + point(x.tangent) + "," + point(x.carried) + "\n";
    }
    return print(out);
}

} // namespace vicinal::cli
