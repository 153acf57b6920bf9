// A sheet as DXF, the oldest release that everything reads (AC1009): lines, arcs, circles, polylines, text, layers.
#include "base/text.h"
#include "exchange/sheet/writers.h"
#include "geometry/path/path.h"
#include <cmath>
#include <map>
#include <set>

namespace vicinal {
namespace {

std::string real(double v) { return text::fixed(v, 9); }

/// Layer names of that release: capitals, digits, dash, dollar, underscore.
std::string layerName(const std::string& name) {
    std::string out;
    for (unsigned char c : name) out += std::isalnum(c) || c == '-' ? char(std::toupper(c)) : '_';
    return out.empty() ? "0" : out.substr(0, 31);
}

struct Entities {
    std::string out;
    void put(int code, const std::string& value) { out += std::to_string(code) + "\n" + value + "\n"; }
    void at(int code, const Vec2& p) {
        put(code, real(p.x()));
        put(code + 10, real(p.y()));
        put(code + 20, "0.0");
    }
    void begin(const char* kind, const std::string& layer) {
        put(0, kind);
        put(8, layerName(layer));
    }
    static Vec2 flat(const Vec3& p) { return p.head<2>(); }

    void line(const Vec2& a, const Vec2& b, const std::string& layer) {
        begin("LINE", layer);
        at(10, a);
        at(11, b);
    }
    void piece(const Segment& s, const std::string& layer) {
        if (const auto* l = std::get_if<Line>(&s)) return line(flat(l->a), flat(l->b), layer);
        if (const auto* a = std::get_if<Arc>(&s)) {
            const bool full = std::abs(a->sweep) > 2 * kPi - tolerance::rounding;
            begin(full ? "CIRCLE" : "ARC", layer);
            at(10, flat(a->centre));
            put(40, real(a->radius));
            if (full) return;
            // Always counter-clockwise.
            const bool left = a->sweep * (a->xAxis.x() * a->yAxis.y() - a->xAxis.y() * a->yAxis.x()) > 0;
            const Vec2 from = flat(startOf(s)) - flat(a->centre), to = flat(endOf(s)) - flat(a->centre);
            const auto degrees = [](const Vec2& d) {
                const double t = std::atan2(d.y(), d.x()) / kDegree;
                return t < 0 ? t + 360 : t;
            };
            put(50, real(degrees(left ? from : to)));
            put(51, real(degrees(left ? to : from)));
            return;
        }
        if (const auto path = Path::make({s}, false)) { // that release has no splines: to a thousandth
            begin("POLYLINE", layer);
            put(66, "1");
            at(10, Vec2::Zero());
            for (const Vec3& p : path->polyline(1e-3)) {
                begin("VERTEX", layer);
                at(10, flat(p));
            }
            begin("SEQEND", layer);
        }
    }
};

void addLabel(Entities& e, const Label& l) {
    e.begin("TEXT", l.layer);
    e.at(10, l.at);
    e.put(40, real(l.height));
    std::string plain;
    for (char c : l.text) plain += c == '\n' || c == '\r' ? ' ' : c;
    e.put(1, plain);
    if (l.turn != 0) e.put(50, real(l.turn / kDegree));
    if (l.anchor != Anchor::Left) {
        e.put(72, l.anchor == Anchor::Middle ? "1" : "2");
        e.at(11, l.at);
    }
}

/// Header and layers.
void addHead(Entities& out, const Sheet& s, const std::set<std::string>& layers) {
    out.put(0, "SECTION");
    out.put(2, "HEADER");
    out.put(9, "$ACADVER");
    out.put(1, "AC1009");
    out.put(9, "$EXTMIN");
    out.at(10, Vec2::Zero());
    out.put(9, "$EXTMAX");
    out.at(10, Vec2(s.width, s.height));
    out.put(0, "ENDSEC");
    out.put(0, "SECTION");
    out.put(2, "TABLES");
    out.put(0, "TABLE");
    out.put(2, "LAYER");
    out.put(70, std::to_string(layers.size()));
    for (const auto& name : layers) {
        out.put(0, "LAYER");
        out.put(2, name);
        out.put(70, "0");
        out.put(62, "7");
        out.put(6, "CONTINUOUS");
    }
    out.put(0, "ENDTAB");
    out.put(0, "ENDSEC");
}

} // namespace

Result<std::string> dxfOf(const Sheet& s) {
    Entities e;
    std::set<std::string> layers{"0"};
    std::map<std::string, std::string> names; ///< of blocks, as the file calls them
    Entities blocks;
    for (const auto& [name, inks] : s.blocks) {
        names[name] = "B" + std::to_string(names.size() + 1) + "_" + layerName(name).substr(0, 24);
        blocks.begin("BLOCK", "0");
        blocks.put(2, names[name]);
        blocks.put(70, "0");
        blocks.at(10, Vec2::Zero());
        blocks.put(3, names[name]);
        for (const Ink& ink : inks)
            for (const Segment& piece : ink.pieces) blocks.piece(piece, "0");
        blocks.begin("ENDBLK", "0");
    }
    for (const Insert& i : s.inserts) {
        const auto name = names.find(i.block);
        if (name == names.end()) continue;
        layers.insert(layerName(i.layer));
        e.begin("INSERT", i.layer);
        e.put(2, name->second);
        e.at(10, i.at);
        if (i.turn != 0) e.put(50, real(i.turn / kDegree));
    }
    for (const Ink& ink : s.inks) {
        if (ink.fill && *ink.fill >= 1) continue; // a cover
        layers.insert(layerName(ink.layer));
        for (const Segment& piece : ink.pieces) e.piece(piece, ink.layer);
    }
    for (const Label& l : s.labels) {
        layers.insert(layerName(l.layer));
        addLabel(e, l);
    }
    Entities out;
    addHead(out, s, layers);
    if (!s.blocks.empty()) {
        out.put(0, "SECTION");
        out.put(2, "BLOCKS");
        out.out += blocks.out;
        out.put(0, "ENDSEC");
    }
    out.put(0, "SECTION");
    out.put(2, "ENTITIES");
    out.out += e.out;
    out.put(0, "ENDSEC");
    out.put(0, "EOF");
    return out.out;
}

} // namespace vicinal
