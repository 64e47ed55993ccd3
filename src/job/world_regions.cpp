#include "job/world_regions.h"

#include "job/toml_reader.h"

#include <algorithm>

#include <fmt/format.h>

#include "yardpass/part/measure.h"

namespace yardpass::detail {

namespace {

/// Finds regions in the order in which they name each other, and collects what is wrong with them.
class RegionFinder {
 public:
  RegionFinder(JobWorld& world, const Mesh& mesh, const Joints& joints)
      : world_(world),
        mesh_(mesh),
        joints_(joints),
        mistakes_(world.job.file.string()),
        done_(world.job.regions.size(), 0) {
    world.regions.resize(done_.size());
  }

  void run() {
    for (std::size_t i = 0; i < done_.size(); ++i) find(i);
    mistakes_.raise();
  }

 private:
  void find(std::size_t i) {
    if (done_[i]) return;
    done_[i] = 1;
    const RegionJob& said = world_.job.regions[i];
    NamedRegion& region = world_.regions[i];
    region.name = said.name;
    region.set.assign(mesh_.triangles.size(), 0);
    try {
      region.set = pick(mesh_, joints_, world_.region_map, world_.record.group_of_triangle, pick_of(said));
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
    what.numbers = said.numbers;
    for (const auto& place : said.at) {
      if (place.size() == 2)
        what.under.emplace_back(place[0], place[1]);
      else
        what.nearest.emplace_back(place[0], place[1], place[2]);
    }
    const auto& groups = world_.record.groups;
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

  const TriangleSet& set_of(const std::string& name) {
    const auto& all = world_.job.regions;
    const auto i = static_cast<std::size_t>(
        std::find_if(all.begin(), all.end(), [&](const RegionJob& r) { return r.name == name; }) -
        all.begin());
    find(i);
    return world_.regions[i].set;
  }

  void mistake(const RegionJob& said, const std::string& what) {
    mistakes_.add(said.line, fmt::format("region \"{}\": {}", said.name, what));
  }

  JobWorld& world_;
  const Mesh& mesh_;
  const Joints& joints_;
  Mistakes mistakes_;
  std::vector<std::uint8_t> done_;
};

std::string place_words(const Vec3& p) {
  return fmt::format("[{:.3f}, {:.3f}, {:.3f}]", p.x(), p.y(), p.z());
}

}  // namespace

Measured measure_on(const JobWorld& world, const Measure& measure) {
  const Mesh& mesh = world.part->mesh();
  std::vector<Vec3> at;
  for (const auto& place : measure.places) {
    if (place.size() == 3) {
      at.push_back(nearest_to(mesh, Vec3(place.data())).at);
      continue;
    }
    const auto found = highest_at(mesh, Vec2(place.data()));
    if (!found) throw Error(fmt::format("there is no part at [{:g}, {:g}]", place[0], place[1]));
    at.push_back(found->at);
  }
  const auto region = [&]() -> const NamedRegion& {
    const auto found = std::find_if(world.regions.begin(), world.regions.end(),
                                    [&](const NamedRegion& r) { return r.name == measure.region; });
    if (found == world.regions.end())
      throw Error(fmt::format("names the region \"{}\", which is not defined", measure.region));
    return *found;
  };
  switch (measure.what) {
    case Measure::What::z_at:
      return {at[0].z(), "Z of the part at " + place_words(at[0])};
    case Measure::What::top_of:
      return {region().box.max().z(), fmt::format("top of \"{}\"", measure.region)};
    case Measure::What::bottom_of:
      return {region().box.min().z(), fmt::format("bottom of \"{}\"", measure.region)};
    case Measure::What::angle_between:
      if (!(span_between(at[0], at[1]).plan_distance_mm > 1e-6))
        throw Error("the two places lie above each other; there is no angle in plan");
      return {span_between(at[0], at[1]).angle_deg,
              "angle in plan from " + place_words(at[0]) + " to " + place_words(at[1])};
    case Measure::What::distance_between:
      return {span_between(at[0], at[1]).distance_mm,
              "distance from " + place_words(at[0]) + " to " + place_words(at[1])};
    case Measure::What::radius_through:
      break;
  }
  const auto circle = circle_through(at[0], at[1], at[2]);
  if (!circle) throw Error("the three places lie in one line; there is no circle through them");
  return {circle->radius_mm, fmt::format("radius through {}, {}, {}", place_words(at[0]), place_words(at[1]),
                                         place_words(at[2]))};
}

void find_regions(JobWorld& world, const Mesh& mesh, const Joints& joints, const Progress& progress) {
  world.region_map =
      split_into_regions(mesh, joints, world.record.group_of_triangle, world.job.splitting, progress);
  RegionFinder(world, mesh, joints).run();
}

void fill_in_measured(JobWorld& world) {
  Mistakes mistakes(world.job.file.string());
  for (OperationJob& operation : world.job.operations)
    for (const MeasuredValue& value : operation.measured) {
      try {
        const Measured found = measure_on(world, value.measure);
        const double number = found.value + value.measure.plus;
        if (!(number <= value.high && (value.low_open ? number > value.low : number >= value.low)))
          throw Error(fmt::format("measures {:.6g}, but must be {} {:g} and at most {:g}", number,
                                  value.low_open ? "above" : "at least", value.low, value.high));
        *operation.number(value.key) = number;
        const std::string plus = value.measure.plus == 0  ? ""
                                 : value.measure.plus > 0 ? fmt::format(" plus {:g}", value.measure.plus)
                                                          : fmt::format(" less {:g}", -value.measure.plus);
        world.measured.push_back({operation.name, value.key, "measured: " + found.words + plus});
      } catch (const Error& error) {
        mistakes.add(value.line,
                     fmt::format("operation \"{}\": \"{}\": {}", operation.name, value.key, error.what()));
      }
    }
  mistakes.raise();
}

}  // namespace yardpass::detail
