#include "model/evaluate/bodies/wheel_bodies.h"
#include "base/say.h"
#include "base/text.h"
#include "model/document/part_item.h"
#include "model/evaluate/evaluate.h"
#include "parts/makers/sprocket.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

const WheelShape* loopOf(const PathRecipe& r, const ShapeRecipe** placed = nullptr) {
    const auto* shape = std::get_if<ShapeRecipe>(&r);
    if (placed) *placed = shape;
    return shape ? std::get_if<WheelShape>(&shape->shape) : nullptr;
}

double rollerOf(const WheelShape& s) {
    return s.roller > 0 ? s.roller : standardRoller(s.chainPitch).value_or(0.625 * s.chainPitch);
}

std::string nameOf(const WheelShape& s, size_t i) {
    return s.wheels[i].name.empty() ? "wheel " + std::to_string(i + 1) : s.wheels[i].name;
}

} // namespace

Mat4 WheelPlaced::pose(double turned) const {
    const Mat3 R = axes * Eigen::AngleAxisd(turned, Vec3::UnitZ()).toRotationMatrix();
    Mat4 m = Mat4::Identity();
    m.topLeftCorner<3, 3>() = R * slot.turn;
    m.topRightCorner<3, 1>() = centre + R * slot.origin;
    return m;
}

std::optional<Maker> makerOfWheel(const WheelShape& s, size_t i) {
    const Wheel& w = s.wheels[i];
    const double line = circlesOf(s)[i].radius; // that the path follows
    const auto bore = [&](double diameter) { return w.bore > 0 ? w.bore : diameter / 8; };
    if (w.body == WheelBody::Sprocket) {
        if (w.teeth <= 0) return std::nullopt;
        Sprocket m;
        m.teeth = w.teeth;
        m.pitch = s.chainPitch;
        m.roller = rollerOf(s);
        m.width = w.width > 0 ? w.width : 0.58 * s.chainPitch;
        m.bore = bore(2 * line);
        m.hub = w.hub;
        m.hubWidth = 1.6 * m.width;
        return Maker(m);
    }
    RimWheel m;
    m.diameter = 2 * (line - s.below);
    m.width = w.width > 0 ? w.width : (w.body == WheelBody::Drum ? 1.0 : 0.4) * line;
    m.lip = w.body == WheelBody::Drum ? 0.12 * line : 0.25 * m.width;
    m.bore = bore(m.diameter);
    m.hub = w.hub;
    m.hubWidth = 1.3 * m.width;
    switch (w.body) {
    case WheelBody::Plain: m.rim = RimWheel::Rim::Plain; return Maker(m);
    case WheelBody::Grooved: m.rim = RimWheel::Rim::Grooved; return Maker(m);
    case WheelBody::Drum: m.rim = RimWheel::Rim::Flanged; return Maker(m);
    default: return std::nullopt;
    }
}

std::vector<Id> wheelParts(const PathRecipe& r) {
    std::vector<Id> out;
    if (const auto* loop = loopOf(r))
        for (const Wheel& w : loop->wheels)
            if (w.body == WheelBody::Part && w.part && std::find(out.begin(), out.end(), w.part) == out.end())
                out.push_back(w.part);
    return out;
}

std::vector<WheelPlaced> wheelBodies(const PathRecipe& recipe,
                                     const std::vector<std::shared_ptr<const PartResult>>& parts,
                                     const std::vector<WheelPlaced>& before, std::vector<Words>& remarks) {
    std::vector<WheelPlaced> out;
    const ShapeRecipe* shape = nullptr;
    const auto* loop = loopOf(recipe, &shape);
    if (!loop) return out;
    const Mat3 axes = frameOf(*shape);
    for (size_t i = 0; i < loop->wheels.size(); ++i) {
        const Wheel& w = loop->wheels[i];
        if (w.body == WheelBody::None) continue;
        WheelPlaced one;
        one.wheel = i;
        one.name = nameOf(*loop, i);
        one.axes = axes;
        one.centre = toSpace(*shape, w.centre);
        one.phase = w.phase;
        if (w.body == WheelBody::Part) {
            for (const auto& p : parts)
                if (p && p->item->id == w.part) one.part = p;
            if (!one.part || one.part->problem || !one.part->mesh) {
                remarks.push_back(Words("\"" + text::quoted(one.name) + "\" shows no part: choose one that is there."));
                continue;
            }
            one.body = one.part->body;
            one.mesh = one.part->mesh;
            one.slot = slotOf(one.part->item->seat, one.mesh->box, one.part->seated);
        } else {
            one.maker = makerOfWheel(*loop, i);
            if (!one.maker) {
                remarks.push_back(Words("\"" + text::quoted(one.name) +
                                        "\" has no teeth, so that it is no sprocket. "
                                        "Give it teeth, or show it as a wheel."));
                continue;
            }
            const auto same =
                std::find_if(before.begin(), before.end(), [&](const WheelPlaced& b) { return b.maker == one.maker; });
            if (same != before.end()) {
                one.body = same->body;
                one.mesh = same->mesh;
            } else {
                const auto made = build(PartShape(*one.maker), {});
                if (!made) {
                    remarks.push_back(Words("\"" + text::quoted(one.name) + "\" shows no body: ") +
                                      made.problem().text);
                    continue;
                }
                one.body = *made;
                one.mesh = one.body->mesh;
            }
        }
        out.push_back(std::move(one));
    }
    return out;
}

std::vector<WheelSeat> seatsOn(const PathRecipe& recipe, const WheelLoop& contacts, const Path& path,
                               const Placement& laid) {
    std::vector<WheelSeat> out;
    const ShapeRecipe* shape = nullptr;
    const auto* loop = loopOf(recipe, &shape);
    if (!loop || laid.joints.empty() || contacts.contacts.size() != loop->wheels.size()) return out;
    const auto circles = circlesOf(*loop);
    const double L = path.length();
    for (size_t w = 0; w < loop->wheels.size(); ++w) {
        const WheelContact& c = contacts.contacts[w];
        WheelSeat seat{w, c.wrap};
        const double leaves = c.leaves + (c.arrives > c.leaves ? L : 0);
        std::vector<double> angles;
        for (size_t i = 0; i < std::min(laid.rowSize, laid.count()); ++i) {
            double s = laid.stations[i];
            while (s < c.arrives - tolerance::length) s += L;
            if (s > leaves + tolerance::length) continue;
            const Vec2 d = toPlane(*shape, path.at(laid.stations[i]).point) - circles[w].centre;
            angles.push_back(std::atan2(d.y(), d.x()));
        }
        seat.engaged = long(angles.size());
        if (const long z = loop->wheels[w].teeth; z > 0 && !angles.empty()) {
            // Gaps come back after every tooth: the mean of all angles, each within one tooth.
            const double tooth = 2 * kPi / double(z);
            double off = 0;
            for (double a : angles) off += std::remainder(a - angles[0], tooth);
            const double phase = angles[0] + off / double(angles.size());
            seat.phase = std::remainder(phase, tooth);
            for (double a : angles)
                seat.error = std::max(seat.error, std::abs(std::remainder(a - phase, tooth)) * circles[w].radius);
        } else if (!angles.empty()) {
            seat.phase = angles[0]; // it turns with the chain
        }
        out.push_back(seat);
    }
    return out;
}

std::vector<Words> tradeRemarks(const PathRecipe& recipe, const std::vector<WheelSeat>& seats) {
    std::vector<Words> out;
    const auto* loop = loopOf(recipe);
    if (!loop) return out;
    for (const WheelSeat& s : seats) {
        const Wheel& w = loop->wheels[s.wheel];
        if (w.teeth <= 0) continue;
        const std::string name = "\"" + text::quoted(nameOf(*loop, s.wheel)) + "\"";
        if (s.engaged < loop->engaged)
            out.push_back(Words(say::value(name) + ": only " + say::count(s.engaged) +
                                " teeth engaged; the trade wants " + say::count(loop->engaged) + " at least."));
        if (w.teeth < loop->teethLeast)
            out.push_back(Words(say::value(name) + " has " + say::count(w.teeth) + " teeth; the trade wants " +
                                say::count(loop->teethLeast) + " at least."));
    }
    if (loop->wheels.size() == 2 && loop->wheels[0].teeth > 0 && loop->wheels[1].teeth > 0) {
        const double apart = (loop->wheels[0].centre - loop->wheels[1].centre).norm() / loop->chainPitch;
        const bool near = loop->nearest > 0 && apart < double(loop->nearest);
        if (near || (loop->farthest > 0 && apart > double(loop->farthest)))
            out.push_back(Words("The wheels are " + say::number(apart, 1) + " pitches apart; the trade wants " +
                                say::count(near ? loop->nearest : loop->farthest) +
                                (near ? " at least." : " at most.")));
    }
    return out;
}

} // namespace vicinal
