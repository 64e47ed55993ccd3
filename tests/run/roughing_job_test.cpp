// Roughing as jobs ask for it.
#include <gtest/gtest.h>

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
  EXPECT_NE(told.find("thicker than 0.625 mm"), std::string::npos) << told;
}

}  // namespace
}  // namespace yardpass
