// yardpass inspect: looking at a part.
#pragma once

#include <string>
#include <vector>

#include "yardpass/part/read_mesh.h"

namespace yardpass::app {

struct InspectWords {
  std::string part, out, unit, pictures = "png", section;
  std::vector<std::string> repairs, places;
  std::vector<double> balls;
  double weld = 0, crease_angle = 0, bend_radius = -1, least_edge = -1;
  bool json = false, quiet = false, among_others = false;
};

/// The words that its options take.
std::vector<std::string> unit_names();
/// REQUIRES: one of them
LengthUnit unit_named(const std::string& name);
std::vector<std::string> repair_names();

int inspect(const InspectWords& words);

}  // namespace yardpass::app
