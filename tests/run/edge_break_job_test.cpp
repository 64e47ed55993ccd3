// Whole jobs that break edges: proven, and found where a program goes deeper.
#include <gtest/gtest.h>

#include <numbers>

#include "parts.h"
#include "support/boxes.h"
#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class EdgeBreakJob : public testing::ScratchFolder {
 protected:
  Job job(const Mesh& part, const std::string& operation) {
    write_stl(folder() / "part.stl", part, "part");
    store(folder() / "job.toml",
          "title = \"edges\"\n[part]\nmesh = \"part.stl\"\n[stock]\naround_part = 0\ncell = 0.2\n"
          "[tools.ball6]\nnumber = 3\nshape = \"ball\"\ndiameter = 6\nstickout = 40\nspindle = 9000\nfeed = "
          "1500\n"
          "[tools.chamfer10]\nnumber = 7\nshape = \"chamfer\"\ndiameter = 10\ntip_diameter = 1\ntaper_angle "
          "= 45\n"
          "stickout = 40\nspindle = 9000\nfeed = 1200\n"
          "[tools.flat8]\nnumber = 9\nshape = \"flat\"\ndiameter = 8\nspindle = 9000\nfeed = 1200\n"
          "[[operation]]\nname = \"edges\"\nstrategy = \"edge-break\"\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  static void expect_clean(const RunResult& run) {
    for (const Finding& finding : run.judged.judgement.findings)
      ADD_FAILURE() << name_of(finding.kind) << " line " << finding.line << " by " << finding.depth_mm
                    << " at " << finding.at.transpose();
    for (const Note& note : run.judged.disagreements) ADD_FAILURE() << note.says;
    EXPECT_TRUE(run.judged.clean());
  }
  /// Line by line, with the Z of one line changed; that line's number, or 0 if none has a Z below.
  static std::string deeper(const std::string& text, int which, double by, std::int32_t& line) {
    std::string result;
    std::istringstream in(text);
    std::int32_t number = 0;
    int seen = 0;
    for (std::string words; std::getline(in, words); result += words + "\n") {
      ++number;
      const std::size_t z = words.find('Z');
      if (z == std::string::npos || words.find("G0") != std::string::npos || words[0] == '(' ||
          words[0] == '%' || words.find("G43") != std::string::npos || seen++ != which)
        continue;
      std::size_t length = 0;
      const double value = std::stod(words.substr(z + 1), &length);
      char changed[32];
      std::snprintf(changed, sizeof changed, "%.3f", value - by);
      words = words.substr(0, z + 1) + changed + words.substr(z + 1 + length);
      line = number;
    }
    return result;
  }
  /// Each line that leads to a cut below this height, and no other cut, cut deeper: found there, and
  /// measured.
  static int expect_found_deeper(const Job& edges, const RunResult& run, double by, double below_z) {
    const JobSetup setup = load_setup(edges);
    int found = 0;
    for (int which = 0; which < 40; ++which) {
      std::int32_t line = 0;
      const std::string text = deeper(run.posted.text, which, by, line);
      if (line == 0) break;
      const auto& moves = run.judged.program.moves;
      if (std::none_of(moves.begin(), moves.end(), [&](const ProgramMove& m) {
            return m.line == line && !m.rapid() && m.to.z() < below_z;
          }))
        continue;
      SCOPED_TRACE(line);
      const JudgedProgram judged = judge_program(read_program(text, "p.nc"), setup, settle(setup));
      const auto& findings = judged.judgement.findings;
      EXPECT_FALSE(findings.empty());
      if (findings.empty()) continue;
      EXPECT_GE(findings[0].line, line);
      EXPECT_LE(findings[0].line, line + 1);
      const double greatest = judged.edge_sizes.at(1).all.greatest_mm;
      EXPECT_GT(greatest, run.judged.edge_sizes.at(1).asked_mm + 0.015);
      EXPECT_LT(greatest, run.judged.edge_sizes.at(1).asked_mm + 0.035);
      ++found;
    }
    return found;
  }
};

TEST_F(EdgeBreakJob, TheCleatBaseIsBrokenCleanInEveryWay) {
  const Mesh part = demo::cleat_base();
  for (const char* operation :
       {"tool = \"ball6\"\nsize = 0.5\n",
        "tool = \"ball6\"\nsize = 1.0\nform = \"rounded\"\nedges = [6, 4]\n",
        "tool = \"chamfer10\"\nsize = 0.8\nmeasured = \"down-wall\"\nedges = [2]\n"}) {
    SCOPED_TRACE(operation);
    const RunResult run = run_job(job(part, operation));
    EXPECT_FALSE(run.planned[0].path.moves.empty());
    expect_clean(run);
    EXPECT_GT(run.judged.judgement.operations[0].feed_mm, 100);
    // The size is measured, along nearly all of them.
    ASSERT_TRUE(run.judged.edge_sizes.contains(1));
    const EdgeSizes& sizes = run.judged.edge_sizes.at(1);
    EXPECT_GT(sizes.all.measured_mm, 8 * sizes.all.passed_by_mm);
    EXPECT_EQ(sizes.all.missing_mm, 0);
    EXPECT_GE(sizes.all.held_share, 0.99);
    EXPECT_NEAR(sizes.all.median_mm, sizes.asked_mm, 0.005);
  }
}

TEST_F(EdgeBreakJob, ABreakThatIsTooWideIsFoundWithItsLine) {
  const Mesh part = testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0)));
  const Job edges = job(part, "tool = \"ball6\"\nsize = 0.7\ncorners = \"end\"\n");
  const RunResult run = run_job(edges);
  expect_clean(run);
  // At 90 degrees 0.03 of width is 0.015 straight down, about.
  EXPECT_GE(expect_found_deeper(edges, run, 0.015, -1), 4);
}

TEST_F(EdgeBreakJob, AWiderBreakOfABluntEdgeIsFoundAndMeasured) {
  // Of 150 degrees: 0.03 of width is 4 micrometres.
  Mesh roof;
  const double high = 20 * std::tan(15 * std::numbers::pi / 180);
  for (const double x : {-25.0, 25.0})
    for (const Vec2& yz : {Vec2(-20, -high), Vec2(0, 0), Vec2(20, -high), Vec2(20, -12), Vec2(-20, -12)})
      roof.points.emplace_back(x, yz.x(), yz.y());
  for (std::int32_t k = 0; k < 5; ++k) {
    const std::int32_t next = (k + 1) % 5;
    roof.triangles.push_back({k, next, next + 5}), roof.triangles.push_back({k, next + 5, k + 5});
  }
  for (std::int32_t k = 1; k < 4; ++k)
    roof.triangles.push_back({0, k + 1, k}), roof.triangles.push_back({5, k + 5, k + 6});
  const Job edges = job(roof,
                        "tool = \"ball6\"\nsize = 0.7\nedge_angle = 20\nalong = "
                        "\"ridge\"\n[curves.ridge]\nedges_at = [0, 0, 0]\n");
  const RunResult run = run_job(edges);
  expect_clean(run);
  EXPECT_EQ(run.judged.edge_sizes.at(1).all.passed_by_mm, 0) << "through the gables to the very ends";
  EXPECT_GE(run.judged.edge_sizes.at(1).all.held_share, 0.99);
  EXPECT_GE(expect_found_deeper(edges, run, 0.005, -0.01), 1);
}

TEST_F(EdgeBreakJob, EdgesAreChosenByPlaceLoopAndRegion) {
  const Mesh part = testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0)));
  const auto broken = [&](const std::string& more) {
    const RunResult run = run_job(job(part, "tool = \"ball6\"\n" + more));
    expect_clean(run);
    const EdgeSize& all = run.judged.edge_sizes.at(1).all;
    EXPECT_GE(all.held_share, 0.99);
    EXPECT_EQ(all.passed_by_mm, 0);
    return run.planned[0].lengths.cut_mm;
  };
  const double loop = broken("along = \"it\"\n[curves.it]\nedges_at = [0, -15, 0]\nextent = \"loop\"\n");
  EXPECT_NEAR(broken("along = \"it\"\n[curves.it]\nedges_at = [0, -15, 0]\n"), 40, 0.1);
  EXPECT_NEAR(broken("along = \"it\"\n[regions.top]\nat = [0, 0, 0]\n[curves.it]\nborder_of = \"top\"\n"),
              loop, 0.1);
  EXPECT_NEAR(broken(""), loop, 0.1);
  EXPECT_GT(loop, 139);
  EXPECT_LT(broken("leave_out_along = \"it\"\n[curves.it]\nedges_at = [0, -15, 0]\n"), loop - 39);
}

TEST_F(EdgeBreakJob, WrongCuttersAndSizesAreToldBeforeAnythingIsPlanned) {
  const Mesh part = testing::box_mesh(Box3(Vec3(-20, -15, -10), Vec3(20, 15, 0)));
  const auto why = [&](const std::string& operation) -> std::string {
    try {
      (void)job(part, operation);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  };
  EXPECT_NE(why("tool = \"flat8\"\n").find("ball, chamfer or lollipop; this one is a flat"),
            std::string::npos)
      << why("tool = \"flat8\"\n");
  EXPECT_NE(why("tool = \"chamfer10\"\nform = \"rounded\"\n").find("needs a ball"), std::string::npos);
  EXPECT_NE(why("tool = \"ball6\"\nsize = 0\n").find("size"), std::string::npos);
  EXPECT_EQ(why("tool = \"ball6\"\n"), "accepted");
}

}  // namespace
}  // namespace yardpass
