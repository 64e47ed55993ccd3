// Waterlines: their levels, ridges, length, order and descent, and that nothing is missed or gouged.
#include "yardpass/strategy/waterline.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/contact/slope.h"
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

double length_of_cut(const Cut& cut) {
  return length(std::span<const Vec3>(cut.points)) +
         (cut.closed ? (cut.points.front() - cut.points.back()).norm() : 0);
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
  Mesh mesh = drafted_boss(3, 25);
  // A bore in the middle.
  testing::add_turned(mesh, {{8, 20}, {8, 0}}, 180);
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

/// Of neighbouring passes of a ball, in a section through a form of radius `form` (hollow: below 0): what
/// they leave.
double ridge_between(const Vec2& tip, const Vec2& next, double ball, double form) {
  const double apart = (next - tip).norm(), path = form > 0 ? form + ball : -form - ball;
  const double middle = std::sqrt(path * path - apart * apart / 4),
               up = std::sqrt(ball * ball - apart * apart / 4);
  return form > 0 ? middle - up - form : -form - middle - up;
}

TEST(Waterline, KeepsTheScallopOnASphereAndInAFilletHardlyWiderThanTheBall) {
  constexpr double tolerance = 0.0005, scallop = 0.01;
  const Tool ball = testing::ball_tool(6);
  {
    const auto part =
        make_contact_part(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.99, 400), 540));
    const ToolSurface surface = testing::exact_surface(part, ball);
    const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = 20},
                                 {surface, square(50), nullptr, tolerance, 36, 10});
    const auto cuts = all_cuts(plan);
    double most = 0, length = 0;
    for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
      const auto at = [&](const Cut& cut) {
        return Vec2(std::sqrt(std::pow(43, 2) - std::pow(cut.points[0].z() + 3, 2)), cut.points[0].z());
      };
      const double ridge = ridge_between(at(cuts[i]), at(cuts[i + 1]), 3, 40);
      most = std::max(most, ridge);
    }
    for (const Cut& cut : cuts) length += length_of_cut(cut);
    EXPECT_LT(most, 1.05 * scallop);
    // Passes just so far apart from 36 down to 10.
    const double spacing = std::sqrt(8 * 3 * scallop * 43 / 40);
    double ideal = 0;
    for (double z = 10; z < 36; z += 0.01) {
      const double sine = std::sqrt(43 * 43 - (z + 3) * (z + 3)) / 43;
      ideal += 2 * std::numbers::pi * 43 * sine * 0.01 / (sine * spacing);
    }
    EXPECT_LT(length, 1.15 * ideal);
  }
  for (const double fillet : {4.0, 6.0, 12.0}) {
    // A floor, the fillet, and a wall 3 degrees off upright.
    Polyline2 chain{{1e-3, 0}};
    for (const Vec2& p : testing::arc_chain({20, fillet}, fillet, -90, -3, 200)) chain.push_back(p);
    chain.push_back(chain.back() + 15 * Vec2(std::sin(3 * kDegree), std::cos(3 * kDegree)));
    const auto part = make_contact_part(testing::turned_part(chain, 540));
    const ToolSurface surface = testing::exact_surface(part, ball);
    const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = 15},
                                 {surface, square(34), nullptr, tolerance, 8, 0});
    double most = 0;
    int on_fillet = 0;
    std::vector<Vec2> tips;
    for (const Cut& cut : all_cuts(plan))
      tips.emplace_back(yardpass::plan(cut.points[0]).norm(), cut.points[0].z());
    std::sort(tips.begin(), tips.end(), [](const Vec2& a, const Vec2& b) { return a.y() > b.y(); });
    const double high = fillet - (fillet - 3) * std::sin(4 * kDegree) - 3,
                 low = fillet - (fillet - 3) * std::cos(15 * kDegree) - 3;
    for (std::size_t i = 0; i + 1 < tips.size(); ++i) {
      if (tips[i].y() > high || tips[i + 1].y() < low) continue;
      // Where the formula puts them at these heights.
      const auto at = [&](double z) {
        const double dz = z + 3 - fillet, path = fillet - 3;
        return Vec2(20 + std::sqrt(std::max(0.0, path * path - dz * dz)), z);
      };
      const double ridge = ridge_between(at(tips[i].y()), at(tips[i + 1].y()), 3, -fillet);
      most = std::max(most, ridge);
      ++on_fillet;
    }
    EXPECT_GE(on_fillet, 2) << fillet;
    EXPECT_LT(most, 1.05 * scallop) << fillet;
  }
}

/// All passes together against passes that are just so far apart everywhere, where the surface is at least so
/// steep.
double against_ideal(const ToolSurface& surface, const Region& area, double scallop, double least_deg,
                     double top, double bottom) {
  const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = least_deg},
                               {surface, area, nullptr, 0.01, top, bottom});
  const auto steep = [&](const Vec2& p) -> std::optional<std::pair<double, double>> {  // rise, 1 + k R
    const auto touch = surface.touch(p);
    if (!touch || touch->height > top || touch->height < bottom) return std::nullopt;
    const Vec2 slope = slope_at(surface, p, *touch);
    if (slope.norm() < std::tan(least_deg * kDegree)) return std::nullopt;
    const double step = 0.25 / std::hypot(1, slope.norm());
    const Vec2 down = -slope.normalized();
    const auto a = surface.touch(p - step * down), b = surface.touch(p + step * down);
    double ratio = 1;
    if (a && b) {
      const double tips = (with_z(p + step * down, b->height) - with_z(p - step * down, a->height)).norm();
      ratio = std::clamp(tips / std::max(1e-9, (b->point - a->point).norm()), 0.1, 2.0);
    }
    return std::pair(slope.norm(), ratio);
  };
  double cut = 0;
  for (const Cut& one : all_cuts(plan)) {
    Polyline3 points = one.points;
    if (one.closed) points.push_back(points.front());
    for (std::size_t i = 0; i + 1 < points.size(); ++i)
      if (steep(yardpass::plan(Vec3(0.5 * (points[i] + points[i + 1])))))
        cut += (points[i + 1] - points[i]).norm();
  }
  double ideal = 0;
  constexpr double kCell = 0.2;
  const Box2 box = area.box();
  const double r = surface.cutter().radius();
  for (double x = box.min().x(); x < box.max().x(); x += kCell)
    for (double y = box.min().y(); y < box.max().y(); y += kCell)
      if (area.contains({x, y}))
        if (const auto here = steep({x, y})) {
          const double a = std::atan(here->first);
          ideal += kCell * kCell * std::tan(a) / (std::sin(a) * std::sqrt(8 * r * scallop * here->second));
        }
  return cut / ideal;
}

TEST(Waterline, IsNotMuchLongerThanPassesThatAreJustSoFarApart) {
  const Tool ball = testing::ball_tool(6);
  const auto ratio = [&](Mesh mesh, double half, double top, double bottom) {
    const ToolSurface surface = testing::exact_surface(make_contact_part(std::move(mesh)), ball);
    return against_ideal(surface, square(half), 0.01, 15, top, bottom);
  };
  const double sphere =
      ratio(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.99, 300), 360), 42, 36, 5);
  EXPECT_LT(sphere, 1.15);
  EXPECT_GT(sphere, 0.9);
  Polyline2 chain{{1e-3, 0}};
  for (const Vec2& p : testing::arc_chain({20, 6}, 6, -90, -3, 100)) chain.push_back(p);
  chain.push_back(chain.back() + 15 * Vec2(std::sin(3 * kDegree), std::cos(3 * kDegree)));
  chain.push_back(chain.back() + Vec2(10, 0.5));
  EXPECT_LT(ratio(testing::turned_part(chain, 360), 18, 12, 0.1), 1.6) << "draft and fillet";
  testing::Rng rng(3);
  EXPECT_LT(ratio(testing::sheet(Box2(Vec2(-26, -26), Vec2(26, 26)), 130, 130,
                                 [&](double x, double y) {
                                   return 0.9 * std::sqrt(std::max(0.0, 1600 - x * x - 1.7 * y * y)) +
                                          2 * std::sin(0.2 * x) + rng.uniform(-0.01, 0.01);
                                 }),
                  22, 40, 5),
            1.6)
      << "scan";
  EXPECT_LT(ratio(testing::sheet(Box2(Vec2(-26, -26), Vec2(26, 26)), 200, 200,
                                 [](double x, double y) {
                                   return 4 * std::sin(0.25 * x + 0.4) * std::cos(0.2 * y) +
                                          1.5 * std::sin(0.5 * x - 0.35 * y);
                                 }),
                  22, 10, -10),
            1.6)
      << "terrain";
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
