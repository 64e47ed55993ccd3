// Waterlines and finishing by slope as jobs ask for them.
#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "support/scratch.h"
#include "support/turned_parts.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/inspect.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class WallsJob : public testing::ScratchFolder {
 protected:
  /// Roughed, then as the operations say.
  Job job(const Mesh& mesh, const std::string& operations) {
    write_stl(folder() / "part.stl", mesh, "part");
    store(folder() / "job.toml",
          "title = \"walls\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = 1\nmargin = [5, 5]\ncell = 0.25\n"
          "[tools.flat6]\nnumber = 1\nshape = \"flat\"\ndiameter = 6\nflute_length = 40\nspindle = 9000\n"
          "feed = 1000\n[tools.ball4]\nnumber = 2\nshape = \"ball\"\ndiameter = 4\nflute_length = 40\n"
          "spindle = 9000\nfeed = 1000\n[[operation]]\nname = \"rough\"\nstrategy = \"roughing\"\n"
          "tool = \"flat6\"\n" +
              operations);
    return read_job(folder() / "job.toml");
  }
  static std::string operation(const std::string& name, const std::string& strategy, const std::string& tool,
                               const std::string& keys) {
    return "[[operation]]\nname = \"" + name + "\"\nstrategy = \"" + strategy + "\"\ntool = \"" + tool +
           "\"\n" + keys;
  }
  std::string refused(const std::string& operations) {
    try {
      (void)settle(load_setup(job(testing::box_mesh(Box3(Vec3(-9, -9, -9), Vec3(9, 9, 0))), operations)));
    } catch (const Error& error) {
      return error.what();
    }
    return "";
  }
  /// The thickest that is left within so much of the outline of a box.
  static double left_beside(const RunResult& run, const Box2& box, double z) {
    double most = 0;
    const Stock& stock = run.judged.judgement.stock;
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        const double off = std::sqrt(box.squaredExteriorDistance(p));
        if (off > 0.02 && off < 2) most = std::max(most, stock.height(column, row) - z);
      }
    return most;
  }
};

TEST_F(WallsJob, FinishesTheUprightSidesOfABlockByDefault) {
  const Mesh block = testing::box_mesh(Box3(Vec3(-20, -12, -8), Vec3(20, 12, 0)));
  for (const char* descent : {"levels", "helix"}) {
    const RunResult run =
        run_job(job(block, operation("sides", "waterline", "flat6",
                                     "stepdown = 2\ndescent = \"" + std::string(descent) + "\"\n")));
    EXPECT_TRUE(run.judged.clean()) << descent;
    EXPECT_LT(left_beside(run, Box2(Vec2(-20, -12), Vec2(20, 12)), -8), 0.3) << descent;
    ASSERT_EQ(run.planned.size(), 2u);
    EXPECT_FALSE(run.planned[1].path.moves.empty());
  }
}

TEST_F(WallsJob, LeavesTheBorderOfASheetAlone) {
  const Mesh dome = testing::sheet(Box2(Vec2(-15, -15), Vec2(15, 15)), 60, 60,
                                   [](double x, double y) { return 6 * std::exp(-(x * x + y * y) / 40); });
  const RunResult run = run_job(job(dome, operation("dome", "waterline", "ball4", "least_slope = 20\n")));
  EXPECT_TRUE(run.judged.clean());
  for (const Move& move : run.planned[1].path.moves)
    if (move.kind == MoveKind::cut) {
      EXPECT_LT(yardpass::plan(move.to).cwiseAbs().maxCoeff(), 15.5) << "beside it a ball would run at 17";
    }
}

TEST_F(WallsJob, BothWaysBySlopeLeaveNothingOverTheRidges) {
  // A boss with slanted walls and a rounded top; the ball does not get into the corner at its foot.
  Polyline2 chain{{17, 0}, {14, 0}};
  for (const Vec2& p : testing::arc_chain({7, 4}, 4, 20, 90, 16)) chain.push_back(p);
  chain.push_back({1e-3, 8});
  Mesh part = testing::turned_part(chain, 90);
  const std::string two =
                        operation("walls", "waterline", "ball4", "steep_from = 40\n") +
                        operation("ground", "parallel", "ball4", "shallow_to = 40\nscallop_height = 0.01\n"),
                    one = operation("all", "by-slope", "ball4", "");
  for (const std::string& operations : {two, one}) {
    const Job read = job(part, operations);
    const RunResult run = run_job(read);
    EXPECT_TRUE(run.judged.clean());
    const LeftMap left = left_map(run.judged.judgement.stock, *run.setup.part, 1);
    const Region middle{{testing::arc_chain({0, 0}, 12.7, 0, 359, 90)}};
    EXPECT_LT(statistics(left, run.judged.judgement.stock, middle).p99_mm, 0.03);
    const Inspection seen = inspect_part(read);
    EXPECT_EQ(seen.seams.size(), operations == two ? 2u : 1u);
    EXPECT_GE(seen.seams[0].areas.steep_pieces, 1);
    EXPECT_LE(seen.seams[0].areas.steep_pieces, 2) << "the wall, and perhaps beside the border";
    EXPECT_GT(seen.seams[0].areas.steepest_shallow_deg, 20);
    EXPECT_GT(seen.seams[0].areas.steep_mm2, 50);
  }
}

TEST_F(WallsJob, TellsWhatItsInnerTablesHoldSaidOrNot) {
  const Mesh block = testing::box_mesh(Box3(Vec3(-9, -9, -9), Vec3(9, 9, 0)));
  const auto settled = settle(load_setup(job(
      block, operation("all", "by-slope", "ball4", "split_angle = 50\nshallow = { angle = 45 }\n") +
                 "[[operation]]\nname = \"again\"\ncopy_of = \"all\"\n" +
                 operation("walls", "by-slope", "ball4", "steep = { stepdown = 1, least_slope = 20 }\n"))));
  ASSERT_EQ(settled.size(), 4u);
  const auto told = [&](std::size_t operation, const std::string& key) -> std::string {
    for (const SettledValue& value : settled[operation].told)
      if (value.key == key) return Telling().words(value.value) + "; " + value.source;
    return "";
  };
  EXPECT_EQ(told(1, "shallow angle").find("45 degrees; line "), 0u) << told(1, "shallow angle");
  EXPECT_EQ(told(1, "shallow spacing"), "surface; default: so that the scallop height holds on slopes");
  EXPECT_EQ(told(1, "steep least_slope"), "44 degrees; default: 6 below the split angle");
  EXPECT_EQ(told(1, "steep descent"), "levels; default: each pass where it should be");
  EXPECT_NE(told(2, "shallow angle").find("copied from \"all\""), std::string::npos)
      << told(2, "shallow angle");
  EXPECT_EQ(told(2, "steep descent").find("copied"), std::string::npos);
  ASSERT_EQ(settled[3].notes.size(), 1u) << "what changes nothing inside a table is told too";
  EXPECT_NE(settled[3].notes[0].says.find("least_slope"), std::string::npos);
}

TEST_F(WallsJob, RefusesWhatContradictsItself) {
  const std::string both =
      refused(operation("w", "waterline", "ball4", "stepdown = 1\nscallop_height = 0.1\n"));
  EXPECT_EQ(both.find("each give the other"), both.rfind("each give the other")) << "said once: " << both;
  EXPECT_NE(
      refused(operation("w", "waterline", "ball4", "stepdown = 1\nscallop_height = 0.1\n")).find("stepdown"),
      std::string::npos);
  EXPECT_NE(refused(operation("w", "waterline", "ball4", "descent = \"helix\"\norder = \"by level\"\n"))
                .find("by area"),
            std::string::npos);
  EXPECT_NE(refused(operation("w", "parallel", "ball4", "steep_from = 50\nshallow_to = 40\n")).find("below"),
            std::string::npos);
  EXPECT_NE(refused(operation("w", "by-slope", "ball4", "steep = { stepdown = -1 }\n")).find("stepdown"),
            std::string::npos);
}

}  // namespace
}  // namespace yardpass
