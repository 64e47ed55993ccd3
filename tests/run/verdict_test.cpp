// Whole jobs whose verdict was wrong, or whose program was dangerous, once.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

constexpr double kFoot = -8;

/// A block of 40 x 30 at its top, 8 high, with sides drafted by 45 degrees down to its foot.
Mesh drafted_block() {
  return testing::sheet(Box2(Vec2(-28, -23), Vec2(28, 23)), 112, 92, [](double x, double y) {
    return std::clamp(-std::max(std::abs(x) - 20, std::abs(y) - 15), kFoot, 0.0);
  });
}

class VerdictJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "part.stl", drafted_block(), "part"); }
  std::string stock_ = "[stock]\ncell = 0.25\nmargin = [1, 1]\nabove = 0.5\n";
  std::string tool_ =
      "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nspindle = 9000\nfeed = 1000\n";
  Job job(const std::string& tables = "", const std::string& operation = "") {
    store(folder() / "job.toml",
          "title = \"t\"\n[part]\nmesh = \"part.stl\"\n" + stock_ + tool_ + tables +
              "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = 2\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  static std::string notes_of(const RunResult& run) {
    std::string notes;
    for (const Note& note : run.operations[0].notes) notes += Telling().words(note) + "\n";
    for (const Note& note : run.planned[0].notes) notes += Telling().words(note) + "\n";
    return notes;
  }
  static double lowest(const RunResult& run) {
    double lowest = 1e9;
    for (const Move& move : run.planned[0].path.moves) lowest = std::min(lowest, move.to.z());
    return lowest;
  }
};

// A ball that rolled around the foot of a drafted side stood 0.9 mm in the bed; nothing said so.
TEST_F(VerdictJob, NothingGoesLowerThanWhatIsSeenOfThePart) {
  const Mesh whole = drafted_block();
  Mesh sides;  // without the level floor around the foot
  sides.points = whole.points;
  for (const auto& t : whole.triangles) {
    double high = -1e9;
    for (const auto corner : t) high = std::max(high, whole.points[corner].z());
    if (high > kFoot + 1e-6) sides.triangles.push_back(t);
  }
  write_stl(folder() / "part.stl", sides, "part");
  const RunResult run = run_job(job("", "limit = \"axis\"\nmargin = 3\nkeep_inside = \"part\"\n"));
  EXPECT_GE(lowest(run), kFoot - 0.001);
  EXPECT_NEAR(run.operations[0].bottom_z, kFoot, 0.001);
  const RunResult deeper =
      run_job(job("", "limit = \"axis\"\nmargin = 3\nkeep_inside = \"part\"\nbottom = -20\n"));
  EXPECT_LT(lowest(deeper), kFoot - 0.3) << "as asked";
  EXPECT_NE(notes_of(deeper).find("below the underside of the stock"), std::string::npos);
}

TEST_F(VerdictJob, NothingGoesBelowTheStockWithoutAWord) {
  stock_ = "[stock]\ncell = 0.25\ncorners = [[-30, -25, -5], [30, 25, 1]]\n";
  const RunResult run = run_job(job());
  EXPECT_GE(lowest(run), -5.001);
  EXPECT_NE(notes_of(run).find("below the underside of the stock"), std::string::npos) << notes_of(run);
}

// Passes that leave over an outer edge are told, with a margin that works when it is typed.
TEST_F(VerdictJob, TheMarginOfANoteDoesWhatItSays) {
  write_stl(folder() / "part.stl",
            testing::sheet(Box2(Vec2(-28, -23), Vec2(28, 23)), 560, 92,
                           [](double x, double) { return x > 12 ? 8.0 : 0.0; }),
            "part");
  for (const std::string rule : {"axis", "cutter"}) {
    const std::string area = "keep_inside = [[-20, -15], [11.95, -15], [11.95, 15], [-20, 15]]\nlimit = \"" +
                             rule + "\"\nmargin = " + (rule == "axis" ? "0" : "0.1") + "\n";
    const RunResult told = run_job(job("", area));
    std::string margin = "none";
    for (const Note& note : told.planned[0].notes)
      if (note.about == "rides") margin = std::to_string(note.values.back().value[0]);
    ASSERT_NE(margin, "none") << rule;
    const double number = std::stod(margin);
    // A ball of 6 touches the wall when its axis is 3 from it; the wall is 0.05 beyond the boundary.
    EXPECT_NEAR(number, rule == "axis" ? -2.95 : 0.05, 0.06) << rule;
    std::string typed = area;
    typed.replace(typed.find("margin = "), std::string::npos, "margin = " + margin + "\n");
    const RunResult by_margin = run_job(job("", typed));
    EXPECT_EQ(notes_of(by_margin).find("ride up"), std::string::npos) << notes_of(by_margin);
    EXPECT_EQ(by_margin.posted.text, run_job(job("", area + "ride_up = \"avoid\"\n")).posted.text) << rule;
    const std::string less = std::to_string(number + 0.03);
    typed.replace(typed.find("margin = "), std::string::npos, "margin = " + less + "\n");
    EXPECT_NE(notes_of(run_job(job("", typed))).find("ride up"), std::string::npos)
        << rule << ": no more than needed";
  }
}

TEST_F(VerdictJob, GoingDownBesideAnOuterEdgeIsTold) {
  write_stl(folder() / "part.stl",
            testing::sheet(Box2(Vec2(-28, -23), Vec2(28, 23)), 560, 92,
                           [](double x, double) { return x > 12 ? 8.0 : 0.0; }),
            "part");
  const RunResult run =
      run_job(job("", "keep_inside = [[12.1, -15], [25, -15], [25, 15], [12.1, 15]]\nmargin = 4\n"));
  EXPECT_NE(notes_of(run).find("go down beside an outer edge of the boundary"), std::string::npos)
      << notes_of(run);
}

// Where no stock stands and the part is cut into, a rapid went to below the part's skin.
TEST_F(VerdictJob, AnOvercutWithoutStockMakesNoRapidIntoThePart) {
  stock_ = "[stock]\ncell = 0.25\naround_part = 0\n";
  tool_ = "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 12\nspindle = 9000\nfeed = 1000\n";
  const RunResult run = run_job(job("",
                                    "keep_inside = [[-15, -10], [15, -10], [15, 10], [-15, 10]]\n"
                                    "allowance = -2\nfeed_height = 0.5\n"));
  EXPECT_TRUE(run.judged.clean()) << in_words(run.judged.judgement);
  EXPECT_NEAR(run.judged.judgement.operations[0].least_clearance_mm, -2, 0.01);
}

// A stated depth holds where the rules of the boundary let the axis go, other rules along it included.
TEST_F(VerdictJob, AnOvercutUnderSeveralRulesOfLimitIsNoGouge) {
  const RunResult run = run_job(job("",
                                    "keep_inside = [[-15, -10], [10, -10], [10, 10], [-15, 10]]\n"
                                    "limit = \"axis\"\nallowance = -0.2\n"
                                    "limit_where = [{ inside = [[9, -11], [11, -11], [11, 11], [9, 11]], "
                                    "limit = \"axis\", margin = 3 }]\n"));
  EXPECT_TRUE(run.judged.clean()) << in_words(run.judged.judgement);
  double right = -1e9;
  for (const Move& move : run.planned[0].path.moves) right = std::max(right, move.to.x());
  EXPECT_NEAR(right, 13, 0.01);
}

// The part stands out of its stock: rapids across were planned at the height of the stock.
TEST_F(VerdictJob, TheRapidPlaneIsAboveThePartToo) {
  stock_ = "[stock]\ncell = 0.25\ncorners = [[-30, -25, -8], [30, 25, -3]]\n";
  const RunResult run = run_job(job());
  EXPECT_NEAR(run.setup.plane_z, 5, 1e-6);
  EXPECT_TRUE(run.judged.judgement.clean()) << in_words(run.judged.judgement);
}

TEST_F(VerdictJob, AProgramRunsWithTheToolOfItsJob) {
  tool_ += "[tools.ball5]\nnumber = 2\nshape = \"ball\"\ndiameter = 5\nspindle = 9000\nfeed = 1000\n";
  const RunResult run = run_job(job());
  std::string text = run.posted.text;
  for (std::size_t at = text.find("T1 M6"); at != std::string::npos; at = text.find("T1 M6"))
    text.replace(at, 5, "T2 M6");
  text.replace(text.find("H1"), 2, "H2");
  const JudgedProgram other = judge_program(read_program(text, "x.nc"), run.setup, run.operations);
  EXPECT_FALSE(other.clean());
  ASSERT_FALSE(other.disagreements.empty());
  EXPECT_EQ(other.disagreements[0].about, "tool");
}

// A tool change added the way down from Z 1000, a second each, which no page named.
TEST_F(VerdictJob, TimesCountTheWayDownFromTheToolChangeOnlyWhereTheMachineSaysSo) {
  const RunResult usual = run_job(job());
  const RunResult high = run_job(job("[machine]\ntool_change_height = 500\nrapid_feed = 6000\n"));
  const RunResult slow = run_job(job("[machine]\nrapid_feed = 6000\n"));
  EXPECT_EQ(usual.posted.text, high.posted.text);
  EXPECT_NEAR(high.judged.judgement.seconds - slow.judged.judgement.seconds,
              (500 - usual.setup.plane_z) / 100, 0.3);
  EXPECT_NEAR(high.judged.judgement.operations[0].rapid_mm, slow.judged.judgement.operations[0].rapid_mm,
              1e-9);
}

TEST_F(VerdictJob, ToolsRunNoFasterThanTheirAxes) {
  const RunResult run = run_job(job("[machine]\nrapid_feed = 500\n"));
  const OperationJudgement& operation = run.judged.judgement.operations[0];
  // Its tool is fed at 1000; passes run along X but for the slopes at both ends.
  EXPECT_GT(operation.time.feed_s, operation.feed_mm / (600.0 / 60));
}

TEST_F(VerdictJob, AFeedThatWouldBeWrittenAsZeroIsRefused) {
  tool_ = "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nspindle = 9000\nfeed = 0.04\n";
  EXPECT_THROW((void)job(), Error);
  tool_ = "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nspindle = 9000\nfeed = 0.12\n";
  try {
    (void)run_job(job());  // plunges at a third of it
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("F0"), std::string::npos) << error.what();
  }
}

// The program was at hand only after the reasons for what is left were found, minutes later on rough ground.
TEST_F(VerdictJob, TheProgramIsAtHandBeforeItIsExplained) {
  const std::string coarse =
      "allowance = 0\n[[operation]]\nname = \"rest\"\nstrategy = \"parallel\"\ntool = "
      "\"ball6\"\nstepover = 5\n";
  int called = 0;
  const Job asked = job("", coarse);
  const RunResult run = run_job(asked, {.proven = [&](const RunResult& proven) {
                                  ++called;
                                  EXPECT_FALSE(proven.posted.text.empty());
                                  EXPECT_GT(proven.judged.why_left.not_asked_mm2, 0);
                                  EXPECT_EQ(proven.judged.why_left.missed_mm2, 0);
                                }});
  EXPECT_EQ(called, 1);
  EXPECT_EQ(run.judged.why_left.not_asked_mm2, 0);
  EXPECT_GT(run.judged.why_left.missed_mm2, 0);
  const RunResult silent =
      run_job(job("[left]\nexplain = false\n", coarse), {.proven = [&](const RunResult&) { ++called; }});
  EXPECT_EQ(called, 1) << "there is nothing to wait for";
  EXPECT_GT(silent.judged.why_left.not_asked_mm2, 0);
}

// The first pass of a finishing operation went straight down through solid, and nothing said so.
TEST_F(VerdictJob, FinishingEntersSolidAlongARamp) {
  stock_ = "[stock]\ncell = 0.25\nmargin = [1, 1]\nabove = 4\n";
  for (const std::string shape : {"ball", "flat"}) {
    tool_ =
        "[tools.ball6]\nnumber = 1\nshape = \"" + shape + "\"\ndiameter = 6\nspindle = 9000\nfeed = 1000\n";
    const RunResult run =
        run_job(job("", "keep_inside = [[-18, -12], [18, -12], [18, 12], [-18, 12]]\nlimit = \"axis\"\n"));
    EXPECT_TRUE(run.judged.clean()) << shape << in_words(run.judged.judgement);
    EXPECT_GT(run.planned[0].lengths.ramp_mm, 50) << shape;
  }
}

const char* const kRough = "strategy = \"roughing\"\nstepdown = 2\n";

/// A job that roughs with a flat of 8, then again with the tool that is named.
class RestJob : public VerdictJob {
 protected:
  RunResult twice(const std::string& second_tool, const std::string& second) {
    tool_ =
        "[tools.flat8]\nnumber = 1\nshape = \"flat\"\ndiameter = 8\nspindle = 9000\nfeed = 1000\n"
        "[tools.flat3]\nnumber = 2\nshape = \"flat\"\ndiameter = 3\nspindle = 9000\nfeed = 1000\n";
    const std::string head = "title = \"t\"\n[part]\nmesh = \"part.stl\"\n" + stock_ + tool_;
    store(folder() / "job.toml", head + "[[operation]]\nname = \"rough\"\ntool = \"flat8\"\n" + kRough +
                                     "[[operation]]\nname = \"again\"\ntool = \"" + second_tool + "\"\n" +
                                     kRough + second);
    return run_job(read_job(folder() / "job.toml"));
  }
};

TEST_F(RestJob, OpenAreasAreEnteredFromAirClosedOnesByARamp) {
  const auto only = [&](const std::string& keys) {
    tool_ = "[tools.flat8]\nnumber = 1\nshape = \"flat\"\ndiameter = 8\nspindle = 9000\nfeed = 1000\n";
    store(folder() / "one.toml", "title = \"t\"\n[part]\nmesh = \"part.stl\"\n" + stock_ + tool_ +
                                     "[[operation]]\nname = \"rough\"\ntool = \"flat8\"\n" + kRough + keys);
    return run_job(read_job(folder() / "one.toml"));
  };
  const RunResult open = only("");
  EXPECT_TRUE(open.judged.clean()) << in_words(open.judged.judgement);
  EXPECT_EQ(open.planned[0].lengths.ramp_mm, 0) << "all around the block there is air";
  const RunResult drawn = only("keep_inside = [[-25, -20], [25, -20], [25, 20], [-25, 20]]\n");
  EXPECT_TRUE(drawn.judged.clean()) << in_words(drawn.judged.judgement);
  EXPECT_GT(drawn.planned[0].lengths.ramp_mm, 0) << "a boundary that is drawn is not left";
  write_stl(
      folder() / "part.stl",
      testing::sheet(Box2(Vec2(-28, -23), Vec2(28, 23)), 112, 92,
                     [](double x, double y) { return std::abs(x) < 15 && std::abs(y) < 11 ? -6.0 : 0.0; }),
      "part");
  const RunResult pocket = only("");
  EXPECT_TRUE(pocket.judged.clean()) << in_words(pocket.judged.judgement);
  EXPECT_GT(pocket.planned[0].lengths.ramp_mm, 0);
}

TEST_F(RestJob, TheSameToolAgainCutsNothingAndSaysSo) {
  const RunResult run = twice("flat8", "");
  EXPECT_GT(run.planned[0].lengths.cut_mm, 1000);
  EXPECT_TRUE(run.planned[1].path.moves.empty()) << run.planned[1].lengths.cut_mm;
  ASSERT_EQ(run.judged.disagreements.size(), 1u);
  EXPECT_NE(Telling().words(run.judged.disagreements[0]).find("nothing to cut: on none of its levels"),
            std::string::npos)
      << Telling().words(run.judged.disagreements[0]);
}

TEST_F(RestJob, ASmallerToolCutsOnlyWhatTheLargerLeft) {
  write_stl(folder() / "part.stl",
            testing::sheet(Box2(Vec2(-28, -23), Vec2(28, 23)), 280, 230,
                           [](double x, double y) {
                             // A pocket whose corners and slot a flat of 8 does not reach.
                             const bool pocket = std::abs(x) < 15 && std::abs(y) < 11;
                             const bool slot = std::abs(y) < 2.2 && x > 0 && x < 24;
                             return pocket || slot ? -6.0 : 0.0;
                           }),
            "part");
  const RunResult run = twice("flat3", "allowance = 0.3\n");
  EXPECT_TRUE(run.judged.judgement.clean()) << in_words(run.judged.judgement);
  const RunResult alone = [&] {
    store(folder() / "alone.toml", "title = \"t\"\n[part]\nmesh = \"part.stl\"\n" + stock_ + tool_ +
                                       "[[operation]]\nname = \"rough\"\ntool = \"flat3\"\n" + kRough +
                                       "allowance = 0.3\n");
    return run_job(read_job(folder() / "alone.toml"));
  }();
  const double rest = run.planned[1].lengths.cut_mm, all = alone.planned[0].lengths.cut_mm;
  EXPECT_GT(rest, 0.02 * all);
  EXPECT_LT(rest, 0.3 * all);
  // Both leave the same, but for skins thinner than asked for: in the slot the floor is reached.
  const auto at = [](const RunResult& of, double x, double y) {
    const Stock& stock = of.judged.judgement.stock;
    const auto cell = stock.cells_between({x - 0.13, y - 0.13}, {x + 0.13, y + 0.13});
    return stock.height(cell.first_column, cell.first_row);
  };
  for (const Vec2& p : {Vec2(20, 0), Vec2(13.2, 9.2), Vec2(-13.2, -9.2)})
    EXPECT_LE(at(run, p.x(), p.y()), at(alone, p.x(), p.y()) + 1e-6) << p.transpose();
  EXPECT_NEAR(at(run, 20, 0), -5.7, 0.01);
}

// Thick material was told as 5.000.
TEST_F(VerdictJob, WhatIsLeftIsMeasuredHoweverThick) {
  stock_ = "[stock]\ncell = 0.25\nmargin = [1, 1]\nabove = 9\n";
  const RunResult run = run_job(job("", "top = -4\n"));
  EXPECT_GT(run.judged.after_operation[0].greatest_mm, 8.9);
  EXPECT_LT(run.judged.after_operation[0].greatest_mm, 12);
}

}  // namespace
}  // namespace yardpass
