// Valleys against closed forms: grooves, feet of tori, pockets with and without fillets, scans with noise.
#include "yardpass/plan/valleys.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "builder.h"
#include "support/boxes.h"
#include "support/planning.h"
#include "support/turned_parts.h"

namespace yardpass {
namespace {

constexpr double kDegree = std::numbers::pi / 180;

Region box_area(double x, double y) { return rectangle(Box2(Vec2(-x, -y), Vec2(x, y))); }

/// Distance of the points of all lines, and of places between them, from a closed form.
template <typename Off>
double worst(const Valleys& found, const Off& off) {
  double most = 0;
  for (const Valley& valley : found.lines)
    for (std::size_t i = 0; i + (valley.closed ? 0 : 1) < valley.line.size(); ++i) {
      const Vec2 &a = valley.line[i], &b = valley.line[(i + 1) % valley.line.size()];
      for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0})
        most = std::max(most, off(Vec2(a + share * (b - a))));
    }
  return most;
}
double length_of_lines(const Valleys& found) {
  double sum = 0;
  for (const Valley& valley : found.lines) {
    sum += length(std::span<const Vec2>(valley.line));
    if (valley.closed) sum += (valley.line.front() - valley.line.back()).norm();
  }
  return sum;
}

/// A pocket with a floor at -20: rounded corners of 12, walls with 3 degrees of draft and a fillet at their
/// foot.
Mesh draft_pocket(double fillet) {
  constexpr double kDraft = 3 * kDegree;
  // Inset from the rim at 70 x 50, and depth: down the wall, round the fillet, to the middle.
  Polyline2 profile;
  const double floor_inset = 20 * std::tan(kDraft);  // where wall and floor would meet
  const double back = fillet * std::tan(0.5 * (90 * kDegree - kDraft));
  profile.emplace_back(0, 0);
  const double wall = 20 / std::cos(kDraft) - back;
  for (int i = 1; i <= 8; ++i)
    profile.emplace_back(wall * i / 8 * std::sin(kDraft), -wall * i / 8 * std::cos(kDraft));
  const Vec2 centre(floor_inset + back, -20 + fillet);
  for (int i = 1; i <= 60; ++i) {
    const double angle = 180 * kDegree + kDraft + (90 * kDegree - kDraft) * i / 60;
    if (fillet > 0) profile.push_back(centre + fillet * Vec2(std::cos(angle), std::sin(angle)));
  }
  profile.emplace_back(11, -20);
  demo::Builder builder;
  std::vector<int> before;
  // Finer than rounded_rectangle: chords of the corners would turn the valley away.
  const auto ring = [](double inset) {
    Polyline2 loop;
    const double radius = 12 - inset;
    for (int corner = 0; corner < 4; ++corner) {
      const double sx = corner == 0 || corner == 3 ? 1 : -1, sy = corner < 2 ? 1 : -1;
      const Vec2 middle(sx * 23, sy * 13);
      for (int i = 0; i <= 90; ++i) {
        const double angle = 90 * kDegree * (corner + i / 90.0);
        loop.push_back(middle + radius * Vec2(std::cos(angle), std::sin(angle)));
      }
    }
    return loop;
  };
  for (const Vec2& place : profile) {
    std::vector<int> here = builder.ring(ring(place.x()), place.y());
    if (!before.empty()) builder.band(before, here);
    before = std::move(here);
  }
  builder.face(before, {});
  Mesh mesh = builder.mesh;
  return mesh;
}
/// Distance from a rounded rectangle of half sides and a corner radius.
double off_rounded(const Vec2& p, double half_x, double half_y, double corner) {
  const double x = std::abs(p.x()) - (half_x - corner), y = std::abs(p.y()) - (half_y - corner);
  if (x > 0 && y > 0) return std::abs(std::hypot(x, y) - corner);
  return std::abs(std::max(std::abs(p.x()) - half_x, std::abs(p.y()) - half_y));
}
/// Where a ball of radius R stands on the floor of the draft pocket and touches its wall.
auto off_draft_pocket(double radius) {
  constexpr double kDraft = 3 * kDegree;
  const double inset = (radius - (-20 + radius) * std::sin(kDraft)) / std::cos(kDraft);
  return [inset](const Vec2& p) { return off_rounded(p, 35 - inset, 25 - inset, 12 - inset); };
}

Valleys of(const Mesh& mesh, double diameter, const Region& area, ValleyOptions options = {}) {
  const auto surface = testing::exact_surface(make_contact_part(mesh), testing::ball_tool(diameter));
  return valleys(surface, area, options);
}

TEST(Valleys, AGrooveIsOneLineAtAnyAngle) {
  for (const double degrees : {0.0, 27.0, 90.0}) {
    SCOPED_TRACE(degrees);
    Mesh mesh = testing::sheet(Box2(Vec2(-40, -20), Vec2(40, 20)), 8, 8,
                               [](double, double y) { return std::abs(y); });
    const Eigen::Rotation2Dd turn(degrees * kDegree);
    for (Vec3& p : mesh.points) p = with_z(Vec2(turn * plan(p)), p.z());
    for (const double diameter : {2.0, 6.0, 12.0}) {
      const Valleys found = of(mesh, diameter, box_area(25, 25));
      ASSERT_EQ(found.lines.size(), 1u);
      EXPECT_LT(worst(found, [&](const Vec2& p) { return std::abs((turn.inverse() * p).y()); }), 1e-5);
      EXPECT_NEAR(length_of_lines(found), degrees == 27 ? 50 / std::cos(27 * kDegree) : 50, 1e-3);
      EXPECT_NEAR(found.lines[0].left_mm, 0.5 * diameter * (std::sqrt(2) - 1), 1e-5);
    }
  }
}

TEST(Valleys, TheFeetOfATorusAreTwoClosedCircles) {
  // Half a torus of 40 and 12 lies on a plate.
  Polyline2 chain{{70, 0}, {52, 0}};
  for (const Vec2& p : testing::arc_chain({40, 0}, 12, 0, 180, 400)) chain.push_back(p);
  chain.emplace_back(0, 0);
  const Mesh mesh = testing::turned_part(chain, 900);
  for (const double radius : {3.0, 6.0}) {
    const double wide = std::sqrt((12 + radius) * (12 + radius) - radius * radius);
    const Valleys found = of(mesh, 2 * radius, box_area(68, 68), {.tolerance_mm = 0.002});
    ASSERT_EQ(found.lines.size(), 2u);
    for (const Valley& valley : found.lines) EXPECT_TRUE(valley.closed);
    EXPECT_NEAR(length_of_lines(found), 2 * std::numbers::pi * 80, 0.05);
    EXPECT_LT(worst(found, [&](const Vec2& p) { return std::abs(std::abs(p.norm() - 40) - wide); }), 0.006);
  }
}

TEST(Valleys, ABlockPocketIsOneRingThatMeetsInItsCorners) {
  const Valleys found = of(testing::block_pocket(30, 20, 10, 15), 6, box_area(44, 34));
  ASSERT_EQ(found.lines.size(), 1u);
  EXPECT_TRUE(found.lines[0].closed);
  EXPECT_NEAR(length_of_lines(found), 4 * (27 + 17), 0.05);
  EXPECT_LT(worst(found, [](const Vec2& p) { return off_rounded(p, 27, 17, 0); }), 0.01);
  // All four corners are reached.
  for (const double x : {-27.0, 27.0})
    for (const double y : {-17.0, 17.0}) {
      double nearest = 1e9;
      for (const Vec2& p : found.lines[0].line) nearest = std::min(nearest, (p - Vec2(x, y)).norm());
      EXPECT_LT(nearest, 0.01);
    }
}

TEST(Valleys, OnAFilletOnlyWhatTheBallLeavesCounts) {
  const Mesh mesh = draft_pocket(4);
  EXPECT_TRUE(of(mesh, 6, box_area(34, 24)).lines.empty()) << "the fillet is wider than the ball";
  EXPECT_TRUE(of(mesh, 8, box_area(34, 24)).lines.empty()) << "just as wide: the ball leaves nothing";
  for (const double radius : {4.1, 5.0}) {
    const Valleys found = of(mesh, 2 * radius, box_area(34, 24));
    ASSERT_EQ(found.lines.size(), 1u) << radius;
    EXPECT_TRUE(found.lines[0].closed);
    EXPECT_LT(worst(found, off_draft_pocket(radius)), 0.006);
    EXPECT_NEAR(found.lines[0].left_mm, (radius - 4) * (1 / std::cos(0.5 * 87 * kDegree) - 1),
                0.3 * (radius - 4));
  }
  // Without a fillet it is a sharp foot all round.
  const Valleys sharp = of(draft_pocket(0), 6, box_area(34, 24));
  ASSERT_EQ(sharp.lines.size(), 1u);
  EXPECT_LT(worst(sharp, off_draft_pocket(3)), 0.006);
}

TEST(Valleys, OnScansWithNoiseNoFalseLineIsLongerThanTheBall) {
  for (const double noise : {0.01, 0.02, 0.04}) {
    SCOPED_TRACE(noise);
    Mesh mesh = draft_pocket(4);
    testing::Rng rng(3);
    for (Vec3& p : mesh.points)
      p += Vec3(rng.uniform(-noise, noise), rng.uniform(-noise, noise), rng.uniform(-noise, noise));
    const Valleys found =
        of(mesh, 10, box_area(34, 24), {.left_mm = std::max(0.02, 2 * noise), .shortest_mm = 10});
    const auto off = off_draft_pocket(5);
    double real = 0, wrong = 0;
    for (const Valley& valley : found.lines)
      for (std::size_t i = 1; i < valley.line.size(); ++i) {
        const double size = (valley.line[i] - valley.line[i - 1]).norm();
        (off(valley.line[i]) > 0.3 ? wrong : real) += size;
      }
    EXPECT_GT(real, 165);
    EXPECT_EQ(wrong, 0);
  }
}

TEST(Valleys, RefuseWhatHasNoRoundEnd) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-10, -10), Vec2(10, 10)), 4, 4, [](double, double y) { return std::abs(y); }));
  EXPECT_THROW((void)valleys(testing::exact_surface(part, testing::flat_tool(6)), box_area(9, 9), {}), Error);
  EXPECT_THROW(
      (void)valleys(testing::exact_surface(part, testing::ball_tool(6)), box_area(9, 9), {.left_mm = 0}),
      Error);
  EXPECT_TRUE(valleys(testing::exact_surface(part, testing::ball_tool(6)), {}, {}).lines.empty());
}

TEST(Valleys, TheSameBitsOnAnyNumberOfThreads) {
  const Mesh mesh = draft_pocket(4);
  const auto found = [&](std::size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return of(mesh, 10, box_area(34, 24));
  };
  const Valleys one = found(1), two = found(2);
  ASSERT_EQ(one.lines.size(), two.lines.size());
  for (std::size_t i = 0; i < one.lines.size(); ++i) EXPECT_EQ(one.lines[i].line, two.lines[i].line);
}

}  // namespace
}  // namespace yardpass
