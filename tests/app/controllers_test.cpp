// Smooth programs for several controls, and programs of others, by the command line.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "app/bowl_folder.h"
#include "post/strict_reader.h"
#include "yardpass/post/read_program.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

class Controllers : public testing::BowlFolder {
 protected:
  /// The job with smooth finishing for the control of this file.
  void store_job(const std::string& control) {
    std::string text = kJobText;
    text.replace(text.find("[stock]"), 7, "[machine]\ncontroller = \"control.toml\"\n[stock]\ncell = 0.5");
    text.replace(text.find("stepover = 0.8"), 14, "stepover = 3");
    text.replace(text.find("strategy = \"roughing\""), 21, "strategy = \"roughing\"\nstepdown = 6");
    store(folder() / "job.toml", text + "smooth = true\n");
    store(folder() / "control.toml", control);
  }
  const std::string kJobText = testing::kJob;
};

TEST_F(Controllers, EachThatShipsGivesACleanProgramThatTheStandardKnows) {
  for (const char* name : {"slipway", "chandlery-inch", "old-shed"}) {
    SCOPED_TRACE(name);
    store_job(contents(fs::path(YARDPASS_SOURCE_FOLDER "/demo/controls") / (std::string(name) + ".toml")));
    const Result result = run("run job.toml --out result");
    ASSERT_EQ(result.code, 0) << result.error;
    EXPECT_HAS(result.out, "verdict: clean");
    EXPECT_HAS(result.out, "blocks  ");
    EXPECT_HAS(result.out, "turn, most");
    const std::string program = contents(folder() / "result" / "program.nc");
    EXPECT_NO_THROW((void)testing::StrictReader().run(program));
    const bool no_arcs = std::string(name) == "old-shed";
    EXPECT_EQ(program.find("G2 ") == std::string::npos && program.find("G3 ") == std::string::npos, no_arcs);
    EXPECT_EQ(program.find("G20") != std::string::npos, std::string(name) == "chandlery-inch");
    EXPECT_EQ(fs::exists(folder() / "result" / "program-2.nc"), no_arcs) << "a file for each tool";
    // As anybody would check it.
    const Result check = run("check result/program.nc --job job.toml");
    EXPECT_EQ(check.code, 0) << check.error << check.out;
    // Toolpaths are kept with their arcs.
    const Result again = run("run job.toml --out result");
    EXPECT_HAS(again.out, "taken over: operation 2");
    EXPECT_EQ(contents(folder() / "result" / "program.nc"), program);
  }
  // Another way of saying arcs is another path.
  const Result changed = run("run job.toml --out result");
  EXPECT_HAS(changed.out, "taken over: operation 2");
  store(folder() / "control.toml", "arcs_by = \"radius\"\n");
  EXPECT_EQ(run("run job.toml --out result").out.find("taken over"), std::string::npos);
}

TEST_F(Controllers, ASlowSpindleAndWrongSmoothingAreToldBeforeAnythingIsPlanned) {
  store_job("spindle_to = 10000\n");
  const Result slow = run("run job.toml --out result");
  EXPECT_EQ(slow.code, 2);
  EXPECT_HAS(slow.error, "ball6");
  EXPECT_HAS(slow.error, "10000");
  store_job("");
  std::string text = contents(folder() / "job.toml");
  store(folder() / "job.toml", text + "smooth_within = 0.004\n");
  const Result narrow = run("run job.toml --out result");
  EXPECT_EQ(narrow.code, 2);
  EXPECT_HAS(narrow.error, "smooth_within");
  EXPECT_HAS(narrow.error, "at least the tolerance");
  expect_no_folder("result");
}

TEST_F(Controllers, ProgramsOfOthersAreJudged) {
  const std::string head = "%\nO12\nG0 G17 G21 G40 G49 G80 G90\n";
  const std::string cut =
      "T2 M6\nS12000 M3\nG54 G0 X-10. Y0.\nG43 H2 Z30.\nM1\nG98 G81 X-10. Y0. Z-5. R5. F500.\nX10.\nG80\n/G0 "
      "Z25.\nM5\nG91 G28 Z0.\n";
  store(folder() / "other.nc", head + cut + "M30\n%\n");
  const Result judged = run("check other.nc --job job.toml");
  EXPECT_HAS(judged.out, "marked to be skipped (/)");
  EXPECT_TRUE(judged.code == 0 || judged.code == 1) << judged.error;
  EXPECT_TRUE(run("check other.nc --job job.toml --skip-marked").code <= 1);
  // Each wrong tool at its own line, all of them.
  store(folder() / "tools.nc", head + "T7 M6\nT9 M6\n" + cut + "M30\n%\n");
  const Result tools = run("check tools.nc --job job.toml");
  EXPECT_EQ(tools.code, 2);
  EXPECT_EQ(tools.out, "");
  EXPECT_HAS(tools.error, "tools.nc:4: the program changes to T7");
  EXPECT_HAS(tools.error, "tools.nc:5: the program changes to T9");
  EXPECT_HAS(tools.error, "T2 ball6");
  store(folder() / "macro.nc", head + cut + "#3=1\nG68 R45\nM30\n%\n");
  const Result macro = run("check macro.nc --job job.toml");
  EXPECT_EQ(macro.code, 2);
  EXPECT_HAS(macro.error, "macro.nc:15: \"#\"");
  EXPECT_HAS(macro.error, "macro.nc:16: G68");
}

}  // namespace
}  // namespace yardpass
