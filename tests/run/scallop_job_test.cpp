// Scallop passes as jobs ask for them.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "support/turned_parts.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class ScallopJob : public testing::ScratchFolder {
 protected:
  Job job(const Mesh& mesh, const std::string& tables) {
    write_stl(folder() / "part.stl", mesh, "part");
    store(
        folder() / "job.toml",
        "title = \"scallops\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = 1\nmargin = [2, 2]\ncell = 0.1\n"
        "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nflute_length = 40\nspindle = 9000\n"
        "feed = 1000\n" +
            tables);
    return read_job(folder() / "job.toml");
  }
  static std::string finish(const std::string& keys) {
    return "[[operation]]\nname = \"finish\"\nstrategy = \"scallop\"\ntool = \"ball6\"\n" + keys;
  }
  std::string refused(const std::string& tables) {
    try {
      const Job read = job(testing::box_mesh(Box3(Vec3(-9, -9, -9), Vec3(9, 9, 0))), tables);
      (void)settle(load_setup(read));
    } catch (const Error& error) {
      return error.what();
    }
    return "";
  }
};

TEST_F(ScallopJob, LeavesNoMoreThanTheScallopAskedForOnRoundAndHollowGround) {
  // A dome that runs out into a hollow.
  Polyline2 chain = testing::arc_chain({0, -20}, 20, 89.99, 40, 80);
  const Vec2 joint = chain.back(),
             way(std::cos(40 * std::numbers::pi / 180), std::sin(40 * std::numbers::pi / 180));
  const Polyline2 hollow = testing::arc_chain(joint + 14 * way, 14, 220, 269.9, 60);
  chain.insert(chain.end(), hollow.begin() + 1, hollow.end());
  const double rim = chain.back().x();
  const Mesh mesh = testing::turned_part(chain, 240);
  const RunResult run = run_job(
      job(mesh, "[[operation]]\nname = \"rough\"\nstrategy = \"roughing\"\ntool = \"ball6\"\nstepdown = 2\n" +
                    finish("scallop_height = 0.01\ntolerance = 0.005\nlimit = \"axis\"\nmargin = -1\n")));
  EXPECT_TRUE(run.judged.clean());
  const LeftMap left = left_map(run.judged.judgement.stock, *run.setup.part, 1);
  std::vector<Vec2> ring;
  for (int k = 0; k < 200; ++k) {
    const double angle = 2 * std::numbers::pi * k / 200;
    ring.emplace_back((rim - 2) * std::cos(angle), (rim - 2) * std::sin(angle));
  }
  const LeftStatistics statistics_of = statistics(left, run.judged.judgement.stock, {{ring}});
  EXPECT_LT(statistics_of.p99_mm, 0.0175);
  EXPECT_GT(run.planned.back().lengths.cut_mm, 500);
}

TEST_F(ScallopJob, StartsFromCirclesAndRectanglesByNumbers) {
  const Mesh block = testing::box_mesh(Box3(Vec3(-20, -15, -8), Vec3(20, 15, 0)));
  for (const char* curve : {"circle = [2, 1, 6]\n", "rectangle = [-5, -4, 6, 3]\ncorner_radius = 1\n",
                            "points = [[-30, 0], [30, 2]]\n"}) {
    const RunResult run =
        run_job(job(block, std::string("[curves.\"first one\"]\n") + curve +
                               finish("start = \"first one\"\nstepover = 1\nlimit = \"axis\"\n")));
    EXPECT_TRUE(run.judged.clean()) << curve;
    EXPECT_GT(run.planned.back().lengths.cut_mm, 1000) << curve;
    EXPECT_TRUE(run.judged.judgement.findings.empty()) << curve;
  }
}

TEST_F(ScallopJob, SaysWhatIsWrong) {
  const auto says = [&](const std::string& tables, const std::string& words) {
    const std::string message = refused(tables);
    EXPECT_NE(message.find(words), std::string::npos) << tables << "\n" << message;
  };
  says("[curves.c]\ncircle = [0, 0, 0]\n" + finish("start = \"c\"\n"), "diameter");
  says("[curves.c]\ncircle = [0, 0]\n" + finish("start = \"c\"\n"), "circle");
  says("[curves.c]\nrectangle = [0, 0, 4, 0]\n" + finish("start = \"c\"\n"), "must differ in X and in Y");
  says("[curves.c]\nrectangle = [0, 0, 4, 4]\ncorner_radius = 3\n" + finish("start = \"c\"\n"), "half");
  says(finish("start = \"nowhere\"\n"), "nowhere");
  says(finish("side = \"inward\"\n"), "start");
  says("[curves.c]\npoints = [[0, 0], [5, 5]]\n" + finish("start = \"c\"\nside = \"inward\"\n"),
       "a curve of \"start\" is open");
  says(finish("stepover = -0.5\n"), "stepover");
  says(finish("pattern = \"round\"\n"), "spiral");
  says(
      "[[operation]]\nname = \"both\"\nstrategy = \"by-slope\"\ntool = \"ball6\"\nscallop = { stepover = 1 "
      "}\n"
      "shallow = { stepover = 1 }\n",
      "only one of the two tables");
}

}  // namespace
}  // namespace yardpass
