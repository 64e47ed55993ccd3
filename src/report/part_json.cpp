#include <fmt/format.h>

#include "report/json_values.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/report.h"
#include "yardpass/version.h"

namespace yardpass {

using detail::InUnits;
using detail::Json;
using detail::rounded;
using detail::triple;

namespace {

/// The longest ones are told one by one; all points of all of them are in curves.obj.
constexpr std::size_t kMostEdges = 200;

Json places_json(const InUnits& in, const std::vector<Vec3>& places) {
  Json json = Json::array();
  for (const Vec3& p : places) json.push_back(in.place(p));
  return json;
}

Json trouble_json(const InUnits& in, const Trouble& trouble) {
  return {{"count", trouble.count}, {"places", places_json(in, trouble.places)}};
}

Json mesh_json(const JobSetup& setup) {
  const InUnits in(setup.job.units);
  const Diagnosis& d = setup.diagnosis;
  Json loops = Json::array();
  for (const OpenLoop& loop : d.open_loops)
    loops.push_back({{"length", in.length(loop.length_mm)},
                     {"edges", loop.edges},
                     {"border", loop.outer},
                     {"gap", loop.gap_mm ? Json(in.length(*loop.gap_mm)) : Json(nullptr)},
                     {"t_joints", loop.t_joints},
                     {"at", in.place(loop.at)}});
  Json weld = nullptr;
  if (d.weld)
    weld = {{"weld", in.length(d.weld->weld_mm)},         {"closes", d.weld->closes},
            {"open_edges_after", d.weld->open_after},     {"corners_moved", d.weld->moved},
            {"farthest", in.length(d.weld->farthest_mm)}, {"triangles_vanishing", d.weld->vanishing}};
  Json told = Json::array();
  for (const Remark& remark : remarks(d))
    told.push_back({{"what", remark.what},
                    {"matters", remark.matters},
                    {"why", remark.why},
                    {"places", places_json(in, remark.places)}});
  return {{"triangles", setup.summary.triangles},
          {"corners", setup.summary.points},
          {"closed", d.edges.closed()},
          {"volume", in.volume(setup.summary.volume_mm3)},
          {"shells", d.shells},
          {"inside_out", d.inside_out},
          {"open_edges", d.edges.open},
          {"open_loops", loops},
          {"closed_by_weld", weld},
          {"crowded_edges", trouble_json(in, d.crowded)},
          {"flipped_edges", trouble_json(in, d.flipped)},
          {"zero_area", trouble_json(in, d.zero_area)},
          {"repeated", trouble_json(in, d.repeated)},
          {"crossing_pairs", trouble_json(in, d.crossing)},
          {"tiny_shells", trouble_json(in, d.tiny_shells)},
          {"shortest_edge", in.length(d.shortest_edge_mm)},
          {"median_edge", in.length(d.median_edge_mm)},
          {"longest_edge", in.length(d.longest_edge_mm)},
          {"chord_error",
           {{"median", in.length(d.chord_error.median_mm)},
            {"percentile_95", in.length(d.chord_error.p95_mm)},
            {"greatest", in.length(d.chord_error.greatest_mm)},
            {"greatest_at", in.place(d.chord_error.worst)}}},
          {"remarks", told}};
}

Json survey_json(const InUnits& in, const Survey& survey) {
  Json slopes = Json::array(), flats = Json::array(), reach = Json::array(), edges = Json::array(),
       holes = Json::array();
  for (const SlopeShare& s : survey.slopes)
    slopes.push_back({{"from", s.from_deg}, {"to", s.to_deg}, {"area", in.area(s.area_mm2)}});
  for (const Flat& flat : survey.flats)
    flats.push_back({{"z", in.length(flat.z_mm)}, {"area", in.area(flat.area_mm2)}});
  for (const BallReach& r : survey.reach)
    reach.push_back({{"diameter", in.length(r.diameter_mm)}, {"share", rounded(r.share)}});
  for (const BoredHole& hole : survey.holes)
    holes.push_back({{"at", {in.length(hole.at.x()), in.length(hole.at.y())}},
                     {"diameter", in.length(hole.diameter_mm)},
                     {"top", in.length(hole.top_z)},
                     {"bottom", in.length(hole.bottom_z)},
                     {"depth", in.length(hole.depth_mm())},
                     {"through", hole.through}});
  double outer = 0, inner = 0;
  for (const SharpEdge& edge : survey.edges) (edge.hollow ? inner : outer) += edge.length_mm;
  for (const SharpEdge& edge : std::span(survey.edges).first(std::min(kMostEdges, survey.edges.size())))
    edges.push_back({{"length", in.length(edge.length_mm)},
                     {"least_turn", rounded(edge.least_turn_deg)},
                     {"greatest_turn", rounded(edge.greatest_turn_deg)},
                     {"hollow", edge.hollow},
                     {"closed", edge.closed}});
  return {{"area", in.area(survey.area_mm2)},
          {"top", in.length(survey.top_z)},
          {"lowest_seen", in.length(survey.lowest_seen_z)},
          {"depth", in.length(survey.depth_mm())},
          {"slopes", slopes},
          {"undercut_area", in.area(survey.undercut_mm2)},
          {"underside_area", in.area(survey.underside_mm2)},
          {"flats", flats},
          {"ball_reach", reach},
          {"ball_reach_tolerance", in.length(survey.reach_tolerance_mm)},
          {"ball_reach_places", survey.reach_places},
          {"ball_reach_doubt", rounded(survey.reach_doubt)},
          {"sharp_inner_edges_seen", in.length(survey.inner_edges_mm)},
          {"smallest_hollow_radius", in.length(survey.smallest_hollow_mm)},
          {"smallest_hollow_at", in.place(survey.smallest_hollow_at)},
          {"smallest_round_radius", in.length(survey.smallest_round_mm)},
          {"smallest_round_at", in.place(survey.smallest_round_at)},
          {"holes", holes},
          {"sharp_edge_count", survey.edges.size()},
          {"sharp_edges_outer_length", in.length(outer)},
          {"sharp_edges_inner_length", in.length(inner)},
          {"sharp_edges_least_length", in.length(survey.least_edge_mm)},
          {"sharp_edges_left_out", survey.edges_left_out},
          {"sharp_edges", edges}};
}

Json curve_json(const InUnits& in, const Curve& curve) {
  return {{"length", in.length(length(curve))},
          {"closed", curve.closed},
          {"from", in.place(curve.points.front())},
          {"to", in.place(curve.closed ? curve.points.front() : curve.points.back())}};
}

Json curves_json(const InUnits& in, const NamedCurves& named) {
  Json pieces = Json::array();
  for (const Curve& curve : named.curves) pieces.push_back(curve_json(in, curve));
  return {{"name", named.name}, {"pieces", pieces}, {"notes", named.notes}};
}

Json boundary_json(const InUnits& in, const NamedBoundary& boundary) {
  Json junctions = Json::array();
  for (const Junction& j : boundary.junctions)
    junctions.push_back(
        {{"how", name_of(j.how)}, {"changed", in.length(j.changed_mm)}, {"at", in.place(j.at)}});
  return {{"name", boundary.name},
          {"area", in.area(boundary.area.area_mm2())},
          {"loops", boundary.area.loops.size()},
          {"junctions", junctions}};
}

Json regions_json(const JobSetup& setup) {
  const InUnits in(setup.job.units);
  Json list = Json::array();
  for (std::size_t i = 0; i < setup.region_map.regions.size(); ++i) {
    const SurfaceRegion& region = setup.region_map.regions[i];
    Json json{{"number", i + 1},
              {"kind", name_of(region.kind)},
              {"area", in.area(region.area_mm2)},
              {"triangles", region.triangles},
              {"box", in.box(region.box)},
              {"least_slope", rounded(region.least_slope_deg)},
              {"greatest_slope", rounded(region.greatest_slope_deg)},
              {"at", in.place(region.at)},
              {"neighbours", region.neighbours}};
    if (region.bend_radius_mm > 0) json["radius"] = in.length(region.bend_radius_mm);
    if (region.group >= 0) json["group"] = setup.record.groups[static_cast<std::size_t>(region.group)];
    list.push_back(json);
  }
  return list;
}

Json place_json(const InUnits& in, const PlaceFound& place) {
  Json asked = Json::array();
  for (const double x : place.asked) asked.push_back(in.length(x));
  return {{"asked", asked},
          {"at", in.place(place.found.at)},
          {"slope", rounded(place.found.slope_deg())},
          {"region", place.region}};
}

}  // namespace

namespace detail {

Json part_file_json(const JobSetup& setup) {
  const InUnits in(setup.job.units);
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
          {"weld", in.length(setup.job.part.read.weld_mm)},
          {"welded_corners", record.welded},
          {"groups", record.groups},
          {"notes", record.notes},
          {"repairs", repairs},
          {"placement",
           {{"shrink_factor", triple(placement.shrink_factor)},
            {"mirror", placement.mirror ? Json(axes[static_cast<int>(*placement.mirror)]) : Json(nullptr)},
            {"turn", turns},
            {"move", in.place(placement.move)},
            {"matrix", matrix}}}};
}

Json named_regions_json(const JobSetup& setup) {
  const InUnits in(setup.job.units);
  Json list = Json::array();
  for (const NamedRegion& region : setup.regions)
    list.push_back({{"name", region.name},
                    {"area", in.area(region.area_mm2)},
                    {"box", in.box(region.box)},
                    {"outline_area", in.area(region.outline.area_mm2())}});
  return list;
}

}  // namespace detail

std::string placement_words(const JobSetup& setup) {
  const Placement& placement = setup.job.part.placement;
  std::string words;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "" : ", ") + more; };
  const char* axes[] = {"X", "Y", "Z"};
  const Telling telling(setup.job.units);
  const auto three = [&](const Vec3& p) {
    return fmt::format("{}, {}, {}", telling.number(p.x()), telling.number(p.y()), telling.number(p.z()));
  };
  if (placement.shrink_factor != Vec3(1, 1, 1)) {
    const Vec3& f = placement.shrink_factor;
    add(f.x() == f.y() && f.y() == f.z() ? fmt::format("sizes times {:g}", f.x())
                                         : fmt::format("sizes times {:g}, {:g}, {:g}", f.x(), f.y(), f.z()));
  }
  if (placement.mirror) add(fmt::format("mirrored in {}", axes[static_cast<int>(*placement.mirror)]));
  for (const Turn& turn : placement.turns)
    add(fmt::format("turned by {:g} degrees about {}", turn.angle_deg, axes[static_cast<int>(turn.axis)]));
  if (!placement.move.isZero()) add("moved by " + three(placement.move));
  if (setup.job.part.origin) {
    // The zero point of the program, told in coordinates before it was set.
    const Vec3 origin = placement.move - setup.record.matrix.col(3);
    add("origin at " + three(origin));
  }
  return words;
}

std::string inspection_json(const Inspection& inspection) {
  const JobSetup& setup = inspection.setup;
  const InUnits in(setup.job.units);
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", inspection.title},
            {"units", name_of(setup.job.units)},
            {"file", detail::part_file_json(setup)},
            {"box", in.box(setup.summary.box)},
            {"mesh", mesh_json(setup)},
            {"survey", survey_json(in, inspection.survey)},
            {"splitting",
             {{"crease_angle", setup.job.splitting.crease_deg},
              {"bend_radius", in.length(setup.region_map.bend_radius_mm)},
              {"bend_radius_from_part", setup.region_map.bend_from_part},
              {"total_turn", setup.job.splitting.total_turn_deg},
              {"scrap_area", in.area(setup.region_map.scrap_mm2)},
              {"scraps_joined", setup.region_map.scraps}}},
            {"regions", regions_json(setup)},
            {"named_regions", detail::named_regions_json(setup)}};
  json["curves"] = Json::array();
  for (const NamedCurves& named : setup.curves) json["curves"].push_back(curves_json(in, named));
  json["boundaries"] = Json::array();
  for (const NamedBoundary& boundary : setup.boundaries)
    json["boundaries"].push_back(boundary_json(in, boundary));
  json["operations"] = Json::array();
  for (const Settled& settled : inspection.operations)
    json["operations"].push_back({{"number", settled.number},
                                  {"name", one_line(settled.name)},
                                  {"works_in", settled.area.area},
                                  {"limit", name_of(settled.bounds().rule.by)},
                                  {"area", in.area(settled.works_in.area_mm2())}});
  json["sharp_edge_pieces"] = Json::array();
  json["sharp_edge_piece_count"] = inspection.edges.size();
  for (const Curve& edge : std::span(inspection.edges).first(std::min(kMostEdges, inspection.edges.size())))
    json["sharp_edge_pieces"].push_back(curve_json(in, edge));
  json["places"] = Json::array();
  for (const PlaceFound& place : inspection.places) json["places"].push_back(place_json(in, place));
  if (inspection.places.size() > 1) {
    json["spans"] = Json::array();
    for (std::size_t i = 0; i + 1 < inspection.places.size(); ++i) {
      const Span span = span_between(inspection.places[i].found.at, inspection.places[i + 1].found.at);
      json["spans"].push_back({{"distance", in.length(span.distance_mm)},
                               {"plan_distance", in.length(span.plan_distance_mm)},
                               {"rise", in.length(span.rise_mm)},
                               {"angle", rounded(span.angle_deg)},
                               {"slope", rounded(span.slope_deg)}});
    }
  }
  if (inspection.places.size() == 3) {
    const auto circle = circle_through(inspection.places[0].found.at, inspection.places[1].found.at,
                                       inspection.places[2].found.at);
    json["circle"] =
        circle ? Json{{"radius", in.length(circle->radius_mm)}, {"centre", in.place(circle->centre)}}
               : Json(nullptr);
  }
  return detail::dumped(json);
}

}  // namespace yardpass
