// Progress of one stage of a job.
#pragma once

#include "yardpass/setup/setup.h"

namespace yardpass::detail {

/// `progress` must outlive what is returned.
inline Progress stage(const StageProgress& progress, const std::string& name) {
  if (!progress) return {};
  return [&progress, name](double share) { return progress(name, share); };
}

}  // namespace yardpass::detail
