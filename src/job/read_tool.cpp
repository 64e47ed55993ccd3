#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

constexpr Shape kShapes[] = {Shape::ball,    Shape::flat,    Shape::bull,     Shape::taper,
                             Shape::chamfer, Shape::profile, Shape::lollipop, Shape::tslot};

std::vector<std::string> shapes() {
  std::vector<std::string> names;
  for (const Shape shape : kShapes) names.emplace_back(name_of(shape));
  return names;
}

Shape shape_named(const std::string& name) {
  for (const Shape shape : kShapes)
    if (name == name_of(shape)) return shape;
  return Shape::ball;
}

void read_holder(TableReader& reader, Tool& tool, Mistakes& mistakes) {
  const GivenList* sections = reader.array("holder");
  if (!sections) return;
  for (const Given& node : *sections) {
    if (!node.table()) {
      reader.wrong(node, "holder", "must be a list of { length, lower_diameter, upper_diameter }");
      continue;
    }
    TableReader section(*node.table(), reader.where() + ", holder", mistakes);
    const auto length = section.number("length", kLength), lower = section.number("lower_diameter", kLength),
               upper = section.number("upper_diameter", kLength);
    for (const char* key : {"length", "lower_diameter", "upper_diameter"})
      if (!node.table()->contains(key)) section.missing(key, "every section of a holder needs it");
    section.finish();
    if (length && lower && upper) tool.holder.push_back({*length, *lower, *upper});
  }
}

/// [[r, z], ...] or [r, z, arc radius] where an arc leads to the point.
void read_outline(TableReader& reader, Tool& tool) {
  const GivenList* points = reader.array("outline");
  if (!points) return;
  for (const Given& node : *points) {
    const GivenList* point = node.list();
    const bool good = point && (point->size() == 2 || point->size() == 3) &&
                      std::all_of(point->begin(), point->end(), [](const Given& n) {
                        return n.is_number() && std::abs(*n.number()) <= 1e4;
                      });
    if (!good) {
      reader.wrong(node, "outline",
                   "must be points [r, z] or [r, z, arc radius] from the tip outwards, in mm");
      return;
    }
    tool.outline.push_back(
        {*point->at(0).number(), *point->at(1).number(), point->size() == 3 ? *point->at(2).number() : 0.0});
  }
}

}  // namespace

Tool read_tool(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("tool \"{}\"", name), mistakes);
  Tool tool;
  tool.name = name;
  const auto take = [](double& field, const std::optional<double>& value) { field = value.value_or(field); };
  const auto number = reader.whole("number", 1, 9999);
  const auto shape = reader.choice("shape", shapes());
  const auto diameter = reader.number("diameter", kLength);
  take(tool.corner_radius_mm, reader.number("corner_radius", kLengthOrZero));
  take(tool.taper_angle_deg, reader.number("taper_angle", {0, 89.9, true, "degrees from the axis"}));
  take(tool.tip_diameter_mm, reader.number("tip_diameter", kLengthOrZero));
  take(tool.flute_length_mm, reader.number("flute_length", kLength));
  take(tool.neck_diameter_mm, reader.number("neck_diameter", kLength));
  take(tool.neck_length_mm, reader.number("neck_length", kLength));
  take(tool.shank_diameter_mm, reader.number("shank_diameter", kLength));
  take(tool.stickout_mm, reader.number("stickout", kLength));
  const auto spindle = reader.number("spindle", {1, 2e5, false, "turns a minute"});
  const auto feed = reader.number("feed", kFeed);
  take(tool.plunge_feed_mm_min, reader.number("plunge_feed", kFeed));
  tool.plunge_limit_mm_min = tool.plunge_feed_mm_min;
  take(tool.steepest_entry_deg, reader.number("steepest_entry", {0.1, 90, false, "degrees from level"}));
  take(tool.ramp_feed_mm_min, reader.number("ramp_feed", kFeed));
  take(tool.link_feed_mm_min, reader.number("link_feed", kFeed));
  tool.coolant = reader.flag("coolant").value_or(true);
  read_holder(reader, tool, mistakes);
  read_outline(reader, tool);
  reader.finish();
  const auto need = [&](const char* key, const std::string& what) {
    if (!table.contains(key)) reader.missing(key, what);
  };
  need("number", "the T word of the tool change");
  need("shape", "valid: " + listed(shapes()));
  need("spindle", "turns a minute");
  need("feed", "mm/min");
  if (shape) tool.shape = shape_named(*shape);
  take(tool.diameter_mm, diameter);
  const std::vector<ToolLack> missing = lacks(tool);
  for (const ToolLack& lack : missing) {
    if (shape || std::string(lack.key) == "diameter") need(lack.key, lack.what);
    // What is there but wrong has been told by now, but for a nothing that other shapes may have.
    const Given* given = table.get(lack.key);
    const bool nothing = given && ((std::string(lack.key) == "corner_radius" && given->number() == 0.0) ||
                                   (given->list() && given->list()->empty()));
    if (nothing) reader.wrong(*given, lack.key, "says nothing, but must: " + lack.what);
  }
  if (!number || !shape || !spindle || !feed || !missing.empty()) return tool;
  tool.number = static_cast<int>(*number);
  tool.spindle_rpm = *spindle;
  tool.feed_mm_min = *feed;
  tool = completed(tool);
  const auto clash = [&](const char* key, const std::string& what) {
    if (const Given* node = table.get(key)) reader.wrong(*node, key, what);
  };
  if (tool.shape != Shape::profile) clash("outline", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape == Shape::profile && !tool.outline.empty() &&
      std::abs(2 * tool.outline.back().r_mm - tool.diameter_mm) > 1e-6)
    clash("outline", fmt::format("ends at a diameter of {}, but \"diameter\" is {}",
                                 2 * tool.outline.back().r_mm, tool.diameter_mm));
  if (tool.shape != Shape::bull && tool.shape != Shape::taper && tool.shape != Shape::tslot)
    clash("corner_radius", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape != Shape::taper && tool.shape != Shape::chamfer)
    clash("taper_angle", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape != Shape::chamfer)
    clash("tip_diameter", fmt::format("does not belong to a {} tool", *shape));
  if (tool.undercuts() && tool.neck_diameter_mm >= tool.diameter_mm)
    clash("neck_diameter", fmt::format("must be below the diameter, {}, of a {}", tool.diameter_mm, *shape));
  if (tool.shape == Shape::tslot && tool.corner_radius_mm > tool.flute_length_mm)
    clash("corner_radius",
          fmt::format("is more than the height of the disc (flute_length), {}", tool.flute_length_mm));
  if (tool.flute_length_mm > tool.stickout_mm)
    clash("flute_length",
          fmt::format("is {}, longer than the stick-out, {}", tool.flute_length_mm, tool.stickout_mm));
  if (tool.shape == Shape::profile && tool.outline.empty()) return tool;
  try {
    (void)profile_of(tool);
  } catch (const Error& error) {
    mistakes.add(reader.line(), fmt::format("{}: {}", reader.where(), error.what()));
  }
  return tool;
}

}  // namespace yardpass::detail
