// Curves of a part: pieces, runs and loops of sharp edges, ways along them, borders.
#include <gtest/gtest.h>

#include "support/demo_files.h"
#include "support/nasty.h"
#include "yardpass/curve/part_curves.h"

namespace yardpass {
namespace {

struct Edges {
  explicit Edges(Mesh m, double least_turn = 25) : mesh(std::move(m)), joints(mesh) {
    pieces.emplace(mesh, sharp_edges(mesh, joints, turned_over(mesh, joints), least_turn));
  }
  Mesh mesh;
  Joints joints;
  std::optional<EdgePieces> pieces;
};

TEST(EdgePieces, TheTwelveEdgesOfABox) {
  const Edges box(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(30, 20, 10))));
  const EdgePieces& edges = *box.pieces;
  ASSERT_EQ(edges.pieces().size(), 12u);
  EXPECT_NEAR(length(edges.pieces().front()), 30, 1e-12) << "longest first";
  EXPECT_NEAR(length(edges.pieces().back()), 10, 1e-12);
  const int top = edges.nearest({15, -1, 11});
  const Curve piece = edges.through(top, EdgeExtent::piece);
  EXPECT_EQ(distance_to(piece, {15, 0, 10}), 0);
  EXPECT_NEAR(length(edges.through(top, EdgeExtent::run)), 30, 1e-12) << "ends at the corners";
  const Curve way = edges.between({0, 0, 10}, {30, 20, 10});
  EXPECT_NEAR(length(way), 50, 1e-12);
  EXPECT_EQ(way.points.front(), Vec3(0, 0, 10));
  EXPECT_EQ(way.points.back(), Vec3(30, 20, 10));
  EXPECT_THROW((void)edges.through(0, EdgeExtent::piece), Error);
  EXPECT_THROW((void)edges.through(13, EdgeExtent::piece), Error);
  EXPECT_THROW((void)edges.between({0, 0, 10}, {0, 0, 10}), Error);
}

TEST(EdgePieces, ALoopRunsRoundARimWithCorners) {
  const Edges box(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(30, 20, 10))));
  const Curve loop = box.pieces->through(box.pieces->nearest({15, 0, 10}), EdgeExtent::loop);
  EXPECT_TRUE(loop.closed);
  EXPECT_NEAR(length(loop), 100, 1e-9);
  for (const Vec3& p : loop.points) EXPECT_EQ(p.z(), 10) << "of edges that turn alike the level one goes on";
}

TEST(EdgePieces, TheRimOfTheDemoCavityIsOneCurve) {
  const Edges mold(testing::demo_mesh("paddle-blade"));
  const EdgePieces& edges = *mold.pieces;
  const Curve dowel = edges.through(edges.nearest({-77, 47, 0}), EdgeExtent::loop);
  EXPECT_TRUE(dowel.closed);
  for (const Vec3& p : dowel.points)
    EXPECT_NEAR(p.z(), dowel.points.front().z(), 1e-5) << "a hole's rim is level";
  for (std::size_t i = 0; i + 1 < edges.pieces().size(); ++i)
    EXPECT_GE(length(edges.pieces()[i]), length(edges.pieces()[i + 1]));
  double sum = 0, chains = 0;
  for (const Curve& c : edges.pieces()) sum += length(c);
  for (const SharpEdge& e : sharp_edges(mold.mesh, mold.joints, turned_over(mold.mesh, mold.joints), 25))
    chains += e.length_mm;
  EXPECT_NEAR(sum, chains, 1e-9) << "cutting loses nothing";
}

TEST(EdgePieces, APartWithoutEdgesSaysSo) {
  Mesh sheet;
  sheet.points = {{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}};
  sheet.triangles = {{0, 1, 2}, {0, 2, 3}};
  const Edges flat(sheet);
  EXPECT_THROW((void)flat.pieces->nearest({0, 0, 0}), Error);
  EXPECT_THROW((void)flat.pieces->between({0, 0, 0}, {1, 1, 1}), Error);
}

TEST(Borders, HolesAndOuterBorders) {
  const Edges mold(testing::demo_mesh("paddle-blade"));
  TriangleSet all(mold.mesh.triangles.size(), 0);
  for (std::size_t t = 0; t < all.size(); ++t)
    all[t] = unit_normal(mold.mesh, t).z() > 0.999 && mold.mesh.corner(t, 0).z() > -0.01;
  const auto rims = rims_of(mold.mesh, mold.joints, all);
  const auto every = borders_of(rims, false), holes = borders_of(rims, true);
  EXPECT_EQ(every.size(), rims.size());
  EXPECT_GE(holes.size(), 3u) << "the cavity and the dowel holes";
  EXPECT_LT(holes.size(), every.size());
  for (const Curve& c : every) EXPECT_TRUE(c.closed);
}

}  // namespace
}  // namespace yardpass
