// What is found wrong with meshes that are wrong in known ways, and what repairs do about it.
#include <gtest/gtest.h>

#include <numbers>

#include "parts.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "yardpass/part/diagnosis.h"
#include "yardpass/part/repair.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

const Mesh kBox = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));

Diagnosis diagnosis_of(const Mesh& mesh) { return diagnose(mesh, Joints(mesh)); }

bool mentions(const Mesh& mesh, const std::string& words, bool matters) {
  for (const Remark& remark : remarks(diagnosis_of(mesh)))
    if (remark.what.find(words) != std::string::npos) return remark.matters == matters;
  return false;
}

Mesh joined(const Mesh& a, const Mesh& b) {
  Mesh result = a;
  const auto first = static_cast<std::int32_t>(a.points.size());
  result.points.insert(result.points.end(), b.points.begin(), b.points.end());
  for (const auto& t : b.triangles) result.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  return result;
}

TEST(Diagnosis, ASoundBoxHasNothingToRemark) {
  const Diagnosis d = diagnosis_of(kBox);
  EXPECT_TRUE(d.edges.closed());
  EXPECT_EQ(d.shells, 1);
  EXPECT_TRUE(remarks(d).empty());
  EXPECT_EQ(d.chord_error.greatest_mm, 0) << "planes have no chords";
  EXPECT_DOUBLE_EQ(d.longest_edge_mm, std::hypot(10, 20));
}

TEST(Diagnosis, HolesAreLoopsWithLengthAndPlace) {
  Mesh mesh = kBox;
  // Without its two top triangles: one loop around the top.
  std::erase_if(mesh.triangles, [&](const auto& t) {
    return std::all_of(t.begin(), t.end(),
                       [&](int i) { return mesh.points[static_cast<std::size_t>(i)].z() == 5; });
  });
  const Diagnosis d = diagnosis_of(mesh);
  ASSERT_EQ(d.open_loops.size(), 1u);
  EXPECT_NEAR(d.open_loops[0].length_mm, 60, 1e-12);
  EXPECT_EQ(d.open_loops[0].edges, 4);
  EXPECT_TRUE(d.open_loops[0].closed);
  EXPECT_EQ(d.open_loops[0].at.z(), 5);
}

TEST(Diagnosis, ASheetWithAHoleTellsBorderFromHole) {
  Mesh mesh = testing::sheet(Box2(Vec2(0, 0), Vec2(10, 10)), 10, 10, [](double, double) { return 0.0; });
  std::erase_if(mesh.triangles, [&](const auto& t) {
    const Vec3 middle =
        (mesh.points[static_cast<std::size_t>(t[0])] + mesh.points[static_cast<std::size_t>(t[1])] +
         mesh.points[static_cast<std::size_t>(t[2])]) /
        3;
    return std::abs(middle.x() - 5.5) < 0.5 && std::abs(middle.y() - 5.5) < 0.5;
  });
  const Diagnosis d = diagnosis_of(mesh);
  ASSERT_EQ(d.open_loops.size(), 2u);
  EXPECT_TRUE(d.open_loops[0].outer);
  EXPECT_NEAR(d.open_loops[0].length_mm, 40, 1e-9);
  EXPECT_FALSE(d.open_loops[1].outer);
  EXPECT_NEAR(d.open_loops[1].length_mm, 4, 1e-9);
  EXPECT_TRUE(mentions(mesh, "an open sheet", false));
  EXPECT_TRUE(mentions(mesh, "1 hole in the mesh", true));
}

TEST(Diagnosis, FinsFlipsRepeatsAndSlivers) {
  Mesh fin = kBox;
  fin.points.emplace_back(5, 5, 30);
  fin.triangles.push_back({fin.triangles[0][0], fin.triangles[0][1], 8});
  EXPECT_EQ(diagnosis_of(fin).crowded.count, 1);
  EXPECT_TRUE(mentions(fin, "three or more triangles", false));
  Mesh flipped = kBox;
  std::swap(flipped.triangles[3][1], flipped.triangles[3][2]);
  EXPECT_EQ(diagnosis_of(flipped).flipped.count, 3);
  Mesh repeated = kBox;
  repeated.triangles.push_back({kBox.triangles[5][1], kBox.triangles[5][2], kBox.triangles[5][0]});
  EXPECT_EQ(diagnosis_of(repeated).repeated.count, 1);
  Mesh pair;  // one triangle and its twin lie against each other on all sides
  pair.points = {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 1, 0)};
  pair.triangles = {{0, 1, 2}, {2, 1, 0}};
  EXPECT_EQ(diagnosis_of(pair).repeated.count, 1);
  Mesh sliver = kBox;
  sliver.points.emplace_back(0.5 * (kBox.corner(0, 0) + kBox.corner(0, 1)));
  sliver.triangles.push_back({kBox.triangles[0][0], kBox.triangles[0][1], 8});
  sliver.triangles.push_back({1, 1, 2});
  EXPECT_EQ(diagnosis_of(sliver).zero_area.count, 2);
}

TEST(Diagnosis, InsideOutIsNoticed) {
  Mesh mesh = kBox;
  for (auto& t : mesh.triangles) std::swap(t[1], t[2]);
  EXPECT_TRUE(diagnosis_of(mesh).inside_out);
  EXPECT_FALSE(diagnosis_of(kBox).inside_out);
}

TEST(Diagnosis, CrossingTrianglesAreCountedTouchingOnesAreNot) {
  const auto crossings = [](const Mesh& mesh) { return diagnosis_of(mesh).crossing.count; };
  // Two boxes through each other along Z: each of the four upright sides of one is met by the other's.
  const Mesh through = joined(kBox, testing::box_mesh(Box3(Vec3(3, 5, -5), Vec3(7, 15, 10))));
  EXPECT_GT(crossings(through), 4);
  EXPECT_EQ(crossings(joined(kBox, testing::box_mesh(Box3(Vec3(10, 0, 0), Vec3(12, 20, 5))))), 0)
      << "face to face";
  EXPECT_EQ(crossings(joined(kBox, testing::box_mesh(Box3(Vec3(20, 0, 0), Vec3(22, 20, 5))))), 0) << "apart";
  EXPECT_EQ(crossings(weld(demo::bowl(30, 25, 80, 0.01))), 0);
  // By definition, on random triangles: the segment test over all pairs.
  testing::Rng rng(3);
  Mesh soup;
  for (int i = 0; i < 180; ++i)
    soup.points.emplace_back(rng.uniform(0, 10), rng.uniform(0, 10), rng.uniform(0, 10));
  for (std::int32_t i = 0; i < 60; ++i) soup.triangles.push_back({3 * i, 3 * i + 1, 3 * i + 2});
  const auto side_of = [](const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    return (b - a).cross(c - a).dot(d - a) > 0;
  };
  const auto pierces = [&](std::size_t t, std::size_t u) {
    const Vec3 a = soup.corner(u, 0), b = soup.corner(u, 1), c = soup.corner(u, 2);
    for (int k = 0; k < 3; ++k) {
      const Vec3 p = soup.corner(t, k), q = soup.corner(t, (k + 1) % 3);
      const bool ab = side_of(p, q, a, b), bc = side_of(p, q, b, c), ca = side_of(p, q, c, a);
      if (side_of(a, b, c, p) != side_of(a, b, c, q) && ab == bc && bc == ca) return true;
    }
    return false;
  };
  int expected = 0;
  for (std::size_t t = 0; t < 60; ++t)
    for (std::size_t u = t + 1; u < 60; ++u) expected += pierces(t, u) || pierces(u, t);
  EXPECT_EQ(crossings(soup), expected);
  EXPECT_GT(expected, 20);
}

TEST(Diagnosis, ChordErrorOfASphereIsItsSagitta) {
  // Bands of 2 degrees on a sphere of 30 mm: sagitta 30 (1 - cos 1 degree).
  const int n = 180;
  const Mesh mesh =
      testing::sheet(Box2(Vec2(0, -40), Vec2(360, 40)), n, 40, [](double, double) { return 0.0; });
  Mesh sphere = mesh;
  for (Vec3& p : sphere.points) {
    const double u = p.x() * kPi / 180, v = p.y() * kPi / 180;
    p = 30 * Vec3(std::cos(u) * std::cos(v), std::sin(u) * std::cos(v), std::sin(v));
  }
  const ChordError error = diagnosis_of(sphere).chord_error;
  const double sagitta = 30 * (1 - std::cos(kPi / 180));
  EXPECT_NEAR(error.p95_mm, sagitta, 0.1 * sagitta);
  EXPECT_NEAR(error.greatest_mm, sagitta, 0.3 * sagitta);
}

TEST(Diagnosis, DemoPartsAreSoundAndFine) {
  for (const char* part : {"paddle-blade", "fairlead-punch", "hull-plug", "porthole-ring", "name-board"}) {
    const Diagnosis d = diagnosis_of(testing::demo_mesh(part));
    EXPECT_TRUE(d.edges.closed());
    EXPECT_TRUE(remarks(d).empty());
    EXPECT_LT(d.chord_error.greatest_mm, 0.01);
  }
}

TEST(Repair, EachDoesWhatItSaysAndOnlyThat) {
  MeshFile file;
  file.mesh = joined(kBox, testing::box_mesh(Box3(Vec3(50, 0, 0), Vec3(50.1, 0.1, 0.1))));
  file.mesh.triangles.push_back(file.mesh.triangles[2]);
  file.mesh.triangles.push_back({4, 4, 5});
  std::swap(file.mesh.triangles[7][1], file.mesh.triangles[7][2]);
  file.groups = {"a", "b"};
  file.group_of_triangle.assign(file.mesh.triangles.size(), 0);
  file.group_of_triangle[0] = 1;
  const auto only = [&](Repair which) {
    MeshFile copy = file;
    const auto done = repair(copy, {which});
    EXPECT_EQ(done.size(), 1u);
    EXPECT_EQ(copy.mesh.triangles.size(), copy.group_of_triangle.size());
    EXPECT_EQ(copy.group_of_triangle[0], 1);
    return std::pair(done[0].triangles, file.mesh.triangles.size() - copy.mesh.triangles.size());
  };
  EXPECT_EQ(only(Repair::zero_area), std::pair(std::int64_t{1}, std::size_t{1}));
  EXPECT_EQ(only(Repair::repeated), std::pair(std::int64_t{1}, std::size_t{1}));
  EXPECT_EQ(only(Repair::tiny_shells), std::pair(std::int64_t{12}, std::size_t{12}));
  repair(file, all_repairs());
  const Diagnosis d = diagnosis_of(file.mesh);
  EXPECT_TRUE(d.edges.closed());
  EXPECT_TRUE(remarks(d).empty());
  EXPECT_EQ(file.mesh.triangles.size(), 12u);
}

TEST(Repair, NothingLeftIsAnErrorAndChangesNothing) {
  MeshFile file;
  file.mesh.points = {Vec3(0, 0, 0), Vec3(1, 1, 1), Vec3(2, 2, 2)};
  file.mesh.triangles = {{0, 1, 2}};
  EXPECT_THROW(repair(file, {Repair::zero_area}), Error);
  EXPECT_EQ(file.mesh.triangles.size(), 1u);
}

}  // namespace
}  // namespace yardpass
