#include "yardpass/plan/fronts.h"

#include <gtest/gtest.h>

#include "support/front_spacing.h"
#include "support/grounds.h"

namespace yardpass {

namespace {

using testing::circle_around;

constexpr double kStepover = 0.4;

struct Case {
  const char* name;
  Mesh mesh;
  FrontStart start;
  Region area;
};

FrontStart from(const Polyline2& loop, FrontSide side) {
  FrontStart start;
  start.closed = {{loop}};
  start.side = side;
  return start;
}

Region box(double x0, double y0, double x1, double y1) { return rectangle(Box2(Vec2(x0, y0), Vec2(x1, y1))); }

Mesh sphere() {
  return testing::sheet(Box2(Vec2(-12, -12), Vec2(40, 30)), 208, 168, [](double x, double y) {
    return std::sqrt(std::max(1.0, 3600 - x * x - y * y)) - 60;
  });
}
Mesh saddle() {
  return testing::sheet(Box2(Vec2(-22, -22), Vec2(22, 22)), 88, 88,
                        [](double x, double y) { return (x * x - y * y) / 60; });
}
Mesh bowl() { return testing::turned_part(testing::arc_chain({0, 30}, 30, -89.9, -20, 120), 240); }
Mesh ring() { return testing::turned_part(testing::arc_chain({40, -12}, 12, 170, 10, 120), 360); }

std::vector<Case> formula_surfaces() {
  std::vector<Case> all;
  all.push_back(
      {"sphere", sphere(), from(circle_around({8, 5}, 4, 160), FrontSide::outward), box(-8, -8, 34, 26)});
  all.push_back(
      {"saddle", saddle(), from(circle_around({5, 3}, 4, 160), FrontSide::outward), box(-17, -17, 17, 17)});
  all.push_back(
      {"bowl", bowl(), from(circle_around({6, 4}, 3, 160), FrontSide::outward), box(-19, -19, 19, 19)});
  all.push_back(
      {"torus", ring(), from(circle_around({40, 0}, 3, 160), FrontSide::outward), box(30, -14, 50, 14)});
  const Polyline2 rim = testing::rounded_rectangle(32, 22, 9);
  all.push_back({"draft of 87 degrees", testing::drafted_pocket(), from(rim, FrontSide::inward), {{rim}}});
  return all;
}

TipSurface ball_over(const Mesh& mesh) { return {make_contact_part(mesh), Profile::ball(6)}; }

}  // namespace

TEST(Fronts, AreAStepoverApartInEverySlopeBandAndCoverTheArea) {
  for (const Case& one : formula_surfaces()) {
    SCOPED_TRACE(one.name);
    const TipSurface surface = ball_over(one.mesh);
    const FrontPasses fronts = fronts_from(surface, one.area, one.start, {.stepover_mm = kStepover});
    const testing::SpacingShares shares = testing::spacing_of(surface, fronts.passes, kStepover);
    EXPECT_GT(shares.total_length(), 500);
    EXPECT_GT(shares.total(), 0.99);
    for (std::size_t band = 0; band < 5; ++band)
      if (shares.length[band] > 5) EXPECT_GT(shares.share(band), 0.95) << "band " << band;
    const Region open =
        one.start.side == FrontSide::outward ? subtract(one.area, one.start.closed) : one.area;
    const testing::Coverage coverage =
        testing::coverage_of(surface, open, fronts.passes, kStepover, 0.6, 10000);
    EXPECT_LE(coverage.farthest, 0.61) << coverage.at.transpose();
    EXPECT_LT(static_cast<double>(fronts.touches) / shares.total_length(), 22);
  }
}

TEST(Fronts, NothingAddsUp) {
  // Tips of a ball of 3 over a sphere of 60 lie on a sphere of 63; a step is a chord of it.
  const TipSurface surface = ball_over(sphere());
  FrontStart start = from(circle_around({0, 0}, 2, 720), FrontSide::outward);
  const FrontPasses fronts =
      fronts_from(surface, box(-10, -10, 26, 26), start, {.stepover_mm = kStepover, .farthest = 0});
  const double first = std::asin(2.0 / 63), step = 2 * std::asin(kStepover / 126);
  std::int32_t last = 0;
  for (const FrontPass& pass : fronts.passes) {
    last = std::max(last, pass.step);
    for (const Vec2& p : pass.line) {
      if (p.x() < 3 || p.y() < 3) continue;  // away from the border
      const double angle = std::asin(p.norm() / 63);
      EXPECT_NEAR((angle - first) / step, pass.step, 0.005 * pass.step + 0.02);
    }
  }
  EXPECT_GT(last, 60);
}

TEST(Fronts, OneStepFromACircleIsOneLoop) {
  // A cone of 87 degrees: 0.06 in plan for a stepover of 1.1.
  Mesh cone = testing::turned_part({{1e-3, -400}, {21, 0}, {30, 0}}, 256);
  const Mesh plane =
      testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 2, 2, [](double, double) { return 0; });
  for (const auto& [mesh, middle] :
       {std::pair(plane, Vec2(0, 0)), std::pair(sphere(), Vec2(12, 9)), std::pair(cone, Vec2(0, 0))}) {
    const TipSurface surface = ball_over(mesh);
    const Region area{{circle_around(middle, 4.2, 90)}};
    const FrontPasses fronts =
        fronts_from(surface, area, from(circle_around(middle, 4, 200), FrontSide::outward),
                    {.stepover_mm = 0.15, .farthest = 0});
    const auto of_first = std::count_if(fronts.passes.begin(), fronts.passes.end(),
                                        [](const FrontPass& p) { return p.step == 1; });
    EXPECT_EQ(of_first, 1);
    EXPECT_TRUE(fronts.passes[1].closed);
    EXPECT_EQ(fronts.passes[1].from, std::vector<std::int32_t>{0});
  }
}

TEST(Fronts, GapsAreFilledAndWithoutThatTheyAreThere) {
  const TipSurface surface =
      ball_over(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0; }));
  // Fronts meet in the middle a whole stepover off; a sharp corner, and a neck that closes.
  const Region rectangle = box(-15, -9, 15, 9);
  const Region wedge{{{{-20, 0}, {20, -8}, {20, 8}}}};
  const Region neck = unite(unite(box(-20, -6, -6, 6), box(6, -6, 20, 6)), box(-7, -1.7, 7, 1.7));
  for (const Region& area : {rectangle, wedge, neck}) {
    FrontStart start;
    start.closed = area;
    start.side = FrontSide::inward;
    const auto farthest = [&](double filled) {
      const FrontPasses fronts = fronts_from(surface, area, start, {.stepover_mm = 0.6, .farthest = filled});
      return testing::coverage_of(surface, area, fronts.passes, 0.6, 0.6).farthest;
    };
    EXPECT_LE(farthest(0.6), 0.605);
    EXPECT_GT(farthest(0), 0.62);
  }
}

TEST(Fronts, PartAndMeetAsATree) {
  const TipSurface surface =
      ball_over(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0; }));
  const Region area = unite(unite(box(-20, -6, -6, 6), box(6, -6, 20, 6)), box(-7, -2.3, 7, 2.3));
  FrontStart start;
  start.closed = area;
  start.side = FrontSide::inward;
  const FrontPasses fronts = fronts_from(surface, area, start, {.stepover_mm = 0.5, .farthest = 0});
  std::vector<int> children(fronts.passes.size(), 0);
  for (std::size_t i = 0; i < fronts.passes.size(); ++i) {
    EXPECT_EQ(fronts.passes[i].from.size(), fronts.passes[i].step == 0 ? 0u : 1u);
    for (const std::int32_t parent : fronts.passes[i].from) {
      EXPECT_EQ(fronts.passes[static_cast<std::size_t>(parent)].step, fronts.passes[i].step - 1);
      ++children[static_cast<std::size_t>(parent)];
    }
  }
  EXPECT_EQ(std::count(children.begin(), children.end(), 2), 1) << "the neck parts once";
}

TEST(Fronts, HoldWhereTheyAreMeasured) {
  // Over a bowl of 30 and a sphere of 60, distances of touches follow from those of tips.
  struct Round {
    Mesh mesh;
    double touches_per_tip;
    Region area;
  };
  for (const Round& round :
       {Round{bowl(), 30.0 / 27, box(-17, -17, 17, 17)}, Round{sphere(), 60.0 / 63, box(-8, -8, 30, 24)}}) {
    const TipSurface surface = ball_over(round.mesh);
    for (const FrontMeasure measure : {FrontMeasure::part, FrontMeasure::scallop}) {
      const FrontPasses fronts =
          fronts_from(surface, round.area, from(circle_around({6, 4}, 3, 160), FrontSide::outward),
                      {.stepover_mm = kStepover, .measure = measure, .farthest = 0});
      const double tips = measure == FrontMeasure::part ? kStepover / round.touches_per_tip
                                                        : kStepover / std::sqrt(round.touches_per_tip);
      const testing::SpacingShares shares = testing::spacing_of(surface, fronts.passes, tips, 0.04);
      EXPECT_GT(shares.total(), 0.95) << static_cast<int>(measure);
      EXPECT_GT(shares.total_length(), 500);
    }
  }
}

TEST(Fronts, EqualRidgesHoldWhereFlatGroundTurnsHollow) {
  // A fillet hardly wider than the ball beside level ground: on the crease only what is ahead counts.
  constexpr double kFillet = 3.6, kBall = 3, kSteepest = 75 * std::numbers::pi / 180;
  const Mesh mesh = testing::sheet(Box2(Vec2(-10, -15), Vec2(6, 15)), 1600, 30, [](double x, double) {
    const double turn = std::sin(kSteepest) * kFillet;
    if (x < 0) return 0.0;
    const double on = std::min(x, turn);
    return kFillet - std::sqrt(kFillet * kFillet - on * on) + (x - on) * std::tan(kSteepest);
  });
  FrontStart start;
  start.open = {{{-2, -12}, {-2, 12}}};
  const TipSurface surface = ball_over(mesh);
  const FrontPasses fronts = fronts_from(surface, box(-3, -10, 1.6, 10), start,
                                         {.stepover_mm = 0.38, .measure = FrontMeasure::scallop});
  const double asked = 0.38 * 0.38 / 8 / kBall;
  std::vector<double> ways;  // of touches along the section at y = 0
  for (const FrontPass& pass : fronts.passes)
    for (std::size_t i = 1; i < pass.line.size(); ++i) {
      const Vec2 &a = pass.line[i - 1], &b = pass.line[i];
      if ((a.y() < 0) == (b.y() < 0)) continue;
      const Vec2 at = a + (b - a) * (a.y() / (a.y() - b.y()));
      const double centre = surface.touch(at)->height + kBall;
      const double turned = std::atan2(at.x(), kFillet - centre);
      ways.push_back(at.x() < 0 ? at.x() : kFillet * std::min(turned, kSteepest));
    }
  std::sort(ways.begin(), ways.end());
  double worst = 0;
  int hollow = 0;
  for (std::size_t i = 1; i < ways.size(); ++i) {
    if (ways[i - 1] < 0) continue;
    ++hollow;
    const double apart = ways[i] - ways[i - 1];
    worst = std::max(worst, apart * apart / 8 * (1 / kBall - 1 / kFillet));
  }
  EXPECT_GT(hollow, 2);
  EXPECT_LT(worst, 2 * asked);
}

TEST(Fronts, StartFromOpenCurvesAndFromBesideThePart) {
  const TipSurface surface = ball_over(saddle());
  const Region area = box(-15, -15, 15, 15);
  FrontStart across;
  across.open = {{{-18, -3}, {0, 2}, {18, -1}}};
  FrontStart beside;
  beside.open = {{{-60, -40}, {-60, 40}}};
  for (const FrontStart& start : {across, beside}) {
    const FrontPasses fronts = fronts_from(surface, area, start, {.stepover_mm = kStepover});
    EXPECT_GT(testing::spacing_of(surface, fronts.passes, kStepover).total(), 0.98);
    EXPECT_LE(testing::coverage_of(surface, area, fronts.passes, kStepover, 0.6, 10000).farthest, 0.61);
  }
}

TEST(Fronts, TheFirstPointOfTheStartDoesNotMatter) {
  const TipSurface surface = ball_over(saddle());
  const Region area = box(-14, -14, 14, 14);
  Polyline2 loop = circle_around({3, 2}, 4, 96);
  const FrontOptions options{.stepover_mm = kStepover, .farthest = 0};
  const FrontPasses one = fronts_from(surface, area, from(loop, FrontSide::outward), options);
  std::rotate(loop.begin(), loop.begin() + 37, loop.end());
  const FrontPasses other = fronts_from(surface, area, from(loop, FrontSide::outward), options);
  testing::NearSegments near(1);
  for (const FrontPass& pass : other.passes)
    for (std::size_t i = 1; i < pass.line.size() + (pass.closed ? 1 : 0); ++i)
      near.add(with_z(pass.line[i - 1], 10 * pass.step),
               with_z(pass.line[i % pass.line.size()], 10 * pass.step));
  double worst = 0;
  for (const FrontPass& pass : one.passes)
    for (const Vec2& p : pass.line)
      if (p.cwiseAbs().maxCoeff() < 13) worst = std::max(worst, near.distance(with_z(p, 10 * pass.step), 1));
  EXPECT_LT(worst, 0.01 * kStepover);
}

TEST(FrontSpiral, GoesOnWithoutAGapOrAKink) {
  std::vector<Case> all = formula_surfaces();
  for (Case& one : all) {
    if (std::string(one.name) == "torus" || std::string(one.name) == "sphere") continue;
    SCOPED_TRACE(one.name);
    const TipSurface surface = ball_over(one.mesh);
    const FrontPasses fronts = fronts_from(surface, one.area, one.start,
                                           {.stepover_mm = kStepover, .farthest = 0, .round_corners = false});
    std::vector<FrontPass> loops;
    for (const FrontPass& pass : fronts.passes)
      if (pass.closed && static_cast<std::size_t>(pass.step) == loops.size()) loops.push_back(pass);
    if (loops.size() > 30) loops.resize(30);
    ASSERT_GT(loops.size(), 10u);
    for (const bool right : {true, false}) {
      const FrontSpiral spiral = front_spiral(surface, loops, right, {.stepover_mm = kStepover});
      EXPECT_EQ(spiral.turns, static_cast<std::int32_t>(loops.size()) - 1);
      EXPECT_EQ(spiral.breaks, 0);
      EXPECT_EQ(spiral.joints.size(), loops.size() - 1);
      std::vector<FrontPass> turns;
      for (std::size_t k = 0; k < spiral.joints.size(); ++k) {
        const std::size_t at = spiral.joints[k],
                          end = k + 1 < spiral.joints.size() ? spiral.joints[k + 1] : spiral.line.size() - 1;
        const Vec2 in = spiral.line[at] - spiral.line[at - 1], on = spiral.line[at + 1] - spiral.line[at];
        EXPECT_GT(in.dot(on) / (in.norm() * on.norm()), std::cos(5 * std::numbers::pi / 180))
            << "joint " << k;
        turns.push_back({{spiral.line.begin() + static_cast<std::ptrdiff_t>(at),
                          spiral.line.begin() + static_cast<std::ptrdiff_t>(end) + 1},
                         false,
                         static_cast<std::int32_t>(k)});
      }
      EXPECT_GT(testing::spacing_of(surface, turns, kStepover).total(), 0.99);
    }
  }
}

TEST(Fronts, SayWhatIsWrong) {
  const TipSurface surface = ball_over(saddle());
  const Region area = box(-5, -5, 5, 5);
  FrontStart start;
  start.closed = area;
  EXPECT_THROW((void)fronts_from(surface, area, start, {.stepover_mm = 0}), Error);
  EXPECT_THROW((void)fronts_from(surface, area, start, {.farthest = 0.3}), Error);
  EXPECT_TRUE(fronts_from(surface, area, {}, {}).passes.empty());
  EXPECT_TRUE(fronts_from(surface, {}, start, {}).passes.empty());
  EXPECT_THROW((void)front_spiral(surface, {}, true, {}), Error);
}

}  // namespace yardpass
