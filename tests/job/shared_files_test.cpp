// Files that jobs share: a rack of tools with cutting data, a control.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/scratch.h"
#include "yardpass/job/job_file.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {
namespace {

const char* const kRack = R"([tools.ball6]
number = 3
shape = "ball"
diameter = 6.0
spindle = 12000
feed = 1800
[[tools.ball6.materials]]
material = "steel"
spindle = 8000
feed = 1200
plunge_feed = 300
spindle_range = [7000, 9000]
feed_range = [800, 1500]
[[tools.ball6.materials]]
material = "resin"
feed = 4000
[tools.ball10]
number = 4
shape = "ball"
diameter = 10.0
spindle = 9000
feed = 1500
)";

class SharedFiles : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.05), "bowl");
    store(folder() / "rack.toml", kRack);
  }
  Job read(const std::string& material, const std::string& tools = "", const std::string& machine = "") {
    store(folder() / "job.toml",
          "title = \"t\"\nrack = \"rack.toml\"\n[part]\nmesh = \"bowl.stl\"\n[stock]\n" +
              (material.empty() ? "" : "material = \"" + material + "\"\n") + "[machine]\n" + machine +
              tools + "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball6\"\n");
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& material, const std::string& tools = "",
                      const std::string& machine = "") {
    try {
      (void)read(material, tools, machine);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
  static bool noted(const Job& job, const std::string& words) {
    return std::any_of(job.notes.begin(), job.notes.end(),
                       [&](const Note& note) { return note.says.find(words) != std::string::npos; });
  }
};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(SharedFiles, OfTheRackTheJobTakesWhatItNames) {
  const Job job = read("");
  ASSERT_EQ(job.tools.size(), 1u);
  EXPECT_EQ(job.tools[0].name, "ball6");
  EXPECT_EQ(job.tools[0].number, 3);
  EXPECT_EQ(job.tools[0].feed_mm_min, 1800);
  EXPECT_TRUE(job.notes.empty()) << "nothing of a rack is unused";
  const auto told = std::find_if(job.told.begin(), job.told.end(),
                                 [](const TableValues& table) { return table.table == "tool ball6"; });
  ASSERT_NE(told, job.told.end());
  EXPECT_HAS(told->values.at(0).source, "rack.toml, line");
}

TEST_F(SharedFiles, TheMaterialDecidesUnlessTheJobSaysIt) {
  Job job = read("steel");
  EXPECT_EQ(job.tools[0].spindle_rpm, 8000);
  EXPECT_EQ(job.tools[0].feed_mm_min, 1200);
  EXPECT_EQ(job.tools[0].plunge_feed_mm_min, 300);
  EXPECT_TRUE(job.notes.empty());
  job = read("resin");
  EXPECT_EQ(job.tools[0].spindle_rpm, 12000) << "what the material does not say is the tool's";
  EXPECT_EQ(job.tools[0].feed_mm_min, 4000);
  job = read("steel", "[tools.ball6]\nspindle = 9500\nstickout = 33\n");
  EXPECT_EQ(job.tools[0].spindle_rpm, 9500);
  EXPECT_EQ(job.tools[0].feed_mm_min, 1200);
  EXPECT_EQ(job.tools[0].stickout_mm, 33);
  EXPECT_EQ(job.tools[0].number, 3);
  EXPECT_TRUE(noted(job, "for steel it is to turn at 7000 to 9000"));
  job = read("steel", "[tools.ball6]\nfeed = 700\n");
  EXPECT_TRUE(noted(job, "is fed at"));
  job = read("bronze");
  EXPECT_EQ(job.tools[0].feed_mm_min, 1800);
  EXPECT_TRUE(noted(job, "no cutting data for bronze"));
}

TEST_F(SharedFiles, MistakesAreToldAtTheirFileAndLine) {
  EXPECT_HAS(message("", "", "controller = \"none.toml\"\n"), "none.toml");
  store(folder() / "rack.toml",
        "[tools.ball6]\nnumber = 3\nshape = \"bal\"\ndiameter = 6\nspindle = 1\nfeed = 1\n");
  std::string what = message("");
  EXPECT_HAS(what, "rack.toml:3: tool \"ball6\": \"shape\"");
  EXPECT_EQ(std::count(what.begin(), what.end(), '\n'), 0) << what;
  store(folder() / "rack.toml", "units = \"inch\"\n" + std::string(kRack));
  EXPECT_HAS(message(""), "rack.toml:1: rack: its numbers are in inch");
  store(folder() / "rack.toml", "# nothing\n");
  EXPECT_HAS(message(""), "at least one [tools.NAME]");
  std::string bad = kRack;
  bad.replace(bad.find("[7000, 9000]"), 12, "[9000, 7000]");
  store(folder() / "rack.toml", bad);
  EXPECT_HAS(message("steel"), "must be [least, most]");
  EXPECT_HAS(message("steel"), "rack.toml:12: tool \"ball6\", materials");
  bad = kRack;
  bad.replace(bad.find("material = \"steel\""), 18, "metal = \"steel\"   ");
  store(folder() / "rack.toml", bad);
  EXPECT_HAS(message("steel"), "\"material\"");
}

TEST_F(SharedFiles, AControlIsReadWithTheMachine) {
  store(folder() / "control.toml", "program_units = \"inch\"\narcs = [\"XY\"]\nfiles = \"each-tool\"\n");
  const Controller control =
      read("", "", "controller = \"control.toml\"\nwork_offset = \"G56\"\n").machine.controller;
  EXPECT_TRUE(control.inches);
  EXPECT_EQ(control.decimals, 4);
  EXPECT_EQ(control.work_offset, "G56") << "what the job says counts";
  EXPECT_EQ(control.arc_planes, (std::array<bool, 3>{true, false, false}));
  EXPECT_EQ(control.files, Controller::Files::each_tool);
  store(folder() / "control.toml", "arcs = \"none\"\n");
  EXPECT_EQ(read("", "", "controller = \"control.toml\"\n").machine.controller.arc_planes,
            (std::array<bool, 3>{false, false, false}));
}

}  // namespace
}  // namespace yardpass
