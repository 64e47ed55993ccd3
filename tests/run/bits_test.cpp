// Whole jobs give the same bits with any number of threads, and with any instruction set.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <hwy/targets.h>

#include "post/strict_reader.h"
#include "support/rng.h"
#include "yardpass/report/report.h"

namespace yardpass {
namespace {

/// A demo job. In the usual run its stepovers are eight times as wide and its cells larger: the same work on
/// less of it.
Job demo_job(const std::string& name) {
  Job job = read_job(std::string(YARDPASS_SOURCE_FOLDER "/demo/") + name + ".toml");
  if (testing::rounds(1) > 1) return job;
  job.stock.cell_mm = 0.4;
  for (OperationJob& operation : job.operations)
    if (const Given* stepover = operation.says.get("stepover"))
      operation.says.set("stepover", 8 * *stepover->number());
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

void expect_same(const Bits& a, const Bits& b, const char* what) {
  EXPECT_EQ(a.program, b.program) << what;
  EXPECT_EQ(a.report, b.report) << what;
  EXPECT_TRUE(a.stock == b.stock) << what;
}

TEST_P(DemoJobs, GiveTheSameBitsOnOneCoreOrTwoWithWideVectorsOrWithout) {
  const Job job = demo_job(GetParam());
  const Bits two = bits_of(job, 2);
  EXPECT_GT(two.program.size(), 10000u);
  EXPECT_NO_THROW((void)testing::StrictReader().run(two.program)) << "what knows the standard alone";
  const bool apart =
      testing::rounds(1) > 1;  // else both at once: which of them it was is asked when it fails
  if (apart) expect_same(bits_of(job, 1), two, "threads");
  const std::int64_t plainest =
      hwy::SupportedAndGeneratedTargets().back();  // what every machine of this kind has
  hwy::SetSupportedTargetsForTest(plainest);
  hwy::GetChosenTarget().Update(plainest);
  const Bits plain = bits_of(job, apart ? 2 : 1);
  hwy::SetSupportedTargetsForTest(0);
  hwy::GetChosenTarget().Update(hwy::SupportedTargets());
  expect_same(plain, two, apart ? "instruction sets" : "threads or instruction sets");
}

INSTANTIATE_TEST_SUITE_P(All, DemoJobs,
                         ::testing::Values("paddle-blade", "fairlead-punch", "hull-plug", "porthole-ring"));

}  // namespace
}  // namespace yardpass
