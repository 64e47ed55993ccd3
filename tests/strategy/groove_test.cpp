// Grooves that fill an outline: measured on the material.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "support/grounds.h"
#include "yardpass/curve/made_curves.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/grooves.h"
#include "yardpass/strategy/engraving.h"

namespace yardpass {
namespace {

Tool chamfer(double tip = 0) {
  Tool tool = testing::ball_tool(6);
  tool.shape = Shape::chamfer;
  tool.taper_angle_deg = 45;
  tool.tip_diameter_mm = tip;
  tool.flute_length_mm = 8;
  return tool;
}
Curve loop(const Polyline2& points) {
  Curve curve{{}, true};
  for (const Vec2& p : points) curve.points.push_back(with_z(p, 0));
  return curve;
}
Curve star(const Vec2& at, double outer, double inner) {
  Polyline2 points;
  for (int k = 0; k < 10; ++k) {
    const double angle = std::numbers::pi * (0.5 + 0.2 * k), radius = k % 2 == 0 ? outer : inner;
    points.push_back(at + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return loop(points);
}
/// How far inside an area, negative outside.
double inside_by(const Region& area, const Vec2& p) {
  double off = 1e9;
  for (const Polyline2& one : area.loops) off = std::min(off, nearest_on_loop(one, p).distance_mm);
  return area.contains(p) ? off : -off;
}
Region area_of(const std::vector<Curve>& curves) {
  Region area;
  for (const Curve& curve : curves) area.loops.push_back(in_plan(curve));
  return unite(area, {});
}
EngravingOptions groove_of(std::vector<Curve> curves, double deepest = 3) {
  EngravingOptions options;
  options.drawn.curves.curves = std::move(curves);
  options.form = EngravingForm::groove;
  options.depth_mm = deepest;
  return options;
}

struct Board {
  std::shared_ptr<const ContactPart> part;
  std::function<double(double, double)> z;
  Stock stock;
};
Board board(const std::function<double(double, double)>& z) {
  Board result{make_contact_part(testing::sheet(Box2(Vec2(-12, -12), Vec2(12, 12)), 96, 96, z)), z,
               Stock(Box3(Vec3(-10, -10, -6), Vec3(10, 10, 3)), 0.05)};
  const TipSurface needle(result.part, Profile::needle());
  for (int row = 0; row < result.stock.rows(); ++row)
    for (int column = 0; column < result.stock.columns(); ++column)
      result.stock.set_height(column, row, needle.height(result.stock.centre(column, row)));
  return result;
}

TEST(Groove, FillsItsOutlineCornersTooAndNothingBesideIt) {
  const Board flat = board([](double, double) { return 0.0; });
  const ToolSurface surface = testing::exact_surface(flat.part, chamfer());
  const std::vector<std::vector<Curve>> shapes{
      {star({0, 0}, 6, 2.4)},
      {loop({{-6, -5}, {6, -5}, {6, -2}, {-2, -2}, {-2, 6}, {-6, 6}})},
      {circle_curve({0, 0}, 6), circle_curve({1, 0}, 3.5)},  // a ring that is not even
      {loop({{-7, -1}, {7, -0.2}, {7, 0.2}, {-7, 1}})}};
  for (const std::vector<Curve>& curves : shapes) {
    const Region area = area_of(curves);
    const CutPlan plan =
        cuts_of(groove_of(curves), {surface, rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))), nullptr, 0.01});
    const Stock after = link_cuts(plan, surface, flat.stock, {.plane_z = 20}).stock;
    double worst = 0;
    for (int row = 0; row < after.rows(); ++row)
      for (int column = 0; column < after.columns(); ++column) {
        const double in = inside_by(area, after.centre(column, row));
        const double depth = -after.height(column, row);
        // Flanks of 45 degrees: as deep as it is far from the sides.
        worst = std::max(worst, std::abs(depth - std::max(0.0, in)));
      }
    EXPECT_LT(worst, 0.02);
  }
}

TEST(Groove, KeepsItsRimOnCrownedGround) {
  const auto crown = [](double x, double y) { return -0.02 * x * x - 0.01 * y * y + 0.08 * x; };
  const Board crowned = board(crown);
  const ToolSurface surface = testing::exact_surface(crowned.part, chamfer());
  const std::vector<Curve> curves{star({1, 1}, 6, 2.4)};
  const Region area = area_of(curves);
  const CutPlan plan =
      cuts_of(groove_of(curves), {surface, rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))), nullptr, 0.01});
  const Stock after = link_cuts(plan, surface, crowned.stock, {.plane_z = 20}).stock;
  int uncut = 0, cut = 0;
  for (int row = 0; row < after.rows(); ++row)
    for (int column = 0; column < after.columns(); ++column) {
      const double in = inside_by(area, after.centre(column, row));
      const double depth = crowned.stock.height(column, row) - after.height(column, row);
      if (in < -0.001) EXPECT_LT(depth, 1e-6) << "beside the outline";
      if (in > 0.02) ++(depth > 1e-6 ? cut : uncut);
    }
  EXPECT_GT(cut, 10000);
  EXPECT_LE(uncut, cut / 1000) << "places farther than 0.02 inside that are not cut";
}

TEST(Groove, WhereTheCutterDoesNotReachAcrossTheSidesAreCut) {
  const Board flat = board([](double, double) { return 0.0; });
  const ToolSurface surface = testing::exact_surface(flat.part, chamfer());
  const std::vector<Curve> curves{rectangle_curve({-8, -6}, {8, 6})};
  const CutPlan plan =
      cuts_of(groove_of(curves, 1), {surface, rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))), nullptr, 0.01});
  const Stock after = link_cuts(plan, surface, flat.stock, {.plane_z = 20}).stock;
  double deepest = 0;
  for (const double z : after.heights()) deepest = std::min(deepest, z);
  EXPECT_NEAR(deepest, -1, 0.03) << "at the centre of a cell";
  EXPECT_NEAR(after.heights()[*after.cell_at({0, 0})], 0, 1e-9) << "the middle stays";
  EXPECT_NEAR(after.heights()[*after.cell_at({-7.5, 0.02})], -0.5, 0.03);
  const auto told = [&](const char* about) {
    return std::any_of(plan.notes.begin(), plan.notes.end(),
                       [&](const Note& note) { return note.about == about; });
  };
  EXPECT_TRUE(told("floor"));
  const CutPlan blunt =
      cuts_of(groove_of(curves, 1), {testing::exact_surface(flat.part, chamfer(0.4)),
                                     rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))), nullptr, 0.01});
  EXPECT_EQ(blunt.notes.back().about, "tip");
}

TEST(MiddleLines, OfARectangleAreItsRidgeAndFourBranches) {
  const Region area = rectangle(Box2(Vec2(-6, -2), Vec2(6, 2)));
  const auto lines = middle_lines(area, {});
  double length_mm = 0;
  for (const auto& line : lines)
    for (std::size_t i = 1; i < line.size(); ++i) {
      length_mm += (line[i].at - line[i - 1].at).norm();
      EXPECT_NEAR(line[i].off_mm, inside_by(area, line[i].at), 1e-4);
    }
  EXPECT_EQ(lines.size(), 5u);
  EXPECT_NEAR(length_mm, 8 + 4 * 2 * std::sqrt(2), 1e-3);
  // A circle of chords has no corners; a dumb-bell's neck stays.
  EXPECT_LE(middle_lines({{in_plan(circle_curve({0, 0}, 5))}}, {}).size(), 1u);
  EXPECT_TRUE(middle_lines({}, {}).empty());
  for (const auto& line : middle_lines(area, {.most_mm = 1}))
    for (const MiddlePlace& place : line) EXPECT_LE(place.off_mm, 1 + 1e-9);
}

TEST(Groove, NeverBesideItsOutlineOnAnyGroundAndTheSameBits) {
  for (const testing::Ground& ground : testing::grounds()) {
    SCOPED_TRACE(ground.name);
    const auto part = make_contact_part(ground.mesh);
    const ToolSurface surface = testing::exact_surface(part, chamfer());
    const std::vector<Curve> curves{star({0, 0}, 8, 3), circle_curve({9, 9}, 2)};
    const Region all = rectangle(Box2(Vec2(-14, -14), Vec2(14, 14)));
    const auto planned = [&](std::size_t threads) {
      const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
      return link_cuts(cuts_of(groove_of(curves, 1.5), {surface, all, nullptr, 0.01}), surface,
                       Stock(Box3(Vec3(-16, -16, -8), Vec3(16, 16, 12)), 0.5), {.plane_z = 40})
          .path;
    };
    const Toolpath path = planned(2);
    const TipSurface rim(make_contact_part(rim_walls(part, area_of(curves), 6)), surface.cutter());
    Vec3 at = path.start;
    for (const Move& move : path.moves) {
      EXPECT_GE(surface.clearance(at, move.to, -1.5).room, -1.5 - 1e-6);
      if (move.kind == MoveKind::cut) EXPECT_GE(rim.clearance(at, move.to, 0).room, -0.003);
      at = move.to;
    }
    const Toolpath one = planned(1);
    ASSERT_EQ(one.moves.size(), path.moves.size());
    for (std::size_t i = 0; i < one.moves.size(); ++i) EXPECT_EQ(one.moves[i].to, path.moves[i].to);
  }
}

}  // namespace
}  // namespace yardpass
