#pragma once
// What the graphics processor runs: vertex and fragment shaders, each begun by kHead.

namespace vicinal::shaders {

extern const char* const kHead;
extern const char* const kInstance;
extern const char* const kFaceVertex;
extern const char* const kFaceFragment;
extern const char* const kEdgeVertex;
extern const char* const kFlatFragment;
extern const char* const kDotVertex;
extern const char* const kSkyVertex;
extern const char* const kGroundVertex;

} // namespace vicinal::shaders
