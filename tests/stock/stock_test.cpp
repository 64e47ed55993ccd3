// Carving against solids with a formula; logs, threads, meshes of the stock.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>
#include <numbers>

#include "stock/random_moves.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {
namespace {

using testing::random_moves;
using testing::Rng;

double carved_volume(const Profile& cutter, std::vector<SweptMove> moves, double cell) {
  Stock stock(Box3(Vec3(-20, -12, -10), Vec3(60, 12, 0)), cell);
  const double before = stock.volume_mm3();
  carve(stock, std::span<const Profile>(&cutter, 1), moves);
  return before - stock.volume_mm3();
}

TEST(Carve, VolumesOfSolidsWithAFormula) {
  const double r = 3, d = 2, run = 40, h = r - d;
  const double segment = r * r * std::acos(h / r) - h * std::sqrt(r * r - h * h);
  const double ball_slot = segment * run + std::numbers::pi * d * d * (3 * r - d) / 3;
  const double flat_slot = (2 * r * run + std::numbers::pi * r * r) * d;
  const double ball_dimple = std::numbers::pi * d * d * (3 * r - d) / 3;
  for (const double cell : {0.4, 0.2, 0.1, 0.05}) {
    const double wall =
        2 * (run + 2 * r) * d;  // about the area of the steep sides, which a cell may miss by half
    EXPECT_NEAR(carved_volume(Profile::ball(2 * r), {{{0, 0, -d}, {run, 0, -d}, 0, true}}, cell), ball_slot,
                0.5 * cell * wall);
    EXPECT_NEAR(carved_volume(Profile::flat(2 * r), {{{0, 0, -d}, {run, 0, -d}, 0, true}}, cell), flat_slot,
                0.5 * cell * wall);
    EXPECT_NEAR(carved_volume(Profile::ball(2 * r), {{{0, 0, 5}, {0, 0, -d}, 0, true}}, cell), ball_dimple,
                0.5 * cell * wall);
  }
}

TEST(Carve, VolumesOfPocketRampHelixAndSphere) {
  const double cell = 0.1;
  const auto volume = [&](const Profile& cutter, const std::vector<SweptMove>& moves, const Box3& box) {
    Stock stock(box, cell);
    const double before = stock.volume_mm3();
    carve(stock, std::span<const Profile>(&cutter, 1), moves);
    return before - stock.volume_mm3();
  };
  const Box3 block(Vec3(-30, -30, -20), Vec3(30, 30, 0));
  const double pi = std::numbers::pi;
  // A pocket 24 x 14 with corners of 4, 3 deep, by passes of a flat of 8.
  std::vector<SweptMove> pocket;
  for (double y = -3; y <= 3.001; y += 1) pocket.push_back({Vec3(-8, y, -3), Vec3(8, y, -3), 0, true});
  const double area = 24 * 14 - (4 - pi) * 16;
  EXPECT_NEAR(volume(Profile::flat(8), pocket, block), area * 3, cell / 2 * 76 * 3);
  // A ramp of a flat of 6 from 0 to -4 over 20 mm: below each place lies the lowest disc over it, which is
  // the one farthest along; the rear half disc of the start stays uncut by more than its own chord.
  const double ramp_slope = 4.0 / 20;
  const double ramp = volume(Profile::flat(6), {{Vec3(-10, 0, 0), Vec3(10, 0, -4), 0, true}}, block);
  double by_hand =
      0;  // over strips across: depth at x is slope times the way of the farthest disc that covers it
  for (double y = -2.9995; y < 3; y += 0.001) {
    const double half = std::sqrt(9 - y * y);
    // x from -10 - half to 10 - half: the disc at x + half; from there to 10 + half: the last one.
    const double from = -10 - half, to = 10 - half;
    const double first = to - from;
    by_hand += 0.001 * (ramp_slope * first * first / 2 + 4 * 2 * half);
  }
  EXPECT_NEAR(ramp, by_hand, cell / 2 * (2 * 26 * 4));
  // One turn of a helix, as chords, of a ball of 4 round a circle of 8, level at the end: at least the ring
  // at the end's depth less what the pitch leaves above.
  std::vector<SweptMove> ring;
  for (int i = 0; i < 720; ++i) {
    const auto at = [&](int k) {
      return Vec3(8 * std::cos(2 * pi * k / 360), 8 * std::sin(2 * pi * k / 360),
                  std::max(-1.5, -1.5 * k / 360.0));
    };
    ring.push_back({at(i), at(i + 1), 0, true});
  }
  // Pappus: the segment's area times the way of its centre, 2 pi 8 (it is symmetric about that circle).
  const double d = 1.5, r = 2, h = r - d, segment = r * r * std::acos(h / r) - h * std::sqrt(r * r - h * h);
  EXPECT_NEAR(volume(Profile::ball(4), ring, block), segment * 2 * pi * 8, cell / 2 * 2 * 2 * pi * 8 * 1.5);
  // A ball of 6 over a dome of radius 15: level circles at its tip surface, 15 + 3 from the dome's middle.
  std::vector<SweptMove> dome;
  for (double angle = 0.01; angle < 1.2; angle += 0.01) {
    const double rho = 18 * std::sin(angle), z = 18 * std::cos(angle) - 3 - 15;
    const int n = 240;
    for (int i = 0; i < n; ++i)
      dome.push_back({Vec3(rho * std::cos(2 * pi * i / n), rho * std::sin(2 * pi * i / n), z),
                      Vec3(rho * std::cos(2 * pi * (i + 1) / n), rho * std::sin(2 * pi * (i + 1) / n), z), 0,
                      true});
  }
  Stock stock(block, cell);
  const Profile ball = Profile::ball(6);
  carve(stock, std::span<const Profile>(&ball, 1), dome);
  for (int row = 0; row < stock.rows(); row += 7)
    for (int column = 0; column < stock.columns(); column += 7) {
      const double far = stock.centre(column, row).norm();
      if (far > 13) continue;
      const double sphere = std::sqrt(225 - far * far) - 15;
      // Chords of 240 to the turn lie 18 (1 - cos(0.75 deg)) inside the circle, so up to that much is
      // missing.
      EXPECT_NEAR(stock.height(column, row), sphere, 0.006) << far;
    }
}

TEST(Carve, SaysWhichMovesTookMaterialAndWhichRapidsMetIt) {
  const Profile cutter[] = {Profile::flat(6)};
  Stock stock(Box3(Vec3(0, 0, -10), Vec3(40, 20, 0)), 0.1);
  const SweptMove moves[] = {
      {{5, 10, 5}, {5, 10, 1}, 0, false},        // air
      {{5, 10, 1}, {5, 10, -2}, 0, true},        // plunge
      {{5, 10, -2}, {20, 10, -2}, 0, true},      // slot
      {{20, 10, -2}, {5, 10, -2}, 0, true},      // back through air
      {{5, 10, -2}, {5, 10, 5}, 0, false},       // up, touching what was just cut
      {{5, 10, -2}, {20, 10, -2}, 0, false},     // rapid inside the slot
      {{20, 10, -2}, {24, 10, -1.5}, 0, false},  // rapid into its end
  };
  CarveLog log;
  carve(stock, cutter, moves, &log);
  EXPECT_EQ(log.removed, (std::vector<std::uint8_t>{0, 1, 1, 0, 0, 0, 0}));
  for (int i = 0; i < 6; ++i) EXPECT_EQ(log.entered[static_cast<std::size_t>(i)], 0) << i;
  EXPECT_NEAR(log.entered[6], 2, 0.05);
  EXPECT_NEAR(log.entered_at[6].x(), 23, 0.2);
}

TEST(Carve, SameBitsForAnyNumberOfThreads) {
  Rng rng(9);
  const Profile cutters[] = {Profile::ball(4), Profile::flat(3), Profile::bull(5, 1)};
  const auto moves = random_moves(rng, 300);
  const auto run = [&](std::size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    Stock stock(Box3(Vec3(0, 0, -4), Vec3(20, 15, 4)), 0.05);
    carve(stock, cutters, moves);
    double sum = 0;
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) sum = sum * 0.999 + stock.height(column, row);
    return sum;
  };
  EXPECT_EQ(run(1), run(2));
}

TEST(Stock, FreeHeightIsTheHighestMaterialBelowTheCutter) {
  Stock stock(Box3(Vec3(0, 0, -10), Vec3(40, 20, 0)), 0.1);
  EXPECT_EQ(stock.free_height(Profile::flat(6), {20, 10}), 0);
  EXPECT_NEAR(stock.free_height(Profile::ball(6), {20, 10}), 0, 0.01);
  EXPECT_EQ(stock.free_height(Profile::ball(6), {-20, 10}), -std::numeric_limits<double>::infinity());
  EXPECT_LT(stock.free_height(Profile::ball(6), {-2.9, 10}), -2);
}

TEST(Stock, RefusesImpossibleSizes) {
  EXPECT_THROW(Stock(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1)), 0), Error);
  EXPECT_THROW(Stock(Box3(Vec3(0, 0, 0), Vec3(1, 1, 0)), 0.1), Error);
  EXPECT_THROW(Stock(Box3(Vec3(0, 0, 0), Vec3(1e4, 1e4, 1)), 0.01), Error);
}

TEST(StockMesh, DecimatedStaysWithinItsTolerance) {
  for (const auto& [width, depth] : {std::pair(40.0, 20.0), std::pair(12.9, 25.7), std::pair(6.4, 6.5)}) {
    Stock stock(Box3(Vec3(0, 0, -10), Vec3(width, depth, 0)), 0.1);
    const Profile cutter[] = {Profile::ball(8), Profile::flat(3)};
    const SweptMove moves[] = {{{0, 10, -3}, {40, 10, -3}, 0, true}, {{2, 2, -1}, {30, 9, -5}, 1, true}};
    carve(stock, cutter, moves);
    std::size_t before = SIZE_MAX;
    for (const double tolerance : {0.001, 0.02, 0.2}) {
      const Mesh mesh = decimated_mesh(stock, tolerance);
      EXPECT_TRUE(edge_report(mesh).closed());
      EXPECT_EQ(edge_report(mesh).flipped, 0);
      EXPECT_LT(mesh.triangles.size(), before);
      before = mesh.triangles.size();
      // Every cell centre against the triangle above it.
      std::vector<double> top(stock.heights().size(), -1e9);
      for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
        const double area = cross2(plan(b) - plan(a), plan(c) - plan(a));
        if (area < 1e-9) continue;  // sides and bottom
        const Vec2 low = plan(a).cwiseMin(plan(b)).cwiseMin(plan(c)),
                   high = plan(a).cwiseMax(plan(b)).cwiseMax(plan(c));
        const auto range = stock.cells_between(low, high);
        for (int row = range.first_row; row < range.last_row; ++row)
          for (int column = range.first_column; column < range.last_column; ++column) {
            const Vec2 p = stock.centre(column, row);
            const double u = cross2(plan(c) - plan(b), p - plan(b)) / area,
                         v = cross2(plan(a) - plan(c), p - plan(c)) / area, w = 1 - u - v;
            if (std::min({u, v, w}) < -1e-9) continue;
            double& z = top[stock.index(column, row)];
            z = std::max(z, u * a.z() + v * b.z() + w * c.z());
          }
      }
      for (int row = 0; row < stock.rows(); ++row)
        for (int column = 0; column < stock.columns(); ++column)
          ASSERT_NEAR(top[stock.index(column, row)], stock.height(column, row), tolerance + 1e-6)
              << width << " " << tolerance;
    }
    EXPECT_LT(before, stock.heights().size());
  }
}

TEST(StockMesh, IsClosedAndHoldsTheVolume) {
  Stock stock(Box3(Vec3(0, 0, -10), Vec3(40, 20, 0)), 0.1);
  const Profile cutter[] = {Profile::ball(8)};
  const SweptMove moves[] = {{{0, 10, -3}, {40, 10, -3}, 0, true}};
  carve(stock, cutter, moves);
  const Mesh mesh = mesh_of(stock, 60000);
  EXPECT_TRUE(edge_report(mesh).closed());
  EXPECT_EQ(edge_report(mesh).flipped, 0);
  double volume = 0;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    volume += mesh.corner(i, 0).dot(mesh.corner(i, 1).cross(mesh.corner(i, 2))) / 6;
  EXPECT_NEAR(volume, stock.volume_mm3(), 0.02 * stock.volume_mm3());
  EXPECT_LT(mesh.triangles.size(), 70000u);
}

}  // namespace
}  // namespace yardpass
