// Roughing as jobs ask for it.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

/// A plate of 60 x 40 with a pocket of 36 x 24, 6 deep, whose walls are one grid step wide.
Mesh plate_with_pocket() {
  return testing::sheet(Box2(Vec2(-30, -20), Vec2(30, 20)), 120, 80, [](double x, double y) {
    return std::abs(x) < 18.1 && std::abs(y) < 12.1 ? -6.0 : 0.0;
  });
}

class RoughingJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "part.stl", plate_with_pocket(), "part"); }
  std::string stock_ = "above = 0\nmargin = [0, 0]\ncell = 0.25\n";
  std::string tool_ = "steepest_entry = 5\n";

  Job job(const std::string& operation) {
    store(folder() / "job.toml",
          "title = \"t\"\n[part]\nmesh = \"part.stl\"\n[regions.floor]\nat = [0, 0]\n[stock]\n" + stock_ +
              "[tools.flat6]\nnumber = 1\nshape = \"flat\"\ndiameter = 6\nflute_length = 10\nspindle = 9000\n"
              "feed = 1000\n" +
              tool_ + "[[operation]]\nname = \"rough\"\nstrategy = \"roughing\"\ntool = \"flat6\"\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  std::string refused(const std::string& operation) {
    try {
      const Job read = job(operation);
      (void)settle(load_setup(read));
    } catch (const Error& error) {
      return error.what();
    }
    return "";
  }
  static std::string fact(const RunResult& run, const std::string& key) {
    for (const SettledValue& value : run.planned[0].facts)
      if (value.key == key) return Telling().words(value.value);
    return "";
  }
  static int entries(const RunResult& run) {
    int count = 0;
    bool down = false;
    for (const Move& move : run.planned[0].path.moves) {
      const bool here = move.kind == MoveKind::ramp;
      count += here && !down;
      down = here;
    }
    return count;
  }
};

TEST_F(RoughingJob, APocketOfOneDepthNeedsThreeKeys) {
  const RunResult run = run_job(job("keep_inside = \"floor\"\nstepdown = 6\nallowance = 0\n"));
  EXPECT_TRUE(run.judged.judgement.clean()) << fact(run, "ways in");
  EXPECT_EQ(fact(run, "levels"), "1");
  EXPECT_EQ(fact(run, "ways in"), "1 helix");
  EXPECT_EQ(entries(run), 1);
  const Stock& left = run.judged.judgement.stock;
  for (int row = 0; row < left.rows(); ++row)
    for (int column = 0; column < left.columns(); ++column) {
      const Vec2 p = left.centre(column, row).cwiseAbs();
      // Within the pocket, but for its corners, which are as round as the tool.
      const bool in_corner = p.x() > 15 && p.y() > 9 && (p - Vec2(15, 9)).norm() > 2.8;
      if (p.x() < 17.8 && p.y() < 11.8 && !in_corner) ASSERT_NEAR(left.height(column, row), -6, 0.001 + 1e-9);
    }
}

TEST_F(RoughingJob, HolesOfTheStockAreWaysIn) {
  stock_ += "drilled = [{ name = \"entry\", at = [[-10, 4]], diameter = 7, bottom = -6 }]\n";
  const RunResult run = run_job(job("keep_inside = \"floor\"\nstepdown = 3\n"));
  EXPECT_TRUE(run.judged.judgement.clean());
  EXPECT_EQ(entries(run), 0) << fact(run, "ways in");
  EXPECT_NE(fact(run, "ways in").find("drilled"), std::string::npos) << fact(run, "ways in");
}

TEST_F(RoughingJob, HolesOfTheStockLieInPlan) {
  stock_ += "drilled = [{ name = \"entry\", at = [0, 0, -4], diameter = 7 }]\n";
  EXPECT_NE(refused("").find("\"bottom\""), std::string::npos) << refused("");
}

TEST_F(RoughingJob, ARegionHasAnAllowanceOfItsOwn) {
  const std::string operation = "stepdown = 3\nallowance = 0.3\n";
  const RunResult more =
      run_job(job(operation + "allowance_where = [{ region = \"floor\", allowance = 0.8 }]\n"));
  const RunResult less =
      run_job(job(operation + "allowance_where = [{ region = \"floor\", allowance = 0.05 }]\n"));
  const auto middle = [](const RunResult& run) {
    const Stock& left = run.judged.judgement.stock;
    return left.heights()[*left.cell_at({0, 0})];
  };
  EXPECT_NEAR(middle(more), -5.2, 0.01);
  EXPECT_NEAR(middle(less), -5.95, 0.01);
  EXPECT_TRUE(more.judged.judgement.clean());
  EXPECT_TRUE(less.judged.judgement.clean());
  EXPECT_NE(refused("allowance_where = [{ region = \"flor\", allowance = 0.8 }]\n").find("floor"),
            std::string::npos);
}

TEST_F(RoughingJob, WhatCannotBeMeantIsRefused) {
  EXPECT_NE(refused("stepdown = 12\n").find("flute_length"), std::string::npos);
  EXPECT_NE(refused("entry = \"plunge\"\n").find("steepest_entry"), std::string::npos);
  EXPECT_NE(refused("least_helix = 2\nhelix_radius = 1\n").find("helix_radius"), std::string::npos);
  EXPECT_NE(refused("may_leave = true\nkeep_out = [[0, 0], [5, 0], [5, 5]]\n").find("keep_out"),
            std::string::npos);
  EXPECT_EQ(refused("stepdown = 10\nentry = \"ramp\"\nmay_leave = false\n"), "");
}

// What of the tool the boundary holds back: its rim, its axis, or neither.
TEST_F(RoughingJob, ABoundaryIsClearedAsItsRuleSays) {
  const auto cleared = [&](const std::string& limit, double beyond) {
    const RunResult run =
        run_job(job("stepdown = 3\nallowance = 0\nkeep_inside = [[-8, -5], [8, -5], [8, 5], [-8, 5]]\n"
                    "limit = \"" +
                    limit + "\"\n"));
    EXPECT_TRUE(run.judged.judgement.clean()) << limit;
    const Stock& left = run.judged.judgement.stock;
    return left.heights()[*left.cell_at({8 + beyond, 0})] < -5.9;
  };
  EXPECT_TRUE(cleared("cutter", -0.3));
  EXPECT_FALSE(cleared("cutter", 0.3));
  EXPECT_TRUE(cleared("axis", 2.7));
  EXPECT_FALSE(cleared("axis", 3.3));
  EXPECT_TRUE(cleared("contact", 5.7));
  EXPECT_FALSE(cleared("contact", 6.3));
}

TEST_F(RoughingJob, NothingIsCutTwice) {
  const std::string again =
      "[[operation]]\nname = \"again\"\nstrategy = \"roughing\"\ntool = \"flat6\"\nstepdown = 2\n";
  const RunResult run = run_job(job("stepdown = 2\n" + again));
  EXPECT_FALSE(run.planned[0].path.moves.empty());
  EXPECT_TRUE(run.planned[1].path.moves.empty());
  ASSERT_FALSE(run.judged.disagreements.empty());
  const std::string told = Telling().words(run.judged.disagreements[0]);
  EXPECT_NE(told.find("thicker than 0.3 mm"), std::string::npos) << told;
}

/// By loops all of the cutter meets material, which its limit makes a finding; bounded passes keep to it.
TEST_F(RoughingJob, TheEngagementIsMeasuredOnTheStockAndHeldAgainstTheToolsLimit) {
  tool_ += "widest_engagement = 75\n";
  const std::string pocket = "keep_inside = \"floor\"\nstepdown = 3\n";
  const RunResult loops = run_job(job(pocket));
  const Engagement& full = loops.judged.judgement.operations[0].engagement;
  EXPECT_GT(full.greatest_deg, 150);
  ASSERT_FALSE(loops.judged.judgement.clean());
  const Finding& finding = loops.judged.judgement.findings[0];
  EXPECT_EQ(finding.kind, FindingKind::too_engaged);
  EXPECT_NEAR(finding.depth_mm, full.greatest_deg, 1e-9);
  EXPECT_EQ(finding.worst_line, full.greatest_line);
  EXPECT_GT(full.above_limit_mm, 0.05 * full.length_mm);
  const RunResult bounded = run_job(job(pocket + "pattern = \"bounded\"\n"));
  const Engagement& kept = bounded.judged.judgement.operations[0].engagement;
  EXPECT_TRUE(bounded.judged.judgement.clean()) << kept.greatest_deg;
  EXPECT_LE(kept.angle_on(0.99), 65);
  EXPECT_LE(kept.greatest_deg, 75);
  EXPECT_NEAR(kept.cell_mm, 0.1, 1e-9) << "a thirtieth of the radius";
  EXPECT_LE(kept.takes_nothing_mm, 0.3 * kept.length_mm) << "links are among it";
  double sum = 0;
  for (const double mm : kept.mm_by_degree) sum += mm;
  EXPECT_NEAR(sum, kept.length_mm, 1e-6);
}

TEST_F(RoughingJob, BoundedPassesAreTheSameForAnyNumberOfThreads) {
  const std::string operation = "stepdown = 3\npattern = \"bounded\"\nstep_on_slopes = 1\n";
  const auto program = [&](std::size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return run_job(job(operation)).posted.text;
  };
  EXPECT_EQ(program(1), program(3));
}

TEST_F(RoughingJob, FeedIsEasedWhereMoreOfTheCutterMeetsMaterial) {
  tool_ += "widest_engagement = 75\n";
  const std::string pocket = "keep_inside = \"floor\"\nstepdown = 3\n";
  const RunResult plain = run_job(job(pocket)), eased = run_job(job(pocket + "ease_feed = true\n"));
  const auto slowest = [](const RunResult& run) {
    double least = 1e9;
    for (const Move& move : run.planned[0].path.moves)
      if (move.kind == MoveKind::cut) least = std::min(least, move.feed_mm_min);
    return least;
  };
  EXPECT_EQ(slowest(plain), 1000);
  // A full slot takes the whole diameter, a cut at the limit 0.74 of a radius.
  EXPECT_NEAR(slowest(eased), 350, 51);
  EXPECT_NE(fact(eased, "eased"), "");
  EXPECT_GT(eased.judged.judgement.seconds, plain.judged.judgement.seconds);
  EXPECT_NEAR(eased.judged.judgement.stock.volume_mm3(), plain.judged.judgement.stock.volume_mm3(), 1e-3);
  tool_ = "steepest_entry = 5\n";
  EXPECT_NE(refused(pocket + "ease_feed = true\n").find("widest_engagement"), std::string::npos);
}

/// A program that only takes the rest, after a tool that is named.
TEST_F(RoughingJob, StockThatANamedToolHasClearedLeavesTheRest) {
  tool_ += "[tools.flat16]\nnumber = 2\nshape = \"flat\"\ndiameter = 16\nspindle = 5000\nfeed = 1000\n";
  stock_ += "cleared_by = \"flat16\"\ncleared_leaving = 0.5\ncleared_stepdown = 2\n";
  const RunResult run = run_job(job("stepdown = 2\nallowance = 0.2\n"));
  const Stock before = run.setup.new_stock();
  EXPECT_LT(before.height(before.columns() / 2, before.rows() / 2), -3.9) << "the large one has been there";
  const auto corner = before.cell_at({17.2, 11.2});
  ASSERT_TRUE(corner);
  EXPECT_GT(before.heights()[*corner], -0.01) << "but not in the corners";
  EXPECT_TRUE(run.judged.judgement.clean());
  EXPECT_LT(run.judged.judgement.stock.volume_mm3(), before.volume_mm3() - 10);
  stock_ = "above = 0\nmargin = [0, 0]\ncleared_by = \"nobody\"\n";
  EXPECT_NE(refused("").find("nobody"), std::string::npos);
  stock_ = "above = 0\nmargin = [0, 0]\ncleared_leaving = 1\n";
  EXPECT_NE(refused("").find("cleared_by"), std::string::npos);
}

}  // namespace
}  // namespace yardpass
