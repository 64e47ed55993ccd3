#include <cmath>
#include <numbers>

#include <Eigen/Cholesky>

#include "geom/parallel_for.h"
#include "part/facets.h"
#include "yardpass/part/regions.h"

namespace yardpass {

namespace {

/// Corner normals and curvature of single triangles.
class CurvatureField {
 public:
  CurvatureField(const Mesh& mesh, const Joints& joints, const std::vector<std::uint8_t>& turned,
                 double crease_deg)
      : mesh_(mesh),
        joints_(joints),
        turned_(turned),
        least_cos_(std::cos(crease_deg * std::numbers::pi / 180)) {}

  [[nodiscard]] float at(std::size_t t) const {
    const Vec3 n = unit_normal(mesh_, t, turned_[t] != 0);
    if (n.isZero()) return 0;
    const Vec3 u = (mesh_.corner(t, 1) - mesh_.corner(t, 0)).normalized(), v = n.cross(u);
    const Vec3 normals[3] = {corner_normal(t, 0), corner_normal(t, 1), corner_normal(t, 2)};
    // Least squares over the three sides for the symmetric form [a b; b c] that maps steps in the plane of
    // the triangle to changes of the normal.
    Eigen::Matrix3d left = Eigen::Matrix3d::Zero();
    Vec3 right = Vec3::Zero();
    for (int k = 0; k < 3; ++k) {
      const Vec3 step = mesh_.corner(t, (k + 1) % 3) - mesh_.corner(t, k);
      const Vec3 change = normals[(k + 1) % 3] - normals[k];
      const double x = step.dot(u), y = step.dot(v), p = change.dot(u), q = change.dot(v);
      left += Vec3(x, y, 0) * Vec3(x, y, 0).transpose() + Vec3(0, x, y) * Vec3(0, x, y).transpose();
      right += p * Vec3(x, y, 0) + q * Vec3(0, x, y);
    }
    const Eigen::LDLT<Eigen::Matrix3d> solver(left);
    if (solver.info() != Eigen::Success) return 0;
    const Vec3 form = solver.solve(right);
    const double middle = 0.5 * (form[0] + form[2]), reach = std::hypot(0.5 * (form[0] - form[2]), form[1]);
    const double greatest =
        std::abs(middle + reach) > std::abs(middle - reach) ? middle + reach : middle - reach;
    return std::isfinite(greatest) ? static_cast<float>(greatest) : 0;
  }

 private:
  /// Mean of the normals of the triangles around a corner, by area, as far as they are reached over smooth
  /// joints.
  [[nodiscard]] Vec3 corner_normal(std::size_t t, int k) const {
    Vec3 sum = Vec3::Zero();
    add(t, sum);
    // Around the corner one way over the side that starts at it, the other way over the side that ends at it.
    const std::int32_t pivot = mesh_.triangles[t][static_cast<std::size_t>(k)];
    if (!walk(static_cast<std::int32_t>(3 * t) + k, pivot, sum))
      walk(static_cast<std::int32_t>(3 * t) + (k + 2) % 3, pivot, sum);
    const double size = sum.norm();
    return size > 0 ? Vec3(sum / size) : unit_normal(mesh_, t, turned_[t] != 0);
  }

  void add(std::size_t t, Vec3& sum) const {
    const Vec3 &a = mesh_.corner(t, 0), &b = mesh_.corner(t, 1), &c = mesh_.corner(t, 2);
    sum += (turned_[t] != 0 ? -1 : 1) * (b - a).cross(c - a);
  }

  /// Adds triangles in one direction around the pivot. True if the way led once around to where it began.
  bool walk(std::int32_t side, std::int32_t pivot, Vec3& sum) const {
    const std::int32_t start = side / 3;
    for (int steps = 0; steps < kMostAround; ++steps) {
      const std::int32_t other = joints_.across(side);
      if (other < 0) return false;
      const std::int32_t next = other / 3;
      if (next == start) return true;
      const auto here = static_cast<std::size_t>(side / 3), there = static_cast<std::size_t>(next);
      const Vec3 one = unit_normal(mesh_, here, turned_[here] != 0),
                 two = unit_normal(mesh_, there, turned_[there] != 0);
      if (one.dot(two) < least_cos_ && !two.isZero()) return false;
      add(there, sum);
      // On over the other side of the new triangle that meets the pivot.
      for (std::int32_t j = 1; j < 3; ++j) {
        const std::int32_t candidate = 3 * next + (other % 3 + j) % 3;
        if (side_from(mesh_, candidate) == pivot || side_to(mesh_, candidate) == pivot) {
          side = candidate;
          break;
        }
      }
    }
    return false;
  }

  static constexpr int kMostAround = 200;  // the tip of a fan is an average either way
  const Mesh& mesh_;
  const Joints& joints_;
  const std::vector<std::uint8_t>& turned_;
  double least_cos_;
};

}  // namespace

std::vector<float> greatest_curvature(const Mesh& mesh, const Joints& joints,
                                      const std::vector<std::uint8_t>& turned, double crease_deg,
                                      const Progress& progress) {
  const CurvatureField field(mesh, joints, turned, crease_deg);
  std::vector<float> result(mesh.triangles.size());
  constexpr std::size_t kChunk = 4096;
  const std::size_t chunks = (result.size() + kChunk - 1) / kChunk;
  detail::parallel_for(chunks, progress, [&](std::size_t chunk) {
    for (std::size_t t = chunk * kChunk; t < std::min(result.size(), (chunk + 1) * kChunk); ++t)
      result[t] = field.at(t);
  });
  detail::smooth_over_plates(mesh, joints, turned, crease_deg, result);
  return result;
}

}  // namespace yardpass
