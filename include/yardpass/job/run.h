/// Carrying a job out: plan, link, post, read back, judge.
#pragma once

#include <functional>
#include <memory>

#include "yardpass/job/job_file.h"
#include "yardpass/link/toolpath.h"
#include "yardpass/part/summary.h"
#include "yardpass/post/write_program.h"
#include "yardpass/verify/judge.h"

namespace yardpass {

/// Called with what is being done and the share of it that is done; return false to stop (throws Stopped).
using StageProgress = std::function<bool(const std::string& stage, double share)>;

/// A value that an operation ran with, and where it comes from: "line 31" of the job file or the rule it was
/// derived by.
struct ValueInForce {
  std::string key;
  std::string value;
  std::string source;
};

/// Part, stock and tools of a job, loaded: what planning and judging stand on.
struct JobWorld {
  std::shared_ptr<const ContactPart> part;
  PartSummary summary;
  Box3 block;          ///< of the stock
  double cell_mm = 0;  ///< of the simulation
  std::string cell_source;
  double clearance_z = 0;
  [[nodiscard]] Stock new_stock() const { return Stock(block, cell_mm); }
};
[[nodiscard]] JobWorld load_world(const Job& job, const StageProgress& progress = {});

struct OperationResult {
  std::string name, strategy;
  const Tool* tool = nullptr;
  Region area;  ///< where the tool's centre may be
  std::vector<ValueInForce> values;
  Toolpath path;
  PathLengths lengths;
  std::int64_t points = 0;         ///< moves at feed
  std::vector<std::string> notes;  ///< what the user should know
};

/// A program judged: also what `yardpass check` gives.
struct JudgedProgram {
  Program program;
  Judgement judgement;
  ExcessMap excess;
};

struct RunResult {
  JobWorld world;
  std::vector<OperationResult>
      operations;  ///< the active ones, in order; operation i is Program::operations[i]
  PostedProgram posted;
  JudgedProgram judged;
};

/// Throws Error, before anything is planned, if a boundary meets neither part nor stock.
[[nodiscard]] RunResult run_job(const Job& job, const StageProgress& progress = {});

/// Judges a program against the job's part, stock and tools.
[[nodiscard]] JudgedProgram judge_program(Program program, const Job& job, const JobWorld& world,
                                          const StageProgress& progress = {});

/// Where operations of the program work, by their names in the job: for statistics. The whole part for
/// unknown names.
[[nodiscard]] Region area_of(const Job& job, const JobWorld& world, const std::string& operation);

}  // namespace yardpass
