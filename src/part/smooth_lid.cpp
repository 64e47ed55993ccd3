#include <algorithm>
#include <array>
#include <cmath>

#include <Eigen/SparseCholesky>

#include "yardpass/geom/error.h"
#include "yardpass/part/guides.h"

namespace yardpass {

namespace {

/// A square grid over an area and two cells around it: heights that are known, and places to fill.
class PlateGrid {
 public:
  PlateGrid(const Region& area, double spacing) : spacing_(spacing) {
    const Box2 box = area.box();
    const Vec2 pad(kAround * spacing, kAround * spacing);
    low_ = box.min() - pad;
    columns_ = static_cast<int>(std::ceil((box.max().x() + pad.x() - low_.x()) / spacing)) + 1;
    rows_ = static_cast<int>(std::ceil((box.max().y() + pad.y() - low_.y()) / spacing)) + 1;
    if (static_cast<double>(columns_) * rows_ > 4e6)
      throw Error("the lid's grid would have more than 4 million places; give a wider spacing");
    height_.assign(count(), NAN);
    wanted_.assign(count(), 0);
    for (int j = 0; j < rows_; ++j)
      for (int i = 0; i < columns_; ++i) wanted_[index(i, j)] = area.contains(place(i, j));
  }

  /// Takes the heights of the surface where it lies outside the area.
  void take_surface(const Mesh& mesh, const TriangleSet& set) {
    for (std::size_t t = 0; t < set.size(); ++t) {
      if (!set[t]) continue;
      const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
      const double area = cross2(plan(b) - plan(a), plan(c) - plan(a));
      if (area == 0) continue;
      Box2 box(plan(a));
      box.extend(plan(b)).extend(plan(c));
      const int left = std::max(0, first(box.min().x() - low_.x())),
                right = std::min(columns_ - 1, last(box.max().x() - low_.x())),
                bottom = std::max(0, first(box.min().y() - low_.y())),
                top = std::min(rows_ - 1, last(box.max().y() - low_.y()));
      for (int j = bottom; j <= top; ++j)
        for (int i = left; i <= right; ++i) {
          const Vec2 p = place(i, j);
          const double wa = cross2(plan(b) - p, plan(c) - p) / area,
                       wb = cross2(plan(c) - p, plan(a) - p) / area;
          if (wanted_[index(i, j)] || wa < 0 || wb < 0 || wa + wb > 1) continue;
          const double z = wa * a.z() + wb * b.z() + (1 - wa - wb) * c.z();
          double& height = height_[index(i, j)];
          if (!(height >= z)) height = z;
        }
    }
  }

  void fill() {
    std::vector<std::int32_t> unknown(count(), -1);
    std::int32_t unknowns = 0, known = 0;
    for (std::size_t i = 0; i < count(); ++i) {
      if (wanted_[i]) unknown[i] = unknowns++;
      known += std::isfinite(height_[i]);
    }
    if (known < 3 || unknowns == 0) throw Error("there is no surface around the lid to continue");
    matrix_ = Eigen::SparseMatrix<double>(unknowns, unknowns);
    right_ = Eigen::VectorXd::Zero(unknowns);
    for (int j = 0; j < rows_; ++j)
      for (int i = 0; i < columns_; ++i) {
        // Second differences along X, along Y and across; each only where all its places exist.
        add_term({{{i - 1, j, 1}, {i, j, -2}, {i + 1, j, 1}, {i, j, 0}}}, 1, unknown);
        add_term({{{i, j - 1, 1}, {i, j, -2}, {i, j + 1, 1}, {i, j, 0}}}, 1, unknown);
        add_term({{{i, j, 1}, {i + 1, j, -1}, {i, j + 1, -1}, {i + 1, j + 1, 1}}}, 2, unknown);
      }
    for (std::int32_t i = 0; i < unknowns; ++i) entries_.emplace_back(i, i, 1e-12);
    matrix_.setFromTriplets(entries_.begin(), entries_.end());
    const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(matrix_);
    const Eigen::VectorXd solved = solver.solve(right_);
    if (solver.info() != Eigen::Success || !solved.allFinite())
      throw Error("the surface around the lid does not settle its shape");
    for (std::size_t i = 0; i < count(); ++i)
      if (unknown[i] >= 0) height_[i] = solved[unknown[i]];
  }

  /// Two triangles for each square that has a filled place and lacks none.
  [[nodiscard]] Mesh mesh() const {
    Mesh result;
    std::vector<std::int32_t> number(count(), -1);
    const auto point = [&](int i, int j) {
      std::int32_t& n = number[index(i, j)];
      if (n < 0) {
        n = static_cast<std::int32_t>(result.points.size());
        result.points.push_back(with_z(place(i, j), height_[index(i, j)]));
      }
      return n;
    };
    for (int j = 0; j + 1 < rows_; ++j)
      for (int i = 0; i + 1 < columns_; ++i) {
        const std::size_t corners[4] = {index(i, j), index(i + 1, j), index(i + 1, j + 1), index(i, j + 1)};
        const bool whole =
            std::all_of(corners, corners + 4, [&](std::size_t k) { return std::isfinite(height_[k]); });
        const bool needed = std::any_of(corners, corners + 4, [&](std::size_t k) { return wanted_[k] != 0; });
        if (!whole || !needed) continue;
        const auto a = point(i, j), b = point(i + 1, j), c = point(i + 1, j + 1), d = point(i, j + 1);
        result.triangles.push_back({a, b, c});
        result.triangles.push_back({a, c, d});
      }
    return result;
  }

 private:
  struct Place {
    int i, j;
    double weight;
  };
  void add_term(const std::array<Place, 4>& places, double factor, const std::vector<std::int32_t>& unknown) {
    double constant = 0;
    bool open = false;
    for (const Place& p : places) {
      if (p.weight == 0) continue;
      if (p.i < 0 || p.j < 0 || p.i >= columns_ || p.j >= rows_) return;
      const std::size_t k = index(p.i, p.j);
      if (unknown[k] >= 0)
        open = true;
      else if (std::isfinite(height_[k]))
        constant += p.weight * height_[k];
      else
        return;
    }
    if (!open) return;
    for (const Place& p : places) {
      if (p.weight == 0 || unknown[index(p.i, p.j)] < 0) continue;
      const std::int32_t row = unknown[index(p.i, p.j)];
      right_[row] -= factor * p.weight * constant;
      for (const Place& q : places)
        if (q.weight != 0 && unknown[index(q.i, q.j)] >= 0)
          entries_.emplace_back(row, unknown[index(q.i, q.j)], factor * p.weight * q.weight);
    }
  }
  [[nodiscard]] std::size_t count() const {
    return static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_);
  }
  [[nodiscard]] std::size_t index(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(i);
  }
  [[nodiscard]] Vec2 place(int i, int j) const { return low_ + spacing_ * Vec2(i, j); }
  [[nodiscard]] int first(double v) const { return static_cast<int>(std::ceil(v / spacing_)); }
  [[nodiscard]] int last(double v) const { return static_cast<int>(std::floor(v / spacing_)); }

  static constexpr int kAround = 4;
  double spacing_;
  Vec2 low_{0, 0};
  int columns_ = 0, rows_ = 0;
  std::vector<double> height_;
  std::vector<std::uint8_t> wanted_;
  Eigen::SparseMatrix<double> matrix_;
  Eigen::VectorXd right_;
  std::vector<Eigen::Triplet<double>> entries_;
};

}  // namespace

Mesh smooth_lid(const Mesh& mesh, const TriangleSet& around, const Region& area, double spacing_mm) {
  if (area.empty()) throw Error("a lid needs an area to cover");
  PlateGrid grid(area, spacing_mm);
  grid.take_surface(mesh, around);
  grid.fill();
  return grid.mesh();
}

}  // namespace yardpass
