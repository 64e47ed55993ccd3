#include "yardpass/curve/carriers.h"

#include <algorithm>
#include <cmath>
#include <map>

#include <Eigen/Eigenvalues>

#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// A sheet of rows of equal length; closed rows join their last point to their first.
Mesh sheet_of(const std::vector<Polyline3>& rows, bool closed_rows, bool closed_columns) {
  Mesh mesh;
  const std::size_t n = rows.front().size(), m = rows.size();
  for (const Polyline3& row : rows) mesh.points.insert(mesh.points.end(), row.begin(), row.end());
  const auto at = [&](std::size_t j, std::size_t i) {
    return static_cast<std::int32_t>((j % m) * n + i % n);
  };
  double up = 0;
  for (std::size_t j = 0; j + 1 < m + (closed_columns ? 1 : 0); ++j)
    for (std::size_t i = 0; i + 1 < n + (closed_rows ? 1 : 0); ++i) {
      mesh.triangles.push_back({at(j, i), at(j, i + 1), at(j + 1, i + 1)});
      mesh.triangles.push_back({at(j, i), at(j + 1, i + 1), at(j + 1, i)});
    }
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    up += (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).z();
  if (up < 0)
    for (auto& triangle : mesh.triangles) std::swap(triangle[1], triangle[2]);
  return mesh;
}

/// Shares of the length at which the points of a curve lie.
std::vector<double> shares_of(const Curve& curve) {
  const double all = length(curve);
  if (!(all > 1e-9)) throw Error("a curve of a carrier has no length");
  std::vector<double> shares{0};
  for (std::size_t i = 1; i < curve.points.size(); ++i)
    shares.push_back(shares.back() + (curve.points[i] - curve.points[i - 1]).norm() / all);
  shares.push_back(curve.closed ? 1.0 : shares.back());
  if (!curve.closed) shares.pop_back(), shares.back() = 1;
  return shares;
}

Vec3 at_share(const Curve& curve, const std::vector<double>& shares, double share) {
  const auto next = std::upper_bound(shares.begin() + 1, shares.end() - 1, share);
  const auto i = static_cast<std::size_t>(next - shares.begin());
  const Vec3 &a = curve.points[i - 1], &b = curve.points[i % curve.points.size()];
  const double room = shares[i] - shares[i - 1];
  return a + (room > 0 ? std::clamp((share - shares[i - 1]) / room, 0.0, 1.0) : 0.0) * (b - a);
}

}  // namespace

Mesh ruled_face(const Curve& a, const Curve& b) {
  if (a.closed != b.closed) throw Error("a ruled face needs two open or two closed curves");
  const std::vector<double> of_a = shares_of(a), of_b = shares_of(b);
  std::vector<double> shares = of_a;
  shares.insert(shares.end(), of_b.begin(), of_b.end());
  std::sort(shares.begin(), shares.end());
  shares.erase(std::unique(shares.begin(), shares.end(), [](double x, double y) { return y - x < 1e-12; }),
               shares.end());
  if (a.closed) shares.pop_back();
  std::vector<Polyline3> rows(2);
  for (const double share : shares) {
    rows[0].push_back(at_share(a, of_a, share));
    rows[1].push_back(at_share(b, of_b, share));
  }
  return sheet_of(rows, a.closed, false);
}

Mesh swept_section(const Curve& section, const Curve& along) {
  (void)shares_of(section);
  (void)shares_of(along);
  const std::size_t n = along.points.size();
  const auto direction = [&](std::size_t i) {  // of piece i in plan
    const Vec2 d = plan(along.points[(i + 1) % n]) - plan(along.points[i]);
    if (!(d.norm() > 1e-9)) throw Error("the curve that a section is swept along stands upright somewhere");
    return Vec2(d.normalized());
  };
  const Vec2 first = direction(0);
  std::vector<Polyline3> rows;
  for (std::size_t i = 0; i < n; ++i) {
    const bool has_before = i > 0 || along.closed, has_after = i + 1 < n || along.closed;
    const Vec2 before = has_before ? direction((i + n - 1) % n) : direction(i),
               after = has_after ? direction(i) : before;
    Vec2 way = before + after;
    if (!(way.norm() > 1e-6)) throw Error("the curve that a section is swept along turns straight back");
    way.normalize();
    // From the first direction to this one, about Z.
    const double c = first.dot(way), s = first.x() * way.y() - first.y() * way.x();
    Polyline3 row;
    for (const Vec3& p : section.points) {
      const Vec3 d = p - along.points.front();
      row.push_back(along.points[i] + Vec3(c * d.x() - s * d.y(), s * d.x() + c * d.y(), d.z()));
    }
    rows.push_back(std::move(row));
  }
  return sheet_of(rows, section.closed, along.closed);
}

Mesh flat_patch(const Region& area, double z) {
  Mesh mesh;
  for (const Region& piece : pieces(area)) {
    // Strips between neighbouring Y of corners: each is a set of trapezes without corners inside.
    std::vector<double> ys;
    for (const Polyline2& loop : piece.loops)
      for (const Vec2& p : loop) ys.push_back(p.y());
    std::sort(ys.begin(), ys.end());
    ys.erase(std::unique(ys.begin(), ys.end(), [](double a, double b) { return b - a < 1e-9; }), ys.end());
    const Box2 box = piece.box();
    for (std::size_t k = 0; k + 1 < ys.size(); ++k) {
      const double low = ys[k], high = ys[k + 1], play = (high - low) * 1e-6;
      const auto spans = [&](double y) {
        return inside(piece, Vec2(box.min().x() - 1, y), Vec2(box.max().x() + 1, y));
      };
      const auto below = spans(low + play), above = spans(high - play);
      if (below.size() != above.size()) continue;  // only where corners lie within rounding of each other
      const double width = box.sizes().x() + 2;
      for (std::size_t i = 0; i < below.size(); ++i) {
        const auto x = [&](double share) { return box.min().x() - 1 + share * width; };
        const auto n = static_cast<std::int32_t>(mesh.points.size());
        mesh.points.emplace_back(x(below[i].from), low, z);
        mesh.points.emplace_back(x(below[i].to), low, z);
        mesh.points.emplace_back(x(above[i].to), high, z);
        mesh.points.emplace_back(x(above[i].from), high, z);
        mesh.triangles.push_back({n, n + 1, n + 2});
        mesh.triangles.push_back({n, n + 2, n + 3});
      }
    }
  }
  return mesh;
}

Mesh offset_copy(const Mesh& mesh, const Joints& joints, const TriangleSet& set, double distance_mm) {
  const std::vector<std::uint8_t> turned = turned_over(mesh, joints);
  struct Corner {
    Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
    Vec3 right{0, 0, 0};
    std::int32_t number = -1;
  };
  std::map<std::int32_t, Corner> corners;
  for (std::size_t t = 0; t < set.size(); ++t) {
    if (!set[t]) continue;
    const Vec3 n = unit_normal(mesh, t, turned[t] != 0);
    for (const std::int32_t c : mesh.triangles[t]) {
      Corner& corner = corners[c];
      corner.sum += n * n.transpose();
      corner.right += n * distance_mm;
    }
  }
  Mesh copy;
  for (auto& [number, corner] : corners) {
    corner.number = static_cast<std::int32_t>(copy.points.size());
    // Directions that no triangle settles stay put.
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver(corner.sum);
    Vec3 way(0, 0, 0);
    for (int k = 0; k < 3; ++k) {
      const Vec3 axis = solver.eigenvectors().col(k);
      if (solver.eigenvalues()[k] > 1e-3 * solver.eigenvalues()[2])
        way += axis * (axis.dot(corner.right) / solver.eigenvalues()[k]);
    }
    copy.points.push_back(mesh.points[static_cast<std::size_t>(number)] + way);
  }
  for (std::size_t t = 0; t < set.size(); ++t) {
    if (!set[t]) continue;
    auto triangle = mesh.triangles[t];
    for (auto& c : triangle) c = corners[c].number;
    if (turned[t]) std::swap(triangle[1], triangle[2]);
    copy.triangles.push_back(triangle);
  }
  return copy;
}

}  // namespace yardpass
