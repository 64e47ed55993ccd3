#include "job/naming_rules.h"

#include <algorithm>
#include <functional>

#include <fmt/format.h>

namespace yardpass::detail {

namespace {

using Names = std::vector<std::string>;

/// Of each circle of names the thing where it was first met, by index. `uses(thing)`: the names that it uses.
template <typename Thing, typename Uses>
std::vector<std::size_t> naming_circles(const std::vector<Thing>& things, const Uses& uses) {
  enum class State : std::uint8_t { not_seen, on_the_way, done };
  std::vector<State> state(things.size(), State::not_seen);
  const std::function<bool(std::size_t)> leads_back = [&](std::size_t i) {
    if (state[i] != State::not_seen) return state[i] == State::on_the_way;
    state[i] = State::on_the_way;
    bool back = false;
    for (const std::string& name : uses(things[i]))
      for (std::size_t k = 0; k < things.size(); ++k)
        if (things[k].name == name) back = leads_back(k) || back;
    state[i] = State::done;
    return back;
  };
  std::vector<std::size_t> circles;
  for (std::size_t i = 0; i < things.size(); ++i)
    if (state[i] == State::not_seen && leads_back(i)) circles.push_back(i);
  return circles;
}

template <typename Thing, typename Uses>
void circle(const std::vector<Thing>& things, const char* kind, const Uses& uses, Mistakes& mistakes) {
  for (const std::size_t i : naming_circles(things, uses))
    mistakes.add(things[i].line,
                 fmt::format("{} \"{}\": leads back to itself by the names it uses", kind, things[i].name));
}

Names joined(std::initializer_list<const Names*> lists) {
  Names all;
  for (const auto* list : lists) all.insert(all.end(), list->begin(), list->end());
  return all;
}

void one_namespace(const Job& job, Mistakes& mistakes) {
  for (const BoundaryJob& boundary : job.boundaries)
    if (std::any_of(job.regions.begin(), job.regions.end(),
                    [&](const RegionJob& region) { return region.name == boundary.name; }))
      mistakes.add(boundary.line, fmt::format("boundary \"{}\": a region has this name too", boundary.name));
  const auto reserved = [&](const char* kind, const std::string& name, int line) {
    if (name == "part" || name == "stock")
      mistakes.add(line, fmt::format("{} \"{}\": the name means the {}'s outline already", kind, name, name));
  };
  for (const BoundaryJob& boundary : job.boundaries) reserved("boundary", boundary.name, boundary.line);
  for (const RegionJob& region : job.regions) reserved("region", region.name, region.line);
}

/// Curves that come from boundaries are there for operations alone: all else is found before them.
void late_curves(const Job& job, Mistakes& mistakes) {
  const std::vector<bool> late = from_boundaries(job.curves);
  const auto check = [&](const char* kind, const NamedTable& thing, const Names& uses) {
    for (const std::string& used : uses)
      for (std::size_t i = 0; i < late.size(); ++i)
        if (late[i] && job.curves[i].name == used)
          mistakes.add(thing.line, fmt::format("{} \"{}\": the curve \"{}\" comes from a boundary, so only "
                                               "operations can name it",
                                               kind, thing.name, used));
  };
  for (const BoundaryJob& one : job.boundaries) check("boundary", one, joined({&one.curves, &one.loop_from}));
  for (const CarrierJob& one : job.carriers) {
    Names uses = one.between;
    uses.insert(uses.end(), {one.section, one.along});
    check("carrier", one, uses);
  }
  for (const RunOutJob& one : job.run_outs) check("run-out", one, {one.along});
}

}  // namespace

void check_naming(const Job& job, Mistakes& mistakes) {
  circle(
      job.regions, "region",
      [](const RegionJob& r) {
        return joined({&r.union_of, &r.neighbours_of, &r.without});
      },
      mistakes);
  circle(job.curves, "curve", names_used, mistakes);
  circle(
      job.boundaries, "boundary",
      [](const BoundaryJob& b) {
        return joined({&b.union_of, &b.common_to, &b.without});
      },
      mistakes);
  late_curves(job, mistakes);
  one_namespace(job, mistakes);
}

}  // namespace yardpass::detail
