#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

BoundaryJob read_boundary(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("boundary \"{}\"", name), mistakes);
  BoundaryJob boundary;
  boundary.name = name;
  boundary.line = reader.line();
  if (const Given* node = reader.any("points")) boundary.points = read_loops(reader, *node, "points");
  boundary.region = reader.text("region").value_or("");
  boundary.silhouette = reader.flag("silhouette").value_or(false);
  boundary.slice_z = number_or_measure(reader, "slice", kPlace, boundary.measured);
  boundary.curves = read_names(reader, "curves");
  boundary.loop_from = read_names(reader, "loop_from");
  boundary.gap_mm = reader.number("gap", kLengthOrZero).value_or(0);
  if (table.contains("gap") != table.contains("loop_from"))
    mistakes.add(boundary.line,
                 fmt::format("boundary \"{}\": \"loop_from\" and \"gap\" need each other", name));
  boundary.union_of = read_names(reader, "union_of");
  boundary.common_to = read_names(reader, "common_to");
  boundary.without = read_names(reader, "without");
  boundary.fill_holes = reader.flag("fill_holes").value_or(false);
  boundary.offset_mm = reader.number("offset", {-1000, 1000}).value_or(0);
  boundary.simplify_mm = reader.number("simplify", {0, 10}).value_or(0);
  reader.finish();
  const std::vector<std::string> sources{"points", "region",    "silhouette", "slice",
                                         "curves", "loop_from", "union_of",   "common_to"};
  const auto given = std::count_if(sources.begin(), sources.end(),
                                   [&](const std::string& key) { return table.contains(key); });
  if (given != 1)
    mistakes.add(boundary.line, fmt::format("boundary \"{}\": needs one of: {}", name, listed(sources)));
  return boundary;
}

void check_boundary_names(const Job& job, Mistakes& mistakes) {
  const std::vector<std::string> names = names_of(job.boundaries), regions = names_of(job.regions),
                                 curves = names_of(job.curves);
  for (const BoundaryJob& boundary : job.boundaries) {
    const std::string who = fmt::format("boundary \"{}\"", boundary.name);
    if (std::find(regions.begin(), regions.end(), boundary.name) != regions.end())
      mistakes.add(boundary.line, fmt::format("{}: a region has this name too", who));
    if (!boundary.region.empty() &&
        std::find(regions.begin(), regions.end(), boundary.region) == regions.end())
      mistakes.add(boundary.line,
                   fmt::format("{}: names the region {}", who, not_defined(boundary.region, regions)));
    for (const MeasuredValue& value : boundary.measured)
      if (!value.measure.region.empty() &&
          std::find(regions.begin(), regions.end(), value.measure.region) == regions.end())
        mistakes.add(value.line, fmt::format("{}: \"{}\" names the region {}", who, value.key,
                                             not_defined(value.measure.region, regions)));
    for (const auto* list : {&boundary.curves, &boundary.loop_from})
      for (const std::string& name : *list)
        if (std::find(curves.begin(), curves.end(), name) == curves.end())
          mistakes.add(boundary.line, fmt::format("{}: names the curve {}", who, not_defined(name, curves)));
    for (const auto* list : {&boundary.union_of, &boundary.common_to, &boundary.without})
      for (const std::string& name : *list)
        if (std::find(names.begin(), names.end(), name) == names.end())
          mistakes.add(boundary.line, fmt::format("{}: names {}", who, not_defined(name, names)));
  }
  const auto uses = [&](std::size_t i) {
    const BoundaryJob& boundary = job.boundaries[i];
    std::vector<std::string> all;
    for (const auto* list : {&boundary.union_of, &boundary.common_to, &boundary.without})
      all.insert(all.end(), list->begin(), list->end());
    return all;
  };
  for (const std::size_t i : leading_back(names, uses))
    mistakes.add(
        job.boundaries[i].line,
        fmt::format("boundary \"{}\": leads back to itself by the names it uses", job.boundaries[i].name));
}

}  // namespace yardpass::detail
