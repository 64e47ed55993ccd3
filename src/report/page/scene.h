// What the page's view shows, packed: see docs/page.md for its columns.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "report/json_values.h"

namespace yardpass::detail {

struct Scene {
  Json about;                                             ///< what is said in words and few numbers
  std::vector<std::pair<std::string, std::string>> data;  ///< names and packed columns
};

/// Part, stock up to each of some moves, moves, tools, findings.
[[nodiscard]] Scene scene_of(const Report& report);
/// Part with regions, sharp edges and what the job names, nothing planned.
[[nodiscard]] Scene scene_of(const Inspection& inspection);

// The pieces that both are made of.

/// Places are told in steps so wide [mm]: half of the finest decimal of a program.
inline constexpr double kSceneStep = 0.0005;
[[nodiscard]] inline std::int64_t steps_of(double mm) {
  return static_cast<std::int64_t>(std::llround(mm / kSceneStep));
}

/// Arcs of a program become chords, this far off at most [mm].
inline constexpr double kSceneSagitta = 0.002;

void add_part(Scene& scene, const Mesh& mesh, const RegionMap& regions, const Telling& telling);
void add_edges(Scene& scene, const std::vector<Curve>& edges);
/// A line of the plan as it lies on the part; beside the part, level with its top.
[[nodiscard]] Curve draped(const std::shared_ptr<const ContactPart>& part, const Polyline2& line,
                           bool closed);
/// Curves, boundaries, lids, run-outs, carriers, keep-away, as layers that can be hidden.
void add_named(Scene& scene, const JobSetup& setup);
void add_layer(Scene& scene, const char* kind, const std::string& name, const std::vector<Curve>& lines);
/// Program, tools and how the stock changes with them.
/// Returns how many points of the way there are up to each move's end.
std::vector<std::int64_t> add_moves(Scene& scene, const Report& report);
void add_stock(Scene& scene, const Report& report, const std::vector<std::int64_t>& points_up_to);

}  // namespace yardpass::detail
