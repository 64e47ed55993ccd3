// What of a level there is to cut: thin skins stay, thick ones go, and what was cut already is left alone.
#include "yardpass/plan/cut_area.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"

namespace yardpass {
namespace {

const Region kFree = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));

/// A floor at 0 in a block up to 10, but for material where `stands` says so.
template <typename Stands>
Stock floor_with(const Stands& stands) {
  Stock stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 10)), 0.1);
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column)
      if (!stands(stock.centre(column, row))) stock.set_height(column, row, 0);
  return stock;
}

TEST(CutArea, OfAWholeBlockIsAllThatIsFree) {
  const CutArea area =
      cut_area(floor_with([](const Vec2&) { return true; }), 5, kFree, {.cutter = Profile::flat(10)});
  EXPECT_NEAR(area.axis.area_mm2(), kFree.area_mm2(), 1e-6);
  EXPECT_EQ(area.left_out_mm2, 0);
  EXPECT_NEAR(area.to_cut_mm2, 1600, 1e-6);
}

TEST(CutArea, AThinSkinStaysAndAThickOneGoes) {
  for (const double skin : {0.2, 0.6}) {
    const CutArea area = cut_area(floor_with([&](const Vec2& p) { return std::abs(p.x() - 3) < skin / 2; }),
                                  5, kFree, {.cutter = Profile::flat(10), .thinnest_mm = 0.4});
    EXPECT_EQ(area.axis.empty(), skin < 0.4) << skin;
    EXPECT_NEAR(area.left_out_mm2 + area.to_cut_mm2, skin * 40, 0.11 * 40) << skin;
    if (area.axis.empty()) continue;
    // A band of a radius to both sides.
    EXPECT_TRUE(area.axis.contains({3, 0}));
    EXPECT_TRUE(area.axis.contains({7.9, 0}));
    EXPECT_FALSE(area.axis.contains({9, 0}));
    EXPECT_FALSE(area.axis.contains({-3, 0}));
  }
}

TEST(CutArea, APostStaysWholeAndItsFootGoesAlong) {
  // A post of 1 mm with a skin around its foot: what is within a radius of the post is not left for later.
  const CutArea area =
      cut_area(floor_with([](const Vec2& p) {
                 return p.norm() < 0.5 || std::abs(p.norm() - 3) < 0.1 || std::abs(p.norm() - 15) < 0.1;
               }),
               5, kFree, {.cutter = Profile::flat(10), .thinnest_mm = 0.4});
  EXPECT_TRUE(area.axis.contains({0, 0}));
  EXPECT_TRUE(area.axis.contains({0, 7}));
  EXPECT_FALSE(area.axis.contains({0, 15})) << "a skin of its own";
  EXPECT_NEAR(area.left_out_mm2, 2 * M_PI * 15 * 0.2, 3);
}

TEST(CutArea, NothingAboveTheLevelIsNothingToCut) {
  const Stock stock = floor_with([](const Vec2& p) { return p.x() > 0; });
  EXPECT_TRUE(cut_area(stock, 10, kFree, {.cutter = Profile::flat(6)}).axis.empty());
  EXPECT_TRUE(cut_area(stock, 5, {}, {.cutter = Profile::flat(6)}).axis.empty());
  // Out of reach: material on the right, the tool on the left.
  EXPECT_TRUE(cut_area(stock, 5, rectangle(Box2(Vec2(-20, -20), Vec2(-4, 20))), {.cutter = Profile::flat(6)})
                  .axis.empty());
  EXPECT_FALSE(cut_area(stock, 5, rectangle(Box2(Vec2(-20, -20), Vec2(-2, 20))), {.cutter = Profile::flat(6)})
                   .axis.empty());
  // From beside the block.
  EXPECT_FALSE(cut_area(stock, 5, rectangle(Box2(Vec2(21, -20), Vec2(22, 20))), {.cutter = Profile::flat(6)})
                   .axis.empty());
  EXPECT_THROW((void)cut_area(stock, 5, kFree, {.cutter = Profile::needle()}), Error);
}

}  // namespace
}  // namespace yardpass
