// Edges broken to one size, measured by what the cutter takes off both faces, by definition.
#include "yardpass/strategy/break_edges.h"

#include <gtest/gtest.h>

#include <functional>
#include <numbers>

#include "parts.h"
#include "support/boxes.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/part/edges.h"
#include "yardpass/tool/segment_touch.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Tool ball(double diameter) {
  return completed({.name = "ball",
                    .shape = Shape::ball,
                    .diameter_mm = diameter,
                    .flute_length_mm = 12,
                    .stickout_mm = 40});
}
Tool chamfer(double angle_deg) {
  Tool tool{.name = "chamfer", .shape = Shape::chamfer, .diameter_mm = 12};
  tool.taper_angle_deg = angle_deg, tool.tip_diameter_mm = 0.5, tool.stickout_mm = 40;
  return completed(tool);
}

/// Two faces of 40 x 8 that meet at an edge.
struct Ridge {
  EdgeSection section;
  Mesh mesh;
  Ridge(double material_deg, double lean_deg, double slope_deg, double round_deg) {
    const double slope = slope_deg * kPi / 180, round = round_deg * kPi / 180;
    section.at = Vec3(0, 0, 0);
    section.along =
        Vec3(std::cos(round) * std::cos(slope), std::sin(round) * std::cos(slope), std::sin(slope));
    const Vec3 up = (Vec3(0, 0, 1) - section.along.z() * section.along).normalized(),
               side = section.along.cross(up);
    const double turn = kPi - material_deg * kPi / 180, middle = lean_deg * kPi / 180;
    const auto leaning = [&](double angle) -> Vec3 { return std::cos(angle) * up + std::sin(angle) * side; };
    section.one = leaning(middle - 0.5 * turn), section.other = leaning(middle + 0.5 * turn);
    constexpr int kSteps = 8;
    for (int i = 0; i <= kSteps; ++i) {
      const Vec3 at = section.at + (40.0 * i / kSteps - 20) * section.along;
      mesh.points.push_back(at);
      mesh.points.emplace_back(at + 8 * section.into_one());
      mesh.points.emplace_back(at + 8 * section.into_other());
    }
    const auto face = [&](std::int32_t a, std::int32_t b, std::int32_t c, const Vec3& normal) {
      const Vec3 across =
          (mesh.points[static_cast<std::size_t>(b)] - mesh.points[static_cast<std::size_t>(a)])
              .cross(mesh.points[static_cast<std::size_t>(c)] - mesh.points[static_cast<std::size_t>(a)]);
      if (across.dot(normal) < 0) std::swap(b, c);
      mesh.triangles.push_back({a, b, c});
    };
    for (std::int32_t i = 0; i < kSteps; ++i) {
      const std::int32_t a = 3 * i, b = 3 * i + 3;
      face(a, b, b + 1, section.one), face(a, b + 1, a + 1, section.one);
      face(a, b, b + 2, section.other), face(a, b + 2, a + 2, section.other);
    }
  }
};

Region wide() { return rectangle(Box2(Vec2(-200, -200), Vec2(200, 200))); }

/// The tip's ways as they will be run.
std::vector<Polyline3> sunk_ways(const CutPlan& plan) {
  std::vector<Polyline3> ways;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) {
      Polyline3 way = cut.points;
      const DepthLine& depths = plan.sunk[static_cast<std::size_t>(cut.pass) - 1];
      for (std::size_t i = 0; i < way.size(); ++i) way[i].z() -= depths.depth_mm[i];
      ways.push_back(std::move(way));
    }
  return ways;
}

bool taken(const Profile& cutter, const std::vector<Polyline3>& ways, const Vec3& place) {
  for (const Polyline3& way : ways)
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
      const Vec2 low = plan(way[i]).cwiseMin(plan(way[i + 1])).array() - cutter.radius(),
                 high = plan(way[i]).cwiseMax(plan(way[i + 1])).array() + cutter.radius();
      if (!Box2(low, high).contains(plan(place))) continue;
      if (swept_height(cutter, plan(place), way[i], way[i + 1]) < place.z()) return true;
    }
  return false;
}

using OnFace = std::function<Vec3(const Vec3&)>;

/// How far a face is taken off, `on` bringing places onto it.
double leg(const Profile& cutter, const std::vector<Polyline3>& ways, const Vec3& edge, const Vec3& into,
           const OnFace& on) {
  double low = 1e-4, high = 5;
  if (!taken(cutter, ways, on(edge + low * into))) return 0;
  // The nearest place from the edge on that stays.
  for (double way = 0.05; way < high; way += 0.05)
    if (!taken(cutter, ways, on(edge + way * into)))
      high = way;
    else
      low = way;
  for (int k = 0; k < 25; ++k) {
    const double middle = 0.5 * (low + high);
    (taken(cutter, ways, on(edge + middle * into)) ? low : high) = middle;
  }
  return low;
}

Vec3 as_it_is(const Vec3& p) { return p; }

double width(const Profile& cutter, const std::vector<Polyline3>& ways, const EdgeSection& section,
             const OnFace& on_one = as_it_is, const OnFace& on_other = as_it_is) {
  const double one = leg(cutter, ways, section.at, section.into_one(), on_one),
               other = leg(cutter, ways, section.at, section.into_other(), on_other);
  return (on_one(section.at + one * section.into_one()) - on_other(section.at + other * section.into_other()))
      .norm();
}

TEST(EdgeBreakCuts, StraightEdgesOfEveryAngleGetTheirSize) {
  testing::Rng rng(28);
  int made = 0;
  for (int round = 0; round < testing::rounds(60); ++round) {
    const double material = rng.uniform(60, 150), size = round % 3 == 0 ? 0.2 : round % 3 == 1 ? 0.7 : 1.2;
    const double lean = rng.uniform(10, 0.5 * material - 1), slope = round % 2 ? rng.uniform(-25, 25) : 0;
    SCOPED_TRACE(::testing::Message() << round << ": " << material << " lean " << lean << " slope " << slope);
    const Ridge ridge(material, lean, slope, rng.uniform(0, 360));
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
    EXPECT_LE(outside, all / 50) << "of " << all;
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

TEST(EdgeBreakCuts, UprightEdgesAreCountedAndOtherCuttersRefused) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0))));
  const Region area = wide();
  const ToolSurface surface(part, ball(4), {}, std::nullopt);
  const CutPlan plan = cuts_of(EdgeBreakOptions{}, {surface, area});
  EXPECT_EQ(plan.groups.size(), 4u) << "the top's; the bottom's are not seen";
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
}

}  // namespace
}  // namespace yardpass
