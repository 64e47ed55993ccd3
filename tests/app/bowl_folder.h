// A bowl and a job for it, with the program at hand.
#pragma once

#include "parts.h"
#include "support/command.h"
#include "yardpass/part/write_stl.h"

namespace yardpass::testing {

inline const char* const kJob = R"(title = "bowl"
[part]
mesh = "bowl.stl"
[stock]
above = 1
[tools.flat8]
number = 1
shape = "flat"
diameter = 8
spindle = 8000
feed = 2000
[tools.ball6]
number = 2
shape = "ball"
diameter = 6
spindle = 12000
feed = 1800
[[operation]]
name = "rough"
strategy = "roughing"
tool = "flat8"
[[operation]]
name = "finish"
strategy = "parallel"
tool = "ball6"
stepover = 0.8
keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]
)";

class BowlFolder : public CommandFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.02), "bowl");
    store(folder() / "job.toml", kJob);
  }
  /// No result folder and no draft of one.
  void expect_no_folder(const std::string& name) {
    EXPECT_FALSE(std::filesystem::exists(folder() / name));
    for (const auto& entry : std::filesystem::directory_iterator(folder()))
      EXPECT_EQ(entry.path().filename().string().find("draft"), std::string::npos);
  }
  std::string spoiled_job(const std::string& old, const std::string& now) {
    std::string text = kJob;
    text.replace(text.find(old), old.size(), now);
    store(folder() / "spoiled.toml", text);
    return "spoiled.toml";
  }
};

}  // namespace yardpass::testing
