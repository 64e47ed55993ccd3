#include "yardpass/job/job_file.h"

#include <algorithm>
#include <map>

#include <fmt/format.h>

#include "job/job_tables.h"
#include "job/parse_toml.h"

namespace yardpass {

int OperationJob::line_of(const std::string& key) const {
  const Given* given = says.get(key);
  return given ? given->line() : line;
}

const Tool& Job::tool_named(const std::string& name) const {
  for (const Tool& tool : tools)
    if (tool.name == name) return tool;
  throw Error(fmt::format("the tool {}", detail::not_defined(name, detail::names_of(tools))));
}

const OperationJob* Job::operation_numbered(std::int32_t number) const {
  for (const OperationJob& operation : operations)
    if (operation.number == number) return &operation;
  return nullptr;
}

namespace {

using detail::Mistakes;
using detail::TableReader;

/// What is decided by several tables together.
void check_together(const Job& job, Mistakes& mistakes) {
  using Shape = StockJob::Shape;
  const Shape shape = job.stock.shape;
  if (job.part.origin && job.part.origin->of == Origin::Of::stock &&
      (shape == Shape::corners || shape == Shape::mesh || shape == Shape::file))
    mistakes.add(
        job.part.origin_line,
        "part: \"origin\" of the stock needs stock around the part; corners, meshes and files lie in "
        "program coordinates already, so give the origin of the part");
}

/// One table for each name: [KEY.NAME], in the order of their names.
template <typename ReadOne>
void each_named(TableReader& top, const char* key, Mistakes& mistakes, const ReadOne& read_one) {
  const GivenTable* table = top.table(key);
  if (!table) return;
  std::map<std::string, const Given*> by_name;
  for (const auto& [name, node] : *table) by_name.emplace(name, &node);
  for (const auto& [name, node] : by_name) {
    if (node->table())
      read_one(name, *node->table());
    else
      mistakes.add(*node, fmt::format("{}: \"{}\" must be a table, [{}.{}]", key, name, key, name));
  }
}

/// Regions, curves, boundaries and what guides: things with names, which name each other.
void read_named(TableReader& top, Job& job, Mistakes& mistakes) {
  const auto folder = job.file.parent_path();
  each_named(top, "regions", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.regions.push_back(detail::read_region(name, table, mistakes));
  });
  detail::check_region_names(job.regions, mistakes);
  each_named(top, "curves", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.curves.push_back(detail::read_curve_table(name, table, folder, mistakes));
  });
  detail::check_curve_names(job, mistakes);
  each_named(top, "boundaries", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.boundaries.push_back(detail::read_boundary(name, table, mistakes));
  });
  detail::check_boundary_names(job, mistakes);
  each_named(top, "lids", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.lids.push_back(detail::read_lid(name, table, mistakes));
  });
  each_named(top, "extensions", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.extensions.push_back(detail::read_extension(name, table, mistakes));
  });
  each_named(top, "guide_surfaces", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.guide_surfaces.push_back(detail::read_guide_surface(name, table, mistakes));
  });
  each_named(top, "guards", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.guards.push_back(detail::read_guard(name, table, folder, mistakes));
  });
  detail::check_guide_names(job, mistakes);
}

void read_tools(TableReader& top, Job& job, Mistakes& mistakes) {
  if (!top.has("tools")) top.missing("tools", "at least one [tools.NAME]");
  each_named(top, "tools", mistakes, [&](const std::string& name, const GivenTable& table) {
    job.tools.push_back(detail::read_tool(name, table, mistakes));
    const Tool& tool = job.tools.back();
    for (std::size_t i = 0; i + 1 < job.tools.size(); ++i)
      if (job.tools[i].number == tool.number && tool.number > 0)
        mistakes.add(table.line(),
                     fmt::format("tool \"{}\": has the same number as \"{}\"", name, job.tools[i].name));
  });
}

void read_tables(const GivenTable& root, Job& job, Mistakes& mistakes) {
  TableReader top(root, "job", mistakes);
  const auto one = [&](const char* key, const auto& read) {
    if (const GivenTable* table = top.table(key)) {
      TableReader reader(*table, key, mistakes);
      read(reader, *table);
    }
  };
  job.title = top.text("title").value_or("");
  if (!root.contains("title")) top.missing("title", "any text");
  if (const auto units = top.text("units"); units && *units != "mm")
    top.wrong(*root.get("units"), "units", fmt::format("is \"{}\"; only \"mm\" is read so far", *units));
  if (!root.contains("part")) top.missing("part", "it names the mesh: [part] mesh = \"file.stl\"");
  one("part", [&](TableReader& reader, const GivenTable&) { detail::read_part(reader, job); });
  one("splitting",
      [&](TableReader& reader, const GivenTable&) { detail::read_splitting(reader, job.splitting); });
  read_named(top, job, mistakes);
  one("stock",
      [&](TableReader& reader, const GivenTable& table) { detail::read_stock_table(reader, table, job); });
  one("machine", [&](TableReader& reader, const GivenTable&) { detail::read_machine(reader, job); });
  one("leftover", [&](TableReader& reader, const GivenTable&) { detail::read_leftover(reader, job); });
  read_tools(top, job, mistakes);
  if (!root.contains("operation")) top.missing("operation", "at least one [[operation]]");
  if (const GivenList* list = top.array("operation")) detail::read_operations(*list, job, mistakes);
  if (const GivenList* list = top.array("accepted")) detail::read_accepted(*list, job, mistakes);
  top.finish();
  check_together(job, mistakes);
}

}  // namespace

Job read_job(const std::filesystem::path& file) {
  Job job;
  job.file = file;
  Mistakes mistakes(file.string());
  const auto root = detail::parse_toml_file(file, mistakes);
  if (root) read_tables(*root, job, mistakes);
  mistakes.raise();
  return job;
}

std::vector<std::filesystem::path> files_of(const Job& job) {
  std::vector<std::filesystem::path> files{job.file, job.part.mesh, job.machine_file, job.stock.path};
  if (job.stock.shape == StockJob::Shape::file)
    files.push_back(std::filesystem::path(job.stock.path).replace_extension(".frame"));
  for (const CurveJob& curve : job.curves) files.push_back(curve.file);
  for (const GuardJob& guard : job.guards) files.push_back(guard.mesh);
  std::erase_if(files, [](const std::filesystem::path& file) { return file.empty(); });
  return files;
}

}  // namespace yardpass
