#include <fmt/format.h>

#include "report/json_values.h"
#include "yardpass/report/report.h"
#include "yardpass/version.h"

namespace yardpass {

using detail::box;
using detail::Json;
using detail::rounded;
using detail::triple;

namespace {

Json places_json(const std::vector<Vec3>& places) {
  Json json = Json::array();
  for (const Vec3& p : places) json.push_back(triple(p));
  return json;
}

Json trouble_json(const Trouble& trouble) {
  return {{"count", trouble.count}, {"places", places_json(trouble.places)}};
}

Json mesh_json(const JobSetup& setup) {
  const Diagnosis& d = setup.diagnosis;
  Json loops = Json::array();
  for (const OpenLoop& loop : d.open_loops)
    loops.push_back({{"length", rounded(loop.length_mm)},
                     {"edges", loop.edges},
                     {"border", loop.outer},
                     {"at", triple(loop.at)}});
  Json told = Json::array();
  for (const Remark& remark : remarks(d))
    told.push_back({{"what", remark.what},
                    {"matters", remark.matters},
                    {"why", remark.why},
                    {"places", places_json(remark.places)}});
  return {{"triangles", setup.summary.triangles},
          {"corners", setup.summary.points},
          {"closed", d.edges.closed()},
          {"volume", rounded(setup.summary.volume_mm3)},
          {"shells", d.shells},
          {"inside_out", d.inside_out},
          {"open_edges", d.edges.open},
          {"open_loops", loops},
          {"crowded_edges", trouble_json(d.crowded)},
          {"flipped_edges", trouble_json(d.flipped)},
          {"zero_area", trouble_json(d.zero_area)},
          {"repeated", trouble_json(d.repeated)},
          {"crossing_pairs", trouble_json(d.crossing)},
          {"tiny_shells", trouble_json(d.tiny_shells)},
          {"shortest_edge", rounded(d.shortest_edge_mm)},
          {"median_edge", rounded(d.median_edge_mm)},
          {"longest_edge", rounded(d.longest_edge_mm)},
          {"chord_error",
           {{"median", rounded(d.chord_error.median_mm)},
            {"percentile_95", rounded(d.chord_error.p95_mm)},
            {"greatest", rounded(d.chord_error.greatest_mm)},
            {"greatest_at", triple(d.chord_error.worst)}}},
          {"remarks", told}};
}

Json survey_json(const Survey& survey) {
  Json slopes = Json::array(), flats = Json::array(), reach = Json::array(), edges = Json::array();
  for (const SlopeShare& s : survey.slopes)
    slopes.push_back({{"from", s.from_deg}, {"to", s.to_deg}, {"area", rounded(s.area_mm2)}});
  for (const Flat& flat : survey.flats)
    flats.push_back({{"z", rounded(flat.z_mm)}, {"area", rounded(flat.area_mm2)}});
  for (const BallReach& r : survey.reach)
    reach.push_back({{"diameter", r.diameter_mm}, {"share", rounded(r.share)}});
  for (const SharpEdge& edge : survey.edges)
    edges.push_back({{"length", rounded(edge.length_mm)},
                     {"least_turn", rounded(edge.least_turn_deg)},
                     {"greatest_turn", rounded(edge.greatest_turn_deg)},
                     {"hollow", edge.hollow},
                     {"closed", edge.closed}});
  return {{"area", rounded(survey.area_mm2)},
          {"top", rounded(survey.top_z)},
          {"lowest_seen", rounded(survey.lowest_seen_z)},
          {"depth", rounded(survey.depth_mm())},
          {"slopes", slopes},
          {"undercut_area", rounded(survey.undercut_mm2)},
          {"underside_area", rounded(survey.underside_mm2)},
          {"flats", flats},
          {"ball_reach", reach},
          {"ball_reach_tolerance", rounded(survey.reach_tolerance_mm)},
          {"smallest_hollow_radius", rounded(survey.smallest_hollow_mm)},
          {"smallest_hollow_at", triple(survey.smallest_hollow_at)},
          {"sharp_edges", edges}};
}

Json curve_json(const Curve& curve) {
  return {{"length", rounded(length(curve))},
          {"closed", curve.closed},
          {"from", triple(curve.points.front())},
          {"to", triple(curve.closed ? curve.points.front() : curve.points.back())}};
}

Json curves_json(const NamedCurves& named) {
  Json pieces = Json::array();
  for (const Curve& curve : named.curves) pieces.push_back(curve_json(curve));
  return {{"name", named.name}, {"pieces", pieces}, {"notes", named.notes}};
}

Json boundary_json(const NamedBoundary& boundary) {
  Json junctions = Json::array();
  for (const Junction& j : boundary.junctions)
    junctions.push_back({{"how", name_of(j.how)}, {"changed", rounded(j.changed_mm)}, {"at", triple(j.at)}});
  return {{"name", boundary.name},
          {"area", rounded(boundary.area.area_mm2())},
          {"loops", boundary.area.loops.size()},
          {"junctions", junctions}};
}

Json regions_json(const JobSetup& setup) {
  Json list = Json::array();
  for (std::size_t i = 0; i < setup.region_map.regions.size(); ++i) {
    const SurfaceRegion& region = setup.region_map.regions[i];
    Json json{{"number", i + 1},
              {"kind", name_of(region.kind)},
              {"area", rounded(region.area_mm2)},
              {"triangles", region.triangles},
              {"box", box(region.box)},
              {"least_slope", rounded(region.least_slope_deg)},
              {"greatest_slope", rounded(region.greatest_slope_deg)},
              {"at", triple(region.at)},
              {"neighbours", region.neighbours}};
    if (region.bend_radius_mm > 0) json["radius"] = rounded(region.bend_radius_mm);
    if (region.group >= 0) json["group"] = setup.record.groups[static_cast<std::size_t>(region.group)];
    list.push_back(json);
  }
  return list;
}

Json place_json(const PlaceFound& place) {
  return {{"asked", place.asked},
          {"at", triple(place.found.at)},
          {"slope", rounded(place.found.slope_deg())},
          {"region", place.region}};
}

}  // namespace

namespace detail {

Json part_file_json(const JobSetup& setup) {
  const PartRecord& record = setup.record;
  const Placement& placement = setup.job.part.placement;
  Json repairs = Json::array(), turns = Json::array(), matrix = Json::array();
  for (const RepairCount& repair : record.repairs)
    repairs.push_back({{"repair", name_of(repair.repair)}, {"triangles", repair.triangles}});
  const char* axes[] = {"x", "y", "z"};
  for (const Turn& turn : placement.turns)
    turns.push_back({{"axis", axes[static_cast<int>(turn.axis)]}, {"angle", turn.angle_deg}});
  for (int row = 0; row < 3; ++row) {
    Json numbers = Json::array();
    for (int column = 0; column < 4; ++column) numbers.push_back(record.matrix(row, column));
    matrix.push_back(numbers);
  }
  return {{"name", setup.job.part.mesh.filename().string()},
          {"format", record.format},
          {"unit", name_of(record.unit)},
          {"unit_from", record.unit_source},
          {"weld", setup.job.part.read.weld_mm},
          {"welded_corners", record.welded},
          {"groups", record.groups},
          {"notes", record.notes},
          {"repairs", repairs},
          {"placement",
           {{"shrink_factor", triple(placement.shrink_factor)},
            {"mirror", placement.mirror ? Json(axes[static_cast<int>(*placement.mirror)]) : Json(nullptr)},
            {"turn", turns},
            {"move", triple(placement.move)},
            {"matrix", matrix}}}};
}

Json named_regions_json(const JobSetup& setup) {
  Json list = Json::array();
  for (const NamedRegion& region : setup.regions)
    list.push_back({{"name", region.name},
                    {"area", rounded(region.area_mm2)},
                    {"box", box(region.box)},
                    {"outline_area", rounded(region.outline.area_mm2())}});
  return list;
}

}  // namespace detail

std::string placement_words(const JobSetup& setup) {
  const Placement& placement = setup.job.part.placement;
  std::string words;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "" : ", ") + more; };
  const char* axes[] = {"X", "Y", "Z"};
  if (placement.shrink_factor != Vec3(1, 1, 1)) {
    const Vec3& f = placement.shrink_factor;
    add(f.x() == f.y() && f.y() == f.z() ? fmt::format("sizes times {:g}", f.x())
                                         : fmt::format("sizes times {:g}, {:g}, {:g}", f.x(), f.y(), f.z()));
  }
  if (placement.mirror) add(fmt::format("mirrored in {}", axes[static_cast<int>(*placement.mirror)]));
  for (const Turn& turn : placement.turns)
    add(fmt::format("turned by {:g} degrees about {}", turn.angle_deg, axes[static_cast<int>(turn.axis)]));
  if (!placement.move.isZero())
    add(fmt::format("moved by {:g}, {:g}, {:g}", placement.move.x(), placement.move.y(), placement.move.z()));
  if (setup.job.part.origin) {
    // The zero point of the program, told in coordinates before it was set.
    const Vec3 origin = placement.move - setup.record.matrix.col(3);
    add(fmt::format("origin at {:.6g}, {:.6g}, {:.6g}", origin.x(), origin.y(), origin.z()));
  }
  return words;
}

std::string inspection_json(const Inspection& inspection) {
  const JobSetup& setup = inspection.setup;
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", inspection.title},
            {"units", "mm"},
            {"file", detail::part_file_json(setup)},
            {"box", box(setup.summary.box)},
            {"mesh", mesh_json(setup)},
            {"survey", survey_json(inspection.survey)},
            {"splitting",
             {{"crease_angle", setup.job.splitting.crease_deg},
              {"bend_radius", rounded(setup.region_map.bend_radius_mm)},
              {"bend_radius_from_part", setup.region_map.bend_from_part},
              {"total_turn", setup.job.splitting.total_turn_deg},
              {"scrap_area", rounded(setup.region_map.scrap_mm2)},
              {"scraps_joined", setup.region_map.scraps}}},
            {"regions", regions_json(setup)},
            {"named_regions", detail::named_regions_json(setup)}};
  json["curves"] = Json::array();
  for (const NamedCurves& named : setup.curves) json["curves"].push_back(curves_json(named));
  json["boundaries"] = Json::array();
  for (const NamedBoundary& boundary : setup.boundaries)
    json["boundaries"].push_back(boundary_json(boundary));
  json["sharp_edge_pieces"] = Json::array();
  for (const Curve& edge : inspection.edges) json["sharp_edge_pieces"].push_back(curve_json(edge));
  json["places"] = Json::array();
  for (const PlaceFound& place : inspection.places) json["places"].push_back(place_json(place));
  if (inspection.places.size() > 1) {
    json["spans"] = Json::array();
    for (std::size_t i = 0; i + 1 < inspection.places.size(); ++i) {
      const Span span = span_between(inspection.places[i].found.at, inspection.places[i + 1].found.at);
      json["spans"].push_back({{"distance", rounded(span.distance_mm)},
                               {"plan_distance", rounded(span.plan_distance_mm)},
                               {"rise", rounded(span.rise_mm)},
                               {"angle", rounded(span.angle_deg)},
                               {"slope", rounded(span.slope_deg)}});
    }
  }
  if (inspection.places.size() == 3) {
    const auto circle = circle_through(inspection.places[0].found.at, inspection.places[1].found.at,
                                       inspection.places[2].found.at);
    json["circle"] = circle ? Json{{"radius", rounded(circle->radius_mm)}, {"centre", triple(circle->centre)}}
                            : Json(nullptr);
  }
  return detail::dumped(json);
}

}  // namespace yardpass
