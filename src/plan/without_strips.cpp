#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "yardpass/plan/edge_break.h"

namespace yardpass {

namespace {

/// What of a face lies on the side that the normal points to, up to `most`, is within.
struct HalfSpace {
  Vec3 normal;
  double most;
};

using Polygon = std::vector<Vec3>;

/// Cuts a convex polygon; what is beyond the plane goes to `out`.
Polygon within(const Polygon& polygon, const HalfSpace& half, Polygon& out) {
  Polygon inside;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    const Vec3 &a = polygon[i], &b = polygon[(i + 1) % polygon.size()];
    const double at_a = half.normal.dot(a) - half.most, at_b = half.normal.dot(b) - half.most;
    (at_a <= 0 ? inside : out).push_back(a);
    if ((at_a <= 0) == (at_b <= 0)) continue;
    const Vec3 crossing = a + (at_a / (at_a - at_b)) * (b - a);
    inside.push_back(crossing), out.push_back(crossing);
  }
  return inside;
}

/// Rounding leaves slivers along the planes that slabs share.
bool has_area(const Polygon& polygon) {
  constexpr double kThinnest = 1e-9;  // mm
  Vec3 twice = Vec3::Zero();
  double round = 0;
  for (std::size_t i = 0; i < polygon.size(); ++i) {
    if (i > 0 && i + 1 < polygon.size())
      twice += (polygon[i] - polygon[0]).cross(polygon[i + 1] - polygon[0]);
    round += (polygon[(i + 1) % polygon.size()] - polygon[i]).norm();
  }
  return twice.norm() > kThinnest * round;
}

class Slab {
 public:
  Slab(const EdgeStrip& strip, double off_mm) : normal_(strip.normal) {
    const auto add = [&](const Vec3& normal, const Vec3& through, double more) {
      halves_.push_back({normal, normal.dot(through) + more});
    };
    add(strip.into, strip.from, strip.leg_mm);
    // Behind the edge the face ends; what stands there is something else.
    add(-strip.into, strip.from, kBehind);
    add(strip.normal, strip.from, off_mm);
    add(-strip.normal, strip.from, off_mm);
    add(strip.to_plane, strip.to, 0);
    add(-strip.from_plane, strip.from, 0);
    for (const Vec3& end : {strip.from, strip.to}) {
      box_.extend(end);
      box_.extend(Vec3(end + strip.leg_mm * strip.into));
    }
    box_.min().array() -= off_mm + strip.leg_mm;
    box_.max().array() += off_mm + strip.leg_mm;
  }
  [[nodiscard]] const Box3& box() const { return box_; }
  [[nodiscard]] bool faces_alike(const Vec3& normal) const { return normal.dot(normal_) > kAlike; }
  /// Takes the slab off a polygon.
  void take_off(const Polygon& polygon, std::vector<Polygon>& rest) const {
    Polygon inside = polygon;
    std::vector<Polygon> outside;
    for (const HalfSpace& half : halves_) {
      Polygon out;
      inside = within(inside, half, out);
      if (out.size() > 2 && has_area(out)) outside.push_back(std::move(out));
      if (inside.size() < 3 || !has_area(inside)) {
        rest.push_back(polygon);  // the slab misses it
        return;
      }
    }
    rest.insert(rest.end(), outside.begin(), outside.end());
  }

 private:
  static constexpr double kAlike = 0.77;   // cosine of 40 degrees
  static constexpr double kBehind = 0.02;  // mm, for what the mesh's own bends put there
  Vec3 normal_;
  std::vector<HalfSpace> halves_;
  Box3 box_;
};

/// Which slabs lie near a box: by square cells in plan.
class NearSlabs {
 public:
  NearSlabs(const std::vector<Slab>& slabs, double cell_mm) : slabs_(slabs), cell_(cell_mm) {
    for (std::size_t k = 0; k < slabs.size(); ++k)
      each_cell(slabs[k].box(), [&](const std::pair<int, int>& cell) { at_[cell].push_back(k); });
  }
  [[nodiscard]] std::vector<std::size_t> near(const Box3& box) const {
    std::vector<std::size_t> result;
    const Box2 wanted = plan(box);
    if (!(wanted.sizes().maxCoeff() < 64 * cell_)) {  // large: ask all
      for (std::size_t k = 0; k < slabs_.size(); ++k)
        if (slabs_[k].box().intersects(box)) result.push_back(k);
      return result;
    }
    each_cell(box, [&](const std::pair<int, int>& cell) {
      if (const auto found = at_.find(cell); found != at_.end())
        result.insert(result.end(), found->second.begin(), found->second.end());
    });
    std::sort(result.begin(), result.end());
    result.erase(std::unique(result.begin(), result.end()), result.end());
    std::erase_if(result, [&](std::size_t k) { return !slabs_[k].box().intersects(box); });
    return result;
  }

 private:
  template <typename Visit>
  void each_cell(const Box3& box, const Visit& visit) const {
    const auto of = [&](double place) { return static_cast<int>(std::floor(place / cell_)); };
    for (int j = of(box.min().y()); j <= of(box.max().y()); ++j)
      for (int i = of(box.min().x()); i <= of(box.max().x()); ++i) visit({j, i});
  }
  const std::vector<Slab>& slabs_;
  double cell_;
  std::map<std::pair<int, int>, std::vector<std::size_t>> at_;
};

}  // namespace

Mesh without_strips(const Mesh& mesh, std::span<const EdgeStrip> strips, double off_mm) {
  std::vector<Slab> slabs;
  double largest = 1e-3;
  for (const EdgeStrip& strip : strips) {
    slabs.emplace_back(strip, off_mm);
    largest = std::max(largest, slabs.back().box().sizes().head<2>().maxCoeff());
  }
  const NearSlabs near(slabs, largest);
  Mesh result;
  result.points = mesh.points;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
    const Vec3 across = (b - a).cross(c - a);
    const double twice = across.norm();
    Box3 box(a);
    box.extend(b), box.extend(c);
    std::vector<std::size_t> asked;
    if (twice > 0)
      for (const std::size_t k : near.near(box))
        // Meshes may face either way.
        if (slabs[k].faces_alike(across / twice) || slabs[k].faces_alike(-across / twice)) asked.push_back(k);
    if (asked.empty()) {
      result.triangles.push_back(mesh.triangles[t]);
      continue;
    }
    std::vector<Polygon> pieces{{a, b, c}};
    for (const std::size_t k : asked) {
      std::vector<Polygon> rest;
      for (const Polygon& piece : pieces) slabs[k].take_off(piece, rest);
      pieces = std::move(rest);
    }
    if (pieces.size() == 1 && pieces.front().size() == 3 && pieces.front() == Polygon{a, b, c}) {
      result.triangles.push_back(mesh.triangles[t]);
      continue;
    }
    for (const Polygon& piece : pieces) {
      const auto first = static_cast<std::int32_t>(result.points.size());
      result.points.insert(result.points.end(), piece.begin(), piece.end());
      for (std::int32_t i = 1; i + 1 < static_cast<std::int32_t>(piece.size()); ++i)
        result.triangles.push_back({first, first + i, first + i + 1});
    }
  }
  return result;
}

}  // namespace yardpass
