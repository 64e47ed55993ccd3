// Carving at every cell centre against models written from the definition.
#include <gtest/gtest.h>

#include <cmath>

#include "stock/random_moves.h"
#include "support/plain_cutters.h"
#include "support/rng.h"

namespace yardpass {
namespace {

using testing::every_cutter;
using testing::PlainCutter;
using testing::random_moves;
using testing::Rng;

/// The model: every cell, every move, the lowest point of the cutter over the move found by plain search on
/// the move's parameter. Shares no code with the library.
struct Model {
  struct Disc {
    double disc, corner;
  };
  static double height(const Disc& c, double r) {
    if (r <= c.disc) return 0;
    return c.corner - std::sqrt(std::max(0.0, c.corner * c.corner - (r - c.disc) * (r - c.disc)));
  }
  static double lowest(const Disc& c, const Vec2& p, const Vec3& a, const Vec3& b) {
    const double radius = c.disc + c.corner;
    const Vec2 from = a.head<2>() - p, along = (b - a).head<2>();
    const double aa = along.squaredNorm(), ab = from.dot(along), cc = from.squaredNorm() - radius * radius;
    double low = 0, high = 1;
    if (aa > 0) {
      const double root = ab * ab - aa * cc;
      if (root < 0) return 1e300;
      low = std::max(low, (-ab - std::sqrt(root)) / aa), high = std::min(high, (-ab + std::sqrt(root)) / aa);
      if (low > high) return 1e300;
    } else if (cc > 0) {
      return 1e300;
    }
    const auto at = [&](double t) {
      return a.z() + t * (b.z() - a.z()) + height(c, (from + t * along).norm());
    };
    double best = std::min(at(low), at(high));
    for (int i = 0; i < 200; ++i) {
      const double t1 = low + (high - low) / 3, t2 = high - (high - low) / 3;
      best = std::min({best, at(t1), at(t2)});
      (at(t1) < at(t2) ? high : low) = at(t1) < at(t2) ? t2 : t1;
    }
    return best;
  }
};

TEST(Carve, ExactAtEveryCellCentre) {
  for (int seed = 1; seed <= testing::rounds(12); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const double r1 = rng.uniform(0.5, 3), r2 = rng.uniform(0.5, 3), r3 = rng.uniform(0.5, 3);
    const Profile cutters[] = {Profile::ball(2 * r1), Profile::flat(2 * r2), Profile::bull(2 * r3, 0.3 * r3)};
    const Model::Disc discs[] = {{0, r1}, {r2, 0}, {0.7 * r3, 0.3 * r3}};
    Stock stock(Box3(Vec3(0, 0, -4), Vec3(20, 15, 4)), 0.31);
    const auto moves = random_moves(rng, 40);
    carve(stock, cutters, moves);
    for (int row = 0; row < stock.rows(); ++row) {
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        double expected = 4;
        bool at_rim = false;
        for (const SweptMove& move : moves) {
          const Model::Disc& disc = discs[move.cutter];
          expected = std::min(expected, Model::lowest(disc, p, move.from, move.to));
          const double inner = Model::lowest({disc.disc, disc.corner}, p, move.from, move.to);
          const double thinner =
              Model::lowest({std::max(0.0, disc.disc - 1e-9), disc.corner}, p, move.from, move.to);
          at_rim |= std::abs(inner - thinner) > 1e-6;
        }
        expected = std::max(expected, -4.0);
        if (!at_rim)
          ASSERT_NEAR(stock.height(column, row), expected, 1e-7)
              << "seed " << seed << " cell " << column << " " << row;
      }
    }
  }
}

/// The lowest point of a cutter over a place while its tip runs along a move, by plain search: over the
/// stretch of the move for which the place is below the cutter. Infinite if there is none; `at_rim` is set
/// where the rim just passes.
double lowest_of(const PlainCutter& cutter, const SweptMove& move, const Vec2& p, bool& at_rim) {
  double low = 2, high = -1;
  const Vec2 from = plan(move.from) - p, along = plan(move.to) - plan(move.from);
  const double aa = along.squaredNorm(), ab = from.dot(along),
               cc = from.squaredNorm() - cutter.radius * cutter.radius;
  if (aa > 0 && ab * ab > aa * cc) {
    low = std::max(0.0, (-ab - std::sqrt(ab * ab - aa * cc)) / aa);
    high = std::min(1.0, (-ab + std::sqrt(ab * ab - aa * cc)) / aa);
  } else if (aa == 0 && cc < 0) {
    low = 0, high = 1;
  }
  at_rim = at_rim || std::abs(aa > 0 ? ab * ab - aa * cc : cc) < 1e-6 || std::abs(low - high) < 1e-6;
  if (low > high) return 1e300;
  const auto at = [&](double t) {
    return move.from.z() + t * (move.to.z() - move.from.z()) +
           cutter.height(std::min((from + t * along).norm(), cutter.radius));
  };
  double best = std::min(at(low), at(high));
  for (int k = 0; k < 120; ++k) {
    const double t1 = low + (high - low) / 3, t2 = high - (high - low) / 3;
    best = std::min({best, at(t1), at(t2)});
    (at(t1) < at(t2) ? high : low) = at(t1) < at(t2) ? t2 : t1;
  }
  return best;
}

void expect_exact(Stock stock, const std::vector<SweptMove>& moves, int seed) {
  const std::vector<PlainCutter> cutters = every_cutter();
  std::vector<Profile> profiles;
  for (const PlainCutter& cutter : cutters) profiles.push_back(cutter.profile);
  const double top = stock.block().max().z();
  carve(stock, profiles, moves);
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      const Vec2 p = stock.centre(column, row);
      double expected = top;
      bool at_rim = false;
      for (const SweptMove& move : moves)
        expected =
            std::min(expected, lowest_of(cutters[static_cast<std::size_t>(move.cutter)], move, p, at_rim));
      if (!at_rim)
        ASSERT_NEAR(stock.height(column, row), std::max(expected, stock.bottom_z()), 1e-6)
            << "seed " << seed << " cell " << column << " " << row;
    }
}

TEST(Carve, ExactForEveryCutterLevelSlopedAndUpright) {
  for (int seed = 1; seed <= testing::rounds(8); ++seed) {
    Rng rng(static_cast<std::uint64_t>(100 + seed));
    std::vector<SweptMove> moves = random_moves(rng, 30);
    for (SweptMove& move : moves) move.cutter = rng.pick(static_cast<int>(every_cutter().size()));
    expect_exact(Stock(Box3(Vec3(0, 0, -4), Vec3(20, 15, 4)), 0.37), moves, seed);
  }
}

// As finishing and ramping go: short and gentle moves of one cutter, one after the other, over fine cells, so
// that whole blocks of cells lie below the cutter and may be passed over.
TEST(Carve, ExactForEveryCutterOnGentleMovesOverFineCells) {
  for (int seed = 1; seed <= testing::rounds(18); ++seed) {
    Rng rng(static_cast<std::uint64_t>(500 + seed));
    const auto kind = static_cast<std::int32_t>(static_cast<std::size_t>(seed) % every_cutter().size());
    std::vector<SweptMove> moves;
    Vec3 at(rng.uniform(0, 8), rng.uniform(0, 6), rng.uniform(-1, 0.5));
    Vec3 way(rng.uniform(-1, 1), rng.uniform(-1, 1), 0);
    for (int i = 0; i < 16; ++i) {
      way += Vec3(rng.uniform(-0.4, 0.4), rng.uniform(-0.4, 0.4), 0);
      way.z() = rng.pick(4) == 0 ? 0 : rng.uniform(-0.25, 0.2);
      const Vec3 to = at + way * rng.uniform(0.3, 1.5);
      moves.push_back({at, to, kind, true});
      at = to;
    }
    expect_exact(Stock(Box3(Vec3(0, 0, -4), Vec3(8, 6, 1)), 0.06), moves, seed);
  }
}

// On a gentle ramp the lowest place of a flat cutter over a point is on its rim, where its bottom is level
// but the swept body is not: blocks were passed over for that.
TEST(Carve, GentleRampsOfFlatCutters) {
  for (int seed = 1; seed <= testing::rounds(30); ++seed) {
    Rng rng(static_cast<std::uint64_t>(300 + seed));
    const double radius = rng.uniform(0.5, 6);
    const Profile flat = Profile::flat(2 * radius);
    Stock stock(Box3(Vec3(0, 0, -10), Vec3(20, 20, 0)), 0.1);
    std::vector<SweptMove> moves;
    for (int i = 0; i < 3; ++i) {
      const Vec3 from(rng.uniform(0, 20), rng.uniform(0, 20), rng.uniform(-1, 1));
      moves.push_back(
          {from, {rng.uniform(0, 20), rng.uniform(0, 20), from.z() - rng.uniform(0.02, 0.6)}, 0, true});
    }
    carve(stock, {&flat, 1}, moves);
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        double expected = 0;
        bool at_rim = false;
        for (const SweptMove& move : moves) {
          const Vec2 way = plan(move.to) - plan(move.from);
          const double length = way.norm(), along = (p - plan(move.from)).dot(way) / length,
                       aside = cross2(way, p - plan(move.from)) / length;
          const double half = std::sqrt(std::max(0.0, radius * radius - aside * aside));
          at_rim = at_rim || std::abs(std::abs(aside) - radius) < 1e-6 || std::abs(along + half) < 1e-6;
          if (std::abs(aside) > radius || along + half < 0 || along - half > length) continue;
          const double last =
              std::min(along + half, length);  // the last place of the tip from which it is covered
          expected = std::min(expected, move.from.z() + (move.to.z() - move.from.z()) * last / length);
        }
        if (!at_rim)
          ASSERT_NEAR(stock.height(column, row), expected, 1e-7)
              << "seed " << seed << " at " << p.transpose();
      }
  }
}

}  // namespace
}  // namespace yardpass
