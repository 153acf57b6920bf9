#pragma once
#include "app/render/gl_canvas.h"
#include "model/evaluate/evaluate.h"

namespace vicinal {

struct Delivery;
struct PictureOrder;

/// A still picture of any size (pixels), of what a delivery asks for, from where its order says, turned by an angle
/// (rad) more. It takes the canvas' renderer, which holds another scene afterwards; empty where nothing can be drawn.
QImage pictureOf(GlCanvas&, const Evaluation&, const Delivery&, const PictureOrder&, QSize, double turned);

} // namespace vicinal
