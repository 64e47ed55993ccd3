// Material thinner than a cell, between passes and at the edges of the block: nothing passes through it
// unseen, and where none is nothing is seen.
#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <numbers>

#include "support/nasty.h"
#include "support/rng.h"
#include "verify/slot.h"
#include "yardpass/stock/between_cells.h"

namespace yardpass {
namespace {

using testing::has;

constexpr double kHalf = 30, kFloor = -6, kRadius = 5;

/// A block of 60 x 60 x 10 with its top at 0, cut down to -6 by passes of a flat of 10 at an angle.
struct Passes {
  Passes(double degrees, const std::vector<double>& passes, double cell)
      : along(std::cos(degrees * std::numbers::pi / 180), std::sin(degrees * std::numbers::pi / 180)),
        across(-along.y(), along.x()),
        stock(Box3(Vec3(-kHalf, -kHalf, -10), Vec3(kHalf, kHalf, 0)), cell) {
    text = "%\nG90 G21 G17 G94 G40 G49 G80 G54\n(operation 1: clear)\nT1 M6\nS5000 M3\n";
    for (const double at : passes) {
      line("G0", -60, at, at == passes.front() ? 20.0 : std::nan(""), "");
      text += "G0 Z5\nG1 Z" + std::to_string(kFloor) + " F300\n";
      line("G1", 60, at, std::nan(""), " F800");
      text += "G0 Z20\n";
    }
  }
  /// A move to places along and across the passes.
  void line(const std::string& word, double u, double v, double z, const std::string& more) {
    const Vec2 p = u * along + v * across;
    char words[200];
    std::snprintf(words, sizeof words, "%s X%.4f Y%.4f%s\n", word.c_str(), p.x(), p.y(), more.c_str());
    text += words;
    if (std::isfinite(z)) text += "G43 H" + std::to_string(called) + " Z" + std::to_string(z) + "\n";
  }
  void tool(int number) {
    called = number;
    text += "M5\n(operation " + std::to_string(number) + ": move)\nT" + std::to_string(number) +
            " M6\nS5000 M3\n";
  }
  /// The small tool goes from one place across the passes to another, 3 below the top, as a rapid.
  void rapid_across(double from, double to) {
    tool(2);
    line("G0", 0, from, 20, "");
    text += "G0 Z-3\n";
    line("G0", 1, to, std::nan(""), "");
    text += "G0 Z20\n";
  }
  [[nodiscard]] Judgement judged() const {
    Tool clear{.name = "flat10",
               .number = 1,
               .shape = Shape::flat,
               .diameter_mm = 10,
               .spindle_rpm = 5000,
               .feed_mm_min = 800},
        small{.name = "flat4",
              .number = 2,
              .shape = Shape::flat,
              .diameter_mm = 4,
              .spindle_rpm = 5000,
              .feed_mm_min = 800};
    Tool held = small;
    held.name = "held", held.number = 3, held.stickout_mm = 3, held.holder = {{20, 16, 16}};
    std::string all = text + "M5\nM30\n%\n";
    const auto part =
        make_contact_part(testing::box_mesh(Box3(Vec3(-kHalf, -kHalf, -10), Vec3(kHalf, kHalf, -9))));
    return judge(read_program(all, "ribs.nc"), part, {completed(clear), completed(small), completed(held)},
                 stock);
  }
  Vec2 along, across;
  Stock stock;
  std::string text;
  int called = 1;
};

/// All of the block is cut but for a rib of width `rib` beside the middle.
struct Ribbed : Passes {
  Ribbed(double degrees, double rib, double off, double cell)
      : Passes(degrees, passes(off - rib / 2 - kRadius, off + rib / 2 + kRadius), cell),
        middle(off),
        between(off - rib / 2 - kRadius, off + rib / 2 + kRadius) {}
  static std::vector<double> passes(double first, double second) {
    std::vector<double> result;
    for (double at = first; at > -60; at -= 8) result.push_back(at);
    for (double at = second; at < 60; at += 8) result.push_back(at);
    return result;
  }
  double middle;
  std::pair<double, double> between;
};

std::string where(double degrees, double rib) {
  return "rib " + std::to_string(rib) + " at " + std::to_string(degrees) + " degrees";
}

TEST(Ribs, BetweenPassesARapidThroughThemIsFound) {
  testing::Rng rng(3);
  for (const double degrees : {0.0, 17.0, 45.0, 90.0, 131.0})
    for (const double rib : {0.05, 0.1, 0.3, 0.8, 1.3, 2.0}) {
      Ribbed job(degrees, rib, rng.uniform(-2, 2), 1);
      job.rapid_across(job.between.first, job.between.second);
      const Judgement judgement = job.judged();
      ASSERT_TRUE(has(judgement, FindingKind::rapid_through_stock)) << where(degrees, rib);
      for (const Finding& finding : judgement.findings) {
        EXPECT_EQ(finding.kind, FindingKind::rapid_through_stock) << where(degrees, rib);
        EXPECT_NEAR(finding.depth_mm, 3, 0.01) << where(degrees, rib);
        EXPECT_NEAR(plan(finding.at).dot(job.across), job.middle, rib / 2 + 0.05) << where(degrees, rib);
      }
    }
}

TEST(Ribs, BetweenPassesADescentOntoThemAndAHolderInThemAreFound) {
  testing::Rng rng(4);
  for (const double degrees : {0.0, 30.0, 77.0})
    for (const double rib : {0.05, 0.4, 1.1}) {
      Ribbed down(degrees, rib, rng.uniform(-2, 2), 1);
      down.tool(2);
      down.line("G0", 3, down.middle, 20, "");
      down.text += "G0 Z-1\nG0 Z20\n";
      EXPECT_TRUE(has(down.judged(), FindingKind::rapid_through_stock)) << where(degrees, rib);
      Ribbed held(degrees, rib, rng.uniform(-2, 2), 1);
      held.tool(3);
      held.line("G0", 0, held.between.first, 20, "");
      held.text += "G0 Z-4\nG1 Z-5 F100\n";
      held.line("G1", 5, held.between.first, std::nan(""), " F800");
      held.text += "G0 Z20\n";
      EXPECT_TRUE(has(held.judged(), FindingKind::holder_into_stock)) << where(degrees, rib);
    }
}

// A rib that its own operation cuts away later was seen by nobody while it stood.
TEST(Ribs, OfTheSameOperationAreFoundWhileTheyStand) {
  testing::Rng rng(5);
  for (const double degrees : {0.0, 30.0, 77.0})
    for (const double rib : {0.05, 0.4, 0.9}) {
      Ribbed job(degrees, rib, rng.uniform(-2, 2), 1);
      job.line("G0", 3, job.middle, std::nan(""), "");
      job.text += "G0 Z-1\nG0 Z20\n";
      job.line("G0", -60, job.middle, std::nan(""), "");
      job.text += "G0 Z5\nG1 Z-6 F300\n";
      job.line("G1", 60, job.middle, std::nan(""), " F800");
      job.text += "G0 Z20\n";
      const Judgement judgement = job.judged();
      EXPECT_TRUE(has(judgement, FindingKind::rapid_through_stock)) << where(degrees, rib);
      EXPECT_TRUE(judgement.peaks.empty()) << "it is gone";
    }
}

TEST(Ribs, CountAsLeft) {
  for (const double degrees : {0.0, 30.0})
    for (const double rib : {0.05, 0.4}) {
      const Judgement judgement = Ribbed(degrees, rib, 0.3, 1).judged();
      EXPECT_GT(judgement.peaks.size(), 10u) << where(degrees, rib);
      for (const Vec3& peak : judgement.peaks) EXPECT_NEAR(peak.z(), 0, 1e-9);
      const auto part =
          make_contact_part(testing::box_mesh(Box3(Vec3(-kHalf, -kHalf, -10), Vec3(kHalf, kHalf, -9))));
      LeftMap left = left_map(judgement.stock, *part, 100);
      count_peaks(left, judgement.stock, part, judgement.peaks);
      EXPECT_NEAR(
          statistics(left, judgement.stock, rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)))).greatest_mm, 9,
          1e-6);
    }
}

TEST(Ribs, WherePassesOverlapNothingIsSeen) {
  for (const double degrees : {0.0, 17.0, 45.0, 131.0}) {
    Ribbed job(degrees, -0.5, 0.3, 1);
    job.rapid_across(job.between.first, job.between.second);
    const Judgement judgement = job.judged();
    EXPECT_TRUE(judgement.clean()) << degrees;
    // Some at the edges, where a move that reaches no centre is not asked; they are looked at closely.
    EXPECT_LT(judgement.hidden_squares, 20) << degrees;
  }
}

// Into 60 mm go 107.1 cells of 0.56: one more would have its centre beside the block, and be found there.
TEST(Ribs, AtTheEdgeOfTheBlockTheyAreFound) {
  for (const double rib : {-0.1, 0.05, 0.2, 0.45, 0.9})
    for (const double side : {-1.0, 1.0})
      for (const double cell : {0.56, 0.7, 1.0}) {
        const double pass = side * (kHalf - rib - kRadius);
        Passes job(0, {pass}, cell);
        job.rapid_across(side * (kHalf + 5), pass);
        EXPECT_EQ(has(job.judged(), FindingKind::rapid_through_stock), rib > 0)
            << rib << " " << side << " " << cell;
      }
}

TEST(HiddenBetween, TellsNoMoreThanTheRibAndItsHeight) {
  Stock stock(Box3(Vec3(0, 0, -10), Vec3(40, 40, 0)), 1);
  const Profile flat[] = {Profile::flat(10)};
  // Two moves with 0.3 between them, along X.
  const SweptMove moves[] = {{Vec3(-20, 15 - 0.05, -4), Vec3(60, 15 - 0.05, -4)},
                             {Vec3(-20, 25.3 - 0.05, -6), Vec3(60, 25.3 - 0.05, -6)}};
  CarveLog log;
  carve(stock, flat, moves, &log);
  const auto hidden = hidden_between(stock, flat, moves, log.last_cut);
  // From edge to edge: 39 squares between centres and two strips.
  ASSERT_EQ(hidden.size(), 41u);
  for (const HiddenSquare& square : hidden) {
    EXPECT_EQ(square.row, 19);
    EXPECT_EQ(square.top_z, 0);
  }
  EXPECT_TRUE(hidden_between(stock, flat, moves, log.last_cut, 2).empty()) << "nothing cut since";
}

TEST(CountPeaks, WhatWasCutIntoThePartIsNothingLeft) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-10, -10, -10), Vec3(10, 10, 0))));
  Stock stock(Box3(Vec3(-12, -12, -10), Vec3(12, 12, 0)), 1);
  const std::size_t cell = stock.index(12, 12);  // its middle is at 0.5, 0.5
  stock.heights()[cell] = -2;
  LeftMap map = left_map(stock, *part, 5);
  EXPECT_FLOAT_EQ(map.left_mm[cell], -2);
  const Vec3 inside(0.7, 0.4, -1.2), above(0.7, 0.4, 0.3);
  count_peaks(map, stock, part, {&inside, 1});
  EXPECT_FLOAT_EQ(map.left_mm[cell], -2) << "below the upper side";
  count_peaks(map, stock, part, {&above, 1});
  EXPECT_NEAR(map.left_mm[cell], 0.3, 1e-6);
}

/// Rows of arcs over a block of 40 x 40: upright over a dome, rings about its middle, or helices.
std::vector<Arc> rows_of_arcs(int kind, double spacing, testing::Rng& rng) {
  std::vector<Arc> arcs;
  const double round = rng.uniform(25, 60);
  for (double y = -19; y <= 19; y += spacing) {
    if (kind < 2) {
      const double radius = std::sqrt(round * round - y * y), half = std::asin(18 / radius);
      const Vec3 middle = kind == 0 ? Vec3(0, y, -round - 1) : Vec3(y, 0, -round - 1);
      const auto at = [&](double angle) {
        const Vec3 out = radius * (kind == 0 ? Vec3(std::sin(angle), 0, std::cos(angle))
                                             : Vec3(0, std::sin(angle), std::cos(angle)));
        return Vec3(middle + out);
      };
      // In ZX from Z to X, in YZ from Y to Z.
      arcs.push_back({at(-half), at(half), middle, kind == 0 ? 2 * half : -2 * half,
                      kind == 0 ? ArcPlane::zx : ArcPlane::yz});
    } else if (y > 0.5) {
      const double first = rng.uniform(-3, 3);
      const double drop = kind == 2 ? 0 : rng.uniform(-6, 6);
      for (int k = 0; k < 3; ++k) {
        const double from = first + 2.1 * k, z = -3 - 0.05 * y;
        const Vec3 start(y * std::cos(from), y * std::sin(from), z);
        arcs.push_back(Arc::in_plan(start, Vec2(0, 0), 2.1, z + drop));
      }
    }
  }
  return arcs;
}

TEST(HiddenBetween, ArcsAreAsSureAsTheLinesAlongThem) {
  testing::Rng rng(31);
  for (int round = 0; round < testing::rounds(24); ++round) {
    const Profile cutter[] = {round % 3 == 0   ? Profile::ball(6)
                              : round % 3 == 1 ? Profile::bull(6, 1)
                                               : Profile::flat(5)};
    const double spacing = rng.uniform(0.5, 7), cell = rng.uniform(0.5, 1);
    SCOPED_TRACE(::testing::Message() << round << " spacing " << spacing << " cell " << cell);
    const std::vector<Arc> arcs = rows_of_arcs(round % 4, spacing, rng);
    std::vector<SweptMove> moves, lines;
    for (const Arc& arc : arcs) {
      moves.push_back({arc.start, arc.end, 0, true, &arc});
      const auto points = chord_points(arc, 1e-4);
      for (std::size_t i = 0; i + 1 < points.size(); ++i) lines.push_back({points[i], points[i + 1]});
    }
    const Box3 block(Vec3(-20, -20, -30), Vec3(20, 20, 0));
    Stock stock(block, cell), by_lines(block, cell), fine(block, cell / 7);
    CarveLog log, log_of_lines;
    carve(stock, cutter, moves, &log), carve(by_lines, cutter, lines, &log_of_lines);
    carve(fine, cutter, moves);
    const std::vector<HiddenSquare> hidden = hidden_between(stock, cutter, moves, log.last_cut);
    // Nothing stands higher than it says, there or elsewhere.
    std::map<std::pair<int, int>, double> top;
    for (const HiddenSquare& square : hidden) top[{square.row, square.column}] = square.top_z;
    for (int row = 0; row + 1 < stock.rows(); ++row)
      for (int column = 0; column + 1 < stock.columns(); ++column) {
        const Box2 box = stock.box_of({column, row, 0});
        double centres = -1e300, stands = -1e300;
        for (const int i : {0, 1})
          for (const int j : {0, 1}) centres = std::max(centres, stock.height(column + i, row + j));
        const Stock::CellRange inside = fine.cells_between(box.min(), box.max());
        for (int j = inside.first_row; j < inside.last_row; ++j)
          for (int i = inside.first_column; i < inside.last_column; ++i)
            stands = std::max(stands, fine.height(i, j));
        const auto told = top.find({row, column});
        const double most = told != top.end() ? told->second : centres + hidden_threshold(stock);
        ASSERT_LE(stands, most + 1e-4) << column << " " << row;
      }
    // And hardly more squares are in doubt.
    const std::size_t of_lines = hidden_between(by_lines, cutter, lines, log_of_lines.last_cut).size();
    EXPECT_LE(hidden.size(), 1.1 * static_cast<double>(of_lines) + 12) << "of lines " << of_lines;
  }
}

}  // namespace
}  // namespace yardpass
