#include "exchange/delivery/make.h"
#include "base/say.h"
#include "base/text.h"
#include "exchange/drawing/drawing.h"
#include "exchange/out/meshes.h"
#include "exchange/paper/tape.h"
#include "exchange/sheet/writers.h"
#include "model/file/files.h"
#include <algorithm>
#include <map>

namespace vicinal {

namespace fs = std::filesystem;

namespace {

std::string counted(long n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}
std::string metres(double mm) { return text::number(mm / 1000, 3) + " m"; }

/// Fills in what each kind of result will be.
class Preparing {
public:
    Preparing(Ready& out, Job* job) : m_out(out), m_job(job) {}

    std::optional<Problem> operator()(const TemplateOrder& o) {
        auto made = templateOf(goods().standing, o, m_out.delivery.name, stop(), goods().paths);
        if (!made) return made.problem();
        m_out.paper = std::make_shared<const Template>(std::move(made).value());
        const Template& t = *m_out.paper;
        long pages = 0;
        for (const auto& tile : t.tiles) pages += !tile.empty;
        say(counted(pages, "sheet", "sheets") + " at 1 : 1" + (t.pages.size() > 1 ? " and a map" : ""));
        say(metres(t.whole.width) + " x " + metres(t.whole.height));
        if (t.empty > 0) say(counted(t.empty, "empty sheet is", "empty sheets are") + " left out");
        if (o.barAcross != 100 || o.barUp != 100)
            say("corrected by " + text::number(100 * (100 / o.barAcross - 1), 2) + " % across, " +
                text::number(100 * (100 / o.barUp - 1), 2) + " % up");
        add(t.remarks);
        return std::nullopt;
    }
    std::optional<Problem> operator()(const TapeOrder& o) {
        std::vector<const RunResult*> runs;
        for (const auto& s : goods().standing)
            if (const RunResult* r = s->asRun()) runs.push_back(r);
        if (runs.empty()) return Problem{"A tape shows the stations of a run. Tick a run.", "what"};
        if (m_out.delivery.format == "csv") {
            ScheduleOrder list;
            list.of = ScheduleOf::Running;
            list.gap = true;
            return take(list);
        }
        long strips = 0;
        double length = 0;
        for (const RunResult* r : runs) {
            auto tape = tapeOf(*r, o);
            if (!tape) return tape.problem();
            strips += tape->strips;
            length += tape->length;
            std::move(tape->pages.begin(), tape->pages.end(), std::back_inserter(m_out.pages));
        }
        say(counted(strips, "strip", "strips") + " on " + counted(long(m_out.pages.size()), "sheet", "sheets") +
            " at 1 : 1");
        say(metres(length) + " of " + counted(long(runs.size()), "run", "runs"));
        return std::nullopt;
    }
    std::optional<Problem> operator()(const DrawingOrder& o) {
        auto made = drawingOf(goods(), o, m_out.delivery.fields, m_out.delivery.name, m_job);
        if (!made) return made.problem();
        say(counted(long(made->sheets.size()), "sheet", "sheets") + " at 1 : " + text::number(made->scale, 3));
        add(made->remarks);
        m_out.pages = std::move(made->sheets);
        return std::nullopt;
    }
    std::optional<Problem> operator()(const SolidsOrder& o) {
        const std::string& format = m_out.delivery.format;
        const bool triangulated = format != "step" && format != "dxf";
        double within = o.within;
        if (triangulated) {
            auto meshed = meshedWithin(goods().standing, within, stop());
            if (!meshed) return meshed.problem();
            auto fine = std::make_shared<ExportSet>(goods());
            fine->standing = std::move(meshed).value();
            m_out.goods = std::move(fine);
        }
        size_t bodies = 0, triangles = 0;
        std::vector<const Body*> parts;
        Box3 box;
        for (const auto& s : goods().standing) {
            if (s->kind == Standing::Kind::Wheels) continue; // they come with their chains
            s->eachInstance([&](const Instance& i) {
                ++bodies;
                triangles += i.part.mesh->triangles.size();
                const Body* body = i.part.body.get();
                if (std::find(parts.begin(), parts.end(), body) == parts.end()) parts.push_back(body);
                const Mat4 pose = i.pose();
                for (int c = 0; c < 8; ++c)
                    box.extend(Vec3((pose * i.part.mesh->box.corner(Box3::CornerType(c)).homogeneous()).head<3>()));
            });
        }
        if (o.as == SolidsAs::Fused) {
            if (bodies > kMostFused)
                return Problem{"More than " + say::count(kMostFused) +
                                   " bodies are not united: it would take hours. Send out fewer, or as they stand.",
                               "as"};
            say(counted(long(bodies), "body", "bodies") + " united into one");
        } else {
            say(counted(long(bodies), "body", "bodies") + " of " + counted(long(parts.size()), "part", "parts") +
                (o.as == SolidsAs::FileAPart ? ", a file each and a list of poses" : ""));
        }
        if (!box.isEmpty())
            say(metres(box.sizes().x()) + " x " + metres(box.sizes().y()) + " x " + metres(box.sizes().z()));
        if (triangulated) {
            say("triangles within " + say::mm(within) + " of curved faces");
            if (within > o.within * (1 + tolerance::rounding))
                m_out.remarks.push_back("The largest part is not made finer than " + say::mm(within) + ".");
        }
        if (format == "3mf")
            for (const auto& s : goods().standing)
                for (const PlacedPart& part : *s->placedParts)
                    if (s->kind != Standing::Kind::Wheels && !isClosed(*part.mesh))
                        m_out.remarks.push_back("\"" + text::quoted(part.name) +
                                                "\" is open: it goes as a surface, which nothing can be filled into.");
        const bool meshed = format == "obj" || format == "stl" || format == "ply";
        if (meshed && o.as == SolidsAs::Assembly) {
            say(text::number(double(triangles), 0) + " triangles");
            if (triangles > kMostTrianglesOut)
                return Problem{"That makes " + say::number(double(triangles) / 1e6, 1) +
                                   " million triangles. Send out fewer places, allow them to be farther off, or use "
                                   "GLB, which has each part once.",
                               "what"};
        }
        say(format == "glb"                      ? "metres, y up"
            : format == "stl" || format == "obj" ? "millimetres, z up (the file itself cannot say so)"
                                                 : "millimetres, z up");
        if (!o.paths || o.as != SolidsAs::Assembly || meshed || format == "3mf" || format == "glb") return std::nullopt;
        if (!goods().paths.empty()) say(counted(long(goods().paths.size()), "path", "paths") + " as curves");
        return std::nullopt;
    }
    std::optional<Problem> operator()(const ScheduleOrder& o) { return take(o); }
    std::optional<Problem> operator()(const PictureOrder& o) {
        if (o.of != PictureOf::Lines) {
            if (o.width < 16 || o.height < 16 || o.width > 16384 || o.height > 16384)
                return Problem{"A picture of " + say::count(o.width) + " x " + say::count(o.height) +
                                   " cannot be made: use 16 to 16384 pixels.",
                               "width"};
            if (o.of == PictureOf::Turntable && (o.frames < 2 || o.frames > 1000))
                return Problem{"Once round takes 2 to 1000 pictures.", "frames"};
            say(std::to_string(o.width) + " x " + std::to_string(o.height) + " pixels" +
                (o.of == PictureOf::Turntable ? ", " + std::to_string(o.frames) + " pictures" : ""));
            return std::nullopt;
        }
        auto made = linePictureOf(goods(), o, m_job);
        if (!made) return made.problem();
        m_out.pages.push_back(std::move(made).value());
        say("lines, " + std::to_string(o.width) + " x " + std::to_string(o.height));
        return std::nullopt;
    }

private:
    const ExportSet& goods() const { return *m_out.goods; }
    const Stop* stop() const { return m_job ? &m_job->stop : nullptr; }
    void say(std::string what) { m_out.says.push_back(std::move(what)); }
    void add(const std::vector<Words>& remarks) {
        m_out.remarks.insert(m_out.remarks.end(), remarks.begin(), remarks.end());
    }
    std::optional<Problem> take(const ScheduleOrder& o) {
        auto list = listOf(goods(), o);
        if (!list) return list.problem();
        add(list->remarks);
        long rows = 0;
        if (o.of == ScheduleOf::Places)
            for (const auto& s : goods().standing) rows += s->present();
        else
            list->rows([&](auto) { return ++rows, true; });
        say(counted(rows, "row", "rows") + ", " + counted(long(list->columns.size()), "column", "columns"));
        m_out.list = std::make_shared<const List>(std::move(list).value());
        return std::nullopt;
    }

    Ready& m_out;
    Job* m_job;
};

/// The files of each kind.
class Making {
public:
    Making(const Ready& r, Job* job)
        : m_r(r), m_job(job), m_name(fileNameOf(r.delivery)), m_format(r.delivery.format) {}

    using Files = Result<std::vector<OutFile>>;
    Files operator()(const TemplateOrder&) const {
        return m_format == "pdf" ? one(pdfOf(m_r.paper->pages, m_r.delivery.name)) : sheets({m_r.paper->whole});
    }
    Files operator()(const TapeOrder&) const { return m_r.list ? list() : sheets(m_r.pages); }
    Files operator()(const DrawingOrder&) const { return sheets(m_r.pages); }
    Files operator()(const PictureOrder&) const { return sheets(m_r.pages); }
    Files operator()(const ScheduleOrder&) const { return list(); }
    Files operator()(const SolidsOrder& o) const {
        const ExportSet& goods = *m_r.goods;
        const std::string stem = m_name.substr(0, m_name.size() - m_format.size() - 1);
        if (o.as == SolidsAs::FileAPart) return filesByPart(goods, stem, m_format, m_job);
        if (o.as == SolidsAs::Fused) {
            const auto body = fusedOf(goods, m_job);
            if (!body) return body.problem();
            double within = o.within;
            const auto mesh = m_format == "step" ? nullptr : fineMesh(**body, within);
            return one(bodyFile(*body, m_r.delivery.name, m_format, m_job, 0, mesh.get()));
        }
        if (m_format == "step") {
            const auto scene = stepSceneOf(goods, m_r.delivery.name, o.paths);
            return scene ? one(stepOf(*scene, m_job)) : Files(scene.problem());
        }
        if (goods.standing.empty() && m_format != "dxf")
            return Problem{Words("A path alone has no bodies: .") + m_format +
                               " would be empty. Tick a run, or use STEP or DXF.",
                           "what"};
        if (m_format == "3mf") return one(threeMfOf(goods, m_r.delivery.name));
        if (m_format == "glb") return one(glb(goods.standing));
        if (m_format == "dxf") return one(dxf(goods.standing));
        return one(meshesOf(goods.standing, "." + m_format));
    }

private:
    Files one(Result<std::string> bytes) const {
        if (!bytes) return bytes.problem();
        if (m_job && stopped(&m_job->stop)) return kCancelled;
        std::vector<OutFile> out; // a list in braces would copy what may be hundreds of megabytes
        out.push_back({m_name, std::move(bytes).value()});
        return out;
    }
    Files list() const {
        const Stop* stop = m_job ? &m_job->stop : nullptr;
        return one(m_format == "ods"    ? odsOf(*m_r.list, stop)
                   : m_format == "json" ? Result<std::string>(jsonOf(*m_r.list, stop))
                                        : Result<std::string>(csvOf(*m_r.list, stop)));
    }
    /// One PDF; of other formats a file a sheet.
    Files sheets(const std::vector<Sheet>& all) const {
        if (m_format == "pdf") return one(pdfOf(all, m_r.delivery.name));
        std::vector<OutFile> out;
        for (const Sheet& s : all) {
            auto bytes = m_format == "svg" ? Result<std::string>(svgOf(s, m_r.delivery.name)) : dxfOf(s);
            if (!bytes) return bytes.problem();
            std::string name = m_name;
            if (!out.empty()) name.insert(name.size() - m_format.size() - 1, "-" + std::to_string(out.size() + 1));
            out.push_back({name, std::move(bytes).value()});
        }
        if (m_job && stopped(&m_job->stop)) return kCancelled;
        return out;
    }

    const Ready& m_r;
    Job* m_job;
    std::string m_name;
    const std::string& m_format;
};

} // namespace

bool needsWindow(const Delivery& d) {
    const auto* p = std::get_if<PictureOrder>(&d.order);
    return p && p->of != PictureOf::Lines;
}

Result<Ready> prepare(const Delivery& d, const Evaluation& e, Job* job) {
    Ready out;
    out.delivery = d;
    auto goods = exportSetOf(e, d.what);
    if (!goods) return goods.problem();
    out.remarks = goods->remarks;
    out.goods = std::make_shared<const ExportSet>(std::move(goods).value());
    const auto formats = formatsOf(d.order);
    if (std::none_of(formats.begin(), formats.end(), [&](const char* f) { return d.format == f; }))
        return Problem{"." + text::quoted(d.format) + " is not written for this kind of result. Use ." + formats[0] +
                           ".",
                       "format"};
    if (auto p = std::visit(Preparing(out, job), d.order)) return *p;
    if (job && stopped(&job->stop)) return kCancelled;
    return out;
}

Result<std::vector<OutFile>> filesOf(const Ready& r, Job* job) { return std::visit(Making(r, job), r.delivery.order); }

std::optional<Problem> notTheDocument(const fs::path& target, const fs::path& document) {
    std::error_code error;
    if (document.empty() || !fs::equivalent(target, document, error)) return std::nullopt;
    return Problem{"\"" + text::quoted(target.string()) + "\" is the document itself. Choose another name.", "to"};
}

std::optional<Problem> writeFiles(const std::vector<OutFile>& files, const fs::path& folder, WrittenFiles& written,
                                  const Stop* stop) {
    std::error_code failed;
    if (!folder.empty() && !fs::exists(folder, failed)) {
        fs::create_directory(folder, failed);
        if (failed)
            return Problem{"The folder \"" + text::quoted(folder.string()) + "\" cannot be made: " + failed.message() +
                               ". Choose another one.",
                           "folder"};
    }
    const auto isThere = [&](const OutFile& f) { return fs::exists(folder / f.name, failed); };
    std::vector<fs::path> targets;
    for (const OutFile& f : files) {
        const fs::path target = fs::weakly_canonical(folder.empty() ? fs::path(".") : folder, failed) / f.name;
        const auto is = [&](const fs::path& other) { return other == target || fs::equivalent(other, target, failed); };
        if (auto p = notTheDocument(target, written.document)) return p;
        if (std::any_of(written.files.begin(), written.files.end(), is) ||
            std::any_of(targets.begin(), targets.end(), is))
            return Problem{"\"" + text::quoted(target.string()) +
                               "\" was written already, for something else. Use another name or folder.",
                           "name"};
        if (&f != &files.front() && isThere(f) && !isThere(files.front()))
            return Problem{"\"" + text::quoted(target.string()) + "\" is there and not of \"" +
                               text::quoted(files.front().name) + "\". Move it away, or use another name.",
                           "name"};
        targets.push_back(target);
    }
    for (size_t k = 0; k < files.size(); ++k) {
        if (stopped(stop)) return kCancelled;
        if (auto p = writeAtomically(folder / files[k].name, files[k].bytes)) return p;
        written.files.push_back(targets[k]);
    }
    return std::nullopt;
}

std::optional<Problem> sameFile(const std::vector<std::shared_ptr<const Delivery>>& all) {
    std::map<fs::path, const Delivery*> by;
    for (const auto& d : all)
        if (const auto [at, first] = by.emplace((fs::path(d->folder) / fileNameOf(*d)).lexically_normal(), d.get());
            !first)
            return Problem{"\"" + text::quoted(at->second->name) + "\" and \"" + text::quoted(d->name) +
                               "\" would both write \"" + text::quoted(at->first.string()) +
                               "\". Give one another name, format or folder.",
                           "name"};
    return std::nullopt;
}

fs::path folderOf(const Delivery& d, const fs::path& document) {
    return d.folder.empty() ? document.parent_path() : document.parent_path() / d.folder;
}

bool staysBelow(const fs::path& folder, const fs::path& document) {
    std::error_code error;
    const auto whole = [&](const fs::path& p) {
        return fs::weakly_canonical(p.empty() ? fs::path(".") : p, error).lexically_normal();
    };
    const fs::path own = whole(document.parent_path()), to = whole(folder);
    if (error) return false;
    return std::mismatch(own.begin(), own.end(), to.begin(), to.end()).first == own.end();
}

} // namespace vicinal
