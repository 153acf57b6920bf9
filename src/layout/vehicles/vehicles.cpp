#include "layout/vehicles/vehicles.h"
#include "layout/facing/facing.h"
#include "layout/spacing/rules.h"
#include "layout/spacing/spacing.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// Where f, below zero in front and above zero beyond, becomes zero: f changes about as fast as its argument, so that
/// what is missing is a good step. From `guess` by secants, as long as they lead there at once; else first back to
/// where something is missing and from there on by less than what is missing, so that no zero is passed over.
/// Not a number when there is none before `most`. `least`: the least of f in front of it.
template<class F> double zeroAhead(F&& f, double guess, double most, double* least = nullptr) {
    const double close = 1e-11 + 1e-15 * std::abs(guess);
    double lowest = std::numeric_limits<double>::infinity();
    const auto ask = [&](double s) {
        const double v = f(s);
        lowest = std::min(lowest, v);
        return v;
    };
    double x = guess, fx = ask(x);
    if (std::abs(fx) <= close) return x;
    double was = x, fWas = fx;
    x -= fx;
    for (int i = 0; i < 12; ++i) {
        fx = ask(x);
        if (std::abs(fx) <= close) return x;
        if (!(std::abs(fx) < std::abs(fWas) / 2)) break;
        const double slope = (fx - fWas) / (x - was);
        if (!(slope > 0.3 && slope < 3)) break;
        was = x, fWas = fx;
        x -= fx / slope;
    }
    // Back to where it is below zero.
    double a = guess, fa = ask(a), step = std::abs(fa) + tolerance::length;
    for (int i = 0; i < 60 && fa > 0; ++i) {
        const double next = ask(a - step);
        if (!(next < fa)) { // it grows again: the least lies between
            if (step < tolerance::rounding) break;
            step /= 4;
            continue;
        }
        a -= step, fa = next;
        step = std::max(fa, tolerance::rounding);
    }
    if (least) *least = lowest;
    if (!(fa <= 0)) return std::nan("");
    double b = a, fb = fa;
    for (int i = 0; i < 4000 && fb <= 0; ++i) {
        if (fb >= -close) return b;
        a = b, fa = fb;
        b += std::max(-0.5 * fb, tolerance::rounding);
        if (!(b <= most)) return std::nan("");
        fb = ask(b);
    }
    if (!(fb > 0)) return std::nan("");
    for (int i = 0; i < 100 && b - a > 1e-13 * std::abs(b); ++i) {
        double m = a - fa * (b - a) / (fb - fa);
        if (!(m > a && m < b) || i % 3 == 2) m = (a + b) / 2;
        const double fm = ask(m);
        if (std::abs(fm) <= close) return m;
        (fm > 0 ? b : a) = m;
        (fm > 0 ? fb : fa) = fm;
    }
    return std::abs(fa) < std::abs(fb) ? a : b;
}

} // namespace

Vehicles::Vehicles(const Path& path, const Facing& facing, std::vector<std::optional<Gear>> gears)
    : m_path(path), m_facing(facing), m_gears(std::move(gears)) {
    m_facing.nose = AlongPath{};
    m_facing.turn.setZero();
    m_facing.turnStep.setZero();
    m_facing.backwards = false;
    for (const auto& g : m_gears) {
        assert(!g || (g->under[0] < int(m_gears.size()) && g->under[1] < int(m_gears.size())));
        m_turned.push_back(g ? Mat3(aimed((g->pins[1] - g->pins[0]).normalized(), Mat3::Identity()).transpose())
                             : Mat3(Mat3::Identity()));
    }
}

double Vehicles::toMiddle(int slot) const {
    if (slot < 0) return 0;
    const Gear& g = gear(size_t(slot));
    return toMiddle(g.under[0]) + g.apart() / 2;
}

double Vehicles::toLast(int slot) const {
    if (slot < 0) return 0;
    const Gear& g = gear(size_t(slot));
    return toMiddle(g.under[0]) + g.apart() - toMiddle(g.under[1]) + toLast(g.under[1]);
}

double Vehicles::toHook(size_t slot, int which) const {
    const Gear& g = gear(slot);
    return toMiddle(g.under[0]) + (g.hooks[size_t(which)] - g.pins[0]).dot((g.pins[1] - g.pins[0]).normalized());
}

Vec3 Vehicles::on(int under, double station, double& last, std::vector<VehiclePose>* below) const {
    if (under < 0) {
        last = station;
        return pointOn(m_path, station);
    }
    const VehiclePose s = stand(size_t(under), station, below);
    last = s.last;
    if (below) below->push_back(s);
    return s.middle();
}

VehiclePose Vehicles::stand(size_t slot, double station, std::vector<VehiclePose>* below) const {
    const Gear& g = gear(slot);
    VehiclePose out{slot, station, std::nan("")};
    double backLast = 0;
    out.back = on(g.under[0], station, backLast, below);
    const double d = g.apart();
    double to;
    if (g.under[0] < 0 && g.under[1] < 0) {
        to = chordFrom(m_path, station, d);
    } else {
        double unused = 0;
        const double guess = station + toMiddle(g.under[0]) + d - toMiddle(g.under[1]);
        const double most = guess + (m_path.closed() ? m_path.length() : 2 * m_path.length() + d);
        to = backLast == backLast
                 ? zeroAhead([&](double s) { return (on(g.under[1], s, unused, nullptr) - out.back).norm() - d; },
                             guess, most)
                 : std::nan("");
    }
    if (std::isnan(to)) return out;
    out.front = on(g.under[1], to, out.last, below);
    return out;
}

Frame Vehicles::frame(const VehiclePose& s) const {
    const double L = m_path.length();
    double middle = (s.first + s.last) / 2;
    if (m_path.closed()) {
        middle = std::fmod(middle, L);
        if (middle < 0) middle += L;
    }
    middle = std::clamp(middle, 0.0, L);
    Mat3 path;
    faceAt(m_path, std::span(&middle, 1), m_facing, Mat3::Identity(),
           [&](size_t, const Vec3&, const Vec3&, const Mat3& R) { path = R; });
    Frame out;
    out.axes = aimed(s.nose(), path) * m_turned[s.slot];
    out.seat = s.middle() - out.axes * ((gear(s.slot).pins[0] + gear(s.slot).pins[1]) / 2);
    return out;
}

VehiclePose Vehicles::coupled(const VehiclePose& before, size_t slot, double gap, double* least) const {
    const auto hook = [&](const VehiclePose& s, int which) {
        const Frame f = frame(s);
        return Vec3(f.seat + f.axes * gear(s.slot).hooks[size_t(which)]);
    };
    const Vec3 from = hook(before, 1);
    const auto miss = [&](double t) {
        const VehiclePose s = stand(slot, t);
        return s.stands() ? (hook(s, 0) - from).norm() - gap : std::nan("");
    };
    const double guess = before.first + toHook(before.slot, 1) + gap - toHook(slot, 0);
    double lowest = 0;
    const double t = zeroAhead(miss, guess, guess + m_path.length(), &lowest);
    if (std::isnan(t)) {
        if (least && lowest > 0) *least = gap + lowest;
        return VehiclePose{slot, guess, std::nan("")};
    }
    return stand(slot, t);
}

double Vehicles::swing(const VehiclePose& s, const std::vector<VehiclePose>& below) const {
    double most = 0;
    // Each part stands on those right under it; they were noted before it, its own first.
    std::vector<const VehiclePose*> all;
    for (const VehiclePose& b : below) all.push_back(&b);
    all.push_back(&s);
    std::vector<const VehiclePose*> free; // noted, and nothing on them yet
    for (const VehiclePose* one : all) {
        const Gear& g = gear(one->slot);
        for (int k = 1; k >= 0; --k) {
            if (g.under[size_t(k)] < 0 || free.empty()) continue;
            const Vec3 a = one->nose(), b = free.back()->nose();
            free.pop_back();
            most = std::max(most, std::atan2(a.cross(b).norm(), a.dot(b)));
        }
        free.push_back(one);
    }
    return most;
}

double Vehicles::pinsRadius(int slot, double middle) const {
    if (slot < 0) return middle;
    const Gear& g = gear(size_t(slot));
    const double pins = std::hypot(middle, g.apart() / 2);
    return std::max(pinsRadius(g.under[0], pins), pinsRadius(g.under[1], pins));
}

double Vehicles::smallestRadius(size_t slot, double swing) const {
    const Gear& g = gear(slot);
    const double half = g.apart() / 2, turn = std::min(swing, kPi / 2);
    double out = half;
    for (int k : g.under) {
        const double pins = k < 0 ? half : half / std::sin(turn);
        out = std::max(out, pinsRadius(k, pins));
        if (k >= 0) out = std::max(out, smallestRadius(size_t(k), swing));
    }
    return out;
}

} // namespace vicinal
