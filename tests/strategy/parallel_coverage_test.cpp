// What parallel passes leave: nothing below the part, and no more than their ridges.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/grounds.h"
#include "support/planning.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/verify/left.h"

namespace yardpass {
namespace {

void carve_cuts(Stock& stock, const Profile& cutter, const std::vector<Cut>& cuts) {
  std::vector<SweptMove> moves;
  for (const Cut& cut : cuts)
    for (std::size_t i = 0; i + 1 < cut.points.size(); ++i)
      moves.push_back({cut.points[i], cut.points[i + 1]});
  carve(stock, std::array{cutter}, moves);
}

/// What is left in the middle of a square around the origin.
double ridge(const std::shared_ptr<const ContactPart>& part, const Tool& tool, const ParallelOptions& options,
             double half, double cell) {
  const ToolSurface surface = testing::exact_surface(part, tool);
  const double top = surface.height({0, 0}) + 3;
  Stock stock(Box3(Vec3(-half, -half, top - 30), Vec3(half, half, top)), cell);
  const double wide = half + 4;
  carve_cuts(
      stock, surface.cutter(),
      testing::parallel_cuts(surface, rectangle(Box2(Vec2(-wide, -wide), Vec2(wide, wide))), options, 1e-4));
  const LeftMap left = left_map(stock, *part, 1);
  return statistics(left, stock, rectangle(Box2(Vec2(-half, -half), Vec2(half, half)))).greatest_mm;
}

TEST(ParallelRidges, AreAsHighAsTheFormulaSaysOnPlanesAndSpheres) {
  const Tool ball = testing::ball_tool(6);
  const double r = 3, s = 0.8, flat = r - std::sqrt(r * r - s * s / 4);
  for (const double slope : {0.0, 30.0, 55.0}) {
    const double rise = std::tan(slope * std::numbers::pi / 180);
    const auto plane = make_contact_part(
        testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [&](double, double y) { return rise * y; }));
    const double apart = s * std::hypot(1, rise);
    EXPECT_NEAR(ridge(plane, ball, {.stepover_mm = s}, 2, s / 40), r - std::sqrt(r * r - apart * apart / 4),
                0.05 * flat * apart * apart / s / s)
        << slope;
    EXPECT_NEAR(ridge(plane, ball, {.stepover_mm = s, .spacing = SpacingHolds::on_surface}, 2, s / 40), flat,
                0.05 * flat)
        << slope;
    EXPECT_NEAR(ridge(plane, ball, {.angle_deg = 90, .stepover_mm = s}, 2, s / 40), flat, 0.05 * flat);
  }
  // The bottom of a bowl, and the top of a dome, of radius q.
  const double q = 30;
  for (const double sign : {1.0, -1.0}) {
    const auto round = make_contact_part(
        testing::sheet(Box2(Vec2(-12, -12), Vec2(12, 12)), 600, 600,
                       [&](double x, double y) { return sign * (q - std::sqrt(q * q - x * x - y * y)); }));
    const double tips = q - sign * r, sine = s / 2 / tips;
    const double cusp = sign > 0 ? q - (tips * std::sqrt(1 - sine * sine) + std::sqrt(r * r - s * s / 4))
                                 : tips * std::sqrt(1 - sine * sine) - std::sqrt(r * r - s * s / 4) - q;
    EXPECT_NEAR(ridge(round, ball, {.stepover_mm = s}, 1.5, s / 40), cusp, 0.05 * cusp) << sign;
  }
}

/// Where the tip surface is steeper than passes can follow, and as far from there as the tool reaches.
class NearWalls {
 public:
  NearWalls(const TipSurface& surface, double half) : reach_(std::min(surface.cutter().radius(), 3.0) + 0.4) {
    constexpr double kStep = 0.2, kSteepest = 3.7;
    const int count = static_cast<int>(2 * (half + reach_) / kStep);
    const auto at = [&](int i, int k) { return Vec2(kStep * i - half - reach_, kStep * k - half - reach_); };
    std::vector<Vec2> places;
    for (int i = 0; i <= count; ++i)
      for (int k = 0; k <= count; ++k) places.push_back(at(i, k));
    const std::vector<double> z = heights(surface, places);
    const auto n = static_cast<std::size_t>(count) + 1;
    for (std::size_t i = 0; i + 1 < n; ++i)
      for (std::size_t k = 0; k + 1 < n; ++k) {
        const double here = z[i * n + k];
        if (!(std::abs(z[i * n + k + 1] - here) < kSteepest * kStep) ||
            !(std::abs(z[(i + 1) * n + k] - here) < kSteepest * kStep))
          walls_.push_back(places[i * n + k]);
      }
  }
  [[nodiscard]] bool operator()(const Vec2& p) const {
    return std::any_of(walls_.begin(), walls_.end(),
                       [&](const Vec2& wall) { return (wall - p).norm() < reach_; });
  }

 private:
  double reach_;
  std::vector<Vec2> walls_;
};

TEST(ParallelCoverage, NothingIsGougedAndNoPlaceInReachKeepsMoreThanTheRidges) {
  constexpr double tolerance = 0.005, scallop = 0.02, half = 4;
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::bull, Shape::flat, Shape::taper}) {
      SCOPED_TRACE(std::string(ground.name) + " " + name_of(shape));
      const auto part = make_contact_part(ground.mesh);
      const ToolSurface surface = testing::exact_surface(part, testing::tool_of(shape));
      const double r = tip_radius(surface.tool());
      const bool flat = shape == Shape::flat;
      const double stepover = flat ? 0.2 : 2 * std::sqrt(scallop * (2 * r - scallop));
      // The sharp rim of a flat end leaves steps on slopes, as high as the ground rises from pass to pass.
      const double ridge = flat ? stepover : scallop;
      const Region wide = rectangle(Box2(Vec2(-half - 3.5, -half - 3.5), Vec2(half + 3.5, half + 3.5)));
      const auto passes = [&](double step, double angle, SpacingHolds spacing) {
        return testing::parallel_cuts(
            surface, wide, {.angle_deg = angle, .stepover_mm = step, .spacing = spacing}, tolerance);
      };
      const Box3 box = part->box();
      Stock stock(Box3(Vec3(-half, -half, box.min().z() - 8), Vec3(half, half, box.max().z() + 1)), 0.1);
      Stock best = stock;
      const auto cuts = passes(stepover, 20, SpacingHolds::on_surface);
      for (const Cut& cut : cuts)
        for (std::size_t i = 0; i + 1 < cut.points.size(); ++i)
          ASSERT_GE(room_around(surface, cut.points[i], cut.points[i + 1], 0), -2e-9);
      carve_cuts(stock, surface.cutter(), cuts);
      for (const double angle : {20.0, 110.0})
        carve_cuts(best, surface.cutter(), passes(0.25 * stepover, angle, SpacingHolds::in_plan));
      const LeftMap left = left_map(stock, *part, 3), reached = left_map(best, *part, 3);
      const NearWalls near_walls(surface, half);
      std::int64_t all = 0, above = 0;
      double worst = 0;
      for (int row = 0; row < stock.rows(); ++row)
        for (int column = 0; column < stock.columns(); ++column) {
          const std::size_t i = stock.index(column, row);
          if (std::isnan(left.left_mm[i]) || near_walls(stock.centre(column, row))) continue;
          const double more = left.left_mm[i] - std::max(0.0f, reached.left_mm[i]);
          ++all;
          above += more > ridge + tolerance + 0.002;
          worst = std::max(worst, more);
        }
      EXPECT_GT(all, 300);
      EXPECT_LE(static_cast<double>(above), 0.001 * static_cast<double>(all)) << all << ", worst " << worst;
      RecordProperty(std::string("worst ") + ground.name + " " + name_of(shape), std::to_string(worst));
    }
}

}  // namespace
}  // namespace yardpass
