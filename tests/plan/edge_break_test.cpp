// Where a cutter stands that breaks an edge, held against what it cuts: points of both faces, by definition.
#include "yardpass/plan/edge_break.h"

#include <gtest/gtest.h>

#include <numbers>

#include "support/boxes.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

double radians(double degrees) { return degrees * kPi / 180; }

/// An edge of material of 60 to 150 degrees that slopes by up to 25, its outside up and to one side.
EdgeSection random_section(testing::Rng& rng, double steepest_deg = 25) {
  const double round = rng.uniform(0, 2 * kPi), slope = radians(rng.uniform(-steepest_deg, steepest_deg));
  EdgeSection section;
  section.at = Vec3(rng.uniform(-9, 9), rng.uniform(-9, 9), rng.uniform(-9, 9));
  section.along = Vec3(std::cos(round) * std::cos(slope), std::sin(round) * std::cos(slope), std::sin(slope));
  const Vec3 up = (Vec3(0, 0, 1) - section.along.z() * section.along).normalized(),
             side = section.along.cross(up);
  const double material = radians(rng.uniform(60, 150)), turn = kPi - material;
  // So that no face hangs over by more than a little.
  const double middle = rng.uniform(0.15, std::max(0.16, 0.5 * kPi - 0.5 * turn));
  const auto leaning = [&](double angle) -> Vec3 { return std::cos(angle) * up + std::sin(angle) * side; };
  section.one = leaning(middle - 0.5 * turn);
  section.other = leaning(middle + 0.5 * turn);
  return section;
}

double height_over(const Profile& cutter, const Vec3& tip, const Vec3& place) {
  const double far = (plan(place) - plan(tip)).norm();
  return far <= cutter.radius() ? tip.z() + cutter.height(far) : 1e300;
}

/// Whether a cutter that runs along the edge takes a place away: its least height over it, by the section's
/// straight line.
bool takes(const Profile& cutter, const EdgeSection& section, const Vec3& tip, const Vec3& place) {
  const double reach = 4 * cutter.radius();
  const auto over = [&](double way) {
    return height_over(cutter, tip + way * section.along, place) - place.z();
  };
  // Convex along the line where it is finite.
  double low = -reach, high = reach, least = 1e300;
  for (int round = 0; round < 6; ++round) {
    constexpr int kSteps = 200;
    double best = low;
    for (int k = 0; k <= kSteps; ++k) {
      const double way = low + (high - low) * k / kSteps, z = over(way);
      if (z < least) least = z, best = way;
    }
    const double step = (high - low) / kSteps;
    low = best - step, high = best + step;
  }
  return least < 0;
}

/// How far a cutter takes a face off, from the edge on.
double leg_taken(const Profile& cutter, const EdgeSection& section, const Vec3& tip, const Vec3& into) {
  double low = 1e-6, high = 6;
  if (!takes(cutter, section, tip, section.at + low * into)) return 0;
  for (int k = 0; k < 40; ++k) {
    const double middle = 0.5 * (low + high);
    (takes(cutter, section, tip, section.at + middle * into) ? low : high) = middle;
  }
  return low;
}

TEST(EdgeFlat, LegsWidthAndHeightBelongTogether) {
  testing::Rng rng(5);
  for (int round = 0; round < 400; ++round) {
    const EdgeSection section = random_section(rng);
    const auto by = static_cast<BreakSize>(round % 3);
    const double size = rng.uniform(0.1, 1.5);
    const EdgeFlat flat = even_flat(section, size, by);
    const Vec3 one = section.at + flat.leg_one_mm * section.into_one(),
               other = section.at + flat.leg_other_mm * section.into_other();
    EXPECT_NEAR((one - other).norm(), flat.width_mm, 1e-9);
    EXPECT_NEAR(flat.normal.dot(one - section.at), -flat.edge_above_mm, 1e-9);
    EXPECT_NEAR(flat.normal.dot(other - section.at), -flat.edge_above_mm, 1e-9);
    EXPECT_NEAR(section.one.dot(one - section.at), 0, 1e-9) << "in the face";
    EXPECT_NEAR(by == BreakSize::across     ? flat.width_mm
                : by == BreakSize::down_one ? flat.leg_one_mm
                                            : flat.leg_other_mm,
                size, 1e-9);
    EXPECT_NEAR((flat.middle(section) - 0.5 * (one + other)).norm(), 0, 1e-9);
  }
  EXPECT_THROW((void)even_flat(random_section(rng), 0, BreakSize::across), Error);
}

TEST(BallTip, TakesTheLegsOffBothFaces) {
  testing::Rng rng(6);
  int made = 0;
  for (int round = 0; round < 120; ++round) {
    const EdgeSection section = random_section(rng);
    const double radius = rng.uniform(1, 5);
    const EdgeFlat flat = even_flat(section, rng.uniform(0.1, 1.4), BreakSize::across);
    const auto tip = ball_tip(section, flat, radius);
    if (!tip) continue;
    ++made;
    const Profile ball = Profile::ball(2 * radius);
    EXPECT_NEAR(leg_taken(ball, section, *tip, section.into_one()), flat.leg_one_mm, 1e-6);
    EXPECT_NEAR(leg_taken(ball, section, *tip, section.into_other()), flat.leg_other_mm, 1e-6);
    // In the middle it is as deep as is told.
    const Vec3 deepest = flat.middle(section) - ball_hollow_mm(flat, radius) * flat.normal;
    EXPECT_TRUE(takes(ball, section, *tip, deepest + 1e-6 * flat.normal));
    EXPECT_FALSE(takes(ball, section, *tip, deepest - 1e-6 * flat.normal));
  }
  EXPECT_GT(made, 60);
}

TEST(BallTip, IsNoneWhereTheBallWouldCutAboveItsMiddle) {
  // An upright wall below a roof that leans over it: its flat looks down.
  EdgeSection section{Vec3(0, 0, 0), Vec3(0, 1, 0), Vec3(1, 0, 0), Vec3(-0.5, 0, -std::sqrt(0.75))};
  EXPECT_FALSE(ball_tip(section, even_flat(section, 0.5, BreakSize::across), 3));
  section = {Vec3(0, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 0, 0)};
  EXPECT_TRUE(ball_tip(section, even_flat(section, 0.5, BreakSize::across), 3));
  EXPECT_FALSE(ball_tip(section, even_flat(section, 6.5, BreakSize::across), 3)) << "wider than the ball";
}

TEST(ChamferBreak, TakesItsLegsOnLevelAndSlopingEdges) {
  testing::Rng rng(7);
  int made = 0;
  for (int round = 0; round < 240; ++round) {
    const EdgeSection section = random_section(rng, round % 2 ? 25 : 0);
    Tool tool{.name = "c", .shape = Shape::chamfer, .diameter_mm = 12};
    tool.taper_angle_deg = round % 3 == 0 ? 30 : round % 3 == 1 ? 45 : 60;
    tool.tip_diameter_mm = round % 4 ? 0.5 : 0;
    const auto cut =
        chamfer_break(section, tool, rng.uniform(0.1, 1.2), static_cast<BreakSize>(round % 3), 0.2);
    if (!cut || std::max(cut->flat.leg_one_mm, cut->flat.leg_other_mm) > 5) continue;
    ++made;
    const Profile cutter = profile_of(completed(tool));
    EXPECT_NEAR(leg_taken(cutter, section, cut->tip, section.into_one()), cut->flat.leg_one_mm, 2e-6)
        << round;
    EXPECT_NEAR(leg_taken(cutter, section, cut->tip, section.into_other()), cut->flat.leg_other_mm, 2e-6)
        << round;
    EXPECT_NEAR(cut->flank_from_mm, 0.2, 1e-12);
  }
  EXPECT_GT(made, 60);
  // Too steep for the flank.
  const double slope = radians(50);
  const Vec3 along(0, std::cos(slope), std::sin(slope));
  const EdgeSection steep{Vec3(0, 0, 0), along, Vec3(1, 0, 0), Vec3(1, 0, 0).cross(along)};
  Tool tool{.name = "c", .shape = Shape::chamfer, .diameter_mm = 12};
  tool.taper_angle_deg = 45;
  EXPECT_FALSE(chamfer_break(steep, tool, 0.5, BreakSize::across, 0.2));
}

TEST(RoundedTips, TouchBothFacesAndLeaveTheRidgeTheyTell) {
  testing::Rng rng(8);
  int made = 0;
  for (int round = 0; round < 120; ++round) {
    const EdgeSection section = random_section(rng);
    const double radius = rng.uniform(0.2, 1), ball = rng.uniform(1, 4);
    const int passes = 2 + round % 5;
    const auto tips = rounded_tips(section, radius, ball, passes);
    if (!tips) continue;
    ++made;
    ASSERT_EQ(tips->size(), static_cast<std::size_t>(passes));
    const auto off = [&](const Vec3& tip, const Vec3& normal) {
      return normal.dot(tip + Vec3(0, 0, ball) - section.at) - ball;
    };
    EXPECT_NEAR(off(tips->front(), section.one), 0, 1e-9);
    EXPECT_NEAR(off(tips->back(), section.other), 0, 1e-9);
    // Seen in the section: from the middle of the rounding out to where the first ball begins.
    const Vec3 middle =
        section.at + rounded_leg_mm(section, radius) * section.into_one() - radius * section.one;
    double ridge = 0;
    const double edge = (section.at - middle).norm();
    for (int k = 0; k <= 400; ++k) {
      const Vec3 out = ((1 - k / 400.0) * section.one + k / 400.0 * section.other).normalized();
      double left = edge / std::max(1e-12, out.dot((section.at - middle).normalized()));
      // The faces end it.
      for (const Vec3& face : {section.one, section.other})
        if (face.dot(out) > 1e-9) left = std::min(left, radius / face.dot(out));
      for (const Vec3& tip : *tips) {
        const Vec3 centre = tip + Vec3(0, 0, ball) - middle;
        const double along = out.dot(centre), beside = (centre - along * out).norm();
        if (beside < ball) left = std::min(left, along - std::sqrt(ball * ball - beside * beside));
      }
      EXPECT_GE(left, radius - 1e-9) << "nothing below the rounding";
      ridge = std::max(ridge, left - radius);
    }
    const double told = rounded_ridge_mm(section, radius, ball, passes);
    EXPECT_LE(ridge, told + 1e-9);
    // Beside the first and the last pass the face may end it sooner.
    if (passes > 3) EXPECT_GE(ridge, 0.97 * told);
  }
  EXPECT_GT(made, 40);
}

/// The top of a round boss, its rim an edge of so many pieces, and the strips beside it.
struct Boss {
  Mesh mesh;
  std::vector<EdgeSection> sections;  // in the middle of each piece
  std::vector<Vec3> corners;
  Boss(double radius, int pieces, double draft_deg) {
    const double foot = radius + 8 * std::tan(radians(draft_deg));
    const auto at = [&](double r, int k, double z) {
      const double angle = 2 * kPi * k / pieces;
      return Vec3(r * std::cos(angle), r * std::sin(angle), z);
    };
    for (int k = 0; k < pieces; ++k) mesh.points.push_back(at(radius, k, 0));
    for (int k = 0; k < pieces; ++k) mesh.points.push_back(at(foot, k, -8));
    mesh.points.emplace_back(0, 0, 0);
    for (std::int32_t k = 0; k < pieces; ++k) {
      const std::int32_t next = (k + 1) % pieces;
      mesh.triangles.push_back({k, next, 2 * pieces});
      mesh.triangles.push_back({k, pieces + k, next});
      mesh.triangles.push_back({next, pieces + k, pieces + next});
      corners.push_back(mesh.points[static_cast<std::size_t>(k)]);
      const Vec3 a = mesh.points[static_cast<std::size_t>(k)],
                 b = mesh.points[static_cast<std::size_t>(next)],
                 c = mesh.points[static_cast<std::size_t>(pieces + k)];
      sections.push_back(
          {0.5 * (a + b), (b - a).normalized(), Vec3(0, 0, 1), (c - a).cross(b - a).normalized()});
    }
  }
  [[nodiscard]] std::vector<EdgeStrip> strips(double size, double more) const {
    std::vector<EdgeStrip> result;
    const std::size_t count = sections.size();
    for (std::size_t k = 0; k < count; ++k) {
      const EdgeSection& section = sections[k];
      const EdgeFlat flat = even_flat(section, size, BreakSize::across);
      const Vec3 from = (sections[(k + count - 1) % count].along + section.along).normalized(),
                 to = (section.along + sections[(k + 1) % count].along).normalized();
      const Vec3 &a = corners[k], &b = corners[(k + 1) % count];
      result.push_back({a, b, section.one, section.into_one(), flat.leg_one_mm + more, from, to});
      result.push_back({a, b, section.other, section.into_other(), flat.leg_other_mm + more, from, to});
    }
    return result;
  }
};

TEST(WithoutStrips, TheBallThatBreaksARimIsFreeOfTheRest) {
  for (const double draft : {0.5, 10.0, 30.0})
    for (const double size : {0.2, 0.7, 1.2}) {
      SCOPED_TRACE(::testing::Message() << draft << " " << size);
      const Boss boss(10, 400, draft);
      const auto part = make_contact_part(boss.mesh),
                 rest = make_contact_part(without_strips(boss.mesh, boss.strips(size, 0.005)));
      const TipSurface whole(part, Profile::ball(6)), free(rest, Profile::ball(6));
      double most = -1e9;
      for (const EdgeSection& section : boss.sections) {
        const auto tip = ball_tip(section, even_flat(section, size, BreakSize::across), 3);
        ASSERT_TRUE(tip);
        EXPECT_LE(free.height(plan(*tip)), tip->z() + 1e-9);
        EXPECT_GT(whole.height(plan(*tip)), tip->z() + 0.01 * size);
        most = std::max(most, free.height(plan(*tip)) - tip->z());
      }
      // And no more was taken off than that asks for: a little lower it would touch.
      const TipSurface tight(make_contact_part(without_strips(boss.mesh, boss.strips(size, -0.02))),
                             Profile::ball(6));
      const auto tip = ball_tip(boss.sections[7], even_flat(boss.sections[7], size, BreakSize::across), 3);
      EXPECT_GT(tight.height(plan(*tip)), tip->z());
    }
}

TEST(WithoutStrips, TakesJustTheStripsAndLeavesWhatStandsBeside) {
  const auto area = [](const Mesh& mesh) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      sum +=
          0.5 * (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).norm();
    return sum;
  };
  // A block of 40 x 30 x 10 beside a wall that stands on its top, 0.3 mm from the edge at Y 15.
  Mesh mesh = testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0)));
  const std::size_t of_block = mesh.points.size();
  const Mesh wall = testing::box_mesh(Box3(Vec3(-5, 10, 0), Vec3(5, 14.7, 6)));
  const double wall_area = area(wall), before = area(mesh);
  mesh.points.insert(mesh.points.end(), wall.points.begin(), wall.points.end());
  for (auto triangle : wall.triangles) {
    for (auto& corner : triangle) corner += static_cast<std::int32_t>(of_block);
    mesh.triangles.push_back(triangle);
  }
  const Vec3 along(-1, 0, 0);
  const EdgeStrip top{Vec3(20, 15, 0), Vec3(-20, 15, 0), Vec3(0, 0, 1), Vec3(0, -1, 0), 0.5, along, along};
  const EdgeStrip side{Vec3(20, 15, 0), Vec3(-20, 15, 0), Vec3(0, 1, 0), Vec3(0, 0, -1), 0.25, along, along};
  const EdgeStrip both[] = {top, side};
  const Mesh rest = without_strips(mesh, both);
  // The bottom of the wall lies in the top's plane and goes with it, and so does the foot of its side.
  EXPECT_NEAR(area(rest), before + wall_area - 40 * 0.75 - 10 * 0.2 - 10 * 0.02, 1e-6);
  EXPECT_NEAR(rest.box().max().z(), 6, 1e-12);
  const TipSurface ball(make_contact_part(rest), Profile::ball(6));
  EXPECT_GT(ball.height(Vec2(0, 15.5)), 0.5) << "the wall is still in the way";
  EXPECT_LT(ball.height(Vec2(12, 16)), 0);
  EXPECT_EQ(without_strips(mesh, {}).triangles, mesh.triangles);
}

}  // namespace
}  // namespace yardpass
