// One answer for each operation: planner, linker, judge and report say the same of it, whatever it is called.
#include "yardpass/run/settle.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "support/plate.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"

namespace yardpass {
namespace {

const char* const kTools = R"([tools.flat6]
number = 2
shape = "flat"
diameter = 6
flute_length = 30
stickout = 60
spindle = 8000
feed = 900
)";
const std::string kWall =
    "[regions.wall]\nbox = [[21, -30, -1], [40, 30, 9]]\n[keep_away.wall]\nregion = \"wall\"\nclearance = "
    "2\nin_the_way = \"over\"\n";

class SettleJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "plate.stl", testing::plate(), "plate"); }
  /// A job with the operation tables given; `tables` before them.
  Job job(const std::string& tables, const std::string& operations) {
    store(folder() / "job.toml", testing::kPlateJob + std::string(kTools) + tables + operations);
    return read_job(folder() / "job.toml");
  }
  static std::string operation(
      const std::string& name, const std::string& keys,
      const std::string& head = "strategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1\n") {
    return "[[operation]]\nname = " + name + "\n" + head + keys;
  }
  std::string message(const std::string& tables, const std::string& operations) {
    try {
      (void)run_job(job(tables, operations));
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
};

const std::string kBesideTheWall = "keep_inside = [[5, -10], [20, -10], [20, 10], [5, 10]]\n";
const std::string kRough = "strategy = \"roughing\"\ntool = \"flat6\"\nstepdown = 2\n";

JudgedProgram judged(const Program& program, const JobSetup& setup) {
  return judge_program(program, setup, settle(setup));
}

// A program came too near what it keeps away from; with a bracket or an accent in the operation's name nobody
// noticed.
TEST_F(SettleJob, GuardsHoldWhateverAnOperationIsCalled) {
  for (const std::string& name : {std::string("\"finish left\""), std::string("\"finish (left)\""),
                                  std::string("\"finish \xc3\xa9\""), std::string("\"operation 2: other\""),
                                  std::string("\"tab\\tbell\\u0007 newline\\n\""), std::string("\"()\"")}) {
    const RunResult without = run_job(job(kWall, operation(name, kBesideTheWall)));
    ASSERT_TRUE(without.judged.judgement.clean()) << name;
    const JobSetup guarded =
        load_setup(job(kWall, operation(name, kBesideTheWall + "keep_away = \"wall\"\n")));
    const JudgedProgram near = judged(without.judged.program, guarded);
    ASSERT_FALSE(near.judgement.clean()) << name;
    EXPECT_EQ(near.judgement.findings[0].kind, FindingKind::too_near) << name;
    EXPECT_NEAR(near.judgement.findings[0].depth_mm, 1.9, 0.15) << name;
  }
}

TEST_F(SettleJob, LongNamesTitlesThatLookLikeOursAndReorderedOperations) {
  const std::string longest = "\"" + std::string(3000, 'x') + "\"";
  Job given =
      job("", operation(longest, kBesideTheWall) +
                  operation("\"second\"", "keep_inside = [[-18, -10], [-8, -10], [-8, 10], [-18, 10]]\n"));
  for (const char* title : {"operation: second", "operation 2: second", "operation 77"}) {
    given.title = title;
    const RunResult run = run_job(given);
    ASSERT_EQ(run.judged.program.operations.size(), 2u) << title;
    EXPECT_EQ(run.judged.program.operations[0].number, 1);
    EXPECT_EQ(run.judged.program.operations[1].number, 2);
    const Report report = make_report(run);
    EXPECT_EQ(report.operations[0].name.size(), 3000u) << "the report has the name itself";
    EXPECT_EQ(report.operations[1].name, "second");
  }
}

TEST_F(SettleJob, StatedDepthsAndAcceptedFindingsHoldForAnyName) {
  for (const std::string& name : {std::string("\"spark (gap)\""), std::string("\"spark \xc3\xa9\"")}) {
    const RunResult spark = run_job(job("", operation(name, kBesideTheWall + "allowance = -0.2\n")));
    EXPECT_TRUE(spark.judged.judgement.clean()) << name;
    std::string accepted;
    for (const char* kind : {"gouge", "rapid-into-part"})
      accepted += std::string("[[accepted]]\nfinding = \"") + kind + "\"\noperation = " + name +
                  "\nup_to = 1\nreason = \"a trial\"\n";
    const JobSetup says_nothing = load_setup(job("", operation(name, kBesideTheWall)));
    EXPECT_FALSE(judged(spark.judged.program, says_nothing).judgement.clean()) << name;
    const JobSetup accepts = load_setup(job("", operation(name, kBesideTheWall) + accepted));
    EXPECT_TRUE(judged(spark.judged.program, accepts).judgement.clean()) << name;
  }
}

// Roughing with wall and floor given was told other areas missed, by an allowance that nothing used.
TEST_F(SettleJob, OneAnswerToWhichAllowance) {
  const std::string both = "wall_allowance = 0.02\nfloor_allowance = 0.02\nbottom = -3\n";
  const RunResult plain = run_job(job("", operation("\"rough\"", both, kRough)));
  EXPECT_EQ(plain.operations[0].values.allowance.wall_mm, 0.02);
  for (const char* unused : {"allowance = 0.3\n", "allowance = 1.5\n", "allowance = 0\n"}) {
    const RunResult run = run_job(job("", operation("\"rough\"", both + unused, kRough)));
    EXPECT_EQ(run.posted.text, plain.posted.text) << unused;
    EXPECT_EQ(run.judged.why_left.missed_mm2, plain.judged.why_left.missed_mm2) << unused;
    EXPECT_EQ(run.judged.why_left.on_purpose_mm2, plain.judged.why_left.on_purpose_mm2) << unused;
    ASSERT_EQ(run.operations[0].notes.size(), 1u) << unused;
    EXPECT_EQ(run.operations[0].notes[0].about, "idle") << "and the user is told";
    for (const SettledValue& value : run.operations[0].told) EXPECT_NE(value.key, "allowance") << unused;
  }
}

TEST_F(SettleJob, AGuardIsKeptAwayFromByItsClearanceWhateverTheAllowances) {
  for (const char* allowances : {"", "allowance = 0.4\n", "wall_allowance = 0.1\nfloor_allowance = 0.5\n",
                                 "wall_allowance = 0.5\nfloor_allowance = 0.1\nallowance = 1.2\n",
                                 "floor_allowance = 0.3\n", "allowance = -0.3\n"}) {
    const RunResult run =
        run_job(job(kWall, operation("\"finish\"", kBesideTheWall + "keep_away = \"wall\"\n" + allowances)));
    EXPECT_TRUE(run.judged.judgement.clean()) << allowances;
    for (const Finding& finding : run.judged.judgement.findings)
      ADD_FAILURE() << allowances << name_of(finding.kind) << " " << finding.depth_mm;
  }
}

// Material under keep_out was told as missed: it is left because the job says so.
TEST_F(SettleJob, OneAnswerToWhere) {
  const std::string inside = "keep_inside = [[-18, -15], [-6, -15], [-6, 15], [-18, 15]]\n";
  const std::string out = "keep_out = [[-14, -8], [-9, -8], [-9, 8], [-14, 8]]\n";
  const RunResult run = run_job(job("", operation("\"finish\"", inside + out)));
  const Settled& settled = run.operations[0];
  EXPECT_NEAR(settled.works_in.area_mm2(), 12 * 30 - 5 * 16, 1e-3);
  const Stock& stock = run.judged.judgement.stock;
  const Region middle = rectangle(Box2(Vec2(-12.5, -6), Vec2(-10.5, 6)));
  int cells = 0;
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      if (!middle.contains(stock.centre(column, row))) continue;
      ++cells;
      EXPECT_EQ(run.judged.why_left.why[stock.index(column, row)], LeftBecause::on_purpose);
    }
  EXPECT_GT(cells, 100);
  const Report report = make_report(run);
  EXPECT_NEAR(report.operations[0].left.area_mm2, settled.works_in.area_mm2(), 20) << "cells of 0.4 mm";
  EXPECT_LT(report.operations[0].left.p95_mm, 0.2) << "statistics do not count what it keeps out of";
}

// An operation that reached nothing vanished from screen, page and JSON, with its note.
TEST_F(SettleJob, AnOperationThatReachesNothingIsToldEverywhere) {
  const std::string nothing =
      operation("\"slot\"", "keep_inside = [[5, 5], [7, 5], [7, 7], [5, 7]]\nlimit = \"cutter\"\n");
  const RunResult run = run_job(
      job("", operation("\"first\"", kBesideTheWall) + nothing + operation("\"last\"", kBesideTheWall)));
  ASSERT_EQ(run.operations.size(), 3u);
  ASSERT_EQ(run.planned.size(), 3u);
  ASSERT_EQ(run.judged.program.operations.size(), 2u);
  EXPECT_EQ(run.judged.program.operations[1].number, 3);
  const Report report = make_report(run);
  ASSERT_EQ(report.operations.size(), 3u);
  EXPECT_FALSE(report.operations[1].has_moves());
  const auto json = nlohmann::json::parse(report_json(report));
  ASSERT_EQ(json["operations"].size(), 3u);
  EXPECT_EQ(json["operations"][1]["name"], "slot");
  EXPECT_EQ(json["operations"][1]["number"], 2);
  EXPECT_EQ(json["operations"][1]["points"], 0);
  EXPECT_EQ(json["operations"][1]["in_program"], false);
  EXPECT_TRUE(json["operations"][1]["least_clearance"].is_null());
  EXPECT_NE(json["operations"][1]["notes"][0].get<std::string>().find("nothing to cut"), std::string::npos);
  EXPECT_NE(report_html(report, {}).find("Operation 2 slot: nothing to cut"), std::string::npos);
  EXPECT_EQ(report.operations[2].planned, &run.planned[2]) << "figures of the operation they belong to";
  EXPECT_GT(json["operations"][2]["cut_length"].get<double>(), 10);
  // The same from a check, which knows of the operation only by the job.
  const JudgedProgram checked = judged(run.judged.program, run.setup);
  const std::vector<Settled> settled = settle(run.setup);
  EXPECT_EQ(make_report(run.setup, settled, checked).operations[1].name, "slot");
}

// What the file alone decides is refused before the part is looked at, all of it at once.
TEST_F(SettleJob, RefusalsOfTheFileComeBeforeThePart) {
  store(folder() / "plate.stl", "no mesh at all");
  const std::string text = message(
      "[stock2]\n", operation("\"wide\"", "stepover = 6\nramp_angle = 50\n", kRough) +
                        operation("\"deep\"", "allowance = -3\n") +
                        operation("\"rough deep\"",
                                  "allowance = -0.1\nlimit = \"contact\"\nkeep_out = \"stock\"\n", kRough) +
                        operation("\"upside\"", "top = 1\nbottom = 2\nbottom_of = 3\n") +
                        operation("\"measured\"", "bottom = { top_of = \"lid\" }\n"));
  for (const char* part :
       {"operation \"wide\": \"stepover\" is 6, but must be below the tool's diameter, 6",
        "operation \"wide\": \"ramp_angle\" is 50", "operation \"deep\": \"allowance\" is -3, an overcut",
        "operation \"rough deep\": \"allowance\" is -0.1, but must be at least 0",
        "operation \"rough deep\": \"limit\" by contact lets levels be cleared up to a radius beyond",
        "operation \"upside\": \"top\" is 1, but must be above \"bottom\", 2", "unknown key \"bottom_of\"",
        "operation \"measured\", \"bottom\": \"top_of\" names the region \"lid\", which is not defined",
        "unknown key \"stock2\""})
    EXPECT_NE(text.find(part), std::string::npos) << part << "\n" << text;
  EXPECT_EQ(text.find("plate.stl"), std::string::npos) << "the part was not read";
  EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), 8) << text;
}

TEST_F(SettleJob, RefusalsOfThePartComeForAllOperationsAtOnceBeforePlanning) {
  const std::string text =
      message("", operation("\"one\"", "keep_inside = [[100, 100], [110, 100], [110, 110]]\n") +
                      operation("\"three\"", "bottom = { z_at = [900, 0] }\n") +
                      operation("\"four\"", "stepover = { distance_between = [[0, 10], [9, 10]] }\n",
                                "strategy = \"roughing\"\ntool = \"flat6\"\n"));
  for (const char* part : {"operation \"one\": \"keep_inside\" meets neither part nor stock",
                           "operation \"three\": \"bottom\": there is no part at [900, 0]",
                           "operation \"four\": \"stepover\" is 9.00"})
    EXPECT_NE(text.find(part), std::string::npos) << part << "\n" << text;
  EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), 2) << text;
}

TEST_F(SettleJob, AJobMadeByAProgramIsHeldToTheSameRules) {
  Job made = job("", operation("\"finish\"", kBesideTheWall));
  made.operations[0].says.set("stepover", 1.5);
  EXPECT_EQ(settle(load_setup(made))[0].usual.spacing_mm, 1.5);
  made.operations[0].says.set("stepover", -1);
  made.operations[0].says.set("stepovr", 1);
  try {
    (void)settle(load_setup(made));
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("\"stepover\" is -1"), std::string::npos) << error.what();
    EXPECT_NE(std::string(error.what()).find("unknown key \"stepovr\""), std::string::npos) << error.what();
  }
}

TEST_F(SettleJob, AnyNumberMayBeMeasuredAndSaysSo) {
  const std::vector<Settled> settled = settle(
      load_setup(job("", operation("\"rough\"", "bottom = { z_at = [10, 10], plus = 0.5 }\n", kRough))));
  EXPECT_NEAR(*settled[0].values.limits.bottom_z, -0.25 + 0.5, 0.01);
  bool told = false;
  for (const SettledValue& value : settled[0].told)
    told |= value.key == "bottom" && value.source.find("measured: Z of the part") != std::string::npos;
  EXPECT_TRUE(told);
}

// A repeated roughing cut air; a strategy now sees the material that earlier operations leave.
TEST_F(SettleJob, TheStockBeforeTheOperationReachesTheStrategy) {
  class Spy : public Pattern {
   public:
    explicit Spy(std::vector<double>& seen) : seen_(seen) {}
    void keys(const Tool&, Keys&) override {}
    [[nodiscard]] Usual usual(const Tool&) const override { return {{0, ""}, {0.01, ""}}; }
    [[nodiscard]] CutPlan cuts(const Site& site, const Progress&) const override {
      seen_.push_back(site.before->volume_mm3());
      return plan_of({{{{-10, -10, 1}, {10, -10, 1}}}});
    }

   private:
    std::vector<double>& seen_;
  };
  std::vector<double> seen;
  const Spy spy(seen);
  const JobSetup setup = load_setup(job("", operation("\"a\"", "")));
  const std::vector<Settled> settled = settle(setup);
  const ToolSurface surface(setup.part, settled[0].tool);
  Stock stock = setup.new_stock();
  for (int k = 0; k < 2; ++k) {
    const BoundedCuts cuts =
        cuts_within(settled[0].bounds(), surface, &stock, 0.01,
                    [&](const Site& site, const Progress& p) { return spy.cuts(site, p); });
    stock = link_cuts(cuts.plan, surface, std::move(stock), settled[0].values.links).stock;
  }
  ASSERT_EQ(seen.size(), 2u);
  EXPECT_EQ(seen[0], setup.stock->volume_mm3());
  EXPECT_LT(seen[1], seen[0] - 10) << "a groove 20 long";
}

TEST_F(SettleJob, FindingsNameThePassThatMakesThem) {
  const RunResult clean =
      run_job(job("", operation("\"off\"", "active = false\n") + operation("\"finish\"", kBesideTheWall)));
  RunResult spoiled =
      run_job(job("", operation("\"off\"", "active = false\n") + operation("\"finish\"", kBesideTheWall)));
  // A cutting move of the ninth pass, deepened.
  std::size_t chosen = 0;
  const Toolpath& path = spoiled.planned[0].path;
  for (std::size_t i = 0; i < path.moves.size() && chosen == 0; ++i)
    if (path.pass_of(path.moves[i]) == 9 && path.moves[i].kind == MoveKind::cut) chosen = i;
  std::int32_t line = 0;
  for (std::size_t k = 0; k < spoiled.posted.origin.size(); ++k)
    if (spoiled.posted.origin[k].move == static_cast<std::int32_t>(chosen) &&
        spoiled.posted.origin[k].operation == 0)
      line = static_cast<std::int32_t>(k) + 1;
  ASSERT_GT(line, 0);
  Program program = spoiled.judged.program;
  for (std::size_t i = 0; i < program.moves.size(); ++i)
    if (program.moves[i].line == line) program.moves[i].to.z() -= 0.5, program.moves[i + 1].from.z() -= 0.5;
  spoiled.judged = judge_program(program, spoiled.setup, spoiled.operations);
  const Report report = make_report(spoiled);
  ASSERT_EQ(report.judged.judgement.findings.size(), 1u);
  const std::string words = finding_words(report, report.judged.judgement.findings[0]);
  EXPECT_NE(words.find("pass 9 of operation 2 \"finish\""), std::string::npos) << words;
  const auto json = nlohmann::json::parse(report_json(report));
  EXPECT_EQ(json["findings"][0]["pass"], 9);
  EXPECT_EQ(json["findings"][0]["operation"], "finish");
  EXPECT_EQ(json["findings"][0]["operation_number"], 2);
  EXPECT_TRUE(clean.judged.judgement.clean());
}

TEST_F(SettleJob, MovesOfNoOperationOfTheJobAreSaidNotToBeHeldToWhatOperationsState) {
  const RunResult run = run_job(job(kWall, operation("\"finish\"", kBesideTheWall)));
  std::string text = run.posted.text;
  text.replace(text.find("(operation 1"), 12, "(operation 9");
  const JobSetup setup =
      load_setup(job(kWall, operation("\"finish\"", kBesideTheWall + "keep_away = \"wall\"\n")));
  const std::vector<Settled> settled = settle(setup);
  const JudgedProgram strange = judge_program(read_program(text, "x.nc"), setup, settled);
  const Report report = make_report(setup, settled, strange);
  ASSERT_EQ(report.operations.size(), 2u) << "the strange one, and the one that the program lacks";
  ASSERT_EQ(report.not_judged.size(), 1u);
  EXPECT_NE(report.not_judged[0].find("operation 9"), std::string::npos) << report.not_judged[0];
}

TEST_F(SettleJob, GuidesAreIndexedWithProgressAndCanBeStopped) {
  const std::string lid = "[lids.hole]\nholes_of = \"face\"\nwidest = 15\n";
  const Job given = job(lid, operation("\"one\"", kBesideTheWall + "lids = \"hole\"\n") +
                                 operation("\"two\"", kBesideTheWall + "lids = \"hole\"\n") +
                                 operation("\"three\"", kBesideTheWall));
  std::vector<std::string> stages;
  (void)run_job(given, [&](const std::string& stage, double) {
    if (stages.empty() || stages.back() != stage) stages.push_back(stage);
    return true;
  });
  EXPECT_EQ(std::count(stages.begin(), stages.end(), "index what guides one"), 1);
  EXPECT_EQ(std::count(stages.begin(), stages.end(), "index what guides two"), 0) << "indexed once for both";
  EXPECT_EQ(std::count(stages.begin(), stages.end(), "index what guides three"), 0) << "the part itself";
  EXPECT_THROW(
      (void)run_job(given, [](const std::string& stage, double) { return stage != "index what guides one"; }),
      Stopped);
}

}  // namespace
}  // namespace yardpass
