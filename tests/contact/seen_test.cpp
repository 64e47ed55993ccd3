// The lowest place of a part that is seen from above.
#include "yardpass/contact/seen.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {
namespace {

using testing::Rng;

void add(Mesh& mesh, const Mesh& more) {
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), more.points.begin(), more.points.end());
  for (const auto& t : more.triangles) {
    using Index = std::remove_cvref_t<decltype(t[0])>;
    const auto at = static_cast<Index>(first);
    mesh.triangles.push_back(
        {static_cast<Index>(t[0] + at), static_cast<Index>(t[1] + at), static_cast<Index>(t[2] + at)});
  }
}

TEST(LowestSeen, UprightSidesReachTheFoot) {
  EXPECT_EQ(lowest_seen(make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, -7), Vec3(5, 5, 2))))), -7);
}

TEST(LowestSeen, WhatIsCoveredDoesNotCount) {
  // A plate over all of a deeper block: nothing below the plate's own foot is seen.
  Mesh mesh = testing::box_mesh(Box3(Vec3(0, 0, -7), Vec3(5, 5, 2)));
  add(mesh, testing::box_mesh(Box3(Vec3(-3, -3, 3), Vec3(9, 9, 4))));
  EXPECT_EQ(lowest_seen(make_contact_part(mesh)), 3);
  // Moved aside, a strip of the block looks out.
  Mesh aside = testing::box_mesh(Box3(Vec3(0, 0, -7), Vec3(5, 5, 2)));
  add(aside, testing::box_mesh(Box3(Vec3(2, -3, 3), Vec3(9, 9, 4))));
  EXPECT_EQ(lowest_seen(make_contact_part(aside)), -7);
}

TEST(LowestSeen, TheFacingDoesNotMatter) {
  Mesh bowl = testing::sheet(Box2(Vec2(-5, -5), Vec2(5, 5)), 20, 20,
                             [](double x, double y) { return (x * x + y * y) / 10 - 3; });
  EXPECT_NEAR(*lowest_seen(make_contact_part(bowl)), -3, 1e-12);
  for (auto& t : bowl.triangles) std::swap(t[0], t[1]);
  EXPECT_NEAR(*lowest_seen(make_contact_part(bowl)), -3, 1e-12);
}

TEST(LowestSeen, IsNoHigherThanAnyPlaceAndNoLowerThanThePart) {
  for (int seed = 1; seed <= testing::rounds(40); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const auto part = make_contact_part(testing::nasty_part(rng, 1));
    const TipSurface above(part, Profile::needle());
    const std::optional<double> lowest = lowest_seen(part);
    ASSERT_TRUE(lowest) << "seed " << seed;
    EXPECT_GE(*lowest, part->box().min().z());
    for (int k = 0; k < 300; ++k) {
      const double z = above.height({rng.uniform(-4, 4), rng.uniform(-4, 4)});
      if (z != kNothingBelow) EXPECT_LE(*lowest, z + 0.3) << "seed " << seed;
    }
  }
}

}  // namespace
}  // namespace yardpass
