// What reports choose to show.
#include <gtest/gtest.h>

#include "yardpass/report/report.h"

namespace yardpass {
namespace {

TEST(WorstFindings, TheFirstAndTheDeepestInTheProgramsOrder) {
  std::vector<Finding> findings(30);
  for (std::size_t i = 0; i < findings.size(); ++i) {
    findings[i].line = static_cast<std::int32_t>(i) + 1;
    findings[i].depth_mm = i % 7 == 3 ? 1.0 + 0.01 * static_cast<double>(i) : 0.01;
  }
  findings[10].accepted_because = "known";  // deep, but accepted
  std::vector<std::int32_t> lines;
  for (const Finding* finding : worst_findings(findings, 4)) lines.push_back(finding->line);
  EXPECT_EQ(lines, (std::vector<std::int32_t>{1, 4, 18, 25}));
  EXPECT_EQ(worst_findings(findings, 100).size(), 30u);
  EXPECT_TRUE(worst_findings({}, 5).empty());
}

Job slot_job() {
  Job job;
  job.operations.push_back(
      {.number = 1, .name = "slot", .strategy = "parallel", .tool = "ball", .says = GivenTable()});
  return job;
}

TEST(Times, ATableByOperationWithoutAnyPart) {
  const Program program = read_program(
      "G21 G90\n(operation 1: slot)\nT1 M6\nS5 M3\nG0 X0 Y0\nG43 H1 Z1\nG1 X600 F600\nM5\nM30\n", "x.nc");
  const std::string table = times_table(program, slot_job());
  EXPECT_NE(table.find("slot"), std::string::npos);
  EXPECT_NE(table.find("0.60 m"), std::string::npos) << table;
  EXPECT_NE(table.find("whole program: 1:1"), std::string::npos) << table;
}

}  // namespace
}  // namespace yardpass
