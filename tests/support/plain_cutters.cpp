#include "support/plain_cutters.h"

#include <cmath>
#include <numbers>

namespace yardpass::testing {

std::vector<PlainCutter> every_cutter() {
  const double c15 = std::cos(15 * std::numbers::pi / 180), s15 = std::sin(15 * std::numbers::pi / 180);
  std::vector<PlainCutter> cutters;
  cutters.push_back({Profile::ball(5), 2.5, [](double r) { return 2.5 - std::sqrt(2.5 * 2.5 - r * r); }});
  cutters.push_back({Profile::flat(4), 2, [](double) { return 0.0; }});
  cutters.push_back({Profile::bull(6, 1), 3, [](double r) {
                       return r < 2 ? 0.0 : 1 - std::sqrt(std::max(0.0, 1 - (r - 2) * (r - 2)));
                     }});
  // A ball of 0.8 at the tip of a cone of 15 degrees, 6 high: the arc ends where its slope is that of the
  // cone.
  const double joint = 0.8 * c15, joint_z = 0.8 - 0.8 * s15;
  cutters.push_back({Profile::taper(1.6, 15, 0.8, 6), joint + (6 - joint_z) * s15 / c15, [=](double r) {
                       return r < joint ? 0.8 - std::sqrt(0.64 - r * r) : joint_z + (r - joint) * c15 / s15;
                     }});
  cutters.push_back({Profile::chamfer(6, 45, 1), 3, [](double r) { return r < 0.5 ? 0.0 : r - 0.5; }});
  const Profile::OutlinePoint outline[] = {{1, 0, 0}, {2, 0.4, 0}, {3, 2, 0}};
  cutters.push_back({Profile::from_outline(outline), 3, [](double r) {
                       return r < 1 ? 0.0 : r < 2 ? 0.4 * (r - 1) : 0.4 + 1.6 * (r - 2);
                     }});
  return cutters;
}

}  // namespace yardpass::testing
