// The survey of a part in words.
#include <algorithm>
#include <string>

#include <fmt/format.h>

#include "app/terminal.h"

namespace yardpass::app {

namespace {

std::string place_words(const Vec3& p) {
  return fmt::format("X {:.3f} Y {:.3f} Z {:.3f}", p.x(), p.y(), p.z());
}

void print_mesh(const JobSetup& setup) {
  const PartSummary& summary = setup.summary;
  const PartRecord& record = setup.record;
  const Diagnosis& d = setup.diagnosis;
  const Vec3 size = summary.box.sizes(), low = summary.box.min(), high = summary.box.max();
  fmt::print("  file         {}, unit {} ({})\n", record.format, name_of(record.unit), record.unit_source);
  const std::string placing = placement_words(setup);
  if (!placing.empty()) fmt::print("  placed       {}\n", placing);
  for (const std::string& note : record.notes) fmt::print("  note         {}\n", note);
  if (record.welded > 0)
    fmt::print("  welded       {} corners within {:g} mm of another\n", record.welded,
               setup.job.part.read.weld_mm);
  for (const RepairCount& repair : record.repairs)
    fmt::print("  repair       {}: {} triangles\n", name_of(repair.repair), repair.triangles);
  fmt::print("  size         {:.3f} x {:.3f} x {:.3f} mm\n", size.x(), size.y(), size.z());
  fmt::print("  from, to     X {:.3f} to {:.3f}, Y {:.3f} to {:.3f}, Z {:.3f} to {:.3f}\n", low.x(), high.x(),
             low.y(), high.y(), low.z(), high.z());
  fmt::print("  triangles    {}, {} different corners, {} {}\n", summary.triangles, summary.points, d.shells,
             d.shells == 1 ? "shell" : "shells");
  if (d.edges.closed())
    fmt::print("  closed       yes, encloses {:.1f} cm3\n", std::abs(summary.volume_mm3) / 1000);
  else
    fmt::print("  closed       no: {} open edges, {} edges with three or more triangles\n", d.edges.open,
               d.edges.crowded);
  fmt::print("  facets       edges {:.4f} mm shortest, {:.4f} median, {:.4f} longest\n", d.shortest_edge_mm,
             d.median_edge_mm, d.longest_edge_mm);
  fmt::print(
      "  chord error  {:.4f} mm median, {:.4f} over 95 % of the surface, {:.4f} greatest (estimated)\n",
      d.chord_error.median_mm, d.chord_error.p95_mm, d.chord_error.greatest_mm);
  const auto told = remarks(d);
  if (told.empty()) fmt::print("  faults       none found\n");
  for (const Remark& remark : told) {
    fmt::print("  {:<11}  {}: {}\n", remark.matters ? "MATTERS" : "harmless", remark.what, remark.why);
    for (std::size_t i = 0; i < std::min<std::size_t>(3, remark.places.size()); ++i)
      fmt::print("               at {}\n", place_words(remark.places[i]));
  }
}

void print_survey(const Survey& survey) {
  fmt::print(
      "\n  surface      {:.1f} cm2; depth {:.3f} mm, from Z {:.3f} to Z {:.3f}, the lowest place seen from "
      "above\n",
      survey.area_mm2 / 100, survey.depth_mm(), survey.top_z, survey.lowest_seen_z);
  fmt::print("  slopes      ");
  const double whole = std::max(survey.area_mm2, 1e-300);
  for (std::size_t k = 0; k < survey.slopes.size(); ++k) {
    const SlopeShare& s = survey.slopes[k];
    fmt::print(" {}: {}{}", slope_words(survey, k), percent_words(s.area_mm2 / whole),
               k == 3                         ? "\n              "
               : k + 1 < survey.slopes.size() ? ","
                                              : "\n");
  }
  fmt::print("  hidden       undercut {:.1f} mm2, underside {:.1f} mm2\n", survey.undercut_mm2,
             survey.underside_mm2);
  for (const Flat& flat : survey.flats)
    fmt::print("  flat         Z {:.3f}, {:.1f} mm2\n", flat.z_mm, flat.area_mm2);
  fmt::print("\n  ball, mm     reaches of what is seen from above (leaving at most {:.3g} mm)\n",
             survey.reach_tolerance_mm);
  for (const BallReach& reach : survey.reach)
    fmt::print("  {:>8g}     {:>12}\n", reach.diameter_mm, percent_words(reach.share));
  fmt::print("  smallest hollow radius: {}, at {}\n", smallest_hollow_words(survey),
             place_words(survey.smallest_hollow_at));
}

void print_edges(const Survey& survey) {
  double hollow = 0, bulging = 0;
  for (const SharpEdge& edge : survey.edges) (edge.hollow ? hollow : bulging) += edge.length_mm;
  fmt::print("\n  sharp edges  {}: {:.1f} mm outer, {:.1f} mm inner\n", survey.edges.size(), bulging, hollow);
  for (std::size_t i = 0; i < std::min<std::size_t>(8, survey.edges.size()); ++i) {
    const SharpEdge& edge = survey.edges[i];
    const bool one = edge.greatest_turn_deg - edge.least_turn_deg < 0.1;
    fmt::print("  {:>8}     {:.1f} mm, {}{}, {}\n", i + 1, edge.length_mm,
               one ? fmt::format("{:.1f} degrees", edge.greatest_turn_deg)
                   : fmt::format("{:.1f} to {:.1f} degrees", edge.least_turn_deg, edge.greatest_turn_deg),
               edge.closed ? ", a loop" : "", edge.hollow ? "inner" : "outer");
  }
  if (survey.edges.size() > 8)
    fmt::print("               and {} more in part.json\n", survey.edges.size() - 8);
}

void print_regions(const JobSetup& setup) {
  const RegionMap& map = setup.region_map;
  std::string bends =
      "bends are not split off: the part's radii show no clear limit between bends and the rest";
  if (map.bend_radius_mm > 0)
    bends = fmt::format("bends tighter than {:.3g} mm apart from the rest ({})", map.bend_radius_mm,
                        map.bend_from_part ? "from the part's own radii" : "as asked for");
  else if (!map.bend_from_part)
    bends = "bends are not split off, as asked for";
  fmt::print("\n  regions      {}: creases of more than {:g} degrees; {}\n", map.regions.size(),
             setup.job.splitting.crease_deg, bends);
  if (map.scraps > 0)
    fmt::print("               {} below {:.3g} mm2 joined their neighbours\n",
               map.scraps == 1 ? "1 scrap" : fmt::format("{} scraps", map.scraps), map.scrap_mm2);
  constexpr std::size_t most = 30;
  for (std::size_t i = 0; i < std::min(most, map.regions.size()); ++i) {
    const SurfaceRegion& r = map.regions[i];
    std::string shape =
        fmt::format("{} to {} degrees", std::lround(r.least_slope_deg), std::lround(r.greatest_slope_deg));
    if (r.bend_radius_mm > 0) shape += fmt::format(", R {:.2f}", r.bend_radius_mm);
    fmt::print("  {:>8}     {:<7} {:>10.1f} mm2, Z {:.3f} to {:.3f}, {}\n", i + 1, name_of(r.kind),
               r.area_mm2, r.box.min().z(), r.box.max().z(), shape);
  }
  if (map.regions.size() > most)
    fmt::print("               and {} more in part.json\n", map.regions.size() - most);
  for (const NamedRegion& region : setup.regions)
    fmt::print("  named        \"{}\": {:.1f} mm2, Z {:.3f} to {:.3f}\n", region.name, region.area_mm2,
               region.box.min().z(), region.box.max().z());
  for (const NamedCurves& named : setup.curves) {
    double all = 0;
    for (const Curve& curve : named.curves) all += length(curve);
    fmt::print("  curve        \"{}\": {} {}, {:.2f} mm\n", named.name, named.curves.size(),
               named.curves.size() == 1 ? "piece" : "pieces", all);
    for (const std::string& note : named.notes) fmt::print("               {}\n", note);
  }
  for (const NamedBoundary& boundary : setup.boundaries) {
    fmt::print("  boundary     \"{}\": {:.1f} mm2, {} {}\n", boundary.name, boundary.area.area_mm2(),
               boundary.area.loops.size(), boundary.area.loops.size() == 1 ? "loop" : "loops");
    for (const Junction& j : boundary.junctions)
      if (j.how != Meeting::touching)
        fmt::print("               pieces {} and {} {} by {:.3f} mm at {}\n", j.from + 1, j.to + 1,
                   name_of(j.how), j.changed_mm, place_words(j.at));
  }
  for (const auto& [kind, list] :
       {std::pair("lid", &setup.lids), std::pair("run-out", &setup.run_outs),
        std::pair("carrier", &setup.carriers), std::pair("keep_away", &setup.keep_away)})
    for (const GuideMesh& guide : *list) fmt::print("  {:<11}  \"{}\"\n", kind, guide.name);
}

void print_places(const Inspection& inspection) {
  const auto& places = inspection.places;
  if (places.empty()) return;
  fmt::print("\n");
  for (std::size_t i = 0; i < places.size(); ++i)
    fmt::print("  place {}      {}, slope {:.2f} degrees, region {}\n", i + 1,
               place_words(places[i].found.at), places[i].found.slope_deg(), places[i].region);
  for (std::size_t i = 0; i + 1 < places.size(); ++i) {
    const Span span = span_between(places[i].found.at, places[i + 1].found.at);
    fmt::print(
        "  {} to {}       distance {:.4f} mm, in plan {:.4f} mm, rise {:.4f} mm; angle in plan {:.4f} "
        "degrees, slope "
        "{:.4f} degrees\n",
        i + 1, i + 2, span.distance_mm, span.plan_distance_mm, span.rise_mm, span.angle_deg, span.slope_deg);
  }
  if (places.size() != 3) return;
  const auto circle = circle_through(places[0].found.at, places[1].found.at, places[2].found.at);
  if (circle)
    fmt::print("  circle       radius {:.4f} mm, centre {}\n", circle->radius_mm,
               place_words(circle->centre));
  else
    fmt::print("  circle       none: the three places lie in one line\n");
}

}  // namespace

void print_inspection(const Inspection& inspection) {
  fmt::print("{}\n", inspection.title);
  print_mesh(inspection.setup);
  print_survey(inspection.survey);
  print_edges(inspection.survey);
  print_regions(inspection.setup);
  print_places(inspection);
}

}  // namespace yardpass::app
