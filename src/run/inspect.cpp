#include "yardpass/run/inspect.h"

#include <algorithm>

#include <fmt/format.h>

#include "setup/parts_of_setup.h"
#include "setup/stage.h"
#include "yardpass/curve/write_curves.h"
#ifdef YARDPASS_WITH_DXF
#include "yardpass/dxf/dxf_curves.h"
#endif

namespace yardpass {

Inspection inspect_part(const Job& job, const std::vector<std::vector<double>>& places,
                        const SurveyOptions& options, const StageProgress& progress) {
  Inspection result;
  result.title = job.title;
  result.setup = load_setup(job, progress);
  JobSetup& setup = result.setup;
  const Mesh& mesh = setup.part->mesh();
  const Joints joints(mesh);
  setup.diagnosis = diagnose(mesh, joints, {}, detail::stage(progress, "diagnose the mesh"));
  if (setup.region_map.of_triangle.empty())
    detail::find_regions(setup, mesh, joints, detail::stage(progress, "find the regions"));
  SurveyOptions survey_options = options;
  // Facets stand off the true surface; what they leave under a ball is no finding about the ball.
  survey_options.reach_tolerance_mm =
      std::max(options.reach_tolerance_mm, 2 * setup.diagnosis.chord_error.p95_mm);
  result.survey = survey(setup.part, joints, survey_options, detail::stage(progress, "survey the part"));
  // Longest first, so what is left out takes no number from what stays.
  result.edges = detail::edge_pieces_of(mesh, joints).pieces();
  std::erase_if(result.edges, [&](const Curve& edge) { return length(edge) < result.survey.least_edge_mm; });
  if (!job.operations.empty()) {
    result.operations = settle(setup);
    result.roles = curve_roles(setup, result.operations);
    result.seams = slope_seams(setup, progress);
  }
  for (const auto& asked : places) {
    PlaceFound place{asked, {}, 0};
    if (asked.size() == 3) {
      place.found = nearest_to(mesh, Vec3(asked.data()));
    } else {
      const auto found = highest_at(mesh, Vec2(asked.data()));
      if (!found) throw Error(fmt::format("there is no part at {:g},{:g}", asked[0], asked[1]));
      place.found = *found;
    }
    place.region = setup.region_map.of_triangle[static_cast<std::size_t>(place.found.triangle)];
    result.places.push_back(place);
  }
  return result;
}

std::vector<Curve> curves_of(const Inspection& inspection) {
  std::vector<Curve> all;
  for (const NamedCurves& named : inspection.setup.curves)
    for (Curve curve : named.curves) {
      curve.layer = "curve " + named.name;
      all.push_back(std::move(curve));
    }
  for (const NamedBoundary& boundary : inspection.setup.boundaries)
    for (const Polyline2& loop : boundary.area.loops) {
      Curve curve{{}, true, "", "boundary " + boundary.name};
      for (const Vec2& p : loop) curve.points.emplace_back(p.x(), p.y(), 0);
      all.push_back(std::move(curve));
    }
  for (std::size_t i = 0; i < inspection.edges.size(); ++i) {
    all.push_back(inspection.edges[i]);
    all.back().layer = "sharp edges";
    all.back().name = std::to_string(i + 1);
  }
  return all;
}

std::vector<std::string> write_curve_files(const std::filesystem::path& folder,
                                           const std::vector<Curve>& curves) {
  std::vector<std::string> files{"curves.obj", "curves.svg"};
  write_obj_curves(folder / files[0], curves);
  write_svg_curves(folder / files[1], curves);
#ifdef YARDPASS_WITH_DXF
  files.emplace_back("curves.dxf");
  write_dxf_curves(folder / files.back(), curves);
#endif
  return files;
}

}  // namespace yardpass
