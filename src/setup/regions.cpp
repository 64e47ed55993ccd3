#include "setup/parts_of_setup.h"

#include "setup/in_naming_order.h"

#include <algorithm>

#include <fmt/format.h>

namespace yardpass::detail {

namespace {

/// Finds regions in the order in which they name each other, and collects what is wrong with them.
class RegionFinder {
 public:
  RegionFinder(JobSetup& setup, const Mesh& mesh, const Joints& joints)
      : setup_(setup),
        mesh_(mesh),
        joints_(joints),
        mistakes_(setup.job.file.string()),
        order_(setup.job.regions, [this](std::size_t i) { find(i); }) {
    setup.regions.resize(setup.job.regions.size());
  }

  void run() {
    order_.all();
    mistakes_.raise();
  }

 private:
  void find(std::size_t i) {
    const RegionJob& said = setup_.job.regions[i];
    NamedRegion& region = setup_.regions[i];
    region.name = said.name;
    region.set.assign(mesh_.triangles.size(), 0);
    try {
      region.set = pick(mesh_, joints_, setup_.region_map, setup_.record.group_of_triangle, pick_of(said));
    } catch (const Error& error) {
      mistake(said, error.what());
      return;
    }
    region.area_mm2 = area_of(mesh_, region.set);
    for (std::size_t t = 0; t < region.set.size(); ++t)
      if (region.set[t])
        for (int k = 0; k < 3; ++k) region.box.extend(mesh_.corner(t, k));
    if (!(region.area_mm2 > 0)) {
      mistake(said, "is empty on this part");
      return;
    }
    region.outline = outline_in_plan(mesh_, joints_, region.set);
  }

  Pick pick_of(const RegionJob& said) {
    Pick what;
    for (const std::int64_t number : said.numbers) what.numbers.push_back(static_cast<int>(number));
    for (const auto& place : said.at) {
      if (place.size() == 2)
        what.under.emplace_back(place[0], place[1]);
      else
        what.nearest.emplace_back(place[0], place[1], place[2]);
    }
    const auto& groups = setup_.record.groups;
    for (const std::string& name : said.groups) {
      const auto at = std::find(groups.begin(), groups.end(), name);
      if (at == groups.end())
        throw Error(fmt::format("names the group \"{}\", which the file does not have; it has: {}", name,
                                groups.empty() ? "none" : fmt::format("{}", fmt::join(groups, ", "))));
      what.groups.push_back(static_cast<std::int32_t>(at - groups.begin()));
    }
    for (const std::string& name : said.union_of) what.united.push_back(set_of(name));
    for (const std::string& name : said.neighbours_of) what.neighbours_of.push_back(set_of(name));
    for (const std::string& name : said.without) what.without.push_back(set_of(name));
    if (said.slope_deg) what.slope = {(*said.slope_deg)[0], (*said.slope_deg)[1]};
    what.box = said.box;
    what.inside = said.inside;
    return what;
  }

  const TriangleSet& set_of(const std::string& name) { return setup_.regions[order_.named(name)].set; }

  void mistake(const RegionJob& said, const std::string& what) {
    mistakes_.add(said.line, fmt::format("region \"{}\": {}", said.name, what));
  }

  JobSetup& setup_;
  const Mesh& mesh_;
  const Joints& joints_;
  Mistakes mistakes_;
  InNamingOrder<RegionJob> order_;
};

}  // namespace

void find_regions(JobSetup& setup, const Mesh& mesh, const Joints& joints, const Progress& progress) {
  setup.region_map =
      split_into_regions(mesh, joints, setup.record.group_of_triangle, setup.job.splitting, progress);
  RegionFinder(setup, mesh, joints).run();
}

}  // namespace yardpass::detail
