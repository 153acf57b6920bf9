#pragma once
// What changes along a run besides its spacing: profiles, unevenness, sequence, rows, echoes, exceptions. Each is
// described once.
#include "base/describe.h"
#include "base/id.h"
#include "base/rule_words.h"
#include "base/vec.h"
#include "layout/along/profile.h"
#include <cstdint>

namespace vicinal {

/// Profiles along the run. An empty one changes nothing.
struct Changes {
    Profile roll{};   ///< radians about the nose
    Profile size{};   ///< factor, about the seat point
    Profile across{}; ///< mm to the side of the path
    Profile up{};     ///< mm along the crown
    bool operator==(const Changes&) const = default;
    bool none() const { return roll.empty() && size.empty() && across.empty() && up.empty(); }
};
void describe(const ValueVisitor&, Changes&);

/// Random differences within bounds, the same on every machine for the same seed.
struct Unevenness {
    double along = 0, across = 0, up = 0; ///< mm to either side
    double turn = 0;                      ///< radians to either side, about the crown
    double size = 0;                      ///< share of the size, to either side
    long seed = 1;
    bool operator==(const Unevenness&) const = default;
    bool none() const { return along == 0 && across == 0 && up == 0 && turn == 0 && size == 0; }
};
void describe(const ValueVisitor&, Unevenness&);

/// Which part stands where.
struct SequenceStep {
    Id part = 0;
    long repeat = 1;
    double weight = 1; ///< when chance chooses
    bool operator==(const SequenceStep&) const = default;
};
struct Sequence {
    std::vector<SequenceStep> steps{}; ///< none: the run's part everywhere
    bool byWeight = false;             ///< chance chooses by the weights instead
    long seed = 1;
    Id first = 0, last = 0, corner = 0, nth = 0; ///< other parts at special places; 0: none
    long every = 0;                              ///< nth stands at every so-many-th place, counted from the first
    bool operator==(const Sequence&) const = default;
};
/// Besides the steps themselves.
void describe(const ValueVisitor&, Sequence&);

/// How the places of further rows are found.
enum class RowsKeep {
    Abreast, ///< each beside its place of the first row
    Pitch,   ///< the rule anew along the offset path, which has a length of its own, at the first row's pitch
};
/// Rows beside and tiers above, each place's own neighbours.
struct Rows {
    long rows = 1, tiers = 1;
    double apart = 100, high = 100; ///< mm between rows (to the left) and tiers (along the crown)
    bool staggered = false;         ///< every other row or tier is half a pitch on
    RowsKeep keep = RowsKeep::Abreast;
    bool operator==(const Rows&) const = default;
    bool none() const { return rows == 1 && tiers == 1; }
};
void describe(const ValueVisitor&, Rows&);

/// The whole run again: mirrored, in a line, or round an axis.
enum class EchoKind { None, Mirrored, InLine, Round };
struct Echo {
    EchoKind kind = EchoKind::None;
    Vec3 at = Vec3::Zero();     ///< a point of the mirror or the axis
    Vec3 along = Vec3::UnitX(); ///< square to the mirror; of the line; of the axis
    long count = 2;             ///< in all, with the run itself; mirrored: always 2
    double by = 1000;           ///< mm from one to the next, in a line
    double angle = kPi / 2;     ///< from one to the next, round an axis
    Id part = 0; ///< mirrored: instead of the run's own part, its mirror image; 0: the same part, only places mirrored
    bool operator==(const Echo&) const = default;
    /// How often the run stands there, with itself.
    long times() const {
        if (kind == EchoKind::None) return 1;
        return kind == EchoKind::Mirrored ? 2 : count;
    }
};
inline constexpr ChoiceWord kEchoWords[] = {
    {"none", "none", "The run stands once", ""},
    {"mirrored", "mirrored", "Again on the other side of a mirror: places, noses and crowns; parts as Copies are says",
     "mirrored"},
    {"in a line", "in line", "Again and again in a line", "echoed in a line"},
    {"round an axis", "round", "Again and again round an axis", "echoed round an axis"}};
/// `second`: the echo of the echo has words of its own.
void describe(const ValueVisitor&, Echo&, bool second);
struct Echoes {
    Echo one{}, two{};
    bool operator==(const Echoes&) const = default;
    bool none() const { return one.kind == EchoKind::None && two.kind == EchoKind::None; }
};
void describe(const ValueVisitor&, Echoes&);

/// What is special about one place. It is bound to the place's number, or to where it stood.
struct Exception {
    int place = 0;                   ///< from 1
    std::optional<double> station{}; ///< bound to this instead, mm: the nearest place within half a pitch
    bool out = false;
    Id part = 0;              ///< another part; 0: the one it has anyway
    Vec3 move = Vec3::Zero(); ///< mm along, across, up
    Vec3 turn = Vec3::Zero(); ///< radians about nose, side, crown
    double size = 1;
    bool operator==(const Exception&) const = default;
    bool plain() const { return !out && part == 0 && move.isZero(0) && turn.isZero(0) && size == 1; }
};
void describe(const ValueVisitor&, Exception&);

} // namespace vicinal
