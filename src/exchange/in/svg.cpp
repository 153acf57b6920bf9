// XML by libxml2 (it knows the lines), path data and transforms by svgpp's grammars.
#include "base/say.h"
#include "base/text.h"
#include "exchange/in/child/readers.h"
#include "exchange/in/svg_values.h"
#include "geometry/curves/shapes.h"
#include <boost/array.hpp>
#include <cmath>
#include <cstring>
#include <libxml/parser.h>
#include <libxml/tree.h>
#include <map>
#include <sstream>
#include <svgpp/parser/path_data.hpp>
#include <svgpp/parser/transform_list.hpp>
#include <svgpp/policy/error.hpp>
#include <svgpp/policy/path.hpp>
#include <svgpp/policy/transform.hpp>

namespace vicinal {
namespace {

using namespace svgin;

using Affine = Eigen::Matrix<double, 2, 3>;

Affine times(const Affine& a, const Affine& b) {
    Affine out;
    out.leftCols<2>() = a.leftCols<2>() * b.leftCols<2>();
    out.col(2) = a.leftCols<2>() * b.col(2) + a.col(2);
    return out;
}

/// Collects what the grammar of path data finds, already transformed.
class PathContext {
public:
    PathContext(const Affine& m, std::vector<Strand>& out, std::string layer)
        : m_m(m), m_out(out), m_layer(std::move(layer)) {}

    template<class C> void path_move_to(double x, double y, C) {
        finish(false);
        m_at = m_start = {x, y};
    }
    template<class C> void path_line_to(double x, double y, C) { line({x, y}); }
    template<class C> void path_cubic_bezier_to(double x1, double y1, double x2, double y2, double x, double y, C) {
        if (std::isfinite(x + y + x1 + y1 + x2 + y2))
            m_segments.push_back(Bezier{{go(m_at), go({x1, y1}), go({x2, y2}), go({x, y})}});
        m_at = {x, y};
    }
    template<class C>
    void path_elliptical_arc_to(double rx, double ry, double rotation, bool large, bool sweep, double x, double y, C) {
        arc(std::abs(rx), std::abs(ry), rotation * kDegree, large, sweep, {x, y});
    }
    void path_close_subpath() {
        if ((m_at - m_start).norm() > tolerance::rounding) line(m_start);
        finish(true);
        m_at = m_start;
    }
    void path_exit() { finish(false); }

    void line(const Vec2& to) {
        if ((to - m_at).norm() > 0) m_segments.push_back(Line{go(m_at), go(to)});
        m_at = to;
    }
    /// Source: Scalable Vector Graphics 1.1, appendix F.6: from the ends of an arc to its centre.
    void arc(double rx, double ry, double phi, bool large, bool sweep, const Vec2& to) {
        if (!(rx > 0) || !(ry > 0)) return line(to);
        if ((to - m_at).norm() == 0) return;
        Eigen::Matrix2d R;
        R << std::cos(phi), -std::sin(phi), std::sin(phi), std::cos(phi);
        const Vec2 p = R.transpose() * (m_at - to) / 2;
        const double grow = std::sqrt(p.x() * p.x() / (rx * rx) + p.y() * p.y() / (ry * ry));
        if (grow > 1) rx *= grow, ry *= grow;
        const double d = rx * rx * p.y() * p.y() + ry * ry * p.x() * p.x();
        const double k = (large == sweep ? -1 : 1) * std::sqrt(std::max(0.0, (rx * rx * ry * ry - d) / d));
        const Vec2 c(k * rx * p.y() / ry, -k * ry * p.x() / rx), middle = R * c + (m_at + to) / 2;
        const double t0 = std::atan2((p.y() - c.y()) / ry, (p.x() - c.x()) / rx);
        double turn = std::atan2((-p.y() - c.y()) / ry, (-p.x() - c.x()) / rx) - t0;
        if (sweep && turn < 0) turn += 2 * kPi;
        if (!sweep && turn > 0) turn -= 2 * kPi;
        ellipse(middle, rx * R.col(0), ry * R.col(1), t0, turn);
        m_at = to;
    }
    void ellipse(const Vec2& middle, const Vec2& major, const Vec2& minor, double t0, double turn) {
        const Vec3 c = go(middle), x = go(middle + major) - c, y = go(middle + minor) - c;
        const double r = x.norm();
        if (std::abs(y.norm() - r) < tolerance::rounding * r && std::abs(x.dot(y)) < tolerance::rounding * r * r)
            m_segments.push_back(
                Arc{c, (std::cos(t0) * x + std::sin(t0) * y) / r, (-std::sin(t0) * x + std::cos(t0) * y) / r, r, turn});
        else if (turn > 0)
            m_segments.push_back(ellipseArc(c, x, y, t0, t0 + turn));
        else
            m_segments.push_back(ellipseArc(c, x, -y, -t0, -t0 - turn));
    }
    void finish(bool closed) {
        std::erase_if(m_segments, [&](const Segment& s) {
            const bool bad = !defectOf(s).empty();
            m_unsound = m_unsound || bad;
            return bad;
        });
        if (!m_segments.empty()) m_out.push_back({std::move(m_segments), closed, m_layer});
        m_segments.clear();
    }
    void start(const Vec2& p) { m_at = m_start = p; }
    bool unsound() const { return m_unsound; }

private:
    Vec3 go(const Vec2& p) const {
        const Vec2 q = m_m.leftCols<2>() * p + m_m.col(2);
        return {q.x(), -q.y(), 0}; // y downwards in the file
    }
    Affine m_m;
    std::vector<Strand>& m_out;
    std::string m_layer;
    std::vector<Segment> m_segments;
    Vec2 m_at = Vec2::Zero(), m_start = Vec2::Zero();
    bool m_unsound = false;
};

struct TransformContext {
    Affine matrix = Affine::Identity();
    void transform_matrix(const boost::array<double, 6>& m) { matrix << m[0], m[2], m[4], m[1], m[3], m[5]; }
};

struct PathPolicy : svgpp::policy::path::no_shorthands {
    static const bool quadratic_bezier_as_cubic = true;
};

class SvgReader {
public:
    explicit SvgReader(const Stop* stop) : m_stop(stop) {}

    /// The inner size of the viewport that is walked through, for percentages.
    Vec2 viewport = {0, 0};

    void walk(xmlNode* n, const Affine& outer, const std::string& layer) {
        for (; n; n = n->next) {
            if (n->type != XML_ELEMENT_NODE) continue;
            if (m_stop && *m_stop) throw cancelled();
            const std::string name = reinterpret_cast<const char*>(n->name);
            Affine m = outer;
            if (attribute(n, "display") == "none" || styled(n, "display") == "none" ||
                attribute(n, "visibility") == "hidden" || styled(n, "visibility") == "hidden") {
                ++passedOver["hidden " + name];
                continue;
            }
            std::string t = attribute(n, "transform");
            if (const std::string css = styled(n, "transform"); !css.empty() && css != "none") {
                const auto same = asAttribute(css); // a style goes before the attribute
                if (!same) {
                    remark(n, "the transform \"" + text::quoted(css.substr(0, 40)) +
                                  "\" of the style cannot be read; it was passed over with what is in it");
                    continue;
                }
                t = *same;
            }
            if (!t.empty()) {
                TransformContext context;
                try {
                    svgpp::value_parser<svgpp::tag::type::transform_list,
                                        svgpp::transform_policy<svgpp::policy::transform::matrix>>::
                        parse(svgpp::tag::attribute::transform(), context, t, svgpp::tag::source::attribute());
                    m = times(outer, context.matrix);
                } catch (const std::exception&) {
                    remark(n, "the transform \"" + text::quoted(t.substr(0, 40)) +
                                  "\" cannot be read; it was passed over with what is in it");
                    continue;
                }
            }
            std::string label = attribute(n, "id");
            if (name == "svg") {
                nested(n, m, layer);
            } else if (name == "g" || name == "a" || name == "switch") {
                walk(n->children, m, name == "g" && !label.empty() ? label : layer);
            } else if (name == "defs" || name == "symbol" || name == "clipPath" || name == "mask" ||
                       name == "pattern" || name == "marker" || name == "metadata" || name == "style" ||
                       name == "title" || name == "desc" || name == "namedview") {
                if (name == "style") styleSheet(n);
                continue; // not drawn
            } else
                shape(n, name, m, layer);
        }
    }

    CurveFile file;
    std::map<std::string, int> passedOver;

    void remark(xmlNode* n, const std::string& what) {
        if (file.remarks.size() < 50) file.remarks.push_back("Line " + say::count(xmlGetLineNo(n)) + ": " + what + ".");
    }

private:
    /// A drawing within the drawing: its own place, size, viewBox and how that fits.
    void nested(xmlNode* n, const Affine& outer, const std::string& layer) {
        const auto measure = [&](const char* name, double whole, double otherwise) {
            const std::string t = attribute(n, name);
            if (t.empty()) return otherwise;
            if (t.back() == '%') return std::strtod(t.c_str(), nullptr) / 100 * whole;
            return length(t).value_or(otherwise);
        };
        const double x = measure("x", viewport.x(), 0), y = measure("y", viewport.y(), 0);
        const double w = measure("width", viewport.x(), viewport.x()),
                     h = measure("height", viewport.y(), viewport.y());
        const auto box = numbers(attribute(n, "viewBox"));
        Affine own = Affine::Identity();
        Vec2 inner(w, h);
        if (box.size() == 4 && box[2] > 0 && box[3] > 0) {
            if (!(w > 0) || !(h > 0)) return remark(n, "a drawing inside has no size; it was passed over");
            const BoxFit f = fitted(box, w, h, attribute(n, "preserveAspectRatio"));
            own << f.sx, 0, x + f.tx, 0, f.sy, y + f.ty;
            inner = {box[2], box[3]};
        } else {
            own.col(2) = Vec2(x, y);
        }
        const Vec2 before = viewport;
        viewport = inner;
        walk(n->children, times(outer, own), layer);
        viewport = before;
    }

    /// Rules of a style sheet are not applied: said where they would change where something lies or whether it shows.
    void styleSheet(xmlNode* n) {
        xmlChar* content = xmlNodeGetContent(n);
        const std::string css = content ? reinterpret_cast<const char*>(content) : "";
        xmlFree(content);
        if (css.find("transform") != std::string::npos || css.find("display") != std::string::npos)
            remark(n, "the style sheet moves or hides elements; only styles of the elements themselves are heeded");
    }

    double value(xmlNode* n, const char* name, double otherwise = 0) {
        const std::string t = attribute(n, name);
        if (t.empty()) return otherwise;
        const auto v = length(t);
        if (!v) remark(n, say::value(std::string(name)) + " \"" + text::quoted(t) + "\" is not a length");
        return v.value_or(otherwise);
    }

    void shape(xmlNode* n, const std::string& name, const Affine& m, const std::string& layer) {
        PathContext c(m, file.strands, layer);
        using At = svgpp::tag::coordinate::absolute;
        if (name == "path") {
            const std::string d = withoutNegativeRadii(attribute(n, "d"));
            const size_t before = file.strands.size();
            try {
                svgpp::value_parser<svgpp::tag::type::path_data, svgpp::path_policy<PathPolicy>>::parse(
                    svgpp::tag::attribute::d(), c, d, svgpp::tag::source::attribute());
            } catch (const std::exception&) {
                c.finish(false);
                remark(n, file.strands.size() > before ? "the path data is broken; it was taken up to the fault"
                                                       : "the path data cannot be read");
            }
        } else if (name == "line") {
            c.start({value(n, "x1"), value(n, "y1")});
            c.line({value(n, "x2"), value(n, "y2")});
            c.finish(false);
        } else if (name == "polyline" || name == "polygon") {
            const auto v = numbers(attribute(n, "points"));
            if (v.size() < 4) return remark(n, "a " + name + " has fewer than two points");
            if (v.size() % 2) remark(n, "a " + name + " has an odd number of coordinates; the last was dropped");
            c.path_move_to(v[0], v[1], At());
            for (size_t i = 2; i + 1 < v.size(); i += 2) c.line({v[i], v[i + 1]});
            name == "polygon" ? c.path_close_subpath() : c.finish(false);
        } else if (name == "circle" || name == "ellipse") {
            const Vec2 at(value(n, "cx"), value(n, "cy"));
            const double rx = name == "circle" ? value(n, "r") : value(n, "rx"),
                         ry = name == "circle" ? rx : value(n, "ry");
            if (!(rx > 0) || !(ry > 0)) return remark(n, "a " + name + " has no radius");
            c.ellipse(at, {rx, 0}, {0, ry}, 0, 2 * kPi);
            c.finish(true);
        } else if (name == "rect") {
            const double x = value(n, "x"), y = value(n, "y"), w = value(n, "width"), h = value(n, "height");
            if (!(w > 0) || !(h > 0)) return remark(n, "a rect has no size");
            double rx = value(n, "rx", -1), ry = value(n, "ry", -1);
            if (rx < 0) rx = ry;
            if (ry < 0) ry = rx;
            rx = std::clamp(rx, 0.0, w / 2);
            ry = std::clamp(ry, 0.0, h / 2);
            c.path_move_to(x + rx, y, At());
            c.line({x + w - rx, y});
            c.arc(rx, ry, 0, false, true, {x + w, y + ry});
            c.line({x + w, y + h - ry});
            c.arc(rx, ry, 0, false, true, {x + w - rx, y + h});
            c.line({x + rx, y + h});
            c.arc(rx, ry, 0, false, true, {x, y + h - ry});
            c.line({x, y + ry});
            c.arc(rx, ry, 0, false, true, {x + rx, y});
            c.path_close_subpath();
        } else
            ++passedOver[name];
        if (c.unsound()) remark(n, "a piece has a value that is not a number; it was dropped");
    }

    const Stop* m_stop;
};

} // namespace

Result<CurveFile> here::readSvg(const std::string& bytes, const std::string& name, const Stop* stop) {
    xmlResetLastError();
    // No network, no entities from elsewhere; what is sound before a fault is kept.
    std::unique_ptr<xmlDoc, decltype(&xmlFreeDoc)> doc(xmlReadMemory(bytes.data(), int(bytes.size()), nullptr, nullptr,
                                                                     XML_PARSE_NONET | XML_PARSE_RECOVER |
                                                                         XML_PARSE_NOERROR | XML_PARSE_NOWARNING |
                                                                         XML_PARSE_BIG_LINES),
                                                       xmlFreeDoc);
    xmlNode* root = doc ? xmlDocGetRootElement(doc.get()) : nullptr;
    if (!root || std::strcmp(reinterpret_cast<const char*>(root->name), "svg") != 0)
        return Problem{say::value(name) + " is not an SVG: it has no svg element.", "file"};
    SvgReader reader(stop);
    if (const xmlError* e = xmlGetLastError(); e && e->level >= XML_ERR_ERROR) {
        reader.file.remarks.push_back("Line " + say::count(e->line) +
                                      ": the file is broken there; what is sound was taken.");
        xmlResetLastError();
    }
    const auto width = length(attribute(root, "width")), height = length(attribute(root, "height"));
    const auto box = numbers(attribute(root, "viewBox"));
    double scale = 1; // px a user unit
    if (box.size() == 4 && box[2] > 0 && box[3] > 0 && (width || height))
        scale = width && height ? std::min(*width / box[2], *height / box[3])
                : width         ? *width / box[2]
                                : *height / box[3];
    Affine whole = Affine::Identity();
    if (box.size() == 4 && box[2] > 0 && box[3] > 0 && width && height) {
        const BoxFit f = fitted(box, *width, *height, attribute(root, "preserveAspectRatio"));
        scale = f.sx;
        if (f.sy != f.sx) whole(1, 1) = f.sy / f.sx; // drawn out of proportion on purpose
    }
    reader.viewport = box.size() == 4 ? Vec2(box[2], box[3]) : Vec2(width.value_or(0), height.value_or(0));
    reader.file.millimetresPerUnit = scale * 25.4 / 96;
    if (!width && !height)
        reader.file.remarks.push_back(
            "The file does not say its size: 96 px are taken for an inch. Choose another unit if that is wrong.");
    try {
        reader.walk(root->children, whole, "");
    } catch (const Problem& p) {
        return p;
    }
    for (const auto& [what, n] : reader.passedOver)
        reader.file.remarks.push_back(say::count(n) + " \"" + text::quoted(what) + "\" passed over.");
    if (reader.file.strands.empty()) {
        Words text = say::value(name) + " has no path or shape in it.";
        for (const auto& r : reader.file.remarks) text += Words(" ") + r;
        return Problem{text, "file"};
    }
    return std::move(reader.file);
}

} // namespace vicinal
