#include "yardpass/part/regions.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <numeric>
#include <tuple>

#include "part/facets.h"

namespace yardpass {

const char* name_of(RegionKind kind) {
  switch (kind) {
    case RegionKind::level:
      return "level";
    case RegionKind::plane:
      return "plane";
    case RegionKind::fillet:
      return "fillet";
    case RegionKind::round:
      return "round";
    case RegionKind::curved:
      return "curved";
  }
  return "";
}

namespace {

constexpr double kDegrees = 180 / std::numbers::pi;

/// Bends: hollow, bulging, or neither.
enum class Bend : std::int8_t { hollow = -1, broad = 0, bulging = 1 };

class Splitter {
 public:
  Splitter(const Mesh& mesh, const Joints& joints, const std::vector<std::int32_t>& groups,
           const RegionOptions& options, const Progress& progress)
      : mesh_(mesh),
        joints_(joints),
        groups_(groups),
        options_(options),
        progress_(progress),
        turned_(turned_over(mesh, joints)) {}

  RegionMap run() {
    measure_triangles();
    classify_bends();
    report(progress_, 0.6);
    grow();
    if (demote_faint_bends()) grow();
    report(progress_, 0.75);
    merge_scraps();
    report(progress_, 0.9);
    describe();
    return std::move(map_);
  }

 private:
  [[nodiscard]] std::size_t count() const { return mesh_.triangles.size(); }

  void measure_triangles() {
    area_.resize(count());
    normal_.resize(count());
    for (std::size_t t = 0; t < count(); ++t) {
      area_[t] = detail::area_of(mesh_, t);
      normal_[t] = unit_normal(mesh_, t, turned_[t] != 0).cast<float>();
    }
    whole_area_ = std::accumulate(area_.begin(), area_.end(), 0.0);
  }

  void classify_bends() {
    bend_.assign(count(), Bend::broad);
    if (options_.bend_radius_mm && *options_.bend_radius_mm <= 0) return;
    curvature_ =
        greatest_curvature(mesh_, joints_, turned_, options_.crease_deg, part_of(progress_, 0.1, 0.6));
    map_.bend_from_part = !options_.bend_radius_mm;
    map_.bend_radius_mm = options_.bend_radius_mm ? *options_.bend_radius_mm : radius_at_valley();
    if (map_.bend_radius_mm <= 0) return;
    for (std::size_t t = 0; t < count(); ++t)
      if (std::abs(static_cast<double>(curvature_[t])) * map_.bend_radius_mm > 1)
        bend_[t] = curvature_[t] > 0 ? Bend::bulging : Bend::hollow;
    for (int round = 0; round < 3; ++round) straighten_bends();
  }

  /// Borders of bends run in teeth from triangle to triangle; a triangle joins the kind of two of its
  /// neighbours.
  void straighten_bends() {
    const std::vector<Bend> before = bend_;
    for (std::size_t t = 0; t < count(); ++t) {
      int votes[3] = {0, 0, 0};
      for (std::int32_t k = 0; k < 3; ++k) {
        const std::int32_t other = joints_.across(static_cast<std::int32_t>(3 * t) + k);
        if (other >= 0 && is_smooth(t, static_cast<std::size_t>(other / 3)))
          ++votes[static_cast<int>(before[static_cast<std::size_t>(other / 3)]) + 1];
      }
      for (const Bend kind : {Bend::hollow, Bend::broad, Bend::bulging})
        if (votes[static_cast<int>(kind) + 1] >= 2) bend_[t] = kind;
    }
  }

  /// Bends and the broad surface beside them are two heaps in the distribution of radii (by area, in quarters
  /// of an octave) with a valley between them; a shape that just curves here more and there less has none.
  [[nodiscard]] double radius_at_valley() const {
    constexpr int kBins = 80;
    constexpr double kLeast = 0.01, kPerOctave = 4, kLeastDepth = 8;
    std::array<double, kBins> bin{};
    for (std::size_t t = 0; t < count(); ++t) {
      const double k = std::abs(static_cast<double>(curvature_[t]));
      const double octaves = k > 0 ? std::log2(1 / (k * kLeast)) * kPerOctave : kBins;
      bin[static_cast<std::size_t>(std::clamp(octaves, 0.0, kBins - 1.0))] += area_[t];
    }
    const double widest = 0.1 * mesh_.box().diagonal().norm();
    double best = kLeastDepth, radius = 0;
    for (std::size_t i = 1; i + 1 < kBins && kLeast * std::exp2(static_cast<double>(i) / kPerOctave) < widest;
         ++i) {
      const auto middle = bin.begin() + static_cast<std::ptrdiff_t>(i);
      if (std::accumulate(bin.begin(), middle, 0.0) < 0.005 * whole_area_) continue;
      const double lower = *std::max_element(bin.begin(), middle),
                   upper = *std::max_element(middle, bin.end());
      const double here = (middle[-1] + middle[0] + middle[1]) / 3;
      const double depth = std::min(lower, upper) / (here + 1e-4 * whole_area_);
      if (depth > best)
        best = depth, radius = kLeast * std::exp2((static_cast<double>(i) + 0.5) / kPerOctave);
    }
    return radius;
  }

  [[nodiscard]] bool joined(std::size_t here, std::int32_t side) const {
    const std::int32_t other = joints_.across(side);
    if (other < 0) return false;
    const auto there = static_cast<std::size_t>(other / 3);
    if (!groups_.empty() && groups_[here] != groups_[there]) return false;
    if (bend_[here] != bend_[there]) return false;
    return is_smooth(here, there);
  }

  [[nodiscard]] bool is_smooth(std::size_t here, std::size_t there) const {
    // Without area, no normal: such a triangle bridges whatever lies around it.
    if (normal_[here].isZero() || normal_[there].isZero()) return true;
    return normal_[here].dot(normal_[there]) >= least_cos_;
  }

  void grow() {
    std::vector<std::int32_t> seeds(count());
    std::iota(seeds.begin(), seeds.end(), 0);
    // With a limit on the turn it matters where a region begins: in its broadest triangle.
    if (options_.total_turn_deg > 0)
      std::stable_sort(seeds.begin(), seeds.end(), [&](std::int32_t a, std::int32_t b) {
        return area_[static_cast<std::size_t>(a)] > area_[static_cast<std::size_t>(b)];
      });
    const float farthest = static_cast<float>(std::cos(options_.total_turn_deg / kDegrees));
    label_.assign(count(), -1);
    labels_ = 0;
    std::vector<std::int32_t> work;
    for (const std::int32_t seed : seeds) {
      if (label_[static_cast<std::size_t>(seed)] >= 0) continue;
      const Eigen::Vector3f start = normal_[static_cast<std::size_t>(seed)];
      label_[static_cast<std::size_t>(seed)] = labels_;
      work.assign(1, seed);
      for (std::size_t at = 0; at < work.size(); ++at) {
        const auto here = static_cast<std::size_t>(work[at]);
        for (std::int32_t k = 0; k < 3; ++k) {
          const std::int32_t side = 3 * work[at] + k;
          if (!joined(here, side)) continue;
          const auto there = static_cast<std::size_t>(joints_.across(side) / 3);
          const bool near = options_.total_turn_deg <= 0 || normal_[there].dot(start) >= farthest;
          if (label_[there] >= 0 || !near) continue;
          label_[there] = labels_;
          work.push_back(static_cast<std::int32_t>(there));
        }
      }
      ++labels_;
    }
  }

  /// Where the limit comes from the part, a bend must be clearly tighter than it on the whole; else it is the
  /// crest of a broad surface that happens to reach the limit.
  bool demote_faint_bends() {
    if (!map_.bend_from_part || map_.bend_radius_mm <= 0) return false;
    std::vector<double> area(static_cast<std::size_t>(labels_), 0.0), log_radius(area);
    for (std::size_t t = 0; t < count(); ++t) {
      if (bend_[t] == Bend::broad) continue;
      const auto label = static_cast<std::size_t>(label_[t]);
      area[label] += area_[t];
      log_radius[label] -= area_[t] * std::log(std::max(1e-9, std::abs(static_cast<double>(curvature_[t]))));
    }
    bool any = false;
    const double least = std::log(0.8 * map_.bend_radius_mm);
    for (std::size_t t = 0; t < count(); ++t) {
      const auto label = static_cast<std::size_t>(label_[t]);
      if (bend_[t] == Bend::broad || log_radius[label] <= area[label] * least) continue;
      bend_[t] = Bend::broad;
      any = true;
    }
    return any;
  }

  /// Borders between labels: how long they are, each part counted the less the more the surface turns there.
  struct Border {
    std::int32_t from, to;
    double smooth_length;
  };
  [[nodiscard]] std::vector<Border> borders() const {
    std::vector<Border> all;
    for (std::size_t i = 0; i < joints_.sides(); ++i) {
      const auto side = static_cast<std::int32_t>(i);
      const std::int32_t other = joints_.across(side);
      if (other < side) continue;
      const auto here = i / 3, there = static_cast<std::size_t>(other / 3);
      if (label_[here] == label_[there]) continue;
      const double length = length_of(side);
      const double weight = length * (1.001 + static_cast<double>(normal_[here].dot(normal_[there])));
      all.push_back({label_[here], label_[there], weight});
      all.push_back({label_[there], label_[here], weight});
    }
    std::stable_sort(all.begin(), all.end(), [](const Border& a, const Border& b) {
      return std::tie(a.from, a.to) < std::tie(b.from, b.to);
    });
    std::vector<Border> sums;
    for (const Border& border : all) {
      if (!sums.empty() && sums.back().from == border.from && sums.back().to == border.to)
        sums.back().smooth_length += border.smooth_length;
      else
        sums.push_back(border);
    }
    return sums;
  }

  void merge_scraps() {
    map_.scrap_mm2 = options_.scrap_mm2.value_or(1e-4 * whole_area_);
    for (int round = 0; round < 64; ++round) {
      std::vector<double> area(static_cast<std::size_t>(labels_), 0.0);
      for (std::size_t t = 0; t < count(); ++t) area[static_cast<std::size_t>(label_[t])] += area_[t];
      std::vector<std::int32_t> into(static_cast<std::size_t>(labels_));
      std::iota(into.begin(), into.end(), 0);
      std::vector<double> best(static_cast<std::size_t>(labels_), 0.0);
      std::int64_t merged = 0;
      for (const Border& border : borders()) {
        const auto from = static_cast<std::size_t>(border.from), to = static_cast<std::size_t>(border.to);
        // Only into something larger (by number where equal), so that no two regions swap places.
        const bool up = std::pair(area[to], border.from) > std::pair(area[from], border.to);
        if (area[from] >= map_.scrap_mm2 || !up || border.smooth_length <= best[from]) continue;
        merged += into[from] == border.from;
        best[from] = border.smooth_length, into[from] = border.to;
      }
      if (merged == 0) break;
      map_.scraps += merged;
      const auto end_of = [&](std::int32_t i) {
        while (into[static_cast<std::size_t>(i)] != i) i = into[static_cast<std::size_t>(i)];
        return i;
      };
      for (auto& label : label_) label = end_of(label);
    }
  }

  void describe() {
    // Number by area; of equal areas the one with the earlier triangle.
    std::vector<double> area(static_cast<std::size_t>(labels_), 0.0);
    std::vector<std::int32_t> order;
    std::vector<std::uint8_t> seen(static_cast<std::size_t>(labels_), 0);
    for (std::size_t t = 0; t < count(); ++t) {
      const auto label = static_cast<std::size_t>(label_[t]);
      area[label] += area_[t];
      if (!seen[label]) seen[label] = 1, order.push_back(label_[t]);
    }
    std::stable_sort(order.begin(), order.end(), [&](std::int32_t a, std::int32_t b) {
      return area[static_cast<std::size_t>(a)] > area[static_cast<std::size_t>(b)];
    });
    std::vector<std::int32_t> number(static_cast<std::size_t>(labels_), 0);
    for (std::size_t i = 0; i < order.size(); ++i)
      number[static_cast<std::size_t>(order[i])] = static_cast<std::int32_t>(i) + 1;
    for (auto& label : label_) label = number[static_cast<std::size_t>(label)];
    map_.regions.resize(order.size());
    for (const Border& border : borders()) map_.regions[at(border.from)].neighbours.push_back(border.to);
    map_.of_triangle = std::move(label_);
    measure_regions();
    find_middles();
  }

  static std::size_t at(std::int32_t number) { return static_cast<std::size_t>(number - 1); }

  void measure_regions() {
    struct Sums {
      double slope = 0;
      Eigen::Vector3d normal{0, 0, 0}, middle{0, 0, 0};
      double hollow = 0, bulging = 0, tight_area = 0, log_radius = 0;
    };
    std::vector<Sums> sums(map_.regions.size());
    const std::vector<double> smooth_share = smooth_border_shares();
    for (auto& region : map_.regions) region.least_slope_deg = 180, region.group = -2;
    for (std::size_t t = 0; t < count(); ++t) {
      SurfaceRegion& region = map_.regions[at(map_.of_triangle[t])];
      Sums& sum = sums[at(map_.of_triangle[t])];
      ++region.triangles;
      region.area_mm2 += area_[t];
      for (int k = 0; k < 3; ++k) region.box.extend(mesh_.corner(t, k));
      const std::int32_t group = groups_.empty() ? -1 : groups_[t];
      region.group = region.group == -2 || region.group == group ? group : -1;
      if (normal_[t].isZero()) continue;
      const double slope = std::acos(std::clamp(static_cast<double>(normal_[t].z()), -1.0, 1.0)) * kDegrees;
      region.least_slope_deg = std::min(region.least_slope_deg, slope);
      region.greatest_slope_deg = std::max(region.greatest_slope_deg, slope);
      sum.slope += area_[t] * slope;
      sum.normal += area_[t] * normal_[t].cast<double>();
      sum.middle += area_[t] * (mesh_.corner(t, 0) + mesh_.corner(t, 1) + mesh_.corner(t, 2)) / 3;
      if (bend_[t] == Bend::hollow) sum.hollow += area_[t];
      if (bend_[t] == Bend::bulging) sum.bulging += area_[t];
      if (bend_[t] != Bend::broad) {
        sum.tight_area += area_[t];
        sum.log_radius -= area_[t] * std::log(std::abs(static_cast<double>(curvature_[t])));
      }
    }
    middle_.resize(map_.regions.size());
    for (std::size_t i = 0; i < sums.size(); ++i) {
      SurfaceRegion& region = map_.regions[i];
      if (region.group == -2) region.group = -1;
      if (region.least_slope_deg > region.greatest_slope_deg) region.least_slope_deg = 0;
      const double area = std::max(region.area_mm2, 1e-300);
      region.mean_slope_deg = sums[i].slope / area;
      middle_[i] = sums[i].middle / area;
      // In a plane the normals add up to the whole area.
      const bool is_plane = sums[i].normal.norm() >= area * std::cos(0.5 / kDegrees);
      const double slope = std::min(region.mean_slope_deg, 180 - region.mean_slope_deg);
      if (2 * sums[i].tight_area > area && smooth_share[i] >= 0.25)
        region.kind = sums[i].hollow > sums[i].bulging ? RegionKind::fillet : RegionKind::round;
      else if (is_plane)
        region.kind = slope <= 0.5 ? RegionKind::level : RegionKind::plane;
      if (region.kind == RegionKind::fillet || region.kind == RegionKind::round)
        region.bend_radius_mm = std::exp(sums[i].log_radius / sums[i].tight_area);
    }
  }

  /// How much of each region's border is a smooth joint: a fillet runs into its neighbours, a bore does not.
  [[nodiscard]] std::vector<double> smooth_border_shares() const {
    std::vector<double> all(map_.regions.size(), 1e-300), smooth(map_.regions.size(), 0.0);
    for (std::size_t i = 0; i < joints_.sides(); ++i) {
      const auto side = static_cast<std::int32_t>(i);
      const std::int32_t other = joints_.across(side);
      if (other >= 0 && map_.of_triangle[i / 3] == map_.of_triangle[static_cast<std::size_t>(other / 3)])
        continue;
      if (other == Joints::kNoSide) continue;
      const double length = length_of(side);
      all[at(map_.of_triangle[i / 3])] += length;
      if (other >= 0 && is_smooth(i / 3, static_cast<std::size_t>(other / 3)))
        smooth[at(map_.of_triangle[i / 3])] += length;
    }
    for (std::size_t i = 0; i < all.size(); ++i) smooth[i] /= all[i];
    return smooth;
  }

  [[nodiscard]] double length_of(std::int32_t side) const {
    return (mesh_.points[static_cast<std::size_t>(side_from(mesh_, side))] -
            mesh_.points[static_cast<std::size_t>(side_to(mesh_, side))])
        .norm();
  }

  void find_middles() {
    std::vector<double> least(map_.regions.size(), 1e300);
    for (std::size_t t = 0; t < count(); ++t) {
      const std::size_t i = at(map_.of_triangle[t]);
      const Vec3 middle = (mesh_.corner(t, 0) + mesh_.corner(t, 1) + mesh_.corner(t, 2)) / 3;
      const double distance = (middle - middle_[i]).squaredNorm();
      if (distance < least[i]) least[i] = distance, map_.regions[i].at = middle;
    }
  }

  const Mesh& mesh_;
  const Joints& joints_;
  const std::vector<std::int32_t>& groups_;
  const RegionOptions& options_;
  const Progress& progress_;
  std::vector<std::uint8_t> turned_;
  float least_cos_ = static_cast<float>(std::cos(options_.crease_deg / kDegrees));
  std::vector<double> area_;
  std::vector<Eigen::Vector3f> normal_;
  double whole_area_ = 0;
  std::vector<float> curvature_;
  std::vector<Bend> bend_;
  std::vector<std::int32_t> label_;
  std::int32_t labels_ = 0;
  std::vector<Vec3> middle_;
  RegionMap map_;
};

}  // namespace

RegionMap split_into_regions(const Mesh& mesh, const Joints& joints,
                             const std::vector<std::int32_t>& group_of_triangle, const RegionOptions& options,
                             const Progress& progress) {
  return Splitter(mesh, joints, group_of_triangle, options, progress).run();
}

}  // namespace yardpass
