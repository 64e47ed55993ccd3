#include "yardpass/contact/footprint_scan.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

FootprintScan::FootprintScan(TipSurface surface)
    : surface_(std::move(surface)), cell_(1), columns_(1), rows_(1), widest_(0) {
  const Mesh& mesh = surface_.part().mesh();
  const Box3& box = surface_.part().box();
  const std::size_t count = mesh.triangles.size();
  tops_.resize(count);
  if (count == 0) return;
  // About two triangles a cell.
  cell_ = std::max(1e-3, std::sqrt(2 * box.sizes().x() * box.sizes().y() / static_cast<double>(count)));
  columns_ = static_cast<int>(box.sizes().x() / cell_) + 1;
  rows_ = static_cast<int>(box.sizes().y() / cell_) + 1;
  lists_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
  for (std::size_t i = 0; i < count; ++i) {
    const Vec3 low = mesh.corner(i, 0).cwiseMin(mesh.corner(i, 1)).cwiseMin(mesh.corner(i, 2));
    const Vec3 high = mesh.corner(i, 0).cwiseMax(mesh.corner(i, 1)).cwiseMax(mesh.corner(i, 2));
    tops_[i] = high.z();
    widest_ = std::max({widest_, high.x() - low.x(), high.y() - low.y()});
    const int column = static_cast<int>((low.x() - box.min().x()) / cell_),
              row = static_cast<int>((low.y() - box.min().y()) / cell_);
    lists_[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column)]
        .push_back(static_cast<std::int32_t>(i));
  }
}

template <typename Visit>
void FootprintScan::under(const Vec2& low, const Vec2& high, const Visit& visit) const {
  if (lists_.empty()) return;
  const double radius = surface_.cutter().radius() + std::max(0.0, surface_.allowance_mm()) + 1e-6;
  const Vec2 origin = plan(surface_.part().box().min());
  const Vec2 from = (low.array() - radius - widest_ - origin.array()) / cell_,
             to = (high.array() + radius - origin.array()) / cell_;
  for (int row = std::max(0, static_cast<int>(std::floor(from.y())));
       row <= std::min(rows_ - 1, static_cast<int>(std::floor(to.y()))); ++row)
    for (int column = std::max(0, static_cast<int>(std::floor(from.x())));
         column <= std::min(columns_ - 1, static_cast<int>(std::floor(to.x()))); ++column)
      for (const std::int32_t i : lists_[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
                                         static_cast<std::size_t>(column)])
        visit(i);
}

double FootprintScan::height(const Vec2& xy) const {
  double best = kNothingBelow;
  const double lift = std::max(0.0, surface_.allowance_mm());
  under(xy, xy, [&](std::int32_t i) {
    if (tops_[static_cast<std::size_t>(i)] + lift <= best) return;
    best = std::max(best, surface_.height_over(i, xy));
  });
  return best;
}

double FootprintScan::clearance(const Vec3& a, const Vec3& b) const {
  double room = std::numeric_limits<double>::infinity();
  const double low = std::min(a.z(), b.z()), lift = std::max(0.0, surface_.allowance_mm());
  under(plan(a).cwiseMin(plan(b)), plan(a).cwiseMax(plan(b)), [&](std::int32_t i) {
    if (low - tops_[static_cast<std::size_t>(i)] - lift >= room) return;
    room = std::min(room, surface_.clearance_over(i, a, b).room);
  });
  return room;
}

}  // namespace yardpass
