// What a job tells the judge: machine limits, clamps, stated depths, accepted findings.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/run/run.h"
#include "yardpass/stock/stock_shapes.h"

namespace yardpass {
namespace {

class JudgeJob : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "part.stl",
              testing::sheet(Box2(Vec2(-20, -15), Vec2(20, 15)), 40, 30,
                             [](double x, double) { return -x * x / 100; }),
              "part");
    write_stl(folder() / "clamp.stl", testing::box_mesh(Box3(Vec3(-25, -15, -10), Vec3(-15, -5, 6))),
              "clamp");
  }
  std::string stock_ = "[stock]\ncell = 0.2\nabove = 0.5\n";
  Job job(const std::string& tables, const std::string& operation = "") {
    store(folder() / "job.toml",
          "title = \"t\"\n[part]\nmesh = \"part.stl\"\n" + stock_ +
              "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nspindle = 9000\nfeed = 1000\n" +
              tables +
              "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = 1\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& tables, const std::string& operation = "") {
    try {
      (void)job(tables, operation);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
};

JudgedProgram judged(const Program& program, const JobSetup& setup) {
  return judge_program(program, setup, settle(setup));
}

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(JudgeJob, AnOvercutIsProvedToStayWithinItsDepthAndPlace) {
  const std::string inside = "keep_inside = [[-10, -10], [10, -10], [10, 10], [-10, 10]]\n";
  const RunResult spark = run_job(job("", inside + "allowance = -0.2\n"));
  for (const Finding& f : spark.judged.judgement.findings)
    ADD_FAILURE() << name_of(f.kind) << " line " << f.line << " depth " << f.depth_mm << " at "
                  << f.at.transpose();
  EXPECT_NEAR(spark.judged.judgement.operations[0].least_clearance_mm, -0.2, 0.003) << "spark gap";
  // The same program judged by a job that states less.
  const Job less = job("", inside + "intended_depth = 0.15\n");
  const JobSetup setup = load_setup(less);
  EXPECT_FALSE(judged(spark.judged.program, setup).judgement.clean());
  const JobSetup enough = load_setup(job("", inside + "intended_depth = 0.2\n"));
  EXPECT_TRUE(judged(spark.judged.program, enough).judgement.clean());
  EXPECT_HAS(message("", "allowance = -4\n"), "an overcut deeper than the corners of the cutter allow");
}

TEST_F(JudgeJob, AClampIsMetByToolsOfAllOperations) {
  const RunResult run = run_job(job("[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = 1\n"));
  EXPECT_FALSE(run.judged.judgement.clean());
  EXPECT_EQ(run.judged.judgement.findings[0].kind, FindingKind::too_near);
  const RunResult guarded =
      run_job(job("[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = 1\nin_the_way = \"skip\"\n",
                  "keep_away = \"clamp\"\n"));
  EXPECT_TRUE(guarded.judged.judgement.clean()) << "planned around it";
}

// A clamp drawn as an area: passes stop at it, and no link at feed leads over it, whatever the rule of limit.
TEST_F(JudgeJob, NoFeedMoveLeadsOverWhatIsKeptOut) {
  const Region clamp = rectangle(Box2(Vec2(-3, -4), Vec2(5, 4)));
  const std::string drawn = "[[-3, -4], [5, -4], [5, 4], [-3, 4]]",
                    outer = "[[-18, -13], [18, -13], [18, 13], [-18, 13]]";
  for (const std::string& area :
       {"keep_out = " + drawn + "\n", "keep_inside = [" + outer + ", " + drawn + "]\n"})
    for (const std::string limit : {"axis", "cutter", "contact"}) {
      const RunResult run = run_job(job("", area + "limit = \"" + limit + "\"\nlink_distance = 40\n"));
      EXPECT_TRUE(run.judged.judgement.clean()) << area << limit;
      const double reach = limit == "cutter" ? 2.9 : limit == "contact" ? -3.1 : -0.1;
      const Region axis = offset(clamp, reach);
      for (const ProgramMove& move : run.judged.program.moves)
        if (!move.rapid() && !axis.empty())
          for (int k = 0; k <= 20; ++k)
            ASSERT_FALSE(axis.contains(plan(move.from + (move.to - move.from) * k / 20.0)))
                << area << limit << " line " << move.line;
      EXPECT_GT(run.planned[0].lengths.retracts, 1) << "it goes over the clamp at the clearance plane";
    }
  // The program of a job that knows of no clamp, held against one that does.
  const RunResult across = run_job(job(""));
  for (const std::string& area :
       {"keep_out = " + drawn + "\n", "keep_inside = [" + outer + ", " + drawn + "]\n"}) {
    const Judgement judgement =
        judged(across.judged.program, load_setup(job("", area + "limit = \"axis\"\n"))).judgement;
    ASSERT_FALSE(judgement.clean()) << area;
    EXPECT_EQ(judgement.findings[0].kind, FindingKind::in_keep_out);
    EXPECT_NEAR(judgement.findings[0].depth_mm, 4, 0.6) << "half the width of the clamp";
    EXPECT_TRUE(clamp.contains(plan(judgement.findings[0].at)));
  }
}

// A program is held against its job: it is clean only if it is the program of that job.
TEST_F(JudgeJob, AProgramThatIsNotTheJobsIsNotClean) {
  const std::string second =
      "[[operation]]\nname = \"again {}\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = 4\n";
  const RunResult run = run_job(job("", second));
  ASSERT_TRUE(run.judged.clean());
  const std::string text = run.posted.text;
  const auto checked = [&](const std::string& from, const std::string& to, const std::string& program) {
    std::string changed = program;
    const std::size_t at = changed.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    changed.replace(at, from.size(), to);
    return judged(read_program(changed, "x.nc"), run.setup);
  };
  const auto about = [&](const std::string& from, const std::string& to) -> std::string {
    const JudgedProgram result = checked(from, to, text);
    EXPECT_FALSE(result.clean()) << from << " -> " << to;
    EXPECT_TRUE(result.judgement.clean()) << "nothing else is wrong with it";
    return result.disagreements.empty() ? "nothing" : result.disagreements.front().about;
  };
  EXPECT_EQ(about("operation 2", "operation 7"), "no move");
  EXPECT_EQ(checked("operation 2", "operation 7", text).disagreements.back().about, "unknown");
  EXPECT_EQ(about("G54", "G55"), "work offset");
  EXPECT_EQ(about("S9000", "S9900"), "spindle");
  EXPECT_EQ(about("F1000", "F4000"), "feed");
  // In another order: the comments of both swapped.
  std::string swapped = text;
  swapped[swapped.find("operation 1") + 10] = '2';
  swapped[swapped.rfind("operation 2") + 10] = '1';
  const JudgedProgram order = judged(read_program(swapped, "x.nc"), run.setup);
  ASSERT_EQ(order.disagreements.size(), 1u);
  EXPECT_EQ(order.disagreements[0].about, "order");
  // Without any such comment it is somebody else's program; only the machine's side is held against the job.
  std::string foreign = text;
  for (std::size_t at; (at = foreign.find("(operation")) != std::string::npos;)
    foreign.erase(at, foreign.find(')', at) - at + 1);
  EXPECT_TRUE(judged(read_program(foreign, "x.nc"), run.setup).clean());
  const JudgedProgram empty = judged(read_program("%\nG21 G90\nM30\n%\n", "x.nc"), run.setup);
  ASSERT_FALSE(empty.clean());
  EXPECT_EQ(empty.disagreements[0].about, "empty");
  // Up to a line it is not known what comes later.
  EXPECT_TRUE(judge_program(read_program(text, "x.nc"), run.setup, run.operations, {}, 30).clean());
}

TEST_F(JudgeJob, TravelAndAcceptedFindings) {
  const std::string travel = "[machine]\ntravel = [[-100, -100, -50], [19, 100, 200]]\n";
  const RunResult out = run_job(job(travel));
  ASSERT_FALSE(out.judged.judgement.clean());
  for (const Finding& finding : out.judged.judgement.findings)
    EXPECT_EQ(finding.kind, FindingKind::outside_travel);
  const RunResult accepted =
      run_job(job(travel + "[[accepted]]\nfinding = \"outside-travel\"\noperation = \"finish\"\nup_to = "
                           "5\nreason = \"the table moves on\"\n"));
  EXPECT_TRUE(accepted.judged.judgement.clean());
  EXPECT_EQ(accepted.judged.judgement.findings.size(), out.judged.judgement.findings.size());
}

TEST_F(JudgeJob, RegionGuardsHoldForOperationsThatNameThem) {
  // A wall region: the finishing ball goes along it as it should, unless its operation keeps away from it.
  write_stl(folder() / "part.stl",
            testing::sheet(Box2(Vec2(-20, -15), Vec2(20, 15)), 80, 30,
                           [](double x, double) { return x > 12 ? 4.0 : 0.0; }),
            "part");
  const std::string wall =
      "[regions.wall]\nbox = [[11, -20, 0.5], [13, 20, 9]]\n[keep_away.wall]\nregion = \"wall\"\nclearance = "
      "1\n";
  const RunResult near = run_job(job(wall));
  EXPECT_TRUE(near.judged.judgement.clean()) << "touching the part is no finding";
  const JobSetup guarded = load_setup(job(wall, "keep_away = \"wall\"\n"));
  const Judgement judgement = judged(near.judged.program, guarded).judgement;
  ASSERT_FALSE(judgement.clean());
  EXPECT_EQ(judgement.findings[0].keep_away, "wall");
  EXPECT_NEAR(judgement.findings[0].depth_mm, 1, 0.01);
}

TEST_F(JudgeJob, WhatIsLeftNamesTheOperationThatCutLast) {
  const RunResult coarse = run_job(job("", "keep_inside = [[-10, -10], [10, -10], [10, 10], [-10, 10]]\n"));
  const WhyLeft& left = coarse.judged.why_left;
  EXPECT_GT(left.on_purpose_mm2, 600) << "outside the boundary the half millimetre on top stays on purpose";
  EXPECT_LT(left.missed_mm2, 30);
  for (const ThickPlace& place : left.thickest)
    if (place.why == LeftBecause::on_purpose) EXPECT_GT(plan(place.at).cwiseAbs().maxCoeff(), 9.9);
}

TEST_F(JudgeJob, RidgesAreAsHighAsTheStepoverSays) {
  const RunResult run = [&] {
    Job wide = job("", "tolerance = 0.002\n");
    wide.operations[0].says.set("stepover", 1.5);
    return run_job(wide);
  }();
  const std::optional<double> scallop = run.operations[0].usual.scallop_mm;
  ASSERT_TRUE(scallop);
  EXPECT_NEAR(*scallop, 3 - std::sqrt(9 - 0.75 * 0.75), 1e-12);
  const LeftStatistics left =
      statistics(run.judged.left, run.judged.judgement.stock, rectangle(Box2(Vec2(-5, -12), Vec2(5, 12))));
  EXPECT_NEAR(left.p99_mm, *scallop, 0.25 * *scallop)
      << "nearly level here; cells of 0.2 mm see the ridges from the side";
  Tool bull = completed({.shape = Shape::bull, .diameter_mm = 10, .corner_radius_mm = 1});
  EXPECT_EQ(scallop_height(bull, 8), 0);
  EXPECT_NEAR(scallop_height(bull, 9), 1 - std::sqrt(0.75), 1e-12);
  EXPECT_EQ(scallop_height(bull, 12), 1);
}

TEST_F(JudgeJob, ToolpathsAsCurvesHoldEveryMove) {
  const RunResult run = run_job(job(""));
  const std::vector<Curve> curves =
      curves_of(run.judged.program, [](std::int32_t) { return std::string("finish"); });
  double feed = 0, rapid = 0;
  for (const Curve& curve : curves) {
    EXPECT_EQ(curve.layer, "finish");
    (curve.name == "feed" ? feed : rapid) += length(curve);
  }
  EXPECT_NEAR(feed, run.judged.judgement.operations[0].feed_mm, 1e-6);
  EXPECT_NEAR(rapid, run.judged.judgement.operations[0].rapid_mm, 1e-6);
  for (std::size_t i = 0; i + 1 < curves.size(); ++i)
    EXPECT_EQ(curves[i].points.back(), curves[i + 1].points.front()) << "one goes on where the other ends";
}

TEST_F(JudgeJob, StockOfEveryKind) {
  const auto box_of = [&](const std::string& stock) {
    stock_ = "[stock]\n" + stock;
    return load_setup(job("")).block;
  };
  EXPECT_EQ(box_of("corners = [[-21, -16, -6], [22, 17, 1]]\ncell = 0.2\n").max(), Vec3(22, 17, 1));
  EXPECT_EQ(box_of("bar = \"upright\"\ndiameter = 52\nabove = 1\ncell = 0.2\n").max(), Vec3(26, 26, 1));
  EXPECT_EQ(box_of("bar = \"along-x\"\ndiameter = 40\nmargin = [3, 0]\ncell = 0.2\n").sizes(),
            Vec3(46, 40, 40));
  EXPECT_EQ(box_of("bar = \"along-y\"\ndiameter = 60\nmargin = [0, 2]\ncell = 0.2\n").sizes(),
            Vec3(60, 34, 60));
  EXPECT_EQ(box_of("mesh = \"clamp.stl\"\ncell = 0.2\n").min(), Vec3(-25, -15, -10));
  stock_ = "origin = { of = \"stock\", z = \"top\" }\n[stock]\ncorners = [[-21, -16, -6], [22, 17, 1]]\n";
  EXPECT_THROW((void)job(""), Error) << "the corners would depend on the origin and it on them";
  stock_ = "[stock]\nmesh = \"clamp.stl\"\ncell = 0.2\n";
  const JobSetup small = load_setup(job(""));
  EXPECT_FALSE(small.stock_notes.empty()) << "the part stands out";
  // What one run leaves, the next one starts from.
  stock_ = "[stock]\ncell = 0.2\nabove = 0.5\n";
  const RunResult first = run_job(job(""));
  write_stock(folder() / "left.npy", first.judged.judgement.stock);
  stock_ = "[stock]\nfile = \"left.npy\"\n";
  const JobSetup second = load_setup(job(""));
  EXPECT_EQ(second.cell_mm, 0.2);
  EXPECT_EQ(second.stock->volume_mm3(), first.judged.judgement.stock.volume_mm3());
  EXPECT_NEAR(judged(first.judged.program, second).judgement.stock.volume_mm3(), second.stock->volume_mm3(),
              1e-6)
      << "the same program takes nothing more";
  for (const auto& [stock, says] :
       {std::pair("corners = [[0, 0, 0], [1, 1, 1]]\nbar = \"upright\"\ndiameter = 3\n",
                  "exclude each other"),
        std::pair("bar = \"upright\"\n", "need each other"),
        std::pair("bar = \"upright\"\ndiameter = 60\nmargin = [1, 1]\n", "says nothing of an upright bar"),
        std::pair("bar = \"along-x\"\ndiameter = 60\nabove = 1\n", "says nothing of a lying bar"),
        std::pair("file = \"none.npy\"\n", "does not exist"),
        std::pair("mesh = \"clamp.stl\"\nmargin = [1, 1]\n", "belongs to stock around the part")}) {
    stock_ = std::string("[stock]\n") + stock;
    EXPECT_HAS(message(""), says);
  }
}

TEST_F(JudgeJob, AMachineInAFileOfItsOwn) {
  store(folder() / "mill.toml",
        "name = \"mill by the slipway\"\nrapid_feed = [20000, 20000, 8000]\nrapids = \"dog-leg\"\n"
        "tool_change_time = 25\ntravel = [[-300, -200, -100], [300, 200, 300]]\n");
  const Job given = job("[machine]\nfile = \"mill.toml\"\ntool_change_time = 30\n");
  EXPECT_EQ(given.machine.name, "mill by the slipway");
  EXPECT_EQ(given.machine.motion.rapid_mm_min, Vec3(20000, 20000, 8000));
  EXPECT_TRUE(given.machine.controller.dog_leg_rapids);
  EXPECT_TRUE(given.machine.travel.has_value());
  EXPECT_EQ(given.machine.motion.tool_change_s, 30) << "the job's own value counts";
  EXPECT_HAS(message("[machine]\nfile = \"no.toml\"\n"), "job.toml:14: machine: \"file\"");
  store(folder() / "mill.toml", "rapids = \"dog\"\nrapid_fed = 3\nacceleration = \n");
  EXPECT_HAS(message("[machine]\nfile = \"mill.toml\"\n"), "mill.toml:3");
  store(folder() / "mill.toml", "rapids = \"dog\"\nrapid_fed = 3\nrapid_feed = [1, 2, 0]\n");
  const std::string wrong = message("[machine]\nfile = \"mill.toml\"\nwork_ofset = \"G54\"\n");
  EXPECT_HAS(wrong, "mill.toml:1: machine: \"rapids\"");
  EXPECT_HAS(wrong, "mill.toml:2: machine: unknown key \"rapid_fed\"");
  EXPECT_HAS(wrong, "must be a speed, or [x, y, z], each above 0");
  EXPECT_HAS(wrong, "did you mean \"work_offset\"?");
}

TEST_F(JudgeJob, EntriesThicknessAndUndercutCuttersByTheJob) {
  // Finishing from the block: its tool drills.
  stock_ = "[stock]\ncell = 0.2\nabove = 3\n";
  Job drills = job("[left]\nthicker_than = 0.2\n");
  drills.tools[0].steepest_entry_deg = 90;
  const RunResult run = run_job(drills);
  EXPECT_EQ(run.judged.why_left.limit_mm, 0.2);
  EXPECT_TRUE(run.judged.judgement.clean());
  ASSERT_EQ(run.judged.after_operation.size(), 1u);
  EXPECT_EQ(run.judged.after_operation[0].p95_mm,
            statistics(run.judged.left, run.judged.judgement.stock, run.operations[0].works_in).p95_mm);
  Job careful = job("");
  careful.tools[0].steepest_entry_deg = 10;
  const JudgedProgram steep = judged(run.judged.program, load_setup(careful));
  ASSERT_FALSE(steep.judgement.clean());
  EXPECT_EQ(steep.judgement.findings[0].kind, FindingKind::plunge_too_steep);
  Job lollipop = job("");
  lollipop.tools[0].shape = Shape::lollipop;
  EXPECT_FALSE(judged(run.judged.program, load_setup(lollipop)).judgement.clean());
  const std::string tool = "[tools.t]\nnumber = 2\nspindle = 1\nfeed = 1\ndiameter = 10\n";
  EXPECT_EQ(job(tool + "shape = \"tslot\"\nneck_diameter = 4\nflute_length = 3\n").tools[1].neck_length_mm,
            37);
  EXPECT_HAS(message(tool + "shape = \"lollipop\"\nneck_diameter = 10\n"), "must be below the diameter");
  EXPECT_HAS(message(tool + "shape = \"tslot\"\nflute_length = 1\ncorner_radius = 2\n"),
             "height of the disc");
  EXPECT_HAS(message(tool + "shape = \"ball\"\nsteepest_entry = 0\n"),
             "but must be at least 0.1 and at most 90 degrees");
}

TEST_F(JudgeJob, MistakesAreNamed) {
  EXPECT_HAS(
      message(
          "[[accepted]]\nfinding = \"undercut-cutter\"\noperation = \"finish\"\nup_to = 1\nreason = \"x\"\n"),
      "valid");
  EXPECT_HAS(message("[machine]\ntravel = [1, 2]\n"), "two opposite corners");
  EXPECT_HAS(message("[machine]\nrapids = \"curved\"\n"), "straight, dog-leg");
  EXPECT_HAS(
      message("[[accepted]]\nfinding = \"gouges\"\noperation = \"finish\"\nup_to = 1\nreason = \"x\"\n"),
      "did you mean \"gouge\"?");
  EXPECT_HAS(message("[[accepted]]\nfinding = \"gouge\"\noperation = \"fnish\"\nup_to = 1\nreason = \"x\"\n"),
             "did you mean \"finish\"?");
  EXPECT_HAS(message("[[accepted]]\nfinding = \"gouge\"\noperation = \"finish\"\nup_to = 1\n"),
             "why this may stay");
}

}  // namespace
}  // namespace yardpass
