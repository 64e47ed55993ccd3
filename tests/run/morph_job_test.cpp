// Passes along a form as jobs ask for them.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "support/turned_parts.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/curve_roles.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

const char* const kCurves =
    "[curves.low]\npoints = [[-15, -10], [15, -12]]\n[curves.high]\npoints = [[15, 10], [0, 12], [-15, 9]]\n"
    "[curves.left]\npoints = [[-15, -10.2], [-16, 0], [-15, 9]]\n[curves.right]\npoints = [[15, -12], [15, "
    "10]]\n"
    "[curves.ridge]\npoints = [[-20, 0], [0, 2], [20, 0]]\n[curves.round]\ncircle = [0, 0, 20]\n"
    "[curves.hub]\ncircle = [1, 0, 6]\n[curves.across]\npoints = [[-15, -11], [0, 11], [15, -11]]\n";

class MorphJob : public testing::ScratchFolder {
 protected:
  Job job(const std::string& operation) {
    // A dish in a block.
    Polyline2 chain = testing::arc_chain({0, 40}, 44, 270, 300, 60);
    std::reverse(chain.begin(), chain.end());
    write_stl(folder() / "part.stl", testing::turned_part(chain, 180), "part");
    store(folder() / "job.toml",
          "title = \"along a form\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = 0.5\nmargin = [2, "
          "2]\ncell = 0.1\n"
          "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nflute_length = 40\nspindle = 9000\n"
          "feed = 1000\n" +
              std::string(kCurves) + "[[operation]]\nname = \"along\"\ntool = \"ball6\"\nlimit = \"axis\"\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  std::string refused(const std::string& operation) {
    try {
      const JobSetup setup = load_setup(job(operation));
      (void)curve_roles(setup, settle(setup));
    } catch (const Error& error) {
      return error.what();
    }
    return "not refused";
  }
};

constexpr const char* kSides = "first = \"low\"\nlast = \"high\"\nstart = \"left\"\nend = \"right\"\n";

TEST_F(MorphJob, IsCleanAndHasOneWayInWhereItIsASpiral) {
  for (const std::string& keys :
       {std::string("strategy = \"morph\"\nfirst = \"round\"\nlast = \"hub\"\npattern = \"spiral\"\nstepover "
                    "= 0.7\n"),
        std::string("strategy = \"flowline\"\nfirst = \"round\"\nlast = \"hub\"\npattern = "
                    "\"spiral\"\nstepover = 0.7\n"),
        "strategy = \"flowline\"\nbetween = \"ridge\"\nreach = 1\nstepover = 0.7\n" + std::string(kSides)}) {
    SCOPED_TRACE(keys);
    const RunResult run = run_job(job(keys));
    EXPECT_TRUE(run.judged.clean());
    EXPECT_GT(run.planned.back().lengths.cut_mm, 300);
    if (keys.find("spiral") != std::string::npos) EXPECT_EQ(run.planned.back().links.planes, 0);
  }
}

TEST_F(MorphJob, RunsBetweenTwoRegions) {
  // A block with a slope between two levels.
  Mesh mesh = testing::turned_part({{26, -6}, {18, -6}, {8, 0}, {0, 0}}, 120);
  write_stl(folder() / "part.stl", mesh, "part");
  store(folder() / "job.toml",
        "title = \"slope\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = 0.5\nmargin = [2, 2]\ncell = 0.1\n"
        "[regions.top]\nat = [0, 0]\n[regions.slope]\nat = [12, 0]\n[regions.floor]\nat = [22, 0]\n"
        "[tools.ball6]\nnumber = 1\nshape = \"ball\"\ndiameter = 6\nflute_length = 40\nspindle = 9000\n"
        "feed = 1000\n[[operation]]\nname = \"slope\"\ntool = \"ball6\"\nstrategy = \"morph\"\n"
        "keep_inside = \"slope\"\nbeside_first = \"top\"\nbeside_last = \"floor\"\npattern = \"spiral\"\n"
        "stepover = 0.5\n");
  const RunResult run = run_job(read_job(folder() / "job.toml"));
  EXPECT_TRUE(run.judged.clean());
  const LeftMap left = left_map(run.judged.judgement.stock, *run.setup.part, 1);
  std::vector<Vec2> outer, inner;
  for (int k = 0; k < 120; ++k) {
    const double angle = 2 * std::numbers::pi * k / 120;
    outer.emplace_back(17.5 * std::cos(angle), 17.5 * std::sin(angle));
    inner.emplace_back(8.2 * std::cos(angle), 8.2 * std::sin(angle));
  }
  EXPECT_LT(statistics(left, run.judged.judgement.stock, subtract({{outer}}, {{inner}})).p99_mm, 0.03);
  EXPECT_EQ(run.planned.back().links.planes, 0);
}

TEST_F(MorphJob, TellsRolesBeforePlanning) {
  const JobSetup setup =
      load_setup(job("strategy = \"flowline\"\nbetween = \"ridge\"\nreach = 1\ndirection = "
                     "\"backward\"\nbegin = \"last\"\n" +
                     std::string(kSides)));
  const std::vector<OperationCurves> told = curve_roles(setup, settle(setup));
  ASSERT_EQ(told.size(), 1u);
  EXPECT_EQ(told[0].operation, 1);
  std::vector<std::string> roles;
  for (const CurveRole& role : told[0].roles) roles.push_back(role.role);
  EXPECT_EQ(roles, (std::vector<std::string>{"first pass", "between", "last pass", "start", "end"}));
  EXPECT_LT((told[0].roles[0].line.front() - Vec2(15, 10)).norm(), 1e-3);
  EXPECT_LT((told[0].roles[0].line.back() - Vec2(-15, 9)).norm(), 1e-3);
  const JobSetup rings =
      load_setup(job("strategy = \"morph\"\nfirst = \"round\"\nlast = \"hub\"\npattern = \"spiral\"\n"));
  EXPECT_NEAR(length(curve_roles(rings, settle(rings))[0].roles[0]), 20 * std::numbers::pi, 0.05);
}

TEST_F(MorphJob, SaysWhatIsWrongAndWhere) {
  const auto says = [&](const std::string& operation, const std::string& words) {
    const std::string message = refused(operation);
    EXPECT_NE(message.find(words), std::string::npos) << operation << "\n" << message;
    EXPECT_NE(message.find("\"along\""), std::string::npos) << message;
  };
  const std::string morph = "strategy = \"morph\"\n", flow = "strategy = \"flowline\"\n";
  says(morph + "first = \"low\"\n", "last");
  says(morph + "first = \"low\"\nlast = \"high\"\nbeside_last = \"part\"\n", "beside_last");
  says(morph + "first = \"low\"\nlast = \"nowhere\"\n", "nowhere");
  says(morph + "first = \"low\"\nlast = [\"high\", \"hub\"]\n", "needs one curve, but there are 2");
  says(morph + "first = \"low\"\nlast = \"hub\"\n", "closed");
  says(morph + "first = \"low\"\nlast = \"high\"\npattern = \"spiral\"\n", "needs closed curves");
  says(morph + "first = \"low\"\nlast = \"high\"\nmatch = [1, 2]\n", "as many places");
  says(morph + "first = \"low\"\nlast = \"high\"\nmatch = [[-5, -10], [5, 11], [5, -10], [-5, 11]]\n",
       "another order");
  says(morph + "first = \"low\"\nlast = \"across\"\n", "cross or touch at X");
  says(flow + "first = \"low\"\nlast = \"high\"\n", "need a \"start\" and an \"end\"");
  says(flow + "first = \"low\"\n", "belong together");
  says(flow + "first = \"low\"\nlast = \"high\"\nstart = \"high\"\nend = \"right\"\n", "two of the sides");
  says(flow + "first = \"low\"\nlast = \"right\"\nstart = \"left\"\nend = \"high\"\n", "opposite");
  says(flow + kSides + "reach = 0.001\n", "left");
  says(flow + kSides + "corners = [[0, 0], [1, 1], [2, 2], [3, 3]]\n", "sides are named");
  says(flow + kSides + "between = \"hub\"\n", "closed");
  says(flow + "reach = -1\n" + kSides, "reach");
  says(flow, "corners");  // the outline of a round part has none
}

}  // namespace
}  // namespace yardpass
