// Ways up and down again, so that the files of a program can end.
#pragma once

#include "yardpass/run/plan.h"

namespace yardpass::detail {

/// Wherever the operation stays down longer than a file of the machine may be, the tool goes up to the plane
/// for rapids and comes straight down to the same place: between two rapids if it can be, else between two
/// cuts, else anywhere. Nothing else changes.
void add_breaks(PlannedOperation& planned, const Settled& settled, const MachineJob& machine);

}  // namespace yardpass::detail
