#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/foreign.h"
#include "geometry/path/path.h"
#include "model/delivery/formats.h"
#include "model/file/document_file.h"
#include <nlohmann/json.hpp>

namespace vicinal {
namespace {

bool isStep(const std::string& extension) { return extension == "step" || extension == "stp"; }

std::string extensionOf(const std::filesystem::path& path) {
    std::string e = path.extension().string();
    if (!e.empty()) e.erase(0, 1);
    for (char& c : e) c = char(std::tolower(static_cast<unsigned char>(c)));
    return e;
}

std::string base64(const std::string& bytes) {
    static const char* const digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    for (size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t v = 0;
        for (size_t k = 0; k < 3; ++k)
            v = v << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0);
        for (size_t k = 0; k < 4; ++k) out += i + k <= bytes.size() ? digits[v >> (18 - 6 * k) & 63] : '=';
    }
    return out;
}

/// A name as it stands in a URI: %20 is a blank (RFC 3986).
std::string unescaped(const std::string& uri) {
    std::string out;
    for (size_t i = 0; i < uri.size(); ++i) {
        const auto digit = [&](size_t at) {
            return at < uri.size() && std::isxdigit(static_cast<unsigned char>(uri[at]));
        };
        if (uri[i] == '%' && digit(i + 1) && digit(i + 2)) {
            out += char(std::stoi(uri.substr(i + 1, 2), nullptr, 16));
            i += 2;
        } else {
            out += uri[i];
        }
    }
    return out;
}

/// A .gltf with the buffers it names put into it, so that one file holds all.
Result<std::string> selfContained(const std::string& text, const std::filesystem::path& folder) {
    try {
        auto j = nlohmann::ordered_json::parse(text);
        if (j.contains("buffers"))
            for (auto& b : j["buffers"]) {
                if (!b.contains("uri") || !b["uri"].is_string()) continue;
                const auto uri = b["uri"].get<std::string>();
                if (uri.starts_with("data:")) continue;
                auto bytes = readBelow(folder, unescaped(uri));
                if (!bytes) bytes = readBelow(folder, uri); // written as it is, against the rule
                if (!bytes) return Problem{"its buffer " + text::quoted(uri) + " is missing beside it.", "file"};
                b["uri"] = "data:application/octet-stream;base64," + base64(*bytes);
            }
        j.erase("images"); // pictures are no use to a part
        j.erase("textures");
        j.erase("samplers");
        j.erase("materials");
        for (auto& m : j["meshes"])
            for (auto& p : m["primitives"]) p.erase("material");
        return j.dump();
    } catch (const nlohmann::json::parse_error& e) {
        return Problem{"the file is cut off or damaged at byte " + say::count(e.byte) + " of " +
                           say::count(text.size()) + ". Get it again.",
                       "file"};
    } catch (const nlohmann::json::exception&) {
        return Problem{"it is not built as glTF says: its buffers or meshes are not lists. Get it again.", "file"};
    }
}

SolidPtr chosenOf(const std::vector<StepBody>& bodies, const std::vector<int>& chosen) {
    std::vector<SolidPtr> out;
    for (size_t i = 0; i < bodies.size(); ++i)
        if (chosen.empty() || std::find(chosen.begin(), chosen.end(), int(i)) != chosen.end())
            out.push_back(bodies[i].solid);
    return out.empty() ? nullptr : together(out);
}

} // namespace

Result<BodyPtr> readBody(const Brought& b, const std::optional<std::string>& ready) {
    if (!b.bytes) return Problem{Words("The bytes of ") + b.source + " are missing.", "file"};
    if (!isStep(b.extension)) {
        MeshReport report;
        const auto mesh = readMesh(*b.bytes, b.extension, b.scale, &report);
        if (!mesh) return mesh.problem();
        return bodyOf(*mesh, report);
    }
    if (ready)
        if (auto solid = readStoredSolid(*ready))
            if (auto body = bodyOf(*solid)) return body;
    const auto file = readStepBytes(*b.bytes, b.source);
    if (!file) return file.problem();
    auto solid = chosenOf(file->bodies, b.chosen);
    if (!solid) return Problem{Words("The chosen body is not in ") + b.source + ".", "file"};
    return bodyOf(moved(solid, Mat3::Identity(), Vec3::Zero(), b.scale));
}

Result<PartFile> readPartFile(const std::filesystem::path& path, const Stop* stop, Progress* progress) {
    const std::string extension = extensionOf(path), name = text::quoted(path.filename().string());
    const auto said = [&](const Problem& p) {
        return p.text.find(name) != std::string::npos ? p : Problem{say::value(name) + ": " + p.text, p.field};
    };
    PartFile out;
    out.brought.source = name;
    const std::string kind = out.brought.extension = extension == "stp" ? "step" : extension;
    if (!isFor(formatOf(extension), FormatUse::ReadPart))
        return said(
            Problem{Words("a part is read from ") + endingsFor(FormatUse::ReadPart) + ", not from ." + extension + ".",
                    "file"});
    auto bytes = readFile(path);
    if (!bytes) return said(bytes.problem());
    if (bytes->empty()) return said(Problem{"the file is empty. Get it again.", "file"});
    if (const auto is = kindByContent(*bytes); !is.empty() && is != kind && is != "obj")
        return said(Problem{Words("by its content this is a file of the kind .") + is + ", not ." + extension +
                                ". Rename it and bring it in again.",
                            "file"});
    if (extension == "dxf" || extension == "svg") {
        auto curves = readCurves(path, stop);
        if (!curves) return said(curves.problem());
        // In file units; ends that nearly meet are joined when the unit is known, on a scale of the drawing's size.
        Box3 box;
        for (const auto& s : curves->strands)
            for (const auto& g : s.segments) box.extend(startOf(g)), box.extend(endOf(g));
        const double join = std::max(tolerance::length, 1e-5 * box.diagonal().norm());
        auto strands = pathsOf(curves.value(), 1, join);
        if (!strands) return said(strands.problem());
        size_t open = 0;
        for (auto& s : *strands)
            if (s.closed)
                out.outlines.push_back(s);
            else
                ++open;
        out.remarks = curves->remarks;
        if (open > 0)
            out.remarks.push_back(say::count(open) + (open == 1 ? " open curve was" : " open curves were") +
                                  " left out.");
        if (out.outlines.empty())
            return Problem{
                say::value(name) +
                    ": it has no closed curve. A part needs an outline; open ones can be brought in as paths.",
                "file"};
        out.millimetresPerUnit = curves->millimetresPerUnit;
        return out;
    }
    if (isStep(extension)) {
        auto file = readStepBodies(path, stop, progress);
        if (!file) return file.problem();
        out.bodies = std::move(file.value().bodies);
        out.remarks = std::move(file.value().remarks);
        out.unit = file->unit;
        out.millimetresPerUnit = 1; // read into mm as the file says
        auto body = bodyOf(chosenOf(out.bodies, {}));
        if (!body) return said(body.problem());
        out.brought.body = *body;
    } else {
        if (extension == "gltf") {
            auto whole = selfContained(*bytes, path.parent_path());
            if (!whole) return said(whole.problem());
            bytes = std::move(whole).value();
        }
        MeshReport report;
        auto mesh = readMesh(*bytes, extension, 1, &report, stop, progress);
        if (!mesh) return said(mesh.problem());
        out.brought.body = bodyOf(*mesh, report);
        out.remarks = report.remarks();
        if (extension == "glb" || extension == "gltf")
            out.millimetresPerUnit = 1000, out.unit = "metre"; // its standard says so
    }
    if (stop && *stop) return cancelled();
    out.brought.bytes = std::make_shared<const std::string>(std::move(bytes).value());
    return out;
}

Result<PartShape> shapeOf(const PartFile& file, double unit, std::vector<int> chosen, double thickness) {
    if (!(unit > 0) || !std::isfinite(unit)) return Problem{"The unit of the file is not known. Choose one.", "unit"};
    if (!file.outlines.empty()) {
        std::vector<Ring> rings;
        Box3 box;
        for (const auto& s : file.outlines) {
            rings.emplace_back();
            for (const auto& g : s.segments) rings.back().push_back(moved(g, Mat3::Identity(), Vec3::Zero(), unit));
            if (const auto path = Path::make(rings.back(), true, 1e-3 * unit)) box.extend(path->bounds());
        }
        if (box.isEmpty()) return Problem{"The outlines have no size.", "outline"};
        if (box.sizes().z() > tolerance::alike * box.sizes().maxCoeff())
            return Problem{"The outlines do not lie flat: their heights differ by " + say::mm(box.sizes().z()) +
                               ". Project them onto a plane first.",
                           "outline"};
        for (auto& r : rings)
            for (auto& g : r) g = moved(g, Mat3::Identity(), -box.center());
        FlatOutline f{std::make_shared<const std::vector<Ring>>(std::move(rings)), thickness, file.brought.source};
        if (const auto body = build(PartShape(f)); !body) return body.problem();
        return PartShape(std::move(f));
    }
    Brought out = file.brought;
    out.scale = unit;
    std::sort(chosen.begin(), chosen.end());
    if (chosen.size() == file.bodies.size()) chosen.clear();
    if (!chosen.empty()) {
        const auto solid = chosenOf(file.bodies, chosen);
        if (!solid) return Problem{"No body is chosen. Tick at least one.", "part"};
        auto body = bodyOf(solid);
        if (!body) return body.problem();
        out.body = *body;
        out.chosen = std::move(chosen);
    }
    out.body = moved(out.body, Mat3::Identity(), Vec3::Zero(), unit);
    return PartShape(std::move(out));
}

} // namespace vicinal
