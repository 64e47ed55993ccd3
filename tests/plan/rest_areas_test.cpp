// Rest areas against closed forms.
#include "yardpass/plan/rest_areas.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "support/nasty.h"
#include "support/planning.h"

namespace yardpass {
namespace {

std::shared_ptr<const ContactPart> groove() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4, [](double, double y) { return std::abs(y); }));
}
TipSurface ball(const std::shared_ptr<const ContactPart>& part, double radius) {
  return testing::exact_surface(part, testing::ball_tool(2 * radius));
}
Region area() { return rectangle(Box2(Vec2(-10, -12), Vec2(10, 12))); }

/// How wide an area is to both sides of the groove, at some places along it.
double half_width(const Region& region) {
  double least = 1e9, most = 0;
  for (const double x : {-8.1, -2.0, 3.3, 9.2}) {
    const std::vector<Interval> across = inside(region, {x, -12}, {x, 12});
    EXPECT_EQ(across.size(), 1u);
    for (const Interval& one : across)
      for (const double share : {one.from, one.to}) {
        const double off = std::abs(-12 + 24 * share);
        least = std::min(least, off), most = std::max(most, off);
      }
  }
  EXPECT_LT(most - least, 0.01);
  return 0.5 * (least + most);
}

TEST(RestAreas, HalfWidthInAGrooveIsThatOfTheClosedForm) {
  const auto part = groove();
  for (const double reference : {5.0, 8.0})
    for (const double smaller : {1.0, 3.0})
      for (const double threshold : {0.01, 0.03, 0.1}) {
        SCOPED_TRACE(threshold);
        const RestAreas rest = rest_areas(ball(part, reference), ball(part, smaller), area(),
                                          {.threshold_mm = threshold, .overlap_mm = 0});
        const double far = reference - std::sqrt(2 * reference * threshold + threshold * threshold);
        EXPECT_NEAR(half_width(rest.bare), (far - smaller) / std::sqrt(2), 0.001);
        EXPECT_EQ(rest.pieces, 1);
        // In the very corner the small ball touches where the big one leaves the most.
        const double deepest = std::hypot(reference - smaller, reference) - reference;
        EXPECT_NEAR(rest.thickest_mm, deepest, 0.2 * deepest);
        EXPECT_LT(std::abs(rest.thickest_at.y()), 0.4);
      }
  const RestAreas wide =
      rest_areas(ball(part, 5), ball(part, 3), area(), {.threshold_mm = 0.03, .overlap_mm = 0.4});
  // The overlap is measured on the slope.
  EXPECT_NEAR(half_width(wide.area), 1.0263 + 0.4 / std::sqrt(2), 0.015);
}

TEST(RestAreas, NothingIsLeftWhereTheReferenceReaches) {
  const auto flat = make_contact_part(testing::sheet(
      Box2(Vec2(-30, -30), Vec2(30, 30)), 60, 60, [](double x, double y) { return 0.01 * (x * x - y * y); }));
  EXPECT_TRUE(rest_areas(ball(flat, 5), ball(flat, 2), area(), {}).area.empty());
  EXPECT_TRUE(rest_areas(ball(flat, 5), ball(flat, 2), {}, {}).area.empty());
  EXPECT_THROW((void)rest_areas(ball(flat, 5), ball(flat, 2), area(), {.threshold_mm = 0}), Error);
  EXPECT_THROW((void)rest_areas(ball(flat, 5), ball(flat, 2), area(), {.overlap_mm = -1}), Error);
}

TEST(RestAreas, AnAllowanceOfTheReferenceIsLeftToo) {
  const auto part = groove();
  const TipSurface reference = testing::exact_surface(part, testing::ball_tool(10), {.allowance_mm = 0.05});
  EXPECT_NEAR(left_by(reference, ball(part, 2), {0, 10}), 0.05, 1e-9);
  EXPECT_FALSE(rest_areas(reference, ball(part, 2), area(), {.threshold_mm = 0.04}).area.empty());
}

TEST(RestAreas, FromMaterialAreWhereTheSmallCutterMeetsIt) {
  const auto part = groove();
  Stock stock(Box3(Vec3(-15, -15, -1), Vec3(15, 15, 15)), 0.1);
  // What a ball of 5 leaves: an arc in the groove.
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      const Vec2 p = stock.centre(column, row);
      const double y = std::abs(p.y()), rim = 5 / std::sqrt(2);
      stock.set_height(column, row, y > rim ? y : 5 * std::sqrt(2) - std::sqrt(25 - y * y));
    }
  const RestAreas rest = rest_areas(stock, ball(part, 1), area(), {.threshold_mm = 0.03, .overlap_mm = 0});
  const double far = 5 - std::sqrt(2 * 5 * 0.03);
  ASSERT_EQ(rest.pieces, 1);
  double most = 0;
  for (const Polyline2& loop : rest.bare.loops)
    for (const Vec2& p : loop) most = std::max(most, std::abs(p.y()));
  EXPECT_NEAR(most, (far - 1) / std::sqrt(2), 0.6) << "the cutter meets it with its side too";
}

TEST(RestAreas, TheSameBitsOnAnyNumberOfThreads) {
  const auto part = groove();
  const auto found = [&](std::size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return rest_areas(ball(part, 5), ball(part, 2), area(), {}).area.loops;
  };
  EXPECT_EQ(found(1), found(2));
}

}  // namespace
}  // namespace yardpass
