// Cutter location data: out and in again the same moves; of others read, or refused with all reasons.
#include "yardpass/post/cl_data.h"

#include <gtest/gtest.h>

#include <cmath>

#include "yardpass/geom/error.h"

namespace yardpass {
namespace {

const char* const kProgram =
    "G21 G90 G17\n(operation 2: walls)\nT3 M6\nS9000 M3\nG0 X1 Y2\nG43 H3 Z20\nM8\nG1 Z0.5 F300\nX10.25 "
    "F1800\n"
    "G2 X20 Y2 I4.875 J0\nG0 Z20\nM9\nM5\n(operation 5: floor)\nT4 M6\nS8000 M3\nG0 X0 Y0\nG43 H4 Z20\nG1 Z1 "
    "F200\nX5\nG0 Z20\nM5\nM30\n";

std::string refusal(const std::string& text) {
  try {
    (void)read_cl_data(text, "x.cl");
  } catch (const Error& error) {
    return error.what();
  }
  return "";
}

TEST(ClData, OutAndInAgainTheSameMoves) {
  const Program program = read_program(kProgram, "p.nc");
  const std::string text = write_cl_data("title: (odd)\n", program, 1e-3);
  EXPECT_TRUE(is_cl_data(text));
  EXPECT_FALSE(is_cl_data(kProgram));
  const Program back = read_cl_data(text, "p.cl");
  EXPECT_EQ(back.tools, program.tools);
  ASSERT_EQ(back.operations.size(), 2u);
  EXPECT_EQ(back.operations[1].number, 5);
  EXPECT_EQ(back.operations[1].words, "floor");
  std::vector<ProgramMove> wanted;
  for (const ProgramMove& move : program.moves) {
    const std::vector<Vec3> points = program.points_of(move, 1e-3);
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
      wanted.push_back(move);
      wanted.back().from = points[i], wanted.back().to = points[i + 1];
    }
  }
  ASSERT_EQ(back.moves.size(), wanted.size());
  for (std::size_t i = 0; i < wanted.size(); ++i) {
    EXPECT_LT((back.moves[i].to - wanted[i].to).norm(), 2e-6);
    EXPECT_EQ(back.moves[i].rapid(), wanted[i].rapid());
    EXPECT_NEAR(back.moves[i].feed_mm_min, wanted[i].feed_mm_min, 1e-3);
    EXPECT_EQ(back.moves[i].tool, wanted[i].tool);
    EXPECT_EQ(back.moves[i].after_change, wanted[i].after_change);
    EXPECT_EQ(back.number_of(back.moves[i]), program.number_of(wanted[i]));
  }
  ASSERT_EQ(back.spindle.size(), program.spindle.size());
  for (std::size_t i = 0; i < back.spindle.size(); ++i) {
    EXPECT_EQ(back.spindle[i].rpm, program.spindle[i].rpm);
    EXPECT_EQ(back.spindle[i].coolant, program.spindle[i].coolant);
  }
  EXPECT_THROW((void)write_cl_data("t", program, 0), Error);
}

TEST(ClData, OfOthersIsRead) {
  const Program p = read_cl_data(
      "$$ made by somebody\npartno BAILER CORE\nUNITS/INCHES\nMULTAX/OFF\nLOAD/TOOL, 3,ADJUST,1\nCUTTER/0.5, "
      "0.1\n"
      "SPINDL/RPM,9000,CLW\nCOOLNT/FLOOD\nRAPID\nGOTO/1,2, $\n "
      "3\nFEDRAT/10,IPM\nGOTO/1,2,0,0,0,1\nGODLTA/1,0,0\nDELAY/2\n"
      "RAPID\nGOTO/2,2,3\nSPINDL/OFF\nFINI\n",
      "x.cl");
  ASSERT_EQ(p.moves.size(), 4u);
  EXPECT_TRUE(p.moves[0].after_change);
  EXPECT_LT((p.moves[2].to - Vec3(50.8, 50.8, 0)).norm(), 1e-9);
  EXPECT_NEAR(p.moves[1].feed_mm_min, 254, 1e-9);
  EXPECT_EQ(p.tools, std::vector<std::int32_t>{3});
  EXPECT_EQ(p.dwell_s, 2);
  EXPECT_TRUE(p.spindle.at(0).coolant);
  EXPECT_EQ(p.lines, 19);
}

TEST(ClData, AllThatIsWrongIsToldAtOnce) {
  const std::string what = refusal(
      "PARTNO/X\nLOADTL/1\nSPINDL/9000,CLW\nRAPID\nGOTO/0,0,9\nCYCLE/DRILL,5\nGOTO/1,2\nFEDRAT/100\nGOTO/"
      "1,2,3,1,0,0\nGOTO/1,"
      "x,3\n");
  for (const char* part : {"x.cl:6: CYCLE", "x.cl:7: GOTO lacks", "x.cl:9: the tool's axis",
                           "x.cl:10: \"X\" is no number", "no end (FINI)"})
    EXPECT_NE(what.find(part), std::string::npos) << part << "\n" << what;
  EXPECT_NE(refusal("LOADTL/1\nSPINDL/9,CLW\nFEDRAT/5\nGOTO/1,2,3\nFINI\n").find("must be a rapid"),
            std::string::npos);
  EXPECT_NE(refusal("GOTO/1,2,3\nFINI\n").find("before a tool"), std::string::npos);
  EXPECT_NE(refusal("LOADTL/1\nRAPID\nGOTO/1,2,3\nFEDRAT/5\nGOTO/1,2,1\nFINI\n").find("stands still"),
            std::string::npos);
}

}  // namespace
}  // namespace yardpass
