// What all finishing operations can say: layers, allowances of regions, limits of thickness, what is left.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/words.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

/// Three slopes side by side along X, with edges between them.
Mesh three_slopes() {
  return testing::sheet(Box2(Vec2(-30, -15), Vec2(30, 15)), 60, 4, [](double x, double) {
    if (x < -10) return -0.5 * (x + 10);
    return x <= 10 ? 0.0 : 0.6 * (x - 10);
  });
}

class FinishingJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "slopes.stl", three_slopes(), "slopes"); }
  std::string tool_ = "";
  RunResult run(const std::string& operations) {
    store(folder() / "job.toml", R"(title = "slopes"
[part]
mesh = "slopes.stl"
[regions.left]
at = [-20, 0]
[regions.middle]
at = [0, 0]
[regions.right]
at = [20, 0]
[stock]
cell = 0.1
margin = [0, 0]
above = 0.5
[tools.ball]
number = 1
shape = "ball"
diameter = 6
flute_length = 30
stickout = 60
spindle = 9000
feed = 1000
)" + tool_ + operations);
    return run_job(read_job(folder() / "job.toml"));
  }
  static std::string finish(const std::string& name, const std::string& more) {
    return "[[operation]]\nname = \"" + name +
           "\"\nstrategy = \"parallel\"\ntool = \"ball\"\nkeep_inside = [[-28, -10], [28, -10], [28, 10], "
           "[-28, "
           "10]]\n" +
           more;
  }
  static std::vector<Vec3> cuts_of_last(const RunResult& run) {
    std::vector<Vec3> points;
    for (const Move& move : run.planned.back().path.moves)
      if (move.kind == MoveKind::cut) points.push_back(move.to);
    return points;
  }
};

TEST_F(FinishingJob, TheLastOfItsLayersIsTheOperationItself) {
  const RunResult layers =
      run(finish("finish", "stepover = 1.2\nlayers = 3\nlayer = 0.2\nallowance = 0.1\n"));
  const RunResult apart = run(finish("first", "stepover = 1.2\nallowance = 0.5\n") +
                              finish("second", "stepover = 1.2\nallowance = 0.3\n") +
                              finish("third", "stepover = 1.2\nallowance = 0.1\n"));
  ASSERT_EQ(layers.planned.size(), 1u);
  EXPECT_TRUE(layers.judged.clean());
  // The lines of the program, but for their numbers and names.
  const auto lines = [](const RunResult& run, std::size_t operation) {
    std::vector<std::string> result;
    std::istringstream text(run.posted.text);
    std::size_t at = 0;
    for (std::string line; std::getline(text, line); ++at) {
      const LineOrigin origin = run.posted.origin[at];
      if (origin.operation == static_cast<std::int32_t>(operation) && origin.move >= 0)
        result.push_back(line);
    }
    return result;
  };
  const auto all = lines(layers, 0), last = lines(apart, 2);
  ASSERT_GT(all.size(), 2 * last.size());
  // The first line of an operation comes down from the tool change.
  EXPECT_TRUE(std::equal(last.rbegin(), last.rend() - 3, all.rbegin()));
  EXPECT_EQ(layers.judged.judgement.stock.heights().size(), apart.judged.judgement.stock.heights().size());
  EXPECT_TRUE(std::equal(layers.judged.judgement.stock.heights().begin(),
                         layers.judged.judgement.stock.heights().end(),
                         apart.judged.judgement.stock.heights().begin()));
  // Each layer meets what the one before left.
  const RunResult one = run(finish("finish", "stepover = 1.2\nallowance = 0.1\n"));
  const auto thickness = [](const RunResult& result) {
    for (const SettledValue& fact : result.planned[0].facts)
      if (fact.key == "thickness, half") return fact.value.value[0];
    return -1.0;
  };
  EXPECT_NEAR(thickness(layers), 0.2, 0.05);
  EXPECT_GT(thickness(one), 2 * thickness(layers));
}

TEST_F(FinishingJob, ThreeRegionsKeepThreeAllowancesAndAnOvercutIsMeantOnlyInItsRegion) {
  const std::string where =
      "stepover = 0.25\nallowance = 0.3\nallowance_where = [{ region = \"middle\", allowance = 0.1 }, { "
      "region = "
      "\"right\", allowance = -0.2 }]\n";
  const RunResult result = run(finish("finish", where));
  EXPECT_TRUE(result.judged.clean());
  const auto left = [&](double x0, double x1) {
    return statistics(result.judged.left, result.judged.judgement.stock,
                      rectangle(Box2(Vec2(x0, -9), Vec2(x1, 9))));
  };
  struct Expected {
    double x0, x1, mm;
  };
  for (const auto& [x0, x1, mm] :
       {Expected{-26, -12.5, 0.3}, Expected{-8, 7.5, 0.1}, Expected{13, 26, -0.2}}) {
    EXPECT_NEAR(left(x0, x1).least_mm, mm, 0.003) << mm;
    EXPECT_NEAR(left(x0, x1).greatest_mm, mm, 0.015) << mm << ", with ridges and the tolerance";
  }
  // The same program, as if only the middle were meant to be cut into: the right side is gouged.
  std::vector<Settled> operations = result.operations;
  std::swap(operations[0].values.allowance.where[0].region, operations[0].values.allowance.where[1].region);
  const JudgedProgram other = judge_program(result.judged.program, result.setup, operations);
  ASSERT_FALSE(other.judgement.findings.empty());
  EXPECT_EQ(other.judgement.findings[0].kind, FindingKind::gouge);
  EXPECT_NEAR(other.judgement.findings[0].depth_mm, 0.2, 0.01);
  EXPECT_GT(other.judgement.findings[0].at.x(), 9);
}

TEST_F(FinishingJob, UpHillNoMoveAtFeedFallsButOnTheWayIn) {
  for (const bool up : {true, false}) {
    const RunResult result = run(finish("finish", std::string("stepover = 1\nangle = 20\ndirection = \"") +
                                                      (up ? "up-hill\"\n" : "down-hill\"\n")));
    EXPECT_TRUE(result.judged.clean());
    double farthest = -1e9;
    std::int64_t cuts = 0;
    for (const Move& move : result.planned[0].path.moves) {
      const double z = up ? move.to.z() : -move.to.z();
      if (move.kind == MoveKind::cut || move.kind == MoveKind::link) {
        EXPECT_GE(z, farthest - 0.01 - 1e-6);
        farthest = std::max(farthest, z);
        cuts += move.kind == MoveKind::cut;
      } else {
        farthest = z;
      }
    }
    EXPECT_GT(cuts, 50);
  }
}

TEST_F(FinishingJob, MaterialThickerThanTheToolsLimitIsAFinding) {
  const std::string rough = finish("before", "stepover = 0.6\nallowance = 0.4\n"),
                    after = finish("finish", "stepover = 0.6\n");
  const auto findings = [&](double limit) {
    tool_ = "thickest_cut = " + std::to_string(limit) + "\n";
    std::vector<Finding> of_second;
    for (const Finding& finding : run(rough + after).judged.judgement.findings)
      if (finding.operation == 1) of_second.push_back(finding);
    return of_second;
  };
  const auto over = findings(0.3);
  ASSERT_EQ(over.size(), 1u);
  EXPECT_EQ(over[0].kind, FindingKind::too_thick);
  EXPECT_GT(over[0].depth_mm, 0.3);
  EXPECT_LT(over[0].depth_mm, 0.8);
  EXPECT_NE(Telling().words(over[0]).find("more material in its way than the tool's limit: 0."),
            std::string::npos)
      << Telling().words(over[0]);
  EXPECT_TRUE(findings(0.9).empty());
  EXPECT_TRUE(findings(0).empty()) << "0: no limit";
}

TEST_F(FinishingJob, AnOperationAcrossCutsOnlyWhereTheFirstLeftMore) {
  // Passes along Y leave most in the hollows at the feet of the slopes.
  const std::string first = finish("along", "stepover = 1.2\nangle = 90\ntolerance = 0.002\n"),
                    across = finish("across", "stepover = 0.6\nonly_where_left = 0.066\n");
  const RunResult both = run(first + across);
  EXPECT_TRUE(both.judged.clean());
  double at_feet = 0, elsewhere = 0;
  Vec3 from = Vec3::Zero();
  for (const Move& move : both.planned[1].path.moves) {
    if (move.kind == MoveKind::cut)
      (std::abs(move.to.x()) > 7 ? at_feet : elsewhere) += (move.to - from).norm();
    from = move.to;
  }
  EXPECT_GT(at_feet, 60);
  EXPECT_EQ(elsewhere, 0);
  const RunResult nothing = run(first + finish("again", "stepover = 0.6\nonly_where_left = 0.3\n"));
  EXPECT_TRUE(cuts_of_last(nothing).empty());
  std::string notes;
  for (const Note& note : nothing.planned[1].notes) notes += Telling().words(note);
  EXPECT_NE(notes.find("nowhere is more than 0.3 mm left"), std::string::npos) << notes;
}

}  // namespace
}  // namespace yardpass
