/// The job: one readable text file that says what to machine, from what, with what, and how. Reference:
/// docs/job-file.md.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/error.h"
#include "yardpass/geom/region.h"
#include "yardpass/post/controller.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// An operation as the file says it; what is empty gets a value derived from tool and part.
struct OperationJob {
  std::string name;
  std::string strategy;  ///< "roughing" or "parallel"
  std::string tool;      ///< name in the tool table
  bool active = true;
  int line = 0;  ///< in the job file
  std::optional<Region> keep_inside;
  std::optional<double> stepover_mm, stepdown_mm, allowance_mm, tolerance_mm, angle_deg, scallop_mm;
  std::optional<double> wall_allowance_mm, floor_allowance_mm;
  std::optional<double> ramp_angle_deg, approach_mm, link_distance_mm;
  std::optional<bool> zigzag;
  /// Line of each key that the file gives, for messages and for telling where values come from.
  std::vector<std::pair<std::string, int>> lines;
  [[nodiscard]] int line_of(const std::string& key) const;
};

struct StockJob {
  Vec2 margin_mm{5, 5};           ///< around the part in X and Y
  double above_mm = 2;            ///< extra on top
  std::optional<double> cell_mm;  ///< of the simulation; else from the size
};

struct Job {
  std::filesystem::path file;
  std::string title;
  std::filesystem::path mesh;  ///< as found beside the job file
  StockJob stock;
  Controller controller;
  double clearance_mm = 5;  ///< of the clearance plane above stock and part
  std::vector<Tool> tools;  ///< completed
  std::vector<OperationJob> operations;
  [[nodiscard]] const Tool& tool_of(const OperationJob& operation) const;
};

/// Throws Error with every mistake of the file, one a line: file, line, table or operation, key, what is
/// wrong and what would be valid.
[[nodiscard]] Job read_job(const std::filesystem::path& file);

}  // namespace yardpass
