#include "yardpass/job/job_file.h"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass {

int OperationJob::line_of(const std::string& key) const {
  for (const auto& [given, at] : lines)
    if (given == key) return at;
  return line;
}

std::optional<double>* OperationJob::number(const std::string& key) {
  const std::pair<const char*, std::optional<double>*> fields[] = {{"stepover", &stepover_mm},
                                                                   {"stepdown", &stepdown_mm},
                                                                   {"allowance", &allowance_mm},
                                                                   {"wall_allowance", &wall_allowance_mm},
                                                                   {"floor_allowance", &floor_allowance_mm},
                                                                   {"tolerance", &tolerance_mm},
                                                                   {"angle", &angle_deg},
                                                                   {"scallop_height", &scallop_mm},
                                                                   {"ramp_angle", &ramp_angle_deg},
                                                                   {"approach", &approach_mm},
                                                                   {"link_distance", &link_distance_mm},
                                                                   {"top", &top_z},
                                                                   {"bottom", &bottom_z}};
  for (const auto& [known, field] : fields)
    if (key == known) return field;
  return nullptr;
}

const Tool& Job::tool_of(const OperationJob& operation) const {
  return *std::find_if(tools.begin(), tools.end(),
                       [&](const Tool& tool) { return tool.name == operation.tool; });
}

namespace {

using detail::kLength;
using detail::kLengthOrZero;
using detail::Mistakes;
using detail::Range;
using detail::TableReader;

void read_keep_inside(TableReader& reader, const Job& job, OperationJob& operation) {
  const toml::node* node = reader.any("keep_inside");
  if (!node) return;
  const auto name = node->value_exact<std::string>();
  if (!name) {
    operation.keep_inside = detail::read_loops(reader, *node, "keep_inside");
    return;
  }
  std::vector<std::string> names;
  for (const BoundaryJob& boundary : job.boundaries) names.push_back(boundary.name);
  for (const RegionJob& region : job.regions) names.push_back(region.name);
  if (std::find(names.begin(), names.end(), *name) != names.end()) {
    operation.keep_inside_name = *name;
    return;
  }
  reader.wrong(*node, "keep_inside",
               fmt::format("names the boundary or region {}; or give points [[x, y], ...]",
                           detail::not_defined(*name, names)));
}

OperationJob read_operation(const toml::table& table, std::size_t index,
                            const std::vector<std::string>& tools, const Job& job, Mistakes& mistakes) {
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
  read_keep_inside(reader, job, operation);
  detail::read_limits_of(reader, table, job, operation);
  const auto value = [&](const char* key, const Range& range) {
    if (std::optional<double>* field = operation.number(key))
      *field = detail::number_or_measure(reader, key, range, operation.measured);
  };
  value("stepover", kLength);
  // Below 0: into the part, which no roughing does.
  value("allowance", {operation.strategy == "roughing" ? 0.0 : -100.0, 1000});
  value("wall_allowance", {0, 1000});
  value("floor_allowance", {0, 1000});
  value("tolerance", {0.0005, 10});
  value("approach", {0.1, 1000});
  value("link_distance", kLengthOrZero);
  value("top", detail::kPlace);
  value("bottom", detail::kPlace);
  if (operation.top_z && operation.bottom_z && *operation.top_z <= *operation.bottom_z)
    reader.wrong(
        *table.get("top"), "top",
        fmt::format("is {}, but must be above \"bottom\", {}", *operation.top_z, *operation.bottom_z));
  if (operation.strategy == "roughing" || operation.strategy.empty()) {
    value("stepdown", kLength);
    value("ramp_angle", {0, 45, true, "degrees"});
    for (const Tool& known : job.tools)
      if (known.name == operation.tool && operation.ramp_angle_deg.value_or(0) > known.steepest_entry_deg)
        reader.wrong(*table.get("ramp_angle"), "ramp_angle",
                     fmt::format("is {}, steeper than the tool's \"steepest_entry\", {}",
                                 *operation.ramp_angle_deg, known.steepest_entry_deg));
  }
  if (operation.strategy == "parallel" || operation.strategy.empty()) {
    value("angle", {-360, 360, false, "degrees from X"});
    value("scallop_height", {0, 100, true});
    if (const auto direction = reader.choice("direction", {"zigzag", "one-way"}))
      operation.zigzag = *direction == "zigzag";
    if (table.contains("scallop_height") && table.contains("stepover"))
      reader.wrong(*table.get("scallop_height"), "scallop_height",
                   "and \"stepover\" each give the other; keep one of them");
  }
  operation.intended_depth_mm =
      reader.number("intended_depth", {0, 100}).value_or(std::max(0.0, -operation.allowance_mm.value_or(0)));
  reader.finish();
  for (const auto& [key, node] : table)
    operation.lines.emplace_back(std::string(key.str()), static_cast<int>(node.source().begin.line));
  return operation;
}

void read_tables(const toml::table& root, Job& job, Mistakes& mistakes) {
  TableReader top(root, "job", mistakes);
  job.title = top.text("title").value_or("");
  if (!root.contains("title")) top.missing("title", "any text");
  if (const auto units = top.text("units"); units && *units != "mm")
    top.wrong(*root.get("units"), "units", fmt::format("is \"{}\"; only \"mm\" is read so far", *units));
  if (const toml::table* table = top.table("part")) {
    TableReader part(*table, "part", mistakes);
    detail::read_part(part, job);
  } else if (!root.contains("part")) {
    top.missing("part", "it names the mesh: [part] mesh = \"file.stl\"");
  }
  if (const toml::table* table = top.table("splitting")) {
    TableReader splitting(*table, "splitting", mistakes);
    detail::read_splitting(splitting, job.splitting);
  }
  if (const toml::table* table = top.table("regions")) {
    for (const auto& [key, node] : *table) {
      const std::string name(key.str());
      if (node.is_table())
        job.regions.push_back(detail::read_region(name, *node.as_table(), mistakes));
      else
        mistakes.add(node, fmt::format("regions: \"{}\" must be a table, [regions.{}]", name, name));
    }
    detail::check_region_names(job.regions, mistakes);
  }
  const auto each_named = [&](const char* key, const auto& read_one) {
    const toml::table* table = top.table(key);
    if (!table) return;
    for (const auto& [entry, node] : *table) {
      const std::string name(entry.str());
      if (node.is_table())
        read_one(name, *node.as_table());
      else
        mistakes.add(node, fmt::format("{}: \"{}\" must be a table, [{}.{}]", key, name, key, name));
    }
  };
  each_named("curves", [&](const std::string& name, const toml::table& table) {
    job.curves.push_back(detail::read_curve_table(name, table, job.file.parent_path(), mistakes));
  });
  detail::check_curve_names(job, mistakes);
  each_named("boundaries", [&](const std::string& name, const toml::table& table) {
    job.boundaries.push_back(detail::read_boundary(name, table, mistakes));
  });
  detail::check_boundary_names(job, mistakes);
  each_named("lids", [&](const std::string& name, const toml::table& table) {
    job.lids.push_back(detail::read_lid(name, table, mistakes));
  });
  each_named("extensions", [&](const std::string& name, const toml::table& table) {
    job.extensions.push_back(detail::read_extension(name, table, mistakes));
  });
  each_named("guide_surfaces", [&](const std::string& name, const toml::table& table) {
    job.guide_surfaces.push_back(detail::read_guide_surface(name, table, mistakes));
  });
  each_named("guards", [&](const std::string& name, const toml::table& table) {
    job.guards.push_back(detail::read_guard(name, table, job.file.parent_path(), mistakes));
  });
  detail::check_guide_names(job, mistakes);
  if (const toml::table* table = top.table("stock")) {
    TableReader stock(*table, "stock", mistakes);
    detail::read_stock_table(stock, *table, job);
  }
  if (const toml::table* table = top.table("machine")) {
    TableReader machine(*table, "machine", mistakes);
    detail::read_machine(machine, job);
  }
  if (const toml::table* table = top.table("leftover")) {
    TableReader leftover(*table, "leftover", mistakes);
    detail::read_leftover(leftover, job);
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
      job.tools.push_back(detail::read_tool(name, *node.as_table(), mistakes));
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
      job.operations.push_back(read_operation(*list->get(i)->as_table(), i, names, job, mistakes));
      for (std::size_t k = 0; k + 1 < job.operations.size(); ++k)
        if (job.operations[k].name == job.operations.back().name && !job.operations[k].name.empty())
          mistakes.add(*list->get(i), fmt::format("operation \"{}\": another operation has this name",
                                                  job.operations[k].name));
    }
  } else if (!root.contains("operation")) {
    top.missing("operation", "at least one [[operation]]");
  }
  if (const toml::array* list = top.array("accepted")) detail::read_accepted(*list, job, mistakes);
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
