#include "yardpass/job/inspect.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/stage.h"
#include "job/world_regions.h"

namespace yardpass {

Inspection inspect_part(const Job& job, const std::vector<std::vector<double>>& places,
                        const SurveyOptions& options, const StageProgress& progress) {
  Inspection result;
  result.title = job.title;
  result.world = load_world(job, progress);
  JobWorld& world = result.world;
  const Mesh& mesh = world.part->mesh();
  const Joints joints(mesh);
  world.diagnosis = diagnose(mesh, joints, {}, detail::stage(progress, "diagnose the mesh"));
  if (world.region_map.of_triangle.empty())
    detail::find_regions(world, mesh, joints, detail::stage(progress, "find the regions"));
  SurveyOptions survey_options = options;
  // Facets stand off the true surface; what they leave under a ball is no finding about the ball.
  survey_options.reach_tolerance_mm =
      std::max(options.reach_tolerance_mm, 2 * world.diagnosis.chord_error.p95_mm);
  result.survey = survey(world.part, joints, survey_options, detail::stage(progress, "survey the part"));
  for (const auto& asked : places) {
    PlaceFound place{asked, {}, 0};
    if (asked.size() == 3) {
      place.found = nearest_to(mesh, Vec3(asked.data()));
    } else {
      const auto found = highest_at(mesh, Vec2(asked.data()));
      if (!found) throw Error(fmt::format("there is no part at {:g},{:g}", asked[0], asked[1]));
      place.found = *found;
    }
    place.region = world.region_map.of_triangle[static_cast<std::size_t>(place.found.triangle)];
    result.places.push_back(place);
  }
  return result;
}

}  // namespace yardpass
