// What is foretold of a job against what then is planned, and what is refused or asked about.
#include <gtest/gtest.h>

#include <set>

#include "parts.h"
#include "sheet.h"
#include "support/demo_files.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

/// A drafted boss with a dome on it, a level floor with a wave beside it.
double ground(double x, double y) {
  const double from = std::max(std::abs(x) - 14, std::abs(y) - 9);
  const double wall = std::clamp(8 - 6 * from, 0.0, 8.0);
  const double dome = from < 0 ? 2 - 0.012 * (x * x + y * y) : 0;
  return wall + dome + (x < -20 ? 0.6 * std::sin(0.5 * y) : 0);
}

class Estimates : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "boss.stl", demo::sheet(Box2(Vec2(-30, -20), Vec2(30, 20)), 180, 120, ground),
              "boss");
    write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.02), "bowl");
    write_stl(folder() / "punch.stl", testing::demo_mesh("fairlead-punch"), "punch");
  }
  Job job(const std::string& part, const std::string& more) {
    store(folder() / "job.toml", "title = \"a job\"\n[part]\nmesh = \"" + part + R"("
[left]
explain = false
[machine]
rapid_plane = 10
[tools.flat6]
number = 1
shape = "flat"
diameter = 6
flute_length = 60
stickout = 80
spindle = 9000
feed = 1000
[tools.ball4]
number = 2
shape = "ball"
diameter = 4
flute_length = 60
stickout = 80
spindle = 9000
feed = 1000
[curves.one]
points = [[-20, -12], [20, -12]]
[curves.other]
points = [[-20, 12], [20, 14]]
[curves.wave]
points = [[-20, 0], [-10, 4], [0, -4], [10, 4], [20, 0]]
[stock]
)" + more);
    return read_job(folder() / "job.toml");
  }
  static std::string operation(const std::string& strategy, const std::string& tool,
                               const std::string& more = "") {
    return "[[operation]]\nname = \"" + strategy + "\"\nstrategy = \"" + strategy + "\"\ntool = \"" + tool +
           "\"\n" + more;
  }
};

TEST_F(Estimates, AreWithinAFactorOfTwoOnJobsOfVeryDifferentKinds) {
  const std::string around = "around_part = 0.4\ncell = 0.2\n", block = "above = 1\ncell = 0.2\n";
  const std::pair<const char*, std::string> jobs[] = {
      {"boss.stl", around + operation("parallel", "ball4", "angle = 30\nstepover = 0.5\n")},
      {"bowl.stl", around + operation("parallel", "ball4", "stepover = 0.4\nspacing = \"surface\"\n")},
      {"bowl.stl", around + operation("scallop", "ball4", "stepover = 0.5\n")},
      {"punch.stl", around + operation("waterline", "ball4", "stepdown = 1\n")},
      {"boss.stl", around + operation("by-slope", "ball4", "shallow = { angle = 45, stepover = 0.6 }\n")},
      {"boss.stl", block + operation("roughing", "flat6", "stepdown = 1\n")},
      {"bowl.stl", block + operation("roughing", "flat6", "stepdown = 2\n") +
                       operation("parallel", "ball4", "stepover = 0.6\nlayers = 2\nlayer = 0.1\n")},
      {"punch.stl", around + operation("flats", "flat6")},
      {"boss.stl",
       around + operation("morph", "ball4", "first = \"one\"\nlast = \"other\"\nstepover = 0.4\n")},
      {"bowl.stl", around + operation("projected", "ball4", "curves = [\"one\", \"wave\", \"other\"]\n")},
      {"bowl.stl", around + operation("square-to-curve", "ball4", "curves = \"wave\"\nstepover = 0.5\n")},
  };
  for (const auto& [part, more] : jobs) {
    Estimate foretold;
    const RunResult run =
        run_job(job(part, more), {.foretold = [&](const Estimate& estimate) { foretold = estimate; }});
    ASSERT_EQ(foretold.operations.size(), run.planned.size());
    for (std::size_t i = 0; i < run.planned.size(); ++i) {
      const PlannedOperation& planned = run.planned[i];
      const OperationEstimate& guess = foretold.operations[i];
      double length_mm = 0, points = 0;
      std::set<std::int32_t> passes;
      Vec3 before = planned.path.start;
      for (const Move& move : planned.path.moves) {
        if (move.kind == MoveKind::cut) {
          length_mm += (move.to - before).norm(), ++points;
          passes.insert(planned.path.pass_of(move));
        }
        before = move.to;
      }
      const double layers = run.operations[i].values.layers;
      const std::string what = std::string(part) + ", " + guess.name;
      for (const auto& [name, asked, found] :
           {std::tuple("length", guess.length_mm, length_mm), std::tuple("points", guess.points, points)}) {
        EXPECT_LT(asked, 2 * found) << what << ", " << name;
        EXPECT_GT(asked, 0.5 * found) << what << ", " << name;
      }
      // What clears counts levels in one strategy and loops in another.
      if (passes.size() > 1 && !run.operations[i].usual.at_levels) {
        EXPECT_LT(guess.passes / layers, 2 * static_cast<double>(passes.size())) << what;
        EXPECT_GT(guess.passes / layers, 0.5 * static_cast<double>(passes.size())) << what;
      }
    }
  }
}

TEST_F(Estimates, WhatIsAbsurdIsRefusedWithItsReason) {
  const auto message = [&](const std::string& part, const std::string& more) {
    try {
      (void)run_job(job(part, more));
      return std::string("done");
    } catch (const Error& error) {
      return std::string(error.what());
    }
  };
  const std::string narrow = message("bowl.stl", operation("parallel", "ball4", "stepover = 1e-7\n"));
  EXPECT_HAS(narrow, "nothing is planned");
  EXPECT_HAS(narrow, "operation 1 \"parallel\"");
  EXPECT_HAS(message("bowl.stl", operation("scallop", "ball4", "stepover = 1e-7\n")), "nothing is planned");
  EXPECT_HAS(message("bowl.stl", operation("waterline", "ball4", "stepdown = 1e-9\n")), "nothing is planned");
  EXPECT_HAS(message("bowl.stl", operation("roughing", "flat6", "stepdown = 1e-6\nstepover = 0.001\n")),
             "nothing is planned");
  const std::string fine = message("bowl.stl", "cell = 0.001\n" + operation("parallel", "ball4"));
  EXPECT_HAS(fine, "too fine");
  EXPECT_HAS(fine, "mm would do");
  EXPECT_HAS(message("bowl.stl", "cell = 100\n" + operation("parallel", "ball4")), "too coarse");
}

TEST_F(Estimates, LargeWorkIsAskedAbout) {
  Estimate small;
  small.cells = 1e6, small.bytes = 1e9, small.seconds = 30;
  EXPECT_TRUE(above(small, {}).empty());
  Estimate large = small;
  large.seconds = 3000, large.bytes = 9e9;
  large.operations.push_back({1, "one", 100, 1e6, 3e7});
  const auto words = above(large, {});
  ASSERT_EQ(words.size(), 3u);
  EXPECT_EQ(words[0], "about 50 minutes");
  EXPECT_EQ(words[1], "about 9 GB of memory");
  EXPECT_EQ(words[2], "about 30 million points");
  // A part in metres, read as millimetres: nothing of it is large but the question.
  Mesh metres = testing::demo_mesh("fairlead-punch");
  for (Vec3& p : metres.points) p *= 0.001;
  write_stl(folder() / "metres.stl", metres, "metres");
  Estimate foretold;
  struct Enough : std::exception {};
  EXPECT_THROW(
      (void)run_job(job("metres.stl", operation("parallel", "ball4")), {.foretold =
                                                                            [&](const Estimate& estimate) {
                                                                              foretold = estimate;
                                                                              throw Enough();
                                                                            }}),
      Enough);
  ASSERT_EQ(foretold.odd.size(), 1u);
  EXPECT_HAS(foretold.odd.front(), "is the part's unit right");
}

TEST_F(Estimates, DoNotDependOnWhatIsAskedFor) {
  // A thousand times as many passes take no longer to foretell, and are a thousand times as many.
  const auto passes = [&](const std::string& stepover) {
    double count = 0;
    struct Enough : std::exception {};
    try {
      (void)run_job(job("bowl.stl", operation("parallel", "ball4", "stepover = " + stepover + "\n")),
                    {.foretold = [&](const Estimate& estimate) {
                      count = estimate.operations.front().passes;
                      throw Enough();
                    }});
    } catch (const Enough&) {
    }
    return count;
  };
  EXPECT_NEAR(passes("0.001") / passes("1"), 1000, 1);
}

}  // namespace
}  // namespace yardpass
