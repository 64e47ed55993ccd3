// Waterlines: their levels, ridges, length, order and descent, and that nothing is missed or gouged.
#include "yardpass/strategy/waterline.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/plan/trim.h"

namespace yardpass {
namespace {

using testing::all_cuts;

constexpr double kDegree = std::numbers::pi / 180;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

/// A boss with walls at an angle from upright, a flat top at 20, on a plate at 0.
Mesh drafted_boss(double draft_deg, double top_radius, int around = 360) {
  const double foot = top_radius + 20 * std::tan(draft_deg * kDegree);
  return testing::turned_part({{70, 0}, {foot, 0}, {top_radius, 20}, {1e-3, 20}}, around);
}

std::vector<double> heights_of(const std::vector<Cut>& cuts) {
  std::vector<double> z;
  for (const Cut& cut : cuts)
    if (z.empty() || std::abs(z.back() - cut.points[0].z()) > 1e-9) z.push_back(cut.points[0].z());
  return z;
}

TEST(Waterline, LevelsAreSpreadEvenlyFromTopToBottomAndLieJustAboveFlats) {
  const auto part = make_contact_part(drafted_boss(5, 15));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const CutPlan plan = cuts_of(WaterlineOptions{.stepdown_mm = 1.5}, {surface, square(40), nullptr, 0.01});
  const std::vector<double> z = heights_of(all_cuts(plan));
  ASSERT_EQ(z.size(), 14u);  // 20 / 1.5
  EXPECT_NEAR(z.back(), 0.015, 1e-9) << "just above the plate";
  for (std::size_t i = 0; i + 1 < z.size(); ++i) EXPECT_NEAR(z[i] - z[i + 1], 19.985 / 14, 1e-9);
  for (const Cut& cut : all_cuts(plan)) {
    EXPECT_TRUE(cut.closed);
    EXPECT_EQ(cut.part, Side::right);
  }
  // Between a top and a bottom both are levels.
  const CutPlan some =
      cuts_of(WaterlineOptions{.stepdown_mm = 1.5}, {surface, square(40), nullptr, 0.01, 18, 12});
  const std::vector<double> of_some = heights_of(all_cuts(some));
  ASSERT_EQ(of_some.size(), 5u);
  EXPECT_NEAR(of_some.front(), 18, 1e-9);
  EXPECT_NEAR(of_some.back(), 12, 1e-9);
  // A level that would lie at the plate or a hair above it is moved, and that is told.
  const CutPlan near =
      cuts_of(WaterlineOptions{.stepdown_mm = 5}, {surface, square(40), nullptr, 0.01, 15, 0.004});
  EXPECT_NEAR(heights_of(all_cuts(near)).back(), 0.015, 1e-9);
  const auto told = std::find_if(near.facts.begin(), near.facts.end(),
                                 [](const SettledValue& fact) { return fact.key == "levels at flats"; });
  ASSERT_NE(told, near.facts.end());
  EXPECT_EQ(told->value.value[0], 1);
}

TEST(Waterline, ClimbsOrNotRoundBossesAndInPockets) {
  const auto part = make_contact_part(
      testing::turned_part({{70, 0}, {30, 0}, {28, 20}, {12, 20}, {10, 2}, {1e-3, 2}}, 360));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  for (const bool climb : {true, false}) {
    const CutPlan plan =
        cuts_of(WaterlineOptions{.stepdown_mm = 3,
                                 .direction = climb ? LoopDirection::climb : LoopDirection::conventional},
                {surface, square(45), nullptr, 0.01});
    int outer = 0, pockets = 0;
    for (const Cut& cut : all_cuts(plan)) {
      Polyline2 loop;
      for (const Vec3& p : cut.points) loop.push_back(yardpass::plan(p));
      ASSERT_TRUE(cut.closed);
      const bool pocket = loop[0].norm() < 20;
      (pocket ? pockets : outer) += 1;
      EXPECT_EQ(signed_area(loop) > 0, pocket == climb);
      EXPECT_EQ(cut.part, climb ? Side::right : Side::left);
    }
    EXPECT_GE(outer, 6);
    EXPECT_GE(pockets, 5);
    EXPECT_EQ(plan.groups.size(), 2u) << "each wall by itself";
    for (const CutGroup& group : plan.groups)
      for (std::size_t i = 0; i + 1 < group.cuts.size(); ++i)
        EXPECT_GT(group.cuts[i].points[0].z(), group.cuts[i + 1].points[0].z()) << "from the top down";
    EXPECT_FALSE(plan.keep_group_order);
  }
  const CutPlan by_level = cuts_of(WaterlineOptions{.stepdown_mm = 3, .order = LevelOrder::by_level},
                                   {surface, square(45), nullptr, 0.01});
  double last = 1e9;
  EXPECT_TRUE(by_level.keep_group_order);
  for (const CutGroup& group : by_level.groups) {
    EXPECT_LT(group.level_z, last);
    last = group.level_z;
    for (const Cut& cut : group.cuts) EXPECT_EQ(cut.points[0].z(), group.level_z);
  }
}

TEST(Waterline, AHelixEndsLevelWhereTheWallOpensAndLevelsGoOn) {
  const auto part = make_contact_part(drafted_boss(20, 12));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  // Farther down the wall is cut off by the area's side.
  const Region area = rectangle(Box2(Vec2(-40, -40), Vec2(18, 40)));
  for (const LoopDirection direction : {LoopDirection::climb, LoopDirection::conventional}) {
    const CutPlan plan =
        cuts_of(WaterlineOptions{.stepdown_mm = 1, .direction = direction, .descent = Descent::helix},
                {surface, area, nullptr, 0.01});
    ASSERT_EQ(plan.groups.size(), 2u);
    ASSERT_EQ(plan.groups[0].cuts.size(), 1u);
    const Cut& helix = plan.groups[0].cuts[0];
    EXPECT_TRUE(plan.groups[0].keep_direction);
    EXPECT_FALSE(helix.closed);
    EXPECT_LT(helix.points.back().z(), helix.points.front().z() - 3);
    // The last lap is level, all round.
    double turned = 0;
    for (std::size_t i = helix.points.size() - 1; i > 0 && helix.points[i - 1].z() == helix.points.back().z();
         --i) {
      const Vec2 a = yardpass::plan(helix.points[i - 1]), b = yardpass::plan(helix.points[i]);
      turned += std::atan2(cross2(a, b), a.dot(b));
    }
    EXPECT_NEAR(std::abs(turned), 2 * std::numbers::pi, 1e-4);
    EXPECT_EQ(turned < 0, direction == LoopDirection::climb);
    ASSERT_GE(plan.groups[1].cuts.size(), 5u);
    EXPECT_EQ(plan.groups[1].after, std::vector<std::int32_t>{0});
    for (const Cut& cut : plan.groups[1].cuts) {
      EXPECT_FALSE(cut.closed);
      EXPECT_LT(cut.points[0].z(), helix.points.back().z());
    }
  }
  EXPECT_EQ(cuts_of(WaterlineOptions{.stepdown_mm = 1, .descent = Descent::helix},
                    {surface, square(40), nullptr, 0.01})
                .cut_count(),
            1u)
      << "closed all the way";
}

TEST(Waterline, KeepsToItsBoundaryByAxisCutterAndContact) {
  const auto part = make_contact_part(drafted_boss(10, 15));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const Region right = rectangle(Box2(Vec2(4, -60), Vec2(60, 60)));
  for (const LimitBy by : {LimitBy::axis, LimitBy::cutter, LimitBy::contact}) {
    Bounds bounds;
    bounds.boundary = right;
    bounds.rule.by = by;
    bounds.bottom_z = 0.2;
    const BoundedCuts cut =
        cuts_within(bounds, surface, nullptr, 0.01, [](const Site& site, const Progress& progress) {
          return cuts_of(WaterlineOptions{.stepdown_mm = 2}, site, progress);
        });
    EXPECT_GE(cut.plan.cut_count(), 9u) << name_of(by);
    for (const Cut& one : all_cuts(cut.plan)) {
      EXPECT_FALSE(one.closed);
      const double least = std::min(one.points.front().x(), one.points.back().x());
      // A contact lies beside the axis: on the wall, towards the middle.
      const Vec2 end = yardpass::plan(one.points.front());
      const double expected = by == LimitBy::axis ? 4
                              : by == LimitBy::cutter
                                  ? 7
                                  : 4 * end.norm() / (end.norm() - 3 * std::cos(10 * kDegree));
      EXPECT_NEAR(least, expected, by == LimitBy::contact ? 0.06 : 0.01)
          << name_of(by) << " at " << one.points[0].z();
    }
    EXPECT_TRUE(cut.plan.notes.empty()) << "walls are not ridden up";
  }
}

TEST(Waterline, FinishesUprightWallsWhereTheLimitIsByContact) {
  // The touch straight below a pass along an upright wall is on the ground at its foot, or nowhere.
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-20, -15, -12), Vec3(20, 15, 0))));
  const ToolSurface surface = testing::exact_surface(part, testing::flat_tool(8));
  Bounds bounds;
  bounds.boundary = rectangle(Box2(Vec2(-20.001, -15.001), Vec2(20.001, 15.001)));
  bounds.rule.by = LimitBy::contact;
  bounds.bottom_z = -12;
  bounds.slope = SlopeLimits{60, 90};
  const BoundedCuts cut =
      cuts_within(bounds, surface, nullptr, 0.01, [](const Site& site, const Progress& progress) {
        return cuts_of(WaterlineOptions{.stepdown_mm = 3}, site, progress);
      });
  ASSERT_EQ(cut.plan.cut_count(), 4u);
  for (const Cut& one : all_cuts(cut.plan)) EXPECT_TRUE(one.closed);
  EXPECT_EQ(heights_of(all_cuts(cut.plan)).back(), -12);
}

TEST(Waterline, NothingIsGougedFloatsOrIsMissed) {
  constexpr double tolerance = 0.01, half = 9;
  std::int64_t samples = 0, inside = 0, floating = 0;
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::bull, Shape::flat, Shape::taper}) {
      SCOPED_TRACE(std::string(ground.name) + " " + name_of(shape));
      const ToolSurface surface =
          testing::exact_surface(make_contact_part(ground.mesh), testing::tool_of(shape));
      const TipSurface middle = surface.with_more_allowance(tolerance / 2),
                       thicker = surface.with_more_allowance(tolerance);
      const CutPlan plan =
          cuts_of(WaterlineOptions{.stepdown_mm = 0.4}, {surface, square(half), nullptr, tolerance});
      for (const Note& note : plan.notes) EXPECT_NE(note.about, "contours") << note.says;
      const auto cuts = all_cuts(plan);
      ASSERT_FALSE(cuts.empty());
      for (const Cut& cut : cuts) {
        Polyline3 points = cut.points;
        if (cut.closed) points.push_back(points.front());
        for (std::size_t i = 0; i + 1 < points.size(); ++i) {
          ASSERT_GE(surface.clearance(points[i], points[i + 1], 0.0).room, 0);
          const int count = std::max(2, static_cast<int>((points[i + 1] - points[i]).norm() / 0.02));
          for (int k = 0; k <= count; ++k, ++samples) {
            const Vec3 p = points[i] + (points[i + 1] - points[i]) * (1.0 * k / count);
            inside += surface.height(yardpass::plan(p)) > p.z() + 1e-7;
            floating += thicker.height(yardpass::plan(p)) < p.z() - 1e-7;
          }
        }
      }
      // Wherever a line at a level meets the surface there is a pass.
      testing::Rng rng(11);
      int met = 0, missed = 0;
      const std::vector<double> levels = heights_of(cuts);
      for (int k = 0; k < 300; ++k) {
        const double z = levels[static_cast<std::size_t>(rng.pick(static_cast<int>(levels.size())))];
        const auto somewhere = [&] { return Vec2(rng.uniform(-half, half), rng.uniform(-half, half)); };
        const Vec3 a = with_z(somewhere(), z), b = with_z(somewhere(), z);
        for (const LinePiece& piece : free_pieces(middle, a, b))
          for (const double share : {piece.from, piece.to}) {
            if (share <= 0 || share >= 1 || (piece.to - piece.from) * (b - a).norm() < 0.5) continue;
            const Vec3 p = a + share * (b - a);
            double near = 1e9;
            for (const Cut& cut : cuts)
              if (std::abs(cut.points[0].z() - z) < 1e-9)
                for (std::size_t i = 0; i + (cut.closed ? 0 : 1) < cut.points.size(); ++i)
                  near = std::min(
                      near, distance_to_segment(p, cut.points[i], cut.points[(i + 1) % cut.points.size()]));
            ++met;
            missed += near > 0.25;
          }
      }
      EXPECT_GT(met, 20);
      EXPECT_LE(missed, met / 200) << "of " << met;
    }
  EXPECT_GT(samples, 100000);
  EXPECT_EQ(inside, 0);
  EXPECT_EQ(floating, 0);
}

TEST(Waterline, SaysWhereThereIsNoWallAndRefusesWhatItCannotDo) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-20, -15, -12), Vec3(20, 15, 0))));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const CutPlan none = cuts_of(WaterlineOptions{}, {surface, square(4), nullptr, 0.01});
  EXPECT_TRUE(none.empty());
  ASSERT_FALSE(none.notes.empty());
  EXPECT_EQ(none.notes.back().about, "nothing");
  EXPECT_TRUE(cuts_of(WaterlineOptions{}, {surface, {}, nullptr, 0.01}).empty());
  EXPECT_THROW((void)cuts_of(WaterlineOptions{.stepdown_mm = 0}, {surface, square(4)}), Error);
  EXPECT_THROW((void)cuts_of(WaterlineOptions{.scallop_mm = 0}, {surface, square(4)}), Error);
  EXPECT_THROW((void)cuts_of(WaterlineOptions{.least_slope_deg = 1}, {surface, square(4)}), Error);
  EXPECT_THROW((void)cuts_of(WaterlineOptions{}, {surface, square(30)}, [](double) { return false; }),
               Stopped);
}

}  // namespace
}  // namespace yardpass
