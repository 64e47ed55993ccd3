// Edges of a surface run on: straight in its tangent planes, or as curved as it is there.
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include <Eigen/QR>

#include "part/borders.h"

namespace yardpass {

namespace {

using detail::CornerLoop;

/// The surface near a corner of its edge, as height over its tangent plane: z = a u + b v + c u^2 + d u v + e
/// v^2 by least squares. Source of the fit: F. Cazals and M. Pouget, "Estimating differential quantities
/// using polynomial fitting of osculating jets", 2005.
struct EdgeShape {
  Vec3 normal{0, 0, 1};
  Vec3 u{1, 0, 0}, v{0, 1, 0};
  Eigen::Matrix<double, 5, 1> terms = Eigen::Matrix<double, 5, 1>::Zero();

  /// Slope and second derivative along a direction in the tangent plane.
  [[nodiscard]] std::pair<double, double> along(const Vec3& way) const {
    const double x = way.dot(u), y = way.dot(v);
    return {terms[0] * x + terms[1] * y, 2 * (terms[2] * x * x + terms[3] * x * y + terms[4] * y * y)};
  }
};

/// Corners of the set joined by sides of its triangles.
using Neighbours = std::map<std::int32_t, std::vector<std::int32_t>>;

EdgeShape shape_at(const Mesh& mesh, const Neighbours& neighbours, std::int32_t corner, const Vec3& normal) {
  EdgeShape shape;
  shape.normal = normal;
  shape.u = normal.unitOrthogonal();
  shape.v = normal.cross(shape.u);
  std::vector<std::int32_t> near{corner};
  std::size_t from = 0;
  for (int ring = 0; ring < 3; ++ring) {
    const std::size_t to = near.size();
    for (; from < to; ++from)
      for (const std::int32_t other : neighbours.at(near[from]))
        if (std::find(near.begin(), near.end(), other) == near.end()) near.push_back(other);
  }
  const Vec3& centre = mesh.points[static_cast<std::size_t>(corner)];
  const auto rows = static_cast<Eigen::Index>(near.size()) - 1;
  if (rows < 5) return shape;  // too little surface to tell how it bends: straight on
  Eigen::MatrixXd left(rows, 5);
  Eigen::VectorXd right(rows);
  double size = 0;
  for (std::size_t i = 1; i < near.size(); ++i)
    size = std::max(size, (mesh.points[static_cast<std::size_t>(near[i])] - centre).norm());
  for (Eigen::Index i = 0; i < rows; ++i) {
    const Vec3 d =
        (mesh.points[static_cast<std::size_t>(near[static_cast<std::size_t>(i) + 1])] - centre) / size;
    const double x = d.dot(shape.u), y = d.dot(shape.v);
    left.row(i) << x, y, x * x, x * y, y * y;
    right[i] = d.dot(normal);
  }
  shape.terms = left.completeOrthogonalDecomposition().solve(right);
  shape.terms.tail<3>() /= size;
  return shape;
}

/// The strip along one border: its corners, and where each of them goes on to.
class RunOutStrip {
 public:
  RunOutStrip(const Mesh& mesh, const CornerLoop& loop, std::vector<EdgeShape> shapes,
              const std::vector<std::uint8_t>& sides, const RunOutOptions& options)
      : mesh_(mesh), loop_(loop), shapes_(std::move(shapes)), sides_(sides), options_(options) {}

  Mesh run() {
    const std::size_t n = loop_.corners.size();
    for (std::size_t i = 0; i < n; ++i) {
      const std::size_t j = (i + 1) % n;
      if (!sides_[i]) continue;
      // A strip along each side, out from it, with the outward directions of its two ends.
      const Vec3 from_start = outward(i, i), from_end = outward(j, i);
      strip_between(ray(i, from_start), ray(j, from_end));
      if (sides_[j]) fill_corner(j, from_end, outward(j, j));
    }
    return std::move(strip_);
  }

 private:
  static constexpr int kCurvedSteps = 12;

  [[nodiscard]] const Vec3& at(std::size_t i) const {
    return mesh_.points[static_cast<std::size_t>(loop_.corners[i % loop_.corners.size()])];
  }
  /// Outward from side `side` at corner i: in the surface's tangent plane there, square to the side.
  [[nodiscard]] Vec3 outward(std::size_t i, std::size_t side) const {
    const Vec3 out = (at(side + 1) - at(side)).cross(shapes_[i].normal);
    const double size = out.norm();
    return size > 0 ? Vec3(out / size) : Vec3(0, 0, 0);
  }
  /// From a corner outwards, as far as nothing stands in the way.
  [[nodiscard]] Polyline3 ray(std::size_t i, const Vec3& way) const {
    Polyline3 whole = ray(i, way, options_.length_mm);
    if (!options_.blocked) return whole;
    constexpr double kStep = 0.05;
    double gone = 0;
    for (std::size_t k = 0; k + 1 < whole.size(); ++k) {
      const double size = (whole[k + 1] - whole[k]).norm();
      const int steps = std::max(1, static_cast<int>(std::ceil(size / kStep)));
      for (int m = 1; m <= steps; ++m)
        if (options_.blocked(whole[k] + (whole[k + 1] - whole[k]) * (static_cast<double>(m) / steps)))
          return ray(i, way, std::max(0.0, gone + size * (m - 1) / steps - kStep));
      gone += size;
    }
    return whole;
  }
  /// Straight, or on the circle that fits the surface there. After a quarter turn it goes on straight.
  [[nodiscard]] Polyline3 ray(std::size_t i, const Vec3& way, double length) const {
    Polyline3 points{at(i)};
    if (!options_.curved) {
      points.push_back(at(i) + length * way);
      return points;
    }
    const auto [slope, second] = shapes_[i].along(way);
    const double bend = second / std::pow(1 + slope * slope, 1.5);
    double angle = std::atan(slope);
    const double step = length / kCurvedSteps, limit = std::numbers::pi / 2;
    double turned = 0;
    for (int k = 0; k < kCurvedSteps; ++k) {
      const double turn = std::clamp(bend * step, -limit - turned, limit - turned);
      turned += turn;
      // The chord of a piece of arc runs at the mean of its end directions.
      const double mean = angle + turn / 2;
      points.push_back(points.back() + step * (std::cos(mean) * way + std::sin(mean) * shapes_[i].normal));
      angle += turn;
    }
    return points;
  }
  void strip_between(const Polyline3& a, const Polyline3& b) {
    for (std::size_t k = 0; k + 1 < a.size(); ++k) {
      const auto p = point(a[k]), q = point(a[k + 1]), r = point(b[k + 1]), s = point(b[k]);
      triangle(p, q, r);
      triangle(p, r, s);
    }
  }
  /// Between the strips of two sides that turn apart: an arc of triangles. (Where they turn together the
  /// strips overlap, and the higher one counts.)
  void fill_corner(std::size_t i, const Vec3& from, const Vec3& to) {
    const Vec3& normal = shapes_[i].normal;
    const double turn = std::atan2(normal.dot(from.cross(to)), from.dot(to));
    if (turn <= 1e-9) return;
    const int steps = std::max(1, static_cast<int>(std::ceil(turn / (5 * std::numbers::pi / 180))));
    Polyline3 before = ray(i, from);
    for (int k = 1; k <= steps; ++k) {
      Polyline3 now = ray(i, k == steps ? to : Vec3(Eigen::AngleAxisd(turn * k / steps, normal) * from));
      triangle(point(at(i)), point(before[1]), point(now[1]));
      for (std::size_t m = 1; m + 1 < now.size(); ++m) {
        const auto p = point(before[m]), q = point(before[m + 1]), r = point(now[m + 1]), s = point(now[m]);
        triangle(p, q, r);
        triangle(p, r, s);
      }
      before = std::move(now);
    }
  }
  std::int32_t point(const Vec3& p) {
    strip_.points.push_back(p);
    return static_cast<std::int32_t>(strip_.points.size()) - 1;
  }
  void triangle(std::int32_t a, std::int32_t b, std::int32_t c) {
    const auto corner = [&](std::int32_t k) -> const Vec3& {
      return strip_.points[static_cast<std::size_t>(k)];
    };
    if ((corner(b) - corner(a)).cross(corner(c) - corner(a)).norm() > 1e-12)
      strip_.triangles.push_back({a, b, c});
  }

  const Mesh& mesh_;
  const CornerLoop& loop_;
  std::vector<EdgeShape> shapes_;
  const std::vector<std::uint8_t>& sides_;  // those that run on, each from its corner to the next
  const RunOutOptions& options_;
  Mesh strip_;
};

double distance_to(const Polyline3& line, const Vec3& place) {
  double least = line.size() == 1 ? (line.front() - place).norm() : 1e300;
  for (std::size_t i = 0; i + 1 < line.size(); ++i)
    least = std::min(least, distance_to_segment(place, line[i], line[i + 1]));
  return least;
}

/// The sides of each border that are to run on.
class ChosenSides {
 public:
  ChosenSides(const Mesh& mesh, const std::vector<CornerLoop>& loops, const RunOutOptions& options)
      : mesh_(mesh) {
    for (const CornerLoop& loop : loops)
      chosen_.emplace_back(loop.corners.size(), static_cast<std::uint8_t>(!options.between));
    if (options.between) between(loops, options.between->first, options.between->second);
    if (!options.along.empty()) along(loops, options);
  }
  [[nodiscard]] const std::vector<std::uint8_t>& of(std::size_t loop) const { return chosen_[loop]; }

 private:
  [[nodiscard]] const Vec3& at(const CornerLoop& loop, std::size_t i) const {
    return mesh_.points[static_cast<std::size_t>(loop.corners[i % loop.corners.size()])];
  }
  struct Corner {
    std::size_t loop = 0, index = 0;
  };
  [[nodiscard]] Corner nearest(const std::vector<CornerLoop>& loops, const Vec3& place) const {
    Corner best;
    double least = 1e300;
    for (std::size_t k = 0; k < loops.size(); ++k)
      for (std::size_t i = 0; i < loops[k].corners.size(); ++i)
        if (const double far = (at(loops[k], i) - place).norm(); far < least) least = far, best = {k, i};
    return best;
  }
  void between(const std::vector<CornerLoop>& loops, const Vec3& from, const Vec3& to) {
    const Corner a = nearest(loops, from), b = nearest(loops, to);
    if (loops.empty()) return;
    if (a.loop != b.loop) throw Error("the two places lie on different edges");
    const CornerLoop& loop = loops[a.loop];
    const std::size_t n = loop.corners.size();
    const auto way = [&](std::size_t first, std::size_t last) {
      double sum = 0;
      for (std::size_t i = first; i != last; i = (i + 1) % n) sum += (at(loop, i + 1) - at(loop, i)).norm();
      return sum;
    };
    const bool back = way(b.index, a.index) < way(a.index, b.index);
    for (std::size_t i = back ? b.index : a.index; i != (back ? a.index : b.index); i = (i + 1) % n)
      chosen_[a.loop][i] = 1;
  }
  void along(const std::vector<CornerLoop>& loops, const RunOutOptions& options) {
    const auto near = [&](const Vec3& place) {
      return std::any_of(options.along.begin(), options.along.end(), [&](const Polyline3& line) {
        return distance_to(line, place) <= options.along_within_mm;
      });
    };
    for (std::size_t k = 0; k < loops.size(); ++k)
      for (std::size_t i = 0; i < loops[k].corners.size(); ++i) {
        const Vec3 &a = at(loops[k], i), &b = at(loops[k], i + 1);
        if (!near(a) || !near(b) || !near(0.5 * (a + b))) chosen_[k][i] = 0;
      }
  }

  const Mesh& mesh_;
  std::vector<std::vector<std::uint8_t>> chosen_;  // by loop and side
};

}  // namespace

Mesh run_out_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set,
                const RunOutOptions& options) {
  const std::vector<std::uint8_t> turned = turned_over(mesh, joints);
  // Normals at the corners, of the set's own triangles alone.
  std::map<std::int32_t, Vec3> sums;
  const auto loops = detail::border_loops(mesh, joints, set, turned);
  for (const CornerLoop& loop : loops)
    for (const std::int32_t corner : loop.corners) sums.emplace(corner, Vec3(0, 0, 0));
  Neighbours neighbours;
  for (std::size_t t = 0; t < set.size(); ++t) {
    if (!set[t]) continue;
    const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
    const Vec3 weighted = (turned[t] ? -1 : 1) * (b - a).cross(c - a);
    for (const std::int32_t corner : mesh.triangles[t]) {
      if (const auto found = sums.find(corner); found != sums.end()) found->second += weighted;
      if (!options.curved) continue;
      for (const std::int32_t other : mesh.triangles[t])
        if (other != corner) neighbours[corner].push_back(other);
    }
  }
  Mesh result;
  std::vector<CornerLoop> outer;
  for (const CornerLoop& loop : loops)
    if (!detail::rim_of(mesh, loop).is_hole) outer.push_back(loop);
  const ChosenSides sides(mesh, outer, options);
  for (std::size_t k = 0; k < outer.size(); ++k) {
    const CornerLoop& loop = outer[k];
    std::vector<EdgeShape> shapes;
    for (const std::int32_t corner : loop.corners) {
      EdgeShape shape;
      shape.normal = sums[corner].normalized();
      shapes.push_back(options.curved ? shape_at(mesh, neighbours, corner, shape.normal) : shape);
    }
    append(result, RunOutStrip(mesh, loop, std::move(shapes), sides.of(k), options).run());
  }
  return result;
}

}  // namespace yardpass
