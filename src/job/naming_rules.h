// What things of a job that name each other must keep to.
#pragma once

#include "job/table_reader.h"
#include "yardpass/job/job_file.h"

namespace yardpass::detail {

/// None leads back to itself by the names it uses; areas have one namespace; and what is found before
/// boundaries names no curve that comes from one.
void check_naming(const Job& job, Mistakes& mistakes);

}  // namespace yardpass::detail
