// Programs as other posts write them: read as controls run them, or refused with every reason at its line.
#include <gtest/gtest.h>

#include "support/rng.h"
#include "yardpass/post/read_program.h"

namespace yardpass {
namespace {

using testing::Rng;

std::string program(const std::string& middle) {
  return "%\nO1001 (PORTHOLE)\nG0 G17 G21 G40 G49 G80 G90\nT1 M6\nG0 G90 G54 X0. Y0. S1000 M3\nG43 H1 Z50. "
         "M8\n" +
         middle + "\nM9\nM5\nG91 G28 Z0.\nG28 X0. Y0.\nM30\n%\n";
}
Program read(const std::string& middle, const ProgramReading& reading = {}) {
  return read_program(program(middle), "x.nc", reading);
}
/// Ends of the moves at feed.
std::vector<Vec3> cuts(const Program& p) {
  std::vector<Vec3> ends;
  for (const ProgramMove& move : p.moves)
    if (!move.rapid()) ends.push_back(move.to);
  return ends;
}
std::string refusal(const std::string& text) {
  try {
    (void)read_program(text, "x.nc");
  } catch (const Error& error) {
    return error.what();
  }
  return "";
}

TEST(ForeignPrograms, WordsThatChangeNoMoveAreRead) {
  const Program p = read("M0\nM1\nG4 P2.5\nG4 X1\nG61\nG64 P0.01\nG1 Z1. F200.\nX10.");
  EXPECT_EQ(cuts(p), (std::vector<Vec3>{{0, 0, 1}, {10, 0, 1}}));
  EXPECT_EQ(p.dwell_s, 3.5);
}

TEST(ForeignPrograms, DistancesInsteadOfPlaces) {
  const Program p = read("G91\nG1 Z-49. F200.\nX10.\nG2 X10. Y-10. I0. J-10.\nG90\nG1 X0. Y0.");
  EXPECT_EQ(cuts(p)[2], Vec3(20, -10, 1));
  EXPECT_NEAR(p.arcs[0].start_radius(), 10, 1e-9);
  EXPECT_EQ(cuts(p)[3], Vec3(0, 0, 1));
}

TEST(ForeignPrograms, MarkedBlocksAreRunOrSkippedAndTold) {
  const std::string text = "G1 Z1. F200.\n/X10.\nY5.";
  const Program run = read(text), skipped = read(text, {.skip_marked = true});
  EXPECT_EQ(cuts(run).back(), Vec3(10, 5, 1));
  EXPECT_EQ(cuts(skipped).back(), Vec3(0, 5, 1));
  ASSERT_EQ(run.remarks.size(), 1u);
  EXPECT_EQ(run.remarks[0].line, 8);
}

TEST(ForeignPrograms, FeedsByTurnsAndInverseTime) {
  Program p = read("G95\nG1 Z1. F0.2");
  EXPECT_NEAR(p.moves.back().feed_mm_min, 200, 1e-9);
  p = read("G93\nG1 Z40. F2.\nX20. F5.");
  EXPECT_NEAR(p.moves.back().feed_mm_min, 100, 1e-9);
  EXPECT_NE(refusal(program("G93\nG1 Z40. F2.\nX20.")).find("own F"), std::string::npos);
}

TEST(ForeignPrograms, DrillingCyclesAreTakenApart) {
  const Program p = read("G99 G83 X10. Y0. Z-5. R2. Q1. F100.\nX20.\nG98 Y10.\nG80\nG0 X0.");
  EXPECT_EQ(cuts(p), (std::vector<Vec3>{{10, 0, -5}, {20, 0, -5}, {20, 10, -5}}));
  std::vector<double> heights;
  for (const ProgramMove& move : p.moves)
    if (move.rapid() && move.to.x() == 20 && move.to.y() == 10) heights.push_back(move.to.z());
  EXPECT_EQ(heights.back(), 50) << "G98: back to where the cycle began";
  for (const ProgramMove& move : p.moves)
    if (move.rapid() && plan(move.from) != plan(move.to)) EXPECT_GE(std::min(move.from.z(), move.to.z()), 2);
  const Program bored = read("G85 X1. Y1. Z-3. R1. F50.\nG80");
  EXPECT_EQ(cuts(bored).size(), 2u) << "out again at feed";
  const Program row = read("G81 G99 X0. Y0. Z-1. R1. F50.\nG91 X5. L4\nG90 G80");
  EXPECT_EQ(cuts(row).size(), 5u);
  EXPECT_EQ(cuts(row).back().x(), 20);
  EXPECT_NE(refusal(program("G81 X1. Y1. Z3. R1. F50.")).find("above its R"), std::string::npos);
}

TEST(ForeignPrograms, SubprogramsRunWhereTheyAreCalled) {
  const std::string text =
      "%\nO1\nG21 G90 G17\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 Z1 F100\nG91\nM98 P20 L3\n"
      "G90\nM5\nM30\nO20\nX5\nM98 P30\nM99\nO30\nY1\nM99\n%\n";
  const Program p = read_program(text, "x.nc");
  EXPECT_EQ(cuts(p).back(), Vec3(15, 3, 1));
  EXPECT_EQ(p.moves.back().line, 19) << "told at the line of the subprogram";
  EXPECT_NE(refusal("G21 G90\nM98 P5\nM30\n").find("x.nc:2: M98 P5"), std::string::npos);
  EXPECT_NE(refusal("G21 G90\nM98 P5\nM30\nO5\nM98 P5\nM99\n").find("8 deep"), std::string::npos);
  EXPECT_NE(refusal("G21 G90\nM98 P5\nM30\nO5\nG4 P1\n").find("no end (M99)"), std::string::npos);
}

TEST(ForeignPrograms, HomeIsUpToWhereNobodyKnows) {
  const Program p = read("G1 Z1. F200.\nX10.\nG0 G53 Z0.\nG0 X50. Y50.\nZ20.\nG1 Z2.");
  ASSERT_GE(p.moves.size(), 2u);
  const ProgramMove& down = p.moves[p.moves.size() - 2];
  EXPECT_TRUE(down.after_change) << "from there it comes down as after a tool change";
  EXPECT_EQ(plan(down.from), Vec2(50, 50));
  EXPECT_NE(refusal(program("G1 Z1. F200.\nG91 G28 X0. Y0. Z0.")).find("at once"), std::string::npos);
  EXPECT_NE(refusal(program("G1 Z1. F200.\nG91 G28 X0.")).find("Z first"), std::string::npos);
  EXPECT_NE(refusal(program("G28 Z0.")).find("down first"), std::string::npos);
  EXPECT_NE(refusal(program("G1 G53 Z0. F5.")).find("G0 alone"), std::string::npos);
  // Heights of the machine that might lie below the tool.
  EXPECT_NE(refusal(program("G1 Z1. F200.\nG0 G53 Z-250.")).find("(Z0)"), std::string::npos);
  EXPECT_NE(refusal(program("G91 G30 Z0.")).find("reference point"), std::string::npos);
}

TEST(ForeignPrograms, WithoutCommentsEachToolIsKeptApart) {
  const Program p = read_program(
      "G21 G90 G17\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 Z1 F100\nM5\nT2 M6\nS900 M3\nG0 X5 Y5\nG43 H2 "
      "Z9\nG1 Z2\nM5\nM30\n",
      "x.nc");
  ASSERT_EQ(p.operations.size(), 2u);
  EXPECT_EQ(p.operations[0].words, "T1");
  EXPECT_EQ(p.operations[1].words, "T2");
  EXPECT_EQ(p.tool_lines, (std::vector<std::int32_t>{2, 8}));
  EXPECT_EQ(p.moves.back().operation, 1);
}

TEST(ForeignPrograms, AllReasonsAreToldAtOnceEachAtItsLine) {
  const std::string what = refusal(
      "G21 G90 G17\n#1=5\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG41 D1 X5\nG1 Z1 F100\nA90\nIF [#1 GT 2] "
      "GOTO 5\nG84 "
      "Z1 R2\nX5\nM5\nM30\n");
  for (const char* part :
       {"x.nc:2: \"#\"", "x.nc:7: G41", "x.nc:9: the word A", "x.nc:10: \"IF\"", "x.nc:11: G84"})
    EXPECT_NE(what.find(part), std::string::npos) << part << "\n" << what;
  std::string many = "G21 G90 G17\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 Z1 F100\n";
  for (int i = 0; i < 500; ++i) many += "A" + std::to_string(i) + " X" + std::to_string(i) + "\n";
  const std::string same = refusal(many + "M5\nM30\n");
  EXPECT_EQ(std::count(same.begin(), same.end(), '\n'), 2) << "three of a kind";
  EXPECT_NE(same.find("497 more like this"), std::string::npos) << same;
}

/// A hundred programs of habits put together by chance: read, or refused with a line for each reason; what is
/// read makes no move that is not finite.
TEST(ForeignPrograms, AHundredOfForeignHabits) {
  const std::vector<std::string> habits = {"G1 Z2. F150.",
                                           "X%. Y%.",
                                           "G2 X5. Y0. R%.",
                                           "G3 I%. J0.",
                                           "G91\nX%.\nG90",
                                           "G81 X%. Y%. Z-2. R3. F80.\nG80",
                                           "G83 X%. Y%. Z-4. R3. Q1. F80.\nG80",
                                           "M98 P77",
                                           "/X%.",
                                           "M1",
                                           "G4 P%",
                                           "G53 G0 Z0.\nG0 X%. Y%.\nG43 H1 Z20.",
                                           "G41 D1 X%.",
                                           "#100=%",
                                           "A%.",
                                           "G68 R%.",
                                           "G10 L2 P1 X%.",
                                           "G64",
                                           "N% X%.",
                                           "(NOTE %)",
                                           "; note",
                                           "G0 Z30.\nX%. Y%.",
                                           "M3 S%00",
                                           "G43.4 H1",
                                           "M98 P99",
                                           "G1X%.Y%.Z1.F90.",
                                           "X%. ( INSIDE ) Y%.",
                                           "G17 G1 X%.",
                                           "G18 G2 X5. Z2. R%."};
  int read = 0, refused = 0;
  for (int seed = 1; seed <= testing::rounds(100); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    std::string middle;
    for (int i = 2 + rng.pick(8); i > 0; --i) {
      // Half of the programs keep to what controls share.
      const std::size_t count = seed % 2 ? 10 : habits.size();
      for (const char c : habits[static_cast<std::size_t>(rng.pick(static_cast<int>(count)))])
        middle += c == '%' ? std::to_string(1 + rng.pick(40)) : std::string(1, c);
      middle += '\n';
    }
    const std::string text = program("G1 Z3. F100.\n" + middle) + "O77\nG1 X1. Y1.\nM99\n";
    try {
      const Program p = read_program(text, "x.nc");
      ++read;
      for (const ProgramMove& move : p.moves) {
        ASSERT_TRUE(move.from.allFinite() && move.to.allFinite());
        ASSERT_GE(move.line, 1);
        ASSERT_LE(move.line, p.lines);
      }
    } catch (const Error& error) {
      ++refused;
      std::istringstream lines(error.what());
      for (std::string line; std::getline(lines, line);) EXPECT_EQ(line.rfind("x.nc:", 0), 0u) << line;
    }
  }
  EXPECT_GT(read, 15);
  EXPECT_GT(refused, 15);
}

}  // namespace
}  // namespace yardpass
