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
  EXPECT_EQ(all_of("result"), first);
  const Result afresh = run("run job.toml --out result --afresh");
  EXPECT_LACKS(afresh.out, "taken over");
  EXPECT_EQ(all_of("result"), first);
  // Only what comes after the change is planned again.
  const Result changed = run("run " + spoiled_job("stepover = 0.8", "stepover = 0.9") + " --out result");
  EXPECT_HAS(changed.out, "taken over: operation 1 \"rough\"");
  EXPECT_HAS(changed.out, "estimate: operation 2 \"finish\"");
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
  EXPECT_HAS(look.out, "4 times as wide for a quick look");
  EXPECT_FALSE(there("result/program.nc"));
  EXPECT_HAS(contents(folder() / "result" / "quick-look.txt").substr(0, 40), "QUICK LOOK, NOT FOR CUTTING");
  EXPECT_HAS(contents(folder() / "result" / "report.html"), "QUICK LOOK, NOT FOR CUTTING");
  EXPECT_EQ(report_of("result")["verdict"], "quick look");
  EXPECT_EQ(report_of("result")["quick_look"], true);
  // Not even for us.
  EXPECT_EQ(run("check result/quick-look.txt --job job.toml").code, 2);
  // Nothing of it is taken over by a run that counts.
  const Result whole = run("run job.toml --out result");
  EXPECT_EQ(whole.code, 0);
  EXPECT_LACKS(whole.out, "taken over");
  EXPECT_FALSE(there("result/quick-look.txt"));
}

}  // namespace
}  // namespace yardpass
