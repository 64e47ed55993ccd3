// Plan, look, change one value, look again: what the command line says of it, and what it must not release.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "app/bowl_folder.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)
#define EXPECT_LACKS(text, part) EXPECT_EQ((text).find(part), std::string::npos) << (text)

class DailyLoop : public testing::BowlFolder {
 protected:
  nlohmann::json report_of(const std::string& name) {
    return nlohmann::json::parse(contents(folder() / name / "report.json"));
  }
  bool there(const std::string& file) { return fs::exists(folder() / file); }
  /// All files of a folder with what they hold.
  std::map<std::string, std::string> all_of(const std::string& name) {
    std::map<std::string, std::string> files;
    for (const auto& entry : fs::directory_iterator(folder() / name))
      files[entry.path().filename().string()] = contents(entry.path());
    return files;
  }
};

TEST_F(DailyLoop, ASecondRunTakesOverAndWritesTheSameBytes) {
  ASSERT_EQ(run("run job.toml --out result").code, 0);
  const auto first = all_of("result");
  const Result again = run("run job.toml --out result");
  EXPECT_EQ(again.code, 0);
  EXPECT_HAS(again.out, "taken over: operation 1 \"rough\"");
  EXPECT_HAS(again.out, "taken over: operation 2 \"finish\"");
  EXPECT_HAS(again.out, "verdict: clean");
  EXPECT_HAS(again.out, "changed since the run before: nothing");
  EXPECT_EQ(all_of("result"), first);
  const Result afresh = run("run job.toml --out result --afresh");
  EXPECT_LACKS(afresh.out, "taken over");
  EXPECT_EQ(all_of("result"), first);
  // Only what comes after the change is planned again.
  const Result changed = run("run " + spoiled_job("stepover = 0.8", "stepover = 0.9") + " --out result");
  EXPECT_HAS(changed.out, "taken over: operation 1 \"rough\"");
  EXPECT_HAS(changed.out, "estimate: operation 2 \"finish\"");
  EXPECT_HAS(changed.out, "changed since the run before: operation 2 \"finish\": time ");
  EXPECT_LACKS(changed.out, "changed since the run before: operation 1");
  EXPECT_HAS(changed.out, "changed since the run before: whole program");
  ASSERT_EQ(run("run spoiled.toml --out fresh").code, 0);
  EXPECT_EQ(all_of("result"), all_of("fresh"));
}

TEST_F(DailyLoop, DamagedToolpathsAreSaidAndPlannedAgain) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  const auto first = all_of("result");
  store(folder() / "result" / "toolpaths.kept", "yardpass toolpaths, kept 1\nnonsense");
  const Result again = run("run job.toml --out result");
  EXPECT_EQ(again.code, 0);
  EXPECT_HAS(again.error, "not taken over: they are damaged");
  EXPECT_EQ(all_of("result"), first);
}

TEST_F(DailyLoop, OnlyAPlanTellsTimesAndReleasesNothing) {
  const Result plan = run("run job.toml --out result --only-plan");
  EXPECT_EQ(plan.code, 3);
  EXPECT_HAS(plan.out, "whole program");
  EXPECT_HAS(plan.out, "feed that takes nothing");
  EXPECT_HAS(plan.out, "NOT JUDGED, NOT FOR CUTTING: no program is released");
  EXPECT_LACKS(plan.out, "verdict: clean");
  EXPECT_LACKS(plan.out, "missed");
  for (const char* file : {"program.nc", "quick-look.txt", "left.png", "why-left.png"})
    EXPECT_FALSE(there(std::string("result/") + file)) << file;
  EXPECT_TRUE(there("result/path-1.png"));
  EXPECT_HAS(contents(folder() / "result" / "report.html"), "NOT JUDGED, NOT FOR CUTTING");
  const auto planned = report_of("result");
  EXPECT_EQ(planned["verdict"], "not judged");
  EXPECT_EQ(planned["judged"], false);
  EXPECT_TRUE(planned["left"].is_null());
  EXPECT_TRUE(planned["operations"][1]["least_clearance"].is_null());
  // The run that follows takes the paths over; its times are the ones told before.
  const Result whole = run("run job.toml --out result");
  EXPECT_EQ(whole.code, 0);
  EXPECT_HAS(whole.out, "taken over: operation 2 \"finish\"");
  EXPECT_TRUE(there("result/program.nc"));
  const auto judged = report_of("result");
  for (std::size_t k = 0; k < 2; ++k)
    for (const char* key :
         {"seconds", "feed_length", "rapid_length", "retracts", "air_feed_length", "points"})
      EXPECT_EQ(planned["operations"][k][key], judged["operations"][k][key]) << key;
  // And back: what was released is gone, not stale beside a plan.
  EXPECT_EQ(run("run job.toml --out result --only-plan --quiet").code, 3);
  EXPECT_FALSE(there("result/program.nc"));
}

TEST_F(DailyLoop, AQuickLookCannotPassForARelease) {
  const Result look = run("run job.toml --out result --quick");
  EXPECT_EQ(look.code, 3);
  EXPECT_HAS(look.out, "QUICK LOOK, NOT FOR CUTTING: no program is released");
  EXPECT_HAS(look.out, "made coarser than 0.8 for a quick look");
  EXPECT_HAS(look.out, "6 times as wide for a quick look");
  EXPECT_LACKS(look.out, "verdict: clean");
  EXPECT_FALSE(there("result/program.nc"));
  EXPECT_HAS(contents(folder() / "result" / "quick-look.txt").substr(0, 40), "QUICK LOOK, NOT FOR CUTTING");
  EXPECT_HAS(contents(folder() / "result" / "report.html"), "QUICK LOOK, NOT FOR CUTTING");
  EXPECT_EQ(report_of("result")["verdict"], "quick look");
  EXPECT_EQ(report_of("result")["quick_look"], true);
  // A stock of it is none that a job could start from.
  EXPECT_EQ(run("run job.toml --out saved --quick --save-stock").code, 2);
  EXPECT_FALSE(there("saved"));
  // Not even for us.
  EXPECT_EQ(run("check result/quick-look.txt --job job.toml").code, 2);
  // Nothing of it is taken over by a run that counts.
  const Result whole = run("run job.toml --out result");
  EXPECT_EQ(whole.code, 0);
  EXPECT_LACKS(whole.out, "taken over");
  EXPECT_FALSE(there("result/quick-look.txt"));
}

TEST_F(DailyLoop, CompareTellsTimesFirstAndThenWhatIsLeft) {
  const Result result = run("compare job.toml --operation finish --try stepover=0.3,0.4 --quick --out try");
  EXPECT_EQ(result.code, 0) << result.error;
  const std::size_t times = result.out.find("stepover = 0.3"), judged = result.out.find("judged, each up to");
  ASSERT_NE(judged, std::string::npos) << result.out;
  EXPECT_LT(times, judged) << "before anything is judged";
  EXPECT_HAS(result.out.substr(judged), "ridges measured, mm");
  EXPECT_HAS(result.out, "QUICK LOOK, NOT FOR CUTTING");
  EXPECT_TRUE(there("try/compare.png") && there("try/compare.json"));
  EXPECT_FALSE(there("try/program.nc"));
  // Into the same folder again.
  EXPECT_EQ(
      run("compare job.toml --operation 2 --with rough --quick --only-plan --pictures svg --out try").code,
      0);
  EXPECT_TRUE(there("try/compare.svg") && !there("try/compare.png"));
  EXPECT_HAS(run("compare job.toml --operation finish --try stepover=1.6,1.7 --quick --only-plan").out,
             "note: \"stepover = 1.6\" and \"stepover = 1.7\" have the same path");
  EXPECT_LACKS(result.out, "have the same path");
  const Result angles = run("compare job.toml --operation finish --angles --quick");
  EXPECT_HAS(angles.out, "angle = 165");
  EXPECT_HAS(angles.out, "least time: angle = ");
}

TEST_F(DailyLoop, CompareSaysWhatIsWrong) {
  const auto error = [&](const std::string& words) {
    const Result result = run("compare job.toml " + words);
    EXPECT_EQ(result.code, 2) << words;
    return result.error;
  };
  EXPECT_HAS(error("--operation finish"), "needs one of --try");
  EXPECT_HAS(error("--operation finnish --angles"), "there are: 1 \"rough\", 2 \"finish\"");
  EXPECT_HAS(error("--operation finish --try stepover"), "must be KEY=VALUE");
  EXPECT_HAS(error("--operation finish --try stepover=0.2,,0.3"), "a value is missing");
  EXPECT_HAS(error("--operation finish --try stepvoer=0.2"), "did you mean \"stepover\"");
  EXPECT_HAS(error("--operation finish --try stepover=wide"), "a share of the tool");
  EXPECT_LACKS(error("--operation finish --try stepover=-1"), "toml:0") << "a line that is not there";
  EXPECT_HAS(error("--operation rough --angles"), "\"angle\" (given) changes nothing");
  EXPECT_HAS(error("--operation finish --with finish"), "with itself");
}

TEST_F(DailyLoop, NewWritesAJobThatRuns) {
  const Result made = run("new bowl.stl");
  EXPECT_EQ(made.code, 0) << made.error;
  EXPECT_HAS(made.out, "written to bowl.toml");
  EXPECT_HAS(contents(folder() / "bowl.toml"), "mesh = \"bowl.stl\"");
  const Result plan = run("run bowl.toml --out result --quick --only-plan --quiet");
  EXPECT_EQ(plan.code, 3) << plan.error;
  // What is there is never written over.
  const std::string before = contents(folder() / "bowl.toml");
  const Result again = run("new bowl.stl --unit inch");
  EXPECT_EQ(again.code, 2);
  EXPECT_HAS(again.error, "is there already");
  EXPECT_EQ(contents(folder() / "bowl.toml"), before);
  fs::create_directory(folder() / "jobs");
  EXPECT_EQ(run("new bowl.stl --out jobs/other.toml --rack job.toml --quiet").code, 0);
  EXPECT_HAS(contents(folder() / "jobs" / "other.toml"), "mesh = \"../bowl.stl\"");
  EXPECT_HAS(contents(folder() / "jobs" / "other.toml"), "[tools.flat8]");
  EXPECT_HAS(run("new nothing.stl").error, "there is no such file");
  EXPECT_HAS(run("new bowl.stl --out x.toml --rack nothing.toml").error, "cannot be opened");
  EXPECT_FALSE(there("x.toml"));
}

}  // namespace
}  // namespace yardpass
