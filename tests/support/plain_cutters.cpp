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
  // A flat of 1.1 with a corner of 0.4 below a cone of 20 degrees, 8 high.
  const double c20 = std::cos(20 * std::numbers::pi / 180), s20 = std::sin(20 * std::numbers::pi / 180);
  const double corner_end = 1.1 + 0.4 * c20, corner_z = 0.4 - 0.4 * s20;
  cutters.push_back({Profile::taper(3, 20, 0.4, 8), corner_end + (8 - corner_z) * s20 / c20, [=](double r) {
                       if (r < 1.1) return 0.0;
                       return r < corner_end ? 0.4 - std::sqrt(0.16 - (r - 1.1) * (r - 1.1))
                                             : corner_z + (r - corner_end) * c20 / s20;
                     }});
  // A flat of 1 and an arc from (1, 0) to (4, 2): of radius 3.4 its centre lies beside the axis, of 6 beyond
  // it.
  for (const double arc : {3.4, 6.0}) {
    const Profile::OutlinePoint bulging[] = {{1, 0, 0}, {4, 2, arc}};
    const double up = std::sqrt(arc * arc - 13.0 / 4) / std::sqrt(13.0);
    const double centre_r = 2.5 - 2 * up, centre_z = 1 + 3 * up;
    cutters.push_back({Profile::from_outline(bulging), 4, [=](double r) {
                         return r < 1 ? 0.0
                                      : centre_z - std::sqrt(arc * arc - (r - centre_r) * (r - centre_r));
                       }});
  }
  return cutters;
}

}  // namespace yardpass::testing
