/// Carrying a job out: plan, link, post, read back, judge.
#pragma once

#include <functional>
#include <limits>
#include <memory>

#include "yardpass/curve/close_loop.h"
#include "yardpass/job/job_file.h"
#include "yardpass/link/toolpath.h"
#include "yardpass/part/diagnosis.h"
#include "yardpass/part/pick.h"
#include "yardpass/part/summary.h"
#include "yardpass/post/write_program.h"
#include "yardpass/verify/judge.h"
#include "yardpass/verify/leftover.h"

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

/// A region of the job file, found on the part.
struct NamedRegion {
  std::string name;
  TriangleSet set;
  double area_mm2 = 0;
  Box3 box;
  Region outline;  ///< in plan
};

/// Curves of the job file, made on the part and edited.
struct NamedCurves {
  std::string name;
  std::vector<Curve> curves;
  std::vector<std::string> notes = {};  ///< what was passed over in reading their file
};

/// A boundary of the job file, found on the part.
struct NamedBoundary {
  std::string name;
  Region area;
  std::vector<Junction> junctions = {};  ///< where scattered pieces were brought together
};

/// A lid, extension or guard of the job file, made on the part.
struct GuideSurface {
  std::string name;
  Mesh mesh;              ///< empty for a guard that is a region of the part
  TriangleSet triangles;  ///< of the part, for such a guard
  double clearance_mm = 0;
};

/// Where the part comes from and what was done to it.
struct PartRecord {
  std::string format;  ///< of the file
  LengthUnit unit = LengthUnit::millimetre;
  std::string unit_source;
  std::vector<std::string> groups;
  std::vector<std::int32_t> group_of_triangle;
  std::int64_t welded = 0;
  std::vector<std::string> notes;
  std::vector<RepairCount> repairs;
  /// What a point of the file, in mm, is multiplied by to become a point of the program.
  Eigen::Matrix<double, 3, 4> matrix;
};

/// Part, stock and tools of a job, loaded: what planning and judging stand on.
struct JobWorld {
  Job job;  ///< with every measured value and named boundary filled in
  std::shared_ptr<const ContactPart> part;
  PartRecord record;
  PartSummary summary;
  Diagnosis diagnosis;                    ///< without the search for crossing triangles
  RegionMap region_map;                   ///< empty if the job names no regions
  std::vector<NamedRegion> regions;       ///< of the job, in its order
  std::vector<NamedCurves> curves;        ///< of the job, in its order
  std::vector<NamedBoundary> boundaries;  ///< of the job, in its order
  std::vector<GuideSurface> lids, extensions, guide_surfaces, guards;  ///< of the job, in its order
  /// Measured values: operation and key, and how each came about in words.
  struct MeasuredNote {
    std::string operation, key, words;
  };
  std::vector<MeasuredNote> measured;
  std::shared_ptr<const Stock> stock;    ///< before the first cut
  std::vector<std::string> stock_notes;  ///< what the user should know about it
  Box3 block;                            ///< of the stock
  double cell_mm = 0;                    ///< of the simulation
  std::string cell_source;
  double clearance_z = 0;
  [[nodiscard]] Stock new_stock() const { return *stock; }
};
/// Reads, repairs and places the part, finds the regions that the job names, and measures the values that are
/// to be measured. Throws Error, with all mistakes of one kind at once, if a region or value does not exist
/// on this part.
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
  /// Ridges that its stepover leaves on flat ground; nothing for roughing, chamfers and free profiles.
  std::optional<double> scallop_mm = {};
};

/// A program judged: also what `yardpass check` gives.
struct JudgedProgram {
  Program program;
  Judgement judgement;
  ExcessMap excess;
  Leftover leftover;  ///< why material is left
  /// What each operation leaves where it works, before the next one cuts; one per Program::operations.
  std::vector<ExcessStatistics> after_operation;
  /// Moves of later lines were left out; then nothing is said of the whole program.
  std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max();
  [[nodiscard]] bool whole() const { return up_to_line >= program.lines; }
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

/// Judges a program against the part, stock, tools and guards of the job; moves of lines after `up_to_line`
/// are left out.
[[nodiscard]] JudgedProgram judge_program(Program program, const JobWorld& world,
                                          const StageProgress& progress = {},
                                          std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max());

/// The way of the tip through a program as curves: the layer is the operation, the name "feed" or "rapid",
/// one curve for each run of moves of one kind. The way down after a tool change is left out.
[[nodiscard]] std::vector<Curve> curves_of(const Program& program);

/// Where operations of the program work, by their names in the job: for statistics. The whole part for
/// unknown names.
[[nodiscard]] Region area_of(const JobWorld& world, const std::string& operation);

}  // namespace yardpass
