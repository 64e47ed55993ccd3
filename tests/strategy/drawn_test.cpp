// Curves that passes run along as they are drawn: projected and engraved.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "support/grounds.h"
#include "yardpass/curve/made_curves.h"
#include "yardpass/link/link.h"
#include "yardpass/strategy/engraving.h"
#include "yardpass/strategy/projected.h"

namespace yardpass {
namespace {

using testing::all_cuts;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

GivenCurves given(std::vector<Curve> curves) { return {{"lines"}, std::move(curves)}; }
Curve line(const Polyline3& points, bool closed = false) { return {points, closed}; }

/// Short strokes all over, in no order that a machine would like.
std::vector<Curve> scattered(int count, testing::Rng& rng) {
  std::vector<Curve> curves;
  for (int i = 0; i < count; ++i) {
    const Vec3 at(rng.uniform(-13, 13), rng.uniform(-13, 13), 0);
    curves.push_back(line({at, at + Vec3(rng.uniform(-1, 1), rng.uniform(-1, 1), 0)}));
  }
  return curves;
}

class Drawn : public ::testing::Test {
 protected:
  std::shared_ptr<const ContactPart> part_ =
      make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 160, 160,
                                       [](double x, double y) { return 0.01 * x * x - 0.05 * y; }));
  ToolSurface surface_ = testing::exact_surface(part_, testing::ball_tool(2));
  Region area_ = square(15);

  [[nodiscard]] CutPlan projected(DrawnCurves drawn) const {
    return cuts_of(ProjectedOptions{std::move(drawn)}, {surface_, area_, nullptr, 0.005});
  }
  static void expect_from_to(const Cut& cut, const Vec2& from, const Vec2& to) {
    EXPECT_LT((plan(cut.points.front()) - from).norm(), 1e-9);
    EXPECT_LT((plan(cut.points.back()) - to).norm(), 1e-9);
  }
};

TEST_F(Drawn, OrderAndDirectionAreThoseOfTheDrawing) {
  testing::Rng rng(5);
  const std::vector<Curve> curves = scattered(300, rng);
  const std::vector<Cut> cuts = all_cuts(projected({.curves = given(curves)}));
  ASSERT_EQ(cuts.size(), curves.size());
  for (std::size_t i = 0; i < cuts.size(); ++i)
    expect_from_to(cuts[i], plan(curves[i].points.front()), plan(curves[i].points.back()));
  const std::vector<Cut> back =
      all_cuts(projected({.curves = given(curves), .last_first = true, .turned = {1, 300}}));
  expect_from_to(back.front(), plan(curves[299].points.back()), plan(curves[299].points.front()));
  expect_from_to(back[1], plan(curves[298].points.front()), plan(curves[298].points.back()));
  expect_from_to(back.back(), plan(curves[0].points.back()), plan(curves[0].points.front()));
  // The linker keeps to it: cut after cut is what the program runs.
  const Toolpath path = link_cuts(projected({.curves = given(curves)}), surface_,
                                  Stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 6)), 0.5), {.plane_z = 20})
                            .path;
  for (std::size_t i = 1; i < path.cuts.size(); ++i) EXPECT_EQ(path.cuts[i].pass, path.cuts[i - 1].pass + 1);
}

TEST_F(Drawn, ToAndFroBeginsEachAtItsNearerEnd) {
  std::vector<Curve> hatch;
  for (int k = 0; k < 9; ++k) hatch.push_back(line({{-5, 1.0 * k, 0}, {5, 1.0 * k, 0}}));
  const std::vector<Cut> cuts =
      all_cuts(projected({.curves = given(hatch), .order = DrawnOrder::to_and_fro}));
  ASSERT_EQ(cuts.size(), 9u);
  for (std::size_t k = 0; k < 9; ++k) {
    const double from = k % 2 == 0 ? -5 : 5;
    expect_from_to(cuts[k], {from, 1.0 * static_cast<double>(k)}, {-from, 1.0 * static_cast<double>(k)});
  }
}

TEST_F(Drawn, JoinedADrawingOfShortCurvesIsCutWithFewRetracts) {
  // Rings and waves, taken apart into pieces that come in any order and direction.
  testing::Rng rng(9);
  std::vector<Curve> whole = rings({.from_mm = 2, .to_mm = 13, .step_mm = 0.5});
  std::vector<Curve> pieces;
  for (const Curve& ring : whole)
    for (std::size_t i = 0; i < ring.points.size(); i += 2) {
      const Vec3 &a = ring.points[i], &b = ring.points[(i + 1) % ring.points.size()],
                 &c = ring.points[(i + 2) % ring.points.size()];
      const bool last = i + 1 == ring.points.size();  // of an odd number of pieces
      pieces.push_back(last ? line({a, b}) : i % 4 == 0 ? line({a, b, c}) : line({c, b, a}));
    }
  for (std::size_t i = pieces.size(); i > 1; --i)
    std::swap(pieces[i - 1], pieces[static_cast<std::size_t>(rng.uniform(0, 1) * static_cast<double>(i))]);
  ASSERT_GT(pieces.size(), 1000u);
  const CutPlan plan = projected({.curves = given(pieces), .order = DrawnOrder::joined});
  EXPECT_EQ(plan.cut_count(), whole.size());
  for (const Cut& cut : all_cuts(plan)) EXPECT_TRUE(cut.closed);
  const LinkedCuts linked =
      link_cuts(plan, surface_, Stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 3)), 0.5), {.plane_z = 20});
  EXPECT_LT(linked.counts.planes, 3);
}

TEST_F(Drawn, OwnHeightsRaiseAndSinkTheTip) {
  const Curve wave = line({{-10, 0, 0.5}, {0, 0, -0.5}, {10, 0, 1}});
  const ProjectedOptions options{{.curves = given({wave}), .own_heights = true}};
  const CutPlan plan = cuts_of(options, {surface_, area_, nullptr, 0.005});
  const Toolpath path =
      link_cuts(plan, surface_, Stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 3)), 0.5), {.plane_z = 20}).path;
  int places = 0;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::cut) {
      for (const double share : {0.0, 0.5, 1.0}) {
        const Vec3 p = at + share * (move.to - at);
        const double height = p.x() < 0 ? 0.5 + (-0.5 - 0.5) * (p.x() + 10) / 10 : -0.5 + 1.5 * p.x() / 10;
        const double off = p.z() - surface_.height(yardpass::plan(p)) - height;
        EXPECT_GT(off, -1e-6) << "X " << p.x();
        EXPECT_LT(off, 0.0051) << "X " << p.x();
        ++places;
      }
    }
    at = move.to;
  }
  EXPECT_GT(places, 30);
  const IntendedCuts intended = intended_of(options);
  EXPECT_NEAR(intended.greatest_mm(), 0.5, 1e-12);
  EXPECT_TRUE(intended_of(ProjectedOptions{{.curves = given({wave})}}).none());
}

TEST_F(Drawn, KeepsInsideItsAreaAndTellsWhatIsLeftOut) {
  const Curve ring = circle_curve({13, 0}, 5);
  const CutPlan plan = projected({.curves = given({ring})});
  ASSERT_EQ(plan.cut_count(), 1u) << "the start of a ring is no place of its own";
  for (const Cut& cut : all_cuts(plan))
    for (const Vec3& p : cut.points) EXPECT_LE(p.x(), 15 + 1e-6);
  ASSERT_FALSE(plan.notes.empty());
  EXPECT_EQ(plan.notes.front().about, "outside");
  EXPECT_THROW((void)projected({}), Error);
  EXPECT_EQ(projected({.curves = given({circle_curve({40, 0}, 5)})}).notes.back().about, "nothing");
}

TEST_F(Drawn, TellsItsCurvesInTheOrderOfCutting) {
  std::vector<Curve> curves{line({{0, 0, 0}, {5, 0, 0}}), line({{0, 3, 0}, {5, 3, 0}}),
                            circle_curve({0, 9}, 2)};
  curves[2].name = "eye";
  const std::vector<CurveRole> roles =
      roles_of(ProjectedOptions{{.curves = given(curves), .last_first = true}}, area_);
  ASSERT_EQ(roles.size(), 3u);
  EXPECT_EQ(roles[0].role, "curve 3 (eye)");
  EXPECT_EQ(roles[0].number, 1);
  EXPECT_TRUE(roles[0].closed);
  EXPECT_EQ(roles[2].role, "curve 1");
  EXPECT_EQ(roles[2].number, 3);
}

/// Depth of what is cut at places along a line, measured on the material.
TEST_F(Drawn, StrokesAreAsDeepAsTheySayOnTheMaterial) {
  const std::vector<Curve> strokes{line({{-12, -8, 0}, {12, -6, 0}}),
                                   line({{-8, 0, 0}, {0, 6, 0}, {8, 1, 0}}), circle_curve({0, 10}, 3)};
  for (const bool uneven : {false, true}) {
    EngravingOptions options;
    options.drawn.curves = given(strokes);
    options.depth_mm = 0.3;
    if (uneven) options.depths_mm = {0.1, 0.4, 0.2};
    const CutPlan plan = cuts_of(options, {surface_, area_, nullptr, 0.005});
    // The part itself as material, in fine cells.
    Stock stock(Box3(Vec3(-16, -16, -3), Vec3(16, 16, 4)), 0.05);
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        stock.set_height(column, row, 0.01 * p.x() * p.x() - 0.05 * p.y());
      }
    const Stock after = link_cuts(plan, surface_, stock, {.plane_z = 20}).stock;
    int places = 0;
    for (const DepthLine& stroke : plan.sunk)
      for (std::size_t i = 0; i < stroke.pieces(); ++i) {
        const std::size_t k = (i + 1) % stroke.points.size();
        const Vec2 way = stroke.points[k] - stroke.points[i];
        for (double share = 0.02; share < 1; share += 0.3 / std::max(0.3, way.norm())) {
          const Vec2 at = stroke.points[i] + share * way;
          const double meant = stroke.depth_mm[i] + share * (stroke.depth_mm[k] - stroke.depth_mm[i]);
          // The lowest cell about the place: a slope puts the touch beside the tip.
          double deepest = 0;
          for (double x = -0.1; x <= 0.1; x += 0.05)
            for (double y = -0.1; y <= 0.1; y += 0.05) {
              const Vec2 p = at + Vec2(x, y);
              const auto column = static_cast<int>((p.x() + 16) / 0.05),
                         row = static_cast<int>((p.y() + 16) / 0.05);
              const Vec2 c = after.centre(column, row);
              deepest = std::max(deepest, 0.01 * c.x() * c.x() - 0.05 * c.y() - after.height(column, row));
            }
          EXPECT_NEAR(deepest, meant, 0.012) << at.x() << " " << at.y();
          ++places;
        }
      }
    EXPECT_GT(places, 100);
  }
}

/// A line that ends where it begins, cut the other way round.
TEST_F(Drawn, DepthsFollowALineWhicheverWayItIsCut) {
  Curve ring = circle_curve({0, 0}, 5);
  ring.points.push_back(ring.points.front());
  ring.closed = false;
  for (const bool turned : {false, true}) {
    EngravingOptions options;
    options.drawn.curves = given({ring});
    if (turned) options.drawn.turned = {1};
    options.depths_mm = {0.1, 0.3, 0.5};
    CutPlan plan = cuts_of(options, {surface_, area_, nullptr, 0.005});
    ASSERT_EQ(plan.cut_count(), 1u);
    // As a linker may turn it round.
    std::reverse(plan.groups[0].cuts[0].points.begin(), plan.groups[0].cuts[0].points.end());
    const Toolpath path =
        link_cuts(plan, surface_, Stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 3)), 0.5), {.plane_z = 20})
            .path;
    Vec3 at = path.start;
    for (const Move& move : path.moves) {
      if (move.kind == MoveKind::cut) {
        const Vec3 p = 0.5 * (at + move.to);
        double angle = std::atan2(p.y(), p.x()) / (2 * std::numbers::pi);
        if (angle < 0) angle += 1;
        const double meant = 0.1 + 0.4 * (turned ? 1 - angle : angle);
        EXPECT_NEAR(surface_.height(yardpass::plan(p)) - p.z(), meant, 0.01) << angle;
      }
      at = move.to;
    }
  }
}

TEST_F(Drawn, NeverGougesBeyondItsDepthOnAnyGround) {
  std::vector<Curve> curves = rays({.from_mm = 1, .to_mm = 14, .count = 17});
  for (Curve& ring : rings({.from_mm = 3, .to_mm = 12, .step_mm = 3})) curves.push_back(std::move(ring));
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::flat, Shape::bull, Shape::taper}) {
      SCOPED_TRACE(ground.name);
      const ToolSurface surface = testing::exact_surface(make_contact_part(ground.mesh),
                                                         testing::tool_of(shape), {.allowance_mm = 0.05});
      const Site site{surface, square(13), nullptr, 0.01};
      testing::expect_no_gouge(cuts_of(ProjectedOptions{{.curves = given(curves)}}, site), surface,
                               square(13), 100);
      EngravingOptions engraving;
      engraving.drawn.curves = given(curves);
      engraving.depth_mm = 0.2;
      Toolpath path = link_cuts(cuts_of(engraving, site), surface,
                                Stock(Box3(Vec3(-16, -16, -8), Vec3(16, 16, 12)), 0.5), {.plane_z = 40})
                          .path;
      Vec3 at = path.start;
      for (const Move& move : path.moves) {
        EXPECT_GE(surface.clearance(at, move.to, -0.2).room, -0.2 - 1e-6);
        if (move.kind == MoveKind::rapid && plan(at) != plan(move.to))
          EXPECT_GE(surface.clearance(at, move.to, 0).room, -kTouchError);
        at = move.to;
      }
    }
}

TEST_F(Drawn, TheSameBitsOnAnyNumberOfThreads) {
  testing::Rng rng(3);
  EngravingOptions options;
  options.drawn = {.curves = given(scattered(200, rng)), .order = DrawnOrder::joined};
  options.depths_mm = {0.1, 0.3};
  const auto planned = [&](std::size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return link_cuts(cuts_of(options, {surface_, area_, nullptr, 0.005}), surface_,
                     Stock(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 6)), 0.5), {.plane_z = 20})
        .path;
  };
  const Toolpath one = planned(1), two = planned(2);
  ASSERT_EQ(one.moves.size(), two.moves.size());
  for (std::size_t i = 0; i < one.moves.size(); ++i) EXPECT_EQ(one.moves[i].to, two.moves[i].to);
}

TEST(DepthLines, GiveTheGreatestDepthOfTheLinesAPlaceIsOn) {
  const DepthLines lines({{{{0, 0}, {10, 0}}, {0.1, 0.3}}, {{{5, -5}, {5, 5}}, {0.5, 0.5}}}, 0.02);
  EXPECT_NEAR(*lines.greatest({2.5, 0.01}), 0.15, 1e-12);
  EXPECT_NEAR(*lines.greatest({5, 0}), 0.5, 1e-12) << "where they cross";
  EXPECT_FALSE(lines.greatest({2.5, 0.03}));
  EXPECT_FALSE(lines.greatest({40, 40}));
  EXPECT_FALSE(lines.even());
  EXPECT_TRUE(DepthLines({{{{0, 0}, {10, 0}}, {0.1, 0.1}}}, 0.02).even());
}

}  // namespace
}  // namespace yardpass
