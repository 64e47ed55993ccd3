/// How a machine's control wants its programs.
#pragma once

#include <string>

namespace yardpass {

struct Controller {
  int decimals = 3;                 ///< of X, Y, Z in millimetres
  std::string work_offset = "G54";  ///< G54 to G59
  bool dog_leg_rapids = false;      ///< each axis runs on its own in rapids; else they run straight
  bool title = false;               ///< the program's head says the job's title
  std::string date = {};            ///< said there too, unless it is empty
};

/// How far rounding to the posted decimals can move a point in space [mm]. Plan with the tool thicker by
/// this, and the posted moves are as free as the planned ones.
[[nodiscard]] double rounding_reserve(const Controller& controller);

}  // namespace yardpass
