#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/nasty.h"
#include "yardpass/contact/lift.h"

namespace yardpass {
namespace {

using testing::Rng;

/// Checks both promises densely: never below, never higher than the tolerance above what is near.
void expect_promises(const TipSurface& surface, const Polyline3& line, double tolerance, double floor,
                     const std::string& name) {
  SCOPED_TRACE(name);
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec3 &a = line[i - 1], &b = line[i];
    ASSERT_GE(room_around(surface, a, b, 0.0), -1e-8 - surface.allowance_mm()) << "piece " << i;
    const Vec2 way = plan(b) - plan(a);
    if (way.norm() == 0) continue;
    const int steps = std::max(2, static_cast<int>(way.norm() / 0.05));
    for (int k = 0; k <= steps; ++k) {
      const Vec3 p = a + static_cast<double>(k) / steps * (b - a);
      double near = floor;
      for (const double off : {-1.0, -0.75, -0.5, -0.25, 0.0, 0.25, 0.5, 0.75, 1.0})
        near = std::max(near, surface.height(plan(p) + off * tolerance * way.normalized()));
      ASSERT_LE(p.z(), near + tolerance + 1e-9) << "piece " << i << " at " << p.transpose();
    }
  }
}

TEST(Lift, KeepsItsPromisesOnNastyParts) {
  for (int seed = 1; seed <= testing::rounds(120); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
    const double d = rng.uniform(0.8, 6);
    const Profile cutter = seed % 2 ? Profile::ball(d) : Profile::flat(d);
    const TipSurface surface(make_contact_part(mesh), cutter);
    const Vec2 curve[] = {testing::aim(rng, mesh, d), testing::aim(rng, mesh, d), testing::aim(rng, mesh, d)};
    const double tolerance = rng.uniform(0.01, 0.1), floor = mesh.box().min().z() + rng.uniform(-1, 2);
    for (const auto& line : lift(surface, curve, {.tolerance_mm = tolerance}))
      expect_promises(surface, line, tolerance, kNothingBelow, "seed " + std::to_string(seed));
    const auto on_floor = lift(surface, curve, {.tolerance_mm = tolerance, .floor_z = floor});
    if ((curve[0] - curve[1]).norm() + (curve[1] - curve[2]).norm() > 0) ASSERT_EQ(on_floor.size(), 1u);
    for (const auto& line : on_floor)
      expect_promises(surface, line, tolerance, floor, "with floor, seed " + std::to_string(seed));
  }
}

// On a surface of one curvature along the path, chords of sqrt(8 rho tolerance) are the longest there can be.
TEST(Lift, FewPointsOnSphereBowlAndSaddle) {
  const double radius = 20, ball = 3, tolerance = 0.002;
  const auto top = [&](double x, double y) { return std::sqrt(radius * radius - x * x - y * y); };
  const auto saddle = [&](double x, double y) { return top(x, 0) - top(0, y); };
  const Box2 box(Vec2(-8, -8), Vec2(8, 8));
  struct Case {
    const char* name;
    Mesh mesh;
    double rho;  // of the tip surface along X
    Vec2 from, to;
  };
  const Case cases[] = {
      {"sphere", testing::sheet(box, 800, 800, top), radius + ball, {-5, 0.3}, {5, 0.3}},
      {"bowl",
       testing::sheet(box, 800, 800, [&](double x, double y) { return -top(x, y); }),
       radius - ball,
       {-5, 0.3},
       {5, 0.3}},
      {"saddle, over", testing::sheet(box, 800, 800, saddle), radius + ball, {-5, 0}, {5, 0}},
      {"saddle, through", testing::sheet(box, 800, 800, saddle), radius - ball, {0, -5}, {0, 5}}};
  for (const Case& c : cases) {
    const TipSurface surface(make_contact_part(c.mesh), Profile::ball(2 * ball));
    const Vec2 curve[] = {c.from, c.to};
    const auto lines = lift(surface, curve, {.tolerance_mm = tolerance});
    ASSERT_EQ(lines.size(), 1u);
    expect_promises(surface, lines[0], tolerance, kNothingBelow, c.name);
    const double ideal = length(std::span<const Vec3>(lines[0])) / std::sqrt(8 * c.rho * tolerance);
    EXPECT_LE(static_cast<double>(lines[0].size()), 1.3 * ideal) << c.name;
  }
}

TEST(Lift, GoesStraightUpAWall) {
  Mesh mesh = testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 1, 1, [](double, double) { return 0.0; });
  const Mesh block = testing::box_mesh(Box3(Vec3(0, -20, 0), Vec3(20, 20, 5)));
  const auto shift = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), block.points.begin(), block.points.end());
  for (const auto& t : block.triangles) mesh.triangles.push_back({t[0] + shift, t[1] + shift, t[2] + shift});
  const TipSurface surface(make_contact_part(mesh), Profile::flat(6));
  const Vec2 curve[] = {{-10, 0}, {10, 0}};
  const auto lines = lift(surface, curve, {.tolerance_mm = 0.02});
  ASSERT_EQ(lines.size(), 1u);
  expect_promises(surface, lines[0], 0.02, kNothingBelow, "wall");
  for (const Vec3& p : lines[0]) {
    if (p.x() > -3) EXPECT_NEAR(p.z(), 5, 1e-9);
    if (p.x() < -3.02) EXPECT_NEAR(p.z(), 0, 1e-9);
  }
  EXPECT_LT(lines[0].size(), 40u);
}

TEST(Lift, SplitsWhereNothingIsBelow) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(4, 4, 1))));
  const TipSurface surface(part, Profile::ball(2));
  const Vec2 curve[] = {{-10, 2}, {20, 2}};
  const auto lines = lift(surface, curve, {.tolerance_mm = 0.01});
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_NEAR(lines[0].front().x(), -1, 0.006);
  EXPECT_NEAR(lines[0].back().x(), 5, 0.006);
  const Vec2 beside[] = {{-10, 9}, {20, 9}};
  EXPECT_TRUE(lift(surface, beside, {.tolerance_mm = 0.01}).empty());
}

// A path over the mold's cavity stays free also after its points are rounded, if planned with the reserve for
// that.
TEST(Lift, RoundedPointsStayFreeWithAReserve) {
  const auto part = make_contact_part(demo::paddle_blade_mold());
  const TipSurface plain(part, Profile::ball(6)), planned(part, Profile::ball(6), {.allowance_mm = 0.000868});
  std::size_t points = 0;
  for (double y = -30; y <= 30; y += 7.3) {
    const Vec2 curve[] = {{-70, y}, {70, y}};
    for (auto line : lift(planned, curve, {.tolerance_mm = 0.01})) {
      for (Vec3& p : line) p = (p * 1000).array().round() / 1000;
      for (std::size_t i = 1; i < line.size(); ++i)
        ASSERT_GE(room_around(plain, line[i - 1], line[i], 0.0), -1e-6);
      points += line.size();
    }
  }
  // Facets of about a millimetre: no pass needs more than a few points for each.
  EXPECT_LT(points, 9 * 300u);
}

}  // namespace
}  // namespace yardpass
