// The job file: what it says is understood, and each mistake is named with line, place and what would be
// valid.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/job/job_file.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

const char* const kGood = R"(title = "bowl"
units = "mm"
[part]
mesh = "bowl.stl"
[stock]
margin = [2, 3]
above = 1.5
cell = 0.25
[machine]
work_offset = "G55"
rapid_plane = 7
[tools.ball6]
number = 3
shape = "ball"
diameter = 6.0
spindle = 12000
feed = 1800
[[operation]]
name = "finish"
strategy = "parallel"
tool = "ball6"
stepover = 1.0
keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]
)";

class JobFile : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.05), "bowl"); }
  Job read(const std::string& text) {
    store(folder() / "job.toml", text);
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& text) {
    try {
      (void)read(text);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
  /// kGood with one line replaced.
  static std::string with(const std::string& old, const std::string& now) {
    std::string text = kGood;
    const std::size_t at = text.find(old);
    EXPECT_NE(at, std::string::npos);
    return text.replace(at, old.size(), now);
  }
};

TEST_F(JobFile, SaysWhatItSays) {
  const Job job = read(kGood);
  EXPECT_EQ(job.title, "bowl");
  EXPECT_EQ(job.stock.margin_mm, Vec2(2, 3));
  EXPECT_EQ(job.stock.above_mm, 1.5);
  EXPECT_EQ(job.stock.cell_mm, 0.25);
  EXPECT_EQ(job.machine.controller.work_offset, "G55");
  ASSERT_EQ(job.tools.size(), 1u);
  EXPECT_EQ(job.tools[0].plunge_feed_mm_min, 600);
  ASSERT_EQ(job.operations.size(), 1u);
  EXPECT_EQ(job.operations[0].number, 1);
  EXPECT_EQ(job.operations[0].says.get("stepover")->number(), 1.0);
  EXPECT_FALSE(job.operations[0].says.contains("allowance"));
  EXPECT_EQ(job.operations[0].line_of("keep_inside"), 23);
}

struct Mistake {
  const char* old;
  const char* now;
  const char* line;
  const char* says;
};

TEST_F(JobFile, NamesEachMistakeWithItsLine) {
  const Mistake mistakes[] = {
      {"stepover = 1.0", "stepovr = 1.0", ":22:", "unknown key \"stepovr\" (did you mean \"stepover\"?)"},
      {"stepover = 1.0", "stepover = -1.0", ":22:", "\"stepover\" is -1, but must be above 0"},
      {"stepover = 1.0", "stepover = \"1\"", ":22:", "a share of the tool is \"8 %\" of its diameter"},
      {"stepover = 1.0", "stepover = nan", ":22:", "\"stepover\""},
      {"stepover = 1.0", "allowance = -101", ":22:", "at least -100"},
      {"stepover = 1.0", "stepdown = 1.0", ":22:", "\"stepdown\" belongs to roughing"},
      {"stepover = 1.0", "active = 1", ":22:", "true or false"},
      {"stepover = 1.0", "stepover = 1.0\nscallop_height = 0.01", ":23:", "each give the other"},
      {"tool = \"ball6\"", "tool = \"ball8\"",
       ":21:", "names \"ball8\", which is not defined (did you mean \"ball6\"?); there are: ball6"},
      {"strategy = \"parallel\"", "strategy = \"paralel\"",
       ":20:", "did you mean \"parallel\"?); valid: roughing, parallel"},
      {"name = \"finish\"\n", "", ":18:", "\"name\" is missing"},
      {"keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]", "keep_inside = [[1, 1], [2, 2]]",
       ":23:", "at least three"},
      {"keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]", "keep_inside = \"rim\"",
       ":23:", "which is not defined; there are: none"},
      {"keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]", "keep_inside = [[0, 0], [1, 1], [2, 2]]",
       ":23:", "no area"},
      {"keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]", "keep_inside = [[0, 0], [1], [2, 2]]",
       ":23:", "no point"},
      {"shape = \"ball\"", "shape = \"bal\"", ":14:", "did you mean \"ball\"?"},
      {"shape = \"ball\"", "shape = \"bull\"", ":12:", "\"corner_radius\" is missing"},
      {"shape = \"ball\"", "shape = \"ball\"\ncorner_radius = 1", ":15:", "does not belong to a ball tool"},
      {"diameter = 6.0", "diameter = 0", ":15:", "above 0"},
      {"number = 3", "number = 0", ":13:", "whole number from 1"},
      {"feed = 1800\n", "", ":12:", "\"feed\" is missing"},
      {"feed = 1800", "feed = 1800\nflute_length = 50\nstickout = 20", ":18:", "longer than the stick-out"},
      {"units = \"mm\"", "units = \"furlong\"", ":2:", "valid: mm, inch"},
      {"mesh = \"bowl.stl\"", "mesh = \"bowel.stl\"", ":4:", "does not exist"},
      {"margin = [2, 3]", "margin = [2]", ":6:", "must be [x, y]"},
      {"[stock]", "[stok]", ":5:", "did you mean \"stock\"?"},
      {"work_offset = \"G55\"", "work_offset = \"G60\"", ":10:", "valid: G54, G55"},
      {"title = \"bowl\"", "title = ", ":1:", ""},
  };
  for (const Mistake& m : mistakes) {
    const std::string text = message(with(m.old, m.now));
    EXPECT_NE(text.find(std::string("job.toml") + m.line), std::string::npos) << m.now << " -> " << text;
    EXPECT_NE(text.find(m.says), std::string::npos) << m.now << " -> " << text;
    EXPECT_EQ(text.find('\n'), std::string::npos) << "one mistake, one line: " << text;
  }
}

TEST_F(JobFile, NamesAllMistakesAtOnce) {
  std::string text = with("stepover = 1.0", "stepovr = 1.0");
  text.replace(text.find("diameter = 6.0"), 14, "diameter = -6");
  text.replace(text.find("above = 1.5"), 11, "above = \"no\"");
  const std::string what = message(text);
  EXPECT_EQ(std::count(what.begin(), what.end(), '\n'), 2) << what;
  EXPECT_LT(what.find("above"), what.find("diameter"));
  EXPECT_LT(what.find("diameter"), what.find("stepovr"));
}

TEST_F(JobFile, RunsAndTellsWhereValuesComeFrom) {
  const Job job = read(kGood);
  const RunResult result = run_job(job);
  EXPECT_TRUE(result.judged.judgement.clean());
  ASSERT_EQ(result.operations.size(), 1u);
  const auto source = [&](const std::string& key) {
    for (const SettledValue& value : result.operations[0].told)
      if (value.key == key) return value.source;
    return std::string("not told");
  };
  EXPECT_EQ(source("stepover"), "line 22");
  EXPECT_EQ(source("keep_inside"), "line 23");
  EXPECT_EQ(source("allowance"), "default: finish to size");
  EXPECT_EQ(source("tolerance"), "default: 0.01 mm");
  EXPECT_NE(result.posted.text.find("G55"), std::string::npos);
  EXPECT_EQ(result.setup.plane_z, 8.5);
}

TEST_F(JobFile, ABoundaryBesidePartAndStockIsRefusedBeforePlanning) {
  const Job job =
      read(with("[[-15, -15], [15, -15], [15, 15], [-15, 15]]", "[[150, 150], [160, 150], [160, 160]]"));
  try {
    (void)run_job(job);
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what())
                  .find("job.toml:23: operation \"finish\": \"keep_inside\" meets neither part nor stock"),
              std::string::npos)
        << error.what();
  }
}

TEST_F(JobFile, AnInactiveOperationAffectsNothing) {
  const std::string second =
      "[[operation]]\nname = \"off\"\nstrategy = \"roughing\"\ntool = \"ball6\"\nactive = false\n";
  const RunResult without = run_job(read(kGood)), with_it = run_job(read(kGood + second));
  EXPECT_EQ(without.posted.text, with_it.posted.text);
  EXPECT_EQ(with_it.operations.size(), 1u);
  EXPECT_NE(message(with("stepover = 1.0", "active = false")).find("no operation is active"),
            std::string::npos);
}

TEST_F(JobFile, WallAndFloorAllowancesApart) {
  const std::string text = with("stepover = 1.0", "wall_allowance = 0.5\nfloor_allowance = 0.1");
  const RunResult result = run_job(read(text));
  EXPECT_TRUE(result.judged.judgement.clean());
  // The bowl's slopes reach 22 degrees here: floor 0.1 plus up to 0.4 sin.
  EXPECT_GT(result.judged.judgement.operations[0].least_clearance_mm, 0.099);
  EXPECT_LT(result.judged.judgement.operations[0].least_clearance_mm, 0.11);
}

TEST_F(JobFile, FreeProfilesAreTools) {
  std::string text = with("shape = \"ball\"", "shape = \"profile\"\noutline = [[2, 0.2], [3, 1.5, 2.5]]");
  EXPECT_EQ(message(text), "accepted");
  EXPECT_TRUE(run_job(read(text)).judged.judgement.clean());
  text.replace(text.find("[2, 0.2]"), 8, "[2, 2.0]");
  EXPECT_NE(message(text).find("tool \"ball6\": outline point 2"), std::string::npos) << message(text);
}

TEST_F(JobFile, AWideStepoverIsRefusedForRoughing) {
  const std::string text = message(with("strategy = \"parallel\"\ntool = \"ball6\"\nstepover = 1.0",
                                        "strategy = \"roughing\"\ntool = \"ball6\"\nstepover = 6.5"));
  EXPECT_NE(
      text.find(":22: operation \"finish\": \"stepover\" is 6.5, but must be below the tool's diameter, 6"),
      std::string::npos)
      << text;
}

}  // namespace
}  // namespace yardpass
