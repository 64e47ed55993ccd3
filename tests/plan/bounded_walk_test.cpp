#include "yardpass/plan/bounded_walk.h"

#include <gtest/gtest.h>

#include "plan/walked.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Region disc(const Vec2& centre, double radius) {
  Polyline2 loop;
  for (int k = 0; k < 180; ++k)
    loop.push_back(centre + radius * Vec2(std::cos(k * kPi / 90), std::sin(k * kPi / 90)));
  return {{loop}};
}
Region box(double x0, double y0, double x1, double y1) { return rectangle({Vec2(x0, y0), Vec2(x1, y1)}); }

struct Level {
  std::string name;
  Region stock, axis;
  double remains = 0.01;  ///< share of what can be reached that may stay in corners too narrow for any loop
};

/// Of a radius of 5.
std::vector<Level> levels() {
  constexpr double r = 5;
  const Region block = box(-70, -50, 70, 50);
  std::vector<Level> result;
  result.push_back({"pocket", block, offset(box(-40, -30, 40, 30), -r)});
  Polyline2 star;
  for (int k = 0; k < 10; ++k)
    star.push_back((k % 2 ? 16.0 : 45.0) * Vec2(std::cos(k * kPi / 5 + 0.3), std::sin(k * kPi / 5 + 0.3)));
  result.push_back({"star", block, offset({{star}}, -r)});
  Region islands = subtract(box(-60, -40, 60, 40), disc({-20, 5}, 12));
  islands = subtract(subtract(islands, box(10, -25, 30, -5)), disc({35, 20}, 7));
  result.push_back({"islands", block, offset(islands, -r)});
  result.push_back(
      {"slot and room", block, offset(unite(box(-60, -1.3 * r, 0, 1.3 * r), box(0, -25, 50, 25)), -r)});
  result.push_back({"open core", block,
                    subtract(box(-70 - 1.4 * r, -50 - 1.4 * r, 70 + 1.4 * r, 50 + 1.4 * r),
                             offset(unite(box(-30, -15, 20, 15), disc({25, 5}, 14)), r))});
  return result;
}

/// Ways down as a tool that may go down anywhere in the area has them.
WaysDown anywhere(double least_helix, double greatest_helix) {
  WaysDown down;
  down.helix = [=](const Vec2& at, double room, double least) -> std::optional<Helix> {
    const double radius = std::min(room - 0.2, greatest_helix);
    if (radius < std::max(least, least_helix)) return std::nullopt;
    return Helix{at, radius, false};
  };
  down.ramp = [](const Vec2& from, const Vec2& to) { return (to - from).norm() > 2; };
  return down;
}

LevelRaster raster_of(const Level& level, double radius, double cell) {
  LevelMaterial material;
  material.stands = [&](const Vec2& p) { return level.stock.contains(p); };
  material.wanted = [](const Vec2&) { return true; };
  material.block = level.stock.box();
  material.all_stands = true;
  return level_raster(level.axis, material, radius, cell, 0.01);
}

struct Walked {
  BoundedWalk walk;
  test::JudgedWalk judged;
  double left_mm2 = 0;
};

Walked walked(const Level& level, double engagement, MaterialHand hand, double radius = 5) {
  BoundedWalkOptions options{radius, engagement, hand, level.axis.box().min()};
  Walked result{
      walk_bounded(raster_of(level, radius, radius / 45), options, anywhere(0.15 * radius, 0.5 * radius)),
      {},
      0};
  Box2 all = level.stock.box();
  test::WalkJudge judge(level.stock, all, radius);
  result.judged = judge.judge(result.walk.pieces, engagement);
  result.left_mm2 = judge.left_mm2(level.axis, 0.1);
  return result;
}

class BoundedWalkOn : public testing::TestWithParam<double> {};

TEST_P(BoundedWalkOn, PocketsIslandsSlotsAndCoresKeepsTheAngle) {
  const double angle = GetParam(), stepover = 5 * (1 - std::cos(angle * kPi / 180));
  bool climb = static_cast<int>(angle) % 2 == 0;
  for (const Level& level : levels()) {
    climb = !climb;
    const Walked one = walked(level, angle, climb ? MaterialHand::right : MaterialHand::either);
    SCOPED_TRACE(level.name + (climb ? ", climb" : ", both hands"));
    const double ideal = one.judged.removed_mm2 / stepover;
    EXPECT_LE(one.judged.over_5, 0.01);
    EXPECT_LE(one.judged.over_15, 0.0002);
    EXPECT_LE(one.judged.cut_mm, 1.25 * ideal);
    EXPECT_LE(one.judged.idle, 0.15);
    EXPECT_LE(one.judged.touched_by_links_mm2, 0.015 * one.judged.removed_mm2);
    EXPECT_LE(one.left_mm2, level.remains * one.judged.removed_mm2);
  }
}
INSTANTIATE_TEST_SUITE_P(Angles, BoundedWalkOn, testing::Values(30, 45, 60, 90));

/// Length of what cuts, number of pieces and of ways down.
struct Figures {
  double cut = 0;
  std::size_t pieces = 0;
  int helices = 0;
};
Figures figures_of(const BoundedWalk& walk) {
  Figures figures;
  figures.pieces = walk.pieces.size();
  for (const WalkPiece& piece : walk.pieces) {
    if (piece.kind == WalkPiece::Kind::helix) ++figures.helices;
    if (piece.kind == WalkPiece::Kind::cut) figures.cut += length(std::span<const Vec2>(piece.points));
  }
  return figures;
}

Region mirrored(const Region& region) {
  Region result = region;
  for (Polyline2& loop : result.loops) {
    for (Vec2& p : loop) p.x() = -p.x();
    std::reverse(loop.begin(), loop.end());
  }
  return result;
}

TEST(BoundedWalk, AMirroredPartGivesMirroredFigures) {
  const Level one = levels()[1], other{"mirrored", mirrored(one.stock), mirrored(one.axis)};
  const auto walk = [](const Level& level, MaterialHand hand) {
    return figures_of(
        walk_bounded(raster_of(level, 5, 5.0 / 45), {5, 60, hand, {0, 0}}, anywhere(0.75, 2.5)));
  };
  const Figures a = walk(one, MaterialHand::right), b = walk(other, MaterialHand::left);
  EXPECT_EQ(a.helices, b.helices);
  EXPECT_NEAR(a.cut, b.cut, 0.02 * a.cut);
}

TEST(BoundedWalk, TheSameAgainGivesTheSameBits) {
  const Level level = levels()[3];
  const auto once = [&] {
    return walk_bounded(raster_of(level, 5, 5.0 / 45), {5, 60, MaterialHand::either, {0, 0}},
                        anywhere(0.75, 2.5));
  };
  const BoundedWalk a = once(), b = once();
  ASSERT_EQ(a.pieces.size(), b.pieces.size());
  for (std::size_t k = 0; k < a.pieces.size(); ++k) EXPECT_EQ(a.pieces[k].points, b.pieces[k].points);
}

TEST(BoundedWalk, EndsOnAreasSmallerThanItsLeastLoop) {
  const Region block = box(-50, -50, 50, 50);
  for (const double size : {0.01, 0.1, 0.5, 1.0, 2.0}) {
    const Level level{"small", block, box(-size, -size, size, size)};
    const Walked one = walked(level, 60, MaterialHand::right);
    if (one.walk.pieces.empty()) {
      ASSERT_FALSE(one.walk.remains.empty()) << size;
      EXPECT_GT(one.walk.remains.front().area_mm2, 10) << size << ": what nothing leads into is told";
    }
    EXPECT_LT(one.walk.steps, 20000) << size;
  }
}

TEST(BoundedWalk, EndsWhereNothingIsToBeCut) {
  const Level level = levels()[0];
  LevelMaterial nothing;
  nothing.stands = nothing.wanted = [](const Vec2&) { return false; };
  nothing.block = level.stock.box();
  const BoundedWalk walk = walk_bounded(level_raster(level.axis, nothing, 5, 0.2, 0.01),
                                        {5, 60, MaterialHand::right, {0, 0}}, anywhere(0.75, 2.5));
  EXPECT_TRUE(walk.pieces.empty());
  EXPECT_TRUE(walk.remains.empty());
}

/// Only material that is wanted is walked for; other material counts where it is met.
TEST(BoundedWalk, LeavesWhatIsNotWanted) {
  const Level level{"slab", box(-30, -30, 30, 30), box(-60, -60, 60, 60)};
  LevelMaterial material;
  material.stands = [&](const Vec2& p) { return level.stock.contains(p); };
  material.wanted = [](const Vec2& p) { return p.x() > 10; };
  material.block = level.stock.box();
  material.all_stands = true;
  const BoundedWalk walk = walk_bounded(level_raster(level.axis, material, 5, 5.0 / 45, 0.01),
                                        {5, 60, MaterialHand::right, {0, 0}}, anywhere(0.75, 2.5));
  test::WalkJudge judge(level.stock, level.stock.box(), 5);
  const test::JudgedWalk judged = judge.judge(walk.pieces, 60);
  EXPECT_GT(judged.removed_mm2, 20 * 60);
  EXPECT_LT(judged.removed_mm2, 45 * 60) << "a pass goes on for a while in what it is not there for";
  EXPECT_LE(judged.over_5, 0.01);
}

/// Both ends of a slot that is just wider than the cutter are reached.
TEST(BoundedWalk, CutsASlotLittleWiderThanTheCutter) {
  const Level level{"slot", box(-50, -20, 50, 20), offset(box(-40, -5.3, 40, 5.3), -5)};
  const Walked one = walked(level, 60, MaterialHand::right);
  EXPECT_LE(one.left_mm2, 0.02 * 80 * 10.6);
}

TEST(BoundedWalk, RefusesImpossibleOptions) {
  const LevelRaster raster = raster_of(levels()[0], 5, 0.5);
  EXPECT_THROW((void)walk_bounded(raster, {0, 60}, {}), Error);
  EXPECT_THROW((void)walk_bounded(raster, {5, 5}, {}), Error);
  EXPECT_THROW((void)walk_bounded(raster, {5, 181}, {}), Error);
}

}  // namespace
}  // namespace yardpass
