// The survey of a part in words.
#include <algorithm>
#include <string>

#include <fmt/format.h>

#include "app/terminal.h"

namespace yardpass::app {

namespace {

void print_mesh(const JobSetup& setup, const Telling& t) {
  const PartSummary& summary = setup.summary;
  const PartRecord& record = setup.record;
  const Diagnosis& d = setup.diagnosis;
  const Vec3 size = summary.box.sizes();
  fmt::print("  file         {}, unit {} ({})\n", record.format, name_of(record.unit), record.unit_source);
  const std::string placing = placement_words(setup);
  if (!placing.empty()) fmt::print("  placed       {}\n", placing);
  for (const std::string& note : record.notes) fmt::print("  note         {}\n", note);
  if (record.welded > 0)
    fmt::print("  welded       {} corners within {} of another\n", record.welded,
               t.with_unit(setup.job.part.read.weld_mm));
  for (const RepairCount& repair : record.repairs)
    fmt::print("  repair       {}: {} triangles\n", name_of(repair.repair), repair.triangles);
  fmt::print("  size         {} x {} x {} {}\n", t.column(size.x()), t.column(size.y()), t.column(size.z()),
             t.unit());
  fmt::print("  from, to     {}\n", t.box(summary.box));
  fmt::print("  triangles    {}, {} different corners, {} {}\n", summary.triangles, summary.points, d.shells,
             d.shells == 1 ? "shell" : "shells");
  if (d.edges.closed())
    fmt::print("  closed       yes, encloses {}\n", t.volume_words(std::abs(summary.volume_mm3)));
  else
    fmt::print("  closed       no: {} open edges, {} edges with three or more triangles\n", d.edges.open,
               d.edges.crowded);
  fmt::print("  facets       edges {} {} shortest, {} median, {} longest\n", t.column(d.shortest_edge_mm),
             t.unit(), t.column(d.median_edge_mm), t.column(d.longest_edge_mm));
  fmt::print("  chord error  {} {} median, {} over 95 % of the surface, {} greatest (estimated)\n",
             t.column(d.chord_error.median_mm), t.unit(), t.column(d.chord_error.p95_mm),
             t.column(d.chord_error.greatest_mm));
  const auto told = remarks(d);
  if (told.empty()) fmt::print("  faults       none found\n");
  for (const Remark& remark : told) {
    fmt::print("  {:<11}  {}: {}\n", remark.matters ? "MATTERS" : "harmless", remark.what, remark.why);
    for (std::size_t i = 0; i < std::min<std::size_t>(3, remark.places.size()); ++i)
      fmt::print("               at {}\n", t.place(remark.places[i]));
  }
}

void print_survey(const Survey& survey, const Telling& t) {
  fmt::print("\n  surface      {}; depth {} {}, from Z {} to Z {}, the lowest place seen from above\n",
             t.area_words(survey.area_mm2), t.column(survey.depth_mm()), t.unit(), t.column(survey.top_z),
             t.column(survey.lowest_seen_z));
  fmt::print("  slopes      ");
  const double whole = std::max(survey.area_mm2, 1e-300);
  for (std::size_t k = 0; k < survey.slopes.size(); ++k) {
    const SlopeShare& s = survey.slopes[k];
    fmt::print(" {}: {}{}", slope_words(survey, k), percent_words(s.area_mm2 / whole),
               k == 3                         ? "\n              "
               : k + 1 < survey.slopes.size() ? ","
                                              : "\n");
  }
  fmt::print("  hidden       undercut {}, underside {}\n", t.area_words(survey.undercut_mm2),
             t.area_words(survey.underside_mm2));
  for (const Flat& flat : survey.flats)
    fmt::print("  flat         Z {}, {}\n", t.column(flat.z_mm), t.area_words(flat.area_mm2));
  fmt::print("\n  ball, {:<6} reaches of what is seen from above (leaving at most {})\n", t.unit(),
             t.with_unit(survey.reach_tolerance_mm));
  for (const BallReach& reach : survey.reach)
    fmt::print("  {:>8}     {:>12}\n", t.number(reach.diameter_mm), percent_words(reach.share));
  fmt::print("               by {} places; chance alone is within {}, 19 times of 20\n", survey.reach_places,
             percent_words(survey.reach_doubt));
  if (survey.inner_edges_mm > 0)
    fmt::print("               no ball reaches the sharp inner edges, {} in all\n",
               t.with_unit(survey.inner_edges_mm));
  fmt::print("  smallest hollow radius: {}, at {}\n", smallest_hollow_words(survey, t),
             t.place(survey.smallest_hollow_at));
  if (survey.inner_edges_mm > 0 && survey.smallest_round_mm > 0)
    fmt::print("               away from sharp edges: {}, at {}\n",
               radius_words(survey, survey.smallest_round_mm, t), t.place(survey.smallest_round_at));
}

/// Holes of one kind on one line, with their places.
void print_holes(const Survey& survey, const Telling& t) {
  constexpr std::size_t kPlaces = 8;
  const auto& holes = survey.holes;
  const auto alike = [](const BoredHole& a, const BoredHole& b) {
    return std::abs(a.diameter_mm - b.diameter_mm) < 0.005 && std::abs(a.top_z - b.top_z) < 0.005 &&
           std::abs(a.bottom_z - b.bottom_z) < 0.005 && a.through == b.through;
  };
  std::vector<std::uint8_t> told(holes.size(), 0);
  for (std::size_t i = 0; i < holes.size(); ++i) {
    if (told[i]) continue;
    std::string places;
    std::size_t count = 0;
    for (std::size_t k = i; k < holes.size(); ++k) {
      if (told[k] || !alike(holes[i], holes[k])) continue;
      told[k] = 1;
      if (count++ < kPlaces)
        places += fmt::format("{}X {} Y {}", count == 1 ? "" : ", ", t.number(holes[k].at.x()),
                              t.number(holes[k].at.y()));
    }
    fmt::print("  {:<11}  diameter {}, {} deep from Z {}{}; at {}{}\n",
               count == 1 ? "bored hole" : fmt::format("{} holes", count), t.with_unit(holes[i].diameter_mm),
               t.with_unit(holes[i].depth_mm()), t.column(holes[i].top_z),
               holes[i].through ? ", through" : ", blind", places,
               count > kPlaces ? fmt::format(" and {} more", count - kPlaces) : "");
  }
}

void print_edges(const Survey& survey, const Telling& t) {
  double hollow = 0, bulging = 0;
  for (const SharpEdge& edge : survey.edges) (edge.hollow ? hollow : bulging) += edge.length_mm;
  fmt::print("\n  sharp edges  {}: {} outer, {} inner\n", survey.edges.size(), t.with_unit(bulging),
             t.with_unit(hollow));
  if (survey.edges_left_out > 0)
    fmt::print("               {} shorter than {} left out: so many and so short is the noise of a scan\n",
               survey.edges_left_out, t.with_unit(survey.least_edge_mm));
  for (std::size_t i = 0; i < std::min<std::size_t>(8, survey.edges.size()); ++i) {
    const SharpEdge& edge = survey.edges[i];
    const bool one = edge.greatest_turn_deg - edge.least_turn_deg < 0.1;
    fmt::print("  {:>8}     {}, {}{}, {}\n", i + 1, t.with_unit(edge.length_mm),
               one ? fmt::format("{:.1f} degrees", edge.greatest_turn_deg)
                   : fmt::format("{:.1f} to {:.1f} degrees", edge.least_turn_deg, edge.greatest_turn_deg),
               edge.closed ? ", a loop" : "", edge.hollow ? "inner" : "outer");
  }
  if (survey.edges.size() > 8)
    fmt::print("               and {} more in part.json\n", survey.edges.size() - 8);
}

void print_regions(const JobSetup& setup, const Telling& t) {
  const RegionMap& map = setup.region_map;
  std::string bends =
      "bends are not split off: the part's radii show no clear limit between bends and the rest";
  if (map.bend_radius_mm > 0)
    bends = fmt::format("bends tighter than {} apart from the rest ({})", t.with_unit(map.bend_radius_mm),
                        map.bend_from_part ? "from the part's own radii" : "as asked for");
  else if (!map.bend_from_part)
    bends = "bends are not split off, as asked for";
  fmt::print("\n  regions      {}: creases of more than {:g} degrees; {}\n", map.regions.size(),
             setup.job.splitting.crease_deg, bends);
  if (map.scraps > 0)
    fmt::print("               {} below {} joined their neighbours\n",
               map.scraps == 1 ? "1 scrap" : fmt::format("{} scraps", map.scraps),
               t.with_unit(map.scrap_mm2, Unit::mm2));
  constexpr std::size_t most = 30;
  for (std::size_t i = 0; i < std::min(most, map.regions.size()); ++i) {
    const SurfaceRegion& r = map.regions[i];
    std::string shape =
        fmt::format("{} to {} degrees", std::lround(r.least_slope_deg), std::lround(r.greatest_slope_deg));
    if (r.bend_radius_mm > 0) shape += ", R " + t.number(r.bend_radius_mm);
    fmt::print("  {:>8}     {:<7} {:>14}, Z {} to {}, {}\n", i + 1, name_of(r.kind), t.area_words(r.area_mm2),
               t.column(r.box.min().z()), t.column(r.box.max().z()), shape);
  }
  if (map.regions.size() > most)
    fmt::print("               and {} more in part.json\n", map.regions.size() - most);
  for (const NamedRegion& region : setup.regions)
    fmt::print("  named        \"{}\": {}, Z {} to {}\n", region.name, t.area_words(region.area_mm2),
               t.column(region.box.min().z()), t.column(region.box.max().z()));
  for (const NamedCurves& named : setup.curves) {
    double all = 0;
    for (const Curve& curve : named.curves) all += length(curve);
    fmt::print("  curve        \"{}\": {} {}, {}\n", named.name, named.curves.size(),
               named.curves.size() == 1 ? "piece" : "pieces", t.with_unit(all));
    for (const std::string& note : named.notes) fmt::print("               {}\n", note);
  }
  for (const NamedBoundary& boundary : setup.boundaries) {
    fmt::print("  boundary     \"{}\": {}, {} {}\n", boundary.name, t.area_words(boundary.area.area_mm2()),
               boundary.area.loops.size(), boundary.area.loops.size() == 1 ? "loop" : "loops");
    for (const Junction& j : boundary.junctions)
      if (j.how != Meeting::touching)
        fmt::print("               pieces {} and {} {} by {} at {}\n", j.from + 1, j.to + 1, name_of(j.how),
                   t.with_unit(j.changed_mm), t.place(j.at));
  }
  for (const auto& [kind, list] :
       {std::pair("lid", &setup.lids), std::pair("run-out", &setup.run_outs),
        std::pair("carrier", &setup.carriers), std::pair("keep-away", &setup.keep_away)})
    for (const GuideMesh& guide : *list) fmt::print("  {:<11}  \"{}\"\n", kind, guide.name);
}

void print_places(const Inspection& inspection, const Telling& t) {
  const auto& places = inspection.places;
  if (places.empty()) return;
  fmt::print("\n");
  for (std::size_t i = 0; i < places.size(); ++i)
    fmt::print("  place {}      {}, slope {:.2f} degrees, region {}\n", i + 1, t.place(places[i].found.at),
               places[i].found.slope_deg(), places[i].region);
  for (std::size_t i = 0; i + 1 < places.size(); ++i) {
    const Span span = span_between(places[i].found.at, places[i + 1].found.at);
    fmt::print(
        "  {} to {}       distance {}, in plan {}, rise {}; angle in plan {:.3f} degrees, slope {:.3f} "
        "degrees\n",
        i + 1, i + 2, t.with_unit(span.distance_mm), t.with_unit(span.plan_distance_mm),
        t.with_unit(span.rise_mm), span.angle_deg, span.slope_deg);
  }
  if (places.size() != 3) return;
  const auto circle = circle_through(places[0].found.at, places[1].found.at, places[2].found.at);
  if (circle)
    fmt::print("  circle       radius {}, centre {}\n", t.with_unit(circle->radius_mm),
               t.place(circle->centre));
  else
    fmt::print("  circle       none: the three places lie in one line\n");
}

void print_areas(const Inspection& inspection, const Telling& t) {
  if (!inspection.operations.empty()) fmt::print("\n");
  for (const Settled& settled : inspection.operations)
    fmt::print("  operation {} \"{}\" works in {}\n", settled.number, settled.name,
               works_in_words(settled, t));
}

void print_roles(const Inspection& inspection, const Telling& t) {
  for (const OperationCurves& curves : inspection.roles) {
    constexpr std::size_t kListed = 40;
    fmt::print("\n  operation {} \"{}\" runs along\n", curves.operation, curves.name);
    for (std::size_t i = 0; i < curves.roles.size(); ++i) {
      const CurveRole& role = curves.roles[i];
      if (i == kListed && curves.roles.size() > kListed + 1) {
        fmt::print("  and {} more curves\n", curves.roles.size() - kListed);
        break;
      }
      const std::string number = role.number > 0 ? fmt::format("{}. ", role.number) : "";
      fmt::print("  {:<12} from {}", number + role.role, t.place(role.line.front()));
      if (role.closed)
        fmt::print(" round and back");
      else
        fmt::print(" to {}", t.place(role.line.back()));
      fmt::print(", {} long in plan\n", t.with_unit(length(role)));
    }
  }
}

}  // namespace

void print_inspection(const Inspection& inspection) {
  fmt::print("{}\n", inspection.title);
  const Telling t(inspection.setup.job.units);
  print_mesh(inspection.setup, t);
  print_survey(inspection.survey, t);
  print_holes(inspection.survey, t);
  print_edges(inspection.survey, t);
  print_regions(inspection.setup, t);
  print_places(inspection, t);
  print_areas(inspection, t);
  print_roles(inspection, t);
  for (const Note& note : inspection.setup.job.notes) fmt::print("  note         {}\n", t.words(note));
}

}  // namespace yardpass::app
