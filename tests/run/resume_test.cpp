// Programs that go on at a line of another one, and programs in files that are no longer than asked.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/resume.h"

namespace yardpass {
namespace {

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

class ResumedJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.02), "bowl"); }
  Job job(const std::string& machine = "", const std::string& of_finishing = "") {
    store(
        folder() / "job.toml",
        "title = \"bowl\"\n[part]\nmesh = \"bowl.stl\"\n[stock]\nabove = 1\ncell = 0.4\n[machine]\n" +
            machine +
            "\n[tools.flat8]\nnumber = 1\nshape = \"flat\"\ndiameter = 8\nspindle = 8000\nfeed = 2000\n"
            "[tools.ball6]\nnumber = 2\nshape = \"ball\"\ndiameter = 6\nspindle = 12000\nfeed = 1800\n"
            "[[operation]]\nname = \"rough\"\nstrategy = \"roughing\"\ntool = \"flat8\"\nstepdown = 3\n"
            "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = 1.2\n" +
            of_finishing);
    return read_job(folder() / "job.toml");
  }
  static std::string why(const std::function<void()>& call) {
    try {
      call();
    } catch (const Error& error) {
      return error.what();
    }
    return "accepted";
  }
};

std::vector<ProgramMove> at_feed(const Program& program) {
  std::vector<ProgramMove> moves;
  for (const ProgramMove& move : program.moves)
    if (!move.rapid()) moves.push_back(move);
  return moves;
}

/// The cutting moves of the one are the last ones of the other, and at most `more` moves come before them.
void expect_last_of(const Program& rest, const Program& whole, std::size_t first_cut, std::size_t most_more,
                    double within_mm = 0) {
  const std::vector<ProgramMove> got = at_feed(rest), all = at_feed(whole);
  const std::size_t wanted = all.size() - first_cut;
  ASSERT_GE(got.size(), wanted);
  ASSERT_LE(got.size(), wanted + most_more);
  for (std::size_t i = 0; i < wanted; ++i) {
    const ProgramMove &a = got[got.size() - wanted + i], &b = all[first_cut + i];
    ASSERT_LE((a.to - b.to).norm(), within_mm) << "line " << b.line;
    ASSERT_LE((a.from - b.from).norm(), within_mm) << "line " << b.line;
    ASSERT_NEAR(a.feed_mm_min, b.feed_mm_min, 0.051);
    ASSERT_EQ(a.tool, b.tool);
    ASSERT_EQ(rest.number_of(a), whole.number_of(b));
    ASSERT_EQ(a.arc < 0, b.arc < 0) << "line " << b.line;
  }
}

std::size_t first_cut_from(const Program& program, std::int32_t line) {
  const std::vector<ProgramMove> all = at_feed(program);
  return static_cast<std::size_t>(
      std::find_if(all.begin(), all.end(), [&](const ProgramMove& move) { return move.line >= line; }) -
      all.begin());
}

bool same_heights(const Stock& a, const Stock& b) {
  return std::equal(a.heights().begin(), a.heights().end(), b.heights().begin(), b.heights().end());
}

TEST_F(ResumedJob, FromAnyLineTheSameIsCutAndProven) {
  const RunResult run = run_job(job("", "smooth = true\n"));
  ASSERT_TRUE(run.judged.clean());
  const Program& whole = run.judged.program;
  testing::Rng rng(27);
  for (int k = 0; k < testing::rounds(8); ++k) {
    const auto line = static_cast<std::int32_t>(rng.uniform(1, whole.lines - 20));
    SCOPED_TRACE(line);
    const ResumedProgram resumed = resume_at(whole, run.setup, run.operations, line, "bowl.nc");
    EXPECT_GE(resumed.at.line, line);
    EXPECT_LE(resumed.at.came_down_line, resumed.at.line);
    expect_last_of(resumed.program, whole, first_cut_from(whole, line), 1);
    const JudgedProgram judged = judge_resumed(resumed, run.setup, run.operations);
    for (const Finding& finding : judged.judgement.findings)
      ADD_FAILURE() << name_of(finding.kind) << " line " << finding.line;
    EXPECT_TRUE(judged.clean());
    EXPECT_TRUE(judged.whole());
    EXPECT_TRUE(same_heights(judged.judgement.stock, run.judged.judgement.stock));
    // Where the tool had come down, no mark is left: that cut is made again from there.
    const ResumedProgram before = resume_at(whole, run.setup, run.operations, resumed.at.came_down_line, "x");
    EXPECT_EQ(before.at.came_down_line, before.at.line);
  }
}

TEST_F(ResumedJob, TheWayInIsProvenInTheStockAsItIsThere) {
  const RunResult run = run_job(job());
  const Program& whole = run.judged.program;
  // In the midst of the finishing cuts.
  const auto first = std::find_if(whole.moves.begin(), whole.moves.end(),
                                  [&](const ProgramMove& move) { return whole.number_of(move) == 2; });
  const std::int32_t line = (first->line + whole.lines) / 2;
  ResumedProgram resumed = resume_at(whole, run.setup, run.operations, line, "bowl.nc");
  EXPECT_TRUE(judge_resumed(resumed, run.setup, run.operations).clean());
  // Had the roughing not been done, it would plunge into the block.
  EXPECT_FALSE(judge_program(resumed.program, run.setup, run.operations).clean());
  auto nothing = std::make_shared<Program>(*resumed.at.done);
  nothing->moves.clear();
  resumed.at.done = nothing;
  const JudgedProgram judged = judge_resumed(resumed, run.setup, run.operations);
  EXPECT_FALSE(judged.clean());
  ASSERT_FALSE(judged.judgement.findings.empty());
}

TEST_F(ResumedJob, WhatWasCutBeforeIsNoFindingAndNoFigureOfTheRest) {
  const RunResult run = run_job(job());
  const Program& whole = run.judged.program;
  const std::int32_t line = whole.moves[whole.moves.size() - 20].line;
  const ResumedProgram resumed = resume_at(whole, run.setup, run.operations, line, "bowl.nc");
  const JudgedProgram judged = judge_resumed(resumed, run.setup, run.operations);
  const Report report = make_report(run.setup, run.operations, judged, resumed.files);
  ASSERT_EQ(report.operations.size(), 2u);
  EXPECT_FALSE(report.operations[0].has_moves());
  EXPECT_TRUE(report.operations[0].cut_before);
  EXPECT_LT(report.operations[1].judged.moves, 30);
  EXPECT_LT(report.operations[1].judged.feed_mm, 0.2 * run.judged.judgement.operations[1].feed_mm);
  EXPECT_HAS(verdict_words(report), "from line " + std::to_string(resumed.at.line) + " of bowl.nc on");
  EXPECT_HAS(report_json(report), "\"came_down_line\"");
}

class ResumedProgramOfOthers : public ResumedJob {
 protected:
  void SetUp() override {
    ResumedJob::SetUp();
    setup_.emplace(load_setup(job()));
    operations_ = settle(*setup_);
  }
  ResumedProgram resumed(const std::string& text, std::int32_t line) {
    return resume_at(read_program(text, "p.nc"), *setup_, operations_, line, "p.nc");
  }
  std::optional<JobSetup> setup_;
  std::vector<Settled> operations_;
};

const std::string kHead =
    "%\nG21 G17 G40 G49 G80 G90 G94 G54\nT2 M6\nS12000 M3\nG0 X0 Y0\nG43 Z30 H2\n";  // 6

TEST_F(ResumedProgramOfOthers, CyclesSubprogramsArcsAndSpeeds) {
  const std::string text = kHead +
                           "G98 G81 X-10 Y0 Z-2 R5 F500\nX10\nG80\n"                        // 7 to 9
                           "G0 Z5\nG1 X0 Y0 F400\nM98 P100 L2\nS9000 M3\n"                  // 10 to 13
                           "G1 Z1.5 F300\nG3 X6 Y4 I0 J4\nG1 X4.12345\n"                    // 14 to 16
                           "G91 G28 Z0\nG90 G0 X-5 Y-5\nG43 Z20 H2\nG1 Z2 F200\nM5\nM30\n"  // 17 to 22
                           "O100\nG91 G1 Z-1\nX1\nG90\nM99\n%\n";
  const Program whole = read_program(text, "p.nc");
  for (const std::int32_t line : {1, 8, 10, 11, 13, 14, 15, 16, 17, 20}) {
    SCOPED_TRACE(line);
    // Of a program that runs its lines as it likes, the line is meant, not the place in time.
    const ResumedProgram rest = resumed(text, line);
    EXPECT_GE(rest.at.line, line);
    std::size_t first = 0;
    const std::vector<ProgramMove> all = at_feed(whole);
    while (all[first].line != rest.at.line) ++first;
    expect_last_of(rest.program, whole, first, 1, 0.0009);
    EXPECT_NEAR(rest.program.spindle.back().rpm, 9000, 1e-9);
    EXPECT_EQ(rest.at.done->moves.size() + 0u,
              static_cast<std::size_t>(
                  std::find_if(whole.moves.begin(), whole.moves.end(),
                               [&](const ProgramMove& m) { return m.line == rest.at.line && !m.rapid(); }) -
                  whole.moves.begin()));
    // After the machine's zero it goes by the plane: no rapid runs across lower than the program's own.
    int across = 0;
    for (const ProgramMove& move : rest.program.moves) {
      if (!move.rapid() || move.after_change || plan(move.from) == plan(move.to)) continue;
      EXPECT_GE(std::min(move.from.z(), move.to.z()), 5) << move.line;
      across += plan(move.to) == Vec2(-5, -5);
    }
    EXPECT_EQ(across, line <= 16 ? 1 : 0);
  }
  EXPECT_EQ(resumed(text, 8).program.spindle.front().rpm, 12000);
  EXPECT_HAS(why([&] { (void)resumed(text, 24); }), "p.nc:24: this line is run more than once");
  EXPECT_HAS(why([&] { (void)resumed(text, 27); }), "nothing is cut from line 27 on");
}

TEST_F(ResumedProgramOfOthers, WhatCannotBeGoneOnWithIsToldWithTheReason) {
  const std::string cut = "G1 Z0 F100\nX5\nM5\nM30\n%\n";
  EXPECT_HAS(why([&] { (void)resumed(kHead + cut, 9); }), "the last cutting move is in line 8");
  EXPECT_HAS(why([&] { (void)resumed(kHead + "M5\nM30\n%\n", 1); }), "cuts nothing");
  std::string other = kHead + cut;
  other.replace(other.find("G54"), 3, "G55");
  EXPECT_HAS(why([&] { (void)resumed(other, 7); }), "works by G55, the job by G54");
  other = kHead + cut;
  other.replace(other.find("T2"), 2, "T7");
  other.replace(other.find("H2"), 2, "H7");
  EXPECT_HAS(why([&] { (void)resumed(other, 7); }), "T7, which the job does not have");
}

TEST_F(ResumedProgramOfOthers, ARibBetweenTheCellsThatWasLeftBeforeIsMet) {
  Job coarse = job();
  coarse.stock.cell_mm = 1;
  const JobSetup setup = load_setup(coarse);
  // Two slots of a flat end of 8, beside the bowl's part of the block, with 0.3 mm between them that no
  // centre of a cell of 1 mm shows.
  const double top = setup.block.max().z(), middle = std::floor(setup.block.min().x()) + 8;
  const auto words = [](double value) { return std::to_string(value); };
  const std::string slot_z = words(top - 0.8), low = words(top - 0.7);
  const double edge = setup.block.min().x() + std::round(middle - setup.block.min().x());
  const std::string left = words(edge - 4.15), right = words(edge + 4.15);
  const std::string head =
      "%\nG21 G17 G40 G49 G80 G90 G94 G54\nT1 M6\nS8000 M3\nG0 X" + left + " Y-60\nG43 Z30 H1\n";
  const std::string slots = "G0 Z" + slot_z + "\nG1 Y60 F500\nG0 Z30\nG0 X" + right + "\nG0 Z30 Y-60\nG0 Z" +
                            slot_z + "\nG1 Y60\n";  // 7 to 13
  // Back through the first half of the second slot, then across the rib.
  const std::string rest = "G1 Y59\nG1 Y0\nG0 Z" + low + "\nG0 X" + left + "\nG0 Z30\nM5\nM30\n%\n";
  const Program program = read_program(head + slots + rest, "rib.nc");
  const std::vector<Settled> operations = settle(setup);
  const ResumedProgram resumed = resume_at(program, setup, operations, 14, "rib.nc");
  const JudgedProgram judged = judge_resumed(resumed, setup, operations);
  const auto rapid =
      std::count_if(judged.judgement.findings.begin(), judged.judgement.findings.end(),
                    [](const Finding& finding) { return finding.kind == FindingKind::rapid_through_stock; });
  EXPECT_EQ(rapid, 1);
  // From what its cells show alone nobody would know.
  JudgeOptions none;
  Stock shown = setup.new_stock();
  shown = carry_out(*resumed.at.done, coarse.tools, std::move(shown)).stock;
  const Judgement blind = judge(resumed.program, setup.part, coarse.tools, std::move(shown), none);
  EXPECT_EQ(
      std::count_if(blind.findings.begin(), blind.findings.end(),
                    [](const Finding& finding) { return finding.kind == FindingKind::rapid_through_stock; }),
      0);
}

TEST(LineOfBlock, IsFoundByItsNumber) {
  const std::string text = "%\nN10 G21\n/N20 G0\n  n030 X1\nX2\nN40 X3\nN40 X4\n";
  EXPECT_EQ(line_of_block(text, "N10", "p.nc"), 2);
  EXPECT_EQ(line_of_block(text, "N20", "p.nc"), 3);
  EXPECT_EQ(line_of_block(text, "n30", "p.nc"), 4);
  EXPECT_THROW((void)line_of_block(text, "N40", "p.nc"), Error) << "twice";
  EXPECT_THROW((void)line_of_block(text, "N50", "p.nc"), Error);
  EXPECT_THROW((void)line_of_block(text, "N", "p.nc"), Error);
  EXPECT_THROW((void)line_of_block(text, "N10x", "p.nc"), Error);
}

class FileLimitsJob : public ResumedJob {};

TEST_F(FileLimitsJob, NoFileIsLongerAndAllOfThemCutTheSame) {
  const RunResult plain = run_job(job());
  ASSERT_TRUE(plain.files.empty());
  for (const char* limit : {"file_minutes = 1", "file_length = 700", "file_length = 150"}) {
    SCOPED_TRACE(limit);
    const Job limited = job(limit);
    const RunResult run = run_job(limited);
    EXPECT_TRUE(run.judged.clean());
    EXPECT_TRUE(same_heights(run.judged.judgement.stock, plain.judged.judgement.stock));
    ASSERT_GT(run.files.size(), 1u);
    auto done = std::make_shared<Program>();
    for (const ProgramFile& file : run.files) {
      SCOPED_TRACE(file.name);
      const Program program = read_program(file.text, file.name);
      double feed_mm = 0, seconds = 0;
      for (const ProgramMove& move : program.moves) feed_mm += move.rapid() ? 0 : program.length_of(move);
      for (const OperationTime& time : times_of(program, limited.machine.motion))
        seconds += time.all_s() - time.tool_change_s;
      if (limited.machine.file_length_mm > 0) EXPECT_LE(feed_mm, limited.machine.file_length_mm);
      // Its own way down from the plane comes on top.
      if (limited.machine.file_minutes > 0) EXPECT_LE(seconds, 60 * limited.machine.file_minutes + 1);
      EXPECT_NEAR(file.feed_mm, feed_mm, 0.01);
    }
  }
}

TEST_F(FileLimitsJob, EachFileIsSafeInTheStockThatThoseBeforeItLeave) {
  const RunResult run = run_job(job("file_length = 500"));
  Program before;
  for (const ProgramFile& file : run.files) {
    SCOPED_TRACE(file.name);
    Program program = read_program(file.text, file.name);
    program.come_down_from(run.setup.plane_z);
    JudgeOptions options;
    options.done = std::make_shared<const Program>(before);
    const Judgement judgement =
        judge(program, run.setup.part, run.setup.job.tools, run.setup.new_stock(), options);
    for (const Finding& finding : judgement.findings)
      ADD_FAILURE() << name_of(finding.kind) << " line " << finding.line;
    const auto operations = static_cast<std::int32_t>(before.operations.size()),
               arcs = static_cast<std::int32_t>(before.arcs.size());
    for (ProgramMove move : program.moves) {
      move.operation += operations;
      if (move.arc >= 0) move.arc += arcs;
      before.moves.push_back(move);
    }
    before.operations.insert(before.operations.end(), program.operations.begin(), program.operations.end());
    before.arcs.insert(before.arcs.end(), program.arcs.begin(), program.arcs.end());
  }
}

}  // namespace
}  // namespace yardpass
