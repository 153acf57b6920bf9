#include "clearance/check.h"
#include "exchange/check_sheet/check_sheet.h"
#include "exchange/drawing/hidden.h"
#include "model/document/run_item.h"
#include "model/verdicts/sight.h"
#include "model/words/sentence.h"
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace vicinal {
namespace {

constexpr double kWide = 58, kHigh = 40; ///< mm of a picture

/// A segment in part that lies inside the picture, as pieces: straight ones are cut at the frame, others go whole or
/// not at all.
void addInk(Sheet& sheet, const std::vector<Segment>& strand, const Pen& pen) {
    Ink ink;
    ink.pieces = strand;
    ink.pen = pen;
    sheet.inks.push_back(std::move(ink));
}

/// What of a line lies in the frame (Liang and Barsky 1984); nothing where none of it does.
std::optional<std::pair<Vec2, Vec2>> inFrame(const Vec2& a, const Vec2& b) {
    double from = 0, to = 1;
    const Vec2 d = b - a;
    bool seen = true;
    for (int k = 0; k < 2 && seen; ++k) {
        const double low = 0.3 - a[k], high = (k ? kHigh : kWide) - 0.3 - a[k];
        if (std::abs(d[k]) < tolerance::fine) {
            seen = low <= 0 && high >= 0;
            continue;
        }
        from = std::max(from, std::min(low / d[k], high / d[k]));
        to = std::min(to, std::max(low / d[k], high / d[k]));
    }
    if (!seen || from >= to) return std::nullopt;
    return std::pair(Vec2(a + from * d), Vec2(a + to * d));
}

/// A picture of what is round a place, looked at along a line.
class Picture {
public:
    Picture(Sheet& out, const Sight& sight, const Mat3& view)
        : m_out(out), m_view(view), m_middle((view * sight.at).head<2>()), m_scale(0.5 * kHigh / sight.radius) {}
    void lines(const Seen& seen) {
        for (const auto& stand : seen.stands)
            for (const auto& strand : seen.parts[stand.part].strands) strandAt(strand, stand.angle, stand.at);
        for (const auto& own : seen.others)
            for (const auto& strand : own.visible) strandAt(strand, 0, Vec2::Zero());
    }
    /// The ball that fits, the two nearest points joined, or a cross at the place.
    void mark(const CheckResult& r, const Sight& sight) {
        const CheckedPlace& p = *r.worst;
        const Pen strong{0.5, 0};
        if (r.check.of == CheckKind::Opening) {
            const Vec2 c = flat(p.a);
            const double radius = p.value / 2 * m_scale;
            Vec2 before = c + Vec2(radius, 0);
            for (int i = 1; i <= 48; ++i) {
                const double t = 2 * kPi * i / 48;
                const Vec2 next = c + radius * Vec2(std::cos(t), std::sin(t));
                const auto in = [](const Vec2& q) { return q.x() > 0 && q.x() < kWide && q.y() > 0 && q.y() < kHigh; };
                if (in(before) && in(next)) line(before, next, strong);
                before = next;
            }
        } else if ((p.a - p.b).norm() > 0) {
            const Vec2 a = flat(p.a), b = flat(p.b);
            line(a, b, strong);
            const Vec2 d = b - a, across = d.norm() > tolerance::rounding ? Vec2(Vec2(-d.y(), d.x()).normalized() * 1.2)
                                                                          : Vec2(0, 1.2);
            for (const Vec2& end : {a, b}) line(end - across, end + across, strong);
        } else {
            const Vec2 c = flat(p.a.isZero() ? sight.at : p.a);
            if (c.x() > 2 && c.x() < kWide - 2 && c.y() > 2 && c.y() < kHigh - 2) {
                line(c - Vec2(2, 0), c + Vec2(2, 0), strong);
                line(c - Vec2(0, 2), c + Vec2(0, 2), strong);
            }
        }
    }

private:
    Vec2 onto(const Vec2& q) const { return (q - m_middle) * m_scale + Vec2(kWide, kHigh) / 2; }
    Vec2 flat(const Vec3& q) const { return onto((m_view * q).head<2>()); }
    void line(const Vec2& a, const Vec2& b, const Pen& pen) {
        addInk(m_out, {Line{Vec3(a.x(), a.y(), 0), Vec3(b.x(), b.y(), 0)}}, pen);
    }
    /// Everything as chords: what is seen is small, and is cut at the frame.
    void strandAt(const std::vector<Segment>& strand, double turn, const Vec2& at) {
        const Pen thin{0.18, 0.25};
        const Mat3 R = Eigen::AngleAxisd(turn, Vec3::UnitZ()).toRotationMatrix();
        for (const Segment& s : strand) {
            const auto path = Path::make({s}, false);
            if (!path) continue;
            const auto points = path->polyline(0.05 / m_scale);
            for (size_t i = 0; i + 1 < points.size(); ++i) {
                const Vec2 a = onto((R * points[i]).head<2>() + at), b = onto((R * points[i + 1]).head<2>() + at);
                if (const auto cut = inFrame(a, b)) line(cut->first, cut->second, thin);
            }
        }
    }

    Sheet& m_out;
    Mat3 m_view;
    Vec2 m_middle;
    double m_scale;
};

} // namespace

/// The worst place as it is seen best: lines of the bodies round it, the two nearest points joined, the ball.
Sheet checkPicture(const Evaluation& of, const RunResult& run, const CheckResult& r, Job* job) {
    Sheet out;
    out.width = kWide;
    out.height = kHigh;
    if (!r.worst || !run.placed || wordsOf(r.check.of).lane[0] == 0) return out;
    const Sight sight = sightOf(of, run, r, *r.worst);
    const Vec3 towards = sight.toEye.normalized();
    Vec3 right = std::abs(towards.z()) > 0.98 ? Vec3(Vec3::UnitX()) : Vec3(Vec3::UnitZ().cross(towards).normalized());
    Mat3 view;
    view.row(0) = right;
    view.row(1) = towards.cross(right);
    view.row(2) = towards;
    std::vector<MeshAt> bodies;
    size_t triangles = 0;
    for (const NearBody& n : bodiesNear(of, sight.at, sight.radius * 1.6, 24)) {
        const PlacedPart& part = n.of->partAt(n.body);
        triangles += part.mesh->triangles.size();
        if (triangles > 200'000) break; // a picture, not a drawing
        bodies.push_back({{}, part.mesh.get(), n.of->instances->pose(n.body)});
    }
    Picture picture(out, sight, view);
    picture.lines(seenLines(bodies, view, false, job));
    picture.mark(r, sight);
    return out;
}

std::vector<WrittenRun> checkRows(const Checked& checked, Unit unit, bool pictures, Job* job) {
    const auto say = [unit](const Words& w) { return w.in(millimetresPer(unit), nameOf(unit)); };
    std::vector<WrittenRun> out;
    for (const auto& run : checked.of->runs) {
        const RunChecks* all = checked.run(run->item->id);
        if (!all) continue;
        WrittenRun one;
        one.name = run->item->name;
        const auto count = run->placed ? run->placed->present : 0;
        one.places = std::to_string(count) + (count == 1 ? " place" : " places");
        one.rule = plainSentence(*run, unit);
        one.mark = all->verdict.mark;
        one.text = say(all->verdict.text);
        for (const CheckResult& r : all->list) {
            WrittenCheck row;
            row.title = titleOf(r.check, *checked.of);
            row.rule = say(ruleInWords(r.check));
            row.limits = say(limitsInWords(r.check));
            if (r.check.margin > 0) row.limits += ", doubtful within " + say(inWords(r.check, r.check.margin));
            row.off = !r.check.on;
            row.mark = r.mark;
            row.verdict = r.cannot ? "cannot be said" : wordOf(r.mark);
            if (row.off) row.verdict = "off";
            row.text = row.off ? "Switched off." : say(r.text);
            for (const Words& w : r.remarks) row.notes.push_back(say(w));
            if (r.error > 0.0005 && wordsOf(r.check.of).in == CheckIn::Length && r.value)
                row.notes.push_back(say("Curved faces are measured as triangles, up to " +
                                        Words::length(std::ceil(r.error * 1000) / 1000, Words::Style::Decimals) +
                                        " off."));
            for (const Excuse& e : r.check.excused) row.notes.push_back(excuseInWords(e));
            if (pictures && r.check.on && !r.cannot && !(job && stopped(&job->stop)))
                row.picture = checkPicture(*checked.of, *run, r, job);
            one.rows.push_back(std::move(row));
        }
        out.push_back(std::move(one));
    }
    return out;
}

std::string checksJson(const Checked& checked) {
    using Json = nlohmann::ordered_json;
    Json out = {{"runs", Json::array()}};
    for (const auto& run : checked.of->runs) {
        const RunChecks* all = checked.run(run->item->id);
        if (!all) continue;
        Json one = {{"run", run->item->name},
                    {"rule", plainSentence(*run, Unit::Millimetre)},
                    {"verdict", wordOf(all->verdict.mark)},
                    {"text", all->verdict.text},
                    {"checks", Json::array()}};
        for (const CheckResult& r : all->list) {
            Json c = {{"check", wordsOf(r.check.of).file}, {"on", r.check.on}};
            if (r.check.other != 0) {
                const auto other = checked.of->standing(r.check.other);
                c["against"] = other ? other->name : "";
            }
            if (r.check.least) c["least"] = *r.check.least;
            if (r.check.most) c["most"] = *r.check.most;
            if (r.check.on) {
                c["verdict"] = r.cannot ? "cannot be said" : wordOf(r.mark);
                c["text"] = r.text;
                if (r.value) c["value"] = *r.value;
                if (r.worst) {
                    c["place"] = r.worst->place + 1;
                    if (r.worst->other >= 0) c["otherPlace"] = r.worst->other + 1;
                    if (r.worst->item != 0)
                        if (const auto other = checked.of->standing(r.worst->item)) c["of"] = other->name;
                    c["from"] = {r.worst->a.x(), r.worst->a.y(), r.worst->a.z()};
                    c["to"] = {r.worst->b.x(), r.worst->b.y(), r.worst->b.z()};
                }
                c["measured"] = r.places.size();
                c["broken"] = r.broken - r.excused; // that count
                c["excused"] = r.excused;
                if (r.error > 0) c["error"] = r.error;
                for (const Words& w : r.remarks) c["remarks"].push_back(w);
            }
            one["checks"].push_back(std::move(c));
        }
        out["runs"].push_back(std::move(one));
    }
    return out.dump(1) + "\n";
}

} // namespace vicinal
