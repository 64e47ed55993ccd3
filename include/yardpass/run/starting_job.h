/// A job to start from, written from a look at a part.
#pragma once

#include "yardpass/job/rack.h"
#include "yardpass/run/inspect.h"

namespace yardpass {

struct StartingJob {
  std::filesystem::path mesh = {};      ///< of the part
  std::filesystem::path in_job = {};    ///< how the job names it: beside the job file; empty: as `mesh`
  std::optional<LengthUnit> unit = {};  ///< of its numbers; nothing: as the file says, else mm
  Rack rack = standard_rack();
};

/// Text of a job file, with comments: a block around the part, roughing with the widest end mill that suits
/// its size, rest roughing with a narrower one, level faces, steep and shallow parts with the largest ball
/// that reaches nearly all that any ball of the rack does, and the corners that this one cannot reach. Throws
/// Error like inspect_part, and if the rack has no tool to finish with.
[[nodiscard]] std::string starting_job(const StartingJob& wanted, const StageProgress& progress = {});

}  // namespace yardpass
