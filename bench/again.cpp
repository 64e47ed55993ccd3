// The daily loop on the demo jobs: what a run over kept toolpaths costs after no change and after a change of
// the last operation, each beside a fresh run of the same job, and what planning costs in a quick look.
#include <string>

#include "bench.h"
#include "yardpass/run/run.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

struct Timed {
  RunResult run;
  double seconds;
};

Timed timed(const Job& job, const KeptPaths* kept) {
  const double start = now_s();
  RunResult run = run_job(job, RunSteps{.kept = kept});
  return {std::move(run), now_s() - start};
}

KeptPaths kept_of(const RunResult& run) {
  KeptPaths kept;
  for (const PlannedOperation& planned : run.planned) kept.add(planned);
  return kept;
}

double planning_s(const Job& job) {
  const JobSetup setup = load_setup(job);
  const std::vector<Settled> settled = settle(setup);
  const double start = now_s();
  const auto planned = plan_operations(setup, settled);
  const double spent = now_s() - start;
  for (const PlannedOperation& one : planned) require(!one.path.moves.empty(), "each operation cuts");
  return spent;
}

void row_of(const std::string& demo, const char* what, double ratio, double floor) {
  row((demo + what).c_str(), ratio, "of fresh", floor, 0.75 * floor, false);
}

}  // namespace

int main(int count, char** names) {
  std::vector<std::string> demos(names + 1, names + count);
  if (demos.empty()) demos = {"hull-plug", "paddle-blade", "fairlead-punch", "porthole-ring"};
  for (const std::string& demo : demos) {
    const Job job = read_job(YARDPASS_DEMO_FOLDER "/" + demo + ".toml");
    const Timed fresh = timed(job, nullptr);
    const KeptPaths kept = kept_of(fresh.run);
    const Timed again = timed(job, &kept);
    require(again.run.posted.text == fresh.run.posted.text, "again as fresh");

    Job edited = job;
    edited.operations.back().says.set("tolerance", 0.012);
    const Timed edited_fresh = timed(edited, nullptr), edited_again = timed(edited, &kept);
    require(edited_again.run.posted.text == edited_fresh.run.posted.text, "edited again as fresh");
    require(edited_again.run.posted.text != fresh.run.posted.text, "the edit changes the program");

    std::printf("%s: fresh %.1f s\n", demo.c_str(), fresh.seconds);
    row_of(demo, ", again without a change", again.seconds / fresh.seconds, 0.2);
    row_of(demo, ", again with the last operation changed", edited_again.seconds / edited_fresh.seconds,
           1.0 / 3);
    Job quick = job;
    quick.coarser = quick_look();
    row_of(demo, ", planning of a quick look", planning_s(quick) / planning_s(job), 0.2);
  }
}
