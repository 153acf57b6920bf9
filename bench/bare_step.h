#pragma once
#include "parts/solid/solid.h"

/// A file with one shape at all those poses.
void bareStep(const vicinal::SolidPtr&, const std::vector<vicinal::Mat4>&, const char* file);
