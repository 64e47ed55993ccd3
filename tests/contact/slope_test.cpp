// The slope of the tip surface against differences of its heights; the nearest point of a mesh against all
// triangles.
#include "yardpass/contact/slope.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "support/plain_cutters.h"

namespace yardpass {
namespace {

using testing::Rng;

Mesh saddle(int cells) {
  return testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), cells, cells, [](double x, double y) {
    return x * x / 60 - y * y / 50 + std::sin(x / 2) * std::cos(y / 3);
  });
}

/// Central differences, where left and right agree; nothing at kinks and steps.
std::optional<Vec2> by_differences(const TipSurface& surface, const Vec2& p) {
  Vec2 slope;
  for (int k = 0; k < 2; ++k) {
    const double h = 1e-6;
    const Vec2 d = k == 0 ? Vec2(h, 0) : Vec2(0, h);
    const double here = surface.height(p), right = (surface.height(p + d) - here) / h,
                 left = (here - surface.height(p - d)) / h;
    if (!(std::abs(right - left) < 1e-4 * (1 + std::abs(right)))) return std::nullopt;
    slope[k] = (right + left) / 2;
  }
  return slope;
}

void hold_against_differences(const std::shared_ptr<const ContactPart>& part, std::uint64_t seed, int places,
                              double size) {
  for (const testing::PlainCutter& cutter : testing::every_cutter()) {
    const TipSurface surface(part, cutter.profile);
    Rng rng(seed);
    int checked = 0;
    for (int i = 0; i < places; ++i) {
      const Vec2 p(rng.uniform(-size, size), rng.uniform(-size, size));
      const auto touch = surface.touch(p);
      if (!touch) continue;
      const auto wanted = by_differences(surface, p);
      if (!wanted || wanted->norm() > 50) continue;
      ++checked;
      const Vec2 slope = slope_at(surface, p, *touch);
      ASSERT_LT((slope - *wanted).norm(), 2e-3 * (1 + wanted->norm()))
          << "seed " << seed << ", place " << i << " at " << p.transpose() << ", radius " << cutter.radius
          << ", feature " << static_cast<int>(touch->feature) << "\n"
          << slope.transpose() << " against " << wanted->transpose();
    }
    EXPECT_GT(checked, places / 3) << cutter.radius;
  }
}

TEST(Slope, OfASaddleForEveryCutter) {
  hold_against_differences(make_contact_part(saddle(60)), 1, 200 * testing::rounds(10), 25);
}

TEST(Slope, OverEdgesAndCornersOfCoarseFacets) {
  hold_against_differences(make_contact_part(saddle(9)), 2, 200 * testing::rounds(10), 25);
}

TEST(Slope, OfAFlatEndIsTheFacetsNotItsOwn) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 2, 2, [](double x, double) { return 0.5 * x; }));
  const TipSurface surface(part, Profile::flat(6));
  const auto touch = surface.touch({1, 2});
  EXPECT_NEAR(touch->normal.x(), 0, 1e-12) << "the cutter's bottom is level";
  EXPECT_NEAR(slope_at(surface, {1, 2}, *touch).x(), 0.5, 1e-9);
  EXPECT_NEAR(surface_normal({0.5, 0}).z(), 1 / std::sqrt(1.25), 1e-12);
}

TEST(Slope, WithAllowances) {
  const auto part = make_contact_part(saddle(40));
  for (const TipSurfaceOptions& options :
       {TipSurfaceOptions{.allowance_mm = 0.4}, TipSurfaceOptions{.allowance_mm = 0.1, .wall_extra_mm = 0.3},
        TipSurfaceOptions{.allowance_mm = 0.1, .floor_extra_mm = 0.3}}) {
    const TipSurface surface(part, Profile::bull(8, 1.5), options);
    Rng rng(3);
    for (int i = 0; i < 500; ++i) {
      const Vec2 p(rng.uniform(-25, 25), rng.uniform(-25, 25));
      const auto wanted = by_differences(surface, p);
      if (wanted)
        EXPECT_LT((slope_at(surface, p, *surface.touch(p)) - *wanted).norm(), 2e-3 * (1 + wanted->norm()));
    }
  }
}

// The nearest point of a triangle without area was told too far away, once in a hundred questions.
TEST(Nearest, IsNoFartherThanAnyPointOfTheMesh) {
  for (int seed = 1; seed <= testing::rounds(300); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
    const ContactPart part(mesh);
    const Box3 box = mesh.box();
    for (int i = 0; i < 20; ++i) {
      Vec3 p;
      for (int k = 0; k < 3; ++k) p[k] = rng.uniform(box.min()[k] - 3, box.max()[k] + 3);
      const auto nearest = part.nearest(p, 1e9);
      ASSERT_TRUE(nearest.has_value());
      const auto t = static_cast<std::size_t>(nearest->triangle);
      const auto off_triangle = [&](std::size_t triangle, const Vec3& q) {
        return (q - nearest_on_triangle(q, mesh.corner(triangle, 0), mesh.corner(triangle, 1),
                                        mesh.corner(triangle, 2)))
            .norm();
      };
      EXPECT_LT(off_triangle(t, nearest->point), 1e-9) << seed << ": the point lies on its triangle";
      EXPECT_NEAR((p - nearest->point).norm(), nearest->distance_mm, 1e-12);
      EXPECT_EQ(part.distance(p, 1e9), nearest->distance_mm);
      // By definition: no point of any triangle, drawn by chance, is nearer.
      for (std::size_t j = 0; j < mesh.triangles.size(); ++j)
        for (int k = 0; k < 6; ++k) {
          double u = k < 3 ? 0 : rng.uniform(0, 1), v = k < 3 ? rng.uniform(0, 1) : rng.uniform(0, 1);
          if (u + v > 1) u = 1 - u, v = 1 - v;
          const Vec3 &a = mesh.corner(j, k % 3), &b = mesh.corner(j, (k + 1) % 3),
                     &c = mesh.corner(j, (k + 2) % 3);
          const Vec3 q = a + u * (c - a) + v * (b - a);
          ASSERT_GE((p - q).norm(), nearest->distance_mm - 1e-9) << "seed " << seed << " triangle " << j;
        }
      EXPECT_FALSE(part.nearest(p, nearest->distance_mm * 0.999));
    }
  }
}

TEST(Nearest, OfTrianglesWithoutArea) {
  Rng rng(5);
  for (int i = 0; i < 20000; ++i) {
    const Vec3 a(rng.uniform(-9, 9), rng.uniform(-9, 9), rng.uniform(-9, 9));
    const Vec3 way(rng.uniform(-9, 9), rng.uniform(-9, 9), rng.uniform(-9, 9));
    const Vec3 b = a + way * rng.uniform(-1, 1), c = a + way * rng.uniform(-1, 1);
    const Vec3 p(rng.uniform(-12, 12), rng.uniform(-12, 12), rng.uniform(-12, 12));
    double wanted = 1e300;
    for (const auto& [from, to] : {std::pair(a, b), std::pair(b, c), std::pair(c, a)})
      wanted = std::min(wanted, (p - nearest_on_segment(p, from, to)).norm());
    ASSERT_NEAR((p - nearest_on_triangle(p, a, b, c)).norm(), wanted, 1e-9) << i;
  }
}

TEST(HeightsWithTriangles, AreTheTouches) {
  const TipSurface surface(make_contact_part(saddle(40)), Profile::ball(6));
  std::vector<Vec2> places;
  for (int i = 0; i < 2000; ++i) places.emplace_back(0.04 * i - 40, 0.3 * std::sin(i));
  const auto all = heights_with_triangles(surface, places);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const auto touch = surface.touch(places[i]);
    EXPECT_EQ(all[i].z, touch ? touch->height : kNothingBelow);
    EXPECT_EQ(all[i].triangle, touch ? touch->triangle : -1);
  }
}

}  // namespace
}  // namespace yardpass
