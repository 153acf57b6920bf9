#include "exchange/out/send_out.h"
#include "geometry/curves/edit.h"
#include "model/document/path_item.h"
#include "model/document/run_item.h"
#include "model/file/document_file.h"
#include "parts/solid/outline.h"
#include <cmath>
#include <dxflib/dl_dxf.h>
#include <map>
#include <set>
#include <unistd.h>

namespace vicinal {
namespace {

/// Symbol names of old DXF readers: letters, digits, dash, underscore.
std::string symbol(const std::string& name, std::set<std::string>& taken) {
    std::string s;
    for (unsigned char c : name) s += std::isalnum(c) || c == '-' ? char(std::toupper(c)) : '_';
    if (s.empty()) s = "_";
    std::string out = s;
    for (int n = 2; !taken.insert(out).second; ++n) out = s + "_" + std::to_string(n);
    return out;
}

struct DxfWriter {
    DL_Dxf& dxf;
    DL_WriterA& dw;

    void point(int code, const Vec3& p) const {
        dw.dxfReal(code, p.x());
        dw.dxfReal(code + 10, p.y());
        dw.dxfReal(code + 20, p.z());
    }
    void begin(const char* entity, const std::string& layer, const char* subclass) const {
        dw.entity(entity);
        dw.dxfString(100, "AcDbEntity");
        dw.dxfString(8, layer);
        dw.dxfString(100, subclass);
    }
    /// Straight pieces and arcs as one polyline; what has other curves as fine straight pieces of them.
    void outline(const Ring& ring) const {
        struct Corner {
            Vec3 at;
            double bulge; ///< tangent of a quarter of the sweep that follows
        };
        std::vector<Corner> corners;
        for (const auto& s : ring) {
            if (const auto* a = std::get_if<Arc>(&s)) {
                const int n = std::abs(a->sweep) > 1.5 * kPi ? 2 : 1; // a full circle has no start and end of its own
                const double side = a->xAxis.cross(a->yAxis).z() < 0 ? -1 : 1;
                for (int i = 0; i < n; ++i) {
                    const double t = a->sweep * i / n;
                    corners.push_back({a->centre + a->radius * (std::cos(t) * a->xAxis + std::sin(t) * a->yAxis),
                                       side * std::tan(a->sweep / n / 4)});
                }
            } else if (const auto* l = std::get_if<Line>(&s)) {
                corners.push_back({l->a, 0});
            } else if (const auto path = vicinal::Path::make({s}, false)) {
                auto line = path->polyline(1e-3);
                line.pop_back();
                for (const auto& p : line) corners.push_back({p, 0});
            }
        }
        begin("LWPOLYLINE", "0", "AcDbPolyline");
        dw.dxfInt(90, int(corners.size()));
        dw.dxfInt(70, 1);
        for (const auto& c : corners) {
            dw.dxfReal(10, c.at.x());
            dw.dxfReal(20, c.at.y());
            if (c.bulge != 0) dw.dxfReal(42, c.bulge);
        }
    }
    /// Any turn in space: the crown is the extrusion direction, the nose's angle in that plane the rotation.
    void insert(const std::string& block, const std::string& layer, const Frame& frame, double size) const {
        const Mat3& R = frame.axes;
        const Vec3& at = frame.seat;
        Vec3 z = R.col(2);
        if ((z - Vec3::UnitZ()).norm() < tolerance::fine) z = Vec3::UnitZ();
        const Vec3 x = (std::abs(z.x()) < 1.0 / 64 && std::abs(z.y()) < 1.0 / 64 ? Vec3::UnitY() : Vec3::UnitZ())
                           .cross(z)
                           .normalized();
        const Vec3 y = z.cross(x);
        begin("INSERT", layer, "AcDbBlockReference");
        dw.dxfString(2, block);
        point(10, Vec3(at.dot(x), at.dot(y), at.dot(z)));
        double angle = std::atan2(R.col(0).dot(y), R.col(0).dot(x)) / kDegree;
        if (angle < 0) angle += 360;
        if (size != 1)
            for (int code : {41, 42, 43}) dw.dxfReal(code, size);
        dw.dxfReal(50, angle);
        point(210, z);
    }
    void spline(const Nurbs& c, const std::string& layer) const {
        begin("SPLINE", layer, "AcDbSpline");
        bool rational = false;
        for (double w : c.weights) rational = rational || w != c.weights.front();
        dw.dxfInt(70, 8 * 0 + (rational ? 4 : 0));
        dw.dxfInt(71, c.degree);
        dw.dxfInt(72, int(c.knots.size()));
        dw.dxfInt(73, int(c.points.size()));
        dw.dxfInt(74, 0);
        for (double k : c.knots) dw.dxfReal(40, k);
        if (rational)
            for (double w : c.weights) dw.dxfReal(41, w);
        for (const auto& p : c.points) point(10, p);
    }
    void arc(const Arc& a, const std::string& layer) const {
        Vec3 z = a.xAxis.cross(a.yAxis) * (a.sweep < 0 ? -1 : 1);
        const Vec3 x = (std::abs(z.x()) < 1.0 / 64 && std::abs(z.y()) < 1.0 / 64 ? Vec3::UnitY() : Vec3::UnitZ())
                           .cross(z)
                           .normalized();
        const Vec3 y = z.cross(x);
        const bool full = std::abs(a.sweep) > 2 * kPi - tolerance::rounding;
        begin(full ? "CIRCLE" : "ARC", layer, "AcDbCircle");
        point(10, Vec3(a.centre.dot(x), a.centre.dot(y), a.centre.dot(z)));
        dw.dxfReal(40, a.radius);
        point(210, z);
        if (full) return;
        const double from = std::atan2(a.xAxis.dot(y), a.xAxis.dot(x));
        const auto degrees = [](double r) { return std::fmod(r / kDegree + 720, 360); };
        dw.dxfString(100, "AcDbArc");
        dw.dxfReal(50, degrees(from));
        dw.dxfReal(51, degrees(from + std::abs(a.sweep)));
    }
    void line(const Line& l, const std::string& layer) const {
        begin("LINE", layer, "AcDbLine");
        point(10, l.a);
        point(11, l.b);
    }
    /// Neighbouring Bezier pieces become one spline; every other segment an entity of its own.
    void path(const Path& source, const std::string& layer) const {
        std::vector<Segment> segments;
        for (const auto& s : source.segments()) {
            if (std::holds_alternative<Helix>(s) || std::holds_alternative<Catenary>(s)) // a DXF has no such curves
                for (auto& c : cubicsNear(s, 1e-5)) segments.push_back(std::move(c));
            else
                segments.push_back(s);
        }
        for (size_t i = 0; i < segments.size(); ++i) {
            if (const auto* l = std::get_if<Line>(&segments[i]))
                line(*l, layer);
            else if (const auto* a = std::get_if<Arc>(&segments[i]))
                arc(*a, layer);
            else if (const auto* n = std::get_if<Nurbs>(&segments[i]))
                spline(*n, layer);
            else {
                Nurbs c;
                c.knots = {0, 0, 0, 0};
                c.points = {std::get<Bezier>(segments[i]).p[0]};
                double knot = 0;
                for (; i < segments.size() && std::holds_alternative<Bezier>(segments[i]); ++i) {
                    const auto& b = std::get<Bezier>(segments[i]).p;
                    c.points.insert(c.points.end(), {b[1], b[2], b[3]});
                    c.knots.insert(c.knots.end(), 3, ++knot);
                }
                c.knots.push_back(knot);
                --i;
                spline(c, layer);
            }
        }
    }
};

/// The whole file, section by section.
class DxfFile {
public:
    DxfFile(const Standings& own, DL_Dxf& dxf, DL_WriterA& dw)
        : m_all(withWheels(own)), m_dxf(dxf), m_dw(&dw), m_out{dxf, dw} {
        name();
    }
    void write() {
        tables();
        blockRecords();
        blocks();
        entities();
        objects();
        m_dw->dxfEOF();
        m_dw->close();
    }

private:
    /// Layers and blocks, each name once.
    void name() {
        for (const auto& s : m_all) {
            if (s->kind == Standing::Kind::Wheels) {
                m_layerOf.push_back(m_layerOfPath[s->id]); // they stand behind a run that follows it
                for (const PlacedPart& w : *s->placedParts)
                    if (m_blockOfWheel.try_emplace(w.body.get()).second)
                        m_wheels.push_back(w.body.get()),
                            m_blockOfWheel[m_wheels.back()] = symbol("WHEEL-" + w.name, m_blocks);
                continue;
            }
            m_layerOf.push_back(symbol(s->name, m_layers));
            if (const RunResult* r = s->asRun(); r && r->path && !m_layerOfPath.count(r->path->item->id))
                m_layerOfPath[r->path->item->id] = symbol("PATH-" + r->path->item->name, m_layers);
            for (const PlacedPart& part : *s->placedParts)
                if (!m_blockOfPart.count(part.id)) m_blockOfPart[part.id] = symbol(part.name, m_blocks);
        }
    }
    void tables() {
        m_dxf.writeHeader(*m_dw);
        m_dw->dxfString(9, "$INSUNITS");
        m_dw->dxfInt(70, 4); // millimetres
        m_dw->dxfString(9, "$MEASUREMENT");
        m_dw->dxfInt(70, 1);
        m_dw->sectionEnd();
        m_dw->sectionTables();
        m_dxf.writeVPort(*m_dw);
        m_dw->tableLinetypes(3);
        for (const char* type : {"BYBLOCK", "BYLAYER", "CONTINUOUS"})
            m_dxf.writeLinetype(*m_dw, DL_LinetypeData(type, type, 0, 0, 0.0));
        m_dw->tableEnd();
        m_dw->tableLayers(int(m_layers.size()));
        for (const auto& l : m_layers)
            m_dxf.writeLayer(*m_dw, DL_LayerData(l, 0),
                             DL_Attributes("", l.starts_with("PATH-") ? 4 : 7, -1, "CONTINUOUS", 1.0));
        m_dw->tableEnd();
        m_dw->tableStyle(1);
        m_dxf.writeStyle(*m_dw, DL_StyleData("Standard", 0, 0.0, 1.0, 0.0, 0, 2.5, "txt", ""));
        m_dw->tableEnd();
        m_dxf.writeView(*m_dw);
        m_dxf.writeUcs(*m_dw);
        m_dw->tableAppid(1);
        m_dxf.writeAppid(*m_dw, "ACAD");
        m_dw->tableEnd();
        m_dxf.writeDimStyle(*m_dw, 1, 1, 1, 1, 1);
    }
    /// By hand: the library's own records name layouts and a second paper space, which are not there.
    void blockRecords() {
        m_dw->dxfString(0, "TABLE");
        m_dw->dxfString(2, "BLOCK_RECORD");
        m_dw->dxfHex(5, 1);
        m_dw->dxfString(100, "AcDbSymbolTable");
        m_dw->dxfInt(70, 1);
        for (const auto& [space, handle] : {std::pair{"*Model_Space", 0x1F}, {"*Paper_Space", 0x1B}}) {
            m_dw->dxfString(0, "BLOCK_RECORD");
            m_dw->dxfHex(5, handle);
            m_dw->dxfString(100, "AcDbSymbolTableRecord");
            m_dw->dxfString(100, "AcDbBlockTableRecord");
            m_dw->dxfString(2, space);
            m_dw->dxfHex(340, 0);
        }
        for (const auto& b : m_blocks) m_dxf.writeBlockRecord(*m_dw, b);
        m_dw->tableEnd();
        m_dw->sectionEnd();
    }
    void blocks() {
        m_dw->sectionBlocks();
        for (const char* space : {"*Model_Space", "*Paper_Space"}) {
            m_dxf.writeBlock(*m_dw, DL_BlockData(space, 0, 0, 0, 0));
            m_dxf.writeEndBlock(*m_dw, space);
        }
        std::set<Id> written;
        for (const auto& s : m_all)
            for (const PlacedPart& part : *s->placedParts) {
                if (part.id == 0 || !written.insert(part.id).second) continue;
                m_dxf.writeBlock(*m_dw, DL_BlockData(m_blockOfPart[part.id], 0, 0, 0, 0));
                for (const auto& ring : outlineOf(*part.body, part.seat).rings) m_out.outline(ring);
                m_dxf.writeEndBlock(*m_dw, m_blockOfPart[part.id]);
            }
        for (const Body* body : m_wheels) {
            const std::string& name = m_blockOfWheel[body];
            m_dxf.writeBlock(*m_dw, DL_BlockData(name, 0, 0, 0, 0));
            for (const auto& ring : outlineOf(*body, Seat{Vec3(0, 0, 0)}).rings) m_out.outline(ring);
            m_dxf.writeEndBlock(*m_dw, name);
        }
        m_dw->sectionEnd();
    }
    void entities() {
        m_dw->sectionEntities();
        std::set<Id> paths;
        const auto insert = [&](size_t k) {
            m_all[k]->eachInstance([&](const Instance& i) {
                m_out.insert(i.part.id != 0 ? m_blockOfPart[i.part.id] : m_blockOfWheel[i.part.body.get()],
                             m_layerOf[k], i.frame(), i.size());
            });
        };
        for (size_t k = 0; k < m_all.size(); ++k) {
            if (m_all[k]->kind == Standing::Kind::Wheels) continue;
            if (const RunResult* r = m_all[k]->asRun(); r && r->path && paths.insert(r->path->item->id).second) {
                m_out.path(r->placed->path, m_layerOfPath[r->path->item->id]);
                if (k + 1 < m_all.size() && m_all[k + 1]->kind == Standing::Kind::Wheels)
                    insert(k + 1); // with their path
            }
            insert(k);
        }
        m_dw->sectionEnd();
    }
    /// The library's own objects name no owners, which readers repair in silence: the root and its one entry are
    /// enough.
    void objects() {
        m_dw->section("OBJECTS");
        const auto dictionary = [&](const char* handle, const char* owner) {
            m_dw->dxfString(0, "DICTIONARY");
            m_dw->dxfString(5, handle);
            m_dw->dxfString(330, owner);
            m_dw->dxfString(100, "AcDbDictionary");
            m_dw->dxfInt(281, 1);
        };
        dictionary("C", "0");
        m_dw->dxfString(3, "ACAD_GROUP");
        m_dw->dxfString(350, "D");
        dictionary("D", "C");
        m_dw->sectionEnd();
    }

    Standings m_all;
    DL_Dxf& m_dxf;
    DL_WriterA* m_dw;
    DxfWriter m_out;
    std::set<std::string> m_layers{"0"}, m_blocks;
    std::map<Id, std::string> m_layerOfPath, m_blockOfPart;
    std::map<const Body*, std::string> m_blockOfWheel; // seen along its axis
    std::vector<const Body*> m_wheels;
    std::vector<std::string> m_layerOf;
};

std::optional<Problem> write(const Standings& own, const std::string& file) {
    DL_Dxf dxf;
    const std::unique_ptr<DL_WriterA> dw(dxf.out(file.c_str(), DL_Codes::AC1015));
    if (!dw) return Problem{"Cannot write a temporary file for the drawing.", ""};
    DxfFile(own, dxf, *dw).write();
    return std::nullopt;
}

} // namespace

Result<std::string> dxf(const Standings& all) {
    std::string name = (std::filesystem::temp_directory_path() / "vicinal-XXXXXX").string();
    const int handle = mkstemp(name.data());
    if (handle < 0) return Problem{"Cannot write a temporary file for the drawing.", ""};
    close(handle);
    const auto problem = write(all, name);
    auto bytes = problem ? Result<std::string>(*problem) : readFile(name);
    unlink(name.c_str());
    return bytes;
}

} // namespace vicinal
