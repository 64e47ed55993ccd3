// The file that a machine's control may be described in.
#pragma once

#include <functional>

#include "job/table_keys.h"

namespace yardpass::detail {

/// Reads `machine.controller_file` into `machine.controller`; what `said` tells of is said by the job or its
/// machine and counts before the file. Mistakes are those of the file; returns its settled values.
std::vector<SettledValue> read_controller(MachineJob& machine, const KeyContext& context,
                                          const std::function<bool(const char* key)>& said,
                                          Mistakes& mistakes);

}  // namespace yardpass::detail
