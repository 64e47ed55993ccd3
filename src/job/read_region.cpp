#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

void read_limits(TableReader& reader, RegionJob& region) {
  if (const Given* node = reader.any("slope")) {
    const char* form = "[least, greatest] in degrees from level, between 0 and 180; above 90 faces down";
    if (const auto pair = read_numbers(reader, *node, "slope", 2, 2, form)) {
      if ((*pair)[0] >= 0 && (*pair)[1] <= 180 && (*pair)[0] <= (*pair)[1])
        region.slope_deg = {(*pair)[0], (*pair)[1]};
      else
        reader.wrong(*node, "slope", fmt::format("must be {}", form));
    }
  }
  region.box = read_corners(reader, "box");
  if (const Given* node = reader.any("inside")) region.inside = read_loops(reader, *node, "inside");
}

}  // namespace

void read_splitting(TableReader& reader, RegionOptions& options) {
  const Range angle{0, 180, true, "degrees"};
  options.crease_deg = reader.number("crease_angle", angle).value_or(options.crease_deg);
  options.bend_radius_mm = reader.number("bend_radius", kLengthOrZero);
  options.total_turn_deg = reader.number("total_turn", {0, 180, false, "degrees"}).value_or(0);
  options.crumb_mm2 = reader.number("crumb_area", {0, 1e9, false, "mm2"});
  reader.finish();
}

RegionJob read_region(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("region \"{}\"", name), mistakes);
  RegionJob region;
  region.name = name;
  region.line = reader.line();
  if (const Given* node = reader.any("at")) region.at = read_places(reader, *node, "at");
  for (const std::int64_t number : read_counts(reader, "numbers", "as on the picture of the regions"))
    region.numbers.push_back(static_cast<std::int32_t>(number));
  region.groups = read_names(reader, "group");
  region.union_of = read_names(reader, "union_of");
  region.neighbours_of = read_names(reader, "neighbours_of");
  region.without = read_names(reader, "without");
  read_limits(reader, region);
  reader.finish();
  if (table.empty())
    mistakes.add(
        region.line,
        fmt::format("region \"{}\": says nothing; give at least one of: at, numbers, group, union_of, "
                    "neighbours_of, slope, box, inside, without",
                    name));
  return region;
}

void check_region_names(const std::vector<RegionJob>& regions, Mistakes& mistakes) {
  std::vector<std::string> names;
  for (const RegionJob& region : regions) names.push_back(region.name);
  const auto index_of = [&](const std::string& name) {
    return static_cast<std::size_t>(std::find(names.begin(), names.end(), name) - names.begin());
  };
  const auto named_by = [](const RegionJob& region) {
    std::vector<std::string> all = region.union_of;
    all.insert(all.end(), region.neighbours_of.begin(), region.neighbours_of.end());
    all.insert(all.end(), region.without.begin(), region.without.end());
    return all;
  };
  for (const RegionJob& region : regions)
    for (const std::string& name : named_by(region)) {
      if (index_of(name) < names.size()) continue;
      const auto near = nearest_word(name, names);
      mistakes.add(
          region.line,
          fmt::format("region \"{}\": names \"{}\", which is not defined{}; there are: {}", region.name, name,
                      near ? fmt::format(" (did you mean \"{}\"?)", *near) : "", listed(names)));
    }
  const auto uses = [&](std::size_t i) { return named_by(regions[i]); };
  for (const std::size_t i : leading_back(names, uses))
    mistakes.add(regions[i].line,
                 fmt::format("region \"{}\": leads back to itself by the names it uses", regions[i].name));
}

}  // namespace yardpass::detail
