// Writing and reading back: the same moves; and everything that is not plainly understood is refused.
#include <gtest/gtest.h>

#include <cmath>

#include "support/rng.h"
#include "yardpass/post/read_program.h"
#include "yardpass/post/write_program.h"

namespace yardpass {
namespace {

using testing::Rng;

Tool some_tool(int number = 3) {
  return completed(
      {.name = "ball6", .number = number, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 1800});
}

Toolpath some_path(Rng& rng, int count, const Tool& tool) {
  Toolpath path;
  path.tool = tool;
  path.start = {rng.uniform(-50, 50), rng.uniform(-50, 50), 25};
  Vec3 at = path.start;
  for (int i = 0; i < count; ++i) {
    const auto kind = static_cast<MoveKind>(rng.pick(5));
    for (int k = 0; k < 3; ++k)
      if (rng.pick(2)) at[k] += rng.uniform(-3, 3);
    if (rng.pick(10) == 0) at.x() = -0.0001;
    path.moves.push_back({at, kind, kind == MoveKind::rapid ? 0 : rng.uniform(1, 4000)});
  }
  return path;
}

TEST(Program, ReadsBackWhatWasWritten) {
  for (int seed = 1; seed <= testing::rounds(50); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const Tool one = some_tool(3), two = some_tool(7);
    const Toolpath a = some_path(rng, 200, one), b = some_path(rng, 100, two);
    const OperationPath operations[] = {{1, "first", &a}, {4, "second", &b}};
    const PostedProgram posted = write_program("round trip", operations);
    const Program program = read_program(posted.text, "p.nc");
    ASSERT_EQ(program.operations.size(), 2u);
    EXPECT_EQ(program.operations[0].number, 1);
    EXPECT_EQ(program.operations[1].number, 4);
    EXPECT_EQ(program.operations[1].words, "second");
    EXPECT_EQ(program.tools, (std::vector<std::int32_t>{3, 7}));
    ASSERT_EQ(static_cast<std::size_t>(program.lines), posted.origin.size());
    for (int k = 0; k < 2; ++k) {
      const Toolpath& path = k ? b : a;
      std::vector<ProgramMove> moves;
      for (const ProgramMove& move : program.moves)
        if (move.operation == k && !move.after_change) moves.push_back(move);
      // Moves shorter than the last decimal vanish; the others match one to one.
      std::size_t i = 0;
      Vec3 at = (path.start * 1000).array().round() / 1000;
      for (const Move& move : path.moves) {
        const Vec3 to = (move.to * 1000).array().round() / 1000;
        if ((to - at).norm() < 1e-9) continue;
        ASSERT_LT(i, moves.size());
        EXPECT_LT((moves[i].from - at).norm(), 1e-9);
        EXPECT_LT((moves[i].to - to).norm(), 1e-9);
        EXPECT_EQ(moves[i].rapid(), move.kind == MoveKind::rapid);
        if (!moves[i].rapid()) EXPECT_NEAR(moves[i].feed_mm_min, move.feed_mm_min, 0.051);
        const LineOrigin origin = posted.origin[static_cast<std::size_t>(moves[i].line) - 1];
        EXPECT_EQ(origin.operation, k);
        EXPECT_EQ(&path.moves[static_cast<std::size_t>(origin.move)], &move);
        at = to;
        ++i;
      }
      EXPECT_EQ(i, moves.size());
    }
  }
}

TEST(Program, WritesAWordOnlyWhenItChanges) {
  const Tool tool = some_tool();
  Toolpath path;
  path.tool = tool;
  path.start = {1, 2, 25};
  path.moves = {{{1, 2, 5}, MoveKind::rapid, 0},
                {{1, 2, -1}, MoveKind::plunge, 600},
                {{4, 2, -1}, MoveKind::cut, 1800},
                {{4, 2.5, -1}, MoveKind::link, 1800},
                {{4, 2.5, 25}, MoveKind::rapid, 0}};
  const OperationPath operation{3, "rim (left) \xc3\xa4", &path};
  const std::string text = write_program("mold", {&operation, 1}).text;
  EXPECT_NE(text.find("(operation 3: rim _left_ __)"), std::string::npos) << text;
  const std::string body = text.substr(text.find("T3 M6"));
  EXPECT_EQ(body,
            "T3 M6\nS12000 M3\nG0 X1. Y2.\nG43 Z25. H3\nM8\nZ5.\nG1 Z-1. F600.\nX4. F1800.\nY2.5\nG0 "
            "Z25.\nM9\nM5\nM30\n%\n");
}

TEST(Program, SameToolIsNotChanged) {
  const Tool tool = some_tool();
  Rng rng(1);
  const Toolpath a = some_path(rng, 3, tool), b = some_path(rng, 3, tool);
  const OperationPath operations[] = {{1, "a", &a}, {2, "b", &b}};
  const std::string text = write_program("t", operations).text;
  EXPECT_EQ(text.find("M6"), text.rfind("M6"));
}

/// The number and words that a program with one operation reads back.
ProgramOperation read_back(const std::string& title, std::int32_t number, const std::string& name) {
  Rng rng(1);
  const Toolpath path = some_path(rng, 5, some_tool());
  const OperationPath operation{number, name, &path};
  const Program program = read_program(write_program(title, {&operation, 1}).text, "p.nc");
  EXPECT_EQ(program.operations.size(), 1u) << title << " / " << name;
  return program.operations.at(0);
}

TEST(ProgramOperations, AreKnownByNumberWhateverTheirNames) {
  EXPECT_EQ(read_back("t", 3, "finish left").words, "finish left");
  for (int byte = 0; byte < 256; ++byte) {
    const std::string name = std::string("a") + static_cast<char>(byte) + "b";
    EXPECT_EQ(read_back("t", 1 + byte, name).number, 1 + byte) << byte;
  }
  for (const std::string& name :
       {std::string(), std::string(5000, 'x'), std::string("operation 9: other"), std::string(")("),
        std::string("\nM30\n"), std::string("T1 M6"), std::string(3, '\0')})
    EXPECT_EQ(read_back("t", 12, name).number, 12) << name;
  EXPECT_EQ(read_back("t", 2'000'000'000, "far").number, 2'000'000'000);
  Rng rng(2);
  for (int round = 0; round < testing::rounds(300); ++round) {
    std::string title, name;
    for (int i = rng.pick(150); i > 0; --i) name += static_cast<char>(rng.pick(256));
    for (int i = rng.pick(60); i > 0; --i) title += static_cast<char>(rng.pick(256));
    EXPECT_EQ(read_back(title, 7, name).number, 7);
  }
}

TEST(ProgramOperations, ATitleIsNeverOne) {
  for (const char* title : {"operation: x", "operation 1: x", "Operation 4", "  OPERATION 5 : y",
                            "operation 0: z", "operation 12abc", "title: operation 3: x", "operation 3(: x"})
    EXPECT_EQ(read_back(title, 2, "finish").number, 2) << title;
}

TEST(ProgramOperations, ReadAsControlsMayHaveChangedThem) {
  const auto numbers = [](const std::string& comments) {
    const Program program = read_program(
        "G21 G90 G17\n" + comments + "\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 F100 Z1\nM5\nM30\n",
        "x.nc");
    std::vector<std::int32_t> result;
    for (const ProgramOperation& operation : program.operations) result.push_back(operation.number);
    return result;
  };
  using Numbers = std::vector<std::int32_t>;
  EXPECT_EQ(numbers("(OPERATION 3: FINISH)"), Numbers{3});
  EXPECT_EQ(numbers("( operation  3 )"), Numbers{3});
  EXPECT_EQ(numbers("; operation 3: finish"), Numbers{3});
  EXPECT_EQ(numbers("(by hand) (operation 3: finish)"), Numbers{3});
  EXPECT_EQ(numbers("(operation 3: a)\n(operation 3: again)"), (Numbers{3, 3}));
  EXPECT_EQ(numbers("(operation: finish)"), Numbers{0}) << "a name alone is for people";
  EXPECT_EQ(numbers("(operation 0: finish)"), Numbers{0});
  EXPECT_EQ(numbers("(operation -3: finish)"), Numbers{0});
  EXPECT_EQ(numbers("(operation 99999999999: finish)"), Numbers{0});
  EXPECT_EQ(numbers("(operations 3)"), Numbers{0});
}

TEST(Program, RefusesWhatIsNotAsItWasPlanned) {
  Rng rng(1);
  Toolpath path = some_path(rng, 3, some_tool());
  const auto write = [&](std::int32_t number, const Controller& controller) {
    const OperationPath operation{number, "a", &path};
    (void)write_program("t", {&operation, 1}, controller);
  };
  EXPECT_NO_THROW(write(1, {}));
  EXPECT_THROW(write(-1, {}), Error);
  path.rounding_reserve_mm = rounding_reserve({.decimals = 3});
  EXPECT_NO_THROW(write(1, {.decimals = 3}));
  EXPECT_NO_THROW(write(1, {.decimals = 4}));
  EXPECT_THROW(write(1, {.decimals = 2}), Error) << "rounding to hundredths may gouge";
  // Two tools of one number.
  Toolpath other = path;
  other.tool.name = "another";
  const OperationPath two[] = {{1, "a", &path}, {2, "b", &other}};
  EXPECT_THROW((void)write_program("t", two), Error);
}

TEST(Program, RefusesToolsWithoutSpeed) {
  Tool tool = some_tool();
  tool.spindle_rpm = 0;
  Rng rng(1);
  const Toolpath path = some_path(rng, 3, tool);
  const OperationPath operation{1, "a", &path};
  EXPECT_THROW((void)write_program("t", {&operation, 1}), Error);
}

const char* const kHead = "G21 G90 G17\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 F100 Z1\n";
const char* const kTail = "M5\nM30\n";

struct Refused {
  const char* text;
  const char* why;
};

TEST(Program, RefusesWhatItDoesNotUnderstand) {
  const Refused middles[] = {{"G41 X1", "G41"},
                             {"G91.5 X1", "G91.5"},
                             {"G81 Z-1", "needs R"},
                             {"G84 Z-1 R1", "tapping"},
                             {"A90", "word A"},
                             {"X1 X2", "twice"},
                             {"X1 /Y1", "\"/\""},
                             {"#1=5", "\"#\""},
                             {"M98 P1", "no such subprogram"},
                             {"P1 X2", "word P"},
                             {"X", "no number"},
                             {"X1..2", "\".\""},
                             {"G0 G1 X1", "one kind"},
                             {"(open", "not closed"},
                             {"F0 X1", "above 0"},
                             {"G1.5 X1", "G1.5"},
                             {"M4", "M4"},
                             {"G43 Z1", "without H"},
                             {"G43 H2 Z1", "another tool"},
                             {"H1 X2", "H without"},
                             {"G80\nX1", "without G0"},
                             {"M5\nX5", "stands still"},
                             {"G20", "mid-program"},
                             {"T2 M6\nG0 G43 H2 X1 Z2", "not known"},
                             {"T2 M6\nX3 Y3", "cutting move"},
                             {"X1e5", "word E"},
                             {"G49\nG0 Z5", "length compensation"},
                             {"G49\nX5", "taken off (G49)"},
                             {"G49\nG0 X5", "taken off (G49)"},
                             {"S0\nX5", "S0"},
                             {"G55\nX5", "work offset changes"},
                             {"%\nX5", "end mark"},
                             {"X+-45.", "two signs"},
                             {"M5\nM30\nX5", "after the end"}};
  for (const Refused& r : middles) {
    const std::string text = std::string(kHead) + r.text + "\n" + kTail;
    try {
      (void)read_program(text, "x.nc");
      ADD_FAILURE() << "accepted: " << r.text;
    } catch (const Error& error) {
      const std::string what = error.what();
      EXPECT_EQ(what.rfind("x.nc:", 0), 0u) << what;
      EXPECT_NE(what.find(r.why), std::string::npos) << r.text << " -> " << what;
    }
  }
  EXPECT_NO_THROW((void)read_program(std::string(kHead) + kTail, "x.nc"));
  const Refused whole[] = {{"G21 G90\nG0 X1\nM30\n", "before a tool"},
                           {"G90\nT1 M6\nG0 X1 Y1\nM30\n", "before the unit"},
                           {"G21\nT1 M6\nG0 X1 Y1\nM30\n", "G90"},
                           {"G21 G90\nT1 M6\nG0 X0 Y0\nG43 H1 Z5\nG1 Z0 F5\nM30\n", "stands still"},
                           {"G21 G90\nT1 M6\nS5 M3\nG0 X0 Y0\nG43 H1 Z5\nG1 Z0\nM5\nM30\n", "without a feed"},
                           {"G21 G90\nT1 M6\nS5 M3\nM30\n", "spindle running"},
                           {"G21 G90\nT1 M6\n", "no end"},
                           {"G21 G90\nT1 M6\nM30\nG0 X1\n", "after the end"},
                           {"", "no end"}};
  for (const Refused& r : whole) {
    try {
      (void)read_program(r.text, "x.nc");
      ADD_FAILURE() << "accepted: " << r.text;
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(r.why), std::string::npos) << r.text << " -> " << error.what();
    }
  }
}

TEST(Program, TellsItsWorkOffsetAndTheSpindleSpeedsOfItsCuts) {
  const Program program = read_program(
      "%\nG21 G90 G17 G56\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 F100 "
      "Z1\nX2\nS1500\nX3\nG56\nX4\nM5\nM30\n%\n",
      "x.nc");
  EXPECT_EQ(program.work_offset, 56);
  ASSERT_EQ(program.spindle.size(), 2u);
  EXPECT_EQ(program.spindle[0].line, 7);
  EXPECT_EQ(program.spindle[0].rpm, 1000);
  EXPECT_EQ(program.spindle[1].line, 10);
  EXPECT_EQ(program.spindle[1].rpm, 1500);
  EXPECT_EQ(read_program(std::string(kHead) + kTail, "x.nc").work_offset, 54) << "nothing said";
}

TEST(Program, InchesBecomeMillimetres) {
  const Program program =
      read_program("G20 G90\nT1 M6\nS5 M3\nG0 X1 Y0\nG43 H1 Z1\nG1 X2 F10\nM5\nM30\n", "x.nc");
  EXPECT_NEAR(program.moves.back().to.x(), 50.8, 1e-12);
  EXPECT_NEAR(program.moves.back().feed_mm_min, 254, 1e-12);
}

TEST(Program, GarbageGivesAnErrorAndNothingElse) {
  const char letters[] = "GMXYZFSTH 0123456789.-()\n%;IJKR/";
  for (int seed = 1; seed <= testing::rounds(3000); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    std::string text = seed % 2 ? kHead : "";
    for (int i = rng.pick(80); i >= 0; --i) text += letters[rng.pick(sizeof letters - 1)];
    if (seed % 3) text += std::string("\n") + kTail;
    try {
      for (const ProgramMove& move : read_program(text, "x.nc").moves)
        ASSERT_TRUE(move.to.allFinite() && move.from.allFinite());
    } catch (const Error&) {
    }
  }
}

TEST(RoundingReserve, CoversTheFarthestRounding) {
  EXPECT_GE(rounding_reserve({.decimals = 3}), std::sqrt(3.0) * 0.0005);
  EXPECT_LT(rounding_reserve({.decimals = 3}), 0.00088);
}

}  // namespace
}  // namespace yardpass
