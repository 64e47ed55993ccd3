// How far apart lines of fronts really lie, by slope, and how well they cover an area; and parts for it whose
// surfaces formulas know.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <optional>
#include <unordered_map>
#include <vector>

#include "support/turned_parts.h"
#include "yardpass/contact/slope.h"
#include "yardpass/plan/fronts.h"

namespace yardpass::testing {

/// Segments in space by cubic cells.
class NearSegments {
 public:
  explicit NearSegments(double cell) : cell_(cell) {}
  void add(const Vec3& a, const Vec3& b) {
    const auto id = static_cast<std::int64_t>(segments_.size());
    segments_.push_back({a, b});
    visit(a.cwiseMin(b), a.cwiseMax(b), [&](std::int64_t key) { cells_[key].push_back(id); });
  }
  /// The distance to the nearest one within `reach`, else `reach`; `which`: its number.
  double distance(const Vec3& p, double reach, std::int64_t* which = nullptr) const {
    double best = reach;
    visit(p - Vec3::Constant(reach), p + Vec3::Constant(reach), [&](std::int64_t key) {
      const auto cell = cells_.find(key);
      if (cell == cells_.end()) return;
      for (const std::int64_t id : cell->second) {
        const auto& [a, b] = segments_[static_cast<std::size_t>(id)];
        const double off = distance_to_segment(p, a, b);
        if (off < best) {
          best = off;
          if (which) *which = id;
        }
      }
    });
    return best;
  }

 private:
  template <typename Visit>
  void visit(const Vec3& low, const Vec3& high, const Visit& visit) const {
    const auto index = [&](double v) { return static_cast<std::int64_t>(std::floor(v / cell_)); };
    for (std::int64_t x = index(low.x()); x <= index(high.x()); ++x)
      for (std::int64_t y = index(low.y()); y <= index(high.y()); ++y)
        for (std::int64_t z = index(low.z()); z <= index(high.z()); ++z)
          visit(((x & 0x1fffff) << 42) | ((y & 0x1fffff) << 21) | (z & 0x1fffff));
  }
  double cell_;
  std::vector<std::array<Vec3, 2>> segments_;
  std::unordered_map<std::int64_t, std::vector<std::int64_t>> cells_;
};

/// A place along a line, on the true surface.
struct LinePlace {
  Vec3 tip, normal, measured;  ///< measured: what distances are taken between
  bool counts = true;
};

/// What a metric measures at a place; nothing: the place does not count.
using MeasuredAt = std::function<std::optional<Vec3>(const Vec3& tip, const Touch& touch)>;

inline std::vector<LinePlace> places_of(const TipSurface& surface, const FrontPass& pass, double step,
                                        const MeasuredAt& measured = {}) {
  std::vector<LinePlace> places;
  const std::size_t n = pass.line.size(), pieces = pass.closed ? n : n - 1;
  std::int32_t near = -1;
  const auto add = [&](const Vec2& at) {
    const auto touch = surface.touch(at, near);
    if (!touch) return;
    near = touch->triangle;
    LinePlace place{with_z(at, touch->height), surface_normal(slope_at(surface, at, *touch)), {}};
    place.measured = place.tip;
    if (measured) {
      const auto found = measured(place.tip, *touch);
      place.counts = found.has_value();
      if (found) place.measured = *found;
    }
    places.push_back(place);
  };
  for (std::size_t i = 0; i < pieces; ++i) {
    const Vec2 &a = pass.line[i], &b = pass.line[(i + 1) % n];
    const double z0 = surface.height(a), z1 = surface.height(b);
    const double size = z0 > kNothingBelow && z1 > kNothingBelow ? std::hypot((b - a).norm(), z1 - z0) : 1;
    const int parts = std::max(1, static_cast<int>(std::ceil(size / step)));
    for (int k = 0; k < parts; ++k) add(a + (b - a) * (1.0 * k / parts));
  }
  add(pass.closed ? pass.line.front() : pass.line.back());
  return places;
}

/// Lengths by slope of the tip surface: below 30, 60, 75, 85, 90 degrees.
struct SpacingShares {
  std::array<double, 5> length{}, good{};
  double left_out = 0, least = 1e9, most = 0;
  [[nodiscard]] double share(std::size_t band) const {
    return length[band] > 0 ? good[band] / length[band] : 1;
  }
  [[nodiscard]] double total() const {
    double all = 0, fine = 0;
    for (std::size_t k = 0; k < 5; ++k) all += length[k], fine += good[k];
    return all > 0 ? fine / all : 0;
  }
  [[nodiscard]] double total_length() const {
    double all = 0;
    for (const double one : length) all += one;
    return all;
  }
};

/// From places on every line to the nearest place of the step before, in stepovers, within `off` of 1. Left
/// out is what lies within a stepover of a corner (30 degrees within 0.6 stepovers) or an end, or where the
/// surface turns by more than 20 degrees between the two lines.
inline SpacingShares spacing_of(const TipSurface& surface, const std::vector<FrontPass>& passes,
                                double stepover, double off = 0.03, const MeasuredAt& measured = {}) {
  const double step = std::min(0.1, 0.25 * stepover);
  std::map<std::int32_t, std::vector<const FrontPass*>> steps;
  for (const FrontPass& pass : passes)
    if (!pass.middle) steps[pass.step].push_back(&pass);
  SpacingShares shares;
  std::vector<std::vector<LinePlace>> before;
  for (const auto& [number, lines] : steps) {
    std::vector<std::vector<LinePlace>> here;
    for (const FrontPass* line : lines) here.push_back(places_of(surface, *line, step, measured));
    NearSegments near(2 * stepover);
    std::vector<const LinePlace*> of;
    for (const auto& line : before)
      for (std::size_t i = 1; i < line.size(); ++i) {
        near.add(line[i - 1].measured, line[i].measured);
        of.push_back(&line[i]);
      }
    for (std::size_t l = 0; l < here.size() && !before.empty(); ++l) {
      const std::vector<LinePlace>& line = here[l];
      const bool closed = lines[l]->closed;
      const auto n = static_cast<std::int64_t>(line.size());
      if (n < 8) continue;
      const auto at = [&](std::int64_t i) -> std::size_t {
        if (closed) return static_cast<std::size_t>(((i % (n - 1)) + (n - 1)) % (n - 1));
        return static_cast<std::size_t>(std::clamp<std::int64_t>(i, 0, n - 1));
      };
      const auto window = std::max<std::int64_t>(1, std::llround(0.6 * stepover / step));
      const auto around = static_cast<std::int64_t>(std::ceil(stepover / step));
      std::vector<std::uint8_t> out(static_cast<std::size_t>(n), 0);
      for (std::int64_t i = 0; i < n; ++i) {
        const Vec3 in = line[at(i)].tip - line[at(i - window)].tip,
                   on = line[at(i + window)].tip - line[at(i)].tip;
        const bool end = !closed && (i == 0 || i == n - 1);
        const bool corner =
            in.norm() > 1e-9 && on.norm() > 1e-9 && in.dot(on) < std::cos(0.5236) * in.norm() * on.norm();
        if (!end && !corner) continue;
        for (std::int64_t k = -around; k <= around; ++k) out[at(i + k)] = 1;
      }
      for (std::int64_t i = 1; i < n; ++i) {
        const LinePlace& place = line[at(i)];
        const double size = (place.tip - line[at(i - 1)].tip).norm();
        std::int64_t which = -1;
        const double far = near.distance(place.measured, 3 * stepover, &which);
        if (which < 0 || out[at(i)] || !place.counts || !of[static_cast<std::size_t>(which)]->counts ||
            place.normal.dot(of[static_cast<std::size_t>(which)]->normal) < std::cos(0.349)) {
          shares.left_out += size;
          continue;
        }
        const double slope = std::acos(std::clamp(place.normal.z(), 0.0, 1.0)) * 180 / std::numbers::pi;
        const std::size_t band = slope < 30 ? 0 : slope < 60 ? 1 : slope < 75 ? 2 : slope < 85 ? 3 : 4;
        shares.length[band] += size;
        if (std::abs(far / stepover - 1) <= off) shares.good[band] += size;
        shares.least = std::min(shares.least, far / stepover),
        shares.most = std::max(shares.most, far / stepover);
      }
    }
    before = std::move(here);
  }
  return shares;
}

/// The share of an area, on the surface, that lies farther from every line than so many stepovers; and the
/// farthest place, in stepovers.
struct Coverage {
  double share_beyond = 0, farthest = 0;
  Vec2 at{0, 0};
};
inline Coverage coverage_of(const TipSurface& surface, const Region& area,
                            const std::vector<FrontPass>& passes, double stepover, double beyond,
                            int places = 20000) {
  NearSegments near(2 * stepover);
  for (const FrontPass& pass : passes) {
    const auto line = places_of(surface, pass, 0.1 * stepover);
    for (std::size_t i = 1; i < line.size(); ++i) near.add(line[i - 1].tip, line[i].tip);
  }
  const Box2 box = area.box();
  Coverage result;
  double all = 0, missed = 0;
  for (int k = 0; k < places; ++k) {
    // A low-discrepancy sequence: the same places every time.
    const Vec2 share(std::fmod(0.5 + k * 0.7548776662466927, 1.0),
                     std::fmod(0.5 + k * 0.5698402909980532, 1.0));
    const Vec2 at = box.min() + box.sizes().cwiseProduct(share);
    if (!area.contains(at)) continue;
    const auto touch = surface.touch(at);
    if (!touch) continue;
    const double size = 1 / std::max(0.02, surface_normal(slope_at(surface, at, *touch)).z());
    const double far = near.distance(with_z(at, touch->height), 2 * stepover) / stepover;
    all += size;
    if (far > beyond) missed += size;
    if (far > result.farthest) result.farthest = far, result.at = at;
  }
  result.share_beyond = all > 0 ? missed / all : 0;
  return result;
}

inline Polyline2 circle_around(const Vec2& middle, double radius, int pieces) {
  Polyline2 loop;
  for (int k = 0; k < pieces; ++k) {
    const double angle = 2 * std::numbers::pi * k / pieces;
    loop.push_back(middle + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return loop;
}

/// A rectangle with round corners, with the same number of points whatever its size.
inline Polyline2 rounded_rectangle(double half_x, double half_y, double radius, int at_corner = 24) {
  Polyline2 loop;
  const double xs[4] = {1, -1, -1, 1}, ys[4] = {1, 1, -1, -1};
  for (int corner = 0; corner < 4; ++corner)
    for (int k = 0; k <= at_corner; ++k) {
      const double angle = 0.5 * std::numbers::pi * (corner + 1.0 * k / at_corner);
      loop.emplace_back(xs[corner] * (half_x - radius) + radius * std::cos(angle),
                        ys[corner] * (half_y - radius) + radius * std::sin(angle));
    }
  return loop;
}

/// A pocket with walls of 87 degrees and a fillet of 4 at their foot, 16 deep, 70 x 50, in a level face.
inline Mesh drafted_pocket() {
  constexpr double kDepth = 16, kFillet = 4;
  const double lean = 3 * std::numbers::pi / 180, run = std::tan(lean);
  // The fillet begins where the wall is tangent to it.
  const double foot = -kDepth + kFillet * (1 - std::sin(lean));
  const double middle = -foot * run + kFillet * std::cos(lean);
  std::vector<Vec2> chain{{-12, 0}, {-4, 0}, {0, 0}};  // inwards, Z
  for (int k = 1; k <= 12; ++k) chain.emplace_back(-foot * run * k / 12, foot * k / 12);
  for (int k = 1; k <= 24; ++k) {
    const double angle = lean + (0.5 * std::numbers::pi - lean) * k / 24;
    chain.emplace_back(middle - kFillet * std::cos(angle), -kDepth + kFillet - kFillet * std::sin(angle));
  }
  chain.emplace_back(8, -kDepth);
  Mesh mesh;
  std::int32_t per_ring = 0;
  for (const Vec2& p : chain) {
    const Polyline2 ring = rounded_rectangle(35 - p.x(), 25 - p.x(), 12 - p.x(), 24);
    per_ring = static_cast<std::int32_t>(ring.size());
    for (const Vec2& q : ring) mesh.points.push_back(with_z(q, p.y()));
  }
  const auto rings = static_cast<std::int32_t>(chain.size());
  for (std::int32_t r = 0; r + 1 < rings; ++r)
    for (std::int32_t i = 0; i < per_ring; ++i) {
      const std::int32_t j = (i + 1) % per_ring, a = r * per_ring + i, b = r * per_ring + j;
      mesh.triangles.push_back({a, b, b + per_ring});
      mesh.triangles.push_back({a, b + per_ring, a + per_ring});
    }
  const auto centre = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.emplace_back(0, 0, -kDepth);
  for (std::int32_t i = 0; i < per_ring; ++i)
    mesh.triangles.push_back(
        {(rings - 1) * per_ring + i, (rings - 1) * per_ring + (i + 1) % per_ring, centre});
  return mesh;
}

}  // namespace yardpass::testing
