#pragma once
// Wheels of a loop as bodies, and how a chain sits on them.
#include "layout/places.h"
#include "model/recipes/part_shape.h"
#include "model/recipes/recipe.h"
#include "parts/makers/maker.h"
#include <memory>

namespace vicinal {

struct PartResult;

/// A wheel that shows as a body.
struct WheelPlaced {
    size_t wheel = 0; ///< index in the loop
    std::string name;
    std::optional<Maker> maker;             ///< what it was made from; nothing for a part of the document
    std::shared_ptr<const PartResult> part; ///< that part
    std::shared_ptr<const Mesh> mesh;
    BodyPtr body;
    Mat3 axes = Mat3::Identity(); ///< columns: x and y of the loop's plane, and the axis
    Vec3 centre = Vec3::Zero();
    Slot slot{};                   ///< of a part: with its seat folded in
    std::optional<double> phase{}; ///< as typed
    /// Body axes to world, turned by `phase` about the axis.
    Mat4 pose(double turned) const;
};

/// The maker of a wheel's body; nothing for those that have none or are a part.
std::optional<Maker> makerOfWheel(const WheelShape&, size_t wheel);
/// Parts that wheels of a recipe show as, each once.
std::vector<Id> wheelParts(const PathRecipe&);
/// Every wheel of a loop that shows as a body; those whose numbers cannot be made say why in `remarks`. `before`: made
/// earlier, taken over where nothing changed.
std::vector<WheelPlaced> wheelBodies(const PathRecipe&, const std::vector<std::shared_ptr<const PartResult>>& parts,
                                     const std::vector<WheelPlaced>& before, std::vector<Words>& remarks);

/// How a chain sits on a wheel of its loop.
struct WheelSeat {
    size_t wheel = 0;
    double wrap = 0;  ///< rad
    long engaged = 0; ///< pins that lie on it
    double phase = 0; ///< rad that the sprocket is turned, so that its gaps meet the pins
    double error = 0; ///< mm that a pin is off the middle of its gap at most; 0 for wheels without teeth
};
/// Of a run that is placed pin to pin round a loop. Empty for other runs and paths.
std::vector<WheelSeat> seatsOn(const PathRecipe&, const WheelLoop&, const Path&, const Placement&);

/// What the trade remarks about a drive, by the limits of its loop.
std::vector<Words> tradeRemarks(const PathRecipe&, const std::vector<WheelSeat>&);

} // namespace vicinal
