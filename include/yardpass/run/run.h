/// Carrying a job out: settle, plan, link, post, read back, judge.
#pragma once

#include <limits>
#include <map>

#include "yardpass/post/write_program.h"
#include "yardpass/run/estimate.h"
#include "yardpass/run/plan.h"
#include "yardpass/verify/edge_size.h"
#include "yardpass/verify/judge.h"
#include "yardpass/verify/why_left.h"

namespace yardpass {

/// Where a program goes on with an earlier one.
struct ResumedAt {
  std::string program;              ///< name of that one
  std::int32_t line = 0;            ///< of its first move that is made again, a cutting one
  Vec3 at = Vec3::Zero();           ///< where that begins
  std::int32_t came_down_line = 0;  ///< where the tool had come down before: the first cutting move since
  std::vector<std::int32_t> cut_before = {};      ///< numbers of operations that had moves before that line
  std::shared_ptr<const Program> done = nullptr;  ///< what was carried out before
};

/// A program judged: also what `yardpass check` gives.
struct JudgedProgram {
  Program program;
  Judgement judgement;
  LeftMap left;
  WhyLeft why_left;
  /// What each operation leaves where it works, before the next one cuts; one per Program::operations.
  std::vector<LeftStatistics> after_operation;
  /// Where the program disagrees with the job: operations missing, without a move, unknown or in another
  /// order; work offset; spindle speeds and feeds beyond the tools'.
  std::vector<Note> disagreements = {};
  /// False: the program was only carried out on the stock. Then there are times, lengths and what is cut in
  /// air, no findings, and nothing is known of what is left.
  bool judged = true;
  /// Moves of later lines were left out; then nothing is said of the whole program.
  std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max();
  [[nodiscard]] bool whole() const { return up_to_line >= program.lines; }
  /// Judged from the stock as an earlier program left it there; nothing: from the job's stock.
  std::optional<ResumedAt> resumed = {};
  /// How wide the edges became that operations were to break, by their number; not where lines were left out.
  std::map<std::int32_t, EdgeSizes> edge_sizes = {};
  /// Judged, no finding but such as were accepted beforehand, and no disagreement.
  [[nodiscard]] bool clean() const { return judged && judgement.clean() && disagreements.empty(); }
};

struct RunResult {
  JobSetup setup;
  std::vector<Settled> operations;        ///< the active ones, in the order of the job
  std::vector<PlannedOperation> planned;  ///< one for each of them, also where it reaches nothing
  PostedProgram posted;                   ///< its origins count as `operations` does
  JudgedProgram judged;
  /// Of each operation, what all of them together show that would save time.
  std::vector<std::vector<Note>> hindsight = {};
  /// For the machine, if its control wants several files or no comments; proven to make the same moves.
  std::vector<ProgramFile> files = {};
};

/// Where a run is, over all its stages from planning to the results. The share is by an estimate of how long
/// each stage takes; the seconds to go also by how long those done took.
struct WholeProgress {
  int stage = 1, stages = 1;
  double share = 0;                    ///< of all the work, 0 to 1
  std::optional<double> to_go_s = {};  ///< once enough is done to say so
};

/// What is told on the way.
struct RunSteps {
  StageProgress progress = {};
  /// Told before each call of `progress`, from planning on.
  std::function<void(const WholeProgress&)> whole = {};
  /// Before anything is planned; throw to go no farther.
  std::function<void(const Estimate&)> foretold = {};
  /// With all but the reasons why material is left, which may take as long as the proof, as soon as the
  /// program is proven; not called where nothing is to be explained.
  std::function<void(const RunResult&)> proven = {};
  /// Toolpaths of an earlier run: what depends on nothing that has changed is taken over. A verdict never is.
  const KeptPaths* kept = nullptr;
  /// Stops after linking: times, lengths, retracts and air, nothing judged.
  bool only_plan = false;
};

/// Throws Error, before anything is planned, with every mistake of every operation, and where its estimate is
/// beyond all sense: a thousand million points, two weeks, more memory than 64 GB.
[[nodiscard]] RunResult run_job(const Job& job, const RunSteps& steps);
[[nodiscard]] RunResult run_job(const Job& job, const StageProgress& progress = {});

/// Figures of operations that are known from an earlier judgement of the same moves in the same stock, by
/// number. No finding depends on them.
struct MeasuredBefore {
  std::map<std::int32_t, Engagement> engagements = {};  ///< see JudgeOptions
  std::map<std::int32_t, LeftStatistics> left_after = {};
};

/// Judges a program against the part, stock, tools and keep-away of the job; moves of lines after
/// `up_to_line` are left out. What operations state and keep away from
/// counts for moves that carry their number. What is left is measured, but not asked about: see explain_left.
[[nodiscard]] JudgedProgram judge_program(Program program, const JobSetup& setup,
                                          const std::vector<Settled>& operations,
                                          const StageProgress& progress = {},
                                          std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max(),
                                          MeasuredBefore known = {});
/// Carries it out on the stock without judging it.
[[nodiscard]] JudgedProgram carry_out(Program program, const JobSetup& setup,
                                      const StageProgress& progress = {});

/// Whether the job wants to know why material is left, and there is some that it does not leave on purpose.
[[nodiscard]] bool to_explain(const JudgedProgram& judged, const Job& job);
/// Finds out why.
void explain_left(JudgedProgram& judged, const JobSetup& setup, const std::vector<Settled>& operations,
                  const StageProgress& progress = {});

/// What a line of the program (from 1) was posted for; nothing for lines without a planned move.
[[nodiscard]] const Move* move_of_line(const RunResult& run, std::int32_t line);

/// How programs for the job's control are read.
[[nodiscard]] ProgramReading read_options(const Job& job);

/// Throws Error if the program, read from a file of this name, changes to tools that the job does not have:
/// all of them, each at its line.
void require_known_tools(const Program& program, const Job& job, const std::string& name);

/// The operation of this number; nothing if it is not among them.
[[nodiscard]] const Settled* settled_of(const std::vector<Settled>& operations, std::int32_t number);

/// Where the moves of a program's operation work: for statistics. The whole part for unknown ones.
[[nodiscard]] Region area_of(const JobSetup& setup, const std::vector<Settled>& operations,
                             std::int32_t number);

/// The way of the tip through a program as curves: the layer is the operation, as `name` calls the one of an
/// index into Program::operations, the curve's name "feed" or "rapid", one curve for each run of moves of one
/// kind. The way down after a tool change is left out.
[[nodiscard]] std::vector<Curve> curves_of(const Program& program,
                                           const std::function<std::string(std::int32_t)>& name);

}  // namespace yardpass
