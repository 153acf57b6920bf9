#include "model/evaluate/bodies/cuts.h"
#include "base/say.h"
#include "geometry/curves/offset.h"
#include "model/evaluate/graph.h"
#include "model/recipes/body_shape.h"
#include "parts/cuts/flat_cut.h"
#include "parts/cuts/prism.h"
#include "parts/cuts/solid_cut.h"
#include "parts/solid/outline.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace vicinal {
namespace {

constexpr size_t kMostTools = 2000; ///< of true booleans

const char* one(size_t n, const char* single, const char* many) { return n == 1 ? single : many; }

Words placesText(const std::vector<size_t>& all) {
    std::vector<size_t> each = all;
    std::sort(each.begin(), each.end());
    each.erase(std::unique(each.begin(), each.end()), each.end());
    Words text = each.size() == 1 ? "Place " : "Places ";
    for (size_t k = 0; k < each.size() && k < 4; ++k) text += (k ? ", " : "") + say::count(each[k] + 1);
    if (each.size() > 4) text += " and " + say::count(each.size() - 4) + " more";
    return text;
}

class Cutting {
public:
    Cutting(const CutBy& cut, const BodyResult& of, const Work& work)
        : m_cut(cut), m_places(*of.run->placed), m_work(work) {
        if (of.of) {
            m_body = of.of->body;
            m_turn = of.of->ground->turn();
            m_at = of.of->ground->origin();
        } else {
            m_body = of.part->body;
        }
        m_surface = std::make_shared<const Ground>(m_body->mesh, m_body->tree, m_turn, m_at);
    }

    Result<BuiltBody> build() {
        if (auto wrong = collect()) return *wrong;
        // A plate that all shapes go square to.
        if (m_cut.depth != CutDepth::AsItIs) m_prism = prismOf(*m_body);
        if (m_prism) {
            const Vec3 normal = m_turn * m_prism->axes.col(2);
            if (!std::all_of(m_shapes.begin(), m_shapes.end(), [&](const Shape& s) {
                    return std::abs(std::abs(s.axes.col(2).dot(normal)) - 1) < tolerance::rounding;
                }))
                m_prism.reset();
        }
        if (m_prism && m_cut.does == CutDoes::Cut && m_cut.depth == CutDepth::Through) return flat(*m_prism);
        return solid();
    }

private:
    /// One cutting shape at its place.
    struct Shape {
        size_t place;
        std::shared_ptr<const std::vector<Ring>> rings; ///< in axes, from the seat point, at the place's size
        Mat3 axes;
        Vec3 seat;
    };

    std::optional<Problem> collect() {
        if (!(m_cut.deep >= 1e-3 && inReach(m_cut.deep)) && m_cut.depth == CutDepth::Deep)
            return Problem{say::value(std::string(m_cut.does == CutDoes::Cut ? "The depth" : "The height")) + " is " +
                               say::mm(m_cut.deep) + "; use 0.001 mm or more.",
                           "deep"};
        if (m_cut.does == CutDoes::Raise && m_cut.depth == CutDepth::Through)
            return Problem{"What is raised needs a height. Choose \"to a depth\" or \"as the part is\".", "depth"};
        if (!inReach(m_cut.clearance)) return Problem{"The clearance is not a number, or too large.", "clearance"};
        if (!(m_cut.least >= 0 && inReach(m_cut.least)))
            return Problem{"The least web is " + say::mm(m_cut.least) + "; use 0 or more.", "least"};
        for (size_t i = 0; i < m_places.count(); ++i) {
            if (m_places.leftOut(i)) continue;
            Shape s{i, nullptr, m_places.frame(i).axes, m_places.frame(i).seat};
            if (m_cut.depth != CutDepth::AsItIs) {
                auto rings = ringsOf(i);
                if (!rings) return rings.problem();
                s.rings = *rings;
                if (m_cut.way == CutWay::Face) {
                    const Vec3 n = m_surface->nearest(s.seat).normal;
                    Vec3 nose = s.axes.col(0) - n * n.dot(s.axes.col(0));
                    nose = nose.norm() > tolerance::alike ? Vec3(nose.normalized()) : anyNormal(n);
                    s.axes << nose, n.cross(nose), n;
                }
            }
            m_shapes.push_back(std::move(s));
        }
        if (m_shapes.empty()) return Problem{"The run has no places that could cut.", "run"};
        return std::nullopt;
    }

    /// The outline of the part at a place, as large as it is there, with the clearance.
    Result<std::shared_ptr<const std::vector<Ring>>> ringsOf(size_t place) {
        const size_t slot = m_places.laid->slot[place];
        const double size = m_places.laid->size[place];
        auto& known = m_rings[{slot, size}];
        if (known) return known;
        const PlacedPart& part = m_places.parts[slot];
        const auto bad = [&](const std::string& why) {
            return Problem{Words("The part ") + part.name + " cannot cut: " + why, "run"};
        };
        const Outline outline = outlineOf(*part.body, part.seat);
        std::vector<Ring> rings;
        for (const Ring& r : outline.rings) {
            Ring own = r;
            for (Segment& s : own) s = moved(s, Mat3::Identity(), Vec3::Zero(), size);
            if (areaOf(own) <= 0) continue; // what is inside a hole of the shape falls out with it
            if (m_cut.clearance != 0) {
                const auto path = Path::make(own, true);
                if (!path) return bad(path.problem().text);
                const auto wider = offsetOf(*path, -m_cut.clearance, CornerStyle::Sharp);
                if (!wider)
                    return Problem{Words("The clearance leaves nothing of ") + part.name + ": " +
                                       Words::whole(wider.problem().text),
                                   "clearance"};
                own = wider->curve.segments;
            }
            rings.push_back(std::move(own));
        }
        if (rings.empty()) return bad("seen along its crown it covers nothing.");
        known = std::make_shared<const std::vector<Ring>>(std::move(rings));
        return known;
    }

    /// The shapes in the plane of a plate: its outline without them, whose they are, and the webs that are left.
    struct InPlane {
        std::vector<Ring> tools;
        std::vector<size_t> placeOf;
        FlatCut left;
        std::vector<Web> webs;
    };
    Result<InPlane> inPlane(const Prism& prism) const {
        const Mat3 plane = m_turn * prism.axes; // of the plate to the world
        InPlane out;
        for (const Shape& s : m_shapes)
            for (const Ring& r : *s.rings) {
                const Mat3 R = plane.transpose() * s.axes;
                Vec3 at = plane.transpose() * (s.seat - m_at);
                at.z() = 0;
                Ring ring = r;
                for (Segment& x : ring) x = flattened(moved(x, R, at));
                out.tools.push_back(std::move(ring));
                out.placeOf.push_back(s.place);
            }
        auto made = cutFlat(prism.rings, out.tools, m_work.stop());
        if (!made) return made.problem();
        out.left = std::move(made).value();
        // Between holes as they are; what runs into another or over the edge has none to measure.
        const auto whole = std::ptrdiff_t(out.left.whole.size()); // these come first
        std::vector<Ring> holes;
        for (size_t k : out.left.whole) holes.push_back(out.tools[k]);
        out.webs = websOf(holes, std::span(out.left.rings).subspan(size_t(whole)));
        for (Web& w : out.webs) {
            w.hole = out.placeOf[out.left.whole[w.hole]];
            if (w.other != Web::kEdge) w.other = out.placeOf[out.left.whole[w.other]];
        }
        return out;
    }
    void report(const InPlane& in, const Prism& prism, CutReport& to) const {
        to.webs = in.webs;
        to.axes = m_turn * prism.axes;
        to.top = prism.to;
        for (size_t k : in.left.missed) to.missed.push_back(in.placeOf[k]);
        for (size_t k : in.left.overEdge) to.overEdge.push_back(in.placeOf[k]);
        for (const auto& [a, b] : in.left.together) to.together.emplace_back(in.placeOf[a], in.placeOf[b]);
    }

    /// Pockets in a plate leave webs as holes do. Shapes that lean alike are measured square to where they lead: one
    /// from the other, since there is no edge in that plane.
    void webs(CutReport& to) const {
        if (m_prism) {
            if (const auto in = inPlane(*m_prism)) report(*in, *m_prism, to);
            return;
        }
        const Mat3& axes = m_shapes.front().axes;
        double far = 1;
        for (const Shape& s : m_shapes) {
            if (std::abs(std::abs(s.axes.col(2).dot(axes.col(2))) - 1) > tolerance::rounding) return;
            far = std::max(far, (s.seat - m_at).norm());
            for (const Ring& r : *s.rings)
                for (const Segment& x : r) far = std::max(far, boundsOf(x).diagonal().norm());
        }
        far *= 10;
        Prism around;
        around.axes = m_turn.transpose() * axes;
        around.to = axes.col(2).dot(m_shapes.front().seat - m_at);
        const Vec3 c[] = {{-far, -far, 0}, {far, -far, 0}, {far, far, 0}, {-far, far, 0}};
        around.rings = {{Line{c[0], c[1]}, Line{c[1], c[2]}, Line{c[2], c[3]}, Line{c[3], c[0]}}};
        const auto in = inPlane(around);
        if (!in) return;
        report(*in, around, to);
        std::erase_if(to.webs, [](const Web& w) { return w.other == Web::kEdge; });
    }

    Result<BuiltBody> flat(const Prism& prism) {
        auto in = inPlane(prism);
        if (!in) return in.problem();
        if (in->left.missed.size() == in->tools.size())
            return Problem{"None of the shapes touches it. Lay the run on it.", "run"};
        auto made = std::make_shared<CutReport>();
        CutReport& told = *made;
        report(*in, prism, told);
        Prism left{std::move(in.value().left.rings), m_turn * prism.axes, prism.from, prism.to};
        told.flat = true;
        told.tools = in->tools.size() - in->left.missed.size();
        const double thick = prism.to - prism.from;
        told.before = areaInside(prism.rings) * thick;
        told.after = areaInside(left.rings) * thick;
        BuiltBody out;
        out.body = bodyOf(left);
        out.home = m_at;
        size_t outlines = 0, before = 0;
        for (const Ring& r : left.rings) outlines += areaOf(r) > 0;
        for (const Ring& r : prism.rings) before += areaOf(r) > 0;
        say(out, told);
        if (outlines > std::max<size_t>(1, before))
            out.remarks.push_back("It falls into " + say::count(outlines) + " pieces.");
        out.cut = std::move(made);
        return out;
    }

    Result<BuiltBody> solid() {
        if (m_shapes.size() > kMostTools)
            return Problem{"A body is cut by up to " + say::count(kMostTools) +
                               " shapes that do not go straight "
                               "through a plate; these are " +
                               say::count(m_shapes.size()) + ". Use fewer.",
                           "run"};
        const bool raise = m_cut.does == CutDoes::Raise;
        const Box3 box = m_body->mesh->box;
        std::vector<Tool> tools;
        std::vector<size_t> placeOf;
        const Mat3 back = m_turn.transpose();
        for (const Shape& s : m_shapes) {
            if (m_cut.depth == CutDepth::AsItIs) {
                const PlacedPart& part = m_places.part(s.place);
                const auto own = solidOf(*part.body);
                if (!own)
                    return Problem{
                        Words("The part ") + part.name +
                            " is a mesh, and only an exact solid cuts as it is. Cut with its outline instead.",
                        "depth"};
                const Mat4 pose = m_places.pose(s.place);
                const double size = m_places.laid->size[s.place];
                Tool t{own, back * (pose.topLeftCorner<3, 3>() / size), back * (pose.topRightCorner<3, 1>() - m_at),
                       size};
                tools.push_back(std::move(t));
                placeOf.push_back(s.place);
                continue;
            }
            for (const Ring& r : *s.rings) {
                ToolPrism p{
                    std::make_shared<const std::vector<Ring>>(1, r), back * s.axes, back * (s.seat - m_at), 1, 0, 0};
                Box3 own;
                for (const Segment& x : r) own.extend(boundsOf(x));
                const double wide = own.diagonal().norm();
                if (m_cut.depth == CutDepth::Through) {
                    const double far = (box.center() - p.at).norm() + box.diagonal().norm() + wide;
                    p.from = -far, p.to = far;
                } else if (!raise) {
                    p.from = -m_cut.deep,
                    p.to = std::max(wide, m_cut.deep); // and what stands over the seat point there
                } else {
                    p.from = -sunk(s, wide), p.to = m_cut.deep;
                }
                tools.push_back({std::move(p)});
                placeOf.push_back(s.place);
            }
        }
        if (m_work.interactive()) return Problem{kLater, ""};
        std::vector<size_t> missed;
        auto made = cutSolid(*m_body, tools, raise, missed, m_work.stop(), m_work.within());
        if (!made) return made.problem();
        if (missed.size() == tools.size()) return Problem{"None of the shapes touches it. Lay the run on it.", "run"};
        auto told = std::make_shared<CutReport>();
        if (!raise && m_cut.depth != CutDepth::AsItIs) webs(*told);
        told->missed.clear();
        told->tools = tools.size() - missed.size();
        for (size_t k : missed) told->missed.push_back(placeOf[k]);
        told->before = volumeOf(*m_body);
        told->after = volumeOf(**made);
        BuiltBody out;
        out.body = moved(*made, m_turn, Vec3::Zero());
        out.home = m_at;
        say(out, *told);
        if (const auto whole = solidOf(**made); whole && solidCount(*whole) > solidCount(*solidOf(*m_body)))
            out.remarks.push_back(
                (raise ? "Some shapes stand beside the body and are no part of it: it is " : "It falls into ") +
                say::count(solidCount(*whole)) + " pieces.");
        out.cut = std::move(told);
        return out;
    }

    /// How far a raised shape goes down into the body, so that it becomes one with it where that is not flat.
    double sunk(const Shape& s, double wide) const {
        const Vec3 d = -s.axes.col(2);
        const Vec3 start = s.seat - wide * d;
        const auto in = m_surface->along(start, d);
        if (!in) return 0;
        const auto out = m_surface->along(in->at + 2e6 * d, -d); // from the far side
        const double thick = out ? (out->at - in->at).dot(d) : 0;
        const double off = (in->at - s.seat).dot(d); // the face may lie below the seat point
        return std::max(0.0, off + std::clamp(thick / 2, 0.0, wide / 4));
    }

    static Segment flattened(Segment s) {
        const auto level = [](Vec3& p) { p.z() = 0; };
        if (auto* l = std::get_if<Line>(&s))
            level(l->a), level(l->b);
        else if (auto* a = std::get_if<Arc>(&s))
            level(a->centre), level(a->xAxis), level(a->yAxis), a->xAxis.normalize(), a->yAxis.normalize();
        else if (auto* b = std::get_if<Bezier>(&s))
            for (Vec3& p : b->p) level(p);
        else if (auto* n = std::get_if<Nurbs>(&s))
            for (Vec3& p : n->points) level(p);
        return s;
    }

    void say(BuiltBody& out, const CutReport& report) const {
        out.remarks = brokenLimits(m_cut, report);
        if (!report.missed.empty())
            out.remarks.push_back(placesText(report.missed) + one(report.missed.size(), " misses", " miss") + " it.");
    }

    const CutBy& m_cut;
    const Placed& m_places;
    const Work& m_work;
    BodyPtr m_body;
    Mat3 m_turn = Mat3::Identity();
    Vec3 m_at = Vec3::Zero();
    std::shared_ptr<const Ground> m_surface;
    std::optional<Prism> m_prism; ///< the plate that all shapes go square to
    std::vector<Shape> m_shapes;
    std::map<std::pair<size_t, double>, std::shared_ptr<const std::vector<Ring>>> m_rings;
};

} // namespace

std::vector<Words> brokenLimits(const CutBy& cut, const CutReport& report) {
    std::vector<Words> out;
    if (cut.least > 0 && !report.webs.empty() && report.webs.front().width < cut.least) {
        const Web& w = report.webs.front();
        const auto thin = size_t(
            std::count_if(report.webs.begin(), report.webs.end(), [&](const Web& x) { return x.width < cut.least; }));
        out.push_back("The least web is " + say::mm(w.width) + ", at place " + say::count(w.hole + 1) +
                      (w.other == Web::kEdge ? std::string(" to the edge") : " to place " + say::count(w.other + 1)) +
                      "; " + say::count(thin) + one(thin, " hole has", " holes have") + " less than " +
                      say::mm(cut.least) + ".");
    }
    if (!report.overEdge.empty())
        out.push_back(placesText(report.overEdge) + one(report.overEdge.size(), " cuts", " cut") + " over the edge.");
    if (!report.together.empty()) {
        std::vector<size_t> all;
        for (const auto& [a, b] : report.together) all.push_back(a), all.push_back(b);
        out.push_back(placesText(all) + " run into one another.");
    }
    return out;
}

std::vector<Words> brokenLimits(const BodyResult& body) {
    const auto* cut = std::get_if<CutBy>(&body.item->shape);
    return cut && body.cut ? brokenLimits(*cut, *body.cut) : std::vector<Words>();
}

Result<BuiltBody> buildCut(const CutBy& cut, const BodyResult& of, const Work& work) {
    if (!of.of && !of.part) {
        const bool lost = cut.of != 0 || cut.part != 0;
        return Problem{lost ? "What it was cut from was deleted. Choose another body." : "Choose the body that is cut.",
                       cut.part != 0 && cut.of == 0 ? "part" : "of"};
    }
    if (!of.run)
        return Problem{cut.run ? "The run that cuts was deleted. Choose another one." : "Choose the run that cuts.",
                       "run"};
    if (!of.run->placed) return Problem{"The run has no places yet.", "run"};
    if (of.of ? !of.of->body : !of.part->body) return Problem{"The body has no shape yet.", of.of ? "of" : "part"};
    return Cutting(cut, of, work).build();
}

} // namespace vicinal
