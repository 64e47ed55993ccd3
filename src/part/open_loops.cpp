#include "part/open_loops.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <span>

#include "part/facets.h"

namespace yardpass::detail {

namespace {

/// All open sides of a mesh, by the corners they share and by where they lie.
class OpenSides {
 public:
  /// `most_mm`: how far off sides are looked for.
  OpenSides(const Mesh& mesh, const Joints& joints, double most_mm)
      : mesh_(mesh), most_(most_mm), cell_(4 * most_mm) {
    for (std::size_t i = 0; i < joints.sides(); ++i) {
      const auto side = static_cast<std::int32_t>(i);
      if (joints.across(side) != Joints::kOpen) continue;
      sides_.push_back(side);
      ends_.emplace_back(side_from(mesh, side), side);
      ends_.emplace_back(side_to(mesh, side), side);
    }
    std::sort(ends_.begin(), ends_.end());
    if (!(most_ > 0)) return;
    // Points along each side, so close that one of them is within a quarter of a cell of any place of it.
    for (const std::int32_t side : sides_) {
      const Vec3 &a = start_of(mesh, side), &b = end_of(mesh, side);
      const int steps = 1 + static_cast<int>((b - a).norm() / (0.5 * cell_));
      for (int i = 0; i <= steps; ++i)
        by_cell_.emplace_back(cell_of(a + (b - a) * (static_cast<double>(i) / steps)), side);
    }
    std::sort(by_cell_.begin(), by_cell_.end());
    by_cell_.erase(std::unique(by_cell_.begin(), by_cell_.end()), by_cell_.end());
  }

  /// Sides that hang together by their corners, each group in the order of the file.
  [[nodiscard]] std::vector<std::vector<std::int32_t>> groups() const {
    std::vector<std::uint8_t> seen(sides_.size(), 0);
    std::vector<std::vector<std::int32_t>> groups;
    for (std::size_t seed = 0; seed < sides_.size(); ++seed) {
      if (seen[seed]) continue;
      seen[seed] = 1;
      std::vector<std::int32_t> group{sides_[seed]};
      for (std::size_t at = 0; at < group.size(); ++at)
        for (const std::int32_t corner : {side_from(mesh_, group[at]), side_to(mesh_, group[at])})
          for (const auto& [same, other] : at_corner(corner)) {
            auto& mark = seen[number_of(other)];
            if (mark) continue;
            mark = 1;
            group.push_back(other);
          }
      groups.push_back(std::move(group));
    }
    return groups;
  }

  [[nodiscard]] std::span<const std::pair<std::int32_t, std::int32_t>> at_corner(std::int32_t corner) const {
    return {std::lower_bound(ends_.begin(), ends_.end(), std::pair(corner, INT32_MIN)),
            std::lower_bound(ends_.begin(), ends_.end(), std::pair(corner + 1, INT32_MIN))};
  }

  /// How far a corner is from open sides that it is no end of, and from its own where two fold back on each
  /// other; infinite above half of its shortest side. `within`: the nearest place lies inside of a side.
  [[nodiscard]] double gap_at(std::int32_t corner, bool& within) const {
    const Vec3& p = mesh_.points[static_cast<std::size_t>(corner)];
    const auto own = at_corner(corner);
    double least = most_;
    for (const auto& [same, side] : own)
      least = std::min(least, 0.5 * (end_of(mesh_, side) - start_of(mesh_, side)).norm());
    const double limit = least;
    within = false;
    const auto measure = [&](const Vec3& from, std::int32_t side, bool counts) {
      const Vec3 &a = start_of(mesh_, side), &b = end_of(mesh_, side);
      const Vec3 foot = nearest_on_segment(from, a, b);
      const double distance = (from - foot).norm();
      if (distance >= least) return;
      least = distance;
      within = counts && (foot - a).norm() > least && (foot - b).norm() > least;
    };
    const Vec3 reach = Vec3::Constant(0.5 * cell_);
    const Cell low = cell_of(p - reach), high = cell_of(p + reach);
    for (Cell cell = low; cell[0] <= high[0]; ++cell[0])
      for (cell[1] = low[1]; cell[1] <= high[1]; ++cell[1])
        for (cell[2] = low[2]; cell[2] <= high[2]; ++cell[2])
          for (auto at = std::lower_bound(by_cell_.begin(), by_cell_.end(), std::pair(cell, INT32_MIN));
               at != by_cell_.end() && at->first == cell; ++at)
            if (side_from(mesh_, at->second) != corner && side_to(mesh_, at->second) != corner)
              measure(p, at->second, true);
    for (const auto& [a, one] : own)
      for (const auto& [b, other] : own)
        if (one != other)
          measure(mesh_.points[static_cast<std::size_t>(
                      side_from(mesh_, one) == corner ? side_to(mesh_, one) : side_from(mesh_, one))],
                  other, false);
    return least < limit ? least : std::numeric_limits<double>::infinity();
  }

 private:
  using Cell = std::array<std::int64_t, 3>;
  [[nodiscard]] Cell cell_of(const Vec3& p) const {
    Cell cell{};
    for (int k = 0; k < 3; ++k)
      cell[static_cast<std::size_t>(k)] = static_cast<std::int64_t>(std::floor(p[k] / cell_));
    return cell;
  }
  [[nodiscard]] std::size_t number_of(std::int32_t side) const {
    return static_cast<std::size_t>(std::lower_bound(sides_.begin(), sides_.end(), side) - sides_.begin());
  }

  const Mesh& mesh_;
  double most_, cell_;
  std::vector<std::int32_t> sides_;                          // ascending
  std::vector<std::pair<std::int32_t, std::int32_t>> ends_;  // corner, side
  std::vector<std::pair<Cell, std::int32_t>> by_cell_;       // that a side passes
};

void measure_gap(const Mesh& mesh, const OpenSides& sides, const std::vector<std::int32_t>& group,
                 OpenLoop& loop) {
  const double nothing = 1e-6;
  double gap = 0;
  for (const std::int32_t side : group)
    for (const std::int32_t corner : {side_from(mesh, side), side_to(mesh, side)}) {
      bool within = false;
      const double here = sides.gap_at(corner, within);
      gap = std::max(gap, here);
      if (std::isinf(gap)) return;
      // Each corner is an end of two sides, mostly.
      loop.t_joints += within && here <= nothing && corner == side_from(mesh, side);
    }
  loop.gap_mm = gap;
}

}  // namespace

std::vector<OpenLoop> open_loops(const Mesh& mesh, const Joints& joints, const Shells& shells,
                                 const std::vector<Box3>& shell_box, double most_gap_mm) {
  const OpenSides sides(mesh, joints, most_gap_mm);
  std::vector<OpenLoop> loops;
  for (const std::vector<std::int32_t>& group : sides.groups()) {
    OpenLoop loop;
    loop.closed = true;
    loop.at = middle_of(mesh, group.front());
    for (const std::int32_t side : group) {
      ++loop.edges;
      loop.length_mm += (end_of(mesh, side) - start_of(mesh, side)).norm();
      for (const std::int32_t corner : {side_from(mesh, side), side_to(mesh, side)}) {
        loop.box.extend(mesh.points[static_cast<std::size_t>(corner)]);
        loop.closed = loop.closed && sides.at_corner(corner).size() == 2;
      }
    }
    loop.shell = shells.of_triangle[static_cast<std::size_t>(Joints::triangle_of(group.front()))];
    const Box3& whole = shell_box[static_cast<std::size_t>(loop.shell)];
    loop.outer = (plan(loop.box).sizes() - plan(whole).sizes()).norm() <= 1e-3 * whole.diagonal().norm();
    if (most_gap_mm > 0) measure_gap(mesh, sides, group, loop);
    loops.push_back(loop);
  }
  std::stable_sort(loops.begin(), loops.end(),
                   [](const OpenLoop& a, const OpenLoop& b) { return a.length_mm > b.length_mm; });
  return loops;
}

}  // namespace yardpass::detail
