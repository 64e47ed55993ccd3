// Cutters beside what they are by definition, for models that share no code with the library.
#pragma once

#include <functional>
#include <vector>

#include "yardpass/tool/profile.h"

namespace yardpass::testing {

/// A cutter by its definition alone: height over the tip at a distance from the axis.
struct PlainCutter {
  Profile profile;
  double radius;
  std::function<double(double)> height;
};

/// Ball, flat, bull, tapered ball and bull, chamfer, free profiles of lines and of arcs.
std::vector<PlainCutter> every_cutter();

}  // namespace yardpass::testing
