/// What a job is on its part: the part read, repaired and placed, its stock, and all that the job names on
/// it.
#pragma once

#include <functional>
#include <memory>

#include "yardpass/contact/contact_part.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/job/job_file.h"
#include "yardpass/part/diagnosis.h"
#include "yardpass/part/pick.h"
#include "yardpass/part/summary.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Called with what is being done and the share of it that is done; return false to stop (throws Stopped).
using StageProgress = std::function<bool(const std::string& stage, double share)>;

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

/// A lid, run-out, carrier or keep-away of the job file, made on the part.
struct GuideMesh {
  std::string name;
  Mesh mesh;              ///< empty for a keep-away that is a region of the part
  TriangleSet triangles;  ///< of the part, for such a keep-away
  double clearance_mm = 0;
  InTheWay in_the_way = InTheWay::over;  ///< of a keep-away
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

/// What settling, planning and judging stand on.
struct JobSetup {
  Job job;  ///< as it was given
  std::shared_ptr<const ContactPart> part;
  PartRecord record;
  PartSummary summary;
  Diagnosis diagnosis;                                         ///< without the search for crossing triangles
  RegionMap region_map;                                        ///< empty if the job names no regions
  std::vector<NamedRegion> regions;                            ///< of the job, in its order
  std::vector<NamedCurves> curves;                             ///< of the job, in its order
  std::vector<NamedBoundary> boundaries;                       ///< of the job, in its order
  std::vector<GuideMesh> lids, run_outs, carriers, keep_away;  ///< of the job, in its order
  std::shared_ptr<const Stock> stock;                          ///< before the first cut
  std::vector<std::string> stock_notes;                        ///< what the user should know about it
  Box3 block;                                                  ///< of the stock
  std::vector<Vec2> drilled;                                   ///< middles of the holes that it has
  double cell_mm = 0;                                          ///< of the simulation
  std::string cell_source;
  double plane_z = 0;  ///< of the clearance plane
  [[nodiscard]] Stock new_stock() const { return *stock; }
};

/// Reads, repairs and places the part, finds what the job names on it, and makes its stock. Throws Error,
/// with all mistakes of one kind at once, if something does not exist on this part.
[[nodiscard]] JobSetup load_setup(const Job& job, const StageProgress& progress = {});

}  // namespace yardpass
