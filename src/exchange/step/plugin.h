#pragma once
// What the program and its STEP plugin (vicinal-step.so) agree on. The plugin is loaded when first used: its libraries
// would cost every start 150 ms.
#include "exchange/in/bring_in.h"
#include "exchange/step/scene.h"

namespace vicinal {
/// How the plugin's reason begins when a file holds nothing but curves.
inline constexpr const char* kNoBody = "it has no body in it";
} // namespace vicinal

extern "C" {
using VicinalReadStepCurves = bool(const char* file, vicinal::CurveFile* out, std::string* why);
/// Shapes and wires into a file, as StepBare.
using VicinalWriteStepShapes = bool(const vicinal::StepScene*, const char* file, std::string* why);
using VicinalReadStepBodies = bool(const char* file, vicinal::StepFile* out, const vicinal::Stop*, vicinal::Progress*,
                                   std::string* why);
}
