// Which edges are broken, and how far: by number, along curves, round corners, to their ends.
#include <gtest/gtest.h>

#include <numbers>

#include "parts.h"
#include "strategy/broken.h"
#include "support/boxes.h"
#include "support/rng.h"
#include "yardpass/strategy/break_edges.h"

namespace yardpass {
namespace {

using namespace testing::broken;

constexpr double kPi = std::numbers::pi;

TEST(EdgeBreakCuts, UprightEdgesAreCountedAndOtherCuttersRefused) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0))));
  const Region area = wide();
  const ToolSurface surface(part, ball(4), {}, std::nullopt);
  const CutPlan plan = cuts_of(EdgeBreakOptions{}, {surface, area});
  EXPECT_EQ(plan.groups.size(), 1u) << "the top's, round all corners; the bottom's are not seen";
  ASSERT_EQ(plan.notes.size(), 1u);
  EXPECT_NE(plan.notes[0].says.find("in 4 pieces"), std::string::npos) << plan.notes[0].says;
  EXPECT_NE(plan.notes[0].says.find("steepest"), std::string::npos);
  Tool flat{.name = "flat", .shape = Shape::flat, .diameter_mm = 6};
  EXPECT_THROW((void)broken_edges(part->mesh(), {}, flat), Error);
  EdgeBreakOptions unknown;
  unknown.edges.only = {77};
  const CutPlan none = cuts_of(unknown, {surface, area});
  EXPECT_TRUE(none.empty());
  EXPECT_EQ(none.notes.size(), 2u);
  // One that nobody could leave out either.
  unknown.edges.only = {};
  unknown.edges.leave = {77};
  const CutPlan all = cuts_of(unknown, {surface, area});
  EXPECT_EQ(all.groups.size(), 1u);
  EXPECT_TRUE(
      std::any_of(all.notes.begin(), all.notes.end(), [](const Note& n) { return n.about == "edges"; }));
}

/// A plate with an inner corner: 40 x 30 without its quarter at high X and Y.
Mesh bracket() {
  Mesh mesh;
  for (const double z : {-10.0, 0.0})
    for (const Vec2& p : {Vec2(-20, -15), Vec2(20, -15), Vec2(20, 0), Vec2(0, 0), Vec2(0, 15), Vec2(-20, 15)})
      mesh.points.push_back(with_z(p, z));
  for (std::int32_t k = 0; k < 6; ++k) {
    const std::int32_t next = (k + 1) % 6;
    mesh.triangles.push_back({k, next, next + 6}), mesh.triangles.push_back({k, next + 6, k + 6});
  }
  for (const auto& [a, b] : {std::pair(4, 5), std::pair(5, 0), std::pair(0, 1), std::pair(1, 2)})
    mesh.triangles.push_back({9, a + 6, b + 6}), mesh.triangles.push_back({3, b, a});
  return mesh;
}

TEST(EdgeBreakCuts, CornersAreCarriedRoundOrEachEdgeEndsThere) {
  const auto part = make_contact_part(bracket());
  const Region area = wide();
  const Tool tool = ball(6);
  const ToolSurface surface(part, tool, {}, std::nullopt);
  const Profile cutter = profile_of(tool);
  for (const bool round : {true, false}) {
    SCOPED_TRACE(round);
    EdgeBreakOptions options;
    options.edges.size_mm = 0.8;
    options.edges.round_corners = round;
    const CutPlan plan = cuts_of(options, {surface, area});
    EXPECT_EQ(plan.groups.size(), round ? 1u : 6u);
    if (round) EXPECT_EQ(plan.cut_count(), 1u) << "nothing is in its way";
    const std::vector<Polyline3> ways = sunk_ways(plan);
    const double leg = 0.8 / std::sqrt(2.0);
    // Of an edge in its middle; near an outer corner; and, round the inner one, right up to it.
    const auto at = [](double x, double y, double nx, double ny) {
      return EdgeSection{Vec3(x, y, 0), Vec3(-ny, nx, 0), Vec3(0, 0, 1), Vec3(nx, ny, 0)};
    };
    for (const EdgeSection& section :
         {at(0, -15, 0, -1), at(-20, 0, -1, 0), at(19, -15, 0, -1), at(10, 0, 0, 1)})
      EXPECT_NEAR(width(cutter, ways, section), 0.8, 0.003) << section.at.transpose();
    if (round) EXPECT_NEAR(width(cutter, ways, at(4, 0, 0, 1)), 0.8, 0.003);
    // The outer corners are taken, and no face beyond the breaks is.
    for (const Vec2& corner : {Vec2(-20, -15), Vec2(20, -15), Vec2(20, 0), Vec2(0, 15), Vec2(-20, 15)})
      EXPECT_TRUE(taken(cutter, ways, with_z(corner, -0.3)));
    testing::Rng rng(8);
    for (int k = 0; k < 3000; ++k) {
      const Vec2 p(rng.uniform(-20, 20), rng.uniform(-15, 15));
      const bool solid = !(p.x() > 0 && p.y() > 0);
      const double from_outside = std::min(20 - std::abs(p.x()), 15 - std::abs(p.y())),
                   from_inner = p.x() > 0   ? -p.y()
                                : p.y() > 0 ? -p.x()
                                            : std::hypot(p.x(), p.y());
      if (!solid || std::min(from_outside, from_inner) < leg + 0.01) continue;
      EXPECT_FALSE(taken(cutter, ways, with_z(p, -1e-4))) << p.transpose();
    }
    for (double x = -19.9; x < 20; x += 0.1)
      EXPECT_FALSE(taken(cutter, ways, Vec3(x, -15 + 1e-6, -leg - 0.01))) << x;
  }
}

TEST(EdgeBreakCuts, AnEdgeAloneIsBrokenToItsEnds) {
  const auto part = make_contact_part(bracket());
  const Region area = wide();
  const Tool tool = ball(6);
  const ToolSurface surface(part, tool, {}, std::nullopt);
  EdgeBreakOptions options;
  options.edges.along = {{Vec3(-20, -15, 0), Vec3(20, -15, 0)}};
  const CutPlan plan = cuts_of(options, {surface, area});
  ASSERT_EQ(plan.cut_count(), 1u);
  EXPECT_NEAR(length(std::span<const Vec3>(plan.groups[0].cuts[0].points)), 40, 1e-6);
  EXPECT_TRUE(plan.notes.empty()) << plan.notes[0].says;
}

TEST(EdgeBreakCuts, NamesWithoutACurveMeanNoEdgeAndNotAll) {
  const auto part = make_contact_part(bracket());
  const Region area = wide();
  const ToolSurface surface(part, ball(6), {}, std::nullopt);
  EdgeBreakOptions options;
  options.along.names = {"nothing"};
  EXPECT_TRUE(cuts_of(options, {surface, area}).empty());
}

TEST(EdgeBreakCuts, CurvesSayWhichPiecesOfEdgesAreMeant) {
  const auto part = make_contact_part(demo::cleat_base());
  const Region area = wide();
  const Tool tool = ball(6);
  const ToolSurface surface(part, tool, {}, std::nullopt);
  const auto broken = [&](const EdgeBreakOptions& options) {
    double length_mm = 0;
    const CutPlan plan = cuts_of(options, {surface, area});
    for (const CutGroup& group : plan.groups)
      for (const Cut& cut : group.cuts) length_mm += length(std::span<const Vec3>(cut.points));
    return length_mm;
  };
  EdgeBreakOptions all, some, others;
  all.edges.only = {6};
  const double rim = broken(all);
  // Half of the saddle's rim, as a curve that is drawn on it.
  GivenCurves half;
  half.names = {"half"};
  half.curves.resize(1);
  for (int k = 0; k <= 240; ++k) {
    const double angle = 2 * kPi * k / 480;
    const Vec2 p(22 * std::cos(angle), 22 * std::sin(angle));
    half.curves[0].points.emplace_back(p.x() + 36, p.y(), 1 + (p.x() * p.x() - p.y() * p.y()) / 150);
  }
  some.along = half;
  others.edges.only = {6}, others.leave_out_along = half;
  // At its ends the ball stops where it would nick the edge that goes on.
  EXPECT_NEAR(broken(some), 0.5 * rim, 4);
  EXPECT_NEAR(broken(some), broken(others), 0.1);
  some.along.curves[0].points = {Vec3(0, 0, 50), Vec3(10, 0, 50)};
  const CutPlan none = cuts_of(some, {surface, area});
  EXPECT_TRUE(none.empty());
  EXPECT_TRUE(
      std::any_of(none.notes.begin(), none.notes.end(), [](const Note& n) { return n.about == "along"; }));
}

}  // namespace
}  // namespace yardpass
