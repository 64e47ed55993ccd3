#include "yardpass/job/job_file.h"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>

#include <fmt/format.h>

#include "job/toml_reader.h"

namespace yardpass {

int OperationJob::line_of(const std::string& key) const {
  for (const auto& [given, at] : lines)
    if (given == key) return at;
  return line;
}

const Tool& Job::tool_of(const OperationJob& operation) const {
  return *std::find_if(tools.begin(), tools.end(),
                       [&](const Tool& tool) { return tool.name == operation.tool; });
}

namespace {

using detail::Mistakes;
using detail::Range;
using detail::TableReader;

constexpr Range kLength{0, 1e4, true};
constexpr Range kLengthOrZero{0, 1e4};
constexpr Range kFeed{0, 1e6, true, "mm/min"};

std::vector<std::string> shapes() { return {"ball", "flat", "bull", "taper", "chamfer", "profile"}; }

Shape shape_named(const std::string& name) {
  for (const Shape shape :
       {Shape::ball, Shape::flat, Shape::bull, Shape::taper, Shape::chamfer, Shape::profile})
    if (name == name_of(shape)) return shape;
  return Shape::ball;
}

void read_holder(TableReader& reader, Tool& tool, Mistakes& mistakes) {
  const toml::array* sections = reader.array("holder");
  if (!sections) return;
  for (const toml::node& node : *sections) {
    if (!node.is_table()) {
      reader.wrong(node, "holder", "must be a list of { length, lower_diameter, upper_diameter }");
      continue;
    }
    TableReader section(*node.as_table(), reader.where() + ", holder", mistakes);
    const auto length = section.number("length", kLength), lower = section.number("lower_diameter", kLength),
               upper = section.number("upper_diameter", kLength);
    for (const char* key : {"length", "lower_diameter", "upper_diameter"})
      if (!node.as_table()->contains(key)) section.missing(key, "every section of a holder needs it");
    section.finish();
    if (length && lower && upper) tool.holder.push_back({*length, *lower, *upper});
  }
}

/// [[r, z], ...] or [r, z, arc radius] where an arc leads to the point.
void read_outline(TableReader& reader, Tool& tool) {
  const toml::array* points = reader.array("outline");
  if (!points) return;
  for (const toml::node& node : *points) {
    const toml::array* point = node.as_array();
    const bool good = point && (point->size() == 2 || point->size() == 3) &&
                      std::all_of(point->begin(), point->end(), [](const toml::node& n) {
                        return n.is_number() && std::abs(*n.value<double>()) <= 1e4;
                      });
    if (!good) {
      reader.wrong(node, "outline",
                   "must be points [r, z] or [r, z, arc radius] from the tip outwards, in mm");
      return;
    }
    tool.outline.push_back({*point->get(0)->value<double>(), *point->get(1)->value<double>(),
                            point->size() == 3 ? *point->get(2)->value<double>() : 0.0});
  }
}

Tool read_tool(const std::string& name, const toml::table& table, Mistakes& mistakes) {
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
  need("shape", "valid: " + detail::listed(shapes()));
  need("diameter", "in mm; of a taper at its tip");
  need("spindle", "turns a minute");
  need("feed", "mm/min");
  if (shape && *shape == "bull") need("corner_radius", "a bull nose needs it");
  if (shape && (*shape == "taper" || *shape == "chamfer")) need("taper_angle", "degrees from the axis");
  if (shape && *shape == "profile")
    need("outline", "points [r, z] or [r, z, arc radius] from the tip outwards");
  if (shape && *shape == "taper") need("flute_length", "it gives the length of the cone");
  if (!number || !shape || !diameter || !spindle || !feed) return tool;
  tool.number = static_cast<int>(*number);
  tool.shape = shape_named(*shape);
  tool.diameter_mm = *diameter;
  tool.spindle_rpm = *spindle;
  tool.feed_mm_min = *feed;
  tool = completed(tool);
  const auto clash = [&](const char* key, const std::string& what) {
    if (const toml::node* node = table.get(key)) reader.wrong(*node, key, what);
  };
  if (tool.shape != Shape::profile) clash("outline", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape == Shape::profile && !tool.outline.empty() &&
      std::abs(2 * tool.outline.back().r_mm - tool.diameter_mm) > 1e-6)
    clash("outline", fmt::format("ends at a diameter of {}, but \"diameter\" is {}",
                                 2 * tool.outline.back().r_mm, tool.diameter_mm));
  if (tool.shape != Shape::bull && tool.shape != Shape::taper)
    clash("corner_radius", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape != Shape::taper && tool.shape != Shape::chamfer)
    clash("taper_angle", fmt::format("does not belong to a {} tool", *shape));
  if (tool.shape != Shape::chamfer)
    clash("tip_diameter", fmt::format("does not belong to a {} tool", *shape));
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

/// [[x, y], ...], or a list of such lists.
std::optional<Region> read_loops(TableReader& reader, const toml::node& node) {
  const char* key = "keep_inside";
  if (const auto name = node.value_exact<std::string>()) {
    reader.wrong(
        node, key,
        fmt::format("names the boundary \"{}\", but no boundaries are defined; give points [[x, y], ...]",
                    *name));
    return std::nullopt;
  }
  const toml::array* list = node.as_array();
  const auto is_point = [](const toml::node& n) {
    const toml::array* p = n.as_array();
    return p && p->size() == 2 && p->get(0)->is_number() && p->get(1)->is_number();
  };
  const char* form = "must be points [[x, y], ...], at least three, or a list of such loops";
  if (!list || list->empty()) {
    reader.wrong(node, key, form);
    return std::nullopt;
  }
  std::vector<const toml::array*> loops;
  if (is_point(*list->get(0)))
    loops.push_back(list);
  else
    for (const toml::node& loop : *list) loops.push_back(loop.as_array());
  Region region;
  for (const toml::array* loop : loops) {
    if (!loop || loop->size() < 3) {
      reader.wrong(loop ? static_cast<const toml::node&>(*loop) : node, key, form);
      return std::nullopt;
    }
    Polyline2 points;
    for (const toml::node& point : *loop) {
      if (!is_point(point)) {
        reader.wrong(point, key, "holds something that is no point [x, y]");
        return std::nullopt;
      }
      points.emplace_back(*point.as_array()->get(0)->value<double>(),
                          *point.as_array()->get(1)->value<double>());
      if (!(points.back().cwiseAbs().maxCoeff() <= 1e5)) {
        reader.wrong(point, key, "holds a point beyond 1e5 mm");
        return std::nullopt;
      }
    }
    region.loops.push_back(std::move(points));
  }
  region = unite(region, {});
  if (region.area_mm2() < 1e-3) {
    reader.wrong(node, key, "encloses no area");
    return std::nullopt;
  }
  return region;
}

OperationJob read_operation(const toml::table& table, std::size_t index,
                            const std::vector<std::string>& tools, Mistakes& mistakes) {
  OperationJob operation;
  operation.line = static_cast<int>(table.source().begin.line);
  operation.name = table["name"].value<std::string>().value_or("");
  const std::string where = operation.name.empty() ? fmt::format("operation {}", index + 1)
                                                   : fmt::format("operation \"{}\"", operation.name);
  TableReader reader(table, where, mistakes);
  reader.text("name");
  const auto strategy = reader.choice("strategy", {"roughing", "parallel"});
  const auto tool = reader.text("tool");
  if (operation.name.empty() && !table.contains("name")) reader.missing("name", "any text");
  if (!table.contains("strategy")) reader.missing("strategy", "valid: roughing, parallel");
  if (!table.contains("tool")) reader.missing("tool", "valid: " + detail::listed(tools));
  if (tool && std::find(tools.begin(), tools.end(), *tool) == tools.end()) {
    const auto near = detail::nearest_word(*tool, tools);
    reader.wrong(*table.get("tool"), "tool",
                 fmt::format("is \"{}\", which is not in the tool table{}; there are: {}", *tool,
                             near ? fmt::format(" (did you mean \"{}\"?)", *near) : "",
                             tools.empty() ? "none" : detail::listed(tools)));
  }
  operation.strategy = strategy.value_or("");
  operation.tool = tool.value_or("");
  operation.active = reader.flag("active").value_or(true);
  if (const toml::node* node = reader.any("keep_inside")) operation.keep_inside = read_loops(reader, *node);
  operation.stepover_mm = reader.number("stepover", kLength);
  operation.allowance_mm = reader.number("allowance", {0, 1000});
  operation.wall_allowance_mm = reader.number("wall_allowance", {0, 1000});
  operation.floor_allowance_mm = reader.number("floor_allowance", {0, 1000});
  operation.tolerance_mm = reader.number("tolerance", {0.0005, 10});
  operation.approach_mm = reader.number("approach", {0.1, 1000});
  operation.link_distance_mm = reader.number("link_distance", kLengthOrZero);
  if (operation.strategy == "roughing" || operation.strategy.empty()) {
    operation.stepdown_mm = reader.number("stepdown", kLength);
    operation.ramp_angle_deg = reader.number("ramp_angle", {0, 45, true, "degrees"});
  }
  if (operation.strategy == "parallel" || operation.strategy.empty()) {
    operation.angle_deg = reader.number("angle", {-360, 360, false, "degrees from X"});
    operation.scallop_mm = reader.number("scallop_height", {0, 100, true});
    if (const auto direction = reader.choice("direction", {"zigzag", "one-way"}))
      operation.zigzag = *direction == "zigzag";
    if (operation.scallop_mm && operation.stepover_mm)
      reader.wrong(*table.get("scallop_height"), "scallop_height",
                   "and \"stepover\" each give the other; keep one of them");
  }
  reader.finish();
  for (const auto& [key, node] : table)
    operation.lines.emplace_back(std::string(key.str()), static_cast<int>(node.source().begin.line));
  return operation;
}

void read_stock(TableReader& reader, Job& job) {
  if (const toml::array* margin = reader.array("margin")) {
    const bool two = margin->size() == 2 && margin->get(0)->is_number() && margin->get(1)->is_number();
    const double x = two ? *margin->get(0)->value<double>() : -1,
                 y = two ? *margin->get(1)->value<double>() : -1;
    if (!(x >= 0 && y >= 0 && x <= 1e4 && y <= 1e4))
      reader.wrong(*margin, "margin", "must be [x, y], each at least 0 mm");
    else
      job.stock.margin_mm = {x, y};
  }
  job.stock.above_mm = reader.number("above", kLengthOrZero).value_or(job.stock.above_mm);
  job.stock.cell_mm = reader.number("cell", {0.001, 100});
  reader.finish();
}

void read_machine(TableReader& reader, Job& job) {
  job.controller.decimals =
      static_cast<int>(reader.whole("decimals", 2, 6).value_or(job.controller.decimals));
  job.controller.work_offset = reader.choice("work_offset", {"G54", "G55", "G56", "G57", "G58", "G59"})
                                   .value_or(job.controller.work_offset);
  job.controller.rapid_mm_min = reader.number("rapid_feed", kFeed).value_or(job.controller.rapid_mm_min);
  job.controller.tool_change_s =
      reader.number("tool_change_time", {0, 3600, false, "seconds"}).value_or(job.controller.tool_change_s);
  job.clearance_mm = reader.number("clearance", {0.1, 1000}).value_or(job.clearance_mm);
  reader.finish();
}

void read_tables(const toml::table& root, Job& job, Mistakes& mistakes) {
  TableReader top(root, "job", mistakes);
  job.title = top.text("title").value_or("");
  if (!root.contains("title")) top.missing("title", "any text");
  if (const auto units = top.text("units"); units && *units != "mm")
    top.wrong(*root.get("units"), "units", fmt::format("is \"{}\"; only \"mm\" is read so far", *units));
  if (const toml::table* table = top.table("part")) {
    TableReader part(*table, "part", mistakes);
    const auto mesh = part.text("mesh");
    if (!table->contains("mesh")) part.missing("mesh", "the STL file of the part");
    part.finish();
    if (mesh) job.mesh = job.file.parent_path() / *mesh;
    std::error_code code;
    if (mesh && !std::filesystem::exists(job.mesh, code))
      part.wrong(*table->get("mesh"), "mesh",
                 fmt::format("names {}, which does not exist", job.mesh.string()));
  } else if (!root.contains("part")) {
    top.missing("part", "it names the mesh: [part] mesh = \"file.stl\"");
  }
  if (const toml::table* table = top.table("stock")) {
    TableReader stock(*table, "stock", mistakes);
    read_stock(stock, job);
  }
  if (const toml::table* table = top.table("machine")) {
    TableReader machine(*table, "machine", mistakes);
    read_machine(machine, job);
  }
  std::vector<std::string> names;
  if (const toml::table* table = top.table("tools")) {
    for (const auto& [key, node] : *table) {
      const std::string name(key.str());
      names.push_back(name);
      if (!node.is_table()) {
        mistakes.add(node, fmt::format("tools: \"{}\" must be a table, [tools.{}]", name, name));
        continue;
      }
      job.tools.push_back(read_tool(name, *node.as_table(), mistakes));
      for (std::size_t i = 0; i + 1 < job.tools.size(); ++i)
        if (job.tools[i].number == job.tools.back().number && job.tools[i].number > 0)
          mistakes.add(node,
                       fmt::format("tool \"{}\": has the same number as \"{}\"", name, job.tools[i].name));
    }
  } else if (!root.contains("tools")) {
    top.missing("tools", "at least one [tools.NAME]");
  }
  if (const toml::array* list = top.array("operation")) {
    for (std::size_t i = 0; i < list->size(); ++i) {
      if (!list->get(i)->is_table()) {
        mistakes.add(*list->get(i), "operation: must be a table, [[operation]]");
        continue;
      }
      job.operations.push_back(read_operation(*list->get(i)->as_table(), i, names, mistakes));
      for (std::size_t k = 0; k + 1 < job.operations.size(); ++k)
        if (job.operations[k].name == job.operations.back().name && !job.operations[k].name.empty())
          mistakes.add(*list->get(i), fmt::format("operation \"{}\": another operation has this name",
                                                  job.operations[k].name));
    }
  } else if (!root.contains("operation")) {
    top.missing("operation", "at least one [[operation]]");
  }
  top.finish();
}

}  // namespace

Job read_job(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in || std::filesystem::is_directory(file))
    throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  Job job;
  job.file = file;
  Mistakes mistakes(file.string());
  try {
    const toml::table root = toml::parse(text.str(), file.string());
    read_tables(root, job, mistakes);
  } catch (const toml::parse_error& error) {
    throw Error(fmt::format("{}:{}: {}", file.string(), error.source().begin.line, error.description()));
  }
  mistakes.raise();
  return job;
}

}  // namespace yardpass
