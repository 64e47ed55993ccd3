// Down closed walls in one line.
#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "support/turned_parts.h"
#include "yardpass/plan/contours.h"

namespace yardpass {
namespace {

constexpr double kTolerance = 0.01;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

/// One unbroken line from contour to contour down a closed wall, free and met for all its points.
TEST(Helix, DownClosedWallsOfEveryKind) {
  struct Case {
    const char* name;
    Mesh mesh;
    std::vector<double> levels;
    std::size_t walls;
  };
  Mesh block = testing::sheet(Box2(Vec2(-60, -60), Vec2(60, 60)), 1, 1, [](double, double) { return -30.0; });
  testing::add_walls(block, {{-50, -40}, {50, -40}, {50, 40}, {-50, 40}}, -30, 0);
  testing::add_walls(block, {{-30, -20}, {-30, 20}, {30, 20}, {30, -20}}, -30, 0);
  const Case cases[] = {
      {"sphere",
       testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.999, 200), 360),
       {38, 36, 32, 27, 20},
       1},
      {"torus", testing::turned_part(testing::arc_chain({40, 0}, 12, 0, 180, 120), 360), {9, 8, 6, 3, -1}, 2},
      {"block", block, {-3, -5, -8, -12, -20}, 4}};
  for (const Case& one : cases)
    for (const bool flat : {false, true})
      for (const bool left : {false, true}) {
        const TipSurface surface(make_contact_part(one.mesh), flat ? Profile::flat(6) : Profile::ball(6));
        const TipSurface thicker = surface.with_more_allowance(kTolerance);
        const Contours contours(surface, square(62));
        std::vector<LevelContours> levels;
        for (const double z : one.levels) levels.push_back(contours.at(z));
        for (const Contour& first : levels[0].lines) {
          const auto beside = [&](const LevelContours& level) -> const Contour& {
            const Contour* best = nullptr;
            double least = 1e300;
            for (const Contour& line : level.lines) {
              const double off = nearest_on_loop(line.points, first.points[0]).distance_mm;
              if (off < least && (signed_area(line.points) > 0) == (signed_area(first.points) > 0))
                least = off, best = &line;
            }
            return *best;
          };
          std::vector<Contours::Lap> laps;
          for (const LevelContours& level : levels) laps.push_back({beside(level), level.z});
          const auto helix = contours.helix(laps, left);
          ASSERT_TRUE(helix) << one.name << flat << left;
          EXPECT_EQ(helix->front().z(), one.levels.front());
          EXPECT_EQ(helix->back().z(), one.levels.back());
          double round = 0;
          for (std::size_t i = 0; i + 1 < helix->size(); ++i) {
            const Vec3 &a = (*helix)[i], &b = (*helix)[i + 1];
            ASSERT_LE(b.z(), a.z()) << "never up";
            ASSERT_GE(surface.clearance(a, b, 0.0).room, 0) << one.name;
            for (int k = 0; k <= 8; ++k) {
              const Vec3 p = a + (b - a) * (k / 8.0);
              ASSERT_GE(thicker.height(plan(p)), p.z() - 1e-7) << one.name;
            }
            round += (b - a).norm();
          }
          double expected = 0;
          for (const Contours::Lap& lap : laps)
            expected += length(std::span<const Vec2>(lap.contour.points)) +
                        (lap.contour.points.front() - lap.contour.points.back()).norm();
          EXPECT_NEAR(round, expected, 0.1 * expected) << "a lap for each level, and a level one at the end";
        }
        EXPECT_EQ(levels[0].lines.size(), one.walls) << one.name;
      }
}

}  // namespace
}  // namespace yardpass
