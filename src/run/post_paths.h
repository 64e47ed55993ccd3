// Toolpaths to the program of a job, read back, and the files for its machine.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

struct PostedPaths {
  PostedProgram whole;
  Program program;                 ///< the same, as it is read back
  std::vector<ProgramFile> files;  ///< proven to make the same moves at feed
};

/// As the job's controller and machine want it.
PostedPaths post(const Job& job, std::span<const OperationPath> paths);
PostedPaths post(const Job& job, const std::vector<Settled>& operations,
                 const std::vector<PlannedOperation>& planned);

}  // namespace yardpass::detail
