/// How a machine's control wants its programs.
#pragma once

#include <array>
#include <string>

#include "yardpass/geom/posted.h"

namespace yardpass {

struct Controller {
  int decimals = 3;                 ///< of X, Y, Z in millimetres
  std::string work_offset = "G54";  ///< G54 to G59
  /// Arcs that it takes in the planes XY, ZX, YZ (G17, G18, G19).
  std::array<bool, 3> arc_planes = {true, true, true};
  bool arcs_by_radius = false;  ///< R; else I, J, K from the start to the axis
  bool dog_leg_rapids = false;  ///< each axis runs on its own in rapids; else they run straight
  bool title = false;           ///< the program's head says the job's title
  std::string date = {};        ///< said there too, unless it is empty
};

/// How it writes coordinates and arcs.
[[nodiscard]] PostedForm posted_form(const Controller& controller);

/// How far rounding to the posted decimals can move a point in space [mm]. Plan with the tool thicker by
/// this, and the posted moves are as free as the planned ones.
[[nodiscard]] double rounding_reserve(const Controller& controller);

}  // namespace yardpass
