#include "yardpass/run/settle.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/table_keys.h"
#include "setup/parts_of_setup.h"

namespace yardpass {

namespace {

using detail::Measured;
using detail::Mistakes;
using detail::TableKeys;
using detail::TableReader;

class OnThisPart : public detail::OnThePart {
 public:
  explicit OnThisPart(const JobSetup& setup) : setup_(setup) {}
  [[nodiscard]] Measured measure(const Measure& measure) const override {
    return detail::measure_on(setup_, measure);
  }
  void find(GivenArea& area) const override {
    for (const NamedBoundary& boundary : setup_.boundaries)
      if (boundary.name == area.name) area.area = boundary.area;
    for (const NamedRegion& region : setup_.regions) {
      if (region.name != area.name) continue;
      area.area = region.outline;
      if (region.outline.empty())
        throw Error(fmt::format(
            "names the region \"{}\", which has no outline seen from above (only walls or undersides)",
            area.name));
    }
  }

 private:
  const JobSetup& setup_;
};

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

Settled settle_one(const JobSetup& setup, const OperationJob& operation, Mistakes& mistakes) {
  Settled settled;
  settled.number = operation.number;
  settled.name = operation.name;
  settled.strategy = operation.strategy;
  TableReader reader(operation.says, fmt::format("operation \"{}\"", operation.name), mistakes);
  for (const char* key : {"name", "strategy", "tool", "active"}) reader.any(key);
  const Strategy* strategy = strategy_named(operation.strategy);
  if (!strategy)
    throw Error(
        fmt::format("operation \"{}\": there is no strategy \"{}\"", operation.name, operation.strategy));
  settled.tool = completed(setup.job.tool_named(operation.tool));
  settled.values.pattern = strategy->pattern();
  const OnThisPart part(setup);
  TableKeys keys(reader, setup.job, &part);
  keys_of(settled.values, settled.tool, keys);
  reader.finish();
  settled.usual = settled.values.pattern->usual(settled.tool);
  settled.told = keys.take_values();
  settled.notes = keys.take_notes();
  const Limits& limits = settled.values.limits;
  settled.drawn = limits.keep_inside.given();
  settled.works_in = settled.drawn ? limits.keep_inside.area : rectangle(plan(setup.part->box()));
  check_meets(setup, settled, reader);
  if (limits.keep_out.given()) settled.works_in = subtract(settled.works_in, limits.keep_out.area);
  if (!settled.drawn)
    settled.told.insert(
        settled.told.begin(),
        {"keep_inside", words_of("the part's rectangle in plan"), "default: no boundary is given"});
  if (settled.usual.at_levels)
    for (SettledValue& value : settled.told) {
      if (value.key == "top" && !limits.top_z) {
        value.value = length_of(setup.block.max().z());
        value.source = "default: the top of the stock";
      }
      if (value.key == "bottom" && !limits.bottom_z) value.source = "default: down to the lowest place";
    }
  settled.values.links.plane_z = setup.plane_z;
  settled.told.push_back({"clearance plane", number_of(setup.plane_z, Unit::mm),
                              fmt::format("in Z, {:g} mm above stock and part", setup.job.clearance_mm)});
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
  bounds.bottom_z = values.limits.bottom_z.value_or(bounds.bottom_z);
  bounds.at_levels = usual.at_levels;
  return bounds;
}

Region Settled::place() const {
  if (!drawn && !values.limits.keep_out.given()) return {};
  const LimitRule& rule = values.limits.rule;
  double reach = rule.margin_mm + 0.01;  // on the boundary itself is inside
  if (rule.by == LimitBy::near_rim || rule.by == LimitBy::contact) reach += profile_of(tool).radius();
  return offset(works_in, reach);
}

std::vector<Settled> settle(const JobSetup& setup) {
  std::vector<Settled> all;
  Mistakes mistakes(setup.job.file.string());
  for (const OperationJob& operation : setup.job.operations)
    if (operation.active) all.push_back(settle_one(setup, operation, mistakes));
  mistakes.raise();
  if (all.empty()) throw Error(setup.job.file.string() + ": no operation is active");
  return all;
}

}  // namespace yardpass
