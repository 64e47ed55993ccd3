#include "verify/part_raster.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

namespace {

constexpr double kSlack = 1e-9;

/// Where a level line in plan crosses a triangle, and the heights there.
struct Crossing {
  double low_x = 1e300, high_x = -1e300;
  double low_z = 0, high_z = 0;  // the greatest at each end
  void add(double x, double z) {
    if (x < low_x - kSlack || (x < low_x + kSlack && z > low_z)) low_z = z;
    if (x > high_x + kSlack || (x > high_x - kSlack && z > high_z)) high_z = z;
    low_x = std::min(low_x, x), high_x = std::max(high_x, x);
  }
};

Crossing crossing_of(const Vec3 corners[3], double y) {
  Crossing crossing;
  for (int k = 0; k < 3; ++k) {
    const Vec3 &a = corners[k], &b = corners[(k + 1) % 3];
    if (std::abs(a.y() - y) <= kSlack) crossing.add(a.x(), a.z());
    if ((a.y() < y) == (b.y() < y)) continue;
    const double share = (y - a.y()) / (b.y() - a.y());
    crossing.add(a.x() + share * (b.x() - a.x()), a.z() + share * (b.z() - a.z()));
  }
  return crossing;
}

}  // namespace

PartRaster::PartRaster(const Stock& stock, const ContactPart& part)
    : stock_(stock), part_(part), in_slice_(static_cast<std::size_t>((stock.rows() + kSlice - 1) / kSlice)) {
  const Mesh& mesh = part.mesh();
  const double front = stock.block().min().y(), thick = kSlice * stock.cell_mm();
  const auto slices = static_cast<double>(in_slice_.size());
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    double low = 1e300, high = -1e300;
    for (int k = 0; k < 3; ++k)
      low = std::min(low, mesh.corner(t, k).y()), high = std::max(high, mesh.corner(t, k).y());
    const double first = std::floor((low - kSlack - front) / thick),
                 last = std::floor((high + kSlack - front) / thick);
    if (last < 0 || first >= slices) continue;
    for (auto s = static_cast<std::size_t>(std::max(first, 0.0));
         s <= static_cast<std::size_t>(std::min(last, slices - 1)); ++s)
      in_slice_[s].push_back(static_cast<std::int32_t>(t));
  }
}

void PartRaster::draw(std::int32_t triangle, int first, int last, double* heights) const {
  const Mesh& mesh = part_.mesh();
  Vec3 corners[3];
  for (int k = 0; k < 3; ++k) corners[k] = mesh.corner(static_cast<std::size_t>(triangle), k);
  double low = 1e300, high = -1e300;
  for (const Vec3& p : corners) low = std::min(low, p.y()), high = std::max(high, p.y());
  const double cell = stock_.cell_mm(), left = stock_.centre(0, 0).x();
  const double columns = stock_.columns();
  for (int row = first; row < last; ++row) {
    const double y = stock_.centre(0, row).y();
    if (y < low - kSlack || y > high + kSlack) continue;
    const Crossing crossing = crossing_of(corners, y);
    const double from = std::max(0.0, std::ceil((crossing.low_x - kSlack - left) / cell)),
                 to = std::min(columns - 1, std::floor((crossing.high_x + kSlack - left) / cell));
    const double width = crossing.high_x - crossing.low_x;
    double* line =
        heights + static_cast<std::size_t>(row - first) * static_cast<std::size_t>(stock_.columns());
    for (double column = from; column <= to; column += 1) {
      // As stock_.centre has it, to the bit.
      const double x = stock_.centre(static_cast<int>(column), row).x();
      const double share = width > kSlack ? std::clamp((x - crossing.low_x) / width, 0.0, 1.0) : 0.0;
      const double z = width > kSlack ? crossing.low_z + share * (crossing.high_z - crossing.low_z)
                                      : std::max(crossing.low_z, crossing.high_z);
      double& height = line[static_cast<std::size_t>(column)];
      height = std::max(height, z);
    }
  }
}

std::vector<double> PartRaster::rows(int first, int last) const {
  const auto columns = static_cast<std::size_t>(stock_.columns());
  std::vector<double> heights(static_cast<std::size_t>(last - first) * columns, kNothingBelow);
  const int first_slice = first / kSlice, slices = (last + kSlice - 1) / kSlice - first_slice;
  parallel_for(slices, {}, [&](int offset) {
    const int slice = first_slice + offset;
    const int from = std::max(first, slice * kSlice), to = std::min(last, (slice + 1) * kSlice);
    for (const std::int32_t triangle : in_slice_[static_cast<std::size_t>(slice)])
      draw(triangle, from, to, heights.data() + static_cast<std::size_t>(from - first) * columns);
  });
  return heights;
}

}  // namespace yardpass::detail
