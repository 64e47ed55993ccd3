// Whole jobs give the same bits with any number of threads, and with any instruction set.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <hwy/targets.h>

#include "support/rng.h"
#include "yardpass/report/report.h"

namespace yardpass {
namespace {

/// A demo job. In the usual run its stepovers are four times as wide and its cells larger: the same work on
/// less of it.
Job demo_job(const std::string& name) {
  Job job = read_job(std::string(YARDPASS_SOURCE_FOLDER "/demo/") + name + ".toml");
  if (testing::rounds(1) > 1) return job;
  job.stock.cell_mm = 0.4;
  for (OperationJob& operation : job.operations)
    if (const Given* stepover = operation.says.get("stepover"))
      operation.says.set("stepover", 4 * *stepover->number());
  return job;
}

struct Bits {
  std::string program, report;
  std::vector<double> stock;
};

Bits bits_of(const Job& job, std::size_t threads) {
  const tbb::global_control cores(tbb::global_control::max_allowed_parallelism, threads);
  const RunResult run = run_job(job);
  const auto heights = run.judged.judgement.stock.heights();
  return {run.posted.text, report_json(make_report(run)), {heights.begin(), heights.end()}};
}

class DemoJobs : public ::testing::TestWithParam<const char*> {};

TEST_P(DemoJobs, GiveTheSameBitsOnOneCoreOrTwoWithWideVectorsOrWithout) {
  const Job job = demo_job(GetParam());
  const Bits two = bits_of(job, 2);
  EXPECT_GT(two.program.size(), 10000u);
  const Bits one = bits_of(job, 1);
  EXPECT_EQ(one.program, two.program) << "threads";
  EXPECT_EQ(one.report, two.report) << "threads";
  EXPECT_TRUE(one.stock == two.stock) << "threads";
  const std::int64_t plainest =
      hwy::SupportedAndGeneratedTargets().back();  // what every machine of this kind has
  hwy::SetSupportedTargetsForTest(plainest);
  hwy::GetChosenTarget().Update(plainest);
  const Bits plain = bits_of(job, 2);
  hwy::SetSupportedTargetsForTest(0);
  hwy::GetChosenTarget().Update(hwy::SupportedTargets());
  EXPECT_EQ(plain.program, two.program) << "instruction sets";
  EXPECT_EQ(plain.report, two.report) << "instruction sets";
  EXPECT_TRUE(plain.stock == two.stock) << "instruction sets";
}

INSTANTIATE_TEST_SUITE_P(All, DemoJobs, ::testing::Values("paddle-blade", "fairlead-punch", "porthole-ring"));

}  // namespace
}  // namespace yardpass
