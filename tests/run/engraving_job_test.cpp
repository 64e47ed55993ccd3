// Engraving and projected curves as jobs ask for them.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/curve_roles.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class EngravingJob : public testing::ScratchFolder {
 protected:
  Job job(const std::string& curves, const std::string& operation, const std::string& tool = "ball1") {
    write_stl(folder() / "part.stl",
              testing::sheet(Box2(Vec2(-20, -12), Vec2(20, 12)), 120, 72,
                             [](double x, double y) { return -x * x / 300 - y * y / 150; }),
              "part");
    store(folder() / "job.toml",
          "title = \"letters\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = 0.1\ncell = 0.1\n"
          "[tools.ball1]\nnumber = 1\nshape = \"ball\"\ndiameter = 1\nflute_length = 3\nstickout = 20\n"
          "spindle = 9000\nfeed = 1000\n" +
              curves + "[[operation]]\nname = \"strokes\"\ntool = \"" + tool + "\"\n" + operation);
    return read_job(folder() / "job.toml");
  }
  std::string refused(const std::string& curves, const std::string& operation,
                      const std::string& tool = "ball1") {
    try {
      const JobSetup setup = load_setup(job(curves, operation, tool));
      (void)curve_roles(setup, settle(setup));
    } catch (const Error& error) {
      return error.what();
    }
    return "not refused";
  }
};

constexpr const char* kText =
    "[curves.name]\ntext = \"TERN\"\ntext_at = [0, -3]\ntext_align = \"middle\"\nletter_height = 6\n";
constexpr const char* kEngrave = "strategy = \"engraving\"\ncurves = \"name\"\ndepth = 0.25\n";

/// The program with all that it cuts in one operation between two lines moved down.
std::string sunk(const std::string& text, std::size_t from, std::size_t to, double by) {
  std::istringstream in(text);
  std::string result;
  std::size_t number = 0;
  for (std::string line; std::getline(in, line);) {
    ++number;
    const std::size_t z = line.find('Z');
    if (number >= from && number <= to && z != std::string::npos) {
      std::size_t end = 0;
      const double height = std::stod(line.substr(z + 1), &end);
      line = line.substr(0, z + 1) + std::to_string(height - by) + line.substr(z + 1 + end);
    }
    result += line + "\n";
  }
  return result;
}

TEST_F(EngravingJob, IsCleanAndAStrokeThatIsTooDeepIsFoundWithItsLine) {
  for (const std::string& depth :
       {std::string("depth = 0.25\n"), std::string("depths = [0.1, 0.3, 0.2]\n")}) {
    SCOPED_TRACE(depth);
    const RunResult run = run_job(job(kText, "strategy = \"engraving\"\ncurves = \"name\"\n" + depth));
    EXPECT_TRUE(run.judged.clean());
    EXPECT_NEAR(run.operations[0].values.intended_depth_mm, depth[5] == 's' ? 0.3 : 0.25, 1e-9);
    // Some cuts in the middle of the program, 0.05 deeper.
    std::size_t first = 0, count = 0, number = 0;
    std::istringstream in(run.posted.text);
    for (std::string line; std::getline(in, line);) {
      ++number;
      const Move* move = move_of_line(run, static_cast<std::int32_t>(number));
      if (move && move->kind == MoveKind::cut && number > 60 && count < 4 &&
          line.find('Z') != std::string::npos) {
        if (first == 0) first = number;
        ++count;
      }
    }
    ASSERT_GT(first, 0u);
    const JudgedProgram judged = judge_program(
        read_program(sunk(run.posted.text, first, first + 3, 0.05), "program.nc"), run.setup, run.operations);
    ASSERT_FALSE(judged.clean());
    EXPECT_EQ(judged.judgement.findings.front().kind, FindingKind::gouge);
    EXPECT_NEAR(judged.judgement.findings.front().line, static_cast<double>(first), 4);
  }
}

TEST_F(EngravingJob, ACutBesideItsStrokesIsFound) {
  const RunResult run = run_job(job(kText, kEngrave));
  std::string text = run.posted.text;
  const std::size_t end = text.rfind("M5");
  ASSERT_NE(end, std::string::npos);
  text.insert(end, "G0 X-15. Y8.\nG1 Z-1.45 F100\nG1 X-12.\nG0 Z20.\n");
  const JudgedProgram judged = judge_program(read_program(text, "program.nc"), run.setup, run.operations);
  ASSERT_FALSE(judged.clean());
  EXPECT_EQ(judged.judgement.findings.front().kind, FindingKind::gouge);
}

TEST_F(EngravingJob, MadePatternsAreCurvesLikeOthers) {
  const RunResult run = run_job(
      job("[curves.rays]\nrays = { centre = [0, 0], from = 1, to = 4, count = 6 }\n"
          "[curves.rings]\nrings = { centre = [-10, 0], from = 1, to = 4, step = 1 }\n"
          "[curves.snail]\nspiral = { centre = [10, 0], to = 4, step = 1 }\n"
          "[curves.dots]\ncircle = [-18, 8, 1]\nedits = [{ grid = { by = [3, 2], columns = 4, rows = 2 } }, "
          "{ ring = { centre = [0, 0], count = 2 } }]\n"
          "[curves.frame]\nrectangle = [-3, 6, 3, 10]\nedits = [{ offsets = { step = -0.5, count = 3 } }]\n",
          "strategy = \"projected\"\ncurves = [\"rays\", \"rings\", \"snail\", \"dots\", \"frame\"]\n"));
  EXPECT_TRUE(run.judged.clean());
  std::set<std::int32_t> passes;
  for (const CutOrigin& cut : run.planned[0].path.cuts) passes.insert(cut.pass);
  EXPECT_EQ(passes.size(), 6u + 4 + 1 + 16 + 3);
}

TEST_F(EngravingJob, AGrooveIsCleanAndOneBesideItsOutlineIsFound) {
  const std::string curves =
      "[tools.chamfer4]\nnumber = 2\nshape = \"chamfer\"\ndiameter = 4\ntaper_angle = 45\nflute_length = 6\n"
      "stickout = 20\nspindle = 9000\nfeed = 1000\n"
      "[curves.name]\npoints = [[-6, -4], [6, -4], [6, 0], [-2, 0], [-2, 5], [-6, 5]]\nclosed = true\n";
  const RunResult run =
      run_job(job(curves, "strategy = \"engraving\"\nform = \"groove\"\ncurves = \"name\"\n", "chamfer4"));
  EXPECT_TRUE(run.judged.clean());
  EXPECT_GT(run.planned[0].lengths.cut_mm, 20);
  // The same 0.05 deeper: its rim leaves the outline.
  const JudgedProgram judged =
      judge_program(read_program(sunk(run.posted.text, 12, run.posted.origin.size() - 4, 0.05), "program.nc"),
                    run.setup, run.operations);
  ASSERT_FALSE(judged.clean());
  bool too_near = false;
  for (const Finding& finding : judged.judgement.findings)
    too_near = too_near || finding.kind == FindingKind::too_near;
  EXPECT_TRUE(too_near);
}

TEST_F(EngravingJob, RunsAlongTheBordersOfBoundariesAndTellsOfLetters) {
  const RunResult run =
      run_job(job("[boundaries.frame]\npoints = [[-8, -6], [8, -6], [8, 6], [-8, 6]]\n"
                  "[curves.inner]\nboundary = \"frame\"\nedits = [{ offsets = { step = -1, count = 3 } }]\n"
                  "[curves.name]\ntext = \"Bö\"\ntext_at = [0, 0]\nletter_height = 2\n",
                  "strategy = \"projected\"\ncurves = [\"inner\", \"name\"]\n"));
  EXPECT_TRUE(run.judged.clean());
  double length_mm = 0;
  for (const Curve& curve : run.setup.curves[0].curves) length_mm += length(curve);
  EXPECT_NEAR(length_mm, (14 + 10 + 12 + 8 + 10 + 6) * 2, 0.01);
  bool told = false;
  for (const Note& note : run.operations[0].notes)
    told = told || note.says == "curve \"name\": 1 ö written as o";
  EXPECT_TRUE(told);
}

TEST_F(EngravingJob, FurtherToolsAreOperationsOfTheirOwn) {
  const std::string tools =
      "[tools.ball8]\nnumber = 2\nshape = \"ball\"\ndiameter = 8\nflute_length = 20\nstickout = 40\n"
      "spindle = 9000\nfeed = 1000\n[tools.ball3]\nnumber = 3\nshape = \"ball\"\ndiameter = 3\nflute_length "
      "= 9\n"
      "stickout = 20\nspindle = 9000\nfeed = 1000\n";
  const Job given = job(
      tools, "strategy = \"rest-finishing\"\nreference = \"ball8\"\nthen_with = \"ball1\"\nstepover = 0.3\n",
      "ball3");
  ASSERT_EQ(given.operations.size(), 2u);
  EXPECT_EQ(given.operations[1].name, "strokes, then ball1");
  EXPECT_EQ(given.operations[1].tool, "ball1");
  EXPECT_EQ(given.operations[1].number, 2);
  EXPECT_EQ(*given.operations[1].says.get("reference")->text(), "ball3");
  EXPECT_EQ(settle(load_setup(given)).size(), 2u);
  // Elsewhere the key is refused, once; a copy does not go on with the tools of what it copies.
  const std::string wrong = refused(tools, "strategy = \"parallel\"\nthen_with = \"ball1\"\n");
  EXPECT_NE(wrong.find("\"then_with\" belongs to rest-finishing"), std::string::npos) << wrong;
  EXPECT_EQ(wrong.find("reference"), std::string::npos) << wrong;
  EXPECT_EQ(
      job(tools,
          "strategy = \"rest-finishing\"\nreference = \"ball8\"\nthen_with = \"ball1\"\nstepover = 0.3\n"
          "[[operation]]\nname = \"copy\"\ncopy_of = \"strokes\"\nstepover = 0.2\n",
          "ball3")
          .operations.size(),
      3u);
}

TEST_F(EngravingJob, SaysWhatIsWrong) {
  const auto expect = [](const std::string& text, const std::string& part) {
    EXPECT_NE(text.find(part), std::string::npos) << text;
  };
  expect(refused(kText, "strategy = \"engraving\"\ndepth = 0.2\n"), "\"curves\" is missing");
  expect(refused(kText, std::string(kEngrave) + "depths = [0.1, 0.2]\n"), "each give the other");
  expect(refused(kText, std::string(kEngrave) + "turned = 99\n"),
         "\"turned\" names a number beyond the last curve");
  expect(refused(kText, "strategy = \"engraving\"\ncurves = \"name\"\ndepth = 5\n"),
         "deeper than the flutes");
  expect(refused("[curves.name]\ntext = \"A\"\n", kEngrave), "needs \"text_at\"");
  expect(refused("[curves.name]\ntext = \" \"\ntext_at = [0, 0]\n", kEngrave), "has no letter");
  expect(refused("[curves.name]\nrings = { centre = [0, 0], from = 0, to = 4, step = 1 }\n", kEngrave),
         "from");
  expect(refused("[curves.name]\nrays = { centre = [0, 0], to = 4 }\nedits = [{ row = { by = [1, 0], count = "
                 "2.5 } }]\n",
                 kEngrave),
         "whole number");
  expect(
      refused("[curves.name]\npoints = [[0, 0], [1, 1]]\nedits = [{ offsets = { step = 1, count = 2 } }]\n",
              kEngrave),
      "closed curves");
  expect(refused("[boundaries.a]\npoints = [[0, 0], [1, 0], [1, 1]]\n[curves.name]\nboundary = \"a\"\n"
                 "[boundaries.b]\ncurves = \"name\"\n",
                 kEngrave),
         "comes from a boundary, so only operations can name it");
  expect(refused(kText, std::string(kEngrave) + "allowance = -0.1\n"),
         "how deep it goes is said by its depth alone");
  expect(refused(
             "[tools.chamfer4]\nnumber = 2\nshape = \"chamfer\"\ndiameter = 4\ntaper_angle = "
             "45\nflute_length = 6\n"
             "stickout = 20\nspindle = 9000\nfeed = 1000\n[curves.name]\npoints = [[0, 0], [5, 0], [5, 5]]\n",
             "strategy = \"engraving\"\ncurves = \"name\"\nform = \"groove\"\n", "chamfer4"),
         "has 1, of which number 1 is open");
  expect(refused(kText, std::string(kEngrave) + "form = \"groove\"\n"), "gets wider upwards");
  expect(refused(kText, "strategy = \"rest-finishing\"\nreference = \"ball1\"\n"),
         "is no larger than the tool");
  expect(refused("[curves.name]\ntext = \"A\"\ntext_along = \"name\"\n", kEngrave), "leads back to itself");
}

}  // namespace
}  // namespace yardpass
