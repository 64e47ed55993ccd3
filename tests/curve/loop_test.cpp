// Loops from scattered pieces: the corner a person would draw, and complaints that name pieces and places.
#include <gtest/gtest.h>

#include <algorithm>
#include <numbers>

#include "support/rng.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/curve/edit_curves.h"
#include "yardpass/geom/region.h"

namespace yardpass {
namespace {

Curve piece(const Vec3& a, const Vec3& b, const std::string& name = "") { return {{a, b}, false, name}; }

bool has_corner(const Curve& loop, const Vec2& at) {
  return std::any_of(loop.points.begin(), loop.points.end(),
                     [&](const Vec3& p) { return (plan(p) - at).norm() < 1e-9; });
}

TEST(CloseLoop, FourScatteredEdgesAtThreeHeights) {
  // Around the rectangle 100 x 60: one edge too short, one too long, two that miss each other.
  const std::vector<Curve> pieces{
      piece({2, 0, 0}, {97, 0, 0}),      // ends 3 short of its corner
      piece({100, 64, 5}, {100, 1, 5}),  // stands out by 4 at the top, runs against
      piece({0, 60, 9}, {103, 60, 9}),   // stands out by 3 on the right
      piece({0, 58, 0}, {0, -2, 0})};    // 2 short at the top, stands out by 2 below
  const ClosedLoop loop = close_loop(pieces, 6);
  for (const Vec2& corner : {Vec2(0, 0), Vec2(100, 0), Vec2(100, 60), Vec2(0, 60)})
    EXPECT_TRUE(has_corner(loop.curve, corner)) << corner.transpose();
  EXPECT_NEAR(signed_area(in_plan(loop.curve)), 6000, 1e-6);
  EXPECT_EQ(loop.curve.points.size(), 7u) << "three corners with a step in height and one without";
  ASSERT_EQ(loop.junctions.size(), 4u);
  int cut = 0, extended = 0;
  for (const Junction& j : loop.junctions) {
    cut += j.how == Meeting::cut_back;
    extended += j.how == Meeting::extended;
    EXPECT_LE(j.changed_mm, 4 + 1e-9);
  }
  EXPECT_EQ(cut, 1);
  EXPECT_EQ(extended, 3);
}

TEST(CloseLoop, ScatteredRectanglesInEveryOrderAndDirection) {
  testing::Rng rng(11);
  for (int round = 0; round < 300; ++round) {
    const double turn = rng.uniform(0, 6.28), w = rng.uniform(30, 90), h = rng.uniform(30, 90);
    const auto at = [&](double x, double y, double z) {
      return Vec3(x * std::cos(turn) - y * std::sin(turn), x * std::sin(turn) + y * std::cos(turn), z);
    };
    // Each side too long or too short by up to 3 at both ends.
    const auto off = [&] { return rng.uniform(-3, 3); };
    std::vector<Curve> pieces{
        piece(at(off(), 0, 0), at(w + off(), 0, 0)), piece(at(w, off(), 4), at(w, h + off(), 4)),
        piece(at(w + off(), h, 0), at(off(), h, 0)), piece(at(0, h + off(), 8), at(0, off(), 8))};
    for (Curve& c : pieces)
      if (rng.pick(2)) c = reversed(c);
    for (std::size_t i = 3; i > 0; --i)
      std::swap(pieces[i], pieces[static_cast<std::size_t>(rng.pick(static_cast<int>(i) + 1))]);
    const ClosedLoop loop = close_loop(pieces, 6);
    EXPECT_NEAR(signed_area(in_plan(loop.curve)), w * h, 1e-6) << round;
  }
}

TEST(CloseLoop, BridgesWhatRunsSideBySide) {
  // Two half rings that stand 1 mm off each other: at the ends they run parallel.
  Curve left{{}, false}, right{{}, false};
  for (int i = 0; i <= 90; ++i) {
    const double t = std::numbers::pi * i / 90;
    right.points.emplace_back(20 * std::sin(t), 20 * std::cos(t), 0);
    left.points.emplace_back(-1 - 20 * std::sin(t), 20 * std::cos(t), 2);
  }
  const ClosedLoop loop = close_loop({left, right}, 2);
  ASSERT_EQ(loop.junctions.size(), 2u);
  for (const Junction& j : loop.junctions) EXPECT_NE(j.how, Meeting::cut_back);
  EXPECT_NEAR(signed_area(in_plan(loop.curve)), std::numbers::pi * 400 + 40, 2);
}

TEST(CloseLoop, OnePieceClosesOnItself) {
  const ClosedLoop loop =
      close_loop({{{{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}, {0, 1, 0}}, false}}, 2);
  EXPECT_EQ(loop.junctions.size(), 1u);
  EXPECT_NEAR(signed_area(in_plan(loop.curve)), 100, 1e-9);
  const Curve closed{{{0, 0, 0}, {0, 10, 0}, {10, 10, 0}}, true};
  EXPECT_NEAR(signed_area(in_plan(close_loop({closed}, 2).curve)), 50, 1e-9) << "turned counter-clockwise";
}

TEST(CloseLoop, ComplaintsNamePiecesAndPlaces) {
  const auto complaint = [](const std::vector<Curve>& pieces, double gap, std::size_t places) {
    try {
      (void)close_loop(pieces, gap);
    } catch (const LoopError& error) {
      EXPECT_EQ(error.pieces.size(), pieces.size());
      EXPECT_GE(error.places.size(), places);
      return std::string(error.what());
    }
    return std::string("accepted");
  };
  const std::vector<Curve> open{piece({0, 0, 0}, {40, 0, 0}, "stem"), piece({40, 0, 0}, {40, 30, 1}, "stern"),
                                piece({0, 0, 0}, {0, 20, 0})};
  const std::string gap = complaint(open, 5, 2);
  EXPECT_NE(gap.find("the end of \"stern\" at (40.000, 30.000, 1.000) is open"), std::string::npos) << gap;
  EXPECT_NE(gap.find("the end of piece 3 at (0.000, 20.000, 0.000) is open, 41.231 mm from the end of "
                     "\"stern\" (allowed: 5.000 mm)"),
            std::string::npos)
      << gap;
  const Curve ring{{{0, 0, 0}, {5, 0, 0}, {5, 5, 0}}, true, "ring"};
  EXPECT_NE(complaint({ring, open[0]}, 5, 1).find("\"ring\" is closed already"), std::string::npos);
  // A bow tie is closed, but over itself.
  const Curve bow{{{0, 0, 0}, {10, 10, 0}, {10, 0, 0}, {0, 10, 0}}, true, "bow"};
  EXPECT_NE(complaint({bow}, 20, 1).find("crosses itself"), std::string::npos);
  EXPECT_NE(complaint({piece({1, 1, 0}, {1, 1, 5}, "post"), open[0]}, 5, 1).find("no length"),
            std::string::npos);
  EXPECT_THROW((void)close_loop({}, 5), Error);
}

}  // namespace
}  // namespace yardpass
