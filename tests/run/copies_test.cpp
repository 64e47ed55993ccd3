// Copies of operations, units, shares of the tool, stock around the part, the table of areas.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/plate.h"
#include "yardpass/part/outlines.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"

namespace yardpass {
namespace {

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

class KeysJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "plate.stl", testing::plate(), "plate"); }
  Job job(const std::string& more) {
    store(folder() / "job.toml", std::string(testing::kPlateJob) + more);
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& more) {
    try {
      (void)job(more);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
  static const SettledValue& value(const Settled& settled, const std::string& key) {
    static const SettledValue none{"none", {}, ""};
    for (const SettledValue& one : settled.told)
      if (one.key == key) return one;
    return none;
  }
  static std::string told(const Settled& settled, const std::string& key) {
    return Telling().words(value(settled, key).value);
  }
};

const std::string kFinish =
    "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1\nangle = 30\n"
    "keep_inside = [[-10, -10], [10, -10], [10, 10], [-10, 10]]\n";

TEST_F(KeysJob, ACopyTakesAllKeysButThoseItSays) {
  const Job with =
      job(kFinish +
          "[[operation]]\nname = \"across\"\ncopy_of = \"finish\"\nangle = 120\n"
          "[[operation]]\nname = \"again\"\ncopy_of = \"across\"\nscallop_height = 0.02\nactive = false\n");
  const OperationJob& across = with.operations[1];
  EXPECT_EQ(across.strategy, "parallel");
  EXPECT_EQ(across.tool, "ball4");
  EXPECT_EQ(across.says.get("angle")->number(), 120);
  EXPECT_EQ(across.says.get("stepover")->number(), 1);
  const OperationJob& again = with.operations[2];
  EXPECT_FALSE(again.active);
  EXPECT_EQ(again.says.get("angle")->number(), 120) << "a copy of a copy";
  EXPECT_FALSE(again.says.contains("stepover")) << "the scallop height said here takes its place";
  const std::vector<Settled> settled = settle(load_setup(with));
  ASSERT_EQ(settled.size(), 2u);
  EXPECT_EQ(value(settled[1], "stepover").source, "line 22, copied from \"finish\"");
  EXPECT_EQ(value(settled[1], "angle").source, "line 28");
  // The same operation said in full gives the same program.
  std::string whole = kFinish;
  whole.replace(whole.find("\"finish\""), 8, "\"across\"");
  whole.replace(whole.find("angle = 30"), 10, "angle = 120");
  const Job plain = job(kFinish + whole);
  EXPECT_EQ(run_job(plain).posted.text, run_job(with).posted.text);
}

TEST_F(KeysJob, ACopyMayComeBeforeItsOriginAndSurvivesARename) {
  const Job first = job(
      "[[operation]]\nname = \"across\"\ncopy_of = \"base\"\nangle = 120\n[[operation]]\nname = \"base\"\n" +
      kFinish.substr(kFinish.find("strategy")));
  EXPECT_EQ(first.operations[0].says.get("stepover")->number(), 1);
  std::string inactive = kFinish + "active = false\n[[operation]]\nname = \"across\"\ncopy_of = \"finish\"\n";
  EXPECT_TRUE(job(inactive).operations[1].active) << "active is not copied";
}

TEST_F(KeysJob, KeysOfAnotherStrategyAreDroppedAndTold) {
  std::string by_scallop = kFinish;
  by_scallop.replace(by_scallop.find("stepover = 1"), 12, "scallop_height = 0.1");
  const Job copied =
      job(by_scallop + "[[operation]]\nname = \"rough\"\ncopy_of = \"finish\"\nstrategy = \"roughing\"\n");
  EXPECT_EQ(copied.operations[1].dropped, (std::vector<std::string>{"scallop_height"}));
  const RunResult run = run_job(copied);
  const Report report = make_report(run);
  std::string notes;
  for (const std::string& note : notes_of(report.operations[1], report.telling)) notes += note + "\n";
  EXPECT_HAS(notes, "\"scallop_height\"");
  EXPECT_HAS(notes, "not copied");
}

TEST_F(KeysJob, CopiesThatLeadNowhere) {
  EXPECT_HAS(message(kFinish + "[[operation]]\nname = \"b\"\ncopy_of = \"finsh\"\n"),
             "\"copy_of\" names \"finsh\", which is not defined (did you mean \"finish\"?)");
  EXPECT_HAS(message(kFinish + "[[operation]]\nname = \"b\"\ncopy_of = \"b\"\n"),
             "leads back to the operation itself");
  EXPECT_HAS(
      message("[[operation]]\nname = \"a\"\ncopy_of = \"b\"\n[[operation]]\nname = \"b\"\ncopy_of = \"a\"\n"),
      "leads back");
}

TEST_F(KeysJob, InchesGiveTheSameProgram) {
  const std::string mm =
      "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1.27\n"
      "keep_inside = [[-12.7, -12.7], [12.7, -12.7], [12.7, 12.7], [-12.7, 12.7]]\nallowance = 0.254\n"
      "bottom = -2.54\n";
  const std::string inch =
      "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 0.05\n"
      "keep_inside = [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]]\nallowance = 0.01\n"
      "bottom = -0.1\n";
  std::string head = testing::kPlateJob;
  const auto change = [&](const std::string& old, const std::string& now) {
    ASSERT_NE(head.find(old), std::string::npos) << old;
    head.replace(head.find(old), old.size(), now);
  };
  change("diameter = 4", "diameter = 0.125"), change("flute_length = 30", "flute_length = 1");
  change("stickout = 60", "stickout = 2"), change("feed = 1000", "feed = 50"),
      change("cell = 0.4", "cell = 0.02");
  change("scrap_area = 0.5", "scrap_area = 0.001"), change("at = [10, 10]", "at = [0.4, 0.4]");
  change("title = \"plate\"\n", "title = \"plate\"\nunits = \"inch\"\n");
  store(folder() / "inch.toml", head + inch);
  std::string metric = testing::kPlateJob;
  for (const auto& [old, now] :
       {std::pair("diameter = 4", "diameter = 3.175"), std::pair("flute_length = 30", "flute_length = 25.4"),
        std::pair("stickout = 60", "stickout = 50.8"), std::pair("feed = 1000", "feed = 1270"),
        std::pair("cell = 0.4", "cell = 0.508"), std::pair("at = [10, 10]", "at = [10.16, 10.16]")})
    metric.replace(metric.find(old), std::string(old).size(), now);
  store(folder() / "mm.toml", metric + mm);
  const RunResult one = run_job(read_job(folder() / "mm.toml")),
                  other = run_job(read_job(folder() / "inch.toml"));
  const Program &a = one.judged.program, &b = other.judged.program;
  ASSERT_EQ(a.moves.size(), b.moves.size());
  for (std::size_t i = 0; i < a.moves.size(); ++i) {
    ASSERT_LT((a.moves[i].to - b.moves[i].to).cwiseAbs().maxCoeff(), 0.0005) << i;
    ASSERT_NEAR(a.moves[i].feed_mm_min, b.moves[i].feed_mm_min, 0.05) << i;
  }
  // Told in inches, four decimals.
  const Report report = make_report(other);
  EXPECT_EQ(report.telling.with_unit(report.settled[0].values.allowance.floor_mm), "0.01 inch");
  EXPECT_HAS(report_json(report), "\"units\": \"inch\"");
  EXPECT_HAS(report_html(report, {}), "Material left is measured in inch");
  store(folder() / "inch.toml", head + inch + "tolerance = 0.5\n");
  try {
    (void)read_job(folder() / "inch.toml");
    FAIL();
  } catch (const Error& error) {
    EXPECT_HAS(std::string(error.what()), "\"tolerance\" is 0.5, but must be at least 0.0000");
  }
}

TEST_F(KeysJob, SharesOfTheTool) {
  std::string shares = kFinish;
  shares.replace(shares.find("stepover = 1"), 12,
                 "stepover = \"8 %\"\nmargin = \"1.5 radii\"\nlink_distance = \"50%\"");
  const std::vector<Settled> settled = settle(load_setup(job(shares)));
  EXPECT_EQ(told(settled[0], "stepover"), "0.32 mm");
  EXPECT_HAS(value(settled[0], "stepover").source, "8 % of the diameter");
  EXPECT_EQ(told(settled[0], "margin"), "3 mm");
  EXPECT_HAS(value(settled[0], "margin").source, "1.5 radii of the tool");
  EXPECT_EQ(told(settled[0], "link_distance"), "2 mm");
  const auto said = [&](const std::string& stepover) {
    std::string text = kFinish;
    return message(text.replace(text.find("stepover = 1"), 12, "stepover = " + stepover));
  };
  EXPECT_HAS(said("\"8\""), "a share of the tool is \"8 %\" of its diameter, or \"1 radius\"");
  EXPECT_HAS(said("\"-8 %\""), "of the tool, -0.32, but must be above 0");
  EXPECT_HAS(message(kFinish + "top = \"8 %\"\n"), "\"top\" must be a number");
}

TEST_F(KeysJob, StockAroundThePart) {
  const auto stock = [&](const std::string& around) {
    std::string text = std::string(testing::kPlateJob) + kFinish;
    text.replace(text.find("cell = 0.4"), 10, "cell = 0.4\naround_part = " + around);
    store(folder() / "job.toml", text);
    return load_setup(read_job(folder() / "job.toml"));
  };
  const JobSetup bare = stock("0"), grown = stock("1.5");
  const TipSurface needle(bare.part, Profile::needle()), ball(bare.part, Profile::ball(3));
  EXPECT_NEAR(grown.block.max().z(), bare.block.max().z() + 1.5, 1e-9);
  EXPECT_NEAR(grown.block.min().x(), bare.block.min().x() - 1.5, 1e-9);
  int checked = 0;
  for (int row = 0; row < grown.stock->rows(); row += 7)
    for (int column = 0; column < grown.stock->columns(); column += 7) {
      const double tip = ball.height(grown.stock->centre(column, row));
      if (tip == kNothingBelow) continue;
      EXPECT_NEAR(grown.stock->height(column, row), std::min(tip + 1.5, grown.block.max().z()), 1e-9);
      ++checked;
    }
  EXPECT_GT(checked, 200);
  const int row = bare.stock->rows() / 3, column = bare.stock->columns() / 3;
  EXPECT_NEAR(bare.stock->height(column, row), needle.height(bare.stock->centre(column, row)), 0.01);
}

TEST_F(KeysJob, AreasFollowTheTable) {
  const std::string head =
      "[[operation]]\nname = \"a\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 2\n";
  const auto settled = [&](const std::string& text) { return settle(load_setup(job(text))).at(0); };
  const Settled nothing = settled(head);
  EXPECT_EQ(nothing.values.limits.rule.by, LimitBy::contact);
  EXPECT_NEAR(nothing.works_in.area_mm2(), 60 * 40, 1);
  EXPECT_HAS(told(nothing, "keep_inside"), "outline of the part");
  EXPECT_EQ(settled(head + "keep_inside = \"face\"\n").values.limits.rule.by, LimitBy::contact);
  EXPECT_EQ(settled(head + "keep_inside = \"face\"\nlimit = \"cutter\"\n").values.limits.rule.by,
            LimitBy::cutter);
  EXPECT_EQ(settled(head + "keep_inside = [[0, 0], [9, 0], [9, 9]]\n").values.limits.rule.by, LimitBy::axis);
  const Settled stock = settled(head + "keep_inside = \"stock\"\n");
  EXPECT_EQ(stock.values.limits.rule.by, LimitBy::axis);
  EXPECT_NEAR(stock.works_in.area_mm2(), 70 * 50, 1e-6);
  std::string rough = head;
  rough.replace(rough.find("parallel"), 8, "roughing");
  const Settled wide = settled(rough);
  EXPECT_NEAR(wide.works_in.area_mm2(), 70 * 50, 1e-6) << "the stock stands wider";
  EXPECT_EQ(wide.values.limits.rule.by, LimitBy::axis);
  EXPECT_NEAR(settled(rough + "keep_inside = \"part\"\n").works_in.area_mm2(), 60 * 40, 1);
  EXPECT_HAS(message(rough + "limit = \"contact\"\nkeep_out = [[0, 0], [9, 0], [9, 9]]\n"),
             "valid beside it: axis, cutter");
}

TEST_F(KeysJob, OldWordsAreRefusedWithTheNewOnes) {
  const std::pair<const char*, const char*> keys[] = {
      {"extensions = \"x\"\n", "\"extensions\" is called \"run_outs\" now"},
      {"guide_surfaces = \"x\"\n", "\"carriers\" now"},
      {"guards = \"x\"\n", "\"keep_away\" now"},
      {"climbs = \"avoid\"\n", "\"ride_up\" now"},
      {"approach = 1\n", "\"feed_height\" now"},
      {"limit = \"near-rim\"\n", "margin = \"1 radius\""},
      {"limit = \"touch\"\n", "say \"contact\""}};
  for (const auto& [old, now] : keys) EXPECT_HAS(message(kFinish + old), now);
  EXPECT_HAS(message(kFinish + "[leftover]\nthicker_than = 1\n"), "\"leftover\" is called \"left\" now");
}

TEST_F(KeysJob, WhatNothingUsesIsTold) {
  const Job with = job("[boundaries.spare]\npoints = [[0, 0], [9, 0], [9, 9]]\n" + kFinish);
  std::string notes;
  for (const Note& note : with.notes) notes += Telling().words(note) + "\n";
  EXPECT_HAS(notes, "boundary \"spare\" (line 18) is defined, but nothing uses it");
  EXPECT_HAS(notes, "region \"face\"");
  EXPECT_EQ(notes.find("tool"), std::string::npos);
}

TEST_F(KeysJob, TheHeadOfTheProgramSaysWhatASetterNeeds) {
  const std::string text = run_job(job(kFinish)).posted.text;
  EXPECT_HAS(text, "(T1 ball D4 L60)\nG21\nG17\nG40 G49 G80\nG90 G94\nG54\n(operation 1: finish)\n");
  EXPECT_EQ(text.find("plate"), std::string::npos);
  EXPECT_HAS(run_job(job("[machine]\nheader = [\"title\"]\n" + kFinish)).posted.text, "%\n(plate)\n");
  EXPECT_HAS(run_job(job("[machine]\nheader = [\"date\"]\n" + kFinish)).posted.text, "%\n(20");
}

}  // namespace
}  // namespace yardpass
