#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/readers.h"
#include "exchange/in/dxf_facts.h"
#include "geometry/path/spline.h"
#include "model/file/document_file.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <dxflib/dl_creationadapter.h>
#include <dxflib/dl_dxf.h>
#include <map>
#include <sstream>

namespace vicinal {
namespace {

/// Axes of an entity's own plane from its extrusion direction (the arbitrary axis rule of the DXF reference).
Mat3 planeAxes(const Vec3& direction) {
    const Vec3 z = direction.normalized();
    const Vec3 x = (std::abs(z.x()) < 1.0 / 64 && std::abs(z.y()) < 1.0 / 64 ? Vec3::UnitY() : Vec3::UnitZ())
                       .cross(z)
                       .normalized();
    Mat3 R;
    R << x, z.cross(x), z;
    return R;
}

class Collector : public DL_CreationAdapter {
public:
    CurveFile file;
    bool headerSeen = false;
    std::map<std::string, int> passedOver;

    void setVariableInt(const std::string& key, int value, int) override {
        headerSeen = true;
        if (key == "$INSUNITS") file.millimetresPerUnit = dxfin::unitOfHeader(value);
    }
    void addLayer(const DL_LayerData&) override { headerSeen = true; }
    void addBlock(const DL_BlockData& b) override {
        finishEntity();
        // The two spaces are blocks too; what is in them is drawn, what is in others waits for an insert.
        m_paperBlock = b.name.starts_with("*Paper_Space") || b.name.starts_with("*PAPER_SPACE");
        const bool space = b.name.starts_with("*Model_Space") || b.name.starts_with("*MODEL_SPACE") ||
                           b.name.starts_with("*Paper_Space") || b.name.starts_with("*PAPER_SPACE");
        m_block = space ? nullptr : &m_blocks[b.name];
        if (m_block) m_block->base = {b.bpx, b.bpy, b.bpz};
    }
    void endBlock() override {
        finishEntity();
        m_block = nullptr;
        m_paperBlock = false;
    }
    /// Every pair of the file, before the library makes sense of it: what it keeps to itself.
    void pair(int code, const std::string& value) {
        if (code == 0) {
            m_last = std::move(m_now);
            m_now = {};
            m_now.name = value;
            return;
        }
        const auto number = [&] { return std::strtod(value.c_str(), nullptr); };
        switch (code) {
        case 30: m_now.z = number(); break;
        case 67: m_now.paper = number() == 1; break;
        case 70: m_now.flags = int(std::clamp(number(), 0.0, 65535.0)); break;
        case 12: m_now.tangents[0] = Vec3(number(), 0, 0); break;
        case 22:
            if (m_now.tangents[0]) m_now.tangents[0]->y() = number();
            break;
        case 32:
            if (m_now.tangents[0]) m_now.tangents[0]->z() = number();
            break;
        case 13: m_now.tangents[1] = Vec3(number(), 0, 0); break;
        case 23:
            if (m_now.tangents[1]) m_now.tangents[1]->y() = number();
            break;
        case 33:
            if (m_now.tangents[1]) m_now.tangents[1]->z() = number();
            break;
        default: break;
        }
    }

    void addLine(const DL_LineData& d) override { add({Line{{d.x1, d.y1, d.z1}, {d.x2, d.y2, d.z2}}}, false); }
    void addArc(const DL_ArcData& d) override {
        const double from = std::fmod(d.angle1, 360) * kDegree;
        add({arc({d.cx, d.cy, d.cz}, d.radius, from, turnFrom(std::fmod(d.angle2, 360) * kDegree - from))}, false);
    }
    void addCircle(const DL_CircleData& d) override { add({arc({d.cx, d.cy, d.cz}, d.radius, 0, 2 * kPi)}, true); }
    void addEllipse(const DL_EllipseData& d) override {
        const Vec3 major(d.mx, d.my, d.mz);
        const Vec3 z = extrusionDirection();
        const Vec3 minor = z.normalized().cross(major) * d.ratio;
        const double t0 = std::fmod(d.angle1, 2 * kPi);
        double sweep = turnFrom(std::fmod(d.angle2, 2 * kPi) - t0);
        const bool full = sweep > 2 * kPi - tolerance::rounding;
        if (full) sweep = 2 * kPi;
        const double t1 = t0 + sweep;
        if (!(major.norm() > 0) || !(minor.norm() > 0)) return pass("ellipses without size");
        add({ellipseArc(Vec3(d.cx, d.cy, d.cz), major, minor, t0, t1)}, full);
    }
    void addPolyline(const DL_PolylineData& d) override {
        finishEntity();
        m_kind = (d.flags & (16 | 64)) ? Pending::Mesh : Pending::Polyline;
        if (m_kind == Pending::Mesh) pass("meshes");
        m_flags = d.flags;
        // The library drops where an old polyline lies (its own z); it is in the file's words.
        m_elevation = m_last.name == "POLYLINE" ? m_last.z : d.elevation;
        m_paper = m_last.paper;
        m_layer = attributes.getLayer();
        m_axes = planeAxes(extrusionDirection());
        m_points.clear();
        m_bulges.clear();
    }
    void addVertex(const DL_VertexData& d) override {
        if (m_kind != Pending::Polyline) return;
        if (m_last.name == "VERTEX" && m_last.flags & 16) return; // the frame of a curve that is given by its points
        const bool inSpace = m_flags & 8;
        const Vec3 p(d.x, d.y, !inSpace && d.z == 0 ? m_elevation : d.z);
        m_points.push_back(inSpace ? p : Vec3(m_axes * p));
        m_bulges.push_back(inSpace ? 0 : d.bulge);
    }
    void addSpline(const DL_SplineData& d) override {
        finishEntity();
        m_kind = Pending::Spline;
        m_layer = attributes.getLayer();
        m_flags = d.flags;
        m_paper = m_last.paper;
        m_tangents = m_last.tangents;
        m_nurbs = {};
        m_nurbs.degree = int(d.degree);
        m_fit.clear();
    }
    void addControlPoint(const DL_ControlPointData& d) override {
        m_nurbs.points.push_back({d.x, d.y, d.z});
        m_nurbs.weights.push_back(d.w == 0 ? 1 : d.w);
    }
    void addKnot(const DL_KnotData& d) override { m_nurbs.knots.push_back(d.k); }
    void addFitPoint(const DL_FitPointData& d) override { m_fit.push_back({d.x, d.y, d.z}); }
    void addInsert(const DL_InsertData& d) override {
        finishEntity();
        if (m_last.paper) return (void)++passedOver["inserts in paper space"];
        (m_block ? m_block->inserts : m_inserts)
            .push_back({d.name,
                        attributes.getLayer(),
                        {d.ipx, d.ipy, d.ipz},
                        {d.sx, d.sy, d.sz},
                        d.angle * kDegree,
                        std::max(1, d.cols),
                        std::max(1, d.rows),
                        d.colSp,
                        d.rowSp,
                        planeAxes(extrusionDirection())});
    }
    /// Puts the inserted blocks among the strands; called when all is read.
    void openInserts() {
        for (const auto& i : m_inserts) open(i, i.layer, Mat3::Identity(), Vec3::Zero(), 0);
    }
    void addPoint(const DL_PointData& d) override {
        pass("points"); // as paths
        if (outside()) file.points.push_back({d.x, d.y, d.z});
    }
    void addText(const DL_TextData&) override { pass("texts"); }
    void addMText(const DL_MTextData&) override { pass("texts"); }
    void addHatch(const DL_HatchData&) override { pass("hatches"); }
    void add3dFace(const DL_3dFaceData& d) override {
        pass("faces");
        if (!outside()) return;
        std::array<Vec3, 4> corners;
        for (int k = 0; k < 4; ++k) corners[size_t(k)] = {d.x[k], d.y[k], d.z[k]};
        file.faces.push_back(corners);
    }
    // Not endSection(): the library calls it at nearly every tag, within a polyline too.
    void endSequence() override { finishEntity(); }
    void endEntity() override {}

    void finishEntity() {
        if (m_kind == Pending::Polyline) finishPolyline();
        if (m_kind == Pending::Spline) finishSpline();
        m_kind = Pending::None;
    }

    const Stop* stop = nullptr;
    struct Stopped {};
    static constexpr long kMostCopies = 200'000; ///< of blocks: a minute and gigabytes beyond that
    bool tooManyCopies() const { return m_copies > kMostCopies; }

private:
    /// An entity as its pairs say it.
    struct Raw {
        std::string name;
        double z = 0;
        bool paper = false;
        int flags = 0;
        std::array<std::optional<Vec3>, 2> tangents;
    };

    bool outside() const { return !m_block && !m_paperBlock && !m_now.paper && file.points.size() < 5'000'000; }
    /// A turn in (0, 2 pi], by remainder: a file may say 1e17 degrees.
    static double turnFrom(double angle) {
        double sweep = std::fmod(angle, 2 * kPi);
        if (sweep <= tolerance::fine) sweep += 2 * kPi;
        return sweep;
    }

    enum class Pending { None, Polyline, Mesh, Spline };
    struct Insert {
        std::string name, layer;
        Vec3 at, scale;
        double turn;
        int columns, rows;
        double columnStep, rowStep;
        Mat3 axes;
    };
    struct Block {
        Vec3 base = Vec3::Zero();
        std::vector<Strand> strands;
        std::vector<Insert> inserts;
    };

    /// `layer`: what its content on layer 0 takes, from outside where the insert is on layer 0 itself.
    void open(const Insert& i, const std::string& layer, const Mat3& outer, const Vec3& shift, int depth) {
        const auto it = m_blocks.find(i.name);
        if (it == m_blocks.end()) return pass("inserts of a block that is not there");
        if (depth > 16) return pass("inserts nested more than 16 deep");
        if (size_t(i.columns) * size_t(i.rows) > 100000) return pass("inserts of more than 100000 copies");
        const Mat3 turn = Eigen::AngleAxisd(i.turn, Vec3::UnitZ()).toRotationMatrix();
        const Mat3 own = i.axes * turn * Mat3(i.scale.asDiagonal());
        for (int c = 0; c < i.columns; ++c)
            for (int r = 0; r < i.rows; ++r) {
                if (stop && *stop) throw Stopped{};
                if (++m_copies > kMostCopies) return; // inserts that multiply: refused at the end
                const Vec3 at =
                    i.axes * (i.at + turn * Vec3(c * i.columnStep, r * i.rowStep, 0)) - own * it->second.base;
                const Mat3 A = outer * own;
                const Vec3 t = outer * at + shift;
                for (const Strand& s : it->second.strands) {
                    Strand moved = s;
                    if (moved.layer == "0") moved.layer = layer; // as the format says: layer 0 takes the insert's
                    for (auto& x : moved.segments) x = mapped(x, A, t);
                    bool sound = file.strands.size() < 2'000'000;
                    for (const auto& x : moved.segments) sound = sound && defectOf(x).empty();
                    if (sound)
                        file.strands.push_back(std::move(moved));
                    else
                        ++passedOver["inserted curves that are not sound"];
                }
                for (const Insert& inner : it->second.inserts)
                    open(inner, inner.layer == "0" ? layer : inner.layer, A, t, depth + 1);
            }
    }

    void pass(const std::string& what) {
        if (!m_block) ++passedOver[what];
    }
    Vec3 extrusionDirection() {
        const double* d = getExtrusion()->getDirection();
        const Vec3 z(d[0], d[1], d[2]);
        return z.norm() > tolerance::rounding ? z : Vec3(Vec3::UnitZ());
    }
    Arc arc(const Vec3& centre, double radius, double from, double sweep) {
        const Mat3 R = planeAxes(extrusionDirection());
        return {R * centre, R * Vec3(std::cos(from), std::sin(from), 0), R * Vec3(-std::sin(from), std::cos(from), 0),
                radius, sweep};
    }
    void add(std::vector<Segment> segments, bool closed) {
        finishEntity();
        m_paper = m_last.paper;
        store(std::move(segments), closed, attributes.getLayer());
    }
    void store(std::vector<Segment> segments, bool closed, const std::string& layer) {
        if (stop && *stop) throw Stopped{};
        if (m_paper || m_paperBlock) return (void)++passedOver["curves in paper space"];
        for (const auto& s : segments)
            if (const auto why = defectOf(s); !why.empty()) return pass("curves that are not sound (" + why + ")");
        if (!segments.empty())
            (m_block ? m_block->strands : file.strands).push_back({std::move(segments), closed, layer});
    }
    void finishPolyline() {
        std::vector<Segment> out;
        const size_t n = m_points.size();
        const bool closed = m_flags & 1;
        for (size_t i = 0; i + 1 < n + (closed ? 1 : 0); ++i) {
            const Vec3 a = m_points[i], b = m_points[(i + 1) % n];
            if ((b - a).norm() < tolerance::fine) continue;
            const double bulge = m_bulges[i];
            if (std::abs(bulge) < tolerance::fine) {
                out.push_back(Line{a, b});
                continue;
            }
            // bulge = tan(sweep / 4), positive to the left of the chord
            const Vec3 chord = b - a, left = m_axes.col(2).cross(chord).normalized();
            const double c = chord.norm(), sweep = 4 * std::atan(bulge);
            const Vec3 centre = (a + b) / 2 + left * (c / 2 * (1 - bulge * bulge) / (2 * bulge));
            Arc arc;
            arc.centre = centre;
            arc.radius = (a - centre).norm();
            arc.xAxis = (a - centre) / arc.radius;
            arc.yAxis = m_axes.col(2).cross(arc.xAxis);
            arc.sweep = sweep;
            out.push_back(arc);
        }
        if (!out.empty())
            store(std::move(out), closed, m_layer);
        else
            pass("polylines without length");
    }
    void finishSpline() {
        if (m_nurbs.points.empty() && m_fit.size() >= 2) { // only fit points: the file leaves the curve to the reader
            const bool open = !(m_flags & 1);
            if (open && (m_tangents[0] || m_tangents[1]))
                return store(throughPointsClamped(m_fit, m_tangents[0], m_tangents[1]), false, m_layer);
            std::unique_ptr<bool[]> smooth(new bool[m_fit.size()]);
            std::fill_n(smooth.get(), m_fit.size(), true);
            const bool closed = m_flags & 1;
            store(
                throughPoints(m_fit, std::span<const bool>(smooth.get(), m_fit.size()), closed, Knotting::ChordLength),
                closed, m_layer);
            return;
        }
        const auto why = defectOf(m_nurbs);
        if (!why.empty()) return pass("splines that are not sound (" + why + ")");
        const bool closed = (startOf(m_nurbs) - endOf(m_nurbs)).norm() < tolerance::length;
        store({m_nurbs}, closed, m_layer);
    }

    Block* m_block = nullptr; ///< the block that is being read
    std::map<std::string, Block> m_blocks;
    std::vector<Insert> m_inserts;
    Pending m_kind = Pending::None;
    int m_flags = 0;
    Raw m_now, m_last; ///< the entity whose pairs come in, and the one before it, which the library hands over
    bool m_paper = false, m_paperBlock = false;
    std::array<std::optional<Vec3>, 2> m_tangents;
    long m_copies = 0;
    double m_elevation = 0;
    std::string m_layer;
    Mat3 m_axes = Mat3::Identity();
    std::vector<Vec3> m_points, m_fit;
    std::vector<double> m_bulges;
    Nurbs m_nurbs;
};

} // namespace

Problem cancelled() { return {"Bringing in was cancelled.", "file"}; }

Result<CurveFile> here::readDxf(const std::filesystem::path& path, const std::string& name, const Stop* stop) {
    auto bytes = readFile(path);
    if (!bytes) return bytes.problem();
    const bool entities = bytes->find("ENTITIES") != std::string::npos;
    if (!entities || bytes->find("SECTION") == std::string::npos)
        return Problem{say::value(name) + " is not a text DXF: it has no ENTITIES section. Save it as an ASCII DXF.",
                       "file"};
    const size_t last = bytes->find_last_not_of(" \r\n\t");
    if (auto p = dxfin::statedTooMuch(*bytes, name)) return *p;
    const bool cut = last == std::string::npos || last < 2 || bytes->substr(last - 2, 3) != "EOF";
    Collector collector;
    DL_Dxf dxf;
    collector.stop = stop;
    try {
        std::stringstream pair;
        dxf.in(pair, &collector); // sets it up; the pairs are handed over one by one, each seen here first
        dxfin::eachPair(*bytes, [&](int code, const std::string& value, long) {
            collector.pair(code, value);
            pair.clear();
            pair.str(std::to_string(code) + "\n" + value + "\n");
            dxf.readDxfGroups(pair, &collector);
            return true;
        });
    } catch (const Collector::Stopped&) {
        return cancelled();
    }
    try {
        collector.finishEntity();
        collector.openInserts();
    } catch (const Collector::Stopped&) {
        return cancelled();
    }
    if (collector.tooManyCopies())
        return Problem{
            say::value(name) + " inserts its blocks more than " + say::count(Collector::kMostCopies) +
                " times. Take those that are needed into a drawing of their own, or save it without inserts.",
            "file"};
    if (cut) collector.file.remarks.push_back("The file is cut off: it has no end mark. What is sound was taken.");
    for (const auto& [what, n] : collector.passedOver)
        collector.file.remarks.push_back(say::count(n) + " " + what + " passed over.");
    const auto wild = [](const Vec3& p) { return !inReach(p); };
    std::erase_if(collector.file.points, wild);
    std::erase_if(collector.file.faces, [&](const auto& f) { return std::any_of(f.begin(), f.end(), wild); });
    if (collector.file.strands.empty() && collector.file.points.empty() && collector.file.faces.empty()) {
        Words text = say::value(name) + " has no line, arc, circle, ellipse, polyline or spline in it.";
        for (const auto& r : collector.file.remarks) text += Words(" ") + r;
        return Problem{text, "file"};
    }
    return std::move(collector.file);
}

} // namespace vicinal
