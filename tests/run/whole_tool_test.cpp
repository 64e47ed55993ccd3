// A tool too short for its place: planned around its holder, with the clearance it asks for, and judged by
// the same.
#include <gtest/gtest.h>

#include "support/plate.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class ShortTool : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    const auto top = [](double x, double) { return x > 22 ? 5.0 : -x * x / 400; };
    write_stl(folder() / "plate.stl", testing::sheet(Box2(Vec2(-30, -20), Vec2(30, 20)), 60, 8, top),
              "plate");
  }
  /// The ball of 4 mm stands 5 mm out of a holder of 16: beside the wall of 5 mm the holder is in the way.
  RunResult run(const std::string& tool) {
    std::string text = testing::kPlateJob;
    text.replace(text.find("flute_length = 30\nstickout = 60"), 31,
                 "flute_length = 4\nstickout = 4.5\nholder = [{ length = 30, lower_diameter = 16, "
                 "upper_diameter = 16 }]\n" +
                     tool);
    text +=
        "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 4\n"
        "keep_inside = [[10, -4], [20, -4], [20, 4], [10, 4]]\n";
    store(folder() / "job.toml", text);
    return run_job(read_job(folder() / "job.toml"));
  }
};

TEST_F(ShortTool, IsPlannedAroundItsHolder) {
  const RunResult free = run("");
  for (const Finding& finding : free.judged.judgement.findings)
    EXPECT_NE(finding.kind, FindingKind::holder_into_part) << finding.depth_mm;
  const RunResult clear = run("holder_clearance = 2\n");
  for (const Finding& finding : clear.judged.judgement.findings)
    EXPECT_NE(finding.kind, FindingKind::holder_into_part) << finding.depth_mm;
  // By an assembly of its own: the holder keeps 2 mm from the part.
  const AssemblySurface assembly(clear.setup.part, clear.operations[0].tool, {.holder_mm = 2 - 1e-6});
  double least = 1e9;
  const Program& program = clear.judged.program;
  for (const ProgramMove& move : program.moves)
    if (!move.rapid()) least = std::min(least, assembly.clearance(move.from, move.to).clearance.room);
  EXPECT_GE(least, -1e-6);
  EXPECT_LT(least, 1) << "and no more than that";
  // Judged by the same: a program planned without the clearance is found out.
  const JudgedProgram judged = judge_program(free.judged.program, clear.setup, clear.operations);
  bool found = false;
  for (const Finding& finding : judged.judgement.findings) {
    if (finding.kind != FindingKind::holder_into_part) continue;
    found = true;
    EXPECT_GT(finding.depth_mm, 1.5);
  }
  EXPECT_TRUE(found);
}

}  // namespace
}  // namespace yardpass
