// Contours against formulas, by definition, at gaps as narrow as the tolerance, and where a trace could go
// round for ever.
#include "yardpass/plan/contours.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/turned_parts.h"
#include "yardpass/contact/push.h"

namespace yardpass {
namespace {

using testing::Rng;

/// Each piece free of the part, and met all along by a tool thicker by the tolerance: the second by asking
/// every triangle near it.
void expect_sound(const LevelContours& level, const TipSurface& surface, double tolerance,
                  const std::string& what) {
  const TipSurface thicker = surface.with_more_allowance(tolerance);
  EXPECT_TRUE(level.broken_off.empty())
      << what << " at " << (level.broken_off.empty() ? Vec2(0, 0) : level.broken_off[0]).transpose();
  for (const Contour& line : level.lines)
    for (std::size_t i = 0; i + (line.closed ? 0 : 1) < line.points.size(); ++i) {
      const Vec2 &a = line.points[i], &b = line.points[(i + 1) % line.points.size()];
      ASSERT_GE(surface.clearance(with_z(a, level.z), with_z(b, level.z), 0.0).room, 0) << what;
      double bare = 0, at = 0;
      for (const LinePiece& met : push(thicker, a, b, level.z))
        bare += std::max(0.0, met.from - at), at = std::max(at, met.to);
      ASSERT_LT((bare + std::max(0.0, 1 - at)) * (b - a).norm(), 1e-6) << what << " at " << a.transpose();
    }
}

std::size_t closed_count(const LevelContours& level) {
  return static_cast<std::size_t>(
      std::count_if(level.lines.begin(), level.lines.end(), [](const Contour& c) { return c.closed; }));
}

/// All along the lines: how far off a formula of the distance in plan (above 0: off the part).
std::pair<double, double> errors(const LevelContours& level, const std::function<double(const Vec2&)>& off) {
  double least = 1e300, most = -1e300;
  for (const Contour& line : level.lines)
    for (std::size_t i = 0; i < line.points.size(); ++i)
      for (int k = 0; k < 8; ++k) {
        const Vec2 &a = line.points[i], &b = line.points[(i + 1) % line.points.size()];
        const double error = off(a + (b - a) * (k / 8.0));
        least = std::min(least, error), most = std::max(most, error);
      }
  return {least, most};
}

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

constexpr double kTolerance = 0.01;
constexpr double kMeshGap = 0.004;  // between facets and the true form

TEST(Contours, OfASphere) {
  const auto part =
      make_contact_part(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.999, 300), 720));
  const TipSurface surface(part, Profile::ball(6));
  const Contours contours(surface, square(50));
  for (const double z : {38.5, 30.0, 20.0, 4.0}) {
    const LevelContours level = contours.at(z);
    ASSERT_EQ(level.lines.size(), 1u) << z;
    EXPECT_TRUE(level.lines[0].closed);
    expect_sound(level, surface, kTolerance, "sphere");
    const double radius = std::sqrt(43 * 43 - (z + 3) * (z + 3)), sine = radius / 43;
    const auto [least, most] = errors(level, [&](const Vec2& p) { return p.norm() - radius; });
    EXPECT_GT(least * sine, -kMeshGap) << z;
    EXPECT_LT(most * sine, kTolerance + kMeshGap) << z;
    EXPECT_LT(signed_area(level.lines[0].points), 0) << "the material on the right: clockwise round it";
    EXPECT_LT(static_cast<double>(level.lines[0].points.size()), 2 * 2 * std::numbers::pi * radius);
  }
  EXPECT_TRUE(contours.at(41).lines.empty());
}

TEST(Contours, OfATorusAreTwo) {
  // A ring of radius 12 about a circle of 40, the plate through its middle.
  Mesh mesh = testing::turned_part(testing::arc_chain({40, 0}, 12, 0, 180, 240), 900);
  const auto part = make_contact_part(mesh);
  const TipSurface surface(part, Profile::ball(6));
  const Contours contours(surface, square(60));
  for (const double z : {11.0, 6.0, 0.5, -2.9}) {
    const LevelContours level = contours.at(z);
    ASSERT_EQ(closed_count(level), 2u) << z;
    ASSERT_EQ(level.lines.size(), 2u) << z;
    expect_sound(level, surface, kTolerance, "torus");
    const double wide = std::sqrt(15.0 * 15 - (z + 3) * (z + 3)), sine = wide / 15;
    const auto [least, most] = errors(level, [&](const Vec2& p) { return std::abs(p.norm() - 40) - wide; });
    EXPECT_GT(least * sine, -kMeshGap) << z;
    EXPECT_LT(most * sine, kTolerance + kMeshGap) << z;
    int outer = 0;
    for (const Contour& line : level.lines) outer += signed_area(line.points) < 0;
    EXPECT_EQ(outer, 1) << "round the ring clockwise, inside it counter-clockwise";
  }
}

/// Above 0 outside a rectangle with round corners.
double off_rectangle(const Vec2& p, double half_x, double half_y, double corner) {
  const double u = std::abs(p.x()) - (half_x - corner), v = std::abs(p.y()) - (half_y - corner);
  if (u > 0 && v > 0) return std::hypot(u, v) - corner;
  return std::max(u, v) - corner;
}

TEST(Contours, OfUprightWallsAreExactAndTurnSharpInnerCorners) {
  Mesh mesh = testing::sheet(Box2(Vec2(-60, -60), Vec2(60, 60)), 1, 1, [](double, double) { return -30.0; });
  testing::add_walls(mesh, {{-50, -40}, {50, -40}, {50, 40}, {-50, 40}}, -30, 0);
  testing::add_walls(mesh, {{-30, -20}, {-30, 20}, {30, 20}, {30, -20}}, -30, 0);
  const auto part = make_contact_part(mesh);
  for (const bool flat : {false, true}) {
    const double radius = flat ? 5 : 3;
    const TipSurface surface(part, flat ? Profile::flat(10) : Profile::ball(6));
    const Contours contours(surface, square(58));
    for (const double z : {-5.0, -16.0, -25.0}) {
      const LevelContours level = contours.at(z);
      expect_sound(level, surface, kTolerance, "block");
      EXPECT_TRUE(level.unproven_gaps.empty()) << "corners of two walls are no gaps";
      // Between the two walls there is room too: inside the hollow block.
      double outer = 0, inner = 0;
      for (const Contour& line : level.lines) {
        ASSERT_TRUE(line.closed);
        const double size = off_rectangle(line.points[0], 50, 40, 0) > 0 ? 1 : 0;
        (size > 0 ? outer : inner) += 1;
      }
      EXPECT_EQ(outer, 1) << z;
      const auto [least, most] = errors(level, [&](const Vec2& p) {
        const double out = off_rectangle(p, 50 + radius, 40 + radius, radius),
                     pocket = -off_rectangle(p, 30 - radius, 20 - radius, 0),
                     between = -off_rectangle(p, 50 - radius, 40 - radius, 0),
                     round = off_rectangle(p, 30 + radius, 20 + radius, radius);
        double best = 1e9;
        for (const double d : {out, pocket, between, round})
          if (std::abs(d) < std::abs(best)) best = d;
        return best;
      });
      EXPECT_GT(least, -1e-6) << z;
      EXPECT_LT(most, kTolerance + 1e-6) << z;
      for (const double sx : {-1.0, 1.0})
        for (const double sy : {-1.0, 1.0}) {
          const Vec2 corner(sx * (30 - radius), sy * (20 - radius));
          double near = 1e9;
          for (const Contour& line : level.lines)
            for (const Vec2& p : line.points) near = std::min(near, (p - corner).norm());
          EXPECT_LT(near, kTolerance) << "a point in the corner";
        }
    }
  }
}

/// A plate with holes through which the tool goes with little play.
TEST(Contours, FindEveryBoreAndSlotWithMorePlayThanTheTolerance) {
  for (const bool slots : {false, true}) {
    Rng rng(slots ? 3 : 5);
    Mesh mesh;
    struct Hole {
      Vec2 at;
      double play;
    };
    std::vector<Hole> holes;
    int k = 0;
    for (const double play : {0.005, 0.0105, 0.012, 0.02, 0.05, 0.2, 0.8})
      for (int repeat = 0; repeat < 4; ++repeat, ++k) {
        const Vec2 at(25.0 * (k / 4) + rng.uniform(0, 3), 25.0 * repeat + rng.uniform(0, 3));
        holes.push_back({at, play});
        Polyline2 outline;
        if (slots) {
          const double angle = rng.uniform(0, 3), wide = 3 + play / 2, half = 7;
          const Vec2 u(std::cos(angle), std::sin(angle)), v(-u.y(), u.x());
          outline = {at + half * u + wide * v, at - half * u + wide * v, at - half * u - wide * v,
                     at + half * u - wide * v};
        } else {
          const double turn = rng.uniform(0, 1);
          for (int i = 0; i < 96; ++i) {
            const double angle = 2 * std::numbers::pi * (i + turn) / 96;
            outline.push_back(at + (3 + play / 2) / std::cos(std::numbers::pi / 96) *
                                       Vec2(std::cos(angle), std::sin(angle)));
          }
        }
        testing::add_walls(mesh, outline, -10, 0);
        // The face around it, from the hole to a square.
        const auto first = static_cast<std::int32_t>(mesh.points.size());
        const auto count = static_cast<std::int32_t>(outline.size());
        for (const Vec2& p : outline) {
          mesh.points.push_back(with_z(p, 0));
          mesh.points.push_back(with_z(at + 12.0 / (p - at).cwiseAbs().maxCoeff() * (p - at), 0));
        }
        for (std::int32_t i = 0; i < count; ++i) {
          const std::int32_t a = first + 2 * i, b = first + 2 * ((i + 1) % count);
          mesh.triangles.push_back({a, a + 1, b + 1});
          mesh.triangles.push_back({a, b + 1, b});
        }
      }
    const auto part = make_contact_part(mesh);
    const TipSurface surface(part, Profile::ball(6));
    const LevelContours level = Contours(surface, rectangle(plan(part->box()))).at(-5);
    expect_sound(level, surface, kTolerance, slots ? "slots" : "bores");
    for (const Hole& hole : holes) {
      int found = 0;
      for (const Contour& line : level.lines) {
        double far = 0;
        for (const Vec2& p : line.points) far = std::max(far, (p - hole.at).norm());
        found += line.closed && far < 8;
        EXPECT_TRUE(!line.closed || far > 8 || signed_area(line.points) > 0) << "counter-clockwise in a hole";
      }
      EXPECT_EQ(found, hole.play > kTolerance ? 1 : 0) << slots << " play " << hole.play;
    }
  }
}

double ground(double x, double y) {
  return 4 * std::sin(0.21 * x + 0.4) * std::cos(0.17 * y) + 2 * std::sin(0.5 * x - 0.33 * y) +
         0.7 * std::cos(1.1 * x + 0.9 * y);
}

TEST(Contours, OnRoughGroundEndSoonAndAreTheSameFromAnySeeds) {
  const auto part = make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 200, 200, ground));
  const TipSurface surface(part, Profile::ball(4));
  const Region area = square(36);
  const Contours fine(surface, area, {.spacing_mm = 1.0}), coarse(surface, area, {.spacing_mm = 2.3});
  for (const double z : {-4.0, -1.5, 0.0, 1.3, 3.7}) {
    const LevelContours a = fine.at(z), b = coarse.at(z);
    expect_sound(a, surface, kTolerance, "ground");
    expect_sound(b, surface, kTolerance, "ground");
    double lengths[2] = {0, 0};
    std::size_t closed[2] = {0, 0};
    for (int which = 0; which < 2; ++which)
      for (const Contour& line : (which ? b : a).lines)
        for (const Contour& piece : within(line, square(30))) {
          Polyline2 points = piece.points;
          if (piece.closed) points.push_back(points.front());
          lengths[which] += length(std::span<const Vec2>(points));
          closed[which] += piece.closed;
        }
    EXPECT_EQ(closed[0], closed[1]) << z;
    EXPECT_NEAR(lengths[0], lengths[1], 0.005 * lengths[0]) << z;
    EXPECT_GT(lengths[0], 80) << z;
  }
}

TEST(Contours, JustAboveAFlatDoNotGoAstray) {
  // A ring on a plate: half the tolerance above the plate, and one and a half.
  Polyline2 chain = testing::arc_chain({40, 0}, 12, 0, 180, 200);
  chain.insert(chain.begin(), {70, 0});
  chain.push_back({1e-3, 0});
  const auto part = make_contact_part(testing::turned_part(chain, 720));
  const TipSurface surface(part, Profile::ball(6));
  const Contours contours(surface, square(60));
  const LevelContours level = contours.at(1.5 * kTolerance);
  EXPECT_EQ(closed_count(level), 2u);
  expect_sound(level, surface, kTolerance, "above");
  const LevelContours below = contours.at(0.5 * kTolerance);  // ends
  for (const Contour& line : below.lines) EXPECT_LT(line.points.size(), 20000u);
}

/// Where contours cross, or nearly do, and through necks that the tolerance just closes or opens.
TEST(Contours, EndAtSaddlesAndInNecksAsNarrowAsTheTolerance) {
  const auto saddle = make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 81, 81,
                                                       [](double x, double y) { return x * y / 20; }));
  const TipSurface ball(saddle, Profile::ball(6));
  const Contours over(ball, square(16));
  const double middle = ball.height({0, 0});
  for (const double off : {-0.02, -0.005, -1e-6, 0.0, 1e-6, 0.0025, 0.005, 0.0075, 0.02}) {
    const LevelContours level = over.at(middle + off);
    expect_sound(level, ball, kTolerance, "saddle");
    double sum = 0;
    for (const Contour& line : level.lines)
      for (const Contour& piece : within(line, square(15)))
        sum += length(std::span<const Vec2>(piece.points));
    EXPECT_GT(sum, 55) << off;  // two branches from side to side
    EXPECT_LT(sum, 75) << off << ", each once";
  }
  // Two rooms, and between them a neck that is so much wider than the tool.
  for (const double play : {0.006, 0.0099, 0.0101, 0.011, 0.02})
    for (const double angle : {0.0, 0.47}) {
      const double half = 3 + play / 2;
      Polyline2 outline{{-25, -10}, {-6, -10}, {-6, -half}, {6, -half}, {6, -10}, {25, -10},
                        {25, 10},   {6, 10},   {6, half},   {-6, half}, {-6, 10}, {-25, 10}};
      for (Vec2& p : outline)
        p = Vec2(std::cos(angle) * p.x() - std::sin(angle) * p.y(),
                 std::sin(angle) * p.x() + std::cos(angle) * p.y());
      Mesh mesh;
      testing::add_walls(mesh, outline, 0, 10);
      const TipSurface flat(make_contact_part(mesh), Profile::flat(6));
      const LevelContours level = Contours(flat, square(20)).at(5);
      expect_sound(level, flat, kTolerance, "neck");
      double sum = 0;
      for (const Contour& line : level.lines)
        for (const Contour& piece : within(line, Region{{{{-12, -20}, {12, -20}, {12, 20}, {-12, 20}}}}))
          sum += length(std::span<const Vec2>(piece.points)) +
                 (piece.closed ? (piece.points.front() - piece.points.back()).norm() : 0);
      EXPECT_LT(sum, 400) << play << " nothing round and round";
      double nearest = 1e9;  // to the middle of the neck
      for (const Contour& line : level.lines)
        for (std::size_t i = 0; i + (line.closed ? 0 : 1) < line.points.size(); ++i)
          nearest = std::min(nearest, distance_to_segment({0, 0}, line.points[i],
                                                          line.points[(i + 1) % line.points.size()]));
      EXPECT_EQ(nearest<0.1, play> kTolerance) << play << " open or closed";
    }
}

TEST(Contours, StayWhereTheyAreWanted) {
  const auto part = make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 160, 160, ground));
  const TipSurface surface(part, Profile::ball(4));
  const Region area{{{{-10, -10}, {12, -8}, {9, 11}, {-12, 7}}}};
  const Region all = square(38);
  const Contours of_area(surface, area, {.spacing_mm = 1.0}), of_all(surface, all, {.spacing_mm = 1.3});
  for (const double z : {-2.0, 0.5}) {
    const auto total = [&](const LevelContours& level) {
      double sum = 0;
      for (const Contour& line : level.lines)
        for (const Contour& piece : within(line, area)) {
          const double size = length(std::span<const Vec2>(piece.points));
          if (size < 5) continue;  // on the floor of a pit the tolerance leaves a choice
          sum += size;
          if (piece.closed) sum += (piece.points.front() - piece.points.back()).norm();
        }
      return sum;
    };
    const double whole = total(of_all.at(z));
    EXPECT_GT(whole, 10);
    EXPECT_NEAR(total(of_area.at(z)), whole, 0.003 * whole);
    EXPECT_NEAR(total(of_all.at(z, area)), whole, 0.003 * whole);
    for (const Contour& line : of_area.at(z).lines)
      for (const Vec2& p : line.points) EXPECT_TRUE(offset(area, 5).contains(p));
  }
}

TEST(Contours, RefuseWhatTheyCannotDo) {
  const TipSurface surface(make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1)))),
                           Profile::ball(2));
  EXPECT_THROW(Contours(surface, square(1), {.tolerance_mm = 0}), Error);
  EXPECT_THROW(Contours(surface, square(1), {.spacing_mm = -1}), Error);
  EXPECT_TRUE(Contours(surface, {}).at(0).lines.empty());
  EXPECT_TRUE(Contours(surface, square(1)).at(7).lines.empty());
  EXPECT_THROW(Contours(surface, square(1), {}, [](double) { return false; }), Stopped);
}

TEST(Within, PiecesOfAContour) {
  const Contour round{{{-5, -5}, {5, -5}, {5, 5}, {-5, 5}}, true};
  EXPECT_TRUE(within(round, square(6))[0].closed);
  ASSERT_EQ(within(round, square(6)).size(), 1u);
  EXPECT_TRUE(within(round, square(3)).empty());
  const Region right = rectangle(Box2(Vec2(0, -9), Vec2(9, 9)));
  const auto half = within(round, right);
  ASSERT_EQ(half.size(), 1u);
  EXPECT_FALSE(half[0].closed);
  EXPECT_NEAR(length(std::span<const Vec2>(half[0].points)), 20, 1e-9);
  const Region left = rectangle(Box2(Vec2(-9, -9), Vec2(0, 9)));
  const auto other = within(round, left);  // over the start
  ASSERT_EQ(other.size(), 1u);
  EXPECT_NEAR(length(std::span<const Vec2>(other[0].points)), 20, 1e-9);
}

}  // namespace
}  // namespace yardpass
