#include "model/edits/profile_edits.h"
#include "layout/spacing/rule_kind.h"
#include "model/document/run_item.h"
#include <algorithm>
#include <cmath>

namespace vicinal {
namespace {

/// How near two keys may come, mm.
double nearest(double length) { return std::max(tolerance::length, tolerance::alike * length); }

} // namespace

Profile* profileOf(RunItem& r, const std::string& name) {
    if (name == "roll") return &r.changes.roll;
    if (name == "size") return &r.changes.size;
    if (name == "across") return &r.changes.across;
    if (name == "up") return &r.changes.up;
    if (name == "pace") return r.motion.moves ? &r.motion.pace : nullptr;
    return name == "pitches" ? kindOf(r.spacing).keys(r.spacing->rule) : nullptr;
}

const Profile* profileOf(const RunItem& r, const std::string& name) { return profileOf(const_cast<RunItem&>(r), name); }

ProfileKind valuesOfProfile(const std::string& name) {
    return name == "roll"                     ? ProfileKind::Angle
           : name == "size" || name == "pace" ? ProfileKind::Factor
                                              : ProfileKind::Length;
}

double otherwiseOf(const std::string& name) {
    if (name == "size" || name == "pace") return 1;
    return name == "pitches" ? 100 : 0;
}

double stationOf(const Profile& p, size_t key, double length) {
    return p.stretches ? p.keys[key].at * length : p.keys[key].at;
}

size_t addKey(Profile& p, double station, double value, double length) {
    station = std::clamp(station, 0.0, length);
    size_t i = 0;
    while (i < p.keys.size() && stationOf(p, i, length) < station - nearest(length)) ++i;
    if (i < p.keys.size() && stationOf(p, i, length) <= station + nearest(length))
        p.keys[i].value = value;
    else
        p.keys.insert(p.keys.begin() + long(i), {p.stretches ? station / length : station, value});
    return i;
}

void moveKey(Profile& p, size_t which, double station, double value, double length) {
    if (which >= p.keys.size()) return;
    const double lo = which > 0 ? stationOf(p, which - 1, length) + nearest(length) : 0;
    const double hi = which + 1 < p.keys.size() ? stationOf(p, which + 1, length) - nearest(length) : length;
    p.keys[which].value = value;
    if (lo > hi) return; // no room between its neighbours
    station = std::clamp(station, lo, hi);
    p.keys[which].at = p.stretches ? station / length : station;
}

void removeKey(Profile& p, size_t which) {
    if (which < p.keys.size()) p.keys.erase(p.keys.begin() + long(which));
}

void shiftKeys(Profile& p, double by, double length) {
    if (p.keys.empty()) return;
    const double first = stationOf(p, 0, length), last = stationOf(p, p.keys.size() - 1, length);
    by = std::clamp(by, std::min(0.0, -first), std::max(0.0, length - last));
    const double end = p.stretches ? 1 : length;
    for (Key& k : p.keys) k.at = std::clamp(k.at + (p.stretches ? by / length : by), 0.0, end); // to the last digit
}

void setStretching(Profile& p, bool on, double length) {
    if (p.stretches == on) return;
    for (Key& k : p.keys) k.at = on ? std::clamp(k.at / length, 0.0, 1.0) : k.at * length;
    p.stretches = on;
}

void emphasise(Profile& p, double station, double width, double by, double length, bool closed, double otherwise) {
    const ProfileCurve was(p, length, closed, otherwise);
    const double a = std::max(0.0, station - width / 2), b = std::min(length, station + width / 2);
    const double before = was.at(a), middle = was.at(station), behind = was.at(b);
    std::erase_if(p.keys, [&](const Key& k) {
        const double s = p.stretches ? k.at * length : k.at;
        return s > a + nearest(length) && s < b - nearest(length);
    });
    addKey(p, a, before, length);
    addKey(p, b, behind, length);
    addKey(p, station, middle * by, length);
    p.smooth = true;
}

} // namespace vicinal
