#include "app/render/shaders.h"

namespace vicinal::shaders {

const char* const kHead = "#version 330 core\n";
const char* const kInstance = R"(
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in mat4 pose;
layout(location = 6) in vec4 colour;
uniform mat4 camera;
)";
const char* const kFaceVertex = R"(
out vec3 shade;
out float there;
uniform vec3 light;
uniform vec3 back;
uniform float soft;
void main() {
    vec3 n = normalize(mat3(pose) * normal);
    if (dot(n, back) < 0.0) n = -n;             // thin sheets are lit from both sides
    float sky = 0.5 + 0.5 * n.z;
    float sun = max(dot(n, light), 0.0);
    shade = colour.rgb * mix(1.0, 0.56 + 0.20 * sky + 0.36 * sun, soft);
    there = colour.a;
    gl_Position = camera * pose * vec4(position, 1.0);
}
)";
const char* const kFaceFragment = R"(
in vec3 shade;
in float there;
out vec4 result;
void main() {
    if (there < 0.01) discard;
    result = vec4(shade, there);
}
)";
const char* const kEdgeVertex = R"(
out vec4 tone;
uniform float push;
uniform float weight;
void main() {
    tone = vec4(colour.rgb * 0.52, colour.a < 0.01 ? 0.0 : weight); // what is left out is outlined over the picture
    gl_Position = camera * pose * vec4(position, 1.0);
    gl_Position.z -= push * gl_Position.w;
}
)";
const char* const kFlatFragment = R"(
in vec4 tone;
out vec4 result;
void main() { result = tone; }
)";
const char* const kDotVertex = R"(
out vec4 tone;
void main() {
    tone = vec4(colour.rgb, colour.a < 0.01 ? 0.0 : 1.0);
    gl_Position = camera * pose * vec4(0.0, 0.0, 0.0, 1.0);
    gl_PointSize = 2.0;
}
)";
// One triangle over the whole picture, shaded from top to bottom.
const char* const kSkyVertex = R"(
uniform vec3 top;
uniform vec3 bottom;
out vec4 tone;
void main() {
    vec2 p = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
    tone = vec4(mix(bottom, top, (p.y + 1.0) * 0.5), 1.0);
    gl_Position = vec4(p, 0.999, 1.0);
}
)";
const char* const kGroundVertex = R"(
layout(location = 0) in vec3 position;
uniform mat4 camera;
uniform vec3 centre;
uniform float reach;
uniform vec4 paint;
out vec4 tone;
void main() {
    float d = length(position - centre) / reach;
    tone = vec4(paint.rgb, paint.a * clamp(1.0 - d, 0.0, 1.0));
    gl_Position = camera * vec4(position, 1.0);
}
)";

} // namespace vicinal::shaders
