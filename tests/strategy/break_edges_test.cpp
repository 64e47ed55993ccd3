// Edges broken to one size, measured by what the cutter takes off both faces, by definition.
#include "yardpass/strategy/break_edges.h"

#include <gtest/gtest.h>

#include <numbers>

#include "parts.h"
#include "strategy/broken.h"
#include "support/boxes.h"
#include "support/nasty.h"
#include "support/ridge.h"
#include "support/rng.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/part/edges.h"
#include "yardpass/verify/edge_size.h"

namespace yardpass {
namespace {

using namespace testing::broken;

constexpr double kPi = std::numbers::pi;

TEST(EdgeBreakCuts, StraightEdgesOfEveryAngleGetTheirSize) {
  testing::Rng rng(28);
  int made = 0;
  for (int round = 0; round < testing::rounds(60); ++round) {
    const double material = rng.uniform(60, 150), size = round % 3 == 0 ? 0.2 : round % 3 == 1 ? 0.7 : 1.2;
    const double lean = rng.uniform(10, 0.5 * material - 1), slope = round % 2 ? rng.uniform(-25, 25) : 0;
    SCOPED_TRACE(::testing::Message() << round << ": " << material << " lean " << lean << " slope " << slope);
    const testing::Ridge ridge(material, lean, slope, rng.uniform(0, 360));
    const Tool tool = round % 4 == 3 ? chamfer(rng.uniform(30, 60)) : ball(rng.uniform(2, 8));
    const ToolSurface surface(make_contact_part(ridge.mesh), tool, {}, std::nullopt);
    const Region area = wide();
    EdgeBreakOptions options;
    options.edges.size_mm = size;
    options.edges.least_turn_deg = 15;
    const CutPlan plan = cuts_of(options, {surface, area});
    if (plan.empty()) continue;
    ++made;
    const std::vector<Polyline3> ways = sunk_ways(plan);
    const Profile cutter = profile_of(tool);
    for (const double at : {-12.0, 0.0, 3.7, 14.0}) {
      EdgeSection here = ridge.section;
      here.at += at * here.along;
      EXPECT_NEAR(width(cutter, ways, here), size, 0.004) << at;
    }
    // The lines that it is sunk from are free of the part.
    for (const CutGroup& group : plan.groups)
      for (const Cut& cut : group.cuts)
        for (std::size_t i = 0; i + 1 < cut.points.size(); ++i)
          EXPECT_GE(surface.clearance(cut.points[i], cut.points[i + 1]).room, -1e-9);
  }
  EXPECT_GT(made, 35);
}

TEST(EdgeBreakCuts, RimsThatBendBothWaysGetTheirSizeAllRound) {
  const Mesh mesh = demo::cleat_base();
  const auto part = make_contact_part(mesh);
  const Region area = wide();
  for (const double size : {0.2, 0.7, 1.2}) {
    SCOPED_TRACE(size);
    const Tool tool = ball(6);
    const ToolSurface surface(part, tool, {}, std::nullopt);
    EdgeBreakOptions options;
    options.edges.size_mm = size;
    options.edges.only = {6};
    const CutPlan plan = cuts_of(options, {surface, area});
    ASSERT_EQ(plan.cut_count(), 1u);
    const std::vector<Polyline3> ways = sunk_ways(plan);
    const Profile cutter = profile_of(tool);
    int outside = 0, all = 0;
    for (int k = 0; k < 480; k += 7) {
      const auto at = [&](double i) {
        const double angle = 2 * kPi * i / 480;
        const Vec2 p(22 * std::cos(angle), 22 * std::sin(angle));
        return Vec3(p.x() + 36, p.y(), 1 + (p.x() * p.x() - p.y() * p.y()) / 150);
      };
      // The true surfaces: the saddle above, the cone's side below.
      const Vec3 here = at(k), along = (at(k + 0.01) - at(k - 0.01)).normalized();
      const Vec2 from_middle = yardpass::plan(here) - Vec2(36, 0);
      const Vec3 top = Vec3(-2 * from_middle.x() / 150, 2 * from_middle.y() / 150, 1).normalized();
      const Vec2 out = from_middle.normalized();
      const Vec3 down = with_z(24 * out + Vec2(36, 0), -12) - here;
      const Vec3 side =
          along.cross(down).normalized() * (along.cross(down).dot(with_z(out, 0)) > 0 ? 1.0 : -1.0);
      const auto square = [&](const Vec3& n) -> Vec3 { return (n - n.dot(along) * along).normalized(); };
      const auto rim_z = [](const Vec2& p) { return 1 + (p.x() * p.x() - p.y() * p.y()) / 150; };
      const double got = width(
          cutter, ways, {here, along, square(top), square(side)},
          [&](const Vec3& p) { return with_z(yardpass::plan(p), rim_z(yardpass::plan(p) - Vec2(36, 0))); },
          [&](const Vec3& p) {
            const Vec2 radial = (yardpass::plan(p) - Vec2(36, 0)).normalized();
            const double high = rim_z(22 * radial), radius = 22 + 2 * (high - p.z()) / (high + 12);
            return with_z(Vec2(radius * radial + Vec2(36, 0)), p.z());
          });
      ++all;
      outside += std::abs(got - size) > 0.02;
    }
    EXPECT_LE(outside, all / 100) << "of " << all;
  }
}

/// A round crown whose rim goes up and down twice: its top falls inward, its side leans outward.
Mesh crown(double top_falls_deg, double side_leans_deg) {
  Mesh mesh;
  constexpr int kSides = 240;
  const double fall = 5 * std::tan(top_falls_deg * kPi / 180),
               lean = 7 * std::tan(side_leans_deg * kPi / 180);
  for (int k = 0; k < kSides; ++k) {
    const double angle = 2 * kPi * k / kSides, high = 0.8 * std::cos(2 * angle);
    const Vec2 out(std::cos(angle), std::sin(angle));
    mesh.points.push_back(with_z(5 * out, high - fall));
    mesh.points.push_back(with_z(10 * out, high));
    mesh.points.push_back(with_z((10 + lean) * out, high - 7));
  }
  for (std::int32_t k = 0; k < kSides; ++k) {
    const std::int32_t a = 3 * k, b = 3 * ((k + 1) % kSides);
    for (const std::int32_t ring : {0, 1})
      mesh.triangles.push_back({a + ring, a + ring + 1, b + ring + 1}),
          mesh.triangles.push_back({a + ring, b + ring + 1, b + ring});
  }
  return mesh;
}

TEST(EdgeBreakCuts, RimsOfEveryAngleAndSizeMeasureAsAsked) {
  struct Rim {
    double falls, leans, flank;
  };
  for (const Rim& rim : {Rim{30, 1, 45}, Rim{0, 1, 45}, Rim{0, 30, 60}, Rim{0, 59, 74}}) {
    const auto part = make_contact_part(crown(rim.falls, rim.leans));
    for (const double size : {0.2, 0.7, 1.2})
      for (const Tool& tool : {ball(6), chamfer(rim.flank)}) {
        SCOPED_TRACE(::testing::Message()
                     << rim.falls << " " << rim.leans << " " << size << " " << tool.name);
        const ToolSurface surface(part, tool, {}, std::nullopt);
        const Region area = wide();
        EdgeBreakOptions options;
        options.edges.size_mm = size;
        const CutPlan plan = cuts_of(options, {surface, area});
        ASSERT_FALSE(plan.empty());
        // A flank that leans by 74 degrees is nearly a disc: down in the rim's valleys it has no room.
        const bool all_round = rim.flank < 70 || tool.shape == Shape::ball;
        if (all_round) EXPECT_EQ(plan.cut_count(), 1u);
        Program program;
        program.operations = {{1}}, program.tools = {tool.number};
        for (const Polyline3& way : sunk_ways(plan))
          for (std::size_t i = 0; i + 1 < way.size(); ++i)
            program.moves.push_back({way[i], way[i + 1], 500, ++program.lines, tool.number, 0});
        const EdgeSizes sizes = measure_edges(intended_of(options, tool, part).edges, program, 1, {tool},
                                              *part, Stock(Box3(Vec3(-30, -30, -10), Vec3(30, 30, 2)), 0.5));
        EXPECT_GT(sizes.all.measured_mm, all_round ? 62 : 20);
        if (all_round) EXPECT_EQ(sizes.all.passed_by_mm, 0);
        EXPECT_GE(sizes.all.held_share, all_round ? 0.99 : 0.97)
            << sizes.all.least_mm << " to " << sizes.all.greatest_mm;
      }
  }
}

TEST(EdgeBreakCuts, NothingIsTakenOffTheFacesBeyond) {
  const auto part = make_contact_part(demo::cleat_base());
  const Region area = wide();
  for (const bool round : {false, true}) {
    const Tool tool = ball(6);
    const ToolSurface surface(part, tool, {}, std::nullopt);
    EdgeBreakOptions options;
    options.edges.size_mm = 0.6;
    options.rounded = round;
    options.edges.rounding_passes = round ? 5 : 0;
    const CutPlan plan = cuts_of(options, {surface, area});
    const Profile cutter = profile_of(tool);
    const std::vector<Polyline3> ways = sunk_ways(plan);
    ASSERT_FALSE(ways.empty());
    // Any place of the surface farther from all outer edges than the longest leg stays.
    const Mesh& mesh = part->mesh();
    const Joints joints(mesh);
    std::vector<std::pair<Vec3, Vec3>> pieces;
    for (const SharpEdge& edge : sharp_edges(mesh, joints, turned_over(mesh, joints), 25))
      for (std::size_t i = 0; !edge.hollow && i + 1 < edge.corners.size(); ++i)
        pieces.emplace_back(mesh.points[static_cast<std::size_t>(edge.corners[i])],
                            mesh.points[static_cast<std::size_t>(edge.corners[i + 1])]);
    const auto from_edges = [&](const Vec3& p) {
      double nearest = 1e9;
      for (const auto& [a, b] : pieces) {
        const double share = std::clamp((p - a).dot(b - a) / (b - a).squaredNorm(), 0.0, 1.0);
        nearest = std::min(nearest, (a + share * (b - a) - p).norm());
      }
      return nearest;
    };
    // Of material of 80 degrees, the most acute here; a ball runs into the faces where it rounds.
    const double longest =
        round ? 0.6 / std::tan(40 * kPi / 180) + 0.12 : 0.3 / std::sin(40 * kPi / 180) + 0.02;
    testing::Rng rng(3);
    int asked = 0;
    for (int k = 0; k < 6000; ++k) {
      const auto t =
          static_cast<std::size_t>(rng.uniform(0, static_cast<double>(mesh.triangles.size()) - 0.001));
      double u = rng.uniform(0, 1), v = rng.uniform(0, 1);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 p = mesh.corner(t, 0) + u * (mesh.corner(t, 1) - mesh.corner(t, 0)) +
                     v * (mesh.corner(t, 2) - mesh.corner(t, 0));
      if (from_edges(p) < longest) continue;
      ++asked;
      EXPECT_FALSE(taken(cutter, ways, p - Vec3(0, 0, 1e-3))) << p.transpose();
    }
    EXPECT_GT(asked, 3000);
  }
}

TEST(EdgeBreakCuts, WhatAWallIsInTheWayOfIsLeftOutAndTold) {
  const auto part = make_contact_part(demo::cleat_base());
  const Region area = wide();
  const ToolSurface surface(part, ball(6), {}, std::nullopt);
  EdgeBreakOptions options;
  options.edges.size_mm = 0.5;
  options.edges.only = {4};
  const CutPlan plan = cuts_of(options, {surface, area});
  ASSERT_EQ(plan.cut_count(), 1u);
  const Cut& cut = plan.groups.front().cuts.front();
  EXPECT_FALSE(cut.closed);
  // The horn's foot reaches from X -42 to -22 at Y 18.4, the ball's place beside the edge lies at about 20.9.
  for (const Vec3& p : cut.points) EXPECT_FALSE(std::abs(p.x() + 32) < 7 && p.y() > 15) << p.transpose();
  ASSERT_EQ(plan.notes.size(), 1u);
  EXPECT_NE(plan.notes[0].says.find("the longest, of edge 4"), std::string::npos) << plan.notes[0].says;
  EXPECT_GT(plan.notes[0].values[0].value[0], 15);
  EXPECT_LT(plan.notes[0].values[0].value[0], 30);
  // Round the pad the part lies to the right: climb. And the other way.
  const auto turn = [](const Polyline3& line) {
    double sum = 0;
    for (std::size_t i = 0; i + 1 < line.size(); ++i)
      sum += (line[i].x() + 32) * line[i + 1].y() - line[i].y() * (line[i + 1].x() + 32);
    return sum;
  };
  EXPECT_LT(turn(cut.points), 0);
  options.edges.conventional = true;
  EXPECT_GT(turn(cuts_of(options, {surface, area}).groups.front().cuts.front().points), 0);
}

}  // namespace
}  // namespace yardpass
