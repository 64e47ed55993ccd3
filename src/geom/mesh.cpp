#include "yardpass/geom/mesh.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "yardpass/geom/joints.h"

namespace yardpass {

Box3 Mesh::box() const {
  Box3 box;
  for (const auto& triangle : triangles)
    for (const auto index : triangle) box.extend(points[static_cast<std::size_t>(index)]);
  return box;
}

namespace {

using Cell = std::array<std::int64_t, 3>;

std::size_t hash_of(const Cell& cell) {
  std::uint64_t hash = 0x9e3779b97f4a7c15ull;
  for (const auto value : cell) {
    hash ^= static_cast<std::uint64_t>(value);
    hash *= 0xff51afd7ed558ccdull;
    hash ^= hash >> 32;
  }
  return static_cast<std::size_t>(hash);
}

Cell cell_of_bits(const Vec3& p) {
  Cell cell{};
  for (int k = 0; k < 3; ++k) {
    const double value = p[k] + 0.0;  // -0 and +0 are one place
    std::memcpy(&cell[static_cast<std::size_t>(k)], &value, sizeof value);
  }
  return cell;
}

/// Points by cell: chains through one array, heads in another. Half the memory of a map of nodes.
class PointTable {
 public:
  explicit PointTable(std::size_t expected) {
    std::size_t size = 64;
    while (size < expected) size *= 2;
    heads_.assign(size, -1);
  }
  void add(const Cell& cell) {
    auto& head = heads_[hash_of(cell) & (heads_.size() - 1)];
    next_.push_back(head);
    head = static_cast<std::int32_t>(next_.size()) - 1;
  }
  /// Every point that may lie in the cell, the latest first.
  template <typename Work>
  void for_each(const Cell& cell, const Work& work) const {
    for (std::int32_t i = heads_[hash_of(cell) & (heads_.size() - 1)]; i >= 0;
         i = next_[static_cast<std::size_t>(i)])
      work(i);
  }

 private:
  std::vector<std::int32_t> heads_, next_;
};

/// New number of each point; `kept` receives the points that stay.
std::vector<std::int32_t> join_equal(const std::vector<Vec3>& points, std::vector<Vec3>& kept) {
  PointTable table(points.size() / 3);
  std::vector<std::int32_t> number(points.size());
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Cell cell = cell_of_bits(points[i]);
    std::int32_t found = -1;
    table.for_each(cell, [&](std::int32_t k) {
      if (kept[static_cast<std::size_t>(k)] == points[i]) found = k;
    });
    if (found < 0) {
      found = static_cast<std::int32_t>(kept.size());
      kept.push_back(points[i]);
      table.add(cell);
    }
    number[i] = found;
  }
  return number;
}

std::vector<std::int32_t> join_near(const std::vector<Vec3>& points, double tolerance,
                                    std::vector<Vec3>& kept) {
  // Cells of four tolerances: most points have all their neighbours in one or two of them.
  const double size = 4 * tolerance;
  const auto cell_at = [&](const Vec3& p) {
    Cell cell{};
    for (int k = 0; k < 3; ++k)
      cell[static_cast<std::size_t>(k)] = static_cast<std::int64_t>(std::floor(p[k] / size));
    return cell;
  };
  PointTable table(points.size());
  std::vector<std::int32_t> number(points.size());
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Vec3& p = points[i];
    const Cell low = cell_at(p.array() - tolerance), high = cell_at(p.array() + tolerance);
    std::int32_t best = -1;
    for (auto x = low[0]; x <= high[0]; ++x)
      for (auto y = low[1]; y <= high[1]; ++y)
        for (auto z = low[2]; z <= high[2]; ++z)
          table.for_each({x, y, z}, [&](std::int32_t k) {
            if ((kept[static_cast<std::size_t>(k)] - p).norm() <= tolerance && (best < 0 || k < best))
              best = k;
          });
    if (best < 0) {
      best = static_cast<std::int32_t>(kept.size());
      kept.push_back(p);
      table.add(cell_at(p));
    }
    number[i] = best;
  }
  return number;
}

}  // namespace

Mesh weld(const Mesh& mesh, double tolerance_mm) {
  Mesh result;
  std::vector<std::int32_t> number = join_equal(mesh.points, result.points);
  if (tolerance_mm > 0) {
    std::vector<Vec3> kept;
    const auto nearer = join_near(result.points, tolerance_mm, kept);
    for (auto& n : number) n = nearer[static_cast<std::size_t>(n)];
    result.points = std::move(kept);
  }
  result.triangles.reserve(mesh.triangles.size());
  for (const auto& t : mesh.triangles)
    result.triangles.push_back({number[static_cast<std::size_t>(t[0])],
                                number[static_cast<std::size_t>(t[1])],
                                number[static_cast<std::size_t>(t[2])]});
  return result;
}

EdgeReport edge_report(const Mesh& mesh, const Joints& joints) {
  EdgeReport report;
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    report.zero_area += other == Joints::kNoSide && i % 3 == 0;
    report.open += other == Joints::kOpen;
    report.edges += other == Joints::kOpen || other > side;
    report.flipped += other > side && is_flipped(mesh, side, other);
  }
  report.crowded = static_cast<std::int64_t>(joints.crowded_edges().size());
  report.edges += report.crowded;
  return report;
}

EdgeReport edge_report(const Mesh& mesh) { return edge_report(mesh, Joints(mesh)); }

std::vector<Flat> flats(const Mesh& mesh, double least_area_mm2) {
  std::vector<Flat> pieces;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    const double area = 0.5 * cross2(plan(b) - plan(a), plan(c) - plan(a));
    const bool level = std::max({a.z(), b.z(), c.z()}) - std::min({a.z(), b.z(), c.z()}) <= 1e-9;
    if (level && area > 0) pieces.push_back({a.z(), area});
  }
  std::sort(pieces.begin(), pieces.end(), [](const Flat& x, const Flat& y) { return x.z_mm > y.z_mm; });
  std::vector<Flat> result;
  for (const Flat& piece : pieces) {
    if (!result.empty() && result.back().z_mm - piece.z_mm < 1e-6)
      result.back().area_mm2 += piece.area_mm2;
    else
      result.push_back(piece);
  }
  std::erase_if(result, [&](const Flat& flat) { return flat.area_mm2 < least_area_mm2; });
  return result;
}

Vec3 nearest_on_segment(const Vec3& p, const Vec3& a, const Vec3& b) {
  const Vec3 along = b - a;
  const double length2 = along.squaredNorm();
  return length2 > 0 ? Vec3(a + std::clamp((p - a).dot(along) / length2, 0.0, 1.0) * along) : a;
}

Vec3 nearest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
  // Inside, if the foot on the plane is; else on the nearest edge. Of triangles without area only the edges
  // count: whether a foot lies inside them is decided by rounding.
  const Vec3 ab = b - a, ac = c - a, normal = ab.cross(ac);
  const double area2 = normal.squaredNorm();
  const double longest2 = std::max({ab.squaredNorm(), ac.squaredNorm(), (c - b).squaredNorm()});
  if (area2 > 1e-20 * longest2 * longest2) {
    const Vec3 ap = p - a;
    const double u = ap.cross(ac).dot(normal), v = ab.cross(ap).dot(normal);
    if (u >= 0 && v >= 0 && u + v <= area2) return p - normal * (ap.dot(normal) / area2);
  }
  Vec3 best = nearest_on_segment(p, a, b);
  for (const Vec3& other : {nearest_on_segment(p, b, c), nearest_on_segment(p, c, a)})
    if ((p - other).squaredNorm() < (p - best).squaredNorm()) best = other;
  return best;
}

}  // namespace yardpass
