/// A first look at a part: how deep, how steep, what is hidden from above, and which ball reaches what.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/joints.h"
#include "yardpass/part/edges.h"
#include "yardpass/part/summary.h"
#include "yardpass/survey/holes.h"

namespace yardpass {

/// A point of the surface that stands for a piece of it.
struct SurfaceSample {
  Vec3 at{0, 0, 0};
  Vec3 normal{0, 0, 1};  ///< unit, on the side that is seen from above; as meshed where neither side is
  double area_mm2 = 0;
  std::int32_t triangle = -1;
  /// How the surface lies under the spindle. Upright: within 0.1 degree of it.
  enum class Sight { seen, upright, undercut, underside } sight = Sight::seen;
};

/// Samples of the whole surface, at least one a triangle and about `wanted` if the triangles are fewer; their
/// areas add up to that of the mesh. A sample is seen if nothing of the part lies above it; upright walls
/// count as upright if air above one of their sides shows them, else as undercut. Underside: level surface at
/// the part's lowest Z that faces down. By the tip surface of a needle, so facing does not matter.
[[nodiscard]] std::vector<SurfaceSample> sample_surface(const std::shared_ptr<const ContactPart>& part,
                                                        std::int64_t wanted, const Progress& progress = {});

/// Area between two slopes, of what is seen from above.
struct SlopeShare {
  double from_deg, to_deg;
  double area_mm2 = 0;
};

/// A ball of a diameter, and the share of the surface it reaches.
struct BallReach {
  double diameter_mm = 0;
  double share = 0;  ///< of the area that is seen or upright, 0 to 1
};

struct SurveyOptions {
  /// Ascending. Empty: common cutter sizes up to half the part.
  std::vector<double> ball_diameters_mm = {};
  /// What a ball may leave at a place and still count as reaching it; at least the mesh's own chord error.
  double reach_tolerance_mm = 0.01;
  std::int64_t samples = 40000;  ///< for the shares; steps of about 0.1 % or less
  /// For the balls: chance alone leaves a share within 0.6 % of the truth, 19 times of 20.
  std::int64_t reach_samples = 40000;
  double sharp_deg = 25;  ///< edges that turn by more are sharp
  /// Shorter sharp edges are left out and counted. Empty: noise_length(), so on a scan its noise.
  std::optional<double> least_edge_mm = {};
};

struct Survey {
  double top_z = 0, lowest_seen_z = 0;  ///< lowest: of what is seen from above and not upright
  [[nodiscard]] double depth_mm() const { return top_z - lowest_seen_z; }
  double area_mm2 = 0;
  std::vector<SlopeShare> slopes;  ///< level, then up to 15, 30, 45, 60, 75 degrees, steep, upright
  double undercut_mm2 = 0, underside_mm2 = 0;
  std::vector<Flat>
      flats;  ///< level areas that are at least a thousandth of the part's rectangle, highest first
  std::vector<BallReach> reach;
  double reach_tolerance_mm = 0;
  std::int64_t reach_places = 0;  ///< asked, spread evenly over the area
  /// How far chance alone takes a share from the truth, at most, 19 times of 20.
  double reach_doubt = 0;
  /// Sharp inner edges that are seen from above: no ball reaches them, and no share is whole.
  double inner_edges_mm = 0;
  /// Smallest hollow radius found, and where. 0: below that of the smallest ball, or a sharp inner edge. The
  /// largest ball's diameter: above its radius, it reaches all.
  double smallest_hollow_mm = 0;
  Vec3 smallest_hollow_at{0, 0, 0};
  /// The same by the balls alone, away from sharp inner edges.
  double smallest_round_mm = 0;
  Vec3 smallest_round_at{0, 0, 0};
  std::vector<SharpEdge> edges;  ///< longest first
  double least_edge_mm = 0;      ///< shorter ones are left out
  std::int64_t edges_left_out = 0;
  std::vector<BoredHole> holes;
};
/// The result does not depend on the number of threads.
[[nodiscard]] Survey survey(const std::shared_ptr<const ContactPart>& part, const Joints& joints,
                            const SurveyOptions& options = {}, const Progress& progress = {});

}  // namespace yardpass
