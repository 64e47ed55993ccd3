#include "yardpass/survey/holes.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include <Eigen/Dense>

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

namespace {

constexpr double kDegree = std::numbers::pi / 180;
constexpr double kMostTurn = 61 * kDegree;  // from facet to facet of a hole: six of them at least
constexpr double kUprightSine = 0.0175;     // of a degree

bool is_upright(const Mesh& mesh, std::size_t triangle) {
  const Vec3 normal = unit_normal(mesh, triangle);
  return !normal.isZero() && std::abs(normal.z()) < kUprightSine;
}

/// Upright triangles that hang together without a sharp corner between them.
class UprightRuns {
 public:
  UprightRuns(const Mesh& mesh, const Joints& joints) : mesh_(mesh), joints_(joints) {
    upright_.reserve(mesh.triangles.size());
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) upright_.push_back(is_upright(mesh, t));
  }

  [[nodiscard]] std::vector<std::vector<std::int32_t>> all() {
    std::vector<std::vector<std::int32_t>> runs;
    for (std::size_t seed = 0; seed < upright_.size(); ++seed) {
      if (!upright_[seed]) continue;
      upright_[seed] = 0;
      std::vector<std::int32_t> run{static_cast<std::int32_t>(seed)};
      for (std::size_t at = 0; at < run.size(); ++at)
        for (std::int32_t k = 0; k < 3; ++k) {
          const std::int32_t side = 3 * run[at] + k, other = joints_.across(side);
          if (other < 0) continue;
          const auto next = static_cast<std::size_t>(Joints::triangle_of(other));
          if (!upright_[next] || turn(side, other) > kMostTurn) continue;
          upright_[next] = 0;
          run.push_back(static_cast<std::int32_t>(next));
        }
      runs.push_back(std::move(run));
    }
    return runs;
  }

 private:
  [[nodiscard]] double turn(std::int32_t side, std::int32_t other) const {
    const Vec3 a = unit_normal(mesh_, static_cast<std::size_t>(side / 3)),
               b = unit_normal(mesh_, static_cast<std::size_t>(other / 3), is_flipped(mesh_, side, other));
    return std::acos(std::clamp(a.dot(b), -1.0, 1.0));
  }
  const Mesh& mesh_;
  const Joints& joints_;
  std::vector<std::uint8_t> upright_;  // and in no run yet
};

struct Circle {
  Vec2 centre{0, 0};
  double radius = 0;
};

/// The circle that all the points lie on; nothing if they do not.
std::optional<Circle> circle_of(const std::vector<Vec2>& points) {
  const Vec2 from = points.front();
  Eigen::Matrix3d sums = Eigen::Matrix3d::Zero();
  Eigen::Vector3d right = Eigen::Vector3d::Zero();
  for (const Vec2& p : points) {
    const Vec2 d = p - from;
    const Eigen::Vector3d row(d.x(), d.y(), 1);
    sums += row * row.transpose();
    right += row * d.squaredNorm();
  }
  const Eigen::FullPivLU<Eigen::Matrix3d> solver(sums);
  if (!solver.isInvertible()) return std::nullopt;
  const Eigen::Vector3d s = solver.solve(right);
  Circle circle{from + 0.5 * Vec2(s.x(), s.y()), 0};
  circle.radius = std::sqrt(std::max(0.0, s.z() + 0.25 * (s.x() * s.x() + s.y() * s.y())));
  const double slack = std::max(0.01, 0.01 * circle.radius);
  for (const Vec2& p : points)
    if (!(std::abs((p - circle.centre).norm() - circle.radius) <= slack)) return std::nullopt;
  return circle;
}

/// Whether facets stand all the way round a centre: no gap of more than two facets of a hexagon.
bool goes_round(const std::vector<Vec2>& points, const Vec2& centre) {
  std::vector<double> angles;
  for (const Vec2& p : points) angles.push_back(std::atan2(p.y() - centre.y(), p.x() - centre.x()));
  std::sort(angles.begin(), angles.end());
  double widest = angles.front() + 2 * std::numbers::pi - angles.back();
  for (std::size_t i = 0; i + 1 < angles.size(); ++i) widest = std::max(widest, angles[i + 1] - angles[i]);
  return widest <= kMostTurn;
}

/// Whether material lies behind the facets of a run and air before them, as seen from an axis.
bool is_hollow(const TipSurface& needle, const std::vector<std::int32_t>& run, const Circle& circle) {
  const Mesh& mesh = needle.part().mesh();
  std::size_t hollow = 0;
  for (const std::int32_t t : run) {
    const auto index = static_cast<std::size_t>(t);
    const Vec3 middle = (mesh.corner(index, 0) + mesh.corner(index, 1) + mesh.corner(index, 2)) / 3;
    const Vec2 outward = (plan(middle) - circle.centre).normalized() * (1e-3 * circle.radius);
    hollow += needle.height(plan(middle) - outward) < middle.z() &&
              needle.height(plan(middle) + outward) >= middle.z();
  }
  return 2 * hollow > run.size();
}

}  // namespace

std::vector<BoredHole> bored_holes(const std::shared_ptr<const ContactPart>& part, const Joints& joints) {
  const Mesh& mesh = part->mesh();
  const TipSurface needle(part, Profile::needle());
  std::vector<BoredHole> holes;
  for (const std::vector<std::int32_t>& run : UprightRuns(mesh, joints).all()) {
    if (run.size() < 6) continue;
    std::vector<Vec2> points;
    BoredHole hole{.top_z = -1e300, .bottom_z = 1e300};
    for (const std::int32_t t : run)
      for (int k = 0; k < 3; ++k) {
        const Vec3& corner = mesh.corner(static_cast<std::size_t>(t), k);
        points.push_back(plan(corner));
        hole.top_z = std::max(hole.top_z, corner.z()), hole.bottom_z = std::min(hole.bottom_z, corner.z());
      }
    const auto circle = circle_of(points);
    if (!circle || !goes_round(points, circle->centre)) continue;
    hole.at = circle->centre, hole.diameter_mm = 2 * circle->radius;
    // Air over the axis down to the bottom of the wall, and not on its other side.
    const double at_axis = needle.height(hole.at);
    const double slack = std::max(1e-6, 0.01 * hole.depth_mm());
    if (at_axis > hole.bottom_z + slack || !is_hollow(needle, run, *circle)) continue;
    hole.through = at_axis == kNothingBelow;
    holes.push_back(hole);
  }
  std::sort(holes.begin(), holes.end(), [](const BoredHole& a, const BoredHole& b) {
    return std::tuple(-a.diameter_mm, a.at.x(), a.at.y(), -a.top_z) <
           std::tuple(-b.diameter_mm, b.at.x(), b.at.y(), -b.top_z);
  });
  return holes;
}

}  // namespace yardpass
