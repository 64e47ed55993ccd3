// yardpass inspect: looking at a part.
#pragma once

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace yardpass::app {

struct InspectWords {
  std::string part, out, unit;
  std::vector<std::string> repairs, places;
  std::vector<double> balls;
  double weld = 0, crease_angle = 0, bend_radius = -1;
  bool json = false, quiet = false;
};

/// Adds the verb's options; they write to `words`, which must live as long as the parser.
CLI::App* add_inspect_verb(CLI::App& program, InspectWords& words);
int inspect(const InspectWords& words);

}  // namespace yardpass::app
