#include "yardpass/run/settle.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/table_keys.h"
#include "run/digesting_keys.h"
#include "run/fingerprint.h"
#include "setup/parts_of_setup.h"
#include "yardpass/contact/seen.h"
#include "yardpass/part/outlines.h"

namespace yardpass {

namespace {

using detail::Mistakes;
using detail::TableKeys;
using detail::TableReader;

void check_meets(const JobSetup& setup, const Settled& settled, TableReader& reader) {
  const Box2 part = plan(setup.part->box()), block = plan(setup.block);
  const Region& area = settled.values.limits.keep_inside.area;
  if (!settled.drawn || area.empty()) return;
  if (!intersect(area, rectangle(part)).empty() || !intersect(area, rectangle(block)).empty()) return;
  const Box2 box = area.box();
  reader.wrong(
      *reader.any("keep_inside"), "keep_inside",
      fmt::format(
          "meets neither part nor stock: it spans X {:g} to {:g}, Y {:g} to {:g}, the stock X {:g} to "
          "{:g}, Y {:g} to {:g}",
          box.min().x(), box.max().x(), box.min().y(), box.max().y(), block.min().x(), block.max().x(),
          block.min().y(), block.max().y()));
}

/// Facets coarser than the tolerance show on the workpiece, whatever the toolpath does.
void compare_with_mesh(const JobSetup& setup, Settled& settled) {
  const double chord = setup.diagnosis.chord_error.p95_mm, tolerance = settled.values.tolerance_mm;
  if (chord > tolerance)
    settled.notes.push_back(
        {"mesh",
         "the tolerance, {}, is finer than the mesh: its facets lie up to {} off the surface they "
         "stand for (estimated, 95 % of the area)",
         {length_of(tolerance), length_of(chord)}});
}

constexpr double kEdge = 0.001;    // mm
constexpr double kSlack = 0.0001;  // mm: a floor is not below itself

/// Passes reach over the run-outs that an operation names. What somebody drew stays as drawn; where no
/// run-out lies in it, that is told.
void reach_over_run_outs(const JobSetup& setup, Settled& settled) {
  const GivenArea::From from = settled.values.limits.keep_inside.from;
  const bool as_drawn = from == GivenArea::From::points || from == GivenArea::From::boundary;
  for (const std::string& name : settled.values.guides.run_outs)
    for (const GuideMesh& run_out : setup.run_outs) {
      if (run_out.name != name) continue;
      const Region shadow = silhouette(run_out.mesh);
      if (!as_drawn)
        settled.works_in = unite(settled.works_in, shadow);
      else if (intersect(settled.works_in, shadow).area_mm2() < 0.01 * shadow.area_mm2())
        settled.notes.push_back({"run-outs",
                                 "the run-out \"{}\" lies outside the boundary: it changes nothing",
                                 {words_of(name)}});
    }
}

/// Where it works, by the table of areas.
void settle_area(const JobSetup& setup, const detail::OnThisPart& part, Settled& settled) {
  const GivenArea& given = settled.values.limits.keep_inside;
  settled.area = area_row(given.from, settled.usual.at_levels);
  settled.drawn = given.given();
  settled.works_in = settled.drawn ? given.area : part.part_outline();
  if (!settled.drawn && settled.usual.at_levels)
    settled.works_in = unite(settled.works_in, part.stock_outline());
  reach_over_run_outs(setup, settled);
  // Rolling over an outer edge touches the edge itself, which does not count. But an upright wall stands on
  // it: not on the border of a sheet, beside which there is nothing to finish.
  const auto& loops = setup.diagnosis.open_loops;
  const bool sheet = std::any_of(loops.begin(), loops.end(), [](const OpenLoop& loop) { return loop.outer; });
  const bool walls = settled.usual.along_walls && !sheet;
  if (settled.values.limits.rule.by == LimitBy::contact && !settled.usual.at_levels &&
      given.from != GivenArea::From::points && given.from != GivenArea::From::boundary)
    settled.works_in = offset(settled.works_in, walls ? kEdge : -kEdge);
  const SettledValue told{"keep_inside", words_of(settled.area.area), "by the table of areas"};
  if (!settled.drawn)
    std::replace_if(
        settled.told.begin(), settled.told.end(),
        [](const SettledValue& v) { return v.key == "keep_inside"; }, told);
  if (!settled.drawn && settled.told.front().key != "keep_inside")
    settled.told.insert(settled.told.begin(), told);
}

/// How low it goes where nobody says so. What is led over on purpose counts as part; an overcut goes so much
/// deeper.
void settle_bottom(const JobSetup& setup, double lowest_of_part, Settled& settled) {
  const double under = setup.block.min().z();
  if (const std::optional<double> said = settled.values.limits.bottom_z) {
    settled.bottom_z = *said;
    if (*said < under - kEdge)
      settled.notes.push_back(
          {"bottom", "the bottom lies {} below the underside of the stock", {length_of(under - *said)}});
    return;
  }
  double lowest = lowest_of_part;
  const auto add = [&](const std::vector<std::string>& named, const std::vector<GuideMesh>& all) {
    for (const GuideMesh& guide : all)
      if (std::find(named.begin(), named.end(), guide.name) != named.end() && !guide.mesh.points.empty())
        lowest = std::min(lowest, guide.mesh.box().min().z());
  };
  add(settled.values.guides.lids, setup.lids);
  add(settled.values.guides.run_outs, setup.run_outs);
  std::string source = "default: the lowest that is seen from above";
  if (lowest < under) {
    settled.notes.push_back(
        {"bottom",
         "the part goes on for {} below the underside of the stock; what lies there is left "
         "alone (\"bottom\" says otherwise)",
         {length_of(under - lowest)}});
    lowest = under;
    source = "default: the underside of the stock";
  }
  const double deeper = settled.values.intended_depth_mm;
  settled.bottom_z = lowest - deeper - kSlack;
  for (SettledValue& value : settled.told)
    if (value.key == "bottom") value.value = length_of(lowest - deeper), value.source = source;
}

Settled settle_one(const JobSetup& setup, const detail::OnThisPart& part, const OperationJob& operation,
                   double lowest_of_part, Mistakes& mistakes) {
  Settled settled;
  settled.number = operation.number;
  settled.name = operation.name;
  settled.strategy = operation.strategy;
  TableReader reader(operation.says, fmt::format("operation \"{}\"", operation.name), mistakes);
  for (const char* key : {"name", "strategy", "tool", "active", "copy_of"}) reader.any(key);
  const Strategy* strategy = strategy_named(operation.strategy);
  if (!strategy)
    throw Error(
        fmt::format("operation \"{}\": there is no strategy \"{}\"", operation.name, operation.strategy));
  settled.tool = completed(setup.job.tool_named(operation.tool));
  settled.values.pattern = strategy->pattern();
  detail::KeyContext context = detail::context_of(setup.job);
  context.part = &part;
  context.measurable = true;
  context.tool_diameter_mm = settled.tool.diameter_mm;
  context.coarser = setup.job.coarser;
  context.copy_of = operation.copy_of;
  context.copied = operation.copied;
  TableKeys keys(reader, context);
  detail::BytesOut settled_as;
  detail::DigestingKeys digesting(keys, settled_as);
  keys_of(settled.values, settled.tool, digesting);
  settled.fingerprint = detail::hash_of(settled_as.bytes());
  reader.finish();
  settled.usual = settled.values.pattern->usual(settled.tool);
  settled.told = keys.take_values();
  settled.notes = keys.take_notes();
  for (const std::string& key : operation.dropped)
    settled.notes.push_back(
        {"copy", fmt::format("\"{}\" of \"{}\" is not copied: it belongs to another strategy", key,
                             operation.copy_of)});
  const Limits& limits = settled.values.limits;
  settle_area(setup, part, settled);
  check_meets(setup, settled, reader);
  if (limits.keep_out.given()) settled.works_in = subtract(settled.works_in, limits.keep_out.area);
  if (settled.usual.at_levels)
    for (SettledValue& value : settled.told) {
      if (value.key == "top" && !limits.top_z) {
        value.value = length_of(setup.block.max().z());
        value.source = "default: the top of the stock";
      }
    }
  settle_bottom(setup, lowest_of_part, settled);
  settled.values.links.plane_z = setup.plane_z;
  settled.values.links.dog_leg_rapids = setup.job.machine.controller.dog_leg_rapids;
  settled.values.links.rapid_mm_min = setup.job.machine.motion.rapid_mm_min;
  settled.values.links.acceleration_mm_s2 = setup.job.machine.motion.acceleration_mm_s2;
  settled.told.push_back(
      {"rapid plane", number_of(setup.plane_z, Unit::mm), "in Z, by [machine] rapid_plane"});
  compare_with_mesh(setup, settled);
  return settled;
}

}  // namespace

Bounds Settled::bounds() const {
  Bounds bounds;
  bounds.boundary = works_in;
  bounds.rule = values.limits.rule;
  bounds.exceptions = values.limits.exceptions;
  bounds.drawn = drawn;
  bounds.avoid_riding_up = values.limits.avoid_riding_up;
  bounds.top_z = values.limits.top_z.value_or(bounds.top_z);
  bounds.bottom_z = bottom_z;
  bounds.slope = values.limits.slope;
  bounds.steepness = values.limits.steepness;
  if (!bounds.steepness.overlap_mm) bounds.steepness.overlap_mm = 0.5 * usual.spacing_mm;
  bounds.only_where_left_mm = values.limits.only_where_left_mm;
  bounds.at_levels = usual.at_levels;
  bounds.touches_twice = usual.touches_twice;
  return bounds;
}

Region Settled::place() const {
  if (!drawn && !values.limits.keep_out.given()) return {};
  constexpr double kOnTheBoundary = 0.01;  // is inside
  return offset(
      centre_area(works_in, profile_of(tool).radius(), values.limits.rule, values.limits.exceptions),
      kOnTheBoundary);
}

Region Settled::kept_out() const {
  Region areas = values.limits.keep_out.area;
  if (drawn) {
    Region outlines;
    for (const Region& piece : pieces(values.limits.keep_inside.area))
      outlines = unite(outlines, {{piece.loops.front()}});
    areas = unite(areas, subtract(outlines, values.limits.keep_inside.area));
  }
  if (areas.empty()) return areas;
  const double radius = profile_of(tool).radius();
  if (values.limits.rule.by == LimitBy::cutter) areas = offset(areas, radius);
  constexpr double kOnTheBoundary = 0.01;
  return subtract(areas, offset(centre_area(works_in, radius, values.limits.rule, values.limits.exceptions),
                                kOnTheBoundary));
}

std::vector<Settled> settle(const JobSetup& setup) {
  std::vector<Settled> all;
  const detail::OnThisPart part(setup);
  Mistakes mistakes(setup.job.file.string());
  const double lowest = lowest_seen(setup.part).value_or(setup.part->box().min().z());
  for (const OperationJob& operation : setup.job.operations)
    if (operation.active) all.push_back(settle_one(setup, part, operation, lowest, mistakes));
  mistakes.raise();
  if (all.empty()) throw Error(setup.job.file.string() + ": no operation is active");
  return all;
}

}  // namespace yardpass
