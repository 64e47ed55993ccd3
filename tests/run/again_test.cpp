// A run over the toolpaths of an earlier one gives what a fresh run gives, to the last bit; and takes over
// what has not changed.
#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "support/plate.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

using testing::Rng;
namespace fs = std::filesystem;

KeptPaths kept_of(const RunResult& run) {
  KeptPaths kept;
  for (const PlannedOperation& planned : run.planned) kept.add(planned);
  return kept;
}

std::vector<bool> taken_over(const RunResult& run) {
  std::vector<bool> result;
  for (const PlannedOperation& planned : run.planned) result.push_back(planned.taken_over);
  return result;
}

class Again : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "plate.stl", testing::plate(), "plate"); }
  Job job(const std::string& operations, const std::string& tables = "") {
    store(folder() / "job.toml", testing::kPlateJob + tables + operations);
    return read_job(folder() / "job.toml");
  }
  static std::string pass(const std::string& name, const std::string& keys) {
    return "[[operation]]\nname = \"" + name + "\"\nstrategy = \"parallel\"\ntool = \"ball4\"\n" + keys;
  }
};

TEST_F(Again, TakesOverWhatStandsBeforeTheFirstChange) {
  const std::string a = pass("a", "stepover = 2\n"), b = pass("b", "stepover = 1.5\nangle = 30\n"),
                    c = pass("c", "stepover = 1\nangle = 90\n");
  const KeptPaths kept = kept_of(run_job(job(a + b + c), {.only_plan = true}));
  const auto over = [&](const std::string& operations, const std::string& tables = "") {
    return taken_over(run_job(job(operations, tables), {.kept = &kept, .only_plan = true}));
  };
  using Taken = std::vector<bool>;
  EXPECT_EQ(over(a + b + c), (Taken{true, true, true}));
  EXPECT_EQ(over(a + b + pass("c", "stepover = 1.1\nangle = 90\n")), (Taken{true, true, false}));
  EXPECT_EQ(over(a + pass("b", "stepover = 1.5\nangle = 31\n") + c), (Taken{true, false, false}));
  EXPECT_EQ(over(a + c + b), (Taken{true, false, false}));
  EXPECT_EQ(over(a + b), (Taken{true, true}));
  EXPECT_EQ(over(a + b + "active = false\n" + c), (Taken{true, false}));
  // What it is called, how its values are written and what the judge alone reads is no change.
  EXPECT_EQ(over(pass("another name", "stepover = 2.0\nangle = 0\n") + b + c), (Taken{true, true, true}));
  EXPECT_EQ(over(a + b + c, "[left]\nthicker_than = 0.2\n"), (Taken{true, true, true}));
  EXPECT_EQ(over(a + b + c, "[machine]\nacceleration = 900\n"), (Taken{false, false, false}));
}

TEST_F(Again, AVerdictIsNeverTakenOver) {
  const std::string a = pass("a", "stepover = 2\n");
  const RunResult first = run_job(job(a));
  ASSERT_TRUE(first.judged.clean());
  const KeptPaths kept = kept_of(first);
  // The same path, and a stated reach that its holder cannot keep.
  const RunResult again =
      run_job(job(a, "[machine]\ntravel = [[-5, -5, -50], [5, 5, 50]]\n"), {.kept = &kept});
  EXPECT_TRUE(again.planned[0].taken_over);
  EXPECT_FALSE(again.judged.clean());
}

TEST_F(Again, KeptFilesComeBackWhole) {
  const RunResult first = run_job(job(pass("a", "stepover = 2\n") + pass("b", "stepover = 1\n")));
  const fs::path file = folder() / "toolpaths.kept";
  write_kept_paths(file, first.planned);
  const KeptPaths kept(file);
  EXPECT_EQ(kept.size(), 2u);
  EXPECT_EQ(kept.why_empty(), "");
  const PlannedOperation* found = kept.find(first.planned[1].fingerprint);
  ASSERT_NE(found, nullptr);
  ASSERT_EQ(found->path.moves.size(), first.planned[1].path.moves.size());
  for (std::size_t i = 0; i < found->path.moves.size(); ++i)
    EXPECT_EQ(found->path.moves[i].to, first.planned[1].path.moves[i].to);
  EXPECT_EQ(found->facts.size(), first.planned[1].facts.size());
  ASSERT_TRUE(found->engagement.has_value());
  EXPECT_EQ(found->engagement->mm_by_degree, first.planned[1].engagement->mm_by_degree);
}

TEST_F(Again, DamagedAndForeignFilesAreLeftAlone) {
  const RunResult first = run_job(job(pass("a", "stepover = 4\n")));
  const fs::path file = folder() / "toolpaths.kept";
  write_kept_paths(file, first.planned);
  std::ostringstream text;
  text << std::ifstream(file, std::ios::binary).rdbuf();
  const std::string good = text.str();
  Rng rng(7);
  for (int k = 0; k < 200; ++k) {
    std::string bad = good;
    if (k % 2 == 0)
      bad.resize(static_cast<std::size_t>(rng.pick(static_cast<int>(good.size()))));
    else
      bad[static_cast<std::size_t>(rng.pick(static_cast<int>(good.size())))] ^=
          static_cast<char>(1 << rng.pick(8));
    store(file, bad);
    const KeptPaths kept(file);
    EXPECT_EQ(kept.size(), 0u);
    EXPECT_NE(kept.why_empty(), "");
  }
  EXPECT_EQ(KeptPaths(folder() / "not-there").why_empty(), "");
  EXPECT_EQ(KeptPaths(folder()).size(), 0u);
}

// ---- demo jobs, edited at random

Job demo(const std::string& name) {
  Job job = read_job(fs::path(YARDPASS_SOURCE_FOLDER) / "demo" / (name + ".toml"));
  job.coarser = {.spacing = 8, .tolerance = 10, .cells = 6};
  return job;
}

OperationJob& any_operation(Job& job, Rng& rng) {
  return job.operations[static_cast<std::size_t>(rng.pick(static_cast<int>(job.operations.size())))];
}

void number_again(Job& job) {
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    job.operations[i].number = static_cast<std::int32_t>(i) + 1;
}

/// Some may break the job: then both runs have to say the same.
void edit(Job& job, Rng& rng, const fs::path& folder) {
  OperationJob& operation = any_operation(job, rng);
  switch (rng.pick(12)) {
    case 0:
      operation.says.set("tolerance", rng.uniform(0.005, 0.05));
      break;
    case 1:
      operation.says.set(operation.strategy == "waterline" ? "stepdown" : "stepover", rng.uniform(0.8, 3));
      break;
    case 2:
      operation.says.set("allowance", rng.uniform(0, 0.6));
      break;
    case 3:
      operation.says.set("link_distance", rng.uniform(0, 20));
      break;
    case 4:
      operation.name += " again";
      break;
    case 5:
      operation.active = !operation.active;
      break;
    case 6:
      std::swap(any_operation(job, rng), any_operation(job, rng)), number_again(job);
      break;
    case 7:
      job.operations.push_back(OperationJob(operation)), number_again(job);
      break;
    case 8: {
      Tool& tool = job.tools[static_cast<std::size_t>(rng.pick(static_cast<int>(job.tools.size())))];
      rng.pick(2) == 0 ? tool.feed_mm_min *= 1.1 : tool.stickout_mm += 1;
      break;
    }
    case 9: {  // another mesh of the same place: one corner a little higher
      Mesh mesh = read_mesh(job.part.mesh, job.part.read).mesh;
      mesh.points[static_cast<std::size_t>(rng.pick(static_cast<int>(mesh.points.size())))].z() += 0.01;
      const fs::path file = folder / ("part" + std::to_string(rng.pick(1000000)) + ".stl");
      write_stl(file, mesh, "edited");
      job.part.mesh = file;
      break;
    }
    case 10:
      job.stock.above_mm += rng.uniform(0, 0.5);
      break;
    default:
      job.operations.erase(job.operations.begin() + rng.pick(static_cast<int>(job.operations.size())));
      if (job.operations.empty()) job = demo("first-job");
      number_again(job);
  }
}

struct Outcome {
  std::string error, program, paths, report;
  std::vector<bool> taken_over;
  KeptPaths kept;
};

Outcome carried_out(const Job& job, const KeptPaths* kept, bool only_plan, const fs::path& file) {
  Outcome outcome;
  try {
    const RunResult run = run_job(job, {.kept = kept, .only_plan = only_plan});
    outcome.program = run.posted.text;
    write_kept_paths(file, run.planned);
    std::ostringstream bytes;
    bytes << std::ifstream(file, std::ios::binary).rdbuf();
    outcome.paths = bytes.str();
    outcome.report = report_json(make_report(run));
    outcome.taken_over = taken_over(run);
    outcome.kept = kept_of(run);
  } catch (const Error& error) {
    outcome.error = error.what();
  }
  return outcome;
}

TEST_F(Again, RandomEditsOfTheDemosGiveWhatAFreshRunGives) {
  const int edits = std::min(testing::rounds(10), 200);
  Rng rng(2026);
  int taken = 0;
  for (int done = 0; done < edits;) {
    const char* const names[] = {"first-job", "hull-plug", "fairlead-punch", "paddle-blade", "porthole-ring"};
    Job job = demo(names[rng.pick(5)]);
    const bool only_plan = rng.pick(4) != 0;
    Outcome before = carried_out(job, nullptr, only_plan, folder() / "a");
    for (int k = 0; k < 5 && done < edits; ++k, ++done) {
      edit(job, rng, folder());
      SCOPED_TRACE("edit " + std::to_string(done) + " of " + job.title);
      Outcome fresh = carried_out(job, nullptr, only_plan, folder() / "a");
      const Outcome again = carried_out(job, &before.kept, only_plan, folder() / "b");
      EXPECT_EQ(fresh.error, again.error);
      EXPECT_EQ(fresh.program, again.program);
      EXPECT_TRUE(fresh.paths == again.paths);
      EXPECT_EQ(fresh.report, again.report);
      for (const bool one : again.taken_over) taken += one;
      if (fresh.error.empty()) before = std::move(fresh);
    }
  }
  EXPECT_GT(taken, edits / 3);
}

}  // namespace
}  // namespace yardpass
