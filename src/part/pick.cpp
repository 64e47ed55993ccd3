#include "yardpass/part/pick.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "part/facets.h"
#include "yardpass/part/measure.h"

namespace yardpass {

namespace {

std::string place_text(double x, double y) {
  std::string text;
  for (const double v : {x, y}) {
    std::string number = std::to_string(v);
    number.erase(number.find_last_not_of('0') + 1);
    if (number.back() == '.') number.pop_back();
    text += (text.empty() ? "[" : ", ") + number;
  }
  return text + "]";
}

class Picker {
 public:
  Picker(const Mesh& mesh, const RegionMap& regions, const std::vector<std::int32_t>& groups,
         const Pick& what)
      : mesh_(mesh),
        regions_(regions),
        groups_(groups),
        what_(what),
        chosen_(regions.regions.size() + 1, 0) {}

  TriangleSet run(const std::vector<std::uint8_t>& turned) {
    choose_regions();
    TriangleSet set(mesh_.triangles.size(), chooses_all() ? 1 : 0);
    for (std::size_t t = 0; t < set.size(); ++t)
      if (chosen_[static_cast<std::size_t>(regions_.of_triangle[t])]) set[t] = 1;
    choose_groups(set);
    for (const TriangleSet& other : what_.united)
      for (std::size_t t = 0; t < set.size(); ++t) set[t] |= other[t];
    for (std::size_t t = 0; t < set.size(); ++t)
      if (set[t] && !meets_limits(t, turned[t] != 0)) set[t] = 0;
    for (const TriangleSet& other : what_.without)
      for (std::size_t t = 0; t < set.size(); ++t)
        if (other[t]) set[t] = 0;
    return set;
  }

 private:
  [[nodiscard]] bool chooses_all() const {
    return what_.numbers.empty() && what_.under.empty() && what_.nearest.empty() && what_.groups.empty() &&
           what_.united.empty() && what_.neighbours_of.empty();
  }

  void choose_regions() {
    const auto count = static_cast<std::int32_t>(regions_.regions.size());
    for (const std::int32_t number : what_.numbers) {
      if (number < 1 || number > count)
        throw Error("region " + std::to_string(number) + " does not exist; there are regions 1 to " +
                    std::to_string(count));
      chosen_[static_cast<std::size_t>(number)] = 1;
    }
    for (const Vec2& place : what_.under) {
      const auto found = highest_at(mesh_, place);
      if (!found) throw Error("there is no part at " + place_text(place.x(), place.y()));
      choose_at(found->triangle);
    }
    for (const Vec3& point : what_.nearest) choose_at(nearest_to(mesh_, point).triangle);
    for (const TriangleSet& set : what_.neighbours_of) {
      std::vector<std::uint8_t> own(chosen_.size(), 0);
      for (std::size_t t = 0; t < set.size(); ++t)
        if (set[t]) own[static_cast<std::size_t>(regions_.of_triangle[t])] = 1;
      for (std::int32_t number = 1; number <= count; ++number)
        if (own[static_cast<std::size_t>(number)])
          for (const std::int32_t other : regions_[number].neighbours)
            if (!own[static_cast<std::size_t>(other)]) chosen_[static_cast<std::size_t>(other)] = 1;
    }
  }

  void choose_at(std::int32_t triangle) {
    chosen_[static_cast<std::size_t>(regions_.of_triangle[static_cast<std::size_t>(triangle)])] = 1;
  }

  void choose_groups(TriangleSet& set) const {
    for (const std::int32_t group : what_.groups) {
      if (std::find(groups_.begin(), groups_.end(), group) == groups_.end())
        throw Error("group " + std::to_string(group) + " of the file holds no triangle");
      for (std::size_t t = 0; t < set.size(); ++t)
        if (groups_[t] == group) set[t] = 1;
    }
  }

  [[nodiscard]] bool meets_limits(std::size_t t, bool turned) const {
    const Vec3 middle = (mesh_.corner(t, 0) + mesh_.corner(t, 1) + mesh_.corner(t, 2)) / 3;
    if (what_.box && !what_.box->contains(middle)) return false;
    if (what_.inside && !what_.inside->contains(plan(middle))) return false;
    if (!what_.slope) return true;
    const double z = unit_normal(mesh_, t, turned).z();
    const double slope = std::acos(std::clamp(z, -1.0, 1.0)) * 180 / std::numbers::pi;
    // A level facet of a file in single precision is level to a millionth of a degree at best.
    return slope >= what_.slope->from_deg - 1e-4 && slope <= what_.slope->to_deg + 1e-4;
  }

  const Mesh& mesh_;
  const RegionMap& regions_;
  const std::vector<std::int32_t>& groups_;
  const Pick& what_;
  std::vector<std::uint8_t> chosen_;
};

}  // namespace

TriangleSet pick(const Mesh& mesh, const Joints& joints, const RegionMap& regions,
                 const std::vector<std::int32_t>& group_of_triangle, const Pick& what) {
  return Picker(mesh, regions, group_of_triangle, what).run(turned_over(mesh, joints));
}

Region outline_in_plan(const Mesh& mesh, const Joints& joints, const TriangleSet& set) {
  const std::vector<std::uint8_t> turned = turned_over(mesh, joints);
  const auto counts = [&](std::size_t t) {
    return set[t] && unit_normal(mesh, t, turned[t] != 0).z() > 1e-9;
  };
  // Rim sides, as the surface has them on its left, by the corner they start from.
  std::vector<std::pair<std::int32_t, std::int32_t>> rim;
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    if (!counts(i / 3)) continue;
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    if (other >= 0 && counts(static_cast<std::size_t>(other / 3))) continue;
    const std::int32_t from = side_from(mesh, side), to = side_to(mesh, side);
    turned[i / 3] ? rim.emplace_back(to, from) : rim.emplace_back(from, to);
  }
  std::sort(rim.begin(), rim.end());
  std::vector<std::uint8_t> used(rim.size(), 0);
  std::vector<Polyline2> loops;
  for (std::size_t start = 0; start < rim.size(); ++start) {
    Polyline2 loop;
    for (std::size_t at = start; !used[at];) {
      used[at] = 1;
      loop.push_back(plan(mesh.points[static_cast<std::size_t>(rim[at].first)]));
      auto next = std::lower_bound(rim.begin(), rim.end(), std::pair(rim[at].second, INT32_MIN));
      while (next != rim.end() && next->first == rim[at].second &&
             used[static_cast<std::size_t>(next - rim.begin())])
        ++next;
      if (next == rim.end() || next->first != rim[at].second) break;
      at = static_cast<std::size_t>(next - rim.begin());
    }
    if (loop.size() > 2) loops.push_back(std::move(loop));
  }
  return wound_around(loops);
}

double area_of(const Mesh& mesh, const TriangleSet& set) {
  double sum = 0;
  for (std::size_t t = 0; t < set.size(); ++t)
    if (set[t]) sum += detail::area_of(mesh, t);
  return sum;
}

}  // namespace yardpass
