// Curves dropped on a part: the greatest height of the triangles above each stretch of the curve, exact.
#include <algorithm>
#include <cmath>
#include <optional>

#include "yardpass/curve/edit_curves.h"

namespace yardpass {

namespace {

/// A triangle above a stretch of a straight piece: heights at its ends.
struct Cover {
  double from, to;  // shares along the piece
  double z_from, z_to;
  [[nodiscard]] double at(double t) const {
    return to > from ? z_from + (z_to - z_from) * ((t - from) / (to - from)) : std::max(z_from, z_to);
  }
};

/// The triangles of a mesh by squares in plan.
class PlanIndex {
 public:
  explicit PlanIndex(const Mesh& mesh) : mesh_(mesh) {
    for (const Vec3& p : mesh.points) box_.extend(plan(p));
    const Vec2 size = box_.diagonal().cwiseMax(1e-3);
    cell_ = std::max(std::sqrt(size.x() * size.y() * 2 / static_cast<double>(mesh.triangles.size() + 1)),
                     size.maxCoeff() / 4000);
    nx_ = static_cast<int>(size.x() / cell_) + 1;
    ny_ = static_cast<int>(size.y() / cell_) + 1;
    first_.assign(static_cast<std::size_t>(nx_) * static_cast<std::size_t>(ny_) + 1, 0);
    for (const bool counting : {true, false}) {
      for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        Box2 box;
        for (int k = 0; k < 3; ++k) box.extend(plan(mesh.corner(t, k)));
        for_cells(box, [&](std::size_t cell) {
          if (counting)
            ++first_[cell + 1];
          else
            list_[at_[cell]++] = static_cast<std::int32_t>(t);
        });
      }
      if (!counting) break;
      for (std::size_t i = 1; i < first_.size(); ++i) first_[i] += first_[i - 1];
      list_.resize(first_.back());
      at_ = first_;
    }
  }

  /// Every triangle near a piece, once.
  std::vector<std::int32_t> near(const Vec2& a, const Vec2& b) const {
    std::vector<std::int32_t> found;
    // In steps of a cell, so that a long slanting piece does not ask for its whole rectangle.
    const int steps = std::max(1, static_cast<int>((b - a).norm() / cell_));
    for (int s = 0; s < steps; ++s) {
      Box2 box(a + (b - a) * s / steps);
      box.extend(a + (b - a) * (s + 1) / steps);
      for_cells(box, [&](std::size_t cell) {
        found.insert(found.end(), list_.begin() + static_cast<std::ptrdiff_t>(first_[cell]),
                     list_.begin() + static_cast<std::ptrdiff_t>(first_[cell + 1]));
      });
    }
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    return found;
  }
  [[nodiscard]] const Mesh& mesh() const { return mesh_; }

 private:
  template <typename Visit>
  void for_cells(const Box2& box, const Visit& visit) const {
    const auto index = [&](double x, double low, int n) {
      return std::clamp(static_cast<int>(std::floor((x - low) / cell_)), 0, n - 1);
    };
    if (!box_.intersects(box)) return;
    const int i1 = index(box.max().x(), box_.min().x(), nx_), j1 = index(box.max().y(), box_.min().y(), ny_);
    for (int j = index(box.min().y(), box_.min().y(), ny_); j <= j1; ++j)
      for (int i = index(box.min().x(), box_.min().x(), nx_); i <= i1; ++i)
        visit(static_cast<std::size_t>(j) * static_cast<std::size_t>(nx_) + static_cast<std::size_t>(i));
  }
  const Mesh& mesh_;
  Box2 box_;
  double cell_ = 1;
  int nx_ = 1, ny_ = 1;
  std::vector<std::size_t> first_, at_;
  std::vector<std::int32_t> list_;
};

std::optional<Cover> cover_of(const Mesh& mesh, std::int32_t triangle, const Vec2& a, const Vec2& b) {
  const auto t = static_cast<std::size_t>(triangle);
  const Vec3 &p = mesh.corner(t, 0), &q = mesh.corner(t, 1), &r = mesh.corner(t, 2);
  const Vec3 normal = (q - p).cross(r - p);
  if (!(std::abs(normal.z()) > 1e-9 * normal.norm())) return std::nullopt;  // upright: a step, not a height
  double from = 0, to = 1;
  const double way = normal.z() > 0 ? 1 : -1;
  for (int k = 0; k < 3; ++k) {
    const Vec2 u = plan(mesh.corner(t, k)), v = plan(mesh.corner(t, (k + 1) % 3)), side = v - u;
    const Vec2 inwards = way * Vec2(-side.y(), side.x()) / side.norm();
    // A little beyond the edge counts as on it, or seams between triangles would be gaps.
    const double at_a = inwards.dot(a - u) + 1e-9, at_b = inwards.dot(b - u) + 1e-9;
    if (at_a < 0 && at_b < 0) return std::nullopt;
    if (at_a < 0) from = std::max(from, at_a / (at_a - at_b));
    if (at_b < 0) to = std::min(to, at_a / (at_a - at_b));
  }
  if (from > to) return std::nullopt;
  const auto height = [&](double share) {
    const Vec2 at = a + share * (b - a) - plan(p);
    return p.z() - (normal.x() * at.x() + normal.y() * at.y()) / normal.z();
  };
  return Cover{from, to, height(from), height(to)};
}

/// The upper envelope of the covers of one straight piece, as points of the path; pieces where nothing lies
/// below are gaps.
class Envelope {
 public:
  Envelope(std::vector<Cover> covers, const Vec2& a, const Vec2& b, std::vector<Polyline3>& paths)
      : covers_(std::move(covers)), a_(a), b_(b), paths_(paths) {}

  void run() {
    std::sort(covers_.begin(), covers_.end(), [](const Cover& x, const Cover& y) { return x.from < y.from; });
    std::vector<double> places{0, 1};
    for (const Cover& c : covers_) places.insert(places.end(), {c.from, c.to});
    std::sort(places.begin(), places.end());
    std::size_t next = 0;
    for (std::size_t k = 0; k + 1 < places.size(); ++k) {
      const double from = places[k], to = places[k + 1];
      while (next < covers_.size() && covers_[next].from <= from) active_.push_back(next++);
      std::erase_if(active_, [&](std::size_t i) { return covers_[i].to <= from; });
      if (to - from <= 0) continue;
      if (active_.empty()) {
        if ((to - from) * (b_ - a_).norm() > 1e-6) paths_.emplace_back();
        continue;
      }
      stretch(from, to, 0);
    }
  }

 private:
  void stretch(double from, double to, int depth) {
    const std::size_t low = highest(from, to), high = highest(to, from);
    const Cover &x = covers_[low], &y = covers_[high];
    const double d0 = x.at(from) - y.at(from), d1 = y.at(to) - x.at(to);
    if (low != high && d0 > 1e-12 && d1 > 1e-12 && depth < 40) {  // they cross in between
      const double middle = from + (to - from) * d0 / (d0 + d1);
      if (middle > from && middle < to) {
        stretch(from, middle, depth + 1);
        stretch(middle, to, depth + 1);
        return;
      }
    }
    add(from, x.at(from));
    add(to, y.at(to));
  }
  /// At one end; of equal ones that which is higher at the other.
  [[nodiscard]] std::size_t highest(double at, double other) const {
    std::size_t best = active_.front();
    for (const std::size_t i : active_) {
      const double d = covers_[i].at(at) - covers_[best].at(at);
      if (d > 1e-9 || (d > -1e-9 && covers_[i].at(other) > covers_[best].at(other))) best = i;
    }
    return best;
  }
  void add(double share, double z) {
    const Vec2 p = a_ + share * (b_ - a_);
    Polyline3& path = paths_.back();
    const Vec3 point(p.x(), p.y(), z);
    if (path.empty() || (path.back() - point).norm() > 1e-8) path.push_back(point);
  }
  std::vector<Cover> covers_;
  Vec2 a_, b_;
  std::vector<Polyline3>& paths_;
  std::vector<std::size_t> active_;
};

}  // namespace

std::vector<Curve> projected(const Curve& curve, const Mesh& part) {
  if (part.triangles.empty() || curve.points.size() < 2) return {};
  const PlanIndex index(part);
  std::vector<Polyline3> paths(1);
  const std::size_t n = curve.points.size();
  for (std::size_t i = 0; i + 1 < n + (curve.closed ? 1 : 0); ++i) {
    const Vec2 a = plan(curve.points[i]), b = plan(curve.points[(i + 1) % n]);
    if ((b - a).norm() < 1e-9) continue;
    std::vector<Cover> covers;
    for (const std::int32_t t : index.near(a, b))
      if (const auto cover = cover_of(part, t, a, b)) covers.push_back(*cover);
    Envelope(std::move(covers), a, b, paths).run();
  }
  std::erase_if(paths, [](const Polyline3& path) { return path.size() < 2; });
  if (curve.closed && !paths.empty()) {
    const auto meet = [](const Vec3& p, const Vec3& q) { return (plan(p) - plan(q)).norm() < 1e-6; };
    Polyline3 &first = paths.front(), &last = paths.back();
    if (paths.size() == 1 && meet(first.front(), first.back())) {
      if ((first.front() - first.back()).norm() < 1e-6) first.pop_back();
      return {{std::move(first), true, curve.name, curve.layer, curve.colour}};
    }
    if (paths.size() > 1 && meet(first.front(), last.back())) {  // over the seam
      last.insert(last.end(), first.begin() + 1, first.end());
      std::swap(first, last);
      paths.pop_back();
    }
  }
  std::vector<Curve> result;
  for (Polyline3& path : paths)
    result.push_back({std::move(path), false, curve.name, curve.layer, curve.colour});
  return result;
}

}  // namespace yardpass
