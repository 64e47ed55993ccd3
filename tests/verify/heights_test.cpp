// The part's upper side, drawn triangle by triangle, against touching it with a needle at every place.
#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/verify/left.h"

namespace yardpass {
namespace {

using testing::Rng;

/// Equal, or between what the needle finds a hair aside: at edges and beside upright faces both are right.
void expect_same(const Mesh& mesh, const Stock& stock) {
  const auto part = make_contact_part(mesh);
  const TipSurface needle(part, Profile::needle());
  const std::vector<double> heights = part_heights(stock, part);
  int covered = 0;
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      const Vec2 p = stock.centre(column, row);
      const double found = heights[stock.index(column, row)];
      covered += found != kNothingBelow;
      if (std::abs(needle.height(p) - found) < 1e-9) continue;
      double low = needle.height(p), high = low;
      for (const Vec2& aside : {Vec2(1, 0), Vec2(-1, 0), Vec2(0, 1), Vec2(0, -1)}) {
        const double z = needle.height(p + 3e-9 * aside);
        low = std::min(low, z), high = std::max(high, z);
      }
      ASSERT_TRUE(found >= low - 1e-7 && found <= high + 1e-7)
          << "at " << p.transpose() << ": " << found << ", needle " << low << " to " << high;
    }
  EXPECT_GT(covered, stock.rows() * stock.columns() / 20);
}

TEST(PartHeights, AreThoseOfTheNeedle) {
  expect_same(demo::bowl(40, 20, 60, 0.05), Stock(Box3(Vec3(-33, -31, -20), Vec3(31, 33, 1)), 0.37));
  // Upright walls through cell centres and along rows: a box whose sides lie at centres of cells.
  expect_same(testing::box_mesh(Box3(Vec3(1.5, 2.5, 0), Vec3(6.5, 5.5, 4))),
              Stock(Box3(Vec3(0, 0, 0), Vec3(8, 8, 5)), 1));
  Rng rng(9);
  for (int round = 0; round < testing::rounds(30); ++round) {
    Mesh mesh;
    for (int t = 0; t < 60; ++t) {  // anything: level, steep, upright, needles, facing up or down
      const Vec3 a(rng.uniform(-1, 9), rng.uniform(-1, 9), rng.uniform(0, 5));
      const double size = t % 4 ? 3 : 8;
      Vec3 b = a + size * Vec3(rng.uniform(-1, 1), rng.uniform(-1, 1), rng.uniform(-1, 1));
      Vec3 c = a + size * Vec3(rng.uniform(-1, 1), rng.uniform(-1, 1), rng.uniform(-1, 1));
      if (t % 7 == 0) c.head<2>() = a.head<2>() + rng.uniform(0, 1) * (b - a).head<2>();
      if (t % 11 == 0) b.y() = c.y() = std::round(a.y()) + 0.5;
      const auto first = static_cast<std::int32_t>(mesh.points.size());
      mesh.points.insert(mesh.points.end(), {a, b, c});
      mesh.triangles.push_back({first, first + 1, first + 2});
    }
    expect_same(mesh, Stock(Box3(Vec3(0, 0, -4), Vec3(8, 8, 9)), round % 2 ? 0.25 : 1));
  }
}

TEST(Statistics, AreThoseOfTheSortedValues) {
  Rng rng(3);
  Stock stock(Box3(Vec3(0, 0, 0), Vec3(30, 20, 1)), 0.5);
  LeftMap map{stock.columns(), stock.rows(), {}, 5};
  std::vector<float> values;
  for (std::size_t i = 0; i < stock.heights().size(); ++i) {
    const bool none = rng.pick(9) == 0;
    map.left_mm.push_back(none ? std::nanf("") : static_cast<float>(rng.uniform(-0.1, 0.7)));
    if (!none) values.push_back(map.left_mm.back());
  }
  std::sort(values.begin(), values.end());
  const LeftStatistics found = statistics(map, stock, rectangle(Box2(Vec2(-1, -1), Vec2(31, 21))));
  const auto at = [&](double share) {
    return static_cast<double>(
        values[static_cast<std::size_t>(share * static_cast<double>(values.size() - 1))]);
  };
  EXPECT_EQ(found.median_mm, at(0.5));
  EXPECT_EQ(found.p95_mm, at(0.95));
  EXPECT_EQ(found.p99_mm, at(0.99));
  EXPECT_EQ(found.least_mm, at(0));
  EXPECT_EQ(found.greatest_mm, at(1));
  EXPECT_NEAR(found.area_mm2, static_cast<double>(values.size()) * 0.25, 1e-9);
  for (const auto& within : found.within)
    EXPECT_NEAR(within.share * static_cast<double>(values.size()),
                static_cast<double>(
                    std::count_if(values.begin(), values.end(),
                                  [&](float v) { return static_cast<double>(v) <= within.limit_mm; })),
                1e-6);
}

}  // namespace
}  // namespace yardpass
