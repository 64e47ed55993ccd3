// Meshes that hang together badly: which weld closes them, and what their open edges are called.
#include <gtest/gtest.h>

#include "parts.h"
#include "sheet.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/diagnosis.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {
namespace {

Diagnosis diagnosis_of(const Mesh& mesh) { return diagnose(mesh, Joints(mesh), {.crossings = false}); }

std::string told(const Diagnosis& diagnosis) {
  std::string words;
  for (const Remark& remark : remarks(diagnosis))
    words += (remark.matters ? "matters: " : "harmless: ") + remark.what + ": " + remark.why + "\n";
  return words;
}

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)
#define EXPECT_HAS_NOT(text, part) EXPECT_EQ((text).find(part), std::string::npos) << (text)

/// Every triangle with corners of its own, each moved by up to `by` in every direction.
Mesh loose(const Mesh& mesh, double by, std::uint64_t seed) {
  testing::Rng rng(seed);
  Mesh result;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const auto first = static_cast<std::int32_t>(result.points.size());
    for (int k = 0; k < 3; ++k)
      result.points.push_back(mesh.corner(t, k) +
                              Vec3(rng.uniform(-by, by), rng.uniform(-by, by), rng.uniform(-by, by)));
    result.triangles.push_back({first, first + 1, first + 2});
  }
  return result;
}

/// Cut in two where the middles of triangles pass X, the far side moved.
Mesh torn(const Mesh& mesh, double at_x, const Vec3& by) {
  Mesh result = mesh;
  std::vector<std::int32_t> other(mesh.points.size(), -1);
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    if ((mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)).x() / 3 < at_x) continue;
    for (auto& corner : result.triangles[t]) {
      auto& moved = other[static_cast<std::size_t>(corner)];
      if (moved < 0) {
        moved = static_cast<std::int32_t>(result.points.size());
        result.points.push_back(mesh.points[static_cast<std::size_t>(corner)] + by);
      }
      corner = moved;
    }
  }
  return weld(result);
}

/// As a program writes it that rounds each triangle's numbers from its own first corner.
Mesh rounded_apart(const Mesh& mesh, double step) {
  Mesh result = loose(mesh, 0, 1);
  for (std::size_t t = 0; t < result.triangles.size(); ++t) {
    const Vec3 from = result.points[3 * t] * 0.37;
    for (std::size_t k = 0; k < 3; ++k) {
      Vec3& p = result.points[3 * t + k];
      p = from + Vec3(((p - from) / step).array().round() * step);
    }
  }
  return weld(result);
}

TEST(Cracks, TheAdvisedWeldClosesThemAndMovesNoCornerByMoreThanItSays) {
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(40, 30, 10)));
  const std::pair<const char*, Mesh> cracked[] = {
      {"a bowl in loose triangles", loose(demo::bowl(30, 20, 60, 0.02), 0.0003, 3)},
      {"the blade's mold torn through",
       torn(testing::demo_mesh("paddle-blade"), 3.3, Vec3(0.004, 0, -0.003))},
      {"a punch, every triangle rounded by itself",
       rounded_apart(testing::demo_mesh("fairlead-punch"), 0.0005)},
      {"a box off by less than a micrometre", loose(box, 3e-7, 5)},
      {"a box off by a third of a millimetre", loose(box, 0.1, 7)},
      {"a ring torn twice",
       torn(torn(testing::demo_mesh("porthole-ring"), -20, Vec3(0, 0.0007, 0)), 31, Vec3(0.0005, 0, 0.0008))},
  };
  for (const auto& [name, mesh] : cracked) {
    const Diagnosis before = diagnosis_of(mesh);
    ASSERT_TRUE(before.weld) << name << "\n" << told(before);
    const WeldAdvice& advice = *before.weld;
    EXPECT_FALSE(before.edges.closed()) << name;
    EXPECT_TRUE(advice.closes) << name << " " << advice.weld_mm << " leaves " << advice.open_after;
    const Mesh welded = weld(mesh, advice.weld_mm);
    EXPECT_TRUE(edge_report(welded).closed()) << name;
    double farthest = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (int k = 0; k < 3; ++k)
        farthest = std::max(farthest, (welded.corner(t, k) - mesh.corner(t, k)).norm());
    EXPECT_LE(farthest, advice.farthest_mm) << name;
    EXPECT_LE(advice.farthest_mm, advice.weld_mm) << name;
    EXPECT_GT(farthest, 0.2 * advice.weld_mm) << name << ": a smaller one would have done";
    const std::string words = told(before);
    EXPECT_HAS(words, "closes the mesh");
    for (const char* harm : {"tiny-shells", "a normal part", "dips into"}) EXPECT_HAS_NOT(words, harm);
  }
}

TEST(Cracks, WhatNoWeldClosesGetsNoAdvice) {
  Mesh mesh = testing::demo_mesh("fairlead-punch");
  EXPECT_FALSE(diagnosis_of(mesh).weld) << "it is closed";
  mesh.triangles.erase(mesh.triangles.begin() + 100, mesh.triangles.begin() + 103);
  const Diagnosis holed = diagnosis_of(mesh);
  EXPECT_FALSE(holed.weld);
  EXPECT_HAS(told(holed), "in the mesh (open edges)");
  const Mesh sheet = demo::sheet(Box2(Vec2(0, 0), Vec2(10, 10)), 20, 20,
                                 [](double x, double y) { return 0.1 * x * x - 0.05 * y * y; });
  EXPECT_FALSE(diagnosis_of(sheet).weld);
  EXPECT_HAS(told(diagnosis_of(sheet)), "a normal part");
}

TEST(Cracks, AHoleBesideACrackIsLeftAndTold) {
  Mesh mesh = torn(testing::demo_mesh("fairlead-punch"), 3, Vec3(0.002, 0, 0));
  mesh.triangles.erase(mesh.triangles.begin() + 100);
  const Diagnosis d = diagnosis_of(mesh);
  ASSERT_TRUE(d.weld);
  EXPECT_FALSE(d.weld->closes);
  EXPECT_EQ(d.weld->open_after, 3);
  EXPECT_HAS(told(d), "joins all but 3 of them");
}

/// A sheet of squares whose right half is twice as fine along the seam at X 5.
Mesh with_t_joints(double apart) {
  const auto wavy = [](double x, double) { return 0.02 * x * x; };
  Mesh mesh = demo::sheet(Box2(Vec2(0, 0), Vec2(5, 10)), 5, 10, wavy);
  const Mesh right = demo::sheet(Box2(Vec2(5 + apart, 0), Vec2(10, 10)), 5, 20,
                                 [&](double x, double y) { return x < 5.5 ? wavy(5, y) : wavy(x, y); });
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), right.points.begin(), right.points.end());
  for (const auto& t : right.triangles) mesh.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  return weld(mesh);
}

TEST(Cracks, TJointsAndSlitsOfZeroWidthAreToldAsSuch) {
  // A box, one of its faces cut finer: its outer edges have corners that the neighbours do not.
  Mesh mesh = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 10, 10)));
  const auto corners = mesh.triangles.front();
  mesh.points.push_back(0.25 * mesh.points[static_cast<std::size_t>(corners[0])] +
                        0.75 * mesh.points[static_cast<std::size_t>(corners[1])]);
  const auto fresh = static_cast<std::int32_t>(mesh.points.size()) - 1;
  mesh.triangles.front() = {corners[0], fresh, corners[2]};
  mesh.triangles.push_back({fresh, corners[1], corners[2]});
  const Diagnosis d = diagnosis_of(mesh);
  ASSERT_EQ(d.open_loops.size(), 1u);
  EXPECT_EQ(d.open_loops[0].t_joints, 1);
  EXPECT_FALSE(d.weld);
  EXPECT_HAS(told(d), "harmless: 1 slit of zero width, with 1 T-joint");
  EXPECT_HAS_NOT(told(d), "hole");
  EXPECT_HAS_NOT(told(d), "normal part");
  // Two sheets along a seam that one of them divides finer: no weld joins them, and it is no border.
  const std::string crack = told(diagnosis_of(with_t_joints(0.01)));
  EXPECT_HAS_NOT(crack, "a normal part");
}

TEST(Cracks, ABorderIsOnePerPieceAndTheLowest) {
  // An upright tube: its upper rim is as wide as the lower one, and no border.
  Mesh tube;
  constexpr int kCorners = 24;
  for (int i = 0; i < kCorners; ++i)
    for (const double z : {0.0, 20.0})
      tube.points.emplace_back(10 * std::cos(i * 0.2618), 10 * std::sin(i * 0.2618), z);
  for (std::int32_t i = 0; i < kCorners; ++i) {
    const std::int32_t a = 2 * i, b = (2 * i + 2) % (2 * kCorners);
    tube.triangles.push_back({a, b, b + 1});
    tube.triangles.push_back({a, b + 1, a + 1});
  }
  const std::string words = told(diagnosis_of(tube));
  EXPECT_HAS(words, "matters: 1 hole in the mesh");
  // Two sheets beside each other are not one die face.
  Mesh two = demo::sheet(Box2(Vec2(0, 0), Vec2(10, 10)), 5, 5, [](double, double) { return 0.0; });
  const Mesh other = demo::sheet(Box2(Vec2(13, 0), Vec2(20, 10)), 5, 5, [](double, double) { return 1.0; });
  const auto first = static_cast<std::int32_t>(two.points.size());
  two.points.insert(two.points.end(), other.points.begin(), other.points.end());
  for (const auto& t : other.triangles) two.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  EXPECT_HAS(told(diagnosis_of(two)), "matters: 2 open sheets that do not hang together");
}

}  // namespace
}  // namespace yardpass
