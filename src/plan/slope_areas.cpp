#include "yardpass/plan/slope_areas.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/cell_outline.h"
#include "yardpass/contact/slope.h"

namespace yardpass {

namespace {

using detail::CellGrid;
using detail::Mask;

constexpr std::uint8_t kShallow = 0, kSteep = 1;

CellGrid grid_over(const Region& area, double radius) {
  constexpr double kMostCells = 4e6;
  const Box2 box = area.box();
  const double side = std::max({radius / 8, 0.01, std::sqrt(box.sizes().x() * box.sizes().y() / kMostCells)});
  return {box.min() - Vec2::Constant(2.37 * side), side, static_cast<int>(box.sizes().x() / side) + 6,
          static_cast<int>(box.sizes().y() / side) + 6};
}

class Splitter {
 public:
  Splitter(const TipSurface& surface, const Region& area, const SlopeSplit& split, const Progress& progress)
      : area_(area), split_(split), radius_(surface.cutter().radius()), grid_(grid_over(area, radius_)) {
    touch(surface, progress);
    mark_walls();
    decide();
    for (int round = 0; round < 2; ++round)
      for (const std::uint8_t side : {kSteep, kShallow}) turn_small(side);
  }

  [[nodiscard]] SlopeAreas areas() const {
    SlopeAreas result;
    // Where the angle itself lies, if it lies between the two cells.
    const auto share = [&](std::size_t in, std::size_t out) {
      const double high = nodes_[in].angle - split_.angle_deg, low = split_.angle_deg - nodes_[out].angle;
      const bool wall = wall_[out] || nodes_[out].angle < 0;
      return wall || high < 0 || low < 0 ? 0.5 : std::clamp(high / std::max(high + low, 1e-9), 0.05, 0.95);
    };
    // Both ways, so that cells leave no notches.
    const double smooth = 0.5 * grid_.side, arc = 0.05 * grid_.side;
    Region steep = offset(outline_between_cells(grid_, side_, share), smooth, arc);
    steep = intersect(offset(offset(steep, -2 * smooth, arc), smooth, arc), area_);
    const Region shallow = subtract(area_, steep);
    result.steep_pieces = std::ssize(pieces(steep));
    result.shallow_pieces = std::ssize(pieces(shallow));
    result.steep_mm2 = steep.area_mm2();
    result.shallow_mm2 = shallow.area_mm2();
    const double lap = 0.5 * split_.overlap_mm;
    result.steep = lap > 0 && !steep.empty() ? intersect(offset(steep, lap, arc), area_) : steep;
    result.shallow = lap > 0 && !shallow.empty() ? intersect(offset(shallow, lap, arc), area_) : shallow;
    tell_angles(result);
    return result;
  }

 private:
  struct Node {
    double z = kNothingBelow, angle = -1;  // degrees
    bool inside = false;
  };

  void touch(const TipSurface& surface, const Progress& progress) {
    nodes_.resize(static_cast<std::size_t>(grid_.columns) * static_cast<std::size_t>(grid_.rows));
    const detail::Bands near(offset(area_, 1.5 * grid_.side, 0.1 * grid_.side));
    detail::parallel_for(grid_.rows, progress, [&](int row) {
      std::int32_t last = -1;
      for (int column = 0; column < grid_.columns; ++column) {
        const Vec2 p = grid_.middle(column, row);
        Node& node = nodes_[grid_.index(column, row)];
        node.inside = near.contains(p);
        if (!node.inside) continue;
        const auto touched = surface.touch(p, last);
        if (!touched) continue;
        last = touched->triangle;
        node.z = touched->height;
        node.angle = std::atan(slope_at(surface, p, *touched).norm()) * 180 / std::numbers::pi;
      }
    });
  }

  /// Upright walls lie between nodes.
  void mark_walls() {
    wall_.assign(nodes_.size(), 0);
    const double most =
        grid_.side * std::tan(std::min(split_.angle_deg + kSlopeBand, 89.0) * std::numbers::pi / 180);
    const auto compare = [&](std::size_t a, std::size_t b) {
      if (!nodes_[a].inside || !nodes_[b].inside || nodes_[a].z == nodes_[b].z) return;
      if (!(std::abs(nodes_[a].z - nodes_[b].z) > most)) return;
      wall_[a] = wall_[b] = 1;
    };
    for (int row = 0; row < grid_.rows; ++row)
      for (int column = 0; column < grid_.columns; ++column) {
        if (column + 1 < grid_.columns) compare(grid_.index(column, row), grid_.index(column + 1, row));
        if (row + 1 < grid_.rows) compare(grid_.index(column, row), grid_.index(column, row + 1));
      }
  }

  void decide() {
    side_.assign(nodes_.size(), kShallow);
    detail::parallel_for(grid_.rows, [&](int row) {
      for (int column = 0; column < grid_.columns; ++column) {
        const std::size_t k = grid_.index(column, row);
        const double angle = nodes_[k].angle - split_.angle_deg;
        if (wall_[k] || angle > kSlopeBand)
          side_[k] = kSteep;
        else if (nodes_[k].angle >= 0 && angle >= -kSlopeBand)
          side_[k] = mean_around(column, row) > split_.angle_deg ? kSteep : kShallow;
      }
    });
  }
  /// Of the slopes within half a radius; what is far from the angle counts no more than the band and as much.
  [[nodiscard]] double mean_around(int column, int row) const {
    const int reach = std::max(1, static_cast<int>(0.5 * radius_ / grid_.side));
    double sum = 0;
    int count = 0;
    for (int y = std::max(0, row - reach); y <= std::min(grid_.rows - 1, row + reach); ++y)
      for (int x = std::max(0, column - reach); x <= std::min(grid_.columns - 1, column + reach); ++x) {
        const double angle = nodes_[grid_.index(x, y)].angle;
        if (angle < 0 || (x - column) * (x - column) + (y - row) * (y - row) > reach * reach) continue;
        sum += std::clamp(angle, split_.angle_deg - 2 * kSlopeBand, split_.angle_deg + 2 * kSlopeBand);
        ++count;
      }
    return sum / count;
  }

  /// Pieces of one side that are too small go to the other.
  void turn_small(std::uint8_t side) {
    constexpr double kReal = 20;  // degrees beyond the angle: no noise, but walls
    const double least = radius_ * radius_ / (grid_.side * grid_.side);
    Mask seen(side_.size(), 0);
    std::vector<std::size_t> piece;
    for (std::size_t first = 0; first < side_.size(); ++first) {
      if (seen[first] || side_[first] != side || !nodes_[first].inside) continue;
      piece.assign(1, first);
      seen[first] = 1;
      bool real = false;
      for (std::size_t at = 0; at < piece.size(); ++at) {
        const std::size_t k = piece[at];
        real = real || wall_[k] || nodes_[k].angle > split_.angle_deg + kReal;
        const int column = static_cast<int>(k % static_cast<std::size_t>(grid_.columns)),
                  row = static_cast<int>(k / static_cast<std::size_t>(grid_.columns));
        const auto visit = [&](int x, int y) {
          if (x < 0 || y < 0 || x >= grid_.columns || y >= grid_.rows) return;
          const std::size_t next = grid_.index(x, y);
          if (seen[next] || side_[next] != side || !nodes_[next].inside) return;
          seen[next] = 1;
          piece.push_back(next);
        };
        visit(column + 1, row), visit(column - 1, row), visit(column, row + 1), visit(column, row - 1);
      }
      if (static_cast<double>(piece.size()) >= least || (side == kSteep && real)) continue;
      for (const std::size_t k : piece) side_[k] = side == kSteep ? kShallow : kSteep;
    }
  }

  void tell_angles(SlopeAreas& result) const {
    std::vector<double> steep, shallow;
    const detail::Bands inside(area_);
    for (int row = 0; row < grid_.rows; ++row)
      for (int column = 0; column < grid_.columns; ++column) {
        const std::size_t k = grid_.index(column, row);
        if (nodes_[k].angle < 0 || !inside.contains(grid_.middle(column, row))) continue;
        (side_[k] == kSteep ? steep : shallow).push_back(nodes_[k].angle);
      }
    const auto few = [](std::vector<double>& all, bool high) {
      const std::size_t index = high ? all.size() - 1 - all.size() / 100 : all.size() / 100;
      std::nth_element(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(index), all.end());
      return all[index];
    };
    if (!shallow.empty()) result.steepest_shallow_deg = few(shallow, true);
    if (!steep.empty()) result.gentlest_steep_deg = few(steep, false);
  }

  const Region& area_;
  const SlopeSplit& split_;
  double radius_;
  CellGrid grid_;
  std::vector<Node> nodes_;
  Mask wall_, side_;
};

}  // namespace

SlopeAreas slope_areas(const TipSurface& surface, const Region& area, const SlopeSplit& split,
                       const Progress& progress) {
  require(split.angle_deg >= 10 && split.angle_deg <= 85, "angle_deg", "must be 10 to 85");
  require(split.overlap_mm >= 0, "overlap_mm", "must be at least 0");
  if (area.empty()) return {};
  return Splitter(surface, area, split, progress).areas();
}

}  // namespace yardpass
