// What a planned job shows that would save time, and how far a run is.
#include <gtest/gtest.h>

#include "support/plate.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class Hindsight : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "plate.stl", testing::plate(), "plate"); }
  RunResult run(const std::string& operations, const RunSteps& steps = {.only_plan = true}) {
    store(folder() / "job.toml", testing::kPlateJob + operations);
    return run_job(read_job(folder() / "job.toml"), steps);
  }
  static std::string pass(const std::string& name, const std::string& keys) {
    return "[[operation]]\nname = \"" + name +
           "\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1\n" + keys;
  }
  /// Words of the notes about a thing, of one operation.
  static std::string note(const RunResult& run, std::size_t operation, const std::string& about) {
    for (const Note& one : run.hindsight[operation])
      if (one.about == about) return Telling().words(one);
    return "";
  }
};

TEST_F(Hindsight, TellsPassesOverWhatIsDone) {
  const RunResult twice = run(pass("first", "keep_inside = \"face\"\n") + pass("again", "angle = 90\n"));
  EXPECT_EQ(note(twice, 0, "over what is done"), "");
  const std::string words = note(twice, 1, "over what is done");
  EXPECT_NE(words.find("by operation 1 \"first\""), std::string::npos) << words;
  EXPECT_NE(words.find("keep_out = \"face\""), std::string::npos) << words;
  const RunResult rest = run(pass("first", "") + pass("again", "angle = 90\nonly_where_left = 0.02\n"));
  EXPECT_EQ(note(rest, 1, "over what is done"), "");
}

TEST_F(Hindsight, TellsRetractsThatStayingDownWouldSave) {
  const std::string high =
      "direction = \"one-way\"\nlink_distance = 0\nhop_distance = 0\nlift_distance = 0\n"
      "keep_inside = [[-18, -14], [-15, -14], [-15, 14], [-18, 14]]\n";
  // A slow spindle head makes much of the way up.
  const RunResult air = run("[machine]\nrapid_feed = 1500\ntool_change_time = 0\n" + pass("a", high));
  ASSERT_GT(air.judged.judgement.operations[0].time.retract_s,
            0.1 * air.judged.judgement.operations[0].time.all_s());
  const std::string words = note(air, 0, "retracts");
  EXPECT_NE(words.find("by the clearance plane"), std::string::npos) << words;
  const RunResult down = run(pass("a", ""));
  EXPECT_EQ(note(down, 0, "retracts"), "");
  // They stand among the notes that people read.
  const Report report = make_report(air);
  const auto notes = notes_of(report.operations[0], report.telling);
  EXPECT_NE(std::find(notes.begin(), notes.end(), words), notes.end());
}

TEST_F(Hindsight, TellsOpeningsThatALidWouldClose) {
  Job job = read_job(std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "demo" / "paddle-blade.toml");
  job.coarser = {.spacing = 8, .tolerance = 10, .cells = 6};
  OperationJob face = job.operations[2];
  face.strategy = "parallel";
  face.says = GivenTable();
  face.says.set("keep_inside", "parting face");
  job.operations = {face};
  const RunResult without = run_job(job, {.only_plan = true});
  const std::string words = note(without, 0, "openings");
  EXPECT_NE(words.find("holes_of = \"parting face\""), std::string::npos) << words;
  job.operations[0].says.set("lids", "dowel holes");
  EXPECT_EQ(note(run_job(job, {.only_plan = true}), 0, "openings"), "");
}

TEST_F(Hindsight, ProgressOverAllStagesOnlyGrows) {
  std::vector<WholeProgress> told;
  RunSteps steps;
  steps.progress = [](const std::string&, double) { return true; };
  steps.whole = [&](const WholeProgress& now) { told.push_back(now); };
  (void)run(pass("a", "") + pass("b", "angle = 90\nlayers = 2\n"), steps);
  ASSERT_GT(told.size(), 20u);
  // Two a layer, judging, explaining, writing.
  EXPECT_EQ(told[0].stages, 9);
  for (std::size_t i = 1; i < told.size(); ++i) {
    EXPECT_GE(told[i].share, told[i - 1].share);
    EXPECT_GE(told[i].stage, told[i - 1].stage);
    EXPECT_LE(told[i].share, 1);
  }
  EXPECT_LT(told[0].share, 0.1);
  EXPECT_GT(told.back().share, 0.5);
  ASSERT_TRUE(told.back().to_go_s.has_value());
  EXPECT_GE(*told.back().to_go_s, 0);
}

}  // namespace
}  // namespace yardpass
