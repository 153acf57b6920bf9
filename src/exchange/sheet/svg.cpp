// SVG: a sheet in millimetres.
#include "base/text.h"
#include "exchange/out/xml.h"
#include "exchange/sheet/writers.h"
#include "geometry/curves/edit.h"
#include <cmath>
#include <map>

namespace vicinal {
namespace {

std::string number(double v) { return text::number(v, 6); }
std::string grey(double v) {
    const auto byte = int(std::lround(255 * v));
    return "rgb(" + std::to_string(byte) + "," + std::to_string(byte) + "," + std::to_string(byte) + ")";
}

class SvgWriter {
public:
    explicit SvgWriter(const Sheet& s) : m_sheet(s) {}

    std::string at(const Vec3& p) const { return number(p.x()) + " " + number(m_sheet.height - p.y()); }

    std::string way(const Ink& ink) const {
        std::string d;
        std::optional<Vec3> last;
        for (const Segment& s : ink.pieces) {
            const Vec3 from = startOf(s);
            if (!last || (from - *last).head<2>().norm() > tolerance::length) d += "M " + at(from) + " ";
            follow(d, s);
            last = endOf(s);
        }
        return d + (ink.closed ? "Z" : "");
    }

private:
    void follow(std::string& d, const Segment& s) const {
        if (const auto* l = std::get_if<Line>(&s)) {
            d += "L " + at(l->b) + " ";
        } else if (const auto* a = std::get_if<Arc>(&s)) {
            const int n = std::abs(a->sweep) > 1.5 * kPi ? 2 : 1; // a full circle has no start and end of its own
            const bool left = a->sweep * (a->xAxis.x() * a->yAxis.y() - a->xAxis.y() * a->yAxis.x()) > 0;
            for (int i = 1; i <= n; ++i) {
                const double t = a->sweep * i / n;
                const Vec3 p = a->centre + a->radius * (std::cos(t) * a->xAxis + std::sin(t) * a->yAxis);
                d += "A " + number(a->radius) + " " + number(a->radius) + " 0 " +
                     (std::abs(a->sweep) / n > kPi ? "1 " : "0 ") + (left ? "0 " : "1 ") + at(p) + " ";
            }
        } else if (const auto* b = std::get_if<Bezier>(&s)) {
            d += "C " + at(b->p[1]) + " " + at(b->p[2]) + " " + at(b->p[3]) + " ";
        } else {
            for (const Segment& c : cubicsNear(s, 1e-4)) follow(d, c);
        }
    }
    const Sheet& m_sheet;
};

} // namespace

std::string svgOf(const Sheet& sheet, const std::string& title) {
    const Sheet s = expanded(sheet);
    const std::string size = number(s.width) + "mm\" height=\"" + number(s.height) + "mm\" viewBox=\"0 0 " +
                             number(s.width) + " " + number(s.height);
    std::string out = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" +
                      size + "\">\n<title>" + xmlText(title) + "</title>\n";
    const SvgWriter writer(s);
    std::map<std::string, std::string> layers;
    std::vector<std::string> order;
    const auto layer = [&](const std::string& name) -> std::string& {
        const auto [it, fresh] = layers.try_emplace(name);
        if (fresh) order.push_back(name);
        return it->second;
    };
    for (const Ink& ink : s.inks) {
        if (ink.pieces.empty()) continue;
        std::string style = "fill=\"" + (ink.fill ? grey(*ink.fill) : std::string("none")) + "\" stroke=\"" +
                            grey(ink.pen.grey) + "\" stroke-width=\"" + number(ink.pen.width) + "\"";
        if (!ink.pen.dash.empty()) {
            style += " stroke-dasharray=\"";
            for (size_t k = 0; k < ink.pen.dash.size(); ++k) style += (k ? " " : "") + number(ink.pen.dash[k]);
            style += "\"";
        }
        layer(ink.layer) += "<path " + style + " d=\"" + writer.way(ink) + "\"/>\n";
    }
    for (const Label& l : s.labels) {
        const char* anchors[] = {"start", "middle", "end"};
        const double x = l.at.x(), y = s.height - l.at.y();
        layer(l.layer) += "<text x=\"" + number(x) + "\" y=\"" + number(y) + "\" font-family=\"Inter, sans-serif\"" +
                          (l.bold ? " font-weight=\"600\"" : "") + " font-size=\"" + number(l.height / 0.727) +
                          "\" text-anchor=\"" + anchors[int(l.anchor)] + "\" fill=\"" + grey(l.grey) + "\"" +
                          (l.turn != 0 ? " transform=\"rotate(" + number(-l.turn / kDegree) + " " + number(x) + " " +
                                             number(y) + ")\""
                                       : "") +
                          ">" + xmlText(l.text) + "</text>\n";
    }
    for (const auto& name : order) out += "<g id=\"" + xmlText(name) + "\">\n" + layers[name] + "</g>\n";
    return out + "</svg>\n";
}

} // namespace vicinal
